import type { Live } from '../live/client';
import type { SoundPart } from '../live/messages';
import type { Plan } from '../live/plan';
import { Head, type Playback, type ShowPlayback } from '../live/playback';
import { strengthOf } from '../live/values';
import { sampleAt } from './sample';

type SoundClip = SoundPart['clips'][number];

const RATE = 48_000;
const PER_SECOND = 705_600_000;
/** Samples that are fetched and scheduled in one piece: a second. */
const PIECE = RATE;
/** How far ahead pieces are scheduled, in seconds. */
const AHEAD = 1.2;
/** How often what has to be done is looked at, in ms. */
const BEAT = 25;
/** Seconds by which sound may be off before it is set anew; below that it is bent by at most a thousandth. */
const OFF = 0.012;
const BEND = 0.001;
/** The voice that timecode is. */
const CODE = 'timecode';
/** Bytes of fetched sound that are kept. */
const KEPT = 64 * 1024 * 1024;

interface Voice {
  clip: SoundClip;
  /** The way of the timeline by which it is scheduled. */
  map: string;
  gain: GainNode;
  /** What is scheduled of it: which sample starts when, on the audio clock, and how fast. */
  nodes: { node: AudioBufferSourceNode; when: number; until: number; sample: number; speed: number }[];
  /** The audio time up to which it is scheduled, and the sample that is next. */
  next: { when: number; sample: number } | null;
}

/**
 * Plays the sound of what is on air, scheduled on the audio clock: each piece begins where the one before ended, and all is held
 * against the engine's clock, which the pictures are drawn by.
 */
export class SoundPlayer {
  private readonly context = new AudioContext({ sampleRate: RATE, latencyHint: 'interactive' });
  private readonly out: GainNode;
  /** Where timecode of the driven timeline goes, on a channel of its own; null for nowhere. */
  private code: { line: GainNode; merger: ChannelMergerNode; splitter: ChannelSplitterNode } | null = null;
  /** Grows with each edit: what a clock says may be another then. */
  private edits = 0;
  private readonly voices = new Map<string, Voice>();
  private readonly pieces = new Map<string, AudioBuffer | Promise<void>>();
  private bytes = 0;
  private readonly timer: ReturnType<typeof setInterval>;
  /** How far what is heard is from where the show is, in ms; the last and the largest since it was asked. */
  off = { last: 0, most: 0, anew: 0 };

  constructor(
    private readonly live: Live,
    private readonly playback: Playback,
  ) {
    this.out = this.context.createGain();
    this.out.connect(this.context.destination);
    void this.context.resume();
    this.timer = setInterval(() => this.beat(), BEAT);
    live.on('revision', () => this.edits++);
  }

  /** Channels that the sound of this machine has. */
  get channels() {
    return this.context.destination.maxChannelCount;
  }

  /**
   * Plays the timecode of the driven timeline (LTC) on a channel, from 0; on the second of two, the show is heard on the
   * first alone. Null ends that.
   */
  sendTimecode(channel: number | null) {
    const { context } = this;
    this.silence(CODE);
    this.out.disconnect(this.code?.splitter ?? context.destination);
    this.code?.line.disconnect();
    this.code?.merger.disconnect();
    this.code?.splitter.disconnect();
    this.code = null;
    const { destination } = context;
    if (channel === null) {
      destination.channelCount = Math.min(2, destination.maxChannelCount);
      destination.channelInterpretation = 'speakers';
      this.out.channelCountMode = 'max';
      this.out.connect(destination);
      return;
    }
    const channels = Math.max(2, channel + 1);
    destination.channelCount = Math.min(channels, destination.maxChannelCount);
    destination.channelInterpretation = 'discrete';
    const [line, merger, splitter] = [
      context.createGain(),
      context.createChannelMerger(channels),
      context.createChannelSplitter(2),
    ];
    // With a channel of two taken, the other has both sides of the show.
    this.out.channelCount = channel < 2 ? 1 : 2;
    this.out.channelCountMode = 'explicit';
    this.out.connect(splitter);
    for (const side of channel < 2 ? [0] : [0, 1]) splitter.connect(merger, side, channel === 0 ? 1 : side);
    line.connect(merger, 0, channel);
    merger.connect(destination);
    this.code = { line, merger, splitter };
  }

