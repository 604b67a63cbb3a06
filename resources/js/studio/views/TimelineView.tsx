import { Select } from '@mantine/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type DragEvent, type KeyboardEvent, memo, type PointerEvent as ReactPointer, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { RowOf, Schemas } from '../../api/client';
import { NumberField, TimeField } from '../fields/fields';
import { addCue, tapMarker } from '../frame/actions';
import { Kite } from '../frame/Kite';
import { useEveryFrame, useRows, useShow } from '../hooks';
import { command, edit, insert, position, remove, select, update, useStudio } from '../store';
import { FLICKS, timecode, ulid } from '../time';

const NAMES = 180;
const ROW = 48;
const LANE = 60;
const CURVES = [
  { name: 'opacity', label: 'Opacity', least: 0, most: 1, scale: 100, unit: '%' },
  { name: 'x', label: 'Position X', least: null, most: null, scale: 1, unit: 'px' },
  { name: 'y', label: 'Position Y', least: null, most: null, scale: 1, unit: 'px' },
] as const;

type Key = Schemas['Keyframe'];

/** Follows a pointer from press to release. `moved` gets the way gone in pixels; `done` whether it went anywhere. */
function follow(event: ReactPointer, moved: (dx: number, dy: number, e: PointerEvent) => void, done: (went: boolean) => void) {
  event.preventDefault();
  event.stopPropagation();
  const node = event.currentTarget as HTMLElement;
  node.setPointerCapture(event.pointerId);
  const [sx, sy] = [event.clientX, event.clientY];
  let went = false;
  const move = (e: PointerEvent) => {
    if (!went && Math.hypot(e.clientX - sx, e.clientY - sy) < 3) return;
    went = true;
    moved(e.clientX - sx, e.clientY - sy, e);
  };
  const up = () => {
    node.removeEventListener('pointermove', move);
    node.removeEventListener('pointerup', up);
    node.removeEventListener('pointercancel', up);
    done(went);
  };
  node.addEventListener('pointermove', move);
  node.addEventListener('pointerup', up);
  node.addEventListener('pointercancel', up);
}

