import type { Track } from '../../../../core/document';
import { isCrowd, paintStanding, standing, type PlotPicture } from './plot-painter';

/** How long a crowd is shown shifted and stretched after it moved last, before it is drawn anew. */
const REST_MS = 90;

interface Drawn {
  readonly picture: PlotPicture;
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

/**
 * Curves of a crowd that stand still, in a picture of their own: what is dragged is drawn over it. While time or values are
 * scrolled and zoomed that picture is shifted and stretched, and drawn sharp again once they rest.
 */
export class Crowd {
  private readonly canvas = document.createElement('canvas');
  private drawn: Drawn | null = null;
  private resting: ReturnType<typeof setTimeout> | undefined;

  /** @param again asked for when the crowd is to be drawn anew */
  constructor(private readonly again: () => void) {}

  stop(): void {
    clearTimeout(this.resting);
  }

  /** @param rested whether nothing moves any more: it is drawn sharp then */
  painter(picture: PlotPicture, rested: boolean): ((g: CanvasRenderingContext2D) => void) | undefined {
    clearTimeout(this.resting);
    if (!isCrowd(picture)) return undefined;
    const ratio = globalThis.devicePixelRatio;
    const wanted: Drawn = { picture, tracks: standing(picture).map((line) => line.track), ratio };
    if (!this.drawn || !sameCurves(this.drawn, wanted)) this.draw(wanted);
    const from = this.drawn!.picture.map;
    const to = picture.map;
    const moved =
      from.scale.from !== to.scale.from ||
      from.scale.perFrame !== to.scale.perFrame ||
      from.lift.zoom !== to.lift.zoom ||
      from.lift.pan !== to.lift.pan;
    if (moved && rested) this.draw(wanted);
    else if (moved) this.resting = setTimeout(this.again, REST_MS);
    const shown = this.drawn!.picture.map;
    const line = picture.lines[0]!;
    const { low, high } = shown.axisOf(line);
    // Both ways are even: two places tell where all of it goes.
    const x = (frame: number): number => to.scale.x(frame);
    const [x0, x1] = [x(shown.scale.frame(0)), x(shown.scale.frame(shown.width))];
    const [a, b] = [shown.y(line, low), shown.y(line, high)];
    const [c, d] = [to.y(line, low), to.y(line, high)];
    const tall = (d - c) / (b - a);
    return (g) => g.drawImage(this.canvas, x0, c - a * tall, x1 - x0, (this.canvas.height / ratio) * tall);
  }

  private draw(wanted: Drawn): void {
    const { map } = wanted.picture;
    const [w, h] = [Math.round(map.width * wanted.ratio), Math.round(map.bottom * wanted.ratio)];
    if (this.canvas.width !== w) this.canvas.width = w;
    if (this.canvas.height !== h) this.canvas.height = h;
    const g = this.canvas.getContext('2d')!;
    g.setTransform(wanted.ratio, 0, 0, wanted.ratio, 0, 0);
    g.clearRect(0, 0, map.width, map.bottom);
    paintStanding(g, wanted.picture);
    this.drawn = wanted;
  }
}
