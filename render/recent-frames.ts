import type { RawFrame } from './raw-frame';

/** Bytes of pictures that are held. */
const HELD_BYTES = 96 * 1024 * 1024;

/** The pictures that were drawn last, for whoever writes them into a film: read back from their files they cost more. */
export class RecentFrames {
  private readonly frames = new Map<string, RawFrame>();
  private bytes = 0;

  constructor(private readonly most = HELD_BYTES) {}

  put(film: string, frame: number, picture: RawFrame): void {
    this.take(film, frame);
    if (picture.pixels.length > this.most) return;
    this.frames.set(`${film} ${frame}`, picture);
    this.bytes += picture.pixels.length;
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
}
