import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { sides, sweep } from '../size-channels';
import { whole } from '../symmetry';

export const disc: ShapeDefinition = {
  word: 'disc',
  channels: [
    size('radius', 'Radius', 0.5, 'From the middle to the edge.'),
    size('hole', 'Hole', 0, 'Radius of the hole in the middle.'),
    sides(),
    sweep(),
  ],
  needs: [],
  symmetry: (size, axis) =>
    axis === 'z' ? whole(size('sides'), size('sweep')) : size('sweep') >= 360 ? 2 : 1,
  roundAxis: 'z',
  even: false,
  offer: {
    name: 'Disc',
    group: 'Flat, turned and drawn',
    hint: 'With hole and sweep',
    words: 'circle round pie',
    height: 0.5,
  },
};
