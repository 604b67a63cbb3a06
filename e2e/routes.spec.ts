import { expect, type Page, test } from '@playwright/test';
import { canvasPixels, created, KiteLamp, until } from './kite';

/** Two walls of other shapes and what reaches them: fitted, moved through a gap, stitched, asked why. */
test.describe.configure({ mode: 'serial' });

const S = 705_600_000;
const kite = new KiteLamp(4450);
let page: Page;
let show = '';

let last = 0;
const id = () => `01hzz${String(++last).padStart(21, '0')}`;
const ids = {
  panel: id(),
  wall: id(),
  wing: id(),
  line: id(),
  layer: id(),
  route: id(),
  clip: id(),
  picture: id(),
  output: id(),
};
interface Show {
  rows: {
    route: {
      id: string;
      name: string;
      reach: string;
      width: number;
      height: number;
      fittings: Record<string, string>;
    }[];
    share: { id: string; surface: string; follows: string | null; values: Record<string, number> }[];
    lens: { id: string; values: Record<string, number> }[];
    layer: { id: string; route: string; values: Record<string, number> }[];
    media: { id: string; kind: string; pattern: string; text: string; values: Record<string, unknown> }[];
  };
  computed: {
    placements: Record<string, { squashed: boolean; remarks: string[] }>;
    routes: Record<string, { surfaces: string[]; coverage: Record<string, { reached: number }> }>;
  };
}
const read = () => kite.api<Show>(`shows/${show}`);

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Ways', frameRate: '25' })).id;
  const i = ids;
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('panel', i.panel, { name: 'P', widthMm: 500, heightMm: 500, widthPx: 40, heightPx: 40 }),
      created('surface', i.wall, { name: 'Wall', cells: [[i.panel, i.panel]], seams: [0] }),
      created('surface', i.wing, { name: 'Wing', cells: [[i.panel]], seams: [], position: [1.5, 0, 0] }),
      created('timeline', i.line, { name: 'Main', duration: 20 * S }),
      created('media', i.picture, { name: 'Lamp', kind: 'solid', colour: '#ff8000', width: 40, height: 20 }),
      created('layer', i.layer, { timeline: i.line, name: 'Sea', order: 0, route: i.route, fitting: 'stretch' }),
      created('route', i.route, { layer: i.layer, surfaces: [i.wall, i.wing] }),
      created('clip', i.clip, { layer: i.layer, media: i.picture, start: 0, length: 20 * S }),
      created('output', i.output, { name: 'Output 1', width: 160, height: 40 }),
      created('region', id(), { output: i.output, surface: i.wall, source: [0, 0, 80, 40], x: 0, y: 0 }),
      created('region', id(), { output: i.output, surface: i.wing, source: [0, 0, 40, 40], x: 100, y: 0 }),
    ],
  });
  await kite.api(`shows/${show}/engage`, {});
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(`${kite.address}/routes`);
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

/** Whether wall and wing are lit in their middles at a time. */
async function lit(player: Page, seconds: number, wanted: [boolean, boolean]) {
  await kite.live('command', { action: 'jump', time: seconds * S });
  await until(`the picture at ${seconds} s`, async () => {
    const { pixels, report } = await canvasPixels(player, [
      [20, 20],
      [120, 20],
    ]);
    return report?.lacks.length === 0 && pixels.every((p, i) => (p[0] ?? 0) > 200 === wanted[i]);
  });
}

test('a picture that is squashed on one of two surfaces is said, and mended in one press', async () => {
  await page.getByRole('option', { name: /Sea/ }).click();
  const card = page.getByRole('figure').filter({ hasText: 'Wing' });
  await expect(card).toContainText('The picture is stretched 100 % higher than it was made.');
  await expect(card.getByRole('img', { name: 'a circle becomes an ellipse of 2.00 to 1' })).toBeVisible();
  await expect(page.getByRole('figure').filter({ hasText: '▸ Wall' })).not.toContainText('stretched');
  await card.getByRole('button', { name: 'cover on Wing' }).click();
  await expect(card).not.toContainText('stretched');
  await expect(card.getByRole('img', { name: 'a circle stays round' })).toBeVisible();
  expect((await read()).rows.route[0]?.fittings).toEqual({ [ids.wing]: 'cover' });
  await page.keyboard.press('Control+z');
  await expect(card).toContainText('stretched');
  await page.keyboard.press('Control+Shift+z');
  await expect(card).not.toContainText('stretched');
});

