import { Evaluator, compile, type Loudness, type Plan } from '../core/evaluate';
import { parseShot } from '../core/document';
import type { Tile } from '../core/film';
import { Assets, createRenderer, drawingLibrary, Film, Picture } from '../draw';
import { FloatType, WebGLRenderTarget, type WebGLRenderer } from 'three';

/** Bytes of uploads between collections: their bodies are only freed by one. */
const COLLECT_AFTER = 64 * 1024 * 1024;

interface Loaded {
  readonly picture: Picture;
  readonly assets: Assets;
  readonly evaluator: Evaluator;
  readonly alpha: boolean;
  readonly finest: boolean;
  readonly samples: number | null;
  readonly effects: boolean;
  readonly deep: boolean;
  readonly width: number;
  readonly height: number;
  /** Most pixels of a side that are drawn at once. */
  readonly side: number;
}

let renderer: WebGLRenderer | null = null;
let film: Film | null = null;
let loaded: Loaded | null = null;
/** What was drawn before: freed after the first frame of what follows, which takes over its compiled shaders. */
let past: Loaded | null = null;
let uploaded = 0;
/** Pictures on their way, by the number of their drawing. */
const sending = new Map<number, Promise<void>>();

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

function drawing(): { renderer: WebGLRenderer; film: Film } {
  renderer ??= createRenderer(new OffscreenCanvas(16, 16), { alpha: true, preserve: true });
  film ??= new Film(renderer);
  return { renderer, film };
}

/** Name of the drawing library. */
const library = (): string => drawingLibrary(drawing().renderer);

/** Takes a shot to draw and waits for its pictures and meshes. */
async function load(
  key: string,
  width: number,
  height: number,
  alpha: boolean,
  finest: boolean,
  samples: number | null,
  effects: boolean,
  deep: boolean,
  side: number,
): Promise<void> {
  const response = await fetch(`shot?key=${encodeURIComponent(key)}`);
  const sent = (await response.json()) as SentShot & { inner: readonly (SentShot & { id: string })[] };
  const plan = planOf(sent);
  const inner = new Map(sent.inner.map((entry) => [entry.id, planOf(entry)]));
  free(past);
  past = loaded;
  loaded = null;
  drawing();
  const assets = new Assets(readAsset);
  for (const { shot } of [plan, ...inner.values()]) await assets.ready(shot);
  const picture = new Picture(assets);
  picture.setInner((id) => inner.get(id) ?? null);
  picture.setPlan(plan);
  const evaluator = new Evaluator(plan);
  loaded = { picture, assets, evaluator, alpha, finest, samples, effects, deep, width, height, side };
}

/** What was read from the canvas last: made once, since memory is given out empty, which takes time. */
let pixelsRead = new Uint8Array();

/** Puts what is kept of a piece on the canvas into a picture of numbers: straight alpha, the top row first. */
function putPixels(into: Uint8Array, { keep, left, top, height, whole }: Tile, alpha: boolean): void {
  const gl = renderer!.getContext();
  const across = keep.left - left;
  const size = keep.width * keep.height * 4;
  if (pixelsRead.length !== size) pixelsRead = new Uint8Array(size);
  const read = pixelsRead;
  const under = height - (keep.top - top) - keep.height;
  gl.readPixels(across, under, keep.width, keep.height, gl.RGBA, gl.UNSIGNED_BYTE, read);
  const row = keep.width * 4;
  for (let y = 0; y < keep.height; y++) {
    const from = (keep.height - 1 - y) * row;
    into.set(read.subarray(from, from + row), ((keep.top + y) * whole.width + keep.left) * 4);
  }
  if (!alpha) return;
  for (let y = keep.top; y < keep.top + keep.height; y++) {
    const begin = (y * whole.width + keep.left) * 4;
    for (let i = begin; i < begin + row; i += 4) {
      const opacity = into[i + 3]!;
      if (opacity === 0 || opacity === 255) continue;
      for (let c = i; c < i + 3; c++) into[c] = Math.min(255, Math.round((into[c]! * 255) / opacity));
    }
  }
}

let deepest: WebGLRenderTarget | null = null;

