import { atan2, cos, sin } from '../math';
import { DEDENDUM, gearOutline } from './gear';
import { MeshBuilder, type Mesh, type Point } from './mesh';

export interface BevelSizes {
  readonly teeth: number;
  /** Of the outer end of the teeth, metres. */
  readonly module: number;
  /** Pressure angle in degrees. */
  readonly pressure: number;
  /** Half angle of the pitch cone, degrees. */
  readonly cone: number;
  /** Length of the teeth along the cone, metres. */
  readonly face: number;
  readonly bore: number;
}

/** Share of the way to the point of the cone that teeth may take. */
const LONGEST_FACE = 0.9;

/** From the point of the pitch cone to the outer end of the teeth. */
export const coneDistance = ({
  teeth,
  module,
  cone,
}: Pick<BevelSizes, 'teeth' | 'module' | 'cone'>): number =>
  (module * teeth) / 2 / sin((cone * Math.PI) / 180);

/**
 * Outline of the teeth on their outer end, which lies on the back cone: the teeth of a spur gear on that cone rolled out
 * flat, with teeth / cos(cone) of them in a whole turn. Tredgold's approximation (ISO 23509; Shigley, chapter 13). Points
 * go round the z axis counter-clockwise; the point of the pitch cone is the origin.
 */
export function bevelOutline(sizes: Omit<BevelSizes, 'face' | 'bore'>, fineness = 1): Point[] {
  const { teeth, module, pressure } = sizes;
  const cone = (sizes.cone * Math.PI) / 180;
  const [across, up] = [cos(cone), sin(cone)];
  const far = coneDistance(sizes) * across;
  const back = (module * teeth) / 2 / across;
  // One tooth of the flat gear, of which there need not be a whole number.
  const flat = gearOutline({ teeth: teeth / across, module, pressure }, fineness, 1);
  const tooth = flat.map(([x, y]) => ({ radius: Math.sqrt(x * x + y * y), turn: atan2(y, x) / across }));
  return Array.from({ length: teeth }, (_, i) =>
    tooth.map(({ radius, turn }): Point => {
      const angle = turn + (2 * Math.PI * i) / teeth;
      return [radius * across * cos(angle), radius * across * sin(angle), far - (radius - back) * up];
    }),
  ).flat();
}

/** A bevel gear round the z axis, its pitch cone standing on its point at the origin, where the shafts of a pair meet. */
export function bevelGearMesh(sizes: BevelSizes, fineness = 1): Mesh {
  const builder = new MeshBuilder();
  const outer = bevelOutline(sizes, fineness);
  const whole = coneDistance(sizes);
  const share = 1 - Math.min(sizes.face, whole * LONGEST_FACE) / whole;
  const inner = outer.map(([x, y, z]): Point => [x * share, y * share, z * share]);
  const cone = (sizes.cone * Math.PI) / 180;
  const root = Math.max((sizes.module * sizes.teeth) / 2 - DEDENDUM * sizes.module * cos(cone), 0);
  const bore = Math.max(0, Math.min(sizes.bore, root * share * 0.9));
  const back = whole * cos(cone) + DEDENDUM * sizes.module * sin(cone);
  const ring = (z: number): Point[] =>
    outer.map(([x, y]): Point => {
      const angle = atan2(y, x);
      return [bore * cos(angle), bore * sin(angle), z];
    });
  const [backRing, frontRing] = [ring(back), ring(back * share)];
  const count = outer.length;
  for (let i = 0; i < count; i++) {
    const next = (i + 1) % count;
    builder.face([outer[next]!, outer[i]!, inner[i]!, inner[next]!]);
    // Between tooth and hub the ends are no planes.
    builder.face([backRing[i]!, outer[i]!, outer[next]!]);
    builder.face([backRing[i]!, outer[next]!, backRing[next]!]);
    builder.face([frontRing[next]!, inner[next]!, inner[i]!]);
    builder.face([frontRing[next]!, inner[i]!, frontRing[i]!]);
    if (bore > 0) builder.face([backRing[next]!, frontRing[next]!, frontRing[i]!, backRing[i]!]);
  }
  return builder.build();
}
