import { Matrix4, Plane, Vector3, type Camera } from 'three';
import { channelAt, linkOf, type Shot, type Value } from '../../../../core/document';
import { channelName, pivotValues, topmost } from '../../../../core/edit';
import type { Evaluator } from '../../../../core/evaluate';
import { METRES_PER_UNIT, typedValue } from '../../../../core/formula';
import { stepIn } from '../../shared/steps';
import { formatNumber } from '../../shared/format';
import type { HandleAxes } from '../state/view-settings';
import { alongLine, angleAbout, AXES, rayAt, toPixel, type Axis, type HandleFrame } from './handle-geometry';
import { matricesOf, pivotOf, valuesAt } from './part-place';
import type { SnapPoint } from './snap-points';

export type DragKind = 'move' | 'turn' | 'size' | 'pivot';

/** What is taken hold of: one axis, two (a plane) or three (all ways). */
export interface Grip {
  readonly kind: DragKind;
  readonly axes: readonly Axis[];
}

/** Everything about the view that a drag is measured in. */
export interface DragView {
  readonly camera: Camera;
  readonly width: number;
  readonly height: number;
}

export interface DragInput {
  readonly x: number;
  readonly y: number;
  /** A tenth of the way, for fine work. */
  readonly fine: boolean;
  /** Steps of the grid or of the angle. */
  readonly grid: boolean;
  readonly snap: SnapPoint | null;
}

/** What a drag comes to: values to show and, at its end, to keep. */
export interface Dragged {
  readonly values: Readonly<Record<string, Value>>;
  readonly label: string;
}

export type Typed = { ok: true; dragged: Dragged } | { ok: false; reason: string };

const FINER = 0.1;
export const TURN_STEP = 15;
const SIZE_STEP = 0.1;
const PLACES = 6;

const tidy = (value: number): number => Number(value.toFixed(PLACES)) + 0;

/** A drag of the chosen parts by one of their handles. */
export class PartDrag {
  private readonly ids: readonly string[];
  private readonly id: string;
  private readonly dirs: Readonly<Record<Axis, Vector3>>;
  private readonly origin: Vector3;
  private readonly start: ReadonlyMap<string, number>;
  private readonly rotations: Map<string, readonly number[]>;
  private before: { x: number; y: number };
  private readonly gone = new Vector3();
  private turned = 0;
  private factor = 1;

  /** @param chosen parts, the last one that whose handles are drawn */
  constructor(
    private readonly shot: Shot,
    private readonly evaluator: Evaluator,
    chosen: readonly string[],
    private readonly grip: Grip,
    private readonly mode: HandleAxes,
    frame: HandleFrame,
    private readonly view: DragView,
    x: number,
    y: number,
  ) {
    this.id = chosen.at(-1)!;
    this.ids = grip.kind === 'pivot' ? [this.id] : grip.kind === 'move' ? topmost(shot, chosen) : [...chosen];
    this.origin = frame.origin.clone();
    this.dirs = directionsOf(evaluator, this.id, mode, grip.kind, frame);
    const paths = AXES.flatMap((axis) => ['location', 'rotation', 'scale'].map((name) => `${name}.${axis}`));
    this.start = new Map(
      this.ids.flatMap((id) =>
        paths.map((path) => [`${id}/${path}`, evaluator.number(`${id}/${path}`)] as const),
      ),
    );
    this.rotations = new Map(
      this.ids.map((id) => [id, AXES.map((axis) => this.start.get(`${id}/rotation.${axis}`)!)]),
    );
    this.before = { x, y };
  }

  /** Why it cannot be dragged: the channel that a link decides; `null` when nothing stands in the way. */
  refusal(): string | null {
    const name = { move: 'location', turn: 'rotation', size: 'scale', pivot: 'pivot' }[this.grip.kind];
    const axes = this.mode === 'parent' || this.grip.kind === 'size' ? this.grip.axes : AXES;
    for (const id of this.ids)
      for (const axis of axes) {
        const address = `${id}/${name}.${axis}`;
        if (linkOf(this.shot, address))
          return `${channelName(this.shot, address)} is linked: change its formula, or unlink it.`;
      }
    return null;
  }

  /** Follows the pointer. */
  to(input: DragInput): Dragged {
    const share = input.fine ? FINER : 1;
    if (this.grip.kind === 'turn') this.turned += this.turnStep(input) * share;
    else if (this.grip.kind === 'size') this.factor *= 1 + (this.sizeStep(input) - 1) * share;
    else this.gone.addScaledVector(this.moveStep(input), share);
    this.before = { x: input.x, y: input.y };
    if (this.grip.kind === 'turn')
      return this.turn(input.grid ? Math.round(this.turned / TURN_STEP) * TURN_STEP : this.turned);
    if (this.grip.kind === 'size')
      return this.size(input.grid ? Math.round(this.factor / SIZE_STEP) * SIZE_STEP : this.factor);
    if (input.snap) return this.move(this.allowed(input.snap.point.clone().sub(this.origin)));
    return this.move(input.grid ? this.onGrid(this.gone) : this.gone);
  }

