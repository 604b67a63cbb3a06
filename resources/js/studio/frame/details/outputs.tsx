import { Checkbox, Select } from '@mantine/core';
import type { RowOf } from '../../../api/client';
import { signal } from '../../../theme/tokens';
import { Figures, NameField, NumberField } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { command, edit, editAndSelect, insert, outputs as order, select, update, useStudio } from '../../store';
import { timecode, ulid } from '../../time';
import { Findings, Gone, Remove } from '../parts';

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
        for (const [time, pixels] of b.course as [number, number][])
          path += `H${((time / end) * 290).toFixed(1)}V${(30 - (pixels / Math.max(1, b.pixels)) * 26).toFixed(1)}`;
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
                [
                  `Most of ${line?.name ?? 'a timeline'}`,
                  `at ${timecode(b.at, show.frameRate, show.computed.flicksPerFrame)}`,
                ],
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

const CONNECTORS = [
  ['', 'Not stated'],
  ['dvi', 'DVI, single link'],
  ['dvi-dual', 'DVI, dual link'],
  ['hdmi-1.4', 'HDMI 1.4'],
  ['hdmi-2.0', 'HDMI 2.0'],
  ['hdmi-2.1', 'HDMI 2.1'],
  ['dp-1.2', 'DisplayPort 1.2'],
  ['dp-1.4', 'DisplayPort 1.4'],
  ['dp-2.0', 'DisplayPort 2.0'],
  ['sdi-1.5', 'HD-SDI'],
  ['sdi-3', '3G-SDI'],
  ['sdi-6', '6G-SDI'],
  ['sdi-12', '12G-SDI'],
] as const;

const TIMINGS = [
  ['auto', 'As the raster has it'],
  ['cta', 'CTA-861'],
  ['cvt-rb', 'CVT reduced blanking'],
  ['cvt-rb2', 'CVT reduced blanking 2'],
] as const;

const data = (list: readonly (readonly [string, string])[]) => list.map(([value, label]) => ({ value, label }));
const gigabits = (bits: number) => `${(bits / 1e9).toFixed(2)} Gb/s`;

/** How the raster is sent, and what of it the connector carries. */
function Sent({ row, change }: { row: RowOf<'output'>; change: (fields: Partial<RowOf<'output'>>) => unknown }) {
  const figures = useShow()?.computed.outputs[row.id];
  const timing = figures?.timing;
  return (
    <>
      <h3>Signal</h3>
      <div className="row2">
        <Select
          label="Connector"
          data={data(CONNECTORS)}
          value={row.connector}
          allowDeselect={false}
          onChange={(v) => v !== null && void change({ connector: v as typeof row.connector })}
        />
        <Select
          label="Timing"
          data={data(TIMINGS)}
          value={row.timing}
          allowDeselect={false}
          onChange={(v) => v !== null && void change({ timing: v as typeof row.timing })}
        />
        <Select
          label="Bit depth"
          data={['8', '10', '12']}
          value={String(row.bitDepth)}
          allowDeselect={false}
          onChange={(v) => v !== null && void change({ bitDepth: Number(v) })}
        />
        <NumberField label="Delay" unit="ms" value={row.delay} digits={2} onChange={(delay) => change({ delay })} />
      </div>
      <Figures
        of={
          timing === null || timing === undefined
            ? [['Timing', 'none for this raster']]
            : [
                [timing.rule, `${timing.width} × ${timing.height}`],
                ['Pixel clock', `${(timing.clock / 1e6).toFixed(2)} MHz`],
                [
                  'Link rate',
                  figures !== undefined && figures.limit > 0
                    ? `${gigabits(timing.rate)} of ${gigabits(figures.limit)}`
                    : gigabits(timing.rate),
                ],
                ['Raster used', `${((figures?.used ?? 0) * 100).toFixed(1)} %`],
              ]
        }
      />
    </>
  );
}

