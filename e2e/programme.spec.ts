import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { canvasPixels, created, KiteLamp, makeVideo, rowId, until } from './kite';

const S = 705_600_000;
const kite = new KiteLamp(4520);
let page: Page;
let player: Page;
let show = '';
const id = (n: number) => rowId(0, n);
const [PANEL, WALL, LINE, RED, BLUE, OUTPUT] = [1, 2, 3, 4, 5, 6].map(id) as [
  string,
  string,
  string,
  string,
  string,
  string,
];

interface Rows {
  clip: {
    id: string;
    layer: string;
    media: string;
    start: number;
    length: number;
    in: number;
    speed: number;
    fadeIn: number;
  }[];
  marker: { time: number; name: string }[];
  timeline: { bpm: number; firstBeat: number; duration: number }[];
  cue: { id: string; number: string; name: string; scope: string; held: { a: string; v: number }[]; fade: number }[];
  curve: { owner: string; property: string; keyframes: { t: number; v: number }[] }[];
  layer: { id: string; name: string; locked: boolean; values: Record<string, unknown> }[];
}
const rows = async () => (await kite.api<{ rows: Rows }>(`shows/${show}`)).rows;
const clips = async () => (await rows()).clip.sort((a, b) => a.start - b.start);
const seconds = (flicks: number) => Number((flicks / S).toFixed(3));

test.describe.configure({ mode: 'serial' });

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Song', frameRate: '25' })).id;
  const { media } = await kite.upload(show, makeVideo(join(kite.folder, 'clip.mp4'), true), 'clip.mp4');
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('panel', PANEL, { name: 'P', widthMm: 500, heightMm: 500, widthPx: 64, heightPx: 64 }),
      created('surface', WALL, { name: 'Wall', cells: [[PANEL]], seams: [] }),
      created('timeline', LINE, { name: 'Song', duration: 60 * S }),
      created('media', RED, { name: 'Red', kind: 'solid', colour: '#ff0000' }),
      created('media', BLUE, { name: 'Blue', kind: 'solid', colour: '#0000ff' }),
      created('output', OUTPUT, { name: 'Output 1', width: 64, height: 64, refresh: 60 }),
      created('region', id(7), { output: OUTPUT, surface: WALL, source: [0, 0, 64, 64] }),
    ],
  });
  await until(
    'the media to be ready',
    async () =>
      (await kite.api<{ rows: { media: { id: string; state: string }[] } }>(`shows/${show}`)).rows.media.find(
        (m) => m.id === media,
      )?.state === 'ready',
  );
  await kite.api(`shows/${show}/engage`, {});
  ({ page, player } = await kite.open(browser, OUTPUT, 'timeline'));
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

/** Red, green and blue in the middle of the output. */
const light = async () => ((await canvasPixels(player, [[32, 32]])).pixels[0] ?? []) as number[];
const shows = (what: string, near: (rgb: number[]) => boolean) => until(what, async () => near(await light()) || null);
const jump = (time: number) => kite.live('command', { action: 'jump', time: time * S });
const at = (time: number, rgb: [number, number, number], off = 8) =>
  jump(time).then(() =>
    shows(`${rgb} at ${time} s`, (is) => is.every((v, i) => Math.abs(v - (rgb[i] as number)) <= off)),
  );

test('markers and the tempo are tapped while it plays, and a clip sticks to a marker', async () => {
  await page.getByRole('button', { name: 'Add a layer' }).first().click();
  await expect(page.getByRole('heading', { name: 'Layer 1' })).toBeVisible();
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await kite.live('command', { action: 'play' });
  const position = () =>
    kite.live<{ decks: Record<string, { position: number }> }>('state').then((s) => s.decks[LINE]?.position ?? 0);
  for (const time of [2, 4]) {
    await until(`${time} s`, async () => (await position()) >= time * S);
    await page.keyboard.press('m');
    await until('the marker', async () => (await rows()).marker.length >= time / 2);
  }
  await kite.live('command', { action: 'stop' });
  const marks = (await rows()).marker.sort((a, b) => a.time - b.time);
  expect(seconds(marks[0]?.time ?? 0)).toBeGreaterThan(1.9);
  expect(seconds(marks[0]?.time ?? 0)).toBeLessThan(3.4);
  // The layer is chosen and what is pressed in the tray comes to the playhead.
  await page.getByRole('button', { name: /^Layer 1 ▸/ }).click();
  await page.getByRole('button', { name: 'Red', exact: true }).click();
  await until('the clip', async () => (await clips()).length === 1);
  const box = page.getByRole('button', { name: 'Clip Red' });
  const bounds = await box.boundingBox();
  const lane = await page.locator('.tl-lane').first().boundingBox();
  if (bounds === null || lane === null) throw new Error('no clip');
  const scale = bounds.width / 5;
  const target = lane.x + seconds(marks[1]?.time ?? 0) * scale;
  await page.mouse.move(bounds.x + 20, bounds.y + 18);
  await page.mouse.down();
  await page.mouse.move(bounds.x + 60, bounds.y + 18, { steps: 4 });
  await page.mouse.move(target + 20 + 3, bounds.y + 18, { steps: 4 });
  await expect(page.locator('.stuck')).toBeVisible();
  await page.mouse.up();
  await until(
    'it to lie on the marker',
    async () => (await clips())[0]?.start === Math.round((marks[1]?.time ?? 0) / (S / 25)) * (S / 25),
  );
  await expect(page.locator('.stuck')).toHaveCount(0);
  await kite.live('command', { action: 'play' });
  for (let i = 0; i < 5; i++) {
    const beat = await position();
    await page.keyboard.press('t');
    await until('half a second', async () => (await position()) >= beat + S / 2 - S / 25);
  }
  const tempo = await until(
    'the tempo',
    async () => ((await rows()).timeline[0]?.bpm ?? 0) > 0 && (await rows()).timeline[0],
  );
  expect(tempo?.bpm).toBeGreaterThan(80);
  expect(tempo?.bpm).toBeLessThan(160);
  await kite.live('command', { action: 'stop' });
});

