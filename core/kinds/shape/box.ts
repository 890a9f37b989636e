import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';

export const box: ShapeDefinition = {
  word: 'box',
  channels: [
    size('width', 'Width', 1, 'Along x.'),
    size('height', 'Height', 1, 'Along y.'),
    size('depth', 'Depth', 1, 'Along z.'),
  ],
  needs: [],
  symmetry: (size, axis) => {
    const [w, h, d] = ['width', 'height', 'depth'].map(size);
    const square = axis === 'x' ? h === d : axis === 'y' ? w === d : w === h;
    return square ? 4 : 2;
  },
  roundAxis: null,
  even: true,
  offer: {
    name: 'Box',
    group: 'Solids',
    hint: 'Width, height, depth',
    words: 'cube block crate',
    height: 0.5,
  },
};
