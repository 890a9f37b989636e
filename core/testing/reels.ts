import { CUT, emptyReel, type Join, type Reel, type ShotItem, type TitleItem } from '../reel';

/** Ids of two shots that a reel of a test shows. */
export const SHOT_A = '00000000-0000-4000-8000-00000000000a';
export const SHOT_B = '00000000-0000-4000-8000-00000000000b';

let count = 0;

export const shotItem = (frames: number, more: Partial<ShotItem> = {}): ShotItem => ({
  id: `itm_${++count}`,
  kind: 'shot',
  shot: SHOT_A,
  name: 'Hoop run',
  first: 1,
  frames,
  join: CUT,
  ...more,
});

export const titleItem = (frames: number, more: Partial<TitleItem> = {}): TitleItem => ({
  id: `itm_${++count}`,
  kind: 'title',
  frames,
  join: CUT,
  lines: [],
  size: 0.1,
  ink: [1, 1, 1],
  ground: [0, 0, 0],
  ...more,
});

export const dissolve = (frames: number): Join => ({ manner: 'dissolve', frames, from: 'left' });

export const reelOf = (...items: Reel['items'][number][]): Reel => ({ ...emptyReel(), items });
