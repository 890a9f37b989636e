import { describe, expect, it } from 'vitest';
import { camOutline, gearOutline } from '../../shape';
import { rackOutline } from '../../shape/flat';
import { apply } from '../../edit';
import { camLift } from '../../mechanism';
import { built, fromEdge, inside, type Point } from '../../testing/built-recipe';
import { emptyShot } from '../../testing/random-shot';
import { applyRecipe, buildParts, RECIPES, type Settings } from '..';

/** Edge of a cam that was built. */
const camPoints = (values: Readonly<Record<string, unknown>>): Point[] =>
  camOutline(values as unknown as Parameters<typeof camOutline>[0]).map(([x, y]) => [x, y]);

describe('parts built to the numbers of a recipe', () => {
  it.each([0, 37])(
    'gears of 16 and 56 teeth, %s degrees apart, never overlap in a whole turn of the wheel',
    (direction) => {
      const module = 0.1;
      const gears = built('gear-outer', { teeth1: 16, teeth2: 56, module, direction });
      expect(gears.facts['centre distance']).toBeCloseTo(3.6, 12);
      const outline = (teeth: number): Point[] => gearOutline({ teeth, module, pressure: 20 });
      const [pinion, wheel] = [outline(16), outline(56)];
      let contact = 0;
      // A turn of the wheel is three and a half of the pinion: 2520 half degrees.
      for (let frame = 0; frame <= 2520; frame += 7) {
        gears.at(frame);
        const a = pinion.map(([x, y]) => gears.place('Driver gear', x, y));
        const b = wheel.map(([x, y]) => gears.place('Driven gear', x, y));
        const [cx, cy] = gears.place('Driver gear', 0, 0);
        const near = b.filter(([x, y]) => Math.hypot(x - cx, y - cy) < module * 9.2);
        for (const point of near)
          if (inside(a, point)) {
            const depth = fromEdge(a, point);
            contact = Math.max(contact, depth);
          }
      }
      // Flanks touch: their straight pieces between computed points may dip by a share of a hundredth of the module.
      expect(contact).toBeLessThan(module * 0.012);
    },
  );

  it('a gear pair half a tooth out of phase does overlap, so that the check above can fail', () => {
    const module = 0.1;
    const gears = built('gear-outer', { teeth1: 16, teeth2: 56, module, direction: 0 });
    gears.at(0);
    const half = Math.PI / 56;
    const pinion = gearOutline({ teeth: 16, module, pressure: 20 }).map(([x, y]) =>
      gears.place('Driver gear', x, y),
    );
    const wheel = gearOutline({ teeth: 56, module, pressure: 20 }).map(([x, y]) =>
      gears.place(
        'Driven gear',
        x * Math.cos(half) - y * Math.sin(half),
        x * Math.sin(half) + y * Math.cos(half),
      ),
    );
    const deepest = Math.max(
      ...wheel.filter((point) => inside(pinion, point)).map((point) => fromEdge(pinion, point)),
    );
    expect(deepest).toBeGreaterThan(module * 0.2);
  });

  it.each([17, 20])('a pinion of %s teeth and its rack never overlap in a whole turn', (teeth) => {
    const module = 0.05;
    const pair = built('rack', { teeth, module, reverse: false });
    const sizes = { module, pressure: 20 };
    const [pinion, rack] = [
      gearOutline({ ...sizes, teeth }),
      rackOutline({ ...sizes, teeth: teeth * 2, back: module * 2 }),
    ];
    /** How deep the deepest corner of one lies in the other. */
    const deepest = (shifted: number): number => {
      const a = pinion.map(([x, y]) => pair.place('Pinion', x, y));
      const b = rack.map(([x, y]) => pair.place('Rack', x + shifted, y));
      const [cx, cy] = pair.place('Pinion', 0, 0);
      const reach = (teeth / 2 + 1.01) * module;
      return Math.max(
        0,
        ...b
          .filter(([x, y]) => Math.hypot(x - cx, y - cy) < reach && inside(a, [x, y]))
          .map((p) => fromEdge(a, p)),
        ...a.filter((p) => inside(b, p)).map((p) => fromEdge(b, p)),
      );
    };
    let contact = 0;
    for (let frame = 0; frame <= 720; frame += 7) {
      pair.at(frame);
      contact = Math.max(contact, deepest(0));
    }
    expect(contact).toBeLessThan(module * 0.012);
    expect(deepest((Math.PI * module) / 2)).toBeGreaterThan(module * 0.2);
    // A turn of the pinion moves the rack by the length of its pitch circle (Shigley, chapter 13).
    const rackAt = (frame: number): number => pair.at(frame).number(`${pair.idOf('Rack')}/location.x`);
    expect(rackAt(720) - rackAt(0)).toBeCloseTo(Math.PI * module * teeth, 9);
  });

  it.each([
    [[12, 30, 18], false, ['Train driver', 'Train gear 1', 'Train gear 2']],
    [[12, 30, 10, 25], true, ['Train driver', 'Train gear 1']],
    [[12, 30, 10, 25], true, ['Train pinion 1', 'Train gear 2']],
  ] as const)('gears of a train %j (two on a shaft: %s) mesh: %j', (teeth, compound, meshed) => {
    const module = 0.05;
    const train = built('train', { teeth: [...teeth], compound });
    const teethOf = (name: string): number =>
      train.shot.shapes[train.shot.parts[train.idOf(name)]!.shape!]!.values.teeth as number;
    let contact = 0;
    for (let frame = 0; frame <= 720; frame += 11) {
      train.at(frame);
      const outlines = meshed.map((name) =>
        gearOutline({ teeth: teethOf(name), module, pressure: 20 }).map(([x, y]) => train.place(name, x, y)),
      );
      outlines.slice(1).forEach((next, i) => {
        for (const point of next)
          if (inside(outlines[i]!, point)) contact = Math.max(contact, fromEdge(outlines[i]!, point));
      });
    }
    // Gears of few teeth are cut under at the root, where the tip of the other goes: common practice.
    expect(contact).toBeLessThan(module * 0.06);
  });

  it('the rod of a crank reaches from the piston to the crank pin all round, offset or not', () => {
    for (const offset of [0, 0.05]) {
      const crank = built('crank-slider', { throw: 0.2, rodLength: 0.6, offset, phase: 0 });
      for (let frame = 0; frame < 720; frame += 7) {
        crank.at(frame);
        const pin = crank.place('Crank', 0.2, 0);
        const end = crank.place('Rod', -0.3, 0);
        expect(Math.hypot(pin[0] - end[0], pin[1] - end[1])).toBeLessThan(1e-9);
      }
    }
  });

  it('the foot of a follower stands on the edge of its cam, and its lift is the law', () => {
    const settings = { law: 'cycloidal', lift: 0.1, rise: 120, dwell: 40, fall: 90, phase: 25 };
    const cam = built('cam', settings);
    const points = camPoints(cam.shapeOf('Cam').values);
    const rest =
      cam.at(0).number(`${cam.idOf('Follower')}/location.y`) - camLift('cycloidal', 25, 0.1, 120, 40, 90);
    for (let frame = 0; frame < 720; frame += 11) {
      const evaluator = cam.at(frame);
      const lift = evaluator.number(`${cam.idOf('Follower')}/location.y`) - rest;
      expect(lift).toBeCloseTo(camLift('cycloidal', frame / 2 + 25, 0.1, 120, 40, 90), 12);
      const follower = evaluator.worldOf(cam.idOf('Follower'))!;
      const length = cam.shapeOf('Follower').values.height as number;
      const foot: Point = [follower[3]!, follower[7]! - length / 2];
      const edge = points.map(([x, y]) => cam.place('Cam', x, y));
      expect(fromEdge(edge, foot)).toBeLessThan(5e-5);
    }
  });

  it.each([
    ['roller', 0.03],
    ['flat foot', 0.03],
  ])('a %s runs on its cam all round and never in it', (foot, roller) => {
    const settings = {
      law: '3-4-5',
      lift: 0.08,
      rise: 110,
      dwell: 40,
      fall: 120,
      phase: 25,
      foot,
      base: 0.16,
      roller,
    };
    const cam = built('cam', settings);
    const points = camPoints(cam.shapeOf('Cam').values);
    for (let frame = 0; frame < 720; frame += 11) {
      cam.at(frame);
      const [x, y] = cam.place('Follower', 0, -(0.16 * 1.6) / 2);
      const edge = points.map(([px, py]) => cam.place('Cam', px, py));
      // The edge is made of 360 straight pieces.
      if (foot === 'roller') expect(Math.abs(fromEdge(edge, [x, y]) - roller)).toBeLessThan(6e-5);
      else expect(Math.abs(y - Math.max(...edge.map(([, height]) => height)))).toBeLessThan(6e-5);
    }
    expect(cam.facts['least radius of the edge']).toBeGreaterThan(0);
  });

  it('a cam is refused whose lift goes through its axis, and warned of where its sides are steep', () => {
    const settings = {
      law: '3-4-5',
      lift: 0.1,
      rise: 40,
      dwell: 40,
      fall: 120,
      phase: 0,
      foot: 'roller',
      base: 0.05,
      roller: 0.02,
    };
    const shot = emptyShot();
    const parts = buildParts(shot, 'cam', settings);
    const made = (more: Settings) =>
      applyRecipe(apply(shot, parts.change), RECIPES.get('cam')!, parts.roles, { ...settings, ...more });
    expect(made({}).written.warnings![0]).toMatch(/pressure angle goes up to \d+(\.\d+)? degrees/);
    expect(made({ rise: 140, base: 0.3 }).written.warnings).toEqual([]);
    expect(() => made({ lift: -0.06 })).toThrow('the base radius must be above 6');
  });

  it('the pin of a slotted wheel runs in a slot while it turns, and stays clear of it at rest', () => {
    const wheel = built('intermittent', { slots: 6, distance: 0.5, phase: 0 });
    const { outline } = Object.values(wheel.shot.shapes).find((shape) => shape.outline)!;
    const flat = outline![0]!.outer;
    const points = Array.from({ length: flat.length / 2 }, (_, i): Point => [flat[i * 2]!, flat[i * 2 + 1]!]);
    for (let frame = 0; frame < 1440; frame += 5) {
      wheel.at(frame);
      const pin = wheel.place('Crank pin', 0, 0);
      const edge = points.map(([x, y]) => wheel.place('Slotted wheel', x, y));
      expect(inside(edge, pin), `frame ${frame}`).toBe(false);
    }
  });
});
