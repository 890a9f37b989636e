import { channelsOf, type Part, type Shot, type Sound } from '../document';
import { foundOf, sameJoint } from '../formula';
import type { Plan } from './plan';
import { movesItself } from './plan-tree';

/** What of an earlier plan still stands for an edited shot. */
export interface SincePlan {
  /** Owners that have gone. */
  readonly gone: readonly string[];
  /** Owners that are new or have changed. */
  readonly changed: readonly string[];
  /** Everything has its name and reaches the channels that it reached: what a formula means stays. */
  readonly sameNames: boolean;
  /** The same of all that was there before: things may have come or gone, but formulas that name none of them stand. */
  readonly sameMeanings: boolean;
  /** Parts hang where they hung, in the same order. */
  readonly sameTree: boolean;
  /** No part has begun or ended to face, to follow, to repeat or to move. */
  readonly samePlaces: boolean;
}

const FORMS = ['shapes', 'looks', 'dials', 'sounds', 'pins'] as const;

/** Compares a shot with the one that a plan was made from; what is the same object has not changed. */
export function changesSince(plan: Plan, shot: Shot): SincePlan {
  const was = plan.shot;
  const gone: string[] = [];
  const changed: string[] = [];
  let sameMeanings = was.setup === shot.setup;
  let more = false;
  let sameTree = true;
  let samePlaces =
    was.clips === shot.clips && was.placements === shot.placements && plan.optionErrors.size === 0;
  for (const table of FORMS) {
    const [old, now] = [was[table], shot[table]];
    if (old === now) continue;
    for (const id in old)
      if (now[id] === undefined) {
        gone.push(id);
        sameMeanings &&= table !== 'pins';
      }
    for (const id in now) {
      if (now[id] === old[id]) continue;
      changed.push(id);
      if (old[id] === undefined) {
        more = true;
        sameMeanings &&= table !== 'pins';
        continue;
      }
      sameMeanings &&= channelsOf(was, id) === channelsOf(shot, id);
      if (table === 'pins') sameMeanings &&= sameJoint(was.pins[id], shot.pins[id]!);
      if (table === 'dials') sameMeanings &&= was.dials[id]!.name === shot.dials[id]!.name;
      // What a formula reads of a sound lies in the plan.
      if (table === 'sounds') sameMeanings &&= sameHeard(was.sounds[id]!, shot.sounds[id]!);
    }
  }
  const pinned = hasEntries(shot.pins) || hasEntries(was.pins);
  if (was.parts !== shot.parts) {
    const parts = gone.length;
    for (const id in was.parts) if (shot.parts[id] === undefined) gone.push(id);
    sameTree &&= gone.length === parts;
    let added = false;
    for (const id in shot.parts) {
      const [a, b] = [was.parts[id], shot.parts[id]!];
      if (a === b) continue;
      changed.push(id);
      if (a === undefined) {
        added = true;
        continue;
      }
      sameTree &&= a.parent === b.parent && a.order === b.order;
      sameMeanings &&= sameName(a, b) && (!pinned || samePinned(a, b));
      samePlaces &&= samePlace(a, b);
    }
    sameTree &&= !added;
    more ||= added;
    // What is pinned may hang together by way of a part that has come or gone.
    if (pinned && !sameTree) sameMeanings = false;
  }
  samePlaces &&= sameTree;
  return {
    gone,
    changed,
    sameNames: sameMeanings && !more && gone.length === 0,
    sameMeanings,
    sameTree,
    samePlaces,
  };
}

/** Whether formulas read the same of a sound. */
function sameHeard(a: Sound, b: Sound): boolean {
  return (
    a.name === b.name &&
    a.start === b.start &&
    a.from === b.from &&
    a.length === b.length &&
    a.loop === b.loop
  );
}

function sameName(a: Part, b: Part): boolean {
  return (
    a.name === b.name &&
    a.shape === b.shape &&
    a.look === b.look &&
    a.kind === b.kind &&
    a.joint === b.joint &&
    (a.follow === undefined) === (b.follow === undefined)
  );
}

/** Whether pins give a part the same, as far as the part has to do with it. */
function samePinned(a: Part, b: Part): boolean {
  return a.parent === b.parent && a.aim === b.aim && foundOf(a).join() === foundOf(b).join();
}

function hasEntries(record: object): boolean {
  for (const _ in record) return true;
  return false;
}

function samePlace(a: Part, b: Part): boolean {
  return (
    a.kind === b.kind &&
    a.rotationOrder === b.rotationOrder &&
    a.aim === b.aim &&
    a.follow === b.follow &&
    a.repeat === b.repeat &&
    movesItself(a) === movesItself(b)
  );
}
