import { setTimeout as pause } from 'node:timers/promises';
import { Logger, run, type Runner, type RunnerOptions } from 'graphile-worker';

const PAUSE_MS = 500;
const PAUSE_MOST_MS = 15_000;

/** Takes work from the queue until it is stopped: a queue that ends, as when PostgreSQL restarts, is opened again. */
export class KeptQueue {
  private stopped = false;
  private runner: Runner | null = null;
  /** Whether work is taken now. */
  working = false;

  constructor(
    private readonly options: RunnerOptions,
    private readonly say: (line: string) => void,
  ) {}

  /** @throws Error when the queue cannot be opened at first */
  async start(): Promise<void> {
    void this.keep(await this.open());
  }

  private open(): Promise<Runner> {
    return run({
      pollInterval: 1000,
      noHandleSignals: true,
      logger: new Logger(() => () => undefined),
      ...this.options,
    });
  }

  private async keep(first: Runner): Promise<void> {
    let runner: Runner | null = first;
    for (let tries = 0; !this.stopped;) {
      try {
        runner ??= await this.open();
        tries = 0;
        this.runner = runner;
        this.working = true;
        await runner.promise;
      } catch (error) {
        this.say(`the queue has ended: ${error instanceof Error ? error.message : String(error)}`);
      }
      this.working = false;
      this.runner = runner = null;
      if (!this.stopped) await pause(Math.min(PAUSE_MS * 2 ** tries++, PAUSE_MOST_MS));
    }
  }

  /** Takes no more work, and lets what is under way come to its end. */
  async finish(): Promise<void> {
    this.stopped = true;
    await this.runner?.stop().catch(() => undefined);
  }

  /** Takes no more work; what is under way is left as it is. */
  leave(): void {
    this.stopped = true;
  }
}
