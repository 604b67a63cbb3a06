import { type Property, properties } from '../api/kinds';

/** By kind and name: `layer/opacity`. */
export const propertyOf: ReadonlyMap<string, Property> = new Map(
  Object.entries<readonly Property[]>(properties).flatMap(([kind, list]) =>
    list.map((p) => [`${kind}/${p.name}`, p] as [string, Property]),
  ),
);

/** Whether it can lie between two values. */
export const mixes = (p: Property) => p.type === 'number' || p.type === 'colour';

/** The number by which a value names a row: the last nine characters of its id, in the alphabet of Crockford's base 32 (`core/Values/Reference.php`). */
export function referenceTo(id: string): number {
  if (id.length < 9) return 0;
  let number = 0;
  for (const character of id.slice(-9)) number = number * 32 + '0123456789abcdefghjkmnpqrstvwxyz'.indexOf(character);
  return number + 1;
}

/** One number of a value as a row or a keyframe has it; where nothing is stored, where it rests (`core/Values/Property.php`). */
export function numberOf(p: Property, stored: unknown, slot = 0): number {
  const one: unknown = Array.isArray(stored) ? stored[slot] : stored;
  if (typeof one === 'number') return one;
  if (typeof one === 'boolean') return one ? 1 : 0;
  if (p.type === 'reference') return typeof one === 'string' ? referenceTo(one) : p.default;
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
