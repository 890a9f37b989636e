import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { test } from './same-page';
import { blankShot, type Shot } from '../core/document';
import { addPart, apply, setLink } from '../core/edit';
import { choosePart, newShot, openShot } from './workbench';

/** A crank that turns once round in 96 frames, and a slider that it drives: throw 1, rod 3. */
async function sliderCrank(): Promise<string> {
  let shot: Shot = blankShot({ first: 0, last: 96, unit: 'mm' });
  const add = (kind: 'hub' | 'camera', name: string): string => {
    const { change, id } = addPart(shot, { kind, name });
    shot = apply(shot, change);
    return id;
  };
  add('camera', 'Camera');
  const [crank, slider] = [add('hub', 'Crank'), add('hub', 'Slider')];
  shot = apply(shot, setLink(shot, `${crank}/rotation.z`, 'turns(frame / 96)'));
  shot = apply(shot, setLink(shot, `${slider}/location.x`, 'slider(Crank.rotation.z, 10mm, 30mm)'));
  return newShot('Piston', shot);
}

test('a slider is told of over its crank, by the numbers of the handbook, and saved as a table', async ({
  page,
}) => {
  await openShot(page, await sliderCrank());
  await choosePart(page, 'Slider');
  await page.keyboard.press('Shift+w');
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByText('Add what is to be told of above')).toBeVisible();
  await sheet.getByLabel('What of it').selectOption({ label: 'location X' });
  const facts = sheet.getByTestId('report-facts');
  await expect(facts).toContainText('Stroke 20 mm');
  // What takes long is broken off: the report before stays, and this one is worked out when it is asked for again.
  await sheet.getByLabel('Last frame').fill('49900');
  await sheet.getByRole('button', { name: 'Cancel' }).click();
  await expect(sheet.getByRole('status')).toHaveText('Broken off: this is what was told before.');
  await expect(facts).toContainText('Stroke 20 mm');
  // What is shown is not what is asked for: it is not saved under its name.
  await expect(sheet.getByRole('button', { name: 'Save as CSV' })).toBeDisabled();
  await sheet.getByRole('button', { name: 'Work it out' }).click();
  await expect(sheet.getByRole('status')).toContainText('Working it out');
  await sheet.getByLabel('Last frame').fill('96');
  await expect(sheet.getByRole('button', { name: 'Cancel' })).toHaveCount(0);
  // Over time first; the crank drives it, so it can be told over that.
  await sheet.getByLabel('Over').selectOption({ label: 'Crank rotation Z' });
  await sheet.getByLabel('Last frame').fill('48');
  const speed = facts.getByRole('row', { name: /^speed/ });
  await expect(speed).toContainText('mm/rad');
  // Fastest at 73.175 degrees of the crank, 1.054639547 times the throw.
  await expect(speed).toContainText('−10.546');
  const at = await speed.getByRole('button').first().textContent();
  expect((Number(at) * 360) / 96).toBeCloseTo(73.17529664, 2);
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    sheet.getByRole('button', { name: 'Save as CSV' }).click(),
  ]);
  expect(saved.suggestedFilename()).toBe('Piston, motion.csv');
  const lines = readFileSync(await saved.path(), 'utf8')
    .trimEnd()
    .split('\r\n');
  expect(lines[0]).toContain('frame,Crank rotation Z (°),Slider location X (mm) value');
  expect(lines).toHaveLength(50);
  const quarter = lines[25]!.split(',').map(Number);
  // At 90 degrees: the root of 9 - 1, and per radian -1 and 0.35355 throws.
  [24, 90, 28.28427125, -10, 3.535533906].forEach((wanted, i) => expect(quarter[i]).toBeCloseTo(wanted, 4));
  // Round the circle of the crank as well, each of the four.
  await sheet.getByLabel('Plotted', { exact: true }).selectOption({ label: 'round the circle: speed' });
  await expect(
    sheet.getByRole('img', { name: 'speed, plotted round the circle of Crank rotation Z' }),
  ).toBeVisible();
  await sheet.getByLabel('Plotted', { exact: true }).selectOption({ label: 'along it' });
  // A place in the report is gone to.
  await speed.getByRole('button').first().click();
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Current frame')).toHaveValue(/^19\.5/);
});

test('a range that is none is refused, and places in the world are told of', async ({ page }) => {
  await openShot(page, await sliderCrank());
  await choosePart(page, 'Slider');
  await page.keyboard.press('Shift+w');
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('What of it').selectOption({ label: 'in the world along X' });
  await expect(sheet.getByTestId('report-facts')).toContainText('Slider at world X');
  await sheet.getByLabel('First frame').fill('200');
  await expect(sheet.getByRole('alert')).toContainText('200 to 96 is no range');
  await sheet.getByLabel('First frame').fill('0');
  // Its path is shown in the view, with its length: a stroke of 20 mm there and back in a turn.
  await sheet.getByRole('button', { name: 'Show its path in the view' }).click();
  await expect(sheet).toHaveCount(0);
  await expect(page.getByTestId('trail-length')).toContainText(/^(39\.\d+|40(\.0)?\d*) mm/);
  await page.keyboard.press('Shift+w');
  await sheet.getByLabel('What of it').selectOption({ label: 'in the world along X' });
  await sheet.getByRole('button', { name: /^Leave out/ }).click();
  await expect(sheet.getByText('Add what is to be told of above')).toBeVisible();
});
