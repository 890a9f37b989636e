import { number, size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';

export const spring: ShapeDefinition = {
  word: 'spring',
  counted: { path: 'turns', of: 'turns' },
  channels: [
    size('radius', 'Radius', 0.2, 'From its axis to the middle of the wire.'),
    size('wire', 'Wire', 0.02, 'Radius of the wire.'),
    number({
      path: 'turns',
      group: 'Shape',
      label: 'Turns',
      initial: 8,
      min: 1,
      max: 200,
      step: 0.05,
      help: 'How often the wire goes round, the flat turns at both ends included.',
    }),
    size(
      'length',
      'Length',
      0.8,
      'Up along y from its foot, where it stands. Never shorter than its wire lying turn on turn.',
    ),
  ],
  needs: [],
  symmetry: () => 1,
  roundAxis: null,
  even: false,
  offer: {
    name: 'Spring',
    group: 'Mechanical and structure',
    hint: 'A coil whose length can follow',
    words: 'coil helix wire compression',
    height: 0,
  },
};
