import { beforeEach, describe, expect, it } from 'vitest';
import { blankShot, type Shot } from '../document';
import { compile, Evaluator } from '../evaluate';
import {
  addPart,
  addPin,
  apply,
  duplicateParts,
  invert,
  linkedCopy,
  pinsAsFormulas,
  pinsOf,
  removeParts,
  removePin,
  roleOf,
  setLink,
  setPinnedRole,
  setValues,
  solutionOf,
  turnPairOver,
  type Change,
  type NewPin,
} from './index';

const DEG = Math.PI / 180;
let seed = 1;
const random = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647;

/** A shot with a hub and bars in it, changed step by step as on the page. */
class Bench {
  shot: Shot = blankShot();
  hub: string;

  constructor() {
    this.hub = this.part('Frame', null);
  }

  at(frame = 1): Evaluator {
    const evaluator = new Evaluator(compile(this.shot));
    evaluator.evaluate(frame);
    return evaluator;
  }

  do(change: Change): void {
    const next = apply(this.shot, change);
    expect(apply(next, invert(change))).toEqual(this.shot);
    this.shot = next;
  }

  part(name: string, parent: string | null = this.hub, x = 0, y = 0, turn = 0): string {
    const values = { 'location.x': x, 'location.y': y, 'rotation.z': turn };
    const { change, id } = addPart(this.shot, { kind: 'hub', name, parent, values }, random);
    this.do(change);
    return id;
  }

  pin(
    a: string,
    at: [number, number],
    b: string | null,
    on: [number, number],
    kind: NewPin['kind'] = 'pin',
    line = 0,
  ): string {
    const { change, id } = addPin(this.shot, this.at(), { kind, a, at, b, on, line }, random);
    this.do(change);
    return id;
  }

  number(address: string, frame = 1): number {
    return this.at(frame).number(address);
  }
}

let bench: Bench;
let crank: string;
let coupler: string;
let rocker: string;

beforeEach(() => {
  seed = 7;
  bench = new Bench();
  crank = bench.part('Crank', bench.hub, 0.1, 0.2, 0);
  coupler = bench.part('Coupler', bench.hub, 0.3, 0, 40);
  rocker = bench.part('Rocker', bench.hub, 1.2, 0, 90);
});

function fourBar(): { closing: string } {
  bench.pin(crank, [0, 0], null, [0, 0]);
  bench.pin(coupler, [0, 0], crank, [0.3, 0]);
  bench.pin(rocker, [0, 0], null, [1, 0]);
  return { closing: bench.pin(coupler, [0.95, 0], rocker, [0.6, 0]) };
}

