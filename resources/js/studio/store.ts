import { notifications } from '@mantine/notifications';
import { QueryClient } from '@tanstack/react-query';
import { create } from 'zustand';
import { api, type Change, type Done, type Kind, Problem, type RowOf, type Schemas, type ShowDocument } from '../api/client';
import { Live } from '../live/client';
import type { Health, TraceMessage } from '../live/messages';
import { type Head, Playback, type ShowPlayback } from '../live/playback';

export const views = ['venue', 'media', 'routes', 'timeline', 'outputs', 'bindings', 'run'] as const;
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
  /** The timeline that the transport drives; the first of the show where none is chosen. */
  timelineId: string | null;
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
  /** An Edit that somebody else's stood in the way of, until theirs or mine is chosen. */
  clash: { name: string; sentence: string; clashes: Schemas['Clash'][]; changes: Change[] } | null;
}

export const useStudio = create<State>(() => ({
  showId: null,
  view: (views as readonly string[]).includes(location.pathname.slice(1)) ? (location.pathname.slice(1) as View) : 'venue',
  selected: null,
  detailsOpen: true,
  timelineId: null,
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
}));

export const set = useStudio.setState;
export const get = useStudio.getState;

export const client = new QueryClient({ defaultOptions: { queries: { retry: 2, refetchOnWindowFocus: false, staleTime: Number.POSITIVE_INFINITY } } });

export const live = new Live();
export const playback = new Playback(live);

/** What this window has of the show that is open. */
export function shownPlayback(): ShowPlayback | null {
  const { showId } = get();
  return showId === null ? playback.onAir() : playback.of(showId);
}

/** Where the timeline is that the transport drives. */
export function shownHead(): Head | undefined {
  return shownPlayback()?.heads.get(timelineId() ?? '');
}

const same = (a: Record<string, number>, b: Record<string, number>) => {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((k) => a[k] === b[k]);
};

/** Brings what the engine tells into what React renders. */
function hear() {
  const on = shownPlayback();
  const values = on?.loose() ?? {};
  const cards = [...(on?.cards ?? [])];
  set((s) => ({ told: s.told + 1, air: playback.air, values: same(s.values, values) ? s.values : values, cards: s.cards.join() === cards.join() ? s.cards : cards }));
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
  live.open([id]);
  hear();
}

live.on('health', (health) => set({ health }));
live.on('link', ({ up }) => set({ up }));

export function go(view: View, selected?: Selection | null) {
  if (location.pathname !== `/${view}`) history.pushState(null, '', `/${view}`);
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

export { viewOf } from '../api/kinds';

const key = (id: string | null) => ['show', id];

export const shown = () => client.getQueryData<ShowDocument>(key(get().showId));
/** All shows that there are. */
export const showsQuery = { queryKey: ['shows'], queryFn: () => api<{ shows: Schemas['ShowHead'][] }>('shows') };
export const showQuery = (id: string | null) => ({ queryKey: key(id), queryFn: () => api<ShowDocument>(`shows/${id}`), enabled: id !== null });

export function complain(error: unknown) {
  notifications.show({ color: 'red', title: error instanceof Problem && error.document.status === 409 ? 'Somebody else changed this' : 'Not done', message: error instanceof Error ? error.message : String(error), autoClose: 8000 });
}

type Computed = Record<string, Record<string, unknown> | number>;

live.on('figures', ({ show, figures }) => {
  client.setQueryData<ShowDocument>(key(show), (old) => {
    if (old === undefined) return old;
    const computed = { ...(old.computed as unknown as Computed) };
    for (const [group, entries] of Object.entries(figures as Computed)) {
      computed[group] = typeof entries === 'number' ? entries : Object.fromEntries(Object.entries({ ...(computed[group] as Record<string, unknown>), ...entries }).filter(([, entry]) => entry !== null));
    }
    return { ...old, computed: computed as unknown as ShowDocument['computed'] };
  });
});

/** Kinds of rows that the venue's pictures are made of. */
const standing = new Set(['panel', 'surface', 'rig', 'projector', 'camera', 'prop', 'seat', 'variant', 'show']);

/** Brings an Edit into the rows that this window has; when it has missed one, all is fetched anew. */
function take(showId: string, revision: number, changes: Change[]) {
  const old = client.getQueryData<ShowDocument>(key(showId));
  if (old === undefined || revision <= old.revision) return;
  // Without changes the answer only says where the server is; what led there is still on its way, or was missed.
  if (revision !== old.revision + 1 || changes.length === 0) {
    void client.invalidateQueries({ queryKey: key(showId) });
    return;
  }
  const rows = { ...old.rows } as Record<string, Record<string, unknown>[]>;
  let next = { ...old, revision } as ShowDocument;
  const unknownFile = changes.some((c) => (c.kind === 'media' && c.op === 'create') || ((c.kind === 'surface' || c.kind === 'prop') && (c.fields.model as { after?: unknown } | undefined)?.after));
  for (const change of changes) {
    const after = Object.fromEntries(Object.entries(change.fields).map(([field, pair]) => [field, (pair as { after: unknown }).after]));
    if (change.kind === 'show') {
      next = { ...next, ...after };
      continue;
    }
    const list = rows[change.kind] ?? [];
    if (change.op === 'delete') rows[change.kind] = list.filter((r) => r.id !== change.id);
    else if (change.op === 'create') rows[change.kind] = [...list.filter((r) => r.id !== change.id), { id: change.id, ...after }];
    else rows[change.kind] = list.map((r) => (r.id === change.id ? withValues(r, after) : r));
  }
  client.setQueryData<ShowDocument>(key(showId), { ...next, rows: rows as unknown as ShowDocument['rows'] });
  if (unknownFile) void client.invalidateQueries({ queryKey: key(showId) });
  if (changes.some((c) => standing.has(c.kind))) void client.invalidateQueries({ queryKey: ['venue', showId] });
}

/** A row after a change: `values.opacity` is one of its stored values, null lets it rest. */
function withValues(row: Record<string, unknown>, after: Record<string, unknown>): Record<string, unknown> {
  const next = { ...row };
  for (const [field, value] of Object.entries(after)) {
    if (!field.startsWith('values.')) next[field] = value;
    else {
      const values = { ...(next.values as Record<string, unknown>) };
      if (value === null) delete values[field.slice(7)];
      else values[field.slice(7)] = value;
      next.values = values;
    }
  }
  return next;
}

/** What a field of a row is: a stored value by its own name too. */
const fieldOf = (row: Record<string, unknown>, field: string): unknown => (field.startsWith('values.') ? ((row.values as Record<string, unknown> | undefined)?.[field.slice(7)] ?? null) : row[field]);

live.on('revision', (message) => {
  if (message.person !== live.person) remember(message.changes, false);
  take(message.show, message.revision, message.changes as Change[]);
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
    const model = <R extends { model: string | null }>(r: R) => (r.model === file.hash ? { ...r, modelFile: { ...(r as { modelFile?: object }).modelFile, ...file } } : r);
    return { ...old, rows: { ...old.rows, media: old.rows.media.map((m) => (m.file === file.hash ? ({ ...m, ...file } as typeof m) : m)), surface: old.rows.surface.map(model), prop: old.rows.prop.map(model) } as ShowDocument['rows'] };
  });
  if (file.state !== 'working') {
    // An answer that was on its way may tell of an earlier state: asked again, the last word is the newest.
    void client.invalidateQueries({ queryKey: key(id) });
    void client.invalidateQueries({ queryKey: ['venue', id] });
  }
});

