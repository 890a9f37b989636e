import { parseShot, type Shot } from '../../../core/document';
import { apply } from '../../../core/edit';
import type { KeptChange, SentChange } from '../../../wire';
import { ServerProblem } from '../shared/api';
import type { ShotServer } from './outbox';
import type { KeyValues, PageDoor } from './tab-store';

/** What the server promises of a shot, in memory, with answers that go wrong when a test asks for it. */
export class TestServer {
  revision = 0;
  readonly changes: KeptChange[] = [];
  /** Called before each request; whatever it throws is the answer. */
  before: () => void = () => undefined;
  /** Called after a request was done and before it is answered. */
  after: () => void = () => undefined;

  constructor(public document: Shot) {}

  private async ask<T>(work: () => T): Promise<T> {
    await Promise.resolve();
    this.before();
    const answer = work();
    this.after();
    return structuredClone(answer);
  }

  readonly door: ShotServer = {
    send: (base, changes) => this.ask(() => this.keep(base, changes)),
    since: (revision) => this.ask(() => this.changes.filter((change) => change.revision > revision)),
    read: () => this.ask(() => ({ revision: this.revision, document: this.document })),
  };

  private keep(base: number, sent: readonly SentChange[]): { revision: number } {
    if (base > this.revision) throw new ServerProblem(409, 'base-unknown', 'The base is not known.');
    const missed = this.changes.filter((change) => change.revision > base);
    if (missed.some((change) => !sent.some(({ id }) => id === change.senderId)))
      throw new ServerProblem(409, 'stale', 'The shot has moved on.', { missed: structuredClone(missed) });
    let { document } = this;
    const kept: KeptChange[] = [];
    for (const { id, label, patches } of sent) {
      if (missed.some((change) => change.senderId === id)) continue;
      const parsed = parseShot(apply(document, { label, patches }));
      if (!parsed.ok) throw new ServerProblem(422, 'bad-document', parsed.problems[0]!.message);
      document = parsed.shot;
      kept.push({ revision: this.revision + kept.length + 1, senderId: id, label, patches });
    }
    this.document = document;
    this.revision += kept.length;
    this.changes.push(...structuredClone(kept));
    return { revision: this.revision };
  }
}

/** A browser's store in memory; `full` refuses to write. */
export class TestStore implements KeyValues {
  readonly map = new Map<string, unknown>();
  full = false;
  keys = (): Promise<string[]> => Promise.resolve([...this.map.keys()]);
  get = (key: string): Promise<unknown> => Promise.resolve(structuredClone(this.map.get(key)));
  del = (key: string): Promise<void> => Promise.resolve(void this.map.delete(key));
  set = (key: string, value: unknown): Promise<void> => {
    if (this.full) return Promise.reject(new Error('QuotaExceededError'));
    this.map.set(key, structuredClone(value));
    return Promise.resolve();
  };
}

/** Doors of the pages of one browser. */
export class TestBrowser {
  readonly store = new TestStore();
  private readonly open = new Set<string>();

  door(page: string): PageDoor {
    this.open.add(page);
    return {
      isOpen: (other) => Promise.resolve(this.open.has(other)),
      close: () => this.open.delete(page),
    };
  }
}
