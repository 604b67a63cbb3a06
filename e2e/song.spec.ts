import { expect, type Page, test } from '@playwright/test';
import { canvasPixels, created, KiteLamp, rowId, until } from './kite';

const S = 705_600_000;
const FRAME = S / 25;
const kite = new KiteLamp(4550);
let page: Page;
let player: Page;
let show = '';
const id = (n: number) => rowId(0, n);
const [PANEL, WALL, OUTPUT] = [1, 2, 3].map(id) as [string, string, string];

interface Rows {
  timeline: { id: string; duration: number }[];
  layer: { id: string; name: string; values: Record<string, unknown> }[];
  clip: { id: string; media: string; start: number; length: number }[];
  media: { id: string; name: string }[];
  marker: { time: number }[];
  curve: { owner: string; property: string; keyframes: { t: number; v: number }[] }[];
  cue: { id: string; number: string; name: string; page: string | null }[];
}
const rows = async () => (await kite.api<{ rows: Rows }>(`shows/${show}`)).rows;
const details = () => page.getByRole('complementary');
const light = async () => ((await canvasPixels(player, [[32, 32]])).pixels[0] ?? []) as number[];
const shows = (what: string, rgb: [number, number, number], off = 8) =>
  until(what, async () => (await light()).every((v, i) => Math.abs(v - (rgb[i] as number)) <= off)).catch(
    async (fault: Error) => {
      throw new Error(`${fault.message}: it is ${await light()}`);
    },
  );

test.beforeAll(async ({ browser }) => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Minute', frameRate: '25' })).id;
  // What there is before anything is programmed: a wall, an output that shows it, and two colours.
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('panel', PANEL, { name: 'P', widthMm: 500, heightMm: 500, widthPx: 64, heightPx: 64 }),
      created('surface', WALL, { name: 'Wall', cells: [[PANEL]], seams: [] }),
      created('media', id(4), { name: 'Red', kind: 'solid', colour: '#ff0000' }),
      created('media', id(5), { name: 'Blue', kind: 'solid', colour: '#0000ff' }),
      created('output', OUTPUT, { name: 'Output 1', width: 64, height: 64, refresh: 60 }),
      created('region', id(6), { output: OUTPUT, surface: WALL, source: [0, 0, 64, 64] }),
    ],
  });
  await kite.api(`shows/${show}/engage`, {});
  ({ page, player } = await kite.open(browser, OUTPUT, 'timeline'));
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

