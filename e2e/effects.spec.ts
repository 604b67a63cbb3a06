import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { effects } from '../resources/js/api/kinds';
import { created, KiteLamp, rowId, until, wholeCanvas } from './kite';

const S = 705_600_000;
const kite = new KiteLamp(4490);
const output = rowId(0, 5);
const effect = rowId(0, 8);
let show: string;
let page: Page;

const change = (name: string, before: unknown, after: unknown, id = effect) =>
  kite.api(`shows/${show}/edits`, {
    name: 'Change',
    changes: [{ kind: 'effect', id, op: 'update', fields: { [name]: { before, after } } }],
  });

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Effects', frameRate: '25' })).id;
  const path = join(kite.folder, 'coast.png');
  // Soft everywhere, with one edge and a clear corner; larger than the wall.
  execFileSync('ffmpeg', [
    '-y',
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    "nullsrc=s=150x100,format=rgba,geq=r='127+120*sin(X/19)':g='if(lt(X,90),200,40+Y)':b='127+100*sin((X+2*Y)/23)':a='255*clip((X+Y-20)/40,0,1)'",
    '-frames:v',
    '1',
    path,
  ]);
  const { hash } = await kite.upload(show, path, 'coast.png');
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('panel', rowId(0, 1), { name: 'P', widthMm: 500, heightMm: 500, widthPx: 96, heightPx: 64 }),
      created('timeline', rowId(0, 2), { name: 'Main', duration: 60 * S }),
      created('media', rowId(0, 3), { name: 'Coast', kind: 'file', file: hash }),
      created('surface', rowId(0, 4), {
        name: 'Wall',
        cells: [[rowId(0, 1)]],
        seams: [],
        position: [0, 0, 0],
        rotation: [0, 0, 0],
      }),
      created('output', output, { name: 'Output', width: 96, height: 64 }),
      created('region', rowId(0, 6), { output, surface: rowId(0, 4), source: [0, 0, 96, 64], x: 0, y: 0 }),
      created('layer', rowId(0, 7), {
        timeline: rowId(0, 2),
        name: 'Sea',
        order: 0,
        route: rowId(0, 9),
        fitting: 'stretch',
      }),
      created('route', rowId(0, 9), { layer: rowId(0, 7), surfaces: [rowId(0, 4)] }),
      created('clip', rowId(0, 10), { layer: rowId(0, 7), media: rowId(0, 3), start: 0, length: 60 * S }),
      created('effect', effect, { layer: rowId(0, 7), values: {} }),
    ],
  });
  await until('the still to be ready', async () =>
    (await kite.api<{ rows: { media: { state: string }[] } }>(`shows/${show}`)).rows.media.every(
      (m) => m.state === 'ready',
    ),
  );
  await kite.api(`shows/${show}/engage`, {});
  await until('it to be on air', async () => (await kite.live<{ show: string }>('state')).show === show);
  await kite.live('command', { action: 'jump', time: 1.24 * S });
  page = await (await browser.newContext({ viewport: { width: 640, height: 360 } })).newPage();
  await page.goto(`${kite.address}/player/${output}`);
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

/** What the player shows, red, green and blue from the top. */
const drawn = async () => (await wholeCanvas(page)).rgb;

/** How many of the pictures' numbers are more than two steps of eight bits apart, of a thousand, and how far in the mean. */
function apart(a: readonly number[], b: readonly number[]) {
  let [far, sum] = [0, 0];
  for (let i = 0; i < b.length; i++) {
    const off = Math.abs((a[i] as number) - (b[i] as number));
    sum += off;
    if (off > 2) far++;
  }
  return { far: (1000 * far) / b.length, mean: sum / b.length };
}

const wanted = async () => [
  ...Buffer.from((await kite.referenceLater(output, { time: 1.24 * S, whole: true })).whole, 'base64'),
];

test('each effect is drawn by players as the core draws it', async () => {
  test.setTimeout(240_000);
  const plain = await wanted();
  let before: unknown = null;
  const said: string[] = [];
  for (const [name, { values, presets }] of Object.entries(effects)) {
    await change('values.effect', before, name);
    before = name;
    const preset = Object.values(presets).at(-1) ?? {};
    for (const value of values)
      await change(
        `values.${value}`,
        (await kite.api<{ rows: { effect: { values: Record<string, unknown> }[] } }>(`shows/${show}`)).rows.effect[0]
          ?.values[value] ?? null,
        preset[value],
      );
    const core = await wanted();
    // What is cut hard, in steps or in cells, may fall either way where it lies on the middle of a pixel.
    const hard = ['posterize', 'mosaic', 'halftone', 'grain', 'threshold', 'kaleidoscope'].includes(name);
    let found = { far: 1000, mean: 255 };
    try {
      await until(
        name,
        async () => {
          found = apart(await drawn(), core);
          return found.far <= (hard ? 20 : 2) && found.mean < 1;
        },
        6,
      );
    } catch {
      said.push(`${name}: ${found.far.toFixed(1)} of 1,000 numbers differ, ${found.mean.toFixed(2)} in the mean`);
    }
    // It is another picture than without it.
    if (name !== 'strobe' && apart(core, plain).mean < 0.5) said.push(`${name} changes nothing`);
  }
  expect(said).toEqual([]);
});

