import { Modal, NativeSelect } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type PointerEvent, useEffect, useState } from 'react';
import { answer, http, type RowOf, type Schemas } from '../../../api/client';
import { protocols } from '../../../api/kinds';
import { follow } from '../../drag';
import { NumberField, submitted } from '../../fields/fields';
import { useRepaint, useRow, useRows, useShow } from '../../hooks';
import { LitRaster } from '../../stage/LitRaster';
import { live } from '../../state';
import { edit, editAndSelect, insert, outputs as order, select, update, useStudio } from '../../store';
import { useTests } from '../../tests';
import { ulid } from '../../time';
import { FitButton } from './FitButton';
import { usePlane } from './plane';
import { counted, uncounted } from './universe';

type Wired = {
  columns: number;
  rows: number;
  width: number;
  height: number;
  places: number[][];
  order: number[];
  addresses: number[][];
  numbers: number[][];
  protocol: string;
  channels: { name: string; kind: string; colour: number[] }[];
};

/** Universes that are drawn of one node; the rest is told. */
const MOST = 64;
const SLOTS = 512;
const FLICKS = 705_600_000;

/** Pixel lights: which slots of which universes each has, and the way along which it is wired. */
export function LightBoard() {
  const show = useShow();
  const selected = useStudio((s) => s.selected);
  const nodes = useRows('node');
  const patches = useRows('patch');
  const surfaces = useRows('surface');
  const [patching, setPatching] = useState(false);
  const lights = surfaces.filter((s) => s.kind === 'light');
  const chosen =
    patches.find((p) => p.id === selected?.id) ??
    (selected?.kind === 'surface' ? patches.find((p) => p.surface === selected.id) : undefined);
  const unpatched = lights.filter((s) => !patches.some((p) => p.surface === s.id));
  const addNode = async () => {
    const id = ulid();
    await editAndSelect(
      'Add a node',
      [insert('node', id, { name: `Node ${nodes.length + 1}`, protocol: 'artnet', address: '' })],
      { kind: 'node', id },
    );
  };
  if (lights.length === 0)
    return (
      <div className="empty">
        <strong>No pixel light yet</strong>
        Add one in the venue: it is a surface like any other, whose pixels leave on the lighting network.
      </div>
    );
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'minmax(260px, 1fr) 2fr', flex: 1, minHeight: 0 }}>
      <div style={{ overflow: 'auto', borderRight: '1px solid var(--kl-line)', padding: 12 }}>
        <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6, marginBottom: 10 }}>
          <button
            type="button"
            className={`plain ${nodes.length === 0 ? 'primary' : ''}`}
            onClick={() => void addNode()}
          >
            Add a node
          </button>
          <button
            type="button"
            className={`plain ${unpatched.length > 0 && nodes.length > 0 ? 'primary' : ''}`}
            disabled={nodes.length === 0}
            onClick={() => setPatching(true)}
          >
            Patch lights…
          </button>
          <span className="grow" />
          <a
            className="plain"
            href={`/api/shows/${show?.id}/lights.csv`}
            download
            title="Universes and channels of all lights"
          >
            CSV
          </a>
          <a className="plain" href={`/api/shows/${show?.id}/lights.pdf`} download>
            PDF
          </a>
        </div>
        {nodes.map((node) => (
          <NodeUniverses
            key={node.id}
            node={node}
            patches={patches.filter((p) => p.node === node.id)}
            chosen={chosen?.id}
          />
        ))}
        {unpatched.length > 0 && (
          <section>
            <h3 style={{ fontSize: 14 }}>Not patched</h3>
            {unpatched.slice(0, 100).map((s) => (
              <button
                key={s.id}
                type="button"
                className="plain"
                style={{ display: 'block', marginBottom: 4 }}
                onClick={() => select({ kind: 'surface', id: s.id })}
              >
                {s.name}
              </button>
            ))}
          </section>
        )}
      </div>
      {chosen === undefined ? (
        <div className="empty">
          <strong>Choose a light</strong>
          Its wiring is drawn here, pixel by pixel.
        </div>
      ) : (
        <WiringBoard
          key={chosen.id}
          patch={chosen}
          name={surfaces.find((s) => s.id === chosen.surface)?.name ?? 'a light'}
        />
      )}
      {patching && (
        <PatchDialog
          close={() => setPatching(false)}
          nodes={nodes}
          lights={lights}
          unpatched={unpatched}
          figures={show?.computed.patches ?? {}}
        />
      )}
    </div>
  );
}

