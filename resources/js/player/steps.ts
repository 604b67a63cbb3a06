import { properties } from '../api/kinds';
import type { Instead, MediaPart, SurfacePart } from '../live/messages';
import type { Contribution, Plan } from '../live/plan';
import type { Head, ShowPlayback } from '../live/playback';
import { MAX_LENSES, THROW, type Thrower } from '../live/throw';
import { type Held, type Slot, strengthOf } from '../live/values';
import { type Pictures, useOf } from './pictures';
import { type Blend, DrawStep, NOTHING, type Shot } from './step';

/** A bar's way across a test card, in flicks: 4 s. */
const RUN = 2_822_400_000;

/** Frames of a video that is called, or that cuts out, which are asked for ahead. */
const FRAMES_AHEAD = 10;

const BLENDS = properties.layer.find((p) => p.name === 'blend')?.options as readonly Blend[];

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

/** The picture's unit square onto the pane: scaled and turned about its pivot, then moved; quarter turns are exact. */
function place(m: Float64Array, fit: number[], contribution: Contribution, show: number, engine: number): void {
  const [cos, sin] = turned(contribution.turn.at(show, engine));
  const scale = contribution.scale.at(show, engine);
  const [c, s] = [cos * scale, sin * scale];
  const [u, v] = [contribution.pivot[0].at(show, engine), contribution.pivot[1].at(show, engine)];
  const px = (fit[0] as number) * u + (fit[1] as number) * v + (fit[2] as number);
  const py = (fit[3] as number) * u + (fit[4] as number) * v + (fit[5] as number);
  const tx = px + contribution.x.at(show, engine) - c * px + s * py;
  const ty = py + contribution.y.at(show, engine) - s * px - c * py;
  for (let i = 0; i < 3; i++) {
    const [a, b, w] = [fit[i] as number, fit[3 + i] as number, fit[6 + i] as number];
    m[i] = c * a - s * b + tx * w;
    m[3 + i] = s * a + c * b + ty * w;
    m[6 + i] = w;
  }
}

/** Swaps left and right of the picture, top and bottom, or both, by the number of the layer's choice. */
function mirror(m: Float64Array, choice: number): void {
  for (let c = 0; c < 2; c++) {
    if ((choice & (1 << c)) === 0) continue;
    for (let i = 0; i < 9; i += 3) {
      const along = m[i + c] as number;
      m[i + c] = -along;
      m[i + 2] = (m[i + 2] as number) + along;
    }
  }
}

/** Another matrix after one. */
function after(m: Float64Array, a: ArrayLike<number>): void {
  for (let c = 0; c < 3; c++) {
    const [x, y, w] = [m[c] as number, m[3 + c] as number, m[6 + c] as number];
    for (let r = 0; r < 9; r += 3)
      m[r + c] = (a[r] as number) * x + (a[r + 1] as number) * y + (a[r + 2] as number) * w;
  }
}

/** Values of a mask, as a contribution has them: key, inverted, width, x, y, scale, feather. */
type MaskValues = [number, number, number, number, number, number, number];

/** A picture of a layer that is up: by which head, of which clip, at which frame, and how much of it is there. */
interface Up {
  head: Head;
  clip: { media: string; fit: number[] | null; effects?: string[] };
  use: string;
  frame: number;
  strength: number;
}

/** Makes the steps by which a surface is drawn, from the bottom up: the same that the core makes (`core/Playback/DrawStep.php`). */
export class Steps {
  private readonly pool: DrawStep[] = [];
  private made = 0;
  private readonly ups: Up[] = [];
  private plan: Plan | null = null;
  private playback: ShowPlayback | null = null;
  private engine = 0;

  constructor(private readonly pictures: Pictures) {}

  begin(playback: ShowPlayback, plan: Plan, engine: number): void {
    [this.playback, this.plan, this.engine] = [playback, plan, engine];
  }

