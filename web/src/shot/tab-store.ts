import { del, get, keys, set } from 'idb-keyval';
import type { SentChange } from '../../../wire';

/** Changes of one page that the server has not taken yet. */
export interface HeldChanges {
  /** Revision that they were made on. */
  readonly base: number;
  readonly changes: readonly SentChange[];
}

/** Where one page keeps what it has not sent, and finds what pages before it left. */
export interface TabStore {
  /** What pages left that are open no longer, oldest first. It stays there until `forget` is called. */
  left(): Promise<readonly HeldChanges[]>;
  /** Forgets what `left` gave: it stands in this page's own place by then. */
  forget(): Promise<void>;
  /** Keeps this page's changes. @throws Error where the browser has no room or keeps nothing */
  write(held: HeldChanges): Promise<void>;
  /** Lets the next page that opens the shot take over what is kept. */
  close(): void;
}

/** Says which pages are open, so that nobody takes over what another page is still sending. */
export interface PageDoor {
  isOpen(page: string): Promise<boolean>;
  close(): void;
}

const ANSWER_MS = 400;
const nameOf = (page: string): string => `whirl:page:${page}`;

/** Pages hold a lock as long as they are open; where the browser has no locks, they answer when they are asked. */
export function pageDoor(page: string): PageDoor {
  // Typed as always there, but missing on addresses that are neither https nor this machine.
  const locks = navigator.locks as LockManager | undefined;
  if (locks) {
    let leave = (): void => undefined;
    void locks.request(nameOf(page), () => new Promise<void>((resolve) => (leave = resolve)));
    return {
      isOpen: (other) =>
        locks.request(nameOf(other), { ifAvailable: true }, (lock) => Promise.resolve(lock === null)),
      close: () => leave(),
    };
  }
  const channel = new BroadcastChannel('whirl:pages');
  const heard = new Set<string>();
  channel.onmessage = ({ data }: MessageEvent<{ ask?: string; here?: string }>) => {
    if (data.ask === page) channel.postMessage({ here: page });
    if (data.here !== undefined) heard.add(data.here);
  };
  return {
    isOpen: async (other) => {
      channel.postMessage({ ask: other });
      await new Promise((resolve) => setTimeout(resolve, ANSWER_MS));
      return heard.has(other);
    },
    close: () => channel.close(),
  };
}

/** The part of a store of keys and values that is needed. */
export interface KeyValues {
  keys(): Promise<readonly string[]>;
  get(key: string): Promise<unknown>;
  set(key: string, value: unknown): Promise<void>;
  del(key: string): Promise<void>;
}

export const BROWSER_STORE: KeyValues = {
  keys: async () => (await keys()).filter((key) => typeof key === 'string'),
  get: (key) => get<unknown>(key),
  set,
  del,
};

/** @param shotId the shot @param page an id of this page, of no other */
export function tabStore(shotId: string, page: string, values: KeyValues, door: PageDoor): TabStore {
  const prefix = `whirl:outbox:${shotId}`;
  const own = `${prefix}:${page}`;
  let taken: string[] = [];
  return {
    async left() {
      const found: HeldChanges[] = [];
      taken = [];
      for (const key of await values.keys()) {
        if (key === own || (key !== prefix && !key.startsWith(`${prefix}:`))) continue;
        if (await door.isOpen(key.slice(prefix.length + 1))) continue;
        const held = (await values.get(key)) as HeldChanges | undefined;
        taken.push(key);
        if (held && held.changes.length > 0) found.push(held);
      }
      return found.sort((a, b) => a.base - b.base);
    },
    async forget() {
      for (const key of taken) await values.del(key);
      taken = [];
    },
    write: (held) => (held.changes.length > 0 ? values.set(own, held) : values.del(own)),
    close: () => door.close(),
  };
}
