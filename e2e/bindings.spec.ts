import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect, type Frame, type Page, test } from '@playwright/test';
import { canvasPixels, created, KiteLamp, rowId, until } from './kite';

/** A show that is run from a fader box, a MIDI port of the browser, keys and OSC, bound from nothing in the studio. */
const S = 705_600_000;
const kite = new KiteLamp(4590, undefined, {
  KITE_RTP_PORT: '4386',
  KITE_PJLINK_PORT: '4388',
  KITE_PANELS: '127.0.0.1:4599',
});
const id = (n: number) => rowId(0, n);
const [PANEL, WALL, LINE, LAYER, ROUTE, RED, OUTPUT, ONE, TWO, THREE] = Array.from({ length: 10 }, (_, i) =>
  id(i + 1),
) as [string, string, string, string, string, string, string, string, string, string];
const OPACITY = `layer:${LAYER}/opacity`;
let show = '';
let page: Page;
let player: Page;
let box: Page;

interface State {
  live: Record<string, number>;
  cues: { on: Record<string, { by: string }>; next: string | null; waiting: boolean; panic: boolean };
  compiler: { ready: boolean } | null;
  decks: Record<string, { running: boolean; position: number }>;
}
const state = () => kite.live<State>('state');
interface Rows {
  device: { id: string; protocol: string; port: string }[];
  binding: {
    id: string;
    device: string;
    control: string;
    meaning: string;
    target: string;
    takeover: string;
    lamp: boolean;
    label: string;
    fade: number | null;
  }[];
}
const rows = async () => (await kite.api<{ rows: Rows }>(`shows/${show}`)).rows;
const red = async () => (await canvasPixels(player, [[32, 32]])).pixels[0]?.[0] ?? -1;
const isOn = (cue: string) => until(`${cue} on`, async () => cue in (await state()).cues.on);
const button = (n: number) => box.getByRole('button', { name: `Button ${n}`, exact: true });
const fader = (n: number) => box.getByLabel(`Fader ${n}`, { exact: true });
const bind = () => inDialog('Bind');

/** A button of the dialog that learns. */
function inDialog(name: string) {
  return page.getByRole('dialog', { name: 'Learn a control' }).getByRole('button', { name, exact: true });
}

test.describe.configure({ mode: 'serial' });

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Box', frameRate: '25' })).id;
  const cue = (row: string, number: string, value: number, more: Record<string, unknown> = {}) =>
    created('cue', row, { number, name: `Level ${value}`, held: [{ a: OPACITY, v: value }], ...more });
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('panel', PANEL, { name: 'P', widthMm: 500, heightMm: 500, widthPx: 64, heightPx: 64 }),
      created('surface', WALL, { name: 'Wall', cells: [[PANEL]], seams: [] }),
      created('timeline', LINE, { name: 'Song', duration: 60 * S }),
      created('media', RED, { name: 'Red', kind: 'solid', colour: '#ff0000' }),
      created('layer', LAYER, { timeline: LINE, name: 'Glow', route: ROUTE }),
      created('route', ROUTE, { surfaces: [WALL], layer: LAYER }),
      created('clip', id(11), { layer: LAYER, media: RED, start: 0, length: 60 * S }),
      created('layer', id(13), { timeline: LINE, name: 'Haze', route: id(14), order: 1 }),
      created('route', id(14), { surfaces: [WALL], layer: id(13) }),
      created('output', OUTPUT, { name: 'Output 1', width: 64, height: 64, refresh: 60 }),
      created('region', id(12), { output: OUTPUT, surface: WALL, source: [0, 0, 64, 64] }),
      cue(ONE, '1', 0.2),
      cue(TWO, '2', 0.6),
      cue(THREE, '3', 1, { timeline: LINE, time: 20 * S }),
    ],
  });
  await kite.api(`shows/${show}/engage`, {});
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  // A browser without MIDI of its own: a port that the test plays on.
  await context.addInitScript(() => {
    const sent: number[][] = [];
    const input = { name: 'Pads', state: 'connected', onmidimessage: null as ((e: object) => void) | null };
    const access = {
      inputs: new Map([['in', input]]),
      outputs: new Map([['out', { name: 'Pads', send: (data: number[]) => sent.push([...data]) }]]),
      onstatechange: null,
    };
    Object.assign(navigator, { requestMIDIAccess: async () => access });
    Object.assign(window, {
      pads: { sent, play: (data: number[]) => input.onmidimessage?.({ data: new Uint8Array(data) }) },
    });
  });
  page = await context.newPage();
  player = await context.newPage();
  await player.goto(`${kite.address}/player/${OUTPUT}`);
  box = await context.newPage();
  await box.goto(`${kite.address}/rig/box`);
  await expect(box.getByRole('status')).toHaveText('● Session with the engine is on');
  await page.goto(`${kite.address}/bindings`);
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