describe('pinning a four-bar from loose bars', () => {
  it('the bars come together, the crank drives and the rocker follows', () => {
    bench.pin(crank, [0, 0], null, [0, 0]);
    expect(roleOf(bench.shot, crank)).toBe('drives');
    expect(bench.number(`${crank}/location.x`)).toBeCloseTo(0, 12);
    bench.pin(coupler, [0, 0], crank, [0.3, 0]);
    expect(roleOf(bench.shot, coupler)).toBe('follows');
    expect(solutionOf(bench.shot, coupler).map(({ sort, by }) => [sort, by])).toEqual([
      ['even', 0],
      ['loose', 1],
    ]);
    // It came to the crank as it lay: a loose bar is moved, hardly turned.
    expect(Math.abs(bench.number(`${coupler}/rotation.z`) - 40)).toBeLessThan(1);
    bench.pin(rocker, [0, 0], null, [1, 0]);
    expect(roleOf(bench.shot, rocker)).toBe('drives');
    bench.pin(coupler, [0.95, 0], rocker, [0.6, 0]);
    expect([crank, coupler, rocker].map((id) => roleOf(bench.shot, id))).toEqual([
      'drives',
      'follows',
      'follows',
    ]);
    expect(solutionOf(bench.shot, coupler).every(({ sort }) => sort === 'even')).toBe(true);
    // B by the law of cosines on A (0.3, 0), C (1, 0), 0.95 and 0.6.
    const turn = bench.number(`${rocker}/rotation.z`);
    const inner = Math.acos((0.6 ** 2 + 0.7 ** 2 - 0.95 ** 2) / (2 * 0.6 * 0.7)) / DEG;
    expect(turn).toBeCloseTo(180 - inner, 9);
  });

  it('a driver that is keyed or linked is never made to follow', () => {
    bench.do(setLink(bench.shot, `${rocker}/rotation.z`, '80deg + 10deg * sin(frame * 5deg)'));
    fourBar();
    expect([crank, coupler, rocker].map((id) => roleOf(bench.shot, id))).toEqual([
      'follows',
      'follows',
      'drives',
    ]);
    expect(solutionOf(bench.shot, crank).every(({ sort }) => sort === 'even')).toBe(true);
  });

  it('takes roles in words, and a part that stands keeps its place', () => {
    fourBar();
    const before = bench.number(`${rocker}/rotation.z`);
    bench.do(setPinnedRole(bench.shot, bench.at(), rocker, 'drives'));
    bench.do(setPinnedRole(bench.shot, bench.at(), crank, 'follows'));
    expect(bench.number(`${rocker}/rotation.z`)).toBeCloseTo(before, 12);
    expect(bench.number(`${crank}/rotation.z`)).toBeCloseTo(0, 6);
    bench.do(setPinnedRole(bench.shot, bench.at(), coupler, 'stands'));
    expect(bench.number(`${coupler}/location.x`)).toBeCloseTo(0.3, 9);
  });

  it('turns a pair over to the other side, and the length of the coupler can be changed', () => {
    const { closing } = fourBar();
    const open = bench.number(`${rocker}/rotation.z`);
    bench.do(turnPairOver(bench.shot, bench.at(), coupler));
    const crossed = bench.number(`${rocker}/rotation.z`);
    expect(Math.cos((crossed + open) * DEG)).toBeCloseTo(1, 9);
    bench.do(turnPairOver(bench.shot, bench.at(), rocker));
    expect(Math.cos((bench.number(`${rocker}/rotation.z`) - open) * DEG)).toBeCloseTo(1, 9);
    bench.do(setValues(bench.shot, [[`${closing}/at.x`, 0.8]]));
    const inner = Math.acos((0.6 ** 2 + 0.7 ** 2 - 0.8 ** 2) / (2 * 0.6 * 0.7)) / DEG;
    expect(bench.number(`${rocker}/rotation.z`)).toBeCloseTo(180 - inner, 9);
    expect(() => turnPairOver(bench.shot, bench.at(), crank)).toThrow(/one way only/);
  });

  it('a slide makes a slider-crank', () => {
    const block = bench.part('Block', bench.hub, 1.3, 0.1);
    bench.pin(crank, [0, 0], null, [0, 0]);
    bench.pin(coupler, [0, 0], crank, [0.3, 0]);
    bench.pin(block, [0, 0], null, [0, 0.1], 'slide', 0);
    bench.pin(coupler, [1, 0], block, [0, 0]);
    expect([crank, coupler, block].map((id) => roleOf(bench.shot, id))).toEqual([
      'drives',
      'follows',
      'follows',
    ]);
    bench.do(setValues(bench.shot, [[`${crank}/rotation.z`, 50]]));
    const s = 0.3 * Math.sin(50 * DEG) - 0.1;
    expect(bench.number(`${block}/location.x`)).toBeCloseTo(
      0.3 * Math.cos(50 * DEG) + Math.sqrt(1 - s * s),
      9,
    );
    expect(bench.number(`${block}/rotation.z`)).toBe(0);
  });
});

describe('bars with eyes', () => {
  it('stay pinned at their eyes when they are made longer', () => {
    const bar = (name: string, length: number): string => {
      const { change, id } = addPart(
        bench.shot,
        { kind: 'solid', name, parent: bench.hub, shape: { kind: 'bar', values: { length } } },
        random,
      );
      bench.do(change);
      return id;
    };
    const [first, second, third] = [bar('First', 0.3), bar('Second bar', 0.95), bar('Third', 0.6)];
    bench.pin(first, [-0.15, 0], null, [0, 0]);
    bench.pin(second, [-0.475, 0], first, [0.15, 0]);
    bench.pin(third, [-0.3, 0], null, [1, 0]);
    const closing = bench.pin(second, [0.475, 0], third, [0.3, 0]);
    expect(bench.shot.pins[closing]!.links['at.x']!.formula).toBe('"Second bar".length * 0.5');
    expect(bench.shot.pins[closing]!.links['on.x']!.formula).toBe('Third.length * 0.5');
    const rocker = (coupler: number): number =>
      180 - Math.acos((0.36 + 0.49 - coupler * coupler) / (2 * 0.6 * 0.7)) / DEG;
    const swing = (): number => bench.number(`${third}/rotation.z`);
    expect(Math.abs(Math.cos((swing() - rocker(0.95)) * DEG) - 1)).toBeLessThan(1e-12);
    bench.do(setValues(bench.shot, [[`${bench.shot.parts[second]!.shape}/length`, 0.8]]));
    expect(Math.abs(Math.cos((swing() - rocker(0.8)) * DEG) - 1)).toBeLessThan(1e-12);
    // Points that are no eyes stay numbers.
    const slot = bench.pin(first, [0.1, 0.02], second, [0, 0], 'slot');
    expect(bench.shot.pins[slot]!.links).toEqual({});
  });
});

