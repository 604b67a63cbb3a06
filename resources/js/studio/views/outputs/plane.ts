import { type KeyboardEvent, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { panned } from '../../hand';

/** How far one may look in. */
const NEAREST = 64;

/** Where an output's raster lies in the work area: how large, and how far it was moved. */
export interface Plane {
  scale: number;
  left: number;
  top: number;
}

/**
 * A raster that fits its room, into which one may zoom by the wheel, + and −, and which is moved by dragging on empty ground; 0 fits
 * it again.
 */
export function usePlane(width: number, height: number) {
  const area = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 800, height: 500 });
  const [zoom, setZoom] = useState({ by: 1, x: 0, y: 0 });
  useLayoutEffect(() => {
    const node = area.current;
    if (node === null) return;
    const watch = new ResizeObserver(() => setBox({ width: node.clientWidth, height: node.clientHeight }));
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  const fit = Math.min((box.width - 72) / width, (box.height - 84) / height);
  const scale = fit * zoom.by;
  const plane: Plane = {
    scale,
    left: (box.width - width * scale) / 2 + zoom.x,
    top: (box.height - height * scale) / 2 + zoom.y,
  };
  /** Nearer or farther, a place of the area staying where it is. */
  const look = (factor: number, at = { x: box.width / 2, y: box.height / 2 }) =>
    setZoom((z) => {
      const by = Math.min(NEAREST, Math.max(1, z.by * factor));
      const f = by / z.by;
      return by === 1
        ? { by: 1, x: 0, y: 0 }
        : { by, x: (at.x - box.width / 2) * (1 - f) + z.x * f, y: (at.y - box.height / 2) * (1 - f) + z.y * f };
    });
  const see = useRef(look);
  see.current = look;
  useEffect(() => {
    const node = area.current;
    if (node === null) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const { left, top } = node.getBoundingClientRect();
      see.current(Math.exp(-e.deltaY / 400), { x: e.clientX - left, y: e.clientY - top });
    };
    node.addEventListener('wheel', wheel, { passive: false });
    const ends = panned(node, (dx, dy) => setZoom((z) => ({ ...z, x: z.x + dx, y: z.y + dy })));
    return () => {
      node.removeEventListener('wheel', wheel);
      ends();
    };
  }, []);
  const fitAll = () => setZoom({ by: 1, x: 0, y: 0 });
  /** Looks nearer, farther or at all of it by a key; whether it was one of these. */
  const looked = (e: KeyboardEvent) => {
    if (e.key === '+' || e.key === '=') look(1.4);
    else if (e.key === '-') look(1 / 1.4);
    else if (e.key === '0') fitAll();
    else return false;
    e.preventDefault();
    return true;
  };
  return {
    area,
    plane,
    zoomed: zoom.by,
    looked,
    fitAll,
    move: (dx: number, dy: number, from: { x: number; y: number }) =>
      setZoom((z) => ({ ...z, x: from.x + dx, y: from.y + dy })),
    at: zoom,
  };
}
