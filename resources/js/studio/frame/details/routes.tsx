import { MultiSelect, Select } from '@mantine/core';
import { answer, http, type RowOf, type Schemas } from '../../../api/client';
import { properties } from '../../../api/kinds';
import { Figures, NameField, NumberField } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { edit, route as order, select, update } from '../../store';
import { Findings, Gone, Remove } from '../parts';
import { Values } from './values';

/** The values of a lens, without and with those of its plate's warp. */
const LENS_VALUES = properties.lens.map((p) => p.name).filter((name) => !name.startsWith('warp'));
const WARP_VALUES = properties.lens.map((p) => p.name).filter((name) => name.startsWith('warp'));

const FITTINGS = ['cover', 'contain', 'stretch', 'one-to-one'];

/** A row of a route that was chosen through another. */
function Back({ route }: { route: RowOf<'route'> | undefined }) {
  return (
    <span className="dim">
      of{' '}
      <button
        type="button"
        className="plain"
        style={{ padding: '0 6px' }}
        onClick={() => route !== undefined && select({ kind: 'route', id: route.id })}
      >
        {route?.name === '' ? 'a layer' : route?.name}
      </button>
    </span>
  );
}

export function RouteDetails({ id }: { id: string }) {
  const show = useShow();
  const row = useRow('route', id);
  const surfaces = useRows('surface');
  const rigs = useRows('rig');
  const layers = useRows('layer').filter((l) => l.route === id);
  const figures = show?.computed.routes[id];
  if (row === undefined) return <Gone />;
  const reached = figures?.surfaces ?? [];
  return (
    <>
      <h2>{row.name}</h2>
      <NameField
        label="Name"
        value={row.name}
        onChange={(name) => edit(`Rename ${row.name}`, [update('route', row, { name })])}
      />
      <Select
        label="Reach"
        mt={8}
        allowDeselect={false}
        value={row.reach}
        data={['skin', 'canvas', 'lens', 'globe']}
        onChange={(reach) =>
          reach !== null && void order({ action: 'reach', route: id, reach: reach as RowOf<'route'>['reach'] })
        }
      />
      <MultiSelect
        label="Surfaces"
        mt={8}
        searchable
        hidePickedOptions
        value={reached.filter((one) => surfaces.some((s) => s.id === one))}
        data={surfaces.map((s) => ({ value: s.id, label: s.name }))}
        placeholder={reached.length === 0 ? 'none yet' : undefined}
        onChange={(chosen) => void order({ action: 'surfaces', route: id, surfaces: chosen })}
      />
      <Pane row={row} figures={figures} />
      {row.reach === 'skin' && reached.length > 0 && (
        <>
          <h3>{row.width > 0 ? 'Pane on each surface' : 'Fitting on each surface'}</h3>
          {reached.slice(0, 100).map((surface) => (
            <Select
              key={surface}
              label={surfaces.find((s) => s.id === surface)?.name ?? 'gone'}
              size="xs"
              mb={6}
              allowDeselect={false}
              value={(row.fittings as Record<string, string>)[surface] ?? ''}
              data={[
                { value: '', label: row.width > 0 ? 'stretch' : 'as the layer' },
                ...FITTINGS.filter((f) => row.width === 0 || f !== 'stretch'),
              ]}
              onChange={(fitting) => fitting !== null && void order({ action: 'fit', route: id, surface, fitting })}
            />
          ))}
        </>
      )}
      {figures !== undefined && Object.keys(figures.coverage).length > 0 && (
        <>
          <h3>Reached</h3>
          <Figures
            of={Object.entries(figures.coverage as Record<string, Schemas['Coverage']>)
              .slice(0, 100)
              .map(([surface, c]) => [
                surfaces.find((s) => s.id === surface)?.name ?? 'gone',
                c.reached <= 0
                  ? 'nothing'
                  : `${Math.round(c.reached * 100)} % · ${c.densityMin.toFixed(2)} to ${c.densityMax.toFixed(2)} px/px${c.perDegree === null ? '' : ` · ${c.perDegree.toFixed(1)} px/° wanted`}`,
              ])}
          />
          <p className="dim" style={{ fontSize: 12 }}>
            px/px: pixels of the pane for each of the surface. Below 1 it is soft.
            {figures.perDegree === null ? '' : ` The pane has ${figures.perDegree.toFixed(1)} px/° across.`}
          </p>
        </>
      )}
      {row.reach === 'globe' && (
        <>
          <h3>Globe</h3>
          <Select
            label="Parent rig"
            mb={8}
            clearable
            placeholder="none"
            value={row.rig}
            data={rigs.map((r) => ({ value: r.id, label: r.name }))}
            onChange={(rig) => void edit(`Put ${row.name} on a rig`, [update('route', row, { rig })])}
          />
          <Values kind="route" id={id} stored={row.values as Record<string, unknown>} />
        </>
      )}
      <h3>Layers</h3>
      {layers.length === 0 && <p className="dim">No layer takes this route.</p>}
      {layers.slice(0, 100).map((l) => (
        <button
          key={l.id}
          type="button"
          className="plain"
          style={{ marginRight: 6, marginBottom: 6 }}
          onClick={() => select({ kind: 'layer', id: l.id })}
        >
          {l.name}
        </button>
      ))}
      <Findings kind="route" id={id} />
      <Remove kind="route" id={id} name={row.name} />
    </>
  );
}

