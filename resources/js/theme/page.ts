import type { Schemas, ShowDocument } from '../api/client';
import { dusk } from './tokens';

/** What the small pages beside the studio are made of: one column, large buttons, no library. */
export function column(width: number): HTMLElement {
  Object.assign(document.body.style, {
    margin: '0',
    background: dusk.ink9,
    color: dusk.text,
    font: '16px sans-serif',
    touchAction: 'manipulation',
  });
  const page = document.createElement('main');
  Object.assign(page.style, {
    maxWidth: `${width}px`,
    margin: '0 auto',
    padding: '12px',
    display: 'grid',
    gap: '10px',
  });
  document.body.append(page);
  return page;
}

export function heading(text: string, level: 'h1' | 'h2' = 'h1') {
  const made = document.createElement(level);
  made.textContent = text;
  Object.assign(made.style, { fontSize: level === 'h1' ? '18px' : '16px', margin: '0' });
  return made;
}

export function button(text: string, label: string, press: () => void, on = false) {
  const made = document.createElement('button');
  made.textContent = text;
  made.setAttribute('aria-label', label);
  made.setAttribute('aria-pressed', String(on));
  Object.assign(made.style, {
    background: dusk.ink7,
    color: dusk.text,
    border: `1px solid ${on ? dusk.kite : dusk.line}`,
    borderRadius: '6px',
    minHeight: '56px',
    font: 'inherit',
    fontSize: '20px',
  });
  made.addEventListener('click', press);
  return made;
}

/** Things side by side in columns of one width. */
export function grid(columns: number, ...of: HTMLElement[]) {
  const made = document.createElement('div');
  Object.assign(made.style, { display: 'grid', gridTemplateColumns: `repeat(${columns}, 1fr)`, gap: '8px' });
  made.append(...of);
  return made;
}

export function choice(
  label: string,
  options: readonly (readonly [string, string])[],
  chosen: string | undefined,
  choose: (value: string) => void,
) {
  const made = document.createElement('select');
  made.setAttribute('aria-label', label);
  Object.assign(made.style, {
    background: dusk.ink7,
    color: dusk.text,
    border: `1px solid ${dusk.line}`,
    borderRadius: '6px',
    padding: '12px',
    font: 'inherit',
    width: '100%',
  });
  for (const [text, value] of options) made.append(new Option(text, value, false, value === chosen));
  made.addEventListener('change', () => choose(made.value));
  return made;
}

export function status() {
  const made = document.createElement('p');
  made.setAttribute('role', 'status');
  Object.assign(made.style, { margin: '0', color: dusk.straw, minHeight: '20px' });
  return made;
}

/** The show that is on air; null where none is. */
export async function showOnAir(): Promise<ShowDocument | null> {
  const { shows } = (await (await fetch('/api/shows')).json()) as { shows: Schemas['ShowHead'][] };
  const engaged = shows.find((s) => s.engaged);
  return engaged === undefined ? null : ((await (await fetch(`/api/shows/${engaged.id}`)).json()) as ShowDocument);
}
