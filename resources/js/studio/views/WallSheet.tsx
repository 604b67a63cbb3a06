import { useQuery } from '@tanstack/react-query';
import { type PointerEvent as ReactPointerEvent, useState } from 'react';
import { answer, http, type RowOf } from '../../api/client';
import { follow } from '../drag';
import { useRows, useShow } from '../hooks';
import { edit, update, useStudio } from '../store';

export function useSheet(surface: string | undefined) {
  const show = useShow();
  const id = useStudio((s) => s.showId);
  return useQuery({
    queryKey: ['sheet', id, surface, show?.revision],
    queryFn: () =>
      answer(
        http.GET('/shows/{show}/surfaces/{surface}/sheet', {
          params: { path: { show: id ?? '', surface: surface ?? '' } },
        }),
      ),
    enabled: id !== null && surface !== undefined,
    placeholderData: (old) => old,
    retry: 0,
  }).data;
}

const strokes = ['var(--kl-kite)', 'var(--kl-loose)', 'var(--kl-sage)', 'var(--kl-straw)'];

/** One wall laid flat: panels to take out and put back by dragging over them, and the cables that feed it. */
export function WallSheetView({ surface }: { surface: RowOf<'surface'> }) {
  const sheet = useSheet(surface.id);
  const panels = useRows('panel');
  const [side, setSide] = useState<'front' | 'back'>('front');
  const [cables, setCables] = useState<'none' | 'power' | 'data'>('data');
  const [painted, setPainted] = useState<Map<string, boolean> | null>(null);
  const [type, setType] = useState('');
  const [whole, setWhole] = useState<'cell' | 'row' | 'column'>('cell');
  const usual = surface.cells.flat().find((c) => c !== null) ?? null;
  const of = (id: string | null) => panels.find((p) => p.id === id);
  const columns = surface.cells[0]?.length ?? 0;
  const widths = Array.from(
    { length: columns },
    (_, c) => of(surface.cells.map((r) => r[c] ?? null).find((x) => x !== null) ?? usual)?.widthMm ?? 500,
  );
  const heights = surface.cells.map((row) => of(row.find((x) => x !== null) ?? usual)?.heightMm ?? 500);
  const lefts = widths.map((_, i) => widths.slice(0, i).reduce((a, b) => a + b, 0));
  const tops = heights.map((_, i) => heights.slice(0, i).reduce((a, b) => a + b, 0));
  const total = { width: widths.reduce((a, b) => a + b, 0), height: heights.reduce((a, b) => a + b, 0) };
  const pad = 0.06 * Math.max(total.width, total.height);
  /** From behind, house left and right change places. */
  const x = (c: number) => (side === 'front' ? (lefts[c] ?? 0) : total.width - (lefts[c] ?? 0) - (widths[c] ?? 0));
  const there = (r: number, c: number) => painted?.get(`${r} ${c}`) ?? surface.cells[r]?.[c] !== null;
  const done = (marks: Map<string, boolean>) => {
    const touched = (r: number, c: number) =>
      whole === 'cell'
        ? marks.get(`${r} ${c}`)
        : [...marks].find(([at]) => at.split(' ')[whole === 'row' ? 0 : 1] === String(whole === 'row' ? r : c))?.[1];
    const cells = surface.cells.map((row, r) =>
      row.map((cell, c) => {
        const to = touched(r, c);
        if (type !== '') return to === undefined ? cell : type;
        return to === undefined
          ? cell
          : to
            ? (cell ?? surface.cells.map((line) => line[c] ?? null).find((one) => one !== null) ?? usual)
            : null;
      }),
    );
    void edit(`Change the panels of ${surface.name}`, [update('surface', surface, { cells })]).then(() =>
      setPainted(null),
    );
  };
  /** A press on a panel, and a drag on over others: all are taken out, or all put in again, as the first one is. */
  const begin = (r: number, c: number, e: ReactPointerEvent<SVGElement>) => {
    if (e.button !== 0) return;
    const to = !there(r, c);
    const marks = new Map([[`${r} ${c}`, to]]);
    setPainted(new Map(marks));
    follow(
      e,
      (_dx, _dy, at) => {
        const over = document
          .elementFromPoint(at.clientX, at.clientY)
          ?.closest('[data-cell]')
          ?.getAttribute('data-cell');
        if (!over || marks.has(over)) return;
        marks.set(over, to);
        setPainted(new Map(marks));
      },
      (how) => (how === 'stopped' ? setPainted(null) : done(marks)),
      { slack: 0 },
    );
  };
  const runs = cables === 'none' ? [] : (sheet?.[cables] ?? []);
  const line = Math.max(total.width, total.height) / 260;
  return (
    <>
      <div className="bar tight">
        {(['front', 'back'] as const).map((s) => (
          <button key={s} type="button" className="plain" aria-pressed={side === s} onClick={() => setSide(s)}>
            {s === 'front' ? 'Front' : 'Back'}
          </button>
        ))}
        <span style={{ width: 10 }} />
        {(['data', 'power', 'none'] as const).map((c) => (
          <button key={c} type="button" className="plain" aria-pressed={cables === c} onClick={() => setCables(c)}>
            {c === 'none'
              ? 'No cables'
              : c === 'data'
                ? `Data · ${sheet?.data.length ?? 0}`
                : `Power · ${sheet?.power.length ?? 0}`}
          </button>
        ))}
        <span className="grow" />
        <select
          className="plain"
          aria-label="Drag action"
          value={type}
          onChange={(e) => setType(e.currentTarget.value)}
          style={{ maxWidth: 150 }}
          title="Drag action"
        >
          <option value="">Drag: remove, restore</option>
          {panels.map((p) => (
            <option key={p.id} value={p.id}>
              Drag: {p.name}
            </option>
          ))}
        </select>
        <select
          className="plain"
          aria-label="Drag extent"
          style={{ maxWidth: 120 }}
          value={whole}
          onChange={(e) => setWhole(e.currentTarget.value as typeof whole)}
        >
          <option value="cell">single panels</option>
          <option value="row">whole rows</option>
          <option value="column">whole columns</option>
        </select>
      </div>
      <div className="canvas-area">
        <svg
          viewBox={`${-pad} ${-pad} ${total.width + 2 * pad} ${total.height + 2 * pad}`}
          style={{ width: '100%', height: '100%', touchAction: 'none' }}
          role="group"
          aria-label={`${surface.name} from the ${side}`}
        >
          {surface.cells.map((row, r) =>
            row.map((_, c) => {
              const key = `${r} ${c}`;
              const on = there(r, c);
              const [w, h] = [widths[c] ?? 0, heights[r] ?? 0];
              return (
                <g
                  key={key}
                  role="button"
                  tabIndex={0}
                  aria-pressed={on}
                  aria-label={`Panel ${r + 1}.${c + 1}`}
                  onKeyDown={(e) => {
                    if (e.key !== 'Enter' && e.key !== ' ') return;
                    e.preventDefault();
                    done(new Map([[key, !on]]));
                  }}
                  data-cell={key}
                  onPointerDown={(e) => begin(r, c, e)}
                >
                  <rect
                    x={x(c) + w * 0.01}
                    y={(tops[r] ?? 0) + h * 0.01}
                    width={w * 0.98}
                    height={h * 0.98}
                    fill={on ? 'var(--kl-ink7)' : 'transparent'}
                    stroke={on ? 'var(--kl-line)' : 'var(--kl-ink6)'}
                    strokeWidth={line / 2}
                    strokeDasharray={on ? undefined : `${line * 3} ${line * 2}`}
                  />
                  {on && columns <= 40 && (
                    <text
                      x={x(c) + w * 0.07}
                      y={(tops[r] ?? 0) + h * 0.24}
                      fontSize={Math.min(w, h) * 0.16}
                      fill="var(--kl-dim)"
                      className="mono"
                    >
                      {r + 1}.{c + 1}
                    </text>
                  )}
                </g>
              );
            }),
          )}
          {surface.seams.map((angle, i) =>
            angle === 0 ? null : (
              <text
                key={`${i} ${angle}`}
                x={side === 'front' ? (lefts[i + 1] ?? 0) : total.width - (lefts[i + 1] ?? 0)}
                y={-pad * 0.25}
                textAnchor="middle"
                fontSize={Math.min(widths[i] ?? 500, total.height) * 0.13}
                fill="var(--kl-dim)"
                className="mono"
              >
                {Number(angle.toFixed(1))}°
              </text>
            ),
          )}
          <g pointerEvents="none">
            {runs.map((run) => {
              const points = run.cells.map(
                ([r, c]) =>
                  [x(c ?? 0) + (widths[c ?? 0] ?? 0) / 2, (tops[r ?? 0] ?? 0) + (heights[r ?? 0] ?? 0) * 0.58] as const,
              );
              const [first] = points;
              const colour = strokes[(run.number - 1) % strokes.length];
              return (
                <g key={run.number}>
                  <polyline
                    points={points.map((p) => p.join(',')).join(' ')}
                    fill="none"
                    stroke={colour}
                    strokeWidth={line * 1.3}
                    strokeLinejoin="round"
                  />
                  {first !== undefined && (
                    <>
                      <circle cx={first[0]} cy={first[1]} r={line * 7} fill={colour} />
                      <text
                        x={first[0]}
                        y={first[1] + line * 3}
                        textAnchor="middle"
                        fontSize={line * 9}
                        fill="var(--kl-ink9)"
                        className="mono"
                        fontWeight={700}
                      >
                        {run.number}
                      </text>
                    </>
                  )}
                </g>
              );
            })}
          </g>
        </svg>
      </div>
      {runs.length > 0 && (
        <section className="cable-table" aria-label="Table of cables">
          <table className="compare">
            <thead>
              <tr>
                <th scope="col">{cables === 'power' ? 'Power' : 'Data'}</th>
                <th scope="col">Panels</th>
                <th scope="col">Load</th>
                <th scope="col">Capacity</th>
                <th scope="col">From</th>
                <th scope="col">To</th>
              </tr>
            </thead>
            <tbody>
              {runs.map((run) => {
                const at = (cell: number[] | undefined) => `${(cell?.[0] ?? 0) + 1}.${(cell?.[1] ?? 0) + 1}`;
                const unit = cables === 'power' ? 'W' : 'px';
                return (
                  <tr key={run.number}>
                    <th scope="row" className="mono">
                      {run.number}
                    </th>
                    <td className="mono">{run.cells.length}</td>
                    <td className="mono">{`${Math.round(run.load).toLocaleString('en')} ${unit} · ${((run.load / run.limit) * 100).toFixed(0)} %`}</td>
                    <td className="mono">{`${Math.round(run.limit).toLocaleString('en')} ${unit}`}</td>
                    <td className="mono">{at(run.cells[0])}</td>
                    <td className="mono">{at(run.cells[run.cells.length - 1])}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </section>
      )}
    </>
  );
}
