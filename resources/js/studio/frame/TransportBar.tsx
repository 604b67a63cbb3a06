import { Popover, Slider } from '@mantine/core';
import { useRef, useState } from 'react';
import { properties } from '../../api/kinds';
import { inWords } from '../../live/property';
import { named } from '../cues';
import { useDriven, useEveryFrame, useRow, useShow, useTransport } from '../hooks';
import { setSound, useSound } from '../sound';
import { command, drive, drivenId, get, keep, position, shown, shownHead, timelinesOf, useStudio } from '../store';
import { timecode } from '../time';
import { Kite } from './Kite';

const drivenPosition = () => position(drivenId());

/** The timecode of the driven timeline, written sixty times a second without React. */
export function Clock({ className }: { className: string }) {
  const show = useShow();
  const ref = useRef<HTMLSpanElement>(null);
  useEveryFrame((position) => {
    if (ref.current !== null && show !== undefined) {
      const text = timecode(position, show.frameRate, show.computed.flicksPerFrame);
      if (ref.current.textContent !== text) ref.current.textContent = text;
    }
  }, drivenPosition);
  return <span ref={ref} className={`mono ${className}`} data-testid="clock" />;
}

export const MASTER = 'master:show/level';

export function Master() {
  const value = useStudio((s) => s.values[MASTER] ?? 1);
  const [mine, setMine] = useState<number | null>(null);
  const sent = useRef(0);
  const send = (v: number) => void command({ action: 'live', values: { [MASTER]: v >= 1 ? null : v } });
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
export const useOnAir = () =>
  useStudio((s) => s.up && (s.health?.players.length ?? 0) > 0 && (s.values[MASTER] ?? 1) > 0);

/** Loose values with how many there are; open, each of them, kept or discarded one by one or all together. */
export function Loose() {
  const show = useShow();
  const values = useStudio((s) => s.values);
  const [open, setOpen] = useState(false);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const all = Object.keys(values).filter((l) => l !== MASTER);
  if (all.length === 0) return null;
  const chosen = all.filter((a) => !left.has(a));
  return (
    <Popover opened={open} onChange={setOpen} position="top" withinPortal trapFocus>
      <Popover.Target>
        <button
          type="button"
          className="looseval"
          style={{ background: 'none', cursor: 'pointer', font: 'inherit' }}
          aria-expanded={open}
          onClick={() => setOpen((o) => !o)}
        >
          {all.length} loose
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        <div
          role="group"
          aria-label="Loose values"
          style={{ display: 'grid', gap: 6, maxHeight: 320, overflow: 'auto', minWidth: 280, fontSize: 13 }}
        >
          {all.slice(0, 200).map((address) => {
            const { of, label, property } = named(show, address);
            return (
              <label key={address} style={{ display: 'flex', gap: 8 }}>
                <input
                  type="checkbox"
                  checked={!left.has(address)}
                  onChange={(e) => {
                    const next = new Set(left);
                    if (e.currentTarget.checked) next.delete(address);
                    else next.add(address);
                    setLeft(next);
                  }}
                />
                <span style={{ flex: 1 }}>
                  {of} · {label}
                </span>
                <span className="mono">
                  {property === undefined ? values[address] : inWords(property, values[address] ?? 0)}
                </span>
              </label>
            );
          })}
        </div>
        <div style={{ display: 'flex', gap: 6, marginTop: 10 }}>
          <button
            type="button"
            className="plain primary"
            disabled={chosen.length === 0}
            onClick={() => void keep(chosen, false)}
          >
            Keep {chosen.length}
          </button>
          <button
            type="button"
            className="plain"
            disabled={chosen.length === 0}
            onClick={() => void keep(chosen, true)}
          >
            Keep as keyframes
          </button>
          <button
            type="button"
            className="plain"
            disabled={chosen.length === 0}
            onClick={() => void command({ action: 'live', values: Object.fromEntries(chosen.map((a) => [a, null])) })}
          >
            Discard {chosen.length}
          </button>
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}

/** The clock from outside that the timeline follows, and whether it is heard. */
function Follows() {
  useStudio((s) => s.told);
  const clock = shownHead(drivenId())?.message.clock;
  const timeline = useDriven();
  if (clock === undefined) return null;
  return (
    <span
      className={clock === 'locked' ? 'state-ok' : 'state-attention'}
      role="status"
      style={{ whiteSpace: 'nowrap' }}
    >
      {clock === 'locked' ? '●' : '▲'} {timeline?.clock} {clock}
    </span>
  );
}

const RATES = [0.1, 0.25, 0.5, 1, 2, 4];

/** How fast it runs, backwards too, and the range that is repeated. */
function Pace() {
  useStudio((s) => s.told);
  const head = shownHead(drivenId());
  const rate = head?.message.rate ?? 1;
  const loop = head?.message.loop;
  return (
    <>
      <select
        className="plain"
        aria-label="Rate"
        title="Rate"
        value={String(rate)}
        onChange={(e) => void command({ action: 'rate', rate: Number(e.currentTarget.value) })}
      >
        {[...RATES.map((r) => -r).reverse(), ...RATES, ...(RATES.includes(Math.abs(rate)) ? [] : [rate])].map((r) => (
          <option key={r} value={String(r)}>
            {r < 0 ? `−${-r}` : r} ×
          </option>
        ))}
      </select>
      <button
        type="button"
        className="plain"
        aria-pressed={loop !== undefined}
        title="Loop from the playhead (one bar, or 4 s), or the ruler's range; again to end it"
        onClick={() => void command(loop !== undefined ? { action: 'loop' } : loopHere())}
      >
        Loop
      </button>
    </>
  );
}

/** What is repeated when nothing else was said: the clip that is chosen, else what the engine takes from the playhead on. */
function loopHere() {
  const { selected } = get();
  const clip = selected?.kind === 'clip' ? shown()?.rows.clip.find((c) => c.id === selected.id) : undefined;
  return clip === undefined
    ? { action: 'loop' as const, here: true }
    : { action: 'loop' as const, from: clip.start, to: clip.start + clip.length };
}

/** The timelines of the show, of which the transport drives one; what is beside it goes on. */
function Timelines() {
  const show = useShow();
  const lines = timelinesOf(show);
  const timeline = useDriven();
  if (lines.length < 2) return null;
  return (
    <select
      className="plain"
      aria-label="Timeline"
      style={{ maxWidth: 150 }}
      value={timeline?.id ?? ''}
      title="The timeline that play, hold and Go act on"
      onChange={(e) => void drive(e.currentTarget.value)}
    >
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
  const { running, next, waiting, on, there } = useTransport();
  const timeline = useDriven();
  const desk = useStudio((s) => s.view === 'run');
  const lines = timelinesOf(show);
  const cue = useRow('cue', next ?? undefined);
  const up = useStudio((s) => s.up);
  const air = useStudio((s) => s.air);
  const onAir = useOnAir();
  const sound = useSound((s) => s.on);
  const looked = show !== undefined && air !== null && show.id !== air;
  return (
    <footer className="transport" aria-label="Transport">
      <Clock className="clock" />
      {!desk && (
        <button
          type="button"
          className="plain"
          disabled={!up || !there}
          aria-pressed={running}
          onClick={() => void command({ action: running ? 'hold' : 'play' })}
          title="Space"
          style={{ width: 64, textAlign: 'center' }}
        >
          {running ? 'Hold' : 'Play'}
        </button>
      )}
      <button
        type="button"
        className="plain"
        disabled={!up || !there}
        title="Back to the start, standing"
        onClick={() => void command({ action: 'stop' })}
      >
        Stop
      </button>
      <Pace />
      <Follows />
      <Timelines />
      {on && timeline !== undefined && lines[0]?.id !== timeline.id && (
        <button
          type="button"
          className="plain"
          disabled={!up || !there}
          onClick={() => void command({ action: 'off' })}
          title="Turn this timeline off"
        >
          Off
        </button>
      )}
      {desk ? (
        <span style={{ flex: 1 }} />
      ) : (
        <span style={{ display: 'flex', alignItems: 'center', gap: 8, minWidth: 0, flex: 1 }}>
          <button
            type="button"
            className="plain"
            disabled={!up || !there}
            onClick={() => void command({ action: 'go' })}
            title="G"
          >
            Go
          </button>
          <span style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
            {cue !== undefined ? (
              <>
                <span className="dim">{waiting ? 'waits at' : 'next'}</span> <span className="mono">{cue.number}</span>{' '}
                {cue.name}
              </>
            ) : (
              <span className="dim">no further cue</span>
            )}
          </span>
        </span>
      )}
      <Loose />
      <button
        type="button"
        className="plain"
        aria-pressed={sound}
        title="This window plays the sound"
        onClick={() => setSound(!sound)}
      >
        {sound ? 'Sound on' : 'Sound'}
      </button>
      {!desk && <Master />}
      <span className={`onair ${onAir && !looked ? 'on' : ''}`} role="status">
        <span className="glow" />
        {!up
          ? 'Engine gone'
          : looked
            ? 'Looked at, not on air'
            : onAir
              ? running
                ? 'On air'
                : 'On air, holding'
              : 'Off air'}
      </span>
      <Kite size={12} className="dim" />
    </footer>
  );
}
