import { ColorInput, Select, Switch } from '@mantine/core';
import { useState } from 'react';
import type { RowOf } from '../../../api/client';
import { mixes } from '../../../live/property';
import { learn } from '../../controls';
import { fire, onNow, release, sorted } from '../../cues';
import { recordCue } from '../../edits';
import { NameField, NumberField, TextArea, TimeField } from '../../fields/fields';
import { ValueField } from '../../fields/ValueField';
import { useRow, useRows, useShow, useTimeline } from '../../hooks';
import { edit, playhead, update, useStudio } from '../../store';
import { FLICKS } from '../../time';
import { Findings, Gone, Remove } from '../parts';
import { MASTER } from '../TransportBar';

/** Values of a cue that are shown at once. */
const SHOWN = 150;

type Held = RowOf<'cue'>['held'][number];

const Seconds = ({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (flicks: number) => unknown;
}) => (
  <NumberField
    label={label}
    unit="s"
    value={value}
    scale={1 / FLICKS}
    digits={3}
    step={0.1}
    onChange={(v) => onChange(Math.max(0, Math.round(v)))}
  />
);

export function CueDetails({ id }: { id: string }) {
  const row = useRow('cue', id);
  const show = useShow();
  useStudio((s) => s.told);
  const loose = useStudio((s) => Object.keys(s.values).filter((a) => a !== MASTER).length);
  const groups = useRows('group');
  const pages = useRows('page');
  const timelines = useRows('timeline');
  const timeline = useTimeline();
  const [all, setAll] = useState(false);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'cue'>>) => edit(`Change cue ${row.number}`, [update('cue', row, fields)]);
  const held = sorted(show, row.held);
  const set = (index: number, entry: Held | null) =>
    change({ held: row.held.flatMap((e, i) => (i === index ? (entry === null ? [] : [entry]) : [e])) });
  const on = onNow(id) !== undefined;
  return (
    <>
      <h2>Cue {row.number}</h2>
      <div style={{ display: 'flex', gap: 6, marginBottom: 8 }}>
        <button type="button" className="plain primary" onClick={() => void fire(id)}>
          Fire
        </button>
        <button type="button" className="plain" disabled={!on} onClick={() => void release(id)}>
          Release
        </button>
        <button
          type="button"
          className="plain"
          onClick={() => learn({ meaning: 'cue', targets: [{ target: id, name: `Cue ${row.number} ${row.name}` }] })}
        >
          Bind a control
        </button>
      </div>
      <div className="row2">
        <NameField label="Number" value={row.number} onChange={(number) => change({ number })} />
        <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      </div>
      <TextArea label="Note" value={row.note} onChange={(note) => change({ note })} />
      <Select
        label="Scope"
        allowDeselect={false}
        value={row.scope}
        data={[
          { value: 'chosen', label: 'Only recorded' },
          { value: 'everything', label: 'Everything: the rest goes dark' },
        ]}
        onChange={(v) => v !== null && void change({ scope: v as typeof row.scope })}
      />
      <div className="row2" style={{ marginTop: 8 }}>
        <Seconds label="Fade" value={row.fade} onChange={(fade) => change({ fade })} />
        <Seconds label="Delay" value={row.delay} onChange={(delay) => change({ delay })} />
        <Select
          label="Curve"
          allowDeselect={false}
          value={row.curve}
          data={['linear', 'smooth', 'ease-in', 'ease-out']}
          onChange={(v) => v !== null && void change({ curve: v })}
        />
        <Select
          label="When stopped"
          allowDeselect={false}
          value={row.onStop}
          data={['returns', 'stays']}
          onChange={(v) => v !== null && void change({ onStop: v as typeof row.onStop })}
        />
      </div>
      <Select
        label="Yield group"
        mt={8}
        clearable
        placeholder="none"
        value={row.group}
        data={groups.map((g) => ({ value: g.id, label: g.name }))}
        onChange={(group) => void change({ group })}
      />

      <h3>
        Holds {row.held.length === 0 ? 'no values' : row.held.length === 1 ? '1 value' : `${row.held.length} values`}
      </h3>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        <button
          type="button"
          className="plain"
          disabled={row.held.length === 0}
          title="Record its values again as they are now"
          onClick={() => void recordCue({ action: 'update', cue: id })}
        >
          Update
        </button>
        {loose > 0 && (
          <button
            type="button"
            className="plain"
            title="Take all loose values into the cue"
            onClick={() => void recordCue({ action: 'merge', cue: id, discard: true })}
          >
            Merge {loose} loose {loose === 1 ? 'value' : 'values'}
          </button>
        )}
      </div>
      <div className="heldvalues">
        {held.slice(0, all ? held.length : SHOWN).map(({ entry, index, of, label, property }) => (
          <div key={entry.a} className="heldvalue">
            <span className={of === 'removed' ? 'state-attention' : undefined}>
              {of} · {label}
              {entry.keys !== undefined && <span className="dim"> moves</span>}
            </span>
            <span style={{ width: 78 }}>
              {property !== undefined && (
                <ValueField
                  property={property}
                  label=""
                  value={entry.v}
                  onChange={(v) => set(index, { ...entry, v })}
                />
              )}
            </span>
            <Own
              label="Fade"
              inherited={row.fade}
              value={entry.fade}
              onChange={(fade) => set(index, without(entry, 'fade', fade))}
            />
            <Own
              label="Delay"
              inherited={row.delay}
              value={entry.delay}
              onChange={(delay) => set(index, without(entry, 'delay', delay))}
            />
            {property !== undefined && mixes(property) && (
              <button
                type="button"
                className="plain"
                style={{ padding: '4px 5px' }}
                aria-pressed={entry.keys !== undefined}
                aria-label={`${of} ${label} moves`}
                title="Moves by keyframes of its own"
                onClick={() =>
                  void set(
                    index,
                    entry.keys === undefined
                      ? {
                          ...entry,
                          keys: [
                            { t: 0, v: entry.v, i: 'smooth' },
                            { t: FLICKS, v: entry.v },
                          ],
                        }
                      : still(entry),
                  )
                }
              >
                ∿
              </button>
            )}
            <button
              type="button"
              className="plain"
              style={{ padding: '4px 5px' }}
              aria-label={`Take ${of} ${label} out`}
              onClick={() => void set(index, null)}
            >
              ✕
            </button>
            {entry.keys !== undefined && property !== undefined && (
              <span style={{ flex: '1 0 100%' }}>
                <NameField
                  label={`${row.bpm > 0 ? 'Beats' : 'Seconds'} and ${property.unit === '' ? 'values' : property.unit}`}
                  hint="0 20, 1 90, 2 20"
                  value={written(entry.keys, property.scale)}
                  onChange={(text) => set(index, { ...entry, ...read(text, property.scale) })}
                />
              </span>
            )}
          </div>
        ))}
        {!all && held.length > SHOWN && (
          <button type="button" className="plain" onClick={() => setAll(true)}>
            Show all {held.length}
          </button>
        )}
      </div>
      {row.held.some((e) => e.keys !== undefined) && (
        <div className="row2">
          <Seconds
            label={row.bpm > 0 ? 'Loop (beats)' : 'Loop'}
            value={row.loop}
            onChange={(loop) => change({ loop })}
          />
          <NumberField label="Rate" value={row.rate} digits={2} onChange={(rate) => change({ rate })} />
          <NumberField
            label="Tempo BPM"
            value={row.bpm}
            digits={1}
            hint="0 moves in seconds"
            onChange={(bpm) => change({ bpm })}
          />
        </div>
      )}

      <h3>Start</h3>
      <Select
        label="Trigger"
        allowDeselect={false}
        value={row.trigger}
        data={[
          { value: 'go', label: 'Go' },
          { value: 'follow', label: 'once the cue before has faded in' },
          { value: 'wait', label: 'so long after the cue before' },
          { value: 'clock', label: 'at a time of day' },
        ]}
        onChange={(v) =>
          v !== null &&
          void change({
            trigger: v as typeof row.trigger,
            ...(v === 'clock' && row.clock === '' ? { clock: '21:30' } : {}),
          })
        }
      />
      {row.trigger === 'wait' && <Seconds label="Wait" value={row.wait} onChange={(wait) => change({ wait })} />}
      {(row.trigger === 'clock' || row.clock !== '') && (
        <NameField
          label="Clock"
          value={row.clock}
          hint="21:30, 21:30 fri sat, 2026-12-24 18:00"
          onChange={(clock) => change({ clock })}
        />
      )}
      <TextArea label="Also does" value={row.actions} onChange={(actions) => change({ actions })} />
      <p className="dim" style={{ margin: '2px 0 0', fontSize: 12 }}>
        A line each: shutter 1, power 0 &quot;House left&quot;, send osc 10.0.0.5:8000 /go 1
      </p>
      <Switch
        mt={10}
        label="In the cue list"
        checked={row.listed}
        onChange={(e) => void change({ listed: e.currentTarget.checked })}
      />
      {row.time === null || row.timeline === null ? (
        <button
          type="button"
          className="plain"
          style={{ marginTop: 10 }}
          disabled={timeline === undefined}
          onClick={() =>
            timeline !== undefined &&
            void change({
              timeline: timeline.id,
              time: playhead(),
            })
          }
        >
          Put on {timeline?.name ?? 'a timeline'} at the playhead
        </button>
      ) : (
        <>
          <div className="row2" style={{ marginTop: 8 }}>
            <Select
              label="Timeline"
              allowDeselect={false}
              value={row.timeline}
              data={timelines.map((t) => ({ value: t.id, label: t.name }))}
              onChange={(v) => v !== null && void change({ timeline: v })}
            />
            <TimeField label="Time" value={row.time} onChange={(time) => change({ time })} />
          </div>
          <Switch
            mt={10}
            label="Hold point: playback waits here for Go"
            checked={row.holds}
            onChange={(e) => void change({ holds: e.currentTarget.checked })}
          />
          <button
            type="button"
            className="plain"
            style={{ marginTop: 10 }}
            onClick={() => void change({ timeline: null, time: null, holds: false })}
          >
            Take off the timeline
          </button>
        </>
      )}
      <Select
        label="Starts the timeline"
        mt={8}
        clearable
        placeholder="none"
        value={row.starts}
        data={timelines.map((t) => ({ value: t.id, label: t.name }))}
        onChange={(starts) => void change({ starts })}
      />

      <h3>Board</h3>
      <Select
        label="Page"
        clearable
        placeholder="none"
        value={row.page}
        data={pages.map((p) => ({ value: p.id, label: p.name }))}
        onChange={(page) => void change({ page })}
      />
      {row.page !== null && (
        <div className="row2">
          <NumberField
            label="Row"
            value={row.row + 1}
            digits={0}
            onChange={(v) => change({ row: Math.round(v) - 1 })}
          />
          <NumberField
            label="Column"
            value={row.column + 1}
            digits={0}
            onChange={(v) => change({ column: Math.round(v) - 1 })}
          />
        </div>
      )}
      <ColorInput
        label="Colour"
        mt={8}
        value={row.colour}
        placeholder="none"
        onChangeEnd={(colour) => void change({ colour: colour.toLowerCase() })}
      />
      <Findings kind="cue" id={id} />
      <Remove kind="cue" id={id} name={`cue ${row.number}`} />
    </>
  );
}

