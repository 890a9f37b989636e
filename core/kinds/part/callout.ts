import { colour, number, type ChannelSpec } from '../channel-spec';
import type { PartDefinition } from '../definition';
import { OPACITY } from '../opacity-channel';
import { written } from '../written-channels';

/** A size as a share of the picture's height, so that it is the same from near and far. */
const ofHeight = (path: string, label: string, initial: number, max: number, help: string): ChannelSpec =>
  number({ path, group: 'Callout', label, initial, min: 0, max, step: 0.001, help });

/** Words beside a point of the scene, with a line that leads to it; they lie over the picture and face whoever looks. */
export const callout: PartDefinition = {
  word: 'callout',
  channels: [
    ...written('Callout'),
    ...(['x', 'y'] as const).map((axis) =>
      number({
        path: `words.${axis}`,
        group: 'Callout',
        label: 'Words at',
        axis,
        initial: axis === 'x' ? 0.16 : 0.12,
        min: -4,
        max: 4,
        step: 0.002,
        help: 'Middle of the words beside the point, in heights of the picture: to the right and up.',
      }),
    ),
    ofHeight('height', 'Letter size', 0.026, 1, 'Height of a capital, in heights of the picture.'),
    ofHeight('line', 'Line width', 0.003, 0.2, 'Width of the line, in heights of the picture; 0 has none.'),
    ofHeight('dot', 'Dot size', 0.006, 0.5, 'Radius of the dot on the point, in heights of the picture.'),
    number({
      path: 'drawn',
      group: 'Callout',
      label: 'Drawn',
      initial: 1,
      min: 0,
      max: 1,
      step: 0.005,
      help: 'How far it is drawn out: the line grows from the point, then the words come.',
    }),
    number({
      path: 'plate',
      group: 'Callout',
      label: 'Plate',
      initial: 0.8,
      min: 0,
      max: 1,
      step: 0.005,
      help: 'How much the plate behind the words covers: 0 has none.',
    }),
    OPACITY,
    colour('colour', 'Callout', 'Letters', [0.93, 0.9, 0.82], 'Colour of the letters.'),
    colour('linecolour', 'Callout', 'Line', [0.93, 0.9, 0.82], 'Colour of the line and its dot.'),
    colour(
      'platecolour',
      'Callout',
      'Plate colour',
      [0.012, 0.02, 0.035],
      'Colour of the plate behind the words.',
    ),
  ],
  role: 'label',
  offer: {
    name: 'Callout',
    group: 'Flat, turned and drawn',
    hint: 'Words with a line to a part',
    words: 'label leader line annotation note arrow pointer text balloon',
    height: 0,
  },
};
