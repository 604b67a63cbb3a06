import { signs } from '../api/kinds';
import type { Plan } from './plan';
import type { Slot } from './values';

/** Numbers of one frame of a pattern, as the shader reads them: six groups of four. */
export const PATTERN = 24;

/** Numbers of a text's signs, two a cell (`core/Media/TextGrid.php`). */
export const SIGNS = 128;

const COLOURS = ['front', 'front#1', 'front#2', 'back', 'back#1', 'back#2'] as const;
const NUMBERS = ['size', 'angle', 'speed', 'density', 'softness', 'seed', 'from'] as const;
const PER_SECOND = 705_600_000;

/** A pattern with its values at hand. */
export class PatternValues {
  private readonly colours: Slot[];
  private readonly numbers: Slot[];

  constructor(plan: Plan, media: string) {
    this.colours = COLOURS.map((name) => plan.slot(`media:${media}/${name}`));
    this.numbers = NUMBERS.map((name) => plan.slot(`media:${media}/${name}`));
  }

  /** Writes its numbers at a time: kind, width, height, seconds; front; back; size, angle, speed, density; softness, seed, seconds to count from; columns and rows of a text. */
  write(
    out: Float32Array,
    kind: number,
    width: number,
    height: number,
    frame: number,
    flicksPerFrame: number,
    show: number,
    engine: number,
    text: readonly number[] | undefined,
  ): void {
    const colour = (i: number) => (this.colours[i] as Slot).at(show, engine);
    const number = (i: number) => (this.numbers[i] as Slot).at(show, engine);
    out.set(
      [
        kind,
        width,
        height,
        (frame * flicksPerFrame) / PER_SECOND,
        colour(0),
        colour(1),
        colour(2),
        0,
        colour(3),
        colour(4),
        colour(5),
        0,
      ],
      0,
    );
    out.set(
      [
        Math.max(1, number(0)),
        ((number(1) % 360) * Math.PI) / 180,
        number(2),
        number(3),
        number(4),
        Math.floor(number(5)),
        number(6),
        0,
        text?.[0] ?? 0,
        text?.[1] ?? 0,
        0,
        0,
      ],
      12,
    );
  }
}

/** Numbers that look like chance, for three numbers and a seed: `core/Media/Chance.php`. */
export const CHANCE = `
float chance(int x, int y, int z, uint seed) {
  uint n = uint(x) * 374761393u + uint(y) * 668265263u + uint(z) * 2246822519u + seed * 3266489917u;
  n = (n ^ (n >> 13)) * 1274126177u;
  n = (n ^ (n >> 15)) * 2246822519u;
  return float((n ^ (n >> 16)) >> 8) / 16777216.0;
}`;

