import { Select, Switch } from '@mantine/core';
import type { Property } from '../../api/kinds';
import { NumberField } from './fields';

/** One number of a value, as what it is: a number with its unit, a switch, or a choice. */
export function ValueField({ property: p, label, value, onChange }: { property: Property; label: string; value: number; onChange: (value: number) => unknown }) {
  if (p.type === 'switch') return <Switch label={label} aria-label={p.label} checked={value >= 0.5} onChange={(e) => void onChange(e.currentTarget.checked ? 1 : 0)} />;
  if (p.type === 'choice')
    return <Select label={label} aria-label={p.label} allowDeselect={false} data={[...p.options]} value={p.options[Math.round(value)] ?? null} onChange={(name) => name !== null && void onChange(p.options.indexOf(name))} />;
  return <NumberField label={label} unit={p.unit} scale={p.scale} step={p.step} digits={p.digits} value={value} onChange={onChange} />;
}
