import type { MediaPart } from '../live/messages';
import type { Contribution, Plan } from '../live/plan';
import type { Head } from '../live/playback';
import type { MediaTrack } from '../live/values';
import type { Compositor, Mask, Picture } from './compositor';
import type { Texture } from './context';
import { LARGEST, LARGEST_SMALL } from './effects';
import { type Source, sourceOf } from './source';
import type { DrawStep, Shot } from './step';

/** How far ahead frames are asked for, in flicks: 0.4 s. */
const AHEAD = 282_240_000;

/** Draws after which a source that nothing was asked of is closed. */
const KEPT = 120;

const NO_TEXT: readonly number[] = [];

/** What was drawn since it began: which frame of which layer, and what is late or missing. */
export interface Drawn {
  layers: { layer: string; frame: number; shown: number }[];
  late: boolean;
  /** Whether an input is among it, so that it may be another picture at any moment. */
  live: boolean;
  lacks: string[];
}

interface Use {
  source: Source;
  texture: Texture | null;
  url: string;
  asked: number;
}

/** What tells the decoder of a layer's clip from others of the same media. */
export const useOf = (layer: string, clip: number, head: Head) => `${layer} ${clip & 63} ${head.number}`;

/** The pictures that steps show: the sources that they come from, kept as long as they are asked for. */
export class Pictures {
  private readonly uses = new Map<string, Use>();
  private readonly fetched = new Set<string>();
  private turn = 0;
  drawn: Drawn = { layers: [], late: false, live: false, lacks: [] };

  /** @param small whether live inputs are taken in their small form */
  constructor(
    private readonly compositor: Compositor,
    private readonly small: boolean,
  ) {}

  /** Lets go of all sources. */
  close() {
    for (const use of this.uses.values()) use.source.close();
    this.uses.clear();
  }

  begin(): void {
    this.drawn = { layers: [], late: false, live: false, lacks: [] };
    this.fetched.clear();
    this.turn++;
  }

  /** Lets go of sources that were not used for a while. */
  end(): void {
    for (const [key, use] of this.uses) {
      if (use.asked >= this.turn - KEPT) continue;
      use.source.close();
      if (use.texture !== null) this.compositor.drop(use.texture);
      this.uses.delete(key);
    }
  }

  lack(message: string) {
    if (!this.drawn.lacks.includes(message)) this.drawn.lacks.push(message);
  }

  /** What is wrong with a source; empty for nothing. */
  errorOf({ use, key, media }: Shot): string {
    return this.use(use, key, media).source.error;
  }

  /** Asks for frames that a shot will show. */
  want({ use, key, media }: Shot, frames: number[]): void {
    if (media.kind === 'video' || media.kind === 'still') this.use(use, key, media).source.want(frames);
  }

  /** The texture with the picture that should be up, or the one before it while that is on its way. */
  texture({ use: of, key, media, frame }: Shot): Texture | null {
    const use = this.use(of, key, media);
    const there = use.source.get(media.kind === 'video' ? frame : 0);
    if (there !== null && use.texture?.key !== there.key)
      use.texture = this.compositor.fill(use.texture, there.image, there.key);
    return use.texture;
  }

  /**
   * Takes down whether the picture of a shot is here.
   *
   * @param layer of which it is reported, empty for none
   */
  note(shot: Shot, layer: string): void {
    const { media, frame } = shot;
    const texture = this.texture(shot);
    if (media.kind !== 'live' && texture?.key !== (media.kind === 'video' ? `${media.url}#${frame}` : media.url))
      this.drawn.late = true;
    if (media.kind === 'live') {
      if (texture === null) this.lack(`${media.name}: no picture yet`);
    } else {
      const error = this.errorOf(shot);
      if (error !== '') this.lack(`${media.name}: ${error}`);
      else if (texture === null) this.lack(`${media.name}: not loaded yet`);
    }
    const shown = texture === null ? -1 : Number(texture.key.split('#')[1] ?? 0);
    if (layer !== '' && !this.drawn.layers.some((l) => l.layer === layer))
      this.drawn.layers.push({ layer, frame, shown });
  }

