import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page, type Route, test } from '@playwright/test';
import { created, KiteLamp, rowId, until } from './kite';

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
  const titles = ['Venue', 'Media', 'Routes', 'Timeline', 'Cues', 'Outputs', 'Bindings', 'Run'];
  for (const scheme of ['light', 'dark']) {
    await page.evaluate((detail) => document.dispatchEvent(new CustomEvent('kite-theme', { detail })), scheme);
    for (const [i, title] of titles.entries()) {
      // Paper has the same shapes; the views with the most colours stand for all.
      if (scheme === 'light' && !['Media', 'Timeline', 'Cues', 'Run'].includes(title)) continue;
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
  await page.getByPlaceholder('Search actions').fill('select output output 7');
  await page.getByText('Select output Output 7').click();
  await expect(page.getByRole('heading', { name: 'Output 7', exact: true })).toBeVisible();
  await expect(page.getByPlaceholder('Search actions')).toBeHidden();
  await page.keyboard.press('?');
  const keys = page.getByRole('dialog', { name: 'Shortcuts' });
  await expect(keys.getByText('no snapping').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(keys).toBeHidden();
});

test('when two people change one value, the second is asked for theirs or mine', async () => {
  const output = (await kite.api<{ shows: { id: string }[] }>('shows')).shows[0]?.id ?? '';
  const rows = async () =>
    (
      await kite.api<{
        rows: {
          output: {
            id: string;
            name: string;
            refresh: number;
            streamsLimit: number;
            decodeLimit: number;
            readLimit: number;
            memoryLimit: number;
          }[];
        };
      }>(`shows/${output}`)
    ).rows.output;
  const row = (await rows()).find((o) => o.name === 'Output 7');
  expect(row).toBeDefined();
  // Their change comes in the very moment between what this window has and what it sends.
  const theirs = async (route: Route) => {
    await kite.api(`shows/${output}/edits`, {
      name: 'Theirs',
      changes: [
        { kind: 'output', id: row?.id, op: 'update', fields: { refresh: { before: row?.refresh ?? 0, after: 24 } } },
      ],
    });
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
  await until(
    'mine to be written over theirs',
    async () => (await rows()).find((o) => o.name === 'Output 7')?.refresh === 65,
  );
  await expect(dialog).toBeHidden();
  // What its machine can take is typed, too.
  for (const [label, text] of [
    ['Concurrent videos', '1+1'],
    ['Decoded Mpx/s', '2*200'],
    ['Read MB/s', '50.5'],
    ['Memory MB', '512'],
  ] as const) {
    await page.getByRole('complementary').getByLabel(label, { exact: true }).fill(text);
    await page.keyboard.press('Enter');
  }
  await until('the limits to be kept', async () => {
    const kept = (await rows()).find((o) => o.name === 'Output 7');
    return kept?.streamsLimit === 2 && kept.decodeLimit === 400 && kept.readLimit === 50.5 && kept.memoryLimit === 512;
  });
});

test('a show that is not on air is looked at with a transport of its own, and put on air by one press', async () => {
  kite.artisan('kite:big', '3', '4', '20', '4');
  const shows = async () =>
    (await kite.api<{ shows: { id: string; name: string; engaged: boolean }[] }>('shows')).shows;
  const other = (await shows()).find((s) => !s.engaged)?.id ?? '';
  const air = async () =>
    kite.live<{ show: string; decks: Record<string, { running: boolean; position: number }> }>('state');
  const before = await air();
  await page.reload();
  await page.getByTestId('clock').first().waitFor();
  await page.keyboard.press('ControlOrMeta+k');
  await page.getByPlaceholder('Search actions').fill('open the show');
  await page.getByText('Open the show The long quay').click();
  await expect(page.getByText('is only looked at, in this window.')).toBeVisible();
  // Which show it is stands in the frame and in the address: read again, it is the same, not the one on air.
  const mark = page.getByRole('button', { name: 'Show The long quay' });
  await expect(mark).toContainText('▲ not on air');
  expect(new URL(page.url()).searchParams.get('show')).toBe(other);
  await page.reload();
  await expect(mark).toContainText('▲ not on air');
  await page.keyboard.press('Alt+2');
  expect(new URL(page.url()).searchParams.get('show')).toBe(other);
  await page.goBack();
  await expect(mark).toBeVisible();
  await page.keyboard.press('Alt+1');
  const clock = page.getByTestId('clock').first();
  await expect(clock).toHaveText('00:00:00:00');
  await page.getByRole('contentinfo').getByRole('button', { name: 'Play' }).click();
  await expect(clock).not.toHaveText('00:00:00:00');
  await until(
    'its picture in the venue',
    async () =>
      ((await page.evaluate(() => (window as unknown as { kiteStage?: { composed: number } }).kiteStage?.composed)) ??
        0) > 3,
  );
  await expect(page.getByTestId('why')).toHaveText(/not on air/);
  const after = await air();
  expect([after.show, Object.values(after.decks)[0]]).toEqual([before.show, Object.values(before.decks)[0]]);
  await page.getByRole('button', { name: 'Put this show on air instead' }).click();
  const asks = page.getByRole('dialog', { name: 'Put this show on air' });
  await expect(asks).toContainText('goes off air');
  await asks.getByRole('button', { name: 'Cancel' }).click();
  expect((await air()).show).toBe(before.show);
  await mark.click();
  await page.getByRole('menuitem', { name: 'Put this show on air' }).click();
  await asks.getByRole('button', { name: 'Put on air' }).click();
  await until('it on air', async () => (await air()).show === other);
  await expect(page.getByText('is only looked at, in this window.')).toBeHidden();
  await expect(mark).toContainText('● on air');
  // It stands at its beginning there, whatever it was looked at.
  expect(Object.values((await air()).decks)[0]).toMatchObject({ running: false, position: 0 });
});

test('a show is copied from its menu, and the copy is what is open then', async () => {
  await page.getByRole('button', { name: 'Show The long quay' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  const copy = page.getByRole('button', { name: 'Show The long quay copy' });
  await expect(copy).toContainText('▲ not on air');
  await copy.click();
  await page.getByRole('menuitem', { name: /^The long quay ● on air$/ }).click();
  await expect(page.getByRole('button', { name: 'Show The long quay', exact: true })).toContainText('● on air');
});

test('no text is cut off without a word at 1280 × 800, in any view', async () => {
  const id = (n: number) => rowId(7, n);
  const own = (await kite.api<{ id: string }>('shows', { name: 'Saltgate Harbour · Lantern Night', frameRate: '25' }))
    .id;
  const surfaces = ['Custom house front', 'Bandstand wall', 'Presenter wall, upper', 'Signal tower'];
  const outputs = ['Custom house middle', 'Bandstand, standby', 'Signal tower, from behind'];
  const second = 705_600_000;
  await kite.api(`shows/${own}/edits`, {
    name: 'Lay out',
    changes: [
      ...surfaces.map((name, n) =>
        created('surface', id(n), {
          name,
          kind: 'flat',
          position: [9 * n, 0, -4],
          shape: { width: 8, height: 5, pixelsPerMetre: 120 },
        }),
      ),
      created('projector', id(10), { name: 'Custom house middle', position: [0, 3, 12], aims: [id(0)] }),
      created('camera', id(11), { name: 'Crane over the quay', position: [0, 3, 12] }),
      created('timeline', id(12), { name: 'Lantern Night', duration: 360 * second }),
      created('media', id(13), { name: 'harbour dusk over the quay', kind: 'testcard', width: 1920, height: 1080 }),
      ...surfaces.flatMap((name, n) => [
        created('layer', id(20 + n), { timeline: id(12), name: `${name}, ground`, order: n, route: id(30 + n) }),
        created('route', id(30 + n), { layer: id(20 + n), surfaces: [id(n), id((n + 1) % 4), id((n + 2) % 4)] }),
        created('clip', id(40 + n), { layer: id(20 + n), media: id(13), start: 0, length: 60 * second }),
      ]),
      ...outputs.map((name, n) => created('output', id(50 + n), { name, width: 3840, height: 2160, refresh: 59.94 })),
      ...surfaces.map((_, n) =>
        created('region', id(60 + n), { output: id(50), surface: id(n), source: [0, 0, 576, 600], x: 700 * n, y: 800 }),
      ),
      created('feed', id(70), { output: id(50), name: 'Processor rack, quay side', role: 'led' }),
      ...['Dusk over the harbour', 'Only the tower and the house', 'All lanterns out'].map((name, n) =>
        created('cue', id(80 + n), {
          number: `${n + 1}`,
          name,
          note: n === 1 ? 'applause, then wait' : '',
          ...(n === 0 ? {} : { timeline: id(12), time: 48 * n * second, holds: true }),
          held: [{ a: `layer:${id(20)}/opacity`, v: 1 }],
          fade: 2 * second,
        }),
      ),
      created('device', id(90), { name: 'Fader box of the quay', protocol: 'osc' }),
    ],
  });
  await page.goto(`${kite.address}/venue?show=${own}`);
  await page.getByRole('heading', { name: 'Saltgate Harbour · Lantern Night' }).waitFor();
  const at: Record<string, [string, string][]> = {
    venue: [
      ['surface', id(0)],
      ['projector', id(10)],
      ['camera', id(11)],
    ],
    media: [['media', id(13)]],
    routes: [['route', id(30)]],
    timeline: [
      ['layer', id(20)],
      ['clip', id(40)],
    ],
    cues: [['cue', id(81)]],
    outputs: [
      ['output', id(50)],
      ['region', id(61)],
      ['feed', id(70)],
    ],
    bindings: [['device', id(90)]],
    run: [],
  };
  for (const [view, things] of Object.entries(at))
    for (const [kind, row] of [['', ''], ...things]) {
      await page.evaluate(
        ([v, k, r]) =>
          (window as unknown as { kiteStudio: { go: (view: string, what: unknown) => void } }).kiteStudio.go(
            v as string,
            k === '' ? null : { kind: k, id: r },
          ),
        [view, kind, row],
      );
      await page.getByRole('main', { name: view[0]?.toUpperCase() + view.slice(1) }).waitFor();
      await expect
        .configure({ soft: true })
        .poll(() => page.evaluate(cutOff), { message: `${view} ${kind}`, timeout: 5000 })
        .toEqual([]);
    }
});

/** Texts that are wider than their boxes, or reach past what clips them, and are not told on pointing either. */
function cutOff(): string[] {
  const found: string[] = [];
  for (const node of document.querySelectorAll<HTMLElement>('body *')) {
    const style = getComputedStyle(node);
    // A clip is as long as its time, a ruler ends where the view does; what is typed may be longer than its field.
    if (node.closest('svg, .tl-clip, .tl-ruler, [title], input') !== null || node.offsetParent === null) continue;
    if (![...node.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.textContent?.trim() !== '')) continue;
    const text = node.textContent?.trim().slice(0, 40);
    if (node.scrollWidth > node.clientWidth + 1 && node.clientWidth > 0 && style.overflowX !== 'visible')
      found.push(`"${text}" is ${node.scrollWidth} wide in ${node.clientWidth}`);
    const box = node.getBoundingClientRect();
    for (let up = node.parentElement; up !== null; up = up.parentElement) {
      const { overflowX } = getComputedStyle(up);
      if (overflowX === 'auto' || overflowX === 'scroll') break;
      if (overflowX !== 'hidden' && overflowX !== 'clip') continue;
      const room = up.getBoundingClientRect();
      if (box.width > 0 && box.right > room.right + 1 && box.left < room.right)
        found.push(`"${text}" reaches ${Math.round(box.right - room.right)} px past what clips it`);
      break;
    }
  }
  return found;
}

test('a timeline that is full to its edges holds what is seen and no more', async () => {
  kite.artisan('kite:big', '2', '60', '3000', '4', '--engage');
  await page.goto(`${kite.address}/timeline`);
  await expect(page.locator('.tl-clip').first()).toBeVisible();
  for (let i = 0; i < 10; i++) await page.getByRole('button', { name: 'Zoom in' }).click();
  // Sixty layers of fifty clips of six seconds, end to end: where one looks there is a clip on every layer.
  const layers = await page.locator('.tl-layer').count();
  const clips = await page.locator('.tl-clip').count();
  expect(layers).toBeGreaterThan(8);
  expect(layers).toBeLessThan(30);
  expect(clips).toBeGreaterThan(layers);
  expect(clips).toBeLessThan(layers * 20);
});
