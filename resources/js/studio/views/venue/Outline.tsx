import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, useMemo, useRef, useState } from 'react';
import type { RowOf } from '../../../api/client';
import { useShow } from '../../hooks';
import { arrange, choose, edit, type Selection, toggle, update, useStudio } from '../../store';
import type { PlacedKind } from './placed';
import { type Thing, useVenue } from './things';

const marks: Record<PlacedKind, string> = {
  surface: 'M2 3h12v9H2z',
  rig: 'M2 13 8 3l6 10zM5 8h6',
  projector: 'M2 5h8v6H2zM10 8l4-3v6z',
  camera: 'M2 5h9v7H2zM11 8l3-2v5z',
  prop: 'M8 2l6 3v6l-6 3-6-3V5zM2 5l6 3 6-3M8 8v6',
  seat: 'M4 2v7h8M4 9v5M12 9v5M4 9h8',
};

const words: Record<PlacedKind, string> = {
  surface: 'surface',
  rig: 'rig',
  projector: 'projector',
  camera: 'camera',
  prop: 'prop',
  seat: 'seat',
};

/** Everything in the venue by name, what rides on a rig under it. */
export function Outline() {
  const { things, byId } = useVenue();
  const show = useShow();
  const chosen = useStudio((s) => s.chosen);
  const [search, setSearch] = useState('');
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const [naming, setNaming] = useState<string | null>(null);
  const scroll = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => {
    const wanted = search.trim().toLowerCase();
    const out: { thing: Thing; depth: number; parent: boolean }[] = [];
    if (wanted !== '')
      return things
        .filter((t) => t.name.toLowerCase().includes(wanted))
        .map((thing) => ({ thing, depth: 0, parent: false }));
    const below = new Map<string | null, Thing[]>();
    for (const t of things) {
      const at = t.rig !== null && byId.has(t.rig) ? t.rig : null;
      below.set(at, [...(below.get(at) ?? []), t]);
    }
    const walk = (at: string | null, depth: number) => {
      for (const thing of below.get(at) ?? []) {
        out.push({ thing, depth, parent: below.has(thing.id) });
        if (below.has(thing.id) && !closed.has(thing.id)) walk(thing.id, depth + 1);
      }
    };
    walk(null, 0);
    return out;
  }, [things, byId, search, closed]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => 26,
    overscan: 12,
  });
  const at = rows.findIndex((r) => r.thing.id === chosen[chosen.length - 1]?.id);
  const of = (i: number): Selection | null =>
    rows[i] === undefined ? null : { kind: rows[i].thing.kind, id: rows[i].thing.id };
  const pick = (i: number, how: { ctrl: boolean; shift: boolean }) => {
    const one = of(i);
    if (one === null) return;
    if (how.shift && at >= 0)
      choose([
        ...rows
          .slice(Math.min(at, i), Math.max(at, i) + 1)
          .map((r) => ({ kind: r.thing.kind, id: r.thing.id }))
          .filter((r) => r.id !== one.id),
        one,
      ]);
    else if (how.ctrl) toggle(one);
    else choose([one]);
    virtual.scrollToIndex(i);
  };
  const row = (thing: Thing) => show?.rows[thing.kind].find((r) => r.id === thing.id) as RowOf<'rig'> | undefined;
  const flag = (thing: Thing, field: 'hidden' | 'locked') => {
    const ids = chosen.some((c) => c.id === thing.id) ? chosen.map((c) => c.id) : [thing.id];
    const to = !thing[field];
    const changes = ids.flatMap((id) => {
      const one = byId.get(id);
      const r = one && row(one);
      return one && r ? [update(one.kind, r as never, { [field]: to } as never)] : [];
    });
    void edit(
      `${field === 'hidden' ? (to ? 'Hide' : 'Show') : to ? 'Lock' : 'Unlock'} ${changes.length === 1 ? thing.name : `${changes.length} things`}`,
      changes,
    );
  };
  const rename = (thing: Thing, name: string) => {
    setNaming(null);
    const r = row(thing);
    if (r !== undefined && name.trim() !== '' && name !== thing.name)
      void edit(`Rename ${thing.name}`, [update(thing.kind, r as never, { name } as never)]);
  };
  const onKey = (e: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
    if (step !== undefined) {
      e.preventDefault();
      e.stopPropagation();
      pick(Math.max(0, Math.min(rows.length - 1, at + step)), { ctrl: false, shift: e.shiftKey });
    } else if ((e.key === 'ArrowLeft' || e.key === 'ArrowRight') && rows[at]?.parent) {
      e.preventDefault();
      e.stopPropagation();
      const id = rows[at]?.thing.id as string;
      setClosed((c) => new Set(e.key === 'ArrowLeft' ? [...c, id] : [...c].filter((x) => x !== id)));
    } else if (e.key === 'F2' && rows[at] !== undefined) {
      e.preventDefault();
      setNaming(rows[at].thing.id);
    }
  };
  return (
    <div className="outline">
      <input
        type="search"
        aria-label="Search the venue"
        placeholder={`Search ${things.length} items`}
        value={search}
        onChange={(e) => setSearch(e.currentTarget.value)}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <div
        ref={scroll}
        className="outline-list"
        role="tree"
        aria-label="Venue outline"
        aria-multiselectable="true"
        tabIndex={0}
        onKeyDown={onKey}
      >
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map((item) => {
            const { thing, depth, parent } = rows[item.index] as (typeof rows)[number];
            const on = chosen.some((c) => c.id === thing.id);
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the tree takes the keys for all of its rows
              <div
                key={thing.id}
                role="treeitem"
                tabIndex={-1}
                aria-selected={on}
                aria-level={depth + 1}
                aria-expanded={parent ? !closed.has(thing.id) : undefined}
                aria-label={`${thing.name}, ${words[thing.kind]}${thing.hidden ? ', hidden' : ''}${thing.locked ? ', locked' : ''}`}
                className={`outline-row${on ? ' on' : ''}${thing.hidden ? ' out' : ''}`}
                style={{ transform: `translateY(${item.start}px)`, paddingLeft: 4 + depth * 14 }}
                draggable={naming !== thing.id}
                onDragStart={(e) =>
                  e.dataTransfer.setData(
                    'application/x-kite-thing',
                    JSON.stringify(on ? chosen.map((c) => c.id) : [thing.id]),
                  )
                }
                onDragOver={(e) =>
                  thing.kind === 'rig' &&
                  e.dataTransfer.types.includes('application/x-kite-thing') &&
                  e.preventDefault()
                }
                onDrop={(e) => {
                  const ids = JSON.parse(e.dataTransfer.getData('application/x-kite-thing') || '[]') as string[];
                  if (thing.kind === 'rig' && ids.length > 0) void arrange({ action: 'ride', ids, rig: thing.id });
                }}
                onClick={(e) => pick(item.index, { ctrl: e.ctrlKey || e.metaKey, shift: e.shiftKey })}
                onDoubleClick={() => setNaming(thing.id)}
              >
                <button
                  type="button"
                  className="fold"
                  tabIndex={-1}
                  aria-hidden={!parent}
                  aria-label={closed.has(thing.id) ? 'Unfold' : 'Fold'}
                  style={{ visibility: parent ? 'visible' : 'hidden' }}
                  onClick={(e) => {
                    e.stopPropagation();
                    setClosed(
                      (c) => new Set(c.has(thing.id) ? [...c].filter((x) => x !== thing.id) : [...c, thing.id]),
                    );
                  }}
                >
                  {closed.has(thing.id) ? '▸' : '▾'}
                </button>
                <svg
                  width="14"
                  height="16"
                  viewBox="0 0 16 16"
                  fill="none"
                  stroke="currentColor"
                  strokeWidth="1.3"
                  aria-hidden="true"
                >
                  <path d={marks[thing.kind]} />
                </svg>
                {thing.colour !== '' && (
                  <i className="swatch" style={{ background: thing.colour }} aria-hidden="true" />
                )}
                {naming === thing.id ? (
                  <input
                    // biome-ignore lint/a11y/noAutofocus: the row was just asked for by F2 or a double press
                    autoFocus
                    aria-label="New name"
                    defaultValue={thing.name}
                    onFocus={(e) => e.currentTarget.select()}
                    onBlur={(e) => rename(thing, e.currentTarget.value)}
                    onKeyDown={(e) => {
                      e.stopPropagation();
                      if (e.key === 'Enter') e.currentTarget.blur();
                      if (e.key === 'Escape') setNaming(null);
                    }}
                  />
                ) : (
                  <span className="name" title={thing.name}>
                    {thing.name}
                  </span>
                )}
                {(['hidden', 'locked'] as const).map((field) => (
                  <button
                    key={field}
                    type="button"
                    tabIndex={-1}
                    className={`flag${thing[field] ? ' set' : ''}`}
                    aria-pressed={thing[field]}
                    aria-label={`${field === 'hidden' ? 'Hide' : 'Lock'} ${thing.name}`}
                    onClick={(e) => {
                      e.stopPropagation();
                      flag(thing, field);
                    }}
                  >
                    <svg
                      width="14"
                      height="14"
                      viewBox="0 0 16 16"
                      fill="none"
                      stroke="currentColor"
                      strokeWidth="1.4"
                      aria-hidden="true"
                    >
                      {field === 'hidden' ? (
                        <path
                          d={
                            thing.hidden
                              ? 'M2 6c4 5 8 5 12 0M4 9l-1.5 2M8 10v2.5M12 9l1.5 2'
                              : 'M1.5 8c4-6 9-6 13 0-4 6-9 6-13 0zM8 6a2 2 0 1 1 0 4 2 2 0 0 1 0-4'
                          }
                        />
                      ) : (
                        <path
                          d={thing.locked ? 'M4 7h8v6H4zM6 7V5a2 2 0 0 1 4 0v2' : 'M4 7h8v6H4zM6 7V5a2 2 0 0 1 4 0'}
                        />
                      )}
                    </svg>
                  </button>
                ))}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
