import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { effects } from '../resources/js/api/kinds';
import { created, KiteLamp, rowId, until, wholeCanvas } from './kite';

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

/** A way of each kind to some of the walls. */
function route(n: number, l: number, surfaces: string[], d: ReturnType<typeof dice>) {
  const id = rowId(n, 70 + l);
  const base = { surfaces, layer: rowId(n, 60 + l) };
  const fitting = () => d.of(['cover', 'contain', 'stretch', 'one-to-one']);
  const pane = { width: d.whole(40, 160), height: d.whole(30, 120) };
  switch (l === 0 ? 'skin' : d.of(['skin', 'fitted', 'pane', 'canvas', 'lens', 'globe'] as const)) {
    case 'skin':
      return [created('route', id, base)];
    case 'fitted':
      return [created('route', id, { ...base, fittings: Object.fromEntries(surfaces.map((s) => [s, fitting()])) })];
    case 'pane':
      return [
        created('route', id, { ...base, ...pane, fittings: Object.fromEntries(surfaces.map((s) => [s, fitting()])) }),
      ];
    case 'canvas':
      return [
        created('route', id, { ...base, ...pane, reach: 'canvas' }),
        ...surfaces.map((surface, i) =>
          created('share', rowId(n, 200 + 10 * l + i), {
            route: id,
            surface,
            values: {
              x: d.real(-20, 60),
              y: d.whole(-10, 40),
              width: d.real(20, 90),
              height: d.real(20, 90),
              turn: d.of([0, 90, 270, d.real(-180, 180)]),
              mirror: d.of([true, false]),
            },
          }),
        ),
      ];
    case 'lens':
      return [
        created('route', id, { ...base, ...pane, reach: 'lens' }),
        ...Array.from({ length: d.whole(1, 3) }, (_, i) =>
          created('lens', rowId(n, 200 + 10 * l + i), {
            route: id,
            name: `Lens ${i}`,
            part: d.of([[], [0, 0, 30, 30]]),
            values: {
              ...{
                x: d.real(-1, 1),
                y: d.real(0.2, 0.9),
                z: d.real(0.7, 2),
                yaw: d.real(-20, 20),
                pitch: d.real(-10, 10),
                roll: d.real(-20, 20),
                angle: d.real(30, 80),
                shiftX: d.real(-0.2, 0.2),
              },
              ...{
                featherLeft: d.real(0, 0.5),
                featherTop: d.real(0, 0.3),
                curve: d.of([1, d.real(0.5, 3)]),
                k1: d.real(-0.1, 0.1),
                k2: d.real(-0.05, 0.05),
                p1: d.real(-0.02, 0.02),
                occlusion: l % 2 === 1,
              },
              ...(i === 0
                ? {
                    warpTopLeftX: d.real(-0.1, 0.1),
                    warpBottomRightY: d.real(-0.1, 0.1),
                    warpMiddleX: d.real(-0.05, 0.05),
                    warpRightY: d.real(-0.05, 0.05),
                    warpTopY: d.real(-0.05, 0.05),
                  }
                : {}),
            },
          }),
        ),
      ];
    default:
      return [
        created('route', id, {
          ...{ ...base, ...pane, reach: 'globe' },
          values: {
            x: d.real(-0.3, 0.3),
            y: d.real(0.2, 0.9),
            z: d.real(0.4, 1.5),
            yaw: d.real(-180, 180),
            pitch: d.real(-20, 20),
            arc: d.of([360, d.real(60, 200)]),
            top: d.real(20, 90),
            bottom: d.real(-90, -20),
            feather: d.real(0, 0.3),
          },
        }),
      ];
  }
}

