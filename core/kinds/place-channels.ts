import { ANGLE_LIMIT, axes, LENGTH_LIMIT, number, onOff, type ChannelSpec } from './channel-spec';

/** How a part lies. What has no body, as a callout, is none the other for it unless something hangs from it. */
const TURN_CHANNELS: readonly ChannelSpec[] = [
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
].map((spec) => ({ ...spec, needs: 'turned' }));

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
  ...TURN_CHANNELS,
];

export const VISIBILITY_CHANNELS: readonly ChannelSpec[] = [
  onOff({
    path: 'visible',
    group: 'Visibility',
    label: 'Visible',
    initial: 1,
    says: ['shown', 'hidden'],
    help: 'Shown or hidden, with everything below it.',
  }),
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
