import { Grid, OrbitControls } from '@react-three/drei';
import { Canvas, type ThreeEvent, useFrame, useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef, useState } from 'react';
import {
  BackSide,
  Box3,
  BufferAttribute,
  BufferGeometry,
  type Color,
  DataTexture,
  DoubleSide,
  ExternalTexture,
  FrontSide,
  Matrix4,
  MOUSE,
  NearestFilter,
  OrthographicCamera,
  PerspectiveCamera,
  Raycaster,
  SRGBColorSpace,
  Color as ThreeColor,
  Vector2,
  Vector3,
} from 'three';
import type { OrbitControls as Controls } from 'three-stdlib';
import type { Schemas } from '../../../api/client';
import { follow } from '../../drag';
import { panned } from '../../hand';
import { useShow } from '../../hooks';
import { stage } from '../../stage/stage';
import { arrange, choose, get, select, toggle, useStudio } from '../../store';
import { ContentDrag } from './content';
import { Handles } from './Handles';
import { type FaceLight, type Light, reading, spread } from './light';
import { Overlay, overlay } from './Overlay';
import { useVenueState } from './state';
import { corners, type Thing, useVenue, type Venue, withRiders } from './things';

export interface Tokens {
  ink9: string;
  ink7: string;
  ink6: string;
  line: string;
  text: string;
  dim: string;
  kite: string;
  straw: string;
  sage: string;
  loose: string;
  ramp: string[];
}

const SIDE = 1024;

/** The venue in three dimensions: surfaces lit with what is playing, and everything else that stands there. */
export function Scene({ colours, light }: { colours: Tokens; light: Light | undefined }) {
  const venue = useVenue();
  const look = useVenueState((s) => s.look);
  const grid = useVenueState((s) => s.grid);
  const through = look.startsWith('through ');
  const flat = look === 'plan' || look === 'front' || look === 'side';
  const host = useRef<HTMLDivElement>(null);
  return (
    <div className="canvas-area" ref={host} data-look={look}>
      <Canvas
        key={flat ? 'flat' : 'deep'}
        frameloop="demand"
        dpr={1}
        orthographic={flat}
        gl={{ antialias: true, powerPreference: 'high-performance' }}
        camera={
          flat
            ? { position: [0, 0, 200], near: 0.1, far: 2000, zoom: 40 }
            : { position: [0, 3, 12], fov: 40, near: 0.05, far: 2000 }
        }
        role="img"
        aria-label="Venue in 3D"
      >
        <color attach="background" args={[colours.ink9]} />
        {look !== 'front' && look !== 'side' && (
          <Grid
            args={[200, 200]}
            infiniteGrid
            cellSize={grid}
            sectionSize={grid * 5}
            cellThickness={0.6}
            sectionThickness={1}
            cellColor={colours.ink6}
            sectionColor={colours.line}
            fadeDistance={flat ? 400 : 90}
            fadeStrength={1.5}
            side={DoubleSide}
          />
        )}
        <Everything venue={venue} colours={colours} light={light} />
        <View venue={venue} through={through ? look.slice(8) : null} />
        <Meter />
      </Canvas>
      <Overlay colours={colours} />
    </div>
  );
}

/** What a frame costs, for those who measure: draw calls, triangles, and milliseconds of script. */
function Meter() {
  const gl = useThree((s) => s.gl);
  const scene = useThree((s) => s.scene);
  const camera = useThree((s) => s.camera);
  useEffect(() => {
    Object.assign(window, {
      kiteVenue: {
        frame: () => {
          const began = performance.now();
          gl.render(scene, camera);
          return {
            calls: gl.info.render.calls,
            triangles: gl.info.render.triangles,
            milliseconds: performance.now() - began,
          };
        },
        /** Where the handles stand. */
        handles: () => overlay.pivot?.toArray() ?? null,
        /** Whether the pointer is on one of them. */
        hovered: () => overlay.hovered,
        /** Where a place of the venue is on the canvas, in CSS pixels of the page. */
        where: (x: number, y: number, z: number) => {
          const v = new Vector3(x, y, z).project(camera);
          const box = gl.domElement.getBoundingClientRect();
          return [box.left + ((v.x + 1) / 2) * box.width, box.top + ((1 - v.y) / 2) * box.height];
        },
      },
    });
  }, [gl, scene, camera]);
  return null;
}

