import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import {
  addPart,
  blankCopy,
  choosePart,
  field,
  goToFrame,
  keptShot,
  keysOf,
  openShot,
  reader,
  restingBox,
  type,
  waitKept,
} from './workbench';

const strips = (page: Page) => page.getByRole('group', { name: 'Clips' }).locator('[id^="strip-"]');
const documentOf = async (id: string) => (await keptShot(id)).document;
const placementsOf = async (id: string) =>
  Object.values((await documentOf(id)).placements).sort((a, b) => a.start - b.start);
const clipsOf = async (id: string) => Object.values((await documentOf(id)).clips);

/** Height of the box at frames, as what is kept has it. */
async function heights(id: string, frames: readonly number[]): Promise<number[]> {
  const read = reader(await documentOf(id));
  return frames.map((frame) => Math.round(read('Box', 'location.z', frame) * 1e6) / 1e6);
}

const keyFrames = async (id: string): Promise<number[]> =>
  keysOf(await documentOf(id), 'Box', 'location.z').map((key) => key.frame);

/** A box that rises by a metre and comes back in frames 1 to 13, keyed by hand. */
async function risingBox(page: Page): Promise<string> {
  const id = await blankCopy();
  await openShot(page, id);
  await addPart(page, 'Box');
  await choosePart(page, 'Box');
  await page.getByRole('switch', { name: 'Auto-key' }).setChecked(true);
  for (const [frame, height] of [
    [1, '0.1'],
    [7, '1'],
    [13, '0'],
  ] as const) {
    await goToFrame(page, frame);
    await type(page, 'Box location Z', `${height} m`);
  }
  await page.getByRole('switch', { name: 'Auto-key' }).setChecked(false);
  await goToFrame(page, 1);
  await waitKept(page);
  return id;
}

