import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ChainDraft, largestMiss, pointOf } from '../../testing/chains';
import { drivenRange, drivers, LinkageMotion, orderOfSolution, type ChainNumbers } from './index';

type Point = [number, number];
const DEG = Math.PI / 180;
const at = (from: readonly number[], length: number, angle: number): Point => [
  from[0]! + length * Math.cos(angle * DEG),
  from[1]! + length * Math.sin(angle * DEG),
];
const apart = (a: readonly number[], b: readonly number[]): number =>
  Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!);

/** Circles met by the law of cosines: on the left of the way from the first to the second with side 1. */
function meet(a: readonly number[], ra: number, b: readonly number[], rb: number, side: number): Point {
  const d = apart(a, b);
  const lean = Math.acos((ra * ra + d * d - rb * rb) / (2 * ra * d)) / DEG;
  return at(a, ra, Math.atan2(b[1]! - a[1]!, b[0]! - a[0]!) / DEG + side * lean);
}

/** A plate with three points: its first two lie on its own x axis. */
const local = (a: readonly number[], b: readonly number[], c: readonly number[]): Point => {
  const d = apart(a, b);
  const [ux, uy] = [(b[0]! - a[0]!) / d, (b[1]! - a[1]!) / d];
  const [x, y] = [c[0]! - a[0]!, c[1]! - a[1]!];
  return [x * ux + y * uy, y * ux - x * uy];
};

/** Turns the driver (body 1) of a draft. */
function turner(draft: ChainDraft): (angle: number) => { open: number; numbers: ChainNumbers } {
  const { chain, drawn, numbers } = draft.done();
  const motion = new LinkageMotion(chain, drawn);
  return (angle) => {
    const poses = drawn.slice();
    poses[5] = angle;
    const now = { poses, joints: numbers.joints };
    return { open: motion.solve(now), numbers: now };
  };
}

const CRANK: readonly [boolean, boolean, boolean] = [true, true, false];

/** Crank 30, coupler 95, rocker 60 on pivots 100 apart, drawn at an angle of the crank. */
function fourBar(
  draft: ChainDraft,
  angle: number,
): { crank: number; coupler: number; rocker: number; A: Point; B: Point } {
  const A = at([0, 0], 30, angle);
  const B = meet(A, 95, [100, 0], 60, 1);
  const crank = draft.body([0, 0, angle], CRANK);
  const coupler = draft.bar(A, B);
  const rocker = draft.bar([100, 0], B);
  draft
    .pin(crank, [0, 0], 0, [0, 0])
    .pin(coupler, [0, 0], crank, [30, 0])
    .pin(rocker, [0, 0], 0, [100, 0])
    .pin(coupler, [95, 0], rocker, [60, 0]);
  return { crank, coupler, rocker, A, B };
}

// Two four-bars in a row (Watt II), the second on an arm of the first one's rocker. Computed by Newton's method with scipy.
const WATT_2: readonly (readonly [number, Point, Point, number])[] = [
  [0, [103.75, 59.88269784], [195.2073078, 84.79107921], 85.4049719],
  [60, [103.7447836, 59.88302427], [195.2130101, 84.79062066], 85.39992926],
  [90, [90.39275376, 59.22584588], [204.9746265, 83.25156569], 76.68062164],
  [180, [55.86538462, 40.64647248], [194.9467122, 84.81149619], 85.63538409],
  [270, [59.37788844, 44.15703854], [197.9374426, 84.51354125], 82.98584775],
  [330, [86.27955964, 58.41018333], [206.1483739, 82.96213164], 75.61498716],
];

function watt2(drawnAt: number): { draft: ChainDraft; rocker: number; output: number } {
  const draft = new ChainDraft();
  const { rocker, B } = fourBar(draft, drawnAt);
  const C = at([100, 0], 50, Math.atan2(B[1], B[0] - 100) / DEG - 70);
  const D = meet(C, 85, [190, 20], 65, 1);
  const bar = draft.bar(C, D);
  const output = draft.bar([190, 20], D);
  draft
    .pin(bar, [0, 0], rocker, at([0, 0], 50, -70))
    .pin(output, [0, 0], 0, [190, 20])
    .pin(bar, [85, 0], output, [65, 0]);
  return { draft, rocker, output };
}

