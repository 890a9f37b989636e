import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { apply, setLink, setValues } from '../../../../core/edit';
import { compile, Evaluator } from '../../../../core/evaluate';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import type { Shot } from '../../../../core/document';
import type { HandleAxes } from '../state/view-settings';
import { PartDrag, turnLabel, type Grip } from './drag';
import { handleFrame, toPixel, type Axis } from './handle-geometry';

const WIDTH = 1280;
const HEIGHT = 720;

function looking(from: [number, number, number]): PerspectiveCamera {
  const camera = new PerspectiveCamera(40, WIDTH / HEIGHT, 0.1, 100);
  camera.position.set(...from);
  camera.lookAt(0, 0, 0);
  camera.updateMatrixWorld();
  return camera;
}

const base: Shot = {
  ...emptyShot(),
  parts: {
    prt_p: hub('Parent', { values: { 'rotation.y': 90, 'location.x': 1 } }),
    prt_a: hub('Arm', { parent: 'prt_p', values: { 'rotation.z': 10 } }),
    prt_b: hub('Boat', { parent: 'prt_p', order: 1 }),
  },
};

function dragOf(
  shot: Shot,
  chosen: readonly string[],
  grip: Grip,
  mode: HandleAxes,
  camera: PerspectiveCamera,
  at: Vector3,
) {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  const id = chosen.at(-1)!;
  const frame = handleFrame(evaluator, id, shot.parts[id]!);
  const { x, y } = toPixel(at, camera, WIDTH, HEIGHT);
  const view = { camera, width: WIDTH, height: HEIGHT };
  const drag = new PartDrag(shot, evaluator, chosen, grip, mode, frame, view, x, y);
  const to = (point: Vector3, more: { fine?: boolean; grid?: boolean } = {}) =>
    drag.to({
      ...toPixel(point, camera, WIDTH, HEIGHT),
      fine: more.fine ?? false,
      grid: more.grid ?? false,
      snap: null,
    });
  return { drag, to, origin: frame.origin };
}

/** World place of a part with the given values in force. */
function placed(shot: Shot, values: Readonly<Record<string, unknown>>, id: string): number[] {
  const evaluator = new Evaluator(compile(shot));
  evaluator.setOverrides(Object.entries(values) as [string, number][]);
  evaluator.evaluate(1);
  const m = evaluator.worldOf(id)!;
  return [m[3]!, m[7]!, m[11]!];
}

