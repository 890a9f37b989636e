import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { blankShot, type Shot } from '../core/document';
import { addPart as addBone, apply } from '../core/edit';
import { compile, Evaluator } from '../core/evaluate';
import {
  addPart,
  blankCopy,
  choosePart,
  demoCopy,
  field,
  find,
  formulaOf,
  goToFrame,
  keptShot,
  newShot,
  openShot,
  partNamed,
  renameChosen,
  restingBox,
  type,
  waitDrawn,
  waitKept,
} from './workbench';

let id: string;
test.beforeEach(async ({ page }, info) => {
  id = info.title.startsWith('the map') ? await demoCopy() : await blankCopy();
  await openShot(page, id);
});

const kept = async (page: Page): Promise<Shot> => {
  await waitKept(page);
  return (await keptShot(id)).document;
};

async function openRecipe(page: Page, name: string): Promise<void> {
  await find(page, `recipe ${name}`);
  await expect(page.getByRole('region', { name: 'Recipe' })).toBeVisible();
}
const make = (page: Page): Promise<void> =>
  page.getByRole('button', { name: 'Make it', exact: true }).click();

async function addHubs(page: Page, ...names: string[]): Promise<void> {
  for (const name of names) {
    await addPart(page, 'Hub');
    await renameChosen(page, name);
  }
}

test('the bar underlines a dimension error and mends it, tells values under the pointer, and knows what was before', async ({
  page,
}) => {
  await addHubs(page, 'Piston', 'Wheel');
  await choosePart(page, 'Piston');
  await type(page, 'Piston location X', '2');
  await choosePart(page, 'Wheel');
  await field(page, 'Wheel rotation Z').click();
  const bar = page.getByRole('combobox', { name: 'Formula' });
  await bar.fill('= Piston.location.x');
  await expect(page.locator('.formula-fault')).toHaveText('Piston.location.x');
  await page.getByRole('alert').getByRole('button').first().click();
  await expect(page.getByRole('alert')).toBeHidden();
  await page.keyboard.press('Enter');
  const first = formulaOf(await kept(page), 'Wheel', 'rotation.z')!;
  expect(first).toMatch(/Piston\.location\.x.*deg/);
  await bar.fill('= Piston.location.x * 90deg / 1m + 5deg');
  await expect(page.getByTestId('formula-result')).toContainText('185°');
  await page.locator('.formula-reference').hover();
  await expect(page.locator('.formula-hover')).toHaveText('Piston.location.x = 2, a length');
  await bar.press('Enter');
  expect(formulaOf(await kept(page), 'Wheel', 'rotation.z')).toBe('Piston.location.x * 90deg / 1m + 5deg');
  await page.getByRole('button', { name: 'What it was before' }).click();
  await page.getByRole('menuitem').first().click();
  await expect(bar).toHaveText(`= ${first}`);
  await bar.press('Enter');
  expect(formulaOf(await kept(page), 'Wheel', 'rotation.z')).toBe(first);
});

test('nothing that is typed into the bar throws, hangs or changes another value', async ({ page }) => {
  // The language itself takes many more in core/edit/typed-anything.test.ts.
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));
  await addHubs(page, 'Piston', 'Wheel');
  const before = await kept(page);
  await field(page, 'Wheel rotation Z').click();
  const bar = page.getByRole('combobox', { name: 'Formula' });
  await bar.click();
  // Park and Miller's generator, so that a failure can be had again.
  let state = 4711;
  const random = (below: number): number => (state = (state * 16807) % 2147483647) % below;
  const pieces = [
    'own',
    'Piston',
    '.',
    'location',
    'x',
    '(',
    ')',
    ',',
    '+',
    '*',
    '/',
    '-',
    'mesh',
    'sin',
    '"',
    '1e9',
    '0',
    'deg',
    'm',
    'if',
    '=',
    ' ',
    '<',
    'dial',
    'é',
    '\\',
    '\n',
    '#',
    'delay',
    'frame',
    '^',
  ];
  const texts = Array.from(
    { length: 400 },
    () => `= ${Array.from({ length: 1 + random(14) }, () => pieces[random(pieces.length)]).join('')}`,
  );
  // A few as a keyboard types them, the rest by the same way into the page, without waiting for this process.
  for (const text of texts.slice(0, 40)) {
    await bar.press('Control+a');
    await page.keyboard.insertText(text);
  }
  const taken = await bar.evaluate(async (element: HTMLElement, list) => {
    let different = 0;
    let before = element.textContent;
    for (const text of list) {
      document.execCommand('selectAll');
      document.execCommand('insertText', false, text);
      await new Promise((resolve) => setTimeout(resolve));
      if (element.textContent !== before) different += 1;
      before = element.textContent;
    }
    return different;
  }, texts.slice(40));
  expect(taken).toBeGreaterThan(320);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  expect(errors).toEqual([]);
  expect((await kept(page)).parts).toEqual(before.parts);
});

