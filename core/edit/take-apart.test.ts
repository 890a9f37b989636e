import { describe, expect, it } from 'vitest';
import { blankShot, type Shot } from '../document';
import { compile, Evaluator } from '../evaluate';
import { addPart, apply, invert, keyChannels, setLink, takeApart, type TakingApart } from './index';

function scene(): { shot: Shot; ids: string[] } {
  let shot = blankShot({ last: 200 });
  const add = (name: string, parent: string | null, values: Record<string, number>): string => {
    const { change, id } = addPart(shot, { kind: 'hub', name, parent, values });
    shot = apply(shot, change);
    return id;
  };
  // A winch frame that lies turned and at twice its size: ways are of the world all the same.
  const frame = add('Winch', null, {
    'rotation.y': 90,
    'scale.x': 2,
    'scale.y': 2,
    'scale.z': 2,
    'location.x': 3,
  });
  const ids = [
    add('Pawl', frame, { 'location.x': -0.5 }),
    add('Ratchet', frame, {}),
    add('Drum', frame, { 'location.x': 0.5 }),
  ];
  return { shot, ids };
}

const worldAt = (shot: Shot, part: string, frame: number): number[] => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  const m = evaluator.worldOf(part)!;
  return [m[3]!, m[7]!, m[11]!];
};
const OPTIONS: Omit<TakingApart, 'parts'> = {
  way: 'y',
  distance: 1,
  more: 0.5,
  first: 10,
  length: 20,
  stagger: 5,
  manner: 'ease-in-out',
  back: 12,
};

