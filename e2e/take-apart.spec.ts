import { expect, test } from '@playwright/test';
import { blankShot, type Shot } from '../core/document';
import { addPart, apply } from '../core/edit';
import { choosePart, find, keptShot, newShot, openShot, reader, waitKept } from './workbench';

/** Three parts of a winch above one another. */
async function winch(): Promise<string> {
  let shot: Shot = blankShot({ first: 1, last: 120, unit: 'cm' });
  const add = (name: string, y: number): void => {
    shot = apply(shot, addPart(shot, { kind: 'hub', name, values: { 'location.y': y } }).change);
  };
  add('Ratchet', 0.1);
  add('Drum', 0.4);
  add('Wheel', 0.7);
  return newShot('Winch', shot);
}

test('parts of a winch travel out in an order that is changed, and come back; undone as one', async ({
  page,
}) => {
  const id = await winch();
  await openShot(page, id);
  await choosePart(page, 'Ratchet');
  await page
    .getByText('Wheel', { exact: true })
    .first()
    .click({ modifiers: ['Shift'] });
  await page.keyboard.press('Control+k');
  await page.keyboard.type('take apart');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog');
  const list = dialog.getByRole('list', { name: 'Parts in order' }).getByRole('listitem');
  await expect(list).toHaveCount(3);
  await expect(list.nth(0)).toContainText('Ratchet');
  await dialog.getByRole('button', { name: 'Wheel leaves earlier' }).click();
  await dialog.getByRole('button', { name: 'Wheel leaves earlier' }).press('Enter');
  await expect(list.nth(0)).toContainText('Wheel');
  await dialog.getByLabel('They go').selectOption({ label: 'along x of the world' });
  const type = async (label: string, text: string): Promise<void> => {
    const field = dialog.getByLabel(label, { exact: true });
    await field.fill(text);
    await field.press('Enter');
  };
  await type('How far', '80');
  await type('How much further each', '20');
  await type('From frame', '11');
  await type('Frames on the way', '20');
  await type('Frames later each', '5');
  await dialog.getByLabel('Back again in mirror').click();
  await type('Frames apart', '10');
  await expect(list.nth(0)).toContainText('11–31, back 61–81');
  await expect(list.nth(2)).toContainText('21–41, back 51–71');
  await expect(dialog).toContainText('frames 11 to 81');
  await dialog.getByRole('button', { name: 'Take apart', exact: true }).click();
  await expect(page.getByLabel('Current frame')).toHaveValue('41');
  await waitKept(page);
  const read = reader((await keptShot(id)).document);
  const x = (part: string, frame: number): number => read(part, 'location.x', frame);
  expect([x('Wheel', 11), x('Wheel', 31), x('Wheel', 60), x('Wheel', 81)]).toEqual([0, 0.8, 0.8, 0]);
  expect(x('Ratchet', 45)).toBeCloseTo(1, 9);
  expect(x('Drum', 45)).toBeCloseTo(1.2, 9);
  expect(x('Drum', 31)).toBeCloseTo(0.6, 3);
  expect(read('Drum', 'location.y', 45)).toBe(0.4);

  // A second time behind it is refused, and says which key is in the way.
  await find(page, 'First frame');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('take apart');
  await page.keyboard.press('Enter');
  await dialog.getByLabel('They go').selectOption({ label: 'along x of the world' });
  await expect(dialog.getByRole('alert')).toContainText('has a key at frame');
  await expect(dialog.getByRole('button', { name: 'Take apart', exact: true })).toBeDisabled();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await waitKept(page);
  const { document } = await keptShot(id);
  expect(Object.values(document.parts).every((part) => Object.keys(part.tracks).length === 0)).toBe(true);
});
