import type { Rect } from '../live/messages';
import { type BlendMap, DeliveryMesh } from '../live/plan';
import { type Context, type Program, type Raster, Recent } from './context';
import { COVERED, COVERING, MASK, PLACES, REGION, WARP } from './shaders';

/** How a region is delivered that is more than one pixel for one. */
export interface Warped {
  mesh: Float32Array;
  source: Rect;
  blend?: readonly number[] | undefined;
  curve?: number | undefined;
  shares: BlendMap | null;
  lift: BlendMap | null;
  /** Where these are looked up for a pixel: a matrix, row by row. */
  unpin?: readonly number[] | undefined;
  /** Masks of the output, and of the surface. */
  over: readonly Shape[];
  within: readonly Shape[];
  gamma: number;
  gain: readonly [number, number, number];
  black: number;
}

/** A mask's line, as x and y after one another, or its picture. */
interface Shape {
  line: number[];
  image?: BlendMap | undefined;
  feather: number;
  inverted: boolean;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

/** Which pixel of a surface's raster is seen at each of a part of the target, whose first pixel is `corner`. */
interface PlaceMap {
  raster: Raster;
  /** Whether each of four places of a pixel is covered, a number each. */
  covered: Raster;
  corner: [number, number];
  /** Pixels in which places were told, and those of the target, when it was drawn. */
  of: readonly number[];
}

const UNIT: Rect = [0, 0, 1, 1];
const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** Four places of a pixel, from its middle, no two in one row or column (`core/Output/SeenTriangles.php`). */
const WITHIN = [
  [-0.125, -0.375],
  [0.375, -0.125],
  [0.125, 0.375],
  [-0.375, 0.125],
] as const;

/** The rectangle of the output on which triangles show anything: left, top, right, bottom. */
function shownOn(numbers: Float32Array): Rect {
  const n = DeliveryMesh.NUMBERS;
  const rect: Rect = [
    Number.POSITIVE_INFINITY,
    Number.POSITIVE_INFINITY,
    Number.NEGATIVE_INFINITY,
    Number.NEGATIVE_INFINITY,
  ];
  for (let i = 0; i < numbers.length; i += n) {
    if ((numbers[i + 5] as number) < 0) continue;
    const w = numbers[i + 2] as number;
    const [x, y] = [(numbers[i] as number) / w, (numbers[i + 1] as number) / w];
    [rect[0], rect[1]] = [Math.min(rect[0], x), Math.min(rect[1], y)];
    [rect[2], rect[3]] = [Math.max(rect[2], x), Math.max(rect[3], y)];
  }
  return rect;
}

/** Delivers rasters through triangles, with blending and masks. */
export class Warps {
  private readonly warp: Program;
  private readonly placing: Program;
  private readonly covering: Program;
  private readonly adding: Program;
  /** How much of each pixel of the target all regions cover, and what that was added up of; null where there is but one. */
  private together: { raster: Raster; of: readonly unknown[] } | null = null;
  private readonly maps: Recent<Float32Array, PlaceMap | null>;
  private readonly masking: Program;
  private readonly none: WebGLTexture;
  private readonly numbered: Recent<Float32Array, WebGLTexture>;
  private readonly masked: Recent<string, Raster & { of: readonly Shape[] }>;

  constructor(private readonly context: Context) {
    const { gl } = context;
    this.none = gl.createTexture();
    gl.bindTexture(gl.TEXTURE_2D, this.none);
    gl.texStorage2D(gl.TEXTURE_2D, 1, gl.R8, 2, 2);
    context.sample('nearest');
    if (!context.exact)
      throw new Error('This browser cannot draw 32-bit numbers (EXT_color_buffer_float), which warped regions need.');
    this.warp = context.program(WARP);
    this.placing = context.program(PLACES, REGION);
    this.covering = context.program(COVERED, REGION);
    this.adding = context.program(COVERING);
    this.maps = new Recent((map) => {
      if (map === null) return;
      context.free(map.raster);
      context.free(map.covered);
    });
    this.masking = context.program(MASK);
    this.numbered = new Recent((texture) => gl.deleteTexture(texture));
    this.masked = new Recent((mask) => context.free(mask));
  }

  /** Ends a draw. */
  end() {
    this.maps.end();
    this.numbered.end();
    this.masked.end();
  }

