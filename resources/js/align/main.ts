import type { Schemas, ShowDocument } from '../api/client';
import { Live } from '../live/client';
import { button, choice, column, grid, heading, showOnAir, status } from '../theme/page';

/**
 * A page for a phone or a tablet, for standing where the side is seen that is worked on: the points of one projector, or
 * the corners and points of a region, or of all regions of an output, named by the last part of the address, are moved on
 * the real projection by large keys.
 */
/** The region that the first one is brought to by eye, where the address says one. */
const against = new URLSearchParams(location.search).get('with');
/** Whether points that were found are looked at again, and what moved is taken at the end. */
const checking = new URLSearchParams(location.search).has('check');
/** Where points are now, while they are checked. */
const found = new Map<string, [number, number]>();
const named = decodeURIComponent(location.pathname.split('/').filter(Boolean).pop() ?? '');
const live = new Live();
let show: ShowDocument | null = null;
let chosen = '';
/** The region whose corners are moved, where the address names none. */
let piece = named;
let step = 1;
/** Per cent that one press changes the light by. */
let eye = 3;
/** Where the chosen one was put that the show does not have there yet. */
let pending: [number, number] | null = null;
/** Whether the show changed while one was being put. */
let missed = false;

type Place = [number, number];

/** Something that is moved: where it is, and what moves it. */
interface Spot {
  id: string;
  name: string;
  at: Place | null;
  put(to: Place, from: Place): Record<string, unknown>;
}

const page = column(560);
const CORNERS = ['Top left corner', 'Top right corner', 'Bottom right corner', 'Bottom left corner'];

const regions = () => show?.rows.region.filter((r) => r.id === named || r.output === named) ?? [];
const region = () => regions().find((r) => r.id === piece) ?? regions()[0];
const regionName = (r: { surface: string } | undefined) =>
  show?.rows.surface.find((s) => s.id === r?.surface)?.name ?? 'a removed surface';
const output = () => region()?.output ?? show?.rows.feed.find((f) => f.projector === named)?.output;

/** The points of the projector that the address names. */
function points(): Spot[] {
  return (show?.rows.point ?? [])
    .filter((p) => p.projector === named && (!checking || show?.computed.points[p.id]?.found != null))
    .map((p) => {
      const figures = show?.computed.points[p.id];
      return {
        id: p.id,
        name: `${(checking ? !found.has(p.id) : figures?.found == null) ? '○' : '●'} ${p.name}`,
        at: (found.get(p.id) ?? figures?.found ?? figures?.expected ?? null) as Place | null,
        put: ([x, y]: Place) => ({ action: 'found', region: p.id, to: { x, y } }),
      };
    });
}

/** Corners of a region, and the points of its bend between them. */
function bends(): Spot[] {
  const of = region();
  const figures = show?.computed.regions[of?.id ?? ''] as Schemas['RegionFigures'] | undefined;
  if (of === undefined || figures === undefined) return [];
  const by = (action: string, i: number) => (to: Place, from: Place) => ({
    action,
    region: of.id,
    by: { [i]: [to[0] - from[0], to[1] - from[1]] },
  });
  const across = 3 * (of.columns.length - 1) + 1;
  const down = figures.lattice.length / Math.max(1, across);
  const anchors = figures.lattice.flatMap((place, i): Spot[] => {
    const [r, c] = [Math.floor(i / across), i % across];
    const isCorner = (r === 0 || r === down - 1) && (c === 0 || c === across - 1);
    return r % 3 !== 0 || c % 3 !== 0 || isCorner
      ? []
      : [{ id: `p${i}`, name: `Point ${c / 3 + 1}, ${r / 3 + 1}`, at: place as Place, put: by('bend', i) }];
  });
  return [
    ...figures.corners.map((place, i) => ({
      id: `c${i}`,
      name: CORNERS[i] ?? '',
      at: place as Place,
      put: by('pin', i),
    })),
    ...anchors,
  ];
}

const spots = () => (region() === undefined ? points() : bends());
const spot = () => spots().find((s) => s.id === chosen) ?? spots()[0];
const here = () => pending ?? spot()?.at ?? null;

