import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  blankShot,
  checkStructure,
  isWithinAny,
  parseShot,
  subtreeOf,
  usersOf,
  type Shot,
} from '../document';
import { compile, Evaluator } from '../evaluate';
import { emptyShot, hub } from '../testing/random-shot';
import { demandName } from './demand-name';
import {
  addMarker,
  addPart,
  addTray,
  apply,
  changeRate,
  changeTray,
  copyPose,
  duplicateParts,
  keyChannels,
  linkedCopy,
  makeOwn,
  mirrorParts,
  otherSide,
  pastePose,
  readersOf,
  removeParts,
  renamePart,
  setAim,
  setLink,
  setLocked,
  setOutline,
  setPicture,
  setProfile,
  setText,
  setValues,
  topmost,
  standingOf,
  type Change,
} from './index';

const seeded = (): (() => number) => {
  let state = 7;
  return () => (state = (state * 16807) % 2147483647) / 2147483647;
};
const random = seeded();

/** A shot of parts by name; parents by name too. */
function build(specs: readonly [name: string, parent: string | null, kind?: 'solid' | 'hub'][]): {
  shot: Shot;
  id: Record<string, string>;
} {
  let shot = blankShot();
  const id: Record<string, string> = {};
  for (const [name, parent, kind = 'solid'] of specs) {
    const added = addPart(shot, { kind, name, parent: parent === null ? null : id[parent]! }, random);
    shot = apply(shot, added.change);
    id[name] = added.id;
  }
  return { shot, id };
}
const sound = (shot: Shot, change: Change): Shot => {
  const next = apply(shot, change);
  expect(checkStructure(next)).toEqual([]);
  return next;
};
const at = (shot: Shot, frame: number): Evaluator => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  return evaluator;
};
const names = (shot: Shot): string[] => Object.values(shot.parts).map((part) => part.name);

describe('copies', () => {
  it('eight linked copies follow every change of their source', () => {
    const { shot, id } = build([['Boat', null]]);
    let next = shot;
    for (let i = 0; i < 8; i++) next = sound(next, linkedCopy(next, [id.Boat!], random).change);
    const shape = next.parts[id.Boat!]!.shape!;
    expect(usersOf(next, shape)).toHaveLength(9);
    next = sound(next, setValues(next, [[`${shape}/width`, 3]]));
    const evaluator = at(next, 1);
    const widths = Object.values(next.parts).map((part) => evaluator.number(`${part.shape}/width`));
    expect(widths).toEqual(Array(9).fill(3));
    expect(names(next)).toContain('Boat 9');
  });

  it('a copy that is made its own no longer follows; a duplicate never did', () => {
    const { shot, id } = build([
      ['Boat', null],
      ['Mast', 'Boat'],
    ]);
    let next = sound(shot, linkedCopy(shot, [id.Boat!], random).change);
    const copy = Object.keys(next.parts).find((part) => next.parts[part]!.name === 'Boat 2')!;
    next = sound(next, makeOwn(next, copy, 'shape', random));
    expect(next.parts[copy]!.shape).not.toBe(next.parts[id.Boat!]!.shape);
    expect(next.parts[copy]!.look).toBe(next.parts[id.Boat!]!.look);
    const twice = duplicateParts(shot, [id.Boat!, id.Mast!], random);
    next = sound(shot, twice.change);
    expect(twice.ids).toHaveLength(1);
    const shapes = Object.values(next.parts).map((part) => part.shape);
    expect(new Set(shapes).size).toBe(4);
  });

  it('links of a copied assembly read inside the copy', () => {
    const { shot, id } = build([
      ['Deck', null, 'hub'],
      ['Wheel', 'Deck'],
      ['Rod', 'Deck'],
    ]);
    let next = sound(shot, setLink(shot, `${id.Rod}/location.y`, 'Wheel.rotation.z * 1m / 360deg'));
    const { change, ids } = linkedCopy(next, [id.Deck!], random);
    next = sound(next, change);
    const inCopy = Object.keys(next.parts).filter((part) => next.parts[part]!.parent === ids[0]);
    const rod = inCopy.find((part) => next.parts[part]!.name === 'Rod 2')!;
    const wheel = inCopy.find((part) => next.parts[part]!.name === 'Wheel 2')!;
    expect(Object.values(next.parts[rod]!.links['location.y']!.refs)).toEqual([wheel]);
  });

  it('sides in names change over, words that only hold the letters do not', () => {
    expect(otherSide('Left arm')).toBe('Right arm');
    expect(otherSide('Arm L 2')).toBe('Arm R 2');
    expect(otherSide('Upright')).toBeNull();
    expect(otherSide('Lantern')).toBeNull();
  });

  it('a mirrored copy stands where the picture in the mirror stands, at every frame', () => {
    const { shot, id } = build([
      ['Left arm', null, 'hub'],
      ['Left hand', 'Left arm'],
    ]);
    let next = apply(
      shot,
      setValues(shot, [
        [`${id['Left arm']}/location.x`, 2],
        [`${id['Left arm']}/rotation.y`, 25],
        [`${id['Left arm']}/rotation.z`, -40],
        [`${id['Left hand']}/location.x`, 1],
        [`${id['Left hand']}/pivot.x`, 0.4],
        [`${id['Left hand']}/rest.z`, 15],
      ]),
    );
    next = apply(next, keyChannels(next, 1, [[`${id['Left hand']}/rotation.z`, 0]], random));
    next = apply(next, keyChannels(next, 20, [[`${id['Left hand']}/rotation.z`, 70]], random));
    const { change, ids } = mirrorParts(next, [id['Left arm']!], 'x', random);
    next = sound(next, change);
    expect(names(next)).toEqual(expect.arrayContaining(['Right arm', 'Right hand']));
    const hand = Object.keys(next.parts).find((part) => next.parts[part]!.name === 'Right hand')!;
    expect(next.parts[hand]!.parent).toBe(ids[0]);
    for (const frame of [1, 7, 20]) {
      const evaluator = at(next, frame);
      const [a, b] = [evaluator.worldOf(id['Left hand']!)!, evaluator.worldOf(hand)!];
      // Mirrored across x: M W M has the signs of its first row and its first column turned, but for where they meet.
      a.forEach((value, i) => {
        const [row, column] = [Math.floor(i / 4), i % 4];
        const sign = (row === 0) !== (column === 0) ? -1 : 1;
        expect(b[i]).toBeCloseTo(sign * value, 9);
      });
    }
  });
});

