import type { RowOf } from '../api/client';
import { effects } from '../api/kinds';
import { edit, insert, shown } from './store';
import { ulid } from './time';

/** In the order of their numbers. */
export const EFFECTS = Object.keys(effects);

/** What an effect begins with: its first preset. */
export const firstOf = (name: string) => Object.values(effects[name]?.presets ?? {})[0] ?? {};

/** Puts an effect after those that a layer or a clip has. */
export function addEffect(on: 'layer' | 'clip', id: string, name: string) {
  const last = Math.max(
    -1,
    ...(shown()?.rows.effect ?? []).filter((effect) => effect[on] === id).map((effect) => effect.order),
  );
  return edit(`Add ${name}`, [
    insert('effect', ulid(), {
      [on]: id,
      order: last + 1,
      values: { effect: name, ...firstOf(name) } as RowOf<'effect'>['values'],
    }),
  ]);
}

/** What an effect is called, and what it is made of by what is stored. */
export const nameOf = (effect: RowOf<'effect'>) => String((effect.values as Record<string, unknown>).effect ?? 'none');
export const valuesOf = (effect: RowOf<'effect'>): readonly string[] => [
  'on',
  'mix',
  ...(effects[nameOf(effect)]?.values ?? []),
];

/** The names of the effects that are on, by the layer or clip that has them. */
export function chainsOf(effects: readonly RowOf<'effect'>[]): ReadonlyMap<string, readonly string[]> {
  const chains = new Map<string, string[]>();
  for (const effect of inChain(effects)) {
    const { effect: name, on } = effect.values as Record<string, unknown>;
    const owner = effect.layer ?? effect.clip;
    if (owner === null || typeof name !== 'string' || name === 'none' || on === false) continue;
    chains.set(owner, [...(chains.get(owner) ?? []), name]);
  }
  return chains;
}

/** The effects of a layer, in the order in which they follow each other, and then those of its clips. */
export function onLayer(
  effects: readonly RowOf<'effect'>[],
  layer: string,
  clips: readonly RowOf<'clip'>[],
): RowOf<'effect'>[] {
  const its = new Set(clips.map((c) => c.id));
  return [
    ...inChain(effects.filter((e) => e.layer === layer)),
    ...inChain(effects.filter((e) => e.clip !== null && its.has(e.clip))),
  ];
}

/** In the order in which they follow each other. */
export const inChain = (effects: readonly RowOf<'effect'>[]) =>
  [...effects].sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));
