import { describe, expect, it } from 'vitest';
import { checkShot } from '../core/check';
import { parseShot, type Shot } from '../core/document';
import { fileKind } from '../core/format';
import { compile, Evaluator, type Plan } from '../core/evaluate';
import { loudnessOf } from '../core/sound';
import { DEMO_SHOTS } from './index';
import { organTune } from './tune';

/** How loud the sounds of a demo shot are, from the numbers in their WAV file. */
const heard = (() => {
  const { bytes } = organTune();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const rate = view.getUint32(24, true);
  // Both channels are alike: the left one.
  const samples = Float32Array.from(
    { length: (bytes.byteLength - 44) / 4 },
    (_, i) => view.getInt16(44 + i * 4, true) / 32_768,
  );
  return { ...loudnessOf(samples, rate), seconds: samples.length / rate };
})();
const planned = (shot: Shot): Plan =>
  compile(shot, Object.fromEntries(Object.keys(shot.sounds).map((id) => [id, heard])));

describe.each(DEMO_SHOTS)('demo shot $name', ({ build, files }) => {
  const shot = build();
  it('is a sound document, the same each time', () => {
    expect(parseShot(JSON.parse(JSON.stringify(shot))).ok).toBe(true);
    expect(build()).toEqual(shot);
  });
  it('has nothing that the checks would tell', () => {
    expect(checkShot(shot, planned(shot)).map((problem) => problem.message)).toEqual([]);
    const plan = compile(shot);
    expect(plan.links.length).toBe(plan.order.length);
  });
  it('brings every file that it shows', () => {
    const wanted = [
      ...Object.values(shot.looks).flatMap((look) =>
        Object.values(look.pictures ?? {}).map((picture) => picture.asset),
      ),
      ...Object.values(shot.sounds).flatMap((sound) => sound.asset ?? []),
    ];
    expect(new Set(files().map((file) => file.hash))).toEqual(new Set(wanted));
    for (const file of files())
      expect(fileKind(file.bytes)).toEqual(
        file.name.endsWith('.wav')
          ? { kind: 'sound', type: 'audio/wav' }
          : { kind: 'picture', type: 'image/png' },
      );
  });
});

const at = (shot: Shot, frame: number): Evaluator => {
  const evaluator = new Evaluator(planned(shot));
  evaluator.evaluate(frame);
  return evaluator;
};
const partNamed = (shot: Shot, name: string): string =>
  Object.keys(shot.parts).find((id) => shot.parts[id]!.name === name)!;

describe('ticket box', () => {
  // Six square layers folded into a box: 24 corners on 8 points, three to each (derived from the affine composition of
  // Foley and van Dam, ch. 5; half a side is 2.5 m).
  it('closes: the corners of its cards fall on eight points, three on each', () => {
    const shot = DEMO_SHOTS.find((entry) => entry.name === 'Ticket box')!.build();
    const evaluator = at(shot, 125);
    const found = new Map<string, number>();
    for (const [id, part] of Object.entries(shot.parts)) {
      if (!part.name.endsWith(' card')) continue;
      const m = evaluator.worldOf(id)!;
      for (const x of [-2.5, 2.5])
        for (const y of [-2.5, 2.5]) {
          const point = [0, 4, 8].map((row) => m[row]! * x + m[row + 1]! * y + m[row + 3]!);
          const key = point.map((value) => (Math.round(value * 1e9) / 1e9 + 0).toFixed(6)).join(' ');
          found.set(key, (found.get(key) ?? 0) + 1);
        }
    }
    expect([...found.values()]).toEqual(Array(8).fill(3));
    const heights = new Set([...found.keys()].map((key) => key.split(' ')[1]));
    expect(heights).toEqual(new Set(['0.000000', '5.000000']));
  });
});

