/** All colours of Kite Lamp. Nothing else names a colour. */
export const dusk = {
  ink9: '#15131b',
  ink8: '#1d1a25',
  ink7: '#272331',
  ink6: '#353042',
  line: '#494159',
  text: '#f1ecf4',
  dim: '#aaa1b8',
  lamp: '#ffb86b',
  kite: '#b9a7ff',
  loose: '#62d4c9',
  sage: '#8fd6a6',
  straw: '#ecd57a',
  fault: '#ff6b6b',
  onKite: '#15131b',
  kiteWash: '#b9a7ff2e',
  lampWash: '#ffb86b33',
  ramp0: '#2c2152',
  ramp1: '#4c55a6',
  ramp2: '#3f94b4',
  ramp3: '#86c99c',
  ramp4: '#f2e8a8',
} as const;

export const paper: Record<keyof typeof dusk, string> = {
  ink9: '#f6f2ea',
  ink8: '#fffdf8',
  ink7: '#ece6da',
  ink6: '#dfd7c8',
  line: '#b3a894',
  text: '#231f2b',
  dim: '#5c5566',
  lamp: '#9c5300',
  kite: '#5a3fc0',
  loose: '#00716a',
  sage: '#1d6b38',
  straw: '#735800',
  fault: '#b3202a',
  onKite: '#ffffff',
  kiteWash: '#5a3fc022',
  lampWash: '#9c530022',
  ramp0: '#2c2152',
  ramp1: '#4c55a6',
  ramp2: '#3f94b4',
  ramp3: '#86c99c',
  ramp4: '#f2e8a8',
};

export type Token = keyof typeof dusk;

export const cssVariables = (tokens: Record<Token, string>) =>
  Object.fromEntries(Object.entries(tokens).map(([name, value]) => [`--kl-${name}`, value]));

/** Colours that are offered for groups, one after another. */
export const groupColours = ['#c9822b', '#3f8f86', '#8a6fc2', '#b8575f', '#5f8f3f', '#5b7fb0'] as const;

/** Full light of an output's channels: what is drawn on it to test it, and for marks on it. */
export const signal = {
  white: '#ffffff',
  red: '#ff0000',
  green: '#00ff00',
  blue: '#0000ff',
  black: '#000000',
} as const;

/** A colour that was worked out, each part from 0 to 255, as it is written in styles. */
export const written = (r: number, g: number, b: number) => `rgb(${r} ${g} ${b})`;

/** The colours of a field on which a hue is touched: the wheel from left to right, and what it fades to at the top. */
export const hues = ['#ff0000', '#ffff00', '#00ff00', '#00ffff', '#0000ff', '#ff00ff', '#ff0000'] as const;
export const white = '#ffffff';
