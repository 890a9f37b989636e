import { describe, expect, it } from 'vitest';
import { apply, setLink } from '../../edit';
import { compile, Evaluator } from '../../evaluate';
import { pathLength, pulleyPath, sprocketRadius, type Pulley } from '../../mechanism';
import { chainRollers, gearOutline, ringGearOutline, sprocketOutline } from '../../shape';
import { built, builtShot, fromEdge, inside, type Point } from '../../testing/built-recipe';
import { BUILT_KINDS, type Settings } from '..';

const apart = (a: readonly number[], b: readonly number[]): number =>
  Math.hypot(...a.map((value, i) => value - b[i]!));

/** How far the deepest corner of one outline lies in the other. */
const deepest = (one: readonly Point[], other: readonly Point[]): number =>
  Math.max(0, ...one.filter((point) => inside(other, point)).map((point) => fromEdge(other, point)));

describe('every recipe that builds parts', () => {
  it.each([...BUILT_KINDS])('%s builds what its roles want, in a tray of its own', (kind) => {
    const { shot, roles, slots } = builtShot(kind, {});
    const addresses = Object.values(roles).flatMap((role) => role ?? []);
    expect(addresses.length).toBeGreaterThan(1);
    expect(Object.keys(shot.trays)).toHaveLength(1);
    for (const id of Object.values(slots)) expect(shot.parts[id]!.tray).toBe(Object.keys(shot.trays)[0]);
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(1);
    for (const address of addresses)
      if (address.includes('/')) expect(Number.isFinite(evaluator.number(address)), address).toBe(true);
  });

  it.each([...BUILT_KINDS])('%s moves all that follows when its driver moves', (kind) => {
    const { shot, roles } = builtShot(kind, kind === 'ratchet' ? { by: 'lever' } : {});
    const [driver, ...rest] = Object.values(roles).flatMap((role) => role ?? []);
    const length = ['roll', 'spring', 'pantograph', 'stagger'].includes(kind);
    const turned = apply(
      shot,
      kind === 'roll-path'
        ? setLink(shot, `${roles.follower as string}/along`, 'frame / 80')
        : kind === 'reach'
          ? setLink(shot, `${roles.target as string}/location.x`, '0.3m + 0.2m * wave(frame / 40)')
          : setLink(shot, driver!, length ? '0.5m + 0.2m * wave(frame / 40)' : '40deg * wave(frame / 40)'),
    );
    const evaluator = new Evaluator(compile(turned));
    const seen = new Map<string, Set<string>>();
    for (let frame = 1; frame <= 40; frame += 3) {
      evaluator.evaluate(frame);
      for (const address of [driver!, ...rest].filter((entry) => entry.includes('/')))
        seen.set(address, (seen.get(address) ?? new Set()).add(evaluator.number(address).toFixed(6)));
    }
    // A ring that is held, and a tracer's other axis, stand.
    const still = [...seen].filter(([, values]) => values.size === 1).length;
    expect(still).toBeLessThanOrEqual({ planetary: 1, pantograph: 2, intermittent: 1 }[kind] ?? 0);
  });
});

describe('what follows, built', () => {
  it('cranks stand a share of a turn apart, or in the firing order', () => {
    const cranks = built('phase', { order: [1, 3, 4, 2] }).at(0);
    const even = built('phase', { count: 3 });
    even.at(0);
    const turns = [1, 2, 3].map((i) => even.evaluator.number(`${even.idOf(`Crank ${i}`)}/rotation.z`));
    expect(turns.map((turn) => ((turn % 360) + 360) % 360)).toEqual([0, 240, 120]);
    const order = [1, 2, 3, 4].map((i) => {
      const id = Object.entries(cranks.plan.shot.parts).find(([, { name }]) => name === `Crank ${i}`)![0];
      return ((cranks.number(`${id}/rotation.z`) % 360) + 360) % 360;
    });
    // Number 3 fires second, 4 third, 2 last.
    expect(order).toEqual([0, 90, 270, 180]);
  });
  it('a wheel on a track rolls: where it touches the ground it stands still', () => {
    const radius = 0.4;
    const made = builtShot('roll-path', { radius, track: 2 });
    const shot = apply(
      made.shot,
      setLink(made.shot, `${made.roles.follower as string}/along`, 'frame / 100'),
    );
    const evaluator = new Evaluator(compile(shot));
    const idOf = (name: string): string =>
      Object.keys(shot.parts).find((id) => shot.parts[id]!.name === name)!;
    const worldAt = (frame: number, name: string): Float64Array => {
      evaluator.evaluate(frame);
      return evaluator.worldOf(idOf(name))!.slice();
    };
    const step = 1e-4;
    for (const frame of [10, 33, 71]) {
      const m = worldAt(frame, 'Wheel');
      expect(m[7]).toBeCloseTo(radius, 9);
      // The point of the rim that touches the ground now, in the wheel's own measure: straight below its middle.
      const [x, y] = [-m[4]! * radius, -m[5]! * radius];
      const place = (n: Float64Array): number[] =>
        [0, 4, 8].map((row) => n[row]! * x + n[row + 1]! * y + n[row + 3]!);
      const [before, after] = [place(worldAt(frame - step, 'Wheel')), place(worldAt(frame + step, 'Wheel'))];
      const hub = apart(
        [3, 7, 11].map((i) => worldAt(frame - step, 'Wheel')[i]!),
        [3, 7, 11].map((i) => worldAt(frame + step, 'Wheel')[i]!),
      );
      expect(hub).toBeGreaterThan(step * 0.05);
      expect(apart(before, after)).toBeLessThan(hub * 0.002);
    }
  });
});