describe('full ride', () => {
  const shot = DEMO_SHOTS.find((entry) => entry.name === 'Full ride')!.build();
  const apart = (
    m: Float64Array,
    local: readonly number[],
    n: Float64Array,
    other: readonly number[],
  ): number =>
    Math.hypot(
      ...[0, 4, 8].map(
        (row) =>
          [0, 1, 2].reduce((sum, k) => sum + m[row + k]! * local[k]! - n[row + k]! * other[k]!, 0) +
          m[row + 3]! -
          n[row + 3]!,
      ),
    );
  it('closes: one round from rest to rest, with everything that hangs on it', () => {
    expect(checkShot(shot, planned(shot), { loops: true }).map((problem) => problem.message)).toEqual([]);
    const deck = `${partNamed(shot, 'Deck')}/rotation.y`;
    expect(at(shot, 193).number(deck) - at(shot, 1).number(deck)).toBeCloseTo(360, 9);
  });
  it('each rod stays on the pin of its crank, and swings to both sides', () => {
    for (let i = 1; i <= 8; i++) {
      const [rod, crank] = [partNamed(shot, `Rod ${i}`), partNamed(shot, `Crank ${i}`)];
      const swing: number[] = [];
      for (let frame = 1; frame <= 193; frame += 6.4) {
        const evaluator = at(shot, frame);
        const [m, n] = [evaluator.worldOf(rod)!, evaluator.worldOf(crank)!];
        expect(apart(m, [0, 0.31, 0], n, [0, -0.22, 0])).toBeLessThan(1e-9);
        swing.push(evaluator.number(`${rod}/rotation.z`));
      }
      // The rod leans most where the crank stands across: asin(throw / rod) (common practice).
      expect(Math.max(...swing)).toBeGreaterThan(18);
      expect(Math.min(...swing)).toBeLessThan(-18);
      expect(Math.max(...swing)).toBeLessThan((Math.asin(0.22 / 0.62) * 180) / Math.PI + 1e-9);
    }
  });
  it('the boats rise and fall an eighth of a turn after one another', () => {
    const evaluator = at(shot, 60);
    const turns = Array.from({ length: 8 }, (_, i) =>
      evaluator.number(`${partNamed(shot, `Crank ${i + 1}`)}/rotation.z`),
    );
    turns.forEach((turn, i) => expect(turn - turns[0]!).toBeCloseTo(45 * i, 9));
  });
  it('the hammer lies on its tappet, is lifted by the cam and falls once for each turn of the shaft', () => {
    const [tappet, hammer, shaft] = [
      partNamed(shot, 'Tappet'),
      partNamed(shot, 'Hammer'),
      partNamed(shot, 'Organ shaft'),
    ];
    let strokes = 0;
    let before = 0;
    for (let frame = 1; frame <= 193; frame++) {
      const evaluator = at(shot, frame);
      const [top, arm] = [evaluator.worldOf(tappet)!, evaluator.worldOf(hammer)!];
      const lift = evaluator.number(`${tappet}/location.y`) - 0.29;
      expect(apart(top, [0, 0.15, 0], arm, [Math.hypot(0.22, lift), 0, 0])).toBeLessThan(1e-9);
      const raised = evaluator.number(`${hammer}/rotation.z`);
      if (raised < 1e-9 && before > 1e-9) strokes += 1;
      before = raised;
    }
    const [start, end] = [1, 193].map((frame) => at(shot, frame).number(`${shaft}/rotation.z`));
    expect(end! - start!).toBeCloseTo(4 * 360, 9);
    expect(strokes).toBe(4);
  });
  it('one dial makes all lamps darker, another makes organ and bell slower', () => {
    const slower = (name: string, value: number): Shot => {
      const [id, dial] = Object.entries(shot.dials).find(([, entry]) => entry.name === name)!;
      return { ...shot, dials: { ...shot.dials, [id]: { ...dial, values: { value } } } };
    };
    const glows = (of: Shot): number[] =>
      Object.entries(of.looks)
        .filter(([, look]) => look.links.glow)
        .map(([id]) => at(of, 50).number(`${id}/glow`));
    expect(glows(shot).length).toBeGreaterThan(1);
    expect(Math.min(...glows(shot))).toBeGreaterThan(0);
    expect(glows(slower('brightness', 0))).toEqual(glows(shot).map(() => 0));
    const shaft = `${partNamed(shot, 'Organ shaft')}/rotation.z`;
    expect(at(slower('speed', 0.25), 97).number(shaft)).toBeCloseTo(at(shot, 97).number(shaft) / 2, 9);
  });
});

describe('hoop run', () => {
  const shot = DEMO_SHOTS.find((entry) => entry.name === 'Hoop run')!.build();
  it('rolls without slipping: its turn is the way gone over its radius', () => {
    const [way, hoop] = [partNamed(shot, 'Hoop way'), partNamed(shot, 'Hoop')];
    for (const frame of [1, 40, 99.5, 144]) {
      const evaluator = at(shot, frame);
      const turned = (-evaluator.number(`${way}/location.x`) / 0.5) * (180 / Math.PI);
      expect(evaluator.number(`${hoop}/rotation.y`)).toBeCloseTo(turned, 6);
    }
  });
  it('each bounce is as high as its share of the fall, and it falls by half g t squared between', () => {
    const way = partNamed(shot, 'Hoop way');
    const track = Object.values(shot.parts[way]!.tracks['location.y']!.keys).sort(
      (a, b) => a.frame - b.frame,
    );
    const tops = track.filter((key) => (key.value as number) > 0).map((key) => key.value as number);
    tops.forEach((top, n) => expect(top).toBeCloseTo(2 * 0.75 ** (2 * n), 9));
    const impact = track[1]!.frame;
    const half = (1 + impact) / 2;
    expect(at(shot, half).number(`${way}/location.y`)).toBeCloseTo(1.5, 6);
  });
  it('stays on the floor while it is squashed', () => {
    const squash = partNamed(shot, 'Hoop squash');
    for (let frame = 1; frame <= 144; frame++) {
      const m = at(shot, frame).worldOf(squash)!;
      expect(m[7]).toBeGreaterThanOrEqual(-1e-9);
    }
  });
});

