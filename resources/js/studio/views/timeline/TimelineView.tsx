import { Select } from '@mantine/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { RowOf, Schemas } from '../../../api/client';
import { mixes, numberOf } from '../../../live/property';
import { follow } from '../../drag';
import { chainsOf, onLayer } from '../../effects';
import { NameField, NumberField, TimeField } from '../../fields/fields';
import { ValueField } from '../../fields/ValueField';
import { addCue, tapMarker } from '../../frame/actions';
import { Kite } from '../../frame/Kite';
import { pointsOf, useDriven, useEveryFrame, useRows, useShow, useTimeline } from '../../hooks';
import {
  command,
  drive,
  edit,
  insert,
  live,
  openTimeline,
  playhead,
  program,
  select,
  set,
  shown,
  shownHead,
  update,
  useStudio,
} from '../../store';
import { FLICKS, ulid } from '../../time';
import { upload, useUploads } from '../media/uploads';
import { GroupRow, LayerRow } from './LayerRow';
import { Beats, Flag, roomOf, Ticks } from './Ruler';
import { beatsOf, HEAD, type KeyAt, type Lanes, lanesOf, linesOf, NAMES, ROW, reaches } from './shape';
import { Tray } from './Tray';
import { chooseKeys, duplicate, jumpFade, split, useWork } from './work';

type Key = Schemas['Keyframe'];

const NONE: RowOf<'curve'>[] = [];
const NO_CLIPS: RowOf<'clip'>[] = [];
const NO_EFFECTS: RowOf<'effect'>[] = [];
const NO_LANES: Lanes = { list: [], height: 0 };

