import { Checkbox, Modal, SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import { inWords } from '../../../live/property';
import { named } from '../../cues';
import { recordCue } from '../../edits';
import { NameField, NumberField, submitted } from '../../fields/fields';
import { MASTER } from '../../frame/TransportBar';
import { useShow, useTimeline } from '../../hooks';
import { playhead, select, useStudio } from '../../store';
import { FLICKS, timecode } from '../../time';

/** How a cue is recorded of what is on: all of it, or values that are chosen. */
export function RecordDialog({
  onClose,
  place,
}: {
  onClose: () => void;
  place?: { page: string; row: number; column: number };
}) {
  const show = useShow();
  const timeline = useTimeline();
  const values = useStudio((s) => s.values);
  const loose = Object.keys(values).filter((a) => a !== MASTER);
  const [scope, setScope] = useState<'chosen' | 'everything'>(loose.length > 0 ? 'chosen' : 'everything');
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [name, setName] = useState('');
  const [fade, setFade] = useState(FLICKS);
  const [there, setThere] = useState(false);
  const [discard, setDiscard] = useState(true);
  const taken = loose.filter((a) => !left.has(a));
  const frame = show?.computed.flicksPerFrame ?? 1;
  const time = playhead();
  const record = async () => {
    const id = await recordCue({
      action: 'record',
      scope,
      ...(scope === 'chosen' ? { addresses: taken } : {}),
      ...(name === '' ? {} : { name }),
      fade,
      discard: scope === 'chosen' && discard,
      ...(there && timeline !== undefined ? { timeline: timeline.id, time } : {}),
      ...(place ?? {}),
    });
    if (id !== null) {
      select({ kind: 'cue', id });
      onClose();
    }
  };
  return (
    <Modal opened onClose={onClose} title="Record a cue" centered>
      <form
        onSubmit={submitted(() => {
          void record();
        })}
        style={{ display: 'grid', gap: 12 }}
      >
        <SegmentedControl
          aria-label="Scope"
          value={scope}
          onChange={(v) => setScope(v as typeof scope)}
          data={[
            { value: 'chosen', label: `Only recorded (${taken.length})` },
            { value: 'everything', label: 'Everything' },
          ]}
        />
        {scope === 'everything' ? (
          <div className="scope everything">
            All that is seen now, whole. Every other layer goes dark, also those made later.
          </div>
        ) : (
          <div className="scope chosen">
            {loose.length === 0 && (
              <span className="dim">
                Nothing is loose. Set values by hand first; what stays untouched goes on as it is.
              </span>
            )}
            {loose.slice(0, 200).map((address) => {
              const { of, label, property } = named(show, address);
              return (
                <Checkbox
                  key={address}
                  size="xs"
                  checked={!left.has(address)}
                  label={`${of} · ${label} ${property === undefined ? '' : inWords(property, values[address] ?? 0)}`}
                  onChange={(e) => {
                    const next = new Set(left);
                    if (e.currentTarget.checked) next.delete(address);
                    else next.add(address);
                    setLeft(next);
                  }}
                />
              );
            })}
          </div>
        )}
        <NameField label="Name" value={name} onChange={setName} autoFocus />
        <NumberField
          label="Fade"
          unit="s"
          value={fade}
          scale={1 / FLICKS}
          digits={2}
          onChange={(v) => setFade(Math.max(0, Math.round(v)))}
        />
        {timeline !== undefined && show !== undefined && (
          <Checkbox
            label={`On ${timeline.name} at ${timecode(time, show.frameRate, frame)}`}
            checked={there}
            onChange={(e) => setThere(e.currentTarget.checked)}
          />
        )}
        {scope === 'chosen' && loose.length > 0 && (
          <Checkbox
            label="Discard the loose values"
            checked={discard}
            onChange={(e) => setDiscard(e.currentTarget.checked)}
          />
        )}
        <button
          type="submit"
          className="plain primary"
          style={{ textAlign: 'center', padding: '8px 0' }}
          disabled={scope === 'chosen' && taken.length === 0}
        >
          Record
        </button>
      </form>
    </Modal>
  );
}
