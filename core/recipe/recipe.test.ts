import { describe, expect, it } from 'vitest';
import { checkStructure, type Shot } from '../document';
import { apply, EditRefused, invert, setValues } from '../edit';
import { compile, Evaluator } from '../evaluate';
import { builtShot } from '../testing/built-recipe';
import { emptyShot, hub } from '../testing/random-shot';
import {
  applyRecipe,
  FACT_MEASURES,
  recipeOf,
  RECIPES,
  rememberedRecipe,
  type Roles,
  type Settings,
} from './index';

const A = 'prt_a/rotation.z';
const B = 'prt_b/rotation.z';
const C = 'prt_c/rotation.z';
const D = 'prt_d/rotation.z';
const E = 'prt_e/rotation.z';
const F = 'prt_f/rotation.z';
const G = 'prt_g/rotation.z';

const base: Shot = {
  ...emptyShot(),
  parts: {
    prt_a: hub('Crank'),
    prt_b: hub('Wheel', { values: { along: 0.25 }, follow: { path: 'prt_p', closed: false, turn: true } }),
    prt_c: hub('Third part'),
    prt_d: hub('D'),
    prt_e: hub('E'),
    prt_f: hub('F'),
    prt_g: hub('G'),
    prt_p: hub('Path'),
    prt_1: hub('P1', { parent: 'prt_p', order: 0 }),
    prt_2: hub('P2', { parent: 'prt_p', order: 1, values: { 'location.x': 4 } }),
  },
};

/** Carries a recipe out, holds that it is undone exactly, and gives the formulas and values at turns of the driver. */
function cook(
  kind: string,
  roles: Roles,
  settings: Settings = {},
): {
  formulas: string[];
  at: (turn: number, address: string, driver?: string) => number;
  facts: Record<string, number>;
  warnings: readonly string[];
  shot: Shot;
} {
  const { change, written } = applyRecipe(base, RECIPES.get(kind)!, roles, settings, { random: () => 0.5 });
  const shot = apply(base, change);
  expect(checkStructure(shot)).toEqual([]);
  expect(apply(shot, invert(change))).toEqual(base);
  for (const name of Object.keys(written.facts ?? {}))
    expect(FACT_MEASURES, `what "${name}" measures`).toHaveProperty([name]);
  return {
    shot,
    facts: { ...written.facts },
    warnings: written.warnings ?? [],
    formulas: written.links.map(([, formula]) => formula),
    at: (turn, address, driver = A) => {
      const turned = apply(shot, setValues(shot, [[driver, turn]]));
      const evaluator = new Evaluator(compile(turned));
      evaluator.evaluate(1);
      return evaluator.number(address);
    },
  };
}

