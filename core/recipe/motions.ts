import { cosDeg, sinDeg } from '../math';
import { size } from './drives';
import { driver } from './gears';
import { crankAndRod } from './linkages';
import { angle, digits, length, plus, type RecipeSpec } from './recipe';

export const ECCENTRIC: RecipeSpec = {
  kind: 'eccentric',
  label: 'Eccentric',
  help: 'A disc that sits beside its axle moves a slider a little to and fro through a strap round it: a crank without a crank pin.',
  roles: [
    driver,
    { name: 'slider', label: 'Slider', kind: 'length' },
    { name: 'rod', label: 'Strap', kind: 'angle', optional: true },
  ],
  settings: [
    size('throw', 'Eccentricity', 0.05),
    size('rodLength', 'Length of the strap', 0.6),
    size('offset', 'Offset', 0, -1e6),
    { name: 'phase', label: 'Phase', kind: 'angle', initial: 0, min: -36000, max: 36000 },
  ],
  write: crankAndRod,
};

export const SCOTCH_YOKE: RecipeSpec = {
  kind: 'scotch-yoke',
  label: 'Scotch yoke',
  help: 'A crank pin runs in a slot square to the way of the yoke, which goes to and fro in a pure sine.',
  roles: [driver, { name: 'yoke', label: 'Yoke', kind: 'length' }],
  settings: [
    size('throw', 'Throw', 0.2),
    { name: 'phase', label: 'Phase', kind: 'angle', initial: 0, min: -36000, max: 36000 },
  ],
  write: (kit) => {
    const r = kit.number('throw');
    const turn = `${kit.ref(kit.address('driver'))}${plus(kit.number('phase'))}`;
    return {
      links: [[kit.address('yoke'), `own + ${length(r)} * cos(${turn})`]],
      facts: { stroke: 2 * r },
    };
  },
};

export const TOGGLE: RecipeSpec = {
  kind: 'toggle',
  label: 'Toggle',
  help: 'Two links of one length, joined at a knee, push a block along x: the straighter they lie, the harder. The second link, drawn along x, hangs from the first.',
  roles: [
    { ...driver, label: 'First link' },
    { name: 'slider', label: 'Block', kind: 'length' },
    { name: 'second', label: 'Second link', kind: 'angle', optional: true },
  ],
  settings: [size('link', 'Length of a link', 0.5)],
  write: (kit) => {
    const from = kit.ref(kit.address('driver'));
    const second = kit.optional('second');
    const l = kit.number('link');
    return {
      links: [
        [kit.address('slider'), `${length(2 * l)} * cos(${from})`],
        ...(second ? [[second, `-2 * ${from}`] as const] : []),
      ],
      // The force along x for one on the knee square to it: 1 / (2 tan(angle)).
      facts: {
        'block when straight': 2 * l,
        'force at 45 degrees': 0.5,
        'force at 5 degrees': cosDeg(5) / (2 * sinDeg(5)),
      },
    };
  },
};

export const PANTOGRAPH: RecipeSpec = {
  kind: 'pantograph',
  label: 'Pantograph',
  help: 'A pen draws what a tracer follows, so many times as large. All is measured from the fixed pivot; arms are drawn along x, the far and the tracing arm hang from the near one, the parallel arm from the tracing arm.',
  roles: [
    { name: 'x', label: 'Tracer along x', kind: 'length' },
    { name: 'y', label: 'Tracer along y', kind: 'length' },
    { name: 'near', label: 'Near arm', kind: 'angle' },
    { name: 'far', label: 'Far arm', kind: 'angle' },
    { name: 'across', label: 'Tracing arm', kind: 'angle', optional: true },
    { name: 'back', label: 'Parallel arm', kind: 'angle', optional: true },
    { name: 'copyX', label: 'Pen along x', kind: 'length', optional: true },
    { name: 'copyY', label: 'Pen along y', kind: 'length', optional: true },
  ],
  settings: [
    size('arm', 'Length of an arm', 0.8),
    { name: 'ratio', label: 'Times as large', kind: 'number', initial: 2, min: 1.05, max: 20 },
  ],
  write: (kit) => {
    const [arm, ratio] = [kit.number('arm'), kit.number('ratio')];
    const at = [kit.ref(kit.address('x')), kit.ref(kit.address('y'))];
    const bones = `${at.join(', ')}, ${length(arm / ratio)}, ${length(arm / ratio)}, -1`;
    const links: [string, string][] = [
      [kit.address('near'), `reachroot(${bones})`],
      [kit.address('far'), `reachbend(${bones})`],
    ];
    const more = (role: string, formula: string): void => {
      const address = kit.optional(role);
      if (address) links.push([address, formula]);
    };
    more('across', `reachbend(${bones})`);
    more('back', `-reachbend(${bones})`);
    more('copyX', `${at[0]} * ${digits(ratio)}`);
    more('copyY', `${at[1]} * ${digits(ratio)}`);
    return { links, facts: { 'tracer reaches up to': (2 * arm) / ratio, 'pen reaches up to': 2 * arm } };
  },
};

