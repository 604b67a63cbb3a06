import { Menu, NativeSelect, Popover, Switch } from '@mantine/core';
import { useEffect, useMemo } from 'react';
import { http } from '../../../api/client';
import { NumberField } from '../../fields/fields';
import { useRows, useShow } from '../../hooks';
import { arrange, choose, client, command, get, inShow, shown, useStudio } from '../../store';
import { useTask } from '../../tasks';
import { PixelTrace } from '../routes/PixelTrace';
import { WallSheetView } from '../WallSheet';
import { add, Dialogs } from './Dialogs';
import { type Light, spread, useLight, useReading, valueAt } from './light';
import { Outline } from './Outline';
import { placed } from './placed';
import { Scene, type Tokens } from './Scene';
import { type HeatMap, heatMaps, type Look, setVenue, useVenueState } from './state';
import { useTokens } from './tokens';

/** The venue: everything physical, by name, in three dimensions, and by its figures. */
export default function Venue() {
  const show = useShow();
  const surfaces = useRows('surface');
  const selected = useStudio((s) => s.selected);
  const chosenThings = useStudio((s) => s.chosen);
  const cards = useStudio((s) => s.cards);
  const showId = useStudio((s) => s.showId);
  const state = useVenueState();
  const { look, outline, sheet, heat, measuring, asking, asked, grid } = state;
  const chosen = surfaces.find((s) => s.id === selected?.id);
  const colours = useTokens();
  const light = useLight(
    useRows('projector').length > 0 && (heat !== null || chosenThings.some((c) => c.kind === 'projector')),
  );
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.target instanceof HTMLElement && e.target.closest('input, textarea, select')) return;
      const mod = e.ctrlKey || e.metaKey;
      const ids = get().chosen.map((c) => c.id);
      const nudge: Record<string, number[]> = {
        ArrowLeft: [-1, 0, 0],
        ArrowRight: [1, 0, 0],
        ArrowUp: [0, 0, -1],
        ArrowDown: [0, 0, 1],
        PageUp: [0, 1, 0],
        PageDown: [0, -1, 0],
      };
      const { look: now, grid: step } = useVenueState.getState();
      const way = nudge[e.key];
      if (way !== undefined && ids.length > 0 && !mod && !e.altKey) {
        e.preventDefault();
        const by =
          now === 'front' && (e.key === 'ArrowUp' || e.key === 'ArrowDown')
            ? [0, e.key === 'ArrowUp' ? 1 : -1, 0]
            : way;
        void arrange({ action: 'move', ids, by: by.map((v) => v * step * (e.shiftKey ? 1 : 0.1)) });
      } else if (mod && e.key.toLowerCase() === 'd' && ids.length > 0) {
        e.preventDefault();
        void arrange({ action: 'duplicate', ids });
      } else if (e.key.toLowerCase() === 'f' && !mod) setVenue((s) => ({ fit: s.fit + 1 }));
      else if (e.key === 'Escape')
        setVenue((s) =>
          s.asking
            ? { asking: false, asked: null }
            : s.measuring
              ? { measuring: false }
              : s.look.startsWith('through ')
                ? { look: 'free' }
                : {},
        );
    };
    const all = () => {
      const rows = shown()?.rows;
      if (rows !== undefined) choose(placed.flatMap((kind) => rows[kind].map((row) => ({ kind, id: row.id }))));
    };
    addEventListener('keydown', onKey);
    document.addEventListener('kite-all', all);
    return () => {
      removeEventListener('keydown', onKey);
      document.removeEventListener('kite-all', all);
    };
  }, []);
  const ids = chosenThings.map((c) => c.id);
  const views = useMemo(
    () => [
      { value: 'free', label: 'Perspective' },
      { value: 'plan', label: 'Plan' },
      { value: 'front', label: 'Front' },
      { value: 'side', label: 'Side' },
      ...(['camera', 'projector', 'seat'] as const)
        .map((kind) => ({
          group: { camera: 'Through a camera', projector: 'From a projector', seat: 'From a seat' }[kind],
          items: (show?.rows[kind] ?? []).map((r) => ({ value: `through ${r.id}`, label: r.name })),
        }))
        .filter((g) => g.items.length > 0),
    ],
    [show],
  );
  if (
    look.startsWith('through ') &&
    show !== undefined &&
    !(['camera', 'projector', 'seat'] as const).some((k) => show.rows[k].some((r) => r.id === look.slice(8)))
  )
    setVenue({ look: 'free' });
  const toggleCards = (on: string[]) => void command({ action: 'cards', surfaces: on });
  return (
    <>
      <div className="bar tight">
        <button
          type="button"
          className="plain"
          aria-pressed={outline}
          onClick={() => setVenue({ outline: !outline })}
          title="Outline of the venue"
        >
          List
        </button>
        <NativeSelect
          aria-label="Look from"
          size="xs"
          w={104}
          style={{ flex: 'none' }}
          value={look}
          onChange={(e) => setVenue({ look: e.currentTarget.value as Look, sheet: false })}
          data={views}
        />
        <button type="button" className="plain" onClick={() => setVenue((s) => ({ fit: s.fit + 1 }))} title="F">
          Fit
        </button>
        <button
          type="button"
          className="plain"
          aria-pressed={measuring}
          onClick={() => setVenue({ measuring: !measuring, asking: false, asked: null })}
        >
          Measure
        </button>
        <NativeSelect
          aria-label="Heat map"
          size="xs"
          w={92}
          style={{ flex: 'none' }}
          value={heat ?? ''}
          disabled={(show?.rows.projector.length ?? 0) === 0}
          onChange={(e) =>
            setVenue({ heat: e.currentTarget.value === '' ? null : (e.currentTarget.value as HeatMap), sheet: false })
          }
          data={[
            { value: '', label: 'Content' },
            ...Object.entries(heatMaps).map(([value, m]) => ({ value, label: m.title })),
          ]}
        />
        {(sheet || chosen?.kind === 'wall') && (
          <button
            type="button"
            className="plain"
            aria-pressed={sheet}
            disabled={chosen?.kind !== 'wall'}
            onClick={() => setVenue({ sheet: !sheet })}
            title="The chosen wall laid flat, with panels and cables"
          >
            Sheet
          </button>
        )}
        <span className="grow" />
        <Popover position="bottom-end" trapFocus>
          <Popover.Target>
            <button type="button" className="plain">
              Show ▾
            </button>
          </Popover.Target>
          <Popover.Dropdown>
            <div style={{ display: 'grid', gap: 10, width: 220 }}>
              {(
                [
                  ['labels', 'Names'],
                  ['dimensions', 'Dimensions'],
                  ['frontOnly', 'Fronts only'],
                  ['wire', 'Wire'],
                ] as const
              ).map(([field, title]) => (
                <Switch
                  key={field}
                  label={title}
                  checked={state[field]}
                  onChange={(e) => setVenue({ [field]: e.currentTarget.checked })}
                />
              ))}
              <NativeSelect
                label="Floor grid and snap"
                size="xs"
                value={String(grid)}
                onChange={(e) => setVenue({ grid: Number(e.currentTarget.value) })}
                data={['0.1', '0.25', '0.5', '1', '2', '5'].map((v) => ({ value: v, label: `each ${v} m` }))}
              />
              <strong style={{ fontSize: 13 }}>Test card</strong>
              <button type="button" className="plain" onClick={() => toggleCards(surfaces.map((s) => s.id))}>
                On all surfaces
              </button>
              <button
                type="button"
                className="plain"
                disabled={!chosenThings.some((c) => c.kind === 'surface')}
                onClick={() =>
                  toggleCards([
                    ...new Set([...cards, ...chosenThings.filter((c) => c.kind === 'surface').map((c) => c.id)]),
                  ])
                }
              >
                On the selection
              </button>
              <button type="button" className="plain" disabled={cards.length === 0} onClick={() => toggleCards([])}>
                Off{cards.length > 0 ? ` everywhere (${cards.length})` : ''}
              </button>
            </div>
          </Popover.Dropdown>
        </Popover>
        <button
          type="button"
          className="plain"
          aria-pressed={asking}
          onClick={() => setVenue({ asking: !asking, asked: null, measuring: false })}
          title="What is this pixel? Press a surface; drag to move what is uppermost there"
        >
          Pixel
        </button>
        <Menu position="bottom-end">
          <Menu.Target>
            <button type="button" className="plain" disabled={ids.length === 0}>
              Arrange ▾
            </button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item
              rightSection={<span className="mono dim">Ctrl+D</span>}
              onClick={() => void arrange({ action: 'duplicate', ids })}
            >
              Duplicate in place
            </Menu.Item>
            <Menu.Item onClick={() => setVenue({ dialog: 'array' })}>Copies along a line, an arc, mirrored…</Menu.Item>
            <Menu.Divider />
            <Menu.Item onClick={() => void arrange({ action: 'mirror', ids, axis: 'x', at: 0 })}>
              Mirror across the centre line
            </Menu.Item>
            <Menu.Item onClick={() => void arrange({ action: 'turn', ids, axis: 'y', degrees: 90 })}>
              Turn by 90°
            </Menu.Item>
            <Menu.Divider />
            {(
              [
                ['stand', 'Stand on the floor'],
                ['floor', 'Lay as a floor'],
                ['ceiling', 'Hang as a ceiling'],
              ] as const
            ).map(([how, label]) => (
              <Menu.Item key={how} onClick={() => void arrange({ action: 'lay', ids, how })}>
                {label}
              </Menu.Item>
            ))}
            <Menu.Divider />
            <Menu.Item
              onClick={async () => {
                await add('rig', 'Rig', {});
                const rig = get().selected?.id;
                if (rig !== undefined) await arrange({ action: 'ride', ids, rig });
              }}
            >
              Group on a new rig
            </Menu.Item>
            <Menu.Item onClick={() => void arrange({ action: 'ride', ids, rig: null })}>Remove from rig</Menu.Item>
          </Menu.Dropdown>
        </Menu>
        <Popover position="bottom-end">
          <Popover.Target>
            <button type="button" className="plain">
              Documents ▾
            </button>
          </Popover.Target>
          <Popover.Dropdown>
            <div style={{ display: 'grid', gap: 8, width: 220 }}>
              <NumberField
                label="Spare panels"
                unit="%"
                value={state.spares}
                onChange={(spares) => setVenue({ spares: Math.max(0, Math.min(100, spares)) })}
              />
              {(
                [
                  [`specification.pdf?spares=${state.spares}`, 'Specification (PDF)'],
                  [`specification.csv?spares=${state.spares}`, 'Specification (CSV)'],
                  ['plot.svg', 'Stage plot (SVG)'],
                  ['venue.obj', 'Whole venue (OBJ)'],
                ] as const
              ).map(([path, title]) => (
                <a key={title} className="plain" href={`/api/shows/${showId}/${path}`} download>
                  {title}
                </a>
              ))}
            </div>
          </Popover.Dropdown>
        </Popover>
        <button
          type="button"
          className="plain"
          onClick={() => setVenue({ dialog: 'layouts' })}
          title="Projector layouts, side by side"
        >
          Compare
        </button>
        <Menu position="bottom-end">
          <Menu.Target>
            <button type="button" className="plain primary">
              Add ▾
            </button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => setVenue({ dialog: 'wall' })}>LED wall</Menu.Item>
            <Menu.Item onClick={() => setVenue({ dialog: 'face' })}>Projection face</Menu.Item>
            <Menu.Item onClick={() => setVenue({ dialog: 'light' })}>Pixel light</Menu.Item>
            <Menu.Item onClick={() => setVenue({ dialog: 'model' })}>Imported model</Menu.Item>
            <Menu.Divider />
            <Menu.Item onClick={() => void add('projector', 'Projector', { position: [0, 3, 14] })}>
              Projector
            </Menu.Item>
            <Menu.Item onClick={() => void add('camera', 'Camera', { position: [0, 1.6, 10] })}>Camera</Menu.Item>
            <Menu.Item onClick={() => void add('seat', 'Seat', { position: [0, 1.65, 12] })}>Seat</Menu.Item>
            <Menu.Item onClick={() => setVenue({ dialog: 'prop' })}>Prop</Menu.Item>
            <Menu.Item onClick={() => void add('rig', 'Rig', {})}>Rig</Menu.Item>
            <Menu.Divider />
            <Menu.Item onClick={() => setVenue({ dialog: 'panels' })}>Panels…</Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </div>
      <div className="venue">
        {outline && <Outline />}
        {sheet && chosen?.kind === 'wall' ? (
          <div style={{ flex: 1, display: 'flex', flexDirection: 'column', minWidth: 0 }}>
            <WallSheetView key={chosen.id} surface={chosen} />
          </div>
        ) : (
          <div style={{ flex: 1, position: 'relative', display: 'flex', minWidth: 0 }}>
            <Scene colours={colours} light={light.data} />
            {surfaces.length === 0 && (
              <div className="empty" style={{ position: 'absolute', inset: 0, height: 'fit-content' }}>
                <strong>Empty venue</strong>
                Surfaces that carry pictures stand here, in metres. The first is an LED wall, built of panels.
                <button type="button" className="plain primary" onClick={() => setVenue({ dialog: 'wall' })}>
                  Add a wall
                </button>
              </div>
            )}
            {asked !== null && (
              <div className="asked">
                <PixelTrace pixel={asked} />
              </div>
            )}
            {heat !== null && <Legend map={heat} light={light.data} fault={light.error} colours={colours} />}
            {heat === null && (
              <span className="tip">
                {asking
                  ? 'Press a surface for what a pixel of it is, drag to move what is uppermost there, Esc to end'
                  : measuring
                    ? 'Click vertices to measure between them, Esc to end'
                    : look.startsWith('through ')
                      ? 'Esc to return'
                      : 'Drag to orbit, right-drag to pan, wheel to zoom, Shift-drag to select several'}
              </span>
            )}
          </div>
        )}
      </div>
      <Dialogs />
    </>
  );
}

