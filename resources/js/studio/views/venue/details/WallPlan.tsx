import { Select, Switch } from '@mantine/core';
import { api, type RowOf } from '../../../../api/client';
import { Figures, NameField, NumberField } from '../../../fields/fields';
import { px } from '../../../frame/parts';
import { edit, update } from '../../../store';
import { useSheet } from '../../WallSheet';
import { m, numbers, settings } from './common';
import { TakeAway } from './SurfaceDetails';

/** Curve, power, data and distances of a wall, and the files that go out of the house. */
export function WallPlan({ row, panelWidth }: { row: RowOf<'surface'>; panelWidth: number }) {
  const sheet = useSheet(row.id);
  const f = (sheet?.figures ?? {}) as Record<string, number | null> & { phases?: number[] };
  const columns = row.cells[0]?.length ?? 0;
  const feeding = settings(row.feeding);
  const bend = async (by: Record<string, number>) => {
    const { seams } = await api<{ seams: number[] }>('walls/seams', { body: { columns, widthMm: panelWidth, ...by } });
    return edit(`Curve ${row.name}`, [update('surface', row, { seams })]);
  };
  const feed = (name: string, value: string | number | boolean) => edit(`Feed ${row.name}`, [update('surface', row, { feeding: { ...feeding, [name]: value } as typeof row.feeding })]);
  const even = row.seams.every((s) => Math.abs(s - (row.seams[0] ?? 0)) < 1e-6);
  const paths = [
    { value: 'columns-snake', label: 'columns, to and fro' },
    { value: 'columns', label: 'columns' },
    { value: 'rows-snake', label: 'rows, to and fro' },
    { value: 'rows', label: 'rows' },
  ];
  return (
    <>
      {columns > 1 && (
        <>
          <h3>Curve, in the seams</h3>
          <div className="row3">
            <NumberField label={even ? 'Each' : 'Each (mixed)'} unit="deg" digits={3} value={row.seams[0] ?? 0} onChange={(angle) => bend({ angle })} />
            <NumberField label="In all" unit="deg" digits={2} value={f.turn ?? 0} onChange={(turn) => bend({ turn })} />
            <NumberField label="Radius" unit="m" digits={3} value={(f.radiusAtSeams ?? 0) * ((f.turn ?? 0) < 0 ? -1 : 1)} onChange={(radius) => (radius === 0 ? bend({ angle: 0 }) : bend({ radius }))} />
          </div>
          <NameField
            label="Seam by seam, from house left (deg)"
            value={row.seams.map((s) => Number(s.toFixed(4))).join(' ')}
            onChange={(text) =>
              edit(`Curve ${row.name}`, [
                update('surface', row, {
                  seams: numbers(text),
                }),
              ])
            }
          />
          <div style={{ height: 8 }} />
          <Figures
            of={[
              ['Along the faces', m(f.arc)],
              ['Chord · depth', `${m(f.chord)} · ${m(f.depth)}`],
              ['Radius at the faces', m(f.radiusAtFaces)],
              ['Joints open by', `${(f.openingMm ?? 0).toFixed(1)} mm`],
            ]}
          />
        </>
      )}
      <h3>Power</h3>
      <div className="row3">
        <NumberField label="Volts" unit="V" value={Number(feeding.volts ?? 230)} onChange={(v) => feed('volts', v)} />
        <NumberField label="Amps" unit="A" value={Number(feeding.amperes ?? 16)} onChange={(v) => feed('amperes', v)} />
        <NumberField label="Phases" digits={0} value={Number(feeding.phases ?? 3)} onChange={(v) => feed('phases', Math.round(v))} />
        <NumberField label="Factor" digits={2} value={Number(feeding.powerFactor ?? 0.95)} onChange={(v) => feed('powerFactor', v)} />
        <NumberField label="Share" unit="%" scale={100} value={Number(feeding.continuousShare ?? 0.8)} onChange={(v) => feed('continuousShare', v)} />
      </div>
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Circuits', `${f.circuits ?? '—'}`],
          ['Panels a circuit', `${f.panelsPerCircuit ?? '—'}`],
          ['A circuit bears', `${(f.wattsPerCircuit ?? 0).toFixed(0)} W`],
          ['Current in all', `${(f.amperes ?? 0).toFixed(1)} A`],
          ['Inrush', `${(f.inrushAmperes ?? 0).toFixed(0)} A`],
          ['Phases', `${(f.phases ?? []).map((w) => (w / 1000).toFixed(2)).join(' · ')} kW`],
          ['Most loaded', `+${((f.unbalance ?? 0) * 100).toFixed(0)} %`],
          ['Per square metre', `${(f.kilogramsPerSquareMetre ?? 0).toFixed(1)} kg · ${(f.wattsPerSquareMetre ?? 0).toFixed(0)} W`],
        ]}
      />
      <h3>Data</h3>
      <div className="row3">
        <NumberField label="Link" unit="Mb" scale={1e-6} value={Number(feeding.bitsPerSecond ?? 1e9)} onChange={(v) => feed('bitsPerSecond', v)} />
        <NumberField label="Bits" digits={0} value={Number(feeding.bitsPerPixel ?? 24)} onChange={(v) => feed('bitsPerPixel', Math.round(v))} />
        <NumberField label="Refresh" unit="Hz" value={Number(feeding.refresh ?? 60)} onChange={(v) => feed('refresh', v)} />
        <NumberField label="Usable" unit="%" scale={100} value={Number(feeding.usableShare ?? 0.95)} onChange={(v) => feed('usableShare', v)} />
      </div>
      <Switch mt={8} label="A port pays for the rectangle round its run" checked={feeding.byRectangle === true} onChange={(e) => void feed('byRectangle', e.currentTarget.checked)} />
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Ports', `${f.ports ?? '—'}`],
          ['Panels a port', `${f.panelsPerPort ?? '—'}`],
          ['A port carries', px(f.pixelsPerPort ?? 0)],
        ]}
      />
      <h3>Cables</h3>
      <div className="row2">
        <Select label="Power goes by" allowDeselect={false} data={paths} value={String(feeding.powerPath ?? 'columns-snake')} onChange={(v) => v !== null && void feed('powerPath', v)} />
        <Select label="Data goes by" allowDeselect={false} data={paths} value={String(feeding.dataPath ?? 'columns-snake')} onChange={(v) => v !== null && void feed('dataPath', v)} />
      </div>
      <Switch mt={8} label="From house right" checked={feeding.fromRight === true} onChange={(e) => void feed('fromRight', e.currentTarget.checked)} />
      <Switch mt={6} label="From the floor" checked={feeding.fromBottom !== false} onChange={(e) => void feed('fromBottom', e.currentTarget.checked)} />
      <h3>Seen from</h3>
      <NumberField label="Taking in, across" unit="deg" value={Number(feeding.viewAngle ?? 40)} onChange={(v) => feed('viewAngle', v)} />
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Usual nearest', m(f.nearest)],
          ['Pixels vanish at', m(f.vanishing)],
          ['Taken in there', `${m(f.widthAtNearest)} · ${m(f.widthAtVanishing)}`],
        ]}
      />
      <TakeAway row={row} />
    </>
  );
}
