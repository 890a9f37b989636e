import { expect, type Locator, type Page } from '@playwright/test';
import { test } from './same-page';
import { PNG } from 'pngjs';
import type { Shot } from '../core/document';
import {
  addPart,
  blankCopy,
  choosePart,
  dragMouse,
  field,
  find,
  formulaOf,
  goToFrame,
  restingBox,
  keptShot,
  keysOf,
  lanePoint,
  openDrawn,
  openShot,
  partNamed,
  reader,
  renameChosen,
  type,
  url,
  waitDrawn,
  waitKept,
} from './workbench';

/** What somebody meets in the first hours with a shot of their own: each thing here went wrong once. */

let id = '';
test.beforeEach(async ({ page }) => {
  id = await blankCopy();
  await openShot(page, id);
});

const kept = async (page: Page): Promise<Shot> => {
  await waitKept(page);
  return (await keptShot(id)).document;
};
const valueAt = (shot: Shot, part: string, path: string, frame: number): number =>
  reader(shot)(part, path, frame);

test('keys: a kept pose does not hold, Enter gives the keys back, keys stretched with Snap stand on frames', async ({
  page,
}) => {
  await addPart(page, 'Box');
  await type(page, 'Box location X', '0');
  await page.keyboard.press('k');
  await goToFrame(page, 20);
  // After Enter in the field of the frame, K is a key again.
  await page.keyboard.press('k');
  await goToFrame(page, 40);
  await type(page, 'Box location X', '2');
  await page.keyboard.press('k');
  let shot = await kept(page);
  expect(valueAt(shot, 'Box', 'location.x', 30)).toBeCloseTo(1, 6);
  expect(keysOf(shot, 'Box', 'location.x').map(({ manner }) => manner)).not.toContain('hold');

  // The ring of the row tells of all three, the peg of each field of its own.
  await expect(
    page.getByRole('button', { name: 'Box location: X key at this frame; Y never changes; Z never changes' }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Box location Y: never changes' }).click();
  await expect(page.getByRole('button', { name: 'Box location Y: key at this frame' })).toBeVisible();
  await page.keyboard.press('Control+z');

  // Stretched to three quarters by the end of their band, all keys stand on whole frames.
  await page.locator('#lanes').focus();
  await page.keyboard.press('Control+a');
  const [end, goal] = [
    await lanePoint(page, 'Box · location X', 40),
    await lanePoint(page, 'Box · location X', 31.3),
  ];
  const ruler = (await page.getByTestId('lanes-canvas').boundingBox())!.y + 28;
  await dragMouse(page, { x: end.x, y: ruler }, { x: goal.x, y: ruler });
  shot = await kept(page);
  const frames = keysOf(shot, 'Box', 'location.x').map(({ frame }) => frame);
  expect(frames).not.toEqual([1, 20, 40]);
  expect(frames.every((frame) => Number.isInteger(frame))).toBe(true);

  // The menu of a stretch says how it moves now.
  const stretch = await lanePoint(page, 'Box · location X', 5);
  await page.mouse.click(stretch.x, stretch.y, { button: 'right' });
  await expect(page.getByText('This stretch moves: smooth')).toBeVisible();
  await page.getByRole('menuitem', { name: 'Ease in', exact: true }).click();
  await page.mouse.move(stretch.x + 2, stretch.y);
  await expect(page.getByTestId('pointer-hints')).toHaveAttribute('data-tip', /, ease in$/);

  // E takes all keys of the chosen part at this frame; all keys go with one command, by the words people use.
  await choosePart(page, 'Box');
  await find(page, 'delete all keys of the chosen');
  shot = await kept(page);
  expect(partNamed(shot, 'Box').part.tracks).toEqual({});
  await page.keyboard.press('Control+z');
  expect(keysOf(await kept(page), 'Box', 'location.x')).toHaveLength(3);
});

test('leaving unkeyed changes is told before the first time', async ({ page }) => {
  await addPart(page, 'Box');
  await type(page, 'Box location X', '0');
  await page.keyboard.press('k');
  await goToFrame(page, 20);
  await type(page, 'Box location X', '3');
  await expect(page.getByText(/this change holds at frame 20 only until you key it/)).toBeVisible();
});

test('fields: a formula in error is typed again whole, a number over a formula is answered, fixes keep the number', async ({
  page,
}) => {
  await addPart(page, 'Box');
  await type(page, 'Box rotation Z', '=20*time');
  // A length or a time is no angle: the link is in error, and the first fix keeps the 20.
  await expect(page.getByRole('button', { name: '20deg/1s' })).toBeVisible();
  const rotation = field(page, 'Box rotation Z');
  await field(page, 'Box location X').click();
  await page.keyboard.press('Enter');
  await rotation.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('=time*30deg/1s', { delay: 20 });
  await page.keyboard.press('Enter');
  expect(formulaOf(await kept(page), 'Box', 'rotation.z')).toBe('time*30deg/1s');

  // What is no number is not offered to be set.
  await rotation.click();
  await page.keyboard.type('45 + x');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Nothing here is called "x"/)).toBeVisible();
  await expect(page.getByRole('button', { name: /^Unlink it/ })).toHaveCount(0);
  await page.keyboard.press('Escape');

  // Digits over a formula do not vanish: they are answered, and taken where that is wanted.
  await rotation.click();
  await page.keyboard.type('45');
  await expect(rotation).toHaveValue('45');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/is linked. Begin with = to write another formula/)).toBeVisible();
  await page.getByRole('button', { name: 'Unlink it and set 45' }).click();
  const shot = await kept(page);
  expect(formulaOf(shot, 'Box', 'rotation.z')).toBeNull();
  expect(valueAt(shot, 'Box', 'rotation.z', 1)).toBe(45);
  // It was one step.
  await page.keyboard.press('Control+z');
  expect(formulaOf(await kept(page), 'Box', 'rotation.z')).toBe('time*30deg/1s');
  // Linked numbers are moss green with a dashed line, and no field is filled.
  await type(page, 'Box rotation Z', '=time*30deg/1s');
  const style = await rotation.evaluate((element) => {
    const { color, backgroundColor, textDecorationStyle } = getComputedStyle(element);
    return {
      color,
      backgroundColor,
      textDecorationStyle,
      plain: getComputedStyle(document.querySelector('[aria-label="Box location X"]')!).backgroundColor,
    };
  });
  expect(style).toEqual({
    color: 'rgb(92, 107, 18)',
    textDecorationStyle: 'dashed',
    backgroundColor: style.plain,
    plain: style.plain,
  });
});