describe('poses', () => {
  it('left goes to right by name, a part in the middle is turned over', () => {
    const { shot, id } = build([
      ['Body', null, 'hub'],
      ['Left arm', 'Body', 'hub'],
      ['Right arm', 'Body', 'hub'],
    ]);
    let next = apply(
      shot,
      setValues(shot, [
        [`${id['Left arm']}/rotation.z`, 30],
        [`${id['Left arm']}/location.x`, 1],
        [`${id['Right arm']}/location.x`, -1],
        [`${id.Body}/rotation.y`, 12],
      ]),
    );
    const pose = copyPose(next, at(next, 1), [id.Body!]);
    next = sound(next, pastePose(next, pose, 24, true, random));
    const then = at(next, 24);
    expect(then.number(`${id['Right arm']}/rotation.z`)).toBe(-30);
    expect(then.number(`${id['Right arm']}/location.x`)).toBe(-1);
    expect(then.number(`${id['Left arm']}/rotation.z`)).toBe(0);
    expect(then.number(`${id.Body}/rotation.y`)).toBe(-12);
  });
});

describe('trays and locks', () => {
  it('hold for everything below a part', () => {
    const { shot, id } = build([
      ['Ride', null, 'hub'],
      ['Deck', 'Ride'],
      ['Quay', null],
    ]);
    const tray = addTray(shot, 'Originals', [id.Ride!], random);
    let next = sound(shot, tray.change);
    next = sound(next, changeTray(next, tray.id, { away: true, out: true }));
    next = sound(next, setLocked(next, [id.Quay!], true));
    const standing = standingOf(next);
    expect([...standing.away].sort()).toEqual([id.Ride, id.Deck].sort());
    expect([...standing.out].sort()).toEqual([id.Ride, id.Deck].sort());
    expect([...standing.locked]).toEqual([id.Quay]);
    expect(() => addTray(next, 'Originals', [], random)).toThrow('already the name of another tray');
  });
});

