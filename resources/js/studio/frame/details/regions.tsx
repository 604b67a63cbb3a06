import { Checkbox, SegmentedControl, Select } from '@mantine/core';
import { useState } from 'react';
import { http, type RowOf } from '../../../api/client';
import { Figures, NameField, NumberField, NumbersField, PlacesField } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { edit, outputs as order, remove, select, update, useStudio } from '../../store';
import { useTask } from '../../tasks';
import { EyeMatch } from '../../views/outputs/EyeMatch';
import { Findings, Gone, px, Remove } from '../parts';
import { Tests } from './outputs';

type Region = RowOf<'region'>;

const EDGES = ['left', 'right', 'top', 'bottom'] as const;
const SOURCE = ['Source X', 'Source Y', 'Source width', 'Source height'];

const fadeOf = (row: Region, of: string) =>
  Number((row.blend as Record<string, number>)[of] ?? (of === 'curve' ? 2 : 0));
const withFade = (row: Region, of: string, v: number): Partial<Region> => ({
  blend: { ...(row.blend as Record<string, number>), [of]: of === 'curve' ? v : Math.max(0, v) } as Region['blend'],
});
/** Has regions take another part of their surfaces: one of its four numbers is another for each. */
const takeSources = (rows: readonly Region[], i: number, values: readonly number[]) =>
  order({
    action: 'sources',
    sources: Object.fromEntries(
      rows.map((r, n) => [r.id, r.source.map((old, k) => (k === i ? Math.round(values[n] ?? old) : old))]),
    ),
  });

/** Has warps and blends of a surface computed from the venue, and says how far that is. */
function FromVenue({ region }: { region: RowOf<'region'> }) {
  const show = useShow();
  const [level, setLevel] = useState(false);
  const [limit, setLimit] = useState(75);
  const { task, running, begin, cancel } = useTask();
  const surface = useRow('surface', region.surface);
  const figures = show?.computed.regions[region.id];
  if (figures?.projector === null || figures === undefined) return null;
  return (
    <>
      <h3>From the venue</h3>
      <div className="row2">
        <NumberField label="Max. incidence angle" unit="°" digits={0} value={limit} onChange={setLimit} />
        <Checkbox
          mt={26}
          label="Equalise brightness"
          checked={level}
          onChange={(e) => setLevel(e.currentTarget.checked)}
        />
      </div>
      {running ? (
        <p style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
          <progress max={1} value={task?.progress ?? 0} aria-label="Computing" />
          <button type="button" className="plain" onClick={cancel}>
            Cancel
          </button>
        </p>
      ) : (
        <p style={{ display: 'flex', gap: 8 }}>
          <button
            type="button"
            className="plain primary"
            onClick={() =>
              begin(
                http.POST('/shows/{show}/projections', {
                  params: { path: { show: show?.id ?? '' } },
                  body: { surface: region.surface, level, limit },
                }),
              )
            }
          >
            Compute warps and blends
          </button>
          {region.model !== '' && (
            <button
              type="button"
              className="plain"
              onClick={() => void order({ action: 'reset', regions: [region.id], what: 'model' })}
            >
              Without
            </button>
          )}
        </p>
      )}
      <p className="dim" style={{ margin: 0, fontSize: 13 }} role="status">
        {task?.message ??
          (region.model === ''
            ? `Of all regions of ${surface?.name ?? 'the surface'} that go to projectors.`
            : 'Computed; what is set by hand lies on top.')}
      </p>
    </>
  );
}