  /**
   * Those of a surface. They hold until others are asked for.
   *
   * @param instead of what it shows: white, or its test card
   */
  ofSurface(surface: string, instead: Instead | null = null): readonly DrawStep[] {
    const { plan, playback } = this;
    this.made = 0;
    if (plan !== null && playback !== null) {
      const part = plan.surface(surface);
      if (instead !== null) {
        if (typeof instead !== 'string') {
          const [x, y, w, h] = instead;
          this.plain('white', w, h).matrix.set([w, 0, x, 0, h, y, 0, 0, 1]);
        } else if (part !== undefined && instead === 'white') this.plain('white', part.width, part.height);
        else if (part !== undefined)
          this.pictures.note(this.testCard(`card ${part.guide ?? surface}`, part, part.guide).shot, '');
        return this.list();
      }
      this.layers(plan, playback, plan.contributions(surface), true);
      if (part !== undefined && playback.cards.has(surface)) this.card(surface, part);
    }
    return this.list();
  }

  /** Those of what lies in the pane of a route. */
  ofPane(route: string): readonly DrawStep[] {
    const { plan, playback } = this;
    this.made = 0;
    if (plan !== null && playback !== null) this.layers(plan, playback, plan.pane(route)?.contributions ?? [], false);
    return this.list();
  }

  /** The test card over the whole of something. */
  ofCard(key: string, size: SurfacePart): DrawStep {
    this.made = 0;
    return this.testCard(key, size);
  }

  private testCard(
    key: string,
    { width, height, name }: SurfacePart,
    url = `/api/patterns/testcard.png?${new URLSearchParams({ width: `${width}`, height: `${height}`, name })}`,
  ): DrawStep {
    const step = this.next();
    Object.assign(step.shot, { key, media: { kind: 'still', name: 'Test card', url } satisfies MediaPart });
    step.matrix.set([width, 0, 0, 0, height, 0, 0, 0, 1]);
    return step;
  }

  private next(): DrawStep {
    this.pool[this.made] ??= new DrawStep();
    return (this.pool[this.made++] as DrawStep).reset();
  }

  private list(): readonly DrawStep[] {
    return this.pool.slice(0, this.made);
  }

  /** A test card that is put up, and a bar that runs across it, so that a frozen picture is seen to be one. */
  private card(surface: string, { width, height, name }: SurfacePart) {
    this.pictures.note(this.testCard(`card ${surface}`, { width, height, name }).shot, '');
    const bar = Math.max(2, width / 96);
    const step = this.plain('card bar', bar, height);
    step.look.opacity = 0.85;
    step.matrix[2] = ((this.engine % RUN) / RUN) * (width + bar) - bar;
  }

  /** A white rectangle in the corner. */
  private plain(key: string, width: number, height: number): DrawStep {
    const step = this.next();
    Object.assign(step.shot, {
      key,
      media: { kind: 'solid', name: 'White', colour: [255, 255, 255] } satisfies MediaPart,
    });
    step.matrix.set([width, 0, 0, 0, height, 0, 0, 0, 1]);
    return step;
  }

  /** @param reach whether each is carried from its pane to the surface */
  private layers(plan: Plan, playback: ShowPlayback, contributions: readonly Contribution[], reach: boolean): void {
    for (const contribution of contributions) {
      this.ups.length = 0;
      for (const head of playback.headsAt(contribution.timeline, this.engine)) this.up(plan, contribution, head);
      for (const [i, up] of this.ups.entries()) this.step(plan, contribution, up, i === this.ups.length - 1, reach);
    }
  }

