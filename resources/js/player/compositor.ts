import type { Rect } from '../live/messages';

/** Vertices of a unit square from their number; `place` carries it, row by row transposed, onto the target's pixels, y down. */
const QUAD = `#version 300 es
uniform mat3 place;
uniform vec2 target;
uniform float up;
out vec2 uv;
void main() {
  uv = vec2(gl_VertexID & 1, gl_VertexID >> 1);
  vec3 p = place * vec3(uv, 1.0);
  gl_Position = vec4(p.x / target.x * 2.0 - p.z, (p.y / target.y * 2.0 - p.z) * up, 0.0, p.z);
}`;

/**
 * Media to pane: `shown` is the part of the texture that holds the picture, with its matte below when there is one. Where
 * the picture is shown smaller than it is, a pixel is the mean of samples two of its pixels apart, each interpolated, at least 2 and at
 * most 16 each way: the same as in the core's reference (`core/Playback/ReferenceRaster.php`). Its gain is cut off at full light.
 */
const LAYER = `#version 300 es
precision highp float;
uniform sampler2D picture;
uniform vec2 shown;
uniform vec2 size;
uniform bool matte;
uniform float opacity;
uniform vec3 gain;
in vec2 uv;
out vec4 light;
vec4 at(vec2 p) {
  p = clamp(p, vec2(0.5), shown - 0.5);
  vec4 colour = texture(picture, p / size);
  if (!matte) return colour;
  float alpha = texture(picture, (p + vec2(0.0, size.y * 0.5)) / size).r;
  return vec4(colour.rgb * alpha, alpha);
}
void main() {
  vec2 p = uv * shown;
  vec2 across = dFdx(p);
  vec2 down = dFdy(p);
  vec2 covers = sqrt(across * across + down * down);
  vec2 n = clamp(ceil(covers * 0.5), 2.0, 16.0);
  n = mix(vec2(1.0), n, step(1.01, covers));
  vec4 sum = vec4(0.0);
  for (float j = 0.0; j < n.y; j++)
    for (float i = 0.0; i < n.x; i++)
      sum += at(p + ((vec2(i, j) + 0.5) / n - 0.5) * covers * step(1.5, n));
  vec4 mean = sum / (n.x * n.y);
  light = vec4(min(mean.rgb * gain, mean.a), mean.a) * opacity;
}`;

const SOLID = `#version 300 es
precision highp float;
uniform vec4 colour;
out vec4 light;
void main() { light = colour; }`;

const DELIVER = `#version 300 es
precision highp float;
uniform sampler2D raster;
uniform float master;
in vec2 uv;
out vec4 light;
void main() { light = vec4(texture(raster, uv).rgb * master, 1.0); }`;

export interface Texture {
  texture: WebGLTexture;
  width: number;
  height: number;
  key: string;
}

export interface Raster {
  frame: WebGLFramebuffer;
  texture: WebGLTexture;
  width: number;
  height: number;
  used: number;
}

export type Blend = 'normal' | 'add' | 'screen' | 'multiply';

/** A 3×3 matrix, row by row. */
export type Matrix = ArrayLike<number>;

/** Draws after which a raster that was not used is freed. */
const KEPT = 120;

/** Where the last pass ends: the canvas of the context, or a texture in it. */
interface Target {
  readonly size: { readonly width: number; readonly height: number };
  readonly frame: WebGLFramebuffer | null;
  readonly texture: WebGLTexture | null;
}

/** The three passes in raw WebGL 2: prepare and compose into windows of surface rasters, deliver to the canvas or to a texture. */
export class Compositor {
  readonly largest: number;
  private readonly vertices: WebGLVertexArrayObject;
  private readonly programs: Record<'layer' | 'solid' | 'deliver', { program: WebGLProgram; at: (name: string) => WebGLUniformLocation | null }>;
  private readonly rasters = new Map<string, Raster>();
  private readonly deep: boolean;
  private readonly place = new Float32Array(9);
  private turn = 0;

