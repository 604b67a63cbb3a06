import { execFileSync } from 'node:child_process';
import { join } from 'node:path';

/** What the core says, as JSON of a piece of PHP. */
export function core<T>(code: string): T {
  return JSON.parse(
    execFileSync('php', ['-d', 'memory_limit=1G', '-r', `require 'vendor/autoload.php'; ${code}`], {
      cwd: join(import.meta.dirname, '..'),
      encoding: 'utf8',
      maxBuffer: 64 * 1024 * 1024,
    }),
  );
}

export const bytesOf = (base64: string): ArrayBuffer => {
  const bytes = Buffer.from(base64, 'base64');
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
};
