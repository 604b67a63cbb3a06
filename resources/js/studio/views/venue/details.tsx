import { MultiSelect, NativeSelect, Select, Switch } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { api, type Kind, type RowOf, type Schemas } from '../../../api/client';
import { Figures, NameField, NumberField } from '../../fields/fields';
import { Sign } from '../../frame/Kite';
import { Findings, Gone, px, Remove } from '../../frame/parts';
import { useRow, useRows, useShow } from '../../hooks';
import { arrange, command, complain, edit, go, insert, type Selection, update, useStudio } from '../../store';
import { ulid } from '../../time';
import { uploadModel } from '../uploads';
import { useSheet } from '../WallSheet';
import { useLight } from './light';
import { setVenue } from './state';
import { isPlaced, type PlacedKind } from './things';

type Placed = RowOf<'rig'>;
type Values = Record<string, string | number | boolean>;
/** Settings of a row; PHP tells an empty object as a list. */
export const settings = (value: unknown) => (Array.isArray(value) ? {} : value) as Values;

/** Numbers typed one after another, parted by spaces, commas or semicolons. */
const numbers = (text: string) =>
  text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map(Number);

const Place = ({ kind, row }: { kind: PlacedKind; row: Placed }) => {
  const place = (field: 'position' | 'rotation', i: number, v: number) => edit(`Place ${row.name}`, [update(kind, row as never, { [field]: row[field].map((old, k) => (k === i ? v : old)) } as never)]);
  const rigs = useRows('rig').filter((r) => r.id !== row.id);
  return (
    <>
      <h3>Place{row.rig === null ? '' : ', on its rig'}</h3>
      <div className="row3">
        {['X', 'Y', 'Z'].map((axis, i) => (
          <NumberField key={axis} label={axis} unit="m" step={0.1} value={row.position[i] ?? 0} disabled={row.locked} onChange={(v) => place('position', i, v)} />
        ))}
      </div>
      <div className="row3" style={{ marginTop: 8 }}>
        {['Yaw', 'Pitch', 'Roll'].map((axis, i) => (
          <NumberField key={axis} label={axis} unit="deg" step={1} digits={2} value={row.rotation[i] ?? 0} disabled={row.locked} onChange={(v) => place('rotation', i, v)} />
        ))}
      </div>
      <NativeSelect
        mt={8}
        size="xs"
        label="Rides on"
        value={row.rig ?? ''}
        onChange={(e) => void arrange({ do: 'ride', ids: [row.id], rig: e.currentTarget.value === '' ? null : e.currentTarget.value })}
        data={[{ value: '', label: 'nothing: stands in the venue' }, ...rigs.map((r) => ({ value: r.id, label: r.name }))]}
      />
    </>
  );
};

const Name = ({ kind, row }: { kind: PlacedKind; row: Placed }) => <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update(kind, row as never, { name } as never)])} />;

const shapes = {
  frames: [
    ['width', 'Width', 'm', 4],
    ['height', 'Height', 'm', 3],
  ],
  drums: [['arc', 'Arc', 'deg', 180]],
  dome: [
    ['radius', 'Radius', 'm', 4],
    ['arc', 'Arc', 'deg', 180],
    ['tilt', 'Tilt', 'deg', 0],
  ],
  model: [['scale', 'Metres a unit', '', 1]],
  flat: [
    ['width', 'Width', 'm', 4],
    ['height', 'Height', 'm', 3],
  ],
  box: [
    ['width', 'Width', 'm', 4],
    ['depth', 'Depth', 'm', 2],
    ['height', 'Height', 'm', 3],
  ],
  drum: [
    ['radius', 'Radius', 'm', 2],
    ['arc', 'Arc', 'deg', 180],
    ['height', 'Height', 'm', 3],
  ],
} as const;

/** The shape of a face that is projected on. */
function FaceShape({ row, figures }: { row: RowOf<'surface'>; figures: Schemas['SurfaceFigures'] | undefined }) {
  const shape = settings(row.shape);
  const change = (name: string, value: string | number | boolean) => edit(`Shape ${row.name}`, [update('surface', row, { shape: { ...shape, [name]: value } as typeof row.shape })]);
  return (
    <>
      <div className="row3" style={{ marginTop: 8 }}>
        {(shapes[row.kind as keyof typeof shapes] ?? []).map(([name, label, unit, usual]) => (
          <NumberField key={name} label={label} unit={unit} step={0.1} value={Number(shape[name] ?? usual)} onChange={(v) => change(name, v)} />
        ))}
        <NumberField label="Density" unit="px" value={Number(shape.pixelsPerMetre ?? 100)} onChange={(v) => change('pixelsPerMetre', v)} />
      </div>
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField label="Raster, if given" unit="px" digits={0} value={Number(shape.rasterWidth ?? 0)} onChange={(v) => change('rasterWidth', Math.round(v))} />
        <NumberField label="by" unit="px" digits={0} value={Number(shape.rasterHeight ?? 0)} onChange={(v) => change('rasterHeight', Math.round(v))} />
      </div>
      {row.kind === 'drums' && <NameField label="Tiers from the floor: radius × height; …" value={String(shape.tiers ?? '2 × 3; 1.5 × 2')} onChange={(v) => change('tiers', v)} />}
      {row.kind === 'dome' && <Switch mt={8} label="Looked at from outside" checked={shape.outside === true} onChange={(e) => void change('outside', e.currentTarget.checked)} />}
      {row.kind === 'frames' && <Boards row={row} />}
      {row.kind === 'model' && <ModelFile kind="surface" row={row} />}
      {row.kind === 'box' && <NameField label="Sides: left, front, right, back" value={String(shape.sides ?? 'left,front,right')} onChange={(v) => change('sides', v)} />}
      {figures !== undefined && (
        <>
          <h3>Comes to</h3>
          <Figures
            of={[
              ['Raster', `${figures.rasterWidth} × ${figures.rasterHeight} px`],
              ['Area', `${figures.areaSquareMetres.toFixed(2)} m²`],
              ['Shape', figures.words],
            ]}
          />
        </>
      )}
      <MaterialOf row={row} />
      <LightOn id={row.id} />
      <TakeAway row={row} />
    </>
  );
}

