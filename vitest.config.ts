import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

/** Set by `./whirl test`, which bundles the tests first (`tools/build-tests.mjs`): the same ones, quicker. */
const built = process.env.WHIRL_BUILT_TESTS === '1';
const [base, ending] = built ? ['dist/tests/', 'mjs'] : ['', 'ts'];
const of = (...folders: string[]): string[] =>
  folders.map((folder) => `${base}${folder}/**/*.test.${ending}`);
// The page's have the runner replace packages, which it can only where it loads them itself.
const PAGE = 'web/**/*.test.ts';

const common = {
  environment: 'node',
  setupFiles: ['tools/test-seed.ts'],
  ...(built ? { exclude: ['node_modules/**'], server: { deps: { external: [/\/dist\/tests\//] } } } : {}),
};
const unit = {
  ...common,
  // Those that need a database are run with the server's.
  exclude: ['**/*.db.test.*', 'node_modules/**'],
  // Threads begin sooner than processes, and nothing here needs one of its own.
  pool: 'threads' as const,
  // By itself the runner leaves one core idle.
  maxWorkers: availableParallelism(),
  testTimeout: 120_000,
};

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...unit,
          name: 'core',
          include: of('core', 'draw', 'demo', 'decode'),
          // What computes knows nothing global, so that its modules are loaded once for all of its tests.
          isolate: false,
        },
      },
      {
        test: { ...unit, name: 'unit', include: [PAGE, ...of('cli', 'tools', 'render')] },
      },
      {
        test: {
          ...common,
          name: 'server',
          include: [...of('server'), `${base}render/**/*.db.test.${ending}`],
          setupFiles: [...common.setupFiles, 'tools/test-database.ts'],
          testTimeout: 60_000,
          hookTimeout: 60_000,
          // A sender that falls silent is cut off sooner than in earnest.
          env: { WHIRL_SILENCE_MS: '4000' },
          maxWorkers: availableParallelism(),
        },
      },
    ],
  },
});
