import { randomUUID } from 'node:crypto';
import { ask } from './client';

/** How long one change may be sent over and over. */
const PATIENCE_MS = 180_000;

interface Stale {
  readonly code: string;
  readonly revision: number;
}

/** Somebody who edits a shot all the time and sends each change until it is taken, as a page does. */
export class Writer {
  /** Changes that the server said it has, by id. */
  readonly acknowledged: string[] = [];
  readonly refusals = new Map<number, number>();
  private going = true;
  private base = 0;
  private last = 'none';

  constructor(
    private readonly url: string,
    private readonly shot: string,
    /** What it sets, so that two writers can be told apart. */
    private readonly path: readonly string[],
    private readonly valueOf: (count: number) => unknown,
  ) {}

  /** @throws Error when one change is not taken for three minutes */
  async run(): Promise<void> {
    for (let count = 0; this.going; count++) {
      const change = {
        id: randomUUID(),
        label: `Set ${this.path.at(-1)}`,
        patches: [{ path: this.path, after: this.valueOf(count) }],
      };
      // Whether a change whose answer was lost has been taken is told by sending it again.
      const limit = Date.now() + PATIENCE_MS;
      while (!(await this.sent(change))) {
        if (Date.now() > limit)
          throw new Error(
            `The change "${change.label}" was not taken for ${PATIENCE_MS / 1000} s; the last answer: ${this.last}`,
          );
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
      this.acknowledged.push(change.id);
    }
  }

  private async sent(change: unknown): Promise<boolean> {
    const answer = await ask<{ revision: number } & Stale>(this.url, 'POST', `/shots/${this.shot}/changes`, {
      base: this.base,
      changes: [change],
    });
    this.last = `${answer.status} ${JSON.stringify(answer.body).slice(0, 300)}`;
    if (answer.status === 200 || answer.body.code === 'stale') this.base = answer.body.revision;
    if (answer.status !== 200 && answer.status !== 409)
      this.refusals.set(answer.status, (this.refusals.get(answer.status) ?? 0) + 1);
    return answer.status === 200;
  }

  stop(): void {
    this.going = false;
  }
}
