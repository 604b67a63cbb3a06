import { useQuery } from '@tanstack/react-query';
import { create } from 'zustand';
import { bytes, type Schemas } from '../../../api/client';
import { useShow } from '../../hooks';
import { useStudio } from '../../store';
import type { HeatMap } from './state';

export type FaceLight = Omit<Schemas['FaceLight'], 'maps'> & { maps: Record<HeatMap, Float32Array> };
export type Light = Omit<Schemas['Light'], 'faces'> & { faces: FaceLight[] };

/** A report as it comes packed (`core/Light/LightPack.php`). */
export function unpack(bytes: ArrayBuffer): Light {
  const length = new DataView(bytes).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, 4, length)));
  for (const face of header.faces) {
    face.maps = Object.fromEntries(
      Object.entries(face.maps as Record<string, number>).map(([name, at]) => [
        name,
        new Float32Array(bytes, 4 + length + at, face.columns * face.rows),
      ]),
    );
  }
  return header;
}

/** Where the projectors' light goes, as the core casts it, for the venue as it stands. */
export function useLight(wanted: boolean) {
  const id = useStudio((s) => s.showId);
  const show = useShow();
  return useQuery({
    queryKey: ['light', id, show?.revision],
    queryFn: async () => unpack(await bytes(`shows/${id}/light.bin`)),
    enabled: wanted && id !== null && show !== undefined,
    placeholderData: (old) => old,
    retry: 0,
  });
}

/** The least and the greatest value of a map over all faces, where there is light. */
export function spread(light: Light, map: HeatMap): [number, number] {
  let [min, max] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const face of light.faces)
    face.maps[map].forEach((v, i) => {
      if (v >= 0 && (face.maps.count[i] ?? 0) > 0) {
        min = Math.min(min, v);
        max = Math.max(max, v);
      }
    });
  if (map === 'count') min = 0;
  return Number.isFinite(max) ? [min, max] : [0, 1];
}

interface Under {
  face: FaceLight;
  u: number;
  v: number;
}

export const useReading = create<{ under: Under | null }>(() => ({ under: null }));

/** Tells what is under the cursor. */
export const reading = (under: Under | null) => useReading.setState({ under });

/** The value of a map in the cell under the cursor; null where there is none. */
export function valueAt({ face, u, v }: Under, map: HeatMap): number | null {
  const cell =
    Math.min(face.rows - 1, Math.max(0, Math.floor(v * face.rows))) * face.columns +
    Math.min(face.columns - 1, Math.max(0, Math.floor(u * face.columns)));
  const value = face.maps[map][cell] ?? -1;
  return value < 0 || ((face.maps.count[cell] ?? 0) <= 0 && map !== 'count' && map !== 'lux' && map !== 'nits')
    ? null
    : value;
}
