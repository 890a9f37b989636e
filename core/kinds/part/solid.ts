import { number } from '../channel-spec';
import type { PartDefinition } from '../definition';

export const solid: PartDefinition = {
  word: 'solid',
  channels: [
    number({
      path: 'opacity',
      group: 'Visibility',
      label: 'Opacity',
      initial: 1,
      min: 0,
      max: 1,
      step: 0.005,
      help: '1 is solid, 0 cannot be seen.',
    }),
  ],
  role: 'solid',
  offer: null,
};
