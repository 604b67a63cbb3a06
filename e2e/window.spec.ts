import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { type Property, properties } from '../resources/js/api/kinds';
import type { Live } from '../resources/js/live/client';
import type { DeckMessage, HeldData } from '../resources/js/live/messages';
import { Playback, ShowPlayback } from '../resources/js/live/playback';
import { inWords, mixes, numberOf, referenceTo, slotOf } from '../resources/js/live/property';
import { type Ending, follow } from '../resources/js/studio/drag';
import { timecode, ulid } from '../resources/js/studio/time';
import { filesOf } from '../resources/js/studio/views/media/dropped';
import { latencyOf } from '../resources/js/studio/views/timeline/latency';
import { dusk, paper, type Token } from '../resources/js/theme/tokens';
import { bytesOf, core } from './core';

/** The parts of a window that need no page: what it keeps of a show, what it writes, what it follows, how it is coloured. */
const S = 705_600_000;

/** Three bundles of one show: all of it with an opacity of 0.25, then 0.5, then 0.75. */
const bundles = core<string[]>(`
  use Core\\Plan\\Bundle; use Core\\Values\\Track;
  echo json_encode(array_map(fn (int $n): string => base64_encode((new Bundle('show', $n, ['timeline:t' => ['name' => 'Main', 'order' => 0, 'duration' => 9]], ['layer:a/opacity' => Track::constant($n / 4), 'layer:a/blend' => Track::constant($n)]))->toBytes()), [1, 2, 3]));
`).map(bytesOf);
const held = (value: number, weight = [0, 1, 0, 0, 0], by = 'hand'): HeldData => ({
  s: 5,
  n: 1,
  by,
  v: [0, value, 0, 0, 0],
  w: weight,
});
const deck = (more: Partial<DeckMessage>): DeckMessage => ({
  show: 'show',
  timeline: 't',
  on: true,
  map: { p: [[0, 0, 1]] },
  ...more,
});

/** What is fetched of the server: nothing, until given. */
function server() {
  const asked: string[] = [];
  const answers: (ArrayBuffer | number)[] = [];
  let waiting: (() => void)[] = [];
  globalThis.fetch = (async (path: string) => {
    asked.push(path);
    while (answers.length === 0) await new Promise<void>((next) => waiting.push(next));
    const answer = answers.shift() as ArrayBuffer | number;
    return typeof answer === 'number' ? new Response('', { status: answer }) : new Response(answer);
  }) as typeof fetch;
  return {
    asked,
    give(answer: ArrayBuffer | number) {
      answers.push(answer);
      for (const next of waiting.splice(0)) next();
      waiting = [];
    },
  };
}
const real = globalThis.fetch;
test.afterEach(() => {
  globalThis.fetch = real;
});

/** Opens a bundle as the live stream hands it over. */
const bundle = async (n: 1 | 2 | 3) =>
  (await import('../resources/js/live/plan')).Bundle.of(bundles[n - 1] as ArrayBuffer);

test('a plan that comes as a pack takes what was told meanwhile on top of it, each at its moment', async () => {
  const { give, asked } = server();
  let told = 0;
  const show = new ShowPlayback('show', () => told++);
  show.base('abc', 0);
  show.hold({ show: 'show', all: { 'layer:a/x': [held(30)] } });
  show.delta(100, await bundle(2));
  show.delta(200, await bundle(3));
  expect(show.at(1000)).toBeNull();
  expect(show.master(1000)).toBe(1);
  expect(show.moves(0)).toBe(false);
  give(bundles[0] as ArrayBuffer);
  await expect.poll(() => show.at(50)?.revision).toBe(1);
  expect(asked).toEqual(['/packs/abc.pack']);
  const opacity = () => show.at(50)?.slot('layer:a/opacity').at(0, 50);
  expect([opacity(), show.at(50)?.slot('layer:a/x').at(0, 50), show.at(50)?.slot('layer:a/y').at(0, 50)]).toEqual([
    0.25, 30, 0,
  ]);
  expect(show.moves(50)).toBe(true);
  expect(show.at(100)?.revision).toBe(2);
  expect(opacity()).toBe(0.5);
  const version = show.version;
  expect(show.at(5000)?.revision).toBe(3);
  expect([opacity(), show.version, show.moves(5000)]).toEqual([0.75, version + 1, false]);
  expect(told).toBeGreaterThan(3);
});

