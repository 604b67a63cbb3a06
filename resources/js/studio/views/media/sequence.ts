/** Numbered stills of one folder that become one video. */
export interface Sequence {
  name: string;
  files: File[];
}

const NUMBERED = /^(.*?)(\d{1,9})\.(png|jpe?g|tiff?|bmp|webp|exr|dpx|sgi|ppm)$/i;
/** Fewer than these stay stills of their own. */
const FEWEST = 5;

const folders = new WeakMap<File, string>();

/** Notes in which folder a dropped file lies. */
export const inFolder = (file: File, folder: string) => folders.set(file, folder);

export const folderOf = (file: File) =>
  folders.get(file) ?? file.webkitRelativePath?.split('/').slice(0, -1).join('/') ?? '';

/** Files in their order, stills that are numbered alike in one folder as one sequence. */
export function grouped(files: readonly File[]): (File | Sequence)[] {
  const groups = new Map<string, { file: File; number: number }[]>();
  const keys = files.map((file) => {
    const match = NUMBERED.exec(file.name);
    if (match === null) return null;
    const key = `${folderOf(file)}/${match[1]}.${match[3]?.toLowerCase()}`;
    const number = Number(match[2]);
    groups.set(key, [...(groups.get(key) ?? []), { file, number }]);
    return key;
  });
  const sequences = new Map<string, Sequence>();
  for (const [key, found] of groups) {
    // Two with one number are no sequence.
    if (found.length < FEWEST || new Set(found.map((f) => f.number)).size < found.length) continue;
    found.sort((a, b) => a.number - b.number);
    const [stem, kind] = [
      (NUMBERED.exec((found[0] as { file: File }).file.name) ?? [])[1] ?? '',
      key.slice(key.lastIndexOf('.') + 1),
    ];
    const range = `${found[0]?.number}-${found[found.length - 1]?.number}`;
    sequences.set(key, { name: `${stem}[${range}].${kind}`, files: found.map((f) => f.file) });
  }
  const taken = new Set<Sequence>();
  const out: (File | Sequence)[] = [];
  files.forEach((file, i) => {
    const sequence = sequences.get(keys[i] ?? '');
    if (sequence === undefined) out.push(file);
    else if (!taken.has(sequence)) {
      taken.add(sequence);
      out.push(sequence);
    }
  });
  return out;
}

/** The head of a file in an archive (POSIX ustar), of no time and no owner, so that the same frames are the same archive. */
function head(name: string, size: number): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(512);
  const put = (at: number, text: string) => bytes.set(new TextEncoder().encode(text), at);
  put(0, name);
  put(100, '0000644\0');
  put(108, '0000000\0');
  put(116, '0000000\0');
  put(124, `${size.toString(8).padStart(11, '0')}\0`);
  put(136, '00000000000\0');
  put(148, '        ');
  put(156, '0');
  put(257, 'ustar\u000000');
  put(
    148,
    `${bytes
      .reduce((sum, byte) => sum + byte, 0)
      .toString(8)
      .padStart(6, '0')}\0 `,
  );
  return bytes;
}

/** All of a sequence as one file, read from disk as it is sent; its frame rate stands in front. */
export function archive({ name, files }: Sequence, frameRate: string): File {
  const rate = new TextEncoder().encode(`${frameRate}\n`);
  const parts: BlobPart[] = [];
  const add = (as: string, content: BlobPart, size: number) =>
    parts.push(head(as, size), content, new Uint8Array((512 - (size % 512)) % 512));
  add('frame-rate.txt', rate, rate.length);
  for (const file of files) {
    const [, , number = '0', kind = 'png'] = NUMBERED.exec(file.name) ?? [];
    add(`${number.padStart(9, '0')}.${kind.toLowerCase()}`, file, file.size);
  }
  parts.push(new Uint8Array(1024));
  return new File(parts, name);
}
