import { type ThreeEvent, useFrame, useThree } from '@react-three/fiber';
import { useEffect, useMemo, useRef, useState } from 'react';
import { DoubleSide, type Group, Matrix4, PerspectiveCamera, Plane, Raycaster, Vector2, Vector3 } from 'three';
import { type Ending, follow } from '../../drag';
import { useStudio } from '../../store';
import { overlay } from './Overlay';
import type { Drag, Tokens } from './Scene';
import { useVenueState } from './state';
import { corners, middle, type Venue, withRiders } from './things';

type Grip = 'x' | 'y' | 'z' | 'ground' | 'turn';
export type Order = { action: 'move'; by: number[] } | { action: 'turn'; axis: 'y'; degrees: number; about: number[] };

const axes = { x: new Vector3(1, 0, 0), y: new Vector3(0, 1, 0), z: new Vector3(0, 0, 1) };
const ANGLE = 15;

/** Kites to pull what is chosen along an axis or over the ground, and a ring to turn it. Alt: no snapping. Shift: one axis. A number typed while dragging sets it. */
export function Handles({
  venue,
  colours,
  onDrag,
  onDone,
}: {
  venue: Venue;
  colours: Tokens;
  onDrag: (drag: Drag | null) => void;
  onDone: (order: Order | null) => Promise<void> | void;
}) {
  const chosen = useStudio((s) => s.chosen);
  const look = useVenueState((s) => s.look);
  const measuring = useVenueState((s) => s.measuring || s.asking);
  const { camera, gl, invalidate } = useThree();
  const controls = useThree((s) => s.controls) as unknown as { enabled: boolean } | null;
  const group = useRef<Group>(null);
  const [hover, setHover] = useState<Grip | null>(null);
  const [shift, setShift] = useState<Vector3 | null>(null);
  const things = useMemo(
    () => chosen.flatMap((c) => venue.byId.get(c.id) ?? []).filter((t) => !t.hidden),
    [chosen, venue],
  );
  const free = things.length > 0 && things.every((t) => !t.locked) && !measuring && !look.startsWith('through');
  const pivot = useMemo(
    () =>
      middle(
        things.map((t) =>
          things.length === 1 && t.shape === null ? new Vector3().setFromMatrixPosition(t.matrix) : middle(corners(t)),
        ),
      ),
    [things],
  );
  const working = useRef<(() => void) | null>(null);
  useEffect(() => () => working.current?.(), []);
  useEffect(() => {
    if (!free) overlay.hovered = false;
  }, [free]);
  // As large on the screen from near and far.
  useFrame(() => {
    const g = group.current;
    if (g !== null)
      g.scale.setScalar(
        camera instanceof PerspectiveCamera ? camera.position.distanceTo(g.position) * 0.065 : 56 / camera.zoom,
      );
  });
  if (!free) return null;

  const begin = (grip: Grip, e: ThreeEvent<PointerEvent>) => {
    if (e.button !== 0) return;
    if (controls !== null) controls.enabled = false;
    const canvas = gl.domElement;
    const ids = chosen.map((c) => c.id);
    const riders = withRiders(venue, ids);
    const own = things.flatMap(corners);
    const others = venue.things
      .filter((t) => !riders.has(t.id) && !t.hidden && t.kind !== 'seat')
      .map((t) => corners(t));
    const ray = new Raycaster();
    const toward = new Vector3();
    const meet = (event: PointerEvent, plane: Plane): Vector3 | null => {
      const box = canvas.getBoundingClientRect();
      ray.setFromCamera(
        new Vector2(((event.clientX - box.left) / box.width) * 2 - 1, 1 - ((event.clientY - box.top) / box.height) * 2),
        camera,
      );
      return ray.ray.intersectPlane(plane, new Vector3());
    };
    camera.getWorldDirection(toward);
    const plane = new Plane();
    if (grip === 'ground' || grip === 'turn')
      plane.setFromNormalAndCoplanarPoint(look === 'front' ? axes.z : look === 'side' ? axes.x : axes.y, pivot);
    else {
      // The plane through the axis that faces the eye most.
      const axis = axes[grip];
      plane.setFromNormalAndCoplanarPoint(
        toward
          .clone()
          .sub(axis.clone().multiplyScalar(toward.dot(axis)))
          .normalize(),
        pivot,
      );
    }
    const from = meet(e.nativeEvent, plane) ?? pivot.clone();
    let typed = '';
    let order: Order | null = null;
    let last = e.nativeEvent;
    const metresPerPixel =
      camera instanceof PerspectiveCamera
        ? (2 * camera.position.distanceTo(pivot) * Math.tan((camera.fov * Math.PI) / 360)) / canvas.clientHeight
        : 1 / camera.zoom;
    const show = () => {
      const now = meet(last, plane);
      if (now === null && typed === '') return;
      if (grip === 'turn') {
        const angle = (v: Vector3) => Math.atan2(-(v.z - pivot.z), v.x - pivot.x);
        let degrees = ((angle(now ?? from) - angle(from)) * 180) / Math.PI;
        degrees = ((((degrees + 180) % 360) + 360) % 360) - 180;
        if (!last.altKey) degrees = Math.round(degrees / ANGLE) * ANGLE;
        if (typed !== '' && Number.isFinite(Number(typed))) degrees = Number(typed);
        order = { action: 'turn', axis: 'y', degrees, about: pivot.toArray() };
        const matrix = new Matrix4()
          .makeTranslation(pivot)
          .multiply(new Matrix4().makeRotationY((degrees * Math.PI) / 180))
          .multiply(new Matrix4().makeTranslation(pivot.clone().negate()));
        overlay.said = { at: pivot, words: `turn ${degrees.toFixed(2)}°` };
        onDrag({ ids, matrix });
      } else {
        const by = (now ?? from).clone().sub(from);
        if (grip !== 'ground') by.copy(axes[grip].clone().multiplyScalar(by.dot(axes[grip])));
        else if (last.shiftKey) {
          const [x, y, z] = [Math.abs(by.x), Math.abs(by.y), Math.abs(by.z)];
          by.set(x >= y && x >= z ? by.x : 0, y > x && y >= z ? by.y : 0, z > x && z > y ? by.z : 0);
        }
        overlay.guides = [];
        if (typed !== '' && Number.isFinite(Number(typed))) {
          const main = grip !== 'ground' ? axes[grip] : by.clone().normalize();
          by.copy(main.clone().multiplyScalar(Number(typed)));
        } else if (!last.altKey) snap(by, own, others, pivot, useVenueState.getState().grid, metresPerPixel * 9, grip);
        by.set(Math.round(by.x * 1e6) / 1e6, Math.round(by.y * 1e6) / 1e6, Math.round(by.z * 1e6) / 1e6);
        order = { action: 'move', by: by.toArray() };
        overlay.said = {
          at: pivot.clone().add(by),
          words: `X ${by.x.toFixed(3)}  Y ${by.y.toFixed(3)}  Z ${by.z.toFixed(3)} m`,
        };
        setShift(by.clone());
        onDrag({ ids, matrix: new Matrix4().makeTranslation(by) });
      }
      invalidate();
    };
    const keys = (event: KeyboardEvent) => {
      if (event.key === 'Enter') return 'drop';
      if (/^[-0-9.]$/.test(event.key)) typed += event.key;
      else if (event.key === 'Backspace') typed = typed.slice(0, -1);
      else return false;
      show();
      return true;
    };
    const done = (how: Ending) => {
      if (controls !== null) controls.enabled = true;
      working.current = null;
      overlay.said = null;
      overlay.guides = [];
      const moved = order !== null && (order.action === 'turn' ? order.degrees !== 0 : order.by.some((v) => v !== 0));
      void Promise.resolve(onDone(how !== 'stopped' && moved ? order : null)).then(() => setShift(null));
      invalidate();
    };
    const moved = (_dx: number, _dy: number, event: PointerEvent) => {
      last = event;
      show();
    };
    const press = {
      pointerId: e.pointerId,
      clientX: e.nativeEvent.clientX,
      clientY: e.nativeEvent.clientY,
      currentTarget: canvas,
      preventDefault: () => undefined,
      stopPropagation: () => e.stopPropagation(),
    };
    working.current = follow(press, moved, done, { slack: 0, key: keys });
  };

  const at = shift === null ? pivot : pivot.clone().add(shift);
  overlay.pivot = at;
  const grip = (name: Grip) => ({
    onPointerDown: (e: ThreeEvent<PointerEvent>) => begin(name, e),
    onPointerOver: () => {
      overlay.hovered = true;
      setHover(name);
      invalidate();
    },
    onPointerOut: () => {
      overlay.hovered = false;
      setHover(null);
      invalidate();
    },
    onClick: (e: ThreeEvent<MouseEvent>) => e.stopPropagation(),
  });
  const colour = (name: Grip) => (hover === name ? colours.text : colours.kite);
  const arms: [Grip, [number, number, number]][] = [
    ['x', [0, 0, -Math.PI / 2]],
    ['y', [0, 0, 0]],
    ['z', [Math.PI / 2, 0, 0]],
  ];
  return (
    <group ref={group} position={at} renderOrder={10}>
      {arms
        .filter(
          ([name]) =>
            !(look === 'plan' && name === 'y') &&
            !(look === 'front' && name === 'z') &&
            !(look === 'side' && name === 'x'),
        )
        .map(([name, rotation]) => (
          <group key={name} rotation={rotation}>
            <mesh position={[0, 1.05, 0]} scale={[0.55, 1, 0.55]} {...grip(name)}>
              <octahedronGeometry args={[0.2]} />
              <meshBasicMaterial color={colour(name)} depthTest={false} transparent opacity={0.95} />
            </mesh>
            <mesh position={[0, 0.5, 0]} raycast={() => null}>
              <boxGeometry args={[0.025, 0.8, 0.025]} />
              <meshBasicMaterial color={colour(name)} depthTest={false} transparent opacity={0.6} />
            </mesh>
          </group>
        ))}
      <mesh
        rotation={
          look === 'front'
            ? [0, 0, Math.PI / 4]
            : look === 'side'
              ? [0, Math.PI / 2, 0]
              : [-Math.PI / 2, 0, Math.PI / 4]
        }
        {...grip('ground')}
      >
        <planeGeometry args={[0.34, 0.34]} />
        <meshBasicMaterial color={colour('ground')} depthTest={false} transparent opacity={0.7} side={DoubleSide} />
      </mesh>
      {look !== 'front' && look !== 'side' && (
        <mesh rotation={[Math.PI / 2, 0, 0]} {...grip('turn')}>
          <torusGeometry args={[1.4, 0.03, 6, 64]} />
          <meshBasicMaterial color={colour('turn')} depthTest={false} transparent opacity={0.55} />
        </mesh>
      )}
    </group>
  );
}

