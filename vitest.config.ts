import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: [
            'core/**/*.test.ts',
            'draw/**/*.test.ts',
            'web/**/*.test.ts',
            'demo/**/*.test.ts',
            'cli/**/*.test.ts',
            'tools/**/*.test.ts',
            'render/**/*.test.ts',
            'decode/**/*.test.ts',
          ],
          // Those that need a database are run with the server's.
          exclude: ['**/*.db.test.ts', 'node_modules/**'],
          environment: 'node',
          // Threads begin sooner than processes, and nothing here needs one of its own.
          pool: 'threads',
          testTimeout: 120_000,
          setupFiles: ['tools/test-seed.ts'],
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
