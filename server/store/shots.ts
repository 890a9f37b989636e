import { DOCUMENT_VERSION, upgraded, type Setup, type Shot } from '../../core/document';
import { apply, type Patch } from '../../core/edit';
import type { KeptChange, OpenedShot } from '../../wire';
import { Problem } from '../problem';
import type { Queryable } from './database';
import { DRAW_CARD } from './stretches';

/** What is known of a shot without its document. */
export interface ShotHead extends Omit<OpenedShot, 'document'> {
  readonly snapshotRevision: number;
  readonly snapshotVersion: number;
  /** Bytes that the document has at most. */
  readonly size: number;
}

/** Bytes that the JSON of a document may have. */
export const DOCUMENT_BYTES = 64 * 1024 * 1024;
const PIECE = 1 << 20;
/** Changes read at once where many follow. */
const ROWS_AT_ONCE = 500;

/** What is known of a shot, or null when there is none (or it is deleted). */
export async function readHead(db: Queryable, id: string, lock = false): Promise<ShotHead | null> {
  const { rows } = await db.query<ShotHead>(
    `select s.id, s.name, s.project_id as "projectId", p.name as "projectName", s.revision,
       s.snapshot_revision as "snapshotRevision", s.snapshot_version as "snapshotVersion", s.document_size as size
     from shot s join project p on p.id = s.project_id
     where s.id = $1 and s.deleted_at is null and p.deleted_at is null ${lock ? 'for no key update of s' : ''}`,
    [id],
  );
  return rows[0] ?? null;
}

/** Whether the snapshot is the document as it is now, in the form of now. */
export const isFresh = ({ snapshotRevision, snapshotVersion, revision }: ShotHead): boolean =>
  snapshotRevision === revision && snapshotVersion === DOCUMENT_VERSION;

/** Pieces of a snapshot in their order; none when another one has taken its place meanwhile. */
export async function readSnapshot(db: Queryable, id: string, revision: number): Promise<Buffer[]> {
  const { rows } = await db.query<{ bytes: Buffer }>(
    'select bytes from shot_snapshot where shot_id = $1 and revision = $2 order by piece',
    [id, revision],
  );
  return rows.map((row) => row.bytes);
}

/** The document of a shot as it is at its head. @throws Problem when it has been deleted meanwhile */
export async function readDocument(db: Queryable, { id, ...head }: ShotHead): Promise<Shot> {
  let pieces = await readSnapshot(db, id, head.snapshotRevision);
  let from = head.snapshotRevision;
  if (pieces.length === 0) {
    const now = await readHead(db, id);
    if (!now) throw new Problem(404, 'not-found', 'The shot is not there: it may have been deleted.');
    from = now.snapshotRevision;
    pieces = await readSnapshot(db, id, from);
  }
  let document = upgraded(JSON.parse(Buffer.concat(pieces).toString('utf8'))) as Shot;
  for await (const { patches } of changesBetween(db, id, from, head.revision))
    document = apply(document, { label: '', patches: JSON.parse(patches) as Patch[] });
  return document;
}

/** A shot with its document, or null when there is none (or it is deleted). */
export async function readShot(db: Queryable, id: string): Promise<OpenedShot | null> {
  const head = await readHead(db, id);
  return head && { ...head, document: await readDocument(db, head) };
}

/** Revision of a shot, or null when there is none (or it is deleted). */
export async function readRevision(db: Queryable, id: string): Promise<number | null> {
  const { rows } = await db.query<{ revision: number }>(
    'select revision from shot where id = $1 and deleted_at is null',
    [id],
  );
  return rows[0]?.revision ?? null;
}

const setupOf = ({ first, last, rate, width, height }: Setup): number[] => [
  first,
  last,
  rate.num,
  rate.den,
  width,
  height,
];

