import { number, onOff, size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { toothing } from '../size-channels';

const [, module, pressure] = toothing(1, 1);

export const worm: ShapeDefinition = {
  word: 'worm',
  counted: { path: 'starts', of: 'starts' },
  channels: [
    number({
      path: 'starts',
      group: 'Shape',
      label: 'Starts',
      initial: 1,
      min: 1,
      max: 20,
      whole: true,
      step: 0.02,
      help: 'Threads side by side: a turn goes on by so many.',
    }),
    {
      ...module!,
      help: 'Distance of its threads along the axis divided by pi: that of the wheel it drives.',
    },
    pressure!,
    size('radius', 'Radius', 0.2, 'Where the threads are as thick as the gaps.'),
    size('length', 'Length', 0.8, 'Along its axis, z.'),
    onOff({
      path: 'left',
      group: 'Shape',
      label: 'Hand',
      animatable: false,
      says: ['left', 'right'],
      help: 'Right-handed threads climb along z as they go round from x to y.',
    }),
  ],
  needs: [],
  symmetry: () => 1,
  roundAxis: null,
  even: false,
  offer: {
    name: 'Worm',
    group: 'Mechanical and structure',
    hint: 'A screw for a gear, or a thread',
    words: 'screw thread helix spindle',
    height: 0.3,
  },
};
