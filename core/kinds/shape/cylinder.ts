import type { ShapeDefinition } from '../definition';
import { roundBody } from '../round-body';

export const cylinder: ShapeDefinition = {
  word: 'cylinder',
  ...roundBody(1),
  offer: {
    name: 'Cylinder',
    group: 'Solids',
    hint: 'Round or with sides',
    words: 'column rod prism',
    height: 0.5,
  },
};