/** The universes of one node as bars of 512 slots, with the lights that have them. */
function NodeUniverses({
  node,
  patches,
  chosen,
}: {
  node: RowOf<'node'>;
  patches: RowOf<'patch'>[];
  chosen: string | undefined;
}) {
  const show = useShow();
  const selected = useStudio((s) => s.selected);
  const surfaces = useRows('surface');
  const found = useStudio((s) => s.health?.lights?.nodes.some((n) => n.ip === node.address) ?? false);
  const figures = (id: string) => show?.computed.patches[id];
  const universes = [
    ...new Set(patches.flatMap((p) => Array.from({ length: figures(p.id)?.universes ?? 0 }, (_, i) => p.universe + i))),
  ].sort((a, b) => a - b);
  const faulty = (id: string) => (show?.computed.findings[`patch ${id}`] ?? []).some((f) => f.severity === 'fault');
  return (
    <section aria-label={node.name} style={{ marginBottom: 14 }}>
      <button
        type="button"
        className="plain"
        aria-pressed={selected?.id === node.id}
        onClick={() => select({ kind: 'node', id: node.id })}
      >
        {node.protocol === 'artnet' && <span className={found ? 'state-ok' : 'dim'}>{found ? '● ' : '○ '}</span>}
        {node.name}{' '}
        <span className="dim">{`${protocols[node.protocol] ?? node.protocol} · ${node.address === '' ? (node.protocol === 'sacn' ? 'multicast' : 'broadcast') : node.address}`}</span>
      </button>
      {universes.slice(0, MOST).map((u) => (
        <div key={u} style={{ display: 'flex', gap: 8, alignItems: 'center', marginTop: 4 }}>
          <span className="mono dim" style={{ width: 48, fontSize: 12, textAlign: 'right' }}>
            {counted(node.protocol, u)}
          </span>
          <svg
            viewBox={`0 0 ${SLOTS} 18`}
            preserveAspectRatio="none"
            width="100%"
            height={18}
            role="group"
            aria-label={`Universe ${counted(node.protocol, u)}`}
            style={{ background: 'var(--kl-ink9)', border: '1px solid var(--kl-line)' }}
          >
            {patches
              .filter((p) => u >= p.universe && u <= (figures(p.id)?.lastUniverse ?? 0))
              .map((p) => {
                const f = figures(p.id);
                const from = u === p.universe ? p.channel - 1 : 0;
                const left = f?.left.find(([of]) => of === u)?.[1] ?? 0;
                const to = u === f?.lastUniverse ? f.lastChannel : SLOTS - left;
                return (
                  <rect
                    key={p.id}
                    role="button"
                    tabIndex={0}
                    aria-label={`${surfaces.find((s) => s.id === p.surface)?.name ?? 'a light'} in universe ${counted(node.protocol, u)}, ${from + 1} to ${to}`}
                    aria-pressed={p.id === chosen}
                    x={from}
                    y={1}
                    width={Math.max(2, to - from)}
                    height={16}
                    fill={faulty(p.id) ? 'var(--kl-fault)' : 'var(--kl-kite)'}
                    fillOpacity={p.id === chosen ? 0.9 : 0.45}
                    stroke="var(--kl-ink9)"
                    vectorEffect="non-scaling-stroke"
                    style={{ cursor: 'pointer', outline: 'none' }}
                    onClick={() => select({ kind: 'patch', id: p.id })}
                    onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && select({ kind: 'patch', id: p.id })}
                  >
                    <title>{surfaces.find((s) => s.id === p.surface)?.name}</title>
                  </rect>
                );
              })}
          </svg>
        </div>
      ))}
      {universes.length > MOST && <p className="dim">and {universes.length - MOST} more</p>}
    </section>
  );
}