  /**
   * Regions of the target that are delivered next: where several lie at a pixel, what they cover of it is added up.
   *
   * @param meshes of those that go through triangles
   * @param whole places of those that do not
   * @param space pixels in which places on the target are told
   */
  begin(meshes: readonly Float32Array[], whole: readonly Rect[], space: Size) {
    const { context } = this;
    const { gl, target } = context;
    const maps = meshes.map((mesh) => this.places(mesh, space)).filter((map) => map !== null);
    const { width, height } = target.size;
    const of = [width, height, ...maps, ...whole.flat()];
    if (
      this.together !== null &&
      this.together.of.length === of.length &&
      of.every((one, i) => one === this.together?.of[i])
    )
      return;
    if (this.together !== null) context.free(this.together.raster);
    this.together = null;
    if (maps.length + whole.length < 2) return;
    const raster = context.framed(gl.R8, width, height);
    gl.viewport(0, 0, width, height);
    gl.clearColor(0, 0, 0, 0);
    gl.disable(gl.SCISSOR_TEST);
    gl.clear(gl.COLOR_BUFFER_BIT);
    gl.enable(gl.BLEND);
    gl.blendEquation(gl.FUNC_ADD);
    gl.blendFunc(gl.ONE, gl.ONE);
    gl.useProgram(this.adding.program);
    gl.activeTexture(gl.TEXTURE0);
    for (const map of maps) {
      gl.bindTexture(gl.TEXTURE_2D, map.covered.texture);
      gl.uniform2f(this.adding.at('corner'), ...map.corner);
      context.rectangle(this.adding.at, [...map.corner, map.raster.width, map.raster.height], target.size);
    }
    const [across, down] = [width / space.width, height / space.height];
    gl.enable(gl.SCISSOR_TEST);
    gl.clearColor(1, 1, 1, 1);
    for (const [x, y, w, h] of whole) {
      const top = Math.round(y * down);
      const high = Math.round((y + h) * down);
      const left = Math.round(x * across);
      gl.scissor(
        left,
        target.frame === null ? height - high : top,
        Math.max(0, Math.round((x + w) * across) - left),
        Math.max(0, high - top),
      );
      gl.clear(gl.COLOR_BUFFER_BIT);
    }
    gl.disable(gl.SCISSOR_TEST);
    gl.disable(gl.BLEND);
    this.together = { raster, of };
  }

  /**
   * Delivers a window of a surface's raster through a region's triangles.
   *
   * @param window the part of the surface's raster that is on the raster
   * @param tile the part of that which is delivered: pixels around it are for interpolating
   * @param key of the region and the window, for what is kept of its masks
   * @param space pixels in which places on the target are told
   */
  deliver(raster: Raster, window: Rect, tile: Rect, key: string, how: Warped, master: number, space: Size) {
    const { gl, target } = this.context;
    const { program, at } = this.warp;
    const { width, height } = space;
    const map = this.places(how.mesh, space);
    if (map === null) return;
    const over = how.over.length > 0 ? this.mask('over', how.over, [0, 0, width, height], target.size) : this.none;
    const within = how.within.length > 0 ? this.mask(`within ${key}`, how.within, window, raster) : this.none;
    const textures = {
      raster: raster.texture,
      places: map.raster.texture,
      covered: map.covered.texture,
      together: this.together?.raster.texture ?? this.none,
      blend: this.shares(how.shares),
      lift: this.shares(how.lift),
      over,
      within,
    };
    gl.bindFramebuffer(gl.FRAMEBUFFER, target.frame);
    gl.viewport(0, 0, target.size.width, target.size.height);
    gl.disable(gl.SCISSOR_TEST);
    gl.disable(gl.BLEND);
    gl.useProgram(program);
    gl.uniform1f(at('scale'), raster.width / window[2]);
    gl.uniform2f(at('step_'), width / target.size.width, height / target.size.height);
    for (const [unit, [name, texture]] of Object.entries(textures).entries()) {
      gl.activeTexture(gl.TEXTURE0 + unit);
      gl.bindTexture(gl.TEXTURE_2D, texture);
      gl.uniform1i(at(name), unit);
    }
    gl.activeTexture(gl.TEXTURE0);
    gl.uniform4f(at('window'), ...window);
    gl.uniform4f(at('tile'), ...tile);
    gl.uniform4f(at('source'), ...how.source);
    const [left = 0, top = 0, right = 0, bottom = 0] = how.blend ?? [];
    gl.uniform4f(at('edges'), left, top, right, bottom);
    gl.uniform1f(at('curve'), how.curve ?? 1);
    gl.uniform4f(at('blendPlace'), ...(how.shares?.place ?? UNIT));
    this.context.matrix(at('unpin'), how.unpin ?? IDENTITY);
    gl.uniform4f(at('liftPlace'), ...(how.lift?.place ?? UNIT));
    gl.uniform4i(
      at('has'),
      how.shares === null ? 0 : 1,
      how.lift === null ? 0 : 1,
      how.over.length > 0 ? 1 : 0,
      how.within.length > 0 ? 1 : 0,
    );
    gl.uniform1i(at('several'), this.together === null ? 0 : 1);
    gl.uniform2f(at('corner'), ...map.corner);
    gl.uniform1f(at('master'), master);
    gl.uniform1f(at('gamma'), how.gamma);
    gl.uniform3f(at('gain'), ...how.gain);
    gl.uniform1f(at('black'), how.black);
    // The part of the target that the map is of, in its own pixels: from the bottom where that is the first row.
    const { size } = target;
    const [left_, low] = map.corner;
    const high = target.frame === null ? size.height - low - map.raster.height : low;
    const [across, down] = [width / size.width, height / size.height];
    this.context.rectangle(
      at,
      [left_ * across, high * down, map.raster.width * across, map.raster.height * down],
      space,
      target.frame === null ? -1 : 1,
    );
  }

