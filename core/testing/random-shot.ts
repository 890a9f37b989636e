import fc from 'fast-check';
import {
  DOCUMENT_VERSION,
  EXTENDS,
  MANNERS,
  type Key,
  type Link,
  type Part,
  type Shot,
  type Track,
} from '../document';
import { ROTATION_ORDERS } from '../transform';

/** An empty shot of 48 frames at 24 per second, for tests. */
export function emptyShot(): Shot {
  return {
    format: 'whirl-shot',
    version: DOCUMENT_VERSION,
    setup: {
      width: 640,
      height: 360,
      rate: { num: 24, den: 1 },
      first: 1,
      last: 48,
      unit: 'm',
      background: [0.5, 0.5, 0.5],
      exposure: 1,
      camera: null,
    },
    parts: {},
    shapes: {},
    looks: {},
    dials: {},
  };
}

/** A hub with the given values, tracks and links. */
export function hub(name: string, more: Partial<Part> = {}): Part {
  return {
    kind: 'hub',
    name,
    parent: null,
    order: 0,
    rotationOrder: 'XYZ',
    shape: null,
    look: null,
    values: {},
    tracks: {},
    links: {},
    ...more,
  };
}

const number = fc.double({ min: -500, max: 500, noNaN: true });
const frame = fc.oneof(fc.integer({ min: -20, max: 80 }), fc.double({ min: -20, max: 80, noNaN: true }));
const handle = fc.option(
  fc.record({
    reach: fc.double({ min: 0, max: 30, noNaN: true }),
    rise: fc.double({ min: -50, max: 50, noNaN: true }),
  }),
  { nil: undefined },
);
const key: fc.Arbitrary<Key> = fc.record({
  frame,
  value: number,
  manner: fc.constantFrom(...MANNERS),
  left: handle,
  right: handle,
});
const track: fc.Arbitrary<Track> = fc.record({
  before: fc.constantFrom(...EXTENDS),
  after: fc.constantFrom(...EXTENDS),
  keys: fc
    .array(key, { minLength: 1, maxLength: 6 })
    .map((keys) => Object.fromEntries(keys.map((entry, i) => [`key_${i}`, entry]))),
});

const PATHS = [
  'location.x',
  'location.y',
  'location.z',
  'rotation.x',
  'rotation.y',
  'rotation.z',
  'scale.x',
  'scale.y',
  'pivot.x',
] as const;

/** Formulas over the channels of `count` hubs named A, B, C, ...; some have mistakes, some divide by zero. */
function formula(count: number): fc.Arbitrary<string> {
  const name = fc.integer({ min: 0, max: count }).map((i) => String.fromCharCode(65 + i));
  const leaf = fc.oneof(
    fc.constantFrom('1', '2.5', '0', 'own', 'frame', 'time / 1s', 'progress', '90deg / 1deg', 'pi'),
    fc
      .tuple(name, fc.constantFrom(...PATHS))
      .map(([part, path]) =>
        path.startsWith('scale')
          ? `${part}.${path}`
          : path.startsWith('rotation')
            ? `${part}.${path} / 1deg`
            : `${part}.${path} / 1m`,
      ),
  );
  const { text } = fc.letrec<{ text: string }>((tie) => ({
    text: fc.oneof(
      { maxDepth: 3 },
      leaf,
      fc
        .tuple(tie('text'), fc.constantFrom('+', '-', '*', '/', '%', '<', '>=', 'and'), tie('text'))
        .map(([a, op, b]) => `(${a}) ${op} (${b})`),
      fc
        .tuple(
          fc.constantFrom('sin', 'cos', 'abs', 'floor', 'sqrt', 'wave', 'tri', 'exp', 'log'),
          tie('text'),
        )
        .map(([f, a]) => `${f}(${a})`),
      fc.tuple(tie('text'), tie('text'), tie('text')).map(([a, b, c]) => `if(${a}, ${b}, ${c})`),
      fc.tuple(tie('text'), tie('text'), tie('text')).map(([a, b, c]) => `clamp(${a}, ${b}, ${c})`),
      tie('text').map((a) => `slider(${a.includes('own') ? '30deg' : '45deg'}, 1m, 3m, 0.5m) / 1m + (${a})`),
    ),
  }));
  return text;
}

/** Random shots of up to six hubs with keys, links (also broken ones and loops), parents, and every rotation order. */
export const randomShot: fc.Arbitrary<Shot> = fc.integer({ min: 1, max: 6 }).chain((count) => {
  const part = fc.record({
    values: fc.dictionary(fc.constantFrom(...PATHS), number, { maxKeys: 5 }),
    tracks: fc.dictionary(fc.constantFrom(...PATHS), track, { maxKeys: 3 }),
    formulas: fc.dictionary(fc.constantFrom(...PATHS), formula(count), { maxKeys: 2 }),
    rotationOrder: fc.constantFrom(...ROTATION_ORDERS),
    parent: fc.integer({ min: -1, max: count }),
  });
  return fc.array(part, { minLength: count, maxLength: count }).map((entries) => {
    const parts: Record<string, Part> = {};
    const refs: Record<string, string> = {};
    entries.forEach((_, i) => (refs[String.fromCharCode(65 + i)] = `prt_${i}`));
    entries.forEach((entry, i) => {
      const links: Record<string, Link> = {};
      for (const [path, text] of Object.entries(entry.formulas)) {
        const unit = path.startsWith('scale') ? '' : path.startsWith('rotation') ? ' * 1deg' : ' * 1m';
        const used = Object.entries(refs).filter(([name]) => text.includes(`${name}.`));
        links[path] = {
          formula: text.includes('own')
            ? text
                .replaceAll('own', unit ? `(own${unit.replace('*', '/')})` : 'own')
                .replace(/^(.*)$/, `($1)${unit}`)
            : `(${text})${unit}`,
          refs: Object.fromEntries(used),
        };
      }
      const parent = entry.parent >= 0 && entry.parent < i ? `prt_${entry.parent}` : null;
      parts[`prt_${i}`] = hub(String.fromCharCode(65 + i), {
        parent,
        order: i,
        rotationOrder: entry.rotationOrder,
        values: entry.values,
        tracks: entry.tracks,
        links,
      });
    });
    return { ...emptyShot(), parts };
  });
});
