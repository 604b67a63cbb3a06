import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Change, ShowDocument } from '../../resources/js/api/client';
import { Track } from '../../resources/js/live/values';
import { edited, type Row, update } from '../../resources/js/studio/rows';
import { snapped } from '../../resources/js/studio/views/routes/snap';

/** What holds for any input, found out by generated ones. */
const ids = fc.constantFrom('a', 'b', 'c', 'd');
const show = (rows: Row[]) => ({ id: 's', revision: 1, rows: { layer: rows } }) as unknown as ShowDocument;
const rowsOf = (of: ShowDocument) => (of.rows as unknown as { layer: Row[] }).layer;
const inverse = (changes: readonly Change[]) =>
  changes
    .map(
      (c) =>
        ({
          ...c,
          fields: Object.fromEntries(
            Object.entries(c.fields as Record<string, { before: unknown; after: unknown }>).map(([f, p]) => [
              f,
              { before: p.after, after: p.before },
            ]),
          ),
        }) as Change,
    )
    .reverse();

test('an Edit and its inverse leave every row as it was, whatever it changed and how often', () => {
  const row = fc.record({
    name: fc.string(),
    order: fc.integer(),
    values: fc.dictionary(fc.constantFrom('opacity', 'x'), fc.double({ noNaN: true })),
  });
  const steps = fc.array(
    fc.record({
      id: ids,
      field: fc.constantFrom('name', 'order', 'values.opacity', 'values.x', 'values.turn'),
      to: fc.option(fc.integer()),
    }),
    { maxLength: 20 },
  );
  fc.assert(
    fc.property(fc.uniqueArray(ids), row, steps, (all, one, wanted) => {
      const before = show(all.map((id) => ({ id, ...one })));
      let after = before;
      const done: Change[] = [];
      for (const { id, field, to } of wanted) {
        const is = rowsOf(after).find((r) => r.id === id);
        if (is === undefined) continue;
        const change = update('layer', is as never, { [field]: to } as never);
        done.push(change);
        after = edited(after, after.revision + 1, [change]);
      }
      expect(rowsOf(edited(before, 2, done))).toEqual(rowsOf(after));
      expect(rowsOf(edited(after, 9, inverse(done)))).toEqual(rowsOf(before));
    }),
    { numRuns: 500 },
  );
});

test('a track that was looked up elsewhere before says the same as a fresh one', () => {
  const pieces = fc.array(
    fc.tuple(
      fc.integer({ min: 1, max: 50 }),
      fc.array(fc.double({ min: -9, max: 9, noNaN: true }), { minLength: 4, maxLength: 4 }),
    ),
    { minLength: 1, maxLength: 30 },
  );
  fc.assert(
    fc.property(pieces, fc.array(fc.integer({ min: -60, max: 1600 }), { maxLength: 40 }), (list, times) => {
      let from = 0;
      const numbers = list.flatMap(([length, c]) => {
        from += length;
        return [from - length, ...c];
      });
      const used = Track.of(numbers);
      for (const time of times) {
        // The piece that begins last at or before the time, found by looking at all of them; before the first, its value.
        let at = 0;
        for (let i = 0; i < list.length; i++) if ((numbers[i * 5] as number) <= time) at = i;
        const s = Math.max(0, time - (numbers[at * 5] as number)) / 705_600_000;
        const [c0, c1, c2, c3] = numbers.slice(at * 5 + 1, at * 5 + 5) as [number, number, number, number];
        expect(used.at(time)).toBeCloseTo(c0 + c1 * s + c2 * s * s + c3 * s ** 3, 9);
      }
    }),
    { numRuns: 500 },
  );
});

test('what snaps lies on a line of another within reach, and on the nearest there is', () => {
  const length = fc.integer({ min: 1, max: 400 });
  fc.assert(
    fc.property(
      fc.integer({ min: -500, max: 500 }),
      length,
      fc.array(fc.tuple(fc.integer({ min: -500, max: 500 }), length), { maxLength: 8 }),
      fc.integer({ min: 1, max: 40 }),
      (at, size, others, reach) => {
        const lines = others.flatMap(([from, other]) => [from, from + other / 2, from + other]);
        const own = [at, at + size / 2, at + size];
        const nearest = Math.min(
          Number.POSITIVE_INFINITY,
          ...lines.flatMap((line) => own.map((mine) => Math.abs(line - mine))),
        );
        const found = snapped(at, size, others, reach);
        if (nearest >= reach) {
          expect(found).toBeNull();
          return;
        }
        expect(Math.abs((found?.at ?? Number.NaN) - at)).toBe(nearest);
        expect(lines).toContain(found?.line);
        expect([0, size / 2, size].map((part) => (found?.at ?? 0) + part)).toContain(found?.line);
      },
    ),
    { numRuns: 1000 },
  );
});
