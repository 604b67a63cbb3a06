import { expect, type Locator, type Page, test } from '@playwright/test';
import { KiteLamp, until } from './kite';

/** A value is typed into every number field of every details panel and dialog, with its unit, and read back after a reload of the details. */
const kite = new KiteLamp(4500);
let page: Page;
let show = '';
const FLICKS = 705_600_000;
const id = (n: number) => `01hzzzzzzzzzzzzzzzzzzzz${String(n).padStart(3, '0')}`;

const things: [string, string, Record<string, unknown>, string][] = [
  [
    'panel',
    'Tile',
    {
      widthMm: 500,
      heightMm: 500,
      widthPx: 192,
      heightPx: 192,
      kilograms: 8,
      wattsAverage: 50,
      wattsMaximum: 150,
      candela: 1200,
      jointMin: -10,
      jointMax: 10,
    },
    'venue',
  ],
  ['surface', 'Wall', { cells: [[id(0), id(0)]], seams: [2] }, 'venue'],
  ['surface', 'Flat', { kind: 'flat', material: { translucent: true } }, 'venue'],
  ['surface', 'Crate', { kind: 'box' }, 'venue'],
  ['surface', 'Drum', { kind: 'drum' }, 'venue'],
  ['surface', 'Drums', { kind: 'drums' }, 'venue'],
  ['surface', 'Dome', { kind: 'dome' }, 'venue'],
  [
    'surface',
    'Relief',
    {
      kind: 'relief',
      reliefs: [
        {
          depth: 0.4,
          points: [
            [-1, 0.5],
            [1, 0.5],
            [1, 1.5],
          ].flat(),
        },
      ],
    },
    'venue',
  ],
  ['projector', 'Beam', { position: [0, 3, 14], aims: [id(2)] }, 'venue'],
  ['camera', 'Crane', { position: [0, 2, 12] }, 'venue'],
  ['prop', 'Cart', {}, 'venue'],
  ['prop', 'Bollard', { kind: 'cylinder' }, 'venue'],
  ['rig', 'Mast', {}, 'venue'],
  ['seat', 'Row 1', { position: [0, 1.2, 9] }, 'venue'],
  ['media', 'Card', { kind: 'testcard', width: 640, height: 360 }, 'media'],
  ['timeline', 'Main', { duration: 60 * FLICKS }, 'timeline'],
  ['layer', 'Rain', { timeline: id(15), values: { mask: id(14) } }, 'timeline'],
  ['clip', 'Card', { layer: id(16), media: id(14), start: 2 * FLICKS, length: 8 * FLICKS, in: FLICKS }, 'timeline'],
  ['marker', 'Bell', { timeline: id(15), time: 3 * FLICKS }, 'timeline'],
  ['cue', 'Dusk', { timeline: id(15), time: 4 * FLICKS, number: '1' }, 'timeline'],
  ['output', 'Out', { width: 1920, height: 1080 }, 'outputs'],
  ['region', 'Wall', { output: id(20), surface: id(1), source: [0, 0, 384, 192], x: 0, y: 0 }, 'outputs'],
  ['feed', 'Rack', { output: id(20) }, 'outputs'],
  ['fixture', 'Bar', { columns: 8, rows: 2, widthMm: 800, heightMm: 100, channels: 'RGBW' }, 'venue'],
  ['surface', 'Light', { kind: 'light', shape: { fixture: id(23) } }, 'venue'],
  ['node', 'Rack node', { protocol: 'sacn', address: '127.0.0.3' }, 'outputs'],
  ['patch', 'Light', { surface: id(24), node: id(25) }, 'outputs'],
  ['personality', 'Desk', { parts: 'intensity, x 16' }, 'bindings'],
  ['control', 'Rain', { layer: id(16), personality: id(27) }, 'bindings'],
  ['mask', 'Window', { output: id(20), nodes: [0, 0, 0, 0, 0, 0, 90, 0, 0, 0, 0, 0, 90, 90, 0, 0, 0, 0] }, 'outputs'],
];

