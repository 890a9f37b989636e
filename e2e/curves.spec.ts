import { execFile } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import type { Shot } from '../core/document';
import { checkShot } from '../core/check';
import {
  addPart,
  blankCopy,
  choosePart,
  demoCopy,
  dragMouse,
  goToFrame,
  keptShot,
  keysOf,
  openShot,
  partNamed,
  reader,
  renameChosen,
  type,
  url,
  waitKept,
} from './workbench';

const run = promisify(execFile);
const cli = fileURLToPath(new URL('../dist/cli.mjs', import.meta.url));

const kept = async (page: Page, id: string): Promise<Shot> => {
  await waitKept(page);
  return (await keptShot(id)).document;
};

async function openCurves(page: Page): Promise<void> {
  await page.getByRole('tab', { name: 'Curves' }).click();
  await expect(page.getByTestId('plot-canvas')).toBeVisible();
}

/** Lets a curve of the list lead. */
const lead = (page: Page, name: string): Promise<void> =>
  page.getByRole('list', { name: 'Curves' }).getByRole('button', { name, exact: true }).click();

/** Place on the screen of a frame and a value of the curve that leads. */
async function plotPoint(page: Page, frame: number, value: number): Promise<{ x: number; y: number }> {
  const group = page.getByRole('group', { name: 'Curves', exact: true });
  const box = (await group.boundingBox())!;
  const firstX = Number(await group.getAttribute('data-first-x'));
  const perFrame = Number(await group.getAttribute('data-per-frame'));
  const { top, bottom, low, high } = JSON.parse((await group.getAttribute('data-plot'))!) as Record<
    'top' | 'bottom' | 'low' | 'high',
    number
  >;
  return {
    x: box.x + firstX + (frame - 1) * perFrame,
    y: box.y + top + ((high - value) / (high - low)) * (bottom - top),
  };
}

async function clickPeg(page: Page, frame: number, value: number): Promise<void> {
  const { x, y } = await plotPoint(page, frame, value);
  await page.mouse.click(x, y);
}

interface OverPlot {
  readonly x: number;
  readonly y: number;
}

/** Place on the screen of the end of the chosen key's handle, where it is painted. */
async function handleEnd(page: Page, side: 'left' | 'right'): Promise<OverPlot> {
  const overlay = page.getByTestId('pointer-hints');
  await expect(overlay).toHaveAttribute('data-handles', new RegExp(`"${side}"`));
  const box = (await overlay.boundingBox())!;
  const ends = JSON.parse((await overlay.getAttribute('data-handles'))!) as (OverPlot & { side: string })[];
  const end = ends.filter((one) => one.side === side);
  expect(end).toHaveLength(1);
  const { x, y } = end[0]!;
  // It is painted there, and nothing is a little below it.
  await expect
    .poll(() =>
      overlay.evaluate(
        (canvas: HTMLCanvasElement, [at, down]) => {
          const ratio = canvas.width / canvas.clientWidth;
          const g = canvas.getContext('2d')!;
          const shown = (dy: number): number =>
            g.getImageData(Math.round(at! * ratio), Math.round((down! + dy) * ratio), 1, 1).data[3]!;
          return [shown(0), shown(9)];
        },
        [x, y],
      ),
    )
    .toEqual([255, 0]);
  return { x: box.x + x, y: box.y + y };
}

/** Edges on the screen of the box round the chosen keys, as it is painted. */
async function scaleBox(page: Page): Promise<Record<'left' | 'right' | 'top' | 'bottom', number>> {
  const overlay = page.getByTestId('pointer-hints');
  await expect(overlay).toHaveAttribute('data-box', /x0/);
  const area = (await overlay.boundingBox())!;
  const { x0, y0, x1, y1 } = JSON.parse((await overlay.getAttribute('data-box'))!) as Record<string, number>;
  const room = 9;
  return {
    left: area.x + x0! - room,
    right: area.x + x1! + room,
    top: area.y + y0! - room,
    bottom: area.y + y1! + room,
  };
}

/** Keys a value of the chosen part at a frame, by hand. */
async function key(page: Page, label: string, frame: number, text: string): Promise<void> {
  await goToFrame(page, frame);
  await type(page, label, text);
  await page.keyboard.press('Escape');
  await page.keyboard.press('k');
}

