/** A projector as it hangs: what it throws, as directions from its lens for a metre along its axis. */
export interface Hung {
  origin: number[];
  /** Top left, top right, bottom right, bottom left of its picture. */
  corners: number[][];
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

/** A projector as planned, moved, turned about its own lens, and zoomed. */
export function hung([origin = [0, 0, 0], ...corners]: number[][], { move, turn, zoom }: Offset): Hung {
  const [rx, ry, rz] = turn.map((d) => (d * Math.PI) / 180) as [number, number, number];
  const turned = ([x = 0, y = 0, z = 0]: number[]) => {
    const [y1, z1] = [y * Math.cos(rx) - z * Math.sin(rx), y * Math.sin(rx) + z * Math.cos(rx)];
    const [x2, z2] = [x * Math.cos(ry) + z1 * Math.sin(ry), -x * Math.sin(ry) + z1 * Math.cos(ry)];
    return [x2 * Math.cos(rz) - y1 * Math.sin(rz), x2 * Math.sin(rz) + y1 * Math.cos(rz), z2];
  };
  // Its axis is square to its picture.
  const across = sub(corners[1] ?? [], corners[0] ?? []);
  const down = sub(corners[3] ?? [], corners[0] ?? []);
  const normal = cross(across, down).map((v) => v / length(cross(across, down)));
  const along = Math.abs((corners[0] ?? []).reduce((s, v, i) => s + v * (normal[i] ?? 0), 0)) || 1;
  const axis = normal.map(
    (v) => v * Math.sign((corners[0] ?? []).reduce((s, c, i) => s + c * (normal[i] ?? 0), 0)) * along,
  );
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
