import { Composer } from '../../player/compose';
import { Light } from '../../player/light';
import { get, live, playback } from '../store';

/** Where a surface's picture lies on the stage's canvas, in pixels. */
export interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
}

const SIDE = 1024;
const MARGIN = 2;

/**
 * The rasters of all surfaces, small, on one canvas: composed by the same passes as a player's, a few times a second, and
 * taken from there by every view that shows light.
 */
class Stage {
  readonly canvas = document.createElement('canvas');
  private light: Light | null = null;
  private composer: Composer | null = null;
  private spots = new Map<string, Spot>();
  private packed = '';
  private watchers = new Set<() => void>();
  private timer = 0;
  private took = 0;

  constructor() {
    this.canvas.width = this.canvas.height = SIDE;
  }

  spot(surface: string): Spot | undefined {
    return this.spots.get(surface);
  }

  /** Draws for as long as somebody watches. */
  watch(changed: () => void): () => void {
    this.watchers.add(changed);
    if (this.timer === 0) this.timer = window.setTimeout(() => this.draw(), 0);
    return () => this.watchers.delete(changed);
  }

  private draw() {
    this.timer = 0;
    if (this.watchers.size === 0) return;
    const began = performance.now();
    const now = live.now();
    const on = now === null ? null : playback.at(now);
    if (on !== null && now !== null) {
      if (this.light === null) {
        this.light = new Light(this.canvas);
        this.composer = new Composer(this.light);
      }
      const { plan, lanes } = on;
      const composer = this.composer as Composer;
      const light = this.light;
      this.pack(Object.entries(plan.surfaces).map(([id, s]) => ({ id, width: s.width, height: s.height })));
      const master = lanes.get(0, now, 1);
      composer.begin();
      composer.cards = new Set(get().cards);
      const tiles = [...this.spots].map(([id, spot]) => {
        const surface = plan.surfaces[id];
        return { spot, raster: surface === undefined ? null : composer.window(id, plan, lanes, now, id, [0, 0, surface.width, surface.height], spot.width / surface.width) };
      });
      light.output();
      for (const { spot, raster } of tiles) if (raster !== null) light.deliver(raster, [spot.x, spot.y, spot.width, spot.height], master);
      composer.end();
      for (const changed of this.watchers) changed();
    }
    this.took = performance.now() - began;
    // Slow machines get their breath: never more than a third of the time goes into this.
    this.timer = window.setTimeout(() => this.draw(), Math.max(66, this.took * 2));
  }

  /** Shelves of surfaces, highest first, as large as they fit. */
  private pack(surfaces: { id: string; width: number; height: number }[]) {
    const key = JSON.stringify(surfaces);
    if (key === this.packed) return;
    this.packed = key;
    const most = Math.max(1, ...surfaces.map((s) => Math.max(s.width, s.height)));
    for (let scale = Math.min(1, 512 / most); ; scale *= 0.85) {
      this.spots = new Map();
      let [x, y, shelf] = [0, 0, 0];
      for (const s of [...surfaces].sort((a, b) => b.height - a.height)) {
        const width = Math.max(1, Math.round(s.width * scale));
        const height = Math.max(1, Math.round(s.height * scale));
        if (x + width > SIDE) [x, y, shelf] = [0, y + shelf + MARGIN, 0];
        this.spots.set(s.id, { x, y, width, height });
        x += width + MARGIN;
        shelf = Math.max(shelf, height);
      }
      if (y + shelf <= SIDE) return;
    }
  }
}

export const stage = new Stage();
