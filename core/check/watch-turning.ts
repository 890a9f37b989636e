import { ownerName, ROUND, splitAddress } from '../document';
import { MATRIX_SIZE, type Evaluator, type Plan } from '../evaluate';
import { ROTATION_ORDERS } from '../transform';
import { movingAddresses } from './check-links';
import { shownNumber, type Problem } from './problem';
import { symmetryBelow } from './symmetry';
import { tell, type Told, type Watch, type WatchKind } from './watch';

/** Share of a tooth or side within which a step counts as a whole number of them. */
const STILL = 0.02;
/** Steps below this many degrees are never too fast: nothing has more than 360 teeth that anybody sees. */
const SLOW = 0.5;
/** So many fast steps in a row make the eye join the wrong teeth; fewer are a switch of pose. */
const IN_A_ROW = 3;
const TURN = /^(?:copy\.)?rotation\.([xyz])$/;

interface Turning {
  readonly id: string;
  readonly address: string;
  readonly axis: 'x' | 'y' | 'z';
  readonly slot: number;
  before: number;
  symmetry: number | null;
  run: number;
  runFrom: number;
  worst: { frame: number; step: number } | null;
}

/** Channels by which something can turn from frame to frame. */
function turns(plan: Plan): string[] {
  return [...movingAddresses(plan)].filter(
    (address) => address.startsWith('prt_') && TURN.test(splitAddress(address).path),
  );
}

/**
 * Parts that turn so far between two frames that the eye joins the wrong teeth: by a whole number of them they seem to
 * stand still, by more than half of one to run backwards (sampling theorem). Judged by all that turns along: the teeth
 * of a gear, the spokes below a hub, the copies in a ring; what is round and plain turns unseen at any speed.
 */
export const WATCH_TURNING: WatchKind = {
  name: 'turning',
  subjects: turns,
  rests: ({ shot }, address) => {
    const { owner } = splitAddress(address);
    const found = [owner];
    for (const [id, part] of Object.entries(shot.parts)) {
      for (let at: string | null = id; at !== null; at = shot.parts[at]?.parent ?? null)
        if (at === owner) {
          found.push(id, part.shape ?? id, part.look ?? id);
          break;
        }
    }
    return found;
  },
  start: (plan, subjects) => new TurningWatch(plan, subjects),
};

class TurningWatch implements Watch {
  private readonly watched: Turning[];

  constructor(
    private readonly plan: Plan,
    subjects: readonly string[],
  ) {
    this.watched = subjects.map((address) => {
      const { owner, path } = splitAddress(address);
      return {
        id: owner,
        address,
        axis: TURN.exec(path)![1] as 'x',
        slot: plan.slots.get(address)!,
        before: NaN,
        symmetry: null,
        run: 0,
        runFrom: 0,
        worst: null,
      };
    });
  }

  frame(evaluator: Evaluator, frame: number): void {
    for (const turning of this.watched) {
      const value = evaluator.values[turning.slot]!;
      const step = value - turning.before;
      turning.before = value;
      const size = Math.abs(step);
      if (!(size > SLOW)) {
        turning.run = 0;
        continue;
      }
      turning.symmetry ??= this.symmetryOf(evaluator, turning);
      if (turning.symmetry === ROUND || size * turning.symmetry <= 180 + 1e-9) {
        turning.run = 0;
        continue;
      }
      // A run goes on only while it turns the same way.
      turning.run =
        Math.sign(step) === Math.sign(turning.run) ? turning.run + Math.sign(step) : Math.sign(step);
      if (Math.abs(turning.run) === 1) turning.runFrom = frame - 1;
      if (Math.abs(turning.run) < IN_A_ROW) continue;
      if (!turning.worst || size > turning.worst.step) turning.worst = { frame: turning.runFrom, step: size };
    }
  }

  finish(): Told {
    const told: Told = new Map();
    for (const { id, address, worst, symmetry } of this.watched)
      if (worst) tell(told, address, problem(ownerName(this.plan.shot, id), address, worst, symmetry!));
    return told;
  }

  private symmetryOf(evaluator: Evaluator, { id, axis, address }: Turning): number {
    const { plan } = this;
    const node = plan.nodeOf.get(id)!;
    const copies = address.includes('/copy.');
    const order = copies ? 'XYZ' : ROTATION_ORDERS[plan.nodeOrder[node]!]!;
    const prefix = copies ? 'copy.rotation' : 'rotation';
    // The part turns about its own axis only where what turns inside this turn stands straight.
    const inner = [...order.toLowerCase()].slice([...order.toLowerCase()].indexOf(axis) + 1);
    if (inner.some((other) => evaluator.number(`${id}/${prefix}.${other}`) % 360 !== 0)) return 1;
    const index = copies ? plan.nodes.length + plan.nodeRepeat[node]! : node;
    const frame = evaluator.world.slice(index * MATRIX_SIZE, (index + 1) * MATRIX_SIZE);
    if (!copies) {
      const pivot = ['x', 'y', 'z'].map((name) => evaluator.number(`${id}/pivot.${name}`));
      for (let row = 0; row < 3; row++)
        for (let k = 0; k < 3; k++) frame[row * 4 + 3]! += frame[row * 4 + k]! * pivot[k]!;
    }
    return symmetryBelow(evaluator, node, axis, frame, copies);
  }
}

function problem(
  name: string,
  address: string,
  { frame, step }: { frame: number; step: number },
  symmetry: number,
): Problem {
  const teeth = step / (360 / symmetry);
  const still = Math.abs(teeth - Math.round(teeth)) < STILL;
  const what =
    symmetry === 1 ? 'a turn' : `the ${shownNumber(360 / symmetry)} degrees after which it looks the same`;
  return {
    code: still ? 'turn.looks-still' : 'turn.looks-backwards',
    severity: 'warning',
    address,
    frame,
    amount: step,
    message: `${name} turns ${shownNumber(step)} degrees from frame to frame, ${shownNumber(teeth)} times ${what}: on film it will seem ${still ? 'to stand still' : 'to run at another speed, or backwards'}.`,
  };
}
