import { ColorInput, MultiSelect, Select, Switch } from '@mantine/core';
import { useState } from 'react';
import type { RowOf } from '../../../api/client';
import { referenceTo } from '../../../live/property';
import { NameField, NumberField, TimeField } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { command, edit, get, program, select, update, useStudio } from '../../store';
import { FLICKS } from '../../time';
import { TapMeasure } from '../../views/timeline/TapMeasure';
import { jumpFade, setJumpFade, setTapLatency, tapLatency } from '../../views/timeline/work';
import { Findings, Gone, Remove } from '../parts';
import { RouteChoice } from './aims';
import { Effects } from './effects';
import { Values } from './values';

export function LayerDetails({ id }: { id: string }) {
  const row = useRow('layer', id);
  const media = useRows('media');
  const source = `layer:${id}/source`;
  const called = useStudio((s) => s.values[source]);
  const stock = media.filter((m) => row?.stock.includes(m.id) || referenceTo(m.id) === called);
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>{row.name}</h2>
      <NameField
        label="Name"
        value={row.name}
        onChange={(name) => edit(`Rename ${row.name}`, [update('layer', row, { name })])}
      />
      <RouteChoice row={row} />
      <Select
        label="Fitting"
        mt={8}
        allowDeselect={false}
        value={row.fitting}
        data={['cover', 'contain', 'stretch', 'one-to-one']}
        onChange={(v) =>
          v !== null && void edit(`Fit ${row.name}`, [update('layer', row, { fitting: v as typeof row.fitting })])
        }
      />
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField
          label="Anchor X"
          unit="%"
          scale={100}
          value={row.anchorX}
          onChange={(v) => edit(`Anchor ${row.name}`, [update('layer', row, { anchorX: v })])}
        />
        <NumberField
          label="Anchor Y"
          unit="%"
          scale={100}
          value={row.anchorY}
          onChange={(v) => edit(`Anchor ${row.name}`, [update('layer', row, { anchorY: v })])}
        />
      </div>
      <div className="row2" style={{ marginTop: 8 }}>
        <NameField
          label="Group"
          value={row.folder}
          onChange={(folder) => edit(`Group ${row.name}`, [update('layer', row, { folder })])}
        />
        <ColorInput
          label="Colour"
          placeholder="none"
          value={row.colour}
          onChangeEnd={(colour) =>
            void edit(`Colour ${row.name}`, [update('layer', row, { colour: colour.toLowerCase() })])
          }
        />
      </div>
      <div style={{ display: 'flex', gap: 16, marginTop: 10 }}>
        <Switch
          label="Locked"
          checked={row.locked}
          onChange={(e) =>
            void edit(`${row.locked ? 'Unlock' : 'Lock'} ${row.name}`, [
              update('layer', row, { locked: e.currentTarget.checked }),
            ])
          }
        />
        <Switch
          label="Hidden"
          checked={row.hidden}
          onChange={(e) =>
            void edit(`${row.hidden ? 'Show' : 'Hide'} ${row.name}`, [
              update('layer', row, { hidden: e.currentTarget.checked }),
            ])
          }
        />
      </div>
      <h3>Manual recall</h3>
      <MultiSelect
        label="Recall list"
        searchable
        value={row.stock}
        data={media.map((m) => ({ value: m.id, label: m.name }))}
        onChange={(stock) => void edit(`Recall list of ${row.name}`, [update('layer', row, { stock })])}
      />
      <NumberField
        label="Transition"
        unit="s"
        scale={1 / FLICKS}
        digits={2}
        value={row.transition}
        onChange={(transition) =>
          edit(`Transition of ${row.name}`, [update('layer', row, { transition: Math.max(0, Math.round(transition)) })])
        }
      />
      <Select
        label="Manual media"
        mt={8}
        allowDeselect={false}
        value={String(called ?? 0)}
        data={[
          { value: '0', label: 'its clips' },
          ...stock.map((m) => ({ value: String(referenceTo(m.id)), label: m.name })),
        ]}
        onChange={(number) =>
          number !== null &&
          void command({
            action: 'live',
            values: { [source]: number === '0' ? null : Number(number) },
            fade: row.transition,
          })
        }
      />
      <Effects on="layer" id={id} />
      <h3>Values</h3>
      <Values kind="layer" id={id} stored={row.values as Record<string, unknown>} />
      <Findings kind="layer" id={id} />
      <Remove kind="layer" id={id} name={row.name} />
    </>
  );
}

