import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

export type { paths };
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

  static unreachable() {
    return new Problem({ status: 0, detail: "The server can't be reached. The players play on." });
  }

  static async of(response: Response) {
    return new Problem({ status: response.status, ...((await response.json().catch(() => null)) ?? {}) });
  }

  /** Whether somebody else changed what this would have changed. */
  get clash() {
    return this.document.status === 409;
  }

  /** Whether asking again may help: the line or the server broke. */
  get passing() {
    return this.document.status === 0 || this.document.status >= 500;
  }
}

/** Bytes that the server packed; a problem document becomes an error as anywhere. */
export async function bytes(path: string): Promise<ArrayBuffer> {
  const response = await fetch(`/api/${path}`).catch(() => null);
  if (response === null) throw Problem.unreachable();
  if (!response.ok) throw await Problem.of(response);
  return response.arrayBuffer();
}

/** Asks the server by the paths of its description; what is no success is thrown as a Problem. */
export const http = createClient<paths>({ baseUrl: '/api', headers: { 'Content-Type': 'application/json' } });

http.use({
  async onResponse({ response }) {
    if (!response.ok) throw await Problem.of(response);
  },
  onError({ error }) {
    return error instanceof Problem ? error : Problem.unreachable();
  },
});

/** What a call answered with. */
export async function answer<T>(call: Promise<{ data?: T }>): Promise<NonNullable<T>> {
  const { data } = await call;
  if (data === undefined || data === null)
    throw new Problem({ status: 502, detail: 'The server answered with nothing.' });
  return data;
}
