import { EffectValues } from './effects';
import type {
  ContributionPart,
  DeliveryPart,
  LayerPart,
  MaskPart,
  MediaPart,
  OutputPart,
  Rect,
  RoundPart,
  ShowPart,
  SoundPart,
  SurfacePart,
  TimelinePart,
} from './messages';
import { PatternValues } from './pattern';
import { mixes, propertyOf } from './property';
import { type Thrower, throwersOf } from './throw';
import { type Held, MediaTrack, Slot, Track } from './values';

interface TrackHead {
  kind: 'constant' | 'cubic' | 'media' | 'mesh' | 'delivery' | 'blend';
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

  track(head: TrackHead): AnyTrack {
    const n = head.n ?? 0;
    const at = this.from + (head.at ?? 0);
    if (head.kind === 'constant') return Track.constant(head.v ?? 0);
    if (head.kind === 'mesh') return new Mesh(new Float32Array(this.bytes, at, n * Mesh.NUMBERS));
    if (head.kind === 'delivery') return new DeliveryMesh(new Float32Array(this.bytes, at, n * DeliveryMesh.NUMBERS));
    if (head.kind === 'blend') return BlendMap.of(this.bytes, at);
    if (head.kind === 'media') return new MediaTrack(new Float64Array(this.bytes, at, n * MediaTrack.COLUMNS));
    return new Track(
      new Float64Array(this.bytes, at, n),
      head.wide === true
        ? new Float64Array(this.bytes, at + n * 8, n * 4)
        : new Float32Array(this.bytes, at + n * 8, n * 4),
    );
  }
}

/** The triangles of a surface that something is thrown onto (`core/Plan/SurfaceMesh.php`). */
export class Mesh {
  /** Of each corner: raster pixel, place in the venue, normal, and of what is round three numbers of its true shape. */
  static readonly LAYOUT = [2, 3, 3, 3] as const;
  static readonly NUMBERS = 11;

  constructor(readonly numbers: Float32Array) {}
}

/** The triangles of a region (`core/Output/DeliveryMesh.php`): of each corner its place on the output times its weight, that weight, its pixel of the surface's raster, and its depth. */
export class DeliveryMesh {
  static readonly LAYOUT = [3, 2, 1] as const;
  static readonly NUMBERS = 6;

  constructor(readonly numbers: Float32Array) {}
}

/** Shares of the light over a rectangle of an output (`core/Output/BlendMap.php`). */
export class BlendMap {
  private constructor(
    readonly place: Rect,
    readonly columns: number,
    readonly rows: number,
    readonly shares: Float32Array,
  ) {}

  static of(bytes: ArrayBuffer, at: number): BlendMap {
    const view = new DataView(bytes, at, 24);
    const [told, rows] = [view.getUint32(16, true), view.getUint32(20, true)];
    // The highest bit says that the place is told in halves of pixels.
    const columns = told & 0x7fffffff;
    const by = told === columns ? 1 : 2;
    return new BlendMap(
      [0, 4, 8, 12].map((i) => view.getInt32(i, true) / by) as Rect,
      columns,
      rows,
      new Float32Array(bytes, at + 24, columns * rows),
    );
  }
}

type AnyTrack = Track | MediaTrack | Mesh | DeliveryMesh | BlendMap;

/** A layer that has a clip which shows another timeline. */
export interface Nesting {
  layer: string;
  timeline: string;
  clips: NonNullable<LayerPart['nested']>;
  /** Of the clip that is up, and of those below it while it comes out of them. */
  media: readonly MediaTrack[];
  opacity: Slot;
  mute: Slot;
  solo: Slot;
  level: Slot;
}

/** What reaches a surface by one layer, with its values at hand. */
export interface Contribution {
  name: string;
  part: ContributionPart;
  timeline: string;
  media: MediaTrack | null;
  /** The same, and of the clips below while one fades into another, from the top down. */
  clips: readonly MediaTrack[];
  opacity: Slot;
  x: Slot;
  y: Slot;
  scale: Slot;
  turn: Slot;
  /** The place in the picture about which it is scaled and turned. */
  pivot: [Slot, Slot];
  gain: [Slot, Slot, Slot];
  invert: [Slot, Slot, Slot];
  opaque: Slot;
  /** The number of the media by which it is cut out, and how: key, inverted, width, x, y, scale, feather; and the colour. */
  mask: Slot;
  maskBy: [Slot, Slot, Slot, Slot, Slot, Slot, Slot];
  maskColour: [Slot, Slot, Slot];
  blend: Slot;
  mute: Slot;
  solo: Slot;
  /** The media that is called in place of the clips, by its number. */
  source: Slot;
  mirror: Slot;
  tile: Slot;
  /** The route that the layer takes now, among those besides its own. */
  route: Slot;
  routes: readonly number[];
  /** Left, top, right, bottom. */
  crop: [Slot, Slot, Slot, Slot];
  /** The values of its share of a canvas: x, y, width, height, turn, mirror. */
  share: Slot[] | null;
  thrown: Thrower[];
  mesh: Mesh | null;
  /** The true shape of what is round. */
  round: RoundPart | null;
  level: Slot;
}

