import { useQuery } from '@tanstack/react-query';
import { answer, http } from '../../../../api/client';
import { Figures } from '../../../fields/fields';
import { Sign } from '../../../frame/Kite';
import { Gone, Remove } from '../../../frame/parts';
import { useRow, useShow } from '../../../hooks';
import { inShow } from '../../../store';
import { Name, Place, percent, ratio, Through } from './common';

export function SeatDetails({ id }: { id: string }) {
  const row = useRow('seat', id);
  const show = useShow();
  const sights = useQuery({
    queryKey: ['sights', show?.id, show?.revision],
    queryFn: () => answer(http.GET('/shows/{show}/sights', inShow())),
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
      <h3>Sightlines</h3>
      {(sights ?? []).map((s) => (
        <div key={s.body} style={{ marginBottom: 8 }}>
          <strong style={{ fontSize: 13 }}>{s.name}</strong>
          {s.back > 0.01 && (
            <span style={{ fontSize: 13 }}>
              {' '}
              <Sign state="attention" /> {percent(s.back)} from behind
            </span>
          )}
          <Figures
            of={[
              ['Visible', percent(s.front)],
              ['Distance', `min ${s.nearest.toFixed(1)}, avg ${s.mean.toFixed(1)} m`],
              ['Viewing angle', `${s.oblique.toFixed(0)}°`],
              ['Smallest detail', `${s.detailMm.toFixed(1)} mm · ${s.detailPx.toFixed(2)} px`],
              ['Foreshortened', `${s.foreshortenedMm.toFixed(1)} mm`],
              ['Letter height', `${s.letterMm.toFixed(0)} mm`],
              ...(s.nits > 0 ? ([['Luminance', `${s.nits.toFixed(0)} cd/m²`]] as [string, string][]) : []),
              ...(s.contrast > 0 ? ([['Contrast', ratio(s.contrast)]] as [string, string][]) : []),
            ]}
          />
        </div>
      ))}
      {sights?.length === 0 && <p className="dim">No surface is seen from here.</p>}
      <Remove kind="seat" id={id} name={row.name} />
    </>
  );
}
