import type { ProjectorHealth } from '../live/messages';

const POWER: Record<string, string> = { off: 'Off', on: 'On', cooling: 'Cooling down', warming: 'Warming up' };

/** How a projector is, by PJLink, in words. */
export function projectorState(state: ProjectorHealth | undefined): {
  sign: 'ok' | 'attention' | 'fault';
  words: string;
} {
  if (state === undefined) return { sign: 'attention', words: 'not asked yet: it acts for the show on air' };
  if (state.trouble !== '') return { sign: 'fault', words: state.trouble };
  const errors = Object.entries(state.errors).map(([part, how]) => `${part} ${how}`);
  const words = [
    POWER[state.power ?? ''] ?? 'power unknown',
    ...(state.power === 'on' ? [state.shut === true ? 'shutter shut' : 'shutter open'] : []),
    ...(state.frozen === true ? ['picture frozen'] : []),
    ...(state.power === 'on' && state.input !== null ? [`input ${state.inputs[state.input] ?? state.input}`] : []),
    ...(state.hours.length > 0 ? [`lamp ${state.hours.map((h) => h.toLocaleString('en')).join(', ')} h`] : []),
    ...errors,
  ].join(', ');
  return {
    sign: errors.some((e) => e.endsWith('error'))
      ? 'fault'
      : errors.length > 0 || state.power !== 'on'
        ? 'attention'
        : 'ok',
    words,
  };
}
