/** What of a media can be searched by. */
export interface Searched {
  name: string;
  number: string;
  kind: string;
  state?: string | undefined;
  bytes?: number | undefined;
  pattern?: string;
  facts: Readonly<Record<string, unknown>>;
  clips: number;
  /** Seconds. */
  duration: number;
}

const numbers: Record<string, (m: Searched) => number> = {
  width: (m) => Number(m.facts.width ?? 0),
  height: (m) => Number(m.facts.height ?? 0),
  fps: (m) => Number(m.facts.frameRate ?? 0),
  bits: (m) => Number(m.facts.bits ?? 0),
  seconds: (m) => m.duration,
  mb: (m) => (m.bytes ?? 0) / 1e6,
  uses: (m) => m.clips,
  channels: (m) => Number((m.facts.audio as { channels?: number } | null | undefined)?.channels ?? 0),
};

const compare: Record<string, (a: number, b: number) => boolean> = {
  '>': (a, b) => a > b,
  '<': (a, b) => a < b,
  '=': (a, b) => Math.abs(a - b) < 1e-3,
  '>=': (a, b) => a >= b,
  '<=': (a, b) => a <= b,
};

/** What can be typed. */
export const SEARCH_HINT = `Name, number, kind, codec, state, alpha, sound, unused, 1920x1080; or ${Object.keys(numbers).join(', ')} with < > =, as in width>1920`;

function words(m: Searched): string {
  const { facts } = m;
  return [
    m.name,
    m.number,
    m.kind,
    m.pattern,
    m.state ?? (m.kind === 'file' ? 'missing' : 'ready'),
    facts.kind,
    facts.codec,
    facts.chroma,
    facts.profile,
    facts.width ? `${facts.width}x${facts.height} ${facts.width} × ${facts.height}` : '',
    facts.frameRate ? `${facts.frameRate}fps ${facts.frameRate} fps` : '',
    facts.alpha === true ? 'alpha' : '',
    facts.audio ? 'sound' : '',
    m.clips === 0 ? 'unused' : 'used',
    facts.constantRate === false ? 'variable' : '',
  ]
    .filter(Boolean)
    .join('\n')
    .toLowerCase();
}

/** Whether all words and comparisons of a text hold for a media. */
export function matches(text: string): (m: Searched) => boolean {
  const terms = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const tests = terms.map((term): ((m: Searched, all: string) => boolean) => {
    const [, name = '', sign = '', value = ''] = /^([a-z]+)(>=|<=|>|<|=)(-?[\d.]+)$/.exec(term) ?? [];
    const number = numbers[name];
    if (number !== undefined) return (m) => compare[sign]?.(number(m), Number(value)) === true;
    // "used" is not meant to find what is unused.
    return term === 'used' ? (m) => m.clips > 0 : (_, all) => all.includes(term);
  });
  return (m) => {
    const all = tests.length === 0 ? '' : words(m);
    return tests.every((test) => test(m, all));
  };
}

/** What is missing: its id, its name, and how many bytes it had where that is known. */
export interface Lost {
  id: string;
  name: string;
  bytes?: number | undefined;
}

/** Of the files of a folder, those that may be what is missing: of the same size first, whatever they are called; else of the same name. */
export function likely(files: readonly File[], lost: readonly Lost[]): File[] {
  const found = new Set<File>();
  for (const { name, bytes } of lost) {
    const same = files.filter((file) => bytes !== undefined && file.size === bytes);
    for (const file of same.length > 0 ? same : files.filter((file) => file.name === name)) found.add(file);
  }
  return [...found];
}
