import { create } from 'zustand';
import { command } from './store';

/** What a light is sent in place of the show. */
export interface LightTest {
  kind: 'pixel' | 'row' | 'column' | 'channel' | 'colour' | 'chase' | 'identify' | 'blind';
  number?: number;
  colour?: [number, number, number];
}

/** Ms after which a test that is held is told again: it ends by itself otherwise. */
const AGAIN = 4000;

const timers = new Map<string, ReturnType<typeof setInterval>>();

/** Tests that this window holds, by patch. */
export const useTests = create<Record<string, LightTest>>(() => ({}));

/** Has a light tested until another test, or none, is told. */
export function testLight(patch: string, test: LightTest | null) {
  clearInterval(timers.get(patch));
  timers.delete(patch);
  useTests.setState((all) => {
    const { [patch]: _, ...others } = all;
    return test === null ? others : { ...others, [patch]: test };
  }, true);
  const tell = () => command({ action: 'light', patch, ...(test === null ? {} : { test: { ...test } }) });
  if (test !== null)
    timers.set(
      patch,
      setInterval(() => void tell(), AGAIN),
    );
  return tell();
}
