import { type PointerEvent, useRef, useState } from 'react';
import type { RowOf } from '../../api/client';
import { touchItems } from '../../api/commands';
import { usePictures, useRow, useRows } from '../hooks';
import { select, touchPanel, useStudio } from '../store';

interface Place {
  column: number;
  row: number;
  columns: number;
  rows: number;
}

/** A touch panel as it will lie under the fingers, built by dragging on its grid. */
export function PanelBoard({ id }: { id: string }) {
  const panel = useRow('device', id);
  const items = useRows('touchItem').filter((i) => i.device === id);
  const cues = useRows('cue');
  const pages = useRows('page');
  const pictures = usePictures();
  const chosen = useStudio((s) => (s.selected?.kind === 'touchItem' ? s.selected.id : null));
  const grid = useRef<HTMLDivElement>(null);
  const [moving, setMoving] = useState<{ id: string; at: Place } | null>(null);
  const from = useRef<{ x: number; y: number; at: Place; sizes: boolean } | null>(null);
  if (panel === undefined) return null;
  const add = async (type: (typeof touchItems)[number]['type']) => {
    const target = {
      cue: cues[0]?.id,
      board: pages[0]?.id,
      picture: pictures[0]?.id,
      fader: 'master:show/level',
      value: 'master:show/level',
    }[type as string];
    const made = await touchPanel({ action: 'add', panel: id, type, target: target ?? '' });
    if (made !== null && made !== '') select({ kind: 'touchItem', id: made });
  };
  const place = (item: RowOf<'touchItem'>, at: Place) =>
    at.column === item.column && at.row === item.row && at.columns === item.columns && at.rows === item.rows
      ? undefined
      : touchPanel({ action: 'place', item: item.id, ...at });
  const begin = (e: PointerEvent<HTMLElement>, item: RowOf<'touchItem'>, sizes: boolean) => {
    e.preventDefault();
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    select({ kind: 'touchItem', id: item.id });
    from.current = { x: e.clientX, y: e.clientY, at: placeOf(item), sizes };
  };
  const move = (e: PointerEvent<HTMLElement>, item: RowOf<'touchItem'>) => {
    const start = from.current;
    const box = grid.current?.getBoundingClientRect();
    if (start === null || box === undefined) return;
    const across = Math.round((e.clientX - start.x) / (box.width / panel.columns));
    const down = Math.round((e.clientY - start.y) / (box.height / panel.rows));
    const { column, row, columns, rows } = start.at;
    const at = start.sizes
      ? { column, row, columns: Math.max(1, columns + across), rows: Math.max(1, rows + down) }
      : { column: column + across, row: row + down, columns, rows };
    setMoving({ id: item.id, at });
  };
  const end = (item: RowOf<'touchItem'>) => {
    from.current = null;
    if (moving?.id === item.id) void place(item, moving.at);
    setMoving(null);
  };
  return (
    <section aria-label="Touch panel" style={{ marginBottom: 24 }}>
      <div className="bar wraps">
        {touchItems.map(({ type, label }) => (
          <button
            key={type}
            type="button"
            className="plain"
            disabled={
              (type === 'cue' && cues.length === 0) ||
              (type === 'board' && pages.length === 0) ||
              (type === 'picture' && pictures.length === 0)
            }
            onClick={() => void add(type)}
          >
            {label}
          </button>
        ))}
        <span className="grow" />
        <a className="plain" href={`/touch/${encodeURIComponent(panel.name)}`} target="_blank" rel="noreferrer">
          Open
        </a>
      </div>
      <div
        ref={grid}
        className="panel-grid"
        style={{
          gridTemplateColumns: `repeat(${panel.columns}, 1fr)`,
          gridTemplateRows: `repeat(${panel.rows}, 1fr)`,
          backgroundSize: `${100 / panel.columns}% ${100 / panel.rows}%`,
          aspectRatio: `${panel.columns * 4} / ${panel.rows * 3}`,
        }}
      >
        {items.map((item) => {
          const at = moving?.id === item.id ? moving.at : placeOf(item);
          const words = touchItems.find((t) => t.type === item.type)?.label ?? item.type;
          const name = item.label !== '' ? item.label : item.name;
          return (
            <button
              key={item.id}
              type="button"
              className="panel-item"
              aria-pressed={chosen === item.id}
              aria-label={`${words} ${name}`}
              style={{
                gridColumn: `${Math.max(0, at.column) + 1} / span ${at.columns}`,
                gridRow: `${Math.max(0, at.row) + 1} / span ${at.rows}`,
                ...(item.colour === '' ? {} : { borderBottomColor: item.colour }),
              }}
              onPointerDown={(e) => begin(e, item, false)}
              onPointerMove={(e) => move(e, item)}
              onPointerUp={() => end(item)}
              onPointerCancel={() => setMoving(null)}
              onFocus={() => select({ kind: 'touchItem', id: item.id })}
              onKeyDown={(e) => {
                const [x, y] =
                  { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key] ?? [];
                if (x !== undefined && y !== undefined) {
                  e.preventDefault();
                  e.stopPropagation();
                  const { column, row, columns, rows } = placeOf(item);
                  void place(
                    item,
                    e.shiftKey
                      ? { column, row, columns: Math.max(1, columns + x), rows: Math.max(1, rows + y) }
                      : { column: column + x, row: row + y, columns, rows },
                  );
                } else if (e.key === 'Delete' || e.key === 'Backspace') {
                  e.preventDefault();
                  e.stopPropagation();
                  void touchPanel({ action: 'remove', item: item.id }).then(() => select({ kind: 'device', id }));
                }
              }}
            >
              {name}
              <span
                className="panel-corner"
                onPointerDown={(e) => begin(e, item, true)}
                onPointerMove={(e) => move(e, item)}
                onPointerUp={() => end(item)}
              />
            </button>
          );
        })}
      </div>
      {items.length === 0 && <p className="dim">Add what fingers are to press: it takes the first free place.</p>}
    </section>
  );
}

const placeOf = (item: RowOf<'touchItem'>): Place => ({
  column: item.column,
  row: item.row,
  columns: item.columns,
  rows: item.rows,
});
