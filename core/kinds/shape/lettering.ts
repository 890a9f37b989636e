import { number, size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { thick } from '../size-channels';

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
    number({
      path: 'number',
      group: 'Shape',
      label: 'Number',
      min: -1e12,
      max: 1e12,
      step: 0.02,
      needs: 'written',
      help: 'Shown where the text has #: round(Wheel.rotation.z / 1turn) counts turns. #.## shows two decimals.',
    }),
    number({
      path: 'choice',
      group: 'Shape',
      label: 'Choice',
      min: 0,
      max: 1000,
      whole: true,
      step: 0.02,
      needs: 'written',
      help: 'Which of the texts parted by | is shown: 0 is the first.',
    }),
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
