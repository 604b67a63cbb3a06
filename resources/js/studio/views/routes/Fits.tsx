import type { RowOf, Schemas } from '../../../api/client';
import { RouteChoice } from '../../frame/details/aims';
import { Sign } from '../../frame/Kite';
import { useRow, useRows, useShow } from '../../hooks';
import { LitRaster } from '../../stage/LitRaster';
import { route as order } from '../../store';

/** Cards shown at once: a layer may reach hundreds of surfaces. */
const SHOWN = 60;

/** How each picture of a layer lands on each surface that it reaches, and what to press where it does not fit. */
export function Fits({ layer }: { layer: RowOf<'layer'> }) {
  const show = useShow();
  const uses = Object.values(show?.computed.placements ?? {}).filter((p) => p.layer === layer.id);
  const first = [...uses].sort(
    (a, b) => Number(b.squashed) - Number(a.squashed) || b.remarks.length - a.remarks.length,
  );
  return (
    <>
      <div style={{ maxWidth: 520 }}>
        <RouteChoice row={layer} />
      </div>
      {uses.length === 0 && (
        <p className="dim">
          {(show?.computed.routes[layer.route ?? '']?.surfaces ?? []).length === 0
            ? 'Aim this layer at a surface.'
            : 'This layer has no clips yet, so nothing has to fit.'}
        </p>
      )}
      <div style={{ display: 'flex', flexWrap: 'wrap', gap: 20, marginTop: 18 }}>
        {first.slice(0, SHOWN).map((use, i) => (
          <Fit key={`${use.surface} ${use.media} ${use.fitting} ${i}`} use={use} layer={layer} />
        ))}
      </div>
      {uses.length > SHOWN && (
        <p className="dim">
          {SHOWN} of {uses.length}, those that do not fit first.
        </p>
      )}
    </>
  );
}

const n = (v: number) => Number(v.toFixed(1)).toLocaleString('en');

