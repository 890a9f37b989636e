import { expect, test } from '@playwright/test';
import { freePort, startMachine, startServer, type Running } from './processes';
import {
  choosePart,
  databaseUrl,
  demoCopy,
  field,
  keptShot,
  openShot,
  partNamed,
  type,
  url,
  waitKept,
} from './workbench';

test('a server killed between two edits loses nothing that was kept, and takes what waits when it is back', async ({
  page,
}) => {
  const port = await freePort();
  let server: Running = await startServer(databaseUrl(), port);
  try {
    const id = await demoCopy(server.url);
    await openShot(page, id, server.url);
    await choosePart(page, 'Bollard 4');
    await type(page, 'Bollard 4 location X', '1.25');
    await waitKept(page);
    await server.kill();
    await type(page, 'Bollard 4 location Z', '-2.5');
    await expect(page.getByTestId('kept')).toContainText('held here');
    server = await startServer(databaseUrl(), port);
    await waitKept(page);
    expect(partNamed((await keptShot(id, server.url)).document, 'Bollard 4').part.values).toMatchObject({
      'location.x': 1.25,
      'location.z': -2.5,
    });

    // The same with the tab closed while the server is away: the edit waits in the browser's own store.
    await server.kill();
    await type(page, 'Bollard 4 location Y', '0.75');
    await expect(page.getByTestId('kept')).toContainText('held here');
    await page.goto('about:blank');
    server = await startServer(databaseUrl(), port);
    await openShot(page, id, server.url);
    await choosePart(page, 'Bollard 4');
    await expect(field(page, 'Bollard 4 location Y')).toHaveValue('0.75');
    await waitKept(page);
    expect(partNamed((await keptShot(id, server.url)).document, 'Bollard 4').part.values['location.y']).toBe(
      0.75,
    );
  } finally {
    await server.kill();
  }
});

test('two tabs that could not send: what the closed one held is taken over, and leaving is asked about', async ({
  page,
  context,
}) => {
  const port = await freePort();
  let server: Running = await startServer(databaseUrl(), port);
  try {
    const id = await demoCopy(server.url);
    const other = await context.newPage();
    await openShot(page, id, server.url);
    await openShot(other, id, server.url);
    await server.kill();
    await choosePart(page, 'Bollard 1');
    await type(page, 'Bollard 1 location Y', '3');
    await choosePart(other, 'Bollard 2');
    await type(other, 'Bollard 2 location Y', '4');
    for (const tab of [page, other]) {
      await expect(tab.getByTestId('kept')).toContainText('held here');
      await expect(tab.getByTestId('kept')).toHaveAttribute('title', /1 edit held in this browser/);
    }
    // Leaving is asked about; the answer is to stay.
    const asked = other.waitForEvent('dialog');
    void other.close({ runBeforeUnload: true });
    const dialog = await asked;
    expect(dialog.type()).toBe('beforeunload');
    await dialog.dismiss();
    await expect(field(other, 'Bollard 2 location Y')).toHaveValue('4.00');
    await other.close();

    server = await startServer(databaseUrl(), port);
    await waitKept(page);
    const values = async (name: string) =>
      partNamed((await keptShot(id, server.url)).document, name).part.values['location.y'];
    expect([await values('Bollard 1'), await values('Bollard 2')]).toEqual([3, 0.25]);
    const next = await context.newPage();
    await openShot(next, id, server.url);
    await choosePart(next, 'Bollard 2');
    await expect(field(next, 'Bollard 2 location Y')).toHaveValue('4.00');
    await waitKept(next);
    expect([await values('Bollard 1'), await values('Bollard 2')]).toEqual([3, 4]);
  } finally {
    await server.kill();
  }
});

test('two tabs: changes of different places both stay', async ({ page, context }) => {
  const id = await demoCopy();
  const other = await context.newPage();
  await openShot(page, id);
  await openShot(other, id);
  await choosePart(page, 'Bollard 1');
  await type(page, 'Bollard 1 location X', '3');
  await waitKept(page);
  await expect(other.getByText(/^Made elsewhere: /)).toBeVisible();
  await choosePart(other, 'Bollard 2');
  await type(other, 'Bollard 2 location X', '4');
  await waitKept(other);
  const { document } = await keptShot(id);
  expect(partNamed(document, 'Bollard 1').part.values['location.x']).toBe(3);
  expect(partNamed(document, 'Bollard 2').part.values['location.x']).toBe(4);
});

test('a render machine killed in the middle: the film is complete', async () => {
  const id = await demoCopy();
  const machine = await startMachine(databaseUrl());
  const started = await fetch(url(`/api/shots/${id}/renders`), {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ first: 1, last: 60, width: 640, height: 360, format: 'mp4', alpha: false }),
  });
  const { id: job } = (await started.json()) as { id: string };
  const read = async (): Promise<{ status: string; drawn: number }> =>
    (await (await fetch(url(`/api/renders/${job}`))).json()) as { status: string; drawn: number };
  await expect.poll(async () => (await read()).drawn, { timeout: 180_000 }).toBeGreaterThan(5);
  await machine.kill();
  await expect.poll(async () => (await read()).status, { timeout: 240_000 }).toBe('done');
  expect((await read()).drawn).toBe(60);
});
