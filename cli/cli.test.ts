import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { blankShot, type Shot } from '../core/document';
import { hub } from '../core/testing/random-shot';

// The command as people call it: built by ./whirl before it runs these tests.
const command = fileURLToPath(new URL('../dist/cli.mjs', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'whirl-cli-'));
const file = (name: string, content: unknown): string => {
  const path = join(folder, name);
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content));
  return path;
};
function run(...args: string[]): { out: string; error: string; code: number | null } {
  const { stdout, stderr, status } = spawnSync('node', [command, ...args], { encoding: 'utf8' });
  return { out: stdout, error: stderr, code: status };
}

/** Packages that a built file imports before it does anything, also by way of the files beside it. */
function packagesBefore(path: string, seen = new Set<string>()): string[] {
  if (seen.has(path)) return [];
  seen.add(path);
  return [...readFileSync(path, 'utf8').matchAll(/^(?:import|export) [^;]*?["']([^"']+)["'];/gm)].flatMap(
    ([, name = '']) => (name.startsWith('.') ? packagesBefore(join(dirname(path), name), seen) : [name]),
  );
}

const shot: Shot = {
  ...blankShot({ last: 24 }),
  parts: {
    prt_r: hub('Row', {
      kind: 'repeat',
      repeat: { pattern: 'row', step: null },
      values: { copies: 3, gap: 2 },
      links: { 'copy.location.y': { formula: 'index * frame * 1m', refs: {} } },
    }),
    prt_l: hub('Lamp.big', { parent: 'prt_r' }),
    prt_s: hub('Sign', {
      links: { 'scale.x': { formula: 'level(organ, 0Hz, 100Hz) + 0.25', refs: { 'sound.organ': 'snd_o' } } },
    }),
  },
  sounds: { snd_o: { name: 'organ', start: 1, asset: 'a'.repeat(64), values: {}, tracks: {}, links: {} } },
};
const shotFile = file('shot.json', shot);

it('loads what draws and mixes only to draw and to mix: everything else begins at once', () => {
  const heavy = ['playwright-core', 'sharp', 'pg'];
  const packages = (part: string): string[] => packagesBefore(join(dirname(command), `${part}.mjs`));
  for (const part of ['cli', 'cli-sample', 'cli-check', 'cli-demo', 'cli-loudness', 'cli-render'])
    expect(
      packages(part).filter((name) => heavy.includes(name)),
      part,
    ).toEqual([]);
  expect(packages('cli-render-film')).toContain('playwright-core');
});

it('samples a part whose name has a comma, alone and among others, with or without quotation marks', () => {
  const comma = file('comma.json', {
    ...blankShot(),
    parts: { prt_a: hub('Gear, big', { values: { 'location.x': 3 } }), prt_b: hub('Lamp') },
  });
  for (const list of [
    'Gear, big.location.x,Lamp.scale.x',
    '"Gear, big".location.x, Lamp.scale.x',
    'Lamp.scale.x,Gear, big.location.x',
  ]) {
    const { out, code } = run('sample', comma, '--channels', list, '--frames', '1', '--format', 'json');
    expect(code, list).toBe(0);
    expect((JSON.parse(out) as { rows: number[][] }).rows[0]!.slice(1).sort()).toEqual([1, 3]);
  }
  const { error, code } = run('sample', comma, '--channels', 'Gear, bigger.location.x,Lamp.scale.x');
  expect(code).toBe(2);
  expect(error).toContain('There is no part for "Gear"');
});

it('refuses to render timelines that are none, empty, or ask for frames beyond their end', () => {
  const timeline = (children: unknown[]) => ({
    OTIO_SCHEMA: 'Timeline.1',
    name: 'Quay',
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      children: [{ OTIO_SCHEMA: 'Track.1', kind: 'Video', name: 'Shots', children }],
    },
  });
  const clip = (name: string) => ({
    OTIO_SCHEMA: 'Clip.2',
    name,
    source_range: {
      OTIO_SCHEMA: 'TimeRange.1',
      start_time: { OTIO_SCHEMA: 'RationalTime.1', rate: 24, value: 1 },
      duration: { OTIO_SCHEMA: 'RationalTime.1', rate: 24, value: 10 },
    },
  });
  const render = (name: string, content: unknown, ...more: string[]) =>
    run('render', file(name, content), '--out', join(folder, 'quay.mp4'), ...more);
  for (const [name, content, words] of [
    ['none.otio', '{', 'none.otio: This is no JSON'],
    ['other.otio', { OTIO_SCHEMA: 'Clip.2' }, 'is no Timeline'],
    ['empty.otio', timeline([]), 'The timeline is empty'],
    // The only shot of this name has no camera.
    ['dark.otio', timeline([clip('shot')]), 'The shot "shot" has no camera.'],
  ] as const) {
    const { error, code } = render(name, content);
    expect(error).toContain(words);
    expect(code).toBe(2);
  }
  const beyond = render('beyond.otio', timeline([clip('Ferry')]), '--range', '1:11');
  expect(beyond.code).toBe(2);
  expect(beyond.error).toContain('No shot here is called "Ferry": its name stands in its place.');
  expect(beyond.error).toContain('--range: the timeline has the frames 1 to 10, not 1 to 11.');
});

