import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import type { Shot } from '../core/document';
import {
  choosePart,
  demoCopy,
  dragMouse,
  find,
  goToFrame,
  keptShot,
  lanePoint,
  openShot,
  partNamed,
  waitKept,
} from './workbench';

let id: string;
test.beforeEach(async ({ page }) => {
  id = await demoCopy(undefined, 'Hoop run');
  await openShot(page, id);
});

const HEIGHTS = 'Hoop way · location Y';

function frames(shot: Shot, part: string, path: string): number[] {
  return Object.values(partNamed(shot, part).part.tracks[path]?.keys ?? {})
    .map((key) => key.frame)
    .sort((a, b) => a - b);
}
const kept = async (page: Page): Promise<Shot> => {
  await waitKept(page);
  return (await keptShot(id)).document;
};
/** Place of a frame in the ruler, below the flags of the markers. */
async function rulerPoint(page: Page, frame: number, down = 26): Promise<{ x: number; y: number }> {
  const canvas = (await page.getByTestId('lanes-canvas').boundingBox())!;
  const group = page.getByRole('group', { name: 'Lanes' });
  const [firstX, perFrame] = await Promise.all(
    ['data-first-x', 'data-per-frame'].map(async (name) => Number(await group.getAttribute(name))),
  );
  return { x: (await group.boundingBox())!.x + firstX! + (frame - 1) * perFrame!, y: canvas.y + down };
}

test('groups fold, lanes are found by name and by the chosen parts, the table tells their keys', async ({
  page,
}) => {
  const options = page.getByRole('option').and(page.locator('[id^="lane-"]'));
  await expect(options).toHaveCount(6);
  await page.getByRole('button', { name: 'Fold Hoop way' }).click();
  await expect(options).toHaveCount(4);
  await page.getByRole('button', { name: 'Unfold Hoop way' }).click();
  await page.getByLabel('Find a lane').fill('scale');
  await expect(options).toHaveCount(2);
  await page.getByLabel('Find a lane').fill('');
  await choosePart(page, 'Hoop');
  const only = async (kind: string): Promise<void> => {
    await page.getByRole('button', { name: /^Which lanes are shown/ }).click();
    await page.getByRole('menuitem', { name: kind }).click();
  };
  await only('Only lanes of the chosen parts');
  await expect(options).toHaveCount(1);
  await only('Only what is linked');
  await expect(options).toHaveCount(1);
  await expect(options).toContainText('Hoop · rotation Y');
  await only('Only what has keys');
  await expect(options).toHaveCount(5);
  await only('Only sounds');
  await expect(options).toHaveCount(0);
  await expect(page.getByText('The level of no sound is keyed or linked.')).toBeVisible();
  await only('All lanes');
  await page.getByRole('option', { name: HEIGHTS }).click();
  await goToFrame(page, 30);
  const value = page.getByLabel(/location Y at the playhead$/);
  await value.fill('0.5 m');
  await value.press('Enter');
  expect(frames(await kept(page), 'Hoop way', 'location.y')).toContain(30);
  await page.keyboard.press('Control+z');
  const row = page
    .getByRole('table', { name: 'Keys of the lanes in sight' })
    .getByRole('row', { name: HEIGHTS });
  await expect(row).toContainText('frame 1: 2.00 m, then quad in');
});

test('a box chooses keys; they are moved together, doubled with Alt, and reversed', async ({ page }) => {
  const before = frames(await kept(page), 'Hoop way', 'location.y');
  const a = await lanePoint(page, HEIGHTS, 12);
  const b = await lanePoint(page, HEIGHTS, 42);
  await dragMouse(page, { x: a.x, y: a.y - 10 }, { x: b.x, y: b.y + 10 });
  const inside = before.filter((frame) => frame > 12 && frame < 42);
  expect(inside.length).toBeGreaterThanOrEqual(3);
  const peg = await lanePoint(page, HEIGHTS, inside[0]!);
  const goal = await lanePoint(page, HEIGHTS, inside[0]! - 3);
  await dragMouse(page, peg, goal);
  expect(frames(await kept(page), 'Hoop way', 'location.y')).toEqual(
    before.map((frame) => (inside.includes(frame) ? frame - 3 : frame)),
  );
  await page.keyboard.press('Control+z');
  await expect.poll(async () => frames(await kept(page), 'Hoop way', 'location.y')).toEqual(before);

  const far = await lanePoint(page, HEIGHTS, inside[0]! + 90);
  await page.keyboard.down('Alt');
  await dragMouse(page, peg, far);
  await page.keyboard.up('Alt');
  const doubled = frames(await kept(page), 'Hoop way', 'location.y');
  expect(doubled).toEqual([...before, ...inside.map((frame) => frame + 90)].sort((x, y) => x - y));
  await page.keyboard.press('Control+z');

  const values = async (): Promise<number[]> =>
    Object.values(partNamed(await kept(page), 'Hoop way').part.tracks['location.y']!.keys)
      .sort((x, y) => x.frame - y.frame)
      .slice(1, 1 + inside.length)
      .map((key) => key.value as number);
  const forth = await values();
  await page.keyboard.press('Shift+R');
  await expect.poll(values).toEqual([...forth].reverse());
});

