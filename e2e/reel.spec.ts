import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { expect, test, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { PNG } from 'pngjs';
import { blankShot } from '../core/document';
import { addPart, apply, keyChannels } from '../core/edit';
import { colourFromHex } from '../core/math';
import { spansOf, type Reel } from '../core/reel';
import { url } from './workbench';

const cli = fileURLToPath(new URL('../dist/cli.mjs', import.meta.url));

interface Card {
  readonly id: string;
  readonly name: string;
  readonly reels: readonly { readonly id: string; readonly name: string }[];
}

const ask = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
  const answer = await fetch(url(`/api${path}`), {
    method,
    headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  return (await answer.json()) as T;
};

/** A project with shots of one colour each, so that it can be seen which is shown. */
async function colouredProject(name: string, shots: Record<string, string>): Promise<string> {
  const { id } = await ask<Card>('POST', '/projects', { name });
  for (const [shot, hex] of Object.entries(shots)) {
    const blank = blankShot({
      background: colourFromHex(hex)!,
      tones: 'none',
      first: 1,
      last: 40,
      width: 320,
      height: 180,
    });
    const document = apply(blank, addPart(blank, { kind: 'camera', name: 'Camera' }).change);
    await ask('POST', `/projects/${id}/shots`, { name: shot, document });
  }
  return id;
}

async function newReel(page: Page, project: string, name: string): Promise<string> {
  await page.goto(url());
  await page
    .getByRole('region', { name: project, exact: true })
    .getByRole('button', { name: 'New reel' })
    .click();
  await page.getByRole('textbox', { name: 'Name' }).fill(name);
  await page.getByRole('button', { name: 'Make and open' }).click();
  await expect(page.getByText('The reel is empty.')).toBeVisible();
  return page.url().split('/').at(-1)!;
}

const put = (page: Page, shot: string): Promise<void> => page.getByTitle(`Put ${shot} into the reel`).click();
const block = (page: Page, name: string) =>
  page
    .getByRole('list', { name: 'Shots and titles' })
    .getByRole('button', { name: new RegExp(`^${name}, `) });
async function enter(page: Page, label: string, value: number): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(String(value));
  await page.getByLabel(label, { exact: true }).press('Enter');
}
async function keptReel(page: Page, id: string): Promise<Reel> {
  await expect(page.getByTestId('kept')).toHaveText('Kept');
  return (await ask<{ reel: Reel }>('GET', `/reels/${id}`)).reel;
}
const lengths = (reel: Reel): (string | number)[] =>
  reel.items.map((item) => `${item.kind === 'shot' ? item.name : 'title'} ${item.frames}`);

/** Colour in the middle of the page's picture of a frame, once it is drawn. */
async function seenAt(page: Page, frame: number): Promise<number[]> {
  await enter(page, 'Frame of the reel', frame);
  const picture = page.getByTestId('reel-picture');
  await expect(picture).toHaveAttribute('data-frame', String(frame), { timeout: 180_000 });
  return picture.evaluate((canvas: HTMLCanvasElement) => {
    const { width, height } = canvas;
    return [...canvas.getContext('2d')!.getImageData(width / 2, height / 2, 1, 1).data].slice(0, 3);
  });
}
const near = (found: readonly number[], wanted: readonly number[], most = 1): void => {
  for (const [i, value] of wanted.entries())
    expect(Math.abs(found[i]! - value), `${found.join()} for ${wanted.join()}`).toBeLessThanOrEqual(most);
};

test('a reel is put together with the mouse, seen, and rendered to one film', async ({ page }) => {
  await colouredProject('Quay films', { Dusk: '#c03020', Night: '#203080' });
  const id = await newReel(page, 'Quay films', 'Opening');
  await put(page, 'Dusk');
  await enter(page, 'Last frame of the shot', 10);
  await put(page, 'Night');
  await enter(page, 'First frame of the shot', 5);
  await enter(page, 'Last frame of the shot', 14);
  await page.getByRole('radio', { name: 'Dissolve' }).click();
  await enter(page, 'Frames of the join', 3);
  await page.getByRole('button', { name: 'Title' }).click();
  await page.getByLabel('Words of the title').fill('HARBOUR\nFAIR');
  await page.getByLabel('Words of the title').press('Control+Enter');
  await enter(page, 'Length', 6);
  await page.getByRole('radio', { name: 'Wipe' }).click();
  await enter(page, 'Frames of the join', 4);
  const reel = await keptReel(page, id);
  expect(lengths(reel)).toEqual(['Dusk 10', 'Night 10', 'title 6']);
  expect(reel).toMatchObject({
    width: 320,
    height: 180,
    items: [{ first: 1 }, { first: 5 }, { kind: 'title' }],
  });
  expect(spansOf(reel).map(({ joins, joined }) => [joins, joined])).toEqual([
    [1, 1],
    [10, 13],
    [19, 23],
  ]);

  // The page shows one, then a half of both, then the other.
  near(await seenAt(page, 5), [0xc0, 0x30, 0x20]);
  near(await seenAt(page, 11), [0x70, 0x30, 0x50], 2);
  near(await seenAt(page, 15), [0x20, 0x30, 0x80]);
  // Space plays, and stops.
  await page.getByTestId('reel-ruler').click({ position: { x: 14, y: 10 } });
  const before = await page.getByLabel('Frame of the reel').inputValue();
  await page.keyboard.press('Space');
  await expect(page.getByLabel('Frame of the reel')).not.toHaveValue(before);
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();

  await page.getByRole('button', { name: 'Render...' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Format').selectOption({ label: 'PNG frames: numbered pictures in a zip' });
  await sheet.getByRole('button', { name: 'Render the reel' }).click();
  await expect(sheet.getByTestId('render-progress')).toHaveAttribute('data-status', 'done', {
    timeout: 240_000,
  });
  const href = await sheet.getByRole('link', { name: /Download/ }).getAttribute('href');
  const zip = unzipSync(new Uint8Array(await (await fetch(url(href!))).arrayBuffer()));
  const names = Object.keys(zip).sort();
  expect(names).toHaveLength(26);
  const pixel = (frame: number, x = 160, y = 90): number[] => {
    const { data } = PNG.sync.read(Buffer.from(zip[names[frame - 1]!]!));
    return [...data.subarray((y * 320 + x) * 4, (y * 320 + x) * 4 + 3)];
  };
  // A quarter, a half and three quarters of the second over the first, by the numbers of their colours.
  near(pixel(9), [192, 48, 32]);
  near(pixel(10), [152, 48, 56]);
  near(pixel(11), [112, 48, 80]);
  near(pixel(12), [72, 48, 104]);
  near(pixel(13), [32, 48, 128]);
  // Two of five parts of a wipe from the left, then the title: its ground in a corner, its letters in their own colour.
  const ground = pixel(26, 4, 4);
  near(pixel(20, 120), ground);
  near(pixel(20, 136), [32, 48, 128]);
  const letters = new Set<string>();
  for (let x = 60; x < 260; x++) for (let y = 40; y < 140; y += 2) letters.add(pixel(26, x, y).join());
  const ink = '239,234,218';
  expect(
    [...letters].some((each) => each === ink),
    [...letters].slice(0, 8).join(' '),
  ).toBe(true);
  await page.keyboard.press('Escape');

  // The timeline with its shots beside it, rendered from the command line, is the same film.
  const folder = mkdtempSync(join(tmpdir(), 'whirl-reel-'));
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save timeline' }).click(),
  ]);
  await saved.saveAs(join(folder, 'Opening.otio'));
  for (const item of (await keptReel(page, id)).items) {
    if (item.kind !== 'shot') continue;
    const { document } = await ask<{ document: unknown }>('GET', `/shots/${item.shot}`);
    writeFileSync(join(folder, `${item.name}.json`), JSON.stringify(document));
  }
  const order = ['render', join(folder, 'Opening.otio'), '--out', join(folder, 'film', '%04d.png')];
  const { stderr } = await promisify(execFile)('node', [cli, ...order]);
  expect(stderr).toContain('(26 of 26)');
  for (const [at, name] of names.entries()) {
    const drawn = PNG.sync.read(readFileSync(join(folder, 'film', `${String(at + 1).padStart(4, '0')}.png`)));
    expect(drawn.data.equals(PNG.sync.read(Buffer.from(zip[name]!)).data), name).toBe(true);
  }
  rmSync(folder, { recursive: true });
});

test('a reel is changed by keys and by dragging, and everything is undone', async ({ page }) => {
  await colouredProject('Pier films', { Gulls: '#808080', Boats: '#405060' });
  const id = await newReel(page, 'Pier films', 'Order');
  await put(page, 'Gulls');
  await put(page, 'Boats');
  await page.getByRole('button', { name: 'Black' }).click();
  expect(lengths(await keptReel(page, id))).toEqual(['Gulls 40', 'Boats 40', 'title 48']);
  // In two at frame 21.
  await enter(page, 'Frame of the reel', 21);
  await page.keyboard.press('Escape');
  await page.getByTestId('reel-picture').click();
  await page.keyboard.press('c');
  let reel = await keptReel(page, id);
  expect(lengths(reel)).toEqual(['Gulls 20', 'Gulls 20', 'Boats 40', 'title 48']);
  expect(reel.items[1]).toMatchObject({ first: 21 });
  await page.keyboard.press('Alt+ArrowRight');
  expect(lengths(await keptReel(page, id))).toEqual(['Gulls 20', 'Boats 40', 'Gulls 20', 'title 48']);
  await page.keyboard.press('Delete');
  expect(lengths(await keptReel(page, id))).toEqual(['Gulls 20', 'Boats 40', 'title 48']);
  // Dragged to the front.
  const [boats, gulls] = [
    (await block(page, 'Boats').boundingBox())!,
    (await block(page, 'Gulls').boundingBox())!,
  ];
  await page.mouse.move(boats.x + boats.width / 2, boats.y + 20);
  await page.mouse.down();
  await page.mouse.move(gulls.x + 30, gulls.y + 20, { steps: 5 });
  await page.mouse.move(gulls.x + 4, gulls.y + 20, { steps: 5 });
  await page.mouse.up();
  reel = await keptReel(page, id);
  expect(lengths(reel)).toEqual(['Boats 40', 'Gulls 20', 'title 48']);
  // Its end is pulled in by ten frames; Escape in the middle of the next pull puts it back.
  const out = (await page.getByTestId(`out of ${reel.items[0]!.id}`).boundingBox())!;
  const frame = boats.width / 40;
  const pull = async (by: number): Promise<void> => {
    await page.mouse.move(out.x + 3, out.y + 20);
    await page.mouse.down();
    await page.mouse.move(out.x + 3 + by / 2, out.y + 20, { steps: 4 });
    await page.mouse.move(out.x + 3 + by, out.y + 20, { steps: 4 });
  };
  await pull(-10 * frame);
  await page.mouse.up();
  const pulled = (await keptReel(page, id)).items[0]!.frames;
  expect(pulled).toBeGreaterThanOrEqual(28);
  expect(pulled).toBeLessThanOrEqual(32);
  for (let i = 0; i < 8; i++) await page.keyboard.press('Control+z');
  expect(lengths(await keptReel(page, id))).toEqual([]);
  for (let i = 0; i < 8; i++) await page.keyboard.press('Control+Shift+z');
  expect((await keptReel(page, id)).items.map(({ frames }) => frames)).toEqual([pulled, 20, 48]);
  // After a reload it is all there.
  await page.reload();
  await expect(block(page, 'Gulls')).toBeVisible();
});

test('a timeline goes out as OpenTimelineIO and comes in again; what is not known is told', async ({
  page,
}) => {
  await colouredProject('Mole films', { Crane: '#705030' });
  const id = await newReel(page, 'Mole films', 'Cut');
  await put(page, 'Crane');
  await page.getByRole('radio', { name: 'Dissolve' }).click();
  await page.getByRole('button', { name: 'Title' }).click();
  await page.getByRole('radio', { name: 'Wipe' }).click();
  const reel = await keptReel(page, id);
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save timeline' }).click(),
  ]);
  expect(saved.suggestedFilename()).toBe('Cut.otio');
  const text = readFileSync(await saved.path(), 'utf8');
  const bring = async (content: string): Promise<void> => {
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Timeline...' }).click(),
    ]);
    await chooser.setFiles({ name: 'in.otio', mimeType: 'application/json', buffer: Buffer.from(content) });
  };
  await block(page, 'Crane').click();
  await page.keyboard.press('Delete');
  await keptReel(page, id);
  await bring(text);
  await expect(page.getByText('Cut is the reel now')).toBeVisible();
  const bare = ({ items, ...rest }: Reel) => ({ ...rest, items: items.map(({ id: _id, ...item }) => item) });
  expect(bare(await keptReel(page, id))).toEqual(bare(reel));
  await bring(text.replaceAll('Crane', 'Ferry').replaceAll(/"shot": "[^"]*"/g, '"shot": null'));
  await expect(page.getByText('No shot here is called "Ferry"')).toBeVisible();
  await expect(block(page, 'Ferry')).toBeVisible();
  await bring('{"OTIO_SCHEMA": "Clip.2"}');
  await expect(page.getByText('in.otio cannot be read')).toContainText('is no Timeline');
});

