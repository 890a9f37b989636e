import {
  channelAt,
  childrenOf,
  linkOf,
  storedValue,
  trackOf,
  type Recipe,
  type Shot,
  type Value,
} from '../../document';
import { addPart, apply, channelName, compose, Draft, removeParts, type Change } from '../../edit';
import type { Roles, Settings } from '../recipe';
import { planOf, rolesOf } from './build-parts';
import type { Plan, PlannedPart } from './planner';

/** Something of a built part that was changed by hand since, and would be otherwise with the new numbers. */
export interface OwnChange {
  /** The channel, or the part. */
  readonly subject: string;
  /** What it is, in words. */
  readonly what: string;
  /** Whether it can be given up: what is keyed or linked stays as it is. */
  readonly stays: boolean;
}

export interface Rebuilt {
  readonly change: Change | null;
  readonly roles: Roles;
  readonly slots: Readonly<Record<string, string>>;
  readonly own: readonly OwnChange[];
  /** Parts that were added. */
  readonly added: readonly string[];
}

/** Digits to which a number counts as the one that was built. */
const DIGITS = 9;
const same = (a: Value | undefined, b: Value | undefined): boolean =>
  typeof a === 'number' && typeof b === 'number'
    ? Number(a.toPrecision(DIGITS)) === Number(b.toPrecision(DIGITS))
    : a === b;

const bySlot = (plan: Plan): Map<string, PlannedPart> => new Map(plan.parts.map((part) => [part.slot, part]));

/** Gives built parts the sizes, places and shapes of other numbers. */
class Rebuilding {
  readonly own: OwnChange[] = [];
  readonly added: string[] = [];
  readonly slots: Record<string, string>;
  private change: Change | null = null;

  constructor(
    private shot: Shot,
    private readonly recipe: Recipe,
    private readonly keep: boolean,
    private readonly random?: () => number,
  ) {
    this.slots = { ...recipe.built };
  }

  take(change: Change): void {
    if (change.patches.length === 0) return;
    this.shot = apply(this.shot, change);
    this.change = this.change ? compose(this.change, change) : change;
  }

  get done(): Change | null {
    return this.change;
  }

  get now(): Shot {
    return this.shot;
  }

  /**
   * One number of a part: it follows, unless somebody has changed, keyed or linked it since. What the recipe itself drives
   * stands still beneath its formula and follows, too.
   */
  number(
    draft: Draft,
    address: string,
    before: Value | undefined,
    after: Value | undefined,
    carries = false,
  ): void {
    const channel = channelAt(this.shot, address);
    if (!channel || same(before, after)) return;
    const initial = channel.spec.initial;
    const wanted = after ?? initial;
    const now = storedValue(this.shot, channel);
    const driven = this.recipe.driven.includes(address);
    const runs = !driven && (trackOf(this.shot, address) !== null || linkOf(this.shot, address) !== null);
    const changed = runs || !same(now, before ?? initial);
    if (changed && same(now, wanted) && !runs) return;
    // Where what carries all stands is up to whoever has put it there.
    if (changed && carries) return;
    if (changed) {
      this.own.push({ subject: address, what: channelName(this.shot, address), stays: runs });
      if (runs || this.keep) return;
    }
    const { owner, path } = channel;
    draft.set([owner.startsWith('shp_') ? 'shapes' : 'parts', owner, 'values', path], wanted);
  }

  /** A part that both plans have. */
  part(id: string, before: PlannedPart, after: PlannedPart): void {
    const draft = new Draft(this.shot);
    const values = [before.spec.values ?? {}, after.spec.values ?? {}] as const;
    for (const path of new Set(values.flatMap(Object.keys)))
      this.number(draft, `${id}/${path}`, values[0][path], values[1][path], after.parent === null);
    if (before.parent !== after.parent && this.shot.parts[id]!.parent === this.hangs(before))
      draft.set(['parts', id, 'parent'], this.hangs(after));
    this.shape(draft, id, before, after);
    this.take(draft.change('Build the parts anew'));
  }

