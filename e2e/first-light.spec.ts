import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { canvasPixels, farthest, KiteLamp, makeVideo, until } from './kite';

const S = 705_600_000;
const kite = new KiteLamp(4410);
let page: Page;
let player: Page;
let show = '';

test.describe.configure({ mode: 'serial' });

test.beforeAll(async ({ browser }) => {
  await kite.start();
  makeVideo(join(kite.folder, 'tagged.mp4'), true);
  makeVideo(join(kite.folder, 'plain.mp4'), false);
  const context = await browser.newContext();
  page = await context.newPage();
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

const rows = async () =>
  (await kite.api<{ rows: Record<string, { id: string; name: string }[]>; revision: number }>(`shows/${show}`)).rows;
const revisionNow = async () => (await kite.api<{ revision: number }>(`shows/${show}`)).revision;
const PLACES: [number, number][] = [
  [40 + 32, 20 + 64],
  [40 + 96, 20 + 32],
  [40 + 96, 20 + 96],
];

test('an empty show is begun and a wall added, by keyboard only', async () => {
  await page.goto(kite.address);
  await page.getByLabel('Name').fill('Lantern rehearsal');
  await page.keyboard.press('Enter');
  await page.getByRole('navigation').waitFor();
  const add = page.getByRole('button', { name: 'Add a wall' }).first();
  await add.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog').getByLabel('Name')).toBeFocused();
  await page.keyboard.press('ControlOrMeta+A');
  await page.keyboard.type('Bandstand');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('combobox', { name: 'Specify by' })).toBeFocused();
  await page.keyboard.press('Tab');
  const panel = page.getByRole('combobox', { name: 'Panel' });
  await expect(panel).toBeFocused();
  await page.getByRole('option', { name: 'Mesh 16 · 500 × 1000' }).waitFor({ state: 'attached' });
  await page.keyboard.type('Mesh 16');
  await expect(panel).toHaveValue('Mesh 16 · 500 × 1000');
  await page.keyboard.press('Tab');
  await page.keyboard.type('2m/500mm');
  await page.keyboard.press('Tab');
  await page.keyboard.type('2');
  await page.keyboard.press('Tab');
  await expect(page.getByText('128 × 128 px')).toBeVisible();
  const submit = page.getByRole('button', { name: 'Add Bandstand' });
  await expect(submit).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Bandstand' })).toBeVisible();
  show = (await kite.api<{ shows: { id: string }[] }>('shows')).shows[0]?.id ?? '';
  expect((await rows()).surface).toHaveLength(1);
  await expect(page.getByTestId('why')).toHaveText('No layer is routed here.');
});

test('a video is imported and made ready', async () => {
  await page.keyboard.press('Alt+2');
  await page.getByTestId('files').setInputFiles(join(kite.folder, 'tagged.mp4'));
  await expect(page.getByRole('listitem').filter({ hasText: 'tagged.mp4' }).getByText('● ready')).toBeVisible();
  await expect(page.getByRole('complementary').getByText('128 × 128')).toBeVisible();
  await page.getByRole('button', { name: /^Unused 1 · / }).click();
  await expect(page.getByRole('listitem')).toHaveCount(1);
});

test('it goes onto a layer and the wall onto an output, and the trace says what is missing', async () => {
  await page.keyboard.press('Alt+4');
  await page.getByRole('button', { name: 'Add a layer' }).first().click();
  await expect(page.getByRole('heading', { name: 'Layer 1' })).toBeVisible();
  await page.getByRole('button', { name: 'tagged.mp4' }).click();
  await expect(page.getByRole('button', { name: 'Clip tagged.mp4' })).toBeVisible();
  await expect(page.getByTestId('why')).toHaveText('Bandstand has no region on any output.');
  await page.keyboard.press('Alt+2');
  await expect(page.getByRole('button', { name: /^Unused 0 · 0\.0 MB/ })).toBeVisible();
  await page.keyboard.press('Alt+6');
  await page.getByRole('button', { name: 'Add an output' }).last().click();
  await page.getByLabel('Width').fill('1280/4');
  await page.getByLabel('Width').press('Enter');
  await page.getByLabel('Height').fill('180');
  await page.getByLabel('Height').press('Enter');
  await page.getByRole('complementary').getByRole('button', { name: 'Bandstand' }).click();
  await page.getByLabel('X', { exact: true }).first().fill('40');
  await page.getByLabel('X', { exact: true }).first().press('Enter');
  await page.getByLabel('Y', { exact: true }).first().fill('20');
  await page.getByLabel('Y', { exact: true }).first().press('Enter');
  await expect(page.getByRole('button', { name: 'Bandstand at 40, 20' })).toBeVisible();
  await expect(page.getByTestId('why')).toHaveText('The player for Output 1 is not open.');
});

test('the player shows the very pixels that the reference raster says, for tagged and untagged video', async () => {
  const output = (await rows()).output?.[0]?.id ?? '';
  player = await page.context().newPage();
  await player.setViewportSize({ width: 640, height: 360 });
  await player.goto(`${kite.address}/player/${output}`);
  await kite.live('command', { action: 'jump', time: 17 * (S / 25) });
  const compare = async (frame: number) => {
    const drawn = await until(`frame ${frame} on the player`, async () => {
      const now = await canvasPixels(player, PLACES);
      return now.report?.layers[0]?.shown === frame && now.report.layers[0].frame === frame && now;
    });
    const { time } = { time: frame * (S / 25) };
    const said = kite.reference(output, { time, pixels: PLACES });
    expect(Math.max(...(said.pixels[0] ?? []))).toBeGreaterThan(60);
    expect(
      farthest(drawn.pixels, said.pixels),
      `${JSON.stringify(drawn.pixels)} and ${JSON.stringify(said.pixels)}`,
    ).toBeLessThanOrEqual(3);
  };
  await compare(17);
  await expect(page.getByTestId('why')).toHaveText('Light gets through.');

  const { media } = await kite.upload(show, join(kite.folder, 'plain.mp4'), 'plain.mp4');
  await until(
    'the untagged video to be ready',
    async () =>
      ((await rows()).media as unknown as { id: string; state: string }[]).find((m) => m.id === media)?.state ===
      'ready',
  );
  const clip = (await rows()).clip?.[0] as unknown as { id: string; media: string };
  await kite.api(`shows/${show}/edits`, {
    name: 'Swap the clip',
    changes: [{ kind: 'clip', id: clip.id, op: 'update', fields: { media: { before: clip.media, after: media } } }],
  });
  const revision = (await kite.api<{ revision: number }>(`shows/${show}`)).revision;
  await until(
    'the new revision on the player',
    async () => (await canvasPixels(player, PLACES)).report.revision === revision,
  );
  await compare(17);
});

test('a loose value is seen at once, kept, undone, and undone again after a reload', async () => {
  const { output, layer } = await rows();
  await page.bringToFront();
  await page.keyboard.press('Alt+4');
  await page.getByRole('button', { name: /^Layer 1 ▸/ }).click();
  const field = page.getByRole('complementary').getByLabel('Opacity');
  await field.fill('100/2');
  await field.press('Enter');
  await expect(page.getByText('1 loose')).toBeVisible();
  const half = await until('the fade on the player', async () => {
    const { pixels } = await canvasPixels(player, PLACES);
    return (pixels[1]?.[0] ?? 255) < 120 && pixels;
  });
  expect(
    farthest(half, kite.reference(output?.[0]?.id ?? '', { time: 17 * (S / 25), pixels: PLACES }).pixels),
  ).toBeLessThanOrEqual(3);
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText('1 loose')).toBeHidden();
  const stored = async () =>
    (((await rows()).layer ?? [])[0] as unknown as { values: { opacity?: number } }).values.opacity ?? 1;
  expect(await stored()).toBe(0.5);
  expect(farthest((await canvasPixels(player, PLACES)).pixels, half)).toBeLessThanOrEqual(1);
  await page.reload();
  await page.getByRole('button', { name: /^Layer 1 ▸/ }).click();
  await page.getByRole('button', { name: /^Layer 1 ▸/ }).focus();
  await page.keyboard.press('ControlOrMeta+z');
  await until('the stored value to be back', async () => (await stored()) === 1);
  await until('full light on the player', async () => ((await canvasPixels(player, PLACES)).pixels[1]?.[0] ?? 0) > 190);
  await page.keyboard.press('ControlOrMeta+Shift+z');
  await until('the change to be there again', async () => (await stored()) === 0.5);
  await page.keyboard.press('ControlOrMeta+z');
  await until('and gone', async () => (await stored()) === 1);
  expect(layer).toHaveLength(1);
});

