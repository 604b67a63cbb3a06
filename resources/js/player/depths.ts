import { Mesh } from '../live/plan';
import { MAX_LENSES, THROW } from '../live/throw';
import type { Context, Program, Raster } from './context';
import { NOTHING, SOLIDS } from './shaders';

/** Texels along a side of what a lens sees of the venue's depth. */
const DEPTHS = 1024;

/**
 * What a lens sees on the plane at distance 1, y down: the middle and half the size of it, with a little room. Its edge is bent back
 * from that of its picture, step by step.
 */
function viewOf(t: Float32Array): [number, number, number, number] {
  const n = (i: number) => t[i] as number;
  let [left, top, right, bottom] = [1e9, 1e9, -1e9, -1e9];
  for (let i = 0; i < 64; i++) {
    const along = (i % 16) / 15;
    const s = [
      [along, 0],
      [along, 1],
      [0, along],
      [1, along],
    ][i >> 4] as [number, number];
    const b = [(s[0] - 0.5 + n(18)) * 2 * n(16), (s[1] - 0.5 - n(19)) * 2 * n(17)] as const;
    let [x, y] = b;
    for (let k = 0; k < 24; k++) {
      const r2 = Math.min(x * x + y * y, n(34));
      const radial = 1 + r2 * (n(29) + r2 * (n(30) + r2 * n(31)));
      [x, y] = [
        (b[0] - 2 * n(32) * x * y - n(33) * (r2 + 2 * x * x)) / radial,
        (b[1] - n(32) * (r2 + 2 * y * y) - 2 * n(33) * x * y) / radial,
      ];
    }
    [left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x), Math.max(bottom, y)];
  }
  return [
    (left + right) / 2,
    (top + bottom) / 2,
    ((right - left) / 2) * 1.04 + 1e-4,
    ((bottom - top) / 2) * 1.04 + 1e-4,
  ];
}

/** How deep the venue is from each lens that it may stand in the way of, drawn when one is not where it was. */
export class Depths {
  private made: { texture: WebGLTexture; frame: WebGLFramebuffer; program: Program } | null = null;
  private readonly of: (Float32Array | null)[] = [];
  /** The lenses that depths were drawn for, as they were. */
  private readonly seen = new Float32Array(THROW * MAX_LENSES);
  /** Of each lens what it sees, as four numbers. */
  readonly views = new Float32Array(4 * MAX_LENSES);

  constructor(private readonly context: Context) {}

  get texture(): WebGLTexture | null {
    return this.made?.texture ?? null;
  }

  /**
   * @param raster that is drawn on, and goes on to be
   * @param solids what may stand in the way; null for nothing
   * @param throws numbers of the lenses, of which so many count: those that nothing stands in the way of are told so
   */
  see(raster: Raster, solids: Float32Array | null, throws: Float32Array, count: number) {
    const { context } = this;
    const { gl } = context;
    let drew = false;
    for (let i = 0; i < count; i++) {
      const flag = i * THROW + 35;
      if ((throws[flag] ?? 0) < 0.5) continue;
      if (solids === null) {
        throws[flag] = 0;
        continue;
      }
      this.made ??= this.make();
      const mesh = context.triangles(solids, Mesh.LAYOUT);
      if (this.of[i] === solids && this.isSeen(throws, i * THROW)) continue;
      const view = viewOf(throws.subarray(i * THROW, (i + 1) * THROW));
      this.views.set(view, 4 * i);
      this.seen.set(throws.subarray(i * THROW, (i + 1) * THROW), i * THROW);
      this.of[i] = solids;
      drew = true;
      const { program, at } = this.made.program;
      gl.bindFramebuffer(gl.FRAMEBUFFER, this.made.frame);
      gl.framebufferTextureLayer(gl.FRAMEBUFFER, gl.DEPTH_ATTACHMENT, this.made.texture, 0, i);
      gl.disable(gl.SCISSOR_TEST);
      gl.disable(gl.BLEND);
      gl.enable(gl.DEPTH_TEST);
      gl.depthMask(true);
      gl.depthFunc(gl.LESS);
      gl.viewport(0, 0, DEPTHS, DEPTHS);
      gl.clearDepth(1);
      gl.clear(gl.DEPTH_BUFFER_BIT);
      gl.useProgram(program);
      gl.uniformMatrix4fv(at('into'), false, throws.subarray(i * THROW, i * THROW + 16));
      gl.uniform4f(at('view'), view[0], view[1], view[2], view[3]);
      gl.bindVertexArray(mesh);
      gl.drawArrays(gl.TRIANGLES, 0, solids.length / Mesh.NUMBERS);
    }
    if (drew) context.resume(raster);
  }

  private make() {
    const { gl } = this.context;
    const texture = gl.createTexture() as WebGLTexture;
    gl.activeTexture(gl.TEXTURE1);
    gl.bindTexture(gl.TEXTURE_2D_ARRAY, texture);
    gl.texStorage3D(gl.TEXTURE_2D_ARRAY, 1, gl.DEPTH_COMPONENT32F, DEPTHS, DEPTHS, MAX_LENSES);
    for (const name of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
      gl.texParameteri(gl.TEXTURE_2D_ARRAY, name, gl.NEAREST);
    gl.activeTexture(gl.TEXTURE0);
    const frame = gl.createFramebuffer() as WebGLFramebuffer;
    gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
    gl.drawBuffers([gl.NONE]);
    return { texture, frame, program: this.context.program(NOTHING, SOLIDS) };
  }

  /** Whether a lens is where it was, and bends as it did: its place, its angle and shift, and its distortion. */
  private isSeen(throws: Float32Array, at: number): boolean {
    for (let i = at; i < at + 36; i++) if (throws[i] !== this.seen[i] && !(i >= at + 20 && i < at + 29)) return false;
    return true;
  }
}
