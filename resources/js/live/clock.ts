export const FLICKS_PER_MS = 705_600;
/** How many probes are remembered, and after how many the clock is settled. */
const KEPT = 16;

export interface Trip {
  /** There and back, in ms. */
  trip: number;
  /** Engine time less local time, in ms. */
  offset: number;
}

/** Probes of the engine's clock: the one that was quickest there and back is the one believed. */
export class ClockProbes {
  private trips: Trip[] = [];
  private taken = 0;

  get settled() {
    return this.taken > KEPT;
  }

  /** Takes an answer that was asked for and came at local times in ms; null when it is no reading of a clock. */
  take(sent: number, back: number, answer: unknown): Trip | null {
    const engine = (answer as { t?: unknown } | null)?.t;
    if (typeof engine !== 'number' || !Number.isFinite(engine)) return null;
    const last = { trip: back - sent, offset: engine / FLICKS_PER_MS - (sent + back) / 2 };
    // After a restart of the machine's clock the old trips mean nothing.
    if (this.trips.some((t) => Math.abs(t.offset - last.offset) > 1000)) this.trips = [];
    this.trips.push(last);
    if (this.trips.length > KEPT) this.trips.shift();
    this.taken++;
    return this.trips.reduce((a, b) => (b.trip < a.trip ? b : a));
  }
}
