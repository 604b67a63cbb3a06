import { useState } from 'react';
import type { RowOf } from '../../../../api/client';
import { NameField, NumberField } from '../../../fields/fields';
import { edit, update } from '../../../store';
import { numbers } from './common';

/** Boards and openings before and in a back face: each a polygon with its depth. */
export function Boards({ row }: { row: RowOf<'surface'> }) {
  const [open, setOpen] = useState(0);
  const board = row.boards[open];
  const write = (boards: typeof row.boards) => edit(`Shape ${row.name}`, [update('surface', row, { boards })]);
  const set = (fields: Partial<(typeof row.boards)[number]>) => write(row.boards.map((b, i) => (i === open ? { ...b, ...fields } : b)));
  return (
    <>
      <h3>Boards and openings · {row.boards.length}</h3>
      <div style={{ display: 'flex', gap: 6 }}>
        <select className="plain mono" aria-label="Board" value={open} onChange={(e) => setOpen(Number(e.currentTarget.value))} style={{ flex: 1, minWidth: 0 }}>
          {row.boards.map((b, i) => (
            <option key={i} value={i}>{`${i + 1}: ${b.depth < 0 ? 'opening' : 'board'}, ${b.points.length / 2} corners, ${b.depth} m`}</option>
          ))}
        </select>
        <button type="button" className="plain" onClick={() => void write([...row.boards, { depth: 0.2, points: [-0.5, 1, 0.5, 1, 0.5, 2, -0.5, 2] }]).then(() => setOpen(row.boards.length))}>
          Add
        </button>
        <button type="button" className="plain" disabled={board === undefined} onClick={() => void write(row.boards.filter((_, i) => i !== open)).then(() => setOpen(0))}>
          Take out
        </button>
      </div>
      {board !== undefined && (
        <div style={{ marginTop: 8, display: 'grid', gap: 8 }}>
          <NumberField label="Depth, toward the audience" unit="m" step={0.05} value={board.depth} onChange={(depth) => set({ depth })} />
          <NameField
            label="Corners: x y, x y, … (m)"
            value={board.points.reduce((t, v, i) => t + (i === 0 ? '' : i % 2 === 0 ? ', ' : ' ') + Number(v.toFixed(4)), '')}
            onChange={(text) =>
              set({
                points: numbers(text),
              })
            }
          />
        </div>
      )}
    </>
  );
}