/** A light's pixels with the way that the control line takes through them; drawn anew by dragging over them. */
function WiringBoard({ patch, name }: { patch: RowOf<'patch'>; name: string }) {
  const protocol = useRow('node', patch.node ?? undefined)?.protocol;
  const show = useShow();
  const test = useTests((all) => all[patch.id]);
  const [drawn, setDrawn] = useState<number[] | null>(null);
  const [lit, setLit] = useState(false);
  const { data } = useQuery({
    queryKey: ['patch', show?.id, patch.id, show?.revision],
    queryFn: () =>
      answer(
        http.GET('/shows/{show}/patches/{patch}', { params: { path: { show: show?.id ?? '', patch: patch.id } } }),
      ) as Promise<Wired>,
    placeholderData: (old) => old,
  });
  const [width, height] = [data?.width ?? 1000, data?.height ?? 500];
  const { area, plane, looked, move, at: view, fitAll, zoomed } = usePlane(width, height);
  const finish = async () => {
    const path = drawn ?? [];
    setDrawn(null);
    if (path.length > 1) await edit(`Wire ${name}`, [update('patch', patch, { path })]);
  };
  useEffect(() => {
    if (drawn === null) return;
    const key = (e: globalThis.KeyboardEvent) => {
      if (e.key === 'Escape') setDrawn(null);
    };
    addEventListener('keydown', key, true);
    return () => removeEventListener('keydown', key, true);
  }, [drawn]);
  if (data === undefined) return <div ref={area} className="canvas-area" />;
  const { scale, left, top } = plane;
  const size = Math.min((width / data.columns) * scale, (height / data.rows) * scale);
  const at = (pixel: number): [number, number] => [
    ((data.places[pixel]?.[0] ?? 0) * width * scale) as number,
    ((data.places[pixel]?.[1] ?? 0) * height * scale) as number,
  ];
  const path = drawn ?? data.order;
  const number = new Map(data.order.map((pixel, n) => [pixel, n]));
  const near = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - box.left - left, event.clientY - box.top - top];
    let [best, least] = [-1, (size * 0.6) ** 2];
    for (let i = 0; i < data.places.length; i++) {
      const [px, py] = at(i);
      const d = (px - x) ** 2 + (py - y) ** 2;
      if (d < least) [best, least] = [i, d];
    }
    return best;
  };
  const take = (event: PointerEvent<SVGSVGElement>) => {
    if (drawn === null || (event.type === 'pointermove' && event.buttons !== 1)) return;
    const pixel = near(event);
    if (pixel >= 0 && !drawn.includes(pixel)) setDrawn([...drawn, pixel]);
  };
  const tested = test?.kind === 'pixel' ? test.number : undefined;
  const points = path.map((p) => at(p).join(',')).join(' ');
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what is on it has its own roles
    <div ref={area} className="canvas-area" onKeyDown={looked} style={{ overflow: 'hidden' }}>
      {lit && (
        <div
          style={{
            position: 'absolute',
            left,
            top,
            width: width * scale,
            height: height * scale,
            imageRendering: 'pixelated',
          }}
        >
          <LitRaster surface={patch.surface} />
        </div>
      )}
      <svg
        width="100%"
        height="100%"
        style={{
          position: 'absolute',
          inset: 0,
          touchAction: 'none',
          cursor: drawn === null ? 'default' : 'crosshair',
        }}
        role="group"
        aria-label={`Wiring of ${name}`}
        data-path={path.join(' ')}
        onPointerDown={(e) => {
          take(e);
          const from = { x: view.x, y: view.y };
          if (drawn === null)
            follow(
              e,
              (dx, dy) => move(dx, dy, from),
              () => undefined,
            );
        }}
        onPointerMove={take}
      >
        <g transform={`translate(${left} ${top})`}>
          <rect x={0} y={0} width={width * scale} height={height * scale} fill="none" stroke="var(--kl-line)" />
          {data.places.map((_, pixel) => {
            const [x, y] = at(pixel);
            const n = number.get(pixel);
            const address = n === undefined ? undefined : data.addresses[n];
            const odd = address !== undefined && ((address[0] ?? 0) - patch.universe) % 2 === 1;
            const s = Math.max(3, size * 0.72);
            return (
              <g key={pixel}>
                <rect
                  x={x - s / 2}
                  y={y - s / 2}
                  width={s}
                  height={s}
                  rx={2}
                  fill={
                    n === undefined
                      ? 'none'
                      : tested === n
                        ? 'var(--kl-text)'
                        : odd
                          ? 'var(--kl-ramp2)'
                          : 'var(--kl-ramp1)'
                  }
                  fillOpacity={tested === n ? 1 : lit ? 0 : 0.55}
                  stroke={n === undefined ? 'var(--kl-dim)' : 'var(--kl-ink9)'}
                  strokeDasharray={n === undefined ? '2 2' : undefined}
                >
                  <title>
                    {n === undefined
                      ? `Pixel ${pixel + 1}, not wired`
                      : `${n + 1}: universe ${counted(protocol, address?.[0] ?? 1)}, channel ${address?.[1]}`}
                  </title>
                </rect>
                {n !== undefined && size > 26 && (
                  <text
                    x={x}
                    y={y + s * 0.38}
                    fontSize={Math.min(11, size / 3)}
                    textAnchor="middle"
                    fill="var(--kl-text)"
                    className="mono"
                    pointerEvents="none"
                  >
                    {n + 1}
                  </text>
                )}
              </g>
            );
          })}
          <polyline
            points={points}
            fill="none"
            stroke="var(--kl-lamp)"
            strokeWidth={size > 20 ? 1.5 : 1}
            opacity={0.8}
            pointerEvents="none"
          />
          {arrows(path, at, size)}
          {path[0] !== undefined && (
            <circle
              cx={at(path[0])[0]}
              cy={at(path[0])[1]}
              r={Math.max(4, size * 0.2)}
              fill="var(--kl-lamp)"
              pointerEvents="none"
            />
          )}
          {test?.kind === 'chase' && data.order.length > 0 && (
            <Chased order={data.order} at={at} size={size} speed={test.number ?? 10} />
          )}
        </g>
      </svg>
      <div style={{ position: 'absolute', left: 12, top: 8, display: 'flex', gap: 8, alignItems: 'center' }}>
        {drawn === null ? (
          <button type="button" className="plain" onClick={() => setDrawn([])}>
            Draw the path
          </button>
        ) : (
          <>
            <button type="button" className="plain primary" onClick={() => void finish()}>
              Take {drawn.length} pixels
            </button>
            <button type="button" className="plain" onClick={() => setDrawn(null)}>
              Cancel
            </button>
          </>
        )}
        <button
          type="button"
          className="plain"
          aria-pressed={lit}
          onClick={() => setLit(!lit)}
          title="What plays on it now, pixel by pixel"
        >
          Colours
        </button>
        <span className="dim" style={{ fontSize: 13 }}>
          {name} · {data.order.length} of {data.places.length} pixels
        </span>
      </div>
      <div style={{ position: 'absolute', right: 12, top: 8 }}>
        <FitButton scale={scale} zoomed={zoomed} fit={fitAll} />
      </div>
      <span className="tip">
        {lit && drawn === null
          ? 'What plays on each pixel now, before its emitters.'
          : drawn === null
            ? 'The first pixel is marked; universes alternate in colour. Wheel: zoom, for the numbers along the wiring.'
            : 'Drag over the pixels in the order of the control line.'}
      </span>
    </div>
  );
}