/** The size of the pane, and sizes that would suit the surfaces. */
function Pane({ row, figures }: { row: RowOf<'route'>; figures: Schemas['RouteFigures'] | undefined }) {
  const pane = (width: number, height: number) =>
    order({ action: 'pane', route: row.id, width: Math.round(width), height: Math.round(height) });
  const offered = [
    ['as large as the largest', figures?.largest],
    ['of the shape of most', figures?.shapeOfMost?.join() === figures?.largest?.join() ? null : figures?.shapeOfMost],
  ] as const;
  return (
    <>
      <h3>Pane</h3>
      {row.width > 0 ? (
        <div className="row2">
          <NumberField label="Width" unit="px" digits={0} value={row.width} onChange={(v) => pane(v, row.height)} />
          <NumberField label="Height" unit="px" digits={0} value={row.height} onChange={(v) => pane(row.width, v)} />
        </div>
      ) : (
        <p className="dim" style={{ margin: '4px 0' }}>
          The raster of each surface.
        </p>
      )}
      {row.reach !== 'canvas' && (
        <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap', marginTop: 8 }}>
          {offered.map(([says, size]) =>
            size === null || size === undefined || (size[0] === row.width && size[1] === row.height) ? null : (
              <button
                key={says}
                type="button"
                className="plain"
                title={says}
                onClick={() => void pane(size[0] ?? 0, size[1] ?? 0)}
              >
                <span className="mono">
                  {size[0]} × {size[1]}
                </span>{' '}
                <span className="dim">{says}</span>
              </button>
            ),
          )}
          {row.reach === 'skin' && row.width > 0 && (
            <button type="button" className="plain" onClick={() => void pane(0, 0)}>
              The raster of each surface
            </button>
          )}
        </div>
      )}
    </>
  );
}

export function ShareDetails({ id }: { id: string }) {
  const row = useRow('share', id);
  const route = useRow('route', row?.route);
  const surface = useRow('surface', row?.surface);
  const figures = useShow()?.computed.surfaces[row?.surface ?? ''];
  const others = useRows('share').filter((s) => s.route === row?.route && s.id !== id && s.follows === null);
  const names = new Map(useRows('surface').map((s) => [s.id, s.name]));
  if (row === undefined) return <Gone />;
  const raster: [number, number] = [figures?.rasterWidth ?? 1, figures?.rasterHeight ?? 1];
  return (
    <>
      <h2>Share of {surface?.name ?? 'a removed surface'}</h2>
      <Back route={route} />
      <p className="dim" style={{ margin: '8px 0' }}>
        Raster{' '}
        <span className="mono">
          {raster[0]} × {raster[1]} px
        </span>{' '}
        <button
          type="button"
          className="plain"
          onClick={() =>
            void edit(`Size ${surface?.name}`, [
              update('share', row, { 'values.width': raster[0], 'values.height': raster[1] }),
            ])
          }
        >
          Pixel for pixel
        </button>
      </p>
      <Select
        label="Linked to"
        mb={8}
        clearable
        searchable
        placeholder="a place of its own"
        value={row.follows}
        data={others.map((s) => ({ value: s.id, label: names.get(s.surface) ?? 'a removed surface' }))}
        onChange={(follows) =>
          void edit(
            follows === null ? `A share of its own for ${surface?.name}` : `A share in common for ${surface?.name}`,
            [update('share', row, { follows })],
          )
        }
      />
      {row.follows === null ? (
        <Values kind="share" id={id} stored={row.values as Record<string, unknown>} />
      ) : (
        <p className="dim">Its place is that of the other; its own is kept.</p>
      )}
      <Findings kind="share" id={id} />
      <Remove kind="share" id={id} name={`the share of ${surface?.name ?? 'a surface'}`} />
    </>
  );
}

