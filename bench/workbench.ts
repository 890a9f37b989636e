import { chromium } from 'playwright-core';
import { benchShot } from './bench-shot';
import { curvesShot } from './curves-shot';

/**
 * Main-thread work of the Workbench with the document of the speed targets (1,000 parts, 21,000 keys, 600 links), in
 * headless Chromium against a running Whirl: `./whirl start`, then `npm run bench:page` (WHIRL_BENCH=curves for some). For each way of working it prints
 * the work of the heaviest frame of a step: the median over all steps, and the most. Work is the main thread's time on a core;
 * the time on the clock is printed beside it, in which it also waits for cores that software drawing keeps busy. One word that
 * moves is measured too: below what that takes nothing can be on the same machine.
 */

const url = process.env.WHIRL_URL ?? 'http://127.0.0.1:4173';
const ROUNDS = 5;
const STEPS = 24;
/** Steps before the measured ones: the first time the page runs code that is not compiled yet. */
const WARM_UP = 4;
const TARGET_MS = 8;
const LONGEST_MS = 50;
/** Sound, unfinished and wrong. */
const TYPED = [
  'own + 2',
  'mesh(',
  'sin(frame * 3deg) * 1m',
  'if(own > 0, "',
  'Part',
  '1m + 2deg',
  'wave(turns(time * 2Hz)) ^ 2 ^',
  'delay(own, 3f) +',
];

interface TraceEvent {
  readonly name: string;
  readonly ph: string;
  readonly pid: number;
  readonly tid: number;
  readonly ts: number;
  readonly dur?: number;
  /** Time on a core, microseconds. */
  readonly tdur?: number;
}

/** Work of the page's main thread in the heaviest frame after each mark, in milliseconds. A frame ends where it is committed. */
function heaviestFrames(events: readonly TraceEvent[], time: 'dur' | 'tdur'): number[] {
  const marks = events.filter((event) => event.name === 'whirl-step').sort((a, b) => a.ts - b.ts);
  const thread = marks[0]!;
  const own = events.filter((event) => event.tid === thread.tid && event.pid === thread.pid);
  const ends = own
    .filter((event) => event.name === 'Commit')
    .map((event) => event.ts + (event.dur ?? 0))
    .sort((a, b) => a - b);
  const tasks = own.filter((event) => event.name === 'RunTask' && event.ph === 'X');
  return marks.slice(0, -1).map((mark, i) => {
    const until = marks[i + 1]!.ts;
    const borders = [mark.ts, ...ends.filter((end) => end > mark.ts && end < until), until];
    const work = new Float64Array(borders.length);
    for (const task of tasks) {
      if (task.ts < mark.ts || task.ts >= until) continue;
      // A task in which a frame is committed belongs to that frame.
      const frame = borders.findIndex((border, k) => k > 0 && task.ts < border);
      work[frame]! += (task[time] ?? 0) / 1000;
    }
    return Math.max(...work);
  });
}

