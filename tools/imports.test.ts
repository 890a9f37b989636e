import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';

const root = fileURLToPath(new URL('..', import.meta.url));
const tree = mkdtempSync(join(tmpdir(), 'whirl-imports-'));
afterAll(() => rmSync(tree, { recursive: true, force: true }));

function put(path: string, text: string): void {
  mkdirSync(dirname(join(tree, path)), { recursive: true });
  writeFileSync(join(tree, path), text);
}

function check(): { readonly status: number | null; readonly said: string } {
  const { status, stdout } = spawnSync(
    process.execPath,
    [
      join(root, 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs'),
      'core',
      'web',
      '--config',
      '.dependency-cruiser.cjs',
      '--output-type',
      'err',
    ],
    { cwd: tree, encoding: 'utf8' },
  );
  return { status, said: stdout };
}

describe('the check of imports', () => {
  for (const file of ['.dependency-cruiser.cjs', 'tsconfig.json', 'tsconfig.base.json'])
    cpSync(join(root, file), join(tree, file));

  it('reads types, too: a core that knows a type of the page is refused', () => {
    put('web/src/choice.ts', 'export interface Choice {\n  part: string;\n}\n');
    put('core/order.ts', 'export const order = 1;\n');
    expect(check().status).toBe(0);
    put('core/order.ts', "import type { Choice } from '../web/src/choice';\nexport type Order = Choice;\n");
    const { status, said } = check();
    expect(said).toContain('core/order.ts → web/src/choice.ts');
    expect(status).toBe(1);
  });
});
