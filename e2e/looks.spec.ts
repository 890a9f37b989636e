import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { PNG } from 'pngjs';
import type { Shot } from '../core/document';
import { compile, Evaluator } from '../core/evaluate';
import { DrawingBrowser } from '../render/drawing-browser';
import {
  addPart,
  blankCopy,
  choosePart,
  dragMouse,
  field,
  find,
  keptShot,
  openDrawn,
  pixelsOf,
  openShot,
  partNamed,
  projects,
  renameChosen,
  type,
  url,
  waitDrawn,
  waitKept,
} from './workbench';

let id: string;
test.beforeEach(async ({ page }) => {
  id = await blankCopy();
  await openDrawn(page, id, 'yes');
});

async function kept(page: Page): Promise<Shot> {
  await waitKept(page);
  return (await keptShot(id)).document;
}

/** Mean colour of a place of the viewfinder's picture, in shares of it. */
async function finderColour(page: Page, x: number, y: number, half = 0.03): Promise<number[]> {
  await waitDrawn(page);
  const box = (await page.getByTestId('viewfinder').boundingBox())!;
  const height = box.height - 26;
  const clip = {
    x: box.x + box.width * (x - half),
    y: box.y + height * (y - half),
    width: box.width * 2 * half,
    height: height * 2 * half,
  };
  const { data } = PNG.sync.read(await page.screenshot({ clip }));
  const sum = [0, 0, 0];
  for (let i = 0; i < data.length; i += 4) for (let k = 0; k < 3; k++) sum[k]! += data[i + k]!;
  return sum.map((part) => Math.round((part * 4) / data.length));
}

test('a ready look is put on, kept with the project, and taken in another shot', async ({ page }) => {
  await addPart(page, 'Ball');
  await page.getByRole('button', { name: 'Look: Ball' }).click();
  await page.getByLabel('Find a look').fill('varn');
  await page.getByRole('button', { name: 'Varnished wood' }).click();
  await expect(page.getByRole('button', { name: 'Look: Varnished wood' })).toBeVisible();
  let shot = await kept(page);
  const { part } = partNamed(shot, 'Ball');
  expect(shot.looks[part.look!]).toMatchObject({
    name: 'Varnished wood',
    pattern: { kind: 'wood', lies: 'body' },
    values: { coat: 1 },
  });
  // Its pattern has rows of its own now, and they move what is seen.
  await type(page, 'Ball pattern size', '0.3');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  expect((await kept(page)).looks[part.look!]!.pattern).toBeUndefined();
  await page.getByRole('button', { name: 'Redo' }).click();
  await page.getByRole('button', { name: 'Look: Varnished wood' }).click();
  await page.getByRole('button', { name: 'Keep this look' }).click();
  const name = `Keel ${id.slice(0, 6)}`;
  await page.getByLabel('Name of the look').fill(name);
  await page.getByLabel('Name of the look').press('Enter');
  await expect(page.getByRole('button', { name, exact: true })).toBeVisible();
  await page.keyboard.press('Escape');

  const other = await blankCopy();
  await openShot(page, other);
  await addPart(page, 'Box');
  await page.getByRole('button', { name: 'Look: Box' }).click();
  await page.getByRole('button', { name, exact: true }).click();
  await waitKept(page);
  shot = (await keptShot(other)).document;
  expect(shot.looks[partNamed(shot, 'Box').part.look!]).toMatchObject({ name, pattern: { kind: 'wood' } });
  await page.getByRole('button', { name: `Look: ${name}` }).click();
  await page.getByRole('button', { name, exact: true }).hover();
  await page.getByRole('button', { name: `Remove the look ${name} from the project` }).click();
  await expect(page.getByRole('button', { name, exact: true })).toHaveCount(0);
  const project = (await projects())[0]!.id;
  const left = (await (await fetch(url(`/api/projects/${project}/looks`))).json()) as { name: string }[];
  expect(left.map((entry) => entry.name)).not.toContain(name);
});

