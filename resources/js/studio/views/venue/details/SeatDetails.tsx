import { useQuery } from '@tanstack/react-query';
import { api, type Schemas } from '../../../../api/client';
import { Figures } from '../../../fields/fields';
import { Sign } from '../../../frame/Kite';
import { Gone, Remove } from '../../../frame/parts';
import { useRow, useShow } from '../../../hooks';
import { Name, Place, percent, Through } from './common';

export function SeatDetails({ id }: { id: string }) {
  const row = useRow('seat', id);
  const show = useShow();
  const sights = useQuery({
    queryKey: ['sights', show?.id, show?.revision],
    queryFn: () => api<{ sights: Record<string, Schemas['Sight'][]> }>(`shows/${show?.id}/sights`),
    enabled: show !== undefined,
    placeholderData: (old) => old,
    retry: 0,
  }).data?.sights[id];
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="seat" row={row} />
      <Place kind="seat" row={row} />
      <Through id={id} />
      <h3>Seen from here</h3>
      {(sights ?? []).map((s) => (
        <div key={s.body} style={{ marginBottom: 8 }}>
          <strong style={{ fontSize: 13 }}>{s.name}</strong>
          {s.back > 0.01 && (
            <span style={{ fontSize: 13 }}>
              {' '}
              <Sign state="attention" /> {percent(s.back)} of it from behind
            </span>
          )}
          <Figures
            of={[
              ['Front seen', percent(s.front)],
              ['Distance', `${s.nearest.toFixed(1)} – mean ${s.mean.toFixed(1)} m`],
              ['Obliquely', `${s.oblique.toFixed(0)}°`],
              ['Smallest detail', `${s.detailMm.toFixed(1)} mm · ${s.detailPx.toFixed(2)} px`],
            ]}
          />
        </div>
      ))}
      {sights?.length === 0 && <p className="dim">No surface is seen from here.</p>}
      <Remove kind="seat" id={id} name={row.name} />
    </>
  );
}