/** Boards and openings before and in a back face: each a polygon with its depth. */
function Boards({ row }: { row: RowOf<'surface'> }) {
  const [open, setOpen] = useState(0);
  const board = row.boards[open];
  const write = (boards: typeof row.boards) => edit(`Shape ${row.name}`, [update('surface', row, { boards })]);
  const set = (fields: Partial<(typeof row.boards)[number]>) => write(row.boards.map((b, i) => (i === open ? { ...b, ...fields } : b)));
  return (
    <>
      <h3>Boards and openings · {row.boards.length}</h3>
      <div style={{ display: 'flex', gap: 6 }}>
        <select className="plain mono" aria-label="Board" value={open} onChange={(e) => setOpen(Number(e.currentTarget.value))} style={{ flex: 1, minWidth: 0 }}>
          {row.boards.map((b, i) => (
            <option key={i} value={i}>{`${i + 1}: ${b.depth < 0 ? 'opening' : 'board'}, ${b.points.length / 2} corners, ${b.depth} m`}</option>
          ))}
        </select>
        <button type="button" className="plain" onClick={() => void write([...row.boards, { depth: 0.2, points: [-0.5, 1, 0.5, 1, 0.5, 2, -0.5, 2] }]).then(() => setOpen(row.boards.length))}>
          Add
        </button>
        <button type="button" className="plain" disabled={board === undefined} onClick={() => void write(row.boards.filter((_, i) => i !== open)).then(() => setOpen(0))}>
          Take out
        </button>
      </div>
      {board !== undefined && (
        <div style={{ marginTop: 8, display: 'grid', gap: 8 }}>
          <NumberField label="Depth, toward the audience" unit="m" step={0.05} value={board.depth} onChange={(depth) => set({ depth })} />
          <NameField
            label="Corners: x y, x y, … (m)"
            value={board.points.reduce((t, v, i) => t + (i === 0 ? '' : i % 2 === 0 ? ', ' : ' ') + Number(v.toFixed(4)), '')}
            onChange={(text) =>
              set({
                points: numbers(text),
              })
            }
          />
        </div>
      )}
    </>
  );
}

/** The file of a model: how it is read, and a newer one in its place. */
export function ModelFile({ kind, row }: { kind: 'surface' | 'prop'; row: RowOf<'surface'> | RowOf<'prop'> }) {
  const shape = settings(row.shape);
  const file = row.modelFile as { name?: string; state?: string; progress?: number; sentence?: string | null; form?: { triangles?: number; remarks?: string[]; groups?: { name: string; triangles: number }[] } } | undefined;
  const change = (name: string, value: string | number | boolean) => edit(`Shape ${row.name}`, [update(kind, row as never, { shape: { ...shape, [name]: value } } as never)]);
  const replace = async (chosen: File | undefined) => {
    if (chosen === undefined) return;
    const hash = await uploadModel(chosen);
    if (hash !== null) await edit(`Replace the model of ${row.name}`, [update(kind, row as never, { model: hash } as never)]);
  };
  return (
    <>
      <h3>Model</h3>
      <Figures
        of={[
          ['File', file?.name ?? '—'],
          ['State', file === undefined || file.state === 'missing' ? 'missing' : file.state === 'working' ? `reading, ${Math.round((file.progress ?? 0) * 100)} %` : (file.state ?? '—')],
          ['Triangles', file?.form?.triangles?.toLocaleString('en') ?? '—'],
          [
            'Groups',
            (file?.form?.groups ?? [])
              .map((g) => g.name || '(none)')
              .slice(0, 6)
              .join(', ') || '—',
          ],
        ]}
      />
      {row.model !== null && (file?.state === 'waiting' || file?.state === 'working') && (
        <button type="button" className="plain" onClick={() => void api(`files/${row.model}/cancel`, { body: {} }).catch(complain)}>
          Stop reading it
        </button>
      )}
      {row.model !== null && (file?.state === 'failed' || file?.state === 'cancelled') && (
        <button type="button" className="plain" onClick={() => void api(`files/${row.model}/retry`, { body: {} }).catch(complain)}>
          Read it again
        </button>
      )}
      {file?.sentence && (
        <p style={{ fontSize: 13 }}>
          <Sign state="fault" /> {file.sentence}
        </p>
      )}
      {(file?.form?.remarks ?? []).map((r) => (
        <p key={r} style={{ fontSize: 13, margin: '4px 0' }}>
          <Sign state="attention" /> {r}
        </p>
      ))}
      {kind === 'surface' && (
        <NativeSelect
          mt={8}
          size="xs"
          label="UVs"
          value={String(shape.uv ?? 'file')}
          onChange={(e) => void change('uv', e.currentTarget.value)}
          data={[
            { value: 'file', label: 'of the file; made by box where it has none' },
            { value: 'box', label: 'made by box' },
            { value: 'front', label: 'thrown from the front' },
            { value: 'top', label: 'thrown from above' },
          ]}
        />
      )}
      {kind === 'prop' && <NumberField label="Metres a unit" value={Number(shape.scale ?? 1)} onChange={(v) => change('scale', v)} />}
      <Switch mt={8} label="Z is up in the file" checked={shape.zUp === true} onChange={(e) => void change('zUp', e.currentTarget.checked)} />
      <Switch mt={6} label="Turn the faces round" checked={shape.flip === true} onChange={(e) => void change('flip', e.currentTarget.checked)} />
      <label className="plain" style={{ display: 'inline-block', marginTop: 8 }}>
        Put a newer file in its place
        <input type="file" accept=".obj" hidden onChange={(e) => void replace(e.currentTarget.files?.[0])} />
      </label>
    </>
  );
}

