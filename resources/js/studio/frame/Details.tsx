import { Select } from '@mantine/core';
import { type ComponentType, lazy, Suspense } from 'react';
import type { Kind, Schemas } from '../../api/client';
import { NameField } from '../fields/fields';
import { useShow } from '../hooks';
import { edit, useStudio } from '../store';
import { Overview } from './details/overview';
import { Fence } from './Fence';
import { Findings } from './parts';

/** The details of each kind, fetched when one is first shown. */
const panels: Partial<Record<Kind, ComponentType<{ id: string }>>> = {
  surface: lazy(() => import('../views/venue/details').then((m) => ({ default: m.SurfaceDetails }))),
  media: lazy(() => import('./details/media').then((m) => ({ default: m.MediaDetails }))),
  layer: lazy(() => import('./details/programme').then((m) => ({ default: m.LayerDetails }))),
  clip: lazy(() => import('./details/programme').then((m) => ({ default: m.ClipDetails }))),
  marker: lazy(() => import('./details/programme').then((m) => ({ default: m.MarkerDetails }))),
  cue: lazy(() => import('./details/cues').then((m) => ({ default: m.CueDetails }))),
  page: lazy(() => import('./details/cues').then((m) => ({ default: m.PageDetails }))),
  group: lazy(() => import('./details/cues').then((m) => ({ default: m.GroupDetails }))),
  output: lazy(() => import('./details/outputs').then((m) => ({ default: m.OutputDetails }))),
  region: lazy(() => import('./details/regions').then((m) => ({ default: m.RegionDetails }))),
  server: lazy(() => import('./details/outputs').then((m) => ({ default: m.ServerDetails }))),
  feed: lazy(() => import('./details/outputs').then((m) => ({ default: m.FeedDetails }))),
  mask: lazy(() => import('./details/outputs').then((m) => ({ default: m.MaskDetails }))),
  patch: lazy(() => import('./details/lights').then((m) => ({ default: m.PatchDetails }))),
  node: lazy(() => import('./details/lights').then((m) => ({ default: m.NodeDetails }))),
  fixture: lazy(() => import('./details/lights').then((m) => ({ default: m.FixtureDetails }))),
  personality: lazy(() => import('./details/bindings').then((m) => ({ default: m.PersonalityDetails }))),
  device: lazy(() => import('./details/controls').then((m) => ({ default: m.DeviceDetails }))),
  binding: lazy(() => import('./details/controls').then((m) => ({ default: m.BindingDetails }))),
  touchItem: lazy(() => import('./details/panels').then((m) => ({ default: m.TouchItemDetails }))),
  control: lazy(() => import('./details/bindings').then((m) => ({ default: m.ControlDetails }))),
  route: lazy(() => import('./details/routes').then((m) => ({ default: m.RouteDetails }))),
  share: lazy(() => import('./details/routes').then((m) => ({ default: m.ShareDetails }))),
  lens: lazy(() => import('./details/routes').then((m) => ({ default: m.LensDetails }))),
  timeline: lazy(() => import('./details/programme').then((m) => ({ default: m.TimelineDetails }))),
  panel: lazy(() => import('../views/venue/details').then((m) => ({ default: m.PanelDetails }))),
  rig: lazy(() => import('../views/venue/details').then((m) => ({ default: m.RigDetails }))),
  projector: lazy(() => import('../views/venue/details').then((m) => ({ default: m.ProjectorDetails }))),
  camera: lazy(() => import('../views/venue/details').then((m) => ({ default: m.CameraDetails }))),
  prop: lazy(() => import('../views/venue/details').then((m) => ({ default: m.PropDetails }))),
  seat: lazy(() => import('../views/venue/details').then((m) => ({ default: m.SeatDetails }))),
};
const RegionsDetails = lazy(() => import('./details/regions').then((m) => ({ default: m.RegionsDetails })));
const ManyDetails = lazy(() => import('../views/venue/details').then((m) => ({ default: m.ManyDetails })));

export function Details() {
  const open = useStudio((s) => s.detailsOpen);
  const selected = useStudio((s) => s.selected);
  const chosen = useStudio((s) => s.chosen);
  if (!open) return null;
  const Panel = selected === null ? undefined : panels[selected.kind];
  return (
    <aside className="details" aria-label="Details">
      <Fence of={`The details of ${selected === null ? 'the show' : `this ${selected.kind}`}`}>
        <Suspense fallback={null}>
          {chosen.length > 1 && chosen.every((one) => one.kind === 'region') ? (
            <RegionsDetails ids={chosen.map((one) => one.id)} />
          ) : chosen.length > 1 ? (
            <ManyDetails chosen={chosen} />
          ) : Panel === undefined || selected === null ? (
            <ShowDetails />
          ) : (
            <Panel key={selected.id} id={selected.id} />
          )}
        </Suspense>
      </Fence>
    </aside>
  );
}

function ShowDetails() {
  const show = useShow();
  const view = useStudio((s) => s.view);
  if (show === undefined) return null;
  const change = (fields: { name?: string; frameRate?: RateName }) =>
    edit('Change the show', [
      {
        kind: 'show',
        id: show.id,
        op: 'update',
        fields: Object.fromEntries(
          Object.entries(fields).map(([f, after]) => [f, { before: show[f as 'name'], after }]),
        ),
      },
    ]);
  return (
    <>
      <h2>{show.name}</h2>
      <Overview view={view} />
      <Findings />
      <h3>Show</h3>
      <NameField label="Name" value={show.name} onChange={(name) => change({ name })} />
      <Select
        label="Frame rate"
        value={show.frameRate}
        data={['23.976', '24', '25', '29.97', '30', '48', '50', '59.94', '60', '100', '119.88', '120']}
        allowDeselect={false}
        onChange={(v) => v !== null && void change({ frameRate: v as RateName })}
        mt={8}
      />
      <p className="dim" style={{ fontSize: 12, marginTop: 18 }}>
        <span className="mono">Ctrl+K</span> finds every action, <span className="mono">?</span> shows the keys.
        Revision <span className="mono">{show.revision}</span>.{' '}
        <a href="/licences.txt" target="_blank" rel="noreferrer" style={{ color: 'inherit' }}>
          Third-party notices
        </a>
      </p>
    </>
  );
}

type RateName = Schemas['ShowHead']['frameRate'];