describe('six-bars by pairs (Norton, Design of Machinery, chapters 2 and 4)', () => {
  it.each(WATT_2)('two four-bars in a row, crank at %d', (angle, B, D, turn) => {
    const { draft, rocker, output } = watt2(20);
    const { open, numbers } = turner(draft)(angle);
    expect(open).toBe(-1);
    expect(apart(pointOf(numbers, rocker, [60, 0]), B)).toBeLessThan(1e-7);
    expect(apart(pointOf(numbers, output, [65, 0]), D)).toBeLessThan(1e-7);
    expect(numbers.poses[output * 3 + 2]).toBeCloseTo(turn, 7);
  });

  it.each([
    [0, [60.18071024, 105.7786591], [168.9408714, 72.4372573], [116.6113412, 126.164534]],
    [90, [66.3267029, 117.7540226], [151.1834372, 85.90841494], [115.6307274, 151.9463194]],
    [150, [37.13838719, 105.0886951], [103.9941061, 99.92020375], [59.91282696, 160.598378]],
    [240, [7.664208299, 81.65907095], [83.44148037, 98.61954891], [20.9958566, 140.1592176]],
  ] as const)('floating bars on coupler and rocker (Watt I), crank at %d', (angle, C, E, F) => {
    const draft = new ChainDraft();
    const { coupler, rocker, A, B } = fourBar(draft, 0);
    const c = at(A, 110, Math.atan2(B[1] - A[1], B[0] - A[0]) / DEG + 35);
    const e = at([100, 0], 100, Math.atan2(B[1], B[0] - 100) / DEG - 40);
    const f = meet(c, 60, e, 75, 1);
    const cf = draft.bar(c, f);
    const ef = draft.bar(e, f);
    draft
      .pin(cf, [0, 0], coupler, at([0, 0], 110, 35))
      .pin(ef, [0, 0], rocker, at([0, 0], 100, -40))
      .pin(cf, [60, 0], ef, [75, 0]);
    const { numbers } = turner(draft)(angle);
    expect(apart(pointOf(numbers, cf, [0, 0]), C)).toBeLessThan(1e-7);
    expect(apart(pointOf(numbers, ef, [0, 0]), E)).toBeLessThan(1e-7);
    expect(apart(pointOf(numbers, cf, [60, 0]), F)).toBeLessThan(1e-7);
  });
});

/** A plate on three bars of which one is driven by a crank: no order of pairs. Own dimensions, answers by sweep and Brent. */
const PLATE: readonly (readonly [number, Point, Point, Point, number])[] = [
  [0, [114.9353034, -3.411921906], [142.3463791, 49.96066398], [88.73219897, 55.01236517], 62.81588885],
  [90, [85.76313318, -2.288916925], [119.9013698, 47.05255449], [67.40406474, 59.05392786], 55.32152558],
  [180, [64.99952463, -0.2925181209], [107.5403774, 42.01913333], [58.10038358, 63.36596013], 44.84523456],
  [270, [87.10938229, -2.373565981], [120.7576992, 47.30329754], [68.1442073, 58.78460712], 55.88849335],
  [330, [111.1803193, -3.31111251], [138.732958, 49.98853195], [85.13237469, 55.18251606], 62.66381639],
];

function plateOnBars(): ChainDraft {
  const draft = new ChainDraft();
  const [, P1, P2, P3, turn] = PLATE[0]!;
  const crank = draft.body([0, 0, 0], CRANK);
  const plate = draft.body([P1[0], P1[1], turn]);
  const driven = draft.bar([25, 0], P1);
  const second = draft.bar([140, -20], P2);
  const third = draft.bar([90, 120], P3);
  return draft
    .pin(crank, [0, 0], 0, [0, 0])
    .pin(driven, [0, 0], crank, [25, 0])
    .pin(driven, [90, 0], plate, [0, 0])
    .pin(second, [0, 0], 0, [140, -20])
    .pin(second, [70, 0], plate, [60, 0])
    .pin(third, [0, 0], 0, [90, 120])
    .pin(third, [65, 0], plate, [40, 50]);
}