test('a canvas is made, its shares laid out, dragged, nudged and typed', async () => {
  await page.getByRole('button', { name: 'Add a route' }).click();
  await page.getByRole('menuitem', { name: /^canvas/ }).click();
  const wall = page.getByRole('button', { name: /^Wall at/ });
  await expect(wall).toBeVisible();
  await page.getByRole('button', { name: 'row', exact: true }).click();
  const wing = page.getByRole('button', { name: /^Wing at/ });
  await expect(wing).toHaveAccessibleName('Wing at 80, 0 · 40 × 40');
  // A gap of 80 px: the wing goes from 80 to 160, typed, and the pane with it.
  await wing.focus();
  const x = page.getByLabel('Position X');
  await x.fill('80+80');
  await x.press('Enter');
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(wing).toHaveAccessibleName('Wing at 160, 0 · 40 × 40');
  // An arrow key is a pixel, with Shift ten.
  await wing.focus();
  await page.keyboard.press('Shift+ArrowDown');
  await expect(wing).toHaveAccessibleName('Wing at 160, 10 · 40 × 40');
  await page.keyboard.press('ArrowUp');
  await expect(wing).toHaveAccessibleName('Wing at 160, 9 · 40 × 40');
  // Dragged back up, it meets the upper edge of the other.
  const box = await wing.boundingBox();
  const pane = await page.getByRole('img', { name: /^Pane of/ }).boundingBox();
  const scale = (pane?.width ?? 0) / ((await read()).rows.route.find((r) => r.reach === 'canvas')?.width ?? 1);
  await page.mouse.move((box?.x ?? 0) + 10, (box?.y ?? 0) + 8);
  await page.mouse.down();
  await page.mouse.move((box?.x ?? 0) + 10, (box?.y ?? 0) + 8 - 8 * scale, { steps: 4 });
  await page.mouse.up();
  await expect(wing).toHaveAccessibleName('Wing at 160, 0 · 40 × 40');
  await expect
    .poll(async () => {
      const share = (await read()).rows.share.find((s) => s.surface === ids.wing);
      return [share?.values.x, share?.values.y];
    })
    .toEqual([160, 0]);
  await page.getByRole('option', { name: /^Canvas 1/ }).click();
  const width = page.getByLabel('Width');
  await width.fill('200');
  await width.press('Enter');
  await expect(page.getByRole('img', { name: 'Pane of Canvas 1, 200 × 40 px' })).toBeVisible();
});

test('two surfaces take one share in common, and each has its own back', async () => {
  const share = async (surface: string) =>
    (await read()).rows.share.find((s) => s.surface === surface) as {
      id: string;
      values: Record<string, number>;
      follows: string | null;
    };
  const [wall, wing] = [await share(ids.wall), await share(ids.wing)];
  await page.evaluate(
    (id) =>
      (window as unknown as { kiteStudio: { select: (s: unknown) => void } }).kiteStudio.select({ kind: 'share', id }),
    wing.id,
  );
  const details = page.getByLabel('Details');
  await details.getByRole('combobox', { name: 'Linked to' }).click();
  await page.getByRole('option', { name: 'Wall', exact: true }).click();
  await expect(page.getByTestId('pane')).toContainText('Wall + Wing');
  await expect(details).toContainText('its own is kept');
  expect(await share(ids.wing)).toMatchObject({ follows: wall.id, values: wing.values });
  await page.getByRole('button', { name: 'Matrix' }).focus();
  await page.keyboard.press('ControlOrMeta+z');
  await expect(page.getByTestId('pane')).not.toContainText('Wall + Wing');
  expect(await share(ids.wing)).toEqual(wing);
});

