import { RECIPES } from '../../../../core/recipe';
import { useFormulaDraft } from '../formula/formula-draft';
import {
  askWhy,
  findValue,
  copyChosenLink,
  openRecipe,
  pasteLink,
  showReport,
  showResponse,
} from '../links/link-commands';
import type { Command } from './command';
import { channelChosen, channelLinked, holds } from './when';

/** What can be done with links: part of the one list of commands. */
export const LINK_COMMANDS: readonly Command[] = [
  {
    id: 'foot-links',
    group: 'Links',
    label: 'Show the links in the foot: map, dials, recipes',
    words: 'dial dials driver map graph slider',
    keys: '3',
    shown: '3',
    run: (s) => s.sheets.footTab('links'),
  },
  {
    id: 'dial',
    group: 'Links',
    label: 'Dials: named values that any formula reads',
    words: 'new dial slider control parameter variable',
    run: (s) => s.sheets.footTab('links'),
  },
  {
    id: 'formula',
    group: 'Links',
    label: 'Start a formula for the chosen channel',
    words: 'link driver expression drive',
    keys: 'equal',
    shown: '=',
    when: channelChosen,
    run: () => useFormulaDraft.getState().focusBar(true),
  },
  {
    id: 'why',
    group: 'Links',
    label: 'Why does nothing move? Of the chosen channel or part',
    keys: 'w',
    shown: 'W',
    run: askWhy,
  },
  {
    id: 'response',
    group: 'Links',
    label: 'Response: plot the chosen channel over time or against what it reads',
    keys: 'r',
    shown: 'R',
    when: channelChosen,
    run: showResponse,
  },
  {
    id: 'report',
    group: 'Links',
    label: 'Motion report: speeds, accelerations, strokes and dwells of what is chosen',
    words: 'velocity jerk csv print pdf measure table extremes',
    keys: 'shift+w',
    shown: 'Shift+W',
    run: showReport,
  },
  {
    id: 'find-value',
    group: 'Links',
    label: 'Find a value: by which another one becomes what is wanted',
    words: 'solve goal seek optimise least most root teeth ratio fit target',
    keys: 'shift+f',
    shown: 'Shift+F',
    run: findValue,
  },
  ...[...RECIPES.values()].map((spec): Command => ({
    id: `recipe-${spec.kind}`,
    group: 'Links',
    label: `Recipe: ${spec.label.toLowerCase()}`,
    words: `${spec.help} driver mechanism`,
    run: (s) => openRecipe(s, spec.kind),
  })),
  {
    id: 'recipe',
    group: 'Links',
    label: 'Recipe: gears, crank, cam, slotted wheel, rolling, phases...',
    keys: 'shift+g',
    shown: 'Shift+G',
    run: (s) => openRecipe(s, null),
  },
  {
    id: 'copy-link',
    group: 'Links',
    label: 'Copy the link of the chosen channel',
    when: channelLinked,
    run: copyChosenLink,
  },
  {
    id: 'paste-link',
    group: 'Links',
    label: 'Paste the link onto the chosen parts; references follow what belongs to each',
    when: holds('link'),
    run: (s) => pasteLink(s, 'follow'),
  },
  {
    id: 'paste-link-as-is',
    group: 'Links',
    label: 'Paste the link onto the chosen parts as it is',
    when: holds('link'),
    run: (s) => pasteLink(s, 'stay'),
  },
];
