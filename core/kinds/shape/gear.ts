import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { toothing } from '../size-channels';

export const gear: ShapeDefinition = {
  word: 'gear',
  counted: { path: 'teeth', of: 'teeth' },
  channels: [
    ...toothing(24, 6),
    size('thickness', 'Thickness', 0.1, 'Along its axis, z.'),
    size('bore', 'Bore', 0.1, 'Radius of the hole in the middle.'),
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
