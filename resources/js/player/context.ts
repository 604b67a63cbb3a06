import type { Rect } from '../live/messages';
import { QUAD } from './shaders';

/** A picture in the memory of the graphics processor. */
export interface Texture {
  texture: WebGLTexture;
  width: number;
  height: number;
  key: string;
}

/** What is drawn onto, and looked up afterwards. */
export interface Raster {
  frame: WebGLFramebuffer;
  texture: WebGLTexture;
  width: number;
  height: number;
  /** What it was made of, where it is kept as long as that is the same. */
  made?: string;
}

export interface Program {
  program: WebGLProgram;
  at: (name: string) => WebGLUniformLocation | null;
}

/** Where the last pass ends: the canvas of the context, or a texture in it. */
export interface Target {
  readonly size: { readonly width: number; readonly height: number };
  readonly frame: WebGLFramebuffer | null;
  readonly texture: WebGLTexture | null;
}

/** Draws after which what was not used is freed. */
const KEPT = 120;

/** Things by their keys that are freed when nobody has asked for them in so many draws. */
export class Recent<K, V> {
  private readonly all = new Map<K, { value: V; used: number }>();
  private turn = 0;

  /** @param free what is done with one that is no longer kept */
  constructor(private readonly free: (value: V) => unknown) {}

  get size() {
    return this.all.size;
  }

  get(key: K): V | undefined {
    const kept = this.all.get(key);
    if (kept !== undefined) kept.used = this.turn;
    return kept?.value;
  }

  /** Keeps one; that which had its key is freed. */
  set(key: K, value: V): V {
    const old = this.all.get(key);
    if (old !== undefined && old.value !== value) this.free(old.value);
    this.all.set(key, { value, used: this.turn });
    return value;
  }

  /** Ends a draw. */
  end() {
    this.turn++;
    for (const [key, { value, used }] of this.all) {
      if (used >= this.turn - KEPT) continue;
      this.free(value);
      this.all.delete(key);
    }
  }
}