  /** What is typed while dragging: a place, an angle to turn by, or a factor, with units and arithmetic. */
  typed(text: string): Typed {
    const { grip } = this;
    const axis = grip.axes[0]!;
    if (grip.kind === 'size') {
      const typed = typedValue(this.shot, `${this.id}/scale.${axis}`, text, 1);
      return typed.ok
        ? { ok: true, dragged: this.size(typed.value) }
        : { ok: false, reason: typed.error.message };
    }
    if (grip.kind === 'turn') {
      const typed = typedValue(this.shot, `${this.id}/rotation.${axis}`, text, 0);
      return typed.ok
        ? { ok: true, dragged: this.turn(typed.value) }
        : { ok: false, reason: typed.error.message };
    }
    const address = `${this.id}/location.${axis}`;
    const absolute = this.isAbsolute();
    const typed = typedValue(this.shot, address, text, absolute ? this.start.get(address)! : 0);
    if (!typed.ok) return { ok: false, reason: typed.error.message };
    if (!absolute)
      return { ok: true, dragged: this.move(this.dirs[axis].clone().multiplyScalar(typed.value)) };
    // Straight into the channel, so that not a digit is lost on the way through the world.
    const by = typed.value - this.start.get(address)!;
    return {
      ok: true,
      dragged: { values: { [address]: typed.value }, label: this.moveLabel(new Vector3(), { axis, by }) },
    };
  }

  /** Whether a typed number means the place itself, not a way to go. */
  private isAbsolute(): boolean {
    return this.grip.kind === 'move' && this.mode === 'parent' && this.ids.length === 1;
  }

  private ray(x: number, y: number) {
    return rayAt(x, y, this.view.camera, this.view.width, this.view.height);
  }

  private moveStep(input: DragInput): Vector3 {
    const { axes } = this.grip;
    const at = this.origin.clone().add(this.gone);
    if (axes.length === 1) {
      const dir = this.dirs[axes[0]!];
      const [from, to] = [this.before, input].map(({ x, y }) => alongLine(this.ray(x, y), at, dir));
      return from === null || to === null || from === undefined || to === undefined
        ? new Vector3()
        : dir.clone().multiplyScalar(to - from);
    }
    const normal =
      axes.length === 2
        ? this.dirs[axes[0]!].clone().cross(this.dirs[axes[1]!]).normalize()
        : this.view.camera.getWorldDirection(new Vector3());
    const plane = new Plane().setFromNormalAndCoplanarPoint(normal, at);
    const [from, to] = [this.before, input].map(({ x, y }) =>
      this.ray(x, y).intersectPlane(plane, new Vector3()),
    );
    return from && to ? this.allowed(to.sub(from)) : new Vector3();
  }

  /** The part of a way that lies along the axes taken hold of. */
  private allowed(way: Vector3): Vector3 {
    const { axes } = this.grip;
    if (axes.length === 3) return way;
    const out = new Vector3();
    for (const axis of axes) out.addScaledVector(this.dirs[axis], way.dot(this.dirs[axis]));
    return out;
  }

  private onGrid(way: Vector3): Vector3 {
    const step = stepIn(this.shot.setup.unit);
    const out = new Vector3();
    for (const axis of this.grip.axes) {
      const by = way.dot(this.dirs[axis]);
      const from = this.isAbsolute() ? this.start.get(`${this.id}/location.${axis}`)! : 0;
      out.addScaledVector(this.dirs[axis], Math.round((from + by) / step) * step - from);
    }
    return out;
  }

  private turnStep(input: DragInput): number {
    const dir = this.dirs[this.grip.axes[0]!];
    const [from, to] = [this.before, input].map(({ x, y }) => angleAbout(this.ray(x, y), this.origin, dir));
    if (from === null || to === null || from === undefined || to === undefined) return 0;
    // The short way from one move of the pointer to the next, and so whole turns are counted.
    return to - from - 360 * Math.round((to - from) / 360);
  }

  private sizeStep(input: DragInput): number {
    const middle = toPixel(this.origin, this.view.camera, this.view.width, this.view.height);
    const far = ({ x, y }: { x: number; y: number }): number =>
      Math.max(4, Math.hypot(x - middle.x, y - middle.y));
    return far(input) / far(this.before);
  }

  private move(way: Vector3): Dragged {
    if (this.grip.kind === 'pivot') return this.pivot(way);
    const values: Record<string, Value> = {};
    for (const id of this.ids) {
      const { frame } = matricesOf(this.evaluator, id);
      if (Math.abs(frame.determinant()) < 1e-18) continue;
      const inverse = frame.clone().invert();
      const local = way.clone().applyMatrix4(inverse).sub(new Vector3().applyMatrix4(inverse));
      AXES.forEach((axis, i) => {
        const by = local.getComponent(i);
        const address = `${id}/location.${axis}`;
        if (Math.abs(by) > 1e-9) values[address] = tidy(this.start.get(address)! + by);
      });
    }
    return { values, label: this.moveLabel(way) };
  }

