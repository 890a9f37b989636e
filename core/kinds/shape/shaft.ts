import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { sides } from '../size-channels';

export const shaft: ShapeDefinition = {
  word: 'shaft',
  channels: [
    size('radius', 'Radius', 0.06, 'Of the shaft.'),
    size('length', 'Length', 1.2, 'Along its axis, z.'),
    size('key', 'Key', 0.03, 'Width of the key on its side; 0 for none.'),
    size('seat', 'Key length', 0.4, 'Along z, about the middle.'),
    sides(48),
  ],
  needs: [],
  symmetry: (size, axis) => (axis === 'z' && size('key') > 0 ? 1 : axis === 'z' ? 0 : 2),
  roundAxis: null,
  even: true,
  offer: {
    name: 'Shaft with key',
    group: 'Mechanical and structure',
    hint: 'An axle whose turn is seen',
    words: 'axle spindle rod key feather',
    height: 0.4,
  },
};
