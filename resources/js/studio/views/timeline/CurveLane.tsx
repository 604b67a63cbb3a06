import { type MouseEvent, useMemo, useState } from 'react';
import type { RowOf, Schemas } from '../../../api/client';
import { inWords, mixes, numberOf } from '../../../live/property';
import { follow } from '../../drag';
import { Kite } from '../../frame/Kite';
import { program } from '../../store';
import { addressOf, type ChosenKey, type Lane, type Snap } from './shape';

/** A keyframe with its value as a number. */
type Key = Omit<Schemas['Keyframe'], 'v'> & { v: number };

/** The lane of one value of a layer: its keyframes, and the way between them. */
export function CurveLane({
  lane,
  layer,
  curve,
  perFlick,
  width,
  snap,
  chosen,
  choose,
  timeAt,
}: {
  lane: Lane;
  layer: RowOf<'layer'>;
  curve: RowOf<'curve'> | undefined;
  perFlick: number;
  width: number;
  snap: Snap;
  chosen: ChosenKey;
  choose: (key: ChosenKey) => void;
  timeAt: (x: number) => number;
}) {
  const [drag, setDrag] = useState<{ t: number; to: Key } | null>(null);
  const { property: kind, height } = lane;
  const moves = mixes(kind);
  const stored = numberOf(kind, (layer.values as Record<string, unknown>)[kind.name], lane.slot);
  const originals = useMemo<Key[]>(() => (curve?.keyframes ?? []).map((k) => ({ ...k, v: numberOf(kind, k.v) })), [curve, kind]);
  const keys = useMemo(() => {
    const list = originals.map((k) => (drag?.t === k.t ? drag.to : k));
    return [...list].sort((a, b) => a.t - b.t);
  }, [originals, drag]);
  const all = [...keys.map((k) => k.v), stored];
  // A share and what changes in steps have their whole range in the lane, anything wider what it takes.
  const whole = kind.max - kind.min <= 1 || !moves;
  const room = whole ? 0 : (Math.max(0, ...all) - Math.min(0, ...all)) / 8 + 20 / kind.scale;
  const min = whole ? kind.min : Math.max(kind.min, Math.min(0, ...all) - room);
  const max = whole ? kind.max : Math.min(kind.max, Math.max(0, ...all) + room);
  const y = (v: number) => height - 10 - ((v - min) / (max - min)) * (height - 20);
  const valueAt = (py: number) => min + ((height - 10 - py) / (height - 20)) * (max - min);
  const x = (t: number) => t * perFlick;
  let path = keys.length === 0 ? `M0 ${y(stored)}H${width}` : `M0 ${y(keys[0]?.v ?? 0)}H${x(keys[0]?.t ?? 0)}`;
  keys.forEach((k, i) => {
    const next = keys[i + 1];
    if (next === undefined) path += `H${width}`;
    else if (k.i === 'step' || !moves) path += `H${x(next.t)}V${y(next.v)}`;
    else if (k.i === 'smooth' || k.i === 'bezier') {
      const h = k.i === 'smooth' ? [1 / 3, 0, 2 / 3, 1] : (k.h ?? [0.4, 0, 0.6, 1]);
      const at = (s: number, v: number) => `${x(k.t + s * (next.t - k.t))} ${y(k.v + v * (next.v - k.v))}`;
      path += `C${at(h[0] ?? 0, h[1] ?? 0)} ${at(h[2] ?? 1, h[3] ?? 1)} ${x(next.t)} ${y(next.v)}`;
    } else path += `L${x(next.t)} ${y(next.v)}`;
  });
  const rounded = (v: number) => (moves ? Number(v.toFixed(kind.scale === 1 ? 0 : 3)) : Math.max(min, Math.min(max, Math.round(v))));
  const add = (e: MouseEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    const t = snap(timeAt(e.clientX), e.altKey);
    void program({ do: 'key', address: addressOf(layer.id, lane.value), time: t, value: rounded(valueAt(e.clientY - box.top)) }).then((id) => id !== null && choose({ curve: id, t }));
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a double-click makes a keyframe; loose values with "+ Key" do the same by keyboard
    <div className="tl-curve" style={{ top: lane.top, height }} onDoubleClick={add}>
      <svg width={width} height={height} style={{ display: 'block', pointerEvents: 'none' }} aria-hidden="true">
        <path d={path} fill="none" stroke={keys.length === 0 ? 'var(--kl-line)' : 'var(--kl-dim)'} strokeWidth={1.3} strokeDasharray={keys.length === 0 ? '3 4' : undefined} />
      </svg>
      {keys.map((k, i) => {
        const original = originals.find((o) => o.t === (drag !== null && drag.to === k ? drag.t : k.t)) ?? k;
        const on = chosen?.curve === curve?.id && chosen?.t === original.t;
        return (
          <button
            key={i}
            type="button"
            className="tl-key"
            aria-label={`${lane.label} ${inWords(kind, k.v)}`}
            aria-pressed={on}
            style={{ position: 'absolute', left: x(k.t) - 7, top: y(k.v) - 8, width: 14, height: 16, cursor: 'grab', touchAction: 'none', color: on ? 'var(--kl-kite)' : 'var(--kl-text)' }}
            onDoubleClick={(e) => e.stopPropagation()}
            onClick={() => curve !== undefined && choose({ curve: curve.id, t: original.t })}
            onPointerDown={(e) => {
              if (curve === undefined) return;
              let to: Key | null = null;
              follow(
                e,
                (dx, dy, move) => {
                  const flat = move.shiftKey && Math.abs(dx) > Math.abs(dy);
                  const upright = move.shiftKey && !flat;
                  to = {
                    ...original,
                    t: upright ? original.t : snap(original.t + dx / perFlick, move.altKey),
                    v: flat ? original.v : rounded(valueAt(y(original.v) + dy)),
                  };
                  setDrag({ t: original.t, to });
                },
                (how) => {
                  if (how !== 'dropped' || to === null) {
                    setDrag(null);
                    if (how === 'pressed') choose({ curve: curve.id, t: original.t });
                    return;
                  }
                  const moved = to;
                  void program({ do: 'moveKey', curve: curve.id, from: original.t, time: moved.t, value: moved.v }).then(() => {
                    setDrag(null);
                    choose({ curve: curve.id, t: moved.t });
                  });
                },
              );
            }}
          >
            <Kite size={12} filled={on || k.i !== 'step'} />
            {!moves && (
              <span className="mono dim" style={{ position: 'absolute', left: 17, top: 0, padding: '0 3px', fontSize: 11, whiteSpace: 'nowrap', background: 'var(--kl-ink9)' }}>
                {inWords(kind, k.v)}
              </span>
            )}
          </button>
        );
      })}
    </div>
  );
}
