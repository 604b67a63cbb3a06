import { Live } from '../live/client';
import { Playback } from '../live/playback';
import { Composer } from './compose';
import { Light, type Texture } from './light';

/** The window that draws one output, named by the last part of its address. Nothing on it but light. */
const output = decodeURIComponent(location.pathname.split('/').filter(Boolean).pop() ?? '');
const player = crypto.randomUUID();
const canvas = document.createElement('canvas');
document.body.append(canvas);

const live = new Live();
const playback = new Playback(live);
const light = new Light(canvas);
const composer = new Composer(light);

/** A frame drawn now is seen about one refresh later. */
const SEEN_AFTER = 11_760_000;

let late = 0;
let drawnFrames = 0;
let error = '';
let report: Record<string, unknown> | null = null;
let identify: { until: number; texture: Texture | null; image: ImageBitmap | null } = { until: 0, texture: null, image: null };

live.on('identify', async (message) => {
  if (message.output !== output) return;
  const answer = await fetch(`/api/patterns/testcard.png?width=${canvas.width}&height=${canvas.height}&name=${encodeURIComponent(document.title)}`);
  identify = { until: message.until, texture: null, image: await createImageBitmap(await answer.blob()) };
});

addEventListener('error', (event) => {
  error = event.message;
});
addEventListener('unhandledrejection', (event) => {
  error = String(event.reason);
});

function draw() {
  requestAnimationFrame(draw);
  const now = live.now();
  if (now === null) return;
  const engine = now + SEEN_AFTER;
  const on = playback.at(engine);
  const raster = on?.plan.outputs[output];
  if (on === null || on === undefined || raster === undefined) {
    report = { engine, layers: [], lacks: [on === null ? 'nothing has been baked yet' : 'this output is not in the show'], plan: 0, revision: 0 };
    light.output();
    return;
  }
  if (canvas.width !== raster.width || canvas.height !== raster.height) {
    canvas.width = raster.width;
    canvas.height = raster.height;
    canvas.style.width = `${raster.width / devicePixelRatio}px`;
    canvas.style.height = `${raster.height / devicePixelRatio}px`;
    document.title = raster.name;
  }
  const { plan, lanes } = on;
  const master = lanes.get(0, engine, 1);
  composer.begin();
  const tiles: { raster: ReturnType<Light['begin']>; place: [number, number, number, number] }[] = [];
  for (const region of raster.regions) {
    const [sx, sy, w, h] = region.source;
    for (let y = 0; y < h; y += light.largest) {
      for (let x = 0; x < w; x += light.largest) {
        const tw = Math.min(light.largest, w - x);
        const th = Math.min(light.largest, h - y);
        tiles.push({
          raster: composer.window(`${region.id} ${x} ${y}`, plan, lanes, engine, region.surface, [sx + x, sy + y, tw, th]),
          place: [region.place[0] + x, region.place[1] + y, tw, th],
        });
      }
    }
  }
  light.output();
  for (const tile of tiles) light.deliver(tile.raster, tile.place, master);
  if (engine < identify.until && identify.image !== null) {
    identify.texture ??= light.fill(null, identify.image, 'identify');
    light.card(identify.texture);
  }
  const drawn = composer.end();
  if (drawn.late) late++;
  drawnFrames++;
  report = { engine, layers: drawn.layers, lacks: drawn.lacks, plan: plan.serial, revision: plan.revision };
  Object.assign(window, { kiteDrawn: report });
}

setInterval(() => {
  if (report !== null && live.ticket !== '') void live.report({ player, output, drawn: drawnFrames, late, offset: live.offset(), error, ...report });
}, 1000);

async function keepAwake() {
  try {
    await navigator.wakeLock?.request('screen');
  } catch {
    // Some machines have no screen to keep awake.
  }
}
document.addEventListener('visibilitychange', () => void keepAwake());
void keepAwake();
requestAnimationFrame(draw);
