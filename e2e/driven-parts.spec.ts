import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { linkOf, type Shot } from '../core/document';
import { compile, Evaluator } from '../core/evaluate';
import { NameTable, textOfLink } from '../core/formula';
import {
  addPart,
  blankCopy,
  choosePart,
  demoCopy,
  field,
  find,
  formulaOf,
  keptShot,
  openDrawn,
  openShot,
  partNamed,
  renameChosen,
  restingBox,
  ringOf,
  type,
  waitDrawn,
  waitKept,
} from './workbench';

let id: string;

async function kept(page: Page): Promise<Shot> {
  await waitKept(page);
  return (await keptShot(id)).document;
}

async function turnRing(page: Page, axis: string, degrees: number, end: 'keep' | 'leave'): Promise<void> {
  const [x, y, radius] = await ringOf(page, axis);
  const at = (angle: number): [number, number] => [
    x + radius * Math.cos((angle * Math.PI) / 180),
    y - radius * Math.sin((angle * Math.PI) / 180),
  ];
  await page.mouse.move(...at(45));
  await page.mouse.down();
  for (let turned = 0; turned <= degrees; turned += 5) await page.mouse.move(...at(45 + turned));
  if (end === 'leave') await page.keyboard.press('Escape');
  await page.mouse.up();
}

test('a phase is dragged in the view and in the map, and what hangs on it follows', async ({ page }) => {
  id = await demoCopy();
  await openShot(page, id);
  const start = await kept(page);
  await choosePart(page, 'Crank 3');
  expect(formulaOf(start, 'Crank 3', 'rotation.z')).toBe('mesh(Deck.rotation.y, 48, 8) + 90deg');
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.getByRole('button', { name: 'Turn', exact: true }).click();
  await page.keyboard.press('b');
  await waitDrawn(page);
  await turnRing(page, 'z', 30, 'leave');
  expect(await kept(page)).toEqual(start);
  await turnRing(page, 'z', 30, 'keep');
  const turned = await kept(page);
  const phase = Number(/([+-]) ([\d.]+)deg$/.exec(formulaOf(turned, 'Crank 3', 'rotation.z')!)![2]);
  // Seen from behind, its axis turns the other way.
  expect(Math.abs(phase - 60)).toBeLessThan(3);
  // The boat rises or falls with its crank: its link was not touched.
  const heightOf = (shot: Shot): number => {
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(1);
    return evaluator.number(`${partNamed(shot, 'Boat 3').id}/location.y`);
  };
  expect(heightOf(turned)).not.toBeCloseTo(heightOf(start), 3);
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await kept(page)).toEqual(start);

  // In the map, for two chosen parts at once.
  await page.keyboard.press('3');
  await choosePart(page, 'Crank 5');
  await page.getByLabel('Find a part').fill('crank');
  await page
    .getByRole('treeitem')
    .filter({ has: page.getByText('Crank 3', { exact: true }) })
    .click({ modifiers: ['Control'] });
  const map = page.getByTestId('links-map');
  const grip = map.getByRole('slider', { name: 'Phase of Crank 3 rotation Z' });
  await expect(grip).toHaveAttribute('aria-valuenow', '90');
  const box = await restingBox(grip);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 40, box.y + box.height / 2, { steps: 4 });
  await expect(grip).toHaveAttribute('aria-valuenow', '130');
  await page.mouse.up();
  let shot = await kept(page);
  expect(formulaOf(shot, 'Crank 3', 'rotation.z')).toBe('mesh(Deck.rotation.y, 48, 8) + 130deg');
  expect(formulaOf(shot, 'Crank 5', 'rotation.z')).toBe('mesh(Deck.rotation.y, 48, 8) + 220deg');
  await grip.focus();
  await page.keyboard.press('Shift+ArrowLeft');
  shot = await kept(page);
  expect(formulaOf(shot, 'Crank 3', 'rotation.z')).toBe('mesh(Deck.rotation.y, 48, 8) + 115deg');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await kept(page)).toEqual(start);
});

