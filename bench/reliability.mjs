// What a whole Kite Lamp stands: each process killed many times, malformed packets, edits that clash, and a long time of
// playing. bench/reliability [--kills 100] [--packets 1000000] [--edits 2000] [--minutes 60]; prints docs/reliability.md's tables.
import { spawnSync } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { existsSync, readFileSync } from 'node:fs';
import { at, create, pause, Stack } from './stack.mjs';

const wanted = (name, usual) => Number(process.argv[process.argv.indexOf(`--${name}`) + 1 || Number.NaN] ?? usual) || usual;
const [kills, packets, edits, minutes] = [wanted('kills', 100), wanted('packets', 1_000_000), wanted('edits', 2000), wanted('minutes', 60)];
const S = 705_600_000;
const stack = new Stack(4510);
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

try {
  await stack.start();
  await until(async () => (await state()).compiler?.ready === true);
  const rows = (await stack.ask(`/api/shows/${show}`)).rows;
  const line = rows.timeline[0].id;
  await stack.ask('/live/command', { do: 'play' });
  await stack.ask('/live/command', { do: 'live', values: { 'master:show/level': 0.75 } });

  console.log(`### Killed ${kills} times each, while playing\n\n| process | came back | p50 | p95 | worst | playback off by, worst | loose value kept |\n|---|---|---|---|---|---|---|`);
  const position = async () => {
    const now = await state();
    return [now.engine, now.decks?.[line]?.position, now.live?.['master:show/level'], now.decks?.[line]?.running];
  };
  const processes = {
    conductor: ['kite:conductor', async () => typeof (await position())[1] === 'number'],
    // Not the one that is gone: the engine may not have noticed yet.
    compiler: ['kite:compiler', async (old) => ((c) => c?.ready === true && c.pid !== null && !old.includes(c.pid))((await state()).compiler)],
    'php-fpm, all': ['php-fpm', async () => stack.pids('php-fpm').length > 0 && (await up())],
    nginx: ['nginx', async () => stack.pids('nginx').length > 0 && (await up())],
    worker: ['queue:work', async () => stack.pids('queue:work').length === 2],
  };
  for (const [name, [pattern, back]] of Object.entries(processes)) {
    const took = [];
    let [off, kept, returned] = [0, true, 0];
    await until(async () => (await position())[1] > 0);
    for (let i = 0; i < kills; i++) {
      const before = await position();
      // Of a timeline that would end meanwhile, playback begins anew.
      if (before[1] > 40 * S || before[3] !== true) {
        await stack.ask('/live/command', { do: 'jump', time: 0 });
        await stack.ask('/live/command', { do: 'play' });
        await until(async () => (await position())[1] > 0);
      }
      const [engine, from] = await position();
      const old = stack.pids(pattern).flatMap((pid) => [pid, ...children(pid)]);
      for (const pid of old) {
        try {
          process.kill(pid, 'SIGKILL');
        } catch {
          // It went by itself.
        }
      }
      took.push(await until(async () => old.every((pid) => !stack.pids(pattern).includes(pid)) && (await back(old))));
      returned += Number.isNaN(took.at(-1)) ? 0 : 1;
      const [later, to, level] = await position();
      off = Math.max(off, Math.abs(to - from - (later - engine)) / S);
      kept = kept && level === 0.75;
    }
    console.log(`| ${name} | ${returned} of ${kills} | ${ms(at(took, 0.5))} | ${ms(at(took, 0.95))} | ${ms(Math.max(...took))} | ${(off * 1000).toFixed(3)} ms | ${kept ? 'yes' : 'no'} |`);
  }

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

  console.log(`\n### ${minutes} minutes of playing\n\n| process | memory at the start | at the end |\n|---|---|---|`);
  const watched = { conductor: 'kite:conductor', compiler: 'kite:compiler', 'php-fpm, largest': 'php-fpm', nginx: 'nginx', worker: 'queue:work' };
  const start = Object.fromEntries(Object.entries(watched).map(([name, pattern]) => [name, memory(pattern)]));
  const until2 = Date.now() + minutes * 60_000;
  let [held, worst] = [0, 0];
  while (Date.now() < until2) {
    const now = await state();
    if (now.decks[line].running !== true) {
      held++;
      await stack.ask('/live/command', { do: 'jump', time: 0 });
      await stack.ask('/live/command', { do: 'play' });
    }
    worst = Math.max(worst, now.lateness.p99);
    await pause(1000);
  }
  for (const [name, pattern] of Object.entries(watched)) console.log(`| ${name} | ${start[name].toFixed(0)} MB | ${memory(pattern).toFixed(0)} MB |`);
  console.log(`\nPlayed from the start again ${held} times. Ticks late, p99, worst of all seconds: ${worst.toFixed(1)} ms.`);
} finally {
  await stack.stop();
}
