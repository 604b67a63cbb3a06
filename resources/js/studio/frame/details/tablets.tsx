import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, http, type RowOf } from '../../../api/client';
import { NumberField } from '../../fields/fields';
import { pairingCode, revokePanel } from '../../store';

/** The grid of a panel, and the tablets that may show it. */
export function PanelFields({
  row,
  change,
}: {
  row: RowOf<'device'>;
  change: (fields: Partial<RowOf<'device'>>) => unknown;
}) {
  return (
    <>
      <div className="row2">
        <NumberField label="Columns" digits={0} value={row.columns} onChange={(columns) => change({ columns })} />
        <NumberField label="Rows" digits={0} value={row.rows} onChange={(rows) => change({ rows })} />
      </div>
      <Tablets panel={row.name} />
    </>
  );
}

/** Tablets that may show a panel or a page over the network: paired by a code, and revoked. */
export function Tablets({ panel }: { panel: string }) {
  const { data, refetch } = useQuery({
    queryKey: ['paired'],
    queryFn: async () => answer(http.GET('/touch/paired')),
    refetchInterval: 5000,
  });
  const [code, setCode] = useState('');
  const own = data?.paired.filter((p) => p.panel === panel) ?? [];
  return (
    <>
      <h3>Tablets</h3>
      <p className="dim" style={{ margin: '4px 0' }}>
        {data?.door === '' || data === undefined ? (
          <>
            On this machine:{' '}
            <span className="mono breaks">{`${location.origin}/touch/${encodeURIComponent(panel)}`}</span>. For the
            network start with KITE_PANELS.
          </>
        ) : (
          <span className="mono breaks">{`http://${data.door}/touch/${encodeURIComponent(panel)}`}</span>
        )}
      </p>
      {own.map((p) => (
        <p key={p.id} style={{ display: 'flex', gap: 8, alignItems: 'center', margin: '4px 0' }}>
          <span style={{ flex: 1 }}>{p.label === '' ? 'A tablet' : p.label}</span>
          <button type="button" className="plain" onClick={() => void revokePanel(p.id).then(() => refetch())}>
            Revoke
          </button>
        </p>
      ))}
      {code !== '' && (
        <p role="status">
          Code <strong className="mono">{code}</strong> <span className="dim">good once, for five minutes</span>
        </p>
      )}
      <button type="button" className="plain" onClick={async () => setCode((await pairingCode(panel)) ?? '')}>
        Pair a tablet
      </button>
    </>
  );
}