test('play and hold, back, next and a fader that does not jump are learned in two presses each', async () => {
  for (const [what, n] of [
    ['Bind Play or hold', 11],
    ['Bind Go', 10],
  ] as const) {
    await page.getByRole('button', { name: what, exact: true }).click();
    await button(n).click();
    await expect(page.getByRole('radio')).toHaveCount(1);
    await bind().click();
    await expect(page.getByRole('dialog')).toHaveCount(0);
  }
  await page.keyboard.press('Control+k');
  await page.getByLabel('Search actions').fill('Bind a control to: Previous cue');
  await page.keyboard.press('Enter');
  await button(9).click();
  await bind().click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: 'Bind the master', exact: true }).click();
  await fader(1).focus();
  for (let i = 0; i < 4; i++) await box.keyboard.press('ArrowUp');
  await expect(page.getByRole('radio')).toHaveCount(1);
  await bind().click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  const { device, binding } = await rows();
  expect(device).toHaveLength(1);
  expect(device[0]).toMatchObject({ protocol: 'midi', port: 'Fader box' });
  expect(binding.map((b) => [b.control, b.target]).sort()).toEqual([
    ['cc:1:1', 'master:show/level'],
    ['note:1:10', 'toggle'],
    ['note:1:8', 'back'],
    ['note:1:9', 'go'],
  ]);
  // Without a motor: the master is at 100 %, the fader at its bottom. Nothing jumps, and it is said where to go.
  await page.getByRole('switch', { name: 'Sends it where the value is' }).click({ force: true });
  await until('no motor', async () => (await rows()).binding.some((b) => b.control === 'cc:1:1' && !b.lamp));
  await fader(1).focus();
  await box.keyboard.press('Home');
  await expect(page.getByText('▲ up to take over')).toBeVisible();
  expect((await state()).live).toEqual({});
  // At the top it takes over, and goes along from there.
  await box.keyboard.press('End');
  await until('the master', async () => (await state()).live['master:show/level'] === 1);
  await expect(page.getByText('▲ up to take over')).toHaveCount(0);
  for (let i = 0; i < 27; i++) await box.keyboard.press('ArrowDown');
  await until('100 of 127', async () => Math.abs(((await state()).live['master:show/level'] ?? 0) - 100 / 127) < 1e-6);
  await until('its light', async () => Math.abs((await red()) - (255 * 100) / 127) < 3);
  await page.getByRole('slider', { name: 'Master' }).focus();
  await kite.live('command', { action: 'live', values: { 'master:show/level': null } });
});

test('the show is run from it, and its lamps show what is on', async () => {
  await button(11).click();
  await until('it to play', async () => (await state()).decks[LINE]?.running === true);
  await expect(button(11)).toHaveAttribute('aria-pressed', 'true');
  await button(11).click();
  await until('it to hold', async () => (await state()).decks[LINE]?.running === false);
  await expect(button(11)).toHaveAttribute('aria-pressed', 'false');
  await kite.live('command', { action: 'pointer', cue: ONE });
  await button(10).click();
  await isOn(ONE);
  await until('20 %', async () => Math.abs((await red()) - 51) < 3);
  await expect(page.getByRole('contentinfo').getByText('Level 0.6')).toBeVisible();
  await button(10).click();
  await isOn(TWO);
  await button(9).click();
  await until('back at 20 %', async () => Math.abs((await red()) - 51) < 3);
  // The third stands on the timeline: the same button takes it there.
  await kite.live('command', { action: 'pointer', cue: THREE });
  await button(10).click();
  await until('the place', async () => ((await state()).decks[LINE]?.position ?? 0) >= 20 * S);
  await kite.live('command', { action: 'hold' });
  await kite.live('command', { action: 'release' });
});

