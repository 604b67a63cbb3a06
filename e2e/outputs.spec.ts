import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { patchOf } from '../resources/js/rig/patch';
import { hung, into, offLevel, offsetOf } from '../resources/js/rig/throw';
import { canvasPixels, created, farthest, KiteLamp, rowId, until } from './kite';

/** Outputs in the real interface: packed, bent, masked, marked, computed from the venue; read from the players' own pixels. */
const S = 705_600_000;
const kite = new KiteLamp(4520);
let page: Page;
let player: Page;
let show = '';
const id = (n: number) => rowId(0, n);
const [WALL, WING, FRONT, LED, ONE, TWO, CARD] = [id(11), id(12), id(13), id(20), id(21), id(22), id(30)];
/** Places by which a projector is aligned, as they lie from it sideways: some on the front, some before it. */
const PLACES: [string, [number, number, number]][] = [
  ['Gutter west', [-1.3, 3.2, -10]],
  ['Gutter east', [1.3, 3.2, -10]],
  ['Step west', [-1.3, 1.8, -10]],
  ['Step east', [1.3, 1.8, -10]],
  ['Lamp', [-0.7, 2.2, -8.4]],
  ['Bell', [0.6, 2.8, -8]],
  ['Bollard', [0.2, 2.1, -8.8]],
];
/** Metres to either side at which the projectors are planned. */
const ASIDE = [-1.6, 1.6] as const;
const placeOf = (of: 0 | 1, [x, y, z]: [number, number, number]): [number, number, number] => [x + ASIDE[of], y, z];
const LENS = { widthPx: 320, heightPx: 200, throw: 1.5 };

interface Row {
  id: string;
  surface: string;
  output: string;
  x: number;
  y: number;
  pin: number[];
  polygon: number[];
  points: number[];
  columns: number[];
  model: string;
  inverted: boolean;
  black: number;
  nodes: number[];
  source: number[];
}

const rows = async (kind: string) =>
  (await kite.api<{ rows: Record<string, Row[]> }>(`shows/${show}`)).rows[kind] ?? [];
const region = async (surface: string, output?: string) =>
  (await rows('region')).find((r) => r.surface === surface && (output === undefined || r.output === output)) as Row;
const details = () => page.getByRole('complementary', { name: 'Details' });
const button = (name: string | RegExp, exact = true) =>
  page.getByRole('button', { name, ...(typeof name === 'string' ? { exact } : {}) });

/** What a player draws at some pixels, once it has the show as it is. */
async function drawn(places: [number, number][]) {
  const { revision } = await kite.api<{ revision: number }>(`shows/${show}`);
  return until('the player to have the show as it is', async () => {
    const { pixels, report } = await canvasPixels(player, places);
    return report?.revision === revision && report.lacks.length === 0 ? pixels : null;
  });
}

async function agrees(output: string, places: [number, number][]) {
  const pixels = await drawn(places);
  const said = kite.reference(output, { time: S, pixels: places }).pixels;
  expect(farthest(pixels, said), `${JSON.stringify(pixels)} and ${JSON.stringify(said)}`).toBeLessThanOrEqual(4);
  return pixels;
}

async function open(output: string) {
  await page.evaluate(
    (o) =>
      (window as unknown as { kiteStudio: { go: (view: string, what: unknown) => void } }).kiteStudio.go('outputs', {
        kind: 'output',
        id: o,
      }),
    output,
  );
  await player.goto(`${kite.address}/player/${output}`);
  await page.bringToFront();
}

test.describe.configure({ mode: 'serial' });

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Quay', frameRate: '25' })).id;
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('panel', id(1), { name: 'P', widthMm: 500, heightMm: 500, widthPx: 40, heightPx: 40 }),
      created('surface', WALL, { name: 'Wall', cells: [[id(1), id(1), id(1)]], seams: [0, 0] }),
      created('surface', WING, { name: 'Wing', cells: [[id(1)], [id(1)]], seams: [], position: [3, 0, 0] }),
      created('surface', FRONT, {
        name: 'House front',
        kind: 'flat',
        position: [0, 0, -10],
        shape: { width: 9, height: 5, pixelsPerMetre: 20 },
      }),
      created('projector', id(14), { name: 'Left', position: [-1.6, 2.5, -4], lens: LENS, lumens: 12000 }),
      created('projector', id(15), { name: 'Right', position: [1.6, 2.5, -4], lens: LENS, lumens: 12000 }),
      ...([0, 1] as const).flatMap((of) =>
        PLACES.map(([name, place], n) =>
          created('point', id(100 + 10 * of + n), { projector: id(14 + of), name, place: placeOf(of, place) }),
        ),
      ),
      created('output', LED, { name: 'LED', width: 240, height: 160 }),
      created('output', ONE, { name: 'Left', width: 320, height: 200 }),
      created('output', TWO, { name: 'Right', width: 320, height: 200 }),
      created('feed', id(23), { output: ONE, name: 'Left', role: 'projector', projector: id(14) }),
      created('feed', id(24), { output: TWO, name: 'Right', role: 'projector', projector: id(15) }),
      created('region', id(40), { output: LED, surface: WALL, source: [0, 0, 120, 40], x: 0, y: 0 }),
      created('region', id(41), { output: LED, surface: WING, source: [0, 0, 40, 80], x: 20, y: 20 }),
      created('region', id(42), { output: ONE, surface: FRONT, source: [0, 0, 180, 100], width: 320, height: 200 }),
      created('region', id(43), { output: TWO, surface: FRONT, source: [0, 0, 180, 100], width: 320, height: 200 }),
      created('timeline', id(31), { name: 'Main', duration: 10 * S }),
      created('media', CARD, { name: 'Bars', kind: 'pattern', pattern: 'bars' }),
      created('media', id(34), { name: 'White', kind: 'solid', colour: '#ffffff' }),
      ...[WALL, WING].flatMap((surface, i) => [
        created('layer', id(50 + i), {
          timeline: id(31),
          name: `Layer ${i}`,
          order: i,
          route: id(60 + i),
          fitting: 'stretch',
        }),
        created('route', id(60 + i), { layer: id(50 + i), surfaces: [surface] }),
        created('clip', id(70 + i), { layer: id(50 + i), media: CARD, start: 0, length: 10 * S }),
      ]),
      created('layer', id(55), { timeline: id(31), name: 'Front', order: 5, route: id(65), fitting: 'stretch' }),
      created('route', id(65), { layer: id(55), surfaces: [FRONT] }),
      created('clip', id(75), { layer: id(55), media: id(34), start: 0, length: 10 * S }),
    ],
  });
  await kite.api(`shows/${show}/engage`, {});
  await until('it to be on air', async () => (await kite.live<{ show: string }>('state')).show === show);
  await kite.live('command', { action: 'jump', time: S });
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  page = await context.newPage();
  player = await context.newPage();
  await player.setViewportSize({ width: 400, height: 300 });
  await page.goto(`${kite.address}/outputs`);
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

