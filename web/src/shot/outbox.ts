import { checkStructure, type Shot } from '../../../core/document';
import {
  apply,
  conflictsOf,
  crossRows,
  difference,
  invert,
  netChange,
  withFreeNames,
  type Change,
} from '../../../core/edit';
import type { KeptChange, SentChange } from '../../../wire';
import { ServerProblem } from '../shared/api';
import type { HeldChanges, TabStore } from './tab-store';

/** What keeps a shot's changes. Every call may fail in any way. */
export interface ShotServer {
  /** Keeps changes on top of a revision. @returns the revision that they lead to */
  send(base: number, changes: readonly SentChange[]): Promise<{ readonly revision: number }>;
  /** Changes kept after a revision, oldest first. */
  since(revision: number): Promise<readonly KeptChange[]>;
  read(): Promise<{ readonly revision: number; readonly document: Shot }>;
}

export interface KeptState {
  readonly state: 'kept' | 'keeping' | 'held';
  /** Changes that the server has not taken yet. */
  readonly waiting: number;
  /** Whether the browser's own store has all of them. */
  readonly stored: boolean;
  /** Why they are held, in words. */
  readonly reason: string | null;
}

export interface OutboxEvents {
  /** The document has become another one by what came in or what was refused; `by` leads there from the one before. */
  replaced(shot: Shot, by: Change): void;
  state(state: KeptState): void;
  told(message: string): void;
  /** Changes came in from elsewhere. @param clash whether one of them is of a place that was changed here, too */
  cameIn(changes: readonly Change[], clash: boolean): void;
}

/** Milliseconds until the next try: after each failure twice as long. */
const RETRY_MS = [2000, 4000, 8000, 16_000, 30_000] as const;
const AT_ONCE = 100;
/** Answers that say that the change itself will never be taken; after any other, it is held and sent again. */
const REFUSALS = new Set([400, 413, 422]);

const sentOf = (change: Change, id: string): SentChange => ({
  id,
  label: change.label.slice(0, 200),
  patches: change.patches,
});

/**
 * Sends changes to the server in order and holds them, in this page and in the browser's own store, until they are
 * kept. What others did meanwhile is put below them. Nothing that goes wrong on the way ends the sending.
 */
export class Outbox {
  private waiting: SentChange[] = [];
  private shown: Shot;
  private atOnce = AT_ONCE;
  private busy = false;
  private behind = false;
  private lost = false;
  private failures = 0;
  private reason: string | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private closed = false;
  private writing: Promise<void> | null = null;
  private written = true;

  constructor(
    private readonly server: ShotServer,
    private readonly store: TabStore,
    private readonly events: OutboxEvents,
    private revision: number,
    /** Document at `revision`, without what is still waiting. */
    private kept: Shot,
  ) {
    this.shown = kept;
  }

  /** Takes over what earlier pages could not send. @returns the document to show */
  async takeOver(): Promise<Shot> {
    const left = await this.store.left().catch((): readonly HeldChanges[] => []);
    for (const held of left) await this.takeHeld(held);
    if (left.length > 0) {
      await this.write();
      if (this.written) await this.store.forget().catch(() => undefined);
    }
    this.shown = this.replayed();
    this.tell();
    if (this.waiting.length > 0) this.schedule(0);
    return this.shown;
  }

  /** Puts what another page held on top of what waits. */
  private async takeHeld({ base, changes }: HeldChanges): Promise<void> {
    const since =
      base < this.revision
        ? await this.server.since(base).catch((): readonly KeptChange[] => [])
        : ([] as const);
    const known = new Set(
      [...since, ...this.waiting].map((entry) => ('senderId' in entry ? entry.senderId : entry.id)),
    );
    const own = changes.filter((change) => !known.has(change.id));
    const below = since.filter((change) => change.revision <= this.revision);
    // The document that they were made on is that of now with everything since taken back.
    try {
      const start = [...below].reverse().reduce((shot, change) => apply(shot, invert(change)), this.kept);
      const foreign = [
        ...below.filter((change) => !changes.some(({ id }) => id === change.senderId)),
        ...this.waiting,
      ];
      const moved = crossRows(start, own, foreign, true).mine;
      this.waiting.push(...own.map(({ id }, i) => sentOf(moved[i]!, id)));
    } catch {
      // What does not fit is told when the document is put together.
      this.waiting.push(...own);
    }
  }

