import { type DragEvent, memo, useRef } from 'react';
import { type Property, properties } from '../../../api/kinds';
import { inWords, numberOf } from '../../../live/property';
import { useReach, useRows } from '../../hooks';
import { select, useStudio } from '../../store';
import { ClipBox } from './ClipBox';
import { CurveLane } from './CurveLane';
import { addressOf, LANES, type Lane, type LayerProps, NAMES } from './shape';

const MUTE = properties.layer.find((p) => p.name === 'mute') as Property;

/** A layer: its name, its clips and, while it is open, the lanes of its values. */
export const LayerRow = memo(function LayerRow(p: LayerProps) {
  const surfaces = useRows('surface');
  const aims = useReach(p.layer).map((a) => surfaces.find((s) => s.id === a)?.name ?? 'gone');
  const loose = useStudio((s) => s.values[addressOf(p.layer.id, MUTE.name)]);
  const muted = (loose ?? numberOf(MUTE, (p.layer.values as Record<string, unknown>)[MUTE.name])) >= 0.5;
  const lane = useRef<HTMLDivElement>(null);
  const timeAt = (clientX: number) => (clientX - (lane.current?.getBoundingClientRect().left ?? 0)) / p.perFlick;
  const onDrop = (e: DragEvent) => {
    const id = e.dataTransfer.getData('application/x-kite-media');
    if (id === '') return;
    e.preventDefault();
    p.drop(id, p.layer.id, p.snap(timeAt(e.clientX), e.altKey));
  };
  const visible = p.clips.filter((c) => c.start * p.perFlick < p.seen.left + p.seen.width && (c.start + c.length) * p.perFlick > p.seen.left);
  return (
    <div className="tl-layer" style={{ top: p.top, height: p.height, width: NAMES + p.width }} data-layer={p.layer.id}>
      <div className="tl-name" role="button" tabIndex={0} aria-pressed={p.open} onClick={() => select({ kind: 'layer', id: p.layer.id })} onKeyDown={(e) => e.key === 'Enter' && select({ kind: 'layer', id: p.layer.id })}>
        <div style={{ whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>{p.layer.name}</div>
        {muted && (
          <span className={loose === undefined ? 'dim' : 'looseval'} style={{ position: 'absolute', top: 6, right: 8, fontSize: 11, background: 'var(--kl-ink8)' }}>
            muted
          </span>
        )}
        <div className={aims.length === 0 ? 'state-attention' : 'dim'} style={{ fontSize: 11, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
          {aims.length === 0 ? '▲ aimed at nothing' : `▸ ${aims.join(', ')}`}
        </div>
        {p.open && LANES.map((lane) => <LaneName key={lane.value} address={addressOf(p.layer.id, lane.value)} lane={lane} />)}
      </div>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: media are dropped here; a press on the tray does the same by keyboard */}
      <div ref={lane} className="tl-lane" style={{ width: p.width }} onDragOver={(e) => e.dataTransfer.types.includes('application/x-kite-media') && e.preventDefault()} onDrop={onDrop}>
        <div style={{ position: 'absolute', left: p.end * p.perFlick, top: 0, bottom: 0, right: 0, background: 'var(--kl-ink8)', borderLeft: '1px solid var(--kl-line)' }} />
        {visible.map((c) => (
          <ClipBox key={c.id} clip={c} media={p.media.get(c.media)} on={c.id === p.selected} perFlick={p.perFlick} frame={p.frame} snap={p.snap} layer={p.layer.id} />
        ))}
        {p.open &&
          LANES.map((lane) => (
            <CurveLane
              key={lane.value}
              lane={lane}
              layer={p.layer}
              curve={p.curves.find((row) => row.owner === p.layer.id && row.property === lane.property.name && row.slot === lane.slot)}
              perFlick={p.perFlick}
              width={p.width}
              snap={p.snap}
              chosen={p.chosen}
              choose={p.choose}
              timeAt={timeAt}
            />
          ))}
      </div>
    </div>
  );
});

function LaneName({ address, lane }: { address: string; lane: Lane }) {
  const loose = useStudio((s) => s.values[address]);
  return (
    <div style={{ position: 'absolute', top: lane.top, left: 10, right: 10, fontSize: 12, paddingTop: 6, borderTop: '1px solid var(--kl-ink6)' }} className="dim">
      {lane.label}
      {loose !== undefined && (
        <span className="looseval mono" style={lane.height > 40 ? { display: 'table', marginTop: 4 } : { marginLeft: 8 }}>
          {inWords(lane.property, loose)}
        </span>
      )}
    </div>
  );
}
