import { emptyReel, putSound, type Join, type Reel, type ShotItem, type TitleItem } from '../core/reel';
import { letterOutline } from './letters';
import { organTune } from './tune';

export const DEMO_REEL = 'Evening at the fair';

/** From the middle of one letter to that of the next, in heights of a capital. */
const STEP = 0.9;
const WIDTH = 0.72;

const line = (text: string): TitleItem['lines'][number] => ({
  text: { text, font: 'oswald' },
  outline: [...text].flatMap((letter, i) =>
    letterOutline(letter).map(({ outer, holes }) => {
      const at = (i - (text.length - 1) / 2) * STEP;
      const placed = (ring: readonly number[]): number[] =>
        ring.map((value, j) => (j % 2 === 0 ? value * WIDTH + at : value));
      return { letter: i, outer: placed(outer), holes: holes.map(placed) };
    }),
  ),
});

const dissolve = (frames: number): Join => ({ manner: 'dissolve', frames, from: 'left' });

/**
 * The evening in three shots under one tune: the sign comes out of the dark, a hoop is driven over the quay, the ride
 * turns, and the emblem closes it.
 * @param shotOf id of a shot of the demo by its name, or undefined where somebody has deleted it
 */
export function demoReel(shotOf: (name: string) => string | undefined): Reel {
  const shot = (name: string, first: number, frames: number, join: Join): ShotItem[] => {
    const id = shotOf(name);
    return id === undefined
      ? []
      : [
          {
            id: `itm_${name.toLowerCase().replace(' ', '-')}`,
            kind: 'shot',
            shot: id,
            name,
            first,
            frames,
            join,
            silent: true,
          },
        ];
  };
  const sign: TitleItem = {
    id: 'itm_sign',
    kind: 'title',
    frames: 48,
    join: dissolve(12),
    lines: [line('HARBOUR'), line('FAIR')],
    size: 0.12,
    ink: [0.81, 0.46, 0.06],
    ground: [0.01, 0.02, 0.04],
  };
  const reel: Reel = {
    ...emptyReel(),
    items: [
      sign,
      ...shot('Hoop run', 30, 60, dissolve(16)),
      ...shot('Full ride', 1, 96, dissolve(16)),
      ...shot('Emblem', 1, 48, { manner: 'wipe', frames: 14, from: 'bottom' }),
      { ...sign, id: 'itm_dark', frames: 24, join: dissolve(20), lines: [], ground: [0, 0, 0] },
    ],
  };
  return putSound(reel, 'snd_tune', {
    id: 'snd_tune',
    name: 'Organ tune',
    asset: organTune().hash,
    start: 25,
    from: 0,
    level: 0.9,
    fadeIn: 0.5,
    fadeOut: 1.5,
  });
}
