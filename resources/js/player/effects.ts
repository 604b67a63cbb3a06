import { effects, properties } from '../api/kinds';
import { EFFECT, NUMBERS } from '../live/effects';
import { CHANCE } from '../live/pattern';

/** Pixels of the longer side of the rasters of a chain, and of each side where the picture is one colour (`core/Effects/EffectPicture.php`). */
export const LARGEST = 4096;
/** The same where all is drawn smaller: in the studio. */
export const LARGEST_SMALL = 1024;
export const PLAIN = 256;

const named = properties.effect.map((p) => {
  const at = NUMBERS.indexOf(p.name);
  return `#define ${p.name.toUpperCase()} ${p.slots.length === 3 ? `vec3(v[${at}], v[${at + 1}], v[${at + 2}])` : `v[${at}]`}`;
});
const numbered = Object.keys(effects).map((name, i) => `const int ${name.toUpperCase()}_ = ${i + 1};`);

/** One effect of a chain: `core/Effects/EffectPicture.php` in the shader's words. A blur takes two steps: along the rows, then along the columns. */
export const EFFECT_PASS = `#version 300 es
precision highp float;
precision highp int;
uniform sampler2D picture;
uniform sampler2D before;
uniform vec2 size;
uniform float v[${EFFECT}];
uniform int step_;
out vec4 light;
${named.join('\n')}
#define PHASE v[${NUMBERS.length}]
#define ALONG v[${NUMBERS.length + 1}]
#define ACROSS v[${NUMBERS.length + 2}]
#define STEP v[${NUMBERS.length + 3}]
${numbered.join('\n')}
const float PI = 3.141592653589793;
const vec3 LUMA = vec3(0.2126, 0.7152, 0.0722);
${CHANCE}
vec4 at(vec2 p) { return texture(picture, p / size); }
vec4 folded(vec2 p) {
  p -= 2.0 * size * floor(p / (2.0 * size));
  return at(mix(p, 2.0 * size - p, step(size, p)));
}
vec4 blurred(vec2 p, vec2 by) {
  vec4 sum = vec4(0.0);
  float whole = 0.0;
  for (int i = -16; i <= 16; i++) {
    float t = float(i) / 16.0;
    float weight = exp(-3.125 * t * t);
    whole += weight;
    sum += weight * at(p + float(i) * by);
  }
  return sum / whole;
}
vec3 between(float share) { return mix(BACK, FRONT, share); }
vec3 turned(vec3 c) {
  float n = cos(ANGLE);
  return c * n + vec3(c.b - c.g, c.r - c.b, c.g - c.r) * sin(ANGLE) / sqrt(3.0) + vec3((c.r + c.g + c.b) / 3.0 * (1.0 - n));
}
vec4 coloured(int kind, vec4 m, vec2 p) {
  if (m.a <= 0.0) return vec4(0.0);
  vec3 c = m.rgb / m.a;
  float luma = dot(c, LUMA);
  if (kind == HUE_) c = turned(c);
  else if (kind == SATURATION_) c = luma + (c - luma) * SATURATION;
  else if (kind == LEVELS_) c = pow(clamp((c - 0.5) * CONTRAST + 0.5 + BRIGHTNESS, 0.0, 1.0), vec3(1.0 / max(0.1, GAMMA)));
  else if (kind == POSTERIZE_) {
    float n = max(2.0, floor(STEPS + 0.5));
    c = min(floor(c * n), n - 1.0) / (n - 1.0);
  } else if (kind == THRESHOLD_) c = between(clamp((luma - LEVEL) / max(1.0 / 255.0, SOFTNESS) + 0.5, 0.0, 1.0));
  else if (kind == TINT_) c = between(luma);
  else if (kind == GRAIN_) {
    ivec2 cell = ivec2(floor(p / max(1.0, floor(SIZE * size.x))));
    c += (chance(cell.x, cell.y, int(STEP), uint(floor(SEED))) - 0.5) * STRENGTH;
  }
  return vec4(clamp(c, 0.0, 1.0) * m.a, m.a);
}
vec4 sharpened(vec2 p) {
  vec4 m = at(p);
  vec4 sum = vec4(0.0);
  for (int i = 0; i < 8; i++) sum += at(p + RADIUS * size.x * vec2(cos(float(i) * PI / 4.0), sin(float(i) * PI / 4.0))) / 8.0;
  return vec4(clamp(m.rgb + STRENGTH * (m.rgb - sum.rgb), 0.0, m.a), m.a);
}
vec4 tile(vec2 p) {
  float s = max(1.0, SIZE * size.x);
  vec2 from = floor(p / s);
  vec4 sum = vec4(0.0);
  for (int i = 0; i < 16; i++) sum += at((from + (vec2(i % 4, i / 4) + 0.5) / 4.0) * s) / 16.0;
  return sum;
}
vec4 edges(vec2 p) {
  float r = max(1.0, RADIUS * size.x);
  vec2 slope = vec2(dot(at(p + vec2(r, 0.0)).rgb - at(p - vec2(r, 0.0)).rgb, LUMA), dot(at(p + vec2(0.0, r)).rgb - at(p - vec2(0.0, r)).rgb, LUMA));
  float a = at(p).a;
  return vec4(between(min(1.0, max(0.0, STRENGTH) * length(slope))) * a, a);
}
vec4 dots(vec2 p) {
  float s = max(1.0, SIZE * size.x);
  float n = cos(ANGLE);
  float m = sin(ANGLE);
  vec2 d = p - size * 0.5;
  vec2 q = vec2(n * d.x + m * d.y, n * d.y - m * d.x);
  vec2 middle = (floor(q / s) + 0.5) * s;
  vec3 c = at(size * 0.5 + vec2(n * middle.x - m * middle.y, m * middle.x + n * middle.y)).rgb;
  float most = max(c.r, max(c.g, c.b));
  if (most <= 0.0) return vec4(0.0);
  float there = clamp((s * sqrt(0.5) * sqrt(dot(c, LUMA)) - length(q - middle)) / max(1.0, SOFTNESS * s) + 0.5, 0.0, 1.0);
  return vec4(c / most * there, there);
}
vec4 fringed(vec2 p) {
  vec2 d = AMPLITUDE * size.x * vec2(cos(ANGLE), sin(ANGLE));
  vec4 r = at(p - d);
  vec4 g = at(p);
  vec4 b = at(p + d);
  return vec4(r.r, g.g, b.b, max(r.a, max(g.a, b.a)));
}
float within(vec2 uv) {
  if (EXTENT <= 0.0) return 0.0;
  float soft = max(1e-3, SOFTNESS);
  float t = clamp((length((uv - vec2(X, Y)) / EXTENT) - 1.0 + soft) / soft, 0.0, 1.0);
  return 1.0 - t * t * (3.0 - 2.0 * t);
}
float toCentre(vec2 d) {
  float reach = EXTENT * size.x;
  return reach <= 0.0 ? 0.0 : max(0.0, 1.0 - length(d) / reach);
}
vec4 moved(int kind, vec2 p) {
  vec2 centre = vec2(X, Y) * size;
  vec2 d = p - centre;
  vec2 n = vec2(cos(ANGLE), sin(ANGLE));
  if (kind == KALEIDOSCOPE_) {
    float each = 2.0 * PI / max(1.0, floor(SEGMENTS + 0.5));
    float angle = atan(d.y, d.x) - ANGLE;
    angle -= each * floor(angle / each);
    angle = min(angle, each - angle) + ANGLE;
    return folded(centre + length(d) * vec2(cos(angle), sin(angle)));
  }
  if (kind == SWIRL_) {
    float t = toCentre(d);
    float angle = -2.0 * PI * STRENGTH * t * t;
    return folded(centre + vec2(d.x * cos(angle) - d.y * sin(angle), d.x * sin(angle) + d.y * cos(angle)));
  }
  if (kind == BULGE_) {
    float t = toCentre(d);
    return folded(centre + d * (1.0 - STRENGTH * t * t));
  }
  if (kind == WAVE_) return folded(p + vec2(-n.y, n.x) * AMPLITUDE * size.x * sin(2.0 * PI * (dot(n, p) / max(1.0, SIZE * size.x) - PHASE)));
  return folded(centre + d - 2.0 * min(0.0, dot(n, d)) * n);
}
void main() {
  int kind = int(EFFECT);
  vec2 p = gl_FragCoord.xy;
  if (step_ == 1) {
    light = blurred(p, vec2(RADIUS * size.x / 16.0, 0.0));
    return;
  }
  vec4 made;
  if (kind == BLUR_) made = blurred(p, vec2(0.0, RADIUS * size.x / 16.0));
  else if (kind == SHARPEN_) made = sharpened(p);
  else if (kind == MOSAIC_) made = tile(p);
  else if (kind == EDGES_) made = edges(p);
  else if (kind == FRINGE_) made = fringed(p);
  else if (kind == SCROLL_) made = at(mod(p - vec2(ALONG, ACROSS) * size, size));
  else if (kind == HALFTONE_) made = dots(p);
  else if (kind == VIGNETTE_) made = at(p) * within(p / size);
  else if (kind == STROBE_) made = at(p) * (PHASE < LEVEL ? 1.0 : 0.0);
  else if (kind == KALEIDOSCOPE_ || kind == SWIRL_ || kind == BULGE_ || kind == WAVE_ || kind == FOLD_) made = moved(kind, p);
  else made = coloured(kind, at(p), p);
  light = mix(texelFetch(before, ivec2(p), 0), made, MIX);
}`;
