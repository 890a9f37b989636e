import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import pg from 'pg';
import { databaseUrl, url } from './workbench';

test('the storage page tells what is due, and clears it when it is confirmed', async ({ page }) => {
  const database = new pg.Client({ connectionString: databaseUrl() });
  await database.connect();
  const hash = 'ab12'.repeat(16);
  await database.query(
    `insert into asset (hash, type, bytes, size, created_at) values ($1, 'model/obj', $2, $3, now() - interval '3 days')`,
    [hash, Buffer.alloc(2_300_000, 1), 2_300_000],
  );
  const isThere = async (): Promise<boolean> =>
    ((await database.query('select 1 from asset where hash = $1', [hash])).rowCount ?? 0) > 0;
  try {
    await page.goto(url('/'));
    await page.getByRole('link', { name: 'Storage' }).click();
    const row = page.getByRole('row', { name: /Pictures, sounds and meshes that no shot names/ });
    await expect(row).toContainText(/1 day\s*1\s*2\.3 MB/);
    await page.getByRole('button', { name: 'Clear now...' }).click();
    const dialog = page.getByRole('dialog');
    await expect(dialog).toContainText('Pictures, sounds and meshes that no shot names: 1');
    // Leaving changes nothing.
    await dialog.getByRole('button', { name: 'Leave' }).click();
    expect(await isThere()).toBe(true);
    await page.getByRole('button', { name: 'Clear now...' }).click();
    await dialog.getByRole('button', { name: 'Clear', exact: true }).click();
    await expect(row).toContainText(/1 day\s*0/);
    await expect(page.getByText('Last time just now')).toBeVisible();
    expect(await isThere()).toBe(false);
  } finally {
    await database.query('delete from asset where hash = $1', [hash]);
    await database.end();
  }
});

test('killed at random while two edit and films are drawn: nothing is lost, nothing is stuck', async () => {
  const file = fileURLToPath(new URL('../dist/torture.mjs', import.meta.url));
  const { code, said } = await new Promise<{ code: number | null; said: string }>((resolve) => {
    const child = spawn(process.execPath, [file, '--minutes', '0.5', '--seed', '5']);
    let text = '';
    child.stdout.on('data', (part: Buffer) => (text += part.toString()));
    child.stderr.on('data', (part: Buffer) => (text += part.toString()));
    child.on('close', (ended) => resolve({ code: ended, said: text }));
  });
  expect(code, said).toBe(0);
  const figures = JSON.parse(said.slice(said.indexOf('{'), said.lastIndexOf('}') + 1)) as {
    changes: { acknowledged: number };
    films: { started: number };
    malformed: { count: number };
  };
  // How many there are is a matter of the machine; without any nothing would have been tried.
  expect(figures.changes.acknowledged).toBeGreaterThan(5);
  expect(figures.films.started).toBeGreaterThan(0);
  expect(figures.malformed.count).toBeGreaterThan(5);
});
