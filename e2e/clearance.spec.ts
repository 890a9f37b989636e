import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { blankShot, type Shot } from '../core/document';
import { addPart, apply } from '../core/edit';
import {
  choosePart,
  demoCopy,
  keptShot,
  newShot,
  openDrawn,
  openShot,
  partNamed,
  waitKept,
} from './workbench';

/** An arm of 10 m by 1 m about its end, a degree from frame to frame, a buoy in its way, a post beside it. */
async function yard(): Promise<string> {
  let shot: Shot = blankShot({ first: 1, last: 91, unit: 'm' });
  const add = (
    name: string,
    shape: { kind: 'box' | 'ball'; values: Record<string, number> },
    values: Record<string, number>,
  ): string => {
    const { change, id } = addPart(shot, { kind: 'solid', name, shape, values });
    shot = apply(shot, change);
    return id;
  };
  const arm = add(
    'Arm',
    { kind: 'box', values: { width: 10, height: 1, depth: 1 } },
    { 'location.x': 5, 'pivot.x': -5 },
  );
  const away = (80 * Math.PI) / 180;
  add(
    'Buoy',
    { kind: 'ball', values: { radius: 1 } },
    { 'location.x': 6 * Math.cos(away), 'location.y': 6 * Math.sin(away) },
  );
  add('Post', { kind: 'box', values: { width: 1, height: 1, depth: 1 } }, { 'location.x': 12.5 });
  const key = (frame: number, value: number) => ({ frame, value, manner: 'linear' as const });
  shot = {
    ...shot,
    parts: {
      ...shot.parts,
      [arm]: {
        ...shot.parts[arm]!,
        tracks: {
          'rotation.z': {
            before: 'hold',
            after: 'hold',
            keys: { key_a: key(1, 0), key_b: key(91, 90) },
          },
        },
      },
    },
  };
  return newShot('Yard', shot);
}

async function openCheck(page: Page): Promise<ReturnType<Page['getByRole']>> {
  await page.keyboard.press('Control+k');
  await page.keyboard.type('clearance');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Clearance check');
  return dialog;
}

test('what an arm runs into is found, shown in the view, left out with a word, and looked at again', async ({
  page,
}) => {
  const id = await yard();
  await openDrawn(page, id, 'yes');
  const dialog = await openCheck(page);
  // By keyboard: the range is the shot's, Enter starts.
  await dialog.getByRole('textbox', { name: 'First frame' }).press('Enter');
  const row = dialog.getByRole('row', { name: /Arm and Buoy/ });
  // A bar of half width 0.5 meets a ball of 1 at 6 m and 80 degrees by its side at 65.5225 degrees.
  await expect(row).toContainText('66.53 - 91');
  await expect(row).toContainText('m deep');
  await expect(dialog.getByRole('status')).toContainText('1 pair comes together. 3 solids were looked at.');
  await row.getByRole('button', { name: 'Show Arm and Buoy' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByLabel('Current frame')).toHaveValue(/^66\.5/);

  const marks = page.getByTestId('clearance');
  const [arm, buoy, place] = [
    marks.locator('[data-body="0"]'),
    marks.locator('[data-body="1"]'),
    marks.locator('[data-place]'),
  ];
  const boxOf = async (what: typeof arm) => (await what.boundingBox())!;
  await expect(place).toBeVisible();
  const [a, b, at] = [await boxOf(arm), await boxOf(buoy), await boxOf(place)];
  const middle = { x: at.x + at.width / 2, y: at.y + at.height / 2 };
  // Where they meet lies on both.
  for (const box of [a, b]) {
    expect(middle.x).toBeGreaterThan(box.x - 6);
    expect(middle.x).toBeLessThan(box.x + box.width + 6);
    expect(middle.y).toBeGreaterThan(box.y - 6);
    expect(middle.y).toBeLessThan(box.y + box.height + 6);
  }
  const bar = page.getByRole('group', { name: 'Finding' });
  await expect(bar).toContainText('66.53 - 91');
  await bar.getByRole('button', { name: 'Deepest' }).click();
  await expect(page.getByLabel('Current frame')).not.toHaveValue(/^66\.5/);
  // Deepest where the arm's middle lies in the buoy: at 80 degrees, frame 81.
  expect(Math.abs(Number(await page.getByLabel('Current frame').inputValue()) - 81)).toBeLessThan(4);
  await bar.getByRole('button', { name: 'First' }).click();
  await page.keyboard.press('Escape');
  await expect(marks).toHaveCount(0);
  await expect(bar).toHaveCount(0);

  await openCheck(page);
  await dialog.getByRole('button', { name: 'Arm and Buoy are meant to touch' }).click();
  await expect(row).toHaveCount(0);
  await dialog.getByText('Left out 1').click();
  const why = dialog.getByLabel('Why Arm and Buoy touch');
  await why.fill('the buoy is pushed along');
  await why.press('Enter');
  await page.keyboard.press('Escape');
  await waitKept(page);
  const { document: kept } = await keptShot(id);
  expect(Object.values(kept.contacts)).toEqual([
    { a: partNamed(kept, 'Arm').id, b: partNamed(kept, 'Buoy').id, why: 'the buoy is pushed along' },
  ]);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await waitKept(page);
  expect((await keptShot(id)).document.contacts).toEqual({});
});

test('the least distance of two parts is told with its frame, and the check says when the shot has changed', async ({
  page,
}) => {
  const id = await yard();
  await openShot(page, id);
  const dialog = await openCheck(page);
  const pick = async (title: string, part: string): Promise<void> => {
    await dialog.getByTitle(title).focus();
    await dialog.getByTitle(title).selectOption({ label: part });
  };
  await pick('First part whose distance is told', 'Arm');
  await pick('Second part whose distance is told', 'Post');
  await dialog.getByRole('button', { name: 'Check', exact: true }).click();
  // The arm ends at 10 m, the post begins at 12; a little further round, its corner at (10, -0.5) is nearest to it.
  const watched = dialog.getByRole('group', { name: 'Distance of Arm and Post' });
  await expect(watched).toContainText(/1\.9\d* m at frame/);
  await watched.getByRole('button', { name: 'Go there' }).click();
  await expect(dialog).toHaveCount(0);
  await choosePart(page, 'Post');
  await page.getByLabel('Post location X', { exact: true }).fill('10.2');
  await page.getByLabel('Post location X', { exact: true }).press('Enter');
  await openCheck(page);
  await expect(dialog.getByRole('status')).toContainText('The shot has been changed since: check again.');
  await dialog.getByRole('textbox', { name: 'Last frame' }).fill('0');
  await expect(dialog.getByRole('alert')).toContainText('Frame 0 is before frame 1');
  await dialog.getByRole('textbox', { name: 'Last frame' }).fill('10');
  await dialog.getByRole('button', { name: 'Check', exact: true }).click();
  await expect(watched).toContainText('touch, first at frame 1');
  await expect(dialog.getByRole('row', { name: /Arm and Post/ })).toBeVisible();
});

test('a check of a whole ride goes on while the sheet is closed, and is broken off', async ({ page }) => {
  await openShot(page, await demoCopy());
  const dialog = await openCheck(page);
  await dialog.getByRole('button', { name: 'Check', exact: true }).click();
  await expect(dialog.getByText(/^Touch from the first frame to the last/)).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await openCheck(page);
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(dialog.getByRole('button', { name: 'Check', exact: true })).toBeEnabled();
  await expect(dialog.getByRole('status')).toContainText('It was broken off: there may be more.');
});
