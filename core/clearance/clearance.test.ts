import { describe, expect, it } from 'vitest';
import type { Shot } from '../document';
import { addContact, addPart, apply, linkedCopy } from '../edit';
import { compile } from '../evaluate';
import { emptyShot } from '../testing/random-shot';
import { seeded } from '../testing/seeded';
import { clearance, type Clearance, type Finding } from './index';

type Three = readonly [number, number, number];

interface Thing {
  readonly shape: 'box' | 'ball' | 'cylinder' | 'torus' | 'gear' | 'tube' | 'capsule';
  readonly sizes: Readonly<Record<string, number>>;
  readonly at?: Three;
  /** Metres in a second of ten frames. */
  readonly speed?: Three;
  readonly turn?: Three;
  /** Degrees in a second. */
  readonly spin?: Three;
  readonly values?: Readonly<Record<string, number>>;
  readonly links?: Readonly<Record<string, string>>;
}

/** Ten frames are a second; frame 0 is its beginning. */
function scene(things: Readonly<Record<string, Thing>>, last = 100): Shot {
  let shot: Shot = { ...emptyShot(), setup: { ...emptyShot().setup, first: 0, last } };
  for (const [name, thing] of Object.entries(things)) {
    const { change, id } = addPart(shot, {
      kind: 'solid',
      name,
      shape: { kind: thing.shape, values: thing.sizes },
      values: thing.values ?? {},
    });
    shot = apply(shot, change);
    const links: Record<string, { formula: string; refs: Record<string, string> }> = {};
    ['x', 'y', 'z'].forEach((axis, k) => {
      links[`location.${axis}`] = {
        formula: `${thing.at?.[k] ?? 0} + (${thing.speed?.[k] ?? 0}) * frame / 10`,
        refs: {},
      };
      links[`rotation.${axis}`] = {
        formula: `${thing.turn?.[k] ?? 0} + (${thing.spin?.[k] ?? 0}) * frame / 10`,
        refs: {},
      };
    });
    for (const [path, formula] of Object.entries(thing.links ?? {})) links[path] = { formula, refs: {} };
    shot = { ...shot, parts: { ...shot.parts, [id]: { ...shot.parts[id]!, links } } };
  }
  return shot;
}

const check = (shot: Shot, more: Partial<Parameters<typeof clearance>[1]> = {}): Clearance =>
  clearance(compile(shot), {
    from: shot.setup.first,
    to: shot.setup.last,
    parts: null,
    watched: [],
    ...more,
  });

const partCalled = (shot: Shot, name: string): string =>
  Object.keys(shot.parts).find((id) => shot.parts[id]!.name === name)!;

function only(found: Clearance): Finding {
  expect(found.findings).toHaveLength(1);
  return found.findings[0]!;
}

const ball = (radius: number, at: Three, speed: Three = [0, 0, 0]): Thing => ({
  shape: 'ball',
  sizes: { radius },
  at,
  speed,
});
const box = ([x, y, z]: Three, at: Three, speed: Three = [0, 0, 0], more: Partial<Thing> = {}): Thing => ({
  shape: 'box',
  sizes: { width: 2 * x, height: 2 * y, depth: 2 * z },
  at,
  speed,
  ...more,
});

/** The first 64th of a frame that is not before a time in seconds. */
const told = (seconds: number): number => Math.ceil(640 * seconds - 1e-9) / 64;

/** At most a 64th later: facets lie up to 0.1 mm within what they stand for. */
function expectFrame(frame: number, seconds: number): void {
  expect(frame).toBeGreaterThanOrEqual(told(seconds));
  expect(frame).toBeLessThanOrEqual(told(seconds) + 1 / 64);
}

