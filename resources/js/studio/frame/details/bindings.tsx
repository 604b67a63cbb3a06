import { Select } from '@mantine/core';
import type { RowOf } from '../../../api/client';
import { NameField, NumberField } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { edit, insert, select, update, useStudio } from '../../store';
import { ulid } from '../../time';
import { PROTOCOLS } from '../../views/Console';
import { Findings, Gone, Remove } from '../parts';

const short = (value: number) => String(Number(value.toFixed(2)));

/** What a channel lets choose between; what is long unfolds. */
function Choices({ list }: { list: readonly string[] }) {
  if (list.length <= 8) return list.join(', ');
  return (
    <details>
      <summary>
        {list[0]} … {list.length}
      </summary>
      {list.map((one) => (
        <div key={one}>{one}</div>
      ))}
    </details>
  );
}

/** The channels by which a console drives layers. */
export function PersonalityDetails({ id }: { id: string }) {
  const show = useShow();
  const row = useRow('personality', id);
  const controls = useRows('control').filter((c) => c.personality === id);
  const layers = useRows('layer');
  if (row === undefined) return <Gone />;
  const figures = show?.computed.personalities[id];
  const change = (fields: Partial<RowOf<'personality'>>) =>
    edit(`Change ${row.name}`, [update('personality', row, fields)]);
  return (
    <>
      <h2>{row.name}</h2>
      <span className="dim">
        Personality of <span className="mono">{figures?.slots ?? '—'}</span> channels
      </span>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <NameField
        label="Parts"
        value={row.parts}
        hint="With 16 after its name, a part has a coarse and a fine channel; a number before it repeats it"
        onChange={(parts) => change({ parts })}
      />
      <h3>Channels</h3>
      <table className="table">
        <thead>
          <tr>
            <th>Ch</th>
            <th>Part</th>
            <th>Rest</th>
            <th>Range</th>
          </tr>
        </thead>
        <tbody>
          {(figures?.channels ?? []).map((c) => (
            <tr key={c.channel}>
              <td className="mono">{c.slots === 2 ? `${c.channel}–${c.channel + 1}` : c.channel}</td>
              <td>{c.name}</td>
              <td className="mono">{c.rest}</td>
              <td className="mono">
                {Object.keys(c.choices).length > 0 ? (
                  <Choices list={Object.entries(c.choices).map(([choice, from]) => `${from} ${choice}`)} />
                ) : c.means.length > 0 ? (
                  <Choices list={c.means} />
                ) : (
                  `${short(c.from * c.scale)} … ${short(c.to * c.scale)} ${c.unit}`
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <a
        className="plain"
        href={`/api/shows/${show?.id}/personalities/${id}.csv`}
        download
        style={{ display: 'inline-block', marginTop: 8 }}
      >
        CSV
      </a>
      <h3>Layers</h3>
      {controls.slice(0, 60).map((c) => (
        <button
          key={c.id}
          type="button"
          className="plain"
          style={{ display: 'block', marginBottom: 4 }}
          onClick={() => select({ kind: 'control', id: c.id })}
        >
          {layers.find((l) => l.id === c.layer)?.name} <span className="mono dim">{`${c.universe}.${c.channel}`}</span>
        </button>
      ))}
      <Findings kind="personality" id={id} />
      <Remove kind="personality" id={id} name={row.name} />
    </>
  );
}

/** How a console drives one layer. */
export function ControlDetails({ id }: { id: string }) {
  const show = useShow();
  const row = useRow('control', id);
  const layer = useRow('layer', row?.layer ?? '');
  const personalities = useRows('personality');
  const effects = useRows('effect').filter((e) => e.layer === row?.layer);
  const heard = useStudio((s) => s.health?.lights?.console);
  if (row === undefined) return <Gone />;
  const name = layer?.name ?? 'a layer';
  const change = (fields: Partial<RowOf<'control'>>) =>
    edit(`Drive ${name} by a console`, [update('control', row, fields)]);
  const said = heard?.controls[id];
  const channels = show?.computed.personalities[row.personality]?.channels ?? [];
  const missing = (show?.computed.personalities[row.personality]?.effects ?? 0) - effects.length;
  const last = Math.max(-1, ...effects.map((e) => e.order));
  return (
    <>
      <h2>{name}</h2>
      <span className="dim">
        Driven by a console, <span className="mono">{show?.computed.personalities[row.personality]?.slots ?? '—'}</span>{' '}
        channels
      </span>
      <Select
        label="Personality"
        mt={8}
        allowDeselect={false}
        value={row.personality}
        data={personalities.map((p) => ({ value: p.id, label: p.name }))}
        onChange={(v) => v !== null && void change({ personality: v })}
      />
      <div className="row2" style={{ marginTop: 8 }}>
        <Select
          label="Protocol"
          allowDeselect={false}
          value={row.protocol}
          data={PROTOCOLS}
          onChange={(v) => v !== null && void change({ protocol: v })}
        />
        <NumberField
          label="Universe"
          digits={0}
          value={row.universe}
          hint={row.protocol === 'artnet' ? 'From 1: 1 is port-address 0' : ''}
          onChange={(v) => change({ universe: Math.round(v) })}
        />
        <NumberField
          label="Channel"
          digits={0}
          value={row.channel}
          onChange={(v) => change({ channel: Math.round(v) })}
        />
        <Select
          label="Several sources"
          allowDeselect={false}
          value={row.merge}
          data={[
            { value: 'highest', label: 'Highest' },
            { value: 'latest', label: 'Latest' },
          ]}
          onChange={(v) => v !== null && void change({ merge: v })}
        />
        <Select
          label="Source lost"
          allowDeselect={false}
          value={row.lost}
          data={[
            { value: 'hold', label: 'Hold' },
            { value: 'release', label: 'Release' },
          ]}
          onChange={(v) => v !== null && void change({ lost: v })}
        />
        {row.lost === 'release' && (
          <NumberField
            label="Release after"
            unit="s"
            digits={1}
            value={row.releaseAfter}
            hint="After the source counts as lost: 2.5 s of sACN, 10 s of Art-Net"
            onChange={(releaseAfter) => change({ releaseAfter })}
          />
        )}
      </div>
      {missing > 0 && (
        <button
          type="button"
          className="plain primary"
          style={{ marginTop: 8 }}
          onClick={() =>
            void edit(
              `Add effects to ${name}`,
              Array.from({ length: missing }, (_, i) =>
                insert('effect', ulid(), { layer: row.layer, order: last + 1 + i }),
              ),
            )
          }
        >
          Add {missing} {missing === 1 ? 'effect' : 'effects'} to the layer
        </button>
      )}
      <h3>Heard</h3>
      {said === undefined ? (
        <p className="dim">Nothing yet.</p>
      ) : (
        <table className="table">
          <thead>
            <tr>
              <th>Ch</th>
              <th>Part</th>
              <th>Raw</th>
              <th>Value</th>
            </tr>
          </thead>
          <tbody>
            {channels.map((c, i) => {
              const [raw, meant, words] = said.parts[i] ?? [0, 0];
              return (
                <tr key={c.channel}>
                  <td className="mono">{row.channel + c.channel - 1}</td>
                  <td>{c.name}</td>
                  <td className="mono">{raw}</td>
                  <td className="mono">
                    {words ?? Object.keys(c.choices)[meant] ?? `${short(meant * c.scale)} ${c.unit}`}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {said?.lost && (
        <p className="state-attention">▲ Source lost{row.lost === 'hold' ? '; what it said last holds' : ''}</p>
      )}
      <div style={{ display: 'flex', gap: 6, marginTop: 8 }}>
        <button type="button" className="plain" onClick={() => select({ kind: 'layer', id: row.layer })}>
          Layer
        </button>
        <button type="button" className="plain" onClick={() => select({ kind: 'personality', id: row.personality })}>
          Personality
        </button>
      </div>
      <Findings kind="control" id={id} />
      <Remove kind="control" id={id} name={`the control of ${name}`} />
    </>
  );
}
