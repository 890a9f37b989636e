import earcut from 'earcut';
import { atan2, cos, sin } from '../math';
import { MeshBuilder, type Flat, type Mesh, type Point } from './mesh';

const SMOOTH_COSINE = cos((40 * Math.PI) / 180);

/**
 * A profile turned round the y axis. Points run from the bottom up, each the distance from the axis and the height; an
 * end off the axis is closed by a disc unless `closed` is false. With `sweep` below 360 degrees a wedge, from the
 * direction of x towards z.
 */
export function latheMesh(profile: readonly Flat[], sides: number, sweep: number, closed = true): Mesh {
  const builder = new MeshBuilder();
  const whole = sweep >= 360;
  const reach = (sweep * Math.PI) / 180;
  const columns = Math.max(1, Math.round(sides * (whole ? 1 : Math.max(0.05, sweep / 360))));
  const edges = profile.slice(1).map(([r, y], i): Flat => {
    const [dr, dy] = [r - profile[i]![0], y - profile[i]![1]];
    const length = Math.sqrt(dr * dr + dy * dy) || 1;
    return [dy / length, -dr / length];
  });
  const normalAt = (edge: number, neighbour: number): Flat => {
    const [a, b] = [edges[edge]!, edges[neighbour]];
    if (!b || a[0] * b[0] + a[1] * b[1] < SMOOTH_COSINE) return a;
    const angle = atan2(a[1] + b[1], a[0] + b[0]);
    return [cos(angle), sin(angle)];
  };
  const turned = (share: number, [r, y]: Flat): Point => {
    const angle = whole ? -share * reach : share * reach;
    return [r * cos(angle), y, r * sin(angle)];
  };
  // Whole bodies run round against the wedge's way, so that pictures on them read from left to right.
  const outward = whole ? 1 : -1;
  for (let e = 0; e < edges.length; e++) {
    const [low, high] = [profile[e]!, profile[e + 1]!];
    const [lowNormal, highNormal] = [normalAt(e, e - 1), normalAt(e, e + 1)];
    for (let i = 0; i < columns; i++) {
      const [a, b] = [i / columns, (i + 1) / columns];
      const corner = (share: number, point: Flat, normal: Flat, v: number): number =>
        builder.vertex(turned(share, point), turned(share, normal), [share, v]);
      const [v0, v1] = [e / edges.length, (e + 1) / edges.length];
      const corners = [
        corner(a, low, lowNormal, v0),
        corner(b, low, lowNormal, v0),
        corner(b, high, highNormal, v1),
        corner(a, high, highNormal, v1),
      ] as const;
      const faces: [number, number, number][] = [];
      if (low[0] > 0) faces.push([corners[0], corners[1], corners[2]]);
      if (high[0] > 0) faces.push([corners[0], corners[2], corners[3]]);
      for (const [p, q, r] of faces)
        if (outward > 0) builder.triangle(p, q, r);
        else builder.triangle(p, r, q);
    }
  }
  const ends = [
    [profile[0]!, -1],
    [profile.at(-1)!, 1],
  ] as const;
  for (const [[r, y], side] of ends) {
    if (r <= 0 || !closed) continue;
    const rim = Array.from({ length: whole ? columns : columns + 1 }, (_, i) => turned(i / columns, [r, y]));
    const corners: Point[] = whole ? rim : [[0, y, 0], ...rim];
    builder.polygon(
      side > 0 === outward > 0 ? corners : corners.reverse(),
      [0, side, 0],
      corners.map(([x, , z]): Flat => [0.5 + x / (2 * r), 0.5 - z / (2 * r)]),
    );
  }
  if (!whole) cheeks(builder, profile, reach);
  return builder.build();
}

/** The two flat cut faces of a wedge. */
function cheeks(builder: MeshBuilder, profile: readonly Flat[], reach: number): void {
  const outline = [
    ...(profile[0]![0] > 0 ? [[0, profile[0]![1]] as const] : []),
    ...profile,
    ...(profile.at(-1)![0] > 0 ? [[0, profile.at(-1)![1]] as const] : []),
  ];
  const triangles = earcut(outline.flat());
  for (const side of [0, 1] as const) {
    const angle = side * reach;
    const normal: Point = side === 0 ? [0, 0, -1] : [-sin(reach), 0, cos(reach)];
    const at = outline.map(([r, y]) => builder.vertex([r * cos(angle), y, r * sin(angle)], normal, [r, y]));
    for (let i = 0; i < triangles.length; i += 3) {
      const [p, q, r] = [0, 1, 2].map((k) => outline[triangles[i + k]!]!);
      const turns = (q![0] - p![0]) * (r![1] - p![1]) - (q![1] - p![1]) * (r![0] - p![0]) > 0;
      const [a, b, c] = [at[triangles[i]!]!, at[triangles[i + 1]!]!, at[triangles[i + 2]!]!];
      // Seen from -z, x runs to the left.
      if (turns === (side === 1)) builder.triangle(a, b, c);
      else builder.triangle(a, c, b);
    }
  }
}
