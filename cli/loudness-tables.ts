import { readFile } from 'node:fs/promises';
import { z } from 'zod';
import { describeIssue, foundAt, type Shot } from '../core/document';
import type { LoudnessTables } from '../core/evaluate';
import { Misuse } from './misuse';

const loudnessFile = z.record(
  z.string(),
  z.strictObject({
    rate: z.number().positive().max(10_000),
    seconds: z.number().positive().optional(),
    edges: z.array(z.number().min(0)).min(2).max(1000),
    power: z.array(z.number().min(0)).max(10_000_000),
  }),
);

/** Loudness tables of a shot's sounds from a JSON file, by the sounds' names. */
export async function readLoudness(shot: Shot, path: string | undefined): Promise<LoudnessTables> {
  if (path === undefined) return {};
  let json: unknown;
  try {
    json = JSON.parse(await readFile(path, 'utf8'));
  } catch (error) {
    throw new Misuse(`${path} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  const parsed = loudnessFile.safeParse(json);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    throw new Misuse(`${path}: ${issue.path.join('/')}: ${describeIssue(issue, foundAt(json, issue.path))}`);
  }
  const tables: Record<string, LoudnessTables[string]> = {};
  for (const [name, table] of Object.entries(parsed.data)) {
    const sound = Object.entries(shot.sounds).find(([, entry]) => entry.name === name);
    if (!sound) throw new Misuse(`${path}: the shot has no sound "${name}".`);
    const { seconds, ...rest } = table;
    tables[sound[0]] = {
      ...rest,
      ...(seconds === undefined ? {} : { seconds }),
      power: Float32Array.from(table.power),
    };
  }
  return tables;
}
