import {
  PLACE_CHANNELS,
  RANGE_LIMIT,
  subtreeOf,
  type Key,
  type Part,
  type Shot,
  type Track,
} from '../document';
import { compile, Evaluator, MATRIX_SIZE, type Plan } from '../evaluate';
import {
  decompose,
  identity,
  invert,
  multiply,
  nearestEuler,
  type Affine,
  type RotationOrder,
} from '../transform';
import type { Measured } from './bake';
import { Draft } from './change';
import { makeId } from './make-id';
import { stopFollowing } from './parts';
import { EditRefused } from './values';

/** Location, rotation and scale along three axes each: what a matrix says. */
const PLACE_PATHS = PLACE_CHANNELS.slice(0, 9).map((spec) => spec.path);
const LOOKS_PER_FRAME = 4;

/** Frames of a range, with its last one. @throws EditRefused for a range or step out of bounds */
export function framesToBake(from: number, to: number, every: number): number[] {
  if (!(every > 0) || !(to > from) || (to - from) / every > RANGE_LIMIT)
    throw new EditRefused(
      `Frames ${from} to ${to} every ${every} cannot be baked: 2 to ${RANGE_LIMIT} keys are allowed.`,
    );
  const frames: number[] = [];
  for (let i = 0; from + i * every < to - 1e-9; i++) frames.push(from + i * every);
  return [...frames, to];
}

/** Values over frames as keys: one value where it stands still, else keys that are straight or eased between them. */
export function keysOver(
  frames: readonly number[],
  values: readonly number[],
  manner: Key['manner'],
  random?: () => number,
): number | Track {
  if (values.every((value) => value === values[0])) return values[0]!;
  const keys: Record<string, Key> = {};
  frames.forEach((frame, i) => (keys[makeId('key', random)] = { frame, value: values[i]!, manner }));
  return { before: 'hold', after: 'hold', keys };
}

/** Writes places in the frame that a part hangs from, one for each frame, as values or keys of the part. */
export function writePlaces(
  draft: Draft,
  id: string,
  frames: readonly number[],
  places: readonly Affine[],
  fixed: {
    readonly pivot: readonly [number, number, number];
    readonly rest: readonly [number, number, number];
  },
  random?: () => number,
): void {
  const part = draft.shot.parts[id]!;
  const order: RotationOrder = part.rotationOrder;
  const columns = PLACE_PATHS.map((): number[] => []);
  let near: readonly number[] = [0, 0, 0];
  for (const place of places) {
    const split = decompose(place, fixed.pivot, fixed.rest, order);
    if (!split)
      throw new EditRefused(`"${part.name}" has size 0 in the range: its place cannot be worked out there.`);
    near = nearestEuler(split.rotation, order, near);
    [...split.location, ...near, ...split.scale].forEach((value, i) => columns[i]!.push(tidied(value)));
  }
  const manner: Key['manner'] = frames.length > 1 && frames[1]! - frames[0]! <= 1 ? 'linear' : 'curve';
  PLACE_PATHS.forEach((path, i) => {
    const written = keysOver(frames, columns[i]!, manner, random);
    draft.set(['parts', id, 'links', path], undefined);
    draft.set(['parts', id, 'tracks', path], typeof written === 'number' ? undefined : written);
    if (typeof written === 'number') draft.set(['parts', id, 'values', path], written);
  });
}

/** Twelve places after the point: what lies below comes from working with matrices, and would key what stands still. */
const tidied = (value: number): number => Math.round(value * 1e12) / 1e12 + 0;

function triple(evaluator: Evaluator, id: string, name: string): [number, number, number] {
  return [
    evaluator.number(`${id}/${name}.x`),
    evaluator.number(`${id}/${name}.y`),
    evaluator.number(`${id}/${name}.z`),
  ];
}

/** Matrix that a part hangs from. */
export function frameAbove(evaluator: Evaluator, parent: string | null): Affine {
  if (parent === null) return identity();
  const node = evaluator.plan.nodeOf.get(parent)!;
  return evaluator.world.slice(node * MATRIX_SIZE, (node + 1) * MATRIX_SIZE);
}