// Ericson, Real-Time Collision Detection, chapter 5 (moving spheres, moving boxes); the times worked out from the formulas.
describe('first contact', () => {
  it.each<[string, Thing, Thing, number, Three]>([
    ['balls head-on', ball(1, [0, 0, 0], [2, 0, 0]), ball(1.5, [10, 0, 0], [-1, 0, 0]), 2.5, [6, 0, 0]],
    [
      'balls askew',
      ball(1, [0, 0, 0], [3, 1, 0]),
      ball(2, [8, 4, 1], [-1, 0, 0]),
      1.61851286,
      [5.364188101, 2.412341907, 1 / 3],
    ],
    [
      'boxes by their faces',
      box([1, 1, 1], [0, 0, 0], [2, 0, 0]),
      box([2, 1, 1], [10, 0.5, 0]),
      3.5,
      [8, 0.25, 0],
    ],
    [
      'a turning bar and a ball, by the long side',
      box([5, 0.5, 0.5], [0, 0, 0], [0, 0, 0], { spin: [0, 0, 90], values: { 'pivot.x': -5 } }),
      ball(1, [6 * Math.cos((80 * Math.PI) / 180) - 5, 6 * Math.sin((80 * Math.PI) / 180), 0]),
      0.7280276424,
      [NaN, NaN, NaN],
    ],
    [
      'a turning bar and a ball, by its corner',
      box([5, 0.5, 0.5], [0, 0, 0], [0, 0, 0], { spin: [0, 0, 90], values: { 'pivot.x': -5 } }),
      ball(1, [10.8 * Math.cos((80 * Math.PI) / 180) - 5, 10.8 * Math.sin((80 * Math.PI) / 180), 0]),
      0.8193483572,
      [NaN, NaN, NaN],
    ],
    [
      'a turning box and a floor',
      box([3, 1, 1], [0, 2, 0], [0, 0, 0], { spin: [0, 0, 90] }),
      box([10, 1, 10], [0, -1, 0]),
      0.2310730185,
      [NaN, NaN, NaN],
    ],
  ])('%s', (_, a, b, seconds, place) => {
    const found = check(scene({ A: a, B: b }, Math.ceil(seconds * 10) + 1));
    const finding = only(found);
    expectFrame(finding.from, seconds);
    place.forEach((value, k) => {
      if (!Number.isNaN(value)) expect(Math.abs(finding.place[k]! - value)).toBeLessThan(0.06);
    });
  });

  it.each<[string, Thing, Thing]>([
    ['balls that pass half a metre apart', ball(1, [0, 0, 0], [1, 0, 0]), ball(2, [5, 3.5, 0])],
    ['balls that part', ball(1, [0, 0, 0], [-1, 0, 0]), ball(1, [4, 0, 0], [1, 0, 0])],
    ['boxes that pass one after the other', box([1, 1, 1], [0, 0, 0], [1, 1, 0]), box([1, 1, 1], [9, 4, 0])],
  ])('none of %s', (_, a, b) => {
    expect(check(scene({ A: a, B: b })).findings).toEqual([]);
  });

  it('tells when they come apart again', () => {
    const found = only(
      check(scene({ A: box([1, 1, 1], [0, 0, 0], [2, 0, 0]), B: box([2, 1, 1], [10, 0.5, 0]) })),
    );
    expect([found.from, found.to, found.before, found.after]).toEqual([35, 65, false, false]);
    expect(found.depth).toBeCloseTo(1.5, 3);
  });

  it('finds what flies through a thin wall between two frames', () => {
    const shot = scene({ A: ball(0.05, [-5, 0, 0], [100, 0, 0]), B: box([0.001, 1, 1], [0, 0, 0]) }, 2);
    expectFrame(only(check(shot)).from, (5 - 0.051) / 100);
  });

  it('finds a step from one side of a wall into it', () => {
    const shot = scene({
      A: { ...ball(0.1, [0, 0, 0]), links: { 'location.x': 'if(frame < 10.3, -5, 0)' } },
      B: box([0.2, 1, 1], [0, 0, 0]),
    });
    expect(only(check(shot)).from).toBe(Math.ceil(10.3 * 64) / 64);
  });

  it('looks at sizes that change, at stretched parts and at parts that are shown for a while', () => {
    const grows = scene(
      { A: { ...ball(0.1, [0, 0, 0]), links: { 'scale.x': '1 + frame / 10' } }, B: ball(0.1, [0.4, 0, 0]) },
      30,
    );
    expectFrame(only(check(grows)).from, 2);
    const shows = scene({
      A: { ...box([1, 1, 1], [0, 0, 0]), links: { visible: 'if(frame < 20.5, 0, if(frame < 30, 1, 0))' } },
      B: box([1, 1, 1], [1, 0, 0]),
    });
    const found = only(check(shows));
    expect([found.from, found.to]).toEqual([20.5, 30 - 1 / 64]);
  });

  it('counts what lies within a solid, but not what lies within a tube', () => {
    const within = only(check(scene({ A: ball(0.1, [0, 0, 0]), B: box([1, 2, 3], [0, 0, 0]) }, 3)));
    expect([within.before, within.after, within.still]).toEqual([true, true, true]);
    const tube: Thing = { shape: 'tube', sizes: { radius: 1, wall: 0.2, height: 4, sides: 48 } };
    expect(check(scene({ A: ball(0.5, [0, 0, 0]), B: tube }, 3)).findings).toEqual([]);
  });
});

