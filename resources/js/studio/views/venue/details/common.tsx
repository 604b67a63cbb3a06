import { NativeSelect } from '@mantine/core';
import type { RowOf } from '../../../../api/client';
import { NameField, NumberField } from '../../../fields/fields';
import { useRows } from '../../../hooks';
import { arrange, edit, update } from '../../../store';
import type { PlacedKind } from '../placed';
import { setVenue } from '../state';

export type Placed = RowOf<'rig'>;
type Values = Record<string, string | number | boolean>;

/** Settings of a row; PHP tells an empty object as a list. */
export const settings = (value: unknown) => (Array.isArray(value) ? {} : value) as Values;

/** Numbers typed one after another, parted by spaces, commas or semicolons. */
export const numbers = (text: string) =>
  text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map(Number);

export const Place = ({ kind, row }: { kind: PlacedKind; row: Placed }) => {
  const place = (field: 'position' | 'rotation', i: number, v: number) =>
    edit(`Place ${row.name}`, [
      update(kind, row as never, { [field]: row[field].map((old, k) => (k === i ? v : old)) } as never),
    ]);
  const rigs = useRows('rig').filter((r) => r.id !== row.id);
  return (
    <>
      <h3>Position{row.rig === null ? '' : ', relative to rig'}</h3>
      <div className="row3">
        {['X', 'Y', 'Z'].map((axis, i) => (
          <NumberField
            key={axis}
            label={axis}
            unit="m"
            step={0.1}
            value={row.position[i] ?? 0}
            disabled={row.locked}
            onChange={(v) => place('position', i, v)}
          />
        ))}
      </div>
      <div className="row3" style={{ marginTop: 8 }}>
        {['Yaw', 'Pitch', 'Roll'].map((axis, i) => (
          <NumberField
            key={axis}
            label={axis}
            unit="deg"
            step={1}
            digits={2}
            value={row.rotation[i] ?? 0}
            disabled={row.locked}
            onChange={(v) => place('rotation', i, v)}
          />
        ))}
      </div>
      <NativeSelect
        mt={8}
        size="xs"
        label="Parent rig"
        value={row.rig ?? ''}
        onChange={(e) =>
          void arrange({
            action: 'ride',
            ids: [row.id],
            rig: e.currentTarget.value === '' ? null : e.currentTarget.value,
          })
        }
        data={[{ value: '', label: 'none' }, ...rigs.map((r) => ({ value: r.id, label: r.name }))]}
      />
    </>
  );
};

export const Name = ({ kind, row }: { kind: PlacedKind; row: Placed }) => (
  <NameField
    label="Name"
    value={row.name}
    onChange={(name) => edit(`Rename ${row.name}`, [update(kind, row as never, { name } as never)])}
  />
);

/** A contrast, to one. */
export const ratio = (v: number) => `${v < 100 ? v.toFixed(1) : Math.round(v).toLocaleString('en')} : 1`;

/** What is sharp, in metres; a farthest of 0 has no end. */
export const sharp = (near: number, far: number) => `${near.toFixed(2)} – ${far > 0 ? `${far.toFixed(2)} m` : '∞'}`;

export const percent = (v: number) => `${(v * 100).toFixed(1)} %`;

export const m = (v: unknown) => (typeof v === 'number' ? `${v.toFixed(2)} m` : '—');

export const Through = ({ id }: { id: string }) => (
  <p style={{ display: 'grid', gap: 8 }}>
    <NameField
      label="Aim at point: x y z (m)"
      value=""
      onChange={(text) =>
        arrange({
          action: 'aim',
          ids: [id],
          point: numbers(text),
        })
      }
    />
    <button type="button" className="plain" onClick={() => setVenue({ look: `through ${id}` })}>
      Look from here
    </button>
  </p>
);
