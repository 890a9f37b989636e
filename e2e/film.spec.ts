import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { test } from './same-page';
import { unzipSync } from 'fflate';
import pg from 'pg';
import { PNG } from 'pngjs';
import {
  choosePart,
  databaseUrl,
  demoCopy,
  find,
  goToFrame,
  keptShot,
  openDrawn,
  pixelsOf,
  openShot,
  type,
  url,
} from './workbench';

const folder = mkdtempSync(join(tmpdir(), 'whirl-e2e-'));

const ENDINGS: Record<string, string> = { MP4: 'mp4', WebM: 'webm', 'PNG frames': 'zip', GIF: 'gif' };

async function render(
  page: Page,
  options: { first: number; last: number; format: string; alpha?: boolean },
): Promise<{ id: string; film: Buffer; path: string }> {
  await page.getByRole('button', { name: 'Render...' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('First frame').fill(String(options.first));
  await sheet.getByLabel('Last frame').fill(String(options.last));
  await sheet.getByLabel('Width').fill('320');
  await sheet.getByLabel('Height').fill('180');
  await sheet.getByText(options.format, { exact: true }).click();
  if (options.alpha) await sheet.getByLabel('Transparent background').check();
  await sheet.getByRole('button', { name: 'Render', exact: true }).click();
  const progress = sheet.getByTestId('render-progress');
  await expect(progress.getByRole('img')).toBeVisible({ timeout: 180_000 });
  await expect(progress).toHaveAttribute('data-status', 'done', { timeout: 300_000 });
  const href = await progress.getByRole('link', { name: /Download/ }).getAttribute('href');
  const film = Buffer.from(await (await fetch(url(href!))).arrayBuffer());
  const path = join(folder, `${options.format}.${ENDINGS[options.format]!}`);
  writeFileSync(path, film);
  return { id: href!.split('/')[3]!, film, path };
}

interface Stream {
  readonly nb_read_frames: string;
  readonly avg_frame_rate: string;
  readonly width: number;
  readonly height: number;
  readonly codec_name: string;
  readonly duration?: string;
  readonly color_space?: string;
  readonly tags?: Record<string, string>;
}

function probe(path: string): { stream: Stream; duration: number } {
  const text = execFileSync(
    'ffprobe',
    ['-v', 'error', '-count_frames', '-show_streams', '-show_format', '-of', 'json', path],
    { encoding: 'utf8' },
  );
  const found = JSON.parse(text) as { streams: Stream[]; format: { duration: string } };
  return { stream: found.streams[0]!, duration: Number(found.format.duration) };
}

function frameOf(path: string, index: number, decoder: string[] = []): PNG {
  return PNG.sync.read(
    execFileSync(
      'ffmpeg',
      [
        '-v',
        'error',
        ...decoder,
        '-i',
        path,
        '-vf',
        `select=eq(n\\,${index})`,
        '-frames:v',
        '1',
        '-pix_fmt',
        'rgba',
        '-f',
        'image2pipe',
        '-c:v',
        'png',
        '-',
      ],
      { maxBuffer: 1 << 26 },
    ),
  );
}

/** Peak signal-to-noise ratio over red, green and blue, in decibels; 40 is hardly to be told apart. */
function likeness(a: PNG, b: PNG): number {
  expect([a.width, a.height]).toEqual([b.width, b.height]);
  let sum = 0;
  for (let i = 0; i < a.data.length; i++) if (i % 4 !== 3) sum += (a.data[i]! - b.data[i]!) ** 2;
  return 10 * Math.log10(255 ** 2 / Math.max(1e-9, sum / ((a.data.length * 3) / 4)));
}

test('24 frames to MP4: count, rate, length and size; a frame is the picture of the view', async ({
  page,
}) => {
  await openDrawn(page, await demoCopy());
  const { path, id } = await render(page, { first: 31, last: 54, format: 'MP4' });
  const { stream, duration } = probe(path);
  expect(stream).toMatchObject({
    nb_read_frames: '24',
    avg_frame_rate: '24/1',
    width: 320,
    height: 180,
    codec_name: 'h264',
    color_space: 'bt709',
  });
  expect(duration).toBe(1);
  await expect(page.locator('video')).toBeVisible();
  await expect
    .poll(() => page.locator('video').evaluate((video: HTMLVideoElement) => video.readyState))
    .toBeGreaterThan(1);

  // The view through the camera at frame 40, cut to the picture and reduced to the film's size.
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Put the viewfinder away' }).click();
  await page.getByRole('button', { name: 'Shot', exact: true }).click();
  await goToFrame(page, 40);
  await page.waitForTimeout(1500);
  const shown = await page.getByTestId('view-canvas').evaluate((canvas: HTMLCanvasElement) => {
    const scale = canvas.width / canvas.clientWidth;
    const width = Math.min(canvas.clientWidth, (canvas.clientHeight * 16) / 9);
    const height = (width * 9) / 16;
    const small = new OffscreenCanvas(320, 180);
    const g = small.getContext('2d')!;
    g.imageSmoothingQuality = 'high';
    g.drawImage(
      canvas,
      ((canvas.clientWidth - width) / 2) * scale,
      ((canvas.clientHeight - height) / 2) * scale,
      width * scale,
      height * scale,
      0,
      0,
      320,
      180,
    );
    return small
      .convertToBlob({ type: 'image/png' })
      .then(async (blob) => [...new Uint8Array(await blob.arrayBuffer())]);
  });
  const view = PNG.sync.read(Buffer.from(shown));
  const stored = PNG.sync.read(
    Buffer.from(await (await fetch(url(`/api/renders/${id}/frames/40`))).arrayBuffer()),
  );
  const film = frameOf(path, 9);
  // 4:2:0 films halve the colour's sharpness, which the small red and cream stripes feel.
  expect(likeness(film, stored)).toBeGreaterThan(29);
  expect(likeness(film, view)).toBeGreaterThan(24);
  // Another moment is another picture: the measure can tell.
  expect(likeness(frameOf(path, 23), view)).toBeLessThan(likeness(film, view) - 1);
});

test('24 frames to WebM with transparency', async ({ page }) => {
  await openShot(page, await demoCopy());
  const { path } = await render(page, { first: 1, last: 24, format: 'WebM', alpha: true });
  const { stream, duration } = probe(path);
  expect(stream).toMatchObject({
    nb_read_frames: '24',
    avg_frame_rate: '24/1',
    width: 320,
    height: 180,
    codec_name: 'vp9',
  });
  expect(stream.tags?.alpha_mode ?? stream.tags?.ALPHA_MODE).toBe('1');
  // The sound of the ride goes with it: Opus comes in packets of 20 ms (RFC 6716), the last of which may reach beyond.
  expect(duration).toBeGreaterThanOrEqual(1);
  expect(duration).toBeLessThan(1.021);
  const picture = frameOf(path, 12, ['-c:v', 'libvpx-vp9']);
  const alphaAt = (x: number, y: number): number => picture.data[(y * 320 + x) * 4 + 3]!;
  expect(alphaAt(10, 5)).toBeLessThan(8);
  expect(alphaAt(150, 120)).toBeGreaterThan(247);
});

test('numbered PNG frames in a zip', async ({ page }) => {
  await openShot(page, await demoCopy());
  const { film } = await render(page, { first: 5, last: 8, format: 'PNG frames', alpha: true });
  const files = unzipSync(film);
  expect(Object.keys(files)).toEqual(
    [5, 6, 7, 8].map((n) => `Full ride (copy)_000${n}.png`.replace(/[()]/g, '_')),
  );
  const picture = PNG.sync.read(Buffer.from(Object.values(files)[0]!));
  expect([picture.width, picture.height, picture.data[3]]).toEqual([320, 180, 0]);
});

test('the sheet refuses bad ranges and sizes; a running render is cancelled', async ({ page }) => {
  await openShot(page, await demoCopy());
  await page.getByRole('button', { name: 'Render...' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Last frame').fill('0');
  await expect(sheet.getByRole('alert')).toContainText('before the first');
  await expect(sheet.getByRole('button', { name: 'Render', exact: true })).toBeDisabled();
  await sheet.getByLabel('Last frame').fill('96');
  await sheet.getByLabel('Width').fill('333');
  await expect(sheet.getByRole('alert')).toContainText('even');
  await sheet.getByLabel('Width').fill('1280');
  await sheet.getByRole('button', { name: 'Render', exact: true }).click();
  const progress = sheet.getByTestId('render-progress');
  await expect(progress.getByRole('img')).toBeVisible({ timeout: 180_000 });
  await progress.getByRole('button', { name: 'Cancel' }).click();
  await expect(progress).toHaveAttribute('data-status', 'cancelled');
  await page.goto(url('/renders'));
  await expect(page.getByRole('region', { name: 'List of renders' })).toContainText('cancelled');
});

test('a film whose picture is missing fails at its first try, with the reason', async () => {
  const id = await demoCopy();
  const { revision, document } = await keptShot(id);
  const [look] = Object.keys(document.looks);
  const post = (path: string, body: unknown): Promise<Response> =>
    fetch(url(`/api/shots/${id}${path}`), { method: 'POST', body: JSON.stringify(body) });
  const picture = { asset: '0'.repeat(64), file: 'poster.png', width: 4, height: 4, alpha: false };
  const change = {
    id: crypto.randomUUID(),
    label: 'Poster',
    patches: [{ path: ['looks', look, 'pictures'], after: { all: picture } }],
  };
  expect((await post('/changes', { base: revision, changes: [change] })).status).toBe(200);
  const started = await post('/renders', {
    first: 1,
    last: 2,
    width: 64,
    height: 36,
    format: 'png',
    alpha: false,
  });
  const { id: job } = (await started.json()) as { id: string };
  const read = async (): Promise<{ status: string; error: string | null }> =>
    (await (await fetch(url(`/api/renders/${job}`))).json()) as { status: string; error: string | null };
  await expect.poll(async () => (await read()).status, { timeout: 240_000 }).toBe('failed');
  expect((await read()).error).toMatch(/A file of the shot is missing: 000000000000 is not stored here/);
  // The work is over: nothing of it waits to be tried again.
  const database = new pg.Client({ connectionString: databaseUrl() });
  await database.connect();
  // A machine that was about to write it lets it go a moment later.
  await expect
    .poll(async () => {
      const { rows } = await database.query<{ attempts: number }>(
        `select attempts from graphile_worker._private_jobs where payload ->> 'job' = $1`,
        [job],
      );
      return rows;
    })
    .toEqual([]);
  await database.end();
});

test('the frame at the playhead is taken as a picture, and a few as a GIF that repeats', async ({ page }) => {
  await openDrawn(page, await demoCopy());
  await goToFrame(page, 60);
  await page.getByRole('button', { name: 'Render...' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByText('PNG picture', { exact: true }).click();
  await expect(sheet.getByLabel('First frame')).toHaveValue('60');
  await expect(sheet.getByLabel('Last frame')).toHaveValue('60');
  await expect(sheet.getByText('PNG picture has no sound')).toBeVisible();
  // The sheet shows what will be taken.
  const shown = sheet.getByRole('img', { name: 'Frame 60 as it will be' });
  await expect(shown).toBeVisible();
  const small = await pixelsOf(shown);
  await sheet.getByLabel('Last frame').fill('61');
  await expect(sheet.getByText('A PNG picture is one frame, 60 to 61 are 2').first()).toBeVisible();
  await sheet.getByLabel('Last frame').fill('60');
  await sheet.getByLabel('Width').fill('321');
  await sheet.getByLabel('Height').fill('181');
  await sheet.getByRole('button', { name: 'Render', exact: true }).click();
  const progress = sheet.getByTestId('render-progress');
  await expect(progress).toHaveAttribute('data-status', 'done', { timeout: 300_000 });
  await expect(progress.getByRole('img', { name: /^Film of/ })).toBeVisible();
  const href = (await progress.getByRole('link', { name: /Download/ }).getAttribute('href'))!;
  const answer = await fetch(url(href));
  expect(answer.headers.get('content-type')).toBe('image/png');
  expect(answer.headers.get('content-disposition')).toContain('.png');
  const bytes = Buffer.from(await answer.arrayBuffer());
  const taken = PNG.sync.read(bytes);
  expect(taken).toMatchObject({ width: 321, height: 181 });
  // Small, it was the same picture: large places of it have the same colours.
  const colours = ({ width, height, data }: typeof small | PNG): number[] => {
    const sums = Array.from({ length: 12 }, () => [0, 0, 0, 0]);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const sum = sums[Math.floor((y / height) * 3) * 4 + Math.floor((x / width) * 4)]!;
        for (let k = 0; k < 3; k++) sum[k]! += data[(y * width + x) * 4 + k]!;
        sum[3]! += 1;
      }
    return sums.flatMap(([red, green, blue, count]) => [red!, green!, blue!].map((all) => all / count!));
  };
  const wanted = colours(taken);
  colours(small).forEach((code, i) => expect(Math.abs(code - wanted[i]!), `place ${i}`).toBeLessThan(14));
  expect(Math.max(...wanted) - Math.min(...wanted)).toBeGreaterThan(60);
  const frame = await fetch(url(`/api/renders/${href.split('/')[3]!}/frames/60`));
  expect(Buffer.from(await frame.arrayBuffer()).equals(bytes)).toBe(true);
  await page.keyboard.press('Escape');

  const { path } = await render(page, { first: 31, last: 36, format: 'GIF' });
  const { stream, duration } = probe(path);
  expect(stream).toMatchObject({ nb_read_frames: '6', width: 320, height: 180, codec_name: 'gif' });
  expect(duration).toBeCloseTo(0.25, 1);
});

test('a film drawn again takes over what shows the same, and draws what an edit has changed', async ({
  page,
}) => {
  const shot = await demoCopy();
  await openDrawn(page, shot);
  const unchanged = page.getByTitle('They show the same as frames that were drawn before');
  // A size of its own, so that no other film has these frames.
  const take = async (): Promise<Record<string, Uint8Array>> => {
    await page.getByRole('button', { name: 'Render...' }).click();
    const sheet = page.getByRole('dialog');
    await sheet.getByLabel('First frame').fill('1');
    await sheet.getByLabel('Last frame').fill('4');
    await sheet.getByLabel('Width').fill('246');
    await sheet.getByLabel('Height').fill('134');
    await sheet.getByText('PNG frames', { exact: true }).click();
    await sheet.getByRole('button', { name: 'Render', exact: true }).click();
    const progress = sheet.getByTestId('render-progress');
    await expect(progress).toHaveAttribute('data-status', 'done', { timeout: 300_000 });
    const href = (await progress.getByRole('link', { name: /Download/ }).getAttribute('href'))!;
    return unzipSync(new Uint8Array(await (await fetch(url(href))).arrayBuffer()));
  };
  const first = await take();
  await expect(unchanged).toHaveCount(0);
  await page.keyboard.press('Escape');
  const again = await take();
  await expect(unchanged).toHaveText(/all unchanged/);
  expect(again).toEqual(first);
  await page.keyboard.press('Escape');

  // From frame 2 on something moves.
  await choosePart(page, 'Bollard 1');
  await goToFrame(page, 2);
  await find(page, 'Key pose');
  await goToFrame(page, 4);
  await type(page, 'Bollard 1 location Y', '+=1');
  await find(page, 'Key pose');
  const edited = await take();
  await expect(unchanged).toHaveText(/2 unchanged/);
  const names = Object.keys(first).sort();
  expect(names.map((name) => Buffer.from(edited[name]!).equals(Buffer.from(first[name]!)))).toEqual([
    true,
    true,
    false,
    false,
  ]);
});

test('a finished film is stepped through frame by frame, and rendered again as its shot is now', async ({
  page,
}) => {
  const shot = await demoCopy();
  const request = {
    first: 3,
    last: 6,
    width: 178,
    height: 98,
    format: 'webm',
    alpha: false,
    fileName: 'Steps',
  };
  const post = { method: 'POST', headers: { 'Content-Type': 'application/json' } };
  const answer = await fetch(url(`/api/shots/${shot}/renders`), { ...post, body: JSON.stringify(request) });
  const { id } = (await answer.json()) as { id: string };
  await page.goto(url('/renders'));
  const render = page.getByRole('region', { name: 'Render', exact: true });
  const progress = render.getByTestId('render-progress');
  await expect(progress).toHaveAttribute('data-status', 'done', { timeout: 300_000 });
  await expect(render.getByText('Steps, kept on the Renders page')).toBeVisible();
  await render.getByRole('tab', { name: 'Step by frame' }).click();
  const slider = render.getByLabel('Frame of the film');
  await expect(render.getByRole('img', { name: 'Frame 3' })).toBeVisible();
  await expect(render.getByRole('button', { name: 'One frame back' })).toBeDisabled();
  await slider.press('ArrowRight');
  await render.getByRole('button', { name: 'One frame on' }).click();
  await expect(render.getByText('5 of 6')).toBeVisible();
  const shown = render.getByRole('img', { name: 'Frame 5' });
  await expect(shown).toBeVisible();
  await expect.poll(() => shown.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(178);
  expect(await shown.getAttribute('src')).toBe(`/api/renders/${id}/frames/5`);
  await render.getByRole('tab', { name: 'Film' }).click();

  await render.getByRole('button', { name: 'Render again' }).click();
  await expect(progress.getByTitle('They show the same as frames that were drawn before')).toHaveText(
    /all unchanged/,
  );
  await expect(progress).toHaveAttribute('data-status', 'done', { timeout: 300_000 });
  const jobs = ((await (await fetch(url('/api/renders'))).json()) as { jobs: Record<string, unknown>[] })
    .jobs;
  expect(jobs[0]).toMatchObject({ ...request, shotId: shot, drawn: 4, taken: 4 });
  await expect(render.getByTestId('frame-strip')).toContainText('4 unchanged, taken over');

  // Both films beside one another: the same frame of each, up to where they meet.
  await render.getByRole('tab', { name: 'Compare' }).click();
  await render.getByRole('button', { name: 'One frame on' }).click();
  const other = render.getByRole('img', { name: 'Frame 4 of the other film' });
  const chosen = render.getByRole('img', { name: 'Frame 4 of the chosen film' });
  expect(await other.getAttribute('src')).toBe(`/api/renders/${id}/frames/4`);
  const box = (await chosen.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 4, box.y + 30);
  await page.mouse.up();
  await expect(render.getByLabel('Where the two films meet')).toHaveValue('25');
  await expect(chosen).toHaveCSS('clip-path', 'inset(0px 0px 0px 25%)');
  await render.getByLabel('Where the two films meet').press('End');
  await expect(chosen).toHaveCSS('clip-path', 'inset(0px 0px 0px 100%)');

  // What happened is told in words; a frame that is drawn anew has a time.
  await render.getByRole('tab', { name: 'What happened' }).click();
  const story = render.getByTestId('what-happened');
  await expect(story).toContainText('Ordered: 4 frames.');
  await expect(story).toContainText('The film is there');
  await expect(story).toContainText('all were taken over');
  await render.getByRole('button', { name: 'All anew' }).click();
  await render.getByRole('tab', { name: 'Film' }).click();
  await expect(render.getByTestId('frame-strip')).toContainText('4 drawn', { timeout: 300_000 });
  await render.getByRole('tab', { name: 'What happened' }).click();
  await expect(story.getByRole('img', { name: 'Time for each frame, in milliseconds' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Render machines' })).toContainText(/\d+ ms a frame/);
  expect(jobs[0]!.id).not.toBe(id);
});

test('a long film is paused, comes first, goes on and is cancelled; presets are kept with the project', async ({
  page,
}) => {
  const shot = await demoCopy();
  await openShot(page, shot);
  await page.getByRole('button', { name: 'Render...' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByLabel('Preset', { exact: true }).selectOption('To judge the timing');
  await expect(sheet.getByLabel('Width')).toHaveValue('640');
  await expect(sheet.getByRole('checkbox', { name: /With what lens and film do/ })).not.toBeChecked();
  await sheet.getByRole('button', { name: '25 %' }).click();
  await sheet.getByRole('button', { name: 'Keep...' }).click();
  await sheet.getByLabel('Name of the preset').fill('For the evening');
  await sheet.getByLabel('Name of the preset').press('Enter');
  await expect(sheet.getByLabel('Preset', { exact: true })).toHaveValue('o For the evening');
  await sheet.getByLabel('Preset', { exact: true }).selectOption('To cut with others');
  await expect(sheet.getByLabel('Width')).toHaveValue('1280');
  await sheet.getByLabel('Preset', { exact: true }).selectOption('For the evening');
  await expect(sheet.getByLabel('Width')).toHaveValue('320');
  await expect(sheet.getByTestId('guess')).toContainText('render machine');
  await sheet.getByRole('button', { name: 'Render', exact: true }).click();
  const progress = sheet.getByTestId('render-progress');
  await expect(progress).toHaveAttribute('data-status', 'drawing', { timeout: 120_000 });
  await progress.getByLabel('Turn of this film').selectOption('comes first');
  await progress.getByRole('button', { name: 'Pause' }).click();
  await expect(progress).toHaveAttribute('data-status', 'paused');
  const job = async (): Promise<Record<string, unknown>> => {
    const { jobs } = (await (await fetch(url('/api/renders'))).json()) as { jobs: Record<string, unknown>[] };
    return jobs.find((each) => each.shotId === shot)!;
  };
  expect(await job()).toMatchObject({ turn: 'first', samples: 1, effects: false, quality: 'small' });
  // What was under way when it was paused may still come; then nothing does.
  let { drawn } = await job();
  const stands = async (): Promise<boolean> => {
    const before = drawn;
    await page.waitForTimeout(3000);
    ({ drawn } = await job());
    return drawn === before;
  };
  await expect.poll(stands, { timeout: 120_000 }).toBe(true);
  await progress.getByRole('button', { name: 'Go on' }).click();
  await expect(progress).toHaveAttribute('data-status', 'drawing');
  await expect.poll(async () => (await job()).drawn, { timeout: 120_000 }).toBeGreaterThan(drawn as number);
  await progress.getByRole('button', { name: 'Cancel' }).click();
  await expect(progress).toHaveAttribute('data-status', 'cancelled');
});