  /** @param keep whether what was drawn stays on the canvas after the page has shown it, for those who read it later */
  static onto(canvas: HTMLCanvasElement, keep = false): Compositor {
    const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, depth: false, powerPreference: 'high-performance', desynchronized: false, preserveDrawingBuffer: keep });
    if (gl === null) throw new Error('This browser gives no WebGL 2.');
    return new Compositor(gl, { size: canvas, frame: null, texture: null });
  }

  /** In a context that draws other things too, into a texture of it; enter() before each draw. The texture's first row is the top one. */
  static within(gl: WebGL2RenderingContext, width: number, height: number): Compositor {
    const compositor = new Compositor(gl, { size: { width, height }, frame: gl.createFramebuffer(), texture: gl.createTexture() });
    const { target } = compositor;
    gl.bindTexture(gl.TEXTURE_2D, target.texture);
    gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA8, width, height);
    compositor.linear();
    gl.bindFramebuffer(gl.FRAMEBUFFER, target.frame);
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target.texture, 0);
    return compositor;
  }

  private constructor(
    readonly gl: WebGL2RenderingContext,
    readonly target: Target,
  ) {
    this.largest = Math.min(4096, gl.getParameter(gl.MAX_TEXTURE_SIZE));
    this.deep = gl.getExtension('EXT_color_buffer_half_float') !== null || gl.getExtension('EXT_color_buffer_float') !== null;
    this.vertices = gl.createVertexArray();
    this.enter();
    this.programs = { layer: this.program(LAYER), solid: this.program(SOLID), deliver: this.program(DELIVER) };
  }

  /** Sets all of the context's state that the passes rely on. */
  enter() {
    const { gl } = this;
    gl.bindVertexArray(this.vertices);
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
    for (const test of [gl.DEPTH_TEST, gl.STENCIL_TEST, gl.CULL_FACE, gl.SCISSOR_TEST, gl.POLYGON_OFFSET_FILL, gl.SAMPLE_ALPHA_TO_COVERAGE]) gl.disable(test);
    gl.colorMask(true, true, true, true);
    gl.blendEquation(gl.FUNC_ADD);
  }

  private program(fragment: string) {
    const { gl } = this;
    const program = gl.createProgram();
    for (const [kind, source] of [
      [gl.VERTEX_SHADER, QUAD],
      [gl.FRAGMENT_SHADER, fragment],
    ] as const) {
      const shader = gl.createShader(kind) as WebGLShader;
      gl.shaderSource(shader, source);
      gl.compileShader(shader);
      gl.attachShader(program, shader);
    }
    gl.linkProgram(program);
    if (!gl.getProgramParameter(program, gl.LINK_STATUS)) throw new Error(gl.getProgramInfoLog(program) ?? 'A shader could not be linked.');
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

  /** A texture that holds this picture, made anew or filled again. */
  fill(old: Texture | null, image: TexImageSource, key: string): Texture {
    const { gl } = this;
    const texture = old?.texture ?? (gl.createTexture() as WebGLTexture);
    gl.bindTexture(gl.TEXTURE_2D, texture);
    if (old === null) this.linear();
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA, gl.RGBA, gl.UNSIGNED_BYTE, image);
    const frame = image as VideoFrame & ImageBitmap;
    return { texture, key, width: frame.displayWidth ?? frame.width, height: frame.displayHeight ?? frame.height };
  }

  drop(texture: Texture) {
    this.gl.deleteTexture(texture.texture);
  }

  private linear() {
    const { gl } = this;
    for (const [name, value] of [
      [gl.TEXTURE_MIN_FILTER, gl.LINEAR],
      [gl.TEXTURE_MAG_FILTER, gl.LINEAR],
      [gl.TEXTURE_WRAP_S, gl.CLAMP_TO_EDGE],
      [gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE],
    ] as const)
      gl.texParameteri(gl.TEXTURE_2D, name, value);
  }

  /** Ends a draw: frees the rasters of what is gone. */
  end() {
    const { gl } = this;
    this.turn++;
    for (const [key, raster] of this.rasters) {
      if (raster.used < this.turn - KEPT) {
        gl.deleteFramebuffer(raster.frame);
        gl.deleteTexture(raster.texture);
        this.rasters.delete(key);
      }
    }
  }

  /** How many rasters it holds. */
  get held() {
    return this.rasters.size;
  }

  /** A raster that was composed before and is still right. */
  kept(key: string): Raster | undefined {
    const raster = this.rasters.get(key);
    if (raster !== undefined) raster.used = this.turn;
    return raster;
  }

  private put3(at: (name: string) => WebGLUniformLocation | null, m: Matrix) {
    // WebGL reads columns.
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) this.place[3 * c + r] = m[3 * r + c] as number;
    this.gl.uniformMatrix3fv(at('place'), false, this.place);
  }

  private rectangle(at: (name: string) => WebGLUniformLocation | null, [x, y, w, h]: Rect) {
    const { place } = this;
    place.fill(0);
    place[0] = w;
    place[4] = h;
    place[6] = x;
    place[7] = y;
    place[8] = 1;
    this.gl.uniformMatrix3fv(at('place'), false, place);
  }

  /** Begins a window of a surface's raster: black, ready for layers from the bottom up. */
  begin(key: string, width: number, height: number) {
    const { gl } = this;
    let raster = this.rasters.get(key);
    if (raster === undefined || raster.width !== width || raster.height !== height) {
      if (raster !== undefined) {
        gl.deleteFramebuffer(raster.frame);
        gl.deleteTexture(raster.texture);
      }
      const texture = gl.createTexture() as WebGLTexture;
      gl.bindTexture(gl.TEXTURE_2D, texture);
      gl.texStorage2D(gl.TEXTURE_2D, 1, this.deep ? gl.RGBA16F : gl.RGBA8, width, height);
      for (const [name, value] of [
        [gl.TEXTURE_MIN_FILTER, gl.NEAREST],
        [gl.TEXTURE_MAG_FILTER, gl.NEAREST],
      ] as const)
        gl.texParameteri(gl.TEXTURE_2D, name, value);
      const frame = gl.createFramebuffer() as WebGLFramebuffer;
      gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
      gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, 0);
      raster = { frame, texture, width, height, used: this.turn };
      this.rasters.set(key, raster);
    }
    raster.used = this.turn;
    gl.bindFramebuffer(gl.FRAMEBUFFER, raster.frame);
    gl.disable(gl.SCISSOR_TEST);
    gl.viewport(0, 0, width, height);
    gl.clearColor(0, 0, 0, 0);
    gl.clear(gl.COLOR_BUFFER_BIT);
    gl.enable(gl.BLEND);
    return raster;
  }

  /** How what is drawn next is laid on what is there, by the formulas of `core/Timeline/BlendMode.php`. */
  private mix(blend: Blend) {
    const { gl } = this;
    if (blend === 'add') gl.blendFunc(gl.ONE, gl.ONE);
    else if (blend === 'screen') gl.blendFunc(gl.ONE, gl.ONE_MINUS_SRC_COLOR);
    else if (blend === 'multiply') gl.blendFunc(gl.DST_COLOR, gl.ONE_MINUS_SRC_ALPHA);
    else gl.blendFunc(gl.ONE, gl.ONE_MINUS_SRC_ALPHA);
  }

  /** Draws no further than a rectangle of the raster, until the next begins. */
  clip([x, y, w, h]: Rect) {
    const { gl } = this;
    gl.enable(gl.SCISSOR_TEST);
    gl.scissor(x, y, Math.max(0, w), Math.max(0, h));
  }

  layer(raster: Raster, texture: Texture, matrix: Matrix, opacity: number, shown: [number, number], matte: boolean, blend: Blend, gain: readonly [number, number, number]) {
    const { gl } = this;
    this.mix(blend);
    const { program, at } = this.programs.layer;
    gl.useProgram(program);
    gl.bindTexture(gl.TEXTURE_2D, texture.texture);
    this.put3(at, matrix);
    gl.uniform2f(at('target'), raster.width, raster.height);
    gl.uniform1f(at('up'), 1);
    gl.uniform2f(at('shown'), ...shown);
    gl.uniform2f(at('size'), texture.width, texture.height);
    gl.uniform1i(at('matte'), matte ? 1 : 0);
    gl.uniform1f(at('opacity'), opacity);
    gl.uniform3f(at('gain'), ...gain);
    gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
  }

  solid(raster: Raster, colour: readonly number[], matrix: Matrix, opacity: number, blend: Blend, gain: readonly [number, number, number]) {
    const { gl } = this;
    this.mix(blend);
    const lit = (c: 0 | 1 | 2) => Math.min(1, ((colour[c] ?? 0) / 255) * gain[c]) * opacity;
    const { program, at } = this.programs.solid;
    gl.useProgram(program);
    this.put3(at, matrix);
    gl.uniform2f(at('target'), raster.width, raster.height);
    gl.uniform1f(at('up'), 1);
    gl.uniform4f(at('colour'), lit(0), lit(1), lit(2), opacity);
    gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
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

  deliver(raster: Raster, place: Rect, master: number) {
    this.put(raster.texture, place, master);
  }

  private put(texture: WebGLTexture, place: Rect, master: number) {
    const { gl, target } = this;
    const { program, at } = this.programs.deliver;
    gl.useProgram(program);
    gl.bindTexture(gl.TEXTURE_2D, texture);
    this.rectangle(at, place);
    gl.uniform2f(at('target'), target.size.width, target.size.height);
    gl.uniform1f(at('up'), target.frame === null ? -1 : 1);
    gl.uniform1f(at('master'), master);
    gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
  }
}
