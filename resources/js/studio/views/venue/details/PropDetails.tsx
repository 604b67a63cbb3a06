import { NumberField } from '../../../fields/fields';
import { Gone, Remove } from '../../../frame/parts';
import { useRow } from '../../../hooks';
import { edit, update } from '../../../store';
import { Name, Place, type Placed, settings } from './common';
import { ModelFile } from './ModelFile';

const propShapes: Record<string, [string, string, number][]> = {
  box: [
    ['width', 'Width', 1],
    ['height', 'Height', 1],
    ['depth', 'Depth', 1],
  ],
  cylinder: [
    ['radius', 'Radius', 0.5],
    ['height', 'Height', 1],
  ],
  model: [],
};

export function PropDetails({ id }: { id: string }) {
  const row = useRow('prop', id);
  if (row === undefined) return <Gone />;
  const shape = settings(row.shape);
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="prop" row={row as unknown as Placed} />
      <div className="row3" style={{ marginTop: 8 }}>
        {(propShapes[row.kind] ?? []).map(([name, label, usual]) => (
          <NumberField
            key={name}
            label={label}
            unit="m"
            step={0.1}
            value={Number(shape[name] ?? usual)}
            onChange={(v) =>
              edit(`Shape ${row.name}`, [update('prop', row, { shape: { ...shape, [name]: v } as typeof row.shape })])
            }
          />
        ))}
      </div>
      {row.kind === 'model' && <ModelFile kind="prop" row={row} />}
      <Place kind="prop" row={row as unknown as Placed} />
      <Remove kind="prop" id={id} name={row.name} />
    </>
  );
}
