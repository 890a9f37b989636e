import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import type { Shot } from '../core/document';
import { compile, Evaluator } from '../core/evaluate';
import {
  addPart,
  blankCopy,
  choosePart,
  field,
  find,
  keptShot,
  openDrawn,
  partNamed,
  type,
  waitKept,
} from './workbench';

let id: string;
test.beforeEach(async ({ page }) => {
  id = await blankCopy();
  await openDrawn(page, id, 'yes');
});

const kept = async (page: Page): Promise<Shot> => {
  await waitKept(page);
  return (await keptShot(id)).document;
};
const shapeOf = (shot: Shot, name: string) => shot.shapes[partNamed(shot, name).part.shape!]!;

test('planetary gears are built, their numbers changed, and what was changed by hand is named before it is lost', async ({
  page,
}) => {
  await find(page, 'recipe planetary gears');
  const recipe = page.getByRole('region', { name: 'Recipe' });
  // The module counts for what is built alone.
  await expect(recipe.getByLabel('Module')).toHaveCount(0);
  await recipe.getByLabel('Build the parts too').check();
  await recipe.getByLabel('Module').fill('0.04');
  await recipe.getByRole('button', { name: 'Make it', exact: true }).click();
  const first = await kept(page);
  expect(shapeOf(first, 'Planet ring')).toMatchObject({
    kind: 'ring-gear',
    values: { teeth: 80, module: 0.04 },
  });
  expect(Object.values(first.trays).map((tray) => tray.name)).toEqual(['Planetary gears']);

  // A hand at work: a thicker sun.
  await choosePart(page, 'Sun gear');
  await type(page, 'Sun gear thickness', '0.5');
  await expect(page.getByText('Built by Planetary gears')).toBeVisible();
  await page.getByRole('button', { name: 'Other numbers...' }).click();
  await expect(recipe.getByLabel('Module')).toHaveValue('0.04');
  await recipe.getByLabel('Teeth of the sun').fill('30');
  await recipe.getByLabel('Module').fill('0.05');
  await expect(recipe.getByTestId('own-changes')).toContainText('Sun gear thickness');
  await expect(recipe.getByLabel('Keep these as they are')).toBeChecked();
  await recipe.getByRole('button', { name: 'Change it' }).click();
  const second = await kept(page);
  expect(shapeOf(second, 'Sun gear').values).toMatchObject({ teeth: 30, module: 0.05, thickness: 0.5 });
  expect(shapeOf(second, 'Planet ring').values).toMatchObject({ teeth: 90, module: 0.05 });
  // Planets stand on the new circle, and turn by the new teeth.
  const evaluator = new Evaluator(compile(second));
  evaluator.evaluate(1);
  expect(evaluator.number(`${partNamed(second, 'Planet 1').id}/location.x`)).toBeCloseTo(
    (0.05 * (30 + 30)) / 2,
    9,
  );
  expect(partNamed(second, 'Planet carrier').part.links['rotation.z']!.formula).toContain('30 / 120');

  await page.keyboard.press('Control+z');
  const back = await kept(page);
  expect(shapeOf(back, 'Sun gear').values).toMatchObject({ teeth: 20, module: 0.04, thickness: 0.5 });
  expect({ ...back, shapes: null }).toEqual({ ...first, shapes: null });
});

test('a recipe is found by a word, and a belt runs round a pulley that is added', async ({ page }) => {
  await page
    .getByRole('tab', { name: 'Links' })
    .or(page.getByRole('radio', { name: 'Links' }))
    .first()
    .click();
  await page
    .getByRole('button', { name: /recipe/i })
    .first()
    .click();
  await page.getByLabel('Find a recipe').fill('ratchet');
  await expect(page.getByRole('region', { name: 'Recipes' }).getByRole('listitem')).toHaveCount(1);
  await page.getByLabel('Find a recipe').press('Enter');
  await expect(page.getByRole('region', { name: 'Recipe' })).toContainText('Ratchet and pawl');
  await page.getByRole('button', { name: 'Leave' }).click();

  await addPart(page, 'Belt');
  const pulleys = page.getByRole('group', { name: 'Pulleys' });
  await expect(pulleys).toContainText('round');
  await pulleys.getByRole('button', { name: 'Add a pulley' }).click();
  await pulleys.getByLabel('Pulley 3 X').fill('0');
  await pulleys.getByLabel('Pulley 3 Y').fill('0.9');
  await pulleys.getByLabel('Pulley 3 Y').press('Enter');
  const belt = shapeOf(await kept(page), 'Belt');
  expect(belt.pulleys).toHaveLength(3);
  expect(belt.pulleys![2]!.slice(0, 2)).toEqual([0, 0.9]);
  await pulleys.getByLabel('Side that lies on pulley 3').selectOption('back');
  expect(shapeOf(await kept(page), 'Belt').pulleys![2]![2]).toBeLessThan(0);
  await pulleys.getByRole('button', { name: 'Take pulley 3 out' }).click();
  expect(shapeOf(await kept(page), 'Belt').pulleys).toHaveLength(2);
});

test('a cam says by which law it lifts, and takes another one', async ({ page }) => {
  await addPart(page, 'Disc cam');
  const law = page.getByRole('combobox', { name: 'Disc cam law' });
  await expect(law).toHaveValue('2');
  await law.selectOption('cycloidal');
  expect(shapeOf(await kept(page), 'Disc cam').values.law).toBe(1);
  await type(page, 'Disc cam lift', '0.3');
  expect(shapeOf(await kept(page), 'Disc cam').values.lift).toBe(0.3);
  await expect(field(page, 'Disc cam base')).toBeVisible();
});
