import type { FrameStretch } from '../state/time';

/** Room for pictures that are kept. */
const ROOM_BYTES = 384 * 2 ** 20;
const BYTES_PER_PIXEL = 4;

/** Stretches of frames that follow one another. */
export function stretchesOf(frames: Iterable<number>): FrameStretch[] {
  const out: { from: number; to: number }[] = [];
  for (const frame of [...frames].sort((a, b) => a - b)) {
    const last = out.at(-1);
    if (last && frame - last.to <= 1) last.to = frame;
    else out.push({ from: frame, to: frame });
  }
  return out;
}

/**
 * Pictures of frames that were drawn once, for as long as nothing changes what they show: play-back puts them up instead of
 * drawing again, on a canvas that covers the view's own.
 */
export class KeptPictures {
  private readonly pictures = new Map<number, HTMLCanvasElement>();
  private meaning: readonly unknown[] = [];
  private frames: FrameStretch[] = [];

  /** @param told hears of which frames there are pictures */
  constructor(
    private readonly cover: HTMLCanvasElement,
    private readonly told: (frames: readonly FrameStretch[]) => void,
    private readonly room = ROOM_BYTES,
  ) {}

  /** Says what pictures show now: those of something else are forgotten. */
  meant(meaning: readonly unknown[]): void {
    const same = meaning.length === this.meaning.length && meaning.every((one, i) => one === this.meaning[i]);
    if (!same) this.forget();
    this.meaning = meaning;
  }

  forget(): void {
    if (this.pictures.size === 0) return;
    this.pictures.clear();
    this.frames = [];
    this.told(this.frames);
  }

  has(frame: number): boolean {
    return this.pictures.has(frame);
  }

  /** Whether another picture of a canvas has room. */
  hasRoomFor({ width, height }: HTMLCanvasElement): boolean {
    return (this.pictures.size + 1) * width * height * BYTES_PER_PIXEL <= this.room;
  }

  /** Keeps what a canvas shows as the picture of a frame, while there is room. @returns whether it is kept */
  keep(frame: number, canvas: HTMLCanvasElement): boolean {
    if (this.pictures.has(frame)) return true;
    if (!this.hasRoomFor(canvas)) return false;
    const copy = document.createElement('canvas');
    [copy.width, copy.height] = [canvas.width, canvas.height];
    const g = copy.getContext('2d', { alpha: false, willReadFrequently: true })!;
    g.drawImage(canvas, 0, 0);
    // Waits until it is there: a copy in the browser's queue would hold up the pictures that come after it.
    g.getImageData(0, 0, 1, 1);
    this.pictures.set(frame, copy);
    this.frames = stretchesOf(this.pictures.keys());
    this.told(this.frames);
    return true;
  }

  /** Puts up the picture of a frame. @returns whether there is one */
  show(frame: number): boolean {
    const picture = this.pictures.get(frame);
    if (picture) {
      this.put(picture);
      this.cover.dataset.frame = String(frame);
    }
    return picture !== undefined;
  }

  /** Covers the view with a picture of what a canvas shows. */
  put(canvas: HTMLCanvasElement): void {
    const { cover } = this;
    if (cover.width !== canvas.width) cover.width = canvas.width;
    if (cover.height !== canvas.height) cover.height = canvas.height;
    cover.getContext('2d', { alpha: false })!.drawImage(canvas, 0, 0);
    cover.hidden = false;
  }

  /** Shows the view itself again. */
  uncover(): void {
    this.cover.hidden = true;
  }
}
