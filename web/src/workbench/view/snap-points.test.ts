import { Box3, PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { factsOf } from './measure-facts';
import { toPixel } from './handle-geometry';
import { boxPoints, nearestSnap, type SnapPoint } from './snap-points';

describe('points to catch on', () => {
  it('a box has 8 corners, 12 edge middles, 6 face middles and a centre', () => {
    const points = boxPoints(new Box3(new Vector3(-1, 0, 2), new Vector3(3, 2, 8)));
    const count = (kind: string): number => points.filter((point) => point.kind === kind).length;
    expect([count('corner'), count('edge middle'), count('face middle'), count('centre')]).toEqual([
      8, 12, 6, 1,
    ]);
    expect(points.find((point) => point.kind === 'centre')!.point.toArray()).toEqual([1, 1, 5]);
  });
  it('a flat card has four corners and four edge middles, each once', () => {
    const points = boxPoints(new Box3(new Vector3(-1, -1, 0), new Vector3(1, 1, 0)));
    const count = (kind: string): number => points.filter((point) => point.kind === kind).length;
    expect([count('corner'), count('edge middle'), points.length]).toEqual([4, 4, 9]);
  });
  it('the nearest on the screen within reach is caught, none behind the camera', () => {
    const camera = new PerspectiveCamera(40, 16 / 9, 0.1, 100);
    camera.position.set(0, 0, 10);
    camera.updateMatrixWorld();
    const snap = (x: number, y: number, z: number): SnapPoint => ({
      point: new Vector3(x, y, z),
      kind: 'corner',
      part: 'prt_a',
    });
    const [near, far, behind] = [snap(1, 0, 0), snap(1.2, 0, 0), snap(0, 0, 20)];
    const at = toPixel(near.point, camera, 1280, 720);
    expect(nearestSnap([far, near], at.x + 3, at.y, camera, 1280, 720, 12)).toBe(near);
    expect(nearestSnap([far, near], at.x - 40, at.y, camera, 1280, 720, 12)).toBeNull();
    expect(nearestSnap([behind], 640, 360, camera, 1280, 720, 500)).toBeNull();
  });
  it('of two that lie over each other on the screen the one in front is caught, whichever comes first', () => {
    const camera = new PerspectiveCamera(40, 16 / 9, 0.1, 100);
    camera.position.set(0, 0, 10);
    camera.updateMatrixWorld();
    const snap = (x: number, z: number): SnapPoint => ({
      point: new Vector3(x, 0, z),
      kind: 'corner',
      part: 'prt_a',
    });
    // The back corner is a hair nearer to the pointer: the perspective draws it inwards.
    const [front, back] = [snap(0.02, 1), snap(0.02, -1)];
    expect(nearestSnap([front, back], 640, 360, camera, 1280, 720, 12)).toBe(front);
    expect(nearestSnap([back, front], 640, 360, camera, 1280, 720, 12)).toBe(front);
    expect(nearestSnap([back, snap(1, 1)], 640, 360, camera, 1280, 720, 12)).toBe(back);
  });
});

describe('measuring', () => {
  it('distance, way, slope and the angle between faces', () => {
    const pick = (point: [number, number, number], normal: [number, number, number] | null) => ({
      point: new Vector3(...point),
      normal: normal && new Vector3(...normal),
      what: '',
    });
    const facts = factsOf(pick([1, 1, 1], [0, 1, 0]), pick([4, 5, 1], [1, 0, 0]));
    expect(facts.distance).toBe(5);
    expect(facts.way.toArray()).toEqual([3, 4, 0]);
    expect(facts.angle).toBeCloseTo(90, 9);
    expect(facts.slope).toBeCloseTo(53.13010235, 6);
    expect(factsOf(pick([0, 0, 0], null), pick([0, 0, 0], null))).toMatchObject({
      distance: 0,
      angle: null,
      slope: 0,
    });
  });
});
