import { Slider } from '@mantine/core';
import { useRef, useState } from 'react';
import { properties } from '../../api/kinds';
import { useEveryFrame, useRow, useShow, useTimeline, useTransport } from '../hooks';
import { command, set, timelinesOf, useStudio } from '../store';
import { timecode } from '../time';
import { Kite } from './Kite';

/** The show's timecode, written sixty times a second without React. */
export function Clock({ className }: { className: string }) {
  const show = useShow();
  const ref = useRef<HTMLSpanElement>(null);
  useEveryFrame((position) => {
    if (ref.current !== null && show !== undefined) {
      const text = timecode(position, show.frameRate, show.computed.flicksPerFrame);
      if (ref.current.textContent !== text) ref.current.textContent = text;
    }
  });
  return <span ref={ref} className={`mono ${className}`} data-testid="clock" />;
}

export const MASTER = 'master:show/level';

export function Master() {
  const value = useStudio((s) => s.values[MASTER] ?? 1);
  const [mine, setMine] = useState<number | null>(null);
  const sent = useRef(0);
  const send = (v: number) => void command({ do: 'live', values: { [MASTER]: v >= 1 ? null : v } });
  return (
    <div style={{ display: 'flex', alignItems: 'center', gap: 10, width: 212, flex: 'none' }}>
      <span className="dim" style={{ fontSize: 13 }}>
        {properties.master[0]?.label}
      </span>
      <Slider
        thumbLabel="Master"
        style={{ flex: 1 }}
        size={4}
        min={0}
        max={100}
        label={null}
        value={Math.round((mine ?? value) * 100)}
        onChange={(v) => {
          setMine(v / 100);
          if (performance.now() - sent.current > 40) {
            sent.current = performance.now();
            send(v / 100);
          }
        }}
        onChangeEnd={(v) => {
          setMine(null);
          send(v / 100);
        }}
        color="var(--kl-kite)"
      />
      <span className="mono" style={{ width: 56, textAlign: 'right', whiteSpace: 'nowrap' }}>
        {Math.round((mine ?? value) * 100)} %
      </span>
    </div>
  );
}

/** On air: light leaves the building, running or held, by at least one player. */
export const useOnAir = () => useStudio((s) => s.up && (s.health?.players.length ?? 0) > 0 && (s.values[MASTER] ?? 1) > 0);

export function Loose() {
  const values = useStudio((s) => s.values);
  const lanes = Object.keys(values).filter((l) => l !== MASTER);
  if (lanes.length === 0) return null;
  return <span className="looseval">{lanes.length} loose</span>;
}

/** The timelines of the show, of which the transport drives one; what is beside it goes on. */
function Timelines() {
  const show = useShow();
  const lines = timelinesOf(show);
  const timeline = useTimeline();
  if (lines.length < 2) return null;
  return (
    <select className="plain" aria-label="Timeline" style={{ maxWidth: 150 }} value={timeline?.id ?? ''} onChange={(e) => set({ timelineId: e.currentTarget.value })}>
      {lines.map((l) => (
        <option key={l.id} value={l.id}>
          {l.name}
        </option>
      ))}
    </select>
  );
}

export function TransportBar() {
  const show = useShow();
  const { running, position, next, waiting, on, there } = useTransport();
  const timeline = useTimeline();
  const lines = timelinesOf(show);
  const cue = useRow('cue', next ?? undefined);
  const up = useStudio((s) => s.up);
  const air = useStudio((s) => s.air);
  const onAir = useOnAir();
  const looked = show !== undefined && air !== null && show.id !== air;
  return (
    <footer className="transport" aria-label="Transport">
      <Clock className="clock" />
      <button type="button" className="plain" disabled={!up || !there} aria-pressed={running} onClick={() => void command({ do: running ? 'hold' : 'play' })} title="Space" style={{ width: 64, textAlign: 'center' }}>
        {running ? 'Hold' : 'Play'}
      </button>
      <Timelines />
      {on && timeline !== undefined && lines[0]?.id !== timeline.id && (
        <button type="button" className="plain" disabled={!up || !there} onClick={() => void command({ do: 'off' })} title="Turn this timeline off">
          Off
        </button>
      )}
      <span style={{ display: 'flex', alignItems: 'center', gap: 8, minWidth: 0, flex: 1 }}>
        <button type="button" className="plain" disabled={!up || !there} onClick={() => void command({ do: 'go' })} title="G">
          Go
        </button>
        <span style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {cue !== undefined ? (
            <>
              <span className="dim">{waiting && cue.time === position ? 'waits at' : 'next'}</span> <span className="mono">{cue.number}</span> {cue.name}
            </>
          ) : (
            <span className="dim">no further cue</span>
          )}
        </span>
      </span>
      <Loose />
      <Master />
      <span className={`onair ${onAir && !looked ? 'on' : ''}`} role="status">
        <span className="glow" />
        {!up ? 'Engine gone' : looked ? 'Looked at, not on air' : onAir ? (running ? 'On air' : 'On air, holding') : 'Off air'}
      </span>
      <Kite size={12} className="dim" />
    </footer>
  );
}
