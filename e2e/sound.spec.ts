import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { sampleAt } from '../resources/js/sound/sample';
import { core } from './core';
import { created, KiteLamp, rowId, until } from './kite';

/** What the page says of itself for tests. */
interface Sounding {
  kiteSound: {
    audio: AudioContext;
    voices: Map<string, { gain: GainNode }>;
    engineAt(seconds: number): number;
    tap(node: AudioNode): void;
  };
  kiteStudio: { showAt(engine: number): number };
  clicks: number[];
}

const S = 705_600_000;
const kite = new KiteLamp(4515);
let page: Page;
let show = '';
const [LINE, LAYER, CLIP] = [rowId(0, 1), rowId(0, 2), rowId(0, 3)];

/** A second of silence with a click at its beginning, again and again: 48 kHz, 16 bits, one channel. */
function clicks(path: string, seconds: number): string {
  const samples = new Int16Array(48_000 * seconds);
  for (let s = 0; s < seconds; s++)
    for (let i = 0; i < 24; i++) samples[s * 48_000 + i] = i % 2 === 0 ? 30_000 : -30_000;
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + samples.byteLength, 4);
  head.write('WAVEfmt ', 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(1, 20);
  head.writeUInt16LE(1, 22);
  head.writeUInt32LE(48_000, 24);
  head.writeUInt32LE(96_000, 28);
  head.writeUInt16LE(2, 32);
  head.writeUInt16LE(16, 34);
  head.write('data', 36);
  head.writeUInt32LE(samples.byteLength, 40);
  writeFileSync(path, Buffer.concat([head, Buffer.from(samples.buffer)]));
  return path;
}

/** Says at which frame of the audio clock something loud begins. */
const LISTENER = `registerProcessor('listener', class extends AudioWorkletProcessor {
  constructor() { super(); this.quiet = 48000; }
  process(inputs) {
    const heard = inputs[0][0];
    for (let i = 0; heard !== undefined && i < heard.length; i++) {
      if (Math.abs(heard[i]) > 0.2) { if (this.quiet > 9600) this.port.postMessage(currentFrame + i); this.quiet = 0; } else this.quiet++;
    }
    return true;
  }
});`;

/** How far a sound is from where it belongs, at whole seconds from a fraction of one on, in ms. */
const off = (t: number, from: number) => Math.abs(t / S - from - Math.round(t / S - from)) * 1000;

/**
 * What is heard from now on, as show times in flicks: the first run of so many that are all within 20 ms of where they belong. What was
 * scheduled before a jump may still be heard, and on a machine with much to do the first may come late; it has to get there and stay.
 * Without a fraction, whatever is heard counts.
 */
async function heard(count: number, from: number | null = 0.5, seconds = 30): Promise<number[]> {
  await page.evaluate(() => ((window as unknown as Sounding).clicks.length = 0));
  let last: number[] = [];
  const found = async () => {
    last = await page.evaluate(() => (window as unknown as Sounding).clicks);
    const late = last.map((t) => from !== null && off(t, from) > 20);
    const start = late.findIndex((_, i) => i + count <= late.length && !late.slice(i, i + count).includes(true));
    return start < 0 ? null : last.slice(start, start + count);
  };
  return until(`${count} in a row within 20 ms`, found, seconds).catch((fault: Error) => {
    throw new Error(`${fault.message}; heard at ${JSON.stringify(last.map((t) => t / S))}`);
  });
}

test.describe.configure({ mode: 'serial' });

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Quay', frameRate: '25' })).id;
  const { media } = await kite.upload(show, clicks(join(kite.folder, 'clicks.wav'), 30), 'clicks.wav');
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('timeline', LINE, { name: 'Main', duration: 60 * S }),
      created('layer', LAYER, { timeline: LINE, name: 'Bells' }),
      created('clip', CLIP, { layer: LAYER, media, start: S / 2, length: 20 * S, in: 2 * S }),
    ],
  });
  await until(
    'the sound to be ready',
    async () =>
      (await kite.api<{ rows: { media: { state: string }[] } }>(`shows/${show}`)).rows.media[0]?.state === 'ready',
  );
  await kite.api(`shows/${show}/engage`, {});
  page = await (await browser.newContext({ bypassCSP: true })).newPage();
  await page.goto(`${kite.address}/timeline`);
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

