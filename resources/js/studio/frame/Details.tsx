import { MultiSelect, Select, Switch } from '@mantine/core';
import type { Kind, RowOf, Schemas } from '../../api/client';
import { type Property, properties } from '../../api/kinds';
import { Figures, NameField, NumberField, TimeField } from '../fields/fields';
import { useReach, useRepaint, useRow, useRows, useShow } from '../hooks';
import { aim, command, edit, insert, keep, live, position, select, shownPlayback, update, useStudio } from '../store';
import { FLICKS, ulid } from '../time';
import { CameraDetails, ManyDetails, PanelDetails, ProjectorDetails, PropDetails, RigDetails, SeatDetails, SurfaceDetails } from '../views/venue/details';
import { Sign } from './Kite';
import { Findings, Gone, px, Remove } from './parts';

export function Details() {
  const open = useStudio((s) => s.detailsOpen);
  const selected = useStudio((s) => s.selected);
  const chosen = useStudio((s) => s.chosen);
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
    rig: RigDetails,
    projector: ProjectorDetails,
    camera: CameraDetails,
    prop: PropDetails,
    seat: SeatDetails,
  };
  const Panel = selected === null ? undefined : panels[selected.kind];
  return (
    <aside className="details" aria-label="Details">
      {chosen.length > 1 ? <ManyDetails chosen={chosen} /> : Panel === undefined || selected === null ? <ShowDetails /> : <Panel key={selected.id} id={selected.id} />}
    </aside>
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

/** What a value is at this moment. */
function Present({ address, property }: { address: string; property: Property }) {
  useRepaint(5);
  const now = live.now();
  const plan = now === null ? null : (shownPlayback()?.at(now) ?? null);
  if (now === null || plan === null) return null;
  return (
    <span className="mono" style={{ display: 'block' }}>
      now {Number((plan.slot(address).at(position(), now) * property.scale).toFixed(1))} {property.unit}
    </span>
  );
}

/** The values of a thing, each a field: what is typed is loose until it is kept or let go. */
function Values({ kind, id, stored }: { kind: 'layer' | 'timeline'; id: string; stored: Record<string, number> }) {
  const curves = useRows('curve').filter((c) => c.owner === id);
  const values = useStudio((s) => s.values);
  return properties[kind].map((p) => {
    const address = `${kind}:${id}/${p.name}`;
    const loose = values[address];
    const curve = curves.find((c) => c.property === p.name);
    return (
      <div key={p.name} style={{ display: 'grid', gridTemplateColumns: '112px 1fr', alignItems: 'end', gap: 8, marginBottom: 8, ...(loose === undefined ? {} : { outline: '1px dashed var(--kl-loose)', outlineOffset: 4 }) }}>
        <NumberField label={p.label} unit={p.unit} scale={p.scale} step={p.step} digits={p.digits} value={loose ?? stored[p.name] ?? p.default} onChange={(v) => command({ do: 'live', values: { [address]: v } })} />
        <span style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
          {loose !== undefined ? (
            <>
              <button type="button" className="plain" style={{ borderColor: 'var(--kl-loose)', color: 'var(--kl-loose)' }} onClick={() => void keep([address], false)}>
                Keep
              </button>
              <button type="button" className="plain" onClick={() => void keep([address], true)} title="Keep as a keyframe at the playhead">
                + Key
              </button>
              <button type="button" className="plain" onClick={() => void command({ do: 'live', values: { [address]: null } })}>
                Let go
              </button>
            </>
          ) : (
            <span className="dim" style={{ fontSize: 12 }}>
              {curve === undefined ? 'stored' : `${curve.keyframes.length} keyframes`}
              {curve !== undefined && <Present address={address} property={p} />}
            </span>
          )}
        </span>
      </div>
    );
  });
}

export function LayerDetails({ id }: { id: string }) {
  const row = useRow('layer', id);
  const surfaces = useRows('surface');
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
      <Values kind="layer" id={id} stored={row.values as Record<string, number>} />
      <Findings kind="layer" id={id} />
      <Remove kind="layer" id={id} name={row.name} />
    </>
  );
}

export function Aims({ row, surfaces }: { row: RowOf<'layer'>; surfaces: RowOf<'surface'>[] }) {
  const reach = useReach(row);
  return (
    <MultiSelect
      label="Aimed at"
      mt={8}
      value={reach.filter((a) => surfaces.some((s) => s.id === a))}
      data={surfaces.map((s) => ({ value: s.id, label: s.name }))}
      placeholder={reach.length === 0 ? 'nothing yet' : undefined}
      onChange={(chosen) => void aim([row.id], chosen)}
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
      <NumberField label="Order" unit="" value={row.order} digits={0} onChange={(order) => edit(`Move ${row.name}`, [update('timeline', row, { order: Math.round(order) })])} />
      <h3>Values</h3>
      <Values kind="timeline" id={id} stored={row.values as Record<string, number>} />
      <Remove kind="timeline" id={id} name={row.name} />
    </>
  );
}
