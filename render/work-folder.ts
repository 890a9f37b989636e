import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Name of a folder in which a process works: its number tells whether it is still at it. */
const FOLDER = /^whirl-work-(\d+)-/;

/** A new folder for files that are in the making. */
export function makeFolder(): string {
  return mkdtempSync(join(tmpdir(), `whirl-work-${process.pid}-`));
}

/** Removes what processes that have died left behind. @returns names of the folders */
export function clearLeftFolders(folder = tmpdir()): string[] {
  const left = readdirSync(folder).filter((name) => {
    const pid = FOLDER.exec(name)?.[1];
    return pid !== undefined && !existsSync(`/proc/${pid}`);
  });
  for (const name of left) rmSync(join(folder, name), { recursive: true, force: true });
  return left;
}