export function RegionDetails({ id }: { id: string }) {
  const row = useRow('region', id);
  const show = useShow();
  const surface = useRow('surface', row?.surface);
  const output = useRow('output', row?.output);
  const regions = useRows('region');
  const surfaces = useRows('surface');
  const outputs = useRows('output');
  if (row === undefined) return <Gone />;
  const name = surface?.name ?? 'a region';
  const figures = show?.computed.regions[id];
  const [x = 0, y = 0, w = 0, h = 0] = figures?.place ?? [];
  const change = (fields: Partial<RowOf<'region'>>) => edit(`Place ${name}`, [update('region', row, fields)]);
  const corners = figures?.corners ?? [];
  const others = regions.filter((r) => r.id !== id);
  return (
    <>
      <h2>{surface?.name ?? 'Region'}</h2>
      <span className="dim">
        on {output?.name}
        {figures?.feed ? ` ▸ ${figures.feed}` : ''}
      </span>
      <h3>Position on output</h3>
      <div className="row2">
        <NumberField label="X" unit="px" digits={0} value={row.x} onChange={(v) => change({ x: Math.round(v) })} />
        <NumberField label="Y" unit="px" digits={0} value={row.y} onChange={(v) => change({ y: Math.round(v) })} />
        <NumberField label="Width" unit="px" digits={0} value={w} onChange={(v) => change({ width: Math.round(v) })} />
        <NumberField
          label="Height"
          unit="px"
          digits={0}
          value={h}
          onChange={(v) => change({ height: Math.round(v) })}
        />
      </div>
      <div style={{ display: 'flex', gap: 6, margin: '8px 0', flexWrap: 'wrap' }}>
        {(['one-to-one', 'contain', 'stretch'] as const).map((how) => (
          <button
            key={how}
            type="button"
            className="plain"
            aria-pressed={how === 'one-to-one' && figures?.oneToOne}
            onClick={() => void order({ action: 'fit', region: id, how })}
          >
            {how}
          </button>
        ))}
      </div>
      <div className="row2">
        <div>
          <span className="dim" style={{ fontSize: 13 }}>
            Turn
          </span>
          <SegmentedControl
            aria-label="Turn"
            fullWidth
            size="xs"
            data={['0', '90', '180', '270']}
            value={String(row.turn)}
            onChange={(v) => void change({ turn: Number(v) })}
          />
        </div>
        <Checkbox
          mt={26}
          label="Mirrored"
          checked={row.mirror}
          onChange={(e) => void change({ mirror: e.currentTarget.checked })}
        />
        <Checkbox
          label="Pinned for packing"
          checked={row.pinned}
          onChange={(e) => void change({ pinned: e.currentTarget.checked })}
        />
        <Checkbox
          label="Locked"
          checked={row.locked}
          onChange={(e) => void change({ locked: e.currentTarget.checked })}
        />
      </div>
      <h3>Source rectangle</h3>
      <div className="row2">
        {SOURCE.map((label, i) => (
          <NumberField
            key={label}
            label={label}
            unit="px"
            digits={0}
            value={row.source[i] ?? 0}
            onChange={(v) => takeSources([row], i, [v])}
          />
        ))}
      </div>
      <FromVenue region={row} />
      <h3>Warp</h3>
      <div className="row2">
        {corners.map((corner, i) =>
          ([0, 1] as const).map((axis) => (
            <NumberField
              key={`${['Top left', 'Top right', 'Bottom right', 'Bottom left'][i]} ${axis}`}
              label={`${['Top left', 'Top right', 'Bottom right', 'Bottom left'][i]} ${axis === 0 ? 'X' : 'Y'}`}
              unit="px"
              digits={2}
              value={corner[axis] ?? 0}
              onChange={(v) =>
                order({
                  action: 'pin',
                  region: id,
                  by: { [i]: axis === 0 ? [v - (corner[0] ?? 0), 0] : [0, v - (corner[1] ?? 0)] },
                })
              }
            />
          )),
        )}
      </div>
      <PlacesField
        label="Corners"
        hint="All at once, from top left: x, y; x, y; x, y; x, y"
        places={corners}
        onChange={(to) =>
          order({
            action: 'pin',
            region: id,
            by: Object.fromEntries(
              to.map(([cx, cy], i) => [i, [cx - (corners[i]?.[0] ?? 0), cy - (corners[i]?.[1] ?? 0)]]),
            ),
          })
        }
      />
      <div style={{ display: 'flex', gap: 6, margin: '8px 0', flexWrap: 'wrap' }}>
        <button
          type="button"
          className="plain"
          onClick={() => void order({ action: 'line', region: id, way: 'column' })}
        >
          Add a column
        </button>
        <button type="button" className="plain" onClick={() => void order({ action: 'line', region: id, way: 'row' })}>
          Add a row
        </button>
        <button
          type="button"
          className="plain"
          disabled={row.points.length === 0}
          onClick={() => void order({ action: 'reset', regions: [id], what: 'bend' })}
        >
          Unbend
        </button>
        <button
          type="button"
          className="plain"
          disabled={row.pin.length === 0}
          onClick={() => void order({ action: 'reset', regions: [id], what: 'pin' })}
        >
          Unpin
        </button>
        <a
          className="plain"
          href={`/align/${id}`}
          target="_blank"
          rel="noreferrer"
          title="Its corners and points, moved from a phone"
        >
          On a phone
        </a>
      </div>
      {others.length > 0 && (
        <Select
          label="Copy its warp to"
          searchable
          value={null}
          data={others.slice(0, 400).map((r) => ({
            value: r.id,
            label: `${surfaces.find((s) => s.id === r.surface)?.name ?? 'gone'} on ${outputs.find((o) => o.id === r.output)?.name ?? 'gone'}`,
          }))}
          onChange={(to) => to !== null && void order({ action: 'copy', from: id, regions: [to] })}
        />
      )}
      <h3>Blend</h3>
      <div className="row2">
        {EDGES.map((edge) => (
          <NumberField
            key={edge}
            label={`Fade ${edge}`}
            unit="px"
            digits={0}
            value={fadeOf(row, edge)}
            onChange={(v) => change(withFade(row, edge, v))}
          />
        ))}
        <NumberField
          label="Fade curve"
          digits={2}
          value={fadeOf(row, 'curve')}
          hint="1 straight, 2 soft at both ends"
          onChange={(v) => change(withFade(row, 'curve', v))}
        />
      </div>
      <GroupOf rows={[row]} />
      {output !== undefined && <Tests output={output.id} points={corners as number[][]} label={name} />}
      <h3>Totals</h3>
      <Figures
        of={[
          ['Right edge', px(x + w)],
          ['Bottom edge', px(y + h)],
          ['Pixels', (w * h).toLocaleString('en')],
        ]}
      />
      <Findings kind="region" id={id} />
      <Remove kind="region" id={id} name={`the region of ${surface?.name ?? 'a surface'}`} />
    </>
  );
}

