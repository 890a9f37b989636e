/** A part of a picture that seldom changes: painted when what it depends on does, and laid over or under the rest as it is. */
export class KeptPicture {
  private readonly canvas = document.createElement('canvas');
  private meant: readonly unknown[] = [];

  /**
   * Puts the part into a picture.
   * @param meant all that it depends on: painted anew when one of it is another than the time before
   * @param width pixels of the page
   * @param height pixels of the page
   */
  draw(
    g: CanvasRenderingContext2D,
    meant: readonly unknown[],
    width: number,
    height: number,
    paint: (g: CanvasRenderingContext2D) => void,
  ): void {
    const ratio = globalThis.devicePixelRatio;
    const all = [...meant, width, height, ratio];
    const { canvas } = this;
    if (all.length !== this.meant.length || all.some((one, i) => one !== this.meant[i])) {
      this.meant = all;
      // The same size set again clears it, too.
      canvas.width = Math.round(width * ratio);
      canvas.height = Math.round(height * ratio);
      const own = canvas.getContext('2d')!;
      own.scale(ratio, ratio);
      paint(own);
    }
    g.drawImage(canvas, 0, 0, width, height);
  }

  /** Has it painted anew the next time. */
  forget(): void {
    this.meant = [];
  }
}
