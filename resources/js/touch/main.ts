import type { Schemas } from '../api/client';
import { Live } from '../live/client';
import { Playback } from '../live/playback';
import { timecode } from '../studio/time';
import { dusk } from '../theme/tokens';
import { type Desk, type Drawn, draw } from './items';
import { key, letGo, made } from './parts';

/**
 * A touch panel, or a page of the cue board alone, for a touch screen: nothing else can be done there. Several fingers
 * press several things. A tablet that comes over the network is paired by a code first.
 */
type Told = Schemas['TouchPanel'];
const live = new Live();
const playback = new Playback(live);
const wanted = decodeURIComponent(location.pathname.split('/').filter(Boolean)[1] ?? '');
let told: Told | null = null;
let up = false;

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
const work = made('main', { display: 'grid', gap: '8px', padding: '0 12px 12px', minHeight: '0', overflow: 'auto' });
const foot = made('footer', { display: 'grid', gridTemplateColumns: '1fr 2fr', gap: '8px', padding: '0 12px 12px' });
document.body.append(said, work, foot);

const give = (body: Record<string, unknown>) =>
  void live.command({ as: `panel ${wanted}`, ...body }).catch((error: Error) => {
    said.textContent = `▲ ${error.message}`;
  });

interface Touch {
  source: 'touch';
  panel: string;
  control?: string;
  value?: number[];
  held?: boolean;
}

/** What fingers did and is not delivered yet: of what moves, only where it is at last. */
const queue: Touch[] = [];
let sending = false;

function deliver(event: Touch, moves = false) {
  const last = queue[queue.length - 1];
  if (moves && last?.control === event.control && last?.control !== undefined) queue.pop();
  queue.push(event);
  if (sending) return;
  sending = true;
  void (async () => {
    while (queue.length > 0) {
      try {
        await live.controls({ events: queue.splice(0, 100) });
      } catch (error) {
        // Without the desk, what was touched is not done later.
        if (up) said.textContent = `▲ ${(error as Error).message}`;
      }
    }
    sending = false;
  })();
}

/** Tells the engine that this panel is shown here, so that it tells where values are. */
const announce = () => deliver({ source: 'touch', panel: wanted });

const cues = () => playback.onAir()?.cues;
const next = key('Go', () => give({ action: 'go' }));
const back = key('Back', () => give({ action: 'back' }));
back.textContent = 'Back';
for (const one of [next, back]) one.style.minHeight = '64px';
foot.append(back, next);

/** The page of the board that a name or a number means; the first where it means none. */
function pageOf(name: string): Told['pages'][number] | undefined {
  const pages = [...(told?.pages ?? [])].sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));
  return name === '' ? pages[0] : pages.find((p) => p.name === name || p.id === name);
}

/** A page of the cue board: touching a tile fires its cue, or releases it. */
function board(name: string): { element: HTMLElement; light(): void } {
  const page = pageOf(name);
  const element = made('div', { display: 'grid', gap: '8px', minHeight: '0', height: '100%' });
  const tiles = new Map<string, HTMLButtonElement>();
  if (page === undefined) {
    element.textContent = name === '' ? 'The board has no page' : `The board has no page ${name}`;
    return { element, light: () => undefined };
  }
  element.style.gridTemplateColumns = `repeat(${page.columns}, minmax(44px, 1fr))`;
  element.style.gridTemplateRows = `repeat(${page.rows}, minmax(44px, 1fr))`;
  for (const cue of told?.cues ?? []) {
    if (cue.page !== page.id || cue.row >= page.rows || cue.column >= page.columns) continue;
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
    element.append(tile);
  }
  const light = () => {
    for (const [id, tile] of tiles) {
      const on = cues()?.on[id] !== undefined;
      tile.style.background = on ? dusk.lamp : dusk.ink7;
      tile.style.color = on ? dusk.ink9 : dusk.text;
      tile.setAttribute('aria-pressed', String(on));
      tile.disabled = !up;
    }
  };
  return { element, light };
}

const nextName = () => {
  const cue = told?.cues.find((c) => c.id === cues()?.next);
  return cue === undefined ? '' : `${cue.number} ${cue.name}`;
};

const desk: Desk = {
  send: (control, value, held) =>
    deliver(
      { source: 'touch', panel: wanted, control, value, ...(held === true ? { held } : {}) },
      value.length > 1 || (value[0] !== 0 && value[0] !== 1),
    ),
  board,
  timecode: () => {
    const at = live.now();
    const driven = playback.onAir()?.heads.get(cues()?.driven ?? '');
    const show = told?.show;
    return show == null || at === null || driven === undefined
      ? '--:--:--:--'
      : timecode(driven.at(at), show.frameRate, show.flicksPerFrame);
  },
  next: () => (nextName() === '' ? 'next —' : `next ${nextName()}`),
};

let drawn = new Map<string, Drawn>();
let lightBoard: () => void = () => undefined;
/** What was laid out last: where it is the same, what a finger lies on stays. */
let laid = '';

