import { QueryClient } from '@tanstack/react-query';
import { create } from 'zustand';
import { answer, type Change, http, type Kind, type Schemas, type ShowDocument } from '../api/client';
import { Live } from '../live/client';
import type { Health, TraceMessage } from '../live/messages';
import { type Head, Playback, type ShowPlayback } from '../live/playback';

export const views = ['venue', 'media', 'routes', 'timeline', 'cues', 'outputs', 'bindings', 'run'] as const;
export type View = (typeof views)[number];

export interface Selection {
  kind: Kind;
  id: string;
}

interface State {
  showId: string | null;
  view: View;
  selected: Selection | null;
  /** All that is chosen, the selection last; one thing or none in most views. */
  chosen: Selection[];
  detailsOpen: boolean;
  /** The timeline that this window shows; the driven one where none is chosen. */
  timelineId: string | null;
  /** Clips that were copied, and keyframes. */
  copied: { clips: string[]; keys: { curve: string; t: number }[] };
  /** Whether what follows on a layer moves along with what is changed. */
  ripple: boolean;
  /** The page of the cue board that is shown; the first where none is chosen. */
  pageId: string | null;
  /** The show on air, by the engine. */
  air: string | null;
  /** Grows with whatever the engine tells of the show that is open. */
  told: number;
  /** Loose values of the show that is open, by address. */
  values: Record<string, number>;
  trace: TraceMessage | null;
  /** Surfaces that show the test card. */
  cards: string[];
  health: Health | null;
  up: boolean;
  /** A text for screen readers and for those who look: what just happened. */
  said: string;
  /** Whether a new show is being named. */
  beginning: boolean;
  /** Whether it is asked if this show goes on air. */
  engaging: boolean;
  /** An Edit that somebody else's stood in the way of, until theirs or mine is chosen. */
  clash: { name: string; message: string; clashes: Schemas['Clash'][]; changes: Change[] } | null;
}

export const useStudio = create<State>(() => ({
  showId: null,
  view: (views as readonly string[]).includes(location.pathname.slice(1))
    ? (location.pathname.slice(1) as View)
    : 'venue',
  selected: null,
  detailsOpen: true,
  timelineId: null,
  pageId: null,
  copied: { clips: [], keys: [] },
  ripple: false,
  air: null,
  told: 0,
  values: {},
  trace: null,
  cards: [],
  chosen: [],
  health: null,
  up: false,
  said: '',
  clash: null,
  beginning: false,
  engaging: false,
}));

export const set = useStudio.setState;
export const get = useStudio.getState;

export const client = new QueryClient({
  defaultOptions: { queries: { retry: 2, refetchOnWindowFocus: false, staleTime: Number.POSITIVE_INFINITY } },
});

export const live = new Live();
export const playback = new Playback(live);

/** The show that the address names; empty where it names none. */
export const addressed = () => new URLSearchParams(location.search).get('show') ?? '';

export function go(view: View, selected?: Selection | null) {
  if (location.pathname !== `/${view}`) history.pushState(null, '', `/${view}${location.search}`);
  set(selected === undefined ? { view } : { view, selected, chosen: selected === null ? [] : [selected] });
}
addEventListener('popstate', () => set({ view: (location.pathname.slice(1) || 'venue') as View }));

export const select = (selected: Selection | null) => set({ selected, chosen: selected === null ? [] : [selected] });

/** Chooses several things; the last one is the selection. */
export const choose = (chosen: Selection[]) => set({ chosen, selected: chosen[chosen.length - 1] ?? null });

/** Takes a thing into what is chosen, or out of it. */
export const toggle = (one: Selection) => {
  const { chosen } = get();
  choose(chosen.some((c) => c.id === one.id) ? chosen.filter((c) => c.id !== one.id) : [...chosen, one]);
};

/** Where a show is kept among the answers. */
export const key = (id: string | null) => ['show', id];

/** The show that is open, as a call names it. */
export const inShow = () => ({ params: { path: { show: get().showId ?? '' } } });

export const shown = () => client.getQueryData<ShowDocument>(key(get().showId));
/** All shows that there are. */
export const showsQuery = { queryKey: ['shows'], queryFn: () => answer(http.GET('/shows')) };

/** A show whole. An answer that is older than what this window has made of it meanwhile is asked for again, three times at most. */
async function fetchShow(id: string): Promise<ShowDocument> {
  for (let left = 3; ; left -= 1) {
    const told = await answer(http.GET('/shows/{show}', { params: { path: { show: id } } }));
    if (told.revision >= (client.getQueryData<ShowDocument>(key(id))?.revision ?? 0) || left === 0) return told;
  }
}

export const showQuery = (id: string | null) => ({
  queryKey: key(id),
  queryFn: () => fetchShow(id ?? ''),
  enabled: id !== null,
});

/** The timelines of the show that is open, from the bottom up. */
export const timelinesOf = (show: ShowDocument | undefined) =>
  [...(show?.rows.timeline ?? [])].sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));

/** The timeline that the transport drives, as the engine says; null in a show without any. */
export function drivenId(): string | null {
  const driven = shownPlayback()?.cues?.driven;
  const lines = timelinesOf(shown());
  return lines.find((l) => l.id === driven)?.id ?? lines[0]?.id ?? null;
}

/** The timeline that this window shows and edits; null in a show without any. */
export function timelineId(): string | null {
  const { timelineId: chosen } = get();
  return timelinesOf(shown()).find((l) => l.id === chosen)?.id ?? drivenId();
}

/** The timeline on which keys and fields act: the one that is seen in the timeline view, elsewhere the driven one. */
export const handledId = () => (get().view === 'timeline' ? timelineId() : drivenId());

/** What this window has of the show that is open. */
export function shownPlayback(): ShowPlayback | null {
  const { showId } = get();
  return showId === null ? playback.onAir() : playback.of(showId);
}

/** Where a timeline is; the shown one where none is named. */
export function shownHead(timeline = timelineId()): Head | undefined {
  return shownPlayback()?.heads.get(timeline ?? '');
}

/** Show time of a timeline at this moment, in flicks; of the shown one where none is named. */
export function position(timeline = timelineId()): number {
  const now = live.now();
  const head = shownHead(timeline);
  return head === undefined ? 0 : head.map.at(now ?? 0);
}

/** The show time of the frame that is seen: what is put at the playhead goes there. */
export function playhead(): number {
  const frame = shown()?.computed.flicksPerFrame ?? 1;
  return Math.floor(position() / frame) * frame;
}

/** Whether the driven timeline runs at this moment. */
export function running(): boolean {
  const now = live.now();
  return now !== null && shownHead(drivenId())?.map.runsAt(now) === true;
}
