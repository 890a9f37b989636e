import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import type { Shot } from '../core/document';
import { compile, Evaluator } from '../core/evaluate';
import {
  addPart,
  blankCopy,
  choosePart,
  demoCopy,
  dragMouse,
  field,
  find,
  goToFrame,
  keptShot,
  openDrawn,
  openShot,
  partNamed,
  renameChosen,
  type,
  waitKept,
} from './workbench';

let id: string;
test.beforeEach(async ({ page }) => {
  id = await blankCopy();
  await openShot(page, id);
});

const tool = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Tool' }).getByText(name, { exact: true });
const looks = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Look from' }).getByText(name, { exact: true });

function at(shot: Shot, frame = 1): Evaluator {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  return evaluator;
}

/** Middle of a handle on the screen. */
async function grip(page: Page, name: string): Promise<{ x: number; y: number }> {
  const box = (await page.locator(`[data-handle="${name}"]`).boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}

async function values(page: Page, name: string): Promise<Record<string, number>> {
  await waitKept(page);
  return partNamed((await keptShot(id)).document, name).part.values as Record<string, number>;
}

test('a number typed while a handle is dragged is taken exactly; Shift goes a tenth of the way', async ({
  page,
}) => {
  await addPart(page, 'Box');
  await looks(page, 'Front').click();
  await page.keyboard.press('b');
  await tool(page, 'Move').click();
  const start = await grip(page, 'move-x');
  await page.mouse.move(start.x, start.y);
  await page.mouse.down();
  await page.mouse.move(start.x + 40, start.y, { steps: 4 });
  await page.keyboard.type('1.25+0.5');
  await expect(page.getByTestId('drag-readout')).toContainText('1.25+0.5');
  await page.keyboard.press('Enter');
  await page.mouse.up();
  expect(await values(page, 'Box')).toMatchObject({ 'location.x': 1.75 });

  await page.keyboard.press('b');
  const coarse = await grip(page, 'move-y');
  await dragMouse(page, coarse, { x: coarse.x, y: coarse.y - 60 });
  const far = (await values(page, 'Box'))['location.y']! - 0.5;
  await page.keyboard.press('Control+z');
  await waitKept(page);
  const fine = await grip(page, 'move-y');
  await page.keyboard.down('Shift');
  await dragMouse(page, fine, { x: fine.x, y: fine.y - 60 });
  await page.keyboard.up('Shift');
  const near = (await values(page, 'Box'))['location.y']! - 0.5;
  expect(far / near).toBeCloseTo(10, 1);
});

test('letters that are no number are refused where they are typed, and nothing changes', async ({ page }) => {
  await addPart(page, 'Box');
  await page.keyboard.press('b');
  await tool(page, 'Move').click();
  const before = await values(page, 'Box');
  const start = await grip(page, 'move-y');
  await page.mouse.move(start.x, start.y);
  await page.mouse.down();
  await page.mouse.move(start.x, start.y - 30, { steps: 3 });
  await page.keyboard.type('wide');
  await expect(page.getByTestId('handles').getByRole('alert')).toContainText('wide');
  await page.keyboard.press('Enter');
  await page.mouse.up();
  expect(await values(page, 'Box')).toEqual(before);
});

test('moves in a plane and freely, along world axes below a turned parent; locked axes stay', async ({
  page,
}) => {
  await addPart(page, 'Hub');
  await type(page, 'Hub rotation Y', '90');
  await addPart(page, 'Box');
  await page.getByRole('treeitem', { name: 'Box' }).dragTo(page.getByRole('treeitem', { name: 'Hub' }));
  await looks(page, 'Front').click();
  await page.keyboard.press('b');
  await tool(page, 'Move').click();
  await page.getByRole('group', { name: 'Handles along' }).getByText('World').click();
  const start = await grip(page, 'move-x');
  await dragMouse(page, start, { x: start.x + 80, y: start.y });
  await waitKept(page);
  let shot = (await keptShot(id)).document;
  const m = at(shot).worldOf(partNamed(shot, 'Box').id)!;
  expect(m[3]).toBeGreaterThan(0.2);
  expect(m[11]).toBeCloseTo(0, 5);
  // What moved along the world's x is the part's z: its parent is turned by a quarter.
  expect(Math.abs(partNamed(shot, 'Box').part.values['location.z'] as number)).toBeCloseTo(m[3]!, 5);

  const plane = await grip(page, 'move-xy');
  await dragMouse(page, plane, { x: plane.x + 30, y: plane.y - 50 });
  await waitKept(page);
  shot = (await keptShot(id)).document;
  const next = at(shot).worldOf(partNamed(shot, 'Box').id)!;
  expect(next[3]! - m[3]!).toBeGreaterThan(0.05);
  expect(next[7]! - m[7]!).toBeGreaterThan(0.1);
  await page.getByRole('group', { name: 'Axes' }).getByText('Y', { exact: true }).click();
  await expect(page.locator('[data-handle="move-y"]')).toHaveCount(0);
  await expect(page.locator('[data-handle="move-xyz"]')).toHaveCount(0);
});

test('sizes by a post along one axis and by a corner all ways', async ({ page }) => {
  await addPart(page, 'Box');
  await looks(page, 'Front').click();
  await page.keyboard.press('b');
  await page.keyboard.press('z');
  const post = (await page.locator('[data-handle="size-x"] rect').boundingBox())!;
  const from = { x: post.x + post.width / 2, y: post.y + post.height / 2 };
  const middle = await page
    .getByTestId('handles')
    .locator('[data-handle="size-x"] line')
    .evaluate((line) => {
      const box = line.closest('svg')!.getBoundingClientRect();
      return { x: box.left + Number(line.getAttribute('x1')), y: box.top + Number(line.getAttribute('y1')) };
    });
  await dragMouse(page, from, { x: middle.x + (from.x - middle.x) * 2, y: from.y });
  const wide = await values(page, 'Box');
  expect(wide['scale.x']).toBeCloseTo(2, 1);
  expect(wide['scale.y'] ?? 1).toBe(1);
  const corner = (await page.locator('[data-handle="size-xyz"] g').first().boundingBox())!;
  await page.mouse.move(corner.x + corner.width / 2, corner.y + corner.height / 2);
  await page.mouse.down();
  await page.mouse.move(corner.x - 40, corner.y + 40, { steps: 3 });
  await page.keyboard.type('*3');
  await page.keyboard.press('Enter');
  await page.mouse.up();
  const large = await values(page, 'Box');
  expect(large['scale.y']).toBe(3);
  expect(large['scale.x']! / wide['scale.x']!).toBeCloseTo(3, 6);
});

test('the pivot is dragged onto a corner; the thing stays where it is', async ({ page }) => {
  await addPart(page, 'Box');
  await type(page, 'Box rotation Z', '30');
  await page.keyboard.press('Escape');
  await looks(page, 'Front').click();
  await page.keyboard.press('b');
  await waitKept(page);
  const before = (await keptShot(id)).document;
  const box = partNamed(before, 'Box').id;
  const world = at(before).worldOf(box)!;
  await page.keyboard.press('p');
  const start = await grip(page, 'pivot-xyz');
  // The pixel of the corner (0.5, 0.5) of the box: the pivot is its middle, a known number of pixels to the unit.
  const unit = await page
    .locator('[data-handle="pivot-x"] line')
    .first()
    .evaluate((line) => {
      const [x1, x2, y1, y2] = ['x1', 'x2', 'y1', 'y2'].map((name) => Number(line.getAttribute(name)));
      return Math.hypot(x2! - x1!, y2! - y1!);
    });
  expect(unit).toBeGreaterThan(20);
  await page.mouse.move(start.x, start.y);
  await page.mouse.down();
  for (let r = 20; r < 260; r += 6) {
    const angle = ((45 + 30) * Math.PI) / 180;
    await page.mouse.move(start.x + r * Math.cos(angle), start.y - r * Math.sin(angle));
    const words = await page.getByTestId('handles').textContent();
    if (words?.includes('corner of Box')) break;
  }
  await expect(page.getByTestId('handles')).toContainText('corner of Box');
  await page.mouse.up();
  await waitKept(page);
  const after = (await keptShot(id)).document;
  const { values: kept } = partNamed(after, 'Box').part;
  // Seen from the front, two corners lie at this point: it catches on the one in front.
  expect([kept['pivot.x'], kept['pivot.y'], kept['pivot.z']]).toEqual([0.5, 0.5, 0.5]);
  at(after)
    .worldOf(box)!
    .forEach((value, i) => expect(value).toBeCloseTo(world[i]!, 9));
});

test('parts are chosen with a box; locked ones are not; the choice is moved together', async ({ page }) => {
  for (const [i, name] of ['Crate 1', 'Crate 2', 'Crate 3'].entries()) {
    await addPart(page, 'Box');
    await renameChosen(page, name);
    await type(page, `${name} location X`, String(i * 1.5 - 1.5));
    await page.keyboard.press('Escape');
  }
  await choosePart(page, 'Floor');
  await page.keyboard.press('Shift+L');
  await choosePart(page, 'Crate 3');
  await page.keyboard.press('Shift+L');
  await page.keyboard.press('Escape');
  await looks(page, 'Front').click();
  const view = (await page.getByTestId('view-canvas').boundingBox())!;
  await page.keyboard.down('Control');
  await dragMouse(
    page,
    { x: view.x + 40, y: view.y + 50 },
    { x: view.x + view.width - 20, y: view.y + view.height - 110 },
  );
  await page.keyboard.up('Control');
  await expect(page.getByRole('treeitem', { selected: true })).toHaveCount(2);
  await expect(page.getByRole('region', { name: 'Values' })).toContainText('2 parts');
  await expect(field(page, 'Chosen parts location X')).toHaveAttribute('placeholder', 'mixed');
  await type(page, 'Chosen parts location X', '+=10');
  await waitKept(page);
  const { document } = await keptShot(id);
  const place = (name: string): unknown => partNamed(document, name).part.values['location.x'];
  expect([place('Crate 1'), place('Crate 2'), place('Crate 3')]).toEqual([8.5, 10, 1.5]);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).click();
  await waitKept(page);
  expect(partNamed((await keptShot(id)).document, 'Crate 2').part.values['location.x'] ?? 0).toBe(0);
});

