import { size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';

export const bracket: ShapeDefinition = {
  word: 'bracket',
  channels: [
    size('height', 'Height', 0.5, 'From under its foot to the middle of the bore, where its own place is.'),
    size('width', 'Width', 0.5, 'Of the foot, along x.'),
    size('foot', 'Foot', 0.06, 'Thickness of the foot.'),
    size('eye', 'Eye', 0.14, 'Outer radius of the eye that holds the axle.'),
    size('bore', 'Bore', 0.06, 'Radius of the hole.'),
    size('thickness', 'Thickness', 0.12, 'Along z, the way of the axle.'),
  ],
  needs: [],
  symmetry: () => 1,
  roundAxis: null,
  even: true,
  offer: {
    name: 'Bracket',
    group: 'Mechanical and structure',
    hint: 'A foot and an eye for an axle',
    words: 'bearing block pillow support stand holder',
    height: 0.5,
  },
};