test('what is amiss in the shots of a reel is told before it is rendered, with the way there', async ({
  page,
}) => {
  const { id } = await ask<Card>('POST', '/projects', { name: 'Amiss' });
  const blank = blankShot({ first: 1, last: 40, width: 320, height: 180 });
  const camera = addPart(blank, { kind: 'camera', name: 'Camera' });
  const seen = apply(blank, camera.change);
  const lamp = addPart(seen, { kind: 'sun', name: 'Noon' });
  const lit = apply(seen, lamp.change);
  const way = `${lamp.id}/location.x`;
  const first = apply(lit, keyChannels(lit, 30, [[way, 0]]));
  const document = apply(first, keyChannels(first, 30.5, [[way, 2]]));
  await ask('POST', `/projects/${id}/shots`, { name: 'Lamp', document });
  await newReel(page, 'Amiss', 'Opening');
  await put(page, 'Lamp');
  await expect(page.getByTestId('kept')).toHaveText('Kept');
  await page.getByRole('button', { name: 'Render...' }).click();
  const told = page.getByRole('region', { name: 'Before you start' });
  const finding = told.getByRole('listitem').filter({ hasText: 'two keys are closer than a frame' });
  await expect(finding).toContainText('at 30 and 30.5');
  await finding.getByRole('link', { name: 'Show me' }).click();
  await expect(page.getByLabel('Current frame')).toHaveValue('30.5');
  await expect(page.getByRole('treeitem', { name: 'Noon' })).toHaveAttribute('aria-selected', 'true');
  // The place was asked for once: going on from there, the address is that of the shot.
  expect(new URL(page.url()).search).toBe('');
});

