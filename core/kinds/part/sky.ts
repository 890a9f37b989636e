import { colour } from '../channel-spec';
import type { PartDefinition } from '../definition';
import { strength } from '../light-channels';

export const sky: PartDefinition = {
  word: 'sky light',
  channels: [
    strength(1, 100),
    colour('light', 'Light', 'Sky colour', [0.72, 0.82, 1], 'Light from above.'),
    colour('ground', 'Light', 'Ground colour', [0.45, 0.38, 0.3], 'Light thrown back from below.'),
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
