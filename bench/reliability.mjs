// What a whole Kite Lamp stands: each process killed many times, malformed packets and requests, edits that clash, and a
// long time of playing. bench/reliability [--only kills,packets,edits,requests,hour] [--kills 100] [--packets 1000000]
// [--edits 5000] [--requests 20000] [--minutes 60] [--port 4510]; prints docs/reliability.md's tables.
import { spawnSync } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { existsSync, readFileSync } from 'node:fs';
import { fuzz } from './fuzz.mjs';
import { Packets } from './packets.mjs';
import { at, create, pause, Stack } from './stack.mjs';

const wanted = (name, usual) => Number(process.argv[process.argv.indexOf(`--${name}`) + 1 || Number.NaN] ?? usual) || usual;
const [kills, packets, edits, requests, minutes] = [wanted('kills', 100), wanted('packets', 1_000_000), wanted('edits', 5000), wanted('requests', 20_000), wanted('minutes', 60)];
const only = process.argv.includes('--only') ? process.argv[process.argv.indexOf('--only') + 1].split(',') : ['kills', 'packets', 'edits', 'requests', 'hour'];
const S = 705_600_000;
const stack = new Stack(wanted('port', 4510));
const node = new Packets(stack.port + 9);
const show = stack.artisan('kite:big', '20', '12', '200', '20', '--engage');
process.on('SIGINT', () => void stack.stop().then(() => process.exit(1)));

/** Waits for what holds; how long it took, in ms, or NaN after half a minute. */
async function until(holds) {
  const began = performance.now();
  while (performance.now() - began < 30_000) {
    if (await holds().catch(() => false)) return performance.now() - began;
    await pause(10);
  }
  return Number.NaN;
}
/** What the engine says; asked again while the way there is down. */
const state = async () => {
  let said = null;
  await until(async () => (said = await stack.ask('/live/state')).status === 200);
  return said;
};
const up = async () => (await stack.ask('/api/shows')).status === 200;
const ms = (n) => (Number.isNaN(n) ? 'never' : n < 1000 ? `${n.toFixed(0)} ms` : `${(n / 1000).toFixed(2)} s`);
/** Processes that a process started, which go by other names. */
const children = (pid) => spawnSync('pgrep', ['-P', String(pid)], { encoding: 'utf8' }).stdout.split('\n').filter(Boolean).map(Number);
const memory = (pattern) =>
  stack
    .pids(pattern)
    .map((pid) => Number(/VmRSS:\s+(\d+)/.exec(existsSync(`/proc/${pid}/status`) ? readFileSync(`/proc/${pid}/status`, 'utf8') : '')?.[1] ?? 0))
    .reduce((a, b) => Math.max(a, b), 0) / 1024;

const UNIVERSES = 4;
/** Four lights of 64 pixels, one in each universe of sACN, on the show's first route. */
async function lightUp(rows) {
  const id = (n) => `01hyyyyyyyyyyyyyyyyyyyy${String(n).padStart(3, '0')}`;
  const route = rows.route[0];
  const lights = Array.from({ length: UNIVERSES }, (_, n) => id(10 + n));
  await stack.ask(`/api/shows/${show}/edits`, {
    name: 'Light up',
    changes: [
      create('fixture', id(1), { name: 'Bar', columns: 64, rows: 1, widthMm: 2000, heightMm: 50, channels: 'RGB' }),
      create('node', id(2), { name: 'Node', protocol: 'sacn', address: '127.0.0.1', port: stack.port + 9, onlyChanges: false }),
      ...lights.map((light, n) => create('surface', light, { name: `Bar ${n + 1}`, kind: 'light', shape: { fixture: id(1) } })),
      ...lights.map((light, n) => create('patch', id(20 + n), { surface: light, node: id(2), universe: 101 + n, channel: 1 })),
      { kind: 'route', id: route.id, op: 'update', fields: { surfaces: { before: route.surfaces, after: [...route.surfaces, ...lights] } } },
    ],
  });
}

