import { effects } from '../api/kinds';
import type { Rect } from '../live/messages';
import { PATTERN_AT, SIGNS } from '../live/pattern';
import { Mesh } from '../live/plan';
import { Context, type Program, type Raster, type Target, type Texture } from './context';
import { Depths } from './depths';
import { EFFECT_PASS, PLAIN } from './effects';
import { DELIVER, LAYER, lookUp, PICTURE_AT, SOLID, SUM, THROWN, TRIANGLES } from './shaders';
import { type Blend, type Look, type MaskLook, plainLook, type Throw } from './step';
import { type Warped, Warps } from './warps';

/** The number of the effect that takes two steps. */
const BLUR = Object.keys(effects).indexOf('blur') + 1;

const UPRIGHT = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

const NO_TEXT: readonly number[] = [];

/** A 3×3 matrix, row by row. */
export type Matrix = ArrayLike<number>;

/** What is looked up: a texture, or the numbers of a pattern; and the part of it that is the picture. */
export interface Picture {
  of: Texture | Float32Array;
  /** Its width and height. */
  size: [number, number];
  /** Whether its matte lies below it. */
  matte: boolean;
  /** Columns, rows and signs, where it is a text. */
  text: readonly number[];
}

/** What a picture is cut out by; without a picture, by nothing that is there. */
export interface Mask {
  picture: Picture | null;
  look: MaskLook;
}

/** How a picture is laid on what is there: its look, and what it is cut out by. */
export interface Laying {
  look: Readonly<Look>;
  mask: Mask | null;
}

/** A window of a surface's raster, and how much larger the raster is that shows it. */
export interface Window {
  rect: Rect;
  scale: number;
}

/** As it is. */
const PLAINLY: Laying = { look: plainLook(), mask: null };

/** How each value of a look is said to the shaders: `size` is that of the picture. */
const LOOKS: {
  [V in keyof Look]: (
    gl: WebGL2RenderingContext,
    at: Program['at'],
    look: Readonly<Look>,
    size: [number, number],
  ) => void;
} = {
  opacity: (gl, at, { opacity }) => gl.uniform1f(at('opacity'), opacity),
  blend: (gl, at, { blend }) => gl.uniform1i(at('darken'), blend === 'darken' ? 1 : 0),
  gain: (gl, at, { gain }) => gl.uniform3f(at('gain'), ...gain),
  invert: (gl, at, { invert }) => gl.uniform3f(at('invert'), ...invert),
  opaque: (gl, at, { opaque }) => gl.uniform1i(at('opaque'), opaque ? 1 : 0),
  crop: (gl, at, { crop }) => gl.uniform4f(at('crop'), ...crop),
  tile: (gl, at, { tile, crop: [left, top, right, bottom] }, [width, height]) =>
    gl.uniform4f(
      at('tile'),
      left * width,
      top * height,
      tile & 1 ? (right - left) * width : 0,
      tile & 2 ? (bottom - top) * height : 0,
    ),
};
const SAYING = Object.values(LOOKS);

/** The inverse of a 3×3 matrix; null when it flattens the plane. */
function inverted(m: Matrix): number[] | null {
  const [a, b, c, d, e, f, g, h, i] = Array.from(m) as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(det) < 1e-18) return null;
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ].map((v) => v / det);
}

/** The part of the picture's plane that a raster shows, in the directions in which it is repeated. */
function spread({ width, height }: Raster, matrix: Matrix, { crop, tile }: Readonly<Look>): Readonly<Rect> {
  const back = tile === 0 ? null : inverted(matrix);
  if (back === null) return crop;
  const [left, top, right, bottom] = crop;
  const corners = [
    [0, 0],
    [width, 0],
    [0, height],
    [width, height],
  ].map(([x = 0, y = 0]) =>
    [0, 3].map((r) => (back[r] as number) * x + (back[r + 1] as number) * y + (back[r + 2] as number)),
  ) as [number, number][];
  const [us, vs] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return [
    tile & 1 ? Math.min(...us) : left,
    tile & 2 ? Math.min(...vs) : top,
    tile & 1 ? Math.max(...us) : right,
    tile & 2 ? Math.max(...vs) : bottom,
  ];
}

/** The three passes in raw WebGL 2: prepare and compose into windows of surface rasters, deliver to the canvas or to a texture. */
export class Compositor {
  private readonly programs: Record<'layer' | 'thrown' | 'solid' | 'sum' | 'deliver', Program>;
  private readonly depths: Depths;
  /** Those made when what they draw is first drawn: regions that are warped, blended or masked; effects; patterns. */
  private warps: Warps | null = null;
  private effecting: Program | null = null;
  private patterns: { layer: Program; thrown: Program } | null = null;
  private readonly flats = new Map<string, Texture>();
  private readonly signs = new Uint32Array(SIGNS);
  private cutting = false;

