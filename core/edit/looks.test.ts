import { describe, expect, it } from 'vitest';
import {
  blankShot,
  channelsOf,
  lookSchema,
  parseShot,
  READY_LOOKS,
  showsChannel,
  type Shot,
} from '../document';
import { compile, Evaluator, lampLight } from '../evaluate';
import {
  addPart,
  apply,
  changeBackdrop,
  changeLook,
  duplicateParts,
  focusOn,
  invert,
  setLink,
  setPictureMap,
  setProjection,
  setValues,
  readersOf,
  removeParts,
  setGlowOf,
  takeLook,
} from './index';

const PICTURE = { asset: 'a'.repeat(64), width: 8, height: 8, alpha: false, file: 'grain.png' };

function scene(): { shot: Shot; look: string; camera: string; backdrop: string; ball: string } {
  let shot = blankShot();
  const add = (kind: 'solid' | 'camera' | 'backdrop', name: string, values = {}): string => {
    const made = addPart(shot, { kind, name, values });
    shot = apply(shot, made.change);
    return made.id;
  };
  const ball = add('solid', 'Ball', { 'location.z': -3 });
  const camera = add('camera', 'Camera "one"'.replaceAll('"', ''), { 'location.z': 1 });
  const backdrop = add('backdrop', 'Backdrop');
  return { shot, look: shot.parts[ball]!.look!, camera, backdrop, ball };
}

describe('ready looks', () => {
  it('are sound, have names of their own, and set only what a look has', () => {
    const { shot, look } = scene();
    const known = new Map(channelsOf(shot, look).map((spec) => [spec.path, spec]));
    expect(new Set(READY_LOOKS.map(({ name }) => name)).size).toBe(READY_LOOKS.length);
    for (const ready of READY_LOOKS) {
      expect(lookSchema.safeParse({ ...ready, tracks: {}, links: {} }).error, ready.name).toBeUndefined();
      for (const [path, value] of Object.entries(ready.values)) {
        const spec = known.get(path);
        expect(spec, `${ready.name}: ${path}`).toBeDefined();
        for (const part of Array.isArray(value) ? (value as number[]) : [value as number])
          expect(part >= spec!.min && part <= spec!.max, `${ready.name}: ${path}`).toBe(true);
      }
    }
  });
  it('are taken in one step that can be undone, and leave links and pictures', () => {
    const { shot: bare, look } = scene();
    let shot = apply(bare, setLink(bare, `${look}/roughness`, '0.2'));
    shot = apply(shot, setPictureMap(shot, look, 'roughness', PICTURE));
    for (const ready of READY_LOOKS) {
      const change = takeLook(shot, look, ready as never);
      const dressed = apply(shot, change);
      expect(parseShot(dressed)).toMatchObject({ ok: true });
      expect(dressed.looks[look]).toMatchObject({ name: ready.name, maps: { roughness: PICTURE } });
      expect(dressed.looks[look]!.links).toEqual(shot.looks[look]!.links);
      expect(dressed.looks[look]!.pattern).toEqual(ready.pattern);
      expect(apply(dressed, invert(change))).toEqual(shot);
    }
  });
});

describe('looks', () => {
  it('have a pattern, sides and shadows that can be taken back', () => {
    const { shot, look } = scene();
    const striped = apply(
      shot,
      changeLook(shot, look, { pattern: { kind: 'stripes', lies: 'body' }, shadow: 'only' }),
    );
    expect(striped.looks[look]).toMatchObject({ pattern: { kind: 'stripes' }, shadow: 'only' });
    const back = apply(striped, changeLook(striped, look, { pattern: undefined, shadow: undefined }));
    expect(back).toEqual(shot);
    expect(() => changeLook(shot, look, { shadow: 'blue' as never })).toThrow(/shadow/);
  });
  it('a gradient goes over a surface once, unless somebody has said how often', () => {
    const { shot, look } = scene();
    const over = { pattern: { kind: 'gradient', lies: 'surface' } } as const;
    expect(apply(shot, changeLook(shot, look, over)).looks[look]!.values['pattern.times']).toBe(1);
  });
});

