import { Menu, Modal } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useShow } from '../hooks';
import { copyShow, live, openShow, playback, set, showQuery, showsQuery, useStudio } from '../store';
import { engage } from './actions';
import { Kite } from './Kite';

/** Which show this window has open, whether that is the one on air, and the others. */
export function ShowMenu() {
  const show = useShow();
  const shows = useQuery(showsQuery).data?.shows ?? [];
  const air = useStudio((s) => s.air);
  const isOnAir = show !== undefined && air === show.id;
  const others = shows.filter((s) => s.id !== show?.id);
  return (
    <Menu position="right-start" width={260} withinPortal>
      <Menu.Target>
        <button type="button" className="show-mark" aria-label={`Show ${show?.name ?? ''}`} title={show?.name}>
          <Kite size={20} />
          <span className="show-name">{show?.name ?? ''}</span>
          <span className={isOnAir ? 'show-air' : 'state-attention'}>{isOnAir ? '● on air' : '▲ not on air'}</span>
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        {others.length > 0 && <Menu.Label>Open</Menu.Label>}
        {others.slice(0, 12).map((s) => (
          <Menu.Item key={s.id} onClick={() => openShow(s.id)}>
            {s.name} {s.id === air && <span className="show-air">● on air</span>}
          </Menu.Item>
        ))}
        <Menu.Label>This show</Menu.Label>
        {!isOnAir && show !== undefined && (
          <Menu.Item onClick={() => set({ engaging: true })}>Put this show on air</Menu.Item>
        )}
        <Menu.Item onClick={() => void copyShow().then((id) => id !== null && openShow(id))}>Duplicate</Menu.Item>
        <Menu.Divider />
        <Menu.Item onClick={() => set({ beginning: true })}>New show</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

/** Asks before another show gives way to this one, and says what of it runs and what goes dark. */
export function Engaging() {
  const engaging = useStudio((s) => s.engaging);
  return engaging ? <Ask /> : null;
}

function Ask() {
  const show = useShow();
  const shows = useQuery(showsQuery).data?.shows ?? [];
  const air = useStudio((s) => s.air);
  const players = useStudio((s) => s.health?.players);
  const [busy, setBusy] = useState(false);
  const before = shows.find((s) => s.id === air && s.id !== show?.id);
  const now = playback.onAir();
  const at = live.now() ?? 0;
  const running = [...(now?.heads.values() ?? [])].filter((head) => head.on && head.moves(at));
  const on = Object.keys(now?.cues?.on ?? {}).length;
  const theirs = useQuery({ ...showQuery(before?.id ?? null), enabled: before !== undefined }).data;
  const open = new Set(
    (players ?? []).flatMap((p) => theirs?.rows.output.find((output) => output.id === p.output)?.name ?? []),
  );
  const close = () => set({ engaging: false });
  const run = async () => {
    setBusy(true);
    await engage();
    close();
  };
  return (
    <Modal opened onClose={close} centered title="Put this show on air" size={440}>
      <div style={{ display: 'grid', gap: 12 }}>
        {before === undefined ? (
          <p style={{ margin: 0 }}>No other show is on air.</p>
        ) : (
          <p style={{ margin: 0 }}>
            “{before.name}” goes off air
            {running.length + on === 0
              ? '. Nothing of it runs.'
              : `: ${[
                  running.length > 0
                    ? `${running.length} ${running.length === 1 ? 'timeline runs' : 'timelines run'}`
                    : '',
                  on > 0 ? `${on} ${on === 1 ? 'cue is' : 'cues are'} on` : '',
                ]
                  .filter((part) => part !== '')
                  .join(', ')}.`}
          </p>
        )}
        {before !== undefined && open.size > 0 && (
          <p className="state-attention" style={{ margin: 0 }}>
            ▲ {open.size === 1 ? 'This player goes' : 'These players go'} dark until this show reaches{' '}
            {open.size === 1 ? 'it' : 'them'}: {[...open].sort().slice(0, 12).join(', ')}
            {open.size > 12 && ` and ${open.size - 12} more`}.
          </p>
        )}
        <div style={{ display: 'flex', gap: 8, justifyContent: 'end' }}>
          <button type="button" className="plain" onClick={close}>
            Cancel
          </button>
          <button type="button" className="plain primary" disabled={busy} onClick={() => void run()}>
            Put on air
          </button>
        </div>
      </div>
    </Modal>
  );
}
