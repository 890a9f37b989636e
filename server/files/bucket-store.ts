import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { buffer, text } from 'node:stream/consumers';
import {
  CopyObjectCommand,
  DeleteObjectCommand,
  GetObjectCommand,
  HeadObjectCommand,
  ListObjectsV2Command,
  NoSuchKey,
  PutObjectCommand,
  S3Client,
  S3ServiceException,
} from '@aws-sdk/client-s3';
import { Upload } from '@aws-sdk/lib-storage';
import { factsOfFile, FileGone, IDENTITY_FILE, isHash, type FileStore, type StoredFile } from './file-store';

export interface BucketPlace {
  readonly bucket: string;
  /** Before the names of all objects: empty, or ending in a slash. */
  readonly prefix: string;
  /** Address of the server; missing, the one that the region has. */
  readonly endpoint?: string;
  readonly region?: string;
}

const isMissing = (error: unknown): boolean =>
  error instanceof NoSuchKey ||
  (error instanceof S3ServiceException && error.$metadata.httpStatusCode === 404);

/** Objects in a bucket of a server that speaks S3. Who may enter is said as the client's documentation says. */
export class BucketStore implements FileStore {
  readonly place: string;
  private readonly client: S3Client;

  constructor(private readonly at: BucketPlace) {
    this.place = `the bucket s3://${at.bucket}/${at.prefix}`;
    this.client = new S3Client({
      region: at.region ?? process.env.AWS_REGION ?? 'us-east-1',
      // Servers that are not the first one know neither names before the address nor sums after the body.
      ...(at.endpoint ? { endpoint: at.endpoint, forcePathStyle: true } : {}),
      requestChecksumCalculation: 'WHEN_REQUIRED',
      responseChecksumValidation: 'WHEN_REQUIRED',
    });
  }

  private named(name: string): { Bucket: string; Key: string } {
    return { Bucket: this.at.bucket, Key: `${this.at.prefix}${name}` };
  }

  async keep(bytes: Uint8Array): Promise<StoredFile> {
    const hash = createHash('sha256').update(bytes).digest('hex');
    if (!(await this.refresh(hash, bytes.length)))
      await this.client.send(new PutObjectCommand({ ...this.named(hash), Body: bytes }));
    return { hash, size: bytes.length };
  }

  async keepFile(path: string): Promise<StoredFile> {
    const { hash, size } = await factsOfFile(path);
    if (!(await this.refresh(hash, size)))
      await new Upload({
        client: this.client,
        params: { ...this.named(hash), Body: createReadStream(path) },
      }).done();
    return { hash, size };
  }

  /** Makes an object count as new: it is copied onto itself, which asks for something that changes. */
  private async refresh(hash: string, size: number): Promise<boolean> {
    const at = this.named(hash);
    try {
      const head = await this.client.send(new HeadObjectCommand(at));
      if (head.ContentLength !== size) return false;
      await this.client.send(
        new CopyObjectCommand({
          ...at,
          CopySource: `${at.Bucket}/${at.Key}`,
          MetadataDirective: 'REPLACE',
          Metadata: { kept: new Date().toISOString() },
        }),
      );
      return true;
    } catch (error) {
      if (isMissing(error)) return false;
      throw error;
    }
  }

  async open(hash: string, range?: { readonly from: number; readonly to: number }): Promise<Readable> {
    try {
      const { Body } = await this.client.send(
        new GetObjectCommand({
          ...this.named(hash),
          ...(range ? { Range: `bytes=${range.from}-${range.to - 1}` } : {}),
        }),
      );
      return Body as Readable;
    } catch (error) {
      throw isMissing(error) ? new FileGone(hash, this.place) : error;
    }
  }

  async whole(hash: string): Promise<Buffer> {
    return buffer(await this.open(hash));
  }

  async *all(): AsyncGenerator<StoredFile & { readonly keptAt: Date }> {
    for (let from: string | undefined; ;) {
      const page = await this.client.send(
        new ListObjectsV2Command({
          Bucket: this.at.bucket,
          Prefix: this.at.prefix,
          ...(from === undefined ? {} : { ContinuationToken: from }),
        }),
      );
      for (const { Key = '', Size = 0, LastModified } of page.Contents ?? []) {
        const hash = Key.slice(this.at.prefix.length);
        if (isHash(hash) && LastModified) yield { hash, size: Size, keptAt: LastModified };
      }
      if (!page.IsTruncated) return;
      from = page.NextContinuationToken;
    }
  }

  async remove(hash: string): Promise<void> {
    await this.client.send(new DeleteObjectCommand(this.named(hash)));
  }

  room(): Promise<number | null> {
    return Promise.resolve(null);
  }

  async identity(): Promise<string> {
    const at = this.named(IDENTITY_FILE);
    const read = async (): Promise<string | null> => {
      try {
        const { Body } = await this.client.send(new GetObjectCommand(at));
        return (await text(Body as Readable)).trim();
      } catch (error) {
        if (isMissing(error)) return null;
        throw error;
      }
    };
    const before = await read();
    if (before !== null) return before;
    await this.client.send(new PutObjectCommand({ ...at, Body: randomUUID() }));
    return (await read())!;
  }
}
