import { MultiSelect, Select, Switch } from '@mantine/core';
import { api, type Kind, type RowOf, type Schemas } from '../../api/client';
import { Figures, NameField, NumberField, TimeField } from '../fields/fields';
import { useRepaint, useRow, useRows, useShow } from '../hooks';
import { command, edit, go, insert, keep, live, playback, remove, select, update, useStudio } from '../store';
import { FLICKS, ulid } from '../time';
import { useSheet } from '../views/WallSheet';
import { Sign } from './Kite';

export function Details() {
  const open = useStudio((s) => s.detailsOpen);
  const selected = useStudio((s) => s.selected);
  if (!open) return null;
  const panels: Partial<Record<Kind, (props: { id: string }) => React.ReactNode>> = {
    surface: SurfaceDetails,
    media: MediaDetails,
    layer: LayerDetails,
    clip: ClipDetails,
    marker: MarkerDetails,
    cue: CueDetails,
    output: OutputDetails,
    region: RegionDetails,
    timeline: TimelineDetails,
    panel: PanelDetails,
  };
  const Panel = selected === null ? undefined : panels[selected.kind];
  return (
    <aside className="details" aria-label="Details">
      {Panel === undefined || selected === null ? <ShowDetails /> : <Panel key={selected.id} id={selected.id} />}
    </aside>
  );
}

export const px = (n: number) => `${n.toLocaleString('en')} px`;

function Findings({ kind, id }: { kind?: string; id?: string }) {
  const all = useShow()?.computed.findings ?? [];
  const mine = all.filter((f) => kind === undefined || (f.kind === kind && f.id === id));
  if (mine.length === 0) return null;
  return (
    <>
      <h3>{kind === undefined ? 'Findings' : 'To look at'}</h3>
      {mine.slice(0, 100).map((f) => (
        <p key={f.sentence + f.id} style={{ margin: '4px 0', fontSize: 13 }}>
          <Sign state={f.severity as 'attention'} /> {f.sentence}
        </p>
      ))}
    </>
  );
}

function ShowDetails() {
  const show = useShow();
  if (show === undefined) return null;
  const change = (fields: { name?: string; frameRate?: RateName }) =>
    edit('Change the show', [{ kind: 'show', id: show.id, op: 'update', fields: Object.fromEntries(Object.entries(fields).map(([f, after]) => [f, { before: show[f as 'name'], after }])) }]);
  return (
    <>
      <h2>{show.name}</h2>
      <NameField label="Name" value={show.name} onChange={(name) => change({ name })} />
      <Select
        label="Frame rate"
        value={show.frameRate}
        data={['23.976', '24', '25', '29.97', '30', '48', '50', '59.94', '60', '100', '119.88', '120']}
        allowDeselect={false}
        onChange={(v) => v !== null && void change({ frameRate: v as RateName })}
        mt={8}
      />
      <h3>In the show</h3>
      <Figures of={(['surface', 'media', 'layer', 'clip', 'cue', 'output'] as const).map((k) => [`${k[0]?.toUpperCase()}${k.slice(1)}${k === 'media' ? '' : 's'}`, show.rows[k].length])} />
      <Findings />
      <p className="dim" style={{ fontSize: 12, marginTop: 18 }}>
        <span className="mono">Ctrl+K</span> finds every action, <span className="mono">?</span> shows the keys. Revision <span className="mono">{show.revision}</span>.{' '}
        <a href="/licences.txt" target="_blank" rel="noreferrer" style={{ color: 'inherit' }}>
          Third-party notices
        </a>
      </p>
    </>
  );
}

type RateName = Schemas['ShowHead']['frameRate'];

function Remove({ kind, id, name }: { kind: Kind; id: string; name: string }) {
  return (
    <p style={{ marginTop: 20 }}>
      <button type="button" className="plain" onClick={async () => (await edit(`Remove ${name}`, [remove(kind, id)])) && select(null)}>
        Remove
      </button>
    </p>
  );
}

const shapes = {
  flat: [
    ['width', 'Width', 'm', 4],
    ['height', 'Height', 'm', 3],
  ],
  box: [
    ['width', 'Width', 'm', 4],
    ['depth', 'Depth', 'm', 2],
    ['height', 'Height', 'm', 3],
  ],
  drum: [
    ['radius', 'Radius', 'm', 2],
    ['arc', 'Arc', 'deg', 180],
    ['height', 'Height', 'm', 3],
  ],
} as const;

