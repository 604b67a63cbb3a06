import type { Schemas } from '../../../../api/client';
import { Figures } from '../../../fields/fields';

export function WallFigures({
  figures: f,
  made,
}: {
  figures: Schemas['WallFigures'];
  made?: [number, number] | undefined;
}) {
  const pitch =
    Math.abs(f.pitchX - f.pitchY) < 0.005
      ? `${f.pitchX.toFixed(2)} mm`
      : `${f.pitchX.toFixed(2)} × ${f.pitchY.toFixed(2)} mm`;
  return (
    <Figures
      of={[
        ['Raster', `${f.rasterWidth} × ${f.rasterHeight} px`],
        ...(made === undefined
          ? []
          : ([
              [
                'Content raster',
                `${made[0]} × ${made[1]} px (${((made[0] / f.rasterWidth) * 100).toFixed(1)} × ${((made[1] / f.rasterHeight) * 100).toFixed(1)} %)`,
              ],
            ] as [string, string][])),
        ['Size', `${f.widthMetres.toFixed(3)} × ${f.heightMetres.toFixed(3)} m`],
        ['Pitch', pitch],
        ['Panels', f.panels],
        ['Lit pixels', f.litPixels.toLocaleString('en')],
        ['Area', `${f.areaSquareMetres.toFixed(2)} m²`],
        ['Weight', `${f.kilograms.toFixed(1)} kg`],
        ['Power, average', `${(f.wattsAverage / 1000).toFixed(2)} kW`],
        ['Power, maximum', `${(f.wattsMaximum / 1000).toFixed(2)} kW`],
      ]}
    />
  );
}