/** Lays out the panel, or the page, where it is another. */
function lay() {
  const now = JSON.stringify(told);
  if (now === laid) {
    light();
    return;
  }
  laid = now;
  letGo();
  drawn = new Map();
  lightBoard = () => undefined;
  work.replaceChildren();
  const panel = told?.panel;
  foot.style.display = panel == null ? 'grid' : 'none';
  document.title = panel?.name ?? pageOf(wanted)?.name ?? 'Touch panel';
  if (panel == null) {
    work.style.gridTemplate = '';
    if (told?.show != null) {
      const { element, light: shine } = board(wanted);
      work.append(element);
      lightBoard = shine;
    }
  } else {
    work.style.gridTemplateColumns = `repeat(${panel.columns}, minmax(44px, 1fr))`;
    work.style.gridTemplateRows = `repeat(${panel.rows}, minmax(44px, 1fr))`;
    for (const item of told?.items ?? []) {
      const one = draw(item, desk);
      const cell = made('div', {
        gridColumn: `${item.column + 1} / span ${item.columns}`,
        gridRow: `${item.row + 1} / span ${item.rows}`,
        minWidth: '0',
        minHeight: '0',
      });
      cell.append(one.element);
      work.append(cell);
      drawn.set(item.name, one);
    }
    announce();
  }
  light();
}

/** Shows what is on, what is next, and whether the desk is there. */
function light() {
  lightBoard();
  for (const one of drawn.values()) one.light();
  work.style.opacity = up ? '1' : '0.4';
  work.inert = !up;
  next.textContent = nextName() === '' ? 'Go' : `Go: ${nextName()}`;
  next.disabled = back.disabled = !up;
  const name = told?.panel?.name ?? pageOf(wanted)?.name;
  said.textContent = !up
    ? '▲ The desk is gone; this panel comes back by itself'
    : told?.show == null
      ? 'No show is on air'
      : name === undefined
        ? `${told.show.name} has no panel or page ${wanted}`
        : `● ${name}`;
  said.style.color = up ? dusk.dim : dusk.straw;
}

/** Asks for the code that Bindings shows. */
function pair() {
  const form = made('form', { display: 'grid', gap: '12px', maxWidth: '320px', margin: '12vh auto 0' });
  const field = (label: string, mode: string) => {
    const line = made('label', { display: 'grid', gap: '4px' });
    line.textContent = label;
    const input = made('input', {
      font: '24px monospace',
      padding: '12px',
      background: dusk.ink7,
      color: dusk.text,
      border: `1px solid ${dusk.line}`,
      borderRadius: '4px',
    });
    input.inputMode = mode;
    input.addEventListener('keydown', (e) => e.key === 'Enter' && form.requestSubmit());
    line.append(input);
    form.append(line);
    return input;
  };
  const [code, name] = [field('Code', 'numeric'), field('Name of this tablet', 'text')];
  const button = key('Pair', () => form.requestSubmit());
  button.textContent = 'Pair';
  // The press sends it; the click that follows would send it once more, and a code is good once.
  button.type = 'button';
  form.append(button);
  let sending = false;
  form.addEventListener('submit', async (e) => {
    e.preventDefault();
    if (sending) return;
    sending = true;
    const answer = await fetch('/api/touch/pair', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ code: code.value, label: name.value }),
    }).catch(() => null);
    sending = false;
    if (answer?.ok === true) location.assign(`/touch/${encodeURIComponent((await answer.json()).panel)}`);
    else said.textContent = `▲ ${(await answer?.json().catch(() => null))?.detail ?? 'The desk does not answer.'}`;
  });
  foot.style.display = 'none';
  laid = '';
  work.replaceChildren(form);
  work.inert = false;
  work.style.opacity = '1';
  said.textContent = 'Have a code shown in Bindings, in the details of the panel';
}

let unpaired = false;
/** How often it was asked what to show: what was asked before may be answered after, and is no longer true. */
let asked = 0;

async function load() {
  asked += 1;
  const mine = asked;
  const answer = await fetch(`/api/touch/panels${wanted === '' ? '' : `/${encodeURIComponent(wanted)}`}`).catch(
    () => null,
  );
  if (mine !== asked) return;
  if (answer?.status === 401 || answer?.status === 403) {
    if (!unpaired) pair();
    unpaired = true;
    return;
  }
  if (answer?.ok === true) {
    const panels = await answer.json();
    if (mine !== asked) return;
    unpaired = false;
    told = panels;
  }
  lay();
}

live.on('link', (link) => {
  up = link.up;
  if (!unpaired) light();
  if (up) return;
  letGo();
  void load();
});
// The desk may be gone, or this tablet no longer let in: nobody tells it which.
setInterval(() => {
  if (!up && !unpaired) void load();
}, 2000);
live.on('hello', () => {
  // The engine knows nothing of this stream yet. What is laid out stays: a picture in it has begun a stream itself.
  letGo();
  if (told?.panel != null && !unpaired) announce();
  void load();
});
live.on('air', () => void load());
live.on('revision', () => void load());
live.on('touch', ({ panel, shown }) => {
  if (panel !== wanted) return;
  for (const [control, slots] of Object.entries(shown))
    for (const [slot, value] of Object.entries(slots)) drawn.get(control)?.show(Number(slot), value);
});
playback.watch(() => {
  if (!unpaired) light();
});
addEventListener('pagehide', letGo);

/** What runs with the show is shown anew with each picture of the screen, and only while it runs. */
function run() {
  const at = live.now();
  const moves = at !== null && [...(playback.onAir()?.heads.values() ?? [])].some((head) => head.moves(at));
  if (moves && !unpaired) for (const one of drawn.values()) if (one.runs) one.light();
  setTimeout(() => requestAnimationFrame(run), moves ? 0 : 100);
}
run();
void load();
