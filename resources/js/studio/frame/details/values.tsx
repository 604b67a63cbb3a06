import { Popover } from '@mantine/core';
import { useState } from 'react';
import { answer, http, type RowOf, type Schemas } from '../../../api/client';
import { type Property, properties } from '../../../api/kinds';
import { numberOf, referenceTo, slotOf } from '../../../live/property';
import { learn } from '../../controls';
import { named } from '../../cues';
import { useWords, ValueField } from '../../fields/ValueField';
import { useRepaint, useRows, useShow } from '../../hooks';
import { command, complain, edit, keep, live, position, program, shownPlayback, update, useStudio } from '../../store';

/** Who says what of a value now, from below, the winner last: asked when it is opened. */
function Why({ address, property, label }: { address: string; property: Property; label: string }) {
  const show = useShow();
  const words = useWords(property);
  const [stack, setStack] = useState<Schemas['WhyStack'] | null>(null);
  const open = async () => {
    if (stack !== null) {
      setStack(null);
      return;
    }
    try {
      const { stacks } = await answer(
        http.GET('/shows/{show}/why', { params: { path: { show: show?.id ?? '' }, query: { addresses: address } } }),
      );
      setStack(stacks[address] ?? []);
    } catch (error) {
      complain(error);
    }
  };
  const source = (one: Schemas['WhyStack'][number]) => {
    const cue = one.stratum === 'cue' ? show?.rows.cue.find((c) => c.id === one.source) : undefined;
    const line = one.stratum === 'timeline' ? show?.rows.timeline.find((t) => t.id === one.source)?.name : undefined;
    return cue !== undefined
      ? `cue ${cue.number} ${cue.name}`
      : (line ?? (one.stratum === 'cue' ? 'a cue that was stopped' : one.stratum));
  };
  return (
    <Popover opened={stack !== null} onChange={() => setStack(null)} withinPortal position="left">
      <Popover.Target>
        <button
          type="button"
          className="plain"
          style={{ padding: '0 5px' }}
          aria-label="Why this value"
          title={`Why this value? (${label})`}
          onClick={() => void open()}
        >
          <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
            <path d="M2 9.5h8M2 6h5M2 2.5h8" stroke="currentColor" strokeWidth="1.4" fill="none" />
            <path d="M9.2 4.6 11 6 9.2 7.4Z" fill="currentColor" />
          </svg>
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        <ol className="why" reversed>
          {[...(stack ?? [])].reverse().map((one, i) => (
            <li key={`${one.source} ${i}`} style={i === 0 ? { fontWeight: 600 } : undefined}>
              {source(one)} <span className="mono">{words(one.value)}</span>
              {one.weight < 1 && <span className="dim mono"> at {Math.round(one.weight * 100)} %</span>}
            </li>
          ))}
        </ol>
      </Popover.Dropdown>
    </Popover>
  );
}

/** What a value is at the playhead, where keyframes say it, and what is done with another one. */
function AtPlayhead({
  property,
  label,
  address,
  onChange,
}: {
  property: Property;
  label: string;
  address: string;
  onChange: (value: number) => unknown;
}) {
  useRepaint(5);
  const now = live.now();
  const plan = now === null ? null : (shownPlayback()?.at(now) ?? null);
  return (
    <ValueField
      property={property}
      label={label}
      value={plan === null || now === null ? property.default : plan.slot(address).at(position(), now)}
      onChange={onChange}
    />
  );
}

