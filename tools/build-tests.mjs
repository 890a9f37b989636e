// Bundles the tests of Vitest, but for the page's, into dist/tests/, where Node loads them as they stand: where the runner
// loads them itself, it rewrites each import, and what a test computes takes twice as long.
import { readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'rolldown';

const root = new URL('..', import.meta.url).pathname;
const FOLDERS = ['core', 'draw', 'demo', 'decode', 'cli', 'tools', 'render', 'server'];
/** Packages that Node itself cannot import by name, as it would the page's: bundled, too. */
const BUNDLED = new Set(['@tonejs/midi']);

const input = {};
for (const folder of FOLDERS)
  for (const file of readdirSync(join(root, folder), { recursive: true }))
    if (file.endsWith('.test.ts')) input[`${folder}/${file.slice(0, -3)}`] = join(root, folder, file);

rmSync(join(root, 'dist/tests'), { recursive: true, force: true });
await build({
  input,
  cwd: root,
  platform: 'node',
  logLevel: 'warn',
  checks: { sourcemapBroken: false },
  external: (id) => /^(?!\.|\/)/.test(id) && !BUNDLED.has(id),
  // What is read beside a source is read there.
  transform: { define: { 'import.meta.url': 'placeOfSource' } },
  plugins: [
    {
      name: 'places-of-sources',
      transform: (code, id) =>
        code.includes('import.meta.url')
          ? `const placeOfSource = ${JSON.stringify(pathToFileURL(id).href)}; ${code}`
          : null,
    },
  ],
  output: {
    dir: join(root, 'dist/tests'),
    format: 'esm',
    entryFileNames: '[name].mjs',
    chunkFileNames: 'chunks/[name]-[hash].mjs',
    sourcemap: true,
  },
});