test('a clip is made of keys, repeated, pulled, stretched and mirrored by mouse and keyboard', async ({
  page,
}) => {
  const id = await risingBox(page);
  expect(await keyFrames(id)).toEqual([1, 7, 13]);
  await page.keyboard.press('Shift+C');
  await expect(strips(page)).toHaveCount(1);
  await waitKept(page);
  expect(await keyFrames(id)).toEqual([]);
  expect(await clipsOf(id)).toMatchObject([{ name: 'Box', first: 1, last: 13 }]);
  expect(await heights(id, [1, 7, 13, 20])).toEqual([0.1, 1, 0, 0]);

  // Its end typed, then three more after it: four times in all.
  await type(page, 'Ends', '13');
  await strips(page).first().focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+d');
  await expect(strips(page)).toHaveCount(4);
  await waitKept(page);
  expect((await placementsOf(id)).map((placement) => placement.start)).toEqual([1, 13, 25, 37]);
  expect(await heights(id, [7, 13, 19, 31, 43, 49])).toEqual([1, 0.1, 1, 1, 1, 0.1]);

  // The last one dragged: it follows the pointer by whole frames, and Escape puts it back.
  const row = page.getByTestId('strips-Box');
  const box = (await row.boundingBox())!;
  const last = (await strips(page).last().boundingBox())!;
  const perFrame = last.width / 12;
  const middle = { x: last.x + last.width / 2, y: last.y + last.height - 4 };
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.down();
  await page.mouse.move(middle.x + perFrame * 10.2, middle.y, { steps: 6 });
  await expect(row).toContainText('47 to 59');
  await page.keyboard.press('Escape');
  await page.mouse.up();
  expect((await placementsOf(id)).at(-1)!.start).toBe(37);
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.down();
  await page.mouse.move(middle.x + perFrame * 10.2, middle.y, { steps: 6 });
  await page.mouse.up();
  await waitKept(page);
  expect((await placementsOf(id)).at(-1)!.start).toBe(47);

  // Its end pulled beyond the clip: over and over; with Alt it is stretched.
  const moved = (await strips(page).last().boundingBox())!;
  const edge = { x: moved.x + moved.width - 2, y: moved.y + moved.height - 4 };
  await page.mouse.move(edge.x, edge.y);
  await page.mouse.down();
  await page.mouse.move(edge.x + perFrame * 18, edge.y, { steps: 6 });
  await expect(row).toContainText('over and over');
  await page.mouse.up();
  await waitKept(page);
  expect((await placementsOf(id)).at(-1)).toMatchObject({ plays: 'loop', start: 47, until: 77 });
  expect(await heights(id, [53, 59, 65, 77])).toEqual([1, 0.1, 1, 0.1]);
  await strips(page).last().focus();
  await page.keyboard.press('Control+Alt+ArrowRight');
  await waitKept(page);
  expect((await placementsOf(id)).at(-1)!.speed).toBeCloseTo(30 / 31, 9);
  await page.keyboard.press('Control+z');

  // Switched off and mirrored by the panel, taken away by Delete; the clip stays and can be shown again.
  await page.getByRole('checkbox', { name: 'Off', exact: true }).check();
  await waitKept(page);
  expect(await heights(id, [53, 65])).toEqual([0.1, 0.1]);
  await strips(page).last().focus();
  await page.keyboard.press('Delete');
  await expect(strips(page)).toHaveCount(3);
  await goToFrame(page, 60);
  await page.getByRole('button', { name: 'Clips', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Box' }).hover();
  await page.getByRole('menuitem', { name: 'Show from the playhead on' }).click();
  await expect(strips(page)).toHaveCount(4);
  await waitKept(page);
  expect((await placementsOf(id)).at(-1)!.start).toBe(60);
  expect(box.width).toBeGreaterThan(300);
});

test('an open clip is changed where it stands, all its showings follow, one of its own does not, and it is unpacked', async ({
  page,
}) => {
  const id = await risingBox(page);
  await page.keyboard.press('Shift+C');
  await expect(strips(page)).toHaveCount(1);
  await strips(page).first().focus();
  await page.keyboard.press('Control+d');
  await page.keyboard.press('Control+d');
  await expect(strips(page)).toHaveCount(3);
  await page.getByRole('button', { name: 'Its own', exact: true }).click();
  await waitKept(page);
  expect((await clipsOf(id)).map((clip) => clip.name).sort()).toEqual(['Box', 'Box 2']);

  // The second showing is opened: its keys stand at its own frames, and the field changes the clip.
  await strips(page).nth(1).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').filter({ hasText: 'Box is open' })).toContainText(
    'all 2 showings follow',
  );
  await goToFrame(page, 19);
  await expect(field(page, 'Box location Z')).toHaveValue(/^1/);
  await type(page, 'Box location Z', '3 m');
  await page.getByRole('button', { name: 'Key', exact: true }).click();
  await waitKept(page);
  expect(await keyFrames(id)).toEqual([]);
  await page.getByRole('button', { name: 'Close the clip' }).click();
  await waitKept(page);
  expect(await heights(id, [7, 19, 31])).toEqual([3, 3, 1]);
  await page.keyboard.press('Control+z');
  await waitKept(page);
  expect(await heights(id, [7, 19, 31])).toEqual([1, 1, 1]);

  // Mirrored, and blended by a number: what goes across x is turned over, what goes up is not.
  await strips(page).last().focus();
  await page.getByRole('checkbox', { name: 'Mirrored', exact: true }).check();
  await type(page, 'Takes over in', '4');
  await waitKept(page);
  expect((await placementsOf(id)).at(-1)).toMatchObject({ mirrored: true, blendIn: 4 });
  expect(await heights(id, [31])).toEqual([1]);
  await page.getByRole('checkbox', { name: 'Mirrored', exact: true }).uncheck();
  await type(page, 'Takes over in', '0');

  // A strip becomes keys of its lane from the menu under the pointer.
  for (let left = 3; left > 1; left--) {
    const strip = await restingBox(strips(page).first());
    await page.mouse.click(strip.x + strip.width / 2, strip.y + strip.height - 5, { button: 'right' });
    await page.getByRole('menuitem', { name: 'Unpack into keys' }).click();
    await expect(strips(page)).toHaveCount(left - 1);
  }
  await waitKept(page);
  expect(await heights(id, [7, 19, 31])).toEqual([1, 1, 1]);
  expect((await keyFrames(id)).length).toBeGreaterThan(4);
  await openShot(page, id);
  await expect(strips(page)).toHaveCount(1);
});
