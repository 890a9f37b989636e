import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { sides, sweep, topShare } from '../size-channels';
import { upright, whole } from '../symmetry';

export const cylinder: ShapeDefinition = {
  word: 'cylinder',
  channels: [
    size('radius', 'Radius', 0.5, 'At the bottom; the top goes along.'),
    topShare(1),
    size('height', 'Height', 1, 'Along y.'),
    sides(),
    sweep(),
  ],
  needs: [],
  symmetry: upright(
    (size) => whole(size('sides'), size('sweep')),
    (size) => (size('top') === 1 && size('sweep') >= 360 ? 2 : 1),
  ),
  roundAxis: 'y',
  even: true,
  offer: {
    name: 'Cylinder',
    group: 'Solids',
    hint: 'Round or with sides',
    words: 'column rod prism',
    height: 0.5,
  },
};