/** The devices that an output feeds. */
function Feeds({ output }: { output: RowOf<'output'> }) {
  const feeds = useRows('feed').filter((f) => f.output === output.id);
  const projectors = useRows('projector');
  return (
    <>
      <h3>Feeds</h3>
      {feeds.map((f) => (
        <button
          key={f.id}
          type="button"
          className="plain"
          style={{ display: 'block', width: '100%', boxSizing: 'border-box', marginBottom: 4 }}
          onClick={() => select({ kind: 'feed', id: f.id })}
        >
          {f.name}{' '}
          <span className="dim">
            {f.role === 'led' ? 'LED processor' : f.role}
            {f.projector === null ? '' : ` · ${projectors.find((p) => p.id === f.projector)?.name ?? 'gone'}`}
            {f.part.length === 4 ? ` · ${f.part[2]} × ${f.part[3]}` : ''}
          </span>
        </button>
      ))}
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        <button
          type="button"
          className="plain"
          onClick={async () => {
            const id = ulid();
            await editAndSelect(
              'Add a feed',
              [insert('feed', id, { output: output.id, name: `${output.name} device` })],
              { kind: 'feed', id },
            );
          }}
        >
          Add a device
        </button>
        {(
          [
            [2, 1],
            [2, 2],
            [4, 1],
          ] as const
        ).map(([columns, rows]) => (
          <button
            key={`${columns} ${rows}`}
            type="button"
            className="plain"
            title="Parts of the raster, a device each"
            onClick={() => void order({ action: 'split', output: output.id, columns, rows })}
          >
            Split {columns} × {rows}
          </button>
        ))}
      </div>
    </>
  );
}

/** What is drawn over the real output to find one's way. */
const mark = (output: string, shapes: { points: number[][]; label?: string; fill?: string; grid?: number }[]) =>
  void command({ action: 'mark', output, cross: null, shapes });

const FILLS = [
  ['White', signal.white],
  ['Red', signal.red],
  ['Green', signal.green],
  ['Blue', signal.blue],
  ['Black', signal.black],
] as const;

/** Solid colours and a grid, over an output or a region alone. */
export function Tests({ output, points, label }: { output: string; points: number[][]; label: string }) {
  return (
    <>
      <h3>On the real output</h3>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        {FILLS.map(([name, fill]) => (
          <button
            key={name}
            type="button"
            className="plain"
            aria-label={`${name} for ten seconds`}
            onClick={() => mark(output, [{ points, fill }])}
          >
            {name}
          </button>
        ))}
        <button type="button" className="plain" onClick={() => mark(output, [{ points, grid: 64 }])}>
          Grid
        </button>
        <button type="button" className="plain" onClick={() => mark(output, [{ points, label }])}>
          Outline
        </button>
        <button type="button" className="plain" onClick={() => mark(output, [])}>
          Off
        </button>
      </div>
    </>
  );
}

