/** Where the pixels of a surface's raster are on an output, as an LED processor is told: a source rectangle, mirrored, turned clockwise, onto a place. */
export interface Patched {
  source: number[];
  turn: number;
  mirror: boolean;
}

/** The matrix from pixels of the raster to pixels of the output, as a canvas takes it: x = a·px + c·py + e, y = b·px + d·py + f. */
export function patchOf(
  { source, turn, mirror }: Patched,
  place: readonly number[],
): [number, number, number, number, number, number] {
  const [sx = 0, sy = 0, sw = 1, sh = 1] = source;
  const [x = 0, y = 0, w = 1, h = 1] = place;
  // From the unit square of the source to that of the place.
  const turned = (
    { 0: [1, 0, 0, 1, 0, 0], 90: [0, 1, -1, 0, 1, 0], 180: [-1, 0, 0, -1, 1, 1], 270: [0, -1, 1, 0, 0, 1] } as Record<
      number,
      number[]
    >
  )[turn] ?? [1, 0, 0, 1, 0, 0];
  const [a = 1, b = 0, c = 0, d = 1, e = 0, f = 0] = turned;
  const [ka, kb, ke, kf] = mirror ? [-a, -b, e + a, f + b] : [a, b, e, f];
  const [ma, mb, mc, md] = [(w * ka) / sw, (h * kb) / sw, (w * c) / sh, (h * d) / sh];
  return [ma, mb, mc, md, x + w * ke - ma * sx - mc * sy, y + h * kf - mb * sx - md * sy];
}