/** A shot with a box that is keyed at frames 1 and 25. */
async function movingBox(
  page: Page,
  values: readonly (readonly [label: string, from: string, to: string])[],
): Promise<string> {
  const id = await blankCopy();
  await openShot(page, id);
  await addPart(page, 'Box');
  await renameChosen(page, 'Crate');
  for (const [label, from, to] of values) {
    await key(page, `Crate ${label}`, 1, from);
    await key(page, `Crate ${label}`, 25, to);
  }
  await waitKept(page);
  return id;
}

test('five ways to move compared at the middle: of a place, of transparency and of a colour', async ({
  page,
}) => {
  const id = await movingBox(page, [
    ['location X', '0', '4'],
    ['opacity', '0', '1'],
  ]);
  await openCurves(page);
  await page.getByRole('tab', { name: 'Measure' }).click();
  await goToFrame(page, 13);
  const table = page.getByRole('table', { name: 'Halfway by five ways to move' });
  const told = async (): Promise<string[]> =>
    (await table.getByRole('cell').allInnerTexts()).map((text) => /([\d.]+) %/.exec(text)![1]!);
  // The CSS keywords halfway: ease-in 0.3153568126, ease-out 0.6846431874, ease-in-out 0.5 (reference values, section 1).
  const published = ['0', '50', '31.5', '68.5', '50'];
  await lead(page, 'Crate · location X');
  await page.getByRole('button', { name: 'Compare five ways to move' }).click();
  expect(await told()).toEqual(published);
  await expect(table).toContainText('1.261 m');
  await lead(page, 'Crate · opacity');
  await page.getByRole('button', { name: 'Compare five ways to move' }).click();
  expect(await told()).toEqual(published);
  // Looking at them has changed nothing; a click takes one, for both the readout and the document tell.
  expect(keysOf(await kept(page, id), 'Crate', 'location.x')[0]!.manner).toBe('curve');
  await table.getByRole('button', { name: 'ease in' }).click();
  await expect(page.getByTestId('halfway')).toContainText('31.5 %');
  const at = reader(await kept(page, id));
  expect(at('Crate', 'opacity', 13)).toBeCloseTo(0.3153568126, 9);
});

test('a colour is compared, too, over its gradient with one peg', async ({ page }) => {
  const id = await movingBox(page, [['location X', '0', '4']]);
  const { document, revision } = await keptShot(id);
  const look = partNamed(document, 'Crate').part.look!;
  const keys = {
    key_a: { frame: 1, value: [1, 0, 0], manner: 'linear' },
    key_b: { frame: 25, value: [0, 0, 1], manner: 'linear' },
  };
  const patches = [
    { path: ['looks', look, 'tracks', 'colour'], after: { before: 'hold', after: 'hold', keys } },
  ];
  const answer = await fetch(url(`/api/shots/${id}/changes`), {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({
      base: revision,
      changes: [{ id: crypto.randomUUID(), label: 'Key the colour', patches }],
    }),
  });
  expect(answer.status).toBe(200);
  await choosePart(page, 'Crate');
  await openCurves(page);
  await lead(page, 'Crate · colour');
  await goToFrame(page, 13);
  await page.getByRole('tab', { name: 'Measure' }).click();
  await page.getByRole('button', { name: 'Compare five ways to move' }).click();
  const cells = page.getByRole('table', { name: 'Halfway by five ways to move' }).getByRole('cell');
  expect(await cells.allInnerTexts()).toEqual(['0 %', '50 %', '31.5 %', '68.5 %', '50 %']);
  // The strip below the ruler shows the colour between: red on the left, blue on the right.
  const colours = await page.getByTestId('plot-canvas').evaluate((canvas: HTMLCanvasElement) => {
    const ratio = canvas.width / canvas.clientWidth;
    const at = (x: number): number[] =>
      [...canvas.getContext('2d')!.getImageData(x * ratio, 41 * ratio, 1, 1).data].slice(0, 3);
    const group = canvas.closest<HTMLElement>('[data-per-frame]')!;
    const per = Number(group.dataset.perFrame);
    return [at(12 + 4 * per), at(12 + 20 * per)];
  });
  expect(colours[0]![0]).toBeGreaterThan(colours[0]![2]! + 60);
  expect(colours[1]![2]).toBeGreaterThan(colours[1]![0]! + 60);
});

