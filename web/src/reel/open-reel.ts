import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Reel } from '../../../core/reel';
import type { OpenedReel } from '../../../wire';

const SEND_AFTER_MS = 350;
const AGAIN_MS = 3000;
const STEPS = 200;
/** Changes of one kind that follow each other so soon are one step. */
const JOINED_MS = 900;
const DRAG = 'drag ';
let drags = 0;

/** The kind of the changes of one drag. */
export const dragKind = (): string => `${DRAG}${++drags}`;

/** How the reel stands with the server. */
export type Keeping =
  | { readonly state: 'kept' | 'keeping' }
  | { readonly state: 'away'; readonly reason: string }
  /** Somebody else has kept another one: which of the two is to stay is for the user to say. */
  | { readonly state: 'clash'; readonly revision: number | null };

export interface ReelState {
  readonly reel: Reel;
  readonly keeping: Keeping;
  readonly undo: readonly Reel[];
  readonly redo: readonly Reel[];
}

/** Where reels are kept. */
export interface ReelDoor {
  /** @throws `ServerProblem`-like errors: status 409 with `more.revision` when another one was kept since */
  keep(id: string, revision: number, reel: Reel): Promise<{ readonly revision: number }>;
}

/** Where what could not be sent waits for the next visit, in this browser. */
export interface DraftStore {
  get(id: string): { readonly revision: number; readonly reel: Reel } | null;
  set(id: string, draft: { readonly revision: number; readonly reel: Reel } | null): void;
}

interface Refusal extends Error {
  readonly status?: number;
  readonly more?: Readonly<Record<string, unknown>>;
}

/** A reel that is open: its changes can be undone, and each is kept by the server soon after it was made. */
export class OpenReel {
  readonly store: StoreApi<ReelState>;
  readonly id: string;
  private revision: number;
  private kept: Reel;
  private waiting: ReturnType<typeof setTimeout> | undefined;
  private sending = false;
  private closed = false;
  private last = { kind: '', at: 0 };

  constructor(
    opened: Pick<OpenedReel, 'id' | 'revision' | 'reel'>,
    private readonly door: ReelDoor,
    private readonly drafts: DraftStore,
  ) {
    this.id = opened.id;
    this.revision = opened.revision;
    this.kept = opened.reel;
    const draft = drafts.get(opened.id);
    const clash = draft !== null && draft.revision !== opened.revision;
    this.store = createStore<ReelState>(() => ({
      reel: draft?.reel ?? opened.reel,
      keeping: clash ? { state: 'clash', revision: opened.revision } : { state: draft ? 'keeping' : 'kept' },
      undo: draft ? [opened.reel] : [],
      redo: [],
    }));
    if (draft && !clash) this.sendSoon();
  }

  get now(): ReelState {
    return this.store.getState();
  }

  /**
   * Makes a change.
   * @param kind changes of the same kind that follow one another at once are undone together; those of one drag, however
   *   long it lasts, where the kind is that of `dragKind`
   */
  change(make: (reel: Reel) => Reel, kind = ''): void {
    const { reel, undo } = this.now;
    const next = make(reel);
    if (next === reel) return;
    const soon = kind.startsWith(DRAG) || Date.now() - this.last.at < JOINED_MS;
    const joins = kind !== '' && kind === this.last.kind && soon;
    this.last = { kind, at: Date.now() };
    // A drag that ends where it began was no step.
    if (joins && next === undo.at(-1)) this.put(next, undo.slice(0, -1), []);
    else this.put(next, joins ? undo : [...undo, reel].slice(-STEPS), []);
  }

  undo(): void {
    const { reel, undo, redo } = this.now;
    const before = undo.at(-1);
    if (before) this.put(before, undo.slice(0, -1), [...redo, reel]);
    this.last = { kind: '', at: 0 };
  }

  redo(): void {
    const { reel, undo, redo } = this.now;
    const after = redo.at(-1);
    if (after) this.put(after, [...undo, reel], redo.slice(0, -1));
    this.last = { kind: '', at: 0 };
  }

  private put(reel: Reel, undo: readonly Reel[], redo: readonly Reel[]): void {
    this.store.setState({ reel, undo, redo });
    this.drafts.set(this.id, { revision: this.revision, reel });
    if (this.now.keeping.state === 'clash') return;
    if (this.now.keeping.state === 'kept') this.store.setState({ keeping: { state: 'keeping' } });
    this.sendSoon();
  }

  private sendSoon(after = SEND_AFTER_MS): void {
    clearTimeout(this.waiting);
    this.waiting = setTimeout(() => void this.send(), after);
  }

  private async send(): Promise<void> {
    if (this.sending || this.closed || this.now.keeping.state === 'clash') return;
    const { reel } = this.now;
    if (reel === this.kept) {
      this.settled();
      return;
    }
    this.sending = true;
    try {
      ({ revision: this.revision } = await this.door.keep(this.id, this.revision, reel));
      this.kept = reel;
      if (this.now.reel === reel) this.settled();
      else this.drafts.set(this.id, { revision: this.revision, reel: this.now.reel });
    } catch (error) {
      this.refused(error as Refusal);
    } finally {
      this.sending = false;
    }
    if (this.now.reel !== this.kept && this.now.keeping.state === 'keeping') this.sendSoon();
  }

  private refused({ status, more, message }: Refusal): void {
    if (status === 409 && typeof more?.revision === 'number')
      this.store.setState({ keeping: { state: 'clash', revision: more.revision } });
    else if (status === 404) this.store.setState({ keeping: { state: 'clash', revision: null } });
    else {
      this.store.setState({ keeping: { state: 'away', reason: message } });
      if (!this.closed) this.sendSoon(AGAIN_MS);
    }
  }

  private settled(): void {
    this.drafts.set(this.id, null);
    this.store.setState({ keeping: { state: 'kept' } });
  }

  /** Keeps this one in place of what somebody else has kept. */
  keepMine(): void {
    const { keeping } = this.now;
    if (keeping.state !== 'clash' || keeping.revision === null) return;
    this.revision = keeping.revision;
    this.store.setState({ keeping: { state: 'keeping' } });
    this.sendSoon(0);
  }

  /** Lets go of what was made here, so that the other one can be opened. */
  letGo(): void {
    this.drafts.set(this.id, null);
  }

  /** Sends what waits, and ends. What cannot be sent is there at the next visit. */
  close(): void {
    clearTimeout(this.waiting);
    void this.send();
    this.closed = true;
  }
}

/** Drafts in the browser's own store. */
export const BROWSER_DRAFTS: DraftStore = {
  get(id) {
    try {
      return JSON.parse(localStorage.getItem(`whirl:reel:${id}`) ?? 'null') as ReturnType<DraftStore['get']>;
    } catch {
      return null;
    }
  },
  set(id, draft) {
    try {
      if (draft) localStorage.setItem(`whirl:reel:${id}`, JSON.stringify(draft));
      else localStorage.removeItem(`whirl:reel:${id}`);
    } catch {
      // A browser without room keeps it in the page only; the state says so while it is not sent.
    }
  },
};
