import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { partOf } from '../resources/js/player/source';
import { canvasPixels, created, KiteLamp, rowId, until } from './kite';

/** Live inputs: taken into the show, shown by a player, lost and found again; and a file that changes while it plays. */
test.describe.configure({ mode: 'serial' });

const kite = new KiteLamp(4460);
const S = 705_600_000;
let page: Page;
let show = '';
const [panel, wall, output, line, layer, clip, amber] = [1, 2, 3, 4, 5, 6, 7].map((n) => rowId(99, n)) as [
  string,
  string,
  string,
  string,
  string,
  string,
  string,
];
const media = async () =>
  (
    await kite.api<{ rows: { media: { id: string; name: string; state: string; standIn: string | null }[] } }>(
      `shows/${show}`,
    )
  ).rows.media;
const signal = (on: boolean) =>
  fetch(`${kite.address}/inputs/camera/signal`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Origin: kite.address },
    body: JSON.stringify({ on }),
  });

const pixels = async (player: Page, places: [number, number][]) => (await canvasPixels(player, places)).pixels;

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Talk', frameRate: '25' })).id;
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('panel', panel, { name: 'P', widthMm: 500, heightMm: 281, widthPx: 640, heightPx: 360 }),
      created('surface', wall, { name: 'Wall', cells: [[panel]], seams: [], position: [0, 0, 0], rotation: [0, 0, 0] }),
      created('output', output, { name: 'One', width: 640, height: 360 }),
      created('region', rowId(99, 8), { output, surface: wall, source: [0, 0, 640, 360], x: 0, y: 0 }),
      created('timeline', line, { name: 'Main', duration: 60 * S }),
      created('media', amber, { name: 'Amber', kind: 'solid', colour: '#ffab52', width: 16, height: 16 }),
    ],
  });
  await kite.api(`shows/${show}/engage`, {});
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(`${kite.address}/media`);
  await page.getByRole('button', { name: 'Amber' }).waitFor();
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

test('parts of a stream are found whole, wherever it is cut', () => {
  const part = (text: string, more = '') =>
    `--cut\r\nContent-Type: image/jpeg\r\nContent-Length: ${text.length}\r\n${more}\r\n${text}\r\n`;
  const bytes = new TextEncoder().encode(part('first', 'X-Timestamp: 12.500\r\n') + part(''));
  const first = partOf(bytes);
  expect([new TextDecoder().decode(first?.bytes), first?.seen]).toEqual(['first', 12_500]);
  const second = partOf(bytes.slice(first?.end));
  expect([second?.bytes.length, second?.seen]).toEqual([0, null]);
  for (let cut = 0; cut < (first?.end ?? 0); cut++) expect(partOf(bytes.slice(0, cut))).toBeNull();
  expect(() => partOf(new TextEncoder().encode('--cut\r\nContent-Type: image/jpeg\r\n\r\nabc'))).toThrow('how long');
});

test('an input is added, looked at small with what it costs, and given a stand-in', async () => {
  await page.getByRole('button', { name: 'Add an input' }).click();
  await page.getByRole('menuitem', { name: /Quay camera/ }).click();
  const details = page.getByRole('complementary');
  await expect(details.getByRole('heading', { name: 'Quay camera' })).toBeVisible();
  const preview = details.getByLabel('Preview of Quay camera');
  await expect(preview.locator('canvas')).toHaveCount(0);
  await preview.getByRole('button', { name: 'Preview here' }).click();
  await expect(preview).toContainText(/0\.\d+ Mbit\/s from Virtual rig · \d+ ms behind/);
  await expect(preview).toContainText('no output takes it now');
  const [width, sky, water] = await preview
    .locator('canvas')
    .evaluate((c: HTMLCanvasElement) => [
      c.width,
      [...(c.getContext('2d')?.getImageData(300, 40, 1, 1).data ?? [])],
      [...(c.getContext('2d')?.getImageData(10, 160, 1, 1).data ?? [])],
    ]);
  expect(width).toBe(320);
  expect((sky as number[])[2]).toBeGreaterThan((sky as number[])[0] as number);
  expect((water as number[])[2]).toBeGreaterThan(30);
  await details.getByRole('combobox', { name: 'Without a signal' }).click();
  await page.getByRole('option', { name: 'Amber' }).click();
  await until(
    'the stand-in to be kept',
    async () => (await media()).find((m) => m.name === 'Quay camera')?.standIn === amber,
  );
  await preview.getByRole('button', { name: 'Preview here' }).click();
  await expect(preview.locator('canvas')).toHaveCount(0);
});

