import { acos, atan2, cos, sin, tan } from '../math';
import { atFineness, FLANK_STEPS } from './fineness';
import { MeshBuilder, type Mesh } from './mesh';

export interface GearSizes {
  readonly teeth: number;
  /** Pitch diameter divided by the number of teeth, metres. ISO 54. */
  readonly module: number;
  /** Pressure angle in degrees. */
  readonly pressure: number;
  readonly thickness: number;
  /** Radius of the hole, metres. */
  readonly bore: number;
}

/** Addendum and dedendum of the basic rack in modules. ISO 53. */
const ADDENDUM = 1;
const DEDENDUM = 1.25;

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
  for (let tooth = 0; tooth < teeth; tooth++) {
    const middle = (tooth * 2 * Math.PI) / teeth;
    for (const [radius, half] of flank)
      outline.push([radius * cos(middle - half), radius * sin(middle - half)]);
    for (const [radius, half] of [...flank].reverse())
      outline.push([radius * cos(middle + half), radius * sin(middle + half)]);
  }
  return outline;
}

/** A gear round the z axis, middle at the origin. A bore of 0 or one that would cut the teeth leaves it solid or is cut down. */
export function gearMesh(sizes: GearSizes, fineness = 1): Mesh {
  const builder = new MeshBuilder();
  const outline = gearOutline(sizes, fineness);
  const root = (sizes.module * sizes.teeth) / 2 - DEDENDUM * sizes.module;
  const bore = Math.min(sizes.bore, root * 0.95);
  const half = sizes.thickness / 2;
  const inner = outline.map(([x, y]): [number, number] => {
    const angle = atan2(y, x);
    return [bore * cos(angle), bore * sin(angle)];
  });
  const count = outline.length;
  const at = (list: readonly [number, number][], i: number, z: number): [number, number, number] => [
    list[i % count]![0],
    list[i % count]![1],
    z,
  ];
  for (let i = 0; i < count; i++) {
    const [ax, ay] = outline[i]!;
    const [bx, by] = outline[(i + 1) % count]!;
    const length = Math.sqrt((bx - ax) ** 2 + (by - ay) ** 2) || 1;
    builder.polygon(
      [at(outline, i, -half), at(outline, i + 1, -half), at(outline, i + 1, half), at(outline, i, half)],
      [(by - ay) / length, (ax - bx) / length, 0],
    );
    builder.polygon(
      [at(inner, i, half), at(outline, i, half), at(outline, i + 1, half), at(inner, i + 1, half)],
      [0, 0, 1],
    );
    builder.polygon(
      [at(inner, i, -half), at(inner, i + 1, -half), at(outline, i + 1, -half), at(outline, i, -half)],
      [0, 0, -1],
    );
    if (bore > 0) {
      const angle = atan2(inner[i]![1], inner[i]![0]);
      builder.polygon(
        [at(inner, i, -half), at(inner, i, half), at(inner, i + 1, half), at(inner, i + 1, -half)],
        [-cos(angle), -sin(angle), 0],
      );
    }
  }
  return builder.build();
}