test('a row of pads of the browser is bound to a row of cues, one after another, and lights up', async () => {
  const pads = (data: number[]) =>
    page.evaluate((d) => (window as unknown as { pads: { play(d: number[]): void } }).pads.play(d), data);
  await page.getByRole('button', { name: 'Use MIDI ports' }).click();
  await expect(page.getByText('MIDI ports: Pads')).toBeVisible();
  await page.getByRole('button', { name: 'Bind cues in a row' }).click();
  for (const [i, name] of ['Next', 'Next', 'Bind'].entries()) {
    await expect(page.getByRole('dialog').getByText(`${i + 1} of 3`)).toBeVisible();
    await pads([0x90, 36 + i, 90]);
    await pads([0x80, 36 + i, 0]);
    await expect(page.getByRole('radio')).toHaveCount(1);
    await inDialog(name).click();
  }
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await until('three bindings', async () => (await rows()).binding.filter((b) => b.meaning === 'cue').length === 3);
  await pads([0x90, 37, 90]);
  await isOn(TWO);
  expect((await state()).cues.on[TWO]?.by).toBe('MIDI');
  await until('its lamp', () =>
    page.evaluate(() =>
      (window as unknown as { pads: { sent: number[][] } }).pads.sent.some((m) => m.join() === `${0x90},37,127`),
    ),
  );
  // Faders for layers, from the top.
  await page.getByRole('button', { name: 'Bind layers in a row' }).click();
  for (const [i, name] of ['Next', 'Bind'].entries()) {
    await expect(page.getByRole('dialog').getByText(['Haze · Opacity', 'Glow · Opacity'][i] ?? '')).toBeVisible();
    for (const value of [3, 30, 60, 90]) await pads([0xb0, 20 + i, value]);
    await expect(page.getByRole('radio')).toHaveCount(1);
    await inDialog(name).click();
  }
  await until('two faders', async () => {
    const bound = (await rows()).binding.filter((b) => b.control.startsWith('cc:1:2'));
    return (
      bound.length === 2 && bound.every((b) => b.target === `layer:${b.control === 'cc:1:20' ? id(13) : LAYER}/opacity`)
    );
  });
  // While the dialog is there, keys are its own.
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await until('no faders', async () => (await rows()).binding.every((b) => !b.control.startsWith('cc:1:2')));
  // Searched and changed in its details: the third pad with a fade of its own.
  await page.getByLabel('Filter events').fill('pads');
  await expect(
    page.getByRole('region', { name: 'Monitor' }).getByText('Note 37 (C♯2), channel 1').first(),
  ).toBeVisible();
  await page.getByRole('region', { name: 'Bindings' }).getByRole('button', { name: 'Cue 3 Level 1' }).click();
  await page.getByRole('switch', { name: 'Own fade of the cue' }).click({ force: true });
  await page.getByLabel('Label', { exact: true }).fill('Pad 3');
  await page.getByLabel('Label', { exact: true }).press('Enter');
  await expect(page.getByRole('region', { name: 'Bindings' }).getByText('Pad 3')).toBeVisible();
  const { binding } = await rows();
  expect(binding.find((b) => b.target === THREE)).toMatchObject({ label: 'Pad 3', fade: 0 });
});

test('a key is bound, and is ours no more; in a field it is a letter', async () => {
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('Control+k');
  await page.getByLabel('Search actions').fill('Bind a control to: Panic');
  await page.keyboard.press('Enter');
  await page.getByRole('dialog', { name: 'Learn a control' }).locator('[data-learning]').click();
  await page.keyboard.press('m');
  await expect(page.getByRole('dialog').getByText('Key M')).toBeVisible();
  await bind().click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByLabel('Filter events').fill('m');
  expect((await state()).cues.panic).toBe(false);
  await page.getByRole('heading', { name: 'Monitor' }).click();
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('m');
  await until('dark', async () => (await state()).cues.panic);
  expect((await kite.api<{ rows: { marker: unknown[] } }>(`shows/${show}`)).rows.marker).toHaveLength(0);
  await kite.live('command', { action: 'panic', on: false, fade: 0 });
});

