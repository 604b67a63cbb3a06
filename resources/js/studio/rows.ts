import type { Change, Kind, RowOf, ShowDocument } from '../api/client';

export type Row = Record<string, unknown>;

/** A row after a change: `values.opacity` is one of its stored values, null lets it rest. */
export function withValues(row: Record<string, unknown>, after: Row): Row {
  const next = { ...row };
  for (const [field, value] of Object.entries(after)) {
    if (!field.startsWith('values.')) next[field] = value;
    else {
      const values = { ...(next.values as Record<string, unknown>) };
      if (value === null) delete values[field.slice(7)];
      else values[field.slice(7)] = value;
      next.values = values;
    }
  }
  return next;
}

/** What a field of a row is: a stored value by its own name too. */
export const fieldOf = (row: Record<string, unknown>, field: string): unknown =>
  field.startsWith('values.')
    ? ((row.values as Record<string, unknown> | undefined)?.[field.slice(7)] ?? null)
    : row[field];

/** The show one Edit further: what it changed, made, or took away. */
export function edited(show: ShowDocument, revision: number, changes: readonly Change[]): ShowDocument {
  const rows = { ...show.rows } as Record<string, Row[]>;
  let next: ShowDocument = { ...show, revision };
  for (const change of changes) {
    const after = Object.fromEntries(
      Object.entries(change.fields).map(([field, pair]) => [field, (pair as { after: unknown }).after]),
    );
    if (change.kind === 'show') {
      next = { ...next, ...after };
      continue;
    }
    const list = rows[change.kind] ?? [];
    if (change.op === 'delete') rows[change.kind] = list.filter((r) => r.id !== change.id);
    else if (change.op === 'create')
      rows[change.kind] = [...list.filter((r) => r.id !== change.id), { id: change.id, ...after }];
    else rows[change.kind] = list.map((r) => (r.id === change.id ? withValues(r, after) : r));
  }
  return { ...next, rows: rows as unknown as ShowDocument['rows'] };
}

type Computed = Record<string, Row | number>;

/** Figures that were computed anew over those that there are; null takes one away. */
export function figured(show: ShowDocument, figures: unknown): ShowDocument {
  const computed = { ...(show.computed as unknown as Computed) };
  for (const [group, entries] of Object.entries(figures as Computed)) {
    computed[group] =
      typeof entries === 'number'
        ? entries
        : Object.fromEntries(
            Object.entries({ ...(computed[group] as Row), ...entries }).filter(([, entry]) => entry !== null),
          );
  }
  return { ...show, computed: computed as unknown as ShowDocument['computed'] };
}

export function update<K extends Kind>(
  kind: K,
  row: RowOf<K>,
  fields: Partial<RowOf<K>> | Record<`values.${string}`, number | null>,
): Change {
  return {
    kind,
    id: row.id,
    op: 'update',
    fields: Object.fromEntries(
      Object.entries(fields).map(([field, after]) => [
        field,
        { before: fieldOf(row as Record<string, unknown>, field) ?? null, after },
      ]),
    ),
  } as Change;
}

export function insert<K extends Kind>(kind: K, id: string, fields: Partial<RowOf<K>>): Change {
  return {
    kind,
    id,
    op: 'create',
    fields: Object.fromEntries(Object.entries(fields).map(([field, after]) => [field, { before: null, after }])),
  } as Change;
}

export const remove = (kind: Kind, id: string): Change => ({ kind, id, op: 'delete', fields: {} });
