import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import type { Shot } from '../core/document';
import { compile, Evaluator } from '../core/evaluate';
import { HANDS } from './hands';
import {
  addPart,
  blankCopy,
  choosePart,
  field,
  find,
  goToFrame,
  keptShot,
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

function at(shot: Shot, frame: number): Evaluator {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  return evaluator;
}

interface Layer {
  readonly name: string;
  readonly place?: readonly [axis: string, value: number];
  readonly pivot?: readonly [axis: string, value: number];
  readonly turn?: readonly [axis: string, value: number];
}

/** The hinged net of a box of side 500: reference values, "Box of side 500 from six flat layers", set 2. */
const NET: readonly Layer[] = [
  { name: 'Front' },
  { name: 'Right', place: ['X', 500], pivot: ['X', -250], turn: ['Y', 90] },
  { name: 'Back', place: ['X', 500], pivot: ['X', -250], turn: ['Y', 90] },
  { name: 'Left', place: ['X', -500], pivot: ['X', 250], turn: ['Y', -90] },
  { name: 'Top', place: ['Y', 500], pivot: ['Y', -250], turn: ['X', -90] },
  { name: 'Bottom', place: ['Y', -500], pivot: ['Y', 250], turn: ['X', 90] },
];

/** Corners of the six layers in pixels, and how many layers meet at each. */
function cornersOf(shot: Shot): { point: number[]; layers: number }[] {
  const evaluator = at(shot, 1);
  const found: { point: number[]; layers: number }[] = [];
  for (const { name } of NET) {
    const m = evaluator.worldOf(partNamed(shot, name).id)!;
    for (const x of [-2.5, 2.5])
      for (const y of [-2.5, 2.5]) {
        const point = [0, 4, 8].map((row) => (m[row]! * x + m[row + 1]! * y + m[row + 3]!) * 100);
        const same = found.find((other) =>
          other.point.every((value, i) => Math.abs(value - point[i]!) < 1e-7),
        );
        if (same) same.layers++;
        else found.push({ point, layers: 1 });
      }
  }
  return found;
}

function expectClosedBox(shot: Shot): void {
  const corners = cornersOf(shot);
  expect(corners.map((corner) => corner.layers)).toEqual(Array(8).fill(3));
  const wanted = [-250, 250].flatMap((x) => [-250, 250].flatMap((y) => [0, -500].map((z) => [x, y, z])));
  for (const want of wanted) {
    const hit = corners.find(({ point }) =>
      point.every((value, i) => Math.abs(value - want[i]!) < 1e-9 * 500),
    );
    expect(hit, `a corner at ${want.join(', ')}`).toBeTruthy();
  }
}

async function setUnit(page: Page, unit: string): Promise<void> {
  await page.keyboard.press('Shift+S');
  await page.getByLabel('Lengths in').selectOption(unit);
  await page.getByRole('button', { name: 'Set', exact: true }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
}

test('builds the ticket box from six layers by typed positions and pivots, with the mouse', async ({
  page,
}) => {
  await setUnit(page, 'px');
  for (const layer of NET) {
    await addPart(page, 'Plane');
    await page.getByRole('treeitem', { selected: true }).dblclick();
    await page.getByLabel('New name').fill(layer.name);
    await page.getByLabel('New name').press('Enter');
    await type(page, `${layer.name} width`, '500');
    await type(page, `${layer.name} height`, '500');
    await type(page, `${layer.name} location Y`, '0');
    if (layer.name === 'Back') {
      await page
        .getByRole('treeitem', { name: 'Back' })
        .dragTo(page.getByRole('treeitem', { name: 'Right' }));
      await choosePart(page, 'Back');
      // Dragging left it where it was: below Right, typed values count from there.
      for (const axis of ['X', 'Y', 'Z']) {
        await type(page, `Back rotation ${axis}`, '0');
        await type(page, `Back location ${axis}`, '0');
      }
    }
    for (const [what, entry] of [
      ['location', layer.place],
      ['pivot', layer.pivot],
      ['rotation', layer.turn],
    ] as const)
      if (entry) await type(page, `${layer.name} ${what} ${entry[0]}`, String(entry[1]));
  }
  await waitKept(page);
  const { document } = await keptShot(id);
  expect(partNamed(document, 'Back').part.parent).toBe(partNamed(document, 'Right').id);
  expectClosedBox(document);
});

test('builds the ticket box with the keyboard alone', async ({ page }) => {
  await page.keyboard.press('Shift+S');
  await page.getByLabel('Lengths in').focus();
  await page.keyboard.type('pix');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Set', exact: true }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
  const value = async (part: string, channel: string, text: string): Promise<void> => {
    await find(page, `${part} ${channel}`);
    await expect(field(page, `${part} ${channel}`)).toBeFocused();
    await page.keyboard.press('Control+a');
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
    await page.keyboard.press('Escape');
  };
  for (const layer of NET) {
    await page.keyboard.press('n');
    await page.keyboard.type('plane');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('treeitem', { selected: true })).toContainText('Plane');
    await renameChosen(page, layer.name);
    await value(layer.name, 'width', '500');
    await value(layer.name, 'height', '500');
    await value(layer.name, 'location Y', '0');
    if (layer.name === 'Back') {
      // Back first, then Right: the last one chosen is what it is to hang below.
      await page.getByRole('tree').focus();
      await page.keyboard.press('Shift+ArrowUp');
      await page.keyboard.press('Shift+P');
      await find(page, 'back rotation y');
      await page.keyboard.press('Escape');
      for (const axis of ['X', 'Y', 'Z']) {
        await value('Back', `rotation ${axis}`, '0');
        await value('Back', `location ${axis}`, '0');
      }
    }
    for (const [what, entry] of [
      ['location', layer.place],
      ['pivot', layer.pivot],
      ['rotation', layer.turn],
    ] as const)
      if (entry) await value(layer.name, `${what} ${entry[0]}`, String(entry[1]));
  }
  await waitKept(page);
  const { document } = await keptShot(id);
  expect(partNamed(document, 'Back').part.parent).toBe(partNamed(document, 'Right').id);
  expectClosedBox(document);
});

for (const hands of HANDS) {
  const { name } = hands({} as Page);

  test(`keys the drop of a hoop so that its heights are those of the bounce table, with ${name}`, async ({
    page,
  }) => {
    const hand = hands(page);
    // Reference values, "Rolling and bouncing": drop h = 2, e = 0.8, g = 9.80665, 24 frames a second.
    const fall = 15.3278379;
    const impacts = [fall, 39.8523786, 59.4720112];
    const keys: [frame: number, height: number][] = [
      [0, 2],
      [impacts[0]!, 0],
      [(impacts[0]! + impacts[1]!) / 2, 1.28],
      [impacts[1]!, 0],
      [(impacts[1]! + impacts[2]!) / 2, 0.8192],
      [impacts[2]!, 0],
    ];
    await hand.add('Torus');
    await hand.rename('Hoop');
    for (const [frame, height] of keys) {
      await hand.goTo(String(frame + 1));
      await hand.type('Hoop', 'location Y', String(height));
      await hand.key('Hoop', 'location Y');
    }
    // Falling, then rising.
    for (const [i, [frame]] of keys.slice(0, -1).entries()) {
      await hand.goTo(String((frame + keys[i + 1]![0]) / 2 + 1));
      await hand.ease('Hoop', 'location Y', i % 2 === 0 ? 'quad in' : 'quad out');
    }
    await waitKept(page);
    const { document } = await keptShot(id);
    const hoop = partNamed(document, 'Hoop').id;
    for (const [frame, height] of [
      [6, 1.693542188],
      [12, 0.77416875],
      [18, 0.4970839133],
      [24, 1.170280634],
      [48, 0.7956802838],
    ] as const)
      expect(at(document, 1 + frame).number(`${hoop}/location.y`)).toBeCloseTo(height, 5);
  });

  test(`eight linked copies follow their source, until one is made its own, with ${name}`, async ({
    page,
  }) => {
    const hand = hands(page);
    await hand.add('Ball');
    await hand.rename('Boat');
    for (let i = 0; i < 8; i++) {
      await hand.copyLinked();
      await expect(page.getByRole('treeitem', { selected: true })).toContainText(`Boat ${i + 2}`);
    }
    await hand.choose('Boat');
    await expect(page.getByText('shared by 9').first()).toBeVisible();
    await hand.type('Boat', 'radius', '0.8');
    await hand.choose('Boat 5');
    await hand.ownShape();
    await hand.type('Boat 5', 'radius', '0.3');
    await waitKept(page);
    const { document } = await keptShot(id);
    const evaluator = at(document, 1);
    const radii = Object.values(document.parts)
      .filter((part) => part.name.startsWith('Boat'))
      .map((part) => evaluator.number(`${part.shape}/radius`));
    expect(radii.filter((radius) => radius === 0.8)).toHaveLength(8);
    expect(radii.filter((radius) => radius === 0.3)).toHaveLength(1);
    await hand.choose('Boat');
    await expect(page.getByText('shared by 8').first()).toBeVisible();
  });

  test(`a hub above at the floor squashes a ball that goes on turning about its middle, with ${name}`, async ({
    page,
  }) => {
    const hand = hands(page);
    await hand.add('Ball');
    await hand.type('Ball', 'location Y', '0.5');
    await hand.type('Ball', 'pivot Y', '-0.5');
    await expect(field(page, 'Ball location Y')).toHaveValue('0.50');
    await hand.hubAbove();
    await expect(page.getByRole('treeitem', { selected: true })).toContainText('Ball hub');
    await hand.type('Ball hub', 'scale Y', '0.5');
    await hand.choose('Ball');
    await hand.type('Ball', 'pivot Y', '0');
    await hand.type('Ball', 'rotation Z', '90');
    await waitKept(page);
    const { document } = await keptShot(id);
    const m = at(document, 1).worldOf(partNamed(document, 'Ball').id)!;
    const world = (x: number, y: number): number[] =>
      [0, 4].map((row) => m[row]! * x + m[row + 1]! * y + m[row + 3]!);
    // Squashed to half its height on the floor; turned by a quarter, what was its right is now its top.
    for (const [point, want] of [
      [world(0.5, 0), [0, 0.5]],
      [world(-0.5, 0), [0, 0]],
      [world(0, 0.5), [-0.5, 0.25]],
    ] as const)
      point.forEach((value, i) => expect(value).toBeCloseTo(want[i]!, 9));
  });

  test(`auto-key and keys by hand give the same document, with ${name}`, async ({ page }) => {
    const hand = hands(page);
    await hand.add('Box');
    await waitKept(page);
    const start = await keptShot(id);
    const poses: [number, Record<string, string>][] = [
      [1, { 'location X': '-2', 'rotation Y': '0' }],
      [24, { 'location X': '1.5', 'rotation Y': '-5*72' }],
      [48, { 'location X': '+=2' }],
    ];
    const record = async (auto: boolean): Promise<unknown> => {
      for (const [frame, values] of poses) {
        await hand.goTo(frame);
        for (const [channel, text] of Object.entries(values)) {
          await hand.type('Box', channel, text);
          if (!auto) await hand.key('Box', channel);
        }
      }
      await waitKept(page);
      return withoutKeyIds((await keptShot(id)).document);
    };
    const byHand = await record(false);
    await expect(async () => {
      await page.keyboard.press('Escape');
      await page.keyboard.press('Control+z');
      await waitKept(page);
      expect((await keptShot(id)).document).toEqual(start.document);
    }).toPass({ timeout: 180_000, intervals: [50] });
    await hand.choose('Box');
    await hand.autoKey();
    await expect(page.getByRole('switch', { name: 'Auto-key' })).toBeChecked();
    expect(await record(true)).toEqual(byHand);
  });
}

/** A document without the ids of its keys, which are random. */
function withoutKeyIds(shot: Shot): unknown {
  return JSON.parse(
    JSON.stringify(shot, (name, value: unknown) =>
      name === 'keys' && typeof value === 'object' && value !== null
        ? Object.values(value).sort((a, b) => (a as { frame: number }).frame - (b as { frame: number }).frame)
        : value,
    ),
  );
}

test('a pose is copied to another frame, mirrored by name, and the first pose to the end', async ({
  page,
}) => {
  for (const name of ['Left arm', 'Right arm']) {
    await addPart(page, 'Box');
    await renameChosen(page, name);
    await type(page, `${name} location X`, name === 'Left arm' ? '-1' : '1');
    await page.keyboard.press('Escape');
  }
  await choosePart(page, 'Left arm');
  await type(page, 'Left arm rotation Z', '40');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Shift+J');
  await goToFrame(page, 24);
  await page.keyboard.press('Alt+Shift+J');
  await waitKept(page);
  let shot = (await keptShot(id)).document;
  const right = partNamed(shot, 'Right arm').id;
  expect(at(shot, 24).number(`${right}/rotation.z`)).toBe(-40);
  expect(at(shot, 24).number(`${right}/location.x`)).toBe(1);
  await choosePart(page, 'Right arm');
  await goToFrame(page, 60);
  await type(page, 'Right arm rotation Z', '5');
  await page.keyboard.press('Escape');
  await page.keyboard.press('k');
  await goToFrame(page, 24);
  await find(page, 'copy the first pose');
  await waitKept(page);
  shot = (await keptShot(id)).document;
  expect(at(shot, 96).number(`${right}/rotation.z`)).toBe(at(shot, 1).number(`${right}/rotation.z`));
  expect(Object.values(shot.parts[right]!.tracks['rotation.z']!.keys).map((key) => key.frame)).toContain(96);
});

test('hold until here keeps the value up to the playhead', async ({ page }) => {
  await addPart(page, 'Box');
  for (const [frame, height] of [
    [1, '1'],
    [49, '3'],
  ] as const) {
    await goToFrame(page, frame);
    await type(page, 'Box location Y', height);
    await page.keyboard.press('Escape');
    await page.keyboard.press('k');
  }
  await goToFrame(page, 25);
  await page.keyboard.press('h');
  await waitKept(page);
  const { document } = await keptShot(id);
  const box = partNamed(document, 'Box').id;
  for (const frame of [1, 12, 24.9]) expect(at(document, frame).number(`${box}/location.y`)).toBe(1);
  expect(at(document, 49).number(`${box}/location.y`)).toBe(3);
  expect(at(document, 37).number(`${box}/location.y`)).toBeGreaterThan(1);
});