const still = ({ keys: _, ...rest }: Held): Held => rest;

/** Keyframes as people write them: a time and a value each. */
const written = (keys: NonNullable<Held['keys']>, scale: number) =>
  keys.map((k) => `${Number((k.t / FLICKS).toFixed(3))} ${Number((Number(k.v) * scale).toFixed(3))}`).join(', ');

/** The same, read: smooth between them. What is no pair of numbers is refused with a word. */
function read(text: string, scale: number): Pick<Held, 'v' | 'keys'> {
  const keys = text
    .split(',')
    .filter((pair) => pair.trim() !== '')
    .map((pair) => {
      const [time, value, more] = pair.trim().split(/\s+/).map(Number);
      if (
        time === undefined ||
        value === undefined ||
        more !== undefined ||
        !Number.isFinite(time) ||
        !Number.isFinite(value) ||
        time < 0
      )
        throw new Error(`"${pair.trim()}" is no time and value, such as 1.5 90.`);
      return { t: Math.round(time * FLICKS), v: value / scale, i: 'smooth' as const };
    })
    .sort((a, b) => a.t - b.t);
  const [first] = keys;
  if (first === undefined) throw new Error('A value that moves has a keyframe at least.');
  return { v: first.v, keys };
}

function without(entry: Held, field: 'fade' | 'delay', value: number | null): Held {
  const { [field]: _, ...rest } = entry;
  return value === null ? rest : { ...rest, [field]: value };
}

