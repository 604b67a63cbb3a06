import { useEffect, useMemo, useState } from 'react';
import type { Tokens } from './Scene';

/** Colours of the theme as the scene takes them, again when the theme changes. */
export function useTokens(): Tokens {
  const [version, setVersion] = useState(0);
  useEffect(() => {
    const watch = new MutationObserver(() => setVersion((n) => n + 1));
    watch.observe(document.documentElement, { attributes: true, attributeFilter: ['data-mantine-color-scheme'] });
    return () => watch.disconnect();
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme's change is what makes the tokens differ
  return useMemo(() => {
    const style = getComputedStyle(document.documentElement);
    const token = (name: string) => style.getPropertyValue(`--kl-${name}`).trim() || 'gray';
    return {
      ink9: token('ink9'),
      ink7: token('ink7'),
      ink6: token('ink6'),
      line: token('line'),
      text: token('text'),
      dim: token('dim'),
      kite: token('kite'),
      straw: token('straw'),
      sage: token('sage'),
      loose: token('loose'),
      ramp: [0, 1, 2, 3, 4].map((i) => token(`ramp${i}`)),
    };
  }, [version]);
}
