/** Frames of the live stream; the numbers are the engine's (`app/Engine/Frames.php`). */
export const Frame = { hello: 1, plan: 2, chunk: 3, transport: 4, switch: 5, revision: 6, live: 7, health: 8, identify: 9, file: 10 } as const;

export type Rect = [number, number, number, number];

export interface PlanMedia {
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

export interface PlanLayer {
  id: string;
  lanes: { opacity: number; x: number; y: number; clip: number; frame: number };
  clips: { id: string; media: string; rect: Rect | null }[];
}

export interface PlanSurface {
  name: string;
  width: number;
  height: number;
  layers: PlanLayer[];
}

export interface PlanOutput {
  name: string;
  width: number;
  height: number;
  refresh: number;
  regions: { id: string; surface: string; source: Rect; place: [number, number] }[];
}

export interface Plan {
  serial: number;
  revision: number;
  show: { id: string; name: string; frameRate: string; flicksPerFrame: number };
  lanes: string[];
  media: Record<string, PlanMedia>;
  surfaces: Record<string, PlanSurface>;
  outputs: Record<string, PlanOutput>;
}

export interface CueHead {
  id: string;
  time: number;
  number: string;
  name: string;
  holds: boolean;
}

export interface TransportMessage {
  transport: { playing: boolean; engine: number; position: number };
  engine: number;
  running: boolean;
  position: number;
  rest: number;
  waiting: boolean;
  next: CueHead | null;
  duration: number;
}

export interface PlayerReport {
  player: string;
  output: string;
  engine: number;
  plan: number;
  revision: number;
  layers: { layer: string; frame: number; shown: number; generation: number }[];
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
  osc: { packets: number; bad: number; port: number; last: { at: number; from: string; text: string; fault: string | null }[] };
  players: PlayerReport[];
  baker: { pid: number | null; revision: number | null; coming: boolean; trouble: string };
  generation: number;
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

/** What the live worker tells the pages that share it. */
export type FromWorker =
  | { type: 'hello'; data: { engine: number; clock: string; show: string | null; revision: number | null } }
  | { type: 'plan'; data: Plan }
  | { type: 'chunk'; data: ArrayBuffer }
  | { type: 'transport'; data: TransportMessage }
  | { type: 'switch'; data: { plan: number; revision: number; at: number } }
  | { type: 'revision'; data: RevisionMessage }
  | { type: 'live'; data: { values: Record<string, number>; cards: string[] } }
  | { type: 'health'; data: Health }
  | { type: 'identify'; data: { output: string; until: number } }
  | { type: 'file'; data: FileMessage }
  | { type: 'ticket'; data: { ticket: string; person: string } }
  | { type: 'clock'; data: { offset: number; trip: number; settled: boolean } }
  | { type: 'link'; data: { up: boolean } };
