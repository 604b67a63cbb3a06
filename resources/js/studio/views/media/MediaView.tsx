import { Menu, Progress, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState } from 'react';
import { answer, http, type RowOf } from '../../../api/client';
import { useRows, useShow } from '../../hooks';
import { complain, edit, editAndSelect, insert, remove, select, useStudio } from '../../store';
import { FLICKS, ulid } from '../../time';
import { filesOf } from './dropped';
import { likely, matches, SEARCH_HINT, type Searched } from './find';
import { PATTERNS } from './patterns';
import { Storage } from './Storage';
import {
  clearUploads,
  isOpen,
  pauseUpload,
  resumeUpload,
  showUnfinished,
  stopUpload,
  type Upload,
  upload,
  useUploads,
} from './uploads';

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
  const document = useShow();
  const uses = document?.computed.media;
  const rate = document?.frameRate ?? '25';
  const unused = media.filter((m) => uses?.[m.id]?.clips === 0);
  const [onlyUnused, showUnused] = useState(false);
  const [storage, setStorage] = useState(false);
  const fits = matches(search);
  const found = (onlyUnused ? unused : media).filter((m) => fits(searched(m, uses?.[m.id]?.clips ?? 0)));
  const lost = media.filter((m) => m.kind === 'file' && (m.state ?? 'missing') === 'missing');
  const [grid, setGrid] = useState(false);
  const [single, setSingle] = useState(false);
  const folder = useRef<HTMLInputElement>(null);
  const looking = useRef<HTMLInputElement>(null);
  const [room, measured] = useState(0);
  const columns = grid ? Math.max(1, Math.floor(room / TILE_WIDTH)) : 1;
  const rows = useVirtualizer({
    count: Math.ceil(found.length / columns),
    getScrollElement: () => scroller.current,
    estimateSize: () => (grid ? TILE_HEIGHT : 84),
    overscan: 6,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: the list comes with the first media
  useEffect(() => {
    const box = scroller.current;
    if (box === null) return;
    const watch = new ResizeObserver(([entry]) => measured(entry?.contentRect.width ?? 0));
    watch.observe(box);
    return () => watch.disconnect();
  }, [media.length === 0]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another arrangement has other heights
  useEffect(() => rows.measure(), [grid]);
  const chosenAt = found.findIndex((m) => m.id === selected?.id);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what is chosen anew is brought into view
  useEffect(() => {
    if (chosenAt >= 0) rows.scrollToIndex(Math.floor(chosenAt / columns), { align: 'auto' });
  }, [selected?.id, chosenAt < 0]);
  const take = (files: Iterable<File>) => upload(files, single ? null : rate);
  const look = (files: readonly File[]) => {
    const some = likely(files, lost);
    if (some.length === 0)
      complain(new Error(`None of ${files.length} files has the size or the name of what is missing.`));
    else upload(some, null);
  };
  const inputs = useQuery({ queryKey: ['inputs'], queryFn: async () => (await answer(http.GET('/inputs'))).inputs });
  const addInput = async (one: { name: string; label: string }) => {
    const id = ulid();
    await editAndSelect(`Add ${one.label}`, [insert('media', id, { name: one.label, kind: 'input', file: one.name })], {
      kind: 'media',
      id,
    });
  };
  const addPattern = async (pattern: (typeof PATTERNS)[number]['name']) => {
    const id = ulid();
    const name = PATTERNS.find((p) => p.name === pattern)?.says ?? pattern;
    const fields =
      pattern === 'solid'
        ? { kind: 'solid', width: 16, height: 16 }
        : pattern === 'testcard'
          ? { kind: 'testcard' }
          : { kind: 'pattern', pattern };
    await editAndSelect(`Add ${name.toLowerCase()}`, [insert('media', id, { name, ...fields })], { kind: 'media', id });
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
        void filesOf(e.dataTransfer.items, complain).then(take);
      }}
    >
      <div className="bar">
        <TextInput
          aria-label="Search media"
          placeholder="Search"
          title={SEARCH_HINT}
          value={search}
          onChange={(e) => setSearch(e.currentTarget.value)}
          w={220}
        />
        <span className="dim mono">{found.length}</span>
        <button
          type="button"
          className="plain"
          aria-pressed={onlyUnused}
          onClick={() => showUnused(!onlyUnused)}
          title="Media that no clip uses"
        >
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
        {lost.length > 0 && (
          <button
            type="button"
            className="plain"
            onClick={() => looking.current?.click()}
            title="Looks in a folder for files of the same size, then of the same name, and imports them"
          >
            Find {lost.length} missing
          </button>
        )}
        <span className="grow" />
        <button type="button" className="plain" aria-pressed={grid} onClick={() => setGrid(!grid)}>
          Grid
        </button>
        <a
          className="plain"
          href={`/api/shows/${show}/media.csv`}
          download
          title="Media with their folders and indices, as a table"
        >
          CSV
        </a>
        <button type="button" className="plain" onClick={() => setStorage(true)}>
          Storage
        </button>
        {storage && <Storage onClose={() => setStorage(false)} />}
        <Menu position="bottom-end" onOpen={() => void inputs.refetch()}>
          <Menu.Target>
            <button type="button" className="plain">
              Add an input
            </button>
          </Menu.Target>
          <Menu.Dropdown>
            {(inputs.data ?? []).map((one) => (
              <Menu.Item key={one.name} onClick={() => void addInput(one)}>
                {one.label}{' '}
                <span className="dim mono" style={{ fontSize: 12 }}>
                  {one.width} × {one.height} · {one.server}
                </span>
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
        <Menu position="bottom-end">
          <Menu.Target>
            <button type="button" className="plain">
              Add a pattern
            </button>
          </Menu.Target>
          <Menu.Dropdown mah={460} style={{ overflow: 'auto' }}>
            {PATTERNS.map(({ name, says }) => (
              <Menu.Item key={name} onClick={() => void addPattern(name)}>
                {says}
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
        <Menu position="bottom-end" closeOnItemClick>
          <Menu.Target>
            <button type="button" className="plain primary">
              Import
            </button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => file.current?.click()}>Files</Menu.Item>
            <Menu.Item onClick={() => folder.current?.click()}>Folder</Menu.Item>
            <Menu.Divider />
            <Menu.Item
              closeMenuOnClick={false}
              onClick={() => setSingle(!single)}
              role="menuitemcheckbox"
              aria-checked={!single}
              rightSection={single ? '' : '✓'}
            >
              Numbered stills as one video, {rate} fps
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
        {[
          { ref: folder, id: 'folder', chosen: take },
          { ref: looking, id: 'looking', chosen: (files: Iterable<File>) => look([...files]) },
        ].map(({ ref, id, chosen }) => (
          <input
            key={id}
            ref={(element) => {
              ref.current = element;
              element?.setAttribute('webkitdirectory', '');
            }}
            type="file"
            multiple
            hidden
            data-testid={id}
            onChange={(e) => {
              chosen([...(e.currentTarget.files ?? [])].filter((f) => !f.name.startsWith('.')));
              e.currentTarget.value = '';
            }}
          />
        ))}
        <input
          ref={file}
          type="file"
          multiple
          hidden
          data-testid="files"
          onChange={(e) => {
            take(e.currentTarget.files ?? []);
            e.currentTarget.value = '';
          }}
        />
      </div>
      {uploads.length > 0 && (
        <div
          style={{
            padding: '8px 14px',
            borderBottom: '1px solid var(--kl-line)',
            display: 'grid',
            gap: 6,
            maxHeight: 190,
            overflow: 'auto',
          }}
          aria-label="Uploads"
        >
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
          Video, stills and sound belong here, and patterns that Kite Lamp makes itself. Drop files anywhere on this
          view.
          <button type="button" className="plain primary" onClick={() => file.current?.click()}>
            Import files
          </button>
        </div>
      ) : (
        <div ref={scroller} className="media-list" role="list" aria-label="Media">
          <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
            {rows.getVirtualItems().map((item) => {
              const some = found.slice(item.index * columns, (item.index + 1) * columns);
              return some.length === 0 ? null : (
                <div
                  key={item.index}
                  className={grid ? 'media-tiles' : ''}
                  style={{
                    position: 'absolute',
                    top: item.start,
                    left: 0,
                    right: 0,
                    gridTemplateColumns: `repeat(${columns}, 1fr)`,
                  }}
                >
                  {some.map((row) =>
                    grid ? (
                      <MediaTile key={row.id} row={row} selected={selected?.id === row.id} />
                    ) : (
                      <MediaRow key={row.id} row={row} selected={selected?.id === row.id} />
                    ),
                  )}
                </div>
              );
            })}
          </div>
        </div>
      )}
    </div>
  );
}

/** A tile of the grid, in pixels. */
const TILE_WIDTH = 176;
const TILE_HEIGHT = 148;

function searched(m: RowOf<'media'>, clips: number): Searched {
  const facts = (m.facts ?? {}) as Record<string, unknown>;
  return {
    name: m.name,
    number: mediaNumber(m),
    kind: m.kind,
    state: m.state,
    bytes: m.bytes,
    pattern: m.pattern,
    facts,
    clips,
    duration: Number(facts.duration ?? 0) / FLICKS,
  };
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
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: '1fr 250px 120px auto',
        gap: 12,
        alignItems: 'center',
        fontSize: 13,
      }}
    >
      <span style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
        {u.name}{' '}
        {u.message !== '' && (
          <span className={u.state === 'failed' ? 'state-fault' : 'dim'}>
            {u.state === 'failed' ? `✕ ${u.message}` : u.message}
          </span>
        )}
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
const mediaNumber = (m: RowOf<'media'>) =>
  m.folder === null || m.index === null ? '—' : `${m.folder}.${String(m.index).padStart(3, '0')}`;

function Thumbnail({ row }: { row: RowOf<'media'> }) {
  return row.thumbnails?.[0] !== undefined ? (
    <img className="thumb" src={row.thumbnails[Math.floor(row.thumbnails.length / 2)]} alt="" loading="lazy" />
  ) : row.kind === 'pattern' ? (
    <img className="thumb" src={`/api/patterns/${row.pattern}.png?width=128&height=72`} alt="" loading="lazy" />
  ) : row.kind === 'testcard' ? (
    <img className="thumb" src="/api/patterns/testcard.png?width=256&height=144&name=" alt="" />
  ) : row.kind === 'input' ? (
    <div className="thumb input mono">{row.state === 'lost' ? 'no signal' : 'live'}</div>
  ) : (
    <div className="thumb" style={row.kind === 'solid' ? { background: row.colour } : {}} />
  );
}

/** What of a media is said in one word, with a shape. */
function State({ row }: { row: RowOf<'media'> }) {
  if ((row.kind !== 'file' && row.kind !== 'input') || row.state === 'ready') return null;
  const working = row.state === 'working' || row.state === 'waiting';
  return (
    <span className={working ? 'state-attention' : 'state-fault'}>
      {working ? `▲ ${Math.round((row.progress ?? 0) * 100)} %` : `✕ ${row.state ?? 'missing'}`}
    </span>
  );
}

function MediaTile({ row, selected }: { row: RowOf<'media'>; selected: boolean }) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the name within is a button that does the same
    <div
      className="media-tile"
      role="listitem"
      aria-current={selected}
      draggable
      onDragStart={(e) => e.dataTransfer.setData('application/x-kite-media', row.id)}
      onClick={() => select({ kind: 'media', id: row.id })}
    >
      <Thumbnail row={row} />
      <button type="button" className="title" onClick={() => select({ kind: 'media', id: row.id })} title={row.name}>
        {row.name}
      </button>
      <span className="dim mono" style={{ fontSize: 11, display: 'flex', justifyContent: 'space-between' }}>
        {mediaNumber(row)} <State row={row} />
      </span>
    </div>
  );
}

function MediaRow({ row, selected }: { row: RowOf<'media'>; selected: boolean }) {
  const facts = (row.facts ?? {}) as Record<string, unknown>;
  const duration =
    typeof facts.duration === 'number' && facts.duration > 0 ? `${(facts.duration / FLICKS).toFixed(1)} s` : '';
  const act = (what: 'retry' | 'cancel') =>
    http.POST(`/files/{hash}/${what}`, { params: { path: { hash: row.file ?? '' } } }).catch(complain);
  const what =
    row.kind === 'file'
      ? [
          facts.kind,
          facts.width ? `${facts.width} × ${facts.height}` : '',
          facts.frameRate ? `${facts.frameRate} fps` : '',
          duration,
        ]
          .filter(Boolean)
          .join(' · ')
      : row.kind === 'input'
        ? [
            'input',
            facts.width ? `${facts.width} × ${facts.height}` : '',
            facts.measuredRate ? `${facts.measuredRate} fps` : '',
            facts.server,
          ]
            .filter(Boolean)
            .join(' · ')
        : row.kind === 'solid'
          ? `solid ${row.colour}`
          : `${row.kind === 'pattern' ? `pattern ${row.pattern}` : 'test card'}${row.width > 0 ? ` ${row.width} × ${row.height}` : ', as large as its surface'}`;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the name within is a button that does the same
    <div
      className="media-row"
      role="listitem"
      aria-current={selected}
      draggable
      onDragStart={(e) => e.dataTransfer.setData('application/x-kite-media', row.id)}
      onClick={() => select({ kind: 'media', id: row.id })}
    >
      <Thumbnail row={row} />
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
        {row.message && (
          <div className="state-fault" style={{ fontSize: 13 }}>
            ✕ {row.message}
          </div>
        )}
      </div>
      <div>
        {(row.kind !== 'file' && row.kind !== 'input') || row.state === 'ready' ? (
          <span className="state-ok" style={{ fontSize: 13 }}>
            ● ready
          </span>
        ) : row.state === 'working' || row.state === 'waiting' ? (
          <>
            <span className="state-attention" style={{ fontSize: 13 }}>
              ▲{' '}
              {row.state === 'waiting'
                ? 'waits for the worker'
                : `being made ready, ${Math.round((row.progress ?? 0) * 100)} %`}
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