/** What may be typed where a number stands: something near it, else something that most fields take. */
function candidates(shown: string, unit: string): string[] {
  const n = Number(shown);
  if (shown.includes(':')) return ['00:00:05:00', '00:00:01:12', '30:00'];
  const near = [n + 1, n * 0.9, n - 1, n / 2, 12, 0.5, 2, 120]
    .filter((v) => v !== n && Number.isFinite(v))
    .map((v) => String(Number(v.toFixed(2))));
  // First with its unit, then in a sum, then plain.
  return [unit === '' ? `${near[0]}` : `${near[0]} ${unit}`, `${near[1]} + 0`, ...near];
}

/** Types into a field until something is taken; the value that it shows then. */
async function type(field: Locator): Promise<string> {
  const before = await field.inputValue();
  const unit = await field
    .locator('xpath=ancestor::*[contains(@class,"Input-wrapper")][1]')
    .locator('[data-position="right"]')
    .first()
    .textContent({ timeout: 200 })
    .catch(() => '');
  for (const text of candidates(before, (unit ?? '').trim())) {
    await field.fill(text);
    await field.press('Enter');
    const taken = await until(`"${text}" to be taken or refused`, async () => {
      if ((await field.getAttribute('aria-invalid')) === 'true') return 'refused';
      if ((await field.getAttribute('data-typed')) === 'true') return null;
      const now = await field.inputValue();
      return now === before ? 'refused' : now;
    });
    if (taken !== 'refused') return taken;
    await field.press('Escape');
  }
  throw new Error(`Nothing was taken by the field ${await field.getAttribute('aria-label')} that showed ${before}.`);
}

const numbers = (within: Locator) => within.locator('input[inputmode="decimal"]:not([disabled])');
const details = () => page.getByRole('complementary', { name: 'Details' });

async function choose(kind: string, name: string) {
  await page.keyboard.press('Escape');
  await page.keyboard.press('ControlOrMeta+k');
  await page.getByPlaceholder('Search actions').fill(`select ${kind} ${name}`);
  await page.getByText(`Select ${kind} ${name}`, { exact: true }).click();
}

const known = new Set<string>();
/** Fields that show what is computed of others a moment later; their figures are checked where they are worked out. */
const derived = /Radius|angle|Angle/;

test.describe.configure({ mode: 'serial' });

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Fields', frameRate: '25' })).id;
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: things.map(([kind, name, fields], n) => ({
      kind,
      id: id(n),
      op: 'create',
      fields: Object.fromEntries(
        Object.entries({ ...(['clip', 'region', 'patch', 'control'].includes(kind) ? {} : { name }), ...fields }).map(
          ([f, after]) => [f, { before: null, after }],
        ),
      ),
    })),
  });
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(`${kite.address}/venue`);
  await page.getByRole('treeitem', { name: /^Wall,/ }).waitFor();
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

for (const [n, [kind, name, , view]] of things.entries()) {
  // It is made of a text.
  if (kind === 'personality') continue;
  test(`every number of ${kind} ${name} can be typed`, async () => {
    await page.evaluate(
      ([k, i, v]) =>
        (window as unknown as { kiteStudio: { go: (view: string, what: unknown) => void } }).kiteStudio.go(
          v as string,
          { kind: k, id: i },
        ),
      [kind, id(n), view] as const,
    );
    await expect(details().getByRole('heading', { level: 2 }).first()).toBeVisible();
    const wanted = await until('its fields', async () =>
      (await numbers(details()).count()) > 0 ? await numbers(details()).count() : kind === 'rig' ? 6 : null,
    );
    const revision = (await kite.api<{ revision: number }>(`shows/${show}`)).revision;
    let typed = 0;
    for (let i = 0; i < wanted; i++) {
      const field = numbers(details()).nth(i);
      if (!(await field.isVisible())) continue;
      // What was typed into on another thing of the kind is the same field.
      const label = `${kind} ${await field.evaluate((node) => (node as HTMLInputElement).labels?.[0]?.textContent ?? '')}`;
      if (known.has(label) && typed > 0) continue;
      known.add(label);
      const taken = await type(field);
      typed++;
      // Read back: what the field shows is what is stored, also when the details are made anew.
      if (i % 4 === 0 && !derived.test(label)) {
        await page.evaluate(() =>
          (window as unknown as { kiteStudio: { select: (what: null) => void } }).kiteStudio.select(null),
        );
        await page.evaluate(
          ([k, s, v]) =>
            (window as unknown as { kiteStudio: { go: (view: string, what: unknown) => void } }).kiteStudio.go(
              v as string,
              { kind: k, id: s },
            ),
          [kind, id(n), view] as const,
        );
        await expect(numbers(details()).nth(i)).toHaveValue(taken);
      }
    }
    expect(typed).toBeGreaterThan(0);
    expect((await kite.api<{ revision: number }>(`shows/${show}`)).revision).toBeGreaterThan(revision);
  });
}

