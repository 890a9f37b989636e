import type { PinKind, Shot } from '../core/document';
import { addPin, apply } from '../core/edit';
import { compile, Evaluator } from '../core/evaluate';
import { circlesMeet } from '../core/mechanism';
import { lookingAt, ShotBuilder } from './shot-builder';

type Point = readonly [x: number, y: number];

const LAST = 145;
/** Turns of the cranks in the shot. */
const TURNS = 3;
/**
 * Lengths of a walking leg of eight bars, in centimetres. From memory: Jansen, "The Great Pretender"; the foot that they give
 * goes level for half of each turn.
 */
const LEG = {
  side: 38,
  down: 7.8,
  crank: 15,
  upper: 41.5,
  lower: 39.3,
  shoulder: 40.1,
  shoulderBar: 55.8,
  link: 39.4,
  knee: 36.7,
  shin: 65.7,
  foot: 49,
  toUpper: 50,
  toLower: 61.9,
} as const;
/** Way of a foot along the ground per turn, were it on the ground all the time: 64.966 cm in 52.1 % of a turn. */
const STRIDE = 64.966 / 0.521;
/** How far the feet reach down from the cranks. */
const HEIGHT = 91.83;

const metres = ([x, y]: Point): [number, number] => [x / 100, y / 100];

function meet(a: Point, ra: number, b: Point, rb: number, side: number): Point {
  const { x, y } = circlesMeet(a[0], a[1], ra, b[0], b[1], rb, side);
  return [x, y];
}

/** A point in the measure of a bar from `from` towards `to`: along it, and to its left. */
function seenFrom(from: Point, to: Point, point: Point): Point {
  const d = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const [ux, uy] = [(to[0] - from[0]) / d, (to[1] - from[1]) / d];
  const [x, y] = [point[0] - from[0], point[1] - from[1]];
  return [x * ux + y * uy, y * ux - x * uy];
}

type Joint = readonly [kind: PinKind, a: string, at: Point, b: string | null, on: Point];

/** What the crab and the quay are painted with. */
function paints(b: ShotBuilder) {
  const shell = b.look('Shell', '#c2452d', { roughness: 0.45 });
  const belly = b.look('Belly', '#e0a273', { roughness: 0.6 });
  const bars = [
    b.look('Near bars', '#d9822b', { roughness: 0.5 }),
    b.look('Far bars', '#8e5a2a', { roughness: 0.6 }),
  ];
  const brass = b.look('Brass', '#c8993c', { metallic: 0.8, roughness: 0.35 });
  const white = b.look('Eye white', '#f3ecdc', { roughness: 0.4 });
  const black = b.look('Pupil', '#1d2430', { roughness: 0.4 });
  const stone = b.look('Quay', '#8b8378', { roughness: 0.95 });
  const plank = b.look('Planks', '#6d4a2e', { roughness: 0.8 });
  return { shell, belly, bars, brass, white, black, stone, plank };
}

type Looks = ReturnType<typeof paints>;

function quay(b: ShotBuilder, { stone, plank }: Looks): void {
  b.solid('Quay', b.shape('box', { width: 12, height: 0.2, depth: 5 }), stone, { at: [0, -0.1, 0] });
  b.solid('Rail', b.shape('box', { width: 12, height: 0.12, depth: 0.1 }), plank, { at: [0, 0.9, -1.9] });
  for (let i = 0; i < 6; i++)
    b.solid(`Post ${i + 1}`, b.shape('cylinder', { radius: 0.07, height: 0.95 }), plank, {
      at: [-4 + 1.6 * i, 0.45, -1.9],
    });
}

