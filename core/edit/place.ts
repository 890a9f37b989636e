import {
  FOLLOW_CHANNELS,
  freeName,
  isWithin,
  PLACE_CHANNELS,
  trackOf,
  type Aim,
  type Follow,
  type Part,
  type RepeatOptions,
  type Shot,
} from '../document';
import { MATRIX_SIZE, type Evaluator } from '../evaluate';
import {
  decompose,
  identity,
  invert as invertMatrix,
  localMatrix,
  multiply,
  nearestEuler,
  transformPoint,
  type Affine,
} from '../transform';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { topmost } from './copies';
import { makeId } from './make-id';
import { orderAfterLast, stopFollowing, type Added } from './parts';
import { putKey } from './put-key';
import { shiftLocation, tidy } from './shift-location';
import { demandValue, EditRefused } from './values';

/**
 * Why a part may not stay where it is everywhere: `animated`, it is keyed, so that only the frame shown is sure;
 * `linked`, a link decides where it is; `sheared`, no turn and size gives the same shape below the new parent.
 */
export type PlaceWarning = 'animated' | 'linked' | 'sheared';

/** An edit that keeps parts where they are at the evaluator's frame, and what stands in the way of that. */
export interface Kept {
  readonly change: Change;
  readonly warning: PlaceWarning | null;
}

type Triple = [number, number, number];

function demandPart(shot: Shot, id: string): Part {
  const part = shot.parts[id];
  if (!part) throw new EditRefused('This part is no longer in the shot.');
  return part;
}

function read(evaluator: Evaluator, id: string, name: string): Triple {
  return [`${id}/${name}.x`, `${id}/${name}.y`, `${id}/${name}.z`].map((address) =>
    evaluator.number(address),
  ) as Triple;
}

/** Matrix that children of a part hang from; below a repeat that of its first copy. */
function frameOf(evaluator: Evaluator, parent: string | null): Affine {
  if (parent === null) return identity();
  const { plan, world } = evaluator;
  const node = plan.nodeOf.get(parent)!;
  const repeat = plan.nodeRepeat[node]!;
  const at = (repeat >= 0 ? plan.nodes.length + repeat : node) * MATRIX_SIZE;
  return world.slice(at, at + MATRIX_SIZE);
}

/**
 * Writes numbers of a part's place where they count at a frame: into a key where there are keys, else as stored.
 * @throws EditRefused where a number would lie beyond the channel's limits
 */
function placeAt(
  draft: Draft,
  id: string,
  frame: number,
  entries: readonly [path: string, value: number][],
): void {
  for (const [path, value] of entries) {
    const address = `${id}/${path}`;
    demandValue(draft.shot, address, value);
    const track = trackOf(draft.shot, address);
    if (track) putKey(draft, address, frame, value);
    else draft.set(pathOf(address, 'values'), value + 0);
  }
}

function warningOf(part: Part, names: readonly string[], sheared: boolean): PlaceWarning | null {
  const concerns = (record: object): boolean =>
    Object.keys(record).some((path) => names.includes(path.split('.')[0]!));
  if (concerns(part.links)) return 'linked';
  if (concerns(part.tracks)) return 'animated';
  return sheared ? 'sheared' : null;
}

/** Gives a part the local place that puts it at `world` below `frame`. */
function settle(
  draft: Draft,
  evaluator: Evaluator,
  id: string,
  world: Affine,
  frame: Affine,
  aboveName: string,
): PlaceWarning | null {
  const part = draft.shot.parts[id]!;
  const inverse = invertMatrix(frame);
  if (!inverse)
    throw new EditRefused(`"${aboveName}" has size 0 at this frame: nothing can keep its place below it.`);
  const pivot = read(evaluator, id, 'pivot');
  const local = decompose(multiply(inverse, world), pivot, read(evaluator, id, 'rest'), part.rotationOrder);
  if (!local)
    throw new EditRefused(`"${part.name}" has size 0 at this frame: its place cannot be worked out.`);
  const turned = read(evaluator, id, 'rotation');
  const scaled = read(evaluator, id, 'scale');
  const rotation = nearestEuler(local.rotation, part.rotationOrder, turned);
  const now = [...read(evaluator, id, 'location'), ...turned, ...scaled];
  const wanted = [...local.location, ...rotation, ...local.scale];
  const entries = PLACE_CHANNELS.slice(0, 9).flatMap((spec, i): [string, number][] =>
    now[i] === wanted[i] || part.links[spec.path] ? [] : [[spec.path, wanted[i]!]],
  );
  placeAt(draft, id, evaluator.frame, entries);
  return warningOf(part, ['location', 'rotation', 'scale'], local.sheared);
}

