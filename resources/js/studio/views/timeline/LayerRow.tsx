import { type DragEvent, memo, useRef } from 'react';
import type { Property } from '../../../api/kinds';
import { useReach, useRows } from '../../hooks';
import { select, useStudio } from '../../store';
import { ClipBox } from './ClipBox';
import { CurveLane } from './CurveLane';
import { addressOf, LANE, LANES, type LayerProps, NAMES, ROW } from './shape';

/** A layer: its name, its clips and, while it is open, the lanes of its values. */
export const LayerRow = memo(function LayerRow(p: LayerProps) {
  const surfaces = useRows('surface');
  const aims = useReach(p.layer).map((a) => surfaces.find((s) => s.id === a)?.name ?? 'gone');
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
        <div className={aims.length === 0 ? 'state-attention' : 'dim'} style={{ fontSize: 11, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
          {aims.length === 0 ? '▲ aimed at nothing' : `▸ ${aims.join(', ')}`}
        </div>
        {p.open && LANES.map((c, i) => <LaneName key={c.name} address={addressOf(p.layer.id, c.name)} property={c} top={ROW + i * LANE} />)}
      </div>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: media are dropped here; a press on the tray does the same by keyboard */}
      <div ref={lane} className="tl-lane" style={{ width: p.width }} onDragOver={(e) => e.dataTransfer.types.includes('application/x-kite-media') && e.preventDefault()} onDrop={onDrop}>
        <div style={{ position: 'absolute', left: p.end * p.perFlick, top: 0, bottom: 0, right: 0, background: 'var(--kl-ink8)', borderLeft: '1px solid var(--kl-line)' }} />
        {visible.map((c) => (
          <ClipBox key={c.id} clip={c} media={p.media.get(c.media)} on={c.id === p.selected} perFlick={p.perFlick} frame={p.frame} snap={p.snap} layer={p.layer.id} />
        ))}
        {p.open &&
          LANES.map((c, i) => (
            <CurveLane
              key={c.name}
              kind={c}
              top={ROW + i * LANE}
              layer={p.layer}
              curve={p.curves.find((row) => row.owner === p.layer.id && row.property === c.name)}
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

function LaneName({ address, property, top }: { address: string; property: Property; top: number }) {
  const loose = useStudio((s) => s.values[address]);
  return (
    <div style={{ position: 'absolute', top, left: 10, right: 10, fontSize: 12, paddingTop: 6, borderTop: '1px solid var(--kl-ink6)' }} className="dim">
      {property.label}
      {loose !== undefined && (
        <div className="looseval mono" style={{ display: 'table', marginTop: 4 }}>
          {Number((loose * property.scale).toFixed(2))} {property.unit}
        </div>
      )}
    </div>
  );
}
