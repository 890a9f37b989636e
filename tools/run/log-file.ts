import { appendFileSync, mkdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { dirname } from 'node:path';

/** A log file that is put aside when it is full; so many earlier ones are kept. */
const FULL = 5 * 1024 * 1024;
const KEPT = 4;

export class LogFile {
  private size: number;

  constructor(
    readonly path: string,
    private readonly full = FULL,
  ) {
    mkdirSync(dirname(path), { recursive: true });
    this.size = statSync(path, { throwIfNoEntry: false })?.size ?? 0;
  }

  /** Writes text at the end. A disk that is full costs the text, not the program. */
  write(text: string | Uint8Array): void {
    try {
      if (this.size + text.length > this.full && this.size > 0) this.putAside();
      appendFileSync(this.path, text);
      this.size += text.length;
    } catch {
      // Nobody can be told where the log cannot be written.
    }
  }

  /** Writes a line with the time before it. */
  line(text: string): void {
    this.write(`${new Date().toISOString()} ${text}\n`);
  }

  private putAside(): void {
    rmSync(`${this.path}.${KEPT}`, { force: true });
    for (let i = KEPT - 1; i >= 1; i--)
      if (statSync(`${this.path}.${i}`, { throwIfNoEntry: false }))
        renameSync(`${this.path}.${i}`, `${this.path}.${i + 1}`);
    renameSync(this.path, `${this.path}.1`);
    this.size = 0;
  }
}
