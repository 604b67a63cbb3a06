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
  const last = Math.max(-1, ...(shown()?.rows.effect ?? []).filter((effect) => effect[on] === id).map((effect) => effect.order));
  return edit(`Add ${name}`, [insert('effect', ulid(), { [on]: id, order: last + 1, values: { effect: name, ...firstOf(name) } as RowOf<'effect'>['values'] })]);
}