  /** @param last whether it is the uppermost of its layer */
  private step(plan: Plan, contribution: Contribution, up: Up, last: boolean, reach: boolean): void {
    const { engine, pictures } = this;
    const { part } = contribution;
    const { head, clip, strength } = up;
    const step = this.next();
    const { shot, look } = step;
    const show = head.at(engine);
    step.timeline = contribution.timeline;
    step.shared = !last;
    Object.assign(shot, { use: up.use, key: clip.media, media: plan.media(clip.media) ?? NOTHING, frame: up.frame });
    this.instead(shot, plan);
    if (shot.media.kind === 'pattern') this.pattern(plan, shot, show);
    else if (shot.media.kind !== 'solid' && shot.media.kind !== 'none') pictures.note(shot, last ? part.layer : '');
    look.blend = BLENDS[Math.round(contribution.blend.at(show, engine))] ?? 'normal';
    for (let c = 0; c < 3; c++) {
      look.gain[c] = (contribution.gain[c] as Slot).at(show, engine);
      look.invert[c] = (contribution.invert[c] as Slot).at(show, engine);
    }
    look.opaque = contribution.opaque.at(show, engine) >= 0.5;
    this.mask(plan, step, contribution, head, show);
    for (const id of [...(clip.effects ?? []), ...(part.effects ?? [])])
      if (plan.effect(id).write(step.nextPass(), show, engine)) step.chained++;
    place(step.matrix, clip.fit as number[], contribution, show, engine);
    mirror(step.matrix, Math.round(contribution.mirror.at(show, engine)));
    for (let i = 0; i < 4; i++) {
      const cut = (contribution.crop[i] as Slot).at(show, engine);
      look.crop[i] = i < 2 ? cut : 1 - cut;
    }
    look.tile = Math.round(contribution.tile.at(show, engine));
    if (reach) this.reach(plan, step, contribution, show);
    const seen = look.crop[0] < look.crop[2] && look.crop[1] < look.crop[3];
    look.opacity = seen ? contribution.opacity.at(show, engine) * contribution.level.at(show, engine) * strength : 0;
  }

  /** What is shown in place of an input without a signal, and of what is missing. */
  private instead(shot: Shot, plan: Plan): void {
    const { pictures } = this;
    if (shot.media.kind === 'live') {
      pictures.drawn.live = true;
      const error = pictures.errorOf(shot);
      if (error !== '') {
        pictures.lack(`${shot.media.name}: ${error}`);
        if (shot.media.standIn !== undefined)
          Object.assign(shot, { key: `${shot.key} stand-in`, media: shot.media.standIn });
      }
    }
    if (shot.media.kind === 'none') {
      const there = plan.media(shot.key) !== undefined || shot.media !== NOTHING;
      pictures.lack(`${there ? shot.media.name : 'media'}: ${shot.media.why ?? 'not in the plan'}`);
      // What shows nothing still ends a sum.
      shot.media = NOTHING;
    }
  }

  private pattern(plan: Plan, { media, frame, pattern }: Shot, show: number): void {
    const { pattern: number = 0, width = 1, height = 1, text } = media;
    plan
      .pattern(media.media ?? '')
      .write(pattern, number, width, height, frame, plan.flicksPerFrame, show, this.engine, text);
  }

  /** The pictures of a layer where a head is: one, or several while clips fade into each other, the uppermost last. */
  private up(plan: Plan, contribution: Contribution, head: Head): void {
    const { engine, ups } = this;
    const { media, clips, part } = contribution;
    const weight = head.strength(engine);
    if (weight <= 0 || (media === null && part.stock === undefined)) return;
    this.pictures.prefetch(plan, contribution, head, engine);
    const show = head.at(engine);
    if (contribution.routes.length > 0) {
      const number = Math.round(contribution.route.at(show, engine));
      if ((part.by ?? 0) !== (contribution.routes.includes(number) ? number : 0)) return;
    }
    if (
      contribution.mute.at(show, engine) >= 0.5 ||
      (contribution.solo.at(show, engine) < 0.5 && plan.soloed(contribution.timeline, show, engine))
    ) {
      this.silent(plan, contribution, head, show);
      return;
    }
    const at = ups.length;
    let left = part.stock === undefined ? weight : this.called(plan, contribution, head, weight);
    for (const track of clips) {
      if (left <= 0) break;
      const { clip: index, frame } = track.at(show, plan.flicksPerFrame, head.map, engine);
      const clip = part.clips[index];
      if (clip === undefined) continue;
      const strength = left * (clip.fade === undefined ? 1 : strengthOf(clip.fade, show));
      left -= strength;
      if (strength > 0 && clip.fit !== null)
        ups.splice(at, 0, { head, clip, use: useOf(part.layer, index, head), frame, strength });
    }
  }

