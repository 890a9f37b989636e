import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { toothing } from '../size-channels';

export const ringGear: ShapeDefinition = {
  word: 'ring gear',
  counted: { path: 'teeth', of: 'teeth' },
  channels: [
    ...toothing(60, 12),
    size('thickness', 'Thickness', 0.1, 'Along its axis, z.'),
    size('rim', 'Rim', 0.15, 'From the ground between the teeth to the outside.'),
  ],
  needs: [],
  symmetry: (size, axis) => (axis === 'z' ? size('teeth') : 2),
  roundAxis: 'z',
  even: false,
  offer: {
    name: 'Ring gear',
    group: 'Mechanical and structure',
    hint: 'Teeth inside, for planets',
    words: 'inner internal annulus planetary cog wheel',
    height: 1.8,
  },
};
