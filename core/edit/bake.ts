import { fitStretches, sampleTrack } from '../curve';
import {
  channelAt,
  linkOf,
  RANGE_LIMIT,
  sortedKeys,
  trackOf,
  type Key,
  type Shot,
  type Value,
} from '../document';
import { Evaluator, sample, type Plan } from '../evaluate';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { componentsOf } from './put-key';
import { channelName, EditRefused } from './values';

/** An edit that keeps a curve within a tolerance, and how far it really is off. */
export interface Measured {
  readonly change: Change;
  /** Largest difference from what was there, in the channel's unit, looked for four times a frame. */
  readonly error: number;
}

const LOOKS_PER_FRAME = 4;

/**
 * Writes what channels do, links and clips included, into keys every `every` frames, and takes their links away. Frames
 * in between are as the keys' automatic handles have them, or straight where every frame is keyed.
 * @param plan of the same shot
 * @throws EditRefused for a range or step out of bounds, or a channel that cannot be keyed
 */
export function bake(
  shot: Shot,
  plan: Plan,
  addresses: readonly string[],
  from: number,
  to: number,
  every = 1,
  random?: () => number,
): Measured {
  if (!(every > 0) || !(to > from) || (to - from) / every > RANGE_LIMIT)
    throw new EditRefused(
      `Frames ${from} to ${to} every ${every} cannot be baked: 2 to ${RANGE_LIMIT} keys are allowed.`,
    );
  const draft = new Draft(shot);
  for (const address of addresses) {
    const spec = channelAt(shot, address)?.spec;
    if (!spec?.animatable) throw new EditRefused(`${channelName(shot, address)} cannot be keyed.`);
    const table = sample(plan, [address], from, to, every);
    const manner: Key['manner'] =
      spec.kind === 'switch' || spec.whole ? 'hold' : every <= 1 ? 'linear' : 'curve';
    const keys: Record<string, Key> = {};
    table.frames.forEach((frame, i) => {
      const numbers = [...table.values.subarray(i * table.columns, (i + 1) * table.columns)];
      const value: Value = numbers.length === 1 ? numbers[0]! : (numbers as [number, number, number]);
      keys[makeId('key', random)] = { frame, value, manner };
    });
    draft.set(pathOf(address, 'tracks'), { before: 'hold', after: 'hold', keys });
    if (linkOf(shot, address)) draft.set(pathOf(address, 'links'), undefined);
  }
  return {
    change: draft.change(
      addresses.length === 1
        ? `Bake ${channelName(shot, addresses[0]!)}`
        : `Bake ${addresses.length} channels`,
    ),
    error: bakedError(draft.shot, plan, addresses, from, to),
  };
}

function bakedError(shot: Shot, plan: Plan, addresses: readonly string[], from: number, to: number): number {
  const evaluator = new Evaluator(plan);
  const tracks = addresses.map((address) => componentsOf(shot, address, trackOf(shot, address)!));
  let error = 0;
  const count = Math.floor((to - from) * LOOKS_PER_FRAME);
  for (let i = 0; i <= count; i++) {
    const frame = from + i / LOOKS_PER_FRAME;
    evaluator.evaluate(frame);
    addresses.forEach((address, k) => {
      const components = tracks[k]!;
      const want = components.length === 3 ? evaluator.colour(address) : [evaluator.number(address)];
      components.forEach((component, c) => {
        error = Math.max(error, Math.abs(sampleTrack(component, frame) - want[c]!));
      });
    });
  }
  return error;
}

/**
 * Leaves as few keys as possible on number channels so that the curve stays within a tolerance (in the channel's unit)
 * of what it was. Held stretches and jumps stay as they are.
 * @throws EditRefused for a tolerance that is not above 0, or a colour
 */
export function thin(
  shot: Shot,
  addresses: readonly string[],
  tolerance: number,
  random?: () => number,
): Measured & { readonly before: number; readonly after: number } {
  if (!(tolerance > 0)) throw new EditRefused(`The tolerance must be above 0, not ${tolerance}.`);
  const draft = new Draft(shot);
  let error = 0;
  let before = 0;
  let after = 0;
  for (const address of addresses) {
    const track = trackOf(shot, address);
    if (!track) continue;
    if (channelAt(shot, address)?.spec.kind === 'colour')
      throw new EditRefused(`${channelName(shot, address)} is a colour: only numbers can be thinned.`);
    const [component] = componentsOf(shot, address, track);
    const keys = sortedKeys(track).map(({ key }) => key);
    before += keys.length;
    const kept: Key[] = [];
    for (const [from, to] of runs(keys)) {
      const first = keys[from]!;
      const last = keys[to]!;
      if (from === to) {
        kept.push(first);
        continue;
      }
      const span = last.frame - first.frame;
      const steps = Math.max(4 * (to - from), Math.ceil(span * LOOKS_PER_FRAME));
      const values = Float64Array.from({ length: steps + 1 }, (_, i) =>
        i === steps ? (last.value as number) : sampleTrack(component!, first.frame + (span * i) / steps),
      );
      const stretches = fitStretches(values, 0, steps, tolerance);
      stretches.forEach((stretch, i) => {
        error = Math.max(error, stretch.error);
        const reach = (sample: number): number => (span * sample) / steps / 3;
        const arriving = stretches[i - 1];
        kept.push({
          frame: first.frame + (span * stretch.from) / steps,
          value: values[stretch.from]!,
          manner: 'curve',
          ...(arriving
            ? { left: { reach: reach(arriving.to - arriving.from), rise: arriving.rise2 } }
            : first.left
              ? { left: first.left }
              : {}),
          right: { reach: reach(stretch.to - stretch.from), rise: stretch.rise1 },
          handles: 'free',
        });
      });
      const end = stretches.at(-1)!;
      kept.push({
        ...last,
        left: { reach: (span * (end.to - end.from)) / steps / 3, rise: end.rise2 },
        handles: 'free',
      });
    }
    after += kept.length;
    if (kept.length >= keys.length) {
      after += keys.length - kept.length;
      continue;
    }
    const entries = Object.fromEntries(kept.map((key) => [makeId('key', random), key]));
    draft.set([...pathOf(address, 'tracks'), 'keys'], entries);
  }
  return {
    change: draft.change(
      addresses.length === 1
        ? `Thin ${channelName(shot, addresses[0]!)}`
        : `Thin ${addresses.length} channels`,
    ),
    error,
    before,
    after,
  };
}

/**
 * Runs of keys, first to last, joined by stretches that move. A held stretch, or two keys on one frame, ends a run; the
 * last key of a run that goes on held keeps its manner.
 */
function runs(keys: readonly Key[]): [number, number][] {
  const out: [number, number][] = [];
  let start = 0;
  keys.forEach((key, i) => {
    const next = keys[i + 1];
    if (next && key.manner !== 'hold' && next.frame > key.frame) return;
    out.push([start, i]);
    start = i + 1;
  });
  return out;
}