describe('gears (ISO 54; ISO 21771; Shigley, chapter 13)', () => {
  it('outer pair: direction, ratio, phase, centre distance', () => {
    const pair = cook('gear-outer', { driver: A, driven: B }, { teeth1: 20, teeth2: 40, module: 2 });
    expect(pair.formulas).toEqual(['mesh(Crank.rotation.z, 20, 40) + 4.5deg']);
    expect(pair.at(360, B)).toBeCloseTo(-175.5, 9);
    expect(pair.facts['centre distance']).toBe(60);
  });
  it('says what handbooks have against it, and is made all the same', () => {
    const pair = cook('gear-outer', { driver: A, driven: B }, { teeth1: 16, teeth2: 56 });
    expect(pair.warnings).toHaveLength(1);
    expect(pair.warnings[0]).toContain('The driver has 16 teeth: below 18 they are undercut');
    expect(pair.facts['contact ratio']).toBeGreaterThan(1.5);
    expect(cook('gear-outer', { driver: A, driven: B }, { teeth1: 18, teeth2: 72 }).warnings).toEqual([]);
    expect(cook('gear-inner', { driver: A, driven: B }, { teeth1: 12, teeth2: 60 }).warnings[0]).toContain(
      '12 teeth',
    );
    const bars = cook('four-bar', { driver: A, rocker: B, coupler: C }, {});
    expect(bars.facts['least transmission angle']).toBeCloseTo(26.3843297, 6);
    expect(bars.warnings[0]).toContain('The transmission angle goes from 26.38 to 86.42 degrees');
  });
  it('inner pair: the same way round', () => {
    const pair = cook('gear-inner', { driver: A, driven: B }, { teeth1: 20, teeth2: 60, module: 2 });
    expect(pair.at(360, B) - pair.at(0, B)).toBeCloseTo(120, 9);
    expect(pair.at(0, B)).toBeCloseTo(3, 9);
  });
  it('bevel pair', () => {
    const pair = cook('gear-bevel', { driver: A, driven: B }, { teeth1: 20, teeth2: 40 });
    expect(pair.facts['cone angle 1']).toBeCloseTo(26.56505118, 7);
    expect(pair.at(360, B) - pair.at(0, B)).toBeCloseTo(-180, 9);
  });
  it('trains: an idler changes the direction only; 20/40 and 15/45 give 600 degrees for ten turns', () => {
    const idler = cook('train', { driver: A, driven: [B, C] }, { teeth: [20, 33, 40] });
    expect(idler.at(360, C) - idler.at(0, C)).toBeCloseTo(180, 9);
    const compound = cook(
      'train',
      { driver: A, driven: [B, C] },
      { teeth: [20, 40, 15, 45], compound: true },
    );
    expect(compound.at(3600, C) - compound.at(0, C)).toBeCloseTo(600, 9);
    expect(() => cook('train', { driver: A, driven: [B] }, { teeth: [20, 40, 60] })).toThrow(
      'need 2 numbers',
    );
  });
  it('planetary: ring held, sun held, carrier held; a planet turns -1/3 as the world sees it', () => {
    const ring = cook('planetary', { sun: A, carrier: B, planets: [C, D] }, { held: 'ring', drives: 'sun' });
    expect(ring.formulas[0]).toBe('Crank.rotation.z * 20 / 100');
    expect(ring.at(360, B)).toBeCloseTo(72, 9);
    const spin = ring.at(360, C) - ring.at(0, C);
    expect((spin + 72) / 360).toBeCloseTo(-1 / 3, 9);
    expect(
      cook('planetary', { ring: A, carrier: B }, { held: 'sun', drives: 'ring' }).at(100, B),
    ).toBeCloseTo(80, 9);
    expect(cook('planetary', { sun: A, ring: B }, { held: 'carrier', drives: 'sun' }).at(100, B)).toBeCloseTo(
      -25,
      9,
    );
    expect(() => cook('planetary', { sun: A, planets: [B, C, D] }, {})).toThrow('not divisible by 3');
    expect(() => cook('planetary', { sun: A }, { held: 'sun', drives: 'sun' })).toThrow('held and drive');
  });
  it.each([
    [30, 15, 3],
    [24, 21, 3],
    [20, 20, 4],
    [18, 27, 3],
    [24, 24, 3],
    [20, 30, 5],
  ])(
    "planetary %s/%s: teeth of sun, planets and ring stand in each other's gaps at every moment",
    (zs, zp, n) => {
      const zr = zs + 2 * zp;
      const members = ['sun', 'ring', 'carrier'] as const;
      // How far from tooth on gap, in shares of a pitch; both sides seen along the tangent at the pitch point.
      const off = (share: number): number => Math.abs(share - Math.floor(share) - 0.5);
      for (const held of members)
        for (const drives of members) {
          if (held === drives) continue;
          const third = members.find((name) => name !== held && name !== drives)!;
          const planets = [C, D, E, F, G].slice(0, n);
          const made = cook(
            'planetary',
            { [drives]: A, [third]: B, planets },
            { held, drives, sunTeeth: zs, planetTeeth: zp },
          );
          for (const angle of [0, 7, 100, 333]) {
            const turn = { [held]: 0, [drives]: angle, [third]: made.at(angle, B) } as Record<string, number>;
            planets.forEach((planet, i) => {
              const direction = turn.carrier! + (360 * i) / n;
              const own = turn.carrier! + made.at(angle, planet);
              const atSun = ((direction - turn.sun!) * zs + (direction + 180 - own) * zp) / 360;
              const atRing = ((direction - own) * zp - (direction - turn.ring!) * zr) / 360;
              expect(off(atSun), `${held} held, ${drives} drives: planet ${i} on the sun`).toBeLessThan(1e-8);
              expect(off(atRing), `${held} held, ${drives} drives: planet ${i} in the ring`).toBeLessThan(
                1e-8,
              );
            });
          }
        }
    },
  );
  it('belt, rack, worm', () => {
    const belt = cook('belt', { driver: A, driven: B }, { crossed: true });
    expect(belt.at(360, B)).toBeCloseTo(-180, 9);
    expect(belt.facts['belt length']).toBeCloseTo(1.516585896, 8);
    expect(() => cook('belt', { driver: A, driven: B }, { distance: 0.1 })).toThrow('overlap');
    const rack = cook('rack', { driver: A, driven: 'prt_b/location.x' }, { teeth: 20, module: 0.002 });
    expect(rack.formulas).toEqual(['own + rack(Crank.rotation.z, 20mm)']);
    expect(rack.at(360, 'prt_b/location.x')).toBeCloseTo(0.1256637061, 9);
    expect(cook('worm', { driver: A, driven: B }).at(3.5 * 360, B)).toBeCloseTo(31.5, 9);
  });
});

