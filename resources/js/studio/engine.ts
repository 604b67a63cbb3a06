import type { Schemas, ShowDocument } from '../api/client';
import { complain } from './complain';
import { figured } from './rows';
import { addressed, client, get, handledId, key, live, playback, set, shownPlayback } from './state';

const same = (a: Record<string, number>, b: Record<string, number>) => {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((k) => a[k] === b[k]);
};

/** Brings what the engine tells into what React renders. */
function hear() {
  const on = shownPlayback();
  const values = on?.loose() ?? {};
  const cards = [...(on?.cards ?? [])];
  set((s) => ({
    told: s.told + 1,
    air: playback.air,
    values: same(s.values, values) ? s.values : values,
    cards: s.cards.join() === cards.join() ? s.cards : cards,
  }));
}
playback.watch((show) => {
  if (show === get().showId || get().showId === null || show === playback.air) hear();
});

let watched = '';

/** Has the engine tell why a surface is dark, whenever that changes. */
export function watchTrace(surface: string | undefined) {
  const { showId, trace } = get();
  if (showId === null || surface === undefined) return;
  const wish = `${live.stream} ${showId} ${surface}`;
  if (wish === watched) return;
  watched = wish;
  if (trace !== null && trace.surface !== surface) set({ trace: null });
  void live.watch(showId, surface);
}
live.on('trace', (trace) => {
  if (trace.show === get().showId && watched.endsWith(trace.surface)) set({ trace });
});

/** Opens a show in this window: it is looked at, on air or not. */
export function openShow(id: string) {
  set({ showId: id, selected: null, chosen: [], timelineId: null, trace: null, values: {} });
  if (addressed() !== id) history.replaceState(null, '', `${location.pathname}?show=${id}`);
  live.open([id]);
  hear();
}

live.on('health', (health) => set({ health }));
live.on('link', ({ up }) => set({ up }));

live.on('figures', ({ show, figures }) => {
  client.setQueryData<ShowDocument>(key(show), (old) => old && figured(old, figures));
});
live.on('hello', () => {
  watched = '';
  hear();
  void client.invalidateQueries({ queryKey: key(get().showId) });
});
live.on('file', (file) => {
  const id = get().showId;
  client.setQueryData<ShowDocument>(key(id), (old) => {
    if (old === undefined) return old;
    const model = <R extends { model: string | null }>(r: R) =>
      r.model === file.hash ? { ...r, modelFile: { ...(r as { modelFile?: object }).modelFile, ...file } } : r;
    return {
      ...old,
      rows: {
        ...old.rows,
        media: old.rows.media.map((m) => (m.file === file.hash ? ({ ...m, ...file } as typeof m) : m)),
        surface: old.rows.surface.map(model),
        prop: old.rows.prop.map(model),
      } as ShowDocument['rows'],
    };
  });
  if (file.state !== 'working') {
    // An answer that was on its way may tell of an earlier state: asked again, the last word is the newest.
    void client.invalidateQueries({ queryKey: key(id) });
    void client.invalidateQueries({ queryKey: ['venue', id] });
  }
});

/** What this person is called, for others who see what was pressed. Kept with this browser. */
export const personName = () => localStorage.getItem('kite-name') ?? '';
export const setPersonName = (name: string) => localStorage.setItem('kite-name', name.trim().slice(0, 40));

/** What is done to the timeline that a person sees, where that is another than the driven one. */
const BY_SIGHT: readonly string[] = ['jump', 'nudge', 'loop'];

/** A command to the engine, for the show that is open. */
export const command = (body: Schemas['Command']) => {
  const { showId } = get();
  const timeline = BY_SIGHT.includes(body.action) ? handledId() : null;
  const as = personName();
  return live
    .command({
      ...(as === '' ? {} : { as }),
      ...(showId === null ? {} : { show: showId }),
      ...(timeline === null ? {} : { timeline }),
      ...body,
    })
    .catch(complain);
};

/**
 * Shows a timeline in this window. In a show that is only looked at, the transport drives it as well; what is on air
 * goes on being driven as it was, until somebody says so.
 */
export function openTimeline(id: string) {
  const { air, showId } = get();
  set({ timelineId: id });
  if (showId !== null && air !== showId) void drive(id);
}

/** Has the transport, and with it Go, act on a timeline. */
export const drive = (timeline: string) => {
  set({ timelineId: timeline });
  return command({ action: 'drive', timeline });
};