test('the radius of a cylinder is one number; the first thing fills a third of the picture', async ({
  page,
}) => {
  await addPart(page, 'Cylinder');
  await waitDrawn(page);
  // Seen by the camera: the height of the cylinder, 1 m, against what the camera takes there.
  const shot = await kept(page);
  const camera = partNamed(shot, 'Camera').part.values as Record<string, number>;
  const away = Math.hypot(
    ...['x', 'y', 'z'].map((axis) => camera[`location.${axis}`]! - (axis === 'y' ? 0.5 : 0)),
  );
  const takes = 2 * away * (18 / 35) * (720 / 1280);
  expect(1 / takes).toBeGreaterThan(0.26);
  expect(1 / takes).toBeLessThan(0.45);
  await type(page, 'Cylinder radius', '0.2');
  const wide = await kept(page);
  expect(valueAt(wide, 'Cylinder', 'radius', 1) * valueAt(wide, 'Cylinder', 'top', 1)).toBeCloseTo(0.2, 12);
  // One step back takes part and camera away together.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  const undone = await kept(page);
  expect(Object.values(undone.parts).map(({ name }) => name)).not.toContain('Cylinder');
  expect(partNamed(undone, 'Camera').part.values['location.x']).toBe(4);
});

/** Chooses three boxes, one after the other. */
async function chooseBoxes(page: Page): Promise<void> {
  await choosePart(page, 'Box');
  for (const name of ['Box 2', 'Box 3'])
    await page
      .getByRole('treeitem')
      .filter({ has: page.getByText(name, { exact: true }) })
      .click({ modifiers: ['Control'] });
}