/** The shape of a face that is projected on. */
function FaceShape({ row, figures }: { row: RowOf<'surface'>; figures: Schemas['SurfaceFigures'] | undefined }) {
  const shape = (Array.isArray(row.shape) ? {} : row.shape) as Record<string, string | number>;
  const change = (name: string, value: string | number) => edit(`Shape ${row.name}`, [update('surface', row, { shape: { ...shape, [name]: value } as typeof row.shape })]);
  return (
    <>
      <div className="row3" style={{ marginTop: 8 }}>
        {(shapes[row.kind as keyof typeof shapes] ?? []).map(([name, label, unit, usual]) => (
          <NumberField key={name} label={label} unit={unit} step={0.1} value={Number(shape[name] ?? usual)} onChange={(v) => change(name, v)} />
        ))}
        <NumberField label="Density" unit="px" value={Number(shape.pixelsPerMetre ?? 100)} onChange={(v) => change('pixelsPerMetre', v)} />
      </div>
      {row.kind === 'box' && <NameField label="Sides: left, front, right, back" value={String(shape.sides ?? 'left,front,right')} onChange={(v) => change('sides', v)} />}
      {figures !== undefined && (
        <>
          <h3>Comes to</h3>
          <Figures
            of={[
              ['Raster', `${figures.rasterWidth} × ${figures.rasterHeight} px`],
              ['Area', `${figures.areaSquareMetres.toFixed(2)} m²`],
            ]}
          />
        </>
      )}
    </>
  );
}

function SurfaceDetails({ id }: { id: string }) {
  const row = useRow('surface', id);
  const panels = useRows('panel');
  const figures = useShow()?.computed.surfaces[id];
  const outputs = useRows('output');
  const regions = useRows('region').filter((r) => r.surface === id);
  if (row === undefined) return <Gone />;
  const panel = row.cells.flat().find((c) => c !== null) ?? null;
  const [columns, rows] = [row.cells[0]?.length ?? 0, row.cells.length];
  const place = (field: 'position' | 'rotation', i: number, v: number) => edit(`Place ${row.name}`, [update('surface', row, { [field]: row[field].map((old, k) => (k === i ? v : old)) })]);
  const resize = (c: number, r: number) => {
    c = Math.round(c);
    r = Math.round(r);
    const cells = Array.from({ length: Math.max(0, r) }, (_, y) => Array.from({ length: Math.max(0, c) }, (_, x) => (y < rows && x < columns ? (row.cells[y]?.[x] ?? null) : panel)));
    return edit(`Resize ${row.name}`, [update('surface', row, { cells, seams: Array.from({ length: Math.max(0, c - 1) }, (_, i) => row.seams[i] ?? 0) })]);
  };
  const onOutput = async () => {
    const output = outputs[0];
    if (output === undefined || figures === undefined) return;
    const region = ulid();
    if (await edit(`Put ${row.name} on ${output.name}`, [insert('region', region, { output: output.id, surface: id, source: [0, 0, figures.rasterWidth, figures.rasterHeight], x: 0, y: 0 })])) go('outputs', { kind: 'region', id: region });
  };
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('surface', row, { name })])} />
      {row.kind !== 'wall' ? (
        <FaceShape row={row} figures={figures} />
      ) : (
        <>
          <Select
            label="Panel"
            mt={8}
            allowDeselect={false}
            value={panel}
            data={panels.map((p) => ({ value: p.id, label: p.name }))}
            onChange={(v) => v !== null && void edit(`Change the panels of ${row.name}`, [update('surface', row, { cells: row.cells.map((r) => r.map((c) => (c === null ? null : v))) })])}
          />
          <div className="row2" style={{ marginTop: 8 }}>
            <NumberField label="Columns" value={columns} digits={0} onChange={(v) => resize(v, rows)} />
            <NumberField label="Rows" value={rows} digits={0} onChange={(v) => resize(columns, v)} />
          </div>
          {figures !== undefined && (
            <>
              <h3>Comes to</h3>
              <WallFigures figures={figures as Schemas['WallFigures']} />
            </>
          )}
          <WallPlan row={row} panelWidth={panels.find((p) => p.id === panel)?.widthMm ?? 500} />
        </>
      )}
      <h3>Place</h3>
      <div className="row3">
        {['X', 'Y', 'Z'].map((axis, i) => (
          <NumberField key={axis} label={axis} unit="m" step={0.1} value={row.position[i] ?? 0} onChange={(v) => place('position', i, v)} />
        ))}
      </div>
      <div className="row3" style={{ marginTop: 8 }}>
        {['Yaw', 'Pitch', 'Roll'].map((axis, i) => (
          <NumberField key={axis} label={axis} unit="deg" step={1} digits={2} value={row.rotation[i] ?? 0} onChange={(v) => place('rotation', i, v)} />
        ))}
      </div>
      <h3>Output</h3>
      {regions.length === 0 ? (
        <button type="button" className="plain" disabled={outputs.length === 0} onClick={() => void onOutput()}>
          {outputs.length === 0 ? 'Add an output first (Outputs)' : `Put on ${outputs[0]?.name}`}
        </button>
      ) : (
        regions.map((r) => (
          <button key={r.id} type="button" className="plain" onClick={() => go('outputs', { kind: 'region', id: r.id })}>
            {outputs.find((o) => o.id === r.output)?.name} at <span className="mono">{`${r.x}, ${r.y}`}</span>
          </button>
        ))
      )}
      <Findings kind="surface" id={id} />
      <Remove kind="surface" id={id} name={row.name} />
    </>
  );
}