it('renders by a ready preset, which what is said in so many words overrules', () => {
  const render = (...more: string[]) => run('render', shotFile, '--out', join(folder, 'film.webm'), ...more);
  const unknown = render('--preset', 'To sell');
  expect(unknown.code).toBe(2);
  expect(unknown.error).toContain('"To sell". There are: "To show", "To send about"');
  // Its format has another ending; with a format of its own the call goes on to the next thing that is missing.
  expect(render('--preset', 'to show').error).toContain('MP4 is written to a file that ends with .mp4');
  expect(render('--preset', 'to show', '--format', 'webm').error).toContain('no camera');
  expect(render('--preset', 'For a web page, transparent').error).toContain('no camera');
});

it('refuses ranges of frames that are none', () => {
  for (const text of ['1:2:3:4', ':', '5:1', '1:2:0', 'a:b', '1:2:'])
    expect(run('sample', shotFile, '--channels', 'Row.copies', `--frames=${text}`).code, text).toBe(2);
});

describe('whirl sample and check', () => {
  it('are built', () => expect(existsSync(command)).toBe(true));
  it('print values exactly, of copies too', () => {
    const { out, code } = run(
      'sample',
      shotFile,
      '--channels',
      'Row.copies,Lamp.big.world[2]',
      '--frames',
      '1:2:0.5',
      '--format',
      'json',
    );
    expect(code).toBe(0);
    const { columns, rows } = JSON.parse(out) as { columns: string[]; rows: number[][] };
    expect(columns.slice(0, 3)).toEqual(['frame', 'Row.copies', 'Lamp.big.world[2][0]']);
    expect(rows.map((row) => [row[0], row[1], row[5], row[9]])).toEqual([
      [1, 3, 4, 2],
      [1.5, 3, 4, 3],
      [2, 3, 4, 4],
    ]);
  });
  it('take loudness tables for level', () => {
    const loudness = file('loud.json', { organ: { rate: 1, edges: [0, 100], power: [0.5, 0.5, 0.5] } });
    const sampled = run(
      'sample',
      shotFile,
      '--channels',
      'Sign.scale.x',
      '--frames',
      '5',
      '--loudness',
      loudness,
    );
    expect(sampled.out.trim().split('\n')[1]).toBe('5,1.25');
    const silent = run('sample', shotFile, '--channels', 'Sign.scale.x', '--frames', '5');
    expect(silent.out.trim().split('\n')[1]).toBe('5,1');
    const other = file('other.json', { drum: { rate: 1, edges: [0, 100], power: [] } });
    expect(run('sample', shotFile, '--channels', 'Sign.scale.x', '--loudness', other)).toMatchObject({
      code: 2,
    });
  });
  it('tell problems as JSON with exit code 1, and the seam of a loop where it is asked for', () => {
    const { out, code } = run('check', shotFile);
    expect(code).toBe(1);
    const codes = (JSON.parse(out) as { code: string }[]).map((problem) => problem.code);
    expect(codes).toContain('camera.none');
    expect(codes).toContain('link.not-a-number');
    const moving = {
      ...shot,
      shapes: { shp_s: { kind: 'box', values: {}, tracks: {}, links: {} } },
      looks: { lok_s: { name: 'Paint', values: {}, tracks: {}, links: {} } },
      parts: {
        prt_s: {
          ...hub('Sign', { links: { 'location.x': { formula: 'time * 1m / 1s', refs: {} } } }),
          kind: 'solid',
          shape: 'shp_s',
          look: 'lok_s',
        },
      },
    };
    expect(run('check', file('moving.json', moving)).out).not.toContain('loop.value');
    expect(run('check', file('moving.json', moving), '--loop').out).toContain('loop.value');
  });
  it.each([
    [['sample', shotFile, '--channels', 'Nobody.scale.x'], 'no part for'],
    [['sample', shotFile, '--channels', 'Sign.nothing'], 'no value "nothing"'],
    [['sample', shotFile, '--channels', 'Sign.world[1]'], 'below no repeat'],
    [['sample', shotFile, '--channels', 'Sign.scale.x', '--frames', '9:1'], 'no range'],
    [['check', join(folder, 'none.json')], 'cannot be read'],
    [['check', file('bad.json', { ...shot, extra: 1 })], 'extra'],
    [['juggle'], 'no command "juggle"'],
  ])('%j is refused with the reason and exit code 2', (args, words) => {
    const { error, code } = run(...args);
    expect(code).toBe(2);
    expect(error).toContain(words);
  });
});