function MaterialOf({ row }: { row: RowOf<'surface'> }) {
  const material = settings(row.material);
  const change = (name: string, value: string | number | boolean) => edit(`Change the stuff of ${row.name}`, [update('surface', row, { material: { ...material, [name]: value } as typeof row.material })]);
  return (
    <>
      <h3>Stuff</h3>
      <Switch label="Translucent" checked={material.translucent === true} onChange={(e) => void change('translucent', e.currentTarget.checked)} />
      {material.translucent === true && <Switch mt={6} label="Lit from behind" checked={material.rear === true} onChange={(e) => void change('rear', e.currentTarget.checked)} />}
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField label="Gain" digits={2} step={0.05} value={Number(material.gain ?? 0.8)} onChange={(v) => change('gain', v)} />
        {material.translucent === true && <NumberField label="Lets through" unit="%" scale={100} value={Number(material.transmission ?? 0.4)} onChange={(v) => change('transmission', v)} />}
      </div>
    </>
  );
}

const percent = (v: number) => `${(v * 100).toFixed(1)} %`;

/** What the projectors make of a face. */
function LightOn({ id }: { id: string }) {
  const any = useRows('projector').length > 0;
  const light = useLight(any);
  const f = light.data?.faces.find((face) => face.id === id)?.figures;
  if (!any) return null;
  if (light.isError) return <p className="state-attention">▲ {(light.error as Error).message}</p>;
  if (f === undefined) return null;
  return (
    <>
      <h3>Projected light</h3>
      <Figures
        of={[
          ['No projector', percent(f.none)],
          ['One', percent(f.one)],
          ['Two or more', percent(f.more)],
          ['Illuminance', `${f.luxLeast.toFixed(0)} – ${f.luxMost.toFixed(0)} lx`],
          ['Mean', `${f.luxMean.toFixed(0)} lx · ${f.nitsMean.toFixed(0)} cd/m²`],
          ['Least over mean', f.even.toFixed(2)],
          ['Incidence', `mean ${f.angleMean.toFixed(1)}°, most ${f.angleMost.toFixed(1)}°`],
          ['Density', `mean ${f.densityMean.toFixed(0)}, least ${f.densityLeast.toFixed(0)} px/m`],
        ]}
      />
    </>
  );
}

/** Files that go out of the house with a face. */
function TakeAway({ row }: { row: RowOf<'surface'> }) {
  const showId = useStudio((s) => s.showId);
  const at = `/api/shows/${showId}/surfaces/${row.id}`;
  return (
    <>
      <h3>To take away</h3>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        {row.kind === 'wall' && (
          <>
            <a className="plain" href={`${at}/specification.csv`} download>
              Specification (CSV)
            </a>
            <a className="plain" href={`${at}/specification.pdf`} download>
              (PDF)
            </a>
          </>
        )}
        <a className="plain" href={`${at}/template.svg`} download>
          Pixel map (SVG)
        </a>
        <a className="plain" href={`${at}/template.png`} download>
          (PNG)
        </a>
        <a className="plain" href={`${at}/surface.obj`} download>
          OBJ
        </a>
      </div>
    </>
  );
}

function CardButton({ id }: { id: string }) {
  const cards = useStudio((s) => s.cards);
  const on = cards.includes(id);
  return (
    <button type="button" className="plain" aria-pressed={on} onClick={() => void command({ do: 'cards', surfaces: on ? cards.filter((c) => c !== id) : [...cards, id] })}>
      {on ? 'Take the test card off' : 'Test card on it'}
    </button>
  );
}

export function SurfaceDetails({ id }: { id: string }) {
  const row = useRow('surface', id);
  const panels = useRows('panel');
  const figures = useShow()?.computed.surfaces[id];
  const outputs = useRows('output');
  const regions = useRows('region').filter((r) => r.surface === id);
  if (row === undefined) return <Gone />;
  const panel = row.cells.flat().find((c) => c !== null) ?? null;
  const [columns, rows] = [row.cells[0]?.length ?? 0, row.cells.length];
  const resize = (c: number, r: number) => {
    c = Math.round(c);
    r = Math.round(r);
    const cells = Array.from({ length: Math.max(0, r) }, (_, y) => Array.from({ length: Math.max(0, c) }, (_, x) => (y < rows && x < columns ? (row.cells[y]?.[x] ?? null) : panel)));
    return edit(`Resize ${row.name}`, [update('surface', row, { cells, seams: Array.from({ length: Math.max(0, c - 1) }, (_, i) => row.seams[i] ?? 0) })]);
  };
  const onOutput = async () => {
    const output = outputs[0];
    if (output === undefined || figures === undefined) return;
    const region = ulid();
    if (await edit(`Put ${row.name} on ${output.name}`, [insert('region', region, { output: output.id, surface: id, source: [0, 0, figures.rasterWidth, figures.rasterHeight], x: 0, y: 0 })])) go('outputs', { kind: 'region', id: region });
  };
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('surface', row, { name })])} />
      {row.kind !== 'wall' ? (
        <FaceShape row={row} figures={figures} />
      ) : (
        <>
          <Select
            label="Panel"
            mt={8}
            allowDeselect={false}
            value={panel}
            data={panels.map((p) => ({ value: p.id, label: p.name }))}
            onChange={(v) => v !== null && void edit(`Change the panels of ${row.name}`, [update('surface', row, { cells: row.cells.map((r) => r.map((c) => (c === null ? null : v))) })])}
          />
          <div className="row2" style={{ marginTop: 8 }}>
            <NumberField label="Columns" value={columns} digits={0} onChange={(v) => resize(v, rows)} />
            <NumberField label="Rows" value={rows} digits={0} onChange={(v) => resize(columns, v)} />
            {(['workedWidth', 'workedHeight'] as const).map((side) => (
              <NumberField
                key={side}
                label={side === 'workedWidth' ? 'Made for, if other' : 'by'}
                unit="px"
                digits={0}
                value={Number(settings(row.shape)[side] ?? 0)}
                onChange={(v) => edit(`Change the raster of ${row.name}`, [update('surface', row, { shape: { ...settings(row.shape), [side]: Math.round(v) } as typeof row.shape })])}
              />
            ))}
          </div>
          {figures !== undefined && (
            <>
              <h3>Comes to</h3>
              <WallFigures
                figures={{ ...(figures as Schemas['WallFigures']), rasterWidth: figures.physicalWidth, rasterHeight: figures.physicalHeight }}
                made={figures.rasterWidth === figures.physicalWidth && figures.rasterHeight === figures.physicalHeight ? undefined : [figures.rasterWidth, figures.rasterHeight]}
              />
            </>
          )}
          <WallPlan row={row} panelWidth={panels.find((p) => p.id === panel)?.widthMm ?? 500} />
        </>
      )}
      <Place kind="surface" row={row as unknown as Placed} />
      <h3>Output</h3>
      {regions.length === 0 ? (
        <button type="button" className="plain" disabled={outputs.length === 0} onClick={() => void onOutput()}>
          {outputs.length === 0 ? 'Add an output first (Outputs)' : `Put on ${outputs[0]?.name}`}
        </button>
      ) : (
        regions.map((r) => (
          <button key={r.id} type="button" className="plain" onClick={() => go('outputs', { kind: 'region', id: r.id })}>
            {outputs.find((o) => o.id === r.output)?.name} at <span className="mono">{`${r.x}, ${r.y}`}</span>
          </button>
        ))
      )}
      <p>
        <CardButton id={id} />
      </p>
      <Findings kind="surface" id={id} />
      <Remove kind="surface" id={id} name={row.name} />
    </>
  );
}

