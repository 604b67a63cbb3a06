import { describe, expect, test } from 'vitest';
import { bent, offsetOf, scaled, straight } from '../../resources/js/rig/throw';

/** Corners of a picture at one metre, as far from the axis as 3 and 4 make 5. */
const CORNERS = [
  [-0.3, 0.4, -1],
  [0.3, 0.4, -1],
  [0.3, -0.4, -1],
  [-0.3, -0.4, -1],
];

describe('a projector of the virtual rig whose lens bends', () => {
  test('has its corners where a straight one would have them', () => {
    // r = 0.5: 1 + 0.2 · 0.25 = 1.05 times as far.
    for (const [i, [x = 0, y = 0, z]] of straight(CORNERS, 0.2).entries()) {
      expect(x).toBeCloseTo(1.05 * (CORNERS[i]?.[0] ?? 0), 12);
      expect(y).toBeCloseTo(1.05 * (CORNERS[i]?.[1] ?? 0), 12);
      expect(z).toBeCloseTo(-1, 12);
    }
    expect(straight(CORNERS, 0)).toEqual(CORNERS.map((c) => c.map((v) => expect.closeTo(v, 12))));
  });

  test('knows its axis, its size and how much wider it reaches', () => {
    const { axis, size, wide } = bent({ origin: [0, 0, 0], corners: straight(CORNERS, -0.2), bend: -0.2 });
    expect(axis[0]).toBeCloseTo(0.5, 9);
    expect(axis[1]).toBeCloseTo(0.5, 9);
    // 0.95 times 0.6 and 0.8.
    expect(size[0]).toBeCloseTo(0.57, 9);
    expect(size[1]).toBeCloseTo(0.76, 9);
    expect(wide).toBeCloseTo(1 / 0.95, 6);
    // A picture that is shifted has its axis aside.
    const shifted = CORNERS.map(([x = 0, y = 0, z = 0]) => [x + 0.3, y, z]);
    expect(bent({ origin: [0, 0, 0], corners: shifted }).axis[0]).toBeCloseTo(0, 9);
    expect(bent({ origin: [0, 0, 0], corners: shifted }).wide).toBe(1);
  });
});

test('over a table a projector hangs by less otherwise than planned, and turned by as much', () => {
  const whole = offsetOf('p');
  expect(scaled(whole, 12)).toEqual(whole);
  const near = scaled(whole, 0.5);
  for (const i of [0, 1, 2] as const) expect(near.move[i]).toBeCloseTo(whole.move[i] / 10, 12);
  expect([near.turn, near.zoom]).toEqual([whole.turn, whole.zoom]);
});
