import { type DragEvent, type KeyboardEvent, memo, type PointerEvent as ReactPointer, useRef } from 'react';
import { type Property, properties } from '../../../api/kinds';
import { inWords, numberOf } from '../../../live/property';
import { follow } from '../../drag';
import { useReach, useRow, useRows } from '../../hooks';
import { command, edit, program, select, update, useStudio } from '../../store';
import { ClipBox } from './ClipBox';
import { CurveLane } from './CurveLane';
import { addressOf, HEAD, type Lane, type LayerProps, type Line, NAMES } from './shape';

const of = (name: string) => properties.layer.find((p) => p.name === name) as Property;
const [MUTE, SOLO, BLEND] = [of('mute'), of('solo'), of('blend')];

/** A switch of a layer at its head: pressed, it is set by hand, back at what is stored it is let go of. */
function HeadSwitch({ layer, property, short }: { layer: LayerProps['layer']; property: Property; short: string }) {
  const loose = useStudio((s) => s.values[addressOf(layer.id, property.name)]);
  const stored = numberOf(property, (layer.values as Record<string, unknown>)[property.name]);
  const on = (loose ?? stored) >= 0.5;
  const flip = () => {
    const next = on ? 0 : 1;
    return command({ action: 'live', values: { [addressOf(layer.id, property.name)]: next === stored ? null : next } });
  };
  return (
    <button
      type="button"
      className={`headswitch ${on ? 'on' : ''} ${loose === undefined ? '' : 'loose'}`}
      aria-pressed={on}
      aria-label={`${property.label} ${layer.name}`}
      title={property.label}
      onClick={() => void flip()}
    >
      {short}
    </button>
  );
}

/** The head of a group of layers: folds them away, without any change to what they show. */
export function GroupRow({
  line,
  top,
  width,
  fold,
}: {
  line: Line & { kind: 'group' };
  top: number;
  width: number;
  fold: (name: string) => void;
}) {
  return (
    <div className="tl-group" style={{ top, height: HEAD, width: NAMES + width }}>
      <button type="button" className="tl-grouphead" aria-expanded={!line.folded} onClick={() => fold(line.name)}>
        {line.folded ? '▸' : '▾'} {line.name} <span className="dim">{line.count}</span>
      </button>
    </div>
  );
}