test('a handle dragged with the mouse gives the value that sample reads', async ({ page }) => {
  const id = await movingBox(page, [['location Y', '0', '3']]);
  await openCurves(page);
  await lead(page, 'Crate · location Y');
  await clickPeg(page, 1, 0);
  await expect(page.getByTestId('key-fields')).toContainText('Key 1 of 2');
  const to = await plotPoint(page, 13, 2.5);
  await dragMouse(page, await handleEnd(page, 'right'), to);
  const shot = await kept(page, id);
  const [first] = keysOf(shot, 'Crate', 'location.y');
  expect(first!.right!.reach).toBeCloseTo(12, 0);
  expect(first!.right!.rise).toBeGreaterThan(2.2);
  const folder = await mkdtemp(join(tmpdir(), 'whirl-curves-'));
  try {
    const file = join(folder, 'shot.whirl');
    await writeFile(file, JSON.stringify(shot));
    const { stdout } = await run(process.execPath, [
      cli,
      'sample',
      file,
      '--channels',
      'Crate.location.y',
      '--frames',
      '7:8',
    ]);
    const value = Number(/^7,(.*)$/m.exec(stdout)![1]);
    await goToFrame(page, 7);
    const field = page.getByLabel('Crate location Y', { exact: true });
    expect(Number(await field.inputValue())).toBeCloseTo(value, 2);
    // Far from what the curve was before: 0.66 by automatic handles.
    expect(value).toBeGreaterThan(1);
  } finally {
    await rm(folder, { recursive: true });
  }
  // Dragged beyond the next key it stops there, and Escape puts a drag back.
  const far = await plotPoint(page, 60, 1);
  await dragMouse(page, await handleEnd(page, 'right'), far);
  expect(keysOf(await kept(page, id), 'Crate', 'location.y')[0]!.right!.reach).toBe(24);
  const before = await kept(page, id);
  const peg = await plotPoint(page, 25, 3);
  await page.mouse.move(peg.x, peg.y);
  await page.mouse.down();
  await page.mouse.move(peg.x + 60, peg.y + 40, { steps: 6 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  expect(await kept(page, id)).toEqual(before);
});

test('frame, value, slope and reach are typed, in Curves and in Keys; bad input says what is allowed', async ({
  page,
}) => {
  const id = await movingBox(page, [['location X', '0', '4']]);
  await choosePart(page, 'Crate');
  await goToFrame(page, 25);
  await page.keyboard.press('e');
  const fields = page.getByTestId('key-fields');
  await expect(fields).toContainText('Key 2 of 2');
  await type(page, 'Frame of the key', '+12');
  await type(page, 'Value of the key', '500cm');
  expect(keysOf(await kept(page, id), 'Crate', 'location.x')[1]).toMatchObject({ frame: 37, value: 5 });
  await type(page, 'Frame of the key', '1');
  await expect(fields.getByRole('alert')).toContainText('has a key at frame 1 already');
  await page.keyboard.press('Escape');
  await page.keyboard.press('2');
  await type(page, 'Arrives: reach', '40');
  await expect(fields.getByRole('alert')).toContainText('to the next key at most: 36 frames');
  await page.keyboard.press('Escape');
  await type(page, 'Arrives: reach', '18');
  await type(page, 'Arrives: slope', '0.25');
  const arrived = keysOf(await kept(page, id), 'Crate', 'location.x')[1]!;
  expect(arrived.left).toEqual({ reach: 18, rise: -4.5 });
  expect(arrived.handles).toBe('free');
  await fields.getByRole('button', { name: 'flat' }).click();
  expect(keysOf(await kept(page, id), 'Crate', 'location.x')[1]!.handles).toBe('flat');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  const back = keysOf(await kept(page, id), 'Crate', 'location.x')[1]!.left!;
  expect(back.reach).toBe(18);
  expect(back.rise).toBeCloseTo(0, 9);
});

test('a roll takes over the shape of its way: the slip goes from more than 100 mm to nothing', async ({
  page,
}) => {
  const id = await blankCopy();
  await openShot(page, id);
  await addPart(page, 'Cylinder');
  await renameChosen(page, 'Barrel');
  await key(page, 'Barrel location X', 1, '0');
  await key(page, 'Barrel location X', 49, '3');
  await key(page, 'Barrel rotation Z', 1, '0');
  // Rolling without slip: the whole way is the arc, 3 m / 0.5 m.
  await key(page, 'Barrel rotation Z', 49, '-3/0.5 * 180/pi');
  await openCurves(page);
  await lead(page, 'Barrel · location X');
  await goToFrame(page, 20);
  await page
    .getByRole('region', { name: 'Ways to move' })
    .getByRole('button', { name: 'quart in', exact: true })
    .click();
  await lead(page, 'Barrel · rotation Z');
  await page.getByRole('tab', { name: 'Measure' }).click();
  const slip = page.getByRole('region', { name: 'Slip' });
  await slip.getByLabel('It rolls along').selectOption({ label: 'Barrel location X' });
  await expect(page.getByTestId('slip')).toContainText('Slip at most');
  const worst = Number(/([\d.]+) mm/.exec(await page.getByTestId('slip').innerText())![1]);
  expect(worst).toBeGreaterThan(100);
  const overlay = page.getByRole('region', { name: 'Overlay' });
  await overlay.getByLabel('Lay another over it').selectOption({ label: 'Barrel · location X' });
  await overlay.getByRole('button', { name: 'Take over its shape' }).click();
  await expect(page.getByTestId('slip')).toHaveText('It rolls without slip');
  const at = reader(await kept(page, id));
  for (let frame = 1; frame <= 49; frame += 4) {
    const slipped =
      at('Barrel', 'location.x', frame) + (at('Barrel', 'rotation.z', frame) * Math.PI * 0.5) / 180;
    expect(Math.abs(slipped) * 1000).toBeLessThan(0.5);
  }
});

test('a loop is closed by the seam meter, and the check of loops has nothing to say', async ({ page }) => {
  const id = await blankCopy();
  await openShot(page, id);
  await addPart(page, 'Box');
  await renameChosen(page, 'Crate');
  await key(page, 'Crate location Y', 1, '0.5');
  await key(page, 'Crate location Y', 30, '2');
  await key(page, 'Crate location Y', 60, '1');
  const seams = async (): Promise<string[]> =>
    checkShot(await kept(page, id), undefined, { loops: true }).flatMap(({ code }) =>
      code.startsWith('loop.') ? [code] : [],
    );
  expect(await seams()).toEqual(['loop.value']);
  await openCurves(page);
  await page.getByRole('tab', { name: 'Measure' }).click();
  const meter = page.getByRole('region', { name: 'Seam' });
  await meter.getByRole('button', { name: 'Close the loop' }).click();
  await expect(page.getByTestId('seam-closed')).toBeVisible();
  expect(await seams()).toEqual([]);
});

test('a link is baked and thinned to few keys within half a percent', async ({ page }) => {
  const id = await blankCopy();
  await openShot(page, id);
  await page.keyboard.press('Shift+s');
  await page.getByRole('textbox', { name: 'Last frame' }).fill('240');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await addPart(page, 'Box');
  await renameChosen(page, 'Crate');
  await type(page, 'Crate rotation Z', '= 45deg * sin(frame * 3.75deg)');
  await waitKept(page);
  await openCurves(page);
  const before = await kept(page, id);
  const linked = reader(before);
  await page.getByRole('tab', { name: 'Retime' }).click();
  await page.getByRole('button', { name: 'Bake the link' }).click();
  await expect(page.getByRole('button', { name: /^Thin: 240 to/ })).toBeVisible();
  expect(keysOf(await kept(page, id), 'Crate', 'rotation.z')).toHaveLength(240);
  await type(page, 'Tolerance', '0.4');
  await page.getByRole('button', { name: /^Thin: 240 to/ }).click();
  const shot = await kept(page, id);
  expect(keysOf(shot, 'Crate', 'rotation.z').length).toBeLessThan(20);
  const thinned = reader(shot);
  for (let frame = 1; frame <= 240; frame += 3)
    expect(
      Math.abs(thinned('Crate', 'rotation.z', frame) - linked('Crate', 'rotation.z', frame)),
    ).toBeLessThanOrEqual(0.45);
  // The bake and the thinning are taken back one by one.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  expect(await kept(page, id)).toEqual(before);
});

test('a stretch slowed down pushes what follows, markers and the range along', async ({ page }) => {
  const id = await demoCopy(undefined, 'Hoop run');
  await openShot(page, id);
  await choosePart(page, 'Hoop way');
  await openCurves(page);
  await lead(page, 'Hoop way · location Y');
  const before = await kept(page, id);
  // The first bounce: frames 16 to 39.
  await clickPeg(page, 16, 0);
  await page.keyboard.down('Shift');
  await clickPeg(page, 39, 0);
  await page.keyboard.up('Shift');
  await page.getByRole('tab', { name: 'Retime' }).click();
  await type(page, 'Slow down by', '2');
  await page.getByRole('button', { name: 'Slow down, push rest' }).click();
  const after = await kept(page, id);
  const [old, now] = [reader(before), reader(after)];
  for (const frame of [16, 20, 27, 33, 39])
    expect(now('Hoop way', 'location.y', 16 + (frame - 16) * 2)).toBeCloseTo(
      old('Hoop way', 'location.y', frame),
      9,
    );
  expect(now('Hoop way', 'location.y', 73)).toBeCloseTo(old('Hoop way', 'location.y', 50), 9);
  expect(after.setup.last).toBe(before.setup.last + 23);
  const frames = (shot: Shot): number[] =>
    Object.values(shot.markers)
      .map((marker) => marker.frame)
      .sort((a, b) => a - b);
  expect(frames(after)).toEqual(
    frames(before).map((frame) => (frame <= 16 ? frame : frame <= 39 ? 16 + (frame - 16) * 2 : frame + 23)),
  );
  await page.keyboard.press('Control+z');
  expect(await kept(page, id)).toEqual(before);
});

test('by keyboard alone: curves chosen, keys moved, a key put in, a way to move taken', async ({ page }) => {
  const id = await movingBox(page, [
    ['location X', '0', '4'],
    ['location Y', '0', '2'],
  ]);
  await page.keyboard.press('2');
  const plot = page.getByRole('group', { name: 'Curves', exact: true });
  await plot.focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('button', { name: 'Crate · location Y', exact: true })).toHaveAttribute(
    'aria-current',
    'true',
  );
  await page.keyboard.press('Control+Shift+a');
  await expect(page.getByTestId('key-fields')).toContainText('2 keys');
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Alt+Shift+ArrowRight');
  expect(keysOf(await kept(page, id), 'Crate', 'location.y').map(({ frame }) => frame)).toEqual([12, 36]);
  expect(keysOf(await kept(page, id), 'Crate', 'location.x').map(({ frame }) => frame)).toEqual([1, 25]);
  await page.keyboard.press('Alt+ArrowUp');
  expect(keysOf(await kept(page, id), 'Crate', 'location.y')[0]!.value).toBeGreaterThan(0);
  await goToFrame(page, 20);
  await plot.focus();
  await page.keyboard.press('i');
  expect(keysOf(await kept(page, id), 'Crate', 'location.y').map(({ frame }) => frame)).toEqual([12, 20, 36]);
  await page.keyboard.press('Control+a');
  await expect(page.getByTestId('key-fields')).toContainText('5 keys');
  const palette = page.getByRole('region', { name: 'Ways to move' });
  await expect(palette).toContainText('3 stretches');
  await palette.getByRole('button', { name: 'ease in', exact: true }).focus();
  await page.keyboard.press('Enter');
  const eased = await kept(page, id);
  for (const path of ['location.x', 'location.y'] as const)
    expect(keysOf(eased, 'Crate', path)[0]!.right!.reach).toBeGreaterThan(0);
});

test('a shape of its own is kept with the project and used in another shot', async ({ page }) => {
  await movingBox(page, [['location X', '0', '4']]);
  await openCurves(page);
  await goToFrame(page, 12);
  await clickPeg(page, 1, 0);
  await type(page, 'Leaves: reach', '20');
  const palette = page.getByRole('region', { name: 'Ways to move' });
  await palette.getByRole('button', { name: 'Keep' }).click();
  const name = `Lazy ${Math.random().toString(36).slice(2, 6)}`;
  await page.getByLabel('Name of the way to move').fill(name);
  await page.keyboard.press('Enter');
  await expect(palette.getByRole('button', { name, exact: true })).toBeVisible();
  const other = await movingBox(page, [['location Z', '1', '3']]);
  await openCurves(page);
  await goToFrame(page, 12);
  await page.getByRole('region', { name: 'Ways to move' }).getByRole('button', { name, exact: true }).click();
  expect(keysOf(await kept(page, other), 'Crate', 'location.z')[0]!.right!.reach).toBeCloseTo(20, 6);
});

test('ways on outside the keys are chosen by a click there; the box round keys scales them', async ({
  page,
}) => {
  const id = await movingBox(page, [['location X', '0', '4']]);
  await openCurves(page);
  await clickPeg(page, 60, 4);
  await page.getByRole('menuitem', { name: 'to and fro' }).click();
  const shot = await kept(page, id);
  expect(reader(shot)('Crate', 'location.x', 49)).toBeCloseTo(0, 9);
  await page.getByRole('group', { name: 'Curves', exact: true }).focus();
  await page.keyboard.press('Control+a');
  const box = await scaleBox(page);
  // Dragged by its upper edge to half the height: values halve about the lower edge.
  const half = await plotPoint(page, 13, 2);
  const middle = (box.left + box.right) / 2;
  await dragMouse(page, { x: middle, y: box.top }, { x: middle, y: half.y - 9 });
  expect(keysOf(await kept(page, id), 'Crate', 'location.x')[1]!.value as number).toBeCloseTo(2, 1);
});

test.describe('with a clock of its own', () => {
  test.use({ ownPage: true });

  test('play-back keeps the time for ten seconds with a view too slow for each frame: pictures are dropped, the frame told is that of the moment', async ({
    page,
  }) => {
    const id = await demoCopy(undefined, 'Full ride');
    // The clock of the page is the test's, so that what a busy machine does to the real one does not matter.
    await page.clock.install();
    await openShot(page, id);
    await page.clock.pauseAt(Date.now() + 3_600_000);
    // Time is held against the clock of the page: where a sound is heard, its clock leads.
    await page.getByRole('button', { name: 'Mute Organ tune' }).click();
    const frame = page.getByLabel('Current frame');
    await expect(frame).toHaveValue('1');
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    const [rate, length] = [24, 192];
    let gone = 0;
    for (let picture = 0; gone < 10_000; picture++) {
      // Pictures come late by turns of 180 to 480 ms, as with a view that takes that long.
      const late = 180 + ((picture * 137) % 301);
      await page.clock.fastForward(late);
      gone += late;
      await expect(frame).toHaveValue(String(1 + (Math.floor((gone * rate) / 1000) % length)));
    }
  });
});

test('the panels beside keys and curves scroll with the wheel, and no head of the lanes lies over them', async ({
  page,
}) => {
  const id = await demoCopy(undefined, 'Hoop run');
  await openShot(page, id);
  const panel = page.getByRole('complementary', { name: 'Chosen keys' });
  await panel.hover();
  await page.mouse.wheel(0, 120);
  await expect.poll(() => panel.evaluate((element) => element.scrollTop)).toBeGreaterThan(50);
  const lanes = (await page.getByTestId('lanes-canvas').boundingBox())!;
  await page.mouse.move(lanes.x + 300, lanes.y + 100);
  await page.mouse.wheel(0, 60);
  await expect(page.getByTestId('sticky-head')).toBeVisible();
  const beside = (await panel.boundingBox())!;
  const onTop = await page.evaluate(
    ({ x, y }) => document.elementsFromPoint(x, y).find((e) => !!e.closest('aside')) !== undefined,
    { x: beside.x + 20, y: beside.y + 44 },
  );
  expect(onTop).toBe(true);
  expect(await panel.evaluate((element) => getComputedStyle(element).zIndex)).toBe('10');
});
