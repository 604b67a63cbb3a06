import { Figures } from '../fields/fields';
import { Sign } from '../frame/Kite';
import { Clock, Master, useOnAir } from '../frame/TransportBar';
import { useShow, useTimeline, useTransport } from '../hooks';
import { command, useStudio } from '../store';
import { timecode } from '../time';

/** The desk: one big, calm place to run cues and to see trouble coming. */
export function Run() {
  const show = useShow();
  const transport = useTransport();
  const timeline = useTimeline();
  const air = useStudio((s) => s.air);
  const health = useStudio((s) => s.health);
  const up = useStudio((s) => s.up);
  const onAir = useOnAir();
  if (show === undefined) return null;
  const frame = show.computed.flicksPerFrame;
  const cues = show.rows.cue.filter((c) => c.timeline === timeline?.id).sort((a, b) => a.time - b.time);
  const { running, position: at } = transport;
  const looked = air !== null && air !== show.id;
  const last = cues.filter((c) => c.time <= at).pop();
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
        {cues.length === 0 ? (
          <p className="empty">
            <strong>No cues yet</strong>
            Put the playhead where one belongs and press Shift+M in the timeline.
          </p>
        ) : (
          <div role="list" aria-label="Cues">
            {cues.map((cue) => (
              <div key={cue.id} role="listitem" className={`cuerow ${transport.next === cue.id ? 'next' : ''} ${running && last?.id === cue.id ? 'running' : ''}`} onDoubleClick={() => void command({ do: 'jump', time: cue.time })}>
                <span className="mono">{cue.number}</span>
                <span>{cue.name}</span>
                <span className="mono dim">{timecode(cue.time, show.frameRate, frame)}</span>
                <span style={{ fontSize: 14 }}>
                  {transport.next === cue.id ? (
                    transport.waiting && cue.time === at ? (
                      'waits'
                    ) : (
                      'next'
                    )
                  ) : running && last?.id === cue.id ? (
                    <span style={{ color: 'var(--kl-lamp)' }}>running</span>
                  ) : cue.holds ? (
                    <span className="dim">hold point</span>
                  ) : (
                    ''
                  )}
                </span>
              </div>
            ))}
          </div>
        )}
      </div>
      <div style={{ borderLeft: '1px solid var(--kl-line)', padding: 20, display: 'flex', flexDirection: 'column', gap: 14, background: 'var(--kl-ink8)', overflow: 'auto' }}>
        <button type="button" className="gobutton" onClick={() => void command({ do: 'go' })}>
          Go
        </button>
        <button type="button" className="plain" style={{ fontSize: 18, padding: '14px 0', textAlign: 'center' }} onClick={() => void command({ do: running ? 'hold' : 'play' })}>
          {running ? 'Hold' : 'Play'}
        </button>
        <Master />
        <h2 style={{ fontSize: 15, margin: '12px 0 0' }}>
          <Sign state={!up || health === null ? 'fault' : (health.compiler?.trouble ?? '') !== '' || health.guard.caught > 0 || health.journal.lost > 0 ? 'attention' : 'ok'} /> Engine
        </h2>
        {health === null ? (
          <p className="dim" style={{ margin: 0 }}>
            The engine is not answering.
          </p>
        ) : (
          <Figures
            of={[
              ['Conductor', `process ${health.pid}`],
              ['Compiler', health.compiler === null || !health.compiler.ready ? 'not ready' : `revision ${health.compiler.revision}`],
              ['Latency, p99', `${health.lateness.p99.toFixed(1)} ms`],
              ['Latency, max', `${health.lateness.max.toFixed(1)} ms`],
              ['Windows', health.windows],
              ['Memory', `${(health.memory / 1e6).toFixed(0)} MB`],
              ...((health.compiler?.trouble ?? '') === '' ? [] : ([['Problems', health.compiler?.trouble ?? '']] as [string, string][])),
              ...(health.guard.caught === 0 ? [] : ([['Errors caught', `${health.guard.caught}, last ${health.guard.last}`]] as [string, string][])),
              ...(health.journal.lost === 0 ? [] : ([['Journal lines lost', String(health.journal.lost)]] as [string, string][])),
            ]}
          />
        )}
        <h2 style={{ fontSize: 15, margin: '12px 0 0' }}>Players</h2>
        {show.rows.output.map((output) => {
          const players = health?.players.filter((p) => p.output === output.id) ?? [];
          return (
            <div key={output.id}>
              <Sign state={players.length === 0 ? 'fault' : players.some((p) => p.lacks.length > 0 || p.error !== '') ? 'attention' : 'ok'} /> {output.name}
              {players.length === 0 && (
                <>
                  <span className="dim"> has no player open </span>
                  <button type="button" className="plain" onClick={() => window.open(`/player/${output.id}`, `player-${output.id}`)}>
                    Open player
                  </button>
                </>
              )}
              {players.map((p) => (
                <Figures
                  key={p.player}
                  of={[['Revision', p.revision], ['Late frames', `${p.late} of ${p.drawn}`], ['Clock', `${p.offset.toFixed(2)} ms`], ...(p.lacks.length === 0 ? [] : ([['Missing', p.lacks.join('; ')]] as [string, string][]))]}
                />
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}
