import { Matrix4, Vector3 } from 'three';
import { toast } from 'sonner';
import { linkOf, type Value } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import { preview, setChannels } from '../actions/values';
import type { Session } from '../session';
import { AXES } from './handle-geometry';
import { matricesOf, valuesAt } from './part-place';

const LOOK_PER_PX = 0.12;
const SLIDE_PER_PX = 0.01;
const AHEAD_PER_WHEEL = 0.004;
const STEEPEST = 89;

/** Values that put the shot's camera at a matrix of the world, as one sets them in a row. */
function cameraValues(session: Session, id: string, world: Matrix4): Record<string, Value> | null {
  const { shot } = session;
  const found = valuesAt(shot, session.evaluator, id, world);
  if (!found) {
    toast.error('The camera hangs from something of size 0: it cannot be moved.');
    return null;
  }
  const values: Record<string, Value> = {};
  AXES.forEach((axis, i) => {
    values[`${id}/location.${axis}`] = Number(found.location[i]!.toFixed(6)) + 0;
    values[`${id}/rotation.${axis}`] = Number(found.rotation[i]!.toFixed(5)) + 0;
  });
  return values;
}

function refused(session: Session, id: string): boolean {
  const { shot } = session;
  if (shot.parts[id]?.aim) {
    toast.error(`${shot.parts[id].name} faces another part: take that away among its options first.`);
    return true;
  }
  const linked = AXES.flatMap((axis) => [`${id}/location.${axis}`, `${id}/rotation.${axis}`]).find(
    (address) => linkOf(shot, address),
  );
  if (linked) toast.error(`${channelName(shot, linked)} is linked: the camera cannot be flown.`);
  return linked !== undefined;
}

/** Changes that are meant: those that differ from what is there. */
function changed(session: Session, values: Readonly<Record<string, Value>>): [string, Value][] {
  return Object.entries(values).filter(
    ([address, value]) => Math.abs(session.evaluator.number(address) - (value as number)) > 1e-6,
  );
}

/** Puts the shot's camera where the free view looks from. */
export function putCameraAt(session: Session, world: Matrix4): void {
  const id = session.shot.setup.camera;
  if (id === null) {
    toast('There is no camera yet: add one first.');
    return;
  }
  if (refused(session, id)) return;
  const values = cameraValues(session, id, world);
  if (values && setChannels(session, changed(session, values)))
    toast(`${session.shot.parts[id]!.name} stands where you look from.`);
}

/** Flies the shot's camera: dragging looks about, with Shift it slides, the wheel goes ahead. */
export class Flight {
  private readonly id: string | null;
  private world: Matrix4;
  private readonly start: Matrix4;

  constructor(private readonly session: Session) {
    const id = session.shot.setup.camera;
    this.id = id !== null && !refused(session, id) ? id : null;
    this.world = this.id === null ? new Matrix4() : rigid(matricesOf(session.evaluator, this.id).world);
    this.start = this.world.clone();
  }

  get ready(): boolean {
    return this.id !== null;
  }

  look(dx: number, dy: number): void {
    const place = new Vector3().setFromMatrixPosition(this.world);
    const ahead = new Vector3(0, 0, -1).transformDirection(this.world);
    const yaw = Math.atan2(-ahead.x, -ahead.z) - (dx * LOOK_PER_PX * Math.PI) / 180;
    const steep = (STEEPEST * Math.PI) / 180;
    const pitch = Math.max(-steep, Math.min(steep, Math.asin(ahead.y) - (dy * LOOK_PER_PX * Math.PI) / 180));
    this.world = new Matrix4()
      .makeTranslation(place)
      .multiply(new Matrix4().makeRotationY(yaw))
      .multiply(new Matrix4().makeRotationX(pitch));
  }

  slide(dx: number, dy: number): void {
    this.by(new Vector3(-dx * SLIDE_PER_PX, dy * SLIDE_PER_PX, 0));
  }

  ahead(wheel: number): void {
    this.by(new Vector3(0, 0, wheel * AHEAD_PER_WHEEL));
  }

  private by(way: Vector3): void {
    this.world = this.world.clone().multiply(new Matrix4().makeTranslation(way));
  }

  show(): void {
    const values = this.id === null ? null : cameraValues(this.session, this.id, this.world);
    if (values) preview(this.session, values);
  }

  end(keep: boolean): void {
    if (this.id === null) return;
    preview(this.session, null);
    if (!keep || this.world.equals(this.start)) return;
    const values = cameraValues(this.session, this.id, this.world);
    if (values) setChannels(this.session, changed(this.session, values));
  }
}

/** A matrix without its size. */
function rigid(world: Matrix4): Matrix4 {
  const out = new Matrix4().extractRotation(world);
  return out.setPosition(new Vector3().setFromMatrixPosition(world));
}
