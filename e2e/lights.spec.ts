import { execFileSync } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { Packet, Sender } from 'sacn';
import { created, KiteLamp, rowId, until } from './kite';

/** Pixel lights from nothing: added, patched, wired, tested and played, and read as the virtual lights are lit by packets. */
const S = 705_600_000;
const kite = new KiteLamp(4535);
let page: Page;
let rig: Page;
let show = '';
const id = (n: number) => rowId(0, n);

interface Row {
  id: string;
  name: string;
  surface: string;
  universe: number;
  channel: number;
  path: number[];
}

const rows = async (kind: string) =>
  (await kite.api<{ rows: Record<string, Row[]> }>(`shows/${show}`)).rows[kind] ?? [];
const details = () => page.getByRole('complementary', { name: 'Details' });
const button = (name: string | RegExp) =>
  page.getByRole('button', { name, ...(typeof name === 'string' ? { exact: true } : {}) });

/** What each pixel of a virtual light gives, along its wiring: linear light. */
const lit = (patch: string) =>
  rig.evaluate((of) => (window as unknown as { kiteLights: Map<string, number[][]> }).kiteLights.get(of) ?? [], patch);

test.describe.configure({ mode: 'serial' });

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Masts', frameRate: '25' })).id;
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('timeline', id(31), { name: 'Main', duration: 20 * S }),
      created('media', id(32), { name: 'Red', kind: 'solid', colour: '#ff0000', width: 16, height: 16 }),
      created('media', id(33), { name: 'White', kind: 'solid', colour: '#ffffff', width: 16, height: 16 }),
      created('layer', id(40), { timeline: id(31), name: 'Masts', order: 0 }),
      created('clip', id(50), { layer: id(40), media: id(32), start: 0, length: 5 * S }),
      created('clip', id(51), { layer: id(40), media: id(33), start: 5 * S, length: 5 * S }),
    ],
  });
  await kite.api(`shows/${show}/engage`, {});
  await until('it to be on air', async () => (await kite.live<{ show: string }>('state')).show === show);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  page = await context.newPage();
  rig = await context.newPage();
  await page.goto(`${kite.address}/venue`);
  await rig.goto(`${kite.address}/rig/lights`);
  await page.bringToFront();
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

test('four masts are added and patched from nothing', async () => {
  await button('Add ▾').click();
  await page.getByRole('menuitem', { name: 'Pixel light' }).click();
  const dialog = page.getByRole('dialog', { name: 'Pixel light' });
  await dialog.getByLabel('Name').fill('Mast');
  await dialog.getByLabel('Fixture type').selectOption('Mast 9 × 22, RGB and two whites');
  await dialog.getByLabel('Count').fill('4');
  await dialog.getByLabel('Count').press('Enter');
  await expect(dialog.getByText('9 × 22', { exact: true })).toBeVisible();
  await dialog.getByRole('button', { name: 'Add Mast' }).click();
  await expect(page.getByRole('heading', { name: 'Mast 1' })).toBeVisible();
  expect((await rows('surface')).map((s) => s.name)).toEqual(['Mast 1', 'Mast 2', 'Mast 3', 'Mast 4']);
  await page.evaluate(() =>
    (window as unknown as { kiteStudio: { go: (view: string) => void } }).kiteStudio.go('outputs'),
  );
  await page.getByRole('radio', { name: 'Pixel lights' }).click();
  await button('Add a node').click();
  await details().getByLabel('Address').fill('127.0.0.2');
  await details().getByLabel('Address').press('Enter');
  await details().getByLabel('Port').fill(String(kite.rigPorts[0]));
  await details().getByLabel('Port').press('Enter');
  await button('Patch lights…').click();
  await page.getByRole('dialog').getByRole('button', { name: 'Patch 4' }).click();
  await expect
    .poll(async () => (await rows('patch')).map((p) => [p.universe, p.channel]))
    .toEqual([
      [1, 1],
      [3, 1],
      [5, 1],
      [7, 1],
    ]);
  // 198 pixels of five channels: 102 in the first universe, with two channels left over, and 96 in the second.
  await expect(button('Mast 1 in universe 0, 1 to 510')).toBeVisible();
  await expect(button('Mast 1 in universe 1, 1 to 480')).toBeVisible();
  await button('Mast 1 in universe 0, 1 to 510').click();
  await expect(details().getByText('102 px, 2 left over')).toBeVisible();
  // The node that stands in is found by asking the network.
  await button(/^● Node 1/).click({ timeout: 20_000 });
  await expect(details().getByRole('status')).toHaveText('● Virtual node of Kite Lamp answers');
});

