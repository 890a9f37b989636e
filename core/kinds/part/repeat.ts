import { LENGTH_LIMIT, number } from '../channel-spec';
import { COPIES_LIMIT, COPY_CHANNELS } from '../copy-channels';
import type { PartDefinition } from '../definition';

export const repeat: PartDefinition = {
  word: 'repeat',
  channels: [
    number({
      path: 'copies',
      group: 'Repeat',
      label: 'Copies',
      initial: 5,
      min: 1,
      max: COPIES_LIMIT,
      whole: true,
      step: 0.1,
      help: 'How many times the parts below are shown.',
    }),
    number({
      path: 'gap',
      group: 'Repeat',
      label: 'Gap',
      quantity: 'length',
      initial: 1,
      min: -LENGTH_LIMIT,
      max: LENGTH_LIMIT,
      help: 'Step from copy to copy where no hub sets it: along x in a row, up in a stack, the radius of a ring.',
    }),
    number({
      path: 'span',
      group: 'Repeat',
      label: 'Span',
      quantity: 'angle',
      initial: 360,
      min: -360,
      max: 360,
      step: 0.5,
      help: 'Angle over which a ring spreads its copies; 360 is all round.',
    }),
    ...COPY_CHANNELS,
  ],
  role: 'carrier',
  offer: {
    name: 'Repeat',
    group: 'Mechanical and structure',
    hint: 'Shows what hangs below again',
    words: 'array copies clone row ring',
    height: 0,
  },
};
