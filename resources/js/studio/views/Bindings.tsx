import { commands, valueWays } from '../../api/commands';
import { useStudio } from '../store';
import { Console } from './Console';

/** What listens where, and what it heard last. */
export function Bindings() {
  const osc = useStudio((s) => s.health?.osc);
  const health = useStudio((s) => s.health);
  return (
    <div style={{ padding: 20, overflow: 'auto' }}>
      <table className="table" style={{ maxWidth: 760 }}>
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
      <Console />
      <h2 style={{ fontSize: 15, margin: '26px 0 8px' }}>OSC messages</h2>
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
                  {m.fault === null ? '● taken' : `▲ ${m.fault}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