test('a projector is shut by a cue and by panic, and says so', async () => {
  const [projector, cue] = [id(20), id(21)];
  await kite.api(`shows/${show}/edits`, {
    name: 'Add a projector',
    changes: [created('projector', projector, { name: 'House left' })],
  });
  await page.evaluate(
    (row) =>
      (window as unknown as { kiteStudio: { go(view: string, what: object): void } }).kiteStudio.go('venue', {
        kind: 'projector',
        id: row,
      }),
    projector,
  );
  const details = page.getByRole('complementary', { name: 'Details' });
  await details.getByLabel('Address').fill('127.0.0.11:4388');
  await details.getByLabel('Address').press('Enter');
  await expect(details.getByText('On, shutter open')).toBeVisible();
  await kite.api(`shows/${show}/edits`, {
    name: 'Add a cue',
    changes: [created('cue', cue, { number: '9', name: 'Shut' })],
  });
  await page.evaluate(
    (row) =>
      (window as unknown as { kiteStudio: { go(view: string, what: object): void } }).kiteStudio.go('cues', {
        kind: 'cue',
        id: row,
      }),
    cue,
  );
  await details.getByLabel('Also does').fill('fire 1');
  await details.getByLabel('Also does').blur();
  await expect(page.getByText('fire 1 is nothing that a cue does.').first()).toBeVisible();
  await details.getByLabel('Also does').fill('shutter 1 "House left"');
  await details.getByLabel('Also does').blur();
  await until('it to be stored', async () =>
    (await kite.api<{ rows: { cue: { id: string; actions: string }[] } }>(`shows/${show}`)).rows.cue.some(
      (c) => c.id === cue && c.actions !== '',
    ),
  );
  const shut = async () =>
    (await kite.live<{ devices: { projectors: Record<string, { shut: boolean }> } }>('state')).devices.projectors[
      projector
    ]?.shut;
  await kite.live('command', { action: 'fire', cue });
  await until('it to be shut', async () => (await shut()) === true);
  await kite.live('command', { action: 'shutter', on: false });
  await until('it to be open', async () => (await shut()) === false);
  await kite.live('command', { action: 'release' });
  await page.getByRole('link', { name: /^Bindings/ }).click();
});

test('a page of the board alone is a touch panel: two fingers, no dwelling, and it says when the desk is gone', async ({
  browser,
}) => {
  const [board, left, right] = [id(30), id(31), id(32)];
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out a page',
    changes: [
      created('page', board, { name: 'Quay side', columns: 2, rows: 2 }),
      created('cue', left, { number: 'b1', name: 'Port', listed: false, page: board, row: 0, column: 0 }),
      created('cue', right, { number: 'b2', name: 'Starboard', listed: false, page: board, row: 0, column: 1 }),
    ],
  });
  const context = await browser.newContext({ viewport: { width: 800, height: 1280 }, hasTouch: true });
  const panel = await context.newPage();
  await panel.goto(`${kite.address}/touch/Quay%20side`);
  await expect(panel.getByText('● Quay side')).toBeVisible();
  const port = panel.getByRole('button', { name: 'Cue b1 Port' });
  const starboard = panel.getByRole('button', { name: 'Cue b2 Starboard' });
  const middle = async (of: typeof port) => {
    const box = await until('its place', async () => of.boundingBox());
    expect(Math.min(box.width, box.height)).toBeGreaterThanOrEqual(44);
    return { x: Math.round(box.x + box.width / 2), y: Math.round(box.y + box.height / 2) };
  };
  // Both fingers stay down: what they touch is on all the same.
  const touch = await context.newCDPSession(panel);
  const touchPoints = [
    { ...(await middle(port)), id: 1 },
    { ...(await middle(starboard)), id: 2 },
  ];
  await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints });
  await isOn(left);
  await isOn(right);
  await expect(port).toHaveAttribute('aria-pressed', 'true');
  await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await port.tap();
  await until('it to be released', async () => !(left in (await state()).cues.on));
  await kite.live('command', { action: 'pointer', cue: ONE });
  await expect(panel.getByRole('button', { name: 'Go' })).toHaveText('Go: 1 Level 0.2');
  await panel.getByRole('button', { name: 'Go' }).tap();
  await isOn(ONE);
  // It is back so soon that what it says meanwhile is taken down as it says it.
  const said = await panel.evaluateHandle(() => {
    const texts: [string, number][] = [];
    const line = document.querySelector('[role=status]');
    const began = performance.now();
    new MutationObserver(() => texts.push([line?.textContent ?? '', performance.now() - began])).observe(
      document.body,
      {
        subtree: true,
        childList: true,
        characterData: true,
      },
    );
    return texts;
  });
  for (const pid of kite.pids('kite:conductor')) process.kill(pid, 'SIGKILL');
  const gone = await until('what it says', async () =>
    (await said.jsonValue()).find(([text]) => text === '▲ The desk is gone; this panel comes back by itself'),
  );
  expect(gone[1]).toBeLessThan(2000);
  await expect(panel.getByText('● Quay side')).toBeVisible();
  await expect(starboard).toHaveAttribute('aria-pressed', 'true');
  await context.close();
  await kite.live('command', { action: 'release' });
});

