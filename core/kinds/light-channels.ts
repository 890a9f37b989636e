import { number, size, type ChannelSpec } from './channel-spec';

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

export const REACH: ChannelSpec = size(
  'reach',
  'Reach',
  10,
  'Distance at which the light has faded away; 0 never ends.',
  'Light',
);
