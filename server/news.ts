import type { Response } from 'express';
import pg from 'pg';
import { busy } from './problem';
import { RENDER_CHANNEL } from './store/renders';
import { SHOT_CHANNEL } from './store/shots';
import { whenGone } from './when-gone';

const RETRY_MS = 2000;
const HEARTBEAT_MS = 25_000;

const CHANNELS = [RENDER_CHANNEL, SHOT_CHANNEL] as const;
export type NewsChannel = (typeof CHANNELS)[number];

/** Told what PostgreSQL sent with the news; `null` after a gap, in which anything may have been missed. */
type Tell = (more: string | null) => void;

/**
 * News of renders and shots, from PostgreSQL's notifications: the id of what has changed, then whatever goes with it.
 * One connection, opened again when it breaks.
 */
export class News {
  private readonly followers = new Map<string, Set<Tell>>();
  private client: pg.Client | null = null;
  private stopped = false;

  constructor(private readonly url: string) {}

  async start(): Promise<void> {
    try {
      const client = new pg.Client({ connectionString: this.url });
      this.client = client;
      client.on('error', () => this.again(client));
      client.on('end', () => this.again(client));
      client.on('notification', ({ channel, payload = '' }) => {
        const [id = '', more = ''] = payload.split(' ');
        this.followers.get(`${channel} ${id}`)?.forEach((tell) => tell(more));
      });
      await client.connect();
      for (const channel of CHANNELS) await client.query(`listen ${channel}`);
      for (const tellers of this.followers.values()) tellers.forEach((tell) => tell(null));
    } catch {
      this.again(this.client);
    }
  }

  private again(client: pg.Client | null): void {
    if (this.stopped || client !== this.client) return;
    this.client = null;
    setTimeout(() => void this.start(), RETRY_MS).unref();
  }

  /** Calls `tell` whenever something of this id changes. @returns a function that stops it */
  follow(channel: NewsChannel, id: string, tell: Tell): () => void {
    const key = `${channel} ${id}`;
    const tellers = this.followers.get(key) ?? new Set();
    tellers.add(tell);
    this.followers.set(key, tellers);
    return () => {
      tellers.delete(tell);
      if (tellers.size === 0) this.followers.delete(key);
    };
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await this.client?.end().catch(() => undefined);
  }
}

/** Streams of events at once. */
export const STREAMS = 500;
let streams = 0;

/**
 * Answers with server-sent events (WHATWG HTML, section 9.2) until the other side leaves or `end` is called.
 * @returns functions that send one event, end the stream, and call something once it has ended; nothing is sent after that
 * @throws Problem 503 `busy` when there are too many
 */
export function eventStream(response: Response): {
  readonly send: (data: unknown) => void;
  readonly end: () => void;
  readonly whenEnded: (then: () => void) => void;
} {
  if (streams >= STREAMS) throw busy();
  streams += 1;
  response.set({
    'Content-Type': 'text/event-stream',
    'Cache-Control': 'no-cache',
    'X-Accel-Buffering': 'no',
  });
  response.flushHeaders();
  const open = (): boolean => !response.writableEnded && !response.destroyed;
  // A line of comment: what stands between does not take the connection for a dead one.
  const beat = setInterval(() => open() && response.write(':\n\n'), HEARTBEAT_MS);
  whenGone(response, () => {
    streams -= 1;
    clearInterval(beat);
  });
  return {
    send: (data) => void (open() && response.write(`data: ${JSON.stringify(data)}\n\n`)),
    end: () => void (open() && response.end()),
    whenEnded: (then) => void whenGone(response, then),
  };
}
