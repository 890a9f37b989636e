import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { z } from 'zod';
import type { FileStore } from '../files';
import { openAsset } from '../store/assets';
import type { Database } from '../store/database';
import { inWorkFolder } from '../work-folder';
import { keepTables, markBroken, readSoundFacts, type SoundTables } from '../store/sounds';

/** A sound that takes longer is given up and tried again. */
const PATIENCE_MS = 10 * 60_000;

export const soundWork = z.object({ hash: z.string() });

function workOut(path: string, reader: string): Promise<SoundTables> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(reader, { workerData: { path } });
    const limit = setTimeout(() => {
      reject(new Error('The sound took too long to read.'));
      void worker.terminate();
    }, PATIENCE_MS);
    worker.once('message', resolve);
    worker.once('error', reject);
    worker.once('exit', () => {
      clearTimeout(limit);
      reject(new Error('The thread that read the sound has ended.'));
    });
  });
}

/**
 * Works out wave, loudness and beginnings of a sound and keeps them. Whoever waits for it asks for its facts.
 * @param last whether it is not tried again: why it failed is then kept with it
 * @throws Error where it failed and is to be tried again
 */
export async function readSound(
  db: Database,
  files: FileStore,
  hash: string,
  last = false,
  reader = fileURLToPath(new URL('./sound-reader.mjs', import.meta.url)),
): Promise<void> {
  if ((await readSoundFacts(db, hash))?.state !== 'waiting') return;
  const asset = await openAsset(db, files, hash);
  if (!asset) return;
  try {
    const tables = await inWorkFolder(async (folder) => {
      const path = join(folder, 'sound');
      await writeFile(path, asset.bytes);
      return workOut(path, reader);
    });
    await keepTables(db, hash, tables);
  } catch (error) {
    if (!last) throw error;
    await markBroken(db, hash, error instanceof Error ? error.message : String(error));
  }
}