/** Small arrows along a way, no nearer to one another than can be told apart, and its end. */
function arrows(path: number[], at: (pixel: number) => [number, number], size: number) {
  const every = Math.max(1, Math.round(44 / Math.max(1, size)));
  const long = Math.min(7, Math.max(4, size * 0.28));
  return path.slice(0, 4000).flatMap((pixel, n) => {
    const next = path[n + 1];
    if (next === undefined || (n % every !== Math.floor(every / 2) && n !== path.length - 2)) return [];
    const [[x0, y0], [x1, y1]] = [at(pixel), at(next)];
    const way = Math.hypot(x1 - x0, y1 - y0);
    if (way === 0) return [];
    const [dx, dy] = [((x1 - x0) / way) * long, ((y1 - y0) / way) * long];
    const [x, y] = [(x0 + x1) / 2, (y0 + y1) / 2];
    return [
      <path
        key={n}
        d={`M${x + dx} ${y + dy}L${x - dx - dy * 0.7} ${y - dy + dx * 0.7}L${x - dx + dy * 0.7} ${y - dy - dx * 0.7}Z`}
        fill="var(--kl-lamp)"
        pointerEvents="none"
      />,
    ];
  });
}

/** The pixel that a chase is at. */
function Chased({
  order: path,
  at,
  size,
  speed,
}: {
  order: number[];
  at: (pixel: number) => [number, number];
  size: number;
  speed: number;
}) {
  useRepaint(20);
  const seconds = (live.now() ?? 0) / FLICKS;
  const pixel = path[Math.floor(seconds * Math.max(1, speed)) % path.length] ?? 0;
  const [x, y] = at(pixel);
  return (
    <circle data-chase={pixel} cx={x} cy={y} r={Math.max(5, size * 0.4)} fill="var(--kl-text)" pointerEvents="none" />
  );
}