/** The values of a thing, each a field: what is typed is loose until it is kept or discarded. */
export function Values({
  kind,
  id,
  stored,
  only,
}: {
  kind: keyof typeof properties;
  id: string;
  stored: Record<string, unknown>;
  only?: readonly string[];
}) {
  const curves = useRows('curve').filter((c) => c.owner === id);
  const values = useStudio((s) => s.values);
  const media = useRows('media');
  const show = useShow();
  const nameOf = named(show, `${kind}:${id}/x`).of;
  const store = (p: Property, number: number) => {
    const value = p.type === 'reference' ? (media.find((m) => referenceTo(m.id) === number)?.id ?? '') : number;
    return edit(`Change ${p.label}`, [
      update(kind as 'layer', { id, values: stored } as RowOf<'layer'>, { [`values.${p.name}`]: value as number }),
    ]);
  };
  const each = (properties[kind] as readonly Property[])
    .filter((property) => (only === undefined ? property.name !== 'source' : only.includes(property.name)))
    .flatMap((property) => property.slots.map((label, slot) => ({ property, label, slot })));
  const unmasked =
    (values[`${kind}:${id}/mask`] ?? 0) === 0 &&
    (stored.mask ?? '') === '' &&
    !curves.some((c) => c.property === 'mask');
  return each.map(({ property: p, label, slot }) => {
    const address = `${kind}:${id}/${slotOf(p.name, slot)}`;
    const loose = values[address];
    const curve = curves.find((c) => c.property === p.name && c.slot === slot);
    // How a mask cuts out is of no interest while there is none.
    if (unmasked && p.name.startsWith('mask') && p.name !== 'mask' && loose === undefined && curve === undefined)
      return null;
    // A route over time is nothing but its keyframes.
    const keyed = curve !== undefined || p.name === 'route';
    const key = (value: number) => program({ action: 'key', address, time: position(), value });
    // What is named has to be in the plan before it can be shown, and what can't be held is set on the timeline: neither is loose.
    const edited = !p.held || p.type === 'reference';
    const change = edited
      ? keyed
        ? key
        : (value: number) => store(p, value)
      : (value: number) => command({ action: 'live', values: { [address]: value } });
    return (
      <div
        key={label}
        style={{
          display: 'grid',
          gridTemplateColumns: '112px 1fr',
          alignItems: 'end',
          gap: 8,
          marginBottom: 8,
          ...(loose === undefined ? {} : { outline: '1px dashed var(--kl-loose)', outlineOffset: 4 }),
        }}
      >
        {keyed && loose === undefined ? (
          <AtPlayhead property={p} label={label} address={address} onChange={change} />
        ) : (
          <ValueField property={p} label={label} value={loose ?? numberOf(p, stored[p.name], slot)} onChange={change} />
        )}
        <span style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
          {loose !== undefined ? (
            <>
              <button
                type="button"
                className="plain"
                style={{ borderColor: 'var(--kl-loose)', color: 'var(--kl-loose)' }}
                onClick={() => void keep([address], false)}
              >
                Keep
              </button>
              <button
                type="button"
                className="plain"
                onClick={() => void keep([address], true)}
                title="Keep as a keyframe at the playhead"
              >
                + Key
              </button>
              <button
                type="button"
                className="plain"
                onClick={() => void command({ action: 'live', values: { [address]: null } })}
              >
                Discard
              </button>
            </>
          ) : (
            <span className="dim" style={{ fontSize: 12 }}>
              {edited && !keyed && (
                <button
                  type="button"
                  className="plain"
                  aria-label={`Keyframe of ${label}`}
                  title="A keyframe at the playhead"
                  onClick={() => void key(numberOf(p, stored[p.name], slot))}
                >
                  + Key
                </button>
              )}
              {curve === undefined
                ? p.held
                  ? 'stored'
                  : ''
                : `${curve.keyframes.length} ${curve.keyframes.length === 1 ? 'keyframe' : 'keyframes'}`}
            </span>
          )}
          {p.held && p.type !== 'reference' && (
            <button
              type="button"
              className="plain onhover"
              aria-label="Bind a control"
              title={`Bind a control (${label})`}
              onClick={() => learn({ meaning: 'value', targets: [{ target: address, name: `${nameOf} · ${label}` }] })}
            >
              Bind
            </button>
          )}
          {kind !== 'master' && p.held && <Why address={address} property={p} label={label} />}
        </span>
      </div>
    );
  });
}
