import { Checkbox, Modal, MultiSelect } from '@mantine/core';
import { useState } from 'react';
import type { RowOf } from '../../../api/client';
import { NumberField } from '../../fields/fields';

interface Packed {
  packed?: { used: Record<string, number>; unplaced: string[] };
}

/** Asks how regions are packed, and says what came of it. */
export function PackDialog({
  close,
  pack,
  outputs,
  here,
}: {
  close: () => void;
  pack: (fields: { outputs: string[]; turns: boolean; guard: number; step?: number }) => Promise<Packed | null>;
  outputs: RowOf<'output'>[];
  here: string | undefined;
}) {
  const [onto, setOnto] = useState(here === undefined ? [] : [here]);
  const [turns, setTurns] = useState(false);
  const [guard, setGuard] = useState(0);
  const [grid, setGrid] = useState(true);
  const [said, setSaid] = useState<Packed | null>(null);
  return (
    <Modal opened onClose={close} title="Pack regions" size="sm">
      <MultiSelect
        label="Outputs, filled in this order"
        data={outputs.map((o) => ({ value: o.id, label: o.name }))}
        value={onto}
        onChange={setOnto}
        searchable
        data-autofocus
      />
      <div className="row2" style={{ marginTop: 10 }}>
        <NumberField
          label="Guard"
          unit="px"
          digits={0}
          value={guard}
          onChange={(v) => setGuard(Math.max(0, Math.round(v)))}
        />
      </div>
      <Checkbox
        mt={12}
        label="Begin on the panel grid"
        checked={grid}
        onChange={(e) => setGrid(e.currentTarget.checked)}
      />
      <Checkbox mt={8} label="Allow 90° rotation" checked={turns} onChange={(e) => setTurns(e.currentTarget.checked)} />
      <p className="dim" style={{ fontSize: 13 }}>
        Regions that are pinned or warped stay where they are.
      </p>
      {said?.packed !== undefined && (
        <div role="status" style={{ fontSize: 13 }}>
          {Object.entries(said.packed.used).map(([id, used]) => (
            <div key={id}>
              {outputs.find((o) => o.id === id)?.name} <span className="mono">{(used * 100).toFixed(1)} %</span>
            </div>
          ))}
          {said.packed.unplaced.length > 0 && (
            <div className="state-attention">{said.packed.unplaced.length} found no room.</div>
          )}
        </div>
      )}
      <p style={{ display: 'flex', gap: 8, justifyContent: 'flex-end' }}>
        <button type="button" className="plain" onClick={close}>
          Done
        </button>
        <button
          type="button"
          className="plain primary"
          disabled={onto.length === 0}
          onClick={async () => setSaid(await pack({ outputs: onto, turns, guard, ...(grid ? {} : { step: 1 }) }))}
        >
          Pack
        </button>
      </p>
    </Modal>
  );
}
