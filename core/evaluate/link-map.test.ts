import { expect, it } from 'vitest';
import type { Shot } from '../document';
import { addDial, apply, setLink } from '../edit';
import { emptyShot, hub } from '../testing/random-shot';
import { chainOf, compile, linkMap } from '.';

const names = ['Crank', 'Wheel', 'Deck', 'Boat'];
function shotWith(links: Record<string, string>): Shot {
  let shot: Shot = {
    ...emptyShot(),
    parts: Object.fromEntries(names.map((name, i) => [`prt_${'abcd'[i]}`, hub(name)])),
  };
  shot = apply(shot, addDial(shot, { name: 'speed', quantity: 'none', min: 0, max: 4 }, 1).change);
  for (const [address, formula] of Object.entries(links)) shot = apply(shot, setLink(shot, address, formula));
  return shot;
}
const [WHEEL, DECK, BOAT] = ['prt_b/rotation.z', 'prt_c/rotation.z', 'prt_d/location.y'];

it('shows what is read and what is driven, dials among them, and chains in both directions', () => {
  const shot = shotWith({
    [WHEEL]: 'Crank.rotation.z * dial.speed',
    [DECK]: 'Wheel.rotation.z',
    [BOAT]: 'slider(Deck.rotation.z, 0.2m, 0.9m)',
  });
  const map = linkMap(compile(shot));
  const dial = Object.keys(shot.dials)[0]!;
  expect(map.cards.map(({ name, kind }) => `${kind} ${name}`).sort()).toEqual([
    'dial speed',
    'part Boat',
    'part Crank',
    'part Deck',
    'part Wheel',
  ]);
  expect(map.wires.map(({ from, to }) => `${from} > ${to}`)).toContain(`${dial}/value > ${WHEEL}`);
  expect([...chainOf(map, BOAT, 'up')].sort()).toEqual(
    [`${dial}/value`, 'prt_a/rotation.z', WHEEL, DECK, BOAT].sort(),
  );
  expect([...chainOf(map, 'prt_a/rotation.z', 'down')].sort()).toEqual(
    ['prt_a/rotation.z', WHEEL, DECK, BOAT].sort(),
  );
});

it('marks links in error and those of a loop only', () => {
  const map = linkMap(
    compile(
      shotWith({
        [WHEEL]: 'Deck.rotation.z + Crank.rotation.z',
        [DECK]: 'Wheel.rotation.z',
        [BOAT]: 'Crank.location.y * 1m',
      }),
    ),
  );
  const marks = map.wires.map((wire) => [wire.from, wire.to, wire.loop, wire.error?.code]);
  expect(marks).toContainEqual([DECK, WHEEL, true, 'loop']);
  expect(marks).toContainEqual([WHEEL, DECK, true, 'loop']);
  expect(marks).toContainEqual(['prt_a/rotation.z', WHEEL, false, 'loop']);
  const wrong = map.wires.find((wire) => wire.toCard === 'prt_d')!;
  expect(wrong.error).not.toBeNull();
  expect(wrong.loop).toBe(false);
});
