import type { ShapeDefinition } from '../definition';
import { roundBody } from '../round-body';

export const cone: ShapeDefinition = {
  word: 'cone',
  ...roundBody(0),
  offer: {
    name: 'Cone',
    group: 'Solids',
    hint: 'To a point or cut off',
    words: 'pyramid tent',
    height: 0.5,
  },
};