/** What pictures of 16 bits a colour are developed into. */
function deepTarget(width: number, height: number): WebGLRenderTarget {
  deepest ??= new WebGLRenderTarget(width, height, { type: FloatType, samples: 4 });
  deepest.setSize(width, height);
  return deepest;
}

/** Puts what is kept of a piece in a target into a picture of 16 bits: straight alpha, the top row first. */
function putDeepPixels(into: Uint16Array, target: WebGLRenderTarget, tile: Tile, alpha: boolean): void {
  const { keep, left, top, height, whole } = tile;
  const read = new Float32Array(keep.width * keep.height * 4);
  const under = height - (keep.top - top) - keep.height;
  renderer!.readRenderTargetPixels(target, keep.left - left, under, keep.width, keep.height, read);
  for (let y = 0; y < keep.height; y++)
    for (let x = 0; x < keep.width; x++) {
      const from = ((keep.height - 1 - y) * keep.width + x) * 4;
      const to = ((keep.top + y) * whole.width + keep.left + x) * 4;
      const opacity = alpha ? Math.min(1, read[from + 3]!) : 1;
      for (let c = 0; c < 3; c++)
        into[to + c] = Math.round(Math.min(1, Math.max(0, read[from + c]! / (opacity || 1))) * 65_535);
      into[to + 3] = Math.round(opacity * 65_535);
    }
}

async function send(drawing: number, body: Uint8Array<ArrayBuffer>): Promise<void> {
  const answer = await fetch(`frame?drawing=${drawing}`, { method: 'POST', body });
  if (!answer.ok) throw new Error(`The frame was not taken: ${answer.status}.`);
  uploaded += body.length;
  if (uploaded < COLLECT_AFTER) return;
  uploaded = 0;
  (globalThis as { gc?: () => void }).gc?.();
}

/**
 * Draws a frame and begins to send it to the process that asked; `sent` tells when it has arrived.
 * @param drawing number under which it is sent; `null` waits until it is drawn and throws it away
 */
async function draw(frame: number, drawing: number | null): Promise<void> {
  if (!loaded || !renderer || !film) throw new Error('No shot has been loaded.');
  const canvas = renderer.domElement as unknown as OffscreenCanvas;
  const { picture, evaluator, alpha, finest, samples, effects, deep, width, height, side } = loaded;
  evaluator.evaluate(frame);
  picture.update(evaluator);
  await picture.assets.settled();
  const [failed] = picture.assets.failures;
  if (failed) throw new Error(`A video cannot be shown: ${failed[1]}.`);
  const of = {
    evaluator,
    aspect: width / height,
    alpha,
    ...(finest ? { tolerance: 0 } : {}),
    ...(samples === null ? {} : { samples }),
    effects,
    deep,
  };
  const tiles = film.tiles(picture, of, width, height, side);
  let body: Uint8Array<ArrayBuffer> | null = null;
  for (const tile of tiles) {
    if (canvas.width !== tile.width || canvas.height !== tile.height)
      renderer.setSize(tile.width, tile.height, false);
    const exposure = film.expose(picture, tiles.length === 1 ? of : { ...of, tile });
    // Between two pictures the browser may do what it has to.
    while (exposure.take()) await new Promise((next) => setTimeout(next));
    const target = deep ? deepTarget(tile.width, tile.height) : null;
    exposure.show(target);
    if (renderer.getContext().isContextLost())
      throw new Error('The drawing process of the browser has ended.');
    if (drawing === null) {
      const gl = renderer.getContext();
      gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
      continue;
    }
    body ??= new Uint8Array(width * height * (deep ? 8 : 4));
    if (target) putDeepPixels(new Uint16Array(body.buffer), target, tile, alpha);
    else putPixels(body, tile, alpha);
  }
  free(past);
  past = null;
  if (!body || drawing === null) return;
  const sent = send(drawing, body);
  sent.catch(() => undefined);
  sending.set(drawing, sent);
}

/** Waits until a drawing has arrived. */
async function sent(drawing: number): Promise<void> {
  const way = sending.get(drawing);
  sending.delete(drawing);
  await way;
}

Object.assign(globalThis, { whirl: { library, load, draw, sent } });
