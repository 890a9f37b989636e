import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { expect, test, type Page } from '@playwright/test';
import {
  addPart,
  blankCopy,
  choosePart,
  goToFrame,
  keptShot,
  keysOf,
  openShot,
  url,
  waitKept,
} from './workbench';

const run = promisify(execFile);
const RATE = 44_100;
let folder: string;
test.beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'whirl-sound-'));
});
test.afterAll(async () => {
  await rm(folder, { recursive: true });
});

/** A WAV file of strokes, one each half second from 0.25 s on, for three seconds; a seed makes it a file of its own. */
async function strokes(seed: number): Promise<string> {
  const count = RATE * 3;
  const bytes = Buffer.alloc(44 + count * 2);
  bytes.write('RIFF', 0, 'latin1');
  bytes.writeUInt32LE(bytes.length - 8, 4);
  bytes.write('WAVEfmt ', 8, 'latin1');
  [16, 65_537, RATE, RATE * 2, 1_048_578].forEach((word, i) => bytes.writeUInt32LE(word, 16 + 4 * i));
  bytes.write('data', 36, 'latin1');
  bytes.writeUInt32LE(count * 2, 40);
  for (let i = 0; i < count; i++) {
    const since = ((i / RATE - 0.25 + 0.5) % 0.5) * (i / RATE >= 0.25 ? 1 : NaN);
    const value =
      since < 0.2 ? 0.8 * Math.exp(-since / 0.03) * Math.sin(2 * Math.PI * (500 + seed) * since) : 0;
    bytes.writeInt16LE(Math.round(value * 32_767), 44 + i * 2);
  }
  const path = join(folder, `Quay drum ${seed}.wav`);
  await writeFile(path, bytes);
  return path;
}

/** Keeps what the page lets be heard where a test can look at it. */
const listen = (page: Page) =>
  page.addInitScript(() => {
    const Made = AudioContext;
    Object.assign(globalThis, {
      AudioContext: class extends Made {
        override createGain(): GainNode {
          const out = super.createGain();
          const heardBy = this.createAnalyser();
          out.connect(heardBy);
          Object.assign(globalThis, { heardBy });
          return out;
        }
      },
    });
  });

async function bringIn(page: Page, path: string): Promise<void> {
  await page.keyboard.press('n');
  const chooser = page.locator('input[type=file]').first();
  // Else the browser's own window would not offer it.
  await expect(chooser).toHaveAttribute('accept', /\.wav\b/);
  await chooser.setInputFiles(path);
  await expect(page.getByRole('group', { name: 'Sounds' }).locator('canvas')).toHaveCount(1);
  await page.keyboard.press('Escape');
}

const openSheet = (page: Page): Promise<void> =>
  page
    .getByRole('group', { name: 'Sounds' })
    .getByRole('button', { name: /^Quay drum/ })
    .click();

test('a sound is brought in, its strokes become beats, and a value is keyed on every second one', async ({
  page,
}) => {
  const id = await blankCopy();
  await openShot(page, id);
  await addPart(page, 'Box');
  await bringIn(page, await strokes(1));
  await openSheet(page);
  await expect(page.getByTestId('strokes-found')).toHaveText('6 found', { timeout: 180_000 });
  await expect(page.getByText('120 a minute')).toBeVisible();
  await page.getByRole('button', { name: 'Mark the strokes' }).click();
  await page.getByRole('button', { name: 'Done' }).click();
  await waitKept(page);
  const beats = Object.values((await keptShot(id)).document.markers)
    .filter((marker) => marker.beat)
    .map((marker) => marker.frame)
    .sort((a, b) => a - b);
  // 24 a second from frame 1: half a second is twelve frames; 10 ms are a quarter of a frame.
  expect(beats).toHaveLength(6);
  beats.forEach((frame, i) => expect(Math.abs(frame - (7 + 12 * i))).toBeLessThan(0.25));
  await choosePart(page, 'Box');
  await page.getByLabel('Box location Y', { exact: true }).click();
  await openSheet(page);
  await page.getByLabel('On every').selectOption({ label: '2nd beat' });
  await page.getByRole('button', { name: /^Key Box location Y/ }).click();
  await page.getByRole('button', { name: 'Done' }).click();
  await waitKept(page);
  const keys = keysOf((await keptShot(id)).document, 'Box', 'location.y').map((key) => key.frame);
  expect(keys).toEqual([beats[0], beats[2], beats[4]]);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await waitKept(page);
  expect(Object.keys((await keptShot(id)).document.markers)).toHaveLength(0);
  // Moved, cut and taken out by keyboard alone.
  await page.getByRole('button', { name: /^Place of Quay drum/ }).focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Alt+ArrowLeft');
  await waitKept(page);
  const [moved] = Object.values((await keptShot(id)).document.sounds);
  expect(moved!.start).toBe(10);
  expect(moved!.length).toBeCloseTo(3 - 1 / 24, 6);
  await expect(page.getByRole('table', { name: 'Sounds of the shot' })).toContainText('frame 10');
  await page.getByRole('button', { name: /^What can be done with Quay drum/ }).focus();
  await page.keyboard.press('Enter');
  const out = page.getByRole('menuitem', { name: 'Take it out of the shot' });
  await expect(out).toBeVisible();
  await page.keyboard.press('End');
  await expect(out).toBeFocused();
  await page.keyboard.press('Enter');
  // While a menu is open, what lies behind it is there for nobody.
  await expect(out).toHaveCount(0);
  await expect(page.getByRole('group', { name: 'Sounds' }).locator('canvas')).toHaveCount(0);
  await waitKept(page);
  expect((await keptShot(id)).document.sounds).toEqual({});
});

