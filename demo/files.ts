import { createHash } from 'node:crypto';

/** A picture or mesh that a demo shot shows. */
export interface DemoFile {
  readonly name: string;
  readonly bytes: Uint8Array;
  /** SHA-256 of the bytes, in hexadecimal. */
  readonly hash: string;
}

export function fileOf(name: string, bytes: Uint8Array): DemoFile {
  return { name, bytes, hash: createHash('sha256').update(bytes).digest('hex') };
}
