import { number } from '../channel-spec';
import type { ShapeDefinition } from '../definition';

export const mesh: ShapeDefinition = {
  word: 'mesh',
  channels: [
    number({
      path: 'size',
      group: 'Shape',
      label: 'Size',
      initial: 1,
      min: 0,
      max: 1e6,
      help: 'Factor on the measures of the file.',
    }),
  ],
  needs: ['mesh'],
  symmetry: () => 1,
  roundAxis: null,
  even: false,
  offer: null,
};