test('it is heard at once, the picture keeps to it, and muting it is heard, too', async ({ page }) => {
  const id = await blankCopy();
  await listen(page);
  await openShot(page, id);
  await bringIn(page, await strokes(2));
  await openSheet(page);
  await expect(page.getByTestId('strokes-found')).toBeVisible({ timeout: 180_000 });
  await page.getByLabel('Over and over').check();
  await page.getByRole('button', { name: 'Done' }).click();
  await page.waitForTimeout(1500);
  await page.keyboard.press('Space');
  // Frame against the clock of what is heard, ten times a second, for ten seconds of sound. Where sound is made in software
  // on a busy machine its clock may run slower than the one on the wall.
  const seen = await page.evaluate(async () => {
    const { heardBy } = globalThis as unknown as { heardBy: AnalyserNode };
    const field = document.querySelector<HTMLInputElement>('[aria-label="Current frame"]')!;
    const samples = new Float32Array(heardBy.fftSize);
    const rows: { frame: number; clock: number; peak: number }[] = [];
    const started = heardBy.context.currentTime;
    while (heardBy.context.currentTime - started < 10) {
      await new Promise((next) => setTimeout(next, 100));
      await new Promise((next) => requestAnimationFrame(next));
      const { contextTime, performanceTime } = (heardBy.context as AudioContext).getOutputTimestamp();
      const frame = Number(field.value);
      heardBy.getFloatTimeDomainData(samples);
      rows.push({
        frame,
        clock: contextTime! + (performance.now() - performanceTime!) / 1000,
        peak: samples.reduce((most, value) => Math.max(most, Math.abs(value)), 0),
      });
    }
    return rows;
  });
  await page.keyboard.press('Space');
  expect(Math.max(...seen.map((row) => row.peak))).toBeGreaterThan(0.05);
  const { first, last, rate } = (await keptShot(id)).document.setup;
  const [fps, length] = [rate.num / rate.den, last - first + 1];
  // The same distance all the time, but for what numbers of frames leave out, and half a frame.
  const apart = seen.map(({ frame, clock }) => (((frame - clock * fps) % length) + length) % length);
  const start = apart[0]!;
  const off = apart.map((value) => ((value - start + length * 1.5) % length) - length / 2);
  // A machine that stands still between two callbacks of one picture shows in some samples: those furthest off are left out.
  off.sort((a, b) => a - b);
  const few = Math.ceil(off.length * 0.1);
  expect(off.at(-1 - few)! - off[few]!).toBeLessThan(1.5);
  // It came round: more was played than the shot is long.
  expect(seen.at(-1)!.clock - seen[0]!.clock).toBeGreaterThan(length / fps);
  await page.getByRole('button', { name: /^Mute Quay drum/ }).click();
  await page.keyboard.press('Space');
  await page.waitForTimeout(600);
  const quiet = await page.evaluate(() => {
    const { heardBy } = globalThis as unknown as { heardBy: AnalyserNode };
    const samples = new Float32Array(heardBy.fftSize);
    heardBy.getFloatTimeDomainData(samples);
    return samples.every((value) => value === 0);
  });
  expect(quiet).toBe(true);
});

