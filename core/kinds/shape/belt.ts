import { number, size } from '../channel-spec';
import type { ShapeDefinition } from '../definition';
import { run } from '../size-channels';

export const belt: ShapeDefinition = {
  word: 'belt',
  channels: [
    size('width', 'Width', 0.15, 'Along z.'),
    size('thickness', 'Thickness', 0.02, 'Of the band, which lies on its pulleys.'),
    number({
      path: 'cleats',
      group: 'Shape',
      label: 'Cleats',
      initial: 24,
      min: 0,
      max: 400,
      whole: true,
      step: 0.2,
      help: 'Bars across the outside, evenly spaced, by which its run is seen; 0 for none.',
    }),
    run,
  ],
  needs: ['pulleys'],
  symmetry: () => 1,
  roundAxis: null,
  even: false,
  offer: {
    name: 'Belt',
    group: 'Mechanical and structure',
    hint: 'Runs round any pulleys',
    words: 'band drive conveyor pulley strap',
    height: 0.6,
  },
};
