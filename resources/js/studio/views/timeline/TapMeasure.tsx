import { Modal } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { latencyOf } from './latency';

/** Ms between two clicks, and how many there are. */
const EVERY = 500;
const CLICKS = 24;

/** Clicks to tap along with, so that the latency of ear, hand and key is known. */
export function TapMeasure({ onClose, onMeasured }: { onClose: () => void; onMeasured: (ms: number) => void }) {
  const [taps, setTaps] = useState<number[]>([]);
  const clicks = useRef<number[]>([]);
  useEffect(() => {
    const context = new AudioContext({ latencyHint: 'interactive' });
    const begin = context.currentTime + 0.6;
    const heard = () => {
      const stamp = context.getOutputTimestamp?.();
      return stamp?.contextTime !== undefined && stamp.performanceTime !== undefined && stamp.performanceTime > 0
        ? stamp.performanceTime - stamp.contextTime * 1000
        : performance.now() - (context.currentTime - (context.outputLatency || 0)) * 1000;
    };
    for (let i = 0; i < CLICKS; i++) {
      const when = begin + (i * EVERY) / 1000;
      const node = context.createOscillator();
      const gain = context.createGain();
      node.frequency.value = i % 4 === 0 ? 1600 : 1000;
      gain.gain.setValueAtTime(0.5, when);
      gain.gain.exponentialRampToValueAtTime(0.001, when + 0.04);
      node.connect(gain).connect(context.destination);
      node.start(when);
      node.stop(when + 0.05);
    }
    const tap = (e: KeyboardEvent | PointerEvent) => {
      if (e instanceof KeyboardEvent && (e.repeat || e.key === 'Escape' || e.key === 'Tab')) return;
      if (e instanceof PointerEvent && (e.target as Element).closest('button') !== null) return;
      e.preventDefault();
      e.stopPropagation();
      const at = e.timeStamp;
      clicks.current = Array.from({ length: CLICKS }, (_, i) => heard() + begin * 1000 + i * EVERY);
      setTaps((all) => [...all, at]);
    };
    addEventListener('keydown', tap, true);
    addEventListener('pointerdown', tap, true);
    void context.resume();
    return () => {
      removeEventListener('keydown', tap, true);
      removeEventListener('pointerdown', tap, true);
      void context.close();
    };
  }, []);
  const found = latencyOf(taps, clicks.current);
  return (
    <Modal opened onClose={onClose} title="Measure tap latency" size="sm">
      <p>Tap any key, or here, with the clicks. Twelve taps are enough.</p>
      <p className="mono" role="status" style={{ fontSize: 20, minHeight: 60 }}>
        {taps.length} {taps.length === 1 ? 'tap' : 'taps'}
        {found !== null && (
          <>
            <br />
            {found.latency.toFixed(0)} ms, ± {found.spread.toFixed(0)} ms
          </>
        )}
      </p>
      <button
        type="button"
        className="plain primary"
        disabled={found === null}
        onClick={() => {
          if (found !== null) onMeasured(Math.round(found.latency));
          onClose();
        }}
      >
        Use it
      </button>
    </Modal>
  );
}
