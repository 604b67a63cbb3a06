import { Select, Switch } from '@mantine/core';
import type { Kind } from '../../api/client';
import type { Property } from '../../api/kinds';
import { inWords, referenceTo } from '../../live/property';
import { useRows } from '../hooks';
import { NumberField } from './fields';

/** Rows that a reference may name: those with a name of their own. */
export function useReferred(p: Property): { number: number; name: string }[] {
  const rows = useRows((p.type === 'reference' ? p.options[0] : 'route') as Kind) as { id: string; name?: string }[];
  return p.type === 'reference'
    ? rows.filter((r) => (r.name ?? '') !== '').map((r) => ({ number: referenceTo(r.id), name: r.name ?? '' }))
    : [];
}

/** What a reference to no row of a kind means. */
const NONE: Record<string, string> = { route: 'as aimed', media: 'none' };

/** A number of a value in words, references by the names of what they name. */
export function useWords(p: Property): (value: number) => string {
  const referred = useReferred(p);
  return (value) =>
    p.type === 'reference'
      ? (referred.find((r) => r.number === value)?.name ??
        (value === 0 ? (NONE[p.options[0] ?? ''] ?? 'none') : 'gone'))
      : inWords(p, value);
}

/** One number of a value, as what it is: a number with its unit, a switch, a choice, or the name of a row. */
export function ValueField({
  property: p,
  label,
  value,
  onChange,
}: {
  property: Property;
  label: string;
  value: number;
  onChange: (value: number) => unknown;
}) {
  const referred = useReferred(p);
  if (p.type === 'switch')
    return (
      <Switch
        label={label}
        aria-label={p.label}
        checked={value >= 0.5}
        onChange={(e) => void onChange(e.currentTarget.checked ? 1 : 0)}
      />
    );
  if (p.type === 'choice')
    return (
      <Select
        label={label}
        aria-label={p.label}
        allowDeselect={false}
        data={[...p.options]}
        value={p.options[Math.round(value)] ?? null}
        onChange={(name) => name !== null && void onChange(p.options.indexOf(name))}
      />
    );
  if (p.type === 'reference')
    return (
      <Select
        label={label}
        aria-label={p.label}
        allowDeselect={false}
        searchable={referred.length > 8}
        data={[
          { value: '0', label: NONE[p.options[0] ?? ''] ?? 'none' },
          ...referred.map((r) => ({ value: String(r.number), label: r.name })),
        ]}
        value={String(value)}
        onChange={(number) => number !== null && void onChange(Number(number))}
      />
    );
  return (
    <NumberField
      label={label}
      unit={p.unit}
      scale={p.scale}
      step={p.step}
      digits={p.digits}
      value={value}
      onChange={onChange}
    />
  );
}