describe('what is asked or refused', () => {
  it('names what reads a part before it is deleted', () => {
    const { shot, id } = build([
      ['Wheel', null],
      ['Rod', null],
      ['Lamp', null],
    ]);
    let next = apply(shot, setLink(shot, `${id.Rod}/location.y`, 'Wheel.rotation.z * 1m / 360deg'));
    next = apply(next, setAim(next, id.Lamp!, { target: id.Wheel!, axis: 'x', up: 'y' }));
    expect(readersOf(next, [id.Wheel!])).toEqual(['Rod location Y', 'Lamp, which faces it']);
    expect(readersOf(next, [id.Wheel!, id.Rod!, id.Lamp!])).toEqual([]);
    const gone = sound(next, removeParts(next, [id.Wheel!]));
    expect(gone.parts[id.Lamp!]!.aim).toBeUndefined();
  });

  it('a name of 300 letters is refused with its length and the limit', () => {
    const { shot, id } = build([['Wheel', null]]);
    expect(() => renamePart(shot, id.Wheel!, 'w'.repeat(300))).toThrow(/300 characters: at most 80/);
    expect(() => demandName('  ')).toThrow('must not be empty');
  });

  it('profiles, texts and pictures go to shapes and looks that can have them', () => {
    const { shot, id } = build([['Wheel', null]]);
    const { shape, look } = shot.parts[id.Wheel!]!;
    expect(() => setProfile(shot, shape!, [[0, 0]])).toThrow('A box cannot be changed so');
    expect(() => setText(shot, shape!, { text: 'A', font: 'rye' }, [])).toThrow('cannot be changed so');
    expect(() => setOutline(shot, shape!, [])).toThrow('cannot be changed so');
    const picture = { asset: 'a'.repeat(64), width: 4, height: 4, alpha: false, file: 'flag.png' };
    const next = sound(shot, setPicture(shot, look!, 'front', picture));
    expect(next.looks[look!]!.pictures).toEqual({ front: picture });
    expect(sound(next, setPicture(next, look!, 'front', null))).toEqual(shot);
  });
});

describe('frame rate', () => {
  it('keeping seconds leaves every value at its moment and the shot as long as it was', () => {
    const { shot, id } = build([['Bell', null]]);
    const turn = `${id.Bell}/rotation.x`;
    let next = apply(shot, keyChannels(shot, 1, [[turn, 0]], random));
    next = apply(next, keyChannels(next, 49, [[turn, 90]], random));
    next = apply(next, addMarker(next, 25, 'Strike', random).change);
    const faster = sound(next, changeRate(next, { num: 48, den: 1 }, 'seconds'));
    expect(faster.setup.last).toBe(192);
    expect(Object.values(faster.markers)[0]!.frame).toBe(49);
    for (const seconds of [0, 0.4, 1.1, 2])
      expect(at(faster, 1 + seconds * 48).number(turn)).toBeCloseTo(
        at(next, 1 + seconds * 24).number(turn),
        9,
      );
    const same = sound(next, changeRate(next, { num: 48, den: 1 }, 'frames'));
    expect(same.parts).toEqual(next.parts);
  });
});

describe('documents of version 1', () => {
  it('are brought up to this version', () => {
    const { shot } = build([['Bell', null]]);
    const { trays: _trays, markers: _markers, ...old } = shot;
    expect(parseShot({ ...old, version: 1 })).toEqual({ ok: true, shot });
  });
});

it('of a list of parts those are topmost that hang below no other one of it', () => {
  fc.assert(
    fc.property(
      fc.array(fc.nat(), { minLength: 1, maxLength: 12 }),
      fc.infiniteStream(fc.boolean()),
      (parents, picks) => {
        const idAt = (i: number): string => `prt_${i}`;
        // Each hangs from one before it, or from nothing.
        const parts = Object.fromEntries(
          parents.map((parent, i) => [
            idAt(i),
            hub(`Hub ${i}`, { order: i, parent: parent % (i + 1) === i ? null : idAt(parent % (i + 1)) }),
          ]),
        );
        const shot: Shot = { ...emptyShot(), parts };
        const ids = Object.keys(parts).filter(() => picks.next().value as boolean);
        const below = new Set(ids.flatMap((id) => subtreeOf(shot, id).slice(1)));
        expect(topmost(shot, ids)).toEqual(ids.filter((id) => !below.has(id)));
        for (const id of Object.keys(parts))
          expect(isWithinAny(shot, id, new Set(ids))).toBe(ids.includes(id) || below.has(id));
      },
    ),
    { numRuns: 200 },
  );
});
