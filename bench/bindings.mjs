// From an event of a bound control at the engine's socket to the picture of a player, against a command of a window that
// does the same; and a flood of events, after which the last value has to stand.
import { createSocket } from 'node:dgram';
import { chromium } from '@playwright/test';
import { at, create, pause, Stack } from './stack.mjs';

const EVENTS = 150;
const FLOOD = [1000, 5000, 10000];
const SECONDS = 10;
const S = 705_600_000;
const id = (n) => `01hzz0000${String(n).padStart(17, '0')}`;
const stack = new Stack(4510);
await stack.start();
const show = (await stack.ask('/api/shows', { name: 'Bindings', frameRate: '50' })).id;
const [panel, wall, line, layer, route, media, clip, output, region, device, binding, touch, touched] = Array.from({ length: 13 }, (_, i) => id(i + 1));
await stack.ask(`/api/shows/${show}/edits`, {
  name: 'Lay out',
  changes: [
    create('panel', panel, { name: 'P', widthMm: 500, heightMm: 500, widthPx: 32, heightPx: 32 }),
    create('surface', wall, { name: 'Wall', cells: [[panel]], seams: [] }),
    create('timeline', line, { name: 'Main', duration: 60 * S }),
    create('media', media, { name: 'White', kind: 'solid', colour: '#ffffff' }),
    create('layer', layer, { timeline: line, name: 'L', route }),
    create('route', route, { surfaces: [wall], layer }),
    create('clip', clip, { layer, media, start: 0, length: 60 * S }),
    create('output', output, { name: 'O', width: 32, height: 32, refresh: 60 }),
    create('region', region, { output, surface: wall, source: [0, 0, 32, 32] }),
    create('device', device, { name: 'Pad', protocol: 'osc' }),
    create('binding', binding, { device, control: '/fader', meaning: 'value', gesture: 'move', target: 'master:show/level', takeover: 'jump', to: 1 }),
    create('device', touch, { name: 'Panel', protocol: 'touch' }),
    create('binding', touched, { device: touch, control: '/fader1', meaning: 'value', gesture: 'move', target: 'master:show/level', takeover: 'jump', to: 1 }),
  ],
});
await stack.ask(`/api/shows/${show}/engage`, {});
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--use-gl=angle', '--use-angle=swiftshader', '--enable-unsafe-swiftshader', '--no-sandbox'] });
const page = await browser.newPage({ viewport: { width: 200, height: 200 } });
await page.goto(`${stack.address}/player/${output}`);
await page.waitForFunction(() => document.querySelector('canvas') !== null);
// When each other grey was first seen, by the clock that this process has too.
await page.evaluate(() => {
  const seen = [];
  window.seen = seen;
  const canvas = document.querySelector('canvas');
  const gl = canvas.getContext('webgl2');
  const rgba = new Uint8Array(4);
  let last = -1;
  const look = () => {
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
    gl.readPixels(16, 16, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, rgba);
    if (rgba[0] !== last) seen.push([(last = rgba[0]), performance.timeOrigin + performance.now()]);
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
});
const socket = createSocket('udp4');
const text = (s) => Buffer.concat([Buffer.from(s), Buffer.alloc(4 - (s.length % 4))]);
const osc = (value) => {
  const number = Buffer.alloc(4);
  number.writeFloatBE(value);
  return Buffer.concat([text('/fader'), text(',f'), number]);
};
const send = (bytes) => new Promise((done) => socket.send(bytes, stack.port + 2, '127.0.0.1', done));
const measure = async (give) => {
  const took = [];
  for (let i = 0; i < EVENTS; i++) {
    const grey = i % 2 === 0 ? 60 : 200;
    await page.evaluate(() => (window.seen.length = 0));
    const began = performance.timeOrigin + performance.now();
    await give(grey / 255);
    const when = await page.waitForFunction((g) => window.seen.find(([is]) => Math.abs(is - g) <= 1)?.[1], grey, { polling: 4 });
    took.push((await when.jsonValue()) - began);
    await pause(20 + ((i * 7) % 30));
  }
  return took;
};
const bound = await measure((value) => send(osc(value)));
const commanded = await measure((value) => stack.ask('/live/command', { action: 'live', values: { 'master:show/level': value } }));
// A touch panel has a stream of its own, by which it delivers what fingers do.
const leaves = new AbortController();
const reader = (await fetch(`${stack.address}/live/stream`, { headers: stack.headers, signal: leaves.signal })).body.getReader();
let stream = 0;
for (let read = ''; stream === 0; stream = Number(/"stream":(\d+)/.exec(read)?.[1] ?? 0)) read += Buffer.from((await reader.read()).value).toString('latin1');
void (async () => {
  while (!(await reader.read()).done);
})().catch(() => undefined);
const touching = await measure((value) => stack.ask('/live/controls', { stream, events: [{ source: 'touch', panel: 'Panel', control: 'fader1', value: [value] }] }));
leaves.abort();
const row = (what, list) => `| ${what} | ${at(list, 0.5).toFixed(0)} ms | ${at(list, 0.95).toFixed(0)} ms | ${Math.max(...list).toFixed(0)} ms |`;
console.log(`### From a control to the picture\n\n${EVENTS} events each; of the command, with the request.\n\n| what | p50 | p95 | max |\n|---|---|---|---|`);
console.log(row('bound fader, at the OSC socket', bound));
console.log(row('fader of a touch panel, with the request', touching));
console.log(row('floor: command of a window', commanded));

console.log(`\n| events a second, for ${SECONDS} s | came | last value stands | ticks late, p99 | busy of 100 ms, p99 |\n|---|---|---|---|---|`);
for (const rate of FLOOD) {
  const before = (await stack.ask('/live/state')).osc.packets;
  const began = performance.now();
  let sent = 0;
  while (performance.now() - began < SECONDS * 1000) {
    const due = Math.floor(((performance.now() - began) / 1000) * rate);
    const some = [];
    for (; sent < due; sent++) some.push(send(osc((sent % 1000) / 1001)));
    await Promise.all(some);
    await pause(1);
  }
  const last = (0.25 + rate / 100_000).toFixed(4);
  await send(osc(Number(last)));
  await pause(500);
  const state = await stack.ask('/live/state');
  const stands = Math.abs(state.live['master:show/level'] - Number(last)) < 1e-4;
  console.log(`| ${rate.toLocaleString('en')} | ${(((state.osc.packets - before) / (sent + 1)) * 100).toFixed(1)} % | ${stands ? 'yes' : 'NO'} | ${state.lateness.p99.toFixed(1)} ms | ${state.busy.p99.toFixed(0)} ms |`);
}
socket.close();
await browser.close();
await stack.stop();
