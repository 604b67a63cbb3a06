import { type PointerEvent, useEffect, useRef, useState } from 'react';
import type { RowOf } from '../../../api/client';
import { type Ending, follow } from '../../drag';
import { useRepaint, useRows, useShow, useTransport } from '../../hooks';
import { LitPane } from '../../stage/LitRaster';
import { command, edit, live, position, select, shownPlayback, update, useStudio } from '../../store';
import { PartName } from '../PartName';
import { snapped } from './snap';

type Rectangle = { x: number; y: number; width: number; height: number; turn: number };
type Drag = { id: string; x: number; y: number; lines: { x: number | null; y: number | null } };

const round = (v: number) => Number(v.toFixed(2));

/** The pane of a route with what lies in it, and what each share or lens takes of it. */
export function PaneEditor({ route }: { route: RowOf<'route'> }) {
  const area = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 640, height: 560 });
  const [drag, setDrag] = useState<Drag | null>(null);
  const [moving, setMoving] = useState<string | null>(null);
  const { running } = useTransport();
  useRepaint(running || moving !== null ? 10 : 2);
  const selected = useStudio((s) => s.selected);
  const loose = useStudio((s) => s.values);
  const placed = useShow()?.computed.routes[route.id]?.placedAs;
  const surfaces = useRows('surface');
  const shares = useRows('share').filter((s) => s.route === route.id);
  const lenses = useRows('lens').filter((l) => l.route === route.id);
  const layers = useRows('layer').filter((l) => l.route === route.id);
  useEffect(() => {
    const node = area.current;
    if (node === null) return;
    const watch = new ResizeObserver(() => setBox({ width: node.clientWidth, height: node.clientHeight }));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const nameOf = (surface: string) => surfaces.find((s) => s.id === surface)?.name ?? 'a removed surface';
  // Surfaces that have one share in common stand there as one.
  const leader = (share: string) => (placed as Record<string, string> | undefined)?.[share] ?? share;
  const now = live.now();
  const plan = now === null ? null : (shownPlayback()?.at(now) ?? null);
  const value = (address: string, rest: number) =>
    plan === null || now === null ? rest : plan.slot(address).at(position(), now);
  const place = (id: string): Rectangle => {
    const at = (name: string, rest: number) => value(`share:${id}/${name}`, rest);
    const moved = drag?.id === id ? drag : null;
    return {
      x: moved?.x ?? at('x', 0),
      y: moved?.y ?? at('y', 0),
      width: at('width', 1920),
      height: at('height', 1080),
      turn: at('turn', 0),
    };
  };
  const parts: { id: string; kind: 'share' | 'lens'; name: string; at: Rectangle }[] =
    route.reach === 'canvas'
      ? shares
          .filter((s) => leader(s.id) === s.id)
          .map((s) => ({
            id: s.id,
            kind: 'share',
            name: [s, ...shares.filter((o) => o.id !== s.id && leader(o.id) === s.id)]
              .map((o) => nameOf(o.surface))
              .join(' + '),
            at: place(s.id),
          }))
      : route.reach === 'lens'
        ? lenses.map((l) => {
            const [x, y, w, h] = [l.part[0] ?? 0, l.part[1] ?? 0, l.part[2] ?? 0, l.part[3] ?? 0];
            return {
              id: l.id,
              kind: 'lens',
              name: l.name,
              at: { x, y, width: w > 0 ? w : route.width - x, height: h > 0 ? h : route.height - y, turn: 0 },
            };
          })
        : [];
  const stands = drag === null ? parts : parts.filter((p) => p.id !== drag.id);
  const far = (from: (p: Rectangle) => number, pick: (...v: number[]) => number, whole: number) =>
    pick(whole, ...stands.map((p) => from(p.at)));
  const left = far((p) => p.x, Math.min, 0);
  const top = far((p) => p.y, Math.min, 0);
  const right = far((p) => p.x + p.width, Math.max, Math.max(route.width, 1));
  const bottom = far((p) => p.y + p.height, Math.max, Math.max(route.height, 1));
  const scale = Math.min((box.width - 48) / (right - left), (box.height - 76) / (bottom - top));
  const [ox, oy] = [
    (box.width - (right - left) * scale) / 2 - left * scale,
    (box.height - 28 - (bottom - top) * scale) / 2 - top * scale,
  ];

  const begin = (id: string, event: PointerEvent) => {
    select({ kind: 'share', id });
    const row = shares.find((s) => s.id === id);
    if (row === undefined) return;
    const from = place(id);
    let at: Drag = { id, x: from.x, y: from.y, lines: { x: null, y: null } };
    const others = [
      { x: 0, y: 0, width: route.width, height: route.height },
      ...parts.filter((p) => p.id !== id).map((p) => p.at),
    ];
    const move = (px: number, py: number, e: globalThis.PointerEvent) => {
      const along = Math.abs(px) > Math.abs(py);
      const [x, y] = [
        from.x + (e.shiftKey && !along ? 0 : px / scale),
        from.y + (e.shiftKey && along ? 0 : py / scale),
      ];
      const snapX = e.altKey
        ? null
        : snapped(
            x,
            from.width,
            others.map((o) => [o.x, o.width]),
            7 / scale,
          );
      const snapY = e.altKey
        ? null
        : snapped(
            y,
            from.height,
            others.map((o) => [o.y, o.height]),
            7 / scale,
          );
      at = {
        id,
        x: round(snapX?.at ?? Math.round(x)),
        y: round(snapY?.at ?? Math.round(y)),
        lines: { x: snapX?.line ?? null, y: snapY?.line ?? null },
      };
      setDrag(at);
    };
    follow(event, move, (how: Ending) => {
      if (how === 'dropped' && (at.x !== from.x || at.y !== from.y)) void moveShare(row, at).then(() => setDrag(null));
      else setDrag(null);
    });
  };
  const moveShare = (row: RowOf<'share'>, to: { x: number; y: number }) =>
    edit(`Move ${nameOf(row.surface)}`, [update('share', row, { 'values.x': to.x, 'values.y': to.y })]);
  const nudge = (id: string, key: string, by: number) => {
    const row = shares.find((s) => s.id === id);
    const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[key];
    if (row === undefined || step === undefined) return false;
    const at = place(id);
    void moveShare(row, { x: round(at.x + (step[0] ?? 0)), y: round(at.y + (step[1] ?? 0)) });
    return true;
  };

  /** Moves what a layer shows in the pane: loose, until it is kept. */
  const grab = (layer: string, event: PointerEvent) => {
    const [x, y] = [value(`layer:${layer}/x`, 0), value(`layer:${layer}/y`, 0)];
    setMoving(layer);
    follow(
      event,
      (px, py, e) => {
        const along = Math.abs(px) > Math.abs(py);
        void command({
          action: 'live',
          values: {
            [`layer:${layer}/x`]: Math.round(x + (e.shiftKey && !along ? 0 : px / scale)),
            [`layer:${layer}/y`]: Math.round(y + (e.shiftKey && along ? 0 : py / scale)),
          },
        });
      },
      (how) => {
        setMoving(null);
        if (how === 'stopped')
          void command({ action: 'live', values: { [`layer:${layer}/x`]: null, [`layer:${layer}/y`]: null } });
      },
    );
  };
  const chosen = layers.find((l) => l.id === selected?.id) ?? layers[0];
  const loosened =
    chosen !== undefined &&
    ['x', 'y', 'scale', 'turn'].some((name) => loose[`layer:${chosen.id}/${name}`] !== undefined);

  return (
    <div
      ref={area}
      className="canvas-area"
      data-testid="pane"
      onPointerDown={(e) => e.target === e.currentTarget && select({ kind: 'route', id: route.id })}
    >
      {route.width === 0 ? (
        <SkinWords route={route} />
      ) : (
        <>
          <div
            role="img"
            aria-label={`Pane of ${route.name}, ${route.width} × ${route.height} px`}
            onPointerDown={(e) => chosen !== undefined && grab(chosen.id, e)}
            style={{
              position: 'absolute',
              left: ox,
              top: oy,
              width: route.width * scale,
              height: route.height * scale,
              outline: '1px solid var(--kl-line)',
              background: 'black',
              cursor: chosen === undefined ? 'default' : 'grab',
              touchAction: 'none',
            }}
          >
            <div
              style={{
                position: 'absolute',
                inset: 0,
                opacity: parts.length > 0 && route.reach === 'canvas' ? 0.45 : 1,
                pointerEvents: 'none',
              }}
            >
              <LitPane route={route.id} />
            </div>
          </div>
          <span className="mono dim" style={{ position: 'absolute', left: ox, top: oy - 20, fontSize: 12 }}>
            0, 0
          </span>
          <span
            className="mono dim"
            style={{
              position: 'absolute',
              left: ox + route.width * scale - 140,
              width: 140,
              textAlign: 'right',
              top: oy + route.height * scale + 4,
              fontSize: 12,
            }}
          >
            {route.width}, {route.height}
          </span>
          {drag !== null && drag.lines.x !== null && (
            <div
              style={{
                position: 'absolute',
                left: ox + drag.lines.x * scale,
                top: 0,
                bottom: 0,
                width: 1,
                background: 'var(--kl-kite)',
              }}
            />
          )}
          {drag !== null && drag.lines.y !== null && (
            <div
              style={{
                position: 'absolute',
                top: oy + drag.lines.y * scale,
                left: 0,
                right: 0,
                height: 1,
                background: 'var(--kl-kite)',
              }}
            />
          )}
          {parts.map((part) => (
            <Part
              key={part.id}
              part={part}
              route={route}
              on={selected?.id === part.id}
              box={{ left: ox, top: oy, scale }}
              onPress={(e) => (part.kind === 'share' ? begin(part.id, e) : select({ kind: 'lens', id: part.id }))}
              onFocus={() => select({ kind: part.kind, id: part.id })}
              onNudge={(key, by) => part.kind === 'share' && nudge(part.id, key, by)}
            />
          ))}
          {layers.length === 0 && (
            <div
              className="empty"
              style={{ position: 'absolute', left: ox, top: oy, width: route.width * scale, pointerEvents: 'none' }}
            >
              <strong>No layer takes this route</strong>Choose it as the route of a layer.
            </div>
          )}
          <span className="tip">
            {chosen === undefined ? '' : `Drag the pane: ${chosen.name} moves, loose until kept. `}
            {route.reach === 'canvas'
              ? 'Drag a share by its name; Alt: no snapping, Shift: one axis. Arrow keys nudge by a pixel, with Shift by ten.'
              : ''}
          </span>
          {layers.length > 0 && (
            <div style={{ position: 'absolute', left: 12, top: 8, display: 'flex', gap: 6, flexWrap: 'wrap' }}>
              {moving !== null || loosened ? (
                <span
                  className="mono"
                  style={{
                    border: '1px dashed var(--kl-loose)',
                    borderRadius: 4,
                    padding: '1px 6px',
                    fontSize: 12,
                    background: 'var(--kl-ink9)',
                  }}
                >
                  {chosen?.name} {round(value(`layer:${chosen?.id}/x`, 0))}, {round(value(`layer:${chosen?.id}/y`, 0))}{' '}
                  px
                </span>
              ) : null}
            </div>
          )}
        </>
      )}
    </div>
  );
}

/** What a share or a lens takes of the pane, lit as it is. */
function Part({
  part,
  route,
  on,
  box,
  onPress,
  onFocus,
  onNudge,
}: {
  part: { id: string; kind: 'share' | 'lens'; name: string; at: Rectangle };
  route: RowOf<'route'>;
  on: boolean;
  box: { left: number; top: number; scale: number };
  onPress: (e: PointerEvent) => void;
  onFocus: () => void;
  onNudge: (key: string, by: number) => boolean;
}) {
  const { x, y, width, height, turn } = part.at;
  const { scale } = box;
  const says = `${round(x)}, ${round(y)} · ${round(width)} × ${round(height)}${turn === 0 ? '' : ` · ${round(turn)}°`}`;
  return (
    <div
      style={{
        position: 'absolute',
        left: box.left + x * scale,
        top: box.top + y * scale,
        width: width * scale,
        height: height * scale,
        transform: turn === 0 ? undefined : `rotate(${turn}deg)`,
        outline: on ? '2px solid var(--kl-kite)' : '1px solid var(--kl-dim)',
        overflow: 'hidden',
        pointerEvents: 'none',
      }}
    >
      {part.kind === 'share' && (
        // The pane again, as it lies beneath, not dimmed.
        <div style={{ position: 'absolute', inset: 0, transform: turn === 0 ? undefined : `rotate(${-turn}deg)` }}>
          <div
            style={{
              position: 'absolute',
              left: -x * scale,
              top: -y * scale,
              width: route.width * scale,
              height: route.height * scale,
            }}
          >
            <LitPane route={route.id} />
          </div>
        </div>
      )}
      <button
        type="button"
        aria-label={`${part.name} at ${says}`}
        aria-pressed={on}
        onPointerDown={onPress}
        onFocus={onFocus}
        onKeyDown={(e) => onNudge(e.key, e.shiftKey ? 10 : 1) && e.preventDefault()}
        className={on ? 'part-name on' : 'part-name'}
        style={{
          font: 'inherit',
          fontSize: 12,
          color: 'inherit',
          textAlign: 'left',
          position: 'absolute',
          left: 3,
          top: 3,
          maxWidth: 'calc(100% - 6px)',
          cursor: part.kind === 'share' ? 'move' : 'pointer',
          touchAction: 'none',
          pointerEvents: 'auto',
        }}
      >
        <PartName name={part.name} numbers={says.split(' · ')} />
      </button>
    </div>
  );
}

/** A route without a pane of its own. */
function SkinWords({ route }: { route: RowOf<'route'> }) {
  const figures = useShow()?.computed.routes[route.id];
  return (
    <div className="empty">
      <strong>{route.name}: the raster of each surface</strong>
      {figures === undefined || figures.surfaces.length === 0
        ? 'Choose the surfaces that it reaches in the details on the right.'
        : 'Each surface is its own pane. How pictures fit there shows with the layers that take this route.'}
    </div>
  );
}
