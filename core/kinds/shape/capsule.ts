import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { ROUND, upright } from '../symmetry';

export const capsule: ShapeDefinition = {
  word: 'capsule',
  channels: [
    size('radius', 'Radius', 0.25, 'Of the round ends and of the middle.'),
    size('height', 'Height', 1, 'Along y, the round ends included.'),
  ],
  needs: [],
  symmetry: upright(
    () => ROUND,
    () => 2,
  ),
  roundAxis: null,
  even: true,
  offer: {
    name: 'Capsule',
    group: 'Solids',
    hint: 'A rod with round ends',
    words: 'pill limb',
    height: 0.5,
  },
};
