/** Frames of the live stream; the numbers are the engine's (`app/Engine/Frames.php`). */
export const Frame = {
  hello: 1,
  base: 2,
  delta: 3,
  deck: 4,
  air: 5,
  revision: 6,
  held: 7,
  health: 8,
  identify: 9,
  file: 10,
  figures: 11,
  trace: 12,
  cues: 13,
  marks: 14,
  isolate: 25,
  controls: 16,
  feedback: 17,
  touch: 19,
} as const;

export type Rect = [number, number, number, number];

/** Parts of a plan, as `core/Plan/Plan.php` describes them. */
export interface MediaPart {
  kind: 'video' | 'still' | 'live' | 'solid' | 'pattern' | 'none' | 'audio';
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
  /** The number of a pattern, and the media whose values it has. */
  pattern?: number;
  media?: string;
  /** Of a pattern that is one: columns, rows, and two numbers for the dots of each cell. */
  text?: number[];
  /** What is shown while an input has no signal. */
  standIn?: MediaPart;
}

export interface ShowPart {
  id: string;
  name: string;
  frameRate: string;
  flicksPerFrame: number;
}

export interface TimelinePart {
  /** Layers that are soloed at some time. */
  solo?: string[];
  name: string;
  order: number;
  duration: number;
}

export interface LayerPart {
  timeline: string;
  order: number;
  /** Numbers of routes besides its own that it takes at some time. */
  routes?: number[];
  /** Where a clip of it shows another timeline: of each clip that one, where it does, and its fade. */
  nested?: { timeline?: string; fade?: [number, number, number, number] }[];
}

export interface SurfacePart {
  name: string;
  width: number;
  height: number;
  /** Where its guide is fetched; none where its test card stands for it. */
  guide?: string;
}

/** The true shape of a drum or dome: what its three numbers are measured in, in the venue (`core/Venue/Round.php`). */
export interface RoundPart {
  dome: boolean;
  frame: number[];
}

export interface ContributionPart {
  layer: string;
  surface: string;
  clips: {
    id: string;
    media: string;
    fit: number[] | null;
    fade?: [number, number, number, number];
    effects?: string[];
  }[];
  /** Effects of the layer, which follow those of its clips. */
  effects?: string[];
  /** Media that may be called in place of the clips: they run from that moment on, again and again. */
  stock?: { number: number; media: string; fit: number[] | null; frames: number; flicks: number }[];
  /** Media by which the layer may be cut out. */
  masks?: { number: number; media: string; frames: number; flicks: number }[];
  /** The number of the route where it is not the layer's own. */
  by?: number;
  /** Where the route has a pane of its own. */
  route?: string;
  pane?: [number, number];
  /** The pane's pixels onto the raster's, and the part of the raster that it fills: left, top, right, bottom. */
  onto?: number[];
  clip?: Rect;
  /** The share whose values say how the pane gets to the raster. */
  share?: string;
  lenses?: { id: string; part: Rect; frame: number[] }[];
  globe?: { id: string; pane: [number, number]; frame: number[] };
}

type Fade = [number, number, number, number];

/** A layer that a sound goes through: its fades and those of what lies over it, in the time in which the sound is heard; of one in another timeline, from when on which of its times stands, and how fast it passes. */
export interface SoundLevel {
  layer: string;
  timeline: string;
  fade: Fade;
  over: Fade[];
  at?: [number, number, number];
}

/** What is heard of a layer (`core/Timeline/SoundClip.php`): samples at 48 kHz, times in flicks. */
export interface SoundPart {
  layer: string;
  timeline: string;
  clips: {
    id: string;
    url: string;
    channels: number;
    start: number;
    end: number;
    from: number;
    count: number;
    offset: number;
    speed: number;
    loop: boolean;
    own?: boolean;
    levels: SoundLevel[];
  }[];
}

export interface OutputPart {
  name: string;
  width: number;
  height: number;
  refresh: number;
  /** By how much it is shown later, in flicks. */
  delay?: number;
  /** Light of red, green and blue, 0 to 1, and light that is given everywhere, as a share of white. */
  light?: [number, number, number];
  black?: number;
  gamma?: number;
}

export interface DeliveryPart {
  output: string;
  surface: string;
  source: Rect;
  place: [number, number];
  /** Whether it is delivered through triangles. */
  mesh?: boolean;
  /** Widths of the edges that fade: left, top, right, bottom. */
  blend?: [number, number, number, number];
  curve?: number;
  /** A matrix, row by row: where what was computed is looked up for a pixel of an output whose corners are pinned. */
  unpin?: number[];
}

