import type { PART_KINDS } from '../document';
import {
  childrenOf,
  FOLLOW_CHANNELS,
  freeName,
  NAME_LIMIT,
  shotSchema,
  subtreeOf,
  usersOf,
  type Look,
  type Part,
  type Shape,
  type Shot,
} from '../document';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { EditRefused } from './values';

/** What a new part is: its kind, and for a solid its shape and look. */
export interface NewPart {
  readonly kind: (typeof PART_KINDS)[number];
  readonly name: string;
  readonly parent?: string | null;
  readonly values?: Part['values'];
  readonly shape?: Pick<Shape, 'kind' | 'values'>;
  readonly look?: Pick<Look, 'values'> & { name?: string };
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
  if (spec.kind === 'solid') {
    shape = makeId('shp', random);
    look = makeId('lok', random);
    draft.set(['shapes', shape], {
      kind: spec.shape?.kind ?? 'box',
      values: spec.shape?.values ?? {},
      tracks: {},
      links: {},
    });
    draft.set(['looks', look], {
      name: spec.look?.name ?? name,
      values: spec.look?.values ?? {},
      tracks: {},
      links: {},
    });
  }
  const part: Part = {
    kind: spec.kind,
    name,
    parent,
    order: orderAfterLast(shot, parent),
    rotationOrder: 'XYZ',
    shape,
    look,
    ...(spec.kind === 'repeat' ? { repeat: { pattern: 'row' as const, step: null } } : {}),
    values: spec.values ?? {},
    tracks: {},
    links: {},
  };
  draft.set(['parts', id], part);
  if (spec.kind === 'camera' && shot.setup.camera === null) draft.set(['setup', 'camera'], id);
  return { change: draft.change(`Add ${name}`), id };
}

/** Names of parts outside the given ones that read any of them in a link. */
export function readersOf(shot: Shot, ids: readonly string[]): string[] {
  const gone = new Set(ids);
  const owners = [
    ...Object.entries(shot.parts),
    ...Object.entries(shot.shapes),
    ...Object.entries(shot.looks),
  ];
  const names = new Set<string>();
  for (const [id, owner] of owners) {
    if (gone.has(id)) continue;
    const reads = Object.values(owner.links).some((link) =>
      Object.values(link.refs).some((ref) => gone.has(ref)),
    );
    if (reads) names.add('name' in owner ? owner.name : (shot.parts[usersOf(shot, id)[0] ?? '']?.name ?? id));
  }
  return [...names];
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
  for (const id of [...ids].reverse()) draft.set(['parts', id], undefined);
  for (const [id, part] of Object.entries(draft.shot.parts)) {
    if (part.aim && ids.has(part.aim.target)) draft.set(['parts', id, 'aim'], undefined);
    if (part.follow && ids.has(part.follow.path)) stopFollowing(draft, id);
    if (part.repeat?.step && ids.has(part.repeat.step)) draft.set(['parts', id, 'repeat', 'step'], null);
  }
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
  const trimmed = name.trim();
  const draft = new Draft(shot);
  const part = shot.parts[id];
  if (!part) throw new EditRefused('This part is no longer in the shot.');
  const checked = shotSchema.shape.parts.valueType.shape.name.safeParse(trimmed);
  if (!checked.success)
    throw new EditRefused(
      `The name "${trimmed.slice(0, 40)}" is not allowed: it ${checked.error.issues[0]?.message ?? `may have ${NAME_LIMIT} characters`}.`,
    );
  const taken = Object.entries(shot.parts).some(([other, entry]) => other !== id && entry.name === trimmed);
  if (taken)
    throw new EditRefused(`"${trimmed}" is already the name of another part: names are unique in a shot.`);
  if (trimmed !== part.name) draft.set(['parts', id, 'name'], trimmed);
  return draft.change(`Rename ${part.name}`);
}
/** A linked copy of a part and all below it: shapes and looks are shared, names get a number. Links of the copy read inside the copy. */
export function linkedCopy(shot: Shot, root: string, random?: () => number): Added {
  const source = shot.parts[root];
  if (!source) throw new EditRefused('This part is no longer in the shot.');
  const draft = new Draft(shot);
  const ids = subtreeOf(shot, root);
  const idOf = new Map(ids.map((id) => [id, makeId('prt', random)]));
  for (const id of ids) {
    const part = shot.parts[id]!;
    const links = Object.fromEntries(
      Object.entries(part.links).map(([path, link]) => [
        path,
        {
          formula: link.formula,
          refs: Object.fromEntries(
            Object.entries(link.refs).map(([name, ref]) => [name, idOf.get(ref) ?? ref]),
          ),
        },
      ]),
    );
    const parent = id === root ? part.parent : (idOf.get(part.parent ?? '') ?? part.parent);
    const order = id === root ? orderAfterLast(draft.shot, part.parent) : part.order;
    draft.set(['parts', idOf.get(id)!], {
      ...part,
      ...(part.aim ? { aim: { ...part.aim, target: idOf.get(part.aim.target) ?? part.aim.target } } : {}),
      ...(part.follow
        ? { follow: { ...part.follow, path: idOf.get(part.follow.path) ?? part.follow.path } }
        : {}),
      ...(part.repeat?.step
        ? { repeat: { ...part.repeat, step: idOf.get(part.repeat.step) ?? part.repeat.step } }
        : {}),
      name: freeName(draft.shot, part.name),
      parent,
      order,
      links,
    });
  }
  return { change: draft.change(`Copy ${source.name}`), id: idOf.get(root)! };
}
