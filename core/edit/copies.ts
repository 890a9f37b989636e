import {
  flipsAcross,
  freeName,
  isWithinAny,
  type Link,
  type MirrorAxis,
  ownerOf,
  type Part,
  shapeDefinition,
  type Shot,
  subtreeOf,
  usersOf,
} from '../document';
import { Draft, type Change } from './change';
import { mirroredJoint } from './joints';
import { makeId } from './make-id';
import { negated, negatedKey } from './negated-key';
import { orderAfterLast } from './parts';
import { shiftLocation } from './shift-location';
import { EditRefused } from './values';

/** Copies that were made, and which part each of the copied roots became. */
export interface Copied {
  readonly change: Change;
  readonly ids: readonly string[];
}

/** Parts of a list that do not hang below another one of it. */
export function topmost(shot: Shot, ids: readonly string[]): string[] {
  const all = new Set(ids);
  return ids.filter((id) => shot.parts[id] && !isWithinAny(shot, shot.parts[id].parent, all));
}

function copyParts(
  shot: Shot,
  roots: readonly string[],
  own: boolean,
  random: (() => number) | undefined,
  nameOf: (name: string, draft: Shot) => string,
): { draft: Draft; idOf: ReadonlyMap<string, string>; roots: readonly string[] } {
  const tops = topmost(shot, roots);
  if (tops.length === 0) throw new EditRefused('This part is no longer in the shot.');
  const draft = new Draft(shot);
  const ids = tops.flatMap((root) => subtreeOf(shot, root));
  const idOf = new Map(ids.map((id) => [id, makeId('prt', random)]));
  const copyOf = (id: string): string => idOf.get(id) ?? id;
  const inside = (links: Part['links']): Part['links'] =>
    Object.fromEntries(
      Object.entries(links).map(([path, link]): [string, Link] => [
        path,
        {
          formula: link.formula,
          refs: Object.fromEntries(Object.entries(link.refs).map(([name, ref]) => [name, copyOf(ref)])),
        },
      ]),
    );
  const shared = new Map<string, string>();
  const ownOf = (id: string | null, prefix: 'shp' | 'lok'): string | null => {
    if (id === null || !own) return id;
    const known = shared.get(id);
    if (known) return known;
    const copy = makeId(prefix, random);
    shared.set(id, copy);
    const owner = ownerOf(shot, id)!;
    draft.set([prefix === 'shp' ? 'shapes' : 'looks', copy], { ...owner, links: inside(owner.links) });
    return copy;
  };
  for (const id of ids) {
    // A copy is made to be seen: it does not go into the tray of its source.
    const { tray: _tray, ...part } = shot.parts[id]!;
    const isRoot = tops.includes(id);
    draft.set(['parts', copyOf(id)], {
      ...part,
      ...(part.aim ? { aim: { ...part.aim, target: copyOf(part.aim.target) } } : {}),
      ...(part.follow ? { follow: { ...part.follow, path: copyOf(part.follow.path) } } : {}),
      ...(part.repeat?.step ? { repeat: { ...part.repeat, step: copyOf(part.repeat.step) } } : {}),
      ...(part.glowOf === undefined ? {} : { glowOf: copyOf(part.glowOf) }),
      name: nameOf(part.name, draft.shot),
      parent: isRoot || part.parent === null ? part.parent : copyOf(part.parent),
      order: isRoot ? orderAfterLast(draft.shot, part.parent) : part.order,
      shape: ownOf(part.shape, 'shp'),
      look: ownOf(part.look, 'lok'),
      links: inside(part.links),
    });
  }
  copyPins(draft, idOf, random);
  copyContacts(draft, idOf, random);
  return { draft, idOf, roots: tops };
}

/**
 * Copies the pins that hold copied parts. A pin to a part that is not copied holds the copy, too; a copied part that no pin
 * moves stands.
 */
function copyPins(draft: Draft, idOf: ReadonlyMap<string, string>, random: (() => number) | undefined): void {
  for (const pin of Object.values(draft.shot.pins)) {
    const [a, b] = [idOf.get(pin.a), pin.b === null ? null : idOf.get(pin.b)];
    if (a === undefined && (b === undefined || b === null)) continue;
    draft.set(['pins', makeId('pin', random)], { ...pin, a: a ?? pin.a, b: b === undefined ? pin.b : b });
  }
}

/** What is meant to touch a copied part is meant to touch its copy. */
function copyContacts(
  draft: Draft,
  idOf: ReadonlyMap<string, string>,
  random: (() => number) | undefined,
): void {
  for (const contact of Object.values(draft.shot.contacts)) {
    const [a, b] = [idOf.get(contact.a), idOf.get(contact.b)];
    if (a === undefined && b === undefined) continue;
    draft.set(['contacts', makeId('con', random)], { ...contact, a: a ?? contact.a, b: b ?? contact.b });
  }
}

/** How far copies stand from their sources, metres along the axes of what they hang from. */
export type Beside = readonly [number, number, number];
const NOWHERE: Beside = [0, 0, 0];

/** Moves copied roots aside; one whose place is linked or on a path stays where its formula or path puts it. */
function standBeside(made: ReturnType<typeof copyParts>, beside: Beside): void {
  if (beside.every((value) => value === 0)) return;
  for (const root of made.roots) {
    const copy = made.idOf.get(root)!;
    if (!made.draft.shot.parts[copy]!.follow) shiftLocation(made.draft, copy, beside);
    shiftGround(made.draft, copy, beside);
  }
}

