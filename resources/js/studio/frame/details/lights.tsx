import { Checkbox, Select } from '@mantine/core';
import type { RowOf } from '../../../api/client';
import { protocols } from '../../../api/kinds';
import { Figures, NameField, NumberField } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { edit, select, update, useStudio } from '../../store';
import { type LightTest, testLight, useTests } from '../../tests';
import { counted, uncounted } from '../../views/outputs/universe';
import { Findings, Gone, Remove } from '../parts';
import { Values } from './values';

const CORNERS = ['top left', 'top right', 'bottom left', 'bottom right'];

/** What one light is tested with. */
function Tests({ patch, channels }: { patch: string; channels: string[] }) {
  const test = useTests((all) => all[patch]);
  const set = (one: LightTest) =>
    void testLight(
      patch,
      test?.kind === one.kind && test.number === one.number && String(test.colour) === String(one.colour) ? null : one,
    );
  const toggle = (label: string, one: LightTest) => (
    <button
      key={label}
      type="button"
      className="plain"
      aria-pressed={
        test?.kind === one.kind &&
        (one.number === undefined || test.number === one.number) &&
        String(test.colour) === String(one.colour)
      }
      onClick={() => set(one)}
    >
      {label}
    </button>
  );
  return (
    <>
      <h3>Test</h3>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        {toggle('Identify', { kind: 'identify' })}
        {toggle('Chase', { kind: 'chase' })}
        {toggle('White', { kind: 'colour', colour: [1, 1, 1] })}
        {toggle('Red', { kind: 'colour', colour: [1, 0, 0] })}
        {toggle('Green', { kind: 'colour', colour: [0, 1, 0] })}
        {toggle('Blue', { kind: 'colour', colour: [0, 0, 1] })}
        {toggle('Blind', { kind: 'blind' })}
      </div>
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField
          label="Pixel"
          digits={0}
          value={test?.kind === 'pixel' ? (test.number ?? 0) + 1 : 0}
          hint="Along the wiring, 0 for none"
          onChange={(v) => testLight(patch, v < 1 ? null : { kind: 'pixel', number: Math.round(v) - 1 })}
        />
        <NumberField
          label="Row"
          digits={0}
          value={test?.kind === 'row' ? (test.number ?? 0) + 1 : 0}
          hint="0 for none"
          onChange={(v) => testLight(patch, v < 1 ? null : { kind: 'row', number: Math.round(v) - 1 })}
        />
      </div>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap', marginTop: 8 }}>
        {channels.map((name, i) => toggle(`${i + 1} ${name}`, { kind: 'channel', number: i }))}
      </div>
      {test !== undefined && (
        <p>
          <button type="button" className="plain primary" onClick={() => void testLight(patch, null)}>
            End the test
          </button>
        </p>
      )}
    </>
  );
}