test('a backdrop shows a colour, a gradient or surroundings in the viewfinder, and is mirrored', async ({
  page,
}) => {
  await addPart(page, 'Backdrop');
  await page.getByLabel('Behind all').selectOption('gradient');
  await waitKept(page);
  const [low, high] = [await finderColour(page, 0.1, 0.32), await finderColour(page, 0.1, 0.06)];
  expect(low).not.toEqual(high);
  await page.getByLabel('Behind all').selectOption('surroundings');
  await page.getByLabel('Mirrored are').selectOption('tent');
  const tent = await finderColour(page, 0.1, 0.06);
  expect(Math.min(...tent)).toBeGreaterThan(170);
  await page.getByLabel('Mirrored are').selectOption('quay');
  await expect.poll(() => finderColour(page, 0.1, 0.06)).not.toEqual(tent);
  const { part } = partNamed(await kept(page), 'Backdrop');
  expect(part.backdrop).toEqual({ shows: 'surroundings', surroundings: 'quay' });
  // Hidden, it leaves the shot its own colour.
  await page.getByRole('treeitem', { selected: true }).getByRole('button', { name: /^Hide/ }).click();
  await expect.poll(() => finderColour(page, 0.1, 0.06)).not.toEqual(tent);
});

test('a camera is focused on a part, and its film effects are folded away until they are used', async ({
  page,
}) => {
  await addPart(page, 'Ball');
  await type(page, 'Ball location Z', '-4');
  await choosePart(page, 'Camera');
  await expect(field(page, 'Camera f-number')).toHaveCount(0);
  await page.getByRole('button', { name: 'Focus and film' }).click();
  await type(page, 'Camera f-number', '1.4');
  await page.getByLabel('Focus on').focus();
  await page.getByLabel('Focus on').selectOption({ label: 'Ball' });
  const shot = await kept(page);
  const camera = partNamed(shot, 'Camera').id;
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  const at = (path: string): number => evaluator.number(`${camera}/location.${path}`);
  const far = Math.hypot(
    at('x'),
    at('y') - evaluator.number(`${partNamed(shot, 'Ball').id}/location.y`),
    at('z') + 4,
  );
  expect(evaluator.number(`${camera}/focus`)).toBeCloseTo(far, 9);
  await page.getByLabel('Sees').selectOption('parallel');
  await expect(field(page, 'Camera lens')).toHaveCount(0);
  await type(page, 'Camera width', '6');
  expect(partNamed(await kept(page), 'Camera').part).toMatchObject({
    projection: 'parallel',
    values: { width: 6 },
  });
});

test('samples and tones are set for the shot, and the viewfinder builds the picture up when all is at rest', async ({
  page,
}) => {
  await page.getByRole('group', { name: 'Show' }).getByText('Draft').click();
  await addPart(page, 'Ball');
  await choosePart(page, 'Sun');
  await type(page, 'Sun size', '12');
  const hint = page.getByText('Size: not seen while each frame is one picture.');
  await expect(hint).toBeVisible();
  const hard = await finderColour(page, 0.5, 0.5, 0.45);
  await page.getByRole('button', { name: 'Build frames up from 16' }).click();
  await expect(hint).toBeHidden();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Shift+s');
  await expect(page.getByLabel('Samples')).toHaveValue('16');
  await page.getByLabel('Bright light').selectOption('agx');
  await page.getByRole('button', { name: 'Set', exact: true }).click();
  await waitDrawn(page);
  expect((await kept(page)).setup).toMatchObject({ samples: 16, tones: 'agx' });
  await expect.poll(() => finderColour(page, 0.5, 0.5, 0.45)).not.toEqual(hard);
});

test('a lettering counts by a formula and says one of several words by keys', async ({ page }) => {
  await addPart(page, 'Box');
  await renameChosen(page, 'Wheel');
  await page.keyboard.press('Enter');
  await type(page, 'Wheel rotation Z', '3*360');
  await addPart(page, 'Lettering');
  const text = page.getByLabel('Text of the lettering');
  await text.fill('Round # | Over');
  await text.press('Enter');
  await type(page, 'Lettering number', '=round(Wheel.rotation.z / 1turn)');
  const shot = await kept(page);
  const { part } = partNamed(shot, 'Lettering');
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  expect(evaluator.number(`${part.shape}/number`)).toBe(3);
  expect(Object.keys(shot.shapes[part.shape!]!.text!.glyphs!).sort().join('')).toBe('-.0123456789ORdenoruv');
  await type(page, 'Lettering choice', '1');
  expect((await kept(page)).shapes[part.shape!]!.values.choice).toBe(1);
  // A text that shows no number has no rows for one.
  await text.fill('Fair');
  await text.press('Enter');
  await expect(field(page, 'Lettering number')).toHaveCount(0);
});

