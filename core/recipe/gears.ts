import {
  bevelCones,
  centreDistance,
  contactRatio,
  gearWarnings,
  innerCentreDistance,
  innerContactRatio,
  meshPhase,
  planetary,
  planetaryStart,
  rackTravel,
  ringPhase,
} from '../mechanism';
import { cosDeg } from '../math';
import { digits, length, plus, type Kit, type RecipeSpec, type Setting } from './recipe';

export const teeth = (name: string, label: string, initial: number): Setting => ({
  name,
  label,
  kind: 'whole',
  initial,
  min: 3,
  max: 1000,
});
export const moduleSetting: Setting = {
  name: 'module',
  label: 'Module',
  kind: 'length',
  initial: 0.05,
  min: 1e-6,
  max: 1000,
};
const direction: Setting = {
  name: 'direction',
  label: 'Direction to the driven gear',
  kind: 'angle',
  initial: 0,
  min: -360,
  max: 360,
};
export const reverse: Setting = {
  name: 'reverse',
  label: 'The other way round',
  kind: 'switch',
  initial: false,
};
export const driver = { name: 'driver', label: 'Driver', kind: 'angle' } as const;
export const driven = { name: 'driven', label: 'Driven', kind: 'angle' } as const;

export const GEAR_OUTER: RecipeSpec = {
  kind: 'gear-outer',
  label: 'Gear pair',
  help: 'Two gears side by side: they turn against each other by the ratio of their teeth, tooth in gap.',
  roles: [driver, driven],
  settings: [
    teeth('teeth1', 'Teeth of the driver', 16),
    teeth('teeth2', 'Teeth of the driven', 56),
    moduleSetting,
    direction,
  ],
  write: (kit) => {
    const [z1, z2] = [kit.number('teeth1'), kit.number('teeth2')];
    const phase = meshPhase(z1, z2, kit.number('direction'), 0);
    return {
      links: [[kit.address('driven'), `mesh(${kit.ref(kit.address('driver'))}, ${z1}, ${z2})${plus(phase)}`]],
      facts: {
        'centre distance': centreDistance(kit.number('module'), z1, z2),
        ratio: -z1 / z2,
        phase,
        'contact ratio': contactRatio(z1, z2),
      },
      warnings: gearWarnings(contactRatio(z1, z2), [
        ['The driver', z1],
        ['The driven gear', z2],
      ]),
    };
  },
};

export const GEAR_INNER: RecipeSpec = {
  kind: 'gear-inner',
  label: 'Gear in a ring',
  help: 'A gear inside a ring gear: both turn the same way.',
  roles: [driver, driven],
  settings: [
    teeth('teeth1', 'Teeth of the gear inside', 20),
    teeth('teeth2', 'Teeth of the ring', 60),
    moduleSetting,
    direction,
  ],
  write: (kit) => {
    const [z1, z2] = [kit.number('teeth1'), kit.number('teeth2')];
    if (z2 <= z1)
      kit.refuse(`the ring needs more teeth than the gear inside it: ${z2} is not more than ${z1}.`);
    const phase = ringPhase(z1, z2, kit.number('direction'), 0);
    return {
      links: [
        [kit.address('driven'), `mesh(${kit.ref(kit.address('driver'))}, ${z1}, -${z2})${plus(phase)}`],
      ],
      facts: {
        'centre distance': innerCentreDistance(kit.number('module'), z1, z2),
        ratio: z1 / z2,
        phase,
        'contact ratio': innerContactRatio(z1, z2),
      },
      warnings: gearWarnings(innerContactRatio(z1, z2), [['The gear inside', z1]]),
    };
  },
};

export const GEAR_BEVEL: RecipeSpec = {
  kind: 'gear-bevel',
  label: 'Bevel gears',
  help: 'Two gears on shafts at right angles.',
  roles: [driver, driven],
  settings: [
    teeth('teeth1', 'Teeth of the driver', 20),
    teeth('teeth2', 'Teeth of the driven', 40),
    { ...moduleSetting, building: true },
    reverse,
  ],
  write: (kit) => {
    const [z1, z2] = [kit.number('teeth1'), kit.number('teeth2')];
    const [cone1, cone2] = bevelCones(z1, z2);
    // Teeth of the spur gears that roll on their back cones (Tredgold; Shigley, chapter 13).
    const virtual = [z1 / cosDeg(cone1), z2 / cosDeg(cone2)] as const;
    // A tooth of one stands in a gap of the other: half a pitch apart.
    const sign = kit.is('reverse') ? '-' : '';
    return {
      links: [
        [
          kit.address('driven'),
          `mesh(${kit.ref(kit.address('driver'))}, ${z1}, ${sign}${z2})${plus(180 / z2)}`,
        ],
      ],
      facts: {
        ratio: ((kit.is('reverse') ? 1 : -1) * z1) / z2,
        'cone angle 1': cone1,
        'cone angle 2': cone2,
        'contact ratio': contactRatio(...virtual),
      },
      warnings: gearWarnings(contactRatio(...virtual), [
        ['The gear on whose back cone the driver rolls', virtual[0]],
        ['The gear on whose back cone the driven rolls', virtual[1]],
      ]),
    };
  },
};

