/** Asks for the server's health all the time, and remembers how long the answers took. */
export class HealthWatch {
  private readonly times: number[] = [];
  private going = true;
  /** Answers count only while nothing has been killed lately. */
  private quietFrom = 0;

  constructor(private readonly url: string) {}

  /** Something is killed now: answers of the next while tell nothing. */
  disturbed(forMs: number): void {
    this.quietFrom = Math.max(this.quietFrom, performance.now() + forMs);
  }

  /** Whether at this moment nothing had been killed for a while. */
  isQuiet(at: number): boolean {
    return at > this.quietFrom;
  }

  async run(): Promise<void> {
    while (this.going) {
      const start = performance.now();
      const ok = await fetch(`${this.url}/api/health`, { signal: AbortSignal.timeout(10_000) }).then(
        (answer) => answer.ok,
        () => false,
      );
      if (ok && this.isQuiet(start)) this.times.push(performance.now() - start);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }

  stop(): void {
    this.going = false;
  }

  /** Milliseconds that answers took: half of them at most the first, one of a hundred longer than the second, the longest. */
  figures(): { answers: number; median: number; p99: number; longest: number } {
    const sorted = [...this.times].sort((a, b) => a - b);
    const at = (share: number): number =>
      Math.round((sorted[Math.floor(share * (sorted.length - 1))] ?? 0) * 10) / 10;
    return { answers: sorted.length, median: at(0.5), p99: at(0.99), longest: at(1) };
  }
}
