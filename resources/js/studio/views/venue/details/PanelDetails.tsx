import type { RowOf } from '../../../../api/client';
import { Figures, NameField, NumberField } from '../../../fields/fields';
import { Gone, Remove } from '../../../frame/parts';
import { useRow } from '../../../hooks';
import { edit, update } from '../../../store';

type PanelNumber = Exclude<keyof RowOf<'panel'>, 'id' | 'name'>;

const panelFields: [string, PanelNumber, string][] = [
  ['Width', 'widthMm', 'mm'],
  ['Height', 'heightMm', 'mm'],
  ['Width', 'widthPx', 'px'],
  ['Height', 'heightPx', 'px'],
  ['Depth', 'depthMm', 'mm'],
  ['Weight', 'kilograms', 'kg'],
  ['Power, average', 'wattsAverage', 'W'],
  ['Power, maximum', 'wattsMaximum', 'W'],
  ['Inrush', 'inrushAmperes', 'A'],
  ['Luminance', 'candela', 'cd/m²'],
  ['Viewing angle, H', 'viewAcross', 'deg'],
  ['Viewing angle, V', 'viewDown', 'deg'],
  ['Joint angle, min', 'jointMin', 'deg'],
  ['Joint angle, max', 'jointMax', 'deg'],
];

export function PanelDetails({ id }: { id: string }) {
  const row = useRow('panel', id);
  if (row === undefined) return <Gone />;
  const [across, down] = [row.widthMm / row.widthPx, row.heightMm / row.heightPx];
  return (
    <>
      <h2>{row.name}</h2>
      <NameField
        label="Name"
        value={row.name}
        onChange={(name) => edit(`Rename ${row.name}`, [update('panel', row, { name })])}
      />
      <div className="row2" style={{ marginTop: 8 }}>
        {panelFields.map(([label, name, unit]) => (
          <NumberField
            key={name}
            label={label}
            unit={unit}
            value={row[name]}
            onChange={(v) =>
              edit(`Change ${row.name}`, [update('panel', row, { [name]: name.endsWith('Px') ? Math.round(v) : v })])
            }
          />
        ))}
      </div>
      <h3>Figures</h3>
      <Figures
        of={[
          [
            'Pitch',
            Math.abs(across - down) < 0.005
              ? `${across.toFixed(2)} mm`
              : `${across.toFixed(2)} mm across, ${down.toFixed(2)} mm down: they differ`,
          ],
        ]}
      />
      <Remove kind="panel" id={id} name={row.name} />
    </>
  );
}
