import { atan2, cos, sin } from '../math';
import { alongPath, chainLengths, pulleyPath, type Pulley } from '../mechanism';
import { atFineness, CHAIN_SIDES } from './fineness';
import { MeshBuilder, type Flat, type Mesh, type Point } from './mesh';

export interface ChainSizes {
  /** From one roller to the next, metres. */
  readonly pitch: number;
  /** Radius of the rollers. */
  readonly roller: number;
  /** Between the inner plates. */
  readonly width: number;
  readonly run: number;
}

/** Plates in shares of the pitch: how high they are at most, and how thick. */
const PLATE = { height: 0.82, thickness: 0.12 } as const;
const MOST_LINKS = 600;

/** Where the rollers of a chain are, one after the other, and the even number of them; `null` where it finds no way. */
export function chainRollers(pulleys: readonly Pulley[], { pitch, run }: ChainSizes): Flat[] | null {
  const path = pulleyPath(pulleys);
  if (!path || !(pitch > 0)) return null;
  const lengths = chainLengths(path, pitch);
  const whole = lengths.reduce((sum, length) => sum + length, 0);
  const links = Math.max(4, Math.min(MOST_LINKS, 2 * Math.round(whole / pitch / 2)));
  return Array.from({ length: links }, (_, i) => alongPath(path, lengths, run + (whole * i) / links).at);
}

/** A roller chain round sprockets, along z as wide as it is, middle at z = 0. */
export function chainMesh(pulleys: readonly Pulley[], sizes: ChainSizes, fineness = 1): Mesh {
  const builder = new MeshBuilder();
  const rollers = chainRollers(pulleys, sizes);
  if (!rollers) return builder.build();
  const sides = atFineness(CHAIN_SIDES, fineness, 8);
  const thick = sizes.pitch * PLATE.thickness;
  const plate = Math.min(Math.max(sizes.roller * 1.3, sizes.pitch * 0.2), (sizes.pitch * PLATE.height) / 2);
  const half = sizes.width / 2;
  rollers.forEach(([x, y], i) => {
    const [nx, ny] = rollers[(i + 1) % rollers.length]!;
    prism(builder, circle(x, y, sizes.roller, sides), -half, half);
    // Plates lie inside and outside by turns, on both sides.
    const near = half + (i % 2 === 0 ? 0 : thick);
    const outline = stadium([x, y], [nx, ny], plate, sides);
    prism(builder, outline, near, near + thick);
    prism(builder, outline, -near - thick, -near);
  });
  return builder.build();
}

const circle = (x: number, y: number, radius: number, sides: number): Flat[] =>
  Array.from({ length: sides }, (_, i): Flat => {
    const angle = (2 * Math.PI * i) / sides;
    return [x + radius * cos(angle), y + radius * sin(angle)];
  });

/** Two half circles round the ends of a line, counter-clockwise. */
function stadium(a: Flat, b: Flat, radius: number, sides: number): Flat[] {
  const along = atan2(b[1] - a[1], b[0] - a[0]);
  const steps = Math.ceil(sides / 2);
  const arc = ([x, y]: Flat, from: number): Flat[] =>
    Array.from({ length: steps + 1 }, (_, i): Flat => {
      const angle = from + (Math.PI * i) / steps;
      return [x + radius * cos(angle), y + radius * sin(angle)];
    });
  return [...arc(b, along - Math.PI / 2), ...arc(a, along + Math.PI / 2)];
}

/** A body over an outline that bulges everywhere, counter-clockwise, from one z to another. */
function prism(builder: MeshBuilder, outline: readonly Flat[], low: number, high: number): void {
  const at = (z: number): Point[] => outline.map(([x, y]): Point => [x, y, z]);
  builder.face(at(high));
  builder.face(at(low).reverse());
  outline.forEach(([ax, ay], i) => {
    const [bx, by] = outline[(i + 1) % outline.length]!;
    builder.face([
      [ax, ay, low],
      [bx, by, low],
      [bx, by, high],
      [ax, ay, high],
    ]);
  });
}
