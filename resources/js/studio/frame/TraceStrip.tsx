import type { Schemas } from '../../api/client';
import { surfaceOf, useShow, useTrace } from '../hooks';
import { go, type Selection, useStudio, type View } from '../store';
import { Sign } from './Kite';

const places: Record<string, View> = {
  Media: 'media',
  Layer: 'timeline',
  Route: 'routes',
  Surface: 'venue',
  Output: 'outputs',
  Device: 'run',
};

export function TraceStrip() {
  const show = useShow();
  const selected = useStudio((s) => s.selected);
  const trace = useTrace(surfaceOf(show, selected));
  if (show === undefined) return <div className="trace" />;
  if (trace === undefined) {
    return (
      <div className="trace" role="status">
        <span className="dim">
          {show.rows.surface.length === 0
            ? 'The chain of light begins with a surface: add a wall in Venue.'
            : 'Following the chain…'}
        </span>
      </div>
    );
  }
  const broken = trace.links.find((l) => l.state === 'fault') ?? trace.links.find((l) => l.state === 'attention');
  const jump = (link: Schemas['TraceLink']) =>
    go(places[link.link] ?? 'venue', link.id === '' ? undefined : ({ kind: link.kind, id: link.id } as Selection));
  return (
    <section className="trace" aria-label="Trace">
      {trace.links.map((link, i) => (
        <span key={link.link} style={{ display: 'flex', alignItems: 'center' }}>
          {i > 0 && <span className="arrow">▸</span>}
          <button type="button" title={`${link.link}: ${link.message}`} onClick={() => jump(link)}>
            <Sign state={link.state} />
            <span className="dim">{link.link}</span>
            <span className="name">{link.name}</span>
          </button>
        </span>
      ))}
      <span className={`why state-${broken?.state ?? 'ok'}`} role="status" data-testid="why" title={broken?.message}>
        {broken?.message ?? 'Light gets through.'}
      </span>
    </section>
  );
}
