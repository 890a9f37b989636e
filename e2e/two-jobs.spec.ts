import { expect } from '@playwright/test';
import { test } from './same-page';
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
  reader,
  renameChosen,
  type,
  waitKept,
} from './workbench';

/** Two whole jobs from an empty shot, with mouse and keyboard, read back at every tenth frame. */

let id = '';
test.beforeEach(async ({ page }) => {
  id = await blankCopy();
  await openShot(page, id);
});

test('a mechanism: one crank drives four pistons, a quarter turn apart', async ({ page }) => {
  await addPart(page, 'Cylinder');
  await renameChosen(page, 'Crank');
  await type(page, 'Crank radius', '0.25');
  await type(page, 'Crank location X', '-1.5');
  await type(page, 'Crank rotation Z', '0');
  await find(page, 'Crank rotation Z');
  await page.keyboard.press('Enter');
  await page.keyboard.press('k');
  await goToFrame(page, 81);
  await type(page, 'Crank rotation Z', '=frame');
  // A formula was not meant here: back to the number, and on.
  await page.keyboard.press('Control+z');
  await type(page, 'Crank rotation Z', '2*360');
  await page.keyboard.press('k');

  // One piston, driven by the formula of its trade; three linked copies of it in a row.
  await addPart(page, 'Box');
  await renameChosen(page, 'Piston');
  await type(page, 'Piston width', '0.4');
  await type(page, 'Piston location Y', '=slider(Crank.rotation.z, 0.2m, 0.8m)');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+d');
  for (const [i, name] of ['Piston 2', 'Piston 3', 'Piston 4'].entries()) {
    await choosePart(page, name);
    await type(page, `${name} location X`, String((i + 1) * 0.6));
    await type(page, `${name} location Y`, `=slider(Crank.rotation.z + ${(i + 1) * 90}deg, 0.2m, 0.8m)`);
  }
  await waitKept(page);
  const { document } = await keptShot(id);
  const value = reader(document);
  for (let frame = 1; frame <= 96; frame += 10) {
    // Smooth from rest to rest over 80 frames: half the way at half the time; the handbook's formula of the crank.
    const turn = value('Crank', 'rotation.z', frame);
    if (frame === 41) expect(turn).toBeCloseTo(360, 9);
    if (frame >= 81) expect(turn).toBe(720);
    ['Piston', 'Piston 2', 'Piston 3', 'Piston 4'].forEach((name, i) => {
      const angle = ((turn + i * 90) * Math.PI) / 180;
      const want = 0.2 * Math.cos(angle) + Math.sqrt(0.8 ** 2 - (0.2 * Math.sin(angle)) ** 2);
      expect(value(name, 'location.y', frame), `${name} at ${frame}`).toBeCloseTo(want, 9);
    });
  }
  ['Piston', 'Piston 2', 'Piston 3', 'Piston 4'].forEach((name, i) =>
    expect(value(name, 'location.x', 1)).toBeCloseTo(i * 0.6, 12),
  );
  // Wider once, wider all four times: they share their shape.
  await choosePart(page, 'Piston 3');
  await type(page, 'Piston 3 width', '0.5');
  await waitKept(page);
  const wider = (await keptShot(id)).document;
  expect(
    new Set(
      ['Piston', 'Piston 4'].map((name) => wider.shapes[partNamed(wider, name).part.shape!]!.values.width),
    ),
  ).toEqual(new Set([0.5]));
});

test('a puppet goes through four poses and back, posed with Key pose', async ({ page }) => {
  await addPart(page, 'Hub');
  await renameChosen(page, 'Bosun');
  for (const [name, y] of [
    ['Body', '1'],
    ['Arm', '1.4'],
    ['Leg', '0.5'],
  ] as const) {
    await addPart(page, 'Box');
    await renameChosen(page, name);
    await type(page, `${name} location Y`, y);
    await type(page, `${name} height`, '0.6');
    await type(page, `${name} pivot Y`, '0.3');
    await page
      .getByRole('treeitem')
      .filter({ has: page.getByText('Bosun', { exact: true }) })
      .click({ modifiers: ['Control'] });
    await find(page, 'hang the chosen');
  }
  // Poses: arm, leg and how far the whole figure has gone.
  const POSES = [
    [1, 0, 0, 0],
    [25, 70, -20, 0.4],
    [49, 70, 35, 0.8],
    [73, -40, 0, 1.2],
    [96, 0, 0, 0],
  ] as const;
  for (const [frame, arm, leg, x] of POSES) {
    await goToFrame(page, frame);
    await choosePart(page, 'Arm');
    if (frame > 1) await type(page, 'Arm rotation Z', String(arm));
    await choosePart(page, 'Leg');
    if (frame > 1) await type(page, 'Leg rotation Z', String(leg));
    await choosePart(page, 'Bosun');
    if (frame > 1) await type(page, 'Bosun location X', String(x));
    if (frame === 49) await page.keyboard.press('j');
    else await page.getByRole('button', { name: 'Key pose' }).click();
  }
  await waitKept(page);
  const { document } = await keptShot(id);
  const value = reader(document);
  // What was meant: smooth from pose to pose (monotone: it rests where it turns round), no jump, no overshoot.
  const meant = (at: 1 | 2 | 3, frame: number): [number, number] => {
    const next = POSES.findIndex((pose) => pose[0] >= frame);
    if (next <= 0) return [POSES[0][at], POSES[0][at]];
    const [a, b] = [POSES[next - 1]!, POSES[next]!];
    return [Math.min(a[at], b[at]), Math.max(a[at], b[at])];
  };
  for (let frame = 1; frame <= 96; frame += 10)
    for (const [part, path, at] of [
      ['Arm', 'rotation.z', 1],
      ['Leg', 'rotation.z', 2],
      ['Bosun', 'location.x', 3],
    ] as const) {
      const [low, high] = meant(at, frame);
      const got = value(part, path, frame);
      expect(got, `${part} at ${frame}`).toBeGreaterThanOrEqual(low - 1e-9);
      expect(got, `${part} at ${frame}`).toBeLessThanOrEqual(high + 1e-9);
    }
  for (const [frame, arm, leg, x] of POSES) {
    expect(value('Arm', 'rotation.z', frame)).toBeCloseTo(arm, 9);
    expect(value('Leg', 'rotation.z', frame)).toBeCloseTo(leg, 9);
    expect(value('Bosun', 'location.x', frame)).toBeCloseTo(x, 9);
  }
  // Halfway between two poses between which it does not rest at the middle it is on its way, not still at the first.
  expect(value('Arm', 'rotation.z', 13)).toBeCloseTo(35, 6);
  expect(value('Arm', 'rotation.z', 61)).toBeCloseTo(15, 6);
  expect(value('Arm', 'rotation.z', 37)).toBe(70);
  for (const part of Object.values(document.parts))
    for (const track of Object.values(part.tracks))
      for (const key of Object.values(track.keys)) expect(key.manner).not.toBe('hold');
  await expect(field(page, 'Bosun location X')).toBeVisible();
});
