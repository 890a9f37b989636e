import { atan2, cos, sin } from '../math';
import { MeshBuilder, type Mesh } from './mesh';

type Point = [number, number, number];

const ROUND_COLUMNS = 48;
const ROUND_ROWS = 24;

/** A box round the origin, edges along the axes; sizes along x, y, z. */
export function boxMesh(width: number, height: number, depth: number): Mesh {
  const builder = new MeshBuilder();
  const half = [width / 2, height / 2, depth / 2] as const;
  for (let axis = 0; axis < 3; axis++)
    for (const side of [1, -1]) {
      const u = (axis + 1) % 3;
      const v = (axis + 2) % 3;
      const normal: Point = [0, 0, 0];
      normal[axis] = side;
      const corners = (
        [
          [-1, -1],
          [1, -1],
          [1, 1],
          [-1, 1],
        ] as const
      ).map(([a, b]) => {
        const corner: Point = [0, 0, 0];
        corner[axis] = side * half[axis]!;
        corner[u] = a * half[u]! * side;
        corner[v] = b * half[v]!;
        return corner;
      });
      builder.polygon(corners, normal);
    }
  return builder.build();
}

/** A ball round the origin; with `span` below 180 degrees the bowl that reaches so far up from its lowest point, closed by a disc. */
export function ballMesh(radius: number, span: number): Mesh {
  const builder = new MeshBuilder();
  const reach = (span * Math.PI) / 180;
  const rows = Math.max(3, Math.ceil((ROUND_ROWS * span) / 180));
  builder.grid(ROUND_COLUMNS, rows, (u, v) => {
    const around = -u * 2 * Math.PI;
    const up = v * reach;
    const normal: Point = [sin(up) * cos(around), -cos(up), sin(up) * sin(around)];
    return { position: [normal[0] * radius, normal[1] * radius, normal[2] * radius], normal };
  });
  if (span < 180)
    builder.polygon(circle(radius * sin(reach), -radius * cos(reach), ROUND_COLUMNS), [0, 1, 0]);
  return builder.build();
}

function circle(radius: number, y: number, sides: number): Point[] {
  return Array.from({ length: sides }, (_, i) => {
    const angle = (-i / sides) * 2 * Math.PI;
    return [radius * cos(angle), y, radius * sin(angle)];
  });
}

/** Sides from which on a cylinder is shaded round. */
const SMOOTH_SIDES = 13;

/**
 * A cylinder, cone or prism round the y axis, middle at the origin. With `sweep` below 360 degrees a wedge with two
 * flat cheeks, from the direction of x towards z.
 */
export function cylinderMesh(
  radius: number,
  topRadius: number,
  height: number,
  sides: number,
  sweep: number,
): Mesh {
  const builder = new MeshBuilder();
  const whole = sweep >= 360;
  const reach = (sweep * Math.PI) / 180;
  const columns = Math.max(1, Math.round(sides * (whole ? 1 : Math.max(0.05, sweep / 360))));
  const slope = atan2(radius - topRadius, height);
  const low = -height / 2;
  const high = height / 2;
  const at = (share: number, r: number, y: number): Point => [
    r * cos(share * reach),
    y,
    r * sin(share * reach),
  ];
  const normalAt = (share: number): Point => [
    cos(slope) * cos(share * reach),
    sin(slope),
    cos(slope) * sin(share * reach),
  ];
  for (let i = 0; i < columns; i++) {
    const [a, b] = [i / columns, (i + 1) / columns];
    const [na, nb] =
      sides >= SMOOTH_SIDES ? [normalAt(a), normalAt(b)] : [normalAt((a + b) / 2), normalAt((a + b) / 2)];
    const corners = [
      builder.vertex(at(a, radius, low), na),
      builder.vertex(at(a, topRadius, high), na),
      builder.vertex(at(b, topRadius, high), nb),
      builder.vertex(at(b, radius, low), nb),
    ] as const;
    builder.triangle(corners[0], corners[1], corners[2]);
    builder.triangle(corners[0], corners[2], corners[3]);
  }
  const rim = (r: number, y: number): Point[] =>
    Array.from({ length: columns + 1 }, (_, i) => at(i / columns, r, y));
  const centre = (y: number): Point[] => (whole ? [] : [[0, y, 0]]);
  if (radius > 0) builder.polygon([...centre(low), ...rim(radius, low)], [0, -1, 0]);
  if (topRadius > 0) builder.polygon([...centre(high), ...rim(topRadius, high).reverse()], [0, 1, 0]);
  if (!whole) {
    const end: Point = [-sin(reach), 0, cos(reach)];
    builder.polygon([[0, low, 0], [0, high, 0], at(0, topRadius, high), at(0, radius, low)], [0, 0, -1]);
    builder.polygon([[0, low, 0], at(1, radius, low), at(1, topRadius, high), [0, high, 0]], end);
  }
  return builder.build();
}

/** A ring round the y axis. */
export function torusMesh(radius: number, tube: number): Mesh {
  const builder = new MeshBuilder();
  builder.grid(ROUND_COLUMNS * 2, ROUND_ROWS, (u, v) => {
    const around = -u * 2 * Math.PI;
    const about = v * 2 * Math.PI - Math.PI;
    const normal: Point = [cos(about) * cos(around), sin(about), cos(about) * sin(around)];
    return {
      position: [
        (radius + tube * cos(about)) * cos(around),
        tube * sin(about),
        (radius + tube * cos(about)) * sin(around),
      ],
      normal,
    };
  });
  return builder.build();
}
