import { useEffect, useReducer, useState } from 'react';
import type { RowOf } from '../../api/client';
import { by, onNow } from '../cues';
import { projectorState } from '../devices';
import { Figures, NameField, NumberField } from '../fields/fields';
import { Sign } from '../frame/Kite';
import { Clock, Master, useOnAir } from '../frame/TransportBar';
import { useShow, useTransport } from '../hooks';
import { command, live, personName, setPersonName, shownPlayback, useStudio } from '../store';
import { FLICKS } from '../time';
import { Board } from './cues/Board';
import { CueList } from './cues/List';
import { Preview } from './cues/Preview';

/** The desk: one big, calm place to run cues and to see trouble coming. */
export function Run() {
  const show = useShow();
  const transport = useTransport();
  const air = useStudio((s) => s.air);
  const health = useStudio((s) => s.health);
  const up = useStudio((s) => s.up);
  const onAir = useOnAir();
  useStudio((s) => s.told);
  const [side, setSide] = useState('list');
  const [panic, setPanic] = useState(2);
  const [preview, setPreview] = useState(false);
  const [name, setName] = useState(personName);
  if (show === undefined) return null;
  const told = shownPlayback()?.cues;
  const byId = new Map(show.rows.cue.map((c) => [c.id, c]));
  const cues = (told?.list ?? show.rows.cue.map((c) => c.id)).map((id) => byId.get(id)).filter((c) => c !== undefined);
  const find = (id: string | null | undefined) => byId.get(id ?? '');
  const last = find(told?.last);
  const next = find(told?.next) ?? find(told?.pending?.cue);
  const pages = [...show.rows.page].sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));
  const page = pages.find((p) => p.id === side);
  const { running } = transport;
  const looked = air !== null && air !== show.id;
  return (
    <div className="run">
      <div style={{ overflow: 'auto', display: 'flex', flexDirection: 'column' }}>
        <div style={{ padding: '18px 24px 10px', borderBottom: '1px solid var(--kl-line)' }}>
          <Clock className="bigclock" />
          <div className={`onair ${onAir ? 'on' : ''}`} style={{ fontSize: 18, minHeight: 26 }}>
            <span className="glow" />
            {!up
              ? 'Engine offline; the players play on'
              : looked
                ? 'This show is looked at; another one is on air'
                : `${onAir ? 'On air' : (health?.players.length ?? 0) === 0 ? 'Off air: no player is open' : 'Off air: the master is at 0 %'}${transport.waiting ? ', waits at a hold point' : running ? '' : ', holding'}`}
          </div>
        </div>
        <div className="desk-now" aria-label="Cues now">
          <Standing what="Last" cue={last} />
          <Standing
            what={told?.waiting === true ? 'Waits at' : 'Next'}
            cue={next}
            at={told?.pending?.cue === next?.id ? (told?.pending?.at ?? null) : null}
          />
        </div>
        {preview && <Preview cue={next?.id ?? null} />}
        <div style={{ display: 'flex', gap: 6, padding: '6px 16px' }} role="tablist" aria-label="Desk">
          <button
            type="button"
            role="tab"
            className="plain"
            aria-selected={side === 'list'}
            onClick={() => setSide('list')}
          >
            Cue list
          </button>
          {pages.map((p) => (
            <button
              key={p.id}
              type="button"
              role="tab"
              className="plain"
              aria-selected={side === p.id}
              onClick={() => setSide(p.id)}
            >
              {p.name}
            </button>
          ))}
        </div>
        {page !== undefined ? (
          <Board page={page} arrange={false} />
        ) : cues.length === 0 ? (
          <p className="empty">
            <strong>No cues yet</strong>
            Record what is on in Cues, or put the playhead where one belongs and press Shift+M in the timeline.
          </p>
        ) : (
          <CueList cues={cues} big />
        )}
      </div>
      <div
        style={{
          borderLeft: '1px solid var(--kl-line)',
          padding: 20,
          display: 'flex',
          flexDirection: 'column',
          gap: 14,
          background: 'var(--kl-ink8)',
          overflow: 'auto',
        }}
      >
        <button
          type="button"
          className="gobutton"
          disabled={!up || told == null || (told.next === null && running)}
          onClick={() => void command({ action: 'go' })}
        >
          Go
        </button>
        <button
          type="button"
          className="plain"
          aria-pressed={preview}
          onClick={() => setPreview(!preview)}
          title="Preview next cue"
        >
          Preview next
        </button>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
          <button type="button" className="plain deskbutton" onClick={() => void command({ action: 'back' })}>
            Back
          </button>
          <button
            type="button"
            className={`plain deskbutton ${told?.panic === true ? 'panicking' : ''}`}
            aria-pressed={told?.panic === true}
            onClick={() =>
              void command({ action: 'panic', on: told?.panic !== true, fade: Math.round(panic * FLICKS) })
            }
          >
            {told?.panic === true ? 'Light back' : 'Panic'}
          </button>
        </div>
        <NumberField
          label="Panic fade"
          unit="s"
          value={panic}
          digits={1}
          onChange={(v) => setPanic(Math.max(0, Math.min(60, v)))}
        />
        <button
          type="button"
          className="plain"
          style={{ fontSize: 18, padding: '14px 0', textAlign: 'center' }}
          onClick={() => void command({ action: running ? 'hold' : 'play' })}
        >
          {running ? 'Hold' : 'Play'}
        </button>
        <Master />
        <NameField
          label="Your name"
          placeholder="none"
          value={name}
          hint="Others see it with what you press; kept with this browser"
          onChange={(said) => {
            setPersonName(said);
            setName(personName());
          }}
        />
        {health?.clockStep != null && <ClockStep step={health.clockStep} cues={show.rows.cue} />}
        <h2 style={{ fontSize: 15, margin: '12px 0 0' }}>
          <Sign
            state={
              !up || health === null
                ? 'fault'
                : (health.compiler?.trouble ?? '') !== '' || health.guard.caught > 0 || health.journal.lost > 0
                  ? 'attention'
                  : 'ok'
            }
          />{' '}
          Engine
        </h2>
        {health === null ? (
          <p className="dim" style={{ margin: 0 }}>
            The engine is not answering.
          </p>
        ) : (
          <Figures
            of={[
              ['Conductor', `process ${health.pid}`],
              [
                'Compiler',
                health.compiler === null || !health.compiler.ready
                  ? 'not ready'
                  : `revision ${health.compiler.revision}`,
              ],
              ['Latency, p99', `${health.lateness.p99.toFixed(1)} ms`],
              ['Latency, max', `${health.lateness.max.toFixed(1)} ms`],
              ['Windows', health.windows],
              ['Memory', `${(health.memory / 1e6).toFixed(0)} MB`],
              ...((health.compiler?.trouble ?? '') === ''
                ? []
                : ([['Problems', health.compiler?.trouble ?? '']] as [string, string][])),
              ...(health.guard.caught === 0
                ? []
                : ([['Errors caught', `${health.guard.caught}, last ${health.guard.last}`]] as [string, string][])),
              ...(health.journal.lost === 0
                ? []
                : ([['Journal lines lost', String(health.journal.lost)]] as [string, string][])),
            ]}
          />
        )}
        {show.rows.patch.length > 0 && (
          <>
            <h2 style={{ fontSize: 15, margin: '12px 0 0' }}>
              <Sign state={health?.lights == null ? 'fault' : health.lights.trouble !== '' ? 'attention' : 'ok'} />{' '}
              Pixel lights
            </h2>
            {health?.lights != null && (
              <Figures
                of={[
                  ['Lights', health.lights.lights],
                  ['Universes', health.lights.universes],
                  ['Frame rate', `${health.lights.rate.toFixed(0)} Hz`],
                  ['Packets', health.lights.sent.toLocaleString('en')],
                  ['Latency, p99', `${health.lights.late.p99.toFixed(1)} ms`],
                  ['Nodes found', health.lights.nodes.length],
                  ['Standby', health.lights.standby ? 'ready' : 'starting'],
                  ...(health.lights.trouble === '' || health.lights.failed > 0
                    ? []
                    : ([['Problems', health.lights.trouble]] as [string, string][])),
                  ...(health.lights.failed === 0
                    ? []
                    : ([['Not sent', `${health.lights.failed.toLocaleString('en')}, ${health.lights.trouble}`]] as [
                        string,
                        string,
                      ][])),
                ]}
              />
            )}
            {health?.lights == null && <p className="dim">The pixel-light sender is not running.</p>}
          </>
        )}
        {show.rows.projector.some((p) => p.address !== '') && (
          <>
            <h2 style={{ fontSize: 15, margin: '12px 0 0' }}>Projectors</h2>
            {show.rows.projector
              .filter((p) => p.address !== '')
              .map((p) => {
                const { sign, words } = projectorState(health?.devices.projectors[p.id]);
                return (
                  <div key={p.id}>
                    <Sign state={sign} /> {p.name} <span className="dim">{words}</span>
                  </div>
                );
              })}
          </>
        )}
        <h2 style={{ fontSize: 15, margin: '12px 0 0' }}>Players</h2>
        {show.rows.output.length > 1 && (
          <a href="/players" target="players">
            Open all of a machine
          </a>
        )}
        {show.rows.output.map((output) => {
          const players = health?.players.filter((p) => p.output === output.id) ?? [];
          return (
            <div key={output.id}>
              <Sign
                state={
                  players.length === 0
                    ? 'fault'
                    : players.some((p) => p.lacks.length > 0 || p.error !== '')
                      ? 'attention'
                      : 'ok'
                }
              />{' '}
              {output.name}
              {players.length === 0 && (
                <>
                  <span className="dim"> has no player open </span>
                  <button
                    type="button"
                    className="plain"
                    onClick={() => window.open(`/player/${output.id}`, `player-${output.id}`)}
                  >
                    Open player
                  </button>
                </>
              )}
              {players.map((p) => (
                <Figures
                  key={p.player}
                  of={[
                    ['Revision', p.revision],
                    ['Late frames', `${p.late} of ${p.drawn}`],
                    ['Clock', `${p.offset.toFixed(2)} ms`],
                    ...(p.lacks.length === 0 ? [] : ([['Missing', p.lacks.join('; ')]] as [string, string][])),
                  ]}
                />
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}

/** A cue with its note, large enough to be read from a step away; where it starts by itself, how long that is. */
function Standing({ what, cue, at = null }: { what: string; cue: RowOf<'cue'> | undefined; at?: number | null }) {
  const [, again] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    if (at === null) return;
    const timer = setInterval(again, 200);
    return () => clearInterval(timer);
  }, [at]);
  const on = cue === undefined ? undefined : onNow(cue.id);
  const left = at === null ? null : Math.max(0, (at - (live.now() ?? at)) / FLICKS);
  return (
    <div>
      <span className="dim" style={{ fontSize: 12 }}>
        {what}
        {on !== undefined && <> · {by(on.by)}</>}
        {left !== null && <span className="mono"> · in {left.toFixed(1)} s</span>}
      </span>
      <div className="desk-cue">
        {cue === undefined ? (
          <span className="dim">none</span>
        ) : (
          <>
            <span className="mono">{cue.number}</span> {cue.name}
          </>
        )}
      </div>
      <div style={{ minHeight: 20 }}>
        {on !== undefined && on.masked > 0 && (
          <span className="looseval">{on.masked} of its values are held by hand</span>
        )}{' '}
        <span className="dim">{cue?.note}</span>
      </div>
    </div>
  );
}

/** The time of day was set: what cues it passed over, and which of them are fired. */
function ClockStep({
  step,
  cues,
}: {
  step: { seconds: number; at: string; cues: string[]; left: number };
  cues: { id: string; number: string; name: string }[];
}) {
  const size = Math.abs(step.seconds);
  const by =
    size >= 3600
      ? `${Math.floor(size / 3600)} h ${Math.floor((size % 3600) / 60)} min`
      : size >= 60
        ? `${Math.floor(size / 60)} min ${size % 60} s`
        : `${size} s`;
  const names = step.cues
    .map((id) => cues.find((c) => c.id === id))
    .map((c) => (c === undefined ? 'a removed cue' : `${c.number} ${c.name}`.trim()));
  return (
    <section aria-label="Clock" role="alert">
      <p className="state-attention" style={{ margin: '0 0 6px' }}>
        ▲ Clock set {step.seconds > 0 ? 'forward' : 'back'} by {by}, now {step.at}.
      </p>
      {names.length > 0 && (
        <>
          <p style={{ margin: '0 0 6px' }}>
            Passed over: {names.slice(0, 5).join(', ')}
            {names.length > 5 ? ` and ${names.length - 5} more` : ''}. The last is fired in{' '}
            <span className="mono">{Math.ceil(step.left)} s</span>.
          </p>
          <div style={{ display: 'flex', gap: 6 }}>
            {(['last', 'all', 'none'] as const).map((fire) => (
              <button
                key={fire}
                type="button"
                className="plain"
                onClick={() => void command({ action: 'clockStep', fire })}
              >
                Fire {fire}
              </button>
            ))}
          </div>
        </>
      )}
    </section>
  );
}