export function ClipDetails({ id }: { id: string }) {
  const row = useRow('clip', id);
  const media = useRow('media', row?.media);
  const layer = useRow('layer', row?.layer);
  const all = useRows('media');
  const show = useShow();
  const frame = show?.computed.flicksPerFrame ?? 1;
  const moves = show?.computed.clips[id] !== undefined;
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'clip'>>) =>
    edit(`Change ${media?.name ?? 'a clip'}`, [update('clip', row, fields)]);
  return (
    <>
      <h2>{media?.name ?? 'Clip'}</h2>
      <span className="dim">
        on{' '}
        <button
          type="button"
          className="plain"
          style={{ padding: '0 6px' }}
          onClick={() => select({ kind: 'layer', id: row.layer })}
        >
          {layer?.name}
        </button>
      </span>
      <div className="row2" style={{ marginTop: 8 }}>
        <TimeField label="Start" value={row.start} onChange={(start) => change({ start })} />
        <TimeField label="Length" value={row.length} onChange={(length) => change({ length })} />
        <TimeField label="In" value={row.in} onChange={(v) => change({ in: v })} />
        <TimeField label="End" value={row.start + row.length} onChange={(end) => change({ length: end - row.start })} />
        <TimeField label="Fade in" value={row.fadeIn} onChange={(fadeIn) => change({ fadeIn })} />
        <TimeField label="Fade out" value={row.fadeOut} onChange={(fadeOut) => change({ fadeOut })} />
        <NumberField
          label="Speed"
          unit="%"
          scale={100}
          digits={1}
          value={row.speed}
          onChange={(speed) => program({ action: 'speed', clip: id, speed })}
        />
        <NumberField
          label="Speed, stretch clip"
          unit="%"
          scale={100}
          digits={1}
          value={row.speed}
          onChange={(speed) => program({ action: 'speed', clip: id, speed, stretch: true, ripple: get().ripple })}
        />
        {moves && (
          <NumberField
            label="Slip (frames)"
            value={row.in / frame}
            digits={2}
            onChange={(frames) => program({ action: 'slip', clip: id, by: Math.round(frames * frame) - row.in })}
          />
        )}
        <TimeField label="Offset" value={row.offset} onChange={(offset) => change({ offset })} />
      </div>
      <Select
        label="Media"
        searchable
        allowDeselect={false}
        value={row.media}
        data={all.map((m) => ({ value: m.id, label: m.name }))}
        onChange={(v) => v !== null && v !== row.media && void program({ action: 'replace', clip: id, media: v })}
      />
      <Select
        label="Fitting"
        mt={8}
        allowDeselect={false}
        value={row.fitting ?? ''}
        data={[
          { value: '', label: `as the layer${layer === undefined ? '' : ` (${layer.fitting})`}` },
          'cover',
          'contain',
          'stretch',
          'one-to-one',
        ]}
        onChange={(v) => v !== null && void change({ fitting: v === '' ? null : v })}
      />
      {row.fitting !== null && (
        <div className="row2" style={{ marginTop: 8 }}>
          <NumberField
            label="Anchor X"
            unit="%"
            scale={100}
            value={row.anchorX ?? layer?.anchorX ?? 0.5}
            onChange={(anchorX) => change({ anchorX })}
          />
          <NumberField
            label="Anchor Y"
            unit="%"
            scale={100}
            value={row.anchorY ?? layer?.anchorY ?? 0.5}
            onChange={(anchorY) => change({ anchorY })}
          />
        </div>
      )}
      <Select
        label="End action"
        mt={8}
        allowDeselect={false}
        value={row.pastEnd}
        data={['hold', 'loop', 'bounce', 'dark']}
        onChange={(v) => v !== null && void change({ pastEnd: v as RowOf<'clip'>['pastEnd'] })}
      />
      <Switch
        mt={10}
        label="Own clock"
        description="Runs on when the timeline holds or jumps"
        checked={row.ownClock}
        onChange={(e) => void change({ ownClock: e.currentTarget.checked })}
      />
      <Effects on="clip" id={id} />
      <Findings kind="clip" id={id} />
      <Remove kind="clip" id={id} name={media?.name ?? 'a clip'} />
    </>
  );
}