test('a recipe takes its parts by clicks in the view and on a row, and several at once', async ({ page }) => {
  id = await blankCopy();
  await openShot(page, id);
  await addPart(page, 'Ball');
  await renameChosen(page, 'Drum');
  await type(page, 'Drum radius', '1.5');
  await find(page, 'bring into view');
  await page.keyboard.press('Shift+g');
  await page.getByRole('button', { name: /^Follow/ }).click();
  const recipe = page.getByRole('region', { name: 'Recipe', exact: true });
  await recipe.getByRole('button', { name: 'Take out Drum radius' }).click();
  await recipe.getByRole('button', { name: 'Pick driver' }).click();
  await page.getByRole('button', { name: 'Pick', exact: true }).click();
  const view = (await page.getByTestId('view-canvas').boundingBox())!;
  await page.mouse.click(view.x + view.width / 2, view.y + view.height / 2);
  await expect(recipe).toContainText('Drum rotation Z');
  // A row of the values is taken as it is.
  await recipe.getByRole('button', { name: 'Pick driven' }).click();
  await choosePart(page, 'Sun');
  await field(page, 'Sun rotation Z').click();
  await expect(recipe).toContainText('Sun rotation Z');
  await recipe.getByLabel('Ratio').fill('3');
  await page.getByRole('button', { name: 'Make it', exact: true }).click();
  expect(formulaOf(await kept(page), 'Sun', 'rotation.z')).toBe('own + Drum.rotation.z * 3');
});

test('a part that ten links read is renamed, deleted with its readers named first, and brought back', async ({
  page,
}) => {
  id = await demoCopy();
  await openShot(page, id);
  await choosePart(page, 'Bollard 1');
  for (const [channel, formula] of [
    ['location X', 'own + Organ_shaft.rotation.z * 1mm / 1deg'],
    ['location Z', 'own - Organ_shaft.rotation.z * 1mm / 1deg'],
    ['rotation X', 'Organ_shaft.rotation.z / 8'],
    ['rotation Y', 'Organ_shaft.rotation.z'],
    ['rotation Z', 'Organ_shaft.rotation.z / 9'],
    ['scale X', '1 + abs(sin(Organ_shaft.rotation.z))'],
    ['scale Y', '1 + abs(cos(Organ_shaft.rotation.z))'],
    ['scale Z', '2 + sin(Organ_shaft.rotation.z)'],
  ] as const)
    await type(page, `Bollard 1 ${channel}`, `= ${formula.replace('Organ_shaft', '"Organ shaft"')}`);
  const start = await kept(page);
  const reading = (shot: Shot, word: string): number =>
    compile(shot).links.filter((link) =>
      textOfLink(new NameTable(shot), linkOf(shot, link.address)!).includes(word),
    ).length;
  const wrong = (shot: Shot): number => compile(shot).links.filter((link) => link.error).length;
  expect([reading(start, '"Organ shaft".'), wrong(start)]).toEqual([10, 0]);
  await choosePart(page, 'Organ shaft');
  await renameChosen(page, 'Barrel');
  const renamed = await kept(page);
  expect([reading(renamed, 'Organ shaft'), reading(renamed, 'Barrel.'), wrong(renamed)]).toEqual([0, 10, 0]);

  await page.getByRole('tree').focus();
  await page.keyboard.press('Delete');
  const dialog = page.getByRole('alertdialog').or(page.getByRole('dialog'));
  for (const name of ['Tappet', 'Lamps', 'Bollard 1']) await expect(dialog).toContainText(name);
  await dialog.getByRole('button', { name: /Delete/ }).click();
  expect(wrong(await kept(page))).toBe(10);
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await kept(page)).toEqual(renamed);
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await kept(page)).toEqual(start);
});

declare global {
  interface Window {
    pictures: Record<string, Uint8ClampedArray>;
  }
}

