import { colour, number } from '../channel-spec';
import type { PartDefinition } from '../definition';
import { shadow, strength } from '../light-channels';

export const sun: PartDefinition = {
  word: 'sun light',
  channels: [
    strength(3, 100),
    colour('light', 'Light', 'Colour', [1, 0.93, 0.82], 'Colour of the light.'),
    shadow(1),
    number({
      path: 'size',
      group: 'Light',
      label: 'Size',
      quantity: 'angle',
      initial: 0,
      min: 0,
      max: 90,
      step: 0.05,
      sampled: true,
      help: 'How wide it stands in the sky: the sun 0.53 degrees, a bright cloud 20. 0 throws hard shadows. Asks for several samples.',
    }),
  ],
  role: 'light',
  offer: {
    name: 'Sun',
    group: 'Light and camera',
    hint: 'From far away',
    words: 'directional light',
    height: 5,
    values: { 'rotation.x': -50, 'rotation.y': 35 },
  },
};