export function WallFigures({ figures: f }: { figures: Schemas['WallFigures'] }) {
  const pitch = Math.abs(f.pitchX - f.pitchY) < 0.005 ? `${f.pitchX.toFixed(2)} mm` : `${f.pitchX.toFixed(2)} × ${f.pitchY.toFixed(2)} mm`;
  return (
    <Figures
      of={[
        ['Raster', `${f.rasterWidth} × ${f.rasterHeight} px`],
        ['Size', `${f.widthMetres.toFixed(3)} × ${f.heightMetres.toFixed(3)} m`],
        ['Pitch', pitch],
        ['Panels', f.panels],
        ['Lit pixels', f.litPixels.toLocaleString('en')],
        ['Area', `${f.areaSquareMetres.toFixed(2)} m²`],
        ['Weight', `${f.kilograms.toFixed(1)} kg`],
        ['Power, average', `${(f.wattsAverage / 1000).toFixed(2)} kW`],
        ['Power, maximum', `${(f.wattsMaximum / 1000).toFixed(2)} kW`],
      ]}
    />
  );
}

const m = (v: unknown) => (typeof v === 'number' ? `${v.toFixed(2)} m` : '—');

/** Curve, power, data and distances of a wall, and the files that go out of the house. */
function WallPlan({ row, panelWidth }: { row: RowOf<'surface'>; panelWidth: number }) {
  const sheet = useSheet(row.id);
  const showId = useStudio((s) => s.showId);
  const f = (sheet?.figures ?? {}) as Record<string, number | null> & { phases?: number[] };
  const columns = row.cells[0]?.length ?? 0;
  const feeding = (Array.isArray(row.feeding) ? {} : row.feeding) as Record<string, string | number | boolean>;
  const bend = async (by: Record<string, number>) => {
    const { seams } = await api<{ seams: number[] }>('walls/seams', { body: { columns, widthMm: panelWidth, ...by } });
    return edit(`Curve ${row.name}`, [update('surface', row, { seams })]);
  };
  const feed = (name: string, value: string | number | boolean) => edit(`Feed ${row.name}`, [update('surface', row, { feeding: { ...feeding, [name]: value } as typeof row.feeding })]);
  const even = row.seams.every((s) => Math.abs(s - (row.seams[0] ?? 0)) < 1e-6);
  const paths = [
    { value: 'columns-snake', label: 'columns, to and fro' },
    { value: 'columns', label: 'columns' },
    { value: 'rows-snake', label: 'rows, to and fro' },
    { value: 'rows', label: 'rows' },
  ];
  return (
    <>
      {columns > 1 && (
        <>
          <h3>Curve, in the seams</h3>
          <div className="row3">
            <NumberField label={even ? 'Each' : 'Each (mixed)'} unit="deg" digits={3} value={row.seams[0] ?? 0} onChange={(angle) => bend({ angle })} />
            <NumberField label="In all" unit="deg" digits={2} value={f.turn ?? 0} onChange={(turn) => bend({ turn })} />
            <NumberField label="Radius" unit="m" digits={3} value={(f.radiusAtSeams ?? 0) * ((f.turn ?? 0) < 0 ? -1 : 1)} onChange={(radius) => (radius === 0 ? bend({ angle: 0 }) : bend({ radius }))} />
          </div>
          <div style={{ height: 8 }} />
          <Figures
            of={[
              ['Along the faces', m(f.arc)],
              ['Chord · depth', `${m(f.chord)} · ${m(f.depth)}`],
              ['Radius at the faces', m(f.radiusAtFaces)],
              ['Joints open by', `${(f.openingMm ?? 0).toFixed(1)} mm`],
            ]}
          />
        </>
      )}
      <h3>Power</h3>
      <div className="row3">
        <NumberField label="Volts" unit="V" value={Number(feeding.volts ?? 230)} onChange={(v) => feed('volts', v)} />
        <NumberField label="Amps" unit="A" value={Number(feeding.amperes ?? 16)} onChange={(v) => feed('amperes', v)} />
        <NumberField label="Phases" digits={0} value={Number(feeding.phases ?? 3)} onChange={(v) => feed('phases', Math.round(v))} />
        <NumberField label="Factor" digits={2} value={Number(feeding.powerFactor ?? 0.95)} onChange={(v) => feed('powerFactor', v)} />
        <NumberField label="Share" unit="%" scale={100} value={Number(feeding.continuousShare ?? 0.8)} onChange={(v) => feed('continuousShare', v)} />
      </div>
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Circuits', `${f.circuits ?? '—'}`],
          ['Panels a circuit', `${f.panelsPerCircuit ?? '—'}`],
          ['A circuit bears', `${(f.wattsPerCircuit ?? 0).toFixed(0)} W`],
          ['Current in all', `${(f.amperes ?? 0).toFixed(1)} A`],
          ['Inrush', `${(f.inrushAmperes ?? 0).toFixed(0)} A`],
          ['Phases', `${(f.phases ?? []).map((w) => (w / 1000).toFixed(2)).join(' · ')} kW`],
          ['Most loaded', `+${((f.unbalance ?? 0) * 100).toFixed(0)} %`],
          ['Per square metre', `${(f.kilogramsPerSquareMetre ?? 0).toFixed(1)} kg · ${(f.wattsPerSquareMetre ?? 0).toFixed(0)} W`],
        ]}
      />
      <h3>Data</h3>
      <div className="row3">
        <NumberField label="Link" unit="Mb" scale={1e-6} value={Number(feeding.bitsPerSecond ?? 1e9)} onChange={(v) => feed('bitsPerSecond', v)} />
        <NumberField label="Bits" digits={0} value={Number(feeding.bitsPerPixel ?? 24)} onChange={(v) => feed('bitsPerPixel', Math.round(v))} />
        <NumberField label="Refresh" unit="Hz" value={Number(feeding.refresh ?? 60)} onChange={(v) => feed('refresh', v)} />
      </div>
      <Switch mt={8} label="A port pays for the rectangle round its run" checked={feeding.byRectangle === true} onChange={(e) => void feed('byRectangle', e.currentTarget.checked)} />
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Ports', `${f.ports ?? '—'}`],
          ['Panels a port', `${f.panelsPerPort ?? '—'}`],
          ['A port carries', px(f.pixelsPerPort ?? 0)],
        ]}
      />
      <h3>Cables</h3>
      <div className="row2">
        <Select label="Power goes by" allowDeselect={false} data={paths} value={String(feeding.powerPath ?? 'columns-snake')} onChange={(v) => v !== null && void feed('powerPath', v)} />
        <Select label="Data goes by" allowDeselect={false} data={paths} value={String(feeding.dataPath ?? 'columns-snake')} onChange={(v) => v !== null && void feed('dataPath', v)} />
      </div>
      <Switch mt={8} label="From house right" checked={feeding.fromRight === true} onChange={(e) => void feed('fromRight', e.currentTarget.checked)} />
      <Switch mt={6} label="From the floor" checked={feeding.fromBottom !== false} onChange={(e) => void feed('fromBottom', e.currentTarget.checked)} />
      <h3>Seen from</h3>
      <Figures
        of={[
          ['Usual nearest', m(f.nearest)],
          ['Pixels vanish at', m(f.vanishing)],
          ['40° take in there', `${m(f.widthAtNearest)} · ${m(f.widthAtVanishing)}`],
        ]}
      />
      <h3>To take away</h3>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        <a className="plain" href={`/api/shows/${showId}/surfaces/${row.id}/specification.csv`} download>
          Specification (CSV)
        </a>
        <a className="plain" href={`/api/shows/${showId}/surfaces/${row.id}/template.svg`} download>
          Pixel map (SVG)
        </a>
      </div>
    </>
  );
}

