import type { RowOf, Schemas, ShowDocument } from '../../../api/client';
import { type Property, properties } from '../../../api/kinds';
import { mixes, slotOf } from '../../../live/property';
import { nameOf, valuesOf } from '../../effects';
import { FLICKS } from '../../time';

/** Width of the names, height of a layer and of the head of a group, in pixels. */
export const NAMES = 200;
export const ROW = 48;
export const HEAD = 26;
/** Height of the lane of a value that moves, and of one that changes in steps. */
const HIGH = 60;
const LOW = 32;
/** The same in a curve editor that is enlarged. */
const TALL = 180;

/** What has values that move on a layer: the layer itself, an effect of it or of one of its clips. */
export interface Owner {
  kind: 'layer' | 'effect';
  id: string;
  values: Record<string, unknown>;
}

/** One number of a value of a layer or of an effect on it: its label, its address, and where its lane lies. */
export interface Lane {
  owner: Owner;
  property: Property;
  slot: number;
  label: string;
  address: string;
  top: number;
  height: number;
}

const heightOf = (lanes: readonly { height: number }[]) => lanes.reduce((sum, lane) => sum + lane.height, 0);

/** Values that have a lane only where they have keyframes, or when all are asked for. */
const RARE = new Set([
  'pivotX',
  'pivotY',
  'mirror',
  'cropLeft',
  'cropRight',
  'cropTop',
  'cropBottom',
  'tile',
  'speed',
  'invert',
  'invert#1',
  'invert#2',
  'opaque',
  'mask',
  'maskKey',
  'maskInverted',
  'maskWidth',
  'maskColour',
  'maskColour#1',
  'maskColour#2',
  'maskX',
  'maskY',
  'maskScale',
  'maskFeather',
  'route',
  'solo',
]);

const each = (list: readonly Property[]) =>
  list.flatMap((property) =>
    property.slots.map((label, slot) => ({
      property,
      slot,
      label,
      value: slotOf(property.name, slot),
      height: mixes(property) ? HIGH : LOW,
    })),
  );

/** What is only called by hand and by cues has no lane. */
const EACH = each((properties.layer as readonly Property[]).filter((p) => p.name !== 'source'));
const EACH_OF_EFFECTS = each(properties.effect);

/** When a clip's media runs out, and how long a run of it takes, in flicks after its start; where its speed moves, each turn, and what is heard of it (show time). */
export type Passes = Schemas['Computed']['clips'][string];

/** The lanes of a layer, one below another, and how high they are together. */
export interface Lanes {
  list: readonly Lane[];
  height: number;
}

/**
 * @param on effects of the layer and of its clips
 * @param curves of all of them
 * @param tall the address whose lane is enlarged
 */
export function lanesOf(
  layer: RowOf<'layer'>,
  on: readonly RowOf<'effect'>[],
  curves: readonly RowOf<'curve'>[],
  all: boolean,
  tall: string | null = null,
): Lanes {
  const keyed = new Set(curves.map((c) => `${c.owner}/${slotOf(c.property, c.slot)}`));
  const own = EACH.filter((lane) => all || !RARE.has(lane.value) || keyed.has(`${layer.id}/${lane.value}`)).map(
    (lane) => ({ ...lane, owner: { kind: 'layer', id: layer.id, values: layer.values } as Owner }),
  );
  const places = new Map<string | null, number>();
  const theirs = on.flatMap((effect) => {
    const place = (places.get(effect.layer ?? effect.clip) ?? 0) + 1;
    places.set(effect.layer ?? effect.clip, place);
    const [name, values] = [nameOf(effect), valuesOf(effect)];
    const owner: Owner = { kind: 'effect', id: effect.id, values: effect.values as Record<string, unknown> };
    return EACH_OF_EFFECTS.filter(
      (lane) => keyed.has(`${effect.id}/${lane.value}`) || (all && values.includes(lane.property.name)),
    ).map((lane) => ({ ...lane, label: `${place} ${name}: ${lane.label}`, owner }));
  });
  let top = ROW;
  const list = [...own, ...theirs].map(({ value, ...lane }) => {
    const address = `${lane.owner.kind}:${lane.owner.id}/${value}`;
    const placed = { ...lane, address, height: address === tall ? TALL : lane.height, top };
    top += placed.height;
    return placed;
  });
  return { list, height: heightOf(list) };
}

export const addressOf = (layer: string, value: string) => `layer:${layer}/${value}`;

/** Where something would go: the time nearest to a wish at which something stands. `among` are the things that it may not stick to. */
export type Snap = (time: number, free: boolean, among?: ReadonlySet<string>) => number;

/** A keyframe: its curve and its time. */
export interface KeyAt {
  curve: string;
  t: number;
}

export const isChosen = (keys: readonly KeyAt[], curve: string | undefined, t: number) =>
  keys.some((k) => k.curve === curve && k.t === t);

/** A row of the view: the head of a group of layers, or a layer. */
export type Line =
  | { kind: 'group'; name: string; count: number; folded: boolean }
  | { kind: 'layer'; layer: RowOf<'layer'> };

/** The rows of a timeline from the top down: layers that follow each other with one group's name stand under its head. */
export function linesOf(layers: readonly RowOf<'layer'>[], folded: ReadonlySet<string>): Line[] {
  const lines: Line[] = [];
  let group = '';
  for (const layer of layers) {
    if (layer.folder !== group && layer.folder !== '')
      lines.push({
        kind: 'group',
        name: layer.folder,
        count: layers.filter((l) => l.folder === layer.folder).length,
        folded: folded.has(layer.folder),
      });
    group = layer.folder;
    if (layer.folder === '' || !folded.has(layer.folder)) lines.push({ kind: 'layer', layer });
  }
  return lines;
}

/** The layers that reach a surface, by their routes. */
export const reaches = (show: ShowDocument, layer: RowOf<'layer'>, surface: string) =>
  (show.computed.routes[layer.route ?? '']?.surfaces ?? []).includes(surface);

/** Times of the beats in a range, the first of each bar marked; none where there is no tempo (`core/Timeline/BeatGrid.php`). */
export function beatsOf(
  timeline: RowOf<'timeline'> | undefined,
  from: number,
  to: number,
  most = 2000,
): { time: number; bar: boolean }[] {
  if (timeline === undefined || timeline.bpm <= 0) return [];
  const beat = (60 * FLICKS) / timeline.bpm;
  const found = [];
  for (let n = Math.max(0, Math.ceil((from - timeline.firstBeat) / beat)); found.length < most; n++) {
    const time = timeline.firstBeat + Math.round(n * beat);
    if (time > to) break;
    found.push({ time, bar: n % timeline.beats === 0 });
  }
  return found;
}

export interface LayerProps {
  chains: ReadonlyMap<string, readonly string[]>;
  layer: RowOf<'layer'>;
  top: number;
  height: number;
  width: number;
  clips: RowOf<'clip'>[];
  curves: RowOf<'curve'>[];
  lanes: Lanes;
  open: boolean;
  chosen: ReadonlySet<string>;
  seen: { left: number; width: number };
  perFlick: number;
  frame: number;
  end: number;
  media: Map<string, RowOf<'media'>>;
  passes: Record<string, Passes>;
  snap: Snap;
  keys: readonly KeyAt[];
  choose: (keys: readonly KeyAt[]) => void;
  drop: (media: string, layer: string, time: number) => void;
  dropFiles: (files: File[], layer: string, time: number) => void;
  enlarge: (address: string) => void;
}
