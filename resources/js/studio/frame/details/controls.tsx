import { Select, Switch } from '@mantine/core';
import { useEffect, useState } from 'react';
import type { RowOf, ShowDocument } from '../../../api/client';
import { bindingChoices, commands, soundControls } from '../../../api/commands';
import { type Property, properties } from '../../../api/kinds';
import { inWords } from '../../../live/property';
import { learn, listenToSound, useControls, useSoundInput, watchControls } from '../../controls';
import { named } from '../../cues';
import { NameField, NumberField, TextArea, TimeField } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { bindings, deviceToken, edit, editAndSelect, insert, update } from '../../store';
import { ulid } from '../../time';
import { Findings, Gone, Remove } from '../parts';
import { PanelFields } from './tablets';

/** What devices speak. */
export const PROTOCOLS: Record<string, string> = {
  midi: 'MIDI',
  osc: 'OSC',
  keys: 'Keyboard',
  dmx: 'DMX',
  sound: 'Sound',
  http: 'HTTP',
  touch: 'Touch panel',
};

/** Whether devices of a protocol are told apart by their names, not by a port. */
export const isNamed = (protocol: string) => protocol === 'http' || protocol === 'touch';

export const GESTURES: Record<RowOf<'binding'>['gesture'], string> = {
  move: 'moves',
  press: 'is pressed',
  release: 'is released',
  toggle: 'is pressed, in turn',
  hold: 'is held down',
  double: 'is pressed twice',
  long: 'is held for 0.6 s',
};

const MEANINGS: Record<RowOf<'binding'>['meaning'], string> = {
  value: 'Value',
  action: 'Command',
  cue: 'Cue',
  choice: 'Command by number',
};

const TAKEOVERS: Record<RowOf<'binding'>['takeover'], string> = {
  jump: 'Jump: at once',
  meet: 'Meet: once it passes the value',
  scaled: 'Scaled: over the way that is left',
};

const ENCODERS: Record<RowOf<'binding'>['encoder'], string> = {
  absolute: 'Fader or knob with ends',
  twos: "Endless, two's complement (1, 127)",
  offset: 'Endless, offset (65, 63)',
  sign: 'Endless, sign bit (1, 65)',
};

const SHAPES: Record<RowOf<'binding'>['shape'], string> = {
  linear: 'Linear',
  slow: 'Slow start',
  fast: 'Fast start',
  smooth: 'S-curve',
};

const listed = <T extends string>(words: Record<T, string>, all: readonly T[]) =>
  all.map((value) => ({ value, label: words[value] }));

/** What the control of a binding is called. */
export const controlOf = (row: RowOf<'binding'>) =>
  row.label !== '' ? row.label : (soundControls.find((c) => c.name === row.control)?.label ?? row.control);

/** What a binding does, in words. */
export function targetOf(show: ShowDocument | undefined, row: RowOf<'binding'>): string {
  if (row.meaning === 'cue') {
    const cue = show?.rows.cue.find((c) => c.id === row.target);
    return cue === undefined ? 'a removed cue' : `Cue ${cue.number} ${cue.name}`;
  }
  if (row.meaning === 'value') {
    const { of, label } = named(show, row.target);
    return row.target === 'master:show/level' ? 'Master' : `${of} · ${label}`;
  }
  if (row.meaning === 'choice') return `${row.choices.split(/\n|;/).filter((l) => l.trim() !== '').length} commands`;
  const [name = '', ...given] = row.target.split(' ');
  const label = commands.find((c) => c.name === name)?.label.split(':')[0];
  return label === undefined ? row.target : [label, ...given].join(' ');
}

