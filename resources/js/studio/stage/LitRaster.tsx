import { useEffect, useRef } from 'react';
import { paneKey, type Stage, stage } from './stage';

/** A picture of the stage, as large as its box. */
function Lit({ spot: name, of = stage }: { spot: string; of?: Stage }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(
    () =>
      of.watch(() => {
        const canvas = ref.current;
        const spot = of.spot(name);
        if (canvas === null || spot === undefined) return;
        if (canvas.width !== spot.width) canvas.width = spot.width;
        if (canvas.height !== spot.height) canvas.height = spot.height;
        canvas
          .getContext('2d')
          ?.drawImage(of.canvas, spot.x, spot.y, spot.width, spot.height, 0, 0, spot.width, spot.height);
      }),
    [name, of],
  );
  return (
    <canvas
      ref={ref}
      data-spot={name}
      style={{ width: '100%', height: '100%', display: 'block', background: 'black' }}
    />
  );
}

/** What a surface shows now. */
export const LitRaster = ({ surface, of }: { surface: string; of?: Stage }) => (
  <Lit spot={surface} {...(of === undefined ? {} : { of })} />
);

/** What lies in the pane of a route now. */
export function LitPane({ route }: { route: string }) {
  useEffect(() => stage.lookInto(route), [route]);
  return <Lit spot={paneKey(route)} />;
}
