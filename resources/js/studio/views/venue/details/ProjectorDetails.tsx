import { MultiSelect, NativeSelect, Select, Switch } from '@mantine/core';
import { useState } from 'react';
import { projectorState } from '../../../devices';
import { Figures, NameField, NumberField } from '../../../fields/fields';
import { Sign } from '../../../frame/Kite';
import { Gone, Remove } from '../../../frame/parts';
import { useRow, useRows } from '../../../hooks';
import { arrange, command, edit, update, useStudio } from '../../../store';
import { useLight } from '../light';
import { Name, Place, type Placed, percent, settings, sharp, Through } from './common';

export function ProjectorDetails({ id }: { id: string }) {
  const row = useRow('projector', id);
  const faces = useRows('surface').filter((s) => s.kind !== 'wall');
  const light = useLight(true);
  const [says, setSays] = useState<string[]>([]);
  const [target, setTarget] = useState('');
  if (row === undefined) return <Gone />;
  const lens = settings(row.lens);
  const thrown = light.data?.projectors.find((p) => p.id === id);
  const change = (name: string, value: string | number | boolean) =>
    edit(`Change the lens of ${row.name}`, [
      update('projector', row, { lens: { ...lens, [name]: value } as typeof row.lens }),
    ]);
  const number = (
    label: string,
    name: string,
    usual: number,
    unit = '',
    more: { scale?: number; digits?: number; step?: number } = {},
  ) => (
    <NumberField
      key={name}
      label={label}
      unit={unit}
      value={Number(lens[name] ?? usual)}
      onChange={(v) => change(name, more.digits === 0 ? Math.round(v) : v)}
      {...more}
    />
  );
  const face = target !== '' ? target : (row.aims[0] ?? faces[0]?.id ?? '');
  const fill = async (how: string) => setSays((await arrange({ action: 'fill', ids: [id], surface: face, how })).notes);
  const names = (share: [string, number][]) =>
    share.map(([on, s]) => [faces.find((f) => f.id === on)?.name ?? 'other things', s] as const);
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="projector" row={row as unknown as Placed} />
      <MultiSelect
        mt={8}
        size="xs"
        label="Target faces"
        value={row.aims}
        data={faces.map((f) => ({ value: f.id, label: f.name }))}
        onChange={(aims) => void edit(`Aim ${row.name}`, [update('projector', row, { aims })])}
      />
      <h3>Projector and lens</h3>
      <div className="row3">
        <NumberField
          label="Light output"
          unit="lm"
          digits={0}
          value={row.lumens}
          onChange={(lumens) => edit(`Change ${row.name}`, [update('projector', row, { lumens })])}
        />
        {number('Pixels, W', 'widthPx', 1920, 'px', { digits: 0 })}
        {number('Pixels, H', 'heightPx', 1200, 'px', { digits: 0 })}
        {number('Throw ratio', 'throw', (Number(lens.throwMin ?? 1.2) + Number(lens.throwMax ?? 1.8)) / 2, '', {
          step: 0.05,
        })}
        {number('Zoom, min', 'throwMin', 1.2, '', { step: 0.05 })}
        {number('Zoom, max', 'throwMax', 1.8, '', { step: 0.05 })}
        {number('Shift X', 'shiftX', 0, '%', { scale: 100, digits: 2 })}
        {number('Shift Y', 'shiftY', 0, '%', { scale: 100, digits: 2 })}
        {number('Focus', 'focus', 10, 'm', { step: 0.1 })}
        {number('Shift range X', 'shiftXMax', 0.2, '%', { scale: 100 })}
        {number('Shift range Y', 'shiftYMax', 0.6, '%', { scale: 100 })}
        {number('Loss, zoom', 'zoomLoss', 0, '%', { scale: 100 })}
        {number('Loss, shift', 'shiftLoss', 0, '%', { scale: 100 })}
        {number('Corners', 'corners', 1, '%', { scale: 100 })}
        {number('Contrast', 'contrast', 1000)}
        {number('Lamp, light left', 'lampLeft', 1, '%', { scale: 100 })}
        {number('Lamp, hours', 'lampHours', 0, 'h', { digits: 0 })}
        {number('Half-life', 'lampHalfLife', 0, 'h', { digits: 0 })}
        {number('f-number', 'fNumber', 0, '', { digits: 2 })}
        {number('Distortion k', 'distortion', 0, '', { digits: 4, step: 0.001 })}
        {number('Imager, W', 'chipWidth', 0, 'mm', { digits: 2 })}
      </div>
      <Switch
        mt={8}
        label="Portrait"
        checked={lens.portrait === true}
        onChange={(e) => void change('portrait', e.currentTarget.checked)}
      />
      <Switch
        mt={6}
        label="Rear projection (mirrored)"
        checked={row.mirrored}
        onChange={(e) =>
          void edit(`Change ${row.name}`, [update('projector', row, { mirrored: e.currentTarget.checked })])
        }
      />
      <PjLink id={id} />
      <h3>Fit to face</h3>
      <NativeSelect
        size="xs"
        aria-label="Face to fit"
        value={face}
        onChange={(e) => setTarget(e.currentTarget.value)}
        data={faces.map((f) => ({ value: f.id, label: f.name }))}
      />
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap', marginTop: 6 }}>
        <button
          type="button"
          className="plain"
          disabled={face === '' || row.locked}
          onClick={() => void fill('square')}
          title="Place perpendicular to the face; fit by zoom and shift"
        >
          From here, square-on
        </button>
        <button
          type="button"
          className="plain"
          disabled={face === '' || row.locked}
          onClick={() => void fill('aimed')}
          title="Stands here and looks at its middle"
        >
          From here, aimed
        </button>
        <button
          type="button"
          className="plain"
          disabled={face === '' || row.locked}
          onClick={() => void fill('lens')}
          title="Keeps the zoom, and goes to the distance where it fills"
        >
          At this zoom
        </button>
        <button
          type="button"
          className="plain"
          disabled={face === '' || row.locked}
          onClick={() => void arrange({ action: 'aim', ids: [id], surface: face })}
          title="Turns to the middle of the face; zoom and shift stay"
        >
          Aim only
        </button>
      </div>
      {says.map((s) => (
        <p key={s} style={{ fontSize: 13, margin: '6px 0' }}>
          <Sign state="attention" /> {s}
        </p>
      ))}
      {thrown !== undefined && (
        <>
          <h3>Light budget</h3>
          <Figures
            of={[
              ...names(
                Object.entries(Array.isArray(thrown.onFaces) ? {} : (thrown.onFaces as Record<string, number>)),
              ).map(([name, s]) => [name, percent(s)] as [string, string]),
              ['Lost', percent(thrown.lostShare)],
              [
                'Spill',
                `${Math.round(thrown.spillPixels).toLocaleString('en')} px · ${thrown.spillLumens.toFixed(0)} lm`,
              ],
              ['Output', `${Math.round(thrown.output).toLocaleString('en')} lm`],
              [
                'Throw distance',
                thrown.farthest > 0 ? `${thrown.nearest.toFixed(2)} · ${thrown.farthest.toFixed(2)} m` : '—',
              ],
              [
                'Focus error',
                thrown.farthest > 0
                  ? `${((thrown.nearest / thrown.focus - 1) * 100).toFixed(1)} · ${((thrown.farthest / thrown.focus - 1) * 100).toFixed(1)} %`
                  : '—',
              ],
              ['Depth of field', thrown.sharpNear > 0 ? sharp(thrown.sharpNear, thrown.sharpFar) : '—'],
              ['Light balance', percent(thrown.balance)],
            ]}
          />
          {thrown.remarks.map((r) => (
            <p key={r} style={{ fontSize: 13, margin: '6px 0' }}>
              <Sign state="attention" /> {r}
            </p>
          ))}
        </>
      )}
      <Place kind="projector" row={row as unknown as Placed} />
      <Through id={id} />
      <Remove kind="projector" id={id} name={row.name} />
    </>
  );
}

