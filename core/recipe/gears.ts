import {
  belt,
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
import { digits, length, plus, type Kit, type RecipeSpec, type Setting } from './recipe';

const teeth = (name: string, label: string, initial: number): Setting => ({
  name,
  label,
  kind: 'whole',
  initial,
  min: 3,
  max: 1000,
});
const moduleSetting: Setting = {
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
const reverse: Setting = { name: 'reverse', label: 'The other way round', kind: 'switch', initial: false };
const driver = { name: 'driver', label: 'Driver', kind: 'angle' } as const;
const driven = { name: 'driven', label: 'Driven', kind: 'angle' } as const;

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
  settings: [teeth('teeth1', 'Teeth of the driver', 20), teeth('teeth2', 'Teeth of the driven', 40), reverse],
  write: (kit) => {
    const [z1, z2] = [kit.number('teeth1'), kit.number('teeth2')];
    const [cone1, cone2] = bevelCones(z1, z2);
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
      },
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

export const BELT: RecipeSpec = {
  kind: 'belt',
  label: 'Belt',
  help: 'Two pulleys joined by a belt; a crossed belt turns them against each other.',
  roles: [driver, driven],
  settings: [
    { name: 'diameter1', label: 'Diameter of the driver', kind: 'length', initial: 0.1, min: 1e-6 },
    { name: 'diameter2', label: 'Diameter of the driven', kind: 'length', initial: 0.2, min: 1e-6 },
    { name: 'distance', label: 'Distance of the shafts', kind: 'length', initial: 0.5, min: 1e-6 },
    { name: 'crossed', label: 'Crossed', kind: 'switch', initial: false },
  ],
  write: (kit) => {
    const [d1, d2, c] = [kit.number('diameter1'), kit.number('diameter2'), kit.number('distance')];
    if (c < (d1 + d2) / 2)
      kit.refuse(`the pulleys overlap: ${length(c)} apart, at least ${length((d1 + d2) / 2)} are needed.`);
    const found = belt(d1, d2, c, kit.is('crossed'));
    return {
      links: [
        [
          kit.address('driven'),
          `${kit.is('crossed') ? '-' : ''}${kit.ref(kit.address('driver'))} * ${length(d1)} / ${length(d2)}`,
        ],
      ],
      facts: {
        'belt length': found.length,
        ratio: found.ratio,
        'wrap 1': found.wrap1,
        'wrap 2': found.wrap2,
      },
    };
  },
};

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

export const WORM: RecipeSpec = {
  kind: 'worm',
  label: 'Worm and wheel',
  help: 'A worm turns its wheel by one tooth for each start and turn.',
  roles: [driver, driven],
  settings: [
    { name: 'starts', label: 'Starts of the worm', kind: 'whole', initial: 1, min: 1, max: 20 },
    teeth('teeth', 'Teeth of the wheel', 40),
    reverse,
  ],
  write: (kit) => ({
    links: [
      [
        kit.address('driven'),
        `${kit.is('reverse') ? '-' : ''}${kit.ref(kit.address('driver'))} * ${kit.number('starts')} / ${kit.number('teeth')}`,
      ],
    ],
    facts: { ratio: kit.number('starts') / kit.number('teeth') },
  }),
};
