import { answer, type Change, type Done, http, type Kind, Problem, type paths, type ShowDocument } from '../api/client';
import { complain } from './complain';
import { Replaced } from './rebase';
import { edited, type Row } from './rows';
import { client, get, inShow, key, live, type Selection, select, set, shown } from './state';
import { follow, type Task } from './tasks';

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
  client.setQueryData<ShowDocument>(key(showId), edited(old, revision, changes));
  const unknownFile = changes.some(
    (c) =>
      (c.kind === 'media' && (c.op === 'create' || c.fields.file !== undefined)) ||
      ((c.kind === 'surface' || c.kind === 'prop') && (c.fields.model as { after?: unknown } | undefined)?.after),
  );
  if (unknownFile) void client.invalidateQueries({ queryKey: key(showId) });
  if (changes.some((c) => standing.has(c.kind))) void client.invalidateQueries({ queryKey: ['venue', showId] });
}

const replaced = new Replaced();

live.on('revision', (message) => {
  if (message.person !== live.person) replaced.note(message.changes, false);
  take(message.show, message.revision, message.changes as Change[]);
});

function done(result: Done) {
  const id = get().showId as string;
  replaced.note(result.changes as never, true);
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

const rowOf = (kind: Kind, id: string) =>
  (shown()?.rows[kind] as unknown as Row[] | undefined)?.find((r) => r.id === id);

/** A request that changes the show, and what came of it brought into this window. */
async function act<T extends Done>(call: Promise<{ data?: T }>): Promise<T> {
  const result = await answer(call);
  done(result);
  return result;
}

/** One Edit. Resolves to whether it was done; when not, it is said why. */
export async function edit(name: string, wanted: Change[]): Promise<boolean> {
  if (wanted.length === 0) return true;
  return inLine(async () => {
    const changes = replaced.rebased(wanted, rowOf);
    try {
      await act(http.POST('/shows/{show}/edits', { ...inShow(), body: { name, changes } }));
      return true;
    } catch (error) {
      if (error instanceof Problem && error.clash) {
        void client.invalidateQueries({ queryKey: key(get().showId) });
        const { clashes } = error.document;
        if (clashes?.every((c) => c.field !== null)) {
          set({ clash: { name, message: error.message, clashes, changes } });
          return false;
        }
      }
      complain(error);
      return false;
    }
  });
}

/** One Edit, and then something else selected, unless somebody selected anew meanwhile: what one is at is not taken away. */
export async function editAndSelect(name: string, wanted: Change[], selected: Selection | null): Promise<boolean> {
  const before = get().selected;
  if (!(await edit(name, wanted))) return false;
  if (get().selected === before) select(selected);
  return true;
}

/** Changes the show by one request, in line with the others; complains when it is not done, and is null then. */
async function ask<T extends Done>(call: () => Promise<{ data?: T }>): Promise<T | null> {
  try {
    return await inLine(() => act(call()));
  } catch (error) {
    complain(error);
    return null;
  }
}

type Body<P extends keyof paths> = paths[P]['post'] extends {
  requestBody: { content: { 'application/json': infer B } };
}
  ? B
  : never;
export type Order = Body<'/shows/{show}/arrange'>;

/** Moves, turns, copies or lines up things of the venue: the core computes where they go. Says what could not be met. */
export async function arrange(order: Order): Promise<{ done: boolean; notes: string[]; made: string[] }> {
  const result = await ask(() => http.POST('/shows/{show}/arrange', { ...inShow(), body: order }));
  return {
    done: result !== null,
    notes: result?.notes ?? [],
    made: (result?.changes ?? []).filter((c) => c.op === 'create').map((c) => c.id),
  };
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

export const turn = (way: 'undo' | 'redo') => ask(() => http.POST(`/shows/{show}/${way}`, inShow()));
/** Places and trims clips, puts and moves keyframes: the core computes what changes. The id of what is new, '' where nothing is, null when it was not done. */
export async function program(order: Body<'/shows/{show}/program'>): Promise<string | null> {
  const result = await ask(() => http.POST('/shows/{show}/program', { ...inShow(), body: order }));
  return result === null ? null : (result.createdId ?? '');
}

/** Records cues and changes what they hold. The id of what is new, '' where nothing is, null when it was not done. */
export async function recordCue(order: Body<'/shows/{show}/cues'>): Promise<string | null> {
  const result = await ask(() => http.POST('/shows/{show}/cues', { ...inShow(), body: order }));
  return result === null ? null : (result.createdId ?? '');
}

/** Takes a file as one Edit: a small one at once, a large one by the worker, with progress. */
async function imported(title: string, call: () => Promise<{ data?: Done | Task }>): Promise<void> {
  try {
    const result = await inLine(() => answer<Done | Task>(call()));
    if (!('state' in result)) {
      done(result);
      return;
    }
    const task = await follow(result, title);
    if (task === null) return;
    // Its changes come by the live stream; what can be undone does not.
    void client.invalidateQueries({ queryKey: key(get().showId) });
    set({ said: task.message ?? title });
  } catch (error) {
    complain(error);
  }
}

/** Takes a table of cues, markers or bindings. */
export const importTable = (of: 'cues' | 'markers' | 'bindings', csv: string) =>
  imported(`Import ${of}`, () => http.POST(`/shows/{show}/${of}.csv`, { ...inShow(), body: { csv } }));

/** Names and changes routes: the core computes what changes. The id of what is new, '' where nothing is, null when it was not done. */
export async function route(order: Body<'/shows/{show}/routes'>): Promise<string | null> {
  const result = await ask(() => http.POST('/shows/{show}/routes', { ...inShow(), body: order }));
  return result === null ? null : (result.createdId ?? '');
}

/** Changes outputs and regions: the core computes what changes. What it says, null when it was not done. */
export const outputs = (order: Body<'/shows/{show}/outputs'>) =>
  ask(() => http.POST('/shows/{show}/outputs', { ...inShow(), body: order }));

/** Binds controls that were learned. The ids of the bindings; null when it was not done. */
export async function bindings(order: Body<'/shows/{show}/bindings'>): Promise<string[] | null> {
  const result = await ask(() => http.POST('/shows/{show}/bindings', { ...inShow(), body: order }));
  return result === null ? null : (result.createdId ?? '').split(' ').filter((id) => id !== '');
}

/** Makes a copy of the show that is open. Its id; null when it was not done. */
export async function copyShow(): Promise<string | null> {
  const { showId } = get();
  const name = client.getQueryData<ShowDocument>(key(showId))?.name ?? '';
  try {
    const head = await answer(http.POST('/shows/{show}/duplicate', { ...inShow(), body: { name: `${name} copy` } }));
    await client.invalidateQueries({ queryKey: ['shows'] });
    return head.id;
  } catch (error) {
    complain(error);
    return null;
  }
}

/** Builds a touch panel. The id of what is new, '' where nothing is; null when it was not done. */
export async function touchPanel(order: Body<'/shows/{show}/touch'>): Promise<string | null> {
  const result = await ask(() => http.POST('/shows/{show}/touch', { ...inShow(), body: order }));
  return result === null ? null : (result.createdId ?? '');
}

/** A code by which a tablet is paired with a panel, which is told this once; null when there is none. */
export async function pairingCode(panel: string): Promise<string | null> {
  try {
    return (await answer(http.POST('/touch/codes', { body: { panel } }))).code;
  } catch (error) {
    complain(error as Error);
    return null;
  }
}

/** Takes the right from a tablet. */
export async function revokePanel(paired: string): Promise<void> {
  await answer(http.DELETE('/touch/paired/{paired}', { params: { path: { paired } } })).catch(complain);
}

/** Makes a token for the requests of a device, which is told this once; null when it was not done. */
export async function deviceToken(device: string): Promise<string | null> {
  const result = await ask(() =>
    http.POST('/shows/{show}/devices/{device}/token', {
      params: { path: { show: get().showId ?? '', device } },
    }),
  );
  return result?.token ?? null;
}

/** Takes warps and blends of a surface from a package of the interchange format that was uploaded, by its hash. */
export const importCalibration = (surface: string, file: string) =>
  imported('Import a calibration', () =>
    http.POST('/shows/{show}/surfaces/{surface}/projection.mpcdi', {
      params: { path: { show: get().showId ?? '', surface } },
      body: { file },
    }),
  );

export async function base64(file: File) {
  let text = '';
  const bytes = new Uint8Array(await file.arrayBuffer());
  for (let i = 0; i < bytes.length; i += 32768) text += String.fromCharCode(...bytes.subarray(i, i + 32768));
  return btoa(text);
}

/** Takes places of regions from a technician's table. */
export const importRegions = (csv: string) =>
  imported('Import places of regions', () => http.POST('/shows/{show}/regions.csv', { ...inShow(), body: { csv } }));

/** What would not fit of a new version of a media: the other media whose file it is. */
export const misfits = async (media: string, by: string) => {
  const { showId: show } = get();
  const said = await answer(
    http.POST('/shows/{show}/media/{media}/version', { params: { path: { show: show ?? '', media } }, body: { by } }),
  );
  return 'misfits' in said ? said.misfits : [];
};
/** Has a media show another file, every use kept: that of another media, or one that it showed before. */
export const version = (media: string, file: { by: string; take: true } | { file: string }) =>
  ask(
    () =>
      http.POST('/shows/{show}/media/{media}/version', {
        params: { path: { show: get().showId ?? '', media } },
        body: file,
      }) as Promise<{ data?: Done }>,
  );

export const keep = (addresses: string[], keyframe: boolean) =>
  ask(() => http.POST('/shows/{show}/keep', { ...inShow(), body: { addresses, keyframe } }));
export const aim = (layers: string[], surfaces: string[]) =>
  ask(() => http.POST('/shows/{show}/aim', { ...inShow(), body: { layers, surfaces } }));
export const importPanels = (csv: string) =>
  imported('Import panels', () => http.POST('/shows/{show}/panels', { ...inShow(), body: { csv } }));
