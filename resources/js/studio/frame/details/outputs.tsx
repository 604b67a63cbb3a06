import type { RowOf } from '../../../api/client';
import { Figures, NameField, NumberField } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { command, edit, insert, select, update, useStudio } from '../../store';
import { ulid } from '../../time';
import { Findings, Gone, px, Remove } from '../parts';

export function OutputDetails({ id }: { id: string }) {
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
              ...(p.lacks.length > 0 ? ([['Missing', p.lacks.join('; ')]] as [string, string][]) : []),
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

export function RegionDetails({ id }: { id: string }) {
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
      <h3>Position on output</h3>
      <div className="row2">
        <NumberField label="X" unit="px" digits={0} value={row.x} onChange={(v) => change({ x: Math.round(v) })} />
        <NumberField label="Y" unit="px" digits={0} value={row.y} onChange={(v) => change({ y: Math.round(v) })} />
      </div>
      <h3>Source rectangle</h3>
      <div className="row2">
        {['X', 'Y', 'Width', 'Height'].map((label, i) => (
          <NumberField key={label} label={label} unit="px" digits={0} value={row.source[i] ?? 0} onChange={(v) => source(i, v)} />
        ))}
      </div>
      <h3>Totals</h3>
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