test('a conflict is seen and mended', async () => {
  await button('Mast 2 in universe 2, 1 to 510').click();
  await details().getByLabel('Universe').fill('1');
  await details().getByLabel('Universe').press('Enter');
  await expect(
    details().getByText('Mast 2 and Mast 1 both use 480 channels of Art-Net 1 (0:0:1), from channel 1 on.'),
  ).toBeVisible();
  await expect(button('Mast 2 in universe 1, 1 to 510')).toHaveAttribute('fill', 'var(--kl-fault)');
  await details().getByLabel('Universe').fill('2');
  await details().getByLabel('Universe').press('Enter');
  await expect(details().getByText(/both use/)).toBeHidden();
});

test('the wiring is set, drawn by hand and chased on the picture and on the light', async () => {
  const [first] = await rows('patch');
  const patch = first?.id ?? '';
  await button('Mast 1 in universe 0, 1 to 510').click();
  const board = page.getByRole('group', { name: 'Wiring of Mast 1' });
  await expect(board).toHaveAttribute('data-path', /^0 1 2 3/);
  await details().getByLabel('Start corner').click();
  await page.getByRole('option', { name: 'bottom left' }).click();
  await details().getByLabel('Along').click();
  await page.getByRole('option', { name: 'columns' }).click();
  await details().getByLabel('Serpentine', { exact: true }).click();
  // From the bottom of the first column upward: 189, 180, … 0, then down the second.
  await expect(board).toHaveAttribute('data-path', /^189 180 .* 9 0 1 10 /);
  await details().getByRole('button', { name: 'Chase' }).click();
  await expect(board.locator('[data-chase]')).toBeVisible();
  await rig.bringToFront();
  const at = async () => {
    const lights = (await lit(patch)).flatMap((colour, n) => (Math.max(...colour) > 0.5 ? [n] : []));
    return lights.length === 1 ? (lights[0] as number) : -1;
  };
  const began = await until('one pixel to be lit', async () => ((await at()) >= 0 ? { at: await at() } : null));
  await until(
    'it to run on',
    async () => (await at()) > began.at + 2 || ((await at()) >= 0 && (await at()) < began.at),
  );
  await page.bringToFront();
  await details().getByRole('button', { name: 'End the test' }).click();
  // Drawn over three pixels.
  await button('Draw the path').click();
  const box = (await board.boundingBox()) as { x: number; y: number; width: number; height: number };
  const cells = await board
    .locator('rect[rx]')
    .evaluateAll((list) =>
      [0, 1, 2]
        .map((i) => (list[i] as SVGRectElement).getBoundingClientRect())
        .map((r) => [r.x + r.width / 2, r.y + r.height / 2] as [number, number]),
    );
  expect(box.width).toBeGreaterThan(100);
  await page.mouse.move(...(cells[2] as [number, number]));
  await page.mouse.down();
  await page.mouse.move(...(cells[1] as [number, number]), { steps: 4 });
  await page.mouse.move(...(cells[0] as [number, number]), { steps: 4 });
  await page.mouse.up();
  await button('Take 3 pixels').click();
  await expect.poll(async () => (await rows('patch')).find((p) => p.id === patch)?.path).toEqual([2, 1, 0]);
  await details().getByRole('button', { name: 'By rule' }).click();
  await expect(board).toHaveAttribute('data-path', /^189 180/);
});