/** Brings a movement to where an edge, a middle or a corner of what moves meets one of what stands, or to the grid. */
function snap(
  by: Vector3,
  own: Vector3[],
  others: Vector3[][],
  pivot: Vector3,
  grid: number,
  reach: number,
  grip: Grip,
) {
  const span = (points: Vector3[], k: 'x' | 'y' | 'z') => {
    const values = points.map((p) => p[k]);
    const [min, max] = [Math.min(...values), Math.max(...values)];
    return [min, (min + max) / 2, max];
  };
  for (const k of ['x', 'y', 'z'] as const) {
    if (grip !== 'ground' && grip !== k) continue;
    if (grip === 'ground' && by[k] === 0) continue;
    let best = { d: reach, to: Number.NaN, line: 0 };
    for (const mine of span(own, k)) {
      for (const other of others) {
        for (const theirs of span(other, k)) {
          const d = Math.abs(theirs - mine - by[k]);
          if (d < best.d) best = { d, to: theirs - mine, line: theirs };
        }
      }
      const lines = Math.round((mine + by[k]) / grid) * grid;
      // A thing's own edge is worth more than a line of the grid that lies as near.
      const d = Math.abs(lines - mine - by[k]) + reach * 0.15;
      if (d < best.d) best = { d, to: lines - mine, line: lines };
    }
    if (!Number.isNaN(best.to)) {
      by[k] = best.to;
      const a = pivot.clone().add(by);
      a[k] = best.line;
      const b = a.clone();
      const across = k === 'x' ? 'z' : 'x';
      a[across] -= 4;
      b[across] += 4;
      overlay.guides.push([a, b]);
    }
  }
}
