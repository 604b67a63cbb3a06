import { Checkbox } from '@mantine/core';
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import { answer, http, type RowOf, type Schemas } from '../../../api/client';
import { type Ending, follow } from '../../drag';
import { NumberField } from '../../fields/fields';
import { useRows, useShow } from '../../hooks';
import { choose, edit, get, outputs as order, select, update, useStudio } from '../../store';
import { PartName } from '../PartName';
import { FitButton } from './FitButton';
import { Handle, stepOf } from './Handle';
import { MarksButton, useMarks } from './marks';
import type { Tool } from './Outputs';
import { Picture } from './Picture';
import { usePlane } from './plane';

type Region = RowOf<'region'>;
type Figures = Schemas['RegionFigures'];

/** Screen pixels within which edges are met. */
const REACH = 7;
const CORNERS = ['Top left', 'Top right', 'Bottom right', 'Bottom left'];
interface Evenness {
  columns: number;
  rows: number;
  cells: ([number, number] | null)[];
  places: ([number, number] | null)[];
  score: number;
  worst: number | null;
  metres: boolean;
  spill: number;
}

const points = (list: number[][]) => list.map((p) => p.join(',')).join(' ');

/** An output as it leaves, to scale, with its regions to be moved, pinned and bent. */
export function Raster({
  output,
  regions,
  tool,
  even,
}: {
  output: RowOf<'output'>;
  regions: Region[];
  tool: Tool;
  even: string | undefined;
}) {
  const show = useShow();
  const selected = useStudio((s) => s.selected);
  const surfaces = useRows('surface');
  const [drag, setDrag] = useState<{ id: string; x: number; y: number } | null>(null);
  const [moving, setMoving] = useState<{ handle: string; by: [number, number] } | null>(null);
  const { area, plane, zoomed, looked, fitAll, move, at: view } = usePlane(output.width, output.height);
  const { scale, left, top } = plane;
  const figures = (id: string) => show?.computed.regions[id] as Figures | undefined;
  const name = (row: Region) => surfaces.find((s) => s.id === row.surface)?.name ?? 'a removed surface';
  const chosen = regions.find((r) => r.id === selected?.id);
  const many = useStudio((s) => s.chosen);
  /** Whether regions are being taken one by one with keys. */
  const keeping = useRef(false);
  const [alone, setAlone] = useState(false);
  const [soft, setSoft] = useState(0);
  // Those that are moved as one: the chosen one first.
  const group =
    chosen === undefined
      ? []
      : [chosen, ...regions.filter((r) => r.id !== chosen.id && many.some((one) => one.id === r.id))];
  const together = group.length > 1 && group.every((r) => !r.locked);
  const shown = tool === 'shape' && alone && chosen !== undefined ? [chosen] : regions;
  /** Chooses several regions; the first leads. */
  const chooseAll = (list: readonly Region[]) =>
    choose([...list.slice(1), ...list.slice(0, 1)].map((r) => ({ kind: 'region' as const, id: r.id })));
  const join = (row: Region) =>
    chooseAll(group.some((r) => r.id === row.id) ? group.filter((r) => r.id !== row.id) : [...group, row]);

  const all = useRef(regions);
  all.current = regions;
  useEffect(() => {
    const take = () => {
      // The one that was chosen leads on.
      const lead = get().selected?.id;
      const list = [...all.current].sort((a, b) => Number(a.id === lead) - Number(b.id === lead));
      choose(list.map((r) => ({ kind: 'region', id: r.id })));
    };
    document.addEventListener('kite-all', take);
    return () => document.removeEventListener('kite-all', take);
  }, []);

  const outlines = () =>
    regions
      .map((r, i) => ({ points: (figures(r.id)?.corners ?? []) as [number, number][], label: `${i + 1}` }))
      .filter((s) => s.points.length > 2);
  const marks = useMarks(output, plane, outlines, regions);

  /** Brings an edge to the raster's or another region's edge when it is within a few screen pixels of it. */
  const snapped = (row: Region, x: number, y: number) => {
    const reach = REACH / scale;
    const [, , w = 0, h = 0] = figures(row.id)?.place ?? [];
    const others = regions.filter((r) => r.id !== row.id).map((r) => figures(r.id)?.place ?? [0, 0, 0, 0]);
    const edges = (axis: 0 | 1, size: number, along: number) => [
      0,
      size - along,
      size / 2 - along / 2,
      ...others.flatMap((p) => [p[axis] ?? 0, (p[axis] ?? 0) + (p[axis + 2] ?? 0)].flatMap((e) => [e, e - along])),
    ];
    const near = (v: number, to: number[]) =>
      to.reduce((best, edge) => (Math.abs(edge - v) < Math.abs(best - v) ? edge : best), Number.POSITIVE_INFINITY);
    const [nx, ny] = [near(x, edges(0, output.width, w)), near(y, edges(1, output.height, h))];
    return { x: Math.abs(nx - x) < reach ? nx : x, y: Math.abs(ny - y) < reach ? ny : y };
  };

  const begin = (row: Region, event: PointerEvent) => {
    if (event.button !== 0) return;
    if ((event.ctrlKey || event.metaKey) && chosen !== undefined) {
      event.preventDefault();
      if (row.id !== chosen.id) join(row);
      return;
    }
    keeping.current = false;
    const one = !group.some((r) => r.id === row.id);
    if (one) select({ kind: 'region', id: row.id });
    else chooseAll([row, ...group.filter((r) => r.id !== row.id)]);
    if (row.locked || tool !== 'place' || (group.length > 1 && !one && !together)) return;
    let at = { x: row.x, y: row.y };
    const go = (px: number, py: number, e: globalThis.PointerEvent) => {
      const [dx, dy] = [px / scale, py / scale];
      const along = Math.abs(dx) > Math.abs(dy);
      const free = { x: row.x + (e.shiftKey && !along ? 0 : dx), y: row.y + (e.shiftKey && along ? 0 : dy) };
      const to = e.altKey ? free : snapped(row, free.x, free.y);
      at = { x: Math.round(to.x), y: Math.round(to.y) };
      setDrag({ id: row.id, ...at });
    };
    const up = (how: Ending) => {
      const moved = how === 'dropped' && (at.x !== row.x || at.y !== row.y);
      if (moved && !one && group.length > 1)
        void order({
          action: 'together',
          regions: group.map((r) => r.id),
          by: { x: at.x - row.x, y: at.y - row.y },
        }).then(() => setDrag(null));
      else if (moved) void edit(`Move ${name(row)}`, [update('region', row, at)]).then(() => setDrag(null));
      else setDrag(null);
    };
    follow(event, go, up);
  };

  /** Where a region is while it, or those that it is moved with, are dragged. */
  const dragged = (row: Region) => {
    const lead = drag === null ? undefined : group.find((r) => r.id === drag.id);
    if (drag === null || (drag.id !== row.id && (lead === undefined || !group.some((r) => r.id === row.id))))
      return row;
    const from = lead ?? row;
    return { x: row.x + drag.x - from.x, y: row.y + drag.y - from.y };
  };

  const focused = (row: Region) => {
    if (keeping.current) return;
    chooseAll(group.some((r) => r.id === row.id) ? [row, ...group.filter((r) => r.id !== row.id)] : [row]);
  };

  const nudge = (row: Region, e: KeyboardEvent) => {
    if (e.key === 'Enter' && e.ctrlKey) {
      e.preventDefault();
      // The first that is taken so stays, and focus goes on without choosing.
      if (keeping.current || group.length !== 1 || group[0]?.id !== row.id) join(row);
      keeping.current = true;
      return;
    }
    const step = stepOf(e);
    if (step === null || e.altKey || row.locked) return;
    e.preventDefault();
    e.stopPropagation();
    if (together) void order({ action: 'together', regions: group.map((r) => r.id), by: { x: step[0], y: step[1] } });
    else void edit(`Nudge ${name(row)}`, [update('region', row, { x: row.x + step[0], y: row.y + step[1] })]);
  };

  const ground = (event: PointerEvent) => {
    if (event.target !== event.currentTarget) return;
    const from = { x: view.x, y: view.y };
    follow(
      event,
      (dx, dy) => move(dx, dy, from),
      (how) => how === 'pressed' && select({ kind: 'output', id: output.id }),
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
          width: output.width * scale,
          height: output.height * scale,
          outline: '1px solid var(--kl-line)',
          pointerEvents: 'none',
        }}
      >
        <Picture output={output.id} width={output.width} height={output.height} />
      </div>
      <span
        className="mono dim"
        style={{ position: 'absolute', left, top: top - 22, fontSize: 12, pointerEvents: 'none' }}
      >
        0, 0
      </span>
      <span
        className="mono dim"
        style={{
          position: 'absolute',
          left: left + output.width * scale - 120,
          width: 120,
          textAlign: 'right',
          top: top - 22,
          fontSize: 12,
          pointerEvents: 'none',
        }}
      >
        {output.width}, {output.height}
      </span>
      <svg
        width="100%"
        height="100%"
        style={{ position: 'absolute', inset: 0 }}
        onPointerDown={ground}
        role="group"
        aria-label={`Regions on ${output.name}`}
      >
        <g transform={`translate(${left} ${top}) scale(${scale})`}>
          {even !== undefined && <EvenCells region={even} output={output} scale={scale} />}
          {shown.map((row) => {
            const shape = figures(row.id);
            if (shape === undefined) return null;
            const at = dragged(row);
            const [dx, dy] = [at.x - row.x, at.y - row.y];
            const corners = shape.corners.map(([x = 0, y = 0]) => [x + dx, y + dy]);
            const on = group.some((r) => r.id === row.id);
            return (
              <polygon
                key={row.id}
                role="button"
                tabIndex={0}
                aria-label={`${name(row)} at ${at.x}, ${at.y}`}
                aria-pressed={on}
                points={points(corners)}
                fill="transparent"
                stroke={on ? 'var(--kl-kite)' : 'var(--kl-dim)'}
                strokeWidth={on ? 2 : 1}
                opacity={tool === 'shape' && chosen !== undefined && !on ? 0.35 : 1}
                vectorEffect="non-scaling-stroke"
                onPointerDown={(e) => begin(row, e)}
                onFocus={() => focused(row)}
                onMouseDown={(e) => (e.ctrlKey || e.metaKey) && e.preventDefault()}
                onKeyDown={(e) => nudge(row, e)}
                onDoubleClick={(e) => tool === 'shape' && void addLines(row, shape, e, { scale, left, top })}
                style={{
                  cursor: tool === 'place' && !row.locked ? 'move' : 'default',
                  touchAction: 'none',
                  outline: 'none',
                }}
              />
            );
          })}
          {tool === 'shape' && chosen !== undefined && !chosen.locked && (
            <Bends
              row={chosen}
              shape={figures(chosen.id)}
              scale={scale}
              soft={soft}
              moving={moving}
              setMoving={setMoving}
            />
          )}
        </g>
      </svg>
      {shown.map((row) => {
        const shape = figures(row.id);
        const at = dragged(row);
        const on = selected?.id === row.id;
        const [x, y] = [
          Math.min(...(shape?.corners.map((c) => c[0] ?? 0) ?? [0])) + at.x - row.x,
          Math.min(...(shape?.corners.map((c) => c[1] ?? 0) ?? [0])) + at.y - row.y,
        ];
        const wide = (shape?.place[2] ?? 0) * scale;
        if (shape === undefined || (!on && wide < 84)) return null;
        return (
          <span
            key={row.id}
            className={on ? 'part-name on' : 'part-name'}
            style={{
              position: 'absolute',
              left: left + x * scale + 4,
              top: top + y * scale + 3,
              pointerEvents: 'none',
              maxWidth: on ? undefined : wide - 8,
            }}
          >
            <PartName name={name(row)} numbers={[`${at.x}, ${at.y}`, `${shape.place[2]} × ${shape.place[3]}`]} />
            {row.pinned ? ' · pinned' : ''}
            {row.locked ? ' · locked' : ''}
          </span>
        );
      })}
      {regions.length === 0 && (
        <div className="empty" style={{ position: 'absolute', inset: 0, height: 'fit-content', pointerEvents: 'none' }}>
          <strong>Nothing lands on {output.name} yet</strong>
          Add a surface's region in the details on the right.
        </div>
      )}
      {tool === 'shape' && chosen !== undefined && (
        <div style={{ position: 'absolute', left: 12, top: 8, display: 'flex', gap: 12, alignItems: 'end' }}>
          <div style={{ width: 120 }}>
            <NumberField
              label="Soft selection"
              unit="px"
              digits={0}
              value={soft}
              onChange={(v) => setSoft(Math.max(0, v))}
            />
          </div>
          <Checkbox
            mb={8}
            label="Solo"
            title="Hide the other regions"
            checked={alone}
            onChange={(e) => setAlone(e.currentTarget.checked)}
          />
        </div>
      )}
      {group.length > 1 && tool === 'place' && (
        <Together
          regions={group.map((r) => r.id)}
          locked={!together}
          done={() => {
            keeping.current = false;
            select({ kind: 'region', id: group[0]?.id ?? '' });
          }}
        />
      )}
      <div style={{ position: 'absolute', right: 12, top: 8, display: 'flex', gap: 6 }}>
        <MarksButton marks={marks} />
        <FitButton scale={scale} zoomed={zoomed} fit={fitAll} />
      </div>
      <span className="tip">
        {tool === 'shape'
          ? chosen === undefined
            ? 'Choose a region to pin its corners or bend it.'
            : 'Drag corners and points, or move them by the arrow keys: a pixel, with Shift ten, with Alt a tenth. Double-click adds a line each way.'
          : 'Drag a region; Alt: no snapping, Shift: one axis. Ctrl-press takes more, Ctrl+A all. Arrow keys nudge by a pixel, with Shift by ten. Wheel: zoom.'}
      </span>
    </div>
  );
}