  /** Document shown: the kept one with everything that waits on top. */
  get document(): Shot {
    return this.shown;
  }

  /** Takes a change to send, made on the document shown. @returns the document after it */
  add(change: Change): Shot {
    this.shown = apply(this.shown, change);
    this.waiting.push(sentOf(change, crypto.randomUUID()));
    this.written = false;
    void this.write();
    this.tell();
    this.schedule(0);
    return this.shown;
  }

  /** Somebody else has changed the shot: fetches what it was. */
  news(revision: number): void {
    if (revision <= this.revision) return;
    this.behind = true;
    this.schedule(0);
  }

  /** Tries again at once, as when the network is back. */
  hurry(): void {
    if (this.timer === null) return;
    clearTimeout(this.timer);
    this.timer = null;
    this.schedule(0);
  }

  /** Whether leaving the page now would lose something, or leave it unsent for long. */
  get leavesSomething(): boolean {
    return this.waiting.length > 0 && (!this.written || this.reason !== null);
  }

  /** Stops sending; what waits stays in the browser's store for the next page. */
  close(): void {
    this.closed = true;
    if (this.timer) clearTimeout(this.timer);
    void (this.writing ?? Promise.resolve()).finally(() => this.store.close());
  }

  private schedule(delay: number): void {
    if (this.closed || this.busy) return;
    if (this.timer) {
      // A failed try is not hurried by the next change.
      if (this.failures > 0) return;
      clearTimeout(this.timer);
    }
    this.timer = setTimeout(() => {
      this.timer = null;
      void this.work();
    }, delay);
  }

  /** One thing at a time: catching up first, then sending. */
  private async work(): Promise<void> {
    if (this.busy || this.closed) return;
    this.busy = true;
    try {
      if (this.lost) await this.startAnew();
      else if (this.behind) await this.catchUp();
      else if (this.waiting.length > 0) await this.send();
      this.failures = 0;
      this.reason = null;
    } catch (error) {
      this.failures++;
      this.reason = error instanceof Error ? error.message : String(error);
    } finally {
      this.busy = false;
    }
    if (this.closed) return;
    if (!this.written) await this.write();
    this.tell();
    if (this.waiting.length > 0 || this.behind || this.lost)
      this.schedule(this.failures === 0 ? 0 : RETRY_MS[Math.min(this.failures, RETRY_MS.length) - 1]!);
  }

  private async send(): Promise<void> {
    const batch = this.waiting.slice(0, this.atOnce);
    try {
      const { revision } = await this.server.send(this.revision, batch);
      if (!Number.isSafeInteger(revision)) throw new Error('The answer of the server is not whole.');
      this.kept = batch.reduce(apply, this.kept);
      this.revision = revision;
      this.waiting = this.waiting.slice(batch.length);
      this.atOnce = AT_ONCE;
      this.written = false;
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      if (error.code === 'stale') this.takeIn(error.more.missed as readonly KeptChange[]);
      else if (error.code === 'base-unknown') this.lost = true;
      else if (!REFUSALS.has(error.status)) throw error;
      // Which of them the server will never take is found by sending them one at a time.
      else if (batch.length > 1) this.atOnce = 1;
      else this.giveUp(batch[0]!, error.message);
    }
  }

  private async catchUp(): Promise<void> {
    this.behind = false;
    try {
      this.takeIn(await this.server.since(this.revision));
    } catch (error) {
      this.behind = true;
      throw error;
    }
  }

  /** The server knows less than this page, as after a backup was restored: what it has now is the ground to stand on. */
  private async startAnew(): Promise<void> {
    const { revision, document } = await this.server.read();
    const back = difference(this.kept, document);
    this.move(document, revision, [back]);
    this.lost = false;
    this.events.told(
      'The server has an older state of this shot, as after a backup was restored. It is shown now; changes that were still waiting are on top of it.',
    );
  }

