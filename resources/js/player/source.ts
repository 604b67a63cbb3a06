import type { MediaPart } from '../live/messages';

/** A picture that can be put into a texture. */
export type Picture = { image: TexImageSource; key: string };

export interface Source {
  /** Asks for frames that will be shown soon, in the order in which they will be. */
  want(frames: number[]): void;
  /** The frame if it is there. What was put into a texture stays there, so the last one needs no keeping here. */
  get(frame: number): Picture | null;
  close(): void;
  error: string;
}

export function sourceOf(media: MediaPart, small = false): Source {
  if (media.kind === 'live')
    return media.url?.startsWith('browser:')
      ? new BrowserSource(media.url.slice(8))
      : new LiveSource(`${media.url}${small ? '?small=1' : ''}`);
  return media.kind === 'video' ? new VideoSource(media) : new StillSource(media);
}

class StillSource implements Source {
  private picture: Picture | null = null;
  private closed = false;
  error = '';

  constructor(media: MediaPart) {
    void this.load(media.url ?? '');
  }

  private async load(url: string) {
    try {
      const answer = await fetch(url);
      if (!answer.ok) throw new Error(`${answer.status}`);
      const image = await createImageBitmap(await answer.blob(), {
        premultiplyAlpha: 'premultiply',
        colorSpaceConversion: 'none',
      });
      if (this.closed) image.close();
      else this.picture = { image, key: url };
      this.error = '';
    } catch (error) {
      this.error = `picture not loaded (${(error as Error).message})`;
      if (!this.closed) setTimeout(() => void this.load(url), AGAIN);
    }
  }

  want() {}

  get() {
    return this.picture;
  }

  close() {
    this.closed = true;
    (this.picture?.image as ImageBitmap | undefined)?.close();
    this.picture = null;
  }
}

/** Ms without a picture after which an input has no signal. */
const LOST = 1500;

/** A motion JPEG stream (multipart/x-mixed-replace): the newest picture of it. */
export class LiveSource implements Source {
  private picture: Picture | null = null;
  private readonly ending = new AbortController();
  private count = 0;
  private heard = performance.now();
  private decoding = false;
  private broken = '';
  /** Bytes that came, and how long after it was seen the newest picture was here, in ms; null where the stream does not say. */
  bytes = 0;
  delay: number | null = null;

  constructor(private readonly url: string) {
    void this.run();
  }

  get error(): string {
    if (performance.now() - this.heard <= LOST && this.picture !== null) return '';
    return this.broken !== '' ? `no signal (${this.broken})` : 'no signal';
  }

  private async run() {
    while (!this.ending.signal.aborted) {
      try {
        const answer = await fetch(this.url, { signal: this.ending.signal });
        if (!answer.ok || answer.body === null) throw new Error(`${answer.status}`);
        this.broken = '';
        await this.read(answer.body.getReader());
      } catch (error) {
        this.broken = (error as Error).message;
      }
      if (!this.ending.signal.aborted) await new Promise((done) => setTimeout(done, 500));
    }
  }

  private async read(reader: ReadableStreamDefaultReader<Uint8Array>) {
    let buffer = new Uint8Array(0);
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      this.bytes += value.length;
      const joined = new Uint8Array(buffer.length + value.length);
      joined.set(buffer);
      joined.set(value, buffer.length);
      buffer = joined;
      for (let part = partOf(buffer); part !== null; part = partOf(buffer)) {
        buffer = buffer.slice(part.end);
        this.take(part.bytes, part.seen);
      }
    }
  }

  /** While one is being decoded, those that come are passed over. */
  private take(bytes: Uint8Array<ArrayBuffer>, seen: number | null) {
    this.heard = performance.now();
    if (this.decoding) return;
    this.decoding = true;
    createImageBitmap(new Blob([bytes], { type: 'image/jpeg' }), { colorSpaceConversion: 'none' })
      .then((image) => {
        const old = this.picture?.image as ImageBitmap | undefined;
        if (this.ending.signal.aborted) {
          image.close();
          return;
        }
        this.picture = { image, key: `${this.url}#${++this.count}` };
        this.delay = seen === null ? null : Date.now() - seen;
        old?.close();
      })
      .catch(() => undefined)
      .finally(() => {
        this.decoding = false;
      });
  }

  want() {}

  get() {
    return this.picture;
  }

  close() {
    this.ending.abort();
    (this.picture?.image as ImageBitmap | undefined)?.close();
    this.picture = null;
  }
}

