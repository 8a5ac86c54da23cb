import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), tailwind()],
  // Workers are single scripts: in a module worker, Chromium now and then ends the whole tab over `import.meta`.
  worker: { format: 'iife' },
  build: { target: 'es2022', chunkSizeWarningLimit: 2500, assetsInlineLimit: 0 },
});
