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

export function sourceOf(media: MediaPart): Source {
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
      const image = await createImageBitmap(await answer.blob(), { premultiplyAlpha: 'premultiply', colorSpaceConversion: 'none' });
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
      this.decoder?.decode(new EncodedVideoChunk({ type: isKey ? 'key' : 'delta', timestamp: n, duration: 1, data: bytes }));
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