test('a clip is moved by dragging and a keyframe made by a double-click', async () => {
  const clip = page.getByRole('button', { name: /^Clip / });
  const start = async () => (((await rows()).clip ?? [])[0] as unknown as { start: number }).start;
  const box = (await clip.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
  // Escape stops a drag: the clip is where it was, and letting go changes nothing more.
  const revision = await revisionNow();
  await page.mouse.move(box.x + box.width / 2, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 90, box.y + 12, { steps: 4 });
  await expect.poll(async () => (await clip.boundingBox())?.x).not.toBe(box.x);
  await page.keyboard.press('Escape');
  await expect.poll(async () => (await clip.boundingBox())?.x).toBe(box.x);
  await page.mouse.up();
  expect(await revisionNow()).toBe(revision);
  await page.mouse.move(box.x + box.width / 2, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 60, box.y + 12, { steps: 4 });
  await page.mouse.up();
  await until('the clip to have moved', async () => (await start()) > 0);
  expect((await start()) % (S / 25)).toBe(0);
  await page.getByRole('button', { name: /^Layer 1 ▸/ }).click();
  await page
    .locator('.tl-curve')
    .first()
    .dblclick({ position: { x: 80, y: 30 } });
  await expect(page.getByRole('button', { name: /^Opacity .* %$/ })).toBeVisible();
  expect((await rows()).curve).toHaveLength(1);
  await page.keyboard.press('ControlOrMeta+z');
  await page.keyboard.press('ControlOrMeta+z');
  await until('both to be undone', async () => (await start()) === 0 && (await rows()).curve?.length === 0);
});
