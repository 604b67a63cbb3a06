import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { KiteLamp, until } from './kite';

/** Files on their way in: held, gone on with, also after the page was opened anew. Parts of 64 kB. */
test.describe.configure({ mode: 'serial' });

const kite = new KiteLamp(4390, undefined, { KITE_LARGEST_CHUNK: '65536' });
let page: Page;
let show = '';
/** Where each part begins that the page sends; while `open` is 0, parts wait. */
let sent: number[] = [];
let open = Number.POSITIVE_INFINITY;

/** A sound of nine seconds: the same number of bytes at every pitch. */
const sound = (name: string, pitch: number) => {
  const path = join(kite.folder, name);
  execFileSync('ffmpeg', ['-y', '-v', 'error', '-f', 'lavfi', '-i', `sine=f=${pitch}:r=48000:d=9`, path]);
  return path;
};
const sha = (path: string) => execFileSync('sha256sum', [path], { encoding: 'utf8' }).slice(0, 64);
const media = async () =>
  (await kite.api<{ rows: { media: { name: string; file: string; state: string }[] } }>(`shows/${show}`)).rows.media;
const importFile = (path: string) => page.getByTestId('files').setInputFiles(path);
const row = (name: string) => page.getByLabel('Uploads').locator('> div').filter({ hasText: name });

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Tide', frameRate: '25' })).id;
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.route(/\/api\/uploads\/.*at=/, async (route) => {
    if (route.request().method() !== 'PUT') return route.continue();
    const at = Number(new URL(route.request().url()).searchParams.get('at'));
    await until('the way to be open', async () => open > 0 || page.isClosed(), 60);
    open--;
    sent.push(at);
    await route.continue().catch(() => undefined);
  });
  await page.goto(`${kite.address}/media`);
  await page.getByText('Nothing to show yet').waitFor();
});
test.afterAll(async () => {
  open = Number.POSITIVE_INFINITY;
  await page.context().close();
  await kite.stop();
});

test('an upload is held and goes on where it was', async () => {
  const path = sound('bell.wav', 440);
  expect(readFileSync(path).length).toBeGreaterThan(12 * 65_536);
  open = 4;
  await importFile(path);
  await expect(row('bell.wav')).toContainText('0.3 MB of 0.9 MB');
  await row('bell.wav').getByRole('button', { name: 'Pause' }).click();
  // The part that is on its way arrives; no other follows.
  open = 1;
  await expect.poll(() => sent.length).toBe(5);
  await expect(row('bell.wav').getByRole('button', { name: 'Resume' })).toBeVisible();
  open = Number.POSITIVE_INFINITY;
  expect(await media()).toEqual([]);
  await row('bell.wav').getByRole('button', { name: 'Resume' }).click();
  await expect(row('bell.wav')).toContainText('imported');
  expect(sent.slice(0, 6)).toEqual([0, 1, 2, 3, 4, 5].map((n) => n * 65_536));
  expect(new Set(sent).size).toBe(sent.length);
  await expect.poll(async () => (await media()).map((m) => [m.name, m.file])).toEqual([['bell.wav', sha(path)]]);
});

test('after the page was opened anew, the same file goes on where it was, and another of its name begins anew', async () => {
  const path = sound('tide.wav', 220);
  sent = [];
  open = 5;
  await importFile(path);
  await expect(row('tide.wav')).toContainText('0.3 MB of 0.9 MB');
  await page.reload();
  open = Number.POSITIVE_INFINITY;
  await expect(row('tide.wav')).toContainText('Import the same file again to go on.');
  const there = Math.max(...sent) + 65_536;
  sent = [];
  // Another sound of the same name and size.
  const other = join(kite.folder, 'other', 'tide.wav');
  execFileSync('mkdir', ['-p', join(kite.folder, 'other')]);
  execFileSync('cp', [sound('other.wav', 330), other]);
  expect(readFileSync(other).length).toBe(readFileSync(path).length);
  await importFile(other);
  await expect.poll(async () => (await media()).map((m) => m.file)).toContain(sha(other));
  expect(sent[0]).toBe(0);
  sent = [];
  await importFile(path);
  await expect.poll(async () => (await media()).map((m) => m.file)).toContain(sha(path));
  expect(sent[0]).toBeLessThanOrEqual(there);
  expect(sent[0]).toBeGreaterThan(0);
  expect(await media()).toHaveLength(3);
});

