import { Modal, NativeSelect, TextInput } from '@mantine/core';
import { skipToken, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, http, type Schemas } from '../../../api/client';
import { Figures, NumberField, submitted } from '../../fields/fields';
import { useRows, useShow } from '../../hooks';
import {
  arrange,
  base64,
  choose,
  client,
  complain,
  edit,
  editAndSelect,
  get,
  importPanels,
  inShow,
  insert,
  remove,
  select,
  useStudio,
} from '../../store';
import { ulid } from '../../time';
import { uploadFile } from '../media/uploads';
import { WallFigures } from './details/WallFigures';
import type { PlacedKind } from './placed';
import { setVenue, useVenueState } from './state';

const close = () => setVenue({ dialog: null });

export function Dialogs() {
  const dialog = useVenueState((s) => s.dialog);
  switch (dialog) {
    case 'wall':
      return <AddWall />;
    case 'face':
      return <AddFace />;
    case 'light':
      return <AddLight />;
    case 'model':
      return <AddModel />;
    case 'prop':
      return <AddProp />;
    case 'layouts':
      return <Placements />;
    case 'panels':
      return <Panels />;
    case 'array':
      return <ArrayOf />;
    default:
      return null;
  }
}

/** Adds a thing of a kind where there is room for it, and chooses it. */
export async function add(kind: PlacedKind, name: string, fields: Record<string, unknown>) {
  const rows = (client.getQueryData<{ rows: Record<string, { name: string }[]> }>(['show', get().showId])?.rows[kind] ??
    []) as { name: string }[];
  let title = name;
  for (let n = 2; rows.some((r) => r.name === title); n++) title = `${name} ${n}`;
  const id = ulid();
  await editAndSelect(`Add ${title}`, [insert(kind, id, { name: title, ...fields } as never)], { kind, id });
}

