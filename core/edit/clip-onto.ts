import { splitAddress, subtreeOf, tableOf, type Clip, type Placement, type Shot } from '../document';
import { Draft, type Change } from './change';
import { changePlacement, placementOf } from './clips';
import { otherSide } from './copies';
import { movedBy } from './unpack-clip';
import { EditRefused } from './values';

/** The part whose row a showing stands in: the clip's own, or the one that is moved instead of it. */
export const rootOfShowing = (placement: Placement, clip: Clip): string =>
  placement.onto?.[clip.root] ?? clip.root;

/** Names from a part down to one below it; `null` where it is not below. */
function namesDown(shot: Shot, root: string, id: string): string[] | null {
  const names: string[] = [];
  for (let at: string | null = id; at !== root; at = shot.parts[at]!.parent) {
    if (at === null || !shot.parts[at]) return null;
    names.unshift(shot.parts[at]!.name.replace(/ \d+$/, ''));
  }
  return names;
}

/** Owners of a clip by what counterparts there are: parts, and their shapes and looks where those are not shared. */
function counterparts(
  shot: Shot,
  clip: Clip,
  partFor: (id: string) => string | undefined,
): Record<string, string> {
  const onto: Record<string, string> = {};
  const pair = (id: string): void => {
    const other = partFor(id);
    const [a, b] = [shot.parts[id], other === undefined ? undefined : shot.parts[other]];
    if (!a || !b) return;
    onto[id] = other!;
    if (a.shape && b.shape && shot.shapes[a.shape]?.kind === shot.shapes[b.shape]?.kind)
      onto[a.shape] = b.shape;
    if (a.look && b.look) onto[a.look] = b.look;
  };
  for (const id of new Set([clip.root, ...subtreeOf(shot, clip.root)])) pair(id);
  for (const address of Object.keys(clip.tracks)) {
    const { owner } = splitAddress(address);
    if (tableOf(owner) === 'parts' && !(owner in onto)) pair(owner);
    if (tableOf(owner) === 'dials' || tableOf(owner) === 'sounds') onto[owner] = owner;
  }
  return onto;
}

/**
 * Puts a showing on another part: what hangs below that by the same names, whatever number stands behind them, is moved
 * instead. The clip's own part puts it back.
 * @throws EditRefused where nothing below it answers to the names
 */
export function putShowingOn(shot: Shot, id: string, part: string): Change {
  const { now, clip } = placementOf(shot, id);
  if (!shot.parts[part]) throw new EditRefused('This part is no longer in the shot.');
  if (part === clip.root) return changePlacement(shot, id, { onto: undefined });
  const below = new Map<string, string>();
  for (const other of subtreeOf(shot, part)) {
    const path = JSON.stringify(namesDown(shot, part, other));
    if (!below.has(path)) below.set(path, other);
  }
  const onto = counterparts(shot, clip, (own) => {
    const names = shot.parts[own] ? namesDown(shot, clip.root, own) : null;
    return names === null ? undefined : below.get(JSON.stringify(names));
  });
  const next = { ...now, onto };
  if (movedBy(next, clip).length === 0)
    throw new EditRefused(
      `Nothing below "${shot.parts[part].name}" answers to the names that "${clip.name}" moves: ${namesMoved(shot, clip)}.`,
    );
  const draft = new Draft(shot);
  draft.set(['placements', id], next);
  return draft.change(`Put ${clip.name} on ${shot.parts[part].name}`);
}

function namesMoved(shot: Shot, clip: Clip): string {
  const names = new Set(
    Object.keys(clip.tracks).flatMap((address) => shot.parts[splitAddress(address).owner]?.name ?? []),
  );
  return [...names].join(', ');
}

/**
 * Mirrors a showing, or takes that back: places are turned over across x, and what is left is shown on what is right by
 * name ("Left arm", "Arm R"); a part without a counterpart is turned over itself.
 */
export function mirrorShowing(shot: Shot, id: string): Change {
  const { now, clip } = placementOf(shot, id);
  if (now.mirrored) return changePlacement(shot, id, { mirrored: undefined, onto: undefined });
  const byName = new Map(Object.entries(shot.parts).map(([part, { name }]) => [name, part]));
  const onto = counterparts(shot, clip, (own) => {
    const target = now.onto?.[own] ?? own;
    const side = otherSide(shot.parts[target]?.name ?? '');
    return (side === null ? undefined : byName.get(side)) ?? target;
  });
  const all = Object.fromEntries(
    Object.keys(clip.tracks).map((address) => {
      const { owner } = splitAddress(address);
      return [owner, onto[owner] ?? now.onto?.[owner] ?? owner];
    }),
  );
  return changePlacement(shot, id, { mirrored: true, onto: { ...onto, ...all } });
}