test('every number of every dialog can be typed', async () => {
  await page.evaluate(
    (surface) =>
      (window as unknown as { kiteStudio: { go: (view: string, what: unknown) => void } }).kiteStudio.go('venue', {
        kind: 'surface',
        id: surface,
      }),
    id(1),
  );
  for (const [action, steps] of [
    ['Add an LED wall…', ['', 'Specify by=size']],
    ['Copies along a line, an arc, mirrored…', ['', 'Where=arc', 'Where=mirror']],
  ] as const) {
    await page.keyboard.press('ControlOrMeta+k');
    await page.getByPlaceholder('Search actions').fill(action.replace('…', ''));
    await page.getByText(action, { exact: true }).click();
    const dialog = page.getByRole('dialog');
    await dialog.waitFor();
    for (const step of steps) {
      const [label, value] = step.split('=');
      if (label && value) await dialog.getByLabel(label).selectOption(value);
      const count = await numbers(dialog).count();
      expect(count).toBeGreaterThan(0);
      for (let i = 0; i < count; i++) {
        const taken = await type(numbers(dialog).nth(i));
        await expect(numbers(dialog).nth(i)).toHaveValue(taken);
      }
    }
    await page.keyboard.press('Escape');
    await expect(dialog).toBeHidden();
  }
});

test('a percent field says what a sign and a per cent do, and a wrong text is pointed at', async () => {
  await choose('surface', 'Flat');
  const field = details().getByLabel('Transmission', { exact: true });
  await field.fill('50');
  await field.press('Enter');
  await expect(field).toHaveValue('50');
  await field.fill('+10%');
  await expect(details().getByText('= 55 %')).toBeVisible();
  await field.press('Enter');
  await expect(field).toHaveValue('55');
  await field.fill('50% * 50%');
  await field.press('Enter');
  await expect(field).toHaveValue('25');
  await field.fill('25 furlongs');
  await field.press('Enter');
  await expect(details().getByText('"furlongs" is no unit that is known here. (at character 4)')).toBeVisible();
  await field.press('Escape');
  await expect(field).toHaveValue('25');
  // By its label: three pixels a step, to the right more; with Alt a tenth of that. One drag is one step of undo.
  const label = details().locator('.scrub', { hasText: /^Transmission$/ });
  const drag = async (by: number) => {
    const box = await label.boundingBox();
    if (box === null) throw new Error('There is no label.');
    await page.mouse.move(box.x + 5, box.y + 5);
    await page.mouse.down();
    await page.mouse.move(box.x + 5 + by / 2, box.y + 5);
    await page.mouse.move(box.x + 5 + by, box.y + 5, { steps: 3 });
    await page.mouse.up();
  };
  await field.blur();
  await drag(30);
  await expect(field).toHaveValue('35');
  await expect(field).not.toBeFocused();
  await page.keyboard.down('Alt');
  await drag(-30);
  await page.keyboard.up('Alt');
  await expect(field).toHaveValue('34');
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('35');
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('25');
  // A press on it goes into the field, as on any label.
  await label.click();
  await expect(field).toBeFocused();
  await field.fill('-=5');
  await expect(details().getByText('= 20 %')).toBeVisible();
  await field.press('Escape');
  const density = details().getByLabel('Density', { exact: true });
  await density.fill('2,5');
  await density.press('Enter');
  await expect(details().getByText(/A comma is not read here/)).toBeVisible();
});
