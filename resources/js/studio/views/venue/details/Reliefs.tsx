import { useState } from 'react';
import type { RowOf } from '../../../../api/client';
import { NameField, NumberField } from '../../../fields/fields';
import { edit, update } from '../../../store';
import { numbers } from './common';

/** Reliefs and openings before and in a back face: each a polygon with its depth. */
export function Reliefs({ row }: { row: RowOf<'surface'> }) {
  const [open, setOpen] = useState(0);
  const relief = row.reliefs[open];
  const write = (reliefs: typeof row.reliefs) => edit(`Shape ${row.name}`, [update('surface', row, { reliefs })]);
  const set = (fields: Partial<(typeof row.reliefs)[number]>) =>
    write(row.reliefs.map((b, i) => (i === open ? { ...b, ...fields } : b)));
  return (
    <>
      <h3>Reliefs and openings · {row.reliefs.length}</h3>
      <div style={{ display: 'flex', gap: 6 }}>
        <select
          className="plain mono"
          aria-label="Relief"
          value={open}
          onChange={(e) => setOpen(Number(e.currentTarget.value))}
          style={{ flex: 1, minWidth: 0 }}
        >
          {row.reliefs.map((b, i) => (
            <option
              key={i}
              value={i}
            >{`${i + 1}: ${b.depth < 0 ? 'opening' : 'relief'}, ${b.points.length / 2} corners, ${b.depth} m`}</option>
          ))}
        </select>
        <button
          type="button"
          className="plain"
          onClick={() =>
            void write([...row.reliefs, { depth: 0.2, points: [-0.5, 1, 0.5, 1, 0.5, 2, -0.5, 2] }]).then(() =>
              setOpen(row.reliefs.length),
            )
          }
        >
          Add
        </button>
        <button
          type="button"
          className="plain"
          disabled={relief === undefined}
          onClick={() => void write(row.reliefs.filter((_, i) => i !== open)).then(() => setOpen(0))}
        >
          Take out
        </button>
      </div>
      {relief !== undefined && (
        <div style={{ marginTop: 8, display: 'grid', gap: 8 }}>
          <NumberField label="Depth" unit="m" step={0.05} value={relief.depth} onChange={(depth) => set({ depth })} />
          <NameField
            label="Corners: x y, x y, … (m)"
            value={relief.points.reduce(
              (t, v, i) => t + (i === 0 ? '' : i % 2 === 0 ? ', ' : ' ') + Number(v.toFixed(4)),
              '',
            )}
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
