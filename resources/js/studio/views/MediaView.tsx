import { Progress, TextInput } from '@mantine/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState } from 'react';
import { http, type RowOf } from '../../api/client';
import { useRows, useShow } from '../hooks';
import { complain, edit, insert, remove, select, useStudio } from '../store';
import { FLICKS, ulid } from '../time';
import { filesOf } from './dropped';
import { clearUploads, isOpen, pauseUpload, resumeUpload, showUnfinished, stopUpload, type Upload, upload, useUploads } from './uploads';

export function MediaView() {
  const media = useRows('media');
  const show = useStudio((s) => s.showId);
  const selected = useStudio((s) => s.selected);
  const [search, setSearch] = useState('');
  const [over, setOver] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const { uploads } = useUploads();
  useEffect(() => {
    if (show !== null) showUnfinished().catch(complain);
  }, [show]);
  const wanted = search.trim().toLowerCase();
  const uses = useShow()?.computed.media;
  const unused = media.filter((m) => uses?.[m.id]?.clips === 0);
  const [onlyUnused, showUnused] = useState(false);
  const found = (onlyUnused ? unused : media).filter((m) => m.name.toLowerCase().includes(wanted) || mediaNumber(m).startsWith(wanted));
  const rows = useVirtualizer({ count: found.length, getScrollElement: () => scroller.current, estimateSize: () => 84, overscan: 6 });
  const addPattern = async (kind: 'testcard' | 'solid') => {
    const id = ulid();
    if (await edit(kind === 'solid' ? 'Add a solid' : 'Add a test card', [insert('media', id, { name: kind === 'solid' ? 'Solid' : 'Test card', kind, ...(kind === 'solid' ? { width: 16, height: 16 } : {}) })]))
      select({ kind: 'media', id });
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files may be dropped anywhere on the view; the button does the same by keyboard
    <div
      className={over ? 'dropping' : ''}
      style={{ display: 'flex', flexDirection: 'column', flex: 1, minHeight: 0, position: 'relative' }}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void filesOf(e.dataTransfer.items, complain).then(upload);
      }}
    >
      <div className="bar">
        <TextInput aria-label="Search media" placeholder="Search" value={search} onChange={(e) => setSearch(e.currentTarget.value)} w={220} />
        <span className="dim mono">{found.length}</span>
        <button type="button" className="plain" aria-pressed={onlyUnused} onClick={() => showUnused(!onlyUnused)} title="Media that no clip uses">
          Unused{' '}
          <span className="mono">
            {unused.length} · {megabytes(unused.reduce((sum, m) => sum + (m.bytes ?? 0), 0))}
          </span>
        </button>
        {onlyUnused && unused.length > 0 && (
          <button
            type="button"
            className="plain"
            onClick={() =>
              void edit(
                unused.length === 1 ? `Remove ${unused[0]?.name}` : `Remove ${unused.length} unused media`,
                unused.slice(0, 5000).map((m) => remove('media', m.id)),
              )
            }
          >
            Remove {unused.length}
          </button>
        )}
        <span className="grow" />
        <a className="plain" href={`/api/shows/${show}/media.csv`} download title="Media with their folders and indices, as a table">
          Media list CSV
        </a>
        <button type="button" className="plain" onClick={() => void addPattern('testcard')}>
          Test card
        </button>
        <button type="button" className="plain" onClick={() => void addPattern('solid')}>
          Solid
        </button>
        <button type="button" className="plain primary" onClick={() => file.current?.click()}>
          Import files
        </button>
        <input
          ref={file}
          type="file"
          multiple
          hidden
          data-testid="files"
          onChange={(e) => {
            upload(e.currentTarget.files ?? []);
            e.currentTarget.value = '';
          }}
        />
      </div>
      {uploads.length > 0 && (
        <div style={{ padding: '8px 14px', borderBottom: '1px solid var(--kl-line)', display: 'grid', gap: 6, maxHeight: 190, overflow: 'auto' }} aria-label="Uploads">
          {uploads.map((u) => (
            <UploadRow key={u.key} upload={u} />
          ))}
          {!uploads.every(isOpen) && uploads.every((u) => u.state !== 'sending') && (
            <button type="button" className="plain" style={{ justifySelf: 'start' }} onClick={clearUploads}>
              Clear this list
            </button>
          )}
        </div>
      )}
      {media.length === 0 && uploads.length === 0 ? (
        <div className="empty">
          <strong>Nothing to show yet</strong>
          Video, stills and sound belong here, and patterns that Kite Lamp makes itself. Drop files anywhere on this view.
          <button type="button" className="plain primary" onClick={() => file.current?.click()}>
            Import files
          </button>
        </div>
      ) : (
        <div ref={scroller} className="media-list" role="list" aria-label="Media">
          <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
            {rows.getVirtualItems().map((item) => {
              const row = found[item.index];
              return row === undefined ? null : (
                <div key={row.id} style={{ position: 'absolute', top: item.start, left: 0, right: 0 }}>
                  <MediaRow row={row} selected={selected?.id === row.id} />
                </div>
              );
            })}
          </div>
        </div>
      )}
    </div>
  );
}

const megabytes = (bytes: number) => `${(bytes / 1e6).toFixed(bytes < 1e8 ? 1 : 0)} MB`;

