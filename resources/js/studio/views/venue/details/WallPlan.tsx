import { NativeSelect, Select, Switch } from '@mantine/core';
import { answer, http, type RowOf, type Schemas } from '../../../../api/client';
import { Figures, NameField, NumberField } from '../../../fields/fields';
import { px } from '../../../frame/parts';
import { edit, update } from '../../../store';
import { useSheet } from '../../WallSheet';
import { m, numbers, settings } from './common';
import { TakeAway } from './SurfaceDetails';

/** Curve, power, data and distances of a wall, and the files that go out of the house. */
export function WallPlan({ row, panelWidth }: { row: RowOf<'surface'>; panelWidth: number }) {
  const sheet = useSheet(row.id);
  const f: Partial<Schemas['WallSheet']['figures']> = sheet?.figures ?? {};
  const list = (numbers: number[] | undefined, unit: string, digits = 1) =>
    numbers === undefined || numbers.length === 0
      ? '—'
      : `${numbers.map((n) => n.toFixed(digits)).join(' · ')} ${unit}`;
  const columns = row.cells[0]?.length ?? 0;
  const feeding = settings(row.feeding);
  const bend = async (by: Record<string, number>) => {
    const { seams } = await answer(http.POST('/walls/seams', { body: { columns, widthMm: panelWidth, ...by } }));
    return edit(`Curve ${row.name}`, [update('surface', row, { seams })]);
  };
  const feed = (name: string, value: string | number | boolean) =>
    edit(`Feed ${row.name}`, [
      update('surface', row, { feeding: { ...feeding, [name]: value } as typeof row.feeding }),
    ]);
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
          <h3>Curvature</h3>
          <div className="row3">
            <NumberField
              label={even ? 'Joint angle' : 'Joints (mixed)'}
              unit="deg"
              digits={3}
              value={row.seams[0] ?? 0}
              onChange={(angle) => bend({ angle })}
            />
            <NumberField
              label="Total angle"
              unit="deg"
              digits={2}
              value={f.turn ?? 0}
              onChange={(turn) => bend({ turn })}
            />
            <NumberField
              label="Radius"
              unit="m"
              digits={3}
              value={(f.radiusAtSeams ?? 0) * ((f.turn ?? 0) < 0 ? -1 : 1)}
              onChange={(radius) => (radius === 0 ? bend({ angle: 0 }) : bend({ radius }))}
            />
          </div>
          <NameField
            label="Joint angles from house left (deg)"
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
              ['Arc length', m(f.arc)],
              ['Chord · depth', `${m(f.chord)} · ${m(f.depth)}`],
              ['Radius at panel centres', m(f.radiusAtFaces)],
              ['Joint gap', `${(f.openingMm ?? 0).toFixed(1)} mm`],
            ]}
          />
        </>
      )}
      <h3>Power</h3>
      <div className="row3">
        <NumberField label="Voltage" unit="V" value={Number(feeding.volts ?? 230)} onChange={(v) => feed('volts', v)} />
        <NumberField
          label="Breaker"
          unit="A"
          value={Number(feeding.amperes ?? 16)}
          onChange={(v) => feed('amperes', v)}
        />
        <NativeSelect
          label="Phases"
          value={String(feeding.phases ?? 3)}
          onChange={(e) => void feed('phases', Number(e.currentTarget.value))}
          data={['1', '3']}
        />
        <NumberField
          label="Power factor"
          digits={2}
          value={Number(feeding.powerFactor ?? 0.95)}
          onChange={(v) => feed('powerFactor', v)}
        />
        <NumberField
          label="Continuous"
          unit="%"
          scale={100}
          value={Number(feeding.continuousShare ?? 0.8)}
          onChange={(v) => feed('continuousShare', v)}
        />
        <NumberField
          label="Panels, max"
          digits={0}
          value={Number(feeding.panelsPerCircuit ?? 0)}
          onChange={(v) => feed('panelsPerCircuit', Math.round(v))}
        />
      </div>
      <Select
        label="Load between"
        allowDeselect={false}
        data={[
          { value: 'neutral', label: 'line and neutral' },
          { value: 'lines', label: 'two lines' },
        ]}
        value={String(feeding.between ?? 'neutral')}
        onChange={(v) => v !== null && void feed('between', v)}
      />
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Circuits', `${f.circuits ?? '—'}`],
          ['Panels per circuit', `${f.panelsPerCircuit ?? '—'}`],
          ['Circuit capacity', `${(f.wattsPerCircuit ?? 0).toFixed(0)} W`],
          ['Line current', list(f.amperes, 'A')],
          ['Neutral current', `${(f.neutralAmperes ?? 0).toFixed(1)} A`],
          [
            'Load per line',
            list(
              f.phases?.map((w) => w / 1000),
              'kW',
              2,
            ),
          ],
          ['Imbalance', `${((f.unbalance ?? 0) * 100).toFixed(0)} %`],
          ['Apparent power', `${(f.kilovoltAmperes ?? 0).toFixed(2)} kVA`],
          ['Inrush per circuit', `${(f.inrushAmperes ?? 0).toFixed(0)} A`],
          [
            'Heat',
            `${(f.heatWatts ?? 0).toFixed(0)} W · ${Math.round(f.heatBtuPerHour ?? 0).toLocaleString('en')} BTU/h`,
          ],
          [
            'Per square metre',
            `${(f.kilogramsPerSquareMetre ?? 0).toFixed(1)} kg · ${(f.wattsPerSquareMetre ?? 0).toFixed(0)} W`,
          ],
        ]}
      />
      <h3>Data</h3>
      <div className="row3">
        <NumberField
          label="Port rate"
          unit="Mb"
          scale={1e-6}
          value={Number(feeding.bitsPerSecond ?? 1e9)}
          onChange={(v) => feed('bitsPerSecond', v)}
        />
        <NativeSelect
          label="Bits per px"
          value={String(feeding.bitsPerPixel ?? 24)}
          onChange={(e) => void feed('bitsPerPixel', Number(e.currentTarget.value))}
          data={['24', '30', '32', '48']}
        />
        <NumberField
          label="Refresh"
          unit="Hz"
          value={Number(feeding.refresh ?? 60)}
          onChange={(v) => feed('refresh', v)}
        />
        <NumberField
          label="Usable"
          unit="%"
          scale={100}
          value={Number(feeding.usableShare ?? 0.95)}
          onChange={(v) => feed('usableShare', v)}
        />
        <NumberField
          label="Panels, max"
          digits={0}
          value={Number(feeding.panelsPerPort ?? 0)}
          onChange={(v) => feed('panelsPerPort', Math.round(v))}
        />
      </div>
      <Switch
        mt={8}
        label="Redundant ports"
        checked={feeding.spareData === true}
        onChange={(e) => void feed('spareData', e.currentTarget.checked)}
      />
      <Switch
        mt={6}
        label="Port load by bounding rectangle"
        checked={feeding.byRectangle === true}
        onChange={(e) => void feed('byRectangle', e.currentTarget.checked)}
      />
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Ports', `${f.ports ?? '—'}`],
          ['Panels per port', `${f.panelsPerPort ?? '—'}`],
          ['Port capacity', px(f.pixelsPerPort ?? 0)],
        ]}
      />
      <h3>Cables</h3>
      <div className="row2">
        <Select
          label="Power path"
          allowDeselect={false}
          data={paths}
          value={String(feeding.powerPath ?? 'columns-snake')}
          onChange={(v) => v !== null && void feed('powerPath', v)}
        />
        <Select
          label="Data path"
          allowDeselect={false}
          data={paths}
          value={String(feeding.dataPath ?? 'columns-snake')}
          onChange={(v) => v !== null && void feed('dataPath', v)}
        />
      </div>
      <Switch
        mt={8}
        label="Start at house right"
        checked={feeding.fromRight === true}
        onChange={(e) => void feed('fromRight', e.currentTarget.checked)}
      />
      <Switch
        mt={6}
        label="Start at the floor"
        checked={feeding.fromBottom !== false}
        onChange={(e) => void feed('fromBottom', e.currentTarget.checked)}
      />
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Power cable', `${m(f.powerMetres)}, longest run ${m(f.longestPowerMetres)}`],
          ['Data cable', `${m(f.dataMetres)}, longest run ${m(f.longestDataMetres)}`],
        ]}
      />
      <h3>Rigging</h3>
      <div className="row2">
        <NameField
          label="Hanging points"
          value={String(feeding.hangingPoints ?? '')}
          hint="Their number, or places from house left in metres: 0.5; 2.5. Empty where the wall stands."
          onChange={(v) => feed('hangingPoints', v)}
        />
        <NumberField
          label="Bumpers, cables"
          unit="kg"
          value={Number(feeding.riggingKilograms ?? 0)}
          onChange={(v) => feed('riggingKilograms', v)}
        />
      </div>
      {(f.hangingLoads?.length ?? 0) > 0 && (
        <>
          <div style={{ height: 8 }} />
          <Figures
            of={[
              ['Load per point', list(f.hangingLoads, 'kg', 0)],
              ['Worst, one lost', (f.hangingOneLost ?? 0) > 0 ? `${f.hangingOneLost?.toFixed(0)} kg` : '—'],
            ]}
          />
        </>
      )}
      <h3>Viewing distance</h3>
      <NumberField
        label="Viewing angle"
        unit="deg"
        value={Number(feeding.viewAngle ?? 40)}
        onChange={(v) => feed('viewAngle', v)}
      />
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Minimum', m(f.nearest)],
          ['Pixels invisible from', m(f.vanishing)],
          ['Picture width there', `${m(f.widthAtNearest)} · ${m(f.widthAtVanishing)}`],
        ]}
      />
      <TakeAway row={row} />
    </>
  );
}