test('copies stand beside and out of the tray, groups keep typed numbers, what is put away asks for the film', async ({
  page,
}) => {
  await addPart(page, 'Box');
  await type(page, 'Box location X', '2.5');
  await page.getByRole('button', { name: 'Tray', exact: true }).click();
  await page.getByLabel('Name of the tray').fill('Store');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+d');
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Box 2');
  await page.keyboard.press('Control+d');
  let shot = await kept(page);
  expect(valueAt(shot, 'Box 2', 'location.x', 1)).toBe(4.5);
  expect(partNamed(shot, 'Box').part.tray).toBeDefined();
  expect(partNamed(shot, 'Box 2').part.tray).toBeUndefined();
  await page.getByRole('group', { name: 'Trays' }).getByRole('button', { name: 'Store' }).click();
  await page.getByRole('button', { name: 'Leave it out of the film too' }).click();
  shot = await kept(page);
  expect(Object.values(shot.trays)[0]).toMatchObject({ away: true, out: true });

  // Several parts at once: numbers typed with index, then a group that leaves them as they are.
  await chooseBoxes(page);
  await type(page, 'Chosen parts location X', '2.5');
  await type(page, 'Chosen parts location X', '+=index*-0.2');
  shot = await kept(page);
  expect(['Box', 'Box 2', 'Box 3'].map((name) => valueAt(shot, name, 'location.x', 1))).toEqual([
    2.5, 2.3, 2.1,
  ]);
  await page.keyboard.press('Control+g');
  shot = await kept(page);
  expect(['Box', 'Box 2', 'Box 3'].map((name) => partNamed(shot, name).part.values['location.x'])).toEqual([
    2.5, 2.3, 2.1,
  ]);
  expect(partNamed(shot, 'Group').part.values).toMatchObject({ 'location.x': 0, 'location.y': 0 });
  await page.keyboard.press('Control+z');
  await chooseBoxes(page);
  await page.keyboard.press('Shift+H');
  shot = await kept(page);
  const hub = Object.entries(shot.parts).find(([, part]) => part.name === 'Box and others')![0];
  for (const name of ['Box', 'Box 2', 'Box 3']) expect(partNamed(shot, name).part.parent).toBe(hub);
});

test('what is chosen is outlined, also where it cannot be seen', async ({ page }) => {
  await openDrawn(page, id, 'yes');
  await addPart(page, 'Ball');
  await type(page, 'Ball opacity', '0');
  const teal = async (): Promise<number> => {
    await waitDrawn(page);
    const { width, height, data } = PNG.sync.read(await page.getByTestId('view-canvas').screenshot());
    let count = 0;
    for (let i = 0; i < width * height; i++)
      if (
        Math.abs(data[i * 4]! - 11) < 24 &&
        Math.abs(data[i * 4 + 1]! - 110) < 24 &&
        Math.abs(data[i * 4 + 2]! - 118) < 24
      )
        count++;
    return count;
  };
  // The handles are put away, so that only the line is left.
  await page.keyboard.press('q');
  const chosen = await teal();
  await page.keyboard.press('Escape');
  const left = await teal();
  expect(chosen - left).toBeGreaterThan(150);
});

