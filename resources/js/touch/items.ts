import type { Schemas } from '../api/client';
import { written as colourOf, dusk, hues, white } from '../theme/tokens';
import { clamp, drag, key, made } from './parts';

export type Item = Schemas['TouchPanel']['items'][number];

/** What an item needs of its panel. */
export interface Desk {
  send(control: string, value: number[], held?: boolean): void;
  /** A page of the cue board as an element, and what shows its state. */
  board(page: string): { element: HTMLElement; light(): void };
  timecode(): string;
  next(): string;
}

/** An item on the screen. */
export interface Drawn {
  element: HTMLElement;
  /** Shows one of its numbers, as the engine tells it. */
  show(slot: number, value: number): void;
  /** Shows what is on, in whatever the engine told last. */
  light(): void;
  /** Whether it changes while the show runs. */
  runs: boolean;
}

const quiet = { show: () => undefined, light: () => undefined, runs: false };
const accent = (item: Item) => (item.colour === '' ? dusk.kite : item.colour);
/** A number as people read it: in its unit where it is bound to a value, else in per cent. */
const written = (item: Item, slot: number, value: number) => {
  const of = item.values[slot] ?? { low: 0, high: 100, unit: '%', digits: 0 };
  return `${(of.low + value * (of.high - of.low)).toFixed(of.digits)} ${of.unit}`.trim();
};

const frame = (style: Partial<CSSStyleDeclaration> = {}) =>
  made('div', {
    position: 'relative',
    background: dusk.ink8,
    border: `1px solid ${dusk.line}`,
    borderRadius: '4px',
    boxSizing: 'border-box',
    height: '100%',
    minHeight: '44px',
    overflow: 'hidden',
    ...style,
  });
const caption = (text: string) => {
  const line = made('span', {
    position: 'absolute',
    left: '8px',
    right: '8px',
    bottom: '6px',
    pointerEvents: 'none',
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  });
  line.textContent = text;
  return line;
};

function pressed(item: Item, desk: Desk): Drawn {
  const element = key(
    item.label,
    () => desk.send(item.name, [1], item.held),
    () => desk.send(item.name, [0]),
  );
  element.textContent = item.label;
  element.style.borderBottom = `4px solid ${item.colour === '' ? dusk.line : item.colour}`;
  return {
    ...quiet,
    element,
    show: (_, value) => {
      const on = value >= 0.5;
      element.setAttribute('aria-pressed', String(on));
      element.style.background = on ? (item.type === 'cue' ? dusk.lamp : dusk.kite) : dusk.ink7;
      element.style.color = on ? dusk.ink9 : dusk.text;
    },
  };
}

/** One that moves along one way or two. */
function moved(item: Item, desk: Desk): Drawn {
  const element = frame();
  const values = item.values.map(() => 0);
  const fill = made('i', { position: 'absolute', background: accent(item), pointerEvents: 'none' });
  const [text, figure] = [caption(item.label), caption('')];
  // The number above its name: a narrow fader has no room for both in a line.
  Object.assign(figure.style, { top: '6px', bottom: '' });
  element.append(fill, text, figure);
  element.setAttribute('role', 'slider');
  element.setAttribute('aria-label', item.label);
  element.setAttribute('aria-valuemin', '0');
  element.setAttribute('aria-valuemax', '100');
  const paint = () => {
    const [x = 0, y = 0] = values;
    const p = (v: number) => `${100 * v}%`;
    if (item.type === 'fader') Object.assign(fill.style, { inset: `${p(1 - x)} 0 0 0`, opacity: '0.55' });
    else if (item.type === 'pad')
      Object.assign(fill.style, {
        left: `calc(${p(x)} - 12px)`,
        top: `calc(${p(1 - y)} - 12px)`,
        width: '24px',
        height: '24px',
        borderRadius: '12px',
      });
    else
      Object.assign(fill.style, {
        inset: '30px 8px 30px 8px',
        background: `conic-gradient(from 225deg, ${accent(item)} ${270 * x}deg, ${dusk.ink6} 0 270deg, transparent 0)`,
        mask: 'radial-gradient(circle closest-side, transparent 62%, black 63% 99%, transparent)',
      });
    const said = values.map((v, slot) => written(item, slot, v)).join(', ');
    figure.textContent = said;
    element.setAttribute('aria-valuenow', String(Math.round(100 * x)));
    element.setAttribute('aria-valuetext', said);
  };
  let start = [...values];
  const isPad = item.type === 'pad';
  drag(
    element,
    () => {
      start = [...values];
    },
    (x, y) => {
      // A knob is turned by going up; across counts as well, for keys.
      const by = isPad ? [x, y] : [y + (item.type === 'knob' || y === 0 ? x : 0)];
      by.forEach((far, slot) => {
        values[slot] = clamp((start[slot] ?? 0) + far);
      });
      paint();
      desk.send(item.name, [...values]);
    },
  );
  paint();
  return {
    ...quiet,
    element,
    show: (slot, value) => {
      values[slot] = clamp(value);
      paint();
    },
  };
}

