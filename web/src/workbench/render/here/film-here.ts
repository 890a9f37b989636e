import type { FilmAnswer, FilmOrder } from './order';

/** How a film that is drawn in this browser stands. */
export type HereState =
  | { readonly state: 'preparing' }
  | { readonly state: 'drawing'; readonly drawn: number; readonly total: number }
  | {
      readonly state: 'done';
      /** Address of the film within this page, until it is let go. */
      readonly url: string;
      readonly size: number;
      readonly ending: string;
      readonly note: string | null;
    }
  | { readonly state: 'failed'; readonly reason: string };

/** A worker as it is used here, so that tests can stand in for it. */
export interface FilmPort {
  onmessage: ((event: { data: FilmAnswer }) => void) | null;
  onerror: ((event: { message: string }) => void) | null;
  postMessage(order: FilmOrder, handed: Transferable[]): void;
  terminate(): void;
}

const makeWorker = (): FilmPort =>
  new Worker(new URL('./film-worker.ts', import.meta.url), { type: 'module' }) as unknown as FilmPort;

/** One film that is drawn in this browser. */
export class FilmHere {
  private port: FilmPort | null = null;
  private ended = false;
  private now: HereState = { state: 'preparing' };
  private readonly listeners = new Set<() => void>();

  /** @param order gives what is to be drawn; its sound may have to be mixed first */
  constructor(
    order: () => Promise<FilmOrder>,
    private readonly makePort: () => FilmPort = makeWorker,
  ) {
    order().then(
      (ready) => this.begin(ready),
      (error: unknown) => this.fail(error instanceof Error ? error.message : String(error)),
    );
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly snapshot = (): HereState => this.now;

  /** Ends it, and lets the film go. */
  close(): void {
    this.ended = true;
    this.port?.terminate();
    this.port = null;
    if (this.now.state === 'done') URL.revokeObjectURL(this.now.url);
  }

  private begin(order: FilmOrder): void {
    if (this.ended) return;
    const total = order.of.last - order.of.first + 1;
    this.set({ state: 'drawing', drawn: 0, total });
    const port = this.makePort();
    this.port = port;
    port.onmessage = ({ data }) => {
      if (this.ended) return;
      if ('drawn' in data) this.set({ state: 'drawing', drawn: data.drawn, total });
      else if ('failed' in data) this.fail(data.failed);
      else {
        const url = URL.createObjectURL(new Blob([data.film], { type: data.type }));
        this.end();
        this.set({
          state: 'done',
          url,
          size: data.film.byteLength,
          ending: data.ending,
          note: data.soundless,
        });
      }
    };
    port.onerror = ({ message }) => this.fail(message || 'The part of the browser that draws it has ended.');
    const handed = order.sound ? [...new Set(order.sound.sides.map((side) => side.buffer))] : [];
    port.postMessage(order, handed as Transferable[]);
  }

  private end(): void {
    this.port?.terminate();
    this.port = null;
  }

  private fail(reason: string): void {
    this.end();
    if (!this.ended) this.set({ state: 'failed', reason });
  }

  private set(state: HereState): void {
    this.now = state;
    for (const listener of this.listeners) listener();
  }
}
