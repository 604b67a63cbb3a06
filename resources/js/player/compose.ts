import { properties } from '../api/kinds';
import type { MediaPart, Rect } from '../live/messages';
import type { Contribution, Plan } from '../live/plan';
import type { Head, ShowPlayback } from '../live/playback';
import type { Slot } from '../live/values';
import type { Blend, Compositor, Raster, Texture } from './compositor';
import { type Source, sourceOf } from './source';

/** How far ahead frames are asked for, in flicks: 0.4 s. */
const AHEAD = 282_240_000;

/** A bar's way across a test card, in flicks: 4 s. */
const RUN = 2_822_400_000;

const BLENDS = properties.layer.find((p) => p.name === 'blend')?.options as readonly Blend[];

interface Use {
  source: Source;
  texture: Texture | null;
  url: string;
  asked: number;
}

export interface Drawn {
  layers: { layer: string; frame: number; shown: number }[];
  late: boolean;
  lacks: string[];
}

/** What is done with a step: whose it is, the key of its media, the media, its frame, and how strongly it is laid on. */
type Draw = (layer: string, timeline: string, key: string, media: MediaPart, frame: number, opacity: number) => void;

/**
 * Composes surface rasters at an engine time, and keeps the sources that this takes. A surface is drawn by a list of steps, from
 * the bottom up, the same that the core makes (`core/Playback/DrawStep.php`).
 */
export class Composer {
  private readonly uses = new Map<string, Use>();
  private drawn: Drawn = { layers: [], late: false, lacks: [] };
  private turn = 0;
  private readonly fetched = new Set<string>();
  private readonly matrix = new Float64Array(9);
  private blend: Blend = 'normal';
  private readonly gain: [number, number, number] = [1, 1, 1];
  private plan: Plan | null = null;
  private playback: ShowPlayback | null = null;
  private engine = 0;

  constructor(private readonly compositor: Compositor) {}

  /** Lets go of all sources. */
  close() {
    for (const use of this.uses.values()) use.source.close();
    this.uses.clear();
  }

  begin(playback: ShowPlayback, plan: Plan, engine: number): void {
    this.drawn = { layers: [], late: false, lacks: [] };
    this.fetched.clear();
    [this.playback, this.plan, this.engine] = [playback, plan, engine];
    this.turn++;
  }

  /** What was drawn since begin(); lets go of sources that were not used for a while. */
  end(): Drawn {
    for (const [key, use] of this.uses) {
      if (use.asked < this.turn - 120) {
        use.source.close();
        if (use.texture !== null) this.compositor.drop(use.texture);
        this.uses.delete(key);
      }
    }
    this.compositor.end();
    return this.drawn;
  }

  /**
   * What a surface shows, as text: two that are the same are the same picture. Asks for what it will have to have, and says
   * what is late or missing.
   */
  signature(surface: string): string {
    let text = '';
    this.steps(surface, (layer, timeline, part, media, frame, opacity) => {
      const key = media.kind === 'solid' ? `solid ${media.colour}` : (this.texture(layer, part, media, frame)?.key ?? '');
      text += `${part}|${key}|${opacity}|${Array.prototype.join.call(this.matrix, ' ')}|${this.blend}|${this.gain.join(' ')}|${timeline}\n`;
    });
    return text;
  }

  /** Composes one window of a surface's raster and returns it; a scale below 1 makes it smaller. */
  window(key: string, surface: string, window: Rect, scale = 1): Raster {
    const raster = this.compositor.begin(key, Math.max(1, Math.round(window[2] * scale)), Math.max(1, Math.round(window[3] * scale)));
    // A window may reach beyond the surface, where there is nothing to be lit.
    const whole = this.plan?.surface(surface);
    if (whole !== undefined) {
      const [left, top] = [Math.round(Math.max(0, -window[0]) * scale), Math.round(Math.max(0, -window[1]) * scale)];
      this.compositor.clip([left, top, Math.round((whole.width - window[0]) * scale) - left, Math.round((whole.height - window[1]) * scale) - top]);
    }
    this.steps(surface, this.onto(raster, window, scale));
    return raster;
  }

