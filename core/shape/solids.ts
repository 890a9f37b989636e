import { atan2, cos, sin } from '../math';
import { atFineness, ROUND_COLUMNS, ROUND_ROWS, SMOOTH_SIDES, torusSides } from './fineness';
import { latheMesh } from './lathe';
import { MeshBuilder, type Flat, type Mesh } from './mesh';

type Point = [number, number, number];

/** Faces of a box in the order in which they are built: what they look along, their right and their up. */
export const BOX_FACES = [
  { place: 'right', out: [1, 0, 0], across: [0, 0, -1], up: [0, 1, 0] },
  { place: 'left', out: [-1, 0, 0], across: [0, 0, 1], up: [0, 1, 0] },
  { place: 'top', out: [0, 1, 0], across: [1, 0, 0], up: [0, 0, -1] },
  { place: 'bottom', out: [0, -1, 0], across: [1, 0, 0], up: [0, 0, 1] },
  { place: 'front', out: [0, 0, 1], across: [1, 0, 0], up: [0, 1, 0] },
  { place: 'back', out: [0, 0, -1], across: [-1, 0, 0], up: [0, 1, 0] },
] as const;

const CORNERS = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
] as const;

/** A box round the origin, edges along the axes; sizes along x, y, z. A picture stands upright on each face. */
export function boxMesh(width: number, height: number, depth: number): Mesh {
  const builder = new MeshBuilder();
  const half = [width / 2, height / 2, depth / 2] as const;
  for (const { out, across, up } of BOX_FACES)
    builder.polygon(
      CORNERS.map(([u, v]) => {
        const at = (axis: 0 | 1 | 2): number =>
          (out[axis] + across[axis] * (2 * u - 1) + up[axis] * (2 * v - 1)) * half[axis];
        return [at(0), at(1), at(2)];
      }),
      out,
      CORNERS,
    );
  return builder.build();
}

/** A ball round the origin; with `span` below 180 degrees the bowl that reaches so far up from its lowest point, closed by a disc. */
export function ballMesh(radius: number, span: number, fineness = 1): Mesh {
  const builder = new MeshBuilder();
  const reach = (span * Math.PI) / 180;
  const columns = atFineness(ROUND_COLUMNS, fineness, 8);
  const rows = Math.max(3, Math.ceil((atFineness(ROUND_ROWS, fineness, 4) * span) / 180));
  builder.grid(columns, rows, (u, v) => {
    const around = -u * 2 * Math.PI;
    const up = v * reach;
    const normal: Point = [sin(up) * cos(around), -cos(up), sin(up) * sin(around)];
    return { position: [normal[0] * radius, normal[1] * radius, normal[2] * radius], normal };
  });
  if (span < 180) builder.polygon(circle(radius * sin(reach), -radius * cos(reach), columns), [0, 1, 0]);
  return builder.build();
}

function circle(radius: number, y: number, sides: number): Point[] {
  return Array.from({ length: sides }, (_, i) => {
    const angle = (-i / sides) * 2 * Math.PI;
    return [radius * cos(angle), y, radius * sin(angle)];
  });
}

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
      builder.vertex(at(a, radius, low), na, [1 - a, 0]),
      builder.vertex(at(a, topRadius, high), na, [1 - a, 1]),
      builder.vertex(at(b, topRadius, high), nb, [1 - b, 1]),
      builder.vertex(at(b, radius, low), nb, [1 - b, 0]),
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
export function torusMesh(radius: number, tube: number, fineness = 1): Mesh {
  const builder = new MeshBuilder();
  const { columns, rows } = torusSides(radius, tube);
  builder.grid(atFineness(columns, fineness, 12), atFineness(rows, fineness, 6), (u, v) => {
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

/** A pipe round the y axis, middle at the origin. */
export function tubeMesh(radius: number, wall: number, height: number, sides: number): Mesh {
  const inner = Math.max(0, radius - wall);
  const half = height / 2;
  // Inside down, foot, outside up, rim: a ring that begins and ends at one point.
  const profile: Flat[] =
    inner > 0
      ? [
          [inner, half],
          [inner, -half],
          [radius, -half],
          [radius, half],
          [inner, half],
        ]
      : [
          [0, -half],
          [radius, -half],
          [radius, half],
          [0, half],
        ];
  return latheMesh(profile, sides, 360, inner <= 0);
}

const CAP_ROWS = 12;

/** A cylinder round the y axis with round ends, middle at the origin; no lower than a ball. */
export function capsuleMesh(radius: number, height: number, fineness = 1): Mesh {
  const caps = atFineness(CAP_ROWS, fineness, 2);
  const straight = Math.max(0, height / 2 - radius);
  const quarter = (from: number, y: number): Flat[] =>
    Array.from({ length: caps + 1 }, (_, i) => {
      const angle = ((from + (i / caps) * 90) * Math.PI) / 180;
      const away = i === (from < 0 ? 0 : caps) ? 0 : radius * cos(angle);
      return [away, y + radius * sin(angle)];
    });
  const profile = [...quarter(-90, -straight), ...quarter(0, straight)];
  return latheMesh(
    straight > 0 ? profile : profile.filter((_, i) => i !== caps),
    atFineness(ROUND_COLUMNS, fineness, 8),
    360,
  );
}