/** The pane, the content in it, and both in numbers. */
function Fit({ use, layer }: { use: Schemas['PlacedUse']; layer: RowOf<'layer'> }) {
  const surface = useRow('surface', use.surface);
  const media = useRow('media', use.media);
  const route = useRow('route', layer.route ?? undefined);
  const others = useRows('layer').filter((l) => l.route === layer.route).length - 1;
  const p = use.placement;
  if (surface === undefined || media === undefined || route === undefined) return null;
  const [pw, ph] = use.pane as [number, number];
  const [x, y, w, h] = (p?.rectangle ?? [0, 0, 0, 0]) as [number, number, number, number];
  const [left, top] = [Math.min(0, x), Math.min(0, y)];
  const [right, bottom] = [Math.max(pw, x + w), Math.max(ph, y + h)];
  const pad = 0.04 * Math.max(right - left, bottom - top);
  const stroke = Math.max(right - left, bottom - top) / 300;
  const own = route.width === 0;
  const fitted = (route.fittings as Record<string, string>)[use.surface];
  const fit = (fitting: string) => void order({ action: 'fit', route: route.id, surface: use.surface, fitting });
  return (
    <figure style={{ margin: 0, width: 298 }}>
      <div
        style={{ position: 'relative', height: 176, border: '1px solid var(--kl-line)', background: 'var(--kl-ink8)' }}
      >
        <svg
          viewBox={`${left - pad} ${top - pad} ${right - left + 2 * pad} ${bottom - top + 2 * pad}`}
          style={{ width: '100%', height: '100%' }}
          role="img"
          aria-label={`${media.name} on ${surface.name}`}
        >
          {own && (
            <foreignObject x={0} y={0} width={pw} height={ph}>
              <LitRaster surface={use.surface} />
            </foreignObject>
          )}
          <rect x={0} y={0} width={pw} height={ph} fill="none" stroke="var(--kl-text)" strokeWidth={stroke} />
          {p !== null && (
            <>
              <rect
                x={x}
                y={y}
                width={w}
                height={h}
                fill="none"
                stroke="var(--kl-kite)"
                strokeWidth={stroke * 1.4}
                strokeDasharray={`${stroke * 6} ${stroke * 4}`}
              />
              <path
                d={`M${x} ${y}l${w} ${h}M${x + w} ${y}l${-w} ${h}`}
                stroke="var(--kl-kite)"
                strokeWidth={stroke * 0.5}
                opacity={0.5}
              />
            </>
          )}
        </svg>
        {use.landing !== null && <Circle landing={use.landing} />}
      </div>
      <figcaption style={{ fontSize: 13, marginTop: 6 }}>
        <strong>{media.name}</strong> <span className="dim">▸ {surface.name}</span>
        <dl className="figures" style={{ marginTop: 4 }}>
          <dt>Content</dt>
          <dd className="mono">
            {use.content[0]} × {use.content[1]} px
          </dd>
          <dt>Pane</dt>
          <dd className="mono">
            {pw} × {ph} px
          </dd>
          {p !== null && (
            <>
              <dt>Placement ({use.fitting})</dt>
              <dd className="mono">
                {n(x)}, {n(y)} · {n(w)} × {n(h)}
              </dd>
            </>
          )}
          {use.landing !== null && (
            <>
              <dt>Scale</dt>
              <dd className="mono">
                {use.landing.pixelForPixel
                  ? 'pixel for pixel'
                  : `${(use.landing.across * 100).toFixed(1)} × ${(use.landing.down * 100).toFixed(1)} %`}
              </dd>
            </>
          )}
        </dl>
        {p === null ? (
          <div className="state-attention">▲ It has no picture yet.</div>
        ) : use.remarks.length === 0 ? (
          <div>
            <Sign state="ok" /> Fits as it was made.
          </div>
        ) : (
          use.remarks.map((r) => (
            <div key={r}>
              {r.startsWith('The picture is stretched') ? <Sign state="attention" /> : <span className="dim">·</span>}{' '}
              {r}
            </div>
          ))
        )}
        {(use.squashed || fitted !== undefined) && (
          <div style={{ display: 'flex', gap: 6, marginTop: 6, alignItems: 'center', flexWrap: 'wrap' }}>
            <span className="dim">Here</span>
            {(['cover', 'contain', 'one-to-one'] as const).map((fitting) => (
              <button
                key={fitting}
                type="button"
                className={`plain ${use.squashed && fitting === 'cover' ? 'primary' : ''}`}
                aria-pressed={fitted === fitting}
                aria-label={`${fitting} on ${surface.name}`}
                onClick={() => fit(fitting)}
              >
                {fitting}
              </button>
            ))}
            {fitted !== undefined && (
              <button type="button" className="plain" onClick={() => fit('')}>
                as the layer
              </button>
            )}
            {others > 0 && (
              <span className="dim" style={{ fontSize: 12 }}>
                also {others === 1 ? 'another layer' : `${others} other layers`} on this route
              </span>
            )}
          </div>
        )}
      </figcaption>
    </figure>
  );
}

/** What becomes of a circle: its ellipse over the circle that it was. */
function Circle({ landing }: { landing: Schemas['Landing'] }) {
  const longest = Math.max(landing.longer, landing.shorter);
  if (longest <= 0) return null;
  const [rx, ry] = [(landing.longer / longest) * 15, (landing.shorter / longest) * 15];
  const round = landing.squash < 1.01;
  return (
    <svg
      viewBox="-18 -18 36 36"
      width={36}
      height={36}
      role="img"
      aria-label={round ? 'a circle stays round' : `a circle becomes an ellipse of ${landing.squash.toFixed(2)} to 1`}
      style={{ position: 'absolute', right: 4, bottom: 4, background: 'var(--kl-ink9)', borderRadius: 4 }}
    >
      <circle r={ry} fill="none" stroke="var(--kl-dim)" strokeDasharray="2 2" />
      <ellipse
        rx={rx}
        ry={ry}
        transform={`rotate(${landing.angle})`}
        fill="none"
        stroke={round ? 'var(--kl-sage)' : 'var(--kl-straw)'}
        strokeWidth={1.6}
      />
    </svg>
  );
}
