import { type Property, properties } from '../api/kinds';
import type { Plan } from './plan';
import type { Slot } from './values';

/** Numbers of one projection, as the compositor's shader reads them: fourteen groups of four. */
export const THROW = 56;

/** At most so many lenses of a route (`core/Routing/Route.php`). */
export const MAX_LENSES = 8;

const POSE = ['x', 'y', 'z', 'yaw', 'pitch', 'roll'] as const;
/** A plate's warp, point by point in reading order. */
const WARP = (properties.lens as readonly Property[]).map((p) => p.name).filter((name) => name.startsWith('warp'));
const LENS = [
  'angle',
  'shiftX',
  'shiftY',
  'featherLeft',
  'featherRight',
  'featherTop',
  'featherBottom',
  'curve',
  'k1',
  'k2',
  'k3',
  'p1',
  'p2',
  'occlusion',
  ...WARP,
] as const;
const GLOBE = ['arc', 'top', 'bottom', 'feather', 'curve'] as const;

interface LensPart {
  id: string;
  part: [number, number, number, number];
  frame: number[];
}

interface GlobePart {
  id: string;
  pane: [number, number];
  frame: number[];
}

/** What of a contribution says how it is thrown. */
export interface ThrownPart {
  lenses?: LensPart[];
  globe?: GlobePart;
}

const radiansOf = (degrees: number) => (degrees * Math.PI) / 180;
const radians = (degrees: number) => radiansOf(degrees % 360);

/** The least r² at which what is farther out no longer comes farther out, as `core/Routing/LensProjection.php` finds it. */
function farthest(k1: number, k2: number, k3: number): number {
  if (k1 >= 0 && k2 >= 0 && k3 >= 0) return 1e9;
  const slope = (s: number) => 1 + s * (3 * k1 + s * (5 * k2 + s * 7 * k3));
  let low = 0;
  for (let i = 1; i < 256; i++) {
    let high = i / 256 / (1 - i / 256);
    if (slope(high) > 0) {
      low = high;
      continue;
    }
    for (let n = 0; n < 40; n++) {
      const middle = (low + high) / 2;
      if (slope(middle) > 0) low = middle;
      else high = middle;
    }
    return low;
  }
  return 1e9;
}

/** Something that throws a pane, with its values at hand: what one reach has of its own is in a class for it. */
export abstract class Thrower {
  private readonly pose: Slot[];

  /** @param of the row whose values it has, as kind:id */
  constructor(
    plan: Plan,
    of: string,
    private readonly frame: number[],
  ) {
    this.pose = POSE.map((name) => plan.slot(`${of}/${name}`));
  }

  /** Pane pixels of a whole turn; 0 where the pane does not go round. */
  abstract around(show: number, engine: number): number;

  /** Writes what is its own, from the seventeenth number on; the others are 0. */
  protected abstract writeOwn(out: Float32Array, at: number, show: number, engine: number): void;

  /** Writes its numbers at a time. */
  write(out: Float32Array, at: number, show: number, engine: number): void {
    this.into(out, at, show, engine);
    out.fill(0, at + 16, at + THROW);
    this.writeOwn(out, at, show, engine);
  }

  /** The venue into its own place, column by column: the inverse of T · Ry(yaw) · Rx(pitch) · Rz(roll), after the frame. */
  private into(out: Float32Array, at: number, show: number, engine: number): void {
    const value = (i: number) => (this.pose[i] as Slot).at(show, engine);
    const [sy, cy] = [Math.sin(radians(value(3))), Math.cos(radians(value(3)))];
    const [sx, cx] = [Math.sin(radians(value(4))), Math.cos(radians(value(4)))];
    const [sz, cz] = [Math.sin(radians(value(5))), Math.cos(radians(value(5)))];
    // Columns of the rotation are the rows of its inverse.
    const r = [
      cy * cz + sy * sx * sz,
      cx * sz,
      -sy * cz + cy * sx * sz,
      -cy * sz + sy * sx * cz,
      cx * cz,
      sy * sz + cy * sx * cz,
      sy * cx,
      -sx,
      cy * cx,
    ];
    const t = [value(0), value(1), value(2)];
    const { frame } = this;
    for (let c = 0; c < 4; c++) {
      const [a, b, d] = [0, 1, 2].map((k) => (frame[4 * c + k] as number) - (c === 3 ? (t[k] as number) : 0)) as [
        number,
        number,
        number,
      ];
      for (let k = 0; k < 3; k++)
        out[at + 4 * c + k] = (r[3 * k] as number) * a + (r[3 * k + 1] as number) * b + (r[3 * k + 2] as number) * d;
      out[at + 4 * c + 3] = c === 3 ? 1 : 0;
    }
  }
}

/** A virtual camera, as `core/Routing/LensProjection.php` has it. */
class LensThrower extends Thrower {
  private readonly slots: Slot[];

  constructor(
    plan: Plan,
    private readonly lens: LensPart,
  ) {
    super(plan, `lens:${lens.id}`, lens.frame);
    this.slots = LENS.map((name) => plan.slot(`lens:${lens.id}/${name}`));
  }

  around(): number {
    return 0;
  }

  protected writeOwn(out: Float32Array, at: number, show: number, engine: number): void {
    const value = (i: number) => (this.slots[i] as Slot).at(show, engine);
    const [x, y, width, height] = this.lens.part;
    const across = Math.tan((value(0) * Math.PI) / 360);
    out.set([across, (across * height) / width, value(1), value(2), x, y, width, height], at + 16);
    for (let i = 3; i < 13; i++) out[at + 21 + i] = value(i);
    out[at + 34] = farthest(value(8), value(9), value(10));
    out[at + 35] = value(13) >= 0.5 ? 1 : 0;
    for (let i = 0; i < WARP.length; i++) out[at + 36 + i] = value(14 + i);
  }
}

/** A sphere round a centre, as `core/Routing/GlobeProjection.php` has it. */
class GlobeThrower extends Thrower {
  private readonly slots: Slot[];

  constructor(
    plan: Plan,
    private readonly globe: GlobePart,
  ) {
    super(plan, `route:${globe.id}`, globe.frame);
    this.slots = GLOBE.map((name) => plan.slot(`route:${globe.id}/${name}`));
  }

  around(show: number, engine: number): number {
    return (360 / (this.slots[0] as Slot).at(show, engine)) * this.globe.pane[0];
  }

  protected writeOwn(out: Float32Array, at: number, show: number, engine: number): void {
    const value = (i: number) => (this.slots[i] as Slot).at(show, engine);
    const [top, bottom] = [Math.max(value(1), value(2)), Math.min(value(1), value(2))];
    const [width, height] = this.globe.pane;
    out.set([radiansOf(value(0)), radiansOf(top), radiansOf(Math.min(bottom, top - 0.01))], at + 16);
    out[at + 19] = value(0) >= 360 ? 0 : value(3);
    out[at + 22] = width;
    out[at + 23] = height;
    out[at + 28] = value(4);
  }
}

/** What throws the pane of a contribution, by its reach: one entry for each that is thrown. */
const THROWERS: ((plan: Plan, part: ThrownPart) => Thrower[])[] = [
  (plan, { lenses }) => (lenses ?? []).map((lens) => new LensThrower(plan, lens)),
  (plan, { globe }) => (globe === undefined ? [] : [new GlobeThrower(plan, globe)]),
];

export const throwersOf = (plan: Plan, part: ThrownPart) => THROWERS.flatMap((of) => of(plan, part));
