import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { bytesOf, core } from '../../e2e/core';
import { likely, matches, type Searched } from '../../resources/js/studio/views/media/find';
import { archive, folderOf, grouped, inFolder } from '../../resources/js/studio/views/media/sequence';
import { levelFor, levelsOf } from '../../resources/js/studio/views/media/Waveform';

/** What is done with files before they are sent, and how media are searched. */
const file = (name: string, folder = '', content = name) => {
  const made = new File([content], name);
  inFolder(made, folder);
  return made;
};
const names = (list: ReturnType<typeof grouped>) =>
  list.map((one) => (one instanceof File ? one.name : `${one.name} × ${one.files.length}`));

test('stills of one folder that are numbered alike are one sequence, at the place of their first', () => {
  const gulls = [9, 10, 11, 12, 8].map((n) => file(`gull_${n}.png`, 'a'));
  expect(names(grouped([file('notes.txt', 'a'), ...gulls, file('sea.mp4', 'a')]))).toEqual([
    'notes.txt',
    'gull_[8-12].png × 5',
    'sea.mp4',
  ]);
  expect((grouped(gulls)[0] as { files: File[] }).files.map((f) => f.name)).toEqual([
    'gull_8.png',
    'gull_9.png',
    'gull_10.png',
    'gull_11.png',
    'gull_12.png',
  ]);
  // Of other folders, of another kind, too few, or with a number twice: each is itself.
  expect(names(grouped([1, 2, 3, 4, 5].map((n) => file(`gull_${n}.png`, n < 3 ? 'a' : 'b'))))).toHaveLength(5);
  expect(names(grouped([1, 2, 3, 4, 5].map((n) => file(`gull_${n}.${n < 3 ? 'png' : 'jpg'}`))))).toHaveLength(5);
  expect(grouped(gulls.slice(0, 4))).toHaveLength(4);
  expect(grouped([...gulls, file('gull_08.png', 'a')])).toHaveLength(6);
  expect(grouped([])).toEqual([]);
  expect([folderOf(gulls[0] as File), folderOf(new File([], 'x.png'))]).toEqual(['a', '']);
});

test('the archive of a sequence is read by the system’s own archiver, and is the same each time', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'kite-archive-'));
  const [sequence] = grouped([1, 2, 3, 4, 5].map((n) => file(`gull_${n}.PNG`, '', 'x'.repeat(511 + n)))) as {
    name: string;
    files: File[];
  }[];
  const made = archive(sequence as { name: string; files: File[] }, '50');
  const bytes = Buffer.from(await made.arrayBuffer());
  writeFileSync(join(folder, 'a.tar'), bytes);
  expect(
    execFileSync('tar', ['-tf', join(folder, 'a.tar')], { encoding: 'utf8' })
      .trim()
      .split('\n'),
  ).toEqual(['frame-rate.txt', ...[1, 2, 3, 4, 5].map((n) => `00000000${n}.png`)]);
  execFileSync('tar', ['-xf', join(folder, 'a.tar'), '-C', folder]);
  expect(readFileSync(join(folder, 'frame-rate.txt'), 'utf8')).toBe('50\n');
  for (let n = 1; n <= 5; n++) expect(readFileSync(join(folder, `00000000${n}.png`))).toHaveLength(511 + n);
  expect(made.name).toBe('gull_[1-5].png');
  expect(
    Buffer.from(await archive(sequence as { name: string; files: File[] }, '50').arrayBuffer()).equals(bytes),
  ).toBe(true);
});

test('media are found by what they are, and by comparing', () => {
  const m = (more: Partial<Searched>): Searched => ({
    name: 'Tide.mov',
    number: '1.003',
    kind: 'file',
    state: 'ready',
    facts: {},
    clips: 0,
    duration: 0,
    ...more,
  });
  const wide = m({
    facts: {
      kind: 'video',
      codec: 'prores',
      width: 3840,
      height: 1080,
      frameRate: '50',
      alpha: true,
      audio: { channels: 2 },
      bits: 10,
    },
    clips: 3,
    bytes: 4e8,
    duration: 12,
  });
  const plain = m({ name: 'Plain', kind: 'pattern', pattern: 'grid', state: undefined });
  const ok = (text: string, of = wide) => matches(text)(of);
  for (const text of [
    '',
    'tide',
    'PRORES alpha',
    '3840x1080',
    '50 fps',
    '50fps',
    'sound',
    'used',
    'width>1920',
    'width>=3840 height<=1080',
    'fps=50',
    'bits>8 mb>100',
    'uses=3',
    'seconds<20 channels=2',
    '1.003',
    'video ready',
  ])
    expect(ok(text), text).toBe(true);
  for (const text of ['tide h264', 'width>3840', 'width<3840', 'unused', 'bits=8', 'pattern', 'depth>3', 'uses>3'])
    expect(ok(text), text).toBe(false);
  expect([
    ok('grid', plain),
    ok('unused', plain),
    ok('used', plain),
    ok('missing', m({ state: undefined })),
    ok('missing', plain),
    ok('width>0', plain),
  ]).toEqual([true, true, false, true, false, false]);
});

test('what is missing is looked for by size, then by name', () => {
  const files = [
    file('moved.mov', '', '12345'),
    file('tide.mov', '', 'other'),
    file('bell.wav', '', '1'),
    file('else.wav', '', '123456789'),
  ];
  const found = (bytes: number | undefined, name: string) =>
    likely(files, [{ id: '', name, bytes }]).map((f) => f.name);
  expect(found(5, 'tide.mov')).toEqual(['moved.mov', 'tide.mov']);
  expect(found(9, 'bell.wav')).toEqual(['else.wav']);
  expect(found(77, 'bell.wav')).toEqual(['bell.wav']);
  expect(found(undefined, 'bell.wav')).toEqual(['bell.wav']);
  expect(found(77, 'nothing')).toEqual([]);
});

test('an outline that the core made is read, at the zoom that fits', () => {
  const [bytes] = core<string[]>(`
    $peaks = new Core\\Media\\Peaks(1);
    $peaks->take(str_repeat(pack('g', 0.5), 512).str_repeat(pack('g', -1), 256));
    echo json_encode([base64_encode($peaks->toBytes())]);
  `).map(bytesOf);
  const levels = levelsOf(bytes as ArrayBuffer);
  expect(levels.map((l) => [l.samples, l.bins.length / 2])).toEqual([
    [256, 3],
    [1024, 1],
    [4096, 1],
    [16_384, 1],
    [65_536, 1],
    [262_144, 1],
  ]);
  expect([...(levels[0]?.bins ?? [])]).toEqual([63, 64, 63, 64, -127, -127]);
  expect([...(levels[1]?.bins ?? [])]).toEqual([-127, 64]);
  expect(
    [levelFor(levels, 100), levelFor(levels, 256), levelFor(levels, 5000), levelFor(levels, 1e9), levelFor([], 5)].map(
      (l) => l?.samples,
    ),
  ).toEqual([256, 256, 4096, 262_144, undefined]);
});
