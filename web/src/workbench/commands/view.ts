import { chooseTheme } from '../../shared/theme';
import { putCameraAt } from '../view/fly';
import { keepAside, toggleCompare } from '../actions/comparing';
import { bringIntoView, freeViewMatrix } from '../view/view-commands';
import type { FinderPlace } from '../state/view-settings';
import type { Command } from './command';
import { someChosen } from './when';

const NEXT_PLACE: Record<FinderPlace, FinderPlace> = {
  'bottom-right': 'bottom-left',
  'bottom-left': 'top-left',
  'top-left': 'top-right',
  'top-right': 'beside',
  beside: 'bottom-right',
};

export const VIEW_COMMANDS: readonly Command[] = [
  { id: 'pick', group: 'View', label: 'Pick', keys: 'q', shown: 'Q', run: (s) => s.view.take('pick') },
  { id: 'move', group: 'View', label: 'Move', keys: 'm', shown: 'M', run: (s) => s.view.take('move') },
  { id: 'turn', group: 'View', label: 'Turn', keys: 't', shown: 'T', run: (s) => s.view.take('turn') },
  { id: 'size', group: 'View', label: 'Size', keys: 'z', shown: 'Z', run: (s) => s.view.take('size') },
  { id: 'pivot', group: 'View', label: 'Pivot', keys: 'p', shown: 'P', run: (s) => s.view.take('pivot') },
  {
    id: 'measure',
    group: 'View',
    label: 'Measure',
    words: 'distance ruler angle',
    keys: 'd',
    shown: 'D',
    run: (s) => s.view.take('measure'),
  },
  {
    id: 'lock-x',
    group: 'View',
    label: 'Lock or free X',
    keys: 'alt+x',
    shown: 'Alt+X',
    run: (s) => s.view.toggleLock('x'),
  },
  {
    id: 'lock-y',
    group: 'View',
    label: 'Lock or free Y',
    keys: 'alt+y',
    shown: 'Alt+Y',
    run: (s) => s.view.toggleLock('y'),
  },
  {
    id: 'lock-z',
    group: 'View',
    label: 'Lock or free Z',
    keys: 'alt+z',
    shown: 'Alt+Z',
    run: (s) => s.view.toggleLock('z'),
  },
  {
    id: 'bring',
    group: 'View',
    label: 'Bring the chosen parts into view',
    words: 'zoom focus frame find',
    keys: 'b',
    shown: 'B',
    when: someChosen,
    run: (s) => bringIntoView(s.choice.now.chosen),
  },
  {
    id: 'swap',
    group: 'View',
    label: 'Swap the viewfinder and the view',
    words: 'camera',
    keys: 'v',
    shown: 'V',
    run: (s) => s.view.swapShot(),
  },
  {
    id: 'camera-here',
    group: 'View',
    label: 'Put the camera here, where the free view looks from',
    words: 'match',
    keys: 'shift+v',
    shown: 'Shift+V',
    run: (s) => {
      const matrix = freeViewMatrix();
      if (matrix) putCameraAt(s, matrix);
    },
  },
  {
    id: 'trail',
    group: 'View',
    label: 'Trail on or off',
    words: 'motion path spacing arc curve',
    run: (s) => s.view.toggle('trail'),
  },
  {
    id: 'ghosts',
    group: 'View',
    label: 'Ghosts on or off',
    words: 'before after',
    run: (s) => s.view.toggle('ghosts'),
  },
  {
    id: 'compare',
    group: 'View',
    label: 'Compare with another state of the shot, or stop',
    words: 'before after swipe side by side difference version',
    keys: 'alt+o',
    shown: 'Alt+O',
    run: toggleCompare,
  },
  {
    id: 'keep-aside',
    group: 'View',
    label: 'Keep the shot as it is now aside, to compare with it',
    words: 'version state remember try',
    run: keepAside,
  },
  {
    id: 'theme-day',
    group: 'View',
    label: 'Day colours',
    words: 'theme light bright colour',
    run: () => chooseTheme('day'),
  },
  {
    id: 'theme-evening',
    group: 'View',
    label: 'Evening colours',
    words: 'theme dark night colour',
    run: () => chooseTheme('evening'),
  },
  {
    id: 'theme-system',
    group: 'View',
    label: 'Colours as the system has them',
    words: 'theme dark light',
    run: () => chooseTheme('system'),
  },
  {
    id: 'draft-view',
    group: 'View',
    label: 'Draft view on or off',
    words: 'shadow shadows quality fast slow coarse',
    run: (s) => s.view.toggle('draft'),
  },
  {
    id: 'safe-area',
    group: 'View',
    label: 'Safe area on or off',
    words: 'title margin',
    run: (s) => s.view.toggle('safeArea'),
  },
  {
    id: 'beyond',
    group: 'View',
    label: 'Show what lies beyond the frame, or not',
    words: 'outside',
    run: (s) => s.view.toggle('beyond'),
  },
  {
    id: 'finder',
    group: 'View',
    label: 'Viewfinder: put away, small, large',
    words: 'camera preview',
    run: (s) =>
      s.view.find(
        { off: 'small', small: 'large', large: 'off' }[s.view.now.finder] as 'off' | 'small' | 'large',
      ),
  },
  {
    id: 'finder-place',
    group: 'View',
    label: 'Viewfinder: into the next corner, beside the view',
    words: 'camera preview dock position',
    run: (s) => s.view.putFinder(NEXT_PLACE[s.view.now.finderAt]),
  },
  { id: 'side-free', group: 'View', label: 'Look freely', run: (s) => s.view.look('free') },
  {
    id: 'side-front',
    group: 'View',
    label: 'Look from the front',
    words: 'view',
    run: (s) => s.view.look('front'),
  },
  {
    id: 'side-side',
    group: 'View',
    label: 'Look from the side',
    words: 'view',
    run: (s) => s.view.look('side'),
  },
  {
    id: 'side-top',
    group: 'View',
    label: 'Look from the top',
    words: 'view',
    run: (s) => s.view.look('top'),
  },
  {
    id: 'catch-steps',
    group: 'View',
    label: 'Catch on steps while dragging, or not',
    words: 'snap grid increments',
    run: (s) => s.view.toggleSnap('grid'),
  },
  {
    id: 'catch-points',
    group: 'View',
    label: 'Catch on points of other parts while dragging, or not',
    words: 'snap corner vertex pivot middle magnet',
    run: (s) => s.view.toggleSnap('points'),
  },
];
