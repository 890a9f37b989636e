import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import {
  choosePart,
  demoCopy,
  find,
  goToFrame,
  keptShot,
  keysOf,
  openShot,
  partNamed,
  reader,
  waitKept,
} from './workbench';

const sheet = (page: Page) => page.getByRole('dialog').filter({ hasText: 'Poses' });

async function openPoses(page: Page): Promise<void> {
  await page.keyboard.press('Control+j');
  await expect(sheet(page)).toBeVisible();
}

test('a pose is kept with its picture, put in mirrored at another frame, and by a share on one part', async ({
  page,
}) => {
  const id = await demoCopy(undefined, 'Bosun puppet');
  const name = `Salute ${id.slice(0, 6)}`;
  await openShot(page, id);
  await goToFrame(page, 24);
  await openPoses(page);
  await expect(sheet(page)).toContainText('Choose a part to keep its pose');
  await page.keyboard.press('Escape');
  await choosePart(page, 'Bosun');
  await openPoses(page);
  await page.getByLabel('Name of the pose').fill(name);
  await page.keyboard.press('Enter');
  const card = sheet(page).getByRole('button', { name, exact: false }).first();
  await expect(card).toBeVisible();
  expect(
    await sheet(page)
      .getByRole('img', { name: `Picture of ${name}` })
      .locator('polygon')
      .count(),
  ).toBeGreaterThan(20);
  await page.keyboard.press('Escape');

  await goToFrame(page, 58);
  await openPoses(page);
  await sheet(page).getByLabel('Mirrored').click();
  await card.click();
  await expect(page.getByText(`The pose "${name}" is keyed at frame 58`)).toBeVisible();
  await waitKept(page);
  let shot = (await keptShot(id)).document;
  const at58 = (part: string): number | undefined =>
    keysOf(shot, part, 'rotation.z').find((key) => key.frame === 58)?.value as number | undefined;
  // The right arm reaches for the pipe by a link that reads its own turn: that is posed, too.
  expect(at58('Right arm')).toBeCloseTo(-145, 9);
  expect(at58('Left arm')).toBeCloseTo(38, 9);
  expect(at58('Chest')).toBeCloseTo(7, 9);

  await page.keyboard.press('Control+z');
  await waitKept(page);
  shot = (await keptShot(id)).document;
  expect(at58('Right arm')).toBeUndefined();

  await choosePart(page, 'Head');
  await goToFrame(page, 12);
  const before = reader(shot)('Head', 'rotation.z', 12);
  await openPoses(page);
  await sheet(page).getByLabel('Share in per cent').fill('50');
  await sheet(page).getByLabel('Only the chosen parts').click();
  await card.click();
  await waitKept(page);
  shot = (await keptShot(id)).document;
  const turned = keysOf(shot, 'Head', 'rotation.z').find((key) => key.frame === 12)!.value as number;
  expect(turned).toBeCloseTo((before - 9) / 2, 6);
  expect(keysOf(shot, 'Chest', 'rotation.z').some((key) => key.frame === 12)).toBe(false);

  // The first pose to the end: what it had at the first frame it has at the last.
  await choosePart(page, 'Head');
  await find(page, 'first pose to the last');
  await waitKept(page);
  shot = (await keptShot(id)).document;
  expect(keysOf(shot, 'Head', 'rotation.z').at(-1)).toMatchObject({ frame: 121, value: 0 });

  // What is no longer wanted goes.
  await openPoses(page);
  await card.hover();
  await sheet(page)
    .getByRole('button', { name: `Remove the pose ${name}` })
    .click();
  await expect(card).toHaveCount(0);
});

test('a joint is limited, held in fields and in the view, shown as an arc, and told where it is not held', async ({
  page,
}) => {
  const id = await demoCopy(undefined, 'Bosun puppet');
  await openShot(page, id);
  await choosePart(page, 'Head');
  await page.getByRole('combobox', { name: 'Joint' }).selectOption('z');
  const most = page.getByLabel('Most rotation Z');
  await most.fill('30');
  await most.press('Enter');
  const least = page.getByLabel('Least rotation Z');
  await least.fill('-5');
  await least.press('Enter');
  await waitKept(page);
  let head = partNamed((await keptShot(id)).document, 'Head').part;
  expect(head.joint).toEqual({ z: { least: -5, most: 30 } });
  // It is keyed to -9 at frame 22: holding it there is refused with the place, and what is only told is told.
  await page.getByLabel('Beyond the limits about z').selectOption('held');
  await expect(page.getByText(/has a key of -9 degrees at frame 22: change it first/)).toBeVisible();
  await least.fill('-20');
  await least.press('Enter');
  await page.getByLabel('Beyond the limits about z').selectOption('held');
  await waitKept(page);
  head = partNamed((await keptShot(id)).document, 'Head').part;
  expect(head.joint).toEqual({ z: { least: -20, most: 30, held: true } });
  const arc = page.getByTestId('joint-arcs').locator('[data-axis="z"]');
  await expect(arc).toHaveAttribute('data-within', 'true');

  const turn = page.getByRole('textbox', { name: 'Head rotation Z' });
  await turn.fill('45');
  await turn.press('Enter');
  await expect(page.getByText(/45 is out of range: -20 to 30 is allowed/).first()).toBeVisible();
  await turn.press('Escape');
});