/** A drag in the scene: what moves, by how much in the venue so far, and how it ends. */
export interface Drag {
  ids: string[];
  matrix: Matrix4;
}

function Everything({ venue, colours, light }: { venue: Venue; colours: Tokens; light: Light | undefined }) {
  const chosen = useStudio((s) => s.chosen);
  const { frontOnly, wire, heat, look, measuring, asking, labels, dimensions } = useVenueState();
  const invalidate = useThree((s) => s.invalidate);
  const [drag, setDrag] = useState<Drag | null>(null);
  const latest = useRef({ venue, chosen });
  latest.current = { venue, chosen };
  const figures = useShow()?.computed.surfaces;
  const gl = useThree((s) => s.gl);
  const texture = useMemo(() => new ExternalTexture(), []);
  useEffect(() => stage.enter({ gl: gl.getContext() as WebGL2RenderingContext, left: () => gl.resetState() }), [gl]);
  const [packed, repack] = useState('');
  useEffect(
    () =>
      stage.watch(() => {
        texture.sourceTexture = stage.texture;
        repack(latest.current.venue.things.map((t) => JSON.stringify(stage.spot(t.id))).join());
        invalidate();
      }),
    [texture, invalidate],
  );
  useEffect(() => () => texture.dispose(), [texture]);
  const moving = useMemo(() => (drag === null ? null : withRiders(venue, drag.ids)), [drag, venue]);
  const matrixOf = (t: Thing) =>
    drag !== null && moving?.has(t.id) ? drag.matrix.clone().multiply(t.matrix) : t.matrix;
  // Signs of what is no picture and no thing stand in nobody's view.
  const seen = venue.things.filter((t) => !t.hidden && !(look.startsWith('through') && t.shape === null));
  const on = new Set(chosen.map((c) => c.id));
  const standing = seen.map((t) => `${t.shape?.key}${t.matrix.elements.join()}`).join('|');
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is seen is compared by its shapes and places
  const lines = useMemo(() => {
    const rest = seen.filter((t) => t.shape !== null && !moving?.has(t.id));
    const size = rest.reduce((n, t) => n + (t.shape?.lines.length ?? 0), 0);
    const out = new Float32Array(size);
    let at = 0;
    const point = new Vector3();
    for (const t of rest) {
      const own = (t.shape as NonNullable<Thing['shape']>).lines;
      for (let i = 0; i < own.length; i += 3) {
        point.fromArray(own, i).applyMatrix4(t.matrix).toArray(out, at);
        at += 3;
      }
    }
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(out, 3));
    return g;
  }, [standing, moving]);
  useEffect(() => () => lines.dispose(), [lines]);
  useEffect(() => {
    overlay.labels =
      labels || dimensions
        ? seen.map((t) => ({
            id: t.id,
            thing: t,
            words: labels ? t.name : '',
            size: dimensions && (chosen.length === 0 || on.has(t.id)) ? figures?.[t.id] : undefined,
          }))
        : [];
    overlay.chosen = chosen.flatMap((c) => venue.byId.get(c.id) ?? []);
    invalidate();
  });
  const pick = (e: ThreeEvent<MouseEvent>, t: Thing) => {
    if (e.delta > 4 || measuring || asking || t.locked) return;
    e.stopPropagation();
    const one = { kind: t.kind, id: t.id };
    if (e.nativeEvent.ctrlKey || e.nativeEvent.metaKey || e.nativeEvent.shiftKey) toggle(one);
    else choose([one]);
  };
  const side = frontOnly ? FrontSide : DoubleSide;
  const faces = new Map((light?.faces ?? []).map((f) => [f.id, f]));
  return (
    <>
      {seen.map((t) =>
        t.shape === null ? (
          <Mark
            key={t.id}
            thing={t}
            matrix={matrixOf(t)}
            frustum={venue.frusta[t.id]}
            on={on.has(t.id)}
            colours={colours}
            thrown={light?.projectors.find((p) => p.id === t.id)}
            still={!moving?.has(t.id)}
            onClick={(e) => pick(e, t)}
          />
        ) : t.kind === 'prop' ? (
          <group key={t.id} matrix={matrixOf(t)} matrixAutoUpdate={false}>
            {/* biome-ignore lint/a11y/noStaticElementInteractions: a mesh of the 3D scene; things are found by keyboard in the outline */}
            <mesh geometry={t.shape.geometry} onClick={(e) => pick(e, t)}>
              <meshBasicMaterial
                color={on.has(t.id) ? colours.line : colours.ink7}
                wireframe={wire}
                side={DoubleSide}
                polygonOffset
                polygonOffsetFactor={1}
              />
            </mesh>
            {(on.has(t.id) || moving?.has(t.id)) && (
              <Edges lines={t.shape.lines} colour={colours.kite} strong={on.has(t.id)} />
            )}
          </group>
        ) : (
          <group key={t.id} matrix={matrixOf(t)} matrixAutoUpdate={false}>
            {heat !== null && !t.wall ? (
              <Heat
                thing={t}
                face={faces.get(t.id)}
                map={heat}
                colours={colours}
                light={light}
                onClick={(e) => pick(e, t)}
              />
            ) : (
              <Lit
                thing={t}
                texture={texture}
                spotKey={packed === '' ? '' : JSON.stringify(stage.spot(t.id))}
                side={side}
                wire={wire}
                onClick={(e) => pick(e, t)}
              />
            )}
            {frontOnly && heat === null && (
              <mesh geometry={t.shape.geometry}>
                <meshBasicMaterial color={colours.ink7} side={BackSide} />
              </mesh>
            )}
            {on.has(t.id) || moving?.has(t.id) ? (
              <Edges lines={t.shape.lines} colour={colours.kite} strong={on.has(t.id)} />
            ) : (
              t.colour !== '' && <Edges lines={t.shape.lines} colour={t.colour} strong={false} />
            )}
          </group>
        ),
      )}
      <lineSegments geometry={lines} raycast={() => null}>
        <lineBasicMaterial color={colours.dim} transparent opacity={wire ? 0.8 : 0.28} />
      </lineSegments>
      <Handles
        venue={venue}
        colours={colours}
        onDrag={setDrag}
        onDone={async (order) => {
          if (order !== null) await arrange({ ...order, ids: latest.current.chosen.map((c) => c.id) });
          // The new places come with the next meshes; the preview stays until then.
          setTimeout(() => setDrag(null), order === null ? 0 : 250);
        }}
      />
      <Picking venue={venue} />
    </>
  );
}

