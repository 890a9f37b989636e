import { EventEmitter } from 'node:events';
import { setTimeout as pause } from 'node:timers/promises';
import { Logger, run, type Runner, type RunnerOptions, type WorkerEvents } from 'graphile-worker';

const PAUSE_MS = 500;
const PAUSE_MOST_MS = 15_000;
const STOP_MS = 3000;

/** Takes work from the queue until it is stopped: a queue that ends, as when PostgreSQL restarts, is opened again. */
export class KeptQueue {
  private stopped = false;
  private runner: Runner | null = null;
  private triesInVain = 0;
  /** Whether work is taken now. */
  working = false;

  private readonly events: WorkerEvents;

  /** @param options of the queue, with one worker */
  constructor(
    private readonly options: RunnerOptions,
    private readonly say: (line: string) => void,
  ) {
    this.events = options.events ?? (new EventEmitter() as WorkerEvents);
  }

  /** @throws Error when the queue cannot be opened at first */
  async start(): Promise<void> {
    void this.keep(await this.open());
  }

  /** Resolves when the worker of a queue has ended: the queue itself does not tell, and goes on without one. */
  private workerEnded: Promise<unknown> = Promise.resolve();

  private open(): Promise<Runner> {
    this.workerEnded = new Promise((resolve) => this.events.once('worker:stop', resolve));
    return run({
      events: this.events,
      pollInterval: 1000,
      noHandleSignals: true,
      logger: new Logger(() => () => undefined),
      ...this.options,
    });
  }

  private async keep(first: Runner): Promise<void> {
    let runner: Runner | null = first;
    while (!this.stopped) {
      try {
        runner ??= await this.open();
        this.triesInVain = 0;
        this.runner = runner;
        this.working = true;
        await Promise.race([runner.promise, this.workerEnded]);
        if (!this.stopped) this.say('the worker of the queue has ended');
        // What is left of it is let go; that it may fail, too, is no reason not to begin anew.
        await Promise.race([runner.stop().catch(() => undefined), pause(STOP_MS, null, { ref: false })]);
      } catch (error) {
        this.say(`the queue has ended: ${error instanceof Error ? error.message : String(error)}`);
      }
      this.working = false;
      this.runner = runner = null;
      if (!this.stopped) await pause(Math.min(PAUSE_MS * 2 ** this.triesInVain, PAUSE_MOST_MS));
      this.triesInVain += 1;
    }
  }

  /** Takes no more work, and lets what is under way come to its end. */
  async finish(): Promise<void> {
    this.stopped = true;
    await this.runner?.stop().catch(() => undefined);
  }

  /** Takes no more work, and does not wait for what is under way. */
  leave(): void {
    this.stopped = true;
    void this.runner?.stop().catch(() => undefined);
  }
}