/** A line more each way where a region was pressed twice. */
async function addLines(
  row: Region,
  shape: Figures,
  event: { clientX: number; clientY: number; currentTarget: Element },
  plane: { scale: number; left: number; top: number },
) {
  const box = event.currentTarget.closest('svg')?.getBoundingClientRect();
  if (box === undefined || row.locked) return;
  const [x = 0, y = 0, w = 1, h = 1] = shape.place;
  const [u, v] = [
    ((event.clientX - box.left - plane.left) / plane.scale - x) / w,
    ((event.clientY - box.top - plane.top) / plane.scale - y) / h,
  ];
  if (u <= 0 || v <= 0 || u >= 1 || v >= 1) return;
  if (await order({ action: 'line', region: row.id, way: 'column', at: u }))
    await order({ action: 'line', region: row.id, way: 'row', at: v });
}

/** Several regions moved, turned and scaled about the middle of all. */
function Together({ regions, locked, done }: { regions: string[]; locked: boolean; done: () => void }) {
  const apply = (fields: { by?: { x: number; y: number }; degrees?: number; scale?: number }) =>
    order({ action: 'together', regions, ...fields });
  return (
    <fieldset
      style={{
        position: 'absolute',
        left: 12,
        top: 8,
        display: 'flex',
        gap: 8,
        alignItems: 'end',
        border: '1px solid var(--kl-line)',
        borderRadius: 6,
        padding: '2px 8px 8px',
        background: 'var(--kl-ink9)',
      }}
      disabled={locked}
    >
      <legend style={{ fontSize: 13 }}>
        {regions.length} regions{locked ? ', one is locked' : ''}
      </legend>
      {(
        [
          ['Move X', 'px', 0, (v) => ({ by: { x: Math.round(v), y: 0 } })],
          ['Move Y', 'px', 0, (v) => ({ by: { x: 0, y: Math.round(v) } })],
          ['Turn', '°', 0, (v) => ({ degrees: v })],
          ['Scale', '%', 100, (v) => ({ scale: v / 100 })],
        ] as [string, string, number, (v: number) => Parameters<typeof apply>[0]][]
      ).map(([label, unit, usual, of]) => (
        <div key={label} style={{ width: 92 }}>
          <NumberField
            label={label}
            unit={unit}
            digits={2}
            value={usual}
            onChange={(v) => (v === usual ? undefined : apply(of(v)))}
          />
        </div>
      ))}
      <button type="button" className="plain" onClick={done}>
        One only
      </button>
    </fieldset>
  );
}

