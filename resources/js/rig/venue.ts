import type { RowOf, Schemas, ShowDocument } from '../api/client';
import { Live } from '../live/client';
import type { MarksMessage } from '../live/messages';
import { Playback } from '../live/playback';
import { Compositor } from '../player/compositor';
import { linked } from '../player/context';
import { OutputDrawer } from '../player/draw';
import { dusk } from '../theme/tokens';
import { patchOf } from './patch';
import { bent, type Hung, hung, into, offLevel, offsetOf, scaled, straight } from './throw';

/**
 * Virtual rig: the venue as it is really lit. It draws the outputs as their players do, and throws them through projectors that hang a
 * little otherwise than planned, so that alignment, blends and matching can be practised. What it measures is the light on its surfaces,
 * as somebody with a meter would find it.
 */

/** Projectors that are thrown at most: each takes two textures. */
const MOST = 7;
/** Outputs that are drawn at most. */
const MOST_OUTPUTS = 12;
/** Pixels along a side of a picture, and of what a projector sees of the venue's depth. */
const LARGEST = 960;
const DEPTHS = 1024;
const [NEAR, FAR] = [0.05, 300];
/** Pixels along a side of a surface when its light is measured. */
const MEASURED = 512;

interface Part {
  id: string;
  surface: boolean;
  translucent: boolean;
  vertices: WebGLVertexArrayObject;
  count: number;
}

interface Picture {
  output: string;
  compositor: Compositor;
  drawer: OutputDrawer;
  width: number;
  height: number;
}

/** A wall that shines by itself, with the part of an output that its processor is fed. */
interface Shining {
  surface: string;
  picture: Picture;
  /** From the wall's UV to the output, 0 to 1. */
  patch: Float32Array;
  source: [number, number, number, number];
  gamma: number;
}

interface Beam {
  projector: string;
  output: string;
  hung: Hung;
  lumens: number;
  mirrored: boolean;
  portrait: boolean;
  part: [number, number, number, number];
  picture: Picture;
  depth: WebGLTexture;
  frame: WebGLFramebuffer;
  gamma: number;
  size: [number, number];
}

const canvas = document.createElement('canvas');
const panel = document.createElement('div');
document.body.append(canvas, panel);
Object.assign(document.body.style, {
  margin: '0',
  background: dusk.ink9,
  color: dusk.text,
  font: '14px sans-serif',
  overflow: 'hidden',
});
Object.assign(panel.style, { position: 'absolute', left: '14px', top: '10px', maxWidth: '320px' });
Object.assign(canvas.style, { position: 'absolute', inset: '0', width: '100%', height: '100%', touchAction: 'none' });

const gl = canvas.getContext('webgl2', { antialias: true, preserveDrawingBuffer: true }) as WebGL2RenderingContext;
const floats = gl.getExtension('EXT_color_buffer_float') !== null;
const live = new Live();
const playback = new Playback(live);
const marks = new Map<string, MarksMessage>();
live.on('marks', (message) => marks.set(message.output, message));

const VERTEX = `#version 300 es
layout(location = 0) in vec3 place;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec2 uv;
uniform mat4 view;
uniform bool flat_;
out vec3 at;
out vec3 front;
void main() {
  at = place;
  front = normal;
  gl_Position = flat_ ? vec4(uv * 2.0 - 1.0, 0.0, 1.0) : view * vec4(place, 1.0);
}`;

const DEPTH_VERTEX = `#version 300 es
layout(location = 0) in vec3 place;
uniform mat3 into;
uniform vec3 origin;
uniform vec3 wide;
void main() {
  vec3 q = into * (place - origin);
  q.xy = wide.xy * q.z + (q.xy - wide.xy * q.z) / wide.z;
  gl_Position = vec4(q.xy * 2.0 - q.z, ${((FAR + NEAR) / (FAR - NEAR)).toFixed(9)} * q.z - ${((2 * FAR * NEAR) / (FAR - NEAR)).toFixed(9)}, q.z);
}`;

const NOTHING = `#version 300 es
precision highp float;
void main() {}`;