const worst = (a: PlaceWarning | null, b: PlaceWarning | null): PlaceWarning | null =>
  a === 'linked' || b === 'linked' ? 'linked' : a === 'animated' || b === 'animated' ? 'animated' : (a ?? b);

/**
 * Hangs a part below another one (`null`: at the top). It stays where it is in the world at the evaluator's frame, to
 * 1e-9, unless the warning says otherwise; keyed channels get a key there.
 * @throws EditRefused for a part below itself, or a parent of size 0
 */
export function reparent(
  shot: Shot,
  evaluator: Evaluator,
  id: string,
  parent: string | null,
  order?: number,
): Kept {
  const part = demandPart(shot, id);
  if (parent !== null && !shot.parts[parent])
    throw new EditRefused('The new parent is no longer in the shot.');
  if (parent !== null && isWithin(shot, parent, id))
    throw new EditRefused(`"${part.name}" cannot hang below itself.`);
  const draft = new Draft(shot);
  draft.set(['parts', id, 'order'], order ?? orderAfterLast(shot, parent));
  if (parent === part.parent) return { change: draft.change(`Move ${part.name} in the tree`), warning: null };
  draft.set(['parts', id, 'parent'], parent);
  const name = parent === null ? '' : shot.parts[parent]!.name;
  const warning = settle(draft, evaluator, id, evaluator.worldOf(id)!, frameOf(evaluator, parent), name);
  return { change: draft.change(`Move ${part.name} below another part`), warning };
}

/**
 * Pivot and location with which a part turns about another point, given in its own measure, and stays where it is at the
 * evaluator's frame: the location makes up for the turn and size about the new point.
 */
export function pivotValues(
  shot: Shot,
  evaluator: Evaluator,
  id: string,
  pivot: Triple,
): [path: string, value: number][] {
  const part = demandPart(shot, id);
  const place = {
    location: read(evaluator, id, 'location'),
    rotation: read(evaluator, id, 'rotation'),
    scale: read(evaluator, id, 'scale'),
    rest: read(evaluator, id, 'rest'),
    order: part.rotationOrder,
  };
  const before = localMatrix({ ...place, pivot: read(evaluator, id, 'pivot') });
  const after = localMatrix({ ...place, pivot });
  const axes = ['x', 'y', 'z'];
  return [
    ...axes.map((axis, i): [string, number] => [`pivot.${axis}`, pivot[i]!]),
    ...axes.map((axis, i): [string, number] => [
      `location.${axis}`,
      place.location[i]! + before[i * 4 + 3]! - after[i * 4 + 3]!,
    ]),
  ];
}

/**
 * Puts a part's pivot at a point, given in the part's own measure. The part stays where it is at the evaluator's frame:
 * see `pivotValues`.
 */
export function movePivot(shot: Shot, evaluator: Evaluator, id: string, pivot: Triple): Kept {
  const part = demandPart(shot, id);
  const draft = new Draft(shot);
  placeAt(draft, id, evaluator.frame, pivotValues(shot, evaluator, id, pivot));
  return {
    change: draft.change(`Move the pivot of ${part.name}`),
    warning: warningOf(part, ['location', 'rotation', 'scale', 'pivot'], false),
  };
}

/** A new hub between parts and what the first of them hangs from, at a place in the measure of that; the parts stay. */
function hubBetween(
  shot: Shot,
  evaluator: Evaluator,
  ids: readonly string[],
  name: string,
  at: Triple,
  random?: () => number,
): Added & Kept {
  const first = demandPart(shot, ids[0] ?? '');
  const { parent } = first;
  const draft = new Draft(shot);
  const id = makeId('prt', random);
  const hub: Part = {
    kind: 'hub',
    name: freeName(shot, name),
    parent,
    order: first.order,
    rotationOrder: 'XYZ',
    shape: null,
    look: null,
    values: { 'location.x': at[0] + 0, 'location.y': at[1] + 0, 'location.z': at[2] + 0 },
    tracks: {},
    links: {},
  };
  draft.set(['parts', id], hub);
  const hubFrame = multiply(
    frameOf(evaluator, parent),
    localMatrix({
      location: at,
      rotation: [0, 0, 0],
      scale: [1, 1, 1],
      pivot: [0, 0, 0],
      rest: [0, 0, 0],
      order: 'XYZ',
    }),
  );
  const back = at.map((value) => -value + 0) as Triple;
  let warning: PlaceWarning | null = null;
  ids.forEach((child, i) => {
    const hung = demandPart(shot, child).parent;
    draft.set(['parts', child, 'parent'], id);
    draft.set(['parts', child, 'order'], i);
    // What hung beside the hub only moves by the hub's place, at every frame.
    if (hung === parent && shiftLocation(draft, child, back)) return;
    warning = worst(warning, settle(draft, evaluator, child, evaluator.worldOf(child)!, hubFrame, hub.name));
  });
  return { id, change: draft.change(`Put ${hub.name} above ${first.name}`), warning };
}

