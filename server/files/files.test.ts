import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { mkdtemp, readdir, rm, stat, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import S3rver from 's3rver';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { startTestServer, type TestServer } from '../testing';
import { keepAsset, readAsset } from '../store/assets';
import {
  BucketStore,
  checkFiles,
  checkWritable,
  claimFiles,
  disclaimFiles,
  FileGone,
  fileStoreAt,
  FolderStore,
} from '.';
import type { FileStore } from './file-store';
import { moveEarlierFiles } from './move-earlier';
import { looseFiles, sweepFiles } from './sweep';

const hashOf = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');
let folder: string;
let bucket: S3rver;
let endpoint: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'whirl-files-'));
  // The names that this server lets in.
  vi.stubEnv('AWS_ACCESS_KEY_ID', 'S3RVER');
  vi.stubEnv('AWS_SECRET_ACCESS_KEY', 'S3RVER');
  bucket = new S3rver({
    port: 0,
    address: '127.0.0.1',
    silent: true,
    directory: join(folder, 'bucket'),
    configureBuckets: [{ name: 'fair', configs: [] }],
  });
  const { port } = await bucket.run();
  endpoint = `http://127.0.0.1:${port}`;
});
afterAll(async () => {
  await bucket.close();
  vi.unstubAllEnvs();
  await rm(folder, { recursive: true });
});

const stores: [string, () => FileStore][] = [
  ['a folder', () => fileStoreAt(join(folder, `store-${randomUUID()}`))],
  [
    'a bucket',
    () =>
      fileStoreAt(`s3://fair/${randomUUID()}/deep?endpoint=${encodeURIComponent(endpoint)}&region=harbour-1`),
  ],
];

describe.each(stores)('files in %s', (_, make) => {
  it('come back as they were, whole, in part and as a stream', async () => {
    const files = make();
    const bytes = randomBytes(3_000_000);
    const kept = await files.keep(bytes);
    // FIPS 180-4, worked out by Node's own library.
    expect(kept).toEqual({ hash: hashOf(bytes), size: bytes.length });
    expect((await files.whole(kept.hash)).equals(bytes)).toBe(true);
    expect((await buffer(await files.open(kept.hash))).equals(bytes)).toBe(true);
    for (const [from, to] of [
      [0, 2],
      [1_048_575, 1_048_578],
      [2_999_999, 3_000_000],
    ] as const)
      expect(
        (await buffer(await files.open(kept.hash, { from, to }))).equals(bytes.subarray(from, to)),
        `${from} to ${to}`,
      ).toBe(true);
  });

  it('are taken from a file piece by piece, also where they are larger than one piece of an upload', async () => {
    const files = make();
    const bytes = randomBytes(12_000_000);
    const path = join(folder, 'film');
    await writeFile(path, bytes);
    const kept = await files.keepFile(path);
    expect(kept).toEqual({ hash: hashOf(bytes), size: bytes.length });
    expect((await files.whole(kept.hash)).equals(bytes)).toBe(true);
    expect((await stat(path)).size).toBe(bytes.length);
  });

  it('are listed once, however often they are kept, and gone once removed', async () => {
    const files = make();
    const bytes = [Buffer.from('one'), Buffer.from('two'), Buffer.from('one')];
    const hashes = [];
    for (const one of bytes) hashes.push((await files.keep(one)).hash);
    const list = async (): Promise<string[]> => {
      const found = [];
      for await (const { hash } of files.all()) found.push(hash);
      return found.sort();
    };
    await files.identity();
    expect(await list()).toEqual([...new Set(hashes)].sort());
    await files.remove(hashes[0]!);
    await files.remove(hashes[0]!);
    expect(await list()).toEqual([hashes[1]]);
    await expect(files.whole(hashes[0]!)).rejects.toThrow(FileGone);
    await expect(files.open(hashes[0]!)).rejects.toThrow(FileGone);
  });

  it('can be tried whether they are taken, and nothing of it stays', async () => {
    const files = make();
    await checkWritable(files);
    const left = [];
    for await (const { hash } of files.all()) left.push(hash);
    expect(left).toEqual([]);
  });

  it('tell their place from any other, and always in the same way', async () => {
    const [one, other] = [make(), make()];
    const identity = await one.identity();
    expect(identity).toMatch(/^[0-9a-f-]{36}$/);
    expect(await one.identity()).toBe(identity);
    expect(await other.identity()).not.toBe(identity);
  });
});

describe('files in a folder', () => {
  it('are never there in part: what was cut off is not listed, not read, and cleared after a day', async () => {
    const at = join(folder, 'cut');
    const files = new FolderStore(at);
    const { hash } = await files.keep(Buffer.from('whole'));
    const shelf = join(at, hash.slice(0, 2));
    for (const [name, days] of [
      ['young', 0],
      ['old', 2],
    ] as const) {
      const part = join(shelf, `${'0'.repeat(64)}.${name}.part`);
      await writeFile(part, 'par');
      const when = new Date(Date.now() - days * 86_400_000);
      await utimes(part, when, when);
    }
    const found = [];
    for await (const file of files.all()) found.push(file.hash);
    expect(found).toEqual([hash]);
    await files.clearParts(new Date(Date.now() - 86_400_000));
    expect((await readdir(shelf)).sort()).toEqual([`${'0'.repeat(64)}.young.part`, hash].sort());
  });
  it('that nothing can be written into are refused with the reason and the cure', async () => {
    const path = join(folder, 'no-folder');
    await writeFile(path, 'a file where the folder should be');
    await expect(checkWritable(new FolderStore(path))).rejects.toThrow(
      /Nothing can be written into the folder .*no-folder: .*the right to write/,
    );
  });
  it('tell how much room there is', async () => {
    expect(await new FolderStore(join(folder, 'room')).room()).toBeGreaterThan(0);
  });
  it('a file of the right name and the wrong length is written again', async () => {
    const at = join(folder, 'short');
    const files = new FolderStore(at);
    const { hash } = await files.keep(Buffer.from('all of it'));
    await writeFile(join(at, hash.slice(0, 2), hash), 'all');
    await files.keep(Buffer.from('all of it'));
    expect((await files.whole(hash)).toString()).toBe('all of it');
  });
});

