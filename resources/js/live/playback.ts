import type { Live } from './client';
import type { CuesMessage, DeckMessage, HeadData, HeldData, HeldMessage } from './messages';
import { Bundle, Plan } from './plan';
import { Held, strengthOf, Track, TransportMap } from './values';

/** One timeline that is on: where it is, how strongly, and what Go would start. */
export class Head {
  readonly map: TransportMap;
  private readonly weight: Track | null;
  private engine = Number.NaN;
  private show = 0;
  readonly next: string | null;
  readonly waiting: boolean;
  readonly on: boolean;
  /** Which it is of those that its timeline has had: what is decoded for one is not for another. */
  readonly number: number;

  constructor(
    readonly message: DeckMessage,
    { map, weight, number }: Partial<HeadData> = message,
  ) {
    this.map = new TransportMap(map ?? { p: [[0, 0, 0]] });
    this.on = message.on === true;
    this.weight = weight === undefined ? null : Track.of(weight);
    this.number = number ?? 0;
    this.next = message.next ?? null;
    this.waiting = message.waiting === true;
  }

  /** The show time at an engine time; asked many times in a frame, found once. */
  at(engine: number): number {
    if (engine !== this.engine) {
      this.engine = engine;
      this.show = this.map.at(engine);
    }
    return this.show;
  }

  strength(engine: number): number {
    return this.weight === null ? (this.on ? 1 : 0) : this.weight.at(engine);
  }

  /** Whether what it shows moves, or how strongly. */
  moves(engine: number): boolean {
    return (
      (this.weight !== null && !this.weight.standsFrom(engine)) || (this.strength(engine) > 0 && this.map.moves(engine))
    );
  }
}

const NO_HEADS: readonly Head[] = [];
/** Timelines within one another, at most. */
const DEEPEST = 4;
/** Numbers of heads within others begin here. */
const NESTED = 1_000_000;

/**
 * What a window has of one show: its plan, its timelines' heads and what is held over them. It plays on by these whatever
 * becomes of the engine.
 */
export class ShowPlayback {
  plan: Plan | null = null;
  readonly heads = new Map<string, Head>();
  /** All heads of each timeline, those that it jumped away from with a fade first. */
  private readonly all = new Map<string, Head[]>();
  cards: ReadonlySet<string> = new Set();
  cues: CuesMessage | null = null;
  /** Grows with whatever is told, so that a view knows whether anything may be different. */
  version = 0;
  private held: Record<string, HeldData[]> = {};
  private waiting: { at: number; bundle: Bundle }[] = [];
  private coming: { pack: string; at: number; plan: Plan | null; bundles: { at: number; bundle: Bundle }[] } | null =
    null;

  constructor(
    readonly show: string,
    private readonly changed: () => void,
  ) {}

  /** A plan as a pack that has to be fetched; bundles that come meanwhile are put on top of it. */
  base(pack: string, at: number): void {
    const coming = { pack, at, plan: null as Plan | null, bundles: [] as { at: number; bundle: Bundle }[] };
    this.coming = coming;
    const fetchIt = async (wait: number): Promise<void> => {
      try {
        const answer = await fetch(`/packs/${pack}.pack`);
        if (!answer.ok) throw new Error(String(answer.status));
        const plan = new Plan();
        plan.apply(Bundle.of(await answer.arrayBuffer()));
        if (this.coming !== coming) return;
        coming.plan = plan;
        this.touch();
      } catch {
        if (this.coming === coming) setTimeout(() => void fetchIt(Math.min(2000, wait * 2)), wait);
      }
    };
    void fetchIt(100);
  }

  delta(at: number, bundle: Bundle): void {
    (this.coming?.bundles ?? this.waiting).push({ at, bundle });
    this.touch();
  }

  /** Another playback of the plan as it is now, for what is only looked at; null while there is none. */
  twin(): ShowPlayback | null {
    if (this.plan === null) return null;
    const twin = new ShowPlayback(this.show, () => undefined);
    twin.plan = this.plan.twin();
    return twin;
  }

