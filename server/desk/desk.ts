import { cpus } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import type { Logger } from 'pino';
import { busy, Problem } from '../problem';
import type { TaskName, Tasks } from './tasks';
import type { Answered, Asked } from './thread';

/** Memory of one thread, in MB; a piece of work that needs more is given up. */
const THREAD_MEMORY = 1536;
/** Pieces of work that a thread has at once: while one waits for PostgreSQL, another one computes. */
const AT_ONCE = 4;
/** Pieces of work that wait for one thing, and for a thread. */
const WAITING_FOR_ONE = 40;
const WAITING = 200;
/** Work that takes longer is given up and its thread ended. */
const PATIENCE_MS = 60_000;

interface Piece extends Asked {
  readonly about: string;
  readonly resolve: (result: unknown) => void;
  readonly reject: (error: unknown) => void;
  limit?: NodeJS.Timeout;
}

/** Whether bytes share their memory with no others, as small ones do, so that it can be handed over. */
const isAlone = (arg: unknown): arg is Uint8Array =>
  arg instanceof Uint8Array && arg.byteLength === arg.buffer.byteLength;

/** One thread with the work that waits for it; pieces about one thing are done one after the other. */
class Thread {
  private worker: Worker | null = null;
  private readonly waiting: Piece[] = [];
  private readonly running = new Map<number, Piece>();
  private readonly taken = new Set<string>();
  private stopped = false;

  constructor(
    private readonly file: string,
    private readonly databaseUrl: string,
    private readonly filesAt: string,
    private readonly log: Logger,
  ) {}

  add(piece: Piece): void {
    const alike = this.waiting.filter(({ about }) => about === piece.about).length;
    if (alike >= WAITING_FOR_ONE || this.waiting.length >= WAITING) {
      piece.reject(busy());
      return;
    }
    this.waiting.push(piece);
    this.next();
  }

  private next(): void {
    while (this.running.size < AT_ONCE && !this.stopped) {
      const at = this.waiting.findIndex(({ about }) => !this.taken.has(about));
      if (at < 0) return;
      const piece = this.waiting.splice(at, 1)[0]!;
      this.running.set(piece.id, piece);
      this.taken.add(piece.about);
      piece.limit = setTimeout(() => this.giveUp(piece), PATIENCE_MS);
      const { id, task, args } = piece;
      this.started().postMessage(
        { id, task, args } satisfies Asked,
        args.flatMap((arg) => (isAlone(arg) ? [arg.buffer as ArrayBuffer] : [])),
      );
    }
  }

  private started(): Worker {
    if (this.worker) return this.worker;
    const worker = new Worker(this.file, {
      workerData: { databaseUrl: this.databaseUrl, filesAt: this.filesAt },
      resourceLimits: { maxOldGenerationSizeMb: THREAD_MEMORY },
    });
    worker.on('message', (answer: Answered) => this.answered(answer));
    worker.on('error', (err) => this.ended(worker, err));
    worker.on('exit', () => this.ended(worker, new Error('The thread has ended.')));
    return (this.worker = worker);
  }

  private done(id: number): Piece | undefined {
    const piece = this.running.get(id);
    if (!piece) return undefined;
    clearTimeout(piece.limit);
    this.running.delete(id);
    this.taken.delete(piece.about);
    return piece;
  }

  private answered({ id, result, problem, failure }: Answered): void {
    const piece = this.done(id);
    if (!piece && failure)
      this.log.error({ err: failure }, 'work of the desk that nobody waits for has failed');
    if (problem) piece?.reject(new Problem(problem.status, problem.code, problem.message, problem.more));
    else if (failure) piece?.reject(Object.assign(new Error(failure.message), { stack: failure.stack }));
    else piece?.resolve(result);
    this.next();
  }

  private giveUp(piece: Piece): void {
    this.log.error({ task: piece.task, about: piece.about }, 'work took too long and is given up');
    void this.worker?.terminate();
  }

  /** Work under way when a thread ends is not known to be done: whoever asked asks again. */
  private ended(worker: Worker, err: Error): void {
    if (worker !== this.worker) return;
    this.worker = null;
    if (this.running.size > 0 && !this.stopped) this.log.error({ err }, 'a thread of the desk has ended');
    for (const { id } of [...this.running.values()])
      this.done(id)?.reject(
        new Problem(503, 'given-up', 'This took too much time or memory, and was given up. Nothing is lost.'),
      );
    this.next();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await this.worker?.terminate();
  }
}

/**
 * Does what would hold the server up in threads: reading and judging documents, changes and files. Work about one
 * shot is done in order by one thread, which holds its document; when too much waits the answer is "busy".
 */
export class Desk {
  private readonly threads: readonly Thread[];
  private pieces = 0;

  /** @param filesAt place of the file store, as `fileStoreAt` takes it */
  constructor(
    databaseUrl: string,
    filesAt: string,
    log: Logger,
    file = fileURLToPath(new URL('./desk.mjs', import.meta.url)),
    count = Math.min(4, Math.max(2, cpus().length)),
  ) {
    this.threads = Array.from({ length: count }, () => new Thread(file, databaseUrl, filesAt, log));
  }

  /**
   * Has a task done. Bytes among its arguments are handed over and gone afterwards.
   * @param about what the work is about, such as a shot's id
   * @throws Problem as the task does, 503 `busy` when too much waits, 503 `given-up`
   */
  do<Name extends TaskName>(
    about: string,
    task: Name,
    ...args: Parameters<Tasks[Name]>
  ): ReturnType<Tasks[Name]> {
    const id = ++this.pieces;
    return new Promise<unknown>((resolve, reject) => {
      this.threadOf(about).add({ id, about, task, args, resolve, reject });
    }) as ReturnType<Tasks[Name]>;
  }

  private threadOf(about: string): Thread {
    let sum = 0;
    for (let i = 0; i < about.length; i++) sum = (sum * 31 + about.charCodeAt(i)) >>> 0;
    return this.threads[sum % this.threads.length]!;
  }

  async stop(): Promise<void> {
    await Promise.all(this.threads.map((thread) => thread.stop()));
  }
}
