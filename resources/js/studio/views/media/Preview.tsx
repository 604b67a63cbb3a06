import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import type { RowOf } from '../../../api/client';
import type { MediaPart } from '../../../live/messages';
import { type Source, sourceOf } from '../../../player/source';
import { timecode } from '../../time';
import { Waveform } from './Waveform';

interface Strip {
  url: string;
  columns: number;
  pictures: number;
  every: number;
  width: number;
  height: number;
}

type Form = MediaPart & {
  strip?: Strip;
  frameRate?: string;
  sound?: { url: string; peaks: string; channels: number; samples: number };
};

/** A file as it will be played: any frame of it, found along a strip of small pictures, by frame numbers or by keys. */
export function Preview({ row, large }: { row: RowOf<'media'>; large: boolean }) {
  const form = (row.form ?? {}) as unknown as Form;
  if (row.state !== 'ready' || form.kind === undefined) return null;
  if (form.kind === 'audio')
    return form.sound === undefined ? null : <Waveform sound={form.sound} height={large ? 240 : 80} />;
  return form.kind === 'video' ? (
    <VideoPreview key={row.file} form={form} name={row.name} large={large} />
  ) : (
    <img
      src={form.url}
      alt={row.name}
      style={{ width: '100%', maxHeight: large ? '70vh' : 200, objectFit: 'contain', background: 'var(--kl-ink7)' }}
    />
  );
}

function VideoPreview({ form, name, large }: { form: Form; name: string; large: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const source = useRef<Source | null>(null);
  const [frame, setFrame] = useState(0);
  const [hover, setHover] = useState<number | null>(null);
  const [fault, setFault] = useState('');
  const frames = form.frames ?? 1;
  const height = form.matte === true ? (form.height ?? 2) / 2 : (form.height ?? 1);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another file is another element
  useEffect(() => {
    const made = sourceOf(form);
    source.current = made;
    return () => made.close();
  }, []);

  useEffect(() => {
    let alive = true;
    const draw = () => {
      const from = source.current;
      if (!alive || from === null) return;
      from.want([frame]);
      const picture = from.get(frame);
      setFault(from.error);
      if (picture === null) {
        requestAnimationFrame(draw);
        return;
      }
      const to = canvas.current;
      if (to === null) return;
      to.width = form.width ?? 1;
      to.height = height;
      // Of a form with a matte, the upper half is what is seen.
      to.getContext('2d')?.drawImage(
        picture.image as CanvasImageSource,
        0,
        0,
        form.width ?? 1,
        height,
        0,
        0,
        form.width ?? 1,
        height,
      );
      to.dataset.frame = String(frame);
    };
    draw();
    return () => {
      alive = false;
    };
  }, [frame, form.width, height]);

  const step = (by: number) => setFrame((now) => Math.max(0, Math.min(frames - 1, now + by)));
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: 10, PageUp: -10, Home: -frames, End: frames }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    step(by * (event.shiftKey ? 10 : 1));
  };
  const rate = Number(form.frameRate ?? 25);
  const { strip } = form;
  const at = hover ?? frame;
  const picture = strip === undefined ? 0 : Math.min(strip.pictures - 1, Math.floor(at / strip.every));
  return (
    <section className="preview" aria-label={`Preview of ${name}`}>
      <canvas
        ref={canvas}
        style={{
          width: '100%',
          maxHeight: large ? '64vh' : 200,
          objectFit: 'contain',
          background: 'var(--kl-ink7)',
          display: 'block',
        }}
      />
      <div style={{ position: 'relative' }}>
        {strip !== undefined && hover !== null && (
          <div
            aria-hidden
            style={{
              position: 'absolute',
              bottom: 26,
              left: `clamp(0px, calc(${(100 * hover) / frames}% - 80px), calc(100% - 160px))`,
              width: strip.width,
              height: strip.height,
              border: '1px solid var(--kl-line)',
              background: `url(${strip.url}) ${-(picture % strip.columns) * strip.width}px ${-Math.floor(picture / strip.columns) * strip.height}px`,
            }}
          />
        )}
        <input
          type="range"
          aria-label="Frame"
          aria-valuetext={`frame ${frame} of ${frames}`}
          min={0}
          max={frames - 1}
          step={1}
          value={frame}
          style={{ width: '100%' }}
          onChange={(e) => setFrame(Number(e.currentTarget.value))}
          onKeyDown={onKey}
          onPointerMove={(e) => {
            const box = e.currentTarget.getBoundingClientRect();
            setHover(Math.max(0, Math.min(frames - 1, Math.floor(((e.clientX - box.left) / box.width) * frames))));
          }}
          onPointerLeave={() => setHover(null)}
        />
      </div>
      <div className="bar tight" style={{ padding: 0, border: 0 }}>
        <button type="button" className="plain" aria-label="One frame back" onClick={() => step(-1)}>
          −1
        </button>
        <button type="button" className="plain" aria-label="One frame on" onClick={() => step(1)}>
          +1
        </button>
        <span className="mono dim" style={{ fontSize: 12 }}>
          {frame} / {frames - 1} · {(frame / rate).toFixed(2)} s
          {large
            ? ` · ${timecode(Math.floor((frame / rate) * 705_600_000), form.frameRate ?? '25', Math.round(705_600_000 / rate))}`
            : ''}
        </span>
      </div>
      {fault !== '' && (
        <p className="state-fault" style={{ fontSize: 13 }}>
          ✕ {fault}
        </p>
      )}
      {form.sound !== undefined && <Waveform sound={form.sound} height={large ? 90 : 40} at={frame / frames} />}
    </section>
  );
}