/** A shape that lets light through on a surface or an output; its line as x and y after one another. */
export interface MaskPart {
  on: string;
  line: number[];
  feather: number;
  inverted: boolean;
  /** Whether it is a picture, whose shares come as a track. */
  painted?: boolean;
}

/** A transport map: pieces of engine time, show time and rate, and a loop. */
export interface MapData {
  p: [number, number, number][];
  l?: [number, number, number];
  /** Ranges of show time that it is in when it begins, and since which engine time: for what has a clock of its own. */
  c?: [number, number, number][];
}

/** One place where a timeline is, or was before it jumped away with a fade. */
export interface HeadData {
  map: MapData;
  /** Over engine time: time and four coefficients of each piece. */
  weight?: number[];
  number: number;
}

export interface DeckMessage extends Partial<HeadData> {
  show: string;
  timeline: string;
  gone?: boolean;
  on?: boolean;
  /** Those that still fade out. */
  past?: HeadData[];
  /** The cue that Go would start. */
  next?: string | null;
  waiting?: boolean;
  /** Whether the clock from outside that it follows is heard. */
  clock?: 'locked' | 'waits' | 'jumped' | 'lost';
  /** How fast it runs when it does, 1 where it is missing, and the range that is repeated. */
  rate?: number;
  loop?: [number, number];
}

/** Cues that are on, by id: since when, until when they fade in, who fired them, and how many of their values are held by hand above them. */
export interface CuesMessage {
  show: string;
  on: Record<string, { at: number; until: number; by: string; masked: number }>;
  last: string | null;
  /** What Go would do: the cue that is next, and whether its timeline waits there and only plays on. */
  next: string | null;
  waiting: boolean;
  /** The timeline that the transport drives. */
  driven: string | null;
  /** The cues that Go steps through, in their order, where that is another than before. */
  list?: string[];
  pending: { cue: string; at: number } | null;
  panic: boolean;
}

