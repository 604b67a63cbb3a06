import { type KeyboardEvent, memo, type PointerEvent as ReactPointer, useState } from 'react';
import type { RowOf } from '../../../api/client';
import { follow } from '../../drag';
import { choose, edit, get, program, select, toggle, update } from '../../store';
import { ClipWave } from './ClipWave';
import type { Passes, Snap } from './shape';
import { useWork } from './work';

type Part = 'whole' | 'start' | 'end' | 'fadeIn' | 'fadeOut';

/** Marks of repeats that are drawn at most; more would be a grey area. */
const MARKS = 400;

/** The clips that are moved along when one of them is: all that are chosen, or that one. */
function along(id: string): string[] {
  const clips = get()
    .chosen.filter((c) => c.kind === 'clip')
    .map((c) => c.id);
  return clips.includes(id) ? clips : [id];
}

/** Where a clip comes to by its start or by its end, whichever sticks to something, the stronger of both. */
function either(wish: number, length: number, snap: (time: number) => number): number {
  const start = snap(wish);
  const first = useWork.getState();
  const end = snap(wish + length);
  const second = useWork.getState();
  const byEnd = second.stuck !== null && (first.stuck === null || second.stuckBy < first.stuckBy);
  if (!byEnd) useWork.setState({ stuck: first.stuck, stuckTo: first.stuckTo, stuckBy: first.stuckBy });
  return Math.max(0, byEnd ? end - length : start);
}

