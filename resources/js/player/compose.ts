import type { Instead, Rect } from '../live/messages';
import type { Plan } from '../live/plan';
import type { ShowPlayback } from '../live/playback';
import type { Compositor, Laying } from './compositor';
import type { Raster } from './context';
import { type Drawn, Pictures } from './pictures';
import type { DrawStep } from './step';
import { Steps } from './steps';

/** Composes surface rasters at an engine time: makes their steps, and draws them from the bottom up. */
export class Composer {
  private readonly pictures: Pictures;
  private readonly steps: Steps;
  private readonly matrix = new Float64Array(9);
  private plan: Plan | null = null;

  /** @param small whether live inputs are taken in their small form */
  constructor(
    private readonly compositor: Compositor,
    small = false,
  ) {
    this.pictures = new Pictures(compositor, small);
    this.steps = new Steps(this.pictures);
  }

  /** Lets go of all sources. */
  close() {
    this.pictures.close();
  }

  begin(playback: ShowPlayback, plan: Plan, engine: number): void {
    this.plan = plan;
    this.pictures.begin();
    this.steps.begin(playback, plan, engine);
  }

  /** What was drawn since begin(). */
  end(): Drawn {
    this.pictures.end();
    this.compositor.end();
    return this.pictures.drawn;
  }

  /**
   * What a surface shows, as text: two that are the same are the same picture. Asks for what it will have to have, and says
   * what is late or missing.
   */
  signature(surface: string): string {
    return this.textOf(this.steps.ofSurface(surface));
  }

  /** What lies in the pane of a route, as text. */
  paneSignature(route: string): string {
    return this.textOf(this.steps.ofPane(route));
  }

  private textOf(steps: readonly DrawStep[]): string {
    return steps.map((step) => step.text((shot) => this.pictures.nameOf(shot))).join('\n');
  }

  /**
   * Composes one window of a surface's raster and returns it; a scale below 1 makes it smaller.
   *
   * @param instead of what the surface shows: white, or its test card
   */
  window(key: string, surface: string, window: Rect, scale = 1, instead: Instead | null = null): Raster {
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
    this.draw(this.steps.ofSurface(surface, instead), raster, window, scale);
    return raster;
  }

  /** Composes the whole pane of a route, smaller or larger; null where nothing lies in it. */
  pane(key: string, route: string, scale: number): Raster | null {
    const size = this.plan?.pane(route)?.size;
    if (size === undefined) return null;
    const [width, height] = [Math.max(1, Math.round(size[0] * scale)), Math.max(1, Math.round(size[1] * scale))];
    const raster = this.compositor.begin(key, width, height);
    this.compositor.clip([0, 0, width, height]);
    this.draw(this.steps.ofPane(route), raster, [0, 0, size[0], size[1]], scale);
    return raster;
  }

  /** The card of an output by which it is recognised, over the whole of it; null until its picture has come. */
  identify(output: string, size: { width: number; height: number; name: string }): Raster | null {
    const card = this.steps.ofCard(`card ${output}`, size);
    if (this.pictures.texture(card.shot) === null) return null;
    const raster = this.compositor.begin(`identify ${output}`, size.width, size.height);
    this.draw([card], raster, [0, 0, size.width, size.height], 1);
    return raster;
  }

  /** Draws steps onto a raster that shows a window of what they are for. */
  private draw(steps: readonly DrawStep[], raster: Raster, window: Rect, scale: number): void {
    let sum: Raster | null = null;
    for (const step of steps) {
      if (!step.shared && sum === null) {
        this.lay(step, raster, window, scale);
        continue;
      }
      sum ??= this.compositor.gather(raster);
      const { blend } = step.look;
      step.look.blend = 'add';
      this.lay(step, sum, window, scale);
      step.look.blend = blend;
      if (step.shared) continue;
      this.compositor.lay(raster, sum, blend);
      sum = null;
    }
  }

  private lay(step: DrawStep, raster: Raster, window: Rect, scale: number): void {
    const { clip, thrown } = step;
    if (step.look.opacity <= 0 || step.shot.media.kind === 'none') return;
    if (thrown.count > 0) {
      this.throw(step, raster, window, scale);
      return;
    }
    if (clip === null) {
      this.put(step, raster, window, scale);
      return;
    }
    // A pixel is drawn whose middle lies within.
    const edge = (at: number, from: number) => Math.ceil((at - from) * scale - 0.5);
    this.compositor.within(
      [edge(clip[0], window[0]), edge(clip[1], window[1]), edge(clip[2], window[0]), edge(clip[3], window[1])],
      () => this.put(step, raster, window, scale),
    );
  }

  /** Draws a picture where its matrix says. */
  private put(step: DrawStep, raster: Raster, window: Rect, scale: number): void {
    const { media } = step.shot;
    // From the raster's pixels to those of a window of it.
    for (let i = 0; i < 3; i++) {
      const w = step.matrix[6 + i] as number;
      this.matrix[i] = ((step.matrix[i] as number) - window[0] * w) * scale;
      this.matrix[3 + i] = ((step.matrix[3 + i] as number) - window[1] * w) * scale;
      this.matrix[6 + i] = w;
    }
    if (media.kind === 'solid' && step.chained === 0 && !step.mask.on) {
      this.compositor.solid(raster, media.colour ?? [0, 0, 0], this.matrix, step.look);
      return;
    }
    const picture = this.pictures.effected(step);
    if (picture !== null) this.compositor.layer(raster, picture, this.matrix, this.laying(step));
  }

  /** Throws a picture in a pane onto the surface's triangles. */
  private throw(step: DrawStep, raster: Raster, rect: Rect, scale: number): void {
    const { media } = step.shot;
    // One colour needs no picture to be thrown.
    const plain = media.kind === 'solid' && step.chained === 0;
    const picture = plain ? null : this.pictures.effected(step);
    if (picture === null && !plain) return;
    this.compositor.throw(
      raster,
      { rect, scale },
      picture,
      media.colour ?? [0, 0, 0],
      step.matrix,
      this.laying(step),
      step.thrown,
      this.plan?.solids?.numbers ?? null,
    );
  }

  private laying(step: DrawStep): Laying {
    return { look: step.look, mask: this.pictures.mask(step) };
  }
}