test('the viewfinder is dragged into another corner, made larger, and put beside the view', async ({
  page,
}) => {
  const finder = page.getByTestId('viewfinder');
  const view = (await page.getByTestId('view-canvas').boundingBox())!;
  const bar = (await finder.getByText('Viewfinder').boundingBox())!;
  await dragMouse(page, { x: bar.x + 10, y: bar.y + 8 }, { x: view.x + 80, y: view.y + 90 });
  let box = (await finder.boundingBox())!;
  expect(box.x).toBeLessThan(view.x + 20);
  expect(box.y).toBeLessThan(view.y + 60);
  const grip = (await page.getByRole('separator', { name: 'Size of the viewfinder' }).boundingBox())!;
  await dragMouse(page, { x: grip.x + 4, y: grip.y + 4 }, { x: grip.x + 104, y: grip.y + 60 });
  const larger = (await finder.boundingBox())!;
  expect(larger.width).toBeGreaterThan(box.width + 60);
  await page.getByRole('button', { name: 'Put it beside the view' }).click();
  box = (await finder.boundingBox())!;
  expect(box.x).toBeGreaterThanOrEqual(view.x + view.width / 2 - 2);
  await waitDrawn(page);
  // With the keyboard: the next place is a corner again.
  await find(page, 'viewfinder into the next corner');
  expect((await finder.boundingBox())!.x + (await finder.boundingBox())!.width).toBeGreaterThan(
    view.x + view.width - 20,
  );
  // However large it is in a corner, no tool lies below it.
  await page.getByRole('button', { name: 'Make it large' }).click();
  box = (await finder.boundingBox())!;
  expect(box.width).toBeGreaterThan(view.width / 2);
  for (const tool of await page.getByRole('group', { name: 'Tool', exact: true }).getByRole('button').all()) {
    const at = (await tool.boundingBox())!;
    expect(at.x + at.width, await tool.innerText()).toBeLessThanOrEqual(box.x);
  }
});

test('the view through the camera shows the bytes of the film', async ({ page }) => {
  // No larger than it must be: each pixel is drawn twice, eight times over, by the processor.
  await page.setViewportSize({ width: 1100, height: 640 });
  // A draft has fewer pixels and no shadows.
  await page.getByRole('group', { name: 'Show' }).getByText('Draft').click();
  await addPart(page, 'Ball');
  await page.getByRole('button', { name: 'Look: Ball' }).click();
  await page.getByRole('button', { name: 'Varnished wood' }).click();
  await addPart(page, 'Backdrop');
  await page.getByLabel('Behind all').selectOption('surroundings');
  await choosePart(page, 'Sun');
  await type(page, 'Sun size', '6');
  await find(page, 'viewfinder: put away');
  await find(page, 'viewfinder: put away');
  await page.getByRole('group', { name: 'Look from' }).getByText('Shot').click();
  const size = await page
    .getByTestId('view-canvas')
    .evaluate((canvas: HTMLCanvasElement) => [canvas.clientWidth, canvas.clientHeight] as const);
  // The frame fills the view, so that one pixel is one pixel.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Shift+s');
  await page.getByLabel('Width in pixels').fill(String(size[0]));
  await page.getByLabel('Height in pixels').fill(String(size[1]));
  const library = await page.evaluate(() => {
    const gl = document.createElement('canvas').getContext('webgl2')!;
    return String(gl.getParameter(gl.getExtension('WEBGL_debug_renderer_info')!.UNMASKED_RENDERER_WEBGL));
  });
  const browser = await DrawingBrowser.open(() => Promise.reject(new Error('no files')), library);
  try {
    for (const samples of ['1', '8']) {
      if (samples !== '1') await page.keyboard.press('Shift+s');
      await page.getByLabel('Samples').selectOption(samples);
      await page.getByRole('button', { name: 'Set', exact: true }).click();
      await expect(page.getByRole('dialog')).toBeHidden();
      const shot = await kept(page);
      await browser.load(shot, { width: size[0], height: size[1], alpha: false });
      const film = PNG.sync.read(await browser.draw(1));
      const differing = async (): Promise<number> => {
        await waitDrawn(page);
        const seen = await pixelsOf(page.getByTestId('view-canvas'));
        return film.data.reduce((sum, byte, i) => sum + (byte === seen.data[i] ? 0 : 1), 0);
      };
      await expect.poll(differing, { message: `of ${samples} pictures`, timeout: 180_000 }).toBe(0);
    }
  } finally {
    await browser.close();
  }
});