test('chosen keys are stretched by the ends of their band; dragged keys catch on the playhead', async ({
  page,
}) => {
  const before = frames(await kept(page), 'Hoop squash', 'scale.y');
  const a = await lanePoint(page, 'Hoop squash · scale Y', 0.5);
  const b = await lanePoint(page, 'Hoop squash · scale Y', 100);
  await dragMouse(page, { x: a.x - 5, y: a.y - 11 }, { x: b.x, y: b.y + 11 });
  const last = before.at(-1)!;
  await dragMouse(page, await rulerPoint(page, last), await rulerPoint(page, 1 + (last - 1) * 1.5));
  const after = frames(await kept(page), 'Hoop squash', 'scale.y');
  expect(after[0]).toBe(before[0]);
  expect(after.at(-1)! / 1).toBeCloseTo(1 + (last - 1) * 1.5, -0.5);
  const factor = (after.at(-1)! - 1) / (last - 1);
  // Whole frames: where one key landed within a frame of where it belongs, so did all.
  after.forEach((frame, i) => {
    expect(frame).toBe(Math.round(frame));
    expect(Math.abs(frame - (1 + (before[i]! - 1) * factor))).toBeLessThan(1);
  });
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Escape');

  await goToFrame(page, 20.4);
  const peg = await lanePoint(page, HEIGHTS, frames(await kept(page), 'Hoop way', 'location.y')[1]!);
  const near = await lanePoint(page, HEIGHTS, 20);
  await dragMouse(page, peg, { x: near.x + 1, y: near.y });
  expect(frames(await kept(page), 'Hoop way', 'location.y')).toContain(20.4);
});

test('markers are put, dragged, renamed and removed; the ruler scrubs', async ({ page }) => {
  const at = await rulerPoint(page, 110);
  await page.mouse.click(at.x, at.y, { button: 'right' });
  await page.getByRole('menuitem', { name: 'Put a marker here' }).click();
  await page.getByLabel('Name of the marker at frame 110').fill('At rest');
  await page.keyboard.press('Enter');
  const rest = async (): Promise<number | undefined> =>
    Object.values((await kept(page)).markers).find((marker) => marker.name === 'At rest')?.frame;
  expect(await rest()).toBe(110);
  const flag = await rulerPoint(page, 110, 6);
  const goal = await rulerPoint(page, 121, 6);
  await dragMouse(page, { x: flag.x + 4, y: flag.y }, { x: goal.x + 4, y: goal.y });
  expect(await rest()).toBe(121);
  await page.mouse.click(goal.x + 4, goal.y, { button: 'right' });
  await page.getByRole('menuitem', { name: 'Remove the marker' }).click();
  expect(await rest()).toBeUndefined();
  await dragMouse(page, await rulerPoint(page, 5), await rulerPoint(page, 61));
  await expect(page.getByLabel('Current frame')).toHaveValue('61');
});