test('a link reads its loudness, and a film has it in step', async ({ page }) => {
  const id = await blankCopy();
  await openShot(page, id);
  await addPart(page, 'Box');
  await bringIn(page, await strokes(3));
  await openSheet(page);
  await expect(page.getByTestId('strokes-found')).toBeVisible({ timeout: 180_000 });
  await page.getByRole('button', { name: 'Done' }).click();
  await choosePart(page, 'Box');
  await page.getByLabel('Box location X', { exact: true }).fill('= level("Quay drum 3", 20Hz, 20000Hz) * 1m');
  await page.getByLabel('Box location X', { exact: true }).press('Enter');
  await waitKept(page);
  const x = async (frame: number): Promise<number> => {
    await goToFrame(page, frame);
    return Number(
      (await page.getByLabel('Box location X', { exact: true }).inputValue()).replace(/[^\d.-]/g, ''),
    );
  };
  // On a stroke (frame 7 and a bit), and between two.
  expect(await x(8)).toBeGreaterThan(0.1);
  expect(await x(17)).toBeLessThan(0.02);
  const body = { first: 1, last: 36, width: 160, height: 90, format: 'mp4', alpha: false, quality: 'small' };
  const job = (await (
    await fetch(url(`/api/shots/${id}/renders`), {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    })
  ).json()) as { id: string };
  const film = join(folder, 'film.mp4');
  await expect
    .poll(
      async () => {
        const response = await fetch(url(`/api/renders/${job.id}/film`));
        if (response.ok) await writeFile(film, Buffer.from(await response.arrayBuffer()));
        return response.ok;
      },
      { timeout: 120_000 },
    )
    .toBe(true);
  const wav = join(folder, 'film.f32');
  await run('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    film,
    '-map',
    '0:a:0',
    '-ac',
    '1',
    '-ar',
    '48000',
    '-f',
    'f32le',
    wav,
  ]);
  const heard = await readFile(wav);
  const samples = new Float32Array(Uint8Array.from(heard).buffer);
  expect(samples.length / 48_000).toBeCloseTo(1.5, 1);
  // The first stroke comes at a quarter of a second; half a frame is 21 ms.
  const onset = samples.findIndex((value) => Math.abs(value) > 0.1) / 48_000;
  expect(Math.abs(onset - 0.25)).toBeLessThan(0.021);
});

test('what the browser hears of each format is what ffmpeg reads of it', async ({ page }) => {
  const wav = await strokes(4);
  await page.goto(url('/'));
  for (const [ending, loss] of [
    ['wav', 1e-4],
    ['flac', 1e-4],
    ['mp3', 0.02],
    ['ogg', 0.02],
  ] as const) {
    const file = join(folder, `formats.${ending}`);
    if (ending === 'wav') await writeFile(file, await readFile(wav));
    else await run('ffmpeg', ['-v', 'error', '-y', '-i', wav, file]);
    const raw = join(folder, 'formats.f32');
    await run('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-i',
      file,
      '-ac',
      '1',
      '-ar',
      String(RATE),
      '-f',
      'f32le',
      raw,
    ]);
    const bytes = await readFile(raw);
    const read = new Float32Array(bytes.buffer, bytes.byteOffset, Math.floor(bytes.byteLength / 4));
    const heard = await page.evaluate(
      async ({ base64, rate }) => {
        const context = new OfflineAudioContext(1, 1, rate);
        const data = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
        return [...(await context.decodeAudioData(data.buffer)).getChannelData(0)];
      },
      { base64: (await readFile(file)).toString('base64'), rate: RATE },
    );
    expect(Math.abs(heard.length - read.length), ending).toBeLessThan(RATE * 0.06);
    // Coded with loss, the two may begin some samples apart: the best place within a twentieth of a second counts.
    const power = (at: number): number => {
      let sum = 0;
      let all = 0;
      for (let i = RATE / 4; i < RATE * 2; i += 3) {
        sum += (heard[i + at]! - read[i]!) ** 2;
        all += read[i]! ** 2;
      }
      return Math.sqrt(sum / all);
    };
    let best = Infinity;
    for (let at = -RATE / 20; at <= RATE / 20; at += 1) best = Math.min(best, power(Math.round(at)));
    expect(best, ending).toBeLessThan(loss);
    if (loss < 1e-3) expect(power(0), ending).toBeLessThan(loss);
  }
});
