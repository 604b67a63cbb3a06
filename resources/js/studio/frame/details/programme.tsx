import { Select, Switch } from '@mantine/core';
import type { RowOf } from '../../../api/client';
import { NameField, NumberField, TimeField } from '../../fields/fields';
import { useRow, useRows } from '../../hooks';
import { edit, select, update } from '../../store';
import { Findings, Gone, Remove } from '../parts';
import { Aims } from './aims';
import { Values } from './values';

export function LayerDetails({ id }: { id: string }) {
  const row = useRow('layer', id);
  const surfaces = useRows('surface');
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('layer', row, { name })])} />
      <Aims row={row} surfaces={surfaces} />
      <Select
        label="Fitting"
        mt={8}
        allowDeselect={false}
        value={row.fitting}
        data={['cover', 'contain', 'stretch', 'one-to-one']}
        onChange={(v) => v !== null && void edit(`Fit ${row.name}`, [update('layer', row, { fitting: v as typeof row.fitting })])}
      />
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField label="Anchor X" unit="%" scale={100} value={row.anchorX} onChange={(v) => edit(`Anchor ${row.name}`, [update('layer', row, { anchorX: v })])} />
        <NumberField label="Anchor Y" unit="%" scale={100} value={row.anchorY} onChange={(v) => edit(`Anchor ${row.name}`, [update('layer', row, { anchorY: v })])} />
      </div>
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
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'clip'>>) => edit(`Change ${media?.name ?? 'a clip'}`, [update('clip', row, fields)]);
  return (
    <>
      <h2>{media?.name ?? 'Clip'}</h2>
      <span className="dim">
        on{' '}
        <button type="button" className="plain" style={{ padding: '0 6px' }} onClick={() => select({ kind: 'layer', id: row.layer })}>
          {layer?.name}
        </button>
      </span>
      <div className="row2" style={{ marginTop: 8 }}>
        <TimeField label="Start" value={row.start} onChange={(start) => change({ start })} />
        <TimeField label="Length" value={row.length} onChange={(length) => change({ length })} />
        <TimeField label="In" value={row.in} onChange={(v) => change({ in: v })} />
        <TimeField label="End" value={row.start + row.length} onChange={(end) => change({ length: end - row.start })} />
      </div>
      <Select label="After end" mt={8} allowDeselect={false} value={row.pastEnd} data={['hold', 'loop']} onChange={(v) => v !== null && void change({ pastEnd: v as 'hold' | 'loop' })} />
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
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('marker', row, { name })])} />
      <TimeField label="Time" value={row.time} onChange={(time) => edit(`Move ${row.name}`, [update('marker', row, { time })])} />
      <Remove kind="marker" id={id} name={row.name} />
    </>
  );
}

export function CueDetails({ id }: { id: string }) {
  const row = useRow('cue', id);
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'cue'>>) => edit(`Change cue ${row.number}`, [update('cue', row, fields)]);
  return (
    <>
      <h2>Cue {row.number}</h2>
      <div className="row2">
        <NameField label="Number" value={row.number} onChange={(number) => change({ number })} />
        <TimeField label="Time" value={row.time} onChange={(time) => change({ time })} />
      </div>
      <NameField label="Name" value={row.name} onChange={(name) => change({ name })} />
      <Switch mt={12} label="Hold point: playback waits here for Go" checked={row.holds} onChange={(e) => void change({ holds: e.currentTarget.checked })} />
      <Findings kind="cue" id={id} />
      <Remove kind="cue" id={id} name={`cue ${row.number}`} />
    </>
  );
}

export function TimelineDetails({ id }: { id: string }) {
  const row = useRow('timeline', id);
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('timeline', row, { name })])} />
      <TimeField label="Duration" value={row.duration} onChange={(duration) => edit(`Change the length of ${row.name}`, [update('timeline', row, { duration })])} />
      <NumberField label="Order" unit="" value={row.order} digits={0} onChange={(order) => edit(`Move ${row.name}`, [update('timeline', row, { order: Math.round(order) })])} />
      <h3>Values</h3>
      <Values kind="timeline" id={id} stored={row.values as Record<string, unknown>} />
      <Remove kind="timeline" id={id} name={row.name} />
    </>
  );
}