it.each([
  ['s3://fair', 's3://fair/'],
  ['s3://fair/films/', 's3://fair/films/'],
  ['/var/lib/fair', '/var/lib/fair'],
])('the place %s is understood', (setting, place) => {
  const files = fileStoreAt(setting);
  expect(files.place).toContain(place);
  expect(files instanceof BucketStore).toBe(setting.startsWith('s3:'));
});

describe('files and their rows', () => {
  let server: TestServer;
  let files: FolderStore;
  beforeAll(async () => {
    server = await startTestServer();
    files = new FolderStore(join(folder, 'rows'));
  });
  afterAll(() => server.stop());

  const age = async (hash: string): Promise<void> => {
    const when = new Date(Date.now() - 2 * 86_400_000);
    await utimes(join(folder, 'rows', hash.slice(0, 2), hash), when, when);
  };
  const there = (hash: string): Promise<boolean> =>
    files.whole(hash).then(
      () => true,
      () => false,
    );

  it('what no row names goes after a day; what one names, or is new, stays', async () => {
    const facts = { type: 'model/obj', width: null, height: null, alpha: null };
    const named = await keepAsset(server.db, files, Buffer.from(`named ${randomUUID()}`), facts);
    const loose = await files.keep(Buffer.from('loose'));
    const young = await files.keep(Buffer.from('young'));
    const again = await files.keep(Buffer.from('again'));
    for (const { hash } of [named, loose, again]) await age(hash);
    // Somebody is about to name it.
    await files.keep(Buffer.from('again'));
    expect(await looseFiles(server.db, files)).toEqual([loose]);
    expect(await sweepFiles(server.db, files)).toEqual([loose]);
    expect(await Promise.all([named, loose, young, again].map(({ hash }) => there(hash)))).toEqual([
      true,
      false,
      true,
      true,
    ]);
  });

  it('what an earlier Whirl kept in the database is read there, and moved without a change', async () => {
    const project = (await server.call<{ id: string }>('POST', '/projects', { name: 'Earlier' })).body.id;
    const shot = (await server.call<{ id: string }>('POST', `/projects/${project}/shots`, { name: 'Shot' }))
      .body.id;
    const wish = { first: 1, last: 2, width: 64, height: 36, format: 'mp4', alpha: false };
    const { id } = (await server.call<{ id: string }>('POST', `/shots/${shot}/renders`, wish)).body;
    const [asset, frame, film] = [randomBytes(1000), randomBytes(2000), randomBytes(2_500_000)];
    await server.db.query(`insert into asset (hash, type, bytes, size) values ($1, 'model/obj', $2, $3)`, [
      hashOf(asset),
      asset,
      asset.length,
    ]);
    await server.db.query(
      `insert into render_frame (job_id, frame, picture, size, machine) values ($1, 1, $2, $3, 'a')`,
      [id, frame, frame.length],
    );
    for (let piece = 0; piece * 1_048_576 < film.length; piece++)
      await server.db.query('insert into render_film (job_id, piece, bytes) values ($1, $2, $3)', [
        id,
        piece,
        film.subarray(piece * 1_048_576, (piece + 1) * 1_048_576),
      ]);
    await server.db.query(
      `update render_job set status = 'done', film_type = 'video/mp4', film_size = $2 where id = $1`,
      [id, film.length],
    );
    const read = async (path: string, range?: string): Promise<Buffer> => {
      const response = await fetch(`${server.url}/api${path}`, { headers: range ? { Range: range } : {} });
      return Buffer.from(await response.arrayBuffer());
    };
    const look = async (): Promise<void> => {
      expect((await readAsset(server.db, server.files, hashOf(asset)))!.bytes.equals(asset)).toBe(true);
      expect((await read(`/assets/${hashOf(asset)}`)).equals(asset)).toBe(true);
      expect((await read(`/renders/${id}/frames/1`)).equals(frame)).toBe(true);
      expect((await read(`/renders/${id}/film`)).equals(film)).toBe(true);
      expect(
        (await read(`/renders/${id}/film`, 'bytes=1048570-1048590')).equals(film.subarray(1048570, 1048591)),
      ).toBe(true);
    };
    await look();
    const moved = await moveEarlierFiles(server.db, server.files);
    expect(moved.assets).toBeGreaterThanOrEqual(1);
    expect(moved.frames).toBeGreaterThanOrEqual(1);
    expect(moved.films).toBeGreaterThanOrEqual(1);
    await look();
    const left = await server.db.query(
      'select 1 from asset where bytes is not null union all select 1 from render_film union all select 1 from render_frame where picture is not null',
    );
    expect(left.rowCount).toBe(0);
  });

  it('a process with another place than the database knows is refused, with where they are', async () => {
    await disclaimFiles(server.db);
    const other = new FolderStore(join(folder, 'elsewhere'));
    await expect(checkFiles(server.db, other)).rejects.toThrow('start the server');
    await claimFiles(server.db, files);
    await claimFiles(server.db, files);
    await expect(checkFiles(server.db, other)).rejects.toThrow(
      new RegExp(`are in the folder .*rows, and the folder .*elsewhere is another place`),
    );
    await checkFiles(server.db, files);
    await disclaimFiles(server.db);
  });
});