test('lights show what plays, in their own emitters', async () => {
  const patches = await rows('patch');
  const masts = (await rows('surface')).map((s) => s.id);
  await kite.api(`shows/${show}/aim`, { layers: [id(40)], surfaces: masts });
  await kite.live('command', { action: 'jump', time: S });
  await rig.bringToFront();
  for (const { id: patch } of patches) {
    await until('it to be red', async () => {
      const all = await lit(patch);
      return all.length === 198 && all.every(([r = 0, g = 0, b = 0]) => r > 0.99 && g < 0.01 && b < 0.01);
    });
  }
  // The board shows the same, pixel by pixel.
  await page.bringToFront();
  await button('Mast 1 in universe 0, 1 to 510').click();
  await button('Colours').click();
  const board = page.locator('canvas[data-spot]');
  await until('all of the board red', async () =>
    board.evaluate((canvas: HTMLCanvasElement) => {
      const all = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height).data ?? [];
      return (
        canvas.width === 9 &&
        canvas.height === 22 &&
        [...all].every((v, i) => (i % 4 === 0 || i % 4 === 3 ? v > 250 : v < 5))
      );
    }),
  );
  await button('Colours').click();
  // White: both whites carry it, and red, green and blue rest.
  await kite.live('command', { action: 'jump', time: 7 * S });
  const universe = async () =>
    Buffer.from(
      (await (await fetch(`${kite.address}/inputs/lights`)).json()).universes.artnet['0'] as string,
      'base64',
    );
  await until('whites to carry it', async () =>
    (await universe()).subarray(0, 5).equals(Buffer.from([0, 0, 0, 255, 255])),
  );
  // Half of its level, typed: half of both whites; then none, by hand, at once on the light.
  const level = details().getByLabel('Level');
  await level.fill('50');
  await level.press('Enter');
  await until('half of it', async () => Math.abs(((await universe())[3] ?? 0) - 128) <= 1);
  await kite.live('command', { action: 'live', values: { 'master:show/level': 0 } });
  await until('darkness', async () => (await universe()).every((v) => v === 0));
  await kite.live('command', { action: 'live', values: { 'master:show/level': null } });
});

test('a phone tests a light', async () => {
  const phone = await page.context().newPage();
  await phone.setViewportSize({ width: 390, height: 780 });
  await phone.goto(`${kite.address}/lights`);
  const [, second] = await rows('patch');
  await phone.getByLabel('Light', { exact: true }).selectOption('Mast 2');
  await phone.getByRole('button', { name: 'Red' }).click();
  await phone.getByRole('button', { name: 'Pixel after' }).click();
  await rig.bringToFront();
  await until('the second pixel alone', async () => {
    const all = await lit(second?.id ?? '');
    return (
      all.length === 198 && all.filter((c) => Math.max(...c) > 0.1).length === 1 && Math.max(...(all[1] ?? [0])) > 0.5
    );
  });
  await phone.bringToFront();
  await phone.getByRole('button', { name: 'End the test' }).click();
  await rig.bringToFront();
  await until(
    'the show again',
    async () => (await lit(second?.id ?? '')).filter((c) => Math.max(...c) > 0.5).length === 198,
  );
  await phone.close();
});

