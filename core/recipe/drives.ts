import { belt, chainDrive, solidLength, springWarnings, sprocketRadius, wormClimb } from '../mechanism';
import { cosDeg, sinDeg } from '../math';
import { driven, driver, moduleSetting, reverse, teeth } from './gears';
import { angle, digits, length, type RecipeSpec, type Role, type Setting } from './recipe';

/** Least angle over which a flat belt should lie on a pulley, degrees: common practice. */
const LEAST_WRAP = 120;
/** Lead angle below which a worm cannot be driven by its wheel, degrees: common practice. */
const HOLDS_BELOW = 5;
/** Teeth below which a chain runs roughly: common practice. */
const FEWEST_TEETH = 17;
/** Bend up to which a single universal joint is used, degrees: common practice. */
const MOST_BEND = 45;

export const size = (name: string, label: string, initial: number, min = 1e-6): Setting => ({
  name,
  label,
  kind: 'length',
  initial,
  min,
  max: 1e6,
});

const band = (label: string): Role => ({ name: 'band', label, kind: 'length', optional: true });

const shown = (value: number): string => String(Math.round(value * 10) / 10);

const wrapWarnings = (least: number): string[] =>
  least >= LEAST_WRAP
    ? []
    : [
        `The belt lies on one pulley over ${shown(least)} degrees only: below ${LEAST_WRAP} it slips easily. Shafts farther apart or pulleys of more equal size help.`,
      ];

const climbWarnings = (climb: number): string[] =>
  climb >= HOLDS_BELOW
    ? []
    : [
        `The threads climb by ${shown(climb)} degrees: below ${HOLDS_BELOW} the wheel cannot turn the worm back.`,
      ];

export const BELT: RecipeSpec = {
  kind: 'belt',
  label: 'Belt',
  help: 'Two pulleys joined by a belt; a crossed belt turns them against each other.',
  roles: [driver, driven, band('Run of the belt')],
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
    const drawn = kit.optional('band');
    return {
      links: [
        [
          kit.address('driven'),
          `${kit.is('crossed') ? '-' : ''}${kit.ref(kit.address('driver'))} * ${length(d1)} / ${length(d2)}`,
        ],
        ...(drawn
          ? [[drawn, `own + rack(${kit.ref(kit.address('driver'))}, ${length(d1 / 2)})`] as const]
          : []),
      ],
      facts: {
        'belt length': found.length,
        ratio: found.ratio,
        'wrap 1': found.wrap1,
        'wrap 2': found.wrap2,
      },
      warnings: wrapWarnings(Math.min(found.wrap1, found.wrap2)),
    };
  },
};

