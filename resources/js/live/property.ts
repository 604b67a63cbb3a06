import type { Property } from '../api/kinds';

/** Whether it can lie between two values. */
export const mixes = (p: Property) => p.type === 'number' || p.type === 'colour';

/** One number of a value as a row or a keyframe has it; where nothing is stored, where it rests (`core/Values/Property.php`). */
export function numberOf(p: Property, stored: unknown, slot = 0): number {
  const one: unknown = Array.isArray(stored) ? stored[slot] : stored;
  if (typeof one === 'number') return one;
  if (typeof one === 'boolean') return one ? 1 : 0;
  const at = typeof one === 'string' ? p.options.indexOf(one) : -1;
  return at < 0 ? p.default : at;
}

/** A number of it in words. */
export function inWords(p: Property, value: number): string {
  if (p.type === 'switch') return value >= 0.5 ? 'on' : 'off';
  if (p.type === 'choice') return p.options[Math.round(value)] ?? '';
  return `${Number((value * p.scale).toFixed(2))} ${p.unit}`;
}

/** The part of an address that says which value of its owner it is. */
export const slotOf = (property: string, slot: number) => (slot === 0 ? property : `${property}#${slot}`);
