import type { RowOf } from '../../../api/client';
import { type Property, properties } from '../../../api/kinds';

/** Width of the names, height of a layer, height of the lane of a value, in pixels. */
export const NAMES = 180;
export const ROW = 48;
export const LANE = 60;

/** The values of a layer, each a lane. */
export const LANES: readonly Property[] = properties.layer;

export const addressOf = (layer: string, property: string) => `layer:${layer}/${property}`;

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