interface Moving {
  handle: string;
  by: [number, number];
}

/** The corners and points of a region, to be moved. */
function Bends({
  row,
  shape,
  scale,
  soft,
  moving,
  setMoving,
}: {
  row: Region;
  shape: Figures | undefined;
  scale: number;
  soft: number;
  moving: Moving | null;
  setMoving: (m: Moving | null) => void;
}) {
  if (shape === undefined) return null;
  const across = 3 * (row.columns.length - 1) + 1;
  const lattice = shape.lattice.map(([x = 0, y = 0], i) =>
    moving?.handle === `p${i}` ? [x + moving.by[0], y + moving.by[1]] : [x, y],
  );
  const corners = shape.corners.map(([x = 0, y = 0], i) =>
    moving?.handle === `c${i}` ? [x + moving.by[0], y + moving.by[1]] : [x, y],
  );
  const at = (r: number, c: number) => lattice[r * across + c] ?? [0, 0];
  const down = lattice.length / Math.max(1, across);
  const lines: string[] = [];
  for (let r = 0; r < down; r += 3) {
    let d = `M${at(r, 0).join(' ')}`;
    for (let c = 0; c + 3 < across; c += 3)
      d += `C${[at(r, c + 1), at(r, c + 2), at(r, c + 3)].map((p) => p.join(' ')).join(' ')}`;
    lines.push(d);
  }
  for (let c = 0; c < across && down > 1; c += 3) {
    let d = `M${at(0, c).join(' ')}`;
    for (let r = 0; r + 3 < down; r += 3)
      d += `C${[at(r + 1, c), at(r + 2, c), at(r + 3, c)].map((p) => p.join(' ')).join(' ')}`;
    lines.push(d);
  }
  return (
    <>
      {moving?.handle.startsWith('c') && (
        <polygon
          points={points(corners)}
          fill="none"
          stroke="var(--kl-kite)"
          strokeDasharray="5 4"
          vectorEffect="non-scaling-stroke"
        />
      )}
      {lattice.length > 0 &&
        lines.map((d) => (
          <path
            key={d}
            d={d}
            fill="none"
            stroke="var(--kl-kite)"
            strokeWidth={1}
            opacity={0.7}
            vectorEffect="non-scaling-stroke"
            pointerEvents="none"
          />
        ))}
      {lattice.map(([x = 0, y = 0], i) => {
        const [r, c] = [Math.floor(i / across), i % across];
        const anchor = r % 3 === 0 && c % 3 === 0;
        const inner = r % 3 !== 0 && c % 3 !== 0;
        // Corners are pinned; handles within a patch follow from those at its edges.
        if (inner || (anchor && (r === 0 || r === down - 1) && (c === 0 || c === across - 1))) return null;
        const [hx = 0, hy = 0] = shape.lattice[i] ?? [];
        return (
          <g key={`${r} ${c}`}>
            {soft > 0 && moving?.handle === `p${i}` && (
              <circle
                cx={hx}
                cy={hy}
                r={soft}
                fill="none"
                stroke="var(--kl-dim)"
                strokeDasharray="3 3"
                vectorEffect="non-scaling-stroke"
              />
            )}
            {!anchor && (
              <path
                d={`M${x} ${y}L${at(3 * Math.round(r / 3), 3 * Math.round(c / 3)).join(' ')}`}
                stroke="var(--kl-dim)"
                vectorEffect="non-scaling-stroke"
              />
            )}
            <Handle
              label={`${anchor ? 'Point' : 'Handle'} ${Math.round(c / 3) + 1}, ${Math.round(r / 3) + 1}${anchor ? '' : r % 3 === 0 ? (c % 3 === 1 ? ' right' : ' left') : r % 3 === 1 ? ' below' : ' above'}`}
              x={hx}
              y={hy}
              scale={scale}
              small={!anchor}
              moving={(by) => setMoving(by === null ? null : { handle: `p${i}`, by })}
              moved={(dx, dy) =>
                order({
                  action: 'bend',
                  region: row.id,
                  by: { [i]: [dx, dy] },
                  symmetric: !anchor,
                  radius: anchor ? soft : 0,
                })
              }
            />
          </g>
        );
      })}
      {shape.corners.map(([x = 0, y = 0], i) => (
        <Handle
          key={CORNERS[i]}
          label={`${CORNERS[i]} corner`}
          x={x}
          y={y}
          scale={scale}
          moving={(by) => setMoving(by === null ? null : { handle: `c${i}`, by })}
          moved={(dx, dy) => order({ action: 'pin', region: row.id, by: { [i]: [dx, dy] } })}
        />
      ))}
    </>
  );
}

