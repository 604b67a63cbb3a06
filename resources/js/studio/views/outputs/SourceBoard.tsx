import { NativeSelect } from '@mantine/core';
import { type KeyboardEvent, type PointerEvent, useEffect, useState } from 'react';
import { answer, http, type RowOf, type Schemas } from '../../../api/client';
import { follow } from '../../drag';
import { useRows, useShow } from '../../hooks';
import { LitRaster } from '../../stage/LitRaster';
import { outputs as order, select } from '../../store';
import { FitButton } from './FitButton';
import { Handle, stepOf } from './Handle';
import { MarksButton, useMarks } from './marks';
import { usePlane } from './plane';

type Region = RowOf<'region'>;
type Box = [number, number, number, number];

/** Screen pixels within which lines are met. */
const REACH = 7;
const CORNERS = [
  ['Top left', 0, 0],
  ['Top right', 1, 0],
  ['Bottom right', 1, 1],
  ['Bottom left', 0, 1],
] as const;

/** What regions take of a surface's picture: moved and scaled on it, and drawn anew, wherever they go on their outputs. */
export function SourceBoard({ output, region }: { output: RowOf<'output'>; region: Region | undefined }) {
  const show = useShow();
  const surfaces = useRows('surface');
  const all = useRows('region');
  const outputs = useRows('output');
  const [wanted, setWanted] = useState('');
  const [drawing, setDrawing] = useState(false);
  const [draft, setDraft] = useState<Box | null>(null);
  const id = region?.surface ?? (wanted || all.find((r) => r.output === output.id)?.surface) ?? surfaces[0]?.id ?? '';
  const surface = surfaces.find((s) => s.id === id);
  const figures = show?.computed.surfaces[id] as Schemas['SurfaceFigures'] | undefined;
  const [width, height] = [figures?.rasterWidth ?? 1, figures?.rasterHeight ?? 1];
  const { area, plane, zoomed, looked, fitAll, move, at: view } = usePlane(width, height);
  const { scale, left, top } = plane;
  const marks = useMarks(output, plane, () => [], null, show === undefined ? undefined : { show: show.id, id });
  const pieces = all.filter((r) => r.surface === id);
  const guide = useGuide(show?.id ?? '', id, Number((surface?.shape as { guide?: number } | undefined)?.guide ?? 0));

  const take = (of: Region, box: Box) => order({ action: 'sources', sources: { [of.id]: box } });
  /** Lines that edges are brought to: those of the raster, of the other pieces, and of the guide. */
  const lines = (except: string | null, axis: 0 | 1): number[] => [
    0,
    axis === 0 ? width : height,
    ...pieces
      .filter((r) => r.id !== except)
      .flatMap((r) => [r.source[axis] ?? 0, (r.source[axis] ?? 0) + (r.source[axis + 2] ?? 0)]),
    ...(axis === 0 ? [...new Set(guide.flatMap((row) => row.lines))] : guide.flatMap((row) => [row.top, row.bottom])),
  ];
  const snap = (v: number, to: readonly number[], free: boolean) => {
    const near = to.reduce((best, line) => (Math.abs(line - v) < Math.abs(best - v) ? line : best), Infinity);
    return Math.round(!free && Math.abs(near - v) * scale < REACH ? near : v);
  };

  const begin = (of: Region, event: PointerEvent) => {
    if (event.button !== 0 || drawing) return;
    select({ kind: 'region', id: of.id });
    if (of.locked) return;
    const [x, y, w, h] = of.source as Box;
    let to: Box | null = null;
    follow(
      event,
      (dx, dy, e) => {
        const at = (axis: 0 | 1, from: number, long: number, by: number) => {
          const to = lines(of.id, axis);
          const [a, b] = [snap(from + by / scale, to, e.altKey), snap(from + long + by / scale, to, e.altKey) - long];
          const whole = Math.round(from + by / scale);
          const kept = Math.abs(a - whole) <= Math.abs(b - whole) || b === whole ? a : b;
          return Math.min((axis === 0 ? width : height) - long, Math.max(0, a === whole ? b : kept));
        };
        to = [at(0, x, w, dx), at(1, y, h, dy), w, h];
        setDraft(to);
      },
      (how) => {
        if (how === 'dropped' && to !== null) void take(of, to).finally(() => setDraft(null));
        else setDraft(null);
      },
    );
  };
  const nudge = (of: Region, e: KeyboardEvent) => {
    const step = stepOf(e);
    if (step === null || e.altKey || of.locked) return;
    e.preventDefault();
    e.stopPropagation();
    const [x, y, w, h] = of.source as Box;
    const [dx, dy] = step;
    void take(of, [Math.min(width - w, Math.max(0, x + dx)), Math.min(height - h, Math.max(0, y + dy)), w, h]);
  };
  /** A corner that was moved: the other edges stay. */
  const scaled = (of: Region, right: 0 | 1, bottom: 0 | 1, dx: number, dy: number) => {
    const [x, y, w, h] = of.source as Box;
    const [px, py] = [
      snap(x + right * w + dx, lines(of.id, 0), false),
      snap(y + bottom * h + dy, lines(of.id, 1), false),
    ];
    const [x0, x1] = right === 1 ? [x, Math.max(x + 1, px)] : [Math.min(x + w - 1, px), x + w];
    const [y0, y1] = bottom === 1 ? [y, Math.max(y + 1, py)] : [Math.min(y + h - 1, py), y + h];
    return take(of, [
      Math.max(0, x0),
      Math.max(0, y0),
      Math.min(width, x1) - Math.max(0, x0),
      Math.min(height, y1) - Math.max(0, y0),
    ]);
  };
  const ground = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const at = (x: number, y: number, free: boolean): [number, number] => [
      snap((x - box.left - left) / scale, lines(null, 0), free),
      snap((y - box.top - top) / scale, lines(null, 1), free),
    ];
    if (!drawing) {
      if (event.target !== event.currentTarget) return;
      const from = { x: view.x, y: view.y };
      follow(
        event,
        (dx, dy) => move(dx, dy, from),
        (how) => how === 'pressed' && select({ kind: 'output', id: output.id }),
      );
      return;
    }
    const [x, y] = at(event.clientX, event.clientY, event.altKey);
    let to: Box | null = null;
    follow(
      event,
      (_dx, _dy, e) => {
        const [px, py] = at(e.clientX, e.clientY, e.altKey);
        to = [Math.min(x, px), Math.min(y, py), Math.abs(px - x), Math.abs(py - y)];
        setDraft(to);
      },
      async (how) => {
        setDrawing(false);
        setDraft(null);
        if (how !== 'dropped' || to === null) return;
        const done = await order({ action: 'piece', surface: id, output: output.id, source: to });
        if (done?.createdId) select({ kind: 'region', id: done.createdId });
      },
    );
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what is on it has its own roles
    <div
      ref={area}
      className="canvas-area"
      onPointerMove={marks.follows}
      onKeyDown={looked}
      style={{ overflow: 'hidden' }}
    >
      <div
        style={{
          position: 'absolute',
          left,
          top,
          width: width * scale,
          height: height * scale,
          outline: '1px solid var(--kl-line)',
          pointerEvents: 'none',
        }}
      >
        {surface !== undefined && <LitRaster surface={id} />}
      </div>
      <svg
        width="100%"
        height="100%"
        style={{ position: 'absolute', inset: 0, cursor: drawing ? 'crosshair' : 'default' }}
        onPointerDown={ground}
        role="group"
        aria-label={`What is taken of ${surface?.name ?? 'a surface'}`}
      >
        <g transform={`translate(${left} ${top}) scale(${scale})`}>
          <g stroke="var(--kl-dim)" opacity={0.6} pointerEvents="none">
            {guide.map((row) => (
              <path
                key={row.top}
                d={`M0 ${row.top}H${width}${row.lines.map((x) => `M${x} ${row.top}V${row.bottom}`).join('')}`}
                fill="none"
                vectorEffect="non-scaling-stroke"
              />
            ))}
          </g>
          {pieces.map((r) => {
            const on = r.id === region?.id;
            const [x, y, w, h] = on && draft !== null && !drawing ? draft : (r.source as Box);
            const name = outputs.find((o) => o.id === r.output)?.name ?? 'a removed output';
            return (
              <g key={r.id}>
                <rect
                  role="button"
                  tabIndex={0}
                  aria-label={`Taken for ${name}: ${x}, ${y}, ${w} × ${h}`}
                  aria-pressed={on}
                  {...{ x, y, width: w, height: h }}
                  fill={on ? 'var(--kl-kite)' : 'transparent'}
                  fillOpacity={0.12}
                  stroke={on ? 'var(--kl-kite)' : 'var(--kl-text)'}
                  strokeWidth={on ? 2 : 1}
                  strokeDasharray={r.output === output.id ? undefined : '6 4'}
                  vectorEffect="non-scaling-stroke"
                  style={{
                    pointerEvents: drawing ? 'none' : undefined,
                    outline: 'none',
                    cursor: r.locked ? 'default' : 'move',
                  }}
                  onPointerDown={(e) => begin(r, e)}
                  onFocus={() => select({ kind: 'region', id: r.id })}
                  onKeyDown={(e) => nudge(r, e)}
                />
                {on && w * scale > 60 && (
                  <text
                    x={x + 5 / scale}
                    y={y + 15 / scale}
                    fontSize={12 / scale}
                    fill="var(--kl-text)"
                    pointerEvents="none"
                  >
                    {name}
                  </text>
                )}
              </g>
            );
          })}
          {region !== undefined &&
            !region.locked &&
            draft === null &&
            CORNERS.map(([label, right, bottom]) => (
              <Handle
                key={label}
                label={`${label} of what is taken`}
                x={(region.source[0] ?? 0) + right * (region.source[2] ?? 0)}
                y={(region.source[1] ?? 0) + bottom * (region.source[3] ?? 0)}
                scale={scale}
                moved={(dx, dy) => scaled(region, right, bottom, dx, dy)}
              />
            ))}
          {drawing && draft !== null && (
            <rect
              {...{ x: draft[0], y: draft[1], width: draft[2], height: draft[3] }}
              fill="none"
              stroke="var(--kl-kite)"
              strokeWidth={2}
              vectorEffect="non-scaling-stroke"
            />
          )}
        </g>
      </svg>
      <div style={{ position: 'absolute', left: 12, top: 8, display: 'flex', gap: 8, alignItems: 'center' }}>
        <NativeSelect
          size="xs"
          aria-label="Surface"
          value={id}
          data={surfaces.map((s) => ({ value: s.id, label: s.name }))}
          onChange={(e) => {
            select({ kind: 'output', id: output.id });
            setWanted(e.currentTarget.value);
          }}
        />
        <button
          type="button"
          className="plain primary"
          aria-pressed={drawing}
          title={`A rectangle on the picture, which goes to ${output.name}`}
          onClick={() => setDrawing((v) => !v)}
        >
          Draw a piece
        </button>
      </div>
      <div style={{ position: 'absolute', right: 12, top: 8, display: 'flex', gap: 6 }}>
        <MarksButton marks={marks} />
        <FitButton scale={scale} zoomed={zoomed} fit={fitAll} />
      </div>
      <span className="tip">
        {drawing
          ? `Drag from corner to corner: the piece goes to ${output.name}. Lines of the guide are met; Alt is free.`
          : 'What each region takes. Drag it or its corners, or move it by the arrow keys; where it goes stays.'}
      </span>
    </div>
  );
}

/** The rows of a surface's guide; none where it has none. */
function useGuide(show: string, surface: string, size: number) {
  const [rows, setRows] = useState<{ top: number; bottom: number; lines: number[] }[]>([]);
  useEffect(() => {
    setRows([]);
    if (size <= 0 || show === '') return;
    let ended = false;
    answer(http.GET('/shows/{show}/surfaces/{surface}/guide', { params: { path: { show, surface } } })).then(
      (found) => !ended && setRows(found.rows),
      // A guide of too many squares says so where its size is typed.
      () => undefined,
    );
    return () => {
      ended = true;
    };
  }, [show, surface, size]);
  return rows;
}
