/** The values that each kind has, generated from the core. What is shown is the value times its scale. */
export interface Property {
  name: string;
  label: string;
  least: number;
  most: number;
  default: number;
  unit: string;
  scale: number;
  step: number;
  digits: number;
}

export const properties = {
  master: [{ name: 'level', label: 'Master', least: 0, most: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1 }],
  timeline: [{ name: 'level', label: 'Level', least: 0, most: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1 }],
  layer: [
    { name: 'opacity', label: 'Opacity', least: 0, most: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1 },
    { name: 'x', label: 'Position X', least: -65536, most: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2 },
    { name: 'y', label: 'Position Y', least: -65536, most: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2 },
    { name: 'scale', label: 'Scale', least: 0, most: 64, default: 1, unit: '%', scale: 100, step: 1, digits: 1 },
    { name: 'turn', label: 'Turn', least: -36000, most: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2 },
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
