import { useEffect, useState } from 'react';
import { commands, valueWays } from '../../api/commands';
import { learn, listenToLine, startMidi, useControls, useLine, watchControls } from '../controls';
import { controlOf, GESTURES, isNamed, PROTOCOLS, targetOf } from '../frame/details/controls';
import { Sign } from '../frame/Kite';
import { sentOf } from '../frame/LearnDialog';
import { useRows, useShow, useTimeline } from '../hooks';
import { sendTimecode, useSound } from '../sound';
import { editAndSelect, importTable, insert, live, select, useStudio } from '../store';
import { FLICKS, ulid } from '../time';
import { Console } from './Console';
import { PanelBoard } from './PanelBoard';

/** Rows of tables that are shown at once. */
const SHOWN = 300;

/** Who may push the show: devices and what their controls are bound to, what came in, consoles and OSC. */
export function Bindings() {
  useEffect(watchControls, []);
  const selected = useStudio((s) => s.selected);
  const devices = useRows('device');
  const items = useRows('touchItem');
  const of = selected?.kind === 'touchItem' ? items.find((i) => i.id === selected.id)?.device : selected?.id;
  const panel = devices.find((d) => d.id === of && d.protocol === 'touch')?.id ?? null;
  return (
    <div style={{ padding: 20, overflow: 'auto' }}>
      {panel !== null && <PanelBoard id={panel} />}
      <Devices />
      <Bound />
      <Monitor />
      <Console />
      <Osc />
    </div>
  );
}

const MIDI: Record<string, string> = {
  off: 'not used here',
  asking: 'asking the browser',
  on: '',
  elsewhere: 'used by another tab of this browser',
  refused: 'refused: allow MIDI for this address in the browser',
  none: 'this browser has none',
};

