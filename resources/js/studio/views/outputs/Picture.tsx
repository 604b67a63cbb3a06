import { useEffect, useRef } from 'react';
import { Compositor } from '../../../player/compositor';
import { OutputDrawer } from '../../../player/draw';
import { live, playback, shownPlayback } from '../../store';

/** At most so many pictures a second, in ms between them. */
const PACE = 40;
/** Pixels along a side that it is drawn with at most. */
const LARGEST = 1600;

/** What leaves an output now, drawn by the same passes as its player's, as large as its box. */
export function Picture({ output, width, height }: { output: string; width: number; height: number }) {
  const ref = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const room = ref.current;
    if (room === null) return;
    const canvas = document.createElement('canvas');
    canvas.dataset.output = output;
    Object.assign(canvas.style, { width: '100%', height: '100%', display: 'block', background: 'black' });
    room.append(canvas);
    const compositor = Compositor.onto(canvas, true);
    const drawer = new OutputDrawer(canvas, compositor, shownPlayback, output, () =>
      Math.max(0.02, Math.min(1, LARGEST / Math.max(width, height), (room.clientWidth * devicePixelRatio) / width)),
    );
    let timer = 0;
    const draw = () => {
      timer = 0;
      const now = live.now();
      if (now === null || compositor.gl.isContextLost()) {
        soon(200);
        return;
      }
      const began = performance.now();
      compositor.enter();
      const report = drawer.draw(now);
      canvas.dataset.revision = String(report.revision);
      canvas.dataset.lacks = report.lacks.join('; ');
      if (shownPlayback()?.moves(now) === true) soon(Math.max(PACE, (performance.now() - began) * 2));
      else if (drawer.late || report.lacks.length > 0) soon(150);
    };
    const soon = (ms: number) => {
      if (timer === 0) timer = window.setTimeout(draw, ms);
    };
    const unwatch = playback.watch(() => soon(0));
    const resized = new ResizeObserver(() => soon(0));
    resized.observe(room);
    canvas.addEventListener('webglcontextlost', (event) => event.preventDefault());
    canvas.addEventListener('webglcontextrestored', () => soon(0));
    soon(0);
    return () => {
      unwatch();
      resized.disconnect();
      clearTimeout(timer);
      drawer.composer.close();
      compositor.gl.getExtension('WEBGL_lose_context')?.loseContext();
      canvas.remove();
    };
  }, [output, width, height]);
  return <div ref={ref} style={{ width: '100%', height: '100%' }} />;
}