export function TimelineView() {
  const show = useShow();
  const timeline = show?.rows.timeline[0];
  const layers = useMemo(() => [...(show?.rows.layer ?? [])].filter((l) => l.timeline === timeline?.id).sort((a, b) => b.order - a.order || (a.id < b.id ? 1 : -1)), [show?.rows.layer, timeline?.id]);
  const clips = useRows('clip');
  const curves = useRows('curve');
  const markers = useRows('marker');
  const cues = useRows('cue');
  const media = useRows('media');
  const selected = useStudio((s) => s.selected);
  const [perSecond, setPerSecond] = useState(18);
  const [seen, setSeen] = useState({ left: 0, width: 900 });
  const [key, setKey] = useState<{ curve: string; t: number } | null>(null);
  const body = useRef<HTMLDivElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const frame = show?.computed.flicksPerFrame ?? FLICKS / 25;
  const perFlick = perSecond / FLICKS;
  const duration = timeline?.duration ?? 60 * FLICKS;
  const width = Math.max(400, duration * perFlick + 200);
  const open = selected?.kind === 'layer' ? selected.id : selected?.kind === 'clip' ? clips.find((c) => c.id === selected.id)?.layer : undefined;

  const byLayer = useMemo(() => {
    const map = new Map<string, RowOf<'clip'>[]>();
    for (const clip of clips) map.set(clip.layer, [...(map.get(clip.layer) ?? []), clip]);
    for (const list of map.values()) list.sort((a, b) => a.start - b.start);
    return map;
  }, [clips]);
  const mediaById = useMemo(() => new Map(media.map((m) => [m.id, m])), [media]);

  const rows = useVirtualizer({ count: layers.length, getScrollElement: () => body.current, estimateSize: (i) => (layers[i]?.id === open ? ROW + CURVES.length * LANE : ROW), overscan: 4, getItemKey: (i) => layers[i]?.id ?? i });
  // biome-ignore lint/correctness/useExhaustiveDependencies: the open layer is higher than the others
  useEffect(() => rows.measure(), [open, layers.length]);

  const began = useRef(false);
  useEffect(() => {
    const node = body.current;
    if (began.current || node === null || timeline === undefined) return;
    began.current = true;
    setPerSecond(Math.max(0.5, Math.min(200, (node.clientWidth - NAMES - 40) / (timeline.duration / FLICKS))));
  }, [timeline]);

  const track = useCallback(() => {
    const node = body.current;
    if (node === null) return;
    // In steps, so that scrolling renders now and then and not at every pixel.
    const left = Math.floor(Math.max(0, node.scrollLeft - 200) / 200) * 200;
    const next = { left, width: Math.ceil((node.clientWidth + 600) / 200) * 200 };
    setSeen((old) => (old.left === next.left && old.width === next.width ? old : next));
  }, []);
  useEffect(() => {
    track();
    const watch = new ResizeObserver(track);
    if (body.current !== null) watch.observe(body.current);
    return () => watch.disconnect();
  }, [track]);

  useEffect(() => {
    const node = body.current;
    if (node === null) return;
    const wheel = (e: WheelEvent) => {
      if (!e.ctrlKey && !e.metaKey) return;
      e.preventDefault();
      const x = e.clientX - node.getBoundingClientRect().left - NAMES;
      setPerSecond((old) => {
        const next = Math.max(0.5, Math.min(1500, old * 1.0015 ** -e.deltaY));
        const time = (node.scrollLeft + x) / old;
        requestAnimationFrame(() => {
          node.scrollLeft = time * next - x;
        });
        return next;
      });
    };
    node.addEventListener('wheel', wheel, { passive: false });
    return () => node.removeEventListener('wheel', wheel);
  }, []);

  const playheads = useRef<HTMLDivElement>(null);
  useEveryFrame((at) => {
    const node = body.current;
    if (node === null || head.current === null || playheads.current === null) return;
    const x = at * perFlick - node.scrollLeft;
    playheads.current.style.transform = `translateX(${NAMES + x}px)`;
    playheads.current.style.visibility = x < 0 ? 'hidden' : 'visible';
    head.current.style.transform = `translateX(${-node.scrollLeft}px)`;
  });

  /** The time nearest to a wish that something stands at, within a few pixels; always a whole frame. */
  const snap = useCallback(
    (time: number, free: boolean, without?: string): number => {
      const whole = Math.max(0, Math.round(time / frame) * frame);
      if (free) return whole;
      let best = whole;
      let reach = 8 / perFlick;
      const offer = (t: number) => {
        if (Math.abs(t - time) < reach) {
          reach = Math.abs(t - time);
          best = t;
        }
      };
      offer(0);
      offer(Math.round(position() / frame) * frame);
      for (const m of markers) offer(m.time);
      for (const c of cues) offer(c.time);
      for (const c of clips) {
        if (c.id !== without) {
          offer(c.start);
          offer(c.start + c.length);
        }
      }
      return best;
    },
    [frame, perFlick, markers, cues, clips],
  );

  if (show === undefined) return null;
  if (timeline === undefined) {
    return (
      <div className="empty">
        <strong>No timeline yet</strong>
        <button type="button" className="plain primary" onClick={() => void edit('Add a timeline', [insert('timeline', ulid(), { name: 'Main', duration: 60 * FLICKS })])}>
          Add a timeline
        </button>
      </div>
    );
  }

  const addLayer = async () => {
    const id = ulid();
    if (
      await edit('Add a layer', [
        insert('layer', id, {
          timeline: timeline.id,
          name: `Layer ${layers.length + 1}`,
          order: Math.max(-1, ...layers.map((l) => l.order)) + 1,
          aims: layers.length === 0 && show.rows.surface[0] !== undefined ? [show.rows.surface[0].id] : [],
        }),
      ])
    )
      select({ kind: 'layer', id });
  };
  const reorder = (by: 1 | -1) => {
    const i = layers.findIndex((l) => l.id === open);
    const [mine, other] = [layers[i], layers[i - by]];
    if (mine === undefined || other === undefined) return;
    const same = mine.order === other.order;
    void edit(`Move ${mine.name}`, [update('layer', mine, { order: same ? other.order + by : other.order }), ...(same ? [] : [update('layer', other, { order: mine.order })])]);
  };
  const addClip = async (mediaId: string, layer: string, time: number) => {
    const item = mediaById.get(mediaId);
    const long = (item?.facts as { duration?: number } | null)?.duration;
    const id = ulid();
    const length = long ? Math.max(frame, Math.round(long / frame) * frame) : 5 * FLICKS;
    const grow = time + length > duration ? [update('timeline', timeline, { duration: time + length })] : [];
    if (await edit(`Put ${item?.name ?? 'media'} on a layer`, [...grow, insert('clip', id, { layer, media: mediaId, start: time, length })])) select({ kind: 'clip', id });
  };

  const chosenCurve = curves.find((c) => c.id === key?.curve);
  const chosenKey = chosenCurve?.keyframes.find((k) => k.t === key?.t);
  const kind = CURVES.find((c) => c.name === chosenCurve?.property);
  const changeKey = async (fields: Partial<Key>) => {
    if (chosenCurve === undefined || chosenKey === undefined) return;
    if ((await edit('Change a keyframe', [update('curve', chosenCurve, { keyframes: chosenCurve.keyframes.map((k) => (k.t === chosenKey.t ? { ...k, ...fields } : k)) })])) && fields.t !== undefined)
      setKey({ curve: chosenCurve.id, t: fields.t });
  };
  const dropKey = () => {
    if (chosenCurve === undefined || chosenKey === undefined) return;
    const rest = chosenCurve.keyframes.filter((k) => k.t !== chosenKey.t);
    void edit('Remove a keyframe', [rest.length === 0 ? remove('curve', chosenCurve.id) : update('curve', chosenCurve, { keyframes: rest })]);
    setKey(null);
  };

  return (
    <>
      <div className="bar">
        <button type="button" className="plain primary" onClick={() => void addLayer()}>
          Add a layer
        </button>
        <button type="button" className="plain" disabled={open === undefined} onClick={() => reorder(1)} title="Bring the layer further up">
          ↑
        </button>
        <button type="button" className="plain" disabled={open === undefined} onClick={() => reorder(-1)} title="Bring the layer further down">
          ↓
        </button>
        <button type="button" className="plain" onClick={() => void tapMarker()} title="M">
          Marker
        </button>
        <button type="button" className="plain" onClick={() => void addCue()} title="Shift+M">
          Cue
        </button>
        {chosenKey !== undefined && kind !== undefined ? (
          <span className="keybar" style={{ display: 'flex', gap: 8, alignItems: 'center' }} aria-label="Keyframe">
            <Kite size={11} />
            <span style={{ width: 112 }}>
              <TimeField label="" value={chosenKey.t} onChange={(t) => changeKey({ t: Math.round(t / frame) * frame })} />
            </span>
            <span style={{ width: 82 }}>
              <NumberField label="" unit={kind.unit} scale={kind.scale} value={chosenKey.v} onChange={(v) => changeKey({ v })} />
            </span>
            <Select aria-label="Interpolation" w={90} allowDeselect={false} data={['step', 'linear', 'smooth', 'bezier']} value={chosenKey.i ?? 'linear'} onChange={(i) => void changeKey({ i: i as Key['i'] })} />
            <button type="button" className="plain" onClick={dropKey} aria-label="Remove this keyframe" title="Remove this keyframe">
              ✕
            </button>
          </span>
        ) : (
          <span className="dim" style={{ fontSize: 12 }}>
            Choose a layer to see its keyframes
          </span>
        )}
        <span className="grow" />
        <button type="button" className="plain" aria-label="Zoom out" onClick={() => setPerSecond((p) => Math.max(0.5, p / 1.5))}>
          −
        </button>
        <button type="button" className="plain" aria-label="Zoom in" onClick={() => setPerSecond((p) => Math.min(1500, p * 1.5))}>
          +
        </button>
        <button type="button" className="plain" onClick={() => setPerSecond(Math.max(0.5, ((body.current?.clientWidth ?? 900) - NAMES - 40) / (duration / FLICKS)))}>
          All
        </button>
      </div>
      <Tray media={media} onAdd={(id) => open !== undefined && void addClip(id, open, Math.round(position() / frame) * frame)} />
      <div className="tl">
        <button type="button" className="tl-corner plain" style={{ border: 0, borderRadius: 0, background: 'none', fontSize: 13 }} onClick={() => select({ kind: 'timeline', id: timeline.id })}>
          {timeline.name}
        </button>
        <div
          className="tl-ruler"
          onPointerDown={(e) => {
            const box = e.currentTarget.getBoundingClientRect();
            let last = 0;
            const jump = (x: number) => {
              if (performance.now() - last < 60) return;
              last = performance.now();
              const time = (x - box.left + (body.current?.scrollLeft ?? 0)) / perFlick;
              void command({ do: 'jump', time: Math.max(0, Math.min(duration, Math.floor(time / frame) * frame)) });
            };
            jump(e.clientX);
            follow(
              e,
              (_dx, _dy, move) => jump(move.clientX),
              () => undefined,
            );
          }}
        >
          <div ref={head} style={{ position: 'absolute', inset: 0 }}>
            <Ticks perSecond={perSecond} seen={seen} rate={show.frameRate} frame={frame} />
            {markers.map((m) => (
              <Flag
                key={m.id}
                x={m.time * perFlick}
                text={m.name}
                on={selected?.id === m.id}
                onPress={() => select({ kind: 'marker', id: m.id })}
                onMove={(dx, free) => update('marker', m, { time: snap(m.time + dx / perFlick, free) })}
                name={`Move ${m.name}`}
              />
            ))}
            {cues.map((c) => (
              <Flag
                key={c.id}
                cue
                holds={c.holds}
                x={c.time * perFlick}
                text={c.number}
                title={`${c.number} ${c.name}${c.holds ? ' (hold point)' : ''}`}
                on={selected?.id === c.id}
                onPress={() => select({ kind: 'cue', id: c.id })}
                onMove={(dx, free) => update('cue', c, { time: snap(c.time + dx / perFlick, free) })}
                name={`Move cue ${c.number}`}
              />
            ))}
          </div>
        </div>
        <div ref={body} className="tl-body" onScroll={track}>
          {layers.length === 0 && (
            <div className="empty" style={{ position: 'sticky', left: 0, padding: 40 }}>
              <strong>No layers yet</strong>A layer carries clips over time, and is aimed at surfaces.
              <button type="button" className="plain primary" onClick={() => void addLayer()}>
                Add a layer
              </button>
            </div>
          )}
          <div style={{ height: rows.getTotalSize(), width: NAMES + width, position: 'relative' }}>
            {rows.getVirtualItems().map((item) => {
              const layer = layers[item.index];
              if (layer === undefined) return null;
              return (
                <LayerRow
                  key={layer.id}
                  layer={layer}
                  top={item.start}
                  height={item.size}
                  width={width}
                  clips={byLayer.get(layer.id) ?? []}
                  curves={layer.id === open ? curves : NONE}
                  open={layer.id === open}
                  selected={selected?.kind === 'clip' ? selected.id : null}
                  seen={seen}
                  perFlick={perFlick}
                  frame={frame}
                  end={duration}
                  media={mediaById}
                  snap={snap}
                  chosen={key}
                  choose={setKey}
                  drop={addClip}
                />
              );
            })}
          </div>
        </div>
        <div style={{ position: 'absolute', inset: 0, overflow: 'hidden', pointerEvents: 'none' }}>
          <div ref={playheads} className="playhead" data-testid="playhead">
            <svg width="13" height="12" style={{ position: 'absolute', left: -7, top: 40 }} aria-hidden="true">
              <path d="M1 1h11l-5.5 10z" fill="var(--kl-lamp)" />
            </svg>
          </div>
        </div>
      </div>
    </>
  );
}

