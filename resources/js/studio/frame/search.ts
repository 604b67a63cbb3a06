export interface Findable {
  name: string;
  /** Other words by which people look for it. */
  words?: string;
}

const plain = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

const parts = (text: string) =>
  plain(text)
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/** Pairs of letters of a word, by which words that are spelt alike are alike. */
function pairs(word: string): Set<string> {
  const out = new Set<string>();
  for (let i = 0; i <= word.length; i++) out.add(` ${word} `.slice(i, i + 2));
  return out;
}

function likeness(a: string, b: string): number {
  const [x, y] = [pairs(a), pairs(b)];
  let both = 0;
  for (const pair of x) if (y.has(pair)) both++;
  return (2 * both) / (x.size + y.size);
}

/**
 * Those of which every word that was typed begins a word, or stands within one; those that begin with it come first. Where
 * there is none, the ones whose words are most like it, at most five, and none for what is like nothing.
 */
export function found<T extends Findable>(query: string, all: readonly T[]): { list: T[]; near: boolean } {
  const wanted = parts(query);
  if (wanted.length === 0) return { list: [...all], near: false };
  const ranked: { one: T; rank: number; at: number }[] = [];
  all.forEach((one, at) => {
    const own = parts(one.name);
    const more = parts(one.words ?? '');
    let rank = 0;
    for (const word of wanted) {
      const best = own.some((w) => w === word)
        ? 0
        : own.some((w) => w.startsWith(word))
          ? 1
          : more.some((w) => w.startsWith(word))
            ? 2
            : own.some((w) => w.includes(word))
              ? 3
              : -1;
      if (best < 0) return;
      rank += best;
    }
    ranked.push({ one, rank: rank + (plain(one.name).startsWith(plain(query.trim())) ? -1 : 0), at });
  });
  if (ranked.length > 0)
    return { list: ranked.sort((a, b) => a.rank - b.rank || a.at - b.at).map((r) => r.one), near: false };
  const near = all
    .map((one, at) => {
      const own = [...parts(one.name), ...parts(one.words ?? '')];
      return {
        one,
        at,
        like: wanted.reduce((sum, word) => sum + Math.max(0, ...own.map((w) => likeness(word, w))), 0) / wanted.length,
      };
    })
    .filter((n) => n.like >= 0.4)
    .sort((a, b) => b.like - a.like || a.at - b.at);
  return { list: near.slice(0, 5).map((n) => n.one), near: true };
}