/** How far an upload is, how fast it goes, and how long it will take. */
function progressOf({ received, bytes, rate, state }: Upload): string {
  const size = `${megabytes(received)} of ${megabytes(bytes)}`;
  if (state !== 'sending' || rate === 0) return size;
  const left = Math.ceil((bytes - received) / rate);
  return `${size} · ${megabytes(rate)}/s · ${left >= 60 ? `${Math.floor(left / 60)} min ${left % 60} s` : `${left} s`} left`;
}

function UploadRow({ upload: u }: { upload: Upload }) {
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '1fr 250px 120px auto', gap: 12, alignItems: 'center', fontSize: 13 }}>
      <span style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
        {u.name} {u.sentence !== '' && <span className={u.state === 'failed' ? 'state-fault' : 'dim'}>{u.state === 'failed' ? `✕ ${u.sentence}` : u.sentence}</span>}
      </span>
      <span className="dim mono" style={{ fontSize: 12, textAlign: 'right' }}>
        {progressOf(u)}
      </span>
      <Progress value={(100 * u.received) / Math.max(1, u.bytes)} size={4} aria-label={`Progress of ${u.name}`} />
      <span style={{ display: 'flex', gap: 6, minWidth: 140, justifyContent: 'end' }}>
        {u.state === 'sending' && u.file !== undefined && (
          <button type="button" className="plain" onClick={() => pauseUpload(u.key)}>
            Pause
          </button>
        )}
        {u.state === 'paused' && (
          <button type="button" className="plain" onClick={() => resumeUpload(u.key)}>
            Resume
          </button>
        )}
        {isOpen(u) ? (
          <button type="button" className="plain" onClick={() => stopUpload(u.key)}>
            {u.state === 'unfinished' ? 'Discard' : 'Stop'}
          </button>
        ) : (
          <span className="dim">{u.state === 'done' ? 'imported' : u.state}</span>
        )}
      </span>
    </div>
  );
}

/** Folder and index, by which a console calls it, the index with three digits. */
const mediaNumber = (m: RowOf<'media'>) => (m.folder === null || m.index === null ? '—' : `${m.folder}.${String(m.index).padStart(3, '0')}`);

function MediaRow({ row, selected }: { row: RowOf<'media'>; selected: boolean }) {
  const facts = (row.facts ?? {}) as Record<string, unknown>;
  const duration = typeof facts.duration === 'number' && facts.duration > 0 ? `${(facts.duration / FLICKS).toFixed(1)} s` : '';
  const act = (what: 'retry' | 'cancel') => http.POST(`/files/{hash}/${what}`, { params: { path: { hash: row.file ?? '' } } }).catch(complain);
  const what =
    row.kind === 'file'
      ? [facts.kind, facts.width ? `${facts.width} × ${facts.height}` : '', facts.frameRate ? `${facts.frameRate} fps` : '', duration].filter(Boolean).join(' · ')
      : row.kind === 'solid'
        ? `solid ${row.colour}`
        : row.width > 0
          ? `test card ${row.width} × ${row.height}`
          : 'test card, as large as its surface';
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the name within is a button that does the same
    <div className="media-row" role="listitem" aria-current={selected} draggable onDragStart={(e) => e.dataTransfer.setData('application/x-kite-media', row.id)} onClick={() => select({ kind: 'media', id: row.id })}>
      {row.thumbnails?.[0] !== undefined ? (
        <img className="thumb" src={row.thumbnails[Math.floor(row.thumbnails.length / 2)]} alt="" loading="lazy" />
      ) : row.kind === 'testcard' ? (
        <img className="thumb" src="/api/patterns/testcard.png?width=256&height=144&name=" alt="" />
      ) : (
        <div className="thumb" style={row.kind === 'solid' ? { background: row.colour } : {}} />
      )}
      <span className="mono" title="Folder and index">
        {mediaNumber(row)}
      </span>
      <div style={{ minWidth: 0 }}>
        <button type="button" className="title" onClick={() => select({ kind: 'media', id: row.id })}>
          {row.name}
        </button>
        <div className="dim mono" style={{ fontSize: 12 }}>
          {what}
        </div>
        {row.sentence && (
          <div className="state-fault" style={{ fontSize: 13 }}>
            ✕ {row.sentence}
          </div>
        )}
      </div>
      <div>
        {row.kind !== 'file' || row.state === 'ready' ? (
          <span className="state-ok" style={{ fontSize: 13 }}>
            ● ready
          </span>
        ) : row.state === 'working' || row.state === 'waiting' ? (
          <>
            <span className="state-attention" style={{ fontSize: 13 }}>
              ▲ {row.state === 'waiting' ? 'waits for the worker' : `being made ready, ${Math.round((row.progress ?? 0) * 100)} %`}
            </span>
            <Progress value={(row.progress ?? 0) * 100} size={4} mt={4} aria-label={`Conversion of ${row.name}`} />
          </>
        ) : (
          <span className="state-fault" style={{ fontSize: 13 }}>
            ✕ {row.state}
          </span>
        )}
      </div>
      <div>
        {(row.state === 'working' || row.state === 'waiting') && (
          <button type="button" className="plain" onClick={() => void act('cancel')}>
            Cancel
          </button>
        )}
        {(row.state === 'failed' || row.state === 'cancelled') && (
          <button type="button" className="plain" onClick={() => void act('retry')}>
            Try again
          </button>
        )}
      </div>
    </div>
  );
}