// Least pushes by the separating axes of boxes, by the middles of balls (Ericson, 4.4 and 5.2).
describe('depth', () => {
  it.each<[string, Thing, Thing, number, number]>([
    ['balls', ball(2, [0, 0, 0]), ball(2, [3, 1, 0]), 0.8377223398, 4e-4],
    ['a box and a ball within its face', box([3, 2, 1], [0, 0, 0]), ball(1, [2.5, 0, 0]), 1.5, 3e-4],
    [
      'a box and a ball at its corner',
      box([3, 2, 1], [0, 0, 0]),
      ball(1, [3.4, 2.3, 1.2]),
      0.4614835193,
      3e-3,
    ],
    ['boxes', box([3, 1, 2], [0, 0, 0]), box([2, 1, 2], [4, 0.5, 0]), 1, 1e-4],
    [
      'boxes askew',
      box([3, 1, 9], [0, 0, 0]),
      box([2, 2, 9], [4.5, 0, 0], [0, 0, 0], { turn: [0, 0, 45] }),
      1.328427125,
      1e-4,
    ],
    [
      'boxes by a corner',
      box([3, 1, 9], [0, 0, 0]),
      box([2, 1, 9], [3.5, 2, 0], [0, 0, 0], { turn: [0, 0, 30] }),
      0.8660254038,
      1e-4,
    ],
  ])('of %s', (_, a, b, depth, by) => {
    // One of them shakes a little, as what stands still to another one is not looked at.
    const shaken = { ...b, links: { 'location.x': `${b.at?.[0] ?? 0} + if(frame < 1, 0, 1e-6)` } };
    expect(Math.abs(only(check(scene({ A: a, B: shaken }, 1))).depth! - depth)).toBeLessThan(by);
  });

  it('is the one at the deepest frame', () => {
    // In and out along a sine: deepest at frame 25, by 0.5.
    const shot = scene(
      {
        A: { ...box([1, 1, 1], [0, 0, 0]), links: { 'location.x': '-1.5 + sin(frame * 3.6)' } },
        B: box([1, 1, 1], [1, 0, 0]),
      },
      50,
    );
    const found = only(check(shot));
    expect(found.depth).toBeCloseTo(0.5, 3);
    expect(Math.abs(found.deepest! - 25)).toBeLessThan(1);
  });

  it('of two wheels half a tooth out is that of their tips, and nothing where they mesh', () => {
    // m = 2 mm, 20 and 40 teeth, 60 mm apart (ISO 53, addendum 1 m): 4 mm on the line of the middles.
    const wheel = (teeth: number, x: number, turn: number): Thing => ({
      shape: 'gear',
      sizes: { teeth, module: 0.002, pressure: 20, thickness: 0.01, bore: 0.005 },
      at: [x, 0, 0],
      turn: [0, 0, turn],
    });
    const out = only(
      check(scene({ A: wheel(20, 0, 0), B: { ...wheel(40, 0.06, 180), spin: [0, 0, 0.001] } }, 1)),
    );
    expect(out.depth!).toBeGreaterThan(0.0005);
    const meshed = scene(
      {
        A: { ...wheel(20, 0, 0), spin: [0, 0, 90] },
        B: { ...wheel(40, 0.06, 180 + 4.5), spin: [0, 0, -45] },
      },
      4,
    );
    expect(Math.max(0, ...check(meshed).findings.map(({ depth }) => depth!))).toBeLessThan(0.0001);
    expect(check(scene({ A: wheel(20, 0, 0), B: wheel(40, 0.0641, 180) }, 0)).findings).toEqual([]);
  });
});

