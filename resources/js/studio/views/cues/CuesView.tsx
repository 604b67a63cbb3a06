import { useState } from 'react';
import { groupColours } from '../../../theme/tokens';
import { inOrder } from '../../cues';
import { importTable, recordCue } from '../../edits';
import { useRows, useShow } from '../../hooks';
import { command, editAndSelect, insert, select, set, shownPlayback, useStudio } from '../../store';
import { ulid } from '../../time';
import { Board } from './Board';
import { CueList } from './List';
import { RecordDialog } from './RecordDialog';

/** The cues of a show: the list in order of numbers, and the board beside it. */
export function CuesView() {
  const show = useShow();
  useStudio((s) => s.told);
  const page = useStudio((s) => s.pageId);
  const all = useRows('cue');
  const pages = [...useRows('page')].sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));
  const [recording, setRecording] = useState<{ page: string; row: number; column: number } | true | null>(null);
  const [arrange, setArrange] = useState(false);
  if (show === undefined) return null;
  const cues = [...all].sort(inOrder);
  const shown = pages.find((p) => p.id === page) ?? pages[0];
  const on = Object.keys(shownPlayback()?.cues?.on ?? {});
  const addPage = async () => {
    const id = ulid();
    if (
      await editAndSelect(
        'Add a page',
        [
          insert('page', id, {
            name: `Page ${pages.length + 1}`,
            order: Math.max(-1, ...pages.map((p) => p.order)) + 1,
          }),
        ],
        { kind: 'page', id },
      )
    )
      set({ pageId: id });
  };
  const addGroup = async () => {
    const id = ulid();
    const count = show.rows.group.length;
    await editAndSelect(
      'Add a yield group',
      [insert('group', id, { name: `Group ${count + 1}`, colour: groupColours[count % groupColours.length] ?? '' })],
      { kind: 'group', id },
    );
  };
  /** The first room on the page that is free. */
  const free = () => {
    if (shown === undefined) return true as const;
    const taken = new Set(all.filter((c) => c.page === shown.id).map((c) => `${c.row} ${c.column}`));
    for (let row = 0; row < shown.rows; row++)
      for (let column = 0; column < shown.columns; column++)
        if (!taken.has(`${row} ${column}`)) return { page: shown.id, row, column };
    return true as const;
  };
  const take = (of: 'cues' | 'markers') => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = '.csv,text/csv';
    input.onchange = async () => {
      const file = input.files?.[0];
      if (file !== undefined) await importTable(of, await file.text());
    };
    input.click();
  };
  return (
    <>
      <div className="bar">
        <button type="button" className="plain primary" onClick={() => setRecording(true)}>
          Record a cue
        </button>
        <button type="button" className="plain" onClick={() => void addGroup()}>
          Add a yield group
        </button>
        <button type="button" className="plain" onClick={() => void addPage()}>
          Add a page
        </button>
        <button
          type="button"
          className="plain"
          disabled={all.length === 0}
          onClick={() => void recordCue({ action: 'renumber', first: 1, step: 1 })}
        >
          Renumber
        </button>
        <span className="grow" />
        <button
          type="button"
          className="plain"
          disabled={on.length === 0}
          onClick={() => void command({ action: 'release' })}
        >
          Release all{on.length === 0 ? '' : ` (${on.length})`}
        </button>
        <a className="plain" href={`/api/shows/${show.id}/cues.csv`} download>
          Export CSV
        </a>
        <button type="button" className="plain" onClick={() => take('cues')}>
          Import CSV
        </button>
      </div>
      <div className="cues">
        <section className="cues-list" aria-label="Cue list">
          <div className="cuehead dim">
            <span>Number</span>
            <span>Name</span>
            <span>Holds</span>
            <span>Start</span>
            <span>Fade</span>
          </div>
          {cues.length === 0 ? (
            <p className="empty">
              <strong>No cues yet</strong>
              Set values by hand and record them, or record all that is seen.
            </p>
          ) : (
            <CueList cues={cues} />
          )}
        </section>
        <section className="cues-board" aria-label="Cue board">
          {shown === undefined ? (
            <p className="empty">
              <strong>No page yet</strong>
              <button type="button" className="plain primary" onClick={() => void addPage()}>
                Add a page
              </button>
            </p>
          ) : (
            <>
              <div className="bar" style={{ borderTop: 0, flexWrap: 'wrap', height: 'auto' }}>
                {pages.map((p) => (
                  <button
                    key={p.id}
                    type="button"
                    className="plain"
                    aria-pressed={p.id === shown.id}
                    onClick={() => set({ pageId: p.id })}
                    onDoubleClick={() => select({ kind: 'page', id: p.id })}
                  >
                    {p.name}
                  </button>
                ))}
                <span className="grow" />
                <button type="button" className="plain" onClick={() => setRecording(free())}>
                  Record onto the board
                </button>
                <button type="button" className="plain" aria-pressed={arrange} onClick={() => setArrange((a) => !a)}>
                  Arrange
                </button>
                <a
                  className="plain"
                  href={`/touch/${encodeURIComponent(shown.name)}`}
                  target={`touch-${shown.id}`}
                  title="This page alone, for a touch screen"
                >
                  Touch
                </a>
                <button type="button" className="plain" onClick={() => select({ kind: 'page', id: shown.id })}>
                  Page…
                </button>
              </div>
              <Board page={shown} arrange={arrange} />
            </>
          )}
        </section>
      </div>
      {recording !== null && (
        <RecordDialog onClose={() => setRecording(null)} {...(recording === true ? {} : { place: recording })} />
      )}
    </>
  );
}