describe('gears that are built', () => {
  it.each([
    [20, 60, 0],
    [17, 61, 37],
  ])('a gear of %s teeth in a ring of %s, in direction %s, never cuts it', (teeth1, teeth2, direction) => {
    const module = 0.1;
    const pair = built('gear-inner', { teeth1, teeth2, module, direction });
    const sizes = { module, pressure: 20 };
    const [gear, ring] = [
      gearOutline({ ...sizes, teeth: teeth1 }),
      ringGearOutline({ ...sizes, teeth: teeth2 }),
    ];
    let contact = 0;
    let off = 0;
    for (let frame = 0; frame <= 720; frame += 23) {
      pair.at(frame);
      const hollow = ring.map(([x, y]) => pair.place('Ring gear', x, y));
      const teeth = gear.map(([x, y]) => pair.place('Inner gear', x, y));
      // What is not in the hollow of the ring is in its teeth.
      for (const point of teeth)
        if (!inside(hollow, point)) contact = Math.max(contact, fromEdge(hollow, point));
      const shifted = ring.map(([x, y]) => {
        const turn = Math.PI / teeth2;
        return pair.place(
          'Ring gear',
          x * Math.cos(turn) - y * Math.sin(turn),
          x * Math.sin(turn) + y * Math.cos(turn),
        );
      });
      for (const point of teeth) if (!inside(shifted, point)) off = Math.max(off, fromEdge(shifted, point));
    }
    expect(contact).toBeLessThan(module * 0.012);
    expect(off).toBeGreaterThan(module * 0.2);
  });

  it.each([
    ['ring', 'sun', 20, 30],
    ['sun', 'carrier', 18, 27],
    ['carrier', 'ring', 24, 21],
  ])(
    'planets run between sun and ring: %s held, %s drives, %s and %s teeth',
    (held, drives, sunTeeth, planetTeeth) => {
      const module = 0.05;
      const settings = { sunTeeth, planetTeeth, module, held, drives };
      const made = builtShot('planetary', settings);
      const turned = apply(made.shot, setLink(made.shot, made.roles[drives] as string, 'frame * 0.5deg'));
      const evaluator = new Evaluator(compile(turned));
      const idOf = (name: string): string => made.slots[name]!;
      const sizes = { module, pressure: 20 };
      const place = (name: string, points: readonly (readonly [number, number])[]): Point[] => {
        const m = evaluator.worldOf(idOf(name))!;
        return points.map(([x, y]) => [m[0]! * x + m[1]! * y + m[3]!, m[4]! * x + m[5]! * y + m[7]!]);
      };
      const planets = Object.keys(made.slots).filter((slot) => /^Planet \d/.test(slot));
      expect(planets.length).toBeGreaterThan(2);
      let contact = 0;
      for (let frame = 0; frame <= 720; frame += 60) {
        evaluator.evaluate(frame);
        const sun = place('Sun gear', gearOutline({ ...sizes, teeth: sunTeeth }));
        const hollow = place('Planet ring', ringGearOutline({ ...sizes, teeth: sunTeeth + 2 * planetTeeth }));
        for (const name of planets) {
          const planet = place(name, gearOutline({ ...sizes, teeth: planetTeeth }));
          contact = Math.max(contact, deepest(planet, sun));
          for (const point of planet)
            if (!inside(hollow, point)) contact = Math.max(contact, fromEdge(hollow, point));
        }
      }
      expect(contact).toBeLessThan(module * 0.06);
    },
  );

  it.each([
    [20, 40, false],
    [17, 31, false],
    [17, 31, true],
    [20, 25, true],
  ])(
    'bevel gears of %s and %s teeth, the other way round: %s: tooth in gap where they meet',
    (z1, z2, reverse) => {
      const module = 0.1;
      const pair = built('gear-bevel', { teeth1: z1, teeth2: z2, module, reverse });
      for (let frame = 0; frame <= 720; frame += 37) {
        pair.at(frame);
        // They meet on the pitch line, at the big end: in the plane of both shafts.
        const [r1, r2] = [(module * z1) / 2, (module * z2) / 2];
        const [ox, oy, oz] = pair.world('Driver bevel', 0, 0, 0);
        /** Share of a pitch by which the next tooth of a gear stands beside the line where they meet. */
        const beside = (name: string, teeth: number, radius: number, height: number): number => {
          const places = Array.from({ length: teeth }, (_, i) => {
            const angle = (2 * Math.PI * i) / teeth;
            return pair.world(name, radius * Math.cos(angle), radius * Math.sin(angle), height);
          });
          const meet = [ox + r1, oy, oz + r2];
          const nearest = places.reduce((best, p) => (apart(p, meet) < apart(best, meet) ? p : best));
          // Both pitch circles run along y there.
          return (nearest[1] - oy) / ((2 * Math.PI * radius) / teeth);
        };
        const [one, two] = [beside('Driver bevel', z1, r1, r2), beside('Driven bevel', z2, r2, r1)];
        const off = one - two - 0.5;
        expect(Math.abs(off - Math.round(off)), `frame ${frame}`).toBeLessThan(0.02);
      }
    },
  );

  it.each([
    [1, 40, false],
    [3, 31, false],
    [2, 30, true],
  ])(
    'a worm of %s starts and its wheel of %s teeth, the other way round: %s: thread in gap',
    (starts, teeth, reverse) => {
      const [module, radius] = [0.05, 0.2];
      const pair = built('worm', { starts, teeth, module, radius, reverse });
      expect(pair.facts['centre distance']).toBeCloseTo(radius + (module * teeth) / 2, 12);
      const pitch = Math.PI * module;
      for (let frame = 0; frame <= 1440; frame += 61) {
        const evaluator = pair.at(frame);
        const [ox, , oz] = pair.world('Worm', 0, 0, 0);
        const wheelRadius = (module * teeth) / 2;
        const meet = [ox + radius, pair.world('Worm', 0, 0, 0)[1], oz];
        const teethAt = Array.from({ length: teeth }, (_, i) => {
          const angle = (2 * Math.PI * i) / teeth;
          return pair.world('Worm wheel', wheelRadius * Math.cos(angle), wheelRadius * Math.sin(angle));
        });
        const nearest = teethAt.reduce((best, p) => (apart(p, meet) < apart(best, meet) ? p : best));
        // In the direction of x the threads of a right-handed worm go down as it turns on.
        const turn = evaluator.number(`${pair.idOf('Worm')}/rotation.z`);
        const thread = ((reverse ? 1 : -1) * starts * pitch * turn) / 360;
        const off = (nearest[2] - oz - thread) / pitch - 0.5;
        expect(Math.abs(off - Math.round(off)), `frame ${frame}`).toBeLessThan(0.03);
      }
      const { helix } = pair.shapeOf('Worm wheel').values as { helix: number };
      expect(Math.tan((Math.abs(helix) * Math.PI) / 180)).toBeCloseTo((starts * module) / (2 * radius), 9);
      expect(Math.sign(helix)).toBe(reverse ? -1 : 1);
    },
  );
});

