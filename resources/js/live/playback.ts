import type { Live } from './client';
import type { DeckMessage, HeldData, HeldMessage } from './messages';
import { Bundle, Plan } from './plan';
import { Held, Track, TransportMap } from './values';

/** One timeline that is on: where it is, how strongly, and what Go would start. */
export class Head {
  readonly map: TransportMap;
  private readonly weight: Track | null;
  private engine = Number.NaN;
  private show = 0;
  readonly next: string | null;
  readonly waiting: boolean;
  readonly on: boolean;

  constructor(readonly message: DeckMessage) {
    this.map = new TransportMap(message.map ?? { p: [[0, 0, 0]] });
    this.on = message.on === true;
    this.weight = message.weight === undefined ? null : Track.of(message.weight);
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
}

/**
 * What a window has of one show: its plan, its timelines' heads and what is held over them. It plays on by these whatever
 * becomes of the engine.
 */
export class ShowPlayback {
  plan: Plan | null = null;
  readonly heads = new Map<string, Head>();
  cards: ReadonlySet<string> = new Set();
  /** Grows with whatever is told, so that a view knows whether anything may be different. */
  version = 0;
  private held: Record<string, HeldData[]> = {};
  private waiting: { at: number; bundle: Bundle }[] = [];
  private coming: { pack: string; at: number; plan: Plan | null; bundles: { at: number; bundle: Bundle }[] } | null = null;

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

  deck(message: DeckMessage): void {
    if (message.gone === true) this.heads.delete(message.timeline);
    else this.heads.set(message.timeline, new Head(message));
    this.touch();
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

  /** What each loose value is set to, by address. */
  loose(): Record<string, number> {
    const values: Record<string, number> = {};
    for (const [address, list] of Object.entries(this.held)) {
      for (const one of list) if (one.by === 'hand' && Track.of(one.w).last() > 0) values[address] = Track.of(one.v).last();
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
    for (const head of this.heads.values()) if (head.strength(engine) > 0 && head.map.moves(engine)) return true;
    for (const list of Object.values(this.held)) for (const one of list) if (!Track.of(one.w).standsFrom(engine) || !Track.of(one.v).standsFrom(engine)) return true;
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
