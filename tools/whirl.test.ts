import { spawnSync } from 'node:child_process';
import { chmodSync, copyFileSync, mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

it('what is installed and built first does not get into the output of a command', () => {
  const root = mkdtempSync(join(tmpdir(), 'whirl-command-'));
  copyFileSync(fileURLToPath(new URL('../whirl', import.meta.url)), join(root, 'whirl'));
  writeFileSync(join(root, 'package-lock.json'), '{}');
  mkdirSync(join(root, 'node_modules'));
  mkdirSync(join(root, 'bin'));
  const program = (name: string, text: string): void => {
    writeFileSync(join(root, 'bin', name), `#!/bin/bash\n${text}\n`);
    chmodSync(join(root, 'bin', name), 0o755);
  };
  program('npm', 'echo installed');
  program('node', 'case "$*" in -e*) ;; *build.mjs*) echo building ;; *cli.mjs*) echo "{}" ;; esac');
  const { stdout, stderr, status } = spawnSync(join(root, 'whirl'), ['demo'], {
    encoding: 'utf8',
    env: { ...process.env, PATH: `${join(root, 'bin')}:${process.env.PATH}` },
  });
  expect(status).toBe(0);
  expect(stdout).toBe('{}\n');
  expect(stderr).toContain('Installing npm packages');
  expect(stderr).toContain('building');
});
