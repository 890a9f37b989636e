import { colour, number } from '../channel-spec';
import type { PartDefinition } from '../definition';
import { strength } from '../light-channels';

export const sky: PartDefinition = {
  word: 'sky light',
  channels: [
    strength(1, 100),
    colour('light', 'Light', 'Sky colour', [0.72, 0.82, 1], 'Light from above.'),
    colour('ground', 'Light', 'Ground colour', [0.45, 0.38, 0.3], 'Light thrown back from below.'),
    number({
      path: 'contact',
      group: 'Light',
      label: 'Contact',
      initial: 0,
      min: 0,
      max: 1,
      step: 0.005,
      sampled: true,
      help: 'How much of it is kept off corners and the floor below things by what stands in its way. Asks for several samples.',
    }),
  ],
  role: 'light',
  offer: {
    name: 'Sky light',
    group: 'Light and camera',
    hint: 'From everywhere above',
    words: 'ambient hemisphere',
    height: 4,
  },
};
