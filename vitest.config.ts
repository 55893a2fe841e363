import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: ['src/**/*.test.ts', 'demo/**/*.test.ts', 'bench/**/*.test.ts'],
          globalSetup: ['tests/build-worker.ts'],
          testTimeout: 20_000,
        },
      },
      {
        test: {
          name: 'browser',
          include: ['tests/browser/**/*.test.ts'],
          globalSetup: ['tests/build-worker.ts'],
          testTimeout: 90_000,
          hookTimeout: 180_000,
          fileParallelism: false,
          expect: { poll: { timeout: 8000 } },
        },
      },
    ],
  },
});