test('a layer takes the canvas, and its picture goes from wall to wall through the gap between them', async ({
  browser,
}) => {
  await page.getByRole('option', { name: /^Sea/ }).click();
  await page.getByRole('combobox', { name: 'Route' }).first().click();
  await page.getByRole('option', { name: 'Canvas 1', exact: true }).click();
  await until('the layer to take it', async () => (await read()).rows.layer[0]?.route !== ids.route);
  await page.evaluate(
    (layer) =>
      (window as unknown as { kiteStudio: { select: (s: unknown) => void } }).kiteStudio.select({
        kind: 'layer',
        id: layer,
      }),
    ids.layer,
  );
  const details = page.getByLabel('Details');
  await details.getByRole('combobox', { name: 'Fitting' }).click();
  await page.getByRole('option', { name: 'one-to-one' }).click();
  // 40 × 20 px in the middle of 200 × 40: its left edge at 80. From −80 to 120 in four seconds.
  for (const [time, value] of [
    [0, -80],
    [4 * S, 80],
  ])
    await kite.api(`shows/${show}/program`, { action: 'key', address: `layer:${ids.layer}/x`, time, value });
  const player = await (await browser.newContext({ viewport: { width: 320, height: 180 } })).newPage();
  await player.goto(`${kite.address}/player/${ids.output}`);
  // On the wall; between them; on the wing, whose middle is at 180 of the canvas.
  await lit(player, 0, [true, false]);
  await lit(player, 2, [false, false]);
  await lit(player, 4, [false, true]);
  // Seen in the pane all the same while it is between them.
  await kite.live('command', { action: 'jump', time: 2 * S });
  await page.getByRole('option', { name: /^Canvas 1/ }).click();
  const middle = () =>
    page.evaluate(() => {
      const canvas = document.querySelector('[data-spot^="pane"]') as HTMLCanvasElement | null;
      return canvas === null
        ? 0
        : (canvas.getContext('2d')?.getImageData(Math.floor(canvas.width / 2), Math.floor(canvas.height / 2), 1, 1)
            .data[0] ?? 0);
    });
  await until('the picture in the pane', async () => (await middle()) > 200);
  await player.context().close();
});

test('what is grabbed in the pane moves loosely, and is let go', async () => {
  const pane = page.getByRole('img', { name: /^Pane of/ });
  const box = (await pane.boundingBox()) as { x: number; y: number; width: number; height: number };
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + box.width / 4, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  // A quarter of 200 px to the right of where it is at two seconds.
  await expect(page.getByTestId('pane')).toContainText('Sea 50, 0 px');
  expect((await read()).rows.layer[0]?.values.x ?? 0).toBe(0);
  await kite.live('command', {
    action: 'live',
    values: { [`layer:${ids.layer}/x`]: null, [`layer:${ids.layer}/y`]: null },
  });
  await expect(page.getByTestId('pane')).not.toContainText('Sea 50, 0 px');
});

test('what is grabbed on a surface in 3D moves as much in the pane, and a press says what is there', async () => {
  await kite.live('command', { action: 'jump', time: 4 * S });
  await page.getByRole('button', { name: 'Venue', exact: true }).last().click();
  const where = (x: number, y: number) =>
    page.evaluate(
      ([a, b]) =>
        (window as unknown as { kiteVenue?: { where: (...p: number[]) => [number, number] } }).kiteVenue?.where(
          a ?? 0,
          b ?? 0,
          0,
        ) ?? null,
      [x, y],
    );
  // Once the view has its meshes and has found its place, the wing's middle answers a press there.
  const told = page.getByLabel('Pixel', { exact: true });
  let middle: [number, number] = [0, 0];
  await until('the wing under the pointer', async () => {
    const [before, now] = [await where(1.5, 0.25), await where(1.5, 0.25)];
    if (before === null || now === null || Math.hypot(now[0] - before[0], now[1] - before[1]) > 0.01) return false;
    middle = now;
    await page.mouse.click(...middle);
    return (await told.count()) > 0 && ((await told.textContent()) ?? '').includes('Wing');
  });
  // A tenth of a metre above it: 8 px of its 40 on half a metre.
  const above = (await where(1.5, 0.35)) as [number, number];
  await expect(told).toContainText('1. Sea');
  await page.mouse.move(...middle);
  await page.mouse.down();
  await page.mouse.move(...above, { steps: 4 });
  // The share of the wing is 40 × 40 of the pane, as its raster is: 8 px up, give or take one of the pixels pressed.
  await until('the picture to be moved in the pane', async () =>
    /Sea \d+, -[789] px/.test((await page.getByTestId('pane').textContent()) ?? ''),
  );
  await page.mouse.up();
  expect((await read()).rows.layer[0]?.values.y ?? 0).toBe(0);
  await kite.live('command', {
    action: 'live',
    values: { [`layer:${ids.layer}/x`]: null, [`layer:${ids.layer}/y`]: null },
  });
  await page.getByRole('button', { name: 'Venue', exact: true }).last().click();
  await expect(page.getByLabel('Venue in 3D')).toHaveCount(0);
});

