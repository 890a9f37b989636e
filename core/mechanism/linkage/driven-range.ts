import { POSE_SIZE, type Chain, type ChainNumbers } from './chain';
import { LinkageMotion } from './motion';

/** Steps in which the range of a driver is looked through before its ends are bisected. */
const STEPS = 720;
const HALVINGS = 40;

/**
 * Between which values of one given number a chain closes, all else as it is: the stretch around `from`, or the nearest one
 * to it; `null` where it closes nowhere between `low` and `high`.
 * @param at place of the number among the poses
 */
export function drivenRange(
  chain: Chain,
  drawn: Float64Array,
  numbers: ChainNumbers,
  at: number,
  [low, high]: readonly [number, number],
): readonly [number, number] | null {
  const motion = new LinkageMotion(chain, drawn);
  const poses = numbers.poses.slice();
  const closes = (value: number): boolean => {
    poses.set(numbers.poses);
    poses[at] = value;
    return motion.solve({ poses, joints: numbers.joints }) < 0;
  };
  const valueOf = (k: number): number => low + ((high - low) * k) / STEPS;
  const from = drawn[at]!;
  const start = Math.round(((from - low) / (high - low)) * STEPS);
  let inside = -1;
  for (let away = 0; away <= STEPS && inside < 0; away++)
    for (const k of [start + away, start - away])
      if (inside < 0 && k >= 0 && k <= STEPS && closes(valueOf(k))) inside = k;
  if (inside < 0) return null;
  const end = (direction: 1 | -1): number => {
    let k = inside;
    while (k + direction >= 0 && k + direction <= STEPS && closes(valueOf(k + direction))) k += direction;
    if (k + direction < 0 || k + direction > STEPS) return valueOf(k);
    let [sound, open] = [valueOf(k), valueOf(k + direction)];
    for (let i = 0; i < HALVINGS; i++) {
      const middle = (sound + open) / 2;
      if (closes(middle)) sound = middle;
      else open = middle;
    }
    return sound;
  };
  return [end(-1), end(1)];
}

/** Places among the poses of numbers that are given, of bodies of which others are found: what drives a chain. */
export function drivers(chain: Chain): number[] {
  return chain.found.flatMap((found, body) =>
    found.some(Boolean) ? [0, 1, 2].flatMap((k) => (found[k] ? [] : [body * POSE_SIZE + k])) : [],
  );
}
