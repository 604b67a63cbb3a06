import { EFFECT } from '../live/effects';
import type { MediaPart, Rect, RoundPart } from '../live/messages';
import { PATTERN } from '../live/pattern';
import type { Mesh } from '../live/plan';
import { MAX_LENSES, THROW } from '../live/throw';

export type Blend = 'normal' | 'add' | 'screen' | 'multiply' | 'lighten' | 'darken';

export const NOTHING: MediaPart = { kind: 'none', name: '' };

/** How a picture is laid on what is there. Each is said to the shaders (`LOOKS` in `compositor.ts`) and stands in the text of its step. */
export interface Look {
  opacity: number;
  blend: Blend;
  /** What red, green and blue are multiplied by, before they are cut off at 1. */
  gain: [number, number, number];
  /** How far red, green and blue are turned into their opposites. */
  invert: [number, number, number];
  /** Whether it is black where it is clear. */
  opaque: boolean;
  /** What is seen of the picture's unit square: left, top, right, bottom. */
  crop: Rect;
  /** Whether that is repeated: 1 across, 2 down, 3 both. */
  tile: number;
}

/** As it is. */
export const plainLook = (): Look => ({
  opacity: 1,
  blend: 'normal',
  gain: [1, 1, 1],
  invert: [0, 0, 0],
  opaque: false,
  crop: [0, 0, 1, 1],
  tile: 0,
});

/** What a picture is cut out by (`core/Playback/LayerMask.php`). */
export interface MaskLook {
  key: number;
  inverted: boolean;
  width: number;
  colour: [number, number, number];
  /** Right, down, scale, feather. */
  place: [number, number, number, number];
}

/** A media at a frame, and where its picture is kept. */
export interface Shot {
  /** What tells its decoder from others of the same media. */
  use: string;
  /** The key of its media. */
  key: string;
  media: MediaPart;
  frame: number;
  /** The numbers of a pattern, where it is one. */
  pattern: Float32Array;
}

const shotOf = (): Shot => ({ use: '', key: '', media: NOTHING, frame: 0, pattern: new Float32Array(PATTERN) });

/** By what a pane is thrown onto a surface's triangles. */
export interface Throw {
  mesh: Mesh | null;
  /** The true shape of what is round. */
  round: RoundPart | null;
  /** Numbers of each lens or globe (`live/throw.ts`), of which so many count. */
  numbers: Float32Array;
  count: number;
  /** Pane pixels of a whole turn; 0 for lenses. */
  around: number;
}

/** One picture that is laid on a raster, as the core makes it (`core/Playback/DrawStep.php`): made anew for each frame, in the same memory. */
export class DrawStep {
  readonly shot = shotOf();
  timeline = '';
  /** The picture's unit square onto the raster's pixels, or those of the pane where it is thrown; row by row. */
  readonly matrix = new Float64Array(9);
  readonly look = plainLook();
  /** Whether its light is added to that of the next before both are laid on. */
  shared = false;
  /** The part of the raster that may be drawn on: left, top, right, bottom; null for all. */
  clip: Rect | null = null;
  readonly mask = {
    on: false,
    shot: shotOf(),
    look: { key: 0, inverted: false, width: 0, colour: [0, 0, 0], place: [0, 0, 1, 0] } as MaskLook,
  };
  /** Numbers of each effect that is done to the picture before it is placed, of which so many count. */
  readonly passes: Float32Array[] = [];
  chained = 0;
  readonly thrown: Throw = { mesh: null, round: null, numbers: new Float32Array(0), count: 0, around: 0 };

  /** Begins another one: one colour of its own size, as it is. */
  reset(): this {
    Object.assign(this.shot, { use: '', key: '', media: NOTHING, frame: 0 });
    this.shot.pattern.fill(0);
    this.matrix.fill(0);
    Object.assign(this.look, { opacity: 1, blend: 'normal', opaque: false, tile: 0 });
    const { gain, invert, crop } = this.look;
    gain.fill(1);
    invert.fill(0);
    [crop[0], crop[1], crop[2], crop[3]] = [0, 0, 1, 1];
    this.timeline = '';
    this.shared = false;
    this.clip = null;
    this.mask.on = false;
    this.chained = this.thrown.count = this.thrown.around = 0;
    return this;
  }

  /** Where the numbers of the next effect go, which count when `chained` is one more. */
  nextPass(): Float32Array {
    this.passes[this.chained] ??= new Float32Array(EFFECT);
    return this.passes[this.chained] as Float32Array;
  }

  /** Where the numbers of lenses go. */
  throwsOf(): Float32Array {
    if (this.thrown.numbers.length === 0) this.thrown.numbers = new Float32Array(THROW * MAX_LENSES);
    return this.thrown.numbers;
  }

  /** The effects that count. */
  get effects(): readonly Float32Array[] {
    return this.passes.slice(0, this.chained);
  }

  /** What is done to its picture, as text. */
  get chain(): string {
    return this.effects.map((numbers) => ` effect ${numbers.join(' ')}`).join('');
  }

  /**
   * What it draws, as text: the same text for the same picture. It is made of all that the step has, so that nothing
   * is forgotten in it.
   *
   * @param picture names the picture of a shot
   */
  text(picture: (shot: Shot) => string): string {
    const { shot, timeline, matrix, look, shared, clip, mask, thrown } = this;
    return [
      shot.key,
      picture(shot),
      timeline,
      matrix.join(' '),
      textOf(look),
      shared,
      clip?.join(' ') ?? '',
      mask.on ? `${picture(mask.shot)} ${textOf(mask.look)}` : '',
      this.chain,
      thrown.count === 0 ? '' : `${thrown.numbers.subarray(0, thrown.count * THROW).join(' ')} ${thrown.around}`,
    ].join('|');
  }
}

/** All values of a look as text. */
function textOf(look: Look | MaskLook): string {
  let text = '';
  for (const value of Object.values(look)) text += `${Array.isArray(value) ? value.join(' ') : value} `;
  return text;
}
