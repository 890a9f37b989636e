import type { PinKind, Shot } from '../document';
import { addPart, addPin, apply, keyChannels, setPinnedRole } from '../edit';
import { compile, Evaluator } from '../evaluate';
import { seeded } from './seeded';
import type { Situation } from './situations';

type Point = readonly [x: number, y: number];
type Bars = Record<string, { readonly from: Point; readonly to: Point }>;
type Joint = readonly [a: string, at: Point, b: string | null, on: Point, kind?: PinKind, line?: number];

/**
 * A shot with pinned bars under a frame: each is drawn from one point to another, its own x axis along it.
 * @param drives turns of bars at the first frame and at the last, or that they follow
 */
export function pinnedShot(
  base: Shot,
  bars: Bars,
  joints: readonly Joint[],
  drives: Record<string, readonly [number, number] | 'follows'> = {},
): { shot: Shot; idOf: ReadonlyMap<string, string> } {
  const random = seeded(11);
  const idOf = new Map<string, string>();
  let shot = base;
  const frame = addPart(shot, { kind: 'hub', name: 'Frame', parent: null }, random);
  shot = apply(shot, frame.change);
  for (const [name, { from, to }] of Object.entries(bars)) {
    const turn = (Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI;
    const values = { 'location.x': from[0], 'location.y': from[1], 'rotation.z': turn };
    const { change, id } = addPart(shot, { kind: 'hub', name, parent: frame.id, values }, random);
    idOf.set(name, id);
    shot = apply(shot, change);
  }
  const id = (name: string): string => idOf.get(name)!;
  for (const [a, at, b, on, kind = 'pin', line = 0] of joints) {
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(shot.setup.first);
    const spec = { kind, a: id(a), at, b: b === null ? null : id(b), on, line };
    shot = apply(shot, addPin(shot, evaluator, spec, random).change);
  }
  for (const [name, turns] of Object.entries(drives)) {
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(shot.setup.first);
    const role = turns === 'follows' ? turns : 'drives';
    shot = apply(shot, setPinnedRole(shot, evaluator, id(name), role));
    if (turns === 'follows') continue;
    const [from, to] = turns;
    const address = `${id(name)}/rotation.z`;
    for (const [at, value] of [
      [shot.setup.first, from],
      [shot.setup.last, to],
    ] as const)
      shot = apply(shot, keyChannels(shot, at, [[address, value]], random));
  }
  return { shot, idOf };
}

/** A shot in which a part is pinned to the ground at one of its points, and turned. */
function joinedAt(shot: Shot, part: string, at: Point, [from, to]: readonly [number, number]): Shot {
  const random = seeded(5);
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(shot.setup.first);
  const spec = { kind: 'pin' as const, a: part, at, b: null, on: [0.1, 0.2] as const };
  let joined = apply(shot, addPin(shot, evaluator, spec, random).change);
  for (const [frame, turn] of [
    [shot.setup.first, from],
    [shot.setup.last, to],
  ] as const)
    joined = apply(joined, keyChannels(joined, frame, [[`${part}/rotation.z`, turn]], random));
  return joined;
}

/** Bars and pins of a four-bar: crank, coupler, rocker and the distance of the pivots, drawn at an angle of the crank. */
export function fourBarOf(
  [a, b, c, d]: readonly [number, number, number, number],
  angle: number,
): { bars: Bars; joints: readonly Joint[] } {
  const turn = (angle * Math.PI) / 180;
  const A: Point = [a * Math.cos(turn), a * Math.sin(turn)];
  const q = Math.hypot(d - A[0], A[1]);
  const lean = Math.acos((b * b + q * q - c * c) / (2 * b * q)) + Math.atan2(-A[1], d - A[0]);
  const B: Point = [A[0] + b * Math.cos(lean), A[1] + b * Math.sin(lean)];
  return {
    bars: { Crank: { from: [0, 0], to: A }, Coupler: { from: A, to: B }, Rocker: { from: [d, 0], to: B } },
    joints: [
      ['Crank', [0, 0], null, [0, 0]],
      ['Coupler', [0, 0], 'Crank', [a, 0]],
      ['Rocker', [0, 0], null, [d, 0]],
      ['Coupler', [b, 0], 'Rocker', [c, 0]],
    ],
  };
}

/** Situations of pinned bars, judged by counting ways to move (Gruebler) and by the law of cosines. */
export function pinnedSituations(base: Shot): Situation[] {
  const four = (
    sizes: readonly [number, number, number, number],
    angle: number,
    turns: readonly [number, number] | null,
    leaveOut = 0,
  ): Shot => {
    const { bars, joints } = fourBarOf(sizes, angle);
    const some = joints.slice(0, joints.length - leaveOut);
    return pinnedShot(base, bars, some, turns ? { Crank: turns } : {}).shot;
  };
  const parallel: Bars = {
    Crank: { from: [0, 0], to: [0.1, 0.2] },
    Bar: { from: [0.1, 0.2], to: [1.1, 0.2] },
    Second: { from: [0.5, 0], to: [0.6, 0.2] },
    Third: { from: [1, 0], to: [1.1, 0.2] },
  };
  const arm = Math.hypot(0.1, 0.2);
  const joined: readonly Joint[] = [
    ['Crank', [0, 0], null, [0, 0]],
    ['Bar', [0, 0], 'Crank', [arm, 0]],
    ['Second', [0, 0], null, [0.5, 0]],
    ['Third', [0, 0], null, [1, 0]],
    ['Second', [arm, 0], 'Bar', [0.5, 0]],
  ];
  const five: Bars = {
    Left: { from: [0, 0], to: [0, 0.3] },
    Reach: { from: [0, 0.3], to: [0.3, 0.6] },
    Meet: { from: [0.3, 0.6], to: [0.6, 0.3] },
    Right: { from: [0.6, 0], to: [0.6, 0.3] },
  };
  const slant = 0.3 * Math.SQRT2;
  const fives: readonly Joint[] = [
    ['Left', [0, 0], null, [0, 0]],
    ['Reach', [0, 0], 'Left', [0.3, 0]],
    ['Meet', [0, 0], 'Reach', [slant, 0]],
    ['Right', [0, 0], null, [0.6, 0]],
    ['Right', [0.3, 0], 'Meet', [slant, 0]],
  ];
  const eyed = {
    ...base,
    shapes: {
      ...base.shapes,
      shp_bar: { kind: 'bar' as const, values: { length: 0.3 }, tracks: {}, links: {} },
    },
  };
  const { shot: hinged, idOf } = pinnedShot(eyed, { Crank: { from: [0, 0], to: [0.3, 0] } }, []);
  const withBar: Shot = {
    ...hinged,
    parts: {
      ...hinged.parts,
      [idOf.get('Crank')!]: {
        ...hinged.parts[idOf.get('Crank')!]!,
        kind: 'solid',
        shape: 'shp_bar',
        look: 'lok_a',
      },
    },
  };
  return [
    {
      name: 'a bar pinned at its eye and turned',
      why: 'the pin is linked to the length of the bar, which stays as it should',
      shot: joinedAt(withBar, idOf.get('Crank')!, [0.15, 0], [0, 90]),
      tells: [],
    },
    {
      name: 'a crank-rocker that is turned',
      why: '0.3 + 1 < 0.95 + 0.6: the crank turns all round (Grashof)',
      shot: four([0.3, 0.95, 0.6, 1], 10, [0, 720]),
      tells: [],
    },
    {
      name: 'a four-bar whose last pin is missing',
      why: 'two bars hang from one pin: one way to move is left',
      shot: four([0.3, 0.95, 0.6, 1], 10, [0, 360], 1),
      tells: ['pin.loose', 'pin.still'],
    },
    {
      name: 'a four-bar whose coupler is turned out of the plane',
      why: 'a turn about x takes its far end off the plane',
      shot: (() => {
        const shot = four([0.3, 0.95, 0.6, 1], 10, [0, 360]);
        const [id, part] = Object.entries(shot.parts).find(([, { name }]) => name === 'Coupler')!;
        const values = { ...part.values, 'rotation.x': 30 };
        return { ...shot, parts: { ...shot.parts, [id]: { ...part, values } } };
      })(),
      tells: ['pin.tilted'],
    },
    {
      name: 'a rocker driven past its reach',
      why: '70, 60, 80, 120 reach up to 91.02 degrees',
      shot: four([0.7, 0.6, 0.8, 1.2], 10, [0, 120]),
      tells: ['pin.out-of-reach'],
    },
    {
      name: 'a rocker driven almost to the end of its reach',
      why: '70, 60, 80, 120 reach up to 91.02 degrees',
      shot: four([0.7, 0.6, 0.8, 1.2], 10, [0, 91]),
      tells: [],
    },
    {
      name: 'a four-bar that nothing turns',
      why: 'its driver has neither keys nor a link',
      shot: four([0.3, 0.95, 0.6, 1], 10, null),
      tells: ['pin.still'],
    },
    {
      name: 'a bar between a turned crank and the frame',
      why: 'four conditions for three ways to move',
      shot: pinnedShot(
        base,
        { Crank: { from: [0, 0], to: [0.3, 0] }, Bar: { from: [0.3, 0], to: [1, 0] } },
        [
          ['Crank', [0, 0], null, [0, 0]],
          ['Bar', [0, 0], 'Crank', [0.3, 0]],
          ['Bar', [0.7, 0], null, [1, 0]],
        ],
        { Crank: [0, 90] },
      ).shot,
      tells: ['pin.fight'],
    },
    {
      name: 'a bar on three equal parallel cranks',
      why: 'one pin too many by count, but special lengths: it moves all the same',
      shot: pinnedShot(base, parallel, [...joined, ['Third', [arm, 0], 'Bar', [1, 0]]], { Crank: [63, 120] })
        .shot,
      tells: [],
    },
    {
      name: 'a bar on three parallel cranks, one of them longer',
      why: 'the third crank cannot follow',
      shot: pinnedShot(base, parallel, [...joined, ['Third', [arm * 1.2, 0], 'Bar', [1, 0]]], {
        Crank: [63, 120],
      }).shot,
      tells: ['pin.fight'],
    },
    {
      name: 'a five-bar with one driver',
      why: '3 x 4 ways to move less 2 x 5 conditions are 2',
      shot: pinnedShot(base, five, fives, { Left: [90, 110], Right: 'follows' }).shot,
      tells: ['pin.loose'],
    },
    {
      name: 'a five-bar with two drivers',
      why: 'each way to move is driven',
      shot: pinnedShot(base, five, fives, { Left: [90, 110], Right: [90, 70] }).shot,
      tells: [],
    },
  ];
}
