import { Select, Switch } from '@mantine/core';
import { useState } from 'react';
import type { RowOf, Schemas } from '../../../../api/client';
import { dusk } from '../../../../theme/tokens';
import { Figures, NameField, NumberField } from '../../../fields/fields';
import { Findings, Gone, Remove } from '../../../frame/parts';
import { useRow, useRows, useShow } from '../../../hooks';
import { arrange, command, edit, go, insert, select, update, useStudio } from '../../../store';
import { ulid } from '../../../time';
import { useLight } from '../light';
import { Place, type Placed, percent, ratio, settings } from './common';
import { ModelFile } from './ModelFile';
import { Reliefs } from './Reliefs';
import { WallFigures } from './WallFigures';
import { WallPlan } from './WallPlan';

const shapes = {
  relief: [
    ['width', 'Width', 'm', 4],
    ['height', 'Height', 'm', 3],
  ],
  drums: [['arc', 'Arc', 'deg', 180]],
  dome: [
    ['radius', 'Radius', 'm', 4],
    ['arc', 'Arc', 'deg', 180],
    ['tilt', 'Tilt', 'deg', 0],
  ],
  model: [['scale', 'Metres per unit', '', 1]],
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
  const change = (name: string, value: string | number | boolean) =>
    edit(`Shape ${row.name}`, [update('surface', row, { shape: { ...shape, [name]: value } as typeof row.shape })]);
  return (
    <>
      <div className="row3" style={{ marginTop: 8 }}>
        {(shapes[row.kind as keyof typeof shapes] ?? []).map(([name, label, unit, usual]) => (
          <NumberField
            key={name}
            label={label}
            unit={unit}
            step={0.1}
            value={Number(shape[name] ?? usual)}
            onChange={(v) => change(name, v)}
          />
        ))}
        <NumberField
          label="Density"
          unit="px/m"
          value={Number(shape.pixelsPerMetre ?? 100)}
          onChange={(v) => change('pixelsPerMetre', v)}
        />
        <NumberField
          label="Guide squares"
          unit="m"
          value={Number(shape.guide ?? 0)}
          onChange={(v) => change('guide', v)}
        />
      </div>
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField
          label="Fixed raster, width"
          unit="px"
          digits={0}
          value={Number(shape.rasterWidth ?? 0)}
          onChange={(v) => change('rasterWidth', Math.round(v))}
        />
        <NumberField
          label="Fixed raster, height"
          unit="px"
          digits={0}
          value={Number(shape.rasterHeight ?? 0)}
          onChange={(v) => change('rasterHeight', Math.round(v))}
        />
      </div>
      {row.kind === 'drums' && (
        <Tiers text={String(shape.tiers ?? '2 × 3; 1.5 × 2')} change={(tiers) => change('tiers', tiers)} />
      )}
      {row.kind === 'dome' && (
        <Switch
          mt={8}
          label="Viewed from outside"
          checked={shape.outside === true}
          onChange={(e) => void change('outside', e.currentTarget.checked)}
        />
      )}
      {row.kind === 'relief' && <Reliefs row={row} />}
      {row.kind === 'model' && <ModelFile kind="surface" row={row} />}
      {row.kind === 'box' && (
        <NameField
          label="Sides"
          value={String(shape.sides ?? 'left,front,right')}
          onChange={(v) => change('sides', v)}
        />
      )}
      {figures !== undefined && (
        <>
          <h3>Figures</h3>
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
      <Pair id={row.id} />
      <TakeAway row={row} />
    </>
  );
}

/** Drums that stand on one another, the uppermost first: diameter or radius, and height of each, in any unit. */
function Tiers({ text, change }: { text: string; change: (text: string) => unknown }) {
  const tiers = text.split(';').map((tier) => {
    const [radius = 0, height = 0] = tier.split(/[×x*]/).map(Number);
    return { radius, height };
  });
  const write = (next: typeof tiers) => {
    const metres = (v: number) => String(Number(v.toFixed(6)));
    return change(next.map(({ radius, height }) => `${metres(radius)} × ${metres(height)}`).join('; '));
  };
  const set = (i: number, fields: Partial<(typeof tiers)[number]>) =>
    write(tiers.map((tier, k) => (k === i ? { ...tier, ...fields } : tier)));
  return (
    <fieldset className="tiers">
      <legend>Tiers</legend>
      {[...tiers.keys()].reverse().map((i) => {
        const { radius = 0, height = 0 } = tiers[i] ?? {};
        const field = (label: string, value: number, onChange: (v: number) => unknown) => (
          <NumberField
            label={i === tiers.length - 1 ? label : ''}
            aria-label={`${label} of tier ${i + 1}`}
            unit="m"
            value={value}
            onChange={onChange}
          />
        );
        return (
          <div key={i} className="tier">
            <span className="mono dim">{i + 1}</span>
            {field('Diameter', 2 * radius, (v) => set(i, { radius: v / 2 }))}
            {field('Radius', radius, (v) => set(i, { radius: v }))}
            {field('Height', height, (v) => set(i, { height: v }))}
            <button
              type="button"
              className="plain"
              aria-label={`Remove tier ${i + 1}`}
              disabled={tiers.length === 1}
              onClick={() => void write(tiers.filter((_, k) => k !== i))}
            >
              ×
            </button>
          </div>
        );
      })}
      <button
        type="button"
        className="plain"
        onClick={() => {
          const top = tiers[tiers.length - 1] ?? { radius: 2, height: 1 };
          void write([...tiers, { radius: 0.75 * top.radius, height: top.height }]);
        }}
      >
        Add a tier on top
      </button>
    </fieldset>
  );
}

function MaterialOf({ row }: { row: RowOf<'surface'> }) {
  const material = settings(row.material);
  const change = (name: string, value: string | number | boolean) =>
    edit(`Change the material of ${row.name}`, [
      update('surface', row, { material: { ...material, [name]: value } as typeof row.material }),
    ]);
  const ambient = (
    <NumberField
      label="Ambient light"
      unit="lx"
      digits={0}
      value={Number(material.ambient ?? 0)}
      onChange={(v) => change('ambient', v)}
    />
  );
  if (row.kind === 'wall')
    return (
      <div className="row2" style={{ marginTop: 8 }}>
        {ambient}
        <NumberField
          label="Reflectance"
          unit="%"
          scale={100}
          value={Number(material.reflectance ?? 0.04)}
          onChange={(v) => change('reflectance', v)}
        />
      </div>
    );
  return (
    <>
      <h3>Material</h3>
      <Switch
        label="Translucent"
        checked={material.translucent === true}
        onChange={(e) => void change('translucent', e.currentTarget.checked)}
      />
      {material.translucent === true && (
        <Switch
          mt={6}
          label="Rear projection"
          checked={material.rear === true}
          onChange={(e) => void change('rear', e.currentTarget.checked)}
        />
      )}
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField
          label="Gain"
          digits={2}
          step={0.05}
          value={Number(material.gain ?? 0.8)}
          onChange={(v) => change('gain', v)}
        />
        {material.translucent === true && (
          <NumberField
            label="Transmission"
            unit="%"
            scale={100}
            value={Number(material.transmission ?? 0.4)}
            onChange={(v) => change('transmission', v)}
          />
        )}
        <NumberField
          label="Target luminance"
          unit="cd/m²"
          digits={1}
          value={Number(material.target ?? 0)}
          onChange={(v) => change('target', v)}
        />
        {ambient}
      </div>
    </>
  );
}

/** Two projectors, left and right of a face, that are aimed at it and fill it. */
function Pair({ id }: { id: string }) {
  const [degrees, setDegrees] = useState(30);
  return (
    <div className="row2" style={{ alignItems: 'end', marginTop: 8 }}>
      <NumberField label="Angle to each side" unit="deg" value={degrees} onChange={setDegrees} />
      <button
        type="button"
        className="plain"
        title="One from the left and one from the right, aimed at its middle, as far away as fills it"
        onClick={() => void arrange({ action: 'pair', ids: [id], degrees })}
      >
        Pair of projectors
      </button>
    </div>
  );
}

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
          ['Unlit', percent(f.none)],
          ['One projector', percent(f.one)],
          ['Overlap', percent(f.more)],
          ['Illuminance', `${f.luxMin.toFixed(0)} – ${f.luxMax.toFixed(0)}, avg ${f.luxMean.toFixed(0)} lx`],
          ['Luminance', `avg ${f.nitsMean.toFixed(0)} cd/m² · ${f.footLamberts.toFixed(1)} fL`],
          ['Lumens for target', f.lumensWanted > 0 ? `${Math.round(f.lumensWanted).toLocaleString('en')} lm` : '—'],
          ['Contrast', f.contrast > 0 ? ratio(f.contrast) : '—'],
          ['Uniformity, lit area', f.even.toFixed(2)],
          ['Uniformity, whole', f.evenAll.toFixed(2)],
          ['Incidence', `avg ${f.angleMean.toFixed(1)}°, max ${f.angleMax.toFixed(1)}°`],
          ['Density', `avg ${f.densityMean.toFixed(0)}, min ${f.densityMin.toFixed(0)} px/m`],
          [
            'Pixel size',
            f.densityMin > 0
              ? `avg ${(1000 / f.densityMean).toFixed(1)}, max ${(1000 / f.densityMin).toFixed(1)} mm`
              : '—',
          ],
        ]}
      />
    </>
  );
}