describe('dragging', () => {
  const camera = looking([0, 0, 12]);
  const move = (axes: Axis[]): Grip => ({ kind: 'move', axes });

  it('follows the pointer along a world axis, whatever the parent is turned by', () => {
    const { to, origin } = dragOf(base, ['prt_a'], move(['x']), 'world', camera, new Vector3(1, 0, 0));
    const { values } = to(origin.clone().add(new Vector3(2, 0, 0)));
    const now = placed(base, values, 'prt_a');
    [3, 0, 0].forEach((value, i) => expect(now[i]).toBeCloseTo(value, 4));
  });

  it('in the mode of channels one arrow changes one value; Shift goes a tenth of the way', () => {
    const side = looking([12, 0, 0]);
    const { to, origin } = dragOf(base, ['prt_a'], move(['x']), 'parent', side, new Vector3(1, 0, 0));
    // The parent is turned by a quarter about y: its x runs along the world's -z.
    const { values } = to(origin.clone().add(new Vector3(0, 0, -2)), { fine: true });
    expect(Object.keys(values)).toEqual(['prt_a/location.x']);
    expect(values['prt_a/location.x']).toBeCloseTo(0.2, 3);
  });

  it('a plane and free dragging leave out what is not taken hold of', () => {
    const plane = dragOf(base, ['prt_a'], move(['x', 'y']), 'world', camera, new Vector3(1, 0, 0));
    const now = placed(base, plane.to(new Vector3(2, 1.5, 0)).values, 'prt_a');
    [2, 1.5, 0].forEach((value, i) => expect(now[i]).toBeCloseTo(value, 4));
  });

  it('several parts move by the same way; what hangs below another chosen part is carried by it', () => {
    const { to, origin } = dragOf(
      base,
      ['prt_b', 'prt_a'],
      move(['y']),
      'world',
      camera,
      new Vector3(1, 0, 0),
    );
    const { values } = to(origin.clone().add(new Vector3(0, 1, 0)));
    expect(placed(base, values, 'prt_b')[1]).toBeCloseTo(1, 4);
    const both = dragOf(base, ['prt_p', 'prt_a'], move(['y']), 'world', camera, new Vector3(1, 0, 0));
    expect(Object.keys(both.to(new Vector3(1, 1, 0)).values)).toEqual(['prt_p/location.y']);
  });

  it('steps of the grid are those of the value', () => {
    const shot = apply(base, setValues(base, [['prt_a/location.y', 0.03]]));
    const { to, origin } = dragOf(shot, ['prt_a'], move(['y']), 'parent', camera, new Vector3(1, 0.03, 0));
    const { values } = to(origin.clone().add(new Vector3(0, 0.56, 0)), { grid: true });
    expect(values['prt_a/location.y']).toBeCloseTo(0.6, 9);
  });

  it('a typed place is exact, with units and arithmetic; a bad one is told', () => {
    const { drag } = dragOf(base, ['prt_a'], move(['y']), 'parent', camera, new Vector3(1, 0, 0));
    const typed = drag.typed('12.5cm + 1/3');
    expect(typed).toMatchObject({ ok: true, dragged: { values: { 'prt_a/location.y': 0.125 + 1 / 3 } } });
    expect(drag.typed('high')).toMatchObject({ ok: false });
  });

  it.each(['parent', 'own', 'world'] as const)('turns count beyond a whole one along %s axes', (mode) => {
    const above = looking([0.001, 12, 0]);
    const shot: Shot = { ...base, parts: { prt_a: { ...hub('Arm') } } };
    const { to } = dragOf(shot, ['prt_a'], { kind: 'turn', axes: ['y'] }, mode, above, new Vector3(2, 0, 0));
    let values: Readonly<Record<string, unknown>> = {};
    for (let angle = 10; angle <= 480; angle += 10) {
      const a = (angle * Math.PI) / 180;
      ({ values } = to(new Vector3(2 * Math.cos(a), 0, -2 * Math.sin(a))));
    }
    expect(values['prt_a/rotation.y'] as number).toBeCloseTo(480, 0);
  });

  it('a post sizes one axis by how far the pointer goes from the middle, a corner all', () => {
    const shot: Shot = { ...base, parts: { prt_a: hub('Crate', { values: { 'scale.y': 2 } }) } };
    const one = dragOf(
      shot,
      ['prt_a'],
      { kind: 'size', axes: ['x'] },
      'parent',
      camera,
      new Vector3(1, 0, 0),
    );
    expect(one.to(new Vector3(3, 0, 0)).values).toEqual({ 'prt_a/scale.x': expect.closeTo(3, 2) as number });
    const all = dragOf(
      shot,
      ['prt_a'],
      { kind: 'size', axes: ['x', 'y', 'z'] },
      'parent',
      camera,
      new Vector3(1, 1, 0),
    );
    const { values } = all.to(new Vector3(2, 2, 0));
    expect((values['prt_a/scale.y'] as number) / (values['prt_a/scale.x'] as number)).toBeCloseTo(2, 6);
  });

  it('a pivot that moves leaves the part where it is', () => {
    const { to, origin } = dragOf(
      base,
      ['prt_a'],
      { kind: 'pivot', axes: ['x', 'y', 'z'] },
      'parent',
      camera,
      new Vector3(1, 0, 0),
    );
    const { values } = to(origin.clone().add(new Vector3(0.7, 0.4, 0)));
    expect(values['prt_a/pivot.y']).not.toBe(0);
    const [a, b] = [placed(base, {}, 'prt_a'), placed(base, values, 'prt_a')];
    a.forEach((value, i) => expect(b[i]).toBeCloseTo(value, 9));
  });

  it('says which link stands in the way', () => {
    const shot = apply(base, setLink(base, 'prt_a/location.x', 'time * 1m / 1s'));
    const refusal = (mode: HandleAxes, axis: Axis): string | null =>
      dragOf(shot, ['prt_a'], move([axis]), mode, camera, new Vector3(1, 0, 0)).drag.refusal();
    expect(refusal('parent', 'x')).toContain('Arm location X is linked');
    expect(refusal('parent', 'y')).toBeNull();
    // Along the world's axes any of the three values may change.
    expect(refusal('world', 'y')).toContain('Arm location X is linked');
  });

  it('turns a joint that is held as far as it goes, and one that is only told further', () => {
    const above = looking([0, 12, 0.001]);
    const limits = { least: -10, most: 40 };
    for (const [held, most] of [
      [true, 40],
      [undefined, 90],
    ] as const) {
      const joint = { y: { ...limits, ...(held ? { held } : {}) } };
      const shot = {
        ...base,
        parts: { ...base.parts, prt_a: hub('Arm', { joint }) },
      };
      const grip: Grip = { kind: 'turn', axes: ['y'] };
      const { to } = dragOf(shot, ['prt_a'], grip, 'parent', above, new Vector3(2, 0, 0));
      for (let degrees = 10; degrees <= 90; degrees += 10) {
        const turn = (degrees * Math.PI) / 180;
        const { values } = to(new Vector3(2 * Math.cos(turn), 0, -2 * Math.sin(turn)));
        expect(values['prt_a/rotation.y']).toBeCloseTo(Math.min(degrees, most), 3);
      }
    }
  });
  it('readouts count whole turns', () => {
    expect([turnLabel(30), turnLabel(-390), turnLabel(750)]).toEqual([
      '+30.0°',
      '−1 turn 30.0°',
      '+2 turns 30.0°',
    ]);
  });
});