test('a pack that does not come is asked for again, and one that is old by then is passed over', async () => {
  const { give, asked } = server();
  const show = new ShowPlayback('show', () => undefined);
  show.base('first', 0);
  give(502);
  give(404);
  await expect.poll(() => asked.length).toBe(3);
  show.base('second', 0);
  await expect.poll(() => asked.at(-1)).toBe('/packs/second.pack');
  give(bundles[0] as ArrayBuffer);
  give(bundles[2] as ArrayBuffer);
  await expect.poll(() => show.at(0)?.revision).toBe(3);
});

test('a new plan takes over at its moment, and held values go along', async () => {
  const { give } = server();
  const show = new ShowPlayback('show', () => undefined);
  show.base('a', 0);
  give(bundles[0] as ArrayBuffer);
  await expect.poll(() => show.at(0)?.revision).toBe(1);
  show.hold({ show: 'show', set: { 'layer:a/opacity': [held(0.9)], 'master:show/level': [held(0.5)] } });
  show.base('b', 1000);
  give(bundles[1] as ArrayBuffer);
  await expect.poll(() => show.moves(0)).toBe(true);
  expect(show.at(999)?.revision).toBe(1);
  expect(show.at(1000)?.revision).toBe(2);
  expect([show.at(1000)?.slot('layer:a/opacity').at(0, 1000), show.master(1000)]).toEqual([0.9, 0.5]);
  show.hold({ show: 'show', set: { 'layer:a/opacity': [] } });
  expect(show.at(1000)?.slot('layer:a/opacity').at(0, 1000)).toBe(0.5);
  // All that is held, told anew: what is not named is free.
  show.hold({ show: 'show', all: {}, cards: ['w'] });
  expect([show.master(1000), [...show.cards], show.loose()]).toEqual([1, ['w'], {}]);
});

test('what is loose is told apart from what is held by others or let go of', () => {
  const show = new ShowPlayback('show', () => undefined);
  show.hold({
    show: 'show',
    all: {
      'layer:a/x': [held(30)],
      'layer:a/y': [held(5, [0, 1, 0, 0, 0], 'cue 3')],
      'layer:a/scale': [held(2, [0, 1, 0, 0, 0, S, 0, 0, 0, 0])],
    },
  });
  expect(show.loose()).toEqual({ 'layer:a/x': 30 });
  // One that is let go of moves until its weight is gone.
  expect([show.moves(0), show.moves(S)]).toEqual([true, false]);
});

test('a show moves while a timeline that is on runs, or will', () => {
  const show = new ShowPlayback('show', () => undefined);
  show.deck(
    deck({
      map: {
        p: [
          [0, 0, 1],
          [S, S, 0],
        ],
      },
    }),
  );
  expect([show.moves(0), show.moves(S - 1), show.moves(S), show.heads.get('t')?.at(2 * S)]).toEqual([
    true,
    true,
    false,
    S,
  ]);
  show.deck(deck({ on: false }));
  expect([show.moves(0), show.heads.get('t')?.strength(0)]).toEqual([false, 0]);
  show.deck(deck({ on: true, weight: [0, 0, 0, 0, 0, S, 1, 0, 0, 0], next: 'q2', waiting: true }));
  expect([
    show.heads.get('t')?.strength(0),
    show.heads.get('t')?.strength(S),
    show.heads.get('t')?.next,
    show.heads.get('t')?.waiting,
  ]).toEqual([0, 1, 'q2', true]);
  show.deck(deck({ gone: true }));
  expect(show.heads.size).toBe(0);
});

test('a window keeps the shows that it hears of, and none of another clock', () => {
  const heard = new Map<string, (data: unknown) => void>();
  const playback = new Playback({
    on: (what: string, then: (data: unknown) => void) => heard.set(what, then),
  } as unknown as Live);
  const changed: string[] = [];
  const off = playback.watch((show) => changed.push(show));
  const say = (what: string, data: unknown) => heard.get(what)?.(data);
  expect(playback.onAir()).toBeNull();
  say('hello', { clock: 'one', show: 'a' });
  expect(playback.onAir()?.show).toBe('a');
  say('deck', deck({ show: 'b' }));
  expect([...playback.shows.keys()]).toEqual(['a', 'b']);
  say('air', { show: 'b' });
  expect(playback.onAir()?.heads.size).toBe(1);
  say('hello', { clock: 'one', show: 'b' });
  expect(playback.onAir()?.heads.size).toBe(1);
  say('hello', { clock: 'two', show: 'b' });
  expect(playback.onAir()?.heads.size).toBe(0);
  off();
  say('air', { show: 'a' });
  expect(changed).toEqual(['a', 'b', 'b', 'b', 'b']);
});

