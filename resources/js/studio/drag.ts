import type { PointerEvent as ReactPointer } from 'react';

/** Pixels that a pointer has to go before a press becomes a drag. */
const SLACK = 3;

/** Follows a pointer from press to release. `moved` gets the way gone in pixels; `done` whether it went anywhere. */
export function follow(event: ReactPointer, moved: (dx: number, dy: number, e: PointerEvent) => void, done: (went: boolean) => void) {
  event.preventDefault();
  event.stopPropagation();
  const node = event.currentTarget as HTMLElement;
  node.setPointerCapture(event.pointerId);
  const [sx, sy] = [event.clientX, event.clientY];
  let went = false;
  const move = (e: PointerEvent) => {
    if (!went && Math.hypot(e.clientX - sx, e.clientY - sy) < SLACK) return;
    went = true;
    moved(e.clientX - sx, e.clientY - sy, e);
  };
  const up = () => {
    node.removeEventListener('pointermove', move);
    node.removeEventListener('pointerup', up);
    node.removeEventListener('pointercancel', up);
    done(went);
  };
  node.addEventListener('pointermove', move);
  node.addEventListener('pointerup', up);
  node.addEventListener('pointercancel', up);
}