/** How evenly squares of content come out through a region, as cells over it. */
function EvenCells({ region, output, scale }: { region: string; output: RowOf<'output'>; scale: number }) {
  const show = useShow();
  const [told, setTold] = useState<Evenness | null>(null);
  const { id = '', revision } = show ?? {};
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again after each edit
  useEffect(() => {
    let alive = true;
    answer(http.GET('/shows/{show}/regions/{region}/evenness', { params: { path: { show: id, region } } }))
      .then((found) => alive && setTold(found as Evenness))
      .catch(() => alive && setTold(null));
    return () => {
      alive = false;
    };
  }, [id, region, revision]);
  if (told === null) return null;
  return (
    <svg
      role="img"
      aria-label="Evenness of squares"
      width={output.width}
      height={output.height}
      overflow="hidden"
      pointerEvents="none"
      data-score={told.score}
    >
      {told.cells.map((cell, k) => {
        const at = Math.floor(k / told.columns) * (told.columns + 1) + (k % told.columns);
        const corners = [at, at + 1, at + told.columns + 2, at + told.columns + 1].map((i) => told.places[i]);
        if (cell === null || corners.some((c) => c === null || c === undefined)) return null;
        const [stretch, size] = cell;
        const good = stretch < 1.2 && size >= 0.8 && size <= 1.25;
        const fair = stretch < 1.5 && size >= 0.6 && size <= 1.6;
        const list = corners as [number, number][];
        const [cx, cy] = [list.reduce((s, c) => s + c[0], 0) / 4, list.reduce((s, c) => s + c[1], 0) / 4];
        const [from = [0, 0], to = [0, 0]] = list as number[][];
        const wide = Math.hypot((to[0] ?? 0) - (from[0] ?? 0), (to[1] ?? 0) - (from[1] ?? 0));
        return (
          <g key={at}>
            <polygon
              points={points(list)}
              fill={good ? 'var(--kl-sage)' : fair ? 'var(--kl-straw)' : 'var(--kl-fault)'}
              fillOpacity={k === told.worst ? 0.75 : 0.4}
              stroke="var(--kl-ink9)"
              vectorEffect="non-scaling-stroke"
            />
            <text
              x={cx}
              y={cy}
              fontSize={wide / 3.4}
              textAnchor="middle"
              dominantBaseline="central"
              fill="var(--kl-text)"
              className="mono"
            >
              {stretch.toFixed(2)}
            </text>
          </g>
        );
      })}
      <text
        x={0}
        y={output.height - 8 / scale}
        dx={8 / scale}
        fontSize={13 / scale}
        fill="var(--kl-text)"
        stroke="var(--kl-ink9)"
        strokeWidth={4 / scale}
        paintOrder="stroke"
      >
        {`Even over ${(told.score * 100).toFixed(0)} % of what lands${told.metres ? `, in metres; ${(told.spill * 100).toFixed(0)} % lands past the surface` : ', in pixels of the output'}`}
      </text>
    </svg>
  );
}
