import { number, size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { toothing } from '../size-channels';

export const gear: ShapeDefinition = {
  word: 'gear',
  counted: { path: 'teeth', of: 'teeth' },
  channels: [
    ...toothing(24, 6),
    size('thickness', 'Thickness', 0.1, 'Along its axis, z.'),
    size('bore', 'Bore', 0.1, 'Radius of the hole in the middle.'),
    number({
      path: 'helix',
      group: 'Shape',
      label: 'Helix',
      quantity: 'angle',
      min: -60,
      max: 60,
      step: 0.2,
      help: 'How far the teeth lean where they are as thick as their gaps: above 0 they turn from x to y along z. Two gears side by side lean against each other, a wheel leans as its worm climbs.',
    }),
  ],
  needs: [],
  symmetry: (size, axis) => (axis === 'z' ? size('teeth') : 2),
  roundAxis: 'z',
  even: false,
  offer: {
    name: 'Gear',
    group: 'Mechanical and structure',
    hint: 'Involute teeth, ISO 53',
    words: 'cog wheel pinion',
    height: 0.7,
  },
};
