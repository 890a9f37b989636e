import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { PNG } from 'pngjs';
import type { RenderJob } from '../wire';
import {
  addPart,
  blankCopy,
  choosePart,
  field,
  goToFrame,
  keptShot,
  openDrawn,
  openShot,
  type,
  url,
  waitDrawn,
  waitKept,
} from './workbench';

const nameOf = async (id: string): Promise<string> =>
  ((await (await fetch(`${url()}/api/shots/${id}`)).json()) as { name: string }).name;

/** Share of points that differ between two pictures of the same size. */
function apart(a: PNG, b: PNG): number {
  let differ = 0;
  for (let i = 0; i < a.data.length; i += 4)
    if (Math.abs(a.data[i]! - b.data[i]!) + Math.abs(a.data[i + 1]! - b.data[i + 1]!) > 24) differ++;
  return differ / (a.data.length / 4);
}

async function shown(page: Page): Promise<PNG> {
  await waitDrawn(page);
  return PNG.sync.read(await page.getByTestId('view-canvas').screenshot());
}

async function frameOf(id: string, frame: number): Promise<PNG> {
  const answer = await fetch(`${url()}/api/renders/${id}/frames/${frame}`);
  return PNG.sync.read(Buffer.from(await answer.arrayBuffer()));
}

test('a shot is shown in another in its own time, followed when it changes, filmed, and refused in circles', async ({
  page,
}) => {
  const inner = await blankCopy();
  await openShot(page, inner);
  await addPart(page, 'Box');
  await waitKept(page);
  const host = await blankCopy();
  await openDrawn(page, host);

  await page.getByRole('region', { name: 'Parts' }).getByRole('button', { name: 'Add' }).click();
  await page.getByLabel('Search what can be added').fill(await nameOf(inner));
  await page.getByRole('option', { name: `The shot ${await nameOf(inner)}`, exact: true }).click();
  await expect(page.getByRole('treeitem', { selected: true })).toContainText(await nameOf(inner));
  await type(page, `${await nameOf(inner)} location Y`, '0.3');

  // It begins later: before that it is not there.
  await type(page, 'Begins at', '20');
  await waitKept(page);
  const empty = await shown(page);
  await goToFrame(page, 20);
  await expect.poll(async () => apart(empty, await shown(page))).toBeGreaterThan(0.02);
  const small = await shown(page);

  // Whoever changes the inner shot changes what is seen here.
  const other = await page.context().newPage();
  await openShot(other, inner);
  await choosePart(other, 'Box');
  await type(other, 'Box width', '3');
  await waitKept(other);
  await other.close();
  await expect.poll(async () => apart(small, await shown(page)), { timeout: 180_000 }).toBeGreaterThan(0.01);
  await goToFrame(page, 19);
  await expect.poll(async () => apart(empty, await shown(page))).toBeLessThan(0.01);
  await waitKept(page);
  expect(
    Object.values((await keptShot(host)).document.parts).find((part) => part.inset)?.inset,
  ).toMatchObject({
    shot: inner,
    start: 20,
  });

  // The film has it from that frame on.
  const order = await fetch(`${url()}/api/shots/${host}/renders`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ first: 19, last: 20, width: 320, height: 180, format: 'png', alpha: false }),
  });
  const { id } = (await order.json()) as RenderJob;
  await expect
    .poll(async () => ((await (await fetch(`${url()}/api/renders/${id}`)).json()) as RenderJob).status, {
      timeout: 90_000,
    })
    .toBe('done');
  expect(apart(await frameOf(id, 19), await frameOf(id, 20))).toBeGreaterThan(0.02);

  // The other way round each would contain the other.
  await openShot(page, inner);
  await page.getByRole('region', { name: 'Parts' }).getByRole('button', { name: 'Add' }).click();
  await page.getByLabel('Search what can be added').fill(await nameOf(host));
  await page.getByRole('option', { name: `The shot ${await nameOf(host)}`, exact: true }).click();
  await expect(page.getByText(/would contain itself: it would show .*, which shows /)).toBeVisible();
  expect(Object.values((await keptShot(inner)).document.parts).some((part) => part.inset)).toBe(false);
  await expect(field(page, 'Begins at')).toHaveCount(0);
});
