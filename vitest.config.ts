import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

const unit = {
  // Those that need a database are run with the server's.
  exclude: ['**/*.db.test.ts', 'node_modules/**'],
  environment: 'node',
  // Threads begin sooner than processes, and nothing here needs one of its own.
  pool: 'threads' as const,
  // By itself the runner leaves one core idle.
  maxWorkers: availableParallelism(),
  testTimeout: 120_000,
  setupFiles: ['tools/test-seed.ts'],
};

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...unit,
          name: 'core',
          include: ['core/**/*.test.ts', 'draw/**/*.test.ts', 'demo/**/*.test.ts', 'decode/**/*.test.ts'],
          // What computes knows nothing global, so that its modules are loaded once for all of its tests.
          isolate: false,
        },
      },
      {
        test: {
          ...unit,
          name: 'unit',
          include: ['web/**/*.test.ts', 'cli/**/*.test.ts', 'tools/**/*.test.ts', 'render/**/*.test.ts'],
        },
      },
      {
        test: {
          name: 'server',
          include: ['server/**/*.test.ts', 'render/**/*.db.test.ts'],
          environment: 'node',
          testTimeout: 60_000,
          // A sender that falls silent is cut off sooner than in earnest.
          env: { WHIRL_SILENCE_MS: '1500' },
          fileParallelism: false,
        },
      },
    ],
  },
});
