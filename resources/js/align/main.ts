import type { Schemas, ShowDocument } from '../api/client';
import { Live } from '../live/client';
import { button, choice, column, grid, heading, showOnAir, status } from '../theme/page';

/**
 * A page for a phone or a tablet, for standing where the side is seen that is aligned: the points of one projector, named by the last
 * part of the address, are moved on its real projection by large keys.
 */
const projector = decodeURIComponent(location.pathname.split('/').filter(Boolean).pop() ?? '');
const live = new Live();
let show: ShowDocument | null = null;
let chosen = '';
let step = 1;
/** Where the chosen point was put that the show does not have there yet. */
let pending: [number, number] | null = null;

const page = column(560);

const points = () => show?.rows.point.filter((p) => p.projector === projector) ?? [];
const point = () => points().find((p) => p.id === chosen) ?? points()[0];
const output = () => show?.rows.feed.find((f) => f.projector === projector)?.output;
const placeOf = (id: string) =>
  (show?.computed.points[id]?.found ?? show?.computed.points[id]?.expected ?? null) as [number, number] | null;
const here = () => pending ?? (point() === undefined ? null : placeOf((point() as Schemas['Point']).id));

async function post(path: string, body: unknown): Promise<void> {
  const answer = await fetch(`/api/shows/${show?.id}/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!answer.ok) said.textContent = ((await answer.json()) as { detail?: string }).detail ?? 'Not done.';
}

async function load() {
  show = await showOnAir();
  if (show !== null) draw();
}

function mark() {
  const on = output();
  if (on !== undefined && live.ticket !== '')
    void live.command({ action: 'mark', output: on, cross: here(), shapes: [] }).catch(() => undefined);
}

let sending = Promise.resolve();
function move(dx: number, dy: number) {
  const [of, from] = [point(), here()];
  if (of === undefined || from === null) return;
  const to: [number, number] = [
    Math.round((from[0] + dx * step) * 1000) / 1000,
    Math.round((from[1] + dy * step) * 1000) / 1000,
  ];
  pending = to;
  draw();
  mark();
  sending = sending
    .then(() => post('outputs', { action: 'found', region: of.id, to: { x: to[0], y: to[1] } }))
    .then(async () => {
      if (pending !== to) return;
      await load();
      if (pending === to) pending = null;
    });
}

const said = status();

function draw() {
  const of = show?.rows.projector.find((p) => p.id === projector);
  const title = heading(of?.name ?? 'This projector is not in the show');
  const now = point();
  const at = here();
  const options = points().map(
    (p) => [`${show?.computed.points[p.id]?.found === null ? '○' : '●'} ${p.name}`, p.id] as const,
  );
  const pick = choice('Point', options, now?.id, (id) => {
    chosen = id;
    pending = null;
    draw();
    mark();
  });
  const where = document.createElement('output');
  where.textContent = at === null ? 'not before the projector' : `${at[0].toFixed(1)}, ${at[1].toFixed(1)} px`;
  Object.assign(where.style, { fontFamily: 'monospace', fontSize: '28px', textAlign: 'center' });
  const pad = grid(
    3,
    document.createElement('span'),
    button('↑', 'Up', () => move(0, -1)),
    document.createElement('span'),
    button('←', 'Left', () => move(-1, 0)),
    button('●', 'It is there', () => move(0, 0)),
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
    const all = points();
    chosen = all[(all.findIndex((p) => p.id === now?.id) + 1) % Math.max(1, all.length)]?.id ?? '';
    pending = null;
    draw();
    mark();
  });
  page.replaceChildren(title, pick, where, pad, steps, next, said);
}

live.on('revision', () => {
  if (pending === null) void load();
});
live.on('hello', () => void load().then(mark));
setInterval(mark, 8000);
void load();
