import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';

export const plane: ShapeDefinition = {
  word: 'layer',
  channels: [size('width', 'Width', 1, 'Along x.'), size('height', 'Height', 1, 'Along y.')],
  needs: [],
  symmetry: (size, axis) => (axis === 'z' && size('width') === size('height') ? 4 : 2),
  roundAxis: null,
  even: true,
  offer: {
    name: 'Plane',
    group: 'Flat, turned and drawn',
    hint: 'A card, both sides',
    words: 'card layer quad wall',
    height: 0.5,
  },
};
