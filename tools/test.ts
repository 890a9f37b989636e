import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { startCluster, type Cluster } from './postgres';

/**
 * Runs every check, each in one line; a step that fails shows what it said.
 *
 * `WHIRL_SHUFFLE=7 ./whirl test` takes the tests in another order, the same one for the same number.
 */

const root = fileURLToPath(new URL('..', import.meta.url));
const base = `${root}.whirl-test`;
const bin = (name: string): string => `${root}node_modules/.bin/${name}`;
const DATABASE = 'whirl_test';
const seed = process.env.WHIRL_SHUFFLE;
const vitestOrder = seed ? ['--sequence.shuffle', `--sequence.seed=${seed}`] : [];
const playwrightOrder = seed ? ['--shuffle', seed] : [];

interface Step {
  readonly name: string;
  /** Looks at the sources only: may run beside another such step. */
  readonly still?: true;
  readonly command: string;
  readonly args: readonly string[];
  /** File in which the step leaves its counts. */
  readonly report?: string;
}

/** Needed by what Vitest runs. */
const BUNDLE: Step = { name: 'bundled tests', command: process.execPath, args: ['tools/build-tests.mjs'] };

interface Counts {
  passed: number;
  failed: number;
  skipped: number;
}

const STEPS: readonly Step[] = [
  { name: 'lint', still: true, command: bin('oxlint'), args: ['.', '--max-warnings', '0'] },
  { name: 'types of core alone', still: true, command: bin('tsc'), args: ['-p', 'core'] },
  { name: 'types', still: true, command: bin('tsc'), args: ['-p', '.'] },
  { name: 'format', still: true, command: bin('oxfmt'), args: ['--list-different', '.'] },
  {
    name: 'imports',
    still: true,
    command: bin('depcruise'),
    args: [
      'core',
      'draw',
      'web',
      'server',
      'wire',
      'render',
      'decode',
      'demo',
      'cli',
      'tools',
      '--config',
      '.dependency-cruiser.cjs',
      '--output-type',
      'err',
    ],
  },
  {
    name: 'unit tests',
    command: bin('vitest'),
    args: [
      'run',
      '--project',
      'core',
      '--project',
      'unit',
      '--reporter=json',
      `--outputFile=${base}/unit.json`,
      '--reporter=dot',
      ...vitestOrder,
    ],
    report: `${base}/unit.json`,
  },
  {
    name: 'server tests',
    command: bin('vitest'),
    args: [
      'run',
      '--project',
      'server',
      '--reporter=json',
      `--outputFile=${base}/server.json`,
      '--reporter=dot',
      ...vitestOrder,
    ],
    report: `${base}/server.json`,
  },
  {
    name: 'end-to-end tests',
    command: bin('playwright'),
    args: ['test', '--config', 'e2e/playwright.config.ts', ...playwrightOrder],
    report: `${base}/e2e.json`,
  },
];

interface Report {
  readonly numPassedTests?: number;
  readonly numFailedTests?: number;
  readonly numPendingTests?: number;
  readonly testResults?: readonly {
    readonly name: string;
    readonly message?: string;
    readonly assertionResults: readonly {
      readonly fullName: string;
      readonly status: string;
      readonly failureMessages?: readonly string[];
    }[];
  }[];
  readonly stats?: { expected: number; unexpected: number; flaky: number; skipped: number };
}

const readReport = (path: string): Report => JSON.parse(readFileSync(path, 'utf8')) as Report;

/** Each test that failed and what it said, where the report tells; files that could not be read, too. */
function failuresIn(report: Report): string[] {
  return (report.testResults ?? []).flatMap(({ name, message, assertionResults }) => {
    const file = name.replace(root, '');
    const failed = assertionResults.filter(({ status }) => status === 'failed');
    const told = failed.map(
      ({ fullName, failureMessages = [] }) =>
        `${file} › ${fullName}\n${failureMessages.join('\n').slice(0, 3000)}`,
    );
    return assertionResults.length === 0 && message ? [`${file}\n${message.slice(0, 3000)}`] : told;
  });
}

function countsIn(report: Report): Counts {
  if (report.stats)
    return {
      passed: report.stats.expected + report.stats.flaky,
      failed: report.stats.unexpected,
      skipped: report.stats.skipped,
    };
  return {
    passed: report.numPassedTests ?? 0,
    failed: report.numFailedTests ?? 0,
    skipped: report.numPendingTests ?? 0,
  };
}

