import type { SoundPart } from '../live/messages';

/** Flicks of a sample at 48 kHz: a whole number. */
export const FLICKS_PER_SAMPLE = 14_700;

/** What says which sample is heard when (`core/Timeline/SoundClip.php`). */
export type Heard = Pick<SoundPart['clips'][number], 'start' | 'end' | 'from' | 'count' | 'offset' | 'speed' | 'loop'>;

/** The sample of a clip's sound that is heard at a show time, with its fraction; null for silence (`core/Timeline/SoundClip.php`). */
export function sampleAt(clip: Heard, show: number): number | null {
  if (show < clip.start || show >= clip.end || clip.count === 0 || clip.speed === 0) return null;
  const passed = clip.offset + ((show - clip.start) * Math.abs(clip.speed)) / FLICKS_PER_SAMPLE;
  if (passed >= clip.count && !clip.loop) return null;
  const within = passed % clip.count;
  return clip.from + (clip.speed < 0 ? clip.count - within : within);
}