/** Files that go out of the house with a face. */
export function TakeAway({ row }: { row: RowOf<'surface'> }) {
  const showId = useStudio((s) => s.showId);
  const at = `/api/shows/${showId}/surfaces/${row.id}`;
  const sent = useRows('region').some((region) => region.surface === row.id);
  return (
    <>
      <h3>Export</h3>
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
        {sent && (
          <>
            <a
              className="plain"
              href={`${at}/template.svg?zones=1`}
              download
              title="With the zones where squares stay stretched, and where seams of projectors fall"
            >
              Pixel map with zones (SVG)
            </a>
            <a className="plain" href={`${at}/template.png?zones=1`} download>
              (PNG)
            </a>
          </>
        )}
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
    <button
      type="button"
      className="plain"
      aria-pressed={on}
      onClick={() => void command({ action: 'cards', surfaces: on ? cards.filter((c) => c !== id) : [...cards, id] })}
    >
      {on ? 'Take the test card off' : 'Test card on it'}
    </button>
  );
}

/** The colour by which people tell a surface from others, in lists, in the venue and on paper. */
function Colour({ row }: { row: RowOf<'surface'> }) {
  return (
    <label className="colour" title={row.colour === '' ? 'No colour' : row.colour}>
      <span>Colour</span>
      <input
        type="color"
        value={row.colour === '' ? dusk.dim : row.colour}
        data-empty={row.colour === ''}
        onChange={(e) => void edit(`Colour ${row.name}`, [update('surface', row, { colour: e.currentTarget.value })])}
      />
      {row.colour !== '' && (
        <button
          type="button"
          className="plain"
          aria-label="No colour"
          onClick={() => void edit(`Take the colour off ${row.name}`, [update('surface', row, { colour: '' })])}
        >
          ×
        </button>
      )}
    </label>
  );
}