const post = async (path: string, body: unknown): Promise<{ id: string }> => {
  const answer = await fetch(`${url}/api${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
  return (await answer.json()) as { id: string };
};

const project = await post('/projects', { name: 'Bench' });
const shot = await post(`/projects/${project.id}/shots`, { name: 'Bench', document: benchShot() });
const browser = await chromium.launch({
  executablePath: process.env.WHIRL_CHROMIUM ?? '/usr/bin/chromium',
  chromiumSandbox: process.getuid?.() !== 0,
  args: ['--use-angle=gl-egl', '--ignore-gpu-blocklist', '--disable-background-networking', '--no-first-run'],
});
try {
  const open = () => browser.newPage({ viewport: { width: 1280, height: 800 } });
  let page = await open();
  await page.goto(`${url}/shots/${shot.id}`);
  await page.getByTestId('lanes-canvas').waitFor();
  await page.waitForTimeout(4000);
  const settle = (): Promise<void> =>
    page.evaluate(
      () =>
        new Promise<void>((done) =>
          requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done))),
        ),
    );
  const lanes = (await page.getByTestId('lanes-canvas').boundingBox())!;
  const measure = async (name: string, step: (i: number) => Promise<void>): Promise<void> => {
    if (!name.includes(process.env.WHIRL_BENCH ?? '')) return;
    for (let i = 0; i < WARM_UP; i++) {
      await step(i);
      await settle();
    }
    await browser.startTracing(page, {
      categories: ['devtools.timeline', 'disabled-by-default-devtools.timeline', 'blink.user_timing'],
    });
    for (let i = 0; i < STEPS * ROUNDS; i++) {
      await page.evaluate(() => performance.mark('whirl-step'));
      await step(i % STEPS);
      await settle();
    }
    const trace = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceEvent[] };
    const [work, clock] = (['tdur', 'dur'] as const).map((time) => {
      const frames = heaviestFrames(trace.traceEvents, time).sort((x, y) => x - y);
      return { median: frames[frames.length >> 1] ?? 0, most: frames.at(-1) ?? 0, count: frames.length };
    });
    console.log(
      `${name.padEnd(22)} ${work!.median.toFixed(1).padStart(5)} ms of work in the heaviest frame of a step (median of ${work!.count}; target ${TARGET_MS}), at most ${work!.most.toFixed(0)} ms (target ${LONGEST_MS}); on the clock ${clock!.median.toFixed(1)} and ${clock!.most.toFixed(0)} ms`,
    );
  };
  await page.mouse.move(lanes.x + 300, lanes.y + 100);
  await measure('scroll the lanes', (i) => page.mouse.wheel(0, i < STEPS / 2 ? 120 : -120));
  await page.keyboard.down('Alt');
  await measure('zoom the lanes', (i) => page.mouse.wheel(0, i < STEPS / 2 ? -60 : 60));
  await page.keyboard.up('Alt');
  await measure('scrub by a frame', () => page.keyboard.press('ArrowRight'));
  await page.keyboard.press('Home');
  await page.getByRole('tree').focus();
  await measure('choose the next part', () => page.keyboard.press('ArrowDown'));
  const bar = page.getByRole('combobox', { name: 'Formula' });
  const types = 'type a formula'.includes(process.env.WHIRL_BENCH ?? '');
  if (types) {
    await page.keyboard.press('ArrowDown');
    await page
      .getByLabel(/ location X$/)
      .first()
      .click();
    await bar.click();
  }
  await measure('type a formula', async (i) => {
    await page.keyboard.press('Control+a');
    await page.keyboard.insertText(`= ${TYPED[i % TYPED.length]}`);
  });

  const plotted = await post(`/projects/${project.id}/shots`, { name: 'Curves', document: curvesShot() });
  // In a process of its own: the rubbish that the large document leaves is not this one's.
  await page.close();
  page = await open();
  await page.goto(`${url}/shots/${plotted.id}`);
  await page.getByRole('tab', { name: 'Curves' }).click();
  const canvas = page.getByTestId('plot-canvas');
  await canvas.waitFor();
  await page.waitForTimeout(3000);
  const plot = (await canvas.boundingBox())!;
  const [midX, midY] = [plot.x + plot.width / 2, plot.y + plot.height / 2 + 16];
  await page.mouse.move(midX, midY);
  await page.keyboard.down('Alt');
  await measure('200 curves: zoom', (i) => page.mouse.wheel(0, i < STEPS / 2 ? -60 : 60));
  await page.keyboard.up('Alt');
  await page.keyboard.down('Shift');
  await measure('200 curves: pan', (i) => page.mouse.wheel(0, i < STEPS / 2 ? 60 : -60));
  await page.keyboard.up('Shift');
  await page.mouse.down();
  await measure('200 curves: drag a key', (i) => page.mouse.move(midX + 4 + i * 3, midY + 4 + i * 2));
  await page.keyboard.press('Escape');
  await page.mouse.up();
  const corner = [plot.x + plot.width - 3, plot.y + plot.height - 3] as const;
  // From the press to where it is let go: what is chosen before is let go, too.
  await measure('200 curves: choose by box', async (i) => {
    if (i > 0 && i < STEPS - 1) await page.mouse.move(midX - 60 + i * 2, corner[1] - i * 5);
    else if (i === 0) {
      await page.mouse.up();
      await page.mouse.click(...corner);
      await page.mouse.move(midX - 60, corner[1]);
      await page.mouse.down();
    } else await page.mouse.up();
  });
  // A press near what is chosen would drag it: the choice is let go first.
  await measure('200 curves: let a box go', async (i) => {
    // Each in a picture of its own, as by hand.
    for (const act of [
      () => page.mouse.click(...corner),
      () => page.mouse.move(midX - 60 + i * 3, corner[1]),
      () => page.mouse.down(),
      () => page.mouse.move(midX - 40 + i * 3, plot.y + 40),
      () => page.mouse.up(),
    ]) {
      await act();
      await settle();
    }
  });
  await page.mouse.click(...corner);
  // What the browser itself takes on this machine: one word of the page that moves.
  await page.evaluate(() => {
    const word = document.createElement('p');
    word.id = 'bench-word';
    word.className = 'absolute left-0 top-0 z-50';
    document.body.append(word);
  });
  await measure('200 curves: one word', (i) =>
    page.evaluate((at) => {
      const word = document.getElementById('bench-word')!;
      word.textContent = `frame ${at}`;
      word.style.transform = `translate(${400 + at * 3}px, 300px)`;
    }, i),
  );
  await page.evaluate(() => document.getElementById('bench-word')!.remove());
  // One key of the curve that leads, whose handle is then dragged.
  await page.getByRole('list', { name: 'Curves' }).evaluate((list) => list.parentElement!.scrollTo(0, 0));
  await page
    .getByRole('list', { name: 'Curves' })
    .getByRole('button', { name: 'Hub 0 · location X', exact: true })
    .click();
  const peg = JSON.parse(
    (await page.getByRole('group', { name: 'Curves', exact: true }).getAttribute('data-plot'))!,
  ) as {
    top: number;
    bottom: number;
    low: number;
    high: number;
  };
  // Its first key, at frame 1, where it is 0.
  await page.mouse.click(
    plot.x + 12,
    plot.y + peg.top + (peg.high / (peg.high - peg.low)) * (peg.bottom - peg.top),
  );
  const overlay = page.locator('[data-handles*=right]');
  await overlay.waitFor();
  const handles = JSON.parse((await overlay.getAttribute('data-handles'))!) as {
    side: string;
    x: number;
    y: number;
  }[];
  const end = handles.find(({ side }) => side === 'right')!;
  const [x, y] = [plot.x + end.x, plot.y + end.y];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await measure('200 curves: drag a handle', (i) => page.mouse.move(x + (i % 5), y - i));
  await page.mouse.up();
} finally {
  await browser.close();
  await fetch(`${url}/api/projects/${project.id}`, { method: 'DELETE' });
}
