import { create } from 'zustand';
import { SoundPlayer } from '../sound/player';
import { live, playback } from './state';

/** Whether this window is the one that plays the sound: chosen by a person, one window of a browser at a time. */
export const useSound = create<{ on: boolean; channels: number; timecode: number | null }>(() => ({
  on: false,
  channels: 2,
  timecode: null,
}));

let player: SoundPlayer | null = null;
const others = new BroadcastChannel('kite-sound');
const me = crypto.randomUUID();

export function setSound(on: boolean) {
  if (on === useSound.getState().on) return;
  if (on) {
    player = new SoundPlayer(live, playback);
    others.postMessage(me);
  } else {
    player?.close();
    player = null;
  }
  Object.assign(window, { kiteSound: player });
  useSound.setState({ on, channels: player?.channels ?? 2, timecode: null });
}

/** Plays the timecode of the driven timeline on a channel of the window that has the sound; null for none. */
export function sendTimecode(channel: number | null) {
  player?.sendTimecode(channel);
  useSound.setState({ timecode: channel });
}

others.onmessage = (message) => {
  if (message.data !== me) setSound(false);
};
