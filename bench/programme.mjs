// From the press of a cue until a player has drawn it, what running cues cost the engine, the timeline view at 5,000 clips and
// 50,000 keyframes at 1×, 2× and 4× of it, and how far sound is off: bench/programme.mjs [seconds of sound]
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { at, create, pause, Stack } from './stack.mjs';

const S = 705_600_000;
const seconds = Number(process.argv[2] ?? 30);
const stack = new Stack(4545);
const { address } = stack;
const id = (n) => `01hxx${String(n).padStart(21, '0')}`;
let browser;
const end = async () => {
  await browser?.close().catch(() => undefined);
  await stack.stop();
};
process.on('SIGINT', () => void end().then(() => process.exit(1)));

/** A mono sound of silence with a click each second. */
function clicks(path, length) {
  const samples = new Int16Array(48_000 * length);
  for (let s = 0; s < length; s++) for (let i = 0; i < 24; i++) samples[s * 48_000 + i] = i % 2 === 0 ? 30_000 : -30_000;
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + samples.byteLength, 4);
  head.write('WAVEfmt ', 8);
  for (const [at, size, value] of [[16, 4, 16], [20, 2, 1], [22, 2, 1], [24, 4, 48_000], [28, 4, 96_000], [32, 2, 2], [34, 2, 16]]) size === 4 ? head.writeUInt32LE(value, at) : head.writeUInt16LE(value, at);
  head.write('data', 36);
  head.writeUInt32LE(samples.byteLength, 40);
  writeFileSync(path, Buffer.concat([head, Buffer.from(samples.buffer)]));
}

async function upload(show, path, name, bytes) {
  const { id: upload } = await stack.ask(`/api/shows/${show}/uploads`, { name, bytes: bytes.length });
  for (let from = 0; from < bytes.length; from += 4_000_000) {
    const answer = await fetch(`${address}/api/uploads/${upload}?at=${from}`, { method: 'PUT', headers: { ...stack.headers, 'Content-Type': 'application/octet-stream' }, body: bytes.subarray(from, from + 4_000_000) });
    const said = await answer.json();
    if (said.media !== undefined) return said.media;
  }
}

