/** Commands that controls give, generated from the core: their OSC address with its arguments, and whether they need none. */
export const commands = [
  { name: 'play', label: 'Play', osc: '/kite/play [timeline]', needs: [] },
  { name: 'hold', label: 'Hold', osc: '/kite/hold [timeline]', needs: [] },
  { name: 'toggle', label: 'Play or hold', osc: '/kite/toggle [timeline]', needs: [] },
  { name: 'stop', label: 'Stop: hold at the start', osc: '/kite/stop [timeline]', needs: [] },
  { name: 'go', label: 'Go: the next cue, or on from a hold point', osc: '/kite/go [timeline]', needs: [] },
  {
    name: 'drive',
    label: 'Drive a timeline: what names none acts on it',
    osc: '/kite/drive timeline',
    needs: ['timeline'],
  },
  { name: 'jump', label: 'Jump to a time or a cue', osc: '/kite/jump time|cue [timeline] [fade]', needs: ['time'] },
  { name: 'nudge', label: 'Nudge by a time', osc: '/kite/nudge by [timeline]', needs: ['by'] },
  { name: 'rate', label: 'Rate of the timeline, 1 for normal', osc: '/kite/rate rate [timeline]', needs: ['rate'] },
  { name: 'loop', label: 'Loop a range, or none', osc: '/kite/loop [from] [to] [timeline] [here]', needs: [] },
  { name: 'off', label: 'Take the timeline off', osc: '/kite/off [timeline] [fade]', needs: [] },
  {
    name: 'clock',
    label: 'Reading of a clock that timelines follow',
    osc: '/kite/clock source time',
    needs: ['source', 'time'],
  },
  { name: 'fire', label: 'Fire a cue', osc: '/kite/fire cue [fade] [level]', needs: ['cue'] },
  { name: 'release', label: 'Release all cues, or one', osc: '/kite/release [cue] [fade]', needs: [] },
  { name: 'advance', label: 'Go, by its other name', osc: '/kite/advance', needs: [] },
  { name: 'back', label: 'Previous cue of the list', osc: '/kite/back', needs: [] },
  { name: 'pointer', label: 'Make a cue the next of the list', osc: '/kite/pointer cue', needs: ['cue'] },
  { name: 'panic', label: 'Panic: all dark, or light back', osc: '/kite/panic [on] [fade]', needs: [] },
  { name: 'identify', label: 'Name an output on its picture', osc: '/kite/identify output', needs: ['output'] },
  { name: 'power', label: 'Power of projectors: on, or off', osc: '/kite/power [on] [projector]', needs: [] },
  { name: 'shutter', label: 'Shutter of projectors: shut, or open', osc: '/kite/shutter [on] [projector]', needs: [] },
  {
    name: 'freeze',
    label: 'Freeze the picture of projectors, or let it go on',
    osc: '/kite/freeze [on] [projector]',
    needs: [],
  },
  { name: 'input', label: 'Input of projectors, as 31', osc: '/kite/input input [projector]', needs: ['input'] },
] as const;

/** What a binding may be made of. */
export const bindingChoices = {
  meaning: ['value', 'action', 'cue', 'choice'],
  gesture: ['move', 'press', 'release', 'toggle', 'hold', 'double', 'long'],
  shape: ['linear', 'slow', 'fast', 'smooth'],
  takeover: ['jump', 'meet', 'scaled'],
  encoder: ['absolute', 'twos', 'offset', 'sign'],
} as const;

/** Controls of sound, and the band in Hz of those that are measured; null for all that is heard. */
export const soundControls = [
  { name: 'sound:level', label: 'Sound level', measured: true, band: null },
  { name: 'sound:low', label: 'Low, 40 to 250 Hz', measured: true, band: [40, 250] },
  { name: 'sound:mid', label: 'Mid, 250 to 2500 Hz', measured: true, band: [250, 2500] },
  { name: 'sound:high', label: 'High, 2500 to 16000 Hz', measured: true, band: [2500, 16000] },
  { name: 'sound:band1', label: 'Band 1, 40 to 80 Hz', measured: true, band: [40, 80] },
  { name: 'sound:band2', label: 'Band 2, 80 to 160 Hz', measured: true, band: [80, 160] },
  { name: 'sound:band3', label: 'Band 3, 160 to 320 Hz', measured: true, band: [160, 320] },
  { name: 'sound:band4', label: 'Band 4, 320 to 640 Hz', measured: true, band: [320, 640] },
  { name: 'sound:band5', label: 'Band 5, 640 to 1280 Hz', measured: true, band: [640, 1280] },
  { name: 'sound:band6', label: 'Band 6, 1280 to 2560 Hz', measured: true, band: [1280, 2560] },
  { name: 'sound:band7', label: 'Band 7, 2560 to 5120 Hz', measured: true, band: [2560, 5120] },
  { name: 'sound:band8', label: 'Band 8, 5120 to 16000 Hz', measured: true, band: [5120, 16000] },
  { name: 'sound:onset', label: 'Onset', measured: false, band: null },
  { name: 'sound:beat', label: 'Beat', measured: false, band: null },
] as const;

/** What may stand on a touch panel: how many of its controls are bound, and whether those move. */
export const touchItems = [
  { type: 'button', label: 'Button', controls: 1, moves: false },
  { type: 'toggle', label: 'Toggle', controls: 1, moves: false },
  { type: 'fader', label: 'Fader', controls: 1, moves: true },
  { type: 'knob', label: 'Knob', controls: 1, moves: true },
  { type: 'pad', label: 'Two-axis pad', controls: 2, moves: true },
  { type: 'colour', label: 'Colour', controls: 3, moves: true },
  { type: 'cue', label: 'Cue tile', controls: 1, moves: false },
  { type: 'board', label: 'Board page', controls: 0, moves: false },
  { type: 'text', label: 'Text', controls: 0, moves: false },
  { type: 'value', label: 'Live value', controls: 1, moves: true },
  { type: 'timecode', label: 'Timecode', controls: 0, moves: false },
  { type: 'next', label: 'Next cue', controls: 0, moves: false },
  { type: 'picture', label: 'Picture', controls: 0, moves: false },
] as const;

/** The ways in which OSC sets a value, by the word in the address. */
export const valueWays = { value: 'in its unit', fader: '0 to 1 over its range' } as const;
