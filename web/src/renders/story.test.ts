import { describe, expect, it } from 'vitest';
import type { RenderJob, RenderStory } from '../../../wire';
import { earlierFilms, runsOf } from './story';

const story = (more: Partial<RenderStory>): RenderStory => ({
  frames: [],
  states: [],
  took: [],
  machines: [],
  names: [],
  troubles: [],
  events: [],
  ...more,
});

describe('the frames of a film', () => {
  it('are runs of one kind, in order, whatever the order in which they came', () => {
    const runs = runsOf(
      { first: -1, last: 8 },
      story({
        frames: [3, -1, 0, 4, 5],
        states: ['unchanged', 'drawn', 'drawn', 'unchanged', 'skipped'],
        troubles: [
          { frame: 6, tries: 3, reason: '', machine: 'a' },
          // One that was drawn in the end is no trouble any more.
          { frame: 0, tries: 1, reason: '', machine: 'a' },
        ],
      }),
    );
    expect(runs).toEqual([
      { first: -1, last: 0, kind: 'drawn' },
      { first: 1, last: 2, kind: 'waiting' },
      { first: 3, last: 4, kind: 'unchanged' },
      { first: 5, last: 5, kind: 'skipped' },
      { first: 6, last: 6, kind: 'troubled' },
      { first: 7, last: 8, kind: 'waiting' },
    ]);
  });
  it('are compared with those of films of the same shot that have some in common', () => {
    const job = (id: string, more: Partial<RenderJob> = {}): RenderJob =>
      ({ id, shotId: 's', reelId: null, drawn: 5, first: 1, last: 20, ...more }) as RenderJob;
    const all = [
      job('self'),
      job('other'),
      job('elsewhere', { shotId: 't' }),
      job('none drawn', { drawn: 0 }),
      job('later', { first: 21, last: 30 }),
      job('touching', { first: 20, last: 30 }),
    ];
    expect(earlierFilms(all[0]!, all).map((each) => each.id)).toEqual(['other', 'touching']);
    expect(earlierFilms(job('gone', { shotId: null }), all)).toEqual([]);
    const reels = ['r', 'r', 'q'].map((reelId, i) => job(`reel ${i}`, { shotId: null, reelId }));
    expect(earlierFilms(reels[0]!, [...all, ...reels]).map((each) => each.id)).toEqual(['reel 1']);
  });
});
