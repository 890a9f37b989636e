import { number, size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { thick } from '../size-channels';
import { written } from '../written-channels';

export const lettering: ShapeDefinition = {
  word: 'lettering',
  channels: [
    size('size', 'Letter size', 0.5, 'Height of a capital letter.'),
    number({
      path: 'spacing',
      group: 'Shape',
      label: 'Spacing',
      quantity: 'length',
      min: -1000,
      max: 1000,
      help: 'Added between one letter and the next.',
    }),
    ...thick(0.1),
    ...written('Shape'),
  ],
  needs: ['outline', 'text'],
  symmetry: () => 1,
  roundAxis: null,
  even: false,
  offer: {
    name: 'Lettering',
    group: 'Flat, turned and drawn',
    hint: 'Words with depth and bevel',
    words: 'text type words font letters',
    height: 0.5,
  },
};
