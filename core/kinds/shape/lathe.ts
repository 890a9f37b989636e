import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { sides, sweep } from '../size-channels';
import { upright, whole } from '../symmetry';

export const lathe: ShapeDefinition = {
  word: 'lathe',
  channels: [
    size('radius', 'Radius', 0.5, 'Of the widest place that the profile can have.'),
    size('height', 'Height', 1, 'Along y, of the whole profile.'),
    sides(64),
    sweep(),
  ],
  needs: ['profile'],
  symmetry: upright((size) => whole(size('sides'), size('sweep'))),
  roundAxis: 'y',
  even: false,
  offer: {
    name: 'Lathe',
    group: 'Flat, turned and drawn',
    hint: 'A profile you draw, turned',
    words: 'turned profile vase bell spin',
    height: 0.5,
  },
};
