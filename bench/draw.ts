import { readFile } from 'node:fs/promises';
import { chromium } from 'playwright-core';
import { blankShot, type Key, type Shot } from '../core/document';
import { fullRide } from '../demo/full-ride';

/**
 * Drawing, in headless Chromium, as ratios in one run: update and submit of 1,000 moving parts beside a scene of the same parts
 * written by hand with the drawing library alone (at most 1.1 times it), and a frame of the demo ride at 1280x800 beside
 * drawing its scene once more as it is (at most 1.25 times it, with nothing but the scene in the film).
 */

const PARTS = 1000;
const ROUNDS = 40;
const FRAMES = 9;

interface Page {
  submit(document: unknown, rounds: number): { ours: number; byHand: number };
  frame(document: unknown, rounds: number): { whole: number; bare: number };
}

/** Boxes and cylinders in a square, each turning by its own keys. */
function drawShot(): Shot {
  const shot = blankShot({ camera: 'prt_camera', background: [0.3, 0.3, 0.3] });
  const bare = { values: {}, tracks: {}, links: {} };
  const key = (frame: number, value: number): Key => ({ frame, value, manner: 'linear' });
  const parts: Record<string, unknown> = {};
  const part = (id: string, kind: string, more: object): void => {
    const order = Object.keys(parts).length;
    parts[id] = {
      kind,
      name: id,
      parent: null,
      order,
      rotationOrder: 'XYZ',
      shape: null,
      look: null,
      ...bare,
      ...more,
    };
  };
  part('prt_camera', 'camera', { values: { 'location.z': 16, lens: 28 } });
  part('prt_sun', 'sun', { values: { 'rotation.x': -50, 'rotation.y': 30 } });
  part('prt_sky', 'sky', {});
  for (let i = 0; i < PARTS; i++)
    part(`prt_s${i}`, 'solid', {
      shape: i % 2 === 0 ? 'shp_box' : 'shp_cylinder',
      look: `lok_${i % 20}`,
      values: { 'location.x': ((i % 40) - 20) * 0.4, 'location.y': (Math.floor(i / 40) - 12) * 0.4 },
      tracks: {
        'rotation.z': { before: 'hold', after: 'hold', keys: { key_a: key(1, 0), key_b: key(96, 270) } },
      },
    });
  const looks = Object.fromEntries(
    Array.from({ length: 20 }, (_, i) => [
      `lok_${i}`,
      { name: `Look ${i}`, ...bare, values: { roughness: 0.3 + i * 0.03 } },
    ]),
  );
  const shapes = {
    shp_box: { kind: 'box', ...bare, values: { width: 0.3, height: 0.3, depth: 0.3 } },
    shp_cylinder: { kind: 'cylinder', ...bare, values: { radius: 0.15, height: 0.3, sides: 16 } },
  };
  return { ...shot, parts, shapes, looks } as Shot;
}

/** The ride with nothing done to its picture after the scene is drawn. */
function plainRide(): Shot {
  const { sounds: _sounds, ...ride } = fullRide();
  const camera = ride.setup.camera!;
  const taken = ride.parts[camera]!;
  const values = { ...taken.values, bloom: 0, vignette: 0 };
  return { ...ride, sounds: {}, parts: { ...ride.parts, [camera]: { ...taken, values } } };
}

const browser = await chromium.launch({
  executablePath: process.env.WHIRL_CHROMIUM ?? '/usr/bin/chromium',
  chromiumSandbox: process.getuid?.() !== 0,
  args: ['--use-angle=gl-egl', '--ignore-gpu-blocklist', '--disable-background-networking', '--no-first-run'],
});
const page = await browser.newPage();
await page.addScriptTag({ content: await readFile(new URL('bench-draw-page.js', import.meta.url), 'utf8') });
const bench = <Name extends keyof Page>(
  name: Name,
  document: Shot,
  rounds: number,
): Promise<ReturnType<Page[Name]>> =>
  page.evaluate(
    ([of, shot, count]) => (globalThis as unknown as { whirlBench: Page }).whirlBench[of](shot, count),
    [name, document, rounds] as const,
  ) as Promise<ReturnType<Page[Name]>>;

const ratio = (a: number, b: number): string => (a / b).toFixed(2);
const { ours, byHand } = await bench('submit', drawShot(), ROUNDS);
console.log(
  `update and submit of ${PARTS} parts: ${ours.toFixed(2)} ms, by hand ${byHand.toFixed(2)} ms: ${ratio(ours, byHand)} times (target 1.10)`,
);
const { whole, bare } = await bench('frame', plainRide(), FRAMES);
console.log(
  `a frame of the ride at 1280x800: ${whole.toFixed(0)} ms, its scene drawn bare ${bare.toFixed(0)} ms: ${ratio(whole, bare)} times (target 1.25)`,
);
const dusk = await bench('frame', { ...fullRide(), sounds: {} }, FRAMES);
console.log(
  `with bloom and vignette: ${dusk.whole.toFixed(0)} ms, ${ratio(dusk.whole, bare)} times the bare scene`,
);
await browser.close();