export function WallFigures({ figures: f, made }: { figures: Schemas['WallFigures']; made?: [number, number] | undefined }) {
  const pitch = Math.abs(f.pitchX - f.pitchY) < 0.005 ? `${f.pitchX.toFixed(2)} mm` : `${f.pitchX.toFixed(2)} × ${f.pitchY.toFixed(2)} mm`;
  return (
    <Figures
      of={[
        ['Raster', `${f.rasterWidth} × ${f.rasterHeight} px`],
        ...(made === undefined ? [] : ([['Made for', `${made[0]} × ${made[1]} px (${((made[0] / f.rasterWidth) * 100).toFixed(1)} × ${((made[1] / f.rasterHeight) * 100).toFixed(1)} %)`]] as [string, string][])),
        ['Size', `${f.widthMetres.toFixed(3)} × ${f.heightMetres.toFixed(3)} m`],
        ['Pitch', pitch],
        ['Panels', f.panels],
        ['Lit pixels', f.litPixels.toLocaleString('en')],
        ['Area', `${f.areaSquareMetres.toFixed(2)} m²`],
        ['Weight', `${f.kilograms.toFixed(1)} kg`],
        ['Power, average', `${(f.wattsAverage / 1000).toFixed(2)} kW`],
        ['Power, maximum', `${(f.wattsMaximum / 1000).toFixed(2)} kW`],
      ]}
    />
  );
}

const m = (v: unknown) => (typeof v === 'number' ? `${v.toFixed(2)} m` : '—');

