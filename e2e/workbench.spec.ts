import { expect, type Locator } from '@playwright/test';
import { goWithin, test } from './same-page';
import { compile, Evaluator } from '../core/evaluate';
import {
  addPart,
  choosePart,
  demoCopy,
  dragMouse,
  field,
  goToFrame,
  keptShot,
  lanePoint,
  newShot,
  openDrawn,
  openShot,
  partNamed,
  ringOf,
  type,
  url,
  waitDrawn,
  waitKept,
} from './workbench';

let id: string;
test.beforeEach(async ({ page }) => {
  id = await demoCopy();
  await openShot(page, id);
});

test('plays at the true rate and scrubs', async ({ page }) => {
  // Where something is heard, the clock of the sound leads, and that of a busy machine may stand; see player.test.ts.
  const { document } = await keptShot(id);
  const sounds: typeof document.sounds = Object.fromEntries(
    Object.entries(document.sounds).map(([key, sound]) => [key, { ...sound, muted: true }]),
  );
  const quiet = await newShot('Quiet ride', { ...document, sounds });
  await openDrawn(page, quiet, 'yes');
  await waitDrawn(page);
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  // What is shown at each picture of the page, by the page's own clock of pictures.
  const seen = await page.getByLabel('Current frame').evaluate(
    (input: HTMLInputElement) =>
      new Promise<{ at: number; frame: number }[]>((resolve) => {
        const list: { at: number; frame: number }[] = [];
        const look = (at: number): void => {
          list.push({ at, frame: Number(input.value) });
          if (at - list[0]!.at < 2500) requestAnimationFrame(look);
          else resolve(list);
        };
        requestAnimationFrame(look);
      }),
  );
  await page.getByRole('button', { name: 'Stop' }).click();
  // Pictures may be dropped, time may not: what is shown is that of this picture or of the one before, however long
  // they took.
  const start = seen.findIndex(({ frame }) => frame !== seen[0]!.frame);
  expect(start).toBeGreaterThan(0);
  expect(new Set(seen.map(({ frame }) => frame)).size).toBeGreaterThan(3);
  const gap = (i: number): number => (seen[i]!.at - seen[i - 1]!.at) * 0.024;
  for (let i = start; i < seen.length; i++) {
    const gone = (seen[i]!.at - seen[start]!.at) * 0.024;
    const off = (seen[i]!.frame - seen[start]!.frame - gone) % 192;
    const least = Math.min(Math.abs(off), 192 - Math.abs(off));
    expect(least, `picture ${i} at ${gone} frames`).toBeLessThan(2 + gap(i) + gap(start));
  }

  const [a, b] = [await lanePoint(page, 'Pinion', 10), await lanePoint(page, 'Pinion', 60)];
  const ruler = (await page.getByTestId('lanes-canvas').boundingBox())!.y + 10;
  await dragMouse(page, { x: a.x, y: ruler }, { x: b.x, y: ruler });
  await expect(page.getByLabel('Current frame')).toHaveValue('60');
  await expect(page.getByTestId('timecode')).toHaveText('00:00:02:11');
});

test('moves a part by its handle with auto-key, in one undo step', async ({ page }) => {
  await choosePart(page, 'Bollard 1');
  await page.keyboard.press('Escape');
  await choosePart(page, 'Bollard 1');
  await page.getByRole('button', { name: 'Move', exact: true }).click();
  await page.getByRole('switch', { name: 'Auto-key' }).click();
  await page.keyboard.press('b');
  await goToFrame(page, 20);
  const before = await keptShot(id);
  const arrow = page.locator('[data-handle="move-y"]');
  const box = (await arrow.boundingBox())!;
  const grip = { x: box.x + box.width / 2, y: box.y + 6 };
  await page.mouse.move(grip.x, grip.y);
  await page.mouse.down();
  await page.mouse.move(grip.x, grip.y - 60, { steps: 8 });
  await expect(page.getByTestId('drag-readout')).toContainText('Y ');
  await page.mouse.up();
  await waitKept(page);
  const after = await keptShot(id);
  const { part } = partNamed(after.document, 'Bollard 1');
  const keys = Object.values(part.tracks['location.y']!.keys);
  expect(keys).toHaveLength(1);
  expect(keys[0]!.frame).toBe(20);
  expect(keys[0]!.value as number).toBeGreaterThan(0.3);
  expect(Object.keys(part.tracks)).toEqual(['location.y']);
  await page.keyboard.press('Control+z');
  await waitKept(page);
  expect((await keptShot(id)).document).toEqual(before.document);
});

