/** The values that each kind has, generated from the core. What is shown is the value times its scale. */
export interface Property {
  name: string;
  label: string;
  type: 'number' | 'colour' | 'switch' | 'choice';
  min: number;
  max: number;
  default: number;
  unit: string;
  scale: number;
  step: number;
  digits: number;
  /** Of a choice. */
  options: readonly string[];
  /** The label of each number that it is made of. */
  slots: readonly string[];
}

export const properties = {
  master: [{ name: 'level', label: 'Master', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Master'] }],
  timeline: [{ name: 'level', label: 'Level', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Level'] }],
  layer: [
    { name: 'opacity', label: 'Opacity', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Opacity'] },
    { name: 'x', label: 'Position X', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position X'] },
    { name: 'y', label: 'Position Y', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position Y'] },
    { name: 'scale', label: 'Scale', type: 'number', min: 0, max: 64, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Scale'] },
    { name: 'turn', label: 'Rotation', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Rotation'] },
    { name: 'gain', label: 'Gain', type: 'colour', min: 0, max: 4, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Gain red', 'Gain green', 'Gain blue'] },
    { name: 'blend', label: 'Blend mode', type: 'choice', min: 0, max: 3, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['normal', 'add', 'screen', 'multiply'], slots: ['Blend mode'] },
    { name: 'mute', label: 'Mute', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Mute'] },
  ],
} satisfies Record<string, Property[]>;

/** The view in which rows of a kind are worked on. */
export const viewOf = {
  panel: 'venue',
  surface: 'venue',
  media: 'media',
  timeline: 'timeline',
  layer: 'timeline',
  route: 'routes',
  clip: 'timeline',
  curve: 'timeline',
  marker: 'timeline',
  cue: 'timeline',
  output: 'outputs',
  region: 'outputs',
  rig: 'venue',
  projector: 'venue',
  camera: 'venue',
  prop: 'venue',
  seat: 'venue',
  variant: 'venue',
} as const;