  /** The place map of a region on the target, drawn once as long as its triangles and the target are the same; null where it shows nothing. */
  private places(mesh: Float32Array, { width, height }: Size): PlaceMap | null {
    const { context } = this;
    const { gl, target } = context;
    const { size } = target;
    const of = [width, height, size.width, size.height];
    const kept = this.maps.get(mesh);
    if (kept !== undefined && (kept === null || kept.of.every((number, i) => number === of[i]))) return kept;
    const up = target.frame === null ? -1 : 1;
    const [x0, y0, x1, y1] = shownOn(mesh);
    const [sx, sy] = [size.width / width, size.height / height];
    const [left, right] = [Math.max(0, Math.floor(x0 * sx)), Math.min(size.width, Math.ceil(x1 * sx))];
    const [top, bottom] = [Math.max(0, Math.floor(y0 * sy)), Math.min(size.height, Math.ceil(y1 * sy))];
    if (right <= left || bottom <= top) return this.maps.set(mesh, null);
    const raster = context.framed(gl.RGBA32F, right - left, bottom - top);
    const covered = context.framed(gl.RGBA8, raster.width, raster.height);
    const corner: [number, number] = [left, up < 0 ? size.height - bottom : top];
    const depth = gl.createRenderbuffer();
    gl.bindRenderbuffer(gl.RENDERBUFFER, depth);
    gl.renderbufferStorage(gl.RENDERBUFFER, gl.DEPTH_COMPONENT24, raster.width, raster.height);
    const vertices = context.triangles(mesh, DeliveryMesh.LAYOUT);
    gl.disable(gl.SCISSOR_TEST);
    gl.disable(gl.BLEND);
    gl.enable(gl.DEPTH_TEST);
    gl.depthMask(true);
    gl.depthFunc(gl.LEQUAL);
    gl.clearDepth(1);
    gl.activeTexture(gl.TEXTURE0);
    const draw = ({ program, at }: Program, { frame }: Raster, [x, y]: readonly [number, number]) => {
      gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
      gl.framebufferRenderbuffer(gl.FRAMEBUFFER, gl.DEPTH_ATTACHMENT, gl.RENDERBUFFER, depth);
      gl.viewport(-corner[0], -corner[1], size.width, size.height);
      gl.clear(gl.COLOR_BUFFER_BIT | gl.DEPTH_BUFFER_BIT);
      gl.useProgram(program);
      gl.uniform2f(at('target'), width, height);
      gl.uniform1f(at('up'), up);
      // Another place of the pixel is its middle, with everything moved the other way.
      gl.uniform2f(at('aside'), (-2 * x) / size.width, (-2 * y * up) / size.height);
      gl.bindVertexArray(vertices);
      gl.drawArrays(gl.TRIANGLES, 0, mesh.length / DeliveryMesh.NUMBERS);
    };
    gl.clearColor(0, 0, 0, 0);
    for (const [i, place] of WITHIN.entries()) {
      gl.colorMask(i === 0, i === 1, i === 2, i === 3);
      draw(this.covering, covered, place);
    }
    gl.colorMask(true, true, true, true);
    gl.clearColor(0, 0, -1, -1);
    gl.bindTexture(gl.TEXTURE_2D, covered.texture);
    draw(this.placing, raster, [0, 0]);
    gl.bindVertexArray(context.corners);
    gl.disable(gl.DEPTH_TEST);
    for (const { frame } of [raster, covered]) {
      gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
      gl.framebufferRenderbuffer(gl.FRAMEBUFFER, gl.DEPTH_ATTACHMENT, gl.RENDERBUFFER, null);
    }
    gl.deleteRenderbuffer(depth);
    return this.maps.set(mesh, { raster, covered, corner, of });
  }