const NONE: RowOf<'curve'>[] = [];

function Tray({ media, onAdd }: { media: RowOf<'media'>[]; onAdd: (id: string) => void }) {
  const [search, setSearch] = useState('');
  const found = media.filter((m) => m.name.toLowerCase().includes(search.toLowerCase())).slice(0, 60);
  return (
    <div className="bar" style={{ overflowX: 'auto', minHeight: 46, padding: '4px 12px' }} aria-label="Media to drag onto a layer">
      {media.length > 12 && <input className="plain" placeholder="Search" aria-label="Search media" value={search} onChange={(e) => setSearch(e.currentTarget.value)} style={{ width: 110, cursor: 'text' }} />}
      {media.length === 0 && <span className="dim">Media appears here to be dragged onto layers. Import some in Media.</span>}
      {found.map((m) => (
        <button
          key={m.id}
          type="button"
          className="plain"
          draggable
          title="Drag onto a layer, or press to put it at the playhead of the chosen layer"
          onDragStart={(e) => e.dataTransfer.setData('application/x-kite-media', m.id)}
          onClick={() => onAdd(m.id)}
          style={{ display: 'flex', alignItems: 'center', gap: 7, whiteSpace: 'nowrap', padding: '2px 9px 2px 3px', flex: 'none', cursor: 'grab' }}
        >
          {m.thumbnails?.[0] !== undefined ? (
            <img src={m.thumbnails[Math.floor(m.thumbnails.length / 2)]} alt="" width={44} height={25} draggable={false} style={{ objectFit: 'cover' }} />
          ) : (
            <span style={{ width: 25, height: 25, background: m.kind === 'solid' ? m.colour : 'var(--kl-ink9)', display: 'inline-grid', placeItems: 'center', fontSize: 11 }}>{m.kind === 'testcard' ? '▦' : ''}</span>
          )}
          {m.name}
        </button>
      ))}
    </div>
  );
}

