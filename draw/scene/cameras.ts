import { Matrix4, OrthographicCamera, PerspectiveCamera, Vector3 } from 'three';
import { cameraWidth, FILM_WIDTH, MATRIX_SIZE, NEAREST, type Evaluator } from '../../core/evaluate';
import type { SubFrame, Tile } from '../../core/film';
import { setMatrix } from './matrix';

const FAR = 2000;

/** For what a shot's camera is asked. */
export interface CameraOf {
  /** Width of the picture for a height of 1. */
  readonly aspect: number;
  /** Share of the picture that is seen past each edge. */
  readonly beyond?: number;
  /** One of several pictures that a frame is built up from, and the height of the picture in pixels. */
  readonly sub?: { readonly at: SubFrame; readonly height: number };
  /** The piece of the picture that is drawn; missing, all of it. */
  readonly tile?: Tile;
}

/** Cameras of shots, one for each way of seeing. */
export class ShotCameras {
  private readonly lens = new PerspectiveCamera();
  private readonly parallel = new OrthographicCamera();
  private readonly matrix = new Matrix4();

  /** Camera of the shot at the evaluated frame; `null` when there is none. */
  of(evaluator: Evaluator, asked: CameraOf): PerspectiveCamera | OrthographicCamera | null {
    const { shot, nodeOf } = evaluator.plan;
    const id = shot.setup.camera;
    const node = id === null ? undefined : nodeOf.get(id);
    const part = id === null ? undefined : shot.parts[id];
    if (id === null || node === undefined || !part) return null;
    setMatrix(this.matrix, evaluator.world, node * MATRIX_SIZE);
    const camera = part.projection === 'parallel' ? this.parallel : this.lens;
    // A camera's own size does not enlarge the picture.
    this.matrix.decompose(camera.position, camera.quaternion, camera.scale);
    camera.scale.set(1, 1, 1);
    camera.near = NEAREST;
    camera.far = FAR;
    camera.zoom = 1 / (1 + 2 * (asked.beyond ?? 0));
    const number = (path: string): number => evaluator.number(`${id}/${path}`);
    if (camera instanceof OrthographicCamera) {
      const { half } = cameraWidth(evaluator, id);
      [camera.left, camera.right] = [-half, half];
      [camera.bottom, camera.top] = [-half / asked.aspect, half / asked.aspect];
    } else {
      camera.filmGauge = FILM_WIDTH;
      camera.aspect = asked.aspect;
      camera.setFocalLength(FILM_WIDTH / 2 / cameraWidth(evaluator, id).slope);
    }
    const { sub, tile } = asked;
    if (sub || tile) {
      const [x, y] = sub?.at.pixel ?? [0, 0];
      const height = tile?.whole.height ?? sub!.height;
      const width = tile?.whole.width ?? height * asked.aspect;
      const { left = 0, top = 0, width: wide = width, height: tall = height } = tile ?? {};
      camera.setViewOffset(width, height, left + x, top - y, wide, tall);
    } else camera.clearViewOffset();
    camera.updateProjectionMatrix();
    camera.updateMatrixWorld(true);
    if (sub && camera instanceof PerspectiveCamera)
      moveOnLens(camera, sub.at, number('aperture'), number('focus'));
    return camera;
  }
}

/**
 * Moves a camera to another point of its lens, so that what lies at the distance of focus stays where it is in the
 * picture (the thin lens; its opening is the focal length divided by the f-number).
 */
function moveOnLens(camera: PerspectiveCamera, sub: SubFrame, fNumber: number, focus: number): void {
  if (fNumber <= 0) return;
  const radius = camera.getFocalLength() / fNumber / 2000;
  const [x, y] = [sub.lens[0] * radius, sub.lens[1] * radius];
  camera.position.add(SHIFT.set(x, y, 0).applyQuaternion(camera.quaternion));
  camera.updateMatrixWorld(true);
  const { elements } = camera.projectionMatrix;
  elements[8] -= (elements[0] * x) / focus;
  elements[9] -= (elements[5] * y) / focus;
  camera.projectionMatrixInverse.copy(camera.projectionMatrix).invert();
}

const SHIFT = new Vector3();