describe('belts, chains and ropes that are built', () => {
  it.each([false, true])('a belt runs as fast as both rims (crossed: %s)', (crossed) => {
    const drive = built('belt', { diameter1: 0.2, diameter2: 0.5, distance: 1, crossed });
    const run = drive.roles.band as string;
    const before = [drive.at(0).number(run), drive.valueOf('driven')];
    const after = [drive.at(720).number(run), drive.valueOf('driven')];
    expect(after[0]! - before[0]!).toBeCloseTo(Math.PI * 0.2, 9);
    const rim = (((after[1]! - before[1]!) * Math.PI) / 180) * 0.25;
    expect(rim).toBeCloseTo((crossed ? -1 : 1) * Math.PI * 0.2, 9);
    const pulleys = drive.shapeOf('Belt').pulleys as readonly Pulley[];
    expect(pathLength(pulleyPath(pulleys)!)).toBeCloseTo(drive.facts['belt length']!, 9);
  });

  it.each([
    [18, 36, 0.05, 1],
    [17, 23, 0.0127, 0.2],
  ])(
    'rollers lie in the gaps of both sprockets all along: %s and %s teeth',
    (teeth1, teeth2, pitch, distance) => {
      const drive = built('chain', { teeth1, teeth2, pitch, distance });
      const { pulleys, values } = drive.shapeOf('Chain');
      const { roller } = values as { roller: number };
      expect(drive.facts.links! % 2).toBe(0);
      // ISO 606 and Shigley, equation 17-34: links for a distance, to well under one.
      const [n1, n2, c] = [teeth1, teeth2, drive.facts['centre distance']! / pitch];
      const handbook = 2 * c + (n1 + n2) / 2 + (n2 - n1) ** 2 / (4 * Math.PI ** 2 * c);
      expect(Math.abs(drive.facts.links! - handbook)).toBeLessThan(0.2);
      for (let frame = 0; frame <= 720; frame += 41) {
        const run = drive.at(frame).number(drive.roles.band as string);
        const rollers = chainRollers(pulleys as readonly Pulley[], { pitch, roller, width: 0.01, run })!.map(
          ([x, y]) => drive.place('Chain', x, y),
        );
        for (const [name, teeth] of [
          ['Driver sprocket', teeth1],
          ['Driven sprocket', teeth2],
        ] as const) {
          const outline = sprocketOutline({ teeth, pitch, roller }).map(([x, y]) => drive.place(name, x, y));
          const middle = drive.place(name, 0, 0);
          const radius = sprocketRadius(pitch, teeth);
          const lying = rollers.filter((place) => Math.abs(apart(place, middle) - radius) < radius * 1e-6);
          expect(lying.length).toBeGreaterThan(teeth * 0.3);
          for (const place of lying) {
            expect(inside(outline, place)).toBe(false);
            expect(fromEdge(outline, place) / roller).toBeGreaterThan(0.98);
          }
        }
      }
    },
  );

  it('a rope over a pulley keeps its length, and its loads go by its rim', () => {
    const rope = built('rope', { radius: 0.25, hang: 1 }, 'frame * 0.1deg');
    const lengths = (frame: number): number[] => {
      rope.at(frame);
      return ['upRope', 'downRope', 'up', 'down'].map(rope.valueOf);
    };
    const [start, later] = [lengths(0), lengths(720)];
    expect(later[0]! + later[1]!).toBeCloseTo(start[0]! + start[1]!, 9);
    expect(later[2]! - start[2]!).toBeCloseTo((0.25 * 72 * Math.PI) / 180, 9);
    for (const side of ['Right', 'Left']) {
      const half = (side === 'Right' ? later[0]! : later[1]!) / 2;
      const low = rope.place(`${side} rope`, 0, -half);
      expect(apart(low, rope.place(`${side} load`, 0, 0))).toBeLessThan(1e-9);
    }
  });
});

