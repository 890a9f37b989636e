import { describe, expect, it } from 'vitest';
import type { Part, Shot } from '../document';
import { apply, setLink } from '../edit';
import { compile } from '../evaluate';
import { emptyShot, hub } from '../testing/random-shot';
import { whyStill } from '.';

const track = (...rows: [number, number][]): Part['tracks'][string] => ({
  before: 'hold',
  after: 'hold',
  keys: Object.fromEntries(
    rows.map(([frame, value], i) => [`key_${i}`, { frame, value, manner: 'linear' as const }]),
  ),
});

const [CRANK, WHEEL, DECK] = ['prt_a/rotation.z', 'prt_b/rotation.z', 'prt_c/rotation.z'];

function shotWith(crank: Partial<Part>, links: Record<string, string> = {}, more: Partial<Shot> = {}): Shot {
  let shot: Shot = {
    ...emptyShot(),
    parts: { prt_a: hub('Crank', crank), prt_b: hub('Wheel'), prt_c: hub('Deck') },
    ...more,
  };
  for (const [address, formula] of Object.entries(links)) shot = apply(shot, setLink(shot, address, formula));
  return shot;
}
const ask = (shot: Shot, address = DECK) =>
  whyStill(compile(shot), address).map(({ code, text }) => ({ code, text }));
const CHAIN = { [WHEEL]: 'Crank.rotation.z / 2', [DECK]: 'Wheel.rotation.z' };

describe('why nothing moves', () => {
  it('follows the chain back to a channel without keys', () => {
    expect(ask(shotWith({}, CHAIN))).toEqual([
      { code: 'still-input', text: 'Deck rotation Z = Wheel.rotation.z: nothing that it reads changes.' },
      {
        code: 'still-input',
        text: 'Wheel rotation Z = Crank.rotation.z / 2: nothing that it reads changes.',
      },
      { code: 'no-key', text: 'Crank rotation Z has neither keys nor a link: it stays at 0.' },
    ]);
  });
  it('tells keys of one value, a single key, and keys outside the range', () => {
    expect(ask(shotWith({ tracks: { 'rotation.z': track([1, 5], [20, 5]) } }, CHAIN)).at(-1)).toEqual({
      code: 'keys-equal',
      text: 'All 2 keys of Crank rotation Z have the same value.',
    });
    expect(ask(shotWith({ tracks: { 'rotation.z': track([7, 5]) } }, CHAIN)).at(-1)?.text).toContain(
      'one key only, at frame 7',
    );
    expect(ask(shotWith({ tracks: { 'rotation.z': track([90, 5], [99, 50]) } }, CHAIN)).at(-1)).toEqual({
      code: 'keys-outside',
      text: 'Crank rotation Z is keyed at frames 90 to 99, outside the range 1 to 48.',
    });
  });
  const turning = { tracks: { 'rotation.z': track([1, 0], [48, 90]) } };
  it('tells what swallows the motion: a zero, a function, the branch of an if', () => {
    const why = (formula: string) => ask(shotWith(turning, { [DECK]: formula }))[0];
    expect(why('5deg + Crank.rotation.z * 0')).toEqual({
      code: 'swallowed',
      text: 'Deck rotation Z: "Crank.rotation.z" changes, but "Crank.rotation.z * 0" multiplies it by 0.',
    });
    expect(why('clamp(Crank.rotation.z, -10deg, 0deg)')?.text).toContain(
      'clamp gives the same for all of it',
    );
    expect(why('if(frame < 0f, Crank.rotation.z, 3deg)')?.code).toBe('swallowed');
  });
  it('tells a link in error, a loop, and a formula that reads nothing', () => {
    expect(
      ask(shotWith(turning, { [WHEEL]: 'Crnk.rotation.z', [DECK]: 'Wheel.rotation.z' })).at(-1)?.text,
    ).toContain('The link of Wheel rotation Z is out of force');
    expect(ask(shotWith({}, { [WHEEL]: 'Deck.rotation.z', [DECK]: 'Wheel.rotation.z' }))[0]?.text).toContain(
      'loop',
    );
    expect(ask(shotWith({}, { [DECK]: '3deg + 4deg' }))[0]?.code).toBe('reads-nothing');
  });
  it('tells that it does move, and that it is only hidden or put away', () => {
    const shot = shotWith(turning, CHAIN);
    expect(ask(shot)[0]?.text).toContain('does move: from 0 to 45');
    const away: Shot = {
      ...shot,
      trays: { try_a: { name: 'Off', order: 0, away: true, locked: false, out: false } },
      parts: { ...shot.parts, prt_c: { ...shot.parts.prt_c!, tray: 'try_a' } },
    };
    expect(ask(away).map(({ code }) => code)).toEqual(['moves', 'put-away']);
    const hidden: Shot = {
      ...shot,
      parts: { ...shot.parts, prt_c: { ...shot.parts.prt_c!, values: { visible: 0 } } },
    };
    expect(ask(hidden).map(({ code }) => code)).toEqual(['moves', 'hidden']);
  });
  it('points to a linked copy that moves instead', () => {
    const solid = (name: string, more: Partial<Part> = {}): Part => ({
      ...hub(name, more),
      kind: 'solid',
      shape: 'shp_a',
      look: 'lok_a',
    });
    const shot: Shot = {
      ...emptyShot(),
      shapes: { shp_a: { kind: 'box', values: {}, tracks: {}, links: {} } },
      looks: { lok_a: { name: 'Red', values: {}, tracks: {}, links: {} } },
      parts: { prt_a: solid('Boat'), prt_b: solid('Boat 2', turning) },
    };
    expect(ask(shot, CRANK)).toEqual([
      { code: 'no-key', text: 'Boat rotation Z has neither keys nor a link: it stays at 0.' },
      {
        code: 'copy-moves',
        text: 'Boat 2, a linked copy, is what moves: copies share shape and look, not their place.',
      },
    ]);
  });
});
