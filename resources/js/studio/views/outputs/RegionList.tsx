import { SegmentedControl } from '@mantine/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type MouseEvent, useEffect, useMemo, useRef, useState } from 'react';
import type { RowOf } from '../../../api/client';
import type { IsolateMessage } from '../../../live/messages';
import { NumbersField } from '../../fields/fields';
import { useRows } from '../../hooks';
import { choose, command, edit, get, select, update, useStudio } from '../../store';

type Region = RowOf<'region'>;
type Group = RowOf<'regionGroup'>;

interface Line {
  key: string;
  depth: number;
  group: Group | null;
  region: Region | null;
  /** Regions in it, those of groups within it as well. */
  of: string[];
}

type Shown = IsolateMessage['show'];

/** Ms after which the real output is told again which regions it shows alone. */
const AGAIN = 8000;

/** Regions by their groups, one line each, in the order in which they are stepped through. */
function linesOf(regions: readonly Region[], groups: readonly Group[], folded: ReadonlySet<string>): Line[] {
  const known = new Set(groups.map((g) => g.id));
  const parentOf = (group: Group) => {
    // What would lie in itself lies outside.
    const met = new Set([group.id]);
    for (let at = group.parent; at !== null && known.has(at); at = groups.find((g) => g.id === at)?.parent ?? null) {
      if (met.has(at)) return null;
      met.add(at);
    }
    return group.parent !== null && known.has(group.parent) ? group.parent : null;
  };
  const within = (parent: string | null, depth: number): { lines: Line[]; of: string[] } => {
    const lines: Line[] = [];
    const all: string[] = [];
    for (const group of groups.filter((g) => parentOf(g) === parent).sort((a, b) => a.order - b.order)) {
      const inner = within(group.id, depth + 1);
      lines.push({ key: group.id, depth, group, region: null, of: inner.of });
      if (!folded.has(group.id)) lines.push(...inner.lines);
      all.push(...inner.of);
    }
    for (const region of regions)
      if ((region.group !== null && known.has(region.group) ? region.group : null) === parent) {
        lines.push({ key: region.id, depth, group: null, region, of: [region.id] });
        all.push(region.id);
      }
    return { lines, of: all };
  };
  return within(null, 0).lines;
}

