import type { RowOf, ShowDocument } from '../api/client';
import { Live } from '../live/client';
import { Playback } from '../live/playback';
import { showOnAir } from '../theme/page';
import { dusk } from '../theme/tokens';

/**
 * A page of the cue board alone, for a touch screen: a touch fires a cue or releases it, Go goes on along the list, and nothing else
 * can be done. Several fingers press several tiles.
 */
const live = new Live();
const playback = new Playback(live);
const wanted = decodeURIComponent(location.pathname.split('/').filter(Boolean)[1] ?? '');
let show: ShowDocument | null = null;
let up = false;

const made = <K extends keyof HTMLElementTagNameMap>(tag: K, style: Partial<CSSStyleDeclaration>) => {
  const element = document.createElement(tag);
  Object.assign(element.style, style);
  return element;
};
Object.assign(document.body.style, {
  margin: '0',
  height: '100dvh',
  display: 'grid',
  gridTemplateRows: 'auto 1fr auto',
  background: dusk.ink9,
  color: dusk.text,
  font: '17px sans-serif',
  userSelect: 'none',
  touchAction: 'none',
  overflow: 'hidden',
});
const said = made('p', { margin: '0', padding: '8px 14px', minHeight: '22px' });
said.setAttribute('role', 'status');
const board = made('main', { display: 'grid', gap: '8px', padding: '0 12px', minHeight: '0' });
const foot = made('footer', { display: 'grid', gridTemplateColumns: '1fr 2fr', gap: '8px', padding: '12px' });
document.body.append(said, board, foot);

const key = (label: string, press: () => void) => {
  const button = made('button', {
    background: dusk.ink7,
    color: dusk.text,
    border: `1px solid ${dusk.line}`,
    borderRadius: '4px',
    minHeight: '64px',
    minWidth: '44px',
    font: 'inherit',
    overflow: 'hidden',
    touchAction: 'none',
  });
  button.setAttribute('aria-label', label);
  // Touching is pressing, however long it lasts.
  button.addEventListener('pointerdown', (e) => {
    e.preventDefault();
    press();
  });
  button.addEventListener('keydown', (e) => {
    if ((e.key === 'Enter' || e.key === ' ') && !e.repeat) press();
  });
  return button;
};

const give = (body: Record<string, unknown>) =>
  void live.command({ as: `panel ${wanted}`, ...body }).catch((error: Error) => {
    said.textContent = `▲ ${error.message}`;
  });

const cues = () => playback.onAir()?.cues;
const tiles = new Map<string, HTMLButtonElement>();
const next = key('Go', () => give({ action: 'go' }));
const back = key('Back', () => give({ action: 'back' }));
back.textContent = 'Back';
foot.append(back, next);

/** The page that the address names; the first of the show where it names none. */
function pageOf(): RowOf<'page'> | undefined {
  const pages = [...(show?.rows.page ?? [])].sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));
  return wanted === '' ? pages[0] : pages.find((p) => p.name === wanted || p.id === wanted);
}

/** What the tiles were laid out from. */
let laid = '';

/** Lays the tiles out where they are others: what a finger lies on stays. */
function lay() {
  const page = pageOf();
  const own = show?.rows.cue.filter((c) => c.page === page?.id) ?? [];
  const now = JSON.stringify([page, own.map((c) => [c.id, c.number, c.name, c.colour, c.row, c.column])]);
  if (now === laid) {
    light();
    return;
  }
  laid = now;
  tiles.clear();
  board.replaceChildren();
  document.title = page?.name ?? 'Touch panel';
  if (page === undefined || show === null) {
    light();
    return;
  }
  Object.assign(board.style, {
    gridTemplateColumns: `repeat(${page.columns}, minmax(0, 1fr))`,
    gridTemplateRows: `repeat(${page.rows}, minmax(0, 1fr))`,
  });
  for (const cue of own) {
    if (cue.row >= page.rows || cue.column >= page.columns) continue;
    const tile = key(`Cue ${cue.number} ${cue.name}`, () =>
      give({ action: cues()?.on[cue.id] === undefined ? 'fire' : 'release', cue: cue.id }),
    );
    tile.textContent = cue.name;
    Object.assign(tile.style, {
      gridColumn: String(cue.column + 1),
      gridRow: String(cue.row + 1),
      borderBottom: `4px solid ${cue.colour === '' ? dusk.line : cue.colour}`,
    });
    tiles.set(cue.id, tile);
    board.append(tile);
  }
  light();
}

/** Shows what is on, what is next, and whether the desk is there. */
function light() {
  const now = cues();
  for (const [id, tile] of tiles) {
    const on = now?.on[id] !== undefined;
    tile.style.background = on ? dusk.lamp : dusk.ink7;
    tile.style.color = on ? dusk.ink9 : dusk.text;
    tile.setAttribute('aria-pressed', String(on));
    tile.disabled = !up;
  }
  const cue = show?.rows.cue.find((c) => c.id === now?.next);
  next.textContent = cue === undefined ? 'Go' : `Go: ${cue.number} ${cue.name}`;
  next.disabled = back.disabled = !up;
  const page = pageOf();
  said.textContent = !up
    ? '▲ The desk is gone; this panel comes back by itself'
    : show === null
      ? 'No show is on air'
      : page === undefined
        ? `${show.name} has no page ${wanted}`
        : `● ${page.name}`;
  said.style.color = up ? dusk.dim : dusk.straw;
}

async function load() {
  show = await showOnAir().catch(() => show);
  lay();
}

live.on('link', (link) => {
  up = link.up;
  light();
});
live.on('hello', () => void load());
live.on('air', () => void load());
live.on('revision', () => void load());
playback.watch(light);
void load();
