import { splitAddress } from '../document';
import { writtenName } from '../formula';
import {
  CAM_LAWS,
  camExtremes,
  camTrouble,
  camWarnings,
  FOLLOWERS,
  fourBarTrouble,
  intermittentSizes,
  isGrashof,
  rollAngle,
  transmissionRange,
  transmissionWarnings,
  type CamDisc,
  type CamLaw,
  type FollowerKind,
} from '../mechanism';
import { size } from './drives';
import { angle, digits, length, plus, type Kit, type RecipeSpec, type Setting, type Written } from './recipe';

const driver = { name: 'driver', label: 'Driver', kind: 'angle' } as const;
const turn = (name: string, label: string, initial: number, min = -36000, max = 36000): Setting => ({
  name,
  label,
  kind: 'angle',
  initial,
  min,
  max,
});
const reverse: Setting = { name: 'reverse', label: 'The other way round', kind: 'switch', initial: false };

/** The driver's angle with a phase: `Crank.rotation.z + 45deg`. */
const phased = (kit: Kit): string => `${kit.ref(kit.address('driver'))}${plus(kit.number('phase'))}`;

export const CRANK_SLIDER: RecipeSpec = {
  kind: 'crank-slider',
  label: 'Crank and slider',
  help: 'A crank moves a slider to and fro through a rod. The rod, drawn along x, swings about its end at the slider or the crank pin.',
  roles: [
    driver,
    { name: 'slider', label: 'Slider', kind: 'length' },
    { name: 'rod', label: 'Rod', kind: 'angle', optional: true },
  ],
  settings: [
    size('throw', 'Throw', 0.2),
    size('rodLength', 'Rod length', 0.6),
    size('offset', 'Offset', 0, -1e6),
    turn('phase', 'Phase', 0),
  ],
  write: crankAndRod,
};

/** Links of a slider and its rod that a crank moves. */
export function crankAndRod(kit: Kit): Written {
  const [r, l, e] = [kit.number('throw'), kit.number('rodLength'), kit.number('offset')];
  if (l < r + Math.abs(e))
    kit.refuse(
      `the rod, ${length(l)}, is too short: it must reach throw and offset together, ${length(r + Math.abs(e))}.`,
    );
  const numbers = `${phased(kit)}, ${length(r)}, ${length(l)}${e === 0 ? '' : `, ${length(e)}`}`;
  const rod = kit.optional('rod');
  return {
    links: [
      [kit.address('slider'), `slider(${numbers})`],
      ...(rod ? [[rod, `-rodangle(${numbers})`] as const] : []),
    ],
    facts: {
      stroke: Math.sqrt((l + r) ** 2 - e * e) - Math.sqrt((l - r) ** 2 - e * e),
      'outer dead centre': Math.sqrt((l + r) ** 2 - e * e),
    },
  };
}

export const FOUR_BAR: RecipeSpec = {
  kind: 'four-bar',
  label: 'Four-bar linkage',
  help: 'A crank swings a rocker through a coupler; the fourth bar is the ground between their pivots.',
  roles: [
    driver,
    { name: 'rocker', label: 'Rocker', kind: 'angle' },
    { name: 'coupler', label: 'Coupler', kind: 'angle', optional: true },
    { name: 'upright', label: 'Hub at the crank pin, kept level', kind: 'angle', optional: true },
  ],
  settings: [
    size('crank', 'Crank', 0.04),
    size('couplerLength', 'Coupler', 0.12),
    size('rockerLength', 'Rocker', 0.08),
    size('ground', 'Ground', 0.1),
    { name: 'crossed', label: 'Crossed', kind: 'switch', initial: false },
    turn('phase', 'Phase', 0),
  ],
  write: (kit) => {
    const bars = ['crank', 'couplerLength', 'rockerLength', 'ground'].map((name) => kit.number(name)) as [
      number,
      number,
      number,
      number,
    ];
    const [a, b, c, d] = bars;
    for (let theta = 0; theta < 360; theta += 1) {
      const trouble = fourBarTrouble(theta, a, b, c, d);
      if (trouble)
        kit.refuse(
          `at ${theta} degrees ${trouble}. ${isGrashof(a, b, c, d) ? 'Another bar has to be the crank.' : 'Shortest and longest bar together must not be longer than the other two.'}`,
        );
    }
    const numbers = `${phased(kit)}, ${bars.map(length).join(', ')}${kit.is('crossed') ? ', -1' : ''}`;
    const [coupler, upright] = [kit.optional('coupler'), kit.optional('upright')];
    const range = transmissionRange(a, b, c, d);
    return {
      links: [
        [kit.address('rocker'), `fourbar(${numbers})`],
        ...(coupler ? [[coupler, `coupler(${numbers})`] as const] : []),
        ...(upright ? [[upright, `-(${phased(kit)})`] as const] : []),
      ],
      facts: { 'least transmission angle': range[0], 'most transmission angle': range[1] },
      warnings: transmissionWarnings(range),
    };
  },
};

