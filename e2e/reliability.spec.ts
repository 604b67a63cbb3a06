import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { KiteLamp, kill, until } from './kite';

/** What is killed, sent twice or asked for at once on a whole Kite Lamp, without a browser. */
test.describe.configure({ mode: 'serial' });

const kite = new KiteLamp(4400);
let show = '';

const file = (name: string, ...how: string[]) => {
  const path = join(kite.folder, name);
  execFileSync('ffmpeg', ['-y', '-v', 'error', '-f', 'lavfi', ...how, path]);
  return readFileSync(path);
};
const sha = (bytes: Buffer) => execFileSync('sha256sum', { input: bytes, encoding: 'utf8' }).slice(0, 64);
const pids = (pattern: string) => kite.pids(pattern);
const status = async (path: string, init: RequestInit = {}) =>
  (
    await fetch(`${kite.address}/${path}`, {
      ...init,
      headers: { ...kite.sender, 'Content-Type': 'application/json', ...init.headers },
    })
  ).status;
const media = async () =>
  (
    await kite.api<{
      rows: {
        media: { id: string; name: string; file: string; state: string; progress: number; message: string | null }[];
      };
    }>(`shows/${show}`)
  ).rows.media;

/** Sends a file in parts, however often its beginning or a part is lost. */
async function send(name: string, bytes: Buffer<ArrayBuffer>, part: number): Promise<{ hash: string; known: boolean }> {
  const { id } = await until(`${name} to be begun`, () =>
    kite.api<{ id: string }>(`shows/${show}/uploads`, { name, bytes: bytes.length }).catch(() => false as const),
  );
  let at = 0;
  return until(
    `${name} to be here`,
    async () => {
      try {
        const answer = await fetch(`${kite.address}/api/uploads/${id}?at=${at}`, {
          method: 'PUT',
          headers: { ...kite.sender, 'Content-Type': 'application/octet-stream' },
          body: bytes.subarray(at, at + part),
        });
        const said = (await answer.json()) as { received?: number; hash?: string; known?: boolean };
        if (said.hash !== undefined) return { hash: said.hash, known: said.known === true };
        at =
          said.received ??
          (
            (await (await fetch(`${kite.address}/api/uploads/${id}`, { headers: kite.sender })).json()) as {
              received?: number;
            }
          ).received ??
          at;
      } catch {
        // The line broke; what arrived is asked for next.
        at = await fetch(`${kite.address}/api/uploads/${id}`, { headers: kite.sender }).then(
          async (a) => ((await a.json()) as { received?: number }).received ?? at,
          () => at,
        );
      }
      return false;
    },
    60,
  );
}

test.beforeAll(async () => {
  await kite.start();
  show = (await kite.api<{ id: string }>('shows', { name: 'Storm' })).id;
});
test.afterAll(async () => kite.stop());

test('php killed in the middle of parts files nothing under a wrong hash and leaves nothing stuck', async () => {
  const files = Array.from({ length: 6 }, (_, n) =>
    file(`gale${n}.mp4`, '-i', `testsrc2=s=160x90:r=25:d=${2 + n}`, '-c:v', 'libx264', '-crf', '10'),
  );
  let ending = false;
  const killer = (async () => {
    for (let n = 0; !ending && n < 60; n++) {
      kill(pids('php-fpm: pool kite').slice(0, 2));
      await until('others to be started', async () => ending || pids('php-fpm: pool kite').length > 1).catch(
        () => undefined,
      );
    }
  })();
  const sent = await Promise.all(files.map((bytes, n) => send(`gale${n}.mp4`, bytes, 9000)));
  ending = true;
  await killer;
  expect(sent.map((s) => s.hash)).toEqual(files.map(sha));
  expect(readdirSync(join(kite.folder, 'media/uploads'))).toEqual([]);
  for (const { hash } of sent) expect(sha(readFileSync(join(kite.folder, 'media/originals', hash)))).toBe(hash);
  expect((await media()).map((m) => m.file).sort()).toEqual(sent.map((s) => s.hash).sort());
});

test('the same file sent ten times at once is one, and nobody is answered by a fault', async () => {
  const bytes = file('tide.mp4', '-i', 'testsrc2=s=160x90:r=25:d=3', '-c:v', 'libx264');
  const before = (await media()).length;
  const sent = await Promise.all(
    Array.from({ length: 10 }, (_, n) =>
      kite.api<{ id: string }>(`shows/${show}/uploads`, { name: `tide ${n}.mp4`, bytes: bytes.length }),
    ),
  );
  const answers = await Promise.all(
    sent.map(async ({ id }) => {
      const answer = await fetch(`${kite.address}/api/uploads/${id}?at=0`, {
        method: 'PUT',
        headers: { ...kite.sender, 'Content-Type': 'application/octet-stream' },
        body: bytes,
      });
      return [answer.status, ((await answer.json()) as { known?: boolean }).known] as const;
    }),
  );
  expect(answers.map(([code]) => code)).toEqual(Array(10).fill(200));
  expect(answers.filter(([, known]) => known === false)).toHaveLength(1);
  expect((await media()).length).toBe(before + 1);
});

