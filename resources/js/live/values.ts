/**
 * How values move: tracks, media tracks, transport maps and held values, looked up as the core does
 * (`core/Values/Track.php`, `core/Timeline/MediaTrack.php`, `core/Timeline/TransportMap.php`, `core/Values/HeldValue.php`).
 * Nothing here allocates: it runs for thousands of values on every frame.
 */
import type { HeldData, MapData } from './messages';

const PER_SECOND = 705_600_000;

/** Index of the last entry at or before a time, `first` before all; begins where the last look-up ended. */
function segment(times: Float64Array, stride: number, count: number, time: number, cursor: number, first: number): number {
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
    return (i === 0 || (this.times[i] as number) <= time) && this.c[k + 1] === 0 && this.c[k + 2] === 0 && this.c[k + 3] === 0;
  }
}

const COLUMNS = 8;

/** Division of whole numbers that rounds down, exact below 2⁵³. */
function floorDiv(a: number, b: number): number {
  let q = Math.floor(a / b);
  // The quotient of two large numbers may be rounded up to the next whole one.
  const r = a - q * b;
  if (b > 0 ? r < 0 : r > 0) q--;
  return q;
}

/** Which clip is up and which frame of its media: asked with at(), read from `clip` and `frame`. */
export class MediaTrack {
  clip = -1;
  frame = 0;
  private cursor = 0;
  private readonly count: number;

  constructor(readonly n: Float64Array) {
    this.count = n.length / COLUMNS;
  }

  at(time: number, grid: number): this {
    const on = floorDiv(time, grid) * grid;
    const i = this.count === 0 ? -1 : segment(this.n, COLUMNS, this.count, on, this.cursor, -1);
    this.cursor = Math.max(0, i);
    this.clip = -1;
    this.frame = 0;
    if (i < 0) return this;
    const { n } = this;
    const k = i * COLUMNS;
    const clip = n[k + 2] as number;
    if (clip < 0) return this;
    const first = n[k + 3] as number;
    const count = n[k + 4] as number;
    const flicks = n[k + 6] as number;
    const frames = n[k + 7] as number;
    const gone = on - (n[k + 1] as number);
    // (gone × frames) ÷ flicks, in two steps so that the product stays exact.
    const whole = floorDiv(gone, flicks);
    const at = whole * frames + floorDiv((gone - whole * flicks) * frames, flicks);
    this.clip = clip;
    this.frame = first + (n[k + 5] === 1 ? ((at % count) + count) % count : Math.max(0, Math.min(count - 1, at)));
    return this;
  }

  /** Whether anything of it changes from a time on. */
  standsFrom(time: number): boolean {
    if (this.count === 0) return true;
    const k = (this.count - 1) * COLUMNS;
    return (this.n[k] as number) <= time && ((this.n[k + 2] as number) < 0 || (this.n[k + 4] as number) <= 1);
  }
}

export class TransportMap {
  constructor(private readonly data: MapData) {}

  at(engine: number): number {
    const { p, l } = this.data;
    let i = 0;
    while (i + 1 < p.length && (p[i + 1] as [number, number, number])[0] <= engine) i++;
    const [from, show, rate] = p[i] ?? [0, 0, 0];
    const time = rate === 0 || engine <= from ? show : rate === 1 ? show + engine - from : show + Math.floor((engine - from) * rate);
    if (l !== undefined && time >= l[1]) return l[0] + ((time - l[0]) % (l[1] - l[0]));
    return time;
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

  constructor(data: HeldData) {
    this.value = Track.of(data.v);
    this.weight = Track.of(data.w);
    this.order = data.s * 2 ** 40 + data.n;
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
          if (weight >= 0.5) value = one.value.at(engine);
        } else if (weight !== 0) value += (one.value.at(engine) - value) * weight;
      }
    }
    return value;
  }
}
