import type { PartDefinition } from '../definition';

export const hub: PartDefinition = {
  word: 'hub',
  channels: [],
  role: 'carrier',
  offer: {
    name: 'Hub',
    group: 'Mechanical and structure',
    hint: 'Carries a place, no shape',
    words: 'empty null group pivot locator',
    height: 0,
  },
};
