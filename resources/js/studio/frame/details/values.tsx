import { type Property, properties } from '../../../api/kinds';
import { inWords, numberOf, slotOf } from '../../../live/property';
import { ValueField } from '../../fields/ValueField';
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
      now {inWords(property, plan.slot(address).at(position(), now))}
    </span>
  );
}

/** The values of a thing, each a field: what is typed is loose until it is kept or let go. */
export function Values({ kind, id, stored }: { kind: 'layer' | 'timeline'; id: string; stored: Record<string, unknown> }) {
  const curves = useRows('curve').filter((c) => c.owner === id);
  const values = useStudio((s) => s.values);
  const each = (properties[kind] as readonly Property[]).flatMap((property) => property.slots.map((label, slot) => ({ property, label, slot })));
  return each.map(({ property: p, label, slot }) => {
    const address = `${kind}:${id}/${slotOf(p.name, slot)}`;
    const loose = values[address];
    const curve = curves.find((c) => c.property === p.name && c.slot === slot);
    return (
      <div key={label} style={{ display: 'grid', gridTemplateColumns: '112px 1fr', alignItems: 'end', gap: 8, marginBottom: 8, ...(loose === undefined ? {} : { outline: '1px dashed var(--kl-loose)', outlineOffset: 4 }) }}>
        <ValueField property={p} label={label} value={loose ?? numberOf(p, stored[p.name], slot)} onChange={(v) => command({ do: 'live', values: { [address]: v } })} />
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
