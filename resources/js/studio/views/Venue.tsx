import { Modal, NativeSelect, Select, TextInput } from '@mantine/core';
import { Grid, OrbitControls } from '@react-three/drei';
import { Canvas, useThree } from '@react-three/fiber';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Box3, BufferAttribute, BufferGeometry, CanvasTexture, DoubleSide, EdgesGeometry, LinearFilter, Matrix4, type PerspectiveCamera, SRGBColorSpace, Vector3 } from 'three';
import type { OrbitControls as Controls } from 'three-stdlib';
import { api, type RowOf, type Schemas } from '../../api/client';
import { NumberField } from '../fields/fields';
import { WallFigures } from '../frame/Details';
import { useMeshes, useRows, useShow } from '../hooks';
import { stage } from '../stage/stage';
import { edit, insert, select, useStudio } from '../store';
import { ulid } from '../time';
import { WallSheetView } from './WallSheet';

/** The venue in 3D, its walls lit with what is playing. */
export default function Venue() {
  const meshes = useMeshes();
  const surfaces = useRows('surface');
  const selected = useStudio((s) => s.selected);
  const [adding, setAdding] = useState(false);
  const [addingFace, setAddingFace] = useState(false);
  const [fit, setFit] = useState(0);
  const [search, setSearch] = useState('');
  const [flat, setFlat] = useState(false);
  const chosen = surfaces.find((s) => s.id === selected?.id);
  const walls = useMemo(() => new Set(surfaces.filter((s) => s.kind === 'wall').map((s) => s.id)), [surfaces]);
  const colours = useTokens();
  const showId = useStudio((s) => s.showId);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => e.key.toLowerCase() === 'f' && !(e.target instanceof HTMLInputElement) && !e.ctrlKey && !e.metaKey && setFit((n) => n + 1);
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, []);
  return (
    <>
      <div className="bar">
        <Select
          aria-label="Find a surface"
          placeholder="Find a surface"
          searchable
          clearable
          w={220}
          data={surfaces.map((s) => ({ value: s.id, label: s.name }))}
          value={selected?.kind === 'surface' ? selected.id : null}
          searchValue={search}
          onSearchChange={setSearch}
          onChange={(id) => select(id === null ? null : { kind: 'surface', id })}
        />
        <span className="dim mono">{surfaces.length}</span>
        <span className="grow" />
        <button type="button" className="plain" aria-pressed={flat} disabled={chosen?.kind !== 'wall'} onClick={() => setFlat((f) => !f)} title="The chosen wall laid flat: its panels and cables">
          Sheet
        </button>
        <a className="plain" href={`/api/shows/${showId}/venue.obj`} download>
          OBJ
        </a>
        <button type="button" className="plain" onClick={() => setFit((n) => n + 1)} title="F">
          Fit
        </button>
        <button type="button" className="plain" onClick={() => setAddingFace(true)}>
          Add a face
        </button>
        <button type="button" className="plain primary" onClick={() => setAdding(true)}>
          Add a wall
        </button>
      </div>
      {flat && chosen?.kind === 'wall' ? (
        <WallSheetView key={chosen.id} surface={chosen} />
      ) : (
        <div className="canvas-area">
          <Canvas
            frameloop="demand"
            dpr={1}
            gl={{ antialias: true, powerPreference: 'high-performance' }}
            camera={{ position: [0, 3, 12], fov: 40, near: 0.05, far: 2000 }}
            onPointerMissed={() => select(null)}
            role="img"
            aria-label="Venue in 3D"
          >
            <color attach="background" args={[colours.ink9]} />
            <Grid args={[200, 200]} infiniteGrid cellSize={1} sectionSize={5} cellThickness={0.6} sectionThickness={1} cellColor={colours.ink6} sectionColor={colours.line} fadeDistance={70} fadeStrength={1.5} side={DoubleSide} />
            <Lit meshes={meshes} walls={walls} selected={selected?.kind === 'surface' ? selected.id : null} outline={colours.kite} />
            <View meshes={meshes} fit={fit} selected={selected?.kind === 'surface' ? selected.id : null} />
          </Canvas>
          {surfaces.length === 0 && (
            <div className="empty" style={{ position: 'absolute', inset: 0, height: 'fit-content' }}>
              <strong>An empty place</strong>
              Surfaces that carry pictures stand here, in metres. The first is an LED wall, built of panels.
              <button type="button" className="plain primary" onClick={() => setAdding(true)}>
                Add a wall
              </button>
            </div>
          )}
          <span className="tip">Drag to orbit, right-drag to pan, wheel to come nearer, F to fit</span>
        </div>
      )}
      {adding && <AddWall onClose={() => setAdding(false)} />}
      {addingFace && <AddFace onClose={() => setAddingFace(false)} />}
    </>
  );
}