test('time is zoomed at the pointer and by the bar, and shown whole again', async ({ page }) => {
  const group = page.getByRole('group', { name: 'Lanes' });
  const perFrame = async (): Promise<number> => Number(await group.getAttribute('data-per-frame'));
  const whole = await perFrame();
  const at = await lanePoint(page, HEIGHTS, 40);
  const bar = page.getByRole('scrollbar', { name: 'Frames shown' });
  const allOfThem = (await bar.getAttribute('aria-valuetext'))!;
  await page.mouse.move(at.x, at.y);
  await page.keyboard.down('Alt');
  await page.mouse.wheel(0, -600);
  await page.keyboard.up('Alt');
  await expect.poll(perFrame).toBeGreaterThan(whole * 2);
  const still = await lanePoint(page, HEIGHTS, 40);
  expect(Math.abs(still.x - at.x)).toBeLessThan(1.5);
  await expect(bar).not.toHaveAttribute('aria-valuetext', allOfThem);
  const place = (await bar.boundingBox())!;
  const end = { x: place.x + Number(await bar.getAttribute('data-to-x')) - 4, y: place.y + place.height / 2 };
  // The thumb is painted there: its end is of another colour than the bar below.
  const colours = await bar.locator('canvas').evaluate(
    (canvas: HTMLCanvasElement, [on, beyond]) => {
      const ratio = canvas.width / canvas.clientWidth;
      const g = canvas.getContext('2d')!;
      return [on, beyond].map((x) => [...g.getImageData(x! * ratio, 9 * ratio, 1, 1).data]);
    },
    [end.x - place.x, end.x - place.x + 12],
  );
  expect(colours[0]![3]).toBe(255);
  expect(colours[1]![3]).toBe(0);
  await dragMouse(page, end, { x: end.x + 150, y: end.y });
  const wider = await perFrame();
  expect(wider).toBeLessThan(whole * 2.4);
  await bar.focus();
  await page.keyboard.press('Home');
  await expect.poll(perFrame).toBeCloseTo(whole, 6);
  await page.keyboard.press('+');
  await expect.poll(perFrame).toBeGreaterThan(whole);
});

test('keys are chosen, moved, copied and pasted onto another part with the keyboard alone', async ({
  page,
}) => {
  await find(page, 'hoop way location y');
  await page.keyboard.press('Escape');
  await page.getByRole('group', { name: 'Lanes' }).focus();
  await page.keyboard.press('Control+Shift+A');
  await page.keyboard.press('Alt+ArrowRight');
  const moved = frames(await kept(page), 'Hoop way', 'location.y');
  expect(moved[0]).toBe(2);
  await page.keyboard.press('Control+c');
  await expect(page.getByText(/keys are copied/)).toBeVisible();
  await find(page, 'bollard 2');
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Bollard 2');
  await goToFrame(page, 30);
  await page.getByLabel('Current frame').blur();
  await page.keyboard.press('Control+v');
  expect(frames(await kept(page), 'Bollard 2', 'location.y')).toEqual(moved.map((frame) => frame + 28));
  await page.getByRole('group', { name: 'Lanes' }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('option', { selected: true }).and(page.locator('[id^="lane-"]'))).toHaveCount(
    1,
  );
  await page.getByRole('group', { name: 'Lanes' }).press('Shift+F10');
  await expect(page.getByRole('menu')).toBeVisible();
});

test('parts chosen in order are staggered', async ({ page }) => {
  const before = await kept(page);
  for (const name of ['Hoop way', 'Hoop squash', 'Camera'])
    await page
      .getByRole('treeitem')
      .filter({ has: page.getByText(name, { exact: true }) })
      .click({ modifiers: name === 'Hoop way' ? [] : ['Control'] });
  // On the head of a group, so that no single lane is chosen.
  const lane = await lanePoint(page, 'Hoop squash · scale Y', 100);
  const head = (await page
    .getByRole('group', { name: 'Lanes' })
    .getByRole('button', { name: 'Hoop squash', exact: true })
    .first()
    .boundingBox())!;
  await page.mouse.click(lane.x, head.y + head.height / 2, { button: 'right' });
  await page.getByRole('menuitem', { name: 'Stagger the chosen parts...' }).click();
  await page.getByLabel('Frames', { exact: true }).fill('five');
  await expect(page.getByRole('alert')).toContainText('"five" is no number');
  await page.getByLabel('Frames', { exact: true }).fill('5');
  await page.getByRole('button', { name: 'Stagger', exact: true }).click();
  const after = await kept(page);
  for (const [name, path, by] of [
    ['Hoop way', 'location.x', 0],
    ['Hoop squash', 'scale.y', 5],
    ['Camera', 'location.x', 10],
  ] as const)
    expect(frames(after, name, path)).toEqual(frames(before, name, path).map((frame) => frame + by));
});
