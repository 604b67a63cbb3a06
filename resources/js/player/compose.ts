import type { LaneStore } from '../live/lanes';
import type { Plan, PlanLayer, PlanMedia, Rect } from '../live/messages';
import type { Light, Texture } from './light';
import { type Source, sourceOf } from './source';

/** How far ahead frames are asked for, in flicks: 0.4 s. */
const AHEAD = 282_240_000;

/** A bar's way across a test card, in flicks: 4 s. */
const RUN = 2_822_400_000;

interface Use {
  source: Source;
  texture: Texture | null;
  url: string;
  asked: number;
}

export interface Drawn {
  layers: { layer: string; frame: number; shown: number; generation: number }[];
  late: boolean;
  lacks: string[];
}

/** Composes surface rasters from a plan and its lanes at an engine time, and keeps the sources that this takes. */
export class Composer {
  private readonly uses = new Map<string, Use>();
  private drawn: Drawn = { layers: [], late: false, lacks: [] };
  private turn = 0;
  private scale = 1;

  /** Surfaces that show the test card, whatever plays on them. */
  cards: ReadonlySet<string> = new Set();

  constructor(private readonly light: Light) {}

  begin(): void {
    this.drawn = { layers: [], late: false, lacks: [] };
    this.turn++;
  }

  /** What was drawn since begin(); lets go of sources that were not used for a while. */
  end(): Drawn {
    for (const [key, use] of this.uses) {
      if (use.asked < this.turn - 120) {
        use.source.close();
        if (use.texture !== null) this.light.drop(use.texture);
        this.uses.delete(key);
      }
    }
    return this.drawn;
  }

  /** Composes one window of a surface's raster and returns it; a scale below 1 makes it smaller. */
  window(key: string, plan: Plan, lanes: LaneStore, engine: number, surfaceId: string, window: Rect, scale = 1) {
    const raster = this.light.begin(key, Math.max(1, Math.round(window[2] * scale)), Math.max(1, Math.round(window[3] * scale)));
    this.scale = scale;
    for (const layer of plan.surfaces[surfaceId]?.layers ?? []) this.layer(raster, plan, lanes, engine, layer, window);
    if (this.cards.has(surfaceId)) this.card(raster, plan, surfaceId, engine, window);
    return raster;
  }

  /** The test card with a bar that runs across it once in four seconds, so that a frozen picture is seen to be one. */
  private card(raster: ReturnType<Light['begin']>, plan: Plan, surfaceId: string, engine: number, window: Rect) {
    const surface = plan.surfaces[surfaceId];
    if (surface === undefined) return;
    const url = `/api/patterns/testcard.png?${new URLSearchParams({ width: String(surface.width), height: String(surface.height), name: surface.name })}`;
    const use = this.use(`card ${surfaceId}`, url, { kind: 'still', name: 'Test card', url });
    const there = use.source.get(0);
    if (there !== null && use.texture?.key !== there.key) use.texture = this.light.fill(use.texture, there.image, there.key);
    const place = (x: number, width: number): Rect => [(x - window[0]) * this.scale, -window[1] * this.scale, width * this.scale, surface.height * this.scale];
    if (use.texture === null) {
      this.lack(`Test card: ${use.source.error || 'not loaded yet'}`);
      return;
    }
    this.light.layer(raster, use.texture, place(0, surface.width), 1, [use.texture.width, use.texture.height], false);
    const bar = Math.max(2, surface.width / 96);
    this.light.solid(raster, [255, 255, 255], place(((engine % RUN) / RUN) * (surface.width + bar) - bar, bar), 0.85);
  }

  private layer(raster: ReturnType<Light['begin']>, plan: Plan, lanes: LaneStore, engine: number, layer: PlanLayer, window: Rect) {
    const up = lanes.at(layer.lanes.clip, engine);
    const clip = layer.clips[up?.value ?? -1];
    const opacity = lanes.get(layer.lanes.opacity, engine);
    this.prefetch(plan, lanes, engine, layer);
    if (clip === undefined || clip.rect === null) return;
    const media = plan.media[clip.media];
    if (media === undefined || media.kind === 'none') {
      this.lack(`${media?.name ?? 'media'}: ${media?.why ?? 'not in the plan'}`);
      return;
    }
    const rect: Rect = [(clip.rect[0] + lanes.get(layer.lanes.x, engine) - window[0]) * this.scale, (clip.rect[1] + lanes.get(layer.lanes.y, engine) - window[1]) * this.scale, clip.rect[2] * this.scale, clip.rect[3] * this.scale];
    if (media.kind === 'solid') {
      if (opacity > 0) this.light.solid(raster, media.colour ?? [0, 0, 0], rect, opacity);
      return;
    }
    const frame = lanes.at(layer.lanes.frame, engine);
    const n = frame?.value ?? 0;
    const use = this.use(layer.id, clip.media, media);
    const there = use.source.get(media.kind === 'video' ? n : 0);
    if (there !== null && use.texture?.key !== there.key) use.texture = this.light.fill(use.texture, there.image, there.key);
    const wanted = media.kind === 'video' ? `${media.url}#${n}` : media.url;
    const late = use.texture?.key !== wanted;
    if (late) this.drawn.late = true;
    if (use.source.error !== '') this.lack(`${media.name}: ${use.source.error}`);
    else if (use.texture === null) this.lack(`${media.name}: not loaded yet`);
    const shown = use.texture === null ? -1 : Number(use.texture.key.split('#')[1] ?? 0);
    if (!this.drawn.layers.some((l) => l.layer === layer.id)) this.drawn.layers.push({ layer: layer.id, frame: n, shown, generation: frame?.generation ?? 0 });
    if (use.texture !== null && opacity > 0) {
      const size: [number, number] = media.kind === 'video' ? [media.shownWidth ?? use.texture.width, media.shownHeight ?? use.texture.height] : [use.texture.width, use.texture.height];
      this.light.layer(raster, use.texture, rect, opacity, size, media.matte === true);
    }
  }

  /** Tells the source of what comes next which frames it will have to have. */
  private prefetch(plan: Plan, lanes: LaneStore, engine: number, layer: PlanLayer) {
    const step = plan.show.flicksPerFrame;
    const wanted = new Map<string, number[]>();
    for (let t = engine; t < engine + AHEAD; t += step) {
      const clip = layer.clips[lanes.get(layer.lanes.clip, t, -1)];
      if (clip === undefined) continue;
      const frames = wanted.get(clip.media) ?? [];
      const n = lanes.get(layer.lanes.frame, t);
      if (!frames.includes(n)) frames.push(n);
      wanted.set(clip.media, frames);
    }
    for (const [key, frames] of wanted) {
      const media = plan.media[key];
      if (media !== undefined && (media.kind === 'video' || media.kind === 'still')) this.use(layer.id, key, media).source.want(frames);
    }
  }

  private use(layer: string, key: string, media: PlanMedia): Use {
    const id = media.kind === 'video' ? `${layer} ${key}` : (media.url ?? key);
    let use = this.uses.get(id);
    if (use !== undefined && use.url !== media.url) {
      use.source.close();
      use = undefined;
    }
    if (use === undefined) {
      use = { source: sourceOf(media), texture: this.uses.get(id)?.texture ?? null, url: media.url ?? '', asked: this.turn };
      this.uses.set(id, use);
    }
    use.asked = this.turn;
    return use;
  }

  private lack(sentence: string) {
    if (!this.drawn.lacks.includes(sentence)) this.drawn.lacks.push(sentence);
  }
}