/** What a control is bound to, how it means it, and what it shows. */
export function BindingDetails({ id }: { id: string }) {
  const show = useShow();
  const row = useRow('binding', id);
  const device = useRow('device', row?.device);
  const devices = useRows('device');
  const cues = useRows('cue');
  const meets = useControls((s) => s.meets[id]);
  if (row === undefined) return <Gone />;
  const name = controlOf(row);
  const change = (fields: Partial<RowOf<'binding'>>) =>
    edit(`Change the binding of ${name}`, [update('binding', row, fields)]);
  const property = row.meaning === 'value' ? named(show, row.target).property : undefined;
  const shown = (value: number) => (property === undefined ? String(value) : inWords(property, value));
  const moves = row.gesture === 'move';
  const end = (label: string, field: 'low' | 'high') => (
    <NumberField
      label={label}
      unit={property?.unit ?? ''}
      scale={property?.scale ?? 1}
      digits={property?.digits ?? 3}
      value={row[field]}
      onChange={(v) => change({ [field]: v })}
    />
  );
  return (
    <>
      <h2>{targetOf(show, row)}</h2>
      <span className="dim">
        when <span className="mono">{name}</span> of {device?.name ?? 'a removed device'} {GESTURES[row.gesture]}
      </span>
      {meets !== undefined && (
        <p className="state-attention" role="status">
          ▲ Move it {meets.above ? 'up' : 'down'} to {shown(meets.value)}; from there it takes over.
        </p>
      )}
      <div style={{ display: 'flex', gap: 6, margin: '8px 0' }}>
        <button
          type="button"
          className="plain"
          onClick={() =>
            learn({ meaning: row.meaning, binding: id, targets: [{ target: row.target, name: targetOf(show, row) }] })
          }
        >
          Learn another control
        </button>
      </div>
      <div className="row2">
        {device?.protocol === 'sound' ? (
          <Select
            label="Control"
            allowDeselect={false}
            value={row.control}
            data={soundControls.map((c) => ({ value: c.name, label: c.label }))}
            onChange={(control) => control !== null && void change({ control })}
          />
        ) : (
          <NameField label="Control" value={row.control} onChange={(control) => change({ control })} />
        )}
        <NameField label="Label" placeholder="none" value={row.label} onChange={(label) => change({ label })} />
        <Select
          label="Device"
          allowDeselect={false}
          value={row.device}
          data={devices.map((d) => ({ value: d.id, label: d.name }))}
          onChange={(v) => v !== null && void change({ device: v })}
        />
        <NumberField
          label="Page (0 = all)"
          digits={0}
          value={row.page}
          onChange={(v) => change({ page: Math.round(v) })}
        />
      </div>
      <h3>Target</h3>
      <div className="row2">
        <Select
          label="Kind"
          allowDeselect={false}
          value={row.meaning}
          data={listed(MEANINGS, bindingChoices.meaning)}
          onChange={(v) =>
            v !== null &&
            void change(
              v === 'action'
                ? { meaning: 'action', target: 'go', gesture: moves ? 'press' : row.gesture }
                : v === 'cue'
                  ? { meaning: 'cue', target: cues[0]?.id ?? '', gesture: moves ? 'press' : row.gesture }
                  : v === 'choice'
                    ? { meaning: 'choice', target: '', choices: '0 go' }
                    : { meaning: 'value', target: 'master:show/level', low: 0, high: 1 },
            )
          }
        />
        <Select
          label="When it"
          allowDeselect={false}
          value={row.gesture}
          data={listed(GESTURES, bindingChoices.gesture).filter((g) => g.value !== 'move' || row.meaning === 'value')}
          onChange={(v) => v !== null && void change({ gesture: v as typeof row.gesture })}
        />
      </div>
      {row.meaning === 'value' && (
        <ValueTarget value={row.target} onChange={(target, p) => change({ target, ...range(p) })} />
      )}
      {row.meaning === 'cue' && (
        <>
          <Select
            label="Cue"
            mt={8}
            searchable
            allowDeselect={false}
            limit={100}
            value={row.target}
            data={cues.map((c) => ({ value: c.id, label: `${c.number} ${c.name}` }))}
            onChange={(v) => v !== null && void change({ target: v })}
          />
          <div style={{ marginTop: 8 }}>
            <Switch
              label="Own fade of the cue"
              checked={row.fade === null}
              onChange={(e) => void change({ fade: e.currentTarget.checked ? null : 0 })}
            />
            {row.fade !== null && <TimeField label="Fade" value={row.fade} onChange={(fade) => change({ fade })} />}
          </div>
        </>
      )}
      {row.meaning === 'action' && (
        <>
          <NameField
            label="Command"
            value={row.target}
            hint={`page N, ${commands.map((c) => c.name).join(', ')}; arguments after it`}
            onChange={(target) => change({ target })}
          />
          {(row.gesture === 'toggle' || row.gesture === 'hold') && (
            <NameField
              label={row.gesture === 'hold' ? 'Command on letting go' : 'Command of each second press'}
              placeholder="the same"
              value={row.other}
              onChange={(other) => change({ other })}
            />
          )}
        </>
      )}
      {row.meaning === 'choice' && (
        <TextArea
          label="A line for each number: 12 fire 3"
          value={row.choices}
          onChange={(choices) => change({ choices })}
        />
      )}
      <h3>Range</h3>
      <div className="row2">
        <NumberField label="Control from" value={row.from} onChange={(from) => change({ from })} />
        <NumberField label="Control to" value={row.to} onChange={(to) => change({ to })} />
        {row.meaning === 'value' && (
          <>
            {end(moves ? 'Value from' : 'Value off', 'low')}
            {end(moves ? 'Value to' : 'Value on', 'high')}
          </>
        )}
      </div>
      {row.meaning === 'value' && moves && (
        <>
          <Select
            label="Takeover"
            mt={8}
            allowDeselect={false}
            value={row.takeover}
            data={listed(TAKEOVERS, bindingChoices.takeover)}
            onChange={(v) => v !== null && void change({ takeover: v as typeof row.takeover })}
          />
          <div className="row2" style={{ marginTop: 8 }}>
            <Select
              label="Curve"
              allowDeselect={false}
              value={row.shape}
              data={listed(SHAPES, bindingChoices.shape)}
              onChange={(v) => v !== null && void change({ shape: v as typeof row.shape })}
            />
            <NumberField
              label="Steps (0 = all)"
              digits={0}
              value={row.steps}
              onChange={(v) => change({ steps: Math.round(v) })}
            />
            <NumberField
              label="Dead band at the ends"
              unit="%"
              scale={100}
              digits={1}
              value={row.deadBand}
              onChange={(deadBand) => change({ deadBand })}
            />
            <TimeField label="Smoothing" value={row.smoothing} onChange={(smoothing) => change({ smoothing })} />
          </div>
          <Switch
            label="Inverted"
            mt={8}
            checked={row.invert}
            onChange={(e) => void change({ invert: e.currentTarget.checked })}
          />
          <Select
            label="Control type"
            mt={8}
            allowDeselect={false}
            value={row.encoder}
            data={listed(ENCODERS, bindingChoices.encoder)}
            onChange={(v) => v !== null && void change({ encoder: v as typeof row.encoder })}
          />
          {row.encoder !== 'absolute' && (
            <div className="row2" style={{ marginTop: 8 }}>
              <NumberField
                label="A click is"
                unit="%"
                scale={100}
                digits={2}
                value={row.click}
                onChange={(click) => change({ click })}
              />
              <NumberField
                label="Acceleration"
                digits={1}
                value={row.acceleration}
                onChange={(acceleration) => change({ acceleration })}
              />
            </div>
          )}
        </>
      )}
      {(row.meaning === 'value' || row.meaning === 'cue') && !moves && (
        <Switch
          label="By velocity: as hard as it is pressed"
          mt={8}
          checked={row.velocity}
          onChange={(e) => void change({ velocity: e.currentTarget.checked })}
        />
      )}
      <h3>Feedback</h3>
      <Switch
        label={moves ? 'Sends it where the value is' : 'Has a lamp'}
        checked={row.lamp}
        onChange={(e) => void change({ lamp: e.currentTarget.checked })}
      />
      {row.lamp && moves && (
        <Switch
          label="Has a motor: stands where it is sent"
          mt={6}
          checked={row.motor}
          onChange={(e) => void change({ motor: e.currentTarget.checked })}
        />
      )}
      {row.lamp && !moves && (
        <div className="row2" style={{ marginTop: 8 }}>
          <NumberField label="Lamp off" value={row.lampOff} onChange={(lampOff) => change({ lampOff })} />
          <NumberField label="Lamp on" value={row.lampOn} onChange={(lampOn) => change({ lampOn })} />
        </div>
      )}
      <Findings kind="binding" id={id} />
      <Remove kind="binding" id={id} name={`the binding of ${name}`} />
    </>
  );
}