/** A layer: its name, its clips and, while it is open, the lanes of its values. */
export const LayerRow = memo(function LayerRow(p: LayerProps) {
  const surfaces = useRows('surface');
  const route = useRow('route', p.layer.route ?? undefined);
  const aims = useReach(p.layer).map((a) => surfaces.find((s) => s.id === a)?.name ?? 'gone');
  const looseBlend = useStudio((s) => s.values[addressOf(p.layer.id, BLEND.name)]);
  const blend = inWords(BLEND, looseBlend ?? numberOf(BLEND, (p.layer.values as Record<string, unknown>)[BLEND.name]));
  const chain = p.chains.get(p.layer.id);
  const lane = useRef<HTMLDivElement>(null);
  const timeAt = (clientX: number) => (clientX - (lane.current?.getBoundingClientRect().left ?? 0)) / p.perFlick;
  const takes = (e: DragEvent) =>
    e.dataTransfer.types.includes('application/x-kite-media') || e.dataTransfer.types.includes('Files');
  const onDrop = (e: DragEvent) => {
    const time = p.snap(timeAt(e.clientX), e.altKey);
    p.snap(-1, true);
    const id = e.dataTransfer.getData('application/x-kite-media');
    const files = [...e.dataTransfer.files];
    if (id === '' && files.length === 0) return;
    e.preventDefault();
    if (id !== '') p.drop(id, p.layer.id, time);
    else p.dropFiles(files, p.layer.id, time);
  };
  const open = () => select({ kind: 'layer', id: p.layer.id });
  const sounds =
    p.clips.length > 0 &&
    p.clips.every((c) => (p.media.get(c.media)?.form as { kind?: string } | null | undefined)?.kind === 'audio');
  const onKey = (e: KeyboardEvent) => {
    if (e.key === 'Enter') open();
    if (e.altKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown')) {
      e.preventDefault();
      e.stopPropagation();
      void program({ action: 'raise', layer: p.layer.id, up: e.key === 'ArrowUp' });
    }
  };
  /** Dragged by its name, it goes right above the layer on which it is let go. */
  const reorder = (e: ReactPointer) => {
    if (e.button !== 0) return;
    let above: string | null = null;
    follow(
      e,
      (_dx, _dy, move) => {
        const over = document
          .elementsFromPoint(move.clientX, move.clientY)
          .find((n) => n instanceof HTMLElement && n.dataset.layer !== undefined) as HTMLElement | undefined;
        above = over?.dataset.layer ?? null;
      },
      (how) => {
        if (how === 'pressed') open();
        if (how === 'dropped' && above !== null && above !== p.layer.id)
          void program({ action: 'reorder', layer: p.layer.id, above });
      },
    );
  };
  const [left, right] = [p.seen.left, p.seen.left + p.seen.width];
  const visible = p.clips.filter((c) => c.start * p.perFlick < right && (c.start + c.length) * p.perFlick > left);
  return (
    <div className="tl-layer" style={{ top: p.top, height: p.height, width: NAMES + p.width }} data-layer={p.layer.id}>
      <div
        className="tl-name"
        style={p.layer.colour === '' ? undefined : { borderLeft: `4px solid ${p.layer.colour}` }}
        data-open={p.open}
      >
        <div
          className="tl-title"
          role="button"
          tabIndex={0}
          aria-pressed={p.open}
          onPointerDown={reorder}
          onClick={open}
          onKeyDown={onKey}
        >
          <div className="tl-layername" title={p.layer.name}>
            {p.layer.name}
          </div>
          <div
            className={aims.length === 0 && !sounds ? 'state-attention tl-aims' : 'dim tl-aims'}
            title={aims.join(', ') || undefined}
          >
            {sounds
              ? '♪ sound'
              : aims.length === 0
                ? '▲ aimed at nothing'
                : `▸ ${(route?.name ?? '') !== '' ? `${route?.name}: ` : ''}${aims.join(', ')}`}
            {chain !== undefined && <span title={chain.join(', ')}> · {chain.length} fx</span>}
            {blend !== 'normal' && <span className={looseBlend === undefined ? '' : 'looseval'}> · {blend}</span>}
          </div>
        </div>
        <div className="tl-switches">
          <HeadSwitch layer={p.layer} property={MUTE} short="mute" />
          <HeadSwitch layer={p.layer} property={SOLO} short="solo" />
          <button
            type="button"
            className={`headswitch ${p.layer.locked ? 'on' : ''}`}
            aria-pressed={p.layer.locked}
            aria-label={`Lock ${p.layer.name}`}
            title="Lock: its clips stay as they are"
            onClick={() =>
              void edit(`${p.layer.locked ? 'Unlock' : 'Lock'} ${p.layer.name}`, [
                update('layer', p.layer, { locked: !p.layer.locked }),
              ])
            }
          >
            lock
          </button>
        </div>
        {p.open && p.lanes.list.map((lane) => <LaneName key={lane.address} lane={lane} enlarge={p.enlarge} />)}
      </div>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: media are dropped here; a press on the tray does the same by keyboard */}
      <div
        ref={lane}
        className="tl-lane"
        style={{ width: p.width }}
        onDragOver={(e) => {
          if (takes(e)) e.preventDefault();
        }}
        onDrop={onDrop}
      >
        <div
          style={{
            position: 'absolute',
            left: p.end * p.perFlick,
            top: 0,
            bottom: 0,
            right: 0,
            background: 'var(--kl-ink8)',
            borderLeft: '1px solid var(--kl-line)',
          }}
        />
        {visible.map((c) => (
          <ClipBox
            key={c.id}
            clip={c}
            media={p.media.get(c.media)}
            on={p.chosen.has(c.id)}
            perFlick={p.perFlick}
            frame={p.frame}
            snap={p.snap}
            layer={p.layer.id}
            locked={p.layer.locked}
            passes={p.passes[c.id]}
            over={p.passes[c.id]?.over ?? 0}
            effects={p.chains.get(c.id)}
            seen={p.seen}
          />
        ))}
        {p.open &&
          p.lanes.list.map((lane) => (
            <CurveLane
              key={lane.address}
              lane={lane}
              curve={p.curves.find(
                (row) => row.owner === lane.owner.id && row.property === lane.property.name && row.slot === lane.slot,
              )}
              perFlick={p.perFlick}
              width={p.width}
              snap={p.snap}
              keys={p.keys}
              choose={p.choose}
              timeAt={timeAt}
            />
          ))}
      </div>
    </div>
  );
});

function LaneName({ lane, enlarge }: { lane: Lane; enlarge: (address: string) => void }) {
  const loose = useStudio((s) => s.values[lane.address]);
  return (
    <div
      style={{
        position: 'absolute',
        top: lane.top,
        left: 10,
        right: 10,
        fontSize: 12,
        paddingTop: 6,
        borderTop: '1px solid var(--kl-ink6)',
      }}
      className="dim"
    >
      <button
        type="button"
        className="lanename"
        title="Enlarge this lane, or make it small again"
        onClick={() => enlarge(lane.address)}
      >
        {lane.label}
      </button>
      {loose !== undefined && (
        <span
          className="looseval mono"
          style={lane.height > 40 ? { display: 'table', marginTop: 4 } : { marginLeft: 8 }}
        >
          {inWords(lane.property, loose)}
        </span>
      )}
    </div>
  );
}