test('two lenses are stitched: what both reach is as bright as what one does', async ({ browser }) => {
  await page.getByRole('button', { name: 'Add a route' }).click();
  await page.getByRole('menuitem', { name: /^lens/ }).click();
  await expect(page.getByRole('heading', { name: 'Lens 1' })).toBeVisible();
  const made = (await read()).rows.route.find((r) => r.reach === 'lens') as Show['rows']['route'][number];
  await page.getByRole('button', { name: 'Add a lens' }).click();
  await until('two lenses', async () => (await read()).rows.lens.length === 2);
  const [first, second] = (await read()).rows.lens as [Show['rows']['lens'][number], Show['rows']['lens'][number]];
  // Side by side before the wall, their pictures over one another by a third.
  for (const [lens, x, feather] of [
    [first, -0.15, 'featherRight'],
    [second, 0.15, 'featherLeft'],
  ] as const)
    await kite.api(`shows/${show}/edits`, {
      name: 'Place',
      changes: [
        {
          kind: 'lens',
          id: lens.id,
          op: 'update',
          fields: Object.fromEntries(
            Object.entries({ x, y: 0.25, z: 1, yaw: 0, angle: 40, [feather]: 0.3 }).map(([name, after]) => [
              `values.${name}`,
              { before: lens.values[name] ?? null, after },
            ]),
          ),
        },
      ],
    });
  await kite.api(`shows/${show}/routes`, { action: 'take', route: made.id, layers: [ids.layer] });
  await kite.api(`shows/${show}/edits`, {
    name: 'Fill',
    changes: [
      { kind: 'layer', id: ids.layer, op: 'update', fields: { fitting: { before: 'one-to-one', after: 'cover' } } },
    ],
  });
  await kite.live('command', { action: 'jump', time: 2 * S });
  const player = await (await browser.newContext({ viewport: { width: 320, height: 180 } })).newPage();
  await player.goto(`${kite.address}/player/${ids.output}`);
  await until('an even wall', async () => {
    const { pixels, report } = await canvasPixels(
      player,
      Array.from({ length: 16 }, (_, i) => [2 + 5 * i, 20]),
    );
    return (
      report?.lacks.length === 0 &&
      pixels.every((p) => Math.abs((p[0] ?? 0) - 255) <= 1 && Math.abs((p[1] ?? 0) - 128) <= 1)
    );
  });
  await player.context().close();
  // The wing is out of their picture, and that is said.
  await page.getByRole('option', { name: /^Lens 1/ }).click();
  await expect(page.getByLabel('Details')).toContainText('throws nothing onto Wing');
  // 80 × 40 px at 40° take in 0.364 m of the half metre's height: 18 of the 24 rows that are looked at.
  expect((await read()).computed.routes[made.id]?.coverage[ids.wall]?.reached).toBe(0.75);
  // By its focal length on a sensor of 36 mm: 18 mm take in a right angle.
  await page.evaluate(
    (lens) =>
      (window as unknown as { kiteStudio: { go: (v: string, s: unknown) => void } }).kiteStudio.go('routes', {
        kind: 'lens',
        id: lens,
      }),
    first.id,
  );
  const focal = page.getByLabel('Focal length');
  await expect(focal).toHaveValue('49.45');
  await focal.fill('36mm / 2');
  await focal.press('Enter');
  await until(
    'the field of view',
    async () => Math.abs(((await read()).rows.lens.find((l) => l.id === first.id)?.values.angle ?? 0) - 90) < 1e-9,
  );
});

test('why a surface is dark is followed to its link', async () => {
  await kite.live('command', { action: 'live', values: { [`layer:${ids.layer}/mute`]: true } });
  await page.evaluate(
    (wall) =>
      (window as unknown as { kiteStudio: { select: (s: unknown) => void } }).kiteStudio.select({
        kind: 'surface',
        id: wall,
      }),
    ids.wall,
  );
  const strip = page.getByLabel('Trace', { exact: true });
  await expect(strip).toContainText('Sea is muted');
  await strip.getByRole('button', { name: 'Sea' }).click();
  await expect(page.getByRole('heading', { name: 'Sea' })).toBeVisible();
  await kite.live('command', { action: 'live', values: { [`layer:${ids.layer}/mute`]: null } });
  await expect(strip).not.toContainText('Sea is muted');
});

test('what a pixel is is asked on the surface', async () => {
  await page.evaluate(
    (layer) =>
      (window as unknown as { kiteStudio: { go: (v: string, s: unknown) => void } }).kiteStudio.go('routes', {
        kind: 'layer',
        id: layer,
      }),
    ids.layer,
  );
  await kite.live('command', { action: 'jump', time: 2 * S });
  const picture = page.getByRole('button', { name: 'Pixel of Wall' });
  await picture.click({ position: { x: 20, y: 20 } });
  const told = page.getByLabel('Pixel', { exact: true });
  await expect(told).toContainText('1. Sea');
  await expect(told).toContainText('Lamp');
  // The pixel beside it, by key.
  const before = await told.textContent();
  await picture.press('ArrowRight');
  await expect(told).not.toHaveText(before ?? '');
});