function done(result: Done) {
  const id = get().showId as string;
  remember(result.changes as never, true);
  take(id, result.revision, result.changes);
  client.setQueryData<ShowDocument>(key(id), (old) => old && { ...old, history: result.history });
  set({ said: `${result.act === 'undo' ? 'Undone: ' : result.act === 'redo' ? 'Redone: ' : ''}${result.name}` });
}

let line: Promise<unknown> = Promise.resolve();

/** Does what this window asks for one after another, in the order in which it was asked. */
function inLine<T>(run: () => Promise<T>): Promise<T> {
  const result = line.then(run);
  line = result.catch(() => undefined);
  return result;
}

/** Values that this person's own edits replaced, by field, since somebody else last changed it: what a change may have been thought of from. */
const replaced = new Map<string, Set<string>>();
const place = (change: { kind: string; id: string }, field: string) => `${change.kind} ${change.id} ${field}`;

function remember(changes: readonly { kind: string; id: string; fields: Record<string, unknown> }[], own: boolean) {
  for (const change of changes) {
    for (const [field, pair] of Object.entries(change.fields)) {
      const at = place(change, field);
      if (!own) replaced.delete(at);
      else replaced.set(at, new Set([...[...(replaced.get(at) ?? [])].slice(-8), JSON.stringify((pair as { before: unknown }).before)]));
    }
  }
}

const plain = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null;

/** The part of a change that this window meant, on top of what its own edits have made of the value meanwhile. */
function onTop(before: unknown, after: unknown, present: unknown): unknown {
  if (!plain(before) || !plain(after) || !plain(present)) return after;
  if (Array.isArray(after) && Array.isArray(present) && after.length === present.length) return after.map((v, i) => (JSON.stringify(v) === JSON.stringify((before as unknown as unknown[])[i]) ? present[i] : v));
  if (Array.isArray(after)) return after;
  return { ...(Array.isArray(present) ? {} : present), ...Object.fromEntries(Object.entries(after).filter(([k, v]) => JSON.stringify(v) !== JSON.stringify(before[k]))) };
}

/** Changes that were thought of before an earlier edit of this person's was done, put on top of it. */
function rebased(changes: Change[]): Change[] {
  const rows = shown()?.rows as unknown as Record<string, Record<string, unknown>[]> | undefined;
  return changes.map((change) => {
    const row = change.op === 'update' ? rows?.[change.kind]?.find((r) => r.id === change.id) : undefined;
    if (row === undefined) return change;
    const fields = Object.entries(change.fields).map(([field, pair]) => {
      const { before, after } = pair as { before: unknown; after: unknown };
      const present = fieldOf(row, field);
      const stale = JSON.stringify(before) !== JSON.stringify(present) && replaced.get(place(change, field))?.has(JSON.stringify(before)) === true;
      return [field, stale ? { before: present, after: onTop(before, after, present) } : pair];
    });
    return { ...change, fields: Object.fromEntries(fields) };
  });
}