/**
 * Puts one hub above parts, at a point of the world (the pivot of the first where none is given): a second point to turn,
 * size or move them about. The parts stay where they are.
 */
export function hubAbove(
  shot: Shot,
  evaluator: Evaluator,
  ids: string | readonly string[],
  point?: Triple,
  random?: () => number,
): Added & Kept {
  const roots = topmost(shot, [ids].flat());
  const part = demandPart(shot, roots[0] ?? '');
  const name = roots.length === 1 ? `${part.name} hub` : `${part.name} and others`;
  if (!point && !part.follow) {
    // In the measure of what it hangs from: no rounding on the way through the world.
    const [location, pivot] = [read(evaluator, roots[0]!, 'location'), read(evaluator, roots[0]!, 'pivot')];
    const at = location.map((value, i) => tidy(value + pivot[i]!)) as Triple;
    return hubBetween(shot, evaluator, roots, name, at, random);
  }
  const place =
    point ?? transformPoint(evaluator.worldOf(roots[0]!)!, ...read(evaluator, roots[0]!, 'pivot'));
  const inverse = invertMatrix(frameOf(evaluator, part.parent));
  if (!inverse) throw new EditRefused(`What "${part.name}" hangs from has size 0 at this frame.`);
  return hubBetween(shot, evaluator, roots, name, transformPoint(inverse, ...place), random);
}

/**
 * Gathers parts below a new hub at the origin of what the first of them hangs from: the numbers of parts that hang there
 * stay as they were typed. Parts that hang below another of the given ones are left where they hang.
 */
export function groupParts(
  shot: Shot,
  evaluator: Evaluator,
  ids: readonly string[],
  random?: () => number,
): Added & Kept {
  return hubBetween(shot, evaluator, topmost(shot, ids), 'Group', [0, 0, 0], random);
}

/** Lets a part face another one, or no longer (`null`). */
export function setAim(shot: Shot, id: string, aim: Aim | null): Change {
  const part = demandPart(shot, id);
  if (aim?.target === id) throw new EditRefused(`"${part.name}" cannot face itself.`);
  if (aim && !shot.parts[aim.target]) throw new EditRefused('The part to face is no longer in the shot.');
  if (aim && aim.axis.at(-1) === aim.up.at(-1))
    throw new EditRefused(`"${aim.up}" cannot point up: it lies along the axis that aims.`);
  const draft = new Draft(shot);
  draft.set(['parts', id, 'aim'], aim ?? undefined);
  return draft.change(
    aim ? `Let ${part.name} face ${shot.parts[aim.target]!.name}` : `Let ${part.name} face nothing`,
  );
}

/** Puts a part on the path through the children of another one, or takes it off (`null`). */
export function setFollow(shot: Shot, id: string, follow: Follow | null): Change {
  const part = demandPart(shot, id);
  const draft = new Draft(shot);
  if (!follow) {
    if (part.follow) stopFollowing(draft, id);
    return draft.change(`Take ${part.name} off its path`);
  }
  const path = shot.parts[follow.path];
  if (!path) throw new EditRefused('The path is no longer in the shot.');
  if (isWithin(shot, id, follow.path))
    throw new EditRefused(`"${part.name}" is itself a point of the path: hang it elsewhere first.`);
  draft.set(['parts', id, 'follow'], follow);
  if (part.values[FOLLOW_CHANNELS[0]!.path] === undefined)
    draft.set(['parts', id, 'values', FOLLOW_CHANNELS[0]!.path], 0);
  return draft.change(`Put ${part.name} on the path ${path.name}`);
}

/** Changes how a repeat shows its children. */
export function setRepeat(shot: Shot, id: string, options: Partial<RepeatOptions>): Change {
  const part = demandPart(shot, id);
  if (part.kind !== 'repeat') throw new EditRefused(`"${part.name}" is no repeat.`);
  if (options.step && shot.parts[options.step]?.parent !== id)
    throw new EditRefused(`The hub that sets the step must hang below "${part.name}".`);
  const draft = new Draft(shot);
  const now: RepeatOptions = part.repeat ?? { pattern: 'row', step: null };
  draft.set(['parts', id, 'repeat'], { ...now, ...options });
  return draft.change(`Change the copies of ${part.name}`);
}