  /** The card of an output by which it is recognised, over the whole of it; null until its picture has come. */
  identify(output: string, size: { width: number; height: number; name: string }): Raster | null {
    let raster: Raster | null = null;
    this.testCard(`card ${output}`, size, (layer, timeline, key, media, frame, opacity) => {
      if (this.texture(layer, key, media, frame) === null) return;
      raster = this.compositor.begin(`identify ${output}`, size.width, size.height);
      this.onto(raster, [0, 0, size.width, size.height], 1)(layer, timeline, key, media, frame, opacity);
    });
    return raster;
  }

  /** Draws a step onto a raster that shows a window of what the step is for. */
  private onto(raster: Raster, window: Rect, scale: number): Draw {
    return (layer, _timeline, key, media, frame, opacity) => {
      this.see(window, scale);
      if (media.kind === 'solid') {
        this.compositor.solid(raster, media.colour ?? [0, 0, 0], this.matrix, opacity, this.blend, this.gain);
        return;
      }
      const texture = this.texture(layer, key, media, frame);
      if (texture === null) return;
      const size: [number, number] = media.kind === 'video' ? [media.shownWidth ?? texture.width, media.shownHeight ?? texture.height] : [texture.width, texture.height];
      this.compositor.layer(raster, texture, this.matrix, opacity, size, media.matte === true, this.blend, this.gain);
    };
  }

  /** Goes through the steps of a surface from the bottom up; the matrix, blend mode and gain of each stand in this meanwhile. */
  private steps(surface: string, draw: Draw): void {
    const { plan, playback, engine } = this;
    if (plan === null || playback === null) return;
    for (const contribution of plan.contributions(surface)) {
      const head = playback.heads.get(contribution.timeline);
      if (head === undefined || contribution.media === null) continue;
      const strength = head.strength(engine);
      if (strength <= 0) continue;
      this.prefetch(plan, contribution, head);
      const show = head.at(engine);
      const up = contribution.media.at(show, plan.flicksPerFrame);
      const { frame } = up;
      const clip = contribution.part.clips[up.clip];
      if (clip === undefined || clip.fit === null || clip.middle === null) continue;
      const media = plan.media(clip.media);
      if (media === undefined || media.kind === 'none') {
        this.lack(`${media?.name ?? 'media'}: ${media?.why ?? 'not in the plan'}`);
        continue;
      }
      const opacity = contribution.mute.at(show, engine) >= 0.5 ? 0 : contribution.opacity.at(show, engine) * contribution.level.at(show, engine) * strength;
      if (media.kind !== 'solid') this.note(contribution.part.layer, clip.media, media, frame);
      if (opacity <= 0) continue;
      this.blend = BLENDS[Math.round(contribution.blend.at(show, engine))] ?? 'normal';
      for (let c = 0; c < 3; c++) this.gain[c] = (contribution.gain[c] as Slot).at(show, engine);
      this.place(clip.fit, clip.middle, contribution.scale.at(show, engine), contribution.turn.at(show, engine), contribution.x.at(show, engine), contribution.y.at(show, engine));
      draw(contribution.part.layer, head.message.timeline, clip.media, media, frame, opacity);
    }
    if (playback.cards.has(surface)) this.card(plan, surface, draw);
  }

  /** The picture's unit square onto the raster: scaled and turned about its middle, then moved; quarter turns are exact. */
  private place(fit: number[], middle: [number, number], scale: number, degrees: number, dx: number, dy: number): void {
    const quarter = degrees % 90 === 0 ? ((((degrees / 90) % 4) + 4) % 4) | 0 : -1;
    const c = (quarter < 0 ? Math.cos((degrees * Math.PI) / 180) : ([1, 0, -1, 0][quarter] as number)) * scale;
    const s = (quarter < 0 ? Math.sin((degrees * Math.PI) / 180) : ([0, 1, 0, -1][quarter] as number)) * scale;
    const tx = middle[0] + dx - c * middle[0] + s * middle[1];
    const ty = middle[1] + dy - s * middle[0] - c * middle[1];
    const m = this.matrix;
    for (let i = 0; i < 3; i++) {
      const [a, b, w] = [fit[i] as number, fit[3 + i] as number, fit[6 + i] as number];
      m[i] = c * a - s * b + tx * w;
      m[3 + i] = s * a + c * b + ty * w;
      m[6 + i] = w;
    }
  }

