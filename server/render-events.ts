import pg from 'pg';
import { RENDER_CHANNEL } from './store/renders';

const RETRY_MS = 2000;

/** News of render jobs, from PostgreSQL's notifications. One connection, opened again when it breaks. */
export class RenderEvents {
  private readonly followers = new Map<string, Set<() => void>>();
  private client: pg.Client | null = null;
  private stopped = false;

  constructor(private readonly url: string) {}

  async start(): Promise<void> {
    try {
      const client = new pg.Client({ connectionString: this.url });
      this.client = client;
      client.on('error', () => this.again(client));
      client.on('end', () => this.again(client));
      client.on('notification', (message) =>
        this.followers.get(message.payload ?? '')?.forEach((tell) => tell()),
      );
      await client.connect();
      await client.query(`listen ${RENDER_CHANNEL}`);
      // Whatever was missed while away.
      for (const tellers of this.followers.values()) tellers.forEach((tell) => tell());
    } catch {
      this.again(this.client);
    }
  }

  private again(client: pg.Client | null): void {
    if (this.stopped || client !== this.client) return;
    this.client = null;
    setTimeout(() => void this.start(), RETRY_MS).unref();
  }

  /** Calls `tell` whenever the job changes. @returns a function that stops it */
  follow(id: string, tell: () => void): () => void {
    const tellers = this.followers.get(id) ?? new Set();
    tellers.add(tell);
    this.followers.set(id, tellers);
    return () => {
      tellers.delete(tell);
      if (tellers.size === 0) this.followers.delete(id);
    };
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await this.client?.end().catch(() => undefined);
  }
}
