import { describe, expect, it } from 'vitest';
import type { Part, Shape, Shot } from '../document';
import { apply, setLink } from '../edit';
import { compile } from '../evaluate';
import { applyRecipe, RECIPES } from '../recipe';
import { emptyShot, hub, shape, solid } from '../testing/random-shot';
import { checkShot, type CheckOptions, type Problem } from './index';

const look = { name: 'Paint', values: { glow: 1 }, tracks: {}, links: {} };
const camera: Part = { ...hub('Camera', { values: { 'location.z': 10 } }), kind: 'camera' };

function shotOf(
  parts: Record<string, Part>,
  shapes: Record<string, Shape> = {},
  more: Partial<Shot> = {},
): Shot {
  const base = emptyShot();
  return {
    ...base,
    setup: { ...base.setup, camera: 'prt_cam' },
    parts: { prt_cam: camera, ...parts },
    shapes: { shp_a: shape('box'), ...shapes },
    looks: { lok_a: look },
    ...more,
  };
}

const codes = (shot: Shot, options?: CheckOptions): Problem['code'][] =>
  checkShot(shot, compile(shot), options).map((problem) => problem.code);
const keys = (...rows: [frame: number, value: number][]): Part['tracks'][string] => ({
  before: 'hold',
  after: 'hold',
  keys: Object.fromEntries(
    rows.map(([frame, value], i) => [`key_${i}`, { frame, value, manner: 'linear' as const }]),
  ),
});