test('a worker that is killed in a conversion leaves it to the next, and its decoder ends with it', async () => {
  await until('all to be ready', async () => (await media()).every((m) => m.state === 'ready'), 60);
  const { hash } = await send(
    'surf.mp4',
    file('surf.mp4', '-i', 'mandelbrot=s=1920x1080:r=25', '-t', '5', '-c:v', 'libx264', '-preset', 'ultrafast'),
    4_000_000,
  );
  const row = async () => (await media()).find((m) => m.file === hash);
  await until(
    'the conversion to be on',
    async () => (await row())?.state === 'working' && ((await row())?.progress ?? 0) > 0.05,
    30,
  );
  const decoder = pids(`ffmpeg.*${hash}`);
  expect(decoder.length).toBeGreaterThan(0);
  kill(pids('queue:work'));
  await until('the decoder to be gone', async () => decoder.every((pid) => !existsSync(`/proc/${pid}`)));
  // While it is made anew, another is made beside it.
  const { hash: other } = await send(
    'foam.mp4',
    file('foam.mp4', '-i', 'testsrc2=s=96x54:r=25:d=1', '-c:v', 'libx264'),
    4_000_000,
  );
  await until(
    'the small one to be ready',
    async () => (await media()).find((m) => m.file === other)?.state === 'ready',
    30,
  );
  await until('the large one to be ready', async () => (await row())?.state === 'ready', 60);
});

test('two that put shows on air at once, and one that removes a show meanwhile, leave one on air', async () => {
  const others = await Promise.all(
    Array.from({ length: 5 }, (_, n) => kite.api<{ id: string }>('shows', { name: `Other ${n}` })),
  );
  for (let round = 0; round < 6; round++) {
    const answers = await Promise.all([
      ...others.map(({ id }) => status(`api/shows/${id}/engage`, { method: 'POST', body: '{}' })),
      ...others.slice(0, 2).map(({ id }) => status(`api/shows/${id}`, { method: 'DELETE' })),
    ]);
    expect(answers.filter((code) => ![200, 404, 422].includes(code))).toEqual([]);
    const { shows } = await kite.api<{ shows: { engaged: boolean }[] }>('shows');
    expect(shows.filter((s) => s.engaged)).toHaveLength(1);
  }
});

test('what nginx answers by itself is a problem document, and pages of other addresses get nothing', async () => {
  for (const [path, init, code] of [
    ['nothing', {}, 404],
    ['api/arithmetic', { method: 'POST', body: Buffer.alloc(17_000_000, 'x') }, 413],
    ['media/forms/nothing.mp4', {}, 404],
    ['live/clock', { headers: { 'Sec-Fetch-Site': 'cross-site' } }, 403],
    [`packs/${'0'.repeat(32)}.pack`, { headers: { 'Sec-Fetch-Site': 'cross-site' } }, 403],
    ['api/patterns/testcard.png?width=8000&height=8000', { headers: { 'Sec-Fetch-Site': 'cross-site' } }, 403],
  ] as [string, RequestInit, number][]) {
    const answer = await fetch(`${kite.address}/${path}`, {
      ...init,
      headers: { ...kite.sender, 'Content-Type': 'application/json', ...init.headers },
    });
    expect([path, answer.status, answer.headers.get('content-type')]).toEqual([path, code, 'application/problem+json']);
    expect(((await answer.json()) as { status: number }).status).toBe(code);
  }
  const answer = await fetch(`${kite.address}/`);
  expect([
    answer.headers.get('cross-origin-resource-policy'),
    answer.headers.get('cross-origin-opener-policy'),
  ]).toEqual(['same-origin', 'same-origin']);
  // 100 at once and 20 a second: however long it takes to answer them, not all of 400.
  const many = await Promise.all(
    Array.from({ length: 400 }, () => status('api/patterns/testcard.png?width=16&height=16')),
  );
  expect(many.filter((code) => code === 429).length).toBeGreaterThan(20);
  expect(new Set(many)).toEqual(new Set([200, 429]));
});

test('the database, the journal and what is kept beside them are read by nobody else', async () => {
  const mode = (path: string) =>
    execFileSync('stat', ['-c', '%a', join(kite.folder, path)], { encoding: 'utf8' }).trim();
  for (const path of ['.', 'run', 'media']) expect([path, mode(path)]).toEqual([path, '700']);
  for (const path of ['kite.sqlite', 'kite.sqlite-wal', 'journal.jsonl'])
    expect([path, mode(path)]).toEqual([path, '600']);
});

test('a launcher that is killed takes all that it started along', async () => {
  await send(
    'swell.mp4',
    file('swell.mp4', '-i', 'mandelbrot=s=1280x720:r=25', '-t', '8', '-c:v', 'libx264', '-preset', 'ultrafast'),
    4_000_000,
  );
  await until('the decoder to be at it', async () => pids('ffmpeg').length > 0);
  await kite.killLauncher();
  await until(
    'all to be gone',
    async () =>
      [...pids('queue:work'), ...pids('ffmpeg'), ...pids('php-fpm'), ...pids('nginx'), ...pids('kite:')].length === 0,
    20,
  );
  await kite.thaw();
  await until('what it was at to be made ready', async () => (await media()).every((m) => m.state === 'ready'), 60);
});