/** Light of so many projectors at a place; each has its own samplers, which GLSL wants by name. */
const fragment = (count: number) => `#version 300 es
precision highp float;
uniform mat3 into[${Math.max(1, count)}];
uniform vec3 origin[${Math.max(1, count)}];
uniform vec4 part[${Math.max(1, count)}];
uniform vec4 how[${Math.max(1, count)}];
uniform vec4 cross_[${Math.max(1, count)}];
uniform vec4 lens[${Math.max(1, count)}];
uniform vec2 bend[${Math.max(1, count)}];
${Array.from({ length: count }, (_, i) => `uniform sampler2D picture${i};\nuniform highp sampler2D depth${i};`).join('\n')}
uniform float white;
uniform bool measured;
uniform bool translucent;
in vec3 at;
in vec3 front;
out vec4 light;
vec3 given(int i, sampler2D picture, highp sampler2D depths) {
  vec3 by = at - origin[i];
  vec3 q = into[i] * by;
  if (q.z < 0.01) return vec3(0.0);
  vec2 off = q.xy / q.z - lens[i].xy;
  float k = bend[i].x * dot(off * lens[i].zw, off * lens[i].zw);
  if (1.0 + 3.0 * k <= 0.0) return vec3(0.0);
  vec2 uv = lens[i].xy + off * (1.0 + k);
  if (uv.x < 0.0 || uv.y < 0.0 || uv.x > 1.0 || uv.y > 1.0) return vec3(0.0);
  float d = length(by);
  float cosine = -dot(normalize(front), by) / d;
  if (cosine < 0.0 && !translucent) return vec3(0.0);
  ivec2 texel = ivec2((lens[i].xy + off / bend[i].y) * ${DEPTHS}.0);
  float nearest = 0.0;
  for (int y = -1; y <= 1; y++) for (int x = -1; x <= 1; x++) nearest = max(nearest, texelFetch(depths, clamp(texel + ivec2(x, y), 0, ${DEPTHS - 1}), 0).r);
  float z = nearest * 2.0 - 1.0;
  float met = ${(2 * FAR * NEAR).toFixed(9)} / (${(FAR + NEAR).toFixed(9)} - z * ${(FAR - NEAR).toFixed(9)});
  if (q.z > met * 1.002 + 0.02) return vec3(0.0);
  float lux = how[i].x * (1.0 + k) * (1.0 + 3.0 * k) * pow(d / q.z, 3.0) * abs(cosine) / (d * d);
  if (how[i].z > 0.5) uv.x = 1.0 - uv.x;
  if (how[i].w > 0.5) uv = vec2(uv.y, 1.0 - uv.x);
  vec2 on = part[i].xy + uv * part[i].zw;
  vec3 signal = texture(picture, on).rgb;
  if (cross_[i].z > 0.0) {
    vec2 px = abs(on * cross_[i].zw - cross_[i].xy);
    float r = length(px);
    if (min(px.x, px.y) < 0.6 || abs(r - 24.0) < 1.2) signal = vec3(1.0);
  }
  return lux * pow(signal, vec3(how[i].y));
}
void main() {
  vec3 sum = vec3(0.0);
  ${Array.from({ length: count }, (_, i) => `sum += given(${i}, picture${i}, depth${i});`).join('\n  ')}
  if (measured) {
    light = vec4(sum, 1.0);
    return;
  }
  float shade = 0.018 + 0.02 * max(0.0, normalize(front).y * 0.4 + 0.6);
  light = vec4(pow(min(vec3(1.0), sum / white + shade), vec3(1.0 / 2.2)), 1.0);
}`;

/** What an LED wall shines by itself: a part of the output that its processor is fed. */
const SHINE = `#version 300 es
precision highp float;
uniform sampler2D picture;
uniform mat3 patch_;
uniform vec4 source;
uniform float gamma;
in vec2 place;
out vec4 light;
void main() {
  if (place.x < source.x || place.y < source.y || place.x > source.x + source.z || place.y > source.y + source.w) discard;
  vec2 on = (patch_ * vec3(place, 1.0)).xy;
  light = vec4(pow(pow(texture(picture, on).rgb, vec3(gamma)), vec3(1.0 / 2.2)), 1.0);
}`;