function AddWall() {
  const show = useShow();
  const stored = useRows('panel');
  const library = useQuery({ queryKey: ['panels'], queryFn: () => answer(http.GET('/panels')) }).data?.panels ?? [];
  const [name, setName] = useState(`Wall ${(show?.rows.surface.length ?? 0) + 1}`);
  const [choice, setChoice] = useState(stored[0]?.id ?? 'Indoor 2.6 · 500 × 500');
  const [columns, setColumns] = useState(6);
  const [rows, setRows] = useState(3);
  const [by, setBy] = useState<'panels' | 'size'>('panels');
  const [size, setSize] = useState({ width: 6, height: 3, pitch: 2.6 });
  const panel = stored.find((p) => p.id === choice) ?? library.find((p) => p.name === choice);
  const figures = useQuery({
    queryKey: ['wall', panel, columns, rows],
    queryFn:
      panel === undefined || by !== 'panels'
        ? skipToken
        : () => answer(http.POST('/walls/figures', { body: { panel, columns, rows } })),
    placeholderData: (old) => old,
    retry: 0,
  });
  const sized = useQuery({
    queryKey: ['by-size', size],
    queryFn: () => answer(http.POST('/walls/by-size', { body: size })),
    enabled: by === 'size',
    placeholderData: (old) => old,
    retry: 0,
  });
  const add = async () => {
    const panelId = ulid();
    const id = ulid();
    const s = sized.data;
    const known = by === 'panels' ? stored.find((p) => p.id === choice) : undefined;
    // Of size and pitch alone, the wall is one panel as large as itself, until real panels are chosen.
    const of =
      by === 'panels'
        ? panel
        : s && {
            name: `${name}, ${size.pitch} mm`,
            widthMm: s.widthPx * size.pitch,
            heightMm: s.heightPx * size.pitch,
            widthPx: s.widthPx,
            heightPx: s.heightPx,
          };
    if (of === undefined) return;
    const [c, r] = by === 'panels' ? [columns, rows] : [1, 1];
    const top = Math.max(0, ...(show?.rows.surface ?? []).map((s) => s.position[0] ?? 0));
    const width = by === 'panels' ? (figures.data?.widthMetres ?? 4) : size.width;
    const done = await edit(`Add ${name}`, [
      ...(known === undefined ? [insert('panel', panelId, of)] : []),
      insert('surface', id, {
        name,
        kind: 'wall',
        position: [(show?.rows.surface.length ?? 0) === 0 ? 0 : top + width + 0.5, 0, 0],
        rotation: [0, 0, 0],
        cells: Array.from({ length: r }, () => Array(c).fill(known?.id ?? panelId)),
        seams: Array(c - 1).fill(0),
      }),
    ]);
    if (done) {
      select({ kind: 'surface', id });
      close();
    }
  };
  const fault = by === 'panels' ? figures.error : sized.error;
  return (
    <Modal opened onClose={close} title="LED wall" size={580} centered>
      <form
        style={{ display: 'grid', gridTemplateColumns: '1fr 230px', gap: 20 }}
        onSubmit={submitted(() => {
          void add();
        })}
      >
        <div style={{ display: 'grid', gap: 10, alignContent: 'start' }}>
          <TextInput label="Name" data-autofocus value={name} onChange={(e) => setName(e.currentTarget.value)} />
          <NativeSelect
            label="Specify by"
            size="xs"
            value={by}
            onChange={(e) => setBy(e.currentTarget.value as typeof by)}
            data={[
              { value: 'panels', label: 'panels' },
              { value: 'size', label: 'only its size and pitch' },
            ]}
          />
          {by === 'panels' ? (
            <>
              <NativeSelect
                label="Panel"
                size="xs"
                value={choice}
                onChange={(e) => setChoice(e.currentTarget.value)}
                data={[
                  ...stored.map((p) => ({ value: p.id, label: p.name })),
                  ...library
                    .filter((u) => !stored.some((p) => p.name === u.name))
                    .map((u) => ({ value: u.name, label: u.name })),
                ]}
              />
              <div className="row2">
                <NumberField label="Columns" digits={0} value={columns} onChange={(v) => setColumns(Math.round(v))} />
                <NumberField label="Rows" digits={0} value={rows} onChange={(v) => setRows(Math.round(v))} />
              </div>
            </>
          ) : (
            <div className="row3">
              <NumberField
                label="Width"
                unit="m"
                value={size.width}
                onChange={(width) => setSize({ ...size, width })}
              />
              <NumberField
                label="Height"
                unit="m"
                value={size.height}
                onChange={(height) => setSize({ ...size, height })}
              />
              <NumberField
                label="Pitch"
                unit="mm"
                value={size.pitch}
                onChange={(pitch) => setSize({ ...size, pitch })}
              />
            </div>
          )}
        </div>
        <div>
          {fault ? (
            <p className="state-fault">✕ {(fault as Error).message}</p>
          ) : by === 'panels' ? (
            figures.data !== undefined && <WallFigures figures={figures.data} />
          ) : (
            sized.data !== undefined && (
              <Figures
                of={[
                  ['Pixels', `${sized.data.widthPx} × ${sized.data.heightPx}`],
                  ['Width difference', `${(sized.data.widthChange * 1000).toFixed(1)} mm`],
                  ['Height difference', `${(sized.data.heightChange * 1000).toFixed(1)} mm`],
                  ['Pitch for exact width', `${sized.data.pitchForWidth.toFixed(4)} mm`],
                  ['Pitch for exact height', `${sized.data.pitchForHeight.toFixed(4)} mm`],
                ]}
              />
            )
          )}
        </div>
        <button
          type="submit"
          className="plain primary"
          style={{ gridColumn: '1 / 3', textAlign: 'center', padding: 8 }}
        >
          Add {name.trim() === '' ? 'the wall' : name}
        </button>
      </form>
    </Modal>
  );
}

const faceKinds = [
  { value: 'flat', label: 'Flat' },
  { value: 'relief', label: 'Flat, with reliefs and openings at other depths' },
  { value: 'box', label: 'Box' },
  { value: 'drum', label: 'Drum' },
  { value: 'drums', label: 'Drums on one another' },
  { value: 'dome', label: 'Dome' },
];

