// In a real browser, on a show of 100 walls: what the venue takes at rest and while playing, and how long it is from a press
// until a player has drawn it. Software drawing says nothing of frame rates; script time and how often something is drawn do.
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { chromium } from '@playwright/test';
import { at, create, pause, Stack } from './stack.mjs';

const S = 705_600_000;
const stack = new Stack(4490);
const { address } = stack;
const show = stack.artisan('kite:big', '100', '67', '1000', '100', '--engage');
let browser;
const end = async () => {
  await browser?.close().catch(() => undefined);
  await stack.stop();
};
process.on('SIGINT', () => void end().then(() => process.exit(1)));
try {
  await stack.start();
  const ask = (path, body) => stack.ask(path, body);
  while ((await ask('/live/state')).compiler?.ready !== true) await pause(100);
  const rows = (await ask(`/api/shows/${show}`)).rows;
  const output = '01hyyyyyyyyyyyyyyyyyyyyy01';
  await ask(`/api/shows/${show}/edits`, { name: 'A small output', changes: [create('output', output, { name: 'Small', width: 64, height: 64 }), create('region', '01hyyyyyyyyyyyyyyyyyyyyy02', { output, surface: rows.surface[0].id, source: [900, 400, 64, 64] })] });
  browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--use-angle=swiftshader', '--enable-unsafe-swiftshader', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--disable-background-timer-throttling', '--disable-renderer-backgrounding', '--disable-backgrounding-occluded-windows'] });

  // From a press until a player has drawn it.
  const player = await (await browser.newContext({ viewport: { width: 640, height: 360 } })).newPage();
  await player.goto(`${address}/player/${output}`);
  await player.waitForFunction(() => window.kiteDrawn?.revision > 0);
  await player.evaluate(() => {
    window.seen = [];
    let [revision, engine] = [0, 0];
    const look = () => {
      const now = window.kiteDrawn;
      if (now.revision !== revision) window.seen.push(['revision', (revision = now.revision), performance.timeOrigin + performance.now()]);
      const moved = window.kiteShow?.();
      if (moved !== engine) window.seen.push(['show', (engine = moved), performance.timeOrigin + performance.now()]);
      requestAnimationFrame(look);
    };
    look();
  });
  const wait = async (kind, value) => {
    for (;;) {
      const found = await player.evaluate(([k, v]) => window.seen.find((s) => s[0] === k && s[1] >= v), [kind, value]);
      if (found) return found[2];
      await new Promise((done) => setTimeout(done, 5));
    }
  };
  const edits = [];
  for (let i = 0; i < 40; i++) {
    const clip = rows.clip[i];
    const began = Date.now();
    const { revision } = await ask(`/api/shows/${show}/edits`, { name: 'Move', changes: [{ kind: 'clip', id: clip.id, op: 'update', fields: { start: { before: clip.start, after: clip.start + S } } }] });
    edits.push((await wait('revision', revision)) - began);
  }
  const jumps = [];
  for (let i = 1; i <= 40; i++) {
    const began = Date.now();
    await ask('/live/command', { action: 'jump', time: i * 10 * S });
    jumps.push((await wait('show', i * 10 * S)) - began);
  }
  const frames = await player.evaluate(() => new Promise((done) => { const t = []; const look = (n) => { t.push(n); t.length < 60 ? requestAnimationFrame(look) : done((t[59] - t[0]) / 59); }; requestAnimationFrame(look); }));
  console.log('### From a press until a player has drawn it (1,657 rows, 20,100 keyframes)\n\n| what | p50 | p95 | floor: a frame of that player |\n|---|---|---|---|');
  console.log(`| an edit (a clip moved) | ${at(edits, 0.5).toFixed(0)} ms | ${at(edits, 0.95).toFixed(0)} ms | ${frames.toFixed(0)} ms |`);
  console.log(`| a jump | ${at(jumps, 0.5).toFixed(0)} ms | ${at(jumps, 0.95).toFixed(0)} ms | ${frames.toFixed(0)} ms |`);
  await player.context().close();

  // The venue, at rest and playing.
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable');
  await page.goto(`${address}/venue`);
  await page.waitForFunction(() => window.kiteStage?.drawn > 0);
  await new Promise((done) => setTimeout(done, 6000));
  const ticks = () => {
    let [gpu, all] = [0, 0];
    for (const line of execFileSync('pgrep', ['-f', 'chromium'], { encoding: 'utf8' }).trim().split('\n')) {
      try {
        const stat = readFileSync(`/proc/${line}/stat`, 'utf8').split(' ');
        const spent = (Number(stat[13]) + Number(stat[14])) / 100;
        all += spent;
        if (readFileSync(`/proc/${line}/cmdline`, 'utf8').includes('--type=gpu-process')) gpu += spent;
      } catch {
        // It ended meanwhile.
      }
    }
    return { gpu, all };
  };
  const measure = async (seconds) => {
    const metrics = async () => Object.fromEntries((await cdp.send('Performance.getMetrics')).metrics.map((m) => [m.name, m.value]));
    const [m0, c0, s0] = [await metrics(), ticks(), await page.evaluate(() => window.kiteStage)];
    await new Promise((done) => setTimeout(done, seconds * 1000));
    const [m1, c1, s1] = [await metrics(), ticks(), await page.evaluate(() => window.kiteStage)];
    return [(s1.drawn - s0.drawn) / seconds, (s1.composed - s0.composed) / seconds, (100 * (m1.ScriptDuration - m0.ScriptDuration)) / seconds, (100 * (c1.gpu - c0.gpu)) / seconds];
  };
  const line = (name, [drawn, composed, script, gpu]) => console.log(`| ${name} | ${drawn.toFixed(1)} | ${composed.toFixed(0)} | ${script.toFixed(1)} % | ${gpu.toFixed(0)} % |`);
  console.log('\n### The venue with 100 walls, in software drawing\n\n| state | pictures a second | surfaces composed a second | script, of a core | GPU process, of a core |\n|---|---|---|---|---|');
  line('at rest', await measure(10));
  await ask('/live/command', { action: 'jump', time: 30 * S });
  await ask('/live/command', { action: 'play' });
  await new Promise((done) => setTimeout(done, 1000));
  line('playing, all of it animated', await measure(10));
} finally {
  await end();
}