describe('linkages that are built', () => {
  it('an eccentric: the ring of the strap stays round the disc', () => {
    const machine = built('eccentric', { throw: 0.05, rodLength: 0.6, offset: 0.03, phase: 40 });
    for (let frame = 0; frame <= 720; frame += 17) {
      machine.at(frame);
      expect(apart(machine.place('Strap ring', 0, 0), machine.place('Eccentric disc', 0, 0))).toBeLessThan(
        1e-9,
      );
    }
  });

  it('a four-bar: coupler and rocker meet at their pin, open or crossed', () => {
    for (const crossed of [false, true]) {
      const settings: Settings = {
        crank: 0.2,
        couplerLength: 0.6,
        rockerLength: 0.4,
        ground: 0.5,
        crossed,
        phase: 25,
      };
      const machine = built('four-bar', settings);
      for (let frame = 0; frame <= 720; frame += 17) {
        machine.at(frame);
        const [coupler, rocker] = [machine.place('Coupler', 0.3, 0), machine.place('Rocker', 0.2, 0)];
        expect(apart(coupler, rocker)).toBeLessThan(1e-9);
        expect(apart(machine.place('Crank bar', 0.1, 0), machine.place('Coupler', -0.3, 0))).toBeLessThan(
          1e-9,
        );
      }
    }
  });

  it('a scotch yoke keeps its slot over the pin, and its way is a sine', () => {
    const machine = built('scotch-yoke', { throw: 0.2, phase: 30 });
    for (let frame = 0; frame <= 720; frame += 17) {
      machine.at(frame);
      expect(machine.place('Yoke', 0, 0)[0]).toBeCloseTo(machine.place('Yoke pin', 0, 0)[0], 9);
      expect(machine.valueOf('yoke')).toBeCloseTo(0.2 * Math.cos(((frame / 2 + 30) * Math.PI) / 180), 9);
    }
  });

  it.each([3, 4, 7])(
    'the pin within a wheel of %s slots that open inwards runs in its slot, and clear of it at rest',
    (slots) => {
      const wheel = built('intermittent', { slots, distance: 0.5, phase: 0, inner: true });
      const points = (ring: readonly number[]): Point[] =>
        Array.from({ length: ring.length / 2 }, (_, i): Point => [ring[i * 2]!, ring[i * 2 + 1]!]);
      const { outline } = wheel.shapeOf('Slotted wheel');
      const [outer, hole] = [outline![0]!.outer, outline![0]!.holes[0]!].map(points);
      const pin = wheel.shapeOf('Crank pin').values.radius as number;
      for (let frame = 0; frame < 1440; frame += 7) {
        wheel.at(frame);
        const at = wheel.place('Crank pin', 0, 0);
        const edge = hole!.map(([x, y]) => wheel.place('Slotted wheel', x, y));
        // It is in the opening or a slot of it, and nothing of the wheel comes into it.
        expect(inside(edge, at), `frame ${frame}`).toBe(true);
        expect(fromEdge(edge, at), `frame ${frame}`).toBeGreaterThan(pin * 0.93);
      }
      expect(Math.min(...outer!.map(([x, y]) => Math.hypot(x, y)))).toBeGreaterThan(
        0.5 * (1 + Math.sin(Math.PI / slots)),
      );
    },
  );

  it('a toggle: its second link ends in the block', () => {
    const machine = built('toggle', { link: 0.4 }, '60deg * wave(frame / 80)');
    for (let frame = 0; frame <= 80; frame += 7) {
      machine.at(frame);
      const end = machine.place('Toggle link', 0.2, 0);
      expect(apart(end, machine.place('Toggle block', 0, 0))).toBeLessThan(1e-9);
    }
  });

  it('a pantograph: arms meet in the tracer and in the pen, which goes so many times as far', () => {
    const machine = built('pantograph', { arm: 0.8, ratio: 2.5 }, '0.4m + 0.1m * wave(frame / 60)');
    const short = 0.8 / 2.5;
    for (let frame = 0; frame <= 60; frame += 5) {
      machine.at(frame);
      const [tracer, pen] = [machine.place('Tracer', 0, 0), machine.place('Pen', 0, 0)];
      expect(apart(machine.place('Tracing arm', short / 2, 0), tracer)).toBeLessThan(1e-9);
      expect(apart(machine.place('Far arm', 0.4, 0), pen)).toBeLessThan(1e-9);
      // The parallel arm ends on the far one, as far from the knee as the tracing arm is long.
      const end = machine.place('Parallel arm', (0.8 - short) / 2, 0);
      expect(apart(end, machine.place('Far arm', short - 0.4, 0))).toBeLessThan(1e-9);
      const foot = machine.place('Pantograph', 0, 0);
      expect(apart(pen, foot)).toBeCloseTo(2.5 * apart(tracer, foot), 9);
    }
  });

  it.each([20, -50])(
    'a universal joint bent by %s degrees: the cross lies in both yokes, its speed is the handbook one',
    (bend) => {
      const machine = built('universal', { bend, radius: 0.05 });
      const direction = (name: string, x: number, y: number): number[] => {
        const [from, to] = [machine.world(name, 0, 0, 0), machine.world(name, x, y, 0)];
        return to.map((value, i) => value - from[i]!);
      };
      const turns: number[] = [];
      for (let frame = 0; frame <= 1440; frame += 1) {
        machine.at(frame);
        turns.push(machine.valueOf('driven'));
        if (frame % 31 !== 0) continue;
        const [pin, yoke] = [direction('Cross', 0, 1), direction('Output shaft', 0, 1)];
        expect(apart(pin, yoke)).toBeLessThan(1e-9);
        expect(apart(direction('Cross', 1, 0), direction('Input shaft', 1, 0))).toBeLessThan(1e-9);
      }
      // Two turns of the input are two of the output.
      expect(turns.at(-1)! - turns[0]!).toBeCloseTo(720, 6);
      // Norton, "Design of Machinery", chapter 10: the speed goes from cos(bend) to 1 / cos(bend).
      const speeds = turns.slice(1).map((value, i) => (value - turns[i]!) / 0.5);
      expect(Math.max(...speeds)).toBeCloseTo(1 / Math.cos((bend * Math.PI) / 180), 3);
      expect(Math.min(...speeds)).toBeCloseTo(Math.cos((bend * Math.PI) / 180), 3);
    },
  );

  it('a spring ends under its plate', () => {
    const machine = built('spring', {}, '0.6m + 0.1m * wave(frame / 40)');
    for (let frame = 0; frame <= 40; frame += 7) {
      machine.at(frame);
      const top = machine.world('Spring', 0, machine.valueOf('spring'), 0);
      expect(apart(top, machine.world('Spring plate', 0, 0, 0))).toBeLessThan(1e-9);
    }
  });

  it('a hinge goes to its stops and no further', () => {
    const machine = built('hinge', { least: -10, most: 95 }, 'frame * 1deg - 60deg');
    expect([0, 60, 120, 300].map((frame) => (machine.at(frame), machine.valueOf('driven')))).toEqual([
      -10, 0, 60, 95,
    ]);
  });

  it.each([16, 23])('the tip of a pawl runs over %s teeth and never through them', (teeth) => {
    const settings = { teeth, radius: 0.4, depth: 0.05, pawl: 0.3 };
    const machine = built('ratchet', settings, 'frame * 0.37deg');
    const ring = machine.shapeOf('Ratchet wheel').outline![0]!.outer;
    const outline = Array.from({ length: ring.length / 2 }, (_, i): Point => [
      ring[i * 2]!,
      ring[i * 2 + 1]!,
    ]);
    for (let frame = 0; frame <= 240; frame += 3) {
      machine.at(frame);
      const wheel = outline.map(([x, y]) => machine.place('Ratchet wheel', x, y));
      const tip = machine.place('Holding pawl', -0.3, 0);
      // It swings a little to the side as it is lifted.
      expect(fromEdge(wheel, tip)).toBeLessThan(0.05 * 0.3);
      if (inside(wheel, tip)) expect(fromEdge(wheel, tip)).toBeLessThan(0.05 * 0.12);
    }
  });

  it('a lever turns its ratchet by whole teeth of its strokes forward, and its pawl lies on the teeth', () => {
    // 16 teeth of 22.5 degrees: of a stroke of 50 degrees two count, after the first one.
    const machine = built('ratchet', { by: 'lever' }, '50deg * (1 - cos(360deg * frame / 80)) / 2');
    const turned = Array.from({ length: 241 }, (_, i) => (machine.at(i), machine.valueOf('wheel')));
    turned.slice(2).forEach((value, i) => expect(value).toBeGreaterThanOrEqual(turned[i + 1]! - 1e-9));
    expect(turned[160]! - turned[80]!).toBeCloseTo(45, 6);
    expect(turned[240]! - turned[160]!).toBeCloseTo(45, 6);
    expect(turned[80]! - turned[40]!).toBeCloseTo(0, 6);
    const ring = machine.shapeOf('Ratchet wheel').outline![0]!.outer;
    const outline = Array.from({ length: ring.length / 2 }, (_, i): Point => [
      ring[i * 2]!,
      ring[i * 2 + 1]!,
    ]);
    for (let frame = 1; frame <= 240; frame += 3) {
      machine.at(frame);
      const wheel = outline.map(([x, y]) => machine.place('Ratchet wheel', x, y));
      for (const pawl of ['Holding pawl', 'Driving pawl'])
        expect(fromEdge(wheel, machine.place(pawl, -0.35, 0)), `${pawl} at ${frame}`).toBeLessThan(
          0.06 * 0.3,
        );
    }
  });
});
