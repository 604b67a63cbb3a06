import { Live } from '../live/client';
import { Playback } from '../live/playback';
import { Compositor } from './compositor';
import { OutputDrawer, type Report, SurfaceDrawer } from './draw';
import { Marks } from './marks';

/** The window that draws one output, or a surface, named by the last part of its address. Nothing on it but light. */
const output = decodeURIComponent(location.pathname.split('/').filter(Boolean).pop() ?? '');
/**
 * Whether it is only looked at, within another page: then it is no player of the output, and fits where it stands. What is
 * looked at may be a surface.
 */
const picture = new URLSearchParams(location.search).get('picture');
const isPicture = picture !== null;
// A page that came over plain HTTP has no such number, and needs none.
const player = isPicture ? '' : crypto.randomUUID();
const canvas = document.createElement('canvas');
document.body.append(canvas);

const live = new Live();
// A surface is drawn only where it changed: what was drawn stays.
const compositor = Compositor.onto(canvas, picture === 'surface');
const playback = new Playback(live);
const marks = new Marks(canvas);
const onAir = () => playback.onAir();
const drawer =
  picture === 'surface'
    ? new SurfaceDrawer(canvas, compositor, onAir, output, () => [
        innerWidth * devicePixelRatio,
        innerHeight * devicePixelRatio,
      ])
    : new OutputDrawer(canvas, compositor, onAir, output);

/** A frame drawn now is seen about one refresh later. */
const SEEN_AFTER = 11_760_000;

let late = 0;
let drawn = 0;
let error = '';
let report: Report | null = null;

live.on('identify', (message) => {
  if (message.output === output && drawer instanceof OutputDrawer) drawer.identifiedUntil = message.until;
});

live.on('marks', (message) => {
  if (message.output === output) marks.tell(message);
});

live.on('isolate', (message) => {
  if (drawer instanceof OutputDrawer) drawer.isolated = message;
});

addEventListener('error', (event) => {
  error = event.message;
});
addEventListener('unhandledrejection', (event) => {
  error = String(event.reason);
});
canvas.addEventListener('webglcontextlost', (event) => event.preventDefault());
canvas.addEventListener('webglcontextrestored', () => location.reload());

// What tests and measures ask: the clock, and where the lowest timeline is.
Object.assign(window, {
  kiteClock: () => live.now(),
  kiteShow: () => [...(playback.onAir()?.heads.values() ?? [])][0]?.map.at(live.now() ?? 0),
});

function draw() {
  requestAnimationFrame(draw);
  const now = live.now();
  if (now === null) return;
  const engine = now + SEEN_AFTER;
  const { width } = canvas;
  report = drawer.draw(engine);
  if (canvas.width !== width || document.title !== drawer.name) {
    canvas.style.width = isPicture ? '100vw' : `${canvas.width / devicePixelRatio}px`;
    canvas.style.height = isPicture ? '100vh' : `${canvas.height / devicePixelRatio}px`;
    if (isPicture) canvas.style.objectFit = 'contain';
    if (drawer.name !== '') document.title = drawer.name;
  }
  marks.draw(now);
  if (drawer.late) late++;
  drawn++;
  Object.assign(window, { kiteDrawn: report });
}

setInterval(() => {
  if (report !== null && live.ticket !== '' && !isPicture)
    void live.report({ player, output, drawn, late, offset: live.offset(), error, ...report });
}, 1000);

// A press makes it full screen, another lets go: browsers allow it to people only.
addEventListener(
  'click',
  () =>
    void (
      document.fullscreenElement === null ? document.documentElement.requestFullscreen() : document.exitFullscreen()
    ).catch(() => undefined),
);

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