test('a crank, its rod and a piston made by the recipe move as the slider-crank table says', async ({
  page,
}) => {
  await openRecipe(page, 'crank and slider');
  await page.getByLabel('Build the parts too').check();
  await page.getByLabel('Throw', { exact: true }).fill('2');
  await page.getByLabel('Rod length').fill('1.5');
  await expect(page.getByRole('alert')).toContainText('too short');
  await expect(page.getByRole('button', { name: 'Make it', exact: true })).toBeDisabled();
  await page.getByLabel('Rod length').fill('6');
  await expect(page.getByRole('list', { name: 'Formulas' })).toContainText(
    '= slider(Crank.rotation.z, 2m, 6m)',
  );
  // It is only tried so far: nothing of it is in the document.
  expect(Object.values((await kept(page)).parts).some((part) => part.name === 'Piston')).toBe(false);
  await make(page);
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Crank');
  const shot = await kept(page);
  const evaluator = new Evaluator(compile(shot));
  const [crank, piston, rod] = ['Crank', 'Piston', 'Rod'].map((name) => partNamed(shot, name).id);
  // Reference values, "Slider-crank", in line: both dead centres, and the angle of the greatest speed.
  for (const [angle, x, swing] of [
    [0, 8, 0],
    [30, 7.64813059, 9.59406823],
    [90, 5.65685425, 19.4712206],
    [180, 4, 0],
    [270, 5.65685425, -19.4712206],
  ] as const) {
    evaluator.setOverrides([[`${crank}/rotation.z`, angle]]);
    evaluator.evaluate(1);
    expect(Math.abs(evaluator.number(`${piston}/location.x`) - x)).toBeLessThan(1e-6);
    expect(Math.abs(evaluator.number(`${rod}/rotation.z`) + swing)).toBeLessThan(1e-6);
  }
  // Editing it later finds its numbers again.
  await page.getByRole('treeitem').filter({ hasText: 'Piston' }).click();
  await field(page, 'Piston location X').click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Edit its recipe...' }).click();
  await expect(page.getByLabel('Rod length')).toHaveValue('6');
  await page.getByLabel('Throw', { exact: true }).fill('1');
  await page.getByRole('button', { name: 'Change it' }).click();
  expect(formulaOf(await kept(page), 'Piston', 'location.x')).toBe('slider(Crank.rotation.z, 1m, 6m)');
});

test('phases are spread over four parts by the firing order 1-3-4-2', async ({ page }) => {
  await addHubs(page, 'Shaft', 'Pot 1');
  for (let i = 2; i <= 4; i++) {
    await page.keyboard.press('Control+d');
    await expect(page.getByRole('treeitem', { selected: true })).toContainText(`Pot ${i}`);
  }
  await choosePart(page, 'Shaft');
  for (let i = 1; i <= 4; i++)
    await page
      .getByRole('treeitem')
      .filter({ hasText: `Pot ${i}` })
      .click({ modifiers: ['Control'] });
  await openRecipe(page, 'spread phase');
  await page.getByLabel('Cycle').fill('720');
  await page.getByLabel('Firing order').fill('1-3-3-2');
  await expect(page.getByRole('alert')).toContainText('names each number from 1 to 4 once');
  await page.getByLabel('Firing order').fill('1-3-4-2');
  await make(page);
  const shot = await kept(page);
  expect([1, 2, 3, 4].map((i) => formulaOf(shot, `Pot ${i}`, 'rotation.z'))).toEqual([
    'Shaft.rotation.z',
    'Shaft.rotation.z - 540deg',
    'Shaft.rotation.z - 180deg',
    'Shaft.rotation.z - 360deg',
  ]);
});

