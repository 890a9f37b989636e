import fc from 'fast-check';
import {
  BLENDS,
  blankShot,
  CLIP_PLAYS,
  EXTENDS,
  HANDLE_KINDS,
  MANNERS,
  PIN_KINDS,
  REPEAT_PATTERNS,
  type Clip,
  type Key,
  type Link,
  type Part,
  type Pin,
  type PinKind,
  type Placement,
  type Shape,
  type Shot,
  type Track,
} from '../document';
import type { LoudnessTables } from '../evaluate';
import { AIM_AXES, ROTATION_ORDERS } from '../transform';
import { randomColourFormula, SKY, SKY_PATHS } from './random-colour';
import { finished, randomFormula } from './random-formula';

/** An empty shot of 48 frames at 24 per second, for tests. */
export function emptyShot(): Shot {
  return blankShot({ width: 640, height: 360, last: 48 });
}

/** A shape with nothing but what was set. */
export function shape(kind: Shape['kind'], values: Shape['values'] = {}): Shape {
  return { kind, values, tracks: {}, links: {} };
}

/** A thing of a shape, with the look `lok_a`. */
export function solid(name: string, shapeId: string, more: Partial<Part> = {}): Part {
  return { ...hub(name, more), kind: 'solid', shape: shapeId, look: 'lok_a' };
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

const seldom = <T>(value: fc.Arbitrary<T>): fc.Arbitrary<T | undefined> =>
  fc.oneof({ weight: 5, arbitrary: fc.constant(undefined) }, { weight: 1, arbitrary: value });

const number = fc.double({ min: -500, max: 500, noNaN: true });
const frame = fc.oneof(fc.integer({ min: -20, max: 80 }), fc.double({ min: -20, max: 80, noNaN: true }));
const handle = fc.option(
  fc.record({
    reach: fc.double({ min: 0, max: 30, noNaN: true }),
    rise: fc.double({ min: -50, max: 50, noNaN: true }),
  }),
  { nil: undefined },
);
const piece = seldom(
  fc.record({
    from: fc.double({ min: 0, max: 0.5, noNaN: true }),
    to: fc.double({ min: 0.5, max: 1, noNaN: true }),
    gain: number,
  }),
);
const key: fc.Arbitrary<Key> = fc
  .record({
    frame,
    value: number,
    manner: fc.constantFrom('hold', 'linear', 'curve', 'curve', 'curve', ...MANNERS),
    left: handle,
    right: handle,
    handles: fc.option(fc.constantFrom(...HANDLE_KINDS), { nil: undefined }),
    piece,
  })
  .map((entry) => (entry.manner.includes('-') ? entry : { ...entry, piece: undefined }));
const colourKey: fc.Arbitrary<Key> = fc.record({
  frame,
  value: fc.tuple(
    ...([0, 1, 2].map(() => fc.double({ min: 0, max: 1, noNaN: true })) as [
      fc.Arbitrary<number>,
      fc.Arbitrary<number>,
      fc.Arbitrary<number>,
    ]),
  ),
  manner: fc.constantFrom('hold', 'linear', 'curve', 'sine-in-out'),
});
const tracksOf = (keys: fc.Arbitrary<Key>): fc.Arbitrary<Track> =>
  fc.record({
    before: fc.constantFrom(...EXTENDS),
    after: fc.constantFrom(...EXTENDS),
    keys: fc
      .array(keys, { minLength: 1, maxLength: 6 })
      .map((list) => Object.fromEntries(list.map((entry, i) => [`key_${i}`, entry]))),
  });
export const randomTrack = tracksOf(key);
const track = randomTrack;
export const randomColourTrack = fc
  .tuple(tracksOf(colourKey), fc.constantFrom(...BLENDS))
  .map(([entry, blend]): Track => ({ ...entry, blend }));

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

const COPY_PATHS = [
  'copy.location.x',
  'copy.rotation.z',
  'copy.scale.y',
  'copy.opacity',
  'copy.glow',
  'copy.red',
] as const;

/** A loudness table for the sound that random shots have: two seconds, three bands. */
export const randomLoudness: LoudnessTables = {
  snd_o: {
    rate: 10,
    edges: [20, 200, 2000, 20000],
    power: Float32Array.from({ length: 60 }, (_, i) => ((i * 37) % 50) / 100),
  },
};

function unitOf(path: string): '' | '1m' | '1deg' {
  if (/scale|opacity|glow|red|copies|along/.test(path)) return '';
  return path.includes('rotation') ? '1deg' : '1m';
}

/**
 * Random shots of up to six parts: hubs, repeats (one inside another), parts that face others or follow a path, with
 * keys, clips, links (also broken ones and loops) and every rotation order; one look with a keyed colour, and now and then
 * a backdrop whose colours are linked.
 */
export const randomShot: fc.Arbitrary<Shot> = fc.integer({ min: 1, max: 6 }).chain((count) => {
  const other = fc.integer({ min: 0, max: count - 1 }).map((i) => `prt_${i}`);
  const part = fc.record({
    kind: fc.constantFrom('hub', 'hub', 'repeat'),
    values: fc.dictionary(fc.constantFrom(...PATHS), number, { maxKeys: 5 }),
    tracks: fc.dictionary(fc.constantFrom(...PATHS), track, { maxKeys: 3 }),
    formulas: fc.dictionary(fc.constantFrom(...PATHS), randomFormula(count), { maxKeys: 2 }),
    copyFormulas: fc.dictionary(
      fc.constantFrom(...COPY_PATHS),
      fc
        .tuple(
          randomFormula(count),
          fc.constantFrom('index', 'count', 'index / count', '1 / (index - 1)', 'outer', 'index * 2 + outer'),
        )
        .map(([text, index]) => `${text} + ${index}`),
      { maxKeys: 2 },
    ),
    copies: fc.integer({ min: 1, max: 3 }),
    pattern: fc.constantFrom(...REPEAT_PATTERNS),
    step: fc.option(other, { nil: null }),
    rotationOrder: fc.constantFrom(...ROTATION_ORDERS),
    parent: fc.integer({ min: -1, max: count }),
    aim: seldom(
      fc
        .record({ target: other, axis: fc.constantFrom(...AIM_AXES), up: fc.constantFrom(...AIM_AXES) })
        .filter(({ axis, up }) => axis.at(-1) !== up.at(-1)),
    ),
    follow: seldom(fc.record({ path: other, closed: fc.boolean(), turn: fc.boolean() })),
    along: fc.double({ min: -2, max: 3, noNaN: true }),
  });
  const showing = fc.record({
    part: fc.integer({ min: 0, max: count - 1 }),
    tracks: fc.dictionary(fc.constantFrom(...PATHS), track, { minKeys: 1, maxKeys: 2 }),
    start: fc.integer({ min: -5, max: 30 }),
    length: fc.integer({ min: 0, max: 20 }),
    speed: fc.constantFrom(0.5, 1, 1.7, 3),
    plays: fc.constantFrom(...CLIP_PLAYS),
    lasting: fc.option(fc.integer({ min: 0, max: 60 }), { nil: null }),
    more: fc.record(
      {
        from: fc.integer({ min: 0, max: 8 }),
        backwards: fc.constant(true as const),
        mirrored: fc.constant(true as const),
        off: fc.constant(true as const),
        blendIn: fc.integer({ min: 0, max: 12 }),
        blendOut: fc.integer({ min: 0, max: 12 }),
      },
      { requiredKeys: [] },
    ),
    onto: seldom(fc.integer({ min: 0, max: count - 1 })),
  });
  const way = fc.integer({ min: -300, max: 300 });
  const pose = fc.tuple(way, way, fc.integer({ min: -180, max: 180 }));
  const pin = fc.record({
    kind: fc.constantFrom(...PIN_KINDS),
    a: fc.integer({ min: 0, max: count - 1 }),
    b: fc.integer({ min: -1, max: count - 1 }),
    found: fc.constantFrom('place', 'all'),
    drawn: fc.tuple(pose, pose),
    points: fc.tuple(way, way, way, way),
    line: fc.integer({ min: -180, max: 180 }),
  });
  const pins = fc.oneof(
    { weight: 12, arbitrary: fc.constant(undefined) },
    { weight: 1, arbitrary: fc.array(pin, { minLength: 1, maxLength: 3 }) },
  );
  const entries = fc.array(part, { minLength: count, maxLength: count });
  return fc
    .tuple(
      entries,
      fc.array(showing, { maxLength: 2 }),
      fc.option(randomColourTrack, { nil: null }),
      pins,
      fc.option(tints(count), { nil: null, freq: 2 }),
    )
    .map(([list, showings, tint, joined, sky]) => {
      const shot = pinned(assemble(list, showings, tint), joined ?? []);
      return sky ? tinted(shot, sky) : shot;
    });
});

interface Tints {
  readonly look: string | null;
  readonly sky: Readonly<Record<string, string>>;
  readonly tracks: Readonly<Record<string, Track>>;
}

/** Formulas and keys of the colours of a look and a backdrop. */
const tints = (count: number): fc.Arbitrary<Tints> =>
  fc.record({
    look: fc.option(randomColourFormula(count), { nil: null }),
    sky: fc.dictionary(fc.constantFrom(...SKY_PATHS), randomColourFormula(count), { minKeys: 1, maxKeys: 2 }),
    tracks: fc.dictionary(fc.constantFrom(...SKY_PATHS), randomColourTrack, { maxKeys: 2 }),
  });

/** Links the colour of the look, and adds a backdrop whose colours are linked and keyed. */
function tinted(shot: Shot, { look, sky, tracks }: Tints): Shot {
  const ids = [
    ...Object.entries(shot.parts).map(([id, { name }]) => [name, id] as const),
    [SKY, 'prt_sky'] as const,
  ];
  const linkTo = (formula: string): Link => ({
    formula,
    refs: Object.fromEntries([
      ...ids.filter(([name]) => new RegExp(`\\b${name}\\b`).test(formula)),
      ['dial.gust', 'dia_g'],
      ['sound.organ', 'snd_o'],
    ]),
  });
  const links = Object.fromEntries(Object.entries(sky).map(([path, text]) => [path, linkTo(text)]));
  const { lok_a } = shot.looks;
  return {
    ...shot,
    parts: { ...shot.parts, prt_sky: hub(SKY, { kind: 'backdrop', order: 99, tracks, links }) },
    looks: { lok_a: { ...lok_a!, links: look === null ? {} : { colour: linkTo(look) } } },
  };
}

interface RandomPart {
  readonly kind: string;
  readonly values: Part['values'];
  readonly tracks: Part['tracks'];
  readonly formulas: Record<string, string>;
  readonly copyFormulas: Record<string, string>;
  readonly copies: number;
  readonly pattern: (typeof REPEAT_PATTERNS)[number];
  readonly step: string | null;
  readonly rotationOrder: Part['rotationOrder'];
  readonly parent: number;
  readonly aim: Part['aim'];
  readonly follow: Part['follow'];
  readonly along: number;
}

interface RandomPin {
  readonly kind: PinKind;
  readonly a: number;
  readonly b: number;
  readonly found: string;
  readonly drawn: readonly [Pin['drawn']['a'], Pin['drawn']['b']];
  readonly points: readonly [number, number, number, number];
  readonly line: number;
}

/** Joins parts of a shot by pins, each given to the first of two; what is pinned hangs from nothing else. */
function pinned(shot: Shot, list: readonly RandomPin[]): Shot {
  const parts: Record<string, Part> = { ...shot.parts };
  const pins: Record<string, Pin> = {};
  const link: Link = { formula: 'pinned', refs: {} };
  list.forEach(({ kind, a, b, found, drawn, points, line }, i) => {
    if (a === b) return;
    const [first, second] = [`prt_${a}`, b < 0 ? null : `prt_${b}`];
    for (const id of [first, second]) {
      if (id === null) continue;
      const { aim: _aim, follow: _follow, ...part } = parts[id]!;
      const { along: _along, ...values } = part.values;
      parts[id] = { ...part, parent: null, values };
    }
    const links: Part['links'] = {
      ...parts[first]!.links,
      'location.x': link,
      'location.y': link,
      ...(found === 'all' ? { 'rotation.z': link } : {}),
    };
    parts[first] = { ...parts[first]!, links };
    const [x, y, onX, onY] = points;
    pins[`pin_${i}`] = {
      kind,
      a: first,
      b: second,
      drawn: { a: drawn[0], b: second === null ? [0, 0, 0] : drawn[1] },
      values: {
        'at.x': x,
        'at.y': y,
        'on.x': onX,
        'on.y': onY,
        ...(kind === 'pin' ? {} : { line }),
        ...(kind === 'slide' ? { turn: line / 2 } : {}),
      },
      tracks: {},
      links: {},
    };
  });
  // What is pinned is meant to touch; it is said so, too, so that parts that go take what is said of them along.
  const contacts = Object.fromEntries(
    Object.entries(pins).map(([id, { a, b }]) => [
      id.replace('pin_', 'con_'),
      { a, b: b ?? a, why: 'pinned' },
    ]),
  );
  return { ...shot, parts, pins, contacts };
}

interface RandomShowing {
  readonly part: number;
  readonly tracks: Record<string, Track>;
  readonly start: number;
  readonly length: number;
  readonly speed: number;
  readonly plays: Placement['plays'];
  readonly lasting: number | null;
  readonly more: Partial<Placement>;
  readonly onto: number | undefined;
}

function assemble(list: readonly RandomPart[], showings: readonly RandomShowing[], tint: Track | null): Shot {
  const names = list.map((_, i) => String.fromCharCode(65 + i));
  const parts: Record<string, Part> = {};
  list.forEach((entry, i) => {
    const repeat = entry.kind === 'repeat';
    const links: Record<string, Link> = {};
    for (const [path, text] of Object.entries({ ...entry.formulas, ...(repeat ? entry.copyFormulas : {}) })) {
      const refs = Object.fromEntries(
        names.flatMap((name, k) => (new RegExp(`\\b${name}\\b`).test(text) ? [[name, `prt_${k}`]] : [])),
      );
      links[path] = {
        formula: finished(text, unitOf(path)),
        refs: { ...refs, 'dial.gust': 'dia_g', 'sound.organ': 'snd_o' },
      };
    }
    const follow = entry.follow;
    parts[`prt_${i}`] = {
      ...hub(names[i]!, {
        kind: repeat ? 'repeat' : 'hub',
        parent: entry.parent >= 0 && entry.parent < i ? `prt_${entry.parent}` : null,
        order: i,
        rotationOrder: entry.rotationOrder,
        values: {
          ...entry.values,
          ...(repeat ? { copies: entry.copies } : {}),
          ...(follow ? { along: entry.along } : {}),
        },
        tracks: entry.tracks,
        links,
      }),
      ...(repeat ? { repeat: { pattern: entry.pattern, step: entry.step } } : {}),
      ...(entry.aim ? { aim: entry.aim } : {}),
      ...(follow ? { follow } : {}),
    };
  });
  const clips: Record<string, Clip> = {};
  const placements: Record<string, Placement> = {};
  showings.forEach(({ part, tracks, length, lasting, more, onto, ...showing }, i) => {
    clips[`clp_${i}`] = {
      name: `Clip ${i}`,
      root: `prt_${part}`,
      first: 3,
      last: 3 + length,
      tracks: Object.fromEntries(
        Object.entries(tracks).map(([path, entry]) => [`prt_${part}/${path}`, entry]),
      ),
    };
    placements[`plc_${i}`] = {
      clip: `clp_${i}`,
      order: i % 2,
      until: lasting === null ? null : showing.start + lasting,
      ...showing,
      ...more,
      ...(more.from === undefined ? {} : { to: Math.max(more.from, 3 + length) }),
      ...(onto === undefined ? {} : { onto: { [`prt_${part}`]: `prt_${onto}` } }),
    };
  });
  return {
    ...emptyShot(),
    parts,
    looks: {
      lok_a: {
        name: 'Paint',
        values: { colour: [0.2, 0.4, 0.6] },
        tracks: tint ? { colour: tint } : {},
        links: {},
      },
    },
    dials: {
      dia_g: {
        name: 'gust',
        quantity: 'none',
        min: -8,
        max: 8,
        values: { value: 1.25 },
        tracks: {},
        links: {},
      },
    },
    sounds: { snd_o: { name: 'organ', start: 1, values: {}, tracks: {}, links: {} } },
    clips,
    placements,
  };
}
