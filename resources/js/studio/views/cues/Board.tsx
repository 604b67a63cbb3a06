import { type CSSProperties, type PointerEvent as ReactPointer, useEffect, useRef, useState } from 'react';
import type { RowOf } from '../../../api/client';
import { inWords } from '../../../live/property';
import { by, onNow, press, progress, sorted } from '../../cues';
import { follow } from '../../drag';
import { useRows, useShow } from '../../hooks';
import { edit, select, update, useStudio } from '../../store';

/** A cue as a tile: touching it fires it, another touch releases it; a right press shows what it holds. */
function Tile({
  cue,
  group,
  arrange,
  onMove,
}: {
  cue: RowOf<'cue'>;
  group: RowOf<'group'> | undefined;
  arrange: boolean;
  onMove: (dx: number, dy: number, drop: boolean) => void;
}) {
  useStudio((s) => s.told);
  const chosen = useStudio((s) => s.selected?.kind === 'cue' && s.selected.id === cue.id);
  const show = useShow();
  const on = onNow(cue.id);
  const bar = useRef<HTMLSpanElement>(null);
  const [open, setOpen] = useState(false);
  const [shift, setShift] = useState<[number, number] | null>(null);
  useEffect(() => {
    if (on === undefined) return;
    let frame = 0;
    const step = () => {
      const share = progress(on);
      if (bar.current !== null) bar.current.style.width = `${share * 100}%`;
      if (share < 1) frame = requestAnimationFrame(step);
    };
    step();
    return () => cancelAnimationFrame(frame);
  }, [on]);
  const down = (e: ReactPointer<HTMLButtonElement>) => {
    if (e.button !== 0) return;
    if (arrange) {
      follow(
        e,
        (dx, dy) => setShift([dx, dy]),
        (how) => {
          setShift((at) => {
            if (how === 'dropped' && at !== null) onMove(at[0], at[1], true);
            return null;
          });
          select({ kind: 'cue', id: cue.id });
        },
      );
      return;
    }
    // Touching is pressing, however long it lasts.
    void press(cue.id);
  };
  const held = sorted(show, cue.held);
  return (
    <button
      type="button"
      className={`tile ${on === undefined ? '' : 'on'} ${chosen ? 'chosen' : ''} holds-${cue.scope}`}
      aria-pressed={on !== undefined}
      aria-label={`Cue ${cue.number} ${cue.name}`}
      style={
        {
          gridColumn: cue.column + 1,
          gridRow: cue.row + 1,
          '--tile': cue.colour !== '' ? cue.colour : 'transparent',
          // A name is as large as its longest word has room.
          '--longest': Math.max(1, ...cue.name.split(/\s+/).map((word) => word.length)),
          '--group': group === undefined || group.colour === '' ? 'transparent' : group.colour,
          ...(shift === null ? {} : { transform: `translate(${shift[0]}px, ${shift[1]}px)`, zIndex: 3 }),
        } as CSSProperties
      }
      onPointerDown={down}
      onContextMenu={(e) => {
        e.preventDefault();
        setOpen((o) => !o);
      }}
      onPointerLeave={() => setOpen(false)}
      onBlur={() => setOpen(false)}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return;
        e.preventDefault();
        e.stopPropagation();
        if (arrange) select({ kind: 'cue', id: cue.id });
        else if (!e.repeat) void press(cue.id);
      }}
    >
      <span className="tile-head">
        <span className="mono">{cue.number}</span>
        <span className="tile-scope">
          {cue.scope === 'everything' ? <b className="scope-sign everything">all</b> : cue.held.length}
        </span>
      </span>
      <span className="tile-name">
        <span>{cue.name}</span>
      </span>
      <span className="tile-foot">
        {on === undefined ? (
          (group?.name ?? '')
        ) : on.masked > 0 ? (
          <span className="looseval">{on.masked} held by hand</span>
        ) : (
          by(on.by)
        )}
        <span className="tile-bar">{on !== undefined && <span ref={bar} />}</span>
      </span>
      {open && (
        <span className="tile-open">
          {held.length === 0 && <span className="dim">holds no values</span>}
          {held.slice(0, 12).map(({ entry, of, label, property }) => (
            <span key={entry.a} style={{ display: 'flex', gap: 10 }}>
              <span style={{ flex: 1 }}>
                {of} · {label}
              </span>
              <span className="mono">{property === undefined ? entry.v : inWords(property, entry.v)}</span>
            </span>
          ))}
          {held.length > 12 && <span className="dim">and {held.length - 12} more</span>}
          {cue.scope === 'everything' && <span className="dim">All other layers go dark.</span>}
        </span>
      )}
    </button>
  );
}

/** A page of the cue board. */
export function Board({ page, arrange }: { page: RowOf<'page'>; arrange: boolean }) {
  const cues = useRows('cue');
  const groups = useRows('group');
  const grid = useRef<HTMLDivElement>(null);
  const own = cues.filter((c) => c.page === page.id);
  const seen = own.filter((c) => c.row < page.rows && c.column < page.columns);
  const move = (cue: RowOf<'cue'>, dx: number, dy: number) => {
    const box = grid.current?.getBoundingClientRect();
    if (box === undefined) return;
    const [w, h] = [box.width / page.columns, box.height / page.rows];
    const column = Math.max(0, Math.min(page.columns - 1, cue.column + Math.round(dx / w)));
    const row = Math.max(0, Math.min(page.rows - 1, cue.row + Math.round(dy / h)));
    const there = own.find((c) => c.id !== cue.id && c.row === row && c.column === column);
    if (row === cue.row && column === cue.column) return;
    // What stands there changes places with it.
    void edit(`Move cue ${cue.number}`, [
      update('cue', cue, { row, column }),
      ...(there === undefined ? [] : [update('cue', there, { row: cue.row, column: cue.column })]),
    ]);
  };
  return (
    <>
      <div
        ref={grid}
        className="board"
        role="group"
        aria-label={`Board ${page.name}`}
        style={{
          gridTemplateColumns: `repeat(${page.columns}, minmax(0, 1fr))`,
          gridTemplateRows: `repeat(${page.rows}, minmax(56px, 1fr))`,
        }}
      >
        {Array.from({ length: page.rows * page.columns }, (_, i) => (
          <span
            key={i}
            className="tile-room"
            style={{ gridColumn: (i % page.columns) + 1, gridRow: Math.floor(i / page.columns) + 1 }}
          />
        ))}
        {seen.map((cue) => (
          <Tile
            key={cue.id}
            cue={cue}
            group={groups.find((g) => g.id === cue.group)}
            arrange={arrange}
            onMove={(dx, dy) => move(cue, dx, dy)}
          />
        ))}
      </div>
      {seen.length < own.length && <span className="tip">{own.length - seen.length} more outside this grid</span>}
    </>
  );
}
