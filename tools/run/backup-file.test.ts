import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkBackup, sealBackup } from './backup-file';

const folder = mkdtempSync(join(tmpdir(), 'whirl-backup-'));
const facts = { whirl: '0.7.0', made: '2026-11-29T10:00:00.000Z', migrations: ['0001_first-tables'] };

async function sealed(contents: Uint8Array, name = 'a'): Promise<string> {
  const path = join(folder, name);
  writeFileSync(path, contents);
  await sealBackup(path, facts);
  return path;
}

describe('a backup', () => {
  it('is known by its last line, whatever its dump holds', async () => {
    for (const contents of ['x', '\nwhirl-backup {}\n', '\n\n\n', 'y'.repeat(200_000)]) {
      const path = await sealed(Buffer.from(contents));
      expect(await checkBackup(path)).toMatchObject({ ...facts, bytes: contents.length });
    }
  });

  it('is refused when a byte of it is another, or any of its end is missing, or anything follows', async () => {
    const whole = readFileSync(await sealed(Buffer.from(Array.from({ length: 500 }, (_, i) => i % 251))));
    const path = join(folder, 'damaged');
    await fc.assert(
      fc.asyncProperty(fc.nat(whole.length - 1), fc.integer({ min: 1, max: 255 }), async (at, by) => {
        const damaged = Buffer.from(whole);
        damaged[at] = damaged[at]! ^ by;
        writeFileSync(path, damaged);
        // What is told beside the dump, such as the day, may be another without harm; the dump may not.
        const reason = await checkBackup(path).then(
          () => '',
          (error: Error) => error.message,
        );
        if (at < 500) expect(reason).toContain('Nothing has been changed');
        writeFileSync(path, whole.subarray(0, at));
        await expect(checkBackup(path)).rejects.toThrow('Nothing has been changed');
      }),
      { numRuns: 200 },
    );
    writeFileSync(path, Buffer.concat([whole, Buffer.from('more')]));
    await expect(checkBackup(path)).rejects.toThrow('Nothing has been changed');
  });
});