test('lanes stand by their parts in the order of the values, also after a reload, and tell whose they are', async ({
  page,
}) => {
  await addPart(page, 'Box');
  for (const channel of [
    'scale Z',
    'rotation X',
    'pivot X',
    'pivot Z',
    'location Y',
    'opacity',
    'depth',
    'width',
  ]) {
    await find(page, `Box ${channel}`);
    await page.keyboard.press('Enter');
    await page.keyboard.press('k');
  }
  await page.getByRole('button', { name: 'Box colour: never changes' }).click();
  const names = (): Promise<string[]> =>
    page
      .locator('#lanes [role=option]')
      .evaluateAll((rows) => rows.map((row) => row.getAttribute('aria-label')!.split(',')[0]!));
  const want = [
    'location Y',
    'rotation X',
    'scale Z',
    'pivot X',
    'pivot Z',
    'opacity',
    'width',
    'depth',
    'colour',
  ].map((label) => `Box · ${label}`);
  await expect.poll(names).toEqual(want);
  await waitKept(page);
  await page.reload();
  await expect.poll(names).toEqual(want);
  const canvas = (await page.getByTestId('lanes-canvas').boundingBox())!;
  await page.mouse.move(canvas.x + 200, canvas.y + 80);
  // Half a row: the head stays whole; also when it is all away.
  await page.mouse.wheel(0, 12);
  await expect(page.getByTestId('sticky-head')).toContainText('Box');
  await page.mouse.wheel(0, 40);
  await expect(page.getByTestId('sticky-head')).toContainText('Box');
});

test('commands are found by the words people use; help has a button; a repeat is something', async ({
  page,
}) => {
  for (const [word, label] of [
    ['dial', /^Dials/],
    ['ease', /^Ease in/],
    ['curve', /how the chosen channel moves/],
    ['slip', /^Check the shot/],
    ['sound', /marker/],
    ['export', /^Render/],
    ['snap', /^Snap dragged keys/],
    ['shadow', /^Draft view/],
    ['picture', /^Add something/],
  ] as const) {
    await page.keyboard.press('Control+k');
    await page.keyboard.type(word);
    await expect(page.getByRole('option', { name: label }).first(), word).toBeVisible();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toBeHidden();
  }
  await page.getByRole('button', { name: 'Keys and help' }).click();
  await expect(page.getByRole('dialog')).toContainText('Play or stop');
  await page.keyboard.press('Escape');
  await expect(page.getByText('Now bring something in')).toBeVisible();
  await addPart(page, 'Repeat');
  await expect(page.getByText('Now bring something in')).toBeHidden();
  await expect(page.getByText('A hub directly below Repeat can set it.')).toBeVisible();
  await page.getByRole('button', { name: 'Make one' }).click();
  const shot = await kept(page);
  expect(partNamed(shot, 'Repeat').part.repeat!.step).toBe(partNamed(shot, 'Repeat step').id);
});

test('a recipe takes the radius of its wheel, asks over keys, and slip of keyed wheels is told in the shot’s unit', async ({
  page,
}) => {
  await addPart(page, 'Tube');
  await renameChosen(page, 'Hoop');
  await type(page, 'Hoop rest turn X', '90');
  await type(page, 'Hoop location Y', '0.5');
  await page.keyboard.press('Shift+H');
  await choosePart(page, 'Hoop hub');
  await type(page, 'Hoop hub location X', '0');
  await find(page, 'Hoop hub location X');
  await page.keyboard.press('Escape');
  await page.keyboard.press('k');
  await goToFrame(page, 90);
  await type(page, 'Hoop hub location X', '3');
  await page.keyboard.press('k');
  await choosePart(page, 'Hoop');
  await goToFrame(page, 1);
  await find(page, 'Hoop rotation Y');
  await page.keyboard.press('Escape');
  await page.keyboard.press('k');
  await goToFrame(page, 90);
  await type(page, 'Hoop rotation Y', '-30');
  await page.keyboard.press('k');
  await page.getByRole('button', { name: 'Render...' }).click();
  const slip = page.getByText(/Hoop slips on the ground/);
  await expect(slip).toContainText(/is 2\.\d+ m off the way/);
  await page.getByRole('button', { name: 'Close' }).click();

  await find(page, 'Hoop rotation Y');
  await page.keyboard.press('Enter');
  await find(page, 'recipe rolling wheel');
  const recipe = page.getByRole('region', { name: 'Recipe' });
  await recipe.getByRole('combobox', { name: 'Way', exact: true }).fill('Hoop hub location X');
  await page.keyboard.press('Enter');
  await expect(recipe.getByLabel('Radius')).toHaveValue('0.5');
  const make = recipe.getByRole('button', { name: 'Make it' });
  await expect(recipe).toContainText('Hoop rotation Y has keys');
  await expect(make).toBeDisabled();
  await recipe.getByLabel('Replace the keys by the formula').check();
  await make.click();
  const shot = await kept(page);
  expect(keysOf(shot, 'Hoop', 'rotation.y')).toHaveLength(0);
  // Three metres on a radius of half a metre.
  const turned = valueAt(shot, 'Hoop', 'rotation.y', 90) - valueAt(shot, 'Hoop', 'rotation.y', 1);
  expect(Math.abs(turned)).toBeCloseTo(((3 / 0.5) * 180) / Math.PI, 6);
});

