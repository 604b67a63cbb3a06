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
  /** Whether hands, cues and controls may hold it over its timeline. */
  held: boolean;
}

export const properties = {
  master: [
    { name: 'level', label: 'Master', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Master'], held: true },
  ],
  media: [
    { name: 'front', label: 'Front', type: 'colour', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Front red', 'Front green', 'Front blue'], held: true },
    { name: 'back', label: 'Back', type: 'colour', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Back red', 'Back green', 'Back blue'], held: true },
    { name: 'size', label: 'Size', type: 'number', min: 1, max: 65536, default: 64, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Size'], held: true },
    { name: 'angle', label: 'Angle', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Angle'], held: true },
    { name: 'speed', label: 'Speed', type: 'number', min: -20, max: 20, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Speed'], held: true },
    { name: 'density', label: 'Density', type: 'number', min: 0, max: 1, default: 0.5, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Density'], held: true },
    { name: 'softness', label: 'Softness', type: 'number', min: 0, max: 1, default: 0.5, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Softness'], held: true },
    { name: 'seed', label: 'Seed', type: 'number', min: 0, max: 65535, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Seed'], held: true },
    { name: 'from', label: 'Count from', type: 'number', min: 0, max: 5999, default: 60, unit: 's', scale: 1, step: 1, digits: 2, options: [], slots: ['Count from'], held: true },
  ],
  timeline: [
    { name: 'level', label: 'Level', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Level'], held: true },
  ],
  layer: [
    { name: 'opacity', label: 'Opacity', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Opacity'], held: true },
    { name: 'x', label: 'Position X', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position X'], held: true },
    { name: 'y', label: 'Position Y', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position Y'], held: true },
    { name: 'scale', label: 'Scale', type: 'number', min: 0, max: 64, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Scale'], held: true },
    { name: 'turn', label: 'Rotation', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Rotation'], held: true },
    { name: 'pivotX', label: 'Pivot X', type: 'number', min: -4, max: 5, default: 0.5, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Pivot X'], held: true },
    { name: 'pivotY', label: 'Pivot Y', type: 'number', min: -4, max: 5, default: 0.5, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Pivot Y'], held: true },
    { name: 'gain', label: 'Gain', type: 'colour', min: 0, max: 4, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Gain red', 'Gain green', 'Gain blue'], held: true },
    { name: 'blend', label: 'Blend mode', type: 'choice', min: 0, max: 5, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['normal', 'add', 'screen', 'multiply', 'lighten', 'darken'], slots: ['Blend mode'], held: true },
    { name: 'mute', label: 'Mute', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Mute'], held: true },
    { name: 'solo', label: 'Solo', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Solo'], held: true },
    { name: 'volume', label: 'Volume', type: 'number', min: 0, max: 4, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Volume'], held: true },
    { name: 'route', label: 'Route over time', type: 'reference', min: 0, max: 35184372088832, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['route'], slots: ['Route over time'], held: true },
    { name: 'source', label: 'Manual media', type: 'reference', min: 0, max: 35184372088832, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['media'], slots: ['Manual media'], held: true },
    { name: 'mirror', label: 'Mirror', type: 'choice', min: 0, max: 3, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['none', 'across', 'down', 'both'], slots: ['Mirror'], held: true },
    { name: 'cropLeft', label: 'Crop left', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Crop left'], held: true },
    { name: 'cropRight', label: 'Crop right', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Crop right'], held: true },
    { name: 'cropTop', label: 'Crop top', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Crop top'], held: true },
    { name: 'cropBottom', label: 'Crop bottom', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Crop bottom'], held: true },
    { name: 'tile', label: 'Tile', type: 'choice', min: 0, max: 3, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['none', 'across', 'down', 'both'], slots: ['Tile'], held: true },
    { name: 'speed', label: 'Speed', type: 'number', min: -4, max: 4, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Speed'], held: false },
    { name: 'invert', label: 'Invert', type: 'colour', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Invert red', 'Invert green', 'Invert blue'], held: true },
    { name: 'opaque', label: 'Opaque', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Opaque'], held: true },
    { name: 'mask', label: 'Mask', type: 'reference', min: 0, max: 35184372088832, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['media'], slots: ['Mask'], held: true },
    { name: 'maskKey', label: 'Mask key', type: 'choice', min: 0, max: 2, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['lightness', 'alpha', 'colour'], slots: ['Mask key'], held: true },
    { name: 'maskInverted', label: 'Mask inverted', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Mask inverted'], held: true },
    { name: 'maskWidth', label: 'Key width', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Key width'], held: true },
    { name: 'maskColour', label: 'Key colour', type: 'colour', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Key colour red', 'Key colour green', 'Key colour blue'], held: true },
    { name: 'maskX', label: 'Mask X', type: 'number', min: -4, max: 4, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Mask X'], held: true },
    { name: 'maskY', label: 'Mask Y', type: 'number', min: -4, max: 4, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Mask Y'], held: true },
    { name: 'maskScale', label: 'Mask scale', type: 'number', min: 0, max: 64, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Mask scale'], held: true },
    { name: 'maskFeather', label: 'Mask feather', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Mask feather'], held: true },
  ],
  route: [
    { name: 'x', label: 'Centre X', type: 'number', min: -1000, max: 1000, default: 0, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Centre X'], held: true },
    { name: 'y', label: 'Centre Y', type: 'number', min: -1000, max: 1000, default: 1.7, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Centre Y'], held: true },
    { name: 'z', label: 'Centre Z', type: 'number', min: -1000, max: 1000, default: 0, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Centre Z'], held: true },
    { name: 'yaw', label: 'Yaw', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Yaw'], held: true },
    { name: 'pitch', label: 'Pitch', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Pitch'], held: true },
    { name: 'roll', label: 'Roll', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Roll'], held: true },
    { name: 'arc', label: 'Arc', type: 'number', min: 1, max: 360, default: 360, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Arc'], held: true },
    { name: 'top', label: 'Top', type: 'number', min: -90, max: 90, default: 90, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Top'], held: true },
    { name: 'bottom', label: 'Bottom', type: 'number', min: -90, max: 90, default: -90, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Bottom'], held: true },
    { name: 'feather', label: 'Feather', type: 'number', min: 0, max: 0.5, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather'], held: true },
    { name: 'curve', label: 'Feather curve', type: 'number', min: 0.25, max: 8, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Feather curve'], held: true },
  ],
  share: [
    { name: 'x', label: 'Position X', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position X'], held: true },
    { name: 'y', label: 'Position Y', type: 'number', min: -65536, max: 65536, default: 0, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Position Y'], held: true },
    { name: 'width', label: 'Width', type: 'number', min: 1, max: 65536, default: 1920, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Width'], held: true },
    { name: 'height', label: 'Height', type: 'number', min: 1, max: 65536, default: 1080, unit: 'px', scale: 1, step: 1, digits: 2, options: [], slots: ['Height'], held: true },
    { name: 'turn', label: 'Rotation', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Rotation'], held: true },
    { name: 'mirror', label: 'Mirror', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Mirror'], held: true },
  ],
  lens: [
    { name: 'x', label: 'X', type: 'number', min: -1000, max: 1000, default: 0, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['X'], held: true },
    { name: 'y', label: 'Y', type: 'number', min: -1000, max: 1000, default: 1.7, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Y'], held: true },
    { name: 'z', label: 'Z', type: 'number', min: -1000, max: 1000, default: 0, unit: 'm', scale: 1, step: 1, digits: 3, options: [], slots: ['Z'], held: true },
    { name: 'yaw', label: 'Yaw', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Yaw'], held: true },
    { name: 'pitch', label: 'Pitch', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Pitch'], held: true },
    { name: 'roll', label: 'Roll', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Roll'], held: true },
    { name: 'angle', label: 'Field of view', type: 'number', min: 1, max: 170, default: 60, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Field of view'], held: true },
    { name: 'shiftX', label: 'Shift across', type: 'number', min: -2, max: 2, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Shift across'], held: true },
    { name: 'shiftY', label: 'Shift up', type: 'number', min: -2, max: 2, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Shift up'], held: true },
    { name: 'featherLeft', label: 'Feather left', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather left'], held: true },
    { name: 'featherRight', label: 'Feather right', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather right'], held: true },
    { name: 'featherTop', label: 'Feather top', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather top'], held: true },
    { name: 'featherBottom', label: 'Feather bottom', type: 'number', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Feather bottom'], held: true },
    { name: 'curve', label: 'Feather curve', type: 'number', min: 0.25, max: 8, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Feather curve'], held: true },
    { name: 'k1', label: 'Distortion k1', type: 'number', min: -2, max: 2, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion k1'], held: true },
    { name: 'k2', label: 'Distortion k2', type: 'number', min: -2, max: 2, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion k2'], held: true },
    { name: 'k3', label: 'Distortion k3', type: 'number', min: -2, max: 2, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion k3'], held: true },
    { name: 'p1', label: 'Distortion p1', type: 'number', min: -1, max: 1, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion p1'], held: true },
    { name: 'p2', label: 'Distortion p2', type: 'number', min: -1, max: 1, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Distortion p2'], held: true },
    { name: 'occlusion', label: 'Occlusion', type: 'switch', min: 0, max: 1, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Occlusion'], held: true },
    { name: 'warpTopLeftX', label: 'Warp top left X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top left X'], held: true },
    { name: 'warpTopLeftY', label: 'Warp top left Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top left Y'], held: true },
    { name: 'warpTopX', label: 'Warp top X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top X'], held: true },
    { name: 'warpTopY', label: 'Warp top Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top Y'], held: true },
    { name: 'warpTopRightX', label: 'Warp top right X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top right X'], held: true },
    { name: 'warpTopRightY', label: 'Warp top right Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp top right Y'], held: true },
    { name: 'warpLeftX', label: 'Warp left X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp left X'], held: true },
    { name: 'warpLeftY', label: 'Warp left Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp left Y'], held: true },
    { name: 'warpMiddleX', label: 'Warp middle X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp middle X'], held: true },
    { name: 'warpMiddleY', label: 'Warp middle Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp middle Y'], held: true },
    { name: 'warpRightX', label: 'Warp right X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp right X'], held: true },
    { name: 'warpRightY', label: 'Warp right Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp right Y'], held: true },
    { name: 'warpBottomLeftX', label: 'Warp bottom left X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom left X'], held: true },
    { name: 'warpBottomLeftY', label: 'Warp bottom left Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom left Y'], held: true },
    { name: 'warpBottomX', label: 'Warp bottom X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom X'], held: true },
    { name: 'warpBottomY', label: 'Warp bottom Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom Y'], held: true },
    { name: 'warpBottomRightX', label: 'Warp bottom right X', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom right X'], held: true },
    { name: 'warpBottomRightY', label: 'Warp bottom right Y', type: 'number', min: -0.25, max: 0.25, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Warp bottom right Y'], held: true },
  ],
  effect: [
    { name: 'effect', label: 'Effect', type: 'choice', min: 0, max: 21, default: 0, unit: '', scale: 1, step: 1, digits: 0, options: ['none', 'blur', 'sharpen', 'mosaic', 'hue', 'saturation', 'levels', 'posterize', 'threshold', 'tint', 'edges', 'kaleidoscope', 'swirl', 'bulge', 'wave', 'fringe', 'vignette', 'grain', 'scroll', 'strobe', 'halftone', 'fold'], slots: ['Effect'], held: true },
    { name: 'on', label: 'On', type: 'switch', min: 0, max: 1, default: 1, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['On'], held: true },
    { name: 'mix', label: 'Mix', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Mix'], held: true },
    { name: 'radius', label: 'Radius', type: 'number', min: 0, max: 1, default: 0.01, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Radius'], held: true },
    { name: 'size', label: 'Size', type: 'number', min: 0, max: 1, default: 0.05, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Size'], held: true },
    { name: 'angle', label: 'Angle', type: 'number', min: -36000, max: 36000, default: 0, unit: 'deg', scale: 1, step: 1, digits: 2, options: [], slots: ['Angle'], held: true },
    { name: 'strength', label: 'Strength', type: 'number', min: -4, max: 4, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Strength'], held: true },
    { name: 'saturation', label: 'Saturation', type: 'number', min: 0, max: 4, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Saturation'], held: true },
    { name: 'contrast', label: 'Contrast', type: 'number', min: 0, max: 4, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Contrast'], held: true },
    { name: 'brightness', label: 'Brightness', type: 'number', min: -1, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Brightness'], held: true },
    { name: 'gamma', label: 'Gamma', type: 'number', min: 0.1, max: 10, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Gamma'], held: true },
    { name: 'steps', label: 'Steps', type: 'number', min: 2, max: 64, default: 4, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Steps'], held: true },
    { name: 'segments', label: 'Segments', type: 'number', min: 1, max: 32, default: 6, unit: '', scale: 1, step: 1, digits: 0, options: [], slots: ['Segments'], held: true },
    { name: 'level', label: 'Level', type: 'number', min: 0, max: 1, default: 0.5, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Level'], held: true },
    { name: 'softness', label: 'Softness', type: 'number', min: 0, max: 1, default: 0.1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Softness'], held: true },
    { name: 'x', label: 'Centre X', type: 'number', min: -1, max: 2, default: 0.5, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Centre X'], held: true },
    { name: 'y', label: 'Centre Y', type: 'number', min: -1, max: 2, default: 0.5, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Centre Y'], held: true },
    { name: 'extent', label: 'Extent', type: 'number', min: 0, max: 4, default: 0.5, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Extent'], held: true },
    { name: 'amplitude', label: 'Amplitude', type: 'number', min: 0, max: 1, default: 0.02, unit: '%', scale: 100, step: 1, digits: 2, options: [], slots: ['Amplitude'], held: true },
    { name: 'speed', label: 'Speed', type: 'number', min: -60, max: 60, default: 0, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Speed'], held: true },
    { name: 'front', label: 'Front', type: 'colour', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Front red', 'Front green', 'Front blue'], held: true },
    { name: 'back', label: 'Back', type: 'colour', min: 0, max: 1, default: 0, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Back red', 'Back green', 'Back blue'], held: true },
    { name: 'seed', label: 'Seed', type: 'number', min: 0, max: 65535, default: 1, unit: '', scale: 1, step: 0.01, digits: 4, options: [], slots: ['Seed'], held: true },
  ],
  patch: [
    { name: 'level', label: 'Level', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['Level'], held: true },
    { name: 'whiteShare', label: 'White share', type: 'number', min: 0, max: 1, default: 1, unit: '%', scale: 100, step: 1, digits: 1, options: [], slots: ['White share'], held: true },
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

/** The effects in the order of their numbers, from 1: what each is made of, and settings to begin with. */
export const effects: Record<string, { values: readonly string[]; presets: Record<string, Record<string, number | number[]>> }> = {
  blur: { values: ['radius'], presets: { Soft: { radius: 0.01 }, Wide: { radius: 0.08 } } },
  sharpen: { values: ['strength', 'radius'], presets: { Crisp: { strength: 1, radius: 0.002 }, Halo: { strength: 1.5, radius: 0.02 } } },
  mosaic: { values: ['size'], presets: { Fine: { size: 0.02 }, Coarse: { size: 0.1 } } },
  hue: { values: ['angle'], presets: { Third: { angle: 120 }, Opposite: { angle: 180 } } },
  saturation: { values: ['saturation'], presets: { Grey: { saturation: 0 }, Rich: { saturation: 1.6 } } },
  levels: { values: ['contrast', 'brightness', 'gamma'], presets: { Hard: { contrast: 1.6, brightness: 0, gamma: 1 }, Faded: { contrast: 0.6, brightness: 0.1, gamma: 1.2 }, Dim: { contrast: 1, brightness: 0, gamma: 0.6 } } },
  posterize: { values: ['steps'], presets: { Four: { steps: 4 }, Two: { steps: 2 } } },
  threshold: { values: ['level', 'softness', 'front', 'back'], presets: { Middle: { level: 0.5, softness: 0.02, front: [1,1,1], back: [0,0,0] }, Soft: { level: 0.5, softness: 0.4, front: [1,1,1], back: [0,0,0] } } },
  tint: { values: ['front', 'back'], presets: { Amber: { front: [1,0.85,0.6], back: [0.1,0.03,0] }, Moonlight: { front: [0.8,0.9,1], back: [0,0.04,0.15] } } },
  edges: { values: ['strength', 'radius', 'front', 'back'], presets: { Fine: { strength: 2, radius: 0.001, front: [1,1,1], back: [0,0,0] }, Broad: { strength: 1.5, radius: 0.006, front: [1,1,1], back: [0,0,0] } } },
  kaleidoscope: { values: ['segments', 'angle', 'x', 'y'], presets: { Six: { segments: 6, angle: 0, x: 0.5, y: 0.5 }, Three: { segments: 3, angle: 30, x: 0.5, y: 0.5 } } },
  swirl: { values: ['strength', 'extent', 'x', 'y'], presets: { 'Half turn': { strength: 0.5, extent: 0.4, x: 0.5, y: 0.5 }, Whirl: { strength: 2, extent: 0.6, x: 0.5, y: 0.5 } } },
  bulge: { values: ['strength', 'extent', 'x', 'y'], presets: { Out: { strength: 0.6, extent: 0.4, x: 0.5, y: 0.5 }, In: { strength: -0.8, extent: 0.4, x: 0.5, y: 0.5 } } },
  wave: { values: ['amplitude', 'size', 'angle', 'speed'], presets: { Water: { amplitude: 0.01, size: 0.15, angle: 90, speed: 0.5 }, Flag: { amplitude: 0.03, size: 0.5, angle: 0, speed: 0.4 } } },
  fringe: { values: ['amplitude', 'angle'], presets: { Slight: { amplitude: 0.004, angle: 0 }, Broken: { amplitude: 0.03, angle: 20 } } },
  vignette: { values: ['extent', 'softness', 'x', 'y'], presets: { Oval: { extent: 0.5, softness: 0.4, x: 0.5, y: 0.5 }, Spot: { extent: 0.2, softness: 0.2, x: 0.5, y: 0.5 } } },
  grain: { values: ['strength', 'size', 'speed', 'seed'], presets: { Film: { strength: 0.25, size: 0.002, speed: 24, seed: 1 }, Coarse: { strength: 0.8, size: 0.01, speed: 12, seed: 1 } } },
  scroll: { values: ['speed', 'angle'], presets: { Right: { speed: 0.1, angle: 0 }, Up: { speed: 0.1, angle: -90 } } },
  strobe: { values: ['speed', 'level'], presets: { Slow: { speed: 2, level: 0.5 }, Short: { speed: 2, level: 0.1 } } },
  halftone: { values: ['size', 'angle', 'softness'], presets: { Dots: { size: 0.02, angle: 45, softness: 0.1 }, Large: { size: 0.06, angle: 30, softness: 0.1 } } },
  fold: { values: ['angle', 'x', 'y'], presets: { Left: { angle: 0, x: 0.5, y: 0.5 }, Top: { angle: 90, x: 0.5, y: 0.5 } } },
};

/** Effects of one layer or clip. */
export const MOST_EFFECTS = 64;

/** The dots of the signs 0 to 9 and the colon: the upper six rows of five, and the last. */
export const signs: readonly (readonly [number, number])[] = [[488232753, 14], [146935940, 14], [487627024, 31], [1007728673, 30], [73747426, 2], [1057948721, 14], [210270769, 14], [1041305864, 8], [488159793, 14], [488160290, 12], [12976524, 0]];

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
  effect: 'timeline',
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

/** Parts of personalities to begin with. */
export const presets: Record<string, string> = { Small: 'intensity, folder, index, red, green, blue', Standard: 'intensity 16, folder, index, x 16, y 16, scale 16, turn 16, red, green, blue, blend', Effects: 'intensity 16, folder, index, effect, effect mix, 4 effect value, effect, effect mix, 4 effect value', Full: 'intensity 16, folder, index, x 16, y 16, scale 16, turn 16, red 16, green 16, blue 16, blend, mirror, tile, crop left 16, crop right 16, crop top 16, crop bottom 16, volume, mute, invert, opaque, transport, in 16, out 16, speed 16, crossfade, mask folder, mask media, mask key, mask inverted, key width, mask x 16, mask y 16, mask scale 16, mask feather' };
