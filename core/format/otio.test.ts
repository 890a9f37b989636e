import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { putItem, setJoin, type Reel } from '../reel';
import { reelOf, SHOT_A, SHOT_B, shotItem, titleItem } from '../testing/reels';
import { readOtio, TimelineRefused, writeOtio, type TimelineShot } from './otio';

const shots = new Map<string, TimelineShot>([
  [SHOT_A, { name: 'Hoop run', rate: { num: 24, den: 1 }, first: 1, last: 96 }],
  [SHOT_B, { name: 'Full ride', rate: { num: 25, den: 1 }, first: 1, last: 100 }],
]);
const shotOf = (id: string): TimelineShot | null => shots.get(id) ?? null;
let made = 0;
const newId = (): string => `itm_n${++made}`;
const read = (json: unknown) =>
  readOtio(typeof json === 'string' ? json : JSON.stringify(json), shots, newId);
const bare = ({ items, ...rest }: Reel) => ({ ...rest, items: items.map(({ id: _id, ...item }) => item) });

describe('a reel as a timeline', () => {
  it('is written after the published schemas', () => {
    const reel = reelOf(
      shotItem(48, { first: 25 }),
      shotItem(24, { shot: SHOT_B, name: 'Full ride', join: { manner: 'wipe', frames: 9, from: 'top' } }),
    );
    const sound = {
      id: 'snd_o',
      name: 'Organ',
      asset: 'c'.repeat(64),
      start: 13,
      from: 1,
      level: 1,
      fadeIn: 0,
      fadeOut: 2,
    };
    const file = JSON.parse(writeOtio({ ...reel, sounds: [sound] }, 'Evening', shotOf)) as Record<
      string,
      never
    >;
    expect(file).toMatchObject({
      OTIO_SCHEMA: 'Timeline.1',
      name: 'Evening',
      global_start_time: { OTIO_SCHEMA: 'RationalTime.1', rate: 24, value: 0 },
      tracks: {
        OTIO_SCHEMA: 'Stack.1',
        children: [
          {
            OTIO_SCHEMA: 'Track.1',
            kind: 'Video',
            children: [
              {
                OTIO_SCHEMA: 'Clip.2',
                name: 'Hoop run',
                active_media_reference_key: 'DEFAULT_MEDIA',
                media_references: {
                  DEFAULT_MEDIA: {
                    OTIO_SCHEMA: 'ExternalReference.1',
                    target_url: 'Hoop%20run.mp4',
                    available_range: {
                      start_time: { value: 1, rate: 24 },
                      duration: { value: 96, rate: 24 },
                    },
                  },
                },
                source_range: {
                  OTIO_SCHEMA: 'TimeRange.1',
                  start_time: { OTIO_SCHEMA: 'RationalTime.1', value: 25, rate: 24 },
                  duration: { OTIO_SCHEMA: 'RationalTime.1', value: 48, rate: 24 },
                },
              },
              {
                OTIO_SCHEMA: 'Transition.1',
                transition_type: 'Custom_Transition',
                in_offset: { value: 4, rate: 24 },
                out_offset: { value: 5, rate: 24 },
              },
              {
                OTIO_SCHEMA: 'Clip.2',
                name: 'Full ride',
                source_range: { start_time: { value: 1, rate: 25 } },
              },
            ],
          },
          {
            kind: 'Audio',
            children: [
              { OTIO_SCHEMA: 'Gap.1', source_range: { duration: { value: 12, rate: 24 } } },
              // A second into the file, to the end of the reel.
              { OTIO_SCHEMA: 'Clip.2', source_range: { start_time: { value: 24 }, duration: { value: 60 } } },
            ],
          },
        ],
      },
    });
  });

  it('is read as it was, but for the letters of its titles', () => {
    const item = fc.record({
      title: fc.boolean(),
      shot: fc.constantFrom(SHOT_A, SHOT_B),
      frames: fc.integer({ min: 4, max: 60 }),
      first: fc.integer({ min: -50, max: 200 }),
      join: fc.integer({ min: 0, max: 4 }),
      manner: fc.constantFrom('dissolve' as const, 'wipe' as const),
      from: fc.constantFrom('left' as const, 'right' as const, 'top' as const, 'bottom' as const),
      silent: fc.boolean(),
    });
    const rate = fc.constantFrom({ num: 24, den: 1 }, { num: 30000, den: 1001 }, { num: 25, den: 1 });
    fc.assert(
      fc.property(fc.array(item, { minLength: 1, maxLength: 6 }), rate, (list, rate) => {
        const reel = list.reduce<Reel>(
          (built, { title, shot, frames, first, join, manner, from, silent }) => {
            const one = title
              ? titleItem(frames, { ink: [0.5, 0.25, 1], size: 0.2 })
              : shotItem(frames, { shot, name: shots.get(shot)!.name, first, ...(silent ? { silent } : {}) });
            const put = putItem(built, one);
            return join === 0 ? put : setJoin(put, one.id, { manner, frames: join, from });
          },
          { ...reelOf(), rate },
        );
        const back = read(writeOtio(reel, 'Evening', shotOf));
        // Where nothing is cut in, the side of a wipe is nobody's.
        const sides = (of: Reel): Reel => ({
          ...of,
          items: of.items.map((each) =>
            each.join.manner === 'wipe' ? each : { ...each, join: { ...each.join, from: 'left' } },
          ),
        });
        expect(bare(sides(back.reel))).toEqual(bare(sides(reel)));
        expect(back.notes).toEqual([]);
      }),
      { numRuns: 100 },
    );
  });

  it('has its titles lettered anew', () => {
    const line = (text: string) => ({ text: { text, font: 'rye' }, outline: [] });
    const back = read(
      writeOtio(reelOf(titleItem(10, { lines: [line('HARBOUR'), line('FAIR')] })), 'T', shotOf),
    );
    expect(back.unlettered).toEqual([{ id: back.reel.items[0]!.id, text: 'HARBOUR\nFAIR', font: 'rye' }]);
  });
});