const SHARE = ['x', 'y', 'width', 'height', 'turn', 'mirror'];

/** What holds the opacity of all layers (`core/Cues/CueMix.php`). */
const ALL_LAYERS_OPACITY = 'layer:all/opacity';
const blanketed = (address: string) => address.startsWith('layer:') && address.endsWith('/opacity');

const NONE: Contribution[] = [];
/** A mask with its picture, where it is painted. */
type PlanMask = MaskPart & { image?: BlendMap };

const NO_MASKS: readonly PlanMask[] = [];
const NO_ROUTES: readonly number[] = [];

/** The plan of a show as this window has it: parts and tracks by name, brought up to date by bundles. */
export class Plan {
  revision = 0;
  /** Grows with each bundle, so that a view knows whether anything may be different. */
  version = 0;
  private readonly parts = new Map<string, unknown>();
  private readonly tracks = new Map<string, AnyTrack>();
  private readonly slots = new Map<string, Slot>();
  private readonly patterns = new Map<string, PatternValues>();
  private readonly effects = new Map<string, EffectValues>();
  private bySurface: Map<string, Contribution[]> | null = null;
  private byPane: Map<string, { size: [number, number]; contributions: Contribution[] }> | null = null;
  private byOutput: Map<string, [string, DeliveryPart][]> | null = null;
  private byMasked: Map<string, PlanMask[]> | null = null;

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
    this.byPane = null;
    this.byOutput = null;
    this.byMasked = null;
    this.alone = null;
    this.nested = null;
  }

  /** The same parts and tracks, with nothing held over them. */
  twin(): Plan {
    const twin = new Plan();
    twin.revision = this.revision;
    for (const [name, part] of this.parts) twin.parts.set(name, part);
    for (const [name, track] of this.tracks) twin.tracks.set(name, track);
    return twin;
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

  /** What may stand in the way of what is thrown; null where no lens asks. */
  get solids(): Mesh | null {
    const solids = this.tracks.get('venue/solids');
    return solids instanceof Mesh ? solids : null;
  }

  surface = (id: string) => this.part<SurfacePart>(`surface:${id}`);
  /** The values of a pattern. */
  pattern(media: string): PatternValues {
    let values = this.patterns.get(media);
    if (values === undefined) {
      values = new PatternValues(this, media);
      this.patterns.set(media, values);
    }
    return values;
  }

  /** The values of an effect. */
  effect(id: string): EffectValues {
    let values = this.effects.get(id);
    if (values === undefined) {
      values = new EffectValues(this, id);
      this.effects.set(id, values);
    }
    return values;
  }

  media = (key: string) => this.part<MediaPart>(`media:${key}`);
  output = (id: string) => this.part<OutputPart>(`output:${id}`);
  timeline = (id: string) => this.part<TimelinePart>(`timeline:${id}`);

  private alone: { timeline: string; media: MediaTrack }[] | null = null;

  /** What layers with clips that have a clock of their own show, by their timelines. */
  ownClocks(): readonly { timeline: string; media: MediaTrack }[] {
    if (this.alone === null) {
      this.alone = [];
      for (const [name, media] of this.tracks) {
        const layer =
          media instanceof MediaTrack && media.hasOwnClock
            ? this.part<LayerPart>(name.slice(0, name.lastIndexOf('/')))
            : undefined;
        if (layer !== undefined) this.alone.push({ timeline: layer.timeline, media: media as MediaTrack });
      }
    }
    return this.alone;
  }

  private nested: Nesting[] | null = null;

  /** The clips of a layer from the top down, as `core/Timeline/MediaTrack.php` names them. */
  private clipsOf(layer: string): MediaTrack[] {
    const found: MediaTrack[] = [];
    for (;;) {
      const track = this.tracks.get(
        `${layer}/${found.length === 0 ? 'media' : found.length === 1 ? 'under' : `under${found.length}`}`,
      );
      if (!(track instanceof MediaTrack)) return found;
      found.push(track);
    }
  }

  /** Layers that have a clip which shows another timeline. */
  nesting(): readonly Nesting[] {
    if (this.nested === null) {
      this.nested = [];
      for (const [name, any] of this.parts) {
        if (!name.startsWith('layer:')) continue;
        const { timeline, nested } = any as LayerPart;
        const media = this.clipsOf(name);
        if (nested === undefined || media.length === 0) continue;
        const at = (value: string) => this.slot(`${name}/${value}`);
        this.nested.push({
          layer: name,
          timeline,
          clips: nested,
          media,
          opacity: at('opacity'),
          mute: at('mute'),
          solo: at('solo'),
          level: this.slot(`timeline:${timeline}/level`),
        });
      }
    }
    return this.nested;
  }

  sounds(): SoundPart[] {
    return [...this.parts].filter(([name]) => name.startsWith('sound:')).map(([, part]) => part as SoundPart);
  }

  surfaces(): [string, SurfacePart][] {
    return [...this.parts]
      .filter(([name]) => name.startsWith('surface:'))
      .map(([name, part]) => [name.slice(8), part as SurfacePart]);
  }

  /** The value at an address; what has no track rests at its default. */
  slot(address: string): Slot {
    let slot = this.slots.get(address);
    if (slot === undefined) {
      const [kind, property] = [
        address.slice(0, address.indexOf(':')),
        address.slice(address.indexOf('/') + 1).split('#')[0],
      ];
      const of = propertyOf.get(`${kind}/${property}`);
      slot = new Slot(of?.default ?? 0, of === undefined || mixes(of));
      const track = this.tracks.get(address);
      slot.track = track instanceof Track ? track : null;
      slot.held = this.covered(address, this.held.get(address) ?? null);
      this.slots.set(address, slot);
    }
    return slot;
  }

  private blanket: Held[] | null = null;
  private readonly held = new Map<string, Held[]>();
  /** Layers that somebody soloes from outside their timeline. */
  private readonly soloing = new Set<string>();

  hold(address: string, held: Held[] | null): void {
    if (held === null) this.held.delete(address);
    else this.held.set(address, held);
    if (address.startsWith('layer:') && address.endsWith('/solo'))
      held === null ? this.soloing.delete(address.slice(6, -5)) : this.soloing.add(address.slice(6, -5));
    if (address !== ALL_LAYERS_OPACITY) {
      this.slot(address).held = this.covered(address, held);
      return;
    }
    this.blanket = held;
    for (const [of, slot] of this.slots) if (blanketed(of)) slot.held = this.covered(of, this.held.get(of) ?? null);
  }

  /** What holds a value, with what holds it of every layer. */
  private covered(address: string, held: Held[] | null): Held[] | null {
    if (this.blanket === null || !blanketed(address)) return held;
    return [...(held ?? []), ...this.blanket].sort((a, b) => a.order - b.order);
  }

  /** Whether a layer of a timeline is soloed. */
  soloed(timeline: string, show: number, engine: number): boolean {
    for (const layer of this.timeline(timeline)?.solo ?? [])
      if (this.slot(`layer:${layer}/solo`).at(show, engine) >= 0.5) return true;
    for (const layer of this.soloing)
      if (
        this.part<LayerPart>(`layer:${layer}`)?.timeline === timeline &&
        this.slot(`layer:${layer}/solo`).at(show, engine) >= 0.5
      )
        return true;
    return false;
  }

  /** What reaches a surface, from the bottom up. */
  contributions(surface: string): Contribution[] {
    this.bySurface ??= this.sort();
    return this.bySurface.get(surface) ?? NONE;
  }

  private sort(): Map<string, Contribution[]> {
    const map = new Map<string, Contribution[]>();
    for (const contribution of this.sorted()) {
      const list = map.get(contribution.part.surface);
      if (list === undefined) map.set(contribution.part.surface, [contribution]);
      else list.push(contribution);
    }
    return map;
  }

  /** All contributions, those of one surface from the bottom up. */
  private sorted(): Contribution[] {
    const found: { order: [number, string, number, string]; contribution: Contribution }[] = [];
    for (const [name, any] of this.parts) {
      if (!name.startsWith('contribution:')) continue;
      const part = any as ContributionPart;
      const layer = this.part<LayerPart>(`layer:${part.layer}`);
      const timeline = layer === undefined ? undefined : this.timeline(layer.timeline);
      if (layer === undefined || timeline === undefined) continue;
      const at = (property: string) => this.slot(`layer:${part.layer}/${property}`);
      const clips = this.clipsOf(`layer:${part.layer}`);
      const mesh = this.tracks.get(`surface:${part.surface}/mesh`);
      found.push({
        order: [timeline.order, layer.timeline, layer.order, part.layer],
        contribution: {
          name,
          part,
          timeline: layer.timeline,
          media: clips[0] ?? null,
          clips,
          opacity: at('opacity'),
          x: at('x'),
          y: at('y'),
          scale: at('scale'),
          turn: at('turn'),
          pivot: [at('pivotX'), at('pivotY')],
          gain: [at('gain'), at('gain#1'), at('gain#2')],
          invert: [at('invert'), at('invert#1'), at('invert#2')],
          opaque: at('opaque'),
          mask: at('mask'),
          maskBy: [
            at('maskKey'),
            at('maskInverted'),
            at('maskWidth'),
            at('maskX'),
            at('maskY'),
            at('maskScale'),
            at('maskFeather'),
          ],
          maskColour: [at('maskColour'), at('maskColour#1'), at('maskColour#2')],
          blend: at('blend'),
          mute: at('mute'),
          solo: at('solo'),
          source: at('source'),
          mirror: at('mirror'),
          tile: at('tile'),
          route: at('route'),
          routes: layer.routes ?? NO_ROUTES,
          crop: [at('cropLeft'), at('cropTop'), at('cropRight'), at('cropBottom')],
          share: part.share === undefined ? null : SHARE.map((value) => this.slot(`share:${part.share}/${value}`)),
          thrown: throwersOf(this, part),
          mesh: mesh instanceof Mesh ? mesh : null,
          round: this.part<RoundPart>(`round:${part.surface}`) ?? null,
          level: this.slot(`timeline:${layer.timeline}/level`),
        },
      });
    }
    const compare = (a: number | string, b: number | string) => (a < b ? -1 : a > b ? 1 : 0);
    found.sort(
      (a, b) =>
        compare(a.order[0], b.order[0]) ||
        compare(a.order[1], b.order[1]) ||
        compare(a.order[2], b.order[2]) ||
        compare(a.order[3], b.order[3]),
    );
    return found.map((one) => one.contribution);
  }

  /** What lies in the pane of a route, from the bottom up, each layer once; undefined where the route has none, or no layer takes it. */
  pane(route: string): { size: [number, number]; contributions: Contribution[] } | undefined {
    this.byPane ??= this.panes();
    return this.byPane.get(route);
  }

  private panes() {
    const panes = new Map<string, { size: [number, number]; contributions: Contribution[] }>();
    for (const contribution of this.sorted()) {
      const { route, pane, layer } = contribution.part;
      if (route === undefined || pane === undefined) continue;
      const there = panes.get(route);
      if (there === undefined) panes.set(route, { size: pane, contributions: [contribution] });
      else if (!there.contributions.some((c) => c.part.layer === layer)) there.contributions.push(contribution);
    }
    return panes;
  }

  /** The triangles of a region; undefined where it needs none or they are not here. */
  deliveryMesh(region: string): DeliveryMesh | undefined {
    const mesh = this.tracks.get(`delivery:${region}/mesh`);
    return mesh instanceof DeliveryMesh ? mesh : undefined;
  }

  /** A region's shares of the light, or of what is added in the dark. */
  shares(region: string, of: 'blend' | 'lift'): BlendMap | null {
    const map = this.tracks.get(`delivery:${region}/${of}`);
    return map instanceof BlendMap ? map : null;
  }

  /** The masks of a surface or an output; the same list as long as none of the show changes. */
  masks(on: string): readonly PlanMask[] {
    if (this.byMasked === null) {
      this.byMasked = new Map();
      for (const [name, part] of this.parts) {
        if (!name.startsWith('mask:')) continue;
        const mask = part as MaskPart;
        const image = this.tracks.get(`${name}/image`);
        if (mask.painted === true && !(image instanceof BlendMap)) continue;
        this.byMasked.set(mask.on, [
          ...(this.byMasked.get(mask.on) ?? []),
          image instanceof BlendMap ? { ...mask, image } : mask,
        ]);
      }
    }
    return this.byMasked.get(on) ?? NO_MASKS;
  }

  /** A region by its id. */
  delivery(region: string): DeliveryPart | undefined {
    return this.part<DeliveryPart>(`delivery:${region}`);
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
