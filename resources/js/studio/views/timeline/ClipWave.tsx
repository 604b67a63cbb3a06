import { useQuery } from '@tanstack/react-query';
import { memo, useEffect, useRef } from 'react';
import type { RowOf } from '../../../api/client';
import { FLICKS_PER_SAMPLE, type Heard, sampleAt } from '../../../sound/sample';
import { levelFor, levelsOf } from '../media/Waveform';

/** The outline of what is heard of a clip, as far as it is in view. */
export const ClipWave = memo(function ClipWave({
  clip,
  ramped,
  sound,
  perFlick,
  seen,
  height,
}: {
  clip: RowOf<'clip'>;
  ramped: readonly Heard[] | undefined;
  sound: { peaks: string; samples: number };
  perFlick: number;
  seen: { left: number; width: number };
  height: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { data } = useQuery({
    queryKey: ['peaks', sound.peaks],
    queryFn: async () => levelsOf(await (await fetch(sound.peaks)).arrayBuffer()),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const left = Math.max(0, Math.floor(seen.left - clip.start * perFlick));
  const right = Math.min(clip.length * perFlick, seen.left + seen.width - clip.start * perFlick);
  const width = Math.max(0, Math.ceil(right - left));
  useEffect(() => {
    const to = canvas.current;
    const pen = to?.getContext('2d');
    if (data === undefined || to === null || pen == null || width === 0) return;
    to.width = width;
    to.height = height;
    const from = Math.floor(clip.in / FLICKS_PER_SAMPLE);
    const end = clip.out === null ? sound.samples : Math.min(sound.samples, Math.floor(clip.out / FLICKS_PER_SAMPLE));
    const pieces: readonly Heard[] = ramped ?? [
      {
        start: clip.start,
        end: clip.start + clip.length,
        from,
        count: Math.max(0, end - from),
        offset: clip.offset / FLICKS_PER_SAMPLE,
        speed: clip.speed,
        loop: clip.pastEnd === 'loop',
      },
    ];
    let piece = 0;
    pen.fillStyle = getComputedStyle(to).color;
    for (let x = 0; x < width; x++) {
      const time = clip.start + (left + x) / perFlick;
      while (piece + 1 < pieces.length && (pieces[piece] as Heard).end <= time) piece++;
      const heard = pieces[piece];
      const at = heard === undefined ? null : sampleAt(heard, time);
      if (heard === undefined || at === null) continue;
      const perPixel = heard.speed / perFlick / FLICKS_PER_SAMPLE;
      const level = levelFor(data, Math.abs(perPixel));
      if (level === undefined) return;
      const first = Math.floor(at / level.samples);
      const last = Math.max(first + 1, Math.floor((at + perPixel) / level.samples));
      let [low, high] = [0, 0];
      for (let i = first; i < last && 2 * i + 1 < level.bins.length; i++) {
        low = Math.min(low, level.bins[2 * i] as number);
        high = Math.max(high, level.bins[2 * i + 1] as number);
      }
      const middle = height / 2;
      const top = middle - (high / 127) * middle;
      pen.fillRect(x, top, 1, Math.max(1, middle - (low / 127) * middle - top));
    }
  }, [data, clip, ramped, sound, perFlick, left, width, height]);
  return <canvas ref={canvas} className="clipwave" style={{ left, width, height }} />;
});
