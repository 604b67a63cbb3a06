import type { RowOf } from '../../../api/client';
import { useRepaint, useRows, useShow } from '../../hooks';
import { live, position, select, shownPlayback } from '../../store';

/** Layers against surfaces: who reaches whom, and what is up at the playhead. */
export function Matrix({ layers }: { layers: RowOf<'layer'>[] }) {
  useRepaint(4);
  const show = useShow();
  const surfaces = useRows('surface');
  const now = live.now();
  const plan = now === null ? null : (shownPlayback()?.at(now) ?? null);
  const opacity = (layer: string, surface: string): number => {
    if (plan === null || now === null) return 0;
    const one = plan.contributions(surface).find((c) => c.part.layer === layer);
    const up = one?.media?.at(position(), plan.flicksPerFrame).clip ?? -1;
    return one === undefined || up < 0 || one.mute.at(position(), now) >= 0.5
      ? 0
      : one.opacity.at(position(), now) * one.level.at(position(), now);
  };
  const routes = show?.computed.routes ?? {};
  return (
    <div style={{ overflow: 'auto', flex: 1, padding: 16 }}>
      <table className="mono" aria-label="Layers and surfaces" style={{ borderCollapse: 'collapse', fontSize: 12 }}>
        <thead>
          <tr>
            <th />
            {surfaces.map((s) => (
              <th key={s.id} scope="col" style={{ padding: '0 4px 8px', verticalAlign: 'bottom', fontWeight: 400 }}>
                <button
                  type="button"
                  className="plain"
                  style={{
                    border: 0,
                    writingMode: 'vertical-rl',
                    transform: 'rotate(180deg)',
                    padding: 2,
                    maxHeight: 150,
                    overflow: 'hidden',
                  }}
                  onClick={() => select({ kind: 'surface', id: s.id })}
                >
                  {s.name}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {layers.map((l) => {
            const reached = new Set(routes[l.route ?? '']?.surfaces ?? []);
            return (
              <tr key={l.id} style={{ borderTop: '1px solid var(--kl-line)' }}>
                <th scope="row" style={{ textAlign: 'left', paddingRight: 12, fontWeight: 400 }}>
                  <button
                    type="button"
                    className="plain"
                    style={{ border: 0 }}
                    onClick={() => select({ kind: 'layer', id: l.id })}
                  >
                    {l.name}
                  </button>
                </th>
                {surfaces.map((s) => {
                  if (!reached.has(s.id)) return <td key={s.id} />;
                  const strength = opacity(l.id, s.id);
                  return (
                    <td
                      key={s.id}
                      style={{ textAlign: 'center', padding: 4 }}
                      aria-label={`${l.name} on ${s.name}: ${strength > 0 ? `${Math.round(strength * 100)} %` : 'dark now'}`}
                    >
                      <span
                        style={{
                          display: 'inline-block',
                          minWidth: 34,
                          padding: '2px 4px',
                          borderRadius: 4,
                          border: '1px solid var(--kl-line)',
                          color: strength > 0 ? 'var(--kl-text)' : 'var(--kl-dim)',
                          background: strength > 0 ? 'var(--kl-ink6)' : undefined,
                        }}
                      >
                        {strength > 0 ? `${Math.round(strength * 100)} %` : '—'}
                      </span>
                    </td>
                  );
                })}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
