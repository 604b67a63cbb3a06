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
    n +=
      Math.floor(n / (base * 600 - 9 * drop)) * 9 * drop +
      (rest < drop ? 0 : drop * Math.floor((rest - drop) / (base * 60 - drop)));
  }
  const two = (v: number) => String(Math.floor(v)).padStart(2, '0');
  return `${two(n / (base * 3600))}:${two((n / (base * 60)) % 60)}:${two((n / base) % 60)}${drops ? ';' : ':'}${String(n % base).padStart(base > 100 ? 3 : 2, '0')}`;
}

const LETTERS = '0123456789abcdefghjkmnpqrstvwxyz';

let lastTime = 0;
let lastTail: number[] = [];

/** A new ULID in lower case, as the ids of all rows are; those of one moment are in the order in which they were made. */
export function ulid(): string {
  let time = Math.max(lastTime, Date.now());
  if (time === lastTime) {
    let at = lastTail.length - 1;
    while (at >= 0 && lastTail[at] === 31) lastTail[at--] = 0;
    if (at >= 0) lastTail[at] = (lastTail[at] ?? 0) + 1;
  } else lastTail = Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b % 32);
  lastTime = time;
  let head = '';
  for (let i = 0; i < 10; i++) {
    head = LETTERS[time % 32] + head;
    time = Math.floor(time / 32);
  }
  return head + lastTail.map((n) => LETTERS[n]).join('');
}
