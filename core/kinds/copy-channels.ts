import { ANGLE_LIMIT, axes, LENGTH_LIMIT, number, type ChannelSpec } from './channel-spec';

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
    help: 'Moves each copy in its own measure. Links may use index and count, and outer: the copy of the repeat around this one.',
  }),
  ...axes({
    path: 'copy.rotation',
    group: 'Repeat',
    label: 'Copy turn',
    quantity: 'angle',
    min: -ANGLE_LIMIT,
    max: ANGLE_LIMIT,
    step: 0.5,
    help: 'Turns each copy. Links may use index and count, and outer: the copy of the repeat around this one.',
  }),
  ...axes({
    path: 'copy.scale',
    group: 'Repeat',
    label: 'Copy size',
    initial: 1,
    min: -1e6,
    max: 1e6,
    help: 'Size factor of each copy. Links may use index and count, and outer: the copy of the repeat around this one.',
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
