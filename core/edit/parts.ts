import type { PART_KINDS } from '../document';
import {
  childrenOf,
  freeName,
  isWithin,
  NAME_LIMIT,
  shotSchema,
  subtreeOf,
  usersOf,
  type Look,
  type Part,
  type Shape,
  type Shot,
} from '../document';
import type { Evaluator } from '../evaluate';
import { decompose, invert as invertMatrix, multiply, nearestTurn, identity } from '../transform';
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

function orderAfterLast(shot: Shot, parent: string | null): number {
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
  const shared = [...ids].flatMap((id) => [shot.parts[id]?.shape, shot.parts[id]?.look]);
  for (const id of new Set(shared)) {
    if (!id || usersOf(draft.shot, id).length > 0) continue;
    draft.set([id.startsWith('shp') ? 'shapes' : 'looks', id], undefined);
  }
  return draft.change(ids.size === 1 ? `Delete ${name}` : `Delete ${ids.size} parts`);
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

/** Where a reparented part could not be kept: keys or links of its place, or shear that no values express. */
export type PlaceWarning = 'animated' | 'sheared';

/**
 * Hangs a part below another (or at the top, `null`) so that it stays where it is at the frame that `evaluator`
 * has worked out. Counted turns are kept as near as possible.
 * @throws EditRefused when the part would hang below itself, or an axis of the new parent has size 0
 */
export function reparent(
  shot: Shot,
  evaluator: Evaluator,
  id: string,
  parent: string | null,
  order?: number,
): { change: Change; warning: PlaceWarning | null } {
  const part = shot.parts[id];
  if (!part) throw new EditRefused('This part is no longer in the shot.');
  if (parent !== null && !shot.parts[parent])
    throw new EditRefused('The new parent is no longer in the shot.');
  if (parent !== null && isWithin(shot, parent, id))
    throw new EditRefused(`"${part.name}" cannot hang below itself.`);
  const draft = new Draft(shot);
  draft.set(['parts', id, 'order'], order ?? orderAfterLast(shot, parent));
  if (parent === part.parent) return { change: draft.change(`Move ${part.name} in the tree`), warning: null };
  draft.set(['parts', id, 'parent'], parent);
  const world = evaluator.worldOf(id)!;
  const above = parent === null ? identity() : evaluator.worldOf(parent)!;
  const inverse = invertMatrix(above);
  if (!inverse)
    throw new EditRefused(
      `"${shot.parts[parent ?? '']?.name ?? ''}" has size 0 at this frame: nothing can keep its place below it.`,
    );
  const read = (name: string): [number, number, number] => [
    evaluator.own(`${id}/${name}.x`),
    evaluator.own(`${id}/${name}.y`),
    evaluator.own(`${id}/${name}.z`),
  ];
  const split = decompose(multiply(inverse, world), read('pivot'), read('rest'), part.rotationOrder);
  if (!split)
    throw new EditRefused(`"${part.name}" has size 0 at this frame: its place cannot be worked out.`);
  const turned = read('rotation');
  const rotation = split.rotation.map((angle, i) => nearestTurn(angle, turned[i]!));
  const before = read('location').concat(turned, read('scale'));
  const after = [...split.location, ...rotation, ...split.scale];
  ['location', 'rotation', 'scale'].forEach((name, group) =>
    (['x', 'y', 'z'] as const).forEach((axis, i) => {
      const index = group * 3 + i;
      if (before[index] !== after[index]) draft.set(['parts', id, 'values', `${name}.${axis}`], after[index]);
    }),
  );
  const animated = [...Object.keys(part.tracks), ...Object.keys(part.links)].some((path) =>
    /^(location|rotation|scale)\./.test(path),
  );
  return {
    change: draft.change(`Move ${part.name} below another part`),
    warning: animated ? 'animated' : split.sheared ? 'sheared' : null,
  };
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
      name: freeName(draft.shot, part.name),
      parent,
      order,
      links,
    });
  }
  return { change: draft.change(`Copy ${source.name}`), id: idOf.get(root)! };
}
