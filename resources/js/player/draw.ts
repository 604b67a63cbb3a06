import type { Playback } from '../live/playback';
import { Composer } from './compose';
import type { Light } from './light';

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

  constructor(
    private readonly light: Light,
    private readonly playback: Playback,
    private readonly output: string,
  ) {
    this.composer = new Composer(light);
  }

  draw(engine: number): Report {
    const { light, composer } = this;
    const on = this.playback.onAir();
    const plan = on?.at(engine) ?? null;
    const raster = plan?.output(this.output);
    this.late = false;
    if (on === null || plan === null || raster === undefined) {
      light.output();
      return { engine, layers: [], lacks: [plan === null ? 'no plan has come yet' : 'this output is not in the show'], revision: 0 };
    }
    const { canvas } = light;
    if (canvas.width !== raster.width || canvas.height !== raster.height) {
      canvas.width = raster.width;
      canvas.height = raster.height;
    }
    this.name = raster.name;
    composer.begin(on, plan, engine);
    const tiles: { raster: ReturnType<Light['begin']>; place: [number, number, number, number] }[] = [];
    for (const [id, region] of plan.deliveries(this.output)) {
      const [sx, sy, w, h] = region.source;
      for (let y = 0; y < h; y += light.largest) {
        for (let x = 0; x < w; x += light.largest) {
          const tw = Math.min(light.largest, w - x);
          const th = Math.min(light.largest, h - y);
          tiles.push({ raster: composer.window(`${id} ${x} ${y}`, region.surface, [sx + x, sy + y, tw, th]), place: [region.place[0] + x, region.place[1] + y, tw, th] });
        }
      }
    }
    const master = on.master(engine);
    light.output();
    for (const tile of tiles) light.deliver(tile.raster, tile.place, master);
    const drawn = composer.end();
    this.late = drawn.late;
    return { engine, layers: drawn.layers, lacks: drawn.lacks, revision: plan.revision };
  }
}
