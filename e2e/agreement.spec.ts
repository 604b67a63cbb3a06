import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { KiteLamp, until } from './kite';

/** Generated shows: what a player draws of them, against the core's reference raster, pixel by pixel. */
const SHOWS = 30;
const S = 705_600_000;
const kite = new KiteLamp(4480);
let page: Page;

/** Numbers that look like chance and are always the same. */
function dice(seed: number) {
  let state = seed * 2654435761 + 1;
  const next = () => {
    state = (Math.imul(state ^ (state >>> 15), 2246822519) + 3266489917) | 0;
    return ((state ^ (state >>> 13)) >>> 0) / 2 ** 32;
  };
  for (let i = 0; i < 5; i++) next();
  return {
    real: (min: number, max: number) => min + (max - min) * next(),
    whole: (min: number, max: number) => Math.floor(min + (max - min + 1) * next()),
    of: <T>(list: readonly T[]) => list[Math.floor(next() * list.length)] as T,
  };
}

const rowId = (show: number, n: number) => `01hzz${String(show).padStart(4, '0')}${String(n).padStart(17, '0')}`;
const created = (kind: string, id: string, fields: Record<string, unknown>) => ({ kind, id, op: 'create', fields: Object.fromEntries(Object.entries(fields).map(([f, after]) => [f, { before: null, after }])) });

/** Two walls of odd sizes, two outputs that show parts of both, and layers of everything over them. */
function generated(n: number, files: string[]) {
  const d = dice(n + 1);
  const changes = [
    created('panel', rowId(n, 1), { name: 'P', widthMm: 500, heightMm: 500, widthPx: d.whole(17, 41), heightPx: d.whole(13, 29) }),
    created('timeline', rowId(n, 2), { name: 'Main', duration: 60 * S }),
    created('media', rowId(n, 3), { name: 'Card', kind: 'testcard' }),
    created('media', rowId(n, 4), { name: 'Small card', kind: 'testcard', width: d.whole(20, 90), height: d.whole(20, 90) }),
    created('media', rowId(n, 5), { name: 'Colour', kind: 'solid', colour: `#${d.whole(0x100000, 0xffffff).toString(16)}`, width: d.whole(2, 40), height: d.whole(2, 40) }),
  ];
  const media = [rowId(n, 3), rowId(n, 4), rowId(n, 5)];
  files.forEach((file, i) => {
    changes.push(created('media', rowId(n, 6 + i), { name: `Still ${i}`, kind: 'file', file }));
    media.push(rowId(n, 6 + i));
  });
  for (let w = 0; w < 2; w++) {
    changes.push(created('surface', rowId(n, 20 + w), { name: `Wall ${w}`, cells: Array.from({ length: d.whole(1, 3) }, () => Array(2).fill(rowId(n, 1))), seams: [0] }));
    changes.push(created('output', rowId(n, 30 + w), { name: `Output ${w}`, width: 96, height: 64 }));
  }
  for (let r = 0; r < 4; r++)
    changes.push(
      created('region', rowId(n, 40 + r), { output: rowId(n, 30 + (r % 2)), surface: rowId(n, 20 + d.whole(0, 1)), source: [d.whole(-3, 9), d.whole(-3, 9), d.whole(30, 80), d.whole(20, 60)], x: d.whole(-4, 30), y: d.whole(-4, 20) }),
    );
  for (let l = 0, max = d.whole(3, 6); l < max; l++) {
    // The lowest lies over all of both, so that what is blended over it is seen.
    const surfaces = (l === 0 ? [20, 21] : d.of([[20], [21], [20, 21]])).map((w) => rowId(n, w));
    const scale = l === 0 ? d.real(1, 3) : d.of([1, 1, d.real(0.1, 1), d.real(1, 8)]);
    changes.push(
      created('layer', rowId(n, 60 + l), {
        timeline: rowId(n, 2),
        name: `Layer ${l}`,
        order: l === 0 ? -1 : d.whole(0, 3),
        route: rowId(n, 70 + l),
        fitting: l === 0 ? 'cover' : d.of(['cover', 'contain', 'stretch', 'one-to-one']),
        anchorX: d.of([0, 0.5, 1]),
        anchorY: d.of([0, 0.5, 1]),
        values: {
          opacity: d.real(0.3, 1),
          x: d.of([0, d.whole(-30, 30), d.real(-30, 30)]),
          y: d.of([0, d.whole(-20, 20), d.real(-20, 20)]),
          scale,
          turn: d.of([0, 0, 90, 180, d.real(-180, 180)]),
          gain: d.of([
            [1, 1, 1],
            [d.real(0, 4), d.real(0, 2), d.real(0, 1)],
          ]),
          blend: l === 0 ? 'normal' : d.of(['normal', 'add', 'screen', 'multiply']),
          mute: l > 1 && d.whole(0, 9) === 0,
        },
      }),
      created('route', rowId(n, 70 + l), { surfaces, layer: rowId(n, 60 + l) }),
      created('clip', rowId(n, 80 + l), { layer: rowId(n, 60 + l), media: d.of(media), start: 0, length: 60 * S }),
    );
  }
  return changes;
}

test.beforeAll(async ({ browser }) => {
  await kite.start();
  page = await (await browser.newContext({ viewport: { width: 640, height: 360 } })).newPage();
});
test.afterAll(async () => {
  await page.context().close();
  await kite.stop();
});