/** A clip on its layer: moved whole, trimmed at its edges, faded at its upper corners, slipped with Ctrl. */
export const ClipBox = memo(function ClipBox({
  clip,
  media,
  on,
  perFlick,
  frame,
  snap,
  layer,
  locked,
  passes: ran,
  over,
  effects,
  seen,
}: {
  clip: RowOf<'clip'>;
  media: RowOf<'media'> | undefined;
  on: boolean;
  perFlick: number;
  frame: number;
  snap: Snap;
  layer: string;
  locked: boolean;
  passes: Passes | undefined;
  /** How long it comes out of the one below it. */
  over: number;
  /** Names of its effects that are on. */
  effects: readonly string[] | undefined;
  seen: { left: number; width: number };
}) {
  const [drag, setDrag] = useState<Partial<RowOf<'clip'>> | null>(null);
  const [slip, setSlip] = useState(0);
  const at = { ...clip, ...drag };
  const width = at.length * perFlick;
  const name = media?.name ?? 'a clip';
  const begin = (e: ReactPointer, part: Part) => {
    if (e.button !== 0) return;
    if (e.shiftKey && part === 'whole') {
      e.stopPropagation();
      toggle({ kind: 'clip', id: clip.id });
      return;
    }
    if (locked) {
      e.stopPropagation();
      select({ kind: 'clip', id: clip.id });
      return;
    }
    const slips = part === 'whole' && (e.ctrlKey || e.metaKey);
    const moved = along(clip.id);
    const among = new Set(moved);
    let next: Partial<RowOf<'clip'>> | null = null;
    let edge = 0;
    follow(
      e,
      (dx, _dy, move) => {
        const by = dx / perFlick;
        if (slips) {
          edge = Math.round(by);
          next = {};
          setSlip(by);
          return;
        }
        if (part === 'whole') {
          const wish = clip.start + by;
          const best = either(wish, clip.length, (time) => snap(time, move.altKey, among));
          const over = document
            .elementsFromPoint(move.clientX, move.clientY)
            .find((n) => n instanceof HTMLElement && n.dataset.layer !== undefined) as HTMLElement | undefined;
          next = { start: best, layer: moved.length > 1 ? layer : (over?.dataset.layer ?? layer) };
        } else if (part === 'fadeIn' || part === 'fadeOut') {
          const wish = part === 'fadeIn' ? clip.fadeIn + by : clip.fadeOut - by;
          const length = Math.max(0, Math.min(clip.length, Math.round(wish / frame) * frame));
          next = part === 'fadeIn' ? { fadeIn: length } : { fadeOut: length };
        } else {
          // Where the edge would go; how far it may, the core says when it is let go.
          const to = snap((part === 'start' ? clip.start : clip.start + clip.length) + by, move.altKey, among);
          edge = to;
          next = part === 'start' ? { start: to, length: clip.start + clip.length - to } : { length: to - clip.start };
        }
        setDrag(next);
      },
      (how) => {
        const still = () => {
          setDrag(null);
          setSlip(0);
          snap(-1, true);
        };
        if (how === 'pressed' || !among.has(clip.id) || moved.length === 1) select({ kind: 'clip', id: clip.id });
        if (how !== 'dropped' || next === null) still();
        // Pulled to the right, what is seen comes later: an earlier part of the media.
        else if (slips)
          void program({ action: 'slip', clip: clip.id, by: -Math.round(edge * Math.abs(clip.speed)) }).then(still);
        else if (part === 'whole')
          void program({
            action: 'move',
            clips: moved,
            by: (next.start ?? clip.start) - clip.start,
            ripple: get().ripple,
            ...(next.layer === layer ? {} : { layer: next.layer ?? layer }),
          }).then(still);
        else if (part === 'start' || part === 'end')
          void program({ action: 'trim', clip: clip.id, edge: part, to: edge, ripple: get().ripple }).then(still);
        else void edit(`Fade ${name}`, [update('clip', clip, next)]).then(still);
      },
    );
  };
  const onKey = (e: KeyboardEvent) => {
    const by = { ArrowLeft: -frame, ArrowRight: frame }[e.key];
    if (by !== undefined && e.altKey) {
      e.preventDefault();
      e.stopPropagation();
      void program({ action: 'move', clips: along(clip.id), by: e.shiftKey ? by * 10 : by, ripple: get().ripple });
    }
    if (e.key === 'Enter') {
      if (e.shiftKey) choose([...get().chosen.filter((c) => c.id !== clip.id), { kind: 'clip', id: clip.id }]);
      else select({ kind: 'clip', id: clip.id });
    }
  };
  const sound = (media?.form as { sound?: { peaks: string; samples: number } } | null | undefined)?.sound;
  // By a clock of its own, what of it is seen has no place on the timeline.
  const ranOut = ran?.turns === undefined ? ran?.first : (ran.turns[0] ?? clip.length);
  const passes =
    clip.ownClock || ran === undefined || ran.pass === 0 || ranOut === undefined
      ? undefined
      : { ...ran, first: ranOut };
  const repeats = clip.pastEnd === 'loop' || clip.pastEnd === 'bounce';
  const marks: number[] = [];
  if (passes?.turns !== undefined) marks.push(...(repeats ? passes.turns : []));
  else if (passes !== undefined && passes.first < at.length && repeats && passes.pass * perFlick > 3)
    for (let t = passes.first; t < at.length && marks.length < MARKS; t += passes.pass) marks.push(t);
  const [fadeIn, fadeOut] = [Math.max(at.fadeIn, over) * perFlick, at.fadeOut * perFlick];
  // What was cut within a fade goes on with it.
  const [cutBefore, cutAfter] = [clip.cutBefore * perFlick, clip.cutAfter * perFlick];
  return (
    <div
      className={`tl-clip ${locked ? 'locked' : ''}`}
      role="button"
      tabIndex={0}
      aria-pressed={on}
      aria-label={`Clip ${media?.name ?? 'of missing media'}${clip.ownClock ? ', own clock' : ''}`}
      style={{
        left: at.start * perFlick,
        width: Math.max(3, width),
        ...(at.layer !== layer ? { outline: '2px dashed var(--kl-kite)' } : {}),
      }}
      onPointerDown={(e) => begin(e, 'whole')}
      onKeyDown={onKey}
    >
      {media?.thumbnails && width > 60 && (
        <div className="film" style={slip === 0 ? undefined : { transform: `translateX(${slip * perFlick}px)` }}>
          {media.thumbnails.slice(0, Math.max(1, Math.floor(width / 64))).map((t) => (
            <img key={t} src={t} alt="" draggable={false} />
          ))}
        </div>
      )}
      {sound !== undefined && width > 8 && (
        <ClipWave
          clip={clip}
          ramped={clip.ownClock ? undefined : ran?.heard}
          sound={sound}
          perFlick={perFlick}
          seen={seen}
          height={(media?.thumbnails?.length ?? 0) > 0 ? 14 : 34}
        />
      )}
      {passes !== undefined && !repeats && passes.first < at.length && (
        <i
          className={`past ${clip.pastEnd}`}
          title={clip.pastEnd === 'dark' ? 'Dark: the media has run out' : 'The last frame holds'}
          style={{ left: passes.first * perFlick, right: 0 }}
        />
      )}
      {marks.map((t) => (
        <i key={t} className="repeat" style={{ left: t * perFlick }} />
      ))}
      {(fadeIn > 0 || fadeOut > 0) && (
        <svg className="fades" width={width} height={34} aria-hidden="true">
          {fadeIn > 0 && <path d={`M${-cutBefore} 0H${fadeIn - cutBefore}L${-cutBefore} 34z`} />}
          {fadeOut > 0 && <path d={`M${width + cutAfter} 0H${width + cutAfter - fadeOut}L${width + cutAfter} 34z`} />}
        </svg>
      )}
      {width > 30 && (
        <span className={media === undefined ? 'state-fault' : undefined}>
          {media?.name ?? '✕ media removed'}
          {{ loop: ' ↻', bounce: ' ⇄', dark: ' ○', hold: '' }[clip.pastEnd]}
          {effects !== undefined && (
            <em className="mono" title={effects.join(', ')}>
              {' '}
              {effects.length} fx
            </em>
          )}
          {clip.ownClock && <i title="Own clock: runs on when the timeline holds or jumps"> ◔</i>}
          {clip.speed !== 1 && (
            <em className="mono">
              {' '}
              {clip.speed < 0 ? `−${Number((-clip.speed * 100).toFixed(1))}` : Number((clip.speed * 100).toFixed(1))} %
            </em>
          )}
        </span>
      )}
      {!locked && (
        <>
          <i className="edge" style={{ left: 0 }} onPointerDown={(e) => begin(e, 'start')} />
          <i className="edge" style={{ right: 0 }} onPointerDown={(e) => begin(e, 'end')} />
          {width > 40 && (
            <>
              <i
                className="fadehandle"
                title="Fade in"
                style={{ left: Math.max(0, at.fadeIn * perFlick - 4) }}
                onPointerDown={(e) => begin(e, 'fadeIn')}
              />
              <i
                className="fadehandle"
                title="Fade out"
                style={{ right: Math.max(0, at.fadeOut * perFlick - 4) }}
                onPointerDown={(e) => begin(e, 'fadeOut')}
              />
            </>
          )}
        </>
      )}
    </div>
  );
});
