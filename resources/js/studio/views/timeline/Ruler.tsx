import { useState } from 'react';
import type { RowOf, Schemas } from '../../../api/client';
import { follow } from '../../drag';
import { edit } from '../../store';
import { FLICKS, timecode } from '../../time';
import { beatsOf } from './shape';

/** Times along the ruler, as many as there is room for. */
export function Ticks({
  perSecond,
  seen,
  rate,
  frame,
}: {
  perSecond: number;
  seen: { left: number; width: number };
  rate: string;
  frame: number;
}) {
  const steps = [0.04, 0.2, 1, 2, 5, 10, 30, 60, 120, 300, 600, 1800, 3600];
  const step = steps.find((s) => s * perSecond >= 96) ?? 3600;
  const out = [];
  for (
    let s = Math.max(0, Math.floor(seen.left / perSecond / step) * step);
    s * perSecond < seen.left + seen.width;
    s += step
  ) {
    out.push(
      <span
        key={s}
        className="mono dim"
        style={{
          position: 'absolute',
          left: s * perSecond,
          top: 35,
          fontSize: 11,
          lineHeight: '15px',
          paddingLeft: 4,
          borderLeft: '1px solid var(--kl-line)',
          height: 17,
          pointerEvents: 'none',
        }}
      >
        {timecode(s * FLICKS + 1, rate, frame)}
      </span>,
    );
  }
  return out;
}

/** Beats of the tempo, as far as they can be told apart; the first of each bar is taller. */
export function Beats({
  timeline,
  perFlick,
  seen,
}: {
  timeline: RowOf<'timeline'>;
  perFlick: number;
  seen: { left: number; width: number };
}) {
  if (timeline.bpm <= 0) return null;
  if (((60 * FLICKS * timeline.beats) / timeline.bpm) * perFlick < 16) return null;
  const close = ((60 * FLICKS) / timeline.bpm) * perFlick < 8;
  return beatsOf(timeline, seen.left / perFlick, (seen.left + seen.width) / perFlick)
    .filter((beat) => beat.bar || !close)
    .map((beat) => (
      <i key={beat.time} className={`beat ${beat.bar ? 'bar' : ''}`} style={{ left: beat.time * perFlick }} />
    ));
}

/** How far it is from each of some places to the next, by id. */
export function roomOf(places: { id: string; time: number }[], perFlick: number): Map<string, number> {
  const sorted = [...places].sort((a, b) => a.time - b.time);
  return new Map(sorted.map((p, i) => [p.id, ((sorted[i + 1]?.time ?? Number.POSITIVE_INFINITY) - p.time) * perFlick]));
}

/** A marker or a cue on the ruler; its text ends where the next one begins. */
export function Flag({
  x,
  room = Number.POSITIVE_INFINITY,
  text,
  title,
  cue,
  colour,
  holds,
  on,
  onPress,
  onMove,
  name,
}: {
  x: number;
  room?: number;
  text: string;
  title?: string;
  cue?: boolean;
  colour?: string;
  holds?: boolean;
  on: boolean;
  onPress: () => void;
  onMove: (dx: number, free: boolean) => Schemas['Change'];
  name: string;
}) {
  const [dx, setDx] = useState(0);
  return (
    <button
      type="button"
      title={title ?? text}
      aria-pressed={on}
      onClick={onPress}
      onPointerDown={(e) => {
        let change: Schemas['Change'] | null = null;
        follow(
          e,
          (d, _y, move) => {
            setDx(d);
            change = onMove(d, move.altKey);
          },
          (how) => {
            if (how === 'pressed') onPress();
            if (how === 'dropped' && change !== null) void edit(name, [change]).then(() => setDx(0));
            else setDx(0);
          },
        );
      }}
      style={{
        all: 'unset',
        position: 'absolute',
        left: x + dx,
        top: cue ? 2 : 18,
        height: 15,
        lineHeight: '15px',
        fontSize: 11,
        padding: '0 5px 0 4px',
        cursor: 'grab',
        whiteSpace: 'nowrap',
        boxSizing: 'border-box',
        maxWidth: Number.isFinite(room) ? Math.max(8, room - 2) : undefined,
        overflow: 'hidden',
        textOverflow: 'ellipsis',
        color: on ? 'var(--kl-onKite)' : 'var(--kl-text)',
        background: on ? 'var(--kl-kite)' : cue ? 'var(--kl-ink6)' : 'transparent',
        borderLeft: `2px ${holds ? 'double' : 'solid'} ${cue ? 'var(--kl-kite)' : colour !== undefined && colour !== '' ? colour : 'var(--kl-dim)'}`,
        borderLeftWidth: holds ? 6 : 2,
        zIndex: cue ? 2 : 1,
      }}
    >
      {text}
    </button>
  );
}
