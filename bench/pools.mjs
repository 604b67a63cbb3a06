// What a plain request waits while all expensive addresses of the demo are in flight: bench/run pools. The floor is the same request
// on a machine where nobody else asks.
import { readFileSync } from 'node:fs';
import { at, pause, root, Stack } from './stack.mjs';

const stack = new Stack(4530);
try {
  stack.artisan('kite:demo');
  await stack.start();
  const [{ id }] = (await stack.ask('/api/shows')).shows;
  const { rows } = await stack.ask(`/api/shows/${id}`);
  const fill = (route) => {
    const of = /regions\//.test(route) ? rows.region : /surfaces\//.test(route) ? rows.surface : [null];
    return of.map((row) => `/${route.replace('shows/[^/]+', `shows/${id}`).replace('[^/]+[.]', `${/specification|template|lights/.test(route) ? '' : row?.id}.`).replace(/(regions|surfaces)\/\[\^\/\]\+/, `$1/${row?.id}`).replaceAll('[.]', '.').replace(/\.\[\^\/\]\+$/, '.pdf')}`);
  };
  const routes = readFileSync(`${root}/deploy/expensive.txt`, 'utf8').trim().slice(3, -2).split('|');
  const expensive = routes.filter((r) => !r.includes('patterns')).flatMap(fill).map((a) => a.replace('template.pdf', 'template.png').replace(/seam$/, 'seam?from=0.1,0.5&to=0.9,0.5'));
  const plain = async () => {
    const began = performance.now();
    const answer = await fetch(`${stack.address}/api/shows`, { headers: stack.headers });
    await answer.text();
    return performance.now() - began;
  };
  const alone = [];
  for (let i = 0; i < 100; i++) alone.push(await plain());
  for (const round of ['first', 'kept']) {
    const codes = {};
    let left = expensive.length;
    const began = performance.now();
    for (const address of expensive)
      void fetch(`${stack.address}${address}`, { headers: stack.headers })
        .then(async (answer) => {
          codes[answer.status] = (codes[answer.status] ?? 0) + 1;
          await answer.arrayBuffer();
        })
        .catch(() => undefined)
        .finally(() => left--);
    const took = [];
    while (left > 0 && performance.now() - began < 120_000) {
      took.push(await plain());
      await pause(10);
    }
    console.log(`${round}: ${expensive.length} expensive in ${((performance.now() - began) / 1000).toFixed(1)} s (${JSON.stringify(codes)}); plain, ${took.length}: p50 ${at(took, 0.5).toFixed(0)}, p95 ${at(took, 0.95).toFixed(0)}, most ${Math.max(...took).toFixed(0)} ms; alone p50 ${at(alone, 0.5).toFixed(0)}, p95 ${at(alone, 0.95).toFixed(0)} ms`);
  }
} finally {
  await stack.stop();
}
