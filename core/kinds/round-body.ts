import { size } from './channel-spec';
import type { ShapeDefinition } from './definition';
import { sides, sweep, topShare } from './size-channels';
import { upright, whole } from './symmetry';

/** What cylinders and cones have in common: a round body that grows narrower towards its top, or not. */
export function roundBody(
  top: number,
): Pick<ShapeDefinition, 'channels' | 'needs' | 'symmetry' | 'roundAxis' | 'even'> {
  return {
    channels: [
      size('radius', 'Radius', 0.5, 'At the bottom; the top goes along.'),
      topShare(top),
      size('height', 'Height', 1, 'Along y.'),
      sides(),
      sweep(),
    ],
    needs: [],
    symmetry: upright(
      (of) => whole(of('sides'), of('sweep')),
      (of) => (of('top') === 1 && of('sweep') >= 360 ? 2 : 1),
    ),
    roundAxis: 'y',
    even: true,
  };
}