function PanelDetails({ id }: { id: string }) {
  const row = useRow('panel', id);
  if (row === undefined) return <Gone />;
  const field = (label: string, name: 'widthMm' | 'heightMm' | 'widthPx' | 'heightPx' | 'kilograms' | 'wattsAverage' | 'wattsMaximum', unit: string) => (
    <NumberField label={label} unit={unit} value={row[name]} onChange={(v) => edit(`Change ${row.name}`, [update('panel', row, { [name]: v })])} />
  );
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('panel', row, { name })])} />
      <div className="row2" style={{ marginTop: 8 }}>
        {field('Width', 'widthMm', 'mm')}
        {field('Height', 'heightMm', 'mm')}
        {field('Width', 'widthPx', 'px')}
        {field('Height', 'heightPx', 'px')}
        {field('Weight', 'kilograms', 'kg')}
        <span />
        {field('Power, average', 'wattsAverage', 'W')}
        {field('Power, maximum', 'wattsMaximum', 'W')}
      </div>
      <Remove kind="panel" id={id} name={row.name} />
    </>
  );
}

const seconds = (flicks: number) => `${(flicks / FLICKS).toFixed(2)} s`;

function MediaDetails({ id }: { id: string }) {
  const row = useRow('media', id);
  const uses = useRows('clip').filter((c) => c.media === id).length;
  if (row === undefined) return <Gone />;
  const facts = (row.facts ?? {}) as Record<string, unknown>;
  const pattern = row.kind !== 'file';
  const change = (fields: Partial<RowOf<'media'>>) => edit(`Change ${row.name}`, [update('media', row, fields)]);
  const audio = facts.audio as { codec: string; channels: number; sampleRate: number } | null | undefined;
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('media', row, { name })])} />
      {row.thumbnails?.[0] !== undefined && <img src={row.thumbnails[Math.floor(row.thumbnails.length / 2)]} alt="" style={{ width: '100%', marginTop: 10, background: 'var(--kl-ink7)' }} />}
      {pattern ? (
        <>
          <h3>Pattern</h3>
          {row.kind === 'solid' && <input type="color" aria-label="Colour" defaultValue={row.colour} onBlur={(e) => e.currentTarget.value !== row.colour && void change({ colour: e.currentTarget.value })} style={{ width: '100%' }} />}
          <div className="row2">
            <NumberField label="Width" unit="px" digits={0} value={row.width} onChange={(width) => change({ width: Math.round(width), height: row.height || Math.round(width) })} />
            <NumberField label="Height" unit="px" digits={0} value={row.height} onChange={(height) => change({ height: Math.round(height), width: row.width || Math.round(height) })} />
          </div>
          <p className="dim" style={{ fontSize: 12 }}>
            0 × 0: as large as the surface that it lands on.
          </p>
        </>
      ) : (
        <>
          <h3>What the file is</h3>
          <Figures
            of={[
              ['State', row.state ?? 'missing'],
              ['Kind', String(facts.kind ?? '—')],
              ['Pixels', `${facts.width ?? '—'} × ${facts.height ?? '—'}`],
              ['Frame rate', String(facts.frameRate ?? '—')],
              ['Duration', typeof facts.duration === 'number' && facts.duration > 0 ? seconds(facts.duration) : '—'],
              ['Codec', String(facts.codec ?? '—')],
              ['Alpha', facts.alpha === true ? 'yes' : 'no'],
              ['Matrix', String(facts.matrix ?? '—')],
              ['Range', facts.range === 'pc' ? 'full' : facts.range === 'tv' ? 'limited' : '—'],
              ['Transfer', String(facts.transfer ?? '—')],
              ['Sound', audio ? `${audio.codec}, ${audio.channels} ch` : 'none'],
              ['Size', `${((row.bytes ?? 0) / 1e6).toFixed(2)} MB`],
            ]}
          />
          {((facts.assumed as string[] | undefined) ?? []).map((a) => (
            <p key={a} style={{ fontSize: 13, margin: '6px 0' }}>
              <Sign state="attention" /> {a}
            </p>
          ))}
          <p className="dim mono" style={{ fontSize: 11, overflowWrap: 'anywhere' }}>
            sha256 {row.file}
          </p>
        </>
      )}
      <p className="dim">
        Used by <span className="mono">{uses}</span> {uses === 1 ? 'clip' : 'clips'}.
      </p>
      <Findings kind="media" id={id} />
      <Remove kind="media" id={id} name={row.name} />
    </>
  );
}

