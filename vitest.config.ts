import { defineConfig } from 'vitest/config';

const PURE = ['src/core/**/*.test.ts', 'demo/**/*.test.ts', 'yardstick/**/*.test.ts'];

export default defineConfig({
  test: {
    // The default leaves one core free, which on two cores is half of them.
    maxWorkers: 2,
    projects: [
      // What needs neither database nor build, so that it can run while those are made.
      {
        test: {
          name: 'core',
          include: PURE,
          // Nothing in the core has a state of its own that one file could leave to the next.
          pool: 'threads',
          isolate: false,
          testTimeout: 180_000,
          expect: { poll: { timeout: 45_000 } },
        },
      },
      {
        test: {
          name: 'unit',
          include: ['src/**/*.test.ts'],
          exclude: PURE,
          // Modules are loaded once for all files; each opens a house of its own.
          isolate: false,
          globalSetup: ['tests/build-worker.ts'],
          testTimeout: 180_000,
          // A house is opened, pieces are imported and delivered before the first test of some files.
          hookTimeout: 300_000,
          expect: { poll: { timeout: 45_000 } },
        },
      },
      {
        test: {
          name: 'browser',
          include: ['tests/browser/**/*.test.ts'],
          globalSetup: ['tests/build-worker.ts', 'tests/prepare-small-house.ts'],
          testTimeout: 300_000,
          hookTimeout: 600_000,
          expect: { poll: { timeout: 45_000 } },
        },
      },
    ],
  },
});
