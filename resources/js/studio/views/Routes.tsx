import { useEffect, useRef } from 'react';
import type { Schemas } from '../../api/client';
import { Aims } from '../frame/details/aims';
import { Sign } from '../frame/Kite';
import { useReach, useRows, useShow } from '../hooks';
import { stage } from '../stage/stage';
import { select, useStudio } from '../store';

/** Which layer reaches which surface, and how its pictures fit there. */
export function Routes() {
  const show = useShow();
  const layers = [...useRows('layer')].sort((a, b) => b.order - a.order);
  const surfaces = useRows('surface');
  const selected = useStudio((s) => s.selected);
  const routes = useRows('route');
  const layer = layers.find((l) => l.id === selected?.id) ?? layers[0];
  const reach = useReach(layer);
  const reachOf = (l: (typeof layers)[number]) => routes.find((r) => r.id === l.route)?.surfaces ?? [];
  if (layers.length === 0) {
    return (
      <div className="empty">
        <strong>No layer yet</strong>A route leads from a layer of the timeline to surfaces. Add a layer in Timeline, then aim it here.
      </div>
    );
  }
  const uses = Object.values(show?.computed.placements ?? {}).filter((p) => p.layer === layer?.id);
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '230px 1fr', flex: 1, minHeight: 0 }}>
      <div style={{ borderRight: '1px solid var(--kl-line)', overflow: 'auto' }} role="listbox" aria-label="Layers">
        {layers.map((l) => (
          <div
            key={l.id}
            role="option"
            tabIndex={0}
            aria-selected={l.id === layer?.id}
            onClick={() => select({ kind: 'layer', id: l.id })}
            onKeyDown={(e) => e.key === 'Enter' && select({ kind: 'layer', id: l.id })}
            style={{ padding: '10px 14px', borderBottom: '1px solid var(--kl-line)', cursor: 'pointer', background: l.id === layer?.id ? 'var(--kl-kiteWash)' : undefined }}
          >
            <div style={{ fontSize: 15 }}>{l.name}</div>
            <div className="dim" style={{ fontSize: 13 }}>
              {reachOf(l).length === 0
                ? 'aimed at nothing'
                : `▸ ${reachOf(l)
                    .map((a) => surfaces.find((s) => s.id === a)?.name ?? 'gone')
                    .join(', ')}`}
            </div>
          </div>
        ))}
      </div>
      <div style={{ overflow: 'auto', padding: 18 }}>
        {layer !== undefined && (
          <>
            <div style={{ maxWidth: 520 }}>
              <Aims row={layer} surfaces={surfaces} />
            </div>
            {uses.length === 0 && <p className="dim">{reach.length === 0 ? 'Aim this layer at a surface.' : 'This layer has no clips yet, so nothing has to fit.'}</p>}
            <div style={{ display: 'flex', flexWrap: 'wrap', gap: 20, marginTop: 18 }}>
              {uses.map((use) => (
                <Fit key={use.surface + use.media} use={use} fitting={layer.fitting} />
              ))}
            </div>
          </>
        )}
      </div>
    </div>
  );
}

const n = (v: number) => Number(v.toFixed(1)).toLocaleString('en');

/** The pane, the content on it, and both in numbers. */
function Fit({ use, fitting }: { use: Schemas['PlacedUse']; fitting: string }) {
  const surface = useRows('surface').find((s) => s.id === use.surface);
  const media = useRows('media').find((m) => m.id === use.media);
  const figures = useShow()?.computed.surfaces[use.surface];
  const p = use.placement;
  if (figures === undefined || surface === undefined || media === undefined) return null;
  const [pw, ph] = [figures.rasterWidth, figures.rasterHeight];
  const [x, y, w, h] = p?.rectangle ?? [0, 0, 0, 0];
  const left = Math.min(0, x as number);
  const top = Math.min(0, y as number);
  const right = Math.max(pw, (x as number) + (w as number));
  const bottom = Math.max(ph, (y as number) + (h as number));
  const pad = 0.04 * Math.max(right - left, bottom - top);
  const stroke = Math.max(right - left, bottom - top) / 300;
  return (
    <figure style={{ margin: 0, width: 298 }}>
      <div style={{ position: 'relative', height: 190, border: '1px solid var(--kl-line)', background: 'var(--kl-ink8)' }}>
        <svg viewBox={`${left - pad} ${top - pad} ${right - left + 2 * pad} ${bottom - top + 2 * pad}`} style={{ width: '100%', height: '100%' }} role="img" aria-label={`${media.name} on ${surface.name}`}>
          <foreignObject x={0} y={0} width={pw} height={ph}>
            <LitRaster surface={use.surface} />
          </foreignObject>
          <rect x={0} y={0} width={pw} height={ph} fill="none" stroke="var(--kl-text)" strokeWidth={stroke} />
          {p !== null && (
            <>
              <rect x={x} y={y} width={w} height={h} fill="none" stroke="var(--kl-kite)" strokeWidth={stroke * 1.4} strokeDasharray={`${stroke * 6} ${stroke * 4}`} />
              <path d={`M${x} ${y}l${w} ${h}M${(x as number) + (w as number)} ${y}l${-(w as number)} ${h}`} stroke="var(--kl-kite)" strokeWidth={stroke * 0.5} opacity={0.5} />
            </>
          )}
        </svg>
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
              <dt>Placement ({fitting})</dt>
              <dd className="mono">
                {n(x as number)}, {n(y as number)} · {n(w as number)} × {n(h as number)}
              </dd>
              <dt>UV window</dt>
              <dd className="mono">{p.window.map((v) => v.toFixed(4)).join(' ')}</dd>
            </>
          )}
        </dl>
        {p === null ? (
          <div className="state-attention">▲ It has no picture yet.</div>
        ) : p.remarks.length === 0 ? (
          <div>
            <Sign state="ok" /> Fits as it was made.
          </div>
        ) : (
          p.remarks.map((r) => (
            <div key={r}>
              <Sign state="attention" /> {r}
            </div>
          ))
        )}
      </figcaption>
    </figure>
  );
}

/** What a surface shows now, as large as its box. */
export function LitRaster({ surface }: { surface: string }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(
    () =>
      stage.watch(() => {
        const canvas = ref.current;
        const spot = stage.spot(surface);
        if (canvas === null || spot === undefined) return;
        if (canvas.width !== spot.width) canvas.width = spot.width;
        if (canvas.height !== spot.height) canvas.height = spot.height;
        canvas.getContext('2d')?.drawImage(stage.canvas, spot.x, spot.y, spot.width, spot.height, 0, 0, spot.width, spot.height);
      }),
    [surface],
  );
  return <canvas ref={ref} style={{ width: '100%', height: '100%', display: 'block', background: 'black' }} />;
}