export const TRAIN: RecipeSpec = {
  kind: 'train',
  label: 'Gear train',
  help: 'A row of gears, each driven by the one before. In a compound train two gears share each shaft between.',
  roles: [driver, { ...driven, many: true }],
  settings: [
    {
      name: 'teeth',
      label: 'Teeth, from the driver on',
      kind: 'numbers',
      initial: [20, 40],
      min: 3,
      max: 1000,
    },
    { ...moduleSetting, building: true },
    { name: 'compound', label: 'Two gears on each shaft', kind: 'switch', initial: false },
  ],
  write: (kit) => {
    const list = kit.numbers('teeth');
    const shafts = kit.many('driven');
    const wanted = kit.is('compound') ? shafts.length * 2 : shafts.length + 1;
    if (list.length !== wanted)
      kit.refuse(`${shafts.length} driven shafts need ${wanted} numbers of teeth, ${list.length} are given.`);
    let ratio = 1;
    const links = shafts.map((address, i): [string, string] => {
      const before = i === 0 ? kit.address('driver') : shafts[i - 1]!;
      const z1 = kit.is('compound') ? list[i * 2]! : list[i]!;
      const z2 = kit.is('compound') ? list[i * 2 + 1]! : list[i + 1]!;
      ratio *= -z1 / z2;
      return [address, `mesh(${kit.ref(before)}, ${z1}, ${z2})${plus(meshPhase(z1, z2, 0, 0))}`];
    });
    return { links, facts: { ratio } };
  },
};

export const PLANETARY: RecipeSpec = {
  kind: 'planetary',
  label: 'Planetary gears',
  help: 'A sun, planets on a carrier and a ring. One of the three is held, one drives, the third and the planets follow. Planets hang below the carrier.',
  roles: [
    { name: 'sun', label: 'Sun', kind: 'angle', optional: true },
    { name: 'ring', label: 'Ring', kind: 'angle', optional: true },
    { name: 'carrier', label: 'Carrier', kind: 'angle', optional: true },
    { name: 'planets', label: 'Planets', kind: 'angle', many: true, optional: true },
  ],
  settings: [
    teeth('sunTeeth', 'Teeth of the sun', 20),
    teeth('planetTeeth', 'Teeth of a planet', 30),
    { ...moduleSetting, building: true },
    { name: 'held', label: 'Held', kind: 'word', initial: 'ring', words: ['ring', 'sun', 'carrier'] },
    { name: 'drives', label: 'Driver', kind: 'word', initial: 'sun', words: ['sun', 'ring', 'carrier'] },
  ],
  write: planetaryLinks,
};

function planetaryLinks(kit: Kit): ReturnType<RecipeSpec['write']> {
  const zs = kit.number('sunTeeth');
  const zp = kit.number('planetTeeth');
  const zr = zs + 2 * zp;
  const [held, drives] = [kit.word('held'), kit.word('drives')];
  if (held === drives) kit.refuse(`the ${held} cannot be held and drive at once.`);
  const driver = kit.optional(drives) ?? kit.refuse(`choose the ${drives}, which drives.`);
  const third = ['sun', 'ring', 'carrier'].find((name) => name !== held && name !== drives)!;
  const turns = planetary(zs, zp, { [held]: 0, [drives]: 1 });
  const ratio = turns[third as 'sun' | 'ring' | 'carrier'];
  // As a fraction of whole teeth, so that the formula can be read.
  const fraction: Record<string, string> = {
    'ring sun carrier': `${zs} / ${zs + zr}`,
    'ring carrier sun': `${zs + zr} / ${zs}`,
    'sun ring carrier': `${zr} / ${zs + zr}`,
    'sun carrier ring': `${zs + zr} / ${zr}`,
    'carrier sun ring': `-${zs} / ${zr}`,
    'carrier ring sun': `-${zr} / ${zs}`,
  };
  const links: [string, string][] = [];
  const follower = kit.optional(third);
  const start = planetaryStart(zs, zp, third as 'sun' | 'ring' | 'carrier');
  if (follower)
    links.push([
      follower,
      `${kit.ref(driver)} * ${fraction[`${held} ${drives} ${third}`]}${plus(start[third as 'sun'])}`,
    ]);
  const planets = kit.many('planets');
  if (planets.length > 0 && (zs + zr) % planets.length !== 0)
    kit.refuse(
      `${planets.length} planets cannot be spaced evenly: ${zs} + ${zr} teeth are not divisible by ${planets.length}.`,
    );
  // Below the carrier a planet turns by what the sun turns beyond the carrier.
  const spin = turns.planet - turns.carrier;
  planets.forEach((address, i) => {
    const phase = meshPhase(zs, zp, (360 * i) / planets.length, start.sun - start.carrier);
    links.push([address, `${kit.ref(driver)} * ${digits(spin * zp)} / ${zp}${plus(phase)}`]);
  });
  if (links.length === 0) kit.refuse(`choose the ${third} or the planets: nothing would follow.`);
  return { links, facts: { ratio, 'teeth of the ring': zr, 'turns of a planet': turns.planet } };
}

export const RACK: RecipeSpec = {
  kind: 'rack',
  label: 'Rack and pinion',
  help: 'A pinion moves a toothed bar along.',
  roles: [driver, { name: 'driven', label: 'Rack', kind: 'length' }],
  settings: [teeth('teeth', 'Teeth of the pinion', 20), moduleSetting, reverse],
  write: (kit) => {
    const radius = (kit.number('module') * kit.number('teeth')) / 2;
    const sign = kit.is('reverse') ? '-' : '+';
    return {
      links: [
        [kit.address('driven'), `own ${sign} rack(${kit.ref(kit.address('driver'))}, ${length(radius)})`],
      ],
      facts: { 'pitch radius': radius, 'way per turn': rackTravel(360, radius) },
    };
  },
};
