import { colour } from '../channel-spec';
import type { PartDefinition } from '../definition';
import { strength } from '../light-channels';

export const sun: PartDefinition = {
  word: 'sun light',
  channels: [strength(3, 100), colour('light', 'Light', 'Colour', [1, 0.93, 0.82], 'Colour of the light.')],
  role: 'light',
  offer: {
    name: 'Sun',
    group: 'Light and camera',
    hint: 'From far, hard shadows',
    words: 'directional light',
    height: 5,
    values: { 'rotation.x': -50, 'rotation.y': 35 },
  },
};
