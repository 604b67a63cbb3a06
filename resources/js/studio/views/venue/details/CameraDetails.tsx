import { Switch } from '@mantine/core';
import { api, type RowOf } from '../../../../api/client';
import { NumberField } from '../../../fields/fields';
import { Gone, Remove } from '../../../frame/parts';
import { useRow, useShow } from '../../../hooks';
import { edit, update } from '../../../store';
import { Name, Place, type Placed, Through } from './common';

export function CameraDetails({ id }: { id: string }) {
  const row = useRow('camera', id);
  const cameras = useShow()?.computed.cameras;
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'camera'>>) => edit(`Change ${row.name}`, [update('camera', row, fields)]);
  const angles = cameras?.[id];
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="camera" row={row as unknown as Placed} />
      <h3>Sensor and lens</h3>
      <div className="row2">
        <NumberField label="Sensor, width" unit="mm" value={row.sensorWidth} onChange={(sensorWidth) => change({ sensorWidth })} />
        <NumberField label="Sensor, height" unit="mm" value={row.sensorHeight} onChange={(sensorHeight) => change({ sensorHeight })} />
        <NumberField label="Focal length" unit="mm" value={row.focal} onChange={(focal) => change({ focal })} />
        <NumberField label="or takes in" unit="deg" digits={2} value={angles?.across ?? 0} onChange={async (angle) => change(await api<{ focal: number }>('cameras/focal', { body: { sensorWidth: row.sensorWidth, angle } }))} />
      </div>
      <Switch mt={8} label="Tracked during the show" checked={row.tracked} onChange={(e) => void change({ tracked: e.currentTarget.checked })} />
      <Place kind="camera" row={row as unknown as Placed} />
      <Through id={id} />
      <Remove kind="camera" id={id} name={row.name} />
    </>
  );
}
