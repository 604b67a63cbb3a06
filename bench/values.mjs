// 2,000 values of a frame as a player has them, against reading as many numbers from an array: at 1×, 2× and 4×.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'vite';

const root = join(import.meta.dirname, '..');
const folder = mkdtempSync(join(tmpdir(), 'kite-bench-'));
await build({ root, configFile: false, logLevel: 'error', build: { lib: { entry: join(root, 'resources/js/live/plan.ts'), formats: ['es'], fileName: 'plan' }, outDir: folder, emptyOutDir: false } });
const { Bundle, Plan } = await import(pathToFileURL(join(folder, 'plan.js')).href);
rmSync(folder, { recursive: true });

const median = (list) => [...list].sort((a, b) => a - b)[list.length >> 1];
console.log('### Values of one frame, in a player\n\n| values, animated | a frame | a value | floor: as many numbers read | ratio to floor | memory grown by 2,000 frames |\n|---|---|---|---|---|---|');
for (const layers of [667, 1334, 2668]) {
  const code = `require 'vendor/autoload.php'; echo base64_encode((new Core\\Plan\\PlanCompiler)->compile(App\\Demo\\BigShow::of(4, ${layers}, ${layers}, 20)->core(), 1)->toBytes());`;
  const bytes = Buffer.from(execFileSync('php', ['-d', 'memory_limit=2G', '-r', code], { cwd: root, encoding: 'utf8', maxBuffer: 1 << 28 }), 'base64');
  const plan = new Plan();
  plan.apply(Bundle.of(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength)));
  const slots = plan.surfaces().flatMap(([id]) => plan.contributions(id)).flatMap((c) => [c.opacity, c.x, c.y]);
  const once = [...new Set(slots)];
  const numbers = new Float64Array(once.length).fill(0.5);
  // What is measured keeps its sum to itself: a number that outlives its function is an object each time that it is written.
  const total = new Float64Array(1);
  const frame = (time) => {
    let sum = 0;
    for (let i = 0; i < once.length; i++) sum += once[i].at(time, time);
    total[0] += sum;
  };
  const floor = () => {
    let sum = 0;
    for (let i = 0; i < numbers.length; i++) sum += numbers[i];
    total[0] += sum;
  };
  for (let i = 0; i < 500; i++) frame(i * 28_224_000), floor();
  globalThis.gc?.();
  const before = process.memoryUsage().heapUsed;
  const took = [];
  const floors = [];
  for (let i = 0; i < 2000; i++) {
    const began = performance.now();
    frame(1e9 + i * 28_224_000);
    took.push(performance.now() - began);
  }
  const grown = process.memoryUsage().heapUsed - before;
  for (let i = 0; i < 2000; i++) {
    const began = performance.now();
    floor();
    floors.push(performance.now() - began);
  }
  if (Number.isNaN(total[0])) throw new Error('No value is no number.');
  console.log(`| ${once.length.toLocaleString('en')} | ${(median(took) * 1000).toFixed(0)} µs | ${((median(took) * 1e6) / once.length).toFixed(0)} ns | ${(median(floors) * 1000).toFixed(1)} µs | ${(median(took) / median(floors)).toFixed(0)} | ${(grown / 1000).toFixed(0)} kB |`);
}