describe('least distance', () => {
  const watch = (a: Thing, b: Thing, last = 0) => {
    const shot = scene({ A: a, B: b }, last);
    return check(shot, { watched: [[partCalled(shot, 'A'), partCalled(shot, 'B')]] }).nearness[0]!;
  };
  // Ericson, 5.1; van den Bergen; worked out from closed forms.
  it.each<[string, Thing, Thing, number, number]>([
    ['a box and a ball at its edge', box([3, 2, 1], [0, 0, 0]), ball(1, [4, 3, 0]), 0.4142135624, 2e-4],
    ['a box and a ball at its corner', box([3, 2, 1], [0, 0, 0]), ball(1, [4, 3, 2]), 0.7320508076, 2e-4],
    [
      'boxes by corners',
      box([3, 1, 1], [0, 0, 0]),
      box([1, 1, 1], [4.5, 2.8, 0], [0, 0, 0], { turn: [0, 0, 20] }),
      1.040584748,
      1e-6,
    ],
    [
      'a tilted cylinder and a floor',
      { shape: 'cylinder', sizes: { radius: 1, height: 6, sides: 64 }, at: [0, 4, 0], turn: [0, 0, 25] },
      box([9, 1, 9], [0, -1, 0]),
      0.8584583771,
      2e-4,
    ],
    [
      'a ring and a ball',
      { shape: 'torus', sizes: { radius: 5, tube: 1 }, turn: [90, 0, 0] },
      ball(0.5, [2, 0, 1.5]),
      1.854101966,
      2e-3,
    ],
  ])('of %s', (_, a, b, distance, by) => {
    expect(Math.abs(watch(a, b).least - distance)).toBeLessThan(by);
  });

  it('is found between two frames, with both places', () => {
    const near = watch(ball(1, [0, 0, 0], [1, 0, 0]), ball(2, [5.03, 3.5, 0]), 100);
    expect(near.least).toBeCloseTo(0.5, 3);
    expect(near.frame).toBeCloseTo(50.3, 1);
    expect(near.distances).toHaveLength(101);
    expect(near.distances[0]).toBeCloseTo(Math.hypot(5.03, 3.5) - 3, 3);
    expect(near.places![0][1]).toBeCloseTo(1, 2);
    expect(near.places![1][1]).toBeCloseTo(1.5, 2);
  });

  it('is none while they touch', () => {
    const near = watch(box([1, 1, 1], [-4, 0, 0], [1, 0, 0]), box([1, 1, 1], [0, 0, 0]), 30);
    expect(near.least).toBe(0);
    expect(near.frame).toBe(20);
  });
});

