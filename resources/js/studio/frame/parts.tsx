import type { Kind } from '../../api/client';
import { useShow } from '../hooks';
import { editAndSelect, remove } from '../store';
import { Sign } from './Kite';

export const px = (n: number) => `${n.toLocaleString('en')} px`;

export function Findings({ kind, id }: { kind?: string; id?: string }) {
  const all = Object.values(useShow()?.computed.findings ?? {}).flat();
  const mine = all.filter((f) => kind === undefined || (f.kind === kind && f.id === id));
  if (mine.length === 0) return null;
  return (
    <>
      <h3>{kind === undefined ? 'Findings' : 'To look at'}</h3>
      {mine.slice(0, 100).map((f) => (
        <p key={f.message + f.id} style={{ margin: '4px 0', fontSize: 13 }}>
          <Sign state={f.severity as 'attention'} /> {f.message}
        </p>
      ))}
    </>
  );
}

export function Remove({ kind, id, name }: { kind: Kind; id: string; name: string }) {
  return (
    <p style={{ marginTop: 20 }}>
      <button
        type="button"
        className="plain"
        onClick={() => void editAndSelect(`Remove ${name}`, [remove(kind, id)], null)}
      >
        Remove
      </button>
    </p>
  );
}

export const Gone = () => <p className="dim">This is no longer in the show.</p>;
