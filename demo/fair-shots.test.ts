import { describe, expect, it } from 'vitest';
import { compile, Evaluator } from '../core/evaluate';
import { DEMO_SHOTS } from './index';

const shotNamed = (name: string) => {
  const shot = DEMO_SHOTS.find((entry) => entry.name === name)!.build();
  const plan = compile(shot);
  const idOf = (part: string): string => Object.keys(shot.parts).find((id) => shot.parts[id]!.name === part)!;
  const at = (frame: number): Evaluator => {
    const evaluator = new Evaluator(plan);
    evaluator.evaluate(frame);
    return evaluator;
  };
  /** Where a point of a part is in the world. */
  const place = (frame: number, part: string, [x, y, z]: readonly number[] = [0, 0, 0]): number[] => {
    const m = at(frame).worldOf(idOf(part))!;
    return [0, 4, 8].map((row) => m[row]! * x! + m[row + 1]! * y! + m[row + 2]! * z! + m[row + 3]!);
  };
  const number = (frame: number, part: string, path: string): number =>
    at(frame).number(`${idOf(part)}/${path}`);
  return { shot, idOf, at, place, number };
};
const rad = Math.PI / 180;

describe('taking the winch apart', () => {
  const { place, number, at, idOf } = shotNamed('Taking the winch apart');
  it('turns the wheel and the drum a quarter of the crank, the other way', () => {
    for (const frame of [1, 17, 38.25, 60, 250]) {
      const crank = number(frame, 'Crank', 'rotation.z');
      expect(number(frame, 'Drum', 'rotation.z') - number(1, 'Drum', 'rotation.z')).toBeCloseTo(
        -crank / 4,
        9,
      );
    }
  });
  it('its pawl lies on the ratchet at all times, and each tooth lets it fall once', () => {
    let falls = 0;
    let before = 0;
    for (let frame = 1; frame <= 60; frame += 0.25) {
      const [x, y] = place(frame, 'Pawl', [-0.35, 0, 0]);
      const [cx, cy] = place(frame, 'Ratchet');
      // In the ratchet's own measure: how far along a tooth the tip lies, and how high it is there.
      const angle = Math.atan2(y! - cy!, x! - cx!) / rad - number(frame, 'Ratchet', 'rotation.z');
      const along = (((angle / 22.5) % 1) + 1) % 1;
      const radius = Math.hypot(x! - cx!, y! - cy!);
      if (along > 0.04 && along < 0.96) expect(Math.abs(radius - (0.4 - 0.06 * along))).toBeLessThan(0.0025);
      if (radius < before - 0.03) falls++;
      before = radius;
    }
    expect(falls).toBe(6);
  });
  it('travels out along the axle in order, and is together again in the end', () => {
    const parts = ['Crank', 'Pinion', 'Wheel', 'Near cheek', 'Pawl', 'Ratchet', 'Far cheek'];
    const home = parts.map((part) => place(66, part));
    const ways = parts.map((part, i) => place(118, part)[2]! - home[i]![2]!);
    [2.5, 1.9, 1.3, 0.7, -1.9, -1.3, -0.7].forEach((way, i) => expect(ways[i]).toBeCloseTo(way, 9));
    parts.forEach((part, i) =>
      place(222, part).forEach((value, axis) => expect(value).toBeCloseTo(home[i]![axis]!, 9)),
    );
    // The last that leaves is the first that is back.
    const leaves = parts.slice(0, 4).map((part) => {
      for (let frame = 66; ; frame++)
        if (place(frame, part)[2]! !== home[parts.indexOf(part)]![2]!) return frame;
    });
    expect([...leaves].sort((a, b) => a - b)).toEqual(leaves);
  });
  it('shows the names and lets the cheeks be looked through only while it is apart', () => {
    for (const [frame, drawn, opacity] of [
      [60, 0, 1],
      [150, 1, 0.3],
      [224, 0, 1],
    ] as const) {
      const evaluator = at(frame);
      expect(evaluator.number(`${idOf('Callout 3 Wheel')}/drawn`)).toBe(drawn);
      expect(evaluator.number(`${idOf('Near plate')}/opacity`)).toBeCloseTo(opacity, 9);
    }
  });
});

