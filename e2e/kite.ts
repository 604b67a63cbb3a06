import { type ChildProcess, execFile, execFileSync, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import type { Browser, Frame, Page } from '@playwright/test';

const root = join(import.meta.dirname, '..');

/** What stands in a file of a process; nothing when it has ended. */
const read = (path: string) => {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return '';
  }
};

/** Kills processes, and groups of them by the number below zero; one that went by itself is passed over. */
export function kill(all: number[]) {
  for (const pid of all) {
    try {
      process.kill(pid, 'SIGKILL');
    } catch {
      // It went by itself.
    }
  }
}

/** Which moments and pixels of an output the core is asked for. */
interface Asked {
  time?: number;
  at?: number;
  engines?: number[];
  pixels?: [number, number][];
  whole?: boolean;
}

interface Said {
  whole: string;
  pixels: [number, number, number][];
  frames: Record<string, number>;
  engine: { engine: number; position: number; frames: Record<string, number> }[];
}

const asked = (output: string, { time, at, engines = [], pixels = [], whole = false }: Asked) => [
  'kite:reference',
  output,
  ...(time === undefined ? [] : [`--time=${time}`]),
  ...(at === undefined ? [] : [`--at=${at}`]),
  ...engines.map((e) => `--engine=${e}`),
  ...pixels.map((p) => `--pixel=${p.join(',')}`),
  ...(whole ? ['--whole'] : []),
];

/** A whole Kite Lamp of its own: folder, database, ports, engine, worker. */
export class KiteLamp {
  readonly address: string;
  readonly oscPort: number;
  private readonly env: NodeJS.ProcessEnv;
  private child: ChildProcess | null = null;
  output = '';
  /** What says from where a request comes, and from whom: uploads belong to who began them. */
  readonly sender: { Origin: string; Cookie: string };
  /** Where lighting consoles are heard by sACN. */
  readonly sacnPort: number;
  /** Where the virtual nodes of Art-Net, sACN and DDP listen. */
  readonly rigPorts: [number, number, number];

  constructor(
    readonly port: number,
    readonly folder = mkdtempSync(join(tmpdir(), 'kite-e2e-')),
    settings: Record<string, string> = {},
  ) {
    this.address = `http://127.0.0.1:${port}`;
    this.sender = { Origin: this.address, Cookie: 'kite_person=01hzzzzzzzzzzzzzzzzzzzzzzz' };
    this.oscPort = port + 2;
    this.sacnPort = port + 4;
    this.rigPorts = [port + 6, port + 7, port + 8];
    this.env = {
      ...process.env,
      KITE_ARTNET_PORT: String(port + 5),
      KITE_SACN_PORT: String(this.sacnPort),
      KITE_RIG_PORTS: this.rigPorts.join(','),
      KITE_RTP_PORT: '0',
      KITE_PJLINK_PORT: '0',
      KITE_LINE_PORT: '0',
      KITE_PORT: String(port),
      KITE_DATA: folder,
      APP_ENV: 'production',
      ...settings,
    };
  }

  /** Makes the database, and runs a command on it before anything is started. */
  prepare(...command: string[]) {
    mkdirSync(this.folder, { recursive: true });
    const database = join(this.folder, 'kite.sqlite');
    if (!existsSync(database)) writeFileSync(database, '');
    this.artisan('migrate', '--force', '--quiet');
    if (command.length > 0) this.artisan(...command);
  }

  async start() {
    this.prepare();
    this.child = spawn('php', ['bin/launcher.php'], { cwd: root, env: this.env, stdio: ['ignore', 'pipe', 'pipe'] });
    const child = this.child;
    // What one said that was started before is no sign of this one.
    const before = this.output.length;
    await new Promise<void>((done, fail) => {
      const hear = (bytes: Buffer) => {
        this.output += bytes.toString();
        if (this.output.includes('Kite Lamp is at', before)) done();
      };
      child.stdout?.on('data', hear);
      child.stderr?.on('data', hear);
      child.on('exit', () => {
        if (this.child === child) this.child = null;
        fail(new Error(`Kite Lamp ended: ${this.output}`));
      });
    });
  }

  async stop() {
    const { child } = this;
    if (child !== null) {
      await new Promise<void>((done) => {
        child.on('exit', () => done());
        child.kill('SIGTERM');
      });
    }
    const left = spawnSync('pgrep', ['-af', this.folder], { encoding: 'utf8' }).stdout.trim();
    rmSync(this.folder, { recursive: true, force: true });
    if (left !== '') throw new Error(`These were left running: ${left}`);
  }

