import { describe, expect, it } from 'vitest';
import { partChannels, type ChannelSpec } from '../../../core/document';
import {
  describeValue,
  editableValue,
  formatAgo,
  formatBytes,
  formatLength,
  formatNumber,
  formatValue,
} from './format';

const spec = (path: string): ChannelSpec => partChannels('camera').find((entry) => entry.path === path)!;

describe('numbers as people read them', () => {
  it('have a true minus sign and no -0', () => {
    expect(formatNumber(-1.25, 1)).toBe('−1.3');
    expect(formatNumber(-0.001, 2)).toBe('0.00');
  });
  it.each([
    ['location.x', 1.5, 'm', '1.50'],
    ['location.x', 0.0125, 'm', '0.013'],
    ['location.x', 0.0125, 'cm', '1.3'],
    ['location.x', 1.2346, 'mm', '1235'],
    ['rotation.y', -1080, 'm', '−1080°'],
    ['rotation.y', 12.5, 'm', '12.5°'],
    ['scale.z', 2, 'm', '2.00'],
    ['visible', 1, 'm', '1'],
  ] as const)('%s %d in %s is %s', (path, value, unit, text) =>
    expect(formatValue(spec(path), value, unit)).toBe(text),
  );
  it('name their unit where they stand alone', () => {
    expect(describeValue(spec('location.x'), 2, 'cm')).toBe('200.0 cm');
    expect(describeValue(spec('lens'), 35, 'm')).toBe('35.00 mm');
    expect(describeValue(spec('visible'), 0, 'm')).toBe('off');
    expect(describeValue(spec('scale.x'), [1, 0, 0], 'm')).toBe('#ff0000');
  });
  it('begin to be edited with every digit, so that leaving them alone changes nothing', () => {
    expect(editableValue(spec('location.x'), 0.123456789, 'mm')).toBe('123.456789');
    expect(editableValue(spec('rotation.x'), -0.1 - 0.2, 'm')).toBe('-0.3');
  });
});

describe('lengths, times, sizes', () => {
  it('frames with their seconds', () => {
    expect(formatLength(100, { num: 25, den: 1 })).toBe('100 frames at 25: 4 s');
    expect(formatLength(1, { num: 24, den: 1 })).toBe('1 frame at 24: 0.04 s');
  });
  it('how long ago', () => {
    const now = Date.parse('2026-11-24T12:00:00Z');
    const ago = (seconds: number): string => formatAgo(new Date(now - seconds * 1000).toISOString(), now);
    expect([ago(5), ago(60), ago(7200), ago(3 * 86400)]).toEqual([
      'just now',
      '1 minute ago',
      '2 hours ago',
      '21 November 2026',
    ]);
  });
  it('bytes', () =>
    expect([formatBytes(10), formatBytes(519_000), formatBytes(2_340_000)]).toEqual([
      '1 kB',
      '519 kB',
      '2.3 MB',
    ]));
});
