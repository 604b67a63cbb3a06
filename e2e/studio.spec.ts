import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page, type Route, test } from '@playwright/test';
import { KiteLamp, until } from './kite';

const kite = new KiteLamp(4440);
let page: Page;

test.describe.configure({ mode: 'serial' });

test.beforeAll(async ({ browser }) => {
  kite.prepare('kite:big', '12', '40', '1000', '20', '--engage');
  await kite.start();
  page = await (await browser.newContext()).newPage();
  await page.goto(`${kite.address}/venue`);
  await page.getByRole('heading', { name: 'The long quay' }).waitFor();
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

test('no view has a serious fault for those who use it by ear or key, in Dusk or in Paper', async () => {
  const titles = ['Venue', 'Media', 'Routes', 'Timeline', 'Outputs', 'Bindings', 'Run'];
  for (const scheme of ['light', 'dark']) {
    await page.evaluate((detail) => document.dispatchEvent(new CustomEvent('kite-theme', { detail })), scheme);
    for (const [i, title] of titles.entries()) {
      // Paper has the same shapes; the views with the most colours stand for all.
      if (scheme === 'light' && !['Media', 'Timeline', 'Run'].includes(title)) continue;
      await page.keyboard.press(`Alt+${i + 1}`);
      await page.getByRole('main', { name: title }).waitFor();
      const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa']).analyze();
      const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
      expect(serious.map((v) => `${title} in ${scheme}: ${v.id} at ${v.nodes[0]?.html}`)).toEqual([]);
    }
  }
});

test('a timeline of a thousand clips holds only those that are seen', async () => {
  await page.keyboard.press('Alt+4');
  await page.getByRole('button', { name: 'Zoom in' }).click();
  await expect(page.locator('.tl-clip').first()).toBeVisible();
  const body = page.locator('.tl-body');
  for (const [x, y] of [
    [0, 0],
    [3000, 900],
    [12_000, 400],
  ] as const) {
    await body.evaluate((node, to) => node.scrollTo(to[0] as number, to[1] as number), [x, y]);
    await expect.poll(() => page.locator('.tl-clip').count()).toBeLessThan(450);
  }
});

test('every action is found by its name, and keys are shown', async () => {
  await page.keyboard.press('ControlOrMeta+k');
  await page.getByPlaceholder('What shall be done?').fill('select output output 7');
  await page.getByText('Select output Output 7').click();
  await expect(page.getByRole('heading', { name: 'Output 7', exact: true })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByText('no snapping').first()).toBeVisible();
  await page.keyboard.press('Escape');
});

test('when two people change one value, the second is asked for theirs or mine', async () => {
  const output = (await kite.api<{ shows: { id: string }[] }>('shows')).shows[0]?.id ?? '';
  const rows = async () => (await kite.api<{ rows: { output: { id: string; name: string; refresh: number }[] } }>(`shows/${output}`)).rows.output;
  const row = (await rows()).find((o) => o.name === 'Output 7');
  expect(row).toBeDefined();
  // Their change comes in the very moment between what this window has and what it sends.
  const theirs = async (route: Route) => {
    await kite.api(`shows/${output}/edits`, { name: 'Theirs', changes: [{ kind: 'output', id: row?.id, op: 'update', fields: { refresh: { before: row?.refresh ?? 0, after: 24 } } }] });
    await route.continue();
  };
  await page.route('**/edits', theirs, { times: 1 });
  const field = page.getByRole('complementary').getByLabel('Refresh');
  await field.fill('30*2 + 5');
  await field.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Somebody else changed this' });
  await expect(dialog.getByRole('cell', { name: '24' })).toBeVisible();
  await expect(dialog.getByRole('cell', { name: '65' })).toBeVisible();
  await dialog.getByRole('button', { name: 'Use mine' }).click();
  await until('mine to be written over theirs', async () => (await rows()).find((o) => o.name === 'Output 7')?.refresh === 65);
  await expect(dialog).toBeHidden();
});