/** All regions of the show in their groups: chosen, stepped through, and shown alone on the real outputs. */
export function RegionList() {
  const regions = useRows('region');
  const groups = useRows('regionGroup');
  const surfaces = useRows('surface');
  const outputs = useRows('output');
  const chosen = useStudio((s) => s.chosen);
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [alone, setAlone] = useState(false);
  const [show, setShow] = useState<Shown>('picture');
  const area = useRef<HTMLDivElement>(null);
  const lines = useMemo(() => {
    const order = new Map(outputs.map((o, i) => [o.id, i]));
    const sorted = [...regions].sort(
      (a, b) => (order.get(a.output) ?? 0) - (order.get(b.output) ?? 0) || (a.id < b.id ? -1 : 1),
    );
    return linesOf(sorted, groups, folded);
  }, [regions, groups, outputs, folded]);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => area.current,
    estimateSize: () => 28,
    overscan: 8,
  });
  const on = chosen.filter((c) => c.kind === 'region').map((c) => c.id);
  const told = alone ? on : [];
  const key = told.join(' ');
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says which they are
  useEffect(() => {
    if (told.length === 0) return;
    const tell = () => void command({ action: 'isolate', regions: told, show });
    tell();
    const again = setInterval(tell, AGAIN);
    return () => clearInterval(again);
  }, [key, show]);
  const ends = told.length > 0;
  useEffect(() => {
    if (!ends) return;
    document.dispatchEvent(new CustomEvent('kite-shown-alone'));
    return () => void command({ action: 'isolate', regions: [] });
  }, [ends]);
  useEffect(() => {
    const off = () => setAlone(false);
    document.addEventListener('kite-patch', off);
    return () => document.removeEventListener('kite-patch', off);
  }, []);

  const all = useRef(lines);
  all.current = lines;
  useEffect(() => {
    /** Chooses the region before or after the one that is chosen. */
    const step = (by: number) => {
      const list = all.current.filter((l) => l.region !== null);
      const at = list.findIndex((l) => l.key === get().selected?.id);
      const to = list[(at + by + list.length) % list.length] ?? list[0];
      if (to !== undefined) select({ kind: 'region', id: to.key });
    };
    const onStep = (e: Event) => step((e as CustomEvent<number>).detail);
    const onAlone = () => setAlone((now) => !now);
    document.addEventListener('kite-step', onStep);
    document.addEventListener('kite-alone', onAlone);
    return () => {
      document.removeEventListener('kite-step', onStep);
      document.removeEventListener('kite-alone', onAlone);
    };
  }, []);

  const press = (line: Line, e: MouseEvent) => {
    const picked = line.of.map((id) => ({ kind: 'region' as const, id }));
    const has = (id: string) => on.includes(id);
    if (e.shiftKey && get().selected?.kind === 'region') {
      const shown = lines.filter((l) => l.region !== null).map((l) => l.key);
      const [from, to] = [shown.indexOf(get().selected?.id ?? ''), shown.indexOf(line.of[line.of.length - 1] ?? '')];
      if (from >= 0 && to >= 0) {
        const range = shown.slice(Math.min(from, to), Math.max(from, to) + 1);
        // The one that was chosen leads on.
        choose([...range.filter((id) => id !== shown[from]), shown[from] ?? ''].map((id) => ({ kind: 'region', id })));
      }
    } else if (e.ctrlKey || e.metaKey) {
      const whole = line.of.every(has);
      const kept = chosen.filter((c) => c.kind === 'region' && !line.of.includes(c.id));
      choose(whole ? kept : [...kept, ...picked]);
    } else choose(picked);
  };
  const nameOf = (r: Region) => surfaces.find((s) => s.id === r.surface)?.name ?? 'a removed surface';
  return (
    <section className="region-list" aria-label="Regions">
      <div className="head">
        <button
          type="button"
          className="plain"
          aria-pressed={alone}
          title="On the real outputs, what lies beside the chosen regions is dark (O)"
          onClick={() => setAlone((now) => !now)}
        >
          Only these
        </button>
        {alone && (
          <SegmentedControl
            aria-label="Show"
            size="xs"
            data={[
              { value: 'picture', label: 'Picture' },
              { value: 'white', label: 'White' },
              { value: 'guide', label: 'Guide' },
            ]}
            value={show}
            onChange={(v) => setShow(v as Shown)}
          />
        )}
        {alone && show === 'guide' && (
          <GuideSize of={surfaces.filter((s) => regions.some((r) => on.includes(r.id) && r.surface === s.id))} />
        )}
      </div>
      <div ref={area} className="lines">
        {lines.length === 0 && <p className="dim">No regions yet</p>}
        <ul style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map((item) => {
            const line = lines[item.index];
            if (line === undefined) return null;
            const { group, region } = line;
            const isOn = line.of.length > 0 && line.of.every((id) => on.includes(id));
            return (
              <li key={line.key} style={{ top: item.start, height: item.size, paddingLeft: 4 + 14 * line.depth }}>
                {group !== null && (
                  <button
                    type="button"
                    className="bare"
                    aria-label={`${folded.has(group.id) ? 'Unfold' : 'Fold'} ${group.name}`}
                    aria-expanded={!folded.has(group.id)}
                    onClick={() =>
                      setFolded((now) => {
                        const next = new Set(now);
                        if (!next.delete(group.id)) next.add(group.id);
                        return next;
                      })
                    }
                  >
                    {folded.has(group.id) ? '▸' : '▾'}
                  </button>
                )}
                <button
                  type="button"
                  className="line"
                  aria-pressed={isOn}
                  disabled={line.of.length === 0}
                  title={
                    region === null
                      ? undefined
                      : `${nameOf(region)} on ${outputs.find((o) => o.id === region.output)?.name ?? 'a removed output'}`
                  }
                  onClick={(e) => press(line, e)}
                >
                  {region === null ? (
                    <>
                      {group?.name} <span className="dim">{line.of.length}</span>
                    </>
                  ) : (
                    <>
                      {nameOf(region)}{' '}
                      <span className="dim">{outputs.find((o) => o.id === region.output)?.name ?? 'gone'}</span>
                    </>
                  )}
                </button>
              </li>
            );
          })}
        </ul>
      </div>
    </section>
  );
}

/** How large the squares of the guide are on surfaces; 0 for their test cards. */
function GuideSize({ of }: { of: RowOf<'surface'>[] }) {
  if (of.length === 0) return null;
  return (
    <NumbersField
      label="Guide squares"
      unit="m"
      values={of.map((s) => Number((s.shape as { guide?: number }).guide ?? 0))}
      onChange={(sizes) =>
        edit(
          'Size the guide',
          of.map((s, i) => update('surface', s, { shape: { ...s.shape, guide: sizes[i] ?? 0 } as typeof s.shape })),
        )
      }
    />
  );
}
