import { create } from 'zustand';
import type { Schemas } from '../api/client';
import { soundControls } from '../api/commands';
import type { ControlEntry, ControlsMessage } from '../live/messages';
import bandsUrl from './bands.worklet.ts?worker&url';
import workletUrl from './line.worklet.ts?worker&url';
import { live } from './state';

/** Events that the monitor keeps. */
const REMEMBERED = 500;

/** What a control is being learned for. */
export interface Learning {
  meaning: Schemas['Binding']['meaning'];
  targets: { target: string; name: string }[];
  /** The binding that is to listen to another control. */
  binding?: string;
}

interface Controls {
  events: ControlEntry[];
  meets: ControlsMessage['meets'];
  pages: ControlsMessage['pages'];
  devices: ControlsMessage['devices'];
  meters: ControlsMessage['meters'];
  learning: Learning | null;
  /** MIDI ports of this window: whether they are used, and why not. */
  midi: 'off' | 'asking' | 'on' | 'elsewhere' | 'refused' | 'none';
  ports: string[];
}

export const useControls = create<Controls>(() => ({
  events: [],
  meets: {},
  pages: {},
  devices: [],
  meters: [],
  learning: null,
  midi: 'off',
  ports: [],
}));
const { setState: set } = useControls;

let watchers = 0;
const watch = (on: boolean) => void live.controls({ watch: on }).catch(() => undefined);

/** Has the engine tell what controls do until what it returns is called. */
export function watchControls(): () => void {
  if (++watchers === 1) watch(true);
  return () => {
    if (--watchers === 0) watch(false);
  };
}

live.on('hello', () => {
  set({ events: [] });
  if (watchers > 0) watch(true);
});
live.on('controls', ({ events, meets, pages, devices, meters }) => {
  set((s) => ({ events: [...s.events, ...events].slice(-REMEMBERED), meets, pages, devices, meters }));
});
live.on('feedback', ({ port, data }) => {
  try {
    outputs.get(port)?.send(data);
  } catch {
    // A port that went away meanwhile shows nothing.
  }
});

export const learn = (learning: Learning | null) => set({ learning });

/** What came and is not delivered yet: one request at a time, with all that came meanwhile in the next. */
const queue: unknown[] = [];
let sending = false;

function deliver(event: unknown) {
  queue.push(event);
  if (sending) return;
  sending = true;
  void (async () => {
    while (queue.length > 0) {
      const events = queue.splice(0, 500);
      try {
        await live.controls({ events });
      } catch {
        // The engine is gone, or is coming back: what was pressed meanwhile is not done later.
      }
    }
    sending = false;
  })();
}

export const deliverKey = (code: string, down: boolean) =>
  deliver({ source: 'keys', control: `key:${code}`, value: down ? 1 : 0 });

const outputs = new Map<string, MIDIOutput>();
const KEPT = 'kite-midi';

/** Uses the MIDI ports of this machine in one tab of this browser, now and whenever it is opened. */
export async function startMidi(): Promise<void> {
  if (navigator.requestMIDIAccess === undefined) {
    set({ midi: 'none' });
    return;
  }
  localStorage.setItem(KEPT, 'on');
  set({ midi: 'asking' });
  const open = (sysex: boolean) => navigator.requestMIDIAccess({ sysex });
  let access: MIDIAccess;
  try {
    // Show control comes as system exclusive messages, which a browser asks for apart.
    access = await open(true).catch(() => open(false));
  } catch (error) {
    const denied = error instanceof DOMException && ['NotAllowedError', 'SecurityError'].includes(error.name);
    set({ midi: denied ? 'refused' : 'none' });
    return;
  }
  set({ midi: 'elsewhere' });
  // Of several tabs one delivers, so that nothing is pressed twice.
  void navigator.locks.request(KEPT, () => {
    const known = new Set<string>();
    let first = true;
    const ports = () => {
      const there = new Map(
        [...access.inputs.values()].filter((p) => p.state !== 'disconnected').map((p) => [p.name ?? 'MIDI', p]),
      );
      for (const [name, port] of there) {
        port.onmidimessage = ({ data }) => data !== null && deliver({ source: 'midi', port: name, data: [...data] });
        if (!known.has(name)) deliver({ source: 'midi', port: name, ...(first ? {} : { came: true }) });
        known.add(name);
      }
      for (const name of [...known])
        if (!there.has(name)) {
          known.delete(name);
          deliver({ source: 'midi', port: name, gone: true });
        }
      outputs.clear();
      for (const port of access.outputs.values()) outputs.set(port.name ?? 'MIDI', port);
      set({ midi: 'on', ports: [...known].sort() });
      first = false;
    };
    access.onstatechange = ports;
    ports();
    live.on('hello', () => {
      for (const port of known) deliver({ source: 'midi', port });
    });
    return new Promise(() => undefined);
  });
}

