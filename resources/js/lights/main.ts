import type { ShowDocument } from '../api/client';
import { Live } from '../live/client';
import { button, choice, column, grid, heading, showOnAir, status } from '../theme/page';

/** A page for a phone: finds one's way on a pixel light while standing at it, by what it is sent in place of the show. */
type Test = { kind: string; number?: number; colour?: [number, number, number] };

/** Ms after which a test is told again: it ends by itself otherwise. */
const AGAIN = 4000;

const live = new Live();
const page = column(560);
const said = status();
let show: ShowDocument | null = null;
let chosen = '';
let test: Test | null = null;
const number: Record<string, number> = { pixel: 0, row: 0, column: 0, channel: 0 };

const patch = () => show?.rows.patch.find((p) => p.id === chosen) ?? show?.rows.patch[0];

async function tell(one: Test | null) {
  const of = patch();
  test = one;
  draw();
  if (of === undefined || live.ticket === '') return;
  try {
    await live.command({ action: 'light', patch: of.id, ...(one === null ? {} : { test: one }) });
    said.textContent = '';
  } catch (wrong) {
    said.textContent = wrong instanceof Error ? wrong.message : 'Not done.';
  }
}

/** One of many: the one before, the one that is lit, the one after. */
function stepper(kind: 'pixel' | 'row' | 'column' | 'channel', label: string) {
  const to = (by: number) => () => {
    number[kind] = Math.max(0, (number[kind] ?? 0) + by);
    void tell({ kind, number: number[kind] });
  };
  const on = test?.kind === kind;
  return grid(
    3,
    button('−', `${label} before`, to(-1)),
    button(`${label} ${(number[kind] ?? 0) + 1}`, label, to(0), on),
    button('+', `${label} after`, to(1)),
  );
}

function draw() {
  const of = patch();
  if (show === null || of === undefined) {
    page.replaceChildren(heading(show === null ? 'No show is on air' : 'No light is patched'), said);
    return;
  }
  const named = show.rows.patch.map(
    (p) => [show?.rows.surface.find((s) => s.id === p.surface)?.name ?? 'a light', p.id] as const,
  );
  const pick = choice('Light', named, of.id, (id) => {
    void tell(null);
    chosen = id;
    draw();
  });
  const colour = (text: string, value: [number, number, number]) =>
    button(
      text,
      text,
      () => void tell({ kind: 'colour', colour: value }),
      test?.kind === 'colour' && String(test.colour) === String(value),
    );
  const figures = show.computed.patches[of.id];
  const where = document.createElement('p');
  where.textContent =
    figures === undefined ? '' : `${figures.from} / ${of.channel} to ${figures.to} / ${figures.lastChannel}`;
  Object.assign(where.style, { margin: '0', fontFamily: 'monospace' });
  page.replaceChildren(
    heading('Light test'),
    pick,
    where,
    grid(
      2,
      button('Identify', 'Identify', () => void tell({ kind: 'identify' }), test?.kind === 'identify'),
      button('Chase', 'Chase', () => void tell({ kind: 'chase' }), test?.kind === 'chase'),
    ),
    grid(
      4,
      colour('White', [1, 1, 1]),
      colour('Red', [1, 0, 0]),
      colour('Green', [0, 1, 0]),
      colour('Blue', [0, 0, 1]),
    ),
    stepper('pixel', 'Pixel'),
    stepper('row', 'Row'),
    stepper('column', 'Column'),
    stepper('channel', 'Channel'),
    grid(
      2,
      button('Blind', 'Blind', () => void tell({ kind: 'blind' }), test?.kind === 'blind'),
      button('End', 'End the test', () => void tell(null)),
    ),
    said,
  );
}

async function load() {
  show = await showOnAir();
  draw();
}

live.on('revision', () => void load());
live.on('hello', () => void load());
setInterval(() => test !== null && void tell(test), AGAIN);
void load();
