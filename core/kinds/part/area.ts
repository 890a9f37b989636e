import { colour, size } from '../channel-spec';
import type { PartDefinition } from '../definition';
import { shadow, strength } from '../light-channels';

export const area: PartDefinition = {
  word: 'area light',
  channels: [
    strength(6, 1e5),
    colour('light', 'Light', 'Colour', [1, 0.96, 0.9], 'Colour of the light.'),
    size('width', 'Width', 2, 'Of the shining panel, along x.', 'Light'),
    size('height', 'Height', 1, 'Of the shining panel, along y.', 'Light'),
    { ...shadow(1), help: 'Whether things stand in its way, softly. Asks for several samples.' },
  ],
  role: 'light',
  offer: {
    name: 'Area light',
    group: 'Light and camera',
    hint: 'A shining panel',
    words: 'softbox window panel',
    height: 2.5,
    values: { 'location.z': 2, 'rotation.x': -40 },
  },
};
