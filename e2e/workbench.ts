import { expect, type Locator, type Page } from '@playwright/test';
import { keyList, linkOf, type Key, type Shot } from '../core/document';
import { compile, Evaluator } from '../core/evaluate';
import { NameTable, textOfLink } from '../core/formula';
import { goWithin, standsReady } from './same-page';

/** Address of the server of this worker. */
export const url = (path = ''): string =>
  `${process.env[`WHIRL_E2E_URL_${process.env.TEST_PARALLEL_INDEX}`]}${path}`;

/** Database of this worker. */
export const databaseUrl = (): string =>
  process.env[`WHIRL_E2E_DATABASE_${process.env.TEST_PARALLEL_INDEX}`]!;

/** Seconds for which a busy server is asked again. */
const BUSY_TRIES = 60;

/** Asks a server; one that is too busy to answer says so, and is asked again, as a person would. */
async function asked(address: string, init?: RequestInit): Promise<Response> {
  for (let tries = 0; ; tries++) {
    const answer = await fetch(address, init);
    if (answer.status !== 503 || tries === BUSY_TRIES) return answer;
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
}
interface Project {
  readonly id: string;
  readonly name: string;
  readonly shots: readonly { id: string; name: string }[];
}

export async function projects(server = url()): Promise<Project[]> {
  return (await (await asked(`${server}/api/projects`)).json()) as Project[];
}

/** A copy of the demo shot of its own for a test. @returns its id */
export async function demoCopy(server = url(), name = 'Full ride'): Promise<string> {
  const shot = (await projects(server))
    .flatMap((project) => project.shots)
    .find((entry) => entry.name === name)!;
  const answer = await asked(`${server}/api/shots/${shot.id}/duplicate`, { method: 'POST' });
  return ((await answer.json()) as { id: string }).id;
}

/** A shot of its own for a test, in a project of its own. @returns its id */
export async function newShot(name: string, document: Shot, server = url()): Promise<string> {
  const post = async (path: string, body: unknown): Promise<string> => {
    const answer = await asked(`${server}/api${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    return ((await answer.json()) as { id: string }).id;
  };
  const project = await post('/projects', { name: `Project of ${name}` });
  return post(`/projects/${project}/shots`, { name, document });
}

/**
 * Opens a shot with nothing drawn in its view, for tests that do not look at the picture: where a processor draws, most
 * of a test's time would go into it.
 */
export const openShot = (page: Page, id: string, server = url()): Promise<void> =>
  openDrawn(page, id, 'blank', server);

/** Opens a shot with its view drawn whole, or as a draft in a third of the time. */
export async function openDrawn(
  page: Page,
  id: string,
  how: 'no' | 'yes' | 'blank' = 'no',
  server = url(),
): Promise<void> {
  const draw = (draft: string): void => {
    if (location.protocol === 'http:') localStorage.setItem('whirl:draft-view', draft);
  };
  await page.addInitScript(draw, how);
  if (standsReady(page, server)) {
    await page.evaluate(draw, how);
    await goWithin(page, `/shots/${id}`);
  } else await page.goto(`${server}/shots/${id}`);
  await expect(page.getByTestId('kept')).toHaveText('Kept');
}

/** The document as the database has it. */
export async function keptShot(id: string, server = url()): Promise<{ revision: number; document: Shot }> {
  let answer = await asked(`${server}/api/shots/${id}`);
  // A server that is busy with films may ask to come again.
  for (let i = 0; i < 20 && !answer.ok; i++) {
    await new Promise((resolve) => setTimeout(resolve, 500));
    answer = await asked(`${server}/api/shots/${id}`);
  }
  if (!answer.ok) throw new Error(`${id}: ${answer.status} ${await answer.text()}`);
  return (await answer.json()) as { revision: number; document: Shot };
}

export function partNamed(shot: Shot, name: string): { id: string; part: Shot['parts'][string] } {
  const [id, part] = Object.entries(shot.parts).find(([, entry]) => entry.name === name)!;
  return { id, part };
}

export async function waitKept(page: Page): Promise<void> {
  // What was done last must be on the screen before the screen is asked.
  await waitDrawn(page);
  await expect(page.getByTestId('kept')).toHaveText('Kept');
}

/** Waits until the page has done what it was asked and shows it. */
export async function waitDrawn(page: Page): Promise<void> {
  await expect(page.locator('[data-waiting]')).toHaveCount(0);
  for (let i = 0; i < 3; i++)
    await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve))));
  // While things change the view may be drawn coarser; what is read of it is the picture of what has come to rest.
  await expect(page.locator('[data-waiting]')).toHaveCount(0);
}

export async function goToFrame(page: Page, frame: number | string): Promise<void> {
  const field = page.getByLabel('Current frame');
  await field.fill(String(frame));
  await field.press('Enter');
}

export async function choosePart(page: Page, name: string): Promise<void> {
  await page.getByLabel('Find a part').fill(name);
  await page
    .getByRole('treeitem')
    .filter({ has: page.getByText(name, { exact: true }) })
    .first()
    .click();
  await page.getByLabel('Find a part').fill('');
  await page.getByLabel('Find a part').blur();
}

/** Adds something by the sheet, with the mouse. */
export async function addPart(page: Page, name: string): Promise<void> {
  await page.getByRole('region', { name: 'Parts' }).getByRole('button', { name: 'Add' }).click();
  await page.getByRole('option', { name, exact: true }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(page.getByRole('treeitem', { selected: true })).toContainText(name);
}

/** A new, empty shot of its own for a test. @returns its id */
export async function blankCopy(server = url()): Promise<string> {
  const project = (await projects(server))[0]!;
  const answer = await asked(`${server}/api/projects/${project.id}/shots`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name: `Test ${Math.random().toString(36).slice(2, 8)}` }),
  });
  return ((await answer.json()) as { id: string }).id;
}

/** Renames the chosen part by keyboard. */
export async function renameChosen(page: Page, name: string): Promise<void> {
  await page.keyboard.press('F2');
  await page.getByLabel('New name').fill(name);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('treeitem', { selected: true })).toContainText(name);
}

/** Finds something by Ctrl+K and takes the first answer. */
export async function find(page: Page, words: string): Promise<void> {
  await page.keyboard.press('Control+k');
  // At once, as pasted: that it answers letter by letter has tests of its own.
  await expect(page.getByPlaceholder('A command, a part or a channel...')).toBeFocused();
  await page.keyboard.insertText(words);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
  // What was found is gone to, or done, a moment after the search has closed.
  await waitDrawn(page);
}

export const field = (page: Page, label: string): Locator => page.getByLabel(label, { exact: true });

/** Types into a field and keeps it. */
export async function type(page: Page, label: string, text: string): Promise<void> {
  await field(page, label).click();
  await field(page, label).fill(text);
  await field(page, label).press('Enter');
}

/** Place on the screen of a frame on a lane. */
export async function lanePoint(
  page: Page,
  lane: string,
  frame: number,
  first = 1,
): Promise<{ x: number; y: number }> {
  const group = page.getByRole('group', { name: 'Lanes' });
  const box = (await group.boundingBox())!;
  const firstX = Number(await group.getAttribute('data-first-x'));
  const perFrame = Number(await group.getAttribute('data-per-frame'));
  const row = (await page.getByRole('option', { name: new RegExp(`^${lane}`) }).boundingBox())!;
  return { x: box.x + firstX + (frame - first) * perFrame, y: row.y + row.height / 2 };
}

export async function dragMouse(
  page: Page,
  from: { x: number; y: number },
  to: { x: number; y: number },
  steps = 12,
): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps });
  await page.mouse.up();
}

/** What a part's channel, or one of its shape, is at frames of a document: worked out once for all that is asked. */
export function reader(shot: Shot): (part: string, path: string, frame: number) => number {
  const evaluator = new Evaluator(compile(shot));
  return (name, path, frame) => {
    evaluator.evaluate(frame);
    const { id, part } = partNamed(shot, name);
    return evaluator.number(`${evaluator.plan.slots.has(`${id}/${path}`) ? id : part.shape!}/${path}`);
  };
}

/** Keys of a part's channel in order. */
export function keysOf(shot: Shot, part: string, path: string): readonly Key[] {
  const track = partNamed(shot, part).part.tracks[path];
  return track ? keyList(track) : [];
}

/** Formula of a part's channel as it reads now. */
export function formulaOf(shot: Shot, part: string, path: string): string | null {
  const link = linkOf(shot, `${partNamed(shot, part).id}/${path}`);
  return link && textOfLink(new NameTable(shot), link);
}

/** Middle and radius on the screen of the ring that turns the chosen part about an axis. */
export async function ringOf(page: Page, axis: string): Promise<readonly [number, number, number]> {
  return page
    .locator(`[data-handle="turn-${axis}"] path`)
    .first()
    .evaluate((path: SVGPathElement) => {
      const [inside, svg] = [path.getBBox(), path.ownerSVGElement!.getBoundingClientRect()];
      return [
        svg.left + inside.x + inside.width / 2,
        svg.top + inside.y + inside.height / 2,
        inside.width / 2,
      ] as const;
    });
}

/** Where something is once it has come to rest: a map or a sheet may still be on its way to its place. */
export async function restingBox(
  shown: Locator,
): Promise<{ x: number; y: number; width: number; height: number }> {
  let before = '';
  await expect
    .poll(
      async () => {
        const now = JSON.stringify(await shown.boundingBox());
        const same = now === before && now !== 'null';
        before = now;
        return same;
      },
      { intervals: [150] },
    )
    .toBe(true);
  return JSON.parse(before) as { x: number; y: number; width: number; height: number };
}

/** What a canvas or a picture of the page shows: four bytes a pixel, row by row, as text on their way, which is quick. */
export async function pixelsOf(
  shown: Locator,
): Promise<{ readonly width: number; readonly height: number; readonly data: Buffer }> {
  const { width, height, text } = await shown.evaluate((thing: HTMLCanvasElement | HTMLImageElement) => {
    const [width, height] =
      thing instanceof HTMLCanvasElement
        ? [thing.width, thing.height]
        : [thing.naturalWidth, thing.naturalHeight];
    const copy = new OffscreenCanvas(width, height).getContext('2d')!;
    copy.drawImage(thing, 0, 0);
    const { data } = copy.getImageData(0, 0, width, height);
    let text = '';
    for (let i = 0; i < data.length; i += 8192) text += String.fromCharCode(...data.subarray(i, i + 8192));
    return { width, height, text: btoa(text) };
  });
  return { width, height, data: Buffer.from(text, 'base64') };
}