/** Curve, power, data and distances of a wall, and the files that go out of the house. */
function WallPlan({ row, panelWidth }: { row: RowOf<'surface'>; panelWidth: number }) {
  const sheet = useSheet(row.id);
  const f = (sheet?.figures ?? {}) as Record<string, number | null> & { phases?: number[] };
  const columns = row.cells[0]?.length ?? 0;
  const feeding = settings(row.feeding);
  const bend = async (by: Record<string, number>) => {
    const { seams } = await api<{ seams: number[] }>('walls/seams', { body: { columns, widthMm: panelWidth, ...by } });
    return edit(`Curve ${row.name}`, [update('surface', row, { seams })]);
  };
  const feed = (name: string, value: string | number | boolean) => edit(`Feed ${row.name}`, [update('surface', row, { feeding: { ...feeding, [name]: value } as typeof row.feeding })]);
  const even = row.seams.every((s) => Math.abs(s - (row.seams[0] ?? 0)) < 1e-6);
  const paths = [
    { value: 'columns-snake', label: 'columns, to and fro' },
    { value: 'columns', label: 'columns' },
    { value: 'rows-snake', label: 'rows, to and fro' },
    { value: 'rows', label: 'rows' },
  ];
  return (
    <>
      {columns > 1 && (
        <>
          <h3>Curve, in the seams</h3>
          <div className="row3">
            <NumberField label={even ? 'Each' : 'Each (mixed)'} unit="deg" digits={3} value={row.seams[0] ?? 0} onChange={(angle) => bend({ angle })} />
            <NumberField label="In all" unit="deg" digits={2} value={f.turn ?? 0} onChange={(turn) => bend({ turn })} />
            <NumberField label="Radius" unit="m" digits={3} value={(f.radiusAtSeams ?? 0) * ((f.turn ?? 0) < 0 ? -1 : 1)} onChange={(radius) => (radius === 0 ? bend({ angle: 0 }) : bend({ radius }))} />
          </div>
          <NameField
            label="Seam by seam, from house left (deg)"
            value={row.seams.map((s) => Number(s.toFixed(4))).join(' ')}
            onChange={(text) =>
              edit(`Curve ${row.name}`, [
                update('surface', row, {
                  seams: numbers(text),
                }),
              ])
            }
          />
          <div style={{ height: 8 }} />
          <Figures
            of={[
              ['Along the faces', m(f.arc)],
              ['Chord · depth', `${m(f.chord)} · ${m(f.depth)}`],
              ['Radius at the faces', m(f.radiusAtFaces)],
              ['Joints open by', `${(f.openingMm ?? 0).toFixed(1)} mm`],
            ]}
          />
        </>
      )}
      <h3>Power</h3>
      <div className="row3">
        <NumberField label="Volts" unit="V" value={Number(feeding.volts ?? 230)} onChange={(v) => feed('volts', v)} />
        <NumberField label="Amps" unit="A" value={Number(feeding.amperes ?? 16)} onChange={(v) => feed('amperes', v)} />
        <NumberField label="Phases" digits={0} value={Number(feeding.phases ?? 3)} onChange={(v) => feed('phases', Math.round(v))} />
        <NumberField label="Factor" digits={2} value={Number(feeding.powerFactor ?? 0.95)} onChange={(v) => feed('powerFactor', v)} />
        <NumberField label="Share" unit="%" scale={100} value={Number(feeding.continuousShare ?? 0.8)} onChange={(v) => feed('continuousShare', v)} />
      </div>
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Circuits', `${f.circuits ?? '—'}`],
          ['Panels a circuit', `${f.panelsPerCircuit ?? '—'}`],
          ['A circuit bears', `${(f.wattsPerCircuit ?? 0).toFixed(0)} W`],
          ['Current in all', `${(f.amperes ?? 0).toFixed(1)} A`],
          ['Inrush', `${(f.inrushAmperes ?? 0).toFixed(0)} A`],
          ['Phases', `${(f.phases ?? []).map((w) => (w / 1000).toFixed(2)).join(' · ')} kW`],
          ['Most loaded', `+${((f.unbalance ?? 0) * 100).toFixed(0)} %`],
          ['Per square metre', `${(f.kilogramsPerSquareMetre ?? 0).toFixed(1)} kg · ${(f.wattsPerSquareMetre ?? 0).toFixed(0)} W`],
        ]}
      />
      <h3>Data</h3>
      <div className="row3">
        <NumberField label="Link" unit="Mb" scale={1e-6} value={Number(feeding.bitsPerSecond ?? 1e9)} onChange={(v) => feed('bitsPerSecond', v)} />
        <NumberField label="Bits" digits={0} value={Number(feeding.bitsPerPixel ?? 24)} onChange={(v) => feed('bitsPerPixel', Math.round(v))} />
        <NumberField label="Refresh" unit="Hz" value={Number(feeding.refresh ?? 60)} onChange={(v) => feed('refresh', v)} />
        <NumberField label="Usable" unit="%" scale={100} value={Number(feeding.usableShare ?? 0.95)} onChange={(v) => feed('usableShare', v)} />
      </div>
      <Switch mt={8} label="A port pays for the rectangle round its run" checked={feeding.byRectangle === true} onChange={(e) => void feed('byRectangle', e.currentTarget.checked)} />
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Ports', `${f.ports ?? '—'}`],
          ['Panels a port', `${f.panelsPerPort ?? '—'}`],
          ['A port carries', px(f.pixelsPerPort ?? 0)],
        ]}
      />
      <h3>Cables</h3>
      <div className="row2">
        <Select label="Power goes by" allowDeselect={false} data={paths} value={String(feeding.powerPath ?? 'columns-snake')} onChange={(v) => v !== null && void feed('powerPath', v)} />
        <Select label="Data goes by" allowDeselect={false} data={paths} value={String(feeding.dataPath ?? 'columns-snake')} onChange={(v) => v !== null && void feed('dataPath', v)} />
      </div>
      <Switch mt={8} label="From house right" checked={feeding.fromRight === true} onChange={(e) => void feed('fromRight', e.currentTarget.checked)} />
      <Switch mt={6} label="From the floor" checked={feeding.fromBottom !== false} onChange={(e) => void feed('fromBottom', e.currentTarget.checked)} />
      <h3>Seen from</h3>
      <NumberField label="Taking in, across" unit="deg" value={Number(feeding.viewAngle ?? 40)} onChange={(v) => feed('viewAngle', v)} />
      <div style={{ height: 8 }} />
      <Figures
        of={[
          ['Usual nearest', m(f.nearest)],
          ['Pixels vanish at', m(f.vanishing)],
          ['Taken in there', `${m(f.widthAtNearest)} · ${m(f.widthAtVanishing)}`],
        ]}
      />
      <TakeAway row={row} />
    </>
  );
}

type PanelNumber = Exclude<keyof RowOf<'panel'>, 'id' | 'name'>;

const panelFields: [string, PanelNumber, string][] = [
  ['Width', 'widthMm', 'mm'],
  ['Height', 'heightMm', 'mm'],
  ['Width', 'widthPx', 'px'],
  ['Height', 'heightPx', 'px'],
  ['Depth', 'depthMm', 'mm'],
  ['Weight', 'kilograms', 'kg'],
  ['Power, average', 'wattsAverage', 'W'],
  ['Power, maximum', 'wattsMaximum', 'W'],
  ['Inrush', 'inrushAmperes', 'A'],
  ['Luminance', 'candela', 'cd'],
  ['Seen across', 'viewAcross', 'deg'],
  ['Seen down', 'viewDown', 'deg'],
  ['Joint, least', 'jointLeast', 'deg'],
  ['Joint, most', 'jointMost', 'deg'],
];

export function PanelDetails({ id }: { id: string }) {
  const row = useRow('panel', id);
  if (row === undefined) return <Gone />;
  const [across, down] = [row.widthMm / row.widthPx, row.heightMm / row.heightPx];
  return (
    <>
      <h2>{row.name}</h2>
      <NameField label="Name" value={row.name} onChange={(name) => edit(`Rename ${row.name}`, [update('panel', row, { name })])} />
      <div className="row2" style={{ marginTop: 8 }}>
        {panelFields.map(([label, name, unit]) => (
          <NumberField key={name} label={label} unit={unit} value={row[name]} onChange={(v) => edit(`Change ${row.name}`, [update('panel', row, { [name]: name.endsWith('Px') ? Math.round(v) : v })])} />
        ))}
      </div>
      <h3>Comes to</h3>
      <Figures of={[['Pitch', Math.abs(across - down) < 0.005 ? `${across.toFixed(2)} mm` : `${across.toFixed(2)} mm across, ${down.toFixed(2)} mm down: they differ`]]} />
      <Remove kind="panel" id={id} name={row.name} />
    </>
  );
}