/** A face to project on, to be shaped in the details. */
function AddFace() {
  const count = useRows('surface').length;
  const [kind, setKind] = useState('flat');
  const [name, setName] = useState(`Face ${count + 1}`);
  return (
    <Modal opened onClose={close} title="Projection face" centered>
      <form
        style={{ display: 'grid', gap: 10 }}
        onSubmit={submitted(() => {
          void add('surface', name, {
            kind,
            position: [0, kind === 'dome' ? 4 : 0, -2],
            shape: { pixelsPerMetre: 100 },
          }).then(close);
        })}
      >
        <TextInput label="Name" data-autofocus value={name} onChange={(e) => setName(e.currentTarget.value)} />
        <NativeSelect
          label="Shape"
          size="xs"
          value={kind}
          onChange={(e) => setKind(e.currentTarget.value)}
          data={faceKinds}
        />
        <button
          type="submit"
          className="plain primary"
          style={{ textAlign: 'center', padding: 8 }}
          disabled={name.trim() === ''}
        >
          Add {name}
        </button>
      </form>
    </Modal>
  );
}

/** Pixel lights of one type, side by side. */
function AddLight() {
  const stored = useRows('fixture');
  const library =
    useQuery({ queryKey: ['fixtures'], queryFn: () => answer(http.GET('/fixtures')) }).data?.fixtures ?? [];
  const [choice, setChoice] = useState(stored[0]?.id ?? 'Bar 16, RGBW');
  const [name, setName] = useState('Light');
  const [count, setCount] = useState(1);
  const [read, setRead] = useState<{ type: Schemas['FixtureFields']; wiring: object; path: number[] }[]>([]);
  const wired = read.find((mode) => mode.type.name === choice);
  const type = wired?.type ?? stored.find((f) => f.id === choice) ?? library.find((f) => f.name === choice);
  const readFile = async (file: File) => {
    const told = await answer(http.POST('/fixtures/gdtf', { body: { file: await base64(file) } })).catch(complain);
    if (!told) return;
    setRead(told.modes);
    setChoice(told.modes[0]?.type.name ?? choice);
    setName(told.name);
  };
  const bring = async () => {
    if (type === undefined) return;
    const there = stored.find((f) => f.id === choice || f.name === type.name);
    const fixture = there?.id ?? ulid();
    const lights = Array.from({ length: count }, (_, i) => ({
      id: ulid(),
      name: count === 1 ? name : `${name} ${i + 1}`,
      x: (i - (count - 1) / 2) * ((type.widthMm + 200) / 1000),
    }));
    const changes = [
      ...(there === undefined ? [insert('fixture', fixture, fieldsOfFixture(type))] : []),
      ...lights.map((light) =>
        insert('surface', light.id, {
          name: light.name,
          kind: 'light',
          position: [light.x, 0, 1],
          shape: { fixture } as never,
        }),
      ),
      // The way along which its pixels are wired came with the file.
      ...(wired === undefined
        ? []
        : lights.map((light) =>
            insert('patch', ulid(), { surface: light.id, wiring: wired.wiring as never, path: wired.path }),
          )),
    ];
    if (
      await editAndSelect(`Add ${count === 1 ? name : `${count} lights`}`, changes, {
        kind: 'surface',
        id: lights[0]?.id ?? '',
      })
    )
      close();
  };
  return (
    <Modal opened onClose={close} title="Pixel light" centered>
      <form
        style={{ display: 'grid', gap: 10 }}
        onSubmit={submitted(() => {
          void bring();
        })}
      >
        <TextInput label="Name" data-autofocus value={name} onChange={(e) => setName(e.currentTarget.value)} />
        <NativeSelect
          label="Fixture type"
          size="xs"
          value={choice}
          onChange={(e) => setChoice(e.currentTarget.value)}
          data={[
            { group: 'From the file', items: read.map((mode) => ({ value: mode.type.name, label: mode.type.name })) },
            { group: 'In the show', items: stored.map((f) => ({ value: f.id, label: f.name })) },
            {
              group: 'Generic',
              items: library
                .filter((f) => !stored.some((s) => s.name === f.name))
                .map((f) => ({ value: f.name, label: f.name })),
            },
          ].filter((group) => group.items.length > 0)}
        />
        <label style={{ fontSize: 13 }}>
          GDTF, at most 8 MB
          <input
            type="file"
            accept=".gdtf,.zip"
            aria-label="GDTF file"
            style={{ display: 'block', marginTop: 6 }}
            onChange={(e) => e.currentTarget.files?.[0] && void readFile(e.currentTarget.files[0])}
          />
        </label>
        <NumberField
          label="Count"
          digits={0}
          value={count}
          onChange={(v) => setCount(Math.max(1, Math.min(64, Math.round(v))))}
        />
        {type !== undefined && (
          <Figures
            of={[
              ['Pixels', `${type.columns} × ${type.rows}`],
              ['Size', `${type.widthMm} × ${type.heightMm} mm`],
              ['Channels', type.channels],
            ]}
          />
        )}
        <button
          type="submit"
          className="plain primary"
          style={{ textAlign: 'center', padding: 8 }}
          disabled={name.trim() === '' || type === undefined}
        >
          Add {name}
        </button>
      </form>
    </Modal>
  );
}

