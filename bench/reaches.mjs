// What a frame costs a player by each reach: draw calls, uploads and script, at 1×, 2× and 4× the layers, against a frame of a show
// without any. Eight small walls on one output, so that drawing in software does not hold up the script; every layer reaches all of them.
import { chromium } from '@playwright/test';
import { framesOf } from './frames.mjs';
import { create, pause, Stack } from './stack.mjs';

const S = 705_600_000;
const stack = new Stack(4550);
let last = 0;
const id = () => `01hzz${String(++last).padStart(21, '0')}`;
let browser;

/** A show with as many layers of a reach; each has a way of its own where it is skin, else they share one. */
async function lay(reach, count) {
  const show = (await stack.ask('/api/shows', { name: `${reach} ${count}`, frameRate: '50' })).id;
  const [panel, line, card, output, route] = [id(), id(), id(), id(), id()];
  const walls = Array.from({ length: 8 }, id);
  const changes = [
    create('panel', panel, { name: 'P', widthMm: 500, heightMm: 500, widthPx: 12, heightPx: 12 }),
    create('timeline', line, { name: 'Main', duration: 600 * S }),
    create('media', card, { name: 'Card', kind: 'testcard', width: 64, height: 36 }),
    create('output', output, { name: 'Out', width: 240, height: 24 }),
    ...walls.map((wall, n) => create('surface', wall, { name: `Wall ${n}`, cells: [[panel, panel], [panel, panel]], seams: [0], position: [n - 4, 0, 0] })),
    ...walls.map((wall, n) => create('region', id(), { output, surface: wall, source: [0, 0, 24, 24], x: 30 * n, y: 0 })),
  ];
  if (reach !== 'skin' && count > 0) changes.push(create('route', route, { name: 'Way', reach, surfaces: walls, width: 1600, height: 400, values: reach === 'globe' ? { y: 0.5, z: 3 } : {} }));
  if (reach === 'canvas') changes.push(...walls.map((wall, n) => create('share', id(), { route, surface: wall, values: { x: 200 * n, y: 0, width: 190, height: 190 } })));
  if (reach.startsWith('lens')) changes.push(...[-1.5, 1.5].map((x, n) => create('lens', id(), { route, name: `Lens ${n}`, values: { x, y: 0.5, z: 4, angle: 70, featherLeft: 0.2, featherRight: 0.2, occlusion: reach === 'lens, occluded' } })));
  for (let n = 0; n < count; n++) {
    const [layer, own] = [id(), id()];
    changes.push(
      create('layer', layer, { timeline: line, name: `Layer ${n}`, order: n, route: reach === 'skin' ? own : route, values: { opacity: 0.5, blend: 'add' } }),
      ...(reach === 'skin' ? [create('route', own, { layer, surfaces: walls })] : []),
      create('clip', id(), { layer, media: card, start: 0, length: 600 * S }),
      create('curve', id(), { ownerKind: 'layer', owner: layer, property: 'x', keyframes: [{ t: 0, v: 0, i: 'linear' }, { t: 600 * S, v: 400, i: 'linear' }] }),
    );
  }
  const done = await stack.ask(`/api/shows/${show}/edits`, { name: 'Lay out', changes: changes.map((c) => (c.kind === 'route' && c.fields.reach?.after === 'lens, occluded' ? { ...c, fields: { ...c.fields, reach: { before: null, after: 'lens' } } } : c)) });
  if (done.status !== 201) throw new Error(JSON.stringify(done));
  await stack.ask(`/api/shows/${show}/engage`, {});
  while ((await stack.ask('/live/state')).show !== show) await pause(50);
  return output;
}

try {
  await stack.start();
  browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--use-angle=swiftshader', '--enable-unsafe-swiftshader', '--disable-background-networking'] });
  const { script: floor } = await framesOf(browser, stack, await lay('skin', 0));
  console.log(`### A frame of a player by reach (8 walls)\n\nFloor, a show without layers: ${floor.toFixed(2)} ms of script a frame.\n\n| reach | layers | draw calls | uploads | script, ms | ratio to floor |\n|---|---|---|---|---|---|`);
  for (const reach of (process.argv[2] ?? 'skin|canvas|lens|lens, occluded|globe').split('|'))
    for (const count of [4, 8, 16]) {
      const { draws, uploads, script } = await framesOf(browser, stack, await lay(reach, count));
      console.log(`| ${reach} | ${count} | ${draws.toFixed(0)} | ${uploads.toFixed(2)} | ${script.toFixed(2)} | ${(script / floor).toFixed(1)} |`);
    }
} finally {
  await browser?.close();
  await stack.stop();
}
