import { Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { apply, addPart, addPin } from '../../../../core/edit';
import { blankShot, type Shot } from '../../../../core/document';
import { compile, Evaluator } from '../../../../core/evaluate';
import { joinedParts, pinOf, placeOfPin } from './pin-points';
import { mobilityWords, stateOfPinned } from './pin-words';

function scene(): { shot: Shot; ids: Record<'frame' | 'crank' | 'eye' | 'coupler' | 'lamp', string> } {
  let shot = blankShot();
  const add = (name: string, parent: string | null, values: Record<string, number> = {}): string => {
    const { change, id } = addPart(shot, { kind: 'hub', name, parent, values });
    shot = apply(shot, change);
    return id;
  };
  const frame = add('Frame', null, { 'location.x': 5, 'rotation.y': 90 });
  const crank = add('Crank', frame, { 'rotation.z': 90 });
  const eye = add('Eye', crank, { 'location.x': 0.3 });
  const coupler = add('Coupler', frame, { 'location.x': 2 });
  const lamp = add('Lamp', null);
  return { shot, ids: { frame, crank, eye, coupler, lamp } };
}

const at = (shot: Shot): Evaluator => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  return evaluator;
};

describe('what two picks join', () => {
  const { shot, ids } = scene();
  it('are the parts that hang from the same one, however deep the picks lie', () => {
    expect(joinedParts(shot, ids.eye, ids.coupler)).toEqual({ a: ids.crank, b: ids.coupler, swapped: false });
    expect(joinedParts(shot, ids.coupler, ids.frame)).toEqual({ a: ids.coupler, b: null, swapped: false });
    expect(joinedParts(shot, ids.frame, ids.eye)).toEqual({ a: ids.crank, b: null, swapped: true });
    expect(joinedParts(shot, ids.coupler, null)).toEqual({ a: ids.coupler, b: null, swapped: false });
    expect(joinedParts(shot, ids.crank, ids.crank)).toBeNull();
    expect(joinedParts(shot, ids.crank, ids.lamp)).toEqual({ a: ids.frame, b: ids.lamp, swapped: false });
  });
  it('points are taken into the measures of both parts', () => {
    const evaluator = at(shot);
    // The frame is turned so that its x axis points along -z of the world.
    const tip = new Vector3(5, 0.3, 0);
    const spec = pinOf(shot, evaluator, 'slot', [
      { part: ids.coupler, point: new Vector3(5, 0, -2), what: '' },
      { part: ids.eye, point: tip, what: '' },
      { part: null, point: new Vector3(5, 0.3, -1), what: '' },
    ])!;
    expect([spec.a, spec.b]).toEqual([ids.coupler, ids.crank]);
    [...spec.at, ...spec.on].forEach((value, i) => expect(value).toBeCloseTo([0, 0, 0.3, 0][i]!, 9));
    expect(spec.line).toBeCloseTo(-90, 6);
  });
});

it('the same point twice is held by what its part hangs from', () => {
  const { shot, ids } = scene();
  const pick = { part: ids.eye, point: new Vector3(5, 0.3, 0), what: '' };
  const spec = pinOf(shot, at(shot), 'pin', [pick, pick])!;
  expect([spec.a, spec.b]).toEqual([ids.eye, null]);
  const other = { ...pick, point: new Vector3(5, 0.2, 0) };
  expect(pinOf(shot, at(shot), 'pin', [pick, other])).toBeNull();
});

it('a body made of several parts is held by the one that is pinned already', () => {
  const { shot, ids } = scene();
  const { change } = addPin(shot, at(shot), {
    kind: 'pin',
    a: ids.crank,
    at: [0, 0],
    b: ids.coupler,
    on: [0, 0],
  });
  expect(joinedParts(apply(shot, change), ids.eye, null)).toEqual({ a: ids.crank, b: null, swapped: false });
});

it('a pin stands where it holds, and says how its part is found', () => {
  const { shot, ids } = scene();
  let now = shot;
  const pin = (a: string, on: [number, number], b: string | null): string => {
    const { change, id } = addPin(now, at(now), { kind: 'pin', a, at: [0, 0], b, on });
    now = apply(now, change);
    return id;
  };
  const first = pin(ids.crank, [0, 0.5], null);
  const { point } = placeOfPin(now, at(now), first)!;
  expect([point.x, point.y, point.z].map((x) => Math.round(x * 1e9) / 1e9)).toEqual([5, 0.5, 0]);
  expect(stateOfPinned(now, ids.crank)).toEqual({ words: 'Driven by its own rotation z.', fine: true });
  pin(ids.coupler, [0.3, 0], ids.crank);
  expect(stateOfPinned(now, ids.coupler).words).toMatch(/can still move in one way/);
  expect(mobilityWords(now, ids.coupler)).toBe('2 moving, 2 joints: 3 × 2 − 4 = 2 ways to move, 1 driven');
});
