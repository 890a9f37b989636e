import { cos, sin } from '../math';
import { SMOOTH_SIDES } from './fineness';
import { MeshBuilder, type Mesh, type Point } from './mesh';

/** How far a key stands out and goes in, in its widths: half of a height of 0.8, about that of DIN 6885. */
const KEY_HALF = 0.4;

/** A shaft along the z axis, middle at the origin, with a key on its side of x. Lengths in metres. */
export function shaftMesh(sizes: {
  readonly radius: number;
  readonly length: number;
  /** Width of the key, and its length. */
  readonly key: number;
  readonly seat: number;
  readonly sides: number;
}): Mesh {
  const builder = new MeshBuilder();
  const { radius, sides } = sizes;
  const half = sizes.length / 2;
  const at = (i: number, z: number): Point => {
    const angle = (2 * Math.PI * i) / sides;
    return [radius * cos(angle), radius * sin(angle), z];
  };
  const out = (i: number): Point => {
    const angle = (2 * Math.PI * i) / sides;
    return [cos(angle), sin(angle), 0];
  };
  for (let i = 0; i < sides; i++) {
    const flat = out(i + 0.5);
    const [a, b] = sides >= SMOOTH_SIDES ? [out(i), out(i + 1)] : [flat, flat];
    const corners = [
      builder.vertex(at(i, -half), a),
      builder.vertex(at(i + 1, -half), b),
      builder.vertex(at(i + 1, half), b),
      builder.vertex(at(i, half), a),
    ] as const;
    builder.triangle(corners[0], corners[1], corners[2]);
    builder.triangle(corners[0], corners[2], corners[3]);
  }
  const rim = Array.from({ length: sides }, (_, i) => i);
  builder.face(rim.map((i) => at(i, half)));
  builder.face(rim.map((i) => at(i, -half)).reverse());
  const width = Math.min(sizes.key, radius);
  const reach = Math.min(sizes.seat, sizes.length) / 2;
  if (!(width > 0 && reach > 0)) return builder.build();
  const [low, high] = [radius - KEY_HALF * width, radius + KEY_HALF * width];
  const ring = (z: number): Point[] => [
    [low, -width / 2, z],
    [high, -width / 2, z],
    [high, width / 2, z],
    [low, width / 2, z],
  ];
  const [front, back] = [ring(reach), ring(-reach)];
  builder.face(front);
  builder.face([...back].reverse());
  for (let i = 0; i < 4; i++) {
    const next = (i + 1) % 4;
    builder.face([back[i]!, back[next]!, front[next]!, front[i]!]);
  }
  return builder.build();
}