/** What a layer shows: one clip, or two of which the second fades in over the first or comes out of it, at any speed. */
function clips(n: number, l: number, media: string[], d: ReturnType<typeof dice>) {
  const clip = (i: number, fields: object) =>
    created('clip', rowId(n, 80 + 10 * i + l), {
      layer: rowId(n, 60 + l),
      media: d.of(media),
      speed: d.of([1, 1, -1, 0.5, -2.5]),
      offset: d.of([0, S / 3]),
      fitting: d.of([null, null, 'contain']),
      anchorX: d.of([null, d.real(0, 1)]),
      ...fields,
    });
  switch (l === 0 ? 'one' : d.of(['one', 'faded', 'crossed', 'within'] as const)) {
    case 'one':
      return [clip(0, { start: 0, length: 60 * S })];
    case 'faded':
      return [clip(0, { start: 0, length: 60 * S, fadeIn: d.whole(1.2 * S, 4 * S) })];
    case 'crossed':
      return [
        clip(0, { start: 0, length: d.whole(1.2 * S, 3 * S) }),
        clip(1, { start: d.whole(0.1 * S, 0.9 * S), length: 30 * S }),
      ];
    default:
      return [
        clip(0, { start: 0, length: 60 * S }),
        clip(1, {
          start: d.whole(0.1 * S, 0.5 * S),
          length: 2 * S,
          fadeIn: d.whole(0.2 * S, S),
          fadeOut: d.whole(0.2 * S, 2 * S),
        }),
      ];
  }
}

type Dice = ReturnType<typeof dice>;

/** Up to three effects of a layer, one of its clip, at their settings to begin with: none that is cut hard in small cells. */
function chain(n: number, l: number, d: Dice) {
  const soft = Object.entries(effects).filter(([name]) => !['grain', 'halftone', 'posterize'].includes(name));
  return Array.from({ length: d.of([0, 0, 1, 3]) }, (_, i) => {
    const [name, { presets }] = d.of(soft);
    return created('effect', rowId(n, 300 + 10 * l + i), {
      [i === 2 ? 'clip' : 'layer']: rowId(n, i === 2 ? 80 + l : 60 + l),
      order: d.whole(0, 9),
      values: { effect: name, mix: d.of([1, d.real(0.3, 1)]), ...d.of(Object.values(presets)) },
    });
  });
}

/** How the light of an output is given. */
const sent = (d: Dice) =>
  d.of([
    {},
    {},
    {
      gamma: d.real(1.5, 2.6),
      peak: d.real(0.5, 1),
      gain: [d.real(0.5, 1), 1, d.real(0.7, 1)],
      black: d.of([0, 0.01]),
    },
  ]);

/** What a region takes, and how it is turned, cut, pinned, bent and faded: the first two of each show as they are. */
function shape(r: number, d: Dice) {
  const [x, y, w, h] = [d.whole(-3, 9), d.whole(-3, 9), d.whole(30, 80), d.whole(20, 60)];
  if (r < 2) return { source: [x, y, w, h] };
  const points = () =>
    Array.from({ length: 7 * 4 }, (_, i) => [
      ((i % 7) * (1 / 3)) / 2 + d.real(-0.04, 0.04),
      Math.floor(i / 7) / 3 + d.real(-0.04, 0.04),
    ]).flat();
  return {
    source: [x, y, w, h],
    turn: d.of([0, 90, 180, 270]),
    mirror: d.of([true, false]),
    ...d.of([{}, { width: d.whole(20, 90), height: d.whole(15, 60) }]),
    ...d.of([{}, { polygon: [x, y, x + w, y + h / 4, x + w * 0.8, y + h, x + w / 2, y + h * 0.6, x, y + h] }]),
    ...d.of([{}, { pin: Array.from({ length: 8 }, () => d.real(-5, 5)) }]),
    ...d.of([{}, { columns: [0, 0.5, 1], rows: [0, 1], points: points() }]),
    ...d.of([{}, { blend: { left: d.whole(0, 20), bottom: d.whole(0, 20), curve: d.real(0.8, 3) } }]),
  };
}

function mask(m: number, d: Dice) {
  const [x, y, w, h] = [d.whole(2, 20), d.whole(2, 15), d.whole(20, 60), d.whole(15, 40)];
  const bulge = d.real(-8, 8);
  return {
    name: `Mask ${m}`,
    inverted: d.of([true, false]),
    feather: d.of([0, d.real(2, 12)]),
    nodes: [x, y, 0, 0, w / 3, bulge, x + w, y, -w / 3, bulge, 0, 0, x + w, y + h, 0, 0, 0, 0, x, y + h, 0, 0, 0, 0],
  };
}