test('a film has a name, a quality and a place', async ({ page }) => {
  await addPart(page, 'Box');
  await page.getByRole('button', { name: 'Render...' }).click();
  const sheet = page.getByRole('dialog');
  await expect(sheet).toContainText('kept on the Renders page');
  await expect(sheet.getByText(/The checks found nothing wrong in 96 frames/)).toBeVisible();
  await sheet.getByLabel('Last frame').fill('2');
  await sheet.getByLabel('Width').fill('160');
  await sheet.getByLabel('Height').fill('90');
  await sheet.getByRole('radio', { name: 'Small for sending about' }).check();
  await sheet.getByLabel('File name').fill('bad/name');
  await expect(sheet.getByRole('alert')).toContainText('none of');
  await sheet.getByLabel('File name').fill('Harbour box, take 2');
  await sheet.getByRole('button', { name: 'Render', exact: true }).click();
  const progress = sheet.getByTestId('render-progress');
  await expect(progress).toHaveAttribute('data-status', 'done', { timeout: 300_000 });
  const href = (await progress.getByRole('link', { name: /Download/ }).getAttribute('href'))!;
  const answer = await fetch(url(href));
  expect(decodeURIComponent(answer.headers.get('content-disposition')!)).toContain('Harbour box, take 2.mp4');
  expect((await answer.arrayBuffer()).byteLength).toBeGreaterThan(500);
});

test('what is told covers nothing: tips stay in the window, messages of a formula leave the buttons of the view free', async ({
  page,
}) => {
  await addPart(page, 'Box');
  const z = field(page, 'Box location Z');
  await z.click();
  await z.fill('two');
  await z.press('Enter');
  const tip = page.getByRole('alert').filter({ hasText: 'two' });
  await expect(tip).toBeVisible();
  const area = (await tip.boundingBox())!;
  const { width, height } = page.viewportSize()!;
  expect(area.x).toBeGreaterThanOrEqual(0);
  expect(area.x + area.width).toBeLessThanOrEqual(width);
  expect(area.y + area.height).toBeLessThanOrEqual(height);
  /** Whether what is seen at the middle of something is that, and nothing over it. */
  const onTop = (thing: Locator): Promise<boolean> =>
    thing.evaluate((element) => {
      const { left, top, right, bottom } = element.getBoundingClientRect();
      const seen = document.elementFromPoint((left + right) / 2, (top + bottom) / 2);
      return seen !== null && element.contains(seen);
    });
  expect(await onTop(tip)).toBe(true);
  await page.keyboard.press('Escape');

  await type(page, 'Box rotation Z', '=20*time');
  await expect(page.getByRole('button', { name: '20deg/1s' })).toBeVisible();
  for (const name of ['Free', 'Front', 'Trail', 'Viewfinder'])
    expect(await onTop(page.getByRole('button', { name, exact: true })), name).toBe(true);

  // A message lies over the lanes, which are clicked through it.
  await page.getByRole('button', { name: 'Free', exact: true }).focus();
  await page.keyboard.press('Shift+c');
  const message = page.locator('[data-sonner-toast]').last();
  await restingBox(message);
  expect(await onTop(message)).toBe(false);
  const told = (await message.boundingBox())!;
  await page.mouse.click(told.x + told.width / 2, told.y + told.height / 2, { button: 'right' });
  await restingBox(page.getByRole('menuitem', { name: 'Put a marker here' }));
  // It can be read, too: were the message one that is clicked, the menu would still be hit.
  await message.evaluate((element) => element.style.setProperty('pointer-events', 'auto', 'important'));
  for (const item of await page.getByRole('menuitem').all())
    expect(await onTop(item), await item.innerText()).toBe(true);
  await page.keyboard.press('Escape');
  await expect(message).toContainText('a clip is made of keys');
});

