import { create } from 'zustand';
import { api, Problem, type Schemas } from '../../api/client';
import { complain, get, select } from '../store';

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
  const started = await api<Schemas['Upload']>(`shows/${get().showId}/uploads`, { body: { name: file.name, bytes: file.size } });
  change(key, { id: started.id });
  let at = 0;
  for (let tries = 0; at < file.size; ) {
    if (stopped(key)) {
      await api(`uploads/${started.id}`, { method: 'DELETE' }).catch(() => undefined);
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
      if (error instanceof Problem && error.document.status < 500) throw error;
      // The line broke: after a while, ask how much arrived, and go on from there.
      if (++tries > 20) throw error;
      await new Promise((done) => setTimeout(done, Math.min(5000, 250 * 2 ** tries)));
      at = (await api<Schemas['Upload']>(`uploads/${started.id}`).catch(() => ({ received: at }))).received;
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