  deck(message: DeckMessage): void {
    if (message.gone === true) {
      this.heads.delete(message.timeline);
      this.all.delete(message.timeline);
    } else {
      const head = new Head(message);
      this.heads.set(message.timeline, head);
      this.all.set(message.timeline, [...(message.past ?? []).map((data) => new Head(message, data)), head]);
    }
    this.touch();
  }

  headsOf(timeline: string): readonly Head[] {
    return this.all.get(timeline) ?? NO_HEADS;
  }

  private within: { engine: number; version: number; heads: Map<string, Head[]> } = {
    engine: Number.NaN,
    version: -1,
    heads: new Map(),
  };
  /** Numbers of timelines within others, by the way to them: each keeps its own, as what is decoded for it does. */
  private readonly numbers = new Map<string, number>();

  /** All heads of a timeline at an engine time, where clips of others show it last. */
  headsAt(timeline: string, engine: number): readonly Head[] {
    const plan = this.plan;
    if (plan === null || plan.nesting().length === 0) return this.headsOf(timeline);
    if (this.within.engine !== engine || this.within.version !== this.version)
      this.within = { engine, version: this.version, heads: this.nest(plan, engine) };
    const nested = this.within.heads.get(timeline);
    return nested === undefined ? this.headsOf(timeline) : [...this.headsOf(timeline), ...nested];
  }

  /** Where timelines are that clips of others show, as `core/Playback/Moment.php` has it. */
  private nest(plan: Plan, engine: number): Map<string, Head[]> {
    const found = new Map<string, Head[]>();
    const grid = plan.flicksPerFrame;
    const asked: { head: Head; timeline: string; chain: string[] }[] = [];
    for (const [timeline, heads] of this.all)
      for (const head of heads) if (head.strength(engine) > 0) asked.push({ head, timeline, chain: [timeline] });
    for (let next = asked.shift(); next !== undefined; next = asked.shift()) {
      const { head, timeline, chain } = next;
      const show = head.at(engine);
      for (const one of plan.nesting()) {
        if (one.timeline !== timeline || chain.length > DEEPEST) continue;
        if (
          one.mute.at(show, engine) >= 0.5 ||
          (one.solo.at(show, engine) < 0.5 && plan.soloed(timeline, show, engine))
        )
          continue;
        let left = one.opacity.at(show, engine) * one.level.at(show, engine) * head.strength(engine);
        for (const track of one.media) {
          if (left <= 0) break;
          const { clip: index, frame } = track.at(show, grid, head.map, engine);
          const clip = one.clips[index];
          if (clip === undefined) continue;
          const strength = left * (clip.fade === undefined ? 1 : strengthOf(clip.fade, show));
          left -= strength;
          if (strength <= 0 || clip.timeline === undefined || chain.includes(clip.timeline)) continue;
          // How fast it goes on, for what will be wanted next.
          const soon = engine + 4 * grid;
          const then = track.at(head.map.at(soon), grid, head.map, soon);
          const rate = then.clip === index ? (then.frame - frame) / 4 : 0;
          const inner = new Head(
            { show: this.show, timeline: clip.timeline, on: true },
            {
              map: { p: [[engine, frame * grid, rate]] },
              weight: [0, strength, 0, 0, 0],
              number: this.numbered(`${head.number} ${one.layer} ${index}`),
            },
          );
          const there = found.get(clip.timeline);
          if (there === undefined) found.set(clip.timeline, [inner]);
          else there.push(inner);
          asked.push({ head: inner, timeline: clip.timeline, chain: [...chain, clip.timeline] });
        }
      }
    }
    return found;
  }

  private numbered(way: string): number {
    let number = this.numbers.get(way);
    if (number === undefined) {
      number = NESTED + this.numbers.size;
      this.numbers.set(way, number);
    }
    return number;
  }

  hold(message: HeldMessage): void {
    if (message.all !== undefined) {
      for (const address of Object.keys(this.held)) if (!(address in message.all)) this.plan?.hold(address, null);
      this.held = message.all;
      for (const [address, list] of Object.entries(message.all)) this.plan?.hold(address, Held.list(list));
    }
    for (const [address, list] of Object.entries(message.set ?? {})) {
      if (list.length === 0) delete this.held[address];
      else this.held[address] = list;
      this.plan?.hold(address, Held.list(list));
    }
    if (message.cards !== undefined) this.cards = new Set(message.cards);
    this.touch();
  }

