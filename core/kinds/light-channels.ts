import { number, onOff, size, type ChannelSpec } from './channel-spec';

/** How strongly a light shines. */
export function strength(initial: number, max: number): ChannelSpec {
  return number({
    path: 'strength',
    group: 'Light',
    label: 'Strength',
    initial,
    min: 0,
    max,
    help: 'How bright the light is.',
  });
}

/** Whether a light throws shadows at all. */
export function shadow(initial: 0 | 1): ChannelSpec {
  return onOff({
    path: 'shadow',
    group: 'Light',
    label: 'Shadow',
    initial,
    says: ['thrown', 'none'],
    help: 'Whether things stand in its way.',
  });
}

/** Size of a lamp: the larger it is, the softer are its shadows. */
export const LAMP_SIZE: ChannelSpec = {
  ...size(
    'size',
    'Size',
    0,
    'Across the lamp: 0 throws hard shadows, a larger one soft ones. Asks for several samples.',
    'Light',
  ),
  sampled: true,
};

export const REACH: ChannelSpec = size(
  'reach',
  'Reach',
  10,
  'Distance at which the light has faded away; 0 never ends.',
  'Light',
);
