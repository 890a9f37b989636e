import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { toothing } from '../size-channels';

export const rack: ShapeDefinition = {
  word: 'rack',
  counted: { path: 'teeth', of: 'teeth' },
  channels: [
    ...toothing(12, 1),
    size('thickness', 'Thickness', 0.1, 'Along z.'),
    size('back', 'Back', 0.1, 'From the foot of the teeth to the flat back.'),
  ],
  needs: [],
  symmetry: () => 1,
  roundAxis: null,
  even: true,
  offer: {
    name: 'Rack',
    group: 'Mechanical and structure',
    hint: 'Straight teeth for gears',
    words: 'toothed bar linear',
    height: 0.25,
  },
};