test('one that was begun and is not wanted any more is discarded', async () => {
  sent = [];
  open = 2;
  await importFile(sound('gull.wav', 880));
  await expect(row('gull.wav')).toContainText('0.1 MB of 0.9 MB');
  await page.reload();
  open = Number.POSITIVE_INFINITY;
  await row('gull.wav').getByRole('button', { name: 'Discard' }).click();
  await until(
    'nothing to be left of it',
    async () => (await kite.api<{ uploads: unknown[] }>(`shows/${show}/uploads`)).uploads.length === 0,
  );
  await expect(row('gull.wav')).toContainText('Stopped.');
  await page.getByRole('button', { name: 'Clear this list' }).click();
  await expect(page.getByLabel('Uploads')).toHaveCount(0);
});

test('media are found by their numbers, and their list is a table', async () => {
  await page.getByLabel('Search media').fill('1.002');
  await expect(page.getByRole('listitem')).toHaveCount(1);
  await page.getByLabel('Search media').fill('');
  await expect(page.getByRole('listitem')).toHaveCount(3);
  await page.getByRole('button', { name: 'bell.wav', exact: true }).click();
  const index = page.getByRole('complementary').getByLabel('Index');
  await index.fill('2');
  await index.press('Enter');
  await expect(page.getByText(/Folder 1, index 2 is bell.wav and tide.wav at once/).first()).toBeVisible();
  await index.press('Escape');
  await index.fill('40');
  await index.press('Enter');
  await expect(page.getByText('1.040')).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'CSV' }).click(),
  ]);
  expect(readFileSync(await download.path(), 'utf8')).toContain('1,40,bell.wav,');
});

test('what no clip uses is taken out at one press, and comes back', async () => {
  const before = (await media()).map((m) => m.file).sort();
  await page.getByRole('button', { name: /^Unused 3 · 2\.6 MB/ }).click();
  await page.getByRole('button', { name: 'Remove 3' }).click();
  await expect.poll(media).toEqual([]);
  await page.keyboard.press('ControlOrMeta+z');
  await expect.poll(async () => (await media()).map((m) => m.file).sort()).toEqual(before);
});

test('a file takes another one’s place: what would not fit is said first, and the one before is a press away', async () => {
  const path = sound('bell.wav', 880);
  const [old, next] = [(await media()).find((m) => m.name === 'bell.wav')?.file, sha(path)];
  await importFile(path);
  await until(
    'both to be ready',
    async () => (await media()).filter((m) => m.name === 'bell.wav' && m.state === 'ready').length === 2,
  );
  await expect(row('bell.wav')).toContainText('can be its new version');
  await page.getByText('1.040').click();
  const details = page.getByRole('complementary');
  await details.getByRole('combobox', { name: 'New version' }).click();
  await page.getByRole('option', { name: 'bell.wav', exact: true }).click();
  await expect(details.getByLabel('What no longer fits')).toContainText('Fits wherever it is used.');
  await details.getByRole('button', { name: 'Use as new version' }).click();
  await expect
    .poll(async () => (await media()).filter((m) => m.name === 'bell.wav').map((m) => m.file))
    .toEqual([next]);
  await details.getByRole('button', { name: 'Back to the one before' }).click();
  await expect.poll(async () => (await media()).filter((m) => m.name === 'bell.wav').map((m) => m.file)).toEqual([old]);
});

