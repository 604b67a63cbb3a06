import { create } from 'zustand';
import { answer, http, Problem } from '../../../api/client';
import { complain, inShow, select } from '../../store';
import { archive, grouped } from './sequence';

/** A file on its way: being sent, or waiting for its turn; held by a person; or begun before and wanting its file again. */
export interface Upload {
  key: string;
  name: string;
  bytes: number;
  received: number;
  state: 'sending' | 'paused' | 'unfinished' | 'done' | 'failed' | 'stopped';
  message: string;
  id?: string;
  /** The media that it became. */
  media?: string;
  /** What is sent, where it may be held and go on. */
  file?: File;
  /** Bytes a second over the last parts; 0 until there is one. */
  rate: number;
}

/** Whether more of it may come. */
export const isOpen = ({ state }: Upload) => state === 'sending' || state === 'paused' || state === 'unfinished';

export const useUploads = create<{ uploads: Upload[] }>(() => ({ uploads: [] }));

const AT_ONCE = 3;
/** How much a new part weighs in the rate. */
const WEIGHT = 0.3;
let active = 0;
const queue: (() => Promise<unknown>)[] = [];

const find = (key: string) => useUploads.getState().uploads.find((u) => u.key === key);

function change(key: string, fields: Partial<Upload>) {
  useUploads.setState(({ uploads }) => ({ uploads: uploads.map((u) => (u.key === key ? { ...u, ...fields } : u)) }));
}

function add(file: File, holdable: boolean): string {
  const key = crypto.randomUUID();
  useUploads.setState(({ uploads }) => ({
    // One that was begun before is this one now.
    uploads: [
      ...uploads.filter((u) => u.state !== 'unfinished' || u.name !== file.name || u.bytes !== file.size),
      {
        key,
        name: file.name,
        bytes: file.size,
        received: 0,
        state: 'sending',
        message: '',
        rate: 0,
        ...(holdable ? { file } : {}),
      },
    ],
  }));
  return key;
}

const hex = (bytes: ArrayBuffer) => [...new Uint8Array(bytes)].map((b) => b.toString(16).padStart(2, '0')).join('');

/** What is here of a file from an earlier time, if its last part is that of this file; else it is begun anew. */
async function begin(file: File) {
  const { uploads } = await answer(http.GET('/shows/{show}/uploads', inShow()));
  for (const open of uploads.filter((u) => u.name === file.name && u.bytes === file.size && u.received > 0)) {
    const { tail, received } = await answer(http.GET('/uploads/{upload}', { params: { path: { upload: open.id } } }));
    if (
      tail != null &&
      hex(await crypto.subtle.digest('SHA-256', await file.slice(tail.from, received).arrayBuffer())) === tail.sha256
    )
      return { ...open, received };
  }
  return answer(http.POST('/shows/{show}/uploads', { ...inShow(), body: { name: file.name, bytes: file.size } }));
}