/** What the colours of a heat map mean, the exact value under the cursor, and a finer look. */
function Legend({
  map,
  light,
  fault,
  colours,
}: {
  map: HeatMap;
  light: Light | undefined;
  fault: Error | null;
  colours: Tokens;
}) {
  const under = useReading((s) => s.under);
  const showId = useStudio((s) => s.showId);
  const { title, unit, digits } = heatMaps[map];
  const { task, running, begin, cancel } = useTask(
    () => void client.invalidateQueries({ queryKey: ['light', showId] }),
  );
  const finer = () => begin(http.POST('/shows/{show}/light', { ...inShow(), body: { cells: 15_000 } }));
  const [min, max] = light === undefined ? [0, 1] : spread(light, map);
  const value = under === null ? null : valueAt(under, map);
  return (
    <section className="legend" aria-label={`Heat map: ${title}`}>
      <strong>{title}</strong>
      <div className="ramp" style={{ background: `linear-gradient(90deg, ${colours.ramp.join(', ')})` }} />
      <div className="ends mono">
        <span>{`${min.toFixed(digits)} ${unit}`}</span>
        <span>{`${max.toFixed(digits)} ${unit}`}</span>
      </div>
      <p className="mono" data-testid="reading">
        {fault !== null
          ? fault.message
          : under === null
            ? 'Point at a face to read it'
            : `${under.face.name}: ${value === null ? 'no light' : `${value.toFixed(digits)} ${unit}`}`}
      </p>
      <p className="dim" style={{ fontSize: 12 }}>
        {running ? (
          <>
            Casting finer, <span className="mono">{Math.round((task?.progress ?? 0) * 100)} %</span>{' '}
            <button type="button" className="plain" onClick={cancel}>
              Stop
            </button>
          </>
        ) : (
          <>
            <span className="mono">{light?.cells.toLocaleString('en') ?? '—'}</span> cells a face{' '}
            <button type="button" className="plain" onClick={finer}>
              Finer
            </button>
            {task?.state === 'failed' && ` ✕ ${task.message}`}
          </>
        )}
      </p>
    </section>
  );
}
