import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { ROTATION_ORDERS } from '../../../../core/transform';
import { compile, Evaluator } from '../../../../core/evaluate';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import {
  alongLine,
  angleAbout,
  AXES,
  edgeOn,
  handleFrame,
  rayAt,
  toPixel,
  unitsPerPixel,
} from './handle-geometry';

const camera = new PerspectiveCamera(40, 16 / 9, 0.1, 100);
camera.position.set(0, 0, 10);
camera.lookAt(0, 0, 0);
camera.updateMatrixWorld();

describe('rays and pixels', () => {
  it('a pixel and the ray through it meet', () => {
    const point = new Vector3(1.2, -0.7, 1.5);
    const { x, y, ahead } = toPixel(point, camera, 1280, 720);
    expect(ahead).toBe(true);
    expect(rayAt(x, y, camera, 1280, 720).distanceToPoint(point)).toBeLessThan(1e-6);
    expect(toPixel(new Vector3(0, 0, 20), camera, 1280, 720).ahead).toBe(false);
  });
  it('one pixel spans what it should at a distance', () => {
    const height = 2 * 10 * Math.tan((20 * Math.PI) / 180);
    expect(unitsPerPixel(new Vector3(), camera, 1280, 720)).toBeCloseTo(height / 720, 6);
  });
  it('dragging along a line finds the point under the pointer, and nothing along the line of sight', () => {
    const { x, y } = toPixel(new Vector3(2, 0, 0), camera, 1280, 720);
    expect(alongLine(rayAt(x, y, camera, 1280, 720), new Vector3(), new Vector3(1, 0, 0))).toBeCloseTo(2, 5);
    const middle = rayAt(640, 360, camera, 1280, 720);
    expect(alongLine(middle, new Vector3(), new Vector3(0, 0, 1))).toBeNull();
  });
  it('angles grow with the right hand about the axis; a ring seen edge-on has none', () => {
    const z = new Vector3(0, 0, 1);
    const at = (degrees: number): number => {
      const a = (degrees * Math.PI) / 180;
      const { x, y } = toPixel(new Vector3(Math.cos(a), Math.sin(a), 0), camera, 1280, 720);
      return angleAbout(rayAt(x, y, camera, 1280, 720), new Vector3(), z)!;
    };
    expect(at(70) - at(30)).toBeCloseTo(40, 4);
    expect(angleAbout(rayAt(640, 360, camera, 1280, 720), new Vector3(), new Vector3(1, 0, 0))).toBeNull();
    expect(edgeOn(new Vector3(1, 0, 0), new Vector3(), camera)).toBe(true);
    expect(edgeOn(z, new Vector3(), camera)).toBe(false);
  });
});

describe('the frame of the handles', () => {
  it.each(ROTATION_ORDERS)(
    'order %s: turning one ring by a little turns the part about that ring',
    (rotationOrder) => {
      const values = { 'rotation.x': 20, 'rotation.y': 35, 'rotation.z': -50, 'rest.x': 15, 'rest.y': -10 };
      const shotWith = (more: Record<string, number>) => ({
        ...emptyShot(),
        parts: {
          prt_p: hub('Parent', { values: { 'rotation.y': 40, 'location.x': 3 } }),
          prt_a: hub('A', { parent: 'prt_p', rotationOrder, values: { ...values, ...more } }),
        },
      });
      const at = (more: Record<string, number>): Evaluator => {
        const evaluator = new Evaluator(compile(shotWith(more)));
        evaluator.evaluate(1);
        return evaluator;
      };
      const frame = handleFrame(at({}), 'prt_a', shotWith({}).parts.prt_a);
      const before = at({}).worldOf('prt_a')!;
      for (const axis of AXES) {
        const path = `rotation.${axis}` as 'rotation.x';
        const after = at({ [path]: values[path] + 1 }).worldOf('prt_a')!;
        // What lies along the ring's axis stays where it is.
        const direction = frame.turn[axis];
        const inPart = new Vector3(
          before[0]! * direction.x + before[4]! * direction.y + before[8]! * direction.z,
          before[1]! * direction.x + before[5]! * direction.y + before[9]! * direction.z,
          before[2]! * direction.x + before[6]! * direction.y + before[10]! * direction.z,
        );
        const turned = new Vector3(
          after[0]! * inPart.x + after[1]! * inPart.y + after[2]! * inPart.z,
          after[4]! * inPart.x + after[5]! * inPart.y + after[6]! * inPart.z,
          after[8]! * inPart.x + after[9]! * inPart.y + after[10]! * inPart.z,
        );
        expect(turned.distanceTo(direction)).toBeLessThan(1e-9);
      }
      expect(
        frame.move.x.distanceTo(
          new Vector3(Math.cos((40 * Math.PI) / 180), 0, -Math.sin((40 * Math.PI) / 180)),
        ),
      ).toBeLessThan(1e-9);
    },
  );
  it('below a repeat they stand where the first copy is', () => {
    const shot = {
      ...emptyShot(),
      parts: {
        prt_r: {
          ...hub('Ring', { values: { copies: 4, gap: 2 } }),
          kind: 'repeat' as const,
          repeat: { pattern: 'ring' as const, step: null },
        },
        prt_a: hub('A', { parent: 'prt_r' }),
      },
    };
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(1);
    expect(handleFrame(evaluator, 'prt_a', shot.parts.prt_a).origin.toArray()).toEqual([2, 0, 0]);
  });
});