  /** From the raster's pixels to those of a window of it. */
  private see(window: Rect, scale: number): void {
    const m = this.matrix;
    for (let i = 0; i < 3; i++) {
      const w = m[6 + i] as number;
      m[i] = ((m[i] as number) - window[0] * w) * scale;
      m[3 + i] = ((m[3 + i] as number) - window[1] * w) * scale;
    }
  }

  /** The steps of a test card that is put up, as the core makes them: the card, and a bar that runs across it, so that a frozen picture is seen to be one. */
  private card(plan: Plan, id: string, draw: Draw) {
    const surface = plan.surface(id);
    if (surface === undefined) return;
    this.testCard(`card ${id}`, surface, (layer, timeline, key, media, frame, opacity) => {
      this.note(layer, key, media, frame);
      draw(layer, timeline, key, media, frame, opacity);
    });
    const bar = Math.max(2, surface.width / 96);
    this.matrix.set([bar, 0, ((this.engine % RUN) / RUN) * (surface.width + bar) - bar, 0, surface.height, 0, 0, 0, 1]);
    draw('', '', 'card bar', { kind: 'solid', name: 'Bar', colour: [255, 255, 255] }, 0, 0.85);
  }

  /** The step of a test card over the whole of something. */
  private testCard(key: string, { width, height, name }: { width: number; height: number; name: string }, draw: Draw) {
    this.blend = 'normal';
    this.gain.fill(1);
    this.matrix.set([width, 0, 0, 0, height, 0, 0, 0, 1]);
    draw('', '', key, { kind: 'still', name: 'Test card', url: `/api/patterns/testcard.png?${new URLSearchParams({ width: String(width), height: String(height), name })}` }, 0, 1);
  }

  /** The texture with the picture that should be up, or the one before it while that is on its way. */
  private texture(layer: string, key: string, media: MediaPart, frame: number): Texture | null {
    const use = this.use(layer, key, media);
    const there = use.source.get(media.kind === 'video' ? frame : 0);
    if (there !== null && use.texture?.key !== there.key) use.texture = this.compositor.fill(use.texture, there.image, there.key);
    return use.texture;
  }

  private note(layer: string, key: string, media: MediaPart, frame: number): void {
    const use = this.use(layer, key, media);
    const texture = this.texture(layer, key, media, frame);
    if (texture?.key !== (media.kind === 'video' ? `${media.url}#${frame}` : media.url)) this.drawn.late = true;
    if (use.source.error !== '') this.lack(`${media.name}: ${use.source.error}`);
    else if (texture === null) this.lack(`${media.name}: not loaded yet`);
    const shown = texture === null ? -1 : Number(texture.key.split('#')[1] ?? 0);
    if (layer !== '' && !this.drawn.layers.some((l) => l.layer === layer)) this.drawn.layers.push({ layer, frame, shown });
  }

  /** Tells the sources of a layer which frames they will have to have. */
  private prefetch(plan: Plan, contribution: Contribution, head: Head) {
    const { layer, clips } = contribution.part;
    const { media: track } = contribution;
    if (track === null || this.fetched.has(layer)) return;
    this.fetched.add(layer);
    const step = plan.flicksPerFrame;
    const wanted = new Map<string, number[]>();
    for (let t = this.engine; t < this.engine + AHEAD; t += step) {
      const up = track.at(head.map.at(t), step);
      const clip = clips[up.clip];
      if (clip === undefined) continue;
      const frames = wanted.get(clip.media);
      if (frames === undefined) wanted.set(clip.media, [up.frame]);
      else if (!frames.includes(up.frame)) frames.push(up.frame);
    }
    for (const [key, frames] of wanted) {
      const media = plan.media(key);
      if (media !== undefined && (media.kind === 'video' || media.kind === 'still')) this.use(layer, key, media).source.want(frames);
    }
  }

  private use(layer: string, key: string, media: MediaPart): Use {
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