/** Runs a step to its end. @returns its exit code, `null` when it could not be started or was killed, and what it said */
function run(step: Step, env: NodeJS.ProcessEnv): Promise<{ status: number | null; said: string }> {
  return new Promise((resolve) => {
    const child = spawn(step.command, step.args, { cwd: root, env, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (text: Buffer) => (said = (said + text.toString()).slice(-200_000)));
    child.on('error', (error) => resolve({ status: null, said: `${said}\n${error.message}` }));
    child.on('close', (status) => resolve({ status, said }));
  });
}

const wanted = process.argv.slice(2);
const steps =
  wanted.length === 0 ? STEPS : STEPS.filter((step) => wanted.some((word) => step.name.includes(word)));
if (steps.length === 0) {
  console.log(
    `There is no step "${wanted.join(' ')}". There are: ${STEPS.map((step) => step.name).join(', ')}.`,
  );
  process.exit(2);
}

rmSync(`${base}/unit.json`, { force: true });
rmSync(`${base}/server.json`, { force: true });
rmSync(`${base}/e2e.json`, { force: true });
mkdirSync(base, { recursive: true });

let cluster: Cluster | null = null;
const counts: Counts = { passed: 0, failed: 0, skipped: 0 };
let broken = false;
try {
  let server = process.env.DATABASE_URL;
  if (!server) {
    cluster = await startCluster(base);
    server = cluster.url;
  }
  const admin = new pg.Client({ connectionString: server });
  await admin.connect();
  const left = await admin.query<{ datname: string }>('select datname from pg_database where datname ~ $1', [
    `^${DATABASE}(_\\d+)?$`,
  ]);
  for (const { datname } of left.rows) await admin.query(`drop database ${datname} with (force)`);
  await admin.query(`create database ${DATABASE}`);
  await admin.end();
  const url = new URL(server);
  url.pathname = `/${DATABASE}`;
  const env = {
    ...process.env,
    DATABASE_URL: url.href,
    WHIRL_TEST_BASE: base,
    WHIRL_TEST_SERVER: server,
    NODE_ENV: 'test',
    WHIRL_BUILT_TESTS: '1',
    FORCE_COLOR: '0',
  };
  const runStep = async (step: Step): Promise<void> => {
    const start = Date.now();
    const result = await run(step, env);
    const seconds = ((Date.now() - start) / 1000).toFixed(1);
    const good = result.status === 0;
    let line = '';
    let told: string[] = [];
    try {
      const report = step.report ? readReport(step.report) : null;
      if (report) told = failuresIn(report);
      const found = report ? countsIn(report) : { passed: good ? 1 : 0, failed: good ? 0 : 1, skipped: 0 };
      counts.passed += found.passed;
      counts.failed += found.failed;
      counts.skipped += found.skipped;
      if (step.report) line = `, ${found.passed} passed${found.failed ? `, ${found.failed} failed` : ''}`;
      if (!good && found.failed === 0) counts.failed += 1;
    } catch {
      counts.failed += 1;
    }
    console.log(`${good ? 'ok    ' : 'FAILED'} ${step.name} (${seconds} s${line})`);
    if (!good) {
      broken = true;
      // Where the report tells what failed, what else was said is only in the way.
      console.log(told.length > 0 ? told.join('\n\n') : result.said.trim().slice(-12_000));
    }
  };
  const still = steps.filter((step) => step.still);
  const inTurn = async (): Promise<void> => {
    for (let step = still.shift(); step; step = still.shift()) await runStep(step);
  };
  await Promise.all([inTurn(), inTurn()]);
  if (steps.some((step) => step.command === bin('vitest'))) await runStep(BUNDLE);
  for (const step of steps) if (!step.still) await runStep(step);
} catch (error) {
  broken = true;
  counts.failed += 1;
  console.log(`FAILED set-up: ${error instanceof Error ? error.message : String(error)}`);
} finally {
  await cluster?.stop();
}
writeFileSync(`${base}/counts.json`, JSON.stringify(counts));
console.log(
  `${counts.passed} passed, ${counts.failed} failed${counts.skipped ? `, ${counts.skipped} skipped` : ''}`,
);
process.exit(broken || counts.passed === 0 ? 1 : 0);