test('one dial drives many parts; renamed, it is still read; removed, its links say so; undo brings it back', async ({
  page,
}) => {
  await addHubs(page, 'Ferris', 'Swing');
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'Dial', exact: true }).click();
  await page.getByLabel('Name of the dial').fill('top speed');
  await page.getByLabel('Upper limit').fill('4');
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByText("A dial's name is one word")).toBeVisible();
  await page.getByLabel('Name of the dial').fill('speed');
  await page.getByRole('button', { name: 'Keep' }).click();
  for (const [part, axis] of [
    ['Ferris', 'Z'],
    ['Swing', 'Y'],
  ] as const) {
    await choosePart(page, part);
    await type(page, `${part} rotation ${axis}`, '= dial.speed * frame * 2deg');
  }
  const dial = page.getByTestId('dial-speed');
  await expect(dial).toContainText('× 2');
  await type(page, 'Dial speed', '1.5');
  let shot = await kept(page);
  const turns = (of: Shot): number[] => {
    const evaluator = new Evaluator(compile(of));
    evaluator.evaluate(10);
    return [
      evaluator.number(`${partNamed(of, 'Ferris').id}/rotation.z`),
      evaluator.number(`${partNamed(of, 'Swing').id}/rotation.y`),
    ];
  };
  expect(turns(shot)).toEqual([30, 30]);
  await page.getByLabel('Menu of the dial speed').click();
  await page.getByRole('menuitem', { name: 'Name, unit and limits' }).click();
  await page.getByLabel('Name of the dial').fill('pace');
  await page.getByRole('button', { name: 'Keep' }).click();
  shot = await kept(page);
  expect(formulaOf(shot, 'Ferris', 'rotation.z')).toBe('dial.pace * frame * 2deg');
  expect(turns(shot)).toEqual([30, 30]);
  await page.getByLabel('Menu of the dial pace').click();
  await page.getByRole('menuitem', { name: 'Remove; 2 links read it' }).click();
  await find(page, 'Ferris rotation z');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('alert')).toContainText('"dial.pace" is no longer in this shot');
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(turns(await kept(page))).toEqual([30, 30]);
  // A dial can follow a formula itself, typed into its own field.
  await type(page, 'Dial pace', '= frame / 20');
  expect(turns(await kept(page))).toEqual([10, 10]);
});

test('a loop of three is told in words and drawn as a loop, and why nothing moves names it', async ({
  page,
}) => {
  await addHubs(page, 'A', 'B', 'C');
  for (const [part, reads] of [
    ['A', 'B'],
    ['B', 'C'],
    ['C', 'A'],
  ] as const) {
    await choosePart(page, part);
    await type(page, `${part} rotation Z`, `= ${reads}.rotation.z`);
  }
  await page.keyboard.press('Escape');
  await page.keyboard.press('3');
  const map = page.getByTestId('links-map');
  await expect(map.getByText('loop', { exact: true })).toHaveCount(3);
  await map
    .getByRole('button', { name: /^rotation Z/ })
    .first()
    .click();
  await page.keyboard.press('w');
  await expect(page.getByRole('dialog')).toContainText('part of a loop');
  await page.keyboard.press('Escape');
  // What is chosen stays chosen when a dialog is closed by Escape.
  await expect(page.getByRole('treeitem', { selected: true })).toHaveCount(1);
});

test('why nothing moves walks back to the value without keys and goes there', async ({ page }) => {
  await addHubs(page, 'Handle', 'Drum');
  await type(page, 'Drum rotation Z', '= Handle.rotation.z / 2');
  await field(page, 'Drum rotation Z').click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Why does nothing move?' }).click();
  const steps = page.getByRole('dialog').getByRole('listitem');
  await expect(steps).toHaveText([
    'Drum rotation Z = Handle.rotation.z / 2: nothing that it reads changes.',
    'Handle rotation Z has neither keys nor a link: it stays at 0.',
  ]);
  await steps.last().getByRole('button').click();
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Handle');
  await page.keyboard.press('k');
  expect(Object.keys(partNamed(await kept(page), 'Handle').part.tracks)).toEqual(['rotation.z']);
});

