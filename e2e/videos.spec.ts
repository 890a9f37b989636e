import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { PNG } from 'pngjs';
import { videosOf } from '../core/edit';
import {
  blankCopy,
  choosePart,
  find,
  goToFrame,
  keptShot,
  openDrawn,
  type,
  waitDrawn,
  waitKept,
} from './workbench';

/** Twelve pictures of red, then of green, then of blue, at 24 a second. */
let flags: Buffer;
let id: string;
test.beforeAll(async () => {
  const folder = await mkdtemp(join(tmpdir(), 'whirl-video-'));
  const colours = ['red', 'lime', 'blue'].flatMap((colour) => [
    '-f',
    'lavfi',
    '-i',
    `color=${colour}:size=128x96:rate=24:duration=0.5`,
  ]);
  const path = join(folder, 'flags.mp4');
  const joined = ['-filter_complex', '[0][1][2]concat=n=3', '-c:v', 'libx264', '-pix_fmt', 'yuv420p'];
  await promisify(execFile)('ffmpeg', ['-v', 'error', '-y', ...colours, ...joined, path]);
  flags = await readFile(path);
  await rm(folder, { recursive: true });
});
test.beforeEach(async ({ page }) => {
  id = await blankCopy();
  await openDrawn(page, id, 'yes');
  await page.keyboard.press('n');
  await page
    .getByTestId('bring-files')
    .setInputFiles([{ name: 'flags of the fair.mp4', mimeType: 'video/mp4', buffer: flags }]);
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Flags of the fair');
});

/** Which of its colours the middle of the layer has in the view. */
async function shown(page: Page): Promise<string> {
  await waitDrawn(page);
  const box = (await page.getByTestId('view-canvas').boundingBox())!;
  const clip = { x: box.x + box.width / 2 - 2, y: box.y + box.height / 2 - 2, width: 4, height: 4 };
  const { data } = PNG.sync.read(await page.screenshot({ clip }));
  const [red, green, blue] = data as unknown as [number, number, number];
  return ['red', 'green', 'blue'][[red, green, blue].indexOf(Math.max(red, green, blue))]!;
}

test('a video comes in as a layer, plays in the view, and is timed, trimmed and moved by keys', async ({
  page,
}) => {
  await find(page, 'Bring the chosen parts into view');
  const form = page.getByTestId('video-form');
  await expect(form).toContainText('shows 1 of 36, 24 a second');
  for (const [frame, colour] of [
    [1, 'red'],
    [12, 'red'],
    [13, 'green'],
    [25, 'blue'],
    [90, 'blue'],
    [24, 'green'],
  ] as const) {
    await goToFrame(page, frame);
    expect(await shown(page), `frame ${frame}`).toBe(colour);
  }
  await expect(form).toContainText('shows 24 of 36');

  const typed = async (label: string, text: string): Promise<void> => {
    await form.getByLabel(label, { exact: true }).fill(text);
    await form.getByLabel(label, { exact: true }).press('Enter');
  };
  await typed('Speed', '2');
  await goToFrame(page, 7);
  expect(await shown(page)).toBe('green');
  await typed('Begins at', '7');
  expect(await shown(page)).toBe('red');
  await typed('Last picture', '37');
  await expect(page.getByText('has the pictures 1 to 36').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await typed('First picture', '25');
  expect(await shown(page)).toBe('blue');
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await shown(page)).toBe('red');

  await typed('Speed', '0');
  await goToFrame(page, 1);
  await choosePart(page, 'Flags of the fair');
  await type(page, 'Flags of the fair video shift', '=24 - frame');
  await expect(form).toContainText('shows 24 of 36');
  await goToFrame(page, 20);
  await expect(form).toContainText('shows 5 of 36');
  expect(await shown(page)).toBe('red');
  await waitKept(page);
  const { document } = await keptShot(id);
  expect(videosOf(document)[0]!.picture.video).toMatchObject({ start: 7, speed: 0, from: 0, to: 36 });
});

test('while it plays the view goes on with its video, and at rest shows the very picture', async ({
  page,
}) => {
  await find(page, 'Bring the chosen parts into view');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Space');
  await expect(page.getByTestId('video-form')).toHaveCount(0);
  await expect.poll(() => shown(page)).toBe('green');
  await expect.poll(() => shown(page)).toBe('blue');
  await page.keyboard.press('Space');
  await goToFrame(page, 6);
  expect(await shown(page)).toBe('red');
});