function useTokens() {
  const [version, setVersion] = useState(0);
  useEffect(() => {
    const watch = new MutationObserver(() => setVersion((n) => n + 1));
    watch.observe(document.documentElement, { attributes: true, attributeFilter: ['data-mantine-color-scheme'] });
    return () => watch.disconnect();
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme's change is what makes the tokens differ
  return useMemo(() => {
    const style = getComputedStyle(document.documentElement);
    const token = (name: string) => style.getPropertyValue(`--kl-${name}`).trim() || 'gray';
    return { ink9: token('ink9'), ink6: token('ink6'), line: token('line'), kite: token('kite') };
  }, [version]);
}

const SIDE = 1024;

function Lit({ meshes, walls, selected, outline }: { meshes: Schemas['SurfaceMesh'][]; walls: Set<string>; selected: string | null; outline: string }) {
  const invalidate = useThree((s) => s.invalidate);
  const texture = useMemo(() => {
    const t = new CanvasTexture(stage.canvas);
    t.flipY = false;
    t.colorSpace = SRGBColorSpace;
    t.generateMipmaps = false;
    t.minFilter = LinearFilter;
    t.premultiplyAlpha = false;
    return t;
  }, []);
  const [, repack] = useState('');
  useEffect(
    () =>
      stage.watch(() => {
        texture.needsUpdate = true;
        repack(meshes.map((m) => JSON.stringify(stage.spot(m.surface))).join());
        invalidate();
      }),
    [texture, invalidate, meshes],
  );
  useEffect(() => () => texture.dispose(), [texture]);
  return meshes.map((m) => <Surface key={m.surface} mesh={m} texture={texture} selected={m.surface === selected} outline={outline} panels={walls.has(m.surface)} />);
}

function Surface({ mesh, texture, selected, outline, panels }: { mesh: Schemas['SurfaceMesh']; texture: CanvasTexture; selected: boolean; outline: string; panels: boolean }) {
  const spot = stage.spot(mesh.surface);
  const spotKey = JSON.stringify(spot);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the spot is compared by its contents
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(new Float32Array(mesh.positions), 3));
    const uv = new Float32Array(mesh.uvs);
    const at = spot ?? { x: 0, y: 0, width: 0, height: 0 };
    for (let i = 0; i < uv.length; i += 2) {
      // Half a pixel within, so that a neighbour on the stage does not shine in at the edge.
      uv[i] = (at.x + 0.5 + (uv[i] ?? 0) * (at.width - 1)) / SIDE;
      uv[i + 1] = (at.y + 0.5 + (uv[i + 1] ?? 0) * (at.height - 1)) / SIDE;
    }
    g.setAttribute('uv', new BufferAttribute(uv, 2));
    g.setIndex(mesh.indices);
    return g;
  }, [mesh, spotKey]);
  const edges = useMemo(() => {
    // A wall shows its panels, a face only where it ends or breaks.
    if (!panels) {
      const whole = new BufferGeometry();
      whole.setAttribute('position', new BufferAttribute(new Float32Array(mesh.positions), 3));
      whole.setIndex(mesh.indices);
      return new EdgesGeometry(whole, 20);
    }
    const lines: number[] = [];
    const at = (v: number) => mesh.positions.slice(3 * v, 3 * v + 3);
    for (let quad = 0; quad < mesh.positions.length / 12; quad++) for (let k = 0; k < 4; k++) lines.push(...at(quad * 4 + k), ...at(quad * 4 + ((k + 1) % 4)));
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(new Float32Array(lines), 3));
    return g;
  }, [mesh, panels]);
  const matrix = useMemo(() => new Matrix4().fromArray(mesh.matrix), [mesh]);
  return (
    <group matrix={matrix} matrixAutoUpdate={false}>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: a mesh of the 3D scene; surfaces are found by keyboard in the field above it */}
      <mesh
        geometry={geometry}
        onClick={(e) => {
          e.stopPropagation();
          select({ kind: 'surface', id: mesh.surface });
        }}
      >
        <meshBasicMaterial map={texture} toneMapped={false} side={DoubleSide} />
      </mesh>
      <lineSegments geometry={edges}>
        <lineBasicMaterial color={outline} transparent opacity={selected ? 0.9 : 0.12} />
      </lineSegments>
    </group>
  );
}

