import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { thick } from '../size-channels';

export const outline: ShapeDefinition = {
  word: 'outline',
  channels: [
    size('width', 'Width', 1, 'Of the whole drawing, along x.'),
    size('height', 'Height', 1, 'Of the whole drawing, along y.'),
    ...thick(0.1),
  ],
  needs: ['outline'],
  symmetry: () => 1,
  roundAxis: null,
  even: false,
  offer: {
    name: 'Outline',
    group: 'Flat, turned and drawn',
    hint: 'An SVG path with depth',
    words: 'svg extrude path emblem',
    height: 0.5,
  },
  sizes: { width: 1.6, height: 0.96 },
};
