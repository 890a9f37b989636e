import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { PNG } from 'pngjs';
import { SHAPE_KINDS, shapeDefinition } from '../core/document';
import { CRATE_OBJ, FLAG_PLY, FLAG_STL, glbOf, triangleGltf } from '../core/testing/mesh-files';
import {
  addPart,
  blankCopy,
  choosePart,
  find,
  keptShot,
  openDrawn,
  openShot,
  partNamed,
  renameChosen,
  type,
  url,
  waitKept,
} from './workbench';

let id: string;
test.beforeEach(async ({ page }) => {
  id = await blankCopy();
  await openShot(page, id);
});

interface Brought {
  readonly name: string;
  readonly mimeType: string;
  readonly buffer: Buffer;
}
const file = (name: string, bytes: Uint8Array | string): Brought => ({
  name,
  mimeType: 'application/octet-stream',
  buffer: Buffer.from(bytes as string),
});

function png(width: number, height: number, clear = false): Buffer {
  const picture = new PNG({ width, height });
  for (let i = 0; i < picture.data.length; i += 4)
    picture.data.set([40, 120, 200, clear && i % 8 === 0 ? 0 : 255], i);
  return PNG.sync.write(picture);
}

async function bring(page: Page, files: readonly Brought[], before?: () => Promise<void>): Promise<void> {
  // Out of any field that is being typed into.
  await page.keyboard.press('Escape');
  await page.keyboard.press('n');
  await before?.();
  await page.getByTestId('bring-files').setInputFiles(files);
}

test('a picture comes in as a layer of its pixels, or as high as typed, or on the faces of a box', async ({
  page,
}) => {
  await openDrawn(page, id, 'yes');
  await bring(page, [file('flag-of_the fair.png', png(300, 200, true))]);
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Flag of the fair');
  await waitKept(page);
  let { document } = await keptShot(id);
  let { part } = partNamed(document, 'Flag of the fair');
  expect(document.shapes[part.shape!]).toMatchObject({ kind: 'plane', values: { width: 3, height: 2 } });
  expect(document.looks[part.look!]!.pictures!.all).toMatchObject({ width: 300, height: 200, alpha: true });
  const stored = document.looks[part.look!]!.pictures!.all!.asset;
  expect((await fetch(url(`/api/assets/${stored}`))).status).toBe(200);

  await bring(page, [file('emblem.png', png(64, 64))], async () => {
    await page.getByLabel('Pictures are').selectOption('height');
    await page.getByLabel('Height of pictures').fill('wide');
    await expect(page.getByRole('alert')).toContainText('"wide" is no height');
    await page.getByLabel('Height of pictures').fill('1.5');
    await page.getByLabel('on the six faces of a box').check();
  });
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Emblem');
  await waitKept(page);
  ({ document } = await keptShot(id));
  ({ part } = partNamed(document, 'Emblem'));
  expect(document.shapes[part.shape!]).toMatchObject({
    kind: 'box',
    values: { width: 1.5, height: 1.5, depth: 1.5 },
  });
  // The picture is seen: the middle of the view is its blue.
  await page.keyboard.press('b');
  await page.waitForTimeout(1500);
  const blue = await page.getByTestId('view-canvas').evaluate((canvas: HTMLCanvasElement) => {
    const copy = new OffscreenCanvas(canvas.width, canvas.height);
    const g = copy.getContext('2d')!;
    g.drawImage(canvas, 0, 0);
    const [r, , b] = g.getImageData(canvas.width / 2, canvas.height / 2, 1, 1).data;
    return b! - r!;
  });
  expect(blue).toBeGreaterThan(40);
});

test('an SVG becomes an outline with depth and bevel; one with a script is refused', async ({ page }) => {
  const svg = '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0H200V100H0Z M50 25V75H150V25Z"/></svg>';
  await bring(page, [file('window.svg', svg)]);
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Window');
  await type(page, 'Window depth', '0.4');
  await type(page, 'Window bevel', '0.05');
  await waitKept(page);
  const { document } = await keptShot(id);
  const { part } = partNamed(document, 'Window');
  const shape = document.shapes[part.shape!]!;
  expect(shape).toMatchObject({ kind: 'outline', values: { width: 2, height: 1, depth: 0.4, bevel: 0.05 } });
  expect(shape.outline!.map((piece) => piece.holes.length)).toEqual([1]);
  await bring(page, [file('trap.svg', svg.replace('<path', '<script>alert(1)</script><path'))]);
  await expect(page.getByText('The drawing holds a script')).toBeVisible();
  expect((await keptShot(id)).document.parts).toEqual(document.parts);
});

