import { sinDeg } from '../../math';
import { BRASS, type Builder, channel, IRON, numbers, PAINT, WOOD } from './planner';

const crankSlider: Builder = (plan, settings) => {
  const [r, l, e] = numbers(settings, 'throw', 'rodLength', 'offset') as [number, number, number];
  const thick = r * 0.16;
  plan.stand('Crank and slider', r + thick * 2 + Math.max(0, -e));
  const crank = plan.hub('Crank', {});
  plan.box('Crank web', [r + thick * 2, thick * 2, thick], IRON, { 'location.x': r / 2 }, crank);
  const slider = plan.box('Piston', [r * 0.9, r * 0.7, thick], BRASS, {
    'location.x': r + l,
    'location.y': e,
  });
  // The rod lies along x, from the piston's pin back to the crank's; it swings about the piston's.
  const rod = plan.box(
    'Rod',
    [l, thick * 1.5, thick],
    WOOD,
    { 'location.x': -l / 2, 'pivot.x': l / 2, 'location.z': thick * 1.2 },
    slider,
  );
  return {
    driver: channel(crank, 'rotation.z'),
    slider: channel(slider, 'location.x'),
    rod: channel(rod, 'rotation.z'),
  };
};

const eccentric: Builder = (plan, settings) => {
  const [r, l, e, phase] = numbers(settings, 'throw', 'rodLength', 'offset', 'phase') as [
    number,
    number,
    number,
    number,
  ];
  const disc = r * 2.2;
  const thick = r * 0.5;
  plan.stand('Eccentric', r + disc * 1.3 + Math.max(0, -e));
  const shaft = plan.hub('Eccentric shaft');
  plan.solid(
    'Eccentric axle',
    {
      kind: 'shaft',
      values: { radius: r * 0.6, length: thick * 5, key: r * 0.3, seat: thick * 3, sides: 48 },
    },
    IRON,
    {},
    shaft,
  );
  const turned = plan.hub('Eccentric phase', { 'rotation.z': phase }, shaft);
  plan.round('Eccentric disc', disc, thick, BRASS, { 'location.x': r }, turned, 64);
  const slider = plan.box('Valve block', [r * 1.6, r * 1.2, thick], BRASS, {
    'location.x': r + l,
    'location.y': e,
  });
  const rod = plan.hub('Strap', { 'location.z': thick * 1.1 }, slider);
  plan.solid(
    'Strap ring',
    { kind: 'tube', values: { radius: disc * 1.18, wall: disc * 0.15, height: thick, sides: 64 } },
    IRON,
    { 'location.x': -l, 'location.z': -thick * 1.1, 'rest.x': 90 },
    rod,
  );
  plan.box(
    'Strap rod',
    [Math.max(l - disc * 1.1, thick), r * 0.5, thick * 0.8],
    IRON,
    { 'location.x': -Math.max(l - disc * 1.1, thick) / 2, 'location.z': 0 },
    rod,
  );
  return {
    driver: channel(shaft, 'rotation.z'),
    slider: channel(slider, 'location.x'),
    rod: channel(rod, 'rotation.z'),
  };
};

const fourBar: Builder = (plan, settings) => {
  const [a, b, c, d, phase] = numbers(
    settings,
    'crank',
    'couplerLength',
    'rockerLength',
    'ground',
    'phase',
  ) as [number, number, number, number, number];
  const width = Math.max(a, b, c, d) * 0.1;
  const lift = width * 0.55;
  plan.stand('Four-bar linkage', Math.max(a, c) + width);
  const foot = Math.max(a, c) + width * 0.8;
  for (const [name, x] of [
    ['Crank bracket', 0],
    ['Rocker bracket', d],
  ] as const)
    plan.solid(
      name,
      {
        kind: 'bracket',
        values: {
          height: foot,
          width: width * 3,
          foot: width * 0.4,
          eye: width * 0.7,
          bore: width * 0.22,
          thickness: width * 0.4,
        },
      },
      PAINT,
      { 'location.x': x, 'location.z': -lift },
    );
  const crank = plan.hub('Crank');
  const turned = plan.hub('Crank phase', { 'rotation.z': phase }, crank);
  plan.bar('Crank bar', a, width, BRASS, {}, turned);
  const pin = plan.hub('Crank pin', { 'location.x': a, 'location.z': lift }, turned);
  const coupler = plan.bar('Coupler', b, width, WOOD, {}, pin);
  const rocker = plan.bar('Rocker', c, width, IRON, { 'location.x': d });
  return {
    driver: channel(crank, 'rotation.z'),
    rocker: channel(rocker, 'rotation.z'),
    coupler: channel(coupler, 'rotation.z'),
    upright: channel(pin, 'rotation.z'),
  };
};

const scotch: Builder = (plan, settings) => {
  const [r, phase] = numbers(settings, 'throw', 'phase') as [number, number];
  const thick = r * 0.2;
  plan.stand('Scotch yoke', r * 1.6);
  const crank = plan.hub('Yoke crank');
  plan.round('Crank disc', r * 1.2, thick, IRON, { 'location.z': -thick }, crank, 64);
  const turned = plan.hub('Crank phase', { 'rotation.z': phase }, crank);
  plan.round(
    'Yoke pin',
    thick * 0.8,
    thick * 2,
    BRASS,
    { 'location.x': r, 'location.z': thick * 0.4 },
    turned,
  );
  const yoke = plan.hub('Yoke', { 'location.z': thick * 0.8 });
  const gap = thick * 0.85;
  for (const side of [1, -1] as const) {
    const name = side > 0 ? 'right' : 'left';
    plan.box(
      `Yoke ${name} cheek`,
      [thick, 2 * r + thick * 4, thick],
      WOOD,
      { 'location.x': side * (gap + thick / 2) },
      yoke,
    );
    plan.box(
      `Yoke ${side > 0 ? 'top' : 'bottom'}`,
      [2 * gap + 2 * thick, thick, thick],
      WOOD,
      { 'location.y': side * (r + thick * 1.6) },
      yoke,
    );
    plan.box(
      `Yoke ${name} rod`,
      [r * 2, thick * 0.8, thick * 0.8],
      BRASS,
      { 'location.x': side * (gap + thick + r) },
      yoke,
    );
  }
  return { driver: channel(crank, 'rotation.z'), yoke: channel(yoke, 'location.x') };
};

