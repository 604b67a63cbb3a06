export const FLICKS = 705_600_000;

const nominal: Record<string, number> = { '23.976': 24, '29.97': 30, '59.94': 60, '119.88': 120 };

/** Timecode for the eye, sixty times a second; typed timecode is read by the server (`core/Units/Timecode.php`). */
export function timecode(flicks: number, frameRate: string, flicksPerFrame: number): string {
  const base = nominal[frameRate] ?? Number(frameRate);
  let n = Math.floor(Math.max(0, flicks) / flicksPerFrame);
  const drops = frameRate === '29.97' || frameRate === '59.94';
  if (drops) {
    const drop = base / 15;
    const rest = n % (base * 600 - 9 * drop);
    n += Math.floor(n / (base * 600 - 9 * drop)) * 9 * drop + (rest < drop ? 0 : drop * Math.floor((rest - drop) / (base * 60 - drop)));
  }
  const two = (v: number) => String(Math.floor(v)).padStart(2, '0');
  return `${two(n / (base * 3600))}:${two((n / (base * 60)) % 60)}:${two((n / base) % 60)}${drops ? ';' : ':'}${String(n % base).padStart(base > 100 ? 3 : 2, '0')}`;
}

const LETTERS = '0123456789abcdefghjkmnpqrstvwxyz';

/** A new ULID in lower case, as the ids of all rows are. */
export function ulid(): string {
  let time = Date.now();
  let head = '';
  for (let i = 0; i < 10; i++) {
    head = LETTERS[time % 32] + head;
    time = Math.floor(time / 32);
  }
  return head + Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => LETTERS[b % 32]).join('');
}