  /** Has the timecode of the driven timeline heard, as the sound of a clip that is as long as a day. */
  private playTimecode(on: ShowPlayback, soon: number, engine: number): boolean {
    const timeline = on.cues?.driven ?? null;
    const head = timeline === null ? undefined : on.headsOf(timeline).at(-1);
    if (timeline === null || head === undefined || this.code === null) return false;
    const url = `/api/shows/${on.show}/timelines/${timeline}/timecode.f32?edit=${this.edits}`;
    if (this.codeClip?.url !== url)
      this.codeClip = {
        ...{ id: CODE, url, channels: 1, start: 0, end: Number.MAX_SAFE_INTEGER, from: 0, count: 86_400 * RATE },
        ...{ offset: 0, speed: 1, loop: false, levels: [] },
      };
    if (!this.play(CODE, this.codeClip, head, soon, engine, this.code.line)) return false;
    (this.voices.get(CODE) as Voice).gain.gain.value = 1;
    return true;
  }

  private codeClip: SoundClip | null = null;

  get running() {
    return this.context.state === 'running';
  }

  /** Where others may listen along. */
  tap(node: AudioNode) {
    this.out.connect(node);
  }

  get audio() {
    return this.context;
  }

  close() {
    clearInterval(this.timer);
    for (const key of [...this.voices.keys()]) this.silence(key);
    void this.context.close();
  }

  /**
   * Engine time at which a moment of the audio clock is heard. Where the browser says when what it gave out was heard, by that; else by the
   * latency that it says it has.
   */
  engineAt(when: number): number | null {
    const now = this.live.now();
    if (now === null) return null;
    const stamp = this.context.getOutputTimestamp?.();
    const heard =
      stamp?.contextTime !== undefined && stamp.performanceTime !== undefined && stamp.performanceTime > 0
        ? stamp.contextTime + (performance.now() - stamp.performanceTime) / 1000
        : this.context.currentTime - (this.context.outputLatency || 0);
    return now + (when - heard) * PER_SECOND;
  }

  private beat() {
    const on = this.playback.onAir();
    const { context } = this;
    const soon = context.currentTime + 0.01;
    const engine = this.engineAt(soon);
    if (engine === null || on === null || context.state !== 'running') return;
    const plan = on.at(engine);
    if (plan === null) return;
    const heard = new Set<string>();
    for (const part of plan.sounds()) {
      for (const head of on.headsOf(part.timeline)) {
        const weight = head.strength(engine);
        if (weight <= 0) continue;
        for (const clip of part.clips) {
          const key = `${part.layer} ${clip.id} ${head.number}`;
          const by = clip.own === true ? this.alone(key, clip, head, engine) : { clip, head };
          if (by !== null && this.play(key, by.clip, by.head, soon, engine)) {
            heard.add(key);
            const voice = this.voices.get(key) as Voice;
            voice.gain.gain.setTargetAtTime(this.strength(on, plan, clip, head, engine) * weight, soon, 0.008);
          }
        }
      }
    }
    if (this.playTimecode(on, soon, engine)) heard.add(CODE);
    for (const key of [...this.voices.keys()]) if (!heard.has(key)) this.silence(key);
    for (const key of [...this.own.keys()]) if (!heard.has(key)) this.own.delete(key);
  }

  private readonly own = new Map<string, { of: SoundClip; since: number; clip: SoundClip; head: Head }>();

  /** A clip with a clock of its own, as on a timeline that has run since it came up and never ends; null where it is not up. */
  private alone(key: string, clip: SoundClip, head: Head, engine: number): { clip: SoundClip; head: Head } | null {
    const show = head.at(engine);
    if (show < clip.start || show >= clip.end) return null;
    const since = head.map.since(clip.start, clip.end, engine);
    let own = this.own.get(key);
    if (own === undefined || own.of !== clip || own.since !== since) {
      own = {
        of: clip,
        since,
        clip: { ...clip, end: Number.MAX_SAFE_INTEGER },
        head: new Head(head.message, { map: { p: [[since, clip.start, 1]] }, number: head.number }),
      };
      this.own.set(key, own);
    }
    return own;
  }

