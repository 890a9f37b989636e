import { expect } from '@playwright/test';
import { test } from './same-page';
import { blankShot, type Shot } from '../core/document';
import { addDial, addPart, apply, setLink } from '../core/edit';
import { keptShot, newShot, openShot } from './workbench';

/** A four-bar whose coupler is a dial: crank 40, coupler 120, rocker 80, ground 100. */
async function fourBar(): Promise<string> {
  let shot: Shot = blankShot({ first: 0, last: 96, unit: 'mm' });
  const add = (kind: 'hub' | 'camera', name: string): string => {
    const { change, id } = addPart(shot, { kind, name });
    shot = apply(shot, change);
    return id;
  };
  add('camera', 'Camera');
  const [crank, rocker] = [add('hub', 'Crank'), add('hub', 'Rocker')];
  shot = apply(
    shot,
    addDial(shot, { name: 'coupler', quantity: 'length', min: 0.05, max: 0.3 }, 0.12).change,
  );
  shot = apply(shot, setLink(shot, `${crank}/rotation.z`, 'turns(frame / 96)'));
  shot = apply(
    shot,
    setLink(shot, `${rocker}/rotation.z`, 'fourbar(Crank.rotation.z, 40mm, dial.coupler, 80mm, 100mm)'),
  );
  return newShot('Four bars', shot);
}

test('the coupler of a four-bar is found for a wanted swing, taken, and undone', async ({ page }) => {
  const id = await fourBar();
  await openShot(page, id);
  await page.keyboard.press('Shift+f');
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('The number, as a formula').fill('Rockr.rotation.z');
  await expect(sheet.getByRole('alert')).toContainText('Rockr');
  await sheet.getByLabel('The number, as a formula').fill('Rocker.rotation.z');
  await sheet.getByLabel('When').selectOption({ label: 'its most over frames' });
  await sheet.getByLabel('Wanted').fill('120');
  await expect(sheet.getByRole('alert')).toContainText('Add what may be changed');
  await sheet.getByLabel('A dial').selectOption({ label: 'coupler' });
  await sheet.getByLabel('coupler value, least').fill('100');
  await sheet.getByLabel('coupler value, most').fill('140');
  await sheet.getByRole('button', { name: 'Find' }).click();
  const found = sheet.getByRole('region', { name: 'What was found' });
  await expect(found).toContainText('Now it is 128.682 °');
  // Crank and coupler over one another: the root of 100^2 + 80^2 - 2 100 80 cos 60, and the crank.
  const coupler = 40 + Math.sqrt(8400);
  await expect(found.getByRole('row').nth(1)).toContainText(`${coupler.toFixed(3)} mm`);
  await expect(found.getByRole('row').nth(1)).toContainText('120 °');
  const value = async (): Promise<number> =>
    Object.values((await keptShot(id)).document.dials)[0]!.values.value as number;
  expect(await value()).toBe(0.12);
  await found.getByRole('button', { name: 'Take' }).click();
  await expect.poll(value).toBeCloseTo(coupler / 1000, 7);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect.poll(value).toBe(0.12);
});

test('what cannot be had is neared and told so', async ({ page }) => {
  await openShot(page, await fourBar());
  await page.keyboard.press('Shift+f');
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('The number, as a formula').fill('dial.coupler');
  await sheet.getByLabel('Wanted').fill('500');
  await sheet.getByLabel('A dial').selectOption({ label: 'coupler' });
  await sheet.getByRole('button', { name: 'Find' }).click();
  const found = sheet.getByRole('region', { name: 'What was found' });
  await expect(found).toContainText('the nearest that there is');
  await sheet.getByLabel('coupler value, most').fill('1');
  await expect(sheet.getByRole('alert')).toContainText('from less to more');
});