export function RigDetails({ id }: { id: string }) {
  const row = useRow('rig', id);
  const show = useShow();
  if (row === undefined || show === undefined) return <Gone />;
  const riders = (['surface', 'rig', 'projector', 'camera', 'prop', 'seat'] as const).flatMap((kind) => (show.rows[kind] as Placed[]).filter((r) => r.rig === id).map((r) => ({ kind, id: r.id, name: r.name })));
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="rig" row={row} />
      <Place kind="rig" row={row} />
      <h3>Carries · {riders.length}</h3>
      {riders.map((r) => (
        <button key={r.id} type="button" className="plain" style={{ margin: '0 4px 4px 0' }} onClick={() => go('venue', { kind: r.kind, id: r.id })}>
          {r.name}
        </button>
      ))}
      {riders.length === 0 && <p className="dim">Nothing rides on it. Drag things onto it in the list, or choose it under "Rides on".</p>}
      <p style={{ marginTop: 20 }}>
        <button type="button" className="plain" onClick={() => void arrange({ do: 'dissolve', ids: [id] })}>
          Remove it, and leave in place what it carries
        </button>
      </p>
    </>
  );
}

export function ProjectorDetails({ id }: { id: string }) {
  const row = useRow('projector', id);
  const faces = useRows('surface').filter((s) => s.kind !== 'wall');
  const light = useLight(true);
  const [says, setSays] = useState<string[]>([]);
  const [target, setTarget] = useState('');
  if (row === undefined) return <Gone />;
  const lens = settings(row.lens);
  const thrown = light.data?.projectors.find((p) => p.id === id);
  const change = (name: string, value: string | number | boolean) => edit(`Change the lens of ${row.name}`, [update('projector', row, { lens: { ...lens, [name]: value } as typeof row.lens })]);
  const number = (label: string, name: string, usual: number, unit = '', more: { scale?: number; digits?: number; step?: number } = {}) => (
    <NumberField key={name} label={label} unit={unit} value={Number(lens[name] ?? usual)} onChange={(v) => change(name, more.digits === 0 ? Math.round(v) : v)} {...more} />
  );
  const face = target !== '' ? target : (row.aims[0] ?? faces[0]?.id ?? '');
  const fill = async (how: string) => setSays((await arrange({ do: 'fill', ids: [id], surface: face, how })).says);
  const names = (share: [string, number][]) => share.map(([on, s]) => [faces.find((f) => f.id === on)?.name ?? 'other things', s] as const);
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="projector" row={row as unknown as Placed} />
      <MultiSelect mt={8} size="xs" label="There for" value={row.aims} data={faces.map((f) => ({ value: f.id, label: f.name }))} onChange={(aims) => void edit(`Aim ${row.name}`, [update('projector', row, { aims })])} />
      <h3>Light and lens</h3>
      <div className="row3">
        <NumberField label="Light" unit="lm" digits={0} value={row.lumens} onChange={(lumens) => edit(`Change ${row.name}`, [update('projector', row, { lumens })])} />
        {number('Width', 'widthPx', 1920, 'px', { digits: 0 })}
        {number('Height', 'heightPx', 1200, 'px', { digits: 0 })}
        {number('Throw', 'throw', (Number(lens.throwLeast ?? 1.2) + Number(lens.throwMost ?? 1.8)) / 2, '', { step: 0.05 })}
        {number('from', 'throwLeast', 1.2, '', { step: 0.05 })}
        {number('to', 'throwMost', 1.8, '', { step: 0.05 })}
        {number('Shift X', 'shiftX', 0, '%', { scale: 100, digits: 2 })}
        {number('Shift Y', 'shiftY', 0, '%', { scale: 100, digits: 2 })}
        {number('Focus', 'focus', 10, 'm', { step: 0.1 })}
        {number('has X ±', 'shiftXMost', 0.2, '%', { scale: 100 })}
        {number('has Y ±', 'shiftYMost', 0.6, '%', { scale: 100 })}
      </div>
      <Switch mt={8} label="On its side" checked={lens.portrait === true} onChange={(e) => void change('portrait', e.currentTarget.checked)} />
      <Switch mt={6} label="Mirrored, to throw from behind" checked={row.mirrored} onChange={(e) => void edit(`Change ${row.name}`, [update('projector', row, { mirrored: e.currentTarget.checked })])} />
      <h3>Fill a face</h3>
      <NativeSelect size="xs" aria-label="Face to fill" value={face} onChange={(e) => setTarget(e.currentTarget.value)} data={faces.map((f) => ({ value: f.id, label: f.name }))} />
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap', marginTop: 6 }}>
        <button type="button" className="plain" disabled={face === '' || row.locked} onClick={() => void fill('square')} title="Stands here, square to the face; zoom and shift do the rest">
          From here, square
        </button>
        <button type="button" className="plain" disabled={face === '' || row.locked} onClick={() => void fill('aimed')} title="Stands here and looks at its middle">
          From here, aimed
        </button>
        <button type="button" className="plain" disabled={face === '' || row.locked} onClick={() => void fill('lens')} title="Keeps the zoom, and goes to the distance where it fills">
          With this zoom
        </button>
        <button type="button" className="plain" disabled={face === '' || row.locked} onClick={() => void arrange({ do: 'aim', ids: [id], surface: face })} title="Turns to the middle of the face; zoom and shift stay">
          Only aim at it
        </button>
      </div>
      {says.map((s) => (
        <p key={s} style={{ fontSize: 13, margin: '6px 0' }}>
          <Sign state="attention" /> {s}
        </p>
      ))}
      {thrown !== undefined && (
        <>
          <h3>What becomes of its light</h3>
          <Figures
            of={[
              ...names(Object.entries(Array.isArray(thrown.onFaces) ? {} : (thrown.onFaces as Record<string, number>))).map(([name, s]) => [name, percent(s)] as [string, string]),
              ['Into nothing', percent(thrown.lostShare)],
              ['Spills', `${Math.round(thrown.spillPixels).toLocaleString('en')} px · ${thrown.spillLumens.toFixed(0)} lm`],
              ['Lit from · to', thrown.farthest > 0 ? `${thrown.nearest.toFixed(2)} · ${thrown.farthest.toFixed(2)} m` : '—'],
              ['Over its focus', thrown.farthest > 0 ? `${((thrown.nearest / thrown.focus - 1) * 100).toFixed(1)} · ${((thrown.farthest / thrown.focus - 1) * 100).toFixed(1)} %` : '—'],
              ['Found again', percent(thrown.balance)],
            ]}
          />
          {thrown.remarks.map((r) => (
            <p key={r} style={{ fontSize: 13, margin: '6px 0' }}>
              <Sign state="attention" /> {r}
            </p>
          ))}
        </>
      )}
      <Place kind="projector" row={row as unknown as Placed} />
      <Through id={id} />
      <Remove kind="projector" id={id} name={row.name} />
    </>
  );
}