test('a folder of numbered stills becomes one video, of which any frame is found', async () => {
  const folder = join(kite.folder, 'gulls');
  execFileSync('mkdir', ['-p', folder]);
  for (let n = 1; n <= 12; n++)
    execFileSync('ffmpeg', [
      '-y',
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      `color=0x${(20 * n).toString(16).padStart(2, '0')}0000:s=64x36`,
      '-frames:v',
      '1',
      join(folder, `gull_${n}.png`),
    ]);
  await page.getByTestId('folder').setInputFiles(folder);
  await until('the sequence to be ready', async () =>
    (await media()).some((m) => m.name === 'gull_[1-12].png' && m.state === 'ready'),
  );
  await page.getByLabel('Search media').fill('sequence fps=25 width<100');
  await expect(page.getByRole('listitem')).toHaveCount(1);
  await page.getByRole('button', { name: 'gull_[1-12].png' }).click();
  const preview = page.getByLabel('Preview of gull_[1-12].png');
  const red = () =>
    preview
      .locator('canvas')
      .first()
      .evaluate((c: HTMLCanvasElement) => [
        Number(c.dataset.frame),
        c.getContext('2d')?.getImageData(32, 18, 1, 1).data[0] ?? 0,
      ]);
  await expect.poll(red).toEqual([0, expect.closeTo(20, -1)]);
  await preview.getByLabel('Frame', { exact: true }).focus();
  await page.keyboard.press('End');
  await expect.poll(red).toEqual([11, expect.closeTo(240, -1)]);
  await preview.getByLabel('One frame back').click();
  await expect.poll(red).toEqual([10, expect.closeTo(220, -1)]);
  await page.getByText('Log', { exact: true }).click();
  await expect(page.getByRole('complementary')).toContainText('12 frames at 25 fps');
  await page.getByLabel('Search media').fill('');
});

test('a sound is seen as its outline, and media as tiles', async () => {
  await page.getByRole('button', { name: 'bell.wav', exact: true }).first().click();
  await expect(page.getByRole('complementary').getByRole('img', { name: 'Waveform' })).toHaveAttribute(
    'data-drawn',
    'yes',
  );
  await page.getByRole('button', { name: 'Grid' }).click();
  const tiles = page.locator('.media-tile');
  await expect(tiles).toHaveCount((await media()).length);
  expect((await tiles.nth(1).boundingBox())?.y).toBe((await tiles.nth(0).boundingBox())?.y);
  await page.getByRole('button', { name: 'Grid' }).click();
  await expect(tiles).toHaveCount(0);
});

test('what is missing is found in a folder by its size, whatever it is called there', async () => {
  const lost = (await media()).find((m) => m.name === 'bell.wav') as { file: string };
  const folder = join(kite.folder, 'disk');
  execFileSync('mkdir', ['-p', folder]);
  execFileSync('cp', [join(kite.folder, 'media/originals', lost.file), join(folder, 'moved.wav')]);
  execFileSync('sh', [
    '-c',
    `rm '${kite.folder}/media/originals/${lost.file}' '${kite.folder}'/media/forms/${lost.file}.*; echo x >> '${kite.folder}/run/swept'`,
  ]);
  await until('it to be missing', async () => (await media()).some((m) => m.state === 'missing'), 60);
  await page.getByRole('button', { name: 'Find 1 missing' }).waitFor();
  await page.getByTestId('looking').setInputFiles(folder);
  await until('it to be here again', async () => (await media()).every((m) => m.state === 'ready'), 60);
  await expect(page.getByRole('button', { name: /Find \d+ missing/ })).toHaveCount(0);
});

test('where it all is, and how much disk it takes, is told', async () => {
  await page.getByRole('button', { name: 'Storage' }).click();
  const storage = page.getByRole('dialog', { name: 'Storage' });
  await expect(storage).toContainText(`${kite.folder}/media`);
  await expect(storage).toContainText(/Files as they came\s*3\.5 MB · 5 files/);
  await expect(storage).toContainText('No pending or failed jobs.');
  await page.keyboard.press('Escape');
  await expect(storage).toHaveCount(0);
});