function Ticks({ perSecond, seen, rate, frame }: { perSecond: number; seen: { left: number; width: number }; rate: string; frame: number }) {
  const steps = [0.04, 0.2, 1, 2, 5, 10, 30, 60, 120, 300, 600, 1800, 3600];
  const step = steps.find((s) => s * perSecond >= 96) ?? 3600;
  const out = [];
  for (let s = Math.max(0, Math.floor(seen.left / perSecond / step) * step); s * perSecond < seen.left + seen.width; s += step) {
    out.push(
      <span key={s} className="mono dim" style={{ position: 'absolute', left: s * perSecond, top: 35, fontSize: 11, lineHeight: '15px', paddingLeft: 4, borderLeft: '1px solid var(--kl-line)', height: 17, pointerEvents: 'none' }}>
        {timecode(s * FLICKS + 1, rate, frame)}
      </span>,
    );
  }
  return out;
}

function Flag({
  x,
  text,
  title,
  cue,
  holds,
  on,
  onPress,
  onMove,
  name,
}: {
  x: number;
  text: string;
  title?: string;
  cue?: boolean;
  holds?: boolean;
  on: boolean;
  onPress: () => void;
  onMove: (dx: number, free: boolean) => Schemas['Change'];
  name: string;
}) {
  const [dx, setDx] = useState(0);
  return (
    <button
      type="button"
      title={title ?? text}
      aria-pressed={on}
      onClick={onPress}
      onPointerDown={(e) => {
        let change: Schemas['Change'] | null = null;
        follow(
          e,
          (d, _y, move) => {
            setDx(d);
            change = onMove(d, move.altKey);
          },
          (went) => {
            if (!went) onPress();
            if (change !== null) void edit(name, [change]).then(() => setDx(0));
            else setDx(0);
          },
        );
      }}
      style={{
        all: 'unset',
        position: 'absolute',
        left: x + dx,
        top: cue ? 2 : 18,
        height: 15,
        lineHeight: '15px',
        fontSize: 11,
        padding: '0 5px 0 4px',
        cursor: 'grab',
        whiteSpace: 'nowrap',
        color: on ? 'var(--kl-onKite)' : 'var(--kl-text)',
        background: on ? 'var(--kl-kite)' : cue ? 'var(--kl-ink6)' : 'transparent',
        borderLeft: `2px ${holds ? 'double' : 'solid'} ${cue ? 'var(--kl-kite)' : 'var(--kl-dim)'}`,
        borderLeftWidth: holds ? 6 : 2,
        zIndex: cue ? 2 : 1,
      }}
    >
      {text}
    </button>
  );
}