const Through = ({ id }: { id: string }) => (
  <p style={{ display: 'grid', gap: 8 }}>
    <NameField
      label="Turn to a point: x y z (m)"
      value=""
      onChange={(text) =>
        arrange({
          do: 'aim',
          ids: [id],
          point: numbers(text),
        })
      }
    />
    <button type="button" className="plain" onClick={() => setVenue({ look: `through ${id}` })}>
      Look from here
    </button>
  </p>
);

export function CameraDetails({ id }: { id: string }) {
  const row = useRow('camera', id);
  const cameras = useShow()?.computed.cameras;
  if (row === undefined) return <Gone />;
  const change = (fields: Partial<RowOf<'camera'>>) => edit(`Change ${row.name}`, [update('camera', row, fields)]);
  const angles = cameras?.[id];
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="camera" row={row as unknown as Placed} />
      <h3>Sensor and lens</h3>
      <div className="row2">
        <NumberField label="Sensor, width" unit="mm" value={row.sensorWidth} onChange={(sensorWidth) => change({ sensorWidth })} />
        <NumberField label="Sensor, height" unit="mm" value={row.sensorHeight} onChange={(sensorHeight) => change({ sensorHeight })} />
        <NumberField label="Focal length" unit="mm" value={row.focal} onChange={(focal) => change({ focal })} />
        <NumberField label="or takes in" unit="deg" digits={2} value={angles?.across ?? 0} onChange={async (angle) => change(await api<{ focal: number }>('cameras/focal', { body: { sensorWidth: row.sensorWidth, angle } }))} />
      </div>
      <Switch mt={8} label="Tracked during the show" checked={row.tracked} onChange={(e) => void change({ tracked: e.currentTarget.checked })} />
      <Place kind="camera" row={row as unknown as Placed} />
      <Through id={id} />
      <Remove kind="camera" id={id} name={row.name} />
    </>
  );
}

const propShapes: Record<string, [string, string, number][]> = {
  box: [
    ['width', 'Width', 1],
    ['height', 'Height', 1],
    ['depth', 'Depth', 1],
  ],
  cylinder: [
    ['radius', 'Radius', 0.5],
    ['height', 'Height', 1],
  ],
  model: [],
};

export function PropDetails({ id }: { id: string }) {
  const row = useRow('prop', id);
  if (row === undefined) return <Gone />;
  const shape = settings(row.shape);
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="prop" row={row as unknown as Placed} />
      <div className="row3" style={{ marginTop: 8 }}>
        {(propShapes[row.kind] ?? []).map(([name, label, usual]) => (
          <NumberField key={name} label={label} unit="m" step={0.1} value={Number(shape[name] ?? usual)} onChange={(v) => edit(`Shape ${row.name}`, [update('prop', row, { shape: { ...shape, [name]: v } as typeof row.shape })])} />
        ))}
      </div>
      {row.kind === 'model' && <ModelFile kind="prop" row={row} />}
      <Place kind="prop" row={row as unknown as Placed} />
      <Remove kind="prop" id={id} name={row.name} />
    </>
  );
}

export function SeatDetails({ id }: { id: string }) {
  const row = useRow('seat', id);
  const show = useShow();
  const sights = useQuery({
    queryKey: ['sights', show?.id, show?.revision],
    queryFn: () => api<{ sights: Record<string, Schemas['Sight'][]> }>(`shows/${show?.id}/sights`),
    enabled: show !== undefined,
    placeholderData: (old) => old,
    retry: 0,
  }).data?.sights[id];
  if (row === undefined) return <Gone />;
  return (
    <>
      <h2>{row.name}</h2>
      <Name kind="seat" row={row} />
      <Place kind="seat" row={row} />
      <Through id={id} />
      <h3>Seen from here</h3>
      {(sights ?? []).map((s) => (
        <div key={s.body} style={{ marginBottom: 8 }}>
          <strong style={{ fontSize: 13 }}>{s.name}</strong>
          {s.back > 0.01 && (
            <span style={{ fontSize: 13 }}>
              {' '}
              <Sign state="attention" /> {percent(s.back)} of it from behind
            </span>
          )}
          <Figures
            of={[
              ['Front seen', percent(s.front)],
              ['Distance', `${s.nearest.toFixed(1)} – mean ${s.mean.toFixed(1)} m`],
              ['Obliquely', `${s.oblique.toFixed(0)}°`],
              ['Smallest detail', `${s.detailMm.toFixed(1)} mm · ${s.detailPx.toFixed(2)} px`],
            ]}
          />
        </div>
      ))}
      {sights?.length === 0 && <p className="dim">No surface is seen from here.</p>}
      <Remove kind="seat" id={id} name={row.name} />
    </>
  );
}

const MIXED = 'mixed';

