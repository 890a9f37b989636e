import { number, size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { ROUND } from '../symmetry';

export const ball: ShapeDefinition = {
  word: 'ball',
  channels: [
    size('radius', 'Radius', 0.5, 'From the middle to the surface.'),
    number({
      path: 'span',
      group: 'Shape',
      label: 'Span',
      quantity: 'angle',
      initial: 180,
      min: 1,
      max: 180,
      step: 0.5,
      help: 'How far the ball reaches up from its lowest point: 180 is whole, 90 a bowl.',
    }),
  ],
  needs: [],
  symmetry: (size, axis) => (size('span') >= 180 || axis === 'y' ? ROUND : 1),
  roundAxis: null,
  even: true,
  offer: {
    name: 'Ball',
    group: 'Solids',
    hint: 'Whole, or a bowl',
    words: 'sphere globe bowl',
    height: 0.5,
  },
};