export function TimelineView() {
  const show = useShow();
  const timeline = useTimeline();
  const driven = useDriven();
  const own = useMemo(
    () =>
      [...(show?.rows.layer ?? [])]
        .filter((l) => l.timeline === timeline?.id)
        .sort((a, b) => b.order - a.order || (a.id < b.id ? 1 : -1)),
    [show?.rows.layer, timeline?.id],
  );
  const [only, setOnly] = useState('');
  const [hidden, setHidden] = useState(false);
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const layers = useMemo(
    () => own.filter((l) => (hidden || !l.hidden) && (only === '' || (show !== undefined && reaches(show, l, only)))),
    [own, hidden, only, show],
  );
  const lines = useMemo(() => linesOf(layers, folded), [layers, folded]);
  const surfaces = useRows('surface');
  const ripple = useStudio((s) => s.ripple);
  const chosenThings = useStudio((s) => s.chosen);
  const chosen = useMemo(() => new Set(chosenThings.filter((c) => c.kind === 'clip').map((c) => c.id)), [chosenThings]);
  const keys = useWork((s) => s.keys);
  const stuck = useWork((s) => s.stuck);
  const stuckTo = useWork((s) => s.stuckTo);
  useStudio((s) => s.told);
  const [following, setFollowing] = useState(false);
  const clips = useRows('clip');
  const curves = useRows('curve');
  const effects = useRows('effect');
  const markers = useRows('marker').filter((m) => m.timeline === timeline?.id);
  const cues = pointsOf(useRows('cue'), timeline?.id);
  const media = useRows('media');
  const selected = useStudio((s) => s.selected);
  const looked = useStudio((s) => s.air !== null && s.air !== s.showId);
  const [perSecond, setPerSecond] = useState(18);
  const [seen, setSeen] = useState({ left: 0, width: 900 });
  const key = keys.length === 1 ? (keys[0] as KeyAt) : null;
  const setKey = (one: KeyAt | null) => chooseKeys(one === null ? [] : [one]);
  const [tall, setTall] = useState<string | null>(null);
  const body = useRef<HTMLDivElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const frame = show?.computed.flicksPerFrame ?? FLICKS / 25;
  const perFlick = perSecond / FLICKS;
  const duration = timeline?.duration ?? 60 * FLICKS;
  const width = Math.max(400, duration * perFlick + 200);
  const open =
    selected?.kind === 'layer'
      ? selected.id
      : selected?.kind === 'clip'
        ? clips.find((c) => c.id === selected.id)?.layer
        : undefined;

  const byLayer = useMemo(() => {
    const map = new Map<string, RowOf<'clip'>[]>();
    for (const clip of clips) {
      const list = map.get(clip.layer);
      if (list === undefined) map.set(clip.layer, [clip]);
      else list.push(clip);
    }
    for (const list of map.values()) list.sort((a, b) => a.start - b.start);
    return map;
  }, [clips]);
  const mediaById = useMemo(() => new Map(media.map((m) => [m.id, m])), [media]);

  const [allValues, setAllValues] = useState(false);
  const chains = useMemo(() => chainsOf(effects), [effects]);
  const opened = layers.find((l) => l.id === open);
  const on = useMemo(
    () => (open === undefined ? NO_EFFECTS : onLayer(effects, open, byLayer.get(open) ?? NO_CLIPS)),
    [effects, open, byLayer],
  );
  const openCurves = useMemo(() => {
    const owners = new Set([open, ...on.map((e) => e.id)]);
    return curves.filter((c) => owners.has(c.owner));
  }, [curves, open, on]);
  const lanes = useMemo(
    () => (opened === undefined ? NO_LANES : lanesOf(opened, on, openCurves, allValues, tall)),
    [opened, on, openCurves, allValues, tall],
  );
  const sizeOf = (i: number) => {
    const line = lines[i];
    return line?.kind === 'group' ? HEAD : line?.layer.id === open ? ROW + lanes.height : ROW;
  };
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => body.current,
    estimateSize: sizeOf,
    overscan: 4,
    getItemKey: (i) => {
      const line = lines[i];
      return line === undefined ? i : line.kind === 'group' ? `group ${line.name} ${i}` : line.layer.id;
    },
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: the open layer is higher than the others
  useEffect(() => rows.measure(), [open, lines, lanes.height]);

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
    const shown = node.clientWidth - NAMES;
    if (
      following &&
      shownHead()?.map.runsAt(live.now() ?? 0) === true &&
      (at * perFlick < node.scrollLeft || at * perFlick > node.scrollLeft + shown * 0.92)
    )
      node.scrollLeft = at * perFlick - shown * 0.08;
    const x = at * perFlick - node.scrollLeft;
    playheads.current.style.transform = `translateX(${NAMES + x}px)`;
    playheads.current.style.visibility = x < 0 ? 'hidden' : 'visible';
    head.current.style.transform = `translateX(${-node.scrollLeft}px)`;
  });

  /**
   * The time nearest to a wish at which something stands, within a few pixels; always a whole frame. What it sticks to is shown until it is
   * asked with a time below 0. The stronger pull from further away: playhead, markers and cues twice as far as bars; clips and keyframes in
   * between; beats the least, and only those that are drawn.
   */
  const snap = useCallback(
    (time: number, free: boolean, among?: ReadonlySet<string>): number => {
      if (time < 0 && free) {
        if (useWork.getState().stuck !== null) useWork.setState({ stuck: null, stuckTo: '' });
        return 0;
      }
      const whole = Math.max(0, Math.round(time / frame) * frame);
      if (free) return whole;
      let best = whole;
      let reach = 8 / perFlick;
      let to = '';
      const offer = (t: number, what: string, pull: number) => {
        const off = Math.abs(t - time) / pull;
        if (off < reach) {
          reach = off;
          best = Math.round(t / frame) * frame;
          to = what;
        }
      };
      offer(playhead(), 'playhead', 1.4);
      offer(0, 'start', 1.4);
      for (const m of markers) offer(m.time, m.name, 1.4);
      for (const c of cues) offer(c.time, `cue ${c.number}`, 1.4);
      for (const c of clips) {
        if (
          among?.has(c.id) !== true &&
          Math.min(Math.abs(c.start - time), Math.abs(c.start + c.length - time)) < reach
        ) {
          offer(c.start, 'clip', 1);
          offer(c.start + c.length, 'clip', 1);
        }
      }
      for (const c of openCurves) if (among?.has(c.id) !== true) for (const k of c.keyframes) offer(k.t, 'keyframe', 1);
      const beat = timeline !== undefined && timeline.bpm > 0 ? ((60 * FLICKS) / timeline.bpm) * perFlick : 0;
      for (const one of beatsOf(timeline, time - reach, time + reach, 8))
        if (one.bar ? beat * (timeline?.beats ?? 4) >= 16 : beat >= 8)
          offer(one.time, one.bar ? 'bar' : 'beat', one.bar ? 0.7 : 0.5);
      useWork.setState({ stuck: to === '' ? null : best, stuckTo: to, stuckBy: reach });
      return best;
    },
    [frame, perFlick, markers, cues, clips, openCurves, timeline],
  );

  const loop = shownHead()?.message.loop;
  const room = useMemo(() => roomOf(markers, perFlick), [markers, perFlick]);

  if (show === undefined) return null;
  if (timeline === undefined) {
    return (
      <div className="empty">
        <strong>No timeline yet</strong>
        <button
          type="button"
          className="plain primary"
          onClick={() =>
            void edit('Add a timeline', [insert('timeline', ulid(), { name: 'Main', duration: 60 * FLICKS })])
          }
        >
          Add a timeline
        </button>
      </div>
    );
  }

  const fold = (name: string) =>
    setFolded((old) => {
      const next = new Set(old);
      if (!next.delete(name)) next.add(name);
      return next;
    });
  const enlarge = (address: string) => setTall((old) => (old === address ? null : address));
  const addLayer = async () => {
    const id = ulid();
    const route = ulid();
    const first = layers.length === 0 ? show.rows.surface[0] : undefined;
    if (
      await edit('Add a layer', [
        insert('layer', id, {
          timeline: timeline.id,
          name: `Layer ${layers.length + 1}`,
          order: Math.max(-1, ...layers.map((l) => l.order)) + 1,
          route: first === undefined ? null : route,
        }),
        ...(first === undefined ? [] : [insert('route', route, { surfaces: [first.id], layer: id })]),
      ])
    )
      select({ kind: 'layer', id });
  };
  const addTimeline = async () => {
    const id = ulid();
    if (
      await edit('Add a timeline', [
        insert('timeline', id, {
          name: `Timeline ${show.rows.timeline.length + 1}`,
          duration: 60 * FLICKS,
          order: Math.max(-1, ...show.rows.timeline.map((l) => l.order)) + 1,
        }),
      ])
    ) {
      openTimeline(id);
      select({ kind: 'timeline', id });
    }
  };
  const addClip = async (mediaId: string, layer: string, time: number) => {
    const id = await program({ action: 'place', media: mediaId, layer, time });
    if (id !== null) select({ kind: 'clip', id });
  };

  /** Brings a range into view as large as there is room for it. */
  const fit = (from: number, to: number) => {
    const node = body.current;
    const next = Math.max(
      0.5,
      Math.min(1500, ((node?.clientWidth ?? 900) - NAMES - 40) / (Math.max(frame, to - from) / FLICKS)),
    );
    setPerSecond(next);
    requestAnimationFrame(() => {
      if (node !== null) node.scrollLeft = (from / FLICKS) * next - 20;
    });
  };
  const fitChosen = () => {
    const some = clips.filter((c) => chosen.has(c.id));
    if (some.length > 0) fit(Math.min(...some.map((c) => c.start)), Math.max(...some.map((c) => c.start + c.length)));
  };
  const spread = 1;
  const spreadKeys = (factor: number) => {
    const about = Math.min(...keys.map((k) => k.t));
    return program({ action: 'moveKeys', keys: [...keys], by: 0, factor, about }).then(
      (done) =>
        done !== null &&
        chooseKeys(
          keys.map((k) => ({ ...k, t: Math.max(0, Math.round((about + (k.t - about) * factor) / frame) * frame) })),
        ),
    );
  };
  const dropFiles = async (files: File[], layer: string, time: number) => {
    const names = files.map((f) => f.name);
    const known = new Set(useUploads.getState().uploads.map((u) => u.key));
    upload(files, show.frameRate);
    // Each is put there as soon as it is a media of the show, one after another.
    let at = time;
    for (const name of names) {
      const id = await uploaded(name, known);
      if (id !== null) {
        await program({ action: 'place', media: id, layer, time: at });
        at += frame;
      }
    }
  };

  const chosenCurve = curves.find((c) => c.id === key?.curve);
  const chosenKey = chosenCurve?.keyframes.find((k) => k.t === key?.t);
  const kind = lanes.list.find(
    (lane) =>
      lane.owner.id === chosenCurve?.owner &&
      lane.property.name === chosenCurve?.property &&
      lane.slot === chosenCurve.slot,
  )?.property;
  const chosenValue = kind === undefined ? 0 : numberOf(kind, chosenKey?.v);
  const moveKey = async (t: number, v: number) => {
    if (chosenCurve === undefined || chosenKey === undefined) return;
    if ((await program({ action: 'moveKey', curve: chosenCurve.id, from: chosenKey.t, time: t, value: v })) !== null)
      setKey({ curve: chosenCurve.id, t });
  };
  const shapeKeys = (way: Key['i']) => void program({ action: 'shapeKeys', keys: [...keys], way });
  const dropKey = () => {
    if (chosenCurve === undefined || chosenKey === undefined) return;
    void program({ action: 'dropKey', curve: chosenCurve.id, time: chosenKey.t });
    setKey(null);
  };

  return (
    <>
      <div className="bar" style={{ flexWrap: 'wrap' }}>
        <button type="button" className="plain primary" onClick={() => void addLayer()}>
          Add a layer
        </button>
        <button
          type="button"
          className="plain"
          disabled={chosen.size === 0}
          onClick={() => void split()}
          title="Cut at the playhead: /"
        >
          Split
        </button>
        <button
          type="button"
          className="plain"
          disabled={chosen.size === 0}
          onClick={() => void duplicate()}
          title="Ctrl+D"
        >
          Duplicate
        </button>
        <button
          type="button"
          className="plain"
          aria-pressed={ripple}
          onClick={() => set({ ripple: !ripple })}
          title="Ripple: R"
        >
          Ripple
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
              <TimeField
                label=""
                value={chosenKey.t}
                onChange={(t) => moveKey(Math.round(t / frame) * frame, chosenValue)}
              />
            </span>
            <span style={{ width: mixes(kind) ? 82 : 110 }}>
              <ValueField property={kind} label="" value={chosenValue} onChange={(v) => moveKey(chosenKey.t, v)} />
            </span>
            {mixes(kind) && (
              <Select
                aria-label="Interpolation"
                w={90}
                allowDeselect={false}
                data={['step', 'linear', 'smooth', 'bezier']}
                value={chosenKey.i ?? 'linear'}
                onChange={(i) => shapeKeys(i as Key['i'])}
              />
            )}
            <button
              type="button"
              className="plain"
              onClick={dropKey}
              aria-label="Remove this keyframe"
              title="Remove this keyframe"
            >
              ✕
            </button>
          </span>
        ) : null}
        {keys.length > 1 && (
          <span className="keybar" style={{ display: 'flex', gap: 6, alignItems: 'center' }} aria-label="Keyframes">
            <Kite size={11} /> {keys.length} keyframes
            <span style={{ width: 84 }}>
              <NumberField
                label=""
                unit="%"
                value={spread}
                scale={100}
                digits={0}
                hint="Spread about the first: 200 % twice as far"
                onChange={(factor) => spreadKeys(factor)}
              />
            </span>
            <span style={{ width: 96 }}>
              <NameField
                label=""
                aria-label="Values"
                placeholder="+5  *2  0"
                value=""
                hint="+5, -=5, +10%, *2, /2 from each value; 0 sets it"
                onChange={(text) => program({ action: 'valueKeys', keys: [...keys], text })}
              />
            </span>
            <Select
              aria-label="Interpolation"
              placeholder="shape"
              w={90}
              data={['step', 'linear', 'smooth', 'bezier']}
              value={null}
              onChange={(way) => way !== null && shapeKeys(way as Key['i'])}
            />
            <button
              type="button"
              className="plain"
              aria-label="Remove these keyframes"
              onClick={() =>
                void program({ action: 'dropKeys', keys: [...keys] }).then((done) => done !== null && chooseKeys([]))
              }
            >
              ✕
            </button>
          </span>
        )}
        <span className="grow" />
        {open !== undefined && (
          <button
            type="button"
            className="plain"
            aria-pressed={allValues}
            onClick={() => setAllValues((all) => !all)}
            title="Lanes of all values, also of those without keyframes"
          >
            All values
          </button>
        )}
        <select
          className="plain"
          aria-label="Layers shown"
          style={{ maxWidth: 130 }}
          value={hidden ? '*' : only}
          onChange={(e) => {
            setHidden(e.currentTarget.value === '*');
            if (e.currentTarget.value !== '*') setOnly(e.currentTarget.value);
          }}
        >
          <option value="">All layers</option>
          <option value="*">With hidden ({own.filter((l) => l.hidden).length})</option>
          {surfaces.map((s) => (
            <option key={s.id} value={s.id}>
              Reaching {s.name}
            </option>
          ))}
        </select>
        <button
          type="button"
          className="plain"
          aria-pressed={following}
          onClick={() => setFollowing((f) => !f)}
          title="Follow the playhead while it plays"
        >
          Follow
        </button>
        <button
          type="button"
          className="plain"
          aria-label="Zoom out"
          onClick={() => setPerSecond((p) => Math.max(0.5, p / 1.5))}
        >
          −
        </button>
        <button
          type="button"
          className="plain"
          aria-label="Zoom in"
          onClick={() => setPerSecond((p) => Math.min(1500, p * 1.5))}
        >
          +
        </button>
        <button
          type="button"
          className="plain"
          onClick={() => fit(0, duration)}
          title="Zoom to fit"
          aria-label="Zoom to fit"
        >
          Fit
        </button>
        <button
          type="button"
          className="plain"
          disabled={chosen.size === 0}
          onClick={fitChosen}
          title="Zoom to selection"
          aria-label="Zoom to selection"
        >
          Selection
        </button>
      </div>
      {timeline !== undefined && driven !== undefined && timeline.id !== driven.id && (
        <p className="hintstrip" role="status">
          Shown: {timeline.name}. Play, hold and Go act on {driven.name}.
          <button type="button" className="plain" onClick={() => void drive(timeline.id)}>
            Drive {timeline.name}
          </button>
          <button type="button" className="plain" onClick={() => set({ timelineId: null })}>
            Show {driven.name}
          </button>
        </p>
      )}
      <Tray
        media={media}
        timelines={show.rows.timeline.filter((t) => t.id !== timeline?.id)}
        onAdd={(id) => open !== undefined && void addClip(id, open, playhead())}
      />
      <div className="tl">
        <div className="tl-corner">
          <button
            type="button"
            className="plain tl-cornername"
            onClick={() => select({ kind: 'timeline', id: timeline.id })}
          >
            {timeline.name}
          </button>
          <button
            type="button"
            className="plain"
            aria-label="Add a timeline"
            title="Add a timeline"
            onClick={() => void addTimeline()}
          >
            +
          </button>
        </div>
        <div
          className="tl-ruler"
          onPointerDown={(e) => {
            const box = e.currentTarget.getBoundingClientRect();
            if (e.shiftKey) {
              const timeOf = (x: number) => snap((x - box.left + (body.current?.scrollLeft ?? 0)) / perFlick, e.altKey);
              const from = timeOf(e.clientX);
              let to = from;
              follow(
                e,
                (_dx, _dy, move) => {
                  to = timeOf(move.clientX);
                },
                (how) => {
                  snap(-1, true);
                  void command(
                    how === 'dropped' && to !== from
                      ? { action: 'loop', from: Math.min(from, to), to: Math.max(from, to) }
                      : { action: 'loop' },
                  );
                },
              );
              return;
            }
            if (e.altKey) {
              const time = (e.clientX - box.left + (body.current?.scrollLeft ?? 0)) / perFlick;
              void command({
                action: 'jump',
                time: Math.max(0, Math.min(duration, Math.floor(time / frame) * frame)),
                fade: jumpFade(),
              });
              return;
            }
            let last = 0;
            const jump = (x: number) => {
              if (performance.now() - last < 60) return;
              last = performance.now();
              const time = (x - box.left + (body.current?.scrollLeft ?? 0)) / perFlick;
              void command({ action: 'jump', time: Math.max(0, Math.min(duration, Math.floor(time / frame) * frame)) });
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
            <Beats timeline={timeline} perFlick={perFlick} seen={seen} />
            {loop !== undefined && (
              <span
                className="loopband"
                title="This range is repeated"
                style={{ left: loop[0] * perFlick, width: (loop[1] - loop[0]) * perFlick }}
              />
            )}
            {markers.map((m) => (
              <Flag
                key={m.id}
                x={m.time * perFlick}
                room={room.get(m.id)}
                text={m.name}
                colour={m.colour}
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
              const line = lines[item.index];
              if (line === undefined) return null;
              if (line.kind === 'group')
                return <GroupRow key={item.key} line={line} top={item.start} width={width} fold={fold} />;
              const { layer } = line;
              return (
                <LayerRow
                  key={layer.id}
                  layer={layer}
                  top={item.start}
                  height={item.size}
                  width={width}
                  chains={chains}
                  clips={byLayer.get(layer.id) ?? NO_CLIPS}
                  curves={layer.id === open ? openCurves : NONE}
                  open={layer.id === open}
                  lanes={lanes}
                  chosen={chosen}
                  seen={seen}
                  perFlick={perFlick}
                  frame={frame}
                  end={duration}
                  media={mediaById}
                  passes={show.computed.clips}
                  snap={snap}
                  keys={layer.id === open ? keys : NO_KEYS}
                  choose={chooseKeys}
                  drop={addClip}
                  dropFiles={dropFiles}
                  enlarge={enlarge}
                />
              );
            })}
          </div>
        </div>
        <div style={{ position: 'absolute', inset: 0, overflow: 'hidden', pointerEvents: 'none' }}>
          {stuck !== null && (
            <div
              className="stuck"
              style={{ transform: `translateX(${NAMES + stuck * perFlick - (body.current?.scrollLeft ?? 0)}px)` }}
            >
              <span>{stuckTo}</span>
            </div>
          )}
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

const NO_KEYS: readonly KeyAt[] = [];

/** Waits until a file that is being imported is a media of the show, and known well enough to say how long it is; null when it did not become one. */
function uploaded(name: string, known: ReadonlySet<string>): Promise<string | null> {
  return new Promise((done) => {
    const timer = setInterval(() => {
      const one = useUploads.getState().uploads.find((u) => !known.has(u.key) && u.name === name);
      const row = shown()?.rows.media.find((m) => m.id === one?.media);
      if (
        one === undefined ||
        one.state === 'failed' ||
        one.state === 'stopped' ||
        (one.state === 'done' && one.media === undefined)
      )
        finish(null);
      else if (row !== undefined && row.state !== 'working' && row.state !== 'waiting') finish(row.id);
    }, 250);
    const finish = (id: string | null) => {
      clearInterval(timer);
      done(id);
    };
  });
}