/** The devices of the show, and where controls come in. */
function Devices() {
  const show = useShow();
  const devices = useRows('device');
  const own = useRows('binding');
  const line = useTimeline()?.id;
  const layers = useRows('layer')
    .filter((l) => l.timeline === line)
    .sort((a, b) => b.order - a.order);
  const seen = useControls((s) => s.devices);
  const pages = useControls((s) => s.pages);
  const midi = useControls((s) => s.midi);
  const ports = useControls((s) => s.ports);
  const chosen = useStudio((s) => s.selected?.id);
  const health = useStudio((s) => s.health?.midi);
  const air = useStudio((s) => s.air);
  const add = (protocol?: 'touch') => {
    const id = ulid();
    const count = devices.filter((d) => (d.protocol === 'touch') === (protocol === 'touch')).length + 1;
    void editAndSelect(
      protocol === 'touch' ? 'Add a touch panel' : 'Add a device',
      [
        insert(
          'device',
          id,
          protocol === 'touch' ? { name: `Panel ${count}`, protocol } : { name: `Device ${devices.length + 1}` },
        ),
      ],
      { kind: 'device', id },
    );
  };
  const take = () => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = '.csv,text/csv,.json,application/json';
    input.onchange = async () => {
      const file = input.files?.[0];
      if (file !== undefined) await importTable('bindings', await file.text());
    };
    input.click();
  };
  return (
    <section aria-label="Devices">
      <div className="bar wraps">
        <button
          type="button"
          className="plain primary"
          onClick={() => learn({ meaning: 'action', targets: [{ target: 'go', name: 'Go' }] })}
        >
          Bind Go
        </button>
        <button
          type="button"
          className="plain"
          onClick={() => learn({ meaning: 'action', targets: [{ target: 'toggle', name: 'Play or hold' }] })}
        >
          Bind Play or hold
        </button>
        <button
          type="button"
          className="plain"
          onClick={() => learn({ meaning: 'value', targets: [{ target: 'master:show/level', name: 'Master' }] })}
        >
          Bind the master
        </button>
        <button
          type="button"
          className="plain"
          disabled={(show?.rows.cue.length ?? 0) === 0}
          title="A control for each cue, one after another"
          onClick={() =>
            learn({
              meaning: 'cue',
              targets: (show?.rows.cue ?? [])
                .slice(0, 64)
                .map((c) => ({ target: c.id, name: `Cue ${c.number} ${c.name}` })),
            })
          }
        >
          Bind cues in a row
        </button>
        <button
          type="button"
          className="plain"
          disabled={layers.length === 0}
          title="A control for the opacity of each layer of the timeline, from the top, one after another"
          onClick={() =>
            learn({
              meaning: 'value',
              targets: layers
                .slice(0, 64)
                .map((l) => ({ target: `layer:${l.id}/opacity`, name: `${l.name} · Opacity` })),
            })
          }
        >
          Bind layers in a row
        </button>
        <button type="button" className="plain" onClick={() => add()}>
          Add a device
        </button>
        <button type="button" className="plain" onClick={() => add('touch')}>
          Add a touch panel
        </button>
        <span className="grow" />
        {show !== undefined && (
          <a className="plain" href={`/api/shows/${show.id}/bindings.csv`} download>
            Export CSV
          </a>
        )}
        {show !== undefined && (
          <a className="plain" href={`/api/shows/${show.id}/bindings.json`} download>
            Export JSON
          </a>
        )}
        <button type="button" className="plain" onClick={take}>
          Import
        </button>
      </div>
      {show !== undefined && air !== null && air !== show.id && (
        <p className="state-attention">▲ Bindings act on the show on air, not on this one.</p>
      )}
      <table className="table" style={{ maxWidth: 960, marginTop: 12 }}>
        <thead>
          <tr>
            <th>Device</th>
            <th>Protocol</th>
            <th>Port</th>
            <th>Bindings</th>
            <th>Page</th>
            <th>Events</th>
          </tr>
        </thead>
        <tbody>
          {devices.map((d) => {
            const there = seen.filter(
              (s) =>
                s.source === d.protocol &&
                (isNamed(d.protocol) ? d.name === s.port : d.port === '' || d.port === s.port),
            );
            const events = there.reduce((sum, s) => sum + s.events, 0);
            return (
              <tr key={d.id} aria-selected={chosen === d.id}>
                <td>
                  <button type="button" className="plain" onClick={() => select({ kind: 'device', id: d.id })}>
                    {d.name}
                  </button>
                </td>
                <td>{PROTOCOLS[d.protocol] ?? d.protocol}</td>
                <td>{d.port !== '' ? d.port : <span className="dim">{isNamed(d.protocol) ? '—' : 'any'}</span>}</td>
                <td className="mono">{own.filter((b) => b.device === d.id).length}</td>
                <td className="mono">{pages[d.id] ?? 1}</td>
                <td className={there.length === 0 ? 'dim' : 'state-ok'}>
                  {there.length === 0 ? 'nothing yet' : <span className="mono">● {events.toLocaleString('en')}</span>}
                </td>
              </tr>
            );
          })}
          {devices.length === 0 && (
            <tr>
              <td colSpan={6} className="dim">
                No device yet. Bind Go, and press the button that is to do it: its device comes along.
              </td>
            </tr>
          )}
        </tbody>
      </table>
      <div style={{ display: 'flex', gap: 8, alignItems: 'center', marginTop: 10 }}>
        <span className="dim">
          MIDI ports: {midi === 'on' ? (ports.length === 0 ? 'none' : ports.join(', ')) : (MIDI[midi] ?? midi)}
        </span>
        {midi === 'off' && (
          <button type="button" className="plain" onClick={() => void startMidi()}>
            Use MIDI ports
          </button>
        )}
        <span className="grow" />
        <Timecode />
      </div>
      <p className="dim" role="status">
        {health === undefined || health.port === 0 ? (
          'RTP-MIDI is off (KITE_RTP_PORT).'
        ) : health.trouble !== '' ? (
          <span className="state-attention">▲ {health.trouble}</span>
        ) : (
          <>
            RTP-MIDI takes sessions at{' '}
            <span className="mono">
              {health.interface}:{health.port}
            </span>
            {(health.rtp?.waiting ?? []).length > 0 && (
              <span className="state-attention"> ▲ {health.rtp?.waiting.join(', ')} does not answer yet</span>
            )}
            {(health.rtp?.sessions ?? []).length > 0 && `: ${health.rtp?.sessions.join(', ')}`}
            {(health.rtp?.lost ?? 0) > 0 && (
              <span className="state-attention"> ▲ {health.rtp?.lost} packets were lost on the way</span>
            )}
          </>
        )}
      </p>
    </section>
  );
}

