import { Matrix4, OrthographicCamera, PerspectiveCamera, Vector3, type Camera } from 'three';
import type { ViewSide } from '../state/view-settings';

const FIELD_OF_VIEW = 40;
const ZOOM_PER_STEP = 1.0015;
const ORBIT_PER_PX = 0.4;
const STEEPEST = 89.5;

/** Where somebody looks from in the view: free orbit, or straight along an axis. */
export class ViewCamera {
  readonly target = new Vector3(0, 1.6, 0);
  distance = 13.5;
  /** Degrees about y, and above the floor. */
  yaw = 32;
  pitch = 21;
  private readonly free = new PerspectiveCamera(FIELD_OF_VIEW, 1, 0.05, 2000);
  private readonly flat = new OrthographicCamera(-1, 1, 1, -1, -1000, 1000);

  /** The camera for a side, ready to draw with. */
  camera(side: ViewSide, aspect: number): Camera {
    if (side === 'free' || side === 'shot') {
      const [yaw, pitch] = [(this.yaw * Math.PI) / 180, (this.pitch * Math.PI) / 180];
      const away = new Vector3(
        Math.sin(yaw) * Math.cos(pitch),
        Math.sin(pitch),
        Math.cos(yaw) * Math.cos(pitch),
      );
      this.free.position.copy(this.target).addScaledVector(away, this.distance);
      this.free.lookAt(this.target);
      this.free.aspect = aspect;
      this.free.updateProjectionMatrix();
      this.free.updateMatrixWorld();
      return this.free;
    }
    const { flat } = this;
    const half = this.distance * Math.tan((FIELD_OF_VIEW * Math.PI) / 360);
    flat.top = half;
    flat.bottom = -half;
    flat.left = -half * aspect;
    flat.right = half * aspect;
    const from = { front: new Vector3(0, 0, 1), side: new Vector3(1, 0, 0), top: new Vector3(0, 1, 0) }[side];
    flat.up.set(0, side === 'top' ? 0 : 1, side === 'top' ? -1 : 0);
    flat.position.copy(this.target).addScaledVector(from, 100);
    flat.lookAt(this.target);
    flat.updateProjectionMatrix();
    flat.updateMatrixWorld();
    return flat;
  }

  /** Whence it looks, as words that differ where that does. */
  get place(): string {
    return `${this.yaw} ${this.pitch} ${this.distance} ${this.target.toArray().join(' ')}`;
  }

  /** Turns about a point (what is looked at where none is given), which stays where it is in the picture. */
  orbit(dx: number, dy: number, about: Vector3 = this.target): void {
    const before = this.turn();
    this.yaw -= dx * ORBIT_PER_PX;
    this.pitch = Math.max(-STEEPEST, Math.min(STEEPEST, this.pitch + dy * ORBIT_PER_PX));
    const by = this.turn().multiply(before.invert());
    const from = this.target.clone().sub(about).applyMatrix4(by);
    this.target.copy(about.clone().add(from));
  }

  private turn(): Matrix4 {
    return new Matrix4()
      .makeRotationY((this.yaw * Math.PI) / 180)
      .multiply(new Matrix4().makeRotationX((-this.pitch * Math.PI) / 180));
  }

  /** Slides the target so that what is under the pointer follows it. */
  pan(camera: Camera, dx: number, dy: number, heightPx: number): void {
    const perPx = (2 * this.distance * Math.tan((FIELD_OF_VIEW * Math.PI) / 360)) / heightPx;
    const x = new Vector3();
    const y = new Vector3();
    new Matrix4().copy(camera.matrixWorld).extractBasis(x, y, new Vector3());
    this.target.addScaledVector(x, -dx * perPx).addScaledVector(y, dy * perPx);
  }

  zoom(wheel: number): void {
    this.distance = Math.max(0.2, Math.min(500, this.distance * ZOOM_PER_STEP ** wheel));
  }

  /** Brings a ball of space into view. @param room share of its radius that is left round it */
  show(centre: Vector3, radius: number, room = 1.6): void {
    this.target.copy(centre);
    this.distance = Math.max(0.5, (radius * room) / Math.tan((FIELD_OF_VIEW * Math.PI) / 360));
  }
}
