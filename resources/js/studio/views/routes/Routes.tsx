import { Menu } from '@mantine/core';
import { Fragment, lazy, Suspense, useEffect, useState } from 'react';
import type { RowOf } from '../../../api/client';
import { Sign } from '../../frame/Kite';
import { useRows, useShow } from '../../hooks';
import { route as order, select, timelinesOf, useStudio } from '../../store';
import { setVenue, useVenueState } from '../venue/state';
import { useTokens } from '../venue/tokens';
import { Fits } from './Fits';
import { Matrix } from './Matrix';
import { PaneEditor } from './PaneEditor';
import { AskedRaster, type Pixel, PixelTrace } from './PixelTrace';

const Scene = lazy(() => import('../venue/Scene').then((m) => ({ default: m.Scene })));

/** What each reach is, in a few words. */
const REACHES = [
  { reach: 'skin', says: 'the raster of each surface' },
  { reach: 'canvas', says: 'shares of one large pane' },
  { reach: 'lens', says: 'thrown from virtual cameras' },
  { reach: 'globe', says: 'wrapped on a sphere' },
] as const;

/** Which layer reaches which surface, by which route, and how its pictures fit there. */
export default function Routes() {
  const show = useShow();
  const lines = [...timelinesOf(show)].reverse();
  const all = useRows('layer');
  const groups = lines
    .map((line) => ({ line, layers: all.filter((l) => l.timeline === line.id).sort((a, b) => b.order - a.order) }))
    .filter((group) => group.layers.length > 0);
  const layers = groups.flatMap((group) => group.layers);
  const routes = useRows('route');
  const shares = useRows('share');
  const lenses = useRows('lens');
  const selected = useStudio((s) => s.selected);
  const [matrix, setMatrix] = useState(false);
  const [venue, setVenueShown] = useState(false);
  // A press there is about content, not about things that stand.
  useEffect(() => {
    setVenue({ asking: venue, asked: null });
    return () => setVenue({ asking: false, asked: null });
  }, [venue]);
  const named = routes.filter((r) => r.layer === null).sort((a, b) => (a.name < b.name ? -1 : 1));
  const of =
    selected?.kind === 'share'
      ? shares.find((s) => s.id === selected.id)?.route
      : selected?.kind === 'lens'
        ? lenses.find((l) => l.id === selected.id)?.route
        : selected?.kind === 'route'
          ? selected.id
          : undefined;
  const route = named.find((r) => r.id === of);
  const layer = route !== undefined ? undefined : (layers.find((l) => l.id === selected?.id) ?? layers[0]);
  const add = async (reach: RowOf<'route'>['reach']) => {
    const taken = new Set(named.map((r) => r.name));
    let n = 1;
    const word = `${reach[0]?.toUpperCase()}${reach.slice(1)}`;
    while (taken.has(`${word} ${n}`)) n++;
    const id = await order({
      action: 'name',
      name: `${word} ${n}`,
      reach,
      surfaces: show?.rows.surface.filter((s) => !s.hidden).map((s) => s.id) ?? [],
    });
    if (id !== null && id !== '') select({ kind: 'route', id });
  };
  return (
    <>
      <div className="bar">
        <Menu position="bottom-start">
          <Menu.Target>
            <button type="button" className="plain primary">
              Add a route
            </button>
          </Menu.Target>
          <Menu.Dropdown>
            {REACHES.map(({ reach, says }) => (
              <Menu.Item key={reach} onClick={() => void add(reach)}>
                {reach} <span className="dim">{says}</span>
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
        <button type="button" className="plain" aria-pressed={matrix} onClick={() => setMatrix((m) => !m)}>
          Matrix
        </button>
        <button
          type="button"
          className="plain"
          aria-pressed={venue}
          disabled={matrix}
          onClick={() => setVenueShown((v) => !v)}
        >
          Venue
        </button>
        <span className="grow" />
        {!matrix && route !== undefined && <PaneTools route={route} />}
      </div>
      {matrix ? (
        <Matrix layers={layers} />
      ) : (
        <div style={{ display: 'grid', gridTemplateColumns: '214px 1fr', flex: 1, minHeight: 0 }}>
          <div
            style={{ borderRight: '1px solid var(--kl-line)', overflow: 'auto' }}
            role="listbox"
            aria-label="Routes and layers"
          >
            {named.length > 0 && <Heading text="Routes" />}
            {named.map((r) => (
              <Entry
                key={r.id}
                on={r.id === route?.id}
                name={r.name}
                says={routeWords(r, show?.computed.routes[r.id]?.surfaces.length ?? 0)}
                onPress={() => select({ kind: 'route', id: r.id })}
                finding={show?.computed.findings[`route ${r.id}`] !== undefined}
              />
            ))}
            {groups.map((group) => (
              <Fragment key={group.line.id}>
                <Heading text={groups.length > 1 ? `Layers of ${group.line.name}` : 'Layers'} />
                {group.layers.map((l) => {
                  const taken = routes.find((r) => r.id === l.route);
                  const reached = show?.computed.routes[l.route ?? '']?.surfaces ?? [];
                  const names = `${reached
                    .slice(0, 3)
                    .map((id) => show?.rows.surface.find((s) => s.id === id)?.name ?? 'gone')
                    .join(', ')}${reached.length > 3 ? ` and ${reached.length - 3} more` : ''}`;
                  return (
                    <Entry
                      key={l.id}
                      on={l.id === layer?.id}
                      name={l.name}
                      says={
                        taken !== undefined && taken.layer === null
                          ? `▸ ${taken.name}`
                          : reached.length === 0
                            ? 'aimed at nothing'
                            : `▸ ${names}`
                      }
                      onPress={() => select({ kind: 'layer', id: l.id })}
                      finding={show?.computed.findings[`layer ${l.id}`] !== undefined}
                    />
                  );
                })}
              </Fragment>
            ))}
            {layers.length === 0 && named.length === 0 && (
              <div className="empty">
                <strong>No layer yet</strong>A route leads from a layer of the timeline to surfaces.
              </div>
            )}
          </div>
          {route !== undefined ? (
            <div style={{ display: 'grid', gridTemplateRows: '1fr auto', minWidth: 0, minHeight: 0 }}>
              <PaneEditor key={route.id} route={route} />
              {venue ? <Beside /> : <Lit surfaces={show?.computed.routes[route.id]?.surfaces ?? []} />}
            </div>
          ) : (
            <div style={{ display: 'grid', gridTemplateRows: '1fr auto', minWidth: 0, minHeight: 0 }}>
              <div style={{ overflow: 'auto', padding: 18 }}>{layer !== undefined && <Fits layer={layer} />}</div>
              {venue ? (
                <Beside />
              ) : (
                layer !== undefined && (
                  <Lit key={layer.id} surfaces={show?.computed.routes[layer.route ?? '']?.surfaces ?? []} />
                )
              )}
            </div>
          )}
        </div>
      )}
    </>
  );
}

const routeWords = (r: RowOf<'route'>, surfaces: number) =>
  `${r.reach} · ${surfaces} ${surfaces === 1 ? 'surface' : 'surfaces'}${r.width > 0 ? ` · ${r.width} × ${r.height}` : ''}`;

/** How many surfaces are shown beside the pane. */
const BESIDE = 12;

/** What the surfaces of a route show now, and what a pixel of them is. */
function Lit({ surfaces }: { surfaces: string[] }) {
  const [asked, ask] = useState<Pixel | null>(null);
  if (surfaces.length === 0) return null;
  return (
    <div
      style={{ display: 'flex', gap: 14, padding: '10px 16px 8px', borderTop: '1px solid var(--kl-line)', minWidth: 0 }}
    >
      <ul
        aria-label="On the surfaces"
        style={{
          display: 'flex',
          gap: 12,
          overflowX: 'auto',
          margin: 0,
          padding: 0,
          listStyle: 'none',
          flex: 1,
          minWidth: 0,
        }}
      >
        {surfaces.slice(0, BESIDE).map((id) => (
          <AskedRaster key={id} surface={id} height={112} asked={asked} ask={ask} />
        ))}
      </ul>
      {asked !== null && <PixelTrace pixel={asked} />}
    </div>
  );
}

/** The venue beside the pane: what lies on a surface is asked about and moved there. */
function Beside() {
  const colours = useTokens();
  const asked = useVenueState((s) => s.asked);
  return (
    <div style={{ height: 300, position: 'relative', display: 'flex', borderTop: '1px solid var(--kl-line)' }}>
      <Suspense fallback={null}>
        <Scene colours={colours} light={undefined} />
      </Suspense>
      {asked !== null && (
        <div className="asked">
          <PixelTrace pixel={asked} />
        </div>
      )}
    </div>
  );
}

function Heading({ text }: { text: string }) {
  return (
    <div className="dim" role="presentation" style={{ fontSize: 12, padding: '10px 14px 4px' }}>
      {text}
    </div>
  );
}

function Entry({
  on,
  name,
  says,
  finding,
  onPress,
}: {
  on: boolean;
  name: string;
  says: string;
  finding: boolean;
  onPress: () => void;
}) {
  return (
    <div
      role="option"
      tabIndex={0}
      aria-selected={on}
      onClick={onPress}
      onKeyDown={(e) => e.key === 'Enter' && onPress()}
      style={{
        padding: '8px 14px',
        borderBottom: '1px solid var(--kl-line)',
        cursor: 'pointer',
        background: on ? 'var(--kl-kiteWash)' : undefined,
        contentVisibility: 'auto',
        containIntrinsicSize: 'auto 50px',
      }}
    >
      <div style={{ fontSize: 15, display: 'flex', justifyContent: 'space-between', gap: 6 }}>
        <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{name}</span>
        {finding && <Sign state="attention" />}
      </div>
      <div className="dim" style={{ fontSize: 12 }}>
        {says}
      </div>
    </div>
  );
}

/** What can be done to the pane as a whole. */
function PaneTools({ route }: { route: RowOf<'route'> }) {
  if (route.reach === 'lens')
    return (
      <button
        type="button"
        className="plain"
        onClick={async () => {
          const id = await order({ action: 'addLens', route: route.id });
          if (id) select({ kind: 'lens', id });
        }}
      >
        Add a lens
      </button>
    );
  if (route.reach !== 'canvas') return null;
  return (
    <>
      <span className="dim" style={{ fontSize: 12 }}>
        Lay out
      </span>
      {(
        [
          ['front', 'As seen from the front, at one density'],
          ['row', 'Side by side, each at its own raster'],
          ['packed', 'Close together, each at its own raster'],
        ] as const
      ).map(([how, says]) => (
        <button
          key={how}
          type="button"
          className="plain"
          title={says}
          onClick={() => void order({ action: 'lay', route: route.id, how })}
        >
          {how}
        </button>
      ))}
    </>
  );
}