describe('a plate on three bars, by nearing (Assur group of class III)', () => {
  it('is one group of four bodies', () => {
    const groups = orderOfSolution(plateOnBars().done().chain);
    expect(groups.map(({ bodies, sort }) => [bodies, sort])).toEqual([
      [[1], 'even'],
      [[2, 3, 4, 5], 'even'],
    ]);
  });
  const turn = turner(plateOnBars());
  it.each([...PLATE, ...PLATE.map(([a, ...rest]) => [a + 720, ...rest] as const)])(
    'crank at %d',
    (angle, P1, P2, P3, phi) => {
      const { numbers, open } = turn(angle);
      expect(open).toBe(-1);
      expect(apart(pointOf(numbers, 2, [0, 0]), P1)).toBeLessThan(1e-7);
      expect(apart(pointOf(numbers, 2, [60, 0]), P2)).toBeLessThan(1e-7);
      expect(apart(pointOf(numbers, 2, [40, 50]), P3)).toBeLessThan(1e-7);
      expect(numbers.poses[8]).toBeCloseTo(phi, 6);
    },
  );
});

/** A walking leg of eight bars with the lengths that are passed on for it (from memory: Jansen, "The Great Pretender"). */
const LEG: readonly (readonly [number, Point, Point, Point, Point, Point])[] = [
  [
    0,
    [-24.0135351, 31.2720975],
    [-26.952107, -45.5151702],
    [-74.7943654, 8.14317021],
    [-59.231515, -28.0529302],
    [-43.16011052, -91.75693293],
  ],
  [
    90,
    [-46.7356523, 32.7701661],
    [-20.9953006, -43.2306393],
    [-77.6677913, -13.6716553],
    [-57.4475994, -47.4873889],
    [-7.689066231, -90.38935137],
  ],
  [
    180,
    [-54.933935, 30.0878852],
    [-65.3150689, -36.055566],
    [-75.5970712, -21.7452586],
    [-96.7601263, -54.9790532],
    [-33.72972954, -73.51709741],
  ],
  [
    270,
    [-21.3489715, 30.2130669],
    [-55.1147089, -43.1776305],
    [-73.6056599, 10.6457849],
    [-87.6365872, -26.1712366],
    [-70.67056318, -89.6428368],
  ],
];

function leg(): { draft: ChainDraft; upper: number; lower: number; foot: number } {
  const draft = new ChainDraft();
  const X: Point = [-38, -7.8];
  const K: Point = [15, 0];
  const U = meet(X, 41.5, K, 50, 1);
  const L = meet(X, 39.3, K, 61.9, -1);
  const V = meet(X, 40.1, U, 55.8, 1);
  const W = meet(V, 39.4, L, 36.7, -1);
  const crank = draft.body([0, 0, 0], CRANK);
  const j = draft.bar(K, U);
  const upper = draft.bar(X, U);
  const k = draft.bar(K, L);
  const lower = draft.bar(X, L);
  const f = draft.bar(V, W);
  const foot = draft.bar(L, W);
  draft
    .pin(crank, [0, 0], 0, [0, 0])
    .pin(j, [0, 0], crank, [15, 0])
    .pin(j, [50, 0], upper, [41.5, 0])
    .pin(upper, [0, 0], 0, X)
    .pin(k, [0, 0], crank, [15, 0])
    .pin(k, [61.9, 0], lower, [39.3, 0])
    .pin(lower, [0, 0], 0, X)
    .pin(f, [0, 0], upper, local(X, U, V))
    .pin(f, [39.4, 0], foot, [36.7, 0])
    .pin(foot, [0, 0], lower, [39.3, 0]);
  return { draft, upper, lower, foot };
}

describe('walking leg of eight bars', () => {
  const { draft, upper, lower, foot } = leg();
  const turn = turner(draft);
  const tip = local(
    meet([-38, -7.8], 39.3, [15, 0], 61.9, -1),
    [-59.231515, -28.0529302],
    [-43.16011052, -91.75693293],
  );
  it.each(LEG)('crank at %d', (angle, U, L, V, W, end) => {
    const { numbers } = turn(angle);
    expect(apart(pointOf(numbers, upper, [41.5, 0]), U)).toBeLessThan(1e-6);
    expect(apart(pointOf(numbers, lower, [39.3, 0]), L)).toBeLessThan(1e-6);
    expect(apart(pointOf(numbers, foot, [36.7, 0]), W)).toBeLessThan(1e-6);
    expect(apart(pointOf(numbers, foot, tip), end)).toBeLessThan(1e-6);
    expect(apart(V, [-38, -7.8])).toBeCloseTo(40.1, 6);
  });
  it('is solved pair by pair, in the order crank, upper pair, lower pair, foot', () => {
    expect(orderOfSolution(draft.done().chain).map(({ bodies }) => bodies)).toEqual([
      [1],
      [2, 3],
      [4, 5],
      [6, 7],
    ]);
  });
});

