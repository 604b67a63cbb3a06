import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import type { RowOf } from '../../../api/client';
import { by, fire, onNow, progress } from '../../cues';
import { useRows, useShow } from '../../hooks';
import { select, shownPlayback, useStudio } from '../../store';
import { FLICKS, timecode } from '../../time';

const seconds = (flicks: number) => `${Number((flicks / FLICKS).toFixed(2))} s`;

/** What starts a cue, in words. */
function starts(cue: RowOf<'cue'>): string {
  return { go: '', follow: 'follows', wait: `after ${seconds(cue.wait)}`, clock: cue.clock }[cue.trigger];
}

/** The cue list: in order of numbers, with what is on, what comes next, and the notes. */
export function CueList({ cues, big = false }: { cues: RowOf<'cue'>[]; big?: boolean }) {
  useStudio((s) => s.told);
  const show = useShow();
  const groups = useRows('group');
  const selected = useStudio((s) => (s.selected?.kind === 'cue' ? s.selected.id : null));
  const body = useRef<HTMLDivElement>(null);
  const told = shownPlayback()?.cues;
  const size = big ? 56 : 38;
  const rows = useVirtualizer({
    count: cues.length,
    getScrollElement: () => body.current,
    estimateSize: () => size,
    overscan: 8,
    getItemKey: (i) => cues[i]?.id ?? i,
  });
  const at = cues.findIndex((c) => c.id === (big ? (told?.next ?? told?.last) : selected));
  // biome-ignore lint/correctness/useExhaustiveDependencies: the list follows what is next
  useEffect(() => {
    if (at >= 0) rows.scrollToIndex(at, { align: 'auto' });
  }, [at]);
  if (show === undefined) return null;
  return (
    <div ref={body} className={`cuelist ${big ? 'big' : ''}`} role="list" aria-label="Cues">
      <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
        {rows.getVirtualItems().map((item) => {
          const cue = cues[item.index];
          if (cue === undefined) return null;
          const on = onNow(cue.id);
          const group = groups.find((g) => g.id === cue.group);
          return (
            <div
              key={cue.id}
              role="listitem"
              className={`cueline ${told?.next === cue.id ? 'next' : ''} ${on === undefined ? '' : 'on'} ${!big && selected === cue.id ? 'chosen' : ''}`}
              style={{ top: item.start, height: item.size }}
            >
              <button
                type="button"
                className="cueline-main"
                aria-label={`Cue ${cue.number} ${cue.name}`}
                aria-pressed={selected === cue.id}
                onClick={() => select({ kind: 'cue', id: cue.id })}
                onDoubleClick={() => void fire(cue.id)}
              >
                <span className="mono">{cue.number}</span>
                <span className="cueline-name" title={[cue.name, cue.note].filter(Boolean).join(': ')}>
                  {cue.name}
                  <span className="cueline-state">
                    {on !== undefined ? (
                      <span style={{ color: 'var(--kl-lamp)' }}>
                        {progress(on) < 1 ? 'fading' : 'on'} {by(on.by)}
                      </span>
                    ) : told?.next === cue.id ? (
                      'next'
                    ) : told?.pending?.cue === cue.id ? (
                      'waits'
                    ) : null}{' '}
                    <span className="dim">
                      {cue.note}
                      {group === undefined ? '' : ` ${group.name}`}
                    </span>
                  </span>
                </span>
                <span className={`scope-sign ${cue.scope}`}>
                  {cue.scope === 'everything'
                    ? 'everything'
                    : cue.held.length === 0
                      ? ''
                      : `${cue.held.length} ${cue.held.length === 1 ? 'value' : 'values'}`}
                </span>
                <span className="mono dim">
                  {cue.time !== null && cue.timeline !== null
                    ? `${timecode(cue.time, show.frameRate, show.computed.flicksPerFrame)}${cue.holds ? ' ‖' : ''}`
                    : starts(cue)}
                </span>
                <span className="mono dim">{cue.fade > 0 || cue.held.length > 0 ? seconds(cue.fade) : ''}</span>
              </button>
            </div>
          );
        })}
      </div>
    </div>
  );
}
