import type { CheckOptions, Problem } from '../../../../core/check';
import type { Shot } from '../../../../core/document';
import type { LoudnessTables } from '../../../../core/evaluate';
import type { CheckAnswer, CheckRequest } from './check-worker';

const NO_TABLES: LoudnessTables = {};

/** What is known of the checks of a shot. */
export interface CheckState {
  /** Share of the work that is done while it goes on, or `null`. */
  readonly share: number | null;
  /** What the last run that came to its end found; `null` before the first. */
  readonly problems: readonly Problem[] | null;
  readonly failed: string | null;
}

/** A worker as the checks use it, so that tests can stand in for it. */
export interface CheckPort {
  onmessage: ((event: { data: CheckAnswer }) => void) | null;
  onerror: ((event: { message: string }) => void) | null;
  postMessage(request: CheckRequest): void;
  terminate(): void;
}

const makeWorker = (): CheckPort =>
  new Worker(new URL('./check-worker.ts', import.meta.url), { type: 'module' }) as unknown as CheckPort;

/** Looks a shot through beside the page; the worker stays, so that the next time only what has changed is looked at. */
export class BackgroundChecks {
  private port: CheckPort | null = null;
  private id = 0;
  private asked: { shot: Shot; key: string; loudness: LoudnessTables } | null = null;
  private state: CheckState = { share: null, problems: null, failed: null };
  private readonly listeners = new Set<() => void>();

  constructor(private readonly makePort: () => CheckPort = makeWorker) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly snapshot = (): CheckState => this.state;

  /** Asks for a shot to be looked through, unless that is being done or has been done. */
  ask(shot: Shot, options: CheckOptions, loudness: LoudnessTables = NO_TABLES): void {
    const key = JSON.stringify(options);
    const { asked } = this;
    const same = asked?.shot === shot && asked.key === key && asked.loudness === loudness;
    if (same && this.state.failed === null) return;
    this.asked = { shot, key, loudness };
    this.id++;
    this.set({ ...this.state, share: 0, failed: null });
    const fresh = !this.port || asked?.loudness !== loudness;
    this.open().postMessage({ id: this.id, shot, options, ...(fresh ? { loudness } : {}) });
  }

  close(): void {
    this.port?.terminate();
    this.port = null;
    this.asked = null;
  }

  private open(): CheckPort {
    if (this.port) return this.port;
    const port = this.makePort();
    port.onmessage = ({ data }) => {
      if (data.id !== this.id) return;
      if ('share' in data) this.set({ ...this.state, share: data.share });
      else if ('problems' in data) this.set({ share: null, problems: data.problems, failed: null });
      else this.fail(data.failed);
    };
    port.onerror = ({ message }) => this.fail(message);
    this.port = port;
    return port;
  }

  private fail(failed: string): void {
    this.close();
    this.set({ ...this.state, share: null, failed });
  }

  private set(state: CheckState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}
