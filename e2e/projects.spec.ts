import { expect, test } from '@playwright/test';
import { url } from './workbench';

test('makes, renames, duplicates and deletes with undo; the card has a picture', async ({ page }) => {
  await page.goto(url());
  await expect(page.getByRole('img', { name: 'First frame of Full ride' }).first()).toBeVisible({
    timeout: 180_000,
  });
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('x'.repeat(81));
  await expect(page.getByRole('alert')).toContainText('80 characters');
  await page.getByRole('textbox', { name: 'Name' }).fill('Lanterns');
  await page.getByRole('button', { name: 'Make', exact: true }).click();
  const project = page.getByRole('region', { name: 'Lanterns', exact: true });
  await project.getByRole('button', { name: 'New shot' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('First light');
  await page.getByRole('button', { name: 'Make and open' }).click();
  await expect(page.getByText('Sky light', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Lanterns' }).click();
  await expect(project.getByText('First light')).toBeVisible();
  await expect(project).toContainText('96 frames at 24: 4 s');
  await project.getByRole('button', { name: 'Menu of First light' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Second light');
  await page.getByRole('button', { name: 'Rename', exact: true }).click();
  await project.getByRole('button', { name: 'Menu of Second light', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect(project.getByText('Second light (copy)')).toBeVisible();
  await page.getByRole('button', { name: 'Menu of Lanterns' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(project).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(project.getByText('Second light (copy)')).toBeVisible();
});

test('an address with nothing behind it says so', async ({ page }) => {
  await page.goto(url('/shots/00000000-0000-4000-8000-000000000000'));
  await expect(page.getByRole('alert')).toContainText('This shot is not there');
  await page.goto(url('/nowhere'));
  await expect(page.getByText('There is nothing at this address')).toBeVisible();
});
