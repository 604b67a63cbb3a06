import { type KeyboardEvent, type PointerEvent, useState } from 'react';
import { follow } from '../../drag';

/** Steps of the arrow keys in pixels of the output: by themselves, with Shift, with Alt. */
export const stepOf = (e: { key: string; shiftKey: boolean; altKey: boolean }): [number, number] | null => {
  const by = e.altKey ? 0.1 : e.shiftKey ? 10 : 1;
  const way = (
    { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as Record<string, [number, number]>
  )[e.key];
  return way === undefined ? null : [way[0] * by, way[1] * by];
};

interface Props {
  label: string;
  x: number;
  y: number;
  /** Pixels of the screen to one of the output. */
  scale: number;
  on?: boolean;
  small?: boolean;
  /** Told where it was moved by, in pixels of the output. */
  moved: (dx: number, dy: number) => unknown;
  /** Told while it is dragged; null when that ends. */
  moving?: (by: [number, number] | null) => void;
  focused?: () => void;
}

/** A small kite on a picture that is dragged, or moved by the arrow keys. */
export function Handle({ label, x, y, scale, on = false, small = false, moved, moving, focused }: Props) {
  const [by, setBy] = useState<[number, number]>([0, 0]);
  const begin = (event: PointerEvent<SVGGElement>) => {
    if (event.button !== 0) return;
    let now: [number, number] = [0, 0];
    event.currentTarget.focus();
    follow(
      event,
      (dx, dy, e) => {
        const along = Math.abs(dx) > Math.abs(dy);
        now = [(e.shiftKey && !along ? 0 : dx) / scale, (e.shiftKey && along ? 0 : dy) / scale];
        setBy(now);
        moving?.(now);
      },
      (how) => {
        setBy([0, 0]);
        moving?.(null);
        if (how === 'dropped') void moved(...now);
      },
    );
  };
  const keys = (e: KeyboardEvent) => {
    const step = stepOf(e);
    if (step === null) return;
    e.preventDefault();
    e.stopPropagation();
    void moved(...step);
  };
  const r = (small ? 5 : 8) / scale;
  const [cx, cy] = [x + by[0], y + by[1]];
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={on}
      onPointerDown={begin}
      onKeyDown={keys}
      onFocus={focused}
      style={{ cursor: 'move', touchAction: 'none', outline: 'none' }}
      className="handle"
    >
      <circle cx={cx} cy={cy} r={r * 1.6} fill="transparent" />
      <path
        d={`M${cx} ${cy - r}L${cx + r * 0.86} ${cy - r * 0.2}L${cx} ${cy + r}L${cx - r * 0.86} ${cy - r * 0.2}Z`}
        fill={on ? 'var(--kl-kite)' : 'var(--kl-ink9)'}
        stroke="var(--kl-kite)"
        strokeWidth={1.5}
        vectorEffect="non-scaling-stroke"
      />
    </g>
  );
}
