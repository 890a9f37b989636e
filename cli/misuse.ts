import { readFile } from 'node:fs/promises';
import { parseShot, type Shot } from '../core/document';

/** A mistake of the caller: told in one line, exit code 2. */
export class Misuse extends Error {}

export async function readShotFile(path: string | undefined): Promise<Shot> {
  if (!path) throw new Misuse('Name a shot file, for example shot.json.');
  let json: unknown;
  try {
    json = JSON.parse(await readFile(path, 'utf8'));
  } catch (error) {
    throw new Misuse(`${path} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  const parsed = parseShot(json);
  if (!parsed.ok)
    throw new Misuse(
      `${path} is no shot:\n${parsed.problems.map((problem) => `  ${problem.path || 'document'}: ${problem.message}`).join('\n')}`,
    );
  return parsed.shot;
}

/** `1:96`, `1:96:0.5` or `24`. */
export function readFrames(text: string): { from: number; to: number; step: number } {
  const numbers = text.split(':');
  const [from, to = from, step = 1] = numbers.map((part) => (part.trim() === '' ? NaN : Number(part)));
  if (
    numbers.length > 3 ||
    from === undefined ||
    to === undefined ||
    ![from, to, step].every(Number.isFinite) ||
    step <= 0 ||
    to < from
  )
    throw new Misuse(`--frames ${text} is no range: write 1:96, or 1:96:0.5 for half frames.`);
  return { from, to, step };
}
