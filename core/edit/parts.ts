import { type PART_KINDS, OWNER_TABLES } from '../document';
import {
  type Callout,
  childrenOf,
  FOLLOW_CHANNELS,
  freeName,
  type Inset,
  type Look,
  type Part,
  partDefinition,
  type Shape,
  type Shot,
  subtreeOf,
  usersOf,
} from '../document';
import { Draft, type Change } from './change';
import { removeContactsOf } from './contacts';
import { demandName } from './demand-name';
import { makeId } from './make-id';
import { removePinsOf } from './pins';
import { writeLastNames } from './reader-names';
import { channelName, EditRefused } from './values';

/** What a new part is: its kind, and for a solid its shape and look. */
export interface NewPart {
  readonly kind: (typeof PART_KINDS)[number];
  readonly name: string;
  readonly parent?: string | null;
  readonly rotationOrder?: Part['rotationOrder'];
  readonly values?: Part['values'];
  readonly shape?: Pick<Shape, 'kind' | 'values'> &
    Partial<Pick<Shape, 'profile' | 'outline' | 'text' | 'pulleys' | 'mesh'>>;
  readonly look?: Pick<Look, 'values' | 'pictures' | 'pattern'> & { name?: string };
  /** Of a shot, which one it shows and how. */
  readonly inset?: Inset;
  /** Of a callout, what it says. */
  readonly callout?: Callout;
}

export interface Added {
  readonly change: Change;
  readonly id: string;
}

/** Order of a part put behind the last child of a parent. */
export function orderAfterLast(shot: Shot, parent: string | null): number {
  const last = childrenOf(shot, parent).at(-1);
  return last ? (shot.parts[last]?.order ?? 0) + 1 : 0;
}

/** Adds a part; a name that is taken gets a number. */
export function addPart(shot: Shot, spec: NewPart, random?: () => number): Added {
  const draft = new Draft(shot);
  const id = makeId('prt', random);
  const parent = spec.parent ?? null;
  let shape: string | null = null;
  let look: string | null = null;
  const name = freeName(shot, spec.name);
  const kind = partDefinition(spec.kind);
  if (kind.solid) {
    shape = makeId('shp', random);
    look = makeId('lok', random);
    draft.set(['shapes', shape], { kind: 'box', values: {}, ...spec.shape, tracks: {}, links: {} });
    draft.set(['looks', look], { name, values: {}, ...spec.look, tracks: {}, links: {} });
  }
  const part: Part = {
    kind: spec.kind,
    name,
    parent,
    order: orderAfterLast(shot, parent),
    // Cameras and lights are aimed by turning about y first, then tilting.
    rotationOrder: spec.rotationOrder ?? kind.rotationOrder,
    shape,
    look,
    ...(spec.kind === 'repeat' ? { repeat: { pattern: 'row' as const, step: null } } : {}),
    ...(spec.inset ? { inset: spec.inset } : {}),
    ...(spec.callout ? { callout: spec.callout } : {}),
    values: spec.values ?? {},
    tracks: {},
    links: {},
  };
  draft.set(['parts', id], part);
  if (spec.kind === 'camera' && shot.setup.camera === null) draft.set(['setup', 'camera'], id);
  return { change: draft.change(`Add ${name}`), id };
}

/**
 * What outside the given parts reads them, in words: links ("Deck rotation Y"), aims, paths, steps of repeats. Empty when
 * nothing would miss them.
 */
export function readersOf(shot: Shot, ids: readonly string[]): string[] {
  const gone = new Set(ids);
  const found: string[] = [];
  for (const table of OWNER_TABLES)
    for (const [id, owner] of Object.entries<Pick<Part, 'links'>>(shot[table])) {
      if (gone.has(id)) continue;
      if ((table === 'shapes' || table === 'looks') && usersOf(shot, id).every((user) => gone.has(user)))
        continue;
      for (const [path, link] of Object.entries(owner.links))
        if (Object.values(link.refs).some((ref) => gone.has(ref)))
          found.push(channelName(shot, `${id}/${path}`));
    }
  for (const [id, part] of Object.entries(shot.parts)) {
    if (gone.has(id)) continue;
    if (part.aim && gone.has(part.aim.target)) found.push(`${part.name}, which faces it`);
    if (part.follow && gone.has(part.follow.path)) found.push(`${part.name}, which is on its path`);
    if (part.repeat?.step && gone.has(part.repeat.step)) found.push(`${part.name}, whose step it sets`);
    if (part.glowOf !== undefined && gone.has(part.glowOf))
      found.push(`${part.name}, which follows its glow`);
  }
  return found;
}

/** Takes parts away with everything below them, and shapes and looks that no other part has. */
export function removeParts(shot: Shot, roots: readonly string[]): Change {
  const draft = new Draft(shot);
  const ids = new Set(roots.flatMap((root) => (shot.parts[root] ? subtreeOf(shot, root) : [])));
  const name = shot.parts[roots[0] ?? '']?.name ?? '';
  if (shot.setup.camera !== null && ids.has(shot.setup.camera)) {
    const other = Object.keys(shot.parts).find((id) => shot.parts[id]?.kind === 'camera' && !ids.has(id));
    draft.set(['setup', 'camera'], other ?? null);
  }
  writeLastNames(draft, shot, ids);
  for (const id of [...ids].reverse()) draft.set(['parts', id], undefined);
  for (const [id, part] of Object.entries(draft.shot.parts)) {
    if (part.aim && ids.has(part.aim.target)) draft.set(['parts', id, 'aim'], undefined);
    if (part.follow && ids.has(part.follow.path)) stopFollowing(draft, id);
    if (part.repeat?.step && ids.has(part.repeat.step)) draft.set(['parts', id, 'repeat', 'step'], null);
    if (part.glowOf !== undefined && ids.has(part.glowOf)) draft.set(['parts', id, 'glowOf'], undefined);
  }
  removePinsOf(draft, ids);
  removeContactsOf(draft, ids);
  const shared = [...ids].flatMap((id) => [shot.parts[id]?.shape, shot.parts[id]?.look]);
  for (const id of new Set(shared)) {
    if (!id || usersOf(draft.shot, id).length > 0) continue;
    draft.set([id.startsWith('shp') ? 'shapes' : 'looks', id], undefined);
  }
  return draft.change(ids.size === 1 ? `Delete ${name}` : `Delete ${ids.size} parts`);
}

/** Takes a part off its path, with what it had along it. */
export function stopFollowing(draft: Draft, id: string): void {
  draft.set(['parts', id, 'follow'], undefined);
  for (const what of ['values', 'tracks', 'links'])
    for (const spec of FOLLOW_CHANNELS) draft.set(['parts', id, what, spec.path], undefined);
}

/** @throws EditRefused when the name is empty, too long, holds signs that names may not have, or is taken */
export function renamePart(shot: Shot, id: string, name: string): Change {
  const trimmed = demandName(name);
  const draft = new Draft(shot);
  const part = shot.parts[id];
  if (!part) throw new EditRefused('This part is no longer in the shot.');
  const taken = Object.entries(shot.parts).some(([other, entry]) => other !== id && entry.name === trimmed);
  if (taken)
    throw new EditRefused(`"${trimmed}" is already the name of another part: names are unique in a shot.`);
  if (trimmed !== part.name) draft.set(['parts', id, 'name'], trimmed);
  return draft.change(`Rename ${part.name}`);
}
