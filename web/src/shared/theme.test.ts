import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';

const css = readFileSync(new URL('../theme.css', import.meta.url), 'utf8');
const table = new Map(
  [...css.matchAll(/--color-([\w-]+): (?:light-dark\((#\w+), (#\w+)\)|(#\w+));/g)].map(
    ([, name, day, evening, fixed]) => [name!, [day ?? fixed!, evening ?? fixed!] as const],
  ),
);

/** Relative luminance as WCAG 2.2 defines it. */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const share = parseInt(hex.slice(at, at + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Contrast of two colours, 1 to 21 (WCAG 2.2, success criterion 1.4.3: at least 4.5 for text). */
function contrast(a: string, b: string): number {
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (high + 0.05) / (low + 0.05);
}

/** What is written on what. */
const TEXTS: Readonly<Record<string, readonly string[]>> = {
  ink: [
    'ground',
    'panel',
    'raised',
    'field',
    'head',
    'stripe',
    'teal-wash',
    'link-wash',
    'brass-wash',
    'now-wash',
    'line-soft',
  ],
  'ink-2': ['panel', 'raised', 'field', 'head', 'stripe', 'teal-wash', 'brass-wash', 'now-wash'],
  'ink-3': ['panel', 'raised', 'field'],
  teal: ['panel', 'raised', 'field', 'teal-wash'],
  now: ['panel', 'raised', 'field', 'now-wash'],
  link: ['panel', 'raised', 'field', 'link-wash'],
  key: ['panel', 'raised', 'field'],
  brass: ['panel', 'raised'],
  good: ['panel', 'raised'],
  panel: ['ink'],
  'on-teal': ['teal', 'teal-strong'],
  'on-now': ['now', 'now-strong'],
  'on-key': ['key'],
  'on-axis': ['x', 'y', 'z'],
  paper: ['strip', 'night', 'night-field', 'film'],
  halo: ['strip', 'night', 'night-field'],
  'night-ink': ['strip'],
  'night-ink-2': ['strip'],
  'night-ink-3': ['night'],
  'night-value': ['night'],
  'night-name': ['night'],
  'night-fault': ['night'],
  'link-night': ['night'],
};

describe('colours of the theme', () => {
  it('can be read by day and in the evening', () => {
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 6);
    const weak: string[] = [];
    for (const [text, grounds] of Object.entries(TEXTS))
      for (const ground of grounds)
        ['day', 'evening'].forEach((when, i) => {
          const found = contrast(table.get(text)![i]!, table.get(ground)![i]!);
          if (found < 4.5) weak.push(`${text} on ${ground} ${when}: ${found.toFixed(2)}`);
        });
    expect(weak).toEqual([]);
  });
  it('are named there alone: no component writes a colour of its own', () => {
    const root = new URL('..', import.meta.url);
    // A colour typed by the user is told by an example.
    const allowed = /colour-control\.tsx|key-fields\.tsx/;
    const found = readdirSync(root, { recursive: true, encoding: 'utf8' })
      .filter((file) => /\.tsx?$/.test(file) && !/\.test\./.test(file) && !allowed.test(file))
      .filter((file) => /['"[ ]#[0-9a-f]{3,8}\b/i.test(readFileSync(new URL(file, root), 'utf8')));
    expect(found).toEqual([]);
  });
});
