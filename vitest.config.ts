import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['core/test/**/*.test.ts', 'server/test/**/*.test.ts', 'web/test/**/*.test.ts'],
    setupFiles: ['core/test/seed.ts'],
    // A worker keeps what it has loaded from file to file: loading takes longer than many tests.
    isolate: false,
    // As many as there are cores: the machine has nothing else to do.
    maxWorkers: '100%',
    // Property tests run hundreds of cuts; a busy machine must not fail them.
    testTimeout: 120_000,
    hookTimeout: 120_000,
  },
});
