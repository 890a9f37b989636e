import type { RawFrame } from './raw-frame';

/** Bytes of pictures that are held. */
const HELD_BYTES = 96 * 1024 * 1024;

/** The pictures that were drawn last, for whoever writes them into a film: read back from their files they cost more. */
export class RecentFrames {
  private readonly frames = new Map<string, RawFrame>();
  private readonly awaited = new Map<string, () => void>();
  private bytes = 0;

  constructor(private readonly most = HELD_BYTES) {}

  put(film: string, frame: number, picture: RawFrame): void {
    this.take(film, frame);
    const own = `${film} ${frame}`;
    if (picture.pixels.length <= this.most) {
      this.frames.set(own, picture);
      this.bytes += picture.pixels.length;
    }
    this.awaited.get(own)?.();
    for (const [name, held] of this.frames) {
      if (this.bytes <= this.most) return;
      this.frames.delete(name);
      this.bytes -= held.pixels.length;
    }
  }

  /** A picture that is held still; it is let go. */
  take(film: string, frame: number): RawFrame | null {
    const name = `${film} ${frame}`;
    const found = this.frames.get(name);
    if (!found) return null;
    this.frames.delete(name);
    this.bytes -= found.pixels.length;
    return found;
  }

  /** Waits until a picture has been put here, for so long at most; one waits for a picture at a time. */
  async come(film: string, frame: number, atMostMs: number): Promise<void> {
    const own = `${film} ${frame}`;
    if (this.frames.has(own)) return;
    await new Promise<void>((resolve) => {
      const limit = setTimeout(resolve, atMostMs);
      this.awaited.set(own, () => {
        clearTimeout(limit);
        resolve();
      });
    });
    this.awaited.delete(own);
  }
}
