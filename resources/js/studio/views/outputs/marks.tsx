import { type PointerEvent, useEffect, useRef, useState } from 'react';
import { answer, http, type RowOf } from '../../../api/client';
import { command } from '../../store';
import type { Plane } from './plane';

/** Ms between two marks on the real output. */
const MARK = 40;

type Shape = { points: [number, number][]; label: string };
type At = [number, number];

/**
 * Marks on the real output while one works on a board: outlines, and a crosshair that follows the pointer.
 *
 * @param shapes outlines on the output, asked for each time
 * @param again what these depend on
 * @param surface whose raster the board shows; none where it shows the output's
 */
export function useMarks(
  { id: output }: RowOf<'output'>,
  { left, top, scale }: Plane,
  shapes: () => Shape[],
  again: unknown,
  surface?: { show: string; id: string },
) {
  const [marked, setMarked] = useState(false);
  const [at, setAt] = useState<At | null>(null);
  const crossed = useRef(new Set<string>());
  const mark = (cross: At | null, on = true, onto = output) => {
    crossed.current.add(onto);
    void command({ action: 'mark', output: onto, cross, shapes: on && onto === output ? shapes() : [] });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: told again when what is outlined moves, and taken away at the end
  useEffect(() => {
    if (!marked) return;
    mark(null);
    const renew = setInterval(() => mark(null), 8000);
    return () => {
      clearInterval(renew);
      for (const one of crossed.current) mark(null, false, one);
      crossed.current.clear();
    };
  }, [marked, again, output]);
  const last = useRef(0);
  const asking = useRef(false);
  const waiting = useRef<At | null>(null);
  /** Where a pixel of the surface leaves is asked; while one is, the newest waits. */
  const lands = async (of: { show: string; id: string }, to: At) => {
    waiting.current = to;
    if (asking.current) return;
    asking.current = true;
    while (waiting.current !== null) {
      const [x, y] = waiting.current;
      waiting.current = null;
      try {
        const { lands: found } = await answer(
          http.GET('/shows/{show}/surfaces/{surface}/lands', {
            params: { path: { show: of.show, surface: of.id }, query: { x: `${x}`, y: `${y}` } },
          }),
        );
        const on = new Map(found.map((one): [string, At] => [one.output, [one.x, one.y]]));
        for (const one of crossed.current) if (!on.has(one)) mark(null, true, one);
        for (const [one, there] of on) mark(there, true, one);
      } catch {
        // The next one is asked again.
      }
    }
    asking.current = false;
  };
  const follows = (e: PointerEvent) => {
    if (!marked) return;
    const box = e.currentTarget.getBoundingClientRect();
    const to: At = [Math.floor((e.clientX - box.left - left) / scale), Math.floor((e.clientY - box.top - top) / scale)];
    setAt(to);
    if (e.timeStamp - last.current < MARK) return;
    last.current = e.timeStamp;
    if (surface === undefined) mark(to);
    else void lands(surface, to);
  };
  return { marked, toggle: () => setMarked((on) => !on), follows, at: marked ? at : null };
}

/** The switch for marks, with the pixel that the crosshair is on. */
export function MarksButton({ marks }: { marks: ReturnType<typeof useMarks> }) {
  return (
    <>
      {marks.at !== null && (
        <span className="mono" aria-label="Pixel" style={{ alignSelf: 'center', fontSize: 13 }}>
          {marks.at.join(', ')}
        </span>
      )}
      <button
        type="button"
        className="plain"
        aria-pressed={marks.marked}
        title="Outlines, numbers and a crosshair that follows the pointer, on the real output"
        onClick={marks.toggle}
      >
        Marks
      </button>
    </>
  );
}