const properties = [
  { name: 'opacity', label: 'Opacity', unit: '%', scale: 100, step: 1, digits: 1 },
  { name: 'x', label: 'Position X', unit: 'px', scale: 1, step: 1, digits: 2 },
  { name: 'y', label: 'Position Y', unit: 'px', scale: 1, step: 1, digits: 2 },
] as const;

/** What a value is at this moment, as the bake has it. */
function Present({ lane, scale, unit }: { lane: string; scale: number; unit: string }) {
  useRepaint(5);
  const now = live.now();
  const on = now === null ? null : playback.at(now);
  const number = on?.plan.lanes.indexOf(lane) ?? -1;
  if (on === null || now === null || number < 0) return null;
  return (
    <span className="mono" style={{ display: 'block' }}>
      now {Number((on.lanes.get(number, now) * scale).toFixed(1))} {unit}
    </span>
  );
}

export function LayerDetails({ id }: { id: string }) {
  const row = useRow('layer', id);
  const surfaces = useRows('surface');
  const curves = useRows('curve').filter((c) => c.layer === id);
  const values = useStudio((s) => s.values);
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('layer', row, { name })])} />
      <Aims row={row} surfaces={surfaces} />
      <Select
        label="Fitting"
        mt={8}
        allowDeselect={false}
        value={row.fitting}
        data={['cover', 'contain', 'stretch', 'one-to-one']}
        onChange={(v) => v !== null && void edit(`Fit ${row.name}`, [update('layer', row, { fitting: v as typeof row.fitting })])}
      />
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField label="Anchor X" unit="%" scale={100} value={row.anchorX} onChange={(v) => edit(`Anchor ${row.name}`, [update('layer', row, { anchorX: v })])} />
        <NumberField label="Anchor Y" unit="%" scale={100} value={row.anchorY} onChange={(v) => edit(`Anchor ${row.name}`, [update('layer', row, { anchorY: v })])} />
      </div>
      <h3>Values</h3>
      {properties.map((p) => {
        const lane = `${id}/${p.name}`;
        const loose = values[lane];
        const curve = curves.find((c) => c.property === p.name);
        return (
          <div key={p.name} style={{ display: 'grid', gridTemplateColumns: '112px 1fr', alignItems: 'end', gap: 8, marginBottom: 8, ...(loose === undefined ? {} : { outline: '1px dashed var(--kl-loose)', outlineOffset: 4 }) }}>
            <NumberField label={p.label} unit={p.unit} scale={p.scale} step={p.step} digits={p.digits} value={loose ?? row[p.name]} onChange={(v) => command({ do: 'live', values: { [lane]: v } })} />
            <span style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
              {loose !== undefined ? (
                <>
                  <button type="button" className="plain" style={{ borderColor: 'var(--kl-loose)', color: 'var(--kl-loose)' }} onClick={() => void keep([lane], false)}>
                    Keep
                  </button>
                  <button type="button" className="plain" onClick={() => void keep([lane], true)} title="Keep as a keyframe at the playhead">
                    + Key
                  </button>
                  <button type="button" className="plain" onClick={() => void command({ do: 'live', values: { [lane]: null } })}>
                    Let go
                  </button>
                </>
              ) : (
                <span className="dim" style={{ fontSize: 12 }}>
                  {curve === undefined ? 'stored' : `${curve.keyframes.length} keyframes`}
                  {curve !== undefined && <Present lane={lane} scale={p.scale} unit={p.unit} />}
                </span>
              )}
            </span>
          </div>
        );
      })}
      <Findings kind="layer" id={id} />
      <Remove kind="layer" id={id} name={row.name} />
    </>
  );
}

