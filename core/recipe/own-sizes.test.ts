import { describe, expect, it } from 'vitest';
import { linkOf, trackOf, type Shot } from '../document';
import { apply, keyChannels } from '../edit';
import { compile, Evaluator } from '../evaluate';
import { emptyShot, hub, shape, solid } from '../testing/random-shot';
import { applyRecipe, keyedOf, ownSizes, RECIPES, writeRecipe, type OverKeys } from './index';

const shot: Shot = {
  ...emptyShot(),
  looks: { lok_a: { name: 'Paint', values: {}, tracks: {}, links: {} } },
  shapes: {
    shp_h: shape('torus', { radius: 0.5, tube: 0.1 }),
    shp_p: shape('gear', { teeth: 16, module: 0.04 }),
    shp_w: shape('gear', { teeth: 56, module: 0.04 }),
    shp_d: shape('cylinder', { radius: 0.25, sides: 256 }),
  },
  parts: {
    prt_h: solid('Hoop', 'shp_h', { values: { 'rest.x': 90, 'scale.x': 2, 'scale.y': 2, 'scale.z': 2 } }),
    prt_k: hub('Axle', { values: { 'location.y': 1 } }),
    prt_t: solid('Tyre', 'shp_h', { parent: 'prt_k', values: { 'rest.x': 90 } }),
    prt_p: solid('Pinion', 'shp_p'),
    prt_w: solid('Wheel', 'shp_w', { values: { 'location.x': 0, 'location.y': 1.44 } }),
    prt_d: solid('Pulley', 'shp_d'),
  },
};
const evaluator = new Evaluator(compile(shot));
evaluator.evaluate(1);
const sizes = (kind: string, roles: Record<string, string | string[]>) =>
  ownSizes(shot, evaluator, kind, roles);

describe('recipes take the sizes of their parts', () => {
  it('a wheel its own radius, with its scale and through a hub', () => {
    expect(sizes('roll', { way: 'prt_h/location.x', wheel: 'prt_h/rotation.y' }).radius).toBe(1.2);
    expect(sizes('roll', { way: 'prt_k/location.x', wheel: 'prt_k/rotation.z' }).radius).toBe(0.6);
  });
  it('gears their teeth, their module and their direction', () => {
    expect(sizes('gear-outer', { driver: 'prt_p/rotation.z', driven: 'prt_w/rotation.z' })).toEqual({
      teeth1: 16,
      teeth2: 56,
      module: 0.04,
      direction: 90,
    });
    expect(
      sizes('train', { driver: 'prt_p/rotation.z', driven: ['prt_w/rotation.z', 'prt_p/rotation.z'] }),
    ).toEqual({
      teeth: [16, 56, 16],
    });
    expect(sizes('rack', { driver: 'prt_p/rotation.z' })).toEqual({ teeth: 16, module: 0.04 });
    expect(sizes('planetary', { sun: 'prt_p/rotation.z', planets: ['prt_w/rotation.z'] })).toEqual({
      sunTeeth: 16,
      planetTeeth: 56,
    });
  });
  it('pulleys their diameters; what tells nothing is left to the recipe', () => {
    expect(sizes('belt', { driver: 'prt_d/rotation.y', driven: 'prt_d/rotation.y' }).diameter1).toBeCloseTo(
      0.5,
      3,
    );
    expect(sizes('gear-outer', { driver: 'prt_k/rotation.z' })).toEqual({});
    expect(sizes('gear-outer', { driver: 'prt_gone/rotation.z' })).toEqual({});
    expect(sizes('crank-slider', {})).toEqual({});
  });
});

describe('a recipe over keys', () => {
  const keyed = apply(shot, keyChannels(shot, 9, [['prt_h/rotation.y', 40]]));
  const spec = RECIPES.get('gear-outer')!;
  const roles = { driver: 'prt_p/rotation.z', driven: 'prt_h/rotation.y' };
  const made = (overKeys: OverKeys): Shot =>
    apply(keyed, applyRecipe(keyed, spec, roles, {}, { random: () => 0.5, overKeys }).change);
  it('names the channels whose keys it would cover', () => {
    expect(keyedOf(keyed, writeRecipe(keyed, spec, roles, {}))).toEqual(['prt_h/rotation.y']);
    expect(keyedOf(shot, writeRecipe(shot, spec, roles, {}))).toEqual([]);
  });
  it('replaces them, adds to them, or leaves them below, as is said', () => {
    expect(trackOf(made('replace'), 'prt_h/rotation.y')).toBeNull();
    expect(made('replace').parts.prt_h!.values['rotation.y']).toBe(40);
    const added = linkOf(made('add'), 'prt_h/rotation.y')!.formula;
    expect(added).toMatch(/^own \+ mesh\(/);
    expect(trackOf(made('add'), 'prt_h/rotation.y')).not.toBeNull();
    expect(linkOf(made('keep'), 'prt_h/rotation.y')!.formula).toMatch(/^mesh\(/);
  });
});