/** Two walls of odd sizes, two outputs that show parts of both, and layers of everything over them. */
function generated(n: number, files: string[]) {
  const d = dice(n + 1);
  const changes = [
    created('panel', rowId(n, 1), {
      name: 'P',
      widthMm: 500,
      heightMm: 500,
      widthPx: d.whole(17, 41),
      heightPx: d.whole(13, 29),
    }),
    created('timeline', rowId(n, 2), { name: 'Main', duration: 60 * S }),
    created('media', rowId(n, 3), { name: 'Card', kind: 'testcard' }),
    created('media', rowId(n, 4), {
      name: 'Small card',
      kind: 'testcard',
      width: d.whole(20, 90),
      height: d.whole(20, 90),
    }),
    created('media', rowId(n, 5), {
      name: 'Colour',
      kind: 'solid',
      colour: `#${d.whole(0x100000, 0xffffff).toString(16)}`,
      width: d.whole(2, 40),
      height: d.whole(2, 40),
    }),
  ];
  // Something that stands between.
  changes.push(
    created('prop', rowId(n, 9), {
      name: 'Crate',
      kind: 'box',
      position: [d.real(-0.4, 0.4), d.real(0, 0.4), d.real(0.2, 0.5)],
      rotation: [d.real(-60, 60), 0, 0],
      shape: { width: 0.25, height: 0.2, depth: 0.1 },
    }),
  );
  const media = [rowId(n, 3), rowId(n, 4), rowId(n, 5)];
  const looks = [
    'grid',
    'checker',
    'bars',
    'ramp',
    'gradient',
    'noise',
    'sweep',
    'flash',
    'particles',
    'lines',
    'waves',
    'shapes',
    'blocks',
    'text',
    'countdown',
  ];
  for (let i = 0; i < 3; i++) {
    const colour = () => [d.real(0, 1), d.real(0, 1), d.real(0, 1)];
    changes.push(
      created('media', rowId(n, 10 + i), {
        ...{ name: `Look ${i}`, kind: 'pattern', pattern: looks[(n * 3 + i) % looks.length], text: 'Quay 7\nlit' },
        ...d.of([{}, { width: d.whole(30, 200), height: d.whole(30, 200) }]),
        values: {
          front: colour(),
          back: colour(),
          size: d.real(8, 40),
          angle: d.of([0, 90, d.real(-180, 180)]),
          speed: d.real(-2, 2),
          density: d.real(0.2, 1),
          softness: d.real(0, 1),
          seed: d.whole(0, 999),
          from: d.of([3, 754]),
        },
      }),
    );
    media.push(rowId(n, 10 + i), rowId(n, 10 + i));
  }
  files.forEach((file, i) => {
    changes.push(created('media', rowId(n, 6 + i), { name: `Still ${i}`, kind: 'file', file }));
    media.push(rowId(n, 6 + i));
  });
  for (let w = 0; w < 2; w++) {
    changes.push(
      created('surface', rowId(n, 20 + w), {
        name: `Wall ${w}`,
        cells: Array.from({ length: d.whole(1, 3) }, () => Array(2).fill(rowId(n, 1))),
        seams: [d.of([0, d.real(-25, 25)])],
        position: [d.real(-0.3, 0.3), 0, 0],
        rotation: [d.real(-20, 20), 0, 0],
      }),
    );
    changes.push(created('output', rowId(n, 30 + w), { name: `Output ${w}`, width: 96, height: 64, ...sent(d) }));
  }
  for (let r = 0; r < 4; r++)
    changes.push(
      created('region', rowId(n, 40 + r), {
        output: rowId(n, 30 + (r % 2)),
        surface: rowId(n, 20 + d.whole(0, 1)),
        x: d.whole(-4, 30),
        y: d.whole(-4, 20),
        ...shape(r, d),
      }),
    );
  for (let m = 0; m < n % 3; m++)
    changes.push(
      created('mask', rowId(n, 90 + m), {
        ...(d.whole(0, 1) === 0 ? { surface: rowId(n, 20) } : { output: rowId(n, 30) }),
        ...mask(m, d),
      }),
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
          blend: l === 0 ? 'normal' : d.of(['normal', 'add', 'screen', 'multiply', 'lighten', 'darken']),
          mute: l > 1 && d.whole(0, 9) === 0,
          pivotX: d.of([0.5, 0.5, 0, d.real(0, 1)]),
          pivotY: d.of([0.5, 0.5, 1, d.real(0, 1)]),
          mirror: d.of(['none', 'across', 'down', 'both']),
          cropLeft: d.of([0, 0, d.real(0, 0.4)]),
          cropBottom: d.of([0, 0, d.real(0, 0.4)]),
          tile: l === 0 ? 'none' : d.of(['none', 'none', 'across', 'down', 'both']),
          invert: d.of([
            [0, 0, 0],
            [0, 0, 0],
            [1, 1, 1],
            [d.real(0, 1), 0, d.real(0, 1)],
          ]),
          opaque: d.whole(0, 3) === 0,
          // The lowest stays whole, so that all is seen.
          ...(l > 0 && d.whole(0, 2) === 0
            ? {
                mask: d.of(media),
                maskKey: d.of(['lightness', 'lightness', 'alpha', 'colour']),
                maskInverted: d.whole(0, 1) === 1,
                maskWidth: d.of([1, d.real(0.2, 1)]),
                maskColour: [d.real(0, 1), d.real(0, 1), d.real(0, 1)],
                maskX: d.real(-0.3, 0.3),
                maskY: d.of([0, d.real(-0.2, 0.2)]),
                maskScale: d.of([1, d.real(0.4, 2)]),
                maskFeather: d.of([0, d.real(0, 0.3)]),
              }
            : {}),
        },
      }),
      ...route(n, l, surfaces, d),
      // At a second: one clip, one that fades in, or one that comes out of another.
      ...clips(n, l, media, d),
      ...chain(n, l, d),
    );
  }
  // In some, a timeline that a clip of the other shows: at a second of that, it is at two of its own.
  if (n % 3 === 0) {
    changes.push(
      created('timeline', rowId(n, 50), { name: 'Inner', duration: 10 * S, order: 1 }),
      created('layer', rowId(n, 51), {
        timeline: rowId(n, 50),
        name: 'Inside',
        order: 0,
        route: rowId(n, 52),
        fitting: 'contain',
        values: { opacity: 0.8, blend: d.of(['normal', 'screen']) },
      }),
      created('route', rowId(n, 52), { layer: rowId(n, 51), surfaces: [rowId(n, 20), rowId(n, 21)] }),
      created('clip', rowId(n, 53), {
        layer: rowId(n, 51),
        media: d.of(media),
        start: 0,
        length: 10 * S,
        fadeIn: d.of([0, 3 * S]),
      }),
      created('curve', rowId(n, 54), {
        ownerKind: 'layer',
        owner: rowId(n, 51),
        property: 'x',
        slot: 0,
        keyframes: [
          { t: 0, v: -20 },
          { t: 10 * S, v: d.real(0, 60) },
        ],
      }),
      created('media', rowId(n, 55), { name: 'Inner', kind: 'timeline', timeline: rowId(n, 50) }),
      created('layer', rowId(n, 56), {
        timeline: rowId(n, 2),
        name: 'Outside',
        order: 9,
        values: { opacity: d.real(0.5, 1) },
      }),
      created('clip', rowId(n, 57), {
        layer: rowId(n, 56),
        media: rowId(n, 55),
        start: 0,
        length: 60 * S,
        speed: 2,
        fadeIn: d.of([0, 2 * S]),
      }),
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
  until('a picture with nothing missing', async () => {
    const { rgb, width, report } = await wholeCanvas(page);
    return report === undefined || report.lacks.length > 0 || report.revision === 0 || width !== 96
      ? null
      : { rgb, engine: report.engine };
  });

/** How far two pictures are apart: the mean over all, the worst away from edges, and how much light the wanted one has. A pixel may be that of another one just as well. */
function compared(found: number[], wanted: number[], ...others: number[][]) {
  let [sum, worst, light] = [0, 0, 0];
  for (let y = 0; y < 64; y++) {
    for (let x = 0; x < 96; x++) {
      const at = (dx: number, dy: number, c: number) =>
        wanted[(Math.min(63, Math.max(0, y + dy)) * 96 + Math.min(95, Math.max(0, x + dx))) * 3 + c] as number;
      // An edge of any colour is one: where it lies on the middle of pixels, they may fall either way.
      const flat = [0, 1, 2].every((c) =>
        [-1, 0, 1].every((dx) => [-1, 0, 1].every((dy) => Math.abs(at(dx, dy, c) - at(0, 0, c)) <= 12)),
      );
      for (let c = 0; c < 3; c++) {
        const is = (y * 96 + x) * 3 + c;
        const off = Math.min(
          ...[wanted, ...others].map((one) => Math.abs((found[is] as number) - (one[is] as number))),
        );
        sum += off;
        light += at(0, 0, c);
        if (flat) worst = Math.max(worst, off);
      }
    }
  }
  return { mean: sum / (96 * 64 * 3), worst, light };
}

/** How far both outputs of a show are apart in a player and in the core, at a second. */
async function ofBoth(show: string, n: number) {
  await kite.api(`shows/${show}/engage`, {});
  // A show that is the first takes the air by itself, before it has any rows.
  await until('it to be on air', async () => {
    const state = await kite.live<{ show: string; decks: object }>('state');
    return state.show === show && Object.keys(state.decks).length > 0;
  });
  await kite.live('command', { action: 'jump', time: S });
  await until(
    'it to stand at a second',
    async () =>
      Object.values((await kite.live<{ decks: Record<string, { position: number }> }>('state')).decks)[0]?.position ===
      S,
  );
  const references = [0, 1].map((o) => kite.referenceLater(rowId(n, 30 + o), { time: S, whole: true }));
  const found = [];
  for (let output = 0; output < 2; output++) {
    await page.goto(`${kite.address}/player/${rowId(n, 30 + output)}`);
    const { rgb } = await drawn();
    found.push({
      output,
      ...compared(rgb, [...Buffer.from((await (references[output] as Promise<{ whole: string }>)).whole, 'base64')]),
    });
  }
  return found;
}

test('the two implementations of drawing agree on thirty generated shows, on every output', async () => {
  test.setTimeout(400_000);
  const files: string[] = [];
  const first = (await kite.api<{ id: string }>('shows', { name: 'Stills', frameRate: '25' })).id;
  // Alpha that swells, odd sizes, and one that is larger than anything it is shown on.
  const stills = [
    ["s=37x53,format=rgba,geq=r='255*X/W':g='255*Y/H':b='128':a='255*(0.5+0.5*sin(X/5))'", 'alpha.png'],
    [
      "s=641x361,format=rgba,geq=r='127+127*sin(X/40)':g='127+127*sin(Y/30)':b='127+127*sin((X+Y)/50)':a='255'",
      'waves.png',
    ],
    ["s=90x20,format=rgba,geq=r='220':g='60+X':b='30':a='if(lt(Y,10),255,120)'", 'band.png'],
  ] as const;
  for (const [picture, name] of stills) {
    const path = join(kite.folder, name);
    execFileSync('ffmpeg', ['-y', '-v', 'error', '-f', 'lavfi', '-i', `nullsrc=${picture}`, '-frames:v', '1', path]);
    files.push((await kite.upload(first, path, name)).hash);
  }
  await until('the stills to be ready', async () =>
    (await kite.api<{ rows: { media: { state: string }[] } }>(`shows/${first}`)).rows.media.every(
      (m) => m.state === 'ready',
    ),
  );
  const painted = readFileSync(join(kite.folder, 'waves.png')).toString('base64');
  const said: string[] = [];
  let [bright, pixels] = [0, 0];
  for (let n = 0; n < SHOWS; n++) {
    const { id: show } = await kite.api<{ id: string }>('shows', { name: `Generated ${n}`, frameRate: '25' });
    await kite.api(`shows/${show}/edits`, { name: 'Lay out', changes: generated(n, files) });
    // Every fourth has a mask that is painted, too.
    if (n % 4 === 1)
      await kite.api(`shows/${show}/outputs`, {
        action: 'paint',
        ...(n % 8 === 1 ? { surface: rowId(n, 20) } : { output: rowId(n, 30) }),
        name: 'Painted',
        image: painted,
        inverted: n % 3 === 0,
      });
    for (const { output, mean, worst, light } of await ofBoth(show, n)) {
      bright += light;
      pixels += 96 * 64 * 3;
      if (mean > 2 || worst > 24)
        said.push(`show ${n}, output ${output}: mean ${mean.toFixed(2)}, worst away from edges ${worst}`);
    }
  }
  expect(said).toEqual([]);
  // They were pictures, not darkness.
  expect(bright / pixels).toBeGreaterThan(15);
});

/** A show of two round walls under one layer, thrown by a lens (the first two) or by a globe. */
async function roundShow(n: number, at = SHOWS + n) {
  const round = (w: number, kind: string, shape: Record<string, unknown>) => [
    created('surface', rowId(at, 20 + w), {
      name: kind,
      kind,
      position: [w === 0 ? -1.5 : 1.5, 0, 0],
      rotation: [n * 12, n * 5, 0],
      shape,
    }),
    created('output', rowId(at, 30 + w), { name: `Output ${w}`, width: 96, height: 64 }),
    created('region', rowId(at, 40 + w), {
      output: rowId(at, 30 + w),
      surface: rowId(at, 20 + w),
      x: 0,
      y: 0,
      source: [0, 0, 96, 64],
    }),
  ];
  const { id: show } = await kite.api<{ id: string }>('shows', { name: `Round ${n}`, frameRate: '25' });
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('timeline', rowId(at, 2), { name: 'Main', duration: 10 * S }),
      created('media', rowId(at, 3), {
        name: 'Squares',
        kind: 'pattern',
        pattern: 'checker',
        width: 400,
        height: 300,
        values: { size: 40, front: [1, 0.8, 0.2], back: [0.1, 0.2, 0.6] },
      }),
      ...round(
        0,
        n % 2 === 0 ? 'drum' : 'drums',
        n % 2 === 0
          ? { radius: 1, arc: 170, height: 2, rasterWidth: 96, rasterHeight: 64 }
          : { tiers: '1 × 1; 0.6 × 1', arc: 150, rasterWidth: 96, rasterHeight: 64 },
      ),
      ...round(1, 'dome', {
        radius: 1,
        arc: 150,
        tilt: n * 20 - 20,
        outside: n % 2 === 0,
        rasterWidth: 96,
        rasterHeight: 64,
      }),
      created('layer', rowId(at, 60), {
        timeline: rowId(at, 2),
        name: 'Layer',
        order: 0,
        route: rowId(at, 70),
        fitting: 'stretch',
      }),
      created('clip', rowId(at, 61), { layer: rowId(at, 60), media: rowId(at, 3), start: 0, length: 10 * S }),
      ...(n < 2
        ? [
            created('route', rowId(at, 70), {
              name: 'Lenses',
              surfaces: [rowId(at, 20), rowId(at, 21)],
              width: 400,
              height: 300,
              reach: 'lens',
            }),
            created('lens', rowId(at, 71), {
              route: rowId(at, 70),
              name: 'One',
              values: { y: 0.8, z: 4, angle: 80 },
            }),
          ]
        : [
            created('route', rowId(at, 70), {
              name: 'Globe',
              surfaces: [rowId(at, 20), rowId(at, 21)],
              width: 800,
              height: 400,
              reach: 'globe',
              values: { y: 0.5, z: n === 2 ? 3 : 0.5 },
            }),
          ]),
    ],
  });
  return { show, at };
}

