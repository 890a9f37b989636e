import { channelsOf, type Pin, type Shot } from '../document';
import { JOINT_SIZE, POSE_SIZE, type Chain, type ChainNumbers } from '../mechanism';

/** What a channel's link says that is found from the pins of its part. */
export const PINNED = 'pinned';

/** Channels that pins can give a part, in the order of a pose. */
export const PINNED_PATHS = ['location.x', 'location.y', 'rotation.z'] as const;

/** What else of a part tells where its points lie in the plane. */
const OTHER_PATHS = ['pivot.x', 'pivot.y', 'scale.x', 'scale.y', 'rest.z'] as const;
const BODY_INPUTS = PINNED_PATHS.length + OTHER_PATHS.length;
const PIN_PATHS = ['at.x', 'at.y', 'on.x', 'on.y', 'line', 'turn'] as const;

/** Parts that pins hold together, with the channels from which their places are found. */
export interface Linkage {
  readonly chain: Chain;
  /** Poses in which it was drawn. */
  readonly drawn: Float64Array;
  /** Part of each body; the first, the ground, is what they all hang from. */
  readonly bodies: readonly (string | null)[];
  /** Pin of each joint. */
  readonly pins: readonly string[];
  /** Addresses of what it reads, in the order in which `fillChain` takes their numbers; null counts as 0. */
  readonly inputs: readonly (string | null)[];
}

/** A part's place in a linkage, or why pins cannot hold it. */
export type PinnedPlace =
  | { readonly ok: true; readonly linkage: Linkage; readonly body: number }
  | { readonly ok: false; readonly trouble: string };

/** Which of x, y and turn of a part are found from pins. */
export function foundOf(part: Shot['parts'][string] | undefined): [boolean, boolean, boolean] {
  const links = part?.links;
  const has = (path: string): boolean => {
    const formula = links && Object.hasOwn(links, path) ? links[path]!.formula : '';
    return formula.trim() === PINNED;
  };
  return links && hasAny(links)
    ? [has('location.x'), has('location.y'), has('rotation.z')]
    : [false, false, false];
}

function hasAny(links: object): boolean {
  for (const _ in links) return true;
  return false;
}

interface Known {
  readonly places: ReadonlyMap<string, PinnedPlace>;
  readonly pins: readonly (readonly [id: string, pin: Pin])[];
  readonly parts: readonly (readonly [id: string, rests: string])[];
}

const ofShot = new WeakMap<Shot, Known>();
/** What was found last: linkages keep being the same objects while nothing that they are made of changes. */
let last: Known | null = null;

/** Whether two states of a pin join the same in the same way; its numbers may differ. */
export const sameJoint = (a: Pin | undefined, b: Pin): boolean =>
  a === b ||
  (a?.kind === b.kind &&
    a.a === b.a &&
    a.b === b.b &&
    [...a.drawn.a, ...a.drawn.b].join() === [...b.drawn.a, ...b.drawn.b].join());

/** What of a part a linkage rests on, as a word that is the same while nothing of it changes. */
function restsOf(shot: Shot, id: string): string {
  const part = shot.parts[id];
  if (!part) return 'gone';
  const options = [part.follow ? 'follows' : '', part.aim ? 'faces' : ''].join();
  return `${part.parent} ${foundOf(part).join()} ${options} ${part.name}`;
}

/** Places in linkages of all parts that a shot's pins name. */
export function pinnedPlaces(shot: Shot): ReadonlyMap<string, PinnedPlace> {
  const known = ofShot.get(shot);
  if (known) return known.places;
  const pins = Object.entries(shot.pins);
  const before = last;
  const still =
    before?.pins.length === pins.length &&
    before.pins.every(([id, pin]) => shot.pins[id] !== undefined && sameJoint(pin, shot.pins[id])) &&
    before.parts.every(([id, rests]) => restsOf(shot, id) === rests);
  const named = still
    ? before.parts
    : [...new Set(pins.flatMap(([, { a, b }]) => (b === null ? [a] : [a, b])))].map(
        (id) => [id, restsOf(shot, id)] as const,
      );
  const found = { places: still ? before.places : findPlaces(shot), pins, parts: named };
  ofShot.set(shot, found);
  if (pins.length > 0) last = found;
  return found.places;
}

function findPlaces(shot: Shot): Map<string, PinnedPlace> {
  const places = new Map<string, PinnedPlace>();
  const ofPart = new Map<string, string[]>();
  for (const [id, { a, b }] of Object.entries(shot.pins))
    for (const part of b === null ? [a] : [a, b]) {
      const list = ofPart.get(part);
      if (list) list.push(id);
      else ofPart.set(part, [id]);
    }
  const moves = (id: string): boolean => foundOf(shot.parts[id]).some(Boolean);
  for (const start of [...ofPart.keys()].sort()) {
    if (places.has(start) || !moves(start)) continue;
    const members = [start];
    for (let i = 0; i < members.length; i++) {
      if (!moves(members[i]!)) continue;
      for (const pin of ofPart.get(members[i]!) ?? []) {
        const { a, b } = shot.pins[pin]!;
        for (const other of [a, b]) if (other !== null && !members.includes(other)) members.push(other);
      }
    }
    const moving = new Set(members.filter(moves));
    const pins = [...new Set(members.flatMap((id) => (moving.has(id) ? ofPart.get(id)! : [])))].sort();
    const trouble = troubleOf(shot, members, moving);
    if (trouble) {
      for (const id of moving) places.set(id, { ok: false, trouble });
      continue;
    }
    const linkage = linkageOf(shot, members, pins);
    for (const id of moving) places.set(id, { ok: true, linkage, body: linkage.bodies.indexOf(id) });
  }
  return places;
}