/** The first whole part of a multipart stream: its body, when it was seen (ms since 1970), and where it ends. */
export function partOf(
  buffer: Uint8Array,
): { bytes: Uint8Array<ArrayBuffer>; seen: number | null; end: number } | null {
  let head = -1;
  for (let i = 0; i + 3 < buffer.length; i++) {
    if (buffer[i] === 13 && buffer[i + 1] === 10 && buffer[i + 2] === 13 && buffer[i + 3] === 10) {
      head = i + 4;
      break;
    }
  }
  if (head < 0) return null;
  const text = new TextDecoder('latin1').decode(buffer.subarray(0, head));
  const length = Number(/content-length:\s*(\d+)/i.exec(text)?.[1] ?? Number.NaN);
  const seen = /x-timestamp:\s*([\d.]+)/i.exec(text)?.[1];
  // A stream that does not say how long its parts are can't be read.
  if (Number.isNaN(length)) throw new Error('the stream does not say how long its pictures are');
  if (buffer.length < head + length) return null;
  return {
    bytes: new Uint8Array(buffer.slice(head, head + length)),
    seen: seen === undefined ? null : Number(seen) * 1000,
    end: head + length,
  };
}

/** The camera or the screen of the browser that this window is in. */
class BrowserSource implements Source {
  private readonly video = document.createElement('video');
  private stream: MediaStream | null = null;
  private count = 0;
  private closed = false;
  error = 'waits for leave to be used';

  constructor(private readonly name: string) {
    void this.open();
  }

  private async open() {
    try {
      const stream = await (this.name === 'screen'
        ? navigator.mediaDevices.getDisplayMedia({ video: true })
        : navigator.mediaDevices.getUserMedia({ video: { width: { ideal: 1280 }, height: { ideal: 720 } } }));
      if (this.closed) {
        for (const track of stream.getTracks()) track.stop();
        return;
      }
      this.stream = stream;
      this.video.muted = true;
      this.video.srcObject = stream;
      await this.video.play();
      const step = () => {
        this.count++;
        this.error = '';
        if (!this.closed) this.video.requestVideoFrameCallback(step);
      };
      this.video.requestVideoFrameCallback(step);
      stream.getVideoTracks()[0]?.addEventListener('ended', () => {
        this.error = 'no signal';
      });
    } catch (error) {
      this.error = `no signal (${(error as Error).message})`;
      if (this.name === 'screen' && !this.closed) addEventListener('click', () => void this.open(), { once: true });
    }
  }

  want() {}

  get() {
    return this.count === 0 ? null : { image: this.video, key: `browser:${this.name}#${this.count}` };
  }

  close() {
    this.closed = true;
    for (const track of this.stream?.getTracks() ?? []) track.stop();
    this.video.srcObject = null;
  }
}

/** How long to wait before a file that did not come is asked for again, in ms. */
const AGAIN = 1000;
/** How often a decoder that gives nothing is asked for what it holds back before another takes its place. */
const MAX_FLUSHES = 3;
/** Decoded frames kept at once; more would starve the decoder. */
const MAX_FRAMES = 10;
/** Bytes of the file kept. */
const MAX_BYTES = 24 * 1024 * 1024;

/** Frames of a playback form by number: byte ranges from the sample table, decoded in order from the key frame before. */
class VideoSource implements Source {
  private readonly frames = new Map<number, VideoFrame>();
  private readonly groups = new Map<number, { bytes: Uint8Array; from: number } | Promise<void>>();
  private table: DataView | null = null;
  private decoder: VideoDecoder | null = null;
  private fed = -1;
  private wanted: number[] = [];
  private closed = false;
  private pending = 0;
  private stuckSince = 0;
  private flushes = 0;
  private needKey = true;
  error = '';

  constructor(private readonly media: MediaPart) {
    void this.load();
  }

  private async load() {
    try {
      const answer = await fetch(this.media.table ?? '');
      if (!answer.ok) throw new Error(`${answer.status}`);
      this.table = new DataView(await answer.arrayBuffer());
      this.error = '';
      this.pump();
    } catch (error) {
      this.error = `sample table not loaded (${(error as Error).message})`;
      if (!this.closed) setTimeout(() => void this.load(), AGAIN);
    }
  }

  private sample(n: number) {
    const table = this.table as DataView;
    const size = table.getUint32(n * 12 + 8, true);
    return { offset: table.getFloat64(n * 12, true), size: size & 0x7fffffff, key: size >>> 31 === 1 };
  }

  private keyBefore(n: number) {
    while (n > 0 && !this.sample(n).key) n--;
    return n;
  }

  want(frames: number[]) {
    this.wanted = frames.slice(0, MAX_FRAMES);
    this.pump();
  }

  get(frame: number) {
    const image = this.frames.get(frame);
    return image === undefined ? null : { image, key: `${this.media.url}#${frame}` };
  }

  private start() {
    this.decoder = new VideoDecoder({
      output: (frame) => this.decoded(frame),
      error: (error) => {
        this.error = `decoder: ${error.message}`;
        this.decoder = null;
        this.needKey = true;
        this.pending = 0;
      },
    });
    this.decoder.configure({
      codec: this.media.codec ?? '',
      codedWidth: this.media.width,
      codedHeight: this.media.height,
      description: Uint8Array.from(atob(this.media.description ?? ''), (c) => c.charCodeAt(0)),
      optimizeForLatency: true,
    });
    this.needKey = true;
  }

