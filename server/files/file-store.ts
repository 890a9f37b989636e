import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';

/** What is known of bytes that are stored. */
export interface StoredFile {
  /** SHA-256 of the bytes in hexadecimal digits: their name. */
  readonly hash: string;
  /** How many there are. */
  readonly size: number;
}

/**
 * Where bytes lie that rows of the database name: frames, films, pictures, videos, meshes and sounds. Files never
 * change; one that is stored again counts as new, so that the sweep leaves it alone while a row for it is on its way.
 */
export interface FileStore {
  /** The place in words, for messages. */
  readonly place: string;
  keep(bytes: Uint8Array): Promise<StoredFile>;
  /** Stores what a file holds, piece by piece. The file stays. */
  keepFile(path: string): Promise<StoredFile>;
  /** Bytes `[from, to)`, or all, as they come. @throws FileGone */
  open(hash: string, range?: { readonly from: number; readonly to: number }): Promise<Readable>;
  /** @throws FileGone */
  whole(hash: string): Promise<Buffer>;
  /** All that is stored, in no order. */
  all(): AsyncGenerator<StoredFile & { readonly keptAt: Date }>;
  remove(hash: string): Promise<void>;
  /** Bytes that are free, or `null` where that is not known. */
  room(): Promise<number | null>;
  /** What tells this place from any other; made when it is first asked for. */
  identity(): Promise<string>;
}

/** Bytes that should be there are not. */
export class FileGone extends Error {
  constructor(
    readonly hash: string,
    place: string,
  ) {
    super(`The file ${hash.slice(0, 12)} is not in ${place}.`);
  }
}

/** Object or file whose text tells one place from another. */
export const IDENTITY_FILE = '.whirl-files';

/** Hash and length of what a file holds, read piece by piece. */
export async function factsOfFile(path: string): Promise<StoredFile> {
  const sum = createHash('sha256');
  let size = 0;
  for await (const piece of createReadStream(path) as AsyncIterable<Buffer>) {
    sum.update(piece);
    size += piece.length;
  }
  return { hash: sum.digest('hex'), size };
}

export const isHash = (name: string): boolean => /^[0-9a-f]{64}$/.test(name);
