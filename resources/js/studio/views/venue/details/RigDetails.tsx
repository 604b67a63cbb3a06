import { Gone } from '../../../frame/parts';
import { useRow, useShow } from '../../../hooks';
import { arrange, go } from '../../../store';
import { Name, Place, type Placed } from './common';

export function RigDetails({ id }: { id: string }) {
  const row = useRow('rig', id);
  const show = useShow();
  if (row === undefined || show === undefined) return <Gone />;
  const riders = (['surface', 'rig', 'projector', 'camera', 'prop', 'seat'] as const).flatMap((kind) => (show.rows[kind] as Placed[]).filter((r) => r.rig === id).map((r) => ({ kind, id: r.id, name: r.name })));
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="rig" row={row} />
      <Place kind="rig" row={row} />
      <h3>Attached · {riders.length}</h3>
      {riders.map((r) => (
        <button key={r.id} type="button" className="plain" style={{ margin: '0 4px 4px 0' }} onClick={() => go('venue', { kind: r.kind, id: r.id })}>
          {r.name}
        </button>
      ))}
      {riders.length === 0 && <p className="dim">Nothing rides on it. Drag things onto it in the list, or choose it under "Parent rig".</p>}
      <p style={{ marginTop: 20 }}>
        <button type="button" className="plain" onClick={() => void arrange({ do: 'dissolve', ids: [id] })}>
          Remove it, and leave in place what it carries
        </button>
      </p>
    </>
  );
}
