import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { LaneStore, planOf } from '../resources/js/live/lanes';
import { timecode, ulid } from '../resources/js/studio/time';

const root = join(import.meta.dirname, '..');
const php = (code: string) => JSON.parse(execFileSync('php', ['-r', `require "vendor/autoload.php"; ${code}`], { cwd: root, encoding: 'utf8', maxBuffer: 64 * 1024 * 1024 }));

const bytes = (base64: string) => {
  const buffer = Buffer.from(base64, 'base64');
  return buffer.buffer.slice(buffer.byteOffset, buffer.byteOffset + buffer.length) as ArrayBuffer;
};

test('a player reads from chunks what the core reads from them, whatever generation overtakes which', () => {
  const told = php(`
    use Core\\Playback\\{Chunk, LaneStore};
    mt_srand(42);
    $store = new LaneStore; $chunks = []; $asked = [];
    for ($i = 0; $i < 60; $i++) {
      $lanes = [];
      foreach ([0, 1, 2, 5] as $n) {
        if (mt_rand(0, 2) === 0) continue;
        $kind = mt_rand(0, 2); $count = mt_rand(2, 12);
        $lanes[$n] = ['generation' => intdiv($i, 3) + mt_rand(0, 2), 'kind' => $kind, 'values' => array_map(static fn () => mt_rand(-500, 500) / 4, range(1, $kind === 0 ? 1 : $count))];
      }
      if ($lanes === []) continue;
      $start = 1000 * $i + mt_rand(0, 400);
      $chunk = Chunk::of(7, false, $start, mt_rand(0, 3) === 0 ? Chunk::OPEN_END : $start + mt_rand(300, 4000), 100, 0, $lanes);
      $store->add(Chunk::fromBytes($chunk->toBytes()));
      $chunks[] = base64_encode($chunk->toBytes());
      for ($k = 0; $k < 8; $k++) {
        // What is asked for lies at the time of the newest chunk or after: players never look back.
        $lane = [0, 1, 2, 5][mt_rand(0, 3)]; $at = $start + mt_rand(0, 3000);
        $asked[] = [count($chunks), $lane, $at, $start, $store->at($lane, $at)];
      }
    }
    echo json_encode(['chunks' => $chunks, 'asked' => $asked]);
  `) as { chunks: string[]; asked: [number, number, number, number, { value: number; generation: number } | null][] };
  expect(told.asked.length).toBeGreaterThan(300);
  const store = new LaneStore();
  let added = 0;
  let answered = 0;
  for (const [after, lane, at, now, expected] of told.asked) {
    while (added < after) store.add(bytes(told.chunks[added++] as string), now);
    const got = store.at(lane, at);
    if (expected === null) {
      expect(got).toBeNull();
      continue;
    }
    answered++;
    expect(got?.generation, `lane ${lane} at ${at} after ${after} chunks`).toBe(expected.generation);
    expect(got?.value).toBeCloseTo(expected.value, 4);
  }
  expect(answered).toBeGreaterThan(250);
});

test('a chunk names its plan, and one of another version is left alone', () => {
  const { good, other } = php(`
    use Core\\Playback\\Chunk;
    $b = Chunk::of(77, true, 0, 100, 10, 0, [3 => ['generation' => 1, 'kind' => 0, 'values' => [0.5]]])->toBytes();
    echo json_encode(['good' => base64_encode($b), 'other' => base64_encode("\\x02".substr($b, 1))]);
  `) as { good: string; other: string };
  expect(planOf(bytes(good))).toBe(77);
  const store = new LaneStore();
  store.add(bytes(other), 0);
  expect(store.at(3, 50)).toBeNull();
  store.add(bytes(good), 0);
  expect(store.get(3, 50)).toBe(0.5);
  expect(store.get(4, 50, 9)).toBe(9);
});

test('what is past is let go of, so that a player may run for days', () => {
  const { chunks } = php(`
    use Core\\Playback\\Chunk;
    $chunks = [];
    for ($i = 0; $i < 2000; $i++) $chunks[] = base64_encode(Chunk::of(1, true, $i * 1000, $i * 1000 + 1000, 100, 0, [0 => ['generation' => 1, 'kind' => 1, 'values' => range($i, $i + 9)]])->toBytes());
    echo json_encode(['chunks' => $chunks]);
  `) as { chunks: string[] };
  const store = new LaneStore();
  chunks.forEach((chunk, i) => {
    store.add(bytes(chunk), i * 1000 - 500);
  });
  expect(store.get(0, 1_999_950)).toBe(2008);
  const held = (store as unknown as { lanes: Map<number, unknown[]> }).lanes.get(0)?.length ?? 0;
  expect(held).toBeLessThan(8);
});

test('timecode for the eye is the timecode of the core, at every rate', () => {
  const told = php(`
    use Core\\Units\\{FrameRate, Timecode};
    mt_srand(5);
    $all = [];
    foreach (FrameRate::names() as $name) {
      $rate = FrameRate::of($name);
      foreach ([0, 1, 1799, 1800, 1801, 17981, 17982, 3599, 3600, 35963, 35964, 107892, ...array_map(static fn () => mt_rand(0, 5_000_000), range(1, 60))] as $frame) {
        $flicks = $frame * $rate->flicksPerFrame + mt_rand(0, $rate->flicksPerFrame - 1);
        $all[] = [$name, $rate->flicksPerFrame, $flicks, Timecode::format($flicks, $rate)];
      }
    }
    echo json_encode($all);
  `) as [string, number, number, string][];
  for (const [rate, frame, flicks, text] of told) expect(timecode(flicks, rate, frame), `${rate} at ${flicks}`).toBe(text);
  expect(told.length).toBeGreaterThan(800);
});

test('new ids are ULIDs that the server takes, in the order in which they were made', () => {
  const made = Array.from({ length: 500 }, () => ulid());
  expect(new Set(made).size).toBe(500);
  for (const id of made) expect(id).toMatch(/^[0-9a-hjkmnp-tv-z]{26}$/);
  const heads = made.map((id) => id.slice(0, 10));
  expect([...heads].sort()).toEqual(heads);
});
