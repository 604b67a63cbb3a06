/**
 * By how much taps come after the clicks that they were meant for, in ms: the median of their distances to the nearest click, with its
 * spread (the median of the distances from it). The first taps find the beat and do not count. Null with fewer than six left.
 *
 * @param taps ms of a clock
 * @param clicks ms of the same clock, when each is heard
 */
export function latencyOf(
  taps: readonly number[],
  clicks: readonly number[],
): { latency: number; spread: number; count: number } | null {
  const FIRST = 2;
  const offsets = taps
    .slice(FIRST)
    .map((tap) =>
      clicks.reduce(
        (best, click) => (Math.abs(tap - click) < Math.abs(best) ? tap - click : best),
        Number.POSITIVE_INFINITY,
      ),
    )
    .filter((offset) => Number.isFinite(offset));
  if (offsets.length < 6) return null;
  const median = (list: number[]) => {
    const sorted = [...list].sort((a, b) => a - b);
    const middle = sorted.length >> 1;
    return sorted.length % 2 === 1
      ? (sorted[middle] as number)
      : ((sorted[middle - 1] as number) + (sorted[middle] as number)) / 2;
  };
  const latency = median(offsets);
  return { latency, spread: median(offsets.map((offset) => Math.abs(offset - latency))), count: offsets.length };
}
