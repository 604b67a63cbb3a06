import type { DeliveryPart, Instead, IsolateMessage, Rect } from '../live/messages';
import type { Plan } from '../live/plan';
import type { ShowPlayback } from '../live/playback';
import { Composer } from './compose';
import type { Compositor } from './compositor';
import type { Raster } from './context';
import type { Warped } from './warps';

export interface Report {
  engine: number;
  layers: { layer: string; frame: number; shown: number }[];
  lacks: string[];
  revision: number;
}

const WHITE: readonly [number, number, number] = [1, 1, 1];

/** Regions that alone are shown on what they light: the others on their outputs and on their surfaces are dark. */
interface Alone {
  regions: ReadonlySet<string>;
  /** Whether one of them is on this output. */
  here: boolean;
  surfaces: ReadonlySet<string>;
  instead: Instead | null;
  /** What is white of their surfaces, without fades. */
  patches: ReadonlyMap<string, Rect>;
}

/** Draws one output at an engine time: composes what its regions show, in windows no larger than a texture, and delivers it. */
export class OutputDrawer {
  readonly composer: Composer;
  name = '';
  late = false;
  /** Until when, in engine time, the card is shown by which the output is recognised. */
  identifiedUntil = 0;
  /** Which regions alone are shown on what they light. */
  isolated: IsolateMessage | null = null;

  constructor(
    private readonly canvas: { width: number; height: number },
    private readonly compositor: Compositor,
    private readonly playback: () => ShowPlayback | null,
    private readonly output: string,
    /** How large the picture is drawn; null for the output's own pixels. */
    private readonly scale: (() => number) | null = null,
  ) {
    this.composer = new Composer(compositor, scale !== null);
  }

  private readonly rectangles = new Map<string, { of: DeliveryPart; mesh: Float32Array }>();

  /** A region as two triangles, upright, one pixel for one. */
  private rectangle(id: string, region: DeliveryPart): Float32Array {
    const kept = this.rectangles.get(id);
    if (kept?.of === region) return kept.mesh;
    const [sx, sy, w, h] = region.source;
    const [x, y] = region.place;
    const mesh = new Float32Array(
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 0],
        [1, 1],
        [0, 1],
      ].flatMap(([u = 0, v = 0]) => [x + u * w, y + v * h, 1, sx + u * w, sy + v * h, 0]),
    );
    this.rectangles.set(id, { of: region, mesh });
    return mesh;
  }

  /** How much smaller the surface's raster is composed, where all is drawn smaller. */
  private smaller(scale: number, region: DeliveryPart, plan: Plan): number {
    if (scale >= 1) return 1;
    const size = plan.surface(region.surface);
    return size === undefined ? scale : Math.min(1, Math.max(scale, 64 / Math.max(size.width, size.height)));
  }

  /** The regions that alone are shown at an engine time, and what in place of their picture; null while all are. */
  private alone(plan: Plan, engine: number): Alone | null {
    const { isolated } = this;
    if (isolated === null || engine >= isolated.until) return null;
    const parts = isolated.regions.flatMap((one) => plan.delivery(one) ?? []);
    return {
      regions: new Set(isolated.regions),
      here: parts.some((one) => one.output === this.output),
      surfaces: new Set(parts.map((one) => one.surface)),
      instead: isolated.show === 'white' || isolated.show === 'guide' ? isolated.show : null,
      patches: new Map(isolated.show === 'patch' ? Object.entries(isolated.patches ?? {}) : []),
    };
  }

  draw(now: number): Report {
    const { compositor, composer } = this;
    const on = this.playback();
    const engine = now - (on?.at(now)?.output(this.output)?.delay ?? 0);
    const plan = on?.at(engine) ?? null;
    const raster = plan?.output(this.output);
    this.late = false;
    if (on === null || plan === null || raster === undefined) {
      compositor.output();
      return {
        engine,
        layers: [],
        lacks: [plan === null ? 'no plan has come yet' : 'this output is not in the show'],
        revision: 0,
      };
    }
    const { canvas } = this;
    const scale = this.scale?.() ?? 1;
    const [width, height] = [
      Math.max(1, Math.round(raster.width * scale)),
      Math.max(1, Math.round(raster.height * scale)),
    ];
    if (canvas.width !== width || canvas.height !== height) {
      canvas.width = width;
      canvas.height = height;
    }
    compositor.told = scale === 1 ? null : raster;
    this.name = raster.name;
    composer.begin(on, plan, engine);
    const [light, black, gamma] = [raster.light ?? WHITE, raster.black ?? 0, raster.gamma ?? 2.2];
    const over = plan.masks(this.output);
    const tiles: { raster: Raster; window: Rect; place: Rect; tile: Rect; key: string; how: Warped | null }[] = [];
    const alone = this.alone(plan, engine);
    for (const [id, region] of plan.deliveries(this.output)) {
      const isolated = alone?.regions.has(id) === true;
      if (!isolated && (alone?.here === true || alone?.surfaces.has(region.surface) === true)) continue;
      const [sx, sy, w, h] = region.source;
      const within = plan.masks(region.surface);
      const patch = isolated ? alone?.patches.get(id) : undefined;
      const faded = patch === undefined;
      const [shares, lift] = faded ? [plan.shares(id, 'blend'), plan.shares(id, 'lift')] : [null, null];
      const warped =
        region.mesh === true ||
        region.blend !== undefined ||
        shares !== null ||
        within.length > 0 ||
        over.length > 0 ||
        raster.light !== undefined;
      const mesh =
        region.mesh === true ? plan.deliveryMesh(id)?.numbers : warped ? this.rectangle(id, region) : undefined;
      if (warped && mesh === undefined) continue;
      const how =
        mesh === undefined
          ? null
          : {
              mesh,
              source: region.source,
              blend: faded ? region.blend : undefined,
              curve: region.curve,
              shares,
              lift,
              unpin: region.unpin,
              over,
              within,
              gamma,
              gain: light,
              black,
            };
      // What is sampled between pixels needs one more on every side.
      const margin = how === null ? 0 : 1;
      const largest = compositor.largest - 2 * margin;
      for (let y = 0; y < h; y += largest) {
        for (let x = 0; x < w; x += largest) {
          const [tw, th] = [Math.min(largest, w - x), Math.min(largest, h - y)];
          const key = `${id} ${x} ${y}`;
          const window: Rect = [sx + x - margin, sy + y - margin, tw + 2 * margin, th + 2 * margin];
          tiles.push({
            raster: composer.window(
              key,
              region.surface,
              window,
              this.smaller(scale, region, plan),
              isolated ? (patch ?? alone.instead) : null,
            ),
            window,
            place: [region.place[0] + x, region.place[1] + y, tw, th],
            tile: [sx + x, sy + y, tw, th],
            key,
            how,
          });
        }
      }
    }
    const card = engine < this.identifiedUntil ? composer.identify(this.output, raster) : null;
    const master = on.master(engine);
    compositor.regions(
      [...new Set(tiles.flatMap(({ how }) => (how === null ? [] : [how.mesh])))],
      tiles.flatMap(({ how, place }) => (how === null ? [place] : [])),
    );
    compositor.output();
    for (const { raster, window, place, tile, key, how } of tiles) {
      if (how === null) compositor.deliver(raster, place, master);
      else compositor.warp(raster, window, tile, key, how, master);
    }
    if (card !== null) compositor.deliver(card, [0, 0, raster.width, raster.height], 1);
    const drawn = composer.end();
    this.late = drawn.late;
    return { engine, layers: drawn.layers, lacks: drawn.lacks, revision: plan.revision };
  }
}