  /** How loud a clip is at a moment: of each layer that it goes through, its volume, its fades, what lies over it, and whether it is muted. */
  private strength(on: ShowPlayback, plan: Plan, clip: SoundClip, head: Head, engine: number): number {
    const heard = head.at(engine);
    // Panic is the only part of the master that is heard: a dark picture may well have a sound.
    let strength = on.cues?.panic === true ? on.master(engine) : 1;
    for (const { layer, timeline, fade, over, at } of clip.levels) {
      const show = at === undefined ? heard : at[1] + (heard - at[0]) * at[2];
      const value = (name: string) => plan.slot(`layer:${layer}/${name}`).at(show, engine);
      if (value('mute') >= 0.5 || (value('solo') < 0.5 && plan.soloed(timeline, show, engine))) return 0;
      strength *= value('volume') * strengthOf(fade, heard);
      for (const other of over) if (heard >= other[0] && heard < other[2]) strength *= 1 - strengthOf(other, heard);
    }
    return strength;
  }

  /** Has a clip heard from now on, as far ahead as there is any need. Whether it is up by then. */
  private play(
    key: string,
    clip: SoundClip,
    head: Head,
    soon: number,
    engine: number,
    out: AudioNode = this.out,
  ): boolean {
    const { context } = this;
    const map = JSON.stringify(head.map.data) + head.number;
    const show = head.at(engine);
    const ahead = head.map.at(engine + AHEAD * PER_SECOND);
    const up = clip.count > 0 && show < clip.end && Math.max(show, ahead) >= clip.start;
    if (!up || !head.map.moves(engine)) return false;
    let voice = this.voices.get(key);
    if (voice === undefined) {
      const gain = context.createGain();
      gain.gain.value = 0;
      gain.connect(out);
      voice = { clip, map, gain, nodes: [], next: null };
      this.voices.set(key, voice);
    }
    if (voice.clip !== clip || voice.map !== map) {
      // Another plan, or another way of the timeline: what was scheduled by the old one is void.
      this.unschedule(voice, soon);
      voice.clip = clip;
      voice.map = map;
    }
    voice.nodes = voice.nodes.filter((one) => one.until > soon - 0.5);
    this.check(voice, head, soon);
    let guard = 0;
    while ((voice.next?.when ?? soon) < soon + AHEAD && guard++ < 8) if (!this.schedule(voice, clip, head, soon)) break;
    return true;
  }

  /** Holds what is heard now against where the show is; far off, it is set anew, a little off, bent. */
  private check(voice: Voice, head: Head, soon: number) {
    const playing = voice.nodes.find((one) => one.when <= soon && one.until > soon);
    const engine = this.engineAt(soon);
    if (playing === undefined || engine === null) return;
    const wanted = sampleAt(voice.clip, head.map.at(engine));
    if (wanted === null) return;
    const off = (playing.sample + (soon - playing.when) * RATE * playing.speed - wanted) / RATE / playing.speed;
    // Around the seam of a loop, both are right.
    if (Math.abs(off) > (voice.clip.count / RATE) * 0.5) return;
    this.off.last = off * 1000;
    this.off.most = Math.max(this.off.most, Math.abs(off) * 1000);
    if (Math.abs(off) > OFF) {
      this.off.anew++;
      this.unschedule(voice, soon);
      return;
    }
    playing.node.playbackRate.value = Math.abs(playing.speed) * (1 - Math.max(-BEND, Math.min(BEND, off / 2)));
  }

  private unschedule(voice: Voice, when: number) {
    for (const one of voice.nodes) {
      try {
        one.node.stop(Math.max(when, one.when));
      } catch {
        // One that has ended can't be stopped.
      }
    }
    voice.nodes = [];
    voice.next = null;
  }

  private silence(key: string) {
    const voice = this.voices.get(key);
    if (voice === undefined) return;
    this.unschedule(voice, this.context.currentTime);
    voice.gain.disconnect();
    this.voices.delete(key);
  }

