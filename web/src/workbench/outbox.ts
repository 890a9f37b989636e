import { get, set } from 'idb-keyval';
import { apply, conflictsOf, type Change } from '../../../core/edit';
import type { Shot } from '../../../core/document';
import { api, ServerProblem, type KeptChange, type SentChange } from '../shared/api';

export type KeptState = 'kept' | 'keeping' | 'offline';

interface Stored {
  readonly base: number;
  readonly changes: readonly SentChange[];
}

export interface OutboxEvents {
  /** The document has become another one: others changed it, or a change was refused. */
  replaced(shot: Shot): void;
  state(state: KeptState): void;
  told(message: string): void;
}

const RETRY_MS = 2000;
const AT_ONCE = 100;

/**
 * Sends changes to the server in order and holds them, in the browser's own store too, until they are kept. What
 * others did meanwhile is put below them.
 */
export class Outbox {
  private waiting: SentChange[] = [];
  private sending = false;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private closed = false;

  private constructor(
    private readonly shotId: string,
    private revision: number,
    /** Document at `revision`, without what is still waiting. */
    private kept: Shot,
    private readonly events: OutboxEvents,
  ) {}

  /** Takes up what an earlier visit could not send. @returns the outbox and the document to show */
  static async open(
    shotId: string,
    revision: number,
    document: Shot,
    events: OutboxEvents,
  ): Promise<{ outbox: Outbox; shot: Shot }> {
    const outbox = new Outbox(shotId, revision, document, events);
    const stored = await get<Stored>(outbox.storeKey).catch(() => undefined);
    if (stored && stored.changes.length > 0) {
      const since =
        stored.base < revision
          ? await api.changesSince(shotId, stored.base).catch((): KeptChange[] => [])
          : [];
      const accepted = new Set(since.map((change) => change.senderId));
      outbox.waiting = stored.changes.filter((change) => !accepted.has(change.id));
    }
    const shot = outbox.replay();
    if (outbox.waiting.length > 0) outbox.schedule(0);
    await outbox.store();
    return { outbox, shot };
  }

  private get storeKey(): string {
    return `whirl:outbox:${this.shotId}`;
  }

  /** Takes a change to send. */
  add(change: Change): void {
    this.waiting.push({
      id: crypto.randomUUID(),
      label: change.label.slice(0, 200),
      patches: change.patches,
    });
    this.events.state('keeping');
    void this.store();
    this.schedule(0);
  }

  /** Stops sending; what waits stays in the browser's store. */
  close(): void {
    this.closed = true;
    if (this.timer) clearTimeout(this.timer);
  }

  private schedule(delay: number): void {
    if (this.closed || this.sending) return;
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.send(), delay);
  }

  private async store(): Promise<void> {
    await set(this.storeKey, { base: this.revision, changes: this.waiting } satisfies Stored).catch(
      () => undefined,
    );
  }

  private async send(): Promise<void> {
    if (this.sending || this.closed || this.waiting.length === 0) return;
    this.sending = true;
    const batch = this.waiting.slice(0, AT_ONCE);
    let delay = 0;
    try {
      const { revision } = await api.sendChanges(this.shotId, this.revision, batch);
      for (const change of batch) this.kept = apply(this.kept, change);
      this.revision = revision;
      this.waiting = this.waiting.slice(batch.length);
      await this.store();
    } catch (error) {
      delay = await this.refused(error, batch);
    }
    this.sending = false;
    if (this.waiting.length > 0) this.schedule(delay);
    else if (delay === 0) this.events.state('kept');
  }

  private async refused(error: unknown, batch: readonly SentChange[]): Promise<number> {
    if (!(error instanceof ServerProblem)) throw error;
    if (error.code === 'stale') {
      this.rebase(error.more.missed as KeptChange[]);
      return 0;
    }
    if (error.away) {
      this.events.state('offline');
      return RETRY_MS;
    }
    // The server will never take this batch: find the change that is wrong by sending them one at a time.
    if (batch.length > 1) {
      this.waiting = [batch[0]!, ...this.waiting.slice(1)];
      const first = batch[0]!;
      try {
        const { revision } = await api.sendChanges(this.shotId, this.revision, [first]);
        this.kept = apply(this.kept, first);
        this.revision = revision;
        this.waiting = this.waiting.slice(1);
        return 0;
      } catch (again) {
        if (again instanceof ServerProblem && again.away) return RETRY_MS;
      }
    }
    this.waiting = this.waiting.slice(1);
    this.events.told(`"${batch[0]!.label}" could not be kept and was taken back. ${error.message}`);
    this.events.replaced(this.replay());
    await this.store();
    return 0;
  }

  /** Puts what was missed below what waits; the later change of one place wins, and that is told. */
  private rebase(missed: readonly KeptChange[]): void {
    const mine = new Set(this.waiting.map((change) => change.id));
    const foreign = missed.filter((change) => !mine.has(change.senderId));
    const accepted = new Set(missed.map((change) => change.senderId));
    for (const change of missed) this.kept = apply(this.kept, change);
    this.revision = missed.at(-1)?.revision ?? this.revision;
    this.waiting = this.waiting.filter((change) => !accepted.has(change.id));
    const clashes = foreign.flatMap((other) => this.waiting.flatMap((own) => conflictsOf(other, own)));
    if (clashes.length > 0)
      this.events.told(
        `Somebody else changed the same ${clashes.length === 1 ? 'place' : 'places'} meanwhile; your change is the later one and stands.`,
      );
    else if (foreign.length > 0)
      this.events.told(
        `${foreign.length} ${foreign.length === 1 ? 'change' : 'changes'} made elsewhere came in.`,
      );
    this.events.replaced(this.replay());
    void this.store();
  }

  /** The kept document with everything that waits on top; changes that no longer fit are dropped and told. */
  private replay(): Shot {
    let shot = this.kept;
    this.waiting = this.waiting.filter((change) => {
      try {
        shot = apply(shot, change);
        return true;
      } catch {
        this.events.told(`"${change.label}" no longer fits what others have changed, and was left out.`);
        return false;
      }
    });
    return shot;
  }
}