/** A timeline as another program may write it, by the published schemas. */
const timeline = (children: unknown[], more: object[] = []) => ({
  OTIO_SCHEMA: 'Timeline.1',
  name: 'Cut 3',
  tracks: {
    OTIO_SCHEMA: 'Stack.1',
    children: [{ OTIO_SCHEMA: 'Track.1', kind: 'Video', children }, ...more],
  },
});
const seconds = (value: number, rate: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const clip = (name: string, start: number, length: number, rate = 24, more: object = {}) => ({
  OTIO_SCHEMA: 'Clip.1',
  name,
  source_range: { start_time: seconds(start, rate), duration: seconds(length, rate) },
  media_reference: { OTIO_SCHEMA: 'MissingReference.1' },
  ...more,
});

describe('a timeline of another program', () => {
  it('finds shots by their names or those of their films, and says what is left out', () => {
    const found = read(
      timeline(
        [
          clip('HOOP RUN', 10, 24),
          {
            OTIO_SCHEMA: 'Transition.1',
            transition_type: 'SMPTE_Dissolve',
            in_offset: seconds(3, 24),
            out_offset: seconds(3, 24),
          },
          clip('v2', 5, 48, 24, {
            media_reference: {
              OTIO_SCHEMA: 'ExternalReference.1',
              target_url: 'file:///films/Full%20ride.mov',
            },
            effects: [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 2 }],
          }),
          { OTIO_SCHEMA: 'Gap.1', source_range: { start_time: seconds(0, 24), duration: seconds(12, 24) } },
          clip('Drone over the pier', 0, 30),
          {
            OTIO_SCHEMA: 'Stack.1',
            name: 'Nested',
            source_range: { start_time: seconds(0, 24), duration: seconds(6, 24) },
          },
        ],
        [{ OTIO_SCHEMA: 'Track.1', kind: 'Audio', children: [clip('Wind', 0, 100)] }],
      ),
    );
    expect(found.name).toBe('Cut 3');
    expect(
      found.reel.items.map(({ kind, frames, join }) => [kind, frames, join.manner, join.frames]),
    ).toEqual([
      ['shot', 24, 'cut', 0],
      ['shot', 48, 'dissolve', 6],
      ['title', 12, 'cut', 0],
      ['title', 30, 'cut', 0],
      ['title', 6, 'cut', 0],
    ]);
    expect(found.reel.items[0]).toMatchObject({ shot: SHOT_A, first: 10 });
    expect(found.unlettered.map(({ text }) => text)).toEqual(['Drone over the pier', 'Nested']);
    expect(found.notes).toHaveLength(4);
    expect(found.notes.join(' ')).toMatch(/effects.*Drone over the pier.*Nested.*Wind/);
  });

  it('with times of another rate is as long as it was', () => {
    const { reel } = read(timeline([clip('Hoop run', 100, 60, 60), clip('Hoop run', 0, 50, 25)]));
    expect(reel.rate).toEqual({ num: 60, den: 1 });
    expect(reel.items.map(({ frames }) => frames)).toEqual([60, 120]);
    // The hundredth sixtieth of a second is frame 40 of a shot of 24 frames a second.
    expect(reel.items[0]).toMatchObject({ first: 40 });
    expect(read(timeline([clip('Hoop run', 0, 10, 29.97002997)])).reel.rate).toEqual({
      num: 30000,
      den: 1001,
    });
  });

  it('that is none is refused with its place', () => {
    for (const [text, words] of [
      ['{', 'no JSON'],
      ['{}', 'OTIO_SCHEMA'],
      ['{"OTIO_SCHEMA":"Clip.2"}', 'is no Timeline'],
      [
        JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', tracks: { OTIO_SCHEMA: 'Stack.1' } }),
        'no track of pictures',
      ],
      [
        JSON.stringify(timeline([{ OTIO_SCHEMA: 'Clip.2', source_range: 5 }])),
        'tracks/children/0/children/0/source_range',
      ],
      [JSON.stringify(timeline([clip('Hoop run', 0, 1e6)])), 'frames'],
    ] as const)
      expect(() => read(text), text).toThrow(
        expect.toSatisfy((error: Error) => error instanceof TimelineRefused && error.message.includes(words)),
      );
  });
});
