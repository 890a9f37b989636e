import { Matrix3, NoColorSpace, RepeatWrapping, type Texture } from 'three';
import type { Evaluator } from '../../core/evaluate';

/** What a picture is read as: colours, or numbers from 0 to 1. */
type ReadAs = 'colour' | 'data';

/** The pictures of one look where they lie on it: of its size, shifted and turned about the middle of the surface. */
export class Placed {
  private readonly own = new Map<string, Texture>();
  /** Which state of its pixels a picture was last taken in: those of a video change. */
  private readonly taken = new WeakMap<Texture, number>();
  private readonly matrix = new Matrix3();
  private moved = false;

  /** Brings the place to the evaluated frame. @param id of the look */
  refresh(id: string, evaluator: Evaluator): void {
    const number = (path: string): number => evaluator.number(`${id}/picture.${path}`);
    const [width, height] = [number('size.x'), number('size.y')];
    const [x, y] = [number('shift.x'), number('shift.y')];
    const turn = (number('turn') * Math.PI) / 180;
    this.moved = width !== 1 || height !== 1 || x !== 0 || y !== 0 || turn !== 0;
    if (!this.moved) return;
    // From a point of the surface to the point of the picture that is shown there.
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const [dx, dy] = [0.5 + x, 0.5 + y];
    this.matrix.set(
      c / width,
      s / width,
      0.5 - (c * dx + s * dy) / width,
      -s / height,
      c / height,
      0.5 - (-s * dx + c * dy) / height,
      0,
      0,
      1,
    );
    for (const texture of this.own.values()) texture.matrix.copy(this.matrix);
  }

  /** A picture as it lies on the look; `null` while there is none. */
  of(picture: Texture | null | undefined, as: ReadAs): Texture | null {
    if (!picture) return null;
    if (as === 'colour' && !this.moved && !this.own.has(`${picture.uuid} ${as}`)) return picture;
    const key = `${picture.uuid} ${as}`;
    let texture = this.own.get(key);
    if (!texture) {
      // The pixels are shared: three keeps one copy of them for each way of reading.
      texture = picture.clone();
      texture.wrapS = texture.wrapT = RepeatWrapping;
      texture.colorSpace = as === 'data' ? NoColorSpace : picture.colorSpace;
      texture.matrixAutoUpdate = false;
      texture.needsUpdate = true;
      this.own.set(key, texture);
    }
    if (this.taken.get(texture) !== picture.version) {
      this.taken.set(texture, picture.version);
      texture.needsUpdate = true;
    }
    if (this.moved) texture.matrix.copy(this.matrix);
    else texture.matrix.identity();
    return texture;
  }

  dispose(): void {
    for (const texture of this.own.values()) texture.dispose();
    this.own.clear();
  }
}