test('a copied link follows to what belongs to the other part, or stays as it is', async ({ page }) => {
  await addHubs(page, 'Rod 1', 'Rod 2', 'Boat 1', 'Boat 2');
  await choosePart(page, 'Boat 1');
  await type(page, 'Boat 1 rotation Z', '= "Rod 1".rotation.z * 2');
  await field(page, 'Boat 1 rotation Z').click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Copy the link' }).click();
  await choosePart(page, 'Boat 2');
  await find(page, 'paste the link onto follow');
  expect(formulaOf(await kept(page), 'Boat 2', 'rotation.z')).toBe('"Rod 2".rotation.z * 2');
  await find(page, 'paste the link as it is');
  expect(formulaOf(await kept(page), 'Boat 2', 'rotation.z')).toBe('"Rod 1".rotation.z * 2');
});

test('the map shows what drives what in step with the rest, its chains, and the response', async ({
  page,
}) => {
  await page.keyboard.press('3');
  const map = page.getByTestId('links-map');
  const card = (name: string) => map.locator('.react-flow__node').filter({ hasText: name });
  await page.getByPlaceholder('Find in the map').fill('crown');
  await expect(card('Crown wheel')).toBeVisible();
  await page.getByPlaceholder('Find in the map').fill('');
  await card('Crown wheel').getByRole('button').first().click();
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Crown wheel');
  await map.getByRole('button', { name: 'What drives it' }).click();
  await expect(card('Pinion')).toBeVisible();
  await expect(card('Boat 1')).toHaveCount(0);
  await map.getByRole('button', { name: 'All', exact: true }).click();
  await page.getByPlaceholder('Find in the map').fill('boat 1');
  await expect(card('Boat 1')).toBeVisible();
  await page.getByPlaceholder('Find in the map').fill('deck');
  // Live values: the deck has turned at the end.
  const before = await card('Deck').textContent();
  await goToFrame(page, 100);
  await expect.poll(() => card('Deck').textContent()).not.toBe(before);
  await waitDrawn(page);
  await page.keyboard.press('r');
  await page.getByLabel('Against').selectOption({ label: 'Pinion rotation Z' });
  await page.getByLabel('Sweep from').fill('0');
  await page.getByLabel('Sweep to').fill('360');
  // 16 teeth drive 64: a turn of the pinion turns the wheel back by a quarter, from the 1.5625 degrees of the mesh.
  await expect(page.getByTestId('response-facts')).toContainText('least -88.437 °');
  await page.getByLabel('Compare with the formula').fill('Pinon.rotation.z');
  await expect(page.getByRole('alert')).toContainText('Pinon');
});

test('the map ends at the part that was chosen last, however soon after another', async ({ page }) => {
  await page.keyboard.press('3');
  const map = page.getByTestId('links-map');
  const card = (name: string) => map.locator('.react-flow__node').filter({ hasText: name }).first();
  await choosePart(page, 'Crank 1');
  await expect(card('Crank 1')).toBeInViewport({ ratio: 0.3 });
  await restingBox(card('Crank 1'));
  await page.getByLabel('Find a part').fill('crank');
  const rows = page.getByRole('treeitem');
  const rowOf = (name: string) => rows.filter({ has: page.getByText(name, { exact: true }) }).first();
  const [near, far] = [await rowOf('Crank 1').elementHandle(), await rowOf('Crank 5').elementHandle()];
  await page.evaluate(
    async ([near, far]) => {
      (far as HTMLElement).click();
      await new Promise((resolve) => setTimeout(resolve, 60));
      (near as HTMLElement).click();
      await new Promise((resolve) => setTimeout(resolve, 700));
    },
    [near, far],
  );
  await expect(rows.and(page.locator('[aria-selected=true]'))).toContainText('Crank 1');
  await expect(card('Crank 1')).toBeInViewport({ ratio: 0.3 });
});