test('a minute of a song is programmed from nothing: markers, clips, keyframes, a loose value that is kept, a cue, the board, Go', async () => {
  // A timeline and a layer, as an empty place offers them.
  await page.getByRole('button', { name: 'Add a timeline' }).first().click();
  await page.getByRole('button', { name: 'Add a layer' }).first().click();
  await expect(details().getByRole('heading', { name: 'Layer 1' })).toBeVisible();
  const line = (await rows()).timeline[0]?.id ?? '';
  const layer = (await rows()).layer[0]?.id ?? '';
  const position = async () =>
    (await kite.live<{ decks: Record<string, { position: number }> }>('state')).decks[line]?.position ?? 0;
  const jump = async (time: number) => {
    await kite.live('command', { action: 'jump', time });
    await until('the playhead', async () => (await position()) === time);
  };
  await expect(page.getByRole('button', { name: /^Layer 1 ▸ Wall/ })).toBeVisible();

  // Markers are tapped while it plays.
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await kite.live('command', { action: 'play' });
  for (const [n, time] of [1, 3].entries()) {
    await until(`${time} s`, async () => (await position()) >= time * S);
    await page.keyboard.press('m');
    await until('the marker', async () => (await rows()).marker.length === n + 1);
  }
  await kite.live('command', { action: 'stop' });
  const [first = 0, second = 0] = (await rows()).marker.map((m) => m.time).sort((a, b) => a - b);

  // A clip comes to the playhead and is dragged until it sticks to the first marker.
  await page.getByRole('button', { name: /^Layer 1 ▸/ }).click();
  await page.getByRole('button', { name: 'Red', exact: true }).click();
  const red = page.getByRole('button', { name: 'Clip Red' });
  const [box, lane] = [await red.boundingBox(), await page.locator('.tl-lane').first().boundingBox()];
  if (box === null || lane === null) throw new Error('no clip');
  const x = lane.x + (first / S) * (box.width / 5);
  await page.mouse.move(box.x + 20, box.y + 18);
  await page.mouse.down();
  await page.mouse.move(box.x + 40, box.y + 18, { steps: 4 });
  await page.mouse.move(x + 20 + 3, box.y + 18, { steps: 4 });
  await expect(page.locator('.stuck')).toBeVisible();
  await page.mouse.up();
  await until(
    'it to lie on the marker',
    async () => (await rows()).clip[0]?.start === Math.round(first / FRAME) * FRAME,
  );
  // Another at the second marker, where the playhead is put.
  await jump(Math.round(second / FRAME) * FRAME);
  await page.getByRole('button', { name: 'Blue', exact: true }).click();
  await until('the second clip', async () => (await rows()).clip.length === 2);
  const blue = (await rows()).clip.find((c) => c.media === id(5))?.start ?? 0;

  // Opacity by keyframes: a half at the second marker, all of it two seconds later.
  for (const [time, typed] of [
    [blue, '50'],
    [blue + 2 * S, '100'],
  ] as const) {
    await jump(time);
    await page.getByRole('button', { name: /^Layer 1 ▸/ }).click();
    await details().getByLabel('Opacity').fill(typed);
    await details().getByLabel('Opacity').press('Enter');
    await details().getByRole('button', { name: '+ Key' }).first().click();
    await until('the keyframe', async () =>
      (await rows()).curve.some(
        (c) => c.owner === layer && c.property === 'opacity' && c.keyframes.some((k) => k.t === time),
      ),
    );
  }
  // A loose value, kept.
  await details().getByLabel('Gain blue').fill('60');
  await details().getByLabel('Gain blue').press('Enter');
  await expect(page.getByRole('button', { name: '1 loose' })).toBeVisible();
  await details().getByRole('button', { name: 'Keep', exact: true }).click();
  await until('it to be stored', async () => JSON.stringify((await rows()).layer[0]?.values.gain) === '[1,1,0.6]');

  // Five moments of it: before, on the first clip, where the second comes over it, while one fades into the other, and after.
  const red5 = (await rows()).clip.find((c) => c.media === id(4));
  const end = (red5?.start ?? 0) + (red5?.length ?? 0);
  await jump(0);
  await shows('darkness', [0, 0, 0]);
  await jump(red5?.start ?? 0);
  await shows('half of the red, as the first keyframe says before it, too', [128, 0, 0]);
  await jump(blue);
  await shows('still the red', [128, 0, 0]);
  await jump(blue + S);
  const share = S / (end - blue);
  await shows('three quarters of both', [255 * 0.75 * (1 - share), 0, 255 * 0.75 * 0.6 * share]);
  await jump(end + FRAME);
  await shows('the blue, gained', [0, 0, 153]);

  // A cue of one value, put on the board, pressed there; then by Go.
  await kite.live('command', {
    action: 'live',
    values: { [`layer:${layer}/gain#1`]: 0, [`layer:${layer}/opacity`]: 0.2 },
  });
  await page.keyboard.press('Alt+5');
  await page.getByRole('button', { name: 'Record a cue' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Dim');
  await dialog.getByLabel('Fade').fill('0');
  // Sent off at once: the dialog waits for what was typed.
  await dialog.getByRole('button', { name: 'Record', exact: true }).click();
  const cue = await until('the cue', async () => (await rows()).cue[0]);
  expect(cue).toMatchObject({ number: '1', name: 'Dim', fade: 0 });
  await page.getByRole('button', { name: 'Add a page' }).first().click();
  await page.getByRole('button', { name: 'Cue 1 Dim' }).first().click();
  await details().getByRole('combobox', { name: 'Page' }).click();
  await page.getByRole('option', { name: 'Page 1' }).click();
  const tile = page.getByRole('group', { name: 'Board Page 1' }).getByRole('button', { name: 'Cue 1 Dim' });
  await tile.click();
  await shows('a fifth of it', [0, 0, 31]);
  await tile.click();
  await shows('all of it again', [0, 0, 153]);
  await page.keyboard.press('Alt+8');
  await page.getByLabel('Cues now').waitFor();
  await kite.live('command', { action: 'pointer', cue: cue?.id });
  await page.getByRole('button', { name: 'Go', exact: true }).first().click();
  await shows('the fifth by Go', [0, 0, 31]);
});
