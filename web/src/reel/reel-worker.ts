import { compile, Evaluator } from '../../../core/evaluate';
import { Assets, createRenderer, Film, Picture } from '../../../draw';
import { readAsset } from '../shared/api';
import type { ReelAnswer, ReelOrder, SentScene } from './scene-order';

/* Draws frames of the shots of a reel, small, beside the page: in the order in which they are asked for. */

/** Scenes that are held ready to be drawn. */
const HELD = 4;

const scope = self as unknown as {
  onmessage: ((event: MessageEvent<ReelOrder>) => void) | null;
  postMessage(answer: ReelAnswer, handed?: Transferable[]): void;
};

interface Ready {
  readonly picture: Picture;
  readonly assets: Assets;
  readonly evaluator: Evaluator;
}

const canvas = new OffscreenCanvas(16, 16);
const renderer = createRenderer(canvas, { alpha: true, preserve: true });
const film = new Film(renderer);
const known = new Map<string, SentScene>();
const held = new Map<string, Promise<Ready>>();

async function ready({ shot, loudness, inner }: SentScene): Promise<Ready> {
  const plan = compile(shot, loudness);
  const inside = new Map(inner.map((entry) => [entry.id, compile(entry.shot, entry.loudness)]));
  const assets = new Assets(readAsset);
  for (const each of [plan, ...inside.values()]) await assets.ready(each.shot);
  const picture = new Picture(assets);
  picture.setInner((id) => inside.get(id) ?? null);
  picture.setPlan(plan);
  return { picture, assets, evaluator: new Evaluator(plan) };
}

function letGo(name: string): void {
  const scene = held.get(name);
  held.delete(name);
  scene?.then(
    ({ picture, assets }) => {
      picture.dispose();
      assets.dispose();
    },
    () => undefined,
  );
}

function sceneOf(name: string): Promise<Ready> {
  const scene = held.get(name) ?? ready(known.get(name)!);
  held.delete(name);
  held.set(name, scene);
  for (const other of [...held.keys()].slice(0, -HELD)) letGo(other);
  return scene;
}

async function draw(name: string, frame: number): Promise<ImageBitmap> {
  const { picture, assets, evaluator } = await sceneOf(name);
  evaluator.evaluate(frame);
  picture.update(evaluator);
  await assets.settled();
  film.draw(picture, { evaluator, aspect: canvas.width / canvas.height, samples: 1 });
  return createImageBitmap(canvas);
}

let queue = Promise.resolve();

scope.onmessage = ({ data }) => {
  if ('size' in data) renderer.setSize(data.size.width, data.size.height, false);
  else if ('scene' in data) {
    letGo(data.scene);
    known.set(data.scene, data);
  } else {
    const { draw: of, frame } = data;
    queue = queue
      .then(() => draw(of, frame))
      .then(
        (picture) => scope.postMessage({ picture, of, frame }, [picture]),
        (error: unknown) =>
          scope.postMessage({ failed: error instanceof Error ? error.message : String(error), of, frame }),
      );
  }
};