/** A time of a value's own; while it has none, that of the cue is shown in its place. */
function Own({
  label,
  inherited,
  value,
  onChange,
}: {
  label: string;
  inherited: number;
  value: number | undefined;
  onChange: (value: number | null) => unknown;
}) {
  const text = (flicks: number) => `${Number((flicks / FLICKS).toFixed(2))} s`;
  if (value === undefined)
    return (
      <button
        type="button"
        className="plain dim"
        title={`${label} of the cue; press for one of its own`}
        aria-label={`${label} ${text(inherited)}, of the cue`}
        onClick={() => void onChange(inherited)}
      >
        {text(inherited)}
      </button>
    );
  return (
    <span style={{ width: 74, display: 'flex', gap: 2 }}>
      <NumberField
        label=""
        unit="s"
        value={value}
        scale={1 / FLICKS}
        digits={2}
        onChange={(v) => onChange(Math.max(0, Math.round(v)))}
      />
      <button
        type="button"
        className="plain"
        style={{ padding: '0 2px' }}
        aria-label={`${label} of the cue again`}
        onClick={() => void onChange(null)}
      >
        ↺
      </button>
    </span>
  );
}

export function PageDetails({ id }: { id: string }) {
  const row = useRow('page', id);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'page'>>) => edit(`Change ${row.name}`, [update('page', row, fields)]);
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <div className="row2">
        <NumberField
          label="Columns"
          value={row.columns}
          digits={0}
          onChange={(v) => change({ columns: Math.round(v) })}
        />
        <NumberField label="Rows" value={row.rows} digits={0} onChange={(v) => change({ rows: Math.round(v) })} />
      </div>
      <NumberField label="Order" value={row.order} digits={0} onChange={(v) => change({ order: Math.round(v) })} />
      <Remove kind="page" id={id} name={row.name} />
    </>
  );
}

export function GroupDetails({ id }: { id: string }) {
  const row = useRow('group', id);
  const cues = useRows('cue').filter((c) => c.group === id);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'group'>>) => edit(`Change ${row.name}`, [update('group', row, fields)]);
  return (
    <>
      <h2>{row.name}</h2>
      <span className="dim">Yield group of {cues.length} cues: the one that starts makes the others give way.</span>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <ColorInput
        label="Colour"
        value={row.colour}
        onChangeEnd={(colour) => void change({ colour: colour.toLowerCase() })}
      />
      {cues.map((c) => (
        <p key={c.id} style={{ margin: '4px 0' }}>
          <span className="mono">{c.number}</span> {c.name}
        </p>
      ))}
      <Remove kind="group" id={id} name={row.name} />
    </>
  );
}
