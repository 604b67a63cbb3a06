// Import: bytes into the show against cp of the same files, and files made ready against ffmpeg making the same form of them, at
// 1×, 2× and 4× the work; and three hundred small stills at once.
import { execFileSync, spawn } from 'node:child_process';
import { closeSync, fsyncSync, openSync, readFileSync, statSync, truncateSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { pause, Stack } from './stack.mjs';

const stack = new Stack(4540);
await stack.start();
const CHUNK = 8 * 1024 * 1024;
const show = (await stack.ask('/api/shows', { name: 'Bench', frameRate: '25' })).id;
const file = (name) => join(stack.folder, name);

async function send(path, name) {
  const bytes = readFileSync(path);
  const { id } = await stack.ask(`/api/shows/${show}/uploads`, { name, bytes: bytes.length });
  let last = {};
  for (let at = 0; at < bytes.length; at += CHUNK) {
    const answer = await fetch(`${stack.address}/api/uploads/${id}?at=${at}`, { method: 'PUT', headers: { ...stack.headers, 'Content-Type': 'application/octet-stream' }, body: bytes.subarray(at, at + CHUNK) });
    last = await answer.json();
    if (!answer.ok) throw new Error(JSON.stringify(last));
  }
  return last;
}
/** Does something for each, three at a time, as the studio does. */
async function three(list, what) {
  const left = [...list];
  await Promise.all([0, 1, 2].map(async () => {
    for (let one = left.shift(); one !== undefined; one = left.shift()) await what(one);
  }));
}
const took = async (what) => {
  const began = performance.now();
  await what();
  return (performance.now() - began) / 1000;
};
const ready = async () => {
  while ((await stack.ask('/api/storage')).waiting > 0) await pause(250);
};
const run = (command, args) => new Promise((done, fail) => spawn(command, args, { stdio: 'ignore' }).on('exit', (code) => (code === 0 ? done() : fail(new Error(`${command} ended with ${code}`)))));

// A video of 8 s in 1280 × 720, its content different each time.
const video = (n) => {
  const path = file(`clip ${n}.mp4`);
  execFileSync('ffmpeg', ['-y', '-v', 'error', '-f', 'lavfi', '-i', `testsrc2=s=1280x720:r=25:d=8,hue=h=${7 * n}`, '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '12', '-pix_fmt', 'yuv420p', path]);
  return path;
};
let made = 0;
console.log(`### Import, ${cpus().length} cores\n\n| files | MB | in the show, s | cp and sync, s | share of cp's rate | ready, s | ffmpeg alone, s | share of ffmpeg's rate |\n|---|---|---|---|---|---|---|---|`);
for (const count of [2, 4, 8]) {
  const paths = Array.from({ length: count }, () => video(made++));
  const bytes = paths.reduce((sum, path) => sum + statSync(path).size, 0);
  // As many at once as there are workers.
  const alone = await took(async () => {
    const left = [...paths];
    await Promise.all([0, 1].map(async () => {
      for (let path = left.shift(); path !== undefined; path = left.shift())
        await run('ffmpeg', ['-y', '-nostdin', '-v', 'error', '-i', path, '-vf', 'scale=in_color_matrix=bt709:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int,format=yuv420p', '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '14', '-profile:v', 'high', '-g', '12', '-keyint_min', '12', '-sc_threshold', '0', '-bf', '0', '-refs', '2', '-movflags', '+faststart', `${path}.form.mp4`]);
    }));
  });
  const all = await took(async () => {
    await three(paths, (path) => send(path, path.split('/').pop()));
    await ready();
  });
  console.log(`| ${count} videos | ${(bytes / 1e6).toFixed(0)} | | | | ${all.toFixed(1)} | ${alone.toFixed(1)} | ${Math.round((100 * alone) / all)} % |`);
}
// Sound of a length that takes long to send and little to make ready: how fast bytes arrive.
for (const count of [1, 2, 4]) {
  const paths = Array.from({ length: count }, () => {
    const path = file(`long ${made++}.wav`);
    execFileSync('ffmpeg', ['-y', '-v', 'error', '-f', 'lavfi', '-i', `sine=f=${200 + made}:r=48000:d=600`, '-ac', '2', path]);
    return path;
  });
  const bytes = paths.reduce((sum, path) => sum + statSync(path).size, 0);
  const copied = await took(async () => {
    for (const path of paths) {
      execFileSync('cp', [path, `${path}.copy`]);
      const handle = openSync(`${path}.copy`, 'r+');
      fsyncSync(handle);
      closeSync(handle);
      truncateSync(`${path}.copy`);
    }
  });
  const sent = await took(() => three(paths, (path) => send(path, path.split('/').pop())));
  console.log(`| ${count} sounds | ${(bytes / 1e6).toFixed(0)} | ${sent.toFixed(2)} | ${copied.toFixed(2)} | ${Math.round((100 * copied) / sent)} % | | | |`);
  await ready();
}
const small = Array.from({ length: 300 }, (_, n) => {
  const path = file(`lantern ${n}.png`);
  if (n === 0) execFileSync('ffmpeg', ['-y', '-v', 'error', '-f', 'lavfi', '-i', `testsrc2=s=320x180:r=300:d=1`, '-frames:v', '300', '-start_number', '0', file('lantern %d.png')]);
  return path;
});
const sent = await took(() => three(small, (path) => send(path, path.split('/').pop())));
const rest = await took(ready);
const counts = (await stack.ask(`/api/shows/${show}`)).rows.media.filter((m) => m.name.startsWith('lantern') && m.state === 'ready').length;
console.log(`\n300 stills of 320 × 180 at once: in the show after ${sent.toFixed(1)} s (${(300 / sent).toFixed(0)} a second), the last of them ready ${rest.toFixed(1)} s later; ${counts} of 300 ready.`);
await stack.stop();
