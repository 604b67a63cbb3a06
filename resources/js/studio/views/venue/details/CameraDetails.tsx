import { Switch } from '@mantine/core';
import { answer, http, type RowOf } from '../../../../api/client';
import { Figures, NumberField } from '../../../fields/fields';
import { Sign } from '../../../frame/Kite';
import { Gone, Remove } from '../../../frame/parts';
import { useRow, useShow } from '../../../hooks';
import { edit, update } from '../../../store';
import { Name, Place, type Placed, sharp, Through } from './common';

export function CameraDetails({ id }: { id: string }) {
  const row = useRow('camera', id);
  const cameras = useShow()?.computed.cameras;
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'camera'>>) => edit(`Change ${row.name}`, [update('camera', row, fields)]);
  const seen = cameras?.[id];
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="camera" row={row as unknown as Placed} />
      <h3>Sensor and lens</h3>
      <div className="row2">
        <NumberField
          label="Sensor, width"
          unit="mm"
          value={row.sensorWidth}
          onChange={(sensorWidth) => change({ sensorWidth })}
        />
        <NumberField
          label="Sensor, height"
          unit="mm"
          value={row.sensorHeight}
          onChange={(sensorHeight) => change({ sensorHeight })}
        />
        <NumberField label="Focal length" unit="mm" value={row.focal} onChange={(focal) => change({ focal })} />
        <NumberField
          label="Angle of view"
          unit="deg"
          digits={2}
          value={seen?.across ?? 0}
          onChange={async (angle) =>
            change(await answer(http.POST('/cameras/focal', { body: { sensorWidth: row.sensorWidth, angle } })))
          }
        />
        <NumberField
          label="Sensor pixels"
          unit="px"
          digits={0}
          value={row.pixels}
          onChange={(pixels) => change({ pixels: Math.round(pixels) })}
        />
        <NumberField label="f-number" digits={2} value={row.fNumber} onChange={(fNumber) => change({ fNumber })} />
        <NumberField label="Focus" unit="m" digits={2} value={row.focus} onChange={(focus) => change({ focus })} />
      </div>
      {seen !== undefined && (
        <>
          <div style={{ height: 8 }} />
          <Figures
            of={[
              ['Angle of view', `${seen.across.toFixed(1)}° × ${seen.down.toFixed(1)}°`],
              ['Depth of field', sharp(seen.near, seen.far)],
            ]}
          />
          {seen.shots.map((shot) => (
            <div key={shot.surface} style={{ marginTop: 8 }}>
              <strong style={{ fontSize: 13 }}>{shot.name}</strong>
              {shot.moire && shot.sharp && (
                <span style={{ fontSize: 13 }}>
                  {' '}
                  <Sign state="attention" /> moiré
                </span>
              )}
              <Figures
                of={[
                  ['Distance', `${shot.distance.toFixed(2)} m${shot.sharp ? '' : ', out of focus'}`],
                  ['Picture width', `${shot.width.toFixed(2)} m`],
                  ...(shot.pitchPixels > 0
                    ? ([['Pitch on sensor', `${shot.pitchPixels.toFixed(2)} px`]] as [string, string][])
                    : []),
                ]}
              />
            </div>
          ))}
        </>
      )}
      <Switch
        mt={8}
        label="Tracked"
        checked={row.tracked}
        onChange={(e) => void change({ tracked: e.currentTarget.checked })}
      />
      <Place kind="camera" row={row as unknown as Placed} />
      <Through id={id} />
      <Remove kind="camera" id={id} name={row.name} />
    </>
  );
}
