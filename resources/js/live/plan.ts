import { type Property, properties } from '../api/kinds';
import type { ContributionPart, DeliveryPart, LayerPart, MediaPart, OutputPart, ShowPart, SurfacePart, TimelinePart } from './messages';
import { mixes } from './property';
import { type Held, MediaTrack, Slot, Track } from './values';

interface TrackHead {
  kind: 'constant' | 'cubic' | 'media';
  v?: number;
  n?: number;
  wide?: boolean;
  at?: number;
}

/** A bundle of parts and tracks (`core/Plan/Bundle.php`). */
export class Bundle {
  private constructor(
    readonly show: string,
    readonly revision: number,
    readonly parts: Record<string, unknown>,
    readonly tracks: Record<string, TrackHead | null>,
    private readonly bytes: ArrayBuffer,
    private readonly from: number,
  ) {}

  static of(bytes: ArrayBuffer): Bundle {
    const length = new DataView(bytes).getUint32(0, true);
    const head = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, 4, length)));
    return new Bundle(head.show, head.revision, head.parts, head.tracks, bytes, 4 + length);
  }

  track(head: TrackHead): Track | MediaTrack {
    const n = head.n ?? 0;
    const at = this.from + (head.at ?? 0);
    if (head.kind === 'constant') return Track.constant(head.v ?? 0);
    if (head.kind === 'media') return new MediaTrack(new Float64Array(this.bytes, at, n * 8));
    return new Track(new Float64Array(this.bytes, at, n), head.wide === true ? new Float64Array(this.bytes, at + n * 8, n * 4) : new Float32Array(this.bytes, at + n * 8, n * 4));
  }
}

const known = new Map<string, Property>(Object.entries<Property[]>(properties).flatMap(([kind, list]) => list.map((p) => [`${kind}/${p.name}`, p] as [string, Property])));

/** What reaches a surface by one layer, with its values at hand. */
export interface Contribution {
  name: string;
  part: ContributionPart;
  timeline: string;
  media: MediaTrack | null;
  opacity: Slot;
  x: Slot;
  y: Slot;
  scale: Slot;
  turn: Slot;
  gain: [Slot, Slot, Slot];
  blend: Slot;
  mute: Slot;
  level: Slot;
}

const NONE: Contribution[] = [];

/** The plan of a show as this window has it: parts and tracks by name, brought up to date by bundles. */
export class Plan {
  revision = 0;
  /** Grows with each bundle, so that a view knows whether anything may be different. */
  version = 0;
  private readonly parts = new Map<string, unknown>();
  private readonly tracks = new Map<string, Track | MediaTrack>();
  private readonly slots = new Map<string, Slot>();
  private bySurface: Map<string, Contribution[]> | null = null;
  private byOutput: Map<string, [string, DeliveryPart][]> | null = null;

  apply(bundle: Bundle): void {
    this.revision = bundle.revision;
    this.version++;
    for (const [name, part] of Object.entries(bundle.parts)) {
      if (part === null) this.parts.delete(name);
      else this.parts.set(name, part);
    }
    for (const [name, head] of Object.entries(bundle.tracks)) {
      const track = head === null ? null : bundle.track(head);
      if (track === null) this.tracks.delete(name);
      else this.tracks.set(name, track);
      const slot = this.slots.get(name);
      if (slot !== undefined) slot.track = track instanceof Track ? track : null;
    }
    this.bySurface = null;
    this.byOutput = null;
  }

  private part<T>(name: string): T | undefined {
    return this.parts.get(name) as T | undefined;
  }

  get show(): ShowPart | undefined {
    return this.part('show');
  }

  get flicksPerFrame(): number {
    return this.show?.flicksPerFrame ?? 28_224_000;
  }

  surface = (id: string) => this.part<SurfacePart>(`surface:${id}`);
  media = (key: string) => this.part<MediaPart>(`media:${key}`);
  output = (id: string) => this.part<OutputPart>(`output:${id}`);
  timeline = (id: string) => this.part<TimelinePart>(`timeline:${id}`);

  surfaces(): [string, SurfacePart][] {
    return [...this.parts].filter(([name]) => name.startsWith('surface:')).map(([name, part]) => [name.slice(8), part as SurfacePart]);
  }

  /** The value at an address; what has no track rests at its default. */
  slot(address: string): Slot {
    let slot = this.slots.get(address);
    if (slot === undefined) {
      const [kind, property] = [address.slice(0, address.indexOf(':')), address.slice(address.indexOf('/') + 1).split('#')[0]];
      const of = known.get(`${kind}/${property}`);
      slot = new Slot(of?.default ?? 0, of === undefined || mixes(of));
      const track = this.tracks.get(address);
      slot.track = track instanceof Track ? track : null;
      this.slots.set(address, slot);
    }
    return slot;
  }

  hold(address: string, held: Held[] | null): void {
    this.slot(address).held = held;
  }

  /** What reaches a surface, from the bottom up. */
  contributions(surface: string): Contribution[] {
    this.bySurface ??= this.sort();
    return this.bySurface.get(surface) ?? NONE;
  }

  private sort(): Map<string, Contribution[]> {
    const found: { order: [number, string, number, string]; contribution: Contribution }[] = [];
    for (const [name, any] of this.parts) {
      if (!name.startsWith('contribution:')) continue;
      const part = any as ContributionPart;
      const layer = this.part<LayerPart>(`layer:${part.layer}`);
      const timeline = layer === undefined ? undefined : this.timeline(layer.timeline);
      if (layer === undefined || timeline === undefined) continue;
      const at = (property: string) => this.slot(`layer:${part.layer}/${property}`);
      const media = this.tracks.get(`layer:${part.layer}/media`);
      found.push({
        order: [timeline.order, layer.timeline, layer.order, part.layer],
        contribution: {
          name,
          part,
          timeline: layer.timeline,
          media: media instanceof MediaTrack ? media : null,
          opacity: at('opacity'),
          x: at('x'),
          y: at('y'),
          scale: at('scale'),
          turn: at('turn'),
          gain: [at('gain'), at('gain#1'), at('gain#2')],
          blend: at('blend'),
          mute: at('mute'),
          level: this.slot(`timeline:${layer.timeline}/level`),
        },
      });
    }
    const compare = (a: number | string, b: number | string) => (a < b ? -1 : a > b ? 1 : 0);
    found.sort((a, b) => compare(a.order[0], b.order[0]) || compare(a.order[1], b.order[1]) || compare(a.order[2], b.order[2]) || compare(a.order[3], b.order[3]));
    const map = new Map<string, Contribution[]>();
    for (const { contribution } of found) {
      const list = map.get(contribution.part.surface);
      if (list === undefined) map.set(contribution.part.surface, [contribution]);
      else list.push(contribution);
    }
    return map;
  }

  /** The regions of an output, in drawing order. */
  deliveries(output: string): [string, DeliveryPart][] {
    if (this.byOutput === null) {
      this.byOutput = new Map();
      const names = [...this.parts.keys()].filter((name) => name.startsWith('delivery:')).sort();
      for (const name of names) {
        const part = this.parts.get(name) as DeliveryPart;
        this.byOutput.set(part.output, [...(this.byOutput.get(part.output) ?? []), [name.slice(9), part]]);
      }
    }
    return this.byOutput.get(output) ?? [];
  }
}
