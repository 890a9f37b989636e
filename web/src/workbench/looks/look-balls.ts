import { blankShot } from '../../../../core/document';
import { addPart, apply, takeLook, type KeptLook } from '../../../../core/edit';
import { compile, Evaluator } from '../../../../core/evaluate';
import { Assets, createRenderer, Film, Picture } from '../../../../draw';
import { readAsset } from '../../shared/api';

/** Pixels of a ball. */
export const BALL_SIDE = 88;

/** A ball on a small stage, lit as a thing of the fair would be. */
function stage(look: KeptLook) {
  let shot = blankShot({ background: [0.36, 0.36, 0.36], width: BALL_SIDE, height: BALL_SIDE });
  const add = (spec: Parameters<typeof addPart>[1]): string => {
    const { change, id } = addPart(shot, spec);
    shot = apply(shot, change);
    return id;
  };
  const ball = add({
    kind: 'solid',
    name: 'Ball',
    values: { 'rotation.y': 35, 'rotation.x': 12 },
    shape: { kind: 'ball', values: { radius: 0.5 } },
  });
  add({
    kind: 'solid',
    name: 'Wall',
    values: { 'location.z': -0.7 },
    shape: { kind: 'plane', values: { width: 5, height: 5 } },
    look: {
      values: { colour: [0.5, 0.48, 0.44], 'pattern.colour': [0.25, 0.24, 0.22], 'pattern.size': 0.7 },
      pattern: { kind: 'checks', lies: 'body' },
    },
  });
  add({ kind: 'sun', name: 'Sun', values: { 'rotation.x': -42, 'rotation.y': -30, strength: 2.4 } });
  add({ kind: 'sky', name: 'Sky', values: { strength: 1.2 } });
  add({ kind: 'backdrop', name: 'Surroundings', values: {} });
  add({ kind: 'camera', name: 'Camera', values: { 'location.z': 4, lens: 110 } });
  const id = shot.parts[ball]!.look!;
  shot = apply(shot, takeLook(shot, id, look));
  const backdrop = Object.keys(shot.parts).find((part) => shot.parts[part]!.kind === 'backdrop')!;
  return {
    ...shot,
    parts: {
      ...shot.parts,
      [backdrop]: {
        ...shot.parts[backdrop]!,
        backdrop: { shows: 'colour' as const, surroundings: 'workshop' as const },
        values: { mirrored: 1.3, colour: [0.3, 0.3, 0.3] as const },
      },
    },
  };
}

/** Draws looks on balls one after the other, while the page goes on. */
class Balls {
  private readonly drawn = new Map<string, Promise<string>>();
  private last: Promise<unknown> = Promise.resolve();
  private means: { canvas: OffscreenCanvas; film: Film; picture: Picture } | null = null;

  private draw(look: KeptLook): Promise<string> {
    if (!this.means) {
      const canvas = new OffscreenCanvas(BALL_SIDE, BALL_SIDE);
      const renderer = createRenderer(canvas, { alpha: true, preserve: true });
      renderer.setSize(BALL_SIDE, BALL_SIDE, false);
      this.means = { canvas, film: new Film(renderer), picture: new Picture(new Assets(readAsset)) };
    }
    const { canvas, film, picture } = this.means;
    const shot = stage(look);
    return picture.assets.ready(shot).then(async () => {
      const plan = compile(shot);
      const evaluator = new Evaluator(plan);
      evaluator.evaluate(1);
      picture.setPlan(plan);
      picture.update(evaluator);
      await picture.assets.settled();
      film.draw(picture, { evaluator, aspect: 1 });
      return URL.createObjectURL(await canvas.convertToBlob({ type: 'image/png' }));
    });
  }

  /** Address of the picture of a look. */
  of(look: KeptLook): Promise<string> {
    const { name: _name, ...rest } = look;
    const key = JSON.stringify(rest);
    let found = this.drawn.get(key);
    if (!found) {
      found = this.last.then(() => new Promise((next) => setTimeout(next))).then(() => this.draw(look));
      this.last = found.catch(() => undefined);
      this.drawn.set(key, found);
      found.catch(() => this.drawn.delete(key));
    }
    return found;
  }
}

/** The balls of this page. */
export const balls = new Balls();