function troubleOf(shot: Shot, members: readonly string[], moving: ReadonlySet<string>): string | null {
  const name = (id: string): string => shot.parts[id]?.name ?? id;
  const [first] = members;
  for (const id of members) {
    const part = shot.parts[id];
    if (!part) return `${id}, to which ${name(first!)} is pinned, is no longer here: take that pin away.`;
    if (part.parent !== shot.parts[first!]!.parent)
      return `${name(first!)} and ${name(id)} do not hang from the same part: pins join parts that do. Hang one where the other hangs.`;
    if (moving.has(id) && (part.follow ?? part.aim))
      return `${name(id)} ${part.follow ? 'follows a path' : 'faces another part'}: pins cannot move it, too.`;
  }
  return null;
}

function linkageOf(shot: Shot, members: readonly string[], pins: readonly string[]): Linkage {
  const bodies = [null, ...members];
  const bodyOf = new Map(bodies.map((id, body) => [id, body]));
  const drawn = new Float64Array(bodies.length * POSE_SIZE);
  const found = bodies.map((id) => foundOf(id === null ? undefined : shot.parts[id]));
  const inputs: (string | null)[] = [];
  bodies.forEach((id, body) => {
    PINNED_PATHS.forEach((path, k) => inputs.push(id === null || found[body]![k] ? null : `${id}/${path}`));
    for (const path of OTHER_PATHS) inputs.push(id === null ? null : `${id}/${path}`);
  });
  for (const pin of pins) {
    const has = new Set(channelsOf(shot, pin).map(({ path }) => path));
    for (const path of PIN_PATHS) inputs.push(has.has(path) ? `${pin}/${path}` : null);
  }
  const joints = pins.map((id) => {
    const pin = shot.pins[id]!;
    const [a, b] = [bodyOf.get(pin.a)!, bodyOf.get(pin.b)!];
    drawn.set(pin.drawn.a, a * POSE_SIZE);
    if (b > 0) drawn.set(pin.drawn.b, b * POSE_SIZE);
    return { kind: pin.kind, a, b };
  });
  return { chain: { found, joints }, drawn, bodies, pins, inputs };
}

/** Puts the numbers of a linkage's inputs into the form in which a chain is solved. */
export function fillChain({ bodies, chain }: Linkage, inputs: Float64Array, out: ChainNumbers): void {
  const { poses, joints } = out;
  for (let body = 1; body < bodies.length; body++) {
    const at = body * BODY_INPUTS;
    poses[body * POSE_SIZE] = inputs[at]! + inputs[at + 3]!;
    poses[body * POSE_SIZE + 1] = inputs[at + 1]! + inputs[at + 4]!;
    poses[body * POSE_SIZE + 2] = inputs[at + 2]! + inputs[at + 7]!;
  }
  const first = bodies.length * BODY_INPUTS;
  chain.joints.forEach(({ a, b }, j) => {
    const from = first + j * PIN_PATHS.length;
    const to = j * JOINT_SIZE;
    for (let k = 0; k < 4; k++) {
      const body = k < 2 ? a : b;
      const at = body * BODY_INPUTS;
      const way = inputs[from + k]! - inputs[at + 3 + (k % 2)]!;
      joints[to + k] = body === 0 ? inputs[from + k]! : way * inputs[at + 5 + (k % 2)]!;
    }
    joints[to + 4] = inputs[from + 4]!;
    joints[to + 5] = inputs[from + 5]!;
  });
}

/** The numbers of a linkage as they are now: what it reads, and the same as a chain is solved. */
export function readChain(
  linkage: Linkage,
  number: (address: string) => number,
): { readonly inputs: Float64Array; readonly numbers: ChainNumbers } {
  const inputs = Float64Array.from(linkage.inputs, (address) => (address === null ? 0 : number(address)));
  const numbers = {
    poses: new Float64Array(linkage.drawn.length),
    joints: new Float64Array(linkage.pins.length * JOINT_SIZE),
  };
  fillChain(linkage, inputs, numbers);
  return { inputs, numbers };
}

/** Value of a part's channel (0 `location.x`, 1 `location.y`, 2 `rotation.z`) in a solved chain. */
export function valueOfPose(inputs: Float64Array, { poses }: ChainNumbers, body: number, k: number): number {
  return poses[body * POSE_SIZE + k]! - inputs[body * BODY_INPUTS + (k === 2 ? 7 : 3 + k)]!;
}