const SHINE_VERTEX = `#version 300 es
layout(location = 0) in vec3 at;
layout(location = 2) in vec2 uv;
uniform mat4 view;
out vec2 place;
void main() {
  place = uv;
  gl_Position = view * vec4(at, 1.0);
  gl_Position.z -= 0.0001 * gl_Position.w;
}`;

const shineProgram = linked(gl, SHINE_VERTEX, SHINE);
const depthProgram = linked(gl, DEPTH_VERTEX, NOTHING);
let lit: WebGLProgram | null = null;
let parts: Part[] = [];
let beams: Beam[] = [];
let shining: Shining[] = [];
let pictures: Picture[] = [];
let show: ShowDocument | null = null;
let asHung = true;
let white = 260;
/** Metres from which one may look. */
const NEAREST = 0.3;
const eye = { yaw: 0, pitch: 0.15, distance: 30, middle: [0, 3, 0] };

/** Left, bottom, back and right, top, front of all surfaces; null before any is there. */
let bounds: [number[], number[]] | null = null;

/** How far the farthest corner of the surfaces is from a place, in metres. */
const distanceOf = (place: number[]) =>
  bounds === null
    ? Number.POSITIVE_INFINITY
    : Math.hypot(...place.map((v, i) => Math.max(...(bounds ?? []).map((corner) => Math.abs(v - (corner[i] ?? 0))))));

/** Has the surfaces fill the room, the first time that there are any. */
function look(positions: number[][]) {
  const isFirst = bounds === null;
  if (positions.length === 0) return;
  const [low, high] = [Math.min, Math.max].map((most) =>
    positions.reduce((all, p) => all.map((v, i) => most(v, p[i] ?? 0))),
  ) as [number[], number[]];
  bounds = [low, high];
  if (!isFirst) return;
  eye.middle = low.map((v, i) => (v + (high[i] ?? 0)) / 2);
  eye.distance = Math.max(NEAREST, Math.hypot(...high.map((v, i) => v - (low[i] ?? 0))) / 2 / Math.tan(0.35));
}

/** Where projectors were hung: kept, so that what is planned may change and they stay. */
const store = (id: string) => `kite-hung ${id}`;

function hangs(projector: string, [origin = [], ...corners]: number[][], bend: number): Hung {
  const planned = [origin, ...straight(corners, bend)];
  if (!asHung) return { origin, corners: planned.slice(1), bend };
  const kept = localStorage.getItem(store(projector));
  if (kept !== null) return JSON.parse(kept) as Hung;
  const off = { ...hung(planned, scaled(offsetOf(projector), distanceOf(origin))), bend };
  localStorage.setItem(store(projector), JSON.stringify(off));
  return off;
}

const numbersOf = (positions: number[], uvs: number[] | undefined, indices: number[], m: number[]) => {
  const at = (i: number) => {
    const [x = 0, y = 0, z = 0] = positions.slice(3 * i, 3 * i + 3);
    return [0, 1, 2].map((r) => (m[r] ?? 0) * x + (m[r + 4] ?? 0) * y + (m[r + 8] ?? 0) * z + (m[r + 12] ?? 0));
  };
  const numbers: number[] = [];
  for (let t = 0; t < indices.length; t += 3) {
    const corners = [0, 1, 2].map((k) => at(indices[t + k] ?? 0)) as [number[], number[], number[]];
    const [u, v] = [corners[1], corners[2]].map((p) => p.map((c, i) => c - (corners[0][i] ?? 0))) as [
      number[],
      number[],
    ];
    const n = [
      (u[1] ?? 0) * (v[2] ?? 0) - (u[2] ?? 0) * (v[1] ?? 0),
      (u[2] ?? 0) * (v[0] ?? 0) - (u[0] ?? 0) * (v[2] ?? 0),
      (u[0] ?? 0) * (v[1] ?? 0) - (u[1] ?? 0) * (v[0] ?? 0),
    ];
    const long = Math.hypot(...n) || 1;
    corners.forEach((p, k) => {
      const i = indices[t + k] ?? 0;
      numbers.push(...p, ...n.map((c) => c / long), uvs?.[2 * i] ?? 0, uvs?.[2 * i + 1] ?? 0);
    });
  }
  return numbers;
};