  /** Kills the launcher, so that nothing is started again, and with it everything that it started. */
  async freeze() {
    // Each child leads a group of its own: what it forked goes by other names, and would hold the ports.
    const groups = spawnSync('pgrep', ['-P', String(this.child?.pid)], { encoding: 'utf8' })
      .stdout.split('\n')
      .filter(Boolean)
      .map(Number);
    await this.killLauncher();
    kill(groups.map((pid) => -pid));
  }

  /** Processes of this one whose command line matches. */
  pids(pattern: string): number[] {
    return spawnSync('pgrep', ['-f', pattern], { encoding: 'utf8' })
      .stdout.split('\n')
      .filter(Boolean)
      .map(Number)
      .filter((pid) => ['environ', 'cmdline'].some((what) => read(`/proc/${pid}/${what}`).includes(this.folder)));
  }

  /** Kills the launcher alone. */
  async killLauncher() {
    const { child } = this;
    if (child === null) return;
    child.removeAllListeners('exit');
    const gone = new Promise<void>((done) => child.on('exit', () => done()));
    child.kill('SIGKILL');
    await gone;
    this.child = null;
  }

  /** Starts everything again on the same folder. */
  async thaw() {
    await this.start();
  }

  artisan(...args: string[]): string {
    return execFileSync('php', ['artisan', ...args], { cwd: root, env: this.env, encoding: 'utf8' });
  }

  /** A view of the studio, before a player of an output behind it. */
  async open(browser: Browser, output: string, view: string): Promise<{ page: Page; player: Page }> {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    const player = await context.newPage();
    await player.goto(`${this.address}/player/${output}`);
    await page.bringToFront();
    await page.goto(`${this.address}/${view}`);
    return { page, player };
  }