test('walls are packed, their X and Y are read, and the player shows them there', async () => {
  await open(LED);
  await button('Add and exchange').click();
  await page.getByRole('menuitem', { name: 'Pack regions…' }).click();
  await page.getByRole('dialog').getByLabel('Guard').fill('8');
  await page.getByRole('dialog').getByLabel('Guard').press('Enter');
  await page.getByRole('dialog').getByLabel('Begin on the panel grid').uncheck();
  await page.getByRole('dialog').getByRole('button', { name: 'Pack', exact: true }).click();
  // 120 × 40 and 40 × 80 of 240 × 160 pixels.
  await expect(page.getByRole('dialog').getByRole('status')).toHaveText('LED 20.8 %');
  await page.getByRole('dialog').getByRole('button', { name: 'Done', exact: true }).click();
  const [wall, wing] = [await region(WALL), await region(WING)];
  expect(wall.x >= wing.x + 48 || wing.x >= wall.x + 128 || wall.y >= wing.y + 88 || wing.y >= wall.y + 48).toBe(true);
  await expect(button(`Wing at ${wing.x}, ${wing.y}`)).toBeVisible();
  const sheet = await (await fetch(`${kite.address}/api/shows/${show}/regions.csv`)).text();
  expect(sheet).toContain(`Wing,,LED,,${wing.x},${wing.y},40,80`);
  const lit = await agrees(LED, [
    [wall.x + 3, wall.y + 20],
    [wall.x + 110, wall.y + 20],
    [wing.x + 3, wing.y + 40],
    [wing.x + 37, wing.y + 79],
    [239, 159],
  ]);
  expect(Math.max(...(lit[0] ?? []))).toBeGreaterThan(60);
  expect(lit[4]).toEqual([0, 0, 0]);
});

test('a technician dictates places by a sheet, and a split output feeds two devices', async () => {
  await page.getByLabel('X/Y sheet').setInputFiles({
    name: 'sheet.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Surface;X;Y\nWall;100;10\nWing;8;70\n'),
  });
  await expect(button('Wall at 100, 10')).toBeVisible();
  await expect(button('Wing at 8, 70')).toBeVisible();
  await page.getByRole('group', { name: 'Regions on LED' }).click({ position: { x: 8, y: 300 } });
  await details().getByRole('button', { name: 'Split 2 × 1' }).click();
  await expect(details().getByRole('button', { name: /LED\.2 LED processor · 120 × 160/ })).toBeVisible();
  await details().getByLabel('Connector').click();
  await page.getByRole('option', { name: 'HD-SDI' }).click();
  await expect(details().getByText('Link rate')).toBeVisible();
});

test('a region is pinned and bent by keys', async () => {
  await button('Wall at 100, 10').click();
  await page.getByRole('radio', { name: 'Warp' }).click();
  await button('Top left corner').focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowDown');
  await expect.poll(async () => (await region(WALL)).pin.slice(0, 2)).toEqual([0, 30]);
  await page.keyboard.press('Alt+ArrowRight');
  await expect.poll(async () => (await region(WALL)).pin[0]).toBeCloseTo(0.1, 6);
  await details().getByRole('button', { name: 'Add a column' }).click();
  await expect.poll(async () => (await region(WALL)).columns).toEqual([0, 0.5, 1]);
  await button('Point 2, 2').focus();
  const before = (await region(WALL)).points[2 * (3 * 7 + 3) + 1] as number;
  await page.keyboard.press('Shift+ArrowDown');
  await expect.poll(async () => (await region(WALL)).points[2 * (3 * 7 + 3) + 1]).toBeGreaterThan(before + 0.15);
  const pixels = await agrees(LED, [
    [104, 14],
    [130, 40],
    [150, 54],
    [160, 54],
    [170, 54],
    [200, 30],
    [215, 48],
  ]);
  expect(pixels[0]).toEqual([0, 0, 0]);
  // Below the lower edge of the rectangle, in the middle, where it was pulled down.
  expect(Math.max(...pixels.slice(2, 5).flat())).toBeGreaterThan(20);
  await details().getByRole('button', { name: 'Unbend' }).click();
  await details().getByRole('button', { name: 'Unpin' }).click();
  await expect.poll(async () => (await region(WALL)).pin).toEqual([]);
});

test('regions are moved, turned and scaled together, and points near one follow it', async () => {
  await page.getByRole('radio', { name: 'Layout' }).click();
  await button('Wall at 100, 10').click();
  await button('Wing at 8, 70').click({ modifiers: ['Control'] });
  await expect(page.getByRole('group', { name: '2 regions' })).toBeVisible();
  await page.getByLabel('Move X').fill('5');
  await page.getByLabel('Move X').press('Enter');
  await expect(button('Wall at 105, 10')).toBeVisible();
  await expect(button('Wing at 13, 70')).toBeVisible();
  await button('Wall at 105, 10').focus();
  await page.keyboard.press('Shift+ArrowDown');
  await expect(button('Wing at 13, 80')).toBeVisible();
  await expect(button('Wall at 105, 20')).toBeVisible();
  // Both lie within 13 to 225 and 20 to 160: half as large about 119, 90, the wall from 112, 55 on.
  await page.getByLabel('Scale').fill('50');
  await page.getByLabel('Scale').press('Enter');
  await expect.poll(async () => (await region(WALL)).pin).toEqual([7, 35, -53, 35, -53, 15, 7, 15]);
  await agrees(LED, [
    [111, 60],
    [114, 60],
    [168, 70],
    [175, 70],
  ]);
  await button('Wing at 13, 80').focus();
  for (const at of ['105, 20', '105, 10', '100, 10']) {
    await page.keyboard.press('Control+z');
    await expect(button(`Wall at ${at}`)).toBeVisible();
    await expect.poll(async () => (await region(WALL)).pin).toEqual([]);
  }
  await button('One only').click();
  await expect(page.getByRole('group', { name: '2 regions' })).toBeHidden();
  // The other way to take one more: by keys.
  for (const name of ['Wing at 8, 70', 'Wall at 100, 10']) {
    await button(name).focus();
    await page.keyboard.press('Control+Enter');
  }
  await expect(page.getByRole('group', { name: '2 regions' })).toBeVisible();
  // A field writes to all of them as one step; where they differ, it is worked out from each one's own.
  await expect(page.getByRole('heading', { name: '2 regions' })).toBeVisible();
  const fill = async (label: string, text: string) => {
    await details().getByLabel(label, { exact: true }).fill(text);
    await details().getByLabel(label, { exact: true }).press('Enter');
  };
  await fill('Fade left', '6');
  const left = (r: unknown) => (r as { blend: { left?: number } }).blend.left;
  await expect.poll(async () => [await region(WALL), await region(WING)].map(left)).toEqual([6, 6]);
  await fill('X (mixed)', '+ 3');
  await expect.poll(async () => [await region(WALL), await region(WING)].map((r) => r.x)).toEqual([103, 11]);
  await fill('X (mixed)', '20');
  await expect.poll(async () => [await region(WALL), await region(WING)].map((r) => r.x)).toEqual([20, 20]);
  await button('Wall at 20, 10').focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await expect.poll(async () => [await region(WALL), await region(WING)].map((r) => r.x)).toEqual([100, 8]);
  await button('One only').click();
  // After a press as after a step with Tab; no text of the page is taken along.
  await button('Wall at 100, 10').click();
  await page.keyboard.press('Control+a');
  await expect(page.getByRole('group', { name: '2 regions' })).toBeVisible();
  expect(await page.evaluate(() => String(getSelection()))).toBe('');
  await button('One only').click();
  // All corners at once: what would be crossed on the way is judged only when it is whole.
  const at = (await details().getByLabel('Corners').inputValue()).split(/[;,]/).map(Number);
  await fill('Corners', at.map((v, i) => v + (i % 2 === 0 ? 300 : 0)).join(' '));
  await expect.poll(async () => (await region(WALL)).pin).toEqual([300, 0, 300, 0, 300, 0, 300, 0]);
  await fill('Corners', '1, 2; 3');
  await expect(details().getByText('Type 4 places')).toBeVisible();
  await page.keyboard.press('Escape');
  await button('Wall at 100, 10').focus();
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await region(WALL)).pin).toEqual([]);
  await button('Wall at 100, 10').click();
  await page.getByRole('radio', { name: 'Warp' }).click();
  await page.getByLabel('Solo').check();
  await expect(button('Wing at 8, 70')).toBeHidden();
  for (const line of ['column', 'column', 'column'])
    await details()
      .getByRole('button', { name: `Add a ${line}` })
      .click();
  await expect.poll(async () => (await region(WALL)).columns.length).toBe(5);
  await page.getByLabel('Soft selection').fill('60');
  await page.getByLabel('Soft selection').press('Enter');
  await button('Point 3, 2').focus();
  const height = async (column: number) => (await region(WALL)).points[2 * (3 * 13 + column) + 1] as number;
  const before = await Promise.all([6, 3, 0].map(height));
  await page.keyboard.press('Shift+ArrowDown');
  // 10 of 40 px at the point, half of it 30 px away, none 60 px away.
  await expect.poll(async () => (await height(6)) - (before[0] as number)).toBeCloseTo(0.25, 4);
  expect((await height(3)) - (before[1] as number)).toBeCloseTo(0.125, 4);
  expect((await height(0)) - (before[2] as number)).toBeCloseTo(0, 4);
  await details().getByRole('button', { name: 'Unbend' }).click();
  await page.getByLabel('Solo').uncheck();
  await expect.poll(async () => (await region(WALL)).points.length).toBe(0);
  await page.getByRole('radio', { name: 'Layout' }).click();
});

