import {
  ANGLE_LIMIT,
  colour,
  number,
  type ChannelGroup,
  type ChannelNeed,
  type ChannelSpec,
} from './channel-spec';

interface Share {
  readonly path: string;
  readonly label: string;
  readonly help: string;
  readonly group?: ChannelGroup;
  readonly initial?: number;
  readonly needs?: ChannelNeed;
}

/** A number from 0 to 1. */
const share = ({ path, label, help, group = 'Look', initial = 0, needs }: Share): ChannelSpec =>
  number({ path, group, label, initial, min: 0, max: 1, step: 0.005, help, ...(needs ? { needs } : {}) });

const FINISH: readonly ChannelSpec[] = [
  share({
    path: 'coat',
    label: 'Clear coat',
    group: 'Finish',
    help: 'A layer of clear varnish over everything: 1 is a full one.',
  }),
  share({
    path: 'coatroughness',
    label: 'Dull coat',
    group: 'Finish',
    help: '0 is polished varnish, 1 is dull.',
  }),
  share({
    path: 'sheen',
    label: 'Sheen',
    group: 'Finish',
    help: 'The soft rim of light of cloth and velvet.',
  }),
  colour('sheencolour', 'Finish', 'Sheen colour', [1, 1, 1], 'Colour of the soft rim.'),
  share({
    path: 'glass',
    label: 'Glass',
    group: 'Finish',
    help: '1 lets all light through and bends it, as clear glass and water do; the colour tints it.',
  }),
  number({
    path: 'bending',
    group: 'Finish',
    label: 'Bending',
    initial: 1.5,
    min: 1,
    max: 2.333,
    step: 0.002,
    help: 'Refractive index of glass: water 1.33, window glass 1.52, flint 1.7.',
  }),
  number({
    path: 'thickness',
    group: 'Finish',
    label: 'Thickness',
    quantity: 'length',
    initial: 0,
    min: 0,
    max: 1000,
    step: 0.002,
    help: 'Of the glass: how far what is behind it is shifted. 0 is a thin pane.',
  }),
];

const PATTERN: readonly ChannelSpec[] = [
  {
    ...colour(
      'pattern.colour',
      'Pattern',
      'Colour on it',
      [0.9, 0.86, 0.78],
      'Colour of the pattern on the first.',
    ),
    needs: 'pattern',
  },
  number({
    path: 'pattern.size',
    group: 'Pattern',
    label: 'Pattern size',
    quantity: 'length',
    initial: 0.2,
    min: 1e-4,
    max: 1e4,
    step: 0.002,
    needs: 'pattern-body',
    help: 'From one repeat of the pattern to the next, where it goes through the body.',
  }),
  number({
    path: 'pattern.times',
    group: 'Pattern',
    label: 'Pattern times',
    initial: 8,
    min: 0.01,
    max: 1000,
    step: 0.05,
    needs: 'pattern-surface',
    help: 'How often it goes over the surface, where it lies on the surface: once round a ball or a wheel.',
  }),
  share({
    path: 'pattern.share',
    label: 'Its share',
    group: 'Pattern',
    initial: 0.5,
    needs: 'pattern',
    help: 'How much of a repeat the second colour takes.',
  }),
  share({
    path: 'pattern.softness',
    label: 'Its edge',
    group: 'Pattern',
    needs: 'pattern',
    help: '0 is cut sharply, 1 flows from one colour to the other.',
  }),
  share({
    path: 'pattern.strength',
    label: 'Its depth',
    group: 'Pattern',
    initial: 1,
    needs: 'pattern',
    help: 'How much the pattern covers, or how deep it is hammered and brushed.',
  }),
  ...(['x', 'y'] as const).map((axis) =>
    number({
      path: `pattern.shift.${axis}`,
      group: 'Pattern',
      label: 'Its shift',
      axis,
      min: -1e6,
      max: 1e6,
      needs: 'pattern',
      help: 'Moves the pattern, in repeats.',
    }),
  ),
  number({
    path: 'pattern.turn',
    group: 'Pattern',
    label: 'Its turn',
    quantity: 'angle',
    min: -ANGLE_LIMIT,
    max: ANGLE_LIMIT,
    step: 0.5,
    needs: 'pattern',
    help: 'Turns the pattern on the surface, or about the z axis of the body.',
  }),
];

