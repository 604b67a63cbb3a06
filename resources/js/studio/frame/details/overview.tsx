import { useQuery } from '@tanstack/react-query';
import { answer, http } from '../../../api/client';
import { onNow } from '../../cues';
import { Figures } from '../../fields/fields';
import { useRows, useShow, useTimeline } from '../../hooks';
import { size } from '../../size';
import { live, select, shownPlayback, useStudio, type View } from '../../store';
import { timecode } from '../../time';

const counted = (n: number, one: string, many = `${one}s`) => `${n.toLocaleString('en')} ${n === 1 ? one : many}`;
const round = (v: number, digits = 0) => v.toLocaleString('en', { maximumFractionDigits: digits });

/** What the whole venue comes to. */
function VenueOverview() {
  const show = useShow();
  const totals = show?.computed.totals;
  if (show === undefined || totals === undefined) return null;
  const { rows } = show;
  return (
    <>
      <h3>In the venue</h3>
      <Figures
        of={[
          ['Surfaces', rows.surface.length],
          ['LED pixels', round(totals.litPixels)],
          ['LED area', `${round(totals.areaSquareMetres, 1)} m²`],
          ['Weight of walls', `${round(totals.kilograms)} kg`],
          ['Power, average', `${round(totals.wattsAverage / 1000, 1)} kW`],
          ['Power, maximum', `${round(totals.wattsMaximum / 1000, 1)} kW`],
          ['Projectors', `${rows.projector.length} · ${round(totals.lumens)} lm`],
          ['Cameras', rows.camera.length],
          ['Pixel lights', rows.surface.filter((s) => s.kind === 'light').length],
        ]}
      />
    </>
  );
}

/** What media there is, and the room that it takes. */
function MediaOverview() {
  const media = useRows('media');
  const revision = useShow()?.revision;
  const { data } = useQuery({
    queryKey: ['storage', revision],
    queryFn: () => answer(http.GET('/storage')),
    placeholderData: (before) => before,
    refetchOnMount: 'always',
  });
  const kinds = [...new Set(media.map((m) => m.kind))].sort();
  return (
    <>
      <h3>Media</h3>
      <Figures of={kinds.map((kind) => [kind, media.filter((m) => m.kind === kind).length])} />
      {data !== undefined && (
        <>
          <h3>Storage</h3>
          <Figures
            of={[
              ['Files as they came', size(data.folders.originals.bytes)],
              ['Playback forms', size(data.folders.forms.bytes)],
              ['Waiting to be made', data.waiting],
              ['Free', size(data.free)],
            ]}
          />
        </>
      )}
    </>
  );
}

/** How pictures reach surfaces. */
function RoutesOverview() {
  const show = useShow();
  const routes = useRows('route');
  const reaches = [...new Set(routes.map((r) => r.reach))].sort();
  return (
    <>
      <h3>Routes</h3>
      <Figures
        of={[
          ...reaches.map((reach): [string, string] => [
            reach,
            counted(routes.filter((r) => r.reach === reach).length, 'route'),
          ]),
          ['Lenses', show?.rows.lens.length ?? 0],
          ['Parts of canvases', show?.rows.share.length ?? 0],
        ]}
      />
    </>
  );
}

/** The timeline that is shown. */
function TimelineOverview() {
  const show = useShow();
  const timeline = useTimeline();
  if (show === undefined || timeline === undefined) return null;
  const layers = show.rows.layer.filter((l) => l.timeline === timeline.id);
  const on = new Set(layers.map((l) => l.id));
  return (
    <>
      <h3>{timeline.name}</h3>
      <Figures
        of={[
          ['Length', timecode(timeline.duration, show.frameRate, show.computed.flicksPerFrame)],
          ['Layers', layers.length],
          ['Clips', show.rows.clip.filter((c) => on.has(c.layer)).length],
          ['Markers', show.rows.marker.filter((m) => m.timeline === timeline.id).length],
          ['Cues on it', show.rows.cue.filter((c) => c.timeline === timeline.id).length],
          ['Tempo', timeline.bpm > 0 ? `${timeline.bpm} BPM` : 'none'],
          ['Clock', timeline.clock === '' ? 'its own' : timeline.clock],
        ]}
      />
      <p>
        <button type="button" className="plain" onClick={() => select({ kind: 'timeline', id: timeline.id })}>
          Details of {timeline.name}
        </button>
      </p>
    </>
  );
}

