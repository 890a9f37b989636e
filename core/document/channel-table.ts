/**
 * The one table of everything in a shot that can have a value over time. The values panel, the lanes, the
 * formula checker, the document check and the files all read it.
 */

/** How a channel's value is stored: a number, a linear colour, an on/off switch (0 or 1). */
export type ChannelKind = 'number' | 'colour' | 'switch';

/** What a number measures. Lengths are metres and angles degrees in the document; times are seconds. */
export type Quantity = 'none' | 'length' | 'angle' | 'time';

export type ChannelGroup =
  'Place' | 'Visibility' | 'Shape' | 'Look' | 'Light' | 'Camera' | 'Repeat' | 'Path' | 'Dial';

export interface ChannelSpec {
  /** Path inside its owner, e.g. `rotation.y`. */
  readonly path: string;
  readonly group: ChannelGroup;
  /** Name of the row; the three axes of one row share it. */
  readonly label: string;
  readonly axis?: 'x' | 'y' | 'z';
  readonly kind: ChannelKind;
  readonly quantity: Quantity;
  readonly initial: number | readonly [number, number, number];
  /** Smallest and largest value allowed, both included. */
  readonly min: number;
  readonly max: number;
  /** Whole numbers only (teeth, sides). */
  readonly whole?: boolean;
  /** False for values that only describe how a part lies or is built: no keys, no link. */
  readonly animatable: boolean;
  /** Unit shown after the number when the quantity has none of its own. */
  readonly unit?: string;
  /** Share of the value that one pixel of sideways dragging changes. */
  readonly step: number;
  readonly help: string;
}

export const LENGTH_LIMIT = 1e6;
export const ANGLE_LIMIT = 1e7;

type Numeric = Partial<ChannelSpec> & Pick<ChannelSpec, 'path' | 'group' | 'label' | 'help'>;

function number(spec: Numeric): ChannelSpec {
  return {
    kind: 'number',
    quantity: 'none',
    initial: 0,
    min: -1e9,
    max: 1e9,
    animatable: true,
    step: 0.01,
    ...spec,
  };
}

function axes(spec: Omit<Numeric, 'path'> & { path: string }): ChannelSpec[] {
  return (['x', 'y', 'z'] as const).map((axis) => number({ ...spec, path: `${spec.path}.${axis}`, axis }));
}

function size(
  path: string,
  label: string,
  initial: number,
  help: string,
  group: ChannelGroup = 'Shape',
): ChannelSpec {
  return number({ path, group, label, quantity: 'length', initial, min: 0, max: LENGTH_LIMIT, help });
}

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

function colour(
  path: string,
  group: ChannelGroup,
  label: string,
  initial: [number, number, number],
  help: string,
): ChannelSpec {
  return {
    path,
    group,
    label,
    kind: 'colour',
    quantity: 'none',
    initial,
    min: 0,
    max: 1,
    animatable: true,
    step: 0.01,
    help,
  };
}

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

export const PART_KINDS = ['solid', 'hub', 'repeat', 'camera', 'sun', 'sky', 'point'] as const;
export type PartKind = (typeof PART_KINDS)[number];

export const COPIES_LIMIT = 1000;

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
    size('reach', 'Reach', 10, 'Distance at which the light has faded away; 0 never ends.', 'Light'),
  ],
};

export const SHAPE_KINDS = ['box', 'ball', 'cylinder', 'torus', 'gear'] as const;
export type ShapeKind = (typeof SHAPE_KINDS)[number];

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
    size('radius', 'Radius', 0.5, 'At the bottom.'),
    size('topRadius', 'Top radius', 0.5, 'At the top: 0 makes a cone.'),
    size('height', 'Height', 1, 'Along y.'),
    number({
      path: 'sides',
      group: 'Shape',
      label: 'Sides',
      initial: 48,
      min: 3,
      max: 256,
      whole: true,
      step: 0.2,
      help: 'Flat faces round it.',
    }),
    number({
      path: 'sweep',
      group: 'Shape',
      label: 'Sweep',
      quantity: 'angle',
      initial: 360,
      min: 1,
      max: 360,
      step: 0.5,
      help: 'How far round it goes: 360 is whole, less leaves a wedge.',
    }),
  ],
  torus: [
    size('radius', 'Radius', 0.5, 'From the middle of the ring to the middle of its tube.'),
    size('tube', 'Tube', 0.1, 'Radius of the tube.'),
  ],
  gear: [
    number({
      path: 'teeth',
      group: 'Shape',
      label: 'Teeth',
      initial: 24,
      min: 6,
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
    size('thickness', 'Thickness', 0.1, 'Along its axis, z.'),
    size('bore', 'Bore', 0.1, 'Radius of the hole in the middle.'),
  ],
};

export const LOOK_CHANNELS: readonly ChannelSpec[] = [
  colour('colour', 'Look', 'Colour', [0.5, 0.5, 0.5], 'Colour of the surface.'),
  number({
    path: 'glow',
    group: 'Look',
    label: 'Glow',
    min: 0,
    max: 100,
    help: 'How strongly the surface shines by itself.',
  }),
  number({
    path: 'metallic',
    group: 'Look',
    label: 'Metal',
    min: 0,
    max: 1,
    step: 0.005,
    help: '1 is bare metal, 0 is paint, wood or cloth.',
  }),
  number({
    path: 'roughness',
    group: 'Look',
    label: 'Roughness',
    initial: 0.6,
    min: 0,
    max: 1,
    step: 0.005,
    help: '0 is polished, 1 is dull.',
  }),
];

const partTables = new Map<PartKind, readonly ChannelSpec[]>(
  PART_KINDS.map((kind) => [kind, [...PLACE_CHANNELS, ...VISIBILITY_CHANNELS, ...PART_KIND_CHANNELS[kind]]]),
);

/** Channels of a part of a kind, place first. */
export function partChannels(kind: PartKind): readonly ChannelSpec[] {
  return partTables.get(kind) ?? [];
}

/** Channels of a shape of a kind: its sizes. */
export function shapeChannels(kind: ShapeKind): readonly ChannelSpec[] {
  return SHAPE_CHANNELS[kind];
}

const dialTables = new Map<string, readonly ChannelSpec[]>();

/** The one channel of a dial with the given limits; the same table for the same limits. */
export function dialChannels(dial: { quantity: Quantity; min: number; max: number }): readonly ChannelSpec[] {
  const key = `${dial.quantity} ${dial.min} ${dial.max}`;
  let table = dialTables.get(key);
  if (!table) {
    table = [
      number({
        path: 'value',
        group: 'Dial',
        label: 'Value',
        quantity: dial.quantity,
        min: dial.min,
        max: dial.max,
        help: 'A named value of the shot that any formula can read.',
      }),
    ];
    dialTables.set(key, table);
  }
  return table;
}
