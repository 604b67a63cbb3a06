import { useEffect, useRef, useState } from 'react';
import type { RowOf } from '../../../api/client';
import type { MediaPart } from '../../../live/messages';
import { LiveSource, sourceOf } from '../../../player/source';
import { complain } from '../../store';

const RIG = 'Virtual rig';

/** A small stream of an input, only while it is asked for, with what it costs the network. */
export function LivePreview({ row, streams }: { row: RowOf<'media'>; streams: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [on, setOn] = useState(false);
  const [told, tell] = useState<{ rate: number; delay: number | null; error: string }>({
    rate: 0,
    delay: null,
    error: '',
  });
  const form = row.form as unknown as MediaPart | undefined;
  const url = form?.url;
  const server = ((row.facts ?? {}) as { server?: string }).server ?? '';
  // biome-ignore lint/correctness/useExhaustiveDependencies: another input is another stream
  useEffect(() => {
    if (!on || form === undefined) return;
    const source = sourceOf(form, true);
    let [alive, shown, bytes, since] = [true, '', 0, performance.now()];
    const draw = () => {
      if (!alive) return;
      requestAnimationFrame(draw);
      const picture = source.get(0);
      const to = canvas.current;
      if (picture !== null && to !== null && picture.key !== shown) {
        shown = picture.key;
        const image = picture.image as HTMLVideoElement & ImageBitmap;
        to.width = image.videoWidth ?? image.width;
        to.height = image.videoHeight ?? image.height;
        to.getContext('2d')?.drawImage(image, 0, 0);
        to.dataset.shown = shown;
      }
      const now = performance.now();
      if (now - since > 1000) {
        const live = source instanceof LiveSource ? source : null;
        tell({
          rate: live === null ? 0 : ((live.bytes - bytes) * 8000) / (now - since),
          delay: live?.delay ?? null,
          error: source.error,
        });
        [bytes, since] = [live?.bytes ?? 0, now];
      }
    };
    draw();
    return () => {
      alive = false;
      source.close();
    };
  }, [on, url]);
  const order = (what: 'signal' | 'command', body: Record<string, unknown>) =>
    void fetch(`${url}/${what}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    })
      .then(async (answer) => answer.ok || complain(new Error((await answer.json()).detail)))
      .catch(complain);
  return (
    <section aria-label={`Preview of ${row.name}`} style={{ marginTop: 10 }}>
      <button type="button" className="plain" aria-pressed={on} onClick={() => setOn(!on)}>
        Preview here
      </button>
      {on && (
        <>
          <canvas
            ref={canvas}
            style={{ width: '100%', display: 'block', marginTop: 8, background: 'var(--kl-ink7)' }}
          />
          <p className="mono dim" style={{ fontSize: 12 }}>
            {told.error !== '' ? (
              <span className="state-fault">✕ {told.error}</span>
            ) : (
              `${(told.rate / 1e6).toFixed(2)} Mbit/s from ${server}${told.delay === null ? '' : ` · ${Math.round(told.delay)} ms behind`}`
            )}
          </p>
          <p className="dim" style={{ fontSize: 12 }}>
            This preview is one more stream from {server}, small;{' '}
            {streams === 0
              ? 'no output takes it now.'
              : `${streams} ${streams === 1 ? 'output takes' : 'outputs take'} it whole.`}
          </p>
        </>
      )}
      {server === RIG && (
        <div className="bar tight" style={{ padding: '8px 0 0', border: 0 }}>
          <button
            type="button"
            className="plain"
            onClick={() => order('signal', { on: row.state === 'lost' })}
            title="Of the simulated device"
          >
            {row.state === 'lost' ? 'Plug in' : 'Unplug'}
          </button>
          {row.file === 'input:slides' && (
            <>
              <button type="button" className="plain" onClick={() => order('command', { action: 'back' })}>
                Slide back
              </button>
              <button type="button" className="plain" onClick={() => order('command', { action: 'next' })}>
                Next slide
              </button>
            </>
          )}
        </div>
      )}
    </section>
  );
}
