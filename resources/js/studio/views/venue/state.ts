import { create } from 'zustand';
import type { Schemas } from '../../../api/client';

export type Look = 'free' | 'plan' | 'front' | 'side' | `through ${string}`;
export type HeatMap = keyof Schemas['FaceLight']['maps'];

export const heatMaps: Record<HeatMap, { title: string; unit: string; digits: number }> = {
  count: { title: 'Projectors', unit: '', digits: 0 },
  lux: { title: 'Illuminance', unit: 'lx', digits: 1 },
  nits: { title: 'Luminance', unit: 'cd/m²', digits: 1 },
  angle: { title: 'Incidence', unit: '°', digits: 1 },
  across: { title: 'Density across', unit: 'px/m', digits: 1 },
  down: { title: 'Density down', unit: 'px/m', digits: 1 },
  focus: { title: 'Distance over focus', unit: '×', digits: 3 },
};

interface VenueState {
  look: Look;
  /** Counts up each time that the view is to be fitted. */
  fit: number;
  grid: number;
  labels: boolean;
  dimensions: boolean;
  frontOnly: boolean;
  wire: boolean;
  outline: boolean;
  heat: HeatMap | null;
  measuring: boolean;
  sheet: boolean;
  /** Whether a press on a surface asks about its pixel, and a drag moves what is uppermost there. */
  asking: boolean;
  asked: { surface: string; x: number; y: number } | null;
  /** Panels to bring along beyond those that hang, in per cent, on papers. */
  spares: number;
  dialog: null | 'wall' | 'face' | 'light' | 'model' | 'prop' | 'layouts' | 'panels' | 'array' | 'seats';
}

/** How this window looks at the venue; it belongs to nobody else, so it is in no show. */
export const useVenueState = create<VenueState>(() => ({
  look: 'free',
  fit: 0,
  grid: 1,
  labels: false,
  dimensions: false,
  frontOnly: false,
  wire: false,
  outline: true,
  heat: null,
  measuring: false,
  sheet: false,
  asking: false,
  asked: null,
  spares: 5,
  dialog: null,
}));

export const setVenue = useVenueState.setState;
