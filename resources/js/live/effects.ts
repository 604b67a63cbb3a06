import { effects, properties } from '../api/kinds';
import type { Plan } from './plan';
import { slotOf } from './property';
import type { Slot } from './values';

/** Every number that an effect may be made of, in the order in which the shader reads them (`core/Effects/Effect.php`). */
export const NUMBERS: readonly string[] = properties.effect.flatMap((p) =>
  p.slots.map((_, slot) => slotOf(p.name, slot)),
);

/** Numbers of one effect at one moment: those, then its turns without the whole ones, the same along and across its angle, and its steps. */
export const EFFECT = NUMBERS.length + 4;

const PER_SECOND = 705_600_000;
const [KIND, ON, MIX, ANGLE, SPEED] = ['effect', 'on', 'mix', 'angle', 'speed'].map((name) =>
  NUMBERS.indexOf(name),
) as [number, number, number, number, number];

/** Those that are another picture at another time, by their numbers. */
const MOVING = new Set(Object.values(effects).flatMap((effect, i) => (effect.values.includes('speed') ? [i + 1] : [])));

const fract = (x: number) => x - Math.floor(x);

/** An effect with its values at hand. */
export class EffectValues {
  private readonly slots: Slot[];

  constructor(plan: Plan, effect: string) {
    this.slots = NUMBERS.map((name) => plan.slot(`effect:${effect}/${name}`));
  }

  /** Writes its numbers at a time; false where it changes nothing (`core/Effects/EffectPass.php`). */
  write(out: Float32Array, show: number, engine: number): boolean {
    const number = (i: number) => (this.slots[i] as Slot).at(show, engine);
    const kind = Math.round(number(KIND));
    if (kind < 1 || kind > Object.keys(effects).length || number(ON) < 0.5 || number(MIX) <= 0) return false;
    for (let i = 0; i < this.slots.length; i++) out[i] = number(i);
    const angle = ((number(ANGLE) % 360) * Math.PI) / 180;
    out[KIND] = kind;
    out[ANGLE] = angle;
    const turns = MOVING.has(kind) ? (show / PER_SECOND) * number(SPEED) : 0;
    out.set(
      [fract(turns), fract(turns * Math.cos(angle)), fract(turns * Math.sin(angle)), Math.floor(turns % 65_536)],
      this.slots.length,
    );
    return true;
  }
}