function Edges({ lines, colour, strong }: { lines: Float32Array; colour: string; strong: boolean }) {
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(lines, 3));
    return g;
  }, [lines]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <lineSegments geometry={geometry} raycast={() => null}>
      <lineBasicMaterial color={colour} transparent opacity={strong ? 0.95 : 0.5} />
    </lineSegments>
  );
}

/** What the stage composed is display-encoded, as the canvas is: it goes through as it is. */
const LIT_VERTEX = `
varying vec2 at;
void main() {
  at = uv;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;
const LIT_FRAGMENT = `
uniform sampler2D stage;
varying vec2 at;
void main() { gl_FragColor = vec4(texture2D(stage, at).rgb, 1.0); }`;

/** The pixel of a surface's raster at a place of the stage's picture. */
function pixelAt(id: string, uv: Vector2, size: { rasterWidth: number; rasterHeight: number } | undefined) {
  const spot = stage.spot(id);
  if (spot === undefined || size === undefined) return null;
  const along = (at: number, from: number, length: number, pixels: number) =>
    Math.max(0, Math.min(pixels - 1, Math.floor(((at * SIDE - from - 0.5) / Math.max(1, length - 1)) * pixels)));
  return {
    surface: id,
    x: along(uv.x, spot.x, spot.width, size.rasterWidth),
    y: along(uv.y, spot.y, spot.height, size.rasterHeight),
  };
}

/** Presses of surfaces that ask about their pixels, and drags that move what is there. */
function useContent(id: string) {
  const size = useShow()?.computed.surfaces[id];
  const asking = useVenueState((s) => s.asking);
  const gl = useThree((s) => s.gl);
  const camera = useThree((s) => s.camera);
  const controls = useThree((s) => s.controls) as unknown as { enabled: boolean } | null;
  if (!asking) return {};
  return {
    onPointerDown: (e: ThreeEvent<PointerEvent>) => {
      const from = e.uv === undefined ? null : pixelAt(id, e.uv, size);
      if (from === null || e.button !== 0) return;
      e.stopPropagation();
      if (controls !== null) controls.enabled = false;
      const mesh = e.object;
      const ray = new Raycaster();
      const drag = new ContentDrag(from);
      const press = {
        pointerId: e.pointerId,
        clientX: e.nativeEvent.clientX,
        clientY: e.nativeEvent.clientY,
        currentTarget: gl.domElement,
        preventDefault: () => e.nativeEvent.preventDefault(),
        stopPropagation: () => e.nativeEvent.stopPropagation(),
      };
      follow(
        press,
        (_dx, _dy, move) => {
          const box = gl.domElement.getBoundingClientRect();
          ray.setFromCamera(
            new Vector2(
              ((move.clientX - box.left) / box.width) * 2 - 1,
              1 - ((move.clientY - box.top) / box.height) * 2,
            ),
            camera,
          );
          const uv = ray.intersectObject(mesh)[0]?.uv;
          const to = uv === undefined ? null : pixelAt(id, uv, size);
          if (to !== null) drag.to(to);
        },
        (how) => {
          if (controls !== null) controls.enabled = true;
          drag.end(how);
        },
      );
    },
  };
}

/** A surface with its part of the stage's picture. */
function Lit({
  thing,
  texture,
  spotKey,
  side,
  wire,
  onClick,
}: {
  thing: Thing;
  texture: ExternalTexture;
  spotKey: string;
  side: typeof FrontSide | typeof DoubleSide;
  wire: boolean;
  onClick: (e: ThreeEvent<MouseEvent>) => void;
}) {
  const shape = thing.shape as NonNullable<Thing['shape']>;
  const uniforms = useMemo(() => ({ stage: { value: texture } }), [texture]);
  const content = useContent(thing.id);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the spot is compared by its contents
  const geometry = useMemo(() => {
    const spot = stage.spot(thing.id) ?? { x: 0, y: 0, width: 0, height: 0 };
    const g = new BufferGeometry();
    g.setAttribute('position', shape.geometry.getAttribute('position'));
    g.setIndex(shape.geometry.getIndex());
    const uv = new Float32Array(shape.uvs ?? []);
    for (let i = 0; i < uv.length; i += 2) {
      // Half a pixel within, so that a neighbour on the stage does not shine in at the edge.
      uv[i] = (spot.x + 0.5 + (uv[i] ?? 0) * (spot.width - 1)) / SIDE;
      uv[i + 1] = (spot.y + 0.5 + (uv[i + 1] ?? 0) * (spot.height - 1)) / SIDE;
    }
    g.setAttribute('uv', new BufferAttribute(uv, 2));
    g.boundingSphere = shape.geometry.boundingSphere;
    return g;
  }, [shape, spotKey]);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a mesh of the 3D scene; surfaces are found by keyboard in the outline
    <mesh geometry={geometry} onClick={onClick} {...content}>
      <shaderMaterial
        uniforms={uniforms}
        vertexShader={LIT_VERTEX}
        fragmentShader={LIT_FRAGMENT}
        side={side}
        wireframe={wire}
      />
    </mesh>
  );
}

/** A face with a heat map over its raster. */
function Heat({
  thing,
  face,
  map,
  colours,
  light,
  onClick,
}: {
  thing: Thing;
  face: FaceLight | undefined;
  map: keyof FaceLight['maps'];
  colours: Tokens;
  light: Light | undefined;
  onClick: (e: ThreeEvent<MouseEvent>) => void;
}) {
  const texture = useMemo(() => {
    const columns = face?.columns ?? 1;
    const rows = face?.rows ?? 1;
    const bytes = new Uint8Array(columns * rows * 4);
    const range = light === undefined ? [0, 1] : spread(light, map);
    const stops: Color[] = colours.ramp.map((c) => new ThreeColor(c));
    const none = new ThreeColor(colours.ink7);
    const colour = new ThreeColor();
    for (let i = 0; i < columns * rows; i++) {
      const value = face?.maps[map][i] ?? -1;
      const dark = face === undefined || value < 0 || (face.maps.count[i] ?? 0) <= 0;
      if (dark) colour.copy(none);
      else {
        const at =
          Math.max(0, Math.min(1, (value - (range[0] ?? 0)) / Math.max(1e-9, (range[1] ?? 1) - (range[0] ?? 0)))) *
          (stops.length - 1);
        const k = Math.min(stops.length - 2, Math.floor(at));
        colour.copy(stops[k] as Color).lerp(stops[k + 1] as Color, at - k);
      }
      const { r, g, b } = colour.convertLinearToSRGB();
      bytes.set(
        [r, g, b, 1].map((v) => Math.round(255 * v)),
        i * 4,
      );
    }
    const t = new DataTexture(bytes, columns, rows);
    t.colorSpace = SRGBColorSpace;
    t.magFilter = NearestFilter;
    t.minFilter = NearestFilter;
    t.flipY = false;
    t.needsUpdate = true;
    return t;
  }, [face, map, light, colours]);
  useEffect(() => () => texture.dispose(), [texture]);
  const shape = thing.shape as NonNullable<Thing['shape']>;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a mesh of the 3D scene; figures are read in the details as well
    <mesh
      geometry={shape.geometry}
      onClick={onClick}
      onPointerMove={(e) => {
        e.stopPropagation();
        reading(face !== undefined && e.uv !== undefined ? { face, u: e.uv.x, v: e.uv.y } : null);
      }}
      onPointerOut={() => reading(null)}
    >
      <meshBasicMaterial map={texture} toneMapped={false} side={DoubleSide} />
    </mesh>
  );
}

/** What carries no triangles: projectors, cameras, seats and rigs, each a small sign of its own, and where it looks. */
function Mark({
  thing,
  matrix,
  frustum,
  on,
  colours,
  thrown,
  still,
  onClick,
}: {
  thing: Thing;
  matrix: Matrix4;
  frustum: number[][] | undefined;
  on: boolean;
  colours: Tokens;
  thrown: Schemas['Footprint'] | undefined;
  still: boolean;
  onClick: (e: ThreeEvent<MouseEvent>) => void;
}) {
  const size = thing.kind === 'projector' ? 0.55 : thing.kind === 'rig' ? 0.35 : 0.4;
  const colour = on ? colours.kite : thing.kind === 'rig' ? colours.line : colours.dim;
  const body = useMemo(() => {
    // A kite with its long tail where it looks; a rig is a kite that lies.
    const g = new BufferGeometry();
    const p =
      thing.kind === 'rig'
        ? [0, 0, -1.6, -0.7, 0, 0, 0, 0, 0.6, 0.7, 0, 0, 0, 0.25, 0]
        : [0, 0, -1.2, -0.5, 0, 0.3, 0, 0.45, 0.3, 0.5, 0, 0.3, 0, -0.45, 0.3];
    g.setAttribute('position', new BufferAttribute(new Float32Array(p.map((v) => v * size)), 3));
    g.setIndex(
      thing.kind === 'rig'
        ? [0, 1, 4, 1, 2, 4, 2, 3, 4, 3, 0, 4, 0, 2, 1, 0, 3, 2]
        : [0, 1, 2, 0, 2, 3, 0, 3, 4, 0, 4, 1, 1, 4, 3, 1, 3, 2],
    );
    return g;
  }, [thing.kind, size]);
  const rays = useMemo(() => {
    if (frustum === undefined || !on || !still) return null;
    const [from, ...ends] = frustum as [number[], ...number[][]];
    const points: number[] = [];
    const edge = thrown?.outline ?? [];
    const quarter = [0, 24, 38, 62];
    const reach = thing.kind === 'camera' ? 4 : 1;
    const tips = ends.map(
      (d, i) =>
        edge[quarter[i] ?? 0] ??
        from.map((v, k) => v + (d[k] ?? 0) * (thing.kind === 'projector' ? Math.max(4, thrown?.farthest ?? 8) : reach)),
    );
    for (const tip of tips) points.push(...from, ...tip);
    if (edge.length > 0)
      for (let i = 0; i < edge.length; i++) {
        const [a, b] = [edge[i], edge[(i + 1) % edge.length]];
        if (a && b && Math.hypot(...a.map((v, k) => v - (b[k] ?? 0))) < 3) points.push(...a, ...b);
      }
    else for (let i = 0; i < 4; i++) points.push(...(tips[i] ?? []), ...(tips[(i + 1) % 4] ?? []));
    return new Float32Array(points);
  }, [frustum, on, still, thrown, thing.kind]);
  return (
    <>
      <group matrix={matrix} matrixAutoUpdate={false}>
        {/* biome-ignore lint/a11y/noStaticElementInteractions: a mesh of the 3D scene; things are found by keyboard in the outline */}
        <mesh geometry={body} onClick={onClick}>
          <meshBasicMaterial color={colour} side={DoubleSide} />
        </mesh>
      </group>
      {rays !== null && <Edges lines={rays} colour={colours.kite} strong={false} />}
    </>
  );
}

/** Box-select with Shift on empty ground, letting go by a press there, and the vertices that are measured between. */
function Picking({ venue }: { venue: Venue }) {
  const gl = useThree((s) => s.gl);
  const camera = useThree((s) => s.camera);
  const invalidate = useThree((s) => s.invalidate);
  const controls = useThree((s) => s.controls) as unknown as { enabled: boolean } | null;
  const measuring = useVenueState((s) => s.measuring);
  const latest = useRef(venue);
  latest.current = venue;
  useEffect(() => {
    if (!measuring) {
      overlay.measured = [];
      overlay.near = null;
      invalidate();
    }
  }, [measuring, invalidate]);
  useEffect(() => {
    const canvas = gl.domElement;
    const at = (e: PointerEvent): [number, number] => {
      const box = canvas.getBoundingClientRect();
      return [e.clientX - box.left, e.clientY - box.top];
    };
    const screen = (v: Vector3): [number, number, number] => {
      const p = v.clone().project(camera);
      return [((p.x + 1) / 2) * canvas.clientWidth, ((1 - p.y) / 2) * canvas.clientHeight, p.z];
    };
    const nearest = (e: PointerEvent): Vector3 | null => {
      const [x, y] = at(e);
      let best: { d: number; v: Vector3 } | null = null;
      const point = new Vector3();
      for (const t of latest.current.things) {
        if (t.hidden) continue;
        const own = t.shape?.geometry.getAttribute('position').array as Float32Array | undefined;
        const count = own === undefined ? 1 : own.length / 3;
        if (count > 20_000) continue;
        for (let i = 0; i < count; i++) {
          if (own === undefined) point.setFromMatrixPosition(t.matrix);
          else point.fromArray(own, 3 * i).applyMatrix4(t.matrix);
          const [px, py, pz] = screen(point);
          const d = Math.hypot(px - x, py - y);
          if (pz < 1 && d < (best?.d ?? 14)) best = { d, v: point.clone() };
        }
      }
      return best?.v ?? null;
    };
    let pressed: [number, number] | null = null;
    const boxed = () => {
      const drawn = overlay.box;
      if (drawn === null) return;
      const [l, t, w, h] = drawn;
      const inside = latest.current.things.filter((one) => {
        if (one.hidden || one.locked) return false;
        const points = corners(one).map(screen);
        return points.every(([px, py, pz]) => pz < 1 && px >= l && px <= l + w && py >= t && py <= t + h);
      });
      choose([
        ...get().chosen.filter((c) => !inside.some((i) => i.id === c.id)),
        ...inside.map((i) => ({ kind: i.kind, id: i.id })),
      ]);
    };
    const down = (e: PointerEvent) => {
      if (e.button !== 0) return;
      const from = at(e);
      if (!e.shiftKey || useVenueState.getState().measuring) {
        pressed = from;
        return;
      }
      if (controls !== null) controls.enabled = false;
      follow(
        e,
        (dx, dy) => {
          overlay.box = [Math.min(from[0], from[0] + dx), Math.min(from[1], from[1] + dy), Math.abs(dx), Math.abs(dy)];
          invalidate();
        },
        (how) => {
          if (how === 'dropped') boxed();
          overlay.box = null;
          if (controls !== null) controls.enabled = true;
          invalidate();
        },
      );
    };
    const move = (e: PointerEvent) => {
      if (!useVenueState.getState().measuring) return;
      overlay.near = nearest(e);
      invalidate();
    };
    const up = (e: PointerEvent) => {
      const [x, y] = at(e);
      const still = pressed !== null && Math.hypot(x - pressed[0], y - pressed[1]) < 4;
      pressed = null;
      if (!still || e.button !== 0) return;
      if (useVenueState.getState().measuring) {
        const v = nearest(e);
        if (v !== null) overlay.measured = overlay.measured.length >= 3 ? [v] : [...overlay.measured, v];
        invalidate();
        return;
      }
      const ray = new Raycaster();
      ray.setFromCamera(new Vector2((x / canvas.clientWidth) * 2 - 1, 1 - (y / canvas.clientHeight) * 2), camera);
      if (!overlay.hovered && !e.shiftKey && !e.ctrlKey) {
        const hit = latest.current.things.some((t) => {
          if (t.hidden || t.locked || t.shape === null)
            return (
              t.shape === null &&
              !t.hidden &&
              ray.ray.distanceToPoint(new Vector3().setFromMatrixPosition(t.matrix)) < 0.6
            );
          const sphere = t.shape.geometry.boundingBox;
          return sphere ? ray.ray.intersectsBox(new Box3().copy(sphere).applyMatrix4(t.matrix)) : false;
        });
        if (!hit) select(null);
      }
    };
    canvas.addEventListener('pointerdown', down);
    canvas.addEventListener('pointermove', move);
    canvas.addEventListener('pointerup', up);
    return () => {
      canvas.removeEventListener('pointerdown', down);
      canvas.removeEventListener('pointermove', move);
      canvas.removeEventListener('pointerup', up);
    };
  }, [gl, camera, controls, invalidate]);
  return null;
}

/** How much of the view what is fitted takes. */
const FILL = 0.85;

/** Puts a camera, looking a little down, where points fill the view: as near as all of them allow, moved across until they lie in its middle. */
function frame(camera: PerspectiveCamera, points: Vector3[], target: Vector3, aspect: number) {
  const toward = new Vector3(0, 0.12, 1).normalize();
  const right = new Vector3(0, 1, 0).cross(toward).normalize();
  const up = toward.clone().cross(right);
  const high = Math.tan((camera.fov * Math.PI) / 360);
  const wide = high * aspect;
  let distance = 1;
  for (let turn = 0; turn < 4; turn++) {
    distance = 1;
    for (const p of points) {
      const d = p.clone().sub(target);
      distance = Math.max(
        distance,
        d.dot(toward) + Math.max(Math.abs(d.dot(right)) / wide, Math.abs(d.dot(up)) / high) / FILL,
      );
    }
    const [left, top] = [right, up].map((axis, i) => {
      const seen = points.map((p) => {
        const d = p.clone().sub(target);
        return d.dot(axis) / (distance - d.dot(toward)) / (i === 0 ? wide : high);
      });
      return ((Math.min(...seen) + Math.max(...seen)) / 2) * (i === 0 ? wide : high) * distance;
    });
    target.addScaledVector(right, left ?? 0).addScaledVector(up, top ?? 0);
  }
  camera.position.copy(target).addScaledVector(toward, distance);
}

/** The eye: free, straight from one side, or through a camera, a projector or a seat. */
function View({ venue, through }: { venue: Venue; through: string | null }) {
  const controls = useRef<Controls>(null);
  const camera = useThree((s) => s.camera);
  const size = useThree((s) => s.size);
  const invalidate = useThree((s) => s.invalidate);
  const look = useVenueState((s) => s.look);
  const fit = useVenueState((s) => s.fit);
  const fitted = useRef('');
  const thing = through === null ? undefined : venue.byId.get(through);
  const frustum = through === null ? undefined : venue.frusta[through];
  const place = thing?.matrix.elements.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the place is compared by its numbers
  useEffect(() => {
    if (!(camera instanceof PerspectiveCamera) || thing === undefined) return;
    const eye = new Vector3().setFromMatrixPosition(thing.matrix);
    camera.position.copy(eye);
    camera.quaternion.setFromRotationMatrix(new Matrix4().extractRotation(thing.matrix));
    overlay.frame = null;
    if (frustum !== undefined) {
      const inverse = new Matrix4().extractRotation(thing.matrix).invert();
      const [a, , b] = frustum.slice(1).map((d) => new Vector3().fromArray(d).applyMatrix4(inverse));
      if (a !== undefined && b !== undefined) {
        // The whole picture fits in the window, with a rim round it.
        const top =
          Math.max(Math.abs(a.y), Math.abs(b.y), (Math.max(Math.abs(a.x), Math.abs(b.x)) * size.height) / size.width) *
          1.12;
        camera.fov = (Math.atan(top) * 360) / Math.PI;
        overlay.frame = {
          left: a.x,
          right: b.x,
          top: a.y,
          bottom: b.y,
          scale: size.height / 2 / top,
          name: thing.name,
        };
      }
    } else camera.fov = 55;
    camera.updateProjectionMatrix();
    invalidate();
    return () => {
      overlay.frame = null;
    };
  }, [camera, place, frustum, size, invalidate]);
  const count = venue.things.length;
  useEffect(() => {
    const key = `${look} ${fit}`;
    if (count === 0 || fitted.current === key || thing !== undefined) return;
    const first = fitted.current === '' || !fitted.current.startsWith(look);
    fitted.current = key;
    const { chosen } = get();
    const wanted =
      !first && chosen.length > 0
        ? chosen.flatMap((c) => venue.byId.get(c.id) ?? [])
        : venue.things.filter((t) => !t.hidden && t.kind !== 'seat');
    const surfaces = wanted.filter((t) => t.kind === 'surface');
    const box = new Box3();
    const points = (first && surfaces.length > 0 && look === 'free' ? surfaces : wanted).flatMap(corners);
    for (const p of points) box.expandByPoint(p);
    if (box.isEmpty()) return;
    const centre = box.getCenter(new Vector3());
    // A thing without a size is seen with what is round it.
    const extent = box
      .getSize(new Vector3())
      .addScalar(0.5)
      .max(new Vector3(5, 4, 0.5));
    if (camera instanceof OrthographicCamera) {
      const [w, h] =
        look === 'plan' ? [extent.x, extent.z] : look === 'front' ? [extent.x, extent.y] : [extent.z, extent.y];
      camera.zoom = FILL * Math.min(size.width / w, size.height / h);
      const away =
        look === 'plan'
          ? new Vector3(0, 300, 0.001)
          : look === 'front'
            ? new Vector3(0, 0, 300)
            : new Vector3(300, 0, 0);
      camera.up.set(0, 1, 0);
      camera.position.copy(centre).add(away);
      camera.lookAt(centre);
      camera.updateProjectionMatrix();
    } else if (camera instanceof PerspectiveCamera) {
      camera.fov = 40;
      camera.updateProjectionMatrix();
      frame(camera, points.length > 1 ? points : [box.min, box.max], centre, size.width / size.height);
    }
    controls.current?.target.copy(centre);
    controls.current?.update();
    invalidate();
  }, [count, fit, look, venue, camera, size, invalidate, thing]);
  useFrame(() => overlay.draw?.(camera, size.width, size.height));
  const canvas = useThree((s) => s.gl.domElement);
  // By the hand: what lies as deep as what is looked at goes along with the pointer.
  useEffect(
    () =>
      panned(canvas, (dx, dy) => {
        const { current } = controls;
        if (current === null || current === undefined) return;
        const metres =
          camera instanceof PerspectiveCamera
            ? (2 * camera.position.distanceTo(current.target) * Math.tan((camera.fov * Math.PI) / 360)) / size.height
            : 1 / camera.zoom;
        const by = new Vector3(-dx * metres, dy * metres, 0).applyQuaternion(camera.quaternion);
        camera.position.add(by);
        current.target.add(by);
        current.update();
        invalidate();
      }),
    [canvas, camera, size, invalidate],
  );
  if (through !== null) return null;
  const flat = look !== 'free';
  return (
    <OrbitControls
      ref={controls}
      makeDefault
      enableDamping={false}
      maxDistance={600}
      enableRotate={!flat}
      mouseButtons={
        flat
          ? { LEFT: MOUSE.PAN, MIDDLE: MOUSE.DOLLY, RIGHT: MOUSE.PAN }
          : { LEFT: MOUSE.ROTATE, MIDDLE: MOUSE.DOLLY, RIGHT: MOUSE.PAN }
      }
    />
  );
}