try {
  await stack.start();
  await until(async () => (await state()).compiler?.ready === true);
  const rows = (await stack.ask(`/api/shows/${show}`)).rows;
  const line = rows.timeline[0].id;
  await node.listening;
  await lightUp(rows);
  await until(async () => (await state()).lights?.standby === true && (await node.heard()).length === UNIVERSES);
  await stack.ask('/live/command', { action: 'play' });
  await stack.ask('/live/command', { action: 'live', values: { 'master:show/level': 0.75 } });

  if (only.includes('kills')) console.log(`### Killed ${kills} times each, while playing\n\n| process | came back | p50 | p95 | worst | playback off by, worst | loose value kept | lights without a packet, worst |\n|---|---|---|---|---|---|---|---|`);
  const position = async () => {
    const now = await state();
    return [now.engine, now.decks?.[line]?.position, now.live?.['master:show/level'], now.decks?.[line]?.running];
  };
  const processes = {
    conductor: ['kite:conductor', async () => typeof (await position())[1] === 'number'],
    // Not the one that is gone: the engine may not have noticed yet.
    compiler: ['kite:compiler', async (old) => ((c) => c?.ready === true && c.trouble === '' && c.pid !== null && !old.includes(c.pid))((await state()).compiler)],
    'php-fpm, all': ['php-fpm', async () => stack.pids('php-fpm').length > 0 && (await up())],
    nginx: ['nginx', async () => stack.pids('nginx').length > 0 && (await up())],
    'lights, the one that sends': ['kite:lights', async (old) => ((l) => l !== null && l.standby === true && !old.includes(l.pid))((await state()).lights)],
    'lights, both': ['kite:lights', async (old) => ((l) => l !== null && !old.includes(l.pid))((await state()).lights)],
    worker: ['queue:work', async () => stack.pids('queue:work').length === 2],
  };
  for (const [name, [pattern, back]] of only.includes('kills') ? Object.entries(processes) : []) {
    const took = [];
    let [off, kept, returned, dark] = [0, true, 0, 0];
    await until(async () => (await position())[1] > 0);
    for (let i = 0; i < kills; i++) {
      const before = await position();
      // Of a timeline that would end meanwhile, playback begins anew.
      if (before[1] > 40 * S || before[3] !== true) {
        await stack.ask('/live/command', { action: 'jump', time: 0 });
        await stack.ask('/live/command', { action: 'play' });
        await until(async () => (await position())[1] > 0);
      }
      const [engine, from] = await position();
      const sender = (await state()).lights?.pid;
      const old = name.includes('sends') ? [sender] : stack.pids(pattern).flatMap((pid) => [pid, ...children(pid)]);
      node.anew();
      await until(async () => (await node.heard()).length === UNIVERSES);
      for (const pid of old) {
        try {
          process.kill(pid, 'SIGKILL');
        } catch {
          // It went by itself.
        }
      }
      const began = performance.now();
      took.push(await until(async () => old.every((pid) => !stack.pids(pattern).includes(pid)) && (await back(old))));
      await until(async () => (await node.heard()).every((u) => u.count > 40));
      dark = Math.max(dark, ...(await node.heard()).map((u) => u.gap));
      returned += Number.isNaN(took.at(-1)) ? 0 : 1;
      const [later, to, level] = await position();
      // What ends within two seconds of its start is started ever later: each has lived before it is killed.
      await pause(took.at(-1) + 2200 - (performance.now() - began));
      off = Math.max(off, Math.abs(to - from - (later - engine)) / S);
      kept = kept && level === 0.75;
    }
    console.log(`| ${name} | ${returned} of ${kills} | ${ms(at(took, 0.5))} | ${ms(at(took, 0.95))} | ${ms(Math.max(...took))} | ${(off * 1000).toFixed(3)} ms | ${kept ? 'yes' : 'no'} | ${ms(dark)} |`);
  }

  if (only.includes('packets')) {
    console.log(`\n### ${packets.toLocaleString('en')} malformed packets over UDP\n`);
    await until(async () => (await state()).compiler?.ready === true);
    const before = await state();
    const socket = createSocket('udp4');
    let seed = 7;
    const random = () => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32;
    const starts = [Buffer.from('/kite/jump\0\0,f\0\0'), Buffer.from('#bundle\0'), Buffer.from('/kite/*\0,'), Buffer.alloc(0)];
    const began = performance.now();
    for (let i = 0; i < packets; i++) {
      const tail = Buffer.from(Array.from({ length: Math.floor(random() * 60) }, () => Math.floor(random() * 256)));
      const bytes = Buffer.concat([starts[Math.floor(random() * starts.length)], tail]);
      await new Promise((done) => socket.send(bytes.length === 0 ? Buffer.from([0]) : bytes, stack.port + 2, '127.0.0.1', done));
    }
    const sent = (performance.now() - began) / 1000;
    socket.close();
    await pause(1000);
    const after = await state();
    console.log(`Sent in ${sent.toFixed(0)} s. Read ${(after.osc.packets - before.osc.packets).toLocaleString('en')} (the rest was dropped by the system before it was read), refused as malformed ${(after.osc.bad - before.osc.bad).toLocaleString('en')}, caught by the guard ${after.guard.caught - before.guard.caught}. The same process: ${after.pid === before.pid ? 'yes' : 'no'}. Ticks late, p99: ${after.lateness.p99.toFixed(1)} ms. Memory ${(before.memory / 1e6).toFixed(0)} to ${(after.memory / 1e6).toFixed(0)} MB.`);
  }

  if (only.includes('edits')) {
    console.log(`\n### Two people, ${edits.toLocaleString('en')} edits each, all of the same field\n`);
    const seat = '01hyyyyyyyyyyyyyyyyyyyyy09';
    await stack.ask(`/api/shows/${show}/edits`, { name: 'Add', changes: [create('seat', seat, { name: 'Row' })] });
    const revision = async () => (await stack.ask(`/api/shows/${show}`)).revision;
    const from = await revision();
    const counts = { 201: 0, 409: 0, other: 0 };
    const told = [];
    const person = async (name, cookie) => {
      let present = 'Row';
      for (let i = 0; i < edits; i++) {
        const began = performance.now();
        const answer = await stack.ask(`/api/shows/${show}/edits`, { name: 'Rename', changes: [{ kind: 'seat', id: seat, op: 'update', fields: { name: { before: present, after: `${name} ${i}` } } }] }, 'POST', { Cookie: `kite_person=${cookie}` });
        told.push(performance.now() - began);
        counts[answer.status] === undefined ? counts.other++ : counts[answer.status]++;
        present = answer.status === 409 ? answer.clashes[0].present : `${name} ${i}`;
      }
    };
    await Promise.all([person('Mira', '01hzzzzzzzzzzzzzzzzzzzzzz1'), person('Tam', '01hzzzzzzzzzzzzzzzzzzzzzz2')]);
    const last = (await stack.ask(`/api/shows/${show}`)).rows.seat.find((r) => r.id === seat).name;
    console.log(`Taken ${counts[201]}, told of a clash ${counts[409]}, answered otherwise ${counts.other}. Revisions ${(await revision()) - from}, as many as were taken: ${(await revision()) - from === counts[201] ? 'yes' : 'no'}. In the end it is called "${last}". p50 ${at(told, 0.5).toFixed(1)} ms, p99 ${at(told, 0.99).toFixed(1)} ms.`);
  }

  if (only.includes('requests')) {
    console.log(`\n### ${requests.toLocaleString('en')} requests that nobody would send, 8 at once\n`);
    const { addresses, statuses, faults, slow, p50, p99, worst } = await fuzz(stack, show, requests);
    console.log(`To ${addresses} addresses of the API and to the engine. Answers by status: ${Object.entries(statuses).map(([status, n]) => `${status}: ${n.toLocaleString('en')}`).join(', ')}. Answered by a fault, or without a message: ${faults.length}. Beside the expensive ones: p50 ${p50.toFixed(0)} ms, p99 ${p99.toFixed(0)} ms, the slowest ${worst.toFixed(0)} ms, over 2 s ${slow.length}.`);
    for (const line of [...faults.slice(0, 20), ...slow.slice(0, 20)]) console.error(line);
  }

  if (only.includes('hour')) {
    console.log(`\n### ${minutes} minutes of playing\n\n| process | memory at the start | at the end |\n|---|---|---|`);
    const watched = { conductor: 'kite:conductor', compiler: 'kite:compiler', 'lights, larger': 'kite:lights', 'php-fpm, largest': 'php-fpm', nginx: 'nginx', 'worker, larger': 'queue:work', 'virtual rig': 'kite:inputs', launcher: 'launcher.php' };
    // Children of the web server's PHP come and go by their own rule; the others are to stay who they are.
    const lasting = () => Object.fromEntries(Object.entries(watched).map(([name, pattern]) => [name, String(name.startsWith('php') ? [] : stack.pids(pattern).sort())]));
    const first = lasting();
    node.anew();
    const start = Object.fromEntries(Object.entries(watched).map(([name, pattern]) => [name, memory(pattern)]));
    const until2 = Date.now() + minutes * 60_000;
    let [held, worst] = [0, 0];
    while (Date.now() < until2) {
      const now = await state();
      if (now.decks[line].running !== true) {
        held++;
        await stack.ask('/live/command', { action: 'jump', time: 0 });
        await stack.ask('/live/command', { action: 'play' });
      }
      worst = Math.max(worst, now.lateness.p99);
      await pause(1000);
    }
    const heard = await node.heard();
    const floor = await node.floor();
    const last = lasting();
    const restarts = Object.keys(first).filter((name) => first[name] !== last[name]);
    for (const [name, pattern] of Object.entries(watched)) console.log(`| ${name} | ${start[name].toFixed(0)} MB | ${memory(pattern).toFixed(0)} MB |`);
    console.log(`\nPlayed from the start again ${held} times. Ticks late, p99, worst of all seconds: ${worst.toFixed(1)} ms. Processes that are not the same as at the start: ${restarts.join(', ') || 'none'}. Packets of ${heard.length} universes: ${heard.map((u) => u.count.toLocaleString('en')).join(', ')}; the longest time without one ${Math.max(...heard.map((u) => u.gap)).toFixed(0)} ms, over 100 ms ${heard.reduce((sum, u) => sum + u.over, 0)} times in all of them. A clock of 50 Hz beside them, which does nothing: the longest time without a beat ${floor.gap.toFixed(0)} ms, over 100 ms ${floor.over} times.`);
  }
} finally {
  await node.stop();
  await stack.stop();
}