  private shape(draft: Draft, id: string, before: PlannedPart, after: PlannedPart): void {
    const [old, wanted] = [before.spec.shape, after.spec.shape];
    const shapeId = this.shot.parts[id]!.shape;
    const shape = shapeId === null ? undefined : this.shot.shapes[shapeId];
    if (!old || !wanted || shapeId === null || !shape) return;
    if (shape.kind !== old.kind) {
      this.own.push({ subject: id, what: `Shape of ${this.shot.parts[id]!.name}`, stays: true });
      return;
    }
    const sizes = [old.values, wanted.values] as const;
    for (const path of new Set(sizes.flatMap(Object.keys)))
      this.number(draft, `${shapeId}/${path}`, sizes[0][path], sizes[1][path]);
    for (const option of ['outline', 'pulleys'] as const) {
      const words = [old[option], wanted[option], shape[option]].map((form) => JSON.stringify(form));
      if (words[0] === words[1] || words[2] === words[1]) continue;
      if (words[2] !== words[0]) {
        this.own.push({
          subject: id,
          what: `${option === 'outline' ? 'Drawing' : 'Pulleys'} of ${this.shot.parts[id]!.name}`,
          stays: false,
        });
        if (this.keep) continue;
      }
      draft.set(['shapes', shapeId, option], wanted[option]);
    }
  }

  /** The part from which a planned one hangs; `null` where it is gone. */
  private hangs({ parent }: PlannedPart): string | null {
    const above = parent === null ? undefined : this.slots[parent];
    return above !== undefined && this.shot.parts[above] ? above : null;
  }

  /** A part that only the new plan has. */
  add(part: PlannedPart): void {
    const { slot, spec } = part;
    const hangs = this.hangs(part);
    const added = addPart(this.shot, { ...spec, parent: hangs }, this.random);
    this.take(added.change);
    this.slots[slot] = added.id;
    this.added.push(added.id);
    const tray = hangs === null ? undefined : this.shot.parts[hangs]!.tray;
    if (tray === undefined) return;
    const draft = new Draft(this.shot);
    draft.set(['parts', added.id, 'tray'], tray);
    this.take(draft.change('Build the parts anew'));
  }

  /** A part that only the old plan has goes, unless something of somebody's own hangs from it. */
  remove(slot: string, wanted: ReadonlySet<string>): void {
    const id = this.slots[slot];
    if (id === undefined || !this.shot.parts[id]) return;
    const kept = childrenOf(this.shot, id).filter((child) => {
      const built = Object.entries(this.slots).find(([, other]) => other === child);
      return !built || wanted.has(built[0]);
    });
    if (kept.length > 0) {
      const { name } = this.shot.parts[id];
      const hanging = kept.map((child) => this.shot.parts[child]!.name).join(', ');
      this.own.push({ subject: id, what: `${name}, from which ${hanging} hangs`, stays: true });
      return;
    }
    this.take(removeParts(this.shot, [id]));
    delete this.slots[slot];
  }
}

/**
 * The parts of a recipe for other numbers: sizes, places and shapes follow, parts come and go. What somebody has changed
 * since is named, and kept or given up.
 * @param keep own changes stay; otherwise they go where they can
 * @returns `null` for a recipe that has built no parts
 * @throws EditRefused for numbers that make no parts
 */
export function rebuildParts(
  shot: Shot,
  recipe: Recipe,
  before: Settings,
  after: Settings,
  keep: boolean,
  random?: () => number,
): Rebuilt | null {
  if (!recipe.built) return null;
  const [old, wanted] = [planOf(recipe.kind, before), planOf(recipe.kind, after)];
  const work = new Rebuilding(shot, recipe, keep, random);
  const [was, will] = [bySlot(old), bySlot(wanted)];
  for (const part of wanted.parts) {
    const id = work.slots[part.slot];
    const planned = was.get(part.slot);
    if (!planned) work.add(part);
    // What somebody has deleted stays away.
    else if (id !== undefined && shot.parts[id]) work.part(id, planned, part);
  }
  const names = new Set(will.keys());
  for (const { slot } of [...old.parts].reverse()) if (!will.has(slot)) work.remove(slot, names);
  return {
    change: work.done,
    roles: rolesOf(work.now, wanted, work.slots),
    slots: work.slots,
    own: work.own,
    added: work.added,
  };
}
