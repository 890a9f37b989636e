import { channelAt } from '../document';
import { channelName } from '../edit';
import { Evaluator, type Plan } from '../evaluate';
import { movingAddresses } from './check-links';
import type { Problem } from './problem';

/** Difference of a value, or of its change per frame, that nobody sees: metres, degrees or the channel's own unit. */
const UNSEEN = 1e-3;
/** Frames between the samples from which a speed is told: one-sided, exact for a curve of second degree. */
const STEP = 1 / 8;

/**
 * The seam of a shot that is shown over and over: every moving channel against itself one range later. The frame after
 * the last is the first again; whole turns of a rotation do not count.
 */
export function checkSeam(plan: Plan): Problem[] {
  const problems: Problem[] = [];
  const { first, last } = plan.shot.setup;
  const addresses = [...movingAddresses(plan)].filter((address) => plan.slots.has(address));
  const read = (frame: number): number[][] => {
    evaluator.evaluate(frame);
    return addresses.map((address) =>
      channelAt(plan.shot, address)!.spec.kind === 'colour'
        ? evaluator.colour(address)
        : [evaluator.number(address)],
    );
  };
  const evaluator = new Evaluator(plan);
  const [start, end] = [read(first), read(last)];
  const [start1, start2] = [read(first + STEP), read(first + 2 * STEP)];
  const [end1, end2] = [read(last - STEP), read(last - 2 * STEP)];
  addresses.forEach((address, i) => {
    const turns = channelAt(plan.shot, address)!.spec.quantity === 'angle';
    const apart = (a: number, b: number): number =>
      turns ? Math.abs(a - b - 360 * Math.round((a - b) / 360)) : Math.abs(a - b);
    let value = 0;
    let speed = 0;
    start[i]!.forEach((number, c) => {
      value = Math.max(value, apart(end[i]![c]!, number));
      const arriving = (3 * end[i]![c]! - 4 * end1[i]![c]! + end2[i]![c]!) / (2 * STEP);
      const leaving = (4 * start1[i]![c]! - 3 * number - start2[i]![c]!) / (2 * STEP);
      speed = Math.max(speed, Math.abs(arriving - leaving));
    });
    const shown = (amount: number): number => Math.round(amount * 1e4) / 1e4;
    const name = channelName(plan.shot, address);
    if (value > UNSEEN)
      problems.push({
        code: 'loop.value',
        severity: 'warning',
        address,
        frame: last,
        amount: value,
        message: `${name} does not close: frame ${last} is ${shown(value)} away from frame ${first}.`,
      });
    else if (speed > UNSEEN)
      problems.push({
        code: 'loop.speed',
        severity: 'warning',
        address,
        frame: last,
        amount: speed,
        message: `${name} closes with a jolt: its speed changes by ${shown(speed)} per frame from frame ${last} to frame ${first}.`,
      });
  });
  return problems;
}