export const HINGE: RecipeSpec = {
  kind: 'hinge',
  label: 'Hinge with a stop',
  help: 'An angle follows another one as far as its stops let it.',
  roles: [driver, { name: 'driven', label: 'Leaf', kind: 'angle' }],
  settings: [
    { name: 'least', label: 'Least', kind: 'angle', initial: 0, min: -36000, max: 36000 },
    { name: 'most', label: 'Most', kind: 'angle', initial: 110, min: -36000, max: 36000 },
    { name: 'ratio', label: 'Ratio', kind: 'number', initial: 1, min: -1e6, max: 1e6 },
    { ...size('width', 'Width of the leaf', 0.8), building: true },
  ],
  write: (kit) => {
    const [least, most, ratio] = [kit.number('least'), kit.number('most'), kit.number('ratio')];
    if (most < least)
      kit.refuse(`its stops are the wrong way round: ${angle(most)} is below ${angle(least)}.`);
    const from = kit.ref(kit.address('driver'));
    const turn = ratio === 1 ? from : `${from} * ${digits(ratio)}`;
    return {
      links: [[kit.address('driven'), `clamp(${turn}, ${angle(least)}, ${angle(most)})`]],
      facts: { 'swings over': most - least },
    };
  },
};

export const RATCHET: RecipeSpec = {
  kind: 'ratchet',
  label: 'Ratchet and pawl',
  help: 'A pawl falls from tooth to tooth as a wheel turns against the clock and keeps it from turning back. With a lever, its strokes forward turn the wheel by whole teeth, and its strokes back do not.',
  roles: [
    { ...driver, label: 'Wheel, or the lever that turns it' },
    { name: 'wheel', label: 'Wheel that a lever turns', kind: 'angle', optional: true },
    { name: 'pawl', label: 'Pawl that holds', kind: 'angle', optional: true },
    { name: 'leverPawl', label: 'Pawl on the lever', kind: 'angle', optional: true },
  ],
  settings: [
    {
      name: 'by',
      label: 'Turned by',
      kind: 'word',
      initial: 'hand',
      words: ['hand', 'lever'],
      building: true,
    },
    { name: 'teeth', label: 'Teeth', kind: 'whole', initial: 16, min: 4, max: 400 },
    { ...size('radius', 'Radius of the wheel', 0.4), building: true },
    size('depth', 'Depth of a tooth', 0.06),
    size('pawl', 'Length of a pawl', 0.35),
  ],
  write: (kit) => {
    const from = kit.ref(kit.address('driver'));
    const [wheel, pawl, leverPawl] = [kit.optional('wheel'), kit.optional('pawl'), kit.optional('leverPawl')];
    if (!wheel && !pawl)
      kit.refuse('choose the pawl, or the wheel that a lever turns: nothing would follow.');
    if (kit.number('depth') > kit.number('pawl'))
      kit.refuse(`a pawl of ${length(kit.number('pawl'))} is shorter than the teeth are deep.`);
    const [step, share] = [360 / kit.number('teeth'), kit.number('depth') / kit.number('pawl')];
    const turned = wheel ? kit.ref(wheel) : from;
    const lift = (turn: string): string => `-asin(${digits(share)} * saw((${turn}) / ${angle(step)}))`;
    return {
      links: [
        ...(wheel ? [[wheel, `ratchet(${from}, ${kit.number('teeth')})`] as const] : []),
        ...(pawl ? [[pawl, lift(`${turned} - 90deg`)] as const] : []),
        ...(leverPawl ? [[leverPawl, lift(`${turned} - ${from}`)] as const] : []),
      ],
      facts: { step },
    };
  },
};