  /** @param keep whether what was drawn stays on the canvas after the page has shown it, for those who read it later */
  static onto(canvas: HTMLCanvasElement, keep = false): Compositor {
    const gl = canvas.getContext('webgl2', {
      alpha: false,
      antialias: false,
      depth: false,
      powerPreference: 'high-performance',
      desynchronized: false,
      preserveDrawingBuffer: keep,
    });
    if (gl === null) throw new Error('This browser gives no WebGL 2.');
    return new Compositor(new Context(gl, { size: canvas, frame: null, texture: null }));
  }

  /** In a context that draws other things too, into a texture of it; enter() before each draw. The texture's first row is the top one. */
  static within(gl: WebGL2RenderingContext, width: number, height: number): Compositor {
    const target = { size: { width, height }, frame: gl.createFramebuffer(), texture: gl.createTexture() };
    const context = new Context(gl, target);
    gl.bindTexture(gl.TEXTURE_2D, target.texture);
    gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA8, width, height);
    context.sample('linear');
    gl.bindFramebuffer(gl.FRAMEBUFFER, target.frame);
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target.texture, 0);
    return new Compositor(context);
  }

  private constructor(private readonly context: Context) {
    this.depths = new Depths(context);
    this.programs = {
      layer: context.program(lookUp(PICTURE_AT) + LAYER),
      thrown: context.program(lookUp(PICTURE_AT) + THROWN, TRIANGLES),
      solid: context.program(SOLID),
      sum: context.program(SUM),
      deliver: context.program(DELIVER),
    };
  }

  /** Pixels in which places on the target are told; null where they are its own. */
  told: { readonly width: number; readonly height: number } | null = null;

  private get space() {
    return this.told ?? this.target.size;
  }

  get gl(): WebGL2RenderingContext {
    return this.context.gl;
  }

  get target(): Target {
    return this.context.target;
  }

  get largest(): number {
    return this.context.largest;
  }

  /** How many rasters it holds. */
  get held(): number {
    return this.context.rasters.size;
  }

  /** Sets all of the context's state that the passes rely on. */
  enter() {
    this.context.enter();
  }

  /** Ends a draw: frees what was not used for long. */
  end() {
    this.context.end();
    this.warps?.end();
  }

  /** A raster that was composed before and is still right. */
  kept(key: string): Raster | undefined {
    return this.context.rasters.get(key);
  }

  /** A texture that holds this picture, made anew or filled again. */
  fill(old: Texture | null, image: TexImageSource, key: string): Texture {
    const { gl } = this;
    const texture = old?.texture ?? (gl.createTexture() as WebGLTexture);
    gl.bindTexture(gl.TEXTURE_2D, texture);
    if (old === null) this.context.sample('linear');
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA, gl.RGBA, gl.UNSIGNED_BYTE, image);
    const frame = image as VideoFrame & ImageBitmap & HTMLVideoElement;
    return {
      texture,
      key,
      width: frame.displayWidth ?? frame.videoWidth ?? frame.width,
      height: frame.displayHeight ?? frame.videoHeight ?? frame.height,
    };
  }

  drop(texture: Texture) {
    this.gl.deleteTexture(texture.texture);
  }

  /** Begins a window of a surface's raster: black, ready for layers from the bottom up. */
  begin(key: string, width: number, height: number): Raster {
    const raster = this.context.raster(key, width, height);
    this.context.clear(raster);
    return raster;
  }

  /** Draws no further than a rectangle of the raster, until the next begins. */
  clip(rect: Rect) {
    this.context.clip(rect);
  }

  /** What is drawn meanwhile stays within a rectangle of the raster, too: left, top, right, bottom. */
  within(rect: Rect, draw: () => void) {
    this.context.within(rect, draw);
  }

  /** Begins a sum of pictures that is laid on a raster as one: drawn onto what is returned, by adding. */
  gather({ width, height }: Raster): Raster {
    const sum = this.context.raster(`sum ${width} ${height}`, width, height);
    this.context.clear(sum);
    this.gl.enable(this.gl.SCISSOR_TEST);
    return sum;
  }

  /** Lays a sum on the raster that it was gathered for. */
  lay(raster: Raster, sum: Raster, blend: Blend) {
    const { gl } = this;
    gl.bindFramebuffer(gl.FRAMEBUFFER, raster.frame);
    this.mix(blend);
    const { program, at } = this.programs.sum;
    gl.useProgram(program);
    gl.bindTexture(gl.TEXTURE_2D, sum.texture);
    gl.uniform1i(at('darken'), blend === 'darken' ? 1 : 0);
    this.context.rectangle(at, [0, 0, raster.width, raster.height], raster);
  }

  /** Draws a picture whose unit square a matrix carries onto the raster's pixels. */
  layer(raster: Raster, picture: Picture, matrix: Matrix, laying: Laying) {
    const { program, at } = this.of(picture).layer;
    this.gl.useProgram(program);
    this.say(at, picture, laying);
    this.context.square(at, matrix, raster, spread(raster, matrix, laying.look));
  }

  /** The same of one colour, 0 to 255 each. */
  solid(raster: Raster, colour: readonly number[], matrix: Matrix, look: Readonly<Look>) {
    const { opacity, blend, gain, invert } = look;
    this.mix(blend);
    const white = blend === 'darken' ? 1 - opacity : 0;
    const lit = (c: 0 | 1 | 2) => {
      const light = (colour[c] ?? 0) / 255;
      return Math.min(1, (light + (1 - 2 * light) * invert[c]) * gain[c]) * opacity + white;
    };
    const { program, at } = this.programs.solid;
    this.gl.useProgram(program);
    this.gl.uniform4f(at('colour'), lit(0), lit(1), lit(2), opacity);
    this.context.square(at, matrix, raster, spread(raster, matrix, look));
  }

  /**
   * Throws a picture in a pane onto triangles.
   *
   * @param window the part of the surface's raster that the raster shows
   * @param picture null for one colour
   * @param colour 0 to 255 each
   * @param matrix the picture's unit square onto the pane's pixels
   * @param solids what may stand in the way, as corners of triangles; null for nothing
   */
  throw(
    raster: Raster,
    window: Window,
    picture: Picture | null,
    colour: readonly number[],
    matrix: Matrix,
    laying: Laying,
    { mesh, round, numbers, count, around }: Throw,
    solids: Float32Array | null,
  ) {
    const { gl, context } = this;
    const inverse = inverted(matrix);
    if (inverse === null || mesh === null) return;
    const { program, at } = this.of(picture).thrown;
    this.depths.see(raster, solids, numbers, around > 0 ? 0 : count);
    gl.useProgram(program);
    gl.activeTexture(gl.TEXTURE1);
    gl.bindTexture(gl.TEXTURE_2D_ARRAY, this.depths.texture);
    gl.activeTexture(gl.TEXTURE0);
    gl.uniform1i(at('depths'), 1);
    gl.uniform4fv(at('views'), this.depths.views);
    this.say(at, picture, laying);
    const { rect, scale } = window;
    gl.uniform4f(at('window'), rect[0], rect[1], raster.width / scale, raster.height / scale);
    gl.uniform4fv(at('lens'), numbers);
    gl.uniform1i(at('count'), count);
    gl.uniform1f(at('around'), around);
    gl.uniform1i(at('round_'), round === null ? 0 : round.dome ? 2 : 1);
    gl.uniformMatrix4fv(at('body'), false, round === null ? UPRIGHT : round.frame);
    context.matrix(at('content'), inverse);
    gl.uniform1i(at('solid'), picture === null ? 1 : 0);
    gl.uniform3f(at('colour'), (colour[0] ?? 0) / 255, (colour[1] ?? 0) / 255, (colour[2] ?? 0) / 255);
    gl.bindVertexArray(context.triangles(mesh.numbers, Mesh.LAYOUT));
    gl.drawArrays(gl.TRIANGLES, 0, mesh.numbers.length / Mesh.NUMBERS);
    gl.bindVertexArray(context.corners);
  }

  /** The programs that draw what is drawn. */
  private of(picture: Picture | null): { layer: Program; thrown: Program } {
    if (!(picture?.of instanceof Float32Array)) return this.programs;
    this.patterns ??= {
      layer: this.context.program(lookUp(PATTERN_AT) + LAYER),
      thrown: this.context.program(lookUp(PATTERN_AT) + THROWN, TRIANGLES),
    };
    return this.patterns;
  }

  /** How what is drawn next is laid on what is there, by the formulas of `core/Timeline/BlendMode.php`. */
  private mix(blend: Blend) {
    const { gl } = this;
    gl.blendEquation(blend === 'lighten' ? gl.MAX : blend === 'darken' ? gl.MIN : gl.FUNC_ADD);
    if (blend === 'add') gl.blendFunc(gl.ONE, gl.ONE);
    else if (blend === 'screen') gl.blendFunc(gl.ONE, gl.ONE_MINUS_SRC_COLOR);
    else if (blend === 'multiply') gl.blendFunc(gl.DST_COLOR, gl.ONE_MINUS_SRC_ALPHA);
    else gl.blendFunc(gl.ONE, gl.ONE_MINUS_SRC_ALPHA);
  }

  /** Says to a program how a picture is looked up and laid on. */
  private say(at: Program['at'], picture: Picture | null, { look, mask }: Laying) {
    const { gl } = this;
    const { of, size, matte, text }: Omit<Picture, 'of'> & { of: Picture['of'] | null } = picture ?? {
      of: null,
      size: [1, 1],
      matte: false,
      text: NO_TEXT,
    };
    this.mix(look.blend);
    const texture = of instanceof Float32Array ? null : of;
    gl.bindTexture(gl.TEXTURE_2D, texture?.texture ?? null);
    if (of instanceof Float32Array) {
      gl.uniform4fv(at('pattern'), of);
      if (text.length > 2) {
        this.signs.set(text.slice(2, 2 + SIGNS));
        gl.uniform4uiv(at('text'), this.signs);
      }
    }
    gl.uniform2f(at('shown'), ...size);
    gl.uniform2f(at('size'), texture?.width ?? 1, texture?.height ?? 1);
    gl.uniform1i(at('matte'), matte ? 1 : 0);
    for (const say of SAYING) say(gl, at, look, size);
    this.cut(at, mask);
  }

  private cut(at: Program['at'], mask: Mask | null) {
    const { gl } = this;
    const of = mask?.picture?.of;
    const texture = of === undefined || of instanceof Float32Array ? null : of;
    gl.uniform1i(at('maskPicture'), 2);
    gl.uniform1i(at('maskKey'), mask === null ? -1 : texture === null ? 3 : mask.look.key);
    if (texture !== null || this.cutting) {
      // What is drawn onto next must not be looked up as well.
      gl.activeTexture(gl.TEXTURE2);
      gl.bindTexture(gl.TEXTURE_2D, texture?.texture ?? null);
      gl.activeTexture(gl.TEXTURE0);
      this.cutting = texture !== null;
    }
    if (mask === null) return;
    gl.uniform2f(at('maskShown'), ...(mask.picture?.size ?? ([1, 1] as const)));
    gl.uniform2f(at('maskSize'), texture?.width ?? 1, texture?.height ?? 1);
    gl.uniform1i(at('maskMatte'), mask.picture?.matte === true ? 1 : 0);
    gl.uniform1i(at('maskInverted'), mask.look.inverted ? 1 : 0);
    gl.uniform1f(at('maskWidth'), mask.look.width);
    gl.uniform3f(at('maskColour'), ...mask.look.colour);
    gl.uniform4f(at('maskPlace'), ...mask.look.place);
  }

  /** Draws one picture over the whole of a raster. */
  private cover(raster: Raster, picture: Picture): Raster {
    const { width, height } = raster;
    this.context.clear(raster);
    this.layer(raster, picture, [width, 0, 0, 0, height, 0, 0, 0, 1], PLAINLY);
    return raster;
  }

  /**
   * A picture that is looked up like any other, drawn anew only when it is another one.
   *
   * @param made what it is made of: the same picture for the same text
   */
  private drawnOnce(key: string, made: string, width: number, height: number, draw: (raster: Raster) => void): Texture {
    let raster = this.kept(key);
    if (raster?.made !== made || raster.width !== width || raster.height !== height)
      this.context.aside(() => {
        raster = this.context.smooth(key, width, height);
        raster.made = made;
        draw(raster);
      });
    return { texture: (raster as Raster).texture, width, height, key: made };
  }

  /** A picture as a texture, for what looks it up in another way than by its formula. */
  rendered(key: string, picture: Picture & { of: Float32Array }): Texture {
    const { of, size, text } = picture;
    return this.drawnOnce(key, `${of.join(' ')} ${text.join(' ')}`, ...size, (raster) => this.cover(raster, picture));
  }

  /**
   * A picture with a chain of effects over it.
   *
   * @param key of whoever shows it
   * @param made what it is made of: the same picture for the same text
   * @param picture whose size says how large the rasters of the chain are
   * @param passes the numbers of each effect
   * @param largest pixels of the longer side of the rasters
   */
  effected(key: string, made: string, picture: Picture, passes: readonly Float32Array[], largest: number): Texture {
    const { size } = picture;
    const smaller = Math.min(1, largest / Math.max(...size));
    const [width, height] =
      size[0] === 1 && size[1] === 1
        ? [PLAIN, PLAIN]
        : [Math.max(1, Math.round(size[0] * smaller)), Math.max(1, Math.round(size[1] * smaller))];
    return this.drawnOnce(`effects ${key}`, made, width, height, (last) => this.chain(last, picture, passes));
  }

  private chain(last: Raster, picture: Picture, passes: readonly Float32Array[]) {
    const { gl, context } = this;
    const { width, height } = last;
    const between = (n: number) => context.smooth(`effect ${n} ${width} ${height}`, width, height);
    let from = this.cover(between(0), picture);
    this.effecting ??= context.program(EFFECT_PASS);
    const { program, at } = this.effecting;
    gl.disable(gl.BLEND);
    gl.useProgram(program);
    gl.uniform1i(at('before'), 3);
    gl.uniform2f(at('size'), width, height);
    const draw = (onto: Raster, picture_: Raster, before: Raster, step: number) => {
      gl.bindFramebuffer(gl.FRAMEBUFFER, onto.frame);
      gl.activeTexture(gl.TEXTURE3);
      gl.bindTexture(gl.TEXTURE_2D, before.texture);
      gl.activeTexture(gl.TEXTURE0);
      gl.bindTexture(gl.TEXTURE_2D, picture_.texture);
      gl.uniform1i(at('step_'), step);
      context.rectangle(at, [0, 0, width, height], last);
    };
    passes.forEach((numbers, i) => {
      const to = i === passes.length - 1 ? last : between(1 + (i % 2));
      gl.uniform1fv(at('v'), numbers);
      if (numbers[0] === BLUR) {
        const along = between(3);
        draw(along, from, from, 1);
        draw(to, along, from, 2);
      } else draw(to, from, from, 0);
      from = to;
    });
    // What is drawn onto next must not be looked up as well.
    gl.activeTexture(gl.TEXTURE3);
    gl.bindTexture(gl.TEXTURE_2D, null);
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, null);
    gl.enable(gl.BLEND);
  }

  /** One colour as a texture. */
  flat(colour: readonly number[]): Texture {
    const key = colour.join(' ');
    let texture = this.flats.get(key);
    if (texture === undefined) {
      const { gl } = this;
      const made = gl.createTexture() as WebGLTexture;
      gl.bindTexture(gl.TEXTURE_2D, made);
      this.context.sample('linear');
      const pixel = new Uint8Array([colour[0] ?? 0, colour[1] ?? 0, colour[2] ?? 0, 255]);
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA, 1, 1, 0, gl.RGBA, gl.UNSIGNED_BYTE, pixel);
      texture = { texture: made, width: 1, height: 1, key: `flat ${key}` };
      this.flats.set(key, texture);
    }
    return texture;
  }

  /** Begins what is delivered to: the canvas or the texture. */
  output() {
    const { gl, target } = this;
    gl.bindFramebuffer(gl.FRAMEBUFFER, target.frame);
    gl.disable(gl.SCISSOR_TEST);
    gl.viewport(0, 0, target.size.width, target.size.height);
    gl.disable(gl.BLEND);
    gl.clearColor(0, 0, 0, 1);
    gl.clear(gl.COLOR_BUFFER_BIT);
  }

  /** Delivers a raster to a place, one pixel for one. */
  deliver(raster: Raster, place: Rect, master: number) {
    const { gl, target } = this;
    const { program, at } = this.programs.deliver;
    gl.useProgram(program);
    gl.bindTexture(gl.TEXTURE_2D, raster.texture);
    gl.uniform1f(at('master'), master);
    this.context.rectangle(at, place, this.space, target.frame === null ? -1 : 1);
  }

  /** Regions of the output that are delivered next, where any goes through triangles (`warps.ts`). */
  regions(meshes: readonly Float32Array[], whole: readonly Rect[]) {
    if (meshes.length === 0) return;
    this.warps ??= new Warps(this.context);
    this.warps.begin(meshes, whole, this.space);
  }

  /** Delivers a window of a surface's raster through a region's triangles (`warps.ts`). */
  warp(raster: Raster, window: Rect, tile: Rect, key: string, how: Warped, master: number) {
    this.warps ??= new Warps(this.context);
    this.warps.deliver(raster, window, tile, key, how, master, this.space);
  }
}
