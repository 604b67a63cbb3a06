import { defineConfig } from 'vitest/config';

/** Tests of what the front end computes without a browser. */
export default defineConfig({
  test: { include: ['tests/Studio/**/*.test.ts'], environment: 'node', testTimeout: 60_000 },
});