test('a painted mask takes light away as it is painted', async () => {
  await open(ONE);
  await page.getByRole('radio', { name: 'Masks' }).click();
  const picture = join(kite.folder, 'fade.png');
  // Black on the left, white on the right, with a straight line between.
  execFileSync('ffmpeg', [
    '-y',
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    "nullsrc=s=160x100,format=gray,geq=lum='255*(X+0.5)/W'",
    '-frames:v',
    '1',
    picture,
  ]);
  await page.getByLabel('Painted mask').setInputFiles(picture);
  await expect(page.getByRole('heading', { name: 'fade' })).toBeVisible();
  const mask = (await rows('mask')).find((m) => m.output === ONE) as Row;
  const pixels = await agrees(ONE, [
    [1, 100],
    [160, 100],
    [318, 100],
  ]);
  expect(pixels[0]?.[0]).toBeLessThan(40);
  // Half of the light, by a gamma of 2.2.
  expect(Math.abs((pixels[1]?.[0] ?? 0) - 255 * 0.5 ** (1 / 2.2))).toBeLessThan(5);
  expect(pixels[2]?.[0]).toBeGreaterThan(250);
  await page
    .getByLabel('Painted mask')
    .setInputFiles({ name: 'notes.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
  await expect(page.getByText('The picture has to be a PNG or a JPEG.')).toBeVisible();
  await kite.api(`shows/${show}/edits`, {
    name: 'No mask',
    changes: [{ kind: 'mask', id: mask.id, op: 'delete', fields: {} }],
  });
  await page.getByRole('radio', { name: 'Layout' }).click();
});

test('the players of a machine are opened from one page', async () => {
  const launcher = await page.context().newPage();
  await launcher.goto(`${kite.address}/players`);
  await expect(launcher.getByRole('heading', { name: 'Players · Quay' })).toBeVisible();
  await expect(launcher.getByRole('region')).toHaveCount(3);
  const [popup] = await Promise.all([
    launcher.waitForEvent('popup'),
    launcher.getByRole('button', { name: 'Open Right' }).click(),
  ]);
  await expect.poll(() => popup.title()).toBe('Right');
  await expect(launcher.getByRole('region', { name: 'Right' })).toContainText('player open');
  expect(popup.url()).toContain(TWO);
  // A press on the light is full screen, as browsers allow it to people.
  await popup.locator('canvas').click();
  await expect.poll(() => popup.evaluate(() => document.fullscreenElement !== null)).toBe(true);
  await launcher.getByRole('button', { name: 'Close all' }).click();
  await expect.poll(() => popup.isClosed()).toBe(true);
  await launcher.close();
  await page.bringToFront();
});

test('a region is cut to a polygon by drawing it, and whole again', async () => {
  await open(ONE);
  await button(/^House front at/).click();
  await page.getByRole('radio', { name: 'Masks' }).click();
  await button('Cut the region').click();
  const shown = await page.locator('canvas[data-spot]').first().boundingBox();
  if (shown === null) throw new Error('The surface is not shown.');
  // The left half of the surface; what is pressed beyond its raster counts as its edge.
  for (const [u, v] of [
    [-0.02, -0.02],
    [0.5, -0.02],
    [0.5, 1.02],
    [-0.02, 1.02],
  ] as const)
    await page.mouse.click(shown.x + u * shown.width, shown.y + v * shown.height);
  await page.keyboard.press('Enter');
  const cut = () => region(FRONT, ONE);
  await expect.poll(async () => (await cut()).polygon.length).toBe(8);
  const { polygon } = await cut();
  const [, , right = 0] = polygon;
  expect(polygon).toEqual([0, 0, right, 0, right, 100, 0, 100]);
  expect(Math.abs(right - 90)).toBeLessThanOrEqual(1);
  const pixels = await agrees(ONE, [
    [20, 100],
    [300, 100],
  ]);
  expect(pixels).toEqual([
    [255, 255, 255],
    [0, 0, 0],
  ]);
  await button('Corner 2 of the cut').focus();
  await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(async () => (await cut()).polygon[2]).toBe(right - 10);
  await button('Whole region').click();
  await expect.poll(async () => (await cut()).polygon.length).toBe(0);
  await agrees(ONE, [[300, 100]]);
  await page.getByRole('radio', { name: 'Layout' }).click();
});

test('a window is masked by drawing it, and marks show on the real output', async () => {
  await open(ONE);
  await button(/^House front at/).click();
  await page.getByRole('radio', { name: 'Masks' }).click();
  await button('Draw a mask').click();
  const board = page.getByRole('group', { name: 'Masks on House front' });
  const box = (await board.boundingBox()) as { x: number; y: number; width: number; height: number };
  const shown = await page.locator('canvas[data-spot]').first().boundingBox();
  if (shown === null) throw new Error('The surface is not shown.');
  const at = (u: number, v: number) => ({
    position: { x: shown.x - box.x + u * shown.width, y: shown.y - box.y + v * shown.height },
  });
  for (const [u, v] of [
    [0.4, 0.4],
    [0.6, 0.4],
    [0.6, 0.7],
    [0.4, 0.7],
  ] as const)
    await board.click(at(u, v));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Mask 1' })).toBeVisible();
  await details().getByLabel('Inverted').click();
  await expect.poll(async () => (await rows('mask'))[0]?.inverted).toBe(true);
  const pixels = await agrees(ONE, [
    [160, 110],
    [20, 20],
  ]);
  expect(pixels).toEqual([
    [0, 0, 0],
    [255, 255, 255],
  ]);
  // A node is moved by keys.
  const nodes = ((await rows('mask'))[0] as Row).nodes;
  await button('Node 1').focus();
  await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(async () => (await rows('mask'))[0]?.nodes[0]).toBe((nodes[0] as number) - 10);
  // Where masks are drawn, a crosshair shows on the real output where the pixel of the surface leaves.
  const marks = () =>
    player.evaluate(() => (document.querySelector('svg[data-marks]') as SVGElement).dataset.marks?.split(' ')[1]);
  const { source, x, y } = (await region(FRONT, ONE)) as Row;
  const [left = 0, top = 0, w = 0, h = 0] = source;
  await button('Marks').click();
  await page.mouse.move(shown.x + shown.width / 2, shown.y + shown.height / 4);
  const raster_ = (
    await kite.api<{ computed: { surfaces: Record<string, { rasterWidth: number; rasterHeight: number }> } }>(
      `shows/${show}`,
    )
  ).computed.surfaces[FRONT] as { rasterWidth: number; rasterHeight: number };
  await expect
    .poll(async () => {
      const [mx = 0, my = 0] = (await marks())?.split(',').map(Number) ?? [];
      const { place } = (
        await kite.api<{ computed: { regions: Record<string, { place: number[] }> } }>(`shows/${show}`)
      ).computed.regions[(await region(FRONT, ONE)).id] as { place: number[] };
      const by = (place[2] ?? 0) / w;
      const away = Math.hypot(
        mx - x - (raster_.rasterWidth / 2 - left) * by,
        my - y - (raster_.rasterHeight / 4 - top) * ((place[3] ?? 0) / h),
      );
      return away;
    })
    .toBeLessThan(3);
  await button('Marks').click();
  // With the space bar held, the pointer moves what is seen, and nothing plays when it is let go.
  const playing = async () =>
    Object.values((await kite.live<{ decks: Record<string, { running: boolean }> }>('state')).decks)[0]?.running;
  const before = await playing();
  await page.keyboard.down(' ');
  await page.mouse.move(shown.x + 20, shown.y + 20);
  await page.mouse.down();
  await page.mouse.move(shown.x + 60, shown.y + 50, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up(' ');
  const gone = (await page.locator('canvas[data-spot]').first().boundingBox()) as { x: number; y: number };
  expect(Math.round(gone.x - shown.x)).toBe(40);
  expect(Math.round(gone.y - shown.y)).toBe(30);
  expect(await playing()).toBe(before);
  // A button that has the focus is pressed by it.
  await page.evaluate(() => (document.activeElement as HTMLElement).blur());
  await page.keyboard.press(' ');
  await expect.poll(playing).toBe(!before);
  await page.keyboard.press(' ');
  await expect.poll(playing).toBe(before);
  await kite.live('command', { action: 'jump', time: S });
  await page.getByRole('radio', { name: 'Layout' }).click();
  await button('Marks').click();
  await expect
    .poll(() => player.evaluate(() => (document.querySelector('svg[data-marks]') as SVGElement).dataset.marks))
    .toMatch(/^1 /);
  const raster = (await page.locator('canvas[data-output]').boundingBox()) as {
    x: number;
    y: number;
    width: number;
    height: number;
  };
  await page.mouse.move(raster.x + raster.width / 2, raster.y + raster.height / 4);
  await expect
    .poll(() => player.evaluate(() => (document.querySelector('svg[data-marks]') as SVGElement).dataset.marks))
    .toMatch(/^1 1[56]\d,(49|50|51)$/);
  await button('Marks').click();
  await expect
    .poll(() => player.evaluate(() => (document.querySelector('svg[data-marks]') as SVGElement).style.display))
    .toBe('none');
  await kite.api(`shows/${show}/edits`, {
    name: 'No mask',
    changes: [{ kind: 'mask', id: (await rows('mask'))[0]?.id, op: 'delete', fields: {} }],
  });
});

test('two projectors are warped and blended from the venue, and the seam is level', async () => {
  await open(ONE);
  await button(/^House front at/).click();
  await button('Seam').click();
  const off = () => page.locator('[data-seam]').getAttribute('data-seam').then(Number);
  await expect.poll(off).toBeGreaterThan(0.5);
  await details().getByRole('button', { name: 'Compute warps and blends' }).click();
  await expect(details().getByRole('status')).toHaveText(/Warps are right to 0\.0\d px/, { timeout: 60_000 });
  await expect.poll(off).toBeLessThan(0.02);
  await button('Evenness').click();
  await expect(page.locator('[data-score]')).toHaveAttribute('data-score', '1');
  // On both players, in the middle of the overlap: half of the light each, by the power of the output.
  const half = Math.round(255 * 0.5 ** (1 / 2.2));
  const one = await agrees(ONE, [
    [287, 100],
    [100, 100],
  ]);
  expect(Math.abs((one[0]?.[0] ?? 0) - half)).toBeLessThanOrEqual(6);
  expect(one[1]).toEqual([255, 255, 255]);
  expect((await region(FRONT, TWO)).model).not.toBe('');
  // Black of its own is added where it shines alone, and none where both do.
  const output = async () => (await rows('output')).find((o) => o.id === ONE) as Row;
  const black = details().getByRole('textbox', { name: 'Black level lift' });
  await page.evaluate(
    (o) =>
      (window as unknown as { kiteStudio: { go: (view: string, what: unknown) => void } }).kiteStudio.go('outputs', {
        kind: 'output',
        id: o,
      }),
    ONE,
  );
  await black.fill('5');
  await black.press('Enter');
  await expect.poll(async () => (await output()).black).toBe(0.05);
  const places: [number, number][] = [
    [100, 100],
    [287, 100],
  ];
  await kite.live('command', { action: 'live', values: { [`layer:${id(55)}/opacity`]: 0 } });
  const lifted = Math.round(255 * 0.05 ** (1 / 2.2));
  await expect
    .poll(async () => {
      const dark = (await drawn(places)).map((p) => p[0] ?? 0);
      return Math.abs((dark[0] ?? 0) - lifted) <= 2 && (dark[1] ?? 0) === 0;
    })
    .toBe(true);
  await kite.live('command', { action: 'live', values: { [`layer:${id(55)}/opacity`]: null } });
  await agrees(ONE, places);
  await page.getByRole('radio', { name: 'Layout' }).focus();
  await page.keyboard.press('ControlOrMeta+z');
  await expect.poll(async () => (await output()).black).toBe(0);
  await page.keyboard.press('ControlOrMeta+z');
  await expect.poll(async () => (await region(FRONT, ONE)).model).toBe('');
  await page.keyboard.press('ControlOrMeta+Shift+z');
  await expect.poll(async () => (await region(FRONT, ONE)).model).not.toBe('');
});

test('two virtual projectors are aligned by their points until the seam is level on the lit venue', async () => {
  test.setTimeout(240_000);
  const rig = await page.context().newPage();
  await rig.setViewportSize({ width: 640, height: 400 });
  await rig.goto(`${kite.address}/rig/venue`);
  await rig.waitForFunction(() => 'kiteRig' in window);
  interface Rig {
    drawn: number;
    measure: (surface: string, from: [number, number], to: [number, number]) => number[];
    offLevel: (light: number[]) => number;
    beams: { projector: string; hung: { origin: number[] }; into: { matrix: number[] } }[];
  }
  const off = () =>
    rig.evaluate(
      (surface) =>
        (window as unknown as { kiteRig: Rig }).kiteRig.offLevel(
          (window as unknown as { kiteRig: Rig }).kiteRig.measure(surface, [0.12, 0.5], [0.88, 0.5]),
        ),
      FRONT,
    );
  const lit = () =>
    rig.evaluate(
      (surface) =>
        Math.min(...(window as unknown as { kiteRig: Rig }).kiteRig.measure(surface, [0.2, 0.5], [0.3, 0.5])),
      FRONT,
    );
  await expect.poll(lit, { timeout: 60_000 }).toBeGreaterThan(10);
  // As they hang, what was computed for the plan leaves a band or a gap.
  const before = await off();
  expect(before).toBeGreaterThan(0.06);
  /** The pixel by which a real projector lights a place. */
  const pixelOf = (projector: string, place: number[]) =>
    rig.evaluate(
      ([of, at]) => {
        const beam = (window as unknown as { kiteRig: Rig }).kiteRig.beams.find((b) => b.projector === of);
        const by = (at as number[]).map((v, i) => v - (beam?.hung.origin[i] ?? 0));
        const q = [0, 1, 2].map((r) => by.reduce((s, v, c) => s + v * (beam?.into.matrix[3 * c + r] ?? 0), 0)) as [
          number,
          number,
          number,
        ];
        return [(320 * q[0]) / q[2], (200 * q[1]) / q[2]] as [number, number];
      },
      [projector, place] as const,
    );
  for (const [output, projector] of [
    [ONE, id(14)],
    [TWO, id(15)],
  ] as const) {
    await open(output);
    await page.getByRole('radio', { name: 'Alignment' }).click();
    const board = page.getByRole('application', { name: /^Where points are/ });
    const found = async (n: number) =>
      ((await kite.api<{ computed: { points: Record<string, { found: [number, number] | null }> } }>(`shows/${show}`))
        .computed.points[id(100 + (output === ONE ? 0 : 10) + n)]?.found ?? null) as [number, number] | null;
    for (const [n, [name, place]] of PLACES.entries()) {
      await page
        .getByRole('region', { name: 'Alignment points' })
        .getByRole('button', { name: new RegExp(`^${name}`) })
        .click();
      const [x, y] = await pixelOf(projector, placeOf(output === ONE ? 0 : 1, place));
      const box = (await page.locator(`canvas[data-output="${output}"]`).boundingBox()) as {
        x: number;
        y: number;
        width: number;
        height: number;
      };
      const area = (await board.boundingBox()) as { x: number; y: number };
      await board.click({
        position: { x: box.x - area.x + (x / 320) * box.width, y: box.y - area.y + (y / 200) * box.height },
      });
      await until(`${name} to be found`, () => found(n));
      // By keys, to a tenth of a pixel: ten, one, a tenth at a time.
      await until(`${name} to be where it is`, async () => {
        const at = await found(n);
        if (at === null) return null;
        let settled = true;
        for (const [way, by] of [
          [['ArrowLeft', 'ArrowRight'], x - at[0]],
          [['ArrowUp', 'ArrowDown'], y - at[1]],
        ] as [string[], number][]) {
          const tenths = Math.round(Math.abs(by) * 10);
          settled &&= tenths === 0;
          const keys = [
            ...Array(Math.floor(tenths / 100)).fill('Shift+'),
            ...Array(Math.floor((tenths % 100) / 10)).fill(''),
            ...Array(tenths % 10).fill('Alt+'),
          ];
          for (const key of keys) await page.keyboard.press(`${key}${by > 0 ? way[1] : way[0]}`);
          const to = at[way[0] === 'ArrowLeft' ? 0 : 1] + (Math.sign(by) * tenths) / 10;
          if (tenths > 0)
            await expect
              .poll(async () => Math.abs(((await found(n))?.[way[0] === 'ArrowLeft' ? 0 : 1] ?? -99) - to))
              .toBeLessThan(0.01);
        }
        return settled;
      });
    }
    await page.getByRole('button', { name: 'Solve' }).click();
    await expect.poll(async () => Number(await page.locator('[data-rms]').getAttribute('data-rms'))).toBeLessThan(0.2);
    await page.getByRole('button', { name: 'Place the projector there' }).click();
    await until('the projector to be placed', async () => {
      const rows = (await kite.api<{ rows: { projector: { id: string; position: number[] }[] } }>(`shows/${show}`)).rows
        .projector;
      return Math.abs((rows.find((p) => p.id === projector)?.position[0] ?? 0) - ASIDE[output === ONE ? 0 : 1]) > 1e-4;
    });
  }
  await page.getByRole('radio', { name: 'Layout' }).click();
  await button(/^House front at/).click();
  await details().getByLabel('Equalise brightness').click();
  await details().getByRole('button', { name: 'Compute warps and blends' }).click();
  await expect(details().getByRole('status')).toHaveText(/All places get \d+ lx/, { timeout: 60_000 });
  await expect.poll(off, { timeout: 60_000 }).toBeLessThan(0.03);
  await rig.close();
});

test('in the morning a projector that drifted is checked by its points, and all that it shows goes along', async () => {
  test.setTimeout(180_000);
  const rig = await page.context().newPage();
  await rig.setViewportSize({ width: 640, height: 400 });
  await rig.goto(`${kite.address}/rig/venue`);
  await rig.waitForFunction(() => 'kiteRig' in window);
  interface Rig {
    measure: (surface: string, from: [number, number], to: [number, number]) => number[];
    offLevel: (light: number[]) => number;
    beams: { projector: string; hung: { origin: number[] }; into: { matrix: number[] } }[];
  }
  const off = () =>
    rig.evaluate((surface) => {
      const { kiteRig } = window as unknown as { kiteRig: Rig };
      return kiteRig.offLevel(kiteRig.measure(surface, [0.12, 0.5], [0.88, 0.5]));
    }, FRONT);
  await until('the seam to be level', async () => {
    const now = await off();
    return now > 0.0001 && now < 0.06;
  });
  const level = await off();
  // Overnight, somebody leant on it: it is turned by two thirds of a degree.
  await rig.evaluate(
    (of) => {
      const hung = JSON.parse(localStorage.getItem(of) ?? '{}') as { corners: number[][] };
      const [c, s] = [Math.cos(0.012), Math.sin(0.012)];
      hung.corners = hung.corners.map(([x = 0, y = 0, z = 0]) => [c * x + s * z, y, -s * x + c * z]);
      localStorage.setItem(of, JSON.stringify(hung));
    },
    `kite-hung ${id(14)}`,
  );
  await rig.reload();
  await rig.waitForFunction(() => 'kiteRig' in window);
  await until('the seam to show it', async () => (await off()) > level + 0.1);
  const drifted = await off();
  const phone = await page.context().newPage();
  await phone.setViewportSize({ width: 390, height: 780 });
  await phone.goto(`${kite.address}/align/${id(14)}?check`);
  await expect(phone.getByRole('heading', { name: 'Check of Left' })).toBeVisible();
  const at = async () =>
    ((await phone.locator('output').textContent()) ?? '').split(',').map((v) => Number.parseFloat(v)) as [
      number,
      number,
    ];
  for (const [name, place] of PLACES) {
    const [x, y] = await rig.evaluate(
      ([of, to]) => {
        const beam = (window as unknown as { kiteRig: Rig }).kiteRig.beams.find((b) => b.projector === of);
        const by = (to as number[]).map((v, i) => v - (beam?.hung.origin[i] ?? 0));
        const [u = 0, v = 0, t = 1] = [0, 1, 2].map((r) =>
          by.reduce((sum, w, c) => sum + w * (beam?.into.matrix[3 * c + r] ?? 0), 0),
        );
        return [(320 * u) / t, (200 * v) / t] as [number, number];
      },
      [id(14), placeOf(0, place)] as const,
    );
    const [now] = [await at()];
    for (const [by, label] of [
      [1, 'Steps of 1 px'],
      [0.1, 'Steps of 0.1 px'],
    ] as const) {
      await phone.getByRole('button', { name: label }).click();
      for (const [axis, ways] of [
        [0, ['Left', 'Right']],
        [1, ['Up', 'Down']],
      ] as const) {
        const presses = Math.round(((axis === 0 ? x : y) - now[axis]) / by);
        const wanted = now[axis] + presses * by;
        for (let k = 0; k < Math.abs(presses); k++)
          await phone.getByRole('button', { name: ways[presses < 0 ? 0 : 1], exact: true }).click();
        await expect.poll(async () => (await at())[axis], { message: name }).toBeCloseTo(wanted, 0);
        now[axis] = wanted;
      }
    }
    await phone.getByRole('button', { name: 'Next point' }).click();
  }
  await phone.getByRole('button', { name: 'Take the check' }).click();
  await expect(phone.getByText(/moved: off by \d+\.\d+ px before, 0\.\d+ px after/)).toBeVisible();
  // What its picture no longer reaches at the far end of the overlap, 6 px of 64, is all that is left.
  await until('the seam to be as it was', async () => (await off()) < drifted / 2.5);
  await phone.close();
  await rig.close();
  // It is kept with its date, and undone as one.
  await open(ONE);
  await page.getByRole('radio', { name: 'Alignment' }).click();
  await expect(page.getByRole('list', { name: 'Checks' }).getByRole('listitem')).toHaveCount(1);
});

test('a pair of projectors is brought to one light by eye, in the studio and from a phone', async () => {
  const [first, second] = [await region(FRONT, ONE), await region(FRONT, TWO)] as [Row, Row];
  /** Sets what an output gives. */
  const give = async (output: string, peak: number, gain: number[]) => {
    const row = (await rows('output')).find((r) => r.id === output) as unknown as { peak: number; gain: number[] };
    await kite.api(`shows/${show}/edits`, {
      name: 'Light',
      changes: [
        {
          kind: 'output',
          id: output,
          op: 'update',
          fields: { peak: { before: row.peak, after: peak }, gain: { before: row.gain, after: gain } },
        },
      ],
    });
  };
  // One lamp is older than the other.
  await give(TWO, 0.86, [1, 1, 0.93]);
  await open(ONE);
  await page.getByRole('radio', { name: 'Layout' }).click();
  const list = page.getByRole('region', { name: 'Regions' });
  await list.getByRole('button', { name: /^House front Right/ }).click();
  await list.getByRole('button', { name: /^House front Left/ }).click({ modifiers: ['Control'] });
  await details().getByRole('button', { name: 'Patch' }).click();
  const rig = await page.context().newPage();
  await rig.setViewportSize({ width: 640, height: 400 });
  await rig.goto(`${kite.address}/rig/venue`);
  await rig.waitForFunction(() => 'kiteRig' in window);
  const { halves } = await kite.api<{ halves: Record<string, [number, number, number, number]> }>(
    `shows/${show}/halves?regions=${first.id},${second.id}`,
  );
  const of = (
    await kite.api<{ computed: { surfaces: Record<string, { rasterWidth: number; rasterHeight: number }> } }>(
      `shows/${show}`,
    )
  ).computed.surfaces[FRONT] as { rasterWidth: number; rasterHeight: number };
  /** What is really on the surface in the middle of a half. */
  const light = (id: string) => {
    const [x, y, w, h] = halves[id] as [number, number, number, number];
    const at = (u: number): [number, number] => [(x + u * w) / of.rasterWidth, (y + h / 2) / of.rasterHeight];
    return rig.evaluate(
      ([surface, from, to]) => {
        const found = (
          window as unknown as { kiteRig: { measure: (s: string, f: unknown, t: unknown) => number[] } }
        ).kiteRig.measure(surface as string, from, to);
        return found.reduce((sum, v) => sum + v, 0) / found.length;
      },
      [FRONT, at(0.4), at(0.6)] as const,
    );
  };
  // Both are lit, without a fade, by one projector each.
  await until('both halves to be lit', async () => {
    const [a, b] = [await light(first.id), await light(second.id)];
    return a > 1 && b > 1 && Math.abs(a / b - 1) > 0.02;
  });
  const ratio = async () => (await light(first.id)) / (await light(second.id));
  // By eye: one press at a time, until they are one; the lead is the first projector.
  const phone = await page.context().newPage();
  await phone.setViewportSize({ width: 390, height: 780 });
  await phone.goto(`${kite.address}/align/${first.id}?with=${second.id}`);
  await expect(phone.getByRole('heading', { name: 'Left' })).toBeVisible();
  await phone.getByRole('button', { name: 'Steps of 1 %' }).click();
  let presses = 0;
  for (let now = await ratio(); Math.abs(now - 1) > 0.015 && presses < 60; now = await ratio()) {
    const far = Math.abs(now - 1) > 0.05;
    const at = far ? page : phone;
    await at.bringToFront();
    const name = now > 1 ? 'Darker' : 'Brighter';
    const { revision } = await kite.api<{ revision: number }>(`shows/${show}`);
    await (far ? details() : phone).getByRole('button', { name, exact: true }).click();
    await until('it to be another', async () => {
      const { revision: next } = await kite.api<{ revision: number }>(`shows/${show}`);
      return next > revision && Math.abs((await ratio()) - now) > 0.001;
    });
    presses++;
  }
  expect(Math.abs((await ratio()) - 1)).toBeLessThan(0.02);
  expect(presses).toBeGreaterThan(1);
  expect(presses).toBeLessThan(25);
  await phone.close();
  await rig.close();
  await page.bringToFront();
  await details().getByRole('button', { name: 'Patch' }).click();
  for (const output of [ONE, TWO]) await give(output, 1, [1, 1, 1]);
});

test('points are moved from a page for a phone, and a calibration goes out and comes in', async () => {
  const phone = await page.context().newPage();
  await phone.setViewportSize({ width: 390, height: 780 });
  await phone.goto(`${kite.address}/align/${id(14)}`);
  await expect(phone.getByRole('heading', { name: 'Left' })).toBeVisible();
  const place = async () =>
    ((await kite.api<{ computed: { points: Record<string, { found: [number, number] }> } }>(`shows/${show}`)).computed
      .points[id(100)]?.found ?? [0, 0]) as [number, number];
  const before = await place();
  await phone.getByRole('button', { name: 'Steps of 10 px' }).click();
  await phone.getByRole('button', { name: 'Right' }).click();
  await phone.getByRole('button', { name: 'Right' }).click();
  await phone.getByRole('button', { name: 'Up' }).click();
  await expect.poll(async () => (await place())[0] - before[0]).toBeCloseTo(20, 3);
  await expect.poll(async () => (await place())[1] - before[1]).toBeCloseTo(-10, 3);
  await player.goto(`${kite.address}/player/${ONE}`);
  await phone.bringToFront();
  await phone.getByRole('button', { name: 'It is there' }).click();
  const shown = (await place()).map((v) => Math.round(v * 1000) / 1000).join(',');
  await expect
    .poll(() => player.evaluate(() => (document.querySelector('svg[data-marks]') as SVGElement | null)?.dataset.marks))
    .toBe(`0 ${shown}`);
  // So are the corners of any region of an output, and its points where it is bent.
  await phone.goto(`${kite.address}/align/${LED}`);
  await phone.getByLabel('Region').selectOption({ label: 'Wall' });
  await expect(phone.getByRole('heading', { name: 'Wall on LED' })).toBeVisible();
  const corner = async () => (await rows('region')).find((r) => r.id === id(40))?.pin ?? [];
  const pinned = (await corner())[2] ?? 0;
  await phone.getByRole('button', { name: 'Next point' }).click();
  await phone.getByRole('button', { name: 'Steps of 10 px' }).click();
  for (const way of ['Right', 'Right', 'Left', 'Right']) await phone.getByRole('button', { name: way }).click();
  await expect.poll(async () => ((await corner())[2] ?? 0) - pinned).toBeCloseTo(20, 6);
  await kite.api(`shows/${show}/outputs`, { action: 'line', region: id(40), way: 'column', at: 0.5 });
  const bent = async () => String((await rows('region')).find((r) => r.id === id(40))?.points);
  const straight = await bent();
  await expect(phone.getByRole('option', { name: 'Point 2, 1' })).toBeAttached();
  await phone.getByLabel('Point', { exact: true }).selectOption('Point 2, 2');
  await phone.getByRole('button', { name: 'Up' }).click();
  await until('the bend', async () => (await bent()) !== straight);
  await kite.api(`shows/${show}/outputs`, { action: 'reset', regions: [id(40)], what: 'all' });
  await phone.close();
  await open(ONE);
  await button(/^House front at/).click();
  await button('Add and exchange').click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Calibration, MPCDI' }).click(),
  ]);
  const path = join(kite.folder, 'front.mpcdi');
  await download.saveAs(path);
  const model = (await region(FRONT, ONE)).model;
  await page.getByLabel('Calibration').setInputFiles(path);
  await expect.poll(async () => (await region(FRONT, ONE)).model).not.toBe(model);
  // What came in shows what went out: the middle of the wall white, at the far edge of the overlap nothing.
  const pixels = await agrees(ONE, [
    [100, 100],
    [319, 100],
  ]);
  expect(Math.min(...(pixels[0] ?? []))).toBeGreaterThan(180);
  expect(Math.max(...(pixels[1] ?? []))).toBeLessThan(90);
});

test('a piece is drawn on the picture, moved and scaled there, and what it goes to stays', async () => {
  const SHEET = id(60);
  await kite.api(`shows/${show}/edits`, {
    name: 'A sheet',
    changes: [
      created('surface', SHEET, {
        name: 'Poster',
        kind: 'flat',
        position: [30, 0, 0],
        shape: { width: 4, height: 2, pixelsPerMetre: 50, guide: 0.5 },
      }),
    ],
  });
  await open(LED);
  await page.getByRole('radio', { name: 'Source' }).click();
  await page.getByLabel('Surface', { exact: true }).selectOption({ label: 'Poster' });
  const board = page.getByRole('group', { name: 'What is taken of Poster' });
  const shown = (await page.locator(`canvas[data-spot="${SHEET}"]`).boundingBox()) as {
    x: number;
    y: number;
    width: number;
    height: number;
  };
  const at = (x: number, y: number) => [shown.x + (x / 200) * shown.width, shown.y + (y / 100) * shown.height] as const;
  const drag = async (from: readonly [number, number], to: readonly [number, number]) => {
    await page.mouse.move(...from);
    await page.mouse.down();
    await page.mouse.move(...to, { steps: 5 });
    await page.mouse.up();
  };
  const piece = async () => (await rows('region')).find((r) => r.surface === SHEET);
  // Near lines of the guide, which are 25 px apart, edges meet them.
  await button('Draw a piece').click();
  await drag(at(50.4, 24.6), at(99.6, 75.3));
  await expect.poll(async () => (await piece())?.source).toEqual([50, 25, 50, 50]);
  const place = [(await piece())?.x, (await piece())?.y];
  // Moved by its middle: its edge meets the next line.
  await drag(at(75, 50), at(99.6, 50));
  await expect.poll(async () => (await piece())?.source).toEqual([75, 25, 50, 50]);
  await board.getByRole('button', { name: /^Taken for LED/ }).focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await piece())?.source).toEqual([76, 25, 50, 50]);
  // By a corner: the others stay.
  await drag(at(126, 75), at(150.3, 99.8));
  await expect.poll(async () => (await piece())?.source).toEqual([76, 25, 74, 75]);
  // Typed, and where it goes has not moved.
  const field = details().getByLabel('Source width');
  await field.fill('40');
  await field.press('Enter');
  await expect.poll(async () => (await piece())?.source).toEqual([76, 25, 40, 75]);
  expect([(await piece())?.x, (await piece())?.y]).toEqual(place);
  // What is refused stays typed, with the reason.
  await field.fill('0');
  await field.press('Enter');
  await expect(field).toHaveValue('0');
  await expect(field).toHaveAttribute('aria-invalid', 'true');
  await field.press('Escape');
  await page.getByRole('radio', { name: 'Layout' }).click();
  await kite.api(`shows/${show}/edits`, { name: 'Off', changes: [{ kind: 'surface', id: SHEET, op: 'delete' }] });
});