describe('hoop run', () => {
  const shot = DEMO_SHOTS.find((entry) => entry.name === 'Hoop run')!.build();
  const way = `${partNamed(shot, 'Hoop way')}/location.x`;
  const x = (frame: number): number => at(shot, frame).number(way);
  it('rolls on from its last bounce as fast as it came, and never faster from there', () => {
    const impact = Object.values(shot.markers).find((marker) => marker.name === 'Bounce 5')!.frame;
    const arriving = (x(impact) - x(impact - 0.01)) / 0.01;
    expect((x(impact + 0.01) - x(impact)) / 0.01).toBeCloseTo(arriving, 3);
    let before = arriving + 1e-6;
    for (let frame = impact + 20; frame <= 136; frame += 4) {
      const speed = x(frame + 0.5) - x(frame - 0.5);
      expect(speed).toBeLessThan(before);
      before = speed;
    }
  });
});

describe('pendulum clock', () => {
  const shot = DEMO_SHOTS.find((entry) => entry.name === 'Pendulum clock')!.build();
  const turn = (name: string, frame: number): number =>
    at(shot, frame).number(`${partNamed(shot, name)}/rotation.z`);
  it('swings as a pendulum does: simple harmonic motion, to two thousandths of the swing', () => {
    for (let frame = 1; frame <= 97; frame += 1.5)
      expect(Math.abs(turn('Pendulum', frame) - 9 * Math.cos(((frame - 1) * Math.PI) / 24))).toBeLessThan(
        0.018,
      );
  });
  it('lets half a tooth of its wheel pass with each swing, and holds it in between', () => {
    for (let beat = 0; beat < 7; beat++) {
      expect(turn('Escapement wheel', 1 + beat * 24)).toBeCloseTo(-6 * beat, 9);
      expect(turn('Escapement wheel', 1 + beat * 24 + 10)).toBeCloseTo(-6 * beat, 9);
      expect(turn('Escapement wheel', 1 + beat * 24 + 18)).toBeCloseTo(-6 * (beat + 1), 9);
    }
  });
  it('the cuckoo shoots over as on a spring, and beats its wings on twos', () => {
    const way = (frame: number): number => at(shot, frame).number(`${partNamed(shot, 'Cuckoo')}/location.z`);
    const ways = Array.from({ length: 37 }, (_, i) => way(62 + i));
    expect(Math.max(...ways)).toBeGreaterThan(0.5);
    expect(way(98)).toBeCloseTo(0.42, 9);
    for (let frame = 78; frame < 138; frame += 2)
      expect(turn('Left wing', frame)).toBe(turn('Left wing', frame + 1));
  });
});

describe('walking crab', () => {
  const shot = DEMO_SHOTS.find((entry) => entry.name === 'Walking crab')!.build();
  const point = (frame: number, name: string): [number, number] => {
    const world = at(shot, frame).worldOf(partNamed(shot, name))!;
    return [world[3]!, world[7]!];
  };
  it('holds all its legs by pins: every joint of every leg is where two bars say', () => {
    for (const frame of [1, 30, 61.5, 100, 145]) {
      const evaluator = at(shot, frame);
      for (const [id, { a, b }] of Object.entries(shot.pins)) {
        const carried = (part: string | null, end: 'at' | 'on'): number[] => {
          const m = evaluator.worldOf(part ?? shot.parts[a]!.parent!)!;
          const [x, y] = [evaluator.number(`${id}/${end}.x`), evaluator.number(`${id}/${end}.y`)];
          return [0, 4].map((row) => m[row]! * x + m[row + 1]! * y + m[row + 3]!);
        };
        const [p, q] = [carried(a, 'at'), carried(b, 'on')];
        expect(Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!)).toBeLessThan(1e-9);
      }
    }
  });
  it('its left foot goes where the leg of those lengths takes it (table worked out by Newton on ten lengths)', () => {
    // The crank turns backwards: 30 degrees are at 330, twelve such steps to a turn of 48 frames.
    const table: readonly (readonly [number, number, number])[] = [
      [0, -43.16011052, -91.75693293],
      [330, -54.38441028, -91.83377344],
      [270, -70.67056318, -89.6428368],
      [180, -33.72972954, -73.51709741],
      [90, -7.689066231, -90.38935137],
    ];
    for (const [angle, x, y] of table) {
      const frame = 1 + (360 - angle) / 7.5;
      const [cx, cy] = point(frame, 'Crab');
      const [fx, fy] = point(frame, 'Left shin front 1 eye');
      expect(fx - cx).toBeCloseTo(x / 100, 7);
      expect(fy - cy).toBeCloseTo(y / 100, 7);
    }
  });
  it('walks on: some foot is on the ground at every frame, and none below it', () => {
    const feet = [1, 2, 3].flatMap((row) => ['Left', 'Right'].map((side) => `${side} shin front ${row} eye`));
    for (let frame = 1; frame <= 145; frame += 3) {
      const heights = feet.map((name) => point(frame, name)[1]);
      expect(Math.min(...heights)).toBeGreaterThan(-1e-4);
      expect(Math.min(...heights)).toBeLessThan(0.02);
    }
    expect(point(145, 'Crab')[0] - point(1, 'Crab')[0]).toBeCloseTo(3 * 1.24695, 3);
  });
});