interface LayerProps {
  layer: RowOf<'layer'>;
  top: number;
  height: number;
  width: number;
  clips: RowOf<'clip'>[];
  curves: RowOf<'curve'>[];
  open: boolean;
  selected: string | null;
  seen: { left: number; width: number };
  perFlick: number;
  frame: number;
  end: number;
  media: Map<string, RowOf<'media'>>;
  snap: (time: number, free: boolean, without?: string) => number;
  chosen: { curve: string; t: number } | null;
  choose: (key: { curve: string; t: number } | null) => void;
  drop: (media: string, layer: string, time: number) => void;
}

const LayerRow = memo(function LayerRow(p: LayerProps) {
  const surfaces = useRows('surface');
  const aims = p.layer.aims.map((a) => surfaces.find((s) => s.id === a)?.name ?? 'gone');
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
        {p.open && CURVES.map((c, i) => <LaneName key={c.name} lane={`${p.layer.id}/${c.name}`} label={c.label} scale={c.scale} unit={c.unit} top={ROW + i * LANE} />)}
      </div>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: media are dropped here; a press on the tray does the same by keyboard */}
      <div ref={lane} className="tl-lane" style={{ width: p.width }} onDragOver={(e) => e.dataTransfer.types.includes('application/x-kite-media') && e.preventDefault()} onDrop={onDrop}>
        <div style={{ position: 'absolute', left: p.end * p.perFlick, top: 0, bottom: 0, right: 0, background: 'var(--kl-ink8)', borderLeft: '1px solid var(--kl-line)' }} />
        {visible.map((c) => (
          <ClipBox key={c.id} clip={c} media={p.media.get(c.media)} on={c.id === p.selected} perFlick={p.perFlick} frame={p.frame} snap={p.snap} layer={p.layer.id} />
        ))}
        {p.open &&
          CURVES.map((c, i) => (
            <CurveLane
              key={c.name}
              kind={c}
              top={ROW + i * LANE}
              layer={p.layer}
              curve={p.curves.find((row) => row.layer === p.layer.id && row.property === c.name)}
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

function LaneName({ lane, label, scale, unit, top }: { lane: string; label: string; scale: number; unit: string; top: number }) {
  const loose = useStudio((s) => s.values[lane]);
  return (
    <div style={{ position: 'absolute', top, left: 10, right: 10, fontSize: 12, paddingTop: 6, borderTop: '1px solid var(--kl-ink6)' }} className="dim">
      {label}
      {loose !== undefined && (
        <div className="looseval mono" style={{ display: 'table', marginTop: 4 }}>
          {Number((loose * scale).toFixed(2))} {unit}
        </div>
      )}
    </div>
  );
}

const ClipBox = memo(function ClipBox({ clip, media, on, perFlick, frame, snap, layer }: { clip: RowOf<'clip'>; media: RowOf<'media'> | undefined; on: boolean; perFlick: number; frame: number; snap: LayerProps['snap']; layer: string }) {
  const [drag, setDrag] = useState<Partial<RowOf<'clip'>> | null>(null);
  const at = { ...clip, ...drag };
  const width = at.length * perFlick;
  const begin = (e: ReactPointer, part: 'whole' | 'start' | 'end') => {
    if (e.button !== 0) return;
    let next: Partial<RowOf<'clip'>> | null = null;
    follow(
      e,
      (dx, _dy, move) => {
        const by = dx / perFlick;
        if (part === 'whole') {
          const start = snap(clip.start + by, move.altKey, clip.id);
          const end = snap(clip.start + clip.length + by, move.altKey, clip.id);
          const wish = clip.start + by;
          const best = Math.abs(end - clip.length - wish) < Math.abs(start - wish) ? Math.max(0, end - clip.length) : start;
          const over = document.elementsFromPoint(move.clientX, move.clientY).find((n) => n instanceof HTMLElement && n.dataset.layer !== undefined) as HTMLElement | undefined;
          next = { start: best, layer: over?.dataset.layer ?? layer };
        } else if (part === 'start') {
          const start = Math.min(clip.start + clip.length - frame, Math.max(clip.start - clip.in, snap(clip.start + by, move.altKey, clip.id)));
          next = { start, length: clip.length + clip.start - start, in: clip.in + start - clip.start };
        } else {
          next = { length: Math.max(frame, snap(clip.start + clip.length + by, move.altKey, clip.id) - clip.start) };
        }
        setDrag(next);
      },
      (went) => {
        select({ kind: 'clip', id: clip.id });
        if (went && next !== null) void edit(part === 'whole' ? `Move ${media?.name ?? 'a clip'}` : `Trim ${media?.name ?? 'a clip'}`, [update('clip', clip, next)]).then(() => setDrag(null));
        else setDrag(null);
      },
    );
  };
  const onKey = (e: KeyboardEvent) => {
    const by = { ArrowLeft: -frame, ArrowRight: frame }[e.key];
    if (by !== undefined && e.altKey) {
      e.preventDefault();
      e.stopPropagation();
      void edit(`Nudge ${media?.name ?? 'a clip'}`, [update('clip', clip, { start: Math.max(0, clip.start + by) })]);
    }
    if (e.key === 'Enter') select({ kind: 'clip', id: clip.id });
  };
  return (
    <div
      className="tl-clip"
      role="button"
      tabIndex={0}
      aria-pressed={on}
      aria-label={`Clip ${media?.name ?? 'of media that is gone'}`}
      style={{ left: at.start * perFlick, width: Math.max(3, width), ...(at.layer !== layer ? { outline: '2px dashed var(--kl-kite)' } : {}) }}
      onPointerDown={(e) => begin(e, 'whole')}
      onKeyDown={onKey}
    >
      {media?.thumbnails && width > 60 && (
        <div className="film">
          {media.thumbnails.slice(0, Math.max(1, Math.floor(width / 64))).map((t) => (
            <img key={t} src={t} alt="" draggable={false} />
          ))}
        </div>
      )}
      {width > 30 && (
        <span className={media === undefined ? 'state-fault' : undefined}>
          {media?.name ?? '✕ media is gone'}
          {clip.pastEnd === 'loop' ? ' ↻' : ''}
        </span>
      )}
      <i className="edge" style={{ left: 0 }} onPointerDown={(e) => begin(e, 'start')} />
      <i className="edge" style={{ right: 0 }} onPointerDown={(e) => begin(e, 'end')} />
    </div>
  );
});

function CurveLane({
  kind,
  top,
  layer,
  curve,
  perFlick,
  width,
  snap,
  chosen,
  choose,
  timeAt,
}: {
  kind: (typeof CURVES)[number];
  top: number;
  layer: RowOf<'layer'>;
  curve: RowOf<'curve'> | undefined;
  perFlick: number;
  width: number;
  snap: LayerProps['snap'];
  chosen: LayerProps['chosen'];
  choose: LayerProps['choose'];
  timeAt: (x: number) => number;
}) {
  const [drag, setDrag] = useState<{ t: number; to: Key } | null>(null);
  const stored = layer[kind.name];
  const keys = useMemo(() => {
    const list = (curve?.keyframes ?? []).map((k) => (drag?.t === k.t ? drag.to : k));
    return [...list].sort((a, b) => a.t - b.t);
  }, [curve, drag]);
  const all = [...keys.map((k) => k.v), stored];
  const least = kind.least ?? Math.min(0, ...all) - 20;
  const most = kind.most ?? Math.max(0, ...all) + 20;
  const y = (v: number) => LANE - 10 - ((v - least) / (most - least)) * (LANE - 20);
  const valueAt = (py: number) => Math.max(kind.least ?? -65536, Math.min(kind.most ?? 65536, least + ((LANE - 10 - py) / (LANE - 20)) * (most - least)));
  const x = (t: number) => t * perFlick;
  let path = keys.length === 0 ? `M0 ${y(stored)}H${width}` : `M0 ${y(keys[0]?.v ?? 0)}H${x(keys[0]?.t ?? 0)}`;
  keys.forEach((k, i) => {
    const next = keys[i + 1];
    if (next === undefined) path += `H${width}`;
    else if (k.i === 'step') path += `H${x(next.t)}V${y(next.v)}`;
    else if (k.i === 'smooth' || k.i === 'bezier') {
      const h = k.i === 'smooth' ? [1 / 3, 0, 2 / 3, 1] : (k.h ?? [0.4, 0, 0.6, 1]);
      const at = (s: number, v: number) => `${x(k.t + s * (next.t - k.t))} ${y(k.v + v * (next.v - k.v))}`;
      path += `C${at(h[0] ?? 0, h[1] ?? 0)} ${at(h[2] ?? 1, h[3] ?? 1)} ${x(next.t)} ${y(next.v)}`;
    } else path += `L${x(next.t)} ${y(next.v)}`;
  });
  const add = (e: React.MouseEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    const t = snap(timeAt(e.clientX), e.altKey);
    const v = Number(valueAt(e.clientY - box.top).toFixed(3));
    const keyframes = [...(curve?.keyframes ?? []).filter((k) => k.t !== t), { t, v, i: 'linear' as const }].sort((a, b) => a.t - b.t);
    const id = curve?.id ?? ulid();
    void edit(`Add a keyframe of ${kind.label.toLowerCase()}`, [curve === undefined ? insert('curve', id, { layer: layer.id, property: kind.name, keyframes }) : update('curve', curve, { keyframes })]).then(
      (done) => done && choose({ curve: id, t }),
    );
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a double-click makes a keyframe; loose values with "+ Key" do the same by keyboard
    <div className="tl-curve" style={{ top, height: LANE }} onDoubleClick={add}>
      <svg width={width} height={LANE} style={{ display: 'block', pointerEvents: 'none' }} aria-hidden="true">
        <path d={path} fill="none" stroke={keys.length === 0 ? 'var(--kl-line)' : 'var(--kl-dim)'} strokeWidth={1.3} strokeDasharray={keys.length === 0 ? '3 4' : undefined} />
      </svg>
      {keys.map((k, i) => {
        const original = curve?.keyframes.find((o) => o.t === (drag !== null && drag.to === k ? drag.t : k.t)) ?? k;
        const on = chosen?.curve === curve?.id && chosen?.t === original.t;
        return (
          <button
            key={i}
            type="button"
            className="tl-key"
            aria-label={`${kind.label} ${Number((k.v * kind.scale).toFixed(2))} ${kind.unit}`}
            aria-pressed={on}
            style={{ position: 'absolute', left: x(k.t) - 7, top: y(k.v) - 8, width: 14, height: 16, cursor: 'grab', touchAction: 'none', color: on ? 'var(--kl-kite)' : 'var(--kl-text)' }}
            onDoubleClick={(e) => e.stopPropagation()}
            onClick={() => curve !== undefined && choose({ curve: curve.id, t: original.t })}
            onPointerDown={(e) => {
              if (curve === undefined) return;
              let to: Key | null = null;
              follow(
                e,
                (dx, dy, move) => {
                  const flat = move.shiftKey && Math.abs(dx) > Math.abs(dy);
                  const upright = move.shiftKey && !flat;
                  to = {
                    ...original,
                    t: upright ? original.t : snap(original.t + dx / perFlick, move.altKey),
                    v: flat ? original.v : Number(valueAt(y(original.v) + dy).toFixed(kind.name === 'opacity' ? 3 : 0)),
                  };
                  setDrag({ t: original.t, to });
                },
                (went) => {
                  if (!went || to === null) {
                    setDrag(null);
                    choose({ curve: curve.id, t: original.t });
                    return;
                  }
                  const moved = to;
                  const keyframes = [...curve.keyframes.filter((o) => o.t !== original.t && o.t !== moved.t), moved].sort((a, b) => a.t - b.t);
                  void edit(`Move a keyframe of ${kind.label.toLowerCase()}`, [update('curve', curve, { keyframes })]).then(() => {
                    setDrag(null);
                    choose({ curve: curve.id, t: moved.t });
                  });
                },
              );
            }}
          >
            <Kite size={12} filled={on || k.i !== 'step'} />
          </button>
        );
      })}
    </div>
  );
}
