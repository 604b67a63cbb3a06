/**
 * How values move: tracks, media tracks, transport maps and held values, looked up as the core does
 * (`core/Values/Track.php`, `core/Timeline/MediaTrack.php`, `core/Timeline/TransportMap.php`, `core/Values/HeldValue.php`).
 * Nothing here allocates: it runs for thousands of values on every frame.
 */
import type { HeldData, MapData } from './messages';

const PER_SECOND = 705_600_000;

/** Index of the last entry at or before a time, `first` before all; begins where the last look-up ended. */
function segment(
  times: Float64Array,
  stride: number,
  count: number,
  time: number,
  cursor: number,
  first: number,
): number {
  if (cursor >= 0 && cursor < count && (times[cursor * stride] as number) <= time) {
    if (cursor + 1 >= count || time < (times[(cursor + 1) * stride] as number)) return cursor;
    if (cursor + 2 >= count || time < (times[(cursor + 2) * stride] as number)) return cursor + 1;
  }
  let low = first;
  let high = count - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((times[middle * stride] as number) <= time) low = middle;
    else high = middle - 1;
  }
  return low;
}

export class Track {
  private cursor = 0;

  constructor(
    readonly times: Float64Array,
    readonly c: Float64Array | Float32Array,
  ) {}

  static constant(value: number): Track {
    return new Track(new Float64Array(1), new Float64Array([value, 0, 0, 0]));
  }

  /** Of a list of time and four coefficients for each piece. */
  static of(list: readonly number[]): Track {
    const count = Math.floor(list.length / 5);
    if (count === 0) return Track.constant(0);
    const times = new Float64Array(count);
    const c = new Float64Array(count * 4);
    for (let i = 0; i < count; i++) {
      times[i] = list[i * 5] as number;
      for (let k = 0; k < 4; k++) c[i * 4 + k] = list[i * 5 + 1 + k] as number;
    }
    return new Track(times, c);
  }

  at(time: number): number {
    const { times, c } = this;
    const i = segment(times, 1, times.length, time, this.cursor, 0);
    this.cursor = i;
    const from = times[i] as number;
    const k = i * 4;
    if (time <= from) return c[k] as number;
    const s = (time - from) / PER_SECOND;
    return (((c[k + 3] as number) * s + (c[k + 2] as number)) * s + (c[k + 1] as number)) * s + (c[k] as number);
  }

  /** What it comes to in the end. */
  last(): number {
    return this.at(Number.MAX_VALUE);
  }

  /** Whether it stands still from a time on. */
  standsFrom(time: number): boolean {
    const i = this.times.length - 1;
    const k = i * 4;
    return (
      (i === 0 || (this.times[i] as number) <= time) &&
      this.c[k + 1] === 0 &&
      this.c[k + 2] === 0 &&
      this.c[k + 3] === 0
    );
  }
}

/** Division of whole numbers that rounds down, exact below 2⁵³. */
function floorDiv(a: number, b: number): number {
  let q = Math.floor(a / b);
  // The quotient of two large numbers may be rounded up to the next whole one.
  const r = a - q * b;
  if (b > 0 ? r < 0 : r > 0) q--;
  return q;
}

/** Which of so many frames is up, by the number of what is shown past the end, as `core/Timeline/PastEnd.php` has it: hold, loop, bounce, dark. */
function pastEnd(how: number, at: number, count: number): number | null {
  const within = (by: number) => ((at % by) + by) % by;
  if (how === 1) return within(count);
  if (how === 3) return at < 0 || at >= count ? null : at;
  if (how === 0) return Math.max(0, Math.min(count - 1, at));
  const turn = Math.max(1, 2 * (count - 1));
  const j = within(turn);
  return j < count ? j : turn - j;
}

/** Which clip is up and which frame of its media: asked with at(), read from `clip` and `frame`. A clip with a clock of its own is counted by the map's engine time. */
export class MediaTrack {
  clip = -1;
  frame = 0;
  private cursor = 0;
  private readonly count: number;
  static readonly COLUMNS = 10;

  constructor(readonly n: Float64Array) {
    this.count = n.length / MediaTrack.COLUMNS;
  }