  private moveLabel(way: Vector3, exact?: { axis: Axis; by: number }): string {
    const { unit } = this.shot.setup;
    return this.grip.axes
      .map((axis) => {
        const by = exact?.axis === axis ? exact.by : way.dot(this.dirs[axis]);
        const from = this.isAbsolute() ? this.start.get(`${this.id}/location.${axis}`)! : 0;
        return `${axis.toUpperCase()} ${formatNumber((from + by) / METRES_PER_UNIT[unit], 3)}`;
      })
      .join('  ')
      .concat(` ${unit}`);
  }

  private pivot(way: Vector3): Dragged {
    const { world } = matricesOf(this.evaluator, this.id);
    if (Math.abs(world.determinant()) < 1e-18) return { values: {}, label: 'size 0' };
    const point = this.origin.clone().add(way).applyMatrix4(world.clone().invert());
    const local = [tidy(point.x), tidy(point.y), tidy(point.z)] as [number, number, number];
    const entries = pivotValues(this.shot, this.evaluator, this.id, local);
    const { unit } = this.shot.setup;
    return {
      values: Object.fromEntries(entries.map(([path, value]) => [`${this.id}/${path}`, value])),
      label: `pivot ${local.map((value) => formatNumber(value / METRES_PER_UNIT[unit], 3)).join('  ')} ${unit}`,
    };
  }

  private turn(by: number): Dragged {
    const axis = this.grip.axes[0]!;
    const values: Record<string, Value> = {};
    for (const id of this.ids) {
      if (this.mode === 'parent') {
        const address = `${id}/rotation.${axis}`;
        values[address] = this.withinLimits(address, Number((this.start.get(address)! + by).toFixed(4)) + 0);
        continue;
      }
      const { world } = matricesOf(this.evaluator, id);
      const about = pivotOf(this.evaluator, id);
      const dir = this.mode === 'own' ? directionsOwn(world)[axis] : this.dirs[axis];
      const next = new Matrix4()
        .makeTranslation(about)
        .multiply(new Matrix4().makeRotationAxis(dir, (by * Math.PI) / 180))
        .multiply(new Matrix4().makeTranslation(about.clone().negate()))
        .multiply(world);
      const found = valuesAt(this.shot, this.evaluator, id, next, this.rotations.get(id));
      if (!found) continue;
      this.rotations.set(id, found.rotation);
      AXES.forEach((channel, i) => {
        const address = `${id}/rotation.${channel}`;
        const value = this.withinLimits(address, Number(found.rotation[i]!.toFixed(6)) + 0);
        if (Math.abs(value - this.start.get(address)!) > 1e-7) values[address] = value;
      });
    }
    return { values, label: turnLabel(by) };
  }

  /** A joint that is held goes as far as it can. */
  private withinLimits(address: string, value: number): number {
    const spec = channelAt(this.shot, address)?.spec;
    return spec ? Math.min(spec.max, Math.max(spec.min, value)) : value;
  }

  private size(factor: number): Dragged {
    const values: Record<string, Value> = {};
    for (const id of this.ids)
      for (const axis of this.grip.axes) {
        const address = `${id}/scale.${axis}`;
        values[address] = tidy(this.start.get(address)! * factor);
      }
    return { values, label: `× ${formatNumber(factor, 3)}` };
  }
}

/** Directions of a part's own axes in the world. */
export function directionsOwn(world: Matrix4): Record<Axis, Vector3> {
  const out = { x: new Vector3(), y: new Vector3(), z: new Vector3() };
  world.extractBasis(out.x, out.y, out.z);
  for (const axis of AXES) if (out[axis].lengthSq() < 1e-18) out[axis].copy(WORLD[axis]);
  return { x: out.x.normalize(), y: out.y.normalize(), z: out.z.normalize() };
}

const WORLD: Readonly<Record<Axis, Vector3>> = {
  x: new Vector3(1, 0, 0),
  y: new Vector3(0, 1, 0),
  z: new Vector3(0, 0, 1),
};

/** Directions along or about which the handles of a part act. */
export function directionsOf(
  evaluator: Evaluator,
  id: string,
  mode: HandleAxes,
  kind: DragKind,
  frame: HandleFrame,
): Readonly<Record<Axis, Vector3>> {
  if (kind === 'size') return directionsOwn(matricesOf(evaluator, id).world);
  if (mode === 'world') return WORLD;
  if (mode === 'own') return directionsOwn(matricesOf(evaluator, id).world);
  return kind === 'turn' ? frame.turn : frame.move;
}

export function turnLabel(by: number): string {
  const turns = Math.trunc(by / 360);
  const rest = by - turns * 360;
  const sign = by < 0 ? '−' : '+';
  const whole = turns === 0 ? '' : `${Math.abs(turns)} ${Math.abs(turns) === 1 ? 'turn' : 'turns'} `;
  return `${sign}${whole}${formatNumber(Math.abs(rest), 1)}°`;
}
