// What a frame costs a player when its regions are bent, blended and masked: draw calls, triangles, uploads and script, at 3, 6, 12 and 24
// regions, against the same regions plain. How long a graphics processor takes for it can't be judged in software; what it is given can.
import { chromium } from '@playwright/test';
import { framesOf } from './frames.mjs';
import { create, pause, Stack } from './stack.mjs';

const S = 705_600_000;
const stack = new Stack(4552);
let last = 0;
const id = () => `01hzz${String(++last).padStart(21, '0')}`;
let browser;

/** A lattice of 4 × 4 patches (13 × 13 points), bent by a few pixels. */
function bent(n) {
  const lines = [0, 0.25, 0.5, 0.75, 1];
  const points = [];
  for (let r = 0; r <= 12; r++) for (let c = 0; c <= 12; c++) points.push(c / 12 + 0.02 * Math.sin(n + r + 2 * c) * (c % 12 ? 1 : 0), r / 12 + 0.02 * Math.cos(n + 2 * r + c) * (r % 12 ? 1 : 0));
  return { columns: lines, rows: lines, points, blend: { left: 8, right: 8, curve: 2 } };
}

async function lay(count, warped) {
  const show = (await stack.ask('/api/shows', { name: `${count} regions`, frameRate: '50' })).id;
  const [panel, wall, line, card, output, layer, route] = [id(), id(), id(), id(), id(), id(), id()];
  const changes = [
    create('panel', panel, { name: 'P', widthMm: 500, heightMm: 500, widthPx: 32, heightPx: 32 }),
    create('surface', wall, { name: 'Wall', cells: [[panel, panel], [panel, panel]], seams: [0] }),
    create('timeline', line, { name: 'Main', duration: 600 * S }),
    create('media', card, { name: 'Card', kind: 'testcard', width: 64, height: 64 }),
    create('output', output, { name: 'Out', width: 480, height: 320 }),
    create('layer', layer, { timeline: line, name: 'Layer', order: 0, route }),
    create('route', route, { layer, surfaces: [wall] }),
    create('clip', id(), { layer, media: card, start: 0, length: 600 * S }),
    create('curve', id(), { ownerKind: 'layer', owner: layer, property: 'x', keyframes: [{ t: 0, v: 0, i: 'linear' }, { t: 600 * S, v: 400, i: 'linear' }] }),
    ...Array.from({ length: count }, (_, n) => create('region', id(), { output, surface: wall, source: [0, 0, 64, 64], x: 76 * (n % 6), y: 76 * Math.floor(n / 6), ...(warped ? bent(n) : {}) })),
  ];
  if (warped) changes.push(create('mask', id(), { output, name: 'Mask', nodes: [0, 0, 0, 0, 0, 0, 470, 0, 0, 0, 0, 0, 470, 310, 0, 0, 0, 0], feather: 8 }));
  const done = await stack.ask(`/api/shows/${show}/edits`, { name: 'Lay out', changes });
  if (done.status !== 201) throw new Error(JSON.stringify(done));
  await stack.ask(`/api/shows/${show}/engage`, {});
  while ((await stack.ask('/live/state')).show !== show) await pause(50);
  return output;
}

try {
  await stack.start();
  browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--use-angle=swiftshader', '--enable-unsafe-swiftshader', '--disable-background-networking'] });
  console.log('### A frame of a player by its regions (480 × 320 px)\n\n| regions | draw calls | triangles | uploads | script, ms | plain regions, ms | ratio | frames a second, drawn in software |\n|---|---|---|---|---|---|---|---|');
  for (const count of [3, 6, 12, 24]) {
    const [plain, bend] = [await framesOf(browser, stack, await lay(count, false)), await framesOf(browser, stack, await lay(count, true))];
    console.log(`| ${count} | ${bend.draws.toFixed(0)} | ${bend.triangles.toFixed(0)} | ${bend.uploads.toFixed(2)} | ${bend.script.toFixed(2)} | ${plain.script.toFixed(2)} | ${(bend.script / plain.script).toFixed(1)} | ${bend.rate.toFixed(0)} (plain ${plain.rate.toFixed(0)}) |`);
  }
} finally {
  await browser?.close();
  await stack.stop();
}