function partOf(id: string, surface: boolean, translucent: boolean, numbers: number[]): Part {
  const vertices = gl.createVertexArray();
  gl.bindVertexArray(vertices);
  gl.bindBuffer(gl.ARRAY_BUFFER, gl.createBuffer());
  gl.bufferData(gl.ARRAY_BUFFER, new Float32Array(numbers), gl.STATIC_DRAW);
  for (const [place, size, from] of [
    [0, 3, 0],
    [1, 3, 12],
    [2, 2, 24],
  ] as const) {
    gl.enableVertexAttribArray(place);
    gl.vertexAttribPointer(place, size, gl.FLOAT, false, 32, from);
  }
  gl.bindVertexArray(null);
  return { id, surface, translucent, vertices, count: numbers.length / 8 };
}

async function load() {
  const shows = (await (await fetch('/api/shows')).json()) as { shows: Schemas['ShowHead'][] };
  const engaged = shows.shows.find((s) => s.engaged);
  if (engaged === undefined) return;
  const [document_, meshes] = (await Promise.all([
    fetch(`/api/shows/${engaged.id}`).then((r) => r.json()),
    fetch(`/api/shows/${engaged.id}/meshes`).then((r) => r.json()),
  ])) as [
    ShowDocument,
    {
      meshes: { surface: string; matrix: number[]; positions?: number[]; uvs?: number[]; indices?: number[] }[];
      props: { prop: string; matrix: number[]; positions?: number[]; indices?: number[] }[];
      frusta: Record<string, number[][]>;
    },
  ];
  show = document_;
  for (const part of parts) gl.deleteVertexArray(part.vertices);
  look(
    meshes.meshes.flatMap(({ positions = [], matrix: m }) =>
      Array.from({ length: positions.length / 3 }, (_, k) => {
        const [x = 0, y = 0, z = 0] = positions.slice(3 * k, 3 * k + 3);
        return [0, 1, 2].map((r) => (m[r] ?? 0) * x + (m[r + 4] ?? 0) * y + (m[r + 8] ?? 0) * z + (m[r + 12] ?? 0));
      }),
    ),
  );
  parts = [
    ...meshes.meshes
      .filter((m) => m.positions !== undefined)
      .map((m) =>
        partOf(
          m.surface,
          true,
          (show?.rows.surface.find((s) => s.id === m.surface)?.material as { translucent?: boolean })?.translucent ===
            true,
          numbersOf(m.positions ?? [], m.uvs, m.indices ?? [], m.matrix),
        ),
      ),
    ...meshes.props
      .filter((p) => p.positions !== undefined)
      .map((p) => partOf(p.prop, false, false, numbersOf(p.positions ?? [], undefined, p.indices ?? [], p.matrix))),
  ];
  hang(meshes.frusta);
  say();
}

/** What an output shows; drawn once, whatever it feeds. */
function pictureOf(output: RowOf<'output'>, old: readonly Picture[]): Picture {
  const scale = Math.min(1, LARGEST / Math.max(output.width, output.height));
  const [width, height] = [
    Math.max(1, Math.round(output.width * scale)),
    Math.max(1, Math.round(output.height * scale)),
  ];
  const there = [...pictures, ...old].find((p) => p.output === output.id && p.width === width && p.height === height);
  if (there !== undefined) {
    if (!pictures.includes(there)) pictures.push(there);
    return there;
  }
  const compositor = Compositor.within(gl, width, height);
  const drawer = new OutputDrawer(
    { width, height },
    compositor,
    () => playback.onAir(),
    output.id,
    () => scale,
  );
  const made = { output: output.id, compositor, drawer, width, height };
  pictures.push(made);
  return made;
}

