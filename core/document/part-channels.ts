import { ANGLE_LIMIT, axes, colour, LENGTH_LIMIT, number, size, type ChannelSpec } from './channel-spec';

/** Shared by every part. */
export const PLACE_CHANNELS: readonly ChannelSpec[] = [
  ...axes({
    path: 'location',
    group: 'Place',
    label: 'Location',
    quantity: 'length',
    min: -LENGTH_LIMIT,
    max: LENGTH_LIMIT,
    help: 'Where the part is, measured in its parent.',
  }),
  ...axes({
    path: 'rotation',
    group: 'Place',
    label: 'Rotation',
    quantity: 'angle',
    min: -ANGLE_LIMIT,
    max: ANGLE_LIMIT,
    step: 0.5,
    help: 'Turn about its pivot. Whole turns are kept: 720 is two turns.',
  }),
  ...axes({
    path: 'scale',
    group: 'Place',
    label: 'Scale',
    initial: 1,
    min: -1e6,
    max: 1e6,
    help: 'Size factor along its own axes.',
  }),
  ...axes({
    path: 'pivot',
    group: 'Place',
    label: 'Pivot',
    quantity: 'length',
    min: -LENGTH_LIMIT,
    max: LENGTH_LIMIT,
    help: 'The point the part turns and grows about, in its own measure.',
  }),
  ...axes({
    path: 'rest',
    group: 'Place',
    label: 'Rest turn',
    quantity: 'angle',
    min: -360,
    max: 360,
    step: 0.5,
    animatable: false,
    help: 'How the part lies before any animation.',
  }),
];

const VISIBILITY_CHANNELS: readonly ChannelSpec[] = [
  {
    path: 'visible',
    group: 'Visibility',
    label: 'Visible',
    kind: 'switch',
    quantity: 'none',
    initial: 1,
    min: 0,
    max: 1,
    animatable: true,
    step: 1,
    help: 'Shown or hidden, with everything below it.',
  },
];

const OPACITY: ChannelSpec = number({
  path: 'opacity',
  group: 'Visibility',
  label: 'Opacity',
  initial: 1,
  min: 0,
  max: 1,
  step: 0.005,
  help: '1 is solid, 0 cannot be seen.',
});

const STRENGTH = (initial: number, max: number): ChannelSpec =>
  number({
    path: 'strength',
    group: 'Light',
    label: 'Strength',
    initial,
    min: 0,
    max,
    help: 'How bright the light is.',
  });

const REACH = size(
  'reach',
  'Reach',
  10,
  'Distance at which the light has faded away; 0 never ends.',
  'Light',
);

export const PART_KINDS = [
  'solid',
  'hub',
  'repeat',
  'camera',
  'sun',
  'sky',
  'point',
  'spot',
  'area',
] as const;
export type PartKind = (typeof PART_KINDS)[number];
/** Kinds that give light. */
export const LIGHT_KINDS: readonly PartKind[] = ['sun', 'sky', 'point', 'spot', 'area'];

export const COPIES_LIMIT = 1000;
/** Showings that one part below repeats of repeats may have in all; more are left out. */
export const COPIES_IN_ALL = 100_000;

/** First of the channels that a repeat works out anew for each of its copies. */
export const COPY_PREFIX = 'copy.';

/** What a repeat works out for each copy, in the order in which evaluation keeps them. */
export const COPY_CHANNELS: readonly ChannelSpec[] = [
  ...axes({
    path: 'copy.location',
    group: 'Repeat',
    label: 'Copy place',
    quantity: 'length',
    min: -LENGTH_LIMIT,
    max: LENGTH_LIMIT,
    help: 'Moves each copy in its own measure. Links may use index and count.',
  }),
  ...axes({
    path: 'copy.rotation',
    group: 'Repeat',
    label: 'Copy turn',
    quantity: 'angle',
    min: -ANGLE_LIMIT,
    max: ANGLE_LIMIT,
    step: 0.5,
    help: 'Turns each copy. Links may use index and count.',
  }),
  ...axes({
    path: 'copy.scale',
    group: 'Repeat',
    label: 'Copy size',
    initial: 1,
    min: -1e6,
    max: 1e6,
    help: 'Size factor of each copy. Links may use index and count.',
  }),
  number({
    path: 'copy.opacity',
    group: 'Repeat',
    label: 'Copy opacity',
    initial: 1,
    min: 0,
    max: 1,
    step: 0.005,
    help: 'Share of its opacity that each copy keeps.',
  }),
  number({
    path: 'copy.glow',
    group: 'Repeat',
    label: 'Copy glow',
    min: 0,
    max: 100,
    help: 'Glow that each copy has beside that of its look.',
  }),
  ...(['red', 'green', 'blue'] as const).map((name) =>
    number({
      path: `copy.${name}`,
      group: 'Repeat',
      label: `Copy ${name}`,
      initial: 1,
      min: 0,
      max: 1,
      step: 0.005,
      help: `Share of its ${name} that each copy keeps, in linear light.`,
    }),
  ),
];

