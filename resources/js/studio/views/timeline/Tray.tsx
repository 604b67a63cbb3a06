import { useState } from 'react';
import type { RowOf } from '../../../api/client';

/** Media to drag onto layers. */
export function Tray({
  media,
  timelines,
  onAdd,
}: {
  media: RowOf<'media'>[];
  timelines: RowOf<'timeline'>[];
  onAdd: (id: string) => void;
}) {
  const [search, setSearch] = useState('');
  const found = media
    .filter((m) => m.kind !== 'timeline' && m.name.toLowerCase().includes(search.toLowerCase()))
    .slice(0, 60);
  return (
    <div
      className="bar"
      style={{ overflowX: 'auto', minHeight: 46, padding: '4px 12px' }}
      aria-label="Media to drag onto a layer"
    >
      {media.length > 12 && (
        <input
          className="plain"
          placeholder="Search"
          aria-label="Search media"
          value={search}
          onChange={(e) => setSearch(e.currentTarget.value)}
          style={{ width: 110, cursor: 'text' }}
        />
      )}
      {media.length === 0 && (
        <span className="dim">Media appears here to be dragged onto layers. Import some in Media.</span>
      )}
      {timelines
        .filter((t) => t.name.toLowerCase().includes(search.toLowerCase()))
        .map((t) => (
          <button
            key={t.id}
            type="button"
            className="plain"
            draggable
            title="This timeline as a clip: drag onto a layer, or press to put it at the playhead of the chosen layer"
            onDragStart={(e) => e.dataTransfer.setData('application/x-kite-media', `timeline:${t.id}`)}
            onClick={() => onAdd(`timeline:${t.id}`)}
            style={{ whiteSpace: 'nowrap', flex: 'none', cursor: 'grab' }}
          >
            ▤ {t.name}
          </button>
        ))}
      {found.map((m) => (
        <button
          key={m.id}
          type="button"
          className="plain"
          draggable
          title="Drag onto a layer, or press to put it at the playhead of the chosen layer"
          onDragStart={(e) => e.dataTransfer.setData('application/x-kite-media', m.id)}
          onClick={() => onAdd(m.id)}
          style={{
            display: 'flex',
            alignItems: 'center',
            gap: 7,
            whiteSpace: 'nowrap',
            padding: '2px 9px 2px 3px',
            flex: 'none',
            cursor: 'grab',
          }}
        >
          {m.thumbnails?.[0] !== undefined ? (
            <img
              src={m.thumbnails[Math.floor(m.thumbnails.length / 2)]}
              alt=""
              width={44}
              height={25}
              draggable={false}
              style={{ objectFit: 'cover' }}
            />
          ) : (
            <span
              style={{
                width: 25,
                height: 25,
                background: m.kind === 'solid' ? m.colour : 'var(--kl-ink9)',
                display: 'inline-grid',
                placeItems: 'center',
                fontSize: 11,
              }}
            >
              {m.kind === 'testcard' ? '▦' : ''}
            </span>
          )}
          {m.name}
        </button>
      ))}
    </div>
  );
}
