import { useEffect, useRef } from 'react';
import { type Camera, Vector3 } from 'three';
import type { Schemas } from '../../../api/client';
import type { Tokens } from './Scene';
import { corners, middle, type Thing } from './things';

/** What is written over the 3D picture; set by the scene, drawn with each of its frames. */
export const overlay: {
  labels: { id: string; thing: Thing; words: string; size: Schemas['SurfaceFigures'] | undefined }[];
  chosen: Thing[];
  box: [number, number, number, number] | null;
  measured: Vector3[];
  near: Vector3 | null;
  /** A picture that is looked through: its edges at one metre, and pixels a metre. */
  frame: { left: number; right: number; top: number; bottom: number; scale: number; name: string } | null;
  /** Words beside the handles while something is dragged. */
  said: { at: Vector3; words: string } | null;
  guides: [Vector3, Vector3][];
  /** Where the handles stand. */
  pivot: Vector3 | null;
  hovered: boolean;
  draw: ((camera: Camera, width: number, height: number) => void) | null;
} = {
  labels: [],
  chosen: [],
  box: null,
  measured: [],
  near: null,
  frame: null,
  said: null,
  guides: [],
  pivot: null,
  hovered: false,
  draw: null,
};

const metres = (v: number) => `${v.toFixed(3)} m`;

/** The words of what is measured between two or three vertices. */
export function measuredWords(points: Vector3[]): string {
  const [a, b, c] = points;
  if (a === undefined || b === undefined)
    return 'Press two vertices to measure between them; a third gives the angle at the second.';
  const d = b.clone().sub(a);
  const rise = (Math.atan2(d.y, Math.hypot(d.x, d.z)) * 180) / Math.PI;
  const words = `${metres(d.length())} · X ${metres(Math.abs(d.x))} · Y ${metres(Math.abs(d.y))} · Z ${metres(Math.abs(d.z))} · rises by ${rise.toFixed(2)}°`;
  return c === undefined
    ? words
    : `${words} · angle ${((a.clone().sub(b).angleTo(c.clone().sub(b)) * 180) / Math.PI).toFixed(2)}°`;
}

export function Overlay({ colours }: { colours: Tokens }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const host = canvas.current;
    const g = host?.getContext('2d');
    if (!host || !g) return;
    const point = new Vector3();
    overlay.draw = (camera, width, height) => {
      if (host.width !== width || host.height !== height) [host.width, host.height] = [width, height];
      g.clearRect(0, 0, width, height);
      const at = (v: Vector3): [number, number] | null => {
        point.copy(v).project(camera);
        return point.z > 1 || point.z < -1 ? null : [((point.x + 1) / 2) * width, ((1 - point.y) / 2) * height];
      };
      const line = (a: Vector3, b: Vector3) => {
        const [p, q] = [at(a), at(b)];
        if (p === null || q === null) return;
        g.beginPath();
        g.moveTo(...p);
        g.lineTo(...q);
        g.stroke();
      };
      const taken: [number, number, number][] = [];
      /** Writes where nothing is written yet; what must be read is written anyway. */
      const words = (text: string, v: Vector3 | [number, number], colour: string, must = true) => {
        const p = v instanceof Vector3 ? at(v) : v;
        if (p === null) return;
        g.font = '12px "Atkinson Hyperlegible Mono Variable", monospace';
        g.textAlign = 'center';
        const w = g.measureText(text).width + 8;
        if (!must && taken.some(([x, y, other]) => Math.abs(x - p[0]) < (w + other) / 2 && Math.abs(y - p[1]) < 17))
          return;
        taken.push([p[0], p[1], w]);
        g.fillStyle = colours.ink9;
        g.globalAlpha = 0.8;
        g.fillRect(p[0] - w / 2, p[1] - 9, w, 17);
        g.globalAlpha = 1;
        g.fillStyle = colour;
        g.fillText(text, p[0], p[1] + 4);
      };
      if (overlay.frame !== null) {
        const f = overlay.frame;
        const rect = (share: number): [number, number, number, number] => {
          const [cx, cy] = [(f.left + f.right) / 2, (f.top + f.bottom) / 2];
          const [w, h] = [(f.right - f.left) * share, (f.top - f.bottom) * share];
          return [width / 2 + (cx - w / 2) * f.scale, height / 2 - (cy + h / 2) * f.scale, w * f.scale, h * f.scale];
        };
        const whole = rect(1);
        g.fillStyle = colours.ink9;
        g.globalAlpha = 0.7;
        g.beginPath();
        g.rect(0, 0, width, height);
        g.rect(...whole);
        g.fill('evenodd');
        g.globalAlpha = 1;
        g.strokeStyle = colours.text;
        g.lineWidth = 1;
        g.strokeRect(...whole);
        g.setLineDash([5, 5]);
        g.strokeStyle = colours.dim;
        for (const share of [0.9, 0.8]) g.strokeRect(...rect(share));
        g.setLineDash([]);
        words(f.name, [whole[0] + whole[2] / 2, Math.max(12, whole[1] - 10)], colours.text);
      }
      const first = new Set(overlay.chosen.map((t) => t.id));
      for (const label of [...overlay.labels].sort((a, b) => Number(first.has(b.id)) - Number(first.has(a.id)))) {
        const points = corners(label.thing);
        const top = middle(points.slice());
        top.y = Math.max(...points.map((p) => p.y));
        if (label.words !== '') words(label.words, top, colours.text, false);
        if (label.size !== undefined && points.length === 8) {
          const f = label.size;
          g.strokeStyle = colours.straw;
          g.lineWidth = 1;
          const [p0, p1, p2] = [points[4], points[5], points[6]] as [Vector3, Vector3, Vector3];
          for (const [to, length] of [
            [p1, f.widthMetres ?? p0.distanceTo(p1)],
            [p2, f.heightMetres ?? p0.distanceTo(p2)],
          ] as const) {
            const [a, b] = [at(p0), at(to)];
            // Seen along its length, a dimension says nothing.
            if (a === null || b === null || Math.hypot(a[0] - b[0], a[1] - b[1]) < 24) continue;
            line(p0, to);
            words(metres(length), p0.clone().lerp(to, 0.5), colours.straw, false);
          }
        }
      }
      if (overlay.box !== null) {
        g.strokeStyle = colours.kite;
        g.setLineDash([4, 3]);
        g.strokeRect(...overlay.box);
        g.setLineDash([]);
      }
      g.strokeStyle = colours.loose;
      g.lineWidth = 1;
      for (const [a, b] of overlay.guides) line(a, b);
      g.strokeStyle = colours.straw;
      g.fillStyle = colours.straw;
      g.lineWidth = 1.5;
      overlay.measured.forEach((v, i) => {
        const before = overlay.measured[i - 1];
        if (before !== undefined) line(before, v);
        const p = at(v);
        if (p !== null) g.fillRect(p[0] - 3, p[1] - 3, 6, 6);
      });
      if (overlay.near !== null) {
        const p = at(overlay.near);
        if (p !== null) g.strokeRect(p[0] - 6, p[1] - 6, 12, 12);
        const last = overlay.measured[overlay.measured.length - 1];
        if (last !== undefined && overlay.measured.length < 3) line(last, overlay.near);
      }
      if (overlay.measured.length > 1) words(measuredWords(overlay.measured), [width / 2, height - 40], colours.straw);
      if (overlay.said !== null) words(overlay.said.words, overlay.said.at, colours.kite);
    };
    return () => {
      overlay.draw = null;
    };
  }, [colours]);
  return <canvas ref={canvas} className="overlay" />;
}