/** Walls of panels with what their processors are fed. */
function shine(old: readonly Picture[]) {
  if (show === null) return;
  const { rows, computed } = show;
  shining = rows.region.flatMap((region) => {
    const output = rows.output.find((o) => o.id === region.output);
    const wall = rows.surface.find((s) => s.id === region.surface && s.kind === 'wall');
    const [figures, raster] = [computed.regions[region.id], computed.surfaces[region.surface]];
    const fed = new Set([...pictures.map((p) => p.output), region.output]);
    if (
      output === undefined ||
      wall === undefined ||
      figures === undefined ||
      raster === undefined ||
      figures.projector !== null ||
      fed.size > MOST_OUTPUTS
    )
      return [];
    const [w, h] = [raster.rasterWidth, raster.rasterHeight];
    const [a, b, c, d, e, f] = patchOf(region, figures.place);
    const [sx = 0, sy = 0, sw = 1, sh = 1] = region.source;
    return [
      {
        surface: wall.id,
        picture: pictureOf(output, old),
        patch: new Float32Array([
          (a * w) / output.width,
          (b * w) / output.height,
          0,
          (c * h) / output.width,
          (d * h) / output.height,
          0,
          e / output.width,
          f / output.height,
          1,
        ]),
        source: [sx / w, sy / h, sw / w, sh / h] as [number, number, number, number],
        gamma: output.gamma,
      },
    ];
  });
}

/** Projectors with what they are fed, as they hang. */
function hang(frusta: Record<string, number[][]>) {
  if (show === null) return;
  const { rows } = show;
  const fed = rows.feed.filter((f) => f.projector !== null && frusta[f.projector] !== undefined).slice(0, MOST);
  const [old, before] = [beams, pictures];
  pictures = [];
  beams = fed.flatMap((feed) => {
    const output = rows.output.find((o) => o.id === feed.output);
    const projector = rows.projector.find((p) => p.id === feed.projector);
    if (output === undefined || projector === undefined) return [];
    const kept = old.find((b) => b.output === output.id && b.projector === projector.id);
    const picture = pictureOf(output, before);
    let { depth, frame } = kept ?? { depth: null, frame: null };
    if (depth === null || frame === null) {
      depth = gl.createTexture();
      gl.bindTexture(gl.TEXTURE_2D, depth);
      gl.texStorage2D(gl.TEXTURE_2D, 1, gl.DEPTH_COMPONENT24, DEPTHS, DEPTHS);
      for (const name of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
        gl.texParameteri(gl.TEXTURE_2D, name, gl.NEAREST);
      frame = gl.createFramebuffer();
      gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
      gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.DEPTH_ATTACHMENT, gl.TEXTURE_2D, depth, 0);
      gl.drawBuffers([gl.NONE]);
    }
    const [x = 0, y = 0, w = output.width, h = output.height] = feed.part;
    return [
      {
        projector: projector.id,
        output: output.id,
        hung: hangs(
          projector.id,
          frusta[projector.id] ?? [],
          (projector.lens as { distortion?: number }).distortion ?? 0,
        ),
        lumens: projector.lumens,
        mirrored: projector.mirrored,
        portrait: (projector.lens as { portrait?: boolean }).portrait === true,
        part: [x / output.width, y / output.height, w / output.width, h / output.height] as [
          number,
          number,
          number,
          number,
        ],
        size: [output.width, output.height] as [number, number],
        gamma: output.gamma,
        picture,
        depth,
        frame,
      },
    ];
  });
  shine(before);
  lit = linked(gl, VERTEX, fragment(beams.length));
  // What each projector sees of the venue's depth.
  gl.enable(gl.DEPTH_TEST);
  gl.depthMask(true);
  gl.depthFunc(gl.LESS);
  gl.useProgram(depthProgram);
  gl.viewport(0, 0, DEPTHS, DEPTHS);
  for (const beam of beams) {
    gl.bindFramebuffer(gl.FRAMEBUFFER, beam.frame);
    gl.clear(gl.DEPTH_BUFFER_BIT);
    gl.uniformMatrix3fv(gl.getUniformLocation(depthProgram, 'into'), false, into(beam.hung).matrix);
    gl.uniform3fv(gl.getUniformLocation(depthProgram, 'origin'), beam.hung.origin);
    const { axis, wide } = bent(beam.hung);
    gl.uniform3f(gl.getUniformLocation(depthProgram, 'wide'), ...axis, wide);
    for (const part of parts) {
      // Light goes through a gauze.
      if (part.translucent) continue;
      gl.bindVertexArray(part.vertices);
      gl.drawArrays(gl.TRIANGLES, 0, part.count);
    }
  }
  gl.bindVertexArray(null);
}

