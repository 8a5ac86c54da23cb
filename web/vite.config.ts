import { join } from 'node:path';
import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { declarationsOnly } from './declarationsOnly.ts';

export default defineConfig({
  root: import.meta.dirname,
  // The boolean kernel asks for it in Node only; the page gets an empty module.
  resolve: { alias: { 'node:module': join(import.meta.dirname, 'src/workers/noNodeModule.ts') } },
  // Colours of both themes stay as they are written: where they are used tells which one is meant.
  plugins: [react(), tailwind({ optimize: false }), declarationsOnly()],
  // Workers are single scripts: in a module worker, Chromium now and then ends the whole tab over `import.meta`.
  worker: { format: 'iife' },
  build: {
    target: 'es2022',
    cssTarget: ['chrome125', 'firefox128', 'safari18'],
    manifest: true,
    chunkSizeWarningLimit: 600,
    assetsInlineLimit: 0,
  },
});