  at(time: number, grid: number, map: TransportMap | null = null, engine = 0): this {
    const on = floorDiv(time, grid) * grid;
    const i = this.count === 0 ? -1 : segment(this.n, MediaTrack.COLUMNS, this.count, on, this.cursor, -1);
    this.cursor = Math.max(0, i);
    this.clip = -1;
    this.frame = 0;
    if (i < 0) return this;
    const { n } = this;
    const k = i * MediaTrack.COLUMNS;
    const clip = n[k + 2] as number;
    if (clip < 0) return this;
    const first = n[k + 3] as number;
    const count = n[k + 4] as number;
    const flicks = n[k + 6] as number;
    const frames = n[k + 7] as number;
    const origin = n[k + 1] as number;
    const end = n[k + 9] as number;
    const gone =
      end > 0 && map !== null
        ? floorDiv(Math.max(0, engine - map.since(origin, end, engine)), grid) * grid
        : on - origin;
    const passing = Math.abs(frames);
    // (gone × frames + phase) ÷ flicks, in two steps so that the product stays exact.
    const whole = floorDiv(gone, flicks);
    const at = whole * passing + floorDiv((gone - whole * flicks) * passing + (n[k + 8] as number), flicks);
    const past = pastEnd(n[k + 5] as number, at, count);
    if (past === null) return this;
    this.clip = clip;
    this.frame = first + (frames < 0 ? count - 1 - past : past);
    return this;
  }

  get hasOwnClock(): boolean {
    for (let k = 9; k < this.n.length; k += MediaTrack.COLUMNS) if ((this.n[k] as number) > 0) return true;
    return false;
  }

  /** Whether a clip with a clock of its own is up at a show time. */
  runsAlone(time: number): boolean {
    for (let k = 0; k < this.n.length; k += MediaTrack.COLUMNS)
      if ((this.n[k + 9] as number) > time && (this.n[k + 1] as number) <= time) return true;
    return false;
  }

  /** Whether anything of it changes from a time on. */
  standsFrom(time: number): boolean {
    if (this.count === 0) return true;
    const k = (this.count - 1) * MediaTrack.COLUMNS;
    return (this.n[k] as number) <= time && ((this.n[k + 2] as number) < 0 || (this.n[k + 4] as number) <= 1);
  }
}

/** How much of a clip is there at a show time, as `core/Timeline/Clip.php` has it: start, fade in, end, fade out. */
export function strengthOf(
  [start, fadeIn, end, fadeOut]: readonly [number, number, number, number],
  show: number,
): number {
  return Math.max(
    0,
    Math.min(1, fadeIn === 0 ? 1 : (show - start) / fadeIn) * Math.min(1, fadeOut === 0 ? 1 : (end - show) / fadeOut),
  );
}

type Piece = [number, number, number];

/** After how many flicks at least so much of the show has passed, or for a rate below 0, at most. */
function passed(way: number, rate: number): number {
  const is = (gone: number) => (rate > 0 ? Math.floor(gone * rate) >= way : Math.floor(gone * rate) <= way);
  let gone = Math.ceil(way / rate);
  while (gone > 0 && is(gone - 1)) gone--;
  while (!is(gone)) gone++;
  return gone;
}

export class TransportMap {
  constructor(readonly data: MapData) {}

  at(engine: number): number {
    const { p, l } = this.data;
    let i = 0;
    while (i + 1 < p.length && (p[i + 1] as [number, number, number])[0] <= engine) i++;
    const [from, show, rate] = p[i] ?? [0, 0, 0];
    const time =
      rate === 0 || engine <= from
        ? show
        : rate === 1
          ? show + engine - from
          : show + Math.floor((engine - from) * rate);
    if (l !== undefined && from >= l[2] && time >= l[1]) return l[0] + ((time - l[0]) % (l[1] - l[0]));
    return time;
  }

  /** The engine time since which it has been within a range of show time, as `core/Timeline/TransportMap.php` has it. */
  since(from: number, to: number, engine: number): number {
    const { p, c } = this.data;
    let last = 0;
    while (last + 1 < p.length && (p[last + 1] as Piece)[0] <= engine) last++;
    for (let i = last, until = engine; i >= 0; until = (p[i] as Piece)[0] - 1, i--) {
      const show = this.at(until);
      if (show < from || show >= to) return i === last ? engine : until + 1;
      const entered = this.enteredIn(i, from, to, until);
      if (entered !== null) return Math.max((p[i] as Piece)[0], entered);
    }
    const first = (p[0] as Piece)[0];
    for (const [begin, end, since] of c ?? []) if (begin === from && end === to) return Math.min(since, first);
    return first;
  }