/** Timecode that comes in, and the audio input of this window for that of a line. */
function Timecode() {
  const code = useStudio((s) => s.health?.timecode);
  const now = useStudio((s) => s.health?.engine ?? 0);
  const { state, device } = useLine();
  const sound = useSound();
  const fresh = code != null && now - code.at < 2 * FLICKS;
  return (
    <>
      {code != null && (
        <span role="status" aria-label="Timecode" className={fresh ? 'state-ok' : 'dim'}>
          {fresh ? '●' : '○'} {code.source === 'ltc' ? 'LTC' : 'MTC'} <span className="mono">{code.text}</span> at{' '}
          <span className="mono">{code.rate}</span>
        </span>
      )}
      {state === 'refused' && <span className="state-attention">▲ No audio input: allow it for this address</span>}
      {sound.on && (
        <label className="dim">
          LTC out{' '}
          <select
            className="plain"
            aria-label="LTC out"
            value={sound.timecode ?? ''}
            onChange={(e) => sendTimecode(e.currentTarget.value === '' ? null : Number(e.currentTarget.value))}
          >
            <option value="">off</option>
            {Array.from({ length: Math.min(16, sound.channels) }, (_, channel) => (
              <option key={`c${channel + 1}`} value={channel}>
                channel {channel + 1}
              </option>
            ))}
          </select>
        </label>
      )}
      <button
        type="button"
        className="plain"
        aria-pressed={state === 'on'}
        title={device === '' ? 'Read timecode (LTC) from an audio input of this window' : device}
        onClick={() => void listenToLine()}
      >
        {state === 'on' ? 'Listening for LTC' : 'Listen for LTC'}
      </button>
    </>
  );
}

