import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { open, stat } from 'node:fs/promises';
import { z } from 'zod';

/**
 * A backup is a dump of the database, followed by the stored files, by a list of these, and by one line that tells what
 * it is: length and SHA-256 of all before, where the files begin, the version of Whirl and the migrations of its tables.
 * So a file that is cut off or damaged anywhere is known as such before anything is read from it.
 */
const MARK = 'whirl-backup ';
const LINE_MOST = 65_536;

const trailer = z.object({
  whirl: z.string(),
  made: z.string(),
  /** Names of the migrations that its tables have seen. */
  migrations: z.array(z.string()),
  bytes: z.number().int().min(1),
  sha256: z.string(),
  /** Bytes of the dump, and of the list of files; an earlier Whirl had all files in the dump. */
  dump: z.number().int().min(1).optional(),
  list: z.number().int().min(1).optional(),
});
export type BackupFacts = z.infer<typeof trailer>;

const fileList = z.array(z.tuple([z.string(), z.number().int()]));

/** Adds stored files to a backup whose dump is there, and the list of them. @returns where things are */
export async function addFiles(
  path: string,
  files: readonly { readonly hash: string; open(): Promise<AsyncIterable<Buffer>> }[],
): Promise<{ dump: number; list: number }> {
  const dump = (await stat(path)).size;
  const added: [string, number][] = [];
  const backup = await open(path, 'a');
  try {
    for (const file of files) {
      let size = 0;
      for await (const piece of await file.open()) {
        await backup.write(piece);
        size += piece.length;
      }
      added.push([file.hash, size]);
    }
    const list = Buffer.from(JSON.stringify(added));
    await backup.write(list);
    return { dump, list: list.length };
  } finally {
    await backup.close();
  }
}

/** Files of a backup: where each lies in it. */
export async function listFiles(
  path: string,
  { bytes, dump, list }: BackupFacts,
): Promise<{ hash: string; from: number; to: number }[]> {
  if (dump === undefined || list === undefined) return [];
  let text = '';
  for await (const piece of createReadStream(path, { start: bytes - list, end: bytes - 1 }))
    text += String(piece);
  let from = dump;
  return fileList.parse(JSON.parse(text)).map(([hash, size]) => {
    const file = { hash, from, to: from + size };
    from += size;
    return file;
  });
}

/** SHA-256 of the first `bytes` of a file. */
export async function hashOf(path: string, bytes: number): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path, { end: bytes - 1 })) hash.update(chunk as Buffer);
  return hash.digest('hex');
}

/** Writes the last line of a backup whose dump is in the file already. */
export async function sealBackup(
  path: string,
  facts: Omit<BackupFacts, 'bytes' | 'sha256'>,
): Promise<BackupFacts> {
  const bytes = (await stat(path)).size;
  const whole = { ...facts, bytes, sha256: await hashOf(path, bytes) };
  const file = await open(path, 'a');
  try {
    await file.write(`\n${MARK}${JSON.stringify(whole)}\n`);
    await file.sync();
  } finally {
    await file.close();
  }
  return whole;
}

/** What a backup is. @throws Error with the reason when it is none, or is damaged anywhere */
export async function checkBackup(path: string): Promise<BackupFacts> {
  const size = (await stat(path)).size;
  const length = Math.min(size, LINE_MOST);
  const file = await open(path);
  let end: string;
  try {
    const { buffer } = await file.read({ buffer: Buffer.alloc(length), position: size - length });
    end = buffer.toString('latin1');
  } finally {
    await file.close();
  }
  const at = end.lastIndexOf(`\n${MARK}`);
  if (at < 0 || !end.endsWith('\n'))
    throw new Error(`${path} is no backup of Whirl, or its end is cut off. Nothing has been changed.`);
  let facts: BackupFacts;
  try {
    facts = trailer.parse(JSON.parse(end.slice(at + 1 + MARK.length)));
  } catch {
    throw new Error(`The last line of ${path} is damaged. Nothing has been changed.`);
  }
  if (facts.bytes !== size - length + at || (await hashOf(path, facts.bytes)) !== facts.sha256)
    throw new Error(
      `${path} is damaged: its contents are not those that were written on ${facts.made.slice(0, 10)}. Nothing has been changed.`,
    );
  return facts;
}
