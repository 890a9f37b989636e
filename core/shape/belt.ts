import { atFineness, BELT_STEPS } from './fineness';
import { MeshBuilder, type Mesh, type Point } from './mesh';
import { alongPath, alongStretch, pathLength, pulleyPath, type OnPath, type Pulley } from '../mechanism';

export interface BeltSizes {
  readonly width: number;
  readonly thickness: number;
  readonly cleats: number;
  readonly run: number;
}

/** How far a cleat stands out and how wide it is, in thicknesses of the belt. */
const CLEAT = { height: 1, length: 2 } as const;

/** Pulleys as the middle of a band of a thickness runs round them. */
export const bandMiddle = (pulleys: readonly Pulley[], thickness: number): Pulley[] =>
  pulleys.map(([x, y, radius]) => [x, y, radius + (Math.sign(radius) * thickness) / 2]);

/** A band round pulleys, along z as wide as it is, middle at z = 0; nothing where the pulleys leave it no way. */
export function beltMesh(pulleys: readonly Pulley[], sizes: BeltSizes, fineness = 1): Mesh {
  const builder = new MeshBuilder();
  const path = pulleyPath(bandMiddle(pulleys, sizes.thickness));
  if (!path) return builder.build();
  const places: OnPath[] = path.flatMap((stretch) => {
    if (stretch.length === 0) return [];
    if (stretch.kind === 'run') return [alongStretch(stretch, 0)];
    const whole = atFineness(BELT_STEPS, fineness, 16);
    const steps = Math.max(1, Math.ceil((whole * Math.abs(stretch.turn)) / (2 * Math.PI)));
    return Array.from({ length: steps }, (_, i) => alongStretch(stretch, i / steps));
  });
  const half = sizes.width / 2;
  /** Beside the middle of the band: to the left of its way is its inside. */
  const beside = ({ at, way }: OnPath, left: number, z: number): Point => [
    at[0] - way[1] * left,
    at[1] + way[0] * left,
    z,
  ];
  const thin = sizes.thickness / 2;
  places.forEach((place, i) => {
    const next = places[(i + 1) % places.length]!;
    const strip = (left: number, out: 1 | -1): void => {
      const normal = ({ way }: OnPath): Point => [out * way[1], -out * way[0], 0];
      const corners = [
        builder.vertex(beside(place, left, -half), normal(place)),
        builder.vertex(beside(next, left, -half), normal(next)),
        builder.vertex(beside(next, left, half), normal(next)),
        builder.vertex(beside(place, left, half), normal(place)),
      ] as const;
      const [a, b, c, d] = out > 0 ? corners : ([...corners].reverse() as unknown as typeof corners);
      builder.triangle(a, b, c);
      builder.triangle(a, c, d);
    };
    strip(-thin, 1);
    strip(thin, -1);
    for (const side of [1, -1] as const) {
      const edge = [
        beside(place, -thin, side * half),
        beside(next, -thin, side * half),
        beside(next, thin, side * half),
        beside(place, thin, side * half),
      ];
      builder.polygon(side > 0 ? edge : edge.reverse(), [0, 0, side]);
    }
  });
  const lengths = path.map(({ length }) => length);
  const whole = pathLength(path);
  for (let i = 0; i < sizes.cleats; i++) {
    const place = alongPath(path, lengths, sizes.run + (whole * i) / sizes.cleats);
    cleat(builder, place, sizes, beside);
  }
  return builder.build();
}

function cleat(
  builder: MeshBuilder,
  { at, way }: OnPath,
  { width, thickness }: BeltSizes,
  beside: (place: OnPath, left: number, z: number) => Point,
): void {
  const long = (CLEAT.length * thickness) / 2;
  const [low, high] = [-thickness / 2, -thickness / 2 - CLEAT.height * thickness];
  const corner = (along: number, left: number, z: number): Point =>
    beside({ at: [at[0] + way[0] * along, at[1] + way[1] * along], way }, left, z);
  const ring = (left: number): Point[] => [
    corner(-long, left, -width / 2),
    corner(long, left, -width / 2),
    corner(long, left, width / 2),
    corner(-long, left, width / 2),
  ];
  const [foot, top] = [ring(low), ring(high)];
  builder.face(top);
  builder.face([...foot].reverse());
  for (let i = 0; i < 4; i++) {
    const next = (i + 1) % 4;
    builder.face([foot[i]!, foot[next]!, top[next]!, top[i]!]);
  }
}