/** Whether a part is shown in copies: something above it repeats. */
export function liesInCopies(shot: Shot, id: string): boolean {
  for (let at = shot.parts[id]?.parent ?? null; at !== null; at = shot.parts[at]?.parent ?? null)
    if (shot.parts[at]?.kind === 'repeat') return true;
  return false;
}

const carriedBy = ({ aim, follow }: Part): boolean => aim !== undefined || follow !== undefined;

/**
 * Writes where parts are that face others or are carried along paths into keys of their own location, rotation and scale,
 * one each `every` frames, and lets them face and follow nothing any more. Links of those channels go with it.
 * @param plan of the same shot
 * @throws EditRefused for a range or step out of bounds, parts that are neither, a pivot or rest turn that moves, or a part
 * in copies, where each copy faces from where it stands itself
 */
export function bakePlaces(
  shot: Shot,
  plan: Plan,
  ids: readonly string[],
  from: number,
  to: number,
  every = 1,
  random?: () => number,
): Measured {
  const frames = framesToBake(from, to, every);
  const carried = ids.filter((id) => shot.parts[id] && carriedBy(shot.parts[id]));
  if (carried.length === 0)
    throw new EditRefused('None of the chosen parts faces another or is carried along a path.');
  const evaluator = new Evaluator(plan);
  const draft = new Draft(shot);
  const places = new Map(carried.map((id) => [id, [] as Affine[]]));
  evaluator.evaluate(from);
  const fixed = new Map(
    carried.map((id) => [id, { pivot: triple(evaluator, id, 'pivot'), rest: triple(evaluator, id, 'rest') }]),
  );
  for (const id of carried) {
    const { name, tracks, links } = shot.parts[id]!;
    if (liesInCopies(shot, id))
      throw new EditRefused(`"${name}" is shown in copies: turn the copies into parts of their own first.`);
    for (const record of [tracks, links])
      if (Object.keys(record).some((path) => /^(pivot|rest)\./.test(path)))
        throw new EditRefused(`The pivot or rest turn of "${name}" moves: its place cannot be baked.`);
  }
  for (const frame of frames) {
    evaluator.evaluate(frame);
    for (const id of carried) {
      const above = invert(frameAbove(evaluator, shot.parts[id]!.parent));
      if (!above)
        throw new EditRefused(`What "${shot.parts[id]!.name}" hangs from has size 0 at frame ${frame}.`);
      places.get(id)!.push(multiply(above, evaluator.worldOf(id)!));
    }
  }
  for (const id of carried) {
    if (shot.parts[id]!.follow) stopFollowing(draft, id);
    draft.set(['parts', id, 'aim'], undefined);
    writePlaces(draft, id, frames, places.get(id)!, fixed.get(id)!, random);
  }
  const words = carried.length === 1 ? shot.parts[carried[0]!]!.name : `${carried.length} parts`;
  const change = draft.change(`Bake the way of ${words}`);
  return { change, error: placeError(draft.shot, evaluator, carried, from, to) };
}

/** Largest difference of the places of parts and all below them, metres, looked for four times a frame. */
function placeError(
  after: Shot,
  before: Evaluator,
  ids: readonly string[],
  from: number,
  to: number,
): number {
  const now = new Evaluator(compile(after));
  const all = ids.flatMap((id) => subtreeOf(after, id));
  let error = 0;
  const count = Math.floor((to - from) * LOOKS_PER_FRAME);
  for (let i = 0; i <= count; i++) {
    const frame = from + i / LOOKS_PER_FRAME;
    before.evaluate(frame);
    now.evaluate(frame);
    for (const id of all) {
      const [a, b] = [before.worldOf(id)!, now.worldOf(id)!];
      for (const k of [3, 7, 11]) error = Math.max(error, Math.abs(a[k]! - b[k]!));
    }
  }
  return error;
}
