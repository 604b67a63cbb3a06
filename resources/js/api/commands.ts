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
  { name: 'fire', label: 'Fire a cue', osc: '/kite/fire cue [fade]', needs: ['cue'] },
  { name: 'release', label: 'Release all cues, or one', osc: '/kite/release [cue] [fade]', needs: [] },
  { name: 'advance', label: 'Go, by its other name', osc: '/kite/advance', needs: [] },
  { name: 'back', label: 'Previous cue of the list', osc: '/kite/back', needs: [] },
  { name: 'pointer', label: 'Make a cue the next of the list', osc: '/kite/pointer cue', needs: ['cue'] },
  { name: 'panic', label: 'Panic: all dark, or light back', osc: '/kite/panic [on] [fade]', needs: [] },
  { name: 'identify', label: 'Name an output on its picture', osc: '/kite/identify output', needs: ['output'] },
  { name: 'power', label: 'Power of projectors: on, or off', osc: '/kite/power [on] [projector]', needs: [] },
  { name: 'shutter', label: 'Shutter of projectors: shut, or open', osc: '/kite/shutter [on] [projector]', needs: [] },
] as const;

/** What a binding may be made of. */
export const bindingChoices = {
  meaning: ['value', 'action', 'cue', 'choice'],
  gesture: ['move', 'press', 'release', 'toggle', 'hold', 'double', 'long'],
  shape: ['linear', 'slow', 'fast', 'smooth'],
  takeover: ['jump', 'meet', 'scaled'],
  encoder: ['absolute', 'twos', 'offset', 'sign'],
} as const;

/** The ways in which OSC sets a value, by the word in the address. */
export const valueWays = { value: 'in its unit', fader: '0 to 1 over its range' } as const;