/** Sends a file in parts, from where it is. Resolves to its hash, or to null when it was stopped or held. */
async function send(file: File, key: string): Promise<string | null> {
  let hash = '';
  const { state: wish, id } = find(key) ?? { state: 'stopped' };
  if (wish === 'stopped' && id !== undefined)
    await http.DELETE('/uploads/{upload}', { params: { path: { upload: id } } }).catch(() => undefined);
  if (wish !== 'sending') return null;
  const started = await begin(file);
  const upload = { params: { path: { upload: started.id } } };
  let at = started.received;
  change(key, { id: started.id, received: at, rate: 0 });
  // All bytes there and no hash: it was never filed, and an empty part has it filed.
  for (let tries = 0; at < file.size || hash === ''; ) {
    const { state } = find(key) ?? { state: 'stopped' };
    if (state === 'stopped') await http.DELETE('/uploads/{upload}', upload).catch(() => undefined);
    if (state !== 'sending') return null;
    try {
      const began = performance.now();
      const part = await fetch(`/api/uploads/${started.id}?at=${at}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/octet-stream' },
        body: file.slice(at, at + started.largestChunk),
      });
      const data = await part.json();
      if (part.status === 409 && typeof data.received === 'number') {
        at = data.received;
        continue;
      }
      if (!part.ok) throw new Problem({ status: part.status, ...data });
      const rate = ((data.received - at) / Math.max(1, performance.now() - began)) * 1000;
      at = data.received;
      tries = 0;
      const before = find(key)?.rate ?? 0;
      change(key, { received: at, rate: before === 0 ? rate : before + (rate - before) * WEIGHT });
      if (data.hash !== undefined) {
        hash = data.hash;
        change(key, {
          state: 'done',
          message: data.message ?? '',
          ...(data.media === undefined ? {} : { media: data.media }),
        });
        if (data.media !== undefined) select({ kind: 'media', id: data.media });
      }
    } catch (error) {
      if (error instanceof Problem && !error.passing) throw error;
      // The line broke: after a while, ask how much arrived, and go on from there.
      if (++tries > 20) throw error;
      await new Promise((done) => setTimeout(done, Math.min(5000, 250 * 2 ** tries)));
      at = (await answer(http.GET('/uploads/{upload}', upload)).catch(() => ({ received: at }))).received;
    }
  }
  return hash;
}

/** The same, and says why where it was not taken. */
async function attempt(file: File, key: string): Promise<string | null> {
  try {
    return await send(file, key);
  } catch (error) {
    change(key, { state: 'failed', message: (error as Error).message });
    complain(error);
    return null;
  }
}

/** Sends a file that is no media: a model, a calibration. Resolves to its hash; null when it was not taken, which is said. */
export const uploadFile = (file: File) => attempt(file, add(file, false));

function pump() {
  while (active < AT_ONCE && queue.length > 0) {
    active++;
    void queue
      .shift()?.()
      .finally(() => {
        active--;
        pump();
      });
  }
}

function enqueue(file: File, key: string) {
  queue.push(() => attempt(file, key));
  pump();
}

/** Numbered stills of one folder go in as one video at the show's rate, unless each is wanted by itself. */
export function upload(files: Iterable<File>, frameRate: string | null) {
  const all = [...files];
  const whole =
    frameRate === null ? all : grouped(all).map((one) => (one instanceof File ? one : archive(one, frameRate)));
  for (const file of whole) enqueue(file, add(file, true));
}

/** Shows what was begun before this page was opened: it goes on when its file is imported again. */
export async function showUnfinished() {
  const { uploads } = await answer(http.GET('/shows/{show}/uploads', inShow()));
  useUploads.setState((now) => {
    const mine = new Set(now.uploads.map((u) => u.id));
    const fresh = uploads.filter(
      (u) =>
        !mine.has(u.id) &&
        u.received > 0 &&
        !now.uploads.some((n) => n.state === 'sending' && n.name === u.name && n.bytes === u.bytes),
    );
    return {
      uploads: [
        ...now.uploads.filter((u) => u.state !== 'unfinished' || uploads.some((open) => open.id === u.id)),
        ...fresh.map((u) => ({
          key: u.id,
          id: u.id,
          name: u.name,
          bytes: u.bytes,
          received: u.received,
          state: 'unfinished' as const,
          message: 'Import the same file again to go on.',
          rate: 0,
        })),
      ],
    };
  });
}

export const pauseUpload = (key: string) => change(key, { state: 'paused', message: 'Paused.', rate: 0 });

export function resumeUpload(key: string) {
  const file = find(key)?.file;
  if (file === undefined) return;
  change(key, { state: 'sending', message: '' });
  enqueue(file, key);
}

export function stopUpload(key: string) {
  const { state, id } = find(key) ?? {};
  change(key, { state: 'stopped', message: 'Stopped.' });
  // One that nobody sends just now is forgotten here.
  if (state !== 'sending' && id !== undefined)
    void http.DELETE('/uploads/{upload}', { params: { path: { upload: id } } }).catch(complain);
}

export const clearUploads = () => useUploads.setState(({ uploads }) => ({ uploads: uploads.filter(isOpen) }));
