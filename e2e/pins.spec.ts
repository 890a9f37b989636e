import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { blankShot, type Shot } from '../core/document';
import { addPart, apply, keyChannels } from '../core/edit';
import {
  choosePart,
  find,
  formulaOf,
  keptShot,
  newShot,
  openDrawn,
  openShot,
  reader,
  waitKept,
} from './workbench';

const DEG = Math.PI / 180;

/** Four bars lying about under a frame, their pivots at one end, with two hubs that tell where 0 and 1 m are in the view. */
async function looseBars(): Promise<string> {
  let shot: Shot = blankShot({ first: 1, last: 97, unit: 'm' });
  const add = (spec: Parameters<typeof addPart>[1]): string => {
    const { change, id } = addPart(shot, spec);
    shot = apply(shot, change);
    return id;
  };
  add({ kind: 'camera', name: 'Camera', values: { 'location.x': 0.5, 'location.z': 4 } });
  add({ kind: 'sun', name: 'Sun', values: { 'location.z': 5, 'location.x': -3 } });
  const frame = add({ kind: 'hub', name: 'Frame' });
  const bar = (name: string, length: number, x: number, y: number, turn: number): string =>
    add({
      kind: 'solid',
      name,
      parent: frame,
      // A bar's location is that of its middle's measure; its pivot lies at its left end.
      values: { 'location.x': x + length / 2, 'location.y': y, 'rotation.z': turn, 'pivot.x': -length / 2 },
      shape: { kind: 'box', values: { width: length, height: 0.08, depth: 0.04 } },
    });
  bar('Ground bar', 1, 0, 0, 0);
  const crank = bar('Crank', 0.3, 0.1, 0.4, 90);
  bar('Coupler', 0.95, 0.2, 1, 10);
  bar('Rocker', 0.6, 1.3, 0.4, 90);
  add({ kind: 'hub', name: 'Nought', values: { 'location.y': -0.5 } });
  add({ kind: 'hub', name: 'One', values: { 'location.x': 1, 'location.y': -0.5 } });
  for (const [frameAt, turn] of [
    [1, 90],
    [97, 450],
  ] as const)
    shot = apply(shot, keyChannels(shot, frameAt, [[`${crank}/rotation.z`, turn]]));
  return newShot('Bars', shot);
}

/** Where a place of the x-y plane lies in the view, told by the two hubs. */
async function placing(page: Page): Promise<(x: number, y: number) => Promise<void>> {
  const middle = async (name: string): Promise<[number, number]> => {
    const box = (await page.getByRole('button', { name: `Choose ${name}`, exact: true }).boundingBox())!;
    return [box.x + box.width / 2, box.y + box.height / 2];
  };
  const [x0, y0] = await middle('Nought');
  const [x1] = await middle('One');
  const scale = x1 - x0;
  return async (x, y) => {
    const [px, py] = [x0 + x * scale, y0 - (y + 0.5) * scale];
    await page.mouse.move(px, py, { steps: 2 });
    await page.mouse.down();
    await page.mouse.up();
  };
}

/** Rocker by the law of cosines: pivots 1 apart, crank 0.3, coupler, rocker 0.6, the upper way. */
function rockerAt(crank: number, coupler: number): number {
  const [x, y] = [0.3 * Math.cos(crank * DEG), 0.3 * Math.sin(crank * DEG)];
  const q = Math.hypot(1 - x, y);
  const inner = Math.acos((0.36 + q * q - coupler * coupler) / (1.2 * q)) / DEG;
  return Math.atan2(y, x - 1) / DEG - inner;
}
const turned = (a: number, b: number): number => Math.abs(Math.cos((a - b) * DEG) - 1);

