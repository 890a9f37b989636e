import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { chainPitch, run } from '../size-channels';

export const chain: ShapeDefinition = {
  word: 'chain',
  channels: [
    chainPitch('From one roller to the next. An even number of links goes round: they are stretched to fit.'),
    size('roller', 'Roller', 0.03, 'Radius of the rollers.'),
    size('width', 'Width', 0.1, 'Between the inner plates, along z.'),
    run,
  ],
  needs: ['pulleys'],
  symmetry: () => 1,
  roundAxis: null,
  even: false,
  offer: {
    name: 'Chain',
    group: 'Mechanical and structure',
    hint: 'Rollers and plates round sprockets',
    words: 'link roller drive sprocket bicycle',
    height: 0.6,
  },
};
