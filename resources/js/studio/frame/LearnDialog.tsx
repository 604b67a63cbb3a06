import { Modal } from '@mantine/core';
import { useEffect, useState } from 'react';
import type { ControlEntry } from '../../live/messages';
import { complain } from '../complain';
import { learn, moved, useControls, watchControls } from '../controls';
import { NumberField } from '../fields/fields';
import { bindings, go } from '../store';

/** Sources whose controls are told from what arrives. */
const LEARNED = ['midi', 'osc', 'keys', 'dmx', 'http'] as const;
const sourceOf = (source: string) => LEARNED.find((one) => one === source);

/** What a control sent, for the eye. */
export const sentOf = (raw: ControlEntry['raw']) =>
  raw.map((v) => (typeof v === 'number' ? Number(v.toFixed(3)) : JSON.stringify(v))).join(' ');

/** Waits for a control to be moved, and binds it: of several targets, one control after another. */
export function LearnDialog() {
  const learning = useControls((s) => s.learning);
  return learning === null ? null : <Learn key={learning.targets.map((t) => t.target).join()} />;
}

function Learn() {
  const learning = useControls((s) => s.learning);
  const events = useControls((s) => s.events);
  const [from] = useState(() => events[events.length - 1]?.n ?? 0);
  const [taken, setTaken] = useState<ReturnType<typeof moved>>([]);
  const [key, setKey] = useState<string | null>(null);
  const [ends, setEnds] = useState(false);
  const [page, setPage] = useState(0);
  const [busy, setBusy] = useState(false);
  useEffect(watchControls, []);
  if (learning === null) return null;
  const several = learning.targets.length > 1;
  const used = new Set(taken.map((t) => t.key));
  const heard = moved(events.filter((e) => e.n > from && sourceOf(e.source) !== undefined)).filter(
    (c) => !used.has(c.key),
  );
  const chosen = heard.find((c) => c.key === key) ?? heard[0];
  const now = learning.targets[taken.length];
  const close = () => learn(null);
  const bind = async (controls: ReturnType<typeof moved>) => {
    const [first] = controls;
    if (first === undefined) return;
    const { source, device } = first.first;
    if (controls.some((c) => c.first.source !== source || c.first.device !== device)) {
      complain(new Error('The controls are of several devices. Learn those of one device together.'));
      return;
    }
    setBusy(true);
    const sent = controls.map((c) => c.sent.slice(-500));
    const made = await bindings(
      learning.binding !== undefined
        ? { action: 'learn', binding: learning.binding, events: sent, ends }
        : {
            action: 'bind',
            meaning: learning.meaning as 'value',
            targets: learning.targets.slice(0, controls.length).map((t) => t.target),
            protocol: sourceOf(source) ?? 'midi',
            // A sender of OSC and a window's keys are any: a device is named where it is told apart.
            port: source === 'osc' || source === 'keys' ? '' : device,
            events: sent,
            ends,
            page,
          },
    );
    setBusy(false);
    if (made === null) return;
    close();
    const id = made[0];
    if (id !== undefined && !several) go('bindings', { kind: 'binding', id });
  };
  const next = () => {
    if (chosen === undefined) return;
    const all = [...taken, chosen];
    if (all.length < learning.targets.length) {
      setTaken(all);
      setKey(null);
    } else void bind(all);
  };
  return (
    <Modal opened onClose={close} centered title="Learn a control" size={460}>
      <div data-learning style={{ display: 'grid', gap: 10 }}>
        <p style={{ margin: 0 }}>
          {several && (
            <span className="mono dim">
              {taken.length + 1} of {learning.targets.length}{' '}
            </span>
          )}
          Move or press a control for <strong>{now?.name}</strong>.
        </p>
        <div role="radiogroup" aria-label="Controls that were moved" style={{ display: 'grid', gap: 4, minHeight: 96 }}>
          {heard.length === 0 && <span className="dim">Waiting…</span>}
          {heard.slice(0, 5).map((c) => (
            <label key={c.key} className="choice">
              <input type="radio" name="control" checked={c === chosen} onChange={() => setKey(c.key)} />
              <span style={{ flex: 1 }}>
                {c.first.label} <span className="dim">{c.first.device}</span>
              </span>
              <span className="mono">{sentOf(c.sent[c.sent.length - 1]?.[1] ?? [])}</span>
            </label>
          ))}
        </div>
        <label className="choice">
          <input type="checkbox" checked={ends} onChange={(e) => setEnds(e.currentTarget.checked)} />
          It was moved from end to end: what it sent is its range
        </label>
        {learning.binding === undefined && (
          <NumberField
            label="Page (0 = all)"
            digits={0}
            value={page}
            onChange={(v) => setPage(Math.max(0, Math.min(99, Math.round(v))))}
          />
        )}
        <div style={{ display: 'flex', gap: 8, justifyContent: 'end' }}>
          {several && taken.length > 0 && (
            <button type="button" className="plain" disabled={busy} onClick={() => void bind(taken)}>
              Bind these {taken.length}
            </button>
          )}
          <button type="button" className="plain" onClick={close}>
            Cancel
          </button>
          <button type="button" className="plain primary" disabled={chosen === undefined || busy} onClick={next}>
            {taken.length + 1 < learning.targets.length ? 'Next' : 'Bind'}
          </button>
        </div>
      </div>
    </Modal>
  );
}