/** What a fixture type is made of, of one that is in the library. */
function fieldsOfFixture(type: Schemas['FixtureFields']) {
  const {
    name,
    columns,
    rows,
    widthMm,
    heightMm,
    points = [],
    channels = 'RGB',
    header = '',
    bits = 8,
    straddles = false,
    gamma = 1,
    minimum = 0,
    watts = 0,
  } = type;
  return { name, columns, rows, widthMm, heightMm, points, channels, header, bits, straddles, gamma, minimum, watts };
}

/** A surface or a prop from a file. */
function AddModel() {
  const [file, setFile] = useState<File | null>(null);
  const [as, setAs] = useState<'surface' | 'prop'>('surface');
  const [busy, setBusy] = useState(false);
  const bring = async () => {
    if (file === null) return;
    setBusy(true);
    const hash = await uploadFile(file);
    setBusy(false);
    if (hash === null) return;
    const name = file.name.replace(/\.obj$/i, '');
    await add(
      as,
      name,
      as === 'surface'
        ? { kind: 'model', model: hash, shape: { rasterWidth: 1920, rasterHeight: 1080 } }
        : { kind: 'model', model: hash },
    );
    close();
  };
  return (
    <Modal opened onClose={close} title="Imported model" centered>
      <form
        style={{ display: 'grid', gap: 10 }}
        onSubmit={submitted(() => {
          void bring();
        })}
      >
        <label style={{ fontSize: 13 }}>
          OBJ, at most 200 MB and 2 million triangles
          <input
            type="file"
            accept=".obj"
            aria-label="File of the model"
            style={{ display: 'block', marginTop: 6 }}
            onChange={(e) => setFile(e.currentTarget.files?.[0] ?? null)}
          />
        </label>
        <NativeSelect
          label="Import as"
          size="xs"
          value={as}
          onChange={(e) => setAs(e.currentTarget.value as typeof as)}
          data={[
            { value: 'surface', label: 'a surface that carries a picture' },
            { value: 'prop', label: 'a prop: it only stands in the light' },
          ]}
        />
        <button
          type="submit"
          className="plain primary"
          style={{ textAlign: 'center', padding: 8 }}
          disabled={file === null || busy}
        >
          {busy ? 'Sending…' : 'Import'}
        </button>
      </form>
    </Modal>
  );
}