  private enteredIn(piece: number, from: number, to: number, engine: number): number | null {
    const { p, l } = this.data;
    const [began, show, rate] = p[piece] as Piece;
    if (rate === 0) return null;
    if (rate < 0) return show < to ? null : began + passed(to - 1 - show, rate);
    if (l !== undefined && began >= l[2]) {
      const [first, end] = l;
      const gone = show + Math.floor((engine - began) * rate);
      const turns = gone < end ? 0 : Math.floor((gone - first) / (end - first));
      if (turns > 0 && !(from <= first && to >= end))
        return began + passed(first + turns * (end - first) + Math.max(0, from - first) - show, rate);
    }
    return show >= from ? null : began + passed(from - show, rate);
  }

  /** The next engine time after this one from which on it goes another way: a rest, another rate, the turn of a loop. */
  nextTurn(engine: number): number {
    const { p, l } = this.data;
    let next = Number.POSITIVE_INFINITY;
    let current = p[0] as [number, number, number];
    for (const piece of p) {
      if (piece[0] <= engine) current = piece;
      else next = Math.min(next, piece[0]);
    }
    if (l !== undefined && current[0] >= l[2] && current[2] > 0)
      next = Math.min(next, engine + Math.max(1, (l[1] - this.at(engine)) / current[2]));
    return next;
  }

  runsAt(engine: number): boolean {
    let rate = 0;
    for (const piece of this.data.p) {
      if (piece[0] > engine) break;
      rate = piece[2];
    }
    return rate !== 0;
  }

  /** Whether it will move, now or later. */
  moves(engine: number): boolean {
    return this.runsAt(engine) || this.data.p.some((piece) => piece[0] > engine);
  }
}

export class Held {
  readonly value: Track;
  readonly weight: Track;
  readonly order: number;
  readonly since: number;
  private readonly loop: readonly [number, number] | null;
  private readonly run: HeldData['m'];

  constructor(data: HeldData) {
    this.since = data.t ?? 0;
    this.run = data.m;
    this.loop = data.l ?? null;
    this.value = Track.of(data.v);
    this.weight = Track.of(data.w);
    this.order = data.s * 2 ** 40 + data.n;
  }

  /** What it says at an engine time. */
  at(engine: number): number {
    const { loop } = this;
    return this.value.at(loop !== null && engine > loop[0] ? loop[0] + ((engine - loop[0]) % loop[1]) : engine);
  }

  /** Which frame of a media that it calls is up at an engine time, as `core/Timeline/MediaTrack.php` has it; null for none. */
  frame(engine: number, flicks: number, frames: number): number | null {
    if (frames <= 1) return 0;
    const gone = Math.max(0, engine - this.since);
    if (this.run === undefined) return Math.floor(gone / flicks) % frames;
    const [offset, rate, begin, end, past, fromEnd] = this.run;
    const first = Math.min(frames - 1, Math.floor(begin * frames));
    const count = Math.max(1, Math.floor(end * frames) - first);
    const at = pastEnd(past, Math.floor((offset + gone * rate) / flicks) + (fromEnd === 1 ? count - 1 : 0), count);
    return at === null ? null : first + at;
  }

  /** Engine time at which a media was called, however it runs since. */
  get begun(): number {
    return this.run === undefined || this.run[6] === 0 ? this.since : this.run[6];
  }

  /** Flicks of engine time that a frame of a media that it calls lasts; 0 where it stands. */
  lasts(flicks: number): number {
    const rate = Math.abs(this.run?.[1] ?? 1);
    return rate === 0 ? 0 : flicks / rate;
  }

  /** Whether it stands still from a time on. */
  standsFrom(engine: number): boolean {
    return (
      this.weight.standsFrom(engine) &&
      (this.loop === null ? this.value.standsFrom(engine) : this.value.times.length === 1 && this.value.standsFrom(0))
    );
  }

  static list(data: HeldData[]): Held[] | null {
    return data.length === 0 ? null : data.map((one) => new Held(one)).sort((a, b) => a.order - b.order);
  }
}

/** One value: what its track says where its timeline is, and what is held over it. */
export class Slot {
  track: Track | null = null;
  held: Held[] | null = null;

  /** @param mixes whether it can lie between two values; what can not belongs to the uppermost that holds it by at least a half */
  constructor(
    readonly rest: number,
    readonly mixes = true,
  ) {}

  at(show: number, engine: number): number {
    let value = this.track === null ? this.rest : this.track.at(show);
    const { held } = this;
    if (held !== null) {
      for (let i = 0; i < held.length; i++) {
        const one = held[i] as Held;
        const weight = one.weight.at(engine);
        if (!this.mixes) {
          if (weight >= 0.5) value = one.at(engine);
        } else if (weight !== 0) value += (one.at(engine) - value) * weight;
      }
    }
    return value;
  }
}