export function Aims({ row, surfaces }: { row: RowOf<'layer'>; surfaces: RowOf<'surface'>[] }) {
  return (
    <MultiSelect
      label="Aimed at"
      mt={8}
      value={row.aims.filter((a) => surfaces.some((s) => s.id === a))}
      data={surfaces.map((s) => ({ value: s.id, label: s.name }))}
      placeholder={row.aims.length === 0 ? 'nothing yet' : undefined}
      onChange={(aims) => void edit(`Aim ${row.name}`, [update('layer', row, { aims })])}
      searchable
      hidePickedOptions
    />
  );
}

function ClipDetails({ id }: { id: string }) {
  const row = useRow('clip', id);
  const media = useRow('media', row?.media);
  const layer = useRow('layer', row?.layer);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'clip'>>) => edit(`Change ${media?.name ?? 'a clip'}`, [update('clip', row, fields)]);
  return (
    <>
      <h2>{media?.name ?? 'Clip'}</h2>
      <span className="dim">
        on{' '}
        <button type="button" className="plain" style={{ padding: '0 6px' }} onClick={() => select({ kind: 'layer', id: row.layer })}>
          {layer?.name}
        </button>
      </span>
      <div className="row2" style={{ marginTop: 8 }}>
        <TimeField label="Start" value={row.start} onChange={(start) => change({ start })} />
        <TimeField label="Length" value={row.length} onChange={(length) => change({ length })} />
        <TimeField label="In" value={row.in} onChange={(v) => change({ in: v })} />
        <TimeField label="End" value={row.start + row.length} onChange={(end) => change({ length: end - row.start })} />
      </div>
      <Select label="Past its end" mt={8} allowDeselect={false} value={row.pastEnd} data={['hold', 'loop']} onChange={(v) => v !== null && void change({ pastEnd: v as 'hold' | 'loop' })} />
      <Findings kind="clip" id={id} />
      <Remove kind="clip" id={id} name={media?.name ?? 'a clip'} />
    </>
  );
}