describe('written as formulas', () => {
  const poses = (frame: number, ids: readonly string[]): number[] =>
    ids.flatMap((id) => [
      bench.number(`${id}/location.x`, frame),
      bench.number(`${id}/location.y`, frame),
      Math.cos(bench.number(`${id}/rotation.z`, frame) * DEG),
      Math.sin(bench.number(`${id}/rotation.z`, frame) * DEG),
    ]);
  const sameAsPins = (ids: readonly string[], part: string): void => {
    const frames = [1, 8, 20, 33, 61, 96];
    const before = frames.map((frame) => poses(frame, ids));
    bench.do(pinsAsFormulas(bench.shot, bench.at(), part));
    expect(compile(bench.shot).errors.size).toBe(0);
    expect(bench.shot.pins).toEqual({});
    frames.forEach((frame, i) =>
      poses(frame, ids).forEach((value, k) => expect(value).toBeCloseTo(before[i]![k]!, 9)),
    );
  };
  it('a four-bar, with pivots, a rest turn and a size of its own', () => {
    bench.do(
      setValues(bench.shot, [
        [`${coupler}/pivot.x`, 0.1],
        [`${coupler}/scale.x`, 1.2],
        [`${rocker}/rest.z`, 25],
      ]),
    );
    bench.do(setLink(bench.shot, `${crank}/rotation.z`, 'frame * 7deg'));
    fourBar();
    sameAsPins([crank, coupler, rocker], rocker);
    expect(bench.shot.parts[rocker]!.links['rotation.z']!.formula).toMatch(/meetx/);
  });
  it('a slider-crank, and a bar whose end runs in a slot', () => {
    const block = bench.part('Block', bench.hub, 1.3, 0.1);
    const arm = bench.part('Arm', bench.hub, 0, 0, 60);
    bench.do(setLink(bench.shot, `${crank}/rotation.z`, 'frame * 7deg'));
    bench.pin(crank, [0, 0], null, [0, 0]);
    bench.pin(coupler, [0, 0], crank, [0.3, 0]);
    bench.pin(block, [0.02, 0], null, [0, 0.1], 'slide', 5);
    bench.pin(coupler, [1, 0.1], block, [0.05, 0.03]);
    bench.pin(arm, [0, 0], crank, [0.2, 0.1]);
    bench.pin(arm, [2, 0], null, [0, 0.5], 'slot', 30);
    sameAsPins([crank, coupler, block], coupler);
  });
  it('says what cannot be written', () => {
    fourBar();
    bench.do(setPinnedRole(bench.shot, bench.at(), coupler, 'drives'));
    expect(() => pinsAsFormulas(bench.shot, bench.at(), rocker)).toThrow(/cannot be written as formulas/);
  });
});

describe('taking pins and parts away', () => {
  it('unpinned parts stay where they are', () => {
    const { closing } = fourBar();
    const before = ['location.x', 'location.y', 'rotation.z'].map((path) =>
      bench.number(`${rocker}/${path}`),
    );
    for (const id of [closing, ...pinsOf(bench.shot, rocker)])
      if (bench.shot.pins[id]) bench.do(removePin(bench.shot, bench.at(), id));
    expect(roleOf(bench.shot, rocker)).toBe('stands');
    ['location.x', 'location.y', 'rotation.z'].forEach((path, i) =>
      expect(bench.number(`${rocker}/${path}`)).toBeCloseTo(before[i]!, 9),
    );
  });
  it('the pins of a deleted part go with it, undone as one', () => {
    fourBar();
    bench.do(removeParts(bench.shot, [rocker]));
    expect(Object.values(bench.shot.pins).some(({ a, b }) => a === rocker || b === rocker)).toBe(false);
    expect(Object.keys(bench.shot.pins)).toHaveLength(2);
    const where = (): number[] =>
      ['location.x', 'location.y', 'rotation.z'].map((path) => bench.number(`${coupler}/${path}`));
    const before = where();
    bench.do(removeParts(bench.shot, [crank]));
    expect(roleOf(bench.shot, coupler)).toBe('stands');
    where().forEach((value, i) => expect(value).toBeCloseTo(before[i]!, 9));
    expect(compile(bench.shot).errors.size).toBe(0);
  });
  it('a copy of the whole frame moves by itself; copies beside stand beside', () => {
    fourBar();
    bench.do(duplicateParts(bench.shot, [bench.hub], random).change);
    expect(Object.keys(bench.shot.pins)).toHaveLength(8);
    expect(compile(bench.shot).errors.size).toBe(0);
    const turn = bench.number(`${rocker}/rotation.z`);
    const other = Object.keys(bench.shot.parts).find((id) => bench.shot.parts[id]!.name === 'Rocker 2')!;
    expect(bench.number(`${other}/rotation.z`)).toBeCloseTo(turn, 9);
    const { change, ids } = linkedCopy(bench.shot, [crank, coupler, rocker], random, [2, 0, 0]);
    bench.do(change);
    expect(bench.number(`${ids[2]!}/location.x`)).toBeCloseTo(3, 9);
    expect(bench.number(`${ids[2]!}/rotation.z`)).toBeCloseTo(turn, 9);
  });
  it('refuses what cannot be pinned, and says why', () => {
    const far = bench.part('Far', null);
    expect(() => bench.pin(crank, [0, 0], far, [0, 0])).toThrow(/do not hang from the same part/);
    expect(() => bench.pin(crank, [0, 0], crank, [1, 0])).toThrow(/itself/);
  });
});