describe('slides and slots', () => {
  const slider = (offset: number): ChainDraft => {
    const draft = new ChainDraft();
    const crank = draft.body([0, 0, 0], CRANK);
    const rod = draft.bar([40, 0], [40 + Math.sqrt(100 ** 2 - offset ** 2), offset]);
    const block = draft.body([40 + Math.sqrt(100 ** 2 - offset ** 2), offset, 0]);
    return draft
      .pin(crank, [0, 0], 0, [0, 0])
      .pin(rod, [0, 0], crank, [40, 0])
      .pin(rod, [100, 0], block, [0, 0])
      .joint('slide', block, [0, 0], 0, [0, offset]);
  };
  it.each([0, 12, -25])('slider-crank with offset %d: x = r cos + sqrt(l^2 - (r sin - e)^2)', (offset) => {
    const turn = turner(slider(offset));
    for (let angle = -400; angle <= 800; angle += 37) {
      const { numbers, open } = turn(angle);
      const [c, s] = [Math.cos(angle * DEG), Math.sin(angle * DEG)];
      expect(open).toBe(-1);
      expect(numbers.poses[9]).toBeCloseTo(40 * c + Math.sqrt(100 ** 2 - (40 * s - offset) ** 2), 9);
      expect(numbers.poses[11]).toBe(0);
    }
  });
  it('scotch yoke: the yoke goes as the cosine', () => {
    const draft = new ChainDraft();
    const crank = draft.body([0, 0, 0], CRANK);
    const yoke = draft.body([40, 0, 0]);
    draft
      .pin(crank, [0, 0], 0, [0, 0])
      .joint('slide', yoke, [0, 0], 0, [0, 0])
      .joint('slot', crank, [40, 0], yoke, [0, 0], 90);
    const turn = turner(draft);
    for (const angle of [0, 25, 130, 250, 359, -77])
      expect(turn(angle).numbers.poses[6]).toBeCloseTo(40 * Math.cos(angle * DEG), 10);
  });
  it('quick return: the arm points from its pivot to the crank pin, turning on without a jump', () => {
    const draft = new ChainDraft();
    const crank = draft.body([0, 0, 90], CRANK);
    const arm = draft.body([0, -30, 90]);
    draft
      .pin(crank, [0, 0], 0, [0, 0])
      .pin(arm, [0, 0], 0, [0, -30])
      .joint('slot', crank, [50, 0], arm, [0, 0], 0);
    const turn = turner(draft);
    let before = 90;
    for (let angle = 90; angle <= 90 + 720; angle += 5) {
      const { numbers } = turn(angle);
      const [x, y] = at([0, 0], 50, angle);
      const now = numbers.poses[8]!;
      expect(Math.cos((now - Math.atan2(y + 30, x) / DEG) * DEG)).toBeCloseTo(1, 12);
      expect(Math.abs(now - before)).toBeLessThan(20);
      before = now;
    }
    expect(before).toBeCloseTo(90 + 720, 9);
  });
  it('a cylinder that swings on its pivot points at the crank pin', () => {
    const draft = new ChainDraft();
    const crank = draft.body([0, 0, 0], CRANK);
    const rod = draft.body([20, 0, 180]);
    const cylinder = draft.body([90, 0, 180]);
    draft
      .pin(crank, [0, 0], 0, [0, 0])
      .pin(rod, [0, 0], crank, [20, 0])
      .pin(cylinder, [0, 0], 0, [90, 0])
      .joint('slide', rod, [0, 0], cylinder, [0, 0], 0, 0);
    const turn = turner(draft);
    for (const angle of [0, 40, 170, 290]) {
      const { numbers } = turn(angle);
      const [x, y] = at([0, 0], 20, angle);
      expect(Math.cos((numbers.poses[11]! - Math.atan2(y, x - 90) / DEG) * DEG)).toBeCloseTo(1, 12);
      expect(numbers.poses[8]).toBeCloseTo(numbers.poses[11]!, 12);
    }
  });
  it('a ladder: a bar whose ends run on two lines (ellipse trammel) is neared', () => {
    const draft = new ChainDraft();
    const crank = draft.body([0, 0, 0], CRANK);
    const bar = draft.body([20, 0, 0]);
    draft
      .pin(crank, [0, 0], 0, [0, 0])
      .pin(bar, [0, 0], crank, [20, 0])
      .joint('slot', bar, [20, 0], 0, [0, 0], 0);
    // Ends at twice the crank: Cardan's straight line, x = 40 cos.
    for (const angle of [0, 30, 60, 80]) {
      const { numbers } = turner(draft)(angle);
      expect(pointOf(numbers, 2, [20, 0])[0]).toBeCloseTo(40 * Math.cos(angle * DEG), 8);
    }
  });
});