/** Several things at once: a field shows its value where all agree, and writes to all. */
export function ManyDetails({ chosen }: { chosen: Selection[] }) {
  const show = useShow();
  if (show === undefined) return null;
  const rows = chosen.flatMap((c) => {
    const row = (show.rows[c.kind] as unknown as (Placed & Record<string, unknown>)[]).find((r) => r.id === c.id);
    return row === undefined ? [] : [{ kind: c.kind, row }];
  });
  const ids = chosen.map((c) => c.id);
  const all = (test: (kind: Kind, row: Record<string, unknown>) => boolean) => rows.length > 0 && rows.every(({ kind, row }) => test(kind, row));
  const write = (name: string, fields: (row: Placed & Record<string, unknown>) => Record<string, unknown>) =>
    edit(
      `${name} of ${rows.length} things`,
      rows.map(({ kind, row }) => update(kind, row as never, fields(row) as never)),
    );
  const agreed = <T,>(read: (row: Placed & Record<string, unknown>) => T): T | null => {
    const first = rows[0] === undefined ? null : read(rows[0].row);
    return rows.every(({ row }) => read(row) === first) ? first : null;
  };
  const field = (label: string, unit: string, read: (row: Placed & Record<string, unknown>) => number, make: (row: Placed & Record<string, unknown>, v: number) => Record<string, unknown>): ReactNode => {
    const value = agreed(read);
    return (
      <NumberField key={label} label={value === null ? `${label} (${MIXED})` : label} unit={unit} value={value ?? rows.reduce((sum, { row }) => sum + read(row), 0) / rows.length} onChange={(v) => write(label, (row) => make(row, v))} />
    );
  };
  const inSettings = (column: 'shape' | 'lens' | 'material', name: string, usual: number) =>
    [(row: Record<string, unknown>) => Number(settings(row[column])[name] ?? usual), (row: Record<string, unknown>, v: number) => ({ [column]: { ...settings(row[column]), [name]: v } })] as const;
  const standing = all((kind) => isPlaced(kind));
  return (
    <>
      <h2>{rows.length} things</h2>
      <p className="dim" style={{ fontSize: 13 }}>
        {[...new Set(rows.map((r) => r.kind))].map((k) => `${rows.filter((r) => r.kind === k).length} ${k}${rows.filter((r) => r.kind === k).length === 1 ? '' : 's'}`).join(', ')}
      </p>
      {standing && (
        <>
          <h3>Place</h3>
          <div className="row3">
            {['X', 'Y', 'Z'].map((axis, i) =>
              field(
                axis,
                'm',
                (row) => row.position[i] ?? 0,
                (row, v) => ({ position: row.position.map((old, k) => (k === i ? v : old)) }),
              ),
            )}
            {['Yaw', 'Pitch', 'Roll'].map((axis, i) =>
              field(
                axis,
                'deg',
                (row) => row.rotation[i] ?? 0,
                (row, v) => ({ rotation: row.rotation.map((old, k) => (k === i ? v : old)) }),
              ),
            )}
          </div>
        </>
      )}
      {all((kind, row) => kind === 'surface' && row.kind !== 'wall') && (
        <>
          <h3>Faces</h3>
          <div className="row2">
            {field('Density', 'px', ...inSettings('shape', 'pixelsPerMetre', 100))}
            {field('Gain', '', ...inSettings('material', 'gain', 0.8))}
          </div>
        </>
      )}
      {all((kind) => kind === 'projector') && (
        <>
          <h3>Projectors</h3>
          <div className="row2">
            {field(
              'Light',
              'lm',
              (row) => Number(row.lumens),
              (_, v) => ({ lumens: v }),
            )}
            {field('Throw', '', ...inSettings('lens', 'throw', 1.5))}
            {field('Shift X', '', ...inSettings('lens', 'shiftX', 0))}
            {field('Shift Y', '', ...inSettings('lens', 'shiftY', 0))}
            {field('Focus', 'm', ...inSettings('lens', 'focus', 10))}
          </div>
        </>
      )}
      {all((kind) => kind === 'camera') &&
        field(
          'Focal length',
          'mm',
          (row) => Number(row.focal),
          (_, v) => ({ focal: v }),
        )}
      {standing && (
        <>
          <h3>Line up</h3>
          {(['x', 'y', 'z'] as const).map((axis) => (
            <div key={axis} style={{ display: 'flex', gap: 6, marginBottom: 6, alignItems: 'center' }}>
              <span className="mono" style={{ width: 14 }}>
                {axis.toUpperCase()}
              </span>
              {(['least', 'middle', 'most'] as const).map((to) => (
                <button key={to} type="button" className="plain" aria-label={`Align ${axis} ${to}`} onClick={() => void arrange({ do: 'align', ids, axis, to })}>
                  {{ x: { least: 'left', middle: 'middle', most: 'right' }, y: { least: 'bottom', middle: 'middle', most: 'top' }, z: { least: 'back', middle: 'middle', most: 'front' } }[axis][to]}
                </button>
              ))}
              <button type="button" className="plain" disabled={rows.length < 3} aria-label={`Distribute ${axis}`} onClick={() => void arrange({ do: 'distribute', ids, axis })}>
                even gaps
              </button>
            </div>
          ))}
          <NativeSelect
            mt={8}
            size="xs"
            label="Ride on"
            value={agreed((row) => row.rig ?? '') ?? MIXED}
            onChange={(e) => e.currentTarget.value !== MIXED && void arrange({ do: 'ride', ids, rig: e.currentTarget.value === '' ? null : e.currentTarget.value })}
            data={[
              ...(agreed((row) => row.rig ?? '') === null ? [{ value: MIXED, label: MIXED }] : []),
              { value: '', label: 'nothing: stand in the venue' },
              ...show.rows.rig.filter((r) => !ids.includes(r.id)).map((r) => ({ value: r.id, label: r.name })),
            ]}
          />
        </>
      )}
    </>
  );
}