/** Draws what a surface shows, as large as its window holds, and only where that changed. */
export class SurfaceDrawer {
  private readonly composer: Composer;
  private shown = '';
  private report: Report | null = null;
  name = '';
  late = false;

  constructor(
    private readonly canvas: { width: number; height: number },
    private readonly compositor: Compositor,
    private readonly playback: () => ShowPlayback | null,
    private readonly surface: string,
    /** Width and height of the window, in pixels of the screen. */
    private readonly room: () => [number, number],
  ) {
    this.composer = new Composer(compositor, true);
  }

  draw(engine: number): Report {
    const { canvas, compositor, composer, surface } = this;
    const on = this.playback();
    const plan = on?.at(engine) ?? null;
    const size = plan?.surface(surface);
    if (on === null || plan === null || size === undefined) {
      compositor.output();
      const lacks = [plan === null ? 'no plan has come yet' : 'this surface is not in the show'];
      this.shown = '';
      return { engine, layers: [], lacks, revision: 0 };
    }
    const [across, down] = this.room();
    const most = Math.min(
      across / size.width,
      down / size.height,
      compositor.largest / Math.max(size.width, size.height),
    );
    // One that is small, such as a pixel light, is shown pixel by pixel, and enlarged by the page.
    const scale = Math.min(1, most);
    const [width, height] = [size.width, size.height].map((side) => Math.max(1, Math.round(side * scale))) as [
      number,
      number,
    ];
    this.name = size.name;
    composer.begin(on, plan, engine);
    const master = on.master(engine);
    const signature = `${on.show} ${width} ${height} ${master}\n${composer.signature(surface)}`;
    if (signature !== this.shown || this.report === null) {
      if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height];
      const raster = composer.window(surface, surface, [0, 0, size.width, size.height], width / size.width);
      compositor.output();
      compositor.deliver(raster, [0, 0, width, height], master);
    }
    const { layers, lacks, late, live } = composer.end();
    this.late = late;
    this.report = { engine, layers, lacks, revision: plan.revision };
    // What is late or missing, and a live input, may be another picture with the same steps.
    this.shown = late || lacks.length > 0 || live ? '' : signature;
    return this.report;
  }
}
