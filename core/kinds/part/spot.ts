import { colour, number } from '../channel-spec';
import type { PartDefinition } from '../definition';
import { LAMP_SIZE, REACH, shadow, strength } from '../light-channels';

export const spot: PartDefinition = {
  word: 'spot light',
  channels: [
    strength(40, 1e5),
    colour('light', 'Light', 'Colour', [1, 0.9, 0.75], 'Colour of the light.'),
    REACH,
    number({
      path: 'cone',
      group: 'Light',
      label: 'Cone',
      quantity: 'angle',
      initial: 40,
      min: 1,
      max: 170,
      step: 0.2,
      help: 'Whole angle of the cone of light, which shines along -z.',
    }),
    number({
      path: 'softness',
      group: 'Light',
      label: 'Soft edge',
      initial: 0.3,
      min: 0,
      max: 1,
      step: 0.005,
      help: 'Share of the cone over which its light fades to the edge.',
    }),
    shadow(1),
    LAMP_SIZE,
  ],
  role: 'light',
  offer: {
    name: 'Spot light',
    group: 'Light and camera',
    hint: 'A cone of light',
    words: 'lamp beam torch',
    height: 4,
    values: { 'rotation.x': -90 },
  },
};