/** Base radius of a cam: as it is given, or so large that its lift sits well on it. */
export const camBase = (given: number, lift: number): number =>
  given > 0 ? given : Math.max(0.05, Math.abs(lift) * 1.6) + Math.max(0, -lift);

export const CAM: RecipeSpec = {
  kind: 'cam',
  label: 'Cam and follower',
  help: 'A cam lifts a follower by a law, keeps it up, lets it down and rests for what is left of the turn.',
  roles: [driver, { name: 'follower', label: 'Follower', kind: 'length' }],
  settings: [
    { name: 'law', label: 'Law', kind: 'word', initial: '3-4-5', words: CAM_LAWS },
    size('lift', 'Lift', 0.1, -1e6),
    turn('rise', 'Rise', 120, 0, 360),
    turn('dwell', 'Dwell', 60, 0, 360),
    turn('fall', 'Fall', 120, 0, 360),
    turn('phase', 'Phase', 0),
    { name: 'foot', label: 'Follower ends in', kind: 'word', initial: 'knife edge', words: FOLLOWERS },
    size('base', 'Base radius of the cam (0: by the lift)', 0, 0),
    { ...size('roller', 'Radius of the roller', 0.03), onlyWith: { setting: 'foot', is: 'roller' } },
  ],
  write: (kit) => {
    const angles = ['rise', 'dwell', 'fall'].map((name) => kit.number(name)) as [number, number, number];
    const trouble = camTrouble(...angles);
    if (trouble) kit.refuse(`${trouble}.`);
    const cam: CamDisc = {
      law: kit.word('law') as CamLaw,
      lift: kit.number('lift'),
      rise: angles[0],
      dwell: angles[1],
      fall: angles[2],
      follower: kit.word('foot') as FollowerKind,
      base: camBase(kit.number('base'), kit.number('lift')),
      roller: kit.number('roller'),
    };
    if (cam.base + Math.min(0, cam.lift) <= 0)
      kit.refuse(
        `the lift of ${length(cam.lift)} takes the follower through the axis: the base radius must be above ${length(-cam.lift)}.`,
      );
    const extremes = camExtremes(cam);
    return {
      links: [
        [
          kit.address('follower'),
          `own + cam(${writtenName(kit.word('law'))}, ${phased(kit)}, ${length(kit.number('lift'))}, ${angles.map(angle).join(', ')})`,
        ],
      ],
      facts: {
        rest: 360 - angles[0] - angles[1] - angles[2],
        'base radius': cam.base,
        ...(cam.follower === 'flat foot'
          ? { 'foot is touched up to': extremes.foot }
          : { 'pressure angle, rise': extremes.pressure[0], 'pressure angle, fall': extremes.pressure[1] }),
        'least radius of the edge': extremes.curvature,
      },
      warnings: camWarnings(cam, extremes),
    };
  },
};