try {
  await stack.start();
  const ask = (path, body) => stack.ask(path, body);
  const { id: show } = await ask('/api/shows', { name: 'Programme', frameRate: '25' });
  const layers = Array.from({ length: 64 }, (_, i) => id(100 + i));
  const values = ['opacity', 'x', 'y', 'scale', 'turn'];
  const held = (number) => layers.slice(0, 60).flatMap((layer) => values.map((p) => ({ a: `layer:${layer}/${p}`, v: p === 'opacity' ? number : p === 'scale' ? 1 : 0 })));
  const moving = layers.slice(0, 60).flatMap((layer) => values.map((p) => ({ a: `layer:${layer}/${p}`, v: 0.5, keys: [{ t: 0, v: 0.2, i: 'smooth' }, { t: S, v: 0.9, i: 'smooth' }, { t: 2 * S, v: 0.2 }] })));
  const { status } = await ask(`/api/shows/${show}/edits`, {
    name: 'Lay out',
    changes: [
      create('panel', id(1), { name: 'P', widthMm: 500, heightMm: 500, widthPx: 64, heightPx: 64 }),
      create('surface', id(2), { name: 'W', cells: [[id(1)]], seams: [] }),
      create('timeline', id(3), { name: 'Main', duration: 1200 * S }),
      create('media', id(4), { name: 'White', kind: 'solid', colour: '#ffffff' }),
      create('output', id(5), { name: 'O', width: 64, height: 64 }),
      create('region', id(6), { output: id(5), surface: id(2), source: [0, 0, 64, 64] }),
      create('route', id(7), { name: 'All', surfaces: [id(2)] }),
      ...layers.map((layer, i) => create('layer', layer, { timeline: id(3), name: `L ${i}`, order: i, route: id(7) })),
      ...layers.map((layer, i) => create('clip', id(200 + i), { layer, media: id(4), start: 0, length: 1200 * S })),
      create('cue', id(10), { number: '1', name: 'On', held: held(1) }),
      create('cue', id(11), { number: '2', name: 'Off', held: held(0).concat(layers.slice(60).map((l) => ({ a: `layer:${l}/opacity`, v: 0 }))) }),
      create('cue', id(12), { number: '3', name: 'Moving', held: moving, loop: 2 * S }),
    ],
  });
  if (status >= 300) throw new Error(`the show was not laid out: ${status}`);
  await ask(`/api/shows/${show}/engage`, {});
  while ((await ask('/live/state')).show !== show || (await ask('/live/state')).compiler?.ready !== true) await pause(100);
  browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--use-angle=swiftshader', '--enable-unsafe-swiftshader', '--autoplay-policy=no-user-gesture-required', '--disable-background-timer-throttling', '--disable-renderer-backgrounding', '--disable-backgrounding-occluded-windows'] });
  const player = await (await browser.newContext({ viewport: { width: 200, height: 150 } })).newPage();
  await player.goto(`${address}/player/${id(5)}`);
  await player.waitForFunction(() => window.kiteDrawn?.revision > 0);
  await ask('/live/command', { action: 'fire', cue: '2' });
  await player.evaluate(() => {
    window.seen = [];
    let lit = null;
    const look = () => {
      const canvas = document.querySelector('canvas');
      const gl = canvas.getContext('webgl2');
      const rgba = new Uint8Array(4);
      gl.bindFramebuffer(gl.FRAMEBUFFER, null);
      gl.readPixels(32, 32, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, rgba);
      const now = rgba[0] > 127;
      if (now !== lit) window.seen.push([(lit = now), performance.timeOrigin + performance.now()]);
      if (rgba[0] > 8 && rgba[0] < 247) window.mixed = (window.mixed ?? 0) + 1;
      requestAnimationFrame(look);
    };
    look();
  });
  await pause(500);
  const times = [];
  for (let i = 0; i < 60; i++) {
    const before = await player.evaluate(() => window.seen.length);
    const began = Date.now();
    await ask('/live/command', { action: 'fire', cue: i % 2 === 0 ? '1' : '2' });
    for (;;) {
      const found = await player.evaluate((n) => window.seen[n]?.[1], before);
      if (found !== undefined) {
        times.push(found - began);
        break;
      }
      await pause(4);
    }
    await pause(60);
  }
  const mixed = await player.evaluate(() => window.mixed ?? 0);
  console.log('### From the press of a cue of 300 values until a player has drawn it (software drawing)\n\n| p50 | p95 | max | frames of mixture |\n|---|---|---|---|');
  console.log(`| ${at(times, 0.5).toFixed(0)} ms | ${at(times, 0.95).toFixed(0)} ms | ${Math.max(...times).toFixed(0)} ms | ${mixed} |`);

  await ask('/live/command', { action: 'fire', cue: '3' });
  await ask('/live/command', { action: 'play' });
  const used = async () => Number(readFileSync(`/proc/${(await ask('/live/state')).pid}/stat`, 'utf8').split(' ')[13]);
  /** What the engine takes of a core, in per cent, how late its loop is, and how long it is busy itself in a tenth of a second. Its figures are those of a minute. */
  const running = async () => {
    const before = await used();
    await pause(61_000);
    const { lateness, busy } = await ask('/live/state');
    return `${(((await used()) - before) / 61).toFixed(1)} % | ${lateness.p99.toFixed(1)} ms | ${busy.p99.toFixed(1)} ms |`;
  };
  console.log('\n### While 300 values of a cue move and 64 layers play, a minute\n\n| beside it | engine, of a core | its loop late, p99 | busy of 100 ms, p99 |\n|---|---|---|---|');
  console.log(`| a browser that draws in software | ${await running()}`);
  // A page that draws nothing stands in for machines of their own.
  const playing = player.url();
  await player.goto('about:blank');
  await pause(2000);
  console.log(`| nothing that draws | ${await running()}`);
  // The floor: a loop that does nothing but come round as often.
  const empty = `require 'vendor/autoload.php'; $loop = React\\EventLoop\\Loop::get(); $late = []; $due = hrtime(true) / 1e6 + 100;
    $tick = function () use (&$tick, &$late, &$due, $loop) { $now = hrtime(true) / 1e6; $late[] = max(0, $now - $due); $due = $now + 100; count($late) < 600 ? $loop->addTimer(0.1, $tick) : $loop->stop(); };
    $loop->addTimer(0.1, $tick); $loop->run(); sort($late); echo $late[594];`;
  console.log(`| an empty loop in place of the engine | | ${Number(execFileSync('php', ['-r', empty], { encoding: 'utf8' })).toFixed(1)} ms | |`);
  await player.goto(playing);
  await player.waitForFunction(() => window.kiteDrawn?.revision > 0);

  const storm = [];
  for (let i = 0; i < 500; i++) {
    const began = performance.now();
    await ask('/live/command', { action: 'fire', cue: i % 2 === 0 ? '1' : '2' });
    storm.push(performance.now() - began);
    await pause(Math.max(0, 20 - (performance.now() - began)));
  }
  const after = await ask('/live/state');
  console.log(`\n### A cue of 300 values fired 50 times a second for 10 s\n\n| answered, p50 | p95 | errors caught | memory |\n|---|---|---|---|\n| ${at(storm, 0.5).toFixed(1)} ms | ${at(storm, 0.95).toFixed(1)} ms | ${after.guard.caught} | ${(after.memory / 1e6).toFixed(0)} MB |`);
  await player.close();
  await ask('/live/command', { action: 'stop' });

  console.log('\n### The timeline view\n\n| clips | keyframes | first drawing | script and layout a scrolling step, p50 | p95 |\n|---|---|---|---|---|');
  let made = 0;
  for (const times of [1, 2, 4]) {
    const changes = [];
    for (; made < times; made++) {
      layers.forEach((layer, l) => {
        for (let i = 0; i < 78; i++) changes.push(create('clip', id(10_000 + made * 6000 + l * 78 + i), { layer, media: id(4), start: (10 + made * 290 + i * 3.5) * S, length: 3 * S }));
        const property = ['opacity', 'x', 'y', 'turn'][made];
        changes.push(create('curve', id(90_000 + made * 100 + l), { owner: layer, property, keyframes: Array.from({ length: 782 }, (_, k) => ({ t: k * S, v: (k % 10) / 10 })) }));
      });
    }
    for (let i = 0; i < changes.length; i += 2000) await ask(`/api/shows/${show}/edits`, { name: 'More', changes: changes.slice(i, i + 2000) });
    while ((await ask('/live/state')).compiler?.revision !== (await ask(`/api/shows/${show}`)).revision) await pause(100);
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    const began = performance.now();
    await page.goto(`${address}/timeline`);
    await page.locator('.tl-clip').first().waitFor();
    const first = performance.now() - began;
    await page.getByRole('button', { name: 'Zoom in' }).click({ clickCount: 4 });
    const cdp = await page.context().newCDPSession(page);
    await cdp.send('Performance.enable');
    const work = async () => Object.fromEntries((await cdp.send('Performance.getMetrics')).metrics.map((m) => [m.name, m.value]));
    const steps = [];
    for (let i = 0; i < 60; i++) {
      const before = await work();
      await page.evaluate((n) => {
        const body = document.querySelector('.tl-body');
        body.scrollLeft += 130;
        if (n % 5 === 0) body.scrollTop += 60;
        return new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
      }, i);
      const now = await work();
      steps.push((now.ScriptDuration - before.ScriptDuration + now.LayoutDuration - before.LayoutDuration + now.RecalcStyleDuration - before.RecalcStyleDuration) * 1000);
    }
    console.log(`| ${(64 + times * 64 * 78).toLocaleString('en')} | ${(times * 64 * 782).toLocaleString('en')} | ${first.toFixed(0)} ms | ${at(steps, 0.5).toFixed(1)} ms | ${at(steps, 0.95).toFixed(1)} ms |`);
    await page.close();
  }

  const wav = join(stack.folder, 'clicks.wav');
  clicks(wav, 60);
  const { id: quay } = await ask('/api/shows', { name: 'Sound', frameRate: '25' });
  const media = await upload(quay, wav, 'clicks.wav', readFileSync(wav));
  await ask(`/api/shows/${quay}/edits`, { name: 'Lay out', changes: [create('timeline', id(3001), { name: 'Main', duration: 3600 * S }), create('layer', id(3002), { timeline: id(3001), name: 'L' }), create('clip', id(3003), { layer: id(3002), media, start: 0, length: 3600 * S, pastEnd: 'loop' })] });
  while ((await ask(`/api/shows/${quay}`)).rows.media[0].state !== 'ready') await pause(200);
  await ask(`/api/shows/${quay}/engage`, {});
  while ((await ask('/live/state')).show !== quay || (await ask('/live/state')).compiler?.ready !== true) await pause(100);
  const page = await (await browser.newContext()).newPage();
  await page.goto(`${address}/timeline`);
  await page.getByRole('button', { name: 'Sound', exact: true }).click();
  await ask('/live/command', { action: 'play' });
  await pause(3000);
  await page.evaluate(() => {
    window.kiteSound.off.most = 0;
    window.kiteSound.off.anew = 0;
  });
  const each = [];
  for (let s = 0; s < seconds; s++) {
    await pause(1000);
    each.push(Math.abs(await page.evaluate(() => window.kiteSound.off.last)));
  }
  const off = await page.evaluate(() => window.kiteSound.off);
  console.log(`\n### Sound against the engine's clock, ${seconds} s of a loop of 60\n\n| p50 | p99 | max | set anew |\n|---|---|---|---|\n| ${at(each, 0.5).toFixed(2)} ms | ${at(each, 0.99).toFixed(2)} ms | ${off.most.toFixed(2)} ms | ${off.anew} |`);
} finally {
  await end();
}