  async api<T = Record<string, never>>(
    path: string,
    body?: unknown,
    method = body === undefined ? 'GET' : 'POST',
  ): Promise<T> {
    const headers: Record<string, string> = { ...this.sender };
    if (method !== 'GET') headers['Content-Type'] = 'application/json';
    const answer = await fetch(`${this.address}/api/${path}`, {
      method,
      headers,
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    const data = (await answer.json()) as T;
    if (!answer.ok) throw new Error(`${path}: ${JSON.stringify(data)}`);
    return data;
  }

  private ticket = '';

  async live<T = Record<string, unknown>>(path: string, body?: unknown): Promise<T> {
    if (this.ticket === '') this.ticket = (await this.api<{ ticket: string }>('live/tickets', {})).ticket;
    const answer = await fetch(`${this.address}/live/${path}`, {
      method: body === undefined ? 'GET' : 'POST',
      headers: {
        Origin: this.address,
        Authorization: `Bearer ${this.ticket}`,
        ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
      },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    const data = (await answer.json()) as T;
    if (!answer.ok) throw new Error(`${path}: ${JSON.stringify(data)}`);
    return data;
  }

  async upload(show: string, path: string, name: string): Promise<{ media: string; hash: string; known: boolean }> {
    const bytes = readFileSync(path);
    const { id } = await this.api<{ id: string }>(`shows/${show}/uploads`, { name, bytes: bytes.length });
    const answer = await fetch(`${this.address}/api/uploads/${id}?at=0`, {
      method: 'PUT',
      headers: { ...this.sender, 'Content-Type': 'application/octet-stream' },
      body: bytes,
    });
    return (await answer.json()) as { media: string; hash: string; known: boolean };
  }

  /** What the core says that an output shows. */
  reference(output: string, options: Asked): Said {
    return JSON.parse(this.artisan(...asked(output, options)));
  }

  /** The same, worked out while something else goes on. */
  async referenceLater(output: string, options: Asked): Promise<Said> {
    const { stdout } = await promisify(execFile)('php', ['artisan', ...asked(output, options)], {
      cwd: root,
      env: this.env,
      encoding: 'utf8',
      maxBuffer: 64 * 1024 * 1024,
    });
    return JSON.parse(stdout);
  }
}

/** An id of a row, by the number of its show and its own. */
export const rowId = (show: number, n: number) => `01hzz${String(show).padStart(4, '0')}${String(n).padStart(17, '0')}`;

/** The change that makes a row. */
export const created = (kind: string, id: string, fields: Record<string, unknown>) => ({
  kind,
  id,
  op: 'create',
  fields: Object.fromEntries(Object.entries(fields).map(([f, after]) => [f, { before: null, after }])),
});

/** Waits until something holds; never for a stated time. */
export async function until<T>(
  what: string,
  ask: () => Promise<T | null | undefined | false>,
  seconds = 30,
): Promise<T> {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const answer = await ask();
    if (answer !== null && answer !== undefined && answer !== false) return answer;
    if (Date.now() > end) throw new Error(`Waited ${seconds} s for: ${what}`);
    await new Promise((done) => setTimeout(done, 50));
  }
}

/** A clip of two seconds at 25 fps, 128 × 128, whose left half tells its frame and whose other quarters are flat colours. */
export function makeVideo(path: string, tagged: boolean): string {
  const picture =
    "nullsrc=s=128x128:r=25:d=2,format=gbrp,geq=r='if(lt(X,64),40+4*N,210)':g='if(lt(X,64),60,if(lt(Y,64),50,180))':b='if(lt(X,64),90,if(lt(Y,64),70,30))'";
  const tags = tagged
    ? ['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv']
    : [];
  const matrix = tagged ? 'bt709' : 'smpte170m';
  const bits = tagged
    ? []
    : ['-bsf:v', 'h264_metadata=colour_primaries=2:transfer_characteristics=2:matrix_coefficients=2'];
  execFileSync('ffmpeg', [
    '-y',
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    picture,
    '-vf',
    `scale=out_color_matrix=${matrix}:out_range=tv,format=yuv420p`,
    '-c:v',
    'libx264',
    '-crf',
    '4',
    '-pix_fmt',
    'yuv420p',
    ...tags,
    ...bits,
    path,
  ]);
  return path;
}

/** Pixels of the player's canvas, read in the same frame in which they were drawn. */
export function canvasPixels(page: Page | Frame, places: [number, number][]) {
  return page.evaluate(
    (at) =>
      new Promise<{
        pixels: number[][];
        report: {
          engine: number;
          layers: { layer: string; frame: number; shown: number }[];
          lacks: string[];
          revision: number;
        };
      }>((done) =>
        requestAnimationFrame(() => {
          const canvas = document.querySelector('canvas') as HTMLCanvasElement;
          const gl = canvas.getContext('webgl2') as WebGL2RenderingContext;
          gl.bindFramebuffer(gl.FRAMEBUFFER, null);
          const pixels = at.map(([x, y]) => {
            const rgba = new Uint8Array(4);
            gl.readPixels(x as number, canvas.height - 1 - (y as number), 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, rgba);
            return [...rgba.slice(0, 3)];
          });
          // biome-ignore lint/suspicious/noExplicitAny: what the player says of itself for tests
          done({ pixels, report: (window as any).kiteDrawn });
        }),
      ),
    places,
  );
}

/** The whole of the player's canvas, red, green and blue from the top, read in the same frame in which it was drawn. */
export function wholeCanvas(page: Page) {
  return page.evaluate(
    () =>
      new Promise<{
        rgb: number[];
        width: number;
        report: { engine: number; lacks: string[]; revision: number } | undefined;
      }>((done) =>
        requestAnimationFrame(() => {
          const canvas = document.querySelector('canvas') as HTMLCanvasElement;
          const gl = canvas.getContext('webgl2') as WebGL2RenderingContext;
          const { width, height } = canvas;
          const rgba = new Uint8Array(width * height * 4);
          gl.bindFramebuffer(gl.FRAMEBUFFER, null);
          gl.readPixels(0, 0, width, height, gl.RGBA, gl.UNSIGNED_BYTE, rgba);
          const rgb: number[] = [];
          for (let y = height - 1; y >= 0; y--)
            for (let x = 0; x < width; x++)
              for (let c = 0; c < 3; c++) rgb.push(rgba[(y * width + x) * 4 + c] as number);
          // biome-ignore lint/suspicious/noExplicitAny: what the player says of itself for tests
          done({ rgb, width, report: (window as any).kiteDrawn });
        }),
      ),
  );
}

export const farthest = (a: number[][], b: number[][]) =>
  Math.max(...a.flatMap((p, i) => p.map((v, k) => Math.abs(v - (b[i]?.[k] ?? 999)))));
