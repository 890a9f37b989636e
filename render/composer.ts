import { mixPixels, type Layer } from '../core/reel';
import type { PictureSize } from './drawing-browser';
import type { Composition } from './film-scenes';
import type { RawFrame } from './raw-frame';

/** Bytes of pictures that wait for another one to come over them. */
const WAITING_BYTES = 256 * 1024 * 1024;

/** A frame of a film, drawn or on its way. */
export interface Drawn {
  readonly picture: Promise<RawFrame>;
}

/** Puts the frames of a film together: one picture each, or where shots are joined one that comes over another. */
export class Composer {
  private readonly waiting = new Map<number, RawFrame>();

  /**
   * @param at what a frame of the film shows
   * @param draw draws a picture of one of its scenes
   */
  constructor(
    private readonly at: (frame: number) => Composition,
    private readonly size: PictureSize,
    private readonly draw: (layer: Layer) => Promise<Drawn>,
  ) {}

  /** The scene that a frame's drawing begins with. */
  firstScene(frame: number): string {
    const { below, shown } = this.at(frame);
    return (this.waiting.has(frame) || !below ? shown : below).scene;
  }

  /**
   * Draws what a frame is put together from.
   * @param frames all that are to be drawn, this one among them: of a join, what several lie over is drawn together
   */
  async frame(frames: readonly number[], frame: number): Promise<Drawn> {
    const { below, shown, join } = this.at(frame);
    if (!join) return this.draw(shown);
    const under = below && (this.take(frame) ?? (await this.drawUnder(frames, frame)));
    const over = await (await this.draw(shown)).picture;
    const { width, height, alpha, deep } = over;
    const numbers = ({ pixels }: RawFrame): Uint8Array | Uint16Array =>
      deep ? new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.length / 2) : pixels;
    const mixed = mixPixels(under && numbers(under), numbers(over), width, height, alpha, join);
    const pixels = Buffer.from(mixed.buffer, mixed.byteOffset, mixed.byteLength);
    return { picture: Promise.resolve({ ...over, pixels }) };
  }

  /** Draws what the frames of a join lie over, as many as may wait, and gives the first of them. */
  private async drawUnder(frames: readonly number[], first: number): Promise<RawFrame> {
    for (const frame of this.together(frames, first)) {
      try {
        const { picture } = await this.draw(this.at(frame).below!);
        this.waiting.set(frame, await picture);
      } catch (error) {
        // A later one is tried again in its turn.
        if (frame === first) throw error;
        break;
      }
    }
    return this.take(first)!;
  }

  /** Frames whose lower pictures are drawn at once from here on: they are of one scene, which is loaded once. */
  private together(frames: readonly number[], first: number): number[] {
    const { width, height, deep } = this.size;
    const most = Math.max(1, Math.floor(WAITING_BYTES / (width * height * (deep ? 8 : 4))));
    const scene = this.at(first).below!.scene;
    const run: number[] = [];
    for (const frame of frames.slice(frames.indexOf(first))) {
      if (this.at(frame).below?.scene !== scene || run.length === most) break;
      run.push(frame);
    }
    return run;
  }

  private take(frame: number): RawFrame | undefined {
    const found = this.waiting.get(frame);
    this.waiting.delete(frame);
    return found;
  }
}
