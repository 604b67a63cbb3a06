import { inFolder } from './sequence';

/** A file or folder that is dropped, as browsers hand it over. */
type Entry = {
  isFile: boolean;
  isDirectory: boolean;
  name: string;
  file?: (then: (file: File) => void, failed: (why: unknown) => void) => void;
  createReader?: () => { readEntries: (then: (entries: Entry[]) => void, failed: (why: unknown) => void) => void };
};

/** All files of what is dropped, folders gone through; those whose names begin with a point belong to the system. What can't be read is told. */
export async function filesOf(
  items: Iterable<{ kind: string; webkitGetAsEntry: () => unknown; getAsFile: () => File | null }>,
  failed: (why: unknown) => void,
): Promise<File[]> {
  const dropped = [...items]
    .filter((item) => item.kind === 'file')
    .map((item) => ({ entry: item.webkitGetAsEntry() as Entry | null, file: item.getAsFile() }));
  const files: File[] = [];
  const walk = async (entry: Entry, folder: string): Promise<void> => {
    if (entry.name.startsWith('.')) return;
    if (entry.isFile && entry.file !== undefined) {
      const { file } = entry;
      const taken = await new Promise<File>((then, failed) => file.call(entry, then, failed));
      inFolder(taken, folder);
      files.push(taken);
      return;
    }
    const reader = entry.createReader?.();
    // A reader gives a hundred at a time, and none at the end.
    for (let more = true; reader !== undefined && more; ) {
      const entries = await new Promise<Entry[]>((then, failed) => reader.readEntries(then, failed));
      more = entries.length > 0;
      for (const one of entries) await walk(one, `${folder}/${entry.name}`);
    }
  };
  for (const { entry, file } of dropped) {
    if (entry !== null) await walk(entry, '').catch(failed);
    else if (file !== null) files.push(file);
  }
  return files;
}