test('values of rows and keyframes are read as the core reads them', () => {
  const all = Object.entries<Property[]>(properties).flatMap(([kind, list]) => list.map((p) => ({ kind, p })));
  const said = core<
    Record<string, { slots: string[]; mixes: boolean; rest: number[]; numbers: number[][]; stored: unknown[] }>
  >(`
    $out = [];
    mt_srand(11);
    foreach (Core\\Show\\Schema::propertySets() as $kind => $set) foreach ($set->properties as $p) {
      $numbers = [];
      for ($i = 0; $i < 40; $i++) $numbers[] = array_map(fn () => $p->clamp($p->min + ($p->max - $p->min) * mt_rand() / mt_getrandmax()), $p->slots);
      $out["$kind/$p->name"] = ['slots' => $p->slots, 'mixes' => $p->type->mixes(), 'rest' => $p->rest(), 'numbers' => $numbers, 'stored' => array_map($p->formatAll(...), $numbers)];
    }
    echo json_encode($out, JSON_PRESERVE_ZERO_FRACTION);
  `);
  expect(all.map(({ kind, p }) => `${kind}/${p.name}`).sort()).toEqual(Object.keys(said).sort());
  for (const { kind, p } of all) {
    const its = said[`${kind}/${p.name}`];
    expect([p.slots, mixes(p)]).toEqual([its?.slots, its?.mixes]);
    expect(p.slots.map((_, slot) => numberOf(p, undefined, slot))).toEqual(its?.rest);
    its?.stored.forEach((stored, i) => {
      expect(p.slots.map((_, slot) => numberOf(p, stored, slot))).toEqual(its.numbers[i]);
    });
  }
  const [blend, mute, turn] = ['blend', 'mute', 'turn'].map(
    (name) => (properties.layer as readonly Property[]).find((p) => p.name === name) as Property,
  ) as [Property, Property, Property];
  expect([
    inWords(blend, 1.2),
    inWords(mute, 1),
    inWords(mute, 0),
    inWords(turn, 22.504),
    numberOf(blend, 'no such'),
  ]).toEqual(['add', 'on', 'off', '22.5 deg', 0]);
  expect([slotOf('gain', 0), slotOf('gain', 2)]).toEqual(['gain', 'gain#2']);
});

test('timecode on the screen is the core’s at every rate, and ids are in the order of their time', () => {
  const said = core<[number, string, number, string][]>(`
    use Core\\Units\\{FrameRate, Timecode};
    mt_srand(3);
    $out = [];
    foreach (FrameRate::names() as $name) {
      $rate = FrameRate::of($name);
      foreach ([0, 1, 1799, 1800, 1801, 3599, 3600, 17981, 17982, 17983, 107892] as $frame) $out[] = [$frame * $rate->flicksPerFrame, $name, $rate->flicksPerFrame, Timecode::format($frame * $rate->flicksPerFrame, $rate)];
      for ($i = 0; $i < 300; $i++) { $t = mt_rand(0, 90_000) * 705_600_000 + mt_rand(0, 705_599_999); $out[] = [$t, $name, $rate->flicksPerFrame, Timecode::format($t, $rate)]; }
    }
    echo json_encode($out);
  `);
  expect(said.length).toBeGreaterThan(2000);
  expect(said.filter(([t, rate, frame, text]) => timecode(t, rate, frame) !== text)).toEqual([]);
  expect(timecode(-S, '25', S / 25)).toBe('00:00:00:00');
  const ids = Array.from({ length: 500 }, ulid);
  expect(new Set(ids).size).toBe(500);
  expect(ids.every((id) => /^[0-7][0-9a-hjkmnp-tv-z]{25}$/.test(id))).toBe(true);
  expect(ids.map((id) => id.slice(0, 10))).toEqual([...ids.map((id) => id.slice(0, 10))].sort());
});

/** A node that takes a pointer, and the page's keys, without a page. */
class Node extends EventTarget {
  captured: number | null = null;
  setPointerCapture = (id: number) => {
    this.captured = id;
  };
  releasePointerCapture = () => {
    this.captured = null;
  };
  hasPointerCapture = () => this.captured !== null;
}