if (localStorage.getItem(KEPT) === 'on') void startMidi();

/** The control that is being moved, by what came since: the one with most events first, each with what it sent. */
export function moved(
  events: readonly ControlEntry[],
): { key: string; first: ControlEntry; sent: [string, ControlEntry['raw']][] }[] {
  const found = new Map<string, { key: string; first: ControlEntry; sent: [string, ControlEntry['raw']][] }>();
  for (const e of events) {
    const key = `${e.source} ${e.device} ${e.control}`;
    const one = found.get(key) ?? { key, first: e, sent: [] };
    one.sent.push([e.control, e.raw]);
    found.set(key, one);
  }
  return [...found.values()].sort((a, b) => b.sent.length - a.sent.length);
}

/** Whether an audio input is heard in this window, and which. */
interface Input {
  state: 'off' | 'asking' | 'on' | 'refused';
  device: string;
}

/** The audio input that timecode is heard on in this window, and the one that is heard as sound. */
export const useLine = create<Input>(() => ({ state: 'off', device: '' }));
export const useSoundInput = create<Input>(() => ({ state: 'off', device: '' }));

/**
 * A switch for an audio input: has this window deliver what it hears, and, pressed again, ends that.
 *
 * @param connect takes the input to what hears it
 */
function audioInput(
  store: typeof useLine,
  worklet: string,
  connect: (source: MediaStreamAudioSourceNode, name: string) => void,
): () => Promise<void> {
  let context: AudioContext | null = null;
  return async () => {
    if (context !== null) {
      void context.close();
      context = null;
      store.setState({ state: 'off' });
      return;
    }
    store.setState({ state: 'asking' });
    try {
      // What makes speech clear makes timecode unreadable, and music flat.
      const stream = await navigator.mediaDevices.getUserMedia({
        audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
      });
      const device = stream.getAudioTracks()[0]?.label ?? '';
      context = new AudioContext();
      await context.audioWorklet.addModule(worklet);
      connect(context.createMediaStreamSource(stream), device === '' ? 'Audio input' : device);
      await context.resume();
      store.setState({ state: 'on', device });
    } catch {
      context = null;
      store.setState({ state: 'refused' });
    }
  };
}

/** Has this window deliver what an audio input hears, so that the engine reads timecode out of it; again to end it. */
export const listenToLine = audioInput(useLine, workletUrl, (source) => {
  const { context } = source;
  const node = new AudioWorkletNode(context, 'line');
  node.port.onmessage = ({ data }: MessageEvent<ArrayBuffer>) => {
    const at = live.now();
    if (at === null || context.state === 'closed') return;
    deliver({
      source: 'ltc',
      rate: Math.round(context.sampleRate),
      samples: btoa(String.fromCharCode(...new Uint8Array(data))),
      at,
    });
  };
  source.connect(node);
});

/** Has this window deliver how loud what it hears is, all of it and in bands; again to end it. */
export const listenToSound = audioInput(useSoundInput, bandsUrl, (source, name) => {
  const { context } = source;
  const measured = soundControls.filter((c) => c.measured);
  const node = new AudioWorkletNode(context, 'bands', { numberOfInputs: measured.length, numberOfOutputs: 0 });
  measured.forEach(({ band }, n) => {
    if (band === null) {
      source.connect(node, 0, n);
      return;
    }
    const [low, high] = band;
    const centre = Math.sqrt(low * high);
    const filter = new BiquadFilterNode(context, { type: 'bandpass', frequency: centre, Q: centre / (high - low) });
    source.connect(filter).connect(node, 0, n);
  });
  node.port.onmessage = ({ data }: MessageEvent<number[]>) => {
    if (context.state !== 'closed') deliver({ source: 'sound', input: name, levels: data });
  };
});