it('a pair drawn open takes its side from both bars: the one that lies in line with the pivots does not decide', () => {
  const draft = new ChainDraft();
  const coupler = draft.body([0, 0, 0]);
  const rocker = draft.body([100, 0, 90]);
  draft
    .pin(coupler, [0, 0], 0, [0, 0])
    .pin(rocker, [0, 0], 0, [100, 0])
    .pin(coupler, [80, 0], rocker, [60, 0]);
  const { chain, drawn, numbers } = draft.done();
  new LinkageMotion(chain, drawn).solve(numbers);
  expect(pointOf(numbers, rocker, [60, 0])[1]).toBeGreaterThan(10);
  const low = new ChainDraft();
  const [first, second] = [low.body([0, 0, 0]), low.body([100, 0, -90])];
  low.pin(first, [0, 0], 0, [0, 0]).pin(second, [0, 0], 0, [100, 0]).pin(first, [80, 0], second, [60, 0]);
  const other = low.done();
  new LinkageMotion(other.chain, other.drawn).solve(other.numbers);
  expect(pointOf(other.numbers, second, [60, 0])[1]).toBeLessThan(-10);
});

describe('what can be reached (law of cosines on the pair; swept and bisected)', () => {
  it.each([
    [[70, 60, 80, 120], 91.0231933],
    [[100, 50, 60, 80], 74.41010189],
    [[80, 40, 50, 60], 78.58484226],
  ] as const)('four-bar %j up to %d degrees', ([a, b, c, d], limit) => {
    const draft = new ChainDraft();
    const A = at([0, 0], a, 10);
    const B = meet(A, b, [d, 0], c, 1);
    const crank = draft.body([0, 0, 10], CRANK);
    const coupler = draft.bar(A, B);
    const rocker = draft.bar([d, 0], B);
    draft
      .pin(crank, [0, 0], 0, [0, 0])
      .pin(coupler, [0, 0], crank, [a, 0])
      .pin(rocker, [0, 0], 0, [d, 0])
      .pin(coupler, [b, 0], rocker, [c, 0]);
    const turn = turner(draft);
    expect(turn(limit - 1e-6).open).toBe(-1);
    expect(turn(limit + 1e-6).open).toBe(1);
    expect(turn(-limit + 1e-6).open).toBe(-1);
    expect(turn(-limit - 1e-6).open).toBe(1);
    expect(turn(0).open).toBe(-1);
  });
});

