import { Select } from '@mantine/core';
import { useId, useState } from 'react';
import type { RowOf } from '../../../api/client';
import { effects, MOST_EFFECTS } from '../../../api/kinds';
import { addEffect, EFFECTS, firstOf, inChain, nameOf, valuesOf } from '../../effects';
import { useRows } from '../../hooks';
import { command, edit, get, remove, update } from '../../store';
import { Values } from './values';

type Effect = RowOf<'effect'>;

const stored = (values: Record<string, number | number[] | string | boolean>) =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [`values.${name}`, value]));

/** One effect of a chain: which it is, its settings, and its values while it is open. */
function OneEffect({ row, at, rows }: { row: Effect; at: number; rows: readonly Effect[] }) {
  const [open, setOpen] = useState(rows.length <= 3);
  const body = useId();
  const name = nameOf(row);
  const values = row.values as Record<string, unknown>;
  const presets = effects[name]?.presets ?? {};
  const preset =
    Object.entries(presets).find(([, one]) =>
      Object.entries(one).every(([k, v]) => JSON.stringify(values[k]) === JSON.stringify(v)),
    )?.[0] ?? null;
  const called = `${at + 1} ${name}`;
  const change = (what: string, fields: Record<string, number | number[] | string | boolean>) =>
    edit(`${what} ${called}`, [update('effect', row, stored(fields) as Partial<Effect>)]);
  const move = (by: number) => {
    const next = [...rows];
    next.splice(at + by, 0, ...next.splice(at, 1));
    void edit(
      `Move ${called}`,
      next.flatMap((one, order) => (one.order === order ? [] : [update('effect', one, { order })])),
    );
  };
  const reset = async () => {
    const loose = Object.keys(get().values).filter((address) => address.startsWith(`effect:${row.id}/`));
    if (loose.length > 0)
      await command({ action: 'live', values: Object.fromEntries(loose.map((address) => [address, null])) });
    await change('Reset', { mix: 1, on: true, ...firstOf(name) });
  };
  return (
    <li className="effect">
      <div className="effecthead">
        <button
          type="button"
          className="plain"
          aria-expanded={open}
          aria-controls={body}
          aria-label={`Values of ${called}`}
          onClick={() => setOpen(!open)}
        >
          {open ? '▾' : '▸'} <span className="mono">{at + 1}</span>
        </button>
        <Select
          aria-label={`Effect ${at + 1}`}
          searchable
          allowDeselect={false}
          value={name}
          data={['none', ...EFFECTS]}
          onChange={(next) =>
            next !== null && next !== name && void change('Change', { effect: next, ...firstOf(next) })
          }
        />
        <button
          type="button"
          className="plain"
          aria-label={`${called} earlier`}
          title="Earlier in the chain"
          disabled={at === 0}
          onClick={() => move(-1)}
        >
          ↑
        </button>
        <button
          type="button"
          className="plain"
          aria-label={`${called} later`}
          title="Later in the chain"
          disabled={at === rows.length - 1}
          onClick={() => move(1)}
        >
          ↓
        </button>
        <button
          type="button"
          className="plain"
          aria-label={`Remove ${called}`}
          title="Remove"
          onClick={() => void edit(`Remove ${called}`, [remove('effect', row.id)])}
        >
          ✕
        </button>
      </div>
      {open && (
        <div id={body}>
          <div className="effecthead">
            <Select
              aria-label={`Preset of ${called}`}
              placeholder="own settings"
              value={preset}
              data={Object.keys(presets)}
              disabled={name === 'none'}
              onChange={(next) => next !== null && void change(`Preset ${next} of`, presets[next] ?? {})}
            />
            <button type="button" className="plain" disabled={name === 'none'} onClick={() => void reset()}>
              Reset
            </button>
          </div>
          <Values kind="effect" id={row.id} stored={values} only={valuesOf(row)} />
        </div>
      )}
    </li>
  );
}

/** The chain of effects of a layer or a clip. */
export function Effects({ on, id }: { on: 'layer' | 'clip'; id: string }) {
  const rows = inChain(useRows('effect').filter((effect) => effect[on] === id));
  return (
    <>
      <h3>Effects</h3>
      {rows.length > 0 && (
        <ol className="effects">
          {rows.map((row, i) => (
            <OneEffect key={row.id} row={row} at={i} rows={rows} />
          ))}
        </ol>
      )}
      {rows.length < MOST_EFFECTS ? (
        <Select
          aria-label="Add an effect"
          placeholder="Add an effect"
          searchable
          value={null}
          data={EFFECTS.map((name, i) => ({ value: name, label: `${i + 1} ${name}` }))}
          onChange={(name) => name !== null && void addEffect(on, id, name)}
        />
      ) : (
        <span className="dim">{MOST_EFFECTS} effects are the most.</span>
      )}
    </>
  );
}