test('they agree on the true shape of drums and domes, from outside and from within, thrown by lenses and by a globe', async () => {
  const said: string[] = [];
  for (let n = 0; n < 4; n++) {
    const { show, at } = await roundShow(n);
    for (const { output, mean, worst, light } of await ofBoth(show, at))
      if (mean > 1 || worst > 10 || light < 96 * 64 * 20)
        said.push(
          `show ${n}, output ${output}: mean ${mean.toFixed(2)}, worst away from edges ${worst}, light ${light}`,
        );
  }
  expect(said).toEqual([]);
});

/** A show of one surface, lit by a projector of the venue with things in its way; the second output is bent by hand. */
async function projectedShow(
  n: number,
  kind: string,
  shape: Record<string, unknown>,
  position: number[],
  rotation: number[],
) {
  const { id: show } = await kite.api<{ id: string }>('shows', { name: `Lit ${n}`, frameRate: '25' });
  const lens = { widthPx: 96, heightPx: 64, throw: 1.2 };
  const [surface, raster] = [rowId(n, 20), [0, 0, 240, 160]];
  await kite.api(`shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      created('timeline', rowId(n, 2), { name: 'Main', duration: 10 * S }),
      created('media', rowId(n, 3), {
        name: 'Squares',
        kind: 'pattern',
        pattern: 'checker',
        width: 240,
        height: 160,
        values: { size: 30, front: [1, 0.8, 0.2], back: [0.1, 0.2, 0.6] },
      }),
      created('surface', surface, {
        name: kind,
        kind,
        position: [0, 0, 0],
        shape: { ...shape, rasterWidth: 240, rasterHeight: 160 },
      }),
      created('prop', rowId(n, 9), {
        name: 'Post',
        kind: 'box',
        position: [0.3, 0, 1.4],
        shape: { width: 0.2, height: 2, depth: 0.2 },
      }),
      created('layer', rowId(n, 60), { timeline: rowId(n, 2), name: 'Layer', order: 0, route: rowId(n, 70) }),
      created('route', rowId(n, 70), { name: 'Skin', surfaces: [surface] }),
      created('clip', rowId(n, 61), { layer: rowId(n, 60), media: rowId(n, 3), start: 0, length: 10 * S }),
      ...[0, 1].flatMap((o) => [
        created('projector', rowId(n, 14 + o), { name: `Projector ${o}`, position, rotation, lens }),
        created('output', rowId(n, 30 + o), { name: `Output ${o}`, width: 96, height: 64 }),
        created('feed', rowId(n, 23 + o), {
          output: rowId(n, 30 + o),
          name: `Beam ${o}`,
          role: 'projector',
          projector: rowId(n, 14 + o),
        }),
        created('region', rowId(n, 40 + o), {
          output: rowId(n, 30 + o),
          surface,
          source: raster,
          width: 96,
          height: 64,
          ...(o === 1 ? { pin: [4, 3, -5, 2, -3, -6, 2, -1] } : {}),
        }),
      ]),
    ],
  });
  const { id: task } = await kite.api<{ id: string }>(`shows/${show}/projections`, { surface, limit: 85 });
  await until('the projection to be computed', async () => {
    const { state, message } = await kite.api<{ state: string; message: string }>(`tasks/${task}`);
    if (state === 'failed') throw new Error(message);
    return state === 'ready';
  });
  return show;
}

test('they agree on what projectors light of boxes, drums, tiers and domes, with things in the way', async () => {
  const said: string[] = [];
  const cases = [
    ['box', { width: 2, depth: 1.5, height: 2, sides: 'left,front,right' }, [-3, 1.2, 3], [-45, 0, 0]],
    ['drum', { radius: 1.2, arc: 200, height: 2 }, [1, 1.5, 4.5], [14, -5, 0]],
    ['drums', { tiers: '1.2 × 1; 0.7 × 0.8', arc: 180 }, [-1, 3, 3.5], [-15, -30, 4]],
    ['dome', { radius: 3, arc: 170, tilt: 40 }, [0, 0.2, 2], [0, 30, 0]],
    ['dome', { radius: 1.2, arc: 160, outside: true }, [0.5, 0.4, 4], [4, -2, 9]],
    ['flat', { width: 3, height: 2 }, [-0.5, 1, 4], [-6, 0, 3]],
  ] as const;
  for (const [i, [kind, shape, position, rotation]] of cases.entries()) {
    const n = SHOWS + 10 + i;
    const show = await projectedShow(n, kind, shape, [...position], [...rotation]);
    for (const { output, mean, worst, light } of await ofBoth(show, n))
      if (mean > 1.5 || worst > 12 || light < 96 * 64 * 10)
        said.push(
          `${i} ${kind}, output ${output}: mean ${mean.toFixed(2)}, worst away from edges ${worst}, light ${light}`,
        );
  }
  expect(said).toEqual([]);
});

test('a test card that is put up and its bar are drawn as the core draws them, wherever the bar is', async () => {
  const { show, at: n } = await roundShow(3, SHOWS + 4);
  await ofBoth(show, n);
  const output = rowId(n, 30);
  await page.goto(`${kite.address}/player/${output}`);
  const plain = (await drawn()).rgb;
  await kite.live('command', { action: 'cards', surfaces: [rowId(n, 20), rowId(n, 21)] });
  await until('the cards', async () => compared((await drawn()).rgb, plain).mean > 5);
  const places = new Set<number>();
  for (let i = 0; i < 4; i++) {
    const { rgb, engine } = await drawn();
    // A graphics processor places corners to a 16th of a pixel (the least its standard asks): where an edge of the bar
    // lies on the middle of pixels, their column may fall either way, on each wall its own. So a pixel is held against
    // the bar half of that before and behind, too.
    const half = Math.round((4 * S) / 98 / 32);
    const at = (by: number) => [
      ...Buffer.from(kite.reference(output, { at: engine + by, whole: true }).whole, 'base64'),
    ];
    const here = at(0);
    let { mean, worst } = compared(rgb, here);
    if (mean > 2 || worst > 24) ({ mean, worst } = compared(rgb, here, at(-half), at(half)));
    expect(mean).toBeLessThanOrEqual(2);
    expect(worst).toBeLessThanOrEqual(24);
    places.add(engine);
  }
  expect(places.size).toBe(4);
});
