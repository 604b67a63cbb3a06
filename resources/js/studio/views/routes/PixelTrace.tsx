import { useQuery } from '@tanstack/react-query';
import type { MouseEvent } from 'react';
import { answer, http } from '../../../api/client';
import { useShow } from '../../hooks';
import { LitRaster } from '../../stage/LitRaster';
import { select, useStudio } from '../../store';

/** A pixel of a surface that is asked about. */
export interface Pixel {
  surface: string;
  x: number;
  y: number;
}

/** What a surface shows now; a press asks about the pixel there, with the arrow keys the ones beside it. */
export function AskedRaster({
  surface,
  height,
  asked,
  ask,
}: {
  surface: string;
  height: number;
  asked: Pixel | null;
  ask: (pixel: Pixel) => void;
}) {
  const show = useShow();
  const size = show?.computed.surfaces[surface];
  const name = show?.rows.surface.find((s) => s.id === surface)?.name ?? '';
  if (size === undefined) return null;
  const [w, h] = [size.rasterWidth, size.rasterHeight];
  const press = (e: MouseEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    // A press by keyboard has no place: the middle.
    const at = e.detail === 0 ? [0.5, 0.5] : [(e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height];
    ask({
      surface,
      x: Math.max(0, Math.min(w - 1, Math.floor((at[0] ?? 0) * w))),
      y: Math.max(0, Math.min(h - 1, Math.floor((at[1] ?? 0) * h))),
    });
  };
  const mine = asked?.surface === surface ? asked : null;
  return (
    <li style={{ flex: 'none' }}>
      <button
        type="button"
        className="plain"
        aria-label={`Pixel of ${name}`}
        title="What is this pixel?"
        style={{
          display: 'block',
          padding: 0,
          position: 'relative',
          height,
          width: Math.max(40, Math.min(300, (height * w) / Math.max(1, h))),
          cursor: 'crosshair',
          overflow: 'hidden',
        }}
        onClick={press}
        onKeyDown={(e) => {
          const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
          if (by === undefined || mine === null) return;
          e.preventDefault();
          ask({
            surface,
            x: Math.max(0, Math.min(w - 1, mine.x + (by[0] ?? 0))),
            y: Math.max(0, Math.min(h - 1, mine.y + (by[1] ?? 0))),
          });
        }}
      >
        <LitRaster surface={surface} />
        {mine !== null && (
          <span
            style={{
              position: 'absolute',
              left: `${((mine.x + 0.5) / w) * 100}%`,
              top: `${((mine.y + 0.5) / h) * 100}%`,
              width: 12,
              height: 12,
              margin: '-6px 0 0 -6px',
              border: '1.5px solid var(--kl-kite)',
              transform: 'rotate(45deg)',
              background: 'color-mix(in srgb, black 30%, transparent)',
            }}
          />
        )}
      </button>
      <button
        type="button"
        className="plain"
        style={{ border: 0, fontSize: 12, padding: '2px 0' }}
        onClick={() => select({ kind: 'surface', id: surface })}
      >
        {name}
      </button>
    </li>
  );
}

/** Every layer that reaches a pixel, from the top down, with the pixel of its content that lands there. */
export function PixelTrace({ pixel }: { pixel: Pixel }) {
  const show = useShow();
  const told = useStudio((s) => s.told);
  const { showId } = useStudio.getState();
  const name = show?.rows.surface.find((s) => s.id === pixel.surface)?.name ?? '';
  const found = useQuery({
    queryKey: ['pixel', showId, pixel, show?.revision, told],
    queryFn: () =>
      answer(
        http.GET('/shows/{show}/pixel', {
          params: {
            path: { show: showId ?? '' },
            query: { surface: pixel.surface, x: String(pixel.x), y: String(pixel.y) },
          },
        }),
      ),
    placeholderData: (before) => before,
  });
  const layers = found.data?.layers;
  return (
    <section aria-label="Pixel" style={{ flex: 'none', width: 252, maxHeight: 150, overflow: 'auto', fontSize: 13 }}>
      <strong>{name}</strong>{' '}
      <span className="mono dim">
        {pixel.x}, {pixel.y}
      </span>
      {layers === undefined ? null : layers.length === 0 ? (
        <p className="dim" style={{ margin: '4px 0' }}>
          Nothing reaches this pixel.
        </p>
      ) : (
        <ol style={{ margin: '4px 0', padding: 0, listStyle: 'none' }}>
          {layers.map((l, i) => (
            <li key={i} style={{ marginBottom: 4 }}>
              {i + 1}. {l.name}{' '}
              <span className="mono dim">
                {Math.round(l.opacity * 100)} %{l.blend === 'normal' ? '' : ` ${l.blend}`}
              </span>
              <div className="dim" style={{ fontSize: 12 }}>
                {l.mediaName}{' '}
                <span className="mono">
                  {Math.floor(l.x)}, {Math.floor(l.y)}
                  {l.frame > 0 ? ` · frame ${l.frame}` : ''}
                </span>
              </div>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
