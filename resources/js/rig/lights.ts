import type { ShowDocument } from '../api/client';
import { protocols } from '../api/kinds';
import { Live } from '../live/client';
import { showOnAir } from '../theme/page';
import { dusk, written } from '../theme/tokens';

/**
 * Virtual rig: pixel lights as they really are lit by what their nodes received from the network. Each light reads the slots that it is
 * addressed to, and gives the light of its own emitters.
 */
interface Universes {
  packets: Record<string, number>;
  bad: number;
  universes: Record<string, Record<string, string>>;
}

interface Light {
  patch: string;
  name: string;
  address: string;
  protocol: string;
  width: number;
  height: number;
  columns: number;
  rows: number;
  places: number[][];
  order: number[];
  addresses: number[][];
  numbers: Map<number, number>;
  bits: number;
  gamma: number;
  channels: { kind: string; colour: number[] }[];
}

/** Ms between two questions. */
const EVERY = 80;

const words = document.createElement('p');
const canvas = document.createElement('canvas');
document.body.append(words, canvas);
Object.assign(document.body.style, {
  margin: '0',
  background: dusk.ink9,
  color: dusk.text,
  font: '14px sans-serif',
  overflow: 'hidden',
});
Object.assign(words.style, { margin: '10px 14px' });
words.setAttribute('role', 'status');

const live = new Live();
let lights: Light[] = [];
let show: ShowDocument | null = null;
/** What each light gives, pixel by pixel along its wiring, as linear light; for whoever tests. */
const given = new Map<string, number[][]>();

async function load() {
  show = await showOnAir();
  if (show === null) return;
  const { id, rows } = show;
  lights = await Promise.all(
    rows.patch
      .filter((p) => p.node !== null)
      .slice(0, 200)
      .map(async (p) => {
        const wired = (await (await fetch(`/api/shows/${id}/patches/${p.id}`)).json()) as Omit<Light, 'numbers'> & {
          numbers: number[][];
        };
        return {
          ...wired,
          patch: p.id,
          name: rows.surface.find((s) => s.id === p.surface)?.name ?? '',
          address: rows.node.find((n) => n.id === p.node)?.address ?? '',
          numbers: new Map(wired.numbers as [number, number][]),
        };
      }),
  );
}

const bytesOf = (text: string | undefined) => Uint8Array.from(atob(text ?? ''), (c) => c.charCodeAt(0));

/** The linear light that a light's pixel gives by its slots. */
function emitted(light: Light, slots: Uint8Array, from: number): number[] {
  const wide = light.bits / 8;
  const sum = [0, 0, 0];
  let dimmer = 1;
  light.channels.forEach((channel, i) => {
    const at = from + i * wide;
    const value = (wide === 2 ? (slots[at] ?? 0) * 256 + (slots[at + 1] ?? 0) : (slots[at] ?? 0)) / (256 ** wide - 1);
    if (channel.kind === 'dimmer') dimmer = value;
    for (const c of [0, 1, 2]) sum[c] = (sum[c] ?? 0) + value ** light.gamma * (channel.colour[c] ?? 0);
  });
  return sum.map((v) => v * dimmer);
}

function draw(told: Universes) {
  words.textContent = `Pixel lights as lit · ${Object.entries(told.packets)
    .map(([protocol, n]) => `${protocols[protocol] ?? protocol} ${n.toLocaleString('en')} packets`)
    .join(' · ')}${told.bad > 0 ? ` · ${told.bad} malformed` : ''}`;
  const [width, height] = [innerWidth, innerHeight - 44];
  if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
  const ctx = canvas.getContext('2d');
  if (ctx === null) return;
  ctx.fillStyle = dusk.ink9;
  ctx.fillRect(0, 0, width, height);
  const wide = lights.reduce((sum, l) => sum + l.width, 0);
  const gap = 24;
  const scale = Math.min(
    (width - gap * (lights.length + 1)) / Math.max(1, wide),
    (height - 60) / Math.max(1, ...lights.map((l) => l.height)),
  );
  let x = gap;
  for (const light of lights) {
    const universes = told.universes[light.protocol] ?? {};
    const all = new Map<number, Uint8Array>();
    const slotsOf = (universe: number) => {
      let slots = all.get(universe);
      if (slots === undefined) {
        const number = light.numbers.get(universe) ?? 0;
        slots =
          light.protocol === 'ddp' ? bytesOf(universes[0]).slice(number, number + 512) : bytesOf(universes[number]);
        all.set(universe, slots);
      }
      return slots;
    };
    const colours: number[][] = [];
    const size = Math.max(
      2,
      Math.min((light.width / light.columns) * scale, (light.height / light.rows) * scale) * 0.82,
    );
    light.order.forEach((pixel, n) => {
      const [universe = 1, channel = 1] = light.addresses[n] ?? [];
      const colour = emitted(light, slotsOf(universe), channel - 1);
      colours.push(colour);
      const [u = 0, v = 0] = light.places[pixel] ?? [];
      const [r = 0, g = 0, b = 0] = colour.map((c) => Math.round(255 * Math.min(1, c) ** (1 / 2.2)));
      ctx.fillStyle = written(r, g, b);
      ctx.beginPath();
      ctx.arc(x + u * light.width * scale, 30 + v * light.height * scale, size / 2, 0, 7);
      ctx.fill();
    });
    given.set(light.patch, colours);
    ctx.strokeStyle = dusk.line;
    ctx.strokeRect(x - 1, 29, light.width * scale + 2, light.height * scale + 2);
    ctx.fillStyle = dusk.dim;
    ctx.font = '13px sans-serif';
    ctx.fillText(light.name, x, 20, Math.max(40, light.width * scale + gap - 6));
    x += light.width * scale + gap;
  }
}

async function ask() {
  try {
    draw((await (await fetch('/inputs/lights', { cache: 'no-store' })).json()) as Universes);
  } catch {
    words.textContent = 'The virtual nodes do not answer.';
  }
  setTimeout(() => void ask(), EVERY);
}

live.on('revision', () => void load());
live.on('hello', () => void load());
void load().then(ask);
Object.assign(window, { kiteLights: given });
