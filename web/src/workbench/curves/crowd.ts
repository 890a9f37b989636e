import type { Track } from '../../../../core/document';
import { isCrowd, paintStanding, standing, type PlotPicture } from './plot-painter';

/** How long a crowd is shown shifted and stretched after it moved last, before it is drawn anew. */
const REST_MS = 90;

/** How long one picture of the page may draw at a crowd. */
const SLICE_MS = 2.5;

interface Drawn {
  readonly picture: PlotPicture;
  readonly addresses: string;
  readonly tracks: readonly (Track | null)[];
  readonly ratio: number;
}

/** Whether two pictures show a crowd of the same curves on the same axes, wherever in time and however close. */
function sameCurves(a: Drawn, b: Drawn): boolean {
  const { map } = a.picture;
  const other = b.picture.map;
  return (
    a.tracks.length === b.tracks.length &&
    a.tracks.every((track, i) => track === b.tracks[i]) &&
    a.ratio === b.ratio &&
    a.picture.evening === b.picture.evening &&
    map.width === other.width &&
    map.top === other.top &&
    map.bottom === other.bottom &&
    map.axes.size === other.axes.size &&
    [...map.axes].every(([id, axis]) => {
      const now = other.axes.get(id);
      return now !== undefined && now.low === axis.low && now.high === axis.high;
    })
  );
}

/** A crowd that is being drawn. */
interface Coming {
  readonly wanted: Drawn;
  readonly strokes: Generator<void, void>;
}

/**
 * Curves of a crowd that stand still, in a picture of their own: what is dragged is drawn over it. While time or values are
 * scrolled and zoomed that picture is shifted and stretched, and drawn sharp again once they rest; a little in each picture
 * of the page, so that none waits for all of it.
 */
export class Crowd {
  private front = document.createElement('canvas');
  private back = document.createElement('canvas');
  private drawn: Drawn | null = null;
  private coming: Coming | null = null;
  private resting: ReturnType<typeof setTimeout> | undefined;
  private next = 0;

  /** @param again asked for when the crowd is to be drawn anew */
  constructor(private readonly again: (rested: boolean) => void) {}

  stop(): void {
    clearTimeout(this.resting);
    cancelAnimationFrame(this.next);
    this.coming = null;
  }

  /** @param rested whether nothing moves any more: it is drawn sharp then */
  painter(picture: PlotPicture, rested: boolean): ((g: CanvasRenderingContext2D) => void) | undefined {
    clearTimeout(this.resting);
    if (!isCrowd(picture)) {
      this.stop();
      return undefined;
    }
    const ratio = globalThis.devicePixelRatio;
    const lines = standing(picture);
    const wanted: Drawn = {
      picture,
      addresses: picture.lines.map((line) => line.address).join(),
      tracks: lines.map((line) => line.track),
      ratio,
    };
    if (this.drawn?.addresses !== wanted.addresses || this.drawn.ratio !== ratio) this.whole(wanted);
    else if (!sameCurves(this.drawn, wanted)) {
      if (!this.coming || !sameCurves(this.coming.wanted, wanted)) this.begin(wanted);
    } else {
      const from = this.drawn.picture.map;
      const to = picture.map;
      const moved =
        from.scale.from !== to.scale.from ||
        from.scale.perFrame !== to.scale.perFrame ||
        from.lift.zoom !== to.lift.zoom ||
        from.lift.pan !== to.lift.pan;
      this.stop();
      if (moved && rested) this.begin(wanted);
      else if (moved) this.resting = setTimeout(() => this.again(true), REST_MS);
    }
    return this.shown(picture, ratio);
  }

  /** Draws what there is where it belongs now. */
  private shown({ map: to }: PlotPicture, ratio: number): (g: CanvasRenderingContext2D) => void {
    const { front, drawn } = this;
    const { map, lines } = drawn!.picture;
    const line = lines[0]!;
    const { low, high } = map.axisOf(line);
    // Both ways are even: two places tell where all of it goes.
    const x = (frame: number): number => to.scale.x(frame);
    const [x0, x1] = [x(map.scale.frame(0)), x(map.scale.frame(map.width))];
    const [a, b] = [map.y(line, low), map.y(line, high)];
    const [c, d] = [to.y(line, low), to.y(line, high)];
    const tall = (d - c) / (b - a);
    return (g) => g.drawImage(front, x0, c - a * tall, x1 - x0, (front.height / ratio) * tall);
  }

  private begin(wanted: Drawn): void {
    const { map } = wanted.picture;
    const { back } = this;
    const [w, h] = [Math.round(map.width * wanted.ratio), Math.round(map.bottom * wanted.ratio)];
    if (back.width !== w) back.width = w;
    if (back.height !== h) back.height = h;
    const g = back.getContext('2d')!;
    g.setTransform(wanted.ratio, 0, 0, wanted.ratio, 0, 0);
    g.clearRect(0, 0, map.width, map.bottom);
    this.coming = { wanted, strokes: paintStanding(g, wanted.picture) };
    cancelAnimationFrame(this.next);
    this.next = requestAnimationFrame(() => this.go());
  }

  private go(): void {
    const until = performance.now() + SLICE_MS;
    while (performance.now() < until)
      if (this.coming!.strokes.next().done) {
        this.swap();
        this.again(false);
        return;
      }
    this.next = requestAnimationFrame(() => this.go());
  }

  private whole(wanted: Drawn): void {
    this.begin(wanted);
    cancelAnimationFrame(this.next);
    while (!this.coming!.strokes.next().done);
    this.swap();
  }

  private swap(): void {
    this.drawn = this.coming!.wanted;
    this.coming = null;
    [this.front, this.back] = [this.back, this.front];
  }
}