function AddProp() {
  const [kind, setKind] = useState('box');
  const [name, setName] = useState('Prop');
  return (
    <Modal opened onClose={close} title="Prop" centered>
      <form
        style={{ display: 'grid', gap: 10 }}
        onSubmit={submitted(() => {
          void add('prop', name, { kind, position: [0, 0, 4] }).then(close);
        })}
      >
        <TextInput label="Name" data-autofocus value={name} onChange={(e) => setName(e.currentTarget.value)} />
        <NativeSelect
          label="Shape"
          size="xs"
          value={kind}
          onChange={(e) => setKind(e.currentTarget.value)}
          data={[
            { value: 'box', label: 'Box' },
            { value: 'cylinder', label: 'Cylinder' },
          ]}
        />
        <button type="submit" className="plain primary" style={{ textAlign: 'center', padding: 8 }}>
          Add {name}
        </button>
      </form>
    </Modal>
  );
}

type Compared = { sum: Schemas['VariantSum'] };

/** Placements of projectors side by side. */
function Placements() {
  const show = useShow();
  const showId = useStudio((s) => s.showId);
  const [name, setName] = useState('');
  const compared = useQuery({
    queryKey: ['variants', showId, show?.revision],
    queryFn: () => answer(http.GET('/shows/{show}/variants', inShow())),
    placeholderData: (old) => old,
    retry: 0,
  });
  const keep = async () => {
    await arrange({
      action: 'keep',
      name: name.trim() === '' ? `Layout ${(show?.rows.variant.length ?? 0) + 1}` : name,
    });
    setName('');
  };
  const rows: [string, (s: Compared['sum']) => string, ((s: Compared['sum']) => number) | null][] = [
    ['Projectors', (s) => String(s.projectors), (s) => -s.projectors],
    ['Total lumens', (s) => s.lumens.toLocaleString('en'), null],
    ['Unlit', (s) => `${(s.none * 100).toFixed(1)} %`, (s) => -s.none],
    ['One projector', (s) => `${(s.one * 100).toFixed(1)} %`, null],
    ['Overlap', (s) => `${(s.more * 100).toFixed(1)} %`, null],
    ['Illuminance, avg', (s) => `${s.luxMean.toFixed(0)} lx`, (s) => s.luxMean],
    ['Luminance, avg', (s) => `${s.nitsMean.toFixed(0)} cd/m²`, (s) => s.nitsMean],
    ['Uniformity, lit area', (s) => s.even.toFixed(2), (s) => s.even],
    ['Uniformity, whole', (s) => s.evenAll.toFixed(2), (s) => s.evenAll],
    ['Incidence, avg', (s) => `${s.angleMean.toFixed(1)}°`, (s) => -s.angleMean],
    ['Incidence, max', (s) => `${s.angleMax.toFixed(1)}°`, (s) => -s.angleMax],
    ['Density, avg', (s) => `${s.densityMean.toFixed(0)} px/m`, (s) => s.densityMean],
    ['Spill', (s) => `${s.spillLumens.toFixed(0)} lm`, (s) => -s.spillLumens],
  ];
  const list = compared.data?.variants ?? [];
  return (
    <Modal
      opened
      onClose={close}
      title="Projector layouts"
      size={Math.min(1100, 420 + 170 * Math.max(1, list.length))}
      centered
    >
      {compared.isError && <p className="state-fault">✕ {(compared.error as Error).message}</p>}
      <div style={{ overflowX: 'auto' }}>
        <table className="compare">
          <thead>
            <tr>
              <th />
              {list.map((v) => (
                <th key={v.id ?? 'now'} scope="col">
                  {v.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(([title, text, worth]) => {
              const best = worth === null || list.length < 2 ? null : Math.max(...list.map((v) => worth(v.sum)));
              return (
                <tr key={title}>
                  <th scope="row">{title}</th>
                  {list.map((v) => (
                    <td
                      key={v.id ?? 'now'}
                      className={`mono${worth !== null && best !== null && Math.abs(worth(v.sum) - best) < 1e-9 ? ' best' : ''}`}
                    >
                      {text(v.sum)}
                    </td>
                  ))}
                </tr>
              );
            })}
            <tr>
              <th />
              {list.map((v) => (
                <td key={v.id ?? 'now'}>
                  {v.id !== null && (
                    <>
                      <button
                        type="button"
                        className="plain"
                        onClick={() => void arrange({ action: 'apply', variant: v.id ?? '' })}
                      >
                        Take it
                      </button>{' '}
                      <button
                        type="button"
                        className="plain"
                        aria-label={`Remove ${v.name}`}
                        onClick={() => void edit(`Remove the placement ${v.name}`, [remove('variant', v.id as string)])}
                      >
                        Remove
                      </button>
                    </>
                  )}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </div>
      <form
        style={{ display: 'flex', gap: 8, marginTop: 14, alignItems: 'end' }}
        onSubmit={submitted(() => {
          void keep();
        })}
      >
        <TextInput
          label="Save current as"
          value={name}
          placeholder="Three on masts"
          onChange={(e) => setName(e.currentTarget.value)}
          style={{ flex: 1 }}
        />
        <button type="submit" className="plain primary" disabled={(show?.rows.projector.length ?? 0) === 0}>
          Keep
        </button>
      </form>
      <p className="dim" style={{ fontSize: 12 }}>
        Over all target faces. The best of each row is marked with a kite.
      </p>
    </Modal>
  );
}

/** The panels of the show and the library's: copied, changed, taken in and out as a table. */
function Panels() {
  const stored = useRows('panel');
  const showId = useStudio((s) => s.showId);
  const library = useQuery({ queryKey: ['panels'], queryFn: () => answer(http.GET('/panels')) }).data?.panels ?? [];
  const used = new Set(useRows('surface').flatMap((s) => s.cells.flat()));
  const copy = async (of: Schemas['PanelFields'], fresh: boolean) => {
    const { id: _, ...fields } = { id: '', ...of };
    let name = of.name;
    for (let n = 2; fresh && stored.some((p) => p.name === name); n++) name = `${of.name}, copy ${n - 1}`;
    const id = ulid();
    await editAndSelect(`Add the panel ${name}`, [insert('panel', id, { ...fields, name })], { kind: 'panel', id });
  };
  const take = async (file: File | undefined) => file && importPanels(await file.text());
  const line = (p: Schemas['PanelFields']) =>
    `${p.widthPx} × ${p.heightPx} px · ${(p.widthMm / p.widthPx).toFixed(2)} mm · ${p.kilograms ?? 0} kg · ${p.wattsMaximum ?? 0} W`;
  return (
    <Modal opened onClose={close} title="Panels" size={760} centered>
      <div style={{ display: 'flex', gap: 8, marginBottom: 10 }}>
        <label className="plain">
          Import CSV
          <input
            type="file"
            accept=".csv,text/csv"
            hidden
            aria-label="Panel table"
            onChange={(e) => void take(e.currentTarget.files?.[0])}
          />
        </label>
        <button
          type="button"
          className="plain"
          onClick={() =>
            void copy(
              {
                ...(library.find((p) => p.name.startsWith('Indoor 3.9')) ?? (library[0] as (typeof library)[number])),
                name: 'Panel of our own',
              },
              true,
            )
          }
        >
          New panel
        </button>
        <a className="plain" href={`/api/shows/${showId}/panels.csv`} download>
          Export CSV
        </a>
      </div>
      <h3 style={{ fontSize: 14, margin: '6px 0' }}>In this show · {stored.length}</h3>
      <ul className="panel-list">
        {stored.map((p) => (
          <li key={p.id}>
            <span className="name">{p.name}</span>
            <span className="mono dim">{line(p)}</span>
            <button type="button" className="plain" onClick={() => void copy(p, true)}>
              Copy
            </button>
            <button
              type="button"
              className="plain"
              onClick={() => {
                select({ kind: 'panel', id: p.id });
                close();
              }}
            >
              Change
            </button>
            <button
              type="button"
              className="plain"
              disabled={used.has(p.id)}
              title={used.has(p.id) ? 'A wall is built of it' : undefined}
              onClick={() => void edit(`Remove the panel ${p.name}`, [remove('panel', p.id)])}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
      <h3 style={{ fontSize: 14, margin: '10px 0 6px' }}>Library · {library.length}</h3>
      <ul className="panel-list" style={{ maxHeight: 300, overflow: 'auto' }}>
        {library.map((p) => (
          <li key={p.name}>
            <span className="name">{p.name}</span>
            <span className="mono dim">{line(p)}</span>
            <button type="button" className="plain" onClick={() => void copy(p, true)}>
              Add to show
            </button>
          </li>
        ))}
      </ul>
    </Modal>
  );
}

/** Copies of what is chosen, along a line or round an arc. */
function ArrayOf() {
  const chosen = useStudio((s) => s.chosen);
  const [way, setWay] = useState<'line' | 'arc' | 'mirror'>('line');
  const [count, setCount] = useState(3);
  const [step, setStep] = useState([2, 0, 0]);
  const [degrees, setDegrees] = useState(90);
  const [about, setAbout] = useState([0, 0, 0]);
  const [axis, setAxis] = useState('x');
  const [at, setAt] = useState(0);
  const ids = chosen.map((c) => c.id);
  const vector = (title: string, value: number[], set: (v: number[]) => void) =>
    ['X', 'Y', 'Z'].map((k, i) => (
      <NumberField
        key={title + k}
        label={`${title} ${k}`}
        unit="m"
        value={value[i] ?? 0}
        onChange={(v) => set(value.map((old, n) => (n === i ? v : old)))}
      />
    ));
  const go = async () => {
    const order =
      way === 'line'
        ? { action: 'line', ids, count, step }
        : way === 'arc'
          ? { action: 'arc', ids, count, degrees, about }
          : { action: 'mirror', ids, axis, at, copy: true };
    const { done, made } = await arrange(order);
    if (!done) return;
    const rows = client.getQueryData<{ rows: Record<PlacedKind, { id: string }[]> }>(['show', get().showId])?.rows;
    choose([
      ...chosen,
      ...made.flatMap((id) =>
        (Object.keys(rows ?? {}) as PlacedKind[])
          .filter((k) => rows?.[k].some((r) => r.id === id))
          .map((kind) => ({ kind, id })),
      ),
    ]);
    close();
  };
  return (
    <Modal
      opened
      onClose={close}
      title={`Copies of ${chosen.length === 1 ? 'one thing' : `${chosen.length} things`}`}
      centered
    >
      <form
        style={{ display: 'grid', gap: 10 }}
        onSubmit={submitted(() => {
          void go();
        })}
      >
        <NativeSelect
          label="Where"
          size="xs"
          value={way}
          onChange={(e) => setWay(e.currentTarget.value as typeof way)}
          data={[
            { value: 'line', label: 'along a line' },
            { value: 'arc', label: 'round an arc' },
            { value: 'mirror', label: 'on the other side, mirrored' },
          ]}
        />
        {way !== 'mirror' && (
          <NumberField label="Number of items" digits={0} value={count} onChange={(v) => setCount(Math.round(v))} />
        )}
        {way === 'line' && <div className="row3">{vector('Step', step, setStep)}</div>}
        {way === 'arc' && (
          <>
            <NumberField label="Total angle" unit="deg" value={degrees} onChange={setDegrees} />
            <div className="row3">{vector('About', about, setAbout)}</div>
          </>
        )}
        {way === 'mirror' && (
          <div className="row2">
            <NativeSelect
              label="Across"
              size="xs"
              value={axis}
              onChange={(e) => setAxis(e.currentTarget.value)}
              data={[
                { value: 'x', label: 'X: left and right' },
                { value: 'z', label: 'Z: front and back' },
              ]}
            />
            <NumberField label="Mirror plane" unit="m" value={at} onChange={setAt} />
          </div>
        )}
        <button
          type="submit"
          className="plain primary"
          style={{ textAlign: 'center', padding: 8 }}
          disabled={ids.length === 0}
        >
          Create copies
        </button>
      </form>
    </Modal>
  );
}
