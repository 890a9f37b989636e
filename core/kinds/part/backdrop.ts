import { ANGLE_LIMIT, colour, number, size } from '../channel-spec';
import type { PartDefinition } from '../definition';

/** What stands behind everything, is mirrored by it and lies as fog before it. The first shown one of a shot counts. */
export const backdrop: PartDefinition = {
  word: 'backdrop',
  channels: [
    {
      ...colour(
        'colour',
        'Backdrop',
        'Colour',
        [0.28, 0.33, 0.38],
        'Of the background; of a gradient, at the bottom.',
      ),
      needs: 'plain-background',
    },
    {
      ...colour('upper', 'Backdrop', 'Upper colour', [0.1, 0.16, 0.3], 'Of a gradient, at the top.'),
      needs: 'gradient',
    },
    number({
      path: 'brightness',
      group: 'Backdrop',
      label: 'Brightness',
      initial: 1,
      min: 0,
      max: 10,
      step: 0.005,
      help: 'Of what is seen behind everything.',
    }),
    number({
      path: 'mirrored',
      group: 'Backdrop',
      label: 'Mirrored',
      initial: 0.45,
      min: 0,
      max: 10,
      step: 0.005,
      help: 'How strongly the surroundings light things and are mirrored by them.',
    }),
    number({
      path: 'turn',
      group: 'Backdrop',
      label: 'Turn',
      quantity: 'angle',
      min: -ANGLE_LIMIT,
      max: ANGLE_LIMIT,
      step: 0.5,
      help: 'Turns the surroundings about the upright axis.',
    }),
    size('fog', 'Fog after', 0, 'Distance at which two thirds are lost in the fog; 0 is clear air.', 'Fog'),
    colour('fogcolour', 'Fog', 'Fog colour', [0.5, 0.56, 0.62], 'Colour in which things are lost.'),
  ],
  role: 'backdrop',
  offer: {
    name: 'Backdrop',
    group: 'Light and camera',
    hint: 'Background, mirrors, fog',
    words: 'background environment studio sky gradient surroundings fog',
    height: 0,
  },
};
