import { notifications } from '@mantine/notifications';
import { QueryClient } from '@tanstack/react-query';
import { create } from 'zustand';
import { api, type Change, type Done, type Kind, Problem, type RowOf, type Schemas, type ShowDocument } from '../api/client';
import { Live } from '../live/client';
import type { Health, TransportMessage } from '../live/messages';
import { Playback } from '../live/playback';

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
  transport: TransportMessage | null;
  values: Record<string, number>;
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
  transport: null,
  values: {},
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

live.on('transport', (transport) => set({ transport }));
live.on('live', ({ values, cards }) => set({ values, cards: cards ?? [] }));
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

/** The view in which rows of a kind are worked on. */
export const viewOf: Record<Kind, View> = {
  panel: 'venue',
  surface: 'venue',
  media: 'media',
  timeline: 'timeline',
  layer: 'timeline',
  clip: 'timeline',
  curve: 'timeline',
  marker: 'timeline',
  cue: 'timeline',
  output: 'outputs',
  region: 'outputs',
  rig: 'venue',
  projector: 'venue',
  camera: 'venue',
  prop: 'venue',
  seat: 'venue',
  variant: 'venue',
};

const key = (id: string | null) => ['show', id];

export const shown = () => client.getQueryData<ShowDocument>(key(get().showId));
export const showQuery = (id: string | null) => ({ queryKey: key(id), queryFn: () => api<ShowDocument>(`shows/${id}`), enabled: id !== null });

export function complain(error: unknown) {
  notifications.show({ color: 'red', title: error instanceof Problem && error.document.status === 409 ? 'Somebody else changed this' : 'Not done', message: error instanceof Error ? error.message : String(error), autoClose: 8000 });
}

let computing: ReturnType<typeof setTimeout> | undefined;

/** Fetches anew what the core makes of the rows, soon, once for many changes. */
function recompute() {
  clearTimeout(computing);
  computing = setTimeout(async () => {
    const id = get().showId;
    if (id === null) return;
    const computed = await api<ShowDocument['computed']>(`shows/${id}/computed`).catch(() => null);
    if (computed !== null) client.setQueryData<ShowDocument>(key(id), (old) => old && { ...old, computed });
    void client.invalidateQueries({ queryKey: ['venue', id] });
    void client.invalidateQueries({ queryKey: ['trace'] });
  }, 60);
}

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
    else rows[change.kind] = list.map((r) => (r.id === change.id ? { ...r, ...after } : r));
  }
  client.setQueryData<ShowDocument>(key(showId), { ...next, rows: rows as unknown as ShowDocument['rows'] });
  if (unknownFile) void client.invalidateQueries({ queryKey: key(showId) });
  recompute();
}

live.on('revision', (message) => {
  if (message.person !== live.person) remember(message.changes, false);
  take(message.show, message.revision, message.changes as Change[]);
  if (message.show === get().showId && message.person !== live.person) void client.invalidateQueries({ queryKey: ['trace'] });
});
live.on('hello', () => void client.invalidateQueries({ queryKey: key(get().showId) }));
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
    recompute();
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
      const stale = JSON.stringify(before) !== JSON.stringify(row[field]) && replaced.get(place(change, field))?.has(JSON.stringify(before)) === true;
      return [field, stale ? { before: row[field], after: onTop(before, after, row[field]) } : pair];
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
export const keep = (lanes: string[], keyframe: boolean) => ask('keep', { lanes, keyframe });
export const importPanels = (csv: string) => ask('panels', { csv });

export const command = (body: Record<string, unknown>) => live.command(body).catch(complain);

export function update<K extends Kind>(kind: K, row: RowOf<K>, fields: Partial<RowOf<K>>): Change {
  return {
    kind,
    id: row.id,
    op: 'update',
    fields: Object.fromEntries(Object.entries(fields).map(([field, after]) => [field, { before: (row as Record<string, unknown>)[field] ?? null, after }])),
  } as Change;
}

export function insert<K extends Kind>(kind: K, id: string, fields: Partial<RowOf<K>>): Change {
  return { kind, id, op: 'create', fields: Object.fromEntries(Object.entries(fields).map(([field, after]) => [field, { before: null, after }])) } as Change;
}

export const remove = (kind: Kind, id: string): Change => ({ kind, id, op: 'delete', fields: {} });

/** Show time at this moment, in flicks. */
export function position(): number {
  const { transport } = get();
  if (transport === null) return 0;
  const now = live.now();
  const { playing, engine, position: at } = transport.transport;
  return playing && now !== null ? Math.min(transport.rest, at + Math.max(0, now - engine)) : at;
}