export function PatchDetails({ id }: { id: string }) {
  const row = useRow('patch', id);
  const surface = useRow('surface', row?.surface);
  const nodes = useRows('node');
  const fixtures = useRows('fixture');
  const figures = useShow()?.computed.patches[id];
  if (row === undefined) return <Gone />;
  const name = surface?.name ?? 'a light';
  const protocol = nodes.find((n) => n.id === row.node)?.protocol;
  const type = fixtures.find((f) => f.id === (surface?.shape as { fixture?: string } | undefined)?.fixture);
  const change = (fields: Partial<RowOf<'patch'>>) => edit(`Patch ${name}`, [update('patch', row, fields)]);
  const wiring = row.wiring as Record<string, string | number | boolean>;
  const wire = (fields: Record<string, string | number | boolean>) =>
    edit(`Wire ${name}`, [
      update('patch', row, {
        wiring: { ...wiring, ...fields } as typeof row.wiring,
        ...(row.path.length > 0 ? { path: [] } : {}),
      }),
    ]);
  const words = (row.channels === '' ? (type?.channels ?? '') : row.channels).trim();
  const list = /^[RGBWALUD-]+$/i.test(words) ? [...words.toUpperCase()] : words.split(',').map((w) => w.trim());
  const whites = list.filter((w) => w === 'W' || w.startsWith('white')).length;
  const gains = row.gains.length === 3 ? row.gains : [1, 1, 1];
  return (
    <>
      <h2>{name}</h2>
      <span className="dim">{type?.name}</span>
      <h3>Address</h3>
      <Select
        label="Node"
        clearable
        value={row.node}
        data={nodes.map((n) => ({ value: n.id, label: n.name }))}
        onChange={(node) => void change({ node })}
      />
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField
          label="Universe"
          digits={0}
          value={counted(protocol, row.universe)}
          onChange={(v) => change({ universe: uncounted(protocol, Math.round(v)) })}
        />
        <NumberField
          label="Channel"
          digits={0}
          value={row.channel}
          onChange={(v) => change({ channel: Math.round(v) })}
        />
      </div>
      {figures !== undefined && (
        <div style={{ marginTop: 10 }}>
          <Figures
            of={[
              ['From', `${figures.from} / ${row.channel}`],
              ['To', `${figures.to} / ${figures.lastChannel}`],
              ['Pixels', figures.pixels],
              ['Channels', figures.channels],
              ['Universes', figures.universes],
              ...figures.pixelsByUniverse
                .slice(0, 8)
                .map(([u, n]): [string, string] => [
                  `In ${counted(protocol, u ?? 1)}`,
                  `${n} px${figures.left.some(([of]) => of === u) ? `, ${figures.left.find(([of]) => of === u)?.[1]} left over` : ''}`,
                ]),
            ]}
          />
        </div>
      )}
      <h3>Wiring</h3>
      {row.path.length > 0 ? (
        <p className="dim" style={{ margin: 0 }}>
          By hand, {row.path.length} pixels.{' '}
          <button type="button" className="plain" onClick={() => void change({ path: [] })}>
            By rule
          </button>
        </p>
      ) : null}
      <div className="row2">
        <Select
          label="Start corner"
          allowDeselect={false}
          value={String(wiring.corner ?? 'top left')}
          data={CORNERS}
          onChange={(v) => v !== null && void wire({ corner: v })}
        />
        <Select
          label="Along"
          allowDeselect={false}
          value={String(wiring.along ?? 'rows')}
          data={['rows', 'columns']}
          onChange={(v) => v !== null && void wire({ along: v })}
        />
        <Checkbox
          mt={8}
          label="Serpentine"
          checked={wiring.serpentine === true}
          onChange={(e) => void wire({ serpentine: e.currentTarget.checked })}
        />
        <Checkbox
          mt={8}
          label="Blocks serpentine"
          checked={wiring.serpentineBlocks === true}
          onChange={(e) => void wire({ serpentineBlocks: e.currentTarget.checked })}
        />
        <NumberField
          label="Block columns"
          digits={0}
          value={Number(wiring.blockColumns ?? 0)}
          hint="0 for no blocks"
          onChange={(v) => wire({ blockColumns: Math.max(0, Math.round(v)) })}
        />
        <NumberField
          label="Block rows"
          digits={0}
          value={Number(wiring.blockRows ?? 0)}
          onChange={(v) => wire({ blockRows: Math.max(0, Math.round(v)) })}
        />
      </div>
      <h3>Colour</h3>
      <NameField
        label="Channels"
        value={row.channels}
        hint={`Empty for those of the type: ${type?.channels ?? ''}`}
        onChange={(channels) => change({ channels })}
      />
      <div className="row2" style={{ marginTop: 8 }}>
        {whites > 0 && (
          <Select
            label="White extraction"
            allowDeselect={false}
            value={row.whites}
            data={['minimum', 'white point']}
            onChange={(v) => v !== null && void change({ whites: v })}
          />
        )}
        {whites > 1 && (
          <NumberField
            label="Colour temperature"
            unit="K"
            digits={0}
            value={row.kelvin}
            hint="0 for equal parts of all whites"
            onChange={(kelvin) => change({ kelvin })}
          />
        )}
        {whites > 1 && (
          <Select
            label="White output"
            allowDeselect={false}
            value={row.whiteOutput}
            data={['brightest', 'constant']}
            onChange={(v) => v !== null && void change({ whiteOutput: v })}
          />
        )}
        {['Red', 'Green', 'Blue'].map((label, i) => (
          <NumberField
            key={label}
            label={`${label} balance`}
            unit="%"
            scale={100}
            digits={1}
            value={gains[i] ?? 1}
            onChange={(v) => change({ gains: gains.map((old, k) => (k === i ? v : old)) })}
          />
        ))}
        <NumberField
          label="Sample radius"
          unit="px"
          digits={2}
          value={row.radius}
          hint="0 = pixel area"
          onChange={(radius) => change({ radius })}
        />
        <Checkbox
          mt={26}
          label="Dithered"
          checked={row.dithered}
          onChange={(e) => void change({ dithered: e.currentTarget.checked })}
        />
      </div>
      <h3>Values</h3>
      <Values kind="patch" id={id} stored={row.values as Record<string, unknown>} />
      <Tests patch={id} channels={list.filter((w) => w !== '')} />
      <Findings kind="patch" id={id} />
      <Remove kind="patch" id={id} name={`the patch of ${name}`} />
    </>
  );
}

