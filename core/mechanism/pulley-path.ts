import { acos, atan2, cos, sin } from '../math';

type Flat = readonly [x: number, y: number];

/** A pulley: x and y of its middle and its radius, below 0 where the back of what runs round lies on it. */
export type Pulley = readonly [x: number, y: number, radius: number];

/** A straight run, or a bend round a pulley; what runs on it goes from its start to its end. */
export type Stretch =
  | { readonly kind: 'run'; readonly from: Flat; readonly to: Flat; readonly length: number }
  | {
      readonly kind: 'bend';
      readonly pulley: number;
      readonly middle: Flat;
      /** Below 0 round the clock. */
      readonly radius: number;
      /** Direction in which it begins to lie on the pulley, radians, and how far round it lies; below 0 the way of the clock. */
      readonly start: number;
      readonly turn: number;
      readonly length: number;
    };

const TURN = 2 * Math.PI;
/** Bends that are whole turns but for rounding are none. */
const NEARLY = 1e-9;

const rounded = (angle: number): number => angle - TURN * Math.floor(angle / TURN);

/**
 * The closed line that runs tightly round pulleys, in their order: round those with a radius above 0 against the clock,
 * round the others with it. Of two pulleys the first bend comes first. Lengths of open and crossed belts: Shigley,
 * "Mechanical Engineering Design", chapter 17.
 * @returns `null` where two pulleys that follow one another overlap, so that nothing runs straight between them
 */
export function pulleyPath(pulleys: readonly Pulley[]): Stretch[] | null {
  const count = pulleys.length;
  const normals: number[] = [];
  const lines: Stretch[] = [];
  for (let i = 0; i < count; i++) {
    const [ax, ay, ar] = pulleys[i]!;
    const [bx, by, br] = pulleys[(i + 1) % count]!;
    const [dx, dy] = [bx - ax, by - ay];
    const away = Math.sqrt(dx * dx + dy * dy);
    if (!(away > Math.abs(ar - br))) return null;
    // The run touches both circles on one normal: its way along the line of centres is the difference of the radii.
    const angle = atan2(dy, dx) - acos((ar - br) / away);
    const [nx, ny] = [cos(angle), sin(angle)];
    normals.push(angle);
    const from: Flat = [ax + ar * nx, ay + ar * ny];
    const to: Flat = [bx + br * nx, by + br * ny];
    lines.push({ kind: 'run', from, to, length: Math.sqrt((to[0] - from[0]) ** 2 + (to[1] - from[1]) ** 2) });
  }
  return pulleys.flatMap(([x, y, radius], i): Stretch[] => {
    const [came, goes] = [normals[(i + count - 1) % count]!, normals[i]!];
    let turn = radius > 0 ? rounded(goes - came) : -rounded(came - goes);
    if (TURN - Math.abs(turn) < NEARLY) turn = 0;
    const bend: Stretch = {
      kind: 'bend',
      pulley: i,
      middle: [x, y],
      radius,
      start: radius > 0 ? came : came + Math.PI,
      turn,
      length: Math.abs(radius * turn),
    };
    return [bend, lines[i]!];
  });
}

/** Length of a closed line. */
export const pathLength = (path: readonly Stretch[]): number =>
  path.reduce((sum, { length }) => sum + length, 0);

/** A place of a line and the direction in which it goes there, a unit vector. */
export interface OnPath {
  readonly at: Flat;
  readonly way: Flat;
}

/** The place at a share of a stretch. */
export function alongStretch(stretch: Stretch, share: number): OnPath {
  if (stretch.kind === 'run') {
    const { from, to, length } = stretch;
    const way: Flat = length > 0 ? [(to[0] - from[0]) / length, (to[1] - from[1]) / length] : [1, 0];
    return { at: [from[0] + (to[0] - from[0]) * share, from[1] + (to[1] - from[1]) * share], way };
  }
  const { middle, radius, start, turn } = stretch;
  const angle = start + turn * share;
  const size = Math.abs(radius);
  const [c, s] = [cos(angle), sin(angle)];
  const side = radius > 0 ? 1 : -1;
  return { at: [middle[0] + size * c, middle[1] + size * s], way: [-s * side, c * side] };
}

/** The place that lies so far along a closed line, whose stretches count as long as `lengths` say. */
export function alongPath(path: readonly Stretch[], lengths: readonly number[], way: number): OnPath {
  const whole = lengths.reduce((sum, length) => sum + length, 0);
  let left = way - whole * Math.floor(way / whole);
  for (let i = 0; i < path.length; i++) {
    if (left <= lengths[i]! && lengths[i]! > 0) return alongStretch(path[i]!, left / lengths[i]!);
    left -= lengths[i]!;
  }
  return alongStretch(path.at(-1)!, 1);
}
