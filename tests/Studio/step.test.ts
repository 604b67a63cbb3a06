import { expect, test } from 'vitest';
import type { Mesh } from '../../resources/js/live/plan';
import { DrawStep } from '../../resources/js/player/step';

/** A step that uses everything that a step can have. */
function full(): DrawStep {
  const step = new DrawStep();
  step.throwsOf();
  step.mask.on = true;
  step.thrown.count = 1;
  step.thrown.mesh = {} as Mesh;
  step.clip = [0, 0, 10, 10];
  step.nextPass();
  step.chained = 1;
  step.nextPass();
  return step;
}

const named = ({ key, frame, use, pattern }: DrawStep['shot']) => `${key} ${frame} ${use} ${pattern.join(' ')}`;

/** Values of an object and of those within it, as paths that lead to them. */
function paths(of: object, path: string[] = []): string[][] {
  return Object.entries(of).flatMap(([name, value]) =>
    value !== null && typeof value === 'object' && !ArrayBuffer.isView(value) && Object.keys(value).length > 0
      ? paths(value, [...path, name])
      : [[...path, name]],
  );
}

/** Changes one value of a step. */
function changed(path: string[]): DrawStep {
  const step = full();
  // biome-ignore lint/suspicious/noExplicitAny: goes down any path
  let at = step as any;
  for (const name of path.slice(0, -1)) at = at[name];
  const last = path.at(-1) as string;
  const old = at[last];
  if (ArrayBuffer.isView(old)) (old as Float32Array)[0] = 7;
  else if (typeof old === 'boolean') at[last] = !old;
  else if (typeof old === 'string') at[last] = `${old}x`;
  else if (typeof old === 'number') at[last] = old + 1;
  else throw new Error(`${path.join('.')} cannot be changed`);
  return step;
}

// The media of a shot is told by the name of its picture; the triangles and the true shape of a surface change with the
// plan; the second effect is not counted.
const ELSEWHERE = ['shot.media', 'mask.shot.media', 'thrown.mesh', 'thrown.round', 'passes.1'];

test('every value of a step is in its text, so that a change of any draws it anew', () => {
  const all = paths(full()).filter((path) => !ELSEWHERE.some((name) => path.join('.').startsWith(name)));
  expect(all.length).toBeGreaterThan(40);
  const text = full().text(named);
  const same = all.filter((path) => changed(path).text(named) === text).map((path) => path.join('.'));
  expect(same).toEqual([]);
});

test('a step that is begun anew has nothing of the one before', () => {
  for (const path of paths(full())) {
    if (ELSEWHERE.some((name) => path.join('.').startsWith(name))) continue;
    expect(changed(path).reset().text(named), path.join('.')).toBe(new DrawStep().text(named));
  }
});