test('what somebody else has kept is not overwritten unasked', async ({ page, context }) => {
  await colouredProject('Lock films', { Gate: '#506070' });
  const id = await newReel(page, 'Lock films', 'Shared');
  const other = await context.newPage();
  await other.goto(url(`/reels/${id}`));
  await put(other, 'Gate');
  await keptReel(other, id);
  await page.getByRole('button', { name: 'Black' }).click();
  await expect(page.getByTestId('kept')).toHaveText('Changed elsewhere');
  await page.getByRole('button', { name: 'Take the other' }).click();
  await expect(block(page, 'Gate')).toBeVisible();
  await page.getByRole('button', { name: 'Black' }).click();
  expect(lengths(await keptReel(page, id))).toEqual(['Gate 40', 'title 48']);
  await put(other, 'Gate');
  await expect(other.getByTestId('kept')).toHaveText('Changed elsewhere');
  await other.getByRole('button', { name: 'Keep mine' }).click();
  expect(lengths(await keptReel(other, id))).toEqual(['Gate 40', 'Gate 40']);
});

test('a finished film is put in a reel; a shot that is gone afterwards is black and told', async ({
  page,
}) => {
  const project = await colouredProject('Dock films', { Barge: '#907050' });
  const { shots } = (await ask<(Card & { shots: Card[] })[]>('GET', '/projects')).find(
    ({ id }) => id === project,
  )!;
  const shot = shots[0]!.id;
  const order = { first: 11, last: 20, width: 64, height: 36, format: 'mp4', alpha: false };
  const film = await ask<Card>('POST', `/shots/${shot}/renders`, order);
  await expect
    .poll(async () => (await ask<{ status: string }>('GET', `/renders/${film.id}`)).status, {
      timeout: 120_000,
    })
    .toBe('done');
  await page.goto(url('/renders'));
  await page
    .getByRole('button', { name: /^Barge/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Put in a reel' }).click();
  await page.getByRole('menuitem', { name: 'A new reel' }).click();
  await expect(page.getByText('Barge is at the end of the reel Barge, 10 frames.')).toBeVisible();
  await page.getByRole('button', { name: 'Open the reel' }).click();
  await expect(block(page, 'Barge')).toBeVisible();
  const id = page.url().split('/').at(-1)!;
  expect(await keptReel(page, id)).toMatchObject({ width: 320, items: [{ first: 11, frames: 10 }] });
  near(await seenAt(page, 3), [0x90, 0x70, 0x50]);
  await fetch(url(`/api/shots/${shot}`), { method: 'DELETE' });
  await page.reload();
  await expect(page.getByRole('status').filter({ hasText: 'Frame 1 cannot be drawn: Barge' })).toBeVisible();
  near(await seenAt(page, 3), [0x14, 0x20, 0x2d], 2);
  await page.getByRole('button', { name: 'Render...' }).click();
  await page.getByRole('button', { name: 'Render the reel' }).click();
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText('The shot "Barge" is gone');
});
