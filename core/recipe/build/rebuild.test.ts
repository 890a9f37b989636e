import { describe, expect, it } from 'vitest';
import { checkStructure, childrenOf, type Shot } from '../../document';
import {
  addPart,
  apply,
  EditRefused,
  invert,
  keyChannels,
  removeParts,
  setLink,
  setValues,
} from '../../edit';
import { builtShot, initialOf } from '../../testing/built-recipe';
import { seeded } from '../../testing/seeded';
import { applyRecipe, BUILT_KINDS, editRecipe, RECIPES, rememberedRecipe, type Settings } from '..';

/** Other numbers for each kind, some of them with other parts. */
const OTHERS: Readonly<Record<string, readonly Settings[]>> = {
  'gear-outer': [{ teeth1: 12, teeth2: 30, module: 0.1, direction: 40 }],
  'gear-inner': [{ teeth1: 15, teeth2: 45, module: 0.04 }],
  'gear-bevel': [{ teeth1: 18, teeth2: 18, module: 0.08 }, { reverse: true }],
  train: [{ teeth: [12, 30, 18, 40] }, { teeth: [12, 30, 10, 25], compound: true }],
  planetary: [{ sunTeeth: 18, planetTeeth: 18 }, { module: 0.1 }],
  belt: [{ diameter1: 0.3, diameter2: 0.1, distance: 1, crossed: true }],
  chain: [{ teeth1: 20, teeth2: 25, distance: 1.4 }],
  rack: [{ teeth: 31, module: 0.02 }],
  worm: [{ starts: 3, teeth: 29, radius: 0.4, reverse: true }],
  roll: [{ radius: 0.8 }],
  reach: [{ upperLength: 1, lowerLength: 0.7 }],
  'crank-slider': [{ throw: 0.3, rodLength: 0.9, offset: 0.1 }],
  eccentric: [{ throw: 0.08, rodLength: 0.7, phase: 30 }],
  'four-bar': [{ crank: 0.3, couplerLength: 0.8, rockerLength: 0.6, ground: 0.7, phase: 10 }],
  cam: [{ foot: 'roller', roller: 0.05, law: 'harmonic' }, { foot: 'flat foot', base: 0.4 }, { lift: 0.2 }],
  intermittent: [{ slots: 6, distance: 0.8, phase: 20 }, { inner: true }],
  screw: [{ pitch: 0.02, starts: 2, radius: 0.1 }],
  'scotch-yoke': [{ throw: 0.4, phase: 60 }],
  toggle: [{ link: 0.9 }],
  pantograph: [{ arm: 1, ratio: 3 }],
  universal: [{ bend: 45, radius: 0.1 }],
  spring: [{ turns: 12, wire: 0.01, radius: 0.1, length: 0.6 }],
  rope: [{ radius: 0.5, hang: 2 }],
  hinge: [{ width: 1.2, most: 90 }],
  'roll-path': [{ radius: 0.5, track: 3 }],
  follow: [{ ratio: 2, delay: 5, length: 1 }],
  phase: [{ count: 6, throw: 0.3 }, { order: [1, 3, 4, 2] }],
  stagger: [{ count: 3, frames: 8, radius: 0.1 }],
  ratchet: [{ teeth: 30, radius: 0.6, depth: 0.03, pawl: 0.5 }, { by: 'lever' }],
};

/** A shot as it can be compared with another one: parts by names, with what hangs from what, shapes and links. */
function picture(shot: Shot): unknown {
  const name = (id: string | null): string | null => (id === null ? null : (shot.parts[id]?.name ?? null));
  return Object.fromEntries(
    Object.values(shot.parts)
      .map((part) => {
        const shape = part.shape === null ? null : shot.shapes[part.shape]!;
        const numbers = (values: Readonly<Record<string, unknown>>): unknown =>
          Object.fromEntries(
            Object.entries(values)
              // What stands at its initial value need not be written down.
              .filter(([, value]) => value !== 0)
              .map(([path, value]) => [
                path,
                typeof value === 'number' ? Number(value.toPrecision(9)) : value,
              ]),
          );
        const links = { ...part.links, ...shape?.links };
        return [
          part.name,
          {
            kind: part.kind,
            parent: name(part.parent),
            values: numbers(part.values),
            shape: shape && {
              kind: shape.kind,
              values: numbers(shape.values),
              outline: shape.outline,
              pulleys: shape.pulleys,
            },
            links: Object.fromEntries(Object.entries(links).map(([path, link]) => [path, link.formula])),
            tray: part.tray === undefined ? null : shot.trays[part.tray]!.name,
          },
        ] as const;
      })
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  );
}

const edited = (shot: Shot, id: string, more: Settings, keep = true) => {
  const recipe = shot.recipes[id]!;
  const { roles, settings } = rememberedRecipe(recipe);
  return editRecipe(shot, RECIPES.get(recipe.kind)!, id, roles, { ...settings, ...more }, keep, seeded(99));
};

