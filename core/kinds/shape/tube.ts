import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { sides } from '../size-channels';
import { upright, whole } from '../symmetry';

export const tube: ShapeDefinition = {
  word: 'tube',
  channels: [
    size('radius', 'Radius', 0.5, 'Of the outside.'),
    size('wall', 'Wall', 0.1, 'Thickness of the wall; as thick as the radius leaves no hole.'),
    size('height', 'Height', 1, 'Along y.'),
    sides(),
  ],
  needs: [],
  symmetry: upright(
    (size) => whole(size('sides')),
    () => 2,
  ),
  roundAxis: 'y',
  even: true,
  offer: {
    name: 'Tube',
    group: 'Solids',
    hint: 'A pipe with a wall',
    words: 'pipe hollow',
    height: 0.5,
  },
};