  /** Schedules the next piece of a clip. Whether there was one that is here. */
  private schedule(voice: Voice, clip: SoundClip, head: Head, soon: number): boolean {
    let when = Math.max(voice.next?.when ?? 0, soon);
    let engine = this.engineAt(when);
    if (engine === null || !head.map.runsAt(engine)) return false;
    let show = head.map.at(engine);
    if (show < clip.start) {
      // Not up yet: it begins where it is, on the sample.
      when += (clip.start - show) / PER_SECOND / this.rate(head, engine);
      if (when > soon + AHEAD) return false;
      engine = this.engineAt(when) ?? engine;
      show = clip.start;
    }
    const rate = this.rate(head, engine);
    const speed = clip.speed * rate;
    const chained = voice.next !== null && voice.next.sample >= 0 && voice.next.when === when;
    const at = chained ? (voice.next?.sample ?? null) : sampleAt(clip, show);
    if (at === null || rate <= 0) return false;
    // Backwards, a piece is gone through from its end to its beginning.
    const backwards = speed < 0;
    const index = backwards ? Math.ceil(at / PIECE) - 1 : Math.floor(at / PIECE);
    const piece = this.piece(clip, index, backwards);
    if (piece === null) return false;
    const [first, last] = [clip.from, clip.from + clip.count];
    const end = backwards ? Math.max(first, index * PIECE) : Math.min(last, (index + 1) * PIECE);
    const whole = (end - at) / RATE / speed;
    // No further than the clip goes, or the timeline before it turns.
    const lasts = Math.min(
      whole,
      (clip.end - show) / PER_SECOND / rate,
      (head.map.nextTurn(engine) - engine) / PER_SECOND,
    );
    if (lasts <= 0) return false;
    const node = this.context.createBufferSource();
    node.buffer = piece;
    node.playbackRate.value = Math.abs(speed);
    node.connect(voice.gain);
    node.start(
      when,
      (backwards ? index * PIECE + piece.length - at : at - index * PIECE) / RATE,
      lasts * Math.abs(speed),
    );
    const until = when + lasts;
    voice.nodes.push({ node, when, until, sample: at, speed });
    const ended = backwards ? end <= first : end >= last;
    voice.next = {
      when: until,
      sample: lasts < whole || (ended && !clip.loop) ? -1 : ended ? (backwards ? last : first) : end,
    };
    return true;
  }

  /** How fast the show runs at an engine time. */
  private rate(head: Head, engine: number): number {
    const step = Math.min(PER_SECOND / 100, Math.max(1, head.map.nextTurn(engine) - engine - 1));
    return (head.map.at(engine + step) - head.map.at(engine)) / step;
  }

  /** A second of a sound; asked for while it is not here. */
  private piece(clip: SoundClip, index: number, backwards: boolean): AudioBuffer | null {
    const key = `${clip.url} ${index}`;
    for (const one of [index, index + (backwards ? -1 : 1)]) this.fetch(clip, one);
    const piece = this.pieces.get(key);
    if (!(piece instanceof AudioBuffer)) return null;
    if (!backwards) return piece;
    let turned = this.turned.get(piece);
    if (turned === undefined) {
      turned = this.context.createBuffer(piece.numberOfChannels, piece.length, RATE);
      for (let c = 0; c < piece.numberOfChannels; c++)
        turned.copyToChannel(piece.getChannelData(c).slice().reverse(), c);
      this.turned.set(piece, turned);
    }
    return turned;
  }

  /** Pieces the other way round, for as long as they are here. */
  private readonly turned = new WeakMap<AudioBuffer, AudioBuffer>();

  private fetch(clip: SoundClip, index: number) {
    const key = `${clip.url} ${index}`;
    const frame = 4 * clip.channels;
    const end = Math.min(clip.from + clip.count, (index + 1) * PIECE);
    if (index < 0 || this.pieces.has(key) || end <= index * PIECE) return;
    const load = async () => {
      try {
        const answer = await fetch(clip.url, {
          headers: { Range: `bytes=${index * PIECE * frame}-${(index + 1) * PIECE * frame - 1}` },
        });
        if (answer.status !== 206) throw new Error(String(answer.status));
        const samples = new Float32Array(await answer.arrayBuffer());
        const count = Math.floor(samples.length / clip.channels);
        const buffer = this.context.createBuffer(clip.channels, Math.max(1, count), RATE);
        for (let c = 0; c < clip.channels; c++) {
          const channel = buffer.getChannelData(c);
          for (let i = 0; i < count; i++) channel[i] = samples[i * clip.channels + c] as number;
        }
        this.pieces.set(key, buffer);
        this.bytes += samples.byteLength;
        this.forget();
      } catch {
        setTimeout(() => this.pieces.delete(key), 300);
      }
    };
    this.pieces.set(key, load());
  }

  private forget() {
    for (const [key, piece] of this.pieces) {
      if (this.bytes <= KEPT) return;
      if (piece instanceof AudioBuffer) {
        this.pieces.delete(key);
        this.bytes -= piece.length * piece.numberOfChannels * 4;
      }
    }
  }
}
