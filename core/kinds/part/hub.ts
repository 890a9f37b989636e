import type { PartDefinition } from '../definition';

export const hub: PartDefinition = {
  word: 'hub',
  channels: [],
  solid: false,
  light: false,
  takes: false,
  carries: true,
  given: false,
  seen: false,
  rotationOrder: 'XYZ',
  faces: 'z',
  offer: {
    name: 'Hub',
    group: 'Mechanical and structure',
    hint: 'Carries a place, no shape',
    words: 'empty null group pivot locator',
    height: 0,
  },
};