function MarkerDetails({ id }: { id: string }) {
  const row = useRow('marker', id);
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>Marker</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('marker', row, { name })])} />
      <TimeField label="Time" value={row.time} onChange={(time) => edit(`Move ${row.name}`, [update('marker', row, { time })])} />
      <Remove kind="marker" id={id} name={row.name} />
    </>
  );
}

function CueDetails({ id }: { id: string }) {
  const row = useRow('cue', id);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'cue'>>) => edit(`Change cue ${row.number}`, [update('cue', row, fields)]);
  return (
    <>
      <h2>Cue {row.number}</h2>
      <div className="row2">
        <NameField label="Number" value={row.number} onChange={(number) => change({ number })} />
        <TimeField label="Time" value={row.time} onChange={(time) => change({ time })} />
      </div>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <Switch mt={12} label="Hold point: playback waits here for Go" checked={row.holds} onChange={(e) => void change({ holds: e.currentTarget.checked })} />
      <Findings kind="cue" id={id} />
      <Remove kind="cue" id={id} name={`cue ${row.number}`} />
    </>
  );
}

function OutputDetails({ id }: { id: string }) {
  const row = useRow('output', id);
  const health = useStudio((s) => s.health);
  const regions = useRows('region').filter((r) => r.output === id);
  const surfaces = useRows('surface');
  const figures = useShow()?.computed.surfaces ?? {};
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'output'>>) => edit(`Change ${row.name}`, [update('output', row, fields)]);
  const players = health?.players.filter((p) => p.output === id) ?? [];
  const missing = surfaces.filter((s) => !regions.some((r) => r.surface === s.id));
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <div className="row3" style={{ marginTop: 8 }}>
        <NumberField label="Width" unit="px" digits={0} value={row.width} onChange={(v) => change({ width: Math.round(v) })} />
        <NumberField label="Height" unit="px" digits={0} value={row.height} onChange={(v) => change({ height: Math.round(v) })} />
        <NumberField label="Refresh" unit="Hz" value={row.refresh} onChange={(refresh) => change({ refresh })} />
      </div>
      <p style={{ display: 'flex', gap: 8 }}>
        <button type="button" className="plain primary" onClick={() => window.open(`/player/${id}`, `player-${id}`)}>
          Open player
        </button>
        <button type="button" className="plain" onClick={() => void command({ do: 'identify', output: id })}>
          Identify
        </button>
        <button type="button" className="plain" onClick={() => window.open(`/rig/${id}`, `rig-${id}`)} title="A stand-in for the LED processor">
          LED stand-in
        </button>
      </p>
      <h3>Players</h3>
      {players.length === 0 ? (
        <p className="dim" style={{ margin: 0 }}>
          No player of this output is open.
        </p>
      ) : (
        players.map((p) => (
          <Figures
            key={p.player}
            of={[
              ['Player', p.player.slice(0, 8)],
              ['Revision', p.revision],
              ['Frames drawn', p.drawn],
              ['Late', p.late],
              ['Clock', `${p.offset.toFixed(2)} ms`],
              ...(p.lacks.length > 0 ? ([['Lacks', p.lacks.join('; ')]] as [string, string][]) : []),
              ...(p.error === '' ? [] : ([['Error', p.error]] as [string, string][])),
            ]}
          />
        ))
      )}
      {missing.length > 0 && (
        <>
          <h3>Add a region</h3>
          <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6 }}>
            {missing.slice(0, 30).map((s) => (
              <button
                key={s.id}
                type="button"
                className="plain"
                onClick={async () => {
                  const f = figures[s.id];
                  const region = ulid();
                  if (f !== undefined && (await edit(`Put ${s.name} on ${row.name}`, [insert('region', region, { output: id, surface: s.id, source: [0, 0, f.rasterWidth, f.rasterHeight], x: 0, y: 0 })])))
                    select({ kind: 'region', id: region });
                }}
              >
                {s.name}
              </button>
            ))}
          </div>
        </>
      )}
      <Remove kind="output" id={id} name={row.name} />
    </>
  );
}

