import { Modal, Select } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, http, type RowOf } from '../../../api/client';
import { patternValues } from '../../../api/kinds';
import { Figures, NameField, NumberField, TextArea } from '../../fields/fields';
import { useRow, useRows, useShow } from '../../hooks';
import { complain, edit, misfits, openTimeline, select, update, version } from '../../store';
import { FLICKS } from '../../time';
import { LivePreview } from '../../views/media/LivePreview';
import { Preview } from '../../views/media/Preview';
import { PATTERNS } from '../../views/media/patterns';
import { Sign } from '../Kite';
import { Findings, Gone, Remove } from '../parts';
import { Values } from './values';

export const seconds = (flicks: number) => `${(flicks / FLICKS).toFixed(2)} s`;

/** Colour tags as the trade writes them (ITU-T H.273). */
const TAGS: Record<string, string> = {
  bt709: 'BT.709',
  smpte170m: 'BT.601, 525 lines',
  bt470bg: 'BT.601, 625 lines',
  bt470m: 'BT.470 M',
  bt2020nc: 'BT.2020',
  bt2020c: 'BT.2020, constant',
  'bt2020-10': 'BT.2020',
  'bt2020-12': 'BT.2020',
  gbr: 'RGB',
  rgb: 'RGB',
  'iec61966-2-1': 'sRGB',
  smpte2084: 'PQ',
  'arib-std-b67': 'HLG',
  gamma22: 'gamma 2.2',
  gamma28: 'gamma 2.8',
  linear: 'linear',
};
const inTrade = (tag: unknown) => (typeof tag === 'string' && tag !== '' ? (TAGS[tag] ?? tag) : '—');

/** A file that could be another version comes first by its name. */
const likeness = (a: string, b: string) => {
  let n = 0;
  while (n < a.length && a[n]?.toLowerCase() === b[n]?.toLowerCase()) n++;
  return n;
};

/** Another version of the file: what would not fit is told first; those of before are one press away. */
function VersionsOf({ row }: { row: RowOf<'media'> }) {
  const others = useRows('media').filter((m) => m.kind === 'file' && m.id !== row.id && m.file !== row.file);
  const [by, setBy] = useState<string | null>(null);
  const told = useQuery({
    queryKey: ['misfits', row.id, row.file, by],
    queryFn: () => misfits(row.id, by ?? ''),
    enabled: by !== null,
  });
  const offered = [...others].sort((a, b) => likeness(b.name, row.name) - likeness(a.name, row.name)).slice(0, 500);
  return (
    <>
      <h3>Versions</h3>
      {offered.length > 0 && (
        <Select
          label="New version"
          searchable
          clearable
          placeholder="choose a media"
          limit={60}
          value={by}
          data={offered.map((m) => ({ value: m.id, label: m.name }))}
          onChange={setBy}
        />
      )}
      {by !== null && told.data !== undefined && (
        <div style={{ marginTop: 8 }} aria-label="What no longer fits">
          {told.data.length === 0 && (
            <p style={{ fontSize: 13, margin: '4px 0' }}>
              <Sign state="ok" /> Fits wherever it is used.
            </p>
          )}
          {told.data.map((message) => (
            <p key={message} style={{ fontSize: 13, margin: '4px 0' }}>
              <Sign state="attention" /> {message}
            </p>
          ))}
          <button
            type="button"
            className="plain primary"
            onClick={() => void version(row.id, { by, take: true }).then((done) => done !== null && setBy(null))}
          >
            Use as new version
          </button>
        </div>
      )}
      {(row.versions ?? []).map((file, i) => (
        <p key={file} style={{ display: 'flex', gap: 8, alignItems: 'center', margin: '6px 0' }}>
          <button type="button" className="plain" onClick={() => void version(row.id, { file })}>
            {i === 0 ? 'Back to the one before' : 'Back to an earlier one'}
          </button>
          <span className="dim mono" style={{ fontSize: 11 }}>
            {file.slice(0, 12)}…
          </span>
        </p>
      ))}
    </>
  );
}

