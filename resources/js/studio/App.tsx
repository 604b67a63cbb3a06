import { Button, Modal, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { answer, http, type Schemas } from '../api/client';
import { submitted } from './fields/fields';
import { engage } from './frame/actions';
import { Clash } from './frame/Clash';
import { Details } from './frame/Details';
import { Fence } from './frame/Fence';
import { Help, useKeys } from './frame/keys';
import { LearnDialog } from './frame/LearnDialog';
import { Palette } from './frame/Palette';
import { PictureStrip } from './frame/PictureStrip';
import { Engaging } from './frame/ShowMenu';
import { Spine, titles } from './frame/Spine';
import { TraceStrip } from './frame/TraceStrip';
import { TransportBar } from './frame/TransportBar';
import { useShow } from './hooks';
import { addressed, client, complain, openShow, set, showsQuery, useStudio } from './store';
import { ulid } from './time';

/** The views, each fetched when it is first opened. */
const Views = {
  venue: lazy(() => import('./views/venue/Venue')),
  media: lazy(() => import('./views/media/MediaView').then((m) => ({ default: m.MediaView }))),
  routes: lazy(() => import('./views/routes/Routes')),
  timeline: lazy(() => import('./views/timeline/TimelineView').then((m) => ({ default: m.TimelineView }))),
  cues: lazy(() => import('./views/cues/CuesView').then((m) => ({ default: m.CuesView }))),
  outputs: lazy(() => import('./views/outputs/Outputs').then((m) => ({ default: m.Outputs }))),
  bindings: lazy(() => import('./views/Bindings').then((m) => ({ default: m.Bindings }))),
  run: lazy(() => import('./views/Run').then((m) => ({ default: m.Run }))),
};

export function App() {
  const shows = useQuery(showsQuery).data?.shows;
  const showId = useStudio((s) => s.showId);
  const view = useStudio((s) => s.view);
  const said = useStudio((s) => s.said);
  const beginning = useStudio((s) => s.beginning);
  const show = useShow();
  const onAir = shows?.find((s) => s.engaged)?.name;
  useKeys();
  useEffect(() => {
    if (shows === undefined || showId !== null) return;
    // The one that the address names, so that what is read again is what was open; else the one on air.
    const first = shows.find((s) => s.id === addressed()) ?? shows.find((s) => s.engaged) ?? shows[0];
    if (first !== undefined) openShow(first.id);
  }, [shows, showId]);
  useEffect(() => {
    document.title = `${titles[view]} · ${show?.name ?? 'Kite Lamp'}`;
  }, [view, show?.name]);
  if (shows !== undefined && shows.length === 0 && showId === null) return <NewShow />;
  const View = Views[view];
  return (
    <div className={`frame ${show?.engaged === false ? 'looked' : ''}`}>
      <Spine />
      <TraceStrip />
      <main className="work" aria-label={titles[view]}>
        {show?.engaged === false && (
          <div className="bar" role="status">
            <span className="state-attention">
              ▲{' '}
              {onAir === undefined
                ? 'No show is on air.'
                : `On air is “${onAir}”. This show is only looked at, in this window.`}
            </span>
            <button
              type="button"
              className="plain"
              onClick={() => (onAir === undefined ? void engage() : set({ engaging: true }))}
            >
              Put this show on air{onAir === undefined ? '' : ' instead'}
            </button>
          </div>
        )}
        <Fence of={titles[view]}>
          <Suspense fallback={<p className="empty">Loading {titles[view]}…</p>}>
            {show === undefined ? <p className="empty">Loading the show…</p> : <View />}
          </Suspense>
        </Fence>
        <PictureStrip />
      </main>
      {view !== 'run' && <Details />}
      <TransportBar />
      <Palette />
      <Help />
      <Clash />
      <LearnDialog />
      <Engaging />
      {beginning && <NewShow onClose={() => set({ beginning: false })} />}
      <span role="status" aria-live="polite" style={{ position: 'absolute', left: -9999 }}>
        {said}
      </span>
    </div>
  );
}

const rates: Schemas['ShowHead']['frameRate'][] = [
  '23.976',
  '24',
  '25',
  '29.97',
  '30',
  '48',
  '50',
  '59.94',
  '60',
  '100',
  '119.88',
  '120',
];

function NewShow({ onClose }: { onClose?: () => void }) {
  const [name, setName] = useState('');
  const [rate, setRate] = useState<Schemas['ShowHead']['frameRate']>('25');
  const make = async () => {
    try {
      const head = await answer(http.POST('/shows', { body: { name, frameRate: rate } }));
      await http.POST('/shows/{show}/edits', {
        params: { path: { show: head.id } },
        body: {
          name: 'Begin',
          changes: [
            {
              kind: 'timeline',
              id: ulid(),
              op: 'create',
              fields: { name: { before: null, after: 'Main' }, duration: { before: null, after: 60 * 705_600_000 } },
            },
          ],
        },
      });
      await client.invalidateQueries({ queryKey: ['shows'] });
      openShow(head.id);
      onClose?.();
    } catch (error) {
      complain(error);
    }
  };
  return (
    <Modal
      opened
      onClose={onClose ?? (() => undefined)}
      withCloseButton={onClose !== undefined}
      centered
      title="New show"
    >
      <form
        onSubmit={submitted(() => {
          void make();
        })}
        style={{ display: 'grid', gap: 12 }}
      >
        <TextInput
          label="Name"
          data-autofocus
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
          placeholder="Saltgate Harbour"
        />
        <label style={{ fontSize: 13 }}>
          Frame rate{' '}
          <select
            value={rate}
            onChange={(e) => setRate(rates.find((r) => r === e.currentTarget.value) ?? rate)}
            className="plain mono"
          >
            {rates.map((r) => (
              <option key={r}>{r}</option>
            ))}
          </select>
        </label>
        <Button type="submit" disabled={name.trim() === ''}>
          Begin
        </Button>
      </form>
    </Modal>
  );
}
