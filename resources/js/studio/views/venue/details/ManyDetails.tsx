import { NativeSelect } from '@mantine/core';
import type { ReactNode } from 'react';
import type { Kind } from '../../../../api/client';
import { NumbersField } from '../../../fields/fields';
import { useShow } from '../../../hooks';
import { arrange, edit, type Selection, update } from '../../../store';
import { isPlaced } from '../placed';
import { type Placed, settings } from './common';

const MIXED = 'mixed';

/** Several things at once: a field shows its value where all agree, and writes to all. */
export function ManyDetails({ chosen }: { chosen: Selection[] }) {
  const show = useShow();
  if (show === undefined) return null;
  const rows = chosen.flatMap((c) => {
    const row = (show.rows[c.kind] as unknown as (Placed & Record<string, unknown>)[]).find((r) => r.id === c.id);
    return row === undefined ? [] : [{ kind: c.kind, row }];
  });
  const ids = chosen.map((c) => c.id);
  const all = (test: (kind: Kind, row: Record<string, unknown>) => boolean) =>
    rows.length > 0 && rows.every(({ kind, row }) => test(kind, row));
  const write = (name: string, fields: (row: Placed & Record<string, unknown>, i: number) => Record<string, unknown>) =>
    edit(
      `${name} of ${rows.length} things`,
      rows.map(({ kind, row }, i) => update(kind, row as never, fields(row, i) as never)),
    );
  const agreed = <T,>(read: (row: Placed & Record<string, unknown>) => T): T | null => {
    const first = rows[0] === undefined ? null : read(rows[0].row);
    return rows.every(({ row }) => read(row) === first) ? first : null;
  };
  const field = (
    label: string,
    unit: string,
    read: (row: Placed & Record<string, unknown>) => number,
    make: (row: Placed & Record<string, unknown>, v: number) => Record<string, unknown>,
  ): ReactNode => {
    return (
      <NumbersField
        key={label}
        label={label}
        unit={unit}
        values={rows.map(({ row }) => read(row))}
        onChange={(values) => write(label, (row, i) => make(row, values[i] ?? 0))}
      />
    );
  };
  const inSettings = (column: 'shape' | 'lens' | 'material', name: string, usual: number) =>
    [
      (row: Record<string, unknown>) => Number(settings(row[column])[name] ?? usual),
      (row: Record<string, unknown>, v: number) => ({ [column]: { ...settings(row[column]), [name]: v } }),
    ] as const;
  const standing = all((kind) => isPlaced(kind));
  return (
    <>
      <h2>{rows.length} things</h2>
      <p className="dim" style={{ fontSize: 13 }}>
        {[...new Set(rows.map((r) => r.kind))]
          .map(
            (k) =>
              `${rows.filter((r) => r.kind === k).length} ${k}${rows.filter((r) => r.kind === k).length === 1 ? '' : 's'}`,
          )
          .join(', ')}
      </p>
      {standing && (
        <>
          <h3>Place</h3>
          <div className="row3">
            {['X', 'Y', 'Z'].map((axis, i) =>
              field(
                axis,
                'm',
                (row) => row.position[i] ?? 0,
                (row, v) => ({ position: row.position.map((old, k) => (k === i ? v : old)) }),
              ),
            )}
            {['Yaw', 'Pitch', 'Roll'].map((axis, i) =>
              field(
                axis,
                'deg',
                (row) => row.rotation[i] ?? 0,
                (row, v) => ({ rotation: row.rotation.map((old, k) => (k === i ? v : old)) }),
              ),
            )}
          </div>
        </>
      )}
      {all((kind, row) => kind === 'surface' && row.kind !== 'wall') && (
        <>
          <h3>Faces</h3>
          <div className="row2">
            {field('Density', 'px', ...inSettings('shape', 'pixelsPerMetre', 100))}
            {field('Gain', '', ...inSettings('material', 'gain', 0.8))}
          </div>
        </>
      )}
      {all((kind) => kind === 'projector') && (
        <>
          <h3>Projectors</h3>
          <div className="row2">
            {field(
              'Light',
              'lm',
              (row) => Number(row.lumens),
              (_, v) => ({ lumens: v }),
            )}
            {field('Throw', '', ...inSettings('lens', 'throw', 1.5))}
            {field('Shift X', '', ...inSettings('lens', 'shiftX', 0))}
            {field('Shift Y', '', ...inSettings('lens', 'shiftY', 0))}
            {field('Focus', 'm', ...inSettings('lens', 'focus', 10))}
          </div>
        </>
      )}
      {all((kind) => kind === 'camera') &&
        field(
          'Focal length',
          'mm',
          (row) => Number(row.focal),
          (_, v) => ({ focal: v }),
        )}
      {standing && (
        <>
          <h3>Align</h3>
          {(['x', 'y', 'z'] as const).map((axis) => (
            <div key={axis} style={{ display: 'flex', gap: 6, marginBottom: 6, alignItems: 'center' }}>
              <span className="mono" style={{ width: 14 }}>
                {axis.toUpperCase()}
              </span>
              {(['min', 'middle', 'max'] as const).map((to) => (
                <button
                  key={to}
                  type="button"
                  className="plain"
                  aria-label={`Align ${axis} ${to}`}
                  onClick={() => void arrange({ action: 'align', ids, axis, to })}
                >
                  {
                    {
                      x: { min: 'left', middle: 'middle', max: 'right' },
                      y: { min: 'bottom', middle: 'middle', max: 'top' },
                      z: { min: 'back', middle: 'middle', max: 'front' },
                    }[axis][to]
                  }
                </button>
              ))}
              <button
                type="button"
                className="plain"
                disabled={rows.length < 3}
                aria-label={`Distribute ${axis}`}
                onClick={() => void arrange({ action: 'distribute', ids, axis })}
              >
                even gaps
              </button>
            </div>
          ))}
          <NativeSelect
            mt={8}
            size="xs"
            label="Parent rig"
            value={agreed((row) => row.rig ?? '') ?? MIXED}
            onChange={(e) =>
              e.currentTarget.value !== MIXED &&
              void arrange({ action: 'ride', ids, rig: e.currentTarget.value === '' ? null : e.currentTarget.value })
            }
            data={[
              ...(agreed((row) => row.rig ?? '') === null ? [{ value: MIXED, label: MIXED }] : []),
              { value: '', label: 'nothing: stand in the venue' },
              ...show.rows.rig.filter((r) => !ids.includes(r.id)).map((r) => ({ value: r.id, label: r.name })),
            ]}
          />
        </>
      )}
    </>
  );
}
