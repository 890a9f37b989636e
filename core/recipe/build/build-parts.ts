import { entryOf, type Shot } from '../../document';
import { addPart, addTray, apply, compose, EditRefused, setFollow, type Change } from '../../edit';
import type { Roles, Settings } from '../recipe';
import { FOLLOWER_BUILDERS } from './followers';
import { DRIVE_BUILDERS } from './gears';
import { LINKAGE_BUILDERS } from './linkages';
import { MOTION_BUILDERS } from './motions';
import { Planner, type Builder, type Plan, type PlannedRole } from './planner';

const BUILDERS: Readonly<Record<string, Builder>> = {
  ...DRIVE_BUILDERS,
  ...LINKAGE_BUILDERS,
  ...MOTION_BUILDERS,
  ...FOLLOWER_BUILDERS,
};

/** Kinds of recipes whose parts can be built to the numbers. */
export const BUILT_KINDS: ReadonlySet<string> = new Set(Object.keys(BUILDERS));

/** Parts made for a recipe, and what they are in it. */
export interface Built {
  readonly change: Change;
  readonly ids: readonly string[];
  readonly roles: Roles;
  /** Ids of the parts by their places in the recipe. */
  readonly slots: Readonly<Record<string, string>>;
}

/**
 * The parts that a kind of recipe wants for its numbers.
 * @throws EditRefused for a kind that builds none, and for numbers that make none
 */
export function planOf(kind: string, settings: Settings): Plan {
  const builder = entryOf(BUILDERS, kind);
  if (!builder) throw new EditRefused('This recipe links parts that are there: it builds none.');
  const planner = new Planner();
  const roles = builder(planner, settings);
  return { parts: planner.parts, roles };
}

/** Who plays the roles of a plan in a shot; roles of parts that are gone are left out. */
export function rolesOf(shot: Shot, plan: Plan, slots: Readonly<Record<string, string>>): Roles {
  const address = ({ slot, path, of }: PlannedRole): string[] => {
    const id = slots[slot];
    const part = id === undefined ? undefined : shot.parts[id];
    if (id === undefined || !part) return [];
    if (path === undefined) return [id];
    const owner = of === 'shape' ? part.shape : id;
    return owner === null ? [] : [`${owner}/${path}`];
  };
  return Object.fromEntries(
    Object.entries(plan.roles).flatMap(([name, role]): [string, string | string[]][] => {
      if (Array.isArray(role)) return [[name, role.flatMap(address)]];
      const [only] = address(role as PlannedRole);
      return only === undefined ? [] : [[name, only]];
    }),
  );
}

/**
 * Makes the parts of a recipe at the origin, with the sizes, places and shapes that its numbers ask for, in a tray of
 * their own.
 * @throws EditRefused for a kind that builds none
 */
export function buildParts(shot: Shot, kind: string, settings: Settings, random?: () => number): Built {
  const plan = planOf(kind, settings);
  const slots: Record<string, string> = {};
  let now = shot;
  const changes: Change[] = [];
  const take = (change: Change): void => {
    now = apply(now, change);
    changes.push(change);
  };
  for (const { slot, parent, spec } of plan.parts) {
    const added = addPart(now, { ...spec, parent: parent === null ? null : slots[parent]! }, random);
    take(added.change);
    slots[slot] = added.id;
  }
  // What carries a part is there before the part is put on it.
  for (const { slot, along } of plan.parts)
    if (along !== undefined)
      take(setFollow(now, slots[slot]!, { path: slots[along]!, closed: true, turn: true }));
  const ids = Object.values(slots);
  take(addTray(now, freeTray(now, now.parts[ids[0]!]!.name), ids, random).change);
  const { patches } = changes.reduce(compose);
  return { change: { label: 'Build the parts', patches }, ids, roles: rolesOf(now, plan, slots), slots };
}

/** A name for a tray that no other one has. */
function freeTray(shot: Shot, name: string): string {
  const taken = new Set(Object.values(shot.trays).map((tray) => tray.name));
  for (let i = 1; ; i++) {
    const wanted = i === 1 ? name : `${name} ${i}`;
    if (!taken.has(wanted)) return wanted;
  }
}