export const INTERMITTENT: RecipeSpec = {
  kind: 'intermittent',
  label: 'Intermittent wheel',
  help: 'A crank pin turns a slotted wheel by one slot each turn; in between the wheel rests. Slots that open inwards lie round the crank: the wheel turns the same way, rests less and starts more softly.',
  roles: [driver, { name: 'wheel', label: 'Wheel', kind: 'angle' }],
  settings: [
    { name: 'slots', label: 'Slots', kind: 'whole', initial: 4, min: 3, max: 60 },
    { name: 'inner', label: 'Slots open inwards', kind: 'switch', initial: false },
    size('distance', 'Distance of the shafts', 0.5),
    turn('phase', 'Phase', 0),
  ],
  write: (kit) => {
    const slots = kit.number('slots');
    const sizes = intermittentSizes(kit.number('distance'), slots);
    return {
      links: [
        [kit.address('wheel'), `intermittent(${phased(kit)}, ${slots}${kit.is('inner') ? ', -1' : ''})`],
      ],
      facts: {
        'crank length': sizes.crank,
        'wheel radius': sizes.wheel,
        'share of the turn moving': kit.is('inner') ? 0.5 + 1 / slots : 0.5 - 1 / slots,
      },
    };
  },
};

export const SCREW: RecipeSpec = {
  kind: 'screw',
  label: 'Screw',
  help: 'A screw moves its nut by the lead each turn: starts times pitch.',
  roles: [driver, { name: 'nut', label: 'Nut', kind: 'length' }],
  settings: [
    size('pitch', 'Pitch', 0.0015),
    { name: 'starts', label: 'Starts', kind: 'whole', initial: 1, min: 1, max: 20 },
    { ...size('radius', 'Radius of the thread', 0.03), building: true },
    reverse,
  ],
  write: (kit) => {
    const lead = kit.number('pitch') * kit.number('starts');
    return {
      links: [
        [
          kit.address('nut'),
          `own ${kit.is('reverse') ? '-' : '+'} screw(${kit.ref(kit.address('driver'))}, ${length(lead)})`,
        ],
      ],
      facts: { lead },
    };
  },
};

/** Which way a wheel turns about an axis when it rolls along another one on level ground: up x way. */
const ROLLING_SIGN: Record<string, 1 | -1> = { 'x z': 1, 'z x': -1 };

export const ROLL: RecipeSpec = {
  kind: 'roll',
  label: 'Rolling wheel',
  help: 'A wheel turns as it rolls along an axis without slipping, on ground below it.',
  roles: [
    { name: 'way', label: 'Way', kind: 'length' },
    { name: 'wheel', label: 'Wheel', kind: 'angle' },
  ],
  settings: [size('radius', 'Radius', 0.35), reverse],
  write: (kit) => {
    const axes = [kit.address('way'), kit.address('wheel')].map((address) =>
      splitAddress(address).path.slice(-1),
    );
    const sign = (ROLLING_SIGN[axes.join(' ')] ?? 1) * (kit.is('reverse') ? -1 : 1);
    const radius = kit.number('radius');
    return {
      links: [
        [
          kit.address('wheel'),
          `own ${sign > 0 ? '+' : '-'} roll(${kit.ref(kit.address('way'))}, ${length(radius)})`,
        ],
      ],
      facts: { 'way per turn': 2 * Math.PI * radius, 'turn per metre': sign * rollAngle(1, radius) },
    };
  },
};

export const ROLL_PATH: RecipeSpec = {
  kind: 'roll-path',
  label: 'Wheel rolling along a path',
  help: 'A wheel that follows a path, turned along it, rolls over the way that it goes.',
  roles: [
    { name: 'follower', label: 'Part on the path', kind: 'part' },
    { name: 'wheel', label: 'Wheel', kind: 'angle' },
  ],
  settings: [
    size('radius', 'Radius', 0.35),
    reverse,
    { ...size('track', 'Half the length of the track', 2), building: true },
  ],
  write: (kit) => {
    const follower = kit.address('follower');
    if (!kit.shot.parts[follower]?.follow)
      kit.refuse(`${kit.part(follower)} follows no path: put it on one first.`);
    const name = kit.part(follower);
    const sign = kit.is('reverse') ? '-' : '+';
    return {
      links: [
        [
          kit.address('wheel'),
          `own ${sign} roll(${name}.along * pathlength(${name}), ${length(kit.number('radius'))})`,
        ],
      ],
      facts: { 'way per turn': 2 * Math.PI * kit.number('radius') },
    };
  },
};

