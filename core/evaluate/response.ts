import { splitAddress, tableOf, type Shot } from '../document';
import { compile } from './compile';
import { Evaluator } from './evaluator';
import type { Plan } from './plan';

/** Points of a curve: what is swept, and the value there with its slope per unit of what is swept. */
export interface Response {
  readonly x: readonly number[];
  readonly y: readonly number[];
  readonly slope: readonly number[];
}

/** Central differences, one-sided at the ends. */
function slopes(x: readonly number[], y: readonly number[]): number[] {
  return y.map((_, i) => {
    const [a, b] = [Math.max(0, i - 1), Math.min(y.length - 1, i + 1)];
    return (y[b]! - y[a]!) / (x[b]! - x[a]! || 1);
  });
}

/** A channel over a range of frames; the slope is per frame. */
export function responseOverTime(
  plan: Plan,
  address: string,
  from: number,
  to: number,
  points = 241,
): Response {
  const evaluator = new Evaluator(plan);
  const x = Array.from({ length: points }, (_, i) => from + ((to - from) * i) / (points - 1));
  const y = x.map((frame) => {
    evaluator.evaluate(frame);
    return evaluator.number(address);
  });
  return { x, y, slope: slopes(x, y) };
}

/** The shot with one channel led by hand: without its keys and its link. */
function ledByHand(shot: Shot, address: string): Shot {
  const { owner, path } = splitAddress(address);
  const table = tableOf(owner)!;
  const record = shot[table][owner];
  if (!record) return shot;
  const without = <T>(entries: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(Object.entries(entries).filter(([name]) => name !== path));
  const led = { ...record, tracks: without(record.tracks), links: without(record.links) };
  return { ...shot, [table]: { ...shot[table], [owner]: led } };
}

/** A channel at one frame while another one is swept by hand over a range, whatever keys and links it has. */
export function responseToInput(
  plan: Plan,
  address: string,
  input: string,
  frame: number,
  from: number,
  to: number,
  points = 241,
): Response {
  const evaluator = new Evaluator(compile(ledByHand(plan.shot, input)));
  const x = Array.from({ length: points }, (_, i) => from + ((to - from) * i) / (points - 1));
  const y = x.map((value) => {
    evaluator.setOverrides([[input, value]]);
    evaluator.evaluate(frame);
    return evaluator.number(address);
  });
  return { x, y, slope: slopes(x, y) };
}
