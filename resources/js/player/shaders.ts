import { MAX_LENSES, THROW } from '../live/throw';

/** Depth as it is kept, z = a + b / depth, from 2 cm to 1 km. */
const [NEAR, FAR] = [0.02, 1000];
const DEPTH = { a: ((FAR + NEAR) / (FAR - NEAR)).toFixed(9), b: ((-2 * FAR * NEAR) / (FAR - NEAR)).toFixed(9) };

/** Vertices of a unit square from their number; `place` carries it, row by row transposed, onto the target's pixels, y down. */
export const QUAD = `#version 300 es
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
export const TRIANGLES = `#version 300 es
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
export const lookUp = (at: string) => `#version 300 es
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

export const PICTURE_AT = lookedUp('at', 'picture', 'shown', 'size', 'matte');

/** What stands in the way, by its depth from a lens; `view` is the middle and half the size of what it sees, on the plane at distance 1. */
export const SOLIDS = `#version 300 es
uniform mat4 into;
uniform vec4 view;
layout(location = 1) in vec3 at;
void main() {
  vec3 q = (into * vec4(at, 1.0)).xyz;
  float d = -q.z;
  gl_Position = vec4((q.x - view.x * d) / view.z, (-q.y - view.y * d) / view.w, ${DEPTH.a} * d + (${DEPTH.b}), d);
}`;
export const NOTHING = `#version 300 es
precision highp float;
void main() {}`;

/** A picture laid on a raster. */
export const LAYER = `
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
export const THROWN = `
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

export const SOLID = `#version 300 es
precision highp float;
uniform vec4 colour;
out vec4 light;
void main() { light = colour; }`;

/** A sum of pictures laid on a raster of the same size; where darken is, it fades to white by its alpha. */
export const SUM = `#version 300 es
precision highp float;
uniform sampler2D sum;
uniform bool darken;
out vec4 light;
void main() {
  light = texelFetch(sum, ivec2(gl_FragCoord.xy), 0);
  if (darken) light.rgb += 1.0 - light.a;
}`;

export const DELIVER = `#version 300 es
precision highp float;
uniform sampler2D raster;
uniform float master;
in vec2 uv;
out vec4 light;
void main() { light = vec4(texture(raster, uv).rgb * master, 1.0); }`;

/** Triangles of a region, as `core/Output/DeliveryMesh.php` has them. */
export const REGION = `#version 300 es
uniform vec2 target;
uniform float up;
uniform vec2 aside;
layout(location = 0) in vec3 onto;
layout(location = 1) in vec2 pixel;
layout(location = 2) in float depth;
out highp vec2 at;
out highp float deep;
void main() {
  at = pixel;
  deep = depth;
  gl_Position = vec4(onto.x / target.x * 2.0 - onto.z, (onto.y / target.y * 2.0 - onto.z) * up, 0.0, onto.z);
  gl_Position.xy += aside * onto.z;
}`;

/** The nearest is seen, of what has no depth the last. */
const NEAREST = `
in highp float deep;
void near() {
  float d = abs(deep);
  gl_FragDepth = d == 0.0 ? 1.0 : clamp((${DEPTH.a} + ${DEPTH.b} / d) * 0.5 + 0.5, 0.0, 1.0);
}`;

/** Whether anything is shown at a place of each pixel of the target: drawn once for each of four places, into a number each. */
export const COVERED = `#version 300 es
precision highp float;
in highp vec2 at;
out vec4 shown;
${NEAREST}
void main() {
  near();
  shown = vec4(deep < 0.0 ? 0.0 : 1.0);
}`;

/**
 * The place map of a region: of each pixel of the target that of the surface's raster which is seen in its middle, and how many of
 * those it covers across and down; less than 0 where nothing is. The last number also says what share of the pixel is covered.
 */
export const PLACES = `#version 300 es
precision highp float;
uniform sampler2D covered;
in highp vec2 at;
out vec4 place;
${NEAREST}
void main() {
  vec2 across = dFdx(at);
  vec2 down = dFdy(at);
  near();
  vec2 covers = sqrt(across * across + down * down);
  float share = dot(texelFetch(covered, ivec2(gl_FragCoord.xy), 0), vec4(0.25));
  place = deep < 0.0 ? vec4(0.0, 0.0, -1.0, -1.0) : vec4(at, covers.x, floor(min(covers.y, 2048.0) * 1024.0 + 0.5) + 0.5 * share);
}`;

/** Adds up what share of each pixel of the target regions cover. */
export const COVERING = `#version 300 es
precision highp float;
uniform sampler2D covered;
uniform vec2 corner;
out vec4 light;
void main() {
  light = vec4(dot(texelFetch(covered, ivec2(gl_FragCoord.xy - corner), 0), vec4(0.25)));
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
 * by the region's place map, with its masks and its share of the light.
 */
export const WARP = `#version 300 es
precision highp float;
uniform sampler2D raster;
uniform highp sampler2D places;
uniform sampler2D covered;
uniform sampler2D together;
uniform vec2 corner;
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
uniform mat3 unpin;
uniform bvec4 has;
uniform bool several;
uniform vec2 target;
uniform float up;
uniform float master;
uniform float gamma;
uniform vec3 gain;
uniform float black;
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
vec4 placeAt(ivec2 q) {
  ivec2 size = textureSize(places, 0);
  if (q.x < 0 || q.y < 0 || q.x >= size.x || q.y >= size.y) return vec4(0.0, 0.0, -1.0, -1.0);
  vec4 place = texelFetch(places, q, 0);
  if (place.z >= 0.0) place.w = floor(place.w) / 1024.0;
  return place;
}
// The place of a pixel at an outline whose middle is past it: as it goes on from the pixel beside it.
vec4 beside(ivec2 q) {
  ivec2 toward[8] = ivec2[](ivec2(-1, 0), ivec2(1, 0), ivec2(0, -1), ivec2(0, 1), ivec2(-1, -1), ivec2(1, -1), ivec2(-1, 1), ivec2(1, 1));
  for (int i = 0; i < 8; i++) {
    vec4 near = placeAt(q + toward[i]);
    if (near.z < 0.0) continue;
    vec4 next = placeAt(q + 2 * toward[i]);
    vec2 by = next.z < 0.0 ? vec2(0.0) : near.xy - next.xy;
    if (abs(by.x) > 2.0 * near.z + 0.5 || abs(by.y) > 2.0 * near.w + 0.5) by = vec2(0.0);
    return vec4(clamp(near.xy + by, source.xy, source.xy + source.zw - 0.001), near.zw);
  }
  return vec4(0.0, 0.0, -1.0, -1.0);
}
void main() {
  ivec2 q = ivec2(gl_FragCoord.xy - corner);
  vec4 place = texelFetch(places, q, 0);
  float cover = 1.0;
  if (place.z >= 0.0) {
    cover = 2.0 * fract(place.w);
    place.w = floor(place.w) / 1024.0;
    if (several && cover < 1.0) cover = texelFetch(together, ivec2(gl_FragCoord.xy), 0).r;
  } else {
    cover = dot(texelFetch(covered, q, 0), vec4(0.25));
    if (cover <= 0.0) discard;
    if (several) {
      float whole = texelFetch(together, ivec2(gl_FragCoord.xy), 0).r;
      if (whole < 0.99 ? 2.0 * cover < whole - 0.02 : cover < 0.51) discard;
      cover = whole;
    }
    place = beside(q);
    if (place.z < 0.0) discard;
  }
  vec2 at = place.xy;
  if (at.x < tile.x || at.y < tile.y || at.x >= tile.x + tile.z || at.y >= tile.y + tile.w) discard;
  vec3 signal = clamp(mean(at, place.zw) * master, 0.0, 1.0);
  // Pixels of what is drawn on, from the top; a preview is drawn smaller than the output.
  vec2 here = vec2(gl_FragCoord.x, up < 0.0 ? target.y / step_.y - gl_FragCoord.y : gl_FragCoord.y);
  vec2 pixel = here * step_;
  vec2 from = at - source.xy;
  float share = rise(from.x, edges.x) * rise(from.y, edges.y) * rise(source.z - from.x, edges.z) * rise(source.w - from.y, edges.w);
  vec3 flat_ = unpin * vec3(pixel, 1.0);
  vec2 computed = flat_.xy / flat_.z;
  if (has.x) share *= shares(blend, blendPlace, computed);
  float add = has.y ? shares(lift, liftPlace, computed) : 1.0;
  float mask = cover;
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
export const MASK = `#version 300 es
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