describe('pennants', () => {
  const { at, idOf, number } = shotNamed('Pennants');
  it('two hubs bend and lift every string: each pennant hangs where the chain of strides leads', () => {
    for (const frame of [1, 145]) {
      const crown = number(frame, 'Crown', 'rotation.y') * rad;
      const copies = at(frame).copiesOf(idOf('String'))!;
      expect(copies.count).toBe(12 * 11);
      for (let string = 0; string < 12; string++) {
        let [out, up] = [0.24, 4.9];
        for (let i = 0; i < 11; i++) {
          // The stride turns once more at each pennant: a chain of levers (common practice).
          const angle = (-76 - i) * rad;
          const m = copies.matrices.subarray((string * 11 + i) * 12, (string * 11 + i + 1) * 12);
          const middle = [out + 0.18 * Math.cos(angle), up + 0.18 * Math.sin(angle)];
          expect(Math.hypot(m[3]!, m[11]!)).toBeCloseTo(middle[0]!, 9);
          expect(m[7]).toBeCloseTo(middle[1]!, 9);
          const turned = Math.atan2(-m[11]!, m[3]!) - crown;
          expect(Math.cos(turned - (string * Math.PI) / 6)).toBeCloseTo(1, 9);
          out += 0.36 * Math.cos(angle);
          up += 0.36 * Math.sin(angle);
        }
      }
    }
  });
});

describe('bosun puppet', () => {
  const { at, place, number, shot } = shotNamed('Bosun puppet');
  it('goes through four poses and back: the last is the first, and two are mirrored', () => {
    const joints = ['Head', 'Left hand', 'Right hand', 'Left foot', 'Right foot'];
    for (const joint of joints)
      place(115, joint).forEach((value, i) => expect(value).toBeCloseTo(place(1, joint)[i]!, 9));
    const other = (name: string): string =>
      name.startsWith('Left') ? name.replace('Left', 'Right') : name.replace('Right', 'Left');
    for (const joint of joints) {
      const [x, y, z] = place(22, joint);
      place(44, other(joint)).forEach((value, i) => expect(value).toBeCloseTo([-x!, y!, z!][i]!, 9));
    }
    const heights = [1, 22, 44, 68].map((frame) => place(frame, 'Left hand')[1]!.toFixed(3));
    expect(new Set(heights).size).toBe(4);
    expect(Object.values(shot.markers).map((marker) => marker.frame)).toEqual([1, 22, 44, 68, 104]);
  });
  it('has its hand on the pipe while it reaches for it, up to the mouth and down again', () => {
    for (let frame = 70; frame <= 97; frame += 0.5) {
      const [hand, pipe] = [place(frame, 'Right hand'), place(frame, 'Pipe')];
      expect(Math.hypot(hand[0]! - pipe[0]!, hand[1]! - pipe[1]!)).toBeLessThan(1e-9);
    }
    expect(number(83, 'Pipe', 'location.y')).toBeCloseTo(0.62, 9);
    const [hand, pipe] = [place(40, 'Right hand'), place(40, 'Pipe')];
    expect(Math.hypot(hand[0]! - pipe[0]!, hand[1]! - pipe[1]!)).toBeGreaterThan(0.2);
  });
  it('keeps its feet above the stage, one of them next to it', () => {
    for (let frame = 1; frame <= 121; frame++) {
      const evaluator = at(frame);
      const low = ['Left foot', 'Right foot'].map((name) => {
        const id = Object.keys(shot.parts).find((part) => shot.parts[part]!.name === name)!;
        return evaluator.worldOf(id)![7]!;
      });
      expect(Math.min(...low)).toBeGreaterThan(0.06);
      expect(Math.min(...low)).toBeLessThan(0.13);
    }
  });
});