test('clips are cut, duplicated, moved along with ripple, and undone', async () => {
  const red = (await clips())[0];
  if (red === undefined) throw new Error('no clip');
  await kite.api(`shows/${show}/program`, { action: 'move', clips: [red.id], by: 10 * S - red.start });
  await page.getByRole('button', { name: 'Clip Red' }).click();
  await jump(12);
  await until('the playhead', async () =>
    page.evaluate(() => document.querySelector('[data-testid="clock"]')?.textContent === '00:00:12:00'),
  );
  await page.keyboard.press('/');
  await until('two clips', async () => (await clips()).length === 2);
  expect((await clips()).map((c) => [seconds(c.start), seconds(c.length)])).toEqual([
    [10, 2],
    [12, 3],
  ]);
  await page.keyboard.press('Control+d');
  await until('three clips', async () => (await clips()).length === 3);
  await page.keyboard.press('r');
  await expect(page.getByRole('button', { name: 'Ripple' })).toHaveAttribute('aria-pressed', 'true');
  // The earliest of them, wherever it stands in the document; nothing else is chosen before it goes.
  const reds = page.getByRole('button', { name: 'Clip Red' });
  await expect(reds).toHaveCount(3);
  const lefts = await reds.evaluateAll((all) => all.map((one) => one.getBoundingClientRect().left));
  const earliest = reds.nth(lefts.indexOf(Math.min(...lefts)));
  await earliest.click();
  await expect(earliest).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Delete');
  await until(
    'what follows to move up',
    async () => JSON.stringify((await clips()).map((c) => seconds(c.start))) === '[10,13]',
  );
  await page.keyboard.press('r');
  await page.keyboard.press('Control+z');
  await until('three again', async () => (await clips()).length === 3);
  // Copied and pasted at the playhead.
  await page
    .getByRole('button', { name: 'Clip Red' })
    .first()
    .click({ position: { x: 12, y: 18 } });
  await page.keyboard.press('Control+c');
  await jump(30);
  await until('the playhead', async () =>
    page.evaluate(() => document.querySelector('[data-testid="clock"]')?.textContent === '00:00:30:00'),
  );
  await page.keyboard.press('Control+v');
  await until('the copy', async () => (await clips()).some((c) => seconds(c.start) === 30));
  // A locked layer keeps its clips.
  await page.getByRole('button', { name: 'Lock Layer 1' }).click();
  await until('the lock', async () => (await rows()).layer[0]?.locked === true);
  await page
    .getByRole('button', { name: 'Clip Red' })
    .first()
    .click({ position: { x: 12, y: 18 } });
  await page.keyboard.press('Delete');
  await expect(page.getByText('is locked', { exact: false }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Lock Layer 1' }).click();
  await until('the lock to go', async () => (await rows()).layer[0]?.locked === false);
});

test('one clip fades into another, and every moment of it is seen', async () => {
  const layer = (await rows()).layer[0]?.id ?? '';
  const old = await clips();
  await kite.api(`shows/${show}/program`, { action: 'remove', clips: old.map((c) => c.id) });
  await kite.api(`shows/${show}/edits`, {
    name: 'Two clips',
    changes: [
      created('clip', id(20), { layer, media: RED, start: 2 * S, length: 8 * S, fadeIn: 2 * S }),
      created('clip', id(21), { layer, media: BLUE, start: 6 * S, length: 10 * S, fadeOut: 4 * S }),
    ],
  });
  await at(1, [0, 0, 0]);
  await at(3, [128, 0, 0]);
  await at(5, [255, 0, 0]);
  await at(7, [191, 0, 64]);
  await at(8, [128, 0, 128]);
  await at(11, [0, 0, 255]);
  await at(14, [0, 0, 128]);
  // Its handle at the upper corner takes the fade away.
  await page.getByRole('button', { name: 'Clip Red' }).click({ position: { x: 30, y: 24 } });
  await page.getByLabel('Fade in').fill('0');
  await page.getByLabel('Fade in').press('Enter');
  await until('the fade to be gone', async () => (await clips())[0]?.fadeIn === 0);
  await at(3, [255, 0, 0]);
  // A jump with a fade shows both places.
  await jump(5);
  await shows('red', (is) => (is[0] ?? 0) > 240);
  await kite.live('command', { action: 'jump', time: 11 * S, fade: 3 * S });
  const seen = await until('both', async () => {
    const [r = 0, , b = 0] = await light();
    return r > 40 && b > 40 ? [r, b] : null;
  });
  expect(Math.abs((seen[0] ?? 0) + (seen[1] ?? 0) - 255)).toBeLessThanOrEqual(8);
  await shows('blue', (is) => (is[2] ?? 0) > 250 && (is[0] ?? 9) < 3);
});

test('a strip of pictures shows what one programs, is sized by keys, and costs nothing while nothing changes', async () => {
  await page.getByRole('button', { name: 'Pictures' }).click();
  const strip = page.getByRole('region', { name: 'Pictures' });
  const picture = strip.getByRole('button', { name: 'Wall' });
  await expect(picture).toBeVisible();
  /** The middle of the strip's picture. */
  const middle = () =>
    picture.locator('canvas').evaluate((node) => {
      const canvas = node as HTMLCanvasElement;
      const [x, y] = [Math.floor(canvas.width / 2), Math.floor(canvas.height / 2)];
      return [...(canvas.getContext('2d')?.getImageData(x, y, 1, 1).data ?? [])].slice(0, 3);
    });
  for (const time of [1, 11]) {
    await jump(time);
    await until(`the same at ${time} s`, async () => {
      const [there, here] = [await light(), await middle()];
      return there.length === 3 && here.every((v, i) => Math.abs(v - (there[i] ?? 999)) <= 3);
    });
  }
  const composed = () =>
    page.evaluate(() => (window as unknown as { kiteStage?: { composed: number } }).kiteStage?.composed ?? -1);
  const before = await composed();
  expect(before).toBeGreaterThan(0);
  // Two frames of the page later nothing was drawn anew; a jump to another picture draws it once.
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  expect(await composed()).toBe(before);
  const high = async () => (await strip.boundingBox())?.height ?? 0;
  const usual = await high();
  await strip.getByRole('separator').press('ArrowUp');
  await expect.poll(high).toBe(usual + 16);
  await page.keyboard.press('p');
  await expect(strip).toBeHidden();
});

test('fields of time and numbers take sums, and what begins from what is there', async () => {
  const details = page.getByRole('complementary', { name: 'Details' });
  const before = await clips();
  await page.getByRole('button', { name: 'Clip Blue' }).click({ position: { x: 60, y: 24 } });
  const blue = async () => (await clips()).find((c) => c.id === id(21));
  const type = async (label: string, text: string, what: () => Promise<boolean>) => {
    const field = details.getByLabel(label, { exact: true });
    await field.fill(text);
    await field.press('Enter');
    await until(`${text} in ${label}`, what);
  };
  // Twelve frames of 25 are 0.48 s.
  await type('Start', '+12', async () => blue().then((c) => seconds(c?.start ?? 0) === 6.48));
  await type('Start', '00:00:06:00 + 2s', async () => blue().then((c) => seconds(c?.start ?? 0) === 8));
  await type('Start', '- 1s', async () => blue().then((c) => seconds(c?.start ?? 0) === 7));
  await type('Length', '/2', async () => blue().then((c) => seconds(c?.length ?? 0) === 5));
  await type('Length', '0.1min', async () => blue().then((c) => seconds(c?.length ?? 0) === 6));
  await type('Length', '=00:00:10:00', async () => blue().then((c) => seconds(c?.length ?? 0) === 10));
  await details.getByLabel('Start', { exact: true }).fill('tomorrow');
  await details.getByLabel('Start', { exact: true }).press('Enter');
  // What can't be read is said, and stays as it was typed.
  await expect(details.getByLabel('Start', { exact: true })).toHaveAttribute('aria-invalid', 'true');
  await expect(details.getByLabel('Start', { exact: true })).toHaveValue('tomorrow');
  await type('Start', '00:00:06:00', async () => blue().then((c) => seconds(c?.start ?? 0) === 6));
  expect((await clips()).map((c) => [c.start, c.length])).toEqual(before.map((c) => [c.start, c.length]));
});

test('the latency of a tap is measured by clicks', async () => {
  await page.evaluate(
    (line) =>
      (window as unknown as { kiteStudio: { go: (v: string, s: unknown) => void } }).kiteStudio.go('timeline', {
        kind: 'timeline',
        id: line,
      }),
    LINE,
  );
  await page.getByRole('button', { name: 'Measure tap latency' }).click();
  const dialog = page.getByRole('dialog', { name: 'Measure tap latency' });
  await expect(dialog.getByRole('button', { name: 'Use it' })).toBeDisabled();
  for (let i = 1; i <= 10; i++) {
    await page.keyboard.press('m');
    await expect(dialog.getByRole('status')).toContainText(`${i} tap`);
  }
  const said = /(-?\d+) ms, ±/.exec((await dialog.getByRole('status').textContent()) ?? '')?.[1];
  await dialog.getByRole('button', { name: 'Use it' }).click();
  await expect(page.getByLabel('Tap latency')).toHaveValue(said ?? 'no number');
  // No marker was set by it.
  expect(await page.evaluate(() => localStorage.getItem('kite-tap-latency'))).toBe(said);
  await page.getByLabel('Tap latency').fill('0');
  await page.getByLabel('Tap latency').press('Enter');
});

test('a clip by a clock of its own runs on while its timeline holds, and stands with it again without', async () => {
  const layer = (await rows()).layer[0]?.id ?? '';
  const media = (await kite.api<{ rows: { media: { id: string; name: string }[] } }>(`shows/${show}`)).rows.media.find(
    (m) => m.name.startsWith('clip'),
  )?.id;
  await kite.api(`shows/${show}/edits`, {
    name: 'A video',
    changes: [created('clip', id(22), { layer, media, start: 20 * S, length: 20 * S, pastEnd: 'loop', speed: 0.7 })],
  });
  const left = async () => ((await canvasPixels(player, [[8, 32]])).pixels[0] ?? [])[0] ?? 0;
  await jump(25);
  await page.getByRole('button', { name: /^Clip clip/ }).click({ position: { x: 30, y: 24 } });
  await page.getByRole('switch', { name: 'Own clock' }).click();
  await expect(page.getByRole('button', { name: /^Clip clip.*, own clock$/ })).toBeVisible();
  await kite.live('command', { action: 'hold' });
  // A tab behind another is drawn once a second.
  await player.bringToFront();
  const seen = new Set<number>();
  await until('five frames while it holds', async () => seen.add(await left()).size >= 5);
  // A jump within it, and it runs on.
  await jump(30);
  seen.clear();
  await until('five more', async () => seen.add(await left()).size >= 5);
  await page.bringToFront();
  await page.getByRole('switch', { name: 'Own clock' }).click();
  await expect(page.getByRole('button', { name: /^Clip clip/ })).not.toHaveAccessibleName(/own clock/);
  // At 30 s, ten past its beginning, seven of the media have passed, which lasts two: frame 25 says 140 of 255.
  await until('the frame of the timeline', async () => Math.abs((await left()) - 140) <= 6);
  await kite.api(`shows/${show}/program`, { action: 'remove', clips: [id(22)] });
  await at(11, [0, 0, 255]);
});

test('a timeline is put on a layer of another one as a clip, and is seen where its own layers go', async () => {
  const [inner, lime] = [id(40), id(41)];
  await kite.api(`shows/${show}/edits`, {
    name: 'Another timeline',
    changes: [
      created('media', lime, { name: 'Lime', kind: 'solid', colour: '#80ff00' }),
      created('timeline', inner, { name: 'Swell', duration: 8 * S, order: 1 }),
      created('layer', id(42), { timeline: inner, name: 'Inside', order: 0, route: id(43) }),
      created('route', id(43), { layer: id(42), surfaces: [WALL] }),
      created('clip', id(44), { layer: id(42), media: lime, start: 0, length: 8 * S, fadeIn: 4 * S }),
    ],
  });
  await page.getByRole('button', { name: /^Layer 1 ▸/ }).click();
  await jump(30);
  await page.getByRole('button', { name: '▤ Swell' }).click();
  await expect(page.getByRole('button', { name: 'Clip Swell' })).toBeVisible();
  expect((await clips()).at(-1)).toMatchObject({ start: 30 * S, length: 8 * S });
  // Two seconds in, half of its fade; six in, all of it; past it, nothing.
  await at(32, [64, 128, 0]);
  await at(36, [128, 255, 0]);
  await at(39, [0, 0, 0]);
  // Its own layer moves it there, too.
  await kite.live('command', { action: 'live', values: { [`layer:${id(42)}/opacity`]: 0.5 } });
  await at(36, [64, 128, 0]);
  await kite.live('command', { action: 'live', values: { [`layer:${id(42)}/opacity`]: null } });
  await kite.api(`shows/${show}/program`, {
    action: 'remove',
    clips: [(await clips()).find((c) => c.start === 30 * S)?.id],
  });
  await kite.api(`shows/${show}/edits`, {
    name: 'Away',
    changes: [{ kind: 'timeline', id: inner, op: 'delete', fields: {} }],
  });
  await at(11, [0, 0, 255]);
});

test('loose values are counted, outlive a reload, are kept in part and let go of', async () => {
  const layer = (await rows()).layer[0]?.id ?? '';
  await page.getByRole('button', { name: /^Layer 1 ▸/ }).click();
  const details = page.getByRole('complementary');
  await details.getByLabel('Opacity').fill('50');
  await details.getByLabel('Opacity').press('Enter');
  await details.getByLabel('Position X').fill('4');
  await details.getByLabel('Position X').press('Enter');
  await expect(page.getByRole('button', { name: '2 loose' })).toBeVisible();
  await shows('half of it', (is) => Math.abs((is[2] ?? 0) - 128) <= 8);
  await page.reload();
  await page.getByRole('button', { name: '2 loose' }).click();
  const list = page.getByRole('group', { name: 'Loose values' });
  await expect(list.getByText('Layer 1 · Opacity')).toBeVisible();
  await list.getByRole('checkbox', { name: /Position X/ }).uncheck();
  await page.getByRole('button', { name: 'Keep 1' }).click();
  await until('it to be stored', async () => (await rows()).layer.find((l) => l.id === layer)?.values.opacity === 0.5);
  await page.getByRole('button', { name: '1 loose' }).click();
  await page.getByRole('button', { name: '1 loose' }).click();
  await page.getByRole('group', { name: 'Loose values' }).getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Discard 1' }).click();
  await expect(page.getByRole('button', { name: /^\d+ loose$/ })).toHaveCount(0);
  await kite.api(`shows/${show}/edits`, {
    name: 'Full',
    changes: [{ kind: 'layer', id: layer, op: 'update', fields: { 'values.opacity': { before: 0.5, after: 1 } } }],
  });
});

test('keyframes take what is typed from what they are, and a handle is pulled', async () => {
  const layer = (await rows()).layer[0]?.id ?? '';
  const curve = id(30);
  const turn = async () =>
    (
      await kite.api<{
        rows: { curve: { id: string; keyframes: { t: number; v: number; i?: string; h?: number[] }[] }[] };
      }>(`shows/${show}`)
    ).rows.curve.find((c) => c.id === curve)?.keyframes ?? [];
  await kite.api(`shows/${show}/edits`, {
    name: 'Turn',
    changes: [
      created('curve', curve, {
        ownerKind: 'layer',
        owner: layer,
        property: 'turn',
        slot: 0,
        keyframes: [
          { t: 2 * S, v: 10 },
          { t: 8 * S, v: 90 },
        ],
      }),
    ],
  });
  const key = (degrees: number) => page.getByRole('button', { name: new RegExp(`^Rotation ${degrees}([.]0+)?\\D*$`) });
  await page.getByRole('button', { name: /^Layer 1 ▸/ }).click();
  await key(10).click();
  await key(90).click({ modifiers: ['Shift'] });
  await page.getByLabel('Values', { exact: true }).fill('*0.5');
  await page.getByLabel('Values', { exact: true }).press('Enter');
  await until('half of each', async () => (await turn()).map((k) => k.v).join() === '5,45');
  await page.getByLabel('Values', { exact: true }).fill('+ 15 deg');
  await page.getByLabel('Values', { exact: true }).press('Enter');
  await until('15 more', async () => (await turn()).map((k) => k.v).join() === '20,60');
  // Alone, it leaves by a Bézier, whose first handle is pulled half of the way along and to the end's height.
  await page.getByLabel('Values', { exact: true }).press('Escape');
  await key(20).click();
  await page.getByLabel('Keyframe', { exact: true }).getByLabel('Interpolation').click();
  await page.getByRole('option', { name: 'bezier' }).click();
  const handle = page.getByRole('button', { name: 'Leaving handle of Rotation' });
  const [from, to] = [await key(20).boundingBox(), await key(60).boundingBox()] as {
    x: number;
    y: number;
    width: number;
    height: number;
  }[];
  const grip = (await handle.boundingBox()) as { x: number; y: number; width: number; height: number };
  if (from === undefined || to === undefined) throw new Error('No keyframes are seen.');
  await page.mouse.move(grip.x + 6, grip.y + 6);
  await page.mouse.down();
  await page.mouse.move(grip.x + 6 + (to.x - from.x) * 0.1, grip.y + 6 + (to.y - from.y), { steps: 5 });
  await page.mouse.up();
  const [pulled] = await until('the handle to be stored', async () =>
    (await turn())[0]?.h === undefined ? null : turn(),
  );
  expect(pulled?.i).toBe('bezier');
  expect(pulled?.h?.[0]).toBeCloseTo(0.5, 1);
  expect(pulled?.h?.[1]).toBeCloseTo(1, 1);
  // By key, one pixel to the left.
  await handle.press('ArrowLeft');
  await until('the handle further left', async () => ((await turn())[0]?.h?.[0] ?? 1) < (pulled?.h?.[0] ?? 0));
  await kite.api(`shows/${show}/program`, { action: 'dropKeys', keys: (await turn()).map((k) => ({ curve, t: k.t })) });
});

test('a cue holds chosen values, another one everything, also over a layer that is made later', async () => {
  const layer = (await rows()).layer[0]?.id ?? '';
  await jump(11);
  await shows('blue', (is) => (is[2] ?? 0) > 250);
  await kite.live('command', { action: 'live', values: { [`layer:${layer}/opacity`]: 0.25 } });
  await page.keyboard.press('Alt+5');
  await page.getByRole('button', { name: 'Record a cue' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText('Layer 1 · Opacity 25 %')).toBeVisible();
  await dialog.getByLabel('Name').fill('Quarter');
  await dialog.getByLabel('Fade').fill('0');
  await dialog.getByLabel('Fade').press('Enter');
  await dialog.getByRole('button', { name: 'Record', exact: true }).click();
  await until('the cue', async () => (await rows()).cue.length === 1);
  expect((await rows()).cue[0]).toMatchObject({
    number: '1',
    name: 'Quarter',
    scope: 'chosen',
    held: [{ a: `layer:${layer}/opacity`, v: 0.25 }],
    fade: 0,
  });
  await expect(page.getByRole('button', { name: /^\d+ loose$/ })).toHaveCount(0);
  await shows('blue again', (is) => (is[2] ?? 0) > 250);
  // The same press, and all that is seen is held; the rest goes dark.
  await page.getByRole('button', { name: 'Record a cue' }).click();
  await page.getByRole('dialog').getByText('Everything', { exact: true }).click();
  await expect(page.getByRole('dialog').getByText('Every other layer goes dark')).toBeVisible();
  await page.getByRole('dialog').getByLabel('Name').fill('Blue alone');
  await page.getByRole('dialog').getByLabel('Fade').fill('0');
  await page.getByRole('dialog').getByLabel('Fade').press('Enter');
  await page.getByRole('dialog').getByRole('button', { name: 'Record', exact: true }).click();
  await until('the second cue', async () => (await rows()).cue.length === 2);
  expect((await rows()).cue.find((c) => c.number === '2')?.held.length).toBeGreaterThan(10);
  // A layer that is made later lies over it, in red.
  await kite.api(`shows/${show}/edits`, {
    name: 'Later',
    changes: [
      created('layer', id(30), { timeline: LINE, name: 'Later', order: 9, route: id(31) }),
      created('route', id(31), { surfaces: [WALL], layer: id(30) }),
      created('clip', id(32), { layer: id(30), media: RED, start: 0, length: 60 * S }),
    ],
  });
  await shows('red over it', (is) => (is[0] ?? 0) > 250 && (is[2] ?? 9) < 3);
  await page.getByRole('button', { name: 'Cue 1 Quarter' }).dblclick();
  await until(
    'the first cue to be on',
    async () => Object.keys((await kite.live<{ cues: { on: object } }>('state')).cues.on).length === 1,
  );
  expect((await light())[0]).toBeGreaterThan(250);
  await page.getByRole('button', { name: 'Cue 2 Blue alone' }).dblclick();
  await shows('blue alone', (is) => (is[0] ?? 9) < 3 && (is[2] ?? 0) > 250);
  await expect(page.getByRole('listitem').filter({ hasText: 'Blue alone' }).getByText('on by you')).toBeVisible();
  await page.getByRole('button', { name: 'Release all (1)' }).click();
  await shows('red again', (is) => (is[0] ?? 0) > 250);
});

test('a value of a cue is made to move, typed time by time', async () => {
  await page.getByRole('button', { name: 'Cue 1 Quarter' }).click();
  const details = page.getByRole('complementary');
  await details.getByRole('button', { name: 'Layer 1 Opacity moves' }).click();
  const keys = details.getByLabel('Seconds and %');
  await keys.fill('0 20, 1 many');
  await keys.press('Enter');
  await expect(details.getByText('"1 many" is no time and value')).toBeVisible();
  // A tab in the background may be drawn once a second: the loop is no whole second.
  await keys.fill('0 20, 0.65 90, 1.3 20');
  await keys.press('Enter');
  const held = () =>
    rows().then(
      (r) => r.cue.find((c) => c.number === '1')?.held[0] as unknown as { v: number; keys: { t: number; v: number }[] },
    );
  await until('three keyframes', async () => (await held()).keys.length === 3);
  expect((await held()).keys.map((k) => [seconds(k.t), k.v])).toEqual([
    [0, 0.2],
    [0.65, 0.9],
    [1.3, 0.2],
  ]);
  await details.getByLabel('Loop').fill('1.3');
  await details.getByLabel('Loop').press('Enter');
  await until(
    'the loop',
    async () => ((await rows()).cue.find((c) => c.number === '1') as unknown as { loop: number }).loop === 1.3 * S,
  );
  await kite.live('command', { action: 'live', values: { [`layer:${id(30)}/mute`]: 1 } });
  await kite.live('command', { action: 'fire', cue: '1' });
  await shows('it dim', (is) => (is[2] ?? 0) < 90);
  await shows('it bright', (is) => (is[2] ?? 0) > 200);
  await shows('it dim again', (is) => (is[2] ?? 0) < 90);
  await kite.live('command', { action: 'release', cue: '1' });
  await kite.live('command', { action: 'live', values: { [`layer:${id(30)}/mute`]: null } });
});

test('media are called in place of clips: by hand with a transition, and by a cue', async () => {
  const layer = id(30);
  await shows('red', (is) => (is[0] ?? 0) > 250);
  await page.keyboard.press('Alt+4');
  await page.getByRole('button', { name: /^Later ▸/ }).click();
  const details = page.getByRole('complementary');
  await details.getByLabel('Recall list').first().click();
  await page.getByRole('option', { name: 'Blue' }).click();
  await until(
    'the stock',
    async () => ((await rows()).layer.find((l) => l.id === layer) as unknown as { stock: string[] }).stock.length === 1,
  );
  await page.keyboard.press('Escape');
  await details.getByLabel('Transition').fill('3');
  await details.getByLabel('Transition').press('Enter');
  await until(
    'the transition',
    async () =>
      ((await rows()).layer.find((l) => l.id === layer) as unknown as { transition: number }).transition === 3 * S,
  );
  await details.getByRole('combobox', { name: 'Manual media' }).click();
  await page.getByRole('option', { name: 'Blue' }).click();
  const half = await until('both', async () => {
    const [r = 0, , b = 0] = await light();
    return r > 40 && b > 40 ? [r, b] : null;
  });
  expect(Math.abs((half[0] ?? 0) + (half[1] ?? 0) - 255)).toBeLessThanOrEqual(8);
  await shows('blue', (is) => (is[2] ?? 0) > 250 && (is[0] ?? 9) < 3);
  const { createdId: made } = await kite.api<{ createdId: string }>(`shows/${show}/cues`, {
    action: 'record',
    number: '9',
    name: 'Call blue',
    discard: true,
  });
  await shows('red again', (is) => (is[0] ?? 0) > 250);
  await kite.live('command', { action: 'fire', cue: made });
  await shows('blue by the cue', (is) => (is[2] ?? 0) > 250 && (is[0] ?? 9) < 3);
  await kite.live('command', { action: 'release', cue: made, fade: 0 });
  await shows('red after it', (is) => (is[0] ?? 0) > 250);
  await kite.api(`shows/${show}/edits`, {
    name: 'Out',
    changes: [{ kind: 'cue', id: made, op: 'delete', fields: {} }],
  });
  await page.keyboard.press('Alt+5');
});

test('a layer is cut out by another media, inverted, opaque and in its opposite', async () => {
  await page.keyboard.press('Alt+4');
  await page.getByRole('button', { name: /^Later ▸/ }).click();
  const details = page.getByRole('complementary');
  const near = (what: string, rgb: [number, number, number]) =>
    shows(what, (is) => is.every((v, i) => Math.abs(v - (rgb[i] as number)) <= 3));
  await kite.live('command', {
    action: 'live',
    values: { [`layer:${(await rows()).layer.find((l) => l.name === 'Layer 1')?.id}/mute`]: 1 },
  });
  await near('red', [255, 0, 0]);
  // Blue is as light as 7.22 % of white.
  await details.getByRole('combobox', { name: 'Mask', exact: true }).click();
  await page.getByRole('option', { name: 'Blue' }).click();
  await near('a little of it', [18, 0, 0]);
  expect((await rows()).layer.find((l) => l.id === id(30))?.values.mask).not.toBe('');
  await details.getByRole('switch', { name: 'Mask inverted' }).click();
  await near('the rest of it', [237, 0, 0]);
  await details.getByLabel('Key width').fill('10');
  await details.getByLabel('Key width').press('Enter');
  await near('all of it', [255, 0, 0]);
  await details.getByLabel('Invert green').fill('50');
  await details.getByLabel('Invert green').press('Enter');
  await near('half of green with it', [255, 128, 0]);
  await details.getByRole('combobox', { name: 'Mask', exact: true }).click();
  await page.getByRole('option', { name: 'none' }).click();
  await until('no mask', async () => ((await rows()).layer.find((l) => l.id === id(30))?.values.mask ?? '') === '');
  await kite.live('command', {
    action: 'live',
    values: Object.fromEntries(['maskInverted', 'maskWidth', 'invert#1'].map((v) => [`layer:${id(30)}/${v}`, null])),
  });
  await kite.live('command', {
    action: 'live',
    values: { [`layer:${(await rows()).layer.find((l) => l.name === 'Layer 1')?.id}/mute`]: null },
  });
  await near('red', [255, 0, 0]);
  await page.keyboard.press('Alt+5');
});

test('the board fires and releases, the desk goes along the list, panics and comes back', async () => {
  await page.getByRole('button', { name: 'Add a page' }).first().click();
  await page.getByRole('button', { name: 'Cue 2 Blue alone' }).first().click();
  const details = page.getByRole('complementary');
  await details.getByRole('combobox', { name: 'Page' }).click();
  await page.getByRole('option', { name: 'Page 1' }).click();
  const board = page.getByRole('group', { name: 'Board Page 1' });
  const tile = board.getByRole('button', { name: 'Cue 2 Blue alone' });
  await tile.click();
  await shows('blue', (is) => (is[2] ?? 0) > 250);
  await expect(tile).toHaveAttribute('aria-pressed', 'true');
  await tile.click();
  await shows('red', (is) => (is[0] ?? 0) > 250);
  // A grid that is made smaller hides, and does not delete.
  await details.getByLabel('Column').fill('3');
  await details.getByLabel('Column').press('Enter');
  await page.getByRole('button', { name: 'Page…' }).click();
  await details.getByLabel('Columns').fill('2');
  await details.getByLabel('Columns').press('Enter');
  await expect(page.getByText('1 more outside this grid')).toBeVisible();
  await details.getByLabel('Columns').fill('6');
  await details.getByLabel('Columns').press('Enter');
  await expect(tile).toBeVisible();
  await page.keyboard.press('Alt+8');
  const pointer = async () => (await kite.live<{ cues: { next: string | null; last: string | null } }>('state')).cues;
  const [first, second] = (await rows()).cue.sort((a, b) => Number(a.number) - Number(b.number)).map((c) => c.id);
  // The desk's own Go, not the transport's.
  await page.getByLabel('Cues now').waitFor();
  await kite.live('command', { action: 'pointer', cue: first });
  await until('the pointer', async () => (await pointer()).next === first);
  // What Go would bring is seen in the studio, and nothing of it is sent out.
  const before = await light();
  await page.getByRole('button', { name: 'Preview next' }).click();
  const preview = page.getByRole('region', { name: 'Preview of the next cue' });
  const previewed = async () =>
    preview
      .locator('canvas')
      .first()
      .evaluate((canvas: HTMLCanvasElement) => {
        const [x, y] = [Math.floor(canvas.width / 2), Math.floor(canvas.height / 2)];
        return [...(canvas.getContext('2d')?.getImageData(x, y, 1, 1).data ?? [])].slice(0, 3);
      });
  await expect(preview).toHaveAttribute('data-cue', first ?? '');
  const promised = await until('a picture of the first', async () =>
    (await preview.locator('canvas').count()) > 0 && Math.max(...(await previewed())) > 40 ? previewed() : null,
  );
  expect(await light()).toEqual(before);
  expect((await pointer()).last).not.toBe(first);
  await page.getByRole('button', { name: 'Go', exact: true }).first().click();
  await shows('what was previewed', (is) => is.every((v, c) => Math.abs(v - (promised[c] ?? 0)) <= 10));
  await until('the first', async () => (await pointer()).last === first);
  await expect(preview).toHaveAttribute('data-cue', second ?? '');
  await until('blue, in the preview alone', async () => ((await previewed())[2] ?? 0) > 240);
  expect((await light())[2]).toBeLessThan(200);
  await page.getByRole('button', { name: 'Go', exact: true }).first().click();
  await until('the second', async () => (await pointer()).last === second);
  await shows('blue', (is) => (is[2] ?? 0) > 250 && (is[0] ?? 9) < 3);
  // Somebody else presses, and says what they are called; what one presses oneself is one's own.
  await expect(page.getByText('by you').first()).toBeVisible();
  await kite.live('command', { action: 'fire', cue: second, as: ' Ada\n' });
  await expect(page.getByText('by Ada').first()).toBeVisible();
  await page.getByLabel('Your name').fill('Grace');
  await page.getByLabel('Your name').press('Enter');
  await page.getByRole('button', { name: 'Back' }).click();
  await until('the first again', async () => (await pointer()).last === first);
  expect((await kite.live<{ cues: { on: Record<string, { by: string }> } }>('state')).cues.on[first ?? '']?.by).toMatch(
    /^[0-9a-z]{26} Grace$/,
  );
  await page.getByLabel('Panic fade').fill('0');
  await page.getByLabel('Panic fade').press('Enter');
  await page.getByRole('button', { name: 'Panic' }).click();
  await shows('darkness', (is) => Math.max(...is) < 3);
  await page.getByRole('button', { name: 'Light back' }).click();
  await shows('light', (is) => Math.max(...is) > 50);
});

test('a long list of cues comes in by the worker, with progress, is stopped, and taken back in one step', async () => {
  await page.keyboard.press('Alt+5');
  const before = (await rows()).cue.length;
  const table = (count: number) =>
    Buffer.from(
      `number,name,fade s\n${Array.from({ length: count }, (_, n) => `${1000 + n},Row ${n},2`).join('\n')}\n`,
    );
  const bring = async (count: number) => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Import CSV' }).click();
    await (await chooser).setFiles({ name: 'cues.csv', mimeType: 'text/csv', buffer: table(count) });
  };
  const notice = page.getByRole('alert').filter({ hasText: 'Import cues' });
  await bring(4500);
  await notice.getByRole('button', { name: 'Cancel' }).click();
  await expect(notice).toBeHidden();
  expect((await rows()).cue.length).toBe(before);
  await bring(1200);
  await expect(notice.getByRole('progressbar')).toBeVisible();
  await until('the cues', async () => (await rows()).cue.length === before + 1200);
  await expect(notice).toBeHidden();
  const file = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export CSV' }).click();
  expect(
    readFileSync(await (await file).path(), 'utf8')
      .split('\n')
      .filter((line) => line.includes('Row ')).length,
  ).toBe(1200);
  expect((await file).suggestedFilename()).toBe('Song cues.csv');
  await page.keyboard.press('Control+z');
  await until('them to be gone', async () => (await rows()).cue.length === before);
});
