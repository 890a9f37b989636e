import { PerspectiveCamera } from 'three';
import { blankShot, type Shot } from '../../../../core/document';
import { addPart, apply } from '../../../../core/edit';
import { compile, Evaluator } from '../../../../core/evaluate';
import { Assets, createRenderer, drawFrame, Picture } from '../../../../draw';
import { ADDABLES, newPartOf, type Addable } from './addables';

const WIDTH = 176;
const HEIGHT = 112;

const PAINT: Record<string, [number, number, number]> = {
  Solids: [0.42, 0.13, 0.06],
  'Flat, turned and drawn': [0.05, 0.25, 0.26],
  'Mechanical and structure': [0.32, 0.3, 0.27],
};
const METAL = new Set([
  'gear',
  'rack',
  'tube',
  'ring-gear',
  'bevel-gear',
  'worm',
  'sprocket',
  'chain',
  'spring',
  'shaft',
]);
/** Longer than high: looked at from nearer. */
const WIDE = new Set(['lettering', 'rack', 'belt', 'chain']);
/** Turned towards whoever looks, so that flat things show their face. */
const TURN: Record<string, [number, number]> = {
  plane: [-12, -28],
  disc: [-12, -28],
  outline: [-10, -26],
  lettering: [-8, -16],
  gear: [-14, -30],
  rack: [-8, -22],
  torus: [24, 0],
  'ring-gear': [-14, -30],
  'bevel-gear': [38, 200],
  worm: [-14, -58],
  cam: [-12, -28],
  sprocket: [-14, -30],
  belt: [-22, -24],
  chain: [-22, -24],
  shaft: [-16, -58],
  bracket: [-10, -32],
};

async function shotOf(entry: Addable): Promise<Shot> {
  let shot = blankShot();
  const add = (spec: Parameters<typeof addPart>[1]): void => {
    shot = apply(shot, addPart(shot, spec).change);
  };
  const part = await newPartOf(entry);
  const [x, y] = TURN[entry.id] ?? [0, 30];
  add({
    ...part,
    values: { 'rotation.x': x, 'rotation.y': y },
    look: {
      values: {
        colour: PAINT[entry.group] ?? [0.5, 0.5, 0.5],
        metallic: METAL.has(entry.id) ? 0.8 : 0,
        roughness: METAL.has(entry.id) ? 0.35 : 0.55,
      },
    },
  });
  add({ kind: 'sun', name: 'Sun', values: { 'rotation.x': -46, 'rotation.y': -38, strength: 2.6 } });
  add({ kind: 'sky', name: 'Sky', values: { strength: 1.6 } });
  return shot;
}

/** Draws what each shape looks like. @returns addresses of pictures by entry */
async function drawAll(): Promise<Map<string, string>> {
  const canvas = new OffscreenCanvas(WIDTH, HEIGHT);
  const renderer = createRenderer(canvas, { alpha: true, preserve: true });
  renderer.setSize(WIDTH, HEIGHT, false);
  const camera = new PerspectiveCamera(26, WIDTH / HEIGHT, 0.1, 100);
  const pictures = new Map<string, string>();
  // One for all: what it makes of the surroundings and its shaders are made once.
  const picture = new Picture(new Assets(() => Promise.reject(new Error('none'))));
  for (const entry of ADDABLES) {
    if (!entry.shape) continue;
    const shot = await shotOf(entry);
    const plan = compile(shot);
    const evaluator = new Evaluator(plan);
    evaluator.evaluate(1);
    picture.setPlan(plan);
    picture.update(evaluator);
    const mesh = picture.pickable()[0]!;
    mesh.geometry.computeBoundingSphere();
    const { center, radius } = mesh.geometry.boundingSphere!.clone().applyMatrix4(mesh.matrixWorld);
    const near = WIDE.has(entry.id) ? 0.66 : 1;
    camera.position.set(center.x, center.y + radius * 1.5 * near, center.z + radius * 4.1 * near);
    camera.lookAt(center);
    camera.updateMatrixWorld();
    drawFrame(renderer, picture, { camera, audience: 'film', background: null });
    pictures.set(entry.id, URL.createObjectURL(await canvas.convertToBlob({ type: 'image/png' })));
  }
  picture.dispose();
  renderer.dispose();
  renderer.forceContextLoss();
  return pictures;
}

let drawn: Promise<Map<string, string>> | null = null;

/** Pictures of the shapes, drawn once by the same means as the shot itself. */
export function thumbs(): Promise<Map<string, string>> {
  drawn ??= drawAll();
  drawn.catch(() => (drawn = null));
  return drawn;
}
