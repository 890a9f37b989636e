import { cos, sin, tan } from '../math';
import { atFineness, WORM_SIDES } from './fineness';
import { ADDENDUM, DEDENDUM } from './gear';
import { MeshBuilder, type Mesh, type Point } from './mesh';

export interface WormSizes {
  readonly starts: number;
  /** Distance of neighbouring threads along the axis divided by pi, metres. */
  readonly module: number;
  /** Half of the angle between the flanks of a thread, degrees. */
  readonly pressure: number;
  /** Where threads are as thick as gaps, metres. */
  readonly radius: number;
  readonly length: number;
  readonly left: boolean;
}

/** The core is never thinner than this share of the radius. */
const THINNEST_CORE = 0.2;
/** Turns that are drawn at most: beyond, the thread is drawn coarser than it is. */
const MOST_THREADS = 400;

/**
 * A worm along the z axis, middle at the origin, with straight flanks in each plane through its axis (type ZA, ISO 10828):
 * there it is the basic rack of ISO 53. A thread is centred on z = 0 in the direction of x.
 */
export function wormMesh(sizes: WormSizes, fineness = 1): Mesh {
  const builder = new MeshBuilder();
  const columns = atFineness(WORM_SIDES, fineness, 16);
  const half = sizes.length / 2;
  const module = Math.max(sizes.module, sizes.length / (Math.PI * MOST_THREADS), 1e-9);
  const pitch = Math.PI * module;
  const slope = tan((sizes.pressure * Math.PI) / 180);
  const tip = sizes.radius + ADDENDUM * module;
  const root = Math.max(sizes.radius - DEDENDUM * module, sizes.radius * THINNEST_CORE);
  const [onTip, onRoot] = [
    Math.max(0, pitch / 4 - ADDENDUM * module * slope),
    Math.min(pitch / 2, pitch / 4 + (sizes.radius - root) * slope),
  ];
  // One thread from the middle of a gap to the next: way from its middle, radius.
  const thread: readonly (readonly [number, number])[] = [
    [-onRoot, root],
    [-onTip, tip],
    [onTip, tip],
    [onRoot, root],
  ];
  const climb = ((sizes.left ? -1 : 1) * sizes.starts * pitch) / (2 * Math.PI);
  const reach = Math.ceil(half / pitch) + sizes.starts + 1;
  const radiusAt = (z: number, shift: number): number => {
    const away = z - shift - pitch * Math.round((z - shift) / pitch);
    const far = Math.abs(away);
    if (far <= onTip) return tip;
    return far >= onRoot ? root : tip + ((root - tip) * (far - onTip)) / (onRoot - onTip);
  };
  const columnAt = (i: number): Point[] => {
    const angle = (2 * Math.PI * i) / columns;
    const shift = climb * angle;
    const [c, s] = [cos(angle), sin(angle)];
    const points: Point[] = [];
    for (let k = -reach; k <= reach; k++)
      for (const [way, radius] of thread) {
        const z = k * pitch + shift + way;
        const within = Math.max(-half, Math.min(half, z));
        const r = within === z ? radius : radiusAt(within, shift);
        points.push([r * c, r * s, within]);
      }
    return points;
  };
  const lines = Array.from({ length: columns }, (_, i) => columnAt(i));
  // Round once, threads have become their neighbours.
  lines.push(columnAt(columns));
  for (let i = 0; i < columns; i++) {
    const [a, b] = [lines[i]!, lines[i + 1]!];
    for (let row = 0; row + 1 < a.length; row++) {
      if (a[row]![2] === a[row + 1]![2] && b[row]![2] === b[row + 1]![2]) continue;
      builder.face([a[row]!, b[row]!, b[row + 1]!, a[row + 1]!]);
    }
  }
  const cap = (side: 1 | -1): void => {
    const rim = lines.slice(0, columns).map((line) => (side > 0 ? line.at(-1)! : line[0]!));
    for (let i = 0; i < columns; i++) {
      const corners: Point[] = [[0, 0, side * half], rim[i]!, rim[(i + 1) % columns]!];
      builder.face(side > 0 ? corners : corners.reverse());
    }
  };
  cap(1);
  cap(-1);
  return builder.build();
}
