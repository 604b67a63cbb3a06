import type { ReactNode } from 'react';
import { useShow } from '../hooks';
import { go, useStudio, type View, views } from '../store';
import { Sign } from './Kite';
import { PicturesButton } from './PictureStrip';
import { ShowMenu } from './ShowMenu';

const icons: Record<View, ReactNode> = {
  venue: <path d="M3 18V9l4-2v11M17 18V9l-4-2v11M7 9h6M1 18h18" />,
  media: <path d="M3 5h10v10H3zM13 8l4-3v10l-4-3M6 8v4l3-2z" />,
  routes: <path d="M3 5h3c6 0 2 10 8 10h3M15 13l2 2-2 2M3 15h3" />,
  timeline: <path d="M2 5h8M6 10h9M4 15h7M13 2v16" />,
  cues: <path d="M2 4h6v5H2zM12 4h6v5h-6zM2 12h6v4H2zM12 12h6v4h-6z" />,
  outputs: <path d="M2 4h16v11H2zM5 7h5v5H5zM12 7h3v3h-3zM8 18h4" />,
  bindings: <path d="M5 2v16M10 2v16M15 2v16M3 7h4M8 13h4M13 5h4" />,
  run: <path d="M10 2c4 3 5 6 5 8a5 5 0 0 1-10 0c0-2 1-5 5-8zM10 18v-3" />,
};

export const titles: Record<View, string> = {
  venue: 'Venue',
  media: 'Media',
  routes: 'Routes',
  timeline: 'Timeline',
  cues: 'Cues',
  outputs: 'Outputs',
  bindings: 'Bindings',
  run: 'Run',
};

export function Spine() {
  const view = useStudio((s) => s.view);
  const up = useStudio((s) => s.up);
  const osc = useStudio((s) => s.health?.osc);
  const findings = Object.values(useShow()?.computed.findings ?? {}).flat();
  return (
    <nav className="spine" aria-label="Views">
      <ShowMenu />
      {views.map((one, i) => {
        let mine = findings.filter((f) => f.view === one).map((f) => f.severity);
        if (one === 'run' && !up) mine = ['fault'];
        if (one === 'bindings' && (osc?.bad ?? 0) > 0) mine = ['attention'];
        const state = mine.includes('fault') ? 'fault' : mine.length > 0 ? 'attention' : 'ok';
        return (
          <a
            key={one}
            href={`/${one}`}
            aria-current={view === one ? 'page' : undefined}
            title={`Alt+${i + 1}`}
            onClick={(e) => {
              e.preventDefault();
              go(one);
            }}
          >
            <svg
              width="20"
              height="20"
              viewBox="0 0 20 20"
              fill="none"
              stroke="currentColor"
              strokeWidth="1.5"
              aria-hidden="true"
            >
              {icons[one]}
            </svg>
            {titles[one]}
            <span className="lampdot">
              <Sign state={state} />
              {mine.length > 0 && <span className="mono">{mine.length}</span>}
            </span>
          </a>
        );
      })}
      <PicturesButton />
    </nav>
  );
}