export function MarkerDetails({ id }: { id: string }) {
  const row = useRow('marker', id);
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>Marker</h2>
      <NameField
        label="Name"
        value={row.name}
        onChange={(name) => edit(`Rename ${row.name}`, [update('marker', row, { name })])}
      />
      <TimeField
        label="Time"
        value={row.time}
        onChange={(time) => edit(`Move ${row.name}`, [update('marker', row, { time })])}
      />
      <ColorInput
        label="Colour"
        mt={8}
        placeholder="none"
        value={row.colour}
        onChangeEnd={(colour) =>
          void edit(`Colour ${row.name}`, [update('marker', row, { colour: colour.toLowerCase() })])
        }
      />
      <Remove kind="marker" id={id} name={row.name} />
    </>
  );
}

/** How a timeline follows its clock, in words. */
const CHASES: Record<string, string> = {
  locked: '● Follows its clock',
  waits: '▲ Waits until the clock is believed',
  jumped: '▲ Holds: the clock jumped. Play to follow it again',
  lost: '▲ The clock is not heard',
};

export function TimelineDetails({ id }: { id: string }) {
  const row = useRow('timeline', id);
  const lines = useRows('timeline');
  const [latency, setLatency] = useState(tapLatency);
  const [fade, setFade] = useState(jumpFade);
  const [measuring, setMeasuring] = useState(false);
  const chase = useStudio((s) => s.health?.chases?.[id]);
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>{row.name}</h2>
      <NameField
        label="Name"
        value={row.name}
        onChange={(name) => edit(`Rename ${row.name}`, [update('timeline', row, { name })])}
      />
      <TimeField
        label="Duration"
        value={row.duration}
        onChange={(duration) => edit(`Change the length of ${row.name}`, [update('timeline', row, { duration })])}
      />
      <NumberField
        label="Order"
        unit=""
        value={row.order}
        digits={0}
        onChange={(order) => edit(`Move ${row.name}`, [update('timeline', row, { order: Math.round(order) })])}
      />
      <Select
        label="End action"
        mt={8}
        allowDeselect={false}
        value={row.end}
        data={[
          { value: 'hold', label: 'hold' },
          { value: 'loop', label: 'loop' },
          { value: 'next', label: 'go on to another' },
        ]}
        onChange={(v) =>
          v !== null &&
          void edit(`Change the end of ${row.name}`, [update('timeline', row, { end: v as typeof row.end })])
        }
      />
      {row.end === 'next' && (
        <Select
          label="Timeline that follows"
          mt={8}
          clearable
          placeholder="none"
          value={row.then}
          data={lines.filter((l) => l.id !== id).map((l) => ({ value: l.id, label: l.name }))}
          onChange={(then) => void edit(`Change the end of ${row.name}`, [update('timeline', row, { then })])}
        />
      )}
      <h3>External clock</h3>
      <div className="row2">
        <NameField
          label="Clock"
          placeholder="none"
          hint="LTC, MTC, Art-Net timecode, Time of day, or a name that comes over OSC: /kite/clock"
          value={row.clock}
          onChange={(clock) => edit(`Clock of ${row.name}`, [update('timeline', row, { clock: clock.trim() })])}
        />
        <TimeField
          label="Clock offset"
          value={row.clockStart}
          onChange={(clockStart) => edit(`Clock of ${row.name}`, [update('timeline', row, { clockStart })])}
        />
        {row.clock !== '' && (
          <TimeField
            label="Freewheel"
            value={row.freewheel}
            onChange={(freewheel) => edit(`Clock of ${row.name}`, [update('timeline', row, { freewheel })])}
          />
        )}
        {row.clock !== '' && (
          <>
            <Select
              label="At a jump of the clock"
              allowDeselect={false}
              value={row.clockJump}
              data={[
                { value: 'follow', label: 'Follow' },
                { value: 'hold', label: 'Hold' },
              ]}
              onChange={(v) =>
                v !== null && void edit(`Clock of ${row.name}`, [update('timeline', row, { clockJump: v })])
              }
            />
            <TimeField
              label="Believe after"
              value={row.clockBelieve}
              onChange={(clockBelieve) => edit(`Clock of ${row.name}`, [update('timeline', row, { clockBelieve })])}
            />
            <NumberField
              label="Ignore below"
              unit="frames"
              digits={0}
              value={row.clockIgnore}
              onChange={(v) => edit(`Clock of ${row.name}`, [update('timeline', row, { clockIgnore: Math.round(v) })])}
            />
          </>
        )}
      </div>
      {row.clock !== '' && (
        <>
          <Switch
            label="A late start joins"
            mt={8}
            checked={!row.clockWaits}
            onChange={(e) =>
              void edit(`Clock of ${row.name}`, [update('timeline', row, { clockWaits: !e.currentTarget.checked })])
            }
          />
          {chase !== undefined && (
            <p role="status" className={chase.state === 'locked' ? 'state-ok' : 'state-attention'}>
              {CHASES[chase.state] ?? chase.state}, <span className="mono">{Math.abs(chase.error).toFixed(1)}</span>{' '}
              frames {chase.error < 0 ? 'behind' : 'ahead'}
            </p>
          )}
        </>
      )}
      <h3>Beats</h3>
      <div className="row2">
        <NumberField
          label="Tempo BPM"
          value={row.bpm}
          digits={1}
          hint="0 for none"
          onChange={(bpm) => edit(`Tempo of ${row.name}`, [update('timeline', row, { bpm })])}
        />
        <NumberField
          label="Beats per bar"
          value={row.beats}
          digits={0}
          onChange={(v) => edit(`Bars of ${row.name}`, [update('timeline', row, { beats: Math.round(v) })])}
        />
        <NumberField
          label="Tap latency"
          unit="ms"
          value={latency}
          digits={0}
          hint="Taken off each tap; kept with this browser"
          onChange={(ms) => {
            setTapLatency(ms);
            setLatency(ms);
          }}
        />
        <NumberField
          label="Jump fade"
          unit="s"
          value={fade}
          scale={1 / FLICKS}
          digits={2}
          hint="Of a press with Alt on the ruler; kept with this browser"
          onChange={(flicks) => {
            setJumpFade(Math.max(0, Math.round(flicks)));
            setFade(Math.max(0, Math.round(flicks)));
          }}
        />
        <button type="button" className="plain" style={{ alignSelf: 'end' }} onClick={() => setMeasuring(true)}>
          Measure tap latency
        </button>
        <TimeField
          label="First beat"
          value={row.firstBeat}
          onChange={(firstBeat) => edit(`First beat of ${row.name}`, [update('timeline', row, { firstBeat })])}
        />
      </div>
      {measuring && (
        <TapMeasure
          onClose={() => setMeasuring(false)}
          onMeasured={(ms) => {
            setTapLatency(ms);
            setLatency(ms);
          }}
        />
      )}
      <h3>Values</h3>
      <Values kind="timeline" id={id} stored={row.values as Record<string, unknown>} />
      <Remove kind="timeline" id={id} name={row.name} />
    </>
  );
}
