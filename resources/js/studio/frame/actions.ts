import { http, type Schemas } from '../../api/client';
import { commands } from '../../api/commands';
import { learn } from '../controls';
import { addEffect, EFFECTS } from '../effects';
import {
  arrange,
  client,
  command,
  complain,
  drive,
  edit,
  editAndSelect,
  get,
  go,
  inShow,
  insert,
  openShow,
  playhead,
  recordCue,
  remove,
  running,
  select,
  set,
  shown,
  timelineId,
  turn,
  viewOf,
  views,
} from '../store';
import { download } from '../tasks';
import { ulid } from '../time';
import { tapTime } from '../views/timeline/work';
import { type HeatMap, heatMaps, setVenue, type useVenueState } from '../views/venue/state';
import { titles } from './Spine';

/** Puts the show that is open on air, in place of the one that is there. */
export async function engage() {
  try {
    await http.POST('/shows/{show}/engage', inShow());
    await client.invalidateQueries();
  } catch (error) {
    complain(error);
  }
}

export interface Action {
  name: string;
  /** Other words by which people look for it. */
  words?: string;
  keys?: string;
  run: () => unknown;
}

export function toggleTheme() {
  const next = document.documentElement.getAttribute('data-mantine-color-scheme') === 'dark' ? 'light' : 'dark';
  document.dispatchEvent(new CustomEvent('kite-theme', { detail: next }));
}

export async function removeSelected() {
  const { selected, chosen } = get();
  const rows = shown()?.rows;
  if (chosen.length > 1) {
    if (
      await edit(
        `Remove ${chosen.length} things`,
        chosen.map((c) => remove(c.kind, c.id)),
      )
    )
      select(null);
    return;
  }
  if (selected?.kind === 'rig') {
    if ((await arrange({ action: 'dissolve', ids: [selected.id] })).done) select(null);
    return;
  }
  if (selected === null || rows === undefined) return;
  const row = (rows[selected.kind] as { id: string; name?: string }[]).find((r) => r.id === selected.id);
  if (row === undefined) return;
  await editAndSelect(`Remove ${row.name ?? selected.kind}`, [remove(selected.kind, selected.id)], null);
}

export async function tapMarker() {
  const show = shown();
  const timeline = timelineId();
  if (show === undefined || timeline === null) return;
  const frame = show.computed.flicksPerFrame;
  const time = Math.max(0, Math.round(tapTime() / frame)) * frame;
  const id = ulid();
  await editAndSelect(
    'Tap a marker',
    [insert('marker', id, { timeline, time, name: `Mark ${show.rows.marker.length + 1}` })],
    { kind: 'marker', id },
  );
}

export async function addCue() {
  const timeline = timelineId();
  if (timeline === null) return;
  const id = await recordCue({ action: 'add', timeline, time: playhead() });
  if (id !== null) select({ kind: 'cue', id });
}

export const playOrHold = () => command({ action: running() ? 'hold' : 'play' });

/** What is done in the venue, and what is taken out of it. */
function venueActions(): Action[] {
  const rows = shown()?.rows;
  const dialog = (name: string, words: string, to: ReturnType<typeof useVenueState.getState>['dialog']): Action => ({
    name,
    words,
    run: () => {
      go('venue');
      setVenue({ dialog: to });
    },
  });
  const ids = get()
    .chosen.filter((c) => viewOf[c.kind] === 'venue' && c.kind !== 'panel')
    .map((c) => c.id);
  const document = (path: string, name: string, words: string): Action => ({
    name: `Export: ${name}`,
    words: `download save document paper ${words}`,
    run: () => void download(`/api/shows/${get().showId}/${path}`),
  });
  const cards = (surfaces: string[]) => () => command({ action: 'cards', surfaces });
  return [
    dialog('Add an LED wall…', 'new surface screen panels', 'wall'),
    dialog('Add a projection face…', 'new surface screen building', 'face'),
    dialog('Import a model…', 'new surface obj mesh', 'model'),
    dialog('Add a prop…', 'new object blocker', 'prop'),
    dialog('Panels…', 'library tiles csv', 'panels'),
    dialog('Compare projector layouts', 'variants options', 'layouts'),
    ...(Object.keys(heatMaps) as HeatMap[]).map((map) => ({
      name: `Heat map: ${heatMaps[map].title}`,
      words: 'light projectors lux brightness',
      run: () => {
        go('venue');
        setVenue({ heat: map, sheet: false });
      },
    })),
    { name: 'Heat map: off', words: 'light', run: () => setVenue({ heat: null }) },
    {
      name: 'Test card on all surfaces',
      words: 'pattern grid identify',
      run: cards((rows?.surface ?? []).map((s) => s.id)),
    },
    { name: 'Test card off', words: 'pattern grid', run: cards([]) },
    document('specification.pdf', 'specification (PDF)', 'paperwork list print'),
    document('specification.csv', 'specification (CSV)', 'paperwork list table spreadsheet'),
    document('plot.svg', 'stage plot (SVG)', 'drawing plan print'),
    document('venue.obj', 'whole venue (OBJ)', 'model mesh 3d'),
    document('panels.csv', 'panel table (CSV)', 'library spreadsheet'),
    document('media.csv', 'media list (CSV)', 'folder index numbers console spreadsheet'),
    ...(ids.length === 0
      ? []
      : [
          {
            name: 'Duplicate the selection',
            words: 'copy clone',
            keys: 'Ctrl+D',
            run: () => arrange({ action: 'duplicate', ids }),
          },
          {
            name: 'Mirror the selection to the other side',
            words: 'flip',
            run: () => arrange({ action: 'mirror', ids, axis: 'x', at: 0 }),
          },
          dialog('Copies along a line, an arc, mirrored…', 'array repeat', 'array'),
        ]),
  ];
}

