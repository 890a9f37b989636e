import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { PNG } from 'pngjs';
import { blankShot, type Callout, type Shot, type Value } from '../core/document';
import { DrawingBrowser } from '../render/drawing-browser';
import {
  addPart,
  blankCopy,
  choosePart,
  dragMouse,
  find,
  keptShot,
  openDrawn,
  partNamed,
  type,
  waitDrawn,
  waitKept,
} from './workbench';

const [WIDTH, HEIGHT] = [400, 200];
/** Words that fill their place: a bar six capitals long. */
const BAR: Callout = {
  text: { text: 'bar', font: 'oswald' },
  outline: [{ letter: 0, outer: [-3, -0.5, 3, -0.5, 3, 0.5, -3, 0.5], holes: [] }],
};

/** A callout at a point two metres before a camera of 36 mm, in pure colours. */
function shotOf(values: Record<string, Value>, setup: Partial<Shot['setup']> = {}): Shot {
  const bare = {
    parent: null,
    rotationOrder: 'XYZ',
    shape: null,
    look: null,
    tracks: {},
    links: {},
  } as const;
  return {
    ...blankShot({
      width: WIDTH,
      height: HEIGHT,
      background: [0, 0, 0],
      camera: 'prt_camera',
      last: 9,
      ...setup,
    }),
    parts: {
      prt_camera: {
        ...bare,
        kind: 'camera',
        name: 'Camera',
        order: 0,
        values: {
          'location.z': 2,
          lens: 36,
          ...(setup.samples ? { vignette: 0.6, grain: 0.2, bloom: 0.5, aperture: 1.4, focus: 0.5 } : {}),
        },
      },
      prt_dark: {
        ...bare,
        kind: 'backdrop',
        name: 'Dark',
        order: 1,
        values: { mirrored: 0, colour: [0, 0, 0] },
      },
      prt_callout: {
        ...bare,
        kind: 'callout',
        name: 'Callout',
        order: 2,
        callout: BAR,
        values: {
          'location.x': -0.25,
          'words.x': 0.5,
          'words.y': 0.25,
          height: 0.05,
          line: 0.02,
          dot: 0.03,
          plate: 1,
          colour: [0, 1, 0],
          linecolour: [1, 0, 0],
          platecolour: [0, 0, 1],
          ...values,
        },
      },
    },
  };
}

test.describe('in the film', () => {
  let browser: DrawingBrowser;
  test.beforeAll(async () => {
    browser = await DrawingBrowser.open(() => Promise.reject(new Error('no files')));
  });
  test.afterAll(() => browser.close());

  async function draw(shot: Shot, alpha = false): Promise<(x: number, y: number) => number[]> {
    await browser.load(shot, { width: WIDTH, height: HEIGHT, alpha });
    const { data } = PNG.sync.read(await browser.draw(1));
    return (x, y) => [...data.subarray((y * WIDTH + x) * 4, (y * WIDTH + x) * 4 + 4)];
  }
  const [RED, GREEN, BLUE, BLACK] = [
    [255, 0, 0, 255],
    [0, 255, 0, 255],
    [0, 0, 255, 255],
    [0, 0, 0, 255],
  ];

  /** Black but for the grain of the film. */
  const dark = (pixel: number[]): boolean => Math.max(...pixel.slice(0, 3)) < 4;

  // A lens of 36 mm before a film of 36 mm shows at 2 m a width of 2 m: 200 pixels a metre. The point lies at x = 200 - 50.
  const [X, Y] = [150, 100];
  // Words 0.5 heights to the right and 0.25 up: 100 and 50 pixels; a capital has 10 pixels.
  const [WX, WY] = [X + 100, Y - 50];

  for (const samples of [undefined, 4] as const)
    test(`lies where its point is seen, in its very colours, of ${samples ?? 1} pictures`, async () => {
      const at = await draw(shotOf({}, samples ? { samples } : {}));
      expect(at(X, Y)).toEqual(RED);
      expect(at(X + 4, Y)).toEqual(RED);
      expect(dark(at(X + 9, Y))).toBe(true);
      expect(at(WX, WY)).toEqual(GREEN);
      expect(at(WX - 28, WY)).toEqual(GREEN);
      expect(at(WX + 33, WY)).toEqual(BLUE);
      expect(at(WX, WY - 8)).toEqual(BLUE);
      expect(dark(at(WX, WY - 13))).toBe(true);
      // The level piece of the line ends at the plate: 30 + 7.5 pixels left of the middle, 9 long.
      expect(at(WX - 41, WY)).toEqual(RED);
      expect(dark(at(WX - 44, WY - 4))).toBe(true);
      // Half way along the slanted piece, from the point to 46.5 pixels left of the words.
      expect(at(Math.round((X + WX - 46.5) / 2), Math.round((Y + WY) / 2))).toEqual(RED);
    });

  test('and all that is below it has the same colours in 16 bits as in 8, in far finer steps', async () => {
    const shot = shotOf({ colour: [0.3, 0.5, 0.7], platecolour: [0.1, 0.02, 0.2], drawn: 0.8 });
    const { prt_dark, ...parts } = shot.parts;
    const blend = {
      ...prt_dark!,
      values: { colour: [0.02, 0.1, 0.5], upper: [0.5, 0.3, 0.1] },
      backdrop: { shows: 'gradient', surroundings: 'plain' },
    };
    for (const [alpha, backdrop] of [
      [false, blend],
      [true, prt_dark!],
    ] as const) {
      const of = { ...shot, parts: { ...parts, prt_dark: backdrop } } as unknown as Shot;
      const size = { width: WIDTH, height: HEIGHT, alpha };
      await browser.load(of, size);
      const { data } = PNG.sync.read(await browser.draw(1));
      await browser.load(of, { ...size, deep: true });
      const file = await browser.draw(1);
      // 16 bits a colour, as the header of the file says (PNG specification, section 11.2.2).
      expect(file[24]).toBe(16);
      const deep = PNG.sync.read(file, { skipRescale: true }).data as unknown as Uint16Array;
      let worst = 0;
      for (let i = 0; i < data.length; i++) {
        // Where all is clear the colour of a pixel means nothing.
        if (i % 4 < 3 && data[i - (i % 4) + 3]! < 8) continue;
        worst = Math.max(worst, Math.abs(deep[i]! / 257 - data[i]!));
      }
      expect(worst, alpha ? 'clear' : 'on a background').toBeLessThan(alpha ? 40 : 1.6);
      if (!alpha) expect(new Set(deep).size).toBeGreaterThan(1000);
    }
  });

  test('is drawn out, fades over what is clear, and is gone behind the camera', async () => {
    let at = await draw(shotOf({ drawn: 0.5 }));
    expect(at(WX, WY)).toEqual(BLACK);
    expect(at(X, Y)).toEqual(RED);
    expect(at(WX - 41, WY)).toEqual(BLACK);
    at = await draw(shotOf({ drawn: 0 }));
    expect(at(X, Y)).toEqual(BLACK);
    at = await draw(shotOf({ opacity: 0.5 }), true);
    const [red, green, blue, alpha] = at(X, Y) as [number, number, number, number];
    expect([red, green, blue]).toEqual([255, 0, 0]);
    expect(Math.abs(alpha - 128)).toBeLessThanOrEqual(1);
    // Half of the plate under half of the words.
    expect(at(WX, WY)[3]).toBeGreaterThan(185);
    expect(at(300, 180)[3]).toBe(0);
    at = await draw(shotOf({ 'location.z': 4 }));
    for (let x = 0; x < WIDTH; x += 5) expect(at(x, WY)).toEqual(BLACK);
  });
});

