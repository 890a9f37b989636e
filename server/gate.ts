import { busy } from './problem';

/** Lets work through while the sum of what it weighs is under a limit, and answers "busy" beyond. */
export class Gate {
  private inside = 0;

  constructor(private readonly limit: number) {}

  /** @throws Problem 503 `busy` when there is no room */
  async through<T>(weight: number, work: () => Promise<T>): Promise<T> {
    if (this.inside > 0 && this.inside + weight > this.limit) throw busy();
    this.inside += weight;
    try {
      return await work();
    } finally {
      this.inside -= weight;
    }
  }
}
