import type { components } from './schema';

export type Schemas = components['schemas'];
export type Kind = keyof Schemas['Rows'];
export type RowOf<K extends Kind> = Schemas['Rows'][K][number];
export type ShowDocument = Schemas['ShowDocument'];
export type Change = Schemas['Change'];
export type Done = Schemas['Done'];

/** A problem document that the server answered with (RFC 9457). */
export class Problem extends Error {
  constructor(readonly document: Partial<Schemas['Problem']> & { status: number }) {
    super(document.detail ?? 'The server does not answer.');
  }
}

/** Bytes that the server packed; a problem document becomes an error as anywhere. */
export async function bytes(path: string): Promise<ArrayBuffer> {
  const answer = await fetch(`/api/${path}`).catch(() => null);
  if (answer === null) throw new Problem({ status: 0, detail: "The server can't be reached. The players play on." });
  if (!answer.ok) throw new Problem({ status: answer.status, ...((await answer.json().catch(() => null)) ?? {}) });
  return answer.arrayBuffer();
}

export async function api<T>(path: string, init: { method?: string; body?: unknown } = {}): Promise<T> {
  let answer: Response;
  try {
    answer = await fetch(`/api/${path}`, {
      method: init.method ?? (init.body === undefined ? 'GET' : 'POST'),
      ...(init.body === undefined && (init.method ?? 'GET') === 'GET' ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(init.body ?? {}) }),
    });
  } catch {
    throw new Problem({ status: 0, detail: "The server can't be reached. The players play on." });
  }
  const data = await answer.json().catch(() => null);
  if (!answer.ok) throw new Problem({ status: answer.status, ...(data ?? {}) });
  return data as T;
}
