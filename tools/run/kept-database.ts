import { startCluster, type Cluster } from '../postgres';
import { isAlive, type Thing } from './state';

const LOOK_MS = 1000;
const PAUSES_MS = [0, 1000, 2000, 5000, 10_000, 30_000] as const;

/** PostgreSQL of our own, started again at the same port whenever it ends. */
export class KeptDatabase {
  private stopped = false;
  private timer: NodeJS.Timeout | null = null;
  private failures = 0;
  thing: Thing;

  private constructor(
    private readonly base: string,
    private cluster: Cluster,
    private readonly changed: (thing: Thing, what: string | null) => void,
  ) {
    this.thing = {
      name: 'PostgreSQL',
      state: 'running',
      pid: cluster.pid,
      since: new Date().toISOString(),
      restarts: 0,
      reason: null,
    };
    this.look();
  }

  /** @param port to use where it is not running already; 0 takes a free one */
  static async start(
    base: string,
    port: number,
    changed: (thing: Thing, what: string | null) => void,
  ): Promise<KeptDatabase> {
    const cluster = await startCluster(base, port).catch((error: unknown) => {
      if (port === 0) throw error;
      // Somebody else may have taken the port meanwhile.
      return startCluster(base);
    });
    return new KeptDatabase(base, cluster, changed);
  }

  get url(): string {
    return this.cluster.url;
  }

  private become(more: Partial<Thing>, what: string | null): void {
    this.thing = { ...this.thing, ...more, since: new Date().toISOString() };
    this.changed(this.thing, what);
  }

  private look(): void {
    this.timer = setTimeout(() => {
      if (isAlive(this.cluster.pid, 'postgres')) this.look();
      else void this.again();
    }, LOOK_MS);
  }

  private async again(): Promise<void> {
    const wait = PAUSES_MS[Math.min(this.failures++, PAUSES_MS.length - 1)]!;
    this.become(
      { state: 'waiting', pid: null, reason: 'its process has ended', restarts: this.thing.restarts + 1 },
      'PostgreSQL has ended; it is started again.',
    );
    await new Promise((resolve) => setTimeout(resolve, wait));
    if (this.stopped) return;
    try {
      this.cluster = await startCluster(this.base, Number(new URL(this.cluster.url).port));
      this.failures = 0;
      this.become({ state: 'running', pid: this.cluster.pid }, 'PostgreSQL runs again.');
      this.look();
    } catch (error) {
      const reason = error instanceof Error ? error.message : String(error);
      this.become({ state: 'waiting', reason }, `PostgreSQL does not start: ${reason}`);
      void this.again();
    }
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    await this.cluster.stop();
  }
}
