import { FLICKS_PER_MS } from './clock';
import type { FromWorker, PreviewMessage } from './messages';

/** The most that the clock is bent, in ms a second. */
const SLEW = 1;

type Handler<T extends FromWorker['type']> = (data: Extract<FromWorker, { type: T }>['data']) => void;

/** A page's end of the live stream: messages by type, engine time, and commands. */
export class Live {
  private readonly handlers = new Map<string, Set<(data: never) => void>>();
  private readonly port: MessagePort;
  private target: number | null = null;
  private offsetNow = 0;
  private bentAt = 0;
  ticket = '';
  person = '';
  /** The number of this browser's stream. */
  stream = 0;

  constructor() {
    // A browser without shared workers has a stream a page.
    this.port =
      'SharedWorker' in globalThis
        ? new SharedWorker(new URL('./worker.ts', import.meta.url), { type: 'module', name: 'kite-live' }).port
        : (new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' }) as unknown as MessagePort);
    this.port.onmessage = (event: MessageEvent<FromWorker>) => this.take(event.data);
    addEventListener('pagehide', () => this.port.postMessage('bye'));
  }

  private take(message: FromWorker) {
    if (message.type === 'ticket') {
      this.ticket = message.data.ticket;
      this.person = message.data.person;
    }
    if (message.type === 'hello') this.stream = message.data.stream;
    if (message.type === 'clock') {
      // The first second of probes sets the clock; after that it is only bent, but for a jump that no bending would mend.
      if (!message.data.settled || this.target === null || Math.abs(message.data.offset - this.offsetNow) > 100) {
        this.offsetNow = message.data.offset;
        this.bentAt = performance.now();
      }
      this.target = message.data.offset;
    }
    for (const handler of this.handlers.get(message.type) ?? []) handler(message.data as never);
  }

  on<T extends FromWorker['type']>(type: T, handler: Handler<T>): () => void {
    const set = this.handlers.get(type) ?? new Set();
    this.handlers.set(type, set);
    set.add(handler as (data: never) => void);
    return () => set.delete(handler as (data: never) => void);
  }

  /** Engine time now, in flicks; null until the clock was probed. */
  now(): number | null {
    if (this.target === null) return null;
    const here = performance.now();
    const max = ((here - this.bentAt) / 1000) * SLEW;
    this.offsetNow += Math.max(-max, Math.min(max, this.target - this.offsetNow));
    this.bentAt = here;
    return Math.round((performance.timeOrigin + here + this.offsetNow) * FLICKS_PER_MS);
  }

  /** How far the bent clock is from the last good probe, in ms. */
  offset(): number {
    return this.target === null ? 0 : this.offsetNow - this.target;
  }

  private async post(path: string, body: unknown): Promise<Response> {
    return fetch(path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${this.ticket}` },
      body: JSON.stringify(body),
    });
  }

  /** Has the engine tell what happens in a show that is not on air. */
  open(shows: string[]): void {
    this.port.postMessage({ open: shows });
  }

  /** Has the engine tell whenever it is another reason why a surface is dark. */
  async watch(show: string, surface: string): Promise<void> {
    if (this.stream !== 0 && this.ticket !== '')
      await this.post('/live/watch', { stream: this.stream, show, surface }).catch(() => undefined);
  }

  async command(body: Record<string, unknown>): Promise<void> {
    const answer = await this.post('/live/command', { stream: this.stream, ...body });
    if (!answer.ok) throw new Error((await answer.json().catch(() => null))?.detail ?? 'The engine does not answer.');
  }

  /** Delivers what controls of this window did, and has the engine tell what all controls do, or no longer. */
  async controls(body: { events?: unknown[]; watch?: boolean }): Promise<void> {
    if (this.stream === 0 || this.ticket === '') return;
    const answer = await this.post('/live/controls', { stream: this.stream, ...body });
    if (!answer.ok) throw new Error((await answer.json().catch(() => null))?.detail ?? 'The engine does not answer.');
  }

  /** What would be on once a cue had been fired, the next of the list where none is named; null where there is none. */
  async preview(show: string, cue: string | null): Promise<PreviewMessage | null> {
    const answer = await this.post('/live/preview', {
      stream: this.stream,
      show,
      ...(cue === null ? {} : { cue }),
    }).catch(() => null);
    return answer?.ok === true ? answer.json() : null;
  }

  async report(body: unknown): Promise<void> {
    await this.post('/live/report', body).catch(() => undefined);
  }
}
