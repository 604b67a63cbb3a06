/** Fits the raster into its room again, and says how large it is. */
export function FitButton({ scale, zoomed, fit }: { scale: number; zoomed: number; fit: () => void }) {
  return (
    <button type="button" className="plain" onClick={fit} disabled={zoomed === 1} title="0">
      Fit <span className="mono">{Math.round(scale * 100)} %</span>
    </button>
  );
}
