import { ROTATION_ORDERS } from '../transform';
import { movingAddresses } from './check-links';
import { shownNumber } from './problem';
import { tell, type Told, type WatchKind } from './watch';

/** Degrees from straight up within which the middle turn is in gimbal lock. */
const LOCK = 1;
/** Degrees from frame to frame below which a turn counts as standing. */
const STANDS = 1e-6;

/** Signed way of an angle from the nearest 90 degrees of either hand, in (-90, 90]. */
const fromLock = (degrees: number): number => {
  const turned = degrees - 90;
  return turned - 180 * Math.round(turned / 180);
};

interface Turns {
  readonly id: string;
  /** Slots of the outer, the middle and the inner turn. */
  readonly slots: readonly [number, number, number];
  readonly names: readonly [string, string, string];
  before: [number, number, number];
  done: boolean;
}

/**
 * Parts whose middle turn comes to 90 degrees while two of their turns move: there the outer and the inner one turn about
 * the same axis (gimbal lock). Keyed, linked or stored, at frames and between them.
 */
export const WATCH_GIMBAL: WatchKind = {
  name: 'gimbal',
  subjects: (plan) => {
    const moving = movingAddresses(plan);
    return plan.nodes.filter(
      (id) => ['x', 'y', 'z'].filter((axis) => moving.has(`${id}/rotation.${axis}`)).length > 1,
    );
  },
  rests: (_plan, id) => [id],
  start: (plan, subjects) => {
    const told: Told = new Map();
    const watched = subjects.map((id): Turns => {
      const names = [...ROTATION_ORDERS[plan.nodeOrder[plan.nodeOf.get(id)!]!]!] as [string, string, string];
      const slots = names.map((name) => plan.slots.get(`${id}/rotation.${name.toLowerCase()}`)!);
      return { id, names, slots: slots as [number, number, number], before: [NaN, NaN, NaN], done: false };
    });
    return {
      frame: (evaluator, frame) => {
        for (const turns of watched) {
          const now = turns.slots.map((slot) => evaluator.values[slot]!) as [number, number, number];
          const { before } = turns;
          turns.before = now;
          if (turns.done || before[0] !== before[0]) continue;
          const steps = now.map((value, i) => Math.abs(value - before[i]!));
          if (steps.filter((step) => step > STANDS).length < 2) continue;
          const [a, b] = [fromLock(before[1]), fromLock(now[1])];
          // Through the lock between two frames: the way from it changes its sign, not by going round the far side.
          const through = a * b < 0 && Math.abs(a) + Math.abs(b) < 90 && steps[1]! < 180;
          const near = Math.abs(b) < LOCK || Math.abs(a) < LOCK;
          if (!through && !near) continue;
          turns.done = true;
          const at = Math.abs(a) < Math.abs(b) ? frame - 1 : frame;
          const [outer, middle, inner] = turns.names;
          tell(told, turns.id, {
            code: 'gimbal.lock',
            severity: 'warning',
            address: `${turns.id}/rotation.${middle.toLowerCase()}`,
            frame: at,
            amount: at === frame ? now[1] : before[1],
            message: `${plan.shot.parts[turns.id]!.name}: at frame ${at} its rotation ${middle} is ${shownNumber(at === frame ? now[1] : before[1])} degrees, ${near ? 'where' : 'and goes through 90, where'} ${outer} and ${inner} turn about the same axis. Another order of rotation, or a hub above, avoids it.`,
          });
        }
      },
      finish: () => told,
    };
  },
};
