import type { Playback } from '../live/playback';
import { Composer } from './compose';
import type { Compositor } from './compositor';

export interface Report {
  engine: number;
  layers: { layer: string; frame: number; shown: number }[];
  lacks: string[];
  revision: number;
}

/** Draws one output at an engine time: composes what its regions show, in windows no larger than a texture, and delivers it. */
export class OutputDrawer {
  readonly composer: Composer;
  name = '';
  late = false;
  /** Until when, in engine time, the card is shown by which the output is recognised. */
  identifiedUntil = 0;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly compositor: Compositor,
    private readonly playback: Playback,
    private readonly output: string,
  ) {
    this.composer = new Composer(compositor);
  }

  draw(engine: number): Report {
    const { compositor, composer } = this;
    const on = this.playback.onAir();
    const plan = on?.at(engine) ?? null;
    const raster = plan?.output(this.output);
    this.late = false;
    if (on === null || plan === null || raster === undefined) {
      compositor.output();
      return { engine, layers: [], lacks: [plan === null ? 'no plan has come yet' : 'this output is not in the show'], revision: 0 };
    }
    const { canvas } = this;
    if (canvas.width !== raster.width || canvas.height !== raster.height) {
      canvas.width = raster.width;
      canvas.height = raster.height;
    }
    this.name = raster.name;
    composer.begin(on, plan, engine);
    const tiles: { raster: ReturnType<Compositor['begin']>; place: [number, number, number, number] }[] = [];
    for (const [id, region] of plan.deliveries(this.output)) {
      const [sx, sy, w, h] = region.source;
      for (let y = 0; y < h; y += compositor.largest) {
        for (let x = 0; x < w; x += compositor.largest) {
          const tw = Math.min(compositor.largest, w - x);
          const th = Math.min(compositor.largest, h - y);
          tiles.push({ raster: composer.window(`${id} ${x} ${y}`, region.surface, [sx + x, sy + y, tw, th]), place: [region.place[0] + x, region.place[1] + y, tw, th] });
        }
      }
    }
    const card = engine < this.identifiedUntil ? composer.identify(this.output, raster) : null;
    const master = on.master(engine);
    compositor.output();
    for (const tile of tiles) compositor.deliver(tile.raster, tile.place, master);
    if (card !== null) compositor.deliver(card, [0, 0, raster.width, raster.height], 1);
    const drawn = composer.end();
    this.late = drawn.late;
    return { engine, layers: drawn.layers, lacks: drawn.lacks, revision: plan.revision };
  }
}