/** The whole canvas of the player once it draws without anything missing, red, green and blue from the top. */
const drawn = () =>
  until('a picture with nothing missing', () =>
    page.evaluate(
      () =>
        new Promise<{ rgb: number[]; engine: number } | null>((done) =>
          requestAnimationFrame(() => {
            const canvas = document.querySelector('canvas') as HTMLCanvasElement;
            const gl = canvas.getContext('webgl2') as WebGL2RenderingContext;
            // biome-ignore lint/suspicious/noExplicitAny: what the player says of itself for tests
            const report = (window as any).kiteDrawn;
            if (report === undefined || report.lacks.length > 0 || report.revision === 0 || canvas.width !== 96) return done(null);
            const rgba = new Uint8Array(96 * 64 * 4);
            gl.bindFramebuffer(gl.FRAMEBUFFER, null);
            gl.readPixels(0, 0, 96, 64, gl.RGBA, gl.UNSIGNED_BYTE, rgba);
            const rgb: number[] = [];
            for (let y = 63; y >= 0; y--) for (let x = 0; x < 96; x++) for (let c = 0; c < 3; c++) rgb.push(rgba[(y * 96 + x) * 4 + c] as number);
            done({ rgb, engine: report.engine });
          }),
        ),
    ),
  );

/** How far two pictures are apart: the mean over all, the worst away from edges, and how much light the wanted one has. */
function compared(found: number[], wanted: number[]) {
  let [sum, worst, light] = [0, 0, 0];
  for (let y = 0; y < 64; y++) {
    for (let x = 0; x < 96; x++) {
      const at = (dx: number, dy: number, c: number) => wanted[(Math.min(63, Math.max(0, y + dy)) * 96 + Math.min(95, Math.max(0, x + dx))) * 3 + c] as number;
      for (let c = 0; c < 3; c++) {
        const off = Math.abs((found[(y * 96 + x) * 3 + c] as number) - at(0, 0, c));
        sum += off;
        light += at(0, 0, c);
        const flat = [-1, 0, 1].every((dx) => [-1, 0, 1].every((dy) => Math.abs(at(dx, dy, c) - at(0, 0, c)) <= 12));
        if (flat) worst = Math.max(worst, off);
      }
    }
  }
  return { mean: sum / (96 * 64 * 3), worst, light };
}

test('the two implementations of drawing agree on thirty generated shows, on every output', async () => {
  test.setTimeout(400_000);
  const files: string[] = [];
  const first = (await kite.api<{ id: string }>('shows', { name: 'Stills', frameRate: '25' })).id;
  // Alpha that swells, odd sizes, and one that is larger than anything it is shown on.
  const stills = [
    ["s=37x53,format=rgba,geq=r='255*X/W':g='255*Y/H':b='128':a='255*(0.5+0.5*sin(X/5))'", 'alpha.png'],
    ["s=641x361,format=rgba,geq=r='127+127*sin(X/40)':g='127+127*sin(Y/30)':b='127+127*sin((X+Y)/50)':a='255'", 'waves.png'],
    ["s=90x20,format=rgba,geq=r='220':g='60+X':b='30':a='if(lt(Y,10),255,120)'", 'band.png'],
  ] as const;
  for (const [picture, name] of stills) {
    const path = join(kite.folder, name);
    execFileSync('ffmpeg', ['-y', '-v', 'error', '-f', 'lavfi', '-i', `nullsrc=${picture}`, '-frames:v', '1', path]);
    files.push((await kite.upload(first, path, name)).hash);
  }
  await until('the stills to be ready', async () => (await kite.api<{ rows: { media: { state: string }[] } }>(`shows/${first}`)).rows.media.every((m) => m.state === 'ready'));
  const said: string[] = [];
  let [bright, pixels] = [0, 0];
  for (let n = 0; n < SHOWS; n++) {
    const { id: show } = await kite.api<{ id: string }>('shows', { name: `Generated ${n}`, frameRate: '25' });
    await kite.api(`shows/${show}/edits`, { name: 'Lay out', changes: generated(n, files) });
    await kite.api(`shows/${show}/engage`, {});
    await until('it to be on air', async () => (await kite.live<{ show: string }>('state')).show === show);
    const references = [0, 1].map((o) => kite.referenceLater(rowId(n, 30 + o), { time: S, whole: true }));
    for (let o = 0; o < 2; o++) {
      await page.goto(`${kite.address}/player/${rowId(n, 30 + o)}`);
      const { rgb } = await drawn();
      const wanted = [...Buffer.from((await (references[o] as Promise<{ whole: string }>)).whole, 'base64')];
      const { mean, worst, light } = compared(rgb, wanted);
      bright += light;
      pixels += 96 * 64 * 3;
      if (mean > 2 || worst > 24) said.push(`show ${n}, output ${o}: mean ${mean.toFixed(2)}, worst away from edges ${worst}`);
    }
  }
  expect(said).toEqual([]);
  // They were pictures, not darkness.
  expect(bright / pixels).toBeGreaterThan(20);
});

test('a test card that is put up and its bar are drawn as the core draws them, wherever the bar is', async () => {
  // The last show is on air; its first output shows parts of two walls.
  const output = rowId(SHOWS - 1, 30);
  await page.goto(`${kite.address}/player/${output}`);
  const plain = (await drawn()).rgb;
  await kite.live('command', { do: 'cards', surfaces: [rowId(SHOWS - 1, 20), rowId(SHOWS - 1, 21)] });
  await until('the cards', async () => compared((await drawn()).rgb, plain).mean > 5);
  const places = new Set<number>();
  for (let i = 0; i < 4; i++) {
    const { rgb, engine } = await drawn();
    const { mean, worst } = compared(rgb, [...Buffer.from(kite.reference(output, { at: engine, whole: true }).whole, 'base64')]);
    expect(mean).toBeLessThanOrEqual(2);
    expect(worst).toBeLessThanOrEqual(24);
    places.add(engine);
  }
  expect(places.size).toBe(4);
});
