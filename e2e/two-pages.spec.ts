import { expect, test, type Page } from '@playwright/test';
import type { Shot } from '../core/document';
import {
  addPart,
  blankCopy,
  choosePart,
  field,
  keptShot,
  openShot,
  partNamed,
  restingBox,
  type,
  waitDrawn,
  waitKept,
} from './workbench';

/** A second browser on the shot: nothing is shared with the first but the server. */
let other: Page;
let id: string;
test.beforeEach(async ({ page, browser }) => {
  id = await blankCopy();
  other = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await openShot(page, id);
  await addPart(page, 'Box');
  await addPart(page, 'Ball');
  await waitKept(page);
  await openShot(other, id);
});
test.afterEach(() => other.context().close());

/** The shot as the server has it at the end; both pages list the same parts. */
async function same(page: Page): Promise<Shot> {
  await waitKept(page);
  await waitKept(other);
  const { document: shot } = await keptShot(id);
  const names = Object.values(shot.parts).map(({ name }) => name);
  for (const shown of [page, other]) {
    await expect(shown.getByRole('treeitem')).toHaveCount(names.length);
    for (const name of names)
      await expect(shown.getByRole('treeitem').filter({ hasText: name })).not.toHaveCount(0);
  }
  return shot;
}

const values = (shot: Shot, name: string): Shot['parts'][string]['values'] =>
  partNamed(shot, name).part.values;

test('what one page does is there in the other; each takes back its own', async ({ page }) => {
  await choosePart(page, 'Box');
  await choosePart(other, 'Box');
  await type(page, 'Box location X', '3');
  await expect(field(other, 'Box location X')).toHaveValue('3.00');
  await expect(other.getByText(/^Made elsewhere: /)).toBeVisible();
  // It is told where it happened, and shown on demand.
  const row = (shown: Page, name: string) => shown.getByRole('treeitem').filter({ hasText: name });
  await expect(row(other, 'Box')).toContainText('elsewhere');
  await expect(row(other, 'Ball')).not.toContainText('elsewhere');
  await choosePart(other, 'Ball');
  await other.getByRole('button', { name: 'Show', exact: true }).click();
  await expect(row(other, 'Box')).toHaveAttribute('aria-selected', 'true');
  await type(other, 'Box location Y', '2');
  await expect(field(page, 'Box location Y')).toHaveValue('2.00');
  await type(page, 'Box location Z', '1');
  await expect(field(other, 'Box location Z')).toHaveValue('1.00');

  await other.keyboard.press('Escape');
  await other.keyboard.press('Control+z');
  await expect(field(page, 'Box location Y')).toHaveValue('0.50');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(field(other, 'Box location X')).toHaveValue('0.00');
  await expect(field(other, 'Box location Z')).toHaveValue('0.00');
  await page.keyboard.press('Control+Shift+z');
  await expect(field(other, 'Box location X')).toHaveValue('3.00');
  expect(values(await same(page), 'Box')).toMatchObject({ 'location.x': 3 });
});

test('a page that was away keeps its edits, and they go on top of what was done meanwhile', async ({
  page,
}) => {
  await choosePart(page, 'Box');
  await other.context().setOffline(true);
  await choosePart(other, 'Box');
  await type(other, 'Box location X', '7');
  await type(other, 'Box rotation Z', '40');
  await expect(other.getByTestId('kept')).toContainText('held here');
  await type(page, 'Box location X', '3');
  await type(page, 'Box location Z', '-2');
  await waitKept(page);
  await other.context().setOffline(false);
  // Both changed location X: the change that came later stands, and that is told, whatever comes in after it.
  await expect(other.getByText(/Your later change of the same place stands/)).toBeVisible();
  await type(page, 'Box location Y', '5');
  await expect(field(other, 'Box location Y')).toHaveValue('5.00');
  await expect(other.getByText(/Your later change of the same place stands/)).toBeVisible();
  await waitKept(other);
  const shot = await same(page);
  expect(values(shot, 'Box')).toMatchObject({
    'location.x': 7,
    'location.y': 5,
    'location.z': -2,
    'rotation.z': 40,
  });
  for (const shown of [page, other]) await expect(field(shown, 'Box location X')).toHaveValue('7.00');
});

test('a part that somebody deletes while it is dragged is gone, and that is told', async ({ page }) => {
  await choosePart(other, 'Box');
  await other.keyboard.press('m');
  const grip = other.locator('[data-handle="move-x"]').first();
  const box = await restingBox(grip);
  await other.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await other.mouse.down();
  await other.mouse.move(box.x + 60, box.y + 10, { steps: 5 });
  await choosePart(page, 'Box');
  await page.keyboard.press('Delete');
  await waitKept(page);
  await expect(other.getByRole('treeitem').filter({ hasText: 'Box' })).toHaveCount(0);
  await expect(other.getByText('Made elsewhere: Delete Box.')).toBeVisible();
  await other.mouse.move(box.x + 90, box.y + 10, { steps: 3 });
  await other.mouse.up();
  await waitDrawn(other);
  await same(page);
  await page.keyboard.press('Control+z');
  await expect(other.getByRole('treeitem').filter({ hasText: 'Box' })).toHaveCount(1);
  expect(values(await same(page), 'Box')['location.x'] ?? 0).toBe(0);
});
