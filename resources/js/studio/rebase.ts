import type { Change, Kind } from '../api/client';
import { fieldOf, type Row } from './rows';

const plain = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null;

/** The part of a change that this window meant, on top of what its own edits have made of the value meanwhile. */
export function onTop(before: unknown, after: unknown, present: unknown): unknown {
  if (!plain(before) || !plain(after) || !plain(present)) return after;
  if (Array.isArray(after) && Array.isArray(present) && after.length === present.length)
    return after.map((v, i) =>
      JSON.stringify(v) === JSON.stringify((before as unknown as unknown[])[i]) ? present[i] : v,
    );
  if (Array.isArray(after)) return after;
  return {
    ...(Array.isArray(present) ? {} : present),
    ...Object.fromEntries(Object.entries(after).filter(([k, v]) => JSON.stringify(v) !== JSON.stringify(before[k]))),
  };
}

const place = (change: { kind: string; id: string }, field: string) => `${change.kind} ${change.id} ${field}`;

type Seen = { kind: string; id: string; fields: Record<string, unknown> };

/**
 * What this person's own edits have replaced, by field, since somebody else last changed it: a change
 * that was thought of from such a value is put on top of what came after, anybody else's stays a clash.
 */
export class Replaced {
  private readonly values = new Map<string, Set<string>>();

  /** Values kept for a field: more edits than this are never under way at once. */
  static readonly KEPT = 9;

  /** Takes note of an Edit that was done, one's own or another's. */
  note(changes: readonly Seen[], own: boolean): void {
    for (const change of changes) {
      for (const [field, pair] of Object.entries(change.fields)) {
        const at = place(change, field);
        if (!own) this.values.delete(at);
        else
          this.values.set(
            at,
            new Set([
              ...[...(this.values.get(at) ?? [])].slice(1 - Replaced.KEPT),
              JSON.stringify((pair as { before: unknown }).before),
            ]),
          );
      }
    }
  }

  /** Changes that were thought of before an earlier edit of this person's was done, put on top of it. */
  rebased(changes: readonly Change[], rowOf: (kind: Kind, id: string) => Row | undefined): Change[] {
    return changes.map((change) => {
      const row = change.op === 'update' && change.kind !== 'show' ? rowOf(change.kind as Kind, change.id) : undefined;
      if (row === undefined) return change;
      const fields = Object.entries(change.fields).map(([field, pair]) => {
        const { before, after } = pair as { before: unknown; after: unknown };
        const present = fieldOf(row, field);
        const stale =
          JSON.stringify(before) !== JSON.stringify(present) &&
          this.values.get(place(change, field))?.has(JSON.stringify(before)) === true;
        return [field, stale ? { before: present, after: onTop(before, after, present) } : pair];
      });
      return { ...change, fields: Object.fromEntries(fields) };
    });
  }
}