test('measures between two corners', async ({ page }) => {
  await addPart(page, 'Box');
  await type(page, 'Box width', '3');
  await type(page, 'Box height', '4');
  await page.keyboard.press('Escape');
  await looks(page, 'Front').click();
  await page.keyboard.press('b');
  await tool(page, 'Size').click();
  const corners = await page.locator('[data-handle="size-xyz"] g circle').evaluateAll((circles) =>
    circles.map((circle) => {
      const box = circle.getBoundingClientRect();
      return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    }),
  );
  const by = (f: (p: { x: number; y: number }) => number) => corners.reduce((a, b) => (f(b) < f(a) ? b : a));
  await page.keyboard.press('d');
  const [lowLeft, highRight] = [by((p) => p.x - p.y), by((p) => p.y - p.x)];
  await page.mouse.move(lowLeft.x, lowLeft.y);
  await page.mouse.click(lowLeft.x, lowLeft.y);
  await page.mouse.move(highRight.x, highRight.y, { steps: 4 });
  await page.mouse.click(highRight.x, highRight.y);
  await expect(page.getByTestId('measured')).toContainText('x 3.000 m y 4.000 m');
  // 3, 4, 5; the corners caught may be the nearer or the farther ones, a metre of depth apart at most.
  await expect(page.getByTestId('measured')).toContainText(/^(5\.000|5\.099) m/);
});