async function post(path: string, body: unknown): Promise<void> {
  const answer = await fetch(`/api/shows/${show?.id}/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  said.textContent = answer.ok ? '' : (((await answer.json()) as { detail?: string }).detail ?? 'Not done.');
}

async function load() {
  show = await showOnAir();
  if (show !== null && against !== null && halves === null) {
    const answer = await fetch(`/api/shows/${show.id}/halves?regions=${named},${against}`);
    halves = answer.ok ? ((await answer.json()) as { halves: Record<string, unknown> }).halves : null;
    said.textContent = answer.ok ? '' : 'These two regions are not of one surface.';
    mark();
  }
  if (show !== null) draw();
}

/** Halves of one patch for two regions that are compared by eye. */
let halves: Record<string, unknown> | null = null;

function mark() {
  if (against !== null) {
    if (halves !== null && live.ticket !== '')
      void live
        .command({ action: 'isolate', regions: [named, against], show: 'patch', patches: halves })
        .catch(() => undefined);
    return;
  }
  const on = output();
  if (on !== undefined && live.ticket !== '')
    void live.command({ action: 'mark', output: on, cross: here(), shapes: [] }).catch(() => undefined);
}

let sending = Promise.resolve();
function move(dx: number, dy: number) {
  const [of, from] = [spot(), here()];
  if (of === undefined || from === null) return;
  const thousandth = (v: number) => Math.round(v * 1000) / 1000;
  const to: Place = [thousandth(from[0] + dx * step), thousandth(from[1] + dy * step)];
  if (checking) {
    found.set(of.id, to);
    draw();
    mark();
    return;
  }
  pending = to;
  draw();
  mark();
  sending = sending
    .then(() => post('outputs', of.put(to, from)))
    .then(async () => {
      if (pending !== to) return;
      await load();
      if (pending === to) pending = null;
      // What else was changed meanwhile.
      if (pending === null && missed) {
        missed = false;
        await load();
      }
      draw();
      mark();
    });
}

/** Takes another one to be moved. */
function take(id: string) {
  chosen = id;
  pending = null;
  draw();
  mark();
}

/** Takes what was moved: all that the projector shows goes along. */
async function takeCheck() {
  const answer = await fetch(`/api/shows/${show?.id}/projectors/${named}/checks`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ points: Object.fromEntries(found) }),
  });
  const told = (await answer.json()) as { detail?: string; moved?: number; before?: number; after?: number };
  if (answer.ok) found.clear();
  await load();
  said.textContent = answer.ok
    ? `${told.moved} moved: off by ${told.before?.toFixed(2)} px before, ${told.after?.toFixed(2)} px after.`
    : (told.detail ?? 'Not done.');
}

const said = status();

/** Keys by which the light of one region is brought to that of another. */
function compare() {
  const name = (id: string | null) => {
    const on = show?.rows.region.find((r) => r.id === id)?.output;
    return show?.rows.output.find((o) => o.id === on)?.name ?? 'gone';
  };
  const by = (label: string, way: Record<string, number>) =>
    button(label, label, () => {
      sending = sending.then(() =>
        post('outputs', {
          action: 'eye',
          regions: [named, against],
          ...Object.fromEntries(Object.entries(way).map(([of, sign]) => [of, sign * eye])),
        }),
      );
    });
  const told = document.createElement('p');
  told.textContent = `Until both halves are one. ${name(against)} only gives way.`;
  page.replaceChildren(
    heading(name(named)),
    told,
    grid(
      2,
      by('Brighter', { brighter: 1 }),
      by('Darker', { brighter: -1 }),
      by('Warmer', { warmer: 1 }),
      by('Colder', { warmer: -1 }),
      by('Greener', { greener: 1 }),
      by('Pinker', { greener: -1 }),
    ),
    grid(
      3,
      ...[1, 3, 10].map((steps) =>
        button(
          `${steps} %`,
          `Steps of ${steps} %`,
          () => {
            eye = steps;
            draw();
          },
          eye === steps,
        ),
      ),
    ),
    said,
  );
}

function draw() {
  if (against !== null) {
    compare();
    return;
  }
  const of = show?.rows.projector.find((p) => p.id === named);
  const on = show?.rows.output.find((o) => o.id === output());
  const now = spot();
  const at = here();
  const title = heading(
    region() === undefined
      ? `${checking ? 'Check of ' : ''}${of?.name ?? 'This projector, region or output is not in the show'}`
      : `${regionName(region())} on ${on?.name ?? 'a removed output'}`,
  );
  const pieces =
    regions().length < 2
      ? []
      : [
          choice(
            'Region',
            regions().map((r) => [regionName(r), r.id] as const),
            region()?.id,
            (id) => {
              piece = id;
              take('');
            },
          ),
        ];
  const pick = choice(
    'Point',
    spots().map((s) => [s.name, s.id] as const),
    now?.id,
    take,
  );
  const where = document.createElement('output');
  where.textContent = at === null ? 'not before the projector' : `${at[0].toFixed(1)}, ${at[1].toFixed(1)} px`;
  Object.assign(where.style, { fontFamily: 'monospace', fontSize: '28px', textAlign: 'center' });
  const pad = grid(
    3,
    document.createElement('span'),
    button('↑', 'Up', () => move(0, -1)),
    document.createElement('span'),
    button('←', 'Left', () => move(-1, 0)),
    button('●', region() === undefined ? 'It is there' : 'Show it', () =>
      region() === undefined ? move(0, 0) : mark(),
    ),
    button('→', 'Right', () => move(1, 0)),
    document.createElement('span'),
    button('↓', 'Down', () => move(0, 1)),
    document.createElement('span'),
  );
  const steps = grid(
    4,
    ...[0.1, 1, 10, 50].map((by) =>
      button(
        `${by} px`,
        `Steps of ${by} px`,
        () => {
          step = by;
          draw();
        },
        step === by,
      ),
    ),
  );
  const next = button('Next point', 'Next point', () => {
    const all = spots();
    take(all[(all.findIndex((s) => s.id === now?.id) + 1) % Math.max(1, all.length)]?.id ?? '');
  });
  const ends = checking
    ? [
        button(
          `Take, ${[...found.keys()].filter((id) => spots().some((s) => s.id === id)).length} looked at`,
          'Take the check',
          () => void takeCheck(),
        ),
      ]
    : [];
  page.replaceChildren(title, ...pieces, pick, where, pad, steps, next, ...ends, said);
}

live.on('revision', () => {
  if (pending === null) void load();
  else missed = true;
});
live.on('hello', () => void load().then(mark));
setInterval(mark, 8000);
void load();
