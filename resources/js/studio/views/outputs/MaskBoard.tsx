import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import type { RowOf } from '../../../api/client';
import { follow } from '../../drag';
import { useRow, useRows, useShow } from '../../hooks';
import { LitRaster } from '../../stage/LitRaster';
import { base64, edit, editAndSelect, insert, outputs as order, select, update, useStudio } from '../../store';
import { ulid } from '../../time';
import { FitButton } from './FitButton';
import { Handle } from './Handle';
import { MarksButton, useMarks } from './marks';
import { Picture } from './Picture';
import { usePlane } from './plane';

type Node = [number, number, number, number, number, number];

const nodesOf = (mask: RowOf<'mask'>): Node[] =>
  Array.from({ length: mask.nodes.length / 6 }, (_, i) => mask.nodes.slice(6 * i, 6 * i + 6) as Node);

/** A mask's line, with the curves between its nodes. */
function pathOf(nodes: Node[]): string {
  return `${nodes
    .map(([x, y], i) => {
      if (i === 0) return `M${x} ${y}`;
      const [px, py, , , ox, oy] = nodes[i - 1] as Node;
      const [, , ix, iy] = nodes[i] as Node;
      return `C${px + ox} ${py + oy} ${x + ix} ${y + iy} ${x} ${y}`;
    })
    .join('')}${closing(nodes)}Z`;
}

function closing(nodes: Node[]): string {
  const [first, end] = [nodes[0], nodes[nodes.length - 1]];
  return first === undefined || end === undefined
    ? ''
    : `C${end[0] + end[4]} ${end[1] + end[5]} ${first[0] + first[2]} ${first[1] + first[3]} ${first[0]} ${first[1]}`;
}

/** Corners of the polygon that a region is cut to. */
const cornersOf = (region: RowOf<'region'>): [number, number][] =>
  Array.from({ length: region.polygon.length / 2 }, (_, i) => [
    region.polygon[2 * i] ?? 0,
    region.polygon[2 * i + 1] ?? 0,
  ]);

