import { blankShot, parseShot, type Key, type Shot } from '../core/document';

const PARTS = 100;
const KEYS = 100;
const MANNERS: readonly Key['manner'][] = ['curve', 'curve', 'curve', 'linear', 'sine-in-out', 'hold'];

/** 200 curves of 100 keys each: places and turns of hubs, in several ways to move. */
export function curvesShot(): Shot {
  const blank = blankShot({ last: KEYS * 6 });
  const track = (seed: number, scale: number) => ({
    before: 'hold' as const,
    after: 'repeat' as const,
    keys: Object.fromEntries(
      Array.from({ length: KEYS }, (_, i) => [
        `key_${i}`,
        {
          frame: 1 + i * 6 + ((seed + i) % 3),
          value: scale * Math.sin(seed + i * 0.7) + scale * 0.4 * Math.sin(i * 2.3 + seed * 3),
          manner: MANNERS[(seed + i) % MANNERS.length]!,
        },
      ]),
    ),
  });
  const parts = Object.fromEntries(
    Array.from({ length: PARTS }, (_, p) => [
      `prt_c${p}`,
      {
        kind: 'hub',
        name: `Hub ${p}`,
        parent: null,
        order: p,
        rotationOrder: 'XYZ',
        shape: null,
        look: null,
        values: {},
        links: {},
        tracks: { 'location.x': track(p, 2), 'rotation.z': track(p + 31, 60) },
      },
    ]),
  );
  const parsed = parseShot(JSON.parse(JSON.stringify({ ...blank, parts: { ...blank.parts, ...parts } })));
  if (!parsed.ok) throw new Error(parsed.problems[0]!.message);
  return parsed.shot;
}
