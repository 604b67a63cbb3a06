import { effects } from '../api/kinds';
import type { Rect, RoundPart } from '../live/messages';
import { PATTERN_AT, SIGNS } from '../live/pattern';
import { Mesh } from '../live/plan';
import { MAX_LENSES, THROW } from '../live/throw';
import { EFFECT_PASS, PLAIN } from './effects';

/** Depth as it is kept, z = a + b / depth, from 2 cm to 1 km. */
const [NEAR, FAR] = [0.02, 1000];
const DEPTH = { a: ((FAR + NEAR) / (FAR - NEAR)).toFixed(9), b: ((-2 * FAR * NEAR) / (FAR - NEAR)).toFixed(9) };

/** The number of the effect that takes two steps. */
const BLUR = Object.keys(effects).indexOf('blur') + 1;

const UPRIGHT = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** Texels along a side of what a lens sees of the venue's depth. */
const DEPTHS = 1024;

/** Vertices of a unit square from their number; `place` carries it, row by row transposed, onto the target's pixels, y down. */
const QUAD = `#version 300 es
uniform mat3 place;
uniform vec2 target;
uniform float up;
uniform vec4 crop;
out vec2 uv;
void main() {
  uv = mix(crop.xy, crop.zw, vec2(gl_VertexID & 1, gl_VertexID >> 1));
  vec3 p = place * vec3(uv, 1.0);
  gl_Position = vec4(p.x / target.x * 2.0 - p.z, (p.y / target.y * 2.0 - p.z) * up, 0.0, p.z);
}`;

/** Triangles of a surface: their place on its raster, of which `window` is drawn, their place in the venue, their normal and their true shape. */
const TRIANGLES = `#version 300 es
uniform vec4 window;
layout(location = 0) in vec2 pixel;
layout(location = 1) in vec3 at;
layout(location = 2) in vec3 front;
layout(location = 3) in vec3 bent;
out highp vec3 flat_;
out highp vec3 bend;
flat out highp vec3 front_;
void main() {
  flat_ = at;
  bend = bent;
  front_ = front;
  gl_Position = vec4((pixel - window.xy) / window.zw * 2.0 - 1.0, 0.0, 1.0);
}`;

/** A pixel of a picture, with its matte below where it has one. */
const lookedUp = (name: string, picture: string, shown: string, size: string, matte: string) => `
vec4 ${name}(vec2 p) {
  p = clamp(p, vec2(0.5), ${shown} - 0.5);
  vec4 colour = texture(${picture}, p / ${size});
  if (!${matte}) return colour;
  float alpha = texture(${picture}, (p + vec2(0.0, ${size}.y * 0.5)) / ${size}).r;
  return vec4(colour.rgb * alpha, alpha);
}`;

/** The mean of what is looked up over a place (`core/Playback/ReferenceRaster.php`). */
const meanOf = (name: string, at: string) => `
vec4 ${name}(vec2 p, vec2 covers) {
  vec2 n = clamp(ceil(covers * 0.5), 2.0, 16.0);
  n = mix(vec2(1.0), n, step(1.01, covers));
  vec4 sum = vec4(0.0);
  for (float j = 0.0; j < n.y; j++)
    for (float i = 0.0; i < n.x; i++)
      sum += ${at}(p + ((vec2(i, j) + 0.5) / n - 0.5) * covers * step(1.5, n));
  return sum / (n.x * n.y);
}`;

/**
 * How pictures are looked up: `shown` is the part of the texture that holds the picture, with its matte below when there is one.
 * Where the picture is shown smaller than it is, a pixel is the mean of samples two of its pixels apart, each interpolated, at
 * least 2 and at most 16 each way: the same as in the core's reference (`core/Playback/ReferenceRaster.php`).
 */
const lookUp = (at: string) => `#version 300 es
precision highp float;
precision highp int;
uniform sampler2D picture;
uniform vec2 shown;
uniform vec2 size;
uniform bool matte;
uniform bool darken;
uniform float opacity;
uniform vec3 gain;
uniform vec3 invert;
uniform bool opaque;
uniform vec4 tile;
uniform int maskKey;
uniform sampler2D maskPicture;
uniform vec2 maskShown;
uniform vec2 maskSize;
uniform bool maskMatte;
uniform bool maskInverted;
uniform float maskWidth;
uniform vec3 maskColour;
uniform vec4 maskPlace;
out vec4 light;
${at}
${lookedUp('maskAt', 'maskPicture', 'maskShown', 'maskSize', 'maskMatte')}
${meanOf('maskMean', 'maskAt')}
// How much of a square lies within an edge of the mask, where the picture's own lies so far inside of it (core/Playback/LayerMask.php).
float maskSide(float within, float picture, float feather, bool first) {
  float hard = within > 0.0 || (first && within == 0.0) ? 1.0 : 0.0;
  if (feather <= 0.0 || picture >= 0.0) return hard;
  return mix(hard, clamp(within / feather + 0.5, 0.0, 1.0), min(1.0, -picture / (feather / 2.0)));
}
// How much of the picture its mask leaves at a place of its unit square (core/Playback/LayerMask.php).
float masked(vec2 uv, vec2 covers) {
  if (maskKey < 0) return 1.0;
  float there = 0.0;
  vec2 m = maskPlace.z > 0.0 ? (uv - 0.5 - maskPlace.xy) / maskPlace.z + 0.5 : vec2(-1.0);
  vec2 first = (-0.5 - maskPlace.xy) / maskPlace.z + 0.5;
  vec2 last = (0.5 - maskPlace.xy) / maskPlace.z + 0.5;
  float tall = maskPlace.w * maskShown.x / maskShown.y;
  float part = maskPlace.z <= 0.0 ? 0.0 : max(0.0, maskSide(m.x, first.x, maskPlace.w, true) + maskSide(1.0 - m.x, 1.0 - last.x, maskPlace.w, false) - 1.0)
    * max(0.0, maskSide(m.y, first.y, tall, true) + maskSide(1.0 - m.y, 1.0 - last.y, tall, false) - 1.0);
  if (maskKey < 3 && part > 0.0) {
    vec2 c = max(covers / maskPlace.z * maskShown, vec2(maskPlace.w * maskShown.x));
    vec4 sum = maskMean(m * maskShown, c);
    float width = max(maskWidth, 1.0 / 255.0);
    vec3 off = abs(sum.rgb - maskColour);
    there = maskKey == 1 ? (sum.a - 0.5) / width + 0.5 : maskKey == 2 ? 2.0 - 2.0 * max(off.r, max(off.g, off.b)) / width : (dot(sum.rgb, vec3(0.2126, 0.7152, 0.0722)) - 0.5) / width + 0.5;
    there = part * clamp(there, 0.0, 1.0);
  }
  return maskInverted ? 1.0 - there : there;
}
// Where what is seen of the picture is repeated: left, top, width and height of it; a length of 0 where it is not.
vec4 tiled(vec2 p) {
  if (tile.z > 0.0) p.x -= tile.z * floor((p.x - tile.x) / tile.z);
  if (tile.w > 0.0) p.y -= tile.w * floor((p.y - tile.y) / tile.w);
  vec4 m = at(p);
  return opaque ? vec4(m.rgb, 1.0) : m;
}
${meanOf('mean', 'tiled')}
// It is turned into its opposite as far as the layer says, and its gain is cut off at full light. Where the darker of both is kept, nothing of it is white.
vec4 lit(vec4 m) {
  vec4 laid = vec4(min(mix(m.rgb, m.aaa - m.rgb, invert) * gain, m.a), m.a) * opacity;
  return darken ? vec4(laid.rgb + 1.0 - laid.a, laid.a) : laid;
}
`;

