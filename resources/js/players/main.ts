import type { RowOf, ShowDocument } from '../api/client';
import { Live } from '../live/client';
import { button, choice, column, grid, heading, showOnAir, status } from '../theme/page';
import { dusk } from '../theme/tokens';

/**
 * The outputs of one machine: which display each goes to, and one press that opens their players, full screen where the browser
 * knows the displays and allows it. What was chosen is kept in this browser.
 */
interface Display {
  label: string;
  left: number;
  top: number;
  width: number;
  height: number;
  devicePixelRatio: number;
}

type DisplaysWindow = Window & { getScreenDetails?: () => Promise<{ screens: Display[] } & EventTarget> };

const live = new Live();
const page = column(760);
const said = status();
const opened = new Map<string, Window>();
let show: ShowDocument | null = null;
let displays: Display[] = [];
let running = new Set<string>();
let server = localStorage.getItem('players/server') ?? '';

const sizeOf = (d: Display) =>
  [Math.round(d.width * d.devicePixelRatio), Math.round(d.height * d.devicePixelRatio)] as const;
const outputs = () => show?.rows.output.filter((o) => server === '' || o.server === server) ?? [];

/** The display that an output goes to: the one that was chosen or else the first of its size that no other of this machine has. */
function displayOf(output: RowOf<'output'>): Display | undefined {
  const taken = new Set<Display>();
  for (const one of outputs()) {
    const chosen = displays.find((d) => d.label === localStorage.getItem(`players/display/${one.id}`));
    const found =
      chosen ?? displays.find((d) => !taken.has(d) && sizeOf(d)[0] === one.width && sizeOf(d)[1] === one.height);
    if (one.id === output.id) return found;
    if (found !== undefined) taken.add(found);
  }
  return undefined;
}

async function find() {
  const ask = (window as DisplaysWindow).getScreenDetails;
  try {
    const details = await ask?.call(window);
    displays = details === undefined ? [] : [...details.screens];
    details?.addEventListener('screenschange', () => void find(), { once: true });
    said.textContent =
      details === undefined
        ? 'This browser does not tell its displays: move each window to its own, and press it for full screen.'
        : '';
  } catch {
    said.textContent = 'The browser was not allowed to tell its displays: allow window management for this address.';
  }
  draw();
}

function open(output: RowOf<'output'>): boolean {
  const display = displayOf(output);
  const place =
    display === undefined
      ? 'popup,width=960,height=540'
      : `popup,fullscreen,left=${display.left},top=${display.top},width=${display.width},height=${display.height}`;
  const made = window.open(`/player/${output.id}`, `player-${output.id}`, place);
  if (made !== null) opened.set(output.id, made);
  return made !== null;
}

function openAll() {
  const kept = outputs().filter((output) => !open(output));
  said.textContent =
    kept.length === 0
      ? ''
      : `${kept.map((o) => o.name).join(', ')}: the browser kept the window closed. Allow pop-ups for this address.`;
}

function closeAll() {
  for (const made of opened.values()) made.close();
  opened.clear();
}

function draw() {
  const rows = outputs().map((output) => {
    const row = document.createElement('section');
    row.setAttribute('aria-label', output.name);
    Object.assign(row.style, {
      display: 'grid',
      gridTemplateColumns: '1fr 1fr 120px',
      gap: '10px',
      alignItems: 'center',
      border: `1px solid ${dusk.line}`,
      borderRadius: '6px',
      padding: '10px',
    });
    const name = document.createElement('div');
    name.textContent = output.name;
    const size = document.createElement('div');
    size.textContent = `${output.width} × ${output.height} · ${running.has(output.id) ? 'player open' : 'no player'}`;
    Object.assign(size.style, { color: running.has(output.id) ? dusk.sage : dusk.dim, fontSize: '14px' });
    name.append(size);
    const display = displayOf(output);
    const where = choice(
      `Display of ${output.name}`,
      [['Own window', ''], ...displays.map((d) => [`${d.label} · ${sizeOf(d).join(' × ')}`, d.label] as const)],
      display?.label ?? '',
      (label) => {
        localStorage.setItem(`players/display/${output.id}`, label);
        draw();
      },
    );
    row.append(
      name,
      where,
      button('Open', `Open ${output.name}`, () => {
        said.textContent = open(output)
          ? ''
          : `${output.name}: the browser kept the window closed. Allow pop-ups for this address.`;
      }),
    );
    return row;
  });
  const servers = choice(
    'Server',
    [['All outputs', ''], ...(show?.rows.server.map((s) => [s.name, s.id] as const) ?? [])],
    server,
    (id) => {
      server = id;
      localStorage.setItem('players/server', id);
      draw();
    },
  );
  const bar = grid(
    4,
    servers,
    button('Displays', 'Find displays', () => void find()),
    button('Open all', 'Open all', openAll),
    button('Close all', 'Close all', closeAll),
  );
  page.replaceChildren(heading(show === null ? 'No show is on air' : `Players · ${show.name}`), bar, ...rows, said);
}

async function load() {
  show = await showOnAir();
  draw();
}

live.on('revision', () => void load());
live.on('hello', () => void load());
live.on('health', ({ players }) => {
  const now = new Set(players.map((p) => p.output));
  const same = now.size === running.size && [...now].every((id) => running.has(id));
  running = now;
  if (!same) draw();
});
void load();