test('turns a part by its ring beyond a whole turn', async ({ page }) => {
  await choosePart(page, 'Bollard 1');
  await page
    .getByRole('group', { name: 'Look from' })
    .getByRole('button', { name: 'Top', exact: true })
    .click();
  await page.getByRole('button', { name: 'Turn', exact: true }).click();
  await page.keyboard.press('b');
  const [cx, cy, r] = await ringOf(page, 'y');
  await page.mouse.move(cx + r * Math.SQRT1_2, cy - r * Math.SQRT1_2);
  await page.mouse.down();
  for (let angle = 45; angle <= 495; angle += 15)
    await page.mouse.move(
      cx + r * Math.cos((angle * Math.PI) / 180),
      cy - r * Math.sin((angle * Math.PI) / 180),
    );
  await expect(page.getByTestId('drag-readout')).toContainText('1 turn');
  await page.mouse.up();
  await waitKept(page);
  const value = partNamed((await keptShot(id)).document, 'Bollard 1').part.values['rotation.y'] as number;
  expect(Math.abs(value)).toBeGreaterThan(435);
  expect(Math.abs(value)).toBeLessThan(465);
});

test('a handle dragged and left with Escape changes nothing', async ({ page }) => {
  await choosePart(page, 'Bollard 2');
  await page.getByRole('button', { name: 'Move', exact: true }).click();
  const before = await keptShot(id);
  const box = (await page.locator('[data-handle="move-y"]').boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + 6);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y - 60, { steps: 4 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await page.waitForTimeout(500);
  expect(await keptShot(id)).toEqual(before);
});

test('takes arithmetic, units and a formula in a field; refuses what is none', async ({ page }) => {
  await choosePart(page, 'Bollard 1');
  await type(page, 'Bollard 1 rotation Y', '-3*360');
  await expect(field(page, 'Bollard 1 rotation Y')).toHaveValue('−1080°');
  await type(page, 'Bollard 1 location X', '1.5m + 25cm');
  await field(page, 'Bollard 1 location X').fill('two');
  await field(page, 'Bollard 1 location X').press('Enter');
  await expect(page.getByRole('alert')).toContainText('two');
  await field(page, 'Bollard 1 location X').press('Escape');
  await type(page, 'Bollard 1 location Z', '= Pinion.rotation.z * 1m / 360deg');
  await waitKept(page);
  const { part } = partNamed((await keptShot(id)).document, 'Bollard 1');
  expect(part.values).toMatchObject({ 'rotation.y': -1080, 'location.x': 1.75 });
  expect(part.links['location.z']).toMatchObject({ formula: 'Pinion.rotation.z * 1m / 360deg' });
});

test('a formula with a mistake says why, falls back to own, and is mended by its fix', async ({ page }) => {
  await choosePart(page, 'Crown wheel');
  await page.getByRole('option', { name: /^Crown wheel · rotation Z/ }).click();
  await goToFrame(page, 50);
  const bar = page.getByLabel('Formula');
  await bar.click();
  await bar.fill('= mesh(Pinon.rotation.z, 16, 56)');
  await expect(page.getByRole('alert')).toContainText('Nothing here is called "Pinon"');
  await bar.press('Enter');
  await expect(page.getByRole('option', { name: /^Crown wheel · rotation Z/ })).toHaveAttribute(
    'title',
    /out of force/,
  );
  await expect(page.getByTestId('formula-result')).toContainText('own');
  // Everything else goes on: the deck follows the wheel, which now keeps its own value, 0.
  await choosePart(page, 'Deck');
  await expect(field(page, 'Deck rotation Y')).toHaveValue('0°');
  await page.getByRole('option', { name: /^Crown wheel · rotation Z/ }).click();
  await bar.click();
  await page.getByRole('alert').getByRole('button', { name: 'Pinion', exact: true }).click();
  await expect(page.getByRole('alert')).toBeHidden();
  await bar.press('Enter');
  await waitKept(page);
  const { document } = await keptShot(id);
  const evaluator = new Evaluator(compile(document));
  evaluator.evaluate(50);
  const wheel = partNamed(document, 'Crown wheel').id;
  const pinion = partNamed(document, 'Pinion').id;
  expect(evaluator.number(`${wheel}/rotation.z`)).toBeCloseTo(
    (-evaluator.number(`${pinion}/rotation.z`) * 16) / 56,
    9,
  );
});

test('names complete as they are typed, with what they are now, and arguments are explained', async ({
  page,
}) => {
  await choosePart(page, 'Bollard 1');
  await field(page, 'Bollard 1 rotation X').click();
  const bar = page.getByLabel('Formula');
  await bar.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('= mesh(pin');
  const list = page.getByRole('listbox', { name: 'Proposals' });
  await expect(list.getByRole('option').first()).toContainText('Pinion');
  await expect(page.getByText('Turn of a gear with teeth2')).toBeVisible();
  await page.keyboard.press('Tab');
  await page.keyboard.type('rot');
  await expect(list.getByRole('option')).toHaveCount(3);
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.keyboard.type(', 16, 56)');
  await expect(bar).toHaveText('= mesh(Pinion.rotation.z, 16, 56)');
  await page.keyboard.press('Enter');
  await waitKept(page);
  const { part } = partNamed((await keptShot(id)).document, 'Bollard 1');
  expect(part.links['rotation.x']).toMatchObject({ formula: 'mesh(Pinion.rotation.z, 16, 56)' });
});

test('a repeat shows its ball again and again, each copy placed by its index', async ({ page }) => {
  await addPart(page, 'Repeat');
  await addPart(page, 'Ball');
  await page.getByLabel('Find a part').fill('');
  const row = (name: string): Locator =>
    page.getByRole('treeitem').filter({ has: page.getByText(name, { exact: true }) });
  await row('Ball').dragTo(row('Repeat'));
  await row('Repeat').click();
  await type(page, 'Repeat copies', '4');
  await type(page, 'Repeat copy place Y', '= index * 0.5m');
  await waitKept(page);
  const { document } = await keptShot(id);
  const shot = document;
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  const ball = partNamed(shot, 'Ball');
  expect(ball.part.parent).toBe(partNamed(shot, 'Repeat').id);
  const copies = evaluator.copiesOf(ball.id)!;
  expect(copies.count).toBe(4);
  const heights = [0, 1, 2, 3].map((k) => copies.matrices[k * 12 + 7]!);
  heights.forEach((height, k) => expect(height - heights[0]!).toBeCloseTo(k * 0.5, 9));
});

test('a reference is picked by clicking a row, and follows a renamed part', async ({ page }) => {
  await choosePart(page, 'Bollard 3');
  await page.locator('[data-row="Scale"]').getByLabel('Bollard 3 scale Y', { exact: true }).click();
  await page.keyboard.press('Escape');
  const bar = page.getByLabel('Formula');
  await bar.click();
  await bar.fill('= 1 + ');
  await page.locator('[data-row="Opacity"]').getByRole('button', { name: 'Opacity', exact: true }).click();
  await expect(bar).toHaveText('= 1 + "Bollard 3".opacity');
  await bar.press('Enter');
  await page.getByRole('tree').focus();
  await page.keyboard.press('F2');
  await page.getByLabel('New name').fill('Mooring');
  await page.keyboard.press('Enter');
  await expect(bar).toHaveText('= 1 + Mooring.opacity');
});

test('drags a peg; undo goes all the way back; reload shows the same', async ({ page }) => {
  const start = await keptShot(id);
  const [from, to] = [
    await lanePoint(page, 'Pinion · rotation Z', 25),
    await lanePoint(page, 'Pinion · rotation Z', 40),
  ];
  await dragMouse(page, from, to);
  await waitKept(page);
  const frames = (shot: typeof start): number[] =>
    Object.values(partNamed(shot.document, 'Pinion').part.tracks['rotation.z']!.keys)
      .map((key) => key.frame)
      .sort((a, b) => a - b);
  expect(frames(await keptShot(id))).toEqual([1, 40, 73, 169, 193]);
  await page.keyboard.press('Delete');
  await choosePart(page, 'Canopy');
  await page
    .getByRole('treeitem')
    .filter({ has: page.getByText('Canopy', { exact: true }) })
    .getByRole('button', { name: 'Hide Canopy' })
    .click();
  await page
    .getByRole('treeitem')
    .filter({ has: page.getByText('Canopy', { exact: true }) })
    .click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Linked copy' }).click();
  await waitKept(page);
  const changed = await keptShot(id);
  expect(frames(changed)).toEqual([1, 73, 169, 193]);
  expect(Object.keys(changed.document.parts).length).toBeGreaterThan(
    Object.keys(start.document.parts).length + 15,
  );
  await page.reload();
  await waitKept(page);
  expect((await keptShot(id)).document).toEqual(changed.document);
  await expect(page.getByText('Canopy 2', { exact: true })).toBeVisible();
});

test('undo of everything, step by step', async ({ page }) => {
  const start = await keptShot(id);
  await choosePart(page, 'Evening sun');
  await type(page, 'Evening sun strength', '*2');
  await addPart(page, 'Torus');
  await dragMouse(
    page,
    await lanePoint(page, 'Pinion · rotation Z', 73),
    await lanePoint(page, 'Pinion · rotation Z', 80),
  );
  await page.mouse.click(
    (await lanePoint(page, 'Pinion · rotation Z', 50)).x,
    (await lanePoint(page, 'Pinion · rotation Z', 50)).y,
    { button: 'right' },
  );
  await page.getByRole('menuitem', { name: 'Straight' }).click();
  await waitKept(page);
  expect((await keptShot(id)).document).not.toEqual(start.document);
  const changed = (await keptShot(id)).document;
  for (let i = 0; i < 4; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await waitKept(page);
  expect((await keptShot(id)).document).toEqual(start.document);
  for (let i = 0; i < 4; i++) await page.getByRole('button', { name: 'Redo' }).click();
  await waitKept(page);
  expect((await keptShot(id)).document).toEqual(changed);
});

test('a keyed value changed without auto-key is marked, dropped by scrubbing, and can be brought back and kept', async ({
  page,
}) => {
  await choosePart(page, 'Pinion');
  await goToFrame(page, 30);
  const before = await keptShot(id);
  await type(page, 'Pinion rotation Z', '+=30');
  await expect(page.getByText('1 changed, not keyed')).toBeVisible();
  expect(await keptShot(id)).toEqual(before);
  await goToFrame(page, 31);
  await expect(page.getByText('1 changed, not keyed')).toBeHidden();
  await page.getByRole('button', { name: 'Bring back' }).click();
  await expect(page.getByLabel('Current frame')).toHaveValue('30');
  await page.keyboard.press('k');
  await waitKept(page);
  const keys = Object.values(
    partNamed((await keptShot(id)).document, 'Pinion').part.tracks['rotation.z']!.keys,
  );
  expect(keys.some((key) => key.frame === 30)).toBe(true);
});

test('picks what is clicked in the view, and what lies behind it at the second click', async ({ page }) => {
  const canvas = (await page.getByTestId('view-canvas').boundingBox())!;
  const at = { x: canvas.x + canvas.width * 0.417, y: canvas.y + canvas.height * 0.437 };
  await page.mouse.click(at.x, at.y);
  const chosen = page.getByRole('region', { name: 'Values' }).getByRole('heading', { level: 2 });
  await expect(chosen).toContainText('Stripe');
  const first = await chosen.textContent();
  await page.mouse.click(at.x, at.y);
  await expect(chosen).not.toHaveText(first!);
});

test('hangs a part elsewhere by dragging it in the tree; it stays where it is', async ({ page }) => {
  await page.getByLabel('Find a part').fill('cr');
  const knob = page.getByRole('treeitem').filter({ has: page.getByText('Crank knob', { exact: true }) });
  await knob.dragTo(
    page.getByRole('treeitem').filter({ has: page.getByText('Crown wheel', { exact: true }) }),
  );
  await waitKept(page);
  const { document } = await keptShot(id);
  const world = (shot: typeof document): Float64Array => {
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(1);
    return evaluator.worldOf(partNamed(shot, 'Crank knob').id)!;
  };
  const original = await keptShot(await demoCopy());
  expect(partNamed(document, 'Crank knob').part.parent).toBe(partNamed(document, 'Crown wheel').id);
  world(document).forEach((value, i) => expect(value).toBeCloseTo(world(original.document)[i]!, 9));
});

test('names that are taken, empty or too long are refused with the reason', async ({ page }) => {
  await choosePart(page, 'Evening sun');
  const before = await keptShot(id);
  for (const [name, words] of [
    ['Deck', 'already the name'],
    ['x'.repeat(300), '300 characters: at most 80'],
    ['a "b"', 'quotation marks'],
  ] as const) {
    await page.getByRole('tree').focus();
    await page.keyboard.press('F2');
    await page.getByLabel('New name').fill(name);
    await page.keyboard.press('Enter');
    await expect(page.getByText(words).first()).toBeVisible();
  }
  expect(await keptShot(id)).toEqual(before);
});

test('the range is set in the foot, bad ranges are refused', async ({ page }) => {
  await page
    .getByTitle(/Set up the shot \(Shift\+S\)/)
    .last()
    .click();
  const sheet = page.getByRole('dialog', { name: 'The shot' });
  await sheet.getByLabel('Last frame').fill('-5');
  await expect(sheet.getByRole('alert')).toContainText('before the first');
  await sheet.getByLabel('Last frame').fill('96');
  await sheet.getByLabel('Frames a second').selectOption('12');
  await expect(sheet.getByRole('button', { name: 'Set', exact: true })).toBeDisabled();
  await sheet.getByLabel('The seconds').check();
  await expect(sheet.getByLabel('Last frame')).toHaveValue('48');
  await expect(sheet.getByTestId('shot-length')).toContainText('4 s');
  await page.getByRole('button', { name: 'Set', exact: true }).click();
  await waitKept(page);
  const { document } = await keptShot(id);
  expect(document.setup).toMatchObject({ first: 1, last: 48, rate: { num: 12, den: 1 } });
  expect(
    Object.values(partNamed(document, 'Pinion').part.tracks['rotation.z']!.keys).map((key) => key.frame),
  ).toContain(13);
});

test('"?" lists the keys, and the keys work', async ({ page }) => {
  await page.keyboard.press('Shift+Slash');
  await expect(page.getByRole('dialog')).toContainText('Play or stop');
  await page.keyboard.press('Escape');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByLabel('Current frame')).toHaveValue('12');
  await page.keyboard.press('BracketRight');
  await expect(page.getByLabel('Current frame')).toHaveValue('25');
  await page.keyboard.press('End');
  await expect(page.getByLabel('Current frame')).toHaveValue('192');
});

test('a shot that does not open says why, and opens at the next try', async ({ page }) => {
  await page.goto(url('/nowhere'));
  await page.evaluate(() => {
    navigator.locks.request = () => {
      Reflect.deleteProperty(navigator.locks, 'request');
      throw new Error('This browser lets nothing be locked.');
    };
  });
  await goWithin(page, `/shots/${id}`);
  const told = page.getByRole('alert');
  await expect(told).toContainText('The shot cannot be opened');
  await expect(told).toContainText('This browser lets nothing be locked.');
  await told.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByTestId('kept')).toHaveText('Kept');
});
