import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { blankShot, type Shot } from '../core/document';
import { openDrawn, projects, url } from './workbench';

const folder = mkdtempSync(join(tmpdir(), 'whirl-here-'));
const FRAMES = 40;
const [WIDTH, HEIGHT] = [640, 360];
/** Metres that the box goes from frame to frame; the camera sees two metres. */
const STEP = 0.04;

/** A bright box on black that stands in each frame where its number says. */
function walkingBox(rate: { num: number; den: number }, last = FRAMES): Shot {
  const bare = {
    parent: null,
    rotationOrder: 'XYZ',
    shape: null,
    look: null,
    values: {},
    tracks: {},
    links: {},
  } as const;
  const key = (frame: number, value: number) => ({ frame, value, manner: 'linear' as const });
  return {
    ...blankShot({
      width: WIDTH,
      height: HEIGHT,
      background: [0, 0, 0],
      camera: 'prt_camera',
      last,
      rate,
    }),
    shapes: {
      shp_box: { kind: 'box', values: { width: 0.03, height: 0.2, depth: 0.03 }, tracks: {}, links: {} },
    },
    looks: { lok_white: { name: 'White', values: { colour: [1, 1, 1] }, tracks: {}, links: {} } },
    parts: {
      prt_camera: {
        ...bare,
        kind: 'camera',
        name: 'Camera',
        order: 0,
        values: { 'location.z': 2, lens: 36 },
      },
      prt_dark: {
        ...bare,
        kind: 'backdrop',
        name: 'Dark',
        order: 1,
        values: { mirrored: 0, colour: [0, 0, 0] },
      },
      prt_sky: { ...bare, kind: 'sky', name: 'Sky', order: 2 },
      prt_box: {
        ...bare,
        kind: 'solid',
        name: 'Box',
        order: 3,
        shape: 'shp_box',
        look: 'lok_white',
        tracks: {
          'location.x': {
            before: 'hold',
            after: 'hold',
            keys: { key_a: key(1, -0.8), key_b: key(FRAMES, -0.8 + (FRAMES - 1) * STEP) },
          },
        },
      },
    },
  } as unknown as Shot;
}

async function newShot(document: Shot): Promise<string> {
  const [project] = await projects();
  const answer = await fetch(url(`/api/projects/${project!.id}/shots`), {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name: 'Walking box', document }),
  });
  const { id, ...more } = (await answer.json()) as { id: string };
  expect(answer.status, JSON.stringify(more)).toBe(201);
  return id;
}

/** Numbers of the frames of a film, by where the box is in each decoded picture. */
function framesOf(path: string, width: number, height: number): number[] {
  const pictures = execFileSync(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', 'gray', '-'],
    { maxBuffer: 1 << 29 },
  );
  return Array.from({ length: pictures.length / (width * height) }, (_, at) => {
    let [sum, weight] = [0, 0];
    const row = at * width * height + Math.floor(height / 2) * width;
    for (let x = 0; x < width; x++) {
      const code = pictures[row + x]!;
      if (code < 60) continue;
      sum += (x + 0.5) * code;
      weight += code;
    }
    return ((sum / weight / width) * 2 - 1 + 0.8) / STEP + 1;
  });
}

function probe(path: string): Record<string, string> {
  const args = [
    '-v',
    'error',
    '-count_frames',
    '-select_streams',
    'v:0',
    '-show_streams',
    '-of',
    'json',
    path,
  ];
  return (JSON.parse(execFileSync('ffprobe', args).toString()) as { streams: Record<string, string>[] })
    .streams[0]!;
}

async function save(page: Page, name: string): Promise<string> {
  const here = page.getByTestId('film-here');
  await expect(here).toHaveAttribute('data-state', 'done', { timeout: 180_000 });
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    here.getByRole('link', { name: /Save/ }).click(),
  ]);
  const path = join(folder, name);
  await download.saveAs(path);
  return path;
}

/** Asks for the small film by the keyboard alone. */
async function smallFilm(page: Page): Promise<void> {
  await page.keyboard.press('Control+k');
  await page.keyboard.type('small film');
  await page.keyboard.press('Enter');
}

const whole = (numbers: readonly number[]): number[] =>
  numbers.map((number) => {
    expect(Math.abs(number - Math.round(number)), `the box is at ${number}`).toBeLessThan(0.25);
    return Math.round(number);
  });
