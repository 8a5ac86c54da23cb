import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    root: import.meta.dirname,
    include: ['*.e2e.ts'],
    testTimeout: 240_000,
    hookTimeout: 120_000,
    // A test waits for the page more than it computes; each file has a server and a browser of its own.
    maxWorkers: 2,
    sequence: { concurrent: false },
    bail: 0,
  },
});
