import type { Kind } from '../../../api/client';

/** Kinds that stand somewhere in the venue. */
export const placed = ['surface', 'rig', 'projector', 'camera', 'prop', 'seat'] as const;
export type PlacedKind = (typeof placed)[number];

export const isPlaced = (kind: Kind): kind is PlacedKind => (placed as readonly string[]).includes(kind);
