import { ownerName } from '../document';
import { Evaluator, MATRIX_SIZE, type Plan } from '../evaluate';
import { framesToLookAt } from './frames';
import type { Problem } from './problem';

/** Copies nearer to each other than this, in metres, in place and turn alike, count as one. */
const COINCIDE = 1e-6;
/** More copies than this in all are asked about. */
const MANY = 20_000;
/** Share of a tooth or side within which a step counts as a whole number of them. */
const STILL = 0.02;

/** Movements that a film shows otherwise than they are, and copies that hide one another. */
export function checkMotion(plan: Plan): Problem[] {
  return [...checkTurning(plan), ...checkCopies(plan)];
}

/** How often a part looks the same in one turn about an axis of its own. */
function symmetryOf(evaluator: Evaluator, id: string, axis: 'x' | 'y' | 'z'): number {
  const { shape } = evaluator.plan.shot.parts[id]!;
  const kind = shape === null ? null : evaluator.plan.shot.shapes[shape]?.kind;
  const size = (path: string): number => evaluator.number(`${shape}/${path}`);
  switch (kind) {
    case 'gear':
      return axis === 'z' ? size('teeth') : 1;
    case 'cylinder':
      // From about 48 sides on nobody sees them pass.
      return axis === 'y' && size('sweep') >= 360 && size('sides') < 48 ? size('sides') : 1;
    case 'box': {
      const [w, h, d] = ['width', 'height', 'depth'].map(size);
      const square = axis === 'x' ? h === d : axis === 'y' ? w === d : w === h;
      return square ? 4 : 2;
    }
    default:
      return 1;
  }
}

/**
 * Parts that turn so far between two frames that the eye joins the wrong teeth: by a whole number of them they seem to
 * stand still, by more than half of one to run backwards (sampling theorem).
 */
function checkTurning(plan: Plan): Problem[] {
  const { setup } = plan.shot;
  const evaluator = new Evaluator(plan);
  const worst = new Map<string, { frame: number; step: number; symmetry: number }>();
  const watched = plan.nodes
    .filter((id) => plan.shot.parts[id]!.kind === 'solid')
    .flatMap((id) =>
      (['x', 'y', 'z'] as const).map((axis) => {
        const address = `${id}/rotation.${axis}`;
        return { id, axis, address, slot: plan.slots.get(address)! };
      }),
    );
  const before = new Float64Array(watched.length);
  for (const frame of framesToLookAt(setup)) {
    if (frame + 1 > setup.last) continue;
    evaluator.evaluate(frame);
    watched.forEach(({ slot }, i) => (before[i] = evaluator.values[slot]!));
    evaluator.evaluate(frame + 1);
    watched.forEach(({ id, axis, address, slot }, i) => {
      const step = Math.abs(evaluator.values[slot]! - before[i]!);
      if (step < 1) return;
      const symmetry = symmetryOf(evaluator, id, axis);
      if (step * symmetry <= 180 + 1e-9) return;
      const known = worst.get(address);
      if (!known || step > known.step) worst.set(address, { frame, step, symmetry });
    });
  }
  return [...worst].map(([address, { frame, step, symmetry }]): Problem => {
    const id = address.split('/')[0]!;
    const pitch = 360 / symmetry;
    const teeth = step / pitch;
    const still = Math.abs(teeth - Math.round(teeth)) < STILL;
    const what = symmetry === 1 ? 'turn' : symmetry === 2 || symmetry === 4 ? 'side' : 'tooth or side';
    return {
      code: still ? 'turn.looks-still' : 'turn.looks-backwards',
      severity: 'warning',
      address,
      frame,
      amount: step,
      message: `${ownerName(plan.shot, id)} turns ${Math.round(step * 100) / 100} degrees from frame ${frame} to the next, ${Math.round(teeth * 100) / 100} times its ${what}: on film it will seem ${still ? 'to stand still' : 'to run at another speed, or backwards'}.`,
    };
  });
}

function checkCopies(plan: Plan): Problem[] {
  const problems: Problem[] = [];
  if (plan.repeats.length === 0) return problems;
  const evaluator = new Evaluator(plan);
  evaluator.evaluate(plan.shot.setup.first);
  const { copies } = evaluator.instant;
  plan.repeats.forEach((repeat, index) => {
    const id = plan.nodes[repeat.node]!;
    const { count, place } = copies[index]!;
    const first = new Map<string, number>();
    for (let i = 0; i < count; i++) {
      const key = Array.from(place.subarray(i * MATRIX_SIZE, (i + 1) * MATRIX_SIZE), (value) =>
        Math.round(value / COINCIDE),
      ).join(' ');
      const other = first.get(key);
      if (other === undefined) {
        first.set(key, i);
        continue;
      }
      problems.push({
        code: 'repeat.coincide',
        severity: 'warning',
        address: id,
        frame: plan.shot.setup.first,
        message: `${ownerName(plan.shot, id)}: copies ${other + 1} and ${i + 1} stand in the same place. Give it a gap, or a hub that sets the step.`,
      });
      break;
    }
    let total = count;
    for (
      let above = plan.nodeWithin[repeat.node]!;
      above >= 0;
      above = plan.nodeWithin[plan.repeats[above]!.node]!
    )
      total *= copies[above]!.count;
    if (total > MANY)
      problems.push({
        code: 'repeat.many',
        severity: 'warning',
        address: id,
        amount: total,
        message: `${ownerName(plan.shot, id)} shows what hangs below it ${total} times: more than ${MANY} may be slow.`,
      });
  });
  return problems;
}
