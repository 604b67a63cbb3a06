/**
 * The space bar is a hand while a pointer is pressed with it: what lies under the pointer is moved by it. Pressed alone, it
 * does what it is for, as it is let go.
 */

type Pan = (dx: number, dy: number) => void;

const pans = new WeakMap<Element, Pan>();

/** What is moved by the hand; the answer ends that. */
export function panned(node: Element, pan: Pan): () => void {
  pans.set(node, pan);
  return () => pans.delete(node);
}

/** How what lies at a place is moved: by itself, or as what scrolls there. */
function panOf(from: EventTarget | null): Pan | null {
  for (let node = from instanceof Element ? from : null; node !== null; node = node.parentElement) {
    const pan = pans.get(node);
    if (pan !== undefined) return pan;
    const { overflowX, overflowY } = getComputedStyle(node);
    const scrolls = (how: string, size: number, whole: number) => (how === 'auto' || how === 'scroll') && whole > size;
    if (
      scrolls(overflowX, node.clientWidth, node.scrollWidth) ||
      scrolls(overflowY, node.clientHeight, node.scrollHeight)
    ) {
      const of = node;
      return (dx, dy) => of.scrollBy(-dx, -dy);
    }
  }
  return null;
}

/**
 * Listens to the space bar.
 *
 * @param typing whether keys belong to what has the focus
 * @param act what it does alone
 */
export function watchSpace(typing: (target: EventTarget | null) => boolean, act: () => void): () => void {
  let held = false;
  let used = false;
  let moving: { pan: Pan; x: number; y: number; pointer: number } | null = null;
  const onButton = (target: EventTarget | null) =>
    target instanceof Element && target.closest('button, a, [role="button"]') !== null;
  const show = () => document.documentElement.classList.toggle('hand', held);
  const take = (e: Event) => {
    e.preventDefault();
    e.stopPropagation();
  };
  const down = (e: KeyboardEvent) => {
    if (e.key !== ' ' || e.ctrlKey || e.altKey || e.metaKey || typing(e.target)) return;
    // Nothing scrolls by it; a button is pressed as it is let go.
    if (!onButton(e.target) && !e.defaultPrevented) e.preventDefault();
    if (e.repeat || held) return;
    [held, used] = [true, false];
    show();
  };
  const up = (e: KeyboardEvent) => {
    if (e.key !== ' ' || !held) return;
    held = false;
    show();
    if (used) take(e);
    else if (!onButton(e.target) && !typing(e.target)) act();
  };
  const press = (e: PointerEvent) => {
    if (!held) return;
    used = true;
    const pan = e.button === 0 ? panOf(e.target) : null;
    if (pan === null) return;
    take(e);
    moving = { pan, x: e.clientX, y: e.clientY, pointer: e.pointerId };
  };
  const move = (e: PointerEvent) => {
    if (moving === null || e.pointerId !== moving.pointer) return;
    take(e);
    moving.pan(e.clientX - moving.x, e.clientY - moving.y);
    [moving.x, moving.y] = [e.clientX, e.clientY];
  };
  const release = (e: PointerEvent) => {
    if (moving === null || e.pointerId !== moving.pointer) return;
    take(e);
    moving = null;
    // Nor is it a click.
    addEventListener('click', take, { capture: true, once: true });
    setTimeout(() => removeEventListener('click', take, true), 50);
  };
  const mouse = (e: MouseEvent) => {
    if (moving !== null) take(e);
  };
  const away = () => {
    held = false;
    moving = null;
    show();
  };
  const all: [string, (e: never) => void][] = [
    ['keydown', down],
    ['keyup', up],
    ['pointerdown', press],
    ['pointermove', move],
    ['pointerup', release],
    ['pointercancel', release],
    ['mousedown', mouse],
    ['blur', away],
  ];
  for (const [name, listener] of all) addEventListener(name, listener as EventListener, true);
  return () => {
    for (const [name, listener] of all) removeEventListener(name, listener as EventListener, true);
  };
}
