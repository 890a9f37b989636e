import { describe, expect, it } from 'vitest';
import { linkOf, type Shot } from '../document';
import { apply, EditRefused, invert, setLink, setValues } from '../edit';
import { compile, Evaluator } from '../evaluate';
import { emptyShot, hub } from '../testing/random-shot';
import { applyRecipe, phaseOf, RECIPES, recipeOf, rememberedRecipe, setPhases } from './index';

const base: Shot = {
  ...emptyShot(),
  parts: { prt_a: hub('Crank'), prt_b: hub('Piston'), prt_c: hub('Rod'), prt_d: hub('Wheel') },
};
const PISTON = 'prt_b/location.x';
const ROD = 'prt_c/rotation.z';
const WHEEL = 'prt_d/rotation.z';

const at = (shot: Shot, address: string, crank: number): number => {
  const evaluator = new Evaluator(compile(apply(shot, setValues(shot, [['prt_a/rotation.z', crank]]))));
  evaluator.evaluate(1);
  return evaluator.number(address);
};

describe('phase of a link', () => {
  it('moves on, as if the driver were so much further', () => {
    const shot = apply(base, setLink(base, WHEEL, 'Crank.rotation.z * 2 + 10deg'));
    expect(phaseOf(shot, WHEEL)).toBe(10);
    const change = setPhases(shot, new Map([[WHEEL, -35.5]]));
    const next = apply(shot, change);
    expect(linkOf(next, WHEEL)?.formula).toBe('Crank.rotation.z * 2 - 35.5deg');
    expect(at(next, WHEEL, 30)).toBeCloseTo(24.5, 9);
    expect(apply(next, invert(change))).toEqual(shot);
  });
  it('of a recipe takes rod and slider along, and the recipe knows its number', () => {
    const roles = { driver: 'prt_a/rotation.z', slider: PISTON, rod: ROD };
    const made = apply(
      base,
      applyRecipe(base, RECIPES.get('crank-slider')!, roles, { throw: 0.2, rodLength: 0.6 }).change,
    );
    const next = apply(made, setPhases(made, new Map([[PISTON, 90]])));
    expect([phaseOf(next, PISTON), phaseOf(next, ROD)]).toEqual([90, 90]);
    for (const crank of [0, 50, 200]) {
      expect(at(next, PISTON, crank)).toBeCloseTo(at(made, PISTON, crank + 90), 12);
      expect(at(next, ROD, crank)).toBeCloseTo(at(made, ROD, crank + 90), 12);
    }
    expect(rememberedRecipe(recipeOf(next, PISTON)!.recipe).settings.phase).toBe(90);
    // Both links together are still one recipe.
    expect(
      phaseOf(
        apply(
          made,
          setPhases(
            made,
            new Map([
              [PISTON, 5],
              [ROD, 5],
            ]),
          ),
        ),
        ROD,
      ),
    ).toBe(5);
  });
  it('there is none where nothing goes round, where there is no link, and where turns are plain numbers', () => {
    expect(phaseOf(base, WHEEL)).toBeNull();
    const place = apply(base, setLink(base, PISTON, 'own + 2m'));
    expect(phaseOf(place, PISTON)).toBeNull();
    expect(() => setPhases(place, new Map([[PISTON, 3]]))).toThrow(EditRefused);
    const wave = apply(base, setLink(base, 'prt_b/scale.x', 'wave(0.25)'));
    expect(phaseOf(wave, 'prt_b/scale.x')).toBeNull();
  });
  it('a recipe remembers the channel of each part that takes a role with others', () => {
    const driven = [WHEEL, 'prt_c/rotation.x'];
    const roles = { driver: 'prt_a/rotation.z', driven };
    const shot = apply(
      base,
      applyRecipe(base, RECIPES.get('phase')!, roles, { cycle: 360, order: [] }).change,
    );
    expect(rememberedRecipe(recipeOf(shot, WHEEL)!.recipe).roles).toEqual(roles);
  });
});