describe('backdrops and cameras', () => {
  it('a backdrop cannot show a picture that it has not', () => {
    const { shot, backdrop } = scene();
    expect(() => changeBackdrop(shot, backdrop, { shows: 'picture' })).toThrow(/choose a file/);
    const shown = apply(shot, changeBackdrop(shot, backdrop, { shows: 'picture', picture: PICTURE }));
    expect(parseShot(shown)).toMatchObject({ ok: true });
  });
  it('only a camera sees, and only a backdrop stands behind all', () => {
    const { shot, ball, camera } = scene();
    expect(() => setProjection(shot, ball, 'parallel')).toThrow(/camera/);
    const wrong = (id: string, more: object): unknown => ({
      ...shot,
      parts: { ...shot.parts, [id]: { ...shot.parts[id]!, ...more } },
    });
    for (const [id, more, path] of [
      [ball, { projection: 'parallel' }, `parts/${ball}/projection`],
      [camera, { backdrop: { shows: 'colour', surroundings: 'tent' } }, `parts/${camera}/backdrop`],
    ] as const) {
      const parsed = parseShot(wrong(id, more));
      expect(parsed.ok ? [] : parsed.problems.map((problem) => problem.path)).toContain(path);
    }
  });
  it('a camera that is focused on a part follows its distance', () => {
    const { shot, camera, ball } = scene();
    const focused = apply(shot, focusOn(shot, camera, ball));
    const evaluator = new Evaluator(compile(focused));
    evaluator.evaluate(1);
    expect(evaluator.number(`${camera}/focus`)).toBeCloseTo(4, 9);
  });
});

describe('a lamp that follows the glow of a part', () => {
  it('is a sound document, goes with copies of both, and is let go where the part is deleted', () => {
    const { shot, ball, camera } = scene();
    const made = addPart(shot, { kind: 'point', name: 'Lamp' });
    let next = apply(shot, made.change);
    next = apply(next, setGlowOf(next, made.id, ball));
    expect(next.parts[made.id]!.glowOf).toBe(ball);
    expect(parseShot(JSON.parse(JSON.stringify(next))).ok).toBe(true);
    expect(readersOf(next, [ball])).toEqual(['Lamp, which follows its glow']);
    const gone = apply(next, removeParts(next, [ball]));
    expect(gone.parts[made.id]!.glowOf).toBeUndefined();
    expect(parseShot(JSON.parse(JSON.stringify(gone))).ok).toBe(true);
    const evaluator = new Evaluator(compile(next));
    evaluator.evaluate(1);
    expect(lampLight(evaluator, made.id).strength).toBe(0);
    expect(() => setGlowOf(next, camera, ball)).toThrow('no longer in the shot');
    expect(() => setGlowOf(next, made.id, camera)).toThrow('has no look');
    expect(() => setGlowOf(next, made.id, 'prt_none')).toThrow('no longer in the shot');
    const wrong = { ...next.parts[camera]!, glowOf: ball };
    const found = parseShot({ ...next, parts: { ...next.parts, [camera]: wrong } });
    expect(!found.ok && found.problems[0]!.message).toContain('only a light does');
    const copied = apply(next, duplicateParts(next, [ball, made.id]).change);
    const lamps = Object.values(copied.parts).filter((part) => part.kind === 'point');
    expect(new Set(lamps.map(({ glowOf }) => glowOf)).size).toBe(2);
    next = apply(next, setGlowOf(next, made.id, null));
    expect(next.parts[made.id]!.glowOf).toBeUndefined();
  });
});

describe('what has no body', () => {
  it('is offered a turn, a size and a pivot only where they move something, or are set', () => {
    const { shot, ball, backdrop } = scene();
    const offered = (now: Shot, id: string): string[] =>
      channelsOf(now, id)
        .filter((spec) => spec.group === 'Place' && showsChannel(now, id, spec))
        .map((spec) => spec.label);
    const all = [...new Set(offered(shot, ball))];
    expect(all).toEqual(['Location', 'Rotation', 'Scale', 'Pivot', 'Rest turn']);
    expect(new Set(offered(shot, backdrop))).toEqual(new Set(['Location']));
    const set = apply(shot, setValues(shot, [[`${backdrop}/rotation.y`, 20]]));
    expect(offered(set, backdrop)).toEqual(['Location', 'Location', 'Location', 'Rotation']);
    const carrying = {
      ...shot,
      parts: { ...shot.parts, [ball]: { ...shot.parts[ball]!, parent: backdrop } },
    };
    expect([...new Set(offered(carrying, backdrop))]).toEqual(all);
  });
});