  /** Puts what was missed below what waits; the later change of one place wins, and that is told. */
  private takeIn(missed: readonly KeptChange[]): void {
    const foreign: KeptChange[] = [];
    let clash = false;
    for (const change of missed) {
      if (change.revision <= this.revision) continue;
      const own = this.waiting.findIndex(({ id }) => id === change.senderId);
      if (own === 0) {
        // Taken, though its answer never came.
        this.kept = apply(this.kept, change);
        this.revision = change.revision;
        this.waiting = this.waiting.slice(1);
        this.written = false;
      } else {
        if (own > 0) this.waiting.splice(own, 1);
        clash ||= this.waiting.some((waits) => conflictsOf(change, waits).length > 0);
        foreign.push(change);
        this.move(apply(this.kept, change), change.revision, [change]);
      }
    }
    if (foreign.length === 0) return;
    this.events.cameIn(foreign, clash);
  }

  /** Goes on from another kept document, to which `over` leads from the one before. */
  private move(kept: Shot, revision: number, over: readonly Change[]): void {
    const moved = crossRows(this.kept, this.waiting, over, true).mine;
    this.waiting = this.waiting.map(({ id }, i) => sentOf(moved[i]!, id));
    this.kept = kept;
    this.revision = revision;
    this.written = false;
    this.show();
  }

  /** Takes out a change that the server will never take. */
  private giveUp(change: SentChange, why: string): void {
    this.waiting = [...without(this.kept, change, this.waiting.slice(1))];
    this.atOnce = AT_ONCE;
    this.written = false;
    this.events.told(`"${change.label}" could not be kept and was taken back. ${why}`);
    this.show();
  }

  private show(): void {
    const before = this.shown;
    this.shown = this.replayed();
    const by = difference(before, this.shown);
    if (by.patches.length > 0) this.events.replaced(this.shown, by);
  }

  /** The kept document with everything that waits on top; changes that no longer fit are left out and told. */
  private replayed(): Shot {
    let shot = this.kept;
    let left: readonly SentChange[] = this.waiting;
    const fits: SentChange[] = [];
    while (left.length > 0) {
      const [first, ...rest] = left as readonly [SentChange, ...SentChange[]];
      const change = sentOf(withFreeNames(shot, first), first.id);
      left = rest;
      if (change.patches.length === 0) continue;
      const next = fitting(shot, change);
      if (next) {
        shot = next;
        fits.push(change);
      } else {
        this.events.told(`"${change.label}" no longer fits what others have changed, and was left out.`);
        left = without(shot, change, rest);
      }
    }
    this.waiting = fits;
    return shot;
  }

  /** Writes what waits into the browser's store, one write after the other, the latest state last. */
  private write(): Promise<void> {
    this.writing ??= (async () => {
      try {
        for (let tries = 0; tries < 100 && !this.written; tries++) {
          const { revision, waiting } = this;
          const changes = [...waiting];
          await this.store.write({ base: revision, changes });
          this.written = revision === this.revision && sameList(changes, this.waiting);
        }
      } catch {
        this.written = this.waiting.length === 0;
      } finally {
        this.writing = null;
        this.tell();
      }
    })();
    return this.writing;
  }

  private tell(): void {
    this.events.state({
      state: this.waiting.length === 0 ? 'kept' : this.reason === null ? 'keeping' : 'held',
      waiting: this.waiting.length,
      stored: this.written,
      reason: this.reason,
    });
  }
}

const sameList = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((entry, i) => entry === b[i]);

/** The document after a change, or `null` where the two do not go together. */
function fitting(shot: Shot, change: Change): Shot | null {
  try {
    const next = apply(shot, change);
    // Two changes that are sound alone may not be together: a part moved below one that is gone.
    return checkStructure(next).length === 0 ? next : null;
  } catch {
    return null;
  }
}

/** Changes made on top of `change`, as they are without it; `shot` is the document that it was to be made on. */
function without(shot: Shot, change: SentChange, rest: readonly SentChange[]): readonly SentChange[] {
  let after: Shot;
  try {
    after = apply(shot, change);
  } catch {
    return rest;
  }
  const moved = crossRows(after, rest, [invert(netChange(shot, change))], true).mine;
  return rest.map(({ id }, i) => sentOf(moved[i]!, id));
}