export function NodeDetails({ id }: { id: string }) {
  const row = useRow('node', id);
  const patches = useRows('patch').filter((p) => p.node === id);
  const surfaces = useRows('surface');
  const lights = useStudio((s) => s.health?.lights);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'node'>>) => edit(`Change ${row.name}`, [update('node', row, fields)]);
  const found = lights?.nodes.filter((n) => n.ip === row.address) ?? [];
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <Select
        label="Protocol"
        mt={8}
        allowDeselect={false}
        value={row.protocol}
        data={Object.entries(protocols).map(([value, label]) => ({ value, label }))}
        onChange={(v) =>
          v !== null &&
          void change({
            protocol: v,
            // A serial interface is a port of this machine, everything else is at an address.
            ...(v === 'serial'
              ? { address: '/dev/ttyUSB0', interface: '', port: 0 }
              : row.protocol === 'serial'
                ? { address: v === 'ddp' ? '10.0.0.20' : '' }
                : {}),
          })
        }
      />
      <div className="row2" style={{ marginTop: 8 }}>
        <NameField
          label={row.protocol === 'serial' ? 'Serial port' : 'Address'}
          value={row.address}
          hint={
            row.protocol === 'sacn' ? 'Empty for multicast' : row.protocol === 'artnet' ? 'Empty for broadcast' : ''
          }
          onChange={(address) => change({ address })}
        />
        {row.protocol !== 'serial' && (
          <NameField
            label="Interface"
            value={row.interface}
            hint="Address of this machine"
            onChange={(value) => change({ interface: value })}
          />
        )}
        <NumberField
          label="Port"
          digits={0}
          value={row.port}
          hint="0 for the usual"
          onChange={(v) => change({ port: Math.round(v) })}
        />
        <NumberField label="Frame rate" unit="Hz" digits={1} value={row.rate} onChange={(rate) => change({ rate })} />
        {row.protocol === 'sacn' && (
          <NumberField
            label="Priority"
            digits={0}
            value={row.priority}
            onChange={(v) => change({ priority: Math.round(v) })}
          />
        )}
        <NumberField
          label="Universe limit"
          digits={0}
          value={row.limit}
          hint="0 where unknown"
          onChange={(v) => change({ limit: Math.round(v) })}
        />
        {row.protocol !== 'ddp' && (
          <Checkbox
            mt={8}
            label="Synchronised"
            checked={row.synchronised}
            onChange={(e) => void change({ synchronised: e.currentTarget.checked })}
          />
        )}
        <Checkbox
          mt={8}
          label="Send on change only"
          checked={row.onlyChanges}
          onChange={(e) => void change({ onlyChanges: e.currentTarget.checked })}
        />
        {row.protocol === 'artnet' && (
          <Checkbox
            mt={8}
            label="Send timecode of the driven timeline"
            checked={row.timecode}
            onChange={(e) => void change({ timecode: e.currentTarget.checked })}
          />
        )}
      </div>
      {row.protocol === 'artnet' && row.address !== '' && (
        <p className={found.length > 0 ? 'state-ok' : 'dim'} role="status">
          {found.length > 0 ? `● ${found[0]?.long} answers` : 'No node answers at this address yet.'}
        </p>
      )}
      <h3>Lights</h3>
      {patches.slice(0, 60).map((p) => (
        <button
          key={p.id}
          type="button"
          className="plain"
          style={{ display: 'block', marginBottom: 4 }}
          onClick={() => select({ kind: 'patch', id: p.id })}
        >
          {surfaces.find((s) => s.id === p.surface)?.name}{' '}
          <span className="mono dim">{`${counted(row.protocol, p.universe)}.${p.channel}`}</span>
        </button>
      ))}
      <Findings kind="node" id={id} />
      <Remove kind="node" id={id} name={row.name} />
    </>
  );
}