test('a chain is made, ordered, typed, kept, keyed and undone in the studio', async ({ browser }) => {
  const rows = async () =>
    (
      await kite.api<{
        rows: {
          effect: { id: string; order: number; values: Record<string, unknown> }[];
          curve: { owner: string; property: string }[];
        };
      }>(`shows/${show}`)
    ).rows;
  await kite.api(`shows/${show}/edits`, {
    name: 'Clear',
    changes: [{ kind: 'effect', id: effect, op: 'delete', fields: {} }],
  });
  const same = async (what: string) => {
    const core = await wanted();
    await until(what, async () => apart(await drawn(), core).mean < 1);
    return core;
  };
  const plain = await same('the plain picture');
  const studio = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await studio.goto(`${kite.address}/timeline`);
  await studio.locator('.tl-title', { hasText: 'Sea' }).click();
  const add = async (name: string) => {
    await studio.getByRole('combobox', { name: 'Add an effect' }).click();
    await studio.getByRole('combobox', { name: 'Add an effect' }).fill(name);
    await studio.getByRole('option', { name: new RegExp(`\\d+ ${name}$`) }).click();
  };
  await add('hue');
  await expect(studio.getByRole('combobox', { name: 'Effect 1' })).toHaveValue('hue');
  // As its first preset: a third of a turn.
  await until('the row', async () => (await rows()).effect[0]?.values.angle === 120);
  const hue = await same('the hue');
  expect(apart(hue, plain).mean).toBeGreaterThan(20);
  // Typed, it is loose, and seen; kept, it is stored.
  const angle = studio.getByRole('textbox', { name: 'Angle' });
  await angle.fill('90+90');
  await angle.press('Enter');
  await until('the loose value', async () => apart(await drawn(), hue).mean > 5);
  await studio.getByRole('button', { name: 'Keep', exact: true }).click();
  await until('it to be kept', async () => (await rows()).effect[0]?.values.angle === 180);
  await same('half a turn');
  await expect(studio.getByRole('combobox', { name: 'Preset of 1 hue' })).toHaveValue('Opposite');
  // A second one, by its name; it goes before the other, and back by undo.
  await studio.keyboard.press('ControlOrMeta+k');
  await studio.getByPlaceholder('Search actions').fill('effect tint');
  await studio.getByText('Add the effect tint').click();
  await expect(studio.getByRole('combobox', { name: 'Effect 2' })).toHaveValue('tint');
  const after = await same('the tint over it');
  await studio.getByRole('button', { name: '2 tint earlier' }).click();
  await expect(studio.getByRole('combobox', { name: 'Effect 1' })).toHaveValue('tint');
  expect(apart(await same('the hue over the tint'), after).mean).toBeGreaterThan(5);
  await expect(studio.locator('.tl-aims', { hasText: '2 fx' })).toBeVisible();
  await studio.locator('.tl-layername').first().focus();
  await studio.keyboard.press('Control+z');
  await expect(studio.getByRole('combobox', { name: 'Effect 1' })).toHaveValue('hue');
  expect(apart(await same('the order before'), after).mean).toBeLessThan(0.1);
  // A keyframe at the playhead, in a lane of its own.
  await angle.fill('90deg');
  await angle.press('Enter');
  await studio
    .getByRole('button', { name: '+ Key', exact: true })
    .and(studio.locator('[title="Keep as a keyframe at the playhead"]'))
    .click();
  await until('the curve', async () => (await rows()).curve.some((c) => c.property === 'angle'));
  await expect(studio.getByRole('button', { name: '1 hue: Angle', exact: true })).toBeVisible();
  // A preset, and what belongs to it is reset.
  await studio.getByRole('combobox', { name: 'Preset of 2 tint' }).click();
  await studio.getByRole('option', { name: 'Moonlight' }).click();
  await until(
    'the preset',
    async () =>
      JSON.stringify((await rows()).effect.find((e) => e.values.effect === 'tint')?.values.front) === '[0.8,0.9,1]',
  );
  await studio.getByRole('button', { name: 'Reset' }).nth(1).click();
  await until(
    'the first preset',
    async () =>
      JSON.stringify((await rows()).effect.find((e) => e.values.effect === 'tint')?.values.front) === '[1,0.85,0.6]',
  );
  // Gone with its keyframes, and all of it back.
  await studio.getByRole('button', { name: 'Remove 1 hue' }).click();
  await until('it to be gone', async () => (await rows()).effect.length === 1 && (await rows()).curve.length === 0);
  await studio.locator('.tl-layername').first().focus();
  await studio.keyboard.press('Control+z');
  await until('it to be back', async () => (await rows()).effect.length === 2 && (await rows()).curve.length === 1);
  await studio.context().close();
});