function dragged(options: Parameters<typeof follow>[3] = {}) {
  const node = new Node();
  const keys = new Set<(e: Event) => void>();
  Object.assign(globalThis, {
    addEventListener: (_: string, heard: (e: Event) => void) => keys.add(heard),
    removeEventListener: (_: string, heard: (e: Event) => void) => keys.delete(heard),
  });
  const moves: [number, number][] = [];
  const ends: Ending[] = [];
  const stop = follow(
    {
      pointerId: 7,
      clientX: 100,
      clientY: 50,
      currentTarget: node,
      preventDefault: () => undefined,
      stopPropagation: () => undefined,
    },
    (dx, dy) => moves.push([dx, dy]),
    (how) => ends.push(how),
    options,
  );
  const send = (type: string, clientX: number, clientY: number) =>
    node.dispatchEvent(Object.assign(new Event(type), { clientX, clientY }));
  const press = (key: string) => {
    const event = Object.assign(new Event('keydown', { cancelable: true }), { key });
    for (const heard of keys) heard(event);
    return event.defaultPrevented;
  };
  return { node, moves, ends, stop, send, press };
}

test('a press becomes a drag once it has gone some way, and is let go of where it is', () => {
  const { node, moves, ends, send, press } = dragged();
  expect(node.captured).toBe(7);
  send('pointermove', 101, 51);
  expect(moves).toEqual([]);
  send('pointermove', 104, 50);
  send('pointermove', 101, 50);
  expect(moves).toEqual([
    [4, 0],
    [1, 0],
  ]);
  expect(press('a')).toBe(false);
  send('pointerup', 101, 50);
  send('pointermove', 200, 50);
  expect([moves.length, ends, node.captured]).toEqual([2, ['dropped'], null]);
});

test('a press that goes nowhere is a press, and Escape, the machine or whoever began it stop a drag', () => {
  const still = dragged();
  still.send('pointerup', 100, 50);
  expect(still.ends).toEqual(['pressed']);
  for (const how of ['key', 'machine', 'caller'] as const) {
    const { ends, send, press, stop, node } = dragged();
    send('pointermove', 140, 50);
    if (how === 'key') expect(press('Escape')).toBe(true);
    else if (how === 'machine') send('pointercancel', 140, 50);
    else stop();
    send('pointerup', 140, 50);
    expect([ends, node.captured]).toEqual([['stopped'], null]);
  }
});

test('keys that a drag wants are its own, and one of them may let go', () => {
  const typed: string[] = [];
  const { ends, press } = dragged({
    slack: 0,
    key: (e) => {
      if (e.key === 'Enter') return 'drop';
      if (!/\d/.test(e.key)) return false;
      typed.push(e.key);
      return true;
    },
  });
  expect([press('4'), press('x'), press('2'), press('Enter'), press('7')]).toEqual([true, false, true, true, false]);
  expect([typed.join(''), ends]).toEqual(['42', ['dropped']]);
});

test('a folder that is dropped is gone through, whatever its browser hands over at a time', async () => {
  type Fake = {
    isFile: boolean;
    isDirectory: boolean;
    name: string;
    file?: (then: (f: File) => void) => void;
    createReader?: () => { readEntries: (then: (e: Fake[]) => void) => void };
  };
  const leaf = (name: string): Fake => ({
    isFile: true,
    isDirectory: false,
    name,
    file: (then) => then({ name } as File),
  });
  const folder = (name: string, within: Fake[], atOnce = 2): Fake => ({
    isFile: false,
    isDirectory: true,
    name,
    createReader: () => {
      let at = 0;
      return {
        readEntries: (then) => {
          then(within.slice(at, at + atOnce));
          at += atOnce;
        },
      };
    },
  });
  const item = (entry: Fake | null, file: string | null = null, kind = 'file') => ({
    kind,
    webkitGetAsEntry: () => entry,
    getAsFile: () => (file === null ? null : ({ name: file } as File)),
  });
  const told: unknown[] = [];
  const files = await filesOf(
    [
      item(
        folder('night', [
          leaf('a.mp4'),
          leaf('.hidden'),
          folder('deep', [leaf('b.png'), leaf('c.png'), leaf('d.png')]),
          leaf('e.wav'),
          folder('empty', []),
          folder('.trash', [leaf('old.mp4')]),
        ]),
      ),
      item(leaf('f.mp4')),
      item(null, 'g.mp4'),
      item(null, null),
      item(leaf('words'), null, 'string'),
      item({
        isFile: true,
        isDirectory: false,
        name: 'locked.mp4',
        file: (_then: unknown, no: (why: string) => void) => no('locked'),
      } as Fake),
    ],
    (why) => told.push(why),
  );
  expect(files.map((f) => f.name)).toEqual(['a.mp4', 'b.png', 'c.png', 'd.png', 'e.wav', 'f.mp4', 'g.mp4']);
  expect(told).toEqual(['locked']);
});