/** A program of two shaders; throws what is wrong with them. */
export function linked(gl: WebGL2RenderingContext, vertex: string, fragment: string): WebGLProgram {
  const program = gl.createProgram();
  for (const [kind, source] of [
    [gl.VERTEX_SHADER, vertex],
    [gl.FRAGMENT_SHADER, fragment],
  ] as const) {
    const shader = gl.createShader(kind) as WebGLShader;
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  if (!gl.getProgramParameter(program, gl.LINK_STATUS))
    throw new Error(gl.getProgramInfoLog(program) ?? 'A shader could not be linked.');
  return program;
}

/** A context of WebGL 2 with what all passes share: programs, rasters, textures and triangles. */
export class Context {
  readonly largest: number;
  readonly corners: WebGLVertexArrayObject;
  readonly rasters: Recent<string, Raster>;
  private readonly meshes: Recent<Float32Array, { vertices: WebGLVertexArrayObject; buffer: WebGLBuffer }>;
  /** Whether textures of 32-bit numbers can be drawn onto. */
  readonly exact: boolean;
  private readonly deep: boolean;
  private readonly place = new Float32Array(9);
  private bounds: Rect = [0, 0, 0, 0];

  constructor(
    readonly gl: WebGL2RenderingContext,
    readonly target: Target,
  ) {
    this.largest = Math.min(4096, gl.getParameter(gl.MAX_TEXTURE_SIZE));
    this.exact = gl.getExtension('EXT_color_buffer_float') !== null;
    this.deep = this.exact || gl.getExtension('EXT_color_buffer_half_float') !== null;
    this.corners = gl.createVertexArray();
    this.rasters = new Recent((raster) => this.free(raster));
    this.meshes = new Recent(({ vertices, buffer }) => {
      gl.deleteVertexArray(vertices);
      gl.deleteBuffer(buffer);
    });
    this.enter();
  }

  /** Sets all of the context's state that the passes rely on. */
  enter() {
    const { gl } = this;
    gl.bindVertexArray(this.corners);
    gl.activeTexture(gl.TEXTURE0);
    gl.bindSampler(0, null);
    for (const [name, value] of [
      [gl.UNPACK_COLORSPACE_CONVERSION_WEBGL, gl.NONE],
      [gl.UNPACK_FLIP_Y_WEBGL, 0],
      [gl.UNPACK_PREMULTIPLY_ALPHA_WEBGL, 0],
      [gl.UNPACK_ALIGNMENT, 4],
      [gl.UNPACK_ROW_LENGTH, 0],
      [gl.UNPACK_SKIP_ROWS, 0],
      [gl.UNPACK_SKIP_PIXELS, 0],
    ] as const)
      gl.pixelStorei(name, value);
    for (const test of [
      gl.DEPTH_TEST,
      gl.STENCIL_TEST,
      gl.CULL_FACE,
      gl.SCISSOR_TEST,
      gl.POLYGON_OFFSET_FILL,
      gl.SAMPLE_ALPHA_TO_COVERAGE,
    ])
      gl.disable(test);
    gl.colorMask(true, true, true, true);
    gl.blendEquation(gl.FUNC_ADD);
  }

  /** Ends a draw. */
  end() {
    this.rasters.end();
    this.meshes.end();
  }

  program(fragment: string, vertex = QUAD): Program {
    const { gl } = this;
    const program = linked(gl, vertex, fragment);
    const known = new Map<string, WebGLUniformLocation | null>();
    return {
      program,
      at: (name: string) => {
        let place = known.get(name);
        if (place === undefined) {
          place = gl.getUniformLocation(program, name);
          known.set(name, place);
        }
        return place;
      },
    };
  }

  /** The texture that is bound is interpolated between its pixels, or not; past its edges, their colour goes on. */
  sample(filter: 'linear' | 'nearest') {
    const { gl } = this;
    const how = filter === 'linear' ? gl.LINEAR : gl.NEAREST;
    for (const [name, value] of [
      [gl.TEXTURE_MIN_FILTER, how],
      [gl.TEXTURE_MAG_FILTER, how],
      [gl.TEXTURE_WRAP_S, gl.CLAMP_TO_EDGE],
      [gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE],
    ] as const)
      gl.texParameteri(gl.TEXTURE_2D, name, value);
  }

  /** A texture of one size with a framebuffer to draw onto it. */
  framed(format: number, width: number, height: number): Raster {
    const { gl } = this;
    const texture = gl.createTexture() as WebGLTexture;
    gl.bindTexture(gl.TEXTURE_2D, texture);
    gl.texStorage2D(gl.TEXTURE_2D, 1, format, width, height);
    this.sample('nearest');
    const frame = gl.createFramebuffer() as WebGLFramebuffer;
    gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, 0);
    return { frame, texture, width, height };
  }

  /** Gives back what `framed` made. */
  free({ frame, texture }: Raster) {
    this.gl.deleteFramebuffer(frame);
    this.gl.deleteTexture(texture);
  }

  /** A raster of this key and size, as it was left or new. */
  raster(key: string, width: number, height: number): Raster {
    const raster = this.rasters.get(key);
    if (raster !== undefined && raster.width === width && raster.height === height) return raster;
    const { gl } = this;
    return this.rasters.set(key, this.framed(this.deep ? gl.RGBA16F : gl.RGBA8, width, height));
  }

  /** A raster that is interpolated between its pixels. */
  smooth(key: string, width: number, height: number): Raster {
    const raster = this.raster(key, width, height);
    this.gl.bindTexture(this.gl.TEXTURE_2D, raster.texture);
    this.sample('linear');
    return raster;
  }

  /** Begins to draw on a raster: clear, all of it. */
  clear(raster: Raster) {
    const { gl } = this;
    gl.bindFramebuffer(gl.FRAMEBUFFER, raster.frame);
    gl.disable(gl.SCISSOR_TEST);
    gl.viewport(0, 0, raster.width, raster.height);
    gl.clearColor(0, 0, 0, 0);
    gl.clear(gl.COLOR_BUFFER_BIT);
    gl.enable(gl.BLEND);
  }

  /** Goes on drawing on a raster after something else was drawn, within its bounds. */
  resume(raster: Raster) {
    const { gl } = this;
    gl.bindVertexArray(this.corners);
    gl.disable(gl.DEPTH_TEST);
    gl.enable(gl.BLEND);
    gl.bindFramebuffer(gl.FRAMEBUFFER, raster.frame);
    gl.viewport(0, 0, raster.width, raster.height);
    gl.enable(gl.SCISSOR_TEST);
    gl.scissor(...this.bounds);
  }

  /** Draws something else in between: what was being drawn goes on after it as if nothing had been. */
  aside(draw: () => void) {
    const { gl } = this;
    const frame = gl.getParameter(gl.FRAMEBUFFER_BINDING) as WebGLFramebuffer | null;
    const view = gl.getParameter(gl.VIEWPORT) as Int32Array;
    const scissor = gl.isEnabled(gl.SCISSOR_TEST);
    draw();
    gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
    gl.viewport(view[0] as number, view[1] as number, view[2] as number, view[3] as number);
    if (scissor) gl.enable(gl.SCISSOR_TEST);
  }

  /** Draws no further than a rectangle of the raster, until the next begins. */
  clip([x, y, w, h]: Rect) {
    const { gl } = this;
    gl.enable(gl.SCISSOR_TEST);
    this.bounds = [x, y, Math.max(0, w), Math.max(0, h)];
    gl.scissor(...this.bounds);
  }

  /** What is drawn meanwhile stays within a rectangle of the raster, too: left, top, right, bottom. */
  within([left, top, right, bottom]: Rect, draw: () => void) {
    const { gl, bounds } = this;
    const [x, y] = [Math.max(left, bounds[0]), Math.max(top, bounds[1])];
    gl.scissor(
      x,
      y,
      Math.max(0, Math.min(right, bounds[0] + bounds[2]) - x),
      Math.max(0, Math.min(bottom, bounds[1] + bounds[3]) - y),
    );
    draw();
    gl.scissor(...bounds);
  }

  /** Sets a 3×3 matrix, given row by row. */
  matrix(place: WebGLUniformLocation | null, m: ArrayLike<number>) {
    // WebGL reads columns.
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) this.place[3 * c + r] = m[3 * r + c] as number;
    this.gl.uniformMatrix3fv(place, false, this.place);
  }

  /** What the unit square is carried onto: a matrix, row by row, onto a target of a size, and the part of the square. */
  square(
    at: Program['at'],
    m: ArrayLike<number>,
    { width, height }: { readonly width: number; readonly height: number },
    crop: Readonly<Rect> = [0, 0, 1, 1],
    up = 1,
  ) {
    const { gl } = this;
    this.matrix(at('place'), m);
    gl.uniform4f(at('crop'), ...crop);
    gl.uniform2f(at('target'), width, height);
    gl.uniform1f(at('up'), up);
    gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
  }

  /** Fills a rectangle of a target. */
  rectangle(
    at: Program['at'],
    [x, y, w, h]: Rect,
    target: { readonly width: number; readonly height: number },
    up = 1,
  ) {
    this.square(at, [w, 0, x, 0, h, y, 0, 0, 1], target, [0, 0, 1, 1], up);
  }

  /**
   * Triangles as the graphics processor keeps them.
   *
   * @param numbers of all corners, one after another
   * @param layout how many of a corner's numbers each of its attributes has
   */
  triangles(numbers: Float32Array, layout: readonly number[]): WebGLVertexArrayObject {
    const mesh = this.meshes.get(numbers);
    if (mesh !== undefined) return mesh.vertices;
    const { gl } = this;
    const made = { vertices: gl.createVertexArray(), buffer: gl.createBuffer() };
    this.meshes.set(numbers, made);
    gl.bindVertexArray(made.vertices);
    gl.bindBuffer(gl.ARRAY_BUFFER, made.buffer);
    gl.bufferData(gl.ARRAY_BUFFER, numbers, gl.STATIC_DRAW);
    const each = layout.reduce((sum, count) => sum + count, 0);
    let from = 0;
    for (const [place, count] of layout.entries()) {
      gl.enableVertexAttribArray(place);
      gl.vertexAttribPointer(place, count, gl.FLOAT, false, 4 * each, 4 * from);
      from += count;
    }
    return made.vertices;
  }
}
