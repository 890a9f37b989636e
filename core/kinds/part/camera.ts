import { number } from '../channel-spec';
import type { PartDefinition } from '../definition';

export const camera: PartDefinition = {
  word: 'camera',
  channels: [
    number({
      path: 'lens',
      group: 'Camera',
      label: 'Lens',
      initial: 35,
      min: 4,
      max: 1200,
      step: 0.1,
      unit: 'mm',
      help: 'Focal length for a picture 36 mm wide: 35 sees 54 degrees across.',
    }),
  ],
  role: 'camera',
  offer: {
    name: 'Camera',
    group: 'Light and camera',
    hint: 'Takes the shot',
    words: 'lens view',
    height: 2,
    values: { 'location.z': 6, 'rotation.x': -12 },
  },
};