describe('what is looked at', () => {
  it('leaves out what is meant to touch, with all that hangs from it, and what is pinned', () => {
    const shot = scene(
      { A: box([1, 1, 1], [0, 0, 0]), B: box([1, 1, 1], [1, 0, 0]), C: ball(1, [0, 1, 0]) },
      2,
    );
    const id = (name: string): string => partCalled(shot, name);
    expect(check(shot).findings).toHaveLength(3);
    const said = apply(shot, addContact(shot, [id('A'), id('B')]).change);
    expect(check(said).findings).toHaveLength(2);
    const hung = {
      ...said,
      parts: { ...said.parts, [id('C')]: { ...said.parts[id('C')]!, parent: id('A') } },
    };
    expect(
      check(hung).findings.map(({ a, b }) => [a.part, b.part].map((part) => hung.parts[part]!.name)),
    ).toEqual([['A', 'C']]);
  });

  it('looks at chosen parts against all others', () => {
    const shot = scene(
      { A: box([1, 1, 1], [0, 0, 0]), B: box([1, 1, 1], [1, 0, 0]), C: ball(1, [1, 1, 0]) },
      2,
    );
    const parts = [partCalled(shot, 'C')];
    expect(check(shot, { parts }).findings).toHaveLength(2);
  });

  it('looks at every copy below a repeat', () => {
    let shot = scene({ A: box([0.1, 0.1, 0.1], [0, 0, 0]), B: box([0.05, 3, 3], [2.2, 0, 0]) }, 1);
    const { change, id } = addPart(shot, { kind: 'repeat', name: 'Row', values: { copies: 5, 'step.x': 1 } });
    shot = apply(shot, change);
    const a = partCalled(shot, 'A');
    shot = { ...shot, parts: { ...shot.parts, [a]: { ...shot.parts[a]!, parent: id } } };
    const xs = check(shot);
    expect(xs.bodies).toBe(6);
    expect(xs.findings).toEqual([]);
    const nearer = { ...shot, parts: { ...shot.parts } };
    const b = partCalled(shot, 'B');
    nearer.parts[b] = {
      ...shot.parts[b]!,
      links: { ...shot.parts[b]!.links, 'location.x': { formula: '2.1', refs: {} } },
    };
    expect(only(check(nearer))).toMatchObject({ a: { part: a, copy: 2 }, b: { part: b, copy: null } });
  });

  it('tells no more than a thousand findings, says so, and refuses more solids than it can hold', () => {
    const row = (copies: number): Shot => {
      let shot = scene({ A: box([0.1, 0.1, 0.1], [0, 0, 0]), B: box([1, 1, 1], [0, 0, 0]) }, 1);
      const { change, id } = addPart(shot, { kind: 'repeat', name: 'Row', values: { copies, gap: 0 } });
      shot = apply(shot, change);
      const a = partCalled(shot, 'A');
      return { ...shot, parts: { ...shot.parts, [a]: { ...shot.parts[a]!, parent: id } } };
    };
    const many = check(row(46), { to: 0 });
    expect(many.findings).toHaveLength(1000);
    expect(many.note).toBe('There are more than 1000 findings: those after frame 0 are left out.');
    expect(() => check(row(20_001), { to: 0 })).toThrow('more than 20000 solids');
  });

  it('refuses frames that are none', () => {
    const shot = scene({ A: ball(1, [0, 0, 0]) });
    expect(() => check(shot, { from: 5, to: 4 })).toThrow('Frames 5 to 4 are none');
    expect(() => check(shot, { from: 0, to: 20_000 })).toThrow('at most 20000');
  });

  it('goes on with linked copies of what is meant to touch', () => {
    const shot = scene({ A: box([1, 1, 1], [0, 0, 0]), B: box([1, 1, 1], [1, 0, 0]) }, 1);
    const [a, b] = [partCalled(shot, 'A'), partCalled(shot, 'B')];
    const said = apply(shot, addContact(shot, [a, b]).change);
    const copied = apply(said, linkedCopy(said, [a]).change);
    expect(Object.values(copied.contacts)).toHaveLength(2);
  });
});

/** Boxes and balls with poses in closed form, told apart by separating axes and by the nearest point of a box. */
interface Solid {
  readonly half: Three | null;
  readonly radius: number;
  readonly at: Three;
  readonly speed: Three;
  readonly turn: Three;
  readonly spin: Three;
}

function randomSolid(random: () => number): Solid {
  const between = (a: number, b: number): number => a + (b - a) * random();
  const three = (most: number): Three => [between(-most, most), between(-most, most), between(-most, most)];
  return {
    half: random() < 0.7 ? [between(0.05, 0.6), between(0.05, 0.6), between(0.05, 0.6)] : null,
    radius: between(0.05, 0.2),
    at: three(0.7),
    speed: three(random() < 0.3 ? 30 : 4),
    turn: three(180),
    spin: three(random() < 0.3 ? 900 : 200),
  };
}

const asThing = ({ half, radius, at, speed, turn, spin }: Solid, grown = 0): Thing => ({
  ...(half ? box(half.map((value) => value + grown) as unknown as Three, at) : ball(radius + grown, at)),
  speed,
  turn,
  spin,
});

/** Rx * Ry * Rz applied to the axes, as columns. */
function axesOf(degrees: Three): Three[] {
  const [a, b, c] = degrees.map((d) => (d * Math.PI) / 180) as [number, number, number];
  const about = (axis: number, angle: number, [x, y, z]: Three): Three => {
    const [s, k] = [Math.sin(angle), Math.cos(angle)];
    return axis === 0
      ? [x, k * y - s * z, s * y + k * z]
      : axis === 1
        ? [k * x + s * z, y, -s * x + k * z]
        : [k * x - s * y, s * x + k * y, z];
  };
  return (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as Three[]
  ).map((axis) => about(0, a, about(1, b, about(2, c, axis))));
}

