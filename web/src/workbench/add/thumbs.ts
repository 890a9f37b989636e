import { blankShot, type Shot } from '../../../../core/document';
import { addPart, apply } from '../../../../core/edit';
import { leftBlank } from '../view/draft';
import { ADDABLES, newPartOf, type Addable } from './addables';
import type { ThumbAnswer, ThumbOrder } from './thumbs-worker';

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

/** Has what each shape looks like drawn beside the page, so that the page goes on meanwhile. */
async function drawAll(onPicture: () => void): Promise<void> {
  const shapes = ADDABLES.filter((entry) => entry.shape);
  const order: ThumbOrder = await Promise.all(
    shapes.map(async (entry) => ({ id: entry.id, shot: await shotOf(entry), near: WIDE.has(entry.id) })),
  );
  const worker = new Worker(new URL('./thumbs-worker.ts', import.meta.url), { type: 'module' });
  try {
    await new Promise<void>((resolve, reject) => {
      worker.onerror = (event) => reject(new Error(event.message));
      worker.onmessage = ({ data }: MessageEvent<ThumbAnswer>) => {
        if ('failed' in data) reject(new Error(data.failed));
        else if ('id' in data) {
          pictures = new Map(pictures).set(data.id, URL.createObjectURL(data.picture));
          onPicture();
        } else resolve();
      };
      worker.postMessage(order);
    });
  } finally {
    worker.terminate();
  }
}

let pictures: ReadonlyMap<string, string> = new Map();
let drawing: Promise<void> | null = null;
const watchers = new Set<() => void>();

/** Pictures of the shapes so far, by entry: drawn once, by the same means as the shot itself. */
export const thumbs = (): ReadonlyMap<string, string> => pictures;

/** Tells when there are more of them. They are drawn from the first time on that somebody asks. @returns ends that */
export function watchThumbs(changed: () => void): () => void {
  watchers.add(changed);
  if (!leftBlank()) {
    drawing ??= drawAll(() => watchers.forEach((watcher) => watcher()));
    drawing.catch(() => (drawing = null));
  }
  return () => watchers.delete(changed);
}
