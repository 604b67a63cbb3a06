import { Select } from '@mantine/core';
import { useState } from 'react';
import type { RowOf } from '../../../api/client';
import { commands, touchItems } from '../../../api/commands';
import { dusk } from '../../../theme/tokens';
import { NameField, NumberField } from '../../fields/fields';
import { usePictures, useRow, useRows, useShow } from '../../hooks';
import { edit, select, touchPanel, update } from '../../store';
import { Gone } from '../parts';
import { targetOf, ValueTarget } from './controls';

const SLOTS: Record<string, string[]> = { pad: ['Across', 'Up'], colour: ['Red', 'Green', 'Blue'] };

/** Something on a touch panel: what it shows, and what it does. */
export function TouchItemDetails({ id }: { id: string }) {
  const row = useRow('touchItem', id);
  const panel = useRow('device', row?.device);
  const pages = useRows('page');
  const pictures = usePictures();
  if (row === undefined) return <Gone />;
  const type = touchItems.find((t) => t.type === row.type);
  const change = (fields: Partial<RowOf<'touchItem'>>) =>
    edit(`Change ${row.name}`, [update('touchItem', row, fields)]);
  const place = (at: Partial<Pick<typeof row, 'column' | 'row' | 'columns' | 'rows'>>) => {
    const { column, row: line, columns, rows } = row;
    return touchPanel({ action: 'place', item: id, column, row: line, columns, rows, ...at });
  };
  return (
    <>
      <h2>{type?.label ?? row.type}</h2>
      <span className="dim">
        <span className="mono">/{row.name}</span> of{' '}
        <button type="button" className="plain" onClick={() => select({ kind: 'device', id: row.device })}>
          {panel?.name ?? 'a removed panel'}
        </button>
      </span>
      <NameField label="Label" placeholder={row.name} value={row.label} onChange={(label) => change({ label })} />
      <div className="row2">
        <NumberField label="Column" digits={0} value={row.column + 1} onChange={(v) => place({ column: v - 1 })} />
        <NumberField label="Row" digits={0} value={row.row + 1} onChange={(v) => place({ row: v - 1 })} />
        <NumberField label="Columns" digits={0} value={row.columns} onChange={(columns) => place({ columns })} />
        <NumberField label="Rows" digits={0} value={row.rows} onChange={(rows) => place({ rows })} />
      </div>
      <label className="choice" style={{ marginTop: 8 }}>
        <input
          type="color"
          aria-label="Colour"
          value={row.colour === '' ? dusk.kite : row.colour}
          onChange={(e) => void change({ colour: e.currentTarget.value })}
        />
        Colour
      </label>
      {(row.type === 'board' || row.type === 'picture') && (
        <Select
          label={row.type === 'board' ? 'Page' : 'Surface, output or input'}
          mt={8}
          searchable
          allowDeselect={false}
          value={row.shows}
          data={(row.type === 'board' ? pages : pictures).map((one) => ({ value: one.id, label: one.name }))}
          onChange={(shows) => shows !== null && void change({ shows })}
        />
      )}
      {Array.from({ length: type?.controls ?? 0 }, (_, slot) => (
        <ItemTarget
          key={slot}
          item={row}
          slot={slot}
          moves={type?.moves === true}
          label={SLOTS[row.type]?.[slot] ?? 'Does'}
        />
      ))}
      <p style={{ marginTop: 20 }}>
        <button
          type="button"
          className="plain"
          onClick={() =>
            void touchPanel({ action: 'remove', item: id }).then(() => select({ kind: 'device', id: row.device }))
          }
        >
          Remove
        </button>
      </p>
    </>
  );
}

/** What one of an item's controls is bound to. */
function ItemTarget({
  item,
  slot,
  moves,
  label,
}: {
  item: RowOf<'touchItem'>;
  slot: number;
  moves: boolean;
  label: string;
}) {
  const show = useShow();
  const cues = useRows('cue');
  const bound = useRows('binding').find(
    (b) => b.device === item.device && b.control === `/${item.name}${slot > 0 ? `#${slot}` : ''}`,
  );
  const [picked, setPicked] = useState<'value' | 'action' | 'cue' | null>(null);
  const meaning = picked ?? (bound?.meaning as 'value' | 'action' | 'cue' | undefined) ?? (moves ? 'value' : 'cue');
  const bind = (target: string) =>
    void touchPanel({ action: 'bind', item: item.id, slot, meaning, target }).then(() => setPicked(null));
  return (
    <>
      <h3>{label}</h3>
      {bound !== undefined && (
        <p className="dim" style={{ margin: '4px 0' }}>
          {targetOf(show, bound)}{' '}
          <button type="button" className="plain" onClick={() => select({ kind: 'binding', id: bound.id })}>
            Range and gesture
          </button>
        </p>
      )}
      {!moves && (
        <Select
          label="Kind"
          allowDeselect={false}
          value={meaning}
          data={[
            { value: 'cue', label: 'Cue' },
            { value: 'action', label: 'Command' },
            { value: 'value', label: 'Value' },
          ]}
          onChange={(v) => setPicked(v as typeof picked)}
        />
      )}
      {meaning === 'value' && (
        <ValueTarget value={bound?.meaning === 'value' ? bound.target : ''} onChange={(target) => bind(target)} />
      )}
      {meaning === 'cue' && (
        <Select
          label="Cue"
          mt={8}
          searchable
          allowDeselect={false}
          limit={100}
          value={bound?.meaning === 'cue' ? bound.target : null}
          data={cues.map((c) => ({ value: c.id, label: `${c.number} ${c.name}` }))}
          onChange={(target) => target !== null && bind(target)}
        />
      )}
      {meaning === 'action' && (
        <NameField
          label="Command"
          value={bound?.meaning === 'action' ? bound.target : ''}
          hint={`page N, ${commands.map((c) => c.name).join(', ')}; arguments after it`}
          onChange={bind}
        />
      )}
    </>
  );
}