test('a colour is linked in its field, shows what the formula gives, and is set again only when it is unlinked', async ({
  page,
}) => {
  await addPart(page, 'Ball');
  await renameChosen(page, 'Heat');
  await addPart(page, 'Ball');
  await renameChosen(page, 'Lamp');
  const hex = field(page, 'Lamp colour as hex');
  await hex.click();
  await hex.fill('= Heat.scale.y');
  await hex.press('Enter');
  // A number is none: the bar says so, and makes a grey of it.
  await expect(page.getByRole('alert').filter({ hasText: 'a colour belongs here' })).toBeVisible();
  await page.getByRole('button', { name: 'As a grey' }).click();
  const bar = page.getByRole('combobox', { name: 'Formula' });
  await expect(bar).toHaveText('= colour(Heat.scale.y, Heat.scale.y, Heat.scale.y)');
  await bar.fill('= mix(#000000, Heat.col');
  await page.getByRole('option', { name: /^colour(?!\.)/ }).click();
  await expect(bar).toHaveText('= mix(#000000, Heat.colour');
  await bar.fill('= mix(#203040, #ff3010, Heat.location.x / 1m)');
  await bar.press('Enter');
  const swatch = (colour: string) => page.getByRole('button', { name: `Lamp colour: ${colour}` });
  await expect(swatch('#203040')).toBeVisible();
  await choosePart(page, 'Heat');
  await type(page, 'Heat location X', '1');
  await choosePart(page, 'Lamp');
  await expect(swatch('#ff3010')).toBeVisible();
  const shot = await kept(page);
  const look = shot.parts[partNamed(shot, 'Lamp').id]!.look!;
  expect(shot.looks[look]!.links.colour!.formula).toBe('mix(#203040, #ff3010, Heat.location.x / 1m)');
  // What is typed over it is not taken by itself.
  await hex.fill('#00ff00');
  await hex.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'is linked' })).toBeVisible();
  await page.getByRole('button', { name: 'Unlink it and set #00ff00' }).click();
  await expect(swatch('#00ff00')).toBeVisible();
  expect((await kept(page)).looks[look]!.links).toEqual({});
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(swatch('#ff3010')).toBeVisible();
});

test('a hand reaches for a ball wherever it is put, by a recipe whose bones are named', async ({ page }) => {
  let drawn: Shot = blankShot();
  const hang = (name: string, parent: string | null, x: number): string => {
    const { change, id: made } = addBone(drawn, {
      kind: 'hub',
      name,
      parent,
      values: { 'location.x': x },
    });
    drawn = apply(drawn, change);
    return made;
  };
  hang('Hand', hang('Elbow', hang('Shoulder', null, 0), 3), 2);
  hang('Ball', null, 1);
  id = await newShot('Puppet', drawn);
  await openShot(page, id);
  await openRecipe(page, 'reach');
  const role = async (label: string, text: string): Promise<void> => {
    await page.getByLabel(label, { exact: true }).fill(text);
    await page.getByLabel(label, { exact: true }).press('Enter');
  };
  await role('Upper bone', 'Shoulder rotation Z');
  await role('Lower bone', 'Elbow rotation Z');
  await role('End of the lower bone', 'Ball');
  await role('Target', 'Ball');
  await expect(page.getByRole('alert')).toContainText('Ball has to hang from Elbow');
  await page.getByRole('button', { name: 'Take out Ball' }).first().click();
  await role('End of the lower bone', 'Hand');
  await make(page);
  await choosePart(page, 'Ball');
  await type(page, 'Ball location X', '4');
  await type(page, 'Ball location Y', '1');
  const shot = await kept(page);
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  const [ball, hand] = ['Ball', 'Hand'].map((name) => evaluator.worldOf(partNamed(shot, name).id)!);
  for (const k of [3, 7, 11]) expect(hand![k]).toBeCloseTo(ball![k]!, 9);
});

test('a cam that pushes its follower aside is told while it is typed, and has a roller that runs on its edge', async ({
  page,
}) => {
  await openRecipe(page, 'cam and follower');
  await page.getByLabel('Build the parts too').check();
  await page.getByLabel('Follower ends in').selectOption('roller');
  const warning = page.getByTestId('recipe-warning');
  await page.getByLabel('Rise', { exact: true }).fill('60');
  await expect(warning).toContainText('The pressure angle goes up to');
  await page.getByLabel(/^Base radius of the cam/).fill('0.5');
  await expect(warning).toHaveCount(0);
  await make(page);
  const shot = await kept(page);
  const number = (name: string, path: string): number => partNamed(shot, name).part.values[path] as number;
  const roller = shot.shapes[partNamed(shot, 'Roller').part.shape!]!.values.radius as number;
  const foot = number('Follower', 'location.y') + number('Follower', 'pivot.y');
  expect(foot).toBeCloseTo(0.5 + roller, 9);
});
