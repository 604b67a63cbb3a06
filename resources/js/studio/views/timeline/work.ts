import { create } from 'zustand';
import { command, get, playhead, position, program, select, set, shown, timelineId } from '../../store';
import type { KeyAt } from './shape';

/** Keyframes that are chosen, and where something sticks while it is dragged: to what, and how far that pulled, the weaker the further. */
export const useWork = create<{ keys: readonly KeyAt[]; stuck: number | null; stuckTo: string; stuckBy: number }>(
  () => ({ keys: [], stuck: null, stuckTo: '', stuckBy: 0 }),
);

export const chooseKeys = (keys: readonly KeyAt[]) => useWork.setState({ keys });

const clips = () =>
  get()
    .chosen.filter((c) => c.kind === 'clip')
    .map((c) => c.id);

const choose = (made: string | null) => {
  const ids = (made ?? '').split(' ').filter((id) => id !== '');
  if (ids.length > 0)
    set({
      chosen: ids.map((id) => ({ kind: 'clip' as const, id })),
      selected: { kind: 'clip', id: ids[ids.length - 1] ?? '' },
    });
};

/** Cuts what is chosen at the playhead; with nothing chosen, every clip of the timeline that is not locked. */
export async function split() {
  const rows = shown()?.rows;
  const line = timelineId();
  const at = playhead();
  const mine = clips();
  const all =
    mine.length > 0
      ? mine
      : (rows?.clip ?? [])
          .filter(
            (c) =>
              rows?.layer.some((l) => l.id === c.layer && l.timeline === line && !l.locked) &&
              c.start < at &&
              c.start + c.length > at,
          )
          .map((c) => c.id);
  if (all.length > 0) choose(await program({ action: 'split', clips: all, time: at }));
}

export function copy(): boolean {
  const { keys } = useWork.getState();
  const mine = clips();
  if (keys.length === 0 && mine.length === 0) return false;
  set({
    copied: { clips: keys.length > 0 ? [] : mine, keys: [...keys] },
    said: keys.length > 0 ? `${keys.length} keyframes copied` : `${mine.length} clips copied`,
  });
  return true;
}

/** Pastes at the playhead: keyframes onto the layer that is chosen, clips onto it when they came from one layer. */
export async function paste() {
  const { copied, selected, ripple } = get();
  const rows = shown()?.rows;
  const layer = selected?.kind === 'layer' ? selected.id : undefined;
  if (copied.keys.length > 0) {
    await program({
      action: 'pasteKeys',
      keys: copied.keys,
      time: playhead(),
      ...(layer === undefined ? {} : { layer }),
    });
    return;
  }
  const there = copied.clips.filter((id) => rows?.clip.some((c) => c.id === id));
  if (there.length === 0) return;
  const one = new Set(there.map((id) => rows?.clip.find((c) => c.id === id)?.layer)).size === 1;
  choose(
    await program({
      action: 'paste',
      clips: there,
      time: playhead(),
      ripple,
      ...(layer !== undefined && one ? { layer } : {}),
    }),
  );
}

export async function duplicate() {
  const mine = clips();
  if (mine.length > 0) choose(await program({ action: 'duplicate', clips: mine, ripple: get().ripple }));
}

/** Takes out the keyframes or the clips that are chosen. Whether there were any. */
export function removeChosen(): boolean {
  const { keys } = useWork.getState();
  if (keys.length > 0) {
    void program({ action: 'dropKeys', keys: [...keys] }).then((done) => done !== null && chooseKeys([]));
    return true;
  }
  const mine = clips();
  if (mine.length === 0) return false;
  void program({ action: 'remove', clips: mine, ripple: get().ripple }).then((done) => done !== null && select(null));
  return true;
}

let taps: number[] = [];
let tapping: ReturnType<typeof setTimeout> | undefined;

/** Ms by which what is heard and the key come late: taken off every tap. Kept with this browser. */
export const tapLatency = () => Number(localStorage.getItem('kite-tap-latency') ?? 0);
export const setTapLatency = (ms: number) => localStorage.setItem('kite-tap-latency', String(ms));

/** How long a jump fades that is pressed with Alt, in flicks. Kept with this browser. */
export const jumpFade = () => Number(localStorage.getItem('kite-jump-fade') ?? 2 * 705_600_000);
export const setJumpFade = (flicks: number) => localStorage.setItem('kite-jump-fade', String(flicks));

/** Show time of a tap that comes now. */
export const tapTime = () => Math.max(0, Math.round(position() - tapLatency() * 705_600));

/** A tap of the tempo: the core finds it once two seconds pass without another. */
export function tapTempo() {
  taps.push(tapTime());
  set({ said: `${taps.length} taps` });
  clearTimeout(tapping);
  tapping = setTimeout(() => {
    const [mine, timeline] = [taps, timelineId()];
    taps = [];
    if (mine.length > 1 && timeline !== null) void program({ action: 'tempo', timeline, taps: mine });
  }, 2000);
}

/** A bar of the timeline that is driven, in flicks; a second where it has no tempo. */
export function bar(): number {
  const line = shown()?.rows.timeline.find((t) => t.id === timelineId());
  return line !== undefined && line.bpm > 0 ? Math.round((line.beats * 60 * 705_600_000) / line.bpm) : 705_600_000;
}

export const nudge = (by: number) => command({ action: 'nudge', by });