const PICTURE: readonly ChannelSpec[] = [
  ...(['x', 'y'] as const).map((axis) =>
    number({
      path: `picture.size.${axis}`,
      group: 'Picture',
      label: 'Picture size',
      axis,
      initial: 1,
      min: 1e-4,
      max: 1e4,
      step: 0.005,
      needs: 'picture',
      help: 'Share of the surface that a picture fills: below 1 it is shown again and again.',
    }),
  ),
  ...(['x', 'y'] as const).map((axis) =>
    number({
      path: `picture.shift.${axis}`,
      group: 'Picture',
      label: 'Picture shift',
      axis,
      min: -1e6,
      max: 1e6,
      step: 0.005,
      needs: 'picture',
      help: 'Moves the pictures over the surface, in shares of it.',
    }),
  ),
  number({
    path: 'picture.turn',
    group: 'Picture',
    label: 'Picture turn',
    quantity: 'angle',
    min: -ANGLE_LIMIT,
    max: ANGLE_LIMIT,
    step: 0.5,
    needs: 'picture',
    help: 'Turns the pictures about the middle of the surface.',
  }),
  number({
    path: 'video.shift',
    group: 'Picture',
    label: 'Video shift',
    min: -1e7,
    max: 1e7,
    step: 0.1,
    needs: 'video',
    help: 'How many of its pictures the videos are further on. At speed 0 this alone says which picture is shown.',
  }),
];

const DROP: readonly ChannelSpec[] = [
  share({
    path: 'drop.opacity',
    label: 'Drop shadow',
    group: 'Drop shadow',
    needs: 'layer',
    help: 'How dark the shadow of a flat layer is on what lies behind it: 0 has none.',
  }),
  number({
    path: 'drop.distance',
    group: 'Drop shadow',
    label: 'Its distance',
    quantity: 'length',
    initial: 0.05,
    min: 0,
    max: 1e4,
    step: 0.002,
    needs: 'layer',
    help: 'How far the shadow lies beside the layer.',
  }),
  number({
    path: 'drop.angle',
    group: 'Drop shadow',
    label: 'Its direction',
    quantity: 'angle',
    initial: -45,
    min: -ANGLE_LIMIT,
    max: ANGLE_LIMIT,
    step: 0.5,
    needs: 'layer',
    help: 'In which direction it lies: 0 to the right, -90 below.',
  }),
  number({
    path: 'drop.blur',
    group: 'Drop shadow',
    label: 'Its blur',
    quantity: 'length',
    initial: 0.06,
    min: 0,
    max: 1e4,
    step: 0.002,
    needs: 'layer',
    help: 'How wide its soft edge is.',
  }),
  {
    ...colour('drop.colour', 'Drop shadow', 'Its colour', [0, 0, 0], 'Colour of the drop shadow.'),
    needs: 'layer',
  },
];

/** Everything of a look that can have a value over time. */
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
  colour('glowcolour', 'Look', 'Glow colour', [1, 1, 1], 'White shines in the colour of the surface itself.'),
  share({ path: 'metallic', label: 'Metal', help: '1 is bare metal, 0 is paint, wood or cloth.' }),
  share({ path: 'roughness', label: 'Roughness', initial: 0.6, help: '0 is polished, 1 is dull.' }),
  share({
    path: 'transparency',
    label: 'Clear',
    help: '0 is solid, 1 cannot be seen. Glass that bends light is set below, in Finish.',
  }),
  ...FINISH,
  ...PATTERN,
  ...PICTURE,
  ...DROP,
];

/**
 * Paths whose having a value at all decides with which program something is drawn: a part that fades, a look with coats,
 * sheen or glass, which the plain surface does not have.
 */
export const PROGRAM_PATHS: readonly string[] = ['opacity', ...FINISH.map((spec) => spec.path)];
