import { pinName, shapeDefinition, type Link, type Pin, type PinKind, type Shot } from '../document';
import { compile, Evaluator } from '../evaluate';
import {
  foundOf,
  linkFromText,
  NameTable,
  PINNED,
  PINNED_PATHS,
  pinnedPlaces,
  readChain,
  writtenName,
} from '../formula';
import { LinkageMotion, orderOfSolution, type Group } from '../mechanism';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { EditRefused } from './values';

/** What a pinned part has to do with its linkage: it stands by itself, drives the others, or follows. */
export type PinnedRole = 'stands' | 'drives' | 'follows';

/** A pin to be made: a point of `a` in its own measure on a point, or a line, of `b`; `b` null is what both hang from. */
export interface NewPin {
  readonly kind: PinKind;
  readonly a: string;
  readonly at: readonly [number, number];
  readonly b: string | null;
  readonly on: readonly [number, number];
  /** Direction of the line of a slot or slide, degrees. */
  readonly line?: number;
}

type Triple = readonly [number, number, number];
const LINK: Link = { formula: PINNED, refs: {} };

/** Where the turning point of a part lies in its parent, and how far it is turned about z. */
export function poseOf(evaluator: Evaluator, part: string | null): [number, number, number] {
  if (part === null) return [0, 0, 0];
  const number = (path: string): number => evaluator.number(`${part}/${path}`);
  return [
    number('location.x') + number('pivot.x'),
    number('location.y') + number('pivot.y'),
    number('rotation.z') + number('rest.z'),
  ];
}

/** Pins that name a part. */
export function pinsOf(shot: Shot, part: string): string[] {
  return Object.keys(shot.pins).filter((id) => shot.pins[id]!.a === part || shot.pins[id]!.b === part);
}

/** What a part has to do with its linkage. */
export function roleOf(shot: Shot, part: string): PinnedRole {
  const found = foundOf(shot.parts[part]);
  return found.every(Boolean) ? 'follows' : found.some(Boolean) ? 'drives' : 'stands';
}

/** Channel by which a driving part is driven: its turn, or its place along the slide that it runs on. */
export function drivingPath(shot: Shot, part: string): (typeof PINNED_PATHS)[number] {
  const slide = pinsOf(shot, part).find((id) => shot.pins[id]!.kind === 'slide');
  if (slide === undefined) return 'rotation.z';
  const line = shot.pins[slide]!.values.line;
  const turned = Math.abs(((typeof line === 'number' ? line : 0) % 180) - 90);
  return turned < 45 ? 'location.y' : 'location.x';
}

/**
 * Joins two parts. A part that is pinned for the first time is moved by its pins from now on; one that is the first to be
 * pinned to something that stands drives. Where that makes one driver too many, a driver that nobody has keyed or linked
 * follows. The pose at the evaluated frame is the one that is drawn.
 * @throws EditRefused where the two do not hang from the same part, or one cannot be pinned
 */
export function addPin(
  shot: Shot,
  evaluator: Evaluator,
  spec: NewPin,
  random?: () => number,
): { change: Change; id: string } {
  const { kind, a, b } = spec;
  demandPinned(shot, a, b);
  const draft = new Draft(shot);
  const id = makeId('pin', random);
  const drawn = { a: poseOf(evaluator, a), b: poseOf(evaluator, b) };
  const values = {
    'at.x': spec.at[0],
    'at.y': spec.at[1],
    'on.x': spec.on[0],
    'on.y': spec.on[1],
    ...(kind === 'pin' ? {} : { line: spec.line ?? 0 }),
    ...(kind === 'slide' ? { turn: drawn.a[2] - drawn.b[2] } : {}),
  };
  const links = {
    ...eyeLink(shot, evaluator, a, 'at', spec.at),
    ...eyeLink(shot, evaluator, b, 'on', spec.on),
  };
  const pin: Pin = { kind, a, b, drawn, values, tracks: {}, links };
  draft.set(['pins', id], pin);
  const mover = moverOf(shot, a, b);
  if (mover !== null) {
    const holder = mover === a ? b : a;
    const stands = holder === null || roleOf(shot, holder) === 'stands';
    const first = stands && kind !== 'slot' && pinsOf(shot, mover).length === 0;
    assign(draft, mover, first || isDriven(draft.shot, mover) ? 'drives' : 'follows');
  }
  if (b !== null && mover !== b && pinsOf(shot, b).length === 0 && isOver(draft.shot, a))
    assign(draft, b, 'follows');
  settleDrivers(draft, a, b);
  drawAnew(draft, evaluator.frame, [a]);
  return { change: draft.change(`Pin: ${pinName(shot, pin)}`), id };
}

/** Takes a pin away. A part that no pin holds any more stays where it is and stands by itself. */
export function removePin(shot: Shot, evaluator: Evaluator, id: string): Change {
  const pin = shot.pins[id];
  if (!pin) throw new EditRefused('This pin is no longer in the shot.');
  const draft = new Draft(shot);
  draft.set(['pins', id], undefined);
  releaseLoose(draft, givenAt(evaluator));
  drawAnew(draft, evaluator.frame, pin.b === null ? [pin.a] : [pin.a, pin.b]);
  return draft.change(`Unpin: ${pinName(shot, pin)}`);
}