  cue(message: CuesMessage): void {
    this.cues = { list: this.cues?.list ?? [], ...message };
    this.touch();
  }

  /** What each loose value is set to, by address. */
  loose(): Record<string, number> {
    const values: Record<string, number> = {};
    for (const [address, list] of Object.entries(this.held)) {
      for (const one of list)
        if (one.by === 'hand' && Track.of(one.w).last() > 0) values[address] = Track.of(one.v).last();
    }
    return values;
  }

  private touch(): void {
    this.version++;
    this.changed();
  }

  /** Brings the plan to an engine time: what takes effect by then is applied. Null before there is a plan. */
  at(engine: number): Plan | null {
    const { coming } = this;
    if (coming?.plan != null && (coming.at <= engine || this.plan === null)) {
      this.plan = coming.plan;
      this.waiting = coming.bundles;
      this.coming = null;
      for (const [address, list] of Object.entries(this.held)) this.plan.hold(address, Held.list(list));
      this.version++;
    }
    if (this.plan !== null && this.waiting.length > 0) {
      while (this.waiting[0] !== undefined && this.waiting[0].at <= engine) {
        this.plan.apply((this.waiting.shift() as { bundle: Bundle }).bundle);
        this.version++;
      }
    }
    return this.plan;
  }

  /** Whether anything moves, or is about to take effect, at an engine time. */
  moves(engine: number): boolean {
    if (this.waiting.length > 0 || (this.coming !== null && this.coming.plan !== null)) return true;
    for (const heads of this.all.values()) for (const head of heads) if (head.moves(engine)) return true;
    for (const { timeline, media } of this.plan?.ownClocks() ?? [])
      for (const head of this.headsOf(timeline))
        if (head.strength(engine) > 0 && media.runsAlone(head.at(engine))) return true;
    for (const [address, list] of Object.entries(this.held)) {
      // A media that is called runs on its own clock.
      if (address.endsWith('/source') && list.length > 0) return true;
      for (const one of list) if (!new Held(one).standsFrom(engine)) return true;
    }
    return false;
  }

  master(engine: number): number {
    return this.plan === null ? 1 : this.plan.slot('master:show/level').at(0, engine);
  }
}

/** The shows that a window has, by what it hears: the one on air, and those that it looks at. */
export class Playback {
  readonly shows = new Map<string, ShowPlayback>();
  air: string | null = null;
  private clock = '';
  private readonly watchers = new Set<(show: string) => void>();

  constructor(live: Live) {
    live.on('hello', ({ clock, show }) => {
      // Times of another clock can't be compared: what was heard by the old one is void.
      if (this.clock !== '' && this.clock !== clock) this.shows.clear();
      this.clock = clock;
      this.setAir(show);
    });
    live.on('air', ({ show }) => this.setAir(show));
    live.on('base', ({ show, pack, at }) => this.of(show).base(pack, at));
    live.on('delta', ({ show, at, bundle }) => this.of(show).delta(at, Bundle.of(bundle)));
    live.on('deck', (message) => this.of(message.show).deck(message));
    live.on('held', (message) => this.of(message.show).hold(message));
    live.on('cues', (message) => this.of(message.show).cue(message));
  }

  private setAir(show: string | null): void {
    this.air = show;
    if (show !== null) this.tell(show);
  }

  of(show: string): ShowPlayback {
    let playback = this.shows.get(show);
    if (playback === undefined) {
      playback = new ShowPlayback(show, () => this.tell(show));
      this.shows.set(show, playback);
    }
    return playback;
  }

  /** What is on air, once it can be drawn; until then what was before it. */
  onAir(): ShowPlayback | null {
    return this.air === null ? null : this.of(this.air);
  }

  private tell(show: string): void {
    for (const watcher of this.watchers) watcher(show);
  }

  /** Hears whenever something of a show is told. */
  watch(watcher: (show: string) => void): () => void {
    this.watchers.add(watcher);
    return () => this.watchers.delete(watcher);
  }
}
