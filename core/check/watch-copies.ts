import { COPIES_IN_ALL, ownerName } from '../document';
import { MATRIX_SIZE } from '../evaluate';
import { tell, type Told, type WatchKind } from './watch';

/** Copies nearer to each other than this, in metres, in place and turn alike, count as one. */
const COINCIDE = 1e-6;

interface Row {
  readonly id: string;
  readonly index: number;
  /** Two copies that stood in the same place at every frame so far; `null` once none do. */
  pair: readonly [number, number] | null;
  most: { count: number; frame: number };
}

/** Repeats of which two copies stand in the same place all the time, that show too many, or whose step is not theirs. */
export const WATCH_COPIES: WatchKind = {
  name: 'copies',
  subjects: (plan) => plan.repeats.map(({ node }) => plan.nodes[node]!),
  rests: ({ shot }, id) => [id, shot.parts[id]!.repeat?.step ?? id],
  start: (plan, subjects) => {
    const rows = subjects.map((id): Row => ({
      id,
      index: plan.nodeRepeat[plan.nodeOf.get(id)!]!,
      pair: [-1, -1],
      most: { count: 0, frame: 0 },
    }));
    return {
      frame: (evaluator, frame) => {
        const { copies } = evaluator.instant;
        for (const row of rows) {
          const { count, place } = copies[row.index]!;
          if (row.pair) row.pair = coinciding(place, count, row.pair);
          let total = count;
          for (
            let above = plan.nodeWithin[plan.repeats[row.index]!.node]!;
            above >= 0;
            above = plan.nodeWithin[plan.repeats[above]!.node]!
          )
            total *= copies[above]!.count;
          if (total > row.most.count) row.most = { count: total, frame };
        }
      },
      finish: () => {
        const told: Told = new Map();
        const { shot } = plan;
        for (const { id, pair, most } of rows) {
          const name = ownerName(shot, id);
          const { step } = shot.parts[id]!.repeat ?? {};
          if (step && shot.parts[step]?.parent !== id)
            tell(told, id, {
              code: 'repeat.step',
              severity: 'warning',
              address: id,
              message: `${name}: ${shot.parts[step]?.name ?? step} is to set the step, but hangs elsewhere and is not asked. Hang it directly below ${name}, or choose another.`,
            });
          if (pair && pair[0] >= 0)
            tell(told, id, {
              code: 'repeat.coincide',
              severity: 'warning',
              address: id,
              frame: shot.setup.first,
              message: `${name}: copies ${pair[0] + 1} and ${pair[1] + 1} stand in the same place at every frame. Give it a gap, or a hub that sets the step.`,
            });
          if (most.count > COPIES_IN_ALL)
            tell(told, id, {
              code: 'repeat.many',
              severity: 'error',
              address: `${id}/copies`,
              frame: most.frame,
              amount: most.count,
              message: `${name} would show what hangs below it ${most.count} times at frame ${most.frame}: at most ${COPIES_IN_ALL} are shown. Lower the copies of it or of the repeats above it.`,
            });
        }
        return told;
      },
    };
  },
};

/** Two copies that stand in the same place: the pair given, if it still does; else the first other one, if asked for one. */
function coinciding(
  place: Float64Array,
  count: number,
  pair: readonly [number, number],
): readonly [number, number] | null {
  const same = (a: number, b: number): boolean => {
    for (let k = 0; k < MATRIX_SIZE; k++)
      if (!(Math.abs(place[a * MATRIX_SIZE + k]! - place[b * MATRIX_SIZE + k]!) < COINCIDE)) return false;
    return true;
  };
  if (pair[0] >= 0 && pair[1] < count && same(pair[0], pair[1])) return pair;
  const first = new Map<string, number>();
  for (let i = 0; i < count; i++) {
    const key = Array.from(place.subarray(i * MATRIX_SIZE, (i + 1) * MATRIX_SIZE), (value) =>
      Math.round(value / COINCIDE),
    ).join(' ');
    const other = first.get(key);
    if (other !== undefined) return [other, i];
    first.set(key, i);
  }
  return null;
}