/** Sets what a part has to do with its linkage; its pose at the evaluated frame stays where nothing drives it otherwise. */
export function setPinnedRole(shot: Shot, evaluator: Evaluator, part: string, role: PinnedRole): Change {
  const draft = new Draft(shot);
  keepPose(draft, part, givenAt(evaluator));
  assign(draft, part, role);
  drawAnew(draft, evaluator.frame, [part]);
  const name = shot.parts[part]?.name ?? part;
  return draft.change(
    { stands: `${name} stands`, drives: `${name} drives`, follows: `${name} follows` }[role],
  );
}

/**
 * Puts the pair to which a part belongs together the other way round: its joint on the other side.
 * @throws EditRefused where it has only one way
 */
export function turnPairOver(shot: Shot, evaluator: Evaluator, part: string): Change {
  const place = pinnedPlaces(shot).get(part);
  const name = shot.parts[part]?.name ?? part;
  if (!place?.ok) throw new EditRefused(`Nothing pinned moves ${name}.`);
  const { linkage, body } = place;
  const motion = new LinkageMotion(linkage.chain, linkage.drawn);
  const { joints } = readChain(linkage, (address) => evaluator.number(address)).numbers;
  const poses = Float64Array.from(linkage.bodies.flatMap((id) => poseOf(evaluator, id)));
  const turned = motion.turnedOver({ poses, joints }, body);
  if (!turned) throw new EditRefused(`${name} fits together in one way only.`);
  const draft = new Draft(shot);
  writeDrawn(draft, linkage.pins, (id) => {
    const at = linkage.bodies.indexOf(id) * 3;
    return [turned[at]!, turned[at + 1]!, turned[at + 2]!];
  });
  return draft.change(`Turn ${name} over`);
}

/** Groups of a linkage, with the names of its parts, as they are solved one after another. */
export function solutionOf(
  shot: Shot,
  part: string,
): readonly (Group & { readonly parts: readonly string[] })[] {
  const place = pinnedPlaces(shot).get(part);
  if (!place?.ok) return [];
  const { chain, bodies } = place.linkage;
  return orderOfSolution(chain).map((group) => ({
    ...group,
    parts: group.bodies.map((body) => bodies[body]!),
  }));
}

/** After parts have gone from a draft: their pins go, and what is held by none stands by itself, where it was drawn. */
export function removePinsOf(draft: Draft, gone: ReadonlySet<string>): void {
  const drawn = new Map<string, Triple>();
  for (const [id, pin] of Object.entries(draft.shot.pins)) {
    if (!gone.has(pin.a) && (pin.b === null || !gone.has(pin.b))) continue;
    drawn.set(pin.a, pin.drawn.a);
    if (pin.b !== null) drawn.set(pin.b, pin.drawn.b);
    draft.set(['pins', id], undefined);
  }
  if (drawn.size === 0) return;
  releaseLoose(draft, (part, k) => {
    const stored = draft.shot.parts[part]!.values[['pivot.x', 'pivot.y', 'rest.z'][k]!];
    return (drawn.get(part)?.[k] ?? NaN) - (typeof stored === 'number' ? stored : 0);
  });
}

/** How near to an eye a point is to be meant by it, metres. */
const AT_EYE = 1e-6;

/** Shares of a shape's length at which it has its eyes; none for a shape without. */
export function eyesOf(shot: Shot, part: string): readonly (-0.5 | 0.5)[] {
  const shape = shot.shapes[shot.parts[part]?.shape ?? ''];
  return shape && shapeDefinition(shape.kind).eyes !== undefined ? [-0.5, 0.5] : [];
}

/** A pin at an eye of a bar goes on lying there when the bar is made longer: its point is linked to the bar's length. */
function eyeLink(
  shot: Shot,
  evaluator: Evaluator,
  part: string | null,
  end: 'at' | 'on',
  [x, y]: readonly [number, number],
): Pin['links'] {
  if (part === null || Math.abs(y) > AT_EYE) return {};
  const { name, shape } = shot.parts[part]!;
  for (const share of eyesOf(shot, part)) {
    const path = shapeDefinition(shot.shapes[shape!]!.kind).eyes!;
    if (Math.abs(x - share * evaluator.number(`${shape}/${path}`)) > AT_EYE) continue;
    const formula = `${writtenName(name)}.${path} * ${share}`;
    return { [`${end}.x`]: linkFromText(new NameTable(shot), formula) };
  }
  return {};
}

function demandPinned(shot: Shot, a: string, b: string | null): void {
  const [one, two] = [shot.parts[a], b === null ? null : shot.parts[b]];
  if (!one || two === undefined) throw new EditRefused('This part is no longer in the shot.');
  if (a === b) throw new EditRefused('A part cannot be pinned to itself: choose a point on another part.');
  if (two && one.parent !== two.parent)
    throw new EditRefused(
      `${one.name} and ${two.name} do not hang from the same part: hang one where the other hangs, then pin them.`,
    );
  for (const part of [one, two])
    if (part && (part.follow ?? part.aim))
      throw new EditRefused(
        `${part.name} ${part.follow ? 'follows a path' : 'faces another part'}: end that first, then pin it.`,
      );
}