const PICTURE_AT = lookedUp('at', 'picture', 'shown', 'size', 'matte');

/** What stands in the way, by its depth from a lens; `view` is the middle and half the size of what it sees, on the plane at distance 1. */
const SOLIDS = `#version 300 es
uniform mat4 into;
uniform vec4 view;
layout(location = 1) in vec3 at;
void main() {
  vec3 q = (into * vec4(at, 1.0)).xyz;
  float d = -q.z;
  gl_Position = vec4((q.x - view.x * d) / view.z, (-q.y - view.y * d) / view.w, ${DEPTH.a} * d + (${DEPTH.b}), d);
}`;
const NOTHING = `#version 300 es
precision highp float;
void main() {}`;

/** A picture laid on a raster. */
const LAYER = `
in vec2 uv;
void main() {
  vec2 p = uv * shown;
  vec2 across = dFdx(p);
  vec2 down = dFdy(p);
  vec2 covers = sqrt(across * across + down * down);
  light = lit(mean(p, covers) * masked(uv, covers / shown));
}`;

/**
 * A picture in a pane, thrown onto triangles by lenses or from the centre of a globe (`core/Routing/LensProjection.php`,
 * `core/Routing/GlobeProjection.php`): where several lenses reach a place, their weights are made to sum to 1.
 */
const THROWN = `
const int LENSES = ${MAX_LENSES};
const int EACH = ${THROW / 4};
uniform vec4 lens[LENSES * EACH];
uniform int count;
uniform highp sampler2DArray depths;
uniform vec4 views[LENSES];
uniform float around;
uniform mat3 content;
uniform vec4 crop;
uniform bool solid;
uniform vec3 colour;
uniform int round_;
uniform mat4 body;
in vec3 flat_;
in vec3 bend;
flat in vec3 front_;
vec3 place;
vec3 normal;
// Where the true shape is (core/Venue/Round.php): of a drum by its radius, angle and height, of a dome by its radius and the angle from its pole.
void bent() {
  place = flat_;
  normal = front_;
  if (round_ == 0) return;
  float from = length(bend.yz);
  vec3 out_ = round_ == 1 ? vec3(sin(bend.y), 0.0, cos(bend.y)) : vec3((from > 0.0 ? sin(from) / from : 1.0) * bend.yz, cos(from));
  place = (body * vec4(bend.x * out_ + (round_ == 1 ? vec3(0.0, bend.z, 0.0) : vec3(0.0)), 1.0)).xyz;
  normal = mat3(body) * out_;
  if (dot(normal, front_) < 0.0) normal = -normal;
}
float fade(float d, float width, float curve) {
  if (d < 0.0) return 0.0;
  if (d >= width) return 1.0;
  float t = d / width;
  float rise = pow(t, curve);
  return rise / (rise + pow(1.0 - t, curve));
}
vec3 into(int k, vec3 p, float w) {
  return (mat4(lens[k], lens[k + 1], lens[k + 2], lens[k + 3]) * vec4(p, w)).xyz;
}
vec3 basis(float t) { return vec3((2.0 * t - 1.0) * (t - 1.0), 4.0 * t * (1.0 - t), t * (2.0 * t - 1.0)); }
// How far what is seen at a place of a lens's picture was moved to get there (core/Routing/PlateWarp.php).
vec2 warped(int k, vec2 s) {
  vec2 p = clamp(s, 0.0, 1.0);
  vec3 u = basis(p.x);
  vec3 v = basis(p.y);
  vec2 q = 1.0 - p;
  vec4 a = lens[k + 9];
  vec4 b = lens[k + 10];
  vec4 c = lens[k + 11];
  vec4 d = lens[k + 12];
  vec2 e = lens[k + 13].xy;
  return q.x * q.y * a.xy + u.y * v.x * a.zw + p.x * q.y * b.xy
    + u.x * v.y * b.zw + u.y * v.y * c.xy + u.z * v.y * c.zw
    + q.x * p.y * d.xy + u.y * v.z * d.zw + p.x * p.y * e;
}
// Pane pixels and weight; a weight below 0 where the pane is not before the place at all.
vec3 onto(int k, vec3 p) {
  vec3 q = into(k, p, 1.0);
  vec4 a = lens[k + 4];
  vec4 part = lens[k + 5];
  vec4 feather = lens[k + 6];
  float curve = lens[k + 7].x;
  if (around > 0.0) {
    float flat_ = length(q.xz);
    if (flat_ + abs(q.y) < 1e-6) return vec3(0.0, 0.0, -1.0);
    vec2 s = vec2(0.5 + atan(q.x, -q.z) / a.x, (a.y - atan(q.y, flat_)) / (a.y - a.z));
    float weight = s.y >= 0.0 && s.y <= 1.0 ? fade(s.x, a.w, curve) * fade(1.0 - s.x, a.w, curve) : 0.0;
    return vec3(s * part.zw, weight);
  }
  if (-q.z <= 1e-6) return vec3(0.0, 0.0, -1.0);
  vec2 c = vec2(q.x, -q.y) / -q.z;
  vec3 k123 = lens[k + 7].yzw;
  vec2 p12 = lens[k + 8].xy;
  float r2 = dot(c, c);
  if (r2 > lens[k + 8].z) return vec3(0.0, 0.0, -1.0);
  vec2 b = c * (1.0 + r2 * (k123.x + r2 * (k123.y + r2 * k123.z)))
    + vec2(2.0 * p12.x * c.x * c.y + p12.y * (r2 + 2.0 * c.x * c.x), p12.x * (r2 + 2.0 * c.y * c.y) + 2.0 * p12.y * c.x * c.y);
  vec2 s = 0.5 + b / a.xy * 0.5 + vec2(-a.z, a.w);
  s -= warped(k, s);
  float weight = fade(s.x, feather.x, curve) * fade(1.0 - s.x, feather.y, curve) * fade(s.y, feather.z, curve) * fade(1.0 - s.y, feather.w, curve);
  return vec3(part.xy + s * part.zw, weight);
}
// Whether something of the venue stands before a place, seen from the lens: all four of the nearest depths say so.
bool hidden(int i, vec3 p) {
  if (lens[i * EACH + 8].w < 0.5) return false;
  vec3 q = into(i * EACH, p, 1.0);
  float d = -q.z;
  vec2 at = ((vec2(q.x, -q.y) / d - views[i].xy) / views[i].zw * 0.5 + 0.5) * float(textureSize(depths, 0).x) - 0.5;
  ivec2 from = ivec2(floor(at));
  int last = textureSize(depths, 0).x - 1;
  for (int j = 0; j < 4; j++) {
    float z = texelFetch(depths, ivec3(clamp(from + ivec2(j & 1, j >> 1), 0, last), i), 0).r * 2.0 - 1.0;
    if (d * (1.0 - 0.002) - 0.01 <= ${DEPTH.b} / (z - ${DEPTH.a})) return false;
  }
  return true;
}
// Where a lens has a place in the pane, and how strongly it lights it; a weight of 0 where its light does not come to the front.
vec3 lights(int i) {
  vec3 to = onto(i * EACH, place);
  if (to.z <= 0.0 || (around == 0.0 && (dot(into(i * EACH, place, 1.0), into(i * EACH, normal, 0.0)) >= 0.0 || hidden(i, flat_)))) to.z = 0.0;
  return to;
}
vec2 beside(int k, vec3 p, vec2 from) {
  vec3 to = onto(k, p);
  if (to.z < 0.0) return vec2(0.0);
  vec2 by = to.xy - from;
  if (around > 0.0) by.x -= around * floor(by.x / around + 0.5);
  return mat2(content) * by * shown;
}
void main() {
  bent();
  vec3 right = dFdx(place);
  vec3 down = dFdy(place);
  float sum = 0.0;
  int reached = 0;
  vec3 lit_[LENSES];
  for (int i = 0; i < count; i++) {
    lit_[i] = lights(i);
    if (lit_[i].z <= 0.0) continue;
    sum += lit_[i].z;
    reached++;
  }
  if (reached == 0) discard;
  vec4 total = vec4(0.0);
  for (int i = 0; i < count; i++) {
    vec3 to = lit_[i];
    if (to.z <= 0.0) continue;
    vec2 uv = (content * vec3(to.xy, 1.0)).xy;
    if ((tile.z == 0.0 && (uv.x < crop.x || uv.x >= crop.z)) || (tile.w == 0.0 && (uv.y < crop.y || uv.y >= crop.w))) continue;
    float weight = reached > 1 ? to.z / sum : to.z;
    if (solid && maskKey < 0) {
      total += weight * vec4(colour, 1.0);
      continue;
    }
    vec2 across = beside(i * EACH, place + right, to.xy);
    vec2 along = beside(i * EACH, place + down, to.xy);
    vec2 covers = sqrt(across * across + along * along);
    total += weight * masked(uv, covers / shown) * (solid ? vec4(colour, 1.0) : mean(uv * shown, covers));
  }
  light = lit(total);
}`;