test('which sample is heard when is what the core says', () => {
  const said = core<{ clip: Parameters<typeof sampleAt>[0]; samples: (number | null)[] }[]>(
    `mt_srand(5); $out = []; for ($i = 0; $i < 60; $i++) { $past = Core\\Timeline\\PastEnd::cases()[mt_rand(0, 3)]; $in = mt_rand(0, 5) * ${S}; $clip = Core\\Timeline\\Clip::of(mt_rand(0, 9) * ${S}, mt_rand(1, 30) * ${S}, $in, mt_rand(0, 1) ? $in + mt_rand(1, 9) * ${S} : null, $past, [1, 0.5, 2, -1, 1.333][mt_rand(0, 4)], 0, 0, mt_rand(0, 2) * ${S / 4}); $sound = Core\\Timeline\\SoundClip::of($clip, 480000); $samples = []; for ($t = 0; $t < 40; $t++) { $samples[] = $sound->sampleAt((int) ($t * ${S} * 0.9)); } $out[] = ['clip' => $sound->toArray(), 'samples' => $samples]; } echo json_encode($out);`,
  );
  let heard = 0;
  for (const { clip, samples } of said) {
    samples.forEach((sample, t) => {
      const found = sampleAt(clip, Math.trunc(t * S * 0.9));
      if (sample === null) expect(found).toBeNull();
      else {
        expect(found).toBeCloseTo(sample, 3);
        heard++;
      }
    });
  }
  expect(heard).toBeGreaterThan(200);
});