/** Whether keys or a link of its own drive a part. */
function isDriven(shot: Shot, part: string): boolean {
  const path = drivingPath(shot, part);
  const { links, tracks } = shot.parts[part]!;
  return tracks[path] !== undefined || (links[path] !== undefined && links[path].formula.trim() !== PINNED);
}

/** Links and unlinks what a role says; channels with a link of somebody's own keep it. */
function assign(draft: Draft, part: string, role: PinnedRole): void {
  const free = role === 'drives' ? drivingPath(draft.shot, part) : null;
  for (const path of PINNED_PATHS) {
    const link = draft.shot.parts[part]!.links[path];
    const isPinned = link?.formula.trim() === PINNED;
    if (role === 'stands' || path === free) {
      if (isPinned) draft.set(['parts', part, 'links', path], undefined);
    } else if (!link) draft.set(['parts', part, 'links', path], LINK);
  }
}

/** What pins give a part: its location x and y and its rotation z (0, 1, 2). */
type GivenBy = (part: string, k: number) => number;

const givenAt =
  (evaluator: Evaluator): GivenBy =>
  (part, k) =>
    evaluator.number(`${part}/${PINNED_PATHS[k]}`);

/** Stores what pins give a part as its own, where nothing is keyed. */
function keepPose(draft: Draft, part: string, given: GivenBy): void {
  PINNED_PATHS.forEach((path, k) => {
    const { links, tracks } = draft.shot.parts[part]!;
    const value = given(part, k);
    if (links[path]?.formula.trim() !== PINNED || tracks[path] || !Number.isFinite(value)) return;
    draft.set(['parts', part, 'values', path], value);
  });
}

/** Parts that pins move and no pin holds stand by themselves, where they are. */
function releaseLoose(draft: Draft, given: GivenBy): void {
  const held = new Set(Object.values(draft.shot.pins).flatMap(({ a, b }) => [a, b]));
  for (const [id, part] of Object.entries(draft.shot.parts)) {
    if (held.has(id) || !foundOf(part).some(Boolean)) continue;
    keepPose(draft, id, given);
    assign(draft, id, 'stands');
  }
}

/** Which of two parts a new pin between them begins to move, if any. */
function moverOf(shot: Shot, a: string, b: string | null): string | null {
  if (roleOf(shot, a) !== 'stands') return null;
  if (b === null || pinsOf(shot, a).length === 0) return a;
  if (roleOf(shot, b) !== 'stands') return null;
  return pinsOf(shot, b).length === 0 ? b : a;
}

function isOver(shot: Shot, part: string): boolean {
  return solutionOf(shot, part).some(({ sort }) => sort === 'over');
}

/** Where a linkage has more conditions than it can keep, a driver that nobody keys or links follows. */
function settleDrivers(draft: Draft, ...ends: readonly (string | null)[]): void {
  const { shot } = draft;
  const part = ends.find((end): end is string => end !== null && pinnedPlaces(shot).get(end)?.ok === true);
  const place = part === undefined ? undefined : pinnedPlaces(shot).get(part);
  if (!place?.ok || !isOver(shot, part!)) return;
  const drivers = place.linkage.bodies.filter(
    (id): id is string => id !== null && roleOf(shot, id) === 'drives',
  );
  const spare = drivers.filter((id) => !isDriven(shot, id));
  const chosen = spare.findLast((id) => ends.includes(id)) ?? spare.at(-1);
  if (drivers.length < 2 || chosen === undefined) return;
  assign(draft, chosen, 'follows');
  settleDrivers(draft, ...ends);
}

/** Takes the poses to which the linkages of parts settle at a frame as those in which they are drawn. */
function drawAnew(draft: Draft, frame: number, parts: readonly string[]): void {
  const linkages = new Set(
    parts.flatMap((part) => {
      const place = pinnedPlaces(draft.shot).get(part);
      return place?.ok ? [place.linkage] : [];
    }),
  );
  if (linkages.size === 0) return;
  const evaluator = new Evaluator(compile(draft.shot));
  evaluator.evaluate(Number.isFinite(frame) ? frame : draft.shot.setup.first);
  for (const { bodies, pins } of linkages) {
    const lost = bodies.some(
      (id) => id !== null && PINNED_PATHS.some((path) => evaluator.hasFailed(`${id}/${path}`)),
    );
    if (!lost) writeDrawn(draft, pins, (id) => poseOf(evaluator, id));
  }
}

function writeDrawn(draft: Draft, pins: readonly string[], pose: (part: string | null) => Triple): void {
  for (const id of pins) {
    const { a, b } = draft.shot.pins[id]!;
    draft.set(['pins', id, 'drawn'], { a: pose(a), b: b === null ? [0, 0, 0] : pose(b) });
  }
}
