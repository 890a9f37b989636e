import { LENGTH_LIMIT, number, type ChannelSpec } from '../channel-spec';
import type { PartDefinition } from '../definition';

const film = (
  path: string,
  label: string,
  initial: number,
  min: number,
  max: number,
  help: string,
  more: Partial<ChannelSpec>,
): ChannelSpec => number({ path, group: 'Focus and film', label, initial, min, max, help, ...more });

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
      needs: 'lens',
      help: 'Focal length for a picture 36 mm wide: 35 sees 54 degrees across.',
    }),
    number({
      path: 'width',
      group: 'Camera',
      label: 'Width',
      quantity: 'length',
      initial: 10,
      min: 1e-4,
      max: LENGTH_LIMIT,
      step: 0.02,
      needs: 'parallel',
      help: 'Width of what a parallel camera takes.',
    }),
    film('exposure', 'Exposure', 0, -10, 10, 'Stops brighter or darker: each doubles or halves the light.', {
      unit: 'stops',
      step: 0.02,
    }),
    film(
      'aperture',
      'f-number',
      0,
      0,
      64,
      '0 is sharp all through; 2 blurs much of what is out of focus, 16 little.',
      {
        sampled: true,
        unit: 'f/',
        step: 0.02,
      },
    ),
    film(
      'focus',
      'Focus',
      5,
      0.001,
      LENGTH_LIMIT,
      'Distance at which things are sharp; distance(Camera, Boat) follows a part.',
      {
        quantity: 'length',
      },
    ),
    film(
      'shutter',
      'Shutter',
      0,
      0,
      360,
      'How long the shutter is open: 180 is half a frame, 0 blurs nothing that moves.',
      {
        sampled: true,
        quantity: 'angle',
        step: 0.5,
      },
    ),
    film('bloom', 'Bloom', 0, 0, 3, 'How much what is brighter than white shines over what is beside it.', {
      step: 0.005,
    }),
    film('bloomreach', 'Bloom reach', 0.4, 0, 1, 'How far it shines: 1 is wide.', { step: 0.005 }),
    film('vignette', 'Vignette', 0, 0, 1, 'How dark the corners of the picture become.', { step: 0.005 }),
    film('grain', 'Grain', 0, 0, 1, 'Grain of the film, another in each frame.', { step: 0.005 }),
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