function throwLight(measured: boolean, view: number[], draw: (part: Part) => void) {
  if (lit === null) return;
  const at = (name: string) => gl.getUniformLocation(lit as WebGLProgram, name);
  gl.useProgram(lit);
  const now = live.now() ?? 0;
  beams.forEach((beam, i) => {
    const { matrix, area } = into(beam.hung);
    gl.uniformMatrix3fv(at(`into[${i}]`), false, matrix);
    gl.uniform3fv(at(`origin[${i}]`), beam.hung.origin);
    gl.uniform4fv(at(`part[${i}]`), beam.part);
    const { axis, size, wide } = bent(beam.hung);
    gl.uniform4f(at(`lens[${i}]`), ...axis, ...size);
    gl.uniform2f(at(`bend[${i}]`), beam.hung.bend ?? 0, wide);
    gl.uniform4f(at(`how[${i}]`), beam.lumens / area, beam.gamma, beam.mirrored ? 1 : 0, beam.portrait ? 1 : 0);
    const mark = marks.get(beam.output);
    const cross = mark !== undefined && now < mark.until ? mark.cross : null;
    gl.uniform4f(
      at(`cross_[${i}]`),
      cross?.[0] ?? 0,
      cross?.[1] ?? 0,
      cross === null ? 0 : beam.size[0],
      cross === null ? 0 : beam.size[1],
    );
    gl.activeTexture(gl.TEXTURE0 + 2 * i);
    gl.bindTexture(gl.TEXTURE_2D, beam.picture.compositor.target.texture);
    gl.uniform1i(at(`picture${i}`), 2 * i);
    gl.activeTexture(gl.TEXTURE0 + 2 * i + 1);
    gl.bindTexture(gl.TEXTURE_2D, beam.depth);
    gl.uniform1i(at(`depth${i}`), 2 * i + 1);
  });
  gl.activeTexture(gl.TEXTURE0);
  gl.uniformMatrix4fv(at('view'), false, view);
  gl.uniform1f(at('white'), white);
  gl.uniform1i(at('measured'), measured ? 1 : 0);
  gl.uniform1i(at('flat_'), measured ? 1 : 0);
  for (const part of parts) {
    gl.uniform1i(at('translucent'), part.translucent ? 1 : 0);
    draw(part);
  }
  gl.bindVertexArray(null);
}

/** Lux along a line across a surface, as it really is. */
function measure(surface: string, from: [number, number], to: [number, number], steps = 400): number[] {
  const target = gl.createTexture();
  gl.bindTexture(gl.TEXTURE_2D, target);
  gl.texStorage2D(gl.TEXTURE_2D, 1, floats ? gl.RGBA32F : gl.RGBA8, MEASURED, MEASURED);
  const frame = gl.createFramebuffer();
  gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
  gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target, 0);
  gl.viewport(0, 0, MEASURED, MEASURED);
  gl.disable(gl.DEPTH_TEST);
  gl.disable(gl.BLEND);
  gl.disable(gl.SCISSOR_TEST);
  gl.clearColor(0, 0, 0, 0);
  gl.clear(gl.COLOR_BUFFER_BIT);
  throwLight(true, new Array(16).fill(0), (part) => {
    if (part.id !== surface) return;
    gl.bindVertexArray(part.vertices);
    gl.drawArrays(gl.TRIANGLES, 0, part.count);
  });
  const pixels = new Float32Array(4 * MEASURED * MEASURED);
  gl.readPixels(0, 0, MEASURED, MEASURED, gl.RGBA, gl.FLOAT, pixels);
  gl.deleteFramebuffer(frame);
  gl.deleteTexture(target);
  const found: number[] = [];
  for (let k = 0; k <= steps; k++) {
    const [u, v] = [0, 1].map((i) => (from[i] ?? 0) + (((to[i] ?? 0) - (from[i] ?? 0)) * k) / steps) as [
      number,
      number,
    ];
    const at =
      4 *
      (Math.min(MEASURED - 1, Math.floor(v * MEASURED)) * MEASURED + Math.min(MEASURED - 1, Math.floor(u * MEASURED)));
    found.push(0.2126 * (pixels[at] ?? 0) + 0.7152 * (pixels[at + 1] ?? 0) + 0.0722 * (pixels[at + 2] ?? 0));
  }
  return found;
}

