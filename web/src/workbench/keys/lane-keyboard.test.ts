import { describe, expect, it, vi } from 'vitest';
import type { Shot, Track } from '../../../../core/document';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import { workbench } from '../actions/testing';
import type { Session } from '../session';
import { timeScale } from '../timeline/time-scale';
import { laneKey } from './lane-keyboard';
import { lanesOf, rowsOfLanes, type Lane } from './lanes';

const key = (frame: number): Track['keys'][string] => ({ frame, value: frame, manner: 'linear' });
const track = (...frames: number[]): Track => ({
  before: 'hold',
  after: 'hold',
  keys: Object.fromEntries(frames.map((frame) => [`key_${frame}`, key(frame)])),
});
const start: Shot = {
  ...emptyShot(),
  parts: {
    prt_a: hub('Crank', { tracks: { 'rotation.z': track(1, 12) } }),
    prt_b: hub('Rod', { order: 1, tracks: { 'location.y': track(5) } }),
  },
};

const pressed = (name: string, held: Partial<Record<'shiftKey' | 'altKey' | 'ctrlKey', boolean>> = {}) => ({
  key: name,
  shiftKey: false,
  altKey: false,
  ctrlKey: false,
  metaKey: false,
  ...held,
});

async function lanes(find = '') {
  const session: Session = await workbench(start);
  const menu = vi.fn();
  const press = (event: ReturnType<typeof pressed>): boolean => {
    const rows = rowsOfLanes(lanesOf(session.shot), new Set(), { find, parts: null });
    const window = session.time.now.window ?? { from: 1, to: 48 };
    const time = { first: 1, last: 48, window, scale: timeScale(1, 48, 480) };
    const choose = (lane: Lane): void => session.choice.showChannel(lane.address);
    return laneKey(session, event, { rows, time, choose, menu });
  };
  return { session, press, menu };
}

describe('keys of the lanes', () => {
  it('up and down go from lane to lane, and stay at the ends', async () => {
    const { session, press } = await lanes();
    expect(press(pressed('ArrowDown'))).toBe(true);
    expect(session.choice.now.channel).toBe('prt_a/rotation.z');
    press(pressed('ArrowDown'));
    press(pressed('ArrowDown'));
    expect(session.choice.now.channel).toBe('prt_b/location.y');
    press(pressed('ArrowUp'));
    expect(session.choice.now.channel).toBe('prt_a/rotation.z');
  });
  it('Alt with left and right moves the chosen keys by one frame, with Shift by ten; without Alt they are not its own', async () => {
    const { session, press } = await lanes();
    session.choice.keys([{ address: 'prt_b/location.y', key: 'key_5' }]);
    press(pressed('ArrowRight', { altKey: true }));
    press(pressed('ArrowRight', { altKey: true, shiftKey: true }));
    const frames = Object.values(session.shot.parts.prt_b!.tracks['location.y']!.keys).map(
      ({ frame }) => frame,
    );
    expect(frames).toEqual([16]);
    expect(press(pressed('ArrowLeft'))).toBe(false);
  });
  it('Ctrl+A takes the keys of all lanes that the filter shows, with Shift those of the chosen lane', async () => {
    const all = await lanes();
    all.press(pressed('a', { ctrlKey: true }));
    expect(all.session.choice.now.chosenKeys).toHaveLength(3);
    all.session.choice.showChannel('prt_b/location.y');
    all.press(pressed('A', { ctrlKey: true, shiftKey: true }));
    expect(all.session.choice.now.chosenKeys).toEqual([{ address: 'prt_b/location.y', key: 'key_5' }]);
    const found = await lanes('Crank');
    found.press(pressed('a', { ctrlKey: true }));
    expect(found.session.choice.now.chosenKeys).toHaveLength(2);
    expect(found.press(pressed('a'))).toBe(false);
  });
  it('plus and minus zoom about the playhead, and the menu key asks for the menu of the lane', async () => {
    const { session, press, menu } = await lanes();
    press(pressed('+'));
    const { from, to } = session.time.now.window!;
    expect(to - from).toBeLessThan(47);
    expect(press(pressed('F10'))).toBe(false);
    expect(press(pressed('ContextMenu'))).toBe(false);
    session.choice.showChannel('prt_a/rotation.z');
    expect(press(pressed('F10', { shiftKey: true }))).toBe(true);
    expect(menu).toHaveBeenCalledTimes(1);
  });
});
