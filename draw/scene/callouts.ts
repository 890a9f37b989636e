import {
  BufferAttribute,
  BufferGeometry,
  Group,
  LessDepth,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  OrthographicCamera,
  Scene,
  Vector3,
  type Camera,
  type WebGLRenderer,
} from 'three';
import type { Callout } from '../../core/document';
import type { Evaluator } from '../../core/evaluate';
import { windowOf, type Tile } from '../../core/film';
import {
  calloutLayout,
  calloutPieces,
  calloutWords,
  flatMesh,
  halfSize,
  linePieces,
  lineUpTo,
  platePiece,
  type CalloutLayout,
  type FlatPiece,
} from '../../core/shape';

/** Where the words of a callout lie in a picture: shares of its width and height, from the left and from the top. */
export interface CalloutBox {
  readonly id: string;
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/**
 * How far one layer lies before the next, of `DEPTH`: all of them lie before whatever a camera sees. Pieces of one layer
 * that lie over one another count once, so that they fade as one.
 */
const LAYER = 1e-3;
const DEPTH = 100;

/** One piece of a callout in one colour. Its triangles are made anew when what they are made from changes. */
class Piece {
  readonly mesh = new Mesh(
    new BufferGeometry(),
    new MeshBasicMaterial({ transparent: true, depthFunc: LessDepth, toneMapped: false, fog: false }),
  );
  private made = '';

  constructor() {
    this.mesh.frustumCulled = false;
    this.mesh.matrixAutoUpdate = false;
  }

  /** @param key differs when the pieces do */
  refresh(key: string, pieces: () => readonly FlatPiece[], opacity: number, colour: readonly number[]): void {
    const { material } = this.mesh;
    material.opacity = opacity;
    material.color.setRGB(colour[0]!, colour[1]!, colour[2]!);
    this.mesh.visible = opacity > 0;
    if (key === this.made) return;
    this.made = key;
    const { positions, indices } = flatMesh(pieces());
    this.mesh.geometry.dispose();
    this.mesh.geometry = new BufferGeometry();
    this.mesh.geometry.setAttribute('position', new BufferAttribute(positions, 3));
    this.mesh.geometry.setIndex(new BufferAttribute(indices, 1));
  }

  /** Makes its triangles anew the next time, whatever the key. */
  forget(): void {
    this.made = '';
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
  }
}

/** A callout as it lies over a picture. */
export class DrawnCallout {
  readonly group = new Group();
  private readonly line = new Piece();
  private readonly plate = new Piece();
  private readonly words = new Piece();
  private half: readonly [number, number] = [0, 0];
  private said = '';
  private drawing: Callout | null = null;
  private layout: CalloutLayout | null = null;

  constructor(readonly id: string) {
    this.group.matrixAutoUpdate = false;
    this.group.add(this.line.mesh, this.plate.mesh, this.words.mesh);
  }

  /** Brings it to the evaluated frame. */
  refresh(evaluator: Evaluator, callout: Callout): void {
    const number = (path: string): number => evaluator.number(`${this.id}/${path}`);
    const colour = (path: string): readonly number[] => evaluator.colour(`${this.id}/${path}`);
    const opacity = number('opacity');
    const height = number('height');
    const [counted, choice] = [number('number'), number('choice')];
    const said = calloutWords(callout, counted, choice);
    const pieces = (): readonly FlatPiece[] => calloutPieces(callout, counted, choice);
    if (said !== this.said || callout !== this.drawing) {
      this.half = halfSize(pieces());
      this.said = said;
      if (callout !== this.drawing) this.words.forget();
      this.drawing = callout;
    }
    const layout = calloutLayout(this.half, height, [number('words.x'), number('words.y')], number('drawn'));
    this.layout = layout;
    const { middle, half, line, reached, shown } = layout;
    const [width, dot] = [number('line'), number('dot')];
    this.line.refresh(
      `${line.join(' ')} ${reached} ${width} ${dot}`,
      () => linePieces(lineUpTo(line, reached), width, dot),
      opacity * (number('drawn') > 0 ? 1 : 0),
      colour('linecolour'),
    );
    this.plate.refresh(
      half.join(' '),
      () => [platePiece(half)],
      opacity * number('plate') * shown,
      colour('platecolour'),
    );
    this.words.refresh(said, pieces, opacity * shown, colour('colour'));
    this.plate.mesh.matrix.makeTranslation(middle[0], middle[1], 0);
    this.words.mesh.matrix.makeScale(height, height, 1).setPosition(middle[0], middle[1], 0);
  }

