import { create } from 'zustand';
import { answer, http, Problem } from '../../api/client';
import { complain, inShow, select } from '../store';

export interface Upload {
  key: string;
  name: string;
  bytes: number;
  received: number;
  state: 'sending' | 'done' | 'failed' | 'stopped';
  sentence: string;
  id?: string;
}

export const useUploads = create<{ uploads: Upload[] }>(() => ({ uploads: [] }));

const AT_ONCE = 3;
let active = 0;
const queue: (() => Promise<void>)[] = [];

function change(key: string, fields: Partial<Upload>) {
  useUploads.setState(({ uploads }) => ({ uploads: uploads.map((u) => (u.key === key ? { ...u, ...fields } : u)) }));
}

const stopped = (key: string) => useUploads.getState().uploads.find((u) => u.key === key)?.state === 'stopped';

/** Sends a file in parts. Resolves to its hash, or to null when it was stopped. */
async function send(file: File, key: string): Promise<string | null> {
  let hash = '';
  const started = await answer(http.POST('/shows/{show}/uploads', { ...inShow(), body: { name: file.name, bytes: file.size } }));
  const upload = { params: { path: { upload: started.id } } };
  change(key, { id: started.id });
  let at = 0;
  // All bytes there and no hash: it was never filed, and an empty part has it filed.
  for (let tries = 0; at < file.size || hash === ''; ) {
    if (stopped(key)) {
      await http.DELETE('/uploads/{upload}', upload).catch(() => undefined);
      return null;
    }
    try {
      const answer = await fetch(`/api/uploads/${started.id}?at=${at}`, { method: 'PUT', headers: { 'Content-Type': 'application/octet-stream' }, body: file.slice(at, at + started.largestChunk) });
      const data = await answer.json();
      if (answer.status === 409 && typeof data.received === 'number') {
        at = data.received;
        continue;
      }
      if (!answer.ok) throw new Problem({ status: answer.status, ...data });
      at = data.received;
      tries = 0;
      change(key, { received: at });
      if (data.hash !== undefined) {
        hash = data.hash;
        change(key, { state: 'done', sentence: data.sentence ?? '' });
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

/** Sends a model's file. Resolves to its hash; null when it was not taken, which is said. */
export async function uploadModel(file: File): Promise<string | null> {
  const key = crypto.randomUUID();
  useUploads.setState(({ uploads }) => ({ uploads: [...uploads, { key, name: file.name, bytes: file.size, received: 0, state: 'sending', sentence: '' }] }));
  try {
    return await send(file, key);
  } catch (error) {
    change(key, { state: 'failed', sentence: (error as Error).message });
    complain(error);
    return null;
  }
}

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

export function upload(files: Iterable<File>) {
  for (const file of files) {
    const key = crypto.randomUUID();
    useUploads.setState(({ uploads }) => ({ uploads: [...uploads, { key, name: file.name, bytes: file.size, received: 0, state: 'sending', sentence: '' }] }));
    queue.push(async () => {
      try {
        await send(file, key);
      } catch (error) {
        change(key, { state: 'failed', sentence: (error as Error).message });
        complain(error);
      }
    });
  }
  pump();
}

export const stopUpload = (key: string) => change(key, { state: 'stopped', sentence: 'Stopped.' });
export const clearUploads = () => useUploads.setState(({ uploads }) => ({ uploads: uploads.filter((u) => u.state === 'sending') }));