function PatchDialog({
  close,
  nodes,
  lights,
  unpatched,
  figures,
}: {
  close: () => void;
  nodes: RowOf<'node'>[];
  lights: RowOf<'surface'>[];
  unpatched: RowOf<'surface'>[];
  figures: Record<string, Schemas['Computed']['patches'][string]>;
}) {
  const patches = useRows('patch');
  const [node, setNode] = useState(nodes[0]?.id ?? '');
  const [which, setWhich] = useState(unpatched.length > 0 ? 'unpatched' : 'all');
  const [rule, setRule] = useState<'pack' | 'new universe' | 'every'>('new universe');
  const [every, setEvery] = useState(3);
  const ends = patches.filter((p) => p.node === node).map((p) => figures[p.id]?.lastUniverse ?? p.universe);
  const [universe, setUniverse] = useState(which === 'unpatched' ? Math.max(0, ...ends) + 1 : 1);
  const [channel, setChannel] = useState(1);
  const protocol = nodes.find((n) => n.id === node)?.protocol;
  const list = (which === 'all' ? lights : unpatched).map((s) => s.id);
  return (
    <Modal opened onClose={close} title="Patch lights" centered>
      <form
        style={{ display: 'grid', gap: 10 }}
        onSubmit={submitted(() => {
          void order({ action: 'patch', node, surfaces: list, universe, channel, rule, every }).then(
            (done) => done !== null && close(),
          );
        })}
      >
        <NativeSelect
          label="Node"
          size="xs"
          value={node}
          onChange={(e) => setNode(e.currentTarget.value)}
          data={nodes.map((n) => ({ value: n.id, label: n.name }))}
        />
        <NativeSelect
          label="Lights"
          size="xs"
          value={which}
          onChange={(e) => setWhich(e.currentTarget.value)}
          data={[
            { value: 'unpatched', label: `${unpatched.length} without a patch` },
            { value: 'all', label: `All ${lights.length}` },
          ]}
        />
        <div className="row2">
          <NumberField
            label="First universe"
            digits={0}
            value={counted(protocol, universe)}
            onChange={(v) => setUniverse(Math.max(1, uncounted(protocol, Math.round(v))))}
          />
          <NumberField
            label="First channel"
            digits={0}
            value={channel}
            onChange={(v) => setChannel(Math.max(1, Math.round(v)))}
          />
        </div>
        <NativeSelect
          label="Start address"
          size="xs"
          value={rule}
          onChange={(e) => setRule(e.currentTarget.value as typeof rule)}
          data={[
            { value: 'new universe', label: 'begins a universe' },
            { value: 'pack', label: 'follows at once' },
            { value: 'every', label: 'begins so many universes after the last' },
          ]}
        />
        {rule === 'every' && (
          <NumberField
            label="Universe spacing"
            digits={0}
            value={every}
            onChange={(v) => setEvery(Math.max(1, Math.round(v)))}
          />
        )}
        <button
          type="submit"
          className="plain primary"
          style={{ textAlign: 'center', padding: 8 }}
          disabled={list.length === 0 || node === ''}
        >
          Patch {list.length}
        </button>
      </form>
    </Modal>
  );
}
