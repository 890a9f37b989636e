import { Evaluator, compile, type Loudness, type Plan } from '../core/evaluate';
import { parseShot } from '../core/document';
import { Assets, createRenderer, drawingLibrary, Film, Picture } from '../draw';
import type { WebGLRenderer } from 'three';

/** Frames between collections: upload bodies are only freed by one. */
const COLLECT_EVERY = 16;

interface Loaded {
  readonly picture: Picture;
  readonly assets: Assets;
  readonly evaluator: Evaluator;
  readonly alpha: boolean;
  readonly finest: boolean;
}

let renderer: WebGLRenderer | null = null;
let film: Film | null = null;
let loaded: Loaded | null = null;
/** What was drawn before: freed after the first frame of what follows, which takes over its compiled shaders. */
let past: Loaded | null = null;
let uploaded = 0;

async function readAsset(hash: string): Promise<Uint8Array> {
  const response = await fetch(`asset?hash=${hash}`);
  if (!response.ok) throw new Error(await response.text());
  return new Uint8Array(await response.arrayBuffer());
}

/** A table of loudness as it is sent: its numbers in base 64. */
type LoudnessText = Omit<Loudness, 'power'> & { readonly power: string };

function loudnessOf({ power, ...rest }: LoudnessText): Loudness {
  const text = atob(power);
  const bytes = Uint8Array.from(text, (letter) => letter.charCodeAt(0));
  return { ...rest, power: new Float32Array(bytes.buffer) };
}

interface SentShot {
  readonly shot: unknown;
  readonly loudness: Record<string, LoudnessText>;
}

function planOf({ shot, loudness }: SentShot): Plan {
  const parsed = parseShot(shot);
  if (!parsed.ok)
    throw new Error(parsed.problems.map((problem) => `${problem.path}: ${problem.message}`).join('; '));
  return compile(
    parsed.shot,
    Object.fromEntries(Object.entries(loudness).map(([id, table]) => [id, loudnessOf(table)])),
  );
}

function free(what: Loaded | null): void {
  what?.picture.dispose();
  what?.assets.dispose();
}

/** Takes a shot to draw and waits for its pictures and meshes. @returns the name of the drawing library */
async function load(
  key: string,
  width: number,
  height: number,
  alpha: boolean,
  finest: boolean,
): Promise<string> {
  const response = await fetch(`shot?key=${encodeURIComponent(key)}`);
  const sent = (await response.json()) as SentShot & { inner: readonly (SentShot & { id: string })[] };
  const plan = planOf(sent);
  const inner = new Map(sent.inner.map((entry) => [entry.id, planOf(entry)]));
  free(past);
  past = loaded;
  loaded = null;
  renderer ??= createRenderer(new OffscreenCanvas(width, height), { alpha: true, preserve: true });
  film ??= new Film(renderer);
  renderer.setSize(width, height, false);
  const assets = new Assets(readAsset);
  for (const { shot } of [plan, ...inner.values()]) await assets.ready(shot);
  const picture = new Picture(assets);
  picture.setInner((id) => inner.get(id) ?? null);
  picture.setPlan(plan);
  loaded = { picture, assets, evaluator: new Evaluator(plan), alpha, finest };
  return drawingLibrary(renderer);
}

/** Draws a frame and sends it, as PNG, to the process that asked. */
async function draw(frame: number): Promise<void> {
  if (!loaded || !renderer || !film) throw new Error('No shot has been loaded.');
  const { picture, evaluator, alpha, finest } = loaded;
  const canvas = renderer.domElement as unknown as OffscreenCanvas;
  evaluator.evaluate(frame);
  picture.update(evaluator);
  await picture.assets.settled();
  const [failed] = picture.assets.failures;
  if (failed) throw new Error(`A video cannot be shown: ${failed[1]}.`);
  const exposure = film.expose(picture, {
    evaluator,
    aspect: canvas.width / canvas.height,
    alpha,
    ...(finest ? { tolerance: 0 } : {}),
  });
  // Between two pictures the browser may do what it has to.
  while (exposure.take()) await new Promise((next) => setTimeout(next));
  exposure.show();
  if (renderer.getContext().isContextLost()) throw new Error('The drawing process of the browser has ended.');
  free(past);
  past = null;
  const blob = await canvas.convertToBlob({ type: 'image/png' });
  const answer = await fetch(`frame?frame=${frame}`, { method: 'POST', body: blob });
  if (!answer.ok) throw new Error(`The frame was not taken: ${answer.status}.`);
  uploaded += 1;
  if (uploaded % COLLECT_EVERY === 0) (globalThis as { gc?: () => void }).gc?.();
}

Object.assign(globalThis, { whirl: { load, draw } });
