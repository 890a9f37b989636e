import { number } from './channel-spec';

/** How much of what stands behind it is seen through a part. */
export const OPACITY = number({
  path: 'opacity',
  group: 'Visibility',
  label: 'Opacity',
  initial: 1,
  min: 0,
  max: 1,
  step: 0.005,
  help: '1 is solid, 0 cannot be seen.',
});