/** The group that regions lie in, another one, or a new one. */
function GroupOf({ rows }: { rows: readonly Region[] }) {
  const groups = useRows('regionGroup');
  const [naming, setNaming] = useState(false);
  const ids = rows.map((r) => r.id);
  const known = (r: Region) => (groups.some((g) => g.id === r.group) ? (r.group ?? '') : '');
  const common = new Set(rows.map(known));
  const one = groups.find((g) => common.size === 1 && common.has(g.id));
  return (
    <>
      <h3>Group</h3>
      <Select
        aria-label="Group"
        placeholder={common.size > 1 ? 'mixed' : undefined}
        allowDeselect={false}
        searchable
        value={common.size > 1 ? null : ([...common][0] ?? '')}
        data={[{ value: '', label: 'none' }, ...groups.map((g) => ({ value: g.id, label: g.name }))]}
        onChange={(into) => into !== null && void order({ action: 'gather', regions: ids, into })}
      />
      {naming ? (
        <NameField
          label="Name of the new group"
          autoFocus
          value=""
          onChange={(name) => order({ action: 'group', regions: ids, name }).then(() => setNaming(false))}
        />
      ) : (
        <p style={{ display: 'flex', gap: 6, margin: '8px 0', flexWrap: 'wrap' }}>
          <button type="button" className="plain" onClick={() => setNaming(true)}>
            New group
          </button>
        </p>
      )}
      {one !== undefined && (
        <div className="row2">
          <NameField
            label="Its name"
            value={one.name}
            onChange={(name) => edit(`Rename ${one.name}`, [update('regionGroup', one, { name })])}
          />
          <Select
            label="Lies in"
            allowDeselect={false}
            value={groups.some((g) => g.id === one.parent) ? (one.parent ?? '') : ''}
            data={[
              { value: '', label: 'none' },
              ...groups.filter((g) => g.id !== one.id).map((g) => ({ value: g.id, label: g.name })),
            ]}
            onChange={(into) => into !== null && void order({ action: 'nest', group: one.id, into })}
          />
        </div>
      )}
    </>
  );
}

/** How much two regions beside one another share, and fades where any of them overlap. */
function Overlap({ rows }: { rows: readonly Region[] }) {
  const [unit, setUnit] = useState<'px' | '%' | 'mm'>('px');
  const [told, setTold] = useState(0);
  const outputs = useRows('output');
  // The one that leads is changed.
  const lead = useStudio((s) => s.selected?.id);
  const ids = rows.map((r) => r.id);
  const [first, second] = [...rows].sort((a, b) => Number(b.id === lead) - Number(a.id === lead));
  return (
    <>
      <h3>Overlap</h3>
      {rows.length === 2 && (
        <div className="row2">
          <NumberField
            label="Shared"
            unit={unit}
            digits={unit === 'px' ? 0 : 1}
            value={told}
            hint="Both grow, and fade over it"
            onChange={async (amount) => {
              if ((await order({ action: 'overlap', regions: ids, amount, unit })) !== null) setTold(amount);
            }}
          />
          <SegmentedControl
            aria-label="Unit of the overlap"
            size="xs"
            mt={24}
            data={['px', '%', 'mm']}
            value={unit}
            onChange={(v) => setUnit(v as typeof unit)}
          />
        </div>
      )}
      <p style={{ margin: '8px 0' }}>
        <button type="button" className="plain" onClick={() => void order({ action: 'fade', regions: ids })}>
          Fade where they overlap
        </button>
      </p>
      {first !== undefined && second !== undefined && rows.length === 2 && first.output !== second.output && (
        <EyeMatch
          key={ids.join()}
          regions={[first.id, second.id]}
          names={[first, second].map((r) => outputs.find((o) => o.id === r.output)?.name ?? 'gone') as [string, string]}
        />
      )}
    </>
  );
}