/** A pixel light's type, and how finely its raster is drawn. */
function LightOfType({ row }: { row: RowOf<'surface'> }) {
  const fixtures = useRows('fixture');
  const shape = settings(row.shape);
  const change = (fields: Record<string, string | number>) =>
    edit(`Change the type of ${row.name}`, [
      update('surface', row, { shape: { ...shape, ...fields } as typeof row.shape }),
    ]);
  const type = fixtures.find((f) => f.id === shape.fixture);
  return (
    <>
      <Select
        label="Fixture type"
        mt={8}
        allowDeselect={false}
        searchable
        value={String(shape.fixture ?? '')}
        data={fixtures.map((f) => ({ value: f.id, label: f.name }))}
        onChange={(v) => v !== null && void change({ fixture: v })}
      />
      <div className="row2" style={{ marginTop: 8, alignItems: 'end' }}>
        <NumberField
          label="Oversampling"
          digits={0}
          value={Number(shape.fineness ?? 1)}
          hint="Raster px per pixel, each way"
          onChange={(v) => change({ fineness: Math.round(v) })}
        />
        {type !== undefined && (
          <button type="button" className="plain" onClick={() => select({ kind: 'fixture', id: type.id })}>
            Edit the type
          </button>
        )}
      </div>
      {type !== undefined && (
        <Figures
          of={[
            ['Pixels', type.points.length > 0 ? type.points.length / 2 : `${type.columns} × ${type.rows}`],
            ['Size', `${type.widthMm} × ${type.heightMm} mm`],
            ['Channels', type.channels],
            ['Power', `${type.watts} W`],
          ]}
        />
      )}
    </>
  );
}

