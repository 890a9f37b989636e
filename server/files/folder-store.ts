import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import {
  mkdir,
  open,
  opendir,
  readFile,
  rename,
  rm,
  stat,
  statfs,
  utimes,
  writeFile,
  type FileHandle,
} from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { factsOfFile, FileGone, IDENTITY_FILE, isHash, type FileStore, type StoredFile } from './file-store';

const isMissing = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === 'ENOENT';

/** Files in a folder: written beside their place and moved there whole, under two letters of their name. */
export class FolderStore implements FileStore {
  readonly place: string;

  constructor(private readonly folder: string) {
    this.place = `the folder ${folder}`;
  }

  private pathOf(hash: string): string {
    return join(this.folder, hash.slice(0, 2), hash);
  }

  async keep(bytes: Uint8Array): Promise<StoredFile> {
    const hash = createHash('sha256').update(bytes).digest('hex');
    if (!(await this.refresh(hash, bytes.length)))
      await this.put(hash, async (file) => void (await file.writeFile(bytes)));
    return { hash, size: bytes.length };
  }

  async keepFile(path: string): Promise<StoredFile> {
    const { hash, size } = await factsOfFile(path);
    if (!(await this.refresh(hash, size)))
      await this.put(hash, async (file) => {
        for await (const piece of createReadStream(path)) await file.write(piece as Buffer);
      });
    return { hash, size };
  }

  /** Makes a file count as new. @returns whether it is there, whole */
  private async refresh(hash: string, size: number): Promise<boolean> {
    const path = this.pathOf(hash);
    try {
      const now = new Date();
      await utimes(path, now, now);
      return (await stat(path)).size === size;
    } catch (error) {
      if (isMissing(error)) return false;
      throw error;
    }
  }

  private async put(hash: string, write: (file: FileHandle) => Promise<void>): Promise<void> {
    const path = this.pathOf(hash);
    await mkdir(join(this.folder, hash.slice(0, 2)), { recursive: true });
    const part = `${path}.${randomUUID()}.part`;
    try {
      const file = await open(part, 'w');
      try {
        await write(file);
        await file.sync();
      } finally {
        await file.close();
      }
      await rename(part, path);
    } catch (error) {
      await rm(part, { force: true });
      throw error;
    }
  }

  async open(hash: string, range?: { readonly from: number; readonly to: number }): Promise<Readable> {
    let file: FileHandle;
    try {
      file = await open(this.pathOf(hash));
    } catch (error) {
      throw isMissing(error) ? new FileGone(hash, this.place) : error;
    }
    return file.createReadStream(range ? { start: range.from, end: range.to - 1 } : {});
  }

  async whole(hash: string): Promise<Buffer> {
    try {
      return await readFile(this.pathOf(hash));
    } catch (error) {
      throw isMissing(error) ? new FileGone(hash, this.place) : error;
    }
  }

  /** Files, and what writing that was cut off has left, under its own name. */
  async *all(): AsyncGenerator<StoredFile & { readonly keptAt: Date }> {
    for await (const path of this.paths()) {
      const facts = await stat(path).catch(() => null);
      const hash = path.slice(path.lastIndexOf('/') + 1);
      if (facts && isHash(hash)) yield { hash, size: facts.size, keptAt: facts.mtime };
    }
  }

  private async *paths(): AsyncGenerator<string> {
    let shelves;
    try {
      shelves = await opendir(this.folder);
    } catch (error) {
      if (isMissing(error)) return;
      throw error;
    }
    for await (const shelf of shelves) {
      if (!shelf.isDirectory()) continue;
      for await (const { name } of await opendir(join(this.folder, shelf.name)))
        yield join(this.folder, shelf.name, name);
    }
  }

  /** Removes what writing that was cut off has left, if it is older than a day. */
  async clearParts(olderThan: Date): Promise<void> {
    for await (const path of this.paths()) {
      if (!path.endsWith('.part')) continue;
      const facts = await stat(path).catch(() => null);
      if (facts && facts.mtime < olderThan) await rm(path, { force: true });
    }
  }

  async remove(hash: string): Promise<void> {
    await rm(this.pathOf(hash), { force: true });
  }

  async room(): Promise<number | null> {
    await mkdir(this.folder, { recursive: true });
    const { bavail, bsize } = await statfs(this.folder);
    return bavail * bsize;
  }

  async identity(): Promise<string> {
    const path = join(this.folder, IDENTITY_FILE);
    await mkdir(this.folder, { recursive: true });
    // Two that begin at once: the first one's stays.
    await writeFile(path, randomUUID(), { flag: 'wx' }).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'EEXIST') throw error;
    });
    return (await readFile(path, 'utf8')).trim();
  }
}
