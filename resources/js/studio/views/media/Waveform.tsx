import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';

/** One zoom of a sound's outline: lowest and highest sample of each bin, −127 to 127. */
export interface Level {
  samples: number;
  bins: Int8Array;
}

/** All zooms of an outline (`core/Media/Peaks.php`), the finest first. */
export function levelsOf(bytes: ArrayBuffer): Level[] {
  const view = new DataView(bytes);
  const count = view.getUint32(0, true);
  let at = 4 + 8 * count;
  return Array.from({ length: count }, (_, i) => {
    const bins = view.getUint32(8 + 8 * i, true);
    const level = { samples: view.getUint32(4 + 8 * i, true), bins: new Int8Array(bytes, at, 2 * bins) };
    at += 2 * bins;
    return level;
  });
}

/** The coarsest zoom that still has a bin for each pixel of so many samples. */
export const levelFor = (levels: readonly Level[], samplesPerPixel: number): Level | undefined =>
  [...levels].reverse().find((level) => level.samples <= samplesPerPixel) ?? levels[0];

/** The outline of a sound over its whole length; with a mark where it is. */
export function Waveform({
  sound,
  height,
  at,
}: {
  sound: { peaks: string; samples: number; channels: number };
  height: number;
  at?: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { data } = useQuery({
    queryKey: ['peaks', sound.peaks],
    queryFn: async () => levelsOf(await (await fetch(sound.peaks)).arrayBuffer()),
    staleTime: Number.POSITIVE_INFINITY,
  });
  useEffect(() => {
    const to = canvas.current;
    const pen = to?.getContext('2d');
    if (data === undefined || to === null || pen == null) return;
    const width = Math.max(1, Math.round(to.clientWidth * devicePixelRatio));
    to.width = width;
    to.height = Math.round(height * devicePixelRatio);
    const level = levelFor(data, sound.samples / width);
    const style = getComputedStyle(to);
    pen.fillStyle = style.color;
    for (let x = 0; level !== undefined && x < width; x++) {
      const from = Math.floor(((x / width) * sound.samples) / level.samples);
      const until = Math.max(from + 1, Math.floor((((x + 1) / width) * sound.samples) / level.samples));
      let [low, high] = [0, 0];
      for (let i = from; i < until && 2 * i + 1 < level.bins.length; i++) {
        low = Math.min(low, level.bins[2 * i] as number);
        high = Math.max(high, level.bins[2 * i + 1] as number);
      }
      const middle = to.height / 2;
      const top = middle - (high / 127) * middle;
      pen.fillRect(x, top, 1, Math.max(1, middle - (low / 127) * middle - top));
    }
    to.dataset.drawn = 'yes';
  }, [data, sound.samples, height]);
  return (
    <div style={{ position: 'relative', background: 'var(--kl-ink7)', marginTop: 6 }}>
      <canvas
        ref={canvas}
        aria-label="Waveform"
        role="img"
        style={{ width: '100%', height, display: 'block', color: 'var(--kl-dim)' }}
      />
      {at !== undefined && (
        <span
          aria-hidden
          style={{
            position: 'absolute',
            top: 0,
            bottom: 0,
            left: `${100 * at}%`,
            width: 1,
            background: 'var(--kl-kite)',
          }}
        />
      )}
    </div>
  );
}
