import { type Property, properties } from '../../../api/kinds';
import { NumberField } from '../../fields/fields';
import { useRepaint, useRows } from '../../hooks';
import { command, keep, live, position, shownPlayback, useStudio } from '../../store';

/** What a value is at this moment. */
export function Present({ address, property }: { address: string; property: Property }) {
  useRepaint(5);
  const now = live.now();
  const plan = now === null ? null : (shownPlayback()?.at(now) ?? null);
  if (now === null || plan === null) return null;
  return (
    <span className="mono" style={{ display: 'block' }}>
      now {Number((plan.slot(address).at(position(), now) * property.scale).toFixed(1))} {property.unit}
    </span>
  );
}

/** The values of a thing, each a field: what is typed is loose until it is kept or let go. */
export function Values({ kind, id, stored }: { kind: 'layer' | 'timeline'; id: string; stored: Record<string, number> }) {
  const curves = useRows('curve').filter((c) => c.owner === id);
  const values = useStudio((s) => s.values);
  return properties[kind].map((p) => {
    const address = `${kind}:${id}/${p.name}`;
    const loose = values[address];
    const curve = curves.find((c) => c.property === p.name);
    return (
      <div key={p.name} style={{ display: 'grid', gridTemplateColumns: '112px 1fr', alignItems: 'end', gap: 8, marginBottom: 8, ...(loose === undefined ? {} : { outline: '1px dashed var(--kl-loose)', outlineOffset: 4 }) }}>
        <NumberField label={p.label} unit={p.unit} scale={p.scale} step={p.step} digits={p.digits} value={loose ?? stored[p.name] ?? p.default} onChange={(v) => command({ do: 'live', values: { [address]: v } })} />
        <span style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
          {loose !== undefined ? (
            <>
              <button type="button" className="plain" style={{ borderColor: 'var(--kl-loose)', color: 'var(--kl-loose)' }} onClick={() => void keep([address], false)}>
                Keep
              </button>
              <button type="button" className="plain" onClick={() => void keep([address], true)} title="Keep as a keyframe at the playhead">
                + Key
              </button>
              <button type="button" className="plain" onClick={() => void command({ do: 'live', values: { [address]: null } })}>
                Let go
              </button>
            </>
          ) : (
            <span className="dim" style={{ fontSize: 12 }}>
              {curve === undefined ? 'stored' : `${curve.keyframes.length} keyframes`}
              {curve !== undefined && <Present address={address} property={p} />}
            </span>
          )}
        </span>
      </div>
    );
  });
}