describe('checks', () => {
  it('a sound shot has nothing to tell', () => {
    expect(codes(shotOf({ prt_a: solid('Box', 'shp_a') }))).toEqual([]);
  });
  it('camera, light, missing sound file, alpha without a place, unkeyed changes', () => {
    const dark = shotOf(
      { prt_a: solid('Box', 'shp_a') },
      {},
      { looks: { lok_a: { ...look, values: {} } }, setup: { ...emptyShot().setup, camera: null } },
    );
    expect(codes(dark)).toEqual(['camera.none', 'light.none']);
    const sounding = shotOf(
      {},
      {},
      { sounds: { snd_a: { name: 'organ', start: 1, values: {}, tracks: {}, links: {} } } },
    );
    expect(codes(sounding)).toContain('file.missing');
    const asset = 'a'.repeat(64);
    const given = shotOf(
      {},
      {},
      { sounds: { snd_a: { name: 'organ', start: 1, asset, values: {}, tracks: {}, links: {} } } },
    );
    expect(codes(given)).toEqual([]);
    expect(codes(given, { files: new Set() })).toEqual(['file.missing']);
    expect(codes(given, { files: new Set([asset]) })).toEqual([]);
    expect(codes(shotOf({}), { film: { format: 'MP4', alpha: true, keepsAlpha: false } })).toEqual([
      'alpha.format',
    ]);
    expect(codes(shotOf({}), { film: { format: 'WebM', alpha: true, keepsAlpha: true } })).toEqual([]);
    const [unkeyed] = checkShot(shotOf({}), undefined, { unkeyed: ['prt_cam/location.x'] });
    expect(unkeyed?.message).toContain('Camera location X was changed and not keyed');
  });
  it('keys outside the range, on one frame, closer than a frame; switches between frames', () => {
    expect(codes(shotOf({ prt_a: hub('A', { tracks: { 'location.x': keys([60, 0], [70, 1]) } }) }))).toEqual([
      'keys.outside-range',
    ]);
    expect(codes(shotOf({ prt_a: hub('A', { tracks: { 'location.x': keys([5, 0], [5, 1]) } }) }))).toEqual([
      'keys.same-frame',
    ]);
    expect(codes(shotOf({ prt_a: hub('A', { tracks: { 'location.x': keys([5, 0], [5.4, 1]) } }) }))).toEqual([
      'keys.close',
    ]);
    const visible = keys([5.5, 0], [9, 1]);
    expect(codes(shotOf({ prt_a: hub('A', { tracks: { visible } }) }))).toEqual(['keys.between-frames']);
  });
  it('links in error, without effect, without a number at a frame', () => {
    const plain = shotOf({ prt_a: hub('A') });
    expect(codes(apply(plain, setLink(plain, 'prt_a/location.x', 'Nobody.location.x')))).toEqual([
      'link.error',
    ]);
    expect(codes(apply(plain, setLink(plain, 'prt_a/location.x', 'Camera.location.z')))).toEqual([
      'link.constant',
    ]);
    const failing = apply(
      plain,
      setLink(plain, 'prt_a/location.x', 'cam(harmonic, frame * 1deg, 1m, 200deg, 100deg, 100deg)'),
    );
    const [problem] = checkShot(failing);
    expect(problem?.code).toBe('link.not-a-number');
    expect(problem?.message).toContain('400 degrees');
  });
  it('a part that faces what hangs below it forms a loop; two that face each other do not', () => {
    const aim = (target: string): Partial<Part> => ({ aim: { target, axis: 'z', up: 'y' } });
    const away = { values: { 'location.x': 2 } };
    const facing = shotOf({ prt_a: hub('A', aim('prt_b')), prt_b: hub('B', { ...aim('prt_a'), ...away }) });
    expect(codes(facing)).toEqual([]);
    const shot = shotOf({ prt_a: hub('A', aim('prt_b')), prt_b: hub('B', { ...away, parent: 'prt_a' }) });
    expect(codes(shot)).toEqual(['option.loop']);
    expect(checkShot(shot)[0]?.message).toContain('the place of A reads the place of A');
  });
  it('parts that are always hidden or never come into the picture', () => {
    expect(codes(shotOf({ prt_a: solid('Box', 'shp_a', { values: { visible: 0 } }) }))).toEqual([
      'part.hidden',
    ]);
    expect(codes(shotOf({ prt_a: solid('Box', 'shp_a', { values: { 'location.x': 40 } }) }))).toEqual([
      'part.out-of-picture',
    ]);
    expect(codes(shotOf({ prt_a: solid('Box', 'shp_a', { values: { 'location.z': 40 } }) }))).toEqual([
      'part.out-of-picture',
    ]);
    const comes = { 'location.x': keys([1, 40], [40, 0]) };
    expect(codes(shotOf({ prt_a: solid('Box', 'shp_a', { tracks: comes }) }))).toEqual([]);
    // 35 mm at 10 m takes 36 / 35 * 10 / 2 = 5.14 m to either side; a box of 1 m reaches 0.87 m further.
    expect(codes(shotOf({ prt_a: solid('Box', 'shp_a', { values: { 'location.x': 5.9 } }) }))).toEqual([]);
    expect(codes(shotOf({ prt_a: solid('Box', 'shp_a', { values: { 'location.x': 6.3 } }) }))).toEqual([
      'part.out-of-picture',
    ]);
  });
  it.each([
    // 8 m wide, 4 m to either side however far away; a box of 1 m reaches 0.87 m further.
    [{ projection: 'parallel', values: { 'location.z': 10, width: 8 } }, 4],
    // Pixel for pixel as many centimetres at depth 0 as the picture has pixels, from wherever the camera stands.
    [{ projection: 'pixels', values: { 'location.z': 30 } }, emptyShot().setup.width / 200],
  ] as const)('a camera that sees as %o takes %d m to either side', (more, half) => {
    const at = (x: number): Problem['code'][] =>
      codes(
        shotOf({
          prt_a: solid('Box', 'shp_a', { values: { 'location.x': x } }),
          prt_cam: { ...camera, ...more },
        }),
      );
    expect(at(half + 0.8)).toEqual([]);
    expect(at(half + 1.3)).toEqual(['part.out-of-picture']);
  });
  it('what surroundings light is not dark', () => {
    const lit = (mirrored: number): Problem['code'][] =>
      codes(
        shotOf(
          {
            prt_a: solid('Box', 'shp_a'),
            prt_k: { ...hub('Backdrop', { values: { mirrored } }), kind: 'backdrop' },
          },
          {},
          { looks: { lok_a: { ...look, values: {} } } },
        ),
      );
    expect(lit(0.5)).toEqual([]);
    expect(lit(0)).toEqual(['light.none']);
  });
  it('a gear of 24 teeth turning 15 degrees a frame seems to stand still, 10 degrees to run backwards, 7 is well', () => {
    const turning = (perFrame: number): Shot =>
      shotOf(
        { prt_a: solid('Gear', 'shp_g', { tracks: { 'rotation.z': keys([1, 0], [48, 47 * perFrame]) } }) },
        { shp_g: shape('gear') },
      );
    expect(codes(turning(15))).toEqual(['turn.looks-still']);
    expect(codes(turning(10))).toEqual(['turn.looks-backwards']);
    expect(codes(turning(7))).toEqual([]);
    // 1500 turns a minute at 25 frames a second are a whole turn a frame.
    const spoke = shotOf(
      { prt_a: solid('Arm', 'shp_o', { tracks: { 'rotation.z': keys([1, 0], [48, 47 * 360]) } }) },
      { shp_o: shape('torus') },
    );
    expect(codes(spoke)).toEqual(['turn.looks-still']);
  });
  it('gimbal lock near a key', () => {
    const tracks = { 'rotation.x': keys([1, 0], [40, 90]), 'rotation.y': keys([1, 0], [40, 90]) };
    expect(codes(shotOf({ prt_a: hub('A', { tracks }) }))).toEqual(['gimbal.lock']);
    expect(codes(shotOf({ prt_a: hub('A', { tracks, rotationOrder: 'YXZ' }) }))).toEqual(['gimbal.lock']);
    expect(
      codes(
        shotOf({
          prt_a: hub('A', {
            tracks: { ...tracks, 'rotation.x': keys([1, 0], [40, 45]) },
            rotationOrder: 'YXZ',
          }),
        }),
      ),
    ).toEqual([]);
    expect(codes(shotOf({ prt_a: hub('A', { tracks: { 'rotation.y': tracks['rotation.y'] } }) }))).toEqual(
      [],
    );
  });
  it('copies that coincide, and too many of them', () => {
    const repeat = (values: Part['values']): Part => ({
      ...hub('Row', { values }),
      kind: 'repeat',
      repeat: { pattern: 'row', step: null },
    });
    expect(codes(shotOf({ prt_r: repeat({ gap: 0 }) }))).toEqual(['repeat.coincide']);
    expect(codes(shotOf({ prt_r: repeat({ gap: 1 }) }))).toEqual([]);
    const many = shotOf({
      prt_r: repeat({ copies: 1000 }),
      prt_s: { ...repeat({ copies: 300 }), name: 'Inner', parent: 'prt_r' },
    });
    expect(codes(many)).toEqual(['repeat.many']);
  });
  it('a wheel that slips is told with the length', () => {
    const wheel = hub('Wheel', { tracks: { 'location.x': keys([1, 0], [41, 2]) } });
    const plain = shotOf({ prt_a: wheel });
    const rolling = apply(
      plain,
      applyRecipe(
        plain,
        RECIPES.get('roll')!,
        { way: 'prt_a/location.x', wheel: 'prt_a/rotation.z' },
        { radius: 0.35 },
      ).change,
    );
    expect(codes(rolling)).toEqual([]);
    const off = apply(rolling, setLink(rolling, 'prt_a/rotation.z', 'roll(Wheel.location.x, 0.36m)'));
    const [slip] = checkShot(off);
    expect(slip?.code).toBe('roll.slips');
    // 2 m rolled on 0.36 m instead of 0.35 m: 2 * (1 - 0.35 / 0.36) m short.
    expect(slip?.amount).toBeCloseTo(2 * (1 - 0.35 / 0.36), 6);
  });
  it('gears of other modules, teeth or distance', () => {
    const gears = (distance: number, module: number, teeth = 56): Shot => {
      const shot = shotOf(
        {
          prt_a: solid('Pinion', 'shp_p', { tracks: { 'rotation.z': keys([1, 0], [48, 90]) } }),
          prt_b: solid('Wheel', 'shp_w', { values: { 'location.x': distance } }),
        },
        { shp_p: shape('gear', { teeth: 16, module: 0.05 }), shp_w: shape('gear', { teeth, module }) },
      );
      return apply(
        shot,
        applyRecipe(
          shot,
          RECIPES.get('gear-outer')!,
          { driver: 'prt_a/rotation.z', driven: 'prt_b/rotation.z' },
          { teeth1: 16, teeth2: 56 },
        ).change,
      );
    };
    expect(codes(gears(1.8, 0.05))).toEqual([]);
    expect(codes(gears(1.8, 0.06))).toEqual(['gear.module']);
    expect(codes(gears(1.8, 0.05, 50))).toEqual(['gear.teeth']);
    expect(codes(gears(1.7, 0.05))).toEqual(['gear.distance']);
  });
  it('the seam of a loop: value and speed, whole turns aside', () => {
    const seam = (track: Part['tracks'][string], path = 'location.x'): Problem['code'][] =>
      codes(shotOf({ prt_a: solid('Arm', 'shp_a', { tracks: { [path]: track } }) }), { loops: true });
    expect(seam(keys([1, 0], [49, 3]))).toEqual(['loop.value']);
    expect(seam(keys([1, 0], [20, 3], [49, 0]))).toEqual(['loop.speed']);
    expect(seam({ ...keys([1, 0], [49, 720]), after: 'straight' }, 'rotation.z')).toEqual([]);
    expect(seam(keys([1, 0], [25, 3], [49, 0]))).toEqual(['loop.speed']);
  });
});
