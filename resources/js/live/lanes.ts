/** Chunks of the bake, and the values in them (`core/Playback/Chunk.php`, `core/Playback/LaneStore.php`). */
const HEADER = 44;
const CONSTANT = 0;
const STEP = 1;

interface Piece {
  start: number;
  end: number;
  step: number;
  generation: number;
  kind: number;
  values: Float32Array;
}

export const planOf = (chunk: ArrayBuffer) => new DataView(chunk).getUint32(4, true);

export class LaneStore {
  private readonly lanes = new Map<number, Piece[]>();

  add(chunk: ArrayBuffer, now: number) {
    const view = new DataView(chunk);
    if (view.getUint8(0) !== 1) return;
    const count = view.getUint32(8, true);
    const start = view.getFloat64(12, true);
    const end = view.getFloat64(20, true);
    const step = view.getFloat64(28, true);
    for (let i = 0, at = HEADER; i < count; i++) {
      const lane = view.getUint32(at, true);
      const piece: Piece = {
        start,
        end,
        step,
        generation: view.getUint32(at + 4, true),
        kind: view.getUint32(at + 8, true),
        values: new Float32Array(chunk, at + 16, view.getUint32(at + 12, true)),
      };
      at += 16 + 4 * piece.values.length;
      this.put(lane, piece, now);
    }
  }

  private put(lane: number, piece: Piece, now: number) {
    const kept = (this.lanes.get(lane) ?? []).filter(
      (p) =>
        !(p.generation === piece.generation && p.start === piece.start) &&
        // What is past, and what something newer that has begun covers, is never asked for again.
        !(p.end < now && p.end <= piece.start && piece.generation >= p.generation) &&
        !(piece.start <= now && piece.generation > p.generation),
    );
    const begun = kept.filter((p) => p.start <= now);
    const best = begun.reduce<Piece | null>((a, b) => (a === null || newer(b, a) ? b : a), null);
    this.lanes.set(lane, [...kept.filter((p) => p.start > now || p === best || p.generation >= (best?.generation ?? 0)), piece]);
  }

  /** The value at an engine time, and the generation it comes from; null before anything was received. */
  at(lane: number, engine: number): { value: number; generation: number } | null {
    let best: Piece | null = null;
    for (const piece of this.lanes.get(lane) ?? []) {
      if (piece.start <= engine && (best === null || newer(piece, best))) best = piece;
    }
    if (best === null) return null;
    const last = best.values.length - 1;
    const share = best.step > 0 ? (Math.min(engine, best.end) - best.start) / best.step : 0;
    const i = Math.min(last, Math.floor(share));
    const here = best.values[best.kind === CONSTANT ? 0 : i] ?? 0;
    const value = best.kind === CONSTANT || best.kind === STEP || i === last ? here : here + ((best.values[i + 1] ?? here) - here) * (share - i);
    return { value, generation: best.generation };
  }

  get(lane: number, engine: number, fallback = 0): number {
    return this.at(lane, engine)?.value ?? fallback;
  }
}

const newer = (a: Piece, b: Piece) => a.generation > b.generation || (a.generation === b.generation && a.start >= b.start);
