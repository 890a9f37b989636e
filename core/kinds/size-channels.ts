import { LENGTH_LIMIT, number, size, type ChannelSpec } from './channel-spec';

export const sides = (initial = 48): ChannelSpec =>
  number({
    path: 'sides',
    group: 'Shape',
    label: 'Sides',
    initial,
    min: 3,
    max: 256,
    whole: true,
    step: 0.2,
    help: 'Flat faces round it.',
  });

/** How wide the top is, told by the bottom, so that one number makes both wider. */
export const topShare = (initial: number): ChannelSpec =>
  number({
    path: 'top',
    group: 'Shape',
    label: 'Top',
    initial,
    min: 0,
    max: 1e6,
    step: 0.005,
    unit: 'x radius',
    help: 'Radius of the top as a share of the radius: 1 is straight, 0 a point. A formula sets it apart: 0.2m / Post.radius.',
  });

export const sweep = (initial = 360): ChannelSpec =>
  number({
    path: 'sweep',
    group: 'Shape',
    label: 'Sweep',
    quantity: 'angle',
    initial,
    min: 1,
    max: 360,
    step: 0.5,
    help: 'How far round it goes: 360 is whole, less leaves a wedge.',
  });

export const toothing = (initialTeeth: number, fewest: number): ChannelSpec[] => [
  number({
    path: 'teeth',
    group: 'Shape',
    label: 'Teeth',
    initial: initialTeeth,
    min: fewest,
    max: 400,
    whole: true,
    step: 0.2,
    help: 'Number of teeth.',
  }),
  number({
    path: 'module',
    group: 'Shape',
    label: 'Module',
    quantity: 'length',
    initial: 0.05,
    min: 0.0001,
    max: 1000,
    step: 0.001,
    help: 'Pitch diameter divided by teeth: meshing gears share it.',
  }),
  number({
    path: 'pressure',
    group: 'Shape',
    label: 'Pressure',
    quantity: 'angle',
    initial: 20,
    min: 10,
    max: 30,
    step: 0.1,
    help: 'Pressure angle, the slope of the tooth flank; 20 degrees in ISO 53.',
  }),
];

/** Depth and bevel of what is drawn flat and given a thickness. */
export const thick = (depth: number): ChannelSpec[] => [
  size('depth', 'Depth', depth, 'Thickness along z, the bevel included.'),
  size(
    'bevel',
    'Bevel',
    0,
    'How far the front and back edges are cut at 45 degrees; at most half the depth.',
  ),
];

/** How far a belt or a chain has gone round. */
export const run: ChannelSpec = number({
  path: 'run',
  group: 'Shape',
  label: 'Run',
  quantity: 'length',
  min: -LENGTH_LIMIT,
  max: LENGTH_LIMIT,
  help: 'How far it has gone round. A pulley draws it by rack(Pulley.rotation.z, radius).',
});

/** From one roller of a chain to the next. */
export const chainPitch = (help: string): ChannelSpec =>
  number({
    path: 'pitch',
    group: 'Shape',
    label: 'Pitch',
    quantity: 'length',
    initial: 0.1,
    min: 0.001,
    max: 1000,
    help,
  });
