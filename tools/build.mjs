// Builds everything into dist/, unless it is built already from the very same sources.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { build as bundle } from 'rolldown';
import { build as buildPage } from 'vite';

const root = new URL('..', import.meta.url).pathname;
const SOURCES = [
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
  'package-lock.json',
  'vite.config.ts',
];

function hashOf(path, hash) {
  if (!existsSync(path)) return;
  if (statSync(path).isDirectory())
    for (const name of readdirSync(path).sort()) hashOf(join(path, name), hash);
  else hash.update(path).update(readFileSync(path));
}

const hash = createHash('sha256');
for (const source of SOURCES) hashOf(join(root, source), hash);
const digest = hash.digest('hex');
const stamp = join(root, 'dist/.built-from');
if (existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) process.exit(0);

const node = {
  server: 'server/main.ts',
  desk: 'server/desk/thread.ts',
  'sound-reader': 'server/sound/reader.ts',
  'render-machine': 'render/main.ts',
  cli: 'cli/main.ts',
  start: 'tools/start.ts',
  control: 'tools/control.ts',
  backup: 'tools/backup.ts',
  torture: 'tools/torture/main.ts',
  'torture-disk': 'tools/torture/disk-full.ts',
  test: 'tools/test.ts',
};
mkdirSync(join(root, 'dist'), { recursive: true });
await Promise.all([
  ...Object.entries(node).map(([name, input]) =>
    bundle({
      input: join(root, input),
      platform: 'node',
      logLevel: 'warn',
      external: /^(?!\.|\/|[A-Za-z]:)/,
      // What a command needs only at times is loaded then.
      output: {
        dir: join(root, 'dist'),
        format: 'esm',
        entryFileNames: `${name}.mjs`,
        chunkFileNames: `${name}-[name].mjs`,
      },
    }),
  ),
  bundle({
    input: join(root, 'render/draw-page.ts'),
    platform: 'browser',
    logLevel: 'warn',
    output: {
      file: join(root, 'dist/draw-page.js'),
      format: 'esm',
      minify: true,
      // One file: what is loaded where it is needed elsewhere is in it, too.
      codeSplitting: false,
    },
  }),
  buildPage({ configFile: join(root, 'vite.config.ts'), logLevel: 'warn' }),
]);
writeFileSync(stamp, digest);
