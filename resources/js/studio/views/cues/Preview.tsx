import { useEffect, useRef, useState } from 'react';
import type { ShowPlayback } from '../../../live/playback';
import { useRows } from '../../hooks';
import { LitRaster } from '../../stage/LitRaster';
import { Stage } from '../../stage/stage';
import { live, shownPlayback, useStudio } from '../../store';

/** Surfaces that are shown at most. */
const MOST = 12;
/** Ms until it is asked again, where it could not be told. */
const AGAIN = 600;
/** Flicks of a millisecond. */
const PER_MS = 705_600;

/** What a cue would look like once all of it had faded in: drawn in this window alone. */
export function Preview({ cue }: { cue: string | null }) {
  const surfaces = useRows('surface');
  // Whatever is told may make it another picture.
  const told = useStudio((s) => s.told);
  const [stage, setStage] = useState<Stage | null>(null);
  const [of, setOf] = useState<string | null>(null);
  const shown = useRef<{ on: ShowPlayback; engine: number; since: number } | null>(null);
  useEffect(() => {
    const own = new Stage(() => {
      const { current } = shown;
      return current === null
        ? null
        : { on: current.on, now: current.engine + (performance.now() - current.since) * PER_MS };
    });
    setStage(own);
    return () => own.close();
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again whenever something is told
  useEffect(() => {
    let alive = true;
    const on = shownPlayback();
    const look = async () => {
      const seen = on === null || cue === null ? null : await live.preview(on.show, cue);
      // A plan that nobody has drawn by yet is brought up to date first.
      const now = live.now();
      const plan = now === null ? null : (on?.at(now) ?? null);
      const twin = seen === null || plan === null ? null : (on?.twin() ?? null);
      if (!alive) return;
      if (twin === null && cue !== null) timer = setTimeout(() => void look(), AGAIN);
      if (seen !== null && twin !== null) {
        for (const deck of seen.decks) twin.deck(deck);
        twin.hold({ show: twin.show, all: seen.held });
        shown.current = { on: twin, engine: seen.engine, since: performance.now() };
      } else shown.current = null;
      setOf(shown.current === null ? null : (seen?.cue ?? null));
      stage?.refresh();
    };
    let timer = setTimeout(() => void look(), 150);
    return () => {
      alive = false;
      clearTimeout(timer);
    };
  }, [cue, told, stage]);
  return (
    <section
      aria-label="Preview of the next cue"
      data-cue={of ?? ''}
      style={{
        display: 'flex',
        flexWrap: 'wrap',
        gap: 10,
        padding: '10px 24px',
        borderBottom: '1px solid var(--kl-line)',
      }}
    >
      {cue === null ? (
        <span className="dim">The list has no next cue.</span>
      ) : stage === null || of === null ? (
        <span className="dim">Not there yet.</span>
      ) : (
        surfaces.slice(0, MOST).map((surface) => (
          <figure key={surface.id} style={{ margin: 0, width: 120 }}>
            <div style={{ height: 68 }}>
              <LitRaster surface={surface.id} of={stage} />
            </div>
            <figcaption
              className="dim"
              style={{ fontSize: 12, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            >
              {surface.name}
            </figcaption>
          </figure>
        ))
      )}
    </section>
  );
}
