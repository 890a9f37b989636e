import { randomBytes } from 'node:crypto';
import { resolve } from 'node:path';
import type { Queryable } from '../store/database';
import { BucketStore } from './bucket-store';
import type { FileStore } from './file-store';
import { FolderStore } from './folder-store';

export { FileGone, isHash, type FileStore, type StoredFile } from './file-store';
export { FolderStore } from './folder-store';
export { BucketStore } from './bucket-store';

/**
 * The store that a setting names: the path of a folder, or `s3://BUCKET/PREFIX?endpoint=URL&region=NAME`, of which
 * prefix, endpoint and region may be missing.
 * @throws Error for an address that is none
 */
export function fileStoreAt(setting: string): FileStore {
  if (!setting.startsWith('s3://')) return new FolderStore(resolve(setting));
  let url: URL;
  try {
    url = new URL(setting);
  } catch {
    throw new Error(`WHIRL_FILES is no address: ${setting}. Write s3://BUCKET or the path of a folder.`);
  }
  const path = url.pathname.replace(/^\/+|\/+$/g, '');
  const endpoint = url.searchParams.get('endpoint');
  const region = url.searchParams.get('region');
  return new BucketStore({
    bucket: url.hostname,
    prefix: path ? `${path}/` : '',
    ...(endpoint ? { endpoint } : {}),
    ...(region ? { region } : {}),
  });
}

/** The store of this process. @throws Error when WHIRL_FILES is missing */
export function ownFileStore(): FileStore {
  const setting = process.env.WHIRL_FILES;
  if (!setting)
    throw new Error(
      'WHIRL_FILES is missing: name the folder or the bucket where the server keeps its files.',
    );
  return fileStoreAt(setting);
}

const SETTING = 'files';

/** Notes in the database where its files are, the first time. @throws Error when they are somewhere else */
export async function claimFiles(db: Queryable, files: FileStore): Promise<void> {
  await db.query('insert into setting (key, value) values ($1, $2) on conflict (key) do nothing', [
    SETTING,
    JSON.stringify({ identity: await files.identity(), place: files.place }),
  ]);
  await checkFiles(db, files);
}

/** Frames put where nobody looks for them would be lost. @throws Error when a store is not that of the database */
export async function checkFiles(db: Queryable, files: FileStore): Promise<void> {
  const { rows } = await db.query<{ value: { identity: string; place: string } }>(
    'select value from setting where key = $1',
    [SETTING],
  );
  const known = rows[0]?.value;
  if (!known)
    throw new Error('The database does not know yet where its files are: start the server with it once.');
  if (known.identity !== (await files.identity()))
    throw new Error(
      `The files of this database are in ${known.place}, and ${files.place} is another place. Set WHIRL_FILES to where they are.`,
    );
}

/**
 * Stores a few bytes and removes them again, so that who cannot write hears it before there is work to lose.
 * @throws Error with the reason and the cure
 */
export async function checkWritable(files: FileStore): Promise<void> {
  try {
    const { hash } = await files.keep(randomBytes(32));
    await files.remove(hash);
  } catch (error) {
    const reason = error instanceof Error ? error.message : String(error);
    throw new Error(
      `Nothing can be written into ${files.place}: ${reason}. Whoever draws frames puts them there: give the user that this runs as, or its key, the right to write.`,
      { cause: error },
    );
  }
}

/** Forgets where the files of a database are, as after it was brought to another place. */
export async function disclaimFiles(db: Queryable): Promise<void> {
  await db.query('delete from setting where key = $1', [SETTING]);
}
