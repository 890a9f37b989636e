import fc from 'fast-check';
import { expect, it } from 'vitest';
import { randomShot } from '../testing/random-shot';
import { parseShot, shotSchema } from './index';
import { surelySoundTracks } from './quick-track';

const oddity = fc.constantFrom<unknown>(
  null,
  undefined,
  NaN,
  Infinity,
  -1,
  1e9,
  'hold',
  'sine-in',
  '',
  [],
  [0, 0, 2],
  [0, 0.5, 1],
  {},
  { reach: -1, rise: 0 },
  { reach: 1, rise: 0, more: 1 },
  true,
);

it('never calls tracks sound that the schema refuses', () => {
  const tracks = shotSchema.shape.parts.valueType.shape.tracks;
  const count = { sound: 0, unsound: 0 };
  fc.assert(
    fc.property(
      randomShot,
      fc.nat(),
      fc.constantFrom(
        'frame',
        'value',
        'manner',
        'left',
        'handles',
        'piece',
        'extra',
        'before',
        'keys',
        'blend',
        'id',
      ),
      oddity,
      fc.boolean(),
      (shot, which, place, odd, change) => {
        const list = Object.values(shot.parts).flatMap((part) => Object.entries(part.tracks));
        if (list.length === 0) return;
        const [path, track] = list[which % list.length]!;
        const json = JSON.parse(JSON.stringify({ [path]: track })) as Record<string, Record<string, unknown>>;
        if (change) {
          const keys = json[path]!.keys as Record<string, Record<string, unknown>>;
          const first = Object.keys(keys)[0]!;
          if (['before', 'keys', 'blend'].includes(place)) json[path]![place] = odd;
          else if (place === 'id') keys['no id'] = keys[first]!;
          else keys[first]![place] = odd;
        }
        const accepted = tracks.safeParse(json).success;
        const quick = surelySoundTracks(json);
        count[quick ? 'sound' : 'unsound']++;
        if (quick) expect(accepted).toBe(true);
      },
    ),
    { numRuns: 2000 },
  );
  expect(count.sound).toBeGreaterThan(300);
  expect(count.unsound).toBeGreaterThan(300);
});

it('reads a document to the same as the schema alone', () => {
  fc.assert(
    fc.property(randomShot, (shot) => {
      const json: unknown = JSON.parse(JSON.stringify(shot));
      const parsed = parseShot(json);
      const plain = shotSchema.safeParse(json);
      if (parsed.ok) expect(parsed.shot).toEqual(plain.data);
      else expect(parsed.problems.length).toBeGreaterThan(0);
    }),
  );
});
