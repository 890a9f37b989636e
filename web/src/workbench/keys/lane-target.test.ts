import { describe, expect, it } from 'vitest';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import { lanesOf } from './lanes';
import { targetAtPlayhead, targetUnder } from './lane-target';

const key = (frame: number) => ({ frame, value: frame, manner: 'linear' as const });
const track = {
  before: 'hold',
  after: 'hold',
  keys: { key_a: key(1), key_b: key(12), key_c: key(20) },
} as const;
const shot = { ...emptyShot(), parts: { prt_a: hub('Crank', { tracks: { 'rotation.z': track } }) } };
const lane = lanesOf(shot)[0]!;
const row = { kind: 'lane', lane, within: false, last: true } as never;
const address = 'prt_a/rotation.z';
const at = (name: string) => ({ address, key: name });

describe('what a menu of the lanes is meant for', () => {
  it('over a peg: that key, or all chosen ones when it is one of them', () => {
    const hit = { row, keys: [at('key_b')], frame: 12 } as never;
    expect(targetUnder(shot, hit, [at('key_a')])).toMatchObject({ onKey: true, keys: [at('key_b')] });
    const both = [at('key_a'), at('key_b')];
    expect(targetUnder(shot, hit, both)).toMatchObject({ keys: both, stretches: both });
  });
  it('between two pegs: the stretch; past the last one nothing', () => {
    const over = (frame: number) => targetUnder(shot, { row, keys: [], frame } as never, [at('key_a')]);
    expect(over(14.4)).toMatchObject({ onKey: false, keys: [], stretches: [at('key_b')], frame: 14 });
    expect(over(30).stretches).toEqual([]);
    expect(over(-3).stretches).toEqual([]);
  });
  it('by the keyboard: the keys at the playhead, or the stretch that it is in', () => {
    expect(targetAtPlayhead(shot, lane, 12, [])).toMatchObject({ onKey: true, keys: [at('key_b')] });
    expect(targetAtPlayhead(shot, lane, 13, [])).toMatchObject({ onKey: false, stretches: [at('key_b')] });
    expect(targetAtPlayhead(shot, lane, 13, [at('key_c')]).keys).toEqual([at('key_c')]);
  });
});