async function keepPieces(db: Queryable, id: string, revision: number, bytes: Buffer): Promise<void> {
  const count = Math.ceil(bytes.length / PIECE);
  for (let piece = 0; piece < count; piece++)
    await db.query(
      `insert into shot_snapshot (shot_id, revision, piece, bytes) values ($1, $2, $3, $4)
       on conflict (shot_id, revision, piece) do update set bytes = excluded.bytes`,
      [id, revision, piece, bytes.subarray(piece * PIECE, (piece + 1) * PIECE)],
    );
  await db.query('delete from shot_snapshot where shot_id = $1 and revision = $2 and piece >= $3', [
    id,
    revision,
    count,
  ]);
}

/**
 * Stores a new shot; call inside a transaction.
 * @returns its id, or null when there is no such project
 */
export async function createShot(
  db: Queryable,
  projectId: string,
  name: string,
  document: Shot,
): Promise<string | null> {
  const bytes = Buffer.from(JSON.stringify(document));
  refuseLarge(bytes.length);
  const { rows } = await db.query<{ id: string }>(
    `insert into shot (project_id, name, created_at, first_frame, last_frame, rate_num, rate_den, width, height, snapshot_version, document_size)
     select id, $2, clock_timestamp(), $3, $4, $5, $6, $7, $8, $9, $10 from project where id = $1 and deleted_at is null returning id`,
    [projectId, name, ...setupOf(document.setup), document.version, bytes.length],
  );
  const id = rows[0]?.id ?? null;
  if (id !== null) await keepPieces(db, id, 0, bytes);
  return id;
}

/** @throws Problem for a document that is larger than a shot may be */
export function refuseLarge(bytes: number): void {
  if (bytes > DOCUMENT_BYTES)
    throw new Problem(
      413,
      'document-too-large',
      `The shot would have ${Math.ceil(bytes / 1048576)} MB: a shot may have ${DOCUMENT_BYTES / 1048576} MB. Bake less, or split it into several shots.`,
    );
}

/**
 * Stores the document of a revision as the snapshot, unless there is a later one; call inside a transaction. The pieces go
 * first: changes of the shot wait only for the last moment.
 */
export async function keepSnapshot(
  db: Queryable,
  id: string,
  revision: number,
  document: Shot,
  bytes: Buffer,
): Promise<void> {
  const head = await readHead(db, id);
  const later =
    !head ||
    head.snapshotRevision > revision ||
    (head.snapshotRevision === revision && head.snapshotVersion >= document.version);
  if (later) return;
  await keepPieces(db, id, revision, bytes);
  await db.query(
    `update shot set snapshot_revision = $2, snapshot_version = $3,
       document_size = $4 + (select coalesce(sum(octet_length(patches)), 0) from shot_change where shot_id = $1 and revision > $2)
     where id = $1 and (snapshot_revision < $2 or (snapshot_revision = $2 and snapshot_version < $3))`,
    [id, revision, document.version, bytes.length],
  );
  // Those before it, or this one where a later one has come meanwhile.
  await db.query(
    `delete from shot_snapshot where shot_id = $1 and revision < (select snapshot_revision from shot where id = $1)`,
    [id],
  );
}

/** Columns that a copy of a shot has from the shot. */
const COPIED = `first_frame, last_frame, rate_num, rate_den, width, height, revision, snapshot_revision, snapshot_version,
  document_size, picture, picture_revision`;

/**
 * Copies shots with their documents; their history begins at the snapshot. Call inside a transaction.
 * @returns ids of the copies
 */
export async function copyShots(
  db: Queryable,
  ids: readonly string[],
  projectId: string | null,
  ending: string,
): Promise<string[]> {
  const made: string[] = [];
  for (const id of ids) {
    const { rows } = await db.query<{ id: string }>(
      `insert into shot (project_id, name, created_at, ${COPIED})
       select coalesce($2::uuid, project_id), left(name, 80 - length($3::text)) || $3::text, clock_timestamp(), ${COPIED}
       from shot where id = $1 and deleted_at is null for share returning id`,
      [id, projectId, ending],
    );
    const copy = rows[0]?.id;
    if (copy === undefined) continue;
    made.push(copy);
    await db.query(
      `insert into shot_snapshot (shot_id, revision, piece, bytes)
       select $2::uuid, revision, piece, bytes from shot_snapshot where shot_id = $1`,
      [id, copy],
    );
    await db.query(
      `insert into shot_change (shot_id, revision, sender_id, label, patches)
       select $2::uuid, c.revision, c.sender_id, c.label, c.patches from shot_change c join shot s on s.id = $2
       where c.shot_id = $1 and c.revision > s.snapshot_revision and c.revision <= s.revision`,
      [id, copy],
    );
  }
  return made;
}