export function OutputDetails({ id }: { id: string }) {
  const row = useRow('output', id);
  const health = useStudio((s) => s.health);
  const regions = useRows('region').filter((r) => r.output === id);
  const surfaces = useRows('surface');
  const servers = useRows('server');
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'output'>>) => edit(`Change ${row.name}`, [update('output', row, fields)]);
  const players = health?.players.filter((p) => p.output === id) ?? [];
  const missing = surfaces.filter((s) => !regions.some((r) => r.surface === s.id));
  const gain = [0, 1, 2].map((c) => row.gain[c] ?? 1);
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <div className="row3" style={{ marginTop: 8 }}>
        <NumberField
          label="Width"
          unit="px"
          digits={0}
          value={row.width}
          onChange={(v) => change({ width: Math.round(v) })}
        />
        <NumberField
          label="Height"
          unit="px"
          digits={0}
          value={row.height}
          onChange={(v) => change({ height: Math.round(v) })}
        />
        <NumberField label="Refresh" unit="Hz" value={row.refresh} onChange={(refresh) => change({ refresh })} />
      </div>
      {servers.length > 0 && (
        <Select
          label="Server"
          mt={8}
          clearable
          data={servers.map((s) => ({ value: s.id, label: `${s.name} · ${s.role}` }))}
          value={row.server}
          onChange={(server) => void change({ server })}
        />
      )}
      <p style={{ display: 'flex', gap: 8 }}>
        <button type="button" className="plain primary" onClick={() => window.open(`/player/${id}`, `player-${id}`)}>
          Open player
        </button>
        <button type="button" className="plain" onClick={() => void command({ action: 'identify', output: id })}>
          Identify
        </button>
        <button
          type="button"
          className="plain"
          onClick={() => window.open(`/rig/${id}`, `rig-${id}`)}
          title="A stand-in for the LED processor"
        >
          LED stand-in
        </button>
      </p>
      <Sent row={row} change={change} />
      <Feeds output={row} />
      <Tests
        output={id}
        points={[
          [0, 0],
          [row.width, 0],
          [row.width, row.height],
          [0, row.height],
        ]}
        label={row.name}
      />
      <h3>Light</h3>
      <div className="row3">
        {(['Red', 'Green', 'Blue'] as const).map((label, c) => (
          <NumberField
            key={label}
            label={label}
            unit="%"
            scale={100}
            digits={1}
            value={gain[c] ?? 1}
            onChange={(v) => change({ gain: gain.map((old, k) => (k === c ? v : old)) })}
          />
        ))}
        <NumberField
          label="Peak"
          unit="%"
          scale={100}
          digits={1}
          value={row.peak}
          onChange={(peak) => change({ peak })}
        />
        <NumberField
          label="Black level lift"
          unit="%"
          scale={100}
          digits={3}
          value={row.black}
          hint="Of white; once blends are computed, only where fewer projectors shine than elsewhere"
          onChange={(black) => change({ black })}
        />
        <NumberField label="Gamma" digits={2} value={row.gamma} onChange={(gamma) => change({ gamma })} />
      </div>
      <Budget output={id} />
      <h3>Server limits</h3>
      <div className="row2">
        <NumberField
          label="Concurrent videos"
          digits={0}
          value={row.streamsLimit}
          hint="0 = unknown"
          onChange={(v) => change({ streamsLimit: Math.round(v) })}
        />
        <NumberField
          label="Decoded Mpx/s"
          digits={1}
          value={row.decodeLimit}
          hint="0 for not known"
          onChange={(decodeLimit) => change({ decodeLimit })}
        />
        <NumberField
          label="Read MB/s"
          digits={1}
          value={row.readLimit}
          hint="0 for not known"
          onChange={(readLimit) => change({ readLimit })}
        />
        <NumberField
          label="Memory MB"
          digits={0}
          value={row.memoryLimit}
          hint="For decoded pictures; 0 for not known"
          onChange={(memoryLimit) => change({ memoryLimit })}
        />
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
                  const done = await order({ action: 'put', output: id, surfaces: [s.id] });
                  if (done?.createdId) select({ kind: 'region', id: done.createdId });
                }}
              >
                {s.name}
              </button>
            ))}
          </div>
        </>
      )}
      <Findings kind="output" id={id} />
      <Remove kind="output" id={id} name={row.name} />
    </>
  );
}

export function ServerDetails({ id }: { id: string }) {
  const row = useRow('server', id);
  const outputs = useRows('output').filter((o) => o.server === id);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'server'>>) => edit(`Change ${row.name}`, [update('server', row, fields)]);
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <Select
        label="Role"
        mt={8}
        data={['main', 'backup', 'desk']}
        value={row.role}
        allowDeselect={false}
        onChange={(v) => v !== null && void change({ role: v as typeof row.role })}
      />
      <h3>Its outputs</h3>
      {outputs.map((o) => (
        <button
          key={o.id}
          type="button"
          className="plain"
          style={{ display: 'block', marginBottom: 4 }}
          onClick={() => select({ kind: 'output', id: o.id })}
        >
          {o.name}
        </button>
      ))}
      {outputs.length === 0 && (
        <p className="dim" style={{ margin: 0 }}>
          None yet: an output names its server in its details.
        </p>
      )}
      <Remove kind="server" id={id} name={row.name} />
    </>
  );
}

