/** The values that each kind has, generated from the core. What is shown is the value times its scale. */
export interface Property {
  name: string;
  label: string;
  type: 'number' | 'colour' | 'switch' | 'choice' | 'reference';
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
  media: [
    { name: 'front', label: 'Front', type: 'colour', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Front red', 'Front green', 'Front blue'] },
    { name: 'back', label: 'Back', type: 'colour', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Back red', 'Back green', 'Back blue'] },
    { name: 'size', label: 'Size', type: 'number', min: 1, max: 65536, default: 64, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Size'] },
    { name: 'angle', label: 'Angle', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Angle'] },
    { name: 'speed', label: 'Speed', type: 'number', min: -20, max: 20, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Speed'] },
    { name: 'density', label: 'Density', type: 'number', min: 0, max: 1, default: 0.5, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Density'] },
    { name: 'softness', label: 'Softness', type: 'number', min: 0, max: 1, default: 0.5, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Softness'] },
    { name: 'seed', label: 'Seed', type: 'number', min: 0, max: 65535, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Seed'] },
    { name: 'from', label: 'Count from', type: 'number', min: 0, max: 5999, default: 60, unit: 's', scale: 1, step: 1, digits: 2, options: [], slots: ['Count from'] },
  ],
  timeline: [{ name: 'level', label: 'Level', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Level'] }],
  layer: [
    { name: 'opacity', label: 'Opacity', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Opacity'] },
    { name: 'x', label: 'Position X', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position X'] },
    { name: 'y', label: 'Position Y', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position Y'] },
    { name: 'scale', label: 'Scale', type: 'number', min: 0, max: 64, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Scale'] },
    { name: 'turn', label: 'Rotation', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Rotation'] },
    { name: 'pivotX', label: 'Pivot X', type: 'number', min: -4, max: 5, default: 0.5, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Pivot X'] },
    { name: 'pivotY', label: 'Pivot Y', type: 'number', min: -4, max: 5, default: 0.5, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Pivot Y'] },
    { name: 'gain', label: 'Gain', type: 'colour', min: 0, max: 4, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Gain red', 'Gain green', 'Gain blue'] },
    { name: 'blend', label: 'Blend mode', type: 'choice', min: 0, max: 5, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['normal', 'add', 'screen', 'multiply', 'lighten', 'darken'], slots: ['Blend mode'] },
    { name: 'mute', label: 'Mute', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Mute'] },
    { name: 'solo', label: 'Solo', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Solo'] },
    { name: 'volume', label: 'Volume', type: 'number', min: 0, max: 4, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Volume'] },
    { name: 'route', label: 'Route over time', type: 'reference', min: 0, max: 35184372088832, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['route'], slots: ['Route over time'] },
    { name: 'source', label: 'Media by hand', type: 'reference', min: 0, max: 35184372088832, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['media'], slots: ['Media by hand'] },
    { name: 'mirror', label: 'Mirror', type: 'choice', min: 0, max: 3, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['none', 'across', 'down', 'both'], slots: ['Mirror'] },
    { name: 'cropLeft', label: 'Crop left', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Crop left'] },
    { name: 'cropRight', label: 'Crop right', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Crop right'] },
    { name: 'cropTop', label: 'Crop top', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Crop top'] },
    { name: 'cropBottom', label: 'Crop bottom', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Crop bottom'] },
    { name: 'tile', label: 'Tile', type: 'choice', min: 0, max: 3, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['none', 'across', 'down', 'both'], slots: ['Tile'] },
  ],
  route: [
    { name: 'x', label: 'Centre X', type: 'number', min: -1000, max: 1000, default: 0, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Centre X'] },
    { name: 'y', label: 'Centre Y', type: 'number', min: -1000, max: 1000, default: 1.7, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Centre Y'] },
    { name: 'z', label: 'Centre Z', type: 'number', min: -1000, max: 1000, default: 0, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Centre Z'] },
    { name: 'yaw', label: 'Yaw', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Yaw'] },
    { name: 'pitch', label: 'Pitch', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Pitch'] },
    { name: 'roll', label: 'Roll', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Roll'] },
    { name: 'arc', label: 'Arc', type: 'number', min: 1, max: 360, default: 360, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Arc'] },
    { name: 'top', label: 'Top', type: 'number', min: -90, max: 90, default: 90, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Top'] },
    { name: 'bottom', label: 'Bottom', type: 'number', min: -90, max: 90, default: -90, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Bottom'] },
    { name: 'feather', label: 'Feather', type: 'number', min: 0, max: 0.5, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather'] },
    { name: 'curve', label: 'Feather curve', type: 'number', min: 0.25, max: 8, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Feather curve'] },
  ],
  share: [
    { name: 'x', label: 'Position X', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position X'] },
    { name: 'y', label: 'Position Y', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position Y'] },
    { name: 'width', label: 'Width', type: 'number', min: 1, max: 65536, default: 1920, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Width'] },
    { name: 'height', label: 'Height', type: 'number', min: 1, max: 65536, default: 1080, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Height'] },
    { name: 'turn', label: 'Rotation', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Rotation'] },
    { name: 'mirror', label: 'Mirror', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Mirror'] },
  ],
  lens: [
    { name: 'x', label: 'X', type: 'number', min: -1000, max: 1000, default: 0, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['X'] },
    { name: 'y', label: 'Y', type: 'number', min: -1000, max: 1000, default: 1.7, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Y'] },
    { name: 'z', label: 'Z', type: 'number', min: -1000, max: 1000, default: 0, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Z'] },
    { name: 'yaw', label: 'Yaw', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Yaw'] },
    { name: 'pitch', label: 'Pitch', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Pitch'] },
    { name: 'roll', label: 'Roll', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Roll'] },
    { name: 'angle', label: 'Field of view', type: 'number', min: 1, max: 170, default: 60, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Field of view'] },
    { name: 'shiftX', label: 'Shift across', type: 'number', min: -2, max: 2, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Shift across'] },
    { name: 'shiftY', label: 'Shift up', type: 'number', min: -2, max: 2, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Shift up'] },
    { name: 'featherLeft', label: 'Feather left', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather left'] },
    { name: 'featherRight', label: 'Feather right', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather right'] },
    { name: 'featherTop', label: 'Feather top', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather top'] },
    { name: 'featherBottom', label: 'Feather bottom', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather bottom'] },
    { name: 'curve', label: 'Feather curve', type: 'number', min: 0.25, max: 8, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Feather curve'] },
    { name: 'k1', label: 'Distortion k1', type: 'number', min: -2, max: 2, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion k1'] },
    { name: 'k2', label: 'Distortion k2', type: 'number', min: -2, max: 2, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion k2'] },
    { name: 'k3', label: 'Distortion k3', type: 'number', min: -2, max: 2, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion k3'] },
    { name: 'p1', label: 'Distortion p1', type: 'number', min: -1, max: 1, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion p1'] },
    { name: 'p2', label: 'Distortion p2', type: 'number', min: -1, max: 1, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion p2'] },
    { name: 'occlusion', label: 'Occlusion', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Occlusion'] },
    { name: 'warpTopLeftX', label: 'Warp top left X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top left X'] },
    { name: 'warpTopLeftY', label: 'Warp top left Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top left Y'] },
    { name: 'warpTopX', label: 'Warp top X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top X'] },
    { name: 'warpTopY', label: 'Warp top Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top Y'] },
    { name: 'warpTopRightX', label: 'Warp top right X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top right X'] },
    { name: 'warpTopRightY', label: 'Warp top right Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top right Y'] },
    { name: 'warpLeftX', label: 'Warp left X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp left X'] },
    { name: 'warpLeftY', label: 'Warp left Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp left Y'] },
    { name: 'warpMiddleX', label: 'Warp middle X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp middle X'] },
    { name: 'warpMiddleY', label: 'Warp middle Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp middle Y'] },
    { name: 'warpRightX', label: 'Warp right X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp right X'] },
    { name: 'warpRightY', label: 'Warp right Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp right Y'] },
    { name: 'warpBottomLeftX', label: 'Warp bottom left X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom left X'] },
    { name: 'warpBottomLeftY', label: 'Warp bottom left Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom left Y'] },
    { name: 'warpBottomX', label: 'Warp bottom X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom X'] },
    { name: 'warpBottomY', label: 'Warp bottom Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom Y'] },
    { name: 'warpBottomRightX', label: 'Warp bottom right X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom right X'] },
    { name: 'warpBottomRightY', label: 'Warp bottom right Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom right Y'] },
  ],
  patch: [
    { name: 'level', label: 'Level', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Level'] },
    { name: 'whiteShare', label: 'White share', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['White share'] },
  ],
} satisfies Record<string, Property[]>;

/** The values that each pattern is made of. */
export const patternValues: Record<string, readonly string[]> = {
  grid: ['front', 'back', 'size'],
  checker: ['front', 'back', 'size'],
  bars: [],
  ramp: [],
  gradient: ['front', 'back', 'angle', 'speed'],
  noise: ['front', 'back', 'size', 'speed', 'seed'],
  sweep: ['front', 'back', 'size', 'angle', 'speed'],
  flash: ['front', 'back', 'speed'],
  particles: ['front', 'back', 'size', 'angle', 'speed', 'density', 'softness', 'seed'],
  lines: ['front', 'back', 'size', 'angle', 'speed', 'density', 'softness'],
  waves: ['front', 'back', 'size', 'angle', 'speed', 'density'],
  shapes: ['front', 'back', 'size', 'speed', 'density', 'softness', 'seed'],
  blocks: ['front', 'back', 'size'],
  text: ['front', 'back', 'size'],
  countdown: ['front', 'back', 'size', 'speed', 'from'],
};

/** The dots of the signs 0 to 9 and the colon: the upper six rows of five, and the last. */
export const signs: readonly (readonly [number, number])[] = [
  [488232753, 14],
  [146935940, 14],
  [487627024, 31],
  [1007728673, 30],
  [73747426, 2],
  [1057948721, 14],
  [210270769, 14],
  [1041305864, 8],
  [488159793, 14],
  [488160290, 12],
  [12976524, 0],
];

/** The view in which rows of a kind are worked on. */
export const viewOf = {
  panel: 'venue',
  fixture: 'venue',
  surface: 'venue',
  media: 'media',
  timeline: 'timeline',
  layer: 'timeline',
  route: 'routes',
  share: 'routes',
  lens: 'routes',
  clip: 'timeline',
  curve: 'timeline',
  marker: 'timeline',
  group: 'cues',
  page: 'cues',
  cue: 'cues',
  server: 'outputs',
  output: 'outputs',
  feed: 'outputs',
  region: 'outputs',
  mask: 'outputs',
  rig: 'venue',
  projector: 'venue',
  camera: 'venue',
  point: 'outputs',
  node: 'outputs',
  patch: 'outputs',
  personality: 'bindings',
  control: 'bindings',
  prop: 'venue',
  seat: 'venue',
  variant: 'venue',
} as const;

/** Protocols of the lighting network as people call them. */
export const protocols: Record<string, string> = { artnet: 'Art-Net', sacn: 'sACN', ddp: 'DDP' };
