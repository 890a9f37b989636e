import { channelAt } from '../document';
import { Evaluator, MATRIX_SIZE } from './evaluator';
import type { Plan } from './plan';

/** A table of values: `columns` numbers for each frame, row by row. */
export interface SampleTable {
  readonly frames: Float64Array;
  readonly columns: number;
  readonly values: Float64Array;
}

/** Part and copy of an address `part/world` or `part/world#3` (copies from 0), or `null` for a channel. */
function worldOf(address: string): { part: string; copy: number | null } | null {
  const match = /^([^/]+)\/world(?:#(\d+))?$/.exec(address);
  return match ? { part: match[1]!, copy: match[2] === undefined ? null : Number(match[2]) } : null;
}

/** Numbers that one address gives per frame: 16 for `.../world`, 3 for a colour, else 1. */
export function widthOf(plan: Plan, address: string): number {
  if (worldOf(address)) return 16;
  return channelAt(plan.shot, address)?.spec.kind === 'colour' ? 3 : 1;
}

/**
 * Values of channels at frames `from`, `from + step`, ... up to and including `to`. The address `part/world`
 * gives the world matrix, 16 numbers row by row; `part/world#3` that of the part's copy 3 below a repeat, from 0, with NaN
 * at frames where there are fewer copies.
 * @throws RangeError for an unknown address, a step that is not above 0, or more than a million frames
 */
export function sample(
  plan: Plan,
  addresses: readonly string[],
  from: number,
  to: number,
  step = 1,
): SampleTable {
  if (!(step > 0)) throw new RangeError(`The step ${step} must be above 0.`);
  const count = Math.floor((to - from) / step + 1e-9) + 1;
  if (!(count >= 1 && count <= 1_000_000))
    throw new RangeError(`Frames ${from} to ${to} by ${step} are ${count} rows: 1 to 1000000 are allowed.`);
  for (const address of addresses) {
    const world = worldOf(address);
    const node = world ? plan.nodeOf.get(world.part) : undefined;
    const known = world ? node !== undefined : plan.slots.has(address);
    if (world?.copy && node !== undefined && plan.nodeWithin[node]! < 0)
      throw new RangeError(`${world.part} hangs below no repeat: it has no copies.`);
    if (!known) throw new RangeError(`There is no channel ${address} in this shot.`);
  }
  const widths = addresses.map((address) => widthOf(plan, address));
  const columns = widths.reduce((sum, width) => sum + width, 0);
  const frames = new Float64Array(count);
  const values = new Float64Array(count * columns);
  const evaluator = new Evaluator(plan);
  for (let i = 0; i < count; i++) {
    frames[i] = from + i * step;
    evaluator.evaluate(frames[i]!);
    let at = i * columns;
    addresses.forEach((address, j) => {
      writeValue(evaluator, address, widths[j]!, values, at);
      at += widths[j]!;
    });
  }
  return { frames, columns, values };
}

function writeValue(
  evaluator: Evaluator,
  address: string,
  width: number,
  out: Float64Array,
  at: number,
): void {
  if (width === 16) {
    const { part, copy } = worldOf(address)!;
    const node = evaluator.plan.nodeOf.get(part)!;
    const copies = copy === null ? null : evaluator.copiesOf(part);
    if (copies && copy! >= copies.count) out.fill(NaN, at, at + 16);
    else {
      const from = copies ? copies.matrices : evaluator.world;
      const start = (copies ? copy! : node) * MATRIX_SIZE;
      out.set(from.subarray(start, start + MATRIX_SIZE), at);
      out[at + 15] = 1;
    }
  } else if (width === 3) out.set(evaluator.colour(address), at);
  else out[at] = evaluator.number(address);
}