  /**
   * Puts it where a point is seen.
   * @param at in heights of the picture from its middle, y up
   * @param below how many callouts lie over it
   */
  place(at: readonly [number, number], below: number): void {
    this.group.matrix.makeTranslation(at[0], at[1], 0);
    [this.words, this.plate, this.line].forEach(({ mesh }, i) => {
      const layer = below * 3 + i;
      mesh.renderOrder = -layer;
      mesh.matrix.elements[14] = -(layer + 1) * LAYER;
    });
    this.group.updateMatrixWorld(true);
  }

  /** Where its words lie in a picture. @param aspect width of the picture for a height of 1 */
  box(at: readonly [number, number], aspect: number): CalloutBox | null {
    if (!this.layout || this.layout.shown === 0) return null;
    const { middle, half } = this.layout;
    const [x, y] = [at[0] + middle[0], at[1] + middle[1]];
    return {
      id: this.id,
      left: 0.5 + (x - half[0]) / aspect,
      right: 0.5 + (x + half[0]) / aspect,
      top: 0.5 - (y + half[1]),
      bottom: 0.5 - (y - half[1]),
    };
  }

  dispose(): void {
    for (const piece of [this.line, this.plate, this.words]) piece.dispose();
  }
}

const POINT = new Vector3();
const SIGHT = new Matrix4();

/**
 * Where a camera sees a point, in heights of the picture from its middle, y up.
 * @param aspect width of the whole picture for a height of 1
 * @param tile the piece of the picture that the camera is for
 * @returns `null` for a point that is not before the camera
 */
export function seenAt(world: Matrix4, camera: Camera, aspect: number, tile?: Tile): [number, number] | null {
  POINT.setFromMatrixPosition(world);
  SIGHT.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
  const e = SIGHT.elements;
  if (e[3] * POINT.x + e[7] * POINT.y + e[11] * POINT.z + e[15] <= 0) return null;
  POINT.applyMatrix4(SIGHT);
  if (!tile) return [(POINT.x * aspect) / 2, POINT.y / 2];
  const [left, bottom, wide, tall] = windowOf(tile);
  return [(left + ((POINT.x + 1) / 2) * wide - 0.5) * aspect, bottom + ((POINT.y + 1) / 2) * tall - 0.5];
}

/** Lays callouts over a picture that is drawn already. */
export class Overlay {
  private readonly scene = new Scene();
  private readonly camera = new OrthographicCamera();

  constructor() {
    this.scene.matrixWorldAutoUpdate = false;
  }

  /**
   * @param aspect width of the whole picture for a height of 1
   * @param tile the piece of it that is drawn
   */
  draw(renderer: WebGLRenderer, callouts: readonly DrawnCallout[], aspect: number, tile?: Tile): void {
    const { scene, camera } = this;
    scene.clear();
    for (const { group } of callouts) scene.add(group);
    const [left, bottom, wide, tall] = tile ? windowOf(tile) : [0, 0, 1, 1];
    [camera.left, camera.right] = [(left - 0.5) * aspect, (left + wide - 0.5) * aspect];
    [camera.bottom, camera.top] = [bottom - 0.5, bottom + tall - 0.5];
    [camera.near, camera.far] = [0, DEPTH];
    camera.updateProjectionMatrix();
    const { autoUpdate } = renderer.shadowMap;
    renderer.shadowMap.autoUpdate = false;
    renderer.render(scene, camera);
    renderer.shadowMap.autoUpdate = autoUpdate;
  }
}