test.describe('in the workbench', () => {
  let id: string;
  test.beforeEach(async ({ page }) => {
    id = await blankCopy();
    await openDrawn(page, id, 'yes');
  });
  const kept = async (page: Page): Promise<Shot> => {
    await waitKept(page);
    return (await keptShot(id)).document;
  };

  test('it is added to the chosen part, says its name, counts, and is chosen by its words', async ({
    page,
  }) => {
    await addPart(page, 'Ball');
    await addPart(page, 'Callout');
    let shot = await kept(page);
    const ball = partNamed(shot, 'Ball');
    let { part } = partNamed(shot, 'Callout');
    expect(part.parent).toBe(ball.id);
    expect(part.callout!.text.text).toBe('Ball');
    const text = page.getByLabel('Text of the callout');
    await text.fill('Rises # mm');
    await text.press('Enter');
    await type(page, 'Callout number', '=Ball.location.y * 1000');
    shot = await kept(page);
    part = partNamed(shot, 'Callout').part;
    expect(part.callout!.text.text).toBe('Rises # mm');
    expect(Object.keys(part.links)).toEqual(['number']);
    await text.fill('Straße 漢');
    await text.press('Enter');
    await expect(page.getByText('This font has no "漢"')).toBeVisible();

    await find(page, 'viewfinder: put away');
    await find(page, 'viewfinder: put away');
    await choosePart(page, 'Ball');
    await find(page, 'Bring the chosen parts into view');
    await waitDrawn(page);
    const view = (await page.getByTestId('view-canvas').boundingBox())!;
    // The point is the middle of the ball, in the middle of the view; the words are 0.16 heights to the right and 0.12 up.
    const words = { x: view.x + view.width / 2 + 0.16 * view.height, y: view.y + view.height * (0.5 - 0.12) };
    await page.mouse.click(words.x, words.y);
    await expect(page.getByRole('treeitem', { selected: true })).toContainText('Callout');
    // Dragged, the words go along and the point stays; Escape puts them back.
    await dragMouse(page, words, { x: words.x + 60, y: words.y - 40 });
    let moved = partNamed(await kept(page), 'Callout').part.values;
    expect(moved['words.x']).toBeCloseTo(0.16 + 60 / view.height, 2);
    expect(moved['words.y']).toBeCloseTo(0.12 + 40 / view.height, 2);
    await page.mouse.move(words.x + 60, words.y - 40);
    await page.mouse.down();
    await page.mouse.move(words.x + 90, words.y, { steps: 4 });
    await page.keyboard.press('Escape');
    await page.mouse.up();
    expect(partNamed(await kept(page), 'Callout').part.values).toEqual(moved);
    await page.getByRole('button', { name: 'Undo' }).click();
    moved = partNamed(await kept(page), 'Callout').part.values;
    expect(moved['words.x']).toBeUndefined();
    await type(page, 'Callout words at X', '-0.3');
    await waitDrawn(page);
    await page.keyboard.press('Escape');
    await page.mouse.click(words.x, words.y);
    await expect(page.getByRole('treeitem', { selected: true })).not.toContainText('Callout');
  });
});
