import { expect, test } from 'vitest';
import type { Change, ShowDocument } from '../../resources/js/api/client';
import { onTop, Replaced } from '../../resources/js/studio/rebase';
import { edited, fieldOf, figured, insert, type Row, remove, update } from '../../resources/js/studio/rows';

const show = (rows: Record<string, Row[]>, more: object = {}) =>
  ({ id: 's', name: 'Lantern Night', revision: 4, rows, computed: {}, ...more }) as unknown as ShowDocument;
const layer: Row = { id: 'l1', name: 'Ropes', order: 2, values: { opacity: 0.5 } };
const changed = (fields: Record<string, unknown>, op: Change['op'] = 'update', kind = 'layer', id = 'l1') =>
  ({ kind, id, op, fields }) as unknown as Change;

test('an Edit makes, changes and takes away rows and leaves the show it came from', () => {
  const before = show({ layer: [layer], clip: [{ id: 'c1' }] });
  const after = edited(before, 5, [
    changed({ name: { before: 'Ropes', after: 'Nets' } }),
    changed({}, 'delete', 'clip', 'c1'),
    changed({ name: { before: null, after: 'Swell' } }, 'create', 'clip', 'c2'),
    changed({ name: { before: null, after: 'Bell' } }, 'create', 'cue', 'q1'),
    changed({ name: { before: 'Lantern Night', after: 'Dress rehearsal' } }, 'update', 'show', 's'),
  ]);
  const rows = after.rows as unknown as Record<string, Row[]>;
  expect(after.revision).toBe(5);
  expect(after.name).toBe('Dress rehearsal');
  expect(rows.layer).toEqual([{ ...layer, name: 'Nets' }]);
  expect(rows.clip).toEqual([{ id: 'c2', name: 'Swell' }]);
  expect(rows.cue).toEqual([{ id: 'q1', name: 'Bell' }]);
  expect(before.rows).toEqual({ layer: [layer], clip: [{ id: 'c1' }] });
});

test('a stored value is a field of its own, and rests when it is null', () => {
  expect(fieldOf(layer, 'values.opacity')).toBe(0.5);
  expect(fieldOf(layer, 'values.x')).toBeNull();
  expect(fieldOf({ id: 'l2' }, 'values.x')).toBeNull();
  const set = edited(show({ layer: [layer] }), 5, [changed({ 'values.x': { before: null, after: 120 } })])
    .rows as unknown as Record<string, Row[]>;
  expect(set.layer?.[0]?.values).toEqual({ opacity: 0.5, x: 120 });
  const rest = edited(show({ layer: [layer] }), 5, [changed({ 'values.opacity': { before: 0.5, after: null } })])
    .rows as unknown as Record<string, Row[]>;
  expect(rest.layer?.[0]?.values).toEqual({});
  expect(layer.values).toEqual({ opacity: 0.5 });
});

test('an Edit made twice is the same: a row made again does not stand twice', () => {
  const made = [changed({ name: { before: null, after: 'Swell' } }, 'create', 'clip', 'c2')];
  const twice = edited(edited(show({ clip: [] }), 5, made), 6, made).rows as unknown as Record<string, Row[]>;
  expect(twice.clip).toEqual([{ id: 'c2', name: 'Swell' }]);
});

test('figures come over those that there are, and null takes one away', () => {
  const old = show({}, { computed: { surfaces: { a: { area: 3 }, b: { area: 4 } }, pixels: 100 } });
  expect(figured(old, { surfaces: { b: null, c: { area: 9 } }, pixels: 7 }).computed).toEqual({
    surfaces: { a: { area: 3 }, c: { area: 9 } },
    pixels: 7,
  });
  expect(figured(old, {}).computed).toEqual(old.computed);
});

test('changes are written from a row with what stood there before', () => {
  expect(update('layer', layer as never, { name: 'Nets', 'values.opacity': 1, 'values.x': 2 } as never)).toEqual({
    kind: 'layer',
    id: 'l1',
    op: 'update',
    fields: {
      name: { before: 'Ropes', after: 'Nets' },
      'values.opacity': { before: 0.5, after: 1 },
      'values.x': { before: null, after: 2 },
    },
  });
  expect(insert('cue', 'q1', { name: 'Bell' } as never)).toEqual({
    kind: 'cue',
    id: 'q1',
    op: 'create',
    fields: { name: { before: null, after: 'Bell' } },
  });
  expect(remove('cue', 'q1')).toEqual({ kind: 'cue', id: 'q1', op: 'delete', fields: {} });
});

test("a change thought of before one's own last edit is put on top of it", () => {
  const own = new Replaced();
  own.note([changed({ order: { before: 1, after: 2 } })], true);
  const [change] = own.rebased([changed({ order: { before: 1, after: 3 } })], () => layer);
  expect(change?.fields).toEqual({ order: { before: 2, after: 3 } });
});

test("a change thought of before somebody else's edit stays a clash", () => {
  const own = new Replaced();
  own.note([changed({ order: { before: 1, after: 5 } })], true);
  own.note([changed({ order: { before: 5, after: 2 } })], false);
  const wish = changed({ order: { before: 1, after: 3 } });
  expect(own.rebased([wish], () => layer)).toEqual([wish]);
  // Another field of the same row, or a row that is gone, is left as it was asked for.
  const other = changed({ name: { before: 'Lines', after: 'Nets' } });
  expect(own.rebased([other], () => layer)).toEqual([other]);
  expect(own.rebased([wish], () => undefined)).toEqual([wish]);
});

test('only as many replaced values are kept as edits can be under way', () => {
  const own = new Replaced();
  for (let n = 0; n <= Replaced.KEPT; n++) own.note([changed({ order: { before: n, after: n + 1 } })], true);
  const row = { ...layer, order: Replaced.KEPT + 1 };
  const from = (before: number) =>
    own.rebased([changed({ order: { before, after: 99 } })], () => row)[0]?.fields as Record<
      string,
      { before: number }
    >;
  expect(from(0).order?.before).toBe(0);
  expect(from(1).order?.before).toBe(Replaced.KEPT + 1);
  expect(from(Replaced.KEPT).order?.before).toBe(Replaced.KEPT + 1);
});

test('on top of a place that moved meanwhile, only what was meant is moved', () => {
  // Dragged along x by one's own hand, then y typed from the place of before: both stay.
  expect(onTop({ x: 1, y: 2 }, { x: 1, y: 9 }, { x: 5, y: 2 })).toEqual({ x: 5, y: 9 });
  expect(onTop([1, 2, 3], [1, 2, 9], [7, 2, 3])).toEqual([7, 2, 9]);
  // Lists of another length have no places to compare: the later word stands.
  expect(onTop([1, 2], [1, 2, 3], [4, 2])).toEqual([1, 2, 3]);
  expect(onTop(1, 2, 3)).toBe(2);
  expect(onTop(null, { x: 1 }, { x: 2 })).toEqual({ x: 1 });
});