test('the window that is chosen plays clips to the sample, through jumps, a loop and a hold', async () => {
  await page.getByRole('button', { name: 'Sound', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Sound on' })).toHaveAttribute('aria-pressed', 'true');
  await page.evaluate(async (listener) => {
    const w = window as unknown as Sounding;
    const player = w.kiteSound;
    await player.audio.audioWorklet.addModule(URL.createObjectURL(new Blob([listener], { type: 'text/javascript' })));
    const node = new AudioWorkletNode(player.audio, 'listener');
    w.clicks = [];
    node.port.onmessage = (message: MessageEvent<number>) => {
      const engine = player.engineAt(message.data / 48_000);
      w.clicks.push(w.kiteStudio.showAt(engine));
    };
    player.tap(node);
  }, LISTENER);
  await kite.live('command', { action: 'play' });
  await heard(4);
  await kite.live('command', { action: 'jump', time: 10 * S });
  const jumped = await heard(3);
  expect(jumped[2] as number).toBeGreaterThan(10 * S);
  expect(jumped[2] as number).toBeLessThan(20.5 * S);
  await kite.live('command', { action: 'loop', from: 4.2 * S, to: 6 * S });
  await kite.live('command', { action: 'jump', time: 4.2 * S });
  const looped = (await heard(6)).slice(-4);
  expect(looped.every((t) => t >= 4.2 * S && t < 6 * S)).toBe(true);
  // Backwards from the twelfth second of it on: a click's end comes at the half seconds, half a thousandth before them.
  await kite.live('command', { action: 'loop' });
  await kite.api(`shows/${show}/edits`, {
    name: 'Backwards',
    changes: [
      {
        kind: 'clip',
        id: CLIP,
        op: 'update',
        fields: { speed: { before: 1, after: -1 }, out: { before: null, after: 12 * S } },
      },
    ],
  });
  await kite.live('command', { action: 'jump', time: 2 * S });
  await heard(5);
  await kite.api(`shows/${show}/edits`, {
    name: 'Forwards',
    changes: [
      {
        kind: 'clip',
        id: CLIP,
        op: 'update',
        fields: { speed: { before: -1, after: 1 }, out: { before: 12 * S, after: null } },
      },
    ],
  });
  await kite.live('command', { action: 'hold' });
  await until(
    'silence',
    async () => (await page.evaluate(() => [...(window as unknown as Sounding).kiteSound.voices.keys()].length)) === 0,
  );
});

test('a flash is heard with each of its flashes, and a clip by a clock of its own through a hold', async () => {
  const [flash, layer] = [rowId(0, 4), rowId(0, 5)];
  await kite.api(`shows/${show}/edits`, {
    name: 'Flash',
    changes: [
      created('media', flash, { name: 'Flash', kind: 'pattern', pattern: 'flash' }),
      created('layer', layer, { timeline: LINE, name: 'Flash' }),
      created('clip', rowId(0, 6), { layer, media: flash, start: 30.25 * S, length: 20 * S }),
    ],
  });
  await kite.live('command', { action: 'loop' });
  await kite.live('command', { action: 'jump', time: 31 * S });
  await kite.live('command', { action: 'play' });
  // Lit at the beginning of each of its seconds, which is a quarter past those of the show.
  await heard(3, 0.25);
  await kite.api(`shows/${show}/edits`, {
    name: 'Own clock',
    changes: [{ kind: 'clip', id: CLIP, op: 'update', fields: { ownClock: { before: false, after: true } } }],
  });
  await kite.live('command', { action: 'jump', time: 3 * S });
  await kite.live('command', { action: 'hold' });
  await heard(3, null);
  await kite.api(`shows/${show}/edits`, {
    name: 'No clock',
    changes: [{ kind: 'clip', id: CLIP, op: 'update', fields: { ownClock: { before: true, after: false } } }],
  });
  await until(
    'silence',
    async () => (await page.evaluate(() => [...(window as unknown as Sounding).kiteSound.voices.keys()].length)) === 0,
  );
});

test('what is within another timeline is heard there, and a speed that moves bends it', async () => {
  const [outer, layer, within, clip, curve] = [11, 12, 13, 14, 15].map((n) => rowId(0, n)) as [
    string,
    string,
    string,
    string,
    string,
  ];
  await kite.api(`shows/${show}/edits`, {
    name: 'Outer',
    changes: [
      created('timeline', outer, { name: 'Outer', duration: 600 * S, order: 1 }),
      created('layer', layer, { timeline: outer, name: 'All' }),
      created('media', within, { name: 'Main', kind: 'timeline', timeline: LINE }),
      // From its tenth second on, a quarter past those of the outer one: its clicks come at three quarters.
      created('clip', clip, { layer, media: within, start: 0.25 * S, length: 500 * S, in: 10 * S }),
    ],
  });
  await kite.live('command', { action: 'hold' });
  const on = (more: Record<string, unknown>) => kite.live('command', { ...more, timeline: outer });
  await page.getByRole('combobox', { name: 'Timeline' }).selectOption({ label: 'Outer' });
  await on({ action: 'play' });
  await heard(4, 0.75);
  await kite.api(`shows/${show}/edits`, {
    name: 'Slower',
    changes: [
      created('curve', curve, {
        ownerKind: 'layer',
        owner: layer,
        property: 'speed',
        slot: 0,
        keyframes: [
          { t: 0, v: 0.5 },
          { t: 400 * S, v: 0.5 },
        ],
      }),
    ],
  });
  await on({ action: 'jump', time: 5 * S });
  // At five seconds it is at 12.375 s: the click at 12.5 s comes a quarter of a second later, the next after two.
  const slow = await heard(2, 0.25);
  expect(((slow[1] as number) - (slow[0] as number)) / S).toBeCloseTo(2, 1);
  await kite.live('command', { action: 'live', values: { [`layer:${LAYER}/mute`]: 1 } });
  await until(
    'it to be silent',
    async () =>
      (await page.evaluate(() =>
        Math.max(
          0,
          ...[...(window as unknown as Sounding).kiteSound.voices.values()].map(
            (v: { gain: GainNode }) => v.gain.gain.value,
          ),
        ),
      )) < 0.001,
  );
  await kite.live('command', { action: 'live', values: { [`layer:${LAYER}/mute`]: null } });
  await on({ action: 'hold' });
});

test('a layer that is muted is not heard, and its volume is a value', async () => {
  await kite.live('command', { action: 'live', values: { [`layer:${LAYER}/mute`]: 1 } });
  await kite.live('command', { action: 'loop' });
  await kite.live('command', { action: 'jump', time: S });
  await kite.live('command', { action: 'play' });
  const gain = () =>
    page.evaluate(() =>
      Math.max(
        0,
        ...[...(window as unknown as Sounding).kiteSound.voices.values()].map(
          (v: { gain: GainNode }) => v.gain.gain.value,
        ),
      ),
    );
  await until(
    'a voice',
    async () => (await page.evaluate(() => (window as unknown as Sounding).kiteSound.voices.size)) > 0,
  );
  await until('it to be silent', async () => (await gain()) < 0.001);
  await kite.live('command', {
    action: 'live',
    values: { [`layer:${LAYER}/mute`]: null, [`layer:${LAYER}/volume`]: 0.5 },
  });
  await until('half of it', async () => Math.abs((await gain()) - 0.5) < 0.01);
  await page.getByRole('button', { name: 'Sound on' }).click();
  await expect(page.getByRole('button', { name: 'Sound', exact: true })).toHaveAttribute('aria-pressed', 'false');
});

/** Records what it hears, from the audio frame at which it began. */
const RECORDER = `registerProcessor('recorder', class extends AudioWorkletProcessor {
  constructor() { super(); this.begun = -1; }
  process(inputs) {
    const heard = inputs[0][0];
    if (heard !== undefined) {
      if (this.begun < 0) this.begun = currentFrame;
      this.port.postMessage({ from: currentFrame, samples: heard.slice() });
    }
    return true;
  }
});`;

test('the timecode of the driven timeline is heard on a channel of its own, frame by frame where the clock is', async () => {
  await kite.api(`shows/${show}/edits`, {
    name: 'Clock',
    changes: [{ kind: 'timeline', id: LINE, op: 'update', fields: { clockStart: { before: 0, after: 36_000 * S } } }],
  });
  await kite.live('command', { action: 'drive', timeline: LINE });
  await kite.live('command', { action: 'jump', time: 5 * S });
  await page.keyboard.press('Alt+7');
  await page.getByRole('button', { name: 'Sound', exact: true }).click();
  const out = page.getByLabel('LTC out');
  await expect(out).toBeVisible();
  await out.selectOption({ label: 'channel 2' });
  await page.evaluate(async (recorder) => {
    const w = window as unknown as {
      kiteSound: { audio: AudioContext; code: { line: GainNode }; engineAt(seconds: number): number };
      recorded: { from: number; samples: number[] }[];
    };
    const player = w.kiteSound;
    await player.audio.audioWorklet.addModule(URL.createObjectURL(new Blob([recorder], { type: 'text/javascript' })));
    const node = new AudioWorkletNode(player.audio, 'recorder');
    w.recorded = [];
    node.port.onmessage = ({ data }) => w.recorded.push({ from: data.from, samples: [...data.samples] });
    player.code.line.connect(node);
  }, RECORDER);
  await kite.live('command', { action: 'play' });
  await until('four seconds of it', () =>
    page.evaluate(() => (window as unknown as { recorded: unknown[] }).recorded.length > (4 * 48_000) / 128),
  );
  const { blocks, heardAt } = await page.evaluate(() => {
    const w = window as unknown as {
      kiteSound: { audio: AudioContext; engineAt(seconds: number): number };
      recorded: { from: number; samples: number[] }[];
    };
    const blocks = w.recorded;
    w.recorded = [];
    const last = blocks[blocks.length - 1]?.from ?? 0;
    return { blocks, heardAt: { frame: last, engine: w.kiteSound.engineAt(last / 48_000) } };
  });
  const now = await kite.live<{ engine: number; decks: Record<string, { position: number }> }>('state');
  const shown = (now.decks[LINE]?.position ?? 0) + heardAt.engine - now.engine;
  await kite.live('command', { action: 'hold' });
  // As a recording, read by the command that reads recordings.
  const first = blocks[0]?.from ?? 0;
  const samples = new Int16Array((blocks[blocks.length - 1]?.from ?? 0) - first + 128);
  for (const block of blocks)
    block.samples.forEach((v, i) => {
      samples[block.from - first + i] = Math.round(v * 32_000);
    });
  const file = join(kite.folder, 'code.wav');
  clicks(file, 1);
  const head = readFileSync(file).subarray(0, 44);
  head.writeUInt32LE(36 + samples.byteLength, 4);
  head.writeUInt32LE(samples.byteLength, 40);
  writeFileSync(file, Buffer.concat([head, Buffer.from(samples.buffer)]));
  const frames = kite
    .artisan('kite:ltc', file)
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { sample: number; timecode: string });
  expect(frames.length).toBeGreaterThan(60);
  const number = (text: string) => {
    const [h = 0, m = 0, s = 0, f = 0] = text.split(/[:;]/).map(Number);
    return ((h * 60 + m) * 60 + s) * 25 + f;
  };
  // Where the show was at the last sample says where each frame belongs: within a frame.
  const belongs = frames.map(({ sample, timecode }) => {
    const show = shown / S - (heardAt.frame - (first + sample)) / 48_000;
    return number(timecode) - (36_000 + show) * 25;
  });
  const settled = belongs.slice(-40).map(Math.abs);
  expect(Math.max(...settled), settled.join(' ')).toBeLessThan(1);
  const last = frames.slice(-40).map(({ timecode }) => number(timecode));
  expect(last).toEqual(last.map((_, i) => (last[0] ?? 0) + i));
  await out.selectOption({ label: 'off' });
});
