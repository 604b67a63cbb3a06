import { Modal, Progress } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { answer, http } from '../../../api/client';
import { Figures } from '../../fields/fields';
import { size } from '../../size';
import { complain } from '../../store';

const FOLDERS = [
  ['originals', 'Files as they came'],
  ['forms', 'Playback forms'],
  ['thumbnails', 'Thumbnails'],
  ['models', 'Models'],
  ['uploads', 'On their way in'],
] as const;

/** Where media and shows are, how much disk they take, and what the workers are at. */
export function Storage({ onClose }: { onClose: () => void }) {
  const storage = useQuery({
    queryKey: ['storage'],
    queryFn: () => answer(http.GET('/storage')),
    refetchOnMount: 'always',
    refetchInterval: (query) => ((query.state.data?.waiting ?? 0) > 0 ? 1000 : false),
  });
  const { data } = storage;
  const act = (hash: string, what: 'retry' | 'cancel') =>
    void http
      .POST(`/files/{hash}/${what}`, { params: { path: { hash } } })
      .then(() => storage.refetch())
      .catch(complain);
  return (
    <Modal opened onClose={onClose} centered size="lg" title="Storage">
      {data === undefined ? (
        <p className="dim">Counting…</p>
      ) : (
        <>
          <Figures
            of={[
              ...FOLDERS.map(([folder, says]): [string, string] => [
                says,
                `${size(data.folders[folder].bytes)} · ${data.folders[folder].files} files`,
              ]),
              ['Shows', size(data.database.bytes)],
              ['Free', `${size(data.free)} · ${size(data.keepFree)} are kept free`],
            ]}
          />
          <p className="dim mono" style={{ fontSize: 12, overflowWrap: 'anywhere' }}>
            {data.path}
            <br />
            {data.database.path}
          </p>
          <h3>Work</h3>
          {data.jobs.length === 0 && <p className="dim">No pending or failed jobs.</p>}
          {data.jobs.map((job) => (
            <div
              key={job.hash}
              style={{
                display: 'grid',
                gridTemplateColumns: '1fr 110px auto',
                gap: 10,
                alignItems: 'center',
                fontSize: 13,
                padding: '4px 0',
              }}
            >
              <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>
                {job.name}{' '}
                <span className={job.state === 'failed' ? 'state-fault' : 'dim'}>
                  {job.state === 'failed' ? `✕ ${job.message ?? 'failed'}` : job.state}
                </span>
              </span>
              {job.state === 'failed' ? (
                <span />
              ) : (
                <Progress value={job.progress * 100} size={4} aria-label={`Progress of ${job.name}`} />
              )}
              <button
                type="button"
                className="plain"
                onClick={() => act(job.hash, job.state === 'failed' ? 'retry' : 'cancel')}
              >
                {job.state === 'failed' ? 'Try again' : 'Cancel'}
              </button>
            </div>
          ))}
        </>
      )}
    </Modal>
  );
}
