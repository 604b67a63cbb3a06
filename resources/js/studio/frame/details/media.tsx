import type { RowOf } from '../../../api/client';
import { Figures, NameField, NumberField } from '../../fields/fields';
import { useRow, useShow } from '../../hooks';
import { edit, update } from '../../store';
import { FLICKS } from '../../time';
import { Sign } from '../Kite';
import { Findings, Gone, Remove } from '../parts';

export const seconds = (flicks: number) => `${(flicks / FLICKS).toFixed(2)} s`;

export function MediaDetails({ id }: { id: string }) {
  const row = useRow('media', id);
  const uses = useShow()?.computed.media[id]?.clips ?? 0;
  if (row === undefined) return <Gone />;
  const facts = (row.facts ?? {}) as Record<string, unknown>;
  const pattern = row.kind !== 'file';
  const change = (fields: Partial<RowOf<'media'>>) => edit(`Change ${row.name}`, [update('media', row, fields)]);
  const audio = facts.audio as { codec: string; channels: number; sampleRate: number } | null | undefined;
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('media', row, { name })])} />
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField label="Folder" unit="" digits={0} value={row.folder ?? 0} hint="By which a console calls it, 0 to 255" onChange={(folder) => change({ folder: Math.round(folder) })} />
        <NumberField label="Index" unit="" digits={0} value={row.index ?? 0} hint="0 to 255" onChange={(index) => change({ index: Math.round(index) })} />
      </div>
      {row.thumbnails?.[0] !== undefined && <img src={row.thumbnails[Math.floor(row.thumbnails.length / 2)]} alt="" style={{ width: '100%', marginTop: 10, background: 'var(--kl-ink7)' }} />}
      {pattern ? (
        <>
          <h3>Pattern</h3>
          {row.kind === 'solid' && <input type="color" aria-label="Colour" defaultValue={row.colour} onBlur={(e) => e.currentTarget.value !== row.colour && void change({ colour: e.currentTarget.value })} style={{ width: '100%' }} />}
          <div className="row2">
            <NumberField label="Width" unit="px" digits={0} value={row.width} onChange={(width) => change({ width: Math.round(width), height: row.height || Math.round(width) })} />
            <NumberField label="Height" unit="px" digits={0} value={row.height} onChange={(height) => change({ height: Math.round(height), width: row.width || Math.round(height) })} />
          </div>
          <p className="dim" style={{ fontSize: 12 }}>
            0 × 0: as large as the surface that it lands on.
          </p>
        </>
      ) : (
        <>
          <h3>File</h3>
          <Figures
            of={[
              ['State', row.state ?? 'missing'],
              ['Kind', String(facts.kind ?? '—')],
              ['Pixels', `${facts.width ?? '—'} × ${facts.height ?? '—'}`],
              ...(facts.rotation ? [['Rotation', `${facts.rotation}°`] as [string, string]] : []),
              ['Frame rate', String(facts.frameRate ?? '—')],
              ['Duration', typeof facts.duration === 'number' && facts.duration > 0 ? seconds(facts.duration) : '—'],
              ['Codec', String(facts.codec ?? '—')],
              ['Alpha', facts.alpha === true ? 'yes' : 'no'],
              ['Matrix', String(facts.matrix ?? '—')],
              ['Range', facts.range === 'pc' ? 'full' : facts.range === 'tv' ? 'limited' : '—'],
              ['Transfer', String(facts.transfer ?? '—')],
              ['Sound', audio ? `${audio.codec}, ${audio.channels} ch` : 'none'],
              ['Size', `${((row.bytes ?? 0) / 1e6).toFixed(2)} MB`],
            ]}
          />
          {((facts.assumed as string[] | undefined) ?? []).map((a) => (
            <p key={a} style={{ fontSize: 13, margin: '6px 0' }}>
              <Sign state="attention" /> {a}
            </p>
          ))}
          <p className="dim mono" style={{ fontSize: 11, overflowWrap: 'anywhere' }}>
            sha256 {row.file}
          </p>
        </>
      )}
      <p className="dim">
        Used by <span className="mono">{uses}</span> {uses === 1 ? 'clip' : 'clips'}.
      </p>
      <Findings kind="media" id={id} />
      <Remove kind="media" id={id} name={row.name} />
    </>
  );
}