export const CHAIN: RecipeSpec = {
  kind: 'chain',
  label: 'Chain',
  help: 'Two sprockets joined by a roller chain. The shafts stand where a whole even number of links closes.',
  roles: [driver, driven, band('Run of the chain')],
  settings: [
    teeth('teeth1', 'Teeth of the driver', 18),
    teeth('teeth2', 'Teeth of the driven', 36),
    size('pitch', 'Pitch of the chain', 0.05),
    size('distance', 'Distance of the shafts, about', 1),
  ],
  write: (kit) => {
    const [z1, z2, pitch] = [kit.number('teeth1'), kit.number('teeth2'), kit.number('pitch')];
    const drive =
      chainDrive(z1, z2, pitch, kit.number('distance')) ??
      kit.refuse(
        `the sprockets overlap: ${length(kit.number('distance'))} apart, more than ${length(sprocketRadius(pitch, z1) + sprocketRadius(pitch, z2))} are needed.`,
      );
    const from = kit.ref(kit.address('driver'));
    const drawn = kit.optional('band');
    // Where its own run is 0, the rollers lie in the gaps.
    const round = (z1 * pitch) / (2 * Math.PI);
    const phase = drive.phase === 0 ? '' : ` + ${angle(drive.phase)}`;
    return {
      links: [
        [kit.address('driven'), `${from} * ${z1} / ${z2}${phase}`],
        ...(drawn ? [[drawn, `own + rack(${from}, ${length(round)}) + ${length(drive.run)}`] as const] : []),
      ],
      facts: {
        ratio: z1 / z2,
        links: drive.links,
        'chain length': drive.links * pitch,
        'centre distance': drive.distance,
      },
      warnings:
        Math.min(z1, z2) >= FEWEST_TEETH
          ? []
          : [
              `A sprocket has ${Math.min(z1, z2)} teeth: below ${FEWEST_TEETH} the chain runs in jerks, by ${shown((1 - cosDeg(180 / Math.min(z1, z2))) * 100)} per cent of its speed.`,
            ],
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
    { ...moduleSetting, building: true },
    { ...size('radius', 'Pitch radius of the worm', 0.25), building: true },
    reverse,
  ],
  write: (kit) => {
    const [starts, module, radius] = [kit.number('starts'), kit.number('module'), kit.number('radius')];
    const climb = wormClimb({ starts, module, radius });
    return {
      links: [
        [
          kit.address('driven'),
          `${kit.is('reverse') ? '-' : ''}${kit.ref(kit.address('driver'))} * ${kit.number('starts')} / ${kit.number('teeth')}`,
        ],
      ],
      facts: {
        ratio: starts / kit.number('teeth'),
        ...(kit.built
          ? { 'centre distance': radius + (module * kit.number('teeth')) / 2, 'lead angle': climb }
          : {}),
      },
      warnings: kit.built ? climbWarnings(climb) : [],
    };
  },
};

export const UNIVERSAL: RecipeSpec = {
  kind: 'universal',
  label: 'Universal joint',
  help: 'A cross between two yokes turns a shaft that stands at an angle: faster and slower twice a turn. The output is counted about a shaft bent about y from the input.',
  roles: [
    driver,
    driven,
    { name: 'cross', label: 'Cross, about x in the input', kind: 'angle', optional: true },
  ],
  settings: [
    { name: 'bend', label: 'Bend', kind: 'angle', initial: 30, min: -85, max: 85 },
    { ...size('radius', 'Radius of the shafts', 0.06), building: true },
  ],
  write: (kit) => {
    const bend = kit.number('bend');
    const [c, s] = [digits(cosDeg(bend)), digits(sinDeg(bend))];
    const from = kit.ref(kit.address('driver'));
    const cross = kit.optional('cross');
    return {
      // tan(output) = tan(input) / cos(bend), as what the output is ahead, which never jumps.
      links: [
        [
          kit.address('driven'),
          `let a = ${from}; a + atan2(sin(a) * cos(a) * (1 - ${c}), ${c} * cos(a)^2 + sin(a)^2)`,
        ],
        ...(cross ? [[cross, `atan2(${s} * sin(${from}), ${c})`] as const] : []),
      ],
      facts: { 'least speed': cosDeg(bend), 'greatest speed': 1 / cosDeg(bend) },
      warnings:
        Math.abs(bend) <= MOST_BEND
          ? []
          : [
              `The shafts bend by ${shown(Math.abs(bend))} degrees: beyond ${MOST_BEND} a single joint shakes. Two joints with half the bend each, their yokes in line, turn evenly.`,
            ],
    };
  },
};

export const SPRING: RecipeSpec = {
  kind: 'spring',
  label: 'Spring',
  help: 'A spring is as long as something is away: its length follows a place.',
  roles: [
    { name: 'moving', label: 'Place of what moves', kind: 'length' },
    { name: 'spring', label: 'Length of the spring', kind: 'length' },
  ],
  settings: [
    { ...size('gap', 'Longer by', 0, -1e6) },
    { ...size('radius', 'Radius of the coil', 0.2), building: true },
    { ...size('wire', 'Radius of the wire', 0.02), building: true },
    { name: 'turns', label: 'Turns', kind: 'number', initial: 8, min: 1, max: 200, building: true },
    { ...size('length', 'Length at first', 0.8), building: true },
  ],
  write: (kit) => {
    const gap = kit.number('gap');
    const coil = {
      radius: kit.number('radius'),
      wire: kit.number('wire'),
      turns: kit.number('turns'),
      length: kit.number('length'),
    };
    const more = gap === 0 ? '' : gap > 0 ? ` + ${length(gap)}` : ` - ${length(-gap)}`;
    return {
      links: [[kit.address('spring'), `${kit.ref(kit.address('moving'))}${more}`]],
      ...(kit.built
        ? { facts: { 'solid length': solidLength(coil), 'spring index': coil.radius / coil.wire } }
        : {}),
      warnings: kit.built ? springWarnings(coil) : [],
    };
  },
};

export const ROPE: RecipeSpec = {
  kind: 'rope',
  label: 'Rope over a pulley',
  help: 'What hangs on one side of a pulley goes up as what hangs on the other goes down. Ropes are cylinders along y.',
  roles: [
    { ...driver, label: 'Pulley' },
    { name: 'up', label: 'Load on the right, height', kind: 'length' },
    { name: 'down', label: 'Load on the left, height', kind: 'length', optional: true },
    { name: 'upRope', label: 'Rope on the right, its length', kind: 'length', optional: true },
    { name: 'upMiddle', label: 'Rope on the right, its middle', kind: 'length', optional: true },
    { name: 'downRope', label: 'Rope on the left, its length', kind: 'length', optional: true },
    { name: 'downMiddle', label: 'Rope on the left, its middle', kind: 'length', optional: true },
  ],
  settings: [
    size('radius', 'Radius of the pulley', 0.3),
    { ...size('top', 'Height of the axle', 0, -1e6) },
    { ...size('hang', 'Length of each side', 1.2), building: true },
  ],
  write: (kit) => {
    const [radius, top] = [kit.number('radius'), kit.number('top')];
    const turn = `rack(${kit.ref(kit.address('driver'))}, ${length(radius)})`;
    const links: [string, string][] = [[kit.address('up'), `own + ${turn}`]];
    const down = kit.optional('down');
    if (down) links.push([down, `own - ${turn}`]);
    for (const side of ['up', 'down'] as const) {
      const load = kit.optional(side);
      if (!load) continue;
      const [line, middle] = [kit.optional(`${side}Rope`), kit.optional(`${side}Middle`)];
      if (line) links.push([line, `max(0m, ${length(top)} - ${kit.ref(load)})`]);
      if (middle) links.push([middle, `(${length(top)} + ${kit.ref(load)}) / 2`]);
    }
    return { links, facts: { 'way per turn': 2 * Math.PI * radius } };
  },
};