function viewMatrix(): number[] {
  const [w, h] = [canvas.width, canvas.height];
  const f = 1 / Math.tan(0.35);
  const [cy, sy, cp, sp] = [Math.cos(eye.yaw), Math.sin(eye.yaw), Math.cos(eye.pitch), Math.sin(eye.pitch)];
  const back = [sy * cp, sp, cy * cp];
  const right = [cy, 0, -sy];
  const up = [-sy * sp, cp, -cy * sp];
  const at = eye.middle.map((v, i) => v + (back[i] ?? 0) * eye.distance);
  const dot = (a: number[]) => -a.reduce((s, v, i) => s + v * (at[i] ?? 0), 0);
  const rows = [
    [...right.map((v) => (v * f * h) / w), (dot(right) * f * h) / w],
    [...up.map((v) => v * f), dot(up) * f],
    [],
    [...back.map((v) => -v), -dot(back)],
  ];
  const [a, b] = [(500 + 0.1) / (0.1 - 500), (2 * 500 * 0.1) / (0.1 - 500)];
  rows[2] = [...back.map((v) => a * v), a * dot(back) + b];
  return [0, 1, 2, 3].flatMap((c) => rows.map((r) => r[c] ?? 0));
}

let drawn = 0;
function draw() {
  requestAnimationFrame(draw);
  const now = live.now();
  if (now === null || lit === null) return;
  for (const { compositor, drawer } of pictures) {
    compositor.enter();
    drawer.draw(now);
  }
  const [width, height] = [Math.round(innerWidth * devicePixelRatio), Math.round(innerHeight * devicePixelRatio)];
  if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
  gl.bindFramebuffer(gl.FRAMEBUFFER, null);
  gl.viewport(0, 0, width, height);
  gl.disable(gl.BLEND);
  gl.disable(gl.SCISSOR_TEST);
  gl.enable(gl.DEPTH_TEST);
  gl.depthMask(true);
  gl.clearColor(0.02, 0.018, 0.03, 1);
  gl.clear(gl.COLOR_BUFFER_BIT | gl.DEPTH_BUFFER_BIT);
  throwLight(false, viewMatrix(), (part) => {
    gl.bindVertexArray(part.vertices);
    gl.drawArrays(gl.TRIANGLES, 0, part.count);
  });
  gl.useProgram(shineProgram);
  const of = (name: string) => gl.getUniformLocation(shineProgram, name);
  gl.uniformMatrix4fv(of('view'), false, viewMatrix());
  gl.uniform1i(of('picture'), 0);
  for (const wall of shining) {
    const part = parts.find((p) => p.id === wall.surface);
    if (part === undefined) continue;
    gl.bindTexture(gl.TEXTURE_2D, wall.picture.compositor.target.texture);
    gl.uniformMatrix3fv(of('patch_'), false, wall.patch);
    gl.uniform4fv(of('source'), wall.source);
    gl.uniform1f(of('gamma'), wall.gamma);
    gl.bindVertexArray(part.vertices);
    gl.drawArrays(gl.TRIANGLES, 0, part.count);
  }
  gl.bindVertexArray(null);
  drawn++;
  if (performance.now() - told > 1000) tell();
}