describe('parts that were built', () => {
  it('have other numbers here for each kind that builds any', () => {
    expect(Object.keys(OTHERS).sort()).toEqual([...BUILT_KINDS].sort());
  });

  const cases = Object.entries(OTHERS).flatMap(([kind, list]) => list.map((more) => [kind, more] as const));
  it.each(cases)(
    '%s with %o are as if they were built so at once, there and back, and undone exactly',
    (kind, more) => {
      const first = builtShot(kind, {}, seeded(1));
      const change = edited(first.shot, first.id, more).change;
      const second = apply(first.shot, change);
      expect(checkStructure(second)).toEqual([]);
      expect(picture(second)).toEqual(picture(builtShot(kind, more).shot));
      expect(apply(second, invert(change))).toEqual(first.shot);
      const back = apply(second, edited(second, first.id, initialOf(kind)).change);
      expect(picture(back)).toEqual(picture(first.shot));
      expect(Object.keys(second.recipes)).toEqual([first.id]);
    },
  );

  const train = () => builtShot('gear-outer', { teeth1: 16, teeth2: 56, module: 0.05 }, seeded(1));

  it('keep what was changed by hand, and say what it is', () => {
    const { shot, id, slots } = train();
    const wheel = shot.parts[slots['Driven gear']!]!;
    const own = apply(
      shot,
      setValues(shot, [
        [`${wheel.shape!}/thickness`, 0.5],
        [`${slots['Driver gear']!}/location.y`, 0.3],
        [`${slots['Gear pair']!}/location.y`, 9],
      ]),
    );
    const kept = edited(own, id, { module: 0.1 });
    // A place that the new numbers leave alone is nobody's business.
    expect(kept.own.map(({ what, stays }) => [what, stays])).toEqual([['Driven gear thickness', false]]);
    const after = apply(own, kept.change);
    expect(after.shapes[wheel.shape!]!.values).toMatchObject({ thickness: 0.5, module: 0.1, bore: 0.2 });
    expect(after.parts[slots['Driver gear']!]!.values['location.y']).toBe(0.3);
    // Where the whole stands is up to whoever put it there.
    expect(after.parts[slots['Gear pair']!]!.values['location.y']).toBe(9);
    const given = apply(own, edited(own, id, { module: 0.1 }, false).change);
    expect(given.shapes[wheel.shape!]!.values.thickness).toBeCloseTo(0.4, 12);
  });

  it('keep keys and formulas in any case', () => {
    const { shot, id, slots } = train();
    const shape = shot.parts[slots['Driven gear']!]!.shape!;
    const keyed = apply(
      apply(shot, keyChannels(shot, 1, [[`${shape}/thickness`, 0.2]])),
      setLink(shot, `${slots['Driven gear']!}/location.x`, 'frame * 1mm'),
    );
    for (const keep of [true, false]) {
      const result = edited(keyed, id, { module: 0.1 }, keep);
      expect(result.own.map(({ what, stays }) => [what, stays]).sort()).toEqual([
        ['Driven gear location X', true],
        ['Driven gear thickness', true],
      ]);
      const after = apply(keyed, result.change);
      expect(Object.keys(after.shapes[shape]!.tracks)).toEqual(['thickness']);
      expect(after.parts[slots['Driven gear']!]!.links['location.x']!.formula).toBe('frame * 1mm');
    }
  });

  it('that are deleted stay away, and what hangs from one that goes is not lost', () => {
    const { shot, id, slots } = builtShot('cam', { foot: 'roller' }, seeded(1));
    const without = apply(shot, removeParts(shot, [slots.Follower!]));
    expect(() => edited(without, id, { lift: 0.2 })).toThrow(EditRefused);
    const noRoller = apply(shot, removeParts(shot, [slots.Roller!]));
    const after = apply(noRoller, edited(noRoller, id, { lift: 0.2 }).change);
    expect(Object.values(after.parts).map((part) => part.name)).not.toContain('Roller');
    const lamp = addPart(shot, { kind: 'point', name: 'Lamp', parent: slots.Roller! }, seeded(5));
    const lit = apply(shot, lamp.change);
    const result = edited(lit, id, { foot: 'knife edge' });
    expect(result.own.map(({ what }) => what)).toEqual(['Roller, from which Lamp hangs']);
    expect(childrenOf(apply(lit, result.change), slots.Roller!)).toEqual([lamp.id]);
  });

  it('play their roles, unless somebody has chosen another part', () => {
    const { shot, id } = builtShot('train', { teeth: [20, 40] }, seeded(1));
    const longer = edited(shot, id, { teeth: [20, 40, 30] });
    expect(longer.roles.driven).toHaveLength(2);
    expect(longer.added).toHaveLength(1);
    const other = addPart(shot, { kind: 'hub', name: 'Other' }, seeded(6));
    const more = apply(shot, other.change);
    const { roles, settings } = rememberedRecipe(more.recipes[id]!);
    const chosen = { ...roles, driven: [`${other.id}/rotation.z`] };
    const result = editRecipe(more, RECIPES.get('train')!, id, chosen, { ...settings, module: 0.1 });
    expect(result.roles.driven).toEqual([`${other.id}/rotation.z`]);
  });

  it('a recipe that built none is edited as before', () => {
    const { shot, roles } = train();
    const made = applyRecipe(shot, RECIPES.get('gear-outer')!, roles, { teeth1: 16, teeth2: 56 });
    const again = apply(shot, made.change);
    const result = edited(again, made.id, { teeth1: 18 });
    expect(result.added).toEqual([]);
    expect(apply(again, result.change).recipes[made.id]!.numbers.teeth1).toBe(18);
  });
});