const SOLID = `#version 300 es
precision highp float;
uniform vec4 colour;
out vec4 light;
void main() { light = colour; }`;

/** A sum of pictures laid on a raster of the same size; where darken is, it fades to white by its alpha. */
const SUM = `#version 300 es
precision highp float;
uniform sampler2D sum;
uniform bool darken;
out vec4 light;
void main() {
  light = texelFetch(sum, ivec2(gl_FragCoord.xy), 0);
  if (darken) light.rgb += 1.0 - light.a;
}`;

const DELIVER = `#version 300 es
precision highp float;
uniform sampler2D raster;
uniform float master;
in vec2 uv;
out vec4 light;
void main() { light = vec4(texture(raster, uv).rgb * master, 1.0); }`;

/** Triangles of a region onto the output: places come with their weights, so that they are in perspective. */
const REGION = `#version 300 es
uniform vec2 target;
uniform float up;
layout(location = 0) in vec3 onto;
layout(location = 1) in vec2 pixel;
out highp vec2 at;
void main() {
  at = pixel;
  gl_Position = vec4(onto.x / target.x * 2.0 - onto.z, (onto.y / target.y * 2.0 - onto.z) * up, 0.0, onto.z);
}`;

/** Looks shares of the light up between those of a map (`core/Output/BlendMap.php`). */
const SHARES = `
float shares(highp sampler2D map, vec4 place, vec2 p) {
  ivec2 size = textureSize(map, 0);
  vec2 q = (p - place.xy) / place.zw;
  if (q.x < 0.0 || q.y < 0.0 || q.x > 1.0 || q.y > 1.0) return 0.0;
  q *= vec2(size - 1);
  vec2 i = min(floor(q), vec2(size - 2));
  vec2 f = q - i;
  ivec2 a = ivec2(i);
  return mix(mix(texelFetch(map, a, 0).r, texelFetch(map, a + ivec2(1, 0), 0).r, f.x), mix(texelFetch(map, a + ivec2(0, 1), 0).r, texelFetch(map, a + ivec2(1, 1), 0).r, f.x), f.y);
}`;

/**
 * The last pass for a region that is more than one pixel for one (`core/Playback/Delivered.php`): a window of its surface's raster
 * through its triangles, with its masks and its share of the light.
 */
const WARP = `#version 300 es
precision highp float;
uniform sampler2D raster;
uniform highp sampler2D blend;
uniform highp sampler2D lift;
uniform sampler2D over;
uniform sampler2D within;
uniform vec4 window;
uniform float scale;
uniform vec2 step_;
uniform vec4 tile;
uniform vec4 source;
uniform vec4 edges;
uniform float curve;
uniform vec4 blendPlace;
uniform vec4 liftPlace;
uniform bvec4 has;
uniform vec2 target;
uniform float up;
uniform float master;
uniform float gamma;
uniform vec3 gain;
uniform float black;
in highp vec2 at;
out vec4 light;
vec3 between(vec2 p) {
  p = (clamp(p, source.xy + 0.5, source.xy + source.zw - 0.5) - window.xy) * scale - 0.5;
  vec2 i = floor(p);
  vec2 f = p - i;
  ivec2 a = ivec2(i);
  ivec2 last = textureSize(raster, 0) - 1;
  ivec2 b = min(a + 1, last);
  a = clamp(a, ivec2(0), last);
  return mix(mix(texelFetch(raster, a, 0).rgb, texelFetch(raster, ivec2(b.x, a.y), 0).rgb, f.x), mix(texelFetch(raster, ivec2(a.x, b.y), 0).rgb, texelFetch(raster, b, 0).rgb, f.x), f.y);
}
vec3 mean(vec2 p, vec2 covers) {
  vec2 n = clamp(ceil(covers * scale * 0.5), 2.0, 16.0);
  n = mix(vec2(1.0), n, step(1.01, covers * scale));
  vec3 sum = vec3(0.0);
  for (float j = 0.0; j < n.y; j++)
    for (float i = 0.0; i < n.x; i++)
      sum += between(p + ((vec2(i, j) + 0.5) / n - 0.5) * covers * step(1.5, n));
  return sum / (n.x * n.y);
}
float rise(float d, float width) {
  if (width <= 0.0) return 1.0;
  float t = clamp(d / width, 0.0, 1.0);
  float r = pow(t, curve);
  return r / (r + pow(1.0 - t, curve));
}
${SHARES}
void main() {
  vec2 across = dFdx(at);
  vec2 down = dFdy(at);
  if (at.x < tile.x || at.y < tile.y || at.x >= tile.x + tile.z || at.y >= tile.y + tile.w) discard;
  vec3 signal = clamp(mean(at, sqrt(across * across + down * down)) * master, 0.0, 1.0);
  // Pixels of what is drawn on, from the top; a preview is drawn smaller than the output.
  vec2 here = vec2(gl_FragCoord.x, up < 0.0 ? target.y / step_.y - gl_FragCoord.y : gl_FragCoord.y);
  vec2 pixel = here * step_;
  vec2 from = at - source.xy;
  float share = rise(from.x, edges.x) * rise(from.y, edges.y) * rise(source.z - from.x, edges.z) * rise(source.w - from.y, edges.w);
  if (has.x) share *= shares(blend, blendPlace, pixel);
  float add = has.y ? shares(lift, liftPlace, pixel) : 1.0;
  float mask = 1.0;
  if (has.z) mask *= texelFetch(over, ivec2(here), 0).r;
  if (has.w) {
    ivec2 size = textureSize(within, 0);
    vec2 q = clamp((at - window.xy) * scale - 0.5, vec2(0.0), vec2(size - 1));
    vec2 i = min(floor(q), vec2(max(size - 2, ivec2(0))));
    vec2 f = q - i;
    ivec2 a = ivec2(i);
    ivec2 b = min(a + 1, size - 1);
    mask *= mix(mix(texelFetch(within, a, 0).r, texelFetch(within, ivec2(b.x, a.y), 0).r, f.x), mix(texelFetch(within, ivec2(a.x, b.y), 0).r, texelFetch(within, b, 0).r, f.x), f.y);
  }
  if (share == 1.0 && mask == 1.0 && black == 0.0 && gain == vec3(1.0)) light = vec4(signal, 1.0);
  else light = vec4(min(vec3(1.0), pow((pow(signal, vec3(gamma)) * share * gain + black * add) * mask, vec3(1.0 / gamma))), 1.0);
}`;