describe('linkages', () => {
  it('crank and slider: the table of Uicker, Pennock and Shigley, and a rod that reaches from pin to pin', () => {
    const crank = cook(
      'crank-slider',
      { driver: A, slider: 'prt_b/location.x', rod: C },
      { throw: 2, rodLength: 6 },
    );
    expect(crank.formulas).toEqual([
      'slider(Crank.rotation.z, 2m, 6m)',
      '-rodangle(Crank.rotation.z, 2m, 6m)',
    ]);
    expect(crank.at(73.17529664, 'prt_b/location.x')).toBeCloseTo(
      2 * Math.cos(1.27715) + Math.sqrt(36 - (2 * Math.sin(1.27715)) ** 2),
      4,
    );
    for (const turn of [0, 30, 90, 200, 333]) {
      const x = crank.at(turn, 'prt_b/location.x');
      const swing = (crank.at(turn, C) * Math.PI) / 180;
      // From the slider along -x by the rod is where the crank pin stands.
      expect(x - 6 * Math.cos(swing)).toBeCloseTo(2 * Math.cos((turn * Math.PI) / 180), 9);
      expect(-6 * Math.sin(swing)).toBeCloseTo(2 * Math.sin((turn * Math.PI) / 180), 9);
    }
    const offset = cook(
      'crank-slider',
      { driver: A, slider: 'prt_b/location.x' },
      { throw: 2, rodLength: 6, offset: 1 },
    );
    expect(offset.facts.stroke).toBeCloseTo(4.064270587, 8);
    expect(() =>
      cook('crank-slider', { driver: A, slider: 'prt_b/location.x' }, { throw: 3, rodLength: 2 }),
    ).toThrow('too short');
  });
  it('four-bar (Norton, example 4-1), and one that cannot close', () => {
    const bars = cook('four-bar', { driver: A, rocker: B, coupler: C }, {});
    expect(bars.at(40, B)).toBeCloseTo(57.3248800704, 6);
    expect(bars.at(40, C)).toBeCloseTo(20.2978827882, 6);
    expect(() =>
      cook(
        'four-bar',
        { driver: A, rocker: B },
        { crank: 0.06, couplerLength: 0.08, rockerLength: 0.07, ground: 0.12 },
      ),
    ).toThrow('cannot close');
  });
  it('cam and follower, refused beyond a turn', () => {
    const cam = cook('cam', { driver: A, follower: 'prt_b/location.y' }, { law: 'cycloidal', lift: 0.025 });
    expect(cam.formulas).toEqual(['own + cam(cycloidal, Crank.rotation.z, 25mm, 120deg, 60deg, 120deg)']);
    expect(cam.at(30, 'prt_b/location.y')).toBeCloseTo(0.002271126423, 10);
    expect(cook('cam', { driver: A, follower: 'prt_b/location.y' }).formulas[0]).toContain('cam("3-4-5"');
    expect(() => cook('cam', { driver: A, follower: 'prt_b/location.y' }, { fall: 200 })).toThrow(
      '380 degrees',
    );
    expect(() => cook('cam', { driver: A, follower: 'prt_b/location.y' }, { law: 'square' })).toThrow(
      'one of harmonic',
    );
  });
  it('intermittent wheel, screw', () => {
    const wheel = cook('intermittent', { driver: A, wheel: B }, { slots: 6 });
    expect(wheel.at(720, B)).toBeCloseTo(-120, 9);
    expect(wheel.at(180 + 30, B)).toBeCloseTo(-(30 + 23.79397689), 7);
    const screw = cook('screw', { driver: A, nut: 'prt_b/location.y' }, { pitch: 0.004, starts: 2 });
    expect(screw.at(45, 'prt_b/location.y')).toBeCloseTo(0.001, 12);
  });
  it('rolling along x turns clockwise, along z the other way; along a path by its length', () => {
    // A hoop of 1.2 m goes three turns on three times its circumference.
    const radius = 0.6;
    const way = 3 * Math.PI * 1.2;
    const along = cook('roll', { way: 'prt_a/location.x', wheel: A }, { radius });
    expect(along.at(way, A, 'prt_a/location.x')).toBeCloseTo(-1080, 6);
    const across = cook('roll', { way: 'prt_a/location.z', wheel: 'prt_a/rotation.x' }, { radius });
    expect(across.at(way, 'prt_a/rotation.x', 'prt_a/location.z')).toBeCloseTo(1080, 6);
    const path = cook('roll-path', { follower: 'prt_b', wheel: B }, { radius: 0.5 });
    expect(path.formulas).toEqual(['own + roll(Wheel.along * pathlength(Wheel), 500mm)']);
    expect(path.at(1, B, 'prt_b/along')).toBeCloseTo(-(4 / 0.5) * (180 / Math.PI), 6);
    expect(() => cook('roll-path', { follower: 'prt_a', wheel: A }, {})).toThrow('follows no path');
  });
});

