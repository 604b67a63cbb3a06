import { Modal } from '@mantine/core';
import { useRef, useState } from 'react';
import type { RowOf } from '../../../api/client';
import { NumberField, settled } from '../../fields/fields';

interface Measured {
  white: number;
  black: number;
  x: number;
  y: number;
}

interface Matched {
  matched?: { white: number; black: number; costs: Record<string, number> };
}

/** Daylight at 6504 K. */
const D65 = { x: 0.3127, y: 0.329 };

/** Takes what a meter says of white and black through several outputs, and brings them to one. */
export function MatchDialog({
  close,
  outputs,
  match,
}: {
  close: () => void;
  outputs: RowOf<'output'>[];
  match: (measured: Record<string, Measured>) => Promise<Matched | null>;
}) {
  const [measured, setMeasured] = useState<Record<string, Measured>>(() =>
    Object.fromEntries(outputs.map((o) => [o.id, { white: 0, black: 0, ...D65 }])),
  );
  const [said, setSaid] = useState<Matched | null>(null);
  const set = (id: string, field: keyof Measured) => (value: number) =>
    setMeasured((old) => ({ ...old, [id]: { ...(old[id] as Measured), [field]: value } }));
  const knownOf = (of: Record<string, Measured>) =>
    Object.fromEntries(Object.entries(of).filter(([, m]) => m.white > 0));
  const known = knownOf(measured);
  const latest = useRef(measured);
  latest.current = measured;
  return (
    <Modal opened onClose={close} title="Match projectors" size="lg">
      <p className="dim" style={{ fontSize: 13, marginTop: 0 }}>
        A full white and a full black of each, on the same surface, in any one measure; x and y of its white. What is
        not measured stays as it is.
      </p>
      <div
        style={{
          display: 'grid',
          gridTemplateColumns: '1fr repeat(4, 92px) 70px',
          gap: 6,
          alignItems: 'end',
          maxHeight: 380,
          overflow: 'auto',
        }}
      >
        {outputs.map((o) => (
          <div key={o.id} style={{ display: 'contents' }}>
            <span style={{ paddingBottom: 8, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
              {o.name}
            </span>
            <NumberField
              label="White"
              aria-label={`White of ${o.name}`}
              value={measured[o.id]?.white ?? 0}
              onChange={set(o.id, 'white')}
            />
            <NumberField
              label="Black"
              aria-label={`Black of ${o.name}`}
              value={measured[o.id]?.black ?? 0}
              onChange={set(o.id, 'black')}
            />
            <NumberField
              label="x"
              aria-label={`x of ${o.name}`}
              digits={4}
              value={measured[o.id]?.x ?? D65.x}
              onChange={set(o.id, 'x')}
            />
            <NumberField
              label="y"
              aria-label={`y of ${o.name}`}
              digits={4}
              value={measured[o.id]?.y ?? D65.y}
              onChange={set(o.id, 'y')}
            />
            <span className="mono dim" style={{ paddingBottom: 8 }}>
              {said?.matched?.costs[o.id] === undefined
                ? ''
                : `−${((said.matched.costs[o.id] ?? 0) * 100).toFixed(1)} %`}
            </span>
          </div>
        ))}
      </div>
      {said?.matched !== undefined && (
        <p role="status">
          All give <span className="mono">{said.matched.white.toFixed(2)}</span> white and{' '}
          <span className="mono">{said.matched.black.toFixed(3)}</span> black.
        </p>
      )}
      <p style={{ display: 'flex', gap: 8, justifyContent: 'flex-end' }}>
        <button type="button" className="plain" onClick={close}>
          Done
        </button>
        <button
          type="button"
          className="plain primary"
          disabled={Object.keys(known).length < 2}
          onClick={async () => {
            // What was typed last may still be worked out.
            await settled();
            setSaid(await match(knownOf(latest.current)));
          }}
        >
          Match
        </button>
      </p>
    </Modal>
  );
}