  /**
   * What several masks let through on a raster, drawn once as long as they are the same.
   *
   * @param part of the raster that is drawn: its left and top, width and height
   * @param size in pixels of what is drawn on
   */
  private mask(key: string, of: readonly Shape[], [x, y, w, h]: Rect, { width, height }: Size): WebGLTexture {
    const { context } = this;
    const { gl } = context;
    const kept = this.masked.get(key);
    if (kept !== undefined && kept.of === of && kept.width === width && kept.height === height) return kept.texture;
    const onto = this.masked.set(key, { ...context.framed(gl.R8, width, height), of });
    gl.bindFramebuffer(gl.FRAMEBUFFER, onto.frame);
    gl.disable(gl.SCISSOR_TEST);
    gl.viewport(0, 0, width, height);
    const through = of.filter((shape) => !shape.inverted);
    gl.clearColor(through.length > 0 ? 0 : 1, 0, 0, 1);
    gl.clear(gl.COLOR_BUFFER_BIT);
    gl.enable(gl.BLEND);
    const { program, at } = this.masking;
    gl.useProgram(program);
    const line = gl.createTexture() as WebGLTexture;
    gl.bindTexture(gl.TEXTURE_2D, line);
    context.sample('nearest');
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RG32F, 1, 1, 0, gl.RG, gl.FLOAT, new Float32Array(2));
    for (const shape of [...through, ...of.filter((one) => one.inverted)]) {
      gl.blendEquation(shape.inverted ? gl.FUNC_ADD : gl.MAX);
      gl.blendFunc(gl.ZERO, gl.ONE_MINUS_SRC_COLOR);
      const count = shape.line.length / 2;
      const { image } = shape;
      gl.activeTexture(gl.TEXTURE1);
      gl.bindTexture(gl.TEXTURE_2D, this.shares(image ?? null));
      gl.activeTexture(gl.TEXTURE0);
      gl.bindTexture(gl.TEXTURE_2D, line);
      if (image === undefined)
        gl.texImage2D(gl.TEXTURE_2D, 0, gl.RG32F, count, 1, 0, gl.RG, gl.FLOAT, new Float32Array(shape.line));
      gl.uniform1i(at('line'), 0);
      gl.uniform1i(at('image'), 1);
      gl.uniform1i(at('painted'), image === undefined ? 0 : 1);
      gl.uniform4f(at('imagePlace'), ...(image?.place ?? UNIT));
      gl.uniform1i(at('count'), count);
      gl.uniform1f(at('feather'), shape.feather);
      gl.uniform2f(at('from'), x, y);
      gl.uniform2f(at('by'), w / width, h / height);
      context.rectangle(at, [0, 0, width, height], { width, height });
    }
    gl.deleteTexture(line);
    gl.disable(gl.BLEND);
    gl.blendEquation(gl.FUNC_ADD);
    return onto.texture;
  }

  /** Shares of the light as a texture. */
  private shares(map: BlendMap | null): WebGLTexture {
    if (map === null) return this.none;
    const kept = this.numbered.get(map.shares);
    if (kept !== undefined) return kept;
    const { gl } = this.context;
    const texture = gl.createTexture() as WebGLTexture;
    gl.bindTexture(gl.TEXTURE_2D, texture);
    this.context.sample('nearest');
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.R32F, map.columns, map.rows, 0, gl.RED, gl.FLOAT, map.shares);
    return this.numbered.set(map.shares, texture);
  }
}
