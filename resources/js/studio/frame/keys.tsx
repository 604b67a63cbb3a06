import { Modal } from '@mantine/core';
import { useEffect, useState } from 'react';
import { deliverKey, useControls } from '../controls';
import { watchSpace } from '../hand';
import {
  choose,
  command,
  get,
  go,
  handledId,
  position,
  select,
  set,
  shown,
  timelineId,
  turn,
  useStudio,
  views,
} from '../store';
import { bar, copy, duplicate, nudge, paste, removeChosen, split, tapTempo } from '../views/timeline/work';
import { addCue, playOrHold, removeSelected, tapMarker } from './actions';
import { foldPictures } from './PictureStrip';

const everywhere: [string, string][] = [
  ['Space', 'play or hold'],
  ['Space held while dragging', 'move what is seen'],
  ['G', 'Go: the next cue, or on from a hold point'],
  ['← →', 'one frame back or on (with Shift: one second)'],
  ['Home', 'jump to the start'],
  ['M', 'tap a marker'],
  ['Shift+M', 'add a cue at the playhead'],
  ['Delete', 'remove the selection'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
  ['Ctrl+K', 'every action by name'],
  ['Ctrl+.', 'fold the details'],
  ['P', 'pictures of the surfaces, or none, where one programs'],
  ['Alt+1 … 8', 'the views'],
  ['Esc', 'select nothing'],
  ['Esc while dragging', 'all stays where it was'],
];
const ofView: Record<string, [string, string][]> = {
  timeline: [
    ['Ctrl+wheel', 'zoom'],
    ['/', 'cut at the playhead'],
    ['R', 'ripple on or off'],
    ['T', 'tap the tempo'],
    ['Ctrl+C, Ctrl+X, Ctrl+V', 'copy, cut, paste at the playhead'],
    ['Ctrl+D', 'duplicate'],
    ['Ctrl+drag', 'slip a clip'],
    ['Shift+press', 'choose one more'],
    ['Alt+← →', 'move what is chosen by a frame (with Shift: by ten)'],
    ['Ctrl+← →', 'a bar back or on'],
    ['Alt+↑ ↓', 'move a layer up or down, its name in focus'],
    ['Alt+press on the ruler', 'jump with a fade'],
    ['Shift+drag on the ruler', 'range that is repeated; a press for none'],
    ['Alt while dragging', 'no snapping'],
    ['Double-click a lane', 'new keyframe'],
    ['Ctrl+A', 'choose all clips'],
  ],
  outputs: [
    ['Wheel, +, −', 'zoom; 0 fits'],
    ['← → ↑ ↓', 'move a region, corner, point or node by a pixel (Shift: ten, Alt: a tenth)'],
    ['Ctrl+A', 'choose all regions of the output'],
    ['N, Shift+N', 'the next region of the list, the one before'],
    ['O', 'only these on the real outputs, or all again'],
    ['Ctrl+Enter', 'take the region that has the focus, too'],
    ['Double-click in Warp', 'a line more each way'],
    ['N in Alignment', 'the next point'],
    ['Alt while dragging', 'no snapping'],
    ['Shift while dragging', 'one axis'],
  ],
  venue: [
    ['Drag', 'orbit'],
    ['Right-drag', 'pan'],
    ['Shift+drag', 'choose what lies in the box'],
    ['Ctrl+press', 'choose one more, or one less'],
    ['F', 'fit to what is chosen'],
    ['← → ↑ ↓', 'move what is chosen by a tenth of the grid (with Shift: by its lines)'],
    ['PgUp, PgDn', 'move it up and down'],
    ['Ctrl+A', 'choose everything'],
    ['Ctrl+D', 'duplicate in place'],
    ['Alt while dragging', 'no snapping'],
    ['Shift while dragging', 'one axis'],
    ['A number while dragging', 'exactly so far'],
  ],
};

/** Whether a key belongs to a field or control that has the focus. */
const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  target.closest('input, textarea, select, [contenteditable], [role="slider"]') !== null;

/** Chooses all clips of the timeline that is shown; other views choose what they show themselves. */
function chooseAll() {
  const show = shown();
  if (get().view !== 'timeline' || show === undefined) {
    document.dispatchEvent(new CustomEvent('kite-all'));
    return;
  }
  const layers = new Set(show.rows.layer.filter((l) => l.timeline === timelineId()).map((l) => l.id));
  choose(show.rows.clip.filter((c) => layers.has(c.layer)).map((c) => ({ kind: 'clip', id: c.id })));
}

/** Whether the show on air has a binding of this key; with Ctrl, Alt or Meta, a key is ours. */
function isBound(event: KeyboardEvent): boolean {
  return !event.ctrlKey && !event.altKey && !event.metaKey && codeIsBound(event.code);
}

function codeIsBound(code: string): boolean {
  const { air, showId } = get();
  const rows = air === showId ? shown()?.rows : undefined;
  return (
    rows?.binding.some(
      (b) => b.control === `key:${code}` && rows.device.some((d) => d.id === b.device && d.protocol === 'keys'),
    ) === true
  );
}

export function useKeys() {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const mod = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (event.altKey && /^[1-8]$/.test(event.key)) {
        event.preventDefault();
        go(views[Number(event.key) - 1] ?? 'venue');
        return;
      }
      if (typing(event.target)) return;
      if (useControls.getState().learning !== null || isBound(event)) {
        if (event.key === 'Escape' || (event.key === 'Tab' && useControls.getState().learning !== null)) return;
        if (event.target instanceof HTMLElement && event.target.closest('button, a') !== null && !isBound(event))
          return;
        event.preventDefault();
        if (!event.repeat) deliverKey(event.code, true);
        return;
      }
      const act = (run: () => unknown) => {
        event.preventDefault();
        void run();
      };
      if (mod && key === 'z') return act(() => turn(event.shiftKey ? 'redo' : 'undo'));
      if (mod && key === 'y') return act(() => turn('redo'));
      if (mod && key === 'a') return act(chooseAll);
      if (mod && get().view === 'timeline') {
        if (key === 'c' && copy()) return act(() => undefined);
        if (key === 'x' && copy()) return act(removeChosen);
        if (key === 'v') return act(paste);
        if (key === 'd') return act(duplicate);
        if (event.key === 'ArrowLeft' || event.key === 'ArrowRight')
          return act(() => nudge((event.key === 'ArrowLeft' ? -1 : 1) * bar()));
      }
      if (mod && key === '.') return act(() => set((s) => ({ detailsOpen: !s.detailsOpen })));
      if (mod || event.altKey) return;
      if (key === 'g') return act(() => command({ action: 'go' }));
      if (key === 't') return act(tapTempo);
      if (get().view === 'outputs') {
        if (key === 'n') document.dispatchEvent(new CustomEvent('kite-step', { detail: event.shiftKey ? -1 : 1 }));
        if (key === 'o') return act(() => document.dispatchEvent(new CustomEvent('kite-alone')));
      }
      if (get().view === 'timeline') {
        if (event.key === '/') return act(split);
        if (key === 'r') return act(() => set((s) => ({ ripple: !s.ripple })));
        if ((event.key === 'Delete' || event.key === 'Backspace') && removeChosen()) return act(() => undefined);
      }
      if (key === 'p') return act(foldPictures);
      if (key === 'm') return act(event.shiftKey ? addCue : tapMarker);
      if (event.key === 'Home') return act(() => command({ action: 'jump', time: 0 }));
      if (event.key === 'Delete' || event.key === 'Backspace') return act(removeSelected);
      if (event.key === '?') return act(() => document.dispatchEvent(new CustomEvent('kite-help')));
      if (
        (event.key === 'ArrowLeft' || event.key === 'ArrowRight') &&
        get().view !== 'outputs' &&
        !(get().view === 'venue' && get().chosen.length > 0)
      ) {
        const frame = (shown()?.computed.flicksPerFrame ?? 0) * (event.shiftKey ? 25 : 1);
        act(() =>
          command({
            action: 'jump',
            time: Math.max(0, position(handledId()) + (event.key === 'ArrowLeft' ? -frame : frame)),
          }),
        );
      }
    };
    // What is open over the view closes first: looked for before it does.
    const onEscape = (event: KeyboardEvent) => {
      if (
        event.key === 'Escape' &&
        !typing(event.target) &&
        document.querySelector('[role="menu"], [role="dialog"]') === null
      )
        select(null);
    };
    const onUp = (event: KeyboardEvent) => {
      if (!typing(event.target) && (useControls.getState().learning !== null || isBound(event)))
        deliverKey(event.code, false);
    };
    addEventListener('keydown', onKey);
    addEventListener('keyup', onUp);
    addEventListener('keydown', onEscape, true);
    const spaceEnds = watchSpace(
      (target) => typing(target) || useControls.getState().learning !== null || codeIsBound('Space'),
      playOrHold,
    );
    return () => {
      spaceEnds();
      removeEventListener('keydown', onKey);
      removeEventListener('keyup', onUp);
      removeEventListener('keydown', onEscape, true);
    };
  }, []);
}

export function Help() {
  const [open, setOpen] = useState(false);
  const view = useStudio((s) => s.view);
  useEffect(() => {
    const show = () => setOpen(true);
    document.addEventListener('kite-help', show);
    return () => document.removeEventListener('kite-help', show);
  }, []);
  return (
    <Modal opened={open} onClose={() => setOpen(false)} title="Shortcuts" centered>
      <dl className="figures" style={{ gridTemplateColumns: 'auto 1fr' }}>
        {[...(ofView[view] ?? []), ...everywhere].map(([keys, what]) => (
          <div key={keys + what} style={{ display: 'contents' }}>
            <dt className="mono" style={{ color: 'var(--kl-text)' }}>
              {keys}
            </dt>
            <dd style={{ textAlign: 'left' }}>{what}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  );
}