test('a timeline chases timecode that an audio input of the window hears', async () => {
  const recording = join(mkdtempSync(join(tmpdir(), 'kite-line-')), 'line.wav');
  kite.artisan('kite:ltc-write', recording, '--from=01:00:05:00', '--rate=25', '--seconds=40');
  await kite.api(`shows/${show}/edits`, {
    name: 'Follow',
    changes: [
      {
        kind: 'timeline',
        id: LINE,
        op: 'update',
        fields: { clock: { before: '', after: 'LTC' }, clockStart: { before: 0, after: 3600 * S } },
      },
    ],
  });
  const own = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--autoplay-policy=no-user-gesture-required',
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-audio-capture=${recording}%noloop`,
    ],
  });
  const window = await own.newPage();
  await window.goto(`${kite.address}/bindings`);
  await window.getByRole('button', { name: 'Listen for LTC' }).click();
  await expect(window.getByRole('status', { name: 'Timecode' })).toHaveText(/● LTC 01:00:\d\d:\d\d at 25/);
  const told = await until('it to chase', async () => {
    const now = (await kite.live<{ timecode: { text: string; at: number } | null }>('state')).timecode;
    const deck = (await state()).decks[LINE];
    return now !== null && deck?.running === true && deck.position > 6 * S && deck.position < 45 * S && now;
  });
  // Each reading comes as late as the audio input hands it on; the timeline is where the least late of them say, and runs evenly.
  const [late, even]: [number[], number[]] = [[], []];
  for (let i = 0; i < 12; i++) {
    const now = await kite.live<{
      engine: number;
      timecode: { text: string; at: number };
      decks: Record<string, { position: number }>;
    }>('state');
    const [, , seconds = '0', frames = '0'] = now.timecode.text.split(':');
    const said = Number(seconds) + (Number(frames) + 1) / 25 + (now.engine - now.timecode.at) / S;
    const position = (now.decks[LINE]?.position ?? 0) / S;
    late.push(position - said);
    even.push(position - now.engine / S);
    await until(
      'the next',
      async () => (await kite.live<{ timecode: { text: string } }>('state')).timecode.text !== now.timecode.text,
    );
  }
  expect(told.text).toMatch(/^01:00:/);
  expect(Math.min(...late.map(Math.abs)), late.join(' ')).toBeLessThan(0.04);
  expect(Math.max(...even) - Math.min(...even), even.join(' ')).toBeLessThan(0.12);
  await own.close();
  await until('it to hold', async () => (await state()).decks[LINE]?.running === false);
  await kite.api(`shows/${show}/edits`, {
    name: 'Follow no more',
    changes: [{ kind: 'timeline', id: LINE, op: 'update', fields: { clock: { before: 'LTC', after: '' } } }],
  });
});

test('an engine that is killed comes back with its box, and a fader goes on where it was', async () => {
  // With its motor, the box goes where the master is; from there it is one step.
  await page.getByRole('region', { name: 'Bindings' }).getByRole('button', { name: 'Master' }).click();
  await page.getByRole('switch', { name: 'Sends it where the value is' }).click({ force: true });
  await fader(1).focus();
  await expect(fader(1)).toHaveValue('127');
  await box.keyboard.press('ArrowDown');
  await until('one less', async () => Math.abs(((await state()).live['master:show/level'] ?? 0) - 126 / 127) < 1e-6);
  for (const pid of kite.pids('kite:conductor')) process.kill(pid, 'SIGKILL');
  // Its session goes on with the next engine, before anybody invites it.
  await until('the show', async () => (await state().catch(() => null))?.compiler?.ready === true);
  await until('it to go on', async () => {
    await box.keyboard.press('ArrowDown');
    return ((await state()).live['master:show/level'] ?? 1) < 126 / 127 - 1e-6;
  });
  await expect(box.getByRole('status')).toHaveText('● Session with the engine is on');
});

/** Beats of a drum, 120 a minute, as a recording: a low thump that rings off. */
function drum(): string {
  const file = join(mkdtempSync(join(tmpdir(), 'kite-drum-')), 'drum.wav');
  const [rate, seconds] = [48_000, 10];
  const bytes = Buffer.alloc(44 + 2 * rate * seconds);
  bytes.write('RIFF', 0);
  bytes.writeUInt32LE(bytes.length - 8, 4);
  bytes.write('WAVEfmt ', 8);
  bytes.writeUInt32LE(16, 16);
  bytes.writeUInt16LE(1, 20);
  bytes.writeUInt16LE(1, 22);
  bytes.writeUInt32LE(rate, 24);
  bytes.writeUInt32LE(2 * rate, 28);
  bytes.writeUInt16LE(2, 32);
  bytes.writeUInt16LE(16, 34);
  bytes.write('data', 36);
  bytes.writeUInt32LE(bytes.length - 44, 40);
  for (let i = 0; i < rate * seconds; i++) {
    const t = (i / rate) % 0.5;
    const thump = 0.7 * Math.exp(-t * 25) * Math.sin(2 * Math.PI * 80 * t);
    const click = 0.3 * Math.exp(-t * 80) * Math.sin(2 * Math.PI * 3000 * t);
    bytes.writeInt16LE(Math.round((thump + click + 0.002 * Math.sin(i * 1.3)) * 30_000), 44 + 2 * i);
  }
  writeFileSync(file, bytes);
  return file;
}

test('what an audio input hears drives a value, and a request with a token fires a cue', async () => {
  await kite.live('command', { action: 'live', values: { 'master:show/level': null, [OPACITY]: null } });
  const own = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--autoplay-policy=no-user-gesture-required',
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-audio-capture=${drum()}`,
    ],
  });
  const studio = await own.newPage({ viewport: { width: 1280, height: 800 } });
  await studio.goto(`${kite.address}/bindings`);
  const details = studio.getByRole('complementary', { name: 'Details' });
  const choose = async (label: string, option: string) => {
    await details.getByLabel(label, { exact: true }).click();
    await studio.getByRole('option', { name: option, exact: true }).click();
  };
  await studio.getByRole('button', { name: 'Add a device' }).click();
  await choose('Protocol', 'Sound');
  await details.getByRole('button', { name: 'Listen to sound' }).click();
  await expect(details.getByRole('img', { name: /^Levels of/ })).toContainText(/\b1[12]\d BPM/, {
    timeout: 20_000,
  });
  await details.getByRole('button', { name: 'Add a binding' }).click();
  await choose('Control', 'Low, 40 to 250 Hz');
  const seen: number[] = [];
  await details.getByLabel('Value from').fill('20');
  await details.getByLabel('Value from').press('Enter');
  await until('loud and soft', async () => {
    const level = (await state()).live['master:show/level'];
    if (level !== undefined) seen.push(level);
    return Math.max(...seen) > 0.85 && Math.min(...seen) < 0.6;
  });
  expect(Math.min(...seen)).toBeGreaterThanOrEqual(0.2);
  await studio.getByRole('button', { name: 'Add a device' }).click();
  await choose('Protocol', 'HTTP');
  await details.getByRole('button', { name: 'Make a token' }).click();
  const told = await details.getByText(/This is told once/).textContent();
  const token = (told ?? '').split(': ')[1] ?? '';
  await details.getByRole('button', { name: 'Add a binding' }).click();
  await choose('Kind', 'Cue');
  await choose('Cue', '2 Level 0.6');
  const press = (bearer: string) =>
    fetch(`${kite.address}/live/press`, {
      method: 'POST',
      headers: { Authorization: `Bearer ${bearer}`, 'Content-Type': 'application/json' },
      body: JSON.stringify({ control: '/press' }),
    });
  // It is taken as soon as the binding is stored; until then, it was one to another cue.
  await until('the cue', async () => (await press(token)).status === 200 && TWO in (await state()).cues.on);
  expect((await press('no token')).status).toBe(401);
  await own.close();
  await kite.live('command', { action: 'release' });
});

