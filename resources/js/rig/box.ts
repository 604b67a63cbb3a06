import { dusk } from '../theme/tokens';

/**
 * Virtual rig: a fader box with motors and lit buttons. What is moved here goes as MIDI over the network to the engine, and what the
 * engine sends back moves the faders and lights the buttons.
 */
interface State {
  on: boolean;
  faders: number[];
  lamps: number[];
}

/** Ms between two questions. */
const EVERY = 100;

Object.assign(document.body.style, {
  margin: '0',
  padding: '20px',
  background: dusk.ink9,
  color: dusk.text,
  font: '15px sans-serif',
});
document.title = 'Fader box';
const words = document.createElement('p');
words.setAttribute('role', 'status');
const faders = document.createElement('div');
const buttons = document.createElement('div');
Object.assign(faders.style, { display: 'flex', gap: '28px', margin: '18px 0' });
Object.assign(buttons.style, { display: 'grid', gridTemplateColumns: 'repeat(4, 72px)', gap: '10px' });
document.body.append(words, faders, buttons);

let queue: { control: string; number: number; value: number }[] = [];
let sending = false;
/** Faders that somebody holds, and when each was moved last: no motor works against a hand. */
const held = new Set<number>();
const movedAt = new Map<number, number>();
const RESTS = 600;

async function send() {
  if (sending) return;
  sending = true;
  while (queue.length > 0) {
    const moves = queue.splice(0, 200);
    await fetch('/inputs/box', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(moves),
    }).catch(() => undefined);
  }
  sending = false;
}

const move = (control: string, number: number, value: number) => {
  queue = [...queue, { control, number, value }];
  void send();
};

const sliders: HTMLInputElement[] = [];
const lamps: HTMLButtonElement[] = [];

function build(state: State) {
  state.faders.forEach((value, i) => {
    const slider = document.createElement('input');
    Object.assign(slider, { type: 'range', min: '0', max: '127', value: String(value) });
    Object.assign(slider.style, {
      writingMode: 'vertical-lr',
      direction: 'rtl',
      height: '220px',
      accentColor: dusk.kite,
    });
    slider.setAttribute('aria-label', `Fader ${i + 1}`);
    slider.addEventListener('input', () => {
      movedAt.set(i, performance.now());
      move('fader', i + 1, Number(slider.value));
    });
    slider.addEventListener('pointerdown', () => held.add(i));
    slider.addEventListener('pointerup', () => held.delete(i));
    sliders.push(slider);
    faders.append(slider);
  });
  state.lamps.forEach((_, i) => {
    const button = document.createElement('button');
    button.textContent = String(i + 1);
    button.setAttribute('aria-label', `Button ${i + 1}`);
    Object.assign(button.style, {
      height: '52px',
      font: 'inherit',
      border: `1px solid ${dusk.line}`,
      borderRadius: '4px',
    });
    button.addEventListener('pointerdown', () => move('button', i, 127));
    for (const end of ['pointerup', 'pointercancel'] as const) button.addEventListener(end, () => move('button', i, 0));
    button.addEventListener('keydown', (e) => e.key === ' ' && !e.repeat && move('button', i, 127));
    button.addEventListener('keyup', (e) => e.key === ' ' && move('button', i, 0));
    lamps.push(button);
    buttons.append(button);
  });
}

async function look() {
  const state: State | null = await fetch('/inputs/box')
    .then((a) => (a.ok ? a.json() : null))
    .catch(() => null);
  words.textContent = state?.on === true ? '● Session with the engine is on' : '▲ No session with the engine';
  if (state !== null) {
    if (sliders.length === 0) build(state);
    state.faders.forEach((value, i) => {
      const slider = sliders[i];
      if (
        slider !== undefined &&
        !held.has(i) &&
        performance.now() - (movedAt.get(i) ?? Number.NEGATIVE_INFINITY) > RESTS
      )
        slider.value = String(value);
    });
    state.lamps.forEach((value, i) => {
      const lamp = lamps[i];
      if (lamp === undefined) return;
      lamp.style.background = value > 0 ? dusk.lamp : dusk.ink7;
      lamp.style.color = value > 0 ? dusk.ink9 : dusk.text;
      lamp.setAttribute('aria-pressed', String(value > 0));
    });
  }
  setTimeout(() => void look(), EVERY);
}
void look();