function RegionDetails({ id }: { id: string }) {
  const row = useRow('region', id);
  const surface = useRow('surface', row?.surface);
  const output = useRow('output', row?.output);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'region'>>) => edit(`Place ${surface?.name ?? 'a region'}`, [update('region', row, fields)]);
  const source = (i: number, v: number) => change({ source: row.source.map((old, k) => (k === i ? Math.round(v) : old)) });
  return (
    <>
      <h2>{surface?.name ?? 'Region'}</h2>
      <span className="dim">on {output?.name}</span>
      <h3>Where it lands on the output</h3>
      <div className="row2">
        <NumberField label="X" unit="px" digits={0} value={row.x} onChange={(v) => change({ x: Math.round(v) })} />
        <NumberField label="Y" unit="px" digits={0} value={row.y} onChange={(v) => change({ y: Math.round(v) })} />
      </div>
      <h3>Pixels of the surface</h3>
      <div className="row2">
        {['X', 'Y', 'Width', 'Height'].map((label, i) => (
          <NumberField key={label} label={label} unit="px" digits={0} value={row.source[i] ?? 0} onChange={(v) => source(i, v)} />
        ))}
      </div>
      <h3>Comes to</h3>
      <Figures
        of={[
          ['Right edge', px(row.x + (row.source[2] ?? 0))],
          ['Bottom edge', px(row.y + (row.source[3] ?? 0))],
          ['Pixels', ((row.source[2] ?? 0) * (row.source[3] ?? 0)).toLocaleString('en')],
        ]}
      />
      <Findings kind="region" id={id} />
      <Remove kind="region" id={id} name={`the region of ${surface?.name ?? 'a surface'}`} />
    </>
  );
}

function TimelineDetails({ id }: { id: string }) {
  const row = useRow('timeline', id);
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('timeline', row, { name })])} />
      <TimeField label="Duration" value={row.duration} onChange={(duration) => edit(`Change the length of ${row.name}`, [update('timeline', row, { duration })])} />
    </>
  );
}

const Gone = () => <p className="dim">This is no longer in the show.</p>;
