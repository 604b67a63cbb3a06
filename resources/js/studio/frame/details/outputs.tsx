import type { RowOf } from '../../../api/client';
import { Figures, NameField, NumberField } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { command, edit, insert, select, update, useStudio } from '../../store';
import { timecode, ulid } from '../../time';
import { Findings, Gone, px, Remove } from '../parts';

const millions = (n: number) => `${(n / 1e6).toFixed(n < 1e7 ? 1 : 0)} M`;

/** What a player of the output has to decode over the show, and its worst moment. */
function Budget({ output }: { output: string }) {
  const show = useShow();
  const lines = show?.computed.budgets[output] ?? [];
  if (show === undefined || lines.length === 0) return null;
  return (
    <>
      <h3>Decoding</h3>
      {lines.map((b) => {
        const line = show.rows.timeline.find((t) => t.id === b.timeline);
        const end = line?.duration ?? 1;
        let path = 'M0 30';
        for (const [time, pixels] of b.course as [number, number][]) path += `H${((time / end) * 290).toFixed(1)}V${(30 - (pixels / Math.max(1, b.pixels)) * 26).toFixed(1)}`;
        return (
          <figure key={b.timeline} style={{ margin: '0 0 12px' }}>
            <svg
              viewBox="0 0 290 32"
              width="100%"
              height={32}
              preserveAspectRatio="none"
              role="img"
              aria-label={`Decoded pixels over ${line?.name ?? 'a timeline'}, the most at ${timecode(b.at, show.frameRate, show.computed.flicksPerFrame)}`}
            >
              <path d={`${path}H290`} fill="none" stroke="var(--kl-dim)" vectorEffect="non-scaling-stroke" />
              <path d={`M${(b.at / end) * 290} 0V32`} stroke="var(--kl-straw)" vectorEffect="non-scaling-stroke" />
            </svg>
            <Figures
              of={[
                [`Most of ${line?.name ?? 'a timeline'}`, `at ${timecode(b.at, show.frameRate, show.computed.flicksPerFrame)}`],
                ['Streams', b.streams],
                ['Decoded', `${millions(b.pixels)}px/s`],
                ['Memory', `${(Number(b.mostMemory[0] ?? 0) / 1e6).toFixed(0)} MB`],
                ...(b.bytes > 0 ? ([['Read', `${(b.bytes / 1e6).toFixed(2)} MB/s`]] as [string, string][]) : []),
              ]}
            />
          </figure>
        );
      })}
    </>
  );
}

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
      <Budget output={id} />
      <h3>Limits of its machine</h3>
      <div className="row2">
        <NumberField label="Videos" digits={0} value={row.streamsLimit} hint="That play at once; 0 for not known" onChange={(v) => change({ streamsLimit: Math.round(v) })} />
        <NumberField label="Decoded Mpx/s" digits={1} value={row.decodeLimit} hint="0 for not known" onChange={(decodeLimit) => change({ decodeLimit })} />
        <NumberField label="Read MB/s" digits={1} value={row.readLimit} hint="0 for not known" onChange={(readLimit) => change({ readLimit })} />
        <NumberField label="Memory MB" digits={0} value={row.memoryLimit} hint="For decoded pictures; 0 for not known" onChange={(memoryLimit) => change({ memoryLimit })} />
      </div>
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
