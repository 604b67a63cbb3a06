import { NativeSelect, Switch } from '@mantine/core';
import { http, type RowOf } from '../../../../api/client';
import { Figures, NumberField } from '../../../fields/fields';
import { Sign } from '../../../frame/Kite';
import { complain, edit, update } from '../../../store';
import { uploadFile } from '../../media/uploads';
import { settings } from './common';

/** The file of a model: how it is read, and a newer one in its place. */
export function ModelFile({ kind, row }: { kind: 'surface' | 'prop'; row: RowOf<'surface'> | RowOf<'prop'> }) {
  const shape = settings(row.shape);
  const file = row.modelFile as
    | {
        name?: string;
        state?: string;
        progress?: number;
        message?: string | null;
        form?: { triangles?: number; remarks?: string[]; groups?: { name: string; triangles: number }[] };
      }
    | undefined;
  const change = (name: string, value: string | number | boolean) =>
    edit(`Shape ${row.name}`, [update(kind, row as never, { shape: { ...shape, [name]: value } } as never)]);
  const replace = async (chosen: File | undefined) => {
    if (chosen === undefined) return;
    const hash = await uploadFile(chosen);
    if (hash !== null)
      await edit(`Replace the model of ${row.name}`, [update(kind, row as never, { model: hash } as never)]);
  };
  return (
    <>
      <h3>Model</h3>
      <Figures
        of={[
          ['File', file?.name ?? '—'],
          [
            'State',
            file === undefined || file.state === 'missing'
              ? 'missing'
              : file.state === 'working'
                ? `reading, ${Math.round((file.progress ?? 0) * 100)} %`
                : (file.state ?? '—'),
          ],
          ['Triangles', file?.form?.triangles?.toLocaleString('en') ?? '—'],
          [
            'Groups',
            (file?.form?.groups ?? [])
              .map((g) => g.name || '(none)')
              .slice(0, 6)
              .join(', ') || '—',
          ],
        ]}
      />
      {row.model !== null && (file?.state === 'waiting' || file?.state === 'working') && (
        <button
          type="button"
          className="plain"
          onClick={() =>
            void http.POST('/files/{hash}/cancel', { params: { path: { hash: row.model ?? '' } } }).catch(complain)
          }
        >
          Cancel import
        </button>
      )}
      {row.model !== null && (file?.state === 'failed' || file?.state === 'cancelled') && (
        <button
          type="button"
          className="plain"
          onClick={() =>
            void http.POST('/files/{hash}/retry', { params: { path: { hash: row.model ?? '' } } }).catch(complain)
          }
        >
          Read it again
        </button>
      )}
      {file?.message && (
        <p style={{ fontSize: 13 }}>
          <Sign state="fault" /> {file.message}
        </p>
      )}
      {(file?.form?.remarks ?? []).map((r) => (
        <p key={r} style={{ fontSize: 13, margin: '4px 0' }}>
          <Sign state="attention" /> {r}
        </p>
      ))}
      {kind === 'surface' && (
        <NativeSelect
          mt={8}
          size="xs"
          label="UVs"
          value={String(shape.uv ?? 'file')}
          onChange={(e) => void change('uv', e.currentTarget.value)}
          data={[
            { value: 'file', label: 'of the file; made by box where it has none' },
            { value: 'box', label: 'made by box' },
            { value: 'front', label: 'thrown from the front' },
            { value: 'top', label: 'thrown from above' },
          ]}
        />
      )}
      {kind === 'prop' && (
        <NumberField label="Metres per unit" value={Number(shape.scale ?? 1)} onChange={(v) => change('scale', v)} />
      )}
      <Switch
        mt={8}
        label="Z up"
        checked={shape.zUp === true}
        onChange={(e) => void change('zUp', e.currentTarget.checked)}
      />
      <Switch
        mt={6}
        label="Flip faces"
        checked={shape.flip === true}
        onChange={(e) => void change('flip', e.currentTarget.checked)}
      />
      <label className="plain" style={{ display: 'inline-block', marginTop: 8 }}>
        Replace file
        <input type="file" accept=".obj" hidden onChange={(e) => void replace(e.currentTarget.files?.[0])} />
      </label>
    </>
  );
}
