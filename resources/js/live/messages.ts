/** Frames of the live stream; the numbers are the engine's (`app/Engine/Frames.php`). */
export const Frame = { hello: 1, base: 2, delta: 3, deck: 4, air: 5, revision: 6, held: 7, health: 8, identify: 9, file: 10, figures: 11, trace: 12 } as const;

export type Rect = [number, number, number, number];

/** Parts of a plan, as `core/Plan/Plan.php` describes them. */
export interface MediaPart {
  kind: 'video' | 'still' | 'solid' | 'none' | 'audio';
  name: string;
  url?: string;
  table?: string;
  codec?: string;
  description?: string;
  width?: number;
  height?: number;
  shownWidth?: number;
  shownHeight?: number;
  frames?: number;
  matte?: boolean;
  colour?: [number, number, number];
  why?: string;
}

export interface ShowPart {
  id: string;
  name: string;
  frameRate: string;
  flicksPerFrame: number;
}

export interface TimelinePart {
  name: string;
  order: number;
  duration: number;
}

export interface LayerPart {
  timeline: string;
  order: number;
}

export interface SurfacePart {
  name: string;
  width: number;
  height: number;
}

export interface ContributionPart {
  layer: string;
  surface: string;
  clips: { id: string; media: string; fit: number[] | null; middle: [number, number] | null }[];
}

export interface OutputPart {
  name: string;
  width: number;
  height: number;
  refresh: number;
}

export interface DeliveryPart {
  output: string;
  surface: string;
  source: Rect;
  place: [number, number];
}

/** A transport map: pieces of engine time, show time and rate, and a loop. */
export interface MapData {
  p: [number, number, number][];
  l?: [number, number];
}

export interface DeckMessage {
  show: string;
  timeline: string;
  gone?: boolean;
  on?: boolean;
  map?: MapData;
  /** Over engine time: time and four coefficients of each piece. */
  weight?: number[];
  /** The cue that Go would start. */
  next?: string | null;
  waiting?: boolean;
}

/** A value held from outside its timeline: stratum, sequence, source, value and weight over engine time. */
export interface HeldData {
  s: number;
  n: number;
  by: string;
  v: number[];
  w: number[];
}

export interface HeldMessage {
  show: string;
  /** All that is held, by address. */
  all?: Record<string, HeldData[]>;
  /** What changed: what holds an address now. */
  set?: Record<string, HeldData[]>;
  cards?: string[];
}

export interface PlayerReport {
  player: string;
  output: string;
  engine: number;
  revision: number;
  layers: { layer: string; frame: number; shown: number }[];
  drawn: number;
  late: number;
  offset: number;
  error: string;
  lacks: string[];
}

export interface Health {
  engine: number;
  lateness: { p50: number; p99: number; max: number; ticks: number };
  busy: { p50: number; p99: number; max: number; ticks: number };
  windows: number;
  dropped: number;
  refused: number;
  guard: { caught: number; last: string };
  osc: { packets: number; bad: number; port: number; last: { at: number; from: string; text: string; fault: string | null }[] };
  players: PlayerReport[];
  compiler: { show: string; pid: number | null; revision: number; ready: boolean; trouble: string } | null;
  looked: number;
  journal: { lost: number };
  pid: number;
  memory: number;
}

export interface RowChange {
  kind: string;
  id: string;
  op: 'create' | 'update' | 'delete';
  fields: Record<string, { before: unknown; after: unknown }>;
}

export interface RevisionMessage {
  show: string;
  revision: number;
  person: string;
  name: string;
  act: string;
  changes: RowChange[];
}

export interface FileMessage {
  hash: string;
  state: string;
  progress: number;
  sentence: string | null;
  facts: Record<string, unknown> | null;
  form: Record<string, unknown> | null;
  thumbnails: string[] | null;
}

export interface TraceMessage {
  show: string;
  surface: string;
  links: { link: string; state: 'ok' | 'attention' | 'fault'; kind: string; id: string; name: string; sentence: string }[];
}

/** What the live worker tells the pages that share it. */
export type FromWorker =
  | { type: 'hello'; data: { engine: number; clock: string; stream: number; show: string | null; revision: number | null } }
  | { type: 'base'; data: { show: string; pack: string; revision: number; at: number } }
  | { type: 'delta'; data: { at: number; show: string; bundle: ArrayBuffer } }
  | { type: 'deck'; data: DeckMessage }
  | { type: 'air'; data: { show: string } }
  | { type: 'revision'; data: RevisionMessage }
  | { type: 'held'; data: HeldMessage }
  | { type: 'health'; data: Health }
  | { type: 'identify'; data: { output: string; until: number } }
  | { type: 'file'; data: FileMessage }
  | { type: 'figures'; data: { show: string; revision: number; figures: Record<string, unknown> } }
  | { type: 'trace'; data: TraceMessage }
  | { type: 'ticket'; data: { ticket: string; person: string } }
  | { type: 'clock'; data: { offset: number; trip: number; settled: boolean } }
  | { type: 'link'; data: { up: boolean } };

/** What a page tells the worker: that it goes, or which shows it has open. */
export type ToWorker = 'bye' | { open: string[] };