const count = (first: number, last: number): number[] =>
  Array.from({ length: last - first + 1 }, (_, i) => first + i);

test('a film is drawn in the browser at any rate: every frame once, in order, as the render machine has it', async ({
  page,
}) => {
  for (const [rate, told] of [
    [{ num: 30000, den: 1001 }, '30000/1001'],
    [{ num: 60, den: 1 }, '60/1'],
  ] as const) {
    const id = await newShot(walkingBox(rate));
    await openDrawn(page, id, 'yes');
    await page.getByRole('button', { name: 'Render...' }).click();
    const sheet = page.getByRole('dialog');
    await sheet.getByLabel('First frame').fill('3');
    await sheet.getByLabel('Last frame').fill('32');
    // What a browser cannot write is said, and nothing starts.
    await sheet.getByRole('radio', { name: 'In this browser' }).check();
    await sheet.getByText('GIF', { exact: true }).click();
    await expect(sheet.getByRole('alert')).toContainText('written by the render machines only');
    await expect(sheet.getByRole('button', { name: 'Render', exact: true })).toBeDisabled();
    await sheet.getByText('MP4', { exact: true }).click();
    await sheet.getByRole('button', { name: 'Render', exact: true }).click();
    const path = await save(page, `here-${rate.num}.mp4`);
    expect(whole(framesOf(path, WIDTH, HEIGHT))).toEqual(count(3, 32));
    expect(probe(path)).toMatchObject({
      codec_name: 'h264',
      nb_read_frames: '30',
      avg_frame_rate: told,
      width: WIDTH,
      height: HEIGHT,
    });
    expect(Number(probe(path).duration)).toBeCloseTo((30 * rate.den) / rate.num, 3);

    // The same frames of a render machine.
    const order = await fetch(url(`/api/shots/${id}/renders`), {
      method: 'POST',
      body: JSON.stringify({ first: 3, last: 32, width: WIDTH, height: HEIGHT, format: 'mp4', alpha: false }),
    });
    const job = (await order.json()) as { id: string };
    const film = async (): Promise<Response> => fetch(url(`/api/renders/${job.id}/film`));
    await expect.poll(async () => (await film()).status, { timeout: 180_000 }).toBe(200);
    const other = join(folder, `machine-${rate.num}.mp4`);
    writeFileSync(other, Buffer.from(await (await film()).arrayBuffer()));
    expect(whole(framesOf(other, WIDTH, HEIGHT))).toEqual(count(3, 32));
    expect(probe(other)).toMatchObject({ nb_read_frames: '30', avg_frame_rate: told });
  }
});

test('a small film has the number of each frame in it, is made from the keyboard, and can be cancelled', async ({
  page,
}) => {
  await openDrawn(page, await newShot(walkingBox({ num: 25, den: 1 }, 5000)), 'yes');
  await smallFilm(page);
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByText(/of 5000 frames/)).toBeVisible();
  await sheet.getByRole('button', { name: 'Cancel' }).click();
  await expect(sheet).toBeHidden();

  await openDrawn(page, await newShot(walkingBox({ num: 25, den: 1 })), 'yes');
  await smallFilm(page);
  const path = await save(page, 'small.mp4');
  const [width, height] = [160, 90];
  expect(probe(path)).toMatchObject({
    nb_read_frames: String(FRAMES),
    avg_frame_rate: '25/1',
    width,
    height,
  });
  expect(whole(framesOf(path, width, height))).toEqual(count(1, FRAMES));
  // The corner with the number differs from frame to frame, and is a plate on which something bright is written.
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'rawvideo', '-pix_fmt', 'gray', '-'], {
    maxBuffer: 1 << 28,
  });
  const corner = (frame: number): Buffer =>
    Buffer.concat(
      Array.from({ length: 14 }, (_, y) => {
        const at = (frame - 1) * width * height + y * width;
        return raw.subarray(at, at + 24);
      }),
    );
  for (const frame of [1, 9, 10, 38])
    expect(Math.max(...corner(frame)), `frame ${frame}`).toBeGreaterThan(150);
  const difference = (a: number, b: number): number =>
    corner(a).reduce((sum, code, i) => sum + Math.abs(code - corner(b)[i]!), 0);
  expect(difference(12, 13)).toBeGreaterThan(300);
  expect(difference(17, 28)).toBeGreaterThan(300);
});
