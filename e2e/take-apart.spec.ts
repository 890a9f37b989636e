import { expect } from '@playwright/test';
import { test } from './same-page';
import { blankShot, type Shot } from '../core/document';
import { addPart, apply } from '../core/edit';
import { compile, Evaluator } from '../core/evaluate';
import { hexOfColour } from '../core/math';
import { choosePart, find, keptShot, newShot, openShot, partNamed, reader, waitKept } from './workbench';

/** Three parts of a winch above one another. */
async function winch(): Promise<string> {
  let shot: Shot = blankShot({ first: 1, last: 120, unit: 'cm' });
  const add = (name: string, y: number): void => {
    const part = { kind: 'solid', name, shape: { kind: 'ball', values: { radius: 0.1 } } } as const;
    shot = apply(shot, addPart(shot, { ...part, values: { 'location.y': y } }).change);
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
  await dialog.getByLabel('Fade to').click();
  await type('Opacity on the way', '0.4');
  await dialog.getByLabel('Turn colour').click();
  await type('Colour on the way as hex', '#b03020');
  await expect(list.nth(0)).toContainText('11–31, back 61–81');
  await expect(list.nth(2)).toContainText('21–41, back 51–71');
  await expect(dialog).toContainText('frames 11 to 81');
  await dialog.getByRole('button', { name: 'Take apart', exact: true }).click();
  await expect(page.getByLabel('Current frame')).toHaveValue('41');
  await waitKept(page);
  const apart = (await keptShot(id)).document;
  const read = reader(apart);
  const wheel = partNamed(apart, 'Wheel');
  const seen = new Evaluator(compile(apart));
  const shownAt = (frame: number): readonly [number, string] => {
    seen.evaluate(frame);
    return [seen.number(`${wheel.id}/opacity`), hexOfColour(seen.colour(`${wheel.part.look!}/colour`))];
  };
  const before = shownAt(11);
  expect(before[0]).toBe(1);
  expect(shownAt(45)).toEqual([0.4, '#b03020']);
  expect(shownAt(81)).toEqual(before);
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

/** A ring on an axle along z, and a cheek in front of it. */
async function axle(): Promise<string> {
  let shot: Shot = blankShot({ first: 1, last: 120, unit: 'mm' });
  const add = (
    name: string,
    kind: 'shaft' | 'tube' | 'box',
    sizes: Record<string, number>,
    values: Record<string, number>,
  ): void => {
    const shape = { kind, values: sizes };
    shot = apply(shot, addPart(shot, { kind: 'solid', name, shape, values }).change);
  };
  add('Axle', 'shaft', { radius: 0.1, length: 1.6, key: 0 }, {});
  add('Ring', 'tube', { radius: 0.4, wall: 0.3, height: 0.2 }, { 'rotation.x': 90, 'location.z': 0.4 });
  add('Cheek', 'box', { width: 2, height: 2, depth: 0.1 }, { 'location.z': 0.75 });
  return newShot('Axle', shot);
}

test('parts leave where they are free: round what stands in their way, and past what has left before', async ({
  page,
}) => {
  const id = await axle();
  await openShot(page, id);
  await choosePart(page, 'Ring');
  await page
    .getByText('Cheek', { exact: true })
    .first()
    .click({ modifiers: ['Control'] });
  await page.keyboard.press('Control+k');
  await page.keyboard.type('take apart');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog');
  const list = dialog.getByRole('list', { name: 'Parts in order' }).getByRole('listitem');
  await dialog.getByLabel('They go').selectOption({ label: 'each where it is free' });
  // The cheek is in front of it: it goes to the back.
  await expect(list.nth(0)).toContainText('Ring');
  await expect(list.nth(0)).toContainText('against z');
  // Dragged above it the cheek leaves first, and the near end is free.
  const [from, to] = await Promise.all([
    list.nth(1).getByTestId('order-grip').boundingBox(),
    list.nth(0).boundingBox(),
  ]);
  await page.mouse.move(from!.x + 5, from!.y + 5);
  await page.mouse.down();
  await page.mouse.move(from!.x + 5, from!.y - 10, { steps: 3 });
  await page.mouse.move(from!.x + 5, to!.y + 4, { steps: 5 });
  await page.mouse.up();
  await expect(list.nth(0)).toContainText('Cheek');
  await expect(list.nth(1)).toContainText('Ring');
  await expect(list.nth(0)).toContainText('along z');
  await dialog.getByRole('button', { name: 'Take apart', exact: true }).click();
  await expect(dialog).toHaveCount(0);
  await waitKept(page);
  const read = reader((await keptShot(id)).document);
  expect(read('Cheek', 'location.z', 100)).toBeCloseTo(1.75, 9);
  expect(Math.abs(read('Ring', 'location.z', 100) - 0.4)).toBeCloseTo(1, 9);
  expect(read('Ring', 'location.x', 100)).toBe(0);
});