function View({ meshes, fit, selected }: { meshes: Schemas['SurfaceMesh'][]; fit: number; selected: string | null }) {
  const controls = useRef<Controls>(null);
  const camera = useThree((s) => s.camera) as PerspectiveCamera;
  const size = useThree((s) => s.size);
  const invalidate = useThree((s) => s.invalidate);
  const fitted = useRef(-1);
  const count = meshes.length;
  useEffect(() => {
    if (count === 0 || fitted.current === fit) return;
    const box = new Box3();
    const point = new Vector3();
    const chosen = fit > 0 && selected !== null ? meshes.filter((m) => m.surface === selected) : meshes;
    for (const m of chosen) {
      const matrix = new Matrix4().fromArray(m.matrix);
      for (let i = 0; i < m.positions.length; i += 3) box.expandByPoint(point.fromArray(m.positions, i).applyMatrix4(matrix));
    }
    fitted.current = fit;
    const centre = box.getCenter(new Vector3());
    const extent = box.getSize(new Vector3());
    const half = Math.tan((camera.fov * Math.PI) / 360);
    const distance = 1.15 * Math.max(extent.y / 2 / half, extent.x / 2 / (half * (size.width / size.height))) + extent.z / 2;
    camera.position.set(centre.x, centre.y + distance * 0.12, centre.z + distance);
    controls.current?.target.copy(centre);
    controls.current?.update();
    invalidate();
  }, [count, fit, meshes, selected, camera, size, invalidate]);
  return <OrbitControls ref={controls} makeDefault enableDamping={false} maxDistance={400} />;
}

