import { ANGLE_LIMIT, LENGTH_LIMIT, number, oneOf, size } from '../channel-spec';
import { CAM_LAWS, FOLLOWERS } from '../cam-words';
import type { ShapeDefinition } from '../definition';

const span = (path: string, label: string, initial: number, help: string) =>
  number({ path, group: 'Shape', label, quantity: 'angle', initial, min: 0, max: 360, step: 0.5, help });

export const cam: ShapeDefinition = {
  word: 'cam',
  channels: [
    oneOf(
      {
        path: 'law',
        group: 'Shape',
        label: 'Law',
        words: CAM_LAWS,
        help: 'How the follower goes up and down.',
      },
      2,
    ),
    oneOf({
      path: 'foot',
      group: 'Shape',
      label: 'Runs under',
      words: FOLLOWERS,
      help: 'What the follower runs on it with: the edge is the envelope of it.',
    }),
    number({
      path: 'lift',
      group: 'Shape',
      label: 'Lift',
      quantity: 'length',
      initial: 0.15,
      min: -LENGTH_LIMIT,
      max: LENGTH_LIMIT,
      help: 'How far it lifts the follower.',
    }),
    span('rise', 'Rise', 120, 'Turn over which it lifts.'),
    span('dwell', 'Dwell', 60, 'Turn over which the follower stays up.'),
    span('fall', 'Fall', 120, 'Turn over which the follower comes down; it rests for what is left.'),
    number({
      path: 'phase',
      group: 'Shape',
      label: 'Phase',
      quantity: 'angle',
      min: -ANGLE_LIMIT,
      max: ANGLE_LIMIT,
      step: 0.5,
      help: 'How much sooner the rise begins, for a follower above the axis.',
    }),
    size('base', 'Base', 0.3, 'Radius where the follower is down.'),
    size('roller', 'Roller', 0.05, 'Radius of the roller, where one runs on it.'),
    size('thickness', 'Thickness', 0.1, 'Along its axis, z.'),
    size('bore', 'Bore', 0.05, 'Radius of the hole in the middle.'),
  ],
  needs: [],
  symmetry: () => 1,
  roundAxis: null,
  even: false,
  offer: {
    name: 'Disc cam',
    group: 'Mechanical and structure',
    hint: 'Lifts a follower by a law',
    words: 'cam follower eccentric lift dwell',
    height: 0.5,
  },
};
