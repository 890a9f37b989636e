import { number, size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { toothing } from '../size-channels';

export const bevelGear: ShapeDefinition = {
  word: 'bevel gear',
  counted: { path: 'teeth', of: 'teeth' },
  channels: [
    ...toothing(24, 6),
    number({
      path: 'cone',
      group: 'Shape',
      label: 'Cone',
      quantity: 'angle',
      initial: 45,
      min: 5,
      max: 85,
      step: 0.2,
      help: 'Half angle of the pitch cone. On shafts at right angles its tangent is the ratio of the teeth, and both cones make 90 degrees.',
    }),
    size('face', 'Face', 0.2, 'How far the teeth run towards the point where the shafts meet.'),
    size('bore', 'Bore', 0.08, 'Radius of the hole in the middle.'),
  ],
  needs: [],
  symmetry: (size, axis) => (axis === 'z' ? size('teeth') : 1),
  roundAxis: 'z',
  even: false,
  offer: {
    name: 'Bevel gear',
    group: 'Mechanical and structure',
    hint: 'For shafts that meet at an angle',
    words: 'cone mitre cog wheel angle drive',
    height: 0.7,
  },
};