/** Masks of an output or, while a region is chosen, of its surface, and the polygon that this region is cut to: drawn point by point. */
export function MaskBoard({
  output,
  surface,
  region,
}: {
  output: RowOf<'output'>;
  surface: string | undefined;
  region: RowOf<'region'> | undefined;
}) {
  const show = useShow();
  const row = useRow('surface', surface);
  const selected = useStudio((s) => s.selected);
  const [draft, setDraft] = useState<[number, number][] | null>(null);
  const [cutting, setCutting] = useState(false);
  const picture = useRef<HTMLInputElement>(null);
  const figures = surface === undefined ? undefined : show?.computed.surfaces[surface];
  const [width, height] =
    figures === undefined ? [output.width, output.height] : [figures.rasterWidth, figures.rasterHeight];
  const all = useRows('mask');
  const masks = all.filter((m) => (surface === undefined ? m.output === output.id : m.surface === surface));
  const { area, plane, move, at: view, fitAll, zoomed, looked } = usePlane(width, height);
  const { scale, left, top } = plane;
  const marks = useMarks(
    output,
    plane,
    () => [],
    null,
    surface === undefined || show === undefined ? undefined : { show: show.id, id: surface },
  );
  const on = masks.find((m) => m.id === selected?.id);
  const name = surface === undefined ? output.name : (row?.name ?? 'the surface');

  const cut = (line: [number, number][]) =>
    region !== undefined && edit(`Cut ${name}`, [update('region', region, { polygon: line.flat() })]);
  const finish = async (line: [number, number][]) => {
    setDraft(null);
    if (line.length < 3) return;
    if (cutting) {
      await cut(line);
      return;
    }
    const id = ulid();
    const fields = {
      ...(surface === undefined ? { output: output.id } : { surface }),
      name: `Mask ${masks.length + 1}`,
      nodes: line.flatMap(([x, y]) => [x, y, 0, 0, 0, 0]),
      feather: 0,
      inverted: masks.length > 0 && masks.every((m) => m.inverted),
    };
    await editAndSelect(`Mask ${name}`, [insert('mask', id, fields)], { kind: 'mask', id });
  };
  // While one is drawn, Enter closes it and Escape lets go of it, wherever the focus is.
  const drawing = useRef<[number, number][] | null>(null);
  drawing.current = draft;
  const closes = useRef(finish);
  closes.current = finish;
  useEffect(() => {
    const key = (e: globalThis.KeyboardEvent) => {
      if (drawing.current === null || (e.key !== 'Enter' && e.key !== 'Escape')) return;
      e.preventDefault();
      e.stopPropagation();
      if (e.key === 'Enter') void closes.current(drawing.current);
      else setDraft(null);
    };
    addEventListener('keydown', key, true);
    return () => removeEventListener('keydown', key, true);
  }, []);
  const press = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    let at: [number, number] = [
      Math.round((event.clientX - box.left - left) / scale),
      Math.round((event.clientY - box.top - top) / scale),
    ];
    if (cutting && region !== undefined) {
      const [x = 0, y = 0, w = 0, h = 0] = region.source;
      at = [Math.min(x + w, Math.max(x, at[0])), Math.min(y + h, Math.max(y, at[1]))];
    }
    if (draft !== null) {
      const [first] = draft;
      if (first !== undefined && draft.length > 2 && Math.hypot(first[0] - at[0], first[1] - at[1]) * scale < 10)
        void finish(draft);
      else setDraft([...draft, at]);
      return;
    }
    const from = { x: view.x, y: view.y };
    follow(
      event,
      (dx, dy) => move(dx, dy, from),
      (how) =>
        how === 'pressed' &&
        select(
          surface === undefined ? { kind: 'output', id: output.id } : selected?.kind === 'region' ? selected : null,
        ),
    );
  };
  const keys = (e: KeyboardEvent) => {
    if (looked(e)) e.stopPropagation();
  };
  const corners = region === undefined ? [] : cornersOf(region);
  const draw = (what: boolean) => {
    setCutting(what);
    setDraft(draft === null ? [] : null);
  };
  const change = (mask: RowOf<'mask'>, nodes: Node[]) =>
    edit(`Shape ${mask.name}`, [update('mask', mask, { nodes: nodes.flat() })]);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what is on it has its own roles
    <div
      ref={area}
      className="canvas-area"
      onPointerMove={marks.follows}
      onKeyDown={keys}
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
        {surface === undefined ? (
          <Picture output={output.id} width={width} height={height} />
        ) : (
          <LitRaster surface={surface} />
        )}
      </div>
      <svg
        width="100%"
        height="100%"
        style={{ position: 'absolute', inset: 0, cursor: draft === null ? 'default' : 'crosshair' }}
        onPointerDown={press}
        role="group"
        aria-label={`Masks on ${name}`}
      >
        <g transform={`translate(${left} ${top}) scale(${scale})`}>
          {masks
            .filter((mask) => mask.image !== '')
            .map((mask) => (
              <image
                key={mask.image}
                href={`/api/shows/${show?.id}/masks/${mask.id}.png?${mask.image.slice(0, 12)}`}
                width={width}
                height={height}
                preserveAspectRatio="none"
                opacity={mask.id === on?.id ? 0.75 : 0.4}
                pointerEvents="none"
              />
            ))}
          {masks.map((mask) => (
            <path
              key={mask.id}
              role="button"
              tabIndex={0}
              aria-label={mask.name}
              aria-pressed={mask.id === on?.id}
              d={mask.image === '' ? pathOf(nodesOf(mask)) : `M0 0H${width}V${height}H0Z`}
              pointerEvents={mask.image === '' ? undefined : 'stroke'}
              fill={mask.image !== '' ? 'none' : mask.inverted ? 'var(--kl-fault)' : 'var(--kl-kite)'}
              fillOpacity={mask.id === on?.id ? 0.25 : 0.12}
              stroke={mask.id === on?.id ? 'var(--kl-kite)' : 'var(--kl-dim)'}
              strokeDasharray={mask.inverted ? '6 4' : undefined}
              vectorEffect="non-scaling-stroke"
              style={{ pointerEvents: draft === null ? undefined : 'none', outline: 'none' }}
              onPointerDown={(e) => {
                e.stopPropagation();
                select({ kind: 'mask', id: mask.id });
              }}
              onFocus={() => select({ kind: 'mask', id: mask.id })}
            />
          ))}
          {on !== undefined &&
            draft === null &&
            nodesOf(on).map((node, i, nodes) => {
              const [x, y, ix, iy, ox, oy] = node;
              const replaced = (to: Node) =>
                change(
                  on,
                  nodes.map((n, k) => (k === i ? to : n)),
                );
              return (
                <g key={i}>
                  {(ix !== 0 || iy !== 0) && (
                    <Handle
                      label={`Handle before node ${i + 1}`}
                      x={x + ix}
                      y={y + iy}
                      scale={scale}
                      small
                      moved={(dx, dy) => replaced([x, y, ix + dx, iy + dy, ox, oy])}
                    />
                  )}
                  {(ox !== 0 || oy !== 0) && (
                    <Handle
                      label={`Handle after node ${i + 1}`}
                      x={x + ox}
                      y={y + oy}
                      scale={scale}
                      small
                      moved={(dx, dy) => replaced([x, y, ix, iy, ox + dx, oy + dy])}
                    />
                  )}
                  <Handle
                    label={`Node ${i + 1}`}
                    x={x}
                    y={y}
                    scale={scale}
                    moved={(dx, dy) => replaced([x + dx, y + dy, ix, iy, ox, oy])}
                  />
                </g>
              );
            })}
          {corners.length > 0 && (
            <polygon
              points={corners.map((p) => p.join(',')).join(' ')}
              fill="none"
              stroke="var(--kl-sage)"
              strokeWidth={2}
              strokeDasharray="10 4"
              vectorEffect="non-scaling-stroke"
              style={{ pointerEvents: 'none' }}
            />
          )}
          {on === undefined &&
            draft === null &&
            corners.map(([x, y], i) => (
              <Handle
                key={i}
                label={`Corner ${i + 1} of the cut`}
                x={x}
                y={y}
                scale={scale}
                moved={(dx, dy) => cut(corners.map((c, k) => (k === i ? [x + dx, y + dy] : c)))}
              />
            ))}
          {draft !== null && (
            <polyline
              points={draft.map((p) => p.join(',')).join(' ')}
              fill="none"
              stroke="var(--kl-kite)"
              strokeWidth={2}
              vectorEffect="non-scaling-stroke"
            />
          )}
          {draft?.map(([x, y]) => (
            <circle key={`${x} ${y}`} cx={x} cy={y} r={4 / scale} fill="var(--kl-kite)" />
          ))}
        </g>
      </svg>
      <div style={{ position: 'absolute', left: 12, top: 8, display: 'flex', gap: 8, alignItems: 'center' }}>
        <button type="button" className="plain primary" aria-pressed={draft !== null} onClick={() => draw(false)}>
          {draft === null ? 'Draw a mask' : 'Stop drawing'}
        </button>
        {region !== undefined && draft === null && (
          <button type="button" className="plain" title="Crop region to polygon" onClick={() => draw(true)}>
            Cut the region
          </button>
        )}
        {corners.length > 0 && draft === null && (
          <button type="button" className="plain" onClick={() => void cut([])}>
            Whole region
          </button>
        )}
        {draft === null && (
          <button
            type="button"
            className="plain"
            title="A picture over the whole raster, white where light goes through"
            onClick={() => picture.current?.click()}
          >
            Painted mask…
          </button>
        )}
        <input
          ref={picture}
          type="file"
          accept="image/png,image/jpeg"
          aria-label="Painted mask"
          style={{ display: 'none' }}
          onChange={async (e) => {
            const [one] = e.currentTarget.files ?? [];
            e.currentTarget.value = '';
            if (one === undefined) return;
            const done = await order({
              action: 'paint',
              ...(surface === undefined ? { output: output.id } : { surface }),
              name: one.name.replace(/\.[^.]+$/, '').slice(0, 120) || 'Mask',
              image: await base64(one),
            });
            if (done?.createdId) select({ kind: 'mask', id: done.createdId });
          }}
        />
        <span className="dim" style={{ fontSize: 13 }}>
          on {name}
        </span>
      </div>
      <div style={{ position: 'absolute', right: 12, top: 8, display: 'flex', gap: 6 }}>
        <MarksButton marks={marks} />
        <FitButton scale={scale} zoomed={zoomed} fit={fitAll} />
      </div>
      <span className="tip">
        {draft !== null
          ? 'Press where its corners are; press the first again, or Enter, to close it.'
          : surface === undefined
            ? 'Masks of the output. Choose a region first to mask its surface, so that the mask goes with the warp.'
            : 'Masks of the surface, in its own pixels. Drag nodes, or move them by the arrow keys.'}
      </span>
    </div>
  );
}