/** Shell, eyes and claws. @returns the crab, which all of it hangs on */
function bodyOf(b: ShotBuilder, { shell, belly, white, black }: Looks): string {
  const crab = b.hub('Crab', { at: [0, HEIGHT / 100, 0] });
  b.solid('Shell', b.shape('ball', { radius: 0.5 }), shell, {
    parent: crab,
    at: [0, 0.22, 0],
    scale: [1.25, 0.55, 1.1],
  });
  b.solid('Belly', b.shape('ball', { radius: 0.5 }), belly, {
    parent: crab,
    at: [0, 0.12, 0],
    scale: [1.05, 0.42, 0.95],
  });
  const stalk = b.shape('cylinder', { radius: 0.035, height: 0.3 });
  const eyeBall = b.shape('ball', { radius: 0.09 });
  const pupil = b.shape('ball', { radius: 0.045 });
  for (const side of [-1, 1]) {
    const name = side < 0 ? 'Left' : 'Right';
    b.solid(`${name} stalk`, stalk, shell, {
      parent: crab,
      at: [side * 0.2, 0.55, 0.3],
      turn: [12, 0, -side * 8],
    });
    b.solid(`${name} eye`, eyeBall, white, { parent: crab, at: [side * 0.22, 0.74, 0.34] });
    b.solid(`${name} pupil`, pupil, black, { parent: crab, at: [side * 0.225, 0.75, 0.41] });
    const arm = b.hub(`${name} claw`, { parent: crab, at: [side * 0.5, 0.25, 0.45] });
    b.solid(`${name} arm`, b.shape('capsule', { radius: 0.06, height: 0.4 }), shell, {
      parent: arm,
      at: [side * 0.12, 0.08, 0.12],
      turn: [50, 0, -side * 55],
    });
    b.solid(`${name} pincer`, b.shape('ball', { radius: 0.17 }), shell, {
      parent: arm,
      at: [side * 0.28, 0.22, 0.28],
      scale: [0.8, 1.1, 0.5],
    });
    b.solid(`${name} finger`, b.shape('cone', { radius: 0.09, height: 0.26 }), belly, {
      parent: arm,
      at: [side * 0.3, 0.42, 0.28],
      turn: [0, 0, -side * 18],
    });
  }
  return crab;
}