test('the camera is put where one looks from, then flown in the Shot view with auto-key', async ({
  page,
}) => {
  await addPart(page, 'Box');
  await page.keyboard.press('Shift+V');
  await waitKept(page);
  let shot = (await keptShot(id)).document;
  const camera = shot.setup.camera!;
  const before = at(shot).worldOf(camera)!;
  // The free view has been brought to the box: so has the camera, which looks at its middle from close by.
  const box = at(shot).worldOf(partNamed(shot, 'Box').id)!;
  const way = [3, 7, 11].map((i) => box[i]! - before[i]!);
  const distance = Math.hypot(...way);
  expect(distance).toBeGreaterThan(2);
  expect(distance).toBeLessThan(6);
  [2, 6, 10].forEach((i, axis) => expect(-before[i]!).toBeCloseTo(way[axis]! / distance, 3));
  await page.getByRole('switch', { name: 'Auto-key' }).click();
  await goToFrame(page, 30);
  await looks(page, 'Shot').click();
  const view = (await page.getByTestId('view-canvas').boundingBox())!;
  const middle = { x: view.x + view.width / 2, y: view.y + view.height / 2 };
  await dragMouse(page, middle, { x: middle.x + 120, y: middle.y });
  await waitKept(page);
  shot = (await keptShot(id)).document;
  const track = shot.parts[camera]!.tracks['rotation.y']!;
  expect(Object.values(track.keys).map((key) => key.frame)).toEqual([30]);
  const after = at(shot, 30).worldOf(camera)!;
  for (const i of [3, 7, 11]) expect(after[i]).toBeCloseTo(before[i]!, 5);
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.wheel(0, -300);
  await page.waitForTimeout(700);
  await waitKept(page);
  const nearer = at((await keptShot(id)).document, 30).worldOf(camera)!;
  expect(
    Math.hypot(nearer[3]! - after[3]!, nearer[7]! - after[7]!, nearer[11]! - after[11]!),
  ).toBeGreaterThan(0.5);
});

