import { NativeSelect } from '@mantine/core';
import { useState } from 'react';
import { presets, protocols } from '../../api/kinds';
import { NumberField, submitted } from '../fields/fields';
import { useRows, useShow } from '../hooks';
import { editAndSelect, insert, outputs, select, useStudio } from '../store';
import { ulid } from '../time';

/** Layers that a lighting console drives, and what it says. */
export function Console() {
  const show = useShow();
  const personalities = useRows('personality');
  const controls = useRows('control');
  const layers = useRows('layer');
  const timelines = useRows('timeline');
  const heard = useStudio((s) => s.health?.lights?.console);
  const [personality, setPersonality] = useState('');
  const [preset, setPreset] = useState('Standard');
  const [which, setWhich] = useState('');
  const [protocol, setProtocol] = useState('sacn');
  const [universe, setUniverse] = useState(1);
  const [channel, setChannel] = useState(1);
  const free = layers.filter((l) => !controls.some((c) => c.layer === l.id));
  const of = personalities.some((p) => p.id === personality) ? personality : (personalities[0]?.id ?? '');
  const add = async () => {
    const id = ulid();
    if (
      await editAndSelect(
        'Add a personality',
        [
          insert('personality', id, {
            name: personalities.some((p) => p.name === preset) ? `${preset} ${personalities.length + 1}` : preset,
            parts: presets[preset],
          }),
        ],
        { kind: 'personality', id },
      )
    )
      setPersonality(id);
  };
  const wanted = which === 'every' ? free.map((l) => l.id) : [which || (free[0]?.id ?? '')].filter((id) => id !== '');
  const nameOf = (layer: string) => {
    const row = layers.find((l) => l.id === layer);
    const line = timelines.length > 1 ? timelines.find((t) => t.id === row?.timeline)?.name : undefined;
    return `${line === undefined ? '' : `${line}: `}${row?.name ?? 'removed layer'}`;
  };
  return (
    <section aria-label="Lighting console">
      <h2 style={{ fontSize: 15, margin: '26px 0 8px' }}>Lighting console</h2>
      <div style={{ display: 'flex', gap: 8, alignItems: 'end', flexWrap: 'wrap', maxWidth: 960 }}>
        {personalities.map((p) => (
          <button key={p.id} type="button" className="plain" onClick={() => select({ kind: 'personality', id: p.id })}>
            {p.name} <span className="mono dim">{show?.computed.personalities[p.id]?.slots ?? '—'} ch</span>
          </button>
        ))}
        <NativeSelect
          aria-label="Preset"
          size="xs"
          value={preset}
          onChange={(e) => setPreset(e.currentTarget.value)}
          data={Object.keys(presets)}
        />
        <button
          type="button"
          className={`plain ${personalities.length === 0 ? 'primary' : ''}`}
          onClick={() => void add()}
        >
          Add a personality
        </button>
        {personalities.length > 0 && (
          <a
            className="plain"
            href={`/api/shows/${show?.id}/personalities.gdtf`}
            download
            title="All personalities as one fixture type, a mode for each"
          >
            GDTF
          </a>
        )}
      </div>
      {personalities.length > 0 && free.length > 0 && (
        <form
          style={{ display: 'flex', gap: 8, alignItems: 'end', flexWrap: 'wrap', marginTop: 10, maxWidth: 960 }}
          onSubmit={submitted(() => {
            void outputs({ action: 'console', personality: of, layers: wanted, protocol, universe, channel }).then(
              (done) => done !== null && setWhich(''),
            );
          })}
        >
          <NativeSelect
            label="Layer"
            size="xs"
            value={which || free[0]?.id}
            onChange={(e) => setWhich(e.currentTarget.value)}
            data={[
              ...free.map((l) => ({ value: l.id, label: nameOf(l.id) })),
              ...(free.length > 1 ? [{ value: 'every', label: `All ${free.length} not driven` }] : []),
            ]}
          />
          <NativeSelect
            label="Personality"
            size="xs"
            value={of}
            onChange={(e) => setPersonality(e.currentTarget.value)}
            data={personalities.map((p) => ({ value: p.id, label: p.name }))}
          />
          <NativeSelect
            label="Protocol"
            size="xs"
            value={protocol}
            onChange={(e) => setProtocol(e.currentTarget.value)}
            data={PROTOCOLS}
          />
          <div style={{ width: 90 }}>
            <NumberField label="Universe" digits={0} value={universe} onChange={(v) => setUniverse(Math.round(v))} />
          </div>
          <div style={{ width: 90 }}>
            <NumberField label="Channel" digits={0} value={channel} onChange={(v) => setChannel(Math.round(v))} />
          </div>
          <button type="submit" className="plain primary">
            Drive
          </button>
        </form>
      )}
      {controls.length > 0 && (
        <table className="table" style={{ maxWidth: 960, marginTop: 12 }}>
          <thead>
            <tr>
              <th>Layer</th>
              <th>Personality</th>
              <th>Universe</th>
              <th>Channel</th>
              <th>Heard</th>
            </tr>
          </thead>
          <tbody>
            {controls.slice(0, 500).map((c) => {
              const said = heard?.controls[c.id];
              return (
                <tr key={c.id}>
                  <td>
                    <button type="button" className="plain" onClick={() => select({ kind: 'control', id: c.id })}>
                      {nameOf(c.layer)}
                    </button>
                  </td>
                  <td>
                    {personalities.find((p) => p.id === c.personality)?.name ?? (
                      <span className="state-attention">▲ removed</span>
                    )}
                  </td>
                  <td className="mono">
                    {protocols[c.protocol]} {c.universe}
                  </td>
                  <td className="mono">{c.channel}</td>
                  <td className={said === undefined ? 'dim' : said.lost ? 'state-attention' : 'state-ok'}>
                    {said === undefined ? 'nothing yet' : said.lost ? '▲ lost' : '● heard'}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <p className="dim" role="status">
        <span className="mono">{heard?.packets ?? 0}</span> packets, <span className="mono">{heard?.bad ?? 0}</span>{' '}
        malformed
        {(heard?.sources ?? []).slice(0, 16).map((s) => (
          <span key={`${s.universe} ${s.name}`}>
            {' · '}
            {s.name || 'a source'} <span className="mono">{`${s.universe}, priority ${s.priority}`}</span>
          </span>
        ))}
      </p>
    </section>
  );
}

/** Protocols by which a console is heard. */
export const PROTOCOLS = ['sacn', 'artnet'].map((value) => ({ value, label: protocols[value] ?? value }));
