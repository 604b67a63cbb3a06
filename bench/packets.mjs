// Listens as a node does, on a thread of its own, and tells the longest time without a packet of each universe of sACN.
import { createSocket } from 'node:dgram';
import { parentPort, Worker, isMainThread, workerData } from 'node:worker_threads';

if (!isMainThread) {
  const universes = new Map();
  // A clock of the same thread: what it misses, the machine kept from all that wanted to run, and this thread from receiving.
  const EVERY = 20;
  let beat = performance.now();
  let floor = { gap: 0, over: 0 };
  setInterval(() => {
    const now = performance.now();
    const gap = now - beat;
    floor = { gap: Math.max(floor.gap, gap), over: floor.over + (gap > 100 ? 1 : 0) };
    beat = now;
  }, EVERY);
  const socket = createSocket('udp4');
  socket.on('message', (bytes) => {
    // Data only (E1.31, 5.5), not the list of universes.
    if (bytes.length < 126 || bytes.readUInt32BE(18) !== 4) return;
    const now = performance.now();
    const universe = bytes.readUInt16BE(113);
    const known = universes.get(universe);
    if (known === undefined) universes.set(universe, { last: now, gap: 0, over: 0, count: 1 });
    else {
      const gap = now - known.last;
      Object.assign(known, { last: now, gap: Math.max(known.gap, gap), over: known.over + (gap > 100 ? 1 : 0), count: known.count + 1 });
    }
  });
  socket.bind(workerData, '127.0.0.1', () => parentPort.postMessage(null));
  parentPort.on('message', (what) => {
    if (what === 'anew') {
      universes.clear();
      floor = { gap: 0, over: 0 };
    } else if (what === 'floor') parentPort.postMessage(floor);
    else parentPort.postMessage([...universes].map(([universe, { last, gap, over, count }]) => ({ universe, gap: Math.max(gap, performance.now() - last), over, count })));
  });
}

export class Packets {
  constructor(port) {
    this.worker = new Worker(new URL(import.meta.url), { workerData: port });
    this.listening = new Promise((done) => this.worker.once('message', done));
  }

  anew() {
    this.worker.postMessage('anew');
  }

  /** Of each universe: longest gap in ms, gaps over 100 ms, packets. */
  async heard() {
    const answer = new Promise((done) => this.worker.once('message', done));
    this.worker.postMessage('heard');
    return answer;
  }

  /** Of a clock of 50 Hz in the same thread: its longest gap in ms, and gaps over 100 ms. */
  async floor() {
    const answer = new Promise((done) => this.worker.once('message', done));
    this.worker.postMessage('floor');
    return answer;
  }

  async stop() {
    await this.worker.terminate();
  }
}
