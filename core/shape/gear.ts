import { acos, atan2, cos, sin, tan } from '../math';
import { atFineness, FLANK_STEPS } from './fineness';
import { MeshBuilder, type Flat, type Mesh, type Point } from './mesh';

export interface GearSizes {
  readonly teeth: number;
  /** Pitch diameter divided by the number of teeth, metres. ISO 54. */
  readonly module: number;
  /** Pressure angle in degrees. */
  readonly pressure: number;
  readonly thickness: number;
  /** Radius of the hole, metres. */
  readonly bore: number;
  /** How far the teeth lean at the pitch circle, degrees; 0 where it is missing. */
  readonly helix?: number;
}

/** Addendum and dedendum of the basic rack in modules. ISO 53. */
export const ADDENDUM = 1;
export const DEDENDUM = 1.25;

/** Involute function tan(a) - a of an angle in radians. */
export function involute(angle: number): number {
  return tan(angle) - angle;
}

/**
 * Half the angle in radians that a tooth spans at a radius; after ISO 21771 with no profile shift. Below the base
 * circle the flank runs radially.
 */
export function halfToothAngle(
  sizes: Pick<GearSizes, 'teeth' | 'module' | 'pressure'>,
  radius: number,
): number {
  const alpha = (sizes.pressure * Math.PI) / 180;
  const base = (sizes.module * sizes.teeth * cos(alpha)) / 2;
  const atPitch = Math.PI / (2 * sizes.teeth);
  const local = radius <= base ? 0 : acos(base / radius);
  return atPitch + involute(alpha) - involute(local);
}

/**
 * Outline of an external involute gear in the xy plane, counter-clockwise, a tooth centred on the x axis. Flanks are
 * true involutes from the base circle to the tip; below it they run straight to the root circle.
 */
export function gearOutline(
  sizes: Pick<GearSizes, 'teeth' | 'module' | 'pressure'>,
  fineness = 1,
  count = sizes.teeth,
): [number, number][] {
  const { teeth, module } = sizes;
  const tip = (module * teeth) / 2 + ADDENDUM * module;
  const root = Math.max(module * 0.2, (module * teeth) / 2 - DEDENDUM * module);
  const alpha = (sizes.pressure * Math.PI) / 180;
  const base = (module * teeth * cos(alpha)) / 2;
  const start = Math.max(root, base);
  const flank: [radius: number, half: number][] = [];
  if (root < base) flank.push([root, halfToothAngle(sizes, base)]);
  const steps = atFineness(FLANK_STEPS, fineness, 2);
  for (let i = 0; i <= steps; i++) {
    // Steps are even in roll angle, so that points crowd where the involute bends most.
    const share = i / steps;
    const radius = Math.sqrt(start * start + (tip * tip - start * start) * share);
    flank.push([radius, Math.max(0, halfToothAngle(sizes, radius))]);
  }
  const outline: [number, number][] = [];
  for (let tooth = 0; tooth < count; tooth++) {
    const middle = (tooth * 2 * Math.PI) / teeth;
    for (const [radius, half] of flank)
      outline.push([radius * cos(middle - half), radius * sin(middle - half)]);
    for (const [radius, half] of [...flank].reverse())
      outline.push([radius * cos(middle + half), radius * sin(middle + half)]);
  }
  return outline;
}

/** Degrees by which one layer of a helical gear is turned against the next at most. */
const LAYER_TURN = 4;

/** Layers of a body along z whose section turns with z: turn at each, in radians. */
function layersOf(thickness: number, pitchRadius: number, helix: number): { turns: number[]; along: number } {
  const along = pitchRadius > 0 ? tan((helix * Math.PI) / 180) / pitchRadius : 0;
  const whole = along * thickness;
  const count = helix === 0 ? 1 : Math.max(1, Math.ceil(Math.abs((whole * 180) / Math.PI) / LAYER_TURN));
  return { turns: Array.from({ length: count + 1 }, (_, i) => whole * (i / count - 0.5)), along };
}

/**
 * What lies between two closed lines round the z axis that go round together, point by point, counter-clockwise; one of
 * them may be drawn together into the axis. With a helix the whole section turns from layer to layer.
 */
