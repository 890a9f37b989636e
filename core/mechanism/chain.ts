import { asin, sin } from '../math';
import { pulleyPath, type Pulley, type Stretch } from './pulley-path';

/**
 * Lengths that stretches count for a chain: on a sprocket each link lies straight from tooth to tooth, so that fewer of them go
 * round than the pitch circle is long: pitch = 2 r sin(pi / teeth) (ISO 606).
 */
export function chainLengths(path: readonly Stretch[], pitch: number): number[] {
  return path.map((stretch) => {
    if (stretch.kind === 'run') return stretch.length;
    const share = pitch / (2 * Math.abs(stretch.radius));
    return share < 1 ? (Math.abs(stretch.turn) * pitch) / (2 * asin(share)) : stretch.length;
  });
}

/** Radius at which the rollers of a chain lie on a sprocket. ISO 606. */
export const sprocketRadius = (pitch: number, teeth: number): number => pitch / (2 * sin(Math.PI / teeth));

/** How two sprockets and a chain of a whole even number of links fit together. Angles in degrees, lengths in metres. */
export interface ChainDrive {
  readonly links: number;
  /** Of the shafts: the nearest to the one wanted at which the links close. */
  readonly distance: number;
  /** Run at which the rollers lie in the gaps of the first sprocket, which has a tooth on angle 0. */
  readonly run: number;
  /** Turn of the second one, which lies beside it along x, at which they lie in its gaps, too. */
  readonly phase: number;
}

const ROUNDS = 60;
const DEG = 180 / Math.PI;

/**
 * The chain round two sprockets. Links are counted as ISO 606 and Shigley, chapter 17, do; the distance is found by halving.
 * @returns `null` where the sprockets overlap
 */
export function chainDrive(
  teeth1: number,
  teeth2: number,
  pitch: number,
  distance: number,
): ChainDrive | null {
  const [r1, r2] = [sprocketRadius(pitch, teeth1), sprocketRadius(pitch, teeth2)];
  const least = (r1 + r2) * (1 + 1e-6);
  const at = (away: number): { path: Stretch[]; lengths: number[]; whole: number } => {
    const pulleys: Pulley[] = [
      [0, 0, r1],
      [away, 0, r2],
    ];
    const path = pulleyPath(pulleys)!;
    const lengths = chainLengths(path, pitch);
    return { path, lengths, whole: lengths.reduce((sum, length) => sum + length, 0) };
  };
  if (!(distance >= least)) return null;
  let links = 2 * Math.round(at(distance).whole / pitch / 2);
  if (links * pitch < at(least).whole) links += 2;
  let [low, high] = [least, distance + 2 * pitch];
  for (let i = 0; i < ROUNDS; i++) {
    const middle = (low + high) / 2;
    if (at(middle).whole < links * pitch) low = middle;
    else high = middle;
  }
  const { path, lengths } = at(low);
  const [first, second] = [path[0]!, path[2]!];
  if (first.kind !== 'bend' || second.kind !== 'bend') return null;
  /** From a direction on to the next gap of a sprocket. */
  const toGap = (direction: number, teeth: number): number => {
    const share = (direction * DEG * teeth) / 360 - 0.5;
    return ((Math.ceil(share - 1e-9) - share) * 2 * Math.PI) / teeth;
  };
  const run = (toGap(first.start, teeth1) * teeth1 * pitch) / (2 * Math.PI);
  const way = run - lengths[0]! - lengths[1]!;
  const left = way - pitch * Math.floor(way / pitch);
  const direction = second.start * DEG + ((left / pitch) * 360) / teeth2;
  const tooth = 360 / teeth2;
  const phase = direction - tooth / 2;
  return { links, distance: low, run, phase: phase - tooth * Math.floor(phase / tooth) };
}
