import { MultiSelect, Select } from '@mantine/core';
import type { RowOf } from '../../../api/client';
import { useReach, useRow, useRows } from '../../hooks';
import { aim, edit, route as order, update } from '../../store';

/** The surfaces that a layer is aimed straight at. */
function Aims({ row, surfaces }: { row: RowOf<'layer'>; surfaces: RowOf<'surface'>[] }) {
  const reach = useReach(row);
  return (
    <MultiSelect
      label="Aimed at"
      mt={8}
      value={reach.filter((a) => surfaces.some((s) => s.id === a))}
      data={surfaces.map((s) => ({ value: s.id, label: s.name }))}
      placeholder={reach.length === 0 ? 'nothing yet' : undefined}
      onChange={(chosen) => void aim([row.id], chosen)}
      searchable
      hidePickedOptions
    />
  );
}

/** The route that a layer takes: straight at surfaces, or one with a name; and which part of its pane it is fitted into. */
export function RouteChoice({ row }: { row: RowOf<'layer'> }) {
  const surfaces = useRows('surface');
  const named = useRows('route').filter((r) => r.layer === null);
  const route = useRow('route', row.route ?? undefined);
  const shares = useRows('share').filter((s) => s.route === row.route);
  const lenses = useRows('lens').filter((l) => l.route === row.route);
  const taken = route !== undefined && route.layer === null ? route : undefined;
  const parts =
    taken === undefined
      ? []
      : [
          ...shares.map((s) => ({ value: s.id, label: surfaces.find((one) => one.id === s.surface)?.name ?? 'gone' })),
          ...lenses.map((l) => ({ value: l.id, label: l.name })),
        ];
  return (
    <>
      {named.length > 0 && (
        <Select
          label="Route"
          mt={8}
          allowDeselect={false}
          searchable={named.length > 8}
          value={taken?.id ?? ''}
          data={[{ value: '', label: 'straight at surfaces' }, ...named.map((r) => ({ value: r.id, label: r.name }))]}
          onChange={(id) => {
            if (id === '') void aim([row.id], []);
            else if (id !== null) void order({ action: 'take', route: id, layers: [row.id] });
          }}
        />
      )}
      {taken === undefined ? (
        <Aims row={row} surfaces={surfaces} />
      ) : (
        parts.length > 0 && (
          <Select
            label="Pane region"
            mt={8}
            clearable
            placeholder="all of it"
            value={row.part}
            data={parts}
            onChange={(part) => void edit(`Fit ${row.name}`, [update('layer', row, { part })])}
          />
        )
      )}
    </>
  );
}