test('a gear pair of 16 and 56 teeth does not overlap in the picture, over a whole turn of the wheel', async ({
  page,
}) => {
  id = await blankCopy();
  await openDrawn(page, id);
  await find(page, 'recipe gear pair');
  await page.getByLabel('Build the parts too').check();
  await page.getByRole('button', { name: 'Make it', exact: true }).click();
  const link = formulaOf(await kept(page), 'Driven gear', 'rotation.z')!;
  expect(link).toMatch(/^mesh\("Driver gear".rotation.z, 16, 56\) \+ 3.21428571\d*deg$/);
  await choosePart(page, 'Gear pair');
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.keyboard.press('b');
  await page.getByRole('button', { name: 'Put the viewfinder away' }).click();
  const view = (await page.getByTestId('view-canvas').boundingBox())!;
  await page.mouse.move(view.x + view.width / 2, view.y + view.height / 2);
  await page.mouse.wheel(0, -300);
  await page.getByLabel('Find a part').fill('gear');

  const eye = async (name: string, on: boolean): Promise<void> => {
    await page
      .getByRole('treeitem')
      .filter({ has: page.getByText(name, { exact: true }) })
      .getByRole('button', { name: `${on ? 'Show' : 'Hide'} ${name}` })
      .click();
    await waitDrawn(page);
  };
  const take = (name: string): Promise<void> =>
    page.getByTestId('view-canvas').evaluate((canvas: HTMLCanvasElement, picture) => {
      const flat = new OffscreenCanvas(canvas.width, canvas.height);
      const g = flat.getContext('2d')!;
      g.drawImage(canvas, 0, 0);
      window.pictures ??= {};
      window.pictures[picture] = g.getImageData(0, 0, canvas.width, canvas.height).data;
    }, name);
  /** Pixels of two pictures that differ from the empty one: of each, and of both at once. */
  const count = (): Promise<{ one: number; other: number; both: number }> =>
    page.evaluate(() => {
      const { empty, driver, driven } = window.pictures as Record<
        'empty' | 'driver' | 'driven',
        Uint8ClampedArray
      >;
      const differs = (picture: Uint8ClampedArray, i: number): boolean =>
        Math.abs(picture[i]! - empty[i]!) +
          Math.abs(picture[i + 1]! - empty[i + 1]!) +
          Math.abs(picture[i + 2]! - empty[i + 2]!) >
        45;
      let [one, other, both] = [0, 0, 0];
      for (let i = 0; i < empty.length; i += 4) {
        const [a, b] = [differs(driver, i), differs(driven, i)];
        if (a) one += 1;
        if (b) other += 1;
        if (a && b) both += 1;
      }
      return { one, other, both };
    });
  await eye('Driver gear', false);
  await eye('Driven gear', false);
  await take('empty');
  await eye('Driven gear', true);
  const overlap = async (): Promise<number> => {
    await take('driven');
    await eye('Driven gear', false);
    await eye('Driver gear', true);
    await take('driver');
    await eye('Driver gear', false);
    await eye('Driven gear', true);
    const { one, other, both } = await count();
    expect(one).toBeGreaterThan(1500);
    expect(other).toBeGreaterThan(one * 4);
    return both;
  };
  /** Turns a gear, and chooses nothing: what is chosen is drawn with a line around it, which would overlap. */
  const turnGear = async (name: string, to: string): Promise<void> => {
    await choosePart(page, name);
    await page.getByLabel('Find a part').fill('gear');
    await type(page, `${name} rotation Z`, to);
    await page.keyboard.press('Escape');
    await page.keyboard.press('Escape');
    await expect(page.getByRole('treeitem', { selected: true })).toHaveCount(0);
    await waitDrawn(page);
  };
  // A turn of the wheel is three and a half of the pinion.
  const meshed: number[] = [];
  for (const turn of [0, 197, 611, 1046]) {
    await turnGear('Driver gear', String(turn));
    meshed.push(await overlap());
  }
  // Half a tooth out they run into each other: the measure can tell.
  await turnGear('Driven gear', '= mesh("Driver gear".rotation.z, 16, 56)');
  const wrong = await overlap();
  expect(wrong).toBeGreaterThan(100);
  for (const pixels of meshed) expect(pixels).toBeLessThan(wrong / 8);
});
