import { firstUniverses } from '../../../api/kinds';

const first = (protocol: string | undefined) => firstUniverses[protocol ?? ''] ?? 1;

/** A universe as people count it of a protocol: ours begin at 1. */
export const counted = (protocol: string | undefined, universe: number) => universe - 1 + first(protocol);

/** Ours, of what people call it of a protocol. */
export const uncounted = (protocol: string | undefined, number: number) => number + 1 - first(protocol);
