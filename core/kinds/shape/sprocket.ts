import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { chainPitch, toothing } from '../size-channels';

export const sprocket: ShapeDefinition = {
  word: 'sprocket',
  counted: { path: 'teeth', of: 'teeth' },
  channels: [
    toothing(18, 6)[0]!,
    chainPitch('From one roller of its chain to the next.'),
    size('roller', 'Roller', 0.03, 'Radius of the rollers of its chain.'),
    size('thickness', 'Thickness', 0.08, 'Along its axis, z.'),
    size('bore', 'Bore', 0.06, 'Radius of the hole in the middle.'),
  ],
  needs: [],
  symmetry: (size, axis) => (axis === 'z' ? size('teeth') : 2),
  roundAxis: 'z',
  even: false,
  offer: {
    name: 'Sprocket',
    group: 'Mechanical and structure',
    hint: 'A wheel for a roller chain',
    words: 'chain wheel cog teeth',
    height: 0.5,
  },
};