  /** What is muted is fetched all the same, so that it is there at once. */
  private silent(plan: Plan, { media, part }: Contribution, head: Head, show: number): void {
    const up = media?.at(show, plan.flicksPerFrame, head.map, this.engine);
    const clip = up === undefined ? undefined : part.clips[up.clip];
    const of = clip === undefined ? undefined : plan.media(clip.media);
    if (up === undefined || clip === undefined || of === undefined) return;
    if (of.kind === 'none' || of.kind === 'live' || of.kind === 'solid' || of.kind === 'pattern') return;
    const use = useOf(part.layer, up.clip, head);
    this.pictures.note({ use, key: clip.media, media: of, frame: up.frame, pattern: EMPTY }, part.layer);
  }

  /** The media that are called in place of a layer's clips, as `core/Playback/Moment.php` has it: the uppermost last. What is left for the clips. */
  private called(plan: Plan, contribution: Contribution, head: Head, weight: number): number {
    const { engine, ups } = this;
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
        this.pictures.want(
          { use, key: clip.media, media, frame, pattern: EMPTY },
          Array.from(
            { length: Math.min(FRAMES_AHEAD, clip.frames) },
            (_, k) => one.frame(engine + k * one.lasts(clip.flicks), clip.flicks, clip.frames) ?? frame,
          ),
        );
      ups.splice(at, 0, { head, clip, use, frame, strength: share });
    }
    return left + clips;
  }

  /** What a layer is cut out by where a head is, as `core/Playback/DrawStep.php` has it. */
  private mask(plan: Plan, step: DrawStep, contribution: Contribution, head: Head, show: number): void {
    const { engine, pictures } = this;
    const { part, mask, maskBy, maskColour } = contribution;
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
    const { shot, look } = step.mask;
    step.mask.on = true;
    Object.assign(shot, { media, key: one.media, use: `${part.layer} mask ${head.number}`, frame });
    const [key, inverted, width, x, y, scale, feather] = maskBy.map((slot) => slot.at(show, engine)) as MaskValues;
    Object.assign(look, { key: Math.round(key), inverted: inverted >= 0.5, width });
    [look.place[0], look.place[1], look.place[2], look.place[3]] = [x, y, scale, feather];
    for (let c = 0; c < 3; c++) look.colour[c] = (maskColour[c] as Slot).at(show, engine);
    if (media.kind === 'live') pictures.drawn.live = true;
    if (media.kind === 'pattern') this.pattern(plan, shot, show);
    else if (media.kind === 'video' || media.kind === 'still') {
      if (media.kind === 'video')
        pictures.want(
          shot,
          Array.from({ length: Math.min(FRAMES_AHEAD, one.frames) }, (_, k) => (frame + k) % one.frames),
        );
      pictures.note(shot, '');
    }
  }

  /** How the pane gets to the surface: the matrix leads to the raster then, or, where it is thrown, stays on the pane. */
  private reach(plan: Plan, step: DrawStep, contribution: Contribution, show: number): void {
    const { engine } = this;
    const { part, share, thrown } = contribution;
    step.clip = part.clip ?? null;
    const count = Math.min(MAX_LENSES, thrown.length);
    if (count > 0) {
      const numbers = step.throwsOf();
      for (let i = 0; i < count; i++) (thrown[i] as Thrower).write(numbers, i * THROW, show, engine);
      const around = (thrown[0] as Thrower).around(show, engine);
      Object.assign(step.thrown, { mesh: contribution.mesh, round: contribution.round, count, around });
    }
    if (part.onto !== undefined) after(step.matrix, part.onto);
    if (share !== null) {
      const surface = plan.surface(part.surface);
      if (surface !== undefined) after(step.matrix, shareMatrix(share, show, engine, surface.width, surface.height));
    }
  }
}

const EMPTY = new Float32Array(0);