/** Effects for the layer or the clip that is chosen. */
function effectActions(): Action[] {
  const { selected } = get();
  if (selected?.kind !== 'layer' && selected?.kind !== 'clip') return [];
  const { kind, id } = selected;
  return EFFECTS.map((name) => ({
    name: `Add the effect ${name}`,
    words: `fx filter look ${kind}`,
    run: () => addEffect(kind, id, name),
  }));
}

/** Everything that can be done by name. */
export function actions(): Action[] {
  const rows = shown()?.rows;
  return [
    ...views.map((view, i) => ({ name: `Go to ${titles[view]}`, keys: `Alt+${i + 1}`, run: () => go(view) })),
    { name: 'Play or hold', words: 'stop pause start transport', keys: 'Space', run: playOrHold },
    ...commands
      .filter((c) => c.needs.length === 0 && !['play', 'hold', 'loop'].includes(c.name))
      .map((c) => ({
        name: c.label,
        words: 'transport trigger take fire engine',
        keys: c.name === 'go' ? 'G' : undefined,
        run: () => command({ action: c.name } as Schemas['Command']),
      })),
    ...(rows?.timeline ?? []).map((l) => ({
      name: `Drive the timeline ${l.name}`,
      run: () => drive(l.id),
    })),
    ...commands
      .filter((c) => c.needs.length === 0)
      .map((c) => ({
        name: `Bind a control to: ${c.label}`,
        words: 'learn midi button key osc',
        run: () => learn({ meaning: 'action', targets: [{ target: c.name, name: c.label }] }),
      })),
    {
      name: 'Bind controls to cues, one after another',
      words: 'learn midi buttons row pad',
      run: () =>
        learn({
          meaning: 'cue',
          targets: (get().chosen.some((c) => c.kind === 'cue')
            ? (rows?.cue ?? []).filter((c) => get().chosen.some((one) => one.id === c.id))
            : (rows?.cue ?? [])
          )
            .slice(0, 64)
            .map((c) => ({ target: c.id, name: `Cue ${c.number} ${c.name}` })),
        }),
    },
    {
      name: 'Bind a control to: Master',
      words: 'learn midi fader grand level',
      run: () => learn({ meaning: 'value', targets: [{ target: 'master:show/level', name: 'Master' }] }),
    },
    { name: 'Jump to the start', keys: 'Home', run: () => command({ action: 'jump', time: 0 }) },
    { name: 'Tap a marker at the playhead', words: 'add locator', keys: 'M', run: tapMarker },
    { name: 'Add a cue at the playhead', keys: 'Shift+M', run: addCue },
    { name: 'Undo', keys: 'Ctrl+Z', run: () => turn('undo') },
    { name: 'Redo', keys: 'Ctrl+Shift+Z', run: () => turn('redo') },
    { name: 'Remove the selection', words: 'delete erase', keys: 'Delete', run: removeSelected },
    {
      name: 'Fold the details',
      words: 'hide panel sidebar inspector properties',
      keys: 'Ctrl+.',
      run: () => set((s) => ({ detailsOpen: !s.detailsOpen })),
    },
    { name: 'Theme: Dusk or Paper', words: 'light dark colour scheme day night appearance', run: toggleTheme },
    {
      name: 'Shortcuts',
      words: 'keys keyboard help hotkeys',
      keys: '?',
      run: () => document.dispatchEvent(new CustomEvent('kite-help')),
    },
    ...venueActions(),
    ...effectActions(),
    {
      name: 'Discard loose values',
      words: 'release clear reset manual',
      run: () =>
        command({
          action: 'live',
          values: Object.fromEntries(
            Object.keys(get().values)
              .filter((l) => l !== 'master:show/level')
              .map((l) => [l, null]),
          ),
        }),
    },
    ...(client.getQueryData<{ shows: Schemas['ShowHead'][] }>(['shows'])?.shows ?? [])
      .filter((s) => s.id !== get().showId)
      .map((s) => ({ name: `Open the show ${s.name}`, words: 'load file', run: () => openShow(s.id) })),
    { name: 'New show', words: 'begin create project file', run: () => set({ beginning: true }) },
    ...(rows?.output ?? []).flatMap((o) => [
      { name: `Open the player for ${o.name}`, run: () => window.open(`/player/${o.id}`, `player-${o.id}`) },
      { name: `Identify ${o.name}`, run: () => command({ action: 'identify', output: o.id }) },
    ]),
    ...(rows?.cue ?? []).map(({ id, number, name, time, timeline }) =>
      time === null
        ? { name: `Fire cue ${number} ${name}`, run: () => command({ action: 'fire', cue: id }) }
        : { name: `Jump to cue ${number} ${name}`, run: () => command({ action: 'jump', timeline, time }) },
    ),
    ...(['surface', 'projector', 'camera', 'rig', 'prop', 'seat', 'media', 'layer', 'output'] as const).flatMap(
      (kind) =>
        (rows?.[kind] ?? [])
          .slice(0, 300)
          .map((r) => ({ name: `Select ${kind} ${r.name}`, run: () => go(viewOf[kind], { kind, id: r.id }) })),
    ),
  ];
}
