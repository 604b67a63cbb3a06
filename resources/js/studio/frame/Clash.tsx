import { Modal } from '@mantine/core';
import { set, useStudio, writeMine } from '../store';

const shownAs = (value: unknown) => (typeof value === 'string' ? value : JSON.stringify(value));

/** Two people changed one value: theirs or mine. */
export function Clash() {
  const clash = useStudio((s) => s.clash);
  const theirs = () => set({ clash: null });
  return (
    <Modal opened={clash !== null} onClose={theirs} title="Somebody else changed this" centered>
      <p style={{ marginTop: 0 }}>{clash?.message}</p>
      <table className="table">
        <thead>
          <tr>
            <th>Value</th>
            <th>Theirs</th>
            <th>Mine</th>
          </tr>
        </thead>
        <tbody>
          {clash?.clashes.slice(0, 12).map((c) => (
            <tr key={`${c.id} ${c.field}`}>
              <td>{c.field}</td>
              <td className="mono">{shownAs(c.present).slice(0, 60)}</td>
              <td className="mono">
                {shownAs(
                  (
                    clash.changes.find((change) => change.id === c.id)?.fields[c.field ?? ''] as
                      | { after: unknown }
                      | undefined
                  )?.after,
                ).slice(0, 60)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div style={{ display: 'flex', gap: 8, marginTop: 16 }}>
        <button type="button" className="plain primary" onClick={theirs}>
          Keep theirs
        </button>
        <button type="button" className="plain" onClick={() => void writeMine()}>
          Use mine
        </button>
      </div>
    </Modal>
  );
}