test('the matrix says who reaches whom at the playhead', async () => {
  await page.evaluate(() => (window as unknown as { kiteStudio: { go: (v: string) => void } }).kiteStudio.go('routes'));
  await page.getByRole('button', { name: 'Matrix' }).click();
  await expect(page.getByRole('cell', { name: 'Sea on Wall: 100 %' })).toBeVisible();
  await kite.live('command', { action: 'live', values: { [`layer:${ids.layer}/opacity`]: 0 } });
  await expect(page.getByRole('cell', { name: 'Sea on Wall: dark now' })).toBeVisible();
  await kite.live('command', { action: 'live', values: { [`layer:${ids.layer}/opacity`]: null } });
});

test('a layer takes another route over time', async ({ browser }) => {
  await kite.live('command', { action: 'jump', time: 3 * S });
  await page.evaluate(
    (layer) =>
      (window as unknown as { kiteStudio: { go: (v: string, s: unknown) => void } }).kiteStudio.go('timeline', {
        kind: 'layer',
        id: layer,
      }),
    ids.layer,
  );
  const details = page.getByLabel('Details');
  await details.getByRole('combobox', { name: 'Route over time' }).click();
  await page.getByRole('option', { name: 'Canvas 1', exact: true }).click();
  // Its lane comes with its keyframes.
  await expect(page.getByRole('button', { name: 'Route over time Canvas 1' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Route over time as aimed' })).toBeVisible();
  const player = await (await browser.newContext({ viewport: { width: 320, height: 180 } })).newPage();
  await player.goto(`${kite.address}/player/${ids.output}`);
  // By the lenses the wall is lit; on the canvas the picture has moved on to the wing by then.
  await lit(player, 1, [true, false]);
  await lit(player, 3, [false, true]);
  await player.context().close();
  await page.getByRole('button', { name: 'All values' }).focus();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Route over time Canvas 1' })).toHaveCount(0);
});

test('a pattern is added, its picture chosen and its values typed', async () => {
  await page.evaluate(() => (window as unknown as { kiteStudio: { go: (v: string) => void } }).kiteStudio.go('media'));
  await page.getByRole('button', { name: 'Add a pattern' }).click();
  await page.getByRole('menuitem', { name: 'Checker' }).click();
  const details = page.getByLabel('Details');
  await expect(details.getByRole('heading', { name: 'Checker' })).toBeVisible();
  const size = details.getByLabel('Size', { exact: true });
  await size.fill('96/4');
  await size.press('Enter');
  await details.getByRole('button', { name: 'Keep' }).click();
  await until(
    'it to be kept',
    async () => (await read()).rows.media.find((m) => m.pattern === 'checker')?.values.size === 24,
  );
  await details.getByRole('combobox', { name: 'Picture' }).click();
  await page.getByRole('option', { name: 'Noise' }).click();
  await expect(details.getByLabel('Seed')).toBeVisible();
  await until(
    'it to be noise',
    async () => (await read()).rows.media.find((m) => m.kind === 'pattern')?.pattern === 'noise',
  );
  await details.getByRole('combobox', { name: 'Picture' }).click();
  await page.getByRole('option', { name: 'Text' }).click();
  await details.getByLabel('Text', { exact: true }).fill('Quay 7\nlit');
  await page.keyboard.press('Control+Enter');
  await until(
    'its text to be kept',
    async () => (await read()).rows.media.find((m) => m.pattern === 'text')?.text === 'Quay 7\nlit',
  );
  await details.getByLabel('Text', { exact: true }).fill('x'.repeat(65));
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('A text has at most 64 signs', { exact: false }).first()).toBeVisible();
  expect((await read()).rows.media.find((m) => m.pattern === 'text')?.text).toBe('Quay 7\nlit');
});

test('a view that can not be drawn says so, takes nothing along, and is loaded again', async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const other = await context.newPage();
  await other.route(/\/Routes-.*\.js/, (route) => route.abort());
  await other.goto(`${kite.address}/routes`);
  const fault = other.getByRole('alert').filter({ hasText: 'Routes could not be drawn' });
  await expect(fault).toBeVisible();
  await expect(other.getByLabel('Trace', { exact: true })).toBeVisible();
  await other.unroute(/\/Routes-.*\.js/);
  await fault.getByRole('button', { name: 'Load this window again' }).click();
  await expect(other.getByRole('button', { name: 'Add a route' })).toBeVisible();
  await context.close();
});