test('a four-bar is pinned from four bars with the mouse, its coupler found for a wanted swing, and told of', async ({
  page,
}) => {
  const id = await looseBars();
  await openDrawn(page, id, 'yes');
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.getByRole('button', { name: 'Viewfinder', exact: true }).click();
  await page.keyboard.press('Escape');
  await find(page, 'Bring the chosen parts into view');
  const place = await placing(page);
  await page.keyboard.press('y');
  const told = page.getByTestId('pinning');
  // The end of the crank, then the left end of the bar that stands.
  await place(0.1, 0.4);
  await expect(told).toContainText('pivot of Crank: now what holds it');
  await place(0, 0);
  await expect(told).toContainText('Crank pinned to Ground bar. Driven by its own rotation z.');
  await place(0.2, 1);
  await place(0, 0.3);
  await expect(told).toContainText('Coupler pinned to Crank. It can still move in one way');
  await place(1.3, 0.4);
  await place(1, 0);
  await expect(told).toContainText('Rocker pinned to Ground bar');
  await expect(page.getByTestId('pins').locator('[data-pin]')).toHaveCount(3);
  await expect(page.getByTestId('pins').locator('[data-fine="false"]')).toHaveCount(1);
  await place(0.95 * Math.cos(10 * DEG), 0.3 + 0.95 * Math.sin(10 * DEG));
  await expect(told).toContainText('of Coupler: now what holds it');
  await place(1, 0.6);
  await expect(told).toContainText('Coupler pinned to Rocker. Found together with Rocker.');
  await expect(page.getByTestId('pins').locator('[data-fine="false"]')).toHaveCount(0);
  await waitKept(page);
  const { document } = await keptShot(id);
  const read = reader(document);
  for (const [frame, crank] of [
    [1, 90],
    [25, 180],
    [49, 270],
    [80, 90 + 360 * (79 / 96)],
  ] as const)
    // Keys ease: the crank is where the shot says it is.
    expect(
      turned(read('Rocker', 'rotation.z', frame), rockerAt(read('Crank', 'rotation.z', frame), 0.95)),
      `${frame} ${crank}`,
    ).toBeLessThan(1e-9);

  // The rocker is to go down to 75 degrees: crank and coupler stretched are the root of 1 + 0.36 + 1.2 cos 75.
  await page.keyboard.press('q');
  await choosePart(page, 'Coupler');
  await page.keyboard.press('Shift+f');
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('The number, as a formula').fill('Rocker.rotation.z');
  await sheet.getByLabel('When').selectOption({ label: 'its least over frames' });
  await sheet.getByLabel('Wanted').fill('75');
  await sheet.getByLabel('What of it').selectOption({ label: 'Coupler pinned to Rocker: point X' });
  await sheet.getByLabel('Coupler pinned to Rocker point X, least').fill('0.4');
  await sheet.getByLabel('Coupler pinned to Rocker point X, most').fill('0.55');
  await sheet.getByRole('button', { name: 'Find' }).click();
  const found = sheet.getByRole('region', { name: 'What was found' });
  await expect(found.getByRole('row').nth(1)).toContainText('75 °', { timeout: 180_000 });
  await found.getByRole('button', { name: 'Take' }).first().click();
  await page.keyboard.press('Escape');
  await waitKept(page);
  const after = (await keptShot(id)).document;
  const pin = Object.values(after.pins).find(({ b }) => after.parts[b ?? '']?.name === 'Rocker')!;
  expect(pin.values['at.x']).toBeCloseTo(Math.sqrt(1.36 + 1.2 * Math.cos(75 * DEG)) - 0.3 - 0.475, 3);
  const readAfter = reader(after);
  const least = Math.min(...Array.from({ length: 97 }, (_, i) => readAfter('Rocker', 'rotation.z', i + 1)));
  expect(least).toBeCloseTo(75, 1);

  // The report speaks of what pins move as of anything else.
  await choosePart(page, 'Rocker');
  await page.keyboard.press('Shift+w');
  await sheet.getByLabel('What of it').selectOption({ label: 'rotation Z' });
  await expect(sheet.getByTestId('report-facts')).toContainText('75');
  await page.keyboard.press('Escape');
});

test('the same is joined by keyboard alone, turned over, and written as formulas', async ({ page }) => {
  const id = await looseBars();
  await openShot(page, id);
  const pins = page.getByTestId('pins-form');
  const join = async (part: string, holder: string): Promise<void> => {
    await choosePart(page, part);
    await pins.getByLabel('Join it to').selectOption({ label: holder });
    await pins.getByRole('button', { name: 'Join', exact: true }).press('Enter');
    await expect(pins.getByRole('group', { name: `Pin with ${holder.replace(/: .*/, '')}` })).toBeVisible();
  };
  const type = async (label: string, text: string): Promise<void> => {
    const field = pins.getByLabel(label, { exact: true });
    await field.fill(text);
    await field.press('Enter');
  };
  await join('Crank', 'the ground: Frame');
  await type('Pin with the ground held at X', '0');
  await type('Pin with the ground held at Y', '0');
  await join('Coupler', 'Crank');
  await type('Pin with Crank held at X', '0.15');
  await type('Pin with Crank held at Y', '0');
  await join('Rocker', 'Ground bar');
  await type('Pin with Ground bar held at X', '0.5');
  await type('Pin with Ground bar held at Y', '0');
  // The other end of the rocker: joined at its pivot, then moved to its tip.
  await join('Rocker', 'Coupler');
  await type('Pin with Coupler point X', '0.3');
  await type('Pin with Coupler held at X', '0.475');
  await type('Pin with Coupler held at Y', '0');
  await expect(pins.getByTestId('pinned-state')).toHaveText('Found together with Coupler.');
  await expect(pins).toContainText('3 moving, 4 joints: 3 × 3 − 8 = 1 way to move, 1 driven');
  await waitKept(page);
  const rocker = async (frame: number): Promise<number> =>
    reader((await keptShot(id)).document)('Rocker', 'rotation.z', frame);
  expect(turned(await rocker(1), rockerAt(90, 0.95))).toBeLessThan(1e-9);

  await pins.getByRole('button', { name: 'Other side' }).press('Enter');
  await waitKept(page);
  // Mirrored in the way from the end of the crank (0, 0.3) to the pivot (1, 0).
  const slope = Math.atan2(-0.3, 1) / DEG;
  expect(turned(await rocker(1), 2 * slope - rockerAt(90, 0.95))).toBeLessThan(1e-9);
  await page.keyboard.press('Control+z');
  await waitKept(page);
  expect(turned(await rocker(1), rockerAt(90, 0.95))).toBeLessThan(1e-9);

  const before = await Promise.all([1, 20, 50, 97].map(rocker));
  await pins.getByRole('button', { name: 'Write the linkage as formulas' }).press('Enter');
  await waitKept(page);
  const { document } = await keptShot(id);
  expect(document.pins).toEqual({});
  expect(formulaOf(document, 'Rocker', 'rotation.z')).toContain('meetx(');
  const after = await Promise.all([1, 20, 50, 97].map(rocker));
  after.forEach((turn, i) => expect(turned(turn, before[i]!)).toBeLessThan(1e-9));
  await page.keyboard.press('Control+z');
  await waitKept(page);

  // A part that is taken away takes its pins with it.
  await choosePart(page, 'Crank');
  await page.keyboard.press('Delete');
  await waitKept(page);
  expect(Object.keys((await keptShot(id)).document.pins)).toHaveLength(2);
});