/** What is at a place of a pattern: `core/Media/PatternPicture.php` in the shader's words, case by case in the order of `core/Media/Pattern.php`. */
export const PATTERN_AT = `
uniform vec4 pattern[6];
uniform uvec4 text[${SIGNS / 4}];
const uvec2 SIGNS[11] = uvec2[](${signs.map(([a, b]) => `uvec2(${a}u, ${b}u)`).join(', ')});
bool dot_(uvec2 sign_, ivec2 p) {
  if (p.x > 4 || p.y > 6) return false;
  return (((p.y < 6 ? sign_.x >> uint(5 * (5 - p.y)) : sign_.y) >> uint(4 - p.x)) & 1u) == 1u;
}
int power(int n) {
  int p = 1;
  for (int i = 0; i < n; i++) p *= 10;
  return p;
}
int width(int n) { return n < 10 ? 1 : 1 + int(floor(log(float(n) + 0.5) / log(10.0))); }
float blocks(ivec2 p, ivec2 whole, int s) {
  ivec2 block = p / s;
  int n = block.y * ((whole.x + s - 1) / s) + block.x + 1;
  int digits = width(n);
  int wide = digits * 6 - 1;
  int d = s / (2 * wide);
  if (d > 0) {
    ivec2 q = p - block * s - (ivec2(s) - ivec2(wide, 7) * d) / 2;
    if (q.x >= 0 && q.y >= 0 && q.x < wide * d && q.y < 7 * d) {
      q /= d;
      if (dot_(SIGNS[n / power(digits - 1 - q.x / 6) % 10], ivec2(q.x % 6, q.y))) return 1.0;
    }
  }
  return (block.x + block.y) % 2 == 1 ? 0.25 : 0.0;
}
float lettered(ivec2 p, vec2 whole, ivec2 cells, float seconds) {
  if (cells.x == 0) return 0.0;
  int d = max(1, int(floor(pattern[3].x)) / 7);
  ivec2 q = p - ivec2(floor((whole - vec2((cells * ivec2(6, 9) - ivec2(1, 2)) * d)) * 0.5));
  if (q.x < 0 || q.y < 0) return 0.0;
  q /= d;
  if (q.x >= cells.x * 6 || q.y >= cells.y * 9) return 0.0;
  ivec2 cell = q / ivec2(6, 9);
  uvec2 sign_;
  if (seconds >= 0.0) {
    int left = int(clamp(ceil(seconds - 1e-3), 0.0, 5999.0));
    int digit[5] = int[](left / 600, left / 60 % 10, 10, left % 60 / 10, left % 10);
    sign_ = SIGNS[digit[cell.x]];
  } else {
    int i = cell.y * cells.x + cell.x;
    uvec4 four = text[i / 2];
    sign_ = i % 2 == 0 ? four.xy : four.zw;
  }
  return dot_(sign_, q % ivec2(6, 9)) ? 1.0 : 0.0;
}
const float TURN = 6.283185307179586;
${CHANCE}
float chance(int x, int y, int z) { return chance(x, y, z, uint(pattern[4].y)); }
float smooth_(float t) { return t * t * (3.0 - 2.0 * t); }
float edge(float d) {
  float from = 1.0 - pattern[4].x;
  if (d >= 1.0) return 0.0;
  if (d <= from) return 1.0;
  return 1.0 - smooth_((d - from) / (1.0 - from));
}
float noise(vec3 p) {
  ivec3 i = ivec3(floor(p));
  vec3 f = p - floor(p);
  vec4 a = vec4(chance(i.x, i.y, i.z), chance(i.x + 1, i.y, i.z), chance(i.x, i.y + 1, i.z), chance(i.x + 1, i.y + 1, i.z));
  vec4 b = vec4(chance(i.x, i.y, i.z + 1), chance(i.x + 1, i.y, i.z + 1), chance(i.x, i.y + 1, i.z + 1), chance(i.x + 1, i.y + 1, i.z + 1));
  vec4 c = mix(a, b, smooth_(f.z));
  vec2 d = mix(c.xz, c.yw, smooth_(f.x));
  return mix(d.x, d.y, smooth_(f.y));
}
float particles(vec2 p) {
  ivec2 at = ivec2(floor(p));
  float most = 0.0;
  for (int j = -1; j <= 1; j++)
    for (int i = -1; i <= 1; i++) {
      ivec2 c = at + ivec2(i, j);
      if (chance(c.x, c.y, 0) >= pattern[3].w) continue;
      float radius = 0.1 + 0.3 * chance(c.x, c.y, 1);
      vec2 middle = vec2(c) + 0.2 + 0.6 * vec2(chance(c.x, c.y, 2), chance(c.x, c.y, 3));
      most = max(most, edge(length(p - middle) / radius));
    }
  return most;
}
float shapes(vec2 p, vec2 size, float t) {
  float most = 0.0;
  for (int k = 0; k < 8; k++) {
    if (float(k) >= 1.0 + 7.0 * pattern[3].w) break;
    vec2 pace = 0.2 + 0.3 * vec2(chance(k, 2, 7), chance(k, 3, 7));
    vec2 middle = 0.4 * size * sin(t * pace + TURN * vec2(chance(k, 0, 7), chance(k, 1, 7)));
    most = max(most, edge(length(p - middle) / pattern[3].x));
  }
  return most;
}
vec4 at(vec2 p) {
  int kind = int(pattern[0].x);
  vec2 size = pattern[0].yz;
  p = clamp(p, vec2(0.0), size - 1e-3);
  if (kind == 2) {
    int i = int(floor(p.x / size.x * 8.0));
    return vec4(i % 4 < 2 ? 1.0 : 0.0, i < 4 ? 1.0 : 0.0, i % 2 == 0 ? 1.0 : 0.0, 1.0);
  }
  if (kind == 3) {
    int i = int(floor(p.y / size.y * 4.0));
    return vec4(vec3(i == 0 || i == 3, i == 1 || i == 3, i >= 2) * p.x / size.x, 1.0);
  }
  float s = pattern[3].x;
  float t = pattern[0].w * pattern[3].z;
  float c = cos(pattern[3].y);
  float n = sin(pattern[3].y);
  vec2 d = p - size * 0.5;
  float along = c * d.x + n * d.y;
  float across = c * d.y - n * d.x;
  float whole = abs(size.x * c) + abs(size.y * n);
  float m = 0.0;
  if (kind == 0) m = mod(floor(p.x), floor(s)) < 1.0 || mod(floor(p.y), floor(s)) < 1.0 ? 1.0 : 0.0;
  else if (kind == 1) m = mod(floor(p.x / s) + floor(p.y / s), 2.0);
  else if (kind == 4) m = 1.0 - abs(mod(0.5 + along / whole + t / 10.0, 2.0) - 1.0);
  else if (kind == 5) m = noise(vec3(p / s, t));
  else if (kind == 6) {
    float from = along + whole * 0.5 - (fract(t / 4.0) * (whole + s) - s);
    m = from >= 0.0 && from < s ? 1.0 : 0.0;
  }
  else if (kind == 7) m = fract(t) < 0.079 ? 1.0 : 0.0;
  else if (kind == 8) m = particles(vec2(along / s - t, across / s));
  else if (kind == 9) m = pattern[3].w <= 0.0 ? 0.0 : edge(abs(fract(along / s - t) - 0.5) / (pattern[3].w * 0.5));
  else if (kind == 10) m = pow(0.5 + 0.5 * sin(TURN * (across / s + 0.35 * sin(TURN * (along / (2.7 * s) - t / 4.0)))), 1.0 + 7.0 * (1.0 - pattern[3].w));
  else if (kind == 11) m = shapes(d, size, t);
  else if (kind == 12) m = blocks(ivec2(p), ivec2(size), int(s));
  else if (kind == 13) m = lettered(ivec2(p), size, ivec2(pattern[5].xy), -1.0);
  else if (kind == 14) m = lettered(ivec2(p), size, ivec2(5, 1), max(0.0, pattern[4].z - t));
  return vec4(mix(pattern[2].xyz, pattern[1].xyz, m), 1.0);
}
`;