function AddWall({ onClose }: { onClose: () => void }) {
  const show = useShow();
  const stored = useRows('panel');
  const library = useQuery({ queryKey: ['panels'], queryFn: () => api<{ panels: Omit<RowOf<'panel'>, 'id'>[] }>('panels') }).data?.panels ?? [];
  const [name, setName] = useState(`Wall ${(show?.rows.surface.length ?? 0) + 1}`);
  const [choice, setChoice] = useState(stored[0]?.id ?? 'Indoor 2.6 · 500 × 500');
  const [columns, setColumns] = useState(6);
  const [rows, setRows] = useState(3);
  const panel = stored.find((p) => p.id === choice) ?? library.find((p) => p.name === choice);
  const figures = useQuery({
    queryKey: ['wall', panel, columns, rows],
    queryFn: () => api<Schemas['WallFigures']>('walls/figures', { body: { panel, columns, rows } }),
    enabled: panel !== undefined,
    placeholderData: (old) => old,
    retry: 0,
  });
  const add = async () => {
    if (panel === undefined) return;
    const known = stored.find((p) => p.id === choice);
    const panelId = known?.id ?? ulid();
    const id = ulid();
    const top = Math.max(0, ...(show?.rows.surface ?? []).map((s) => s.position[0] ?? 0));
    const done = await edit(`Add ${name}`, [
      ...(known === undefined ? [insert('panel', panelId, panel)] : []),
      insert('surface', id, {
        name,
        kind: 'wall',
        position: [(show?.rows.surface.length ?? 0) === 0 ? 0 : top + (figures.data?.widthMetres ?? 4) + 0.5, 0, 0],
        rotation: [0, 0, 0],
        cells: Array.from({ length: rows }, () => Array(columns).fill(panelId)),
        seams: Array(columns - 1).fill(0),
      }),
    ]);
    if (done) {
      select({ kind: 'surface', id });
      onClose();
    }
  };
  return (
    <Modal opened onClose={onClose} title="A wall of LED panels" size={560} centered>
      <form
        style={{ display: 'grid', gridTemplateColumns: '1fr 220px', gap: 20 }}
        onSubmit={(e) => {
          e.preventDefault();
          void add();
        }}
      >
        <div style={{ display: 'grid', gap: 10, alignContent: 'start' }}>
          <TextInput label="Name" data-autofocus value={name} onChange={(e) => setName(e.currentTarget.value)} />
          <NativeSelect
            label="Panel"
            size="xs"
            value={choice}
            onChange={(e) => setChoice(e.currentTarget.value)}
            data={[...stored.map((p) => ({ value: p.id, label: p.name })), ...library.filter((u) => !stored.some((p) => p.name === u.name)).map((u) => ({ value: u.name, label: u.name }))]}
          />
          <div className="row2">
            <NumberField label="Columns" digits={0} value={columns} onChange={(v) => setColumns(Math.round(v))} />
            <NumberField label="Rows" digits={0} value={rows} onChange={(v) => setRows(Math.round(v))} />
          </div>
        </div>
        <div>{figures.isError ? <p className="state-fault">✕ {(figures.error as Error).message}</p> : figures.data !== undefined && <WallFigures figures={figures.data} />}</div>
        <button type="submit" className="plain primary" style={{ gridColumn: '1 / 3', textAlign: 'center', padding: 8 }}>
          Add {name.trim() === '' ? 'the wall' : name}
        </button>
      </form>
    </Modal>
  );
}

/** A face to project on, to be shaped in the details. */
function AddFace({ onClose }: { onClose: () => void }) {
  const count = useRows('surface').length;
  const [kind, setKind] = useState('flat');
  const [name, setName] = useState(`Face ${count + 1}`);
  const add = async () => {
    const id = ulid();
    if (await edit(`Add ${name}`, [insert('surface', id, { name, kind, position: [0, 0, -2], rotation: [0, 0, 0], shape: { pixelsPerMetre: 100 } as unknown as RowOf<'surface'>['shape'] })])) {
      select({ kind: 'surface', id });
      onClose();
    }
  };
  return (
    <Modal opened onClose={onClose} title="A face to project on" centered>
      <form
        style={{ display: 'grid', gap: 10 }}
        onSubmit={(e) => {
          e.preventDefault();
          void add();
        }}
      >
        <TextInput label="Name" data-autofocus value={name} onChange={(e) => setName(e.currentTarget.value)} />
        <Select
          label="Shape"
          allowDeselect={false}
          value={kind}
          onChange={(v) => setKind(v ?? kind)}
          data={[
            { value: 'flat', label: 'Flat' },
            { value: 'box', label: 'Box' },
            { value: 'drum', label: 'Drum' },
          ]}
        />
        <button type="submit" className="plain primary" style={{ textAlign: 'center', padding: 8 }} disabled={name.trim() === ''}>
          Add {name}
        </button>
      </form>
    </Modal>
  );
}
