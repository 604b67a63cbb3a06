import { useEffect, useState } from 'react';
import type { Schemas } from '../../../api/client';
import { answer, http } from '../../../api/client';
import { NumberField } from '../../fields/fields';
import { useRows, useShow } from '../../hooks';
import { LitRaster } from '../../stage/LitRaster';
import { Handle } from './Handle';

interface Seam {
  along: number[];
  lux: Record<string, number[]>;
  sum: number[];
  off: number;
  outputs: Record<string, string>;
}

type Point = [number, number];

const HEIGHT = 150;
const WIDTH = 620;

/** The light of each projector and of all, along a line across a surface. */
export function SeamPanel({ surface }: { surface: string }) {
  const show = useShow();
  const figures = show?.computed.surfaces[surface] as Schemas['SurfaceFigures'] | undefined;
  const outputs = useRows('output');
  const [line, setLine] = useState<[Point, Point]>([
    [0.001, 0.5],
    [0.999, 0.5],
  ]);
  const [seam, setSeam] = useState<Seam | null>(null);
  const [wrong, setWrong] = useState('');
  const revision = show?.revision;
  const id = show?.id ?? '';
  // biome-ignore lint/correctness/useExhaustiveDependencies: the light is another after each edit
  useEffect(() => {
    let alive = true;
    const ask = async () => {
      try {
        const told = await answer(
          http.GET('/shows/{show}/surfaces/{surface}/seam', {
            params: { path: { show: id, surface }, query: { from: line[0].join(','), to: line[1].join(',') } },
          }),
        );
        if (alive) {
          setSeam(told as Seam);
          setWrong('');
        }
      } catch (error) {
        if (alive) setWrong((error as Error).message);
      }
    };
    void ask();
    return () => {
      alive = false;
    };
  }, [id, surface, line, revision]);
  if (figures === undefined) return null;
  const [w, h] = [figures.rasterWidth, figures.rasterHeight];
  const shown = Math.min(300 / w, 150 / h);
  const most = Math.max(1e-9, ...(seam?.sum ?? [])) * 1.1;
  const long = Math.max(1e-9, seam?.along[seam.along.length - 1] ?? 1);
  const path = (values: number[]) =>
    values
      .map(
        (v, i) =>
          `${i === 0 ? 'M' : 'L'}${(((seam?.along[i] ?? 0) / long) * WIDTH).toFixed(1)} ${(HEIGHT - (v / most) * HEIGHT).toFixed(1)}`,
      )
      .join('');
  const move = (end: 0 | 1) => (dx: number, dy: number) => {
    const to: Point = [
      Math.min(1, Math.max(0, line[end][0] + dx / w)),
      Math.min(1, Math.max(0, line[end][1] + dy / h)),
    ];
    setLine(end === 0 ? [to, line[1]] : [line[0], to]);
  };
  const set = (end: 0 | 1, axis: 0 | 1, value: number) => {
    const to: Point = [...line[end]];
    to[axis] = Math.min(1, Math.max(0, value));
    setLine(end === 0 ? [to, line[1]] : [line[0], to]);
  };
  return (
    <section
      aria-label="Seam"
      style={{
        borderTop: '1px solid var(--kl-line)',
        display: 'grid',
        gridTemplateColumns: `${Math.max(282, Math.round(w * shown) + 20)}px 1fr 190px`,
        gap: 12,
        padding: '10px 14px',
        minHeight: 0,
      }}
    >
      <div style={{ position: 'relative', width: w * shown, height: h * shown }}>
        <LitRaster surface={surface} />
        <svg
          width={w * shown}
          height={h * shown}
          viewBox={`0 0 ${w} ${h}`}
          style={{ position: 'absolute', inset: 0, overflow: 'visible' }}
          aria-hidden={false}
          role="img"
          aria-label="The line across the surface"
        >
          <path
            d={`M${line[0][0] * w} ${line[0][1] * h}L${line[1][0] * w} ${line[1][1] * h}`}
            stroke="var(--kl-kite)"
            strokeWidth={1.5}
            vectorEffect="non-scaling-stroke"
          />
          {([0, 1] as const).map((end) => (
            <Handle
              key={end}
              label={end === 0 ? 'Beginning of the line' : 'End of the line'}
              x={line[end][0] * w}
              y={line[end][1] * h}
              scale={shown}
              small
              moved={move(end)}
            />
          ))}
        </svg>
        <div
          style={{
            display: 'grid',
            gridTemplateColumns: 'repeat(4, 66px)',
            gap: 4,
            position: 'absolute',
            top: h * shown + 6,
          }}
        >
          {([0, 1] as const).flatMap((end) =>
            ([0, 1] as const).map((axis) => (
              <NumberField
                key={`${end}${axis}`}
                aria-label={`${end === 0 ? 'From' : 'To'} ${axis === 0 ? 'across' : 'down'}`}
                label=""
                unit="%"
                digits={1}
                scale={100}
                value={line[end][axis]}
                onChange={(v) => set(end, axis, v)}
              />
            )),
          )}
        </div>
      </div>
      <figure style={{ margin: 0, minWidth: 0 }}>
        <svg
          viewBox={`0 -8 ${WIDTH} ${HEIGHT + 26}`}
          width="100%"
          height={190}
          preserveAspectRatio="none"
          role="img"
          aria-label={seam === null ? 'No light yet' : `The sum leaves its mean by ${(seam.off * 100).toFixed(1)} %`}
        >
          {Object.entries(seam?.lux ?? {}).map(([region, values], i) => (
            <path
              key={region}
              d={path(values)}
              fill="none"
              stroke="var(--kl-dim)"
              strokeDasharray={['none', '6 4', '2 3', '10 3 2 3'][i % 4]}
              vectorEffect="non-scaling-stroke"
            />
          ))}
          {seam !== null && (
            <path
              d={path(seam.sum)}
              fill="none"
              stroke="var(--kl-text)"
              strokeWidth={2}
              vectorEffect="non-scaling-stroke"
            />
          )}
          <path d={`M0 ${HEIGHT}H${WIDTH}`} stroke="var(--kl-line)" vectorEffect="non-scaling-stroke" />
        </svg>
      </figure>
      <div style={{ fontSize: 13 }}>
        <div className="mono" data-seam={seam === null ? '' : seam.off} style={{ fontSize: 22 }}>
          {seam === null ? '–' : `${(seam.off * 100).toFixed(1)} %`}
        </div>
        <div className="dim">off level, at most</div>
        <div className="mono dim">
          {seam === null
            ? ''
            : `${Math.min(...seam.sum.filter((v) => v > 0)).toFixed(0)} to ${Math.max(...seam.sum).toFixed(0)} lx`}{' '}
          · {long.toFixed(2)} m
        </div>
        {wrong !== '' && <div className="state-fault">{wrong}</div>}
        <div className="dim" style={{ marginTop: 6 }}>
          {Object.keys(seam?.lux ?? {}).map((region, i) => (
            <div key={region}>
              <svg width="26" height="8" aria-hidden="true">
                <path d="M0 4H26" stroke="var(--kl-dim)" strokeDasharray={['none', '6 4', '2 3', '10 3 2 3'][i % 4]} />
              </svg>{' '}
              {outputs.find((o) => o.id === seam?.outputs[region])?.name}
            </div>
          ))}
        </div>
      </div>
    </section>
  );
}