/** How much of the light a mask lets through on a raster, from its line or its picture (`core/Output/MaskShape.php`). */
const MASK = `#version 300 es
precision highp float;
precision highp int;
uniform highp sampler2D line;
uniform int count;
uniform float feather;
uniform vec2 from;
uniform vec2 by;
uniform bool painted;
uniform highp sampler2D image;
uniform vec4 imagePlace;
out vec4 light;
${SHARES}
void main() {
  vec2 p = from + gl_FragCoord.xy * by;
  if (painted) {
    light = vec4(vec3(shares(image, imagePlace, p)), 1.0);
    return;
  }
  float least = 1e30;
  bool inside = false;
  vec2 a = texelFetch(line, ivec2(count - 1, 0), 0).xy;
  for (int i = 0; i < count; i++) {
    vec2 b = texelFetch(line, ivec2(i, 0), 0).xy;
    vec2 d = b - a;
    float length2 = dot(d, d);
    float t = length2 > 0.0 ? clamp(dot(p - a, d) / length2, 0.0, 1.0) : 0.0;
    vec2 off = p - a - t * d;
    least = min(least, dot(off, off));
    if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (p.y - a.y) / d.y * d.x) inside = !inside;
    a = b;
  }
  float t = clamp((inside ? sqrt(least) : -sqrt(least)) / max(1.0, feather) + 0.5, 0.0, 1.0);
  light = vec4(vec3(t * t * (3.0 - 2.0 * t)), 1.0);
}`;

/** How a region is delivered that is more than one pixel for one. */
export interface Warped {
  mesh: Float32Array;
  source: Rect;
  blend?: readonly number[] | undefined;
  curve?: number | undefined;
  shares: Shares | null;
  lift: Shares | null;
  /** Masks of the output, and of the surface. */
  over: readonly Shape[];
  within: readonly Shape[];
  gamma: number;
  gain: readonly [number, number, number];
  black: number;
}

interface Shares {
  place: Rect;
  columns: number;
  rows: number;
  shares: Float32Array;
}

/** A mask's line, as x and y after one another, or its picture. */
interface Shape {
  line: number[];
  image?: Shares | undefined;
  feather: number;
  inverted: boolean;
}

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
  /** What it was made of, where it is kept as long as that is the same. */
  made?: string;
}

export type Blend = 'normal' | 'add' | 'screen' | 'multiply' | 'lighten' | 'darken';

/** A 3×3 matrix, row by row. */
export type Matrix = ArrayLike<number>;

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

/** Draws after which a raster that was not used is freed. */
const KEPT = 120;

interface Program {
  program: WebGLProgram;
  at: (name: string) => WebGLUniformLocation | null;
}

/** What is drawn: a picture, the numbers of a pattern, or one colour. */
export type Drawable = Texture | Float32Array | null;

