import { Gone } from '../../../frame/parts';
import { useRow, useShow } from '../../../hooks';
import { arrange, go } from '../../../store';
import { Name, Place, type Placed } from './common';

export function RigDetails({ id }: { id: string }) {
  const row = useRow('rig', id);
  const show = useShow();
  if (row === undefined || show === undefined) return <Gone />;
  const riders: { kind: 'surface' | 'rig' | 'projector' | 'camera' | 'prop' | 'seat'; id: string; name: string }[] = (
    ['surface', 'rig', 'projector', 'camera', 'prop', 'seat'] as const
  ).flatMap((kind) =>
    (show.rows[kind] as Placed[]).filter((r) => r.rig === id).map((r) => ({ kind, id: r.id, name: r.name })),
  );
  // What routes throw from it.
  const thrown = [
    ...show.rows.lens.filter((l) => l.rig === id).map((l) => ({ kind: 'lens' as const, id: l.id, name: l.name })),
    ...show.rows.route
      .filter((r) => r.rig === id && r.reach === 'globe')
      .map((r) => ({ kind: 'route' as const, id: r.id, name: r.name === '' ? 'Globe' : r.name })),
  ];
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="rig" row={row} />
      <Place kind="rig" row={row} />
      <h3>Attached · {riders.length + thrown.length}</h3>
      {riders.map((r) => (
        <button
          key={r.id}
          type="button"
          className="plain"
          style={{ margin: '0 4px 4px 0' }}
          onClick={() => go('venue', { kind: r.kind, id: r.id })}
        >
          {r.name}
        </button>
      ))}
      {thrown.map((r) => (
        <button
          key={r.id}
          type="button"
          className="plain"
          style={{ margin: '0 4px 4px 0' }}
          onClick={() => go('routes', { kind: r.kind, id: r.id })}
        >
          {r.name}
        </button>
      ))}
      {riders.length + thrown.length === 0 && (
        <p className="dim">Nothing rides on it. Drag things onto it in the list, or choose it under "Parent rig".</p>
      )}
      <p style={{ marginTop: 20 }}>
        <button type="button" className="plain" onClick={() => void arrange({ action: 'dissolve', ids: [id] })}>
          Remove it, and leave in place what it carries
        </button>
      </p>
    </>
  );
}