test('a panel is built by dragging, a paired tablet presses it, and is cut off when it is revoked', async ({
  browser,
}) => {
  await kite.live('command', { action: 'live', values: { 'master:show/level': 0.5 } });
  await page.goto(`${kite.address}/bindings`);
  await page.getByRole('button', { name: 'Add a touch panel' }).click();
  const panel = page.getByRole('region', { name: 'Touch panel' });
  for (const kind of ['Fader', 'Cue tile', 'Button'])
    await panel.getByRole('button', { name: kind, exact: true }).click();
  // The button, by its field: it holds a value while a finger lies on it.
  const details = page.getByRole('complementary', { name: 'Details' });
  await details.getByLabel('Kind', { exact: true }).click();
  await page.getByRole('option', { name: 'Value', exact: true }).click();
  await details.getByLabel('Value', { exact: true }).fill('Glow · Opacity');
  await page.getByRole('option', { name: 'Glow · Opacity' }).click();
  await expect(details.getByText('Glow · Opacity', { exact: false }).first()).toBeVisible();
  // Dragged two columns and a row on; where something stands, it stays.
  const button = panel.getByRole('button', { name: 'Button button1' });
  const grid = await panel.locator('.panel-grid').boundingBox();
  const box = await button.boundingBox();
  if (grid === null || box === null) throw new Error('There is no grid.');
  const [width, height] = [grid.width / 6, grid.height / 4];
  await page.mouse.move(box.x + 20, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + 20 + 2 * width, box.y + 20 + height, { steps: 4 });
  await page.mouse.up();
  const items = async () => (await kite.api<{ rows: { touchItem: Item[] } }>(`shows/${show}`)).rows.touchItem;
  await until('the move', async () =>
    (await items()).some((i) => i.name === 'button1' && i.column === 4 && i.row === 1),
  );
  await button.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await until('it to be wider', async () => (await items()).some((i) => i.name === 'button1' && i.columns === 2));
  await page.keyboard.press('Control+z');
  await until('it as before', async () => (await items()).some((i) => i.name === 'button1' && i.columns === 1));
  // A tablet comes in by the door for tablets, and only with a code.
  const context = await browser.newContext({ viewport: { width: 900, height: 600 } });
  const tablet = await context.newPage();
  await tablet.goto('http://127.0.0.1:4599/touch/Panel%201');
  await page.getByRole('table').getByRole('button', { name: 'Panel 1' }).click();
  await details.getByRole('button', { name: 'Pair a tablet' }).click();
  const code = (await details.getByRole('status').locator('strong').textContent()) ?? '';
  await tablet.getByLabel('Code').fill(code === '111111' ? '111112' : '111111');
  await tablet.getByRole('button', { name: 'Pair' }).click();
  await expect(tablet.getByRole('status')).toContainText('no code that is good now');
  await tablet.getByLabel('Code').fill(code);
  await tablet.getByLabel('Name of this tablet').fill('Wing');
  await tablet.getByRole('button', { name: 'Pair' }).click();
  await expect(tablet.getByText('● Panel 1')).toBeVisible();
  expect((await tablet.request.get('http://127.0.0.1:4599/api/shows')).status()).toBe(404);
  // The fader shows the value; a finger goes on from there, wherever it lies.
  const slider = tablet.getByRole('slider', { name: 'fader1' });
  await expect(slider).toHaveAttribute('aria-valuenow', '50');
  const at = await slider.boundingBox();
  if (at === null) throw new Error('There is no fader.');
  await tablet.mouse.move(at.x + at.width / 2, at.y + 0.9 * at.height);
  await tablet.mouse.down();
  await tablet.mouse.move(at.x + at.width / 2, at.y + 0.65 * at.height, { steps: 5 });
  await tablet.mouse.up();
  await until('three quarters', async () => Math.abs(((await state()).live['master:show/level'] ?? 0) - 0.75) < 0.01);
  await slider.press('ArrowUp');
  await until('one step', async () => Math.abs(((await state()).live['master:show/level'] ?? 0) - 0.76) < 0.01);
  await kite.live('command', { action: 'live', values: { 'master:show/level': 0.25 } });
  await expect(slider).toHaveAttribute('aria-valuenow', '25');
  // A cue, and a value that is held while a finger lies on it: the desk is told also when the tablet goes.
  await tablet.getByRole('button', { name: 'Level 0.2' }).click();
  await isOn(ONE);
  await expect(tablet.getByRole('button', { name: 'Level 0.2' })).toHaveAttribute('aria-pressed', 'true');
  await tablet.getByRole('button', { name: 'button1' }).hover();
  await tablet.mouse.down();
  await until('the value', async () => (await state()).live[OPACITY] === 1);
  await tablet.close();
  await until('it to be let go of', async () => (await state()).live[OPACITY] === 0);
  const again = await context.newPage();
  await again.goto('http://127.0.0.1:4599/touch/Panel%201');
  await expect(again.getByText('● Panel 1')).toBeVisible();
  for (const pid of kite.pids('kite:conductor')) process.kill(pid, 'SIGKILL');
  await expect(again.getByText('● Panel 1')).toBeHidden({ timeout: 2000 });
  await expect(again.getByText('● Panel 1')).toBeVisible();
  await expect(again.getByRole('slider', { name: 'fader1' })).toHaveAttribute('aria-valuenow', '25');
  await panel.getByRole('button', { name: 'Picture', exact: true }).click();
  await until('the picture', async () => (await items()).some((i) => i.name === 'picture1'));
  // What a surface shows and an output is sent is drawn there once more, and that is no player of it.
  await again.locator('iframe[title="picture1"]').evaluate((frame) => frame.setAttribute('data-first', ''));
  const drawn = async (of: string) => {
    const frame = await (await again.locator(`iframe[src*="${of}"]`).elementHandle())?.contentFrame();
    return (await canvasPixels(frame as Frame, [[32, 32]])).pixels[0]?.[0] ?? -1;
  };
  // The cue at 0.2, the master at a quarter.
  await kite.live('command', { action: 'live', values: { [OPACITY]: null } });
  await until('the surface', async () => Math.abs((await drawn('picture=surface')) - 0.2 * 0.25 * 255) <= 1);
  await expect(again.locator('iframe[data-first]')).toHaveCount(1);
  await details.getByLabel('Surface, output or input').fill('Output');
  await page.getByRole('option', { name: 'Output 1' }).click();
  await until('the output', async () => Math.abs((await drawn('picture=output')) - 0.2 * 0.25 * 255) <= 1);
  expect((await kite.live<{ players: unknown[] }>('state')).players.length).toBe(1);
  await page.getByRole('table').getByRole('button', { name: 'Panel 1' }).click();
  await details.getByRole('button', { name: 'Revoke' }).click();
  await expect(again.getByLabel('Code')).toBeVisible();
  await context.close();
  await kite.live('command', { action: 'release' });
});

interface Item {
  name: string;
  column: number;
  row: number;
  columns: number;
}