export function SurfaceDetails({ id }: { id: string }) {
  const row = useRow('surface', id);
  const panels = useRows('panel');
  const figures = useShow()?.computed.surfaces[id];
  const outputs = useRows('output');
  const regions = useRows('region').filter((r) => r.surface === id);
  const patch = useRows('patch').find((p) => p.surface === id);
  if (row === undefined) return <Gone />;
  const panel = row.cells.flat().find((c) => c !== null) ?? null;
  const [columns, rows] = [row.cells[0]?.length ?? 0, row.cells.length];
  const resize = (c: number, r: number) => {
    c = Math.round(c);
    r = Math.round(r);
    const cells = Array.from({ length: Math.max(0, r) }, (_, y) =>
      Array.from({ length: Math.max(0, c) }, (_, x) => (y < rows && x < columns ? (row.cells[y]?.[x] ?? null) : panel)),
    );
    return edit(`Resize ${row.name}`, [
      update('surface', row, { cells, seams: Array.from({ length: Math.max(0, c - 1) }, (_, i) => row.seams[i] ?? 0) }),
    ]);
  };
  const onOutput = async () => {
    const output = outputs[0];
    if (output === undefined || figures === undefined) return;
    const region = ulid();
    if (
      await edit(`Put ${row.name} on ${output.name}`, [
        insert('region', region, {
          output: output.id,
          surface: id,
          source: [0, 0, figures.rasterWidth, figures.rasterHeight],
          x: 0,
          y: 0,
        }),
      ])
    )
      go('outputs', { kind: 'region', id: region });
  };
  return (
    <>
      <h2>{row.name}</h2>
      <div className="named">
        <NameField
          label="Name"
          value={row.name}
          onChange={(name) => edit(`Rename ${row.name}`, [update('surface', row, { name })])}
        />
        <Colour row={row} />
      </div>
      {row.kind === 'light' ? (
        <LightOfType row={row} />
      ) : row.kind !== 'wall' ? (
        <FaceShape row={row} figures={figures} />
      ) : (
        <>
          <Select
            label="Panel"
            mt={8}
            allowDeselect={false}
            value={panel}
            data={panels.map((p) => ({ value: p.id, label: p.name }))}
            onChange={(v) =>
              v !== null &&
              void edit(`Change the panels of ${row.name}`, [
                update('surface', row, { cells: row.cells.map((r) => r.map((c) => (c === null ? null : v))) }),
              ])
            }
          />
          <div className="row2" style={{ marginTop: 8 }}>
            <NumberField label="Columns" value={columns} digits={0} onChange={(v) => resize(v, rows)} />
            <NumberField label="Rows" value={rows} digits={0} onChange={(v) => resize(columns, v)} />
            {(['workedWidth', 'workedHeight'] as const).map((side) => (
              <NumberField
                key={side}
                label={side === 'workedWidth' ? 'Content raster, width' : 'Content raster, height'}
                unit="px"
                digits={0}
                value={Number(settings(row.shape)[side] ?? 0)}
                onChange={(v) =>
                  edit(`Change the raster of ${row.name}`, [
                    update('surface', row, {
                      shape: { ...settings(row.shape), [side]: Math.round(v) } as typeof row.shape,
                    }),
                  ])
                }
              />
            ))}
          </div>
          {figures !== undefined && (
            <>
              <h3>Totals</h3>
              <WallFigures
                figures={{
                  ...(figures as Schemas['WallFigures']),
                  rasterWidth: figures.physicalWidth,
                  rasterHeight: figures.physicalHeight,
                }}
                made={
                  figures.rasterWidth === figures.physicalWidth && figures.rasterHeight === figures.physicalHeight
                    ? undefined
                    : [figures.rasterWidth, figures.rasterHeight]
                }
              />
            </>
          )}
          <MaterialOf row={row} />
          <WallPlan row={row} panelWidth={panels.find((p) => p.id === panel)?.widthMm ?? 500} />
        </>
      )}
      <Place kind="surface" row={row as unknown as Placed} />
      <h3>Output</h3>
      {row.kind === 'light' ? (
        <button
          type="button"
          className="plain"
          onClick={() => go('outputs', patch === undefined ? { kind: 'surface', id } : { kind: 'patch', id: patch.id })}
        >
          {patch === undefined ? 'Patch it in Outputs' : `Universe ${patch.universe}, channel ${patch.channel}`}
        </button>
      ) : regions.length === 0 ? (
        <button type="button" className="plain" disabled={outputs.length === 0} onClick={() => void onOutput()}>
          {outputs.length === 0 ? 'Add an output first (Outputs)' : `Put on ${outputs[0]?.name}`}
        </button>
      ) : (
        regions.map((r) => (
          <button
            key={r.id}
            type="button"
            className="plain"
            onClick={() => go('outputs', { kind: 'region', id: r.id })}
          >
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