/** What a picture is cut out by (`core/Playback/LayerMask.php`); without a texture, by nothing that is there. */
export interface Mask {
  texture: Texture | null;
  /** The part of the texture that is the picture. */
  shown: [number, number];
  matte: boolean;
  key: number;
  inverted: boolean;
  width: number;
  colour: readonly [number, number, number];
  /** Right, down, scale, feather. */
  place: readonly [number, number, number, number];
}

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
  private readonly programs: Record<'layer' | 'thrown' | 'solid' | 'sum' | 'deliver', Program>;
  /** Those of regions that are warped, blended or masked, made when the first is. */
  private warping: { warp: Program; mask: Program; none: WebGLTexture } | null = null;
  private readonly deliveries = new Map<
    Float32Array,
    { vertices: WebGLVertexArrayObject; buffer: WebGLBuffer; used: number }
  >();
  private readonly numbered = new Map<Float32Array, { texture: WebGLTexture; used: number }>();
  private readonly masked = new Map<
    string,
    {
      texture: WebGLTexture;
      frame: WebGLFramebuffer;
      of: readonly Shape[];
      width: number;
      height: number;
      used: number;
    }
  >();
  /** That which draws effects, made when one is first drawn. */
  private effecting: Program | null = null;
  /** Those that draw patterns, made when one is first drawn. */
  private patterns: { layer: Program; thrown: Program } | null = null;
  private readonly rasters = new Map<string, Raster>();
  private readonly deep: boolean;
  private readonly place = new Float32Array(9);
  private depths: {
    texture: WebGLTexture;
    frame: WebGLFramebuffer;
    program: Program;
    of: (Float32Array | null)[];
  } | null = null;
  /** The lenses that depths were drawn for, as they were. */
  private readonly seen = new Float32Array(THROW * MAX_LENSES);
  private readonly views = new Float32Array(4 * MAX_LENSES);
  private readonly meshes = new Map<
    Float32Array,
    { vertices: WebGLVertexArrayObject; buffer: WebGLBuffer; used: number }
  >();
  private bounds: Rect = [0, 0, 0, 0];
  private turn = 0;
  /** What is seen of the unit square of the picture that is drawn next: left, top, right, bottom. */
  crop: readonly [number, number, number, number] = [0, 0, 1, 1];
  /** Whether that is repeated: 1 across, 2 down, 3 both. */
  tile = 0;
  /** How far its red, green and blue are turned into their opposites, and whether it is black where it is clear. */
  invert: readonly [number, number, number] = [0, 0, 0];
  opaque = false;
  /** What it is cut out by. */
  cutBy: Mask | null = null;
  /** Columns, rows and signs of the text that is drawn next, where it is one. */
  text: readonly number[] = [];
  private readonly signs = new Uint32Array(SIGNS);

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
    return new Compositor(gl, { size: canvas, frame: null, texture: null });
  }

  /** In a context that draws other things too, into a texture of it; enter() before each draw. The texture's first row is the top one. */
  static within(gl: WebGL2RenderingContext, width: number, height: number): Compositor {
    const compositor = new Compositor(gl, {
      size: { width, height },
      frame: gl.createFramebuffer(),
      texture: gl.createTexture(),
    });
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
    this.deep =
      gl.getExtension('EXT_color_buffer_half_float') !== null || gl.getExtension('EXT_color_buffer_float') !== null;
    this.vertices = gl.createVertexArray();
    this.enter();
    this.programs = {
      layer: this.program(lookUp(PICTURE_AT) + LAYER),
      thrown: this.program(lookUp(PICTURE_AT) + THROWN, TRIANGLES),
      solid: this.program(SOLID),
      sum: this.program(SUM),
      deliver: this.program(DELIVER),
    };
  }

  /** Pixels in which places on the target are told; null where they are its own. */
  told: { readonly width: number; readonly height: number } | null = null;

  private get space() {
    return this.told ?? this.target.size;
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

  /** The programs that draw what is drawn. */
  private of(picture: Drawable): { layer: Program; thrown: Program } {
    if (!(picture instanceof Float32Array)) return this.programs;
    this.patterns ??= {
      layer: this.program(lookUp(PATTERN_AT) + LAYER),
      thrown: this.program(lookUp(PATTERN_AT) + THROWN, TRIANGLES),
    };
    return this.patterns;
  }

  private program(fragment: string, vertex = QUAD): Program {
    const { gl } = this;
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
    for (const [numbers, mesh] of this.meshes) {
      if (mesh.used < this.turn - KEPT) {
        gl.deleteVertexArray(mesh.vertices);
        gl.deleteBuffer(mesh.buffer);
        this.meshes.delete(numbers);
      }
    }
    for (const [numbers, mesh] of this.deliveries) {
      if (mesh.used < this.turn - KEPT) {
        gl.deleteVertexArray(mesh.vertices);
        gl.deleteBuffer(mesh.buffer);
        this.deliveries.delete(numbers);
      }
    }
    for (const [numbers, map] of this.numbered) {
      if (map.used < this.turn - KEPT) {
        gl.deleteTexture(map.texture);
        this.numbered.delete(numbers);
      }
    }
    for (const [key, mask] of this.masked) {
      if (mask.used < this.turn - KEPT) {
        gl.deleteFramebuffer(mask.frame);
        gl.deleteTexture(mask.texture);
        this.masked.delete(key);
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

  private put3(at: Program['at'], m: Matrix, raster: Raster) {
    // WebGL reads columns.
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) this.place[3 * c + r] = m[3 * r + c] as number;
    this.gl.uniformMatrix3fv(at('place'), false, this.place);
    this.gl.uniform4f(at('crop'), ...(this.tile === 0 ? this.crop : this.spread(raster, m)));
  }

  private rectangle(at: Program['at'], [x, y, w, h]: Rect) {
    const { place } = this;
    place.fill(0);
    place[0] = w;
    place[4] = h;
    place[6] = x;
    place[7] = y;
    place[8] = 1;
    this.gl.uniformMatrix3fv(at('place'), false, place);
    this.gl.uniform4f(at('crop'), 0, 0, 1, 1);
  }

  /** Begins a window of a surface's raster: black, ready for layers from the bottom up. */
  begin(key: string, width: number, height: number) {
    const raster = this.raster(key, width, height);
    this.clear(raster);
    return raster;
  }

  private raster(key: string, width: number, height: number): Raster {
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
    return raster;
  }

  private clear(raster: Raster) {
    const { gl } = this;
    gl.bindFramebuffer(gl.FRAMEBUFFER, raster.frame);
    gl.disable(gl.SCISSOR_TEST);
    gl.viewport(0, 0, raster.width, raster.height);
    gl.clearColor(0, 0, 0, 0);
    gl.clear(gl.COLOR_BUFFER_BIT);
    gl.enable(gl.BLEND);
  }

  /** Begins a sum of pictures that is laid on a raster as one: drawn onto what is returned, by adding. */
  gather({ width, height }: Raster): Raster {
    const sum = this.raster(`sum ${width} ${height}`, width, height);
    this.clear(sum);
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
    this.rectangle(at, [0, 0, raster.width, raster.height]);
    gl.uniform2f(at('target'), raster.width, raster.height);
    gl.uniform1f(at('up'), 1);
    gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
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

  /** Draws no further than a rectangle of the raster, until the next begins. */
  clip([x, y, w, h]: Rect) {
    const { gl } = this;
    gl.enable(gl.SCISSOR_TEST);
    this.bounds = [x, y, Math.max(0, w), Math.max(0, h)];
    gl.scissor(...this.bounds);
  }

  /** What is drawn meanwhile stays within a rectangle of the raster, too: left, top, right, bottom. */
  within([left, top, right, bottom]: Rect, draw: () => void) {
    const { gl } = this;
    const { bounds } = this;
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

  layer(
    raster: Raster,
    picture: Drawable,
    matrix: Matrix,
    opacity: number,
    shown: [number, number],
    matte: boolean,
    blend: Blend,
    gain: readonly [number, number, number],
  ) {
    const { gl } = this;
    const { program, at } = this.of(picture).layer;
    gl.useProgram(program);
    this.look(at, picture, shown, matte, opacity, blend, gain);
    this.put3(at, matrix, raster);
    gl.uniform2f(at('target'), raster.width, raster.height);
    gl.uniform1f(at('up'), 1);
    gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
  }

  /** The part of the picture's plane that a raster shows, in the directions in which it is repeated. */
  private spread({ width, height }: Raster, matrix: Matrix): [number, number, number, number] {
    const [left, top, right, bottom] = this.crop;
    const back = inverted(matrix);
    if (back === null) return [left, top, right, bottom];
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
      this.tile & 1 ? Math.min(...us) : left,
      this.tile & 2 ? Math.min(...vs) : top,
      this.tile & 1 ? Math.max(...us) : right,
      this.tile & 2 ? Math.max(...vs) : bottom,
    ];
  }

  /** How a picture is looked up and laid on what is there. */
  private look(
    at: Program['at'],
    picture: Drawable,
    shown: [number, number],
    matte: boolean,
    opacity: number,
    blend: Blend,
    gain: readonly [number, number, number],
  ) {
    const { gl } = this;
    this.mix(blend);
    const texture = picture instanceof Float32Array ? null : picture;
    gl.bindTexture(gl.TEXTURE_2D, texture?.texture ?? null);
    if (picture instanceof Float32Array) {
      gl.uniform4fv(at('pattern'), picture);
      if (this.text.length > 2) {
        this.signs.set(this.text.slice(2, 2 + SIGNS));
        gl.uniform4uiv(at('text'), this.signs);
      }
    }
    const [left, top, right, bottom] = this.crop;
    gl.uniform4f(
      at('tile'),
      left * shown[0],
      top * shown[1],
      this.tile & 1 ? (right - left) * shown[0] : 0,
      this.tile & 2 ? (bottom - top) * shown[1] : 0,
    );
    gl.uniform2f(at('shown'), ...shown);
    gl.uniform2f(at('size'), texture?.width ?? 1, texture?.height ?? 1);
    gl.uniform1i(at('matte'), matte ? 1 : 0);
    gl.uniform1i(at('darken'), blend === 'darken' ? 1 : 0);
    gl.uniform1f(at('opacity'), opacity);
    gl.uniform3f(at('gain'), ...gain);
    gl.uniform3f(at('invert'), ...this.invert);
    gl.uniform1i(at('opaque'), this.opaque ? 1 : 0);
    this.cut(at);
  }

  private cutting = false;

  private cut(at: Program['at']) {
    const { gl, cutBy: mask } = this;
    gl.uniform1i(at('maskPicture'), 2);
    gl.uniform1i(at('maskKey'), mask === null ? -1 : mask.texture === null ? 3 : mask.key);
    const texture = mask?.texture?.texture ?? null;
    if (texture !== null || this.cutting) {
      // What is drawn onto next must not be looked up as well.
      gl.activeTexture(gl.TEXTURE2);
      gl.bindTexture(gl.TEXTURE_2D, texture);
      gl.activeTexture(gl.TEXTURE0);
      this.cutting = texture !== null;
    }
    if (mask === null) return;
    gl.uniform2f(at('maskShown'), ...mask.shown);
    gl.uniform2f(at('maskSize'), mask.texture?.width ?? 1, mask.texture?.height ?? 1);
    gl.uniform1i(at('maskMatte'), mask.matte ? 1 : 0);
    gl.uniform1i(at('maskInverted'), mask.inverted ? 1 : 0);
    gl.uniform1f(at('maskWidth'), mask.width);
    gl.uniform3f(at('maskColour'), ...mask.colour);
    gl.uniform4f(at('maskPlace'), ...mask.place);
  }

  /** Draws something else in between: what was being drawn goes on after it as if nothing had been. */
  private aside(text: readonly number[], draw: () => void) {
    const { gl } = this;
    const frame = gl.getParameter(gl.FRAMEBUFFER_BINDING) as WebGLFramebuffer | null;
    const view = gl.getParameter(gl.VIEWPORT) as Int32Array;
    const scissor = gl.isEnabled(gl.SCISSOR_TEST);
    const kept = [this.crop, this.tile, this.invert, this.opaque, this.cutBy, this.text] as const;
    [this.crop, this.tile, this.invert, this.opaque, this.cutBy, this.text] = [
      [0, 0, 1, 1],
      0,
      [0, 0, 0],
      false,
      null,
      text,
    ];
    draw();
    [this.crop, this.tile, this.invert, this.opaque, this.cutBy, this.text] = kept;
    gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
    gl.viewport(view[0] as number, view[1] as number, view[2] as number, view[3] as number);
    if (scissor) gl.enable(gl.SCISSOR_TEST);
  }

  /** Draws one picture over the whole of a raster. */
  private cover(raster: Raster, picture: Drawable, shown: [number, number], matte: boolean): Raster {
    const { width, height } = raster;
    this.clear(raster);
    this.layer(raster, picture, [width, 0, 0, 0, height, 0, 0, 0, 1], 1, shown, matte, 'normal', [1, 1, 1]);
    return raster;
  }

  /** A raster that is looked up between its pixels. */
  private smooth(key: string, width: number, height: number): Raster {
    const raster = this.raster(key, width, height);
    this.gl.bindTexture(this.gl.TEXTURE_2D, raster.texture);
    this.linear();
    return raster;
  }

  /**
   * A picture that is looked up like any other, drawn anew only when it is another one.
   *
   * @param made what it is made of: the same picture for the same text
   */
  private drawnOnce(
    key: string,
    made: string,
    width: number,
    height: number,
    text: readonly number[],
    draw: (raster: Raster) => void,
  ): Texture {
    let raster = this.kept(key);
    if (raster?.made !== made || raster.width !== width || raster.height !== height)
      this.aside(text, () => {
        raster = this.smooth(key, width, height);
        raster.made = made;
        draw(raster);
      });
    return { texture: (raster as Raster).texture, width, height, key: made };
  }

  /** A pattern as a texture, for what looks it up in another way than by its formula. */
  rendered(key: string, pattern: Float32Array, width: number, height: number, text: readonly number[]): Texture {
    return this.drawnOnce(key, `${pattern.join(' ')} ${text.join(' ')}`, width, height, text, (raster) =>
      this.cover(raster, pattern, [width, height], false),
    );
  }

  /**
   * A picture with a chain of effects over it.
   *
   * @param key of whoever shows it
   * @param made what it is made of: the same picture for the same text
   * @param shown the part of the texture that is the picture, which says how large the rasters of the chain are
   * @param passes the numbers of each effect
   * @param largest pixels of the longer side of the rasters
   */
  effected(
    key: string,
    made: string,
    picture: Drawable,
    shown: [number, number],
    matte: boolean,
    text: readonly number[],
    passes: readonly Float32Array[],
    largest: number,
  ): Texture {
    const smaller = Math.min(1, largest / Math.max(...shown));
    const [width, height] =
      shown[0] === 1 && shown[1] === 1
        ? [PLAIN, PLAIN]
        : [Math.max(1, Math.round(shown[0] * smaller)), Math.max(1, Math.round(shown[1] * smaller))];
    return this.drawnOnce(`effects ${key}`, made, width, height, text, (last) =>
      this.chain(last, picture, shown, matte, passes),
    );
  }

  private chain(
    last: Raster,
    picture: Drawable,
    shown: [number, number],
    matte: boolean,
    passes: readonly Float32Array[],
  ) {
    const { gl } = this;
    const { width, height } = last;
    const between = (n: number) => this.smooth(`effect ${n} ${width} ${height}`, width, height);
    let from = this.cover(between(0), picture, shown, matte);
    this.effecting ??= this.program(EFFECT_PASS);
    const { program, at } = this.effecting;
    gl.disable(gl.BLEND);
    gl.useProgram(program);
    gl.uniform1i(at('before'), 3);
    gl.uniform2f(at('size'), width, height);
    gl.uniform2f(at('target'), width, height);
    gl.uniform1f(at('up'), 1);
    this.rectangle(at, [0, 0, width, height]);
    const draw = (onto: Raster, picture_: Raster, before: Raster, step: number) => {
      gl.bindFramebuffer(gl.FRAMEBUFFER, onto.frame);
      gl.activeTexture(gl.TEXTURE3);
      gl.bindTexture(gl.TEXTURE_2D, before.texture);
      gl.activeTexture(gl.TEXTURE0);
      gl.bindTexture(gl.TEXTURE_2D, picture_.texture);
      gl.uniform1i(at('step_'), step);
      gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
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

  private readonly flats = new Map<string, Texture>();

  /** One colour as a texture. */
  flat(colour: readonly number[]): Texture {
    const key = colour.join(' ');
    let texture = this.flats.get(key);
    if (texture === undefined) {
      const { gl } = this;
      const made = gl.createTexture() as WebGLTexture;
      gl.bindTexture(gl.TEXTURE_2D, made);
      this.linear();
      gl.texImage2D(
        gl.TEXTURE_2D,
        0,
        gl.RGBA,
        1,
        1,
        0,
        gl.RGBA,
        gl.UNSIGNED_BYTE,
        new Uint8Array([colour[0] ?? 0, colour[1] ?? 0, colour[2] ?? 0, 255]),
      );
      texture = { texture: made, width: 1, height: 1, key: `flat ${key}` };
      this.flats.set(key, texture);
    }
    return texture;
  }

  /**
   * Throws a picture in a pane onto triangles.
   *
   * @param numbers of the triangles' corners, eleven each
   * @param round the true shape of what is round; null for what is as flat as its triangles
   * @param solids what may stand in the way, as corners of triangles; null for nothing
   * @param picture the picture or pattern; null for one colour
   * @param matrix the picture's unit square onto the pane's pixels
   * @param throws of each projection fourteen groups of four
   * @param around pane pixels of a whole turn; 0 for lenses
   * @param window the part of the surface's raster that the raster shows, `scale` times as large
   */
  throw(
    raster: Raster,
    numbers: Float32Array,
    round: RoundPart | null,
    solids: Float32Array | null,
    picture: Drawable,
    colour: readonly number[],
    matrix: Matrix,
    throws: Float32Array,
    count: number,
    around: number,
    window: Rect,
    scale: number,
    opacity: number,
    shown: [number, number],
    matte: boolean,
    blend: Blend,
    gain: readonly [number, number, number],
  ) {
    const { gl } = this;
    const inverse = inverted(matrix);
    if (inverse === null) return;
    const { program, at } = this.of(picture).thrown;
    this.see(raster, solids, throws, around > 0 ? 0 : count);
    gl.useProgram(program);
    gl.activeTexture(gl.TEXTURE1);
    gl.bindTexture(gl.TEXTURE_2D_ARRAY, this.depths?.texture ?? null);
    gl.activeTexture(gl.TEXTURE0);
    gl.uniform1i(at('depths'), 1);
    gl.uniform4fv(at('views'), this.views);
    this.look(at, picture, shown, matte, opacity, blend, gain);
    gl.uniform4f(at('window'), window[0], window[1], raster.width / scale, raster.height / scale);
    gl.uniform4fv(at('lens'), throws);
    gl.uniform1i(at('count'), count);
    gl.uniform1f(at('around'), around);
    gl.uniform1i(at('round_'), round === null ? 0 : round.dome ? 2 : 1);
    gl.uniformMatrix4fv(at('body'), false, round === null ? UPRIGHT : round.frame);
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) this.place[3 * c + r] = inverse[3 * r + c] as number;
    gl.uniformMatrix3fv(at('content'), false, this.place);
    gl.uniform4f(at('crop'), ...this.crop);
    gl.uniform1i(at('solid'), picture === null ? 1 : 0);
    gl.uniform3f(at('colour'), (colour[0] ?? 0) / 255, (colour[1] ?? 0) / 255, (colour[2] ?? 0) / 255);
    gl.bindVertexArray(this.triangles(numbers));
    gl.drawArrays(gl.TRIANGLES, 0, numbers.length / Mesh.NUMBERS);
    gl.bindVertexArray(this.vertices);
  }

  /** Draws how deep the venue is from each lens that it may stand in the way of, where that is not known yet. */
  private see(raster: Raster, solids: Float32Array | null, throws: Float32Array, count: number) {
    const { gl } = this;
    let drew = false;
    for (let i = 0; i < count; i++) {
      const flag = i * THROW + 35;
      if ((throws[flag] ?? 0) < 0.5) continue;
      if (solids === null) {
        throws[flag] = 0;
        continue;
      }
      this.depths ??= this.depthsOf();
      const mesh = this.triangles(solids);
      if (this.depths.of[i] === solids && this.isSeen(throws, i * THROW)) continue;
      const view = viewOf(throws.subarray(i * THROW, (i + 1) * THROW));
      this.views.set(view, 4 * i);
      this.seen.set(throws.subarray(i * THROW, (i + 1) * THROW), i * THROW);
      this.depths.of[i] = solids;
      drew = true;
      const { program, at } = this.depths.program;
      gl.bindFramebuffer(gl.FRAMEBUFFER, this.depths.frame);
      gl.framebufferTextureLayer(gl.FRAMEBUFFER, gl.DEPTH_ATTACHMENT, this.depths.texture, 0, i);
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
    if (!drew) return;
    gl.bindVertexArray(this.vertices);
    gl.disable(gl.DEPTH_TEST);
    gl.enable(gl.BLEND);
    gl.bindFramebuffer(gl.FRAMEBUFFER, raster.frame);
    gl.viewport(0, 0, raster.width, raster.height);
    gl.enable(gl.SCISSOR_TEST);
    gl.scissor(...this.bounds);
  }

  private depthsOf() {
    const { gl } = this;
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
    return { texture, frame, program: this.program(NOTHING, SOLIDS), of: [] as (Float32Array | null)[] };
  }

  /** Whether a lens is where it was, and bends as it did: its place, its angle and shift, and its distortion. */
  private isSeen(throws: Float32Array, at: number): boolean {
    for (let i = at; i < at + 36; i++) if (throws[i] !== this.seen[i] && !(i >= at + 20 && i < at + 29)) return false;
    return true;
  }

  private triangles(numbers: Float32Array): WebGLVertexArrayObject {
    const { gl } = this;
    let mesh = this.meshes.get(numbers);
    if (mesh === undefined) {
      mesh = { vertices: gl.createVertexArray(), buffer: gl.createBuffer(), used: this.turn };
      this.meshes.set(numbers, mesh);
      gl.bindVertexArray(mesh.vertices);
      gl.bindBuffer(gl.ARRAY_BUFFER, mesh.buffer);
      gl.bufferData(gl.ARRAY_BUFFER, numbers, gl.STATIC_DRAW);
      for (const [place, count, from] of [
        [0, 2, 0],
        [1, 3, 8],
        [2, 3, 20],
        [3, 3, 32],
      ] as const) {
        gl.enableVertexAttribArray(place);
        gl.vertexAttribPointer(place, count, gl.FLOAT, false, 4 * Mesh.NUMBERS, from);
      }
    }
    mesh.used = this.turn;
    return mesh.vertices;
  }

  solid(
    raster: Raster,
    colour: readonly number[],
    matrix: Matrix,
    opacity: number,
    blend: Blend,
    gain: readonly [number, number, number],
  ) {
    const { gl } = this;
    this.mix(blend);
    const white = blend === 'darken' ? 1 - opacity : 0;
    const of = (c: 0 | 1 | 2) => {
      const light = (colour[c] ?? 0) / 255;
      return light + (1 - 2 * light) * this.invert[c];
    };
    const lit = (c: 0 | 1 | 2) => Math.min(1, of(c) * gain[c]) * opacity + white;
    const { program, at } = this.programs.solid;
    gl.useProgram(program);
    this.put3(at, matrix, raster);
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

  /**
   * What several masks let through on a raster, drawn once as long as they are the same.
   *
   * @param part of the raster that is drawn: its left and top, width and height
   * @param size in pixels of what is drawn on
   */
  private mask(
    key: string,
    of: readonly Shape[],
    [x, y, w, h]: Rect,
    { width, height }: { width: number; height: number },
  ): WebGLTexture {
    const { gl } = this;
    const { mask: program } = this.warps();
    let kept = this.masked.get(key);
    if (kept !== undefined && kept.of === of && kept.width === width && kept.height === height) {
      kept.used = this.turn;
      return kept.texture;
    }
    if (kept === undefined || kept.width !== width || kept.height !== height) {
      if (kept !== undefined) {
        gl.deleteFramebuffer(kept.frame);
        gl.deleteTexture(kept.texture);
      }
      const texture = gl.createTexture() as WebGLTexture;
      gl.bindTexture(gl.TEXTURE_2D, texture);
      gl.texStorage2D(gl.TEXTURE_2D, 1, gl.R8, width, height);
      this.nearest();
      const frame = gl.createFramebuffer() as WebGLFramebuffer;
      gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
      gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, 0);
      kept = { texture, frame, of, width, height, used: this.turn };
      this.masked.set(key, kept);
    }
    kept.of = of;
    kept.used = this.turn;
    gl.bindFramebuffer(gl.FRAMEBUFFER, kept.frame);
    gl.disable(gl.SCISSOR_TEST);
    gl.viewport(0, 0, width, height);
    const through = of.filter((shape) => !shape.inverted);
    gl.clearColor(through.length > 0 ? 0 : 1, 0, 0, 1);
    gl.clear(gl.COLOR_BUFFER_BIT);
    gl.enable(gl.BLEND);
    gl.useProgram(program.program);
    const line = gl.createTexture() as WebGLTexture;
    gl.bindTexture(gl.TEXTURE_2D, line);
    this.nearest();
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RG32F, 1, 1, 0, gl.RG, gl.FLOAT, new Float32Array(2));
    for (const shape of [...through, ...of.filter((one) => one.inverted)]) {
      gl.blendEquation(shape.inverted ? gl.FUNC_ADD : gl.MAX);
      gl.blendFunc(gl.ZERO, gl.ONE_MINUS_SRC_COLOR);
      const count = shape.line.length / 2;
      const { image } = shape;
      gl.activeTexture(gl.TEXTURE1);
      if (image === undefined) gl.bindTexture(gl.TEXTURE_2D, this.warps().none);
      else gl.bindTexture(gl.TEXTURE_2D, this.sharesOf(image));
      gl.activeTexture(gl.TEXTURE0);
      gl.bindTexture(gl.TEXTURE_2D, line);
      if (image === undefined)
        gl.texImage2D(gl.TEXTURE_2D, 0, gl.RG32F, count, 1, 0, gl.RG, gl.FLOAT, new Float32Array(shape.line));
      gl.uniform1i(program.at('line'), 0);
      gl.uniform1i(program.at('image'), 1);
      gl.uniform1i(program.at('painted'), image === undefined ? 0 : 1);
      gl.uniform4f(program.at('imagePlace'), ...(image?.place ?? ([0, 0, 1, 1] as Rect)));
      gl.uniform1i(program.at('count'), count);
      gl.uniform1f(program.at('feather'), shape.feather);
      gl.uniform2f(program.at('from'), x, y);
      gl.uniform2f(program.at('by'), w / width, h / height);
      this.rectangle(program.at, [0, 0, width, height]);
      gl.uniform2f(program.at('target'), width, height);
      gl.uniform1f(program.at('up'), 1);
      gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
    }
    gl.deleteTexture(line);
    gl.disable(gl.BLEND);
    gl.blendEquation(gl.FUNC_ADD);
    return kept.texture;
  }

  private nearest() {
    const { gl } = this;
    for (const [name, value] of [
      [gl.TEXTURE_MIN_FILTER, gl.NEAREST],
      [gl.TEXTURE_MAG_FILTER, gl.NEAREST],
      [gl.TEXTURE_WRAP_S, gl.CLAMP_TO_EDGE],
      [gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE],
    ] as const)
      gl.texParameteri(gl.TEXTURE_2D, name, value);
  }

  private warps() {
    const { gl } = this;
    if (this.warping === null) {
      const none = gl.createTexture() as WebGLTexture;
      gl.bindTexture(gl.TEXTURE_2D, none);
      gl.texStorage2D(gl.TEXTURE_2D, 1, gl.R8, 2, 2);
      this.nearest();
      this.warping = { warp: this.program(WARP, REGION), mask: this.program(MASK), none };
    }
    return this.warping;
  }

  private sharesOf(map: Shares): WebGLTexture {
    const { gl } = this;
    let kept = this.numbered.get(map.shares);
    if (kept === undefined) {
      const texture = gl.createTexture() as WebGLTexture;
      gl.bindTexture(gl.TEXTURE_2D, texture);
      this.nearest();
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.R32F, map.columns, map.rows, 0, gl.RED, gl.FLOAT, map.shares);
      kept = { texture, used: this.turn };
      this.numbered.set(map.shares, kept);
    }
    kept.used = this.turn;
    return kept.texture;
  }

  private region(numbers: Float32Array): WebGLVertexArrayObject {
    const { gl } = this;
    let mesh = this.deliveries.get(numbers);
    if (mesh === undefined) {
      mesh = { vertices: gl.createVertexArray(), buffer: gl.createBuffer(), used: this.turn };
      this.deliveries.set(numbers, mesh);
      gl.bindVertexArray(mesh.vertices);
      gl.bindBuffer(gl.ARRAY_BUFFER, mesh.buffer);
      gl.bufferData(gl.ARRAY_BUFFER, numbers, gl.STATIC_DRAW);
      for (const [place, count, at] of [
        [0, 3, 0],
        [1, 2, 12],
      ] as const) {
        gl.enableVertexAttribArray(place);
        gl.vertexAttribPointer(place, count, gl.FLOAT, false, 20, at);
      }
    }
    mesh.used = this.turn;
    return mesh.vertices;
  }

  /**
   * Delivers a window of a surface's raster through a region's triangles.
   *
   * @param window the part of the surface's raster that is on the raster
   * @param tile the part of that which is delivered: pixels around it are for interpolating
   * @param key of the region and the window, for what is kept of its masks
   */
  warp(raster: Raster, window: Rect, tile: Rect, key: string, how: Warped, master: number) {
    const { gl, target } = this;
    const { warp, none } = this.warps();
    const { program, at } = warp;
    const { width, height } = this.space;
    const over = how.over.length > 0 ? this.mask('over', how.over, [0, 0, width, height], target.size) : none;
    const within = how.within.length > 0 ? this.mask(`within ${key}`, how.within, window, raster) : none;
    const textures = [
      raster.texture,
      how.shares === null ? none : this.sharesOf(how.shares),
      how.lift === null ? none : this.sharesOf(how.lift),
      over,
      within,
    ];
    gl.bindFramebuffer(gl.FRAMEBUFFER, target.frame);
    gl.viewport(0, 0, target.size.width, target.size.height);
    gl.disable(gl.SCISSOR_TEST);
    gl.disable(gl.BLEND);
    gl.useProgram(program);
    gl.uniform1f(at('scale'), raster.width / window[2]);
    gl.uniform2f(at('step_'), width / target.size.width, height / target.size.height);
    textures.forEach((texture, unit) => {
      gl.activeTexture(gl.TEXTURE0 + unit);
      gl.bindTexture(gl.TEXTURE_2D, texture);
      gl.uniform1i(at(['raster', 'blend', 'lift', 'over', 'within'][unit] as string), unit);
    });
    gl.activeTexture(gl.TEXTURE0);
    gl.uniform4f(at('window'), ...window);
    gl.uniform4f(at('tile'), ...tile);
    gl.uniform4f(at('source'), ...how.source);
    const [left = 0, top = 0, right = 0, bottom = 0] = how.blend ?? [];
    gl.uniform4f(at('edges'), left, top, right, bottom);
    gl.uniform1f(at('curve'), how.curve ?? 1);
    gl.uniform4f(at('blendPlace'), ...(how.shares?.place ?? ([0, 0, 1, 1] as Rect)));
    gl.uniform4f(at('liftPlace'), ...(how.lift?.place ?? ([0, 0, 1, 1] as Rect)));
    gl.uniform4i(
      at('has'),
      how.shares === null ? 0 : 1,
      how.lift === null ? 0 : 1,
      how.over.length > 0 ? 1 : 0,
      how.within.length > 0 ? 1 : 0,
    );
    gl.uniform2f(at('target'), width, height);
    gl.uniform1f(at('up'), target.frame === null ? -1 : 1);
    gl.uniform1f(at('master'), master);
    gl.uniform1f(at('gamma'), how.gamma);
    gl.uniform3f(at('gain'), ...how.gain);
    gl.uniform1f(at('black'), how.black);
    gl.bindVertexArray(this.region(how.mesh));
    gl.drawArrays(gl.TRIANGLES, 0, how.mesh.length / 5);
    gl.bindVertexArray(this.vertices);
  }

  private put(texture: WebGLTexture, place: Rect, master: number) {
    const { gl, target } = this;
    const { program, at } = this.programs.deliver;
    gl.useProgram(program);
    gl.bindTexture(gl.TEXTURE_2D, texture);
    this.rectangle(at, place);
    gl.uniform2f(at('target'), this.space.width, this.space.height);
    gl.uniform1f(at('up'), target.frame === null ? -1 : 1);
    gl.uniform1f(at('master'), master);
    gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
  }
}