/** A kept change, its patches as they were stored. */
export interface StoredChange extends Omit<KeptChange, 'patches'> {
  /** JSON of the patches. */
  readonly patches: string;
}

/** Changes kept after `from` up to `to`, oldest first, read some at a time. */
export async function* changesBetween(
  db: Queryable,
  id: string,
  from: number,
  to = 2 ** 31 - 1,
): AsyncGenerator<StoredChange> {
  for (let last = from; ;) {
    const { rows } = await db.query<StoredChange>(
      `select revision, sender_id as "senderId", label, patches from shot_change
       where shot_id = $1 and revision > $2 and revision <= $3 order by revision limit $4`,
      [id, last, to, ROWS_AT_ONCE],
    );
    yield* rows;
    if (rows.length < ROWS_AT_ONCE) return;
    last = rows.at(-1)!.revision;
  }
}

/** Which of these ids of changes the shot has already, whatever revision they led to. */
export async function sentBefore(db: Queryable, id: string, ids: readonly string[]): Promise<Set<string>> {
  const { rows } = await db.query<{ id: string }>(
    'select sender_id as id from shot_change where shot_id = $1 and sender_id = any($2::uuid[])',
    [id, ids],
  );
  return new Set(rows.map((row) => row.id));
}

/** Channel on which PostgreSQL tells that a shot has moved on: its id and its revision, with a space between. */
export const SHOT_CHANNEL = 'shot_changed';

/** Stores changes that lead to a shot of this setup; call inside a transaction that holds the shot. */
export async function keepChanges(
  db: Queryable,
  id: string,
  changes: readonly StoredChange[],
  setup: Setup,
): Promise<void> {
  const { revision } = changes.at(-1)!;
  await db.query(
    `insert into shot_change (shot_id, revision, sender_id, label, patches)
     select $1, * from unnest($2::integer[], $3::uuid[], $4::text[], $5::text[])`,
    [
      id,
      changes.map((change) => change.revision),
      changes.map((change) => change.senderId),
      changes.map((change) => change.label),
      changes.map((change) => change.patches),
    ],
  );
  await db.query(
    `update shot set revision = $2, document_size = document_size + $3, changed_at = now(),
       first_frame = $4, last_frame = $5, rate_num = $6, rate_den = $7, width = $8, height = $9 where id = $1`,
    [id, revision, changes.reduce((sum, change) => sum + change.patches.length, 0), ...setupOf(setup)],
  );
  await db.query('select pg_notify($1, $2)', [SHOT_CHANNEL, `${id} ${revision}`]);
}

export async function readPicture(db: Queryable, id: string): Promise<Buffer | null> {
  const { rows } = await db.query<{ picture: Buffer | null }>('select picture from shot where id = $1', [id]);
  return rows[0]?.picture ?? null;
}

export async function keepPicture(
  db: Queryable,
  id: string,
  revision: number,
  picture: Buffer,
): Promise<void> {
  await db.query('update shot set picture = $2, picture_revision = $3 where id = $1', [
    id,
    picture,
    revision,
  ]);
}

/** Cards wait for films: work of a smaller number goes first, and a film's work has 0. */
const CARD_PRIORITY = 10;

/** Asks for a new card picture once the shot has been left alone for a moment. */
export async function askForPicture(db: Queryable, id: string, delaySeconds: number): Promise<void> {
  await db.query(
    `select graphile_worker.add_job('${DRAW_CARD}', json_build_object('shot', $1::text), run_at := now() + $2 * interval '1 second', job_key := 'card:' || $1, max_attempts := 5, priority := $3)`,
    [id, delaySeconds, CARD_PRIORITY],
  );
}
