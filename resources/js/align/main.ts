import type { Schemas, ShowDocument } from '../api/client';
import { Live } from '../live/client';
import { dusk } from '../theme/tokens';

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

Object.assign(document.body.style, { margin: '0', background: dusk.ink9, color: dusk.text, font: '16px sans-serif', touchAction: 'manipulation' });
const page = document.createElement('main');
Object.assign(page.style, { maxWidth: '560px', margin: '0 auto', padding: '12px', display: 'grid', gap: '10px' });
document.body.append(page);

const points = () => show?.rows.point.filter((p) => p.projector === projector) ?? [];
const point = () => points().find((p) => p.id === chosen) ?? points()[0];
const output = () => show?.rows.feed.find((f) => f.projector === projector)?.output;
const placeOf = (id: string) => (show?.computed.points[id]?.found ?? show?.computed.points[id]?.expected ?? null) as [number, number] | null;
const here = () => pending ?? (point() === undefined ? null : placeOf((point() as Schemas['Point']).id));

async function post(path: string, body: unknown): Promise<void> {
  const answer = await fetch(`/api/shows/${show?.id}/${path}`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
  if (!answer.ok) said.textContent = ((await answer.json()) as { detail?: string }).detail ?? 'Not done.';
}

async function load() {
  const shows = (await (await fetch('/api/shows')).json()) as { shows: Schemas['ShowHead'][] };
  const engaged = shows.shows.find((s) => s.engaged);
  if (engaged === undefined) return;
  show = await (await fetch(`/api/shows/${engaged.id}`)).json();
  draw();
}

function mark() {
  const on = output();
  if (on !== undefined && live.ticket !== '') void live.command({ do: 'mark', output: on, cross: here(), shapes: [] }).catch(() => undefined);
}

let sending = Promise.resolve();
function move(dx: number, dy: number) {
  const [of, from] = [point(), here()];
  if (of === undefined || from === null) return;
  const to: [number, number] = [Math.round((from[0] + dx * step) * 1000) / 1000, Math.round((from[1] + dy * step) * 1000) / 1000];
  pending = to;
  draw();
  mark();
  sending = sending
    .then(() => post('outputs', { do: 'found', region: of.id, to: { x: to[0], y: to[1] } }))
    .then(async () => {
      if (pending !== to) return;
      await load();
      if (pending === to) pending = null;
    });
}

function button(text: string, label: string, press: () => void, on = false) {
  const made = document.createElement('button');
  made.textContent = text;
  made.setAttribute('aria-label', label);
  made.setAttribute('aria-pressed', String(on));
  Object.assign(made.style, { background: dusk.ink7, color: dusk.text, border: `1px solid ${on ? dusk.kite : dusk.line}`, borderRadius: '6px', minHeight: '56px', font: 'inherit', fontSize: '20px' });
  made.addEventListener('click', press);
  return made;
}

const said = document.createElement('p');
said.setAttribute('role', 'status');
Object.assign(said.style, { margin: '0', color: dusk.straw, minHeight: '20px' });

function draw() {
  const of = show?.rows.projector.find((p) => p.id === projector);
  const heading = document.createElement('h1');
  heading.textContent = of?.name ?? 'This projector is not in the show';
  Object.assign(heading.style, { fontSize: '18px', margin: '0' });
  const now = point();
  const at = here();
  const pick = document.createElement('select');
  pick.setAttribute('aria-label', 'Point');
  Object.assign(pick.style, { background: dusk.ink7, color: dusk.text, border: `1px solid ${dusk.line}`, borderRadius: '6px', padding: '12px', font: 'inherit', width: '100%' });
  for (const p of points()) pick.append(new Option(`${show?.computed.points[p.id]?.found === null ? '○' : '●'} ${p.name}`, p.id, false, p.id === now?.id));
  pick.addEventListener('change', () => {
    chosen = pick.value;
    pending = null;
    draw();
    mark();
  });
  const where = document.createElement('output');
  where.textContent = at === null ? 'not before the projector' : `${at[0].toFixed(1)}, ${at[1].toFixed(1)} px`;
  Object.assign(where.style, { fontFamily: 'monospace', fontSize: '28px', textAlign: 'center' });
  const pad = document.createElement('div');
  Object.assign(pad.style, { display: 'grid', gridTemplateColumns: 'repeat(3, 1fr)', gap: '8px' });
  pad.append(
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
  const steps = document.createElement('div');
  Object.assign(steps.style, { display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: '8px' });
  for (const by of [0.1, 1, 10, 50])
    steps.append(
      button(
        `${by} px`,
        `Steps of ${by} px`,
        () => {
          step = by;
          draw();
        },
        step === by,
      ),
    );
  const next = button('Next point', 'Next point', () => {
    const all = points();
    chosen = all[(all.findIndex((p) => p.id === now?.id) + 1) % Math.max(1, all.length)]?.id ?? '';
    pending = null;
    draw();
    mark();
  });
  page.replaceChildren(heading, pick, where, pad, steps, next, said);
}

live.on('revision', () => {
  if (pending === null) void load();
});
live.on('hello', () => void load().then(mark));
setInterval(mark, 8000);
void load();
