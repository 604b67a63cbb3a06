import type { ShowDocument } from '../api/client';
import { Live } from '../live/client';
import { Playback } from '../live/playback';
import { Compositor } from '../player/compositor';
import { OutputDrawer } from '../player/draw';
import { showOnAir } from '../theme/page';
import { dusk } from '../theme/tokens';
import { patchOf } from './patch';

/**
 * Virtual rig: stands in for an LED processor. It takes the picture of one output, whole, cuts from it what its walls are
 * given, and shows each wall as its panels would light, gaps where panels are missing.
 */
const output = decodeURIComponent(location.pathname.split('/').filter(Boolean).pop() ?? '');
const input = document.createElement('canvas');
const screen = document.createElement('canvas');
const words = document.createElement('p');
document.body.append(words, screen);
Object.assign(document.body.style, {
  margin: '0',
  background: dusk.ink9,
  color: dusk.text,
  font: '14px sans-serif',
  overflow: 'hidden',
});
Object.assign(words.style, { margin: '10px 14px' });

const live = new Live();
const compositor = Compositor.onto(input);
const playback = new Playback(live);
const drawer = new OutputDrawer(input, compositor, () => playback.onAir(), output);
let show: ShowDocument | null = null;

async function load() {
  show = await showOnAir();
}
void load();
live.on('revision', () => void load());

function draw() {
  requestAnimationFrame(draw);
  const now = live.now();
  if (now === null || show === null) return;
  drawer.draw(now);
  const rows = show.rows;
  const regions = rows.region.filter((r) => r.output === output);
  words.textContent = `LED processor stand-in · input ${input.width} × ${input.height} px from ${drawer.name} · ${regions.length} walls`;
  const width = innerWidth;
  const height = innerHeight - 44;
  if (screen.width !== width || screen.height !== height) {
    screen.width = width;
    screen.height = height;
  }
  const ctx = screen.getContext('2d');
  if (ctx === null) return;
  ctx.fillStyle = dusk.ink9;
  ctx.fillRect(0, 0, width, height);
  const total = regions.reduce((sum, r) => sum + (r.source[2] ?? 0), 0) || 1;
  const tall = Math.max(1, ...regions.map((r) => r.source[3] ?? 0));
  const scale = Math.min((width - 28 - 20 * regions.length) / total, (height - 60) / tall);
  let x = 14;
  for (const region of regions) {
    const wall = rows.surface.find((s) => s.id === region.surface);
    if (wall === undefined) continue;
    // From the input back to the wall's own pixels.
    const { a, b, c, d, e, f } = new DOMMatrix(
      patchOf(
        region,
        show.computed.regions[region.id]?.place ?? [region.x, region.y, region.source[2] ?? 1, region.source[3] ?? 1],
      ),
    ).inverse();
    const back = [a, b, c, d, e, f] as const;
    let py = 0;
    for (const row of wall.cells) {
      const high = rows.panel.find((p) => p.id === row.find((c) => c !== null))?.heightPx ?? 0;
      let px = 0;
      for (const cell of row) {
        const panel = rows.panel.find((p) => p.id === cell);
        const wide = panel?.widthPx ?? rows.panel.find((p) => p.id === row.find((c) => c !== null))?.widthPx ?? 0;
        if (panel !== undefined) {
          // A pixel of dark around each panel, as its frame would be.
          ctx.save();
          ctx.beginPath();
          ctx.rect(x + px * scale + 0.5, 30 + py * scale + 0.5, wide * scale - 1, panel.heightPx * scale - 1);
          ctx.clip();
          ctx.translate(x, 30);
          ctx.scale(scale, scale);
          ctx.transform(...back);
          ctx.drawImage(input, 0, 0);
          ctx.restore();
        }
        px += wide;
      }
      py += high;
    }
    ctx.fillStyle = dusk.dim;
    ctx.fillText(wall.name, x, 20);
    x += (region.source[2] ?? 0) * scale + 20;
  }
}
requestAnimationFrame(draw);
