import { describe, expect, it } from 'vitest';
import { sightOfAll, sightOfCard } from './map-sight';

const SIZE = { wide: 1000, tall: 400 };

describe('what is seen of the map of links', () => {
  it('is left as it is while a card is in it, and else has the card in its middle', () => {
    const sight = { x: 12, y: 40, zoom: 1 };
    expect(sightOfCard(sight, { x: 0, y: 0 }, SIZE)).toBeNull();
    for (const place of [
      { x: 2000, y: 0 },
      { x: 0, y: 900 },
      { x: -300, y: 0 },
      // Under the bar.
      { x: 0, y: -20 },
    ]) {
      const next = sightOfCard(sight, place, SIZE)!;
      expect(place.x * next.zoom + next.x + 107).toBeCloseTo(500, 6);
      expect(place.y * next.zoom + next.y + 40).toBeCloseTo(200, 6);
      expect(sightOfCard(next, place, SIZE)).toBeNull();
    }
  });

  it('is all of it where that can be read, and its beginning where it cannot', () => {
    const cards = [
      { id: 'a', channels: [1] },
      { id: 'b', channels: [1, 2] },
    ];
    const few = sightOfAll(
      new Map([
        ['a', { x: 0, y: 0 }],
        ['b', { x: 300, y: 0 }],
      ]),
      cards,
      SIZE,
    );
    expect(few.zoom).toBe(1);
    const many = sightOfAll(
      new Map([
        ['a', { x: 0, y: 0 }],
        ['b', { x: 9000, y: 0 }],
      ]),
      cards,
      SIZE,
    );
    expect(many).toMatchObject({ x: 12, zoom: 0.72 });
  });
});