export const FOLLOW: RecipeSpec = {
  kind: 'follow',
  label: 'Follow',
  help: 'One channel follows another of the same kind: so many times as far, from an offset, so many frames later.',
  roles: [
    { name: 'driver', label: 'Driver', kind: 'any' },
    { name: 'driven', label: 'Driven', kind: 'any', many: true },
  ],
  settings: [
    { name: 'ratio', label: 'Ratio', kind: 'number', initial: 1, min: -1e6, max: 1e6 },
    { name: 'delay', label: 'Delay', kind: 'frames', initial: 0, min: -1e5, max: 1e5 },
    { name: 'offset', label: 'Keep where it is', kind: 'switch', initial: true },
    { ...size('length', 'Length of the lever', 0.6), building: true },
  ],
  write: (kit) => {
    const ref = kit.ref(kit.address('driver'));
    const delay = kit.number('delay');
    const ratio = kit.number('ratio');
    const source = delay === 0 ? ref : `delay(${ref}, ${digits(delay)}f)`;
    const scaled = ratio === 1 ? source : `${source} * ${digits(ratio)}`;
    return {
      links: kit.many('driven').map((address) => [address, kit.is('offset') ? `own + ${scaled}` : scaled]),
    };
  },
};

export const PHASE: RecipeSpec = {
  kind: 'phase',
  label: 'Spread phase',
  help: 'Several angles follow one driver, each so much later: evenly over the cycle, or by a firing order.',
  roles: [driver, { name: 'driven', label: 'Driven', kind: 'angle', many: true }],
  settings: [
    turn('cycle', 'Cycle', 360, 1),
    { name: 'order', label: 'Firing order', kind: 'numbers', initial: [], min: 1, max: 1000 },
    {
      name: 'count',
      label: 'Cranks without an order',
      kind: 'whole',
      initial: 4,
      min: 1,
      max: 60,
      building: true,
    },
    { ...size('throw', 'Throw', 0.2), building: true },
  ],
  write: (kit) => {
    const list = kit.many('driven');
    const order = kit.numbers('order');
    const complete = list.every((_, i) => order.filter((place) => place === i + 1).length === 1);
    if (order.length > 0 && (order.length !== list.length || !complete))
      kit.refuse(
        `a firing order of ${list.length} names each number from 1 to ${list.length} once; this is ${order.join('-')}.`,
      );
    const ref = kit.ref(kit.address('driver'));
    return {
      links: list.map((address, i) => {
        const place = order.length === 0 ? i : order.indexOf(i + 1);
        return [address, `${ref}${plus(-(kit.number('cycle') * place) / list.length)}`];
      }),
      facts: { step: kit.number('cycle') / list.length },
    };
  },
};

export const STAGGER: RecipeSpec = {
  kind: 'stagger',
  label: 'Stagger',
  help: 'Several channels do what the first one does, each so many frames after the one before.',
  roles: [
    { name: 'driver', label: 'Leader', kind: 'any' },
    { name: 'driven', label: 'Followers', kind: 'any', many: true },
  ],
  settings: [
    { name: 'frames', label: 'Frames apart', kind: 'frames', initial: 3, min: -1e5, max: 1e5 },
    { name: 'count', label: 'Followers', kind: 'whole', initial: 6, min: 1, max: 200, building: true },
    { ...size('radius', 'Radius of a float', 0.2), building: true },
  ],
  write: (kit) => ({
    links: kit
      .many('driven')
      .map((address, i) => [
        address,
        `delay(${kit.ref(kit.address('driver'))}, ${digits(kit.number('frames') * (i + 1))}f)`,
      ]),
  }),
};
