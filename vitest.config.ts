import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    setupFiles: ['core/test/seed.ts'],
    // As many as there are cores: the machine has nothing else to do.
    maxWorkers: '100%',
    // Property tests run hundreds of cuts; a busy machine must not fail them.
    testTimeout: 120_000,
    hookTimeout: 120_000,
    projects: [
      {
        extends: true,
        test: {
          name: 'core and server',
          include: ['core/test/**/*.test.ts', 'server/test/**/*.test.ts'],
          // A worker keeps what it has loaded from file to file: loading takes longer than many tests.
          isolate: false,
        },
      },
      {
        extends: true,
        // These leave things in the browser's stores they stand in for.
        test: { name: 'web', include: ['web/test/**/*.test.ts'], isolate: true },
      },
    ],
  },
});
