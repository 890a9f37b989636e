import type { Shot } from '../../core/document';
import { apply, type Patch } from '../../core/edit';
import { inTransaction, type Database, type Queryable } from '../store/database';
import { changesBetween, keepSnapshot, readDocument, type ShotHead } from '../store/shots';

/** JSON bytes of the documents held; in memory they take some five times as much. */
const HELD_BYTES = 96 * 1024 * 1024;
/** A shot that has been left alone for so long gets a snapshot. */
const QUIET_MS = 3000;
/** Changes after which it gets one even while people work on it. */
const CHANGES_AT_MOST = 500;

interface Held {
  readonly revision: number;
  readonly document: Shot;
  readonly size: number;
}

/**
 * Documents of the shots that are worked on, as of their last change, so that a change need not read them again. Those
 * asked for least lately are let go. Every look begins with the shot's head in the database, so that what another
 * server has changed is caught up with.
 */
export class Documents {
  private readonly held = new Map<string, Held>();
  private readonly quiet = new Map<string, NodeJS.Timeout>();
  private size = 0;

  /** @param report is told of what went wrong without anybody waiting for it */
  constructor(
    private readonly pool: Database,
    private readonly report: (error: unknown) => void,
  ) {}

  /** The document of a shot at its head, read by `db`. */
  async at(db: Queryable, head: ShotHead): Promise<Shot> {
    const held = this.held.get(head.id);
    if (held && held.revision === head.revision) return held.document;
    if (!held || held.revision > head.revision || held.revision < head.snapshotRevision)
      return readDocument(db, head);
    let document = held.document;
    for await (const { patches } of changesBetween(db, head.id, held.revision, head.revision))
      document = apply(document, { label: '', patches: JSON.parse(patches) as Patch[] });
    return document;
  }

  /** Holds a document that is stored, and sees to it that the shot gets a snapshot in time. */
  hold(head: ShotHead, revision: number, document: Shot, size: number): void {
    this.let(head.id);
    if (size <= HELD_BYTES / 2) {
      this.held.set(head.id, { revision, document, size });
      this.size += size;
      for (const [id] of this.held) if (this.size > HELD_BYTES && id !== head.id) this.let(id);
    }
    if (revision === head.snapshotRevision) return;
    const waiting = this.quiet.get(head.id);
    if (waiting && revision - head.snapshotRevision >= CHANGES_AT_MOST) return;
    clearTimeout(waiting);
    const soon = revision - head.snapshotRevision >= CHANGES_AT_MOST ? 0 : QUIET_MS;
    this.quiet.set(
      head.id,
      setTimeout(() => {
        this.quiet.delete(head.id);
        void this.snapshot(head.id, revision, document);
      }, soon).unref(),
    );
  }

  /**
   * Stores a document as the snapshot of its revision. One that cannot be stored now is stored after the next change.
   * @returns its JSON
   */
  async snapshot(id: string, revision: number, document: Shot): Promise<Buffer> {
    const bytes = Buffer.from(JSON.stringify(document));
    await inTransaction(this.pool, (client) => keepSnapshot(client, id, revision, document, bytes)).catch(
      this.report,
    );
    return bytes;
  }

  private let(id: string): void {
    this.size -= this.held.get(id)?.size ?? 0;
    this.held.delete(id);
  }
}
