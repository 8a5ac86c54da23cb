import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    root: import.meta.dirname,
    include: ['*.e2e.ts'],
    testTimeout: 240_000,
    hookTimeout: 120_000,
    // A worker keeps its modules and its browser from file to file; each file has a server of its own.
    isolate: false,
    maxWorkers: 2,
    globalSetup: ['globalSetup.ts'],
    sequence: { concurrent: false },
    bail: 0,
  },
});
