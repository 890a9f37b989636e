import { colour } from '../channel-spec';
import type { PartDefinition } from '../definition';
import { LAMP_SIZE, REACH, shadow, strength } from '../light-channels';

export const point: PartDefinition = {
  word: 'point light',
  channels: [
    strength(10, 1e5),
    colour('light', 'Light', 'Colour', [1, 0.8, 0.5], 'Colour of the light.'),
    REACH,
    shadow(0),
    LAMP_SIZE,
  ],
  role: 'light',
  offer: {
    name: 'Point light',
    group: 'Light and camera',
    hint: 'A bare lamp',
    words: 'bulb lamp omni',
    height: 2.5,
  },
};