/** All bindings, and where controls still have to go. */
function Bound() {
  const show = useShow();
  const rows = useRows('binding');
  const devices = useRows('device');
  const meets = useControls((s) => s.meets);
  const last = useControls((s) => s.events);
  const chosen = useStudio((s) => s.selected?.id);
  const [query, setQuery] = useState('');
  if (rows.length === 0) return null;
  const lines = rows
    .map((row) => ({
      row,
      device: devices.find((d) => d.id === row.device)?.name ?? 'removed',
      target: targetOf(show, row),
    }))
    .filter(({ row, device, target }) =>
      `${target} ${device} ${row.control} ${row.label}`.toLowerCase().includes(query.toLowerCase()),
    )
    .sort((a, b) =>
      `${a.device} ${a.row.label || a.row.control}`.localeCompare(`${b.device} ${b.row.label || b.row.control}`, 'en', {
        numeric: true,
      }),
    );
  return (
    <section aria-label="Bindings">
      <h2 style={{ fontSize: 15, margin: '26px 0 8px' }}>Bindings</h2>
      {rows.length > 12 && (
        <input
          className="plain"
          aria-label="Search bindings"
          placeholder="Search"
          value={query}
          onChange={(e) => setQuery(e.currentTarget.value)}
        />
      )}
      <table className="table tight" style={{ maxWidth: 960 }}>
        <thead>
          <tr>
            <th>Target</th>
            <th>Control</th>
            <th>Device</th>
            <th>When it</th>
            <th>Page</th>
            <th>Last</th>
          </tr>
        </thead>
        <tbody>
          {lines.slice(0, SHOWN).map(({ row, device, target }) => {
            const meet = meets[row.id];
            const sent = last.findLast((e) => e.binding === row.id);
            return (
              <tr key={row.id} aria-selected={chosen === row.id}>
                <td>
                  <button type="button" className="plain" onClick={() => select({ kind: 'binding', id: row.id })}>
                    {target}
                  </button>
                </td>
                <td className="mono">{controlOf(row)}</td>
                <td>{device}</td>
                <td>{GESTURES[row.gesture]}</td>
                <td className="mono">{row.page === 0 ? 'all' : row.page}</td>
                <td className="mono">
                  {meet !== undefined ? (
                    <span className="state-attention">▲ {meet.above ? 'up' : 'down'} to take over</span>
                  ) : sent === undefined ? (
                    ''
                  ) : (
                    sentOf(sent.raw)
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {lines.length > SHOWN && <p className="dim">{lines.length - SHOWN} more: search for them.</p>}
    </section>
  );
}

/** What came in, which binding took it, and why nothing came of it. */
function Monitor() {
  const show = useShow();
  const bindings = useRows('binding');
  const events = useControls((s) => s.events);
  const [paused, setPaused] = useState<typeof events | null>(null);
  const [query, setQuery] = useState('');
  const all = paused ?? events;
  const lines = all
    .filter((e) => `${e.source} ${e.device} ${e.label} ${e.control}`.toLowerCase().includes(query.toLowerCase()))
    .slice(-40)
    .reverse();
  const ago = (at: number) => {
    const now = live.now();
    return now === null ? '' : `${Math.max(0, (now - at) / FLICKS).toFixed(1)} s`;
  };
  return (
    <section aria-label="Monitor">
      <h2 style={{ fontSize: 15, margin: '26px 0 8px' }}>Monitor</h2>
      <div style={{ display: 'flex', gap: 8, marginBottom: 8 }}>
        <button
          type="button"
          className="plain"
          aria-pressed={paused !== null}
          onClick={() => setPaused(paused === null ? events : null)}
        >
          Pause
        </button>
        <input
          className="plain"
          aria-label="Filter events"
          placeholder="Filter"
          value={query}
          onChange={(e) => setQuery(e.currentTarget.value)}
        />
      </div>
      {lines.length === 0 ? (
        <p className="dim">Nothing came in yet. Move a control.</p>
      ) : (
        <table className="table tight" style={{ maxWidth: 960 }}>
          <thead>
            <tr>
              <th>Ago</th>
              <th>From</th>
              <th>Control</th>
              <th>Sent</th>
              <th>Result</th>
            </tr>
          </thead>
          <tbody>
            {lines.map((e) => {
              const taken = bindings.find((b) => b.id === e.binding);
              return (
                <tr key={e.n}>
                  <td className="mono dim">{ago(e.at)}</td>
                  <td>{e.device === '' ? e.source : e.device}</td>
                  <td>{e.label}</td>
                  <td className="mono">
                    {sentOf(e.raw)}
                    {e.bytes !== '' && <span className="dim"> {e.bytes.replace(/..(?=.)/g, '$& ')}</span>}
                  </td>
                  <td className={e.fault === '' ? 'state-ok' : 'dim'}>
                    {taken === undefined ? '' : `${targetOf(show, taken)}${e.fault === '' ? '' : ': '}`}
                    {e.fault === '' ? (taken === undefined ? '● taken' : '') : e.fault}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** The OSC addresses that there are, and what was heard last. */
function Osc() {
  const osc = useStudio((s) => s.health?.osc);
  const health = useStudio((s) => s.health);
  return (
    <section aria-label="OSC">
      <h2 style={{ fontSize: 15, margin: '26px 0 8px' }}>OSC messages</h2>
      <table className="table" style={{ maxWidth: 760, marginBottom: 12 }}>
        <thead>
          <tr>
            <th>Listens</th>
            <th>Where</th>
            <th>Packets in</th>
            <th>Malformed</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>OSC 1.0</td>
            <td className="mono">udp 127.0.0.1:{osc?.port ?? '—'}</td>
            <td className="mono" data-testid="osc-packets">
              {osc?.packets ?? 0}
            </td>
            <td className={`mono ${(osc?.bad ?? 0) > 0 ? 'state-attention' : ''}`} data-testid="osc-bad">
              {(osc?.bad ?? 0) > 0 ? '▲ ' : ''}
              {osc?.bad ?? 0}
            </td>
          </tr>
          <tr>
            <td>Live stream</td>
            <td className="mono">/live</td>
            <td className="mono">
              {health?.windows ?? 0} {health?.windows === 1 ? 'window' : 'windows'}
            </td>
            <td className="mono">{health?.refused ?? 0} refused</td>
          </tr>
        </tbody>
      </table>
      <table className="table" style={{ maxWidth: 760 }}>
        <tbody>
          {commands.map(({ name, label, osc: address }) => (
            <tr key={name}>
              <td className="mono">{address}</td>
              <td>{label}</td>
            </tr>
          ))}
          {Object.entries(valueWays).map(([way, says]) => (
            <tr key={way}>
              <td className="mono">/kite/{way}/KIND/ID/PROPERTY value</td>
              <td>Set a loose value, {says}; without a value, discard it</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2 style={{ fontSize: 15, margin: '26px 0 8px' }}>Last messages</h2>
      {(osc?.last.length ?? 0) === 0 ? (
        <p className="dim">
          Nothing was heard yet. Send something: <span className="mono">php artisan rig:osc /kite/go</span>
        </p>
      ) : (
        <table className="table" style={{ maxWidth: 960 }}>
          <tbody>
            {osc?.last.map((m, i) => (
              <tr key={`${m.at} ${i}`}>
                <td className="mono dim">{new Date(m.at * 1000).toLocaleTimeString('en-GB')}</td>
                <td className="mono dim">{m.from}</td>
                <td className="mono">{m.text}</td>
                <td className={m.fault === null ? 'state-ok' : 'state-attention'}>
                  {m.fault === null ? (
                    '● taken'
                  ) : (
                    <>
                      <Sign state="attention" /> {m.fault}
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
