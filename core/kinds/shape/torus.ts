import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { ROUND, upright } from '../symmetry';

export const torus: ShapeDefinition = {
  word: 'torus',
  channels: [
    size('radius', 'Radius', 0.5, 'From the middle of the ring to the middle of its tube.'),
    size('tube', 'Tube', 0.1, 'Radius of the tube.'),
  ],
  needs: [],
  symmetry: upright(
    () => ROUND,
    () => 2,
  ),
  roundAxis: 'y',
  even: true,
  offer: {
    name: 'Torus',
    group: 'Solids',
    hint: 'A round ring',
    words: 'ring hoop donut',
    height: 0.1,
  },
};