const range = (p: Property | undefined) =>
  p === undefined ? {} : { low: Math.max(-10_000, p.min), high: Math.min(10_000, p.max) };

/** A value of the show, searched by the name of what has it. */
export function ValueTarget({
  value,
  onChange,
}: {
  value: string;
  onChange: (address: string, p: Property | undefined) => unknown;
}) {
  const show = useShow();
  const found: { value: string; label: string; property: Property }[] = [];
  const master = properties.master[0] as Property | undefined;
  if (master !== undefined) found.push({ value: 'master:show/level', label: 'Master', property: master });
  for (const [kind, all] of Object.entries(properties) as [keyof ShowDocument['rows'], readonly Property[]][]) {
    for (const row of (show?.rows[kind] ?? []) as { id: string; name?: string }[])
      for (const p of all)
        if (p.held && p.type !== 'reference')
          p.slots.forEach((label, slot) => {
            const { of } = named(show, `${kind}:${row.id}/${p.name}`);
            found.push({
              value: `${kind}:${row.id}/${p.name}${slot === 0 ? '' : `#${slot}`}`,
              label: `${of} · ${label}`,
              property: p,
            });
          });
  }
  return (
    <Select
      label="Value"
      mt={8}
      searchable
      allowDeselect={false}
      limit={80}
      value={value}
      data={found.map(({ value, label }) => ({ value, label }))}
      onChange={(v) => v !== null && void onChange(v, found.find((f) => f.value === v)?.property)}
    />
  );
}