  private decoded(frame: VideoFrame) {
    this.pending--;
    this.stuckSince = 0;
    this.flushes = 0;
    if (this.closed) {
      frame.close();
      return;
    }
    const n = frame.timestamp;
    if (this.wanted.includes(n)) {
      this.frames.get(n)?.close();
      this.frames.set(n, frame);
      this.error = '';
    } else {
      frame.close();
    }
    this.pump();
  }

  /** Lets go of frames that nobody wants, and feeds the decoder toward the first that is missing. */
  private pump() {
    if (this.closed || this.table === null) return;
    for (const [n, frame] of this.frames) {
      if (!this.wanted.includes(n)) {
        this.frames.delete(n);
        frame.close();
      }
    }
    const count = this.table.byteLength / 12;
    const missing = this.wanted.find((n) => n < count && !this.frames.has(n) && !this.isComing(n));
    if (missing === undefined || this.pending >= MAX_FRAMES) {
      this.flushIfStuck();
      return;
    }
    if (this.decoder === null || this.decoder.state === 'closed') this.start();
    const key = this.keyBefore(missing);
    if (this.needKey || missing <= this.fed || key > this.fed) {
      // Not ahead within the group that is being decoded: begin at the key frame.
      if (this.pending > 0 && !this.wanted.some((n) => this.isComing(n))) {
        this.decoder?.reset();
        this.decoder = null;
        this.pending = 0;
        this.start();
      }
      this.fed = key - 1;
    }
    for (let n = this.fed + 1; n <= missing && this.pending < MAX_FRAMES * 2; n++) {
      const bytes = this.bytes(n);
      if (bytes === null) return;
      const { key: isKey } = this.sample(n);
      this.decoder?.decode(
        new EncodedVideoChunk({ type: isKey ? 'key' : 'delta', timestamp: n, duration: 1, data: bytes }),
      );
      this.needKey = false;
      this.coming.push(n);
      this.pending++;
      this.fed = n;
    }
    this.pump();
  }

  private coming: number[] = [];

  private isComing(n: number) {
    if (this.pending === 0) return false;
    return this.coming.slice(-this.pending).includes(n);
  }

  /** Some decoders hold the last frames back until more comes; after a while without any, they are asked for. */
  private flushIfStuck() {
    this.coming = this.coming.slice(-MAX_FRAMES * 3);
    if (this.pending === 0 || this.decoder === null) {
      this.stuckSince = 0;
      return;
    }
    const now = performance.now();
    if (this.stuckSince === 0) this.stuckSince = now;
    else if (now - this.stuckSince > 60) {
      this.stuckSince = now + 1000;
      this.needKey = true;
      if (++this.flushes > MAX_FLUSHES) {
        this.decoder.close();
        this.decoder = null;
        this.pending = this.flushes = 0;
        this.pump();
        return;
      }
      void this.decoder.flush().then(
        () => {
          this.pending = 0;
          this.pump();
        },
        () => undefined,
      );
    }
  }

  /** The bytes of a sample, or null while its group is being fetched. */
  private bytes(n: number): Uint8Array | null {
    const key = this.keyBefore(n);
    const group = this.groups.get(key);
    if (group === undefined) {
      this.groups.set(key, this.fetchGroup(key));
      return null;
    }
    if (group instanceof Promise) return null;
    const { offset, size } = this.sample(n);
    return group.bytes.subarray(offset - group.from, offset - group.from + size);
  }

  private async fetchGroup(key: number): Promise<void> {
    const count = (this.table as DataView).byteLength / 12;
    let last = key;
    while (last + 1 < count && !this.sample(last + 1).key) last++;
    const from = this.sample(key).offset;
    const end = this.sample(last);
    const to = end.offset + end.size - 1;
    try {
      const answer = await fetch(this.media.url ?? '', { headers: { Range: `bytes=${from}-${to}` } });
      if (answer.status !== 206) throw new Error(`${answer.status}`);
      this.groups.set(key, { bytes: new Uint8Array(await answer.arrayBuffer()), from });
      this.error = '';
      this.forgetOld(key);
    } catch (error) {
      this.error = `bytes not loaded (${(error as Error).message})`;
      setTimeout(() => this.groups.delete(key), 300);
    }
    this.pump();
  }

  private forgetOld(keep: number) {
    let total = 0;
    for (const group of this.groups.values()) if (!(group instanceof Promise)) total += group.bytes.length;
    for (const [key, group] of this.groups) {
      if (total <= MAX_BYTES) return;
      if (key !== keep && !(group instanceof Promise)) {
        this.groups.delete(key);
        total -= group.bytes.length;
      }
    }
  }

  close() {
    this.closed = true;
    for (const frame of this.frames.values()) frame.close();
    this.frames.clear();
    if (this.decoder !== null && this.decoder.state !== 'closed') this.decoder.close();
    this.decoder = null;
  }
}