describe('the range of a driver', () => {
  it.each([
    [[70, 60, 80, 120], 10, -91.0231933, 91.0231933],
    [[70, 30, 80, 60], 80, 44.4153086, 115.3769335],
    [[60, 40, 90, 100], 60, 22.33164501, 105.9620142],
    [[50, 90, 40, 60], 180, 53.13010235, 306.8698976],
  ] as const)('four-bar %j drawn at %d: %d to %d', ([a, b, c, d], drawnAt, from, to) => {
    const draft = new ChainDraft();
    const A = at([0, 0], a, drawnAt);
    const B = meet(A, b, [d, 0], c, 1);
    const crank = draft.body([0, 0, drawnAt], CRANK);
    const [coupler, rocker] = [draft.bar(A, B), draft.bar([d, 0], B)];
    draft
      .pin(crank, [0, 0], 0, [0, 0])
      .pin(coupler, [0, 0], crank, [a, 0])
      .pin(rocker, [0, 0], 0, [d, 0])
      .pin(coupler, [b, 0], rocker, [c, 0]);
    const { chain, drawn, numbers } = draft.done();
    expect(drivers(chain)).toEqual([5]);
    const range = drivenRange(chain, drawn, numbers, 5, [drawnAt - 360, drawnAt + 360])!;
    expect(range[0]).toBeCloseTo(from, 6);
    expect(range[1]).toBeCloseTo(to, 6);
  });
  it('a slider that drives its crank: (l - r)^2 - e^2 to (l + r)^2 - e^2', () => {
    const draft = new ChainDraft();
    const block = draft.body([120, 30, 0], [false, true, true]);
    const J = meet([0, 0], 40, [120, 30], 120, 1);
    const [crank, rod] = [draft.bar([0, 0], J), draft.bar(J, [120, 30])];
    draft
      .joint('slide', block, [0, 0], 0, [0, 30])
      .pin(crank, [0, 0], 0, [0, 0])
      .pin(rod, [0, 0], crank, [40, 0])
      .pin(rod, [120, 0], block, [0, 0]);
    const { chain, drawn, numbers } = draft.done();
    const range = drivenRange(chain, drawn, numbers, 3, [0, 300])!;
    expect(range[0]).toBeCloseTo(74.16198487, 6);
    expect(range[1]).toBeCloseTo(157.1623365, 6);
  });
});

describe('what is too much and what is too little', () => {
  it('a triangle of bars on the ground is too much once its crank is driven; a five-bar is loose', () => {
    const triangle = new ChainDraft();
    const crank = triangle.body([0, 0, 0], CRANK);
    const bar = triangle.body([0, 0, 0]);
    triangle.pin(crank, [0, 0], 0, [0, 0]).pin(bar, [0, 0], crank, [10, 0]).pin(bar, [10, 0], 0, [20, 0]);
    expect(orderOfSolution(triangle.done().chain).map(({ sort, by, bodies }) => [sort, by, bodies])).toEqual([
      ['over', 1, [1, 2]],
    ]);
    const five = new ChainDraft();
    const first = five.body([0, 0, 90], CRANK);
    const bars = [five.bar([0, 30], [30, 60]), five.bar([30, 60], [60, 30]), five.bar([60, 0], [60, 30])];
    five
      .pin(first, [0, 0], 0, [0, 0])
      .pin(bars[0]!, [0, 0], first, [30, 0])
      .pin(bars[1]!, [0, 0], bars[0]!, [Math.SQRT2 * 30, 0])
      .pin(bars[2]!, [0, 0], 0, [60, 0])
      .pin(bars[2]!, [30, 0], bars[1]!, [Math.SQRT2 * 30, 0]);
    expect(orderOfSolution(five.done().chain).map(({ sort, by }) => [sort, by])).toEqual([
      ['even', 0],
      ['loose', 1],
    ]);
    // It is drawn along all the same.
    const turn = turner(five);
    const { chain } = five.done();
    for (const angle of [90, 60, 120]) expect(largestMiss(chain, turn(angle).numbers)).toBeLessThan(1e-9);
  });
  it('a parallelogram with a third equal crank is too much by count and closes all the same', () => {
    const draft = new ChainDraft();
    const crank = draft.body([0, 0, 60], CRANK);
    const coupler = draft.body([...at([0, 0], 20, 60), 0]);
    const second = draft.body([50, 0, 60]);
    const third = draft.body([100, 0, 60]);
    draft
      .pin(crank, [0, 0], 0, [0, 0])
      .pin(coupler, [0, 0], crank, [20, 0])
      .pin(second, [0, 0], 0, [50, 0])
      .pin(third, [0, 0], 0, [100, 0])
      .pin(second, [20, 0], coupler, [50, 0])
      .pin(third, [20, 0], coupler, [100, 0]);
    const { chain } = draft.done();
    const turn = turner(draft);
    for (const angle of [60, 100, 150, 30]) {
      const { numbers, open } = turn(angle);
      expect(open).toBe(-1);
      expect(largestMiss(chain, numbers)).toBeLessThan(1e-8);
      expect(numbers.poses[11]).toBeCloseTo(angle, 6);
    }
  });
});