/** Several regions at once: a field shows what all have in common, and writes to all of them as one step. */
export function RegionsDetails({ ids }: { ids: readonly string[] }) {
  const show = useShow();
  const surfaces = useRows('surface');
  const outputs = useRows('output');
  const rows = useRows('region').filter((r) => ids.includes(r.id));
  const write = (name: string, fields: (row: Region, i: number) => Partial<Region>) =>
    edit(
      `${name} of ${rows.length} regions`,
      rows.map((row, i) => update('region', row, fields(row, i))),
    );
  const number = (
    label: string,
    read: (row: Region) => number,
    make: (row: Region, v: number) => Partial<Region>,
    digits = 0,
  ) => (
    <NumbersField
      key={label}
      label={label}
      unit={digits === 0 ? 'px' : ''}
      digits={digits}
      values={rows.map(read)}
      onChange={(values) =>
        write(label, (row, i) => make(row, digits === 0 ? Math.round(values[i] ?? 0) : (values[i] ?? 0)))
      }
    />
  );
  const flag = (label: string, field: 'mirror' | 'pinned' | 'locked') => (
    <Checkbox
      label={label}
      checked={rows.every((r) => r[field])}
      indeterminate={rows.some((r) => r[field]) && !rows.every((r) => r[field])}
      onChange={(e) => {
        const to = e.currentTarget.checked;
        void write(label, () => ({ [field]: to }));
      }}
    />
  );
  const size = (row: Region, i: number) => show?.computed.regions[row.id]?.place[i] ?? 0;
  const turns = new Set(rows.map((r) => r.turn));
  const named = (list: readonly { id: string; name: string }[], of: readonly string[]) =>
    [...new Set(of)].map((id) => list.find((one) => one.id === id)?.name ?? 'gone').join(', ');
  return (
    <>
      <h2>{rows.length} regions</h2>
      <span className="dim">
        of{' '}
        {named(
          surfaces,
          rows.map((r) => r.surface),
        )}{' '}
        on{' '}
        {named(
          outputs,
          rows.map((r) => r.output),
        )}
      </span>
      <GroupOf rows={rows} />
      <h3>Position on output</h3>
      <div className="row2">
        {number(
          'X',
          (r) => r.x,
          (_, x) => ({ x }),
        )}
        {number(
          'Y',
          (r) => r.y,
          (_, y) => ({ y }),
        )}
        {number(
          'Width',
          (r) => size(r, 2),
          (_, width) => ({ width }),
        )}
        {number(
          'Height',
          (r) => size(r, 3),
          (_, height) => ({ height }),
        )}
      </div>
      <div className="row2" style={{ marginTop: 8 }}>
        <div>
          <span className="dim">Turn{turns.size > 1 ? ' (mixed)' : ''}</span>
          <SegmentedControl
            aria-label="Turn"
            fullWidth
            size="xs"
            data={['0', '90', '180', '270']}
            value={turns.size > 1 ? '' : String(rows[0]?.turn ?? 0)}
            onChange={(v) => void write('Turn', () => ({ turn: Number(v) }))}
          />
        </div>
        {flag('Mirrored', 'mirror')}
        {flag('Pinned for packing', 'pinned')}
        {flag('Locked', 'locked')}
      </div>
      <h3>Source rectangle</h3>
      <div className="row2">
        {SOURCE.map((label, i) => (
          <NumbersField
            key={label}
            label={label}
            unit="px"
            digits={0}
            values={rows.map((r) => r.source[i] ?? 0)}
            onChange={(values) => takeSources(rows, i, values)}
          />
        ))}
      </div>
      <h3>Blend</h3>
      <div className="row2">
        {EDGES.map((edge) =>
          number(
            `Fade ${edge}`,
            (r) => fadeOf(r, edge),
            (r, v) => withFade(r, edge, v),
          ),
        )}
        {number(
          'Fade curve',
          (r) => fadeOf(r, 'curve'),
          (r, v) => withFade(r, 'curve', v),
          2,
        )}
      </div>
      <Overlap rows={rows} />
      <p>
        <button
          type="button"
          className="plain"
          disabled={rows.some((r) => r.locked)}
          onClick={() =>
            void edit(
              `Remove ${rows.length} regions`,
              rows.map((row) => remove('region', row.id)),
            ).then(() => select(null))
          }
        >
          Remove {rows.length} regions
        </button>
      </p>
    </>
  );
}
