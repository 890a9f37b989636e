import { ChevronDown } from 'lucide-react';
import { MenuButton } from '../../ui/menu';
import { drawRangeAhead } from '../actions/time';
import { entryOf } from '../commands';
import { focusPanel } from '../panels';
import { useSession, useTime } from '../session';
import { PICTURE_HOLDS, type PictureHold } from '../state/time';
import { stopDrawing } from '../view/view-commands';

const HOLD_WORDS: Record<PictureHold, string> = {
  1: 'Every frame',
  2: 'On twos: each picture stands for two frames',
  3: 'On threes: each picture stands for three frames',
};

const PANEL_OF = { keys: 'lanes', curves: 'curves', links: 'parts' } as const;

/** How play-back goes. */
export function PlayMenu() {
  const session = useSession();
  const hold = useTime((state) => state.hold);
  const loops = useTime((state) => state.loops);
  return (
    <MenuButton
      label="How it plays"
      title={`How it plays${hold > 1 ? `: on ${hold === 2 ? 'twos' : 'threes'}` : ''}`}
      className={`flex h-[26px] items-center rounded-md border bg-raised px-0.5 hover:bg-field ${hold > 1 || !loops ? 'border-teal text-teal' : 'border-line'}`}
      side="top"
      align="start"
      // Space plays next: on the button it would open the menu again.
      onClosed={() => focusPanel(PANEL_OF[session.sheets.now.foot])}
      entries={() => [
        entryOf(session, 'play-stretch', { label: 'Play the chosen stretch' }),
        {
          label: 'Over and over',
          checked: loops,
          stays: true,
          run: () => session.time.toggleLoop(),
        },
        'line',
        { heading: 'Shown while playing; nothing is keyed' },
        ...PICTURE_HOLDS.map((frames) => ({
          label: HOLD_WORDS[frames],
          current: hold === frames,
          run: () => session.time.holdPictures(frames),
        })),
        'line',
        session.time.now.drawing
          ? { label: 'Stop drawing ahead', run: stopDrawing }
          : {
              label: 'Draw the range ahead, so that it plays at its rate',
              later: true,
              run: () => void drawRangeAhead(session),
            },
        {
          label: 'Small film of the range, with frame numbers',
          later: true,
          run: () => session.sheets.show('small-film'),
        },
      ]}
    >
      <ChevronDown size={12} aria-hidden="true" />
    </MenuButton>
  );
}
