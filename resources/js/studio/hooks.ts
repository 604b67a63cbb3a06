import { useQuery } from '@tanstack/react-query';
import { useEffect, useReducer, useRef } from 'react';
import type { Kind, RowOf, ShowDocument } from '../api/client';
import {
  drivenId,
  live,
  position,
  running,
  type Selection,
  shownHead,
  shownPlayback,
  showQuery,
  timelineId,
  useStudio,
  watchTrace,
} from './store';

export function useShow(): ShowDocument | undefined {
  const id = useStudio((s) => s.showId);
  return useQuery(showQuery(id)).data;
}

export function useRows<K extends Kind>(kind: K): RowOf<K>[] {
  return (useShow()?.rows[kind] ?? []) as RowOf<K>[];
}

/** What a picture on a touch panel may show: surfaces, outputs and live inputs. */
export function usePictures(): (RowOf<'media'> | RowOf<'output'> | RowOf<'surface'>)[] {
  return [...useRows('surface'), ...useRows('output'), ...useRows('media').filter((m) => m.kind === 'input')];
}

export function useRow<K extends Kind>(kind: K, id: string | undefined): RowOf<K> | undefined {
  return useRows(kind).find((r) => r.id === id);
}

/** The surface that a selection leads to along the chain, or the first. */
export function surfaceOf(show: ShowDocument | undefined, selected: Selection | null): string | undefined {
  const rows = show?.rows;
  if (rows === undefined) return undefined;
  const layerAim = (id: string | undefined) => {
    const route = rows.layer.find((l) => l.id === id)?.route;
    return show?.computed.routes[route ?? '']?.surfaces[0];
  };
  const found = () => {
    switch (selected?.kind) {
      case 'surface':
        return selected.id;
      case 'layer':
        return layerAim(selected.id);
      case 'clip':
        return layerAim(rows.clip.find((c) => c.id === selected.id)?.layer);
      case 'media':
        return layerAim(rows.clip.find((c) => c.media === selected.id)?.layer);
      case 'route':
        return show?.computed.routes[selected.id]?.surfaces[0];
      case 'share':
        return rows.share.find((s) => s.id === selected.id)?.surface;
      case 'lens':
        return show?.computed.routes[rows.lens.find((l) => l.id === selected.id)?.route ?? '']?.surfaces[0];
      case 'region':
        return rows.region.find((r) => r.id === selected.id)?.surface;
      case 'output':
        return rows.region.find((r) => r.output === selected.id)?.surface;
    }
  };
  return found() ?? rows.surface[0]?.id;
}

/** Why a surface is dark, link by link, as the engine tells it. */
export function useTrace(surface: string | undefined) {
  const showId = useStudio((s) => s.showId);
  const up = useStudio((s) => s.up);
  const told = useStudio((s) => s.told);
  const trace = useStudio((s) => s.trace);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a stream that came anew, or another show, is asked again
  useEffect(() => watchTrace(surface), [surface, showId, up, told]);
  return trace?.show === showId && trace?.surface === surface ? trace : undefined;
}

/** The cues that stand on a timeline, in order of time. */
export const pointsOf = (cues: RowOf<'cue'>[], timeline: string | undefined) =>
  cues
    .filter((c): c is RowOf<'cue'> & { time: number } => c.timeline === timeline && c.time !== null)
    .sort((a, b) => a.time - b.time);

/** The surfaces that a layer reaches, by its route. */
export function useReach(layer: RowOf<'layer'> | undefined): string[] {
  const route = useRow('route', layer?.route ?? undefined);
  const figures = useShow()?.computed.routes[layer?.route ?? ''];
  return (route?.reach === 'canvas' ? figures?.surfaces : route?.surfaces) ?? [];
}

/** The timeline that this window shows. */
export function useTimeline(): RowOf<'timeline'> | undefined {
  useStudio((s) => s.told);
  useStudio((s) => s.timelineId);
  return useRow('timeline', timelineId() ?? undefined);
}

/** The timeline that the transport drives. */
export function useDriven(): RowOf<'timeline'> | undefined {
  useStudio((s) => s.told);
  return useRow('timeline', drivenId() ?? undefined);
}

/** Where the timeline is that the transport drives, and what Go would do: rendered anew when it is told something else, and when it comes to rest. */
export function useTransport(): {
  running: boolean;
  position: number;
  next: string | null;
  waiting: boolean;
  on: boolean;
  there: boolean;
} {
  useDriven();
  const [, again] = useReducer((n: number) => n + 1, 0);
  const head = shownHead(drivenId());
  const told = shownPlayback()?.cues;
  const moves = head?.map.moves(live.now() ?? 0) === true;
  useEffect(() => {
    if (!moves) return;
    const timer = setInterval(() => {
      if (!running()) again();
    }, 200);
    return () => clearInterval(timer);
  }, [moves]);
  return {
    running: running() || (moves && head?.map.runsAt((live.now() ?? 0) + 70_560_000) === true),
    position: position(drivenId()),
    next: told?.next ?? null,
    waiting: told?.waiting === true,
    on: head?.on === true,
    there: head !== undefined,
  };
}

/**
 * Calls back with the show time on every frame, without rendering React: of the shown timeline, or as `at` says.
 */
export function useEveryFrame(draw: (position: number) => void, at: () => number = position) {
  const latest = useRef(draw);
  latest.current = draw;
  useEffect(() => {
    let frame = 0;
    const step = () => {
      latest.current(at());
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [at]);
}

/** Renders anew some times a second. */
export function useRepaint(hertz: number) {
  const [, repaint] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    const timer = setInterval(repaint, 1000 / hertz);
    return () => clearInterval(timer);
  }, [hertz]);
}