test('pieces are grouped, share what is typed, and are worked on alone on the real output', async () => {
  const [SHEET, A, B] = [id(63), id(61), id(62)];
  await kite.api(`shows/${show}/edits`, {
    name: 'Two pieces',
    changes: [
      created('surface', SHEET, {
        name: 'Sheet',
        kind: 'flat',
        position: [30, 0, 0],
        shape: { width: 4, height: 2, pixelsPerMetre: 20 },
      }),
      created('region', A, { output: LED, surface: SHEET, source: [0, 0, 40, 40], x: 0, y: 110 }),
      created('region', B, { output: LED, surface: SHEET, source: [40, 0, 40, 40], x: 80, y: 110 }),
    ],
  });
  await open(LED);
  const list = page.getByRole('region', { name: 'Regions' });
  const piece = (n: number) => list.getByRole('button', { name: 'Sheet LED' }).nth(n);
  await piece(0).click();
  await piece(1).click({ modifiers: ['Control'] });
  await details().getByRole('button', { name: 'New group' }).click();
  await details().getByLabel('Name of the new group').fill('Sheets');
  await page.keyboard.press('Enter');
  await expect(list.getByRole('button', { name: 'Sheets 2' })).toHaveAttribute('aria-pressed', 'true');
  // Ten pixels in common, and both fade over them.
  await details().getByLabel('Shared').fill('10');
  await page.keyboard.press('Enter');
  await until('the overlap', async () => {
    const all = await rows('region');
    const [a, b] = [A, B].map((one) => all.find((r) => r.id === one)?.source);
    return a?.join() === '0,0,45,40' && b?.join() === '35,0,45,40';
  });
  // Alone and white: the other ones of the output are dark, and where it fades half of the light is left.
  await list.getByRole('button', { name: 'Sheets 2' }).click();
  await list.getByRole('button', { name: 'Only these' }).click();
  await list.getByText('White', { exact: true }).click();
  const reds = async (...places: [number, number][]) => (await canvasPixels(player, places)).pixels.map((p) => p[0]);
  await until('both white, the wall dark', async () => {
    const [first, fade, second, wall] = await reds([5, 130], [40, 130], [110, 130], [10, 10]);
    return first === 255 && second === 255 && wall === 0 && fade !== undefined && fade > 150 && fade < 220;
  });
  await piece(0).click();
  await until('the first alone', async () => (await reds([5, 130], [110, 130])).join() === '255,0');
  // By a key to the next, also from a region on the raster.
  await page.keyboard.press('n');
  await until('the second alone', async () => (await reds([5, 130], [110, 130])).join() === '0,255');
  // As a guide of real squares: 50 cm are 10 px here, and at their edges are lines.
  await list.getByText('Guide', { exact: true }).click();
  const squares = list.getByLabel('Guide squares');
  await squares.fill('50 cm');
  await squares.press('Enter');
  const line = [240, 236, 224];
  await until('the guide', async () => {
    const { pixels } = await canvasPixels(player, [
      [100, 135],
      [110, 135],
      [105, 135],
    ]);
    const [left, right, field] = pixels;
    return (
      left?.join() === line.join() && right?.join() === line.join() && field !== undefined && (field[0] ?? 255) < 90
    );
  });
  await squares.blur();
  await page.keyboard.press('o');
  await until('no white', async () => (await reds([110, 130]))[0] === 0);
  await agrees(LED, [
    [10, 10],
    [60, 30],
  ]);
  // A group is folded, and leaves its regions where they are when it is gone.
  await list.getByRole('button', { name: 'Fold Sheets' }).click();
  await expect(piece(0)).toHaveCount(0);
  await kite.api(`shows/${show}/edits`, {
    name: 'Off',
    changes: [SHEET].map((one) => ({ kind: 'surface', id: one, op: 'delete' })),
  });
});

