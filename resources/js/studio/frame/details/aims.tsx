import { MultiSelect } from '@mantine/core';
import type { RowOf } from '../../../api/client';
import { useReach } from '../../hooks';
import { aim } from '../../store';

export function Aims({ row, surfaces }: { row: RowOf<'layer'>; surfaces: RowOf<'surface'>[] }) {
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