/** What a part carried along a path has beside everything else. */
export const FOLLOW_CHANNELS: readonly ChannelSpec[] = [
  number({
    path: 'along',
    group: 'Path',
    label: 'Along the path',
    min: -1e6,
    max: 1e6,
    step: 0.002,
    help: 'Share of the path gone: 0 is its start, 1 its end. On a closed path it goes round and round.',
  }),
];

/** What a part of each kind has beside its place and visibility. */
const PART_KIND_CHANNELS: Record<PartKind, readonly ChannelSpec[]> = {
  solid: [OPACITY],
  hub: [],
  repeat: [
    number({
      path: 'copies',
      group: 'Repeat',
      label: 'Copies',
      initial: 5,
      min: 1,
      max: COPIES_LIMIT,
      whole: true,
      step: 0.1,
      help: 'How many times the parts below are shown.',
    }),
    number({
      path: 'gap',
      group: 'Repeat',
      label: 'Gap',
      quantity: 'length',
      initial: 1,
      min: -LENGTH_LIMIT,
      max: LENGTH_LIMIT,
      help: 'Step from copy to copy where no hub sets it: along x in a row, up in a stack, the radius of a ring.',
    }),
    number({
      path: 'span',
      group: 'Repeat',
      label: 'Span',
      quantity: 'angle',
      initial: 360,
      min: -360,
      max: 360,
      step: 0.5,
      help: 'Angle over which a ring spreads its copies; 360 is all round.',
    }),
    ...COPY_CHANNELS,
  ],
  camera: [
    number({
      path: 'lens',
      group: 'Camera',
      label: 'Lens',
      initial: 35,
      min: 4,
      max: 1200,
      step: 0.1,
      unit: 'mm',
      help: 'Focal length for a picture 36 mm wide: 35 sees 54 degrees across.',
    }),
  ],
  sun: [STRENGTH(3, 100), colour('light', 'Light', 'Colour', [1, 0.93, 0.82], 'Colour of the light.')],
  sky: [
    STRENGTH(1, 100),
    colour('light', 'Light', 'Sky colour', [0.72, 0.82, 1], 'Light from above.'),
    colour('ground', 'Light', 'Ground colour', [0.45, 0.38, 0.3], 'Light thrown back from below.'),
  ],
  point: [
    STRENGTH(10, 1e5),
    colour('light', 'Light', 'Colour', [1, 0.8, 0.5], 'Colour of the light.'),
    REACH,
  ],
  spot: [
    STRENGTH(40, 1e5),
    colour('light', 'Light', 'Colour', [1, 0.9, 0.75], 'Colour of the light.'),
    REACH,
    number({
      path: 'cone',
      group: 'Light',
      label: 'Cone',
      quantity: 'angle',
      initial: 40,
      min: 1,
      max: 170,
      step: 0.2,
      help: 'Whole angle of the cone of light, which shines along -z.',
    }),
    number({
      path: 'softness',
      group: 'Light',
      label: 'Soft edge',
      initial: 0.3,
      min: 0,
      max: 1,
      step: 0.005,
      help: 'Share of the cone over which its light fades to the edge.',
    }),
  ],
  area: [
    STRENGTH(6, 1e5),
    colour('light', 'Light', 'Colour', [1, 0.96, 0.9], 'Colour of the light.'),
    size('width', 'Width', 2, 'Of the shining panel, along x.', 'Light'),
    size('height', 'Height', 1, 'Of the shining panel, along y.', 'Light'),
  ],
};

const partTables = new Map<PartKind, readonly ChannelSpec[]>(
  PART_KINDS.map((kind) => [kind, [...PLACE_CHANNELS, ...VISIBILITY_CHANNELS, ...PART_KIND_CHANNELS[kind]]]),
);

/** Channels of a part of a kind, place first. */
export function partChannels(kind: PartKind): readonly ChannelSpec[] {
  return partTables.get(kind) ?? [];
}