export function FixtureDetails({ id }: { id: string }) {
  const row = useRow('fixture', id);
  const lights = useRows('surface').filter(
    (s) => s.kind === 'light' && (s.shape as { fixture?: string }).fixture === id,
  );
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'fixture'>>) => edit(`Change ${row.name}`, [update('fixture', row, fields)]);
  return (
    <>
      <h2>{row.name}</h2>
      <span className="dim">Fixture type of {lights.length} lights</span>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField
          label="Columns"
          digits={0}
          value={row.columns}
          onChange={(v) => change({ columns: Math.round(v) })}
        />
        <NumberField label="Rows" digits={0} value={row.rows} onChange={(v) => change({ rows: Math.round(v) })} />
        <NumberField
          label="Width"
          unit="mm"
          digits={1}
          value={row.widthMm}
          onChange={(widthMm) => change({ widthMm })}
        />
        <NumberField
          label="Height"
          unit="mm"
          digits={1}
          value={row.heightMm}
          onChange={(heightMm) => change({ heightMm })}
        />
      </div>
      <h3>Channels</h3>
      <NameField
        label="Channels per pixel"
        value={row.channels}
        hint="RGBW, or red, green, blue, white 3200, fixed 255, unused"
        onChange={(channels) => change({ channels })}
      />
      <NameField
        label="Header channels"
        value={row.header}
        hint="dimmer, fixed 255, unused"
        onChange={(header) => change({ header })}
      />
      <div className="row2" style={{ marginTop: 8 }}>
        <Select
          label="Bits"
          allowDeselect={false}
          value={String(row.bits)}
          data={['8', '16']}
          onChange={(v) => v !== null && void change({ bits: Number(v) })}
        />
        <Checkbox
          mt={26}
          label="Allow pixels across universes"
          checked={row.straddles}
          onChange={(e) => void change({ straddles: e.currentTarget.checked })}
        />
        <NumberField
          label="Gamma"
          digits={2}
          value={row.gamma}
          hint="1 where its light is linear"
          onChange={(gamma) => change({ gamma })}
        />
        <NumberField
          label="Minimum"
          unit="%"
          scale={100}
          digits={1}
          value={row.minimum}
          hint="Below it nothing lights"
          onChange={(minimum) => change({ minimum })}
        />
        <NumberField label="Power" unit="W" digits={0} value={row.watts} onChange={(watts) => change({ watts })} />
      </div>
      <h3>Lights</h3>
      {lights.slice(0, 60).map((s) => (
        <button
          key={s.id}
          type="button"
          className="plain"
          style={{ display: 'block', marginBottom: 4 }}
          onClick={() => select({ kind: 'surface', id: s.id })}
        >
          {s.name}
        </button>
      ))}
      <Findings kind="fixture" id={id} />
      <Remove kind="fixture" id={id} name={row.name} />
    </>
  );
}