/** Makes the bars of a row, which hang on its frame. */
function barsOf(b: ShotBuilder, frame: string, { look, brass }: { look: string; brass: string }) {
  const beam = (parent: string, name: string, from: Point, to: Point): void => {
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    b.solid(`${name} beam`, b.shape('box', { width: length / 100, height: 0.035, depth: 0.022 }), look, {
      parent,
      at: [(from[0] + to[0]) / 200, (from[1] + to[1]) / 200, 0],
      turn: [0, 0, (Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI],
    });
    b.solid(`${name} eye`, b.shape('cylinder', { radius: 0.032, height: 0.05 }), brass, {
      parent,
      at: [to[0] / 100, to[1] / 100, 0],
      rest: [90, 0, 0],
    });
  };
  const bar = (name: string, from: Point, to: Point, depth: number): string => {
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    const turn = (Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI;
    const id = b.hub(name, {
      parent: frame,
      at: [from[0] / 100, from[1] / 100, depth],
      turn: [0, 0, turn],
    });
    beam(id, name, [0, 0], [length, 0]);
    return id;
  };
  return { bar, beam };
}

/** One leg of a row, from the pin of its crank to the ground. @returns what is pinned to what */
function legOf(
  { bar, beam }: ReturnType<typeof barsOf>,
  { row, crank, pin, side }: { row: number; crank: string; pin: Point; side: number },
): readonly Joint[] {
  const name = (part: string): string => `${side < 0 ? 'Left' : 'Right'} ${part} ${row + 1}`;
  const X: Point = [side * LEG.side, -LEG.down];
  // On the right the leg is the other one in a mirror: circles meet on the other side.
  const U = meet(X, LEG.upper, pin, LEG.toUpper, -side);
  const L = meet(X, LEG.lower, pin, LEG.toLower, side);
  const V = meet(X, LEG.shoulder, U, LEG.shoulderBar, -side);
  const W = meet(V, LEG.link, L, LEG.knee, side);
  const foot = meet(W, LEG.shin, L, LEG.foot, side);
  const near = 0.03 * side;
  const toUpper = bar(name('rod'), pin, U, near);
  const upper = bar(name('shoulder'), X, U, near + 0.03);
  const shoulder = seenFrom(X, U, V);
  beam(upper, name('shoulder back'), [0, 0], shoulder);
  beam(upper, name('shoulder top'), [LEG.upper, 0], shoulder);
  const toLower = bar(name('strut'), pin, L, near - 0.03);
  const lower = bar(name('guide'), X, L, near + 0.06);
  const link = bar(name('link'), V, W, near);
  const shin = bar(name('shin'), L, W, near + 0.03);
  const tip = seenFrom(L, W, foot);
  beam(shin, name('shin back'), [LEG.knee, 0], tip);
  beam(shin, name('shin front'), [0, 0], tip);
  return [
    ['pin', toUpper, [0, 0], crank, [LEG.crank, 0]],
    ['pin', upper, [0, 0], null, X],
    ['pin', toUpper, [LEG.toUpper, 0], upper, [LEG.upper, 0]],
    ['pin', toLower, [0, 0], crank, [LEG.crank, 0]],
    ['pin', lower, [0, 0], null, X],
    ['pin', toLower, [LEG.toLower, 0], lower, [LEG.lower, 0]],
    ['pin', link, [0, 0], upper, shoulder],
    ['pin', shin, [0, 0], lower, [LEG.lower, 0]],
    ['pin', link, [LEG.link, 0], shin, [LEG.knee, 0]],
  ];
}

/** A crank with a leg on either side. @returns what is pinned to what */
function rowOfLegs(b: ShotBuilder, crab: string, row: number, { bars, brass }: Looks): readonly Joint[] {
  const frame = b.hub(`Legs ${row + 1}`, { parent: crab, at: [0, 0, 0.42 - 0.42 * row] });
  const angle = 120 * row;
  const pin: Point = [
    LEG.crank * Math.cos((angle * Math.PI) / 180),
    LEG.crank * Math.sin((angle * Math.PI) / 180),
  ];

  const crank = b.hub(`Crank ${row + 1}`, { parent: frame, turn: [0, 0, angle] });
  barsOf(b, frame, { look: brass, brass }).beam(crank, `Crank ${row + 1}`, [0, 0], [LEG.crank, 0]);
  if (row === 0) {
    b.keys(`${crank}/rotation.z`, [
      { frame: 1, value: 0, manner: 'linear' },
      { frame: LAST, value: -360 * TURNS, manner: 'linear' },
    ]);
    b.outside(`${crank}/rotation.z`, 'straight', 'straight');
    b.link(
      `${crab}/location.x`,
      `${-(STRIDE * TURNS) / 200}cm - "Crank 1".rotation.z / 360deg * ${Math.round(STRIDE * 1000) / 1000}cm`,
    );
  } else b.link(`${crank}/rotation.z`, `"Crank 1".rotation.z + ${angle}deg`);
  const made = barsOf(b, frame, { look: bars[row === 0 ? 0 : 1]!, brass });
  const legs = [-1, 1].flatMap((side) => legOf(made, { row, crank, pin, side }));
  return [['pin', crank, [0, 0], null, [0, 0]], ...legs];
}

function pinned(b: ShotBuilder, joints: readonly Joint[]): void {
  for (const [kind, a, at, to, on] of joints)
    b.change((shot, random) => {
      const evaluator = new Evaluator(compile(shot));
      evaluator.evaluate(1);
      return apply(
        shot,
        addPin(shot, evaluator, { kind, a, at: metres(at), b: to, on: metres(on) }, random).change,
      );
    });
}

/**
 * A crab of the fair that walks sideways along the quay: three cranks, a third of a turn apart, each with a leg of pinned bars
 * on either side. Nothing but the first crank is keyed.
 */
export function walkingCrab(): Shot {
  const b = new ShotBuilder(6173, { background: '#8fb6c4', last: LAST, exposure: 1 });
  const looks = paints(b);
  quay(b, looks);
  const crab = bodyOf(b, looks);
  pinned(
    b,
    [0, 1, 2].flatMap((row) => rowOfLegs(b, crab, row, looks)),
  );

  b.part('sun', 'Sun', { turn: [-48, 30, 0], at: [4, 7, 5], order: 'YXZ', values: { strength: 2.6 } });
  b.part('sky', 'Sky light', { at: [0, 6, 0], values: { strength: 1.1 } });
  const from = [0.6, 1.45, 5.2] as const;
  const camera = b.camera('Camera', { at: from, turn: lookingAt(from, [0, 0.75, 0]), values: { lens: 30 } });
  b.link(`${camera}/location.x`, 'Crab.location.x * 0.8 + 60cm');
  return b.build();
}