/** How loud the inputs are that a device hears, and how its values follow that. */
function Sound({ row, change }: { row: RowOf<'device'>; change: (fields: Partial<RowOf<'device'>>) => unknown }) {
  const meters = useControls((s) => s.meters).filter((m) => row.port === '' || m.input === row.port);
  const { state } = useSoundInput();
  useEffect(watchControls, []);
  const level = (label: string, field: 'floor' | 'ceiling', start: number) => (
    <div>
      <Switch
        label={`${label} learnt`}
        checked={row[field] === null}
        onChange={(e) => void change({ [field]: e.currentTarget.checked ? null : start })}
      />
      {row[field] !== null && (
        <NumberField label={label} unit="dB" digits={1} value={row[field]} onChange={(v) => change({ [field]: v })} />
      )}
    </div>
  );
  return (
    <>
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField label="Attack" unit="s" digits={2} value={row.attack} onChange={(attack) => change({ attack })} />
        <NumberField
          label="Release"
          unit="s"
          digits={2}
          value={row.release}
          onChange={(release) => change({ release })}
        />
        {level('Floor', 'floor', -50)}
        {level('Ceiling', 'ceiling', -10)}
      </div>
      <button
        type="button"
        className="plain"
        style={{ marginTop: 8 }}
        aria-pressed={state === 'on'}
        onClick={() => void listenToSound()}
      >
        {state === 'on' ? 'Listening to sound' : 'Listen to sound'}
      </button>
      {state === 'refused' && <p className="state-attention">▲ No audio input: allow it for this address</p>}
      {meters.map((m) => (
        <div key={m.input} role="img" aria-label={`Levels of ${m.input}`} className="meters">
          <span className="dim">
            {m.input}
            {m.tempo !== null && (
              <>
                , <span className="mono">{m.tempo.toFixed(0)}</span> BPM
              </>
            )}
          </span>
          {soundControls
            .filter((c) => c.measured)
            .map((c) => (
              <span key={c.name} className="meter" title={c.label}>
                <i style={{ height: `${100 * (m.levels[c.name] ?? 0)}%` }} />
              </span>
            ))}
        </div>
      ))}
    </>
  );
}

/** How requests press what is bound to a device: with a token that is told once. */
function Requests({ id, hasToken }: { id: string; hasToken: boolean }) {
  const [token, setToken] = useState('');
  return (
    <>
      <p className="dim">
        {token === '' ? (
          hasToken ? (
            'It has a token. A new one takes its place.'
          ) : (
            'Without a token nothing is taken from it.'
          )
        ) : (
          <>
            This is told once: <span className="mono breaks">{token}</span>
          </>
        )}
      </p>
      <p className="dim">
        <span className="mono breaks">
          curl -H "Authorization: Bearer TOKEN" -H "Content-Type: application/json" -d '
          {'{"control": "/press", "value": 1}'}' {location.origin}/live/press
        </span>
      </p>
      <button type="button" className="plain" onClick={async () => setToken((await deviceToken(id)) ?? token)}>
        {hasToken ? 'Make a new token' : 'Make a token'}
      </button>
    </>
  );
}