export function LensDetails({ id }: { id: string }) {
  const row = useRow('lens', id);
  const route = useRow('route', row?.route);
  const rigs = useRows('rig');
  const cameras = useRows('camera');
  const show = useShow();
  if (row === undefined) return <Gone />;
  /** What a focal length takes in becomes the field of view. */
  const zoom = async (focal: number) => {
    const { angle } = await answer(http.POST('/cameras/angle', { body: { sensorWidth: row.sensorWidth, focal } }));
    await edit(`Focal length of ${row.name}`, [update('lens', row, { 'values.angle': angle })]);
  };
  const part = [0, 1, 2, 3].map((i) => row.part[i] ?? 0) as [number, number, number, number];
  const change = (i: 0 | 1 | 2 | 3, v: number) => {
    const next = part.map((old, at) => (at === i ? Math.round(v) : old));
    return edit(`Change the part of ${row.name}`, [
      update('lens', row, { part: next.some((one) => one !== 0) ? next : [] }),
    ]);
  };
  return (
    <>
      <h2>{row.name}</h2>
      <Back route={route} />
      <NameField
        label="Name"
        value={row.name}
        onChange={(name) => edit(`Rename ${row.name}`, [update('lens', row, { name })])}
      />
      {cameras.length > 0 && (
        <Select
          label="Copy from camera"
          mt={8}
          value={null}
          placeholder="choose a camera"
          data={cameras.map((c) => ({ value: c.id, label: c.name }))}
          onChange={(camera) => camera !== null && void order({ action: 'copyCamera', lens: id, camera })}
        />
      )}
      <Select
        label="Parent rig"
        mt={8}
        clearable
        placeholder="none"
        value={row.rig}
        data={rigs.map((r) => ({ value: r.id, label: r.name }))}
        onChange={(rig) => void edit(`Put ${row.name} on a rig`, [update('lens', row, { rig })])}
      />
      <h3>Pane region</h3>
      <div className="row2">
        <NumberField label="Left" unit="px" digits={0} value={part[0]} onChange={(v) => change(0, v)} />
        <NumberField label="Top" unit="px" digits={0} value={part[1]} onChange={(v) => change(1, v)} />
        <NumberField label="Width" unit="px" digits={0} value={part[2]} onChange={(v) => change(2, v)} />
        <NumberField label="Height" unit="px" digits={0} value={part[3]} onChange={(v) => change(3, v)} />
      </div>
      {part[2] === 0 && part[3] === 0 && (
        <p className="dim">
          All that is left of {route === undefined ? 'the pane' : `${route.width} × ${route.height} px`}.
        </p>
      )}
      <h3>Lens</h3>
      <div className="row2">
        <NumberField
          label="Sensor width"
          unit="mm"
          digits={2}
          value={row.sensorWidth}
          onChange={(sensorWidth) => edit(`Sensor of ${row.name}`, [update('lens', row, { sensorWidth })])}
        />
        <NumberField
          label="Focal length"
          unit="mm"
          digits={2}
          value={(show?.computed.routes[row.route]?.focals as Record<string, number> | undefined)?.[id] ?? 0}
          onChange={zoom}
        />
      </div>
      <h3>Values</h3>
      <Values kind="lens" id={id} stored={row.values as Record<string, unknown>} only={LENS_VALUES} />
      <details>
        <summary>Lens warp grid</summary>
        <div style={{ marginTop: 8 }}>
          <Values kind="lens" id={id} stored={row.values as Record<string, unknown>} only={WARP_VALUES} />
        </div>
      </details>
      <Findings kind="lens" id={id} />
      <Remove kind="lens" id={id} name={row.name} />
    </>
  );
}
