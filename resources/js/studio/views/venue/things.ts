import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { BufferAttribute, BufferGeometry, EdgesGeometry, Matrix4, Vector3 } from 'three';
import { answer, http } from '../../../api/client';
import { useShow } from '../../hooks';
import { useStudio } from '../../store';
import { type PlacedKind, placed } from './placed';

/** A thing that stands in the venue: its row's common fields, where it is, and its triangles if it has some. */
export interface Thing {
  kind: PlacedKind;
  id: string;
  name: string;
  rig: string | null;
  hidden: boolean;
  locked: boolean;
  wall: boolean;
  matrix: Matrix4;
  shape: Shape | null;
  /** By which people tell it from others, #rrggbb; empty for none. */
  colour: string;
}

/** Triangles and lines of a surface or prop, shared by all that have the same key. */
export interface Shape {
  key: string;
  geometry: BufferGeometry;
  /** Positions of line ends: panels of a wall, or where a face ends or breaks. */
  lines: Float32Array;
  uvs: Float32Array | null;
}

export interface Venue {
  things: Thing[];
  byId: Map<string, Thing>;
  frusta: Record<string, number[][]>;
}

const shapes = new Map<string, Shape>();

function shape(
  key: string,
  positions: number[] | Float32Array,
  uvs: number[] | Float32Array | undefined,
  indices: number[] | Uint32Array,
  panels: boolean,
  edges?: number[],
): Shape {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(new Float32Array(positions), 3));
  if (uvs !== undefined) geometry.setAttribute('uv', new BufferAttribute(new Float32Array(uvs), 2));
  const index = Array.isArray(indices) ? indices : new BufferAttribute(indices, 1);
  geometry.setIndex(index);
  geometry.computeBoundingBox();
  geometry.computeBoundingSphere();
  let lines: Float32Array;
  if (panels) {
    lines = new Float32Array((positions.length / 12) * 24);
    for (let quad = 0, at = 0; quad < positions.length / 12; quad++)
      for (let k = 0; k < 4; k++)
        for (const v of [quad * 4 + k, quad * 4 + ((k + 1) % 4)])
          for (let c = 0; c < 3; c++) lines[at++] = positions[3 * v + c] ?? 0;
  } else if (edges !== undefined) {
    lines = new Float32Array(
      edges.flatMap((v) => [positions[3 * v] ?? 0, positions[3 * v + 1] ?? 0, positions[3 * v + 2] ?? 0]),
    );
  } else {
    const whole = new BufferGeometry();
    whole.setAttribute('position', geometry.getAttribute('position'));
    whole.setIndex(index);
    lines =
      indices.length > 300_000
        ? new Float32Array(0)
        : (new EdgesGeometry(whole, 20).getAttribute('position').array as Float32Array);
  }
  return { key, geometry, lines, uvs: uvs === undefined ? null : new Float32Array(uvs) };
}

/** A fine model, fetched as packed numbers: counts, places, UVs, indices. */
async function unpacked(key: string, url: string): Promise<Shape> {
  const answer = await fetch(url);
  if (!answer.ok) return shape(key, [], [], [], false);
  const bytes = await answer.arrayBuffer();
  const [vertices = 0, triangles = 0] = new Uint32Array(bytes, 0, 2);
  return shape(
    key,
    new Float32Array(bytes, 8, 3 * vertices),
    new Float32Array(bytes, 8 + 12 * vertices, 2 * vertices),
    new Uint32Array(bytes, 8 + 20 * vertices, 3 * triangles),
    false,
  );
}

/** All that stands in the venue. Triangles that this window has already are not fetched again. */
export function useVenue(): Venue {
  const id = useStudio((s) => s.showId);
  const show = useShow();
  const stands = useQuery({
    queryKey: ['venue', id],
    queryFn: async () => {
      const found = await answer(
        http.GET('/shows/{show}/meshes', {
          params: { path: { show: id ?? '' }, query: { known: [...shapes.keys()].slice(-200).join(',') } },
        }),
      );
      for (const m of found.meshes)
        if (m.packed !== undefined && !shapes.has(m.key)) shapes.set(m.key, await unpacked(m.key, m.packed));
      return found;
    },
    enabled: id !== null,
    placeholderData: (old) => old,
  }).data;
  return useMemo(() => {
    const things: Thing[] = [];
    if (stands === undefined || show === undefined) return { things, byId: new Map(), frusta: {} };
    const walls = new Set(show.rows.surface.filter((s) => s.kind === 'wall').map((s) => s.id));
    const places = new Map<string, { matrix: number[]; key?: string }>(
      Object.entries(stands.places).map(([thing, matrix]) => [thing, { matrix }]),
    );
    for (const m of stands.meshes) {
      if (m.positions !== undefined)
        shapes.set(m.key, shape(m.key, m.positions ?? [], m.uvs, m.indices ?? [], walls.has(m.surface), m.edges));
      places.set(m.surface, m);
    }
    for (const m of stands.props) {
      if (m.positions !== undefined)
        shapes.set(m.key, shape(m.key, m.positions ?? [], undefined, m.indices ?? [], false));
      places.set(m.prop, m);
    }
    for (const kind of placed) {
      for (const row of show.rows[kind]) {
        const place = places.get(row.id);
        if (place === undefined) continue;
        things.push({
          kind,
          id: row.id,
          name: row.name,
          rig: row.rig,
          hidden: row.hidden,
          locked: row.locked,
          wall: walls.has(row.id),
          matrix: new Matrix4().fromArray(place.matrix),
          shape: (place.key && shapes.get(place.key)) || null,
          colour: 'colour' in row ? row.colour : '',
        });
      }
    }
    return { things, byId: new Map(things.map((t) => [t.id, t])), frusta: stands.frusta };
  }, [stands, show]);
}

/** Corners and middle of a thing's box in the venue; things without triangles have only their place. */
export function corners(thing: Thing): Vector3[] {
  const box = thing.shape?.geometry.boundingBox;
  if (!box || box.isEmpty()) return [new Vector3().setFromMatrixPosition(thing.matrix)];
  const out: Vector3[] = [];
  for (let i = 0; i < 8; i++)
    out.push(
      new Vector3(
        i & 1 ? box.max.x : box.min.x,
        i & 2 ? box.max.y : box.min.y,
        i & 4 ? box.max.z : box.min.z,
      ).applyMatrix4(thing.matrix),
    );
  return out;
}

export const middle = (points: Vector3[]) =>
  points.reduce((a, b) => a.add(b), new Vector3()).multiplyScalar(1 / Math.max(1, points.length));

/** A thing and all that rides on it. */
export function withRiders(venue: Venue, ids: Iterable<string>): Set<string> {
  const all = new Set(ids);
  for (let grew = true; grew; ) {
    grew = false;
    for (const t of venue.things)
      if (t.rig !== null && all.has(t.rig) && !all.has(t.id)) {
        all.add(t.id);
        grew = true;
      }
  }
  return all;
}