/** Which cues there are, and which are on. */
function CuesOverview() {
  // What is on is told with the cues of the show.
  useStudio((s) => s.told);
  const cues = useRows('cue');
  const on = cues.filter((c) => onNow(c.id) !== undefined);
  const next = cues.find((c) => c.id === shownPlayback()?.cues?.next);
  return (
    <>
      <h3>Cues</h3>
      <Figures
        of={[
          ['In the list', cues.filter((c) => c.listed).length],
          ['On the board', cues.filter((c) => c.page !== null).length],
          ['By the clock', cues.filter((c) => c.clock !== '').length],
          ['Next', next === undefined ? '—' : `${next.number} ${next.name}`],
        ]}
      />
      <h3>On now</h3>
      {on.length === 0 && <p className="dim">No cue is on.</p>}
      {on.slice(0, 50).map((c) => (
        <p key={c.id} style={{ margin: '4px 0' }}>
          <button type="button" className="plain" onClick={() => select({ kind: 'cue', id: c.id })}>
            {c.number} {c.name}
          </button>
        </p>
      ))}
    </>
  );
}

/** Connectors of the outputs, and how much of each is used. */
function OutputsOverview() {
  const show = useShow();
  const outputs = useRows('output');
  return (
    <>
      <h3>Outputs</h3>
      <Figures
        of={[
          ['Outputs', outputs.length],
          ['Servers', show?.rows.server.length ?? 0],
          ['Regions', show?.rows.region.length ?? 0],
          ['Nodes', show?.rows.node.length ?? 0],
          ['Lights patched', show?.rows.patch.length ?? 0],
        ]}
      />
      <h3>Connectors and use</h3>
      {outputs.slice(0, 100).map((o) => {
        const figures = show?.computed.outputs[o.id];
        return (
          <button
            key={o.id}
            type="button"
            className="overview-line"
            onClick={() => select({ kind: 'output', id: o.id })}
          >
            <span>{o.name}</span>
            <span className="mono dim">
              {figures?.connector} · {round(100 * (figures?.used ?? 0))} %
            </span>
          </button>
        );
      })}
    </>
  );
}

/** What may push the show. */
function BindingsOverview() {
  const devices = useRows('device');
  const bindings = useRows('binding');
  return (
    <>
      <h3>Devices</h3>
      {devices.length === 0 && <p className="dim">No device yet: add one, or press Bind.</p>}
      {devices.slice(0, 100).map((d) => (
        <button key={d.id} type="button" className="overview-line" onClick={() => select({ kind: 'device', id: d.id })}>
          <span>{d.name}</span>
          <span className="mono dim">
            {d.protocol} · {bindings.filter((b) => b.device === d.id).length}
          </span>
        </button>
      ))}
    </>
  );
}

/** Who plays. */
function RunOverview() {
  const health = useStudio((s) => s.health);
  const show = useShow();
  return (
    <>
      <h3>On this desk</h3>
      <Figures
        of={[
          ['Engine', live.now() === null ? 'not heard' : 'runs'],
          ['Players open', health?.players.length ?? 0],
          ['Outputs', show?.rows.output.length ?? 0],
          ['Cues in the list', show?.rows.cue.filter((c) => c.listed).length ?? 0],
        ]}
      />
    </>
  );
}

const OVERVIEWS = {
  venue: VenueOverview,
  media: MediaOverview,
  routes: RoutesOverview,
  timeline: TimelineOverview,
  cues: CuesOverview,
  outputs: OutputsOverview,
  bindings: BindingsOverview,
  run: RunOverview,
} satisfies Record<View, () => unknown>;

/** What a view is about, where nothing is chosen. */
export function Overview({ view }: { view: View }) {
  const Of = OVERVIEWS[view];
  return <Of />;
}
