import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import {
  addPart,
  blankCopy,
  choosePart,
  demoCopy,
  goToFrame,
  keptShot,
  openDrawn,
  openShot,
  partNamed,
  pixelsOf,
  type,
  waitDrawn,
  waitKept,
} from './workbench';

/** Pixels of a canvas of the view. */
const canvasPixels = (page: Page, name: 'view-canvas' | 'view-cover') => pixelsOf(page.getByTestId(name));

type Pixels = Awaited<ReturnType<typeof canvasPixels>>;

/** Share of pixels between two columns (shares of the width) that differ between two pictures. */
function differing(a: Pixels, b: Pixels, from: number, to: number): number {
  expect(a.width).toBe(b.width);
  let [off, all] = [0, 0];
  for (let i = 0; i < a.data.length; i += 4) {
    const x = ((i / 4) % a.width) / a.width;
    if (x < from || x >= to) continue;
    all++;
    if ([0, 1, 2].some((c) => Math.abs(a.data[i + c]! - b.data[i + c]!) > 6)) off++;
  }
  return off / all;
}

async function command(page: Page, words: string): Promise<void> {
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder(/command/i).fill(words);
  await page.keyboard.press('Enter');
}

test('frames drawn ahead play without being drawn again, show the same picture, and go with an edit', async ({
  page,
}) => {
  const id = await blankCopy();
  await openDrawn(page, id, 'yes');
  await addPart(page, 'Box');
  await type(page, 'Box location X', '-2');
  await page.keyboard.press('k');
  await goToFrame(page, 20);
  await type(page, 'Box location X', '2');
  await page.keyboard.press('k');
  await waitKept(page);
  await command(page, 'Draw the range ahead');
  const { first, last } = (await keptShot(id)).document.setup;
  const bar = page.getByTestId('drawn-frames');
  await expect(bar).toHaveAttribute('aria-label', `${last - first + 1} frames are drawn ahead`, {
    timeout: 120_000,
  });
  const cover = page.getByTestId('view-cover');
  await page.keyboard.press('Space');
  await expect(cover).toBeVisible();
  await page.keyboard.press('Space');
  await expect(cover).toBeHidden();
  const shown = Number(await cover.getAttribute('data-frame'));
  await goToFrame(page, shown);
  await waitDrawn(page);
  const [drawn, kept] = [await canvasPixels(page, 'view-canvas'), await canvasPixels(page, 'view-cover')];
  expect(differing(drawn, kept, 0, 1)).toBeLessThan(0.001);
  // It is a picture with something in it.
  expect(new Set(kept.data).size).toBeGreaterThan(20);
  await goToFrame(page, 20);
  await type(page, 'Box location X', '1');
  await page.keyboard.press('k');
  await page.keyboard.press('Space');
  await expect
    .poll(async () =>
      (await bar.count()) === 0 ? 0 : Number((await bar.getAttribute('aria-label'))?.match(/^\d+/)?.[0] ?? 0),
    )
    .toBeLessThan(last - first + 1);
});

test('two states are swiped and stand side by side: the one before the edit on the left', async ({
  page,
}) => {
  const id = await blankCopy();
  await openDrawn(page, id, 'yes');
  await addPart(page, 'Box');
  await page.getByRole('button', { name: 'Viewfinder', exact: true }).click();
  await page.keyboard.press('b');
  await page.keyboard.press('Escape');
  await waitDrawn(page);
  const before = await canvasPixels(page, 'view-canvas');
  await choosePart(page, 'Box');
  await type(page, 'Box scale Y', '2');
  await waitKept(page);
  await page.getByRole('tree').click({ position: { x: 60, y: 300 } });
  await page.keyboard.press('Escape');
  await waitDrawn(page);
  const after = await canvasPixels(page, 'view-canvas');
  expect(differing(before, after, 0, 0.5)).toBeGreaterThan(0.005);
  expect(differing(before, after, 0.5, 1)).toBeGreaterThan(0.005);
  await page.keyboard.press('Alt+o');
  const line = page.getByRole('slider', { name: 'Line between the two states' });
  await expect(line).toHaveAttribute('aria-valuenow', '50');
  await waitDrawn(page);
  const both = await canvasPixels(page, 'view-canvas');
  expect(differing(before, both, 0, 0.49)).toBeLessThan(0.002);
  expect(differing(after, both, 0.51, 1)).toBeLessThan(0.002);
  // By keyboard to the right: more of the state before.
  await line.focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight');
  await expect(line).toHaveAttribute('aria-valuenow', '70');
  await waitDrawn(page);
  expect(differing(before, await canvasPixels(page, 'view-canvas'), 0, 0.69)).toBeLessThan(0.002);
  await page.getByRole('button', { name: 'Side by side' }).click();
  await waitDrawn(page);
  const beside = await canvasPixels(page, 'view-canvas');
  expect(differing(both, beside, 0, 1)).toBeGreaterThan(0.005);
  await page.getByRole('button', { name: 'Stop comparing' }).click();
  await waitDrawn(page);
  expect(differing(after, await canvasPixels(page, 'view-canvas'), 0, 1)).toBeLessThan(0.002);
});

test('play-back on twos is chosen from its menu, after which Space plays', async ({ page }) => {
  const id = await blankCopy();
  await openShot(page, id);
  await page.getByRole('button', { name: 'How it plays' }).click();
  await page.getByRole('menuitem', { name: /On twos/ }).click();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  // Nothing was keyed by it.
  await waitKept(page);
  expect((await keptShot(id)).revision).toBe(0);
});

test('the copies of a repeat become parts, with one undo', async ({ page }) => {
  const id = await demoCopy(undefined, 'Full ride');
  await openShot(page, id);
  const start = (await keptShot(id)).document;
  const repeat = Object.values(start.parts).find((part) => part.kind === 'repeat')!;
  await choosePart(page, repeat.name);
  await command(page, 'Turn the copies of the chosen repeat');
  await waitKept(page);
  const after = (await keptShot(id)).document;
  expect(partNamed(after, repeat.name).part.kind).toBe('hub');
  expect(Object.keys(after.parts).length).toBeGreaterThan(Object.keys(start.parts).length);
  await page.keyboard.press('Control+z');
  await waitKept(page);
  expect((await keptShot(id)).document).toEqual(start);
});
