import { resolve } from 'node:path';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const page = (name: string) => resolve(import.meta.dirname, 'resources', `${name}.html`);

export default defineConfig({
  root: 'resources',
  base: '/build/',
  publicDir: false,
  plugins: [react()],
  worker: { format: 'es' },
  build: {
    outDir: '../public/build',
    emptyOutDir: true,
    target: 'es2023',
    modulePreload: { polyfill: false },
    chunkSizeWarningLimit: 1500,
    rollupOptions: {
      input: {
        studio: page('studio'),
        player: page('player'),
        rig: page('rig'),
        align: page('align'),
        players: page('players'),
        touch: page('touch'),
        lights: page('lights'),
      },
    },
  },
});
