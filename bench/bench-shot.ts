import type { Key, Link, Part, Shot } from '../core/document';
import { blankShot } from '../core/document';
import { seeded } from '../core/testing/seeded';

export const PARTS = 1000;
export const KEYED = 3000;
export const LINKS = 600;
export const LINK_DEPTH = 12;
export const KEYS_PER_TRACK = 7;

const FREE_PATHS = ['location.x', 'location.y', 'rotation.z'] as const;

/**
 * The document of the speed targets: 1,000 parts in a tree, 15 place channels each, 3,000 of them keyed, 600 formulas
 * in chains of 12.
 */
export function benchShot(): Shot {
  const random = seeded(42);
  const parts: Record<string, Part> = {};
  for (let i = 0; i < PARTS; i++) {
    const tracks: Record<string, Part['tracks'][string]> = {};
    for (const path of FREE_PATHS) {
      const keys: Record<string, Key> = {};
      for (let k = 0; k < KEYS_PER_TRACK; k++) {
        const reach = 3 + random() * 4;
        keys[`key_${k}`] = {
          frame: k * 12 + Math.floor(random() * 5),
          value: (random() - 0.5) * 20,
          manner: 'curve',
          left: { reach, rise: (random() - 0.5) * 2 },
          right: { reach, rise: (random() - 0.5) * 2 },
        };
      }
      tracks[path] = { before: 'hold', after: 'hold', keys };
    }
    const links: Record<string, Link> = {};
    if (i < LINKS) {
      const before = i % LINK_DEPTH === 0 ? null : `P${i - 1}`;
      const source = before ? `${before}.scale.x` : `(P${PARTS - 1 - i}.location.x / 1m)`;
      const shapes = [
        `1 + 0.1 * sin(${source} * 40deg)`,
        `slider(${source} * 90deg, 0.2m, 0.9m) / 1m`,
        `clamp(${source} * 1.1, -5, 5) + 0.01`,
        `if(${source} > 0.5, ${source} * 0.9, ${source} + 0.3)`,
        `(${source} + 3) / (2 + ${source}^2)`,
      ];
      const refs = before ? { [before]: `prt_${i - 1}` } : { [`P${PARTS - 1 - i}`]: `prt_${PARTS - 1 - i}` };
      links['scale.x'] = { formula: shapes[i % shapes.length]!, refs };
    }
    parts[`prt_${i}`] = {
      kind: 'hub',
      name: `P${i}`,
      parent: i === 0 ? null : `prt_${Math.floor((i - 1) / 3)}`,
      order: i,
      rotationOrder: 'XYZ',
      shape: null,
      look: null,
      values: { 'location.z': random() * 4, 'rotation.x': random() * 90 },
      tracks,
      links,
    };
  }
  return { ...blankShot({ last: 84 }), parts };
}
