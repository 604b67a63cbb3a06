import { Menu, Select } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { answer, http, type RowOf } from '../../../api/client';
import { useRows, useShow } from '../../hooks';
import {
  complain,
  editAndSelect,
  importCalibration,
  importRegions,
  insert,
  outputs as order,
  select,
  useStudio,
} from '../../store';
import { ulid } from '../../time';
import { uploadFile } from '../media/uploads';
import { AlignmentBoard } from './AlignmentBoard';
import { LightBoard } from './LightBoard';
import { MaskBoard } from './MaskBoard';
import { MatchDialog } from './MatchDialog';
import { PackDialog } from './PackDialog';
import { Raster } from './Raster';
import { RegionList } from './RegionList';
import { SeamPanel } from './SeamPanel';
import { SourceBoard } from './SourceBoard';

export type Tool = 'place' | 'source' | 'shape' | 'mask' | 'align' | 'lights';

const TOOLS: [Tool, string][] = [
  ['place', 'Layout'],
  ['source', 'Source'],
  ['shape', 'Warp'],
  ['mask', 'Masks'],
  ['align', 'Alignment'],
  ['lights', 'Pixel lights'],
];

/** Rasters of outputs as they leave, with the regions that land on them and what is done to these. */
export function Outputs() {
  const show = useShow();
  const outputs = useRows('output');
  const servers = useRows('server');
  const selected = useStudio((s) => s.selected);
  const regions = useRows('region');
  const feeds = useRows('feed');
  const masks = useRows('mask');
  const [tool, setTool] = useState<Tool>('place');
  // What is chosen elsewhere decides what is worked on here.
  const light = selected?.kind === 'patch' || selected?.kind === 'node';
  useEffect(() => {
    if (light) setTool('lights');
  }, [light]);
  const [even, setEven] = useState(false);
  const [seam, setSeam] = useState(false);
  const [packing, setPacking] = useState(false);
  const [matching, setMatching] = useState(false);
  const [listed, setListed] = useState(true);
  const file = useRef<HTMLInputElement>(null);
  const calibration = useRef<HTMLInputElement>(null);
  const last = useRef<string | undefined>(undefined);
  const of = (kind: string | undefined, id: string | undefined) => {
    if (kind === 'output') return id;
    if (kind === 'region') return regions.find((r) => r.id === id)?.output;
    if (kind === 'feed') return feeds.find((f) => f.id === id)?.output;
    if (kind === 'mask') {
      const mask = masks.find((m) => m.id === id);
      if (mask?.output != null) return mask.output;
      const on = regions.filter((r) => r.surface === mask?.surface);
      return (on.find((r) => r.output === last.current) ?? on[0])?.output;
    }
    return undefined;
  };
  const chosen = of(selected?.kind, selected?.id) ?? last.current;
  const output = outputs.find((o) => o.id === chosen) ?? outputs[0];
  last.current = output?.id;
  const region = selected?.kind === 'region' ? regions.find((r) => r.id === selected.id) : undefined;
  const surface =
    region?.surface ??
    (selected?.kind === 'mask' ? (masks.find((m) => m.id === selected.id)?.surface ?? undefined) : undefined);
  const projected = regions.filter((r) => r.surface === surface && show?.computed.regions[r.id]?.projector).length;
  const add = async () => {
    const id = ulid();
    await editAndSelect(
      'Add an output',
      [insert('output', id, { name: `Output ${outputs.length + 1}`, width: 1920, height: 1080, refresh: 60 })],
      { kind: 'output', id },
    );
  };
  // Surfaces that projectors which outputs feed are there for.
  const surfaces = useRows('surface');
  const projectors = useRows('projector');
  const lit = surfaces.some((s) => s.kind === 'light');
  const aimed = surfaces
    .filter((s) => projectors.some((p) => p.aims.includes(s.id) && feeds.some((f) => f.projector === p.id)))
    .slice(0, 20);
  /** Regions for all of its projectors, and what is computed of them. */
  const projectOnto = async (id: string) => {
    if ((await order({ action: 'project', surface: id })) === null) return;
    await answer(
      http.POST('/shows/{show}/projections', {
        params: { path: { show: show?.id ?? '' } },
        body: { surface: id, level: false, limit: 75 },
      }),
    ).catch(complain);
  };
  const named = (o: RowOf<'output'>) => `${o.name} · ${o.width} × ${o.height}`;
  return (
    <>
      <div className="bar">
        {outputs.length > 4 ? (
          <Select
            aria-label="Output"
            searchable
            allowDeselect={false}
            w={250}
            title={output === undefined ? undefined : named(output)}
            value={output?.id ?? null}
            data={[
              ...servers.map((server) => ({
                group: server.name,
                items: outputs.filter((o) => o.server === server.id).map((o) => ({ value: o.id, label: named(o) })),
              })),
              {
                group: servers.length === 0 ? 'Outputs' : 'No server',
                items: outputs
                  .filter((o) => !servers.some((s) => s.id === o.server))
                  .map((o) => ({ value: o.id, label: named(o) })),
              },
            ].filter((group) => group.items.length > 0)}
            onChange={(id) => id !== null && select({ kind: 'output', id })}
          />
        ) : (
          <div role="tablist" aria-label="Outputs" style={{ display: 'flex', gap: 6 }}>
            {outputs.map((o) => (
              <button
                key={o.id}
                type="button"
                role="tab"
                aria-selected={o.id === output?.id}
                className="plain"
                title={named(o)}
                onClick={() => select({ kind: 'output', id: o.id })}
              >
                {o.name}
              </button>
            ))}
          </div>
        )}
        <span className="grow" />
        {(output !== undefined || lit) && (
          <div role="radiogroup" aria-label="Work on" style={{ display: 'flex', gap: 4 }}>
            {TOOLS.map(([id, name]) => (
              <button
                key={id}
                type="button"
                role="radio"
                aria-checked={tool === id}
                className="plain"
                onClick={() => setTool(id)}
              >
                {name}
              </button>
            ))}
          </div>
        )}
        {output !== undefined && (
          <>
            <button
              type="button"
              className="plain"
              aria-pressed={listed}
              title="All regions in their groups"
              onClick={() => setListed((v) => !v)}
            >
              Regions
            </button>
            <button
              type="button"
              className="plain"
              aria-pressed={even}
              disabled={region === undefined}
              title="How evenly squares of content come out"
              onClick={() => setEven((v) => !v)}
            >
              Evenness
            </button>
            <button
              type="button"
              className="plain"
              aria-pressed={seam}
              disabled={projected === 0 && !seam}
              title="The light along a line across the surface"
              onClick={() => setSeam((v) => !v)}
            >
              Seam
            </button>
          </>
        )}
        <Menu position="bottom-end">
          <Menu.Target>
            <button
              type="button"
              className={`plain ${outputs.length === 0 ? 'primary' : ''}`}
              aria-label="Add and exchange"
            >
              Add ▾
            </button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => void add()}>Output</Menu.Item>
            <Menu.Item
              onClick={async () => {
                const id = ulid();
                await editAndSelect('Add a server', [insert('server', id, { name: `Server ${servers.length + 1}` })], {
                  kind: 'server',
                  id,
                });
              }}
            >
              Server
            </Menu.Item>
            {output !== undefined && (
              <>
                <Menu.Item
                  onClick={async () => {
                    const id = ulid();
                    await editAndSelect(
                      'Add a feed',
                      [insert('feed', id, { output: output.id, name: `${output.name} device` })],
                      { kind: 'feed', id },
                    );
                  }}
                >
                  Device on {output.name}
                </Menu.Item>
                {aimed.length > 0 && <Menu.Label>Project onto</Menu.Label>}
                {aimed.map((s) => (
                  <Menu.Item key={s.id} onClick={() => void projectOnto(s.id)}>
                    {s.name}
                  </Menu.Item>
                ))}
                <Menu.Divider />
                <Menu.Item component="a" href="/players" target="players">
                  Players of this machine
                </Menu.Item>
                <Menu.Item onClick={() => setPacking(true)}>Pack regions…</Menu.Item>
                <Menu.Item onClick={() => setMatching(true)}>Match projectors…</Menu.Item>
                <Menu.Item component="a" href={`/api/shows/${show?.id}/regions.csv`} download>
                  X/Y sheet, CSV
                </Menu.Item>
                <Menu.Item component="a" href={`/api/shows/${show?.id}/regions.pdf`} download>
                  X/Y sheet, PDF
                </Menu.Item>
                <Menu.Item onClick={() => file.current?.click()}>Read an X/Y sheet…</Menu.Item>
                {region !== undefined && (
                  <>
                    <Menu.Divider />
                    <Menu.Item
                      component="a"
                      href={`/api/shows/${show?.id}/surfaces/${region.surface}/projection.mpcdi`}
                      download
                    >
                      Calibration, MPCDI
                    </Menu.Item>
                    <Menu.Item onClick={() => calibration.current?.click()}>Read a calibration…</Menu.Item>
                    <Menu.Item component="a" href={`/api/shows/${show?.id}/regions/${region.id}/alpha.png`} download>
                      Blend, PNG
                    </Menu.Item>
                    <Menu.Item component="a" href={`/api/shows/${show?.id}/regions/${region.id}/warp.csv`} download>
                      Warp, CSV
                    </Menu.Item>
                  </>
                )}
              </>
            )}
          </Menu.Dropdown>
        </Menu>
        <input
          ref={file}
          type="file"
          accept=".csv,text/csv"
          aria-label="X/Y sheet"
          style={{ display: 'none' }}
          onChange={async (e) => {
            const [one] = e.currentTarget.files ?? [];
            e.currentTarget.value = '';
            if (one !== undefined) await importRegions(await one.text());
          }}
        />
        <input
          ref={calibration}
          type="file"
          accept=".mpcdi,.zip"
          aria-label="Calibration"
          style={{ display: 'none' }}
          onChange={async (e) => {
            const [one] = e.currentTarget.files ?? [];
            e.currentTarget.value = '';
            if (one === undefined || region === undefined) return;
            // What it is told by is its name.
            const named = one.name.toLowerCase().endsWith('.mpcdi') ? one : new File([one], `${one.name}.mpcdi`);
            const hash = await uploadFile(named);
            if (hash !== null) await importCalibration(region.surface, hash);
          }}
        />
      </div>
      {tool === 'lights' || (output === undefined && lit) ? (
        <LightBoard />
      ) : output === undefined ? (
        <div className="empty">
          <strong>No output yet</strong>
          An output is one connector of a media server. Surfaces land on it as regions, at exact pixels.
          <button type="button" className="plain primary" onClick={() => void add()}>
            Add an output
          </button>
        </div>
      ) : tool === 'align' ? (
        <AlignmentBoard key={output.id} output={output} />
      ) : tool === 'source' ? (
        <div className={listed ? 'raster-and-list listed' : 'raster-and-list'} style={{ gridTemplateRows: '1fr' }}>
          {listed && <RegionList />}
          <SourceBoard key={output.id} output={output} region={region} />
        </div>
      ) : tool === 'mask' ? (
        <MaskBoard key={`${output.id} ${surface}`} output={output} surface={surface} region={region} />
      ) : (
        <div
          className={listed ? 'raster-and-list listed' : 'raster-and-list'}
          style={{ gridTemplateRows: seam && surface !== undefined ? '1fr 220px' : '1fr' }}
        >
          {listed && <RegionList />}
          <Raster
            key={output.id}
            output={output}
            regions={regions.filter((r) => r.output === output.id)}
            tool={tool}
            even={even ? region?.id : undefined}
          />
          {seam && surface !== undefined && <SeamPanel key={surface} surface={surface} />}
        </div>
      )}
      {matching && (
        <MatchDialog
          close={() => setMatching(false)}
          outputs={outputs.filter((o) => feeds.some((f) => f.output === o.id && f.role === 'projector'))}
          match={(measured) => order({ action: 'match', measured })}
        />
      )}
      {packing && (
        <PackDialog
          close={() => setPacking(false)}
          pack={(fields) => order({ action: 'pack', ...fields })}
          outputs={outputs}
          here={output?.id}
        />
      )}
    </>
  );
}
