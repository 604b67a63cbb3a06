import { type MouseEvent, type PointerEvent as ReactPointer, useMemo, useState } from 'react';
import type { RowOf, Schemas } from '../../../api/client';
import { mixes, numberOf } from '../../../live/property';
import { follow } from '../../drag';
import { useWords } from '../../fields/ValueField';
import { Kite } from '../../frame/Kite';
import { program } from '../../store';
import { isChosen, type KeyAt, type Lane, type Snap } from './shape';

/** A keyframe with its value as a number. */
type Key = Omit<Schemas['Keyframe'], 'v'> & { v: number };

/** Handles of a Bézier that has none of its own. */
const EASY: readonly number[] = [0.4, 0, 0.6, 1];

/** The lane of one value: its keyframes, and the way between them. */
export function CurveLane({
  lane,
  curve,
  perFlick,
  width,
  snap,
  keys: chosen,
  choose,
  timeAt,
}: {
  lane: Lane;
  curve: RowOf<'curve'> | undefined;
  perFlick: number;
  width: number;
  snap: Snap;
  keys: readonly KeyAt[];
  choose: (keys: readonly KeyAt[]) => void;
  timeAt: (x: number) => number;
}) {
  const [drag, setDrag] = useState<{ t: number; by: number; to: Key } | null>(null);
  const [pulled, setPulled] = useState<number[] | null>(null);
  const [box, setBox] = useState<[number, number, number, number] | null>(null);
  const { property: kind, height } = lane;
  const moves = mixes(kind);
  const words = useWords(kind);
  const stored = numberOf(kind, lane.owner.values[kind.name], lane.slot);
  const originals = useMemo<Key[]>(
    () => (curve?.keyframes ?? []).map((k) => ({ ...k, v: numberOf(kind, k.v) })),
    [curve, kind],
  );
  const along = (t: number) =>
    drag !== null && isChosen(chosen, curve?.id, drag.t) && chosen.length > 1 && isChosen(chosen, curve?.id, t);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is moved along follows from what is chosen
  const keys = useMemo(() => {
    const list = originals.map((k) =>
      drag === null ? k : drag.t === k.t ? drag.to : along(k.t) ? { ...k, t: k.t + drag.by } : k,
    );
    return [...list].sort((a, b) => a.t - b.t);
  }, [originals, drag, chosen]);
  const all = [...keys.map((k) => k.v), stored];
  // A share of a layer and what changes in steps have their whole range in the lane, anything else what it takes.
  const whole = (kind.max - kind.min <= 1 && lane.owner.kind === 'layer') || !moves;
  const spread = Math.max(0, ...all) - Math.min(0, ...all);
  const room = whole
    ? 0
    : spread / 8 +
      (lane.owner.kind === 'layer' ? 20 / kind.scale : spread === 0 ? Math.min(1, kind.max - kind.min) / 10 : 0);
  const min = whole ? kind.min : Math.max(kind.min, Math.min(0, ...all) - room);
  const max = whole ? kind.max : Math.min(kind.max, Math.max(0, ...all) + room);
  // References have no order: each that is used has a level of its own.
  const levels = kind.type === 'reference' ? [...new Set([0, ...all])] : null;
  const share = (v: number) =>
    levels === null ? (v - min) / (max - min) : levels.indexOf(v) / Math.max(1, levels.length - 1);
  const y = (v: number) => height - 10 - share(v) * (height - 20);
  const valueAt = (py: number) => {
    const at = (height - 10 - py) / (height - 20);
    return levels === null
      ? min + at * (max - min)
      : (levels[Math.max(0, Math.min(levels.length - 1, Math.round(at * (levels.length - 1))))] ?? 0);
  };
  const x = (t: number) => t * perFlick;
  // The handles of the one that is chosen, where it leaves for the next by a Bézier.
  const one = drag === null && chosen.length === 1 ? keys.findIndex((k) => isChosen(chosen, curve?.id, k.t)) : -1;
  const [from, next] = [keys[one], keys[one + 1]];
  const bezier = from?.i === 'bezier' && next !== undefined ? { from, next, h: pulled ?? from.h ?? EASY } : null;
  const place = (h: readonly number[], end: 0 | 2): [number, number] =>
    bezier === null
      ? [0, 0]
      : [
          x(bezier.from.t + (h[end] ?? 0) * (bezier.next.t - bezier.from.t)),
          y(bezier.from.v + (h[end + 1] ?? 0) * (bezier.next.v - bezier.from.v)),
        ];
  const pull = (h: readonly number[], end: 0 | 2, dx: number, dy: number): number[] => {
    if (bezier === null) return [...h];
    const pulled = [...h];
    const [px, py] = place(h, end);
    pulled[end] = Math.max(0, Math.min(1, ((px + dx) / perFlick - bezier.from.t) / (bezier.next.t - bezier.from.t)));
    const way = bezier.next.v - bezier.from.v;
    if (way !== 0) pulled[end + 1] = (valueAt(py + dy) - bezier.from.v) / way;
    return pulled;
  };
  const shape = (handles: number[]) =>
    void (bezier !== null && curve !== undefined
      ? program({ action: 'shapeKeys', keys: [{ curve: curve.id, t: bezier.from.t }], way: 'bezier', handles }).then(
          () => setPulled(null),
        )
      : setPulled(null));
  let path = keys.length === 0 ? `M0 ${y(stored)}H${width}` : `M0 ${y(keys[0]?.v ?? 0)}H${x(keys[0]?.t ?? 0)}`;
  keys.forEach((k, i) => {
    const next = keys[i + 1];
    if (next === undefined) path += `H${width}`;
    else if (k.i === 'step' || !moves) path += `H${x(next.t)}V${y(next.v)}`;
    else if (k.i === 'smooth' || k.i === 'bezier') {
      const h = k.i === 'smooth' ? [1 / 3, 0, 2 / 3, 1] : bezier?.from === k ? bezier.h : (k.h ?? EASY);
      const at = (s: number, v: number) => `${x(k.t + s * (next.t - k.t))} ${y(k.v + v * (next.v - k.v))}`;
      path += `C${at(h[0] ?? 0, h[1] ?? 0)} ${at(h[2] ?? 1, h[3] ?? 1)} ${x(next.t)} ${y(next.v)}`;
    } else path += `L${x(next.t)} ${y(next.v)}`;
  });
  const rounded = (v: number) =>
    moves ? Number(v.toFixed(kind.scale === 1 ? 0 : 3)) : Math.max(min, Math.min(max, Math.round(v)));
  const add = (e: MouseEvent) => {
    const rect = e.currentTarget.getBoundingClientRect();
    const t = snap(timeAt(e.clientX), e.altKey);
    void program({ action: 'key', address: lane.address, time: t, value: rounded(valueAt(e.clientY - rect.top)) }).then(
      (id) => id !== null && choose([{ curve: id, t }]),
    );
    snap(-1, true);
  };
  /** A box over the lane chooses what lies in it; with Shift, in addition. */
  const sweep = (e: ReactPointer<HTMLDivElement>) => {
    if (e.button !== 0 || curve === undefined) return;
    const rect = e.currentTarget.getBoundingClientRect();
    const [x0, y0] = [e.clientX - rect.left, e.clientY - rect.top];
    let last: [number, number, number, number] | null = null;
    const before = e.shiftKey ? chosen : [];
    follow(
      e,
      (dx, dy) => {
        last = [Math.min(x0, x0 + dx), Math.min(y0, y0 + dy), Math.abs(dx), Math.abs(dy)];
        setBox(last);
      },
      (how) => {
        setBox(null);
        if (how !== 'dropped' || last === null) return;
        const [left, top, w, h] = last;
        const found = originals.filter(
          (k) => x(k.t) >= left && x(k.t) <= left + w && (h < 12 || (y(k.v) >= top && y(k.v) <= top + h)),
        );
        choose([
          ...before,
          ...found.map((k) => ({ curve: curve.id, t: k.t })).filter((k) => !isChosen(before, k.curve, k.t)),
        ]);
      },
    );
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a double-click makes a keyframe; loose values kept as keyframes do the same by keyboard
    <div className="tl-curve" style={{ top: lane.top, height }} onDoubleClick={add} onPointerDown={sweep}>
      <svg width={width} height={height} style={{ display: 'block', pointerEvents: 'none' }} aria-hidden="true">
        <path
          d={path}
          fill="none"
          stroke={keys.length === 0 ? 'var(--kl-line)' : 'var(--kl-dim)'}
          strokeWidth={1.3}
          strokeDasharray={keys.length === 0 ? '3 4' : undefined}
        />
        {bezier !== null &&
          ([0, 2] as const).map((end) => {
            const [hx, hy] = place(bezier.h, end);
            const of = end === 0 ? bezier.from : bezier.next;
            return (
              <line key={end} x1={x(of.t)} y1={y(of.v)} x2={hx} y2={hy} stroke="var(--kl-kite)" strokeDasharray="2 3" />
            );
          })}
        {box !== null && (
          <rect
            x={box[0]}
            y={box[1]}
            width={box[2]}
            height={box[3]}
            fill="var(--kl-kiteWash)"
            stroke="var(--kl-kite)"
          />
        )}
      </svg>
      {bezier !== null &&
        ([0, 2] as const).map((end) => {
          const [hx, hy] = place(bezier.h, end);
          return (
            <button
              key={`handle ${end}`}
              type="button"
              className="tl-handle"
              aria-label={`${end === 0 ? 'Leaving' : 'Arriving'} handle of ${lane.label}`}
              style={{ left: hx - 6, top: hy - 6 }}
              onDoubleClick={(e) => e.stopPropagation()}
              onKeyDown={(e) => {
                const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
                if (step === undefined) return;
                e.preventDefault();
                e.stopPropagation();
                const by = e.shiftKey ? 10 : 1;
                shape(pull(bezier.h, end, (step[0] ?? 0) * by, (step[1] ?? 0) * by));
              }}
              onPointerDown={(e) => {
                let to: number[] | null = null;
                follow(
                  e,
                  (dx, dy) => {
                    to = pull(bezier.h, end, dx, dy);
                    setPulled(to);
                  },
                  (how) => (how === 'dropped' && to !== null ? shape(to) : setPulled(null)),
                );
              }}
            />
          );
        })}
      {keys.map((k, i) => {
        const original =
          originals.find((o) => o.t === (drag !== null && drag.to === k ? drag.t : k.t)) ?? originals[i] ?? k;
        const on = isChosen(chosen, curve?.id, original.t);
        return (
          <button
            key={i}
            type="button"
            className="tl-key"
            aria-label={`${lane.label} ${words(k.v)}`}
            aria-pressed={on}
            style={{
              position: 'absolute',
              left: x(k.t) - 7,
              top: y(k.v) - 8,
              width: 14,
              height: 16,
              cursor: 'grab',
              touchAction: 'none',
              color: on ? 'var(--kl-kite)' : 'var(--kl-text)',
            }}
            onDoubleClick={(e) => e.stopPropagation()}
            onKeyDown={(e) => {
              if (e.key !== 'Enter' && e.key !== ' ') return;
              e.preventDefault();
              e.stopPropagation();
              if (curve !== undefined)
                choose(
                  e.shiftKey ? [...chosen, { curve: curve.id, t: original.t }] : [{ curve: curve.id, t: original.t }],
                );
            }}
            onPointerDown={(e) => {
              if (curve === undefined) return;
              if (e.shiftKey && !on) {
                e.stopPropagation();
                choose([...chosen, { curve: curve.id, t: original.t }]);
                return;
              }
              let to: Key | null = null;
              const several = on && chosen.length > 1;
              follow(
                e,
                (dx, dy, move) => {
                  const flat = several || (move.shiftKey && Math.abs(dx) > Math.abs(dy));
                  const upright = move.shiftKey && !flat;
                  to = {
                    ...original,
                    t: upright ? original.t : snap(original.t + dx / perFlick, move.altKey, new Set([curve.id])),
                    v: flat ? original.v : rounded(valueAt(y(original.v) + dy)),
                  };
                  setDrag({ t: original.t, by: to.t - original.t, to });
                },
                (how) => {
                  snap(-1, true);
                  if (how !== 'dropped' || to === null) {
                    setDrag(null);
                    if (how === 'pressed') choose([{ curve: curve.id, t: original.t }]);
                    return;
                  }
                  const { t, v } = to;
                  const by = t - original.t;
                  if (several)
                    void program({ action: 'moveKeys', keys: [...chosen], by }).then((done) => {
                      setDrag(null);
                      if (done !== null) choose(chosen.map((one) => ({ ...one, t: Math.max(0, one.t + by) })));
                    });
                  else
                    void program({ action: 'moveKey', curve: curve.id, from: original.t, time: t, value: v }).then(
                      () => {
                        setDrag(null);
                        choose([{ curve: curve.id, t }]);
                      },
                    );
                },
              );
            }}
          >
            <Kite size={12} filled={on || k.i !== 'step'} />
            {!moves && (
              <span
                className="mono dim"
                style={{
                  position: 'absolute',
                  left: 17,
                  top: 0,
                  padding: '0 3px',
                  fontSize: 11,
                  whiteSpace: 'nowrap',
                  background: 'var(--kl-ink9)',
                }}
              >
                {words(k.v)}
              </span>
            )}
          </button>
        );
      })}
    </div>
  );
}