/** What was done with a file, line by line, for who asks. */
function Log({ hash, state }: { hash: string; state: string }) {
  const [open, show] = useState(false);
  const { data } = useQuery({
    queryKey: ['log', hash, state],
    queryFn: () => answer(http.GET('/files/{hash}/log', { params: { path: { hash } } })),
    enabled: open,
  });
  return (
    <details onToggle={(e) => show(e.currentTarget.open)} style={{ margin: '10px 0' }}>
      <summary>Log</summary>
      {state === 'ready' && (
        <button
          type="button"
          className="plain"
          style={{ margin: '6px 0' }}
          title="Convert again (black until done)"
          onClick={() => void http.POST('/files/{hash}/retry', { params: { path: { hash } } }).catch(complain)}
        >
          Make again
        </button>
      )}
      <div className="mono" style={{ fontSize: 11, maxHeight: 200, overflow: 'auto', overflowWrap: 'anywhere' }}>
        {data?.lines.map(([at, line], i) => (
          <div key={i}>
            <span className="dim">{(at ?? '').slice(11, 23)}</span> {line}
          </div>
        ))}
      </div>
    </details>
  );
}

/** A live input: where it comes from, what is shown while it has no signal, and its picture for who asks. */
function Input({ row }: { row: RowOf<'media'> }) {
  const others = useRows('media').filter((m) => m.id !== row.id && m.kind !== 'input');
  const outputs = useShow()?.computed.media[row.id]?.outputs ?? [];
  const names = new Map(useRows('output').map((o) => [o.id, o.name]));
  const facts = (row.facts ?? {}) as Record<string, unknown>;
  return (
    <>
      <h3>Input</h3>
      <Figures
        of={[
          ['State', row.state === 'lost' ? 'no signal' : (row.state ?? 'missing')],
          ['Server', String(facts.server ?? '—')],
          ['Pixels', `${facts.width ?? '—'} × ${facts.height ?? '—'}`],
          ['Frame rate', facts.measuredRate ? `${facts.measuredRate} fps` : '—'],
          ['Taken by', outputs.length === 0 ? 'no output' : outputs.map((id) => names.get(id) ?? '?').join(', ')],
        ]}
      />
      <Select
        label="Without a signal"
        mt={8}
        placeholder="dark"
        clearable
        searchable
        value={row.standIn ?? null}
        data={others.map((m) => ({ value: m.id, label: m.name }))}
        onChange={(standIn) => void edit(`Change ${row.name}`, [update('media', row, { standIn })])}
      />
      <LivePreview row={row} streams={outputs.length} />
    </>
  );
}

