// A whole Kite Lamp of its own to measure: folder, database, ports, engine, workers.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const root = join(import.meta.dirname, '..');
export const pause = (ms) => new Promise((done) => setTimeout(done, ms));

export class Stack {
  constructor(port) {
    this.port = port;
    this.address = `http://127.0.0.1:${port}`;
    this.folder = mkdtempSync(join(tmpdir(), 'kite-bench-'));
    this.env = { ...process.env, KITE_ARTNET_PORT: String(port + 5), KITE_SACN_PORT: String(port + 4), KITE_RIG_PORTS: `${port + 6},${port + 7},${port + 8}`, KITE_RTP_PORT: '0', KITE_PJLINK_PORT: '0', KITE_LINE_PORT: '0', KITE_PORT: String(port), KITE_DATA: this.folder };
    this.headers = { Origin: this.address, 'Content-Type': 'application/json', Cookie: 'kite_person=01hzzzzzzzzzzzzzzzzzzzzzzz' };
    mkdirSync(join(this.folder, 'run'));
    writeFileSync(join(this.folder, 'kite.sqlite'), '');
    this.artisan('migrate', '--force', '--quiet');
  }

  artisan(...args) {
    return execFileSync('php', ['-d', 'memory_limit=2G', 'artisan', ...args], { cwd: root, env: this.env, encoding: 'utf8' }).trim();
  }

  async start() {
    this.launcher = spawn('php', ['bin/launcher.php'], { cwd: root, env: this.env, stdio: ['ignore', 'pipe', 'pipe'] });
    await new Promise((done) => this.launcher.stdout.on('data', (bytes) => String(bytes).includes('is at') && done()));
    this.headers.Authorization = `Bearer ${(await this.ask('/api/live/tickets', {})).ticket}`;
  }

  async ask(path, body, method = body === undefined ? 'GET' : 'POST', headers = {}) {
    const answer = await fetch(`${this.address}${path}`, { method, headers: { ...this.headers, ...headers }, body: body === undefined ? undefined : JSON.stringify(body) });
    return { status: answer.status, ...(await answer.json()) };
  }

  /** Processes of this stack whose command line matches. */
  pids(pattern) {
    const read = (path) => {
      try {
        return readFileSync(path, 'utf8');
      } catch {
        return '';
      }
    };
    return spawnSync('pgrep', ['-f', pattern], { encoding: 'utf8' })
      .stdout.split('\n')
      .filter(Boolean)
      .map(Number)
      .filter((pid) => ['environ', 'cmdline'].some((what) => read(`/proc/${pid}/${what}`).includes(this.folder)));
  }

  async stop() {
    this.launcher?.kill('SIGTERM');
    await new Promise((done) => (this.launcher === undefined || this.launcher.exitCode !== null ? done() : this.launcher.on('exit', done)));
    for (const pid of this.pids('.')) if (existsSync(`/proc/${pid}`) && pid !== process.pid) process.kill(pid, 'SIGKILL');
    rmSync(this.folder, { recursive: true, force: true });
  }
}

export const create = (kind, id, fields) => ({ kind, id, op: 'create', fields: Object.fromEntries(Object.entries(fields).map(([f, after]) => [f, { before: null, after }])) });
export const at = (list, share) => [...list].sort((a, b) => a - b)[Math.floor(share * (list.length - 1))] ?? 0;
