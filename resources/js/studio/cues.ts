import type { RowOf, ShowDocument } from '../api/client';
import type { Property } from '../api/kinds';
import { propertyOf } from '../live/property';
import { nameOf } from './effects';
import { command, live, shownPlayback } from './store';

type Held = RowOf<'cue'>['held'][number];

/** What an address names: the thing, the value, and how that is written. */
export function named(
  show: ShowDocument | undefined,
  address: string,
): { of: string; label: string; property: Property | undefined } {
  const [kind = '', rest = ''] = address.split(':');
  const [id = '', value = ''] = rest.split('/');
  const [name = '', slot = '0'] = value.split('#');
  const property = propertyOf.get(`${kind}/${name}`);
  const row = (show?.rows[kind as 'layer'] as { id: string; name?: string }[] | undefined)?.find((r) => r.id === id);
  if (kind === 'effect') {
    // An effect is called by what it does, on the layer that it is on.
    const effect = show?.rows.effect.find((e) => e.id === id);
    const layer = show?.rows.layer.find(
      (l) => l.id === (effect?.layer ?? show.rows.clip.find((c) => c.id === effect?.clip)?.layer),
    );
    const does = effect === undefined ? 'none' : nameOf(effect);
    return {
      of: layer?.name ?? 'removed',
      label: `${does === 'none' ? 'effect' : does}: ${property?.slots[Number(slot)] ?? name}`,
      property,
    };
  }
  return {
    of: row?.name ?? (row === undefined ? 'removed' : kind),
    label:
      (property !== undefined && property.slots.length > 1 ? property.slots[Number(slot)] : property?.label) ?? name,
    property,
  };
}

/** How a cue is on at this moment, as the engine told it; undefined while it is not. */
export const onNow = (id: string) => shownPlayback()?.cues?.on[id];

/** How far a fade is at this moment, 0 to 1. */
export function progress(on: { at: number; until: number }): number {
  const now = live.now();
  return now === null || on.until <= on.at ? 1 : Math.max(0, Math.min(1, (now - on.at) / (on.until - on.at)));
}

/** Who fired a cue, in words. */
export function by(who: string): string {
  // A person's id, and after it what they are called.
  const [id = '', name] = [who.slice(0, 26), who.slice(27)];
  return (
    {
      timeline: 'by its timeline',
      follow: 'by the cue before',
      clock: 'by the clock',
      OSC: 'by OSC',
      MIDI: 'by MIDI',
      KEYS: 'by a key',
      '': '',
    }[who] ?? (id === live.person ? 'by you' : name === '' ? 'by someone else' : `by ${name}`)
  );
}

export const fire = (cue: string) => command({ action: 'fire', cue });
export const release = (cue: string) => command({ action: 'release', cue });
export const press = (cue: string) => (onNow(cue) === undefined ? fire(cue) : release(cue));

/** Values of layers first, by their names. */
export const sorted = (show: ShowDocument | undefined, held: readonly Held[]) =>
  held
    .map((entry, index) => ({ entry, index, ...named(show, entry.a) }))
    .sort((a, b) => (a.of < b.of ? -1 : a.of > b.of ? 1 : 0));

/** A number of a cue as a number; what has none comes last (`core/Cues/CueNumber.php`). */
export const inOrder = (a: { number: string; id: string }, b: { number: string; id: string }) => {
  const n = (text: string) => {
    const found = /^\s*\d+(?:\.\d+)?/.exec(text);
    return found === null ? Number.POSITIVE_INFINITY : Number(found[0]);
  };
  const [x, y] = [n(a.number), n(b.number)];
  return x === y ? (a.number < b.number ? -1 : a.number > b.number ? 1 : a.id < b.id ? -1 : 1) : x - y;
};
