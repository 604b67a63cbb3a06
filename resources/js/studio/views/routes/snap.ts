/** Edges and middle of a length that begins at `at`. */
const marks = (at: number, length: number) => [at, at + length / 2, at + length];

/**
 * Brings a length to where its edges or middle meet those of others.
 *
 * @param others begin and length of each
 * @returns where it begins, and the line where they meet; null where nothing is near
 */
export function snapped(
  at: number,
  length: number,
  others: readonly (readonly [number, number])[],
  reach: number,
): { at: number; line: number } | null {
  let best: { at: number; line: number } | null = null;
  let near = reach;
  for (const [from, size] of others) {
    for (const line of marks(from, size)) {
      for (const own of marks(at, length)) {
        const off = Math.abs(line - own);
        if (off < near) {
          near = off;
          best = { at: at + line - own, line };
        }
      }
    }
  }
  return best;
}