/** How far two colours are apart in lightness, by WCAG 2.2 (1.4.3). */
function contrast(a: string, b: string) {
  const light = (colour: string) => {
    const [r, g, blue] = [1, 3, 5].map((i) => {
      const c = Number.parseInt(colour.slice(i, i + 2), 16) / 255;
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
    }) as [number, number, number];
    return 0.2126 * r + 0.7152 * g + 0.0722 * blue;
  };
  const [x, y] = [light(a), light(b)].sort((p, q) => q - p) as [number, number];
  return (x + 0.05) / (y + 0.05);
}

test('rows are named by the number that the core names them by', () => {
  const ids = Array.from({ length: 50 }, () => ulid());
  expect([...ids, '', 'zzzzzzzzz', '01hzzzzzzzzzzzzzz000000000'].map(referenceTo)).toEqual(
    core<number[]>(
      `use Core\\Values\\Reference; echo json_encode(array_map(fn (string $id): int => Reference::number($id) ?? 0, ${JSON.stringify([...ids, '', 'zzzzzzzzz', '01hzzzzzzzzzzzzzz000000000'])}));`,
    ),
  );
});

test('the latency of taps is their median distance from the clicks', () => {
  const clicks = Array.from({ length: 12 }, (_, i) => 1000 + 500 * i);
  // The first two find the beat; one was missed by far.
  const late = [0, 6, -4, 9, -7, 3, -120, 1, -2, 0];
  const taps = [1320, 1490, ...clicks.slice(2).map((c, i) => c + 87 + (late[i] ?? 0))];
  expect(latencyOf(taps, clicks)).toEqual({ latency: 87, spread: 3.5, count: 10 });
  expect(
    latencyOf(
      clicks.slice(0, 8).map((c) => c - 20),
      clicks,
    ),
  ).toEqual({ latency: -20, spread: 0, count: 6 });
  expect(latencyOf(clicks.slice(0, 7), clicks)).toBeNull();
  expect(latencyOf(taps, [])).toBeNull();
  expect(latencyOf([], clicks)).toBeNull();
});

test('words and signs stand out from every ground in both themes', () => {
  expect([contrast('#000000', '#ffffff'), contrast('#777777', '#ffffff')].map((c) => Number(c.toFixed(2)))).toEqual([
    21, 4.48,
  ]);
  const weak: string[] = [];
  for (const [theme, tokens] of Object.entries({ dusk, paper } as Record<string, Record<Token, string>>)) {
    for (const ground of ['ink9', 'ink8', 'ink7'] as const)
      for (const word of ['text', 'dim', 'lamp', 'kite', 'loose', 'sage', 'straw', 'fault'] as const) {
        const ratio = contrast(tokens[word], tokens[ground]);
        if (ratio < 4.5) weak.push(`${theme}: ${word} on ${ground} ${ratio.toFixed(2)}`);
      }
    expect(contrast(tokens.onKite, tokens.kite)).toBeGreaterThanOrEqual(4.5);
    expect(contrast(tokens.text, tokens.ink6)).toBeGreaterThanOrEqual(4.5);
  }
  expect(weak).toEqual([]);
});

test('no colour is written anywhere but in the one list of them', () => {
  const folder = join(import.meta.dirname, '../resources/js');
  const colours = (name: string) =>
    [
      ...readFileSync(join(folder, name), 'utf8').matchAll(
        /#(?:[0-9a-f]{8}|[0-9a-f]{6}|[0-9a-f]{3})(?![0-9a-z])|\brgba?\(|\bhsla?\(/gi,
      ),
    ].map((m) => `${name}: ${m[0]}`);
  const files = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter(
    (name) => /\.(tsx?|css)$/.test(name) && !name.endsWith('tokens.ts'),
  );
  expect(files.length).toBeGreaterThan(60);
  expect(colours('theme/tokens.ts').length).toBeGreaterThan(40);
  expect(files.flatMap(colours)).toEqual([]);
});