/** Where the projector is told by PJLink, and how it is. */
function PjLink({ id }: { id: string }) {
  const row = useRow('projector', id);
  const state = useStudio((s) => s.health?.devices.projectors[id]);
  const found = Object.keys(useStudio((s) => s.health?.devices.found) ?? {});
  if (row === undefined) return null;
  const { sign, words } = projectorState(state);
  const set = (fields: Partial<typeof row>) => edit(`Change ${row.name}`, [update('projector', row, fields)]);
  const give = (action: 'power' | 'shutter' | 'freeze', on: boolean) => void command({ action, on, projector: id });
  return (
    <>
      <h3>PJLink</h3>
      <div className="row2">
        <NameField
          label="Address"
          placeholder="none"
          hint="10.0.0.5, with :PORT where it is not 4352"
          value={row.address}
          onChange={(address) => set({ address: address.trim() })}
        />
        <NameField
          label="Password"
          type="password"
          placeholder="none"
          value={row.password}
          onChange={(password) => set({ password })}
        />
      </div>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap', margin: '8px 0' }}>
        <button type="button" className="plain" onClick={() => void command({ action: 'search' })}>
          Search the network
        </button>
        {found.map((address) => (
          <button
            key={address}
            type="button"
            className="plain mono"
            aria-pressed={row.address === address}
            onClick={() => void set({ address })}
          >
            {address}
          </button>
        ))}
      </div>
      {row.address !== '' && (
        <>
          <p role="status" style={{ margin: '8px 0' }}>
            <Sign state={sign} /> {words}
          </p>
          <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
            <button type="button" className="plain" onClick={() => give('power', true)}>
              Power on
            </button>
            <button type="button" className="plain" onClick={() => give('power', false)}>
              Power off
            </button>
            <button type="button" className="plain" onClick={() => give('shutter', true)}>
              Shut
            </button>
            <button type="button" className="plain" onClick={() => give('shutter', false)}>
              Open
            </button>
            {state?.class === 2 && (
              <button
                type="button"
                className="plain"
                aria-pressed={state.frozen === true}
                onClick={() => give('freeze', state.frozen !== true)}
              >
                Freeze
              </button>
            )}
          </div>
          {state !== undefined && Object.keys(state.inputs).length > 0 && (
            <Select
              label="Input"
              mt={8}
              allowDeselect={false}
              value={state.input}
              data={Object.entries(state.inputs).map(([value, label]) => ({ value, label }))}
              onChange={(input) => input !== null && void command({ action: 'input', input, projector: id })}
            />
          )}
          <Switch
            label="Shutter shuts at panic"
            mt={8}
            checked={row.shutsAtPanic}
            onChange={(e) => void set({ shutsAtPanic: e.currentTarget.checked })}
          />
        </>
      )}
    </>
  );
}
