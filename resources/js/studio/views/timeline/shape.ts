import type { RowOf } from '../../../api/client';
import { type Property, properties } from '../../../api/kinds';
import { mixes, slotOf } from '../../../live/property';

/** Width of the names, height of a layer, in pixels. */
export const NAMES = 180;
export const ROW = 48;
/** Height of the lane of a value that moves, and of one that changes in steps. */
const HIGH = 60;
const LOW = 32;

/** One number of a value of a layer: its label, the part of its address that names it, and where its lane lies. */
export interface Lane {
  property: Property;
  slot: number;
  label: string;
  value: string;
  top: number;
  height: number;
}

const heightOf = (lanes: readonly { height: number }[]) => lanes.reduce((sum, lane) => sum + lane.height, 0);

/** The values of a layer, each a lane, and how high they are together. */
export const LANES: readonly Lane[] = (properties.layer as readonly Property[])
  .flatMap((property) => property.slots.map((label, slot) => ({ property, slot, label, value: slotOf(property.name, slot), height: mixes(property) ? HIGH : LOW })))
  .map((lane, i, all) => ({ ...lane, top: ROW + heightOf(all.slice(0, i)) }));
export const lanesHeight = heightOf(LANES);

export const addressOf = (layer: string, value: string) => `layer:${layer}/${value}`;

export type Snap = (time: number, free: boolean, without?: string) => number;

/** A keyframe that is chosen: its curve and its time. */
export type ChosenKey = { curve: string; t: number } | null;

export interface LayerProps {
  layer: RowOf<'layer'>;
  top: number;
  height: number;
  width: number;
  clips: RowOf<'clip'>[];
  curves: RowOf<'curve'>[];
  open: boolean;
  selected: string | null;
  seen: { left: number; width: number };
  perFlick: number;
  frame: number;
  end: number;
  media: Map<string, RowOf<'media'>>;
  snap: Snap;
  chosen: ChosenKey;
  choose: (key: ChosenKey) => void;
  drop: (media: string, layer: string, time: number) => void;
}