test('a light is read from a GDTF file with its wiring', async () => {
  const path = join(kite.folder, 'bar.gdtf');
  const cell = (n: number, x: number, z: number, offset: number) =>
    `<GeometryReference Name="Cell ${n}" Geometry="Cell" Position="{1,0,0,${x}}{0,1,0,0}{0,0,1,${z}}{0,0,0,1}"><Break DMXBreak="1" DMXOffset="${offset}"/></GeometryReference>`;
  const channel = (offset: number, attribute: string) =>
    `<DMXChannel DMXBreak="1" Offset="${offset}" Geometry="Cell"><LogicalChannel Attribute="${attribute}"/></DMXChannel>`;
  const description = `<GDTF DataVersion="1.2"><FixtureType Name="Quay bar"><Geometries><Geometry Name="Base">${cell(1, 0, 0, 1)}${cell(2, 0, 0.1, 4)}${cell(3, 0.1, 0.1, 7)}${cell(4, 0.1, 0, 10)}</Geometry><Beam Name="Cell"/></Geometries><DMXModes><DMXMode Name="Full" Geometry="Base"><DMXChannels>${channel(1, 'ColorAdd_G')}${channel(2, 'ColorAdd_R')}${channel(3, 'ColorAdd_B')}</DMXChannels></DMXMode></DMXModes></FixtureType></GDTF>`;
  execFileSync('php', [
    '-r',
    '$z = new ZipArchive; $z->open($argv[1], ZipArchive::CREATE); $z->addFromString("description.xml", $argv[2]); $z->close();',
    path,
    description,
  ]);
  await page.bringToFront();
  await page.evaluate(() =>
    (window as unknown as { kiteStudio: { go: (view: string) => void } }).kiteStudio.go('venue'),
  );
  await button('Add ▾').click();
  await page.getByRole('menuitem', { name: 'Pixel light' }).click();
  const dialog = page.getByRole('dialog', { name: 'Pixel light' });
  await dialog
    .getByLabel('GDTF file')
    .setInputFiles({ name: 'notes.gdtf', mimeType: 'application/zip', buffer: Buffer.from('no archive') });
  await expect(page.getByText('This is no package: it has to be a ZIP archive.')).toBeVisible();
  await dialog.getByLabel('GDTF file').setInputFiles(path);
  await expect(dialog.getByLabel('Name')).toHaveValue('Quay bar');
  await expect(dialog.getByText('green, red, blue')).toBeVisible();
  await dialog.getByRole('button', { name: 'Add Quay bar' }).click();
  await expect(page.getByRole('heading', { name: 'Quay bar' })).toBeVisible();
  const light = (await rows('surface')).find((s) => s.name === 'Quay bar');
  const told = await kite.api<{ order: number[] }>(
    `shows/${show}/patches/${(await rows('patch')).find((p) => p.surface === light?.id)?.id}`,
  );
  // Two by two: from the bottom left upward, then down on the right.
  expect(told.order).toEqual([2, 0, 1, 3]);
});

test('a lighting console drives a layer by a personality that is typed', async () => {
  await page.goto(`${kite.address}/bindings`);
  await button('Add a personality').click();
  await expect(details().getByRole('heading', { name: 'Standard' })).toBeVisible();
  await expect(details().getByText('Personality of 16 channels')).toBeVisible();
  await details().getByLabel('Name').fill('Desk');
  await details().getByLabel('Name').press('Enter');
  await details().getByLabel('Parts').fill('warp');
  await details().getByLabel('Parts').press('Enter');
  await expect(details().getByText(/"warp" is no part/)).toBeVisible();
  await details().getByLabel('Parts').fill('intensity, red, green, blue, x 16, effect, effect mix, 2 effect value');
  await details().getByLabel('Parts').press('Enter');
  await expect(details().getByRole('row', { name: '5–6 Position X 128' })).toBeVisible();
  // Sent off at once, it waits for the number that was typed.
  await page.getByLabel('Channel', { exact: true }).fill('5 + 6');
  await button('Drive').click();
  await expect(page.getByRole('row', { name: /Masts Desk sACN 1 11 nothing yet/ })).toBeVisible();
  const sender = new Sender({
    universe: 1,
    port: kite.sacnPort,
    useUnicastDestination: '127.0.0.1',
    minRefreshRate: 20,
    defaultPacketOptions: { sourceName: 'Another desk', useRawDmxValues: true },
  });
  await sender.send({ payload: { 11: 51, 12: 64, 13: 64, 14: 64, 15: 128, 17: 4, 18: 255, 19: 192 } });
  await expect(page.getByRole('row', { name: /Masts Desk sACN 1 11 ● heard/ })).toBeVisible();
  await page
    .getByRole('row', { name: /Masts Desk/ })
    .getByRole('button')
    .click();
  if (process.env.KITE_SHOT) await page.screenshot({ path: process.env.KITE_SHOT });
  await expect(details().getByRole('row', { name: '11 Intensity 51 20 %' })).toBeVisible();
  await expect(details().getByRole('row', { name: '15 Position X 32768 0 px' })).toBeVisible();
  await expect(details().getByRole('row', { name: '19 Effect 1 value 1 192 Angle 90 deg' })).toBeVisible();
  await expect(details().getByRole('row', { name: '20 Effect 1 value 2 0 unused' })).toBeVisible();
  // The effect that it calls is put on the layer by one press; what the console says of it is held there.
  await expect(details().getByText('Desk has slots for 1 effect, Masts has 0: add 1 to the layer.')).toBeVisible();
  await button('Add 1 effect to the layer').click();
  await expect(details().getByText(/has slots for/)).toBeHidden();
  const [made] = await rows('effect');
  await until('the hue to be held', async () => {
    const { stacks } = await kite.api<{ stacks: Record<string, { stratum: string; value: number }[]> }>(
      `shows/${show}/why?addresses=effect:${made?.id}/angle`,
    );
    return stacks[`effect:${made?.id}/angle`]?.some((one) => one.stratum === 'control' && one.value === 90);
  });
  sender.close();
  await expect(details().getByText('Source lost; what it said last holds')).toBeVisible();
  await details().getByLabel('Source lost').click();
  await page.getByRole('option', { name: 'Release' }).click();
  await details().getByLabel('Release after').fill('1.5');
  await details().getByLabel('Release after').press('Enter');
  await expect(page.getByRole('row', { name: /Masts Desk sACN 1 11 nothing yet/ })).toBeVisible();
});

