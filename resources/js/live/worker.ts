/**
 * The one live stream of a browser, shared by its tabs: reads frames, probes the engine's clock away from any drawing,
 * and comes back by itself when the stream breaks.
 */
import { ClockProbes, type Trip } from './clock';
import { Frame, type FromWorker, type ToWorker } from './messages';

/** The pages, and the shows that each has open. */
const ports = new Map<MessagePort, string[]>();
let stream = 0;
let looked = '[]';
const retained = new Map<string, FromWorker>();
let ticket = '';
let stop: AbortController | null = null;
let heard = 0;

function tell(message: FromWorker, keep = false) {
  if (keep) retained.set(message.type, message);
  for (const port of ports.keys()) port.postMessage(message);
}

const nameOf = Object.fromEntries(Object.entries(Frame).map(([name, number]) => [number, name]));

function take(type: number, payload: Uint8Array) {
  const name = nameOf[type];
  if (name === undefined) return;
  if (name === 'delta') {
    const at = new DataView(payload.buffer, payload.byteOffset).getFloat64(0, true);
    const show = new TextDecoder().decode(payload.subarray(8, 34)).trim();
    tell({ type: 'delta', data: { at, show, bundle: payload.slice(34).buffer } });
    return;
  }
  const message = { type: name, data: JSON.parse(new TextDecoder().decode(payload)) } as FromWorker;
  if (message.type === 'hello') {
    stream = message.data.stream;
    looked = '[]';
    void look();
  }
  tell(message);
}

/** Tells the engine which shows the pages have open. */
async function look() {
  const shows = [...new Set([...ports.values()].flat())].slice(0, 4);
  if (stream === 0 || JSON.stringify(shows) === looked) return;
  looked = JSON.stringify(shows);
  await fetch('/live/look', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${ticket}` },
    body: JSON.stringify({ stream, shows }),
  }).catch(() => undefined);
}

async function getTicket() {
  const answer = await fetch('/api/live/tickets', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: '{}',
  });
  if (!answer.ok) throw new Error(`ticket: ${answer.status}`);
  const data = await answer.json();
  ticket = data.ticket;
  tell({ type: 'ticket', data }, true);
}

async function read(signal: AbortSignal) {
  if (ticket === '') await getTicket();
  const answer = await fetch('/live/stream', {
    headers: { Authorization: `Bearer ${ticket}` },
    signal,
    cache: 'no-store',
  });
  if (answer.status === 401) ticket = '';
  if (!answer.ok || answer.body === null) throw new Error(`stream: ${answer.status}`);
  tell({ type: 'link', data: { up: true } }, true);
  let held = new Uint8Array(0);
  const reader = answer.body.getReader();
  for (;;) {
    const { done, value: part } = await reader.read();
    if (done) return;
    heard = performance.now();
    let bytes = part;
    if (held.length > 0) {
      bytes = new Uint8Array(held.length + part.length);
      bytes.set(held);
      bytes.set(part, held.length);
    }
    let at = 0;
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    while (bytes.length - at >= 5) {
      const length = view.getUint32(at, true);
      if (bytes.length - at < 5 + length) break;
      take(view.getUint8(at + 4), bytes.subarray(at + 5, at + 5 + length));
      at += 5 + length;
    }
    held = bytes.slice(at);
  }
}

const sleep = (ms: number) => new Promise((done) => setTimeout(done, ms));

async function streamForever() {
  for (let wait = 100; ; ) {
    stop = new AbortController();
    const began = performance.now();
    try {
      await read(stop.signal);
    } catch {
      // The stream broke; what the pages have plays on meanwhile.
    }
    tell({ type: 'link', data: { up: false } }, true);
    wait = performance.now() - began > 2000 || stop.signal.aborted ? 50 : Math.min(1000, wait * 1.6);
    await sleep(wait);
  }
}

/** Local time that all threads of this browser share, in ms. */
const local = () => performance.timeOrigin + performance.now();

async function probeForever() {
  const probes = new ClockProbes();
  for (;;) {
    const sent = local();
    let best: Trip | null = null;
    try {
      const answer = await fetch('/live/clock', { cache: 'no-store' });
      const said = await answer.json();
      best = answer.ok ? probes.take(sent, local(), said) : null;
      if (best !== null) tell({ type: 'clock', data: { ...best, settled: probes.settled } }, true);
    } catch {
      // Without an engine there is no time to be had.
    }
    await sleep(probes.settled ? 1000 : best === null ? 250 : 60);
  }
}

setInterval(() => {
  if (heard > 0 && performance.now() - heard > 4000) {
    heard = performance.now();
    stop?.abort();
  }
}, 1000);

let started = false;

function connect(port: MessagePort) {
  ports.set(port, []);
  port.onmessage = (message: MessageEvent<ToWorker>) => {
    if (message.data === 'bye') ports.delete(port);
    else ports.set(port, message.data.open);
    void look();
  };
  for (const message of retained.values()) port.postMessage(message);
  if (!started) {
    started = true;
    void streamForever();
    void probeForever();
  } else {
    // The greeting of a fresh stream tells a new tab all that it has to know.
    stop?.abort();
  }
}

// Shared by the tabs of a browser; where a browser has no such thing, of one page.
if ('onconnect' in self)
  self.onconnect = ({ ports: [port] }: MessageEvent) => {
    if (port !== undefined) connect(port);
  };
else connect(self as unknown as MessagePort);