test('meshes come in as their files have them: GLB with nodes and looks, OBJ, STL, PLY', async ({ page }) => {
  await bring(page, [
    file('winch.glb', glbOf(triangleGltf())),
    file('crate.obj', CRATE_OBJ),
    file('flag.stl', FLAG_STL),
    file('pennant.ply', FLAG_PLY),
  ]);
  await expect(page.getByRole('treeitem', { selected: true })).toHaveCount(4);
  await waitKept(page);
  const { document } = await keptShot(id);
  const drum = partNamed(document, 'Winch drum').part;
  expect(drum.values).toEqual({ 'location.y': 1 });
  expect(drum.parent).toBe(partNamed(document, 'Winch').id);
  expect(document.shapes[drum.shape!]!.mesh).toMatchObject({ format: 'glb', index: 0, file: 'winch.glb' });
  expect(document.looks[drum.look!]).toMatchObject({
    name: 'Red lead',
    values: { metallic: 0, roughness: 0.8 },
  });
  for (const name of ['Crate', 'Flag', 'Pennant'])
    expect(document.shapes[partNamed(document, name).part.shape!]!.kind).toBe('mesh');
  // In one step, and undone whole.
  await page.keyboard.press('Control+z');
  await waitKept(page);
  expect(
    Object.values((await keptShot(id)).document.parts)
      .map((part) => part.name)
      .sort(),
  ).toEqual(['Camera', 'Floor', 'Sky light', 'Sun']);
});

test('what cannot be taken is named with the reason, and the rest comes in', async ({ page }) => {
  await waitKept(page);
  await bring(page, [
    file('broken.glb', glbOf({ ...triangleGltf(), buffers: [] })),
    file('huge.png', png(20_000, 1)),
    file('notes.txt', 'Open from ten to six.'),
    file('good.png', png(10, 10)),
  ]);
  await expect(page.getByText(/broken.glb: Buffer 0 is missing/)).toBeVisible();
  await expect(page.getByText(/huge.png: The picture has 20000 by 1 pixels: at most 8192/)).toBeVisible();
  await expect(page.getByText(/notes.txt: it is none of the kinds/)).toBeVisible();
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Good');
  const description = JSON.stringify({ ...triangleGltf(), buffers: [{ byteLength: 36, uri: 'drum.bin' }] });
  await bring(page, [file('drum.gltf', description)]);
  await expect(page.getByText(/drum.gltf: it needs "drum.bin": drop that file together/)).toBeVisible();
  await bring(page, [
    file('drum.gltf', description),
    file('drum.bin', new Uint8Array(Float32Array.from([0, 0, 0, 2, 0, 0, 0, 3, 0]).buffer)),
  ]);
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Drum');
});

test('files dropped on the view come in', async ({ page }) => {
  const data = await page.evaluateHandle(
    (bytes) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([Uint8Array.from(bytes)], 'sail.png', { type: 'image/png' }));
      return transfer;
    },
    [...png(20, 10)],
  );
  await page.getByRole('region', { name: 'View' }).dispatchEvent('drop', { dataTransfer: data });
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Sail');
});

test('letters are written anew; signs that the font lacks are refused', async ({ page }) => {
  await addPart(page, 'Lettering');
  const text = page.getByLabel('Text of the lettering');
  await text.fill('Fair');
  await text.press('Enter');
  await waitKept(page);
  const { part } = partNamed((await keptShot(id)).document, 'Lettering');
  const shape = async () => (await keptShot(id)).document.shapes[part.shape!]!;
  await expect.poll(async () => (await shape()).text!.text).toBe('Fair');
  expect(new Set((await shape()).outline!.map((piece) => piece.letter))).toEqual(new Set([0, 1, 2, 3]));
  await text.fill('漢');
  await text.press('Enter');
  await expect(page.getByRole('alert')).toContainText('This font has no "漢"');
  await page.getByLabel('Font', { exact: true }).selectOption('oswald');
  await expect.poll(async () => (await shape()).text!.font).toBe('oswald');
});

test('a profile is drawn point by point and undone', async ({ page }) => {
  await addPart(page, 'Lathe');
  await page.getByRole('button', { name: 'Draw the profile...' }).click();
  await waitKept(page);
  const { part } = partNamed((await keptShot(id)).document, 'Lathe');
  const profile = async () => (await keptShot(id)).document.shapes[part.shape!]!.profile!;
  const before = await profile();
  const editor = page.getByRole('application');
  await editor.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('PageUp');
  await page.keyboard.press('ArrowLeft');
  await expect
    .poll(profile)
    .toEqual(before.map((point, i) => (i === 1 ? [point[0] - 0.01, point[1]] : point)));
  await page.keyboard.press('Delete');
  await expect.poll(async () => (await profile()).length).toBe(before.length - 1);
  await page.getByRole('button', { name: 'Bell' }).click();
  await expect.poll(async () => (await profile())[0]).toEqual([0.92, 0]);
});

