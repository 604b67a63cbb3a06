import { properties } from '../api/kinds';
import { EFFECT } from '../live/effects';
import type { MediaPart, Rect, RoundPart } from '../live/messages';
import { PATTERN } from '../live/pattern';
import type { Contribution, Mesh, Plan } from '../live/plan';
import type { Head, ShowPlayback } from '../live/playback';
import { MAX_LENSES, THROW, type Thrower } from '../live/throw';
import { type Held, type MediaTrack, type Slot, strengthOf } from '../live/values';
import type { Blend, Compositor, Mask, Raster, Texture } from './compositor';
import { LARGEST, LARGEST_SMALL } from './effects';
import { type Source, sourceOf } from './source';

/** How far ahead frames are asked for, in flicks: 0.4 s. */
const AHEAD = 282_240_000;

/** A bar's way across a test card, in flicks: 4 s. */
const RUN = 2_822_400_000;

const NOTHING: MediaPart = { kind: 'none', name: '' };

const NO_TEXT: readonly number[] = [];

const BLENDS = properties.layer.find((p) => p.name === 'blend')?.options as readonly Blend[];

interface Use {
  source: Source;
  texture: Texture | null;
  url: string;
  asked: number;
}

/** Cosine and sine, exact for quarter turns. */
function turned(degrees: number): [number, number] {
  const quarter = degrees % 90 === 0 ? ((((degrees / 90) % 4) + 4) % 4) | 0 : -1;
  return quarter < 0
    ? [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
    : [[1, 0, -1, 0][quarter] as number, [0, 1, 0, -1][quarter] as number];
}

/** The pane's pixels onto those of a surface's raster by the values of its share, as `core/Routing/Share.php` has it. */
function shareMatrix(share: Slot[], show: number, engine: number, width: number, height: number): number[] {
  const [x, y, w, h, turn, mirror] = share.map((slot) => slot.at(show, engine)) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const [c, s] = turned(-turn);
  const [cx, cy] = [x + w / 2, y + h / 2];
  const [tx, ty] = [cx - c * cx + s * cy, cy - s * cx - c * cy];
  const sx = (mirror >= 0.5 ? -width : width) / w;
  const sy = height / h;
  const left = mirror >= 0.5 ? x + w : x;
  return [sx * c, -sx * s, sx * (tx - left), sy * s, sy * c, sy * (ty - y), 0, 0, 1];
}

/** The part of a texture that is the picture, in pixels; of a pattern, how large it is. */
function shownOf(media: MediaPart, picture: Texture | Float32Array): [number, number] {
  if (picture instanceof Float32Array) return [media.width ?? 1, media.height ?? 1];
  return media.kind === 'video'
    ? [media.shownWidth ?? picture.width, media.shownHeight ?? picture.height]
    : [picture.width, picture.height];
}

export interface Drawn {
  layers: { layer: string; frame: number; shown: number }[];
  late: boolean;
  /** Whether an input is among it, so that it may be another picture at any moment. */
  live: boolean;
  lacks: string[];
}

/** What is done with a step: whose picture it is, the key of its media, the media, its frame, and how strongly it is laid on. */
type Draw = (use: string, timeline: string, key: string, media: MediaPart, frame: number, opacity: number) => void;

/** A picture of a layer that is up: by which head, of which clip, at which frame, and how much of it is there. */
interface Up {
  head: Head;
  clip: { media: string; fit: number[] | null; effects?: string[] };
  /** What tells its decoder from others of the same layer and media. */
  use: string;
  frame: number;
  strength: number;
}

/**
 * Composes surface rasters at an engine time, and keeps the sources that this takes. A surface is drawn by a list of steps, from
 * the bottom up, the same that the core makes (`core/Playback/DrawStep.php`).
 */
export class Composer {
  private readonly uses = new Map<string, Use>();
  private drawn: Drawn = { layers: [], late: false, live: false, lacks: [] };
  private turn = 0;
  private readonly fetched = new Set<string>();
  private readonly matrix = new Float64Array(9);
  private blend: Blend = 'normal';
  /** Whether the light of the step is added to that of the next before both are laid on, and what it is added up in. */
  private shared = false;
  private sum: Raster | null = null;
  private readonly gain: [number, number, number] = [1, 1, 1];
  /** What is seen of the picture's unit square: left, top, right, bottom. */
  private readonly crop: [number, number, number, number] = [0, 0, 1, 1];
  /** Whether that is repeated: 1 across, 2 down, 3 both. */
  private tile = 0;
  private readonly invert: [number, number, number] = [0, 0, 0];
  private opaque = false;
  /** What the picture is cut out by: of which media, which frame, and how; the media null for nothing. */
  private readonly mask = {
    media: null as MediaPart | null,
    use: '',
    key: '',
    frame: 0,
    by: new Float64Array(7),
    colour: [0, 0, 0] as [number, number, number],
    pattern: new Float32Array(PATTERN),
  };
  /** What is done to the picture before it is placed: numbers of each effect, of which so many count. */
  private readonly passes: Float32Array[] = [];
  private chained = 0;
  /** The part of the raster that may be drawn on: left, top, right, bottom. */
  private clip: Rect | undefined = undefined;
  /** By what the pane is thrown onto the surface's triangles; the matrix leads to the pane then. */
  private readonly throws = new Float32Array(THROW * MAX_LENSES);
  private count = 0;
  private around = 0;
  private mesh: Mesh | null = null;
  private round: RoundPart | null = null;
  /** The frame of a pattern, where the media is one. */
  private readonly pattern = new Float32Array(PATTERN);
  private plan: Plan | null = null;
  private playback: ShowPlayback | null = null;
  private engine = 0;

  /** @param small whether live inputs are taken in their small form */
  constructor(
    private readonly compositor: Compositor,
    private readonly small = false,
  ) {}

  /** Lets go of all sources. */
  close() {
    for (const use of this.uses.values()) use.source.close();
    this.uses.clear();
  }

  begin(playback: ShowPlayback, plan: Plan, engine: number): void {
    this.drawn = { layers: [], late: false, live: false, lacks: [] };
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
    return this.told((draw) => this.steps(surface, draw));
  }

  /** What lies in the pane of a route, as text. */
  paneSignature(route: string): string {
    return this.told((draw) => this.inPane(route, draw));
  }

  private told(steps: (draw: Draw) => void): string {
    let text = '';
    steps((layer, timeline, part, media, frame, opacity) => {
      const key =
        media.kind === 'none'
          ? ''
          : media.kind === 'solid'
            ? `solid ${media.colour}`
            : media.kind === 'pattern'
              ? `${this.pattern.join(' ')} ${media.text?.join(' ') ?? ''}`
              : (this.texture(layer, part, media, frame)?.key ?? '');
      text += `${part}|${key}|${opacity}|${Array.prototype.join.call(this.matrix, ' ')}|${this.blend}${this.shared ? ' and' : ''}|${this.gain.join(' ')}|${this.invert.join(' ')}${this.opaque ? ' opaque' : ''}${this.maskText()}${this.chainText()}|${this.crop.join(' ')} ${this.tile}|${this.clip?.join(' ')}|${this.count === 0 ? '' : this.throws.subarray(0, this.count * THROW).join(' ')}|${timeline}\n`;
    });
    return text;
  }

  /** Composes one window of a surface's raster and returns it; a scale below 1 makes it smaller. */
  window(key: string, surface: string, window: Rect, scale = 1): Raster {
    const raster = this.compositor.begin(
      key,
      Math.max(1, Math.round(window[2] * scale)),
      Math.max(1, Math.round(window[3] * scale)),
    );
    // A window may reach beyond the surface, where there is nothing to be lit.
    const whole = this.plan?.surface(surface);
    if (whole !== undefined) {
      const [left, top] = [Math.round(Math.max(0, -window[0]) * scale), Math.round(Math.max(0, -window[1]) * scale)];
      this.compositor.clip([
        left,
        top,
        Math.round((whole.width - window[0]) * scale) - left,
        Math.round((whole.height - window[1]) * scale) - top,
      ]);
    }
    this.steps(surface, this.onto(raster, window, scale));
    return raster;
  }

  /** Composes the whole pane of a route, smaller or larger; null where nothing lies in it. */
  pane(key: string, route: string, scale: number): Raster | null {
    const size = this.plan?.pane(route)?.size;
    if (size === undefined) return null;
    const [width, height] = [Math.max(1, Math.round(size[0] * scale)), Math.max(1, Math.round(size[1] * scale))];
    const raster = this.compositor.begin(key, width, height);
    this.compositor.clip([0, 0, width, height]);
    this.inPane(route, this.onto(raster, [0, 0, size[0], size[1]], scale));
    return raster;
  }

  /** Goes through what lies in the pane of a route, from the bottom up. */
  private inPane(route: string, draw: Draw): void {
    this.each(this.plan?.pane(route)?.contributions ?? [], false, draw);
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

  /** Draws steps onto a raster that shows a window of what they are for. */
  private onto(raster: Raster, window: Rect, scale: number): Draw {
    return (...step) => {
      const { shared, blend } = this;
      if (!shared && this.sum === null) {
        this.single(raster, window, scale)(...step);
        return;
      }
      this.sum ??= this.compositor.gather(raster);
      this.blend = 'add';
      this.single(this.sum, window, scale)(...step);
      if (!shared) {
        this.compositor.lay(raster, this.sum, blend);
        this.sum = null;
      }
    };
  }

  private single(raster: Raster, window: Rect, scale: number): Draw {
    return (layer, timeline, key, media, frame, opacity) => {
      if (opacity <= 0 || media.kind === 'none') return;
      if (this.count > 0) {
        this.throw(raster, window, scale, layer, key, media, frame, opacity);
        return;
      }
      const { clip } = this;
      if (clip !== undefined) {
        // A pixel is drawn whose middle lies within.
        const edge = (at: number, from: number) => Math.ceil((at - from) * scale - 0.5);
        const [left, top, right, bottom] = [
          edge(clip[0], window[0]),
          edge(clip[1], window[1]),
          edge(clip[2], window[0]),
          edge(clip[3], window[1]),
        ];
        this.clip = undefined;
        this.compositor.within([left, top, right, bottom], () =>
          this.single(raster, window, scale)(layer, timeline, key, media, frame, opacity),
        );
        return;
      }
      this.see(window, scale);
      this.prepare(media);
      if (media.kind === 'solid' && this.chained === 0 && this.mask.media === null) {
        this.compositor.solid(raster, media.colour ?? [0, 0, 0], this.matrix, opacity, this.blend, this.gain);
        return;
      }
      const shown = this.drawable(layer, key, media, frame);
      if (shown !== null)
        this.compositor.layer(
          raster,
          shown.picture,
          this.matrix,
          opacity,
          shown.size,
          shown.matte,
          this.blend,
          this.gain,
        );
    };
  }

  /** Says what of a picture is seen, before it is drawn. */
  private prepare(media: MediaPart): void {
    this.compositor.crop = this.crop;
    this.compositor.tile = this.tile;
    this.compositor.invert = this.invert;
    this.compositor.opaque = this.opaque;
    this.compositor.cutBy = this.cutOut();
    this.compositor.text = media.text ?? NO_TEXT;
  }

  /** Throws a picture in a pane onto the surface's triangles. */
  private throw(
    raster: Raster,
    window: Rect,
    scale: number,
    layer: string,
    key: string,
    media: MediaPart,
    frame: number,
    opacity: number,
  ): void {
    const { mesh } = this;
    // One colour needs no picture to be thrown.
    const shown =
      media.kind === 'solid' && this.chained === 0
        ? { picture: null, size: [1, 1] as [number, number], matte: false }
        : this.drawable(layer, key, media, frame);
    if (mesh === null || shown === null) return;
    this.prepare(media);
    this.compositor.throw(
      raster,
      mesh.numbers,
      this.round,
      this.plan?.solids?.numbers ?? null,
      shown.picture,
      media.colour ?? [0, 0, 0],
      this.matrix,
      this.throws,
      this.count,
      this.around,
      window,
      scale,
      opacity,
      shown.size,
      shown.matte,
      this.blend,
      this.gain,
    );
  }

  /** Goes through the steps of a surface from the bottom up; the matrix, blend mode and gain of each stand in this meanwhile. */
  private steps(surface: string, draw: Draw): void {
    const { plan, playback } = this;
    if (plan === null || playback === null) return;
    this.each(plan.contributions(surface), true, draw);
    if (playback.cards.has(surface)) this.card(plan, surface, draw);
  }

  /** @param reach whether each is carried from its pane to the surface */
  private each(contributions: readonly Contribution[], reach: boolean, draw: Draw): void {
    const { plan, playback, engine } = this;
    if (plan === null || playback === null) return;
    for (const contribution of contributions) {
      const { part, timeline } = contribution;
      const ups = this.ups;
      ups.length = 0;
      for (const head of playback.headsAt(timeline, engine)) this.up(plan, contribution, head, ups);
      for (let i = 0; i < ups.length; i++) {
        const { head, clip, use, frame, strength } = ups[i] as Up;
        const show = head.at(engine);
        const opacity = contribution.opacity.at(show, engine) * contribution.level.at(show, engine) * strength;
        let [key, media] = [clip.media, plan.media(clip.media)];
        if (media?.kind === 'live') {
          this.drawn.live = true;
          const { error } = this.use(use, key, media).source;
          if (error !== '') {
            this.lack(`${media.name}: ${error}`);
            [key, media] = media.standIn === undefined ? [key, media] : [`${key} stand-in`, media.standIn];
          }
        }
        if (media === undefined || media.kind === 'none') {
          this.lack(`${media?.name ?? 'media'}: ${media?.why ?? 'not in the plan'}`);
          // What shows nothing still ends a sum.
          media = NOTHING;
        }
        if (media.kind === 'pattern')
          plan
            .pattern(media.media ?? '')
            .write(
              this.pattern,
              media.pattern ?? 0,
              media.width ?? 1,
              media.height ?? 1,
              frame,
              plan.flicksPerFrame,
              show,
              engine,
              media.text,
            );
        else if (media.kind !== 'solid') this.note(use, i === ups.length - 1 ? part.layer : '', key, media, frame);
        this.blend = BLENDS[Math.round(contribution.blend.at(show, engine))] ?? 'normal';
        for (let c = 0; c < 3; c++) {
          this.gain[c] = (contribution.gain[c] as Slot).at(show, engine);
          this.invert[c] = (contribution.invert[c] as Slot).at(show, engine);
        }
        this.opaque = contribution.opaque.at(show, engine) >= 0.5;
        this.masking(plan, contribution, head, show);
        this.chained = 0;
        this.chain(plan, clip.effects, show);
        this.chain(plan, part.effects, show);
        this.place(clip.fit as number[], contribution, show);
        this.mirror(Math.round(contribution.mirror.at(show, engine)));
        const crop = (i: 0 | 1 | 2 | 3) => contribution.crop[i].at(show, engine);
        [this.crop[0], this.crop[1], this.crop[2], this.crop[3]] = [crop(0), crop(1), 1 - crop(2), 1 - crop(3)];
        this.tile = Math.round(contribution.tile.at(show, engine));
        this.clip = undefined;
        this.count = 0;
        if (reach) this.reach(plan, contribution, show, engine);
        this.shared = i < ups.length - 1;
        draw(
          use,
          timeline,
          key,
          media,
          frame,
          this.crop[0] >= this.crop[2] || this.crop[1] >= this.crop[3] ? 0 : opacity,
        );
      }
      this.shared = false;
    }
  }

  private readonly ups: Up[] = [];

  /** The pictures of a layer where a head is: one, or several while clips fade into each other, the uppermost last. */
  private up(plan: Plan, contribution: Contribution, head: Head, ups: Up[]): void {
    const { engine } = this;
    const { media, clips, part } = contribution;
    const weight = head.strength(engine);
    if (weight <= 0 || (media === null && part.stock === undefined)) return;
    this.prefetch(plan, contribution, head);
    const show = head.at(engine);
    if (contribution.routes.length > 0) {
      const number = Math.round(contribution.route.at(show, engine));
      if ((part.by ?? 0) !== (contribution.routes.includes(number) ? number : 0)) return;
    }
    if (
      contribution.mute.at(show, engine) >= 0.5 ||
      (contribution.solo.at(show, engine) < 0.5 && plan.soloed(contribution.timeline, show, engine))
    ) {
      // What is muted is fetched all the same, so that it is there at once.
      const up = media?.at(show, plan.flicksPerFrame, head.map, engine);
      const clip = up === undefined ? undefined : part.clips[up.clip];
      const of = clip === undefined ? undefined : plan.media(clip.media);
      if (
        up !== undefined &&
        clip !== undefined &&
        of !== undefined &&
        of.kind !== 'none' &&
        of.kind !== 'live' &&
        of.kind !== 'solid' &&
        of.kind !== 'pattern'
      )
        this.note(`${part.layer} ${up.clip & 63} ${head.number}`, part.layer, clip.media, of, up.frame);
      return;
    }
    const at = ups.length;
    let left = part.stock === undefined ? weight : this.called(plan, contribution, head, weight, ups);
    for (const track of clips) {
      if (left <= 0) break;
      const { clip: index, frame } = track.at(show, plan.flicksPerFrame, head.map, engine);
      const clip = part.clips[index];
      if (clip === undefined) continue;
      const strength = left * (clip.fade === undefined ? 1 : strengthOf(clip.fade, show));
      left -= strength;
      if (strength > 0 && clip.fit !== null)
        ups.splice(at, 0, { head, clip, use: `${part.layer} ${index & 63} ${head.number}`, frame, strength });
    }
  }

  /** The media that are called in place of a layer's clips, as `core/Playback/Moment.php` has it: the uppermost last. What is left for the clips. */
  private called(plan: Plan, contribution: Contribution, head: Head, weight: number, ups: Up[]): number {
    const { engine } = this;
    const { part, source } = contribution;
    const at = ups.length;
    let left = weight;
    let clips = 0;
    for (let i = (source.held?.length ?? 0) - 1; i >= 0; i--) {
      const one = (source.held as Held[])[i] as Held;
      const share = left * one.weight.at(engine);
      if (share <= 0) continue;
      const number = Math.round(one.at(engine));
      left -= share;
      if (number === 0) {
        clips += share;
        continue;
      }
      const clip = part.stock?.find((s) => s.number === number);
      if (clip === undefined || clip.fit === null) continue;
      const frame = one.frame(engine, clip.flicks, clip.frames);
      if (frame === null) continue;
      const use = `${part.layer} called ${one.begun}`;
      const media = plan.media(clip.media);
      if (media?.kind === 'video')
        this.use(use, clip.media, media).source.want(
          Array.from(
            { length: Math.min(10, clip.frames) },
            (_, k) => one.frame(engine + k * one.lasts(clip.flicks), clip.flicks, clip.frames) ?? frame,
          ),
        );
      ups.splice(at, 0, { head, clip, use, frame, strength: share });
    }
    return left + clips;
  }

  /** Adds effects to those of the picture, without those that change nothing. */
  private chain(plan: Plan, effects: readonly string[] | undefined, show: number): void {
    for (const id of effects ?? []) {
      this.passes[this.chained] ??= new Float32Array(EFFECT);
      if (plan.effect(id).write(this.passes[this.chained] as Float32Array, show, this.engine)) this.chained++;
    }
  }

  private chainText(): string {
    let text = '';
    for (let i = 0; i < this.chained; i++) text += ` effect ${(this.passes[i] as Float32Array).join(' ')}`;
    return text;
  }

  /** The picture of a step, with its effects, and the part of its texture that it is; null while it is not there. */
  private drawable(
    use: string,
    key: string,
    media: MediaPart,
    frame: number,
  ): { picture: Texture | Float32Array; size: [number, number]; matte: boolean } | null {
    const picture =
      media.kind === 'pattern'
        ? this.pattern
        : media.kind === 'solid'
          ? this.compositor.flat(media.colour ?? [0, 0, 0])
          : this.texture(use, key, media, frame);
    if (picture === null) return null;
    const [size, matte] = [shownOf(media, picture), media.matte === true];
    if (this.chained === 0) return { picture, size, matte };
    const text = media.text ?? NO_TEXT;
    const of = picture instanceof Float32Array ? `${picture.join(' ')} ${text.join(' ')}` : picture.key;
    const texture = this.compositor.effected(
      `${use} ${key}`,
      `${of} ${size.join(' ')}${this.chainText()}`,
      picture,
      size,
      matte,
      text,
      this.passes.slice(0, this.chained),
      this.small ? LARGEST_SMALL : LARGEST,
    );
    return { picture: texture, size: [texture.width, texture.height], matte: false };
  }

  /** What a layer is cut out by where a head is, as `core/Playback/DrawStep.php` has it. */
  private masking(plan: Plan, { part, mask, maskBy, maskColour }: Contribution, head: Head, show: number): void {
    const { engine } = this;
    this.mask.media = null;
    const number = part.masks === undefined ? 0 : Math.round(mask.at(show, engine));
    const one = number === 0 ? undefined : part.masks?.find((m) => m.number === number);
    if (one === undefined) return;
    // One that is called runs from then on; another with its timeline.
    const held = mask.held?.findLast((by) => by.weight.at(engine) >= 0.5);
    const frame =
      held === undefined
        ? Math.floor(Math.max(0, show) / one.flicks) % Math.max(1, one.frames)
        : (held.frame(engine, one.flicks, one.frames) ?? 0);
    const media = plan.media(one.media) ?? NOTHING;
    Object.assign(this.mask, { media, key: one.media, use: `${part.layer} mask ${head.number}`, frame });
    for (let i = 0; i < 7; i++) this.mask.by[i] = (maskBy[i] as Slot).at(show, engine);
    for (let c = 0; c < 3; c++) this.mask.colour[c] = (maskColour[c] as Slot).at(show, engine);
    if (media.kind === 'live') this.drawn.live = true;
    if (media.kind === 'pattern')
      plan
        .pattern(media.media ?? '')
        .write(
          this.mask.pattern,
          media.pattern ?? 0,
          media.width ?? 1,
          media.height ?? 1,
          frame,
          plan.flicksPerFrame,
          show,
          engine,
          media.text,
        );
    else if (media.kind === 'video' || media.kind === 'still') {
      if (media.kind === 'video')
        this.use(this.mask.use, one.media, media).source.want(
          Array.from({ length: Math.min(10, one.frames) }, (_, k) => (frame + k) % one.frames),
        );
      this.note(this.mask.use, '', one.media, media, frame);
    }
  }

  private maskText(): string {
    const { media, by, colour, pattern, use, key, frame } = this.mask;
    if (media === null) return '';
    const shown =
      media.kind === 'solid'
        ? media.colour
        : media.kind === 'pattern'
          ? pattern.join(' ')
          : media.kind === 'none'
            ? ''
            : this.texture(use, key, media, frame)?.key;
    return ` mask ${shown} ${by.join(' ')} ${colour.join(' ')}`;
  }

  private cutOut(): Mask | null {
    const { media, by, colour, pattern, use, key, frame } = this.mask;
    if (media === null) return null;
    const size: [number, number] = [media.width ?? 1, media.height ?? 1];
    let texture: Texture | null = null;
    if (media.kind === 'pattern')
      texture = this.compositor.rendered(`mask ${use} ${key}`, pattern, ...size, media.text ?? NO_TEXT);
    else if (media.kind === 'solid') texture = this.compositor.flat(media.colour ?? [0, 0, 0]);
    else if (media.kind !== 'none') texture = this.texture(use, key, media, frame);
    const n = (i: number) => by[i] as number;
    return {
      texture,
      shown: texture === null ? [1, 1] : shownOf(media, texture),
      matte: media.matte === true,
      key: Math.round(n(0)),
      inverted: n(1) >= 0.5,
      width: n(2),
      colour,
      place: [n(3), n(4), n(5), n(6)],
    };
  }

  /** The picture's unit square onto the raster: scaled and turned about its pivot, then moved; quarter turns are exact. */
  private place(fit: number[], contribution: Contribution, show: number): void {
    const { engine } = this;
    const [cos, sin] = turned(contribution.turn.at(show, engine));
    const scale = contribution.scale.at(show, engine);
    const [c, s] = [cos * scale, sin * scale];
    const [u, v] = [contribution.pivot[0].at(show, engine), contribution.pivot[1].at(show, engine)];
    const px = (fit[0] as number) * u + (fit[1] as number) * v + (fit[2] as number);
    const py = (fit[3] as number) * u + (fit[4] as number) * v + (fit[5] as number);
    const tx = px + contribution.x.at(show, engine) - c * px + s * py;
    const ty = py + contribution.y.at(show, engine) - s * px - c * py;
    const m = this.matrix;
    for (let i = 0; i < 3; i++) {
      const [a, b, w] = [fit[i] as number, fit[3 + i] as number, fit[6 + i] as number];
      m[i] = c * a - s * b + tx * w;
      m[3 + i] = s * a + c * b + ty * w;
      m[6 + i] = w;
    }
  }

  /** Swaps left and right of the picture, top and bottom, or both, by the number of the layer's choice. */
  private mirror(choice: number): void {
    const m = this.matrix;
    for (let c = 0; c < 2; c++) {
      if ((choice & (1 << c)) === 0) continue;
      for (let i = 0; i < 9; i += 3) {
        const along = m[i + c] as number;
        m[i + c] = -along;
        m[i + 2] = (m[i + 2] as number) + along;
      }
    }
  }

  /** How the pane gets to the surface: the matrix leads to the raster then, or, where it is thrown, stays on the pane. */
  private reach(plan: Plan, contribution: Contribution, show: number, engine: number): void {
    const { part, share, thrown } = contribution;
    this.clip = part.clip;
    this.count = Math.min(MAX_LENSES, thrown.length);
    this.mesh = contribution.mesh;
    this.round = contribution.round;
    for (let i = 0; i < this.count; i++) (thrown[i] as Thrower).write(this.throws, i * THROW, show, engine);
    this.around = this.count > 0 ? (thrown[0] as Thrower).around(show, engine) : 0;
    if (part.onto !== undefined) this.after(part.onto);
    if (share !== null) {
      const surface = plan.surface(part.surface);
      if (surface !== undefined) this.after(shareMatrix(share, show, engine, surface.width, surface.height));
    }
  }

  /** Another matrix after the one that stands in this. */
  private after(a: ArrayLike<number>): void {
    const m = this.matrix;
    for (let c = 0; c < 3; c++) {
      const [x, y, w] = [m[c] as number, m[3 + c] as number, m[6 + c] as number];
      for (let r = 0; r < 9; r += 3)
        m[r + c] = (a[r] as number) * x + (a[r + 1] as number) * y + (a[r + 2] as number) * w;
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
      this.note(layer, '', key, media, frame);
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
    this.invert.fill(0);
    this.opaque = false;
    this.mask.media = null;
    this.chained = 0;
    [this.crop[0], this.crop[1], this.crop[2], this.crop[3]] = [0, 0, 1, 1];
    this.tile = 0;
    this.clip = undefined;
    this.count = 0;
    this.matrix.set([width, 0, 0, 0, height, 0, 0, 0, 1]);
    draw(
      '',
      '',
      key,
      {
        kind: 'still',
        name: 'Test card',
        url: `/api/patterns/testcard.png?${new URLSearchParams({ width: String(width), height: String(height), name })}`,
      },
      0,
      1,
    );
  }

  /** The texture with the picture that should be up, or the one before it while that is on its way. */
  private texture(layer: string, key: string, media: MediaPart, frame: number): Texture | null {
    const use = this.use(layer, key, media);
    const there = use.source.get(media.kind === 'video' ? frame : 0);
    if (there !== null && use.texture?.key !== there.key)
      use.texture = this.compositor.fill(use.texture, there.image, there.key);
    return use.texture;
  }

  /** @param layer of which it is reported, empty for none */
  private note(of: string, layer: string, key: string, media: MediaPart, frame: number): void {
    const use = this.use(of, key, media);
    const texture = this.texture(of, key, media, frame);
    if (media.kind !== 'live' && texture?.key !== (media.kind === 'video' ? `${media.url}#${frame}` : media.url))
      this.drawn.late = true;
    if (media.kind === 'live') {
      if (texture === null) this.lack(`${media.name}: no picture yet`);
    } else if (use.source.error !== '') this.lack(`${media.name}: ${use.source.error}`);
    else if (texture === null) this.lack(`${media.name}: not loaded yet`);
    const shown = texture === null ? -1 : Number(texture.key.split('#')[1] ?? 0);
    if (layer !== '' && !this.drawn.layers.some((l) => l.layer === layer))
      this.drawn.layers.push({ layer, frame, shown });
  }

  /** Tells the sources of a layer which frames they will have to have. */
  private prefetch(plan: Plan, contribution: Contribution, head: Head) {
    const { layer, clips } = contribution.part;
    const once = `${layer} ${head.number}`;
    if (this.fetched.has(once)) return;
    this.fetched.add(once);
    const step = plan.flicksPerFrame;
    const wanted = new Map<string, { use: string; key: string; frames: number[] }>();
    const look = (track: MediaTrack) => {
      for (let t = this.engine; t < this.engine + AHEAD; t += step) {
        const { clip: index, frame } = track.at(head.map.at(t), step, head.map, t);
        const clip = clips[index];
        if (clip === undefined) continue;
        const use = `${layer} ${index & 63} ${head.number}`;
        const id = `${use} ${clip.media}`;
        const there = wanted.get(id);
        if (there === undefined) wanted.set(id, { use, key: clip.media, frames: [frame] });
        else if (!there.frames.includes(frame)) there.frames.push(frame);
      }
    };
    for (const track of contribution.clips) look(track);
    for (const { use, key, frames } of wanted.values()) {
      const media = plan.media(key);
      if (media !== undefined && (media.kind === 'video' || media.kind === 'still'))
        this.use(use, key, media).source.want(frames);
    }
  }

  private use(of: string, key: string, media: MediaPart): Use {
    const id = media.kind === 'video' ? `${of} ${key}` : (media.url ?? key);
    let use = this.uses.get(id);
    if (use !== undefined && use.url !== media.url) {
      use.source.close();
      use = undefined;
    }
    if (use === undefined) {
      use = {
        source: sourceOf(media, this.small),
        texture: this.uses.get(id)?.texture ?? null,
        url: media.url ?? '',
        asked: this.turn,
      };
      this.uses.set(id, use);
    }
    use.asked = this.turn;
    return use;
  }

  private lack(message: string) {
    if (!this.drawn.lacks.includes(message)) this.drawn.lacks.push(message);
  }
}
