import { type KeyboardEvent, memo, type PointerEvent as ReactPointer, useState } from 'react';
import type { RowOf } from '../../../api/client';
import { follow } from '../../drag';
import { edit, program, select, update } from '../../store';
import type { Snap } from './shape';

/** A clip on its layer: moved whole, trimmed at its edges. */
export const ClipBox = memo(function ClipBox({ clip, media, on, perFlick, frame, snap, layer }: { clip: RowOf<'clip'>; media: RowOf<'media'> | undefined; on: boolean; perFlick: number; frame: number; snap: Snap; layer: string }) {
  const [drag, setDrag] = useState<Partial<RowOf<'clip'>> | null>(null);
  const at = { ...clip, ...drag };
  const width = at.length * perFlick;
  const begin = (e: ReactPointer, part: 'whole' | 'start' | 'end') => {
    if (e.button !== 0) return;
    let next: Partial<RowOf<'clip'>> | null = null;
    let edge = 0;
    follow(
      e,
      (dx, _dy, move) => {
        const by = dx / perFlick;
        if (part === 'whole') {
          const start = snap(clip.start + by, move.altKey, clip.id);
          const end = snap(clip.start + clip.length + by, move.altKey, clip.id);
          const wish = clip.start + by;
          const best = Math.abs(end - clip.length - wish) < Math.abs(start - wish) ? Math.max(0, end - clip.length) : start;
          const over = document.elementsFromPoint(move.clientX, move.clientY).find((n) => n instanceof HTMLElement && n.dataset.layer !== undefined) as HTMLElement | undefined;
          next = { start: best, layer: over?.dataset.layer ?? layer };
        } else {
          // Where the edge would go; how far it may, the core says when it is let go.
          const to = snap((part === 'start' ? clip.start : clip.start + clip.length) + by, move.altKey, clip.id);
          edge = to;
          next = part === 'start' ? { start: to, length: clip.start + clip.length - to } : { length: to - clip.start };
        }
        setDrag(next);
      },
      (how) => {
        select({ kind: 'clip', id: clip.id });
        if (how !== 'dropped' || next === null) setDrag(null);
        else if (part === 'whole') void edit(`Move ${media?.name ?? 'a clip'}`, [update('clip', clip, next)]).then(() => setDrag(null));
        else void program({ do: 'trim', clip: clip.id, edge: part, to: edge }).then(() => setDrag(null));
      },
    );
  };
  const onKey = (e: KeyboardEvent) => {
    const by = { ArrowLeft: -frame, ArrowRight: frame }[e.key];
    if (by !== undefined && e.altKey) {
      e.preventDefault();
      e.stopPropagation();
      void edit(`Nudge ${media?.name ?? 'a clip'}`, [update('clip', clip, { start: Math.max(0, clip.start + by) })]);
    }
    if (e.key === 'Enter') select({ kind: 'clip', id: clip.id });
  };
  return (
    <div
      className="tl-clip"
      role="button"
      tabIndex={0}
      aria-pressed={on}
      aria-label={`Clip ${media?.name ?? 'of missing media'}`}
      style={{ left: at.start * perFlick, width: Math.max(3, width), ...(at.layer !== layer ? { outline: '2px dashed var(--kl-kite)' } : {}) }}
      onPointerDown={(e) => begin(e, 'whole')}
      onKeyDown={onKey}
    >
      {media?.thumbnails && width > 60 && (
        <div className="film">
          {media.thumbnails.slice(0, Math.max(1, Math.floor(width / 64))).map((t) => (
            <img key={t} src={t} alt="" draggable={false} />
          ))}
        </div>
      )}
      {width > 30 && (
        <span className={media === undefined ? 'state-fault' : undefined}>
          {media?.name ?? '✕ media removed'}
          {clip.pastEnd === 'loop' ? ' ↻' : ''}
        </span>
      )}
      <i className="edge" style={{ left: 0 }} onPointerDown={(e) => begin(e, 'start')} />
      <i className="edge" style={{ right: 0 }} onPointerDown={(e) => begin(e, 'end')} />
    </div>
  );
});
