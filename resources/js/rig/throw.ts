/** A projector as it hangs: what it throws, as directions from its lens for a metre along its axis. */
export interface Hung {
  origin: number[];
  /** Top left, top right, bottom right, bottom left of its picture. */
  corners: number[][];
  /** k of its lens: what is r from its axis at one metre is seen at r (1 + k r²). Its corners are those of a straight lens. */
  bend?: number;
}

/** By how much a projector hangs otherwise than planned. */
export interface Offset {
  /** Metres. */
  move: [number, number, number];
  /** Degrees about the venue's X, Y and Z. */
  turn: [number, number, number];
  /** Factor of the picture's size. */
  zoom: number;
}

/** Metres from which on projectors are moved by as much as they can be. */
const FAR = 5;

const sub = (a: number[], b: number[]) => a.map((v, i) => v - (b[i] ?? 0));
const cross = ([a = 0, b = 0, c = 0]: number[], [d = 0, e = 0, f = 0]: number[]) => [
  b * f - c * e,
  c * d - a * f,
  a * e - b * d,
];
const length = (v: number[]) => Math.hypot(...v);

/** Numbers that look like chance and are always the same for a name. */
export function offsetOf(name: string): Offset {
  let state = 2166136261;
  for (const sign of name) state = Math.imul(state ^ sign.charCodeAt(0), 16777619);
  const next = () => {
    state = Math.imul(state ^ (state >>> 15), 2246822519) + 3266489917;
    return ((state ^ (state >>> 13)) >>> 0) / 2 ** 32 - 0.5;
  };
  for (let i = 0; i < 4; i++) next();
  return {
    move: [0.5 * next(), 0.3 * next(), 0.5 * next()],
    turn: [2 * next(), 3 * next(), 2 * next()],
    zoom: 1 + 0.06 * next(),
  };
}

/** An offset in proportion to how far a projector throws: over a table it hangs by centimetres otherwise than planned. */
export const scaled = (offset: Offset, distance: number): Offset => {
  const by = Math.min(1, distance / FAR);
  return { ...offset, move: offset.move.map((v) => v * by) as Offset['move'] };
};

/** Where the axis of a picture goes through its plane. */
function axisOf(corners: number[][]): number[] {
  const [tl = [], tr = [], , bl = []] = corners;
  const normal = cross(sub(tr, tl), sub(bl, tl));
  const by = tl.reduce((s, v, i) => s + v * (normal[i] ?? 0), 0) / (length(normal) ** 2 || 1);
  return normal.map((v) => v * by);
}

/** Where a straight lens would have the corners of a picture that another one bends. */
export function straight(corners: number[][], bend: number): number[][] {
  const axis = axisOf(corners);
  return corners.map((c) => {
    const out = sub(c, axis);
    return out.map((v, i) => (axis[i] ?? 0) + v * (1 + bend * length(out) ** 2));
  });
}

/** What a shader needs to bend a picture: where its axis is on it, its size at one metre, k, and how much wider it reaches for that. */
export function bent({ corners, bend = 0 }: Hung): { axis: [number, number]; size: [number, number]; wide: number } {
  const [tl = [], tr = [], , bl = []] = corners;
  const axis = axisOf(corners);
  const [ex, ey, by] = [sub(tr, tl), sub(bl, tl), sub(axis, tl)];
  const along = (e: number[]) => by.reduce((s, v, i) => s + v * (e[i] ?? 0), 0) / (length(e) ** 2 || 1);
  const size: [number, number] = [length(ex), length(ey)];
  // The farthest corner is drawn in by 1 + k r², with r by a few steps from outside.
  let wide = 1;
  for (const corner of bend < 0 ? corners : []) {
    const far = length(sub(corner, axis));
    let r = far;
    for (let i = 0; i < 40; i++) r = far / Math.max(0.3, 1 + bend * r * r);
    wide = Math.max(wide, r / (far || 1));
  }
  return { axis: [along(ex), along(ey)], size, wide };
}

/** A projector as planned, moved, turned about its own lens, and zoomed. */
export function hung([origin = [0, 0, 0], ...corners]: number[][], { move, turn, zoom }: Offset): Hung {
  const [rx, ry, rz] = turn.map((d) => (d * Math.PI) / 180) as [number, number, number];
  const turned = ([x = 0, y = 0, z = 0]: number[]) => {
    const [y1, z1] = [y * Math.cos(rx) - z * Math.sin(rx), y * Math.sin(rx) + z * Math.cos(rx)];
    const [x2, z2] = [x * Math.cos(ry) + z1 * Math.sin(ry), -x * Math.sin(ry) + z1 * Math.cos(ry)];
    return [x2 * Math.cos(rz) - y1 * Math.sin(rz), x2 * Math.sin(rz) + y1 * Math.cos(rz), z2];
  };
  const axis = axisOf(corners);
  return {
    origin: origin.map((v, i) => v + (move[i] ?? 0)),
    corners: corners.map((c) => turned(c.map((v, i) => (axis[i] ?? 0) + (v - (axis[i] ?? 0)) * zoom))),
  };
}

/** What carries a place, from the lens, to (u · t, v · t, t): column by column. */
export function into({ corners }: Hung): { matrix: number[]; area: number } {
  const [tl = [], tr = [], , bl = []] = corners;
  const [ex, ey] = [sub(tr, tl), sub(bl, tl)];
  // The inverse of the matrix whose columns are ex, ey and tl.
  const [a, b, c] = [cross(ey, tl), cross(tl, ex), cross(ex, ey)];
  const det = ex.reduce((s, v, i) => s + v * (a[i] ?? 0), 0) || 1;
  const rows = [a, b, c].map((r) => r.map((v) => v / det));
  return { matrix: [0, 1, 2].flatMap((k) => rows.map((r) => r[k] ?? 0)), area: length(cross(ex, ey)) };
}

/** How far light along a line leaves its mean, as a share of it, between the first and the last lit place. */
export function offLevel(light: number[]): number {
  const most = Math.max(0, ...light);
  const lit = light.map((v) => v > most * 0.02);
  const line = light.slice(lit.indexOf(true), lit.lastIndexOf(true) + 1);
  const mean = line.reduce((s, v) => s + v, 0) / Math.max(1, line.length);
  return mean > 0 ? Math.max(Math.max(...line) - mean, mean - Math.min(...line)) / mean : 0;
}
