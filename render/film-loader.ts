import { setTimeout as pause } from 'node:timers/promises';
import { budgetTrouble } from '../core/check';
import { parseShot, type Shot } from '../core/document';
import { compile, type Loudness, type LoudnessTables } from '../core/evaluate';
import { FrameMeaning } from '../core/frame';
import type { Database } from '../server/store/database';
import type { InnerShots } from '../server/store/inner-shots';
import { readLoudness, readSoundFacts } from '../server/store/sounds';
import type { DrawingBrowser, InnerShot, PictureSize } from './drawing-browser';
import { LastingError } from './lasting-error';

/** How long a film waits for a sound that is still being read. */
const SOUND_PATIENCE_S = 300;

/** How loud the sounds of a shot are, for formulas that read it. Those that are still being read are waited for. */
export async function loudnessOf(db: Database, shot: Shot): Promise<LoudnessTables> {
  const tables: Record<string, Loudness> = {};
  for (const [id, { name, asset }] of Object.entries(shot.sounds)) {
    if (!asset) continue;
    let facts = await readSoundFacts(db, asset);
    for (let waited = 0; facts?.state === 'waiting' && waited < SOUND_PATIENCE_S; waited++) {
      await pause(1000);
      facts = await readSoundFacts(db, asset);
    }
    if (facts?.state === 'waiting')
      throw new Error(`The sound "${name}" has been waiting to be read for ${SOUND_PATIENCE_S} seconds.`);
    const table = facts && (await readLoudness(db, asset));
    if (table) tables[id] = table;
  }
  return tables;
}

/** A shot that is ready to be drawn. */
export interface Scene {
  readonly shot: Shot;
  readonly loudness: LoudnessTables;
  /** The shots that are shown in it. */
  readonly inner: readonly InnerShot[];
  /** What tells frames of it that show the same. */
  readonly meaning: FrameMeaning;
}

/**
 * Readies a shot to be drawn.
 * @param tablesOf how loud the sounds of a shot are
 * @throws LastingError when it can never be drawn
 */
export async function readyScene(
  document: Shot,
  inner: InnerShots,
  tablesOf: (shot: Shot) => Promise<LoudnessTables>,
): Promise<Scene> {
  const parsed = parseShot(document);
  if (!parsed.ok) throw new LastingError(parsed.problems[0]!.message);
  const { shot } = parsed;
  const trouble = budgetTrouble(compile(shot));
  if (trouble) throw new LastingError(trouble);
  const others: InnerShot[] = [];
  for (const [id, other] of Object.entries(inner))
    others.push({ id, shot: other, loudness: await tablesOf(other) });
  const loudness = await tablesOf(shot);
  const plans = new Map(others.map((other) => [other.id, compile(other.shot, other.loudness)]));
  const meaning = new FrameMeaning(compile(shot, loudness), (other) => plans.get(other) ?? null);
  return { shot, loudness, inner: others, meaning };
}

/** Has a browser take a shot. @throws LastingError when a file of it is not to be had */
export const loadScene = (
  browser: Pick<DrawingBrowser, 'load'>,
  { shot, loudness, inner }: Scene,
  size: PictureSize,
): Promise<void> => browser.load(shot, size, loudness, inner);