/** A request that changes the show, and what came of it brought into this window. */
async function act<T extends Done>(path: string, body: Record<string, unknown>): Promise<T> {
  const result = await api<T>(`shows/${get().showId}/${path}`, { body });
  done(result);
  return result;
}

/** One Edit. Resolves to whether it was done; when not, it is said why. */
export async function edit(name: string, wanted: Change[]): Promise<boolean> {
  if (wanted.length === 0) return true;
  return inLine(async () => {
    const changes = rebased(wanted);
    try {
      await act('edits', { name, changes });
      return true;
    } catch (error) {
      if (error instanceof Problem && error.document.status === 409) {
        void client.invalidateQueries({ queryKey: key(get().showId) });
        const { clashes } = error.document;
        if (clashes?.every((c) => c.field !== null)) {
          set({ clash: { name, sentence: error.message, clashes, changes } });
          return false;
        }
      }
      complain(error);
      return false;
    }
  });
}

export type Order = { do: string; ids?: string[] } & Record<string, unknown>;

/** Moves, turns, copies or lines up things of the venue: the core computes where they go. Says what could not be met. */
export async function arrange(order: Order): Promise<{ done: boolean; says: string[]; made: string[] }> {
  try {
    const result = await inLine(() => act<Done & { says: string[] }>('arrange', order));
    return { done: true, says: result.says, made: result.changes.filter((c) => c.op === 'create').map((c) => c.id) };
  } catch (error) {
    complain(error);
    return { done: false, says: [], made: [] };
  }
}

/** After a clash: writes this window's values over the present ones. */
export async function writeMine() {
  const { clash } = get();
  set({ clash: null });
  if (clash === null) return;
  const present = new Map(clash.clashes.map((c) => [`${c.kind} ${c.id} ${c.field}`, c.present]));
  await edit(
    clash.name,
    clash.changes.map((change) => ({
      ...change,
      fields: Object.fromEntries(
        Object.entries(change.fields).map(([field, pair]) => {
          const at = `${change.kind} ${change.id} ${field}`;
          return [field, present.has(at) ? { ...pair, before: present.get(at) } : pair];
        }),
      ),
    })),
  );
}

/** Changes the show by one request, in line with the others; complains when it is not done. */
async function ask(path: string, body: Record<string, unknown>) {
  await inLine(() => act(path, body)).catch(complain);
}

export const turn = (way: 'undo' | 'redo') => ask(way, {});
/** Places and trims clips, puts and moves keyframes: the core computes what changes. The id of what is new, '' where nothing is, null when it was not done. */
export async function program(order: { do: string } & Record<string, unknown>): Promise<string | null> {
  try {
    return (await inLine(() => act<Done & { made: string | null }>('program', order))).made ?? '';
  } catch (error) {
    complain(error);
    return null;
  }
}

export const keep = (addresses: string[], keyframe: boolean) => ask('keep', { addresses, keyframe });
export const aim = (layers: string[], surfaces: string[]) => ask('aim', { layers, surfaces });
export const importPanels = (csv: string) => ask('panels', { csv });

/** An order to the engine, for the show that is open and the timeline that the transport drives. */
export const command = (body: Record<string, unknown>) => {
  const { showId } = get();
  const timeline = timelineId();
  return live.command({ ...(showId === null ? {} : { show: showId }), ...(timeline === null ? {} : { timeline }), ...body }).catch(complain);
};

export function update<K extends Kind>(kind: K, row: RowOf<K>, fields: Partial<RowOf<K>> | Record<`values.${string}`, number | null>): Change {
  return {
    kind,
    id: row.id,
    op: 'update',
    fields: Object.fromEntries(Object.entries(fields).map(([field, after]) => [field, { before: fieldOf(row as Record<string, unknown>, field) ?? null, after }])),
  } as Change;
}

export function insert<K extends Kind>(kind: K, id: string, fields: Partial<RowOf<K>>): Change {
  return { kind, id, op: 'create', fields: Object.fromEntries(Object.entries(fields).map(([field, after]) => [field, { before: null, after }])) } as Change;
}

export const remove = (kind: Kind, id: string): Change => ({ kind, id, op: 'delete', fields: {} });

/** Show time of the timeline that the transport drives, at this moment, in flicks. */
export function position(): number {
  const now = live.now();
  const head = shownHead();
  return head === undefined ? 0 : head.map.at(now ?? 0);
}

/** Whether it runs at this moment. */
export function running(): boolean {
  const now = live.now();
  return now !== null && shownHead()?.map.runsAt(now) === true;
}

/** The timelines of the show that is open, from the bottom up. */
export const timelinesOf = (show: ShowDocument | undefined) => [...(show?.rows.timeline ?? [])].sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));

export function timelineId(): string | null {
  const { timelineId: chosen } = get();
  const lines = timelinesOf(shown());
  return lines.find((l) => l.id === chosen)?.id ?? lines[0]?.id ?? null;
}