test('the viewfinder shows what lies beyond the frame and the safe area, grows, swaps and goes away', async ({
  page,
}) => {
  await expect(page.getByTestId('viewfinder')).toBeVisible();
  await page.getByRole('button', { name: 'Show what lies beyond the frame' }).click();
  await expect(page.getByTestId('frame-edge')).toBeVisible();
  await page.getByRole('button', { name: 'Safe area' }).click();
  await expect(page.getByTestId('safe-line')).toHaveCount(2);
  const small = (await page.getByTestId('viewfinder').boundingBox())!;
  await page.getByRole('button', { name: 'Make it large' }).click();
  expect((await page.getByTestId('viewfinder').boundingBox())!.width).toBeGreaterThan(small.width * 1.5);
  await page.keyboard.press('v');
  await expect(page.getByTestId('viewfinder')).toContainText('Free view');
  await page.getByRole('button', { name: 'Put the viewfinder away' }).click();
  await expect(page.getByTestId('viewfinder')).toBeHidden();
});

test('a key is dragged on the trail: the part is there then', async ({ page }) => {
  await page.goto('about:blank');
  id = await demoCopy(undefined, 'Hoop run');
  await openShot(page, id);
  await choosePart(page, 'Hoop way');
  await looks(page, 'Front').click();
  await page.getByRole('group', { name: 'Show' }).getByText('Trail').click();
  const dot = page.locator('[data-trail-key="1"]');
  const box = (await dot.boundingBox())!;
  const before = (await keptShot(id)).document;
  const way = partNamed(before, 'Hoop way').id;
  await dragMouse(page, { x: box.x + 4, y: box.y + 4 }, { x: box.x + 4, y: box.y - 46 });
  await waitKept(page);
  const after = (await keptShot(id)).document;
  expect(at(after, 1).number(`${way}/location.y`)).toBeGreaterThan(
    at(before, 1).number(`${way}/location.y`) + 0.2,
  );
  expect(at(after, 16).number(`${way}/location.y`)).toBeCloseTo(
    at(before, 16).number(`${way}/location.y`),
    9,
  );
});

test('a tray is made of the chosen parts, put away from the view only, and left out of the picture', async ({
  page,
}) => {
  await openDrawn(page, id, 'yes');
  await addPart(page, 'Ball');
  await type(page, 'Ball radius', '1.5');
  await page.keyboard.press('Escape');
  await page.keyboard.press('b');
  const shown = async (): Promise<number> => {
    // How much of the middle of the view is the ball's own green and blue.
    await page.waitForTimeout(900);
    return page.getByTestId('view-canvas').evaluate((canvas: HTMLCanvasElement) => {
      const copy = new OffscreenCanvas(canvas.width, canvas.height);
      const g = copy.getContext('2d')!;
      g.drawImage(canvas, 0, 0);
      const { data } = g.getImageData(
        canvas.width * 0.45,
        canvas.height * 0.4,
        canvas.width * 0.1,
        canvas.height * 0.15,
      );
      let own = 0;
      for (let i = 0; i < data.length; i += 4) if (data[i + 1]! > data[i]! * 1.25) own++;
      return own / (data.length / 4);
    });
  };
  expect(await shown()).toBeGreaterThan(0.5);
  await page.getByRole('group', { name: 'Trays' }).getByRole('button', { name: 'Tray' }).click();
  await page.getByLabel('Name of the tray').fill('Originals');
  await page.keyboard.press('Enter');
  const chip = page.getByRole('group', { name: 'Trays' }).getByText('Originals');
  await chip.click();
  expect(await shown()).toBeLessThan(0.05);
  await looks(page, 'Shot').click();
  await find(page, 'viewfinder: put away');
  await find(page, 'viewfinder: put away');
  expect(await shown()).toBeGreaterThan(0.05);
  await chip.click({ button: 'right' });
  await page.getByRole('menuitemcheckbox', { name: 'Leave out of the picture' }).click();
  expect(await shown()).toBeLessThan(0.05);
  await waitKept(page);
  const { document } = await keptShot(id);
  expect(Object.values(document.trays)).toEqual([
    expect.objectContaining({ name: 'Originals', away: true, out: true, locked: false }),
  ]);
});
