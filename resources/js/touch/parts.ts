import { dusk } from '../theme/tokens';

export const made = <K extends keyof HTMLElementTagNameMap>(tag: K, style: Partial<CSSStyleDeclaration>) => {
  const element = document.createElement(tag);
  Object.assign(element.style, style);
  return element;
};

/** What is pressed at present: each lets go when the desk is gone. */
const holding = new Set<() => void>();

/** Lets go of all that fingers rest on. */
export function letGo() {
  for (const end of [...holding]) end();
}

/**
 * A key of the panel. Touching is pressing, however long it lasts.
 *
 * @param release called once for each press, when the finger leaves or the desk is gone
 */
export function key(label: string, press: () => void, release?: () => void): HTMLButtonElement {
  const button = made('button', {
    background: dusk.ink7,
    color: dusk.text,
    border: `1px solid ${dusk.line}`,
    borderRadius: '4px',
    minHeight: '44px',
    minWidth: '44px',
    width: '100%',
    height: '100%',
    font: 'inherit',
    overflow: 'hidden',
    overflowWrap: 'anywhere',
    touchAction: 'none',
  });
  button.setAttribute('aria-label', label);
  let isDown = false;
  const end = () => {
    if (!isDown) return;
    isDown = false;
    holding.delete(end);
    release?.();
  };
  const begin = () => {
    if (isDown || button.disabled) return;
    isDown = true;
    holding.add(end);
    press();
  };
  button.addEventListener('pointerdown', (e) => {
    e.preventDefault();
    button.focus();
    button.setPointerCapture(e.pointerId);
    begin();
  });
  for (const leaves of ['pointerup', 'pointercancel', 'lostpointercapture', 'blur'] as const)
    button.addEventListener(leaves, end);
  button.addEventListener('keydown', (e) => {
    if ((e.key === 'Enter' || e.key === ' ') && !e.repeat) {
      e.preventDefault();
      begin();
    }
  });
  button.addEventListener('keyup', (e) => {
    if (e.key === 'Enter' || e.key === ' ') end();
  });
  return button;
}

/**
 * A field on which a finger moves values by as far as it goes: from where they are, so that nothing leaps to it.
 *
 * @param move how far it went, as shares of the field's width and height, up positive
 */
export function drag(element: HTMLElement, begin: () => void, move: (x: number, y: number) => void) {
  element.style.touchAction = 'none';
  element.tabIndex = 0;
  let from: { id: number; x: number; y: number } | null = null;
  const end = () => {
    from = null;
    holding.delete(end);
  };
  element.addEventListener('pointerdown', (e) => {
    e.preventDefault();
    element.focus();
    element.setPointerCapture(e.pointerId);
    from = { id: e.pointerId, x: e.clientX, y: e.clientY };
    holding.add(end);
    begin();
  });
  element.addEventListener('pointermove', (e) => {
    if (from?.id !== e.pointerId) return;
    const box = element.getBoundingClientRect();
    move((e.clientX - from.x) / Math.max(1, box.width), (from.y - e.clientY) / Math.max(1, box.height));
  });
  for (const leaves of ['pointerup', 'pointercancel', 'lostpointercapture'] as const)
    element.addEventListener(leaves, end);
  element.addEventListener('keydown', (e) => {
    const [x, y] = (
      {
        ArrowLeft: [-0.01, 0],
        ArrowRight: [0.01, 0],
        ArrowDown: [0, -0.01],
        ArrowUp: [0, 0.01],
        PageDown: [0, -0.1],
        PageUp: [0, 0.1],
        Home: [0, -1],
        End: [0, 1],
      } as Record<string, [number, number]>
    )[e.key] ?? [0, 0];
    if (x === 0 && y === 0) return;
    e.preventDefault();
    begin();
    move(x, y);
  });
}

export const clamp = (v: number) => Math.max(0, Math.min(1, v));