  /** Tells the sources of a layer which frames they will have to have. */
  prefetch(plan: Plan, contribution: Contribution, head: Head, engine: number) {
    const { layer, clips } = contribution.part;
    const once = `${layer} ${head.number}`;
    if (this.fetched.has(once)) return;
    this.fetched.add(once);
    const step = plan.flicksPerFrame;
    const wanted = new Map<string, { use: string; key: string; frames: number[] }>();
    const look = (track: MediaTrack) => {
      for (let t = engine; t < engine + AHEAD; t += step) {
        const { clip: index, frame } = track.at(head.map.at(t), step, head.map, t);
        const clip = clips[index];
        if (clip === undefined) continue;
        const use = useOf(layer, index, head);
        const id = `${use} ${clip.media}`;
        const there = wanted.get(id);
        if (there === undefined) wanted.set(id, { use, key: clip.media, frames: [frame] });
        else if (!there.frames.includes(frame)) there.frames.push(frame);
      }
    };
    for (const track of contribution.clips) look(track);
    for (const { use, key, frames } of wanted.values()) {
      const media = plan.media(key);
      if (media !== undefined && (media.kind === 'video' || media.kind === 'still'))
        this.use(use, key, media).source.want(frames);
    }
  }

  /** A name of the picture of a shot: another one for another picture. */
  nameOf(shot: Shot): string {
    const { media, pattern } = shot;
    switch (media.kind) {
      case 'none':
        return '';
      case 'solid':
        return `solid ${media.colour}`;
      case 'pattern':
        return `${pattern.join(' ')} ${media.text?.join(' ') ?? ''}`;
      default:
        return this.texture(shot)?.key ?? '';
    }
  }

  /** The picture of a shot; null while it is not here. */
  of(shot: Shot): Picture | null {
    const { media, pattern } = shot;
    const text = media.text ?? NO_TEXT;
    const matte = media.matte === true;
    if (media.kind === 'none') return null;
    if (media.kind === 'pattern') return { of: pattern, size: [media.width ?? 1, media.height ?? 1], matte, text };
    const of = media.kind === 'solid' ? this.compositor.flat(media.colour ?? [0, 0, 0]) : this.texture(shot);
    if (of === null) return null;
    const size: [number, number] =
      media.kind === 'video' ? [media.shownWidth ?? of.width, media.shownHeight ?? of.height] : [of.width, of.height];
    return { of, size, matte, text };
  }

  /** The picture of a step with its effects; null while it is not here. */
  effected(step: DrawStep): Picture | null {
    const { shot, chained, chain } = step;
    const picture = this.of(shot);
    if (picture === null || chained === 0) return picture;
    const { of, size, text } = picture;
    const name = of instanceof Float32Array ? `${of.join(' ')} ${text.join(' ')}` : of.key;
    const texture = this.compositor.effected(
      `${shot.use} ${shot.key}`,
      `${name} ${size.join(' ')}${chain}`,
      picture,
      step.effects,
      this.small ? LARGEST_SMALL : LARGEST,
    );
    return { of: texture, size: [texture.width, texture.height], matte: false, text: NO_TEXT };
  }

  /** What a step is cut out by. */
  mask({ mask: { on, shot, look } }: DrawStep): Mask | null {
    if (!on) return null;
    let picture = this.of(shot);
    // It is looked up in another way than a pattern is by its formula.
    if (picture !== null && picture.of instanceof Float32Array)
      picture = {
        ...picture,
        of: this.compositor.rendered(`mask ${shot.use} ${shot.key}`, { ...picture, of: picture.of }),
      };
    return { picture, look };
  }

  private use(of: string, key: string, media: MediaPart): Use {
    const id = media.kind === 'video' ? `${of} ${key}` : (media.url ?? key);
    let use = this.uses.get(id);
    if (use !== undefined && use.url !== media.url) {
      use.source.close();
      use = undefined;
    }
    if (use === undefined) {
      use = {
        source: sourceOf(media, this.small),
        texture: this.uses.get(id)?.texture ?? null,
        url: media.url ?? '',
        asked: this.turn,
      };
      this.uses.set(id, use);
    }
    use.asked = this.turn;
    return use;
  }
}
