import { Select } from '@mantine/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { RowOf, Schemas } from '../../../api/client';
import { mixes, numberOf } from '../../../live/property';
import { follow } from '../../drag';
import { TimeField } from '../../fields/fields';
import { ValueField } from '../../fields/ValueField';
import { addCue, tapMarker } from '../../frame/actions';
import { Kite } from '../../frame/Kite';
import { useEveryFrame, useRows, useShow, useTimeline } from '../../hooks';
import { command, edit, insert, position, program, select, set, update, useStudio } from '../../store';
import { FLICKS, ulid } from '../../time';
import { LayerRow } from './LayerRow';
import { Flag, roomOf, Ticks } from './Ruler';
import { type ChosenKey, LANES, lanesHeight, NAMES, ROW } from './shape';
import { Tray } from './Tray';

type Key = Schemas['Keyframe'];

const NONE: RowOf<'curve'>[] = [];

export function TimelineView() {
  const show = useShow();
  const timeline = useTimeline();
  const layers = useMemo(() => [...(show?.rows.layer ?? [])].filter((l) => l.timeline === timeline?.id).sort((a, b) => b.order - a.order || (a.id < b.id ? 1 : -1)), [show?.rows.layer, timeline?.id]);
  const clips = useRows('clip');
  const curves = useRows('curve');
  const markers = useRows('marker').filter((m) => m.timeline === timeline?.id);
  const cues = useRows('cue').filter((c) => c.timeline === timeline?.id);
  const media = useRows('media');
  const selected = useStudio((s) => s.selected);
  const looked = useStudio((s) => s.air !== null && s.air !== s.showId);
  const [perSecond, setPerSecond] = useState(18);
  const [seen, setSeen] = useState({ left: 0, width: 900 });
  const [key, setKey] = useState<ChosenKey>(null);
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

  const rows = useVirtualizer({ count: layers.length, getScrollElement: () => body.current, estimateSize: (i) => (layers[i]?.id === open ? ROW + lanesHeight : ROW), overscan: 4, getItemKey: (i) => layers[i]?.id ?? i });
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

  const room = useMemo(() => roomOf(markers, perFlick), [markers, perFlick]);

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
    const route = ulid();
    const first = layers.length === 0 ? show.rows.surface[0] : undefined;
    if (
      await edit('Add a layer', [
        insert('layer', id, { timeline: timeline.id, name: `Layer ${layers.length + 1}`, order: Math.max(-1, ...layers.map((l) => l.order)) + 1, route: first === undefined ? null : route }),
        ...(first === undefined ? [] : [insert('route', route, { surfaces: [first.id], layer: id })]),
      ])
    )
      select({ kind: 'layer', id });
  };
  const addTimeline = async () => {
    const id = ulid();
    if (await edit('Add a timeline', [insert('timeline', id, { name: `Timeline ${show.rows.timeline.length + 1}`, duration: 60 * FLICKS, order: Math.max(-1, ...show.rows.timeline.map((l) => l.order)) + 1 })]))
      set({ timelineId: id, selected: { kind: 'timeline', id }, chosen: [{ kind: 'timeline', id }] });
  };
  const reorder = (up: boolean) => open !== undefined && void program({ do: 'raise', layer: open, up });
  const addClip = async (mediaId: string, layer: string, time: number) => {
    const id = await program({ do: 'place', media: mediaId, layer, time });
    if (id !== null) select({ kind: 'clip', id });
  };

  const chosenCurve = curves.find((c) => c.id === key?.curve);
  const chosenKey = chosenCurve?.keyframes.find((k) => k.t === key?.t);
  const kind = LANES.find((lane) => lane.property.name === chosenCurve?.property && lane.slot === chosenCurve.slot)?.property;
  const chosenValue = kind === undefined ? 0 : numberOf(kind, chosenKey?.v);
  const moveKey = async (t: number, v: number) => {
    if (chosenCurve === undefined || chosenKey === undefined) return;
    if ((await program({ do: 'moveKey', curve: chosenCurve.id, from: chosenKey.t, time: t, value: v })) !== null) setKey({ curve: chosenCurve.id, t });
  };
  const shapeKey = (i: Key['i']) => {
    if (chosenCurve === undefined || chosenKey === undefined) return;
    void edit('Change a keyframe', [update('curve', chosenCurve, { keyframes: chosenCurve.keyframes.map((k) => (k.t === chosenKey.t ? { ...k, i } : k)) })]);
  };
  const dropKey = () => {
    if (chosenCurve === undefined || chosenKey === undefined) return;
    void program({ do: 'dropKey', curve: chosenCurve.id, time: chosenKey.t });
    setKey(null);
  };

  return (
    <>
      <div className="bar">
        <button type="button" className="plain primary" onClick={() => void addLayer()}>
          Add a layer
        </button>
        <button type="button" className="plain" disabled={open === undefined} onClick={() => reorder(true)} title="Move layer up">
          ↑
        </button>
        <button type="button" className="plain" disabled={open === undefined} onClick={() => reorder(false)} title="Move layer down">
          ↓
        </button>
        <button type="button" className="plain" onClick={() => void addTimeline()}>
          Add a timeline
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
              <TimeField label="" value={chosenKey.t} onChange={(t) => moveKey(Math.round(t / frame) * frame, chosenValue)} />
            </span>
            <span style={{ width: mixes(kind) ? 82 : 110 }}>
              <ValueField property={kind} label="" value={chosenValue} onChange={(v) => moveKey(chosenKey.t, v)} />
            </span>
            {mixes(kind) && <Select aria-label="Interpolation" w={90} allowDeselect={false} data={['step', 'linear', 'smooth', 'bezier']} value={chosenKey.i ?? 'linear'} onChange={(i) => shapeKey(i as Key['i'])} />}
            <button type="button" className="plain" onClick={dropKey} aria-label="Remove this keyframe" title="Remove this keyframe">
              ✕
            </button>
          </span>
        ) : (
          <span className="dim" style={{ fontSize: 12 }}>
            {open === undefined ? 'Choose a layer to see its keyframes' : 'Double-click a lane to add a keyframe'}
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
                room={room.get(m.id)}
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
              <path d="M1 1h11l-5.5 10z" fill={looked ? 'var(--kl-kite)' : 'var(--kl-lamp)'} />
            </svg>
          </div>
        </div>
      </div>
    </>
  );
}
