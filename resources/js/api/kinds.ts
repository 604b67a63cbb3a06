/** The values that each kind has, generated from the core. What is shown is the value times its scale. */
export interface Property {
  name: string;
  label: string;
  min: number;
  max: number;
  default: number;
  unit: string;
  scale: number;
  step: number;
  digits: number;
}

export const properties = {
  master: [{ name: 'level', label: 'Master', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1 }],
  timeline: [{ name: 'level', label: 'Level', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1 }],
  layer: [
    { name: 'opacity', label: 'Opacity', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1 },
    { name: 'x', label: 'Position X', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2 },
    { name: 'y', label: 'Position Y', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2 },
    { name: 'scale', label: 'Scale', min: 0, max: 64, default: 1, unit: '%', scale: 100, step: 1, digits: 1 },
    { name: 'turn', label: 'Rotation', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2 },
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