/** Random chains: a crank, then pairs of bars on points of bodies that stand already, drawn so that they close. */
const pairs = fc.array(
  fc.record({
    from: fc.nat(100),
    to: fc.nat(100),
    a: fc.tuple(fc.integer({ min: -40, max: 40 }), fc.integer({ min: -40, max: 40 })),
    c: fc.tuple(fc.integer({ min: -40, max: 40 }), fc.integer({ min: -40, max: 40 })),
    lengths: fc.tuple(fc.integer({ min: 60, max: 160 }), fc.integer({ min: 60, max: 160 })),
    side: fc.constantFrom(1, -1),
  }),
  { minLength: 1, maxLength: 5 },
);

describe('random chains of pairs', () => {
  it('pins meet to 1e-9, every pair keeps its side, and no order of asking changes a bit', () => {
    let whole = 0;
    fc.assert(
      fc.property(
        pairs,
        fc.array(fc.integer({ min: -900, max: 900 }), { minLength: 2, maxLength: 6 }),
        (list, asked) => {
          const draft = new ChainDraft();
          const crank = draft.body([0, 0, 0], CRANK);
          draft.pin(crank, [0, 0], 0, [0, 0]);
          const stands: { body: number; pose: [number, number, number] }[] = [
            { body: 0, pose: [0, 0, 0] },
            { body: crank, pose: [0, 0, 0] },
          ];
          const closed: { first: number; second: number; length: number; side: number }[] = [];
          for (const { from, to, a, c, lengths, side } of list) {
            const [one, two] = [stands[from % stands.length]!, stands[to % stands.length]!];
            const place = ({ pose: [x, y, turn] }: (typeof stands)[0], [px, py]: Point): Point => {
              const [co, si] = [Math.cos(turn * DEG), Math.sin(turn * DEG)];
              return [x + co * px - si * py, y + si * px + co * py];
            };
            const [A, C] = [place(one, a), place(two, c)];
            const J = meet(A, lengths[0], C, lengths[1], side);
            // Drawn stretched or folded, a pair has no side.
            const square = (C[0] - A[0]) * (J[1] - A[1]) - (C[1] - A[1]) * (J[0] - A[0]);
            if (!(Math.abs(square) > 1)) continue;
            const first = draft.bar(A, J);
            const second = draft.bar(C, J);
            draft
              .pin(first, [0, 0], one.body, a)
              .pin(second, [0, 0], two.body, c)
              .pin(first, [lengths[0], 0], second, [lengths[1], 0]);
            const turnOf = (P: Point): number => Math.atan2(J[1] - P[1], J[0] - P[0]) / DEG;
            closed.push({ first, second, length: lengths[0], side });
            stands.push({ body: first, pose: [...A, turnOf(A)] }, { body: second, pose: [...C, turnOf(C)] });
          }
          const { chain } = draft.done();
          const turn = turner(draft);
          for (const angle of asked) {
            const { open, numbers } = turn(angle);
            if (open < 0) {
              whole++;
              expect(largestMiss(chain, numbers)).toBeLessThan(1e-9);
            }
            expect([...turner(draft)(angle).numbers.poses]).toEqual([...numbers.poses]);
          }
          const motion = turner(draft);
          for (let angle = 0; angle < 400; angle += 0.5) {
            const { open, numbers } = motion(angle);
            if (open >= 0) continue;
            for (const { first, second, length, side } of closed) {
              const [A, C] = [pointOf(numbers, first, [0, 0]), pointOf(numbers, second, [0, 0])];
              const J = pointOf(numbers, first, [length, 0]);
              const turned =
                ((C[0] - A[0]) * (J[1] - A[1]) - (C[1] - A[1]) * (J[0] - A[0])) / apart(A, C) ** 2;
              if (Math.abs(turned) > 1e-6) expect(Math.sign(turned)).toBe(side);
            }
          }
        },
      ),
      { numRuns: 60 },
    );
    expect(whole).toBeGreaterThan(60);
  });
});
