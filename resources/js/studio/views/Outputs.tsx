import { Select } from '@mantine/core';
import { type PointerEvent, useEffect, useRef, useState } from 'react';
import type { RowOf } from '../../api/client';
import { type Ending, follow } from '../drag';
import { useRows } from '../hooks';
import { LitRaster } from '../stage/LitRaster';
import { edit, insert, select, update, useStudio } from '../store';
import { ulid } from '../time';

/** Rasters of outputs to scale, with the regions that land on them. */
export function Outputs() {
  const outputs = useRows('output');
  const selected = useStudio((s) => s.selected);
  const regions = useRows('region');
  const chosen = selected?.kind === 'output' ? selected.id : selected?.kind === 'region' ? regions.find((r) => r.id === selected.id)?.output : undefined;
  const output = outputs.find((o) => o.id === chosen) ?? outputs[0];
  const add = async () => {
    const id = ulid();
    if (await edit('Add an output', [insert('output', id, { name: `Output ${outputs.length + 1}`, width: 1920, height: 1080, refresh: 60 })])) select({ kind: 'output', id });
  };
  return (
    <>
      <div className="bar">
        {outputs.length > 5 ? (
          <Select
            aria-label="Output"
            searchable
            allowDeselect={false}
            w={300}
            value={output?.id ?? null}
            data={outputs.map((o) => ({ value: o.id, label: `${o.name} · ${o.width} × ${o.height}` }))}
            onChange={(id) => id !== null && select({ kind: 'output', id })}
          />
        ) : (
          <div role="tablist" aria-label="Outputs" style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
            {outputs.map((o) => (
              <button key={o.id} type="button" role="tab" aria-selected={o.id === output?.id} className="plain" onClick={() => select({ kind: 'output', id: o.id })}>
                {o.name} <span className="mono dim">{`${o.width} × ${o.height}`}</span>
              </button>
            ))}
          </div>
        )}
        <span className="grow" />
        <button type="button" className={`plain ${outputs.length === 0 ? 'primary' : ''}`} onClick={() => void add()}>
          Add an output
        </button>
      </div>
      {output === undefined ? (
        <div className="empty">
          <strong>No output yet</strong>
          An output is one connector of a media server. Surfaces land on it as regions, at exact pixels.
          <button type="button" className="plain primary" onClick={() => void add()}>
            Add an output
          </button>
        </div>
      ) : (
        <Raster key={output.id} output={output} regions={regions.filter((r) => r.output === output.id)} />
      )}
    </>
  );
}