/** A device with controls: where it comes in, and what of it is bound. */
export function DeviceDetails({ id }: { id: string }) {
  const show = useShow();
  const row = useRow('device', id);
  const devices = useRows('device').filter((d) => d.id !== id);
  const own = useRows('binding').filter((b) => b.device === id);
  const seen = useControls((s) => s.devices);
  const page = useControls((s) => s.pages[id] ?? 1);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'device'>>) => edit(`Change ${row.name}`, [update('device', row, fields)]);
  const ports = [...new Set([row.port, ...seen.filter((d) => d.source === row.protocol).map((d) => d.port)])].filter(
    (p) => p !== '',
  );
  const add = () => {
    const binding = ulid();
    const control = { dmx: 'slot:1', sound: 'sound:level', http: '/press', osc: '/press', keys: 'key:F13' }[
      row.protocol
    ];
    void editAndSelect(
      'Add a binding',
      [
        insert('binding', binding, {
          device: id,
          control: control ?? 'note:1:60',
          to: { dmx: 255, midi: 127 }[row.protocol] ?? 1,
          lampOn: { dmx: 255, midi: 127 }[row.protocol] ?? 1,
          ...(row.protocol === 'sound'
            ? // It moves by itself: until its range is set, it changes nothing.
              { meaning: 'value', gesture: 'move', target: 'master:show/level', takeover: 'jump', low: 1, high: 1 }
            : { meaning: 'action', target: 'go' }),
        }),
      ],
      { kind: 'binding', id: binding },
    );
  };
  return (
    <>
      <h2>{row.name}</h2>
      <span className="dim">
        <span className="mono">{own.length}</span> {own.length === 1 ? 'binding' : 'bindings'}, page{' '}
        <span className="mono">{page}</span> is on
      </span>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <div className="row2">
        <Select
          label="Protocol"
          allowDeselect={false}
          value={row.protocol}
          data={Object.entries(PROTOCOLS).map(([value, label]) => ({ value, label }))}
          onChange={(v) => v !== null && void change({ protocol: v, port: v === 'dmx' ? 'sACN 1' : '' })}
        />
        {row.protocol === 'dmx' ? (
          <NameField
            label="Universe"
            value={row.port}
            hint="sACN 1 to 63999, Art-Net 0 to 32767, or Serial /dev/ttyUSB0"
            onChange={(port) => change({ port })}
          />
        ) : (
          row.protocol !== 'keys' &&
          !isNamed(row.protocol) && (
            <Select
              label={{ osc: 'Host', sound: 'Audio input' }[row.protocol] ?? 'Port'}
              value={row.port}
              allowDeselect={false}
              data={[{ value: '', label: 'any' }, ...ports.map((p) => ({ value: p, label: p }))]}
              onChange={(v) => v !== null && void change({ port: v })}
            />
          )
        )}
      </div>
      {row.protocol === 'midi' && (
        <>
          <NameField
            label="Invite a session at"
            placeholder="no one"
            hint="RTP-MIDI: IP address and port, as in 192.0.2.8:5004"
            value={row.invite}
            onChange={(invite) => change({ invite })}
          />
          <Switch
            label="MIDI show control and machine control act"
            mt={8}
            checked={row.showControl}
            onChange={(e) => void change({ showControl: e.currentTarget.checked })}
          />
          <Switch
            label="Send it MTC of the driven timeline"
            mt={8}
            checked={row.timecode}
            onChange={(e) => void change({ timecode: e.currentTarget.checked })}
          />
        </>
      )}
      {row.protocol === 'touch' && <PanelFields row={row} change={change} />}
      {row.protocol === 'sound' && <Sound row={row} change={change} />}
      {row.protocol === 'http' && <Requests id={id} hasToken={row.token !== ''} />}
      <div style={{ display: row.protocol === 'touch' ? 'none' : 'flex', gap: 6, margin: '10px 0' }}>
        <button type="button" className="plain" onClick={add}>
          Add a binding
        </button>
      </div>
      {devices.length > 0 && own.length > 0 && (
        <Select
          label="Another device takes over"
          mt={8}
          placeholder="Move all bindings to…"
          value={null}
          data={devices.map((d) => ({ value: d.id, label: d.name }))}
          onChange={(to) => to !== null && void bindings({ action: 'move', from: id, to })}
        />
      )}
      <h3>Bindings</h3>
      {own.slice(0, 200).map((b) => (
        <p key={b.id} style={{ margin: '3px 0' }}>
          <span className="mono dim">{controlOf(b)}</span> {targetOf(show, b)}
        </p>
      ))}
      <Findings kind="device" id={id} />
      <Remove kind="device" id={id} name={row.name} />
    </>
  );
}
