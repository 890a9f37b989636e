import { cos, sin, tan } from '../math';
import { extrudeMesh } from './extrude';
import { ADDENDUM, DEDENDUM, type GearSizes } from './gear';
import { MeshBuilder, type Flat, type Mesh, type Point } from './mesh';

const UPRIGHT: readonly Flat[] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

/** A rectangle in the xy plane, middle at the origin, seen from both sides; its front looks along z. */
export function planeMesh(width: number, height: number): Mesh {
  const builder = new MeshBuilder();
  const [x, y] = [width / 2, height / 2];
  const corners: Point[] = [
    [-x, -y, 0],
    [x, -y, 0],
    [x, y, 0],
    [-x, y, 0],
  ];
  builder.polygon(corners, [0, 0, 1], UPRIGHT);
  builder.polygon([...corners].reverse(), [0, 0, -1], [...UPRIGHT].reverse());
  return builder.build();
}

/** A disc in the xy plane, seen from both sides, with a hole and a sweep from the direction of x towards y. */
export function discMesh(radius: number, hole: number, sides: number, sweep: number): Mesh {
  const builder = new MeshBuilder();
  const inner = Math.min(hole, radius);
  const columns = Math.max(1, Math.round((sides * sweep) / 360));
  const at = (i: number, r: number): Point => {
    const angle = ((i / columns) * sweep * Math.PI) / 180;
    return [r * cos(angle), r * sin(angle), 0];
  };
  const uv = ([x, y]: Point): Flat => [0.5 + x / (2 * radius || 1), 0.5 + y / (2 * radius || 1)];
  for (let i = 0; i < columns; i++) {
    const corners =
      inner > 0
        ? [at(i, inner), at(i, radius), at(i + 1, radius), at(i + 1, inner)]
        : [at(i, 0), at(i, radius), at(i + 1, radius)];
    builder.polygon(corners, [0, 0, 1], corners.map(uv));
    const back = [...corners].reverse();
    builder.polygon(back, [0, 0, -1], back.map(uv));
  }
  return builder.build();
}

/** Sizes of a rack; lengths in metres, pressure angle in degrees. */
export interface RackSizes extends Pick<GearSizes, 'teeth' | 'module' | 'pressure' | 'thickness'> {
  /** From the foot of the teeth to the flat back. */
  readonly back: number;
}

/** Outline of a rack, counter-clockwise: teeth up, the pitch line along x at y = 0, its middle tooth or gap at x = 0. */
export function rackOutline(sizes: Omit<RackSizes, 'thickness'>): Flat[] {
  const { teeth, module, pressure, back } = sizes;
  const pitch = Math.PI * module;
  const slope = tan((pressure * Math.PI) / 180);
  const [tip, root] = [ADDENDUM * module, -DEDENDUM * module];
  const half = (y: number): number => Math.max(0, pitch / 4 - slope * y);
  const length = teeth * pitch;
  const points: Flat[] = [
    [-length / 2, root - back],
    [length / 2, root - back],
    [length / 2, root],
  ];
  for (let tooth = teeth - 1; tooth >= 0; tooth--) {
    const middle = (tooth - (teeth - 1) / 2) * pitch;
    points.push([middle + half(root), root], [middle + half(tip), tip]);
    points.push([middle - half(tip), tip], [middle - half(root), root]);
  }
  points.push([-length / 2, root]);
  return points;
}

/** A rack of the basic profile of ISO 53 that meshes with gears of the same module and pressure angle. */
export function rackMesh(sizes: RackSizes): Mesh {
  return extrudeMesh([{ outer: rackOutline(sizes), holes: [] }], sizes.thickness, 0);
}