describe('taking apart', () => {
  it('parts leave one after another by ways of the world, and come back in mirror, as one undo', () => {
    const { shot, ids } = scene();
    const change = takeApart(shot, { ...OPTIONS, parts: ids });
    const apart = apply(shot, change);
    expect(apply(apart, invert(change))).toEqual(shot);
    ids.forEach((id, i) => {
      const home = worldAt(shot, id, 1);
      const up = (frame: number): number => worldAt(apart, id, frame)[1]! - home[1]!;
      // Leaves at 10, 15, 20, arrives 20 later; all are apart at 40, stay 12, and the last that left comes first.
      expect(up(10 + 5 * i)).toBeCloseTo(0, 9);
      expect(up(20 + 5 * i)).toBeCloseTo((1 + 0.5 * i) / 2, 6);
      for (const frame of [30 + 5 * i, 40, 52]) expect(up(frame)).toBeCloseTo(1 + 0.5 * i, 9);
      expect(up(52 + 5 * (2 - i))).toBeCloseTo(1 + 0.5 * i, 9);
      expect(up(72 + 5 * (2 - i))).toBeCloseTo(0, 9);
      expect(worldAt(apart, id, 45)[0]).toBeCloseTo(home[0]!, 9);
      // To and fro are each other's mirror about the middle of the stay, 46.
      for (const away of [8, 13.5, 20]) expect(up(46 - away)).toBeCloseTo(up(46 + away), 9);
    });
  });
  it('they fade and change colour on the way, each at its time, and look as before at home', () => {
    let shot = blankShot({ last: 200 });
    const add = (kind: 'solid' | 'hub', name: string, parent: string | null): string => {
      const made = addPart(
        shot,
        kind === 'solid'
          ? { kind, shape: { kind: 'ball', values: {} }, name, parent }
          : { kind, name, parent },
      );
      shot = apply(shot, made.change);
      return made.id;
    };
    const [drum, frame, standing] = [
      add('solid', 'Drum', null),
      add('hub', 'Frame', null),
      add('solid', 'Post', null),
    ];
    const [rivet, twin] = [add('solid', 'Rivet', frame), add('solid', 'Twin rivet', frame)];
    // One look for all three: what travels must not colour what stands.
    const paint = shot.parts[drum]!.look!;
    const parts = { ...shot.parts };
    for (const id of [rivet, twin, standing]) parts[id] = { ...parts[id]!, look: paint };
    shot = { ...shot, parts };
    const options = { ...OPTIONS, parts: [drum, frame], opacity: 0.2, colour: [0.8, 0.1, 0] as const };
    const change = takeApart(shot, options);
    const apart = apply(shot, change);
    expect(apply(apart, invert(change))).toEqual(shot);
    // Parts that travel together go on sharing a look.
    expect(apart.parts[twin]!.look).toBe(apart.parts[rivet]!.look);
    expect(new Set([drum, rivet, standing].map((id) => apart.parts[id]!.look)).size).toBe(3);
    const evaluator = new Evaluator(compile(apart));
    const seen = (id: string, frame: number): number[] => {
      evaluator.evaluate(frame);
      return [evaluator.number(`${id}/opacity`), ...evaluator.colour(`${apart.parts[id]!.look!}/colour`)];
    };
    const paintNow = new Evaluator(compile(shot));
    paintNow.evaluate(1);
    const home = [1, ...paintNow.colour(`${paint}/colour`)];
    const close = (numbers: readonly number[]) => numbers.map((x) => expect.closeTo(x, 9) as number);
    for (const [id, later] of [
      [drum, 0],
      [rivet, 5],
      [twin, 5],
    ] as const) {
      expect(seen(id, 10 + later)).toEqual(close(home));
      expect(seen(id, 30 + later)).toEqual(close([0.2, 0.8, 0.1, 0]));
      expect(seen(id, 47)).toEqual(close([0.2, 0.8, 0.1, 0]));
      expect(seen(id, 120)).toEqual(close(home));
    }
    for (const frame of [10, 40, 120]) expect(seen(standing, frame)).toEqual(close(home));
    expect(() => takeApart(shot, { ...options, opacity: 2 })).toThrow('from 0 to 1');
    const linked = apply(shot, setLink(shot, `${paint}/colour`, '#102030'));
    expect(() => takeApart(linked, options)).toThrow('is linked');
  });
  it('all at once, and back without a stay', () => {
    const { shot, ids } = scene();
    const apart = apply(shot, takeApart(shot, { ...OPTIONS, parts: ids, stagger: 0, back: 0 }));
    for (const id of ids) {
      const up = (frame: number): number => worldAt(apart, id, frame)[1]!;
      expect([up(10), up(50)].map((value) => Math.round(value * 1e9))).toEqual([0, 0]);
      expect(up(30 - 7)).toBeCloseTo(up(30 + 7), 9);
      expect(up(30)).toBeGreaterThan(0.9);
    }
  });
  it('out is away from the common middle; what stands there goes up', () => {
    const { shot, ids } = scene();
    const apart = apply(shot, takeApart(shot, { ...OPTIONS, more: 0, way: 'out', parts: ids }));
    const way = (id: string): number[] => {
      const [from, to] = [worldAt(shot, id, 1), worldAt(apart, id, 45)];
      return to.map((value, k) => Math.round((value - from[k]!) * 1e6) / 1e6);
    };
    // The frame's x axis points along -z of the world.
    expect(ids.map(way)).toEqual([
      [0, 0, 1],
      [0, 1, 0],
      [0, 0, -1],
    ]);
    const own = apply(shot, takeApart(shot, { ...OPTIONS, way: 'own x', parts: [ids[1]!], back: null }));
    expect(worldAt(own, ids[1]!, 100).map((value) => Math.round(value * 1e6) / 1e6)).toEqual([3, 0, -1]);
  });
  it('goes on from where a part has been keyed to, and refuses what would be lost', () => {
    const { shot, ids } = scene();
    const [pawl = '', ratchet = '', drum = ''] = ids;
    const keyed = apply(shot, keyChannels(shot, 5, [[`${pawl}/location.y`, 0.25]]));
    const apart = apply(keyed, takeApart(keyed, { ...OPTIONS, parts: [pawl] }));
    expect(worldAt(apart, pawl, 10)[1]).toBeCloseTo(0.5, 9);
    expect(worldAt(apart, pawl, 35)[1]).toBeCloseTo(1.5, 9);
    const later = apply(shot, keyChannels(shot, 50, [[`${ratchet}/location.y`, 1]]));
    expect(() => takeApart(later, { ...OPTIONS, parts: [ratchet] })).toThrow(
      /has a key at frame 50, behind frame 10/,
    );
    const linked = apply(shot, setLink(shot, `${drum}/location.y`, 'frame * 1mm'));
    expect(() => takeApart(linked, { ...OPTIONS, parts: [drum] })).toThrow(/is linked/);
    // Along x of the world, location y has nothing to do with it.
    expect(() => takeApart(linked, { ...OPTIONS, way: 'x', parts: [drum] })).not.toThrow();
    const winch = shot.parts[drum]!.parent!;
    expect(() => takeApart(shot, { ...OPTIONS, parts: [winch, drum] })).toThrow(/hangs below Winch/);
    expect(() => takeApart(shot, { ...OPTIONS, parts: [] })).toThrow(/Choose the parts/);
    expect(() => takeApart(shot, { ...OPTIONS, length: 0, parts: [drum] })).toThrow(/1 to/);
  });
});
