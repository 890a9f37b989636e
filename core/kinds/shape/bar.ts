import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';

export const bar: ShapeDefinition = {
  word: 'bar',
  channels: [
    size('length', 'Length', 1, 'From the middle of one eye to the middle of the other, along x.'),
    size('width', 'Width', 0.12, 'Along y; the ends are round.'),
    size('thickness', 'Thickness', 0.04, 'Along z.'),
    size('bore', 'Bore', 0.03, 'Radius of the holes of both eyes.'),
  ],
  needs: [],
  symmetry: () => 2,
  roundAxis: null,
  even: true,
  eyes: 'length',
  offer: {
    name: 'Bar with eyes',
    group: 'Mechanical and structure',
    hint: 'To be pinned at both ends',
    words: 'link lever rod crank coupler arm linkage',
    height: 0.5,
  },
};