test('a client of others reads our sACN, and our node reads theirs', async () => {
  const socket = createSocket('udp4');
  const heard: Packet[] = [];
  await new Promise<void>((done) => socket.bind(0, '127.0.0.1', done));
  socket.on('message', (bytes) => {
    // Synchronisation and lists of universes are not what it reads.
    if (bytes.readUInt32BE(18) === 4) heard.push(new Packet(bytes));
  });
  const [mast] = await rows('surface');
  await kite.api(`shows/${show}/edits`, {
    name: 'sACN',
    changes: [
      created('node', id(60), {
        name: 'Other',
        protocol: 'sacn',
        address: '127.0.0.1',
        port: socket.address().port,
        priority: 137,
        synchronised: true,
      }),
      created('patch', id(61), { surface: mast?.id, node: id(60), universe: 4000, channel: 1, channels: 'RGB' }),
    ],
  });
  // 198 pixels of three channels: 170 and 28.
  const whole = await until('both universes, lit', async () => {
    const of = (universe: number) =>
      heard.findLast((p) => p.universe === universe && Math.max(0, ...Object.values(p.payload)) > 0);
    const [one, other] = [of(4000), of(4001)];
    return one !== undefined && other !== undefined ? [one, other] : null;
  });
  expect(whole.map((p) => [p.sourceName.replace(/\0/g, ''), p.priority, p.syncUniverse])).toEqual([
    ['Kite Lamp', 137, 4000],
    ['Kite Lamp', 137, 4000],
  ]);
  expect(whole[0]?.payload[510]).toBe(100);
  expect(whole[0]?.payload[511] ?? 0).toBe(0);
  expect([whole[1]?.payload[84], whole[1]?.payload[85] ?? 0]).toEqual([100, 0]);
  // Taken away, it says so.
  await kite.api(`shows/${show}/edits`, {
    name: 'No sACN',
    changes: [{ kind: 'patch', id: id(61), op: 'delete', fields: {} }],
  });
  await until('its end', async () => heard.some((p) => p.universe === 4000 && (p.options & 0x40) !== 0));
  socket.close();
  const sender = new Sender({
    universe: 77,
    port: kite.rigPorts[1],
    useUnicastDestination: '127.0.0.3',
    defaultPacketOptions: { sourceName: 'Another', useRawDmxValues: true, priority: 90 },
  });
  await sender.send({ payload: { 1: 11, 2: 22, 512: 255 } });
  const theirs = await until(
    'theirs at our node',
    async () =>
      (await (await fetch(`${kite.address}/inputs/lights`)).json()).universes.sacn['77'] as string | undefined,
  );
  const slots = Buffer.from(theirs, 'base64');
  expect([slots.length, slots[0], slots[1], slots[511]]).toEqual([512, 11, 22, 255]);
  sender.close();
});