test('the rate that is reached is told without moving what stands beside it', async ({ page }) => {
  const foot = page.getByRole('button', { name: /fps ·/ });
  const beside = page.getByLabel('Current frame');
  const places = async (): Promise<unknown> => [await foot.boundingBox(), await beside.boundingBox()];
  const still = await places();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByTestId('reached')).toBeVisible();
  expect(await places()).toEqual(still);
});

test('a pose of only what differs leaves no lane for what stands', async ({ page }) => {
  await addPart(page, 'Box');
  await page.getByRole('button', { name: 'What K and J key' }).click();
  await page.getByText('Only what differs from the pose before').click();
  await page.keyboard.press('Escape');
  await type(page, 'Box location Y', '1');
  await page.getByRole('button', { name: 'Key pose' }).click();
  await goToFrame(page, 20);
  await type(page, 'Box location Y', '2');
  await page.getByRole('button', { name: 'Key pose' }).click();
  const shot = await kept(page);
  // The first pose keys where the figure stands, so that it has its frame; the second only what it changes.
  expect(Object.keys(partNamed(shot, 'Box').part.tracks).sort()).toEqual([
    'location.x',
    'location.y',
    'location.z',
  ]);
  expect(keysOf(shot, 'Box', 'location.x').map(({ frame }) => frame)).toEqual([1]);
  expect(keysOf(shot, 'Box', 'location.y').map(({ frame, value }) => [frame, value])).toEqual([
    [1, 1],
    [20, 2],
  ]);
});

test('a number dragged and left with Escape is as it was', async ({ page }) => {
  await addPart(page, 'Box');
  const x = field(page, 'Box location X');
  const before = await kept(page);
  const box = (await x.boundingBox())!;
  await page.mouse.move(box.x + 20, box.y + 10);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y + 10, { steps: 4 });
  const shown = async (): Promise<number> => Number((await x.inputValue()).replace('\u2212', '-'));
  await expect.poll(shown).not.toBe(0);
  await page.keyboard.press('Escape');
  await expect.poll(shown).toBe(0);
  await page.mouse.move(box.x + 90, box.y + 10, { steps: 2 });
  await page.mouse.up();
  await waitDrawn(page);
  expect(await shown()).toBe(0);
  expect(await kept(page)).toEqual(before);
});

test.describe('with a system of its own', () => {
  test.use({ ownPage: true });

  test('evening colours are chosen in the page, or come with the system, and the browser keeps the choice', async ({
    page,
  }) => {
    await addPart(page, 'Box');
    await page.getByRole('button', { name: 'Key pose' }).click();
    /** How bright the lanes are painted, 0 to 255. */
    const lanes = async (): Promise<number> => {
      await waitDrawn(page);
      const { data } = PNG.sync.read(await page.locator('#lanes').screenshot());
      let sum = 0;
      for (let i = 0; i < data.length; i += 4) sum += data[i]! + data[i + 1]! + data[i + 2]!;
      return sum / ((data.length / 4) * 3);
    };
    const button = (words: string) => page.getByRole('button', { name: `${words}: change` });
    expect(await lanes()).toBeGreaterThan(190);
    await page.emulateMedia({ colorScheme: 'dark' });
    expect(await lanes()).toBeLessThan(70);
    await button('Colours as the system has them').click();
    expect(await lanes()).toBeGreaterThan(190);
    await page.emulateMedia({ colorScheme: 'light' });
    await button('Day colours').click();
    expect(await lanes()).toBeLessThan(70);
    await page.reload();
    await expect(button('Evening colours')).toBeVisible();
    expect(await lanes()).toBeLessThan(70);
    await find(page, 'Day colours');
    expect(await lanes()).toBeGreaterThan(190);
  });
});
