import { Checkbox, Select } from '@mantine/core';
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import { answer, http, type RowOf } from '../../../api/client';
import { follow } from '../../drag';
import { NumberField } from '../../fields/fields';
import { useRows, useShow } from '../../hooks';
import { command, edit, insert, outputs as order, remove, update } from '../../store';
import { ulid } from '../../time';
import { FitButton } from './FitButton';
import { stepOf } from './Handle';
import { Picture } from './Picture';
import { usePlane } from './plane';

interface Solved {
  pose: { position: number[]; rotation: number[] };
  throw: number;
  shiftX: number;
  shiftY: number;
  radial: number;
  rms: number;
  spread: number;
  residuals: { id: string; name: string; px: number }[];
  bad: string | null;
}

/** A projector found by points: each is moved on the real projection to where it belongs, then the place of the projector is solved. */
export function AlignmentBoard({ output }: { output: RowOf<'output'> }) {
  const show = useShow();
  const feeds = useRows('feed').filter((f) => f.output === output.id && f.projector !== null);
  const projectors = useRows('projector');
  const surfaces = useRows('surface');
  const regions = useRows('region');
  const [wanted, setWanted] = useState<string | null>(null);
  const projector = projectors.find((p) => p.id === (feeds.find((f) => f.projector === wanted) ?? feeds[0])?.projector);
  const points = useRows('point').filter((p) => p.projector === projector?.id);
  const checks = useRows('check')
    .filter((c) => c.projector === projector?.id)
    .reverse();
  const [chosen, setChosen] = useState<string | null>(null);
  const [known, setKnown] = useState(false);
  const [radial, setRadial] = useState(false);
  const [solved, setSolved] = useState<Solved | null>(null);
  const [wrong, setWrong] = useState('');
  const { area, plane, looked, fitAll, zoomed, move, at: view } = usePlane(output.width, output.height);
  const { scale, left, top } = plane;
  const on = points.find((p) => p.id === chosen) ?? points[0];
  const places = (id: string) => show?.computed.points[id];
  // Where a point was put that the show does not have there yet: keys that come fast go on from it.
  const pending = useRef<{ id: string; at: [number, number] } | null>(null);
  const [, again] = useState(0);
  const at = (id: string): [number, number] | null =>
    pending.current?.id === id
      ? pending.current.at
      : ((places(id)?.found ?? places(id)?.expected ?? null) as [number, number] | null);
  const here = on === undefined ? null : at(on.id);
  const there = here === null ? '' : here.join(',');

  // The real projection shows where the chosen point is meant to be.
  useEffect(() => {
    const cross = there === '' ? null : (there.split(',').map(Number) as [number, number]);
    const tell = () => void command({ action: 'mark', output: output.id, cross, shapes: [] });
    tell();
    const renew = setInterval(tell, 8000);
    return () => clearInterval(renew);
  }, [there, output.id]);
  useEffect(() => () => void command({ action: 'mark', output: output.id, cross: null, shapes: [] }), [output.id]);

  const put = async (id: string, to: [number, number]) => {
    const mine = { id, at: to };
    pending.current = mine;
    again((n) => n + 1);
    await order({ action: 'found', region: id, to: { x: to[0], y: to[1] } });
    if (pending.current !== mine) return;
    pending.current = null;
    again((n) => n + 1);
  };
  const keys = (e: KeyboardEvent) => {
    const step = stepOf(e);
    const from = on === undefined ? null : at(on.id);
    if (on !== undefined && from !== null && step !== null)
      void put(on.id, [Math.round((from[0] + step[0]) * 1000) / 1000, Math.round((from[1] + step[1]) * 1000) / 1000]);
    else if (e.key === 'n' || e.key === 'N')
      setChosen(points[(points.findIndex((p) => p.id === on?.id) + 1) % points.length]?.id ?? null);
    else if (!looked(e)) return;
    e.preventDefault();
    e.stopPropagation();
  };
  const press = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const from = { x: view.x, y: view.y };
    const to: [number, number] = [(event.clientX - box.left - left) / scale, (event.clientY - box.top - top) / scale];
    event.currentTarget.focus();
    follow(
      event,
      (dx, dy) => move(dx, dy, from),
      (how) =>
        how === 'pressed' &&
        on !== undefined &&
        void put(on.id, [Math.round(to[0] * 10) / 10, Math.round(to[1] * 10) / 10]),
    );
  };
  const solve = async (apply: boolean) => {
    if (projector === undefined) return;
    try {
      const found = await answer(
        http.POST('/shows/{show}/projectors/{projector}/align', {
          params: { path: { show: show?.id ?? '', projector: projector.id } },
          body: { knownLens: known, radial, apply },
        }),
      );
      setSolved(found as unknown as Solved);
      setWrong('');
    } catch (error) {
      setSolved(null);
      setWrong((error as Error).message);
    }
  };
  const add = async () => {
    if (projector === undefined) return;
    const id = ulid();
    if (
      await edit('Add an alignment point', [
        insert('point', id, { projector: projector.id, name: `Point ${points.length + 1}`, place: [0, 0, 0] }),
      ])
    )
      setChosen(id);
  };
  const lit = [
    ...new Set(regions.filter((r) => show?.computed.regions[r.id]?.projector === projector?.id).map((r) => r.surface)),
  ];

  if (projector === undefined) {
    return (
      <div className="empty">
        <strong>{output.name} feeds no projector</strong>
        Add a device to the output in its details, of the role projector, and name a projector of the venue.
      </div>
    );
  }
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '270px 1fr', flex: 1, minHeight: 0 }}>
      <section
        aria-label="Alignment points"
        style={{ borderRight: '1px solid var(--kl-line)', overflow: 'auto', padding: '10px 12px', fontSize: 13 }}
      >
        {feeds.length > 1 ? (
          <Select
            aria-label="Projector"
            data={feeds.map((f) => ({
              value: f.projector ?? '',
              label: projectors.find((p) => p.id === f.projector)?.name ?? f.name,
            }))}
            value={projector.id}
            allowDeselect={false}
            onChange={setWanted}
          />
        ) : (
          <strong>{projector.name}</strong>
        )}
        <div style={{ display: 'flex', gap: 6, margin: '8px 0', flexWrap: 'wrap' }}>
          <button type="button" className="plain" onClick={() => void add()}>
            Add a point
          </button>
          {lit.map((id) => (
            <button
              key={id}
              type="button"
              className="plain"
              title="Its corners, edges and middle"
              onClick={() => void order({ action: 'points', projector: projector.id, surface: id })}
            >
              Corners of {surfaces.find((s) => s.id === id)?.name}
            </button>
          ))}
        </div>
        <div>
          {points.map((p) => {
            const found = places(p.id)?.found;
            const off = solved?.residuals.find((r) => r.id === p.id)?.px;
            return (
              <div
                key={p.id}
                style={{
                  display: 'flex',
                  alignItems: 'center',
                  borderRadius: 4,
                  outline: p.id === on?.id ? '1px solid var(--kl-kite)' : undefined,
                }}
              >
                <button
                  type="button"
                  className="title"
                  aria-pressed={p.id === on?.id}
                  onClick={() => setChosen(p.id)}
                  style={{ all: 'unset', cursor: 'pointer', flex: 1, padding: '4px 6px', minWidth: 0 }}
                >
                  <span
                    style={{ display: 'block', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
                  >
                    {p.name}
                  </span>
                  <span className="mono dim">
                    {found === null || found === undefined
                      ? 'not found yet'
                      : found.map((v) => v.toFixed(1)).join(', ')}
                  </span>
                </button>
                {off !== undefined && (
                  <span className={`mono ${p.id === solved?.bad ? 'state-fault' : off > 3 ? 'state-attention' : ''}`}>
                    {off.toFixed(2)} px
                  </span>
                )}
                <button
                  type="button"
                  className="plain"
                  aria-label={`Find ${p.name} again`}
                  disabled={found === null || found === undefined}
                  onClick={() => void order({ action: 'found', region: p.id })}
                  style={{ border: 0 }}
                >
                  ↺
                </button>
                <button
                  type="button"
                  className="plain"
                  aria-label={`Remove ${p.name}`}
                  onClick={() => void edit(`Remove ${p.name}`, [remove('point', p.id)])}
                  style={{ border: 0 }}
                >
                  ✕
                </button>
              </div>
            );
          })}
          {points.length === 0 && (
            <p className="dim">
              Six points off one plane find an unknown lens; four, also in a plane, one whose throw and shift are known.
            </p>
          )}
        </div>
        {on !== undefined && <PlaceOf point={on} />}
        <Checkbox
          mt={12}
          label="Lock throw and shift"
          checked={known}
          onChange={(e) => setKnown(e.currentTarget.checked)}
        />
        <Checkbox
          mt={6}
          label="Solve lens distortion"
          checked={radial}
          onChange={(e) => setRadial(e.currentTarget.checked)}
        />
        <div style={{ display: 'flex', gap: 6, marginTop: 10 }}>
          <button type="button" className="plain primary" onClick={() => void solve(false)}>
            Solve
          </button>
          <button type="button" className="plain" disabled={solved === null} onClick={() => void solve(true)}>
            Place the projector there
          </button>
        </div>
        <p style={{ margin: '8px 0 0' }}>
          <a href={`/align/${projector.id}`} target="_blank" rel="noreferrer" style={{ color: 'inherit' }}>
            Page for a phone or tablet
          </a>
          {' · '}
          <a
            href={`/align/${projector.id}?check`}
            target="_blank"
            rel="noreferrer"
            title="Steps through the points that were found; what drifted is moved, and all that the projector shows goes along"
            style={{ color: 'inherit' }}
          >
            Check on a phone
          </a>
        </p>
        {checks.length > 0 && (
          <>
            <h3>Checks</h3>
            <ul
              aria-label="Checks"
              style={{ listStyle: 'none', margin: 0, padding: 0, maxHeight: 120, overflow: 'auto' }}
            >
              {checks.map((c) => (
                <li key={c.id} style={{ fontSize: 13 }}>
                  <span className="mono">{c.taken}</span> · {c.moved} of {c.points} moved · {c.before.toFixed(2)} →{' '}
                  {c.after.toFixed(2)} px
                </li>
              ))}
            </ul>
          </>
        )}
        {wrong !== '' && (
          <p role="alert" className="state-fault">
            {wrong}
          </p>
        )}
        {solved !== null && (
          <div role="status" style={{ marginTop: 10 }}>
            <div className="mono" data-rms={solved.rms} style={{ fontSize: 22 }}>
              {solved.rms.toFixed(2)} px
            </div>
            <div className="dim">
              root mean square · ±{' '}
              {solved.spread < 1 ? `${(solved.spread * 1000).toFixed(0)} mm` : `${solved.spread.toFixed(2)} m`}
            </div>
            <div className="mono">
              {solved.pose.position.map((v) => v.toFixed(3)).join(', ')} m
              <br />
              {solved.pose.rotation.map((v) => v.toFixed(2)).join(', ')}°
              <br />
              throw {solved.throw.toFixed(3)} · shift {(solved.shiftX * 100).toFixed(1)} %,{' '}
              {(solved.shiftY * 100).toFixed(1)} %{radial ? ` · k ${solved.radial.toFixed(4)}` : ''}
            </div>
            {solved.bad !== null && (
              <div className="state-fault">
                {points.find((p) => p.id === solved.bad)?.name} spoils the rest: find it again.
              </div>
            )}
          </div>
        )}
      </section>
      <div ref={area} className="canvas-area" style={{ overflow: 'hidden' }}>
        <div
          style={{
            position: 'absolute',
            left,
            top,
            width: output.width * scale,
            height: output.height * scale,
            outline: '1px solid var(--kl-line)',
            pointerEvents: 'none',
          }}
        >
          <Picture output={output.id} width={output.width} height={output.height} />
        </div>
        <svg
          width="100%"
          height="100%"
          role="application"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a picture that is pressed and moved on by keys
          tabIndex={0}
          aria-label={`Where points are on ${output.name}`}
          style={{ position: 'absolute', inset: 0, cursor: 'crosshair' }}
          onPointerDown={press}
          onKeyDown={keys}
        >
          <g transform={`translate(${left} ${top}) scale(${scale})`}>
            {points.map((p) => {
              const place = at(p.id);
              if (place === null) return null;
              const [x, y] = place;
              const one = p.id === on?.id;
              const r = (one ? 14 : 7) / scale;
              return (
                <g
                  key={p.id}
                  stroke={one ? 'var(--kl-kite)' : places(p.id)?.found === null ? 'var(--kl-dim)' : 'var(--kl-text)'}
                  fill="none"
                >
                  <path
                    d={`M${x - 1.8 * r} ${y}H${x + 1.8 * r}M${x} ${y - 1.8 * r}V${y + 1.8 * r}`}
                    vectorEffect="non-scaling-stroke"
                    strokeWidth={one ? 1.5 : 1}
                  />
                  <circle
                    cx={x}
                    cy={y}
                    r={r}
                    vectorEffect="non-scaling-stroke"
                    strokeDasharray={places(p.id)?.found === null ? '3 3' : undefined}
                  />
                  <text x={x + r * 1.3} y={y - r * 0.6} fontSize={12 / scale} fill="var(--kl-text)" stroke="none">
                    {p.name}
                  </text>
                </g>
              );
            })}
          </g>
        </svg>
        <div style={{ position: 'absolute', right: 12, top: 8 }}>
          <FitButton scale={scale} zoomed={zoomed} fit={fitAll} />
        </div>
        <span className="tip">
          Press where the chosen point should be, or move it by the arrow keys (Shift: ten, Alt: a tenth); N: the next.
          The crosshair shows on the real projection.
        </span>
      </div>
    </div>
  );
}

/** Where a point is in the venue, to be typed. */
function PlaceOf({ point }: { point: RowOf<'point'> }) {
  return (
    <div style={{ marginTop: 10 }}>
      <span className="dim">{point.name}</span>
      <div className="row3">
        {(['X', 'Y', 'Z'] as const).map((label, i) => (
          <NumberField
            key={label}
            label={label}
            unit="m"
            value={point.place[i] ?? 0}
            onChange={(v) =>
              edit(`Place ${point.name}`, [
                update('point', point, { place: point.place.map((old, k) => (k === i ? v : old)) }),
              ])
            }
          />
        ))}
      </div>
    </div>
  );
}