/** A value held from outside its timeline: stratum, sequence, source, value and weight over engine time. */
export interface HeldData {
  /** Where the value repeats: engine time from which, and after how long. */
  l?: [number, number];
  /** Engine time at which it came. */
  t?: number;
  /** How a media runs from then on (`core/Values/MediaRun.php`): offset, rate, in, out, what comes past its end, whether from there, when it was called if that was before. */
  m?: [number, number, number, number, number, number, number];
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

/** What would be on once a cue had been fired and all of it had faded, at an engine time. */
export interface PreviewMessage {
  cue: string;
  engine: number;
  decks: DeckMessage[];
  held: Record<string, HeldData[]>;
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

/** How a projector is by PJLink; nulls where that is not known. */
export interface ProjectorHealth {
  power: 'off' | 'on' | 'cooling' | 'warming' | null;
  shut: boolean | null;
  hours: number[];
  errors: Record<string, string>;
  name: string;
  trouble: string;
  /** 0 while that is not known. */
  class: number;
  frozen: boolean | null;
  input: string | null;
  /** What its inputs are called, by their codes. */
  inputs: Record<string, string>;
  filter: number | null;
}

export interface Health {
  engine: number;
  lateness: { p50: number; p99: number; max: number; ticks: number };
  busy: { p50: number; p99: number; max: number; ticks: number };
  windows: number;
  dropped: number;
  refused: number;
  guard: { caught: number; last: string };
  osc: {
    packets: number;
    bad: number;
    port: number;
    last: { at: number; from: string; text: string; fault: string | null }[];
  };
  /** MIDI: over the network by RTP-MIDI, and from ports of windows. */
  midi: {
    port: number;
    interface: string;
    trouble: string;
    window: { packets: number; bad: number };
    rtp?: { packets: number; bad: number; lost: number; sessions: string[]; waiting: string[] };
  };
  /** Timecode that came last. */
  timecode: { source: string; text: string; rate: string; at: number } | null;
  /** Timelines whose clock is heard: how each follows it, and by how many frames it was ahead of it. */
  chases: Record<string, { state: string; error: number }>;
  /** Projectors by PJLink, by id, and lines that were sent to devices. */
  devices: {
    projectors: Record<string, ProjectorHealth>;
    lines: { at: number; text: string; fault: string | null }[];
    /** Projectors that answered a search: hardware address by address. */
    found: Record<string, string>;
  };
  players: PlayerReport[];
  compiler: { show: string; pid: number | null; revision: number; ready: boolean; trouble: string } | null;
  looked: number;
  journal: { lost: number };
  pid: number;
  memory: number;
  /** The last step of the time of day, where it was set: by how many seconds, which cues it passed over, and how long somebody may still answer. */
  clockStep: { seconds: number; at: string; cues: string[]; left: number } | null;
  /** Of the process that sends to pixel lights; null where it is not heard of. */
  lights: {
    pid: number;
    /** Whether another process is there to take its place. */
    standby: boolean;
    lights: number;
    universes: number;
    rate: number;
    sent: number;
    failed: number;
    trouble: string;
    late: { p50: number; p99: number; max: number; ticks: number };
    nodes: { ip: string; name: string; long: string; report: string; ports: number[] }[];
    bad: number;
    /** What lighting consoles say to layers: values by address, and of each control the number and the meaning of each part. */
    console: {
      packets: number;
      bad: number;
      foreign: number;
      more: { sources: number; values: number; controls: number };
      sources: { universe: string; name: string; priority: number }[];
      values: Record<string, number>;
      controls: Record<string, { parts: [number, number, string?][]; lost: boolean }>;
    } | null;
  } | null;
}

/** One event of a control, and what came of it: the binding that took it, and why nothing came of it, if so. */
export interface ControlEntry {
  n: number;
  at: number;
  source: string;
  device: string;
  control: string;
  label: string;
  raw: (number | string | boolean | null)[];
  /** As they came on the line, in hex; empty where it is none of bytes. */
  bytes: string;
  report: boolean;
  binding: string;
  fault: string;
}

/** What controls sent since so many events, and how bindings and devices are. */
export interface ControlsMessage {
  since: number;
  count: number;
  events: ControlEntry[];
  /** Values that controls have yet to meet, by binding. */
  meets: Record<string, { value: number; above: boolean }>;
  /** The page that is on, by device; 1 where it is missing. */
  pages: Record<string, number>;
  devices: { source: string; port: string; at: number; events: number }[];
  /** How loud audio inputs are, 0 to 1 a control, and their beats a minute. */
  meters: { input: string; levels: Record<string, number>; tempo: number | null }[];
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
  message: string | null;
  facts: Record<string, unknown> | null;
  form: Record<string, unknown> | null;
  thumbnails: string[] | null;
}

export interface TraceMessage {
  show: string;
  surface: string;
  links: {
    link: string;
    state: 'ok' | 'attention' | 'fault';
    kind: string;
    id: string;
    name: string;
    message: string;
  }[];
}

/** What is drawn over an output, so that people find their way on it (`app/Engine/Marks.php`). */
export interface MarksMessage {
  output: string;
  until: number;
  cross: [number, number] | null;
  shapes: { points: [number, number][]; label?: string; fill?: string; grid?: number }[];
}

/** What is shown in place of a surface's picture: white, its guide or test card, or a white rectangle of it. */
export type Instead = 'white' | 'guide' | Rect;

/** Which regions alone are shown on what they light, as the picture, or what in its place. */
export interface IsolateMessage {
  regions: string[];
  show: 'picture' | 'white' | 'guide' | 'patch';
  /** By region, the part of its surface that is white, at its full light. */
  patches?: Record<string, Rect>;
  until: number;
}

/** What the live worker tells the pages that share it. */
export type FromWorker =
  | {
      type: 'hello';
      data: { engine: number; clock: string; stream: number; show: string | null; revision: number | null };
    }
  | { type: 'base'; data: { show: string; pack: string; revision: number; at: number } }
  | { type: 'delta'; data: { at: number; show: string; bundle: ArrayBuffer } }
  | { type: 'deck'; data: DeckMessage }
  | { type: 'air'; data: { show: string } }
  | { type: 'revision'; data: RevisionMessage }
  | { type: 'held'; data: HeldMessage }
  | { type: 'cues'; data: CuesMessage }
  | { type: 'health'; data: Health }
  | { type: 'identify'; data: { output: string; until: number } }
  | { type: 'marks'; data: MarksMessage }
  | { type: 'isolate'; data: IsolateMessage }
  | { type: 'controls'; data: ControlsMessage }
  | { type: 'feedback'; data: { port: string; data: number[] } }
  | { type: 'touch'; data: { panel: string; shown: Record<string, Record<string, number>> } }
  | { type: 'file'; data: FileMessage }
  | { type: 'figures'; data: { show: string; revision: number; figures: Record<string, unknown> } }
  | { type: 'trace'; data: TraceMessage }
  | { type: 'ticket'; data: { ticket: string; person: string } }
  | { type: 'clock'; data: { offset: number; trip: number; settled: boolean } }
  | { type: 'link'; data: { up: boolean } };

/** What a page tells the worker: that it goes, or which shows it has open. */
export type ToWorker = 'bye' | { open: string[] };
