import { Slider } from '@mantine/core';
import { useRef, useState } from 'react';
import { useEveryFrame, useShow } from '../hooks';
import { command, useStudio } from '../store';
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

export function Master() {
  const value = useStudio((s) => s.values.master ?? 1);
  const [mine, setMine] = useState<number | null>(null);
  const sent = useRef(0);
  const send = (v: number) => void command({ do: 'live', values: { master: v >= 1 ? null : v } });
  return (
    <div style={{ display: 'flex', alignItems: 'center', gap: 10, width: 212, flex: 'none' }}>
      <span className="dim" style={{ fontSize: 13 }}>
        Master
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
export const useOnAir = () => useStudio((s) => s.up && (s.health?.players.length ?? 0) > 0 && (s.values.master ?? 1) > 0);

export function Loose() {
  const values = useStudio((s) => s.values);
  const lanes = Object.keys(values).filter((l) => l !== 'master');
  if (lanes.length === 0) return null;
  return <span className="looseval">{lanes.length} loose</span>;
}

export function TransportBar() {
  const transport = useStudio((s) => s.transport);
  const up = useStudio((s) => s.up);
  const onAir = useOnAir();
  const running = transport?.running === true;
  return (
    <footer className="transport" aria-label="Transport">
      <Clock className="clock" />
      <button type="button" className="plain" disabled={!up} aria-pressed={running} onClick={() => void command({ do: running ? 'hold' : 'play' })} title="Space" style={{ width: 64, textAlign: 'center' }}>
        {running ? 'Hold' : 'Play'}
      </button>
      <span style={{ display: 'flex', alignItems: 'center', gap: 8, minWidth: 0, flex: 1 }}>
        <button type="button" className="plain" disabled={!up} onClick={() => void command({ do: 'go' })} title="G">
          Go
        </button>
        <span style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {transport?.next ? (
            <>
              <span className="dim">{transport.waiting && transport.next.time === transport.position ? 'waits at' : 'next'}</span> <span className="mono">{transport.next.number}</span> {transport.next.name}
            </>
          ) : (
            <span className="dim">no further cue</span>
          )}
        </span>
      </span>
      <Loose />
      <Master />
      <span className={`onair ${onAir ? 'on' : ''}`} role="status">
        <span className="glow" />
        {!up ? 'Engine gone' : onAir ? (running ? 'On air' : 'On air, holding') : 'Off air'}
      </span>
      <Kite size={12} className="dim" />
    </footer>
  );
}
