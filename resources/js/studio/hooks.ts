import { useQuery } from '@tanstack/react-query';
import { useEffect, useReducer, useRef } from 'react';
import { api, type Kind, type RowOf, type Schemas, type ShowDocument } from '../api/client';
import { position, type Selection, showQuery, useStudio } from './store';

export function useShow(): ShowDocument | undefined {
  const id = useStudio((s) => s.showId);
  return useQuery(showQuery(id)).data;
}

export function useRows<K extends Kind>(kind: K): RowOf<K>[] {
  return (useShow()?.rows[kind] ?? []) as RowOf<K>[];
}

export function useRow<K extends Kind>(kind: K, id: string | undefined): RowOf<K> | undefined {
  return useRows(kind).find((r) => r.id === id);
}

/** The surface that a selection leads to along the chain, or the first. */
export function surfaceOf(show: ShowDocument | undefined, selected: Selection | null): string | undefined {
  const rows = show?.rows;
  if (rows === undefined) return undefined;
  const layerAim = (id: string | undefined) => rows.layer.find((l) => l.id === id)?.aims[0];
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
      case 'region':
        return rows.region.find((r) => r.id === selected.id)?.surface;
      case 'output':
        return rows.region.find((r) => r.output === selected.id)?.surface;
    }
  };
  return found() ?? rows.surface[0]?.id;
}

export function useTrace(surface: string | undefined) {
  const id = useStudio((s) => s.showId);
  const transport = useStudio((s) => s.transport);
  const values = useStudio((s) => s.values);
  return useQuery({
    queryKey: ['trace', id, surface, transport?.running, transport?.transport.position, Object.keys(values).length],
    queryFn: () => api<{ engine: boolean; links: Schemas['TraceLink'][] }>(`shows/${id}/trace?surface=${surface}`),
    enabled: id !== null && surface !== undefined,
    refetchInterval: 1500,
    placeholderData: (old) => old,
  }).data;
}

/** Calls back with the show time on every frame, without rendering React. */
export function useEveryFrame(draw: (position: number) => void) {
  const latest = useRef(draw);
  latest.current = draw;
  useEffect(() => {
    let frame = 0;
    const step = () => {
      latest.current(position());
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, []);
}

/** Renders anew some times a second. */
export function useRepaint(hertz: number) {
  const [, repaint] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    const timer = setInterval(repaint, 1000 / hertz);
    return () => clearInterval(timer);
  }, [hertz]);
}
