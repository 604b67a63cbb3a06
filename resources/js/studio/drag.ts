/** Pixels that a pointer has to go before a press becomes a drag. */
const SLACK = 3;

/** How a drag ended: never begun, let go where it should be, or stopped by Escape or by the machine. */
export type Ending = 'pressed' | 'dropped' | 'stopped';

/** A press, of React, of the scene or of the page itself. */
interface Press {
  pointerId: number;
  clientX: number;
  clientY: number;
  currentTarget: unknown;
  preventDefault: () => void;
  stopPropagation: () => void;
}

interface Options {
  slack?: number;
  /** What keys do while it lasts, besides Escape: `drop` lets go, true took the key, false leaves it to others. */
  key?: (e: KeyboardEvent) => boolean | 'drop';
}

/**
 * Follows a pointer from press to release. `moved` gets the way gone in pixels; after `stopped`, nothing may have changed.
 * The answer stops it from outside.
 */
export function follow(
  press: Press,
  moved: (dx: number, dy: number, e: PointerEvent) => void,
  done: (how: Ending) => void,
  { slack = SLACK, key }: Options = {},
): () => void {
  const node = press.currentTarget as HTMLElement;
  press.preventDefault();
  press.stopPropagation();
  node.setPointerCapture(press.pointerId);
  const [sx, sy] = [press.clientX, press.clientY];
  let went = false;
  const move = (e: PointerEvent) => {
    if (!went && Math.hypot(e.clientX - sx, e.clientY - sy) < slack) return;
    went = true;
    moved(e.clientX - sx, e.clientY - sy, e);
  };
  const end = (how: Ending) => {
    node.removeEventListener('pointermove', move);
    node.removeEventListener('pointerup', up);
    node.removeEventListener('pointercancel', stop);
    removeEventListener('keydown', keys, true);
    if (node.hasPointerCapture(press.pointerId)) node.releasePointerCapture(press.pointerId);
    done(how);
  };
  const up = () => end(went ? 'dropped' : 'pressed');
  const stop = () => end('stopped');
  const keys = (e: KeyboardEvent) => {
    const took = e.key === 'Escape' ? true : (key?.(e) ?? false);
    if (took === false) return;
    e.preventDefault();
    e.stopPropagation();
    if (e.key === 'Escape') stop();
    else if (took === 'drop') end('dropped');
  };
  node.addEventListener('pointermove', move);
  node.addEventListener('pointerup', up);
  node.addEventListener('pointercancel', stop);
  addEventListener('keydown', keys, true);
  return stop;
}
