import type { Live } from './client';
import { LaneStore, planOf } from './lanes';
import type { Plan } from './messages';

/** The plans and lanes that a window has, and which of them is on at an engine time. */
export class Playback {
  private readonly plans = new Map<number, Plan>();
  private readonly stores = new Map<number, LaneStore>();
  private switches: { plan: number; at: number }[] = [];
  private clock = '';

  constructor(private readonly live: Live) {
    live.on('hello', ({ clock }) => {
      if (this.clock !== '' && this.clock !== clock) {
        this.plans.clear();
        this.stores.clear();
        this.switches = [];
      }
      this.clock = clock;
    });
    live.on('plan', (plan) => {
      this.plans.set(plan.serial, plan);
    });
    live.on('chunk', (chunk) => {
      const serial = planOf(chunk);
      let store = this.stores.get(serial);
      if (store === undefined) {
        store = new LaneStore();
        this.stores.set(serial, store);
      }
      store.add(chunk, this.live.now() ?? 0);
    });
    live.on('switch', ({ plan, at }) => {
      if (!this.switches.some((s) => s.plan === plan)) this.switches.push({ plan, at });
    });
  }

  /** What is on at an engine time; null before anything is. */
  at(engine: number): { plan: Plan; lanes: LaneStore } | null {
    const begun = this.switches.filter((s) => s.at <= engine && this.plans.has(s.plan));
    const on = begun[begun.length - 1] ?? this.switches.find((s) => this.plans.has(s.plan));
    if (on === undefined) return null;
    // Plans before the one that is on are never needed again.
    for (const serial of this.plans.keys()) {
      if (serial < on.plan) {
        this.plans.delete(serial);
        this.stores.delete(serial);
        this.switches = this.switches.filter((s) => s.plan !== serial);
      }
    }
    const plan = this.plans.get(on.plan);
    const lanes = this.stores.get(on.plan);
    return plan === undefined || lanes === undefined ? null : { plan, lanes };
  }
}