describe('following', () => {
  it('ratio, offset and delay', () => {
    const follow = cook('follow', { driver: A, driven: [B] }, { ratio: 0.5, delay: 6 });
    expect(follow.formulas).toEqual(['own + delay(Crank.rotation.z, 6f) * 0.5']);
    expect(() => cook('follow', { driver: A, driven: ['prt_b/location.x'] }, {})).toThrow('length');
  });
  it('phase: even, and by the firing order 1-3-4-2', () => {
    expect(cook('phase', { driver: A, driven: [B, C, D] }).formulas).toEqual([
      'Crank.rotation.z',
      'Crank.rotation.z - 120deg',
      'Crank.rotation.z - 240deg',
    ]);
    const four = cook(
      'phase',
      { driver: A, driven: [B, C, D, 'prt_1/rotation.z'] },
      { cycle: 720, order: [1, 3, 4, 2] },
    );
    expect(four.formulas).toEqual([
      'Crank.rotation.z',
      'Crank.rotation.z - 540deg',
      'Crank.rotation.z - 180deg',
      'Crank.rotation.z - 360deg',
    ]);
    expect(() => cook('phase', { driver: A, driven: [B, C] }, { order: [1, 1] })).toThrow('once');
  });
  it('stagger', () => {
    expect(cook('stagger', { driver: A, driven: [B, 'prt_c/rotation.z'] }, { frames: 4 }).formulas).toEqual([
      'delay(Crank.rotation.z, 4f)',
      'delay(Crank.rotation.z, 8f)',
    ]);
  });
});

describe('what handbooks have against drives (Shigley, chapters 10, 13 and 17; limits: common practice)', () => {
  const told = (kind: string, settings: Settings): string => builtShot(kind, settings).warnings.join(' ');
  it.each([
    ['belt', { diameter1: 0.1, diameter2: 0.9, distance: 0.6 }, 'slips easily'],
    ['chain', { teeth1: 11, teeth2: 30 }, 'below 17 the chain runs in jerks'],
    ['worm', { starts: 1, module: 0.02, radius: 0.3 }, 'the wheel cannot turn the worm back'],
    ['universal', { bend: 60 }, 'beyond 45 a single joint shakes'],
    ['spring', { radius: 0.05, wire: 0.02, turns: 4, length: 0.5 }, 'spring index is 2.5: below 4'],
    ['spring', { radius: 0.2, wire: 0.02, turns: 30, length: 0.8 }, 'cannot be pressed together'],
    ['spring', { radius: 0.05, wire: 0.008, turns: 8, length: 0.8 }, '8 diameters long'],
    ['gear-bevel', { teeth1: 9, teeth2: 40 }, 'undercut'],
  ])('%s of %o', (kind, settings, words) => {
    expect(told(kind, settings as Settings)).toContain(words);
  });
  it.each(['belt', 'chain', 'universal', 'spring', 'gear-bevel'])(
    'nothing against %s as it begins',
    (kind) => {
      expect(told(kind, {})).toBe('');
    },
  );
});

describe('every recipe', () => {
  it('is remembered with its numbers, edited in place, and refuses roles that do not fit', () => {
    const first = applyRecipe(
      base,
      RECIPES.get('gear-outer')!,
      { driver: A, driven: B },
      { teeth1: 12, teeth2: 30 },
    );
    const shot = apply(base, first.change);
    const found = recipeOf(shot, B)!;
    expect(found.id).toBe(first.id);
    const { roles, settings } = rememberedRecipe(found.recipe);
    expect(roles).toEqual({ driver: A, driven: B });
    expect(settings).toMatchObject({ teeth1: 12, teeth2: 30, direction: 0 });
    const again = apply(
      shot,
      applyRecipe(
        shot,
        RECIPES.get('gear-outer')!,
        { ...roles, driven: C },
        { ...settings, teeth1: 15 },
        { id: found.id },
      ).change,
    );
    expect(Object.keys(again.recipes)).toEqual([first.id]);
    expect(again.parts.prt_b!.links).toEqual({});
    expect(again.parts.prt_c!.links['rotation.z']!.formula).toContain('mesh(Crank.rotation.z, 15, 30)');
  });
  it.each([...RECIPES.values()].map((spec) => [spec.kind, spec] as const))(
    '%s says what is missing or wrong',
    (_, spec) => {
      expect(() => applyRecipe(base, spec, {}, {})).toThrow(EditRefused);
      const roles = Object.fromEntries(
        spec.roles.map((role) => [role.name, role.kind === 'part' ? 'prt_x' : 'prt_a/visible']),
      );
      expect(() => applyRecipe(base, spec, roles, {})).toThrow(EditRefused);
      for (const setting of spec.settings) expect(setting.label.length).toBeGreaterThan(2);
    },
  );
});