test('projectors are matched by what was measured of them', async () => {
  await button('Add and exchange').click();
  await page.getByRole('menuitem', { name: 'Match projectors…' }).click();
  const dialog = page.getByRole('dialog');
  for (const [label, value] of [
    ['White of Left', '200'],
    ['White of Right', '150'],
    ['Black of Right', '0.3'],
  ] as const) {
    await dialog.getByLabel(label).fill(value);
    await dialog.getByLabel(label).press('Enter');
  }
  await dialog.getByRole('button', { name: 'Match', exact: true }).click();
  await expect(dialog.getByRole('status')).toHaveText('All give 150.00 white and 0.300 black.');
  await dialog.getByRole('button', { name: 'Done', exact: true }).click();
  const outputs = (await rows('output')) as unknown as { id: string; gain: number[]; black: number }[];
  const one = outputs.find((o) => o.id === ONE);
  expect(one?.gain.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0.75, 0.75, 0.75]);
  expect(one?.black).toBeCloseTo(0.0015, 9);
  await open(ONE);
  // The light is three quarters of what it was, and a little is added, by the power of the output.
  await agrees(ONE, [
    [100, 100],
    [160, 60],
  ]);
});

test('the virtual rig throws as a lens does, and hangs projectors by chance that is always the same', () => {
  // Four metres before a wall, a picture of 4 m by 2 m, its middle at (1, 2).
  const planned = [
    [1, 2, 4],
    [-0.5, 0.25, -1],
    [0.5, 0.25, -1],
    [0.5, -0.25, -1],
    [-0.5, -0.25, -1],
  ];
  const still = { move: [0, 0, 0] as [number, number, number], turn: [0, 0, 0] as [number, number, number], zoom: 1 };
  const at = (of: ReturnType<typeof hung>, [x, y, z]: [number, number, number]) => {
    const by = [x, y, z].map((v, i) => v - (of.origin[i] ?? 0));
    const q = [0, 1, 2].map((r) => by.reduce((s, v, c) => s + v * (into(of).matrix[3 * c + r] ?? 0), 0)) as [
      number,
      number,
      number,
    ];
    return [q[0] / q[2], q[1] / q[2], q[2]].map((v) => Math.round(v * 1e9) / 1e9);
  };
  const plain = hung(planned, still);
  expect(into(plain).area).toBeCloseTo(0.5, 12);
  expect(at(plain, [-1, 3, 0])).toEqual([0, 0, 4]);
  expect(at(plain, [3, 1, 0])).toEqual([1, 1, 4]);
  expect(at(plain, [1, 2, 0])).toEqual([0.5, 0.5, 4]);
  // Moved to the right by a metre, what was in its middle is a quarter of its width to the left of it.
  expect(at(hung(planned, { ...still, move: [1, 0, 0] }), [1, 2, 0])).toEqual([0.25, 0.5, 4]);
  // Turned about Y by what brings its left edge to its middle.
  const turned = at(hung(planned, { ...still, turn: [0, (Math.atan(0.5) * 180) / Math.PI, 0] }), [-1, 2, 0]);
  expect(turned[0]).toBeCloseTo(0.5, 6);
  // Twice as large, an eighth of its width from the middle where a quarter was.
  expect(at(hung(planned, { ...still, zoom: 2 }), [2, 2, 0])[0]).toBeCloseTo(0.625, 9);
  // An LED processor is told the same rectangle as the core: a quarter clockwise, the picture's top left is the place's top right.
  const patched = (of: Parameters<typeof patchOf>[0], place: number[], [px, py]: [number, number]) => {
    const [a, b, c, d, e, f] = patchOf(of, place);
    return [a * px + c * py + e, b * px + d * py + f];
  };
  expect(patched({ source: [10, 0, 40, 20], turn: 0, mirror: false }, [100, 50, 80, 40], [10, 20])).toEqual([100, 90]);
  expect(patched({ source: [0, 0, 40, 20], turn: 90, mirror: false }, [0, 0, 20, 40], [0, 0])).toEqual([20, 0]);
  expect(patched({ source: [0, 0, 40, 20], turn: 90, mirror: false }, [0, 0, 20, 40], [40, 0])).toEqual([20, 40]);
  expect(patched({ source: [0, 0, 40, 20], turn: 180, mirror: false }, [5, 5, 40, 20], [0, 0])).toEqual([45, 25]);
  expect(patched({ source: [0, 0, 40, 20], turn: 270, mirror: true }, [0, 0, 20, 40], [40, 0])).toEqual([0, 40]);
  expect(offsetOf('a')).toEqual(offsetOf('a'));
  expect(offsetOf('a')).not.toEqual(offsetOf('b'));
  for (const name of ['a', 'b', '01hzz0000000000000000014', 'ß']) {
    const off = offsetOf(name);
    expect(Math.max(...off.move.map(Math.abs))).toBeLessThanOrEqual(0.25);
    expect(Math.max(...off.turn.map(Math.abs))).toBeLessThanOrEqual(1.5);
    expect(Math.abs(off.zoom - 1)).toBeLessThanOrEqual(0.03);
  }
  // Level; a band a third above; a gap; dark ends do not count.
  expect(offLevel([2, 2, 2, 2])).toBe(0);
  expect(offLevel([0, 1, 1, 1, 2, 1, 0])).toBeCloseTo(2 / 1.2 - 1, 12);
  expect(offLevel([3, 3, 0, 3])).toBeCloseTo(1, 12);
  expect(offLevel([0, 0])).toBe(0);
});