/** Moves the points at which the ground holds a pinned part, and with them the part. */
function shiftGround(draft: Draft, part: string, [x, y]: Beside): void {
  for (const [id, pin] of Object.entries(draft.shot.pins)) {
    if (pin.a !== part || pin.b !== null) continue;
    const number = (path: string): number => {
      const value = pin.values[path];
      return typeof value === 'number' ? value : 0;
    };
    const [px, py, turn] = pin.drawn.a;
    draft.set(['pins', id], {
      ...pin,
      values: { ...pin.values, 'on.x': number('on.x') + x, 'on.y': number('on.y') + y },
      drawn: { ...pin.drawn, a: [px + x, py + y, turn] },
    });
  }
}

function words(shot: Shot, roots: readonly string[]): string {
  return roots.length === 1 ? shot.parts[roots[0]!]!.name : `${roots.length} parts`;
}

/**
 * Linked copies of parts and all below them: shapes and looks are shared, names get a number. Links of the copies read
 * inside the copies.
 */
export function linkedCopy(
  shot: Shot,
  roots: readonly string[],
  random?: () => number,
  beside: Beside = NOWHERE,
): Copied {
  const made = copyParts(shot, roots, false, random, (name, draft) => freeName(draft, name));
  standBeside(made, beside);
  return {
    change: made.draft.change(`Copy ${words(shot, made.roots)}`),
    ids: made.roots.map((id) => made.idOf.get(id)!),
  };
}

/** Copies of parts and all below them with shapes and looks of their own. */
export function duplicateParts(
  shot: Shot,
  roots: readonly string[],
  random?: () => number,
  beside: Beside = NOWHERE,
): Copied {
  const made = copyParts(shot, roots, true, random, (name, draft) => freeName(draft, name));
  standBeside(made, beside);
  return {
    change: made.draft.change(`Duplicate ${words(shot, made.roots)}`),
    ids: made.roots.map((id) => made.idOf.get(id)!),
  };
}

/** Gives a part a shape or look of its own where it shares one. */
export function makeOwn(shot: Shot, id: string, what: 'shape' | 'look', random?: () => number): Change {
  const part = shot.parts[id];
  const shared = part?.[what];
  if (!part || !shared) throw new EditRefused(`This part has no ${what}.`);
  const draft = new Draft(shot);
  if (usersOf(shot, shared).length > 1) {
    const copy = makeId(what === 'shape' ? 'shp' : 'lok', random);
    const owner = ownerOf(shot, shared)!;
    draft.set(
      [what === 'shape' ? 'shapes' : 'looks', copy],
      what === 'look' ? { ...owner, name: part.name } : owner,
    );
    draft.set(['parts', id, what], copy);
  }
  return draft.change(`Give ${part.name} its own ${what}`);
}

const SIDES: readonly (readonly [string, string])[] = [
  ['left', 'right'],
  ['Left', 'Right'],
  ['LEFT', 'RIGHT'],
  ['L', 'R'],
  ['l', 'r'],
];

/** The name with its side changed over ("Left arm" to "Right arm", "Arm L 2" to "Arm R 2"), or `null` when it has none. */
export function otherSide(name: string): string | null {
  for (const [left, right] of SIDES) {
    const swapped = name.replace(new RegExp(`(?<![\\p{L}])(${left}|${right})(?![\\p{L}])`, 'gu'), (word) =>
      word === left ? right : left,
    );
    if (swapped !== name) return swapped;
  }
  return null;
}

function mirrored<T>(
  record: Readonly<Record<string, T>>,
  axis: MirrorAxis,
  turn: (entry: T) => T,
): Record<string, T> {
  return Object.fromEntries(
    Object.entries(record).map(([path, entry]) => [path, flipsAcross(path, axis) ? turn(entry) : entry]),
  );
}

/**
 * Mirrored linked copies of parts and all below them, across the plane through the parent's origin: values, keys and
 * links are turned over, sides in names changed. A part without anything below it whose shape has a left and a right is
 * turned over by its size.
 */
export function mirrorParts(
  shot: Shot,
  roots: readonly string[],
  axis: MirrorAxis,
  random?: () => number,
): Copied {
  const made = copyParts(shot, roots, false, random, (name, draft) =>
    freeName(draft, otherSide(name) ?? name),
  );
  const { draft } = made;
  for (const [from, id] of made.idOf) {
    const part = draft.shot.parts[id]!;
    const values = mirrored(part.values, axis, (value) => negated(value));
    if (part.joint) draft.set(['parts', id, 'joint'], mirroredJoint(part.joint, axis));
    const kind = part.shape === null ? null : (shot.shapes[part.shape]?.kind ?? null);
    const sided = kind !== null && !shapeDefinition(kind).even && subtreeOf(shot, from).length === 1;
    const size = part.values[`scale.${axis}`] ?? 1;
    const scale = `scale.${axis}`;
    draft.set(['parts', id, 'values'], sided ? { ...values, [scale]: negated(size) } : values);
    for (const [path, track] of Object.entries(part.tracks)) {
      if (!flipsAcross(path, axis) && !(sided && path === scale)) continue;
      const keys = Object.fromEntries(
        Object.entries(track.keys).map(([key, entry]) => [key, negatedKey(entry)]),
      );
      draft.set(['parts', id, 'tracks', path], { ...track, keys });
    }
    draft.set(
      ['parts', id, 'links'],
      mirrored(part.links, axis, (link) => ({ ...link, formula: `-(${link.formula})` })),
    );
  }
  return {
    change: draft.change(`Mirror ${words(shot, made.roots)}`),
    ids: made.roots.map((id) => made.idOf.get(id)!),
  };
}