const figure = document.createElement('p');
let chosen = '';
let told = 0;
function tell() {
  told = performance.now();
  const surface = show?.rows.surface.find((s) => s.id === chosen);
  if (surface === undefined) return;
  const light = measure(chosen, [0.002, 0.5], [0.998, 0.5]);
  figure.textContent = `${surface.name}: ${Math.min(...light).toFixed(0)} to ${Math.max(...light).toFixed(0)} lx across its middle, ${(offLevel(light) * 100).toFixed(1)} % off level`;
}

function button(text: string, press: () => void, on = false) {
  const made = document.createElement('button');
  made.textContent = text;
  made.setAttribute('aria-pressed', String(on));
  Object.assign(made.style, {
    background: dusk.ink7,
    color: dusk.text,
    border: `1px solid ${on ? dusk.kite : dusk.line}`,
    borderRadius: '4px',
    padding: '5px 10px',
    margin: '0 6px 6px 0',
    font: 'inherit',
    cursor: 'pointer',
  });
  made.addEventListener('click', press);
  return made;
}

function say() {
  const title = document.createElement('h1');
  title.textContent = 'Venue as lit';
  Object.assign(title.style, { fontSize: '15px', margin: '0 0 8px' });
  const lights = [
    ...new Set(
      beams.flatMap((b) => show?.rows.region.filter((r) => r.output === b.output).map((r) => r.surface) ?? []),
    ),
  ];
  if (!lights.includes(chosen)) chosen = lights[0] ?? '';
  const pick = document.createElement('select');
  pick.setAttribute('aria-label', 'Surface that is measured');
  for (const id of lights)
    pick.append(new Option(show?.rows.surface.find((s) => s.id === id)?.name ?? id, id, false, id === chosen));
  Object.assign(pick.style, {
    background: dusk.ink7,
    color: dusk.text,
    border: `1px solid ${dusk.line}`,
    padding: '4px',
    font: 'inherit',
  });
  pick.addEventListener('change', () => {
    chosen = pick.value;
    tell();
  });
  figure.setAttribute('role', 'status');
  const anew = (value: boolean) => () => {
    asHung = value;
    void load();
  };
  panel.replaceChildren(
    title,
    button('As hung', anew(true), asHung),
    button('As planned', anew(false), !asHung),
    button('Hang anew', () => {
      for (const { projector } of beams) localStorage.removeItem(store(projector));
      asHung = true;
      void load();
    }),
    button('Brighter', () => {
      white /= 1.5;
    }),
    button('Darker', () => {
      white *= 1.5;
    }),
    document.createElement('br'),
    pick,
    figure,
  );
}

canvas.addEventListener('pointerdown', (press) => {
  canvas.setPointerCapture(press.pointerId);
  const from = { ...eye, middle: [...eye.middle] };
  const move = (e: PointerEvent) => {
    const [dx, dy] = [e.clientX - press.clientX, e.clientY - press.clientY];
    if (press.button === 2 || press.shiftKey) {
      const by = (eye.distance * 0.7) / innerHeight;
      eye.middle = [
        (from.middle[0] ?? 0) - dx * by * Math.cos(eye.yaw),
        (from.middle[1] ?? 0) + dy * by,
        (from.middle[2] ?? 0) + dx * by * Math.sin(eye.yaw),
      ];
    } else {
      eye.yaw = from.yaw - dx / 200;
      eye.pitch = Math.max(-0.4, Math.min(1.5, from.pitch + dy / 200));
    }
  };
  canvas.addEventListener('pointermove', move);
  canvas.addEventListener('pointerup', () => canvas.removeEventListener('pointermove', move), { once: true });
});
canvas.addEventListener('contextmenu', (e) => e.preventDefault());
canvas.addEventListener('wheel', (e) => {
  eye.distance = Math.max(NEAREST, Math.min(200, eye.distance * Math.exp(e.deltaY / 500)));
});

live.on('revision', () => void load());
live.on('hello', () => void load());
void load();
requestAnimationFrame(draw);
// What tests ask: the light that is really there, and where the real projectors throw a place.
Object.assign(window, {
  kiteRig: {
    measure,
    offLevel,
    get drawn() {
      return drawn;
    },
    get beams() {
      return beams.map(({ projector, output, hung: of }) => ({ projector, output, hung: of, into: into(of) }));
    },
  },
});