export function FeedDetails({ id }: { id: string }) {
  const row = useRow('feed', id);
  const output = useRow('output', row?.output);
  const projectors = useRows('projector');
  if (row === undefined || output === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'feed'>>) => edit(`Change ${row.name}`, [update('feed', row, fields)]);
  const part = row.part.length === 4 ? row.part : [0, 0, output.width, output.height];
  return (
    <>
      <h2>{row.name}</h2>
      <span className="dim">on {output.name}</span>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <Select
        label="Role"
        mt={8}
        data={[
          { value: 'led', label: 'LED processor' },
          { value: 'projector', label: 'Projector' },
          { value: 'monitor', label: 'Monitor' },
        ]}
        value={row.role}
        allowDeselect={false}
        onChange={(v) =>
          v !== null && void change({ role: v as typeof row.role, ...(v === 'projector' ? {} : { projector: null }) })
        }
      />
      {row.role === 'projector' && (
        <>
          <Select
            label="Projector"
            mt={8}
            searchable
            clearable
            data={projectors.map((p) => ({ value: p.id, label: p.name }))}
            value={row.projector}
            onChange={(projector) => void change({ projector })}
          />
          <NameField
            label="Stack"
            value={row.stack}
            hint="Projectors with the same stack name are converged"
            onChange={(stack) => change({ stack })}
          />
        </>
      )}
      <h3>Part of the raster</h3>
      <div className="row2">
        {['X', 'Y', 'Width', 'Height'].map((label, i) => (
          <NumberField
            key={label}
            label={label}
            unit="px"
            digits={0}
            value={part[i] ?? 0}
            onChange={(v) => change({ part: part.map((old, k) => (k === i ? Math.round(v) : old)) })}
          />
        ))}
      </div>
      <p>
        <button
          type="button"
          className="plain"
          disabled={row.part.length === 0}
          onClick={() => void change({ part: [] })}
        >
          All of it
        </button>
      </p>
      <Findings kind="feed" id={id} />
      <Remove kind="feed" id={id} name={row.name} />
    </>
  );
}

export function MaskDetails({ id }: { id: string }) {
  const row = useRow('mask', id);
  const surface = useRow('surface', row?.surface ?? undefined);
  const output = useRow('output', row?.output ?? undefined);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'mask'>>) => edit(`Change ${row.name}`, [update('mask', row, fields)]);
  const count = row.nodes.length / 6;
  /** Each node's handles along the line through those beside it, a third of the way; or none. */
  const soft = (on: boolean) => {
    const at = (i: number) =>
      row.nodes.slice(6 * ((i + count) % count), 6 * ((i + count) % count) + 2) as [number, number];
    const nodes = Array.from({ length: count }, (_, i) => {
      const [[px, py], [x, y], [nx, ny]] = [at(i - 1), at(i), at(i + 1)];
      const [dx, dy] = [(nx - px) / 6, (ny - py) / 6];
      return on ? [x, y, -dx, -dy, dx, dy] : [x, y, 0, 0, 0, 0];
    });
    return change({ nodes: nodes.flat() });
  };
  return (
    <>
      <h2>{row.name}</h2>
      <span className="dim">on {surface?.name ?? output?.name}</span>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <div className="row2" style={{ marginTop: 8 }}>
        {row.image === '' && (
          <NumberField
            label="Feather"
            unit="px"
            digits={1}
            value={row.feather}
            onChange={(feather) => change({ feather: Math.max(0, feather) })}
          />
        )}
        <Checkbox
          mt={26}
          label="Inverted"
          checked={row.inverted}
          onChange={(e) => void change({ inverted: e.currentTarget.checked })}
        />
      </div>
      {row.image === '' && (
        <>
          <p style={{ display: 'flex', gap: 8 }}>
            <button type="button" className="plain" onClick={() => void soft(true)}>
              Rounded
            </button>
            <button type="button" className="plain" onClick={() => void soft(false)}>
              Straight
            </button>
          </p>
          <Figures of={[['Nodes', count]]} />
        </>
      )}
      <Remove kind="mask" id={id} name={row.name} />
    </>
  );
}
