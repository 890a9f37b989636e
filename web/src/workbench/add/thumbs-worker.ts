import { PerspectiveCamera } from 'three';
import type { Shot } from '../../../../core/document';
import { compile, Evaluator } from '../../../../core/evaluate';
import { Assets, createRenderer, drawFrame, Picture } from '../../../../draw';

/* Draws small pictures of shapes beside the page; once, then it is ended. */

const WIDTH = 176;
const HEIGHT = 112;

/** Shots of one solid each. */
export type ThumbOrder = readonly {
  readonly id: string;
  readonly shot: Shot;
  /** Looked at from nearer than others. */
  readonly near: boolean;
}[];

export type ThumbAnswer =
  | { readonly id: string; readonly picture: Blob }
  | { readonly done: true }
  | { readonly failed: string };

const scope = self as unknown as {
  onmessage: ((event: MessageEvent<ThumbOrder>) => void) | null;
  postMessage(answer: ThumbAnswer): void;
};

async function drawAll(order: ThumbOrder): Promise<void> {
  const canvas = new OffscreenCanvas(WIDTH, HEIGHT);
  const renderer = createRenderer(canvas, { alpha: true, preserve: true });
  renderer.setSize(WIDTH, HEIGHT, false);
  const camera = new PerspectiveCamera(26, WIDTH / HEIGHT, 0.1, 100);
  // One for all: what it makes of the surroundings and its shaders are made once.
  const picture = new Picture(new Assets(() => Promise.reject(new Error('none'))));
  for (const { id, shot, near } of order) {
    const plan = compile(shot);
    const evaluator = new Evaluator(plan);
    evaluator.evaluate(1);
    picture.setPlan(plan);
    picture.update(evaluator);
    const mesh = picture.pickable()[0]!;
    mesh.geometry.computeBoundingSphere();
    const { center, radius } = mesh.geometry.boundingSphere!.clone().applyMatrix4(mesh.matrixWorld);
    const away = near ? 0.66 : 1;
    camera.position.set(center.x, center.y + radius * 1.5 * away, center.z + radius * 4.1 * away);
    camera.lookAt(center);
    camera.updateMatrixWorld();
    drawFrame(renderer, picture, { camera, audience: 'film', background: null });
    scope.postMessage({ id, picture: await canvas.convertToBlob({ type: 'image/png' }) });
  }
}

scope.onmessage = ({ data }) => {
  drawAll(data).then(
    () => scope.postMessage({ done: true }),
    (error: unknown) => scope.postMessage({ failed: error instanceof Error ? error.message : String(error) }),
  );
};