export function MediaDetails({ id }: { id: string }) {
  const row = useRow('media', id);
  const uses = useShow()?.computed.media[id]?.clips ?? 0;
  const [large, enlarge] = useState(false);
  const lines = useRows('timeline');
  if (row === undefined) return <Gone />;
  const facts = (row.facts ?? {}) as Record<string, unknown>;
  const pattern = row.kind !== 'file' && row.kind !== 'input';
  const inner = lines.find((t) => t.id === row.timeline);
  const change = (fields: Partial<RowOf<'media'>>) => edit(`Change ${row.name}`, [update('media', row, fields)]);
  const audio = facts.audio as { codec: string; channels: number; sampleRate: number } | null | undefined;
  return (
    <>
      <h2>{row.name}</h2>
      <NameField
        label="Name"
        value={row.name}
        onChange={(name) => edit(`Rename ${row.name}`, [update('media', row, { name })])}
      />
      <div className="row2" style={{ marginTop: 8 }}>
        <NumberField
          label="Folder"
          unit=""
          digits={0}
          value={row.folder ?? 0}
          hint="By which a console calls it, 0 to 255"
          onChange={(folder) => change({ folder: Math.round(folder) })}
        />
        <NumberField
          label="Index"
          unit=""
          digits={0}
          value={row.index ?? 0}
          hint="0 to 255"
          onChange={(index) => change({ index: Math.round(index) })}
        />
      </div>
      {row.kind === 'file' && (
        <div style={{ marginTop: 10 }}>
          <Preview row={row} large={false} />
          {row.state === 'ready' && (
            <button type="button" className="plain" style={{ marginTop: 6 }} onClick={() => enlarge(true)}>
              Enlarge
            </button>
          )}
          <Modal opened={large} onClose={() => enlarge(false)} size="90%" title={row.name} centered>
            <Preview row={row} large />
          </Modal>
        </div>
      )}
      {row.kind === 'input' && <Input row={row} />}
      {row.kind === 'timeline' && (
        <p>
          Shows{' '}
          {inner === undefined ? (
            <span className="state-fault">✕ a timeline that was removed</span>
          ) : (
            <button
              type="button"
              className="plain"
              onClick={() => {
                openTimeline(inner.id);
                select({ kind: 'timeline', id: inner.id });
              }}
            >
              {inner.name}
            </button>
          )}{' '}
          where its own layers go. Its hold points and cues do not count there.
        </p>
      )}
      {row.kind === 'input' || row.kind === 'timeline' ? null : pattern ? (
        <>
          <h3>Pattern</h3>
          {row.kind === 'pattern' && (
            <Select
              label="Picture"
              mb={8}
              allowDeselect={false}
              value={row.pattern}
              data={PATTERNS.filter((p) => p.name !== 'testcard' && p.name !== 'solid').map((p) => ({
                value: p.name,
                label: p.says,
              }))}
              onChange={(v) => v !== null && void change({ pattern: v as RowOf<'media'>['pattern'] })}
            />
          )}
          {row.pattern === 'text' && <TextArea label="Text" value={row.text} onChange={(text) => change({ text })} />}
          {row.kind === 'solid' && (
            <input
              type="color"
              aria-label="Colour"
              defaultValue={row.colour}
              onBlur={(e) => e.currentTarget.value !== row.colour && void change({ colour: e.currentTarget.value })}
              style={{ width: '100%' }}
            />
          )}
          <div className="row2">
            <NumberField
              label="Width"
              unit="px"
              digits={0}
              value={row.width}
              onChange={(width) => change({ width: Math.round(width), height: row.height || Math.round(width) })}
            />
            <NumberField
              label="Height"
              unit="px"
              digits={0}
              value={row.height}
              onChange={(height) => change({ height: Math.round(height), width: row.width || Math.round(height) })}
            />
          </div>
          <p className="dim" style={{ fontSize: 12 }}>
            0 × 0: as large as the surface that it lands on.
          </p>
          {row.kind === 'pattern' && (
            <>
              <h3>Values</h3>
              <Values
                kind="media"
                id={id}
                stored={row.values as Record<string, unknown>}
                only={patternValues[row.pattern] ?? []}
              />
            </>
          )}
        </>
      ) : (
        <>
          <h3>File</h3>
          <Figures
            of={[
              ['State', row.state ?? 'missing'],
              ['Kind', String(facts.kind ?? '—')],
              ['Pixels', `${facts.width ?? '—'} × ${facts.height ?? '—'}`],
              ...(facts.rotation ? [['Rotation', `${facts.rotation}°`] as [string, string]] : []),
              ['Pixel aspect', typeof facts.pixelAspect === 'number' ? facts.pixelAspect.toFixed(3) : '—'],
              [
                'Frame rate',
                facts.frameRate ? `${facts.frameRate} fps${facts.constantRate === false ? ', variable' : ''}` : '—',
              ],
              ...(facts.kind === 'video' ? [['Frames', String(facts.frames ?? '—')] as [string, string]] : []),
              ...(facts.timecode ? [['Timecode', String(facts.timecode)] as [string, string]] : []),
              ['Duration', typeof facts.duration === 'number' && facts.duration > 0 ? seconds(facts.duration) : '—'],
              ['Codec', String(facts.codec ?? '—')],
              ['Alpha', facts.alpha === true ? String(facts.alphaMode ?? 'yes') : 'no'],
              ...(facts.bits ? [['Bit depth', `${facts.bits} bit ${facts.chroma ?? ''}`] as [string, string]] : []),
              ...(facts.profile ? [['Profile', String(facts.profile)] as [string, string]] : []),
              ['Matrix', inTrade(facts.matrix)],
              ['Range', facts.range === 'pc' ? 'full' : facts.range === 'tv' ? 'limited' : '—'],
              ['Transfer', inTrade(facts.transfer)],
              ['Sound', audio ? `${audio.codec}, ${audio.channels} ch, ${audio.sampleRate / 1000} kHz` : 'none'],
              ...(typeof facts.bitRate === 'number' && facts.bitRate > 0
                ? [['Bit rate', `${(facts.bitRate / 1e6).toFixed(1)} Mbit/s`] as [string, string]]
                : []),
              ['Size', `${((row.bytes ?? 0) / 1e6).toFixed(2)} MB`],
            ]}
          />
          {((facts.assumed as string[] | undefined) ?? []).map((a) => (
            <p key={a} style={{ fontSize: 13, margin: '6px 0' }}>
              <Sign state="attention" /> {a}
            </p>
          ))}
          <p className="dim mono" style={{ fontSize: 11, overflowWrap: 'anywhere' }}>
            sha256 {row.file}
          </p>
          <VersionsOf row={row} />
          <Log hash={row.file ?? ''} state={row.state ?? 'missing'} />
        </>
      )}
      <p className="dim">
        Used by <span className="mono">{uses}</span> {uses === 1 ? 'clip' : 'clips'}.
      </p>
      <Findings kind="media" id={id} />
      <Remove kind="media" id={id} name={row.name} />
    </>
  );
}
