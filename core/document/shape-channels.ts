import { number, size, type ChannelSpec } from './channel-spec';

export const SHAPE_KINDS = [
  'box',
  'ball',
  'cylinder',
  'cone',
  'tube',
  'torus',
  'plane',
  'disc',
  'capsule',
  'lathe',
  'outline',
  'lettering',
  'gear',
  'rack',
  'mesh',
] as const;
export type ShapeKind = (typeof SHAPE_KINDS)[number];

const sides = (initial = 48): ChannelSpec =>
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
const topShare = (initial: number): ChannelSpec =>
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

const sweep = (initial = 360): ChannelSpec =>
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

const toothing = (initialTeeth: number, fewest: number): ChannelSpec[] => [
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
const thick = (depth: number): ChannelSpec[] => [
  size('depth', 'Depth', depth, 'Thickness along z, the bevel included.'),
  size(
    'bevel',
    'Bevel',
    0,
    'How far the front and back edges are cut at 45 degrees; at most half the depth.',
  ),
];

const SHAPE_CHANNELS: Record<ShapeKind, readonly ChannelSpec[]> = {
  box: [
    size('width', 'Width', 1, 'Along x.'),
    size('height', 'Height', 1, 'Along y.'),
    size('depth', 'Depth', 1, 'Along z.'),
  ],
  ball: [
    size('radius', 'Radius', 0.5, 'From the middle to the surface.'),
    number({
      path: 'span',
      group: 'Shape',
      label: 'Span',
      quantity: 'angle',
      initial: 180,
      min: 1,
      max: 180,
      step: 0.5,
      help: 'How far the ball reaches up from its lowest point: 180 is whole, 90 a bowl.',
    }),
  ],
  cylinder: [
    size('radius', 'Radius', 0.5, 'At the bottom; the top goes along.'),
    topShare(1),
    size('height', 'Height', 1, 'Along y.'),
    sides(),
    sweep(),
  ],
  cone: [
    size('radius', 'Radius', 0.5, 'At the bottom; the top goes along.'),
    topShare(0),
    size('height', 'Height', 1, 'Along y.'),
    sides(),
    sweep(),
  ],
  tube: [
    size('radius', 'Radius', 0.5, 'Of the outside.'),
    size('wall', 'Wall', 0.1, 'Thickness of the wall; as thick as the radius leaves no hole.'),
    size('height', 'Height', 1, 'Along y.'),
    sides(),
  ],
  torus: [
    size('radius', 'Radius', 0.5, 'From the middle of the ring to the middle of its tube.'),
    size('tube', 'Tube', 0.1, 'Radius of the tube.'),
  ],
  plane: [size('width', 'Width', 1, 'Along x.'), size('height', 'Height', 1, 'Along y.')],
  disc: [
    size('radius', 'Radius', 0.5, 'From the middle to the edge.'),
    size('hole', 'Hole', 0, 'Radius of the hole in the middle.'),
    sides(),
    sweep(),
  ],
  capsule: [
    size('radius', 'Radius', 0.25, 'Of the round ends and of the middle.'),
    size('height', 'Height', 1, 'Along y, the round ends included.'),
  ],
  lathe: [
    size('radius', 'Radius', 0.5, 'Of the widest place that the profile can have.'),
    size('height', 'Height', 1, 'Along y, of the whole profile.'),
    sides(64),
    sweep(),
  ],
  outline: [
    size('width', 'Width', 1, 'Of the whole drawing, along x.'),
    size('height', 'Height', 1, 'Of the whole drawing, along y.'),
    ...thick(0.1),
  ],
  lettering: [
    size('size', 'Letter size', 0.5, 'Height of a capital letter.'),
    number({
      path: 'spacing',
      group: 'Shape',
      label: 'Spacing',
      quantity: 'length',
      min: -1000,
      max: 1000,
      help: 'Added between one letter and the next.',
    }),
    ...thick(0.1),
  ],
  gear: [
    ...toothing(24, 6),
    size('thickness', 'Thickness', 0.1, 'Along its axis, z.'),
    size('bore', 'Bore', 0.1, 'Radius of the hole in the middle.'),
  ],
  rack: [
    ...toothing(12, 1),
    size('thickness', 'Thickness', 0.1, 'Along z.'),
    size('back', 'Back', 0.1, 'From the foot of the teeth to the flat back.'),
  ],
  mesh: [
    number({
      path: 'size',
      group: 'Shape',
      label: 'Size',
      initial: 1,
      min: 0,
      max: 1e6,
      help: 'Factor on the measures of the file.',
    }),
  ],
};

/** Channels of a shape of a kind: its sizes. */
export function shapeChannels(kind: ShapeKind): readonly ChannelSpec[] {
  return SHAPE_CHANNELS[kind];
}
