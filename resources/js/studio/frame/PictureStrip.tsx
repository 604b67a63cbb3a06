import { type PointerEvent, useState } from 'react';
import { create } from 'zustand';
import { follow } from '../drag';
import { surfaceOf, useRows, useShow } from '../hooks';
import { LitRaster } from '../stage/LitRaster';
import { select, useStudio, type View } from '../store';

/** The views in which one programs, and sees what comes of it. */
const VIEWS: readonly View[] = ['routes', 'timeline', 'cues', 'run'];

const KEPT = 'kite-pictures';
const [LEAST, USUAL, MOST] = [64, 112, 320];
const within = (height: number) => Math.max(LEAST, Math.min(MOST, height));
/** Surfaces that are shown at once. */
const SHOWN = 40;

interface Kept {
  open: boolean;
  height: number;
}

/** Unfolds the strip, or folds it. */
export const foldPictures = () => write({ open: !useStrip.getState().open });

/** What unfolds the strip, where there is one. */
export function PicturesButton() {
  const view = useStudio((s) => s.view);
  const open = useStrip((s) => s.open);
  if (!VIEWS.includes(view)) return null;
  return (
    <button
      type="button"
      className="pictures-button"
      aria-expanded={open}
      title="What surfaces show now (P)"
      onClick={foldPictures}
    >
      {open ? '▾' : '▴'} Pictures
    </button>
  );
}

function kept(): Kept {
  try {
    const { open, height } = JSON.parse(localStorage.getItem(KEPT) ?? '') as Kept;
    return { open: open === true, height: within(Number(height) || USUAL) };
  } catch {
    return { open: false, height: USUAL };
  }
}

const useStrip = create<Kept>(kept);

function write(fields: Partial<Kept>) {
  useStrip.setState(fields);
  localStorage.setItem(KEPT, JSON.stringify(useStrip.getState()));
}

/**
 * What surfaces show now, beside what one programs: the one that the selection leads to first. Drawn by the stage, so that
 * it costs nothing while nothing changes, or while it is folded.
 */
export function PictureStrip() {
  const view = useStudio((s) => s.view);
  const show = useShow();
  const selected = useStudio((s) => s.selected);
  const surfaces = useRows('surface');
  const { open, height } = useStrip();
  const [drag, setDrag] = useState<number | null>(null);
  if (!open || !VIEWS.includes(view) || surfaces.length === 0) return null;
  const first = surfaceOf(show, selected);
  const list = [...surfaces].sort((a, b) => Number(b.id === first) - Number(a.id === first)).slice(0, SHOWN);
  const high = drag ?? height;
  const size = (e: PointerEvent<HTMLElement>) => {
    let to = height;
    follow(
      e,
      (_, dy) => {
        to = within(height - dy);
        setDrag(to);
      },
      (how) => {
        setDrag(null);
        if (how === 'dropped') write({ height: to });
      },
    );
  };
  return (
    <section className="picture-strip" aria-label="Pictures" style={{ height: high }}>
      <div
        role="separator"
        tabIndex={0}
        aria-orientation="horizontal"
        aria-label="Height of the pictures"
        aria-valuenow={high}
        aria-valuemin={LEAST}
        aria-valuemax={MOST}
        className="grip"
        onPointerDown={size}
        onKeyDown={(e) => {
          const by = e.key === 'ArrowUp' ? 16 : e.key === 'ArrowDown' ? -16 : 0;
          if (by === 0) return;
          e.preventDefault();
          write({ height: within(height + by) });
        }}
      />
      {list.map((surface) => {
        const figures = show?.computed.surfaces[surface.id];
        const shape = figures === undefined ? 1 : figures.rasterWidth / Math.max(1, figures.rasterHeight);
        const picture = high - 30;
        return (
          <button
            key={surface.id}
            type="button"
            className={surface.id === first ? 'picture on' : 'picture'}
            title={surface.name}
            style={{ width: Math.max(48, Math.min(4, shape) * picture) }}
            onClick={() => select({ kind: 'surface', id: surface.id })}
          >
            <span className="frame" style={{ height: picture }}>
              <span
                style={{
                  aspectRatio: `${shape}`,
                  maxHeight: '100%',
                  maxWidth: '100%',
                  width: shape >= 1 ? '100%' : undefined,
                  height: shape < 1 ? '100%' : undefined,
                }}
              >
                <LitRaster surface={surface.id} />
              </span>
            </span>
            <span className="name">{surface.name}</span>
          </button>
        );
      })}
    </section>
  );
}