function Raster({ output, regions }: { output: RowOf<'output'>; regions: RowOf<'region'>[] }) {
  const area = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 800, height: 500 });
  const [drag, setDrag] = useState<{ id: string; x: number; y: number } | null>(null);
  const selected = useStudio((s) => s.selected);
  const surfaces = useRows('surface');
  useEffect(() => {
    const node = area.current;
    if (node === null) return;
    const watch = new ResizeObserver(() => setBox({ width: node.clientWidth, height: node.clientHeight }));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const scale = Math.min((box.width - 56) / output.width, (box.height - 72) / output.height);
  const [left, top] = [(box.width - output.width * scale) / 2, (box.height - output.height * scale) / 2];

  /** Brings an edge to the raster's or another region's edge when it is within a few screen pixels of it. */
  const snapped = (row: RowOf<'region'>, x: number, y: number) => {
    const reach = 7 / scale;
    const [w, h] = [row.source[2] ?? 0, row.source[3] ?? 0];
    const others = regions.filter((r) => r.id !== row.id);
    const edges = (size: number, along: number, own: (r: RowOf<'region'>) => [number, number]) => [0, size - along, size / 2 - along / 2, ...others.flatMap((r) => [own(r)[0], own(r)[1], own(r)[0] - along, own(r)[1] - along])];
    const near = (v: number, to: number[]) => to.reduce((best, edge) => (Math.abs(edge - v) < Math.abs(best - v) ? edge : best), Number.POSITIVE_INFINITY);
    const nx = near(
      x,
      edges(output.width, w, (r) => [r.x, r.x + (r.source[2] ?? 0)]),
    );
    const ny = near(
      y,
      edges(output.height, h, (r) => [r.y, r.y + (r.source[3] ?? 0)]),
    );
    return { x: Math.abs(nx - x) < reach ? nx : x, y: Math.abs(ny - y) < reach ? ny : y };
  };

  const begin = (row: RowOf<'region'>, event: PointerEvent) => {
    select({ kind: 'region', id: row.id });
    let at = { x: row.x, y: row.y };
    const move = (px: number, py: number, e: globalThis.PointerEvent) => {
      const [dx, dy] = [px / scale, py / scale];
      const along = Math.abs(dx) > Math.abs(dy);
      const free = { x: row.x + (e.shiftKey && !along ? 0 : dx), y: row.y + (e.shiftKey && along ? 0 : dy) };
      const to = e.altKey ? free : snapped(row, free.x, free.y);
      at = { x: Math.round(to.x), y: Math.round(to.y) };
      setDrag({ id: row.id, ...at });
    };
    const up = (how: Ending) => {
      if (how === 'dropped' && (at.x !== row.x || at.y !== row.y)) void edit(`Move ${surfaces.find((s) => s.id === row.surface)?.name ?? 'a region'}`, [update('region', row, at)]).then(() => setDrag(null));
      else setDrag(null);
    };
    follow(event, move, up);
  };

  const nudge = (row: RowOf<'region'>, key: string, far: boolean) => {
    const by = far ? 10 : 1;
    const step = { ArrowLeft: { x: row.x - by }, ArrowRight: { x: row.x + by }, ArrowUp: { y: row.y - by }, ArrowDown: { y: row.y + by } }[key];
    if (step !== undefined) void edit(`Nudge ${surfaces.find((s) => s.id === row.surface)?.name ?? 'a region'}`, [update('region', row, step)]);
    return step !== undefined;
  };

  return (
    <div ref={area} className="canvas-area" onPointerDown={(e) => e.target === e.currentTarget && select({ kind: 'output', id: output.id })}>
      <div style={{ position: 'absolute', left, top, width: output.width * scale, height: output.height * scale, background: 'black', border: '1px solid var(--kl-line)', boxSizing: 'content-box', pointerEvents: 'none' }} />
      <span className="mono dim" style={{ position: 'absolute', left, top: top - 22, fontSize: 12 }}>
        0, 0
      </span>
      <span className="mono dim" style={{ position: 'absolute', left: left + output.width * scale - 120, width: 120, textAlign: 'right', top: top + output.height * scale + 6, fontSize: 12 }}>
        {output.width}, {output.height}
      </span>
      {regions.map((row) => {
        const at = drag?.id === row.id ? drag : row;
        const [w, h] = [row.source[2] ?? 0, row.source[3] ?? 0];
        const name = surfaces.find((s) => s.id === row.surface)?.name ?? 'a removed surface';
        const on = selected?.id === row.id;
        return (
          <button
            key={row.id}
            type="button"
            aria-label={`${name} at ${at.x}, ${at.y}`}
            aria-pressed={on}
            onPointerDown={(e) => begin(row, e)}
            onFocus={() => select({ kind: 'region', id: row.id })}
            onKeyDown={(e) => nudge(row, e.key, e.shiftKey) && e.preventDefault()}
            style={{
              all: 'unset',
              position: 'absolute',
              left: left + at.x * scale,
              top: top + at.y * scale,
              width: w * scale,
              height: h * scale,
              outline: on ? '2px solid var(--kl-kite)' : '1px solid var(--kl-dim)',
              cursor: 'move',
              touchAction: 'none',
              overflow: 'hidden',
            }}
          >
            <LitRaster surface={row.surface} />
            <span
              style={{ position: 'absolute', left: 4, top: 3, fontSize: 12, background: 'var(--kl-ink9)', padding: '1px 6px', borderRadius: 4, whiteSpace: 'nowrap', border: on ? '1px solid var(--kl-kite)' : '1px solid var(--kl-line)' }}
            >
              {name} <span className="mono dim">{`${at.x}, ${at.y} · ${w} × ${h}`}</span>
            </span>
          </button>
        );
      })}
      {regions.length === 0 && (
        <div className="empty" style={{ position: 'absolute', inset: 0, height: 'fit-content', pointerEvents: 'none' }}>
          <strong>Nothing lands on {output.name} yet</strong>
          Add a surface's region in the details on the right.
        </div>
      )}
      <span className="tip">Drag a region; Alt: no snapping, Shift: one axis. Arrow keys nudge by a pixel, with Shift by ten.</span>
    </div>
  );
}