test('deleting what others read names them first; keeping it changes nothing; undo brings all back', async ({
  page,
}) => {
  await addPart(page, 'Gear');
  await addPart(page, 'Box');
  await type(page, 'Box location X', '= Gear.rotation.z * 1m / 360deg');
  await waitKept(page);
  const before = (await keptShot(id)).document;
  await choosePart(page, 'Gear');
  await page.keyboard.press('Delete');
  await expect(page.getByRole('dialog')).toContainText('Box location X');
  await page.getByRole('button', { name: 'Keep it' }).click();
  expect((await keptShot(id)).document).toEqual(before);
  await page.keyboard.press('Delete');
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await waitKept(page);
  expect(Object.values((await keptShot(id)).document.parts).some((part) => part.name === 'Gear')).toBe(false);
  await page.keyboard.press('Control+z');
  await waitKept(page);
  expect((await keptShot(id)).document).toEqual(before);
});

test('a parent is not hung below its child; values are copied onto other parts', async ({ page }) => {
  await addPart(page, 'Hub');
  await addPart(page, 'Box');
  await page.getByRole('treeitem', { name: 'Box' }).dragTo(page.getByRole('treeitem', { name: 'Hub' }));
  await choosePart(page, 'Hub');
  await page.getByRole('treeitem', { name: 'Box' }).click({ modifiers: ['Control'] });
  await waitKept(page);
  const before = (await keptShot(id)).document;
  await page.keyboard.press('Shift+P');
  await expect(page.getByText('"Hub" cannot hang below itself')).toBeVisible();
  expect((await keptShot(id)).document).toEqual(before);

  await addPart(page, 'Ball');
  await type(page, 'Ball rotation Y', '33');
  await type(page, 'Ball roughness', '0.1');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+c');
  await choosePart(page, 'Box');
  await page.keyboard.press('Control+v');
  await waitKept(page);
  const { document } = await keptShot(id);
  const box = partNamed(document, 'Box').part;
  expect(box.values['rotation.y']).toBe(33);
  expect(document.looks[box.look!]!.values.roughness).toBe(0.1);
});

test('commands, parts and channels are found by their words', async ({ page }) => {
  await addPart(page, 'Gear');
  await renameChosen(page, 'Pinion of the crank');
  await find(page, 'sun');
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Sun');
  await find(page, 'pinion teeth');
  await expect(page.getByLabel('Pinion of the crank teeth', { exact: true })).toBeFocused();
  await page.keyboard.press('Escape');
  await find(page, 'ghosts');
  await expect(page.getByRole('button', { name: 'Ghosts' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('zzzz');
  await expect(page.getByText('Nothing is called "zzzz".')).toBeVisible();
});

test('a mirrored copy stands on the other side with the other name', async ({ page }) => {
  await addPart(page, 'Box');
  await renameChosen(page, 'Left fender');
  await type(page, 'Left fender location X', '-2');
  await type(page, 'Left fender rotation Z', '20');
  await page.keyboard.press('Escape');
  await find(page, 'mirrored copy across x');
  await expect(page.getByRole('treeitem', { selected: true })).toContainText('Right fender');
  await waitKept(page);
  const { part } = partNamed((await keptShot(id)).document, 'Right fender');
  expect(part.values).toMatchObject({ 'location.x': 2, 'rotation.z': -20 });
});

test('the Add sheet is there at once, and shows what each shape looks like', async ({ page }) => {
  await openDrawn(page, id, 'yes');
  await page.getByRole('region', { name: 'Parts' }).getByRole('button', { name: 'Add' }).click();
  await expect(page.getByRole('option', { name: 'Gear', exact: true })).toBeVisible();
  const kinds = SHAPE_KINDS.filter((kind) => shapeDefinition(kind).offer);
  for (const kind of kinds)
    await expect(page.locator(`#add-${kind} img`)).toHaveCount(1, { timeout: 180_000 });
  /** Share of each picture that shows something. */
  const filled = await page.evaluate(
    (ids) =>
      ids.map((id) => {
        const image = document.querySelector<HTMLImageElement>(`#add-${id} img`)!;
        const canvas = new OffscreenCanvas(image.naturalWidth, image.naturalHeight);
        const g = canvas.getContext('2d')!;
        g.drawImage(image, 0, 0);
        const { data } = g.getImageData(0, 0, canvas.width, canvas.height);
        let seen = 0;
        for (let i = 3; i < data.length; i += 4) if (data[i]! > 127) seen += 4;
        return seen / data.length;
      }),
    kinds,
  );
  kinds.forEach((kind, i) => {
    expect(filled[i], kind).toBeGreaterThan(0.03);
    expect(filled[i], kind).toBeLessThan(0.9);
  });
});