const toggle: Builder = (plan, settings) => {
  const [length] = numbers(settings, 'link') as [number];
  const width = length * 0.14;
  plan.stand('Toggle', length + width);
  const first = plan.bar('Toggle lever', length, width, BRASS);
  const second = plan.bar(
    'Toggle link',
    length,
    width,
    IRON,
    { 'location.x': length / 2, 'location.z': width * 0.55 },
    first,
  );
  const slider = plan.box('Toggle block', [length * 0.3, length * 0.25, width], WOOD, {
    'location.x': length * 2,
    'location.z': width * 0.2,
  });
  plan.box('Toggle rail', [length * 2.4, width * 0.4, width], PAINT, {
    'location.x': length * 1.2,
    'location.y': -length * 0.125 - width * 0.2,
    'location.z': -width,
  });
  return {
    driver: channel(first, 'rotation.z'),
    slider: channel(slider, 'location.x'),
    second: channel(second, 'rotation.z'),
  };
};

const pantograph: Builder = (plan, settings) => {
  const [arm, ratio] = numbers(settings, 'arm', 'ratio') as [number, number];
  const short = arm / ratio;
  const width = arm * 0.05;
  plan.stand('Pantograph', arm * 1.2);
  const lift = (n: number): number => n * width * 0.55;
  const near = plan.bar('Near arm', arm, width, BRASS);
  const far = plan.bar('Far arm', arm, width, IRON, { 'location.x': arm / 2, 'location.z': lift(1) }, near);
  const across = plan.bar(
    'Tracing arm',
    short,
    width,
    IRON,
    { 'location.x': short - arm / 2, 'location.z': lift(1) },
    near,
  );
  // From the tracer parallel to the near arm.
  const back = plan.bar(
    'Parallel arm',
    arm - short,
    width,
    BRASS,
    { 'location.x': short / 2, 'location.z': lift(1) },
    across,
  );
  const at = { 'location.x': (arm * 1.4) / ratio, 'location.y': (arm * 0.2) / ratio };
  const tracer = plan.round('Tracer', width * 0.5, width * 6, WOOD, at);
  const copy = plan.round('Pen', width * 0.5, width * 6, PAINT, {
    'location.x': at['location.x'] * ratio,
    'location.y': at['location.y'] * ratio,
  });
  return {
    x: channel(tracer, 'location.x'),
    y: channel(tracer, 'location.y'),
    near: channel(near, 'rotation.z'),
    far: channel(far, 'rotation.z'),
    across: channel(across, 'rotation.z'),
    back: channel(back, 'rotation.z'),
    copyX: channel(copy, 'location.x'),
    copyY: channel(copy, 'location.y'),
  };
};

const universal: Builder = (plan, settings) => {
  const [bend, radius] = numbers(settings, 'bend', 'radius') as [number, number];
  const arm = radius * 2.2;
  const length = radius * 10;
  plan.stand('Universal joint', Math.max(length * Math.abs(sinDeg(bend)), arm * 2));
  const yoke = (name: string, parent: string, along: 'x' | 'y', way: 1 | -1): void => {
    for (const side of [1, -1] as const)
      plan.box(
        `${name} ${side > 0 ? 'first' : 'second'} cheek`,
        along === 'x' ? [radius * 0.5, radius * 1.2, arm * 1.5] : [radius * 1.2, radius * 0.5, arm * 1.5],
        IRON,
        { [`location.${along}`]: side * arm, 'location.z': way * arm * 0.6 },
        parent,
      );
    plan.box(
      `${name} bridge`,
      along === 'x' ? [arm * 2.2, radius * 1.4, radius] : [radius * 1.4, arm * 2.2, radius],
      IRON,
      { 'location.z': way * arm * 1.4 },
      parent,
    );
    plan.round(
      `${name} rod`,
      radius,
      length,
      BRASS,
      { 'location.z': way * (arm * 1.4 + length / 2) },
      parent,
    );
  };
  const input = plan.hub('Input shaft');
  yoke('Input', input, 'x', -1);
  const cross = plan.hub('Cross', {}, input);
  for (const along of ['x', 'y'] as const)
    plan.round(
      `Cross pin ${along}`,
      radius * 0.4,
      arm * 2.3,
      WOOD,
      along === 'x' ? { 'rest.x': 0, 'rest.z': 90 } : { 'rest.x': 0 },
      cross,
      32,
    );
  const frame = plan.hub('Output frame', { 'rotation.y': bend });
  const output = plan.hub('Output shaft', {}, frame);
  yoke('Output', output, 'y', 1);
  return {
    driver: channel(input, 'rotation.z'),
    driven: channel(output, 'rotation.z'),
    cross: channel(cross, 'rotation.x'),
  };
};

/** What cranks, yokes, linkages and joints are built by. */
export const LINKAGE_BUILDERS: Readonly<Record<string, Builder>> = {
  'crank-slider': crankSlider,
  eccentric,
  'four-bar': fourBar,
  'scotch-yoke': scotch,
  toggle,
  pantograph,
  universal,
};
