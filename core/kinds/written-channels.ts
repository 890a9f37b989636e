import { number, type ChannelGroup, type ChannelSpec } from './channel-spec';

/** What a text shows that changes while the shot runs: the number that it counts, and which of its words. */
export const written = (group: ChannelGroup): readonly ChannelSpec[] => [
  number({
    path: 'number',
    group,
    label: 'Number',
    min: -1e12,
    max: 1e12,
    step: 0.02,
    needs: 'written',
    help: 'Shown where the text has #: round(Wheel.rotation.z / 1turn) counts turns. #.## shows two decimals.',
  }),
  number({
    path: 'choice',
    group,
    label: 'Choice',
    min: 0,
    max: 1000,
    whole: true,
    step: 0.02,
    needs: 'written',
    help: 'Which of the texts parted by | is shown: 0 is the first.',
  }),
];