/** Hue across, from white at the top to the full colour below: what is touched is sent as red, green and blue. */
function colour(item: Item, desk: Desk): Drawn {
  const element = frame({
    background: `linear-gradient(${white}, transparent), linear-gradient(90deg, ${hues.join(', ')})`,
  });
  const dot = made('i', {
    position: 'absolute',
    width: '24px',
    height: '24px',
    borderRadius: '12px',
    border: `3px solid ${dusk.ink9}`,
    boxSizing: 'border-box',
    pointerEvents: 'none',
  });
  const text = caption(item.label);
  Object.assign(text.style, { color: dusk.ink9, fontWeight: '600' });
  element.append(dot, text);
  element.setAttribute('role', 'slider');
  element.setAttribute('aria-label', item.label);
  element.setAttribute('aria-valuemin', '0');
  element.setAttribute('aria-valuemax', '360');
  const rgb = [1, 1, 1];
  let place = { x: 0, y: 0 };
  const paint = () => {
    dot.style.left = `calc(${100 * place.x}% - 12px)`;
    dot.style.top = `calc(${100 * place.y}% - 12px)`;
    const [r = 0, g = 0, b = 0] = rgb.map((v) => Math.round(255 * v));
    dot.style.background = colourOf(r, g, b);
    element.setAttribute('aria-valuenow', String(Math.round(360 * place.x)));
  };
  const touch = (x: number, y: number) => {
    place = { x: clamp(x), y: clamp(y) };
    [0, 4, 2].forEach((turn, slot) => {
      const wheel = clamp(Math.abs(((place.x * 6 + turn) % 6) - 3) - 1);
      rgb[slot] = 1 - place.y * (1 - wheel);
    });
    paint();
    desk.send(item.name, [...rgb]);
  };
  let start = place;
  drag(
    element,
    () => {
      start = place;
    },
    (x, y) => touch(start.x + x, start.y - y),
  );
  element.addEventListener('pointerdown', (e) => {
    const box = element.getBoundingClientRect();
    touch((e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height);
    start = place;
  });
  paint();
  return {
    ...quiet,
    element,
    show: (slot, value) => {
      rgb[slot] = clamp(value);
      paint();
    },
  };
}

function text(item: Item, say: () => string, runs: boolean): Drawn {
  const element = made('div', {
    display: 'grid',
    alignItems: 'center',
    height: '100%',
    padding: '0 8px',
    color: item.colour === '' ? dusk.text : item.colour,
    overflow: 'hidden',
  });
  if (runs)
    Object.assign(element.style, { font: '600 clamp(18px, 3vw, 40px) monospace', fontVariantNumeric: 'tabular-nums' });
  const light = () => {
    const now = say();
    if (element.textContent !== now) element.textContent = now;
  };
  light();
  return { ...quiet, element, light, runs };
}

/** An item as it is drawn on its panel. */
export function draw(item: Item, desk: Desk): Drawn {
  switch (item.type) {
    case 'button':
    case 'toggle':
    case 'cue':
      return pressed(item, desk);
    case 'fader':
    case 'knob':
    case 'pad':
      return moved(item, desk);
    case 'colour':
      return colour(item, desk);
    case 'board':
      return { ...quiet, ...desk.board(item.shows) };
    case 'timecode':
      return text(item, desk.timecode, true);
    case 'next':
      return text(item, desk.next, false);
    case 'value': {
      let value: number | null = null;
      const drawn = text(item, () => `${item.label} ${value === null ? '—' : written(item, 0, value)}`, false);
      return {
        ...drawn,
        show: (_, told) => {
          value = told;
          drawn.light();
        },
      };
    }
    case 'picture': {
      const element = frame();
      if (item.picture.startsWith('/player/')) {
        // What the output is sent, drawn here once more.
        const picture = made('iframe', { width: '100%', height: '100%', border: '0', pointerEvents: 'none' });
        picture.src = item.picture;
        picture.title = item.label;
        picture.tabIndex = -1;
        element.append(picture);
      } else if (item.picture !== '') {
        const picture = made('img', { width: '100%', height: '100%', objectFit: 'contain' });
        picture.src = item.picture;
        picture.alt = item.label;
        element.append(picture);
      }
      element.append(caption(item.picture === '' ? `${item.label}: no picture` : item.label));
      return { ...quiet, element };
    }
    default:
      return text(item, () => item.label, false);
  }
}