const dot = (a: Three, b: Three): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const minus = (a: Three, b: Three): Three => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const crossed = (a: Three, b: Three): Three => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** How far two solids are apart along the best separating axis, or between a ball and the nearest point; below 0 they overlap. */
function gap(a: Solid, b: Solid, seconds: number): number {
  const placed = ({ at, speed, turn, spin }: Solid) => ({
    at: at.map((value, k) => value + speed[k]! * seconds) as unknown as Three,
    axes: axesOf(turn.map((value, k) => value + spin[k]! * seconds) as unknown as Three),
  });
  const [p, q] = [placed(a), placed(b)];
  const between = minus(q.at, p.at);
  if (!a.half && !b.half) return Math.hypot(...between) - a.radius - b.radius;
  if (!a.half || !b.half) {
    const [boxed, pose, round, way] = a.half
      ? [a.half, p, b.radius, between]
      : [b.half!, q, a.radius, minus(p.at, q.at)];
    const local = pose.axes.map((axis) => dot(axis, way));
    const out = local.map((value, k) => Math.max(0, Math.abs(value) - boxed[k]!));
    return Math.hypot(...out) - round;
  }
  const axes = [...p.axes, ...q.axes, ...p.axes.flatMap((x) => q.axes.map((y) => crossed(x, y)))];
  let most = -Infinity;
  for (const axis of axes) {
    const length = Math.hypot(...axis);
    if (length < 1e-9) continue;
    const reach = (half: Three, own: Three[]): number =>
      own.reduce((sum, each, k) => sum + Math.abs(dot(each, axis)) * half[k]!, 0);
    most = Math.max(
      most,
      (Math.abs(dot(between, axis)) - reach(a.half, p.axes) - reach(b.half, q.axes)) / length,
    );
  }
  return most;
}

const FRAMES = 4;
/** What facets and rounding of places may make of a gap, metres. */
const FACETS = 3e-4;

/** Contacts that are missed or told wrongly, in words. */
function faults(solids: readonly Solid[], grown = 0): string[] {
  const names = solids.map((_, i) => `S${i}`);
  const shot = scene(
    Object.fromEntries(solids.map((solid, i) => [names[i]!, asThing(solid, i === 0 ? grown : 0)])),
    FRAMES,
  );
  const { findings } = check(shot);
  const out: string[] = [];
  for (let i = 0; i < solids.length; i++)
    for (let j = i + 1; j < solids.length; j++) {
      const pair = findings.filter(({ a, b }) => {
        const both = [a, b].map(({ part }) => shot.parts[part]!.name);
        return both.includes(names[i]!) && both.includes(names[j]!);
      });
      for (let moment = 0; moment <= FRAMES * 64; moment++) {
        const frame = moment / 64;
        const apart = gap(solids[i]!, solids[j]!, frame / 10);
        const within = pair.some(({ from, to }) => frame >= from && frame <= to!);
        if (apart < -FACETS && !within) out.push(`${i} and ${j} touch at ${frame}: missed`);
        if (apart > FACETS && pair.some(({ from, to }) => frame === from || frame === to))
          out.push(`${i} and ${j} are ${apart} apart at ${frame}: told as touching`);
      }
    }
  return out;
}

describe('random scenes', () => {
  it(
    'are found as separating axes and nearest points find them, moment by moment',
    { timeout: 300_000 },
    () => {
      const random = seeded(29);
      let touching = 0;
      for (let i = 0; i < 500; i++) {
        const solids = [randomSolid(random), randomSolid(random), randomSolid(random)];
        expect(faults(solids), `scene ${i}`).toEqual([]);
        touching += gap(solids[0]!, solids[1]!, 0.2) < 0 ? 1 : 0;
      }
      expect(touching).toBeGreaterThan(20);
    },
  );

  it('of which one solid is two centimetres larger are told apart', { timeout: 60_000 }, () => {
    const random = seeded(29);
    let found = 0;
    for (let i = 0; i < 20; i++) {
      const solids = [randomSolid(random), randomSolid(random), randomSolid(random)];
      if (faults(solids, 0.02).length > 0) found++;
    }
    expect(found).toBeGreaterThan(3);
  });
});