test('a player shows what the camera sees now, the stand-in while it has no signal, and the camera again', async ({
  browser,
}) => {
  const camera = (await media()).find((m) => m.name === 'Quay camera')?.id as string;
  const route = rowId(99, 9);
  await kite.api(`shows/${show}/edits`, {
    name: 'Show it',
    changes: [
      created('layer', layer, { timeline: line, name: 'Talk', order: 0, route }),
      created('route', route, { surfaces: [wall], layer }),
      created('clip', clip, { layer, media: camera, start: 0, length: 60 * S }),
    ],
  });
  const context = await browser.newContext({ viewport: { width: 640, height: 360 } });
  const player = await context.newPage();
  await player.goto(`${kite.address}/player/${output}`);
  // The fields at the bottom are the time of day in ms, bit by bit: it runs.
  const clock = async () => {
    const found = await pixels(
      player,
      Array.from({ length: 32 }, (_, bit) => [bit * 20 + 10, 352] as [number, number]),
    );
    return found.reduce((sum, [r = 0]) => (sum * 2 + (r > 127 ? 1 : 0)) >>> 0, 0);
  };
  const behind = async () => (Date.now() - (await clock())) >>> 0;
  await until('the camera to be seen', async () => (await behind()) < 3000, 30);
  const [before, told] = [await clock(), page.getByText('Quay camera has no signal; Amber is shown in its place.')];
  await until('the clock to run', async () => (await clock()) > before);
  await signal(false);
  await until('the stand-in', async () => (await pixels(player, [[320, 180]]))[0]?.join() === '255,171,82', 20);
  await page.getByRole('button', { name: 'Quay camera', exact: true }).click();
  await expect(told.first()).toBeVisible();
  await signal(true);
  await until('the camera again', async () => (await behind()) < 3000, 30);
  await expect(told).toHaveCount(0);
  await expect(page.getByLabel('Preview of Quay camera')).toBeVisible();
  // With its process killed, the stand-in is up, until the process is back by itself.
  for (const pid of kite.pids('kite:inputs')) process.kill(pid, 'SIGKILL');
  await until('the camera after its process was killed', async () => (await behind()) < 3000, 30);
  await context.close();
});

test('a file that takes another one’s place while it plays is seen at once, and nothing is dark between', async ({
  browser,
}) => {
  const made = async (name: string, colour: string) => {
    const path = join(kite.folder, name);
    execFileSync('ffmpeg', [
      '-y',
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      `color=${colour}:s=128x72:r=25:d=4`,
      '-c:v',
      'libx264',
      '-pix_fmt',
      'yuv420p',
      '-colorspace',
      'bt709',
      '-color_primaries',
      'bt709',
      '-color_trc',
      'bt709',
      path,
    ]);
    return (await kite.upload(show, path, name)).media;
  };
  const [red, blue] = [await made('red.mp4', 'red'), await made('blue.mp4', 'blue')];
  await until(
    'both to be ready',
    async () => (await media()).filter((m) => m.name.endsWith('.mp4') && m.state === 'ready').length === 2,
    60,
  );
  const before = (await kite.api<{ rows: { clip: { id: string; media: string }[] } }>(`shows/${show}`)).rows.clip.find(
    (c) => c.id === clip,
  )?.media;
  await kite.api(`shows/${show}/edits`, {
    name: 'Red',
    changes: [
      {
        op: 'update',
        kind: 'clip',
        id: clip,
        fields: { media: { before, after: red }, pastEnd: { before: 'hold', after: 'loop' } },
      },
    ],
  });
  const context = await browser.newContext({ viewport: { width: 640, height: 360 } });
  const player = await context.newPage();
  await player.goto(`${kite.address}/player/${output}`);
  const seen = async () => (await pixels(player, [[320, 180]]))[0] as [number, number, number];
  const word = ([r, , b]: [number, number, number]) =>
    r > 200 && b < 60 ? 'red' : b > 200 && r < 60 ? 'blue' : r + b < 60 ? 'dark' : 'other';
  await kite.live('command', { action: 'play' });
  await until('red', async () => word(await seen()) === 'red');
  await kite.api(`shows/${show}/media/${red}/version`, { by: blue, take: true });
  const words: string[] = [];
  await until('blue', async () => {
    words.push(word(await seen()));
    return words[words.length - 1] === 'blue';
  });
  expect(new Set(words)).not.toContain('dark');
  await kite.live('command', { action: 'hold' });
  await context.close();
});

test('the camera of the browser itself is an input', async ({ playwright }) => {
  const browser = await playwright.chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--use-angle=swiftshader',
      '--enable-unsafe-swiftshader',
      '--use-fake-device-for-media-stream',
      '--use-fake-ui-for-media-stream',
    ],
  });
  const own = rowId(99, 10);
  await kite.api(`shows/${show}/edits`, {
    name: 'Own camera',
    changes: [
      created('media', own, { name: 'Own', kind: 'input', file: 'browser:camera' }),
      {
        op: 'update',
        kind: 'clip',
        id: clip,
        fields: {
          media: {
            before: (
              await kite.api<{ rows: { clip: { id: string; media: string }[] } }>(`shows/${show}`)
            ).rows.clip.find((c) => c.id === clip)?.media,
            after: own,
          },
        },
      },
    ],
  });
  const player = await (await browser.newContext({ viewport: { width: 640, height: 360 } })).newPage();
  await player.goto(`${kite.address}/player/${output}`);
  // Its picture of a device that is made up is a green ground.
  await until('its picture', async () => ((await pixels(player, [[40, 300]]))[0]?.[1] ?? 0) > 100, 30);
  await browser.close();
});