export function wheelMesh(
  outer: readonly Flat[],
  inner: readonly Flat[],
  thickness: number,
  pitchRadius: number,
  helix: number,
): Mesh {
  const builder = new MeshBuilder();
  const { turns, along } = layersOf(thickness, pitchRadius, helix);
  const last = turns.length - 1;
  const half = thickness / 2;
  const level = (layer: number): number => (layer === last ? half : -half + (thickness * layer) / last);
  const count = outer.length;
  const at = (list: readonly Flat[], i: number, layer: number): Point => {
    const [x, y] = list[i % count]!;
    const turn = turns[layer]!;
    if (helix === 0) return [x, y, level(layer)];
    const [c, s] = [cos(turn), sin(turn)];
    return [x * c - y * s, x * s + y * c, level(layer)];
  };
  /** The wall over one edge of a line, seen from where `side` 1 is its right. */
  const wall = (list: readonly Flat[], i: number, side: 1 | -1): void => {
    const [ax, ay] = list[i]!;
    const [bx, by] = list[(i + 1) % count]!;
    const length = Math.sqrt((bx - ax) ** 2 + (by - ay) ** 2) || 1;
    const flat: Flat = [(side * (by - ay)) / length, (side * (ax - bx)) / length];
    for (let layer = 0; layer < last; layer++) {
      const corners = [
        at(list, i, layer),
        at(list, i + 1, layer),
        at(list, i + 1, layer + 1),
        at(list, i, layer + 1),
      ];
      builder.polygon(side > 0 ? corners : corners.reverse(), leaning(flat, list, i, layer));
    }
  };
  const leaning = (flat: Flat, list: readonly Flat[], i: number, layer: number): Point => {
    if (helix === 0) return [flat[0], flat[1], 0];
    const [[ax, ay], [bx, by]] = [list[i]!, list[(i + 1) % count]!];
    // Along z a point moves across its radius: the wall stands square to that, too.
    const z = -along * (flat[1] * ((ax + bx) / 2) - flat[0] * ((ay + by) / 2));
    const turn = (turns[layer]! + turns[layer + 1]!) / 2;
    const [c, s] = [cos(turn), sin(turn)];
    const length = Math.sqrt(1 + z * z);
    return [(flat[0] * c - flat[1] * s) / length, (flat[0] * s + flat[1] * c) / length, z / length];
  };
  const hollow = inner.some(([x, y]) => x !== 0 || y !== 0);
  for (let i = 0; i < count; i++) {
    wall(outer, i, 1);
    builder.polygon(
      [at(inner, i, last), at(outer, i, last), at(outer, i + 1, last), at(inner, i + 1, last)],
      [0, 0, 1],
    );
    builder.polygon([at(inner, i, 0), at(inner, i + 1, 0), at(outer, i + 1, 0), at(outer, i, 0)], [0, 0, -1]);
    if (hollow) wall(inner, i, -1);
  }
  return builder.build();
}

/** The circle round the z axis that goes with a closed line, point by point. */
const circleBeside = (outline: readonly Flat[], radius: number): Flat[] =>
  outline.map(([x, y]): Flat => {
    const angle = atan2(y, x);
    return [radius * cos(angle), radius * sin(angle)];
  });

/**
 * A gear round the z axis, middle at the origin. A bore of 0 or one that would cut the teeth leaves it solid or is cut
 * down. With a helix the profile is that of the section across the axis.
 */
export function gearMesh(sizes: GearSizes, fineness = 1): Mesh {
  const outline = gearOutline(sizes, fineness);
  const pitchRadius = (sizes.module * sizes.teeth) / 2;
  const bore = Math.min(sizes.bore, (pitchRadius - DEDENDUM * sizes.module) * 0.95);
  return wheelMesh(outline, circleBeside(outline, bore), sizes.thickness, pitchRadius, sizes.helix ?? 0);
}

/**
 * Inner outline of a ring gear, counter-clockwise, with a tooth centred on angle 0: its gaps have the shape of the teeth
 * of an outer gear, with addendum and dedendum changed over. ISO 21771. Radially straight inside the base circle.
 */
export function ringGearOutline(
  sizes: Pick<GearSizes, 'teeth' | 'module' | 'pressure'>,
  fineness = 1,
): Flat[] {
  const { teeth, module } = sizes;
  const [tip, root] = [(module * teeth) / 2 - ADDENDUM * module, (module * teeth) / 2 + DEDENDUM * module];
  const base = (module * teeth * cos((sizes.pressure * Math.PI) / 180)) / 2;
  const start = Math.max(tip, base);
  const flank: [radius: number, half: number][] = [];
  if (tip < base) flank.push([tip, halfToothAngle(sizes, base)]);
  const steps = atFineness(FLANK_STEPS, fineness, 2);
  for (let i = 0; i <= steps; i++) {
    const radius = Math.sqrt(start * start + (root * root - start * start) * (i / steps));
    flank.push([radius, Math.max(0, halfToothAngle(sizes, radius))]);
  }
  const outline: Flat[] = [];
  for (let gap = 0; gap < teeth; gap++) {
    const middle = ((gap + 0.5) * 2 * Math.PI) / teeth;
    const put = (radius: number, angle: number): void => {
      outline.push([radius * cos(angle), radius * sin(angle)]);
    };
    for (const [radius, half] of flank) put(radius, middle - half);
    for (const [radius, half] of [...flank].reverse()) put(radius, middle + half);
  }
  return outline;
}

/** A ring gear round the z axis, middle at the origin. */
export function ringGearMesh(
  sizes: Omit<GearSizes, 'bore' | 'helix'> & { readonly rim: number },
  fineness = 1,
): Mesh {
  const inner = ringGearOutline(sizes, fineness);
  const radius = (sizes.module * sizes.teeth) / 2 + DEDENDUM * sizes.module + Math.max(sizes.rim, 1e-6);
  // Where the flank is radial, and from tooth to tooth, points share a direction or lie far apart: the rim stays a circle.
  return wheelMesh(circleBeside(inner, radius), inner, sizes.thickness, 0, 0);
}
